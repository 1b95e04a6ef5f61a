using Lectica.Items;

namespace Lectica.Layout;

/// <summary>Where a row lies: px from the left edge, and from the top of the content.</summary>
/// <param name="Left">Its left edge.</param>
/// <param name="Top">Its top edge.</param>
/// <param name="Width">Its width.</param>
/// <param name="Height">Its height.</param>
internal readonly record struct RowBounds(double Left, double Top, double Width, double Height)
{
    /// <summary>Its right edge, px.</summary>
    public double Right => Left + Width;

    /// <summary>Its bottom edge, px.</summary>
    public double Bottom => Top + Height;
}

/// <summary>The rows that a rectangle touches: whole lines from one to another, and of each the same columns.</summary>
/// <param name="First">The first row of the first line.</param>
/// <param name="Last">The last row of the last line.</param>
/// <param name="FromColumn">The first column, from 0 at the leading edge.</param>
/// <param name="ToColumn">The last column.</param>
internal readonly record struct TouchedRows(RowNumber First, RowNumber Last, int FromColumn = 0, int ToColumn = 0);

/// <summary>
/// Where rows lie. Everything that needs places asks it, and nothing else knows them. Rows lie in lines from the top: one to a line, or
/// several tiles. Places are px from the left edge and from the top of the content.
/// </summary>
/// <param name="RowCount">How many rows there are.</param>
/// <param name="Width">The width of all of them, px.</param>
internal abstract record RowGeometry(int RowCount, double Width)
{
    /// <summary>The usual height of an item's row, px.</summary>
    public abstract double RowHeight { get; }

    /// <summary>The height of all rows together, px.</summary>
    public abstract double Height { get; }

    /// <summary>The most rows that lie in one line.</summary>
    public abstract int Columns { get; }

    /// <summary>Whether several items lie in a line, each with room around it.</summary>
    public virtual bool IsTiled => false;

    /// <summary>How wide an item is, px.</summary>
    public virtual double ItemWidth => Width;

    /// <summary>Whether rows lie side by side, seen as one below the other: in a strip.</summary>
    public bool IsAcross { get; init; }

    /// <summary>How many lines there are.</summary>
    public abstract int LineCount { get; }

    /// <summary>The number of the line that a row is in, from 0 at the top.</summary>
    public abstract int LineOf(RowNumber row);

    /// <summary>Where a row lies.</summary>
    public abstract RowBounds BoundsOf(RowNumber row);

    /// <summary>The distance from the top of the content to the top of a row, px; of the row after the last, to the end of all.</summary>
    public abstract double TopOf(RowNumber row);

    /// <summary>The height of a row, px.</summary>
    public abstract double HeightOf(RowNumber row);

    /// <summary>The row at a place, its right and bottom edges excluded; null outside all of them.</summary>
    public abstract RowNumber? RowAt(double x, double y);

    /// <summary>
    /// The first row of the line at a height, or null above the first and below the last. What is between lines belongs to one of them.
    /// </summary>
    public abstract RowNumber? LineAt(double y);

    /// <summary>The first row of the line that a row is in.</summary>
    public abstract RowNumber LineStart(RowNumber row);

    /// <summary>The last row of the line that a row is in.</summary>
    public abstract RowNumber LineEnd(RowNumber row);

    /// <summary>The row above or below a row, in its column; the last of a shorter line; the row itself at an end.</summary>
    public abstract RowNumber Beyond(RowNumber row, bool down);

    /// <summary>
    /// The row that a page key goes to: in the farthest line with which this one still fits into a window, and at least the next.
    /// </summary>
    /// <param name="row">The row.</param>
    /// <param name="height">The window's height, px.</param>
    /// <param name="down">Whether it goes down.</param>
    public abstract RowNumber PageFrom(RowNumber row, double height, bool down);

    /// <summary>The rows that a rectangle touches, headings and notices among them; null where it touches none.</summary>
    public abstract TouchedRows? Touching(double left, double top, double right, double bottom);

    /// <summary>
    /// The same rows one after the other: from the first to the last of each stretch without a gap. Headings between them may be among
    /// them.
    /// </summary>
    public abstract IEnumerable<(RowNumber First, RowNumber Last)> StretchesOf(TouchedRows touched);

    /// <summary>
    /// The row above or before which something lands that a pointer holds at a place: the nearest, by the middles of rows.
    /// </summary>
    protected abstract int GapAt(double x, double y);

    /// <summary>
    /// The same, which changes from the row that it was only where the pointer is past a middle by <paramref name="slack"/> px, so that it
    /// does not flutter. -1 for none that it was.
    /// </summary>
    public int GapAt(double x, double y, int now, double slack)
    {
        var gap = GapAt(x, y);
        if (gap == now || now < 0 || slack <= 0) return gap;
        foreach (var (dx, dy) in ((double, double)[])[(0, -slack), (0, slack), (-slack, 0), (slack, 0)])
            if (GapAt(x + dx, y + dy) == now) return now;
        return gap;
    }

    /// <summary>
    /// The rows that a rectangle touches, without headings and notices between tiles. Cost: the sections that it touches.
    /// </summary>
    internal virtual ItemSet RowsOf(TouchedRows touched) =>
        ItemSet.None(RowCount).WithRange(touched.First.Value, touched.Last.Value - touched.First.Value + 1);

    /// <summary>The items that a rectangle touches. Cost: as the rows, and what it costs to find the items on them.</summary>
    internal virtual ItemSet ItemsOf(TouchedRows touched, RowMap rows) => rows.ItemsOn(RowsOf(touched));

    /// <summary>The first and last item that a rectangle touches, in the order on show; -1 for none.</summary>
    internal (int First, int Last) EndsOf(TouchedRows touched, RowMap rows)
    {
        int At(RowNumber line, bool down)
        {
            // A line of another kind, or one too short for the columns, has none of them.
            for (var start = line; start.Value >= touched.First.Value && start.Value <= touched.Last.Value; start = down
                ? new(LineEnd(start).Value + 1) : LineStart(new(start.Value - 1)))
            {
                var item = touched with { First = start, Last = LineEnd(start) };
                foreach (var (from, to) in StretchesOf(item))
                    if (rows.NextItemRow(down ? from : to, down) is { } row && row.Value >= from.Value && row.Value <= to.Value)
                        return rows.IndexAt(row);
                if (!down && start.Value == 0) break;
            }
            return -1;
        }
        return Columns == 1 ? Single(touched, rows) : (At(touched.First, true), At(LineStart(touched.Last), false));
    }

    private static (int First, int Last) Single(TouchedRows touched, RowMap rows) =>
        rows.NextItemRow(touched.First) is { } one && rows.NextItemRow(touched.Last, down: false) is { } other && one.Value <= other.Value
        ? (rows.IndexAt(one), rows.IndexAt(other)) : (-1, -1);

    /// <summary>
    /// The items from one to another as a finger passes them: all between them in a list of rows, the rectangle between two tiles.
    /// </summary>
    internal virtual ItemSet Passed(int first, int last, RowMap rows) => rows.Between(first, last);
}
