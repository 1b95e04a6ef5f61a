using System.Globalization;
using Lectica.Frames;
using SkiaSharp;

namespace Lectica.Skia;

/// <summary>One picture of a film strip.</summary>
/// <param name="Frame">What the list showed.</param>
/// <param name="Caption">What had just happened.</param>
/// <param name="PointerX">Where the pointer was, px in the viewport; null for none.</param>
/// <param name="PointerY">Where the pointer was, px in the viewport.</param>
public sealed record FilmFrame(Frame Frame, string Caption, double? PointerX = null, double? PointerY = null);

/// <summary>Draws numbered, captioned frames side by side, in rows.</summary>
public sealed class FilmStrip(Theme theme, Func<string, SKImage?>? pictureOf = null)
{
    private const float Gap = 20, CaptionHeight = 54;

    /// <summary>Draws a strip into a PNG.</summary>
    /// <param name="frames">The frames, at least one.</param>
    /// <param name="columns">How many stand side by side, at least one.</param>
    /// <param name="scale">Image pixels for each px; more than 0.</param>
    public SKData ToPng(IReadOnlyList<FilmFrame> frames, int columns = 4, float scale = 1)
    {
        ArgumentNullException.ThrowIfNull(frames);
        ArgumentOutOfRangeException.ThrowIfZero(frames.Count);
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(columns);
        columns = Math.Min(columns, frames.Count);
        float cellWidth = frames.Max(f => FramePainter.SizeOf(f.Frame).Width),
            cellHeight = frames.Max(f => FramePainter.SizeOf(f.Frame).Height) + CaptionHeight;
        var rows = (frames.Count + columns - 1) / columns;
        return Png.Draw((columns * (cellWidth + Gap)) + Gap, (rows * (cellHeight + Gap)) + Gap, scale, canvas =>
        {
            canvas.Clear(theme.Header);
            for (var i = 0; i < frames.Count; i++)
            {
                canvas.Save();
                canvas.Translate(Gap + (i % columns * (cellWidth + Gap)), Gap + (i / columns * (cellHeight + Gap)));
                Cell(canvas, frames[i], i + 1, cellWidth);
                canvas.Restore();
            }
        });
    }

    private void Cell(SKCanvas canvas, FilmFrame film, int number, float width)
    {
        using var disc = new SKPaint { Color = theme.Accent, IsAntialias = true };
        canvas.DrawCircle(15, 22, 15, disc);
        using var bold = Fonts.Bold(15);
        using var onAccent = new SKPaint { Color = theme.OnAccent, IsAntialias = true };
        canvas.DrawText(number.ToString(CultureInfo.InvariantCulture), 15, 27.5f, SKTextAlign.Center, bold, onAccent);
        using var font = Fonts.Regular(15);
        using var ink = new SKPaint { Color = theme.Text, IsAntialias = true };
        var y = 19f;
        foreach (var line in Wrap(font, film.Caption, width - 42).Take(2))
        {
            canvas.DrawText(line, 40, y, SKTextAlign.Left, font, ink);
            y += 20;
        }

        canvas.Translate(0, CaptionHeight);
        new FramePainter(theme, pictureOf).Paint(canvas, film.Frame);
        var size = FramePainter.SizeOf(film.Frame);
        using var border = new SKPaint { Color = theme.Divider, IsAntialias = true, Style = SKPaintStyle.Stroke, StrokeWidth = 1 };
        canvas.DrawRect(0, 0, size.Width, size.Height, border);
        if (film.PointerX is not { } x || film.PointerY is not { } at) return;
        using var touch = new SKPaint { Color = theme.Pointer, IsAntialias = true };
        var centre = new SKPoint((float)x, (float)at + FramePainter.HeaderHeight(film.Frame));
        canvas.DrawCircle(centre, 22, touch);
        using var rim = new SKPaint { Color = theme.Accent, IsAntialias = true, Style = SKPaintStyle.Stroke, StrokeWidth = 2 };
        canvas.DrawCircle(centre, 22, rim);
    }

    internal static IEnumerable<string> Wrap(SKFont font, string text, float width)
    {
        var line = "";
        foreach (var word in text.Split(' '))
        {
            var longer = line.Length == 0 ? word : $"{line} {word}";
            if (line.Length > 0 && font.MeasureText(longer) > width)
            {
                yield return line;
                line = word;
            }
            else line = longer;
        }
        yield return Fonts.Fit(font, line, width);
    }
}
