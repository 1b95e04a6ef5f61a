using System.Collections.Immutable;
using System.Globalization;
using CsCheck;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Finding;
using Lectica.Input;
using Lectica.Layout;
using Lectica.Testing;

namespace Lectica.Tests.Commands;

/// <summary>Menus with more entries than their window has room for, with large text, and at the bottom of a phone.</summary>
public sealed class TallMenuTests
{
    private static readonly TextMatch Match = new(CultureInfo.InvariantCulture);

    private static ImmutableArray<MenuEntry> Entries(string prefix, int count) =>
        [.. Enumerable.Range(0, count).Select(i => new MenuEntry($"{prefix}{i}", $"{prefix.ToUpperInvariant()}{i}"))];

    [Fact]
    public void Where_the_keys_are_is_in_view_and_a_point_finds_what_is_drawn_there_however_it_is_scrolled_and_the_window_turned()
    {
        int scrolled = 0, below = 0, titled = 0, moved = 0;
        string[] keys = ["ArrowDown", "ArrowUp", "Home", "End", "ArrowRight", "ArrowLeft", "e", "s"];
        var room = Gen.Select(Gen.Int[-50, 50], Gen.Int[-50, 50], Gen.Int[100, 900], Gen.Int[100, 700],
            (left, top, width, height) => new HostWindow(left, top, left + width, top + height));
        var step = Gen.Select(Gen.Int[0, 9], Gen.Int[0, keys.Length - 1], Gen.Double[-300, 900], room);
        var scale = Gen.Int[3, 8].Select(quarters => quarters / 4.0);
        Gen.Select(Gen.Int[1, 14], Gen.Int[1, 9], room, Gen.Double[0, 600], scale, Gen.Bool, Gen.Bool, step.Array[1, 14])
            .Sample((count, under, first, at, textScale, isSheet, rightToLeft, steps) =>
            {
                var menu = new Menu
                {
                    Entries = Entries("e", count).Add(new("sub", "Sub") { Entries = Entries("s", under) }),
                    Title = count % 2 == 0 ? "Tessil Ring" : "",
                    Room = first,
                    TextScale = textScale,
                    IsRightToLeft = rightToLeft,
                };
                menu = isSheet ? menu.AsSheet() : menu.PlacedAt(at, at);
                var high = menu.EntryHeight;
                Assert.Equal(44 * Math.Max(1, textScale), high);
                foreach (var (what, key, top, other) in steps)
                {
                    var hadKey = false;
                    if (what < 7 && menu.Take(new(keys[key], Time: 5000 * what), Match).Menu is { } next)
                        (menu, hadKey) = (next, (next.At, next.SubmenuAt) != (menu.At, menu.SubmenuAt));
                    else if (what < 9) menu = menu.ScrolledTo(top, submenu: menu.Open >= 0);
                    else
                    {
                        moved++;
                        string? Cursor() => menu.Open >= 0 && menu.Submenu[menu.SubmenuAt].Id is { Length: > 0 } id ? id : null;
                        var before = Cursor();
                        menu = menu.In(other);
                        Assert.Equal((other, before), (menu.Room, before is null ? null : Cursor()));
                    }
                    var cursor = hadKey && menu.Open < 0 ? menu.At : -1;
                    IsRight(menu.Bounds, menu.TitleHeight, menu.Entries, menu.ScrollTop, cursor, inSubmenu: false);
                    if (menu.SubmenuBounds is { } sub)
                        IsRight(sub, 0, menu.Submenu, menu.SubmenuScrollTop, hadKey ? menu.SubmenuAt : -1, inSubmenu: true);
                    if (menu.TitleHeight > 0 && menu.Open < 0)
                    {
                        titled++;
                        Assert.Equal((-1, false), menu.EntryAt(menu.Bounds.Left + 1, menu.Bounds.Top + 1));
                    }
                }

                void IsRight(MenuBounds box, double title, ImmutableArray<MenuEntry> entries, double top, int cursor, bool inSubmenu)
                {
                    Assert.InRange(box.Left, menu.Room.Left - 0.001, menu.Room.Right - box.Width + 0.001);
                    Assert.InRange(box.Top, menu.Room.Top - 0.001, menu.Room.Bottom - box.Height + 0.001);
                    // As high as its entries, or as the window has room.
                    Assert.True(box.Height >= Math.Min((entries.Length * high) + title, menu.Room.Height) - 0.001);
                    Assert.InRange(top, 0, Math.Max(0, (entries.Length * high) + title - box.Height) + 0.001);
                    if (top > 0) scrolled++;
                    if (top > 0 && inSubmenu) below++;
                    double from = box.Top + title, to = box.Top + box.Height;
                    for (var i = 0; i < entries.Length; i++)
                    {
                        double upper = from + (i * high) - top, lower = upper + high;
                        if (i == cursor && high <= to - from)
                            Assert.True(upper > from - 0.001 && lower < to + 0.001, $"entry {i} at {upper} to {lower} of {box}");
                        var middle = (Math.Max(upper, from) + Math.Min(lower, to)) / 2;
                        if (Math.Min(lower, to) - Math.Max(upper, from) < 1) continue;
                        if (!inSubmenu && menu.SubmenuBounds is { } over && over.Contains(box.Left + 1, middle)) continue;
                        Assert.Equal((i, inSubmenu), menu.EntryAt(box.Left + 1, middle));
                    }
                }
            }, iter: Effort.Of(5000));
        Assert.True(Math.Min(Math.Min(scrolled, below), Math.Min(titled, moved)) > 0, $"{scrolled} {below} {titled} {moved}");
    }

    [Fact]
    public void Long_labels_make_a_menu_wider_and_large_text_makes_all_of_it_larger()
    {
        Menu With(string label, string? keys = null, double textScale = 1) => new Menu
        {
            Entries = [new("a", "A"), new("b", label) { Keys = keys }],
            Room = new(0, 0, 2000, 2000),
            TextScale = textScale,
        }.PlacedAt(10, 10);
        Assert.Equal(240, With("Withdraw").Bounds.Width);
        Assert.Equal(240, With("Withdraw", "Delete").Bounds.Width);
        Assert.Equal(48 + (9 * 26) + 14, With("Ask once more in two weeks").Bounds.Width);
        Assert.True(With("Ask once more in two weeks", "Ctrl+Shift+A").Bounds.Width > With("Ask once more in two weeks").Bounds.Width);
        Assert.Equal(400, With(new('m', 300)).Bounds.Width);
        // Letters that are as wide as they are high.
        Assert.True(With("観測を取り消してから翌日にもう一度").Bounds.Width > With(new('x', 17)).Bounds.Width);
        Assert.Equal(new(10, 10, 480, 176), With("Withdraw", textScale: 2).Bounds);
    }

    private static (ListPlayer<Request, string> Player, List<string> Done) Open(
        int commands, double width, double height, double? sheetWidth = 500)
    {
        var done = new List<string>();
        var list = InteractiveList.Of(
            Enumerable.Range(0, 9).Select(i => new Request($"R{i}", $"Field {i}")).ToList(), r => r.Id,
            new() { Mode = SelectionMode.Multiple, SheetWidth = sheetWidth, Viewport = new(width, height) });
        list.Commands = [.. Enumerable.Range(0, commands).Select(
            i => new Command<Request, string>($"c{i}", $"Command {i}") { ShowIn = ShowIn.Menu, Do = _ => done.Add($"c{i}") })];
        return (ListPlayer.On(list), done);
    }

    private static void Tap(PlayerPointer<Request, string> pointer, double x, double y)
    {
        pointer.MoveTo(x, y);
        pointer.Down();
        pointer.Up();
    }

    private sealed record Request(string Id, string Field)
    {
        public override string ToString() => Field;
    }

    [Fact]
    public void What_is_tapped_in_a_scrolled_menu_is_what_is_drawn_there()
    {
        foreach (var byHand in (bool[])[false, true])
        {
            var (player, done) = Open(12, 600, 200);
            player.List.Focus();
            player.Press("Shift+F10");
            var menu = player.List.Frame.Menu!;
            Assert.Equal((0, 200, 0, false), (menu.At, menu.Bounds.Height, menu.ScrollTop, menu.IsSheet));
            if (byHand) player.List.ScrollMenu(1000);
            else player.Press("End");
            menu = player.List.Frame.Menu!;
            Assert.Equal((12 * 44) - 200, menu.ScrollTop);
            Tap(player.Mouse, menu.Bounds.Left + 20, menu.Bounds.Top + 100);
            Assert.Equal([$"c{(int)((menu.ScrollTop + 100) / 44)}"], done);
            Assert.Null(player.List.Frame.Menu);
            // Without a menu, and without a submenu, there is nothing to scroll.
            player.List.ScrollMenu(10);
            player.List.OpenMenu("R2");
            player.List.ScrollMenu(10, submenu: true);
            Assert.Equal((0, 0), (player.List.Frame.Menu!.ScrollTop, player.List.Frame.Menu.SubmenuScrollTop));
            Assert.Throws<ArgumentOutOfRangeException>(() => player.List.ScrollMenu(double.NaN));
        }
    }

    [Fact]
    public void A_menu_says_what_it_is_for_and_the_title_of_a_sheet_does_nothing()
    {
        var (player, done) = Open(3, 400, 500);
        player.Touch.LongPress("R1");
        var sheet = player.List.Frame.Menu!;
        Assert.Equal((true, "Field 1", 44, new MenuBounds(0, 500 - (4 * 44), 400, 4 * 44)),
            (sheet.IsSheet, sheet.Title, sheet.TitleHeight, sheet.Bounds));
        Tap(player.Touch, 100, sheet.Bounds.Top + 10);
        Assert.Equal(sheet, player.List.Frame.Menu);
        // A submenu of few covers all of it, and below its last entry there is nothing to hit.
        player.List.Commands = player.List.Commands.Add(
            new("sub", "Sub") { ShowIn = ShowIn.Menu, Submenu = "More", Do = _ => done.Add("sub") });
        player.List.CloseMenu();
        player.Touch.LongPress("R1");
        player.List.ChooseEntry("More");
        var covering = player.List.Frame.Menu!;
        Assert.Equal((2, player.List.Frame.Menu!.Bounds), (covering.Submenu.Length, covering.SubmenuBounds));
        Tap(player.Touch, 100, 490);
        Assert.Equal((covering, 0), (player.List.Frame.Menu, done.Count));
        player.List.Commands = player.List.Commands.RemoveAt(3);
        player.List.CloseMenu();
        player.Touch.LongPress("R1");
        // A phone that is turned keeps it at its bottom; so does a window that moves under the list.
        player.List.Resize(700, 300);
        Assert.Equal(new(0, 300 - (4 * 44), 700, 4 * 44), player.List.Frame.Menu!.Bounds);
        player.List.ShowIn(new(-10, -20, 690, 250));
        Assert.Equal(new(-10, 250 - (4 * 44), 700, 4 * 44), player.List.Frame.Menu!.Bounds);
        Tap(player.Touch, 100, 250 - 22);
        Assert.Equal(["c2"], done);
        // A mouse has no sheet, and what is selected is told by its number.
        player.List.SelectedKeys = ["R1", "R2", "R3"];
        player.Mouse.SecondaryTap("R1");
        var menu = player.List.Frame.Menu!;
        Assert.Equal((false, "3 selected", 0), (menu.IsSheet, menu.Title, menu.TitleHeight));
    }

    [Theory]
    [InlineData(null, false, 400, false)]
    [InlineData(null, true, 480, true)]
    [InlineData(null, true, 481, false)]
    [InlineData(0.0, true, 400, false)]
    [InlineData(600.0, true, 600, true)]
    [InlineData(600.0, false, 400, true)]
    public void A_phone_has_a_sheet_unless_the_app_says_otherwise(double? sheetWidth, bool isTold, double window, bool isSheet)
    {
        var (player, _) = Open(2, 400, 500, sheetWidth);
        if (isTold) player.List.ShowIn(new(0, 0, window, 700));
        player.Touch.LongPress("R1");
        Assert.Equal(isSheet, player.List.Frame.Menu!.IsSheet);
    }
}
