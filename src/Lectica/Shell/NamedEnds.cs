using System.Collections.Immutable;
using Lectica.Items;
using Lectica.Selecting;

namespace Lectica.Shell;

/// <summary>
/// The items at the ends of what is selected of a source that is not in memory. They are kept for as long as the selection names them, so
/// that the source can be told what is meant, and asked where its ends are now.
/// </summary>
internal sealed class NamedEnds<TItem, TKey>(ItemStore<TItem, TKey> store) where TKey : notnull
{
    private ImmutableDictionary<long, (TItem Item, TKey Key)> _items = ImmutableDictionary<long, (TItem, TKey)>.Empty;
    private SelectionTerms? _for;

    /// <summary>Whether all that can be known of these terms is.</summary>
    public bool AreFor(SelectionTerms terms) => ReferenceEquals(_for, terms);

    /// <summary>Of these terms no more is to be read.</summary>
    public void SettleFor(SelectionTerms? terms) => _for = terms;

    public bool TryGet(Bound bound, out (TItem Item, TKey Key) named) => _items.TryGetValue(bound.Id, out named);

    public bool Has(Bound bound) => _items.ContainsKey(bound.Id);

    public (TItem Item, TKey Key) this[Bound bound] => _items[bound.Id];

    /// <summary>Puts an item down that was read for an end.</summary>
    public void Name(Bound bound, TItem item, TKey key) => _items = _items.SetItem(bound.Id, (item, key));

    /// <summary>Keeps the items at the ends of these terms, and no others.</summary>
    /// <returns>The ends whose items have not been read.</returns>
    public IReadOnlyCollection<Bound> KeepFor(SelectionTerms terms)
    {
        var kept = ImmutableDictionary.CreateBuilder<long, (TItem, TKey)>();
        var unread = new Dictionary<long, Bound>();
        foreach (var bound in terms.Bounds)
        {
            if (_items.TryGetValue(bound.Id, out var known)) kept[bound.Id] = known;
            else if (bound.Index < 0 || bound.Index >= store.Count) continue;
            else if (store.Has(bound.Index)) kept[bound.Id] = (store.ItemAt(bound.Index), store.KeptKeyAt(bound.Index));
            else unread[bound.Id] = bound;
        }
        _items = kept.ToImmutable();
        if (unread.Count == 0) _for = terms;
        return unread.Values;
    }

    /// <summary>The items of these terms that are known, also of what was said last.</summary>
    public ImmutableDictionary<long, (TItem Item, TKey Key)> Of(SelectionTerms terms)
    {
        var items = _items;
        if (AreFor(terms)) return items;
        foreach (var bound in terms.Bounds)
            if (!items.ContainsKey(bound.Id) && bound.Index >= 0 && store.Has(bound.Index))
                items = items.SetItem(bound.Id, (store.ItemAt(bound.Index), store.KeptKeyAt(bound.Index)));
        return items;
    }

    public void Clear() => (_items, _for) = (_items.Clear(), null);
}
