using System.Collections.Immutable;
using Lectica.Items;

namespace Lectica.Layout;

/// <summary>Where rows are: items and notices have one height, headings another. A row covers the content from its top to the next one's, its bottom edge excluded.</summary>
/// <param name="RowCount">How many rows there are.</param>
/// <param name="RowHeight">The height of each that is no heading, px; more than 0.</param>
/// <param name="HeadingHeight">The height of headings, px; more than 0.</param>
/// <param name="Headings">Which rows are headings, from the top.</param>
public readonly record struct RowGeometry(int RowCount, double RowHeight, double HeadingHeight = 36, ImmutableArray<int> Headings = default)
{
    private int HeadingCount => Headings.IsDefault ? 0 : Headings.Length;

    /// <summary>The height of all rows together, px.</summary>
    public double Height => ((RowCount - HeadingCount) * RowHeight) + (HeadingCount * HeadingHeight);

    /// <summary>How many of the rows before this one are headings, and whether it is one itself.</summary>
    private (int Before, bool IsHeading) HeadingsBefore(int row)
    {
        if (HeadingCount == 0) return default;
        var at = Headings.BinarySearch(row);
        return at >= 0 ? (at, true) : (~at, false);
    }

    /// <summary>The distance from the top of the content to the top of a row, px.</summary>
    public double TopOf(RowNumber row)
    {
        var before = HeadingsBefore(row.Value).Before;
        return ((row.Value - before) * RowHeight) + (before * HeadingHeight);
    }

    /// <summary>The height of a row, px.</summary>
    public double HeightOf(RowNumber row) => HeadingsBefore(row.Value).IsHeading ? HeadingHeight : RowHeight;

    /// <summary>The row at this distance from the top of the content, or null above the first and below the last.</summary>
    public RowNumber? RowAt(double y)
    {
        if (!(y >= 0) || y >= Height) return null;
        if (HeadingCount == 0) return new(Math.Min((int)(y / RowHeight), RowCount - 1));
        // The last heading whose top is not below the place; before the first there may be none.
        int low = 0, high = HeadingCount;
        while (low < high)
        {
            var middle = (low + high) / 2;
            if (TopOf(new(Headings[middle])) <= y) low = middle + 1;
            else high = middle;
        }
        if (low == 0) return new((int)(y / RowHeight));
        var heading = Headings[low - 1];
        var inside = y - TopOf(new(heading)) - HeadingHeight;
        var last = low < HeadingCount ? Headings[low] - 1 : RowCount - 1;
        return new(inside < 0 ? heading : Math.Min(heading + 1 + (int)(inside / RowHeight), last));
    }
}
