using System.Collections.Immutable;
using System.Runtime.CompilerServices;

namespace Lectica.Marking;

/// <summary>What a mark looks like, by form.</summary>
public enum MarkLook
{
    /// <summary>A ring that is filled while it is on.</summary>
    Ring,

    /// <summary>A star.</summary>
    Star,

    /// <summary>A flag.</summary>
    Flag,

    /// <summary>A ring with a tick in it while it is on.</summary>
    Tick,
}

/// <summary>
/// A named on/off value that each item has for itself, such as done or starred: bound to a property of the item by <see cref="Get"/> and
/// <see cref="Set"/>, or without them kept by the list under the item's key.
/// </summary>
/// <param name="Name">By which it is known; unique in its list. Rows show the marks that the list's parts name.</param>
public sealed record Mark<TItem>(string Name)
{
    /// <summary>Whether it is the same one: functions say nothing of what they do.</summary>
    public bool Equals(Mark<TItem>? other) => ReferenceEquals(this, other);

    /// <inheritdoc/>
    public override int GetHashCode() => RuntimeHelpers.GetHashCode(this);

    /// <summary>What it says of itself; the name where null.</summary>
    public string? Label { get; init; }

    /// <summary>What it looks like.</summary>
    public MarkLook Look { get; init; }

    /// <summary>
    /// Its icon in place of that look, filled while it is on: a name of those in docs/looks.md, or path data as of a command's
    /// (<see cref="Commands.Command{TItem, TKey}.Icon"/>). Null for its <see cref="Look"/>.
    /// </summary>
    public string? Icon { get; init; }

    /// <summary>Reads it from an item; null where the list keeps it.</summary>
    public Func<TItem, bool>? Get { get; init; }

    /// <summary>Writes it to an item; null where the list keeps it.</summary>
    public Action<TItem, bool>? Set { get; init; }

    /// <summary>
    /// Writes it to several items at once, where that costs less than one by one: as one statement for all of them, or in a browser, where
    /// each call counts. If it throws, each item is written back by <see cref="Set"/>. Null for <see cref="Set"/> alone, in order.
    /// </summary>
    public Action<ImmutableArray<TItem>, bool>? SetMany { get; init; }

    /// <summary>
    /// How many have put it on an item, where many people mark the same ones, with whoever looks at it: shown beside the mark. Null for
    /// none. While the list shows what has still to be stored, it counts that in.
    /// </summary>
    public Func<TItem, int>? Count { get; init; }

    /// <summary>Throws where marks cannot work together, or rows or the space bar are to have one that is not among them.</summary>
    internal static void Check(
        ImmutableArray<Mark<TItem>> marks, IReadOnlyList<string> ofRows, string? ofSpace)
    {
        if (marks.GroupBy(m => m.Name).FirstOrDefault(g => g.Count() > 1) is { } twice)
            throw new ArgumentException($"Two marks have the name '{twice.Key}'; each needs its own.");
        if (marks.FirstOrDefault(m => m.Get is null != m.Set is null) is { } half)
            throw new ArgumentException(
                $"The mark '{half.Name}' has a {(half.Get is null ? "Set and no Get" : "Get and no Set")}: give both, or none to let the " +
                    "list keep it.");
        if (marks.FirstOrDefault(m => m.SetMany is not null && m.Set is null) is { } many)
            throw new ArgumentException(
                $"The mark '{many.Name}' has a SetMany and no Set: give Set too, which writes it to one item, and back where SetMany " +
                    "fails.");
        if (marks.IsEmpty) return;
        var names = marks.Select(m => m.Name).ToList();
        if (ofRows.FirstOrDefault(n => !names.Contains(n)) is { } part)
            throw new ArgumentException(
                $"Rows are to show the mark '{part}', which is not declared; there are {string.Join(", ", names)}.");
        if (ofSpace is { } space && !names.Contains(space))
            throw new ArgumentException(
                $"Space is to turn the mark '{space}', which is not declared; there are {string.Join(", ", names)}.");
    }
}
