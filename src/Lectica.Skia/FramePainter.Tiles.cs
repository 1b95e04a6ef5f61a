using Lectica.Frames;
using Lectica.Layout;
using SkiaSharp;

namespace Lectica.Skia;

// Tiles: a picture, the words under it, and the parts over the picture's corners.
public sealed partial class FramePainter
{
    private const float TileCorner = 10, TileWords = 52, PlainWords = 34;

    private void Tile(SKCanvas canvas, Frame frame, RowFrame row, SKRect area)
    {
        using (var ground = new SKPaint { Color = row.IsSelected ? theme.Selected : theme.Header, IsAntialias = true })
            canvas.DrawRoundRect(area, TileCorner, TileCorner, ground);
        canvas.Save();
        using (var shape = new SKRoundRect(area, TileCorner, TileCorner)) canvas.ClipRoundRect(shape, antialias: true);
        TileInside(canvas, frame, row, area);
        if (row.IsPressed) Fill(canvas, area, theme.Text.WithAlpha(0x22));
        if (row.Busy is { } busy)
            ProgressLine(canvas, busy.Progress, SKRect.Create(area.Left, area.Bottom - 4, area.Width, 4), frame.IsRightToLeft);
        canvas.Restore();
        // Selected by a rim, not by colour alone: one that is thick.
        var (colour, thick) = row.IsSelected ? (theme.Accent, 3f)
            : row.IsCurrent ? (theme.Quiet, 2f) : (theme.Divider, 1f);
        using (var rim = Stroke(colour, thick))
            canvas.DrawRoundRect(SKRect.Inflate(area, -thick / 2, -thick / 2), TileCorner, TileCorner, rim);
        if (row.Flash is { } flash)
            Flash(canvas, flash, SKRect.Create(area.Left, area.Bottom - TileWords - 36, area.Width, 30), frame.IsRightToLeft);
        if (!row.IsCursor || !frame.ShowsRing) return;
        using var ring = Stroke(theme.Accent, 2);
        canvas.DrawRoundRect(SKRect.Inflate(area, 3, 3), TileCorner + 3, TileCorner + 3, ring);
    }

    private void TileInside(SKCanvas canvas, Frame frame, RowFrame row, SKRect area)
    {
        var isRead = row.Reading == RowReading.Done;
        var words = row.Content.Detail is { Length: > 0 } || !isRead ? TileWords : PlainWords;
        var picture = SKRect.Create(area.Left, area.Top, area.Width, Math.Max(0, area.Height - words));
        if (isRead) TilePicture(canvas, row, picture);
        else Fill(canvas, picture, theme.Divider);
        foreach (var part in row.Parts)
        {
            if (!isRead && part.Part.Kind != PartKind.Check) continue;
            // Whatever the picture is, the sign stands on a ground of its own.
            using var ground = new SKPaint { Color = theme.Background, IsAntialias = true };
            canvas.DrawCircle(area.Left + (float)(part.Left + (part.Width / 2)), area.Top + ((float)row.PartHeight / 2), 16, ground);
            PartOf(canvas, frame, row, part, area);
        }
        float left = area.Left + 12, right = area.Right - 12, top = picture.Bottom;
        if (row.Reading == RowReading.Pending)
        {
            Words(canvas, row, left, right, top + (words / 2), frame.IsRightToLeft);
            return;
        }
        using var label = row.IsSelected ? Fonts.Bold(15) : Fonts.Regular(15);
        using var small = Fonts.Regular(12.5f);
        var (ink, quiet) = row.IsDisabled ? (theme.Disabled, theme.Disabled) : (theme.Text, theme.Quiet);
        if (row.Reading == RowReading.Failed)
        {
            Icons.Draw(canvas, "alert", new(picture.MidX, picture.MidY), theme.Destructive, size: 32);
            using var bold = Fonts.Bold(13);
            Text(canvas, small, row.Content.Label, theme.Quiet, left, right - left, top + 21, frame.IsRightToLeft);
            Text(canvas, bold, row.Content.Detail ?? "", theme.Accent, left, right - left, top + 40, frame.IsRightToLeft);
            return;
        }
        Text(canvas, label, row.Content.Label, ink, left, right - left, top + 22, frame.IsRightToLeft);
        if (row.Content.Detail is { Length: > 0 } detail)
            Text(canvas, small, detail, quiet, left, right - left, top + 40, frame.IsRightToLeft);
    }

    /// <summary>The picture, as large as fills its place, cut off at both sides alike; without one the label's first letter.</summary>
    private void TilePicture(SKCanvas canvas, RowFrame row, SKRect area)
    {
        if (row.Content.Picture is { } name && pictureOf?.Invoke(name) is { } image)
        {
            var scale = Math.Max(area.Width / image.Width, area.Height / image.Height);
            var part = SKRect.Create((image.Width - (area.Width / scale)) / 2, (image.Height - (area.Height / scale)) / 2,
                area.Width / scale, area.Height / scale);
            using var paint = new SKPaint { IsAntialias = true };
            if (row.IsDisabled) paint.Color = SKColors.White.WithAlpha(0x70);
            canvas.DrawImage(image, part, area, new SKSamplingOptions(SKCubicResampler.Mitchell), paint);
            return;
        }
        Fill(canvas, area, theme.Divider);
        using var font = Fonts.Bold(36);
        var letter = row.Content.Label.Length == 0 ? "?"
            : new System.Globalization.StringInfo(row.Content.Label).SubstringByTextElements(0, 1);
        using var ink = new SKPaint { Color = row.IsDisabled ? theme.Disabled : theme.Text, IsAntialias = true };
        canvas.DrawText(letter, area.MidX, area.MidY + 13, SKTextAlign.Center, font, ink);
    }
}
