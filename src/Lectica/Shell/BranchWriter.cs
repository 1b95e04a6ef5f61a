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
    // So many are each looked for in the source.
    private const int Few = 16;

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

    /// <summary>Moves branches to one place, and takes everything through the edit.</summary>
    /// <param name="tops">Their topmost items.</param>
    /// <param name="gap">The gap in reading order, with the level that they land on.</param>
    /// <param name="act">The act.</param>
    /// <param name="written">Called when the source has taken the move, before anything is told of it.</param>
    public Refusal? Move(ItemSet tops, Gap gap, Act act, Action? written = null)
    {
        var moving = Levels.WithBelow(tops);
        var parent = core.Rows.ParentAt(gap, moving);
        var before = NextSibling(parent, gap, moving);
        return Move([.. tops.Select(t => new BranchMove(t, Levels.ParentOf(t), parent, before))], tops,
            Edit.Move(moving, gap.Index), Levels.Move(tops, gap.Index, gap.Level), act, written);
    }

    /// <summary>Moves branches, one after the other, and takes everything through the edit that they come to.</summary>
    /// <param name="moves">What moves.</param>
    /// <param name="tops">The topmost items of it.</param>
    /// <param name="edit">What it comes to.</param>
    /// <param name="next">How deep each item lies then.</param>
    /// <param name="act">The act.</param>
    /// <param name="written">Called when the source has taken the moves, before anything is told of them.</param>
    public Refusal? Move(
        IReadOnlyList<BranchMove> moves, ItemSet tops, Edit edit, Levels next, Act act, Action? written = null)
    {
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
                if (Outline.ChildrenOf is not null) WriteChildren(moves, undone);
                else WriteParents(moves, edit, undone);
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
        core.HoldsScroll = true;
        try
        {
            arranger.Rearrange(next);
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

    private void WriteChildren(IReadOnlyList<BranchMove> moves, Stack<Action> undone)
    {
        foreach (var move in moves)
        {
            var item = store.ItemAt(move.Top);
            var from = ListBelow(move.From)!;
            var to = ListBelow(move.To)
                ?? throw new InvalidOperationException($"the item '{core.KeyText(move.To)}' has no list of children");
            var at = IndexIn(from, item, move.Top);
            from.RemoveAt(at);
            undone.Push(() => from.Insert(at, item));
            var place = move.Before >= 0 ? IndexIn(to, store.ItemAt(move.Before), move.Before) : to.Count;
            to.Insert(place, item);
            undone.Push(() => to.RemoveAt(place));
        }
    }

    private int IndexIn(IList<TItem> list, TItem item, int index) =>
        list.IndexOf(item) is >= 0 and var at ? at : throw Elsewhere(index);

    private InvalidOperationException Elsewhere(int index) =>
        new($"the item '{core.KeyText(index)}' is not where it was; it has changed without saying so");

    // The child of a parent that comes after a gap and stays; -1 where there is none.
    private int NextSibling(int parent, Gap gap, ItemSet moving)
    {
        var end = parent < 0 ? store.Count : Levels.EndOf(parent);
        var next = gap.Index < store.Count ? moving.Complement().NextAt(gap.Index) : -1;
        return next >= 0 && next < end && Levels[next] == gap.Level ? next : -1;
    }

    private void WriteParents(IReadOnlyList<BranchMove> moves, Edit edit, Stack<Action> undone)
    {
        TItem? Above(int parent) => parent < 0 ? default : store.ItemAt(parent);
        foreach (var move in moves)
        {
            if (move.From == move.To) continue;
            var (item, before) = (store.ItemAt(move.Top), Above(move.From));
            watcher.Written = item;
            Outline.Assign!(item, Above(move.To));
            undone.Push(() =>
            {
                watcher.Written = item;
                Outline.Assign!(item, before);
            });
        }
        watcher.Written = null;
        WriteOrder(moves, edit, undone);
    }

    private void WriteOrder(IReadOnlyList<BranchMove> moves, Edit edit, Stack<Action> undone)
    {
        var list = List;
        // A source in reading order stays so.
        if (arranger.IsInOrder)
        {
            if (list.Count != store.Count) throw new InvalidOperationException("it has changed without saying so; call Refresh");
            Rearrange(list, edit, undone);
            return;
        }
        // In any other it is enough that siblings follow one another: each goes just before the one that it is to be before.
        if (moves.Count > Few)
        {
            WriteAnyOrder(list, moves, undone);
            return;
        }
        foreach (var move in moves)
        {
            var from = IndexIn(list, store.ItemAt(move.Top), move.Top);
            var to = move.Before >= 0 ? IndexIn(list, store.ItemAt(move.Before), move.Before) : list.Count;
            MoveOne(list, from, from < to ? to - 1 : to, undone);
        }
    }

    // Many would be looked for one by one: here each item's place is looked up once, and what all of it comes to is written.
    private void WriteAnyOrder(IList<TItem> list, IReadOnlyList<BranchMove> moves, Stack<Action> undone)
    {
        var places = new int[store.Count];
        Array.Fill(places, -1);
        for (var i = 0; i < list.Count; i++)
            if (store.IndexOf(store.KeyOf(list[i])) is >= 0 and var index) places[index] = i;
        int PlaceOf(int index) => places[index] is >= 0 and var place
            && EqualityComparer<TItem>.Default.Equals(list[place], store.ItemAt(index)) ? place : throw Elsewhere(index);
        var linked = LinkedLevels.Flat(list.Count);
        foreach (var move in moves) linked.Move(PlaceOf(move.Top), -1, move.Before >= 0 ? PlaceOf(move.Before) : -1);
        Rearrange(list, Edit.Remap(list.Count, linked.Read().Order), undone);
    }

    private static void Rearrange(IList<TItem> list, Edit edit, Stack<Action> undone)
    {
        if (list is List<TItem> plain)
        {
            var (start, length) = edit.Stretch;
            var was = plain.Slice(start, length);
            SourceWriter<TItem, TKey>.Arrange(plain, edit);
            undone.Push(() => was.CopyTo(CollectionsMarshal.AsSpan(plain)[start..]));
            return;
        }
        foreach (var (from, to) in edit.Singles()) MoveOne(list, from, to, undone);
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

/// <summary>A branch that goes elsewhere.</summary>
/// <param name="Top">Its topmost item.</param>
/// <param name="From">What that lies below; -1 on the first level.</param>
/// <param name="To">What it comes to lie below; -1 on the first level.</param>
/// <param name="Before">The sibling that it goes before; -1 where it goes after the last.</param>
internal readonly record struct BranchMove(int Top, int From, int To, int Before);

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
