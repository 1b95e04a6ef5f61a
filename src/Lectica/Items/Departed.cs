namespace Lectica.Items;

/// <summary>
/// Items that left, with their keys and the indexes that they had: arrays side by side, since they may be very many. As long as they stood
/// together their indexes are counted, not kept.
/// </summary>
internal sealed class Departed<TItem, TKey>
{
    private int _first;
    private int[]? _indexes;
    private TItem[] _items = [];
    private TKey[] _keys = [];

    /// <summary>Some that stood together from an index on.</summary>
    public static Departed<TItem, TKey> Of(int at, TItem[] items, TKey[] keys) =>
        new() { _first = at, _items = items, _keys = keys, Count = items.Length };

    public int Count { get; private set; }

    /// <summary>Whether each had a higher index than the one before.</summary>
    public bool IsInOrder { get; private set; } = true;

    /// <summary>The index that one of them had.</summary>
    public int IndexAt(int number) => _indexes is null ? _first + number : _indexes[number];

    /// <summary>Which of them had an index that one of them had.</summary>
    public int NumberOf(int index) => _indexes is null ? index - _first : Array.IndexOf(_indexes, index, 0, Count);

    public ReadOnlySpan<TItem> Items => _items.AsSpan(0, Count);

    public ReadOnlySpan<TKey> Keys => _keys.AsSpan(0, Count);

    /// <summary>Their indexes as a set.</summary>
    public ItemSet SetIn(int universe) => _indexes is null ? ItemSet.None(universe).WithRange(_first, Count)
        : ItemSet.Of(universe, _indexes.AsSpan(0, Count).ToArray());

    public void Add(int index, TItem item, TKey key)
    {
        Place(index, 1);
        (_items[Count], _keys[Count]) = (item, key);
        Count++;
    }

    /// <summary>Adds some that stood together; items and keys are written into where they belong.</summary>
    public void Add(int at, int count, out Span<TItem> items, out Span<TKey> keys)
    {
        Place(at, count);
        items = _items.AsSpan(Count, count);
        keys = _keys.AsSpan(Count, count);
        Count += count;
    }

    // Makes room for some more that stood together.
    private void Place(int at, int count)
    {
        var room = Count + count <= _items.Length ? _items.Length : Count == 0 ? Math.Max(4, count) : Math.Max(2 * Count, Count + count);
        if (room > _items.Length)
        {
            Array.Resize(ref _items, room);
            Array.Resize(ref _keys, room);
        }
        if (Count == 0) _first = at;
        IsInOrder &= Count == 0 || at > IndexAt(Count - 1);
        if (_indexes is null)
        {
            if (at == _first + Count) return;
            _indexes = new int[room];
            for (var i = 0; i < Count; i++) _indexes[i] = _first + i;
        }
        else if (room > _indexes.Length) Array.Resize(ref _indexes, room);
        for (var i = 0; i < count; i++) _indexes[Count + i] = at + i;
    }

    /// <summary>The same in another object.</summary>
    public Departed<TItem, TKey> Copy() => new()
    {
        _first = _first,
        _indexes = _indexes?[..],
        _items = _items[..],
        _keys = _keys[..],
        Count = Count,
        IsInOrder = IsInOrder,
    };

    /// <summary>Puts them into the order of the indexes that they had.</summary>
    public void Sort()
    {
        if (IsInOrder) return;
        var (indexes, order) = (_indexes![..Count], Enumerable.Range(0, Count).ToArray());
        Array.Sort(indexes, order);
        (_indexes, _items, _keys) = (indexes, Array.ConvertAll(order, k => _items[k]), Array.ConvertAll(order, k => _keys[k]));
        IsInOrder = true;
    }
}
