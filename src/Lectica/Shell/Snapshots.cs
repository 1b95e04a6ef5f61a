using System.Collections.Immutable;
using System.Text.Json;
using Lectica.Acts;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Selecting;
using Lectica.States;

namespace Lectica.Shell;

/// <summary>What a list remembers over a reload, by key as text.</summary>
internal sealed class Snapshots<TItem, TKey>(
    Core core, ItemStore<TItem, TKey> store, Marker<TItem, TKey> marker, Scroller scroller, Source<TItem, TKey> source,
        SourceWriter<TItem, TKey> writer, Projection<TItem, TKey> projection,
    Events<TItem, TKey> events) where TKey : notnull
{
    /// <summary>Says by which column the list is sorted.</summary>
    public Action<ColumnSort> SetSort { get; set; } = _ => { };

    /// <summary>What reads a source that is not in memory.</summary>
    public Pager<TItem, TKey> Pager { get; set; } = null!;

    private readonly List<SnapshotReturn> _coming = [];

    public ListSnapshot Save()
    {
        var writing = BeginSave();
        using var _ = core.App.Calling();
        return writing.Snapshot;
    }

    /// <summary>Begins to remember what the list is now.</summary>
    public SnapshotWriting<TItem, TKey> BeginSave()
    {
        using var _ = core.App.Calling();
        if (store.Texts is { AreExact: false, GivenBack: null } && !Pager.IsPaged) CheckTexts();
        var state = core.State;
        string? Text(int index) => (uint)index >= (uint)store.Count || !store.Has(index) ? null
            : Pager.IsPaged ? core.KeyText(index) : KeyWriting<TItem, TKey>.TextOf(store, store.KeptKeyAt(index));
        KeyWriting<TItem, TKey> Keys(ItemSet items) => new(store, store.KeptKeysOf(items));
        var first = core.Geometry.LineAt(core.Viewport.ScrollTop) is { } row ? (Row: row, Index: core.Rows.IndexAt(row))
            : (Row: default, Index: -1);
        var collapsed = state.Showing.Sections.Select(s => s.Key).Where(state.Showing.Collapsed.Contains).ToList();
        var writing = new SnapshotWriting<TItem, TKey>(new()
        {
            Selected = [],
            Meant = Pager.IsPaged ? Pager.Remember() : null,
            Anchor = Text(state.Selection.Anchor),
            Cursor = Text(state.Selection.Cursor),
            Selecting = state.Selection.IsSelecting,
            Collapsed = collapsed.Count > 0 ? collapsed : null,
            CursorHeading = state.Selection.Heading,
            Sort = state.Table.Sort,
            FirstRow = Text(first.Index),
            FirstRowOffset = first.Index < 0 ? 0 : core.Viewport.ScrollTop - core.Geometry.TopOf(first.Row),
        });
        if (Pager.IsPaged) return writing;
        writing.Add("selected", Keys(state.Selection.Items), (s, keys) => s with { Selected = keys });
        foreach (var mark in KeptMarks) writing.AddMark(mark, Keys(state.Marks.Sets[mark]));
        if (source.IsReordered && !projection.IsOutline)
            writing.Add("order", Keys(ItemSet.All(store.Count)), (s, keys) => s with { Order = keys });
        if (state.Showing.Branching is { } branching)
            writing.Add("expanded", Keys(branching.Expanded), (s, keys) => s with { Expanded = keys });
        return writing;
    }

    /// <summary>Writes the next piece of a snapshot's JSON; gives whether it was the last.</summary>
    public bool GoOn(SnapshotWriting<TItem, TKey> writing, Utf8JsonWriter json)
    {
        using var _ = core.App.Calling();
        return writing.Step(json, KeySearch.Few);
    }

    private static IReadOnlyDictionary<string, IReadOnlyList<string>> NoMarks { get; } = new Dictionary<string, IReadOnlyList<string>>();

    // Those of items are the app's to remember.
    private IEnumerable<string> KeptMarks => marker.Marks.Where(m => m.Get is null).Select(m => m.Name);

    private int IndexOf(string text) =>
        core.App.Ask(static a => a.store.Texts.TryRead(a.text, out var key) ? a.store.IndexOf(key) : -1, (store, text));

    /// <summary>Two keys with one text would be restored as each other.</summary>
    private void CheckTexts()
    {
        var seen = new Dictionary<string, int>(store.Count);
        for (var i = 0; i < store.Count; i++)
        {
            var text = core.KeyText(i)!;
            if (!seen.TryAdd(text, i))
                throw new InvalidOperationException(
                    $"The keys of the items at {seen[text]} and {i} are written alike, as '{text}': a snapshot could not tell them " +
                        "apart. Give the list a KeyText that writes each key differently.");
        }
    }

    public RestoreReport Restore(ListSnapshot snapshot)
    {
        var coming = BeginRestore(snapshot);
        try
        {
            coming.Step(int.MaxValue);
            return Finish(coming);
        }
        finally
        {
            Drop(coming);
        }
    }

    /// <summary>Begins to look for what a snapshot remembers; the list stays as it is until all is found.</summary>
    public SnapshotReturn BeginRestore(ListSnapshot snapshot)
    {
        var coming = Pager.IsPaged ? new(snapshot, core.Viewport.ScrollTop) : LookFor(snapshot);
        // Texts that were looked through are those of this moment.
        if (!store.Texts.CanRead) coming.Step(int.MaxValue);
        _coming.Add(coming);
        return coming;
    }

    private SnapshotReturn LookFor(ListSnapshot snapshot)
    {
        var marks = (snapshot.Marks ?? NoMarks).Where(m => KeptMarks.Contains(m.Key)).ToList();
        var find = Finder(snapshot.Selected.Concat(marks.SelectMany(m => m.Value)).Concat(snapshot.Expanded ?? []));
        SnapshotReturn.Set Set(IReadOnlyList<string> keys, ItemSet before) => new(new(keys, find, store.Count), before);
        return new(snapshot, core.Viewport.ScrollTop)
        {
            Selected = Set(snapshot.Selected, core.Selection.Items),
            Marks = marks.ToImmutableDictionary(m => m.Key, m => Set(m.Value, core.State.Marks.Sets[m.Key])),
            Expanded = core.State.Showing.Branching is { } branching && snapshot.Expanded is { } keys
                ? Set(keys, branching.Expanded) : null,
        };
    }

    /// <summary>Takes what was found through an edit.</summary>
    public void Follow(Edit edit) => _coming.ForEach(c => c.Follow(edit));

    /// <summary>It does not come any more.</summary>
    public void Drop(SnapshotReturn coming) => _coming.Remove(coming);

    /// <summary>Puts the list as a snapshot has it, but for what was done to the list since it began to come.</summary>
    public RestoreReport Finish(SnapshotReturn coming)
    {
        var snapshot = coming.Snapshot;
        if (Pager.IsPaged)
        {
            core.Commit(core.State with
            {
                Showing = core.State.Showing with { Collapsed = [.. snapshot.Collapsed ?? []] },
                Selection = core.Selection with
                {
                    IsSelecting = core.Options.AlwaysSelecting || (snapshot.Selecting && core.Options.Policy.SelectsMany),
                },
            }, cause: "restore");
            Pager.Restore(snapshot);
            return new([], null);
        }
        // It was not in memory when this began, or is another list by now.
        if (coming.IsLost || coming.Selected is not { } selected) return Restore(snapshot);
        coming.LookAgain();
        // Asked before the list is touched here: what the snapshot does to it was done by nobody.
        var (isAsSelected, isAsScrolled) = (selected.Was(core.Selection.Items), core.Viewport.ScrollTop == coming.ScrollTop);
        var orderRefusal = snapshot.Order is { } order ? PutInOrder(order, Finder(order)) : null;
        var indexOf = Finder([snapshot.Cursor, snapshot.Anchor, snapshot.FirstRow]);
        var next = core.State;
        foreach (var (name, mark) in coming.Marks)
            if (next.Marks.Sets.TryGetValue(name, out var now) && mark.Was(now))
                next = next with { Marks = next.Marks.With(name, mark.Items) };
        if (projection.Sections is not null) next = next with { Showing = next.Showing with { Collapsed = [.. snapshot.Collapsed ?? []] } };
        if (next.Showing.Branching is { } branching && coming.Expanded is { } expanded && expanded.Was(branching.Expanded))
            next = next with { Showing = next.Showing with { Branching = branching.Expanding(expanded.Items) } };
        core.Commit(next, cause: "restore");
        if (snapshot.Sort is { } sort && core.State.Table.Columns.Any(c => c.Name == sort.Column)) SetSort(sort);
        var refusal = isAsSelected ? Select(snapshot, selected.Items, indexOf)
            : new(RefusalKind.OutOfDate, "Something else was selected while the snapshot was being restored: that stays.");
        if (isAsScrolled
            && snapshot.FirstRow is { } first && indexOf(first) is >= 0 and var index && core.Rows.RowOf(index) is { } row)
            scroller.Show(core.Viewport with { ScrollTop = core.Geometry.TopOf(row) + snapshot.FirstRowOffset });
        return new(selected.Keys.Missing, refusal, orderRefusal);
    }

    private Refusal? Select(ListSnapshot snapshot, ItemSet items, Func<string, int> indexOf)
    {
        if (!core.Options.KeepsHiddenSelected) items = items.Intersect(core.Rows.Shown);
        var (selection, refusal) = Selector.Restore(core.Selection, items, core.Rules);
        selection = selection with
        {
            Cursor = snapshot.Cursor is { } cursor ? indexOf(cursor) : -1,
            Heading = null,
            OnNotice = false,
            IsSelecting = core.Options.AlwaysSelecting || (snapshot.Selecting && core.Options.Policy.SelectsMany),
        };
        if (selection.Cursor < 0 && snapshot.CursorHeading is { } heading && core.Rows.SectionWith(heading) >= 0)
            selection = selection with { Heading = heading };
        if (refusal is null) selection = selection with { Anchor = snapshot.Anchor is { } anchor ? indexOf(anchor) : -1 };
        core.Commit(core.State with { Selection = selection }, cause: "restore");
        return refusal;
    }

    private Refusal? PutInOrder(IReadOnlyList<string> keys, Func<string, int> indexOf)
    {
        // Which item lies below which, and where among those, is the app's to store.
        if (projection.IsOutline) return null;
        if (!writer.CanWrite || events.MoveRequested is not null || projection.SortBy is not null)
            return new(RefusalKind.NotAvailable,
                projection.SortBy is not null ? "The list is sorted: it has no order of its own to restore."
                    : "The order is the app's to restore: the list does not move the source by itself.");
        int[] known = [.. keys.Select(indexOf).Where(i => i >= 0).Distinct()];
        var knows = ItemSet.Of(store.Count, known);
        var order = new List<int>(store.Count);
        // What the snapshot does not know stays after what it follows.
        void Follow(int index)
        {
            for (var i = index + 1; i < store.Count && !knows.Contains(i); i++) order.Add(i);
        }
        Follow(-1);
        foreach (var index in known)
        {
            order.Add(index);
            Follow(index);
        }
        var moved = ItemSet.Of(store.Count, order.Where((index, i) => index != i));
        return moved.IsEmpty ? null
            : writer.Move(
                Edit.Remap(store.Count, [.. order]), moved, store.ItemsOf(moved), null, new(ActKind.Move, Rule: "restore"));
    }

    private Func<string, int> Finder(IEnumerable<string?> keys)
    {
        if (store.Texts.CanRead) return IndexOf;
        // Keys are written as text; so that none needs to be read back, those that are wanted are looked for by their text.
        var wanted = new Dictionary<string, int>();
        foreach (var key in keys)
            if (key is not null) wanted[key] = -1;
        for (var i = 0; i < store.Count && wanted.Count > 0; i++)
            if (core.KeyText(i) is { } text && wanted.TryGetValue(text, out var at) && at < 0) wanted[text] = i;
        return key => wanted.GetValueOrDefault(key, -1);
    }
}
