using System.Collections.Immutable;
using Lectica.Acts;

namespace Lectica.Commands;

/// <summary>A command in a toolbar.</summary>
/// <param name="Id">Its id.</param>
/// <param name="Label">Its accessible name, and its words in the overflow menu.</param>
/// <param name="Icon">The name of its icon; null where it shows its label.</param>
/// <param name="Role">What kind of thing it does.</param>
/// <param name="IsEnabled">Whether it can be done now.</param>
/// <param name="Width">The width that it takes, px.</param>
public sealed record ToolbarEntry(string Id, string Label, string? Icon, CommandRole Role, bool IsEnabled, double Width);

/// <summary>What of a toolbar fits.</summary>
/// <param name="Shown">The commands that show, in their order.</param>
/// <param name="Overflow">Those that are in the overflow menu, in their order.</param>
/// <param name="Width">The width that all of it takes, px, the button of the overflow menu included.</param>
public sealed record Toolbar(ImmutableArray<ToolbarEntry> Shown, ImmutableArray<ToolbarEntry> Overflow, double Width)
{
    /// <summary>The width of the button that opens the overflow menu, px.</summary>
    public const double OverflowWidth = 44;

    /// <summary>
    /// Fits commands into a width: all of them where there is room; else those with the least priority, and among equals the last, go to the overflow
    /// menu, which takes room itself.
    /// </summary>
    /// <param name="entries">The commands in their order, each with its priority.</param>
    /// <param name="width">The room there is, px.</param>
    public static Toolbar Fit(IReadOnlyList<(ToolbarEntry Entry, int Priority)> entries, double width)
    {
        ArgumentNullException.ThrowIfNull(entries);
        var stays = new HashSet<int>(Enumerable.Range(0, entries.Count));
        var taken = entries.Sum(e => e.Entry.Width);
        foreach (var (_, i) in entries.Select((e, i) => (e.Priority, i)).OrderBy(e => e.Priority).ThenByDescending(e => e.i))
        {
            if (taken + (stays.Count < entries.Count ? OverflowWidth : 0) <= width) break;
            stays.Remove(i);
            taken -= entries[i].Entry.Width;
        }
        return new(
            [.. entries.Where((_, i) => stays.Contains(i)).Select(e => e.Entry)], [.. entries.Where((_, i) => !stays.Contains(i)).Select(e => e.Entry)],
            taken + (stays.Count < entries.Count ? OverflowWidth : 0));
    }
}
