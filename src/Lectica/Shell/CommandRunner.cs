using System.Collections.Concurrent;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Items;
using Lectica.States;

namespace Lectica.Shell;

/// <summary>Told when a command is over: a row that was swiped through comes back where it stays.</summary>
internal interface IRunWatcher
{
    void RunEnded(bool failed);
}

/// <summary>Runs commands: asks first where that is wished, tells what came of them, and keeps what can be taken back.</summary>
internal sealed class CommandRunner<TItem, TKey>(
    Core core, Steps steps, ItemStore<TItem, TKey> store, CommandBook<TItem, TKey> book, Teller<TItem, TKey> teller, Marker<TItem, TKey> marker, Events<TItem, TKey> events)
    where TKey : notnull
{
    private readonly ConcurrentQueue<Action> _arrived = new();

    /// <summary>A run that is not over.</summary>
    internal sealed class Run
    {
        public required Command<TItem, TKey> Command { get; init; }

        public required CommandTarget<TItem, TKey> Target { get; init; }

        public required CommandStep<TItem, TKey>? Step { get; init; }

        /// <summary>The step that this run does again; null of a run of the user's.</summary>
        public bool IsAgain { get; init; }

        public CancellationTokenSource Cancel { get; } = new();
    }

    /// <summary>Keeps a step for undo.</summary>
    public Action<UndoStep> Keep { get; set; } = _ => { };

    /// <summary>Shows a brief notice, which may offer to take a step back.</summary>
    public Action<string, UndoStep?> Notify { get; set; } = (_, _) => { };

    /// <summary>Puts a step that could not be done after all back to where it came from.</summary>
    public Action<UndoStep> Revert { get; set; } = _ => { };

    /// <summary>Told when a run is over.</summary>
    public IRunWatcher Watcher { get; set; } = null!;

    /// <summary>The marks that the list itself keeps.</summary>
    internal IEnumerable<string> KeptMarks => marker.Marks.Where(m => m.Get is null).Select(m => m.Name);

    /// <summary>The runs that are not over.</summary>
    public IEnumerable<Run> Runs => core.State.Runs.Select(r => (Run)r.Token);

    public Response RunFor(string id, ItemSet items, string rule)
    {
        var act = new Act(ActKind.RunCommand, items.IsEmpty ? -1 : items.Nth(0), rule, id);
        return book.Find(id) is { } command ? RunFor(command, items, act) : core.Refuse(act, book.NoCommand(id));
    }

    public Response RunFor(Command<TItem, TKey> command, ItemSet items, Act act)
    {
        if (book.WhyNot(command, items, out var target) is { } refusal) return core.Refuse(act, refusal);
        if (command.Question is not { } ask) return Begin(command, target, act);
        if (events.ConfirmationRequested is null)
            return core.Refuse(act, new(RefusalKind.NotAvailable, $"The command '{command.Id}' asks before it runs, and nobody answers: nothing listens to ConfirmationRequested."));
        if (core.App.Try(() => ask(target), out var question, why => $"The question of the command '{command.Id}' threw: {why}") is { } threw) return core.Refuse(act, threw);
        teller.Hold(target);
        var moment = core.Moment;
        var answered = false;
        core.Out.Raise(events.ConfirmationRequested, new(command, target, question!, yes =>
        {
            if (answered) return;
            answered = true;
            steps.Run(_ =>
            {
                teller.LetGo(target);
                if (!yes) return core.Refuse(act, new(RefusalKind.NotAvailable, $"The command '{command.Id}' was not confirmed."));
                var still = command.Scope == CommandScope.List ? target.Set : moment.Carry(target.Set);
                return book.WhyBusy(command, still) is { } busy ? core.Refuse(act, busy) : Begin(command, target, act, still);
            });
        }));
        return Response.Handled;
    }

    private Response Begin(Command<TItem, TKey> command, CommandTarget<TItem, TKey> target, Act act, ItemSet? still = null)
    {
        // A key that cannot be told is told before anything runs.
        var step = command.Inverse is null ? null : core.App.Ask(() => CommandStep<TItem, TKey>.Of(this, core, store, command, target, still ?? target.Set));
        core.TraceAct(act);
        Begin(command, target, still ?? target.Set, step, false);
        return Response.Handled;
    }

    /// <summary>Why a command cannot be done to items.</summary>
    internal Refusal? WhyNot(Command<TItem, TKey> command, ItemSet items, out CommandTarget<TItem, TKey> target) => book.WhyNot(command, items, out target);

    /// <summary>Has a command run as an event: what it asks of the list, or does to the source, is done as by any handler.</summary>
    internal void Begin(Command<TItem, TKey> command, CommandTarget<TItem, TKey> target, ItemSet items, CommandStep<TItem, TKey>? step, bool again)
    {
        var run = new Run { Command = command, Target = teller.Hold(target), Step = step, IsAgain = again };
        var isWhole = command.Scope == CommandScope.List;
        core.Commit(core.State with { Runs = core.State.Runs.Add(new(command.Id, isWhole, isWhole ? ItemSet.None(core.State.Count) : items, run)) });
        core.Out.Later(() => Start(run));
    }

    private void Start(Run run)
    {
        Task<CommandResult> task;
        // What it does to the source by the time that it returns is one change.
        teller.BeginGathering();
        try
        {
            task = run.Command.Run(run.Target, run.Cancel.Token) ?? throw new InvalidOperationException("It returned no task.");
        }
#pragma warning disable CA1031 // The app's own exception becomes an event; the list stays usable.
        catch (Exception e)
#pragma warning restore CA1031
        {
            task = Task.FromException<CommandResult>(e);
        }
        finally
        {
            // Items that changed meanwhile belong to it too.
            if (!steps.IsDisposed) steps.LateChanges();
            teller.EndGathering();
        }
        if (steps.IsDisposed) return;
        // After what it has asked of the list meanwhile, such as to show other items: that is part of what it did.
        if (task.IsCompleted) steps.Next(() => Finish(run, task));
        else task.ContinueWith(done =>
        {
            _arrived.Enqueue(() => Finish(run, done));
            // A list that belongs to a bare thread looks for it at its next call.
            steps.Post(() => { });
        }, CancellationToken.None, TaskContinuationOptions.ExecuteSynchronously, TaskScheduler.Default);
    }

    /// <summary>Tells of commands that have ended meanwhile, elsewhere.</summary>
    public void TakeArrived()
    {
        while (_arrived.TryDequeue(out var finish)) finish();
    }

    private void Finish(Run run, Task<CommandResult> task)
    {
        if (core.State.Runs.Find(r => r.Token == run) is not { } slot) return;
        var error = task.IsCompletedSuccessfully ? null
            : task.IsCanceled ? new OperationCanceledException($"The command '{run.Command.Id}' was cancelled.") : task.Exception!.InnerException ?? task.Exception;
        var result = error is null ? task.Result : default;
        var command = run.Command;
        teller.LetGo(run.Target);
        core.Commit(core.State with { Runs = core.State.Runs.Remove(slot) });
        run.Cancel.Dispose();
        run.Step?.Settle();
        core.Trace(() => new()
        {
            Stage = "change",
            T = core.Now,
            Change = error is null ? "command" : "command-failed",
            Part = "command:" + command.Id,
            Moved = [.. run.Target.Keys.Take(Words.Keys).Select(store.TextOf)],
            Reason = error?.Message ?? (result.IsHandled ? $"done to {result.Count}" : "not handled"),
        });
        Watcher.RunEnded(error is not null);
        if (error is not null)
        {
            Fail(command, run.Target, error);
            if (run.IsAgain) Revert(run.Step!);
            return;
        }
        if (result.IsHandled && !run.IsAgain && run.Step is { } step) Keep(step);
        core.Out.Raise(events.CommandRan, new(command, run.Target, result));
        if (!result.IsHandled || command.Notice is not { } notice) return;
        var text = core.App.Ask(t => notice(t), run.Target, "");
        if (text.Length > 0) Notify(text, run.IsAgain ? null : run.Step);
    }

    /// <summary>Tells of an exception of the app's; where nobody listens it comes out of the call.</summary>
    internal void Fail(Command<TItem, TKey> command, CommandTarget<TItem, TKey> target, Exception error)
    {
        if (events.CommandFailed is { } handlers) core.Out.Raise(handlers, new(command, target, error));
        else if (error is not OperationCanceledException) core.Out.Fail(new CommandException(command.Id, target.Count == 0 ? null : store.TextOf(target.Keys[0]), error));
    }

    /// <summary>Asks the runs to stop. What their callbacks throw comes out when all have been asked.</summary>
    public void Cancel()
    {
        foreach (var run in Runs.ToArray())
            if (core.App.Try(run.Cancel.Cancel, why => why) is { } refusal) core.Out.Fail(new CommandException(run.Command.Id, null, new InvalidOperationException($"A callback of its cancellation threw: {refusal.Reason}")));
    }

    /// <summary>Takes a command back: the inverse is given the items with the places at which they stand, or would.</summary>
    internal void Invert(Command<TItem, TKey> command, CommandTarget<TItem, TKey> target, IReadOnlyDictionary<string, TKey[]> marks, UndoStep again)
    {
        core.Out.Later(() =>
        {
            teller.BeginGathering();
            var failed = false;
            try
            {
                command.Inverse!(target);
            }
#pragma warning disable CA1031 // The app's own exception: told as the command's.
            catch (Exception e)
#pragma warning restore CA1031
            {
                failed = true;
                if (!steps.IsDisposed) Fail(command, target, e);
            }
            finally
            {
                if (!steps.IsDisposed) steps.LateChanges();
                teller.EndGathering();
            }
            if (steps.IsDisposed) return;
            if (failed) Revert(again);
            else steps.Next(() =>
            {
                // Items without keys of their own are others to the list when they come back: they are known again by where they were put.
                for (var i = 0; i < target.Count && !store.HasOwnKeys; i++)
                    if (store.IndexOf(target.Keys[i]) < 0 && target.Places[i] < store.Count && EqualityComparer<TItem>.Default.Equals(store.ItemAt(target.Places[i]), target.Items[i])) store.CameBack(target.Keys[i], target.Places[i]);
                // What came back has the marks again that the list itself keeps.
                foreach (var (name, keys) in marks)
                    if (marker.Marks.FirstOrDefault(m => m.Name == name && m.Get is null) is not null)
                        core.Commit(core.State with { Marks = core.State.Marks.With(name, core.State.Marks.Sets[name].Union(ItemSet.Of(store.Count, keys.Select(store.IndexOfKept).Where(i => i >= 0)))) }, cause: "undo");
            });
        });
    }
}

/// <summary>A command that was done, with the items that it was done to and the places where they were.</summary>
internal sealed class CommandStep<TItem, TKey> : UndoStep where TKey : notnull
{
    private readonly CommandRunner<TItem, TKey> _runner;
    private readonly Core _core;
    private readonly ItemStore<TItem, TKey> _store;
    private readonly Command<TItem, TKey> _command;
    private readonly IReadOnlyList<TItem> _items;
    private readonly ReturnPlaces<TItem, TKey> _places;
    private readonly Dictionary<string, TKey[]> _marks;
    private readonly TKey[] _keys;

    // Which of the items were still in the list when it was done.
    private bool[] _stayed = [];

    private CommandStep(
        CommandRunner<TItem, TKey> runner, Core core, ItemStore<TItem, TKey> store, Command<TItem, TKey> command, IReadOnlyList<TItem> items, TKey[] keys, ReturnPlaces<TItem, TKey> places,
        Dictionary<string, TKey[]> marks) : base(command.Label) => (_runner, _core, _store, _command, _items, _keys, _places, _marks) = (runner, core, store, command, items, keys, places, marks);

    public static CommandStep<TItem, TKey> Of(
        CommandRunner<TItem, TKey> runner, Core core, ItemStore<TItem, TKey> store, Command<TItem, TKey> command, CommandTarget<TItem, TKey> target, ItemSet items)
    {
        var marks = runner.KeptMarks.ToDictionary(m => m, m => (TKey[])[.. core.State.Marks.Sets[m].Intersect(items).Select(store.KeptKeyAt)]);
        var step = new CommandStep<TItem, TKey>(runner, core, store, command, target.Items, [.. target.Keys], ReturnPlaces<TItem, TKey>.Of(store, items, core.Moment), marks);
        step.Settle();
        return step;
    }

    /// <summary>The command is done: only those that are in the list now are where it would put them.</summary>
    public void Settle() => _stayed = [.. _keys.Select(k => _store.IndexOfKept(k) >= 0)];

    public override Refusal? Apply(ActKind kind, out UndoStep inverse)
    {
        inverse = this;
        for (var i = 0; i < _keys.Length; i++)
        {
            var isHere = _store.IndexOfKept(_keys[i]) >= 0;
            if (!isHere && _stayed[i]) return new(RefusalKind.OutOfDate, $"'{Name}' cannot be taken back: the item '{NameOf(_store, _items[i], _keys[i])}' has left the list since.");
            if (isHere && !_stayed[i]) return new(RefusalKind.OutOfDate, $"'{Name}' cannot be taken back: the item '{NameOf(_store, _items[i], _keys[i])}' is in the list again already.");
        }
        int[] gone = [.. Enumerable.Range(0, _keys.Length).Where(i => !_stayed[i])];
        var back = ReturnPlaces<TItem, TKey>.Indexes(_places.Gaps(gone, ItemSet.None(_store.Count)));
        var places = new int[_keys.Length];
        for (int i = 0, n = 0; i < places.Length; i++) places[i] = _stayed[i] ? _store.IndexOfKept(_keys[i]) : back[n++];
        var left = gone.Select(i => _keys[i]).ToHashSet();
        inverse = new CommandAgain<TItem, TKey>(_runner, _core, _store, _command, _items, _keys);
        _runner.Invert(_command, new(_items, _keys, places), _marks.ToDictionary(m => m.Key, m => (TKey[])[.. m.Value.Where(left.Contains)]), inverse);
        return null;
    }

    /// <summary>What an item is called: by its key, or where the list gave it that, by what it says of itself.</summary>
    public static string NameOf(ItemStore<TItem, TKey> store, TItem item, TKey key) => store.HasOwnKeys ? store.TextOf(key) : item?.ToString() ?? "";
}

/// <summary>A command that was taken back, and can be done again to the same items.</summary>
internal sealed class CommandAgain<TItem, TKey>(
    CommandRunner<TItem, TKey> runner, Core core, ItemStore<TItem, TKey> store, Command<TItem, TKey> command, IReadOnlyList<TItem> items, TKey[] keys)
    : UndoStep(command.Label) where TKey : notnull
{
    public override Refusal? Apply(ActKind kind, out UndoStep inverse)
    {
        inverse = this;
        for (var i = 0; i < keys.Length; i++)
            if (store.IndexOfKept(keys[i]) < 0)
                return new(RefusalKind.OutOfDate, $"'{Name}' cannot be done again: the item '{CommandStep<TItem, TKey>.NameOf(store, items[i], keys[i])}' has left the list since.");
        var set = ItemSet.Of(core.State.Count, keys.Select(store.IndexOfKept));
        var away = set.Except(core.Rules.Choosable);
        if (!away.IsEmpty && command.Scope == CommandScope.Items)
        {
            var shows = core.State.Showing.Shown.Contains(away.Nth(0));
            return new(shows ? RefusalKind.Disabled : RefusalKind.Hidden, $"'{Name}' cannot be done again now: the item '{core.KeyText(away.Nth(0))}' is {(shows ? "disabled" : "hidden by the filter")}.");
        }
        if (runner.WhyNot(command, set, out var target) is { } refusal) return refusal;
        var step = CommandStep<TItem, TKey>.Of(runner, core, store, command, target, set);
        runner.Begin(command, target, set, step, again: true);
        inverse = step;
        return null;
    }
}
