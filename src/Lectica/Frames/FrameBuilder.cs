using System.Collections.Immutable;
using System.Runtime.InteropServices;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Selecting;

namespace Lectica.Frames;

/// <summary>Makes frames. Cost: the rows in the viewport, whatever the number of items.</summary>
internal static class FrameBuilder
{
    /// <summary>The frame for a list as it is now.</summary>
    public static Frame Build(FrameInput input)
    {
        var plane = input.Plane;
        var viewport = plane.Viewport;
        Dictionary<int, RowFrame>? kept = input.RowsToKeep.IsEmpty ? null
            : input.RowsToKeep.Where(r => r.Index >= 0).ToDictionary(r => r.Index);
        // The same across all items.
        (Part Part, double Left)[] places = plane.Parts.IsNone ? []
            : [.. plane.Parts.LayOut(plane.Geometry.IsAcross ? plane.Geometry.RowHeight : plane.Geometry.ItemWidth, plane.RightToLeft)];
        var first = plane.Geometry.LineAt(Math.Max(0, viewport.ScrollTop - input.Overscan))?.Value ?? plane.Geometry.RowCount;
        var end = first;
        while (end < plane.Geometry.RowCount && plane.Geometry.TopOf(new(end)) - viewport.ScrollTop < viewport.Height + input.Overscan)
            end++;
        var shown = end == first ? [] : new RowFrame[end - first];
        for (var i = 0; i < shown.Length; i++)
            shown[i] = RowFrameBuilder.Row(input, kept, places, new(first + i), InView(input, new(first + i)));
        var rows = ImmutableCollectionsMarshal.AsImmutableArray(shown);
        var frame = new Frame()
        {
            Title = input.Title,
            Subtitle = input.Subtitle,
            Viewport = viewport,
            ContentHeight = plane.Geometry.Height,
            RowHeight = plane.Geometry.RowHeight,
            RowCount = plane.Geometry.RowCount,
            LineCount = plane.Geometry.LineCount,
            Columns = plane.Geometry.Columns,
            IsTiled = plane.Geometry.IsTiled,
            IsOutline = plane.Rows.Levels is not null,
            Headers = input.Table.Columns.IsEmpty ? [] : HeadersOf(input, places),
            Kept = input.Overscan == 0 || plane.Rows.Notice is not null || rows.IsEmpty ? [] : Kept(input, kept, places, rows),
            Sticky = plane.Sticky is { } sticky
                ? RowFrameBuilder.Row(
                    input, null, places, sticky.Row, plane.Geometry.BoundsOf(sticky.Row) with { Top = sticky.Top }) : null,
            Rows = rows,
            Header = plane.Parts.Check && !plane.Rows.Shown.IsEmpty ? Selector.HeaderState(input.Selection, input.Rules) : null,
            Selecting = input.MayEndSelecting && input.Selection.IsSelecting ? input.Selection.Items.Count : null,
            HasFocus = input.HasFocus,
            ShowsRing = input.ShowsRing,
            IsRightToLeft = plane.RightToLeft,
            Marquee = input.Marquee is { } m ? new(m.Left, m.Top - viewport.ScrollTop, m.Right - m.Left, m.Bottom - m.Top) : null,
            Grab = input.Grab is { } grab ? Card(input, places, grab) : null,
            Pull = input.Pull,
            Menu = input.Menu,
            Brief = input.Notice,
        };
        return plane.Geometry.IsAcross ? Turned(frame, new(true, plane.RightToLeft, viewport.Height)) : frame;
    }

    /// <summary>A strip as it is on the screen: what was below one another stands side by side.</summary>
    private static Frame Turned(Frame frame, Axes axes)
    {
        RowFrame Row(RowFrame row)
        {
            var at = axes.Out(new(row.Left, row.Top, row.Width, row.Height));
            return row with
            {
                Top = at.Top,
                Width = at.Width,
                Height = at.Height,
                BodyWidth = at.Width,
                Lines = new(row.Kind == RowKind.Item, at.Left, row.PartHeight, 0, 0, row.Row.Value),
            };
        }
        return frame with
        {
            Viewport = frame.Viewport with { Width = frame.Viewport.Height, Height = frame.Viewport.Width },
            IsStrip = true,
            LineCount = 1,
            Columns = frame.RowCount,
            Rows = [.. frame.Rows.Select(Row)],
            Kept = [.. frame.Kept.Select(Row)],
            Marquee = frame.Marquee is { } m && axes.Out(new(m.Left, m.Top, m.Width, m.Height)) is var area
                ? new(area.Left, area.Top, area.Width, area.Height) : null,
            Grab = frame.Grab is not { } grab ? null
                : Turned(grab, axes) with
                {
                    Row = grab.Row is { } taken && Row(taken) is var card ? card with { Top = 0, Lines = card.Lines! with { Left = 0 } }
                        : null,
                },
        };
    }

    /// <summary>What is carried over a strip, as it is on the screen.</summary>
    internal static GrabFrame Turned(GrabFrame grab, Axes axes)
    {
        var at = axes.Out(new(grab.Left, grab.Top, grab.Width, grab.Height));
        return grab with
        {
            Left = at.Left,
            Top = at.Top,
            Width = at.Width,
            Height = at.Height,
            GapY = grab.GapY is null ? null : 0,
            GapX = grab.GapY is { } gap ? axes.Out(0, gap).X : null,
            GapHeight = grab.Width,
        };
    }

    /// <summary>The headers of the columns that have room, over the bodies of the rows of the first level.</summary>
    private static ImmutableArray<ColumnFrame> HeadersOf(FrameInput input, (Part Part, double Left)[] places)
    {
        var plane = input.Plane;
        double inset = plane.Rows.Levels is null ? 0 : plane.Parts.Width, left = 0, right = plane.Viewport.Width;
        foreach (var (part, _) in places)
        {
            if ((part.Kind is PartKind.Check or PartKind.Mark) != plane.RightToLeft) left += plane.Parts.Width;
            else right -= plane.Parts.Width;
        }
        if (plane.RightToLeft) right -= inset;
        else left += inset;
        return [.. input.Table.Lay(left, Math.Max(0, right - left), plane.RightToLeft)
            .Select((c, i) => new ColumnFrame(c.Column.Name, c.Column.Label, c.Left, c.Width)
        {
            AlignsEnd = c.Column.AlignsEnd,
            Sorts = input.SortsBy?.Invoke(c.Column.Name) == true,
            IsDescending = input.Table.Sort is { } sort && sort.Column == c.Column.Name ? sort.IsDescending : null,
            IsSorting = input.Table.Sorting?.Next.Column == c.Column.Name,
            IsCursor = i == input.HeaderCursor,
        })];
    }

    private static ImmutableArray<RowFrame> Kept(
        FrameInput input, Dictionary<int, RowFrame>? before, (Part Part, double Left)[] places, ImmutableArray<RowFrame> shown)
    {
        var (rows, geometry) = (input.Plane.Rows, input.Plane.Geometry);
        int first = shown[0].Row.Value, last = shown[^1].Row.Value;
        var kept = new SortedSet<int>();
        if (input.HasFocus && input.CursorRow is { } cursor) kept.Add(cursor.Value);
        foreach (var index in input.Touched)
            if (rows.RowOf(input.Move?.Apply(index) ?? index) is { } pressed) kept.Add(pressed.Value);
        return [.. kept.Where(r => (r < first || r > last) && r < geometry.RowCount)
            .Select(r => RowFrameBuilder.Row(input, before, places, new(r), InView(input, new(r))))];
    }

    /// <summary>What is carried, with the gap that it is over.</summary>
    private static GrabFrame Card(FrameInput input, (Part Part, double Left)[] places, GrabFrame grab)
    {
        var plane = input.Plane;
        var (gap, isTiled) = (GapOf(input), plane.Geometry.IsTiled);
        return grab with
        {
            GapY = grab.GapY is null ? null : gap.Top,
            GapX = grab.GapY is not null && isTiled ? gap.Left : null,
            GapHeight = gap.Height,
            Top = grab.HasPointer ? grab.Top : gap.Top,
            Left = grab.HasPointer ? grab.Left : LandingOf(input).Left,
            Row = input.Taken < 0 ? null
                : Taken(input with { Grabbed = null, Swipe = null, Pressed = [] }, places,
                    input.Move?.Apply(input.Taken) ?? input.Taken, grab),
        };
    }

    // Over what is collapsed it has no row in the list, and looks as it did.
    private static RowFrame Taken(FrameInput input, (Part Part, double Left)[] places, int index, GrabFrame grab)
    {
        var row = input.Plane.Rows.RowOf(index);
        return RowFrameBuilder.ItemRow(input, places, index, row ?? default,
            row is { } shown ? input.Plane.Geometry.BoundsOf(shown) with { Left = 0, Top = 0 } : new(0, 0, grab.Width, grab.Height));
    }

    private static RowBounds InView(FrameInput input, RowNumber row) =>
        input.Plane.Geometry.BoundsOf(row) is var bounds ? bounds with { Top = bounds.Top - input.Plane.Viewport.ScrollTop } : default;

    /// <summary>
    /// Where the gap is, px from the viewport's left and top edge: above a row on show, or below the last one; in tiles before one, or
    /// after the last of a section.
    /// </summary>
    private static RowBounds GapOf(FrameInput input)
    {
        var (rows, geometry) = (input.Plane.Rows, input.Plane.Geometry);
        var below = rows.RowBelow(input.Gap);
        if (geometry is not TiledRows tiles)
            return new(0, (below < geometry.RowCount ? geometry.TopOf(new(below)) : geometry.Height) - input.Plane.Viewport.ScrollTop,
                geometry.Width, 0);
        var isAfter = below > 0 && (below >= geometry.RowCount || rows.EntryAt(new(below)).Kind != RowKind.Item)
            && rows.EntryAt(new(below - 1)).Kind == RowKind.Item;
        var beside = InView(input, new(isAfter ? below - 1 : Math.Min(below, geometry.RowCount - 1)));
        return beside with
        {
            Left = isAfter != input.Plane.RightToLeft ? beside.Right + (tiles.Gap / 2) : beside.Left - (tiles.Gap / 2),
            Width = 0,
        };
    }

    /// <summary>Where what is carried would land.</summary>
    private static RowBounds LandingOf(FrameInput input) =>
        input.Plane.Geometry.IsTiled && input.Taken >= 0
        && input.Plane.Rows.RowOf(input.Move?.Apply(input.Taken) ?? input.Taken) is { } row ? InView(input, row) : default;
}
