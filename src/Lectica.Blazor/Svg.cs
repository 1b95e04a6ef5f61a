using System.Collections.Frozen;
using System.Net;
using Lectica.Looks;
using Microsoft.AspNetCore.Components;

namespace Lectica.Blazor;

/// <summary>Our icons as elements: their lines have the colour of the text. Of a name that is not known it is the first letter.</summary>
internal static class Svg
{
    private static readonly FrozenDictionary<string, MarkupString> Known = IconPaths.All.ToFrozenDictionary(
        icon => icon.Key,
            icon => new MarkupString(
                $"<svg class=\"lectica-icon\" viewBox=\"0 0 24 24\" aria-hidden=\"true\"><path d=\"{icon.Value}\"/></svg>"));

    private static readonly MarkupString Room = new("<span class=\"lectica-icon\" aria-hidden=\"true\"></span>");

    public static MarkupString Of(string name) =>
        Known.TryGetValue(name, out var icon) ? icon
        // Room where an icon would be.
        : name.Length == 0 ? Room
        : new($"<span class=\"lectica-icon lectica-letter\" " +
        $"aria-hidden=\"true\">{WebUtility.HtmlEncode(name[..1].ToUpperInvariant())}</span>");
}
