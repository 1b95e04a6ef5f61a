using System.Collections.Immutable;
using Lectica.Acts;
using Lectica.Layout;

namespace Lectica.Commands;

/// <summary>A command in a toolbar.</summary>
/// <param name="Id">Its id.</param>
/// <param name="Label">Its accessible name, and its words in the overflow menu.</param>
/// <param name="Icon">The name of its icon; null where it shows its label.</param>
/// <param name="Role">What kind of thing it does.</param>
/// <param name="IsEnabled">Whether it can be done now.</param>
/// <param name="Width">The width that it takes, px.</param>
public sealed record ToolbarEntry(string Id, string Label, string? Icon, CommandRole Role, bool IsEnabled, double Width)
{
    /// <summary>
    /// The command that it stands for, by its id, also while choosing it would stop that: by which a host knows the element again.
    /// </summary>
    public string Command { get; init; } = Id;

    /// <summary>Whether what the command switches is on; null where it switches nothing.</summary>
    public bool? IsChecked { get; init; }

    /// <summary>How long it stays where there is little room: those with the least go first.</summary>
    public int Priority { get; init; }

    /// <summary>Whether the command is under way; then choosing it asks it to stop, and the label says so.</summary>
    public bool IsBusy { get; init; }

    /// <summary>How much of it is done, from 0 to 1; null where it is not under way, or that is not known.</summary>
    public double? Progress { get; init; }
}

/// <summary>What of a toolbar fits.</summary>
public sealed class Toolbar(ImmutableArray<ToolbarEntry> shown, ImmutableArray<ToolbarEntry> overflow, double width)
{
    /// <summary>The commands that show, in their order.</summary>
    public ImmutableArray<ToolbarEntry> Shown { get; } = shown;

    /// <summary>Those that are in the overflow menu, in their order.</summary>
    public ImmutableArray<ToolbarEntry> Overflow { get; } = overflow;

    /// <summary>The width that all of it takes, px, the button of the overflow menu included.</summary>
    public double Width { get; } = width;

    /// <summary>The width of the button that opens the overflow menu, px.</summary>
    public const double OverflowWidth = 44;

    /// <summary>How high a toolbar is, px.</summary>
    public const double Height = 44;

    /// <summary>Whether there is an overflow menu.</summary>
    public bool HasOverflow => !Overflow.IsEmpty;

    /// <summary>
    /// How many places the keyboard goes through: the commands that show and, after them, the button of the overflow menu.
    /// </summary>
    public int ButtonCount => Shown.Length + (HasOverflow ? 1 : 0);

    /// <summary>
    /// The place that a key goes to from another, after the toolbar pattern of the WAI-ARIA Authoring Practices: arrows go round, Home and
    /// End to the ends; null where it is no such key.
    /// </summary>
    /// <param name="at">The place before, from 0.</param>
    /// <param name="key">The key.</param>
    /// <param name="rightToLeft">Whether left and right are swapped.</param>
    public int? ButtonAfter(int at, string key, bool rightToLeft)
    {
        if (ButtonCount == 0) return null;
        var forward = rightToLeft ? "ArrowLeft" : "ArrowRight";
        return key switch
        {
            "Home" => 0,
            "End" => ButtonCount - 1,
            "ArrowLeft" or "ArrowRight" => (at + (key == forward ? 1 : ButtonCount - 1)) % ButtonCount,
            _ => null,
        };
    }

    /// <summary>The overflow menu, open: below the toolbar or above it, at its trailing edge.</summary>
    /// <param name="width">The toolbar's width, px.</param>
    /// <param name="height">The toolbar's height, px.</param>
    /// <param name="room">The window, from the toolbar's left and top edge.</param>
    /// <param name="rightToLeft">Whether left and right are swapped.</param>
    /// <param name="byKey">Whether a key opened it: then the keys are on its first entry, else on none.</param>
    /// <param name="textScale">How large text is compared with its usual size.</param>
    public Menu OverflowMenu(double width, double height, HostWindow room, bool rightToLeft, bool byKey = true, double textScale = 1)
    {
        var menu = new Menu
        {
            Entries = [.. Overflow.Select(
                e => new MenuEntry(e.Id, e.Label)
                {
                    Icon = e.Icon,
                    Role = e.Role,
                    IsEnabled = e.IsEnabled,
                    IsChecked = e.IsChecked,
                    IsBusy = e.IsBusy,
                    Progress = e.Progress,
                })],
            At = byKey ? 0 : -1,
            IsRightToLeft = rightToLeft,
            TextScale = textScale,
            Room = room,
        };
        // Its trailing edge is the toolbar's: a corner on the other side is where it is asked for.
        var rows = menu.Entries.Length * menu.EntryHeight;
        var wide = menu.PlacedAt(0, 0).Bounds.Width;
        menu = menu.PlacedAt(rightToLeft ? wide : width - wide, height);
        // Where it does not fit below, and does above, it opens upward; it lies over the toolbar only where it fits nowhere else.
        return height + rows > room.Bottom - Menu.EdgeGap && -rows >= room.Top ? menu with { Bounds = menu.Bounds with { Top = -rows } }
            : height + rows <= room.Bottom ? menu with { Bounds = menu.Bounds with { Top = height } } : menu;
    }

    /// <summary>
    /// Fits commands into a width: all of them where there is room; else those with the least priority, and among equals the last, go to
    /// the overflow menu, which takes room itself.
    /// </summary>
    /// <param name="entries">The commands in their order.</param>
    /// <param name="width">The room there is, px.</param>
    public static Toolbar Fit(IReadOnlyList<ToolbarEntry> entries, double width)
    {
        ArgumentNullException.ThrowIfNull(entries);
        var stays = new HashSet<int>(Enumerable.Range(0, entries.Count));
        var taken = entries.Sum(e => e.Width);
        foreach (var (_, i) in entries.Select((e, i) => (e.Priority, i)).OrderBy(e => e.Priority).ThenByDescending(e => e.i))
        {
            if (taken + (stays.Count < entries.Count ? OverflowWidth : 0) <= width) break;
            stays.Remove(i);
            taken -= entries[i].Width;
        }
        return new(
            [.. entries.Where((_, i) => stays.Contains(i))], [.. entries.Where((_, i) => !stays.Contains(i))],
            taken + (stays.Count < entries.Count ? OverflowWidth : 0));
    }
}
