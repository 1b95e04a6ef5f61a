using System.Collections.Immutable;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Selecting;

namespace Lectica.Frames;

/// <summary>What a frame is made of.</summary>
/// <param name="Plane">The rows as they lie.</param>
/// <param name="Selection">What is selected, and the cursor.</param>
/// <param name="Rules">What may be selected.</param>
/// <param name="ContentOf">What the item with an index says.</param>
/// <param name="Pressed">The items and parts that pointers are down on.</param>
/// <param name="CursorPart">The part the keyboard is on, in lists with a part cursor.</param>
/// <param name="HasFocus">Whether the list has the keyboard.</param>
/// <param name="Title">The list's title.</param>
/// <param name="Subtitle">The line under it.</param>
public sealed record FrameInput(
    RowPlane Plane, Selection Selection, SelectionRules Rules, Func<int, RowContent> ContentOf,
    IReadOnlyCollection<(int Index, Part Part)> Pressed, Part? CursorPart, bool HasFocus, string? Title, string? Subtitle);

/// <summary>Makes frames. Cost: the rows in the viewport, whatever the number of items.</summary>
public static class FrameBuilder
{
    /// <summary>The frame for a list as it is now.</summary>
    public static Frame Build(FrameInput input)
    {
        ArgumentNullException.ThrowIfNull(input);
        var plane = input.Plane;
        var viewport = plane.Viewport;
        var rows = ImmutableArray.CreateBuilder<RowFrame>();
        if (plane.Geometry.RowAt(viewport.ScrollTop) is { } first)
            for (var row = first; row.Value < plane.Geometry.RowCount; row = new(row.Value + 1))
            {
                var top = plane.Geometry.TopOf(row) - viewport.ScrollTop;
                if (top >= viewport.Height) break;
                rows.Add(Row(input, row, top));
            }
        return new()
        {
            Title = input.Title,
            Subtitle = input.Subtitle,
            Viewport = viewport,
            ContentHeight = plane.Geometry.Height,
            RowCount = plane.Geometry.RowCount,
            Rows = rows.DrainToImmutable(),
            Scroll = ScrollThumb.For(viewport, plane.Geometry.Height),
            Header = plane.Parts.Check ? Selector.HeaderState(input.Selection, input.Rules) : null,
            HasFocus = input.HasFocus,
            IsRightToLeft = plane.RightToLeft,
        };
    }

    private static RowFrame Row(FrameInput input, RowNumber row, double top)
    {
        var plane = input.Plane;
        var height = plane.Geometry.RowHeight;
        if (plane.Rows.Notice is { } notice)
            return new()
            {
                Row = row,
                Kind = RowKind.Notice,
                Top = top,
                Height = height,
                Content = new(notice.Text),
                Notice = notice.Kind,
                IsCursor = input.HasFocus,
                BodyWidth = plane.Viewport.Width,
            };

        var index = plane.Rows.IndexAt(row);
        var isCursor = input.HasFocus && input.Selection.Cursor == index;
        var isSelected = input.Selection.Items.Contains(index);
        var parts = ImmutableArray.CreateBuilder<PartFrame>();
        double left = 0, right = plane.Viewport.Width;
        foreach (var (part, at) in plane.Parts.Place(plane.Viewport.Width, plane.RightToLeft))
        {
            parts.Add(new(part, at, plane.Parts.Width, part.Kind == PartKind.Check && isSelected, isCursor && input.CursorPart == part));
            if (at < plane.Viewport.Width / 2) left = Math.Max(left, at + plane.Parts.Width);
            else right = Math.Min(right, at);
        }
        var pressed = false;
        foreach (var press in input.Pressed) pressed |= press.Index == index;
        return new()
        {
            Row = row,
            Kind = RowKind.Item,
            Index = index,
            Top = top,
            Height = height,
            Content = input.ContentOf(index),
            IsSelected = isSelected,
            IsPressed = pressed,
            IsCursor = isCursor,
            IsDisabled = input.Rules.Disabled.Contains(index),
            Parts = parts.DrainToImmutable(),
            BodyLeft = left,
            BodyWidth = Math.Max(0, right - left),
        };
    }
}
