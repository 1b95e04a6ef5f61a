using Lectica.Items;

namespace Lectica.Layout;

/// <summary>
/// Tiles: as many in a line as fit, all of one size, in reading order. Headings, notices and the row after the last item have lines of
/// their own over the full width, and a section begins a new line. Cost of a question: the logarithm of the number of sections.
/// </summary>
internal sealed record TiledRows : RowGeometry
{
    // A stretch of tiles, or one row over the full width.
    private readonly record struct Band(int First, int Count, bool IsWide, double Top, double Height, int FirstLine);

    private readonly Band[] _bands;

    // Of each band, to be searched.
    private readonly int[] _firsts;
    private readonly double[] _tops;

    private readonly bool _isRightToLeft;
    private readonly double _tileWidth;

    /// <summary>Lays rows out as tiles.</summary>
    /// <param name="rows">The rows.</param>
    /// <param name="tiles">How tiles lie.</param>
    /// <param name="width">The width of all, px.</param>
    /// <param name="headingHeight">The height of a heading, px.</param>
    /// <param name="noticeHeight">The height of a notice in a section, and of the row after the last item, px.</param>
    /// <param name="isRightToLeft">Whether a line begins at the right.</param>
    internal TiledRows(RowMap rows, Tiles tiles, double width, double headingHeight, double noticeHeight, bool isRightToLeft)
        : base(rows.Count, width)
    {
        (RowHeight, Gap, _isRightToLeft) = (tiles.Height, tiles.Gap, isRightToLeft);
        var inside = width - (2 * Gap);
        Columns = Math.Max(1, (int)((inside + Gap) / (tiles.LeastWidth + Gap)));
        _tileWidth = Math.Max(1, (inside - ((Columns - 1) * Gap)) / Columns);
        var bands = new List<Band>((2 * rows.Headings.Length) + 2);
        double top = 0;
        int next = 0, line = 0;
        void Tiled(int end)
        {
            if (end == next) return;
            var lines = (end - next + Columns - 1) / Columns;
            var height = Gap + (lines * (RowHeight + Gap));
            bands.Add(new(next, end - next, false, top, height, line));
            (next, top, line) = (end, top + height, line + lines);
        }
        void Wide(int row, double height)
        {
            Tiled(row);
            bands.Add(new(row, 1, true, top, height, line));
            (next, top, line) = (row + 1, top + height, line + 1);
        }
        foreach (var heading in rows.Headings)
        {
            Wide(heading, headingHeight);
            if (heading + 1 < rows.Count && rows.EntryAt(new(heading + 1)) is { Kind: RowKind.Notice, Section: >= 0 })
                Wide(heading + 1, noticeHeight);
        }
        if (rows.Footer is { } footer) Wide(footer.Value, noticeHeight);
        Tiled(rows.Count);
        (_bands, Height, LineCount) = ([.. bands], top, line);
        (_firsts, _tops) = ([.. bands.Select(b => b.First)], [.. bands.Select(b => b.Top)]);
    }

    /// <summary>The room between tiles, and around them, px.</summary>
    public double Gap { get; }

    /// <inheritdoc/>
    public override double RowHeight { get; }

    /// <inheritdoc/>
    public override double Height { get; }

    /// <inheritdoc/>
    public override int Columns { get; }

    /// <inheritdoc/>
    public override int LineCount { get; }

    /// <inheritdoc/>
    public override int LineOf(RowNumber row)
    {
        ref readonly var band = ref BandOf(row.Value);
        return band.FirstLine + ((row.Value - band.First) / Columns);
    }

    /// <inheritdoc/>
    public override bool IsTiled => true;

    /// <inheritdoc/>
    public override double ItemWidth => _tileWidth;

    private double Pitch => RowHeight + Gap;

    private double ColumnPitch => _tileWidth + Gap;

    /// <inheritdoc/>
    public bool Equals(TiledRows? other) => ReferenceEquals(this, other);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(RowCount, Width, Height);

    private ref readonly Band BandOf(int row) => ref _bands[PlaceOfBand(row)];

    private int PlaceOfBand(int row) => LastUpTo(_firsts, row);

    private int BandAt(double y) => LastUpTo(_tops, y);

    /// <summary>The place of the last value that is not more than one; the first where all are.</summary>
    private static int LastUpTo<T>(T[] sorted, T value) =>
        Array.BinarySearch(sorted, value) is var at && at >= 0 ? at : Math.Max(0, ~at - 1);

    // How far from the leading edge; the same for both directions of reading.
    private double Leading(double x) => _isRightToLeft ? Width - x : x;

    private double LeftOf(int column)
    {
        var leading = Gap + (column * ColumnPitch);
        return _isRightToLeft ? Width - leading - _tileWidth : leading;
    }

    /// <inheritdoc/>
    public override RowBounds BoundsOf(RowNumber row)
    {
        ref readonly var band = ref BandOf(row.Value);
        if (band.IsWide) return new(0, band.Top, Width, band.Height);
        return CellIn(band, row.Value - band.First);
    }

    private RowBounds CellIn(in Band band, int place) =>
        new(LeftOf(place % Columns), band.Top + Gap + (place / Columns * Pitch), _tileWidth, RowHeight);

    /// <inheritdoc/>
    public override double TopOf(RowNumber row) => row.Value >= RowCount ? Height : BoundsOf(row).Top;

    /// <inheritdoc/>
    public override double HeightOf(RowNumber row) => BandOf(row.Value) is { IsWide: true } wide ? wide.Height : RowHeight;

    /// <inheritdoc/>
    public override RowNumber? RowAt(double x, double y)
    {
        if (LineAt(y) is not { } start || !(x >= 0) || x >= Width) return null;
        ref readonly var band = ref BandOf(start.Value);
        if (band.IsWide) return start;
        var (inLine, inColumn) = (y - BoundsOf(start).Top, Leading(x) - Gap);
        // A right edge is excluded, to whichever side a line runs.
        var column = (int)Math.Floor(inColumn / ColumnPitch);
        var row = start.Value + column;
        if (inLine < 0 || inLine >= RowHeight || column < 0 || column >= Columns || row >= band.First + band.Count) return null;
        var left = LeftOf(column);
        return x >= left && x < left + _tileWidth ? new(row) : null;
    }

    /// <inheritdoc/>
    public override RowNumber? LineAt(double y)
    {
        if (!(y >= 0) || y >= Height) return null;
        ref readonly var band = ref _bands[BandAt(y)];
        if (band.IsWide) return new(band.First);
        var line = Math.Min((int)((y - band.Top) / Pitch), (band.Count - 1) / Columns);
        return new(band.First + (line * Columns));
    }

    /// <inheritdoc/>
    public override RowNumber LineStart(RowNumber row) =>
        BandOf(row.Value) is { IsWide: false } band ? new(row.Value - ((row.Value - band.First) % Columns)) : row;

    /// <inheritdoc/>
    public override RowNumber LineEnd(RowNumber row) =>
        BandOf(row.Value) is { IsWide: false } band ? new(Math.Min(LineStart(row).Value + Columns, band.First + band.Count) - 1) : row;

    /// <inheritdoc/>
    public override RowNumber Beyond(RowNumber row, bool down)
    {
        var column = row.Value - LineStart(row).Value;
        var line = down ? LineEnd(row).Value + 1 : LineStart(row).Value - 1;
        if (line < 0 || line >= RowCount) return row;
        return new(Math.Min(LineStart(new(line)).Value + column, LineEnd(new(line)).Value));
    }

    /// <inheritdoc/>
    public override RowNumber PageFrom(RowNumber row, double height, bool down)
    {
        var (from, at) = (BoundsOf(row), row);
        // Lines differ in height, and sections in how full they are: it goes line by line, of which a window has few.
        while (true)
        {
            var next = Beyond(at, down);
            if (next == at) return at;
            var bounds = BoundsOf(next);
            if (at != row && (down ? bounds.Bottom - from.Top : from.Bottom - bounds.Top) > height) return at;
            at = next;
        }
    }

    /// <inheritdoc/>
    public override TouchedRows? Touching(double left, double top, double right, double bottom)
    {
        if (RowCount == 0 || !(top < Height) || !(bottom >= 0)) return null;
        var (near, far) = _isRightToLeft ? (Width - right, Width - left) : (left, right);
        int from = (int)Math.Clamp(Math.Floor((near - Gap) / ColumnPitch), 0, Columns),
            to = (int)Math.Clamp(Math.Floor((far - Gap) / ColumnPitch), -1, Columns - 1);
        if (near - Gap - (from * ColumnPitch) >= _tileWidth) from++;
        if (from > to) return null;
        var first = LineAt(Math.Clamp(top, 0, Height - 0.001))!.Value;
        if (BoundsOf(first).Bottom <= top)
        {
            first = new(LineEnd(first).Value + 1);
            if (first.Value >= RowCount) return null;
        }
        var last = LineAt(Math.Clamp(bottom, 0, Height - 0.001))!.Value;
        if (BoundsOf(last).Top > bottom)
        {
            if (last.Value == 0) return null;
            last = LineStart(new(last.Value - 1));
        }
        return last.Value < first.Value ? null : new(first, LineEnd(last), from, to);
    }

    /// <inheritdoc/>
    public override IEnumerable<(RowNumber First, RowNumber Last)> StretchesOf(TouchedRows touched)
    {
        if (touched.FromColumn == 0 && touched.ToColumn == Columns - 1)
        {
            // Not across a heading: of a section that is collapsed nothing lies here.
            for (var i = PlaceOfBand(touched.First.Value); i < _bands.Length && _bands[i].First <= touched.Last.Value; i++)
                if (!_bands[i].IsWide)
                    yield return (new(Math.Max(_bands[i].First, touched.First.Value)),
                        new(Math.Min(_bands[i].First + _bands[i].Count - 1, touched.Last.Value)));
            yield break;
        }
        for (var start = touched.First; start.Value <= touched.Last.Value; start = new(LineEnd(start).Value + 1))
        {
            int first = start.Value + touched.FromColumn, last = Math.Min(start.Value + touched.ToColumn, LineEnd(start).Value);
            if (!BandOf(start.Value).IsWide && first <= last) yield return (new(first), new(last));
        }
    }

    /// <inheritdoc/>
    internal override ItemSet RowsOf(TouchedRows touched)
    {
        var rows = ItemSet.None(touched.First.Value);
        for (var i = PlaceOfBand(touched.First.Value); i < _bands.Length && _bands[i].First <= touched.Last.Value; i++)
        {
            int first = Math.Max(_bands[i].First, touched.First.Value),
                count = Math.Min(_bands[i].First + _bands[i].Count - 1, touched.Last.Value) - first + 1;
            rows = rows.Then(_bands[i].IsWide ? ItemSet.None(count) : ColumnsOf(touched.FromColumn, touched.ToColumn).Slice(0, count));
        }
        return rows.Then(ItemSet.None(RowCount - rows.Universe));
    }

    // Some columns of as many lines as any section has. They are kept: a rectangle asks again at each sample.
    private ItemSet ColumnsOf(int from, int to)
    {
        if (_columns.TryGetValue((from, to), out var known)) return known;
        if (_columns.Count == MostKept) _columns.Clear();
        return _columns[(from, to)] = ItemSet.Stripes(_bands.Max(b => b.IsWide ? 0 : b.Count), Columns, from, to);
    }

    private const int MostKept = 64;

    private readonly Dictionary<(int From, int To), ItemSet> _columns = [];

    /// <inheritdoc/>
    protected override int GapAt(double x, double y)
    {
        var at = CellAt(x, y);
        if (at >= RowCount || BandOf(at).IsWide) return at;
        var bounds = BoundsOf(new(at));
        var isPast = _isRightToLeft ? x < bounds.Left + (bounds.Width / 2) : x >= bounds.Left + (bounds.Width / 2);
        // Past the last line there is no tile whose half counts.
        return y >= bounds.Top - Gap && y < bounds.Bottom + Gap && isPast ? at + 1 : at;
    }

    /// <summary>
    /// The row whose cell is nearest to a place; the row after the last of a section or the list beyond its end. Over a heading it is the
    /// end of the section before in the upper half, and the beginning of its own in the lower.
    /// </summary>
    public int CellAt(double x, double y)
    {
        if (_bands.Length == 0) return 0;
        ref readonly var band = ref _bands[BandAt(y)];
        if (band.IsWide) return y < band.Top + (band.Height / 2) && band.First > 0 ? band.First : band.First + 1;
        var line = Math.Max(0, (int)((y - band.Top - (Gap / 2)) / Pitch));
        var column = Math.Clamp((int)((Leading(x) - (Gap / 2)) / ColumnPitch), 0, Columns - 1);
        return band.First + Math.Min((line * Columns) + column, band.Count);
    }

    /// <summary>
    /// Where the cell of a row is; of a row that is none, or of a section's next heading, the cell after the last tile before it.
    /// </summary>
    public RowBounds CellOf(int row)
    {
        if (_bands.Length == 0) return new(LeftOf(0), Gap, _tileWidth, RowHeight);
        if (row < RowCount && !BandOf(row).IsWide) return BoundsOf(new(row));
        ref readonly var band = ref BandOf(Math.Max(0, Math.Min(row, RowCount) - 1));
        if (band.IsWide) return new(LeftOf(0), band.Top + (band.Height * 0.75) - (RowHeight / 2), _tileWidth, RowHeight);
        return CellIn(band, row - band.First);
    }

    /// <inheritdoc/>
    internal override ItemSet Passed(int first, int last, RowMap rows)
    {
        if (rows.RowOf(first) is not { } one || rows.RowOf(last) is not { } other) return rows.Between(first, last);
        int column = one.Value - LineStart(one).Value, to = other.Value - LineStart(other).Value;
        var (above, below) = one.Value <= other.Value ? (one, other) : (other, one);
        return ItemsOf(new(LineStart(above), LineEnd(below), Math.Min(column, to), Math.Max(column, to)), rows);
    }
}
