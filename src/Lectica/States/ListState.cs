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
internal sealed partial record ListState
{
    private Caption _caption = null!;
    private Declared _declared = null!;
    private Table _table = null!;
    private Showing _showing = null!;
    private Footer _footer = null!;
    private Window _window = null!;
    private Selection _selection = null!;
    private Reading _reading = null!;
    private MarkSets _marks = null!;
    private KeyFocus _focus;
    private ImmutableArray<(int Index, Part Part)> _pressed;
    private Stroke? _stroke;
    private DragSelection _drag = null!;
    private Swipe? _tray;
    private Carrying _carrying = null!;
    private MenuState _menu = null!;
    private FindState _find = null!;
    private Filling? _filling;
    private Feedback _feedback = null!;
    private ImmutableList<CommandRun> _runs = null!;
    private History _history = null!;

    /// <summary>The title and the line under it.</summary>
    public required Caption Caption { get => _caption; init => _caption = value; }

    /// <summary>What the app has declared: marks, trays.</summary>
    public required Declared Declared { get => _declared; init => _declared = value; }

    /// <summary>The columns that rows have.</summary>
    public required Table Table { get => _table; init => _table = value; }

    /// <summary>Which items show, in which order.</summary>
    public required Showing Showing { get => _showing; init => _showing = value; }

    /// <summary>What comes after the items.</summary>
    public required Footer Footer { get => _footer; init => _footer = value; }

    /// <summary>Where rows are, and through which window they are seen.</summary>
    public required Window Window { get => _window; init => _window = value; }

    /// <summary>What is selected, with anchor and cursor.</summary>
    public required Selection Selection { get => _selection; init => _selection = value; }

    /// <summary>What has been read, where not all items are in memory.</summary>
    public required Reading Reading { get => _reading; init => _reading = value; }

    /// <summary>Which items have which marks.</summary>
    public required MarkSets Marks { get => _marks; init => _marks = value; }

    /// <summary>Where the keyboard is.</summary>
    public required KeyFocus Focus { get => _focus; init => _focus = value; }

    /// <summary>The items on which pointers are down, as was told.</summary>
    public required ImmutableArray<(int Index, Part Part)> Pressed { get => _pressed; init => _pressed = value; }

    /// <summary>What a pointer drags; null where none does.</summary>
    public required Stroke? Stroke { get => _stroke; init => _stroke = value; }

    /// <summary>What is being selected by dragging.</summary>
    public required DragSelection Drag { get => _drag; init => _drag = value; }

    /// <summary>The row that is swiped, or whose tray is open.</summary>
    public required Swipe? Tray { get => _tray; init => _tray = value; }

    /// <summary>What is taken up, here or over this list from another.</summary>
    public required Carrying Carrying { get => _carrying; init => _carrying = value; }

    /// <summary>The menu that is open.</summary>
    public required MenuState Menu { get => _menu; init => _menu = value; }

    /// <summary>What is searched for by typing.</summary>
    public required FindState Find { get => _find; init => _find = value; }

    /// <summary>Items that are being brought in; null where none are.</summary>
    public required Filling? Filling { get => _filling; init => _filling = value; }

    /// <summary>What shows for a moment.</summary>
    public required Feedback Feedback { get => _feedback; init => _feedback = value; }

    /// <summary>The commands under way.</summary>
    public required ImmutableList<CommandRun> Runs { get => _runs; init => _runs = value; }

    /// <summary>What can be taken back, and done again.</summary>
    public required History History { get => _history; init => _history = value; }

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
        Filling = null,
        Feedback = Feedback.Nothing,
        Runs = [],
        History = History.Empty,
    };

    /// <summary>A copy that nobody else has: the commit's own, in which slots follow and settle until it is the next state.</summary>
    public ListState Draft() => this with { };

    /// <summary>What may be selected.</summary>
    public SelectionRules Rules(ListOptions options) =>
        new(Showing.Rows, Showing.Barred, options.Policy, options.Limit, options.KeepsHiddenSelected);
}
