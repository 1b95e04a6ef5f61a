using System.Globalization;
using Lectica.Acts;
using Lectica.Gestures;
using Lectica.Input;
using Lectica.Layout;

namespace Lectica;

/// <summary>How a list behaves and lies. All have defaults; a list keeps them for its life.</summary>
public sealed record ListOptions
{
    private readonly double? _rowHeight, _headingHeight;
    private readonly ListLayout _layout = ListLayout.Rows;
    private readonly KeyTable _keys = KeyTable.Moving;
    private KeyTable? _keysLaid;
    private readonly ModKey? _modKey;

    /// <summary>The defaults.</summary>
    public static ListOptions Default { get; } = new();

    /// <summary>How many items may be selected.</summary>
    public SelectionMode Mode { get; init; } = SelectionMode.Single;

    /// <summary>The most items that may be selected at once in mode multiple.</summary>
    public int Limit { get; init; } = int.MaxValue;

    /// <summary>Whether items that a filter hides stay selected. Otherwise they leave the selection as they hide.</summary>
    public bool KeepsHiddenSelected { get; init; }

    /// <summary>Whether taps toggle from the start and always, as in a check list.</summary>
    public bool AlwaysSelecting { get; init; }

    /// <summary>Whether the selecting state ends when nothing is selected any more.</summary>
    public bool EndsSelectingWhenEmpty { get; init; }

    /// <summary>What gestures mean.</summary>
    public GestureTable Gestures { get; init; } = GestureTable.Default;

    /// <summary>
    /// What keys mean. In tiles arrows go in both directions, in a strip along it: see <see cref="KeyTable.InTiles"/> and
    /// <see cref="KeyTable.InStrip"/>.
    /// </summary>
    public KeyTable Keys
    {
        get => Layout switch { Tiles => _keysLaid ??= _keys.InTiles(), Strip => _keysLaid ??= _keys.InStrip(), _ => _keys };
        init => (_keys, _keysLaid) = (value, null);
    }

    /// <summary>How items lie.</summary>
    public ListLayout Layout
    {
        get => _layout;
        init => (_layout, _keysLaid) = (value, null);
    }

    /// <summary>
    /// Which key is Mod. Where it is not set: what the host says (<see cref="IHostedList.UseModKey"/>), and else that of the system which
    /// the app runs on.
    /// </summary>
    public ModKey ModKey
    {
        get => _modKey ?? HostModKey ?? SystemModKey;
        init => _modKey = value;
    }

    /// <summary>What the host has said, for users who sit at another system than the app's.</summary>
    internal ModKey? HostModKey { get; init; }

    private static ModKey SystemModKey { get; } =
        OperatingSystem.IsMacOS() || OperatingSystem.IsIOS() || OperatingSystem.IsMacCatalyst() ? ModKey.Meta : ModKey.Ctrl;

    /// <summary>The limits of recognition and of swiping and dragging.</summary>
    public Thresholds Thresholds { get; init; } = Thresholds.Default;

    /// <summary>What a long press means.</summary>
    public LongPressMeaning LongPress { get; init; }

    /// <summary>The mark that Space toggles in the toggling key table, instead of the selection; null where Space selects.</summary>
    public string? SpaceMark { get; init; }

    /// <summary>
    /// Whether a move by hand or from the menu, also to another list, shows a brief notice that offers to take it back, for who has no
    /// keys. Where a source stores it, the notice comes once that is done.
    /// </summary>
    public bool NoticesMoves { get; init; }

    /// <summary>How many steps can be taken back. One that is more than 65,536 edits of the source back is let go.</summary>
    public int UndoDepth { get; init; } = 100;

    /// <summary>How long a brief notice shows, ms; one that offers to take something back shows twice as long.</summary>
    public double NoticeTime { get; init; } = 4000;

    /// <summary>All words that are shown and said; those of the list's culture where null.</summary>
    [System.Diagnostics.CodeAnalysis.AllowNull]
    public Phrases Phrases
    {
        get => field ?? Phrases.For(Culture ?? CultureInfo.CurrentUICulture);
        init;
    }

    /// <summary>
    /// Whether items may be moved. A source that is a list and can be written, such as an <c>ObservableCollection</c>, is moved by the list
    /// itself, which then raises <c>Moved</c>; an app that listens to <c>MoveRequested</c> moves its source itself.
    /// </summary>
    public bool MayMove { get; init; }

    /// <summary>
    /// How far each level of an outline is indented, px; all levels together take a third of the width at most. A drag to the side by as
    /// much goes one level in or out.
    /// </summary>
    public double Indent { get; init; } = 24;

    /// <summary>Whether the menu offers to move items without dragging, where they may move (WCAG 2.5.7).</summary>
    public bool MovesInMenu { get; init; } = true;

    /// <summary>Whether the menu offers to copy, cut and paste, where the app gives or takes something.</summary>
    public bool ClipboardInMenu { get; init; } = true;

    /// <summary>
    /// Whether a mouse drags rows out of the list too, into other programs, where the app gives something of its items: the drag is then
    /// the system's, and looks as the system has it.
    /// </summary>
    public bool DragsOut { get; init; }

    /// <summary>Whether the user wishes for less motion: rows then settle at once.</summary>
    public bool ReducedMotion { get; init; }

    /// <summary>
    /// Whose timers call the list back at its deadlines, on its own context. A list that belongs to a bare thread cannot be called back:
    /// its host calls <c>Advance</c>, at <c>NextDeadline</c> or later.
    /// </summary>
    public TimeProvider Time { get; init; } = TimeProvider.System;

    /// <summary>Which parts rows have besides their body.</summary>
    public RowParts Parts { get; init; } = new();

    /// <summary>How much room rows have. With a finger the parts of compact ones are lower than the 44 px of WCAG 2.5.5.</summary>
    public Density Density { get; init; }

    /// <summary>
    /// The height of an item's row at the usual size of text, px: 52, or 40 where rows are compact. Where a host measures rows, the height
    /// of those that it has not measured yet.
    /// </summary>
    public double RowHeight
    {
        get => _rowHeight ?? (Density == Density.Compact ? 40 : 52);
        init => _rowHeight = value;
    }

    /// <summary>The height of a section's heading at the usual size of text, px: 36, or 28 where rows are compact.</summary>
    public double HeadingHeight
    {
        get => _headingHeight ?? (Density == Density.Compact ? 28 : 36);
        init => _headingHeight = value;
    }

    /// <summary>Whether the heading of the section at the top stays there while its rows scroll under it.</summary>
    public bool HasStickyHeadings { get; init; }

    /// <summary>
    /// A list that is narrower than this, px, leaves out handles and, where a long press opens the menu, the buttons for it: their room is
    /// the words'. 0 for never.
    /// </summary>
    public double NarrowWidth { get; init; }

    /// <summary>The height of the row that says why a list shows nothing, px: room for a sign and some words.</summary>
    public double NoticeHeight { get; init; } = 132;

    /// <summary>
    /// In a window no wider than this, px, a menu that a finger opens is a sheet at its bottom, where a thumb reaches it; 0 for never. Null
    /// is 480 where the host tells of its window, as the Razor components do.
    /// </summary>
    public double? SheetWidth { get; init; }

    /// <summary>The window through which the rows are seen at first; a host sets it later by <c>Resize</c> and <c>ScrollTo</c>.</summary>
    public Viewport Viewport { get; init; } = Viewport.Default;

    /// <summary>
    /// How far beyond the viewport's top and bottom frames have rows, px: for hosts that scroll by themselves between two frames.
    /// </summary>
    public double Overscan { get; init; }

    /// <summary>How near the end comes, px below the viewport, when the app is asked for more.</summary>
    public double MoreWithin { get; init; } = 400;

    /// <summary>How many items a paged list reads at a time; 1 to 10,000.</summary>
    public int PageSize { get; init; } = 100;

    /// <summary>
    /// How many pages a paged list keeps around the window; 2 or more. What it reads lies no further from the window than half of them.
    /// </summary>
    public int PagesKept { get; init; } = 20;

    /// <summary>Whether the list runs from right to left.</summary>
    public bool IsRightToLeft { get; init; }

    /// <summary>By whose rules typed characters are compared; the current culture where null.</summary>
    public CultureInfo? Culture { get; init; }

    /// <summary>
    /// Whether keys are checked when items come in, which costs a key and a table entry an item. Otherwise they are when one is first
    /// asked for, and a duplicate is found only then.
    /// </summary>
    public bool ChecksKeys { get; init; } = true;

    /// <summary>The list's title.</summary>
    public string? Title { get; init; }

    /// <summary>The highest that a row or heading may be, px.</summary>
    public const double HighestRow = ListLayout.Highest;

    /// <summary>What the mode allows.</summary>
    public SelectionPolicy Policy => SelectionPolicy.For(Mode);

    /// <summary>Throws where a value is out of bounds, with the option as the parameter.</summary>
    /// <exception cref="ArgumentOutOfRangeException">A value is out of bounds.</exception>
    /// <exception cref="ArgumentException">A rule for a gesture or key cannot work; the message names it.</exception>
    public void Validate()
    {
        _ = Policy;
        if (Limit < 1)
            throw new ArgumentOutOfRangeException(nameof(Limit), Limit, "A limit is at least 1; for no selection there is mode none.");
        if (!IsHeight(HeadingHeight))
            throw new ArgumentOutOfRangeException(
                nameof(HeadingHeight), HeadingHeight, $"A heading is higher than 0 px, and {HighestRow} px at most.");
        if (!IsHeight(NoticeHeight))
            throw new ArgumentOutOfRangeException(
                nameof(NoticeHeight), NoticeHeight, $"A notice is higher than 0 px, and {HighestRow} px at most.");
        if (!(NarrowWidth >= 0))
            throw new ArgumentOutOfRangeException(nameof(NarrowWidth), NarrowWidth, "A list counts as narrow below 0 px or more.");
        if (SheetWidth is { } sheet && !(sheet >= 0))
            throw new ArgumentOutOfRangeException(nameof(SheetWidth), SheetWidth, "A window is 0 px wide or more.");
        if (!IsHeight(RowHeight))
            throw new ArgumentOutOfRangeException(nameof(RowHeight), RowHeight, $"A row is higher than 0 px, and {HighestRow} px at most.");
        if (!(Viewport.Width > 0) || !(Viewport.Height > 0) || !double.IsFinite(Viewport.Width) || !double.IsFinite(Viewport.Height))
            throw new ArgumentOutOfRangeException(nameof(Viewport), Viewport, "A viewport is wider and higher than 0 px.");
        if (!(Overscan >= 0) || !double.IsFinite(Overscan))
            throw new ArgumentOutOfRangeException(nameof(Overscan), Overscan, "Rows are drawn 0 px or more beyond the viewport.");
        if (!(MoreWithin >= 0)) throw new ArgumentOutOfRangeException(nameof(MoreWithin), MoreWithin, "The end comes within 0 px or more.");
        if (PageSize is < 1 or > 10_000) throw new ArgumentOutOfRangeException(nameof(PageSize), PageSize, "A page has 1 to 10,000 items.");
        if (PagesKept is < 2 or > 10_000)
            throw new ArgumentOutOfRangeException(nameof(PagesKept), PagesKept, "2 to 10,000 pages are kept.");
        Thresholds.Validate();
        Gestures.Validate();
        Keys.Validate();
        if (Layout.WhyNot(Viewport.Width) is { } why) throw new ArgumentOutOfRangeException(nameof(Layout), Layout, why);
        if (Layout is Tiles && Keys.Rules.Any(r => r.Acts.Contains(ActKind.MovePart)))
            throw new ArgumentOutOfRangeException(nameof(Layout), Layout,
                $"The key table '{Keys.Name}' goes from part to part by keys that go from tile to tile here: give another, such as " +
                    "KeyTable.Moving.");
        if (UndoDepth < 0) throw new ArgumentOutOfRangeException(nameof(UndoDepth), UndoDepth, "A history holds 0 steps or more.");
        if (!(NoticeTime > 0) || double.IsNaN(NoticeTime))
            throw new ArgumentOutOfRangeException(nameof(NoticeTime), NoticeTime, "A notice shows longer than 0 ms.");
        if (!(Parts.Width >= 24))
            throw new ArgumentOutOfRangeException(nameof(Parts), Parts.Width, "A part is at least 24 px wide (WCAG 2.5.8).");
    }

    /// <summary>Whether a row may be so high, px.</summary>
    internal static bool IsHeight(double height) => height > 0 && height <= HighestRow;
}

/// <summary>How much room rows have.</summary>
public enum Density
{
    /// <summary>Enough for a finger.</summary>
    Roomy,

    /// <summary>More rows in the same place, for a mouse.</summary>
    Compact,
}
