using System.Collections.Concurrent;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Items;
using Lectica.States;
using Lectica.Tracing;

namespace Lectica.Shell;

/// <summary>Told when a command is over: a row that was swiped through comes back where it stays.</summary>
internal interface IRunWatcher
{
    void RunEnded(bool failed);
}

/// <summary>What may change much in one go, and is looked at when that is over.</summary>
internal interface IBulk
{
    void BeginBulk();

    void EndBulk();
}

/// <summary>Runs commands: asks first where that is wished, tells what came of them, and keeps what can be taken back.</summary>
internal sealed class CommandRunner<TItem, TKey>(
    Core core, Turns turns, ItemStore<TItem, TKey> store, CommandBook<TItem, TKey> book, Teller<TItem, TKey> teller,
        Marker<TItem, TKey> marker, Asker<TItem, TKey> asker, Events<TItem, TKey> events)
    where TKey : notnull
{
    private readonly ConcurrentQueue<Action> _arrived = new();

    /// <summary>A run that is not over.</summary>
    internal sealed class Run
    {
        public required Command<TItem, TKey> Command { get; init; }

        public required CommandTarget<TItem, TKey> Target { get; init; }

        /// <summary>What takes it back: by its inverse or, where it has none, by what it has had the list do.</summary>
        public required UndoStep? Step { get; set; }

        /// <summary>The step that this run does again; null of a run of the user's.</summary>
        public bool IsAgain { get; init; }

        public CancellationTokenSource Cancel { get; } = new();

        /// <summary>How much of it is done, as was last told from any thread; not a number where that is not known.</summary>
        public double Told = double.NaN;

        /// <summary>Whether that was told since the list last looked.</summary>
        public volatile bool HasTold;
    }

    private sealed class Reporter(Run run, Turns turns) : IProgress<double>
    {
        public void Report(double value)
        {
            Volatile.Write(ref run.Told, value);
            run.HasTold = true;
            turns.CallHome();
        }
    }

    /// <summary>Keeps what can be taken back.</summary>
    public Historian History { get; set; } = null!;

    /// <summary>Shows a brief notice, which may offer to take a step back or to try again.</summary>
    public Action<string, UndoStep?, Retrial?> Notify { get; set; } = (_, _, _) => { };

    /// <summary>The source, which commands change.</summary>
    public IBulk Source { get; set; } = null!;

    /// <summary>Told when a run is over.</summary>
    public IRunWatcher Watcher { get; set; } = null!;

    internal Marker<TItem, TKey> Marker => marker;

    /// <summary>The runs that are not over.</summary>
    public IEnumerable<Run> Runs => core.State.Runs.Select(r => (Run)r.Token);

    public Response RunFor(string id, ItemSet items, string rule)
    {
        if (book.CancelledBy(id) is { } stopped) return Cancel(stopped, items);
        var act = new Act(ActKind.RunCommand, items.IsEmpty ? -1 : items.Nth(0), rule, id);
        return book.Find(id) is { } command ? RunFor(command, items, act) : core.Refuse(act, book.NoCommand(id));
    }

    public Response RunFor(Command<TItem, TKey> command, ItemSet items, Act act)
    {
        if (book.WhyNot(command, items, out var target) is { } refusal) return core.Refuse(act, refusal);
        if (command.Question is null && (store.Has(target.Set) || !asker.IsHeard)) return Begin(command, target, act);
        if (!asker.IsHeard) return core.Refuse(act, NobodyAnswers(command));
        // What has not been read cannot be brought back.
        var question =
            core.App.Ask(p => p.AskUnseen($"{command.Label}: {p.Items(target.Count)}", false), core.Options.Phrases, command.Label);
        if (command.Question is { } ask
            && core.App.Try(() => ask(target), out question, why =>
            $"The question of the command '{command.Id}' threw: {why}") is { } threw) return core.Refuse(act, threw);
        return asker.Ask(act, new(target, question!, Command: command), $"The command '{command.Id}' was not confirmed.",
            still => book.WhyBusy(command, still) is { } busy ? core.Refuse(act, busy) : Begin(command, target, act, still));
    }

    private Response Begin(Command<TItem, TKey> command, CommandTarget<TItem, TKey> target, Act act, ItemSet? still = null)
    {
        // A key that cannot be told is told before anything runs.
        var step = command.Inverse is null || !store.Has(still ?? target.Set) ? null
            : core.App.Ask(() => CommandStep<TItem, TKey>.Of(this, core, store, command, target, still ?? target.Set));
        core.TraceAct(act);
        Begin(command, target, still ?? target.Set, step, false);
        return Response.Handled;
    }

    /// <summary>Why a command would not run for items.</summary>
    public Refusal? WhyNotRun(string id, ItemSet items) => book.Find(id) is not { } command ? book.NoCommand(id)
        : book.WhyNot(command, items, out _)
        ?? (command.Question is not null && !asker.IsHeard ? NobodyAnswers(command) : null);

    private static Refusal NobodyAnswers(Command<TItem, TKey> command) =>
        new(RefusalKind.NotAvailable,
        $"The command '{command.Id}' asks before it runs, and nobody answers: nothing listens to ConfirmationRequested.");

    /// <summary>Why a command cannot be done to items.</summary>
    internal Refusal? WhyNot(Command<TItem, TKey> command, ItemSet items, out CommandTarget<TItem, TKey> target) =>
        book.WhyNot(command, items, out target);

    /// <summary>Has a command run as an event: what it asks of the list, or does to the source, is done as by any handler.</summary>
    internal void Begin(
        Command<TItem, TKey> command, CommandTarget<TItem, TKey> target, ItemSet items, CommandStep<TItem, TKey>? step, bool again)
    {
        var run = new Run { Command = command, Target = teller.Hold(target), Step = step, IsAgain = again };
        target.Progress = new Reporter(run, turns);
        var isWhole = command.Scope == CommandScope.List;
        core.Commit(core.State with
        {
            Runs = core.State.Runs.Add(new(command.Id, isWhole, isWhole ? ItemSet.None(core.State.Count) : items, command.Label, run)),
        });
        core.Out.Later(() => Start(run));
    }

    // What the app does to the source in one call is one change, and what it asks of the list is part of it. That comes after the call.
    private T AsOne<T>(string name, Func<T> call, bool keeps, Action<UndoStep?>? ended = null)
    {
        var parts = History.Begin(keeps);
        try
        {
            teller.BeginGathering();
            Source.BeginBulk();
            var result = call();
            Source.EndBulk();
            if (!turns.IsDisposed) turns.LateChanges();
            teller.EndGathering();
            return result;
        }
        finally
        {
            turns.Next(() =>
            {
                var step = History.End(parts, name);
                ended?.Invoke(step);
            });
        }
    }

    private void Start(Run run)
    {
        // An inverse says how all of it is taken back.
        var task = AsOne(run.Command.Label, () => Attempt.Begin(() => run.Command.Run(run.Target, run.Cancel.Token)),
            run.Command.Inverse is null, step => run.Step ??= step);
        if (turns.IsDisposed) return;
        // After what it has asked of the list meanwhile, such as to show other items: that is part of what it did.
        if (task.IsCompleted)
        {
            turns.Next(() => Finish(run, task));
            return;
        }
        core.Announce(p => p.CommandBegan(run.Command.Label, run.Target.Count));
        task.ContinueWith(done =>
        {
            _arrived.Enqueue(() => Finish(run, done));
            turns.CallHome();
        }, CancellationToken.None, TaskContinuationOptions.ExecuteSynchronously, TaskScheduler.Default);
    }

    /// <summary>Takes how far commands have come, and tells of those that have ended meanwhile, elsewhere.</summary>
    public void TakeArrived()
    {
        // At each turn: where nothing runs it costs nothing.
        if (core.State.Runs.IsEmpty) return;
        foreach (var slot in core.State.Runs)
        {
            var run = (Run)slot.Token;
            if (!run.HasTold) continue;
            run.HasTold = false;
            double? progress = Volatile.Read(ref run.Told) is var told && double.IsNaN(told) ? null : Math.Clamp(told, 0, 1);
            if (progress == slot.Progress) continue;
            core.Commit(core.State with { Runs = core.State.Runs.Replace(slot, slot with { Progress = progress }) });
            // Of each quarter once: not at every report.
            if (progress is { } now && now < 1 && (int)(now * 4) > (int)((slot.Progress ?? 0) * 4))
                core.Announce(p => p.CommandProgress(slot.Label, (int)(now * 100)));
        }
        while (_arrived.TryDequeue(out var finish)) finish();
    }

    private void Finish(Run run, Task<CommandResult> task)
    {
        if (core.State.Runs.Find(r => r.Token == run) is not { } slot) return;
        var error = task.IsCompletedSuccessfully || task.IsCanceled ? null : task.Exception!.InnerException ?? task.Exception;
        // Whoever was asked to stop, and says so, has not failed.
        var isCancelled = task.IsCanceled || (error is OperationCanceledException && run.Cancel.IsCancellationRequested);
        var result = task.IsCompletedSuccessfully ? task.Result : default;
        var command = run.Command;
        teller.LetGo(run.Target);
        core.Commit(core.State with { Runs = core.State.Runs.Remove(slot) });
        // It is over, whatever fails in the telling: there is no way back to where it was not.
        core.Save();
        run.Cancel.Dispose();
        var step = run.Step as CommandStep<TItem, TKey>;
        step?.Settle();
        core.Trace(() => new TracedChange
        {
            T = core.Now,
            Change = isCancelled ? "command-cancelled" : error is null ? "command" : "command-failed",
            Part = "command:" + command.Id,
            Moved = core.App.Ask(
                t => (IReadOnlyList<string>)[.. t.KeysRead(store.Has).Take(Words.Keys).Select(store.TextOf)], run.Target, []),
            Reason = isCancelled ? null : error?.Message ?? (result.IsHandled ? $"done to {result.Count}" : "not handled"),
        });
        Watcher.RunEnded(error is not null || isCancelled);
        if (error is not null || isCancelled)
        {
            if (isCancelled)
            {
                core.Announce(p => p.CommandCancelled(command.Label));
                core.Out.Raise(events.CommandCancelled, new(command, run.Target));
            }
            else Fail(command, run.Target, error!, run.IsAgain ? null : new(command.Id, slot.IsWhole, slot.Items));
            if (run.IsAgain) History.Revert(run.Step!);
            return;
        }
        if (result.IsHandled && !run.IsAgain && step is not null) History.Keep(step);
        core.Out.Raise(events.CommandRan, new(command, run.Target, result));
        if (!result.IsHandled || command.Notice is not { } notice) return;
        var text = core.App.Ask(t => notice(t), run.Target, "");
        if (text.Length > 0) Notify(text, run.IsAgain ? null : run.Step, null);
    }

    /// <summary>
    /// Tells of an exception of the app's, to users by a notice; where the app does not listen it comes out of the call as well.
    /// </summary>
    internal void Fail(Command<TItem, TKey> command, CommandTarget<TItem, TKey> target, Exception error, Retrial? retrial)
    {
        var args = new CommandFailedEventArgs<TItem, TKey>(command, target, error)
        {
            Notice = core.App.Ask(p => p.CommandFailed(command.Label), core.Options.Phrases, ""),
        };
        if (events.CommandFailed is { } handlers) core.Out.Raise(handlers, args);
        core.Out.Later(() =>
        {
            if (args.Notice is { Length: > 0 } text)
                Notify(text, null, retrial is { IsWhole: false, Items.IsEmpty: true } ? null : retrial);
        });
        if (events.CommandFailed is null)
            core.Out.Fail(
                new CommandException(command.Id, target.KeysRead(store.Has) is [var first, ..] ? store.TextOf(first) : null, error));
    }

    /// <summary>Runs a command that failed again, on what is left of its items; it is not asked about again.</summary>
    public Response Retry(Retrial retrial)
    {
        var act = new Act(ActKind.RunCommand, retrial.Items.IsEmpty ? -1 : retrial.Items.Nth(0), "notice", retrial.Id);
        if (book.Find(retrial.Id) is not { } command) return core.Refuse(act, book.NoCommand(retrial.Id));
        return book.WhyNot(command, retrial.Items, out var target) is { } refusal ? core.Refuse(act, refusal) : Begin(command, target, act);
    }

    /// <summary>Asks the runs of a command to stop: those on some of these items, or all where null.</summary>
    public Response Cancel(string id, ItemSet? items)
    {
        var runs = core.State.Runs.FindAll(r => r.Id == id && (items is null || r.IsAt(items)));
        if (runs.IsEmpty)
            return core.Refuse(new(ActKind.RunCommand, Text: id), new(RefusalKind.NoItem,
                $"The command '{id}' is not " +
                    $"under way{(items is { IsEmpty: false } ? $" for the item '{core.KeyText(items.Nth(0))}'" : "")}."));
        foreach (var run in runs) Cancel(run);
        return Response.Handled;
    }

    private void Cancel(CommandRun slot)
    {
        if (core.State.Runs.Contains(slot))
            core.Commit(core.State with { Runs = core.State.Runs.Replace(slot, slot with { IsCancelled = true }) });
        // Its callbacks are the app's.
        if (core.App.Try(((Run)slot.Token).Cancel.Cancel, why => why) is { } refusal)
            core.Out.Fail(
                new CommandException(
                    slot.Id, null, new InvalidOperationException($"A callback of its cancellation threw: {refusal.Reason}")));
    }

    /// <summary>Asks the runs to stop. What their callbacks throw comes out when all have been asked.</summary>
    public void Cancel()
    {
        foreach (var run in core.State.Runs) Cancel(run);
    }

    /// <summary>Takes a command back: the inverse is given the items with the places at which they stand, or would.</summary>
    internal void Invert(
        Command<TItem, TKey> command, CommandTarget<TItem, TKey> target, IReadOnlyDictionary<string, TKey[]> marks, UndoStep again)
    {
        core.Out.Later(() =>
        {
            // What it asks of the list is no step of its own: it can be done again by doing the command again.
            var error = AsOne(command.Label, () =>
            {
                var threw = Attempt.Of(() => command.Inverse!(target));
                if (threw is not null && !turns.IsDisposed) Fail(command, target, threw, null);
                return threw;
            }, keeps: false);
            if (turns.IsDisposed) return;
            if (error is not null) History.Revert(again);
            else turns.Next(() =>
            {
                // Items without keys of their own are others to the list when they come back: they are known again by where they were put.
                for (var i = 0; i < target.Count && !store.HasOwnKeys; i++)
                    if (store.IndexOf(target.Keys[i]) < 0 && target.Indexes[i] < store.Count
                        && EqualityComparer<TItem>.Default.Equals(store.ItemAt(target.Indexes[i]), target.Items[i]))
                        store.CameBack(target.Keys[i], target.Indexes[i]);
                marker.PutAgain(marks);
            });
        });
    }
}
