using Lectica.Acts;
using Lectica.Commands;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Moving;
using Lectica.Selecting;

namespace Lectica;

/// <summary>A tap on an enabled item: raised each time, also when it changes nothing.</summary>
public sealed class TappedEventArgs<TItem, TKey>(TItem item, TKey key, int index, RowNumber row, Part part, int count) : EventArgs
{
    /// <summary>The item that was tapped.</summary>
    public TItem Item { get; } = item;

    /// <summary>Its key.</summary>
    public TKey Key { get; } = key;

    /// <summary>Its index in the source when it was tapped.</summary>
    public int Index { get; } = index;

    /// <summary>The row it was on.</summary>
    public RowNumber Row { get; } = row;

    /// <summary>The part of the row.</summary>
    public Part Part { get; } = part;

    /// <summary>1, or 2 for the second tap of a double tap.</summary>
    public int Count { get; } = count;
}

/// <summary>An item is to be opened: a touch tap, a double tap or Enter.</summary>
public sealed class ActivatedEventArgs<TItem, TKey>(TItem item, TKey key, int index, Act act) : EventArgs
{
    /// <summary>The item.</summary>
    public TItem Item { get; } = item;

    /// <summary>Its key.</summary>
    public TKey Key { get; } = key;

    /// <summary>Its index in the source at that moment.</summary>
    public int Index { get; } = index;

    /// <summary>The act, with the rule that gave it.</summary>
    public Act Act { get; } = act;
}

/// <summary>The selection changed: raised once for each act of the user, call, edit or filter that changed it.</summary>
public sealed class SelectionChangedEventArgs<TItem, TKey> : EventArgs, ITold
{
    private Func<ItemSet, TItem[]> _itemsOf;
    private TItem[]? _addedItems, _removedItems;

    internal SelectionChangedEventArgs(
        ItemSet added, ItemSet removed, ItemSet selected, Act? act, string cause, TItem[]? departed, Func<ItemSet, TItem[]> itemsOf)
    {
        (Added, Removed, Selected, Act, Cause, _removedItems, _itemsOf) = (added, removed, selected, act, cause, departed, itemsOf);
    }

    /// <summary>The items that joined, as indexes after the change.</summary>
    public ItemSet Added { get; }

    /// <summary>The items that left. Where an edit of the source took them away the indexes are those before the edit.</summary>
    public ItemSet Removed { get; }

    /// <summary>All that is selected now.</summary>
    public ItemSet Selected { get; }

    /// <summary>The act that caused it, or null where the source or the filter did.</summary>
    public Act? Act { get; }

    /// <summary>The rule that caused it; or <c>call</c>, <c>source</c>, <c>filter</c> or <c>required</c>.</summary>
    public string Cause { get; }

    /// <summary>
    /// The items that joined, fetched when first asked for: while the event is handled, and after it as long as the list stands. Once they
    /// have been fetched they stay.
    /// </summary>
    /// <exception cref="InvalidOperationException">They have not been fetched, and the list has changed since.</exception>
    /// <exception cref="ItemNotReadException">The list is paged, and has not read all of them.</exception>
    public IReadOnlyList<TItem> AddedItems => _addedItems ??= _itemsOf(Added);

    /// <summary>The items that left, fetched in the same way.</summary>
    /// <exception cref="InvalidOperationException">They have not been fetched, and the list has changed since.</exception>
    /// <exception cref="ItemNotReadException">The list is paged, and has not read all of them.</exception>
    public IReadOnlyList<TItem> RemovedItems => _removedItems ??= _itemsOf(Removed);

    void ITold.Fetch(Func<ItemSet, bool> has)
    {
        if (has(Added)) _addedItems ??= _itemsOf(Added);
        if (has(Removed)) _removedItems ??= _itemsOf(Removed);
        _itemsOf = set => throw new ItemNotReadException(set.NextAt(0));
    }
}

/// <summary>A pointer came down on an item, or the pressed look has ended.</summary>
public sealed class PressedEventArgs<TItem, TKey>(TItem item, TKey key, Part part, bool isPressed) : EventArgs
{
    /// <summary>The item.</summary>
    public TItem Item { get; } = item;

    /// <summary>Its key.</summary>
    public TKey Key { get; } = key;

    /// <summary>The part of its row.</summary>
    public Part Part { get; } = part;

    /// <summary>Whether it is pressed now.</summary>
    public bool IsPressed { get; } = isPressed;
}

/// <summary>A moment at which a device may vibrate.</summary>
public enum HapticHint
{
    /// <summary>A long press did something.</summary>
    LongPress,

    /// <summary>A row was swiped to the arming line: letting go now invokes.</summary>
    Armed,

    /// <summary>It was swiped back again.</summary>
    Disarmed,

    /// <summary>Items were taken up.</summary>
    Grabbed,

    /// <summary>Items came over another gap.</summary>
    GapCrossed,

    /// <summary>Items were let go.</summary>
    Dropped,

    /// <summary>A sweep came to another row.</summary>
    RowCrossed,
}

/// <summary>A moment at which a device may vibrate.</summary>
public sealed class HapticEventArgs(HapticHint hint) : EventArgs
{
    /// <summary>Which.</summary>
    public HapticHint Hint { get; } = hint;
}

/// <summary>A command was done.</summary>
public sealed class CommandRanEventArgs<TItem, TKey>(Command<TItem, TKey> command, CommandTarget<TItem, TKey> target, CommandResult result)
    : EventArgs
{
    /// <summary>The command.</summary>
    public Command<TItem, TKey> Command { get; } = command;

    /// <summary>What it was done to, as it was when it started.</summary>
    public CommandTarget<TItem, TKey> Target { get; } = target;

    /// <summary>What it came to.</summary>
    public CommandResult Result { get; } = result;
}

/// <summary>A command was cancelled before it was done.</summary>
public sealed class CommandCancelledEventArgs<TItem, TKey>(Command<TItem, TKey> command, CommandTarget<TItem, TKey> target) : EventArgs
{
    /// <summary>The command.</summary>
    public Command<TItem, TKey> Command { get; } = command;

    /// <summary>What it was to be done to; some of it may be done.</summary>
    public CommandTarget<TItem, TKey> Target { get; } = target;
}

/// <summary>A command, or its inverse, threw an exception.</summary>
public sealed class CommandFailedEventArgs<TItem, TKey>(Command<TItem, TKey> command, CommandTarget<TItem, TKey> target, Exception error)
    : EventArgs
{
    /// <summary>The command.</summary>
    public Command<TItem, TKey> Command { get; } = command;

    /// <summary>What it was to be done to.</summary>
    public CommandTarget<TItem, TKey> Target { get; } = target;

    /// <summary>What it threw.</summary>
    public Exception Error { get; } = error;

    /// <summary>
    /// What the brief notice says that follows, and offers to try again: by default that the command has failed, without the exception's
    /// words, which are not for users. Null for no notice.
    /// </summary>
    public string? Notice { get; set; }
}

/// <summary>
/// Something is asked before it is done: a command that has a question, or a change of items of which a paged list has not read all.
/// </summary>
public sealed class ConfirmationEventArgs<TItem, TKey> : EventArgs
{
    private readonly Inquiry<TItem, TKey> _about;
    private readonly Action<bool> _answer;

    internal ConfirmationEventArgs(Inquiry<TItem, TKey> about, Action<bool> answer) => (_about, _answer) = (about, answer);

    /// <summary>The command; null where a mark would be put on or off.</summary>
    public Command<TItem, TKey>? Command => _about.Command;

    /// <summary>The mark's name; null where a command would run.</summary>
    public string? Mark => _about.Mark;

    /// <summary>What it would be done to.</summary>
    public CommandTarget<TItem, TKey> Target => _about.Target;

    /// <summary>The question: the command's own, else one that says of how many items, and whether it can be taken back.</summary>
    public string Question => _about.Question;

    /// <summary>Answers it, now or later, on the list's context; a second answer does nothing.</summary>
    public void Answer(bool yes) => _answer(yes);
}

/// <summary>A mark changed.</summary>
public sealed class MarkChangedEventArgs<TItem>(string name, ItemSet added, ItemSet removed, IReadOnlyList<TItem> addedItems,
    IReadOnlyList<TItem> removedItems, string cause) : EventArgs
{
    /// <summary>The mark's name.</summary>
    public string Name { get; } = name;

    /// <summary>The items that have it now and had it not, by index at that moment.</summary>
    public ItemSet Added { get; } = added;

    /// <summary>The items that had it and have it no longer.</summary>
    public ItemSet Removed { get; } = removed;

    /// <summary>The items that have it now.</summary>
    public IReadOnlyList<TItem> AddedItems { get; } = addedItems;

    /// <summary>The items that have it no longer.</summary>
    public IReadOnlyList<TItem> RemovedItems { get; } = removedItems;

    /// <summary>The rule that changed it; or <c>call</c>, <c>undo</c>, or <c>source</c> where the app changed the item.</summary>
    public string Cause { get; } = cause;
}

/// <summary>Words for a screen reader.</summary>
public sealed class AnnouncedEventArgs(string text) : EventArgs
{
    /// <summary>The words.</summary>
    public string Text { get; } = text;
}

/// <summary>A menu is to be shown.</summary>
public sealed class MenuRequestedEventArgs<TItem, TKey>(
    ItemSet target, IReadOnlyList<TItem> items, TKey key, int index, double x, double y, Act act) : EventArgs
{
    /// <summary>
    /// The items that it is for: the selection if the pressed item is in it, else that item; shown and enabled ones only.
    /// </summary>
    public ItemSet Target { get; } = target;

    /// <summary>The same, as items.</summary>
    public IReadOnlyList<TItem> Items { get; } = items;

    /// <summary>The key of the item that was pressed or has the cursor.</summary>
    public TKey Key { get; } = key;

    /// <summary>Its index in the source at that moment.</summary>
    public int Index { get; } = index;

    /// <summary>Where to show it, px from the viewport's left edge.</summary>
    public double X { get; } = x;

    /// <summary>Where to show it, px from the viewport's top edge.</summary>
    public double Y { get; } = y;

    /// <summary>The act, with the rule that gave it.</summary>
    public Act Act { get; } = act;
}

/// <summary>Items were dropped in another gap.</summary>
public sealed class MoveRequestedEventArgs<TItem, TKey>(
    ItemSet moved, IReadOnlyList<TItem> items, IReadOnlyList<TKey> keys, int gap, string? section, Act act) : EventArgs
{
    /// <summary>The items, in their order.</summary>
    public ItemSet Moved { get; } = moved;

    /// <summary>The same, as items.</summary>
    public IReadOnlyList<TItem> Items { get; } = items;

    /// <summary>Their keys.</summary>
    public IReadOnlyList<TKey> Keys { get; } = keys;

    /// <summary>Where they are to land together: just before the item that has that index now, or at the end.</summary>
    public int Gap { get; } = gap;

    /// <summary>
    /// The section that they are to come into, by key: the app changes those that are in another one. Null in a list without sections.
    /// </summary>
    public string? Section { get; } = section;

    /// <summary>
    /// The same as moves of one item each, from where an item then is to where it then comes: as an <c>ObservableCollection</c>'s
    /// <c>Move</c> takes them.
    /// </summary>
    public IEnumerable<SingleMove> SingleMoves => MoveParts.Singles(Moved, Gap).Select(s => new SingleMove(s.From, s.To));

    /// <summary>In an outline the level that they are to land on, from 0; -1 in a list without levels.</summary>
    public int Level { get; init; } = -1;

    /// <summary>
    /// In an outline the item that <see cref="Tops"/> are to lie below; the type's default on the first level.
    /// </summary>
    public TItem? Parent { get; init; }

    /// <summary>
    /// In an outline, where what is moved has all that is below it along: the items whose parent changes. In other lists all that are
    /// moved.
    /// </summary>
    public IReadOnlyList<TItem> Tops { get; init; } = items;

    /// <summary>The act, with the rule that gave it.</summary>
    public Act Act { get; } = act;
}

/// <summary>Something goes to the clipboard: a host that has one puts it there.</summary>
public sealed class CopiedEventArgs(TransferData data, int count) : EventArgs
{
    /// <summary>What.</summary>
    public TransferData Data { get; } = data;

    /// <summary>Of how many items.</summary>
    public int Count { get; } = count;
}

/// <summary>Something was pasted, or dropped from outside: the app makes items of it.</summary>
public sealed class InsertRequestedEventArgs<TItem> : EventArgs
{
    private readonly Func<int> _gap;
    private readonly Func<IReadOnlyList<TItem>, Response> _insert;
    private readonly Func<string, Response> _refuse;

    internal InsertRequestedEventArgs(TransferData data, bool isDrop, string? section, Func<int> gap,
        Func<IReadOnlyList<TItem>, Response> insert, Func<string, Response> refuse) =>
        (Data, IsDrop, Section, _gap, _insert, _refuse) = (data, isDrop, section, gap, insert, refuse);

    /// <summary>What came.</summary>
    public TransferData Data { get; }

    /// <summary>Whether it was dragged here; else it was pasted.</summary>
    public bool IsDrop { get; }

    /// <summary>
    /// Where it came: just before the item that has that index now, or at the end. It follows what has become of the list since, so that
    /// it is right however long a file takes to be read.
    /// </summary>
    public int Gap => _gap();

    /// <summary>The section that it came into, by key; null in a list without.</summary>
    public string? Section { get; }

    /// <summary>
    /// Puts items into the source there, where that is a list that can be written, and into the section where it has an <c>Assign</c>; they
    /// are selected and brought into view, and it is one step that can be taken back. An app with another source puts them there itself, at
    /// <see cref="Gap"/>. It may be called later too, on the list's context.
    /// </summary>
    public Response Insert(IReadOnlyList<TItem> items)
    {
        ArgumentNullException.ThrowIfNull(items);
        return _insert(items);
    }

    /// <summary>Says that nothing can be made of it after all, and why, in words for users: a brief notice shows them.</summary>
    public Response Refuse(string why)
    {
        ArgumentNullException.ThrowIfNull(why);
        return _refuse(why);
    }
}

/// <summary>Items were moved in the source.</summary>
public sealed class MovedEventArgs<TItem, TKey> : EventArgs, ITold
{
    private readonly Func<ItemSet, TKey[]> _keysOf;

    internal MovedEventArgs(
        IReadOnlyList<TItem> items, Func<ItemSet, TKey[]> keysOf, ItemSet landed, string? section, Act act) =>
        (Items, _keysOf, Landed, Section, Act) = (items, keysOf, landed, section, act);

    /// <summary>The items, in their order now.</summary>
    public IReadOnlyList<TItem> Items { get; }

    /// <summary>Their keys, fetched when first asked for: while the event is handled, and after it as long as the list stands.</summary>
    /// <exception cref="InvalidOperationException">They have not been fetched, and the list has changed since.</exception>
    public IReadOnlyList<TKey> Keys => field ??= _keysOf(Landed);

    void ITold.Fetch(Func<ItemSet, bool> has) => _ = Keys;

    /// <summary>Where they are now: together, unless a move was taken back.</summary>
    public ItemSet Landed { get; }

    /// <summary>
    /// The section that they have come into, by key; null in a list without sections. Of a move that was taken back, that of the first
    /// item.
    /// </summary>
    public string? Section { get; }

    /// <summary>The act, with the rule that gave it.</summary>
    public Act Act { get; }
}

/// <summary>An act was not done, or a gesture or key met no rule.</summary>
public sealed class RefusedEventArgs(Act? act, Refusal refusal, string text) : EventArgs
{
    /// <summary>Why, in words for users.</summary>
    public string Text { get; } = text;

    /// <summary>The act, or null where no rule gave one.</summary>
    public Act? Act { get; } = act;

    /// <summary>Why, in words for developers.</summary>
    public Refusal Refusal { get; } = refusal;
}

/// <summary>A list was called from a thread or context that it does not belong to. Nothing was changed.</summary>
public sealed class WrongThreadException(string message) : InvalidOperationException(message);

/// <summary>A source could not be read. The rows that it was for say so, and can be tried again.</summary>
public sealed class ReadFailedEventArgs(Exception error) : EventArgs
{
    /// <summary>What the source threw, or what is wrong with its answer.</summary>
    public Exception Error { get; } = error;
}

/// <summary>One item's move: as an <c>ObservableCollection</c>'s <c>Move</c> takes it.</summary>
/// <param name="From">The index where it is.</param>
/// <param name="To">The index that it has afterwards.</param>
public readonly record struct SingleMove(int From, int To);

/// <summary>How many items of a section show, and whether all, some or none of those that can be are selected.</summary>
/// <param name="Count">How many show.</param>
/// <param name="State">What a box over them says.</param>
public readonly record struct SectionCount(int Count, TriState State);

/// <summary>A command under way.</summary>
public readonly struct RunningCommand<TKey>(string id, IReadOnlyList<TKey> keys)
{
    /// <summary>The command.</summary>
    public string Id { get; } = id;

    /// <summary>What it is being done to, as far as that has been read.</summary>
    public IReadOnlyList<TKey> Keys { get; } = keys;
}
