using Lectica.Acts;
using Lectica.Commands;
using Lectica.Gestures;
using Lectica.Items;
using Lectica.Layout;
using Lectica.States;
using Lectica.Swiping;
using Lectica.Tracing;

namespace Lectica.Shell;

/// <summary>Trays: rows that are swiped, and the commands that they uncover.</summary>
internal sealed class TrayKeeper<TItem, TKey>(
    Core core, PointerAt at, Scroller scroller, Actor actor, CommandBook<TItem, TKey> book, CommandRunner<TItem, TKey> runner)
        : IStroke, IScrollCloses, IRunWatcher where TKey : notnull
{
    private (Trays Trays, double Width, double TextScale, SwipePhysics Physics)? _physics;
    private double _drawn;

    public bool Scrolls => false;

    /// <summary>How rows swipe.</summary>
    public SwipePhysics Physics
    {
        get
        {
            var (trays, width, scale) = (core.State.Declared.Trays, core.Viewport.Width, core.State.Window.TextScale);
            if (_physics is { } known && (known.Trays, known.Width, known.TextScale) == (trays, width, scale)) return known.Physics;
            // Large words need the room; for small ones fingers do.
            var thresholds = core.Options.Thresholds;
            thresholds = thresholds with { TrayCommandWidth = thresholds.TrayCommandWidth * Math.Max(1, scale) };
            SwipePhysics physics = new(trays, thresholds, width, core.Options.ReducedMotion);
            _physics = (trays, width, scale, physics);
            return physics;
        }
    }

    /// <summary>The row that is swiped, or whose tray is open, as it is now: under a finger it is where that is.</summary>
    public Swipe? Now =>
        core.State.Tray is { IsHeld: true } held && core.State.Stroke is { } stroke ? Follow(held, stroke) : core.State.Tray;

    private Swipe Follow(Swipe swipe, Stroke stroke) =>
        Physics.Follow(swipe, core.SwipesFromRight ? stroke.StartX - at.X : at.X - stroke.StartX);

    /// <summary>Where the row that is swiped lies, for hit testing.</summary>
    public ShiftedRow? Shifted => Now is not { Offset: not 0 } swipe ? null : new(
        swipe.Index, core.SwipesFromRight ? -swipe.Offset : swipe.Offset,
        [.. Physics.LayOut(swipe, core.SwipesFromRight).Select(e => (new Part(PartKind.Tray, e.Entry.Name), e.Left, e.Width))]);

    public Refusal? WhyNot(Act act) => null;

    public void Begin(Stroke stroke, in Gesture gesture)
    {
        if (core.State.Tray is { IsOpen: true } open && open.Index != stroke.Act.Index) Close(stroke.Act with { Kind = ActKind.CloseTray });
        core.Commit(core.State with
        {
            Stroke = stroke,
            Tray = SwipePhysics.Take(stroke.Act.Index, core.State.Tray is { IsOpen: true } still ? still : null),
        });
    }

    public void Move(Stroke stroke)
    {
        if (core.State.Tray is not { IsHeld: true } swipe) return;
        var moved = Follow(swipe, stroke);
        if (moved.Offset != _drawn) core.Out.ChangeFrame();
        _drawn = moved.Offset;
        if (moved.IsArmed == swipe.IsArmed) return;
        core.Hint(moved.IsArmed ? HapticHint.Armed : HapticHint.Disarmed);
        core.Commit(core.State with { Tray = swipe with { IsArmed = moved.IsArmed } });
    }

    public Response End(Stroke stroke, in Gesture gesture)
    {
        var swipe = Follow(core.State.Tray!.Value, stroke);
        var velocity = gesture.VelocityX;
        var (outcome, reason, missed) = Physics.Release(swipe, core.SwipesFromRight ? -velocity : velocity);
        if (outcome == SwipeOutcome.Invoke)
        {
            core.Commit(core.State with { Stroke = null, Tray = swipe with { IsHeld = false } });
            var response =
                Invoke(stroke.Act with { Kind = ActKind.InvokeTray }, core.State.Declared.Trays.Through(swipe.Edge)!.Name, bySwipe: true);
            if (!response.IsHandled && core.State.Tray is { IsOpen: true } still) Rest(still, open: false, "its command was refused");
        }
        else Rest(swipe, outcome == SwipeOutcome.Open, reason, missed);
        return Response.Handled;
    }

    public void Cancel(Stroke stroke)
    {
        // The row goes back to where the finger took it, which is where its tray was open already, or not.
        var swipe = Follow(core.State.Tray!.Value, stroke);
        Rest(swipe.Began == 0 ? swipe : swipe with { Offset = swipe.Began }, open: swipe.Began != 0, "cancelled");
    }

    private void Rest(Swipe swipe, bool open, string reason, Shortfall missed = default)
    {
        var rest = Physics.Rest(swipe, open, core.Now);
        core.Commit(core.State with
        {
            Tray = !open && rest.Settle.Duration == 0 ? null : rest,
            Stroke = core.State.Stroke is { Act.Kind: ActKind.OpenTray } ? null : core.State.Stroke,
        });
        core.Trace(() => new TracedChange
        {
            T = core.Now,
            Change = "tray",
            Key = core.KeyText(swipe.Index),
            Index = swipe.Index,
            Open = open ? $"tray:{swipe.Edge.ToString().ToLowerInvariant()}:{core.KeyText(swipe.Index)}" : null,
            Reason = reason,
            Criterion = missed.Criterion == Criterion.None ? null : Words.Of(missed.Criterion),
            Measured = missed.Criterion == Criterion.None ? null : missed.Measured,
            Bound = missed.Criterion == Criterion.None || !double.IsFinite(missed.Bound) ? null : missed.Bound,
        });
    }

    public Response Close(Act act)
    {
        if (core.State.Tray is not { IsOpen: true } swipe) return Response.Handled;
        core.TraceAct(act);
        Rest(swipe, open: false, $"closed by {act.Rule}");
        return Response.Handled;
    }

    public void CloseByScroll() => Close(new(ActKind.CloseTray, Rule: "scroll"));

    /// <summary>Opens the tray at an edge of an item's row, as a swipe would.</summary>
    public Response Open(int index, Edge edge)
    {
        var act = new Act(ActKind.OpenTray, index);
        if (actor.WhyNoItem(index) is { } refusal) return core.Refuse(act, refusal);
        if (core.State.Declared.Trays.At(edge).IsEmpty)
            return core.Refuse(act, new(RefusalKind.NoItem, $"There is no tray at the {edge.ToString().ToLowerInvariant()} edge."));
        if (core.State.Stroke is not null)
            return core.Refuse(act, new(RefusalKind.NoRule, "Something is being dragged: no tray opens meanwhile."));
        if (core.Rows.RowOf(index) is null)
            return core.Refuse(act, new(RefusalKind.Hidden, $"The section of item {index} is collapsed: its row does not show."));
        if (core.State.Tray is { IsOpen: true } open && open.Index != index) Close(act with { Kind = ActKind.CloseTray });
        scroller.BringIntoView(index);
        core.TraceAct(act);
        // From hidden; a little on the way says which edge it is.
        Rest(new(index, 0, edge == Edge.Leading ? double.Epsilon : -double.Epsilon, false, false, default), open: true, "opened by call");
        return Response.Handled;
    }

    public Response Invoke(Act act, string? name, bool bySwipe)
    {
        if (actor.WhyNoItem(act.Index) is { } refusal) return core.Refuse(act, refusal);
        if (book.Commands.FirstOrDefault(c => c.Id == name) is not { } command)
            return core.Refuse(act, new(RefusalKind.NoItem, $"There is no command '{name}'."));
        core.TraceAct(act with { Text = name });
        if (core.State.Tray is { } swipe)
        {
            if (!bySwipe) Rest(swipe, open: false, "its command was chosen");
            else core.Commit(core.State with { Tray = Physics.Leave(swipe, core.Now) });
        }
        var response = runner.RunFor(command, actor.TargetAt(act.Index), new(ActKind.RunCommand, act.Index, act.Rule, name));
        if (!response.IsHandled && core.State.Tray is { IsLeaving: true } left) Rest(left, open: false, "its command was refused");
        return response;
    }

    /// <summary>The row that was swiped through leaves when the source removes it; if it has not, it comes back.</summary>
    public void RunEnded(bool failed)
    {
        if (core.State.Tray is { IsLeaving: true } swipe) Rest(swipe, open: false, failed ? "its command failed" : "its item stays");
    }
}
