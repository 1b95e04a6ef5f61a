using System.ComponentModel;
using Lectica.Frames;
using Lectica.Items;

namespace Lectica;

/// <summary>
/// One item's row for an items-control to bind to: its words, and all that is true of it. What can be set is set both ways; where the list
/// refuses, it stays, and the control is told to look again. Marks are read and set by their names: <c>row["starred"]</c>.
/// </summary>
public sealed class ListRow<TItem, TKey> : INotifyPropertyChanged where TKey : notnull
{
    private readonly InteractiveList<TItem, TKey> _list;
    private Look _look;

    /// <summary>What is true of a row at a time. Marks are bits, in their order.</summary>
    private readonly record struct Look(bool IsSelected, bool IsEnabled, bool IsCursor, bool IsPressed, BusyFrame? Busy, ulong Marks);

    // Of a row whose item has not been read: then it is known by this.
    private int _pendingAt = -1;

    internal ListRow(InteractiveList<TItem, TKey> list, int index) =>
        (_list, Item, Key, _look, _pendingAt) = (list, default!, default!, LookAt(list, index), index);

    internal ListRow(InteractiveList<TItem, TKey> list, TItem item, TKey key, int index) =>
        (_list, Item, Key, _look) = (list, item, key, index < 0 ? default : LookAt(list, index));

    /// <summary>The item; the type's default while <see cref="IsPending"/>.</summary>
    public TItem Item { get; private set; }

    /// <summary>Its key; the type's default while <see cref="IsPending"/>.</summary>
    public TKey Key { get; private set; }

    /// <summary>Whether its item has still to be read, in a list that is not all in memory.</summary>
    public bool IsPending => _pendingAt >= 0;

    /// <summary>What it says.</summary>
    public RowContent Content =>
        IsPending ? new(_list.Options.Phrases.RowLoading) : _list.IndexOf(Key) is >= 0 and var index ? _list.ContentAt(index) : default;

    /// <summary>Whether it is enabled.</summary>
    public bool IsEnabled => _look.IsEnabled;

    /// <summary>Whether the keyboard is on it.</summary>
    public bool IsCursor => _look.IsCursor;

    /// <summary>Whether a pointer is down on it.</summary>
    public bool IsPressed => _look.IsPressed;

    /// <summary>Whether a command is under way for it.</summary>
    public bool IsBusy => _look.Busy is not null;

    /// <summary>How much of that is done, from 0 to 1; null where nothing is under way, or that is not known.</summary>
    public double? Progress => _look.Busy?.Progress;

    /// <summary>Whether it is selected.</summary>
    public bool IsSelected
    {
        get => _look.IsSelected;
        set
        {
            if (value == _look.IsSelected) return;
            if (IsPending)
            {
                Answer(_list.DoAt(!_list.Options.Policy.SelectsMany && value ? Acts.ActKind.Select : Acts.ActKind.Toggle, _pendingAt),
                    nameof(IsSelected));
                return;
            }
            Answer(!_list.Options.Policy.SelectsMany && value ? _list.Select(Key) : _list.Toggle(Key), nameof(IsSelected));
        }
    }

    /// <summary>Whether it has a mark.</summary>
    /// <exception cref="ArgumentException">There is no such mark.</exception>
    [System.Runtime.CompilerServices.IndexerName("Mark")]
    public bool this[string mark]
    {
        get => !IsPending && _list.IndexOf(Key) is >= 0 and var index && _list.Marked(mark).Contains(index);
        set
        {
            if (!IsPending && value != this[mark]) Answer(_list.ToggleMark(mark, Key), Marks);
        }
    }

    // As binding engines name an indexer.
    private const string Marks = "Item[]";

    /// <inheritdoc/>
    public event PropertyChangedEventHandler? PropertyChanged;

    private void Answer(Response response, string property) => response.Then(answer =>
    {
        if (!answer.IsHandled) Tell(property);
    });

    private void Tell(string property) => PropertyChanged?.Invoke(this, new(property));

    private static Look LookAt(InteractiveList<TItem, TKey> list, int index)
    {
        var state = list.Shell.Core.State;
        var pressed = false;
        foreach (var (item, _) in state.Pressed) pressed |= item == index;
        BusyFrame? busy = null;
        foreach (var run in state.Runs)
            if (busy is null && run.Items.Contains(index)) busy = new(run.Label, run.Progress);
        var marks = 0UL;
        // Of marks beyond the 64th a change is told with any other's.
        for (var i = 0; i < state.Declared.Marks.Length; i++)
            if (state.Marks.Sets[state.Declared.Marks[i].Name].Contains(index)) marks ^= 1UL << (i % 64);
        var isCursor = state.Focus.IsHere && state.Selection.Cursor == index && state.Selection.Heading is null;
        return new(state.Selection.Items.Contains(index), !state.Showing.Disabled.Contains(index), isCursor, pressed, busy, marks);
    }

    /// <summary>The item is still to be read; the row may be at another place.</summary>
    internal void WaitAt(int index)
    {
        _pendingAt = index;
        Tell(LookAt(_list, index));
    }

    /// <summary>The item has been read.</summary>
    internal void Arrive(TItem item, TKey key, int index)
    {
        (_pendingAt, Item, Key) = (-1, item, key);
        foreach (var name in (string[])[nameof(IsPending), nameof(Item), nameof(Key), nameof(Content)]) Tell(name);
        Tell(LookAt(_list, index));
    }

    internal void LookAgain(TItem item, int index)
    {
        if (!ReferenceEquals(item, Item) && !EqualityComparer<TItem>.Default.Equals(item, Item))
        {
            Item = item;
            Tell(nameof(Item));
            Tell(nameof(Content));
        }
        Tell(LookAt(_list, index));
    }

    private void Tell(Look now)
    {
        var old = _look;
        _look = now;
        if (now == old) return;
        if (now.IsSelected != old.IsSelected) Tell(nameof(IsSelected));
        if (now.IsEnabled != old.IsEnabled) Tell(nameof(IsEnabled));
        if (now.IsCursor != old.IsCursor) Tell(nameof(IsCursor));
        if (now.IsPressed != old.IsPressed) Tell(nameof(IsPressed));
        if (now.Busy is null != old.Busy is null) Tell(nameof(IsBusy));
        if (now.Busy?.Progress != old.Busy?.Progress) Tell(nameof(Progress));
        if (now.Marks != old.Marks) Tell(Marks);
    }
}
