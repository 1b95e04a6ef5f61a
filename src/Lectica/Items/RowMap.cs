namespace Lectica.Items;

/// <summary>
/// Which row shows which item. With a filter, row r is the r-th item that it lets through; both ways cost log. When nothing
/// shows there is one row, a notice that says why.
/// </summary>
public sealed class RowMap
{
    /// <summary>Rows for the items that <paramref name="shown"/> holds; <paramref name="notice"/> where it holds none.</summary>
    public RowMap(ItemSet shown, Notice? notice)
    {
        ArgumentNullException.ThrowIfNull(shown);
        Shown = shown;
        Notice = shown.IsEmpty ? notice : null;
    }

    /// <summary>The items that show.</summary>
    public ItemSet Shown { get; }

    /// <summary>Why nothing shows, or null where something does.</summary>
    public Notice? Notice { get; }

    /// <summary>The number of rows, a notice included.</summary>
    public int Count => Notice is null ? Shown.Count : 1;

    /// <summary>The row on which an item is, or null where it does not show.</summary>
    /// <exception cref="ArgumentOutOfRangeException">There is no such item.</exception>
    public RowNumber? RowOf(int index) => Shown.Contains(index) ? new(Shown.Rank(index)) : null;

    /// <summary>The index of the item on a row, or -1 where the row is no item or there is no such row.</summary>
    public int IndexAt(RowNumber row) => Notice is null && row.Value >= 0 && row.Value < Shown.Count ? Shown.Nth(row.Value) : -1;

    /// <summary>The nearest item that shows: itself, else the next, else the one before, else -1.</summary>
    public int NearestShown(int index)
    {
        var next = Shown.NextAt(index);
        return next >= 0 ? next : Shown.LastAt(index);
    }

    /// <summary>The items on show from one to another, both included, in whichever order they are given.</summary>
    public ItemSet Between(int one, int other)
    {
        int from = Math.Min(one, other), to = Math.Max(one, other);
        return ItemSet.None(Shown.Length).WithRange(from, to - from + 1).Intersect(Shown);
    }
}

/// <summary>Why no item shows.</summary>
public enum NoticeKind
{
    /// <summary>The list has not been given a source yet.</summary>
    NoSource,

    /// <summary>The source has no items.</summary>
    Empty,

    /// <summary>The source has items, but the filter lets none through.</summary>
    NothingMatches,

    /// <summary>Items are on their way.</summary>
    Loading,

    /// <summary>Loading failed; it can be tried again.</summary>
    Failed,
}

/// <summary>A row that says why nothing shows.</summary>
public sealed record Notice(NoticeKind Kind, string Text);
