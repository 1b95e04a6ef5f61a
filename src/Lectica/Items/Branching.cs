namespace Lectica.Items;

/// <summary>
/// The levels of an outline, which of its branches are collapsed, and what shows for it. It is kept by differences: a branch that is
/// collapsed takes its stretch out of what has rows, and an item that comes in is looked at with those above it.
/// </summary>
internal sealed record Branching
{
    // Of more collapsed branches inside another than this, all of that is looked through instead.
    private const int Few = 256;

    /// <summary>How deep each item lies.</summary>
    public required Levels Levels { get; init; }

    /// <summary>The items that the filter lets through, for which the rest holds.</summary>
    public required ItemSet Shown { get; init; }

    /// <summary>The items whose branch is collapsed.</summary>
    public required ItemSet Folded { get; init; }

    /// <summary>The same as it was before a filter opened all; null without a filter.</summary>
    public ItemSet? FoldedUnfiltered { get; init; }

    /// <summary>The items that show only as the way to what the filter lets through.</summary>
    public required ItemSet Ways { get; init; }

    /// <summary>The items that have rows.</summary>
    public required ItemSet Visible { get; init; }

    /// <summary>The items below which more must first be read.</summary>
    public required ItemSet Unread { get; init; }

    /// <summary>Those below which it is being read.</summary>
    public required ItemSet Reading { get; init; }

    /// <summary>Those below which it could not be.</summary>
    public required ItemSet Failed { get; init; }

    /// <summary>The items that show: what the filter lets through, and the way there.</summary>
    public ItemSet Kept => Ways.IsEmpty ? Shown : Shown.Union(Ways);

    /// <summary>An outline of which nothing is known but its levels.</summary>
    public static Branching Of(Levels levels, ItemSet shown, bool isFiltered, ItemSet unread, int openLevels)
    {
        var none = ItemSet.None(levels.Count);
        return new Branching
        {
            Levels = levels,
            Shown = ItemSet.All(levels.Count),
            Folded = none,
            Ways = none,
            Visible = none,
            Unread = unread,
            Reading = none,
            Failed = none,
        }.Folding(openLevels, 0, levels.Count).For(shown, isFiltered);
    }

    /// <summary>Whether an item can be expanded or collapsed.</summary>
    public bool IsBranch(int index) => Levels.IsBranch(index) || Unread.Contains(index);

    private bool IsKept(int index) => Shown.Contains(index) || Ways.Contains(index);

    /// <summary>Collapses what is deeper than is open at first, or must first be read, among items that have come in.</summary>
    private Branching Folding(int openLevels, int at, int count)
    {
        var folded = new List<int>();
        if (count <= Few)
        {
            for (var i = at; i < at + count; i++)
                if (Unread.Contains(i) || (Levels[i] >= openLevels - 1 && Levels.IsBranch(i))) folded.Add(i);
        }
        else
        {
            // Of many all levels are looked at in one go.
            var levels = Levels.ToArray().AsSpan();
            for (var i = at; i < at + count; i++)
                if (levels[i] >= openLevels - 1 && i + 1 < levels.Length && levels[i + 1] > levels[i]) folded.Add(i);
            folded.AddRange(Unread.Where(i => i >= at && i < at + count));
        }
        if (folded.Count == 0) return this;
        var set = ItemSet.Of(Levels.Count, folded);
        return FoldedUnfiltered is { } kept ? this with { FoldedUnfiltered = kept.Union(set) } : this with { Folded = Folded.Union(set) };
    }

    /// <summary>Whether a filter has opened what was collapsed.</summary>
    public bool IsFiltered => FoldedUnfiltered is not null;

    /// <summary>What shows, for another filter. Cost: the items.</summary>
    public Branching For(ItemSet shown, bool isFiltered)
    {
        // What a filter finds shows, wherever it lies; what was collapsed is so again afterwards.
        var next = this with { Shown = shown };
        if (!isFiltered && FoldedUnfiltered is { } before)
            next = next with { Folded = before.Intersect(Branches), FoldedUnfiltered = null };
        else if (isFiltered && FoldedUnfiltered is null)
            next = next with { Folded = ItemSet.None(shown.Universe), FoldedUnfiltered = Folded };
        return next.Rebuilt();
    }

    /// <summary>The same, whatever was known.</summary>
    private Branching Rebuilt()
    {
        var levels = Levels.ToArray();
        var ways = Shown.IsAll ? ItemSet.None(Shown.Universe) : WaysOf(levels);
        var next = this with { Ways = ways };
        return next with { Visible = next.VisibleIn(levels, 0, levels.Length) };
    }

    private ItemSet WaysOf(ushort[] levels)
    {
        var ways = new bool[levels.Length];
        // The last item of each level, and from which level up they are ways already.
        var path = new int[(levels.Length == 0 ? 0 : levels.Max()) + 1];
        var shown = Shown.ToWords();
        for (var i = 0; i < levels.Length; i++)
        {
            path[levels[i]] = i;
            if ((shown[i >>> 6] >>> (i & 63) & 1) == 0) continue;
            for (var l = levels[i] - 1; l >= 0 && !ways[path[l]]; l--) ways[path[l]] = true;
        }
        return ItemSet.Where(levels.Length, i => ways[i]).Except(Shown);
    }

    private ItemSet VisibleIn(ushort[] levels, int from, int to)
    {
        var kept = Kept;
        if (Folded.IsEmpty) return ItemSet.None(kept.Universe).WithRange(from, to - from).Intersect(kept);
        var away = new List<(int From, int Length)>();
        for (var at = Folded.NextAt(from); at >= 0 && at < to;)
        {
            var end = at + 1;
            while (end < levels.Length && levels[end] > levels[at]) end++;
            if (end > at + 1) away.Add((at + 1, end - at - 1));
            at = end < levels.Length ? Folded.NextAt(end) : -1;
        }
        var words = new ulong[(levels.Length + 63) / 64];
        foreach (var (start, length) in away) Bits.Fill(words, start, length, true);
        var visible = ItemSet.FromWords(words, levels.Length).Complement().Intersect(kept);
        return from == 0 && to == levels.Length ? visible : ItemSet.None(levels.Length).WithRange(from, to - from).Intersect(visible);
    }

    // What shows below an item that is expanded, and has a row itself.
    private ItemSet VisibleBelow(int index)
    {
        int end = Levels.EndOf(index), length = end - index - 1;
        var none = ItemSet.None(Levels.Count);
        if (length == 0) return none;
        if (Folded.CountIn(index + 1, length) > Few) return VisibleIn(Levels.ToArray(), index + 1, end);
        var below = none.WithRange(index + 1, length);
        if (!Shown.IsAll) below = below.Intersect(Kept);
        for (var at = Folded.NextAt(index + 1); at >= 0 && at < end;)
        {
            var next = Levels.EndOf(at);
            if (next > at + 1) below = below.WithRange(at + 1, next - at - 1, false);
            at = next < Levels.Count ? Folded.NextAt(next) : -1;
        }
        return below;
    }

    /// <summary>A branch collapsed, or expanded. Cost: a logarithm, and one for each collapsed branch in it.</summary>
    public Branching Fold(int index, bool folded)
    {
        if (Folded.Contains(index) == folded) return this;
        var next = this with { Folded = Folded.With(index, folded) };
        int first = index + 1, length = Levels.EndOf(index) - first;
        if (length == 0 || !Visible.Contains(index)) return next;
        return next with { Visible = folded ? Visible.WithRange(first, length, false) : Visible.Union(next.VisibleBelow(index)) };
    }

    /// <summary>These branches collapsed, and all others expanded. Cost: the items.</summary>
    public Branching WithFolded(ItemSet folded) =>
        (FoldedUnfiltered is null ? this with { Folded = folded } : this with { FoldedUnfiltered = folded }).Rebuilt();

    /// <summary>The branches that are expanded, whatever a filter opens.</summary>
    public ItemSet Expanded => Levels.Branches.Except(FoldedUnfiltered ?? Folded);

    /// <summary>All items that can be expanded or collapsed.</summary>
    public ItemSet Branches => Levels.Branches.Union(Unread);

    /// <summary>These branches expanded, and all others collapsed.</summary>
    public Branching Expanding(ItemSet expanded) => WithFolded(Branches.Except(expanded));

    /// <summary>The branches that an item lies in expanded, so that it shows.</summary>
    public Branching Opened(int index)
    {
        var next = this;
        for (var parent = Levels.ParentOf(index); parent >= 0; parent = Levels.ParentOf(parent)) next = next.Fold(parent, folded: false);
        return next;
    }

    /// <summary>The same after an edit, before what came in has its levels.</summary>
    public Branching After(Edit edit) => this with
    {
        Shown = edit.Apply(Shown, inserted: true),
        Folded = edit.Apply(Folded),
        FoldedUnfiltered = FoldedUnfiltered is { } before ? edit.Apply(before) : null,
        Ways = edit.Apply(Ways),
        Visible = edit.Apply(Visible),
        Unread = edit.Apply(Unread),
        Reading = edit.Apply(Reading),
        Failed = edit.Apply(Failed),
    };

    /// <summary>The same as it would be if branches were moved.</summary>
    public Branching Moved(Edit edit, ItemSet tops, Gap gap) => After(edit) with { Levels = Levels.Move(tops, gap.Index, gap.Level) };

    /// <summary>The same with the levels of all items after an edit.</summary>
    /// <param name="levels">The levels.</param>
    /// <param name="shown">What the filter lets through now.</param>
    /// <param name="unread">Below which items more must be read.</param>
    /// <param name="edit">The edit.</param>
    /// <param name="openLevels">How many levels are open at first.</param>
    public Branching With(Levels levels, ItemSet shown, ItemSet unread, Edit edit, int openLevels)
    {
        var next = this with { Levels = levels, Shown = shown, Unread = unread };
        if (edit.AsSplice is { } splice)
        {
            var (at, removed, inserted) = splice;
            next = next.Folding(openLevels, at, inserted);
            return shown.IsAll || removed + inserted <= Few ? next.Around(at, inserted) : next.Rebuilt();
        }
        if (edit.Moved is { } moved)
        {
            var landed = edit.Apply(moved);
            if (!shown.IsAll || levels.Tops(landed).Count > Few) return next.Pruned().Rebuilt();
            // What loses all that was below it is not collapsed any more.
            foreach (var top in Levels.Tops(moved))
                if (top > 0) next = next.Opening(edit.Apply(top - 1));
            foreach (var top in levels.Tops(landed)) next = next.BranchAt(top);
            return next;
        }
        return next.Read(edit, openLevels);
    }

    /// <summary>The same where all of it has been read again: each item may lie anywhere.</summary>
    public Branching Whole(Levels levels, ItemSet shown, ItemSet unread, Edit edit, int openLevels) =>
        (this with { Levels = levels, Shown = shown, Unread = unread }).Read(edit, openLevels);

    private Branching Read(Edit edit, int openLevels)
    {
        var next = this;
        if (edit.AsSplice is { } splice) next = next.Folding(openLevels, splice.At, splice.Inserted);
        else
            foreach (var at in edit.Inserted()) next = next.Folding(openLevels, at, 1);
        return next.Pruned().Rebuilt();
    }

    private Branching Pruned() => this with { Folded = Folded.Intersect(Branches) };

    // An item that nothing lies below any more is not collapsed.
    private Branching Opening(int index) => IsBranch(index) ? this : this with { Folded = Folded.With(index, false) };

    // Where items came in or left: those that came, and the way to all of it.
    private Branching Around(int at, int inserted)
    {
        var next = this;
        if (at > 0)
        {
            next = next.Opening(at - 1);
            for (var way = at - 1; way >= 0; way = Levels.ParentOf(way)) next = next.WayAt(way);
        }
        for (var i = at; i < at + inserted && !Shown.IsAll; i++)
        {
            next = next.WayAt(i);
            for (var way = Levels.ParentOf(i); way >= 0; way = Levels.ParentOf(way)) next = next.WayAt(way);
        }
        for (var top = at; top < at + inserted; top = Levels.EndOf(top)) next = next.BranchAt(top);
        return next;
    }

    /// <summary>Items of which the filter thinks otherwise now. Cost: for each of them the items that it lies below.</summary>
    public Branching Reshown(ItemSet shown, IReadOnlyCollection<int> asked)
    {
        if (shown.IsAll || Shown.IsAll || asked.Count > Few) return (this with { Shown = shown }).Rebuilt();
        var next = this with { Shown = shown };
        foreach (var index in asked)
            for (var way = index; way >= 0; way = Levels.ParentOf(way)) next = next.WayAt(way);
        return next;
    }

    // Whether an item is a way, and has a row.
    private Branching WayAt(int index)
    {
        if (Shown.IsAll && Ways.IsEmpty) return this;
        var isWay = !Shown.Contains(index) && Shown.CountIn(index + 1, Levels.EndOf(index) - index - 1) > 0;
        var next = this with { Ways = Ways.With(index, isWay) };
        return next with { Visible = Visible.With(index, next.IsKept(index) && next.IsReached(index)) };
    }

    // Whether no branch that an item lies in is collapsed.
    private bool IsReached(int index)
    {
        for (var parent = Levels.ParentOf(index); parent >= 0; parent = Levels.ParentOf(parent))
            if (Folded.Contains(parent)) return false;
        return true;
    }

    // The rows of a whole branch that has come in.
    private Branching BranchAt(int top)
    {
        var visible = Visible.WithRange(top, Levels.EndOf(top) - top, false);
        if (IsKept(top) && IsReached(top))
        {
            visible = visible.With(top);
            if (!Folded.Contains(top)) visible = visible.Union((this with { Visible = visible }).VisibleBelow(top));
        }
        return this with { Visible = visible };
    }
}
