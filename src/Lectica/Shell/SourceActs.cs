using Lectica.Acts;
using Lectica.Commands;
using Lectica.Items;
using Lectica.Marking;
using Lectica.Sources;
using Lectica.States;
using Lectica.Tracing;

namespace Lectica.Shell;

/// <summary>
/// What is done by a source itself: marks and moves of a paged list. It shows at once, and where the source will not have it the rows come
/// back and the user is told. What it has done is one step to take back.
/// </summary>
internal sealed class SourceActs<TItem, TKey>(Core core, Homecoming home, ItemStore<TItem, TKey> store, Pager<TItem, TKey> pager,
    Teller<TItem, TKey> teller, Asker<TItem, TKey> asker, FeedbackKeeper feedback, Historian history)
    : IDisposable where TKey : notnull
{
    private readonly CancellationTokenSource _end = new();
    private bool _isOver;

    /// <summary>Whether the source stores marks.</summary>
    public bool Marks => pager.Source is IMarkingSource<TItem, TKey>;

    /// <summary>Whether items can be put elsewhere in the source's order.</summary>
    public bool Moves => pager.Source is IMovingSource<TItem, TKey>;

    /// <summary>Puts a mark on or off for items that have been read or not.</summary>
    public Response SetMark(Act act, Mark<TItem> mark, ItemSet items, bool value)
    {
        var source = (IMarkingSource<TItem, TKey>)pager.Source!;
        if (store.Has(items) || !asker.IsHeard) return SetMark(act, mark, items, value, pager.MeaningOf(items)!);
        var target = teller.TargetOf(items);
        var question =
            core.App.Ask(p => p.AskUnseen(p.Marked(mark.Label ?? mark.Name, items.Count, value), items.Count <= source.MostTakenBack),
            core.Options.Phrases, mark.Name);
        return asker.Ask(act, new(target, question, Mark: mark.Name), $"The mark '{mark.Name}' was not confirmed.",
            still => pager.Source == source ? SetMark(act, mark, still, value, target.Meaning!)
                : core.Refuse(act, new(RefusalKind.OutOfDate, "The list shows another source by now.")));
    }

    private Response SetMark(Act act, Mark<TItem> mark, ItemSet items, bool value, ITargetMeaning<TItem, TKey> meaning)
    {
        var source = (IMarkingSource<TItem, TKey>)pager.Source!;
        var shown = new ShownMark(core, mark.Name, items, value);
        core.TraceAct(act);
        shown.Show(true, act, act.Rule);
        core.Announce(p => p.Marked(mark.Label ?? mark.Name, items.Count, value));
        var isUnseen = !store.Has(items);
        Do(mark.Label ?? mark.Name,
            async () => await source.MarkAsync(mark.Name, await meaning.ConditionAsync(_end.Token).ConfigureAwait(false), value, _end.Token)
                .ConfigureAwait(false), isDone =>
            {
                shown.Show(isDone, null, "undo");
                if (!isDone) pager.ReadMarksAgain();
            },
            // Of rows that nobody sees it is said how many they were, by whoever counted them.
            isUnseen ? (change, step) =>
                feedback.Notify(core.App.Ask(p => p.Marked(mark.Label ?? mark.Name, change.Count, value), core.Options.Phrases, mark.Name),
                step, isSaid: change.Count == items.Count) : null);
        return Response.Handled;
    }

    /// <summary>Why items cannot be put into a gap; null where they can.</summary>
    public Refusal? WhyNoMove(ItemSet items, Gap gap)
    {
        if (!store.Has(items)) return new(RefusalKind.NotRead, $"Of the {items.Count} items that are to be moved not all have been read.");
        var (above, below) = Neighbours(items, gap);
        return (above >= 0 && !store.Has(above)) || (below >= 0 && !store.Has(below))
            ? new(RefusalKind.NotRead, "The rows beside the gap are still being read.") : null;
    }

    // The nearest that stay; -1 at the ends.
    private static (int Above, int Below) Neighbours(ItemSet items, Gap gap)
    {
        var stay = items.Complement();
        return (gap.Index > 0 ? stay.LastAt(gap.Index - 1) : -1, gap.Index < items.Universe ? stay.NextAt(gap.Index) : -1);
    }

    /// <summary>Moves items that have been read.</summary>
    /// <param name="items">The items.</param>
    /// <param name="gap">Where to.</param>
    /// <param name="section">The section that they come into, or null.</param>
    /// <param name="stored">Told when the source has stored it, where it can be taken back.</param>
    public void Move(ItemSet items, Gap gap, string? section, Action<UndoStep> stored)
    {
        var source = (IMovingSource<TItem, TKey>)pager.Source!;
        var (above, below) = Neighbours(items, gap);
        Box<TItem>? At(int index) => index < 0 ? null : new(store.ItemAt(index));
        TItem[] moved = teller.ItemsOf(items);
        var (over, under) = (At(above), At(below));
        pager.MoveNow(Edit.Move(items, gap.Index), items, section);
        Do(core.Options.Phrases.Move, () => source.MoveAsync(moved, over, under, section, _end.Token), null, (_, step) =>
        {
            if (step is not null) stored(step);
        });
    }

    /// <summary>Has the source do something.</summary>
    /// <param name="name">What it is called, to undo it.</param>
    /// <param name="work">What the source does.</param>
    /// <param name="show">Shows it as done, or as not done; null where the source is asked again instead.</param>
    /// <param name="done">Told when it has been stored.</param>
    private void Do(string name, Func<Task<SourceChange>> work, Action<bool>? show, Action<SourceChange, UndoStep?>? done = null)
    {
        pager.Hold();
        home.When(InOrder(work), ended =>
        {
            pager.LetGo();
            if (Failed(ended) is { } error)
            {
                Fail(error, show, false);
                return;
            }
            var step = ended.Result.Undo is { } undo
                ? new SourceStep(name, undo, ended.Result.Redo, (work, isDone) => Turn(work, show, isDone)) : null;
            if (step is not null) history.Keep(step);
            done?.Invoke(ended.Result, step);
        });
    }

    private Task _last = Task.CompletedTask;

    /// <summary>One after the other, as the user did them: of two moves of one item the later must be what is stored.</summary>
    private Task<T> InOrder<T>(Func<Task<T>> work)
    {
        var task = _last.IsCompleted ? Attempt.Begin(work) : After(_last, work);
        _last = task;
        return task;
    }

    private static async Task<T> After<T>(Task before, Func<Task<T>> work)
    {
        // Whether that was stored or not is told by itself.
        await before.ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        return await work().ConfigureAwait(false);
    }

    private static Exception? Failed(Task task) =>
        task.IsCompletedSuccessfully ? null : task.Exception?.InnerException ?? new OperationCanceledException("The source cancelled it.");

    private void Fail(Exception error, Action<bool>? show, bool isDone)
    {
        core.Trace(() => new TracedChange { T = core.Now, Change = "source-failed", Reason = error.Message });
        if (show is null) pager.Refresh();
        else show(isDone);
        feedback.Notify(core.App.Ask(p => p.StoreFailed(error.Message), core.Options.Phrases, error.Message), null);
    }

    // Taken back or done again. A mark shows that at once; rows that come from elsewhere follow when the source says that it has changed.
    private void Turn(Func<CancellationToken, Task> work, Action<bool>? show, bool isDone)
    {
        show?.Invoke(isDone);
        pager.Hold();
        home.When(InOrder(async () =>
        {
            await work(_end.Token).ConfigureAwait(false);
            return true;
        }), done =>
        {
            pager.LetGo();
            if (Failed(done) is { } error) Fail(error, show, !isDone);
        });
    }

    /// <summary>Asks what goes on to stop.</summary>
    public void Dispose()
    {
        if (_isOver) return;
        _isOver = true;
        _ = core.App.Try(_end.Cancel, why => why);
        _end.Dispose();
    }

    /// <summary>A mark of items as it shows, also of those that have not been read: on or off, or what it was before.</summary>
    private sealed class ShownMark(Core core, string name, ItemSet items, bool value)
    {
        // As of the last time that it was shown: no moment is held for longer than undo holds one.
        private (EditLog Moment, ItemSet Items, ItemSet Had) _known = (core.Moment, items, core.State.Marks.Sets[name].Intersect(items));

        public void Show(bool isDone, Act? act, string cause)
        {
            if (!core.State.Marks.Sets.TryGetValue(name, out var now)) return;
            _known = (core.Moment, _known.Moment.Carry(_known.Items), _known.Moment.Carry(_known.Had));
            var set = now.Except(_known.Items);
            if (!isDone) set = set.Union(_known.Had);
            else if (value) set = now.Union(_known.Items);
            core.Commit(core.State with { Marks = core.State.Marks.With(name, set) }, act, cause);
        }
    }

    private sealed class SourceStep(string name, Func<CancellationToken, Task> back, Func<CancellationToken, Task>? again,
        Action<Func<CancellationToken, Task>, bool> turn, bool isDone = true) : UndoStep(name)
    {
        public override Refusal? Apply(ActKind kind, out UndoStep inverse)
        {
            inverse = this;
            if (again is null) return new(RefusalKind.OutOfDate, $"'{Name}' cannot be done again: the source does not say how.");
            turn(back, !isDone);
            inverse = new SourceStep(Name, again, back, turn, !isDone);
            return null;
        }
    }
}
