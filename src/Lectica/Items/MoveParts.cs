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
    /// The same for any new order of all items, given as old indexes: as many as can stay where they are. Cost: a logarithm an item that is
    /// out of order.
    /// </summary>
    internal static IEnumerable<(int From, int To)> Singles(int[] order)
    {
        // By old index: whether it stays, and how many before it do. The rest are the movers, each with a number in the old order.
        var stays = LongestInOrder(order);
        var staying = new int[order.Length + 1];
        for (var i = 0; i < order.Length; i++) staying[i + 1] = staying[i] + (stays[i] ? 1 : 0);
        var movers = order.Length - staying[^1];
        if (movers == 0) yield break;
        // Those that have gone, by their numbers (Fenwick, "A new data structure for cumulative frequency tables", 1994), and for each the
        // one that stays before it: that one's old index, which only grows.
        var gone = new int[movers + 1];
        var after = new List<int>(movers);
        // The movers with an old index below one that are still where they were.
        int Waiting(int old)
        {
            var before = old - staying[old];
            for (var k = before; k > 0; k -= k & -k) before -= gone[k];
            return before;
        }
        var last = -1;
        foreach (var old in order)
        {
            if (stays[old])
            {
                last = old;
                continue;
            }
            var behind = ~after.BinarySearch(old);
            var from = staying[old] + Waiting(old) + behind;
            for (var k = old - staying[old] + 1; k < gone.Length; k += k & -k) gone[k]++;
            var to = (last < 0 ? 0 : staying[last + 1] + Waiting(last)) + after.Count;
            after.Add(last);
            if (from != to) yield return (from, to);
        }
    }

    /// <summary>
    /// Of an order, a longest row of items that are in it as they were (Schensted, "Longest increasing and decreasing subsequences", 1961),
    /// as flags by old index.
    /// </summary>
    private static bool[] LongestInOrder(int[] order)
    {
        // The least end of a row of each length, and what comes before an item in its row.
        var ends = new List<int>();
        var before = new int[order.Length];
        foreach (var old in order)
        {
            var at = ends.Count == 0 || ends[^1] < old ? ends.Count : ~ends.BinarySearch(old);
            before[old] = at > 0 ? ends[at - 1] : -1;
            if (at == ends.Count) ends.Add(old);
            else ends[at] = old;
        }
        var stays = new bool[order.Length];
        for (var old = ends.Count > 0 ? ends[^1] : -1; old >= 0; old = before[old]) stays[old] = true;
        return stays;
    }
}
