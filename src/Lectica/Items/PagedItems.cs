namespace Lectica.Items;

/// <summary>
/// The items that have been read of a source that is not in memory, by index: those around the window, and a few more that are in use. What
/// it holds is bounded; the rest is as if it had not been read.
/// </summary>
/// <param name="keyOf">Gives an item's key.</param>
/// <param name="hold">Told of each item that is held from now on, or no longer.</param>
internal sealed class PagedItems<TItem, TKey>(Func<TItem, TKey> keyOf, Action<TItem, bool> hold) where TKey : notnull
{
    private Dictionary<int, (TItem Item, TKey Key)> _items = [];
    private Dictionary<TKey, int> _indexes = [];

    /// <summary>The number of items, read or not.</summary>
    public int Count { get; private set; }

    /// <summary>The indexes of those that have been read, in no order.</summary>
    public IEnumerable<int> Indexes => _items.Keys;

    /// <summary>How many have been read.</summary>
    public int ReadCount => _items.Count;

    public bool Has(int index) => _items.ContainsKey(index);

    public TItem ItemAt(int index) => Read(index).Item;

    public TKey KeyAt(int index) => Read(index).Key;

    /// <summary>The index of a key, or -1 where its item has not been read.</summary>
    public int IndexOf(TKey key) => _indexes.TryGetValue(key, out var index) ? index : -1;

    /// <summary>The key of an item that may be none of these.</summary>
    public TKey KeyOf(TItem item) => keyOf(item);

    private (TItem Item, TKey Key) Read(int index) =>
        (uint)index >= (uint)Count ? throw ItemSet.OutOfRange(index, Count) : _items.TryGetValue(index, out var read) ? read
        : throw new ItemNotReadException(index);

    /// <summary>The keys of items that have come, asked for once; a key that is there twice, or null, is told by its index.</summary>
    public TKey[] KeysOf(int start, IReadOnlyList<TItem> items)
    {
        var keys = new TKey[items.Count];
        var seen = new Dictionary<TKey, int>(items.Count);
        for (var i = 0; i < keys.Length; i++)
        {
            keys[i] = keyOf(items[i]) is { } key ? key : throw new MissingKeyException(start + i);
            if (!seen.TryAdd(keys[i], start + i)) throw new DuplicateKeyException(keys[i], seen[keys[i]], start + i);
        }
        return keys;
    }

    /// <summary>Whether one of these keys has been read at another index: the source is another than it was then.</summary>
    public bool IsElsewhere(int start, TKey[] keys)
    {
        for (var i = 0; i < keys.Length; i++)
            if (_indexes.TryGetValue(keys[i], out var index) && index != start + i) return true;
        return false;
    }

    /// <summary>Puts items in that were read, in place of any there. Their keys are nowhere else.</summary>
    public void Put(int start, IReadOnlyList<TItem> items, TKey[] keys)
    {
        for (var i = 0; i < keys.Length; i++)
        {
            var index = start + i;
            if (_items.TryGetValue(index, out var old))
            {
                if (_indexes.TryGetValue(old.Key, out var at) && at == index) _indexes.Remove(old.Key);
                hold(old.Item, false);
            }
            _items[index] = (items[i], keys[i]);
            hold(items[i], true);
        }
        for (var i = 0; i < keys.Length; i++) _indexes[keys[i]] = start + i;
    }

    /// <summary>Takes all through an edit. Cost: what has been read.</summary>
    public void Follow(Edit edit)
    {
        Count = edit.NewLength;
        var items = new Dictionary<int, (TItem, TKey)>(_items.Count);
        var indexes = new Dictionary<TKey, int>(_items.Count);
        foreach (var (index, read) in _items)
            if (edit.Apply(index) is >= 0 and var now)
            {
                items[now] = read;
                indexes[read.Key] = now;
            }
            else hold(read.Item, false);
        (_items, _indexes) = (items, indexes);
    }

    /// <summary>Those that have been read for which the app says so.</summary>
    public ItemSet Where(Func<TItem, bool> isMember)
    {
        var batch = ItemSet.None(Count).ToBatch();
        foreach (var (index, read) in _items)
            if (isMember(read.Item)) batch.Set(index, true);
        return batch.ToSet();
    }

    /// <summary>Lets go of all that is not wanted.</summary>
    public void Keep(Func<int, bool> isWanted)
    {
        foreach (var index in _items.Keys.ToArray())
        {
            if (isWanted(index) || !_items.Remove(index, out var read)) continue;
            _indexes.Remove(read.Key);
            hold(read.Item, false);
        }
    }
}
