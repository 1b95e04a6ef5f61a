using System.Collections.Immutable;
using Lectica.Acts;
using Lectica.Items;
using Lectica.Layout;
using Lectica.States;

namespace Lectica.Shell;

/// <summary>What closes when the rows scroll away under it.</summary>
internal interface IScrollCloses
{
    void CloseByScroll();
}

/// <summary>Through which window the rows are seen.</summary>
internal sealed class Scroller(Core core)
{
    /// <summary>What closes by a scroll.</summary>
    public ImmutableArray<IScrollCloses> Closes { get; set; } = [];

    /// <summary>Takes over another window. A scroll closes tray and menu, but not one that only keeps the rows where they are.</summary>
    public void Show(Viewport viewport, bool closes = true)
    {
        viewport = viewport.Within(core.Geometry.Height);
        if (viewport == core.Viewport) return;
        if (closes && viewport.ScrollTop != core.Viewport.ScrollTop)
            foreach (var open in Closes) open.CloseByScroll();
        core.Commit(core.State with { Window = core.State.Window with { Viewport = viewport } });
    }

    public void ScrollTo(double top)
    {
        if (top != core.Viewport.ScrollTop) Reveal(-1);
        Show(core.Viewport with { ScrollTop = top });
    }

    /// <summary>Scrolls as little as possible, so that an item shows whole.</summary>
    public void BringIntoView(int index)
    {
        Reveal(index);
        if (core.Rows.RowOf(index) is { } row) Show(core.Viewport.Showing(row, core.Geometry, CoveredAbove(row)));
    }

    // By the heading that stays at the top.
    private double CoveredAbove(RowNumber row) =>
        core.Options.HasStickyHeadings && core.Rows.EntryAt(row) is { Kind: not RowKind.Heading, Section: >= 0 and var section }
        && core.Rows.HeadingOf(section) is { } heading
            ? core.Geometry.HeightOf(heading) : 0;

    /// <summary>The same for a row, which may be a heading.</summary>
    public void BringIntoView(RowNumber row) => Show(core.Viewport.Showing(row, core.Geometry, CoveredAbove(row)));

    private void Reveal(int index)
    {
        if (core.State.Window.Revealed != index) core.Commit(core.State with { Window = core.State.Window with { Revealed = index } });
    }

    /// <summary>Puts an item as far past the top as it was.</summary>
    public void Keep(int index, double offset)
    {
        if (index >= 0 && core.Rows.RowOf(index) is { } row)
            Show(core.Viewport with { ScrollTop = core.Geometry.TopOf(row) + offset }, closes: false);
    }

    /// <summary>
    /// Takes how high rows are drawn, by index. What is looked at stays where it is, and what was brought into view stays in view.
    /// </summary>
    public void Measure(IEnumerable<(int Index, double Height)> measured)
    {
        // Tiles are all of one size.
        if (core.Options.Layout is not ListLayout.InRows) return;
        var heights = core.State.Window.Heights;
        Dictionary<int, double>? others = null;
        foreach (var (index, height) in measured)
        {
            if ((others ?? heights).GetValueOrDefault(index, core.Options.RowHeight * core.State.Window.TextScale) == height) continue;
            others ??= new(heights);
            others[index] = height;
        }
        if (others is null) return;
        core.Commit(core.State with { Window = core.State.Window with { Heights = others } });
        if (core.State.Window.Revealed is >= 0 and var revealed) BringIntoView(revealed);
    }

    /// <summary>
    /// The row that the cursor is on; that of its section's heading where the section is collapsed; null where nothing shows.
    /// </summary>
    public RowNumber? CursorRow => CursorRowIn(core.State);

    public static RowNumber? CursorRowIn(ListState state)
    {
        var (rows, selection) = (state.Showing.Rows, state.Selection);
        if (selection.Heading is { } key && rows.SectionWith(key) is >= 0 and var at && rows.HeadingOf(at) is { } heading)
            return selection.OnNotice && rows.EntryAt(new(heading.Value + 1)) is { Kind: RowKind.Notice } ? new(heading.Value + 1)
                : heading;
        if (selection.Cursor < 0) return selection.OnNotice ? rows.Footer : null;
        if (rows.RowOf(selection.Cursor) is { } row) return row;
        var section = rows.Shown.Contains(selection.Cursor) ? rows.SectionOf(selection.Cursor) : -1;
        if (section >= 0) return rows.HeadingOf(section);
        var near = rows.NearestShown(selection.Cursor);
        return near < 0 ? null : rows.RowOf(near) ?? rows.HeadingOf(rows.SectionOf(near));
    }
}
