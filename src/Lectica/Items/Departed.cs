namespace Lectica.Items;

/// <summary>
/// Items that left, with their keys and the indexes that they had: three arrays side by side, since they may be very many.
/// </summary>
internal sealed class Departed<TItem, TKey>
{
    private int[] _indexes = [];
    private TItem[] _items = [];
    private TKey[] _keys = [];

    public int Count { get; private set; }

    public ReadOnlySpan<int> Indexes => _indexes.AsSpan(0, Count);

    public ReadOnlySpan<TItem> Items => _items.AsSpan(0, Count);

    public ReadOnlySpan<TKey> Keys => _keys.AsSpan(0, Count);

    public void Add(int index, TItem item, TKey key)
    {
        if (Count == _indexes.Length) Reserve(Math.Max(4, 2 * Count));
        (_indexes[Count], _items[Count], _keys[Count]) = (index, item, key);
        Count++;
    }

    /// <summary>Adds some that stood together; items and keys are written into where they belong.</summary>
    public void Add(int at, int count, out Span<TItem> items, out Span<TKey> keys)
    {
        if (Count + count > _indexes.Length) Reserve(Count + count);
        for (var i = 0; i < count; i++) _indexes[Count + i] = at + i;
        items = _items.AsSpan(Count, count);
        keys = _keys.AsSpan(Count, count);
        Count += count;
    }

    private void Reserve(int count)
    {
        Array.Resize(ref _indexes, count);
        Array.Resize(ref _items, count);
        Array.Resize(ref _keys, count);
    }

    /// <summary>The same in another object.</summary>
    public Departed<TItem, TKey> Copy() =>
        new() { _indexes = [.. Indexes], _items = [.. Items], _keys = [.. Keys], Count = Count };

    /// <summary>Puts them into the order of the indexes that they had.</summary>
    public void Sort()
    {
        var (indexes, order) = (Indexes.ToArray(), Enumerable.Range(0, Count).ToArray());
        Array.Sort(indexes, order);
        (_indexes, _items, _keys) = (indexes, Array.ConvertAll(order, k => _items[k]), Array.ConvertAll(order, k => _keys[k]));
    }
}
