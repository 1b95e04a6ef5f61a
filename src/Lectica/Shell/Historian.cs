using Lectica.Acts;
using Lectica.States;

namespace Lectica.Shell;

/// <summary>Keeps the user's steps, takes them back and does them again; or hands them to a history of the app's.</summary>
internal sealed class Historian(Core core, Turns turns)
{
    // of each step that was reversed, what it came from: to put it back where it fails after all.
    private (UndoStep Made, UndoStep From, ActKind Kind)? _last;

    /// <summary>The app's own history; null for the list's.</summary>
    public Action<string, Action, Action>? App { get; set; }

    /// <summary>Told of a step that was taken back or done again, for what offers it.</summary>
    public Action<UndoStep> Reversed { get; set; } = _ => { };

    /// <summary>What is kept while a command runs: parts of it, or nothing where it says itself how it is taken back.</summary>
    public sealed class Parts(bool areKept)
    {
        public bool AreKept { get; } = areKept;

        public List<UndoStep> Steps { get; } = [];
    }

    // The one that began first has them, where a command runs another.
    private readonly List<Parts> _open = [];

    /// <summary>From now until its end what is kept are parts of something, or nothing.</summary>
    public Parts Begin(bool areKept)
    {
        _open.Add(new(areKept));
        return _open[^1];
    }

    /// <summary>Its end: the parts are kept as one step, of what began before it where that goes on.</summary>
    /// <returns>The step; null where there are none.</returns>
    public UndoStep? End(Parts parts, string name)
    {
        var isInner = _open.IndexOf(parts) > 0;
        _open.Remove(parts);
        if (parts.Steps.Count == 0) return null;
        var step = new StepOfParts(name, parts.Steps);
        if (isInner) Keep(step);
        else KeepWhole(step);
        return step;
    }

    /// <summary>Whether it is of use to make a step.</summary>
    public bool Keeps => _open is not [{ AreKept: false }, ..];

    /// <summary>Keeps a step.</summary>
    public void Keep(UndoStep step)
    {
        // One of parts is as old as the first of them.
        if (step is not StepOfParts) step.Made = core.Moment.Number;
        if (_open is not [var parts, ..]) KeepWhole(step);
        else if (parts.AreKept) parts.Steps.Add(step);
    }

    private void KeepWhole(UndoStep step)
    {
        if (App is not { } app)
        {
            core.Commit(core.State with { History = core.State.History.With(step, core.Options.UndoDepth) });
            return;
        }
        // The app holds the step, and the list does not.
        var now = step;
        Response Turn(ActKind kind) => Replay(now, kind, inverse => now = inverse);
        core.App.Ask(_ =>
        {
            app(step.Name, () => turns.Run(_ => Turn(ActKind.Undo)), () => turns.Run(_ => Turn(ActKind.Redo)));
            return true;
        }, step, false);
    }

    private Response Replay(UndoStep step, ActKind kind, Action<UndoStep> reversed)
    {
        var act = new Act(kind, -1, "call", step.Name);
        if (step.Apply(kind, out var inverse) is { } refusal) return core.Refuse(act, refusal);
        reversed(inverse);
        core.TraceAct(act);
        return Response.Handled;
    }

    /// <summary>
    /// Takes the last step back, or does the last one that was taken back again. One that makes no sense any more is dropped.
    /// </summary>
    public Response Turn(Act act)
    {
        var history = core.State.History;
        var from = act.Kind == ActKind.Undo ? history.Done : history.Undone;
        if (from.IsEmpty) return core.Refuse(act, WhyNot(act.Kind)!);
        var step = from[^1];
        Reversed(step);
        var refusal = step.Apply(act.Kind, out var inverse);
        if (refusal is not null)
        {
            // One that must only wait, or is hidden now, is still there afterwards.
            if (refusal.Kind is RefusalKind.OutOfDate or RefusalKind.NoItem)
                core.Commit(core.State with { History = core.State.History.Without(step) });
            return core.Refuse(act, refusal);
        }
        inverse.Made = core.Moment.Number;
        core.TraceAct(act with { Text = step.Name });
        core.Commit(core.State with { History = core.State.History.Reversed(step, inverse, act.Kind) });
        _last = (inverse, step, act.Kind);
        core.Announce(p => act.Kind == ActKind.Undo ? p.Undone(step.Name) : p.Redone(step.Name));
        return Response.Handled;
    }

    /// <summary>A step that was reversed could not be done after all: it is where it was.</summary>
    public void Revert(UndoStep made)
    {
        if (_last is not { } last || last.Made != made) return;
        var history = core.State.History;
        if (!history.Done.Contains(made) && !history.Undone.Contains(made)) return;
        history = history.Without(made);
        core.Commit(core.State with
        {
            History = last.Kind == ActKind.Undo ? history with { Done = history.Done.Add(last.From) }
                : history with { Undone = history.Undone.Add(last.From) },
        });
    }

    /// <summary>The same step was reversed in another list, or no longer makes sense there.</summary>
    public void Follow(UndoStep step, UndoStep? inverse, ActKind kind)
    {
        if (!turns.IsDisposed) turns.Inside(() =>
        {
            var history = core.State.History;
            var has = (kind == ActKind.Undo ? history.Done : history.Undone).Contains(step);
            Reversed(step);
            if (inverse is not null) inverse.Made = core.Moment.Number;
            if (has) core.Commit(
                core.State with { History = inverse is null ? history.Without(step) : history.Reversed(step, inverse, kind) });
        });
    }

    /// <summary>Why there is nothing to turn round; null where there is.</summary>
    public Refusal? WhyNot(ActKind kind) => kind switch
    {
        ActKind.Undo => core.State.History.Done.IsEmpty ? new(RefusalKind.NoItem, "There is nothing to take back.") : null,
        _ => core.State.History.Undone.IsEmpty ? new(RefusalKind.NoItem, "There is nothing to do again.") : null,
    };
}
