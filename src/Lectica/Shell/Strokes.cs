using Lectica.Acts;
using Lectica.Gestures;
using Lectica.Items;
using Lectica.Layout;
using Lectica.States;

namespace Lectica.Shell;

/// <summary>
/// One kind of what goes on while a pointer is down. The list changes only at its end; until then the frame shows what would be, so that
/// breaking off has nothing to undo.
/// </summary>
internal interface IStroke
{
    /// <summary>Whether it scrolls near the viewport's edges.</summary>
    bool Scrolls { get; }

    /// <summary>
    /// Whether it goes by the rows under the pointer also when these change by themselves. What is grabbed stays with its neighbours.
    /// </summary>
    bool FollowsRows => false;

    /// <summary>Why it cannot begin; null where it can.</summary>
    Refusal? WhyNot(Act act);

    /// <summary>Begins: puts what it drags into the state, together with the stroke.</summary>
    void Begin(Stroke stroke, in Gesture gesture);

    /// <summary>The pointer, or what is under it, is elsewhere.</summary>
    void Move(Stroke stroke);

    /// <summary>The pointer lets go.</summary>
    Response End(Stroke stroke, in Gesture gesture);

    /// <summary>It is cancelled: all is as if it had not begun.</summary>
    void Cancel(Stroke stroke);
}

/// <summary>Runs strokes: which goes on, where its pointer is, and the scrolling near an edge.</summary>
internal sealed class Strokes(Core core, PointerAt at, Scroller scroller, Actor actor) : IRowsWatcher
{
    // Scrolling goes in steps of a screen's frame; one that comes late goes as far as this much time at most.
    private const double ScrollStep = 1000.0 / 60, LongestStep = 100;

    private readonly Dictionary<ActKind, IStroke> _kinds = [];

    /// <summary>What must be over before a stroke begins: what is carried, an open tray or menu.</summary>
    public Action<Act> ClearTheWay { get; set; } = _ => { };

    /// <summary>Says what goes on for an act, and that it is begun by it.</summary>
    public void Add(ActKind kind, IStroke stroke) => _kinds.Add(kind, stroke);

    private IStroke KindOf(Stroke stroke) => _kinds[stroke.Act.Kind];

    public Response Begin(ActCall call)
    {
        var (act, gesture) = (call.Act, call.Gesture!.Value);
        if (core.State.Stroke is { } running)
            // What a long press grabbed is only moved on.
            return running.PointerId == gesture.PointerId && running.Act.Kind == act.Kind ? Move(gesture) : new(false);
        if ((actor.WhyUnread(act) ?? (act.NeedsItem ? actor.WhyNoItem(act.Index) : null)) is { } refusal) return core.Refuse(act, refusal);
        var kind = _kinds[act.Kind];
        if (kind.WhyNot(act) is { } why) return core.Refuse(act, why);
        actor.StopTyping();
        ClearTheWay(act);
        // A grab that ends for it closes what it had opened.
        if (act.NeedsItem && core.Rows.RowOf(act.Index) is null)
            return core.Refuse(act,
                new(RefusalKind.Hidden, $"The item '{core.KeyText(act.Index)}' does not show any more: what lay around it has closed."));
        core.TraceAct(act);
        (at.X, at.Y) = (gesture.X, gesture.Y);
        kind.Begin(new(gesture.PointerId, act, gesture.StartX, gesture.StartY, null), gesture);
        Move(gesture);
        return Response.Handled;
    }

    public Response Move(in Gesture gesture)
    {
        if (core.State.Stroke is not { } stroke || stroke.PointerId != gesture.PointerId) return new(false);
        (at.X, at.Y) = (gesture.X, gesture.Y);
        if (KindOf(stroke).Scrolls)
        {
            var near = Speed(stroke) != 0;
            if (near != stroke.ScrolledAt is not null)
                core.Commit(core.State with
                {
                    Stroke = stroke with { ScrolledAt = near ? gesture.Time : null, ScrollsSince = gesture.Time },
                });
        }
        FollowPointer();
        return Response.Handled;
    }

    /// <summary>Takes what goes on to where the pointer is now.</summary>
    public void FollowPointer()
    {
        if (core.State.Stroke is { } stroke) KindOf(stroke).Move(stroke);
    }

    public Response End(in Gesture gesture)
    {
        if (core.State.Stroke is not { } stroke || stroke.PointerId != gesture.PointerId) return new(false);
        (at.X, at.Y) = (gesture.X, gesture.Y);
        FollowPointer();
        return core.State.Stroke is { } still ? KindOf(still).End(still, gesture) : Response.Handled;
    }

    public Response Cancel(int pointerId)
    {
        if (core.State.Stroke is not { } stroke || stroke.PointerId != pointerId) return new(false);
        KindOf(stroke).Cancel(stroke);
        return Response.Handled;
    }

    /// <summary>Rows have changed under what goes on.</summary>
    public void RowsChanged()
    {
        if (core.State.Stroke is { } stroke && KindOf(stroke) is { FollowsRows: true } kind) kind.Move(stroke);
    }

    private double Speed(Stroke stroke) =>
        KindOf(stroke).Scrolls
        ? AutoScroll.Speed(at.Y, core.Viewport, core.Axes.In(core.Room), (stroke.ScrolledAt ?? 0) - stroke.ScrollsSince,
        core.Options.Thresholds.AutoScroll) : 0;

    /// <summary>When the next step of scrolling is due; null where the pointer is not near an edge, or the content ends there.</summary>
    public double? NextScroll
    {
        get
        {
            if (core.State.Stroke is not { ScrolledAt: { } scrolled } stroke) return null;
            var speed = Speed(stroke);
            var room = speed < 0 ? core.Viewport.ScrollTop : core.Geometry.Height - core.Viewport.Height - core.Viewport.ScrollTop;
            var due = scrolled + ScrollStep;
            // So far from 0 that a step is lost in rounding, a clock is of no use: time would never get past it.
            return speed == 0 || room <= 0 || !(due > scrolled) ? null : due;
        }
    }

    /// <summary>Scrolls a step that was due, at a time that may be later.</summary>
    public void Scroll(double due, double now)
    {
        var stroke = core.State.Stroke!;
        // Called late, it makes up for a little of the time, and not for a standstill.
        var late = now - due > LongestStep ? now : due;
        var seconds = Math.Min(late - stroke.ScrolledAt!.Value, LongestStep) / 1000;
        var speed = Speed(stroke);
        core.Now = Math.Max(core.Now, late);
        core.Commit(core.State with { Stroke = stroke with { ScrolledAt = late } });
        scroller.ScrollTo(core.Viewport.ScrollTop + (speed * seconds));
        FollowPointer();
    }

    /// <summary>The place on the rows nearest to the pointer, px from the left edge and the top of the content.</summary>
    public static (double X, double Y) Inside(Core core, PointerAt at) => (Math.Clamp(at.X, 0, Math.Max(0, core.Viewport.Width - 0.001)),
        Math.Clamp(at.Y, 0, Math.Max(0, Math.Min(core.Viewport.Height, core.Geometry.Height - core.Viewport.ScrollTop) - 0.001)) +
            core.Viewport.ScrollTop);
}

/// <summary>Dragging over rows to select each one passed.</summary>
internal sealed class SweepStroke(Core core, PointerAt at) : IStroke
{
    public bool Scrolls => true;

    public bool FollowsRows => true;

    public Refusal? WhyNot(Act act) => core.Options.Policy.CheckMany("can select them by dragging");

    public void Begin(Stroke stroke, in Gesture gesture)
    {
        var index = stroke.Act.Index;
        // The first item changes sides; after a long press, which has selected it, it stays.
        var joins = core.Selection.Items.Contains(index) == (gesture.Kind == GestureKind.HoldDrag);
        Show(core.State with { Stroke = stroke, Drag = DragSelection.None with { Sweep = new(core.Selection, index, index, joins) } });
    }

    public void Move(Stroke stroke)
    {
        var drag = core.State.Drag;
        var (x, y) = Strokes.Inside(core, at);
        var index = core.Geometry.RowAt(x, y) is { } row ? core.Rows.IndexAt(row) : -1;
        if (index < 0 || (index == drag.Sweep!.Last && !drag.IsStale)) return;
        if (index != drag.Sweep!.Last) core.Hint(HapticHint.RowCrossed);
        Show(core.State with { Drag = drag with { Sweep = drag.Sweep with { Last = index } } });
    }

    private void Show(ListState next)
    {
        var sweep = next.Drag.Sweep!;
        var (preview, refusal) = sweep.Outcome(core.Geometry.Passed(sweep.First, sweep.Last, core.Rows), core.Rules);
        core.Commit(next with { Drag = next.Drag with { Preview = refusal is null ? preview : next.Drag.Preview, IsStale = false } });
    }

    public Response End(Stroke stroke, in Gesture gesture) => DragEnd.Take(core, stroke);

    public void Cancel(Stroke stroke) => core.Commit(core.State with { Stroke = null, Drag = DragSelection.None });
}

/// <summary>Dragging a rectangle from empty space.</summary>
internal sealed class MarqueeStroke(Core core, PointerAt at) : IStroke
{
    private readonly TouchedItems _items = new();

    public bool Scrolls => true;

    public bool FollowsRows => true;

    /// <summary>The rectangle as it is now; null where none is dragged.</summary>
    public Selecting.Marquee? Now => core.State.Drag.Marquee is not { } marquee ? null
        : marquee with
        {
            ToX = Math.Clamp(at.X, 0, core.Viewport.Width),
            ToY = Math.Clamp(at.Y, 0, core.Viewport.Height) + core.Viewport.ScrollTop,
        };

    public Refusal? WhyNot(Act act) => core.Options.Policy.CheckMany("can select them by dragging");

    public void Begin(Stroke stroke, in Gesture gesture)
    {
        var join = stroke.Act.Kind switch
        {
            ActKind.MarqueeAdding => Selecting.MarqueeJoin.Add,
            ActKind.MarqueeToggling => Selecting.MarqueeJoin.Toggle,
            _ => Selecting.MarqueeJoin.Replace,
        };
        double x = gesture.StartX, y = gesture.StartY + core.Viewport.ScrollTop;
        core.Commit(core.State with
        {
            Stroke = stroke,
            Drag = DragSelection.None with { Marquee = new(core.Selection, join, x, y, x, y) },
        });
    }

    public void Move(Stroke stroke)
    {
        var drag = core.State.Drag;
        // The rectangle is where the pointer is: only the rows that it covers are part of the state.
        core.Out.ChangeFrame();
        var begun = drag.Marquee!;
        double toX = Math.Clamp(at.X, 0, core.Viewport.Width), toY = Math.Clamp(at.Y, 0, core.Viewport.Height) + core.Viewport.ScrollTop;
        double top = Math.Min(begun.FromY, toY), bottom = Math.Max(begun.FromY, toY), left = Math.Min(begun.FromX, toX),
            right = Math.Max(begun.FromX, toX);
        var touched = core.Rows.Notice is null ? core.Geometry.Touching(left, top, right, bottom) : null;
        if (drag.Preview is not null && !drag.IsStale && touched == drag.Touched) return;
        var items = touched is { } some ? _items.Of(core.Geometry, core.Rows, some) : ItemSet.None(core.State.Count);
        var (first, last) = touched is { } those ? core.Geometry.EndsOf(those, core.Rows) : (-1, -1);
        var (preview, refusal) = (begun with { ToX = toX, ToY = toY }).Outcome(items, first, last, core.Rules);
        core.Commit(core.State with
        {
            Drag = drag with { Touched = touched, Preview = refusal is null ? preview : drag.Preview, IsStale = false },
        });
    }

    public Response End(Stroke stroke, in Gesture gesture) => DragEnd.Take(core, stroke);

    public void Cancel(Stroke stroke) => core.Commit(core.State with { Stroke = null, Drag = DragSelection.None });
}

/// <summary>How a selection by dragging ends.</summary>
internal static class DragEnd
{
    /// <summary>The selection becomes what it would have been.</summary>
    public static Response Take(Core core, Stroke stroke)
    {
        var outcome = core.State.Drag.Preview;
        core.Commit(core.State with { Stroke = null, Drag = DragSelection.None, Selection = outcome ?? core.Selection }, stroke.Act,
            stroke.Act.Rule);
        return Response.Handled;
    }
}
