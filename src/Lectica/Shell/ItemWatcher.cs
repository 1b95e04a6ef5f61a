using System.ComponentModel;
using Lectica.Items;

namespace Lectica.Shell;

/// <summary>
/// Listens to items that tell of their changes (<see cref="INotifyPropertyChanged"/>): what they say, show and are marked with is read
/// again. Each item that is in the list has one listener, for as long as it is there.
/// </summary>
internal sealed class ItemWatcher<TItem, TKey>(Core core, Turns turns, ItemStore<TItem, TKey> store) where TKey : notnull
{
    /// <summary>Whether items tell of their changes.</summary>
    public static readonly bool Tells = typeof(INotifyPropertyChanged).IsAssignableFrom(typeof(TItem)) && !typeof(TItem).IsValueType;

    private readonly HashSet<TItem> _late = new(Identity.Instance), _elsewhere = new(Identity.Instance);
    private readonly Lock _lock = new();
    private HashSet<TItem>? _written;
    private PropertyChangedEventHandler? _handler;

    /// <summary>Items are told apart as objects, whatever they say of being equal.</summary>
    private sealed class Identity : IEqualityComparer<TItem>
    {
        public static readonly Identity Instance = new();

        public bool Equals(TItem? x, TItem? y) => ReferenceEquals(x, y);

        public int GetHashCode(TItem obj) => System.Runtime.CompilerServices.RuntimeHelpers.GetHashCode(obj);
    }

    /// <summary>Reads items again.</summary>
    public Action<ItemSet> Read { get; set; } = _ => { };

    /// <summary>The item that the list itself is writing to: what it tells of that is known.</summary>
    public object? Written { get; set; }

    /// <summary>The same of several items at once; null where the list does not write any more.</summary>
    public void IsWriting(TItem[]? items) =>
        (Written, _written) = (null, items is null || !Tells ? null : new(items, Identity.Instance));

    private PropertyChangedEventHandler Handler => _handler ??= Changed;

    /// <summary>Listens to all items.</summary>
    public void FollowAll()
    {
        if (!Tells) return;
        for (var i = 0; i < store.Count; i++) Listen(store.ItemAt(i), true);
    }

    /// <summary>Listens to none any more.</summary>
    public void LetAll()
    {
        if (!Tells) return;
        _known = Nothing;
        foreach (var i in store.Pages?.Indexes ?? Enumerable.Range(0, store.Count)) Listen(store.ItemAt(i), false);
    }

    /// <summary>Listens to items that came in.</summary>
    public void Follow(int at, int count)
    {
        if (!Tells) return;
        for (var i = at; i < at + count; i++) Listen(store.ItemAt(i), true);
    }

    /// <summary>The items of a stretch that are listened to.</summary>
    public TItem[] Has(int at, int count) =>
        Tells && at >= 0 && at <= store.Count - count ? [.. Enumerable.Range(at, count).Select(store.ItemAt)] : [];

    /// <summary>Lets items go that have left.</summary>
    public void Let(TItem[] items)
    {
        _known = Nothing;
        foreach (var item in items) Listen(item, false);
    }

    /// <summary>Listens to an item that has come, or no longer to one that has left.</summary>
    public void Listen(TItem item, bool on)
    {
        if (!Tells || item is not INotifyPropertyChanged told) return;
        if (on) told.PropertyChanged += Handler;
        else told.PropertyChanged -= Handler;
    }

    private void Changed(object? sender, PropertyChangedEventArgs e)
    {
        if (turns.IsDisposed || sender is not TItem item) return;
        if (!turns.IsHere)
        {
            // Each item waits once, however often it tells, in the order in which they first told.
            lock (_lock) _elsewhere.Add(item);
            turns.CallHome();
            return;
        }
        if (ReferenceEquals(sender, Written) || _written?.Contains(item) == true) return;
        _late.Add(item);
        if (turns.IsBusy || turns.IsBatching || core.App.IsAsking) return;
        // What is late is read as the turn ends, or the batch.
        turns.Flush();
    }

    /// <summary>Whether items changed that have not been read yet.</summary>
    public bool HasLate => _late.Count > 0;

    /// <summary>Reads the items that have told of changes on other threads.</summary>
    public void TakeArrived()
    {
        lock (_lock)
        {
            if (_elsewhere.Count == 0) return;
            _late.UnionWith(_elsewhere);
            _elsewhere.Clear();
        }
        TakeLate();
    }

    /// <summary>Reads the items that changed while something else was going on, all at once.</summary>
    public void TakeLate()
    {
        if (_late.Count == 0 || core.App.IsAsking) return;
        TItem[] late = [.. _late];
        _late.Clear();
        int[] items = [.. late.SelectMany(i => core.App.Ask(IndexesOf, i, []))];
        if (items.Length > 0) Read(ItemSet.Of(store.Count, items));
    }

    // Where items without keys are, as long as there is no edit: each is looked for among all, until several have been.
    private (long Moment, int Asked, ILookup<TItem, int>? Places) _known = Nothing;
    private static readonly (long Moment, int Asked, ILookup<TItem, int>? Places) Nothing = (-1, 0, null);
    private const int Few = 4;

    private int[] IndexesOf(TItem item)
    {
        if (store.HasOwnKeys) return [.. store.IndexesOf(item)];
        if (_known.Moment != core.Moment.Number) _known = (core.Moment.Number, 0, null);
        if (_known.Places is null && ++_known.Asked > Few)
            _known.Places = Enumerable.Range(0, store.Count).ToLookup(store.ItemAt, Identity.Instance);
        return [.. _known.Places?[item] ?? store.IndexesOf(item)];
    }
}
