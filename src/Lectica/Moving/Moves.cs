using Lectica.Items;

namespace Lectica.Moving;

/// <summary>
/// What moves come to: whether they change anything, whether they leave pinned items alone, and which single moves make them.
/// </summary>
internal static class Moves
{
    /// <summary>
    /// Whether items that show, dropped in a gap, would stand in another order on show, in another section, or on another level. Hidden
    /// items between them do not count. Cost: log, with sections or levels also the items.
    /// </summary>
    public static bool Changes(ItemSet items, Gap gap, RowMap rows)
    {
        if (items.IsEmpty) return false;
        var members = rows.MembersOf(gap.Section);
        if (rows.Levels is { } levels)
        {
            if (gap.Level >= 0 && !levels.AreOn(gap.Level, items)) return true;
            items = levels.WithBelow(items);
            // Of what is collapsed nothing has a row to be compared.
            var seen = items.Intersect(members);
            if (seen.IsEmpty || !items.Except(members).IsEmpty) return Edit.Move(items, gap.Index).Changes;
        }
        if (gap.Section >= 0 && items.Intersect(members).Count != items.Count) return true;
        int first = members.Rank(items.Nth(0)), last = members.Rank(items.Nth(items.Count - 1)), at = members.Rank(gap.Index);
        return last - first + 1 != items.Count || at < first || at > last + 1;
    }

    /// <summary>
    /// Whether each pinned item keeps its place: in the list or, where there are sections, in its own. Cost: log for each section.
    /// </summary>
    public static bool KeepsPinned(ItemSet items, Gap gap, ItemSet pinned, RowMap rows)
    {
        if (items.IsEmpty || pinned.IsEmpty) return true;
        if (!items.Intersect(pinned).IsEmpty) return false;
        if (gap.Section < 0) return Keeps(items, gap.Index, pinned, comeIn: false);
        for (var i = 0; i < rows.Sections.Length; i++)
        {
            ItemSet members = rows.Sections[i].Members, here = items.Intersect(members), stay = pinned.Intersect(members);
            if (stay.IsEmpty) continue;
            if (i == gap.Section ? !Keeps(here, gap.Index, stay, comeIn: here.Count < items.Count)
                : !here.IsEmpty && stay.NextAt(here.Nth(0)) >= 0) return false;
        }
        return true;
    }

    /// <summary>
    /// Whether each pinned item of an outline keeps its place among those that lie below the same, and none of them is moved along. Cost:
    /// the pinned items and those that move.
    /// </summary>
    internal static bool KeepsPinned(ItemSet tops, Gap gap, int parent, ItemSet pinned, Levels levels)
    {
        if (pinned.IsEmpty) return true;
        if (!levels.WithBelow(tops).Intersect(pinned).IsEmpty) return false;
        foreach (var item in pinned)
        {
            var below = levels.ParentOf(item);
            var leave = tops.Count(t => t < item && levels.ParentOf(t) == below);
            if (leave != (below == parent && gap.Index <= item ? tops.Count : 0)) return false;
        }
        return true;
    }

    /// <summary>
    /// A pinned item stays where as many go past it one way as the other: here none, or where nothing comes in all that were above it stay
    /// above.
    /// </summary>
    private static bool Keeps(ItemSet items, int gap, ItemSet pinned, bool comeIn)
    {
        int above = pinned.LastAt(gap - 1), below = pinned.NextAt(gap);
        if (above >= 0 && !items.IsEmpty && items.Nth(0) < above) return false;
        return below < 0 || (!comeIn && items.Nth(items.Count - 1) < below);
    }

    /// <summary>
    /// A move as one or two that come to the same, of as few items as can be: what comes from above the gap and what comes from below it,
    /// each by itself or, where that is less, by what it goes past. A block of many that goes down by a row is one item that goes up. Cost:
    /// that of comparing sets.
    /// </summary>
    /// <exception cref="ArgumentOutOfRangeException">The gap is not in 0..length.</exception>
    public static (ItemSet Items, int Gap)[] Lightest(ItemSet items, int gap)
    {
        if ((uint)gap > (uint)items.Universe)
            throw new ArgumentOutOfRangeException(nameof(gap), gap, $"{items.Universe} items have the gaps 0 to {items.Universe}.");
        if (items.IsEmpty) return [];
        ItemSet Between(int from, int to) => ItemSet.None(items.Universe).WithRange(from, Math.Max(0, to - from));
        int first = items.Nth(0), end = items.Nth(items.Count - 1) + 1;
        ItemSet passedDown = Between(first, gap).Except(items), passedUp = Between(gap, end).Except(items);
        var parts = new List<(ItemSet, int)>(2);
        // What lies at the gap already stays.
        if (!passedDown.IsEmpty)
        {
            var to = passedDown.Nth(passedDown.Count - 1) + 1;
            var moved = items.Intersect(Between(first, to));
            parts.Add(passedDown.Count < moved.Count ? (passedDown, first) : (moved, to));
        }
        if (!passedUp.IsEmpty)
        {
            var to = passedUp.Nth(0);
            var moved = items.Intersect(Between(to, end));
            parts.Add(passedUp.Count < moved.Count ? (passedUp, end) : (moved, to));
        }
        return [.. parts];
    }

    /// <summary>
    /// A move as moves of one item each, from where it then is to where it then comes: as an <c>ObservableCollection</c>'s
    /// <c>Move</c> takes them. They are of as few items as can be: those that move, or those that they go past. Cost: these.
    /// </summary>
    /// <exception cref="ArgumentOutOfRangeException">The gap is not in 0..length.</exception>
    public static IEnumerable<(int From, int To)> Singles(ItemSet items, int gap)
    {
        var parts = Lightest(items, gap);
        return Each();

        IEnumerable<(int From, int To)> Each()
        {
            foreach (var (part, at) in parts)
            {
                var moved = part.ToArray();
                // Those above the gap go down, the lowest first, and those below it up, the highest first: none shifts another's way.
                if (moved[0] < at)
                    for (var i = moved.Length; i-- > 0;) yield return (moved[i], at - moved.Length + i);
                else
                    for (var i = 0; i < moved.Length; i++) yield return (moved[i], at + i);
            }
        }
    }

    /// <summary>
    /// The same for any new order of all items, given as old indexes: from the front on, each is fetched from where it then is. Cost: a
    /// logarithm an item.
    /// </summary>
    internal static IEnumerable<(int From, int To)> Singles(int[] order)
    {
        // How many of those that are in place already were before an old index (Fenwick, "A new data structure for cumulative frequency
        // tables", 1994): the others are still in their old order behind them.
        var placed = new int[order.Length + 1];
        for (var i = 0; i < order.Length; i++)
        {
            var from = i + order[i];
            for (var k = order[i]; k > 0; k -= k & -k) from -= placed[k];
            if (from != i) yield return (from, i);
            for (var k = order[i] + 1; k <= order.Length; k += k & -k) placed[k]++;
        }
    }
}
