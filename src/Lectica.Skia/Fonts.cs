using SkiaSharp;

namespace Lectica.Skia;

/// <summary>
/// The embedded font, Noto Sans (SIL Open Font License 1.1): pictures are the same on every machine and need none of its fonts.
/// </summary>
internal static class Fonts
{
    private static readonly Lazy<SKTypeface> RegularFace = new(() => Load("NotoSans-Regular.ttf")),
        BoldFace = new(() => Load("NotoSans-Bold.ttf"));

    public static SKFont Regular(float size) =>
        new(RegularFace.Value, size) { Subpixel = true, Edging = SKFontEdging.Antialias, Hinting = SKFontHinting.None };

    public static SKFont Bold(float size) =>
        new(BoldFace.Value, size) { Subpixel = true, Edging = SKFontEdging.Antialias, Hinting = SKFontHinting.None };

    private static SKTypeface Load(string name)
    {
        using var stream = typeof(Fonts).Assembly.GetManifestResourceStream(name)
            ?? throw new InvalidOperationException($"The font {name} is not in the assembly.");
        using var data = SKData.Create(stream);
        return SKTypeface.FromData(data) ?? throw new InvalidOperationException($"The font {name} cannot be read.");
    }

    /// <summary>The text, or as much of it as fits with an ellipsis. Cost: a handful of measurements.</summary>
    public static string Fit(SKFont font, string text, float width)
    {
        text = text.ReplaceLineEndings(" ");
        if (font.MeasureText(text) <= width) return text;
        int low = 0, high = text.Length;
        while (low < high)
        {
            var middle = (low + high + 1) / 2;
            if (font.MeasureText(text[..middle].TrimEnd() + "…") <= width) low = middle;
            else high = middle - 1;
        }
        // Not in the middle of a surrogate pair.
        if (low > 0 && char.IsHighSurrogate(text[low - 1])) low--;
        return low == 0 ? "" : text[..low].TrimEnd() + "…";
    }
}
