using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using Lectica.Acts;
using Lectica.Input;
using Lectica.Items;
using Lectica.Sources;

namespace Lectica.Commands;

/// <summary>What a command is done to.</summary>
public enum CommandScope
{
    /// <summary>To items: its target is never empty.</summary>
    Items,

    /// <summary>To the list as a whole: it has no target.</summary>
    List,
}

/// <summary>Where a command shows.</summary>
[Flags]
public enum ShowIn
{
    /// <summary>Nowhere: by its chords and by call alone.</summary>
    None = 0,

    /// <summary>In the context menu.</summary>
    Menu = 1,

    /// <summary>In the tray at the leading edge, and so in the menu too.</summary>
    LeadingTray = 2,

    /// <summary>In the tray at the trailing edge, and so in the menu too.</summary>
    TrailingTray = 4,

    /// <summary>In the toolbar.</summary>
    Toolbar = 8,
}

/// <summary>What some items of a source that is not in memory mean to it.</summary>
internal interface ITargetMeaning<TItem, TKey>
{
    /// <summary>The condition; null where one of its ends has still to be read.</summary>
    Condition<TItem, TKey>? Condition { get; }

    /// <summary>The place of such an end; -1 where there is none.</summary>
    int UnreadEnd { get; }

    /// <summary>The same, once its ends have been read.</summary>
    Task<Condition<TItem, TKey>> ConditionAsync(CancellationToken cancellation);
}

/// <summary>
/// The items that a command is done to, fixed by key when it starts. Items and keys are read when they are first asked for, so that a
/// target of many costs nothing until somebody looks; they stay what they were, whatever becomes of the list while the command runs. What
/// nobody has looked at by then is read as long as the list stands; once it has changed, that is an error.
/// </summary>
public sealed class CommandTarget<TItem, TKey> : ITold
{
    private Func<ItemSet, TItem[]>? _itemsOf;
    private Func<ItemSet, TKey[]>? _keysOf, _keptKeysOf;
    private IReadOnlyList<TItem>? _items;
    private IReadOnlyList<TKey>? _keys;
    private IReadOnlyList<int>? _indexes;
    private bool _isLost;

    /// <param name="set">The items.</param>
    /// <param name="itemsOf">Reads them.</param>
    /// <param name="keysOf">Reads their keys, and asks the items whether they are still the same.</param>
    /// <param name="keptKeysOf">Reads the keys that they came with: nobody looks at them before the list changes.</param>
    internal CommandTarget(
        ItemSet set, Func<ItemSet, TItem[]> itemsOf, Func<ItemSet, TKey[]> keysOf, Func<ItemSet, TKey[]> keptKeysOf)
    {
        (Set, _itemsOf, _keysOf, _keptKeysOf) = (set, itemsOf, keysOf, keptKeysOf);
        Count = set.Count;
    }

    internal CommandTarget(ItemSet set, IReadOnlyList<TItem> items, IReadOnlyList<TKey> keys, IReadOnlyList<int> indexes)
    {
        ArgumentNullException.ThrowIfNull(items);
        (_items, _keys, _indexes) = (items, keys, indexes);
        (Set, Count) = (set, items.Count);
    }

    /// <summary>A target of these items.</summary>
    public CommandTarget(IReadOnlyList<TItem> items, IReadOnlyList<TKey> keys, IReadOnlyList<int> indexes)
        : this(ItemSet.None(0), items, keys, indexes)
    {
    }

    /// <summary>The items by the indexes that they had at first.</summary>
    internal ItemSet Set { get; }

    /// <summary>The list that they are of, and after how many edits of it; null for a target that an app has made.</summary>
    internal (object List, long Moment)? Of { get; init; }

    /// <summary>
    /// Of a target given to an inverse: those that are not in the list, by their numbers, with the list and after how many edits of it that
    /// is so.
    /// </summary>
    internal (object List, long Moment, ItemSet Items)? Away { get; init; }

    /// <summary>How many items there are; 0 for a command of the whole list.</summary>
    public int Count { get; }

    /// <summary>The items, in source order; empty for a command of the whole list.</summary>
    /// <exception cref="ItemNotReadException">The list is paged, and has not read all of them: <see cref="ReadAsync"/> does.</exception>
    public IReadOnlyList<TItem> Items => _items ??= _itemsOf!(Set);

    /// <summary>Their keys.</summary>
    public IReadOnlyList<TKey> Keys => _keys ??= _keysOf!(Set);

    /// <summary>
    /// Their indexes. Given to an inverse they are those at which the items stand now or, where they have left, would stand if they came
    /// back: inserted one after the other in this order, each lands where it was.
    /// </summary>
    public IReadOnlyList<int> Indexes => _indexes ??= Set.ToArray();

    /// <summary>The first item: the only one, where it is done to one.</summary>
    public TItem Item => Items[0];

    /// <summary>
    /// Takes how much of it is done, from 0 to 1, from any thread; more counts as all, and what is not a number as not known. Rows, menu
    /// and toolbar show the latest, and a screen reader is told of each quarter. What comes after the end counts for nothing.
    /// </summary>
    public IProgress<double> Progress { get; internal set; } = new Unheard();

    private sealed class Unheard : IProgress<double>
    {
        public void Report(double value)
        {
        }
    }

    /// <summary>What they mean to a source that is not in memory; null where all items are.</summary>
    internal ITargetMeaning<TItem, TKey>? Meaning { get; init; }

    /// <summary>
    /// Which items they are, in words that the source understands, also those that were never read: what <c>ExecuteUpdate</c>,
    /// <c>ExecuteDelete</c> or a service is given.
    /// </summary>
    /// <exception cref="InvalidOperationException">The list has its items in memory: they are <see cref="Items"/>.</exception>
    /// <exception cref="ItemNotReadException">A range ends on a row that is still being read; <see cref="ConditionAsync"/> waits for
    /// it.</exception>
    public Condition<TItem, TKey> Condition =>
        (Meaning ?? throw InMemory()).Condition ?? throw new ItemNotReadException(Meaning.UnreadEnd);

    /// <summary>The same, once the ends of its ranges have been read.</summary>
    /// <exception cref="InvalidOperationException">The list has its items in memory: they are <see cref="Items"/>.</exception>
    public Task<Condition<TItem, TKey>> ConditionAsync(CancellationToken cancellation = default) =>
        (Meaning ?? throw InMemory()).ConditionAsync(cancellation);

    private static InvalidOperationException InMemory() =>
        new("The list has all of its items in memory, and no source that could work out a condition: use Items or Keys.");

    /// <summary>
    /// Reads the items page by page, in order, whether the list has read them or not: so many at a time. Of a paged list what comes or goes
    /// meanwhile is read or not as it is when its page is.
    /// </summary>
    /// <param name="pageSize">How many at a time, 1 or more.</param>
    /// <param name="cancellation">Asked to stop.</param>
    public async IAsyncEnumerable<IReadOnlyList<TItem>> ReadAsync(
        int pageSize = 1000, [EnumeratorCancellation] CancellationToken cancellation = default)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(pageSize, 1);
        if (Meaning is null)
        {
            foreach (var page in Items.Chunk(pageSize)) yield return page;
            yield break;
        }
        var condition = await Meaning.ConditionAsync(cancellation).ConfigureAwait(false);
        for (Box<TItem>? after = null; ;)
        {
            var page = await condition.Source.ReadAsync(condition, after, pageSize, cancellation).ConfigureAwait(false);
            if (page.Count > 0) yield return page;
            if (page.Count < pageSize) yield break;
            after = new(page[^1]);
        }
    }

    /// <summary>Their keys, as far as a paged list can tell them all; none where it cannot.</summary>
    internal IReadOnlyList<TKey> KeysRead(Func<ItemSet, bool> has) => _keys ?? (_isLost || !has(Set) ? [] : Keys);

    /// <summary>Items and keys, read once for all; null where not all of them can be.</summary>
    internal (TItem[] Items, TKey[] Keys)? Read(Func<ItemSet, bool> has)
    {
        ((ITold)this).Fetch(has);
        return _items is TItem[] items && _keys is TKey[] keys ? (items, keys) : null;
    }

    void ITold.Fetch(Func<ItemSet, bool> has)
    {
        if (has(Set)) (_items, _keys) = (Items, _keys ?? _keptKeysOf!(Set));
        else
        {
            _isLost = true;
            _itemsOf = set => throw new ItemNotReadException(set.NextAt(0));
            _keysOf = set => throw new ItemNotReadException(set.NextAt(0));
        }
    }
}

/// <summary>What a command came to.</summary>
/// <param name="Count">To how many items it was done.</param>
/// <param name="IsHandled">Whether it was done at all.</param>
public readonly record struct CommandResult(int Count, bool IsHandled = true);

/// <summary>
/// Something that can be done, declared once: it appears in the context menu, the trays, the toolbar and among the keys, with one rule for
/// what it is done to everywhere. Everything but the id, the label and what it does has a default.
/// </summary>
/// <param name="Id">By which it is known; unique in its list.</param>
/// <param name="Label">What it says.</param>
public sealed record Command<TItem, TKey>(string Id, string Label)
{
    private readonly Func<CommandTarget<TItem, TKey>, CancellationToken, Task<CommandResult>>? _run;

    /// <summary>Whether it is the same one: functions say nothing of what they do.</summary>
    public bool Equals(Command<TItem, TKey>? other) => ReferenceEquals(this, other);

    /// <inheritdoc/>
    public override int GetHashCode() => RuntimeHelpers.GetHashCode(this);

    /// <summary>
    /// Its icon: a name of those in docs/looks.md, or the app's own as path data of SVG in a square of 24 by 24, such as
    /// <c>M4 12h16</c>, which is drawn as lines. Of another name hosts draw the first letter. Null for none.
    /// </summary>
    public string? Icon { get; init; }

    /// <summary>The keys that run it at the cursor, or for the selection.</summary>
    public ImmutableArray<KeyChord> Chords { get; init; } = [];

    /// <summary>What kind of thing it does.</summary>
    public CommandRole Role { get; init; }

    /// <summary>Commands of one group stand together in the menu, with a line between groups.</summary>
    public string Group { get; init; } = "";

    /// <summary>The label of the submenu it is in; null where it stands in the menu itself.</summary>
    public string? Submenu { get; init; }

    /// <summary>That submenu's icon, said by any of its commands; null for none.</summary>
    public string? SubmenuIcon { get; init; }

    /// <summary>Its place among the others of its group, lowest first; those with the same stand as they were declared.</summary>
    public int Order { get; init; }

    /// <summary>In a toolbar that is too narrow, commands with less go to the overflow menu first.</summary>
    public int Priority { get; init; }

    /// <summary>What it is done to.</summary>
    public CommandScope Scope { get; init; }

    /// <summary>Where it shows.</summary>
    public ShowIn ShowIn { get; init; } = ShowIn.Menu;

    /// <summary>Whether a row swiped through to the arming line invokes it; at most one at each edge.</summary>
    public bool SwipesThrough { get; init; }

    /// <summary>
    /// Whether it can be done to a target; asked only when it is shown or run. It always can where null. The target's items, keys and
    /// indexes are read as the app looks at them, so that a question about many costs no more than that; once the list has changed they
    /// cannot be looked at any more (<see cref="InvalidOperationException"/>).
    /// </summary>
    public Func<CommandTarget<TItem, TKey>, bool>? EnabledFor { get; init; }

    /// <summary>
    /// Whether what it switches is on for a target: its menu entry has a check mark then, and its tool looks pressed. Null where it
    /// switches nothing. Asked when it is shown, about a target as <see cref="EnabledFor"/> is.
    /// </summary>
    public Func<CommandTarget<TItem, TKey>, bool>? CheckedFor { get; init; }

    /// <summary>The question that must be answered with yes before it runs; null where none is asked.</summary>
    public Func<CommandTarget<TItem, TKey>, string>? Question { get; init; }

    /// <summary>What a brief notice says when it is done; null for none.</summary>
    public Func<CommandTarget<TItem, TKey>, string>? Notice { get; init; }

    /// <summary>What it does. It runs on the list's context; what it asks of the list waits as in any handler.</summary>
    public Func<CommandTarget<TItem, TKey>, CancellationToken, Task<CommandResult>> Run
    {
        get => _run ?? throw new InvalidOperationException($"The command '{Id}' does nothing: give it a Do or a Run.");
        init => _run = value;
    }

    /// <summary>The same for what is done at once; null for a command that was given a <see cref="Run"/>.</summary>
    public Action<CommandTarget<TItem, TKey>>? Do
    {
        get;
        init
        {
            ArgumentNullException.ThrowIfNull(value);
            field = value;
            _run = (target, _) =>
            {
                value(target);
                return Task.FromResult(new CommandResult(target.Count));
            };
        }
    }

    /// <summary>
    /// What takes all of it back, for undo. Where it is null, what the command has had the list do (moves, marks, items taken out) is taken
    /// back together, as one step with the command's name; where that is nothing, the command cannot be.
    /// </summary>
    public Action<CommandTarget<TItem, TKey>>? Inverse { get; init; }

    /// <summary>Whether it was given anything to do.</summary>
    internal bool DoesSomething => _run is not null;

    /// <summary>Whether it is in the menu: also where a tray has it, since whatever a swipe can do the menu can.</summary>
    internal bool IsInMenu => (ShowIn & (ShowIn.Menu | ShowIn.LeadingTray | ShowIn.TrailingTray)) != 0;
}

/// <summary>A chord of a command that does not always reach it.</summary>
/// <param name="Command">The command.</param>
/// <param name="Chord">The chord.</param>
/// <param name="Reason">Who takes it instead.</param>
public sealed record ChordConflict<TItem, TKey>(Command<TItem, TKey> Command, KeyChord Chord, string Reason) where TKey : notnull;
