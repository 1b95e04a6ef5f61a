namespace Lectica.Sources;

/// <summary>
/// Where a list reads items from that are not all in memory: a query, a file, a service. It puts its items into one total order, and a list
/// asks it for the stretches that are in view. It is asked on the list's thread, or, for what it is to store, where what was stored before
/// has ended; it answers on any. Several questions may be open at once, and none waits for another; what it is to store comes one after the
/// other.
/// </summary>
/// <typeparam name="TItem">What an item is. The list never changes one.</typeparam>
/// <typeparam name="TKey">By what an item is known: unique, and the same for as long as the item is there.</typeparam>
public interface IPagedSource<TItem, TKey>
{
    /// <summary>
    /// Items have come, gone or changed, from here or elsewhere. It may be raised on any thread, and once for many changes: the list then
    /// asks again.
    /// </summary>
    event EventHandler? Changed;

    /// <summary>
    /// Answers a question as of one moment: what it says of counts, items and places belongs together. An exception is shown in the rows
    /// that were asked for, with a way to ask again.
    /// </summary>
    Task<PageAnswer<TItem>> AskAsync(PageQuestion<TItem, TKey> question, CancellationToken cancellation);

    /// <summary>
    /// Reads the items that meet a condition, of those in its scope, in order: so many at most, from the first, or from the one that comes
    /// after an item.
    /// </summary>
    /// <param name="condition">What they meet.</param>
    /// <param name="after">The last item of the stretch before; null for the first one.</param>
    /// <param name="count">How many are wanted. Fewer mean that there are no more.</param>
    /// <param name="cancellation">Asked to stop.</param>
    Task<IReadOnlyList<TItem>> ReadAsync(Condition<TItem, TKey> condition, Box<TItem>? after, int count, CancellationToken cancellation);

    /// <summary>How many items meet a condition now.</summary>
    Task<int> CountAsync(Condition<TItem, TKey> condition, CancellationToken cancellation);
}

/// <summary>A source that finds items by how they begin, for what is typed.</summary>
public interface IFindingSource<TItem, TKey> : IPagedSource<TItem, TKey>
{
    /// <summary>
    /// The place of the first item from a place on whose text begins with these characters, going on from the top after the last; -1 for
    /// none.
    /// </summary>
    Task<int> FindAsync(string beginning, int from, CancellationToken cancellation);
}

/// <summary>A source that stores marks: of one item, or of all that meet a condition, in one act.</summary>
public interface IMarkingSource<TItem, TKey> : IPagedSource<TItem, TKey>
{
    /// <summary>
    /// Puts a mark on or off: for all of them, or for none. The rows show it at once; an exception is told to the user, and they show what
    /// they did before.
    /// </summary>
    Task<SourceChange> MarkAsync(string mark, Condition<TItem, TKey> condition, bool value, CancellationToken cancellation);

    /// <summary>Of so many items at most a change can be taken back. Users are told before more are changed.</summary>
    int MostTakenBack => int.MaxValue;
}

/// <summary>A source whose order can be changed: items are put elsewhere in it.</summary>
public interface IMovingSource<TItem, TKey> : IPagedSource<TItem, TKey>
{
    /// <summary>
    /// Puts items, in this order, together between two others. The rows show it at once; an exception is told to the user, and they come
    /// back.
    /// </summary>
    /// <param name="items">The items.</param>
    /// <param name="above">The item that is above the gap; null at the beginning.</param>
    /// <param name="below">The item that is below it; null at the end.</param>
    /// <param name="section">The section that they are to come into; null in a source without.</param>
    /// <param name="cancellation">Asked to stop.</param>
    Task<SourceChange> MoveAsync(
        IReadOnlyList<TItem> items, Box<TItem>? above, Box<TItem>? below, string? section, CancellationToken cancellation);
}

/// <summary>What a source has changed, and how it is taken back and done again: for just those items that it changed.</summary>
public sealed class SourceChange(int count, Func<CancellationToken, Task>? undo = null, Func<CancellationToken, Task>? redo = null)
{
    /// <summary>How many items it changed.</summary>
    public int Count { get; } = count;

    /// <summary>Takes it back; null where nothing can.</summary>
    public Func<CancellationToken, Task>? Undo { get; } = undo;

    /// <summary>Does it again after that.</summary>
    public Func<CancellationToken, Task>? Redo { get; } = redo;
}

/// <summary>An item that may be none: so that one of a value type can be left out too.</summary>
/// <param name="Item">The item.</param>
public sealed record Box<TItem>(TItem Item);
