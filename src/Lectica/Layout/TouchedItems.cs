using Lectica.Items;

namespace Lectica.Layout;

/// <summary>
/// The items that a rectangle touches while it is dragged: from one moment to the next some lines more or less, so that it costs what has
/// changed, whatever it spans.
/// </summary>
internal sealed class TouchedItems
{
    // With more lines than this that come or go it begins anew.
    private const int Few = 64;

    private RowGeometry? _geometry;
    private RowMap? _rows;
    private TouchedRows _touched;
    private ItemSet _items = ItemSet.None(0);

    /// <summary>The items that it touches now.</summary>
    public ItemSet Of(RowGeometry geometry, RowMap rows, TouchedRows touched)
    {
        // Rows one below the other are one stretch, which costs nothing to be found.
        if (geometry.Columns == 1) return geometry.ItemsOf(touched, rows);
        _items = ReferenceEquals(geometry, _geometry) && ReferenceEquals(rows, _rows) && Changed(touched) is { } items ? items : geometry.ItemsOf(touched, rows);
        (_geometry, _rows, _touched) = (geometry, rows, touched);
        return _items;
    }

    private ItemSet? Changed(TouchedRows touched)
    {
        if ((touched.FromColumn, touched.ToColumn) != (_touched.FromColumn, _touched.ToColumn)) return ChangedAcross(touched);
        int Lines(int from, int to) => Math.Abs(_geometry!.LineOf(new(from)) - _geometry.LineOf(new(to)));
        if (Lines(touched.First.Value, _touched.First.Value) + Lines(touched.Last.Value, _touched.Last.Value) > Few) return null;
        if (touched.First.Value > _touched.Last.Value || _touched.First.Value > touched.Last.Value) return null;
        var items = _items;
        void Change(int from, int to, bool joins)
        {
            if (from > to) return;
            var some = _geometry!.ItemsOf(touched with { First = new(from), Last = new(to) }, _rows!);
            items = joins ? items.Union(some) : items.Except(some);
        }
        Change(touched.First.Value, _touched.First.Value - 1, true);
        Change(_touched.First.Value, touched.First.Value - 1, false);
        Change(_touched.Last.Value + 1, touched.Last.Value, true);
        Change(touched.Last.Value + 1, _touched.Last.Value, false);
        return items;
    }

    // Columns more or less, of the same lines.
    private ItemSet? ChangedAcross(TouchedRows touched)
    {
        bool IsWhole(TouchedRows rows) => rows.FromColumn == 0 && rows.ToColumn == _geometry!.Columns - 1;
        if ((touched.First, touched.Last) != (_touched.First, _touched.Last) || IsWhole(touched) || IsWhole(_touched)) return null;
        if (touched.FromColumn > _touched.ToColumn || _touched.FromColumn > touched.ToColumn) return null;
        var items = _items.ToBatch();
        void Change(int from, int to, bool joins)
        {
            if (from > to) return;
            foreach (var stretch in _geometry!.StretchesOf(touched with { FromColumn = from, ToColumn = to })) RowGeometry.Set(items, stretch, _rows!, joins);
        }
        Change(touched.FromColumn, _touched.FromColumn - 1, true);
        Change(_touched.FromColumn, touched.FromColumn - 1, false);
        Change(_touched.ToColumn + 1, touched.ToColumn, true);
        Change(touched.ToColumn + 1, _touched.ToColumn, false);
        return items.ToSet();
    }
}
