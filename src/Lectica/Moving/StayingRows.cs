using Lectica.Items;
using Lectica.Layout;

namespace Lectica.Moving;

/// <summary>
/// Where the rows would lie without those that are grabbed: from these places it follows which gap a carried card is over. A neighbour
/// gives way when the card's edge has passed its middle, which is half a row's travel, either way.
/// </summary>
internal abstract class Staying(RowMap rows, RowGeometry geometry, Landings landings)
{
    /// <summary>The rows as they lie, what is grabbed among them.</summary>
    protected RowMap All => rows;

    /// <summary>Of rows as they lie.</summary>
    /// <param name="rows">The rows.</param>
    /// <param name="geometry">Where they lie.</param>
    /// <param name="landings">The gaps in which items could land.</param>
    /// <param name="items">What is grabbed.</param>
    /// <param name="heights">The heights of items that have been measured, by index, px.</param>
    /// <param name="lay">Lays other rows out in the same way.</param>
    public static Staying Of(RowMap rows, RowGeometry geometry, Landings landings, ItemSet items, IReadOnlyDictionary<int, double> heights,
        Func<RowMap, RowGeometry> lay) =>
        geometry.IsTiled ? new StayingTiles(rows, geometry, landings, items, lay)
        : new StayingRows(rows, geometry, landings, items, heights);

    /// <summary>Whether it is that of these rows and items.</summary>
    public bool IsFor(RowMap otherRows, RowGeometry otherGeometry, Landings otherLandings) =>
        ReferenceEquals(otherRows, rows) && otherGeometry == geometry && ReferenceEquals(otherLandings, landings);

    /// <summary>The gap in which what is grabbed lies, when it has only been taken up: given the row of the pressed item.</summary>
    public abstract Gap Home(RowNumber pressed);

    /// <summary>
    /// The gap that a card is over. From the one that it was over it changes only where the card is past a middle by
    /// <paramref name="slack"/> px, so that it does not flutter.
    /// </summary>
    /// <param name="left">The card's left edge, px from the left edge.</param>
    /// <param name="top">Its top edge, px from the top of the content.</param>
    /// <param name="now">The gap that it was over.</param>
    /// <param name="pressed">The row of the pressed item; null once it has left.</param>
    /// <param name="slack">How far past, px.</param>
    public abstract Gap GapUnder(double left, double top, Gap now, RowNumber? pressed, double slack);

    /// <summary>
    /// Where the card's left and top edges are when it is just over a gap: px from the left edge and the top of the content.
    /// </summary>
    public abstract (double Left, double Top) PositionOver(Gap gap, RowNumber? pressed);
}

/// <summary>The tiles that stay: a gap is the cell that the card's middle is over.</summary>
internal sealed class StayingTiles : Staying
{
    private readonly RowMap _rows;
    private readonly TiledRows _geometry;
    private readonly double _width;

    public StayingTiles(RowMap rows, RowGeometry geometry, Landings landings, ItemSet items, Func<RowMap, RowGeometry> lay)
        : base(rows, geometry, landings)
    {
        // A section whose items are all in the hand stays, and so does its heading.
        _rows = new(rows.Shown.Except(items), null, [.. rows.Sections.Select(s => s with { Empty = s.Empty ?? "" })], null, null,
            rows.HasFooter);
        _geometry = (TiledRows)lay(_rows);
        _width = geometry.RowCount == 0 ? 0 : _geometry.ItemWidth;
    }

    public override Gap Home(RowNumber pressed) => new(All.IndexAt(pressed), All.EntryAt(pressed).Section);

    public override Gap GapUnder(double left, double top, Gap now, RowNumber? pressed, double slack)
    {
        double x = left + (_width / 2), y = top + (_geometry.RowHeight / 2);
        int At(double dx, double dy) => _geometry.CellAt(x + dx, Math.Max(0, y + dy));
        int cell = At(0, 0), was = _rows.RowBelow(now);
        return cell == was || At(slack, 0) == was || At(-slack, 0) == was || At(0, slack) == was || At(0, -slack) == was ? now
            : _rows.GapAbove(cell);
    }

    public override (double Left, double Top) PositionOver(Gap gap, RowNumber? pressed)
    {
        var cell = _geometry.CellOf(_rows.RowBelow(gap));
        return (cell.Left, cell.Top);
    }
}

/// <summary>The rows that stay.</summary>
internal sealed class StayingRows : Staying
{
    private readonly RowMap _rows;
    private readonly RowGeometry _geometry;
    private readonly Landings _landings;

    // Of each section, or of a list without: the grabbed items that have rows, and how many there are in the sections before it.
    private readonly ItemSet[] _grabbed;
    private readonly int[] _before;

    // The grabbed rows that are not as high as the others, in order, and by how much all of them up to each are higher.
    private readonly int[] _oddRows;
    private readonly double[] _extra;

    /// <summary>Of rows as they lie. Cost: set operations for each section, and a search for each of the measured heights.</summary>
    public StayingRows(RowMap rows, RowGeometry geometry, Landings landings, ItemSet items, IReadOnlyDictionary<int, double> heights)
        : base(rows, geometry, landings)
    {
        (_rows, _geometry, _landings) = (rows, geometry, landings);
        var none = ItemSet.None(items.Universe);
        _grabbed = rows.Sections.IsEmpty ? [rows.MembersOf(-1).Intersect(items)]
            : [.. rows.Sections.Select((s, i) => s.IsCollapsed ? none : rows.MembersOf(i).Intersect(items))];
        _before = new int[_grabbed.Length];
        for (var i = 1; i < _before.Length; i++) _before[i] = _before[i - 1] + _grabbed[i - 1].Count;
        var odd = heights.Where(h => items.Contains(h.Key)).Select(h => (Row: rows.RowOf(h.Key), Extra: h.Value - geometry.RowHeight))
            .Where(h => h.Row is not null).OrderBy(h => h.Row!.Value.Value).ToArray();
        _oddRows = [.. odd.Select(h => h.Row!.Value.Value)];
        _extra = [.. odd.Select(h => h.Extra)];
        for (var i = 1; i < _extra.Length; i++) _extra[i] += _extra[i - 1];
    }

    public override Gap Home(RowNumber pressed) => _rows.GapAbove(NextStaying(pressed.Value));

    public override Gap GapUnder(double left, double top, Gap now, RowNumber? pressed, double slack)
    {
        // A section's beginning is below its heading, and above it too where it is the first.
        var was = _rows.RowBelow(now);
        var below = RowBelow(top - Gathered(pressed), was, slack);
        return below == NextStaying(was) ? now : _rows.GapAbove(below);
    }

    public override (double Left, double Top) PositionOver(Gap gap, RowNumber? pressed) =>
        (0, TopOf(_rows.RowBelow(gap)) + Gathered(pressed));

    // What is grabbed above the pressed row has left its place: rows below it have moved up by so much.
    private double Gathered(RowNumber? pressed) => pressed is { } row ? _geometry.TopOf(row) - TopOf(row.Value) : 0;

    /// <summary>How far below the top of the content a row would lie, px.</summary>
    private double TopOf(int row)
    {
        var above = Array.BinarySearch(_oddRows, row) is var at && at < 0 ? ~at : at;
        return _geometry.TopOf(new(row)) - (GrabbedAbove(row) * _geometry.RowHeight) - (above == 0 ? 0 : _extra[above - 1]);
    }

    private int GrabbedAbove(int row)
    {
        if (row >= _rows.Count) return _before[^1] + _grabbed[^1].Count;
        var (kind, index, section) = _rows.EntryAt(new(row));
        if (section < 0) return kind == RowKind.Item ? _grabbed[0].Rank(index) : 0;
        return _before[section] + (kind == RowKind.Item ? _grabbed[section].Rank(index) : 0);
    }

    /// <summary>
    /// The row that a card is above whose top is at a place, px below that of the content. From the one that it was above it changes only
    /// where it is past a middle by <paramref name="slack"/> px, so that it does not flutter.
    /// </summary>
    private int RowBelow(double top, int now, double slack)
    {
        int low = At(top - slack), high = At(top + slack);
        now = NextStaying(now);
        return low > now ? low : high < now ? high : now;
    }

    private int At(double top)
    {
        int low = 0, high = _geometry.RowCount;
        while (low < high)
        {
            var middle = (low + high) / 2;
            // A grabbed row has no height where the others lie without it, however high it is.
            var half = IsGrabbed(middle, out _) ? 0 : _geometry.HeightOf(new(middle)) / 2;
            if (top < TopOf(middle) + half) high = middle;
            else low = middle + 1;
        }
        return NextStaying(low);
    }

    /// <summary>This row, or the next one that is not grabbed.</summary>
    private int NextStaying(int row)
    {
        if (!IsGrabbed(row, out var entry)) return row;
        return _landings.Stay(entry.Section).NextAt(entry.Index) is >= 0 and var next ? _rows.RowOf(next)!.Value.Value
            : _rows.RowBelow(_rows.EndOf(entry.Section));
    }

    private bool IsGrabbed(int row, out RowEntry entry)
    {
        entry = row < _rows.Count ? _rows.EntryAt(new(row)) : default;
        return row < _rows.Count && entry.Kind == RowKind.Item && _grabbed[Math.Max(0, entry.Section)].Contains(entry.Index);
    }
}
