using Lectica.Frames;
using SkiaSharp;

namespace Lectica.Skia;

// A strip: tiles side by side, with some room around each, whose trays lie above and below.
public sealed partial class FramePainter
{
    private const float StripRoom = 4;

    private void StripItem(SKCanvas canvas, Frame frame, RowFrame row, SKRect area, float shift)
    {
        var inside = SKRect.Inflate(area, -StripRoom, -StripRoom);
        if (shift == 0)
        {
            Tile(canvas, frame, row, inside);
            return;
        }
        canvas.Save();
        canvas.ClipRect(area);
        foreach (var entry in row.Tray)
            TrayCommandIn(canvas, entry, SKRect.Create(inside.Left, area.Top + (float)entry.Left, inside.Width, (float)entry.Width));
        canvas.Translate(0, shift);
        Tile(canvas, frame, row, inside);
        canvas.Restore();
    }

    private void StripHeading(SKCanvas canvas, Frame frame, RowFrame row, HeadingFrame heading, SKRect area)
    {
        Fill(canvas, area, theme.Header);
        Fill(canvas, new(area.Right - 1, area.Top, area.Right, area.Bottom), theme.Divider);
        if (heading.HasBox) Box(canvas, new(area.Left + 22, area.Top + 22), heading.State);
        using var bold = Fonts.Bold(14);
        using var small = Fonts.Regular(13);
        Text(canvas, bold, row.Content.Label, theme.Text, area.Left + 10, area.Width - 20, area.MidY + 2, false);
        Text(canvas, small, heading.Count.ToString(System.Globalization.CultureInfo.InvariantCulture), theme.Quiet, area.Left + 10,
            area.Width - 44, area.MidY + 20, false);
        Icons.Draw(canvas, heading.IsCollapsed ? "forward" : "down", new(area.Right - 20, area.MidY + 15), theme.Quiet, size: 18);
        Cursor(canvas, frame, row, area);
    }
}
