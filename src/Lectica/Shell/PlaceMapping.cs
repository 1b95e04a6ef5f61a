using Lectica.Items;

namespace Lectica.Shell;

/// <summary>
/// What became of places in a source that is not in memory, where only some of its items are known before and after: the edit that takes
/// each of those to where it is now. Between two of them others come or go just before the second: where exactly nobody has seen.
/// </summary>
internal static class PlaceMapping
{
    /// <summary>The edit.</summary>
    /// <param name="oldCount">How many items there were.</param>
    /// <param name="newCount">How many there are.</param>
    /// <param name="known">Known items, each with its place before and now; no place twice.</param>
    /// <param name="gone">The places before of those that are known to have left.</param>
    public static Edit Between(int oldCount, int newCount, IEnumerable<(int Old, int New)> known, IEnumerable<int> gone)
    {
        var parts = new List<Edit>();
        var pairs = known.OrderBy(p => p.Old).ToList();
        var left = gone.OrderDescending().ToList();
        // Who has left goes first, from the end, so that no other place is another by it.
        var count = oldCount;
        foreach (var place in left)
        {
            parts.Add(Edit.Splice(count--, place, 1, 0));
            for (var i = pairs.Count - 1; i >= 0 && pairs[i].Old > place; i--) pairs[i] = (pairs[i].Old - 1, pairs[i].New);
        }
        Reorder(pairs, count, parts);
        Fit(pairs, count, newCount, parts);
        if (parts.Count == 0) parts.Add(Edit.Splice(oldCount, 0, 0, 0));
        return Edit.Sequence(parts);
    }

    /// <summary>Moves those that are out of order among the known ones; as few as can be.</summary>
    private static void Reorder(List<(int Old, int New)> pairs, int count, List<Edit> parts)
    {
        var stays = Increasing(pairs);
        if (stays.Count == pairs.Count) return;
        foreach (var moving in pairs.Where((_, i) => !stays.Contains(i)).Select(p => p.New).Order().ToList())
        {
            var at = pairs.FindIndex(p => p.New == moving);
            // It lands behind the one that comes before it now.
            var before = -1;
            for (var i = 0; i < pairs.Count; i++)
                if (pairs[i].New < moving && (before < 0 || pairs[i].New > pairs[before].New)) before = i;
            var edit = Edit.Move(ItemSet.None(count).With(pairs[at].Old), before < 0 ? 0 : pairs[before].Old + 1);
            parts.Add(edit);
            for (var i = 0; i < pairs.Count; i++) pairs[i] = (edit.Apply(pairs[i].Old), pairs[i].New);
        }
        pairs.Sort();
    }

    /// <summary>The longest row of pairs that are in order already, by their indexes (patience sorting).</summary>
    private static HashSet<int> Increasing(List<(int Old, int New)> pairs)
    {
        var tops = new List<int>();
        var before = new int[pairs.Count];
        for (var i = 0; i < pairs.Count; i++)
        {
            int low = 0, high = tops.Count;
            while (low < high)
            {
                var mid = (low + high) / 2;
                if (pairs[tops[mid]].New < pairs[i].New) low = mid + 1;
                else high = mid;
            }
            before[i] = low > 0 ? tops[low - 1] : -1;
            if (low == tops.Count) tops.Add(i);
            else tops[low] = i;
        }
        var stays = new HashSet<int>();
        for (var i = tops.Count > 0 ? tops[^1] : -1; i >= 0; i = before[i]) stays.Add(i);
        return stays;
    }

    /// <summary>Takes out and puts in between those that are known, until each is in its place; from the end.</summary>
    private static void Fit(List<(int Old, int New)> pairs, int count, int newCount, List<Edit> parts)
    {
        (int Old, int New) end = (count, newCount);
        for (var i = pairs.Count - 1; i >= -1; i--)
        {
            var begin = i < 0 ? (Old: -1, New: -1) : pairs[i];
            var more = end.New - begin.New - (end.Old - begin.Old);
            if (more > 0) parts.Add(Edit.Splice(count, end.Old, 0, more));
            else if (more < 0) parts.Add(Edit.Splice(count, end.Old + more, -more, 0));
            count += more;
            end = begin;
        }
    }
}
