using System.Collections.Immutable;
using Lectica.Commands;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Marking;
using Lectica.Selecting;
using Lectica.Swiping;

namespace Lectica.Frames;

/// <summary>
/// What a frame is made of. A list has one, which it fills again for each frame: a frame in which all rows are others makes nothing but
/// them.
/// </summary>
internal sealed record FrameInput
{
    /// <summary>The rows as they lie, or would lie if what is grabbed were dropped.</summary>
    public RowPlane Plane { get; set; } = null!;

    /// <summary>What is selected, or would be, and the cursor.</summary>
    public Selection Selection { get; set; } = null!;

    /// <summary>What may be selected.</summary>
    public SelectionRules Rules { get; set; }

    /// <summary>What the item with an index says.</summary>
    public Func<int, RowContent> ContentOf { get; set; } = null!;

    /// <summary>The key of the item with an index, as text.</summary>
    public Func<int, string?> KeyTextOf { get; set; } = null!;

    /// <summary>Whether the item with an index is at hand.</summary>
    public Func<int, bool> IsRead { get; set; } = null!;

    /// <summary>How many have a mark on an item, given its name, the item, and whether it shows as on; null where nobody counts.</summary>
    public Func<string, int, bool, int?>? CountOf { get; set; }

    /// <summary>What a row says whose item is being read.</summary>
    public string PendingText { get; set; } = null!;

    /// <summary>The items that could not be read.</summary>
    public ItemSet Failed { get; set; } = null!;

    /// <summary>What their rows say.</summary>
    public string? FailedText { get; set; }

    /// <summary>How a browser may use touches on a part itself.</summary>
    public Func<PartKind, string> TouchActionOf { get; set; } = null!;

    /// <summary>The rows as they are while the plane has them as they would be; null where these are the same.</summary>
    public RowMap? Before { get; set; }

    /// <summary>Where those lie; null where there are none.</summary>
    public RowGeometry? GeometryBefore { get; set; }

    /// <summary>The items and parts that pointers are down on.</summary>
    public IReadOnlyList<(int Index, Part Part)> Pressed { get; set; } = null!;

    /// <summary>The part the keyboard is on, in lists with a part cursor.</summary>
    public Part? CursorPart { get; set; }

    /// <summary>Whether the state in which taps select can be left.</summary>
    public bool MayEndSelecting { get; set; }

    /// <summary>Whether the list has the keyboard.</summary>
    public bool HasFocus { get; set; }

    /// <summary>Whether the cursor has a ring.</summary>
    public bool ShowsRing { get; set; }

    /// <summary>The columns.</summary>
    internal Table Table { get; set; } = Table.None;

    /// <summary>What they say of the item with an index.</summary>
    public Func<int, ImmutableArray<string>>? CellsOf { get; set; }

    /// <summary>Whether a press on a column's header sorts by it.</summary>
    public Func<string, bool>? SortsBy { get; set; }

    /// <summary>The column on whose header the keyboard is; -1 for none.</summary>
    public int HeaderCursor { get; set; } = -1;

    /// <summary>The list's title.</summary>
    public string? Title { get; set; }

    /// <summary>The line under it.</summary>
    public string? Subtitle { get; set; }

    /// <summary>The row that is swiped, or whose tray is open.</summary>
    public Swipe? Swipe { get; set; }

    /// <summary>How rows swipe.</summary>
    public SwipePhysics Physics { get; set; } = null!;

    /// <summary>The rectangle that is being dragged.</summary>
    public Marquee? Marquee { get; set; }

    /// <summary>What a pull uncovers above the rows.</summary>
    public PullFrame? Pull { get; set; }

    /// <summary>The items that are grabbed.</summary>
    public ItemSet? Grabbed { get; set; }

    /// <summary>The one of them that was taken hold of; -1 where it is another list's.</summary>
    public int Taken { get; set; } = -1;

    /// <summary>What is drawn of them; its places are filled in.</summary>
    public GrabFrame? Grab { get; set; }

    /// <summary>The gap of the plane in which they would land.</summary>
    public Gap Gap { get; set; }

    /// <summary>The move after which the rows are as in the plane; null where they are as they are.</summary>
    public Edit? Move { get; set; }

    /// <summary>For each mark the items that have it.</summary>
    public IReadOnlyDictionary<string, ItemSet> Marked { get; set; } = null!;

    /// <summary>What a mark looks like.</summary>
    public Func<string, (MarkLook Look, string? Icon)> LookOf { get; set; } = null!;

    /// <summary>What flashes on which items; null where nothing does.</summary>
    public Func<int, string?>? FlashOn { get; set; }

    /// <summary>What is being done to which items.</summary>
    public IReadOnlyList<(ItemSet Items, BusyFrame Busy)> Runs { get; set; } = [];

    /// <summary>The items that pointers came down on and have not left yet.</summary>
    public IReadOnlyCollection<int> Touched { get; set; } = [];

    /// <summary>Rows of the frame before, if those of items only change places: they are kept.</summary>
    public ImmutableArray<RowFrame> RowsToKeep { get; set; } = [];

    /// <summary>How far beyond the viewport there are rows, px.</summary>
    public double Overscan { get; set; }

    /// <summary>The row that the keyboard is on.</summary>
    public RowNumber? CursorRow { get; set; }

    /// <summary>The menu that is open.</summary>
    public Menu? Menu { get; set; }

    /// <summary>What comes after the items.</summary>
    public More More { get; set; } = More.NotSaid;

    /// <summary>What its row says.</summary>
    public string MoreText { get; set; } = "";

    /// <summary>What it offers where it failed.</summary>
    public string RetryText { get; set; } = "";

    /// <summary>The brief notice that shows.</summary>
    public BriefNotice? Notice { get; set; }

    /// <summary>The items that may be selected, by the indexes that they have in the plane; made when a branch is first drawn.</summary>
    internal ItemSet Choosable => _choosable ??= Now(Rules.Choosable);

    /// <summary>Those of them that are.</summary>
    internal ItemSet SelectedChoosable => _selected ??= Now(Selection.Items).Intersect(Choosable);

    private ItemSet? _choosable, _selected;

    /// <summary>The input is filled again: what was worked out from it no longer holds.</summary>
    public void Begin() => (_choosable, _selected) = (null, null);

    /// <summary>A set of items by the indexes that they have in the plane.</summary>
    internal ItemSet Now(ItemSet items) => Move?.Apply(items) ?? items;
}
