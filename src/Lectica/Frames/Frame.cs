using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Marking;
using Lectica.Selecting;
using Lectica.Swiping;

namespace Lectica.Frames;

/// <summary>
/// All that a host has to draw, as values: the rows that the viewport shows, and nothing about the rest but how much there is. A host
/// reads nothing else to draw a list, so what is drawn is what the list is.
/// </summary>
public sealed record Frame
{
    /// <summary>Whether it is the same one: a list gives the same one until something has changed.</summary>
    public bool Equals(Frame? other) => ReferenceEquals(this, other);

    /// <inheritdoc/>
    public override int GetHashCode() => RuntimeHelpers.GetHashCode(this);

    /// <summary>The list's title, or null.</summary>
    public string? Title { get; init; }

    /// <summary>A line under the title, such as <c>3 selected</c>, or null.</summary>
    public string? Subtitle { get; init; }

    /// <summary>The window through which the rows are seen.</summary>
    public required Viewport Viewport { get; init; }

    /// <summary>The height of all rows, px.</summary>
    public required double ContentHeight { get; init; }

    /// <summary>How many lines there are: as many as rows, but for tiles.</summary>
    public int LineCount { get; init; }

    /// <summary>How many tiles there are in a line at most; 1 in rows.</summary>
    public int Columns { get; init; } = 1;

    /// <summary>Whether items are tiles.</summary>
    public bool IsTiled { get; init; }

    /// <summary>
    /// Whether items stand side by side in a strip, which scrolls sideways: then <see cref="ContentHeight"/>, the viewport's
    /// <see cref="Viewport.ScrollTop"/> and <see cref="Scroll"/> go along it from its beginning, and rows shift up and down.
    /// </summary>
    public bool IsStrip { get; init; }

    /// <summary>Whether items lie in levels.</summary>
    public bool IsOutline { get; init; }

    /// <summary>The headers of columns, which stay above the rows; none in a list without columns.</summary>
    public ImmutableArray<ColumnFrame> Headers { get; init; } = [];

    /// <summary>The number of all rows.</summary>
    public required int RowCount { get; init; }

    /// <summary>The rows that the viewport shows, whole or in part, from the top; with overscan, some above and below it too.</summary>
    public required ImmutableArray<RowFrame> Rows { get; init; }

    /// <summary>The heading that stays at the top though it is scrolled away, over the rows; null where none does.</summary>
    public RowFrame? Sticky { get; init; }

    /// <summary>
    /// Rows farther away that a host with elements for rows keeps: that of the keyboard's cursor, which is the list's active descendant,
    /// and those that pointers are down on, so that what they did is not lost with the element.
    /// </summary>
    public ImmutableArray<RowFrame> Kept { get; init; } = [];

    /// <summary>The usual height of an item's row, px.</summary>
    public double RowHeight { get; init; }

    /// <summary>The scroll bar's thumb, or null where everything fits.</summary>
    public ScrollThumb? Scroll => ScrollThumb.For(IsStrip ? Viewport with { Height = Viewport.Width } : Viewport, ContentHeight);

    /// <summary>The state of the header's box, or null where the list shows no boxes.</summary>
    public TriState? Header { get; init; }

    /// <summary>
    /// How many items are selected, in a state in which taps select and that can be left: a host shows the number and a way out. Null else.
    /// </summary>
    public int? Selecting { get; init; }

    /// <summary>Whether the list has the keyboard: only then does the cursor show.</summary>
    public bool HasFocus { get; init; }

    /// <summary>Whether it runs from right to left.</summary>
    public bool IsRightToLeft { get; init; }

    /// <summary>The rectangle that is being dragged, or null.</summary>
    public MarqueeFrame? Marquee { get; init; }

    /// <summary>
    /// What is grabbed, and where it would land, or null. Meanwhile rows, headings and their numbers are as they would be if it were
    /// dropped.
    /// </summary>
    public GrabFrame? Grab { get; init; }

    /// <summary>What a finger has uncovered by pulling the list down beyond its top, or what then is under way; null else.</summary>
    public PullFrame? Pull { get; init; }

    /// <summary>The menu that is open over the rows, or null.</summary>
    public Menu? Menu { get; init; }

    /// <summary>The brief notice that shows, or null.</summary>
    public BriefNotice? Brief { get; init; }
}

/// <summary>A brief notice.</summary>
/// <param name="Text">What it says.</param>
/// <param name="OffersUndo">Whether it offers to take back what it tells of.</param>
/// <param name="Until">When it goes, ms on the samples' clock.</param>
public sealed record BriefNotice(string Text, bool OffersUndo, double Until)
{
    /// <summary>Whether it offers to try again what it says has failed.</summary>
    public bool OffersRetry { get; init; }

    /// <summary>What its button says; null where it offers nothing.</summary>
    public string? Offer { get; init; }
}

/// <summary>What is being done to a row.</summary>
/// <param name="Label">What the command says.</param>
/// <param name="Progress">How much of it is done, from 0 to 1; null where that is not known.</param>
public sealed record BusyFrame(string Label, double? Progress);

/// <summary>A rectangle that is being dragged, px from the viewport's left and top edge; it may reach beyond it.</summary>
public readonly record struct MarqueeFrame(double Left, double Top, double Width, double Height);

/// <summary>What lies over the rows at the top while the list is pulled down beyond it, and while it is read again.</summary>
/// <param name="Height">How much of it is uncovered, px.</param>
/// <param name="IsArmed">Whether letting go now does it.</param>
/// <param name="IsUnderWay">Whether the command runs.</param>
/// <param name="Text">What it says.</param>
public sealed record PullFrame(double Height, bool IsArmed, bool IsUnderWay, string Text)
{
    /// <summary>How far the pull is, from 0 to 1 where letting go does it, and more beyond.</summary>
    public double Turn { get; init; }

    /// <summary>How much of the command is done, from 0 to 1; null where that is not known.</summary>
    public double? Progress { get; init; }
}

/// <summary>Rows that are grabbed.</summary>
/// <param name="Content">What the row under the pointer says.</param>
/// <param name="Count">How many rows there are.</param>
/// <param name="Top">Where the row under the pointer floats, px from the top of the viewport; without a pointer it is where it would
/// land.</param>
/// <param name="Height">Its height, px.</param>
/// <param name="GapY">Where the gap is that they would land in, px from the top of the viewport; null while they are over another list, or
/// may not land here.</param>
public sealed record GrabFrame(RowContent Content, int Count, double Top, double Height, double? GapY)
{
    /// <summary>Whether landing there would change anything.</summary>
    public bool IsMove { get; init; }

    /// <summary>Why they cannot be dropped there, or null.</summary>
    public string? Refusal { get; init; }

    /// <summary>Whether a pointer holds them; otherwise keys or taps choose the gap.</summary>
    public bool HasPointer { get; init; }

    /// <summary>Whether they come from another list.</summary>
    public bool IsGuest { get; init; }

    /// <summary>Where the card floats, px from the left edge of the viewport.</summary>
    public double Left { get; init; }

    /// <summary>Its width, px; that of the viewport where it is 0.</summary>
    public double Width { get; init; }

    /// <summary>
    /// In tiles: where the gap is, px from the left edge of the viewport; it goes down from <see cref="GapY"/> over
    /// <see cref="GapHeight"/>.
    /// Null in rows, where it goes across.
    /// </summary>
    public double? GapX { get; init; }

    /// <summary>In tiles: how high the gap is, px.</summary>
    public double GapHeight { get; init; }

    /// <summary>Whether it is drawn: what is dragged in from another program is drawn by the system, and only its gap shows.</summary>
    public bool HasCard { get; init; } = true;

    /// <summary>
    /// The row that was taken hold of as it looks at rest, so that what is carried keeps its look; null where it is another list's.
    /// </summary>
    public RowFrame? Row { get; init; }
}

/// <summary>One row to draw.</summary>
public sealed record RowFrame
{
    // A scrolled frame is made of other rows altogether: what few of them have takes no room in the rest.
    private readonly Seldom? _seldom;
    private readonly int _row;
    private readonly byte _kind;

    /// <summary>Whether it is the same one: <see cref="LooksLike"/> tells whether another one looks the same.</summary>
    public bool Equals(RowFrame? other) => ReferenceEquals(this, other);

    /// <inheritdoc/>
    public override int GetHashCode() => RuntimeHelpers.GetHashCode(this);

    /// <summary>Its number among all rows.</summary>
    public required RowNumber Row
    {
        get => new(_row);
        init => _row = value.Value;
    }

    /// <summary>What kind of row it is.</summary>
    public required RowKind Kind
    {
        get => (RowKind)_kind;
        init => _kind = (byte)value;
    }

    /// <summary>The index of its item, or -1.</summary>
    public int Index { get; init; } = -1;

    /// <summary>
    /// The key of its item as text, as traces and scripts write it: by which a host knows the row's element again. Null where it is no
    /// item, or that has not been read.
    /// </summary>
    public string? KeyText { get; init; }

    /// <summary>
    /// Its place among the elements of a host that has one for each row, from the top: its number, but while something is grabbed the one
    /// that it had before. A browser takes a finger's pointer back when the element under it is moved in the document.
    /// </summary>
    public int DocumentOrder
    {
        get => _seldom?.DocumentOrder ?? _row;
        init
        {
            if (_seldom is not null || value != _row) _seldom = (_seldom ?? Seldom.None) with { DocumentOrder = value };
        }
    }

    /// <summary>From the top of the viewport to its top edge, px; negative where it is cut off.</summary>
    public required double Top { get; init; }

    /// <summary>From the left edge of the viewport to its left edge, px: 0 but for tiles.</summary>
    public double Left => Lines?.Left ?? 0;

    /// <summary>Its width, px.</summary>
    public required double Width { get; init; }

    /// <summary>How high its parts are, px, from its top: as high as a row is, or in a tile as wide as they are.</summary>
    public double PartHeight => Lines?.PartHeight ?? Height;

    /// <summary>Whether it is a tile.</summary>
    public bool IsTile => Lines?.IsTile == true;

    /// <summary>The number of its line, from 0 at the top: that of the row, but for tiles.</summary>
    public int Line => Lines?.Line ?? Row.Value;

    /// <summary>The line of its place among the elements of a host: see <see cref="DocumentOrder"/>.</summary>
    public int DocumentLine => Lines?.DocumentLine ?? DocumentOrder;

    /// <summary>Of a tile: in which column it is, from 0 at the leading edge.</summary>
    public int Column => Lines?.Column ?? 0;

    /// <summary>Where it lies among lines of several; null in a list where each row is a line of its own.</summary>
    internal InLines? Lines { get; init; }

    /// <summary>
    /// In the first frame after an edit of the source: where it was in the frame before, px from the top of the viewport, so that a host
    /// can let it glide; NaN where it was not in view. Null where it has not moved.
    /// </summary>
    public double? TopBefore
    {
        get => _seldom?.TopBefore;
        init
        {
            if (_seldom is not null || value is not null) _seldom = (_seldom ?? Seldom.None) with { TopBefore = value };
        }
    }

    /// <summary>
    /// As <see cref="TopBefore"/>, across: where it was, px from the left edge of the viewport. Null where it has not moved.
    /// </summary>
    public double? LeftBefore
    {
        get => _seldom?.LeftBefore;
        init
        {
            if (_seldom is not null || value is not null) _seldom = (_seldom ?? Seldom.None) with { LeftBefore = value };
        }
    }

    /// <summary>Its height, px.</summary>
    public required double Height { get; init; }

    /// <summary>What it says.</summary>
    public required RowContent Content { get; init; }

    /// <summary>Whether its item is at hand; of a row that is not only the place is known, and what is selected.</summary>
    public RowReading Reading
    {
        get => _seldom?.Reading ?? RowReading.Done;
        init
        {
            if (_seldom is not null || value != RowReading.Done) _seldom = (_seldom ?? Seldom.None) with { Reading = value };
        }
    }

    /// <summary>Why nothing shows, on a notice.</summary>
    public NoticeKind? Notice
    {
        get => _seldom?.Notice;
        init
        {
            if (_seldom is not null || value is not null) _seldom = (_seldom ?? Seldom.None) with { Notice = value };
        }
    }

    /// <summary>Of a heading, or a notice in a section: the section's key.</summary>
    public string? Section
    {
        get => _seldom?.Section;
        init
        {
            if (_seldom is not null || value is not null) _seldom = (_seldom ?? Seldom.None) with { Section = value };
        }
    }

    /// <summary>
    /// Of a heading: how many items of its section show, whether all, some or none are selected, and whether it is collapsed.
    /// </summary>
    public HeadingFrame? Heading
    {
        get => _seldom?.Heading;
        init
        {
            if (_seldom is not null || value is not null) _seldom = (_seldom ?? Seldom.None) with { Heading = value };
        }
    }

    /// <summary>In an outline: how deep it lies, from 0; else -1.</summary>
    public int Level
    {
        get => _seldom?.Level ?? -1;
        init
        {
            if (_seldom is not null || value != -1) _seldom = (_seldom ?? Seldom.None) with { Level = value };
        }
    }

    /// <summary>In an outline: how its branch is; null of a row that has nothing below it.</summary>
    public BranchState? Branch
    {
        get => _seldom?.Branch;
        init
        {
            if (_seldom is not null || value is not null) _seldom = (_seldom ?? Seldom.None) with { Branch = value };
        }
    }

    /// <summary>Whether it is selected.</summary>
    public bool IsSelected { get; init; }

    /// <summary>Whether a pointer is down on it, or a menu is open for it alone.</summary>
    public bool IsPressed { get; init; }

    /// <summary>Whether the keyboard's cursor is on it.</summary>
    public bool IsCursor { get; init; }

    /// <summary>Whether it is disabled.</summary>
    public bool IsDisabled { get; init; }

    /// <summary>Whether it is grabbed and floats elsewhere: its place shows that it is away.</summary>
    public bool IsGrabbed { get; init; }

    /// <summary>How far to the right of its place it lies at a time, px; negative to the left. A tray lies open beside it.</summary>
    public Motion Shift
    {
        get => _seldom is { } s ? s.Shift : default;
        init
        {
            if (_seldom is not null || value != default) _seldom = (_seldom ?? Seldom.None) with { Shift = value };
        }
    }

    /// <summary>What its tray shows; its lefts and widths are those at rest, or under the finger.</summary>
    public ImmutableArray<TrayPartFrame> Tray
    {
        get => _seldom is { } s ? s.Tray : [];
        init
        {
            if (_seldom is not null || !value.IsEmpty) _seldom = (_seldom ?? Seldom.None) with { Tray = value };
        }
    }

    /// <summary>What flashes on it for a moment, or null.</summary>
    public string? Flash
    {
        get => _seldom?.Flash;
        init
        {
            if (_seldom is not null || value is not null) _seldom = (_seldom ?? Seldom.None) with { Flash = value };
        }
    }

    /// <summary>The command that is under way for it, or null.</summary>
    public BusyFrame? Busy
    {
        get => _seldom?.Busy;
        init
        {
            if (_seldom is not null || value is not null) _seldom = (_seldom ?? Seldom.None) with { Busy = value };
        }
    }

    /// <summary>What it says in each of the frame's columns; none in a list without.</summary>
    public ImmutableArray<string> Cells
    {
        get => _seldom is { } s ? s.Cells : [];
        init
        {
            if (_seldom is not null || !value.IsEmpty) _seldom = (_seldom ?? Seldom.None) with { Cells = value };
        }
    }

    /// <summary>Its parts other than the body, with their left edges, px from its own, and widths, px.</summary>
    public ImmutableArray<PartFrame> Parts { get; init; } = [];

    /// <summary>Where its body's content may go: left edge, px from its own.</summary>
    public double BodyLeft { get; init; }

    /// <summary>Where its body's content may go: width, px.</summary>
    public double BodyWidth { get; init; }

    /// <summary>
    /// Whether another row looks the same as this one, whatever their places and numbers: for hosts that keep an element for each row, and
    /// draw it again only when it changes.
    /// </summary>
    public bool LooksLike(RowFrame other)
    {
        ArgumentNullException.ThrowIfNull(other);
        return ReferenceEquals(this, other)
            || (Kind == other.Kind && Index == other.Index && Reading == other.Reading && Height == other.Height && Width == other.Width
            && PartHeight == other.PartHeight && IsSelected == other.IsSelected && IsPressed == other.IsPressed
            && IsCursor == other.IsCursor && IsDisabled == other.IsDisabled && IsGrabbed == other.IsGrabbed && BodyLeft == other.BodyLeft
            && BodyWidth == other.BodyWidth
            && Shift == other.Shift && Flash == other.Flash && Busy == other.Busy && Notice == other.Notice && Section == other.Section
            && Heading == other.Heading && Level == other.Level && Branch == other.Branch && Content == other.Content
            && Cells.AsSpan().SequenceEqual(other.Cells.AsSpan()) && Parts.AsSpan().SequenceEqual(other.Parts.AsSpan()) && Tray.AsSpan()
            .SequenceEqual(other.Tray.AsSpan()));
    }

    private sealed record Seldom(
        double? TopBefore, double? LeftBefore, NoticeKind? Notice, string? Section, HeadingFrame? Heading, Motion Shift,
            ImmutableArray<TrayPartFrame> Tray, string? Flash, BusyFrame? Busy, RowReading Reading, int Level,
        BranchState? Branch, ImmutableArray<string> Cells, int? DocumentOrder)
    {
        public static Seldom None { get; } =
            new(null, null, null, null, null, default, [], null, null, RowReading.Done, -1, null, [], null);
    }
}

/// <summary>Where a row lies in a list whose lines may have several.</summary>
internal sealed record InLines(bool IsTile, double Left, double PartHeight, int Line, int DocumentLine, int Column);

/// <summary>How far the reading of a row's item has come, in a list that is not all in memory.</summary>
public enum RowReading
{
    /// <summary>It is at hand.</summary>
    Done,

    /// <summary>It is being read.</summary>
    Pending,

    /// <summary>It could not be read; a tap or Enter tries again.</summary>
    Failed,
}

/// <summary>How a branch of an outline is: an item with all that is below it.</summary>
/// <param name="State">Whether all, some or none of it is selected, of what can be; collapsed or not.</param>
/// <param name="IsExpanded">Whether the items below have rows.</param>
/// <param name="Reading">How far the reading of what lies below has come, where that must first be read.</param>
public sealed record BranchState(TriState State, bool IsExpanded, RowReading Reading = RowReading.Done)
{
    /// <summary>Of an item below which so many of all that can be are selected.</summary>
    internal static BranchState Of(int selected, int all, Branching outline, int index) =>
        new(selected == 0 ? TriState.Off : selected == all ? TriState.On : TriState.Mixed, !outline.Folded.Contains(index),
            outline.Failed.Contains(index) ? RowReading.Failed : outline.Reading.Contains(index) ? RowReading.Pending : RowReading.Done);
}

/// <summary>A column's header to draw, and where its cells are.</summary>
/// <param name="Name">The column's name.</param>
/// <param name="Label">What it says.</param>
/// <param name="Left">Its left edge, px from the viewport's. In an outline the first one's cells begin further in, by their level.</param>
/// <param name="Width">Its width, px.</param>
public sealed record ColumnFrame(string Name, string Label, double Left, double Width)
{
    /// <summary>Whether its text stands at the trailing edge.</summary>
    public bool AlignsEnd { get; init; }

    /// <summary>Whether a press sorts by it.</summary>
    public bool Sorts { get; init; }

    /// <summary>Whether the list is sorted down by it, or up; null where it is not sorted by it.</summary>
    public bool? IsDescending { get; init; }

    /// <summary>Whether the keyboard is on it.</summary>
    public bool IsCursor { get; init; }
}

/// <summary>A heading to draw.</summary>
/// <param name="Count">How many items of its section show.</param>
/// <param name="State">Whether all, some or none of those that can be are selected.</param>
/// <param name="IsCollapsed">Whether the section is collapsed.</param>
/// <param name="HasBox">Whether it shows a selection box.</param>
public sealed record HeadingFrame(int Count, TriState State, bool IsCollapsed, bool HasBox);

/// <summary>A command of a tray to draw.</summary>
/// <param name="Part">The part.</param>
/// <param name="Label">What it says.</param>
/// <param name="Left">Its left edge, px.</param>
/// <param name="Width">Its width, px.</param>
public sealed record TrayPartFrame(Part Part, string Label, double Left, double Width)
{
    /// <summary>Whether letting go now invokes it.</summary>
    public bool IsArmed { get; init; }

    /// <summary>The name of its icon, or null.</summary>
    public string? Icon { get; init; }

    /// <summary>What kind of thing it does.</summary>
    public CommandRole Role { get; init; }
}

/// <summary>A part of a row to draw.</summary>
/// <param name="Part">The part.</param>
/// <param name="Left">Its left edge, px.</param>
/// <param name="Width">Its width, px.</param>
/// <param name="IsOn">Whether its box or mark is on.</param>
/// <param name="IsCursor">Whether the keyboard is on it.</param>
/// <param name="Look">What a mark looks like.</param>
public sealed record PartFrame(Part Part, double Left, double Width, bool IsOn, bool IsCursor, MarkLook Look = MarkLook.Ring)
{
    /// <summary>
    /// How a browser or a similar host may use touches on it itself, in CSS's words: <c>pan-y pinch-zoom</c> where it scrolls, <c>none</c>
    /// where the list drags at once.
    /// </summary>
    public string TouchAction { get; init; } = "pan-y pinch-zoom";

    /// <summary>Of a mark that many people share: how many have put it on; null of others.</summary>
    public int? Count { get; init; }
}

/// <summary>A scroll bar's thumb: from the top of the viewport, and its length, px.</summary>
public readonly record struct ScrollThumb(double Top, double Length)
{
    /// <summary>The thumb for a viewport over content of this height; at least 24 px long, and null where everything fits.</summary>
    public static ScrollThumb? For(Viewport viewport, double contentHeight)
    {
        if (contentHeight <= viewport.Height || viewport.Height <= 0) return null;
        var length = Math.Min(viewport.Height, Math.Max(24, viewport.Height * viewport.Height / contentHeight));
        return new(viewport.ScrollTop / (contentHeight - viewport.Height) * (viewport.Height - length), length);
    }
}
