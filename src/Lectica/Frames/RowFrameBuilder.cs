using System.Collections.Immutable;
using System.Runtime.InteropServices;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Selecting;
using Lectica.Swiping;

namespace Lectica.Frames;

/// <summary>Makes what a host draws of one row: an item, a heading or a notice.</summary>
internal static class RowFrameBuilder
{
    public static RowFrame Row(
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
        if (plane.Rows.Notice is { } notice) return NoticeRow(input, row, at, new(notice.Text), notice.Kind, input.HasFocus);
        if (entry.Index < 0)
            return NoticeRow(input, row, at, new(input.MoreText, input.More.Kind == MoreKind.Failed ? input.RetryText : null),
                input.More.Kind switch
                {
                    MoreKind.ToCome => NoticeKind.MoreToCome,
                    MoreKind.Loading => NoticeKind.MoreLoading,
                    MoreKind.Failed => NoticeKind.MoreFailed,
                    _ => NoticeKind.NoMore,
                }, input.HasFocus && input.CursorRow == row);

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
        return ItemRow(input, places, entry.Index, row, at);
    }

    private static RowFrame NoticeRow(
        FrameInput input, RowNumber row, RowBounds at, RowContent content, NoticeKind kind, bool isCursor) => new()
        {
            Row = row,
            Lines = LinesOf(input.Plane, row),
            DocumentOrder = row.Value,
            Kind = RowKind.Notice,
            Top = at.Top,
            Width = at.Width,
            Height = at.Height,
            Content = content,
            Notice = kind,
            IsCursor = isCursor,
            BodyWidth = at.Width,
        };

    /// <summary>The row of an item.</summary>
    /// <param name="input">What there is to draw.</param>
    /// <param name="places">Where its parts are.</param>
    /// <param name="place">The item's index as the rows have it: where it would be after a move that is under way.</param>
    /// <param name="row">Its row.</param>
    /// <param name="at">Where it lies.</param>
    public static RowFrame ItemRow(FrameInput input, (Part Part, double Left)[] places, int place, RowNumber row, RowBounds at)
    {
        var plane = input.Plane;
        var index = input.Move?.Back(place) ?? place;
        var order = input.Before is { } rows ? rows.RowOf(index)?.Value ?? row.Value : row.Value;
        var isAtCursor = input.HeaderCursor < 0 && input.Selection.Cursor == index && input.Selection.Heading is null;
        var isCursor = isAtCursor && input.HasFocus;
        var isSelected = input.Selection.Items.Contains(index);
        var parts = places.Length == 0 ? [] : new PartFrame[places.Length];
        double left = 0, right = at.Width;
        var isTile = plane.Geometry.IsTiled || plane.Geometry.IsAcross;
        var branch = plane.Rows.Outline is { } outline && outline.IsBranch(place) ? BranchOf(outline, place, input) : null;
        if (plane.Rows.Levels is not null)
        {
            // Each level has places of its own.
            var inset = plane.InsetOf(place);
            places = [.. branch is null ? []
                : ((Part, double)[])[(new(PartKind.Expander), plane.RightToLeft ? at.Width - inset : inset - plane.Parts.Width)],
                .. plane.Parts.LayOut(at.Width, plane.RightToLeft, inset)];
            parts = new PartFrame[places.Length];
            (left, right) = plane.RightToLeft ? (0, at.Width - inset) : (inset, at.Width);
        }
        for (var i = 0; i < places.Length; i++)
        {
            var (part, start) = places[i];
            var isOn = part.Kind == PartKind.Check ? branch is null ? isSelected : branch.State == TriState.On
                : part.Kind == PartKind.Expander ? branch!.IsExpanded
                : part.Name is { } mark && input.Marked.TryGetValue(mark, out var marked) && marked.Contains(index);
            var (look, icon) = part.Name is { } name ? input.LookOf(name) : default;
            parts[i] = new(part, start, plane.Parts.Width, isOn, isCursor && input.CursorPart == part, look)
            {
                TouchAction = input.TouchActionOf(part.Kind),
                Icon = icon,
                Count = part.Kind == PartKind.Mark && input.CountOf is { } countOf ? countOf(part.Name!, index, isOn) : null,
            };
            // In a tile the parts lie over the body, in a row beside it.
            if (isTile) continue;
            if ((part.Kind is PartKind.Expander or PartKind.Check or PartKind.Mark) != plane.RightToLeft)
                left = Math.Max(left, start + plane.Parts.Width);
            else right = Math.Min(right, start);
        }
        var (shift, tray) = input.Swipe is { } swipe && swipe.Index == index ? TrayOf(input, swipe) : (default, []);
        var pressed = false;
        for (var i = 0; i < input.Pressed.Count; i++) pressed |= input.Pressed[i].Index == index;
        var (isRead, isDisabled) = (input.IsRead(index), input.Rules.Disabled.Contains(index));
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
            Level = plane.Rows.Levels?[place] ?? -1,
            Branch = branch,
            IsSelected = isSelected,
            IsPressed = pressed,
            IsCursor = isCursor,
            IsCurrent = isAtCursor && !input.ShowsRing && !isSelected && (isCursor || (!isDisabled && input.Selection.Items.IsEmpty)),
            IsGrabbed = input.Grabbed?.Contains(index) == true,
            Shift = shift,
            Flash = input.FlashOn?.Invoke(index),
            Busy = busy,
            Tray = tray,
            IsDisabled = isDisabled,
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
