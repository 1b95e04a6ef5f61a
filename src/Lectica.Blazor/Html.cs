using System.Diagnostics.CodeAnalysis;
using System.Runtime.CompilerServices;
using Microsoft.AspNetCore.Components;
using Microsoft.AspNetCore.Components.Rendering;

namespace Lectica.Blazor;

/// <summary>
/// Elements written in C#, of components that are no one else's: those of a Razor file are always public. What is drawn is told apart by
/// the line of the source that draws it, so each call stands on a line of its own. What a method draws for another, and what a loop
/// draws, is a region of its own: where lines go back, elements after them would be rebuilt.
/// </summary>
internal static class Html
{
    private static readonly MarkupString EarlyScript = new("<script src=\"_content/Lectica.Blazor/lectica-early.js\"></script>");

    /// <summary>Where a page is drawn before the program behind it answers: what keeps what is done to it by then.</summary>
    public static MarkupString? Early(RendererInfo renderer) => renderer.IsInteractive ? null : EarlyScript;

    public static void Open(this RenderTreeBuilder html, string element, string? look = null, [CallerLineNumber] int line = 0)
    {
        html.OpenElement(2 * line, element);
        if (look is not null) html.AddAttribute((2 * line) + 1, "class", look);
    }

    /// <summary>Sets an attribute; none where the value is null.</summary>
    public static void Set(this RenderTreeBuilder html, string attribute, string? value, [CallerLineNumber] int line = 0)
    {
        if (value is not null) html.AddAttribute(2 * line, attribute, value);
    }

    public static void Text(this RenderTreeBuilder html, string text, [CallerLineNumber] int line = 0) => html.AddContent(2 * line, text);

    public static void Icon(this RenderTreeBuilder html, string name, [CallerLineNumber] int line = 0) =>
        html.AddContent(2 * line, Svg.Of(name));

    public static void Add(this RenderTreeBuilder html, RenderFragment content, [CallerLineNumber] int line = 0) =>
        html.AddContent(2 * line, content);

    /// <summary>A piece of text. The words of an item run as their own script does: what is cut off is their end.</summary>
    public static void Span(
        this RenderTreeBuilder html, string look, string text, bool runsAsItsScript = false, [CallerLineNumber] int line = 0)
    {
        html.OpenRegion(2 * line);
        html.OpenElement(0, "span");
        html.AddAttribute(1, "class", look);
        if (runsAsItsScript) html.AddAttribute(2, "dir", "auto");
        html.AddContent(3, text);
        html.CloseElement();
        html.CloseRegion();
    }

    /// <summary>A component that is drawn from one value.</summary>
    public static RenderFragment Of<[DynamicallyAccessedMembers(DynamicallyAccessedMemberTypes.All)] TElement, TLook>(TLook look)
        where TElement : DrawnElement<TLook> where TLook : class =>
        html => html.Drawn<TElement, TLook>(look);

    public static void Drawn<[DynamicallyAccessedMembers(DynamicallyAccessedMemberTypes.All)] TElement, TLook>(
        this RenderTreeBuilder html, TLook look, [CallerLineNumber] int line = 0)
        where TElement : DrawnElement<TLook> where TLook : class
    {
        html.OpenComponent<TElement>(2 * line);
        html.AddComponentParameter((2 * line) + 1, "Look", look);
        html.CloseComponent();
    }
}
