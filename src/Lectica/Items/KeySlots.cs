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
    private int _count;

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
        if (Find(Keys[slot]) >= 0) return false;
        if (_count == _first.Length) Grow();
        if (slot >= _next.Length) Array.Resize(ref _next, Keys.Length);
        Link(slot);
        _count++;
        return true;
    }

    /// <summary>The slot of a key, or -1. Cost: that of a few comparisons.</summary>
    public int Find(TKey key)
    {
        var slot = _first[ChainOf(key)] - 1;
        while (slot >= 0 && !EqualityComparer<TKey>.Default.Equals(Keys[slot], key)) slot = _next[slot] - 1;
        return slot;
    }

    /// <summary>Takes a slot out, while its key is still in place.</summary>
    public void Remove(int slot)
    {
        ref var link = ref _first[ChainOf(Keys[slot])];
        while (link > 0 && link != slot + 1) link = ref _next[link - 1];
        if (link == 0) return;
        link = _next[slot];
        _count--;
    }

    private void Link(int slot)
    {
        ref var first = ref _first[ChainOf(Keys[slot])];
        (_next[slot], first) = (first, slot + 1);
    }

    private uint ChainOf(TKey key) => (uint)EqualityComparer<TKey>.Default.GetHashCode(key) % (uint)_first.Length;

    private void Grow()
    {
        var before = _first;
        _first = new int[PrimeFrom((int)Math.Min(2L * _count, Array.MaxLength - 1000))];
        foreach (var first in before)
            for (int slot = first - 1, next; slot >= 0; slot = next)
            {
                next = _next[slot] - 1;
                Link(slot);
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
