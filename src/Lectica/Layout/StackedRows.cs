using Lectica.Items;

namespace Lectica.Layout;

/// <summary>
/// Rows one below the other: most have one height, some another. A row covers the content from its top to the next one's, over the full
/// width. Cost of a question: the logarithm of the number of rows with another height.
/// </summary>
internal sealed record StackedRows : RowGeometry
{
    private readonly OddRows? _odd;

    /// <summary>Rows one below the other.</summary>
    /// <param name="rowCount">How many rows there are.</param>
    /// <param name="width">Their width, px.</param>
    /// <param name="rowHeight">The usual height, px; more than 0.</param>
    /// <param name="odd">The rows that have another one: headings, and those that a host has measured.</param>
    public StackedRows(int rowCount, double width, double rowHeight, OddRows? odd = null) : base(rowCount, width) =>
        (RowHeight, _odd) = (rowHeight, odd);

    /// <inheritdoc/>
    public override double RowHeight { get; }

    /// <inheritdoc/>
    public override double Height => TopOf(new(RowCount));

    /// <inheritdoc/>
    public override int Columns => 1;

    /// <inheritdoc/>
    public override int LineCount => RowCount;

    /// <inheritdoc/>
    public override int LineOf(RowNumber row) => row.Value;

    /// <inheritdoc/>
    public override RowBounds BoundsOf(RowNumber row) => new(0, TopOf(row), Width, HeightOf(row));

    /// <inheritdoc/>
    public override double TopOf(RowNumber row) => (row.Value * RowHeight) + (_odd?.ExtraBefore(row.Value) ?? 0);

    /// <inheritdoc/>
    public override double HeightOf(RowNumber row) => _odd?.HeightOf(row.Value) ?? RowHeight;

    /// <inheritdoc/>
    public override RowNumber? RowAt(double x, double y) => LineAt(y);

    /// <inheritdoc/>
    public override RowNumber? LineAt(double y)
    {
        if (!(y >= 0) || y >= Height) return null;
        if (_odd is null) return Exactly((int)Math.Min(y / RowHeight, RowCount - 1), y);
        var (odd, top, height, next) = _odd.LastAbove(y, RowHeight);
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

    /// <inheritdoc/>
    public override RowNumber LineStart(RowNumber row) => row;

    /// <inheritdoc/>
    public override RowNumber LineEnd(RowNumber row) => row;

    /// <inheritdoc/>
    public override RowNumber Beyond(RowNumber row, bool down) =>
        new(Math.Clamp(row.Value + (down ? 1 : -1), 0, Math.Max(0, RowCount - 1)));

    /// <inheritdoc/>
    public override RowNumber PageFrom(RowNumber row, double height, bool down)
    {
        if (RowCount == 0) return row;
        const double slack = 1e-6;
        double top = TopOf(row), bottom = top + HeightOf(row);
        var target = down ? LineAt(top + height + slack)?.Value - 1 ?? RowCount - 1 : LineAt(bottom - height - slack)?.Value + 1 ?? 0;
        return new(Math.Clamp(down ? Math.Max(target, row.Value + 1) : Math.Min(target, row.Value - 1), 0, RowCount - 1));
    }

    /// <inheritdoc/>
    public override TouchedRows? Touching(double left, double top, double right, double bottom)
    {
        if (RowCount == 0 || !(top < Height) || !(bottom >= 0) || !(right > 0) || !(left < Width)) return null;
        double end = Height - 0.001;
        return new(LineAt(Math.Clamp(top, 0, end))!.Value, LineAt(Math.Clamp(bottom, 0, end))!.Value);
    }

    /// <inheritdoc/>
    public override IEnumerable<(RowNumber First, RowNumber Last)> StretchesOf(TouchedRows touched) => [(touched.First, touched.Last)];

    // Two ends say it all.
    internal override ItemSet ItemsOf(TouchedRows touched, RowMap rows) =>
        EndsOf(touched, rows) is ( >= 0, >= 0) ends ? rows.Between(ends.First, ends.Last) : ItemSet.None(rows.Shown.Universe);

    /// <inheritdoc/>
    protected override int GapAt(double x, double y) =>
        LineAt(Math.Max(0, y)) is not { } row ? RowCount : y - TopOf(row) >= HeightOf(row) / 2 ? row.Value + 1 : row.Value;
}
