using System.Globalization;
using System.Text;
using Spectre.Console;
using Spectre.Console.Rendering;

namespace Lectica.Cli;

/// <summary>
/// What items are called comes from files, and may hold characters that would work on the terminal: escapes, other controls, and those that
/// turn the direction of what follows (Unicode, "Trojan Source"). On the way out each is shown as a visible sign.
/// </summary>
internal sealed class VisibleText : IRenderHook
{
    public IEnumerable<IRenderable> Process(RenderOptions options, IEnumerable<IRenderable> renderables) =>
        renderables.Select(r => new Shown(r));

    /// <summary>A text with its controls as signs: ␛ and the like, and others by their number.</summary>
    public static string Of(string text)
    {
        if (!text.Any(Works)) return text;
        var shown = new StringBuilder(text.Length + 16);
        foreach (var c in text)
            if (!Works(c)) shown.Append(c);
            else if (c < 0x20) shown.Append((char)(0x2400 + c));
            else shown.Append(CultureInfo.InvariantCulture, $"<U+{(int)c:X4}>");
        return shown.ToString();
    }

    private static bool Works(char c) =>
        (c < 0x20 && c is not ('\n' or '\r' or '\t')) || c is >= '\u007f' and <= '\u009f' or '\u061c' or '\u200e' or '\u200f'
        or (>= '\u202a' and <= '\u202e') or (>= '\u2066' and <= '\u2069');

    private sealed class Shown(IRenderable inner) : IRenderable
    {
        public Measurement Measure(RenderOptions options, int maxWidth) => inner.Measure(options, maxWidth);

        public IEnumerable<Segment> Render(RenderOptions options, int maxWidth) =>
            inner.Render(options, maxWidth)
            .Select(s => s.IsControlCode || s.IsLineBreak || !s.Text.Any(Works) ? s : new(Of(s.Text), s.Style));
    }
}
