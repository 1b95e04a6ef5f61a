using System.ComponentModel;
using System.Diagnostics.CodeAnalysis;
using Lectica.Acts;
using Lectica.Items;
using Lectica.Selecting;
using Lectica.Tracing;

namespace Lectica;

// What apps listen to and bind to.
public sealed partial class InteractiveList<TItem, TKey>
{
    /// <summary>Each tap on an item.</summary>
    public event EventHandler<TappedEventArgs<TItem, TKey>>? Tapped
    {
        add => _parts.Events.Tapped += value;
        remove => _parts.Events.Tapped -= value;
    }

    /// <summary>The selection changed.</summary>
    public event EventHandler<SelectionChangedEventArgs<TItem, TKey>>? SelectionChanged
    {
        add => _parts.Events.SelectionChanged += value;
        remove => _parts.Events.SelectionChanged -= value;
    }

    /// <summary>An item is to be opened.</summary>
    public event EventHandler<ActivatedEventArgs<TItem, TKey>>? Activated
    {
        add => _parts.Events.Activated += value;
        remove => _parts.Events.Activated -= value;
    }

    /// <summary>An act was refused, or no rule took a gesture or key.</summary>
    public event EventHandler<RefusedEventArgs>? Refused { add => _parts.Core.Refused += value; remove => _parts.Core.Refused -= value; }

    /// <summary>A pointer came down on an item, or the pressed look has ended.</summary>
    public event EventHandler<PressedEventArgs<TItem, TKey>>? PressChanged
    {
        add => _parts.Events.PressChanged += value;
        remove => _parts.Events.PressChanged -= value;
    }

    /// <inheritdoc/>
    public event EventHandler<HapticEventArgs>? Haptic { add => _parts.Core.Haptic += value; remove => _parts.Core.Haptic -= value; }

    /// <summary>
    /// A menu is to be shown: for hosts that show one of their own. A list with commands has <c>Menu</c> to draw; one without, to which
    /// nobody listens here, opens none.
    /// </summary>
    public event EventHandler<MenuRequestedEventArgs<TItem, TKey>>? MenuRequested
    {
        add => _parts.Events.MenuRequested += value;
        remove => _parts.Events.MenuRequested -= value;
    }

    /// <summary>The menu is to be hidden.</summary>
    public event EventHandler? MenuClosed { add => _parts.Events.MenuClosed += value; remove => _parts.Events.MenuClosed -= value; }

    /// <summary>
    /// Items are to be moved to another gap: an app that listens moves them in its source. Where nobody listens, a source that can be
    /// written is moved by the list. It never comes for a move that would change nothing.
    /// </summary>
    public event EventHandler<MoveRequestedEventArgs<TItem, TKey>>? MoveRequested
    {
        add
        {
            _parts.Events.MoveRequested += value;
            _parts.Framer.Forget();
        }
        remove
        {
            _parts.Events.MoveRequested -= value;
            _parts.Framer.Forget();
        }
    }

    /// <summary>
    /// The list is to be sorted by a column that has no order of its own: the app sorts its source, and says so by <see cref="Sort"/>.
    /// </summary>
    public event EventHandler<SortRequestedEventArgs>? SortRequested
    {
        add
        {
            _parts.Events.SortRequested += value;
            _parts.Framer.Forget();
        }
        remove
        {
            _parts.Events.SortRequested -= value;
            _parts.Framer.Forget();
        }
    }

    /// <summary>
    /// Something was pasted, or dropped from outside, and the app makes items of it. Where nobody listens the list takes nothing, and
    /// leaves it to the host.
    /// </summary>
    public event EventHandler<InsertRequestedEventArgs<TItem>>? InsertRequested
    {
        add
        {
            _parts.Events.InsertRequested += value;
            _parts.Porter.Told();
        }
        remove
        {
            _parts.Events.InsertRequested -= value;
            _parts.Porter.Told();
        }
    }

    /// <inheritdoc/>
    public event EventHandler<CopiedEventArgs>? Copied { add => _parts.Core.Copied += value; remove => _parts.Core.Copied -= value; }

    /// <inheritdoc/>
    public event EventHandler? PasteWanted { add => _parts.Core.PasteWanted += value; remove => _parts.Core.PasteWanted -= value; }

    /// <summary>Items were moved: the source is in its new order already, and may be stored.</summary>
    public event EventHandler<MovedEventArgs<TItem, TKey>>? Moved
    {
        add => _parts.Events.Moved += value;
        remove => _parts.Events.Moved -= value;
    }

    /// <summary>A mark changed: by a tap, a key, a call, or by the app.</summary>
    public event EventHandler<MarkChangedEventArgs<TItem>>? MarkChanged
    {
        add => _parts.Events.MarkChanged += value;
        remove => _parts.Events.MarkChanged -= value;
    }

    /// <summary>A command was done: to how many items, and whether it was handled.</summary>
    public event EventHandler<CommandRanEventArgs<TItem, TKey>>? CommandRan
    {
        add => _parts.Events.CommandRan += value;
        remove => _parts.Events.CommandRan -= value;
    }

    /// <summary>A command threw an exception. The list is as it was but for what the app itself had changed by then.</summary>
    public event EventHandler<CommandFailedEventArgs<TItem, TKey>>? CommandFailed
    {
        add => _parts.Events.CommandFailed += value;
        remove => _parts.Events.CommandFailed -= value;
    }

    /// <summary>A command was cancelled: it did not fail.</summary>
    public event EventHandler<CommandCancelledEventArgs<TItem, TKey>>? CommandCancelled
    {
        add => _parts.Events.CommandCancelled += value;
        remove => _parts.Events.CommandCancelled -= value;
    }

    /// <summary>A command asks before it runs. Where nobody answers such questions, it is refused.</summary>
    public event EventHandler<ConfirmationEventArgs<TItem, TKey>>? ConfirmationRequested
    {
        add => _parts.Events.ConfirmationRequested += value;
        remove => _parts.Events.ConfirmationRequested -= value;
    }

    /// <summary>The app is asked to try again what failed: Enter or a tap on the notice.</summary>
    public event EventHandler? RetryRequested
    {
        add => _parts.Events.RetryRequested += value;
        remove => _parts.Events.RetryRequested -= value;
    }

    /// <summary>
    /// The end has come near, and there is more: the app brings it, and then says by <see cref="More"/> how it went. Until it does it is
    /// not asked again.
    /// </summary>
    public event EventHandler? MoreWanted { add => _parts.Events.MoreWanted += value; remove => _parts.Events.MoreWanted -= value; }

    /// <inheritdoc/>
    public event EventHandler<AnnouncedEventArgs>? Announced
    {
        add => _parts.Core.Announced += value;
        remove => _parts.Core.Announced -= value;
    }

    /// <inheritdoc/>
    public event EventHandler? FrameChanged
    {
        add => _parts.Core.Out.FrameChanged += value;
        remove => _parts.Core.Out.FrameChanged -= value;
    }

    /// <summary>A property changed.</summary>
    public event PropertyChangedEventHandler? PropertyChanged
    {
        add => _parts.Core.Out.PropertyChanged += value;
        remove => _parts.Core.Out.PropertyChanged -= value;
    }

    /// <summary>All stages of what happens, as it happens. Nothing is put together while nobody listens.</summary>
    public event Action<TraceLine>? Traced { add => _parts.Core.Out.Traced += value; remove => _parts.Core.Out.Traced -= value; }

    /// <summary>Raised inside a turn with each edit, for what else is held by index.</summary>
    internal event Action<Edit, Departed<TItem, TKey>>? RowsEdited
    {
        add => _parts.RowsEdited += value;
        remove => _parts.RowsEdited -= value;
    }

    /// <summary>The rows on show as an observable list, for an items-control; dispose of it with the control.</summary>
    public RowCollection<TItem, TKey> ObservableRows()
    {
        _ = Here;
        return new(this);
    }

    /// <summary>The sections on show as an observable list, for an items-control that groups; dispose of it with the control.</summary>
    public SectionCollection<TItem, TKey> ObservableSections()
    {
        _ = Here;
        return new(this);
    }

    /// <summary>An act as a command, for buttons and menus.</summary>
    public ListCommand<TItem, TKey> Command(ActKind kind) => new(this, kind);

    /// <summary>
    /// A command that the app has declared, or will, as one for buttons and menus: without a parameter it is for the selection, or where
    /// nothing is selected for the item at the cursor; with a row or its key, for that item, or the selection if it is in it.
    /// </summary>
    public ListCommand<TItem, TKey> Command(string id) => new(this, id);

    /// <summary>The number of selected items.</summary>
    public int SelectedCount => Selection.Items.Count;

    /// <summary>The state of a header's box over the items that show and are enabled.</summary>
    public TriState HeaderState => Selector.HeaderState(Selection, _parts.Core.Rules);

    /// <summary>
    /// The key of the item that the keyboard is on; the type's default where there is none, which <see cref="TryGetCursorKey"/> tells
    /// apart.
    /// </summary>
    public TKey? CursorKey => Selection.Cursor < 0 ? default : _parts.Store.KeyAt(Selection.Cursor);

    /// <summary>The key of the item that the keyboard is on; false where it is on none.</summary>
    public bool TryGetCursorKey([MaybeNullWhen(false)] out TKey key) => TryGetKey(Selection.Cursor, out key);

    /// <summary>The key of the item that ranges begin at; false where there is none.</summary>
    public bool TryGetAnchorKey([MaybeNullWhen(false)] out TKey key) => TryGetKey(Selection.Anchor, out key);

    /// <summary>The key of the first selected item; false where none is selected.</summary>
    public bool TryGetSelectedKey([MaybeNullWhen(false)] out TKey key) =>
        TryGetKey(Selection.Items.IsEmpty ? -1 : Selection.Items.Nth(0), out key);

    private bool TryGetKey(int index, [MaybeNullWhen(false)] out TKey key)
    {
        key = index < 0 ? default : _parts.Store.KeyAt(index);
        return index >= 0;
    }

    /// <summary>
    /// The first selected item, or the type's default. Setting it selects that item alone; null, or an item that is not in the list,
    /// clears. Setting what is selected already does nothing, so a two-way binding does not echo.
    /// </summary>
    public TItem? SelectedItem
    {
        get => Selection.Items.IsEmpty ? default : _parts.Store.ItemAt(Selection.Items.Nth(0));
        set => Choose(value is null ? -1 : Here.Store.IndexOfItem(value));
    }

    /// <summary>
    /// The key of the first selected item, or the type's default, which <see cref="TryGetSelectedKey"/> tells apart. Setting it is as for
    /// <see cref="SelectedItem"/>.
    /// </summary>
    public TKey? SelectedKey
    {
        get => Selection.Items.IsEmpty ? default : _parts.Store.KeyAt(Selection.Items.Nth(0));
        set => Choose(value is null ? -1 : Here.Store.IndexOf(value));
    }

    private void Choose(int index)
    {
        if (index < 0) Clear();
        else if (SelectedCount != 1 || !Selection.Items.Contains(index)) DoAt(ActKind.Select, index);
    }

    /// <summary>The selected items in source order, fetched as they are read.</summary>
    public IEnumerable<TItem> SelectedItems => Selection.Items.Select(i => Here.Store.ItemAt(i));

    /// <summary>
    /// The keys of the selected items, in source order. Setting them selects just these; keys that are not in the list are left out, so are
    /// hidden and disabled items, and setting what is selected already does nothing.
    /// </summary>
    public IReadOnlyList<TKey> SelectedKeys
    {
        get => [.. Selection.Items.Select(_parts.Store.KeyAt)];
        set
        {
            ArgumentNullException.ThrowIfNull(value);
            SelectOnly(Here.Lander.ItemsWith(value));
        }
    }
}
