using Lectica.Frames;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Looks;
using Lectica.Marking;
using Lectica.Selecting;
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
        if (frame.Menu is { } menu) MenuOf(canvas, menu);
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
            StripHeading(canvas, row, heading, area);
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

    private void Grabbed(SKCanvas canvas, Frame frame, GrabFrame grab)
    {
        var width = (float)frame.Viewport.Width;
        // Rows make room for what belongs to the list; for what comes from another there is only a line.
        if (grab is { IsGuest: true, GapY: { } gap })
        {
            using var line = Stroke(theme.Accent, 3);
            if (grab.GapX is { } x) canvas.DrawLine((float)x, (float)gap, (float)x, (float)(gap + grab.GapHeight), line);
            else canvas.DrawLine(0, (float)gap, width, (float)gap, line);
        }
        if (!grab.HasCard) return;
        var isTile = grab.Row?.IsTile ?? grab.GapX is not null;
        var area = isTile ? SKRect.Create((float)grab.Left, (float)grab.Top, (float)grab.Width, (float)grab.Height)
            : SKRect.Create(6, (float)grab.Top, width - 12, (float)grab.Height - 2);
        using var edge = Stroke(theme.Divider, 1);
        using var ground = new SKPaint { Color = theme.Raised, IsAntialias = true };
        // Behind it, that there are more.
        for (var under = Math.Min(2, grab.Count - 1); under > 0; under--)
        {
            var card = area;
            card.Offset(under * 3, under * 4);
            canvas.DrawRoundRect(card, 8, 8, ground);
            canvas.DrawRoundRect(card, 8, 8, edge);
        }
        Raise(canvas, area, theme.Raised, 8);
        canvas.Save();
        using (var shape = new SKRoundRect(area, 8, 8)) canvas.ClipRoundRect(shape, antialias: true);
        var right = grab.Refusal is not null ? 44 : grab.Count > 1 ? 52 : 0;
        if (grab.Row is { } row)
        {
            Fill(canvas, area, row.IsSelected ? theme.Selected : theme.Raised);
            if (row.IsTile) TileInside(canvas, frame, row with { IsDisabled = false }, area);
            foreach (var part in row.IsTile ? [] : row.Parts.Where(p => p.Part.Kind != PartKind.Handle || right == 0))
                PartOf(canvas, row, part, area);
            if (!row.IsTile)
                Body(canvas, frame, row with { BodyWidth = Math.Max(0, row.BodyWidth - (right == 0 ? 0 : 8)), IsDisabled = false }, area);
        }
        else
        {
            using var label = Fonts.Regular(16);
            Text(canvas, label, grab.Content.Label, theme.Text, area.Left + Margin, area.Width - 80, area.MidY + 5.5f, frame.IsRightToLeft);
        }
        canvas.Restore();
        canvas.DrawRoundRect(area, 8, 8, edge);
        var end = frame.IsRightToLeft ? area.Left + 26 : area.Right - 26;
        if (grab.Refusal is not null)
        {
            // That it cannot be dropped is said by a sign, not by colour alone.
            Icons.Draw(canvas, "refused", new(end, area.MidY), theme.Destructive, size: 24);
            return;
        }
        if (grab.Count < 2) return;
        using var badge = new SKPaint { Color = theme.Accent, IsAntialias = true };
        var number = grab.Count.ToString(System.Globalization.CultureInfo.InvariantCulture);
        using var font = Fonts.Bold(14);
        var wide = Math.Max(26, font.MeasureText(number) + 16);
        canvas.DrawRoundRect(SKRect.Create(end - (wide / 2), area.MidY - 13, wide, 26), 13, 13, badge);
        using var ink = new SKPaint { Color = theme.OnAccent, IsAntialias = true };
        canvas.DrawText(number, end, area.MidY + 5, SKTextAlign.Center, font, ink);
    }

    /// <summary>What a pull uncovers: its lower end shows first.</summary>
    private void PulledDown(SKCanvas canvas, Frame frame, PullFrame pull)
    {
        using var font = Fonts.Bold(14);
        float wide = font.MeasureText(pull.Text) + 60, top = (float)pull.Height - 48, left = ((float)frame.Viewport.Width - wide) / 2;
        var chip = SKRect.Create(left, top, wide, 40);
        canvas.Save();
        canvas.ClipRect(SKRect.Create(0, 0, (float)frame.Viewport.Width, (float)pull.Height));
        using var ground = new SKPaint { IsAntialias = true, Color = pull.IsArmed ? theme.Accent : theme.Background };
        using var edge = Stroke(theme.Divider, 1);
        canvas.DrawRoundRect(chip, 20, 20, ground);
        canvas.DrawRoundRect(chip, 20, 20, edge);
        var ink = pull.IsArmed ? theme.OnAccent : theme.Text;
        var at = frame.IsRightToLeft ? chip.Right - 26 : chip.Left + 26;
        canvas.Save();
        canvas.RotateDegrees((float)pull.Turn * 270, at, chip.MidY);
        Icons.Draw(canvas, pull.IsUnderWay ? "loading" : "retry", new(at, chip.MidY), ink, size: 20);
        canvas.Restore();
        Text(canvas, font, pull.Text, ink, frame.IsRightToLeft ? chip.Left + 16 : chip.Left + 44, wide - 56, chip.MidY + 5,
            frame.IsRightToLeft);
        canvas.Restore();
    }

    private void MarqueeOf(SKCanvas canvas, MarqueeFrame marquee)
    {
        var area = SKRect.Create((float)marquee.Left, (float)marquee.Top, (float)marquee.Width, (float)marquee.Height);
        using var fill = new SKPaint { Color = theme.Accent.WithAlpha(0x22) };
        canvas.DrawRect(area, fill);
        using var dashes = SKPathEffect.CreateDash([6, 3], 0);
        using var stroke = Stroke(theme.Accent, 1.5f);
        stroke.PathEffect = dashes;
        canvas.DrawRect(area, stroke);
    }

    private void RowItself(SKCanvas canvas, Frame frame, RowFrame row, SKRect area)
    {
        if (row.IsSelected) Fill(canvas, area, theme.Selected);
        if (row.IsPressed) Fill(canvas, area, theme.Pressed);
        if (row.IsSelected)
        {
            const float bar = 5;
            Fill(canvas, frame.IsRightToLeft ? new(area.Right - bar, area.Top, area.Right, area.Bottom - 1)
                : new(area.Left, area.Top, area.Left + bar, area.Bottom - 1), theme.Accent);
        }
        // A low row may not hold its words: they are cut off, and never lie over a neighbour.
        canvas.Save();
        canvas.ClipRect(area);
        foreach (var part in row.Parts) PartOf(canvas, row, part, area);
        Body(canvas, frame, row, area);
        canvas.Restore();
        // Antialiased, so that it stays where a picture is drawn smaller than it is.
        using (var divider = new SKPaint { Color = theme.Divider, IsAntialias = true })
            canvas.DrawRect(new(area.Left, area.Bottom - 1, area.Right, area.Bottom), divider);
        if (row.IsPressed)
        {
            using var outline = Stroke(theme.Quiet, 1.5f);
            canvas.DrawRoundRect(SKRect.Inflate(area, -4, -4.5f), 6, 6, outline);
        }
        if (row.Busy is { } busy)
            ProgressLine(canvas, busy.Progress, SKRect.Create(area.Left, area.Bottom - 4, area.Width, 4), frame.IsRightToLeft);
        if (row.Flash is { } flash) Flash(canvas, flash, area, frame.IsRightToLeft);
        Cursor(canvas, row, area);
    }

    private void Flash(SKCanvas canvas, string text, SKRect area, bool rightToLeft)
    {
        using var font = Fonts.Bold(14);
        var width = Math.Min(font.MeasureText(text) + 24, area.Width - 24);
        var bubble = SKRect.Create(rightToLeft ? area.Left + 12 : area.Right - width - 12, area.MidY - 15, width, 30);
        using var ground = new SKPaint { Color = theme.Text, IsAntialias = true };
        canvas.DrawRoundRect(bubble, 15, 15, ground);
        Text(canvas, font, text, theme.Background, bubble.Left + 12, width - 24, bubble.MidY + 5, rightToLeft);
    }

    private void Body(SKCanvas canvas, Frame frame, RowFrame row, SKRect area)
    {
        var leading = row.Parts.IsEmpty || row.BodyLeft == 0 ? Margin : 8;
        float left = (float)row.BodyLeft + leading, right = (float)(row.BodyLeft + row.BodyWidth) - Margin;
        if (frame.IsRightToLeft) (left, right) = ((float)row.BodyLeft + Margin, (float)(row.BodyLeft + row.BodyWidth) - leading);
        if (row.Reading == RowReading.Pending)
        {
            Words(canvas, row, left, right, area.MidY, frame.IsRightToLeft);
            return;
        }
        if (row.Reading == RowReading.Failed)
        {
            using var bold = Fonts.Bold(14);
            var offer = bold.MeasureText(row.Content.Detail ?? "");
            Icons.Draw(canvas, "alert", new(frame.IsRightToLeft ? right - 10 : left + 10, area.MidY), theme.Destructive, size: 20);
            using var why = Fonts.Regular(14);
            Text(canvas, why, row.Content.Label, theme.Quiet, frame.IsRightToLeft ? left + offer + 16 : left + 30,
                right - left - offer - 46, area.MidY + 5, frame.IsRightToLeft);
            Text(canvas, bold, row.Content.Detail ?? "", theme.Accent, frame.IsRightToLeft ? left : right - offer, offer + 1, area.MidY + 5,
                frame.IsRightToLeft);
            return;
        }
        if (!row.Cells.IsEmpty && !frame.Headers.IsEmpty)
        {
            Fields(canvas, frame, row, area);
            return;
        }
        if (row.Content.Picture is { } name)
        {
            var picture =
                SKRect.Create(frame.IsRightToLeft ? right - PictureSize : left, area.MidY - (PictureSize / 2), PictureSize, PictureSize);
            Picture(canvas, name, row.Content.Label, picture);
            if (frame.IsRightToLeft) right -= PictureSize + 12;
            else left += PictureSize + 12;
        }
        var room = right - left;
        if (room <= 0) return;
        using var label = row.IsSelected ? Fonts.Bold(16) : Fonts.Regular(16);
        using var detail = Fonts.Regular(13);
        var (ink, quiet) = row.IsDisabled ? (theme.Disabled, theme.Disabled) : (theme.Text, theme.Quiet);
        if (row.Content.Detail is { Length: > 0 } text)
        {
            Text(canvas, label, row.Content.Label, ink, left, room, area.MidY - 3, frame.IsRightToLeft);
            Text(canvas, detail, text, quiet, left, room, area.MidY + 16, frame.IsRightToLeft);
        }
        else Text(canvas, label, row.Content.Label, ink, left, room, area.MidY + 5.5f, frame.IsRightToLeft);
    }

    /// <summary>Where the words of a row will be whose item is still being read.</summary>
    private void Words(SKCanvas canvas, RowFrame row, float left, float right, float middle, bool rightToLeft)
    {
        var width = (right - left) * (34 + (row.Index * 17 % 31)) / 100;
        using var ink = new SKPaint { Color = theme.Divider, IsAntialias = true };
        using var quiet = new SKPaint { Color = theme.Pressed, IsAntialias = true };
        var from = rightToLeft ? right - width : left;
        canvas.DrawRoundRect(SKRect.Create(from, middle - 14, width, 12), 6, 6, ink);
        canvas.DrawRoundRect(SKRect.Create(rightToLeft ? right - (width * 0.55f) : left, middle + 6, width * 0.55f, 8), 4, 4, quiet);
    }

    private void Picture(SKCanvas canvas, string name, string label, SKRect area)
    {
        canvas.Save();
        using var shape = new SKRoundRect(area, 8, 8);
        canvas.ClipRoundRect(shape, antialias: true);
        if (pictureOf?.Invoke(name) is { } image)
        {
            canvas.DrawImage(image, area, new SKSamplingOptions(SKCubicResampler.Mitchell));
        }
        else
        {
            // No such picture: the label's first letter in its place.
            Fill(canvas, area, theme.Divider);
            using var font = Fonts.Bold(16);
            var letter = label.Length == 0 ? "?" : new System.Globalization.StringInfo(label).SubstringByTextElements(0, 1);
            using var ink = new SKPaint { Color = theme.Text, IsAntialias = true };
            canvas.DrawText(letter, area.MidX, area.MidY + 6, SKTextAlign.Center, font, ink);
        }
        canvas.Restore();
    }

    private void PartOf(SKCanvas canvas, RowFrame row, PartFrame part, SKRect area)
    {
        var centre = new SKPoint(
            area.Left + (float)(part.Left + (part.Width / 2)), row.IsTile ? area.Top + ((float)row.PartHeight / 2) : area.MidY);
        // What is done to an item is not there before the item.
        if (row.Reading != RowReading.Done && part.Part.Kind is not (PartKind.Check or PartKind.Expander)) return;
        switch (part.Part.Kind)
        {
            case PartKind.Check:
                Box(canvas, centre, row.Branch?.State ?? (part.IsOn ? TriState.On : TriState.Off), row.IsDisabled);
                break;
            case PartKind.Expander when row.Branch is { } branch:
                if (branch.Reading != RowReading.Done)
                    Icons.Draw(canvas, branch.Reading == RowReading.Failed ? "alert" : "loading", centre,
                        branch.Reading == RowReading.Failed ? theme.Destructive : theme.Quiet, size: 20);
                else Icons.Draw(
                    canvas, branch.IsExpanded ? "down" : part.Left > row.Width / 2 ? "back" : "forward", centre, theme.Quiet, size: 20);
                break;
            case PartKind.Mark:
                MarkOf(canvas, part, part.Count > 0 ? new(centre.X, centre.Y - 6) : centre);
                if (part.Count is > 0 and var count)
                {
                    using var small = Fonts.Regular(11);
                    using var quiet = new SKPaint { Color = theme.Quiet, IsAntialias = true };
                    canvas.DrawText(count.ToString(System.Globalization.CultureInfo.InvariantCulture), centre.X, centre.Y + 18,
                        SKTextAlign.Center, small, quiet);
                }
                break;
            case PartKind.Menu:
                Icons.Draw(canvas, "more", centre, theme.Quiet);
                break;
            case PartKind.Handle:
                Icons.Draw(canvas, "handle", centre, theme.Quiet);
                break;
        }
        if (!part.IsCursor) return;
        using var ring = Stroke(theme.Accent, 2);
        canvas.DrawRoundRect(SKRect.Create(centre.X - 17, centre.Y - 17, 34, 34), 6, 6, ring);
    }

    private void MarkOf(SKCanvas canvas, PartFrame part, SKPoint centre)
    {
        var colour = part.IsOn ? theme.Accent : theme.Quiet;
        switch (part.Look)
        {
            case MarkLook.Star:
                Icons.Draw(canvas, "star", centre, colour, part.IsOn);
                break;
            case MarkLook.Flag:
                Icons.Draw(canvas, "flag", centre, colour, part.IsOn);
                break;
            default:
                Icons.Draw(canvas, "ring", centre, colour, part.IsOn);
                if (part.IsOn && part.Look == MarkLook.Tick) Icons.Draw(canvas, "tick", centre, theme.OnAccent, size: 13);
                break;
        }
    }

    private void Box(SKCanvas canvas, SKPoint centre, TriState state, bool isDisabled = false)
    {
        var box = SKRect.Create(centre.X - (BoxSize / 2), centre.Y - (BoxSize / 2), BoxSize, BoxSize);
        if (state == TriState.Off)
        {
            using var outline = Stroke(isDisabled ? theme.Disabled : theme.Quiet, 1.8f);
            canvas.DrawRoundRect(box, 5, 5, outline);
            return;
        }
        using var fill = new SKPaint { Color = theme.Accent, IsAntialias = true };
        canvas.DrawRoundRect(box, 5, 5, fill);
        using var sign = Stroke(theme.OnAccent, 2.4f);
        sign.StrokeCap = SKStrokeCap.Round;
        if (state == TriState.Mixed)
        {
            canvas.DrawLine(centre.X - 5, centre.Y, centre.X + 5, centre.Y, sign);
            return;
        }
        canvas.DrawLine(centre.X - 5, centre.Y, centre.X - 1.4f, centre.Y + 4, sign);
        canvas.DrawLine(centre.X - 1.4f, centre.Y + 4, centre.X + 5.4f, centre.Y - 4.4f, sign);
    }

    private void HeadingRow(SKCanvas canvas, Frame frame, RowFrame row, HeadingFrame heading, SKRect area)
    {
        Fill(canvas, area, theme.Header);
        Fill(canvas, new(area.Left, area.Bottom - 1, area.Right, area.Bottom), theme.Divider);
        canvas.Save();
        canvas.ClipRect(area);
        float start = heading.HasBox ? 44 : 0, end = 44;
        if (heading.HasBox) Box(canvas, new(frame.IsRightToLeft ? area.Right - 22 : 22, area.MidY), heading.State);
        using var bold = Fonts.Bold(14);
        using var small = Fonts.Regular(13);
        var (left, room) = frame.IsRightToLeft ? (end, area.Width - start - end - 8)
            : (start + (heading.HasBox ? 8 : Margin), area.Width - start - end - 8);
        Text(canvas, bold, row.Content.Label, theme.Text, left, room, area.MidY + 5, frame.IsRightToLeft);
        var count = heading.Count.ToString(System.Globalization.CultureInfo.InvariantCulture);
        var after = bold.MeasureText(row.Content.Label) + 10;
        Text(canvas, small, count, theme.Quiet, frame.IsRightToLeft ? left : left + after, room - after, area.MidY + 5,
            frame.IsRightToLeft);
        // Down where it is open, toward the reading direction where it is collapsed.
        Icons.Draw(canvas, !heading.IsCollapsed ? "down" : frame.IsRightToLeft ? "back" : "forward",
            new(frame.IsRightToLeft ? 22 : area.Right - 22, area.MidY), theme.Quiet, size: 20);
        canvas.Restore();
        Cursor(canvas, row, area);
    }

    private void SectionNotice(SKCanvas canvas, Frame frame, RowFrame row, SKRect area)
    {
        using var font = Fonts.Regular(14);
        Text(canvas, font, row.Content.Label, theme.Quiet, Margin, area.Width - (2 * Margin), area.MidY + 5, frame.IsRightToLeft);
        Fill(canvas, new(area.Left, area.Bottom - 1, area.Right, area.Bottom), theme.Divider);
        Cursor(canvas, row, area);
    }

    /// <summary>The row that says what comes after the items: its sign, its words, and what it offers.</summary>
    private void FooterRow(SKCanvas canvas, Frame frame, RowFrame row, SKRect area)
    {
        var rightToLeft = frame.IsRightToLeft;
        Icons.Draw(canvas, IconPaths.Of(row.Notice), new(rightToLeft ? area.Right - 26 : 26, area.MidY),
            row.Notice == NoticeKind.MoreFailed ? theme.Destructive : theme.Quiet, size: 20);
        using var font = Fonts.Regular(14);
        using var bold = Fonts.Bold(14);
        var offer = row.Content.Detail is { } words ? bold.MeasureText(words) + 24 : 0;
        var room = area.Width - 48 - Margin - offer;
        Text(canvas, font, row.Content.Label, theme.Quiet, rightToLeft ? area.Left + Margin + offer : 48, room, area.MidY + 5, rightToLeft);
        if (row.Content.Detail is { } detail)
            Text(canvas, bold, detail, theme.Accent, rightToLeft ? Margin : area.Right - Margin - offer + 24, offer - 24, area.MidY + 5,
                rightToLeft);
        Cursor(canvas, row, area);
    }

    private void Cursor(SKCanvas canvas, RowFrame row, SKRect area)
    {
        if (!row.IsCursor) return;
        using var ring = Stroke(theme.Accent, 2);
        canvas.DrawRoundRect(SKRect.Inflate(area, -1.5f, -1.5f), 4, 4, ring);
    }

    private void NoticeRow(SKCanvas canvas, Frame frame, RowFrame row, SKRect area)
    {
        // The row is the notice's place in the list; its words stand in the middle of what would be empty.
        var middle = new SKPoint((float)frame.Viewport.Width / 2, Math.Max(area.MidY, (float)frame.Viewport.Height * 0.4f));
        Icons.Draw(canvas, IconPaths.Of(row.Notice), new(middle.X, middle.Y - 30),
            row.Notice == NoticeKind.Failed ? theme.Destructive : theme.Quiet, size: 44);
        using var font = Fonts.Regular(15);
        using var ink = new SKPaint { Color = theme.Quiet, IsAntialias = true };
        canvas.DrawText(Fonts.Fit(font, row.Content.Label, (float)frame.Viewport.Width - (2 * Margin)), middle.X, middle.Y + 18,
            SKTextAlign.Center, font, ink);
        if (!row.IsCursor) return;
        using var ring = Stroke(theme.Accent, 2);
        canvas.DrawRoundRect(SKRect.Create(middle.X - 150, middle.Y - 52, 300, 88), 6, 6, ring);
    }

    private void Scroll(SKCanvas canvas, Frame frame, ScrollThumb thumb)
    {
        using var ink = new SKPaint { Color = theme.Quiet.WithAlpha(0x99), IsAntialias = true };
        float wide = (float)frame.Viewport.Width, from = (float)thumb.Top + 2, length = (float)thumb.Length - 4;
        var bar = frame.IsStrip
            ? SKRect.Create(frame.IsRightToLeft ? wide - from - length : from, (float)frame.Viewport.Height - 8, length, 5)
            : SKRect.Create(frame.IsRightToLeft ? 3 : wide - 8, from, 5, length);
        canvas.DrawRoundRect(bar, 2.5f, 2.5f, ink);
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
