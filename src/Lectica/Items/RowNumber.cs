namespace Lectica.Items;

/// <summary>
/// A 0-based place among the rows on show. It is not an item index, and neither converts to the other by itself: under a filter, in a
/// sorted view or with section headings the two differ. A list translates with <c>RowOf</c> and <c>IndexAt</c>.
/// </summary>
public readonly record struct RowNumber(int Value) : IComparable<RowNumber>
{
    /// <inheritdoc/>
    public int CompareTo(RowNumber other) => Value.CompareTo(other.Value);

    /// <summary>Whether the row is above another.</summary>
    public static bool operator <(RowNumber a, RowNumber b) => a.Value < b.Value;

    /// <summary>Whether the row is below another.</summary>
    public static bool operator >(RowNumber a, RowNumber b) => a.Value > b.Value;

    /// <summary>Whether the row is above another, or the same.</summary>
    public static bool operator <=(RowNumber a, RowNumber b) => a.Value <= b.Value;

    /// <summary>Whether the row is below another, or the same.</summary>
    public static bool operator >=(RowNumber a, RowNumber b) => a.Value >= b.Value;

    /// <summary>Such as <c>row 3</c>.</summary>
    public override string ToString() => $"row {Value}";
}
