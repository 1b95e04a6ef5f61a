using Lectica.Items;

namespace Lectica.Layout;

/// <summary>
/// Where rows are: most have one height, some another. A row covers the content from its top to the next one's, its bottom edge excluded.
/// Cost of a question: the logarithm of the number of rows with another height.
/// </summary>
/// <param name="RowCount">How many rows there are.</param>
/// <param name="RowHeight">The usual height, px; more than 0.</param>
/// <param name="Odd">The rows that have another one: headings, and those that a host has measured.</param>
public readonly record struct RowGeometry(int RowCount, double RowHeight, OddRows? Odd = null)
{
    /// <summary>The height of all rows together, px.</summary>
    public double Height => TopOf(new(RowCount));

    /// <summary>The distance from the top of the content to the top of a row, px.</summary>
    public double TopOf(RowNumber row) => (row.Value * RowHeight) + (Odd?.ExtraBefore(row.Value) ?? 0);

    /// <summary>The height of a row, px.</summary>
    public double HeightOf(RowNumber row) => Odd?.HeightOf(row.Value) ?? RowHeight;

    /// <summary>The row at this distance from the top of the content, or null above the first and below the last.</summary>
    public RowNumber? RowAt(double y)
    {
        if (!(y >= 0) || y >= Height) return null;
        if (Odd is null) return Exactly((int)Math.Min(y / RowHeight, RowCount - 1), y);
        var (odd, top, height, next) = Odd.LastAbove(y, RowHeight);
        var last = Math.Min(next, RowCount) - 1;
        if (odd < 0) return Exactly((int)Math.Min(y / RowHeight, last), y);
        var inside = y - top - height;
        return Exactly(inside < 0 ? odd : (int)Math.Min(odd + 1 + (inside / RowHeight), last), y);
    }

    /// <summary>
    /// A quotient of numbers that are not whole may be a row off: the row is the one whose top and next top the place is between.
    /// </summary>
    private RowNumber Exactly(int row, double y)
    {
        while (row < RowCount - 1 && TopOf(new(row + 1)) <= y) row++;
        while (row > 0 && TopOf(new(row)) > y) row--;
        return new(row);
    }

    /// <summary>
    /// The row that a page key goes to: the farthest with which this one still fits into a window, and at least the next.
    /// </summary>
    /// <param name="row">The row.</param>
    /// <param name="height">The window's height, px.</param>
    /// <param name="down">Whether it goes down.</param>
    public RowNumber PageFrom(RowNumber row, double height, bool down)
    {
        if (RowCount == 0) return row;
        const double slack = 1e-6;
        double top = TopOf(row), bottom = top + HeightOf(row);
        var target = down ? RowAt(top + height + slack)?.Value - 1 ?? RowCount - 1 : RowAt(bottom - height - slack)?.Value + 1 ?? 0;
        return new(Math.Clamp(down ? Math.Max(target, row.Value + 1) : Math.Min(target, row.Value - 1), 0, RowCount - 1));
    }
}
