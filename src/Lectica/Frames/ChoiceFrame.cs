namespace Lectica.Frames;

/// <summary>A choice field to draw: the field itself, and below it the options while it is open.</summary>
/// <param name="Label">What is chosen here, such as <c>Requester</c>; null for none.</param>
/// <param name="Text">What the field shows: the value, or the prompt.</param>
/// <param name="IsPrompt">Whether the text is the prompt, since there is no value.</param>
/// <param name="Width">The field's width, px.</param>
/// <param name="Height">The field's height, px.</param>
public sealed record ChoiceFrame(string? Label, string Text, bool IsPrompt, double Width, double Height)
{
    /// <summary>Whether it has the keyboard.</summary>
    public bool HasFocus { get; init; }

    /// <summary>The options, or null while it is closed.</summary>
    public Frame? Options { get; init; }

    /// <summary>Where the options are, px below the field's top edge: below the field, or above it where only there is room.</summary>
    public double OptionsTop { get; init; } = Height;
}
