using System.Collections.Immutable;
using Lectica.Acts;
using Lectica.Finding;
using Lectica.Input;
using Lectica.Layout;

namespace Lectica.Commands;

/// <summary>One entry of a menu.</summary>
/// <param name="Id">The command's id; of a submenu its label.</param>
/// <param name="Label">What it says.</param>
public sealed record MenuEntry(string Id, string Label)
{
    /// <summary>Whether both say the same, with the same entries below them.</summary>
    public bool Equals(MenuEntry? other) =>
        other is not null
        && (Id, Label, Icon, Role, IsEnabled) == (other.Id, other.Label, other.Icon, other.Role, other.IsEnabled)
        && (IsChecked, Keys, BeginsGroup, IsBusy, Progress)
            == (other.IsChecked, other.Keys, other.BeginsGroup, other.IsBusy, other.Progress)
        && Entries.AsSpan().SequenceEqual(other.Entries.AsSpan());

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Id, Label, Entries.Length);

    /// <summary>The name of its icon, or null.</summary>
    public string? Icon { get; init; }

    /// <summary>What kind of thing it does.</summary>
    public CommandRole Role { get; init; }

    /// <summary>Whether it can be chosen. One that cannot is still shown, and the keys stop on it.</summary>
    public bool IsEnabled { get; init; } = true;

    /// <summary>Whether it has a check mark; null where it never has.</summary>
    public bool? IsChecked { get; init; }

    /// <summary>The keys that do the same, as they are written.</summary>
    public string? Keys { get; init; }

    /// <summary>Whether a line stands above it.</summary>
    public bool BeginsGroup { get; init; }

    /// <summary>Whether the command is under way; then choosing it asks it to stop, and the label says so.</summary>
    public bool IsBusy { get; init; }

    /// <summary>How much of it is done, from 0 to 1; null where it is not under way, or that is not known.</summary>
    public double? Progress { get; init; }

    /// <summary>The entries of its submenu; empty where it is a command.</summary>
    public ImmutableArray<MenuEntry> Entries { get; init; } = [];
}

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
        && (IsSheet, BackLabel, CoversMenu, IsRightToLeft, SubmenuBounds)
            == (other.IsSheet, other.BackLabel, other.CoversMenu, other.IsRightToLeft, other.SubmenuBounds)
        && Typed == other.Typed && Entries.AsSpan().SequenceEqual(other.Entries.AsSpan());

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Entries.Length, At, Open, SubmenuAt, Bounds);

    /// <summary>The height of an entry, px: at least 44, for fingers (WCAG 2.5.5).</summary>
    public const double EntryHeight = 44;

    /// <summary>The width of a menu, px, where there is room for it.</summary>
    public const double DefaultWidth = 240;

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

    /// <summary>Where it lies.</summary>
    public MenuBounds Bounds { get; init; }

    /// <summary>The window that it and its submenu stay in.</summary>
    public HostWindow Room { get; init; }

    /// <summary>Whether it is a sheet: at the bottom of the window, as wide as that.</summary>
    public bool IsSheet { get; init; }

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
    /// Where a menu of so many entries lies that is asked for at a point: its corner there, toward the side where there is room, and moved
    /// so far that all of it is inside the window and <see cref="EdgeGap"/> off its edges, as far as it fits.
    /// </summary>
    public static MenuBounds BoundsAt(double x, double y, int entries, HostWindow room, bool rightToLeft)
    {
        room = OffEdges(room, DefaultWidth, entries * EntryHeight);
        double width = Math.Min(DefaultWidth, room.Width), height = Math.Min(entries * EntryHeight, room.Height);
        var left = rightToLeft ? x - width : x;
        // Where it does not fit below, it opens upward.
        var top = y + height <= room.Bottom || y - height < room.Top ? y : y - height;
        return new(Within(left, width, room.Left, room.Right), Within(top, height, room.Top, room.Bottom), width, height);
    }

    // Not by Math.Clamp: where a menu is just as large as its window, rounding may put the largest start before the least, and that throws.
    private static double Within(double start, double size, double from, double to) => Math.Max(from, Math.Min(start, to - size));

    // As far as there is more room than is needed.
    private static HostWindow OffEdges(HostWindow room, double width, double height)
    {
        double across = Math.Clamp((room.Width - width) / 2, 0, EdgeGap), down = Math.Clamp((room.Height - height) / 2, 0, EdgeGap);
        return new(room.Left + across, room.Top + down, room.Right - across, room.Bottom - down);
    }

    /// <summary>Where a sheet of so many entries lies.</summary>
    public static MenuBounds SheetIn(HostWindow room, int entries)
    {
        var height = Math.Min(entries * EntryHeight, room.Height);
        return new(room.Left, room.Bottom - height, room.Width, height);
    }

    /// <summary>The entry under a point, and whether it is one of the open submenu; null outside both.</summary>
    internal (int Entry, bool InSubmenu)? EntryAt(double x, double y)
    {
        if (SubmenuBounds is { } sub && sub.Contains(x, y)) return (Math.Min((int)((y - sub.Top) / EntryHeight), Submenu.Length - 1), true);
        return Bounds.Contains(x, y) ? (Math.Min((int)((y - Bounds.Top) / EntryHeight), Entries.Length - 1), false) : null;
    }

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
        if (IsSheet)
            return this with
            {
                At = entry,
                Open = entry,
                SubmenuAt = 1,
                CoversMenu = true,
                SubmenuBounds = SheetIn(Room, Math.Max(count + 1, Entries.Length)),
            };
        var room = OffEdges(Room, DefaultWidth, (count + 1) * EntryHeight);
        double width = Math.Min(DefaultWidth, room.Width), after = IsRightToLeft ? Bounds.Left - width : Bounds.Left + Bounds.Width,
            before = IsRightToLeft ? Bounds.Left + Bounds.Width : Bounds.Left - width;
        bool Fits(double left) => left >= room.Left && left + width <= room.Right;
        var covers = !Fits(after) && !Fits(before);
        var left = Fits(after) ? after : Fits(before) ? before : Bounds.Left;
        var height = Math.Min((covers ? count + 1 : count) * EntryHeight, room.Height);
        var top = Within(Bounds.Top + (covers ? 0 : entry * EntryHeight), height, room.Top, room.Bottom);
        return this with
        {
            At = entry,
            Open = entry,
            SubmenuAt = covers ? 1 : 0,
            CoversMenu = covers,
            SubmenuBounds = new(left, top, width, height),
        };
    }

    private Menu CloseSubmenu() => this with { Open = -1, SubmenuAt = -1, SubmenuBounds = null, CoversMenu = false };

    /// <summary>Takes a key: arrows, Home and End go round, characters find an entry, Enter and Space choose, Escape closes.</summary>
    public MenuAnswer Take(KeyPress press, TextMatch match)
    {
        ArgumentNullException.ThrowIfNull(match);
        var inSubmenu = Open >= 0;
        var entries = inSubmenu ? Submenu : Entries;
        var at = inSubmenu ? SubmenuAt : At;
        var key = IsRightToLeft ? press.Key switch { "ArrowLeft" => "ArrowRight", "ArrowRight" => "ArrowLeft", var k => k } : press.Key;
        MenuAnswer On(int entry) => new(inSubmenu ? this with { SubmenuAt = entry } : this with { At = entry }, null, true);
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
                return new(CloseSubmenu(), null, true);
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
        return new(found < 0 ? menu : inSubmenu ? menu with { SubmenuAt = found } : menu with { At = found }, null, true);
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
                    ? new MenuEntry(label, label) { Entries = own, IsEnabled = own.Any(e => e.IsEnabled) }
                    : own[0]) with
                { BeginsGroup = begins });
                begins = false;
            }
        }
        return entries.DrainToImmutable();
    }
}
