using System.Runtime.InteropServices;

namespace Lectica.Items;

/// <summary>Which items of a new list are which ones of the list as it was.</summary>
/// <param name="Old">For each new item the index that it had; -1 for one that was not there.</param>
/// <param name="Keys">Their keys; null for items without.</param>
/// <param name="IsSame">Whether they are the same items in the same order.</param>
internal sealed record Pairing<TItem, TKey>(int[] Old, TKey[]? Keys, bool IsSame) where TKey : notnull
{
    /// <summary>
    /// Pairs items by key. Each is asked for its key once; those that stand where they are expected, after the one before them, need no
    /// look-up.
    /// </summary>
    /// <exception cref="DuplicateKeyException">Two of the new ones have the same key.</exception>
    /// <exception cref="KeyChangedException">An object that was there has another key now.</exception>
    public static Pairing<TItem, TKey> ByKey(
        TKey[] keysInSlots, KeySlots<TKey> slots, ItemOrder order, TItem[] inSlots, ReadOnlySpan<TItem> items, Func<TItem, int, TKey> keyOf)
    {
        var (old, keys, slotAt) = (new int[items.Length], new TKey[items.Length], order.ToArray());
        var comparer = EqualityComparer<TKey>.Default;
        var taken = new int[slotAt.Length];
        Dictionary<TKey, int>? added = null;
        var changed = items.Length != slotAt.Length;
        for (int i = 0, expected = 0; i < items.Length; i++, expected++)
        {
            var key = keys[i] = keyOf(items[i], i);
            var from = -1;
            if (expected < slotAt.Length && comparer.Equals(keysInSlots[slotAt[expected]], key)) from = expected;
            else if (slots.Find(key) is >= 0 and var slot && order.IndexOf(slot) is >= 0 and var there) from = expected = there;
            if (from >= 0)
            {
                if (taken[from] > 0) throw new DuplicateKeyException(key, taken[from] - 1, i);
                taken[from] = i + 1;
            }
            else
            {
                if (expected < slotAt.Length && SameItems.IsSameObject(inSlots[slotAt[expected]], items[i]))
                    throw new KeyChangedException(keysInSlots[slotAt[expected]], key, expected);
                added ??= [];
                if (!added.TryAdd(key, i)) throw new DuplicateKeyException(key, added[key], i);
                expected--;
            }
            old[i] = from;
            changed |= from != i;
        }
        return new(old, keys, !changed);
    }

    /// <summary>Pairs items without keys: equal ones, in their order.</summary>
    public static Pairing<TItem, TKey> ByValue(ReadOnlySpan<TItem> held, ReadOnlySpan<TItem> items)
    {
        var (old, comparer) = (new int[items.Length], EqualityComparer<TItem>.Default);
        var prefix = 0;
        while (prefix < items.Length && prefix < held.Length && comparer.Equals(items[prefix], held[prefix])) old[prefix] = prefix++;
        if (prefix == items.Length && prefix == held.Length) return new(old, null, IsSame: true);
        // A list that has only grown or shrunk at one place keeps both its ends.
        var suffix = 0;
        while (suffix < items.Length - prefix && suffix < held.Length - prefix
            && comparer.Equals(items[^(suffix + 1)], held[^(suffix + 1)]))
            old[items.Length - ++suffix] = held.Length - suffix;
        var waiting = new Dictionary<Value, Queue<int>>();
        for (var i = prefix; i < held.Length - suffix; i++)
        {
            ref var queue = ref CollectionsMarshal.GetValueRefOrAddDefault(waiting, new(held[i]), out _);
            (queue ??= new()).Enqueue(i);
        }
        for (var i = prefix; i < items.Length - suffix; i++)
            old[i] = waiting.TryGetValue(new(items[i]), out var queue) && queue.TryDequeue(out var from) ? from : -1;
        return new(old, null, IsSame: false);
    }

    /// <summary>
    /// What has happened to the list as it was. As one splice where only one stretch differs: it costs every set less, and keeps them
    /// shared.
    /// </summary>
    public Edit ToEdit(int oldLength)
    {
        var start = 0;
        while (start < Old.Length && start < oldLength && Old[start] == start) start++;
        int end = Old.Length, oldEnd = oldLength;
        while (end > start && oldEnd > start && Old[end - 1] == oldEnd - 1) (end, oldEnd) = (end - 1, oldEnd - 1);
        return Old.AsSpan(start, end - start).IndexOfAnyInRange(0, int.MaxValue) < 0
            ? Edit.Splice(oldLength, start, oldEnd - start, end - start) : Edit.Remap(oldLength, Old);
    }

    /// <summary>A value as a dictionary key, null too.</summary>
    private readonly record struct Value(TItem Item);
}
