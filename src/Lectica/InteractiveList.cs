using System.Collections.Immutable;
using System.Collections.Specialized;
using System.ComponentModel;
using System.Globalization;
using Lectica.Acts;
using Lectica.Finding;
using Lectica.Frames;
using Lectica.Gestures;
using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Selecting;
using Lectica.Tracing;

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
    public static InteractiveList<TItem, TKey> Of<TItem, TKey>(IReadOnlyList<TItem> items, Func<TItem, TKey> keyOf, ListOptions? options = null)
        where TKey : notnull
    {
        ArgumentNullException.ThrowIfNull(items);
        var list = Awaiting(keyOf, options);
        list.Show(items);
        return list;
    }

    /// <summary>A list whose items are still to come: it says so, until it is given some by <see cref="InteractiveList{TItem, TKey}.Show"/>.</summary>
    public static InteractiveList<TItem, TKey> Awaiting<TItem, TKey>(Func<TItem, TKey> keyOf, ListOptions? options = null) where TKey : notnull
    {
        ArgumentNullException.ThrowIfNull(keyOf);
        return new(keyOf, null, options);
    }
}

/// <summary>
/// A list that people interact with: it takes what pointers and keys do, knows what is selected, and says what to draw.
/// <para>It belongs to the <see cref="SynchronizationContext"/> it was made on, or to the thread where there is none; a call from
/// elsewhere throws <see cref="WrongThreadException"/> and changes nothing. Every call is one step: the state changes as a whole, then
/// the events are raised. What a handler asks for waits until the events of the present act are through. A handler that throws does
/// not keep the others from being told; its exception comes out of the call.</para>
/// </summary>
public sealed partial class InteractiveList<TItem, TKey> : INotifyPropertyChanged, IDisposable where TKey : notnull
{
    private readonly SynchronizationContext? _context = SynchronizationContext.Current;
    private readonly int _thread = Environment.CurrentManagedThreadId;
    private readonly ItemStore<TItem, TKey> _store;
    private readonly Recogniser _recogniser;
    private readonly Field _field;
    private readonly TextMatch _match;
    private Func<TItem, RowContent>? _content;
    private Func<TItem, bool>? _filter, _enabledWhen;
    private ItemSet _disabled = ItemSet.None(0);
    private RowMap _rows;
    private Selection _selection = Selection.Nothing(0);
    private Viewport _viewport;
    private bool _hasFocus;
    private int _cursorPart;
    private string? _title, _subtitle;
    private Frame? _frame;
    private RowPlane? _plane;

    internal InteractiveList(Func<TItem, TKey>? keyOf, Func<long, TKey>? mint, ListOptions? options)
    {
        Options = options ?? ListOptions.Default;
        Options.Validate();
        _store = new(keyOf, mint, Options.ChecksKeys);
        _recogniser = new(Options.Thresholds);
        _field = new(this);
        _match = new(Options.Culture ?? CultureInfo.CurrentCulture);
        _viewport = Options.Viewport;
        _title = Options.Title;
        _rows = new(ItemSet.None(0), NoticeNow(0));
        if (Options.AlwaysSelecting) _selection = _selection with { IsSelecting = true };
    }

    /// <summary>How it behaves.</summary>
    public ListOptions Options { get; }

    /// <summary>What a row says of its item; its <c>ToString()</c> where null.</summary>
    public Func<TItem, RowContent>? Content
    {
        get => _content;
        set
        {
            CheckContext();
            _content = value;
            Redraw();
        }
    }

    /// <summary>The title that a host may draw above the rows.</summary>
    public string? Title
    {
        get => _title;
        set
        {
            CheckContext();
            _title = value;
            Redraw();
        }
    }

    /// <summary>A line under the title, such as <c>3 selected</c>.</summary>
    public string? Subtitle
    {
        get => _subtitle;
        set
        {
            CheckContext();
            _subtitle = value;
            Redraw();
        }
    }

    /// <summary>The number of items.</summary>
    public int Count => _store.Count;

    /// <summary>An item by its index in the source.</summary>
    /// <exception cref="ArgumentOutOfRangeException">There is no such item.</exception>
    public TItem this[int index] => _store.ItemAt(index);

    /// <summary>The key of the item at an index. Cost: log.</summary>
    /// <exception cref="ArgumentOutOfRangeException">There is no such item.</exception>
    /// <exception cref="KeyChangedException">The item's key is not what it came with.</exception>
    public TKey KeyAt(int index) => _store.KeyAt(index);

    /// <summary>The index of the item with a key, or -1. Cost: log.</summary>
    public int IndexOf(TKey key) => _store.IndexOf(key);

    /// <summary>Which row shows which item.</summary>
    public RowMap Rows => _rows;

    /// <summary>The items that are disabled.</summary>
    public ItemSet Disabled => _disabled;

    /// <summary>What is selected, with anchor and cursor.</summary>
    public Selection Selection => _selection;

    /// <summary>The window through which the rows are seen, always inside the content.</summary>
    public Viewport Viewport => _viewport;

    /// <summary>The rows as they lie.</summary>
    public RowPlane Plane => _plane ??= new(_rows, Geometry, _viewport, Parts, Options.IsRightToLeft, ShiftedRow);

    /// <summary>What there is to draw. The same object until something changes.</summary>
    public Frame Frame
    {
        get
        {
            CheckContext();
            return _frame ??= WithPlaces(FrameBuilder.Build(FrameInput(PreviewOfMove)));
        }
    }

    private FrameInput FrameInput(MovePreview? preview) => new()
    {
        Plane = preview is null ? Plane : new(preview.Rows, GeometryOf(preview), _viewport, Parts, Options.IsRightToLeft),
        Move = preview?.Edit,
        Selection = _preview ?? _selection,
        Rules = Rules,
        ContentOf = ContentAt,
        Pressed = [.. _recogniser.Pressed],
        CursorPart = CursorPart,
        HasFocus = _hasFocus,
        Title = _title,
        Subtitle = _subtitle,
        Swipe = _swipe,
        Physics = Physics,
        Marquee = _marquee,
        Grabbed = _grab?.Items,
        Grab = GrabNow,
        Gap = preview is null ? _grab?.Gap ?? _guest?.Gap ?? default : preview.Landing,
        Marked = _marked,
        MarkLooks = _marks.ToDictionary(m => m.Name, m => m.Look),
        Flashes = [.. _flashes.Select(f => (f.Index, f.Text))],
        Menu = _menu,
        Notice = _notice,
        Overscan = Options.Overscan,
        RowsToKeep = _rowsToKeep,
        Touched = Options.Overscan > 0 ? [.. _recogniser.Touched] : [],
        CursorRow = preview is null ? CursorRow : _selection.Heading is { } heading ? preview.Rows.HeadingOf(preview.Rows.SectionWith(heading))
                    : _selection.Cursor >= 0 ? preview.Rows.RowOf(preview.Edit.Apply(_selection.Cursor)) : null,
    };

    /// <summary>What a row says of an item.</summary>
    public RowContent ContentAt(int index)
    {
        var item = _store.ItemAt(index);
        return _content is { } content ? content(item) : new(item?.ToString() ?? "");
    }

    private SelectionRules Rules => new(_rows, _disabled, Options.Mode, Options.Limit);

    /// <summary>
    /// Which parts rows have: those of the options, and a button for the menu where a long press does not open it, so that whoever has no keys and
    /// no second button comes to it too (WCAG 2.5.1).
    /// </summary>
    public RowParts Parts => !Options.Parts.Menu && Options.LongPress != LongPressMeaning.Menu && (_commands.Any(c => c.IsInMenu) || (Options.MovesInMenu && MayMoveNow && _sortBy is null)) ? Options.Parts with { Menu = true } : Options.Parts;

    /// <summary>The parts that the keyboard goes through in a table with a part cursor, from the leading edge on.</summary>
    private ImmutableArray<Part> KeyParts
    {
        get
        {
            var parts = Parts;
            ImmutableArray<Part> check = parts.Check ? [new(PartKind.Check)] : [], menu = parts.Menu ? [new(PartKind.Menu)] : [],
                handle = parts.Handle ? [new(PartKind.Handle)] : [];
            return [.. check, .. parts.Marks.Select(m => new Part(PartKind.Mark, m)), Part.Body, .. menu, .. handle];
        }
    }

    /// <summary>The part the keyboard is on, or null in a list whose key table has no part cursor.</summary>
    public Part? CursorPart => !Options.Keys.Rules.Any(r => r.Acts.Contains(ActKind.MovePart)) ? null
        : KeyParts[Math.Clamp(_cursorPart, 0, KeyParts.Length - 1)];

    /// <summary>Each tap on an item.</summary>
    public event EventHandler<TappedEventArgs<TItem, TKey>>? Tapped;

    /// <summary>The selection changed.</summary>
    public event EventHandler<SelectionChangedEventArgs<TItem, TKey>>? SelectionChanged;

    /// <summary>An item is to be opened.</summary>
    public event EventHandler<ActivatedEventArgs<TItem, TKey>>? Activated;

    /// <summary>An act was refused, or no rule took a gesture or key.</summary>
    public event EventHandler<RefusedEventArgs>? Refused;

    /// <summary>A pointer came down on an item, or the pressed look has ended.</summary>
    public event EventHandler<PressedEventArgs<TItem, TKey>>? PressChanged;

    /// <summary>A moment that a device may let be felt.</summary>
    public event EventHandler<HapticEventArgs>? Haptic;

    /// <summary>
    /// A menu is to be shown: for hosts that show one of their own. A list with commands has <c>Menu</c> to draw; one without, to which nobody listens
    /// here, opens none.
    /// </summary>
    public event EventHandler<MenuRequestedEventArgs<TItem, TKey>>? MenuRequested;

    /// <summary>The menu is to be hidden.</summary>
    public event EventHandler? MenuClosed;

    /// <summary>
    /// Items are to be moved to another gap: an app that listens moves them in its source. Where nobody listens, a source that can be written is moved by the list. It
    /// never comes for a move that would change nothing.
    /// </summary>
    public event EventHandler<MoveRequestedEventArgs<TItem, TKey>>? MoveRequested;

    /// <summary>There is something new to draw.</summary>
    public event EventHandler? FrameChanged;

    /// <summary>A property changed.</summary>
    public event PropertyChangedEventHandler? PropertyChanged;

    /// <summary>All stages of what happens, as it happens. Nothing is put together while nobody listens.</summary>
    public event Action<TraceLine>? Traced;

    /// <summary>Lets the app's collection go.</summary>
    public void Dispose()
    {
        if (_live is not null) _live.CollectionChanged -= LiveChanged;
        _live = null;
        _timer?.Dispose();
        foreach (var run in _runs) run.Cancel.Cancel();
        ListenToAll(false);
        _disposed = true;
    }
}
