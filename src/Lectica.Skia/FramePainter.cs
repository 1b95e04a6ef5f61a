using Lectica.Acts;
using Lectica.Commands;
using Lectica.Frames;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Marking;
using Lectica.Selecting;
using SkiaSharp;

namespace Lectica.Skia;

/// <summary>
/// Draws a <see cref="Frame"/>: the title, if it has one, and below it the list's viewport. It reads nothing but the frame. States differ
/// in form, not in colour alone: a selected row has a bar and a bold label, a pressed one an inset outline, the cursor a ring, a
/// disabled row a crossed circle.
/// </summary>
public sealed class FramePainter(Theme theme, Func<string, SKImage?>? pictureOf = null)
{
    private const float TitleHeight = 60, Margin = 16, PictureSize = 36, BoxSize = 20;

    /// <summary>The height of the title above the viewport, px; 0 without a title.</summary>
    public static float HeaderHeight(Frame frame)
    {
        ArgumentNullException.ThrowIfNull(frame);
        return frame.Title is null ? 0 : TitleHeight;
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
        canvas.Translate(0, header);
        canvas.ClipRect(new(0, 0, size.Width, (float)frame.Viewport.Height));
        foreach (var row in frame.Rows) Row(canvas, frame, row, time);
        if (frame.Grab is { } grab) Grabbed(canvas, frame, grab);
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
        var area = SKRect.Create(0, (float)row.Top, (float)frame.Viewport.Width, (float)row.Height);
        if (row.Kind == RowKind.Notice)
        {
            if (row.Section is null) NoticeRow(canvas, frame, row, area);
            else SectionNotice(canvas, frame, row, area);
            return;
        }
        if (row.Heading is { } heading)
        {
            HeadingRow(canvas, frame, row, heading, area);
            return;
        }
        if (row.IsGrabbed && frame.Grab is not null)
        {
            Away(canvas, area);
            return;
        }
        var shift = (float)row.Shift.PlaceAt(time);
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
        using (var edge = Stroke(theme.Quiet, 1)) canvas.DrawLine(shift > 0 ? area.Left : area.Right, area.Top, shift > 0 ? area.Left : area.Right, area.Bottom, edge);
        canvas.Restore();
    }

    private void TrayCommand(SKCanvas canvas, TrayPartFrame entry, SKRect row)
    {
        var area = SKRect.Create((float)entry.Left, row.Top, (float)entry.Width, row.Height - 1);
        Fill(canvas, area, entry.IsArmed ? theme.Accent : theme.Pressed);
        var colour = entry.IsArmed ? theme.OnAccent : theme.Text;
        using var font = entry.IsArmed ? Fonts.Bold(14) : Fonts.Regular(13);
        using var ink = new SKPaint { Color = colour, IsAntialias = true };
        canvas.Save();
        canvas.ClipRect(area);
        if (entry.Icon is { } icon) Icons.Draw(canvas, icon, new(area.MidX, area.MidY - 10), colour);
        if (area.Width > 20) canvas.DrawText(Fonts.Fit(font, entry.Label, area.Width - 12), area.MidX, area.MidY + (entry.Icon is null ? 5 : 14), SKTextAlign.Center, font, ink);
        Role(canvas, area, entry.Role, entry.IsArmed ? theme.OnAccent : theme.Quiet);
        canvas.Restore();
    }

    /// <summary>
    /// What kind of thing a command does, by its border: plain, double for what is good, dashed for care, barred for what loses something.
    /// </summary>
    private static void Role(SKCanvas canvas, SKRect area, CommandRole role, SKColor colour)
    {
        using var line = Stroke(colour, 1);
        var inner = SKRect.Inflate(area, -3, -3);
        switch (role)
        {
            case CommandRole.Positive:
                canvas.DrawRect(inner, line);
                canvas.DrawRect(SKRect.Inflate(inner, -3, -3), line);
                break;
            case CommandRole.Warning:
                using (var dashes = SKPathEffect.CreateDash([5, 4], 0))
                {
                    line.PathEffect = dashes;
                    canvas.DrawRect(inner, line);
                }
                break;
            case CommandRole.Destructive:
                canvas.DrawRect(inner, line);
                line.StrokeWidth = 4;
                canvas.DrawLine(inner.Left, inner.Bottom - 2, inner.Right, inner.Bottom - 2, line);
                break;
            default:
                canvas.DrawRect(inner, line);
                break;
        }
    }

    private void MenuOf(SKCanvas canvas, Menu menu)
    {
        MenuPanel(canvas, menu.Entries, menu.Place, menu.At, menu.IsRightToLeft);
        if (menu.SubmenuPlace is { } place) MenuPanel(canvas, menu.Entries[menu.Open].Entries, place, menu.SubmenuAt, menu.IsRightToLeft);
    }

    private void MenuPanel(SKCanvas canvas, System.Collections.Immutable.ImmutableArray<MenuEntry> entries, MenuPlace place, int at, bool rightToLeft)
    {
        var area = SKRect.Create((float)place.Left, (float)place.Top, (float)place.Width, (float)place.Height);
        using (var shade = new SKPaint { Color = theme.Text.WithAlpha(0x30), IsAntialias = true }) canvas.DrawRoundRect(SKRect.Create(area.Left + 3, area.Top + 4, area.Width, area.Height), 8, 8, shade);
        using (var ground = new SKPaint { Color = theme.Header, IsAntialias = true }) canvas.DrawRoundRect(area, 8, 8, ground);
        canvas.Save();
        canvas.ClipRect(area);
        using var font = Fonts.Regular(15);
        using var bold = Fonts.Bold(15);
        using var small = Fonts.Regular(12);
        for (var i = 0; i < entries.Length; i++)
        {
            var entry = entries[i];
            var row = SKRect.Create(area.Left, area.Top + (i * (float)Menu.EntryHeight), area.Width, (float)Menu.EntryHeight);
            var colour = entry.IsEnabled ? theme.Text : theme.Quiet;
            if (entry.BeginsGroup) Fill(canvas, SKRect.Create(row.Left + 8, row.Top, row.Width - 16, 1.5f), theme.Divider);
            if (i == at)
            {
                using var ring = Stroke(theme.Accent, 2);
                canvas.DrawRoundRect(SKRect.Inflate(row, -4, -4), 5, 5, ring);
            }
            float iconX = rightToLeft ? row.Right - 24 : row.Left + 24, endX = rightToLeft ? row.Left + 20 : row.Right - 20;
            if (entry.IsChecked == true) Icons.Draw(canvas, "tick", new(iconX, row.MidY), theme.Accent);
            else if (entry.Icon is { } icon) Icons.Draw(canvas, icon, new(iconX, row.MidY), colour);
            var label = entry.Role == CommandRole.Destructive ? bold : font;
            Text(canvas, label, entry.Label, colour, row.Left + 44, row.Width - 88, row.MidY + 5, rightToLeft);
            if (!entry.IsEnabled)
            {
                using var through = Stroke(theme.Quiet, 1);
                var width = Math.Min(font.MeasureText(entry.Label), row.Width - 88);
                canvas.DrawLine(rightToLeft ? row.Right - 44 - width : row.Left + 44, row.MidY, rightToLeft ? row.Right - 44 : row.Left + 44 + width, row.MidY, through);
            }
            if (!entry.Entries.IsEmpty)
            {
                using var arrow = Stroke(colour, 1.8f);
                var way = rightToLeft ? -4 : 4;
                canvas.DrawLine(endX - way, row.MidY - 5, endX, row.MidY, arrow);
                canvas.DrawLine(endX, row.MidY, endX - way, row.MidY + 5, arrow);
            }
            else if (entry.Keys is { } keys) Text(canvas, small, keys, theme.Quiet, row.Left + 44, row.Width - 54, row.MidY + 4, !rightToLeft);
        }
        canvas.Restore();
        using var edge = Stroke(theme.Quiet, 1.2f);
        canvas.DrawRoundRect(area, 8, 8, edge);
    }

    private void Brief(SKCanvas canvas, Frame frame, BriefNotice notice)
    {
        var area = SKRect.Create(12, (float)frame.Viewport.Height - 56, (float)frame.Viewport.Width - 24, 44);
        using (var ground = new SKPaint { Color = theme.Text, IsAntialias = true }) canvas.DrawRoundRect(area, 8, 8, ground);
        using var font = Fonts.Regular(15);
        var room = area.Width - 32 - (notice.OffersUndo ? 72 : 0);
        Text(canvas, font, notice.Text, theme.Background, area.Left + (frame.IsRightToLeft && notice.OffersUndo ? 88 : 16), room, area.MidY + 5, frame.IsRightToLeft);
        if (!notice.OffersUndo) return;
        using var bold = Fonts.Bold(15);
        using var line = Stroke(theme.Background, 1.2f);
        var button = SKRect.Create(frame.IsRightToLeft ? area.Left + 8 : area.Right - 80, area.Top + 6, 72, 32);
        canvas.DrawRoundRect(button, 6, 6, line);
        using var ink = new SKPaint { Color = theme.Background, IsAntialias = true };
        canvas.DrawText("Undo", button.MidX, button.MidY + 5, SKTextAlign.Center, bold, ink);
    }

    /// <summary>Draws a toolbar into a picture: what fits, then the button of the overflow menu where there is one.</summary>
    public SKData ToPng(Toolbar toolbar, double width, float scale = 2)
    {
        ArgumentNullException.ThrowIfNull(toolbar);
        return Png.Draw((float)width, 56, scale, canvas =>
        {
            canvas.Clear(theme.Header);
            using var line = Stroke(theme.Divider, 2);
            canvas.DrawLine(0, 55, (float)width, 55, line);
            using var font = Fonts.Regular(15);
            var left = 0f;
            foreach (var entry in toolbar.Shown)
            {
                var area = SKRect.Create(left, 6, (float)entry.Width, 44);
                var colour = entry.IsEnabled ? theme.Text : theme.Quiet;
                if (entry.Icon is { } icon) Icons.Draw(canvas, icon, new(area.MidX, area.MidY), colour);
                else Text(canvas, font, entry.Label, colour, area.Left + 8, area.Width - 16, area.MidY + 5, false);
                using var ring = Stroke(entry.IsEnabled ? theme.Quiet : theme.Divider, 1);
                if (entry.IsEnabled) canvas.DrawRoundRect(SKRect.Inflate(area, -3, -3), 6, 6, ring);
                left += (float)entry.Width;
            }
            if (!toolbar.Overflow.IsEmpty) Icons.Draw(canvas, "more", new((float)width - 22, 28), theme.Text);
        });
    }

    /// <summary>The place of a row that floats elsewhere.</summary>
    private void Away(SKCanvas canvas, SKRect area)
    {
        using var dashes = SKPathEffect.CreateDash([5, 5], 0);
        using var stroke = Stroke(theme.Quiet, 1.2f);
        stroke.PathEffect = dashes;
        canvas.DrawRoundRect(SKRect.Inflate(area, -5, -5), 5, 5, stroke);
    }

    private void Grabbed(SKCanvas canvas, Frame frame, GrabFrame grab)
    {
        var width = (float)frame.Viewport.Width;
        if (grab.GapY is { } gap)
        {
            var y = (float)gap;
            using var line = Stroke(grab.IsMove ? theme.Accent : theme.Quiet, 3);
            canvas.DrawLine(12, y, width, y, line);
            canvas.DrawCircle(7, y, 4.5f, line);
        }
        var area = SKRect.Create(14, (float)grab.Top, width - 28, (float)grab.Height - 4);
        // Behind it, that there are more.
        using var edge = Stroke(theme.Quiet, 1.5f);
        using var ground = new SKPaint { Color = theme.Header, IsAntialias = true };
        for (var under = Math.Min(2, grab.Count - 1); under >= 0; under--)
        {
            var card = area;
            card.Offset(under * 4, under * 4);
            canvas.DrawRoundRect(card, 8, 8, ground);
            canvas.DrawRoundRect(card, 8, 8, edge);
        }
        using var label = Fonts.Bold(16);
        Text(canvas, label, grab.Content.Label, theme.Text, area.Left + Margin, area.Width - 80, area.MidY + 5.5f, false);
        if (grab.Refusal is not null)
        {
            // That it cannot be dropped is said by a sign, not by colour alone.
            using var sign = Stroke(theme.Text, 2.5f);
            canvas.DrawCircle(area.Right - 24, area.MidY, 10, sign);
            canvas.DrawLine(area.Right - 31, area.MidY + 7, area.Right - 17, area.MidY - 7, sign);
            area.Right -= 40;
        }
        if (grab.Count < 2) return;
        using var badge = new SKPaint { Color = theme.Accent, IsAntialias = true };
        var number = grab.Count.ToString(System.Globalization.CultureInfo.InvariantCulture);
        using var font = Fonts.Bold(14);
        var wide = Math.Max(26, font.MeasureText(number) + 16);
        canvas.DrawRoundRect(SKRect.Create(area.Right - wide - 10, area.MidY - 13, wide, 26), 13, 13, badge);
        using var ink = new SKPaint { Color = theme.OnAccent, IsAntialias = true };
        canvas.DrawText(number, area.Right - 10 - (wide / 2), area.MidY + 5, SKTextAlign.Center, font, ink);
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
            Fill(canvas, frame.IsRightToLeft ? new(area.Right - bar, area.Top, area.Right, area.Bottom - 1) : new(area.Left, area.Top, area.Left + bar, area.Bottom - 1), theme.Accent);
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
        if (row.Flash is { } flash)
        {
            using var font = Fonts.Bold(14);
            var width = Math.Min(font.MeasureText(flash) + 24, area.Width - 24);
            var bubble = SKRect.Create(frame.IsRightToLeft ? area.Left + 12 : area.Right - width - 12, area.MidY - 15, width, 30);
            using var ground = new SKPaint { Color = theme.Text, IsAntialias = true };
            canvas.DrawRoundRect(bubble, 15, 15, ground);
            Text(canvas, font, flash, theme.Background, bubble.Left + 12, width - 24, bubble.MidY + 5, frame.IsRightToLeft);
        }
        Cursor(canvas, row, area);
    }

    private void Body(SKCanvas canvas, Frame frame, RowFrame row, SKRect area)
    {
        var leading = row.Parts.IsEmpty || row.BodyLeft == 0 ? Margin : 8;
        float left = (float)row.BodyLeft + leading, right = (float)(row.BodyLeft + row.BodyWidth) - Margin;
        if (frame.IsRightToLeft) (left, right) = ((float)row.BodyLeft + Margin, (float)(row.BodyLeft + row.BodyWidth) - leading);
        if (row.IsDisabled)
        {
            var at = new SKPoint(frame.IsRightToLeft ? left + 9 : right - 9, area.MidY);
            using var stroke = Stroke(theme.Quiet, 1.6f);
            canvas.DrawCircle(at, 8, stroke);
            canvas.DrawLine(at.X - 5.6f, at.Y + 5.6f, at.X + 5.6f, at.Y - 5.6f, stroke);
            if (frame.IsRightToLeft) left += 28;
            else right -= 28;
        }
        if (row.Content.Picture is { } name)
        {
            var picture = SKRect.Create(frame.IsRightToLeft ? right - PictureSize : left, area.MidY - (PictureSize / 2), PictureSize, PictureSize);
            Picture(canvas, name, row.Content.Label, picture);
            if (frame.IsRightToLeft) right -= PictureSize + 12;
            else left += PictureSize + 12;
        }
        var room = right - left;
        if (room <= 0) return;
        using var label = row.IsSelected ? Fonts.Bold(16) : Fonts.Regular(16);
        using var detail = Fonts.Regular(13);
        var ink = row.IsDisabled ? theme.Quiet : theme.Text;
        if (row.Content.Detail is { Length: > 0 } text)
        {
            Text(canvas, label, row.Content.Label, ink, left, room, area.MidY - 3, frame.IsRightToLeft);
            Text(canvas, detail, text, theme.Quiet, left, room, area.MidY + 16, frame.IsRightToLeft);
        }
        else Text(canvas, label, row.Content.Label, ink, left, room, area.MidY + 5.5f, frame.IsRightToLeft);
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
        var centre = new SKPoint((float)(part.Left + (part.Width / 2)), area.MidY);
        switch (part.Part.Kind)
        {
            case PartKind.Check:
                Box(canvas, centre, part.IsOn ? TriState.On : TriState.Off);
                break;
            case PartKind.Mark:
                MarkOf(canvas, part, centre);
                break;
            case PartKind.Menu:
                using (var dot = new SKPaint { Color = theme.Quiet, IsAntialias = true })
                    for (var i = -1; i <= 1; i++) canvas.DrawCircle(centre.X + (i * 6), centre.Y, 1.9f, dot);
                break;
            case PartKind.Handle:
                using (var line = Stroke(theme.Quiet, 1.8f))
                    for (var i = -1; i <= 1; i += 2) canvas.DrawLine(centre.X - 8, centre.Y + (i * 3), centre.X + 8, centre.Y + (i * 3), line);
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
            case MarkLook.Tick:
                using (var ring = Stroke(colour, 1.6f)) canvas.DrawRoundRect(SKRect.Create(centre.X - 10, centre.Y - 10, 20, 20), 10, 10, ring);
                if (part.IsOn)
                {
                    using var tick = Stroke(colour, 2.2f);
                    tick.StrokeCap = SKStrokeCap.Round;
                    canvas.DrawLine(centre.X - 4.5f, centre.Y, centre.X - 1.2f, centre.Y + 3.6f, tick);
                    canvas.DrawLine(centre.X - 1.2f, centre.Y + 3.6f, centre.X + 4.8f, centre.Y - 3.8f, tick);
                }
                break;
            default:
                using (var stroke = Stroke(colour, 1.8f)) canvas.DrawCircle(centre, 9, stroke);
                using (var dot = new SKPaint { Color = theme.Accent, IsAntialias = true })
                    if (part.IsOn) canvas.DrawCircle(centre, 4.5f, dot);
                break;
        }
    }

    private void Box(SKCanvas canvas, SKPoint centre, TriState state)
    {
        var box = SKRect.Create(centre.X - (BoxSize / 2), centre.Y - (BoxSize / 2), BoxSize, BoxSize);
        if (state == TriState.Off)
        {
            using var outline = Stroke(theme.Quiet, 1.8f);
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
        var (left, room) = frame.IsRightToLeft ? (end, area.Width - start - end - 8) : (start + (heading.HasBox ? 8 : Margin), area.Width - start - end - 8);
        Text(canvas, bold, row.Content.Label, theme.Text, left, room, area.MidY + 5, frame.IsRightToLeft);
        var count = heading.Count.ToString(System.Globalization.CultureInfo.InvariantCulture);
        var after = bold.MeasureText(row.Content.Label) + 10;
        Text(canvas, small, count, theme.Quiet, frame.IsRightToLeft ? left : left + after, room - after, area.MidY + 5, frame.IsRightToLeft);
        // Down where it is open, toward the reading direction where it is collapsed.
        using var arrow = Stroke(theme.Quiet, 2);
        var at = new SKPoint(frame.IsRightToLeft ? 22 : area.Right - 22, area.MidY);
        if (heading.IsCollapsed)
        {
            var way = frame.IsRightToLeft ? 3 : -3;
            canvas.DrawLine(at.X + way, at.Y - 5, at.X - way, at.Y, arrow);
            canvas.DrawLine(at.X - way, at.Y, at.X + way, at.Y + 5, arrow);
        }
        else
        {
            canvas.DrawLine(at.X - 5, at.Y - 3, at.X, at.Y + 3, arrow);
            canvas.DrawLine(at.X, at.Y + 3, at.X + 5, at.Y - 3, arrow);
        }
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
        using var stroke = Stroke(theme.Quiet, 2);
        var sign = new SKPoint(middle.X, middle.Y - 26);
        switch (row.Notice)
        {
            case NoticeKind.Failed:
                canvas.DrawLine(sign.X - 16, sign.Y + 13, sign.X, sign.Y - 15, stroke);
                canvas.DrawLine(sign.X, sign.Y - 15, sign.X + 16, sign.Y + 13, stroke);
                canvas.DrawLine(sign.X - 16, sign.Y + 13, sign.X + 16, sign.Y + 13, stroke);
                canvas.DrawLine(sign.X, sign.Y - 5, sign.X, sign.Y + 4, stroke);
                canvas.DrawPoint(sign.X, sign.Y + 9, stroke);
                break;
            case NoticeKind.Loading:
                canvas.DrawArc(SKRect.Create(sign.X - 13, sign.Y - 13, 26, 26), -60, 270, false, stroke);
                break;
            case NoticeKind.NothingMatches:
                canvas.DrawCircle(sign.X - 3, sign.Y - 3, 10, stroke);
                canvas.DrawLine(sign.X + 4.5f, sign.Y + 4.5f, sign.X + 13, sign.Y + 13, stroke);
                break;
            default:
                using (var dashes = SKPathEffect.CreateDash([6, 5], 0))
                {
                    stroke.PathEffect = dashes;
                    canvas.DrawRoundRect(SKRect.Create(sign.X - 18, sign.Y - 12, 36, 24), 5, 5, stroke);
                }
                break;
        }
        using var font = Fonts.Regular(15);
        using var ink = new SKPaint { Color = theme.Quiet, IsAntialias = true };
        canvas.DrawText(Fonts.Fit(font, row.Content.Label, (float)frame.Viewport.Width - (2 * Margin)), middle.X, middle.Y + 18, SKTextAlign.Center, font, ink);
        if (!row.IsCursor) return;
        using var ring = Stroke(theme.Accent, 2);
        canvas.DrawRoundRect(SKRect.Create(middle.X - 150, middle.Y - 52, 300, 88), 6, 6, ring);
    }

    private void Scroll(SKCanvas canvas, Frame frame, ScrollThumb thumb)
    {
        var left = frame.IsRightToLeft ? 3 : (float)frame.Viewport.Width - 8;
        using var ink = new SKPaint { Color = theme.Quiet.WithAlpha(0x99), IsAntialias = true };
        canvas.DrawRoundRect(SKRect.Create(left, (float)thumb.Top + 2, 5, (float)thumb.Length - 4), 2.5f, 2.5f, ink);
    }

    private static void Text(SKCanvas canvas, SKFont font, string text, SKColor colour, float left, float width, float baseline, bool rightToLeft)
    {
        using var ink = new SKPaint { Color = colour, IsAntialias = true };
        canvas.DrawText(Fonts.Fit(font, text, width), rightToLeft ? left + width : left, baseline, rightToLeft ? SKTextAlign.Right : SKTextAlign.Left, font, ink);
    }

    private static void Fill(SKCanvas canvas, SKRect area, SKColor colour)
    {
        using var paint = new SKPaint { Color = colour };
        canvas.DrawRect(area, paint);
    }

    private static SKPaint Stroke(SKColor colour, float width) => new() { Color = colour, IsAntialias = true, Style = SKPaintStyle.Stroke, StrokeWidth = width };
}
