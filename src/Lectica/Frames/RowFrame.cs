using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using Lectica.Acts;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Marking;
using Lectica.Selecting;
using Lectica.Swiping;

namespace Lectica.Frames;

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
    /// can let it glide; NaN where it was not in view. Null where it has not moved. A frame that a handler looks at before
    /// <see cref="IHostedList.FrameChanged"/> is not one before another.
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

    /// <summary>
    /// Whether a tool would go on from it, or a key where the list has the keyboard, though it is not selected and has no ring: a quiet
    /// sign says so.
    /// </summary>
    public bool IsCurrent { get; init; }

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
            && IsCursor == other.IsCursor && IsCurrent == other.IsCurrent && IsDisabled == other.IsDisabled && IsGrabbed == other.IsGrabbed
            && BodyLeft == other.BodyLeft && BodyWidth == other.BodyWidth
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

    /// <summary>Of a mark its icon in place of its look, filled while it is on; null of others.</summary>
    public string? Icon { get; init; }

    /// <summary>Of a mark that many people share: how many have put it on; null of others.</summary>
    public int? Count { get; init; }
}
