using Lectica.Items;

namespace Lectica.Layout;

/// <summary>
/// The items that a rectangle touches while it is dragged. Where all items show in their order that is a pattern, which costs the same
/// however far it goes; under a filter or in sections it is the same as at the last moment but for some lines more or less.
/// </summary>
internal sealed class TouchedItems
{
    // With more lines than this that come or go it starts again.
    private const int Few = 64;

    private RowGeometry? _geometry;
    private RowMap? _rows;
    private TouchedRows _touched;
    private ItemSet _items = ItemSet.None(0);

    /// <summary>The items that it touches now.</summary>
    public ItemSet Of(RowGeometry geometry, RowMap rows, TouchedRows touched)
    {
        if (geometry.Columns == 1 || (rows.IsPlain && rows.MembersOf(-1).IsAll)) return geometry.ItemsOf(touched, rows);
        _items = ReferenceEquals(geometry, _geometry) && ReferenceEquals(rows, _rows) && Changed(touched) is { } items ? items
            : geometry.ItemsOf(touched, rows);
        (_geometry, _rows, _touched) = (geometry, rows, touched);
        return _items;
    }

    private ItemSet? Changed(TouchedRows touched)
    {
        if ((touched.FromColumn, touched.ToColumn) != (_touched.FromColumn, _touched.ToColumn)) return null;
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
}
