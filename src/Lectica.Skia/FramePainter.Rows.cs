using Lectica.Frames;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Looks;
using Lectica.Marking;
using Lectica.Selecting;
using SkiaSharp;

namespace Lectica.Skia;

// Rows of items, headings and notices, and what is on them.
public sealed partial class FramePainter
{
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
        foreach (var part in row.Parts) PartOf(canvas, frame, row, part, area);
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
        Cursor(canvas, frame, row, area);
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

    private void PartOf(SKCanvas canvas, Frame frame, RowFrame row, PartFrame part, SKRect area)
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
        if (!part.IsCursor || !frame.ShowsRing) return;
        using var ring = Stroke(theme.Accent, 2);
        canvas.DrawRoundRect(SKRect.Create(centre.X - 17, centre.Y - 17, 34, 34), 6, 6, ring);
    }

    private void MarkOf(SKCanvas canvas, PartFrame part, SKPoint centre)
    {
        var colour = part.IsOn ? theme.Accent : theme.Quiet;
        if (part.Icon is { } icon)
        {
            Icons.Draw(canvas, icon, centre, colour, part.IsOn);
            return;
        }
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
        Cursor(canvas, frame, row, area);
    }

    private void SectionNotice(SKCanvas canvas, Frame frame, RowFrame row, SKRect area)
    {
        using var font = Fonts.Regular(14);
        Text(canvas, font, row.Content.Label, theme.Quiet, Margin, area.Width - (2 * Margin), area.MidY + 5, frame.IsRightToLeft);
        Fill(canvas, new(area.Left, area.Bottom - 1, area.Right, area.Bottom), theme.Divider);
        Cursor(canvas, frame, row, area);
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
        Cursor(canvas, frame, row, area);
    }

    // The ring is for who uses keys; who does not is told quietly where tools would go on from.
    private void Cursor(SKCanvas canvas, Frame frame, RowFrame row, SKRect area)
    {
        if (row.IsCursor && frame.ShowsRing)
        {
            using var ring = Stroke(theme.Accent, 2);
            canvas.DrawRoundRect(SKRect.Inflate(area, -1.5f, -1.5f), 4, 4, ring);
        }
        else if (row.IsCurrent)
        {
            const float bar = 3;
            Fill(canvas, SKRect.Create(frame.IsRightToLeft ? area.Right - bar : area.Left, area.Top, bar, area.Height - 1), theme.Quiet);
        }
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
        if (!row.IsCursor || !frame.ShowsRing) return;
        using var ring = Stroke(theme.Accent, 2);
        canvas.DrawRoundRect(SKRect.Create(middle.X - 150, middle.Y - 52, 300, 88), 6, 6, ring);
    }
}
