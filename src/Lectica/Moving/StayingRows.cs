using Lectica.Items;
using Lectica.Layout;

namespace Lectica.Moving;

/// <summary>
/// Where the rows would lie without those that are grabbed: from these places it follows which row a carried card is above. A neighbour
/// gives way when the card's edge has passed its middle, which is half a row's travel, either way.
/// </summary>
internal sealed class StayingRows
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
    {
        (_rows, _geometry, _landings) = (rows, geometry, landings);
        var none = ItemSet.None(items.Universe);
        _grabbed = rows.Sections.IsEmpty ? [rows.Shown.Intersect(items)]
            : [.. rows.Sections.Select((s, i) => s.IsCollapsed ? none : rows.MembersOf(i).Intersect(items))];
        _before = new int[_grabbed.Length];
        for (var i = 1; i < _before.Length; i++) _before[i] = _before[i - 1] + _grabbed[i - 1].Count;
        var odd = heights.Where(h => items.Contains(h.Key)).Select(h => (Row: rows.RowOf(h.Key), Extra: h.Value - geometry.RowHeight))
            .Where(h => h.Row is not null).OrderBy(h => h.Row!.Value.Value).ToArray();
        _oddRows = [.. odd.Select(h => h.Row!.Value.Value)];
        _extra = [.. odd.Select(h => h.Extra)];
        for (var i = 1; i < _extra.Length; i++) _extra[i] += _extra[i - 1];
    }

    /// <summary>Whether it is that of these rows and items.</summary>
    public bool IsFor(RowMap rows, RowGeometry geometry, Landings landings) => ReferenceEquals(rows, _rows) && geometry == _geometry && ReferenceEquals(landings, _landings);

    /// <summary>How far below the top of the content a row would lie, px.</summary>
    public double TopOf(int row)
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
    public int RowBelow(double top, int now, double slack)
    {
        int low = At(top - slack), high = At(top + slack);
        now = Staying(now);
        return low > now ? low : high < now ? high : now;
    }

    private int At(double top)
    {
        int low = 0, high = _geometry.RowCount;
        while (low < high)
        {
            var middle = (low + high) / 2;
            if (top < TopOf(middle) + (_geometry.HeightOf(new(middle)) / 2)) high = middle;
            else low = middle + 1;
        }
        return Staying(low);
    }

    /// <summary>This row, or the next one that is not grabbed.</summary>
    public int Staying(int row)
    {
        if (row >= _rows.Count || _rows.EntryAt(new(row)) is not { Kind: RowKind.Item } entry || !_grabbed[Math.Max(0, entry.Section)].Contains(entry.Index)) return row;
        return _landings.Stay(entry.Section).NextAt(entry.Index) is >= 0 and var next ? _rows.RowOf(next)!.Value.Value : _rows.RowBelow(_rows.EndOf(entry.Section));
    }
}
