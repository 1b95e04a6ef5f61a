namespace Lectica.Items;

/// <summary>What a move is made of: one or two moves of as few items as can be, and moves of one item each.</summary>
internal static class MoveParts
{
    /// <summary>
    /// A move as one or two that come to the same, of as few items as can be: what comes from above the gap and what comes from below it,
    /// each by itself or, where that is less, by what it goes past. A block of many that goes down by a row is one item that goes up. Cost:
    /// that of comparing sets.
    /// </summary>
    /// <exception cref="ArgumentOutOfRangeException">The gap is not in 0..length.</exception>
    public static (ItemSet Items, int Gap)[] Of(ItemSet items, int gap)
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
        var parts = Of(items, gap);
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
