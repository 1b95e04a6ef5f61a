using Lectica.States;

namespace Lectica.Shell;

/// <summary>Which items a list that reads them as they are needed needs: those in view, those beyond, and those that are in use.</summary>
internal static class ItemsInView
{
    /// <summary>The first and last item in view; -1 where none is.</summary>
    public static (int First, int Last) Of(ListState state)
    {
        var (rows, window) = (state.Showing.Rows, state.Window);
        if (window.Geometry.LineAt(window.Viewport.ScrollTop) is not { } top || rows.NextItemRow(top) is not { } first) return (-1, -1);
        var bottom = window.Geometry.LineAt(
            Math.Min(window.Geometry.Height - 1, window.Viewport.ScrollTop + window.Viewport.Height)) is { } line
                ? window.Geometry.LineEnd(line) : new(rows.Count - 1);
        var last = rows.NextItemRow(bottom, down: false) ?? first;
        return (rows.IndexAt(first), Math.Max(rows.IndexAt(first), rows.IndexAt(last)));
    }

    /// <summary>The items in view, then those beyond, nearest first; without those of collapsed sections.</summary>
    public static IEnumerable<int> AndAround(ListState state, int first, int last, int ahead)
    {
        var rows = state.Showing.Rows;
        bool HasRow(int index) => index >= 0 && index < state.Count && (rows.IsPlain || rows.RowOf(index) is not null);
        for (var i = first; i <= last; i++)
            if (HasRow(i)) yield return i;
        for (var i = 1; i <= ahead; i++)
        {
            if (HasRow(last + i)) yield return last + i;
            if (HasRow(first - i)) yield return first - i;
        }
    }

    /// <summary>The items that something other than the window is about: each is kept, whatever shows.</summary>
    public static IEnumerable<int> InUse(ListState state) =>
        new[] { state.Selection.Cursor, state.Selection.Anchor, state.Menu.Index, state.Tray?.Index ?? -1 }.Concat(
        state.Pressed.Select(p => p.Index)).Where(i => i >= 0).Distinct();
}
