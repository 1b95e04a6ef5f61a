using Lectica.Frames;
using SkiaSharp;

namespace Lectica.Skia;

public sealed partial class FramePainter
{
    private const float FieldMargin = 10;

    /// <summary>The headers of columns: what they say, and by which the list is sorted, which way.</summary>
    private void Columns(SKCanvas canvas, Frame frame, SKRect area)
    {
        Fill(canvas, area, theme.Header);
        Fill(canvas, new(area.Left, area.Bottom - 1.5f, area.Right, area.Bottom), theme.Divider);
        using var plain = Fonts.Regular(13);
        using var bold = Fonts.Bold(13);
        foreach (var header in frame.Headers)
        {
            var cell = SKRect.Create((float)header.Left, area.Top, (float)header.Width, area.Height);
            var isSorted = header.IsDescending is not null;
            var font = isSorted ? bold : plain;
            var toRight = header.AlignsEnd != frame.IsRightToLeft;
            // The sign stands after the words, on their inner side.
            var sign = isSorted ? 20 : 0;
            var (left, room) = (cell.Left + FieldMargin, cell.Width - (2 * FieldMargin) - sign);
            var words = Math.Min(room, font.MeasureText(header.Label));
            Text(canvas, font, header.Label, isSorted ? theme.Text : theme.Quiet, toRight ? left + sign : left, room, area.MidY + 4.5f,
                toRight);
            if (header.IsDescending is { } down)
                Icons.Draw(canvas, down ? "down" : "up",
                    new(toRight ? cell.Right - FieldMargin - words - 10 : left + words + 10, area.MidY), theme.Text, size: 14);
            if (header.IsSorting)
                ProgressLine(canvas, null, SKRect.Create(cell.Left, area.Bottom - 4, cell.Width, 4), frame.IsRightToLeft);
            if (!header.IsCursor || !frame.ShowsRing) continue;
            using var ring = Stroke(theme.Accent, 2);
            canvas.DrawRoundRect(SKRect.Inflate(cell, -2, -3), 6, 6, ring);
        }
    }

    /// <summary>The fields of a row, each under its header; the first one begins where the row's body does.</summary>
    private void Fields(SKCanvas canvas, Frame frame, RowFrame row, SKRect area)
    {
        using var label = row.IsSelected ? Fonts.Bold(15) : Fonts.Regular(15);
        using var field = Fonts.Regular(14);
        for (var i = 0; i < frame.Headers.Length; i++)
        {
            var header = frame.Headers[i];
            float left = (float)Math.Max(header.Left, row.BodyLeft),
                right = (float)Math.Min(header.Left + header.Width, row.BodyLeft + row.BodyWidth);
            var ink = row.IsDisabled ? theme.Disabled : i == 0 ? theme.Text : theme.Quiet;
            Text(canvas, i == 0 ? label : field, row.Cells[i], ink, area.Left + left + FieldMargin, right - left - (2 * FieldMargin),
                area.MidY + 5, header.AlignsEnd != frame.IsRightToLeft);
        }
    }
}
