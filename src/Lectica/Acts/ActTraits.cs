using System.Collections.Immutable;
using Lectica.Gestures;
using Lectica.Layout;

namespace Lectica.Acts;

/// <summary>From what an act can come.</summary>
[Flags]
internal enum ActSources
{
    /// <summary>From a call, with no more than its item.</summary>
    Call = 1,

    /// <summary>From a rule for a gesture.</summary>
    Gesture = 2,

    /// <summary>From a rule for a key.</summary>
    Key = 4,

    /// <summary>From all of them.</summary>
    All = Call | Gesture | Key,
}

/// <summary>
/// What is true of an act whatever list it is done to. Each kind is one line of <see cref="All"/>; a list adds what it does.
/// </summary>
/// <param name="Kind">The act.</param>
/// <param name="Name">Its name in traces and tables.</param>
/// <param name="NeedsItem">Whether it is done to one item, and so is refused without one.</param>
/// <param name="Sources">From what it can come.</param>
internal sealed record ActTraits(ActKind Kind, string Name, bool NeedsItem = false, ActSources Sources = ActSources.All)
{
    /// <summary>The gestures that can begin it, where it goes on while a pointer is down.</summary>
    public ImmutableArray<GestureKind> BegunBy { get; init; } = [];

    /// <summary>Where a gesture must be for it: what the part names is what it is done to. Everywhere where null.</summary>
    public Places? On { get; init; }

    /// <summary>What a rule must name for it where the part does not, such as a mark; null for nothing.</summary>
    public string? Names { get; init; }

    /// <summary>Whether it can be done to an item that a paged list has not read: then its place is enough.</summary>
    public bool TakesUnread { get; init; }

    /// <summary>Whether a rule for a key must say where the cursor goes.</summary>
    public bool NeedsStep { get; init; }

    /// <summary>Whether it goes on while a pointer is down.</summary>
    public bool GoesOn => !BegunBy.IsEmpty;

    /// <summary>All acts.</summary>
    public static ImmutableArray<ActTraits> All { get; } =
    [
        new(ActKind.MoveCursor, "move-cursor", true) { TakesUnread = true },
        new(ActKind.Select, "select", true) { TakesUnread = true },
        new(ActKind.SelectUnlessSelected, "select-unless-selected", true) { TakesUnread = true },
        new(ActKind.Add, "add", true) { TakesUnread = true },
        new(ActKind.Toggle, "toggle", true) { TakesUnread = true },
        new(ActKind.Extend, "extend", true) { TakesUnread = true },
        new(ActKind.ExtendAdding, "extend-adding", true) { TakesUnread = true },
        new(ActKind.SelectAll, "select-all"),
        new(ActKind.ToggleAll, "toggle-all"),
        new(ActKind.Clear, "clear"),
        new(ActKind.Invert, "invert"),
        new(ActKind.Activate, "activate", true),
        new(ActKind.BeginSelecting, "begin-selecting"),
        new(ActKind.EndSelecting, "end-selecting"),
        new(ActKind.Type, "type", Sources: 0),
        new(ActKind.MovePart, "move-part", Sources: ActSources.Key) { NeedsStep = true },
        new(ActKind.PressPart, "press-part", Sources: ActSources.Key),
        new(ActKind.Pull, "pull", Sources: ActSources.Gesture) { BegunBy = [GestureKind.Pull] },
        new(ActKind.OpenTray, "open-tray", true, ActSources.Gesture) { BegunBy = [GestureKind.Swipe] },
        new(ActKind.CloseTray, "close-tray"),
        new(ActKind.InvokeTray, "invoke-tray", true, ActSources.Gesture) { On = Places.Tray },
        new(ActKind.OpenMenu, "open-menu", true),
        new(ActKind.CloseMenu, "close-menu"),
        new(ActKind.Grab, "grab", true, ActSources.Gesture | ActSources.Key)
        {
            BegunBy = [GestureKind.Drag, GestureKind.HoldDrag, GestureKind.LongPress],
        },
        new(ActKind.Sweep, "sweep", true, ActSources.Gesture) { TakesUnread = true, BegunBy = [GestureKind.Drag, GestureKind.HoldDrag] },
        new(ActKind.Marquee, "marquee", Sources: ActSources.Gesture) { BegunBy = [GestureKind.Drag, GestureKind.HoldDrag] },
        new(ActKind.MarqueeAdding, "marquee-adding", Sources: ActSources.Gesture) { BegunBy = [GestureKind.Drag, GestureKind.HoldDrag] },
        new(ActKind.MarqueeToggling, "marquee-toggling",
            Sources: ActSources.Gesture) { BegunBy = [GestureKind.Drag, GestureKind.HoldDrag] },
        new(ActKind.Cancel, "cancel"),
        new(ActKind.ChooseEntry, "choose-entry", Sources: ActSources.Gesture) { On = Places.MenuEntry },
        new(ActKind.RunCommand, "run-command", Sources: ActSources.Gesture | ActSources.Key) { Names = "a command" },
        new(ActKind.ToggleMark, "toggle-mark", true, ActSources.Gesture | ActSources.Key) { On = Places.Mark, Names = "a mark" },
        new(ActKind.CollapseOrExpand, "collapse-or-expand",
            Sources: ActSources.Gesture) { On = Places.Heading | Places.HeadingCheck | Places.Expander },
        new(ActKind.ToggleSection, "toggle-section", Sources: ActSources.Gesture) { On = Places.Heading | Places.HeadingCheck },
        new(ActKind.Retry, "retry"),
        new(ActKind.Undo, "undo"),
        new(ActKind.Redo, "redo"),
        new(ActKind.Hover, "hover", Sources: ActSources.Gesture | ActSources.Key) { NeedsStep = true },
        new(ActKind.Drop, "drop"),
        new(ActKind.DropBack, "drop-back"),
        new(ActKind.Move, "move", Sources: ActSources.Key) { NeedsStep = true },
        new(ActKind.Copy, "copy"),
        new(ActKind.Cut, "cut"),
        new(ActKind.Paste, "paste"),
        new(ActKind.StepIn, "step-in", Sources: ActSources.Key),
        new(ActKind.StepOut, "step-out", Sources: ActSources.Key),
        new(ActKind.SortBy, "sort-by") { Names = "a column" },
        new(ActKind.ToggleBranch, "toggle-branch", true),
    ];

    private static readonly Dictionary<ActKind, ActTraits> ByKind = All.ToDictionary(t => t.Kind);

    /// <summary>The traits of an act.</summary>
    public static ActTraits Of(ActKind kind) => ByKind[kind];

    /// <summary>Why a rule that gives this act to a gesture cannot work; null where it can.</summary>
    public string? WhyNotBy(GestureKind gesture, Places on, string? text)
    {
        if (!Sources.HasFlag(ActSources.Gesture)) return $"the act '{Name}' is one of a key press or a call";
        if (GoesOn && !BegunBy.Contains(gesture))
            return $"the act '{Name}' goes on while a pointer is down, and is begun by {Listed(BegunBy)}";
        if (text is not null && Names is null) return $"the act '{Name}' names nothing, and the rule names '{text}'";
        if (text is not null) return null;
        if (On is { } parts && (on & ~parts) != 0)
            return $"the act '{Name}' needs {(Names is null ? $"a gesture on {parts}" : $"{Names}: name it in the rule's Text, or let the rule be for {parts} alone")}";
        return On is null && Names is not null ? $"the act '{Name}' needs {Names}: name it in the rule's Text" : null;
    }

    /// <summary>Why a rule that gives this act to a key cannot work; null where it can.</summary>
    public string? WhyNotBy(Step step, string? text)
    {
        if (!Sources.HasFlag(ActSources.Key)) return $"the act '{Name}' is one of a pointer or a call";
        if (NeedsStep && step == Step.None) return $"the act '{Name}' needs a step: where it goes from the cursor";
        if (text is not null && Names is null) return $"the act '{Name}' names nothing, and the rule names '{text}'";
        return Kind == ActKind.RunCommand && text is null ? $"the act '{Name}' needs {Names}: name it in the rule's Text" : null;
    }

    private static string Listed(ImmutableArray<GestureKind> kinds) => string.Join(" or ", kinds);
}
