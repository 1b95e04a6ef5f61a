using Lectica.Acts;
using Lectica.Items;
using Lectica.Marking;
using Lectica.Sources;
using Lectica.States;

namespace Lectica.Shell;

/// <summary>
/// What is done by a source itself: marks and moves of a paged list. It shows at once, and where the source will not have it the rows come
/// back and the user is told. What it has done is one step to take back.
/// </summary>
internal sealed class SourceActs<TItem, TKey>(Core core, Homecoming home, ItemStore<TItem, TKey> store, Pager<TItem, TKey> pager, Teller<TItem, TKey> teller, FeedbackKeeper feedback, Historian history)
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
        var meaning = pager.MeaningOf(items)!;
        var before = core.State.Marks;
        core.TraceAct(act);
        core.Commit(core.State with { Marks = before.With(mark.Name, value ? before.Sets[mark.Name].Union(items) : before.Sets[mark.Name].Except(items)) }, act, act.Rule);
        core.Announce(p => p.Marked(mark.Label ?? mark.Name, items.Count, value));
        Do(mark.Label ?? mark.Name, async () => await source.MarkAsync(mark.Name, await meaning.ConditionAsync(_end.Token).ConfigureAwait(false), value, _end.Token).ConfigureAwait(false), pager.ReadMarksAgain);
        return Response.Handled;
    }

    /// <summary>Why items cannot be put into a gap; null where they can.</summary>
    public Refusal? WhyNoMove(ItemSet items, GapPlace gap)
    {
        if (!store.Has(items)) return new(RefusalKind.NotRead, $"Of the {items.Count} items that are to be moved not all have been read.");
        var (above, below) = Neighbours(items, gap);
        return (above >= 0 && !store.Has(above)) || (below >= 0 && !store.Has(below)) ? new(RefusalKind.NotRead, "The rows beside the gap are still being read.") : null;
    }

    // The nearest that stay; -1 at the ends.
    private static (int Above, int Below) Neighbours(ItemSet items, GapPlace gap)
    {
        var stay = items.Complement();
        return (gap.Index > 0 ? stay.LastAt(gap.Index - 1) : -1, gap.Index < items.Universe ? stay.NextAt(gap.Index) : -1);
    }

    /// <summary>Moves items that have been read.</summary>
    public void Move(ItemSet items, GapPlace gap, string? section)
    {
        var source = (IMovingSource<TItem, TKey>)pager.Source!;
        var (above, below) = Neighbours(items, gap);
        Box<TItem>? At(int index) => index < 0 ? null : new(store.ItemAt(index));
        TItem[] moved = teller.ItemsOf(items);
        var (over, under) = (At(above), At(below));
        pager.MoveNow(Edit.Move(items, gap.Index), items, section);
        Do(core.Options.Phrases.Move, () => source.MoveAsync(moved, over, under, section, _end.Token), pager.Refresh);
    }

    private void Do(string name, Func<Task<SourceChange>> work, Action putRight)
    {
        pager.Hold();
        home.When(InOrder(work), done =>
        {
            pager.LetGo();
            if (Failed(done) is { } error) Fail(error, putRight);
            else if (done.Result.Undo is { } undo) history.Keep(new SourceStep(name, undo, done.Result.Redo, Turn));
        });
    }

    private Task _last = Task.CompletedTask;

    /// <summary>One after the other, as the user did them: of two moves of one item the later must be what is stored.</summary>
    private Task<T> InOrder<T>(Func<Task<T>> work)
    {
        var task = _last.IsCompleted ? Begin(work) : After(_last, work);
        _last = task;
        return task;
    }

    private static async Task<T> After<T>(Task before, Func<Task<T>> work)
    {
        // Whether that was stored or not is told by itself.
        await before.ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        return await work().ConfigureAwait(false);
    }

    private static Task<T> Begin<T>(Func<Task<T>> work)
    {
        try
        {
            return work();
        }
#pragma warning disable CA1031 // The source's own exception is how it ended.
        catch (Exception e)
#pragma warning restore CA1031
        {
            return Task.FromException<T>(e);
        }
    }

    private static Exception? Failed(Task task) => task.IsCompletedSuccessfully ? null : task.Exception?.InnerException ?? new OperationCanceledException("The source cancelled it.");

    private void Fail(Exception error, Action putRight)
    {
        core.Trace(() => new() { Stage = "change", T = core.Now, Change = "source-failed", Reason = error.Message });
        putRight();
        feedback.Notify(core.App.Ask(p => p.StoreFailed(error.Message), core.Options.Phrases, error.Message), null);
    }

    // Taken back or done again: the rows follow when the source says that it has changed.
    private void Turn(Func<CancellationToken, Task> work)
    {
        pager.Hold();
        home.When(InOrder(async () =>
        {
            await work(_end.Token).ConfigureAwait(false);
            return true;
        }), done =>
        {
            pager.LetGo();
            if (Failed(done) is { } error) Fail(error, pager.Refresh);
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

    private sealed class SourceStep(string name, Func<CancellationToken, Task> back, Func<CancellationToken, Task>? again, Action<Func<CancellationToken, Task>> turn) : UndoStep(name)
    {
        public override Refusal? Apply(ActKind kind, out UndoStep inverse)
        {
            inverse = this;
            if (again is null) return new(RefusalKind.OutOfDate, $"'{Name}' cannot be done again: the source does not say how.");
            turn(back);
            inverse = new SourceStep(Name, again, back, turn);
            return null;
        }
    }
}
