using Lectica.Acts;
using Lectica.Gestures;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Moving;
using Lectica.Selecting;
using Lectica.Swiping;

namespace Lectica;

// What goes on while a pointer is down: swipes, sweeps, marquees and grabs. The list's state changes only at their end; until then the
// frame shows what would be, so that breaking off has nothing to undo.
public sealed partial class InteractiveList<TItem, TKey>
{
    // Scrolling goes in steps of a screen's frame; one that comes late goes as far as this much time at most.
    private const double ScrollStep = 1000.0 / 60, LongestStep = 100;

    /// <summary>The act that goes on.</summary>
    private sealed class Stroke
    {
        public required int PointerId { get; init; }
        public required Act Act { get; init; }
        public required double StartX { get; init; }
        public required double StartY { get; init; }
        public double X { get; set; }
        public double Y { get; set; }

        /// <summary>Of scrolling: the time up to which it has been done; null while the pointer is not near an edge.</summary>
        public double? ScrolledAt { get; set; }
    }

    private Stroke? _stroke;
    private Swipe? _swipe;
    private Sweep? _sweep;
    private Marquee? _marquee;
    private GrabState? _grab;
    private Selection? _preview;
    private int _menuIndex = -1;
    private List<(int Index, Part Part)> _pressed = [];
    private readonly List<Gesture> _brokenByEdit = [];

    private SwipePhysics Physics => _physics is { } known && known.Width == _viewport.Width ? known.Physics
        : (_physics = (_viewport.Width, new(_trays, Options.Thresholds, _viewport.Width, Options.ReducedMotion))).Value.Physics;

    private (double Width, SwipePhysics Physics)? _physics;

    /// <summary>Whether a tray is open.</summary>
    public bool IsTrayOpen => _swipe is { IsOpen: true };

    /// <summary>Whether a menu is open.</summary>
    public bool IsMenuOpen => _menuIndex >= 0;

    /// <summary>Whether something is being dragged or swiped.</summary>
    public bool IsDragging => _stroke is not null;

    /// <summary>What is open, as a state line says it; null where nothing is.</summary>
    private string? OpenText => IsMenuOpen ? $"menu:{KeyText(_menuIndex)}"
        : _swipe is { IsOpen: true } swipe ? $"tray:{swipe.Edge.ToString().ToLowerInvariant()}:{KeyText(swipe.Index)}" : null;

    /// <summary>Where the row that is swiped lies, for hit testing.</summary>
    private ShiftedRow? ShiftedRow => _swipe is not { Place: not 0 } swipe ? null : new(
        swipe.Index, Options.IsRightToLeft ? -swipe.Place : swipe.Place,
        [.. Physics.Place(swipe, Options.IsRightToLeft).Select(e => (new Part(PartKind.Tray, e.Entry.Name), e.Left, e.Width))]);

    private Response BeginStroke(Act act, in Gesture gesture)
    {
        if (_stroke is { } running)
            // What a long press grabbed is only moved on.
            return running.PointerId == gesture.PointerId && running.Act.Kind == act.Kind ? MoveStroke(gesture) : new(false);
        if (act.NeedsItem && WhyNot(ActKind.Activate, act.Index) is { } refusal) return Refuse(act, refusal);
        var (toGrab, whyNoGrab) = act.Kind == ActKind.Grab ? ToGrab(TargetAt(act.Index), act.Index) : (ItemSet.None(Count), null);
        if (whyNoGrab is not null) return Refuse(act, whyNoGrab);
        if (act.Kind is not (ActKind.Uncover or ActKind.Grab) && Options.Mode != SelectionMode.Multiple)
            return Refuse(act, new(RefusalKind.Mode, "Only a list that selects many items can select them by dragging."));
        StopTyping();
        if (_carries) DropBack(act with { Kind = ActKind.DropBack });
        if (act.Kind != ActKind.Uncover && IsTrayOpen) CloseTray(act with { Kind = ActKind.CloseTray });
        TraceAct(act, null);
        _stroke = new() { PointerId = gesture.PointerId, Act = act, StartX = gesture.StartX, StartY = gesture.StartY, X = gesture.X, Y = gesture.Y };
        switch (act.Kind)
        {
            case ActKind.Uncover:
                if (_swipe is { IsOpen: true } open && open.Index != act.Index) CloseTray(act with { Kind = ActKind.CloseTray });
                _swipe = SwipePhysics.Take(act.Index, _swipe is { IsOpen: true } ? _swipe : null);
                break;
            case ActKind.Sweep:
                // The first item changes sides; after a long press, which has selected it, it stays.
                _sweep = new(_selection, act.Index, act.Index, _selection.Items.Contains(act.Index) == (gesture.Kind == GestureKind.HoldDrag));
                Preview();
                break;
            case ActKind.Grab:
                var row = _rows.RowOf(act.Index)!.Value;
                var taken = gesture.StartY + _viewport.ScrollTop;
                BeginGrab(toGrab, act.Index, taken - Plane.Geometry.TopOf(row), _rows.GapAbove(GrabState.RowBelow(taken, Geometry, -1, 0)));
                break;
            default:
                var join = act.Kind switch { ActKind.MarqueeAdding => MarqueeJoin.Add, ActKind.MarqueeToggling => MarqueeJoin.Toggle, _ => MarqueeJoin.Replace };
                double x = gesture.StartX, y = gesture.StartY + _viewport.ScrollTop;
                _marquee = new(_selection, join, x, y, x, y);
                break;
        }
        ChangeFrame();
        MoveStroke(gesture);
        return Response.Handled;
    }

    /// <summary>The items that something done at an item is done to: the selection if it is in it, else that item alone; shown and enabled ones only.</summary>
    private ItemSet TargetAt(int index) => _selection.Items.Contains(index) ? _selection.Items.Intersect(Rules.Choosable) : ItemSet.None(Count).With(index);

    private Response MoveStroke(in Gesture gesture)
    {
        if (_stroke is not { } stroke || stroke.PointerId != gesture.PointerId) return new(false);
        (stroke.X, stroke.Y) = (gesture.X, gesture.Y);
        if (stroke.Act.Kind != ActKind.Uncover)
        {
            var scrolls = ScrollSpeed != 0;
            if (!scrolls) stroke.ScrolledAt = null;
            else stroke.ScrolledAt ??= gesture.Time;
        }
        FollowPointer();
        return Response.Handled;
    }

    /// <summary>Takes what goes on to where the pointer is now.</summary>
    private void FollowPointer()
    {
        var stroke = _stroke!;
        if (_swipe is { IsHeld: true } swipe)
        {
            var moved = Physics.Follow(swipe, Options.IsRightToLeft ? stroke.StartX - stroke.X : stroke.X - stroke.StartX);
            if (moved == swipe) return;
            _swipe = moved;
            _plane = null;
            if (moved.IsArmed != swipe.IsArmed) Hint(moved.IsArmed ? HapticHint.Armed : HapticHint.Disarmed);
            ChangeFrame();
            return;
        }
        var inside = Math.Clamp(stroke.Y, 0, Math.Max(0, Math.Min(_viewport.Height, Plane.Geometry.Height - _viewport.ScrollTop) - 0.001));
        var y = inside + _viewport.ScrollTop;
        if (_sweep is { } sweep)
        {
            var index = Plane.Geometry.RowAt(y) is { } row ? _rows.IndexAt(row) : -1;
            if (index < 0 || index == sweep.Last) return;
            _sweep = sweep with { Last = index };
            Hint(HapticHint.RowCrossed);
            Preview();
            ChangeFrame();
        }
        else if (_marquee is { } marquee)
        {
            double toX = Math.Clamp(stroke.X, 0, _viewport.Width), toY = Math.Clamp(stroke.Y, 0, _viewport.Height) + _viewport.ScrollTop;
            if (marquee.ToX == toX && marquee.ToY == toY) return;
            _marquee = marquee with { ToX = toX, ToY = toY };
            Preview();
            ChangeFrame();
        }
        else if (_grab is { } grab)
        {
            CarryFrame(stroke.Y - grab.Offset);
            if (HoverElsewhere(stroke.X, stroke.Y))
            {
                ChangeFrame();
                return;
            }
            var at = Math.Clamp(stroke.Y, 0, _viewport.Height) + _viewport.ScrollTop;
            HoverOn(Geometry.RowAt(at) is { } over && _rows.EntryAt(over) is { Kind: RowKind.Heading } heading ? heading.Section : -1);
            var now = _rows.RowBelow(grab.Gap);
            // A section's beginning is below its heading, and above it too where it is the first.
            var below = GrabState.RowBelow(at, Geometry, now, Options.Thresholds.GapSlack);
            if (below != now) HoverOver(_rows.GapAbove(below));
        }
    }

    /// <summary>The selection as it would be. Over the limit it stays as it was at the last row that fits.</summary>
    private void Preview()
    {
        var (next, refusal) = _sweep?.Outcome(Rules) ?? _marquee!.Outcome(Rules, CoveredRow(_marquee.Top, true), CoveredRow(_marquee.Bottom, false));
        if (refusal is null) _preview = next;
    }

    /// <summary>The row at a marquee's edge; null where the marquee covers none.</summary>
    private RowNumber? CoveredRow(double y, bool down)
    {
        var geometry = Plane.Geometry;
        if (_rows.Notice is not null || geometry.RowCount == 0 || _marquee!.Top >= geometry.Height || _marquee.Right <= 0 || _marquee.Left >= _viewport.Width) return null;
        if (geometry.RowAt(Math.Clamp(y, 0, geometry.Height - 0.001)) is not { } row || _rows.NextItemRow(row, down) is not { } item) return null;
        // Headings at its edge are not items: the first inside counts, if there is one.
        double top = geometry.TopOf(item), bottom = top + geometry.HeightOf(item);
        return bottom > _marquee.Top && top <= _marquee.Bottom ? item : null;
    }

    private Response EndStroke(in Gesture gesture)
    {
        if (_stroke is not { } stroke || stroke.PointerId != gesture.PointerId) return new(false);
        (stroke.X, stroke.Y) = (gesture.X, gesture.Y);
        FollowPointer();
        var act = stroke.Act;
        switch (act.Kind)
        {
            case ActKind.Uncover:
                EndSwipe(act, gesture.VelocityX);
                break;
            case ActKind.Grab:
                // What is grabbed is let go first: landing may change the rows under the pointer.
                _stroke = null;
                return Drop(act with { Kind = ActKind.Drop });
            default:
                var outcome = _preview;
                EndStroke();
                if (outcome is not null) Become(outcome, act, act.Rule);
                break;
        }
        return Response.Handled;
    }

    /// <summary>Nothing goes on any more.</summary>
    private void EndStroke()
    {
        (_stroke, _sweep, _marquee, _preview) = (null, null, null, null);
        ChangeFrame();
    }

    private void EndSwipe(Act act, double velocity)
    {
        var swipe = _swipe!.Value;
        var (outcome, reason, missed) = Physics.Release(swipe, Options.IsRightToLeft ? -velocity : velocity);
        EndStroke();
        if (outcome == SwipeOutcome.Invoke)
        {
            InvokeTray(act with { Kind = ActKind.InvokeTray }, _trays.Through(swipe.Edge)!.Name, bySwipe: true);
            return;
        }
        RestTray(swipe, outcome == SwipeOutcome.Open, reason, missed);
    }

    private void RestTray(Swipe swipe, bool open, string reason, Shortfall missed = default)
    {
        _swipe = Physics.Rest(swipe, open, _now);
        if (!open && _swipe.Value.Settle.Duration == 0) _swipe = null;
        _plane = null;
        ChangeFrame();
        _changedProperties.Add(nameof(IsTrayOpen));
        Trace(() => new()
        {
            Stage = "change",
            T = _now,
            Change = "tray",
            Key = KeyText(swipe.Index),
            Index = swipe.Index,
            Open = open ? $"tray:{swipe.Edge.ToString().ToLowerInvariant()}:{KeyText(swipe.Index)}" : null,
            Reason = reason,
            Limit = missed.Limit == Limit.None ? null : Word(missed.Limit),
            Measured = missed.Limit == Limit.None ? null : missed.Measured,
            Bound = missed.Limit == Limit.None || !double.IsFinite(missed.Bound) ? null : missed.Bound,
        });
    }

    private Response CloseTray(Act act)
    {
        if (_swipe is not { IsOpen: true } swipe) return Response.Handled;
        TraceAct(act, null);
        RestTray(swipe, open: false, $"closed by {act.Rule}");
        return Response.Handled;
    }

    /// <summary>Opens the tray at an edge of an item's row, as a swipe would.</summary>
    public Response OpenTray(TKey key, Edge edge) => Run(index =>
    {
        var act = new Act(ActKind.Uncover, index);
        if (index < 0) return Absent(ActKind.Uncover, key);
        if (WhyNot(ActKind.Activate, index) is { } refusal) return Refuse(act, refusal);
        if (_trays.At(edge).IsEmpty) return Refuse(act, new(RefusalKind.NoItem, $"There is no tray at the {edge.ToString().ToLowerInvariant()} edge."));
        if (_stroke is not null) return Refuse(act, new(RefusalKind.NoRule, "Something is being dragged: no tray opens meanwhile."));
        if (_swipe is { IsOpen: true } open && open.Index != index) CloseTray(act with { Kind = ActKind.CloseTray });
        BringIntoView(index);
        TraceAct(act, null);
        // From hidden; a little on the way says which edge it is.
        RestTray(new(index, 0, edge == Edge.Leading ? double.Epsilon : -double.Epsilon, false, false, default), open: true, "opened by call");
        return Response.Handled;
    }, IndexOf(key));

    private Response BreakOff(Act act)
    {
        if (_stroke is null) return new(false);
        TraceAct(act, null);
        var broken = new List<Gesture>();
        _recogniser.BreakOff("broken off", broken);
        TakeGestures(broken);
        // A grab that has not moved yet is held, not dragged: nothing was running.
        if (_stroke is { } still) CancelStroke(still.PointerId);
        return Response.Handled;
    }

    private Response CancelStroke(int pointerId)
    {
        if (_stroke is not { } stroke || stroke.PointerId != pointerId) return new(false);
        EndStroke();
        PutBack();
        // The row goes back to where the finger took it, which is where its tray was open already, or not.
        if (_swipe is { IsHeld: true } swipe)
            RestTray(swipe.Began == 0 ? swipe : swipe with { Place = swipe.Began }, open: swipe.Began != 0, "broken off");
        return Response.Handled;
    }

    private double ScrollSpeed => _stroke is not { } stroke || stroke.Act.Kind == ActKind.Uncover ? 0
        : AutoScroll.Speed(stroke.Y, _viewport, Options.Thresholds.AutoScrollEdge, Options.Thresholds.AutoScrollSpeed);

    /// <summary>When the next step of scrolling is due; null where the pointer is not near an edge, or the content ends there.</summary>
    private double? NextScroll
    {
        get
        {
            if (_stroke?.ScrolledAt is not { } at) return null;
            var speed = ScrollSpeed;
            var room = speed < 0 ? _viewport.ScrollTop : Geometry.Height - _viewport.Height - _viewport.ScrollTop;
            var due = at + ScrollStep;
            // So far from 0 that a step is lost in rounding, a clock is no clock: time would never get past it.
            return speed == 0 || room <= 0 || !(due > at) ? null : due;
        }
    }

    /// <summary>When what is dragged next does something by itself.</summary>
    private double? NextOfDrag => Earliest(NextScroll, _hover?.Due);

    private void AutoScrollStep(double due, double now)
    {
        var stroke = _stroke!;
        // Called late, it makes up for a little of the time, and not for a standstill.
        var late = now - due > LongestStep ? now : due;
        var seconds = Math.Min(late - stroke.ScrolledAt!.Value, LongestStep) / 1000;
        stroke.ScrolledAt = late;
        _now = Math.Max(_now, late);
        _revealed = -1;
        SetViewport(_viewport with { ScrollTop = _viewport.ScrollTop + (ScrollSpeed * seconds) });
        FollowPointer();
    }

    /// <summary>Takes what goes on through an edit of the source.</summary>
    private void FollowStroke(Edit edit)
    {
        _recogniser.Follow(edit, _brokenByEdit);
        _pressed = [.. _pressed.Select(p => (Index: edit.Apply(p.Index), p.Part)).Where(p => p.Index >= 0)];
        if (_swipe is { } swipe && swipe.After(edit) is var followed && (_swipe = followed) is null)
        {
            if (_stroke?.Act.Kind == ActKind.Uncover) EndStroke();
            _changedProperties.Add(nameof(IsTrayOpen));
        }
        if (_menuIndex >= 0)
        {
            _menuTarget = edit.Apply(_menuTarget);
            if ((_menuIndex = edit.Apply(_menuIndex)) < 0) ForgetMenu();
        }
        for (var i = _flashes.Count - 1; i >= 0; i--)
        {
            _flashes[i] = _flashes[i] with { Index = edit.Apply(_flashes[i].Index) };
            if (_flashes[i].Index < 0) _flashes.RemoveAt(i);
        }
        if (_sweep is { } sweep && (_sweep = sweep.After(edit)) is null) EndStroke();
        if (_marquee is { } marquee) _marquee = marquee with { Before = marquee.Before.After(edit) };
        FollowGrab(edit);
        _preview = _preview?.After(edit);
    }

    /// <summary>When the edit is through: what goes on is put right for the rows as they are now.</summary>
    private void SettleStroke()
    {
        if (_brokenByEdit.Count > 0)
        {
            List<Gesture> broken = [.. _brokenByEdit];
            _brokenByEdit.Clear();
            TakeGestures(broken);
        }
        if (_swipe is { } swipe && _rows.RowOf(swipe.Index) is null)
        {
            if (_stroke?.Act.Kind == ActKind.Uncover) EndStroke();
            _swipe = null;
            _changedProperties.Add(nameof(IsTrayOpen));
        }
        SettleGrab();
        if (_sweep is null && _marquee is null) return;
        Preview();
        FollowPointer();
    }

    private void Hint(HapticHint hint)
    {
        Trace(() => new() { Stage = "change", T = _now, Change = "haptic", Reason = Word(hint) });
        Raise(Haptic, new(hint));
    }

    private static string Word(HapticHint hint) => hint switch
    {
        HapticHint.LongPress => "long-press",
        HapticHint.GapCrossed => "gap-crossed",
        HapticHint.RowCrossed => "row-crossed",
        _ => hint.ToString().ToLowerInvariant(),
    };

    /// <summary>Tells which items have begun or ceased to be pressed.</summary>
    private void TellPressed()
    {
        if (PressChanged is null && _pressed.Count == 0) return;
        List<(int Index, Part Part)> now = [.. _recogniser.Pressed.Where(p => !_disabled.Contains(p.Index))];
        foreach (var (index, part) in _pressed)
            if (!now.Contains((index, part))) Raise(PressChanged, new(_store.ItemAt(index), _store.KeptKeyAt(index), part, false));
        foreach (var (index, part) in now)
            if (!_pressed.Contains((index, part))) Raise(PressChanged, new(_store.ItemAt(index), _store.KeptKeyAt(index), part, true));
        _pressed = now;
    }
}
