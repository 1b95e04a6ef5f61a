using System.Collections.Immutable;

namespace Lectica.Sources;

/// <summary>What a term of a condition is about.</summary>
public enum TermKind
{
    /// <summary>The item with a key.</summary>
    Key,

    /// <summary>All items from one to another in the source's order, both of them included.</summary>
    Interval,

    /// <summary>All items of a section.</summary>
    Section,
}

/// <summary>A term of a condition: some items, taken in or out.</summary>
/// <param name="Kind">What it is about.</param>
/// <param name="IsIn">Whether they are taken in; else out.</param>
public sealed record ConditionTerm<TItem, TKey>(TermKind Kind, bool IsIn)
{
    /// <summary>Of a key term: the key.</summary>
    public TKey? Key { get; init; }

    /// <summary>
    /// Of an interval: the item that it begins with, as it was read. Its place in the order counts, also where the item has left.
    /// </summary>
    public Box<TItem>? From { get; init; }

    /// <summary>Of an interval: the item that it ends with.</summary>
    public Box<TItem>? To { get; init; }

    /// <summary>Of a section term: the section's key.</summary>
    public string? Section { get; init; }
}

/// <summary>
/// Which items are meant, said in a way that a source can work out by itself, also for those that were never read: all of them or none, and
/// then term by term what is taken in or out; of two terms about one item the later counts. It stays what it is while items come and go: a
/// new one between the ends of an interval is in it. Its size goes with what the user did, not with how many items it means.
/// </summary>
public sealed class Condition<TItem, TKey>(
    IPagedSource<TItem, TKey> source, bool startsWithAll, ImmutableArray<ConditionTerm<TItem, TKey>> terms)
{
    /// <summary>Whose order and items it is about.</summary>
    public IPagedSource<TItem, TKey> Source { get; } = source;

    /// <summary>Whether an item that no term is about is meant.</summary>
    public bool StartsWithAll { get; } = startsWithAll;

    /// <summary>The terms, in order.</summary>
    public ImmutableArray<ConditionTerm<TItem, TKey>> Terms { get; } = terms;

    /// <summary>
    /// Which of the source's items showed when it was said, as the source had told (<see cref="PageAnswer{TItem}.Scope"/>): no others are
    /// meant, whatever shows by the time that it is worked out. Null for all of them.
    /// </summary>
    public object? Scope { get; init; }

    /// <summary>
    /// Whether it means an item: for sources that have their items at hand, and for tests. Cost: a look at each term, from the last on.
    /// </summary>
    /// <param name="item">The item, of those in its <see cref="Scope"/>.</param>
    /// <param name="key">Its key.</param>
    /// <param name="order">The source's order.</param>
    /// <param name="sectionOf">The section of an item; null in a source without.</param>
    public bool Means(TItem item, TKey key, Comparison<TItem> order, Func<TItem, string>? sectionOf = null)
    {
        ArgumentNullException.ThrowIfNull(order);
        for (var i = Terms.Length - 1; i >= 0; i--)
        {
            var term = Terms[i];
            var isAbout = term.Kind switch
            {
                TermKind.Key => EqualityComparer<TKey>.Default.Equals(term.Key, key),
                TermKind.Section => sectionOf?.Invoke(item) == term.Section,
                _ => order(term.From!.Item, item) <= 0 && order(item, term.To!.Item) <= 0,
            };
            if (isAbout) return term.IsIn;
        }
        return StartsWithAll;
    }
}
