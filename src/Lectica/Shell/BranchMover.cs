using Lectica.Acts;
using Lectica.Items;
using Lectica.States;

namespace Lectica.Shell;

/// <summary>Where branches of an outline go: by keys, by call, and back again.</summary>
internal sealed class BranchMover<TItem, TKey>(
    Core core, ItemStore<TItem, TKey> store, Arranger<TItem, TKey> arranger, BranchWriter<TItem, TKey> writer) where TKey : notnull
{
    // So many siblings are kept for when the nearest has left; and so many groups go back one by one, each by what it costs. More of them
    // go as one, which costs all items.
    private const int Near = 8, Many = 4096, Few = 8;

    private Levels Levels => arranger.Levels;

    /// <summary>The gap below an item, or on the first level for -1, before a sibling; after the last for -1.</summary>
    public Gap GapBelow(int parent, int before) =>
        new(before >= 0 ? before : parent < 0 ? store.Count : Levels.EndOf(parent), Level: parent < 0 ? 0 : Levels[parent] + 1);

    /// <summary>
    /// The gap one place on: before or after a sibling that shows; below the one above; or out, after what it lies below. Its own where
    /// there is none.
    /// </summary>
    public Gap GapBy(ItemSet tops, Direction direction)
    {
        var first = tops.Nth(0);
        var parent = Levels.ParentOf(first);
        int above = Before(first, tops), below = After(first, tops);
        // Several gather at the first of them.
        var here = GapBelow(parent, below);
        return direction switch
        {
            Direction.Previous or Direction.Up => above < 0 ? here : GapBelow(parent, above),
            Direction.Next or Direction.Down => below < 0 ? here : GapBelow(parent, After(below, tops)),
            Direction.Inward => above < 0 ? here : GapBelow(above, -1),
            Direction.Outward => parent < 0 ? here : GapBelow(Levels.ParentOf(parent), After(parent, tops)),
            _ => here,
        };
    }

    // The nearest sibling that shows and stays; -1 for none.
    private int Before(int item, ItemSet tops)
    {
        var level = Levels[item];
        for (var i = item - 1; i >= 0 && Levels[i] >= level; i--)
        {
            i = Levels.AncestorOf(i, level);
            if (!tops.Contains(i) && core.Rows.Shown.Contains(i)) return i;
        }
        return -1;
    }

    private int After(int item, ItemSet tops)
    {
        var level = Levels[item];
        for (var i = Levels.EndOf(item); i < store.Count && Levels[i] == level; i = Levels.EndOf(i))
            if (!tops.Contains(i) && core.Rows.Shown.Contains(i)) return i;
        return -1;
    }

    /// <summary>The gap before the first or after the last of what lies below the same.</summary>
    public Gap GapAtEnd(ItemSet tops, bool top)
    {
        var parent = Levels.ParentOf(tops.Nth(0));
        return GapBelow(parent, top ? parent + 1 : -1);
    }

    /// <summary>The gap of a place among the children of an item, or on the first level for -1; counted without what moves.</summary>
    public Gap GapAt(ItemSet tops, int parent, int place)
    {
        var before = Levels.Children(parent).Where(i => !tops.Contains(i)).Skip(Math.Max(0, place)).FirstOrDefault(-1);
        return GapBelow(parent, before);
    }

    /// <summary>The places of branches, for when they are put back.</summary>
    public BranchStep<TItem, TKey> StepOf(ItemSet tops, string name)
    {
        var near = tops.Count > Many ? 1 : Near;
        var places = new BranchStep<TItem, TKey>.Place[tops.Count];
        var afters = new Dictionary<int, TKey[]>();
        // From the last on: what comes after a sibling that goes along comes after this one as well.
        var k = places.Length;
        foreach (var top in tops.Reverse())
        {
            var parent = Levels.ParentOf(top);
            var after = afters[top] = SiblingsAfter(top, parent < 0 ? store.Count : Levels.EndOf(parent), near, afters);
            places[--k] = new(store.KeptKeyAt(top), parent >= 0, parent < 0 ? default : store.KeptKeyAt(parent), after);
        }
        return new(this, places, name);
    }

    private TKey[] SiblingsAfter(int top, int end, int near, Dictionary<int, TKey[]> afters)
    {
        var next = Levels.EndOf(top);
        if (next < end && afters.TryGetValue(next, out var known)) return known;
        var after = new List<TKey>();
        for (; next < end && after.Count < near; next = Levels.EndOf(next))
        {
            if (afters.TryGetValue(next, out known))
            {
                after.AddRange(known.Take(near - after.Count));
                break;
            }
            after.Add(store.KeptKeyAt(next));
        }
        return [.. after];
    }

    /// <summary>Puts branches back into the places that were kept for them.</summary>
    public Refusal? Return(BranchStep<TItem, TKey> step, ActKind kind, out UndoStep inverse)
    {
        inverse = step;
        Refusal Gone(TKey key, string what) =>
            new(RefusalKind.OutOfDate, $"'{step.Name}' makes no sense any more: {what} '{store.TextOf(key)}' has left the list since.");
        if (arranger.Outline is null)
            return new(RefusalKind.OutOfDate, $"'{step.Name}' makes no sense any more: the list is not an outline now.");
        foreach (var place in step.Places)
        {
            if (store.IndexOfKept(place.Key) < 0) return Gone(place.Key, "the item");
            if (place.IsBelow && store.IndexOfKept(place.Parent!) < 0) return Gone(place.Parent!, "what it lay below,");
        }
        var tops = ItemSet.Of(store.Count, step.Places.Select(p => store.IndexOfKept(p.Key)));
        var back = StepOf(Levels.Tops(tops), step.Name);
        var groups = 1 + Enumerable.Range(1, step.Places.Count - 1).Count(k => !step.Places[k].IsAt(step.Places[k - 1]));
        if ((groups <= Few ? ReturnGroups(step, new(kind)) : ReturnAll(step, tops, new(kind))) is { } refusal) return refusal;
        inverse = back;
        return null;
    }

    private static Refusal WouldLieBelowItself(UndoStep step, string? key) =>
        new(RefusalKind.OutOfDate, $"'{step.Name}' makes no sense any more: the item '{key}' would lie below itself.");

    private Refusal? ReturnGroups(BranchStep<TItem, TKey> step, Act act)
    {
        for (int at = 0, count; at < step.Places.Count; at += count)
        {
            var place = step.Places[at];
            var some = Together(step, at);
            count = some.Count;
            var parent = place.IsBelow ? store.IndexOfKept(place.Parent!) : -1;
            var moving = Levels.WithBelow(some);
            if (parent >= 0 && moving.Contains(parent)) return WouldLieBelowItself(step, core.KeyText(some.LastAt(parent)));
            var before =
                place.After.Select(store.IndexOfKept).FirstOrDefault(i => i >= 0 && Levels.ParentOf(i) == parent && !some.Contains(i), -1);
            var gap = GapBelow(parent, before);
            if (!Edit.Move(moving, gap.Index).Changes && some.All(top => Levels.ParentOf(top) == parent)) continue;
            if ((writer.WhyNotBelow(some, parent) ?? writer.Move(some, gap, act)) is { } refusal) return refusal;
        }
        return null;
    }

    private Refusal? ReturnAll(BranchStep<TItem, TKey> step, ItemSet tops, Act act)
    {
        var linked = new LinkedLevels(Levels);
        var moves = new List<BranchMove>(step.Places.Count);
        foreach (var place in step.Places)
        {
            var top = store.IndexOfKept(place.Key);
            int from = linked.ParentOf(top), to = place.IsBelow ? store.IndexOfKept(place.Parent!) : -1;
            if (linked.IsIn(to, top)) return WouldLieBelowItself(step, core.KeyText(top));
            var before = place.After.Select(store.IndexOfKept).FirstOrDefault(i => i >= 0 && i != top && linked.ParentOf(i) == to, -1);
            if (from == to && linked.NextOf(top) == before) continue;
            if (writer.WhyNotBelow(ItemSet.Of(store.Count, [top]), to) is { } refusal) return refusal;
            linked.Move(top, to, before);
            moves.Add(new(top, from, to, before));
        }
        if (moves.Count == 0) return null;
        var (order, levels) = linked.Read();
        return writer.Move(moves, tops, Edit.Remap(store.Count, order), levels, act);
    }

    /// <summary>The branch of a step, and those after it that go to the same place and are in their order: they are moved as one.</summary>
    private ItemSet Together(BranchStep<TItem, TKey> step, int at)
    {
        var first = step.Places[at];
        var some = new List<int> { store.IndexOfKept(first.Key) };
        foreach (var place in step.Places.Skip(at + 1))
        {
            var next = store.IndexOfKept(place.Key);
            if (next < Levels.EndOf(some[^1]) || !place.IsAt(first)) break;
            some.Add(next);
        }
        return ItemSet.Of(store.Count, some);
    }
}
