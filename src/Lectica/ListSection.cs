using System.Collections;
using System.Collections.Specialized;
using System.ComponentModel;
using Lectica.Items;
using Lectica.Selecting;

namespace Lectica;

/// <summary>
/// A section for an items-control that groups: its heading, and its rows. As a sequence it is its rows, which are none while it is
/// collapsed. What can be set is set both ways.
/// </summary>
public sealed class ListSection<TItem, TKey>
    : IEnumerable<ListRow<TItem, TKey>>, INotifyCollectionChanged, INotifyPropertyChanged, IDisposable where TKey : notnull
{
    private readonly InteractiveList<TItem, TKey> _list;
    private (string Title, int Count, TriState State, bool IsCollapsed) _look;

    internal ListSection(InteractiveList<TItem, TKey> list, string key)
    {
        (_list, Key, Rows) = (list, key, new(list, key));
        _look = LookNow();
        Rows.CollectionChanged += (_, e) => CollectionChanged?.Invoke(this, e);
    }

    /// <summary>By which it is known.</summary>
    public string Key { get; }

    /// <summary>What its heading says.</summary>
    public string Title => _look.Title;

    /// <summary>How many of its items show, or would if it were not collapsed.</summary>
    public int ItemCount => _look.Count;

    /// <summary>Whether all, some or none of those that can be are selected.</summary>
    public TriState State => _look.State;

    /// <summary>The same for a box with three states: null for some. Setting it selects all of them, or none.</summary>
    public bool? IsSelected
    {
        get => State switch { TriState.On => true, TriState.Off => false, _ => null };
        set
        {
            if (value is not { } on || value == IsSelected) return;
            using (_list.Batch())
            {
                var response = _list.ToggleSection(Key);
                // Some are selected, and none is to be: the box goes through all.
                if (response.IsHandled && !on && State == TriState.Mixed) _list.ToggleSection(Key);
                if (!response.IsHandled) Tell(nameof(IsSelected));
            }
        }
    }

    /// <summary>Whether its rows are put away.</summary>
    public bool IsCollapsed
    {
        get => _look.IsCollapsed;
        set
        {
            if (value != IsCollapsed) _list.CollapseOrExpand(Key);
        }
    }

    /// <summary>Its rows.</summary>
    public RowCollection<TItem, TKey> Rows { get; }

    /// <inheritdoc/>
    public event NotifyCollectionChangedEventHandler? CollectionChanged;

    /// <inheritdoc/>
    public event PropertyChangedEventHandler? PropertyChanged;

    private void Tell(string property) => PropertyChanged?.Invoke(this, new(property));

    private (string Title, int Count, TriState State, bool IsCollapsed) LookNow()
    {
        var rows = _list.Rows;
        var at = rows.SectionWith(Key);
        if (at < 0) return (Key, 0, TriState.Off, false);
        var (count, state) = _list.SectionState(Key);
        return (rows.Sections[at].Title, count, state, rows.Sections[at].IsCollapsed);
    }

    internal void LookAgain()
    {
        var (old, now) = (_look, LookNow());
        _look = now;
        if (now.Title != old.Title) Tell(nameof(Title));
        if (now.Count != old.Count) Tell(nameof(ItemCount));
        if (now.IsCollapsed != old.IsCollapsed) Tell(nameof(IsCollapsed));
        if (now.State == old.State) return;
        Tell(nameof(State));
        Tell(nameof(IsSelected));
    }

    /// <inheritdoc/>
    public IEnumerator<ListRow<TItem, TKey>> GetEnumerator() => Rows.GetEnumerator();

    IEnumerator IEnumerable.GetEnumerator() => GetEnumerator();

    /// <summary>Lets the list go.</summary>
    public void Dispose() => Rows.Dispose();
}

/// <summary>
/// The sections with a heading as an observable list, for an items-control that groups; none in a list without sections. Dispose of it with
/// the control. A section that came or went is reported as such, of more a reset.
/// </summary>
public sealed class SectionCollection<TItem, TKey>
    : IReadOnlyList<ListSection<TItem, TKey>>, INotifyCollectionChanged, INotifyPropertyChanged, IDisposable where TKey : notnull
{
    private readonly InteractiveList<TItem, TKey> _list;
    private readonly List<ListSection<TItem, TKey>> _sections = [];

    internal SectionCollection(InteractiveList<TItem, TKey> list)
    {
        _list = list;
        _sections.AddRange(KeysNow().Select(k => new ListSection<TItem, TKey>(list, k)));
        list.FrameChanged += Follow;
    }

    /// <inheritdoc/>
    public event NotifyCollectionChangedEventHandler? CollectionChanged;

    /// <inheritdoc/>
    public event PropertyChangedEventHandler? PropertyChanged;

    /// <inheritdoc/>
    public int Count => _sections.Count;

    /// <inheritdoc/>
    public ListSection<TItem, TKey> this[int index] => _sections[index];

    private IEnumerable<string> KeysNow()
    {
        var rows = _list.Rows;
        return Enumerable.Range(0, rows.Sections.Length).Where(i => rows.HeadingOf(i) is not null).Select(i => rows.Sections[i].Key);
    }

    private void Follow(object? sender, EventArgs e)
    {
        string[] now = [.. KeysNow()];
        if (!now.SequenceEqual(_sections.Select(s => s.Key))) Become(now);
        foreach (var section in _sections) section.LookAgain();
    }

    private void Become(string[] now)
    {
        var old = _sections.ToDictionary(s => s.Key);
        ListSection<TItem, TKey>[] gone = [.. _sections.Where(s => !now.Contains(s.Key))];
        string[] come = [.. now.Where(k => !old.ContainsKey(k))], stay = [.. now.Where(old.ContainsKey)];
        var keepsOrder = stay.SequenceEqual(_sections.Select(s => s.Key).Where(now.Contains));
        var goneAt = gone.Length == 1 ? _sections.IndexOf(gone[0]) : -1;
        _sections.Clear();
        _sections.AddRange(now.Select(k => old.TryGetValue(k, out var kept) ? kept : new(_list, k)));
        PropertyChanged?.Invoke(this, new(nameof(Count)));
        PropertyChanged?.Invoke(this, new("Item[]"));
        CollectionChanged?.Invoke(this, (gone, come) switch
        {
            ([var one], []) when keepsOrder => new(NotifyCollectionChangedAction.Remove, one, goneAt),
            ([], [var key]) when keepsOrder && Array.IndexOf(now, key) is var at =>
                new(NotifyCollectionChangedAction.Add, _sections[at], at),
            _ => new(NotifyCollectionChangedAction.Reset),
        });
        foreach (var section in gone) section.Dispose();
    }

    /// <inheritdoc/>
    public IEnumerator<ListSection<TItem, TKey>> GetEnumerator() => _sections.GetEnumerator();

    IEnumerator IEnumerable.GetEnumerator() => GetEnumerator();

    /// <summary>Lets the list go.</summary>
    public void Dispose()
    {
        _list.FrameChanged -= Follow;
        foreach (var section in _sections) section.Dispose();
    }
}
