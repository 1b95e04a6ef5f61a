using System.Collections.Immutable;
using System.Text.Json;
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
/// <param name="NeedsItem">Whether it is done to one item, and so is refused without one.</param>
/// <param name="Sources">From what it can come.</param>
internal sealed record ActTraits(ActKind Kind, bool NeedsItem = false, ActSources Sources = ActSources.All)
{
    /// <summary>Its name in traces and tables.</summary>
    public string Name { get; } = JsonNamingPolicy.KebabCaseLower.ConvertName(Kind.ToString());

    /// <summary>The gestures that can begin it, where it goes on while a pointer is down.</summary>
    public ImmutableArray<GestureKind> BegunBy { get; init; } = [];

    /// <summary>Where a gesture must be for it: what the part names is what it is done to. Everywhere where null.</summary>
    public HitAreas? On { get; init; }

    /// <summary>What a rule must name for it where the part does not, such as a mark; null for nothing.</summary>
    public string? Names { get; init; }

    /// <summary>Whether it can be done to an item that a paged list has not read: then its place is enough.</summary>
    public bool TakesUnread { get; init; }

    /// <summary>Whether a rule for a key must say where the cursor goes.</summary>
    public bool NeedsDirection { get; init; }

    /// <summary>Whether it goes on while a pointer is down.</summary>
    public bool GoesOn => !BegunBy.IsEmpty;

    /// <summary>Whether it ends what is open over the rows or carried.</summary>
    public bool Ends { get; init; }

    /// <summary>All acts.</summary>
    public static ImmutableArray<ActTraits> All { get; } =
    [
        new(ActKind.MoveCursor, true) { TakesUnread = true },
        new(ActKind.Select, true) { TakesUnread = true },
        new(ActKind.SelectUnlessSelected, true) { TakesUnread = true },
        new(ActKind.Add, true) { TakesUnread = true },
        new(ActKind.Toggle, true) { TakesUnread = true },
        new(ActKind.Extend, true) { TakesUnread = true },
        new(ActKind.ExtendAdding, true) { TakesUnread = true },
        new(ActKind.SelectAll),
        new(ActKind.ToggleAll),
        new(ActKind.Clear),
        new(ActKind.Invert),
        new(ActKind.Activate, true),
        new(ActKind.BeginSelecting),
        new(ActKind.EndSelecting),
        new(ActKind.Type, Sources: 0),
        new(ActKind.MovePart, Sources: ActSources.Key) { NeedsDirection = true },
        new(ActKind.PressPart, Sources: ActSources.Key),
        new(ActKind.Pull, Sources: ActSources.Gesture) { BegunBy = [GestureKind.Pull] },
        new(ActKind.OpenTray, true, ActSources.Gesture) { BegunBy = [GestureKind.Swipe] },
        new(ActKind.CloseTray) { Ends = true },
        new(ActKind.InvokeTray, true, ActSources.Gesture) { On = HitAreas.Tray },
        new(ActKind.OpenMenu, true),
        new(ActKind.CloseMenu) { Ends = true },
        new(ActKind.Grab, true, ActSources.Gesture | ActSources.Key)
        {
            BegunBy = [GestureKind.Drag, GestureKind.HoldDrag, GestureKind.LongPress],
        },
        new(ActKind.Sweep, true, ActSources.Gesture) { TakesUnread = true, BegunBy = [GestureKind.Drag, GestureKind.HoldDrag] },
        new(ActKind.Marquee, Sources: ActSources.Gesture) { BegunBy = [GestureKind.Drag, GestureKind.HoldDrag] },
        new(ActKind.MarqueeAdding, Sources: ActSources.Gesture) { BegunBy = [GestureKind.Drag, GestureKind.HoldDrag] },
        new(ActKind.MarqueeToggling, Sources: ActSources.Gesture) { BegunBy = [GestureKind.Drag, GestureKind.HoldDrag] },
        new(ActKind.Cancel),
        new(ActKind.ChooseEntry, Sources: ActSources.Gesture) { On = HitAreas.MenuEntry },
        new(ActKind.RunCommand, Sources: ActSources.Gesture | ActSources.Key) { Names = "a command" },
        new(ActKind.ToggleMark, true, ActSources.Gesture | ActSources.Key) { On = HitAreas.Mark, Names = "a mark" },
        new(ActKind.CollapseOrExpand, Sources: ActSources.Gesture) { On = HitAreas.Heading | HitAreas.HeadingCheck | HitAreas.Expander },
        new(ActKind.ToggleSection, Sources: ActSources.Gesture) { On = HitAreas.Heading | HitAreas.HeadingCheck },
        new(ActKind.Retry),
        new(ActKind.Undo),
        new(ActKind.Redo),
        new(ActKind.Hover, Sources: ActSources.Gesture | ActSources.Key) { NeedsDirection = true },
        new(ActKind.Drop) { Ends = true },
        new(ActKind.DropBack) { Ends = true },
        new(ActKind.Move, Sources: ActSources.Key) { NeedsDirection = true },
        new(ActKind.Copy),
        new(ActKind.Cut),
        new(ActKind.Paste),
        new(ActKind.GoInward, Sources: ActSources.Key),
        new(ActKind.GoOutward, Sources: ActSources.Key),
        new(ActKind.SortBy) { Names = "a column" },
        new(ActKind.ToggleBranch, true),
    ];

    private static readonly Dictionary<ActKind, ActTraits> ByKind = All.ToDictionary(t => t.Kind);

    /// <summary>The traits of an act.</summary>
    public static ActTraits Of(ActKind kind) => ByKind[kind];

    /// <summary>Why a rule that gives this act to a gesture cannot work; null where it can.</summary>
    public string? WhyNotBy(GestureKind gesture, HitAreas on, string? text)
    {
        if (!Sources.HasFlag(ActSources.Gesture)) return $"the act '{Name}' is one of a key press or a call";
        if (GoesOn && !BegunBy.Contains(gesture))
            return $"the act '{Name}' goes on while a pointer is down, and is begun by {Listed(BegunBy)}";
        if (text is not null && Names is null) return $"the act '{Name}' names nothing, and the rule names '{text}'";
        if (text is not null) return null;
        if (On is { } parts && (on & ~parts) != 0)
            return Names is null ? $"the act '{Name}' needs a gesture on {parts}"
                : $"the act '{Name}' needs {Names}: name it in the rule's Text, or let the rule be for {parts} alone";
        return On is null && Names is not null ? $"the act '{Name}' needs {Names}: name it in the rule's Text" : null;
    }

    /// <summary>Why a rule that gives this act to a key cannot work; null where it can.</summary>
    public string? WhyNotBy(Direction direction, string? text)
    {
        if (!Sources.HasFlag(ActSources.Key)) return $"the act '{Name}' is one of a pointer or a call";
        if (NeedsDirection && direction == Direction.None) return $"the act '{Name}' needs a direction: where it goes from the cursor";
        if (text is not null && Names is null) return $"the act '{Name}' names nothing, and the rule names '{text}'";
        return Kind == ActKind.RunCommand && text is null ? $"the act '{Name}' needs {Names}: name it in the rule's Text" : null;
    }

    private static string Listed(ImmutableArray<GestureKind> kinds) => string.Join(" or ", kinds);
}
