using System.Collections;
using System.Collections.Specialized;
using System.ComponentModel;
using Lectica.Items;

namespace Lectica;

/// <summary>
/// The rows on show as an observable list for an items-control. Rows are made as they are asked for and are not kept alive, so a million
/// cost nothing until they are looked at. What became of one row is reported as such: it came, went, changed places, or another one stands
/// in its place. Of rows that others stand in the place of it is reported one by one, up to 64 of them; of all else that is more than one
/// row, a reset is reported.
/// </summary>
public sealed class RowCollection<TItem, TKey>
    : IReadOnlyList<ListRow<TItem, TKey>>, IList, INotifyCollectionChanged, INotifyPropertyChanged, IDisposable
    where TKey : notnull
{
    // More rows at once than this are looked at again sooner than one by one.
    private const int Few = 64;

    private readonly InteractiveList<TItem, TKey> _list;
    private readonly Dictionary<TKey, WeakReference<ListRow<TItem, TKey>>> _made = [];
    private readonly List<(Edit Edit, Departed<TItem, TKey> Left)> _edits = [];
    private readonly string? _section;
    private ItemSet _members;
    private bool _isInSourceOrder;

    /// <param name="list">The list.</param>
    /// <param name="section">The section whose rows they are; all where null.</param>
    internal RowCollection(InteractiveList<TItem, TKey> list, string? section = null)
    {
        (_list, _section) = (list, section);
        (_members, _isInSourceOrder) = Now();
        list.RowsEdited += Note;
        list.FrameChanged += Follow;
    }

    /// <inheritdoc/>
    public event NotifyCollectionChangedEventHandler? CollectionChanged;

    /// <inheritdoc/>
    public event PropertyChangedEventHandler? PropertyChanged;

    /// <inheritdoc cref="IReadOnlyCollection{T}.Count"/>
    public int Count => _members.Count;

    /// <summary>The row of this number among the items on show.</summary>
    /// <exception cref="ArgumentOutOfRangeException">There is no such row.</exception>
    public ListRow<TItem, TKey> this[int row] => RowAt(_isInSourceOrder ? _members.Nth(row) : Ordered[row]);

    // In another order than the source's it is laid out once for each change, when it is first asked for.
    private int[] Ordered => _ordered ??= OrderNow();

    private int[]? _ordered;

    private int SectionNow => _section is null ? -1 : _list.Rows.SectionWith(_section);

    private int[] OrderNow() => _section is null ? [.. _list.Rows.InOrder()] : [.. _list.Rows.InOrder(SectionNow).Where(_members.Contains)];

    /// <summary>The items whose rows they are now: none of a section that is collapsed, or gone.</summary>
    private (ItemSet Members, bool IsInSourceOrder) Now()
    {
        var rows = _list.Rows;
        if (_section is null) return (rows.MembersOf(-1), rows.IsPlain);
        var at = SectionNow;
        return (at < 0 || rows.Sections[at].IsCollapsed ? ItemSet.None(rows.Shown.Universe) : rows.ShownIn(at), !rows.IsSorted);
    }

    private ListRow<TItem, TKey> RowAt(int index)
    {
        if (_list.IsRead(index)) return RowOf(_list[index], _list.KeyAt(index), index);
        if (_waiting.TryGetValue(index, out var weak) && weak.TryGetTarget(out var row)) return row;
        row = new(_list, index);
        _waiting[index] = new(row);
        return row;
    }

    // Rows whose items have still to be read, by index.
    private Dictionary<int, WeakReference<ListRow<TItem, TKey>>> _waiting = [];

    private void LookAtWaiting((Edit Edit, Departed<TItem, TKey> Left)[] edits)
    {
        var waiting = new Dictionary<int, WeakReference<ListRow<TItem, TKey>>>();
        foreach (var (index, weak) in _waiting)
        {
            var now = index;
            foreach (var (edit, _) in edits) now = edit.Apply(now);
            if (now < 0 || now >= _list.Count || !weak.TryGetTarget(out var row)) continue;
            if (!_list.IsRead(now))
            {
                waiting[now] = weak;
                row.WaitAt(now);
                continue;
            }
            var key = _list.KeyAt(now);
            row.Arrive(_list[now], key, now);
            _made[key] = weak;
        }
        _waiting = waiting;
    }

    private ListRow<TItem, TKey> RowOf(TItem item, TKey key, int index)
    {
        if (_made.TryGetValue(key, out var weak) && weak.TryGetTarget(out var row)) return row;
        row = new(_list, item, key, index);
        _made[key] = new(row);
        return row;
    }

    private void Note(Edit edit, Departed<TItem, TKey> left) => _edits.Add((edit, left));

    private void Follow(object? sender, EventArgs e)
    {
        var (old, wasInSourceOrder, order) = (_members, _isInSourceOrder, _ordered);
        (Edit Edit, Departed<TItem, TKey> Left)[] edits = [.. _edits];
        (_members, _isInSourceOrder) = Now();
        _edits.Clear();
        // Another order of the same items has no set of its own.
        if (!ReferenceEquals(old, _members) || edits.Length > 0 || !_isInSourceOrder || !wasInSourceOrder)
        {
            _ordered = null;
            var isTold = _isInSourceOrder && wasInSourceOrder ? TellOne(old, _members, edits)
                : !_isInSourceOrder && !wasInSourceOrder && order is not null ? TellOneByOrder(order, Ordered, edits)
                : old.IsEmpty && _members.IsEmpty;
            if (!isTold) Tell(new(NotifyCollectionChangedAction.Reset), true);
        }
        if (_waiting.Count > 0) LookAtWaiting(edits);
        foreach (var (key, weak) in _made)
        {
            var index = _list.IndexOf(key);
            if (index >= 0 && weak.TryGetTarget(out var row)) row.LookAgain(_list[index], index);
            else _made.Remove(key);
        }
    }

    /// <summary>
    /// The same of rows in another order than the source's: what stays at both ends is left out of account. Cost: the rows.
    /// </summary>
    private bool TellOneByOrder(int[] old, int[] now, (Edit Edit, Departed<TItem, TKey> Left)[] edits)
    {
        if (edits.Length > 1) return false;
        int[] before = edits is [var (edit, _)] ? [.. old.Select(edit.Apply)] : old;
        var start = 0;
        while (start < before.Length && start < now.Length && before[start] == now[start]) start++;
        var end = 0;
        while (end < before.Length - start && end < now.Length - start && before[^(end + 1)] == now[^(end + 1)]) end++;
        ReadOnlySpan<int> was = before.AsSpan(start, before.Length - start - end), become = now.AsSpan(start, now.Length - start - end);
        if (was.Length == 1 && become.Length <= 1)
        {
            var gone = was[0] >= 0 ? RowAt(was[0]) : RowThatLeft(edits[0].Left, old[start]);
            if (become.Length == 0) Tell(new(NotifyCollectionChangedAction.Remove, gone, start), true);
            else Tell(new(NotifyCollectionChangedAction.Replace, RowAt(become[0]), gone, start), false);
            return true;
        }
        if (was.Length == 0 && become.Length <= 1)
        {
            if (become.Length == 1) Tell(new(NotifyCollectionChangedAction.Add, RowAt(become[0]), start), true);
            return true;
        }
        if (was.Length != become.Length) return false;
        if (was.Length <= Few && !was.ContainsAny(become))
        {
            ListRow<TItem, TKey>[] gone =
                [.. was.ToArray().Select((index, i) => index >= 0 ? RowAt(index) : RowThatLeft(edits[0].Left, old[start + i]))];
            TellReplaced(gone, become.ToArray(), start);
            return true;
        }
        var last = was.Length - 1;
        if (was[0] == become[last] && was[1..].SequenceEqual(become[..last]))
            Tell(new(NotifyCollectionChangedAction.Move, RowAt(was[0]), start + last, start), false);
        else if (was[last] == become[0] && was[..last].SequenceEqual(become[1..]))
            Tell(new(NotifyCollectionChangedAction.Move, RowAt(was[last]), start, start + last), false);
        else return false;
        return true;
    }

    private ListRow<TItem, TKey> RowThatLeft(Departed<TItem, TKey> left, int index)
    {
        var number = left.NumberOf(index);
        return RowOf(left.Items[number], left.Keys[number], -1);
    }

    /// <summary>Others stand in the place of these: the number of rows stays, so that each can be told by itself.</summary>
    private void TellReplaced(ListRow<TItem, TKey>[] gone, int[] come, int start)
    {
        for (var i = 0; i < come.Length; i++) Tell(new(NotifyCollectionChangedAction.Replace, RowAt(come[i]), gone[i], start + i), false);
    }

    /// <summary>Tells of what became of one row, or of rows that were replaced, if no more than that happened.</summary>
    private bool TellOne(ItemSet old, ItemSet now, (Edit Edit, Departed<TItem, TKey> Left)[] edits)
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
            var leavers = left.SetIn(edit.OldLength).Intersect(old);
            if (leavers.Count > Few) return false;
            int[] showed = [.. leavers];
            if (showed.Length > 1)
            {
                var others = now.Except(followed);
                if (others.Count != showed.Length || followed.Except(now).Count > 0) return false;
                int[] come = [.. others];
                if (showed.Where((index, i) => old.Rank(index) != now.Rank(come[i])).Any()) return false;
                TellReplaced([.. showed.Select(index => RowThatLeft(left, index))], come, now.Rank(come[0]));
                return true;
            }
            if (showed is [var leaver]) (gone, goneAt) = (RowThatLeft(left, leaver), old.Rank(leaver));
        }
        // Those that stay, but hide or show now; beside them one that left, if any did.
        ItemSet hid = followed.Except(now), shows = now.Except(followed);
        if (hid.Count + (gone is null ? 0 : 1) > 1 || shows.Count > 1) return false;
        if (hid.Count == 1) (gone, goneAt) = (RowAt(hid.Nth(0)), followed.Rank(hid.Nth(0)));
        var comeAt = shows.Count == 1 ? now.Rank(shows.Nth(0)) : -1;
        if (gone is not null && comeAt == goneAt)
            Tell(new(NotifyCollectionChangedAction.Replace, RowAt(shows.Nth(0)), gone, goneAt), false);
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
        foreach (var index in _isInSourceOrder ? _members : Ordered.AsEnumerable()) yield return RowAt(index);
    }

    IEnumerator IEnumerable.GetEnumerator() => GetEnumerator();

    // The untyped list that items-controls look rows up in without going through them all.
    bool IList.IsFixedSize => false;
    bool IList.IsReadOnly => true;
    bool ICollection.IsSynchronized => false;
    object ICollection.SyncRoot => this;
    object? IList.this[int index] { get => this[index]; set => throw ReadOnly(); }
    bool IList.Contains(object? value) => ((IList)this).IndexOf(value) >= 0;
    int IList.IndexOf(object? value) =>
        value is not ListRow<TItem, TKey> row || _list.IndexOf(row.Key) is not (>= 0 and var index) || !_members.Contains(index) ? -1
        : _isInSourceOrder ? _members.Rank(index) : Array.IndexOf(Ordered, index);
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
