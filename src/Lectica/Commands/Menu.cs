using System.Collections.Immutable;
using Lectica.Acts;
using Lectica.Finding;
using Lectica.Input;
using Lectica.Layout;

namespace Lectica.Commands;

/// <summary>Where a menu lies, px from the viewport's left and top edge.</summary>
public readonly record struct MenuBounds(double Left, double Top, double Width, double Height)
{
    /// <summary>Whether a point is on it.</summary>
    public bool Contains(double x, double y) => x >= Left && x < Left + Width && y >= Top && y < Top + Height;
}

/// <summary>What a key did to a menu.</summary>
/// <param name="Menu">The menu after it; null where it has closed.</param>
/// <param name="Chosen">The id of the command that was chosen, or null.</param>
/// <param name="IsHandled">Whether the menu used the key.</param>
public readonly record struct MenuAnswer(Menu? Menu, string? Chosen, bool IsHandled);

/// <summary>
/// An open menu, after the menu pattern of the WAI-ARIA Authoring Practices: entries, the one that the keys are on, and one level of
/// submenus. A value: a key or a pointer gives another.
/// </summary>
public sealed record Menu
{
    /// <summary>Whether both have the same entries, in the same state and place.</summary>
    public bool Equals(Menu? other) =>
        other is not null
        && (At, Open, SubmenuAt, Bounds, Room) == (other.At, other.Open, other.SubmenuAt, other.Bounds, other.Room)
        && (IsSheet, Title, BackLabel, CoversMenu, IsRightToLeft, SubmenuBounds)
            == (other.IsSheet, other.Title, other.BackLabel, other.CoversMenu, other.IsRightToLeft, other.SubmenuBounds)
        && (TextScale, ScrollTop, SubmenuScrollTop) == (other.TextScale, other.ScrollTop, other.SubmenuScrollTop)
        && Typed == other.Typed && Entries.AsSpan().SequenceEqual(other.Entries.AsSpan());

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Entries.Length, At, Open, SubmenuAt, Bounds);

    /// <summary>
    /// The height of an entry, px, where text has its usual size: 44, for fingers (WCAG 2.5.5). So high is a sheet's title, too.
    /// </summary>
    public const double UsualEntryHeight = 44;

    /// <summary>The least width of a menu, px, where there is room for it and text has its usual size.</summary>
    public const double LeastWidth = 240;

    /// <summary>The most that long labels make of the width, px, where text has its usual size.</summary>
    public const double MostWidth = 400;

    /// <summary>How far a menu stays off the edges of the window, px, where there is room for that.</summary>
    public const double EdgeGap = 8;

    /// <summary>The entries.</summary>
    public required ImmutableArray<MenuEntry> Entries { get; init; }

    /// <summary>The entry that the keys are on, or -1.</summary>
    public int At { get; init; } = -1;

    /// <summary>The entry whose submenu is open, or -1.</summary>
    public int Open { get; init; } = -1;

    /// <summary>The entry of the open submenu that the keys are on, or -1.</summary>
    public int SubmenuAt { get; init; } = -1;

    /// <summary>What it is for: the item's label, or how many are selected. A sheet shows it, since it may cover their rows.</summary>
    public string Title { get; init; } = "";

    /// <summary>How large text is compared with its usual size: where it is larger, entries are higher and wider by as much.</summary>
    public double TextScale { get; init; } = 1;

    /// <summary>The height of an entry, px: never less than a finger needs.</summary>
    public double EntryHeight => UsualEntryHeight * Math.Max(1, TextScale);

    /// <summary>Where it lies: none before it has been placed.</summary>
    public MenuBounds Bounds { get; init; }

    /// <summary>The window that it and its submenu stay in.</summary>
    public HostWindow Room { get; init; }

    /// <summary>Whether it is a sheet: at the bottom of the window, as wide as that.</summary>
    public bool IsSheet { get; init; }

    /// <summary>How high the title of a sheet is, px, which stays where it is while the entries are scrolled; else 0.</summary>
    public double TitleHeight => IsSheet && Title.Length > 0 ? EntryHeight : 0;

    /// <summary>How far its entries are scrolled, px: 0 where all of them fit.</summary>
    public double ScrollTop { get; init; }

    /// <summary>How far the entries of the open submenu are scrolled, px.</summary>
    public double SubmenuScrollTop { get; init; }

    /// <summary>Whether not all entries fit, of the menu or of the open submenu: then they can be scrolled.</summary>
    public bool Scrolls(bool submenu) => MostScroll(submenu) > 0;

    /// <summary>What the entry says that leads back from a submenu which covers its menu.</summary>
    public string BackLabel { get; init; } = "Back";

    /// <summary>The entries of the open submenu; the first leads back where it covers the menu.</summary>
    public ImmutableArray<MenuEntry> Submenu => Open < 0 ? []
        : CoversMenu ? [new(BackId, BackLabel) { Icon = IsRightToLeft ? "forward" : "back" }, .. Entries[Open].Entries]
        : Entries[Open].Entries;

    // No command has it as its id.
    private const string BackId = "";

    private bool CoversMenu { get; init; }

    /// <summary>Whether left and right are swapped.</summary>
    public bool IsRightToLeft { get; init; }

    /// <summary>Where the open submenu lies; null where none is open.</summary>
    public MenuBounds? SubmenuBounds { get; init; }

    private Typing Typed { get; init; } = Typing.None;

    /// <summary>
    /// The menu where it is asked for at a point: its corner there, toward the side where there is room, and moved so far that all of it is
    /// inside the window and <see cref="EdgeGap"/> off its edges, as far as it fits.
    /// </summary>
    /// <param name="x">The point's distance from the viewport's left edge, px.</param>
    /// <param name="y">The point's distance from the viewport's top edge, px.</param>
    public Menu PlacedAt(double x, double y)
    {
        var (width, height, room) = Size;
        // Where it does not fit below, it opens upward.
        return Near(IsRightToLeft ? x - width : x, y + height <= room.Bottom || y - height < room.Top ? y : y - height);
    }

    private Menu Near(double left, double top)
    {
        var (width, height, room) = Size;
        var bounds = new MenuBounds(
            Within(left, width, room.Left, room.Right), Within(top, height, room.Top, room.Bottom), width, height);
        return this with { IsSheet = false, Bounds = bounds };
    }

    private (double Width, double Height, HostWindow Room) Size
    {
        get
        {
            double width = WidthOf(Entries), height = Entries.Length * EntryHeight;
            var room = OffEdges(width, height);
            return (Math.Min(width, room.Width), Math.Min(height, room.Height), room);
        }
    }

    /// <summary>The menu as a sheet: at the bottom of the window, as wide as that.</summary>
    public Menu AsSheet()
    {
        var sheet = this with { IsSheet = true };
        return sheet with { Bounds = sheet.SheetOf(sheet.TitleHeight + (Entries.Length * EntryHeight)) };
    }

    private MenuBounds SheetOf(double height)
    {
        height = Math.Min(height, Room.Height);
        return new(Room.Left, Room.Bottom - height, Room.Width, height);
    }

    /// <summary>The menu in another window, such as that of a device which was turned: as near to where it was as it fits.</summary>
    internal Menu In(HostWindow room)
    {
        if (room == Room) return this;
        var closed = CloseSubmenu() with { Room = room };
        var placed = (IsSheet ? closed.AsSheet() : closed.Near(Bounds.Left, Bounds.Top)).ScrolledTo(ScrollTop, submenu: false);
        if (At >= 0) placed = placed.WithCursor(At, submenu: false);
        if (Open < 0) return placed;
        // What leads back is before all others, where it is needed.
        var open = placed.OpenSubmenu(Open);
        return open.WithCursor(Math.Max(0, SubmenuAt - (CoversMenu ? 1 : 0) + (open.CoversMenu ? 1 : 0)), submenu: true);
    }

    // Not by Math.Clamp: where a menu is just as large as its window, rounding may put the largest start before the least, and that throws.
    private static double Within(double start, double size, double from, double to) => Math.Max(from, Math.Min(start, to - size));

    // As far as there is more room than is needed.
    private HostWindow OffEdges(double width, double height)
    {
        double across = Math.Clamp((Room.Width - width) / 2, 0, EdgeGap), down = Math.Clamp((Room.Height - height) / 2, 0, EdgeGap);
        return new(Room.Left + across, Room.Top + down, Room.Right - across, Room.Bottom - down);
    }

    // Nothing here knows fonts: a letter is counted at 9 px, which is more than it needs in most, and one as wide as it is high at 16.
    private double WidthOf(ImmutableArray<MenuEntry> entries)
    {
        static double Text(string text) => text.Sum(letter => letter < '\u1100' ? 9 : 16);
        var widths = entries.Select(
            e => 48 + Text(e.Label) + (!e.Entries.IsEmpty ? 40 : e.Keys is { } keys ? 28 + (Text(keys) * 13 / 16) : 14));
        return Math.Min(widths.Aggregate(LeastWidth, Math.Max), MostWidth) * Math.Max(1, TextScale);
    }

    private double MostScroll(bool submenu) =>
        submenu ? Math.Max(0, (Submenu.Length * EntryHeight) - (SubmenuBounds?.Height ?? 0))
        : Math.Max(0, (Entries.Length * EntryHeight) + TitleHeight - Bounds.Height);

    /// <summary>The menu with its entries, or those of the open submenu, scrolled so far as they can be.</summary>
    internal Menu ScrolledTo(double top, bool submenu)
    {
        top = Math.Clamp(top, 0, MostScroll(submenu));
        return submenu ? this with { SubmenuScrollTop = top } : this with { ScrollTop = top };
    }

    // Where the keys are is seen.
    private Menu WithCursor(int entry, bool submenu)
    {
        var room = submenu ? SubmenuBounds!.Value.Height : Bounds.Height - TitleHeight;
        var (menu, top) = submenu ? (this with { SubmenuAt = entry }, SubmenuScrollTop) : (this with { At = entry }, ScrollTop);
        var (from, to) = (entry * EntryHeight, (entry + 1) * EntryHeight);
        return menu.ScrolledTo(from < top ? from : to > top + room ? to - room : top, submenu);
    }

    /// <summary>
    /// The entry under a point, and whether it is one of the open submenu; -1 on the title and below the last one, null outside both.
    /// </summary>
    internal (int Entry, bool InSubmenu)? EntryAt(double x, double y)
    {
        if (SubmenuBounds is { } sub && sub.Contains(x, y)) return (EntryAt(y - sub.Top + SubmenuScrollTop, Submenu.Length), true);
        if (!Bounds.Contains(x, y)) return null;
        return (y < Bounds.Top + TitleHeight ? -1 : EntryAt(y - Bounds.Top - TitleHeight + ScrollTop, Entries.Length), false);
    }

    private int EntryAt(double y, int count) => (int)(y / EntryHeight) is var entry && entry < count ? entry : -1;

    /// <summary>Chooses an entry: a submenu opens, a command closes the menu, one that is disabled does nothing.</summary>
    public MenuAnswer Choose(int entry, bool inSubmenu)
    {
        var entries = inSubmenu ? Submenu : Entries;
        if ((uint)entry >= (uint)entries.Length || !entries[entry].IsEnabled) return new(this, null, true);
        if (!entries[entry].Entries.IsEmpty) return new(OpenSubmenu(entry), null, true);
        return inSubmenu && entries[entry].Id == BackId ? new(CloseSubmenu(), null, true) : new(null, entries[entry].Id, true);
    }

    private Menu OpenSubmenu(int entry)
    {
        var count = Entries[entry].Entries.Length;
        // It covers a sheet, and another menu where there is no room beside it: all of it, so that no two are read at once.
        var bounds = IsSheet ? SheetOf(Math.Max((count + 1) * EntryHeight, Bounds.Height)) : default;
        var covers = IsSheet || !FitsBeside(entry, out bounds);
        var open = this with { At = entry, Open = entry, CoversMenu = covers, SubmenuBounds = bounds };
        return open.WithCursor(covers ? 1 : 0, submenu: true);
    }

    // Level with its entry after the menu, else before it, else over it.
    private bool FitsBeside(int entry, out MenuBounds bounds)
    {
        var entries = Entries[entry].Entries;
        var wide = WidthOf(entries);
        var room = OffEdges(wide, (entries.Length + 1) * EntryHeight);
        double width = Math.Min(wide, room.Width), after = IsRightToLeft ? Bounds.Left - width : Bounds.Left + Bounds.Width,
            before = IsRightToLeft ? Bounds.Left + Bounds.Width : Bounds.Left - width;
        bool Fits(double left) => left >= room.Left && left + width <= room.Right;
        var fits = Fits(after) || Fits(before);
        // None of the menu looks out beside it.
        if (!fits) width = Math.Min(Math.Max(width, Bounds.Width), room.Width);
        var left = Fits(after) ? after : fits ? before : Within(Bounds.Left, width, room.Left, room.Right);
        var needs = fits ? entries.Length * EntryHeight : Math.Max((entries.Length + 1) * EntryHeight, Bounds.Height);
        var height = Math.Min(needs, room.Height);
        var top = Within(Bounds.Top + (fits ? (entry * EntryHeight) - ScrollTop : 0), height, room.Top, room.Bottom);
        bounds = new(left, top, width, height);
        return fits;
    }

    private Menu CloseSubmenu() => this with { Open = -1, SubmenuAt = -1, SubmenuBounds = null, SubmenuScrollTop = 0, CoversMenu = false };

    /// <summary>Takes a key: arrows, Home and End go round, characters find an entry, Enter and Space choose, Escape closes.</summary>
    public MenuAnswer Take(KeyPress press, TextMatch match)
    {
        ArgumentNullException.ThrowIfNull(match);
        var inSubmenu = Open >= 0;
        var entries = inSubmenu ? Submenu : Entries;
        var at = inSubmenu ? SubmenuAt : At;
        var key = IsRightToLeft ? press.Key switch { "ArrowLeft" => "ArrowRight", "ArrowRight" => "ArrowLeft", var k => k } : press.Key;
        MenuAnswer On(int entry) => new(WithCursor(entry, inSubmenu), null, true);
        switch (key)
        {
            case "ArrowDown":
                return On((at + 1) % entries.Length);
            case "ArrowUp":
                return On(at <= 0 ? entries.Length - 1 : at - 1);
            case "Home":
                return On(0);
            case "End":
                return On(entries.Length - 1);
            case "Enter" or " ":
                return Choose(at, inSubmenu);
            case "ArrowRight" when !inSubmenu && at >= 0 && !entries[at].Entries.IsEmpty && entries[at].IsEnabled:
                return new(OpenSubmenu(at), null, true);
            case "ArrowLeft" or "Escape" when inSubmenu:
                return new(CloseSubmenu().WithCursor(At, submenu: false), null, true);
            case "Escape" or "Tab":
                return new(null, null, key == "Escape");
        }
        if (!press.IsPrintable) return new(this, null, false);
        var typed = Typed.With(press.Key, press.Time);
        var (prefix, after) = typed.Query;
        if (prefix.Length == 0) return new(this with { Typed = typed }, null, true);
        var (found, _,
            _) = match.Search(i => entries[i].Label, entries.Length, (Math.Max(at, 0) + (after && at >= 0 ? 1 : 0)) % entries.Length,
            entries.Length, entries.Length, prefix);
        var menu = this with { Typed = typed };
        return new(found < 0 ? menu : menu.WithCursor(found, inSubmenu), null, true);
    }

    /// <summary>
    /// The entries for commands that show in the menu: by group, then by order, with submenus where the first of their commands stands.
    /// </summary>
    /// <param name="commands">The commands.</param>
    /// <param name="entryOf">Gives a command's entry.</param>
    internal static ImmutableArray<MenuEntry> EntriesFor<TItem, TKey>(
        IEnumerable<Command<TItem, TKey>> commands, Func<Command<TItem, TKey>, MenuEntry> entryOf)
    {
        var entries = ImmutableArray.CreateBuilder<MenuEntry>();
        var groups = commands.GroupBy(c => c.Group).ToList();
        foreach (var group in groups)
        {
            var begins = entries.Count > 0;
            foreach (var block in group.OrderBy(c => c.Order).GroupBy(c => c.Submenu ?? "\0" + c.Id))
            {
                var first = block.First();
                ImmutableArray<MenuEntry> own = [.. block.Select(entryOf)];
                entries.Add((first.Submenu is { } label
                    ? new MenuEntry(label, label)
                    {
                        Icon = block.FirstOrDefault(c => c.SubmenuIcon is not null)?.SubmenuIcon,
                        Entries = own,
                        IsEnabled = own.Any(e => e.IsEnabled),
                    }
                    : own[0]) with
                { BeginsGroup = begins });
                begins = false;
            }
        }
        return entries.DrainToImmutable();
    }
}
