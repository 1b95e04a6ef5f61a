using Lectica.Items;

namespace Lectica.Layout;

/// <summary>Where rows are, when they all have one height: row r covers the content from r to r + 1 heights, its bottom edge excluded.</summary>
/// <param name="RowCount">How many rows there are.</param>
/// <param name="RowHeight">The height of each, px; more than 0.</param>
public readonly record struct RowGeometry(int RowCount, double RowHeight)
{
    /// <summary>The height of all rows together, px.</summary>
    public double Height => RowCount * RowHeight;

    /// <summary>The distance from the top of the content to the top of a row, px.</summary>
    public double TopOf(RowNumber row) => row.Value * RowHeight;

    /// <summary>The row at this distance from the top of the content, or null above the first and below the last.</summary>
    public RowNumber? RowAt(double y)
    {
        if (!(y >= 0) || y >= Height) return null;
        return new(Math.Min((int)(y / RowHeight), RowCount - 1));
    }
}
