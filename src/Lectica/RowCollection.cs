using System.Collections;
using System.Collections.Specialized;
using System.ComponentModel;
using Lectica.Items;

namespace Lectica;

/// <summary>One item's row for an items-control to bind to: its words, and whether it is selected, both ways.</summary>
public sealed class ListRow<TItem, TKey> : INotifyPropertyChanged where TKey : notnull
{
    private readonly InteractiveList<TItem, TKey> _list;
    private bool _isSelected, _isEnabled;

    internal ListRow(InteractiveList<TItem, TKey> list, TItem item, TKey key, int index)
    {
        (_list, Item, Key) = (list, item, key);
        (_isSelected, _isEnabled) = index < 0 ? (false, false) : (list.Selection.Items.Contains(index), !list.Disabled.Contains(index));
    }

    /// <summary>The item.</summary>
    public TItem Item { get; private set; }

    /// <summary>Its key.</summary>
    public TKey Key { get; }

    /// <summary>What it says.</summary>
    public RowContent Content => _list.IndexOf(Key) is >= 0 and var index ? _list.ContentAt(index) : default;

    /// <summary>Whether it is enabled.</summary>
    public bool IsEnabled => _isEnabled;

    /// <summary>Whether it is selected. Setting what it is already does nothing; where the list refuses, it stays, and says so.</summary>
    public bool IsSelected
    {
        get => _isSelected;
        set
        {
            if (value == _isSelected) return;
            var response = !_list.Options.Policy.SelectsMany && value ? _list.Select(Key) : _list.Toggle(Key);
            // The control shows what it set: where that is refused it is told to look again.
            response.Then(answer =>
            {
                if (!answer.IsHandled) PropertyChanged?.Invoke(this, new(nameof(IsSelected)));
            });
        }
    }

    /// <inheritdoc/>
    public event PropertyChangedEventHandler? PropertyChanged;

    internal void Look(TItem item, int index)
    {
        var (selected, enabled) = (_list.Selection.Items.Contains(index), !_list.Disabled.Contains(index));
        if (!ReferenceEquals(item, Item) && !EqualityComparer<TItem>.Default.Equals(item, Item))
        {
            Item = item;
            PropertyChanged?.Invoke(this, new(nameof(Item)));
            PropertyChanged?.Invoke(this, new(nameof(Content)));
        }
        if (selected != _isSelected)
        {
            _isSelected = selected;
            PropertyChanged?.Invoke(this, new(nameof(IsSelected)));
        }
        if (enabled == _isEnabled) return;
        _isEnabled = enabled;
        PropertyChanged?.Invoke(this, new(nameof(IsEnabled)));
    }
}

/// <summary>
/// The rows on show as an observable list for an items-control. Rows are made as they are asked for and are not kept alive, so a million
/// cost nothing until they are looked at. What became of one row is reported as such: it came, went, changed places, or another one stands
/// in its place. Of more than one, and in a sectioned or sorted list, a reset is reported.
/// </summary>
public sealed class RowCollection<TItem, TKey> : IReadOnlyList<ListRow<TItem, TKey>>, IList, INotifyCollectionChanged, INotifyPropertyChanged, IDisposable
    where TKey : notnull
{
    private readonly InteractiveList<TItem, TKey> _list;
    private readonly Dictionary<TKey, WeakReference<ListRow<TItem, TKey>>> _made = [];
    private readonly List<(Edit Edit, IReadOnlyList<Departed<TItem, TKey>> Left)> _edits = [];
    private RowMap _rows;

    internal RowCollection(InteractiveList<TItem, TKey> list)
    {
        (_list, _rows) = (list, list.Rows);
        list.RowsEdited += Note;
        list.FrameChanged += Follow;
    }

    /// <inheritdoc/>
    public event NotifyCollectionChangedEventHandler? CollectionChanged;

    /// <inheritdoc/>
    public event PropertyChangedEventHandler? PropertyChanged;

    /// <inheritdoc cref="IReadOnlyCollection{T}.Count"/>
    public int Count => _rows.Shown.Count;

    /// <summary>The row of this number among the items on show.</summary>
    /// <exception cref="ArgumentOutOfRangeException">There is no such row.</exception>
    public ListRow<TItem, TKey> this[int row] => RowAt(_rows.IsPlain ? _rows.Shown.Nth(row) : Ordered[row]);

    // In a sectioned or sorted list the order is laid out once for each change, when it is first asked for.
    private int[] Ordered => _ordered ??= [.. _rows.InOrder()];

    private int[]? _ordered;

    private ListRow<TItem, TKey> RowAt(int index) => RowOf(_list[index], _list.KeyAt(index), index);

    private ListRow<TItem, TKey> RowOf(TItem item, TKey key, int index)
    {
        if (_made.TryGetValue(key, out var weak) && weak.TryGetTarget(out var row)) return row;
        row = new(_list, item, key, index);
        _made[key] = new(row);
        return row;
    }

    private void Note(Edit edit, IReadOnlyList<Departed<TItem, TKey>> left) => _edits.Add((edit, left));

    private void Follow(object? sender, EventArgs e)
    {
        var (old, now) = (_rows, _list.Rows);
        (Edit Edit, IReadOnlyList<Departed<TItem, TKey>> Left)[] edits = [.. _edits];
        _rows = now;
        _edits.Clear();
        if (!ReferenceEquals(old, now) || edits.Length > 0)
        {
            _ordered = null;
            if (!old.IsPlain || !now.IsPlain || !TellOne(old.Shown, now.Shown, edits)) Tell(new(NotifyCollectionChangedAction.Reset), true);
        }
        foreach (var (key, weak) in _made)
        {
            var index = _list.IndexOf(key);
            if (index >= 0 && weak.TryGetTarget(out var row)) row.Look(_list[index], index);
            else _made.Remove(key);
        }
    }

    /// <summary>Tells of what became of one row, if no more than that happened.</summary>
    private bool TellOne(ItemSet old, ItemSet now, (Edit Edit, IReadOnlyList<Departed<TItem, TKey>> Left)[] edits)
    {
        if (edits.Length > 1) return false;
        var (followed, came) = (old, now);
        ListRow<TItem, TKey>? gone = null;
        var goneAt = -1;
        if (edits is [var (edit, left)])
        {
            if (edit.Moved is { Count: 1 } moved && old.Count == now.Count && edit.Apply(old).Equals(now))
            {
                var index = edit.Apply(moved.Nth(0));
                if (!now.Contains(index)) return true;
                int from = old.Rank(moved.Nth(0)), to = now.Rank(index);
                if (from != to) Tell(new(NotifyCollectionChangedAction.Move, RowAt(index), to, from), false);
                return true;
            }
            if (edit.AsSplice is null) return false;
            followed = edit.Apply(old);
            var showed = left.Where(l => old.Contains(l.Index)).ToList();
            if (showed.Count > 1) return false;
            if (showed is [var leaver]) (gone, goneAt) = (RowOf(leaver.Item, leaver.Key, -1), old.Rank(leaver.Index));
        }
        // Those that stay, but hide or show now; beside them one that left, if any did.
        ItemSet hid = followed.Except(now), shows = now.Except(followed);
        if (hid.Count + (gone is null ? 0 : 1) > 1 || shows.Count > 1) return false;
        if (hid.Count == 1) (gone, goneAt) = (RowAt(hid.Nth(0)), followed.Rank(hid.Nth(0)));
        var comeAt = shows.Count == 1 ? now.Rank(shows.Nth(0)) : -1;
        if (gone is not null && comeAt == goneAt) Tell(new(NotifyCollectionChangedAction.Replace, RowAt(shows.Nth(0)), gone, goneAt), false);
        else if (gone is not null && comeAt >= 0) return false;
        else if (gone is not null) Tell(new(NotifyCollectionChangedAction.Remove, gone, goneAt), true);
        else if (comeAt >= 0) Tell(new(NotifyCollectionChangedAction.Add, RowAt(shows.Nth(0)), comeAt), true);
        return true;
    }

    private void Tell(NotifyCollectionChangedEventArgs args, bool changesCount)
    {
        if (changesCount) PropertyChanged?.Invoke(this, new(nameof(Count)));
        PropertyChanged?.Invoke(this, new("Item[]"));
        CollectionChanged?.Invoke(this, args);
    }

    /// <summary>Lets the list go.</summary>
    public void Dispose()
    {
        _list.FrameChanged -= Follow;
        _list.RowsEdited -= Note;
    }

    /// <inheritdoc/>
    public IEnumerator<ListRow<TItem, TKey>> GetEnumerator()
    {
        foreach (var index in _rows.InOrder()) yield return RowAt(index);
    }

    IEnumerator IEnumerable.GetEnumerator() => GetEnumerator();

    // The untyped list that items-controls look rows up in without going through them all.
    bool IList.IsFixedSize => false;
    bool IList.IsReadOnly => true;
    bool ICollection.IsSynchronized => false;
    object ICollection.SyncRoot => this;
    object? IList.this[int index] { get => this[index]; set => throw ReadOnly(); }
    bool IList.Contains(object? value) => ((IList)this).IndexOf(value) >= 0;
    int IList.IndexOf(object? value) => value is ListRow<TItem, TKey> row && _list.IndexOf(row.Key) is >= 0 and var index && _rows.Shown.Contains(index) ? (_rows.IsPlain ? _rows.Shown.Rank(index) : Array.IndexOf(Ordered, index)) : -1;
    void ICollection.CopyTo(Array array, int index)
    {
        foreach (var row in this) array.SetValue(row, index++);
    }

    int IList.Add(object? value) => throw ReadOnly();
    void IList.Clear() => throw ReadOnly();
    void IList.Insert(int index, object? value) => throw ReadOnly();
    void IList.Remove(object? value) => throw ReadOnly();
    void IList.RemoveAt(int index) => throw ReadOnly();

    private static NotSupportedException ReadOnly() => new("The rows follow the list: edit its source.");
}
