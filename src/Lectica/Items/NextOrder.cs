namespace Lectica.Items;

/// <summary>Another order of all items, which is worked out in steps while the list has the one before.</summary>
internal interface INextOrder
{
    /// <summary>Whether it is laid out: all that is left is to show it.</summary>
    bool IsLaid { get; }

    /// <summary>Goes on by so many places, and lays it out at the end.</summary>
    /// <returns>Whether that is done.</returns>
    bool Step(int places);
}

/// <summary>Such an order by what the app says of two items.</summary>
internal sealed class NextOrder<TItem, TKey> : INextOrder where TKey : notnull
{
    private readonly StepSort _sort;
    private readonly Action _lay;

    /// <param name="compare">What the app says of two items.</param>
    /// <param name="store">The items.</param>
    /// <param name="sectionOf">The number of an item's section; null in a list without.</param>
    /// <param name="version">The version of the items.</param>
    public NextOrder(Comparison<TItem> compare, ItemStore<TItem, TKey> store, Func<int, int>? sectionOf, long version)
    {
        (Compare, Order, Version) = (compare, new(store, compare), version);
        _sort = Order.SortInSteps(sectionOf, out _lay);
    }

    /// <summary>What the app says of two items.</summary>
    public Comparison<TItem> Compare { get; }

    /// <summary>The order, once it is laid out.</summary>
    public SortedOrder<TItem, TKey> Order { get; }

    /// <summary>The version of the items that it began with.</summary>
    public long Version { get; }

    public bool IsLaid { get; private set; }

    public bool Step(int places)
    {
        if (!_sort.Step(places)) return false;
        _lay();
        return IsLaid = true;
    }
}
