using System.Globalization;

namespace Lectica;

/// <summary>
/// The words that a list says to a screen reader, in one language. English and German ship; an app gives its own for others. A phrase with
/// a number is a function of it, so that each language has its plurals (Unicode CLDR: both have one and other).
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
        ToTop = "Ganz nach oben",
        Up = "Nach oben",
        Down = "Nach unten",
        ToBottom = "Ganz nach unten",
        ChoosePlace = "Platz wählen …",
        ToSection = title => $"Nach {title}",
        Items = n => n == 1 ? "1 Element" : $"{n} Elemente",
        SelectAll = "Alle auswählen",
        Menu = "Menü",
        MoreCommands = "Weitere Befehle",
        Undo = "Rückgängig",
        Grabbed = (what, place, of) => $"{what} aufgenommen, Platz {place} von {of}. Pfeiltasten wählen den Platz, Eingabe legt ab, Escape legt zurück",
        MovedTo = (place, of, section) => $"An Platz {place} von {of}{(section is null ? "" : $" in {section}")}",
        CannotDrop = (place, of, section) => $"Platz {place} von {of}{(section is null ? "" : $" in {section}")}: hier nicht möglich",
        Dropped = (place, of, section) => $"Abgelegt an Platz {place} von {of}{(section is null ? "" : $" in {section}")}",
        DroppedBack = "Zurückgelegt",
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

    /// <summary>In the menu: to the top.</summary>
    public string ToTop { get; init; } = "To the top";

    /// <summary>In the menu: one place up.</summary>
    public string Up { get; init; } = "Up";

    /// <summary>In the menu: one place down.</summary>
    public string Down { get; init; } = "Down";

    /// <summary>In the menu: to the bottom.</summary>
    public string ToBottom { get; init; } = "To the bottom";

    /// <summary>In the menu: to a place that is then chosen by tap or key.</summary>
    public string ChoosePlace { get; init; } = "Choose a place …";

    /// <summary>In the menu: to a section, or another list, of this title.</summary>
    public Func<string, string> ToSection { get; init; } = title => $"To {title}";

    /// <summary>The name of the header's box.</summary>
    public string SelectAll { get; init; } = "Select all";

    /// <summary>The name of a row's button that opens its menu.</summary>
    public string Menu { get; init; } = "Menu";

    /// <summary>The name of a toolbar's button that opens its overflow menu.</summary>
    public string MoreCommands { get; init; } = "More commands";

    /// <summary>What a brief notice offers.</summary>
    public string Undo { get; init; } = "Undo";

    /// <summary>So many items, as a name for them.</summary>
    public Func<int, string> Items { get; init; } = n => n == 1 ? "1 item" : $"{n} items";

    /// <summary>Items of that name were taken up, from a place of so many.</summary>
    public Func<string, int, int, string> Grabbed { get; init; } = (what, place, of) => $"{what} taken up, place {place} of {of}. Arrow keys choose the place, Enter drops, Escape puts back";

    /// <summary>What is taken up was moved to a place of so many, of a section where there are any.</summary>
    public Func<int, int, string?, string> MovedTo { get; init; } = (place, of, section) => $"Moved to place {place} of {of}{(section is null ? "" : $" in {section}")}";

    /// <summary>The same, where it cannot be dropped.</summary>
    public Func<int, int, string?, string> CannotDrop { get; init; } = (place, of, section) => $"Place {place} of {of}{(section is null ? "" : $" in {section}")}: cannot be dropped here";

    /// <summary>It was dropped there.</summary>
    public Func<int, int, string?, string> Dropped { get; init; } = (place, of, section) => $"Dropped at place {place} of {of}{(section is null ? "" : $" in {section}")}";

    /// <summary>It was put back.</summary>
    public string DroppedBack { get; init; } = "Put back";

    /// <summary>A step was taken back.</summary>
    public Func<string, string> Undone { get; init; } = step => $"Undone: {step}";

    /// <summary>A step was done again.</summary>
    public Func<string, string> Redone { get; init; } = step => $"Redone: {step}";

    /// <summary>A section was expanded; it has so many items.</summary>
    public Func<string, int, string> SectionExpanded { get; init; } = (title, n) => $"{title} expanded, {(n == 1 ? "1 item" : $"{n} items")}";

    /// <summary>A section was collapsed.</summary>
    public Func<string, string> SectionCollapsed { get; init; } = title => $"{title} collapsed";
}
