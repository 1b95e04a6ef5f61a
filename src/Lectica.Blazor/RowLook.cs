using Lectica.Frames;
using Microsoft.AspNetCore.Components;

namespace Lectica.Blazor;

/// <summary>What the rows of a list have in common.</summary>
/// <param name="IsGrid">Whether rows hold controls.</param>
/// <param name="RowCount">How many rows the list has, where each row says so; 0 in a grid, which says it once for all of them.</param>
/// <param name="PartWidth">How wide a part is, px.</param>
/// <param name="Phrases">The list's words.</param>
/// <param name="MarkLabelOf">The label of a mark.</param>
/// <param name="Row">Draws an item's body; its label and detail where null.</param>
/// <param name="Heading">Draws a heading; its title and number where null.</param>
/// <param name="Notice">Draws a notice; its text where null.</param>
/// <param name="LeastHeight">Where rows are as high as their content needs, how high they are at least, px; else null.</param>
/// <param name="Version">Another one where templates are to be redrawn.</param>
internal sealed record ListLook<TItem>(
    bool IsGrid, int RowCount, double PartWidth, Phrases Phrases, Func<string, string> MarkLabelOf, RenderFragment<RowContext<TItem>>? Row,
        RenderFragment<RowFrame>? Heading, RenderFragment<RowFrame>? Notice, double? LeastHeight, int Version)
{
    /// <summary>Where the cells of columns are; none in a list without.</summary>
    public IReadOnlyList<ColumnFrame> Columns { get; init; } = [];

    /// <summary>Whether items stand side by side in a strip.</summary>
    public bool IsStrip { get; init; }

    /// <summary>How many lines the headers of columns take.</summary>
    internal int HeaderLines => Columns.Count == 0 ? 0 : 1;

    /// <summary>Whether both have the same in common.</summary>
    public bool Equals(ListLook<TItem>? other) =>
        other is not null
        && (IsGrid, IsStrip, RowCount, PartWidth, LeastHeight, Version) == (other.IsGrid, other.IsStrip, other.RowCount, other.PartWidth,
        other.LeastHeight, other.Version) && Phrases == other.Phrases
        && MarkLabelOf == other.MarkLabelOf && Row == other.Row && Heading == other.Heading && Notice == other.Notice
        && Columns.SequenceEqual(other.Columns);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(IsGrid, RowCount, PartWidth, Version);

    /// <summary>What a mark says of itself: its label, and by how many it was put on where many people share it.</summary>
    internal string NameOf(PartFrame mark) =>
        mark.Count is { } count ? Phrases.MarkedBy(MarkLabelOf(mark.Part.Name!), count, mark.IsOn) : MarkLabelOf(mark.Part.Name!);
}

/// <summary>What a row is drawn from.</summary>
/// <param name="Row">The row.</param>
/// <param name="Id">Its element's id.</param>
/// <param name="Top">Where it lies in the scrolled element, px.</param>
/// <param name="Item">Its item, for the template.</param>
/// <param name="List">What it has in common with the other rows.</param>
internal sealed record RowLook<TItem>(RowFrame Row, string Id, double Top, TItem? Item, ListLook<TItem> List)
{
    /// <summary>Where it lies across the scrolled element, px.</summary>
    public double Left { get; init; } = Row.Left;

    /// <summary>
    /// Whether both look the same. Where a row is in the viewport does not count: its element moves along as that scrolls.
    /// </summary>
    public bool Equals(RowLook<TItem>? other) =>
        other is not null && Top == other.Top && Left == other.Left && Row.Row == other.Row.Row && Row.Line == other.Row.Line
        && Row.Column == other.Row.Column && IsSameInside(other);

    /// <summary>Whether both look the same inside, wherever in the list they lie.</summary>
    internal bool IsSameInside(RowLook<TItem> other) =>
        ReferenceEquals(List, other.List) && Id == other.Id && Row.LooksLike(other.Row)
        && EqualityComparer<TItem>.Default.Equals(Item, other.Item);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Top, Id);
}
