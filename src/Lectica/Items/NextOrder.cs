namespace Lectica.Items;

/// <summary>Another order of all items, which is worked out in steps while the list has the one before.</summary>
internal interface INextOrder
{
    /// <summary>Whether it is laid out: all that is left is to show it.</summary>
    bool IsLaid { get; }

    /// <summary>Goes on by so many places.</summary>
    /// <returns>Whether it is laid out.</returns>
    bool Step(int places);
}

/// <summary>Such an order by what the app says of two items.</summary>
internal sealed class NextOrder<TItem, TKey> : INextOrder where TKey : notnull
{
    // So many are laid out in the time in which one is compared.
    private const int LaidPerCompared = 8;

    private readonly StepSort _sort;
    private readonly int[] _slots;

    /// <param name="compare">What the app says of two items.</param>
    /// <param name="store">The items.</param>
    /// <param name="sectionOf">The number of an item's section; null in a list without.</param>
    /// <param name="version">The version of the items.</param>
    public NextOrder(Comparison<TItem> compare, ItemStore<TItem, TKey> store, Func<int, int>? sectionOf, long version)
    {
        (Compare, Order, Version) = (compare, new(store, compare), version);
        _sort = Order.SortInSteps(sectionOf);
        _slots = store.SlotsInOrder();
    }

    /// <summary>What the app says of two items.</summary>
    public Comparison<TItem> Compare { get; }

    /// <summary>The order, once it is laid out.</summary>
    public SortedOrder<TItem, TKey> Order { get; }

    /// <summary>The version of the items that it began with.</summary>
    public long Version { get; }

    public bool IsLaid => Order.Count == _slots.Length;

    public bool Step(int places)
    {
        if (!_sort.Step(places)) return false;
        var laid = Order.Count;
        var next = new int[Math.Min(places * LaidPerCompared, _slots.Length - laid)];
        for (var i = 0; i < next.Length; i++) next[i] = _slots[_sort.Sorted[laid + i]];
        Order.Lay(next);
        return IsLaid;
    }
}
