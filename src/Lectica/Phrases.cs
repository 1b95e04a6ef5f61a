using System.Globalization;
using System.Runtime.CompilerServices;
using Lectica.Acts;

namespace Lectica;

/// <summary>
/// All words that a list and its hosts show or say, in one language. English and German ship; an app gives its own for others. A phrase
/// with a number is a function of it, so that each language has its plurals, or none (Unicode CLDR: English and German have one and other).
/// What traces and exceptions say is for developers, and English.
/// </summary>
public sealed record Phrases
{
    /// <summary>Whether it is the same one: functions say nothing of what they do.</summary>
    public bool Equals(Phrases? other) => ReferenceEquals(this, other);

    /// <inheritdoc/>
    public override int GetHashCode() => RuntimeHelpers.GetHashCode(this);

    private static readonly NumberFormatInfo PointsBetween = new() { NumberGroupSeparator = "." };

    private static string Commas(int? number) => number?.ToString("#,0", CultureInfo.InvariantCulture) ?? "";

    private static string Points(int? number) => number?.ToString("#,0", PointsBetween) ?? "";

    /// <summary>English.</summary>
    public static Phrases English { get; } = new();

    /// <summary>German.</summary>
    public static Phrases German { get; } = new()
    {
        Number = n => Points(n),
        Selected = n => n == 0 ? "Nichts ausgewählt" : $"{Points(n)} ausgewählt",
        Marked = (mark, n, on) => $"{mark}: {(n == 1 ? "1 Element" : $"{Points(n)} Elemente")} {(on ? "ein" : "aus")}",
        SelectionChanged = (added, removed, total) => (added, removed) switch
        {
            _ when total == 0 => "Nichts mehr ausgewählt",
            _ when added == total => $"{(total == 1 ? "1 Element" : $"{Points(total)} Elemente")} ausgewählt",
            (0, _) => $"{Points(removed)} weniger, noch {Points(total)} ausgewählt",
            (_, 0) => $"{Points(added)} mehr, {Points(total)} ausgewählt",
            _ => $"{Points(total)} ausgewählt",
        },
        Refused = refusal => refusal.Kind switch
        {
            RefusalKind.NoRule => "Das bewirkt hier nichts",
            RefusalKind.EmptyList => "Die Liste ist leer",
            RefusalKind.NoItem => "Dafür ist nichts ausgewählt",
            RefusalKind.OutsideList => "Das ist nicht mehr in der Liste",
            RefusalKind.Disabled => "Das ist nicht verfügbar",
            RefusalKind.Hidden => "Das ist gerade nicht zu sehen",
            RefusalKind.Mode => "So viel lässt sich hier nicht auswählen",
            RefusalKind.Limit => $"Höchstens {Points(refusal.Most)} lassen sich auswählen",
            RefusalKind.Required => "Eines muss ausgewählt bleiben",
            RefusalKind.NotAvailable => "Das geht jetzt nicht",
            RefusalKind.Running => "Hier läuft noch etwas",
            RefusalKind.OutOfDate => "Das ist überholt: die Liste ist inzwischen anders",
            RefusalKind.Sorted => "Die Liste ist sortiert: verschieben lässt sich nichts",
            RefusalKind.Pinned => "Was angeheftet ist, bleibt an seinem Platz",
            RefusalKind.NotAllowed => "Das ist hier nicht erlaubt",
            RefusalKind.NotRead => "Das wird noch geladen",
            _ => "Das ging nicht",
        },
        NoSource = "Noch keine Liste",
        Empty = "Keine Elemente",
        NothingMatches = "Nichts entspricht dem Filter",
        Loading = "Wird geladen …",
        Retry = "Erneut versuchen",
        MarkedBy = (mark, n, mine) => n == 0 ? mark : $"{mark}: {Points(n)}{(mine ? ", auch von dir" : "")}",
        RowLoading = "Wird geladen …",
        StoreFailed = why => $"Speichern fehlgeschlagen: {why}",
        AskUnseen = (deed, canUndo) =>
            $"{deed}, auch solche, die noch nicht zu sehen waren.{(canUndo ? "" : " Das lässt sich nicht zurücknehmen.")} Fortfahren?",
        ReadFailed = why => $"Lesen fehlgeschlagen: {why}",
        MoreToCome = "Es gibt mehr",
        MoreLoading = "Mehr wird geladen …",
        MoreFailed = "Mehr konnte nicht geladen werden",
        NoMore = "Das ist alles",
        CancelCommand = command => $"{command} abbrechen",
        CommandBegan = (command, n) => n > 1 ? $"{command}: {Points(n)} Elemente, läuft" : $"{command} läuft",
        CommandProgress = (command, percent) => $"{command}: {percent} %",
        CommandCancelled = command => $"{command} abgebrochen",
        CommandFailed = command => $"{command} ist fehlgeschlagen",
        Busy = (command, percent) => percent is null ? $"{command} läuft" : $"{command} läuft, {percent} %",
        Choose = "Wählen …",
        Undone = step => $"Zurückgenommen: {step}",
        Redone = step => $"Wiederholt: {step}",
        Moved = n => n == 1 ? "Verschoben" : $"{Points(n)} Elemente verschoben",
        SentTo = (list, n, isCopy) =>
            $"{(n == 1 ? "Nach" : $"{Points(n)} Elemente nach")} {list} {(isCopy ? "kopiert" : "verschoben")}",
        Copied = n => n == 1 ? "1 Element kopiert" : $"{Points(n)} Elemente kopiert",
        Inserted = n => n == 1 ? "1 Element eingefügt" : $"{Points(n)} Elemente eingefügt",
        LetGo = command => $"Loslassen: {command}",
        Copy = "Kopieren",
        Cut = "Ausschneiden",
        Paste = "Einfügen",
        Remove = "Entfernen",
        PutBack = "Zurückholen",
        Done = "Fertig",
        Move = "Verschieben",
        ToTop = "Ganz nach oben",
        Up = "Nach oben",
        Down = "Nach unten",
        ToBottom = "Ganz nach unten",
        ChoosePlace = "Platz wählen …",
        ToSection = title => $"Nach {title}",
        Items = n => n == 1 ? "1 Element" : $"{Points(n)} Elemente",
        Select = "Auswählen",
        SelectAll = "Alle auswählen",
        Menu = "Menü",
        MoreCommands = "Weitere Befehle",
        Back = "Zurück",
        Undo = "Rückgängig",
        Grabbed = (what, place, of) =>
            $"{what} aufgenommen, Platz {Points(place)} von {Points(of)}. " +
                "Pfeiltasten wählen den Platz, Eingabe legt ab, Escape legt zurück",
        MovedTo = (place, of, section) => $"An Platz {Points(place)} von {Points(of)}{(section is null ? "" : $" in {section}")}",
        CannotDrop = (place, of, section) =>
            $"Platz {Points(place)} von {Points(of)}{(section is null ? "" : $" in {section}")}: hier nicht möglich",
        Dropped = (place, of, section) => $"Abgelegt an Platz {Points(place)} von {Points(of)}{(section is null ? "" : $" in {section}")}",
        DroppedBack = "Zurückgelegt",
        SectionExpanded = (title, n) => $"{title} aufgeklappt, {(n == 1 ? "1 Element" : $"{Points(n)} Elemente")}",
        SectionCollapsed = title => $"{title} zugeklappt",
        Sorted = (column, down) => down switch
        {
            null => "Nicht mehr sortiert",
            false => $"Nach {column} aufsteigend sortiert",
            _ => $"Nach {column} absteigend sortiert",
        },
        BranchExpanded = (name, n) => $"{name} aufgeklappt, {(n == 1 ? "1 Element" : $"{Points(n)} Elemente")}",
        BranchCollapsed = name => $"{name} zugeklappt",
        BranchLoading = name => $"{name} wird geladen",
        BranchFailed = name => $"{name} konnte nicht geladen werden; zum Wiederholen aufklappen",
        SelectBranch = "Mit allem darunter auswählen",
        Expand = "Aufklappen",
        Collapse = "Zuklappen",
        AllExpanded = "Alles aufgeklappt",
        AllCollapsed = "Alles zugeklappt",
        OneLevelIn = "Eine Ebene tiefer",
        OneLevelOut = "Eine Ebene höher",
    };

    /// <summary>Those for a culture: German for German ones, else English.</summary>
    public static Phrases For(CultureInfo culture)
    {
        ArgumentNullException.ThrowIfNull(culture);
        return culture.TwoLetterISOLanguageName == "de" ? German : English;
    }

    /// <summary>A number that stands by itself, such as how many items a section has; with what parts its thousands.</summary>
    public Func<int, string> Number { get; init; } = n => Commas(n);

    /// <summary>How many items are selected now.</summary>
    public Func<int, string> Selected { get; init; } =
        n => n == 0 ? "Nothing selected" : $"{Commas(n)} selected";

    /// <summary>
    /// What became of the selection, where more than the item at the cursor changed: so many came in, so many left, and so many are
    /// selected now.
    /// </summary>
    public Func<int, int, int, string> SelectionChanged { get; init; } = (added, removed, total) => (added, removed) switch
    {
        _ when total == 0 => "Nothing selected any more",
        _ when added == total => $"{(total == 1 ? "1 item" : $"{Commas(total)} items")} selected",
        (0, _) => $"{Commas(removed)} fewer, {Commas(total)} still selected",
        (_, 0) => $"{Commas(added)} more, {Commas(total)} selected",
        _ => $"{Commas(total)} selected",
    };

    /// <summary>Why something was not done, in words for users; developers read <see cref="Refusal.Reason"/>.</summary>
    public Func<Refusal, string> Refused { get; init; } = refusal => refusal.Kind switch
    {
        RefusalKind.NoRule => "That does nothing here",
        RefusalKind.EmptyList => "The list is empty",
        RefusalKind.NoItem => "Nothing is selected for that",
        RefusalKind.OutsideList => "That is no longer in the list",
        RefusalKind.Disabled => "That is not available",
        RefusalKind.Hidden => "That is not in view now",
        RefusalKind.Mode => "So many cannot be selected here",
        RefusalKind.Limit => $"No more than {Commas(refusal.Most)} can be selected",
        RefusalKind.Required => "One must stay selected",
        RefusalKind.NotAvailable => "That cannot be done now",
        RefusalKind.Running => "Something is still under way here",
        RefusalKind.OutOfDate => "The list has changed since then",
        RefusalKind.Sorted => "The list is sorted, so nothing can be moved",
        RefusalKind.Pinned => "What is pinned stays in its place",
        RefusalKind.NotAllowed => "That is not allowed here",
        RefusalKind.NotRead => "That is still loading",
        _ => "That did not work",
    };

    /// <summary>The list has not been given anything to show yet.</summary>
    public string NoSource { get; init; } = "No list to show yet";

    /// <summary>There are no items.</summary>
    public string Empty { get; init; } = "No items";

    /// <summary>There are items, and the filter lets none through.</summary>
    public string NothingMatches { get; init; } = "Nothing matches the filter";

    /// <summary>Items are on their way.</summary>
    public string Loading { get; init; } = "Loading …";

    /// <summary>Offers to try again what has failed.</summary>
    public string Retry { get; init; } = "Try again";

    /// <summary>
    /// A mark that many people share, given its label, how many have put it on, and whether whoever looks at it is among them.
    /// </summary>
    public Func<string, int, bool, string> MarkedBy { get; init; } =
        (mark, n, mine) => n == 0 ? mark : $"{mark} by {Commas(n)}{(mine ? ", by you" : "")}";

    /// <summary>A row whose item is still being read.</summary>
    public string RowLoading { get; init; } = "Loading …";

    /// <summary>What a source would not store, given its own words.</summary>
    public Func<string, string> StoreFailed { get; init; } = why => $"Could not be stored: {why}";

    /// <summary>
    /// What is asked before items are changed that have not all been shown: given what would be done, with how many, and whether it can be
    /// taken back.
    /// </summary>
    public Func<string, bool, string> AskUnseen { get; init; } =
        (deed, canUndo) => $"{deed}, including some that you have not seen.{(canUndo ? "" : " This cannot be undone.")} Go on?";

    /// <summary>What could not be read of a source, given its own words.</summary>
    public Func<string, string> ReadFailed { get; init; } = why => $"Could not be read: {why}";

    /// <summary>After the items: there is more.</summary>
    public string MoreToCome { get; init; } = "There is more";

    /// <summary>After the items: more is on its way.</summary>
    public string MoreLoading { get; init; } = "Loading more …";

    /// <summary>After the items: more could not be had.</summary>
    public string MoreFailed { get; init; } = "More could not be loaded";

    /// <summary>After the items: there is no more.</summary>
    public string NoMore { get; init; } = "That is all";

    /// <summary>In menus and toolbars: asks a command to stop.</summary>
    public Func<string, string> CancelCommand { get; init; } = command => $"Cancel {command}";

    /// <summary>A command that takes time has begun, for so many items; 0 for the whole list.</summary>
    public Func<string, int, string> CommandBegan { get; init; } =
        (command, n) => n > 1 ? $"{command}: {Commas(n)} items, under way" : $"{command} is under way";

    /// <summary>How many hundredths of a command are done.</summary>
    public Func<string, int, string> CommandProgress { get; init; } = (command, percent) => $"{command}: {percent} %";

    /// <summary>A command was cancelled.</summary>
    public Func<string, string> CommandCancelled { get; init; } = command => $"{command} cancelled";

    /// <summary>A command has failed.</summary>
    public Func<string, string> CommandFailed { get; init; } = command => $"{command} has failed";

    /// <summary>What is being done to a row, and how many hundredths of it are done; null where that is not known.</summary>
    public Func<string, int?, string> Busy { get; init; } =
        (command, percent) => percent is null ? $"{command} is under way" : $"{command} is under way, {percent} %";

    /// <summary>What a choice field shows while there is no value.</summary>
    public string Choose { get; init; } = "Choose …";

    /// <summary>A mark was put on or off for so many items.</summary>
    public Func<string, int, bool, string> Marked { get; init; } =
        (mark, n, on) => $"{mark}: {(n == 1 ? "1 item" : $"{Commas(n)} items")} {(on ? "on" : "off")}";

    /// <summary>So many items were moved.</summary>
    public Func<int, string> Moved { get; init; } = n => n == 1 ? "Moved" : $"{Commas(n)} items moved";

    /// <summary>So many items went to the list of that name, or copies of them did.</summary>
    public Func<string, int, bool, string> SentTo { get; init; } =
        (list, n, isCopy) => (n, isCopy) switch
        {
            (1, false) => $"Moved to {list}",
            (1, true) => $"Copied to {list}",
            (_, false) => $"{Commas(n)} items moved to {list}",
            _ => $"{Commas(n)} items copied to {list}",
        };

    /// <summary>So many items were copied.</summary>
    public Func<int, string> Copied { get; init; } = n => n == 1 ? "1 item copied" : $"{Commas(n)} items copied";

    /// <summary>So many items came in by a paste or a drop.</summary>
    public Func<int, string> Inserted { get; init; } = n => n == 1 ? "1 item inserted" : $"{Commas(n)} items inserted";

    /// <summary>A pull is far enough: letting go runs the command.</summary>
    public Func<string, string> LetGo { get; init; } = command => $"Let go: {command}";

    /// <summary>In the menu: to the clipboard.</summary>
    public string Copy { get; init; } = "Copy";

    /// <summary>In the menu: to the clipboard, and away.</summary>
    public string Cut { get; init; } = "Cut";

    /// <summary>In the menu: from the clipboard; and the name of that, as a step that can be taken back.</summary>
    public string Paste { get; init; } = "Paste";

    /// <summary>The name of the step by which items were taken out of the source, outside a command.</summary>
    public string Remove { get; init; } = "Remove";

    /// <summary>The name of that by which some were put back.</summary>
    public string PutBack { get; init; } = "Put back";

    /// <summary>Leaves the state in which taps select.</summary>
    public string Done { get; init; } = "Done";

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

    /// <summary>The name of a row's box, and of a heading's.</summary>
    public string Select { get; init; } = "Select";

    /// <summary>The name of the header's box.</summary>
    public string SelectAll { get; init; } = "Select all";

    /// <summary>The name of a row's button that opens its menu.</summary>
    public string Menu { get; init; } = "Menu";

    /// <summary>The name of a toolbar's button that opens its overflow menu.</summary>
    public string MoreCommands { get; init; } = "More commands";

    /// <summary>What leads back from a submenu that covers its menu.</summary>
    public string Back { get; init; } = "Back";

    /// <summary>What a brief notice offers.</summary>
    public string Undo { get; init; } = "Undo";

    /// <summary>So many items, as a name for them.</summary>
    public Func<int, string> Items { get; init; } = n => n == 1 ? "1 item" : $"{Commas(n)} items";

    /// <summary>Items of that name were taken up, from a place of so many.</summary>
    public Func<string, int, int, string> Grabbed { get; init; } =
        (what, place, of) =>
            $"{what} taken up, place {Commas(place)} of {Commas(of)}. Arrow keys choose the place, Enter drops, Escape puts back";

    /// <summary>What is taken up was moved to a place of so many, of a section where there are any.</summary>
    public Func<int, int, string?, string> MovedTo { get; init; } =
        (place, of, section) => $"Moved to place {Commas(place)} of {Commas(of)}{(section is null ? "" : $" in {section}")}";

    /// <summary>The same, where it cannot be dropped.</summary>
    public Func<int, int, string?, string> CannotDrop { get; init; } =
        (place, of, section) => $"Place {Commas(place)} of {Commas(of)}{(section is null ? "" : $" in {section}")}: cannot be dropped here";

    /// <summary>It was dropped there.</summary>
    public Func<int, int, string?, string> Dropped { get; init; } =
        (place, of, section) => $"Dropped at place {Commas(place)} of {Commas(of)}{(section is null ? "" : $" in {section}")}";

    /// <summary>It was put back.</summary>
    public string DroppedBack { get; init; } = "Put back";

    /// <summary>A step was taken back.</summary>
    public Func<string, string> Undone { get; init; } = step => $"Undone: {step}";

    /// <summary>A step was done again.</summary>
    public Func<string, string> Redone { get; init; } = step => $"Redone: {step}";

    /// <summary>A section was expanded; it has so many items.</summary>
    public Func<string, int, string> SectionExpanded { get; init; } =
        (title, n) => $"{title} expanded, {(n == 1 ? "1 item" : $"{Commas(n)} items")}";

    /// <summary>A section was collapsed.</summary>
    public Func<string, string> SectionCollapsed { get; init; } = title => $"{title} collapsed";

    /// <summary>The list has been sorted, given the column's label, and whether it goes down; null for the source's own order.</summary>
    public Func<string, bool?, string> Sorted { get; init; } =
        (column, down) => down switch { null => "No longer sorted", false => $"Sorted by {column}, up", _ => $"Sorted by {column}, down" };

    /// <summary>A branch of an outline has expanded, given its name and how many items are right below it.</summary>
    public Func<string, int, string> BranchExpanded { get; init; } =
        (name, n) => $"{name} expanded, {(n == 1 ? "1 item" : $"{Commas(n)} items")}";

    /// <summary>A branch of an outline has collapsed, given its name.</summary>
    public Func<string, string> BranchCollapsed { get; init; } = name => $"{name} collapsed";

    /// <summary>What lies below an item is being read, given its name.</summary>
    public Func<string, string> BranchLoading { get; init; } = name => $"{name} is loading";

    /// <summary>What lies below an item could not be read, given its name.</summary>
    public Func<string, string> BranchFailed { get; init; } = name => $"{name} could not be loaded; expand it to try again";

    /// <summary>The box of an item with all that is below it.</summary>
    public string SelectBranch { get; init; } = "Select with all below";

    /// <summary>What expands a branch.</summary>
    public string Expand { get; init; } = "Expand";

    /// <summary>What collapses a branch.</summary>
    public string Collapse { get; init; } = "Collapse";

    /// <summary>All branches have expanded.</summary>
    public string AllExpanded { get; init; } = "All expanded";

    /// <summary>All branches have collapsed.</summary>
    public string AllCollapsed { get; init; } = "All collapsed";

    /// <summary>Moves items of an outline below the item above them.</summary>
    public string OneLevelIn { get; init; } = "One level in";

    /// <summary>Moves items of an outline to the level of what they lie below.</summary>
    public string OneLevelOut { get; init; } = "One level out";
}
