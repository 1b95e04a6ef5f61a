using Lectica.Frames;
using Lectica.Items;
using Lectica.States;

namespace Lectica.Shell;

/// <summary>
/// Where rows were in the frame that hosts drew last, so that the next one can say from where they come. Edits carry the places along.
/// </summary>
internal sealed class SeenRows(Core core)
{
    // After more edits than this without a frame nobody has seen the rows where they were.
    private const int MostEdits = 8192;

    private readonly Dictionary<int, (double Left, double Top)> _places = [];
    private EditLog? _at;
    private Frame? _frame;
    private ListState? _of;

    /// <summary>Whether a frame is the one that was seen last.</summary>
    public bool Are(Frame frame) => ReferenceEquals(frame, _frame);

    /// <summary>
    /// Takes a frame that is looked at. Until hosts have been told that there is a new one, whoever looks is not who draws it: its rows
    /// have not been seen where they are.
    /// </summary>
    public Frame See(Frame frame)
    {
        if (Are(frame) || core.Out.IsFrameDue) return frame;
        (_frame, _of) = (frame, core.State);
        _places.Clear();
        foreach (var row in frame.Rows)
            if (row.Index >= 0) _places[row.Index] = (row.Left, row.Top);
        _at = _places.Count == 0 ? null : core.Moment;
        return frame;
    }

    /// <summary>What rows say is another: it is not known any more what was drawn.</summary>
    public void Forget() => (_frame, _of) = (null, null);

    /// <summary>A list that changes and is not drawn does not keep what has changed for ever.</summary>
    public void RowsChanged()
    {
        if (_at is not { } moment || core.Moment.Number - moment.Number < MostEdits) return;
        _places.Clear();
        _at = null;
    }

    /// <summary>
    /// A new frame, in which rows say where they were if they lie elsewhere by an edit, by what shows of it or by what is carried; not by
    /// scrolling.
    /// </summary>
    public Frame WithPlaces(Frame frame) => MayHaveMoved(core.State) ? Placed(frame) : frame;

    private Frame Placed(Frame frame)
    {
        var places = _places;
        if (_at is { IsNow: false })
        {
            places = new(_places.Count);
            foreach (var (index, place) in _places)
                if (_at.Carry(index) is >= 0 and var now) places[now] = place;
        }
        bool HasMoved(RowFrame row, out (double Left, double Top) was) =>
            !places.TryGetValue(row.Index, out was) || was != (row.Left, row.Top);
        return !frame.Rows.Any(r => r.Index >= 0 && HasMoved(r, out _)) ? frame : frame with
        {
            Rows = [.. frame.Rows.Select(r => r.Index < 0 || !HasMoved(r, out var was) ? r
                : Moved(r, places.ContainsKey(r.Index) ? was : (double.NaN, double.NaN)))],
        };
    }

    /// <summary>A frame whose rows are those of the one before: if that was seen, they have not moved since.</summary>
    public Frame AtRest(Frame frame) => !Are(frame) || !frame.Rows.Any(static r => r.TopBefore is not null) ? frame
        : frame with { Rows = [.. frame.Rows.Select(r => r.TopBefore is null ? r : r with { TopBefore = null, LeftBefore = null })] };

    private bool MayHaveMoved(ListState now) =>
        _at is { IsNow: false }
        || (_of is { } last && ((!ReferenceEquals(last.Showing.Rows, now.Showing.Rows) && last.Window.Viewport == now.Window.Viewport)
            || last.Carrying.Grab?.Gap != now.Carrying.Grab?.Gap || last.Carrying.IsAway != now.Carrying.IsAway));

    private static RowFrame Moved(RowFrame row, (double Left, double Top) was) =>
        row with { TopBefore = was.Top, LeftBefore = was.Left == row.Left ? null : was.Left };
}
