using SkiaSharp;

namespace Lectica.Skia;

/// <summary>Small line drawings by name, for commands and marks; a name that is not known is drawn as its first letter in a box.</summary>
internal static class Icons
{
    // In a square of 20 by 20 around the origin.
    private static readonly Dictionary<string, Action<SKCanvas, SKPaint>> Drawings = new()
    {
        ["star"] = (c, p) => c.DrawPath(Star(9), p),
        ["bin"] = (c, p) =>
        {
            c.DrawLine(-8, -6, 8, -6, p);
            c.DrawLine(-3, -9, 3, -9, p);
            c.DrawRoundRect(SKRect.Create(-6, -6, 12, 15), 2, 2, p);
        },
        ["clock"] = (c, p) =>
        {
            c.DrawCircle(0, 0, 8.5f, p);
            c.DrawLine(0, 0, 0, -5.5f, p);
            c.DrawLine(0, 0, 4, 2, p);
        },
        ["tick"] = (c, p) =>
        {
            c.DrawLine(-8, 0, -2.5f, 6, p);
            c.DrawLine(-2.5f, 6, 8, -6, p);
        },
        ["flag"] = (c, p) =>
        {
            c.DrawLine(-6, -9, -6, 9, p);
            c.DrawRect(SKRect.Create(-6, -8, 12, 8), p);
        },
        ["copy"] = (c, p) =>
        {
            c.DrawRoundRect(SKRect.Create(-8, -8, 11, 11), 2, 2, p);
            c.DrawRoundRect(SKRect.Create(-3, -3, 11, 11), 2, 2, p);
        },
        ["top"] = (c, p) =>
        {
            c.DrawLine(-8, -8, 8, -8, p);
            c.DrawLine(0, -4, 0, 9, p);
            c.DrawLine(0, -4, -5, 1, p);
            c.DrawLine(0, -4, 5, 1, p);
        },
        ["plus"] = (c, p) =>
        {
            c.DrawLine(-8, 0, 8, 0, p);
            c.DrawLine(0, -8, 0, 8, p);
        },
        ["details"] = (c, p) =>
        {
            c.DrawCircle(0, 0, 8.5f, p);
            c.DrawLine(0, -1, 0, 4.5f, p);
            c.DrawPoint(0, -4.5f, p);
        },
        ["more"] = (c, p) =>
        {
            for (var i = -1; i <= 1; i++) c.DrawCircle(i * 6, 0, 0.9f, p);
        },
    };

    public static void Draw(SKCanvas canvas, string name, SKPoint at, SKColor colour, bool filled = false)
    {
        using var paint = new SKPaint { Color = colour, IsAntialias = true, Style = filled ? SKPaintStyle.StrokeAndFill : SKPaintStyle.Stroke, StrokeWidth = 1.8f, StrokeCap = SKStrokeCap.Round, StrokeJoin = SKStrokeJoin.Round };
        canvas.Save();
        canvas.Translate(at.X, at.Y);
        if (Drawings.TryGetValue(name, out var drawing)) drawing(canvas, paint);
        else
        {
            canvas.DrawRoundRect(SKRect.Create(-9, -9, 18, 18), 4, 4, paint);
            using var font = Fonts.Bold(12);
            using var ink = new SKPaint { Color = colour, IsAntialias = true };
            canvas.DrawText(name.Length == 0 ? "?" : name[..1].ToUpperInvariant(), 0, 4.4f, SKTextAlign.Center, font, ink);
        }
        canvas.Restore();
    }

    private static SKPath Star(float size)
    {
        using var path = new SKPathBuilder();
        for (var i = 0; i < 10; i++)
        {
            var angle = (Math.PI * i / 5) - (Math.PI / 2);
            var reach = i % 2 == 0 ? size : size * 0.42;
            var point = new SKPoint((float)(reach * Math.Cos(angle)), (float)(reach * Math.Sin(angle)));
            if (i == 0) path.MoveTo(point);
            else path.LineTo(point);
        }
        path.Close();
        return path.Detach();
    }
}
