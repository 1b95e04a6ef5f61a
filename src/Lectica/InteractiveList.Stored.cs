using Lectica.Acts;
using Lectica.Items;
using Lectica.Selecting;

namespace Lectica;

// What a list remembers over a reload.
public sealed partial class InteractiveList<TItem, TKey>
{
    // Whether items were moved since the source was shown.
    private bool _isReordered;

    /// <summary>What the list remembers, by key. Cost: the selected items; where items were moved, all.</summary>
    public ListSnapshot Save()
    {
        CheckContext();
        var first = Plane.Geometry.RowAt(_viewport.ScrollTop) is { } row ? (Row: row, Index: _rows.IndexAt(row)) : (Row: default, Index: -1);
        return new()
        {
            Selected = [.. _selection.Items.Select(i => KeyText(i)!)],
            Anchor = KeyText(_selection.Anchor),
            Cursor = KeyText(_selection.Cursor),
            Selecting = _selection.IsSelecting,
            Marks = _marks.All(m => m.Get is not null) ? null : _marks.Where(m => m.Get is null).ToDictionary(m => m.Name, m => (IReadOnlyList<string>)[.. _marked[m.Name].Select(i => KeyText(i)!)]),
            Order = _isReordered ? [.. Enumerable.Range(0, Count).Select(i => KeyText(i)!)] : null,
            Collapsed = CollapsedSections.ToList() is { Count: > 0 } collapsed ? collapsed : null,
            CursorHeading = _selection.Heading,
            FirstRow = KeyText(first.Index),
            FirstRowOffset = first.Index < 0 ? 0 : _viewport.ScrollTop - Plane.Geometry.TopOf(first.Row),
        };
    }

    /// <summary>
    /// Puts the list as it was: what is still there of it, by key. One selection-changed tells the difference. Keys that are gone are
    /// reported, and nothing is lost by them. A source that the list moves by itself is put in the snapshot's order, items that it does not know after those that they
    /// follow now; <c>Moved</c> tells of it. Cost: a key an item, where keys are no strings; else the snapshot's own length; to put in order, all items.
    /// </summary>
    /// <exception cref="InvalidOperationException">Called from inside an event's handler, where it would have to wait and could not report.</exception>
    public RestoreReport Restore(ListSnapshot snapshot)
    {
        ArgumentNullException.ThrowIfNull(snapshot);
        CheckContext();
        if (_busy) throw new InvalidOperationException("A snapshot cannot be restored from inside an event's handler: post the call, so that it runs when the events are through.");
        RestoreReport? report = null;
        Run(_ =>
        {
            var orderRefusal = snapshot.Order is { } order ? PutInOrder(order, Finder(snapshot)) : null;
            var indexOf = Finder(snapshot);
            foreach (var (name, keys) in snapshot.Marks ?? new Dictionary<string, IReadOnlyList<string>>())
                if (_marks.FirstOrDefault(m => m.Name == name && m.Get is null) is { } mark)
                    BecomeMarked(mark, ItemSet.Of(Count, keys.Select(indexOf).Where(i => i >= 0)), "restore");
            if (_sections is not null)
            {
                _collapsed.Clear();
                foreach (var key in snapshot.Collapsed ?? []) _collapsed.Add(key);
                SetRows(_rows.Shown);
            }
            var found = snapshot.Selected.Select(indexOf).Where(i => i >= 0);
            var items = ItemSet.Of(Count, found);
            if (!Options.KeepsHiddenSelected) items = items.Intersect(_rows.Shown);
            var (next, refusal) = Selector.Replace(_selection, items, Rules);
            next = next with { Cursor = snapshot.Cursor is { } cursor ? indexOf(cursor) : -1, IsSelecting = snapshot.Selecting && Options.Mode == Acts.SelectionMode.Multiple };
            if (next.Cursor < 0 && snapshot.CursorHeading is { } heading && _rows.SectionWith(heading) >= 0) next = next with { Heading = heading, OnNotice = false };
            if (refusal is null) next = next with { Anchor = snapshot.Anchor is { } anchor ? indexOf(anchor) : -1 };
            Become(next, null, "restore");
            if (snapshot.FirstRow is { } first && indexOf(first) is >= 0 and var index && _rows.RowOf(index) is { } row)
                SetViewport(_viewport with { ScrollTop = Plane.Geometry.TopOf(row) + snapshot.FirstRowOffset });
            report = new([.. snapshot.Selected.Where(k => indexOf(k) < 0)], refusal, orderRefusal);
            return Response.Handled;
        });
        return report!;
    }

    private Refusal? PutInOrder(IReadOnlyList<string> keys, Func<string, int> indexOf)
    {
        if (!MovesSource || MoveRequested is not null || _sortBy is not null)
            return new(RefusalKind.NotAvailable, _sortBy is not null ? "The list is sorted: it has no order of its own to restore." : "The order is the app's to restore: the list does not move the source by itself.");
        int[] known = [.. keys.Select(indexOf).Where(i => i >= 0).Distinct()];
        var knows = ItemSet.Of(Count, known);
        var order = new List<int>(Count);
        // What the snapshot does not know stays after what it follows.
        void Follow(int index)
        {
            for (var i = index + 1; i < Count && !knows.Contains(i); i++) order.Add(i);
        }
        Follow(-1);
        foreach (var index in known)
        {
            order.Add(index);
            Follow(index);
        }
        var moved = ItemSet.Of(Count, order.Where((index, i) => index != i));
        return moved.IsEmpty ? null : MoveInSource(Edit.Remap(Count, [.. order]), moved, null, new(ActKind.Move, Rule: "restore"));
    }

    private Func<string, int> Finder(ListSnapshot snapshot)
    {
        if (_store is ItemStore<TItem, string> named) return named.IndexOf;
        // Keys are written as text; so that none needs to be read back, those that are wanted are looked for by their text.
        var wanted = new Dictionary<string, int>();
        foreach (var key in snapshot.Selected.Concat((snapshot.Marks ?? new Dictionary<string, IReadOnlyList<string>>()).SelectMany(m => m.Value)).Append(snapshot.Anchor).Append(snapshot.Cursor).Append(snapshot.FirstRow).Concat(snapshot.Order ?? []))
            if (key is not null) wanted[key] = -1;
        for (var i = 0; i < Count && wanted.Count > 0; i++)
            if (KeyText(i) is { } text && wanted.ContainsKey(text)) wanted[text] = i;
        return key => wanted.GetValueOrDefault(key, -1);
    }
}
