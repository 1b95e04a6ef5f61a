namespace Lectica.Items;

/// <summary>
/// In which slot the item with a key is: a hash table with chains. An item has one slot and a key once, so the chains run through the
/// slots themselves, and the keys are kept by slot alone: beside the keys it costs 8 to 12 bytes each.
/// </summary>
internal sealed class KeySlots<TKey> where TKey : notnull
{
    // The first slot of each chain, and by slot the next one, both plus 1: 0 ends a chain. The number of chains is a prime, so that keys
    // that are all multiples of something part as well as others; such that follow each other stay neighbours.
    private int[] _first, _next;

    // While the table grows, the smaller one that it had, of which so many chains have gone over. Each key that comes takes some along, so
    // that none of them has to wait for all.
    private int[]? _smaller;
    private int _over, _count;

    private const int ChainsAtOnce = 4;

    /// <summary>None yet.</summary>
    /// <param name="keys">The keys by slot; the owner's.</param>
    /// <param name="capacity">How many there will be.</param>
    public KeySlots(TKey[] keys, int capacity)
    {
        Keys = keys;
        (_first, _next) = (new int[PrimeFrom(Math.Max(16, capacity))], new int[keys.Length]);
    }

    /// <summary>The keys by slot. There may be more of them by and by.</summary>
    public TKey[] Keys { get; set; }

    /// <summary>Takes in a slot whose key is in place; false where that key is in another one already.</summary>
    public bool TryAdd(int slot)
    {
        if (slot >= _next.Length) Array.Resize(ref _next, Keys.Length);
        if (_count == _first.Length) Grow(2L * _count);
        GoOnGrowing();
        // Hashed once: of many that come, that is most of it.
        ref var first = ref ChainOf(Keys[slot]);
        if (FindIn(first, Keys[slot]) >= 0) return false;
        (_next[slot], first) = (first, slot + 1);
        _count++;
        return true;
    }

    /// <summary>The slot of a key, or -1. Cost: that of a few comparisons.</summary>
    public int Find(TKey key) => FindIn(ChainOf(key), key);

    private int FindIn(int first, TKey key)
    {
        var slot = first - 1;
        while (slot >= 0 && !EqualityComparer<TKey>.Default.Equals(Keys[slot], key)) slot = _next[slot] - 1;
        return slot;
    }

    /// <summary>Takes a slot out, while its key is still in place.</summary>
    public void Remove(int slot)
    {
        ref var link = ref ChainOf(Keys[slot]);
        while (link > 0 && link != slot + 1) link = ref _next[link - 1];
        if (link == 0) return;
        link = _next[slot];
        _count--;
    }

    private void Link(int slot)
    {
        ref var first = ref ChainOf(Keys[slot]);
        (_next[slot], first) = (first, slot + 1);
    }

    private ref int ChainOf(TKey key)
    {
        var hash = (uint)EqualityComparer<TKey>.Default.GetHashCode(key);
        if (_smaller is not null && hash % (uint)_smaller.Length is var chain && chain >= _over) return ref _smaller[chain];
        return ref _first[hash % (uint)_first.Length];
    }

    /// <summary>Makes room for so many keys.</summary>
    public void Reserve(int count)
    {
        if (count > _first.Length) Grow(count);
    }

    private void Grow(long chains)
    {
        // There are never three tables. Only where room was made between is there anything left to do.
        while (_smaller is not null) GoOnGrowing();
        (_smaller, _over) = (_first, 0);
        _first = new int[PrimeFrom((int)Math.Min(chains, Array.MaxLength - 1000))];
    }

    private void GoOnGrowing()
    {
        for (var chains = 0; _smaller is not null && chains < ChainsAtOnce; chains++)
        {
            var slot = _smaller[_over++] - 1;
            while (slot >= 0)
            {
                var next = _next[slot] - 1;
                Link(slot);
                slot = next;
            }
            if (_over == _smaller.Length) _smaller = null;
        }
    }

    private static int PrimeFrom(int least)
    {
        for (var number = least | 1; ; number += 2)
        {
            var isPrime = true;
            for (var divisor = 3; isPrime && (long)divisor * divisor <= number; divisor += 2) isPrime = number % divisor != 0;
            if (isPrime) return number;
        }
    }
}
