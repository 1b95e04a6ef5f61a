using System.Collections.Immutable;
using System.ComponentModel;
using Lectica.Acts;
using Lectica.Items;
using Lectica.Marking;
using Lectica.Selecting;

namespace Lectica;

// Marks: each item its own value, as a set of indexes for each mark.
public sealed partial class InteractiveList<TItem, TKey>
{
    private readonly Dictionary<string, ItemSet> _marked = [];
    private ImmutableArray<Mark<TItem>> _marks = [];

    /// <summary>
    /// The marks that items have. Rows show those that the list's parts name. Setting it reads bound marks from each item once; items that tell of
    /// their changes (<see cref="INotifyPropertyChanged"/>) are listened to, at the cost of a subscription each, and others are read anew by <c>Refresh</c>.
    /// </summary>
    /// <exception cref="ArgumentException">Two marks have one name.</exception>
    public ImmutableArray<Mark<TItem>> Marks
    {
        get => _marks;
        set
        {
            CheckContext();
            if (value.IsDefault) value = [];
            if (value.GroupBy(m => m.Name).FirstOrDefault(g => g.Count() > 1) is { } twice) throw new ArgumentException($"Two marks have the name '{twice.Key}'; each needs its own.");
            Run(_ =>
            {
                var sets = value.ToDictionary(m => m.Name, m => m.Get is null && _marked.TryGetValue(m.Name, out var kept) ? kept : ReadMark(m));
                _marks = value;
                _marked.Clear();
                foreach (var (name, set) in sets) _marked[name] = set;
                ListenToItems();
                ChangeFrame();
                _changedProperties.Add(nameof(Marks));
                return Response.Handled;
            });
        }
    }

    private ItemSet ReadMark(Mark<TItem> mark) => mark.Get is { } get ? ItemSet.Where(Count, i => get(_store.ItemAt(i))) : ItemSet.None(Count);

    /// <summary>A mark changed: by a tap, a key, a call, or by the app.</summary>
    public event EventHandler<MarkChangedEventArgs<TItem>>? MarkChanged;

    /// <summary>The items that have a mark.</summary>
    /// <exception cref="ArgumentException">There is no such mark.</exception>
    public ItemSet Marked(string name) => _marked.TryGetValue(name, out var set) ? set
        : throw new ArgumentException($"There is no mark '{name}'; there are {(_marks.IsEmpty ? "none" : string.Join(", ", _marks.Select(m => m.Name)))}.", nameof(name));

    /// <summary>The state of a mark over items: off, mixed or on.</summary>
    public TriState MarkState(string name, ItemSet items)
    {
        ArgumentNullException.ThrowIfNull(items);
        return Selector.StateOf(Marked(name), items);
    }

    /// <summary>Turns a mark of one item round.</summary>
    public Response ToggleMark(string name, TKey key) => Run(index => index < 0 ? Absent(ActKind.ToggleMark, key) : ToggleMark(new Act(ActKind.ToggleMark, index, Text: name), ItemSet.None(Count).With(index)), IndexOf(key));

    /// <summary>Turns a mark of the selection round, or where nothing is selected of the item at the cursor: on if it is mixed, else on or off.</summary>
    public Response ToggleMark(string name) => Run(_ => ToggleMark(new Act(ActKind.ToggleMark, _selection.Cursor, Text: name), ItemsForCommand()));

    /// <summary>The same for the items with these keys, as far as they show and are enabled: for a command that marks its target.</summary>
    public Response ToggleMarkOf(string name, IEnumerable<TKey> keys)
    {
        ArgumentNullException.ThrowIfNull(keys);
        TKey[] wanted = [.. keys];
        return Run(_ => ToggleMark(new Act(ActKind.ToggleMark, Text: name), ItemSet.Of(Count, wanted.Select(IndexOf).Where(i => i >= 0))));
    }

    /// <summary>The same for all items that show and are enabled.</summary>
    public Response ToggleMarkOfAll(string name) => Run(_ => ToggleMark(new Act(ActKind.ToggleMark, Text: name), Rules.Choosable));

    /// <summary>Puts a mark of these items on or off.</summary>
    public Response SetMark(string name, ItemSet items, bool value)
    {
        ArgumentNullException.ThrowIfNull(items);
        return Run(_ => SetMark(new Act(ActKind.ToggleMark, items.IsEmpty ? -1 : items.Nth(0), Text: name), items, value));
    }

    /// <summary>A mark that was tapped, or that a key means: Space the first that the list shows.</summary>
    private Response ToggleMark(Act act, string? name)
    {
        name ??= Options.SpaceMark ?? "";
        var items = act.Rule.StartsWith("key ", StringComparison.Ordinal) && act.Index >= 0 ? TargetAt(act.Index) : act.Index >= 0 ? ItemSet.None(Count).With(act.Index) : ItemSet.None(Count);
        return ToggleMark(act with { Text = name }, items);
    }

    private Response ToggleMark(Act act, ItemSet items)
    {
        if (!_marked.ContainsKey(act.Text!)) return Refuse(act, new(RefusalKind.NoItem, $"There is no mark '{act.Text}'; there are {(_marks.IsEmpty ? "none" : string.Join(", ", _marks.Select(m => m.Name)))}."));
        items = items.Intersect(Rules.Choosable);
        return SetMark(act, items, MarkState(act.Text!, items) != TriState.On);
    }

    private Response SetMark(Act act, ItemSet items, bool value)
    {
        if (_marks.FirstOrDefault(m => m.Name == act.Text) is not { } mark) return Refuse(act, new(RefusalKind.NoItem, $"There is no mark '{act.Text}'; there are {(_marks.IsEmpty ? "none" : string.Join(", ", _marks.Select(m => m.Name)))}."));
        if (items.Length != Count) return Refuse(act, new(RefusalKind.OutsideList, $"The set is over {items.Length} items; the list has {Count}."));
        if (items.IsEmpty) return Refuse(act, new(Count == 0 ? RefusalKind.EmptyList : RefusalKind.NoItem, $"There is no item that shows and is enabled to put the mark '{mark.Name}' on."));
        var before = _marked[mark.Name];
        var changed = value ? items.Except(before) : items.Intersect(before);
        if (changed.IsEmpty) return Response.Handled;
        if (Write(mark, changed, value) is { } refusal) return Refuse(act, refusal);
        TraceAct(act, null);
        BecomeMarked(mark, value ? before.Union(changed) : before.Except(changed), act.Rule);
        Reread(changed);
        var target = TargetOf(changed);
        Keep(new()
        {
            Name = mark.Label ?? mark.Name,
            Items = target.Items,
            Keys = target.Keys,
            Gaps = [.. target.Places],
            Undo = step => Remark(mark, step, !value),
            Redo = step => Remark(mark, step, value),
        });
        Announce(Options.Phrases.Marked(mark.Label ?? mark.Name, changed.Count, value));
        return Response.Handled;
    }

    private Refusal? Remark(Mark<TItem> mark, UndoStep step, bool value)
    {
        var items = ItemSet.Of(Count, step.Keys.Select(IndexOf).Where(i => i >= 0));
        if (items.IsEmpty) return new(RefusalKind.OutOfDate, $"'{step.Name}' makes no sense any more: {(step.Keys.Count == 1 ? $"the item '{step.Keys[0]}' has" : "its items have")} left the list since.");
        if (!_marked.TryGetValue(mark.Name, out var before)) return new(RefusalKind.OutOfDate, $"The list has no mark '{mark.Name}' any more.");
        var changed = value ? items.Except(before) : items.Intersect(before);
        if (Write(mark, changed, value) is { } refusal) return refusal;
        BecomeMarked(mark, value ? before.Union(changed) : before.Except(changed), "undo");
        Reread(changed);
        return null;
    }

    /// <summary>Writes a mark to items. If a setter throws, those already written are put back: all of it is done, or nothing.</summary>
    private Refusal? Write(Mark<TItem> mark, ItemSet items, bool value)
    {
        if (mark.Set is not { } set) return null;
        var written = new List<int>();
        _writing = true;
        try
        {
            foreach (var index in items)
            {
                try
                {
                    set(_store.ItemAt(index), value);
                    written.Add(index);
                }
#pragma warning disable CA1031 // The app's own exception becomes a refusal that names the mark and the item.
                catch (Exception e)
#pragma warning restore CA1031
                {
                    foreach (var back in written)
                    {
                        try
                        {
                            set(_store.ItemAt(back), !value);
                        }
#pragma warning disable CA1031 // It took the other value; that it does not take its own back is the app's, and is seen when it is read.
                        catch (Exception)
#pragma warning restore CA1031
                        {
                        }
                    }
                    return new(RefusalKind.Failed, $"The mark '{mark.Name}' could not be put {(value ? "on" : "off")} for the item '{_store.KeptKeyAt(index)}': {e.Message}");
                }
            }
        }
        finally
        {
            _writing = false;
        }
        return null;
    }

    private bool _writing;

    private void BecomeMarked(Mark<TItem> mark, ItemSet now, string cause)
    {
        var before = _marked[mark.Name];
        _marked[mark.Name] = now;
        ItemSet added = now.Except(before), removed = before.Except(now);
        if (added.IsEmpty && removed.IsEmpty) return;
        ChangeFrame();
        Trace(() => new()
        {
            Stage = "change",
            T = _now,
            Change = "mark",
            Part = "mark:" + mark.Name,
            Added = [.. added.Take(TracedKeys).Select(i => KeyText(i)!)],
            AddedCount = added.Count,
            Removed = [.. removed.Take(TracedKeys).Select(i => KeyText(i)!)],
            RemovedCount = removed.Count,
            Rule = cause,
        });
        if (MarkChanged is not null) Raise(MarkChanged, new(mark.Name, added, removed, ItemsOf(added), ItemsOf(removed), cause));
    }

    /// <summary>Reads bound marks of an item anew, for an app that has changed it without telling; sections, filter and state too.</summary>
    public Response Refresh(TKey key) => Run(index =>
    {
        if (index < 0) return Refuse(null, new(RefusalKind.OutsideList, $"There is no item with the key '{key}'."));
        ReadItem(index);
        return Response.Handled;
    }, IndexOf(key));

    private void ReadItem(int index)
    {
        var item = _store.ItemAt(index);
        foreach (var mark in _marks)
            if (mark.Get is { } get) BecomeMarked(mark, _marked[mark.Name].With(index, get(item)), "source");
        if (_pinnedWhen is { } pinned) _pinned = _pinned.With(index, Ask(pinned, item));
        Reread(ItemSet.None(Count).With(index));
    }

    /// <summary>Asks filter, state and section of items anew: what was done to them may have changed the answers.</summary>
    private void Reread(ItemSet items, bool lingers = true)
    {
        if (_filter is not null || _enabledWhen is not null || _sections is not null || _sortBy is not null)
        {
            ItemSet shown = _rows.Shown, disabled = _disabled;
            var moved = _sortBy is not null;
            foreach (var index in items)
            {
                var item = _store.ItemAt(index);
                if (_filter is not null) shown = shown.With(index, _filter(item));
                if (_enabledWhen is not null) disabled = disabled.With(index, !_enabledWhen(item));
                moved |= Resection(index, lingers);
            }
            if (moved || !ReferenceEquals(shown, _rows.Shown) || !ReferenceEquals(disabled, _disabled))
            {
                _disabled = disabled;
                SetRows(shown);
                Become(Selector.Settle(_selection, Rules, Options.KeepsHiddenSelected, Math.Max(0, _selection.Cursor)), null, "source");
                SettleCursor();
            }
        }
        ChangeFrame();
    }

    /// <summary>Takes the marks through an edit, and reads them from what came in.</summary>
    private void FollowMarks(Edit edit, IEnumerable<int> read)
    {
        foreach (var mark in _marks)
        {
            var set = edit.Apply(_marked[mark.Name]);
            if (mark.Get is { } get)
                foreach (var i in edit.Inserted().Concat(read)) set = set.With(i, Ask(get, _store.ItemAt(i)));
            _marked[mark.Name] = set;
        }
    }

    private static bool Ask(Func<TItem, bool> get, TItem item)
    {
        try
        {
            return get(item);
        }
#pragma warning disable CA1031 // An item that cannot be read has no mark; it is read again when it changes.
        catch (Exception)
#pragma warning restore CA1031
        {
            return false;
        }
    }

    private bool _listens;

    private bool Listens => _marks.Any(m => m.Get is not null) || _sections is not null;

    /// <summary>Begins to listen to items that tell of their changes, once there is anything that may change with them.</summary>
    private void ListenToItems()
    {
        if (_listens || !Listens || !typeof(INotifyPropertyChanged).IsAssignableFrom(typeof(TItem))) return;
        _listens = true;
        ListenToAll(true);
    }

    private void ListenToAll(bool on)
    {
        if (!_listens) return;
        for (var i = 0; i < Count; i++) Listen(_store.ItemAt(i), on);
    }

    /// <summary>Begins or ends to listen to an item; to begin twice is the same as once.</summary>
    private void Listen(TItem item, bool on)
    {
        if (item is not INotifyPropertyChanged told) return;
        told.PropertyChanged -= ItemChanged;
        if (on) told.PropertyChanged += ItemChanged;
    }

    private void ItemChanged(object? sender, PropertyChangedEventArgs e)
    {
        if (_writing || _disposed || sender is not TItem item) return;
        CheckContext();
        Run(index =>
        {
            if (index >= 0) ReadItem(index);
            return Response.Handled;
        }, _store.IndexOfItem(item));
    }
}
