using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using Lectica.Layout;

namespace Lectica;

/// <summary>A column of a list whose rows show several fields of their items side by side, under headers that stay.</summary>
/// <param name="Name">Its name: one in a list.</param>
/// <param name="Label">What its header says.</param>
/// <param name="Text">What it says of an item. The first column's is also the row's label, where the list has no <c>Content</c>.</param>
public sealed record Column<TItem>(string Name, string Label, Func<TItem, string> Text)
{
    /// <summary>Whether it is the same one: functions say nothing of what they do.</summary>
    public bool Equals(Column<TItem>? other) => ReferenceEquals(this, other);

    /// <inheritdoc/>
    public override int GetHashCode() => RuntimeHelpers.GetHashCode(this);

    /// <summary>Its width, px, as much more as text is larger; where null it shares what the others leave.</summary>
    public double? Width { get; init; }

    /// <summary>Its share of what is left, relative to the others that share it.</summary>
    public double Share { get; init; } = 1;

    /// <summary>
    /// Its least width, px, as much more as text is larger, where it has no width of its own. On a list too narrow for all columns the last
    /// ones give way; the first one is always there.
    /// </summary>
    public double LeastWidth { get; init; } = 104;

    /// <summary>Whether its text stands at the trailing edge, as numbers do.</summary>
    public bool AlignsEnd { get; init; }

    /// <summary>
    /// The order of items by it: a press on the header sorts by it, the next one the other way round, the third puts back the source's
    /// order. Where null, a press asks the app by <c>SortRequested</c>, if it listens, and does nothing else.
    /// </summary>
    public Comparison<TItem>? Compare { get; init; }

    internal static void Check(ImmutableArray<Column<TItem>> columns)
    {
        foreach (var column in columns)
        {
            if (column is null || string.IsNullOrEmpty(column.Name) || column.Text is null)
                throw new ArgumentException("A column needs a name and a text.");
            if (column.Width is { } width && !(width >= 24 && width <= 10_000))
                throw new ArgumentException($"The column '{column.Name}' is 24 to 10,000 px wide, not {width}; null shares what is left.");
            if (!(column.LeastWidth >= 24 && column.LeastWidth <= 10_000))
                throw new ArgumentException($"The least width of the column '{column.Name}' is 24 to 10,000 px, not {column.LeastWidth}.");
            if (!(column.Share > 0) || !double.IsFinite(column.Share))
                throw new ArgumentException($"The column '{column.Name}' shares what is left by a number more than 0, not {column.Share}.");
        }
        if (columns.GroupBy(c => c.Name).FirstOrDefault(g => g.Count() > 1) is { } twice)
            throw new ArgumentException($"Two columns have the name '{twice.Key}'.");
    }
}

/// <summary>
/// A list is to be sorted by a column that has no order of its own: the app sorts its source, and says so by <c>Sort</c>.
/// </summary>
public sealed class SortRequestedEventArgs(ColumnSort? sort) : EventArgs
{
    /// <summary>By which column; null for the source's own order.</summary>
    public ColumnSort? Sort { get; } = sort;
}
