namespace Lectica.Acts;

/// <summary>What a gesture, a key or a call means under a list's rules.</summary>
public enum ActKind
{
    /// <summary>The cursor goes there; the selection stays.</summary>
    MoveCursor,

    /// <summary>That item alone is selected; it becomes anchor and cursor.</summary>
    Select,

    /// <summary>That item is selected if nothing or something else was; if it is part of the selection, all of it stays.</summary>
    SelectUnlessSelected,

    /// <summary>That item joins the selection, if it is not in it already; it becomes anchor and cursor.</summary>
    Add,

    /// <summary>That item joins or leaves the selection; it becomes anchor and cursor.</summary>
    Toggle,

    /// <summary>The selection becomes the range from the anchor to there.</summary>
    Extend,

    /// <summary>
    /// The selection is as it was when the anchor was set, with the range from the anchor to there put to the anchor's state.
    /// </summary>
    ExtendAdding,

    /// <summary>All items that show and are enabled.</summary>
    SelectAll,

    /// <summary>Selects all that show and are enabled, or takes them all out if they are all in.</summary>
    ToggleAll,

    /// <summary>Nothing selected.</summary>
    Clear,

    /// <summary>Every item that shows and is enabled changes sides.</summary>
    Invert,

    /// <summary>The app is told to open that item, or whatever its default is.</summary>
    Activate,

    /// <summary>Taps begin to toggle.</summary>
    BeginSelecting,

    /// <summary>Taps no longer toggle.</summary>
    EndSelecting,

    /// <summary>A printable character was typed, to find an item by.</summary>
    Type,

    /// <summary>The cursor goes to another part of its row.</summary>
    MovePart,

    /// <summary>What a tap on the part at the cursor would do.</summary>
    PressPart,

    /// <summary>The list follows a finger down beyond its top; let go far enough, it is read again.</summary>
    Pull,

    /// <summary>The row follows the pointer and uncovers its tray.</summary>
    OpenTray,

    /// <summary>The open tray closes.</summary>
    CloseTray,

    /// <summary>The command of the open tray that was tapped, or that the row was swiped through to, is invoked.</summary>
    InvokeTray,

    /// <summary>The app is asked to show a menu for that item, or for the selection if it is in it.</summary>
    OpenMenu,

    /// <summary>The menu closes.</summary>
    CloseMenu,

    /// <summary>That item is taken up, or the selection if it is in it, to land in another gap.</summary>
    Grab,

    /// <summary>
    /// The first row is toggled, and each row that the pointer passes gets the same state; after a long press they are added.
    /// </summary>
    Sweep,

    /// <summary>The rows in the rectangle are selected.</summary>
    Marquee,

    /// <summary>The rows in the rectangle join the selection.</summary>
    MarqueeAdding,

    /// <summary>The rows in the rectangle change sides.</summary>
    MarqueeToggling,

    /// <summary>What is being dragged or swiped goes back, as if it had not begun.</summary>
    Cancel,

    /// <summary>The entry of the open menu that was tapped is chosen.</summary>
    ChooseEntry,

    /// <summary>A command runs.</summary>
    RunCommand,

    /// <summary>A mark of that item changes sides; of the selection, if the item is in it and a key did it.</summary>
    ToggleMark,

    /// <summary>A section or a branch collapses, or expands again.</summary>
    CollapseOrExpand,

    /// <summary>All items of a section are selected, or taken out if they are all in.</summary>
    ToggleSection,

    /// <summary>What failed is tried again.</summary>
    Retry,

    /// <summary>The last thing that can be taken back is.</summary>
    Undo,

    /// <summary>The last thing that was taken back is done again.</summary>
    Redo,

    /// <summary>What is grabbed comes over another gap.</summary>
    Hover,

    /// <summary>What is grabbed lands in its gap.</summary>
    Drop,

    /// <summary>What is grabbed without a pointer goes back, as if it had not been taken up.</summary>
    DropBack,

    /// <summary>Items go to another gap at once.</summary>
    Move,

    /// <summary>What the app gives of the target goes to the clipboard.</summary>
    Copy,

    /// <summary>The same, and then the target goes, by the app's command for that.</summary>
    Cut,

    /// <summary>The app takes in what is on the clipboard, where the target ends.</summary>
    Paste,

    /// <summary>In an outline: the branch at the cursor expands; where it is expanded the cursor goes to its first child.</summary>
    GoInward,

    /// <summary>
    /// In an outline: the branch at the cursor collapses; where it is none the cursor goes to the item that it lies below.
    /// </summary>
    GoOutward,

    /// <summary>The list is sorted by a column: up, down, and then not.</summary>
    SortBy,

    /// <summary>An item and all that is below it are selected, or taken out if they are all in.</summary>
    ToggleBranch,
}

/// <summary>Where a key goes from the cursor, in rows on show.</summary>
public enum Direction
{
    /// <summary>None: the act names its item, or needs none.</summary>
    None,

    /// <summary>The cursor's own row.</summary>
    Here,

    /// <summary>One row up.</summary>
    Previous,

    /// <summary>One row down.</summary>
    Next,

    /// <summary>The first row.</summary>
    First,

    /// <summary>The last row.</summary>
    Last,

    /// <summary>A page up.</summary>
    PageUp,

    /// <summary>A page down.</summary>
    PageDown,

    /// <summary>In tiles: one line up, in the column.</summary>
    Up,

    /// <summary>In tiles: one line down, in the column.</summary>
    Down,

    /// <summary>In tiles: the first of the line.</summary>
    LineStart,

    /// <summary>In tiles: the last of the line.</summary>
    LineEnd,

    /// <summary>In an outline: one level in, below the item above.</summary>
    Inward,

    /// <summary>In an outline: one level out.</summary>
    Outward,

    /// <summary>One part to the left.</summary>
    PartLeft,

    /// <summary>One part to the right.</summary>
    PartRight,

    /// <summary>The leading part.</summary>
    FirstPart,

    /// <summary>The trailing part.</summary>
    LastPart,
}

/// <summary>One act.</summary>
/// <param name="Kind">What is to be done.</param>
/// <param name="Index">To which item; -1 for none.</param>
/// <param name="Rule">The rule that gave it; <c>call</c> for the program's own.</param>
/// <param name="Text">What was typed; of a command its id, of a mark its name, of a section its key.</param>
public readonly record struct Act(ActKind Kind, int Index = -1, string Rule = "call", string? Text = null)
{
    /// <summary>The act's name in traces, such as <c>select-all</c>.</summary>
    public string Name => ActNames.Of(Kind);

    /// <summary>Whether it is done to one item, and so is refused without one.</summary>
    public bool NeedsItem => ActTraits.Of(Kind).NeedsItem;

    /// <summary>Whether it goes on while a pointer is down: only a gesture that does can begin it.</summary>
    public bool GoesOn => ActTraits.Of(Kind).GoesOn;
}

/// <summary>The acts' names as traces and tables write them.</summary>
public static class ActNames
{
    /// <summary>Such as <c>select-all</c>.</summary>
    public static string Of(ActKind kind) => ActTraits.Of(kind).Name;

    /// <summary>The act of this name, or null.</summary>
    public static ActKind? Find(string name) => ActTraits.All.FirstOrDefault(t => t.Name == name)?.Kind;

    /// <summary>All names, in the order of <see cref="ActKind"/>.</summary>
    public static IReadOnlyList<string> All => [.. ActTraits.All.Select(t => t.Name)];
}
