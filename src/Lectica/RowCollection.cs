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
        (_isSelected, _isEnabled) = (list.Selection.Items.Contains(index), !list.Disabled.Contains(index));
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
            var single = _list.Options.Mode != Acts.SelectionMode.Multiple;
            var response = single && value ? _list.Select(Key) : _list.Toggle(Key);
            // The control shows what it set: it is told to look again.
            if (!response.IsHandled) PropertyChanged?.Invoke(this, new(nameof(IsSelected)));
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
/// The rows on show as an observable list for an items-control. Rows are made as they are asked for and are not kept alive, so a
/// million cost nothing until they are looked at. An edit of one row is reported as such, larger ones as a reset.
/// </summary>
public sealed class RowCollection<TItem, TKey> : IReadOnlyList<ListRow<TItem, TKey>>, IList, INotifyCollectionChanged, INotifyPropertyChanged, IDisposable
    where TKey : notnull
{
    private readonly InteractiveList<TItem, TKey> _list;
    private readonly Dictionary<TKey, WeakReference<ListRow<TItem, TKey>>> _made = [];
    private readonly List<Edit> _edits = [];
    private RowMap _rows;

    internal RowCollection(InteractiveList<TItem, TKey> list)
    {
        (_list, _rows) = (list, list.Rows);
        list.RowsEdited += _edits.Add;
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

    private ListRow<TItem, TKey> RowAt(int index)
    {
        var key = _list.KeyAt(index);
        if (_made.TryGetValue(key, out var weak) && weak.TryGetTarget(out var row)) return row;
        row = new(_list, _list[index], key, index);
        _made[key] = new(row);
        return row;
    }

    private void Follow(object? sender, EventArgs e)
    {
        var (old, now) = (_rows, _list.Rows);
        _rows = now;
        var edits = _edits.ToArray();
        _edits.Clear();
        if (!ReferenceEquals(old, now))
        {
            _ordered = null;
            if (old.IsPlain && now.IsPlain) Tell(old.Shown, now.Shown, edits);
            else
            {
                PropertyChanged?.Invoke(this, new(nameof(Count)));
                CollectionChanged?.Invoke(this, new(NotifyCollectionChangedAction.Reset));
            }
        }
        foreach (var (key, weak) in _made)
        {
            var index = _list.IndexOf(key);
            if (index >= 0 && weak.TryGetTarget(out var row)) row.Look(_list[index], index);
            else _made.Remove(key);
        }
    }

    private void Tell(ItemSet old, ItemSet now, Edit[] edits)
    {
        // Where the rows differ: the window of one splice, or of the filter's difference; of anything else the whole.
        int at = 0, removed = old.Length, inserted = now.Length;
        if (edits is [{ AsSplice: { } splice }]) (at, removed, inserted) = splice;
        else if (edits.Length == 0)
        {
            var window = now.DifferenceFrom(old);
            if (window.IsEmpty) return;
            (at, removed, inserted) = (window.Start, window.OldLength, window.NewLength);
        }
        int row = now.Rank(at), gone = old.CountIn(at, removed), come = now.CountIn(at, inserted);
        if (gone == 0 && come == 0) return;
        PropertyChanged?.Invoke(this, new(nameof(Count)));
        if (CollectionChanged is not { } tell) return;
        // Several at once do not fit: while the first is told, the list would already hold what the last says.
        if (gone + come > 1) tell(this, new(NotifyCollectionChangedAction.Reset));
        else if (come == 1) tell(this, new(NotifyCollectionChangedAction.Add, this[row], row));
        else tell(this, new(NotifyCollectionChangedAction.Remove, Gone(edits, at), row));
    }

    /// <summary>The row that left, if it was ever made: then it is still known by a key that shows no longer.</summary>
    private ListRow<TItem, TKey>? Gone(Edit[] edits, int at)
    {
        if (edits.Length == 0) return RowAt(at);
        foreach (var (key, weak) in _made)
            if (_list.IndexOf(key) < 0 && weak.TryGetTarget(out var row)) return row;
        return null;
    }

    /// <summary>Lets the list go.</summary>
    public void Dispose()
    {
        _list.FrameChanged -= Follow;
        _list.RowsEdited -= _edits.Add;
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
