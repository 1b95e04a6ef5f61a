using Lectica.Looks;
using SkiaSharp;

namespace Lectica.Skia;

/// <summary>Our icons, for commands, marks, parts and notices; a name that is not known is drawn as its first letter in a box.</summary>
internal static class Icons
{
    /// <summary>Draws an icon around a point.</summary>
    /// <param name="canvas">Where to.</param>
    /// <param name="name">Its name.</param>
    /// <param name="at">Its middle.</param>
    /// <param name="colour">The colour of its lines.</param>
    /// <param name="filled">Whether it is filled, as a mark that is on is.</param>
    /// <param name="size">The side of its square, px.</param>
    public static void Draw(SKCanvas canvas, string name, SKPoint at, SKColor colour, bool filled = false, float size = 22)
    {
        using var paint = new SKPaint
        {
            Color = colour,
            IsAntialias = true,
            Style = filled ? SKPaintStyle.StrokeAndFill : SKPaintStyle.Stroke,
            StrokeWidth = IconPaths.Weight,
            StrokeCap = SKStrokeCap.Round,
            StrokeJoin = SKStrokeJoin.Round,
        };
        canvas.Save();
        canvas.Translate(at.X - (size / 2), at.Y - (size / 2));
        canvas.Scale(size / 24);
        using var path = IconPaths.PathOf(name) is { } data ? SKPath.ParseSvgPathData(data) : null;
        if (path is not null) canvas.DrawPath(path, paint);
        else
        {
            canvas.DrawRoundRect(SKRect.Create(3, 3, 18, 18), 4, 4, paint);
            using var font = Fonts.Bold(12);
            // On its own colour the letter is light or dark, whichever is seen.
            colour.ToHsl(out _, out _, out var lightness);
            var letter = !filled ? colour : lightness > 50 ? SKColors.Black : SKColors.White;
            using var ink = new SKPaint { Color = letter, IsAntialias = true };
            canvas.DrawText(name.Length == 0 ? "?" : name[..1].ToUpperInvariant(), 12, 16.4f, SKTextAlign.Center, font, ink);
        }
        canvas.Restore();
    }
}
