using System.Collections.ObjectModel;
using System.Runtime.InteropServices;
using Lectica.Acts;
using Lectica.Items;
using Lectica.States;

namespace Lectica.Shell;

/// <summary>
/// Moves branches in the app's source: items get another parent, or go to another list of children, and their place among those. All of it
/// is done, or nothing: what was written is put back, and a source that will not have that is read again.
/// </summary>
internal sealed class BranchWriter<TItem, TKey>(
    Core core, ItemStore<TItem, TKey> store, Arranger<TItem, TKey> arranger, Source<TItem, TKey> source, SourceWriter<TItem, TKey> writer,
        ItemWatcher<TItem, TKey> watcher, Teller<TItem, TKey> teller, Events<TItem, TKey> events) where TKey : notnull
{
    private Outline<TItem, TKey> Outline => arranger.Outline!;

    private Levels Levels => arranger.Levels;

    private IList<TItem> List => (IList<TItem>)source.Items!;

    /// <summary>Whether an item may come to lie below another one than it does.</summary>
    public bool MayChangeParent => events.MoveRequested is not null || Outline.ChildrenOf is not null || Outline.Assign is not null;

    /// <summary>Why items cannot lie below another; null where they can.</summary>
    /// <param name="tops">The topmost items of what moves.</param>
    /// <param name="parent">The item that they would lie below; -1 on the first level.</param>
    public Refusal? WhyNotBelow(ItemSet tops, int parent)
    {
        if (!MayChangeParent && tops.Any(t => Levels.ParentOf(t) != parent))
            return new(RefusalKind.NotAllowed,
                "Items cannot come to lie below another one: the outline has no Assign, and nothing listens to MoveRequested.");
        if (parent >= 0 && core.State.Showing.Branching!.Unread.Contains(parent))
            return new(RefusalKind.NotRead, $"What lies below the item '{core.KeyText(parent)}' has not been read yet: expand it first.");
        return Outline.ChildrenOf is not null && events.MoveRequested is null
            && (parent < 0 ? List : ChildrenOf(parent)) is null or { IsReadOnly: true }
            ? new(RefusalKind.NotAllowed, $"The item '{core.KeyText(parent)}' has no list of children that can be written.") : null;
    }

    /// <summary>The list that has what lies below an item, and the first level for -1; null where it cannot be told.</summary>
    public IList<TItem>? ListBelow(int parent) =>
        parent < 0 || Outline.ChildrenOf is null ? source.IsSnapshot ? null : source.Items as IList<TItem> : ChildrenOf(parent);

    private IList<TItem>? ChildrenOf(int index) => core.App.Ask(Outline.ChildrenOf!, store.ItemAt(index), null) as IList<TItem>;

    /// <summary>Moves branches, and takes everything through the edit.</summary>
    /// <param name="tops">Their topmost items.</param>
    /// <param name="gap">The gap in reading order, with the level that they land on.</param>
    /// <param name="act">The act.</param>
    /// <param name="written">Called when the source has taken the move, before anything is told of it.</param>
    public Refusal? Move(ItemSet tops, Gap gap, Act act, Action? written = null)
    {
        var moving = Levels.WithBelow(tops);
        var parent = core.Rows.ParentAt(gap, moving);
        using var held = source.Hold();
        if (source.IsAhead)
            return new(RefusalKind.OutOfDate,
                "The collection was changed on another thread at this very moment; nothing was moved. Try again.");
        var undone = new Stack<Action>();
        source.IsWriting = true;
        Refusal? failed;
        try
        {
            failed = core.App.Try(() =>
            {
                if (Outline.ChildrenOf is not null) WriteChildren(tops, parent, gap, moving, undone);
                else WriteParents(tops, parent, gap, moving, undone);
            }, why => $"The source did not take the move: {why}");
            if (failed is not null)
                while (undone.TryPop(out var back))
                    if (core.App.Try(back, why => why) is not null) undone.Clear();
        }
        finally
        {
            watcher.Written = null;
            source.IsWriting = false;
        }
        if (failed is not null)
        {
            source.ReadAgain();
            return failed;
        }
        written?.Invoke();
        var edit = Edit.Move(moving, gap.Index);
        core.HoldsScroll = true;
        try
        {
            arranger.Move(tops, gap.Index, gap.Level);
            source.Rearrange(edit);
        }
        finally
        {
            core.HoldsScroll = false;
        }
        var landed = edit.Apply(tops);
        writer.TellMoved(landed, null, null);
        source.IsReordered = true;
        teller.TellMoved(store.ItemsOf(landed), landed, null, act);
        return null;
    }

    private void WriteChildren(ItemSet tops, int parent, Gap gap, ItemSet moving, Stack<Action> undone)
    {
        var to = ListBelow(parent)
            ?? throw new InvalidOperationException($"the item '{core.KeyText(parent)}' has no list of children");
        var next = NextSibling(parent, gap, moving);
        foreach (var top in tops)
        {
            var item = store.ItemAt(top);
            var from = ListBelow(Levels.ParentOf(top))!;
            var at = IndexIn(from, item, top);
            from.RemoveAt(at);
            undone.Push(() => from.Insert(at, item));
            var place = next >= 0 ? IndexIn(to, store.ItemAt(next), next) : to.Count;
            to.Insert(place, item);
            undone.Push(() => to.RemoveAt(place));
        }
    }

    private int IndexIn(IList<TItem> list, TItem item, int index)
    {
        for (var i = 0; i < list.Count; i++)
            if (EqualityComparer<TItem>.Default.Equals(list[i], item)) return i;
        throw new InvalidOperationException(index < 0 ? "it has changed without saying so"
            : $"the item '{core.KeyText(index)}' is not where it was; it has changed without saying so");
    }

    // The child of a parent that comes after a gap and stays; -1 where there is none.
    private int NextSibling(int parent, Gap gap, ItemSet moving)
    {
        var end = parent < 0 ? store.Count : Levels.EndOf(parent);
        var next = gap.Index < store.Count ? moving.Complement().NextAt(gap.Index) : -1;
        return next >= 0 && next < end && Levels[next] == gap.Level ? next : -1;
    }

    private void WriteParents(ItemSet tops, int parent, Gap gap, ItemSet moving, Stack<Action> undone)
    {
        TItem? above = parent < 0 ? default : store.ItemAt(parent);
        foreach (var top in tops)
        {
            var old = Levels.ParentOf(top);
            if (old == parent) continue;
            var (item, before) = (store.ItemAt(top), old < 0 ? default : store.ItemAt(old));
            watcher.Written = item;
            Outline.Assign!(item, above);
            undone.Push(() =>
            {
                watcher.Written = item;
                Outline.Assign!(item, before);
            });
        }
        watcher.Written = null;
        WriteOrder(tops, parent, gap, moving, undone);
    }

    private void WriteOrder(ItemSet tops, int parent, Gap gap, ItemSet moving, Stack<Action> undone)
    {
        var list = List;
        var next = NextSibling(parent, gap, moving);
        // A source in reading order stays so.
        if (arranger.IsInOrder)
        {
            if (list.Count != store.Count) throw new InvalidOperationException("it has changed without saying so; call Refresh");
            if (list is List<TItem> plain)
            {
                var edit = Edit.Move(moving, gap.Index);
                var (start, length) = edit.Stretch;
                var was = plain.Slice(start, length);
                SourceWriter<TItem, TKey>.Arrange(plain, edit);
                undone.Push(() => was.CopyTo(CollectionsMarshal.AsSpan(plain)[start..]));
                return;
            }
            foreach (var (from, to) in MoveParts.Singles(moving, gap.Index)) MoveOne(list, from, to, undone);
            return;
        }
        // In any other it is enough that siblings follow one another. Each goes just before the one that it is to be before.
        TItem? before = next < 0 ? default : store.ItemAt(next);
        var hasNext = next >= 0;
        foreach (var top in tops.Reverse())
        {
            var item = store.ItemAt(top);
            var from = IndexIn(list, item, top);
            var to = hasNext ? IndexIn(list, before!, -1) : list.Count;
            MoveOne(list, from, from < to ? to - 1 : to, undone);
            (before, hasNext) = (item, true);
        }
    }

    private static void MoveOne(IList<TItem> list, int from, int to, Stack<Action> undone)
    {
        if (from == to) return;
        Go(list, from, to);
        undone.Push(() => Go(list, to, from));
    }

    private static void Go(IList<TItem> list, int from, int to)
    {
        if (list is ObservableCollection<TItem> observable)
        {
            observable.Move(from, to);
            return;
        }
        var item = list[from];
        list.RemoveAt(from);
        list.Insert(to, item);
    }
}

/// <summary>Branches that were moved, and can be put back: each below its parent, before the sibling that came after it.</summary>
internal sealed class BranchStep<TItem, TKey>(
    BranchMover<TItem, TKey> mover, IReadOnlyList<BranchStep<TItem, TKey>.Place> places, string name) : UndoStep(name) where TKey : notnull
{
    /// <summary>Where a branch was.</summary>
    /// <param name="Key">The key of its topmost item.</param>
    /// <param name="IsBelow">Whether it lay below another item, and not on the first level.</param>
    /// <param name="Parent">The key of that item.</param>
    /// <param name="After">The keys of the siblings that came after it and stayed, from the nearest on.</param>
    public sealed record Place(TKey Key, bool IsBelow, TKey? Parent, TKey[] After)
    {
        /// <summary>Whether both were below one parent, with nothing that stayed between them.</summary>
        public bool IsAt(Place other) =>
            IsBelow == other.IsBelow && EqualityComparer<TKey>.Default.Equals(Parent, other.Parent) && After.SequenceEqual(other.After);
    }

    public IReadOnlyList<Place> Places { get; } = places;

    public override Refusal? Apply(ActKind kind, out UndoStep inverse) => mover.Return(this, kind, out inverse);
}
