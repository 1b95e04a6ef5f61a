using System.Collections.Immutable;
using System.Collections.Specialized;
using System.ComponentModel;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Frames;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Marking;
using Lectica.Shell;

namespace Lectica;

/// <summary>Makes lists.</summary>
public static class InteractiveList
{
    /// <summary>
    /// A list over things without keys, such as strings: each gets a private identity that edits carry along. An
    /// <c>ObservableCollection</c>, or any list with <see cref="INotifyCollectionChanged"/>, is followed live.
    /// </summary>
    public static InteractiveList<TItem, ItemId> Of<TItem>(IReadOnlyList<TItem> items, ListOptions? options = null)
    {
        ArgumentNullException.ThrowIfNull(items);
        var list = new InteractiveList<TItem, ItemId>(null, n => new(n), options);
        list.Show(items);
        return list;
    }

    /// <summary>A list over items with keys. Keys are unique and stay; a collection that reports its changes is followed live.</summary>
    /// <exception cref="DuplicateKeyException">Two items have one key.</exception>
    /// <exception cref="MissingKeyException">An item's key is null.</exception>
    public static InteractiveList<TItem, TKey> Of<TItem, TKey>(
        IReadOnlyList<TItem> items, Func<TItem, TKey> keyOf, ListOptions? options = null)
        where TKey : notnull
    {
        ArgumentNullException.ThrowIfNull(items);
        var list = Awaiting(keyOf, options);
        list.Show(items);
        return list;
    }

    /// <summary>
    /// A list whose items are still to come: it says so, until it is given some by
    /// <see cref="InteractiveList{TItem, TKey}.Show(IReadOnlyList{TItem})"/>.
    /// </summary>
    public static InteractiveList<TItem, TKey> Awaiting<TItem, TKey>(Func<TItem, TKey> keyOf, ListOptions? options = null)
        where TKey : notnull
    {
        ArgumentNullException.ThrowIfNull(keyOf);
        return new(keyOf, null, options);
    }
}

/// <summary>
/// A list that people interact with: it takes what pointers and keys do, knows what is selected, and says what to draw.
/// <para>It belongs to the <see cref="SynchronizationContext"/> it was made on, or to the thread where there is none; a call from
/// elsewhere throws <see cref="WrongThreadException"/> and changes nothing. What items tell of their changes
/// (<see cref="INotifyPropertyChanged"/>) on other threads is carried over: the list reads each such item once, as soon as its context
/// comes to it, or, on a bare thread, with the next thing that it is asked to do (<see cref="Advance"/> is enough). Every call is one
/// turn: the state changes as a whole, then the events are raised. What a handler asks for waits until the events of the present act are
/// through. A handler that throws does not keep the others from being told; its exception comes out of the call.</para>
/// </summary>
public sealed partial class InteractiveList<TItem, TKey> : IHostedList, IDisposable where TKey : notnull
{
    private readonly ListParts<TItem, TKey> _parts;

    internal InteractiveList(Func<TItem, TKey>? keyOf, Func<long, TKey>? mint, ListOptions? options)
    {
        _parts = new(keyOf, mint, options ?? ListOptions.Default, this);
    }

    /// <summary>The parts that do what is asked, once the caller has been looked at.</summary>
    private ListParts<TItem, TKey> Here
    {
        get
        {
            _parts.Turns.Check();
            if (_parts.IsBehind) _parts.Turns.Inside(_parts.TakeLate);
            return _parts;
        }
    }

    internal ListParts<TItem, TKey> Shell => _parts;

    private Response Run(Func<ListParts<TItem, TKey>, Response> turn) =>
        _parts.Turns.Run(static (what, _) => what.turn(what._parts), (turn, _parts));

    private Response Run(TKey key, ActKind kind, Func<ListParts<TItem, TKey>, int, Response> turn)
    {
        var index = Here.Store.IndexOf(key);
        return _parts.Turns.Run(i => i < 0 ? Absent(kind, key) : turn(_parts, i), index);
    }

    private Response Absent(ActKind kind, TKey key) =>
        _parts.Core.Refuse(
        new Act(kind),
            new(RefusalKind.OutsideList,
                $"There is no item with the key '{_parts.Store.TextOf(key)}' in the list of {_parts.Store.Count}."));

    /// <inheritdoc/>
    public ListOptions Options => _parts.Core.Options;

    // ── Items ──

    /// <summary>
    /// Shows these items, instead of any before. Items are paired with those before by key (by equal value where there are no keys), so
    /// that selection and cursor stay with them. A collection that reports its changes is followed from now on; of any other the list keeps
    /// what it holds now, until it is shown again. Where a filter or the like throws for an item, that item shows, and the exception is
    /// thrown at the end.
    /// </summary>
    /// <exception cref="DuplicateKeyException">Two items have one key. Then, as for the next two, nothing was changed.</exception>
    /// <exception cref="MissingKeyException">An item's key is null.</exception>
    /// <exception cref="KeyChangedException">An item's key is not what it came with.</exception>
    public void Show(IReadOnlyList<TItem> items) => Show(items, ChangeLock.None);

    /// <summary>
    /// Shows a collection that is changed on any thread under this lock, and follows it: what was changed elsewhere is taken in order, as
    /// soon as the list's context comes to it, or, on a bare thread, with the next thing that it is asked to do; of more than 64 changes at
    /// once it reads the outcome alone. The list holds the lock while it reads the whole collection and while it moves its items. Whoever
    /// holds it must not wait for the list's thread.
    /// </summary>
    /// <param name="items">The collection.</param>
    /// <param name="changedUnder">The lock that is held by whoever changes it. A change on another thread without it throws
    /// <see cref="WrongThreadException"/> there.</param>
    public void Show(IReadOnlyList<TItem> items, object changedUnder)
    {
        ArgumentNullException.ThrowIfNull(changedUnder);
        Show(items, new ChangeLock(changedUnder));
    }

    /// <summary>The same for a <see cref="Lock"/>.</summary>
    public void Show(IReadOnlyList<TItem> items, Lock changedUnder) =>
        Show(items, new ChangeLock(changedUnder ?? throw new ArgumentNullException(nameof(changedUnder))));

    private void Show(IReadOnlyList<TItem> items, ChangeLock changes)
    {
        ArgumentNullException.ThrowIfNull(items);
        Run(p =>
        {
            p.Source.Show(items, changes);
            return Response.Handled;
        });
    }

    /// <summary>
    /// Takes a snapshot, which must not change any more, from any thread. On the list's own context it is shown at once; from elsewhere it
    /// is posted there, or, for a list that belongs to a bare thread, taken at that thread's next call. One that cannot be shown (such as
    /// for a duplicate key) throws where it is taken, and that call does nothing else.
    /// </summary>
    public void Offer(IReadOnlyList<TItem> snapshot)
    {
        ArgumentNullException.ThrowIfNull(snapshot);
        _parts.Source.Offer(snapshot);
    }

    /// <summary>Says that items are on their way; it shows where there are none yet.</summary>
    public void ShowLoading(string? text = null) => SetStatus(new(NoticeKind.Loading, text ?? Options.Phrases.Loading));

    /// <summary>Says that loading failed; it shows where there are no items.</summary>
    public void ShowFailed(string text) => SetStatus(new(NoticeKind.Failed, text));

    /// <summary>
    /// What comes after the items: a last row says so, where any item shows. With <see cref="More.ToCome"/> the app is asked for more as
    /// that row comes near (<see cref="ListOptions.MoreWithin"/>), and the row says that it is loading. Then the app brings items in,
    /// however it does, and sets this again: to come, failed, none. One that failed is tried again by Enter or a tap on the row, or by
    /// <see cref="ActKind.Retry"/>.
    /// </summary>
    public More More
    {
        get => Here.Core.State.Footer.More;
        set
        {
            ArgumentNullException.ThrowIfNull(value);
            Set(p => p.Core.Commit(p.Core.State with { Footer = p.Core.State.Footer with { More = value } }, cause: "source"));
        }
    }

    /// <summary>
    /// Brings items in at the end of the source, which the list must be able to write, in slices of about 10 ms: the first of a million
    /// show at once, and can be used while the rest comes. The next slice comes at <see cref="NextDeadline"/>: by itself where the list
    /// has a context, else as its host calls <see cref="Advance"/>. It is not a step that can be undone.
    /// </summary>
    /// <param name="items">The items, which are asked for as they are needed. Where one cannot be had, or the source does not take a
    /// slice, those before it stay, and <see cref="Refused"/> says why.</param>
    /// <param name="cancellationToken">Ends it before the next slice.</param>
    /// <returns>Refused where the source cannot be written, or is being filled already; <see cref="IsFilling"/> tells the end.</returns>
    public Response Fill(IEnumerable<TItem> items, CancellationToken cancellationToken = default)
    {
        ArgumentNullException.ThrowIfNull(items);
        return Run(p => p.Filler.Fill(items, cancellationToken));
    }

    /// <summary>Whether items are still being brought in by <see cref="Fill"/>.</summary>
    public bool IsFilling => Here.Core.State.Filling is not null;

    private void SetStatus(Notice status) => Run(p =>
    {
        p.Source.SetStatus(status);
        return Response.Handled;
    });

    /// <summary>
    /// Reads the items again, where the app has changed them without saying so: their filter, state and words, and any that came or went.
    /// </summary>
    public void Refresh() => Run(p =>
    {
        p.Framer.Forget();
        p.Source.Refresh();
        return Response.Handled;
    });

    /// <summary>
    /// Reads an item again, for an app that has changed it without telling: its bound marks, section, filter, state and words.
    /// </summary>
    public Response Refresh(TKey key) => Run(key, ActKind.Activate, (p, index) =>
    {
        p.Framer.Forget();
        p.Marker.ReadAgain(ItemSet.None(p.Store.Count).With(index));
        return Response.Handled;
    });

    /// <summary>The number of items.</summary>
    public int Count => Here.Store.Count;

    /// <summary>An item by its index in the source.</summary>
    /// <exception cref="ArgumentOutOfRangeException">There is no such item.</exception>
    public TItem this[int index] => Here.Store.ItemAt(index);

    /// <summary>The key of the item at an index. Cost: log.</summary>
    /// <exception cref="ArgumentOutOfRangeException">There is no such item.</exception>
    /// <exception cref="KeyChangedException">The item's key is not what it came with.</exception>
    public TKey KeyAt(int index) => Here.Store.KeyAt(index);

    /// <summary>The index of the item with a key, or -1. Cost: log.</summary>
    public int IndexOf(TKey key) => Here.Store.IndexOf(key);

    /// <summary>The key of the item at an index as text, as traces, scripts and snapshots write it.</summary>
    /// <exception cref="ArgumentOutOfRangeException">There is no such item.</exception>
    public string KeyTextAt(int index) => Here.Store.TextOf(_parts.Store.KeptKeyAt(index));

    /// <summary>
    /// Writes keys as text, each differently; null for the keys' own way. Strings, numbers, dates, GUIDs and the like are written exactly
    /// by themselves; keys of other types need it where a snapshot is saved and two of them have one <c>ToString()</c>.
    /// </summary>
    public Func<TKey, string>? KeyText
    {
        get => Here.Store.Texts.Given;
        set => Here.Store.Texts.Given = value;
    }

    // ── What they are like ──

    /// <summary>What a row says of its item; its <c>ToString()</c> where null.</summary>
    public Func<TItem, RowContent>? Content
    {
        get => Here.Framer.Content;
        set
        {
            Here.Framer.Content = value;
            _parts.Framer.Forget();
            _parts.Core.Out.ChangeFrame();
            _parts.Turns.Flush();
        }
    }

    /// <summary>What a row says of an item.</summary>
    public RowContent ContentAt(int index) => Reading(p => p.Framer.ContentAt(index));

    /// <summary>Reads something for which one of the app's functions may be called; what that asks of the list comes afterwards.</summary>
    private T Reading<T>(Func<ListParts<TItem, TKey>, T> read)
    {
        var parts = Here;
        if (parts.Turns.IsBusy || parts.Core.App.IsAsking) return read(parts);
        T result;
        try
        {
            result = read(parts);
        }
        catch
        {
            parts.Turns.Flush();
            throw;
        }
        if (parts.Turns.HasWaiting) parts.Turns.Flush();
        return result;
    }

    /// <summary>
    /// Which items show; all where null. Setting it asks each item once; so do later edits for the items that they bring.
    /// </summary>
    public Func<TItem, bool>? Filter
    {
        get => Here.Projection.Filter;
        set => Set(p => p.Projection.SetFilter(value));
    }

    /// <summary>
    /// Which items are enabled; all where null. Setting it asks each item once; so do later edits for the items that they bring.
    /// </summary>
    public Func<TItem, bool>? EnabledWhen
    {
        get => Here.Projection.EnabledWhen;
        set => Set(p => p.Projection.SetEnabled(value));
    }

    /// <summary>
    /// Which items stay where they are: they cannot be grabbed, and no drop may shift one. None where null. Setting it asks each item once;
    /// so do later edits.
    /// </summary>
    public Func<TItem, bool>? PinnedWhen
    {
        get => Here.Projection.PinnedWhen;
        set => Set(p => p.Projection.SetPinned(value));
    }

    /// <summary>
    /// How items are put into sections; null for a list without. Setting it asks each item once; so do later edits for the items that they
    /// bring.
    /// </summary>
    /// <exception cref="SectionException">The function threw, or gave null. Nothing was changed.</exception>
    public Sections<TItem>? Sections
    {
        get => Here.Projection.Sections;
        set => Set(p => p.Projection.SetSections(value));
    }

    /// <summary>
    /// How items lie in levels; null for a list without. Setting it reads the source again. The index of an item is then its place in
    /// reading order, everything expanded.
    /// </summary>
    /// <exception cref="OutlineException">The items are no outline: a parent that is not there, a circle, an item below two. Nothing was
    /// changed.</exception>
    /// <exception cref="InvalidOperationException">The list is paged, sorted, in sections or in tiles, or its items have no
    /// keys.</exception>
    public Outline<TItem, TKey>? Outline
    {
        get => Here.Arranger.Outline;
        set => Set(p => p.SetOutline(value));
    }

    /// <summary>
    /// The order in which items show, within each section where there are any; the source's where null. Setting it sorts, at n log n; an
    /// item that comes in or changes is then put in its place, at log n. Items that compare equal stay in the source's order. In a sorted
    /// view nothing can be moved.
    /// </summary>
    public Comparison<TItem>? SortBy
    {
        get => Here.Projection.SortBy;
        set => Set(p =>
        {
            p.Projection.SetOrder(value);
            p.Sorter.OrderGiven();
        });
    }

    /// <summary>
    /// The fields that rows show side by side, under headers that stay; none for rows that show their content. On a narrow list the last
    /// ones give way. A press on a header sorts by it, where it can be; so do Enter and Space, when the keyboard has gone up to it.
    /// </summary>
    /// <exception cref="ArgumentException">Two have one name, one has none, or a width that cannot be. Nothing was changed.</exception>
    public ImmutableArray<Column<TItem>> Columns
    {
        get => Here.Columns.Columns;
        set => Set(p => p.Columns.Set(value.IsDefault ? [] : value));
    }

    /// <summary>
    /// By which column the list is sorted; null for the source's order, or the app's own <see cref="SortBy"/>. Of a column without an order
    /// it only says how the app has sorted its source.
    /// </summary>
    /// <exception cref="ArgumentException">There is no such column.</exception>
    public ColumnSort? Sort
    {
        get => Here.Core.State.Table.Sort;
        set => Set(p => p.Sorter.SetSort(value));
    }

    /// <summary>
    /// The marks that items have. Rows show those that the list's parts name. Setting it reads bound marks from each item once; those of
    /// items that tell of their changes (<see cref="INotifyPropertyChanged"/>) are read again with each, others by <c>Refresh</c>.
    /// </summary>
    /// <exception cref="ArgumentException">Two marks have one name, one is read from its items and cannot be written, or one that rows are
    /// to show is not among them.</exception>
    public ImmutableArray<Mark<TItem>> Marks
    {
        get => Here.Marker.Marks;
        set
        {
            if (value.IsDefault) value = [];
            Mark<TItem>.Check(value, Options.Parts.Marks, Options.SpaceMark);
            Set(p => p.Marker.Declare(value));
        }
    }

    /// <summary>
    /// What can be done to items, or to the list. Setting it replaces all; those that run go on. <see cref="PropertyChanged"/> tells of it
    /// too when marks or items have changed, since whether a command can be done, and is on, may depend on them.
    /// </summary>
    /// <exception cref="ArgumentException">Two have one id or one chord, two at one edge are swiped through to, or one does nothing; the
    /// message names them.</exception>
    public ImmutableArray<Command<TItem, TKey>> Commands
    {
        get => Here.Book.Commands;
        set
        {
            if (value.IsDefault) value = [];
            CommandBook<TItem, TKey>.Check(value, Options.ModKey);
            Set(p => p.Book.Declare(value));
        }
    }

    private void Set(Action<ListParts<TItem, TKey>> set) => _parts.Turns.Run(static (what, _) =>
    {
        what.set(what._parts);
        return Response.Handled;
    }, (set, _parts));

    /// <summary>Whether an item may be grabbed; asked when it is. Every one may where null.</summary>
    public Func<TItem, bool>? CanGrab
    {
        get => Here.Mover.CanGrab;
        set => Here.Mover.CanGrab = value;
    }

    /// <summary>
    /// Whether items may be dropped in a gap; asked for each gap that they come over. Where null, they may be dropped everywhere.
    /// </summary>
    public Func<DropQuestion<TItem, TKey>, bool>? CanDrop
    {
        get => Here.Mover.CanDrop;
        set => Here.Mover.CanDrop = value;
    }

    /// <summary>
    /// Told of each step instead of the list's own history, which then stays empty: for an app with a history of its own. It gets the
    /// step's name, and how to take it back and do it again.
    /// </summary>
    public Action<string, Action, Action>? History
    {
        get => Here.History.App;
        set => Here.History.App = value;
    }

    /// <summary>The title that a host may draw above the rows.</summary>
    public string? Title
    {
        get => Here.Core.State.Caption.Title;
        set => Set(p => p.Core.Commit(p.Core.State with { Caption = p.Core.State.Caption with { Title = value } }));
    }

    /// <summary>A line under the title, such as <c>3 selected</c>.</summary>
    public string? Subtitle
    {
        get => Here.Core.State.Caption.Subtitle;
        set => Set(p => p.Core.Commit(p.Core.State with { Caption = p.Core.State.Caption with { Subtitle = value } }));
    }

    /// <summary>Lets the app's collection and items go. What runs is asked to stop, and nothing more is told.</summary>
    public void Dispose() => _parts.Dispose();
}
