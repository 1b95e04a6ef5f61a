using Lectica.Acts;
using Lectica.Commands;
using Lectica.Items;

namespace Lectica;

// What can be taken back: one act of the user is one step, kept as the inverse act by key, and carried through later edits.
public sealed partial class InteractiveList<TItem, TKey>
{
    /// <summary>A step: what it was, and how it is taken back and done again. Places are followed through edits of the source.</summary>
    private sealed class UndoStep
    {
        public required string Name { get; init; }
        public required IReadOnlyList<TItem> Items { get; init; }
        public required IReadOnlyList<TKey> Keys { get; init; }

        /// <summary>For each item the gap in which it stood.</summary>
        public required int[] Gaps { get; init; }

        /// <summary>Takes it back; gives why it makes no sense any more.</summary>
        public Func<UndoStep, Refusal?>? Undo { get; set; }

        public Func<UndoStep, Refusal?>? Redo { get; set; }

        /// <summary>The same step in another list, which goes with it: of items that went from one to the other.</summary>
        public (InteractiveList<TItem, TKey> List, UndoStep Step)? Twin { get; set; }

        /// <summary>Which of its items were in the list when it was kept: only they are back where it would put them.</summary>
        public bool[] Stayed { get; set; } = [];
    }

    private readonly List<UndoStep> _done = [], _undone = [];

    /// <summary>Whether there is a step to take back.</summary>
    public bool CanUndo => _done.Count > 0;

    /// <summary>Whether there is a step to do again.</summary>
    public bool CanRedo => _undone.Count > 0;

    /// <summary>The name of the step that undo would take back, or null.</summary>
    public string? UndoName => _done.Count > 0 ? _done[^1].Name : null;

    /// <summary>
    /// Takes the last step back. Where it no longer makes sense it is dropped, and refused with the reason.
    /// </summary>
    public Response Undo() => Do(ActKind.Undo);

    /// <summary>Does the last step that was taken back again.</summary>
    public Response Redo() => Do(ActKind.Redo);

    /// <summary>Told of each step instead of the list's own history, which then stays empty: for an app with a history of its own. It gets the step's name, and how to take it back and do it again.</summary>
    public Action<string, Action, Action>? History { get; set; }

    private void Keep(UndoStep step)
    {
        step.Stayed = [.. step.Keys.Select(k => IndexOf(k) >= 0)];
        if (History is { } history)
        {
            _kept.Add(step);
            history(step.Name, () => Run(_ => Replay(step, step.Undo, ActKind.Undo)), () => Run(_ => Replay(step, step.Redo, ActKind.Redo)));
            return;
        }
        _done.Add(step);
        _undone.Clear();
        if (_done.Count > Options.UndoDepth) _done.RemoveAt(0);
        TellHistory();
    }

    private readonly List<UndoStep> _kept = [];

    private void TellHistory()
    {
        _changedProperties.Add(nameof(CanUndo));
        _changedProperties.Add(nameof(CanRedo));
        _changedProperties.Add(nameof(UndoName));
    }

    private Response Replay(UndoStep step, Func<UndoStep, Refusal?>? way, ActKind kind)
    {
        var act = new Act(kind, -1, "call", step.Name);
        if (way is null) return Refuse(act, new(RefusalKind.OutOfDate, $"'{step.Name}' cannot be {(kind == ActKind.Undo ? "taken back" : "done again")}."));
        if (way(step) is { } refusal) return Refuse(act, refusal);
        TraceAct(act, null);
        return Response.Handled;
    }

    private Response Undo(Act act)
    {
        var (from, to) = act.Kind == ActKind.Undo ? (_done, _undone) : (_undone, _done);
        if (from.Count == 0) return Refuse(act, new(RefusalKind.NoItem, act.Kind == ActKind.Undo ? "There is nothing to take back." : "There is nothing to do again."));
        var step = from[^1];
        from.RemoveAt(from.Count - 1);
        if (_noticeStep == step) HideNotice();
        TellHistory();
        var refusal = (act.Kind == ActKind.Undo ? step.Undo : step.Redo)?.Invoke(step);
        if (step.Twin is { } twin) twin.List.RunAsGuest(() => twin.List.FollowTwin(twin.Step, act.Kind, refusal is null));
        if (refusal is not null) return Refuse(act, refusal);
        TraceAct(act with { Text = step.Name }, null);
        to.Add(step);
        Announce(act.Kind == ActKind.Undo ? Options.Phrases.Undone(step.Name) : Options.Phrases.Redone(step.Name));
        return Response.Handled;
    }

    /// <summary>A step was taken back, or done again, in the other list: it is here too.</summary>
    private void FollowTwin(UndoStep step, ActKind kind, bool done)
    {
        var (from, to) = kind == ActKind.Undo ? (_done, _undone) : (_undone, _done);
        if (from.Remove(step) && done) to.Add(step);
        TellHistory();
    }

    /// <summary>Carries the places of all steps through an edit.</summary>
    private void FollowHistory(Edit edit)
    {
        foreach (var step in _done.Concat(_undone).Concat(_kept).Concat(_runs.Select(r => r.Step)))
            for (var i = 0; i < step.Gaps.Length; i++) step.Gaps[i] = edit.Gap(step.Gaps[i]);
    }

    private UndoStep StepFor(Command<TItem, TKey> command, CommandTarget<TItem, TKey> target) => new()
    {
        Name = command.Label,
        Items = target.Items,
        Keys = target.Keys,
        Gaps = [.. target.Places],
        Undo = step => Invert(command, step),
        Redo = step => Again(command, step),
    };

    private Refusal? Invert(Command<TItem, TKey> command, UndoStep step)
    {
        var places = new int[step.Keys.Count];
        var back = 0;
        for (var i = 0; i < places.Length; i++)
        {
            var index = IndexOf(step.Keys[i]);
            if (index < 0 && step.Stayed[i]) return new(RefusalKind.OutOfDate, $"'{step.Name}' cannot be taken back: the item '{step.Keys[i]}' has left the list since.");
            if (index >= 0 && !step.Stayed[i]) return new(RefusalKind.OutOfDate, $"'{step.Name}' cannot be taken back: the item '{step.Keys[i]}' is in the list again already.");
            places[i] = index >= 0 ? index : step.Gaps[i] + back++;
        }
        var target = new CommandTarget<TItem, TKey>(step.Items, step.Keys, places);
        _events.Enqueue(() =>
        {
            try
            {
                command.Inverse!(target);
            }
#pragma warning disable CA1031 // The app's own exception: told as the command's.
            catch (Exception e)
#pragma warning restore CA1031
            {
                if (CommandFailed is null) throw new CommandException(command.Id, step.Keys.Count == 0 ? null : TextOf(step.Keys[0]), e);
                Raise(CommandFailed, new(command, target, e));
            }
        });
        return null;
    }

    private Refusal? Again(Command<TItem, TKey> command, UndoStep step)
    {
        foreach (var key in step.Keys)
            if (IndexOf(key) < 0) return new(RefusalKind.OutOfDate, $"'{step.Name}' cannot be done again: the item '{key}' has left the list since.");
        var items = ItemSet.Of(Count, step.Keys.Select(IndexOf));
        var target = command.Scope == CommandScope.List ? NoTarget : TargetOf(items);
        if ((AvailableRefusal(command, target) ?? RunningRefusal(command, target)) is { } refusal) return refusal;
        var run = new CommandRun { Command = command with { Inverse = null }, Target = target, Act = new(ActKind.Redo), Step = step };
        _runs.Add(run);
        _events.Enqueue(() => Start(run));
        return null;
    }
}
