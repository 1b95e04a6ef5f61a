using Lectica.Frames;
using Lectica.Items;
using SkiaSharp;

namespace Lectica.Skia;

/// <summary>
/// Draws a <see cref="Frame"/>: the title, if it has one, and below it the list's viewport. It reads nothing but the frame. States differ
/// in form, not in colour alone: a selected row has a bar and a bold label, a pressed one an inset outline, the cursor a ring, a
/// disabled row pale words.
/// </summary>
public sealed partial class FramePainter(Theme theme, Func<string, SKImage?>? pictureOf = null)
{
    private const float TitleHeight = 60, ColumnsHeight = 36, Margin = 16, PictureSize = 36, BoxSize = 20;

    /// <summary>The height of the title and the headers of columns above the viewport, px; 0 without both.</summary>
    public static float HeaderHeight(Frame frame)
    {
        ArgumentNullException.ThrowIfNull(frame);
        return (frame.Title is null ? 0 : TitleHeight) + (frame.Headers.IsEmpty ? 0 : ColumnsHeight);
    }

    /// <summary>The size of the drawing, px.</summary>
    public static SKSize SizeOf(Frame frame)
    {
        ArgumentNullException.ThrowIfNull(frame);
        return new((float)frame.Viewport.Width, (float)frame.Viewport.Height + HeaderHeight(frame));
    }

    /// <summary>Draws a frame with its top left corner at the canvas' origin.</summary>
    /// <param name="canvas">Where to.</param>
    /// <param name="frame">The frame.</param>
    /// <param name="time">When, ms on the samples' clock: rows that settle are drawn on their way; at rest where it is not given.</param>
    public void Paint(SKCanvas canvas, Frame frame, double time = double.PositiveInfinity)
    {
        ArgumentNullException.ThrowIfNull(canvas);
        var size = SizeOf(frame);
        var header = HeaderHeight(frame);
        canvas.Save();
        canvas.ClipRect(new(0, 0, size.Width, size.Height));
        Fill(canvas, new(0, 0, size.Width, size.Height), theme.Background);
        if (frame.Title is not null) Title(canvas, frame, size.Width);
        if (!frame.Headers.IsEmpty) Columns(canvas, frame, SKRect.Create(0, header - ColumnsHeight, size.Width, ColumnsHeight));
        canvas.Translate(0, header);
        canvas.ClipRect(new(0, 0, size.Width, (float)frame.Viewport.Height));
        foreach (var row in frame.Rows) Row(canvas, frame, row, time);
        if (frame.Sticky is { } sticky) Row(canvas, frame, sticky, time);
        if (frame.Grab is { } grab) Grabbed(canvas, frame, grab);
        if (frame.Pull is { } pull) PulledDown(canvas, frame, pull);
        if (frame.Marquee is { } marquee) MarqueeOf(canvas, marquee);
        if (frame.Scroll is { } thumb) Scroll(canvas, frame, thumb);
        if (frame.Menu is { } menu) MenuOf(canvas, menu, frame.ShowsRing);
        if (frame.Brief is { } brief) Brief(canvas, frame, brief);
        canvas.Restore();
    }

    /// <summary>Draws a frame into a PNG.</summary>
    /// <param name="frame">The frame.</param>
    /// <param name="scale">Image pixels for each px; more than 0.</param>
    /// <param name="time">When, ms on the samples' clock; see <see cref="Paint"/>.</param>
    public SKData ToPng(Frame frame, float scale = 2, double time = double.PositiveInfinity)
    {
        var size = SizeOf(frame);
        return Png.Draw(size.Width, size.Height, scale, canvas => Paint(canvas, frame, time));
    }

    private void Title(SKCanvas canvas, Frame frame, float width)
    {
        Fill(canvas, new(0, 0, width, TitleHeight), theme.Header);
        Fill(canvas, new(0, TitleHeight - 2, width, TitleHeight), theme.Divider);
        var left = Margin;
        if (frame.Header is { } state)
        {
            // Over the boxes of the rows.
            var box = new SKPoint(frame.IsRightToLeft ? width - 22 : 22, TitleHeight / 2);
            Box(canvas, box, state);
            left = 44 + 8;
        }
        var (from, room) = frame.IsRightToLeft ? (Margin, width - left - Margin) : (left, width - left - Margin);
        using var bold = Fonts.Bold(19);
        using var small = Fonts.Regular(13);
        Text(canvas, bold, frame.Title!, theme.Text, from, room, frame.Subtitle is null ? 37 : 28, frame.IsRightToLeft);
        if (frame.Subtitle is { } subtitle) Text(canvas, small, subtitle, theme.Quiet, from, room, 47, frame.IsRightToLeft);
    }

    private void Row(SKCanvas canvas, Frame frame, RowFrame row, double time)
    {
        var area = SKRect.Create((float)row.Left, (float)row.Top, (float)row.Width, (float)row.Height);
        if (row.Kind == RowKind.Notice)
        {
            if (row.Notice is NoticeKind.MoreToCome or NoticeKind.MoreLoading or NoticeKind.MoreFailed or NoticeKind.NoMore)
                FooterRow(canvas, frame, row, area);
            else if (row.Section is null) NoticeRow(canvas, frame, row, area);
            else SectionNotice(canvas, frame, row, area);
            return;
        }
        if (row.Heading is { } heading && frame.IsStrip)
        {
            StripHeading(canvas, frame, row, heading, area);
            return;
        }
        if (row.Heading is { } wide)
        {
            HeadingRow(canvas, frame, row, wide, area);
            return;
        }
        if (row.IsGrabbed && frame.Grab is not null)
        {
            Away(canvas, row, area);
            return;
        }
        var shift = (float)row.Shift.OffsetAt(time);
        if (frame.IsStrip)
        {
            StripItem(canvas, frame, row, area, shift);
            return;
        }
        if (row.IsTile)
        {
            Tile(canvas, frame, row, area);
            return;
        }
        if (shift == 0)
        {
            RowItself(canvas, frame, row, area);
            return;
        }
        canvas.Save();
        canvas.ClipRect(area);
        foreach (var entry in row.Tray) TrayCommand(canvas, entry, area);
        canvas.Translate(shift, 0);
        Fill(canvas, area, theme.Background);
        RowItself(canvas, frame, row, area);
        using (var edge = Stroke(theme.Quiet, 1))
            canvas.DrawLine(shift > 0 ? area.Left : area.Right, area.Top, shift > 0 ? area.Left : area.Right, area.Bottom, edge);
        canvas.Restore();
    }

    /// <summary>A command of a tray: the colour of its role, its icon and its word; armed, both are larger in a frame.</summary>
    private void TrayCommand(SKCanvas canvas, TrayPartFrame entry, SKRect row)
    {
        TrayCommandIn(canvas, entry, SKRect.Create((float)entry.Left, row.Top, (float)entry.Width, row.Height - 1));
    }

    private void TrayCommandIn(SKCanvas canvas, TrayPartFrame entry, SKRect area)
    {
        Fill(canvas, area, theme.ColourOf(entry.Role));
        using var font = entry.IsArmed ? Fonts.Bold(14) : Fonts.Regular(13);
        using var ink = new SKPaint { Color = theme.OnRole, IsAntialias = true };
        canvas.Save();
        canvas.ClipRect(area);
        if (entry.Icon is { } icon) Icons.Draw(canvas, icon, new(area.MidX, area.MidY - 9), theme.OnRole, size: entry.IsArmed ? 26 : 20);
        if (area.Width > 20)
            canvas.DrawText(Fonts.Fit(font, entry.Label, area.Width - 12), area.MidX, area.MidY + (entry.Icon is null ? 5 : 17),
                SKTextAlign.Center, font, ink);
        // Two of one role are still two.
        using var edge = Stroke(theme.OnRole.WithAlpha(0x80), 1);
        if (entry.Left > 0) canvas.DrawLine(area.Left, area.Top + 8, area.Left, area.Bottom - 8, edge);
        if (entry.IsArmed)
        {
            using var frame = Stroke(theme.OnRole, 2);
            canvas.DrawRoundRect(SKRect.Inflate(area, -4, -4), 6, 6, frame);
        }
        canvas.Restore();
    }

    /// <summary>How far a command is: a line that fills, or one of dashes where nobody knows.</summary>
    private void ProgressLine(SKCanvas canvas, double? progress, SKRect area, bool rightToLeft)
    {
        Fill(canvas, area, theme.Divider);
        if (progress is { } done)
        {
            var length = area.Width * (float)done;
            Fill(canvas, rightToLeft ? SKRect.Create(area.Right - length, area.Top, length, area.Height)
                : SKRect.Create(area.Left, area.Top, length, area.Height), theme.Accent);
            return;
        }
        const float dash = 24;
        for (var x = area.Left; x < area.Right; x += 2 * dash)
            Fill(canvas, SKRect.Create(x, area.Top, Math.Min(dash, area.Right - x), area.Height), theme.Accent);
    }

    /// <summary>The place that a row which floats elsewhere would take: the one sign of the gap.</summary>
    private void Away(SKCanvas canvas, RowFrame row, SKRect area)
    {
        using var ground = new SKPaint { Color = theme.Gap, IsAntialias = true };
        canvas.DrawRoundRect(area, row.IsTile ? TileCorner : 0, row.IsTile ? TileCorner : 0, ground);
    }

    private static void Text(
        SKCanvas canvas, SKFont font, string text, SKColor colour, float left, float width, float baseline, bool rightToLeft)
    {
        using var ink = new SKPaint { Color = colour, IsAntialias = true };
        canvas.DrawText(Fonts.Fit(font, text, width), rightToLeft ? left + width : left, baseline,
            rightToLeft ? SKTextAlign.Right : SKTextAlign.Left, font, ink);
    }

    /// <summary>Something that lies above the rest, with its shadow.</summary>
    private static void Raise(SKCanvas canvas, SKRect area, SKColor ground, float corner)
    {
        using var paint = new SKPaint
        {
            IsAntialias = true,
            Color = ground,
            ImageFilter = SKImageFilter.CreateDropShadow(0, 4, 7, 7, SKColors.Black.WithAlpha(0x59)),
        };
        canvas.DrawRoundRect(area, corner, corner, paint);
    }

    private static void Fill(SKCanvas canvas, SKRect area, SKColor colour)
    {
        using var paint = new SKPaint { Color = colour };
        canvas.DrawRect(area, paint);
    }

    private static SKPaint Stroke(SKColor colour, float width) =>
        new() { Color = colour, IsAntialias = true, Style = SKPaintStyle.Stroke, StrokeWidth = width };
}
