using Lectica.Acts;
using Lectica.Items;
using Lectica.Selecting;

namespace Lectica;

// What a program can ask for, and what it can bind to.
public sealed partial class InteractiveList<TItem, TKey>
{
    /// <summary>Selects one item alone.</summary>
    public Response Select(TKey key) => DoTo(ActKind.Select, key);

    /// <summary>Lets one item join or leave the selection.</summary>
    public Response Toggle(TKey key) => DoTo(ActKind.Toggle, key);

    /// <summary>Selects the range from the anchor to an item.</summary>
    public Response ExtendTo(TKey key) => DoTo(ActKind.Extend, key);

    /// <summary>Puts the range from the anchor to an item to the anchor's state, beside what was selected when the anchor was set.</summary>
    public Response ExtendAddingTo(TKey key) => DoTo(ActKind.ExtendAdding, key);

    /// <summary>Moves the cursor to an item and brings it into view.</summary>
    public Response MoveCursorTo(TKey key) => Run(index =>
    {
        var response = index < 0 ? Absent(ActKind.MoveCursor, key) : Do(new Act(ActKind.MoveCursor, index));
        if (response.IsHandled) BringIntoView(index);
        return response;
    }, IndexOf(key));

    /// <summary>Raises <see cref="Activated"/> for an item.</summary>
    public Response Activate(TKey key) => DoTo(ActKind.Activate, key);

    /// <summary>Selects all items that show and are enabled, beside hidden ones that are selected.</summary>
    public Response SelectAll() => Do(ActKind.SelectAll);

    /// <summary>What the header's box does: selects all that show and are enabled, or takes them out if they are all in.</summary>
    public Response ToggleAll() => Do(ActKind.ToggleAll);

    /// <summary>Turns round every item that shows and is enabled.</summary>
    public Response Invert() => Do(ActKind.Invert);

    /// <summary>Selects nothing.</summary>
    public Response Clear() => Do(ActKind.Clear);

    /// <summary>Lets taps toggle from now on.</summary>
    public Response BeginSelecting() => Do(ActKind.BeginSelecting);

    /// <summary>Lets taps toggle no longer; the selection stays.</summary>
    public Response EndSelecting() => Do(ActKind.EndSelecting);

    /// <summary>Closes the open tray, if there is one.</summary>
    public Response CloseTray() => Do(ActKind.CloseTray);

    /// <summary>Closes the open menu, if there is one: for an app whose menu closes by itself.</summary>
    public Response CloseMenu() => Do(ActKind.CloseMenu);

    /// <summary>Asks for the menu of an item, or of the selection if it is in it, beside its row.</summary>
    public Response OpenMenu(TKey key) => DoTo(ActKind.OpenMenu, key);

    /// <summary>Does an act that needs no item.</summary>
    /// <exception cref="ArgumentException">The act needs an item.</exception>
    public Response Do(ActKind kind)
    {
        var act = new Act(kind);
        if (act.NeedsItem || act.GoesOn || kind is ActKind.Type or ActKind.MovePart or ActKind.WorkPart or ActKind.ChooseEntry or ActKind.RunCommand)
            throw new ArgumentException($"The act '{act.Name}' needs an item or a key press: use the call that takes one.", nameof(kind));
        return Run(_ => Do(act));
    }

    /// <summary>Does an act to the item at an index, or to none.</summary>
    internal Response DoAt(ActKind kind, int index) => Run(i => Do(new Act(kind, i)), index);

    /// <summary>Selects just these items, by index. The same rules hold as for the user: mode, limit, and none that must stay.</summary>
    public Response SelectOnly(ItemSet items)
    {
        ArgumentNullException.ThrowIfNull(items);
        return Run(_ =>
        {
            var (next, refusal) = Selector.Replace(_selection, items, Rules);
            var act = new Act(ActKind.Select);
            if (refusal is not null) return Refuse(act, refusal);
            Become(next, act, "call");
            return Response.Handled;
        });
    }

    private Response DoTo(ActKind kind, TKey key) =>
        Run(index => index < 0 ? Absent(kind, key) : Do(new Act(kind, index)), IndexOf(key));

    private Response Absent(ActKind kind, TKey key) =>
        Refuse(new Act(kind), new(RefusalKind.OutsideList, $"There is no item with the key '{key}' in the list of {Count}."));

    /// <summary>The rows on show as an observable list, for an items-control; dispose of it with the control.</summary>
    public RowCollection<TItem, TKey> ObservableRows()
    {
        CheckContext();
        return new(this);
    }

    /// <summary>An act as a command, for buttons and menus.</summary>
    public ListCommand<TItem, TKey> Command(ActKind kind) => new(this, kind);

    /// <summary>Whether an act would be done now, or the reason why not. Nothing is changed.</summary>
    public Refusal? WhyNot(ActKind kind, int index = -1)
    {
        CheckContext();
        var act = new Act(kind, index);
        if (kind is ActKind.CloseTray or ActKind.CloseMenu or ActKind.BreakOff) return null;
        if (kind == ActKind.Undo) return CanUndo ? null : new(RefusalKind.NoItem, "There is nothing to take back.");
        if (kind == ActKind.Redo) return CanRedo ? null : new(RefusalKind.NoItem, "There is nothing to do again.");
        var onlyNeedsItem = kind is ActKind.Activate or ActKind.OpenMenu or ActKind.InvokeTray or ActKind.Uncover or ActKind.Grab or ActKind.Sweep or ActKind.ToggleMark;
        if (!onlyNeedsItem) return Selector.Apply(_selection, act, Rules).Refusal;
        var refusal = Selector.Apply(_selection, act with { Kind = ActKind.MoveCursor }, Rules).Refusal;
        return refusal is null && _disabled.Contains(index) ? new(RefusalKind.Disabled, $"Item {index} is disabled.") : refusal;
    }

    /// <summary>Whether taps toggle.</summary>
    public bool IsSelecting => _selection.IsSelecting;

    /// <summary>The number of selected items.</summary>
    public int SelectedCount => _selection.Items.Count;

    /// <summary>The state of a header's box over the items that show and are enabled.</summary>
    public TriState HeaderState => Selector.HeaderState(_selection, Rules);

    /// <summary>The key of the item that the keyboard is on; the type's default where there is none, which <see cref="Selection"/> tells apart.</summary>
    public TKey? CursorKey => _selection.Cursor < 0 ? default : _store.KeyAt(_selection.Cursor);

    /// <summary>
    /// The first selected item, or the type's default. Setting it selects that item alone; null, or an item that is not in the list, clears.
    /// Setting what is selected already does nothing, so a two-way binding does not echo.
    /// </summary>
    public TItem? SelectedItem
    {
        get => _selection.Items.IsEmpty ? default : _store.ItemAt(_selection.Items.Nth(0));
        set => Choose(value is null ? -1 : _store.IndexOfItem(value));
    }

    /// <summary>The key of the first selected item, or the type's default. Setting it is as for <see cref="SelectedItem"/>.</summary>
    public TKey? SelectedKey
    {
        get => _selection.Items.IsEmpty ? default : _store.KeyAt(_selection.Items.Nth(0));
        set => Choose(value is null ? -1 : _store.IndexOf(value));
    }

    private void Choose(int index)
    {
        if (index < 0) Clear();
        else if (SelectedCount != 1 || !_selection.Items.Contains(index)) Run(i => Do(new Act(ActKind.Select, i)), index);
    }

    /// <summary>The selected items in source order, fetched as they are read.</summary>
    public IEnumerable<TItem> SelectedItems => _selection.Items.Select(_store.ItemAt);

    /// <summary>
    /// The keys of the selected items, in source order. Setting them selects just these; keys that are not in the list are left out, and
    /// setting what is selected already does nothing.
    /// </summary>
    public IReadOnlyList<TKey> SelectedKeys
    {
        get => [.. _selection.Items.Select(_store.KeyAt)];
        set
        {
            ArgumentNullException.ThrowIfNull(value);
            SelectOnly(ItemSet.Of(Count, value.Select(_store.IndexOf).Where(i => i >= 0)));
        }
    }
}
