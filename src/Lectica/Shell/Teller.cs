using Lectica.Acts;
using Lectica.Commands;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Selecting;
using Lectica.States;
using Lectica.Tracing;

namespace Lectica.Shell;

/// <summary>
/// Tells of items: what differs between two states, by events that carry them. What belongs together is told as one change of the
/// selection.
/// </summary>
internal sealed class Teller<TItem, TKey>(Core core, ItemStore<TItem, TKey> store, Events<TItem, TKey> events) : ITeller
    where TKey : notnull
{
    private static readonly string[] OfSelection =
        ["SelectedCount", "SelectedItem", "SelectedKey", "SelectedItems", "SelectedKeys", "HeaderState"];

    private readonly List<ITold> _untold = [], _held = [], _ended = [];
    private Gathering<TItem, TKey>? _gathering;
    private int _depth;

    /// <summary>Begins to gather: until the end of the outermost, the selection is told of once.</summary>
    public void BeginGathering()
    {
        if (_depth++ == 0) _gathering = new(core.Selection);
    }

    public void EndGathering()
    {
        if (_depth == 1) TellGathered();
        if (--_depth == 0) _gathering = null;
    }

    /// <summary>Reads what is to be told by index, before the indexes mean something else.</summary>
    public void ReadUntold()
    {
        foreach (var told in _untold) told.Fetch(store.Has);
        foreach (var target in _held) target.Fetch(store.Has);
    }

    /// <summary>The source was edited, and the state will be.</summary>
    public void Edited(Edit edit, Departed<TItem, TKey> departed) => _gathering!.Follow(edit, departed);

    private void TellGathered()
    {
        var now = core.Selection;
        if (_gathering!.HadNone && now.Items.IsEmpty) return;
        var (start, left) = (_gathering.Followed, _gathering.Left);
        if (ReferenceEquals(start, now.Items) && left is null) return;
        ItemSet added = now.Items.Except(start), removed = start.Except(now.Items);
        var cause = !_gathering.HasEdits ? "call" : left is not null || now.Items.Count <= start.Count ? "source" : "required";
        if (left is null)
        {
            Tell(added, removed, now.Items, null, cause, null, null);
            return;
        }
        // All that is no longer selected, by the indexes of before the edits.
        if (!removed.IsEmpty || !left.IsInOrder)
        {
            left = left.Copy();
            foreach (var index in removed) left.Add(_gathering.FirstIndex(index), store.ItemAt(index), store.KeptKeyAt(index));
            left.Sort();
        }
        Tell(added, left.SetIn(_gathering.FirstLength), now.Items, null, cause,
            events.SelectionChanged is null ? [] : left.Items.ToArray(),
            core.Out.Traced is null ? null : left.Keys[..Math.Min(left.Count, Words.Keys)].ToArray());
    }

    public void TellSelection(Selection before, Selection now, Act? act, string cause)
    {
        if (before.IsSelecting != now.IsSelecting)
            core.Trace(() => new TracedChange { T = core.Now, Change = "selecting", Selecting = now.IsSelecting });
        if ((before.Cursor != now.Cursor || before.Heading != now.Heading) && _gathering?.Left is null)
            core.Trace(() => new TracedChange
            {
                T = core.Now,
                Change = "cursor",
                Key = core.KeyText(now.Cursor),
                Part = now.Heading is null ? null : "heading:" + now.Heading,
                Index = now.Cursor < 0 ? null : now.Cursor,
            });
        if (ReferenceEquals(before.Items, now.Items)) return;
        if (_depth == 0) Tell(now.Items.Except(before.Items), before.Items.Except(now.Items), now.Items, act, cause, null, null);
    }

    private void Tell(ItemSet added, ItemSet removed, ItemSet selected, Act? act, string cause, TItem[]? removedItems, TKey[]? removedKeys)
    {
        if (added.IsEmpty && removed.IsEmpty) return;
        foreach (var name in OfSelection) core.Out.Properties.Add(name);
        core.Trace(() => new TracedChange
        {
            T = core.Now,
            Change = "selection",
            Added = KeysOf(added),
            AddedCount = added.Count,
            Removed = removedKeys is null ? KeysOf(removed) : [.. removedKeys.Select(store.TextOf)],
            RemovedCount = removed.Count,
            Rule = cause,
        });
        // The item at the cursor a screen reader reads by itself, with whether it is selected; and an arrow leaves one behind.
        var cursor = core.Selection.Cursor;
        var others = added.Count - (cursor >= 0 && added.Contains(cursor) ? 1 : 0);
        if (core.Options.Policy.SelectsMany && (others > 0 || removed.Count > 1 || cursor < 0))
            core.Announce(p => p.SelectionChanged(added.Count, removed.Count, selected.Count), isAside: true);
        if (events.SelectionChanged is not { } handlers) return;
        var args = new SelectionChangedEventArgs<TItem, TKey>(
            added, removed, selected, act, cause, removedItems, WhileTheyStand(store.ItemsOf));
        _untold.Add(args);
        core.Out.Raise(handlers, args);
    }

    public void TellMarks(MarkSets before, MarkSets now, ItemSet? came, string cause)
    {
        foreach (var sign in core.State.Declared.Marks)
        {
            if (!before.Sets.TryGetValue(sign.Name, out var old) || !now.Sets.TryGetValue(sign.Name, out var set)
                || ReferenceEquals(old, set)) continue;
            ItemSet added = set.Except(came is null ? old : old.Union(came)), removed = old.Except(came is null ? set : set.Union(came));
            if (added.IsEmpty && removed.IsEmpty) continue;
            core.Trace(() => new TracedChange
            {
                T = core.Now,
                Change = "mark",
                Part = "mark:" + sign.Name,
                Added = KeysOf(added),
                AddedCount = added.Count,
                Removed = KeysOf(removed),
                RemovedCount = removed.Count,
                Rule = cause,
            });
            if (events.MarkChanged is { } handlers)
                core.Out.Raise(handlers, new(sign.Name, added, removed, ItemsReadOf(added), ItemsReadOf(removed), cause));
        }
    }

    /// <summary>Items were moved in the source.</summary>
    /// <param name="items">The items, in their order now.</param>
    /// <param name="landed">Where they are.</param>
    /// <param name="section">The section that they have come into, by key.</param>
    /// <param name="act">The act.</param>
    public void TellMoved(IReadOnlyList<TItem> items, ItemSet landed, string? section, Act act)
    {
        if (events.Moved is not { } handlers) return;
        var args = new MovedEventArgs<TItem, TKey>(items, WhileTheyStand(store.KeptKeysOf), landed, section, act);
        _untold.Add(args);
        core.Out.Raise(handlers, args);
    }

    public void TellPressed(IReadOnlyList<(int Index, Part Part)> before, IReadOnlyList<(int Index, Part Part)> now)
    {
        if (events.PressChanged is not { } handlers) return;
        foreach (var (index, part) in before)
            if (!now.Contains((index, part)) && store.Has(index))
                core.Out.Raise(handlers, new(store.ItemAt(index), store.KeptKeyAt(index), part, false));
        foreach (var (index, part) in now)
            if (!before.Contains((index, part)) && store.Has(index))
                core.Out.Raise(handlers, new(store.ItemAt(index), store.KeptKeyAt(index), part, true));
    }

    public void TellMenuClosed()
    {
        core.Trace(() => new TracedChange { T = core.Now, Change = "menu" });
        core.Out.Raise(events.MenuClosed);
    }

    public void TellMore(Footer before, Footer now)
    {
        if (now.More != before.More || now.Asked != before.Asked)
            core.Trace(() => new TracedChange
            {
                T = core.Now,
                Change = "more",
                Reason = now.More.Kind == MoreKind.Loading ? "wanted" : Footer.Say(now.More, Phrases.English),
            });
        if (now.More.Kind is MoreKind.Failed or MoreKind.None && now.More != before.More) core.Announce(p => Footer.Say(now.More, p));
        if (now.Asked != before.Asked) core.Out.Raise(events.MoreWanted);
    }

    /// <summary>All is told.</summary>
    public void Forget()
    {
        _untold.Clear();
        foreach (var target in _ended) _held.Remove(target);
        _ended.Clear();
    }

    /// <summary>The items of a set, in order.</summary>
    public TItem[] ItemsOf(ItemSet set) => store.ItemsOf(set);

    /// <summary>The items of a set; of a paged list those that have been read.</summary>
    public TItem[] ItemsReadOf(ItemSet set) =>
        store.Pages is null ? ItemsOf(set) : [.. store.Pages.Indexes.Where(set.Contains).Order().Select(store.ItemAt)];

    /// <summary>What some items mean to a source that is not in memory; null where all items are.</summary>
    public Func<ItemSet, ITargetMeaning<TItem, TKey>?> MeaningOf { get; set; } = _ => null;

    /// <summary>A command's target as it is now. Items and keys are read when they are asked for.</summary>
    public CommandTarget<TItem, TKey> TargetOf(ItemSet items) =>
        new(items, WhileTheyStand(store.ItemsOf), WhileTheyStand(store.KeysOf), store.KeptKeysOf)
        {
            Meaning = MeaningOf(items),
            Of = (core, core.Moment.Number),
        };

    /// <summary>The items of a command's target as they are now. Cost: a look-up for each key, where the list has changed since.</summary>
    public ItemSet SetOf(CommandTarget<TItem, TKey> target) =>
        target.Of is var (list, moment) && ReferenceEquals(list, core) && moment == core.Moment.Number ? target.Set
        : ItemSet.Of(store.Count, target.Keys.Select(store.IndexOfKept).Where(i => i >= 0));

    /// <summary>What the app is asked about: a target that is read where it looks.</summary>
    public CommandTarget<TItem, TKey> AskedAbout(ItemSet items) =>
        new(items, AskedItems(items), AskedKeys(items), new ReadInPlace<int>(items, index => index, StandsStill()))
        {
            Meaning = MeaningOf(items),
            Of = (core, core.Moment.Number),
        };

    /// <summary>Items that the app is asked about.</summary>
    public IReadOnlyList<TItem> AskedItems(ItemSet items) => new ReadInPlace<TItem>(items, store.ItemAt, StandsStill());

    /// <summary>Their keys.</summary>
    public IReadOnlyList<TKey> AskedKeys(ItemSet items) => new ReadInPlace<TKey>(items, store.KeyAt, StandsStill());

    // By its number: who holds the moment itself holds all edits since.
    private Func<bool> StandsStill()
    {
        var moment = core.Moment.Number;
        return () => core.Moment.Number == moment;
    }

    /// <summary>Keeps a target true until it is let go: what has not been read of it is before the indexes mean something else.</summary>
    public CommandTarget<TItem, TKey> Hold(CommandTarget<TItem, TKey> target)
    {
        _held.Add(target);
        return target;
    }

    /// <summary>Lets a target go once all is told.</summary>
    public void LetGo(CommandTarget<TItem, TKey> target) => _ended.Add(target);

    // What is told or given is read by index when somebody looks, and before an edit as long as it is held: later indexes mean others.
    private Func<ItemSet, T[]> WhileTheyStand<T>(Func<ItemSet, T[]> read)
    {
        var stands = StandsStill();
        return items => stands() ? read(items)
            : throw new InvalidOperationException(
                "The list has changed since it told of these items. Read them while handling the event or running the command, and copy " +
                    "what is needed later: ToList().");
    }

    public IReadOnlyList<string> KeysOf(ItemSet set) => [.. set.Take(Words.Keys).Select(i => core.KeyText(i) ?? Words.Unread(i))];
}
