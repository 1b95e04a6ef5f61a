namespace Lectica.Items;

/// <summary>An order of items other than the source's.</summary>
internal interface IItemOrder
{
    /// <summary>The number of items.</summary>
    int Count { get; }

    /// <summary>The item at a place. Cost: log.</summary>
    int ItemAt(int place);

    /// <summary>The place of an item. Cost: log.</summary>
    int PlaceOf(int item);
}

/// <summary>
/// The items of a sorted view in their order, by section first and then by the app's comparison; equal ones stand as in the source. Kept as
/// the source's own order is, in blocks under a Fenwick tree: an item that comes in or changes costs the comparisons of a binary search,
/// and log.
/// </summary>
internal sealed class SortedOrder<TItem, TKey>(ItemStore<TItem, TKey> store, Comparison<TItem> compare) : IItemOrder where TKey : notnull
{
    private readonly ItemOrder _order = new(0);

    public int Count => _order.Count;

    public int ItemAt(int place) => store.IndexOfSlot(_order.SlotAt(place));

    public int PlaceOf(int item) => _order.IndexOf(store.SlotAt(item));

    /// <summary>
    /// Lays all items out. <paramref name="sectionOf"/> gives a section's number by index; null in a list without. Cost: a comparison for
    /// each that is in order as it was, and for the rest, such as all at first, n log n of them.
    /// </summary>
    public void Sort(Func<int, int>? sectionOf)
    {
        var compareAt = Compared(sectionOf);
        int[] slots = store.SlotsInOrder();
        var items = InOrder(slots, (a, b) => compareAt(a, b) is var c && c != 0 ? c : a.CompareTo(b));
        for (var i = 0; i < items.Length; i++) items[i] = slots[items[i]];
        _order.Lay(items);
    }

    /// <summary>Begins the same in steps, with those items that there are now, as they are.</summary>
    public StepSort SortInSteps(Func<int, int>? sectionOf) => new(store.Count, Compared(sectionOf));

    /// <summary>Lays out the next ones, behind those that lie already.</summary>
    /// <param name="slots">Where they are stored, in their order.</param>
    public void Lay(ReadOnlySpan<int> slots) => _order.Insert(_order.Count, slots);

    private Comparison<int> Compared(Func<int, int>? sectionOf)
    {
        // At hand by index, because they are compared often.
        TItem[] values = store.ItemsOf(ItemSet.All(store.Count));
        if (sectionOf is null) return (a, b) => compare(values[a], values[b]);
        int[] sections = [.. Enumerable.Range(0, values.Length).Select(sectionOf)];
        return (a, b) => sections[a] != sections[b] ? sections[a].CompareTo(sections[b]) : compare(values[a], values[b]);
    }

    // By what the order was: those that are out of it, and those that are new, are sorted by themselves and put in between.
    private int[] InOrder(int[] slots, Comparison<int> compare)
    {
        var indexes = new int[slots.Length == 0 ? 0 : slots.Max() + 1];
        for (var i = 0; i < slots.Length; i++) indexes[slots[i]] = i + 1;
        List<int> kept = new(slots.Length), loose = [];
        foreach (var slot in _order.ToArray())
        {
            if (slot >= indexes.Length || indexes[slot] == 0) continue;
            var item = indexes[slot] - 1;
            indexes[slot] = 0;
            if (kept.Count == 0 || compare(kept[^1], item) < 0)
            {
                kept.Add(item);
                continue;
            }
            // Which of the two is in the wrong place cannot be told.
            loose.Add(kept[^1]);
            loose.Add(item);
            kept.RemoveAt(kept.Count - 1);
        }
        foreach (var item in indexes)
            if (item > 0) loose.Add(item - 1);
        loose.Sort(compare);
        if (kept.Count == 0) return [.. loose];
        var merged = new int[slots.Length];
        for (int n = 0, k = 0, l = 0; n < merged.Length; n++)
            merged[n] = l == loose.Count || (k < kept.Count && compare(kept[k], loose[l]) < 0) ? kept[k++] : loose[l++];
        return merged;
    }

    /// <summary>Whether the item of a slot is in it.</summary>
    public bool Contains(int slot) => _order.Contains(slot);

    /// <summary>Takes over another order of the same items.</summary>
    public void Take(SortedOrder<TItem, TKey> other) => _order.Lay(other._order.ToArray());

    /// <summary>Takes the item of a slot out; gives the place where it was.</summary>
    public int Remove(int slot)
    {
        var place = _order.IndexOf(slot);
        _order.RemoveRange(place, 1);
        return place;
    }

    /// <summary>
    /// Puts an item between those of places <paramref name="from"/> to <paramref name="to"/> - 1, which are in order: its section. Gives
    /// its place.
    /// </summary>
    public int Insert(int item, int from, int to)
    {
        var value = store.ItemAt(item);
        while (from < to)
        {
            var middle = (from + to) / 2;
            var slot = _order.SlotAt(middle);
            var c = compare(store.ItemIn(slot), value);
            if (c == 0) c = store.IndexOfSlot(slot).CompareTo(item);
            if (c < 0) from = middle + 1;
            else to = middle;
        }
        _order.Insert(from, [store.SlotAt(item)]);
        return from;
    }

    /// <summary>Puts an item at a place, where the app cannot compare it.</summary>
    public void InsertAt(int item, int place) => _order.Insert(place, [store.SlotAt(item)]);
}
