using System.Collections.Immutable;
using System.Runtime.InteropServices;
using Lectica.Commands;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Marking;
using Lectica.Selecting;
using Lectica.Swiping;

namespace Lectica.Frames;

/// <summary>
/// What a frame is made of. A list has one, which it fills again for each frame: a frame in which all rows are others makes nothing but
/// them.
/// </summary>
internal sealed record FrameInput
{
    /// <summary>The rows as they lie, or would lie if what is grabbed were dropped.</summary>
    public RowPlane Plane { get; set; } = null!;

    /// <summary>What is selected, or would be, and the cursor.</summary>
    public Selection Selection { get; set; } = null!;

    /// <summary>What may be selected.</summary>
    public SelectionRules Rules { get; set; }

    /// <summary>What the item with an index says.</summary>
    public Func<int, RowContent> ContentOf { get; set; } = null!;

    /// <summary>The key of the item with an index, as text.</summary>
    public Func<int, string?> KeyTextOf { get; set; } = null!;

    /// <summary>Whether the item with an index is at hand.</summary>
    public Func<int, bool> IsRead { get; set; } = null!;

    /// <summary>How many have a mark on an item, given its name, the item, and whether it shows as on; null where nobody counts.</summary>
    public Func<string, int, bool, int?>? CountOf { get; set; }

    /// <summary>What a row says whose item is being read.</summary>
    public string PendingText { get; set; } = null!;

    /// <summary>The items that could not be read.</summary>
    public ItemSet Failed { get; set; } = null!;

    /// <summary>What their rows say.</summary>
    public string? FailedText { get; set; }

    /// <summary>How a browser may use touches on a part itself.</summary>
    public Func<PartKind, string> TouchActionOf { get; set; } = null!;

    /// <summary>The rows as they are while the plane has them as they would be; null where these are the same.</summary>
    public RowMap? Before { get; set; }

    /// <summary>Where those lie; null where there are none.</summary>
    public RowGeometry? GeometryBefore { get; set; }

    /// <summary>The items and parts that pointers are down on.</summary>
    public IReadOnlyList<(int Index, Part Part)> Pressed { get; set; } = null!;

    /// <summary>The part the keyboard is on, in lists with a part cursor.</summary>
    public Part? CursorPart { get; set; }

    /// <summary>Whether the state in which taps select can be left.</summary>
    public bool MayEndSelecting { get; set; }

    /// <summary>Whether the list has the keyboard.</summary>
    public bool HasFocus { get; set; }

    /// <summary>The columns.</summary>
    internal Table Table { get; set; } = Table.None;

    /// <summary>What they say of the item with an index.</summary>
    public Func<int, ImmutableArray<string>>? CellsOf { get; set; }

    /// <summary>Whether a press on a column's header sorts by it.</summary>
    public Func<string, bool>? SortsBy { get; set; }

    /// <summary>The column on whose header the keyboard is; -1 for none.</summary>
    public int HeaderCursor { get; set; } = -1;

    /// <summary>The list's title.</summary>
    public string? Title { get; set; }

    /// <summary>The line under it.</summary>
    public string? Subtitle { get; set; }

    /// <summary>The row that is swiped, or whose tray is open.</summary>
    public Swipe? Swipe { get; set; }

    /// <summary>How rows swipe.</summary>
    public SwipePhysics Physics { get; set; } = null!;

    /// <summary>The rectangle that is being dragged.</summary>
    public Marquee? Marquee { get; set; }

    /// <summary>What a pull uncovers above the rows.</summary>
    public PullFrame? Pull { get; set; }

    /// <summary>The items that are grabbed.</summary>
    public ItemSet? Grabbed { get; set; }

    /// <summary>The one of them that was taken hold of; -1 where it is another list's.</summary>
    public int Taken { get; set; } = -1;

    /// <summary>What is drawn of them; its places are filled in.</summary>
    public GrabFrame? Grab { get; set; }

    /// <summary>The gap of the plane in which they would land.</summary>
    public Gap Gap { get; set; }

    /// <summary>The move after which the rows are as in the plane; null where they are as they are.</summary>
    public Edit? Move { get; set; }

    /// <summary>For each mark the items that have it.</summary>
    public IReadOnlyDictionary<string, ItemSet> Marked { get; set; } = null!;

    /// <summary>What a mark looks like.</summary>
    public Func<string, MarkLook> LookOf { get; set; } = null!;

    /// <summary>What flashes on which items; null where nothing does.</summary>
    public Func<int, string?>? FlashOn { get; set; }

    /// <summary>What is being done to which items.</summary>
    public IReadOnlyList<(ItemSet Items, BusyFrame Busy)> Runs { get; set; } = [];

    /// <summary>The items that pointers came down on and have not left yet.</summary>
    public IReadOnlyCollection<int> Touched { get; set; } = [];

    /// <summary>Rows of the frame before, if those of items only change places: they are kept.</summary>
    public ImmutableArray<RowFrame> RowsToKeep { get; set; } = [];

    /// <summary>How far beyond the viewport there are rows, px.</summary>
    public double Overscan { get; set; }

    /// <summary>The row that the keyboard is on.</summary>
    public RowNumber? CursorRow { get; set; }

    /// <summary>The menu that is open.</summary>
    public Menu? Menu { get; set; }

    /// <summary>What comes after the items.</summary>
    public More More { get; set; } = More.NotSaid;

    /// <summary>What its row says.</summary>
    public string MoreText { get; set; } = "";

    /// <summary>What it offers where it failed.</summary>
    public string RetryText { get; set; } = "";

    /// <summary>The brief notice that shows.</summary>
    public BriefNotice? Notice { get; set; }

    /// <summary>The items that may be selected, by the indexes that they have in the plane; made when a branch is first drawn.</summary>
    internal ItemSet Choosable => _choosable ??= Now(Rules.Choosable);

    /// <summary>Those of them that are.</summary>
    internal ItemSet SelectedChoosable => _selected ??= Now(Selection.Items).Intersect(Choosable);

    private ItemSet? _choosable, _selected;

    /// <summary>The input is filled again: what was worked out from it no longer holds.</summary>
    public void Begin() => (_choosable, _selected) = (null, null);

    /// <summary>A set of items by the indexes that they have in the plane.</summary>
    internal ItemSet Now(ItemSet items) => Move?.Apply(items) ?? items;
}

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
        for (var i = 0; i < shown.Length; i++) shown[i] = Row(input, kept, places, new(first + i), InView(input, new(first + i)));
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
                ? Row(input, null, places, sticky.Row, plane.Geometry.BoundsOf(sticky.Row) with { Top = sticky.Top }) : null,
            Rows = rows,
            Header = plane.Parts.Check && !plane.Rows.Shown.IsEmpty ? Selector.HeaderState(input.Selection, input.Rules) : null,
            Selecting = input.MayEndSelecting && input.Selection.IsSelecting ? input.Selection.Items.Count : null,
            HasFocus = input.HasFocus,
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
            .Select(r => Row(input, before, places, new(r), InView(input, new(r))))];
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
            Row = input.Taken >= 0 && plane.Rows.RowOf(input.Move?.Apply(input.Taken) ?? input.Taken) is { } taken
                ? Row(input with { Grabbed = null, Swipe = null, Pressed = [] }, null, places, taken,
                plane.Geometry.BoundsOf(taken) with { Left = 0, Top = 0 }) : null,
        };
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

    private static RowFrame Row(
        FrameInput input, Dictionary<int, RowFrame>? kept, (Part Part, double Left)[] places, RowNumber row, RowBounds at)
    {
        var plane = input.Plane;
        var entry = plane.Rows.EntryAt(row);
        if (entry is { Kind: not RowKind.Item, Section: >= 0 and var own })
        {
            var section = plane.Rows.Sections[own];
            var shown = plane.Rows.ShownIn(own);
            return new()
            {
                Row = row,
                Lines = LinesOf(plane, row),
                DocumentOrder = input.Before is { } old ? (old.HeadingOf(old.SectionWith(section.Key))?.Value ?? row.Value) +
                    (entry.Kind == RowKind.Notice ? 1 : 0) : row.Value,
                Kind = entry.Kind,
                Top = at.Top,
                Width = at.Width,
                Height = at.Height,
                Content = new(entry.Kind == RowKind.Heading ? section.Title : section.NoticeText!),
                Notice = entry.Kind == RowKind.Notice ? NoticeKind.EmptySection : null,
                Section = section.Key,
                Heading = entry.Kind == RowKind.Heading
                    ? new(shown.Count, Selector.StateOf(input.Now(input.Selection.Items), shown.Except(input.Now(input.Rules.Disabled))),
                    section.IsCollapsed, plane.Parts.Check) : null,
                IsCursor = input.HasFocus && input.CursorRow == row,
                BodyWidth = at.Width,
            };
        }
        if (plane.Rows.Notice is { } notice)
            return new()
            {
                Row = row,
                Lines = LinesOf(plane, row),
                DocumentOrder = row.Value,
                Kind = RowKind.Notice,
                Top = at.Top,
                Width = at.Width,
                Height = at.Height,
                Content = new(notice.Text),
                Notice = notice.Kind,
                IsCursor = input.HasFocus,
                BodyWidth = at.Width,
            };

        if (entry.Index < 0)
            return new()
            {
                Row = row,
                Lines = LinesOf(plane, row),
                DocumentOrder = row.Value,
                Kind = RowKind.Notice,
                Top = at.Top,
                Width = at.Width,
                Height = at.Height,
                Content = new(input.MoreText, input.More.Kind == MoreKind.Failed ? input.RetryText : null),
                Notice = input.More.Kind switch
                {
                    MoreKind.ToCome => NoticeKind.MoreToCome,
                    MoreKind.Loading => NoticeKind.MoreLoading,
                    MoreKind.Failed => NoticeKind.MoreFailed,
                    _ => NoticeKind.NoMore,
                },
                IsCursor = input.HasFocus && input.CursorRow == row,
                BodyWidth = at.Width,
            };

        var index = input.Move?.Back(entry.Index) ?? entry.Index;
        if (kept is not null && kept.TryGetValue(index, out var before))
            return before.Row == row && before.Top == at.Top && before.Left == at.Left && before.TopBefore is null
                && before.LeftBefore is null ? before
                : before with
                {
                    Row = row,
                    DocumentOrder = before.DocumentOrder,
                    Top = at.Top,
                    TopBefore = null,
                    LeftBefore = null,
                    Lines = before.Lines is { } lines
                        ? lines with
                        {
                            Left = at.Left,
                            Line = plane.Geometry.LineOf(row),
                            Column = row.Value - plane.Geometry.LineStart(row).Value,
                        } : null,
                };
        var order = input.Before is { } rows ? rows.RowOf(index)?.Value ?? row.Value : row.Value;
        var isCursor = input.HasFocus && input.HeaderCursor < 0 && input.Selection.Cursor == index && input.Selection.Heading is null;
        var isSelected = input.Selection.Items.Contains(index);
        var parts = places.Length == 0 ? [] : new PartFrame[places.Length];
        double left = 0, right = at.Width;
        var isTile = plane.Geometry.IsTiled || plane.Geometry.IsAcross;
        var branch = plane.Rows.Outline is { } outline && outline.IsBranch(entry.Index) ? BranchOf(outline, entry.Index, input) : null;
        if (plane.Rows.Levels is not null)
        {
            // Each level has places of its own.
            var inset = plane.InsetOf(entry.Index);
            places = [.. branch is null ? []
                : ((Part, double)[])[(new(PartKind.Expander), plane.RightToLeft ? at.Width - inset : inset - plane.Parts.Width)],
                .. plane.Parts.LayOut(at.Width, plane.RightToLeft, inset)];
            parts = new PartFrame[places.Length];
            (left, right) = plane.RightToLeft ? (0, at.Width - inset) : (inset, at.Width);
        }
        for (var i = 0; i < places.Length; i++)
        {
            var (part, place) = places[i];
            var isOn = part.Kind == PartKind.Check ? branch is null ? isSelected : branch.State == TriState.On
                : part.Kind == PartKind.Expander ? branch!.IsExpanded
                : part.Name is { } mark && input.Marked.TryGetValue(mark, out var marked) && marked.Contains(index);
            var look = part.Name is { } name ? input.LookOf(name) : default;
            parts[i] = new(part, place, plane.Parts.Width, isOn, isCursor && input.CursorPart == part, look)
            {
                TouchAction = input.TouchActionOf(part.Kind),
                Count = part.Kind == PartKind.Mark && input.CountOf is { } countOf ? countOf(part.Name!, index, isOn) : null,
            };
            // In a tile the parts lie over the body, in a row beside it.
            if (isTile) continue;
            if ((part.Kind is PartKind.Expander or PartKind.Check or PartKind.Mark) != plane.RightToLeft)
                left = Math.Max(left, place + plane.Parts.Width);
            else right = Math.Min(right, place);
        }
        var (shift, tray) = input.Swipe is { } swipe && swipe.Index == index ? TrayOf(input, swipe) : (default, []);
        var pressed = false;
        for (var i = 0; i < input.Pressed.Count; i++) pressed |= input.Pressed[i].Index == index;
        var isRead = input.IsRead(index);
        var hasFailed = !isRead && input.Failed.Contains(index);
        BusyFrame? busy = null;
        for (var i = 0; i < input.Runs.Count && busy is null; i++)
            if (input.Runs[i].Items.Contains(index)) busy = input.Runs[i].Busy;
        return new()
        {
            Row = row,
            Lines = isTile
                ? new(true, at.Left, plane.PartHeight(at), plane.Geometry.LineOf(row),
                (input.GeometryBefore ?? plane.Geometry).LineOf(new(order)), row.Value - plane.Geometry.LineStart(row).Value) : null,
            DocumentOrder = order,
            Kind = RowKind.Item,
            Index = index,
            KeyText = input.KeyTextOf(index),
            Top = at.Top,
            Width = at.Width,
            Height = at.Height,
            Content = isRead ? input.ContentOf(index) : hasFailed ? new(input.FailedText ?? "", input.RetryText) : new(input.PendingText),
            Reading = isRead ? RowReading.Done : hasFailed ? RowReading.Failed : RowReading.Pending,
            Cells = isRead && !input.Table.Columns.IsEmpty && input.CellsOf is { } cellsOf ? cellsOf(index) : [],
            Level = plane.Rows.Levels?[entry.Index] ?? -1,
            Branch = branch,
            IsSelected = isSelected,
            IsPressed = pressed,
            IsCursor = isCursor,
            IsGrabbed = input.Grabbed?.Contains(index) == true,
            Shift = shift,
            Flash = input.FlashOn?.Invoke(index),
            Busy = busy,
            Tray = tray,
            IsDisabled = input.Rules.Disabled.Contains(index),
            Parts = ImmutableCollectionsMarshal.AsImmutableArray(parts),
            BodyLeft = left,
            BodyWidth = Math.Max(0, right - left),
        };
    }

    /// <summary>The line of a heading or a notice, among lines that have several items.</summary>
    private static InLines? LinesOf(RowPlane plane, RowNumber row) =>
        plane.Geometry.IsTiled ? new(false, 0, 0, plane.Geometry.LineOf(row), 0, 0) : null;

    private static BranchState BranchOf(Branching outline, int index, FrameInput input)
    {
        var length = outline.Levels.EndOf(index) - index;
        return BranchState.Of(input.SelectedChoosable.CountIn(index, length), input.Choosable.CountIn(index, length), outline, index);
    }

    private static (Motion Shift, ImmutableArray<TrayPartFrame> Tray) TrayOf(FrameInput input, Swipe swipe)
    {
        var rightToLeft = input.Plane.RightToLeft && !input.Plane.Geometry.IsAcross;
        var sign = rightToLeft ? -1 : 1;
        // While it settles back the tray is still seen: as it was when the finger let go.
        var seen = swipe.Offset == 0 && !swipe.IsHeld ? swipe with { Offset = swipe.Settle.From } : swipe;
        return (swipe.IsHeld ? Motion.At(sign * swipe.Offset)
            : swipe.Settle with { From = sign * swipe.Settle.From, To = sign * swipe.Settle.To },
            [.. input.Physics.LayOut(seen, rightToLeft)
                .Select(e => new TrayPartFrame(new(PartKind.Tray, e.Entry.Name), e.Entry.Label, e.Left, e.Width)
            {
                IsArmed = swipe.IsArmed,
                Icon = e.Entry.Icon,
                Role = e.Entry.Role,
            })]);
    }
}
