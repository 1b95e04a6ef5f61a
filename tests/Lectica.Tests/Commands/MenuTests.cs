using System.Collections.Immutable;
using System.Globalization;
using CsCheck;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Finding;
using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;

namespace Lectica.Tests.Commands;

/// <summary>Menus and toolbars as plain code has them: where they lie, what each key and point does, what they are made of.</summary>
public sealed class MenuTests
{
    private const double Entry = Menu.UsualEntryHeight, Wide = Menu.LeastWidth, Off = Menu.EdgeGap;

    private static readonly TextMatch Match = new(CultureInfo.InvariantCulture);

    private static Menu Of(int entries, HostWindow room, bool rightToLeft = false, bool isSheet = false)
    {
        var menu = new Menu
        {
            Entries = [.. Enumerable.Range(0, entries).Select(i => new MenuEntry($"e{i}", $"Entry {i}"))],
            Room = room,
            IsRightToLeft = rightToLeft,
        };
        return isSheet ? menu.AsSheet() : menu.PlacedAt(20, 30);
    }

    private static MenuBounds BoundsAt(double x, double y, int entries, HostWindow room, bool rightToLeft) =>
        Of(entries, room, rightToLeft).PlacedAt(x, y).Bounds;

    [Fact]
    public void A_menu_has_its_corner_where_it_was_asked_for_or_as_near_as_it_fits()
    {
        int asAsked = 0, upward = 0, pushed = 0;
        // Windows with room for any of these menus, from wherever.
        Gen.Select(Gen.Int[-300, 100], Gen.Int[-300, 100], Gen.Int[256, 900], Gen.Int[370, 900], Gen.Int[0, 1000], Gen.Int[0, 1000],
            Gen.Int[1, 8])
            .Select(Gen.Bool).Sample((numbers, rightToLeft) =>
            {
                var (left, top, width, height, across, down, entries) = numbers;
                var room = new HostWindow(left, top, left + width, top + height);
                double x = left + (across * width / 1000.0), y = top + (down * height / 1000.0), high = entries * Entry;
                var place = BoundsAt(x, y, entries, room, rightToLeft);
                double corner = rightToLeft ? place.Left + Wide : place.Left, least = left + Off + (rightToLeft ? Wide : 0),
                    most = room.Right - Off - (rightToLeft ? 0 : Wide);
                Assert.Equal((Wide, high), (place.Width, place.Height));
                Assert.Equal(x < least ? least : x > most ? most : x, corner, 1e-9);
                if (y + high <= room.Bottom - Off)
                {
                    asAsked++;
                    Assert.Equal(Math.Max(y, top + Off), place.Top, 1e-9);
                }
                else if (y - high >= top + Off)
                {
                    upward++;
                    Assert.Equal(Math.Min(y, room.Bottom - Off), place.Top + high, 1e-9);
                }
                else
                {
                    pushed++;
                    Assert.Equal(room.Bottom - Off, place.Top + high, 1e-9);
                }
            }, iter: Effort.Of(3000));
        Assert.True(Math.Min(asAsked, Math.Min(upward, pushed)) > 0, $"{asAsked} {upward} {pushed}");
        // Just as much room as it needs is enough below, and just as much above.
        Assert.Equal(100, BoundsAt(50, 100, 2, new(0, 0, 400, 100 + (2 * Entry) + Off), false).Top);
        Assert.Equal(Off, BoundsAt(50, Off + (2 * Entry), 2, new(0, 0, 400, Off + (2 * Entry) + 50), false).Top);
        Assert.Equal(new(-5, 300 - (2 * Entry), 205, 2 * Entry), Of(2, new(-5, -7, 200, 300), isSheet: true).Bounds);
        Assert.Equal(new(-5, -7, 205, 307), Of(9, new(-5, -7, 200, 300), isSheet: true).Bounds);
    }

    [Fact]
    public void A_submenu_opens_after_its_menu_else_before_it_else_over_it()
    {
        int after = 0, before = 0, over = 0;
        Gen.Select(Gen.Int[260, 900], Gen.Int[300, 700], Gen.Int[0, 900], Gen.Int[0, 700], Gen.Int[1, 4], Gen.Int[1, 6], Gen.Bool).Sample(
            (width, height, x, y, above, entries, rightToLeft) =>
            {
                var room = new HostWindow(-10, -20, width - 10, height - 20);
                var parent = new MenuEntry("sub", "Sub")
                {
                    Entries = [.. Enumerable.Range(0, entries).Select(i =>
                    new MenuEntry($"s{i}", $"{i}"))]
                };
                var menu = Of(above, room, rightToLeft) with { Bounds = BoundsAt(x, y, above + 1, room, rightToLeft) };
                menu = menu with { Entries = menu.Entries.Add(parent) };
                var open = menu.Choose(above, inSubmenu: false).Menu!;
                var sub = open.SubmenuBounds!.Value;
                double next = menu.Bounds.Left + Wide, beside = menu.Bounds.Left - Wide;
                bool Fits(double left) => left >= room.Left + Off && left + Wide <= room.Right - Off;
                var (first, second) = rightToLeft ? (beside, next) : (next, beside);
                var covers = !Fits(first) && !Fits(second);
                if (Fits(first)) after++;
                else if (covers) over++;
                else before++;
                Assert.Equal(Fits(first) ? first : Fits(second) ? second : menu.Bounds.Left, sub.Left);
                // One that covers its menu leaves nothing of it to be seen.
                Assert.Equal(Math.Min(covers ? Math.Max((entries + 1) * Entry, menu.Bounds.Height) : entries * Entry, height), sub.Height);
                Assert.Equal((above, covers ? 1 : 0, above), (open.Open, open.SubmenuAt, open.At));
                // Level with its entry, as far as it fits.
                double wished = menu.Bounds.Top + (covers ? 0 : above * Entry), off = Math.Clamp((height - ((entries + 1) * Entry)) / 2,
                    0, Off);
                Assert.Equal(Math.Max(room.Top + off, Math.Min(wished, room.Bottom - off - sub.Height)), sub.Top, 1e-9);
                string[] ids = [.. Enumerable.Range(0, entries).Select(i => $"s{i}")];
                Assert.Equal(covers ? ["", .. ids] : ids, open.Submenu.Select(e => e.Id));
                if (!covers) return;
                Assert.Equal((rightToLeft ? "forward" : "back", "Back"), (open.Submenu[0].Icon, open.Submenu[0].Label));
                Assert.Equal(menu with { At = above }, open.Choose(0, inSubmenu: true).Menu);
                Assert.Equal(open, open.Choose(1, inSubmenu: true) is { Chosen: "s0", Menu: null, IsHandled: true } ? open : null);
            }, iter: Effort.Of(5000));
        Assert.True(Math.Min(after, Math.Min(before, over)) > 0, $"{after} {before} {over}");
        // In a sheet it covers the menu, and is as high as the higher of the two.
        foreach (var (count, wanted) in ((int, int)[])[(2, 4), (5, 6)])
        {
            var sheet = Of(3, new(0, 0, 300, 500));
            sheet = (sheet with
            {
                Entries = sheet.Entries.Add(new("sub", "Sub")
                {
                    Entries = [.. Enumerable.Range(0, count).Select(i =>
                    new MenuEntry($"s{i}", ""))]
                }),
            }).AsSheet();
            var open = sheet.Choose(3, inSubmenu: false).Menu!;
            Assert.Equal(new(0, 500 - (wanted * Entry), 300, wanted * Entry), open.SubmenuBounds);
            Assert.Equal((3, 3, 1, count + 1, ""), (open.At, open.Open, open.SubmenuAt, open.Submenu.Length, open.Submenu[0].Id));
        }
    }

    [Fact]
    public void A_point_is_on_the_entry_that_lies_there()
    {
        var menu = Of(3, new(0, 0, 800, 600));
        menu = menu with
        {
            Entries = menu.Entries.Add(new("sub", "Sub") { Entries = [new("s0", ""), new("s1", "")] }),
            Bounds = new(20,
            30, 240, 4 * Entry)
        };
        menu = menu.Choose(3, inSubmenu: false).Menu!;
        Assert.Equal(new(260, 30 + (3 * Entry), 240, 2 * Entry), menu.SubmenuBounds);
        foreach (var x in (double[])[19, 20, 259, 260, 499, 500])
            foreach (var y in (double[])[29, 30, 73, 74, 117, 118, 161, 162, 205, 206, 249, 250])
            {
                (int, bool)? wanted = x >= 260 && x < 500 && y >= 162 && y < 250 ? (y < 206 ? 0 : 1, true)
                    : x >= 20 && x < 260 && y >= 30 && y < 206 ? ((int)((y - 30) / 44), false) : null;
                Assert.Equal(wanted, menu.EntryAt(x, y));
            }
        // Below the last one there is none.
        Assert.Equal((-1, false), (Of(2, new(0, 0, 800, 600)) with { Bounds = new(0, 0, 240, 200) }).EntryAt(5, 199));
    }

    [Fact]
    public void Keys_do_what_the_pattern_says()
    {
        int opened = 0, chosen = 0, disabled = 0, left = 0;
        string[] keys = ["ArrowDown", "ArrowUp", "ArrowLeft", "ArrowRight", "Home", "End", "Enter", " ", "Escape", "Tab", "F5"];
        Gen.Select(Gen.Int[1, 5], Gen.Int[0, 31], Gen.Int[-1, 4], Gen.Bool, Gen.Bool, Gen.Int[0, keys.Length - 1].Array[1, 14]).Sample(
            (count, off, sub, rightToLeft, narrow, presses) =>
            {
                var room = new HostWindow(0, 0, narrow ? 300 : 900, 600);
                var menu = Of(count, room, rightToLeft) with { Bounds = BoundsAt(rightToLeft ? 900 : 0, 0, count, room, rightToLeft) };
                ImmutableArray<MenuEntry> below = [new("s0", "one"), new("s1", "two") { IsEnabled = false }];
                menu = menu with
                {
                    Entries = [.. menu.Entries.Select((e, i) => e with { IsEnabled = (off >> i & 1) == 0, Entries = i == sub ? below
                        : [] })],
                };
                int at = -1, open = -1, inside = -1;
                foreach (var press in presses)
                {
                    var key = keys[press];
                    var answer = menu.Take(new(key), Match);
                    var mirrored = !rightToLeft ? key : key == "ArrowLeft" ? "ArrowRight" : key == "ArrowRight" ? "ArrowLeft" : key;
                    int covered = open >= 0 && narrow ? 1 : 0, size = open >= 0 ? 2 + covered : count, here = open >= 0 ? inside : at;
                    void Go(int to) => _ = open >= 0 ? inside = to : at = to;
                    string? wanted = null;
                    bool closes = false, isHandled = true;
                    switch (mirrored)
                    {
                        case "ArrowDown":
                            Go((here + 1) % size);
                            break;
                        case "ArrowUp":
                            Go(here <= 0 ? size - 1 : here - 1);
                            break;
                        case "Home":
                            Go(0);
                            break;
                        case "End":
                            Go(size - 1);
                            break;
                        case "Enter" or " " or "ArrowRight" when open < 0 && here >= 0 && here == sub && sub < count
                            && (off >> here & 1) == 0:
                            (open, inside) = (here, narrow ? 1 : 0);
                            opened++;
                            break;
                        case "Enter" or " " when open < 0 && here >= 0 && (off >> here & 1) == 0:
                            (wanted, closes) = ($"e{here}", true);
                            break;
                        case "Enter" or " " when open >= 0 && here == covered:
                            (wanted, closes) = ("s0", true);
                            break;
                        case "Enter" or " " when open >= 0 && here < covered:
                            (open, inside) = (-1, -1);
                            break;
                        case "Enter" or " ":
                            disabled++;
                            break;
                        case "ArrowLeft" or "Escape" when open >= 0:
                            (open, inside) = (-1, -1);
                            break;
                        case "Escape":
                            closes = true;
                            break;
                        case "Tab":
                            (closes, isHandled) = (true, false);
                            break;
                        default:
                            isHandled = false;
                            break;
                    }
                    Assert.Equal((wanted, isHandled, closes), (answer.Chosen, answer.IsHandled, answer.Menu is null));
                    if (wanted is not null) chosen++;
                    if (closes)
                    {
                        left++;
                        return;
                    }
                    menu = answer.Menu!;
                    Assert.Equal((at, open, inside), (menu.At, menu.Open, menu.SubmenuAt));
                    Assert.Equal(open >= 0, menu.SubmenuBounds is not null);
                }
            }, iter: Effort.Of(5000));
        Assert.True(Math.Min(opened, chosen) > 0 && Math.Min(disabled, left) > 0, $"{opened} {chosen} {disabled} {left}");
    }

    [Fact]
    public void Typing_finds_an_entry_from_the_one_that_the_keys_are_on()
    {
        var menu = Of(0, new(0, 0, 900, 600)) with
        {
            Entries = [.. new[] { "Star", "Défer", "Send", "Stop" }.Select(l =>
            new MenuEntry(l, l))]
        };
        Menu Type(Menu from, string keys, double time = 0)
        {
            foreach (var key in keys)
            {
                var answer = from.Take(new($"{key}", Modifiers.None, time), Match);
                Assert.True(answer is { IsHandled: true, Chosen: null });
                from = answer.Menu!;
            }
            return from;
        }
        Assert.Equal(0, Type(menu, "s").At);
        Assert.Equal(2, Type(menu, "ss").At);
        Assert.Equal((2, 3), (Type(menu with { At = 0 }, "s").At, Type(menu with { At = 2 }, "s").At));
        Assert.Equal(0, Type(menu with { At = 3 }, "s").At);
        // More than one character searches from where the keys are, on them too.
        Assert.Equal((0, 3), (Type(menu with { At = 3 }, "st").At, Type(menu, "sto").At));
        Assert.Equal((1, 1), (Type(menu, "d").At, Type(menu with { At = 2 }, "de").At));
        Assert.Equal((2, -1), (Type(menu with { At = 2 }, "x").At, Type(menu, "x").At));
        // After a pause it begins again.
        Assert.Equal(1, Type(Type(menu, "s"), "d", 1000).At);
        var sub = (menu with { Entries = [new("sub", "Sub") { Entries = menu.Entries }], Bounds = new(0, 0, 240, 44) }).Choose(0,
            false).Menu!;
        Assert.Equal((0, 2), (Type(sub, "s").At, Type(sub, "s").SubmenuAt));
        Assert.Equal((0, 3), (Type(sub, "x").SubmenuAt, Type(sub, "sto").SubmenuAt));
        Assert.False(menu.Take(new("s", Modifiers.Ctrl), Match).IsHandled);
        Assert.Throws<ArgumentNullException>(() => menu.Take(new("s"), null!));
    }

    [Fact]
    public void Menus_are_the_same_where_all_of_them_is()
    {
        var entry = new MenuEntry("a", "A") { Icon = "star", Keys = "S", Entries = [new("b", "B")], IsChecked = true };
        Assert.Equal(entry, entry with { Entries = [new("b", "B")] });
        MenuEntry[] others =
        [
            entry with { Id = "x" }, entry with { Label = "x" }, entry with { Icon = "bin" }, entry with { Role = CommandRole.Warning },
            entry with { IsEnabled = false }, entry with { IsChecked = null }, entry with { Keys = null }, entry with { BeginsGroup =
                true },
            entry with { IsBusy = true }, entry with { Progress = 0.5 }, entry with { Entries = [new("b", "C")] }, entry with { Entries =
                [] },
        ];
        Assert.All(others, other => Assert.NotEqual(entry, other));
        Assert.False(entry.Equals(null));
        var menu = Of(2, new(0, 0, 400, 400));
        Assert.Equal(menu, menu with { Entries = [.. menu.Entries.Select(e => e with { })] });
        Menu[] unlike =
        [
            menu with { At = 1 }, menu with { Open = 1 }, menu with { SubmenuAt = 1 }, menu with { Bounds = new(0, 0, 1, 1) },
            menu with { Room = new(0, 0, 1, 1) }, menu with { IsSheet = true }, menu with { BackLabel = "x" },
                menu with { IsRightToLeft = true },
            menu with { Title = "x" }, menu with { TextScale = 2 }, menu with { ScrollTop = 1 }, menu with { SubmenuScrollTop = 1 },
            menu with { SubmenuBounds = new(0, 0, 1, 1) }, menu with { Entries = [] }, menu.Take(new("x"), Match).Menu!,
        ];
        Assert.All(unlike, other => Assert.NotEqual(menu, other));
        Assert.False(menu.Equals(null));
    }

    [Fact]
    public void Entries_stand_by_group_then_by_order_with_submenus_where_the_first_of_theirs_would()
    {
        Command<string, string> Of(string id, string group = "", int order = 0, string? submenu = null) =>
            new(id, id.ToUpperInvariant())
            {
                Group = group,
                Order = order,
                Submenu = submenu,
                SubmenuIcon = id == "e" ? "move" : null,
                Do = _ => { },
            };
        var entries = Menu.EntriesFor([Of("a", order: 2), Of("b", "end"), Of("c", order: 1, submenu: "More"), Of("d"), Of("e", order: 3,
            submenu: "More"),
            Of("f", "end", -1), Of("g", "off", submenu: "Off")], c => new(c.Id, c.Label) { IsEnabled = c.Id is not ("c" or "g") });
        Assert.Equal("D, More(C E), A, |F, B, |Off(G)", string.Join(", ", entries.Select(
            e => (e.BeginsGroup ? "|" : "") + e.Label + (e.Entries.IsEmpty ? ""
                : $"({string.Join(" ", e.Entries.Select(s => s.Label))})"))));
        Assert.Equal([null, "move", null, null, null, null], entries.Select(e => e.Icon));
        // A submenu can be opened while something in it can be done.
        Assert.Equal([true, true, true, true, true, false], entries.Select(e => e.IsEnabled));
    }

    [Fact]
    public void A_toolbar_puts_the_last_of_the_least_away_and_opens_a_menu_of_them_where_there_is_room()
    {
        ToolbarEntry Tool(string id, double width, int priority = 0) =>
            new(id, id.ToUpperInvariant(), "star", CommandRole.Warning, false, width)
            {
                Priority = priority,
                IsBusy = true,
                Progress = 0.5,
                IsChecked = true,
            };
        ToolbarEntry[] tools = [Tool("a", 100), Tool("b", 100, 1), Tool("c", 100), Tool("d", 100)];
        foreach (var (width, shown, taken) in ((double, string, double)[])[(400, "a b c d", 400), (399, "a b c", 344), (344, "a b c",
            344), (343, "a b", 244),
            (243, "b", 144), (143, "", 44)])
        {
            var bar = Toolbar.Fit(tools, width);
            var names = shown.Split(' ', StringSplitOptions.RemoveEmptyEntries);
            Assert.Equal(names, bar.Shown.Select(e => e.Id));
            Assert.Equal(tools.Select(t => t.Id).Except(names), bar.Overflow.Select(e => e.Id));
            Assert.Equal((taken, names.Length < 4, names.Length < 4 ? names.Length + 1 : 4), (bar.Width, bar.HasOverflow, bar.ButtonCount));
        }
        Assert.Throws<ArgumentNullException>(() => Toolbar.Fit(null!, 5));
        var half = Toolbar.Fit(tools, 250);
        Assert.Equal(
            [new("c", "C") { Icon = "star", Role = CommandRole.Warning, IsEnabled = false, IsChecked = true, IsBusy = true, Progress =
                0.5 },
                new MenuEntry("d", "D") { Icon = "star", Role = CommandRole.Warning, IsEnabled = false, IsChecked = true, IsBusy = true,
                    Progress = 0.5 }],
            half.OverflowMenu(250, 44, new(-100, -100, 500, 500), false).Entries);
        // Below it, or above where there is no room below and there is above; at its trailing edge.
        foreach (var (top, bottom, wanted) in ((double, double, double)[])[(-200, 400, 44), (-200, 44 + (2 * Entry) + Off, 44), (-200,
            44 + (2 * Entry) - 1, -2 * Entry),
            (-2 * Entry - Off, 100, -2 * Entry)])
            foreach (var rightToLeft in (bool[])[false, true])
            {
                var menu = half.OverflowMenu(350, 44, new(-300, top, 700, bottom), rightToLeft);
                Assert.Equal(new(rightToLeft ? 0 : 110, wanted, Wide, 2 * Entry), menu.Bounds);
                Assert.Equal((0, -1, rightToLeft), (menu.At, half.OverflowMenu(350, 44, menu.Room, rightToLeft, byKey: false).At,
                    menu.IsRightToLeft));
            }
        // Just enough below is better than over the toolbar; and where it fits nowhere it is in the window.
        Assert.Equal(44, half.OverflowMenu(350, 44, new(-300, (-2 * Entry) + 1, 700, 44 + (2 * Entry)), false).Bounds.Top);
        Assert.Equal(4, half.OverflowMenu(350, 44, new(-300, -50, 700, 100), false).Bounds.Top);
    }

    [Fact]
    public async Task A_target_gives_its_items_in_pages_and_says_what_it_cannot()
    {
        var target = new CommandTarget<string, int>(["a", "b", "c", "d", "e"], [1, 2, 3, 4, 5], [0, 1, 2, 3, 4]);
        var pages = new List<string>();
        await foreach (var page in target.ReadAsync(2, TestContext.Current.CancellationToken)) pages.Add(string.Concat(page));
        Assert.Equal(["ab", "cd", "e"], pages);
        await Assert.ThrowsAsync<ArgumentOutOfRangeException>(async () =>
        {
            await foreach (var _ in target.ReadAsync(0, TestContext.Current.CancellationToken)) pages.Clear();
        });
        Assert.Contains("use Items or Keys", Assert.Throws<InvalidOperationException>(() => target.Condition).Message);
        Assert.Throws<ArgumentNullException>(() => new CommandTarget<string, int>(null!, [], []));

        // What a paged list has not read is asked for no more once it cannot be had.
        int asked = 0;
        int[] Ask(ItemSet set)
        {
            asked++;
            return set.ToArray();
        }
        CommandTarget<string, int> Late() => new(ItemSet.Of(3, 1), set => [.. set.Select(i => $"{i}")], Ask, set => set.ToArray());
        var late = Late();
        Assert.Empty(late.KeysRead(_ => false));
        Assert.Equal([1], late.KeysRead(_ => true));
        Assert.Equal([1], late.KeysRead(_ => false));
        Assert.Equal(1, asked);
        var lost = Late();
        ((ITold)lost).Fetch(_ => false);
        Assert.Empty(lost.KeysRead(_ => true));
        Assert.Throws<ItemNotReadException>(() => lost.Items);
        var fetched = Late();
        ((ITold)fetched).Fetch(_ => true);
        // By the keys that they came with: no item is asked.
        Assert.Equal((1, 1), (asked, fetched.KeysRead(_ => false)[0]));
    }

    [Fact]
    public void A_command_says_what_it_was_not_given()
    {
        var none = new Command<string, string>("idle", "Idle");
        Assert.Equal(("", false, false), (none.Group, none.DoesSomething, (none with { ShowIn = ShowIn.Toolbar }).IsInMenu));
        Assert.Contains("'idle' does nothing: give it a Do or a Run", Assert.Throws<InvalidOperationException>(() => none.Run).Message);
        Assert.Throws<ArgumentNullException>(() => none with { Do = null });
        foreach (var place in (ShowIn[])[ShowIn.Menu, ShowIn.LeadingTray, ShowIn.TrailingTray])
            Assert.True((none with { ShowIn = place }).IsInMenu);
    }
}
