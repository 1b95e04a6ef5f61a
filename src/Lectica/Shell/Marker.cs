using System.Collections.Immutable;
using System.Runtime.InteropServices;
using Lectica.Acts;
using Lectica.Items;
using Lectica.Marking;
using Lectica.Selecting;
using Lectica.States;

namespace Lectica.Shell;

/// <summary>Marks: each item its own value, bound to the item or kept by the list.</summary>
internal sealed class Marker<TItem, TKey>(
    Core core, ItemStore<TItem, TKey> store, Projection<TItem, TKey> projection, ItemWatcher<TItem, TKey> watcher) where TKey : notnull
{
    public ImmutableArray<Mark<TItem>> Marks { get; private set; } = [];

    /// <summary>Keeps a step for undo.</summary>
    public Action<UndoStep> Keep { get; set; } = _ => { };

    /// <summary>Declares marks; those that the list keeps stay what they are.</summary>
    public void Declare(ImmutableArray<Mark<TItem>> marks)
    {
        var before = core.State.Marks.Sets;
        var sets = core.App.Ask(
            () => marks.ToImmutableDictionary(
                m => m.Name, m => m.Get is null && before.TryGetValue(m.Name, out var kept) ? kept : Read(m)));
        Marks = marks;
        Counted = marks.Any(m => m.Count is not null) ? CountAt : null;
        Declared(Counted);
        core.Commit(core.State with
        {
            Declared = core.State.Declared with { Marks = [.. marks.Select(m => new MarkSign(m.Name, m.Label, m.Look, m.Icon))] },
            Marks = new(sets),
        }, cause: "source");
    }

    private ItemSet Read(Mark<TItem> mark) => mark.Get is { } get ? store.Where(get) : ItemSet.None(store.Count);

    /// <summary>
    /// Reads bound marks of items that came in, or of all where null. One that cannot be read has no mark; the error comes out when all is
    /// told.
    /// </summary>
    public MarkSets Complete(MarkSets sets, ItemSet? items)
    {
        foreach (var mark in Marks)
        {
            if (mark.Get is not { } get) continue;
            var set = sets.Sets[mark.Name];
            if (items is null) set = core.App.Where(store, get, false);
            else if (items.Count > 64) set = set.Except(items).Union(core.App.Where(store, items, get, false));
            else
                foreach (var i in items) set = set.With(i, core.App.Ask(get, store.ItemAt(i), false));
            sets = sets.With(mark.Name, set);
        }
        return sets;
    }

    /// <summary>Reads bound marks of items again, and what else the app says of them: they have changed.</summary>
    public void ReadAgain(ItemSet items)
    {
        var sets = core.State.Marks;
        foreach (var mark in Marks)
            if (mark.Get is { } get)
            {
                var set = sets.Sets[mark.Name];
                foreach (var i in items) set = set.With(i, core.App.Ask(get, store.ItemAt(i), set.Contains(i)));
                if (!ReferenceEquals(set, sets.Sets[mark.Name])) sets = sets.With(mark.Name, set);
            }
        // What can be done to an item, and what is on, may be something else now.
        core.Out.Properties.Add("Commands");
        core.Commit(core.State with { Marks = sets }, cause: "source");
        projection.Reconsider(items, lingers: true);
    }

    /// <summary>How many have a mark on an item; null where no mark is counted.</summary>
    public Func<string, int, bool, int?>? Counted { get; private set; }

    /// <summary>Told when other marks are declared, with how they are counted.</summary>
    public Action<Func<string, int, bool, int?>?> Declared { get; set; } = _ => { };

    // What shows and is not stored yet counts.
    private int? CountAt(string name, int index, bool isOn)
    {
        if (!store.Has(index)) return null;
        foreach (var mark in Marks)
            if (mark.Name == name && mark.Count is { } count)
            {
                var item = store.ItemAt(index);
                return core.App.Ask(i => count(i) + (mark.Get is { } get && get(i) != isOn ? isOn ? 1 : -1 : 0), item);
            }
        return null;
    }

    /// <summary>Stores marks in a source that is not in memory.</summary>
    public SourceActs<TItem, TKey>? InSource { get; set; }

    public Refusal NoMark(string? name) =>
        new(RefusalKind.NoItem,
        $"There is no mark '{name}'; there are {(Marks.IsEmpty ? "none" : string.Join(", ", Marks.Select(m => m.Name)))}.");

    /// <summary>Turns a mark of items round: on if it is off or mixed, else off.</summary>
    public Response Toggle(Act act, ItemSet items)
    {
        if (!core.State.Marks.Sets.TryGetValue(act.Text!, out var set)) return core.Refuse(act, NoMark(act.Text));
        items = items.Intersect(core.Rules.Choosable);
        return Set(act, items, Selector.StateOf(set, items) != TriState.On);
    }

    /// <summary>Puts a mark of items on or off.</summary>
    public Response Set(Act act, ItemSet items, bool value)
    {
        if (Marks.FirstOrDefault(m => m.Name == act.Text) is not { } mark) return core.Refuse(act, NoMark(act.Text));
        if (items.Universe != store.Count)
            return core.Refuse(act, new(RefusalKind.OutsideList, $"The set is over {items.Universe} items; the list has {store.Count}."));
        if (items.IsEmpty)
            return core.Refuse(
                act, new(store.Count == 0 ? RefusalKind.EmptyList : RefusalKind.NoItem,
                    $"There is no item that shows and is enabled to put the mark '{mark.Name}' on."));
        var before = core.State.Marks.Sets[mark.Name];
        var changed = value ? items.Except(before) : items.Intersect(before);
        if (changed.IsEmpty) return Response.Handled;
        if (InSource is { Marks: true } source) return source.SetMark(act, mark, items, value);
        if (!store.Has(changed))
            return core.Refuse(
                act, new(RefusalKind.NotRead,
                    $"Of the {changed.Count} items that would change not all have been read, and the source stores no marks by itself " +
                        "(IMarkingSource)."));
        // A key that cannot be told is told before anything is written.
        var about = store.ItemsOf(changed);
        var step = core.App.Ask(() => MarkStep<TItem, TKey>.Of(this, core, store, mark, changed, about, !value));
        if (Put(mark, changed, about, value, act.Rule, act) is { } refusal) return core.Refuse(act, refusal);
        Keep(step);
        core.Announce(p => p.Marked(mark.Label ?? mark.Name, changed.Count, value));
        return Response.Handled;
    }

    /// <summary>Who of some items has the marks that the list itself keeps, by key.</summary>
    public Dictionary<string, TKey[]> KeptOf(ItemSet items) => Marks.Where(m => m.Get is null)
        .ToDictionary(m => m.Name, m => store.KeptKeysOf(core.State.Marks.Sets[m.Name].Intersect(items)));

    /// <summary>Items that have come back have those marks again.</summary>
    public void PutAgain(IReadOnlyDictionary<string, TKey[]> kept)
    {
        foreach (var (name, keys) in kept)
            if (keys.Length > 0 && Marks.Any(m => m.Name == name && m.Get is null))
                core.Commit(core.State with
                {
                    Marks = core.State.Marks.With(name,
                        core.State.Marks.Sets[name].Union(
                            ItemSet.Of(store.Count, keys.Select(store.IndexOfKept).Where(i => i >= 0)))),
                }, cause: "undo");
    }

    /// <summary>Writes a mark to the items and takes it over.</summary>
    internal Refusal? Put(Mark<TItem> mark, ItemSet changed, TItem[] about, bool value, string cause, Act? act = null)
    {
        if (Write(mark, changed, about, value) is { } refusal) return refusal;
        if (act is { } known) core.TraceAct(known);
        var before = core.State.Marks.Sets[mark.Name];
        core.Commit(core.State with { Marks = core.State.Marks.With(mark.Name, value ? before.Union(changed) : before.Except(changed)) },
            act, cause);
        projection.Reconsider(changed, lingers: true);
        return null;
    }

    /// <summary>Writes a mark to items. If a setter throws, those already written are put back: all of it is done, or nothing.</summary>
    private Refusal? Write(Mark<TItem> mark, ItemSet items, TItem[] about, bool value)
    {
        if (mark.Set is not { } set) return null;
        var written = 0;
        try
        {
            var refusal = mark.SetMany is { } many && about.Length > 1
                ? core.App.Try(
                    () =>
                    {
                        watcher.IsWriting(about);
                        written = about.Length;
                        many(ImmutableCollectionsMarshal.AsImmutableArray(about), value);
                    },
                    why => $"The mark '{mark.Name}' could not be put {(value ? "on" : "off")} for {about.Length} items: {why}")
                : core.App.Try(
                    () => WriteEach(about, set, value, out written),
                    why => $"The mark '{mark.Name}' could not be put {(value ? "on" : "off")} for the " +
                        $"item '{store.TextOf(store.KeptKeyAt(items.Nth(written)))}': {why}");
            if (refusal is not null)
                foreach (var item in about.AsSpan(0, written)) Return(mark, item, !value);
            return refusal;
        }
        finally
        {
            watcher.IsWriting(null);
        }
    }

    // Very many are written in a loop of its own variables, which an interpreter runs at twice the speed.
    private void WriteEach(TItem[] items, Action<TItem, bool> set, bool value, out int written)
    {
        var (watched, next) = (ItemWatcher<TItem, TKey>.Tells ? watcher : null, 0);
        try
        {
            for (; watched is null && next < items.Length; next++) set(items[next], value);
            for (; next < items.Length; next++)
            {
                watched!.Written = items[next];
                set(items[next], value);
            }
        }
        finally
        {
            written = next;
        }
    }

    /// <summary>
    /// Puts a value back. It took the other one; that it does not take its own back is the app's, and is seen when it is read.
    /// </summary>
    private void Return(Mark<TItem> mark, TItem item, bool value)
    {
        watcher.Written = item;
        _ = core.App.Try(() => mark.Set!(item, value), why => why);
    }
}

/// <summary>
/// A mark that was put on or off: the items that it was put on or off for, by key. Of very many, they are looked up only where items have
/// come since, which may be some of them; else they are a set that follows what was done.
/// </summary>
internal sealed class MarkStep<TItem, TKey> : UndoStep where TKey : notnull
{
    private const int Few = 4096;

    private readonly Marker<TItem, TKey> _marking;
    private readonly Core _core;
    private readonly ItemStore<TItem, TKey> _store;
    private readonly Mark<TItem> _mark;
    private readonly Lazy<TKey[]> _keys;
    private readonly ItemSet _items;
    private readonly EditLog _moment;
    private readonly bool _value;

    private MarkStep(Marker<TItem, TKey> marking, Core core, ItemStore<TItem, TKey> store, Mark<TItem> mark, Lazy<TKey[]> keys,
        ItemSet items, bool value) : base(mark.Label ?? mark.Name) =>
        (_marking, _core, _store, _mark, _keys, _items, _moment, _value) = (marking, core, store, mark, keys, items, core.Moment, value);

    /// <summary>A step that puts the mark of items on or off.</summary>
    public static MarkStep<TItem, TKey> Of(
        Marker<TItem, TKey> marking, Core core, ItemStore<TItem, TKey> store, Mark<TItem> mark, ItemSet items, TItem[] about, bool value) =>
        new(marking, core, store, mark, KeysOf(store, items, about), items, value);

    // Very many are asked for their keys only when it matters.
    private static Lazy<TKey[]> KeysOf(ItemStore<TItem, TKey> store, ItemSet items, TItem[] about) =>
        items.Count <= Few ? new(store.KeysOf(items))
        : store.HasOwnKeys ? new(() => [.. about.Select(item => store.KeyOf(item))])
        : new(store.KeptKeysOf(items));

    private ItemSet Now =>
        _items.Count > Few && !_moment.Since().Any(edit => edit.Inserted().Any()) ? _moment.Carry(_items)
            : ItemSet.Of(_store.Count, _keys.Value.Select(_store.IndexOfKept).Where(i => i >= 0));

    public override Refusal? Apply(ActKind kind, out UndoStep inverse)
    {
        inverse = this;
        var items = _core.App.Ask(() => Now);
        if (items.IsEmpty)
            return new(RefusalKind.OutOfDate,
                $"'{Name}' makes no sense any more: " +
                    $"{(_keys.Value is [var only] ? $"the item '{_store.TextOf(only)}' has" : "its items have")} left the list since.");
        if (!_core.State.Marks.Sets.TryGetValue(_mark.Name, out var before)
            || _marking.Marks.FirstOrDefault(m => m.Name == _mark.Name) is not { } mark)
            return new(RefusalKind.OutOfDate, $"The list has no mark '{_mark.Name}' any more.");
        var changed = _value ? items.Except(before) : items.Intersect(before);
        var step = new MarkStep<TItem, TKey>(_marking, _core, _store, mark, _keys, items, !_value);
        if (_marking.Put(mark, changed, _store.ItemsOf(changed), _value, "undo") is { } refusal) return refusal;
        inverse = step;
        return null;
    }
}
