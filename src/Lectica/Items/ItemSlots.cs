namespace Lectica.Items;

/// <summary>
/// The items by slot: an item has one for as long as it is in the list, whatever its index. Beside them are their keys, and in which slot
/// a key is, once that is known.
/// </summary>
internal sealed class ItemSlots<TItem, TKey> where TKey : notnull
{
    private readonly Stack<int> _free = new();
    private TItem[] _items;
    private int _used;

    /// <param name="items">The items, each in its slot: the slots' own from now on.</param>
    /// <param name="keys">Their keys; null where they are not known yet.</param>
    /// <param name="byKey">The slot of each key; null where that is not known yet.</param>
    public ItemSlots(TItem[] items, TKey[]? keys = null, KeySlots<TKey>? byKey = null) =>
        (_items, _used, Keys, ByKey) = (items, items.Length, keys, byKey);

    /// <summary>The items by slot; a free one holds nothing. Another item for the same key may be written here.</summary>
    public TItem[] Items => _items;

    /// <summary>Their keys, as many as there are slots; null until they are known.</summary>
    public TKey[]? Keys { get; set; }

    /// <summary>The slot of each key; null until it is known.</summary>
    public KeySlots<TKey>? ByKey { get; set; }

    /// <summary>Two with one key: which of those that come, and the other's slot or, where it comes too, which of them that is.</summary>
    public readonly record struct Twins(int Second, int? Slot, int? First);

    /// <summary>Puts an item into a slot of its own, and gives that.</summary>
    public int Put(TItem item, TKey key)
    {
        var slot = Take();
        _items[slot] = item;
        if (Keys is not null) Keys[slot] = key;
        ByKey?.TryAdd(slot);
        return slot;
    }

    /// <summary>
    /// Puts all of some items into slots or, where one has the key of another, none: the table finds that out as it grows.
    /// </summary>
    /// <param name="items">The items.</param>
    /// <param name="keys">Their keys; null where keys are not known.</param>
    /// <param name="slots">Their slots.</param>
    /// <returns>The two with one key; null where all were put.</returns>
    public Twins? TryPut(ReadOnlySpan<TItem> items, TKey[]? keys, out int[] slots)
    {
        slots = new int[items.Length];
        for (var i = 0; i < slots.Length; i++) slots[i] = Take();
        for (var i = 0; i < slots.Length; i++) _items[slots[i]] = items[i];
        if (Keys is null || keys is null) return null;
        for (var i = 0; i < slots.Length; i++) Keys[slots[i]] = keys[i];
        if (ByKey is null) return null;
        var put = 0;
        var isWhole = false;
        try
        {
            while (put < slots.Length && ByKey.TryAdd(slots[put])) put++;
            isWhole = put == slots.Length;
            if (isWhole) return null;
            var other = ByKey.Find(keys[put]);
            return Array.IndexOf(slots, other, 0, put) is >= 0 and var first ? new(put, null, first) : new(put, other, null);
        }
        finally
        {
            // An app's own comparison of keys may throw as well. What has not been put is not in the table.
            if (!isWhole)
            {
                Vacate(slots.AsSpan(put));
                Free(slots.AsSpan(0, put));
            }
        }
    }

    /// <summary>Slots are free again.</summary>
    public void Free(ReadOnlySpan<int> slots)
    {
        if (Keys is not null && ByKey is not null)
            foreach (var slot in slots) ByKey.Remove(slot);
        Vacate(slots);
    }

    // They hold nothing of their items, which may be their own keys. The first is the first to be used again: who comes back together lies
    // in slots that follow one another. Where very many go, or come, an interpreter does several short loops faster than one.
    private void Vacate(ReadOnlySpan<int> slots)
    {
        if (Keys is not null)
            foreach (var slot in slots) Keys[slot] = default!;
        foreach (var slot in slots) _items[slot] = default!;
        _free.EnsureCapacity(_free.Count + slots.Length);
        for (var i = slots.Length - 1; i >= 0; i--) _free.Push(slots[i]);
    }

    /// <summary>Makes room for so many more at once.</summary>
    public void Reserve(int more)
    {
        if (_used + more <= _items.Length) return;
        Resize(_used + more);
        ByKey?.Reserve(_used + more);
    }

    private int Take()
    {
        if (_free.TryPop(out var slot)) return slot;
        if (_used == _items.Length) Resize(Math.Max(16, 2 * _used));
        return _used++;
    }

    private void Resize(int slots)
    {
        Array.Resize(ref _items, slots);
        if (Keys is not { } keys) return;
        Array.Resize(ref keys, slots);
        Keys = keys;
        if (ByKey is not null) ByKey.Keys = keys;
    }
}
