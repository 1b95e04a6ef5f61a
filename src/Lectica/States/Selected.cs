using Lectica.Items;
using Lectica.Selecting;

namespace Lectica.States;

/// <summary>How the selection settles, and what of it is told.</summary>
internal static class Selected
{
    /// <summary>Hidden items leave it if so wished, one is in it where one must be, and the cursor is on a row that is there.</summary>
    public static Selection Settle(ListState before, ListState now, in Settling how)
    {
        var options = how.Options;
        Selection old = before.Selection, next = now.Selection;
        if (!ReferenceEquals(before.Showing, now.Showing))
        {
            var near = how.Edit is { } edit ? edit.Nearest(old.Items.IsEmpty ? old.Cursor : old.Items.NextAt(0)) : next.Cursor;
            next = Selector.Settle(next, now.Rules(options), options.KeepsHiddenSelected, near);
        }
        if (next.IsSelecting != options.AlwaysSelecting)
        {
            if (options.AlwaysSelecting) next = next with { IsSelecting = true };
            else if (options.EndsSelectingWhenEmpty && next.Items.IsEmpty && !old.Items.IsEmpty) next = next with { IsSelecting = false };
        }
        if (next is { Heading: null, OnNotice: true }) return OnFooter(before.Showing.Rows, next, now.Showing.Rows);
        if (next.Heading is not { } heading) return next;
        // The cursor is on an item or on a heading, never on both.
        if (next.Cursor >= 0) return next with { Heading = null, OnNotice = false };
        var rows = now.Showing.Rows;
        if (rows.SectionWith(heading) is >= 0 and var at && rows.HeadingOf(at) is not null) return next;
        return next with { Heading = null, OnNotice = false, Cursor = NearestTo(before.Showing.Rows, heading, rows) };
    }

    /// <summary>
    /// The cursor on the row after the items goes on to what comes in there; where the row is gone, to the last item.
    /// </summary>
    private static Selection OnFooter(RowMap old, Selection next, RowMap rows)
    {
        if (next.Cursor >= 0) return next with { OnNotice = false };
        if (rows.Footer is { } row && (old.Footer is not { } was || row.Value <= was.Value)) return next;
        var from = new RowNumber(Math.Clamp(old.Footer?.Value ?? 0, 0, Math.Max(0, rows.Count - 1)));
        return next with
        {
            OnNotice = false,
            Cursor = (rows.NextItemRow(from) ?? rows.NextItemRow(from, down: false)) is { } near ? rows.IndexAt(near) : -1,
        };
    }

    /// <summary>The item nearest to where a heading was.</summary>
    private static int NearestTo(RowMap old, string heading, RowMap rows)
    {
        if (rows.Count == 0) return -1;
        var was = old.SectionWith(heading) is >= 0 and var at && old.HeadingOf(at) is { } row ? row.Value : 0;
        var from = new RowNumber(Math.Min(was, rows.Count - 1));
        return (rows.NextItemRow(from) ?? rows.NextItemRow(from, down: false)) is { } near ? rows.IndexAt(near) : -1;
    }

    public static void Changed(Selection before, Selection now, ISet<string> properties)
    {
        properties.Add("Selection");
        if (before.IsSelecting != now.IsSelecting) properties.Add("IsSelecting");
        if (before.Cursor != now.Cursor || before.Heading != now.Heading || before.OnNotice != now.OnNotice) properties.Add("CursorKey");
    }
}
