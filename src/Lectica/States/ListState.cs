using System.Collections.Immutable;
using Lectica.Layout;
using Lectica.Selecting;
using Lectica.Swiping;

namespace Lectica.States;

/// <summary>
/// All that a list knows of its items and of what is going on, as one value. Whatever changes gives another; only the commit puts it in
/// place of the one before. Each property is a slot of <see cref="Slots"/>, which says how it follows an edit, how it settles and when it
/// is due. Items are named by their indexes; the items themselves are the source's.
/// </summary>
internal sealed record ListState
{
    /// <summary>The title and the line under it.</summary>
    public required Caption Caption { get; init; }

    /// <summary>What the app has declared: marks, trays.</summary>
    public required Declared Declared { get; init; }

    /// <summary>The columns that rows have.</summary>
    public required Table Table { get; init; }

    /// <summary>Which items show, in which order.</summary>
    public required Showing Showing { get; init; }

    /// <summary>What comes after the items.</summary>
    public required Footer Footer { get; init; }

    /// <summary>Where rows are, and through which window they are seen.</summary>
    public required Window Window { get; init; }

    /// <summary>What is selected, with anchor and cursor.</summary>
    public required Selection Selection { get; init; }

    /// <summary>What has been read, where not all items are in memory.</summary>
    public required Reading Reading { get; init; }

    /// <summary>Which items have which marks.</summary>
    public required MarkSets Marks { get; init; }

    /// <summary>Where the keyboard is.</summary>
    public required KeyFocus Focus { get; init; }

    /// <summary>The items on which pointers are down, as was told.</summary>
    public required ImmutableArray<(int Index, Part Part)> Pressed { get; init; }

    /// <summary>What a pointer drags; null where none does.</summary>
    public required Stroke? Stroke { get; init; }

    /// <summary>What is being selected by dragging.</summary>
    public required DragSelection Drag { get; init; }

    /// <summary>The row that is swiped, or whose tray is open.</summary>
    public required Swipe? Tray { get; init; }

    /// <summary>What is taken up, here or over this list from another.</summary>
    public required Carrying Carrying { get; init; }

    /// <summary>The menu that is open.</summary>
    public required MenuState Menu { get; init; }

    /// <summary>What is searched for by typing.</summary>
    public required FindState Find { get; init; }

    /// <summary>What shows for a moment.</summary>
    public required Feedback Feedback { get; init; }

    /// <summary>The commands under way.</summary>
    public required ImmutableList<CommandRun> Runs { get; init; }

    /// <summary>What can be taken back, and done again.</summary>
    public required History History { get; init; }

    /// <summary>The number of items.</summary>
    public int Count => Showing.Shown.Universe;

    /// <summary>A list without items.</summary>
    public static ListState Empty(ListOptions options) => Of(Showing.Nothing(options.Phrases), options);

    private static ListState Of(Showing nothing, ListOptions options) => new()
    {
        Caption = new(options.Title, null),
        Declared = Declared.Nothing,
        Table = Table.None,
        Showing = nothing,
        Footer = Footer.Nothing,
        Window = Window.Over(nothing.Rows, options),
        Selection = Selection.Nothing(0) with { IsSelecting = options.AlwaysSelecting },
        Reading = Reading.AllInMemory,
        Marks = MarkSets.None,
        Focus = default,
        Pressed = [],
        Stroke = null,
        Drag = DragSelection.None,
        Tray = null,
        Carrying = Carrying.Nothing,
        Menu = MenuState.Closed,
        Find = FindState.Nothing,
        Feedback = Feedback.Nothing,
        Runs = [],
        History = History.Empty,
    };

    /// <summary>What may be selected.</summary>
    public SelectionRules Rules(ListOptions options) => new(Showing.Rows, Showing.Barred, options.Policy, options.Limit, options.KeepsHiddenSelected);
}
