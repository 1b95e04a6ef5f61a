using System.Collections.Frozen;
using System.Net;
using Lectica.Looks;
using Microsoft.AspNetCore.Components;

namespace Lectica.Blazor;

/// <summary>
/// Icons as elements: their lines have the colour of the text. Of a name that is not known it is the first letter.
/// </summary>
internal static class Svg
{
    private static readonly FrozenDictionary<string, MarkupString> Known = IconPaths.All.ToFrozenDictionary(
        icon => icon.Key, icon => Drawn(icon.Value));

    private static readonly MarkupString Room = new("<span class=\"lectica-icon\" aria-hidden=\"true\"></span>");

    private static MarkupString Drawn(string path) =>
        new($"<svg class=\"lectica-icon\" viewBox=\"0 0 24 24\" aria-hidden=\"true\"><path d=\"{path}\"/></svg>");

    public static MarkupString Of(string name) =>
        Known.TryGetValue(name, out var icon) ? icon
        : IconPaths.PathOf(name) is { } own ? Drawn(own)
        // Room where an icon would be.
        : name.Length == 0 ? Room
        : new($"<span class=\"lectica-icon lectica-letter\" " +
        $"aria-hidden=\"true\">{WebUtility.HtmlEncode(name[..1].ToUpperInvariant())}</span>");
}
