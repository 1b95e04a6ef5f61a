using Lectica.Items;

namespace Lectica.Shell;

/// <summary>
/// Where items were, by place and by neighbours, so that they can be put back whatever was done, and taken back, meanwhile. A place follows
/// every edit; but items beside it that leave and come back, or are moved and moved back, are by it again only by their keys. So the
/// neighbours decide, the nearest first, as far as the others bear it out: one that has been put elsewhere alone does not take the place
/// along.
/// </summary>
internal sealed class ReturnPlaces<TItem, TKey> where TKey : notnull
{
    // So many neighbours on either side, of targets that are not very many.
    private const int Near = 4, Many = 4096;

    private readonly ItemStore<TItem, TKey> _store;
    private readonly KeptPlaces _places;
    private readonly int _count;

    // Those that lie together have the same neighbours: the first of each run, by its number among the items, and the run's neighbours.
    private List<int> _firsts = [];
    private List<(TKey[] Below, TKey[] Above)> _neighbours = [];

    private ReturnPlaces(ItemStore<TItem, TKey> store, ItemSet items, KeptPlaces places)
    {
        (_store, _places) = (store, places);
        var stay = items.Complement();
        var near = NearIn(items.Count);
        TKey[] Keys(int from, bool down)
        {
            var keys = new List<TKey>(near);
            for (var i = down ? (from < stay.Universe ? stay.NextAt(from) : -1) : stay.LastAt(from); i >= 0 && keys.Count < near; i = down
                ? (i + 1 < stay.Universe ? stay.NextAt(i + 1) : -1) : stay.LastAt(i - 1)) keys.Add(store.KeptKeyAt(i));
            return [.. keys];
        }
        var k = 0;
        foreach (var range in items.Ranges())
        {
            _firsts.Add(k);
            _neighbours.Add((Keys(range.End, down: true), Keys(range.Start - 1, down: false)));
            k += range.Length;
        }
        _count = k;
    }

    private static int NearIn(int count) => count > Many ? 1 : Near;

    /// <summary>
    /// It is known which items have left. Those that stayed where others left are the nearest neighbours of those.
    /// </summary>
    /// <param name="stayed">Those that stayed, by their numbers.</param>
    /// <param name="keys">The keys of all.</param>
    public void Settle(ItemSet stayed, TKey[] keys)
    {
        _places.Close(stayed.Complement());
        if (stayed.IsEmpty) return;
        var (near, firsts, neighbours) = (NearIn(_count), new List<int>(), new List<(TKey[], TKey[])>());
        for (var run = 0; run < _firsts.Count; run++)
        {
            int first = _firsts[run], end = run + 1 < _firsts.Count ? _firsts[run + 1] : _count;
            for (int from = first, to; from < end; from = to + 1)
            {
                for (to = from; to < end && !stayed.Contains(to); to++) continue;
                if (to == from) continue;
                var (below, above) = (new List<TKey>(near), new List<TKey>(near));
                for (var i = to; i < end && below.Count < near; i++)
                    if (stayed.Contains(i)) below.Add(keys[i]);
                for (var i = from - 1; i >= first && above.Count < near; i--)
                    if (stayed.Contains(i)) above.Add(keys[i]);
                firsts.Add(from);
                var (outerBelow, outerAbove) = _neighbours[run];
                neighbours.Add(([.. below.Concat(outerBelow).Take(near)], [.. above.Concat(outerAbove).Take(near)]));
            }
        }
        (_firsts, _neighbours) = (firsts, neighbours);
    }

    /// <summary>The places of items for when they leave.</summary>
    public static ReturnPlaces<TItem, TKey> Of(ItemStore<TItem, TKey> store, ItemSet items, EditLog moment) =>
        new(store, items, KeptPlaces.Of(items, moment));

    /// <summary>The places of items that are about to be put elsewhere by the next edit.</summary>
    public static ReturnPlaces<TItem, TKey> Before(ItemStore<TItem, TKey> store, ItemSet items, EditLog moment) =>
        new(store, items, KeptPlaces.Before(items, moment));

    /// <summary>
    /// The items where they are now and, for each run of them as they were, the gap in which it was and how many they are, where nothing
    /// has come since but the move that is taken back. Null where anything else has. Cost: the runs; neither keys nor neighbours are looked
    /// up.
    /// </summary>
    public (ItemSet Items, (int Gap, int Count)[] Runs)? OfOnlyMove
    {
        get
        {
            if (_places.OnlyMove is not var (were, move)) return null;
            var now = move.Apply(were);
            var (stay, runs, k) = (now.Complement(), new List<(int, int)>(), 0);
            foreach (var range in were.Ranges())
            {
                // Those that stay are in the order that they had: as many of them are above it as were.
                var above = range.Start - k;
                runs.Add((above < stay.Count ? stay.Nth(above) : _store.Count, range.Length));
                k += range.Length;
            }
            return (now, [.. runs]);
        }
    }

    /// <summary>
    /// For each run of items as they were, the gap in which it was and how many they are, from the top; where all have left, and no run has
    /// come above one before it. Null otherwise. Cost: the runs.
    /// </summary>
    public (int Gap, int Count)[]? Runs
    {
        get
        {
            var (runs, none) = (new (int Gap, int Count)[_firsts.Count], ItemSet.None(_store.Count));
            for (var run = 0; run < runs.Length; run++)
            {
                var (first, end) = (_firsts[run], run + 1 < runs.Length ? _firsts[run + 1] : _count);
                var place = _places.GapOf(first);
                if (place < 0) return null;
                var gap = Math.Min(GapOf(run, place, none), _store.Count);
                if (run > 0 && gap < runs[run - 1].Gap) return null;
                runs[run] = (gap, end - first);
            }
            return runs;
        }
    }

    /// <summary>The gap in which each item was: between those that are there now and are none of some.</summary>
    /// <param name="owners">The items that have places, by their numbers, in order.</param>
    /// <param name="others">Those that do not count: they are put elsewhere themselves.</param>
    public int[] Gaps(int[] owners, ItemSet others)
    {
        var (stay, places, gaps) = (others.Complement(), PlacesOf(owners), new int[owners.Length]);
        for (int k = 0, run = 0, end; k < gaps.Length; k = end)
        {
            while (run + 1 < _firsts.Count && _firsts[run + 1] <= owners[k]) run++;
            // Of those that lay together and have stayed so, one is looked for.
            var (place, next) = (places[k], run + 1 < _firsts.Count ? _firsts[run + 1] : _count);
            for (end = k + 1; end < gaps.Length && places[end] == place && owners[end] < next; end++) continue;
            var gap = GapOf(run, place, others);
            gaps.AsSpan(k, end - k).Fill(gap < _store.Count && stay.NextAt(gap) is >= 0 and var staying ? staying : _store.Count);
        }
        return gaps;
    }

    // The gap of each one's place; the end where it has none.
    private int[] PlacesOf(int[] owners)
    {
        var (byPlace, hasOwners, ownerOf) = (_places.Gaps, _places.HasOwners, _places.Owners);
        if (ownerOf is not null && byPlace.Length == owners.Length && ownerOf.AsSpan().SequenceEqual(owners)) return byPlace;
        // By the items' numbers.
        var placeOf = new int[_count];
        Array.Fill(placeOf, _store.Count);
        for (var k = 0; k < byPlace.Length; k++)
        {
            // Places belong to the items that were given with them, or to those that have left, in order.
            var owner = ownerOf is not null ? ownerOf[k] : hasOwners ? k : k < owners.Length ? owners[k] : -1;
            if (owner >= 0) placeOf[owner] = byPlace[k];
        }
        return Array.ConvertAll(owners, owner => placeOf[owner]);
    }

    private int GapOf(int run, int place, ItemSet others)
    {
        Span<int> below = stackalloc int[Near], above = stackalloc int[Near];
        int b = 0, a = 0;
        var (keysBelow, keysAbove) = _neighbours[run];
        foreach (var key in keysBelow)
            if (_store.IndexOfKept(key) is >= 0 and var index && !others.Contains(index)) below[b++] = index;
        foreach (var key in keysAbove)
            if (_store.IndexOfKept(key) is >= 0 and var index && !others.Contains(index)) above[a++] = index;
        int best = place, most = -1;
        // The place first: where it agrees with all neighbours it knows better what lies between them.
        for (var i = -1; i < b + a; i++)
        {
            var gap = i < 0 ? place : i < b ? below[i] : above[i - b] + 1;
            var agree = 0;
            foreach (var index in below[..b])
                if (index >= gap) agree++;
            foreach (var index in above[..a])
                if (index < gap) agree++;
            if (agree > most) (best, most) = (gap, agree);
        }
        return best;
    }

    /// <summary>For gaps of items that come back one after the other, the index at which each is put when those before it are in.</summary>
    public static int[] Indexes(int[] gaps)
    {
        var sorted = true;
        for (var k = 1; k < gaps.Length; k++) sorted &= gaps[k - 1] <= gaps[k];
        var indexes = new int[gaps.Length];
        if (sorted)
        {
            for (var k = 0; k < gaps.Length; k++) indexes[k] = gaps[k] + k;
            return indexes;
        }
        // Out of order: by how many of those before it are above it.
        var before = ItemSet.None(gaps.Length);
        var rank = new int[gaps.Length];
        var order = Enumerable.Range(0, gaps.Length).OrderBy(k => gaps[k]).ThenBy(k => k).ToArray();
        for (var r = 0; r < order.Length; r++) rank[order[r]] = r;
        for (var k = 0; k < gaps.Length; k++)
        {
            indexes[k] = gaps[k] + before.Rank(rank[k]);
            before = before.With(rank[k]);
        }
        return indexes;
    }
}
