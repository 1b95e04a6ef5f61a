using Lectica.Acts;
using Lectica.Items;
using Lectica.States;

namespace Lectica.Shell;

/// <summary>Items that the list itself has put into the source, or taken out: taken back they go, or come to where they were.</summary>
/// <param name="list">The list.</param>
/// <param name="marker">Who knows the marks that they have again.</param>
/// <param name="items">The items.</param>
/// <param name="keys">Their keys.</param>
/// <param name="away">Where they were; null of items that are there.</param>
/// <param name="name">What it is called.</param>
internal sealed class InOrOutStep<TItem, TKey>(
    Transfers<TItem, TKey> list, Marker<TItem, TKey> marker, TItem[] items, TKey[] keys, ReturnPlaces<TItem, TKey>? away, string name)
    : UndoStep(name) where TKey : notnull
{
    private readonly EditLog _moment = list.Core.Moment;

    private Dictionary<string, TKey[]> Marks { get; init; } = [];

    /// <summary>Takes items out.</summary>
    /// <param name="list">The list.</param>
    /// <param name="marker">Who knows the marks that they have.</param>
    /// <param name="set">The items.</param>
    /// <param name="name">What it is called.</param>
    /// <param name="step">What puts them back.</param>
    /// <param name="known">The items and their keys, where they have been read already.</param>
    /// <returns>Why it was not done; null where it was.</returns>
    public static Refusal? TakeOut(
        Transfers<TItem, TKey> list, Marker<TItem, TKey> marker, ItemSet set, string name, out UndoStep step,
            (TItem[] Items, TKey[] Keys)? known = null)
    {
        var (items, keys, marks) = list.Core.App.Ask(
            () => (known?.Items ?? list.Store.ItemsOf(set), known?.Keys ?? list.Store.KeptKeysOf(set), marker.KeptOf(set)));
        var places = ReturnPlaces<TItem, TKey>.Of(list.Store, set, list.Core.Moment);
        var refusal = list.Splicer.TakeOut(set, items, keys);
        if (refusal is null) places.Settle(ItemSet.None(keys.Length), keys);
        step = new InOrOutStep<TItem, TKey>(list, marker, items, keys, places, name) { Marks = marks };
        return refusal;
    }

    public override Refusal? Apply(ActKind kind, out UndoStep inverse)
    {
        inverse = this;
        if (away is null)
        {
            if (!_moment.IsNow && list.WhyGone(items, keys) is { } gone) return gone;
            return TakeOut(list, marker, list.ItemsWith(keys), Name, out inverse);
        }
        if (!_moment.IsNow && list.WhyThere(items) is { } there) return there;
        var now = keys;
        if (list.Store.HasOwnKeys && away.Runs is { } runs)
        {
            if (list.Splicer.PutIn(items, runs) is { } refusal) return refusal;
        }
        else
        {
            var at = ReturnPlaces<TItem, TKey>.Indexes(away.Gaps([.. Enumerable.Range(0, items.Length)], ItemSet.None(list.Store.Count)));
            if (list.Splicer.PutIn(items, at) is { } refusal) return refusal;
            now = list.KeysAgain(keys, at);
        }
        marker.PutAgain(Marks);
        inverse = new InOrOutStep<TItem, TKey>(list, marker, items, now, null, Name);
        return null;
    }
}
