using System.Globalization;

namespace Lectica;

/// <summary>
/// The words that a list says to a screen reader, in one language. English and German ship; an app gives its own for others. A phrase with a
/// number is a function of it, so that each language has its plurals (Unicode CLDR: both have one and other).
/// </summary>
public sealed record Phrases
{
    /// <summary>English.</summary>
    public static Phrases English { get; } = new();

    /// <summary>German.</summary>
    public static Phrases German { get; } = new()
    {
        Selected = n => n switch { 0 => "Nichts ausgewählt", 1 => "1 Element ausgewählt", _ => $"{n} Elemente ausgewählt" },
        Marked = (mark, n, on) => $"{mark}: {(n == 1 ? "1 Element" : $"{n} Elemente")} {(on ? "ein" : "aus")}",
        Undone = step => $"Zurückgenommen: {step}",
        Redone = step => $"Wiederholt: {step}",
        Move = "Verschieben",
        SectionExpanded = (title, n) => $"{title} aufgeklappt, {(n == 1 ? "1 Element" : $"{n} Elemente")}",
        SectionCollapsed = title => $"{title} zugeklappt",
    };

    /// <summary>Those for a culture: German for German ones, else English.</summary>
    public static Phrases For(CultureInfo culture)
    {
        ArgumentNullException.ThrowIfNull(culture);
        return culture.TwoLetterISOLanguageName == "de" ? German : English;
    }

    /// <summary>How many items are selected now.</summary>
    public Func<int, string> Selected { get; init; } = n => n switch { 0 => "Nothing selected", 1 => "1 item selected", _ => $"{n} items selected" };

    /// <summary>A mark was put on or off for so many items.</summary>
    public Func<string, int, bool, string> Marked { get; init; } = (mark, n, on) => $"{mark}: {(n == 1 ? "1 item" : $"{n} items")} {(on ? "on" : "off")}";

    /// <summary>The name of a move, as a step that can be taken back.</summary>
    public string Move { get; init; } = "Move";

    /// <summary>A step was taken back.</summary>
    public Func<string, string> Undone { get; init; } = step => $"Undone: {step}";

    /// <summary>A step was done again.</summary>
    public Func<string, string> Redone { get; init; } = step => $"Redone: {step}";

    /// <summary>A section was expanded; it has so many items.</summary>
    public Func<string, int, string> SectionExpanded { get; init; } = (title, n) => $"{title} expanded, {(n == 1 ? "1 item" : $"{n} items")}";

    /// <summary>A section was collapsed.</summary>
    public Func<string, string> SectionCollapsed { get; init; } = title => $"{title} collapsed";
}
