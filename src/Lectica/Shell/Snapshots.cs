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

    public ListSnapshot Save()
    {
        if (store.Texts is { AreExact: false, GivenBack: null } && !Pager.IsPaged) CheckTexts();
        var state = core.State;
        var isRead = store.Texts is { AreExact: false, GivenBack: not null } && !Pager.IsPaged;
        string? Text(int index) => isRead ? CheckedText(index) : core.KeyText(index);
        var first = core.Geometry.LineAt(core.Viewport.ScrollTop) is { } row ? (Row: row, Index: core.Rows.IndexAt(row))
            : (Row: default, Index: -1);
        var kept = marker.Marks.Where(m => m.Get is null && !Pager.IsPaged).ToList();
        var collapsed = state.Showing.Sections.Select(s => s.Key).Where(state.Showing.Collapsed.Contains).ToList();
        return new()
        {
            Selected = Pager.IsPaged ? [] : [.. state.Selection.Items.Select(i => Text(i)!)],
            Meant = Pager.IsPaged ? Pager.Remember() : null,
            Anchor = Text(state.Selection.Anchor),
            Cursor = Text(state.Selection.Cursor),
            Selecting = state.Selection.IsSelecting,
            Marks = kept.Count == 0 ? null
                : kept.ToDictionary(m => m.Name, m => (IReadOnlyList<string>)[.. state.Marks.Sets[m.Name].Select(i => Text(i)!)]),
            Order = source.IsReordered && !projection.IsOutline ? [.. Enumerable.Range(0, store.Count).Select(i => Text(i)!)] : null,
            Collapsed = collapsed.Count > 0 ? collapsed : null,
            Expanded = state.Showing.Branching is { } branching ? [.. branching.Expanded.Select(i => Text(i)!)] : null,
            CursorHeading = state.Selection.Heading,
            Sort = state.Table.Sort,
            FirstRow = Text(first.Index),
            FirstRowOffset = first.Index < 0 ? 0 : core.Viewport.ScrollTop - core.Geometry.TopOf(first.Row),
        };
    }

    // Where texts are read back, what is written is checked, not the whole list.
    private string? CheckedText(int index)
    {
        var text = core.KeyText(index);
        return text is null || IndexOf(text) == index ? text
            : throw new InvalidOperationException(
                $"The key of the item at {index} is written as '{text}', and the list's KeyOfText does not read it back from that.");
    }

    private int IndexOf(string text) =>
        core.App.Ask(t => store.Texts.TryRead(t, out var key) ? store.IndexOf(key) : -1, text);

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
        var orderRefusal = snapshot.Order is { } order ? PutInOrder(order, Finder(snapshot)) : null;
        var indexOf = Finder(snapshot);
        var next = core.State;
        foreach (var (name, keys) in snapshot.Marks ?? new Dictionary<string, IReadOnlyList<string>>())
            if (marker.Marks.Any(m => m.Name == name && m.Get is null))
                next = next with { Marks = next.Marks.With(name, ItemSet.Of(store.Count, keys.Select(indexOf).Where(i => i >= 0))) };
        if (projection.Sections is not null) next = next with { Showing = next.Showing with { Collapsed = [.. snapshot.Collapsed ?? []] } };
        if (next.Showing.Branching is { } branching && snapshot.Expanded is { } expanded)
            next = next with
            {
                Showing = next.Showing with
                {
                    Branching = branching.Expanding(ItemSet.Of(store.Count, expanded.Select(indexOf).Where(i => i >= 0))),
                },
            };
        core.Commit(next, cause: "restore");
        if (snapshot.Sort is { } sort && core.State.Table.Columns.Any(c => c.Name == sort.Column)) SetSort(sort);
        // Each key is looked for once: there may be very many.
        int[] found = [.. snapshot.Selected.Select(indexOf)];
        var items = ItemSet.Of(store.Count, found.Where(i => i >= 0));
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
        if (snapshot.FirstRow is { } first && indexOf(first) is >= 0 and var index && core.Rows.RowOf(index) is { } row)
            scroller.Show(core.Viewport with { ScrollTop = core.Geometry.TopOf(row) + snapshot.FirstRowOffset });
        return new([.. snapshot.Selected.Where((_, i) => found[i] < 0)], refusal, orderRefusal);
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

    private Func<string, int> Finder(ListSnapshot snapshot)
    {
        if (store.Texts.CanRead) return IndexOf;
        // Keys are written as text; so that none needs to be read back, those that are wanted are looked for by their text.
        var wanted = new Dictionary<string, int>();
        foreach (var key in snapshot.Selected.Concat((snapshot.Marks ?? new Dictionary<string, IReadOnlyList<string>>()).SelectMany(
            m => m.Value)).Append(snapshot.Anchor).Append(snapshot.Cursor).Append(snapshot.FirstRow).Concat(snapshot.Order ?? [])
                .Concat(snapshot.Expanded ?? []))
            if (key is not null) wanted[key] = -1;
        for (var i = 0; i < store.Count && wanted.Count > 0; i++)
            if (core.KeyText(i) is { } text && wanted.TryGetValue(text, out var at) && at < 0) wanted[text] = i;
        return key => wanted.GetValueOrDefault(key, -1);
    }
}
