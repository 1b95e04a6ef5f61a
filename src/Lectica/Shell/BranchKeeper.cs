using Lectica.Acts;
using Lectica.Items;
using Lectica.Selecting;
using Lectica.States;
using Lectica.Tracing;

namespace Lectica.Shell;

/// <summary>What is done to branches of an outline: collapsed, expanded, selected; and what lies below an item read.</summary>
internal sealed class BranchKeeper<TItem, TKey>(
    Core core, ItemStore<TItem, TKey> store, Arranger<TItem, TKey> arranger, Source<TItem, TKey> source, Projection<TItem, TKey> projection,
        Actor actor, Scroller scroller, Framer<TItem, TKey> framer, Homecoming home)
    : IDisposable where TKey : notnull
{
    private CancellationTokenSource? _ends;

    private Branching? Branching => core.State.Showing.Branching;

    private static Refusal NoLevels { get; } = new(RefusalKind.NotAvailable, "The list has no levels: it is not an outline.");

    private string NameOf(int index) => framer.ContentAt(index).Label;

    /// <summary>Collapses the branch of an item, or expands it.</summary>
    public Response CollapseOrExpand(Act act)
    {
        if (Branching is not { } branching) return core.Refuse(act, NoLevels);
        if (actor.WhyNot(ActKind.MoveCursor, act.Index) is { } why) return core.Refuse(act, why);
        if (!branching.IsBranch(act.Index))
            return core.Refuse(act, new(RefusalKind.NoItem, $"Nothing lies below the item '{core.KeyText(act.Index)}'."));
        return Fold(act, act.Index, !branching.Folded.Contains(act.Index));
    }

    private Response Fold(Act act, int index, bool folded)
    {
        core.TraceAct(act);
        Put(Branching!.Fold(index, folded), act);
        core.Trace(() => new TracedChange
        {
            T = core.Now,
            Change = folded ? "collapsed" : "expanded",
            Key = core.KeyText(index),
            Index = index,
        });
        var label = core.Announced is null ? "" : NameOf(index);
        var children = Branching!.Levels.Children(index).Count(core.Rows.Shown.Contains);
        if (!folded && Branching.Unread.Contains(index)) ReadBelow(index);
        else core.Announce(p => folded ? p.BranchCollapsed(label) : p.BranchExpanded(label, children));
        return Response.Handled;
    }

    // The cursor does not vanish with its row: it goes to the branch that hides it.
    private void Put(Branching next, Act act)
    {
        var selection = core.Selection;
        if (selection.Cursor >= 0 && !next.Visible.Contains(selection.Cursor) && core.Rows.RowOf(selection.Cursor) is not null)
            selection = selection with { Cursor = next.Visible.LastAt(selection.Cursor) };
        core.Commit(core.State with { Showing = core.State.Showing with { Branching = next }, Selection = selection }, act, act.Rule);
    }

    /// <summary>Collapses or expands all branches.</summary>
    public Response FoldAll(bool folded)
    {
        var act = new Act(ActKind.CollapseOrExpand);
        if (Branching is not { } branching) return core.Refuse(act, NoLevels);
        core.TraceAct(act);
        // What must first be read is not read all at once.
        Put(branching.WithFolded(folded ? branching.Branches : branching.Unread.Except(branching.Levels.Branches)), act);
        core.Announce(p => folded ? p.AllCollapsed : p.AllExpanded);
        return Response.Handled;
    }

    /// <summary>Expands all that an item lies in, so that it has a row.</summary>
    public void Reveal(int index)
    {
        if (Branching is { } branching && !branching.Visible.Contains(index)) Put(branching.Opened(index), new(ActKind.CollapseOrExpand));
    }

    /// <summary>Expands a branch, or goes to its first child.</summary>
    public Response GoInward(ActCall call)
    {
        if (Stay(call.Act, out var at) is { } refused) return refused;
        var branching = Branching!;
        if (!branching.IsBranch(at))
            return core.Refuse(call.Act, new(RefusalKind.NoItem, $"Nothing lies below the item '{core.KeyText(at)}'."));
        if (branching.Folded.Contains(at)) return Fold(call.Act, at, false);
        return branching.Visible.NextAt(at + 1) is var child && child > at && child < branching.Levels.EndOf(at) ? GoTo(call.Act, child)
            : Response.Handled;
    }

    /// <summary>Collapses a branch, or goes to the item that it lies below.</summary>
    public Response GoOutward(ActCall call)
    {
        if (Stay(call.Act, out var at) is { } refused) return refused;
        var branching = Branching!;
        if (branching.IsBranch(at) && !branching.Folded.Contains(at)) return Fold(call.Act, at, true);
        return branching.Levels.ParentOf(at) is >= 0 and var parent ? GoTo(call.Act, parent)
            : core.Refuse(call.Act, new(RefusalKind.NoItem, $"The item '{core.KeyText(at)}' is on the first level."));
    }

    private Response? Stay(Act act, out int at)
    {
        at = core.Selection.Cursor;
        if (Branching is null) return core.Refuse(act, NoLevels);
        return actor.WhyNot(ActKind.MoveCursor, at) is { } why ? core.Refuse(act, why) : null;
    }

    private Response GoTo(Act act, int index)
    {
        var selects = core.Options.Keys.MovingSelects && core.Options.Policy.Selects && core.Rules.WhyBarred(index) is null;
        var response = actor.Do(act with { Kind = selects ? ActKind.Select : ActKind.MoveCursor, Index = index });
        scroller.BringIntoView(index);
        return response;
    }

    /// <summary>Selects an item and all that is below it, or takes them out where all are in.</summary>
    public Response ToggleBranch(ActCall call)
    {
        var act = call.Act;
        if (Branching is not { } branching) return core.Refuse(act, NoLevels);
        if (actor.WhyNot(ActKind.MoveCursor, act.Index) is { } why) return core.Refuse(act, why);
        var branch = ItemSet.None(store.Count).WithRange(act.Index, branching.Levels.EndOf(act.Index) - act.Index);
        var outcome = Selector.ToggleSome(core.Selection, branch, core.Rules);
        if (outcome.Refusal is null) outcome = new(outcome.Selection with { Cursor = act.Index, Anchor = act.Index }, null);
        return actor.Become(outcome, act, act.Rule);
    }

    // ── What lies below, read when it is asked for ──

    private void ReadBelow(int index)
    {
        if (Branching is not { } branching || branching.Reading.Contains(index)) return;
        var (item, key) = (store.ItemAt(index), store.KeptKeyAt(index));
        var label = core.Announced is null ? "" : NameOf(index);
        Put(branching with { Reading = branching.Reading.With(index), Failed = branching.Failed.With(index, false) },
            new(ActKind.CollapseOrExpand));
        core.Announce(p => p.BranchLoading(label));
        core.Out.Later(() =>
        {
            var task = Attempt.Begin(
                () => arranger.Outline?.ReadBelow is { } read ? read(item, (_ends ??= new()).Token) : Task.CompletedTask);
            home.When(Ended(task), done => Take(key, label, done.Result));
        });
    }

    private static async Task<Exception?> Ended(Task task)
    {
        await Task.WhenAny(task).ConfigureAwait(false);
        return task.IsCanceled ? new OperationCanceledException() : task.Exception?.InnerException;
    }

    private void Take(TKey key, string label, Exception? error)
    {
        if (Branching is null || store.IndexOfKept(key) is not (>= 0 and var index)) return;
        if (error is null)
        {
            source.ReadBelow(index);
            projection.Reconsider(ItemSet.None(store.Count).With(index), lingers: false);
        }
        index = store.IndexOfKept(key);
        if (index < 0 || Branching is not { } branching) return;
        var next = branching with
        {
            Reading = branching.Reading.With(index, false),
            Failed = branching.Failed.With(index, error is not null),
        };
        // Expanding it again reads again.
        var isRead = error is null && !branching.Unread.Contains(index);
        if (!isRead) next = next.Fold(index, folded: true);
        Put(next, new(ActKind.CollapseOrExpand, Rule: "read"));
        core.Trace(() => new TracedChange
        {
            T = core.Now,
            Change = error is null ? "read-below" : "read-below-failed",
            Key = core.KeyText(index),
            Index = index,
            Reason = error?.Message,
        });
        core.Announce(p => error is null ? p.BranchExpanded(label, next.Levels.Children(index).Count()) : p.BranchFailed(label));
    }

    public void Dispose()
    {
        // What is being read is not wanted any more; its callbacks are the app's.
        if (_ends is { } ends) _ = core.App.Try(ends.Cancel, why => why);
        _ends?.Dispose();
        _ends = null;
    }
}
