using Lectica.Frames;
using Lectica.Items;

namespace Lectica;

// What stays in place, and where rows were: so that rows which come and go above do not shift what is looked at, and hosts can animate.
public sealed partial class InteractiveList<TItem, TKey>
{
    /// <summary>Where the rows of the last frame were, by item: px from the top of the viewport.</summary>
    private Dictionary<int, double> _places = [];

    private bool _placesMoved;

    /// <summary>The first item in view, and how far it is scrolled past the top; null at the top of the list, where what comes in above shows.</summary>
    private (int Index, double Offset)? UnderTheEye()
    {
        if (_viewport.ScrollTop <= 0 || Geometry.RowAt(_viewport.ScrollTop) is not { } row || _rows.NextItemRow(row) is not { } item) return null;
        return (_rows.IndexAt(item), _viewport.ScrollTop - Geometry.TopOf(item));
    }

    private void KeepUnderTheEye(int index, double offset)
    {
        if (index >= 0 && _rows.RowOf(index) is { } row) SetViewport(_viewport with { ScrollTop = Geometry.TopOf(row) + offset }, closes: false);
    }

    private void FollowPlaces(Edit edit)
    {
        if (_places.Count == 0) return;
        var followed = new Dictionary<int, double>(_places.Count);
        foreach (var (index, top) in _places)
            if (edit.Apply(index) is >= 0 and var now) followed[now] = top;
        (_places, _placesMoved) = (followed, true);
    }

    /// <summary>A frame with each row's place before the last edit, which is then forgotten.</summary>
    private Frame WithPlaces(Frame frame)
    {
        var moved = _placesMoved && frame.Rows.Any(r => r.Index >= 0 && (!_places.TryGetValue(r.Index, out var top) || top != r.Top));
        var told = !moved ? frame : frame with
        {
            Rows = [.. frame.Rows.Select(r => r.Index < 0 || (_places.TryGetValue(r.Index, out var top) && top == r.Top) ? r : r with { TopBefore = _places.TryGetValue(r.Index, out top) ? top : double.NaN })],
        };
        _placesMoved = false;
        _places.Clear();
        foreach (var row in frame.Rows)
            if (row.Index >= 0) _places[row.Index] = row.Top;
        return told;
    }
}
