using SkiaSharp;

namespace Lectica.Skia;

/// <summary>Draws into a PNG, without a screen.</summary>
internal static class Png
{
    public static SKData Draw(float width, float height, float scale, Action<SKCanvas> draw)
    {
        if (!(scale > 0) || !float.IsFinite(scale))
            throw new ArgumentOutOfRangeException(nameof(scale), scale, "The scale is more than 0.");
        using var surface = SKSurface.Create(new SKImageInfo(
            (int)Math.Ceiling(width * scale), (int)Math.Ceiling(height * scale), SKColorType.Rgba8888, SKAlphaType.Premul))
            ?? throw new ArgumentOutOfRangeException(
            nameof(scale), scale, $"An image of {width * scale:0} by {height * scale:0} pixels cannot be made.");
        surface.Canvas.Scale(scale);
        draw(surface.Canvas);
        using var image = surface.Snapshot();
        return image.Encode(SKEncodedImageFormat.Png, 100);
    }
}
