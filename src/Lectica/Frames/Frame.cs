using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using Lectica.Commands;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Selecting;

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

    /// <summary>
    /// Whether all is the same but the rows, how they are scrolled and what is grabbed: a host then draws only those. Cost: that of a few
    /// comparisons.
    /// </summary>
    public bool IsSameAround(Frame other)
    {
        ArgumentNullException.ThrowIfNull(other);
        return (Title, Subtitle, ContentHeight, LineCount, Columns) == (other.Title, other.Subtitle, other.ContentHeight, other.LineCount,
            other.Columns)
            && (IsTiled, IsStrip, IsOutline, IsRightToLeft, HasFocus, ShowsRing) == (other.IsTiled, other.IsStrip, other.IsOutline,
            other.IsRightToLeft, other.HasFocus, other.ShowsRing)
            && (RowCount, RowHeight, Header, Selecting, Marquee) == (other.RowCount, other.RowHeight, other.Header, other.Selecting,
            other.Marquee)
            && Pull == other.Pull && Menu == other.Menu && Brief == other.Brief
            && (Sticky is { } sticky && other.Sticky is { } before ? sticky.Top == before.Top && sticky.LooksLike(before)
                : Sticky == other.Sticky)
            && (Headers == other.Headers || Headers.AsSpan().SequenceEqual(other.Headers.AsSpan()));
    }

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

    /// <summary>
    /// Whether the cursor has a ring: it is for who uses keys. Who uses a pointer has a quiet sign on the row that tools and keys would go
    /// on from (<see cref="RowFrame.IsCurrent"/>).
    /// </summary>
    public bool ShowsRing { get; init; }

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

    /// <summary>Whether very many rows are being sorted by it: they lie as they did until that is done.</summary>
    public bool IsSorting { get; init; }

    /// <summary>Whether the keyboard is on it.</summary>
    public bool IsCursor { get; init; }
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
