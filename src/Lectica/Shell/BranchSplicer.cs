using Lectica.Acts;
using Lectica.Items;
using Lectica.States;

namespace Lectica.Shell;

/// <summary>
/// Takes branches out of the app's source, each item with all that is below it, and puts them back below what they lay below. All of it is
/// done, or nothing.
/// </summary>
internal sealed class BranchSplicer<TItem, TKey>(
    Core core, Turns turns, ItemStore<TItem, TKey> store, Arranger<TItem, TKey> arranger, Source<TItem, TKey> source,
        SourceWriter<TItem, TKey> writer, BranchWriter<TItem, TKey> branches, BranchMover<TItem, TKey> mover, Marker<TItem, TKey> marker,
        Transfers<TItem, TKey> transfers, Teller<TItem, TKey> teller) where TKey : notnull
{
    // Of more branches, one look at the source costs less than a change of the list for each.
    private const int Many = 64;

    /// <summary>What becomes of a list: at an index that it had before, so many go, or these come.</summary>
    private readonly record struct Cut(int At, int Removed, TItem[] Inserted);

    private Levels Levels => arranger.Levels;

    /// <summary>Takes items out with all that is below them.</summary>
    /// <param name="items">The items.</param>
    /// <param name="name">What it is called.</param>
    /// <param name="step">What puts them back.</param>
    public Refusal? TakeOut(ItemSet items, string name, out UndoStep? step)
    {
        step = null;
        if (items.IsEmpty) return null;
        var tops = Levels.Tops(items);
        var gone = Levels.WithBelow(tops);
        using var held = source.Hold();
        if (CutsFor(tops, gone, out var cuts) is { } not) return not;
        var away = core.App.Ask(() => Remembered(tops, gone, name));
        var refusal = Write(cuts, tops.Count > Many ? null : () =>
        {
            foreach (var top in tops.Reverse()) source.TakeBranch(() => arranger.LeaveWhole(top));
        });
        if (refusal is null) step = away;
        return refusal;
    }

    private BranchAwayStep<TItem, TKey> Remembered(ItemSet tops, ItemSet gone, string name)
    {
        var branching = core.State.Showing.Branching!;
        // An item of which all that lay below it goes is no branch then, and knows no more what it was.
        var parents = ItemSet.Of(store.Count, tops.Select(Levels.ParentOf).Where(parent => parent >= 0).Distinct());
        var branches = tops.Zip(mover.StepOf(tops, name).Places, (top, place) =>
        {
            var size = Levels.EndOf(top) - top;
            ushort[] levels = [.. Enumerable.Range(top, size).Select(i => (ushort)(Levels[i] - Levels[top]))];
            return new AwayBranch<TItem, TKey>(place, store.ItemsOf(ItemSet.None(store.Count).WithRange(top, size)), levels);
        });
        return new(this, name, [.. branches], store.KeptKeysOf(gone))
        {
            Marks = marker.KeptOf(gone),
            Folded = store.KeptKeysOf((branching.FoldedUnfiltered ?? branching.Folded).Intersect(gone.Union(parents))),
        };
    }

    /// <summary>Takes items out again that were put back.</summary>
    public Refusal? TakeOutAgain(TItem[] items, TKey[] keys, string name, out UndoStep? step)
    {
        step = null;
        return WhyNoOutline(name) ?? transfers.WhyGone(items, keys) ?? TakeOut(transfers.ItemsWith(keys), name, out step);
    }

    /// <summary>Puts branches back.</summary>
    /// <param name="away">The branches.</param>
    /// <param name="step">What takes them out again.</param>
    public Refusal? PutBack(BranchAwayStep<TItem, TKey> away, out UndoStep? step)
    {
        step = null;
        if ((WhyNoOutline(away.Name) ?? transfers.WhyThere([.. away.Branches.SelectMany(b => b.Items)])) is { } why) return why;
        foreach (var (place, _, _) in away.Branches)
            if (place.IsBelow && store.IndexOfKept(place.Parent!) < 0)
                return new(RefusalKind.OutOfDate,
                    $"'{away.Name}' makes no sense any more: what it lay below, '{store.TextOf(place.Parent!)}' has left the list since.");
        using var held = source.Hold();
        if (CutsFor(away, out var cuts, out var landings) is { } not) return not;
        TKey[] bare =
            [.. landings.Where(l => l.Parent >= 0 && !Levels.IsBranch(l.Parent)).Select(l => store.KeptKeyAt(l.Parent)).Distinct()];
        var refusal = Write(cuts, landings.Length > Many ? null : () =>
        {
            // From the end, so that those before stay where they are; several at one place in turn.
            foreach (var (landing, k) in landings.Select((landing, k) => (landing, k)).OrderByDescending(l => (l.landing.Gap, l.k)))
                source.TakeBranch(() => arranger.ComeWhole(
                    away.Branches[k].Items, away.Branches[k].Levels, landing.Gap, landing.Parent, landing.Place));
        });
        if (refusal is not null) return refusal;
        marker.PutAgain(away.Marks);
        Fold(away, bare);
        var back = Levels.WithBelow(ItemSet.Of(store.Count, away.Branches.Select(b => store.IndexOfKept(b.Place.Key)).Where(i => i >= 0)));
        step = new BranchBackStep<TItem, TKey>(this, away.Name, store.ItemsOf(back), store.KeptKeysOf(back));
        return null;
    }

    private Refusal? WhyNoOutline(string name) => arranger.Outline is not null ? null
        : new(RefusalKind.OutOfDate, $"'{name}' makes no sense any more: the list is not an outline now.");

    // Branches come back as they were, collapsed or expanded; and so do those that were none without what lay below them.
    private void Fold(BranchAwayStep<TItem, TKey> away, TKey[] bare)
    {
        if (core.State.Showing.Branching is not { IsFiltered: false } branching) return;
        ItemSet There(IEnumerable<TKey> keys) => ItemSet.Of(store.Count, keys.Select(store.IndexOfKept).Where(i => i >= 0));
        var came = There(away.Keys.Concat(bare));
        var folded = branching.Folded.Except(came).Union(There(away.Folded).Intersect(came));
        if (!folded.Equals(branching.Folded))
            core.Commit(core.State with { Showing = core.State.Showing with { Branching = branching.WithFolded(folded) } }, cause: "undo");
    }

    // ── What is to be written ──

    private Refusal? CutsFor(ItemSet tops, ItemSet gone, out Dictionary<IList<TItem>, List<Cut>> cuts)
    {
        cuts = new(ReferenceEqualityComparer.Instance);
        if (arranger.Outline!.ChildrenOf is null)
        {
            if (branches.ListBelow(-1) is not { IsReadOnly: false } list) return NotWritten(-1);
            var own = cuts[list] = [];
            if (arranger.IsInOrder)
            {
                if (writer.OutOfStep(gone, store.ItemsOf(gone)) is { } wrong) return wrong;
                own.AddRange(gone.Ranges().Select(range => new Cut(range.Start, range.Length, [])));
                return null;
            }
            var places = Places(list);
            own.AddRange(gone.Select(i => new Cut(places[i], 1, [])).OrderBy(cut => cut.At));
            return own is [{ At: < 0 }, ..] ? Otherwise : null;
        }
        foreach (var group in tops.GroupBy(Levels.ParentOf))
        {
            if (branches.ListBelow(group.Key) is not { IsReadOnly: false } list) return NotWritten(group.Key);
            var (own, wanted, at) = (cuts[list] = [], group.ToHashSet(), 0);
            foreach (var child in Levels.Children(group.Key))
            {
                if (at >= list.Count || !EqualityComparer<TItem>.Default.Equals(list[at], store.ItemAt(child))) return Otherwise;
                if (wanted.Contains(child)) own.Add(new(at, 1, []));
                at++;
            }
        }
        return null;
    }

    private Refusal? CutsFor(BranchAwayStep<TItem, TKey> away, out Dictionary<IList<TItem>, List<Cut>> cuts,
        out (int Gap, int Parent, int Place)[] landings)
    {
        cuts = new(ReferenceEqualityComparer.Instance);
        landings = new (int, int, int)[away.Branches.Length];
        var byChildren = arranger.Outline!.ChildrenOf is not null;
        // Where siblings stand among each other, once for each parent.
        var siblings = new Dictionary<int, Dictionary<int, int>>();
        int[]? places = null;
        for (var k = 0; k < landings.Length; k++)
        {
            var (place, items, _) = away.Branches[k];
            var parent = place.IsBelow ? store.IndexOfKept(place.Parent!) : -1;
            var before = place.After.Select(store.IndexOfKept).FirstOrDefault(i => i >= 0 && Levels.ParentOf(i) == parent, -1);
            if (branches.ListBelow(byChildren ? parent : -1) is not { IsReadOnly: false } list) return NotWritten(parent);
            var gap = mover.GapBelow(parent, before).Index;
            int at;
            if (byChildren)
            {
                if (!siblings.TryGetValue(parent, out var ordinals))
                    siblings[parent] = ordinals = Levels.Children(parent).Select((child, i) => (child, i)).ToDictionary();
                at = before >= 0 ? ordinals[before] : list.Count;
                if (list.Count != ordinals.Count
                    || (before >= 0 && !EqualityComparer<TItem>.Default.Equals(list[at], store.ItemAt(before)))) return Otherwise;
            }
            else if (arranger.IsInOrder)
            {
                if (writer.CountRefusal is { } wrong) return wrong;
                at = gap;
            }
            // It is enough that siblings follow one another.
            else if (before < 0) at = list.Count;
            else if ((at = (places ??= Places(list))[before]) < 0) return Otherwise;
            if (!cuts.TryGetValue(list, out var own)) own = cuts[list] = [];
            own.Add(new(at, 0, byChildren ? items[..1] : items));
            landings[k] = (gap, parent, at);
        }
        // Several at one place stay in their order.
        foreach (var list in cuts.Keys.ToArray()) cuts[list] = [.. cuts[list].OrderBy(cut => cut.At)];
        return null;
    }

    private static Refusal Otherwise =>
        new(RefusalKind.OutOfDate, "The source is not what the list holds: it has changed without saying so. Call Refresh.");

    private Refusal NotWritten(int parent) => parent < 0 ? new(RefusalKind.NotAvailable, "The source cannot be written.")
        : new(RefusalKind.NotAllowed, $"The item '{core.KeyText(parent)}' has no list of children that can be written.");

    // Where the source has each item, by the list's indexes; -1 for one that it has no more.
    private int[] Places(IList<TItem> list) => core.App.Ask(() =>
    {
        var places = new int[store.Count];
        Array.Fill(places, -1);
        for (var i = 0; i < list.Count; i++)
            if (store.IndexOfItem(list[i]) is >= 0 and var index) places[index] = i;
        return places;
    });

    // ── Writing it ──

    /// <param name="cuts">What becomes of each list.</param>
    /// <param name="follow">Takes the list through the same; the source is read again where null.</param>
    private Refusal? Write(Dictionary<IList<TItem>, List<Cut>> cuts, Action? follow)
    {
        if (source.IsAhead) return SourceWriter<TItem, TKey>.Meanwhile;
        Refusal? refusal = null;
        turns.Inside(() =>
        {
            teller.BeginGathering();
            var done = new Stack<Action>();
            try
            {
                source.IsWriting = true;
                refusal = core.App.Try(() =>
                {
                    foreach (var (list, own) in cuts) Apply(list, own, done);
                }, why => $"The source did not take that: {why}");
                source.IsWriting = false;
                // A key that is there twice, say.
                if (refusal is null && Attempt.Of(follow ?? source.ReadAgain) is { } error)
                    refusal = new(RefusalKind.Failed, $"The list could not follow its source: {error.Message}");
                if (refusal is null) return;
                source.IsWriting = true;
                while (done.TryPop(out var back))
                    if (core.App.Try(back, why => why) is not null) done.Clear();
                source.IsWriting = false;
                source.ReadAgain();
            }
            finally
            {
                source.IsWriting = false;
                teller.EndGathering();
            }
        });
        return refusal;
    }

    private static void Apply(IList<TItem> list, List<Cut> cuts, Stack<Action> done)
    {
        if (list is List<TItem> plain && cuts.Count > Many)
        {
            // In one go, since each place would cost all that comes after it.
            TItem[] before = [.. plain];
            var (now, from) = (new List<TItem>(before.Length), 0);
            foreach (var cut in cuts)
            {
                now.AddRange(before.AsSpan(from, cut.At - from));
                now.AddRange(cut.Inserted);
                from = cut.At + cut.Removed;
            }
            now.AddRange(before.AsSpan(from));
            done.Push(() => Fill(plain, before));
            Fill(plain, now);
            return;
        }
        // From the end, so that those before stay where they are.
        for (var i = cuts.Count - 1; i >= 0; i--)
        {
            var cut = cuts[i];
            for (var at = cut.At + cut.Removed - 1; at >= cut.At; at--)
            {
                var (place, item) = (at, list[at]);
                list.RemoveAt(place);
                done.Push(() => list.Insert(place, item));
            }
            for (var k = 0; k < cut.Inserted.Length; k++)
            {
                var place = cut.At + k;
                list.Insert(place, cut.Inserted[k]);
                done.Push(() => list.RemoveAt(place));
            }
        }
    }

    private static void Fill(List<TItem> list, IReadOnlyCollection<TItem> with)
    {
        list.Clear();
        list.AddRange(with);
    }
}

/// <summary>A branch that has left.</summary>
/// <param name="Place">Where it was.</param>
/// <param name="Items">Its items, in reading order.</param>
/// <param name="Levels">How deep each of them lies below its first.</param>
internal sealed record AwayBranch<TItem, TKey>(BranchStep<TItem, TKey>.Place Place, TItem[] Items, ushort[] Levels) where TKey : notnull;

/// <summary>Branches that the list has taken out: taken back they come to where they were, and taken back again they go.</summary>
internal sealed class BranchAwayStep<TItem, TKey>(
    BranchSplicer<TItem, TKey> splicer, string name, AwayBranch<TItem, TKey>[] branches, TKey[] keys) : UndoStep(name) where TKey : notnull
{
    /// <summary>The branches, in reading order.</summary>
    public AwayBranch<TItem, TKey>[] Branches { get; } = branches;

    /// <summary>The keys of all their items, in reading order.</summary>
    public TKey[] Keys { get; } = keys;

    /// <summary>The keys of those that had a mark which the list keeps.</summary>
    public Dictionary<string, TKey[]> Marks { get; init; } = [];

    /// <summary>The keys of those, and of what they lay below, whose branch was collapsed.</summary>
    public TKey[] Folded { get; init; } = [];

    public override Refusal? Apply(ActKind kind, out UndoStep inverse)
    {
        var refusal = splicer.PutBack(this, out var back);
        inverse = back ?? this;
        return refusal;
    }
}

/// <summary>Branches that have come back: taken back they go again.</summary>
internal sealed class BranchBackStep<TItem, TKey>(BranchSplicer<TItem, TKey> splicer, string name, TItem[] items, TKey[] keys)
    : UndoStep(name) where TKey : notnull
{
    public override Refusal? Apply(ActKind kind, out UndoStep inverse)
    {
        var refusal = splicer.TakeOutAgain(items, keys, Name, out var away);
        inverse = away ?? this;
        return refusal;
    }
}
