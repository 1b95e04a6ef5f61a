using Lectica.Items;

namespace Lectica.Layout;

/// <summary>What all layouts are given.</summary>
/// <param name="Width">The viewport's width, px.</param>
/// <param name="RowHeight">The usual height of a row, px.</param>
/// <param name="HeadingHeight">The height of a heading, px.</param>
/// <param name="IsRightToLeft">Whether lines begin at the right.</param>
/// <param name="Scale">How large text is compared with its usual size; the heights have it in them.</param>
internal readonly record struct LayoutMeasures(double Width, double RowHeight, double HeadingHeight, bool IsRightToLeft, double Scale);

/// <summary>How the items of a list lie: in rows one below the other, in tiles, or in a strip.</summary>
public abstract record ListLayout
{
    /// <summary>The highest that a row or tile may be, px.</summary>
    internal const double Highest = 1_000_000;

    private protected ListLayout()
    {
    }

    /// <summary>One below the other, each over the full width.</summary>
    public static ListLayout Rows { get; } = new InRows();

    /// <summary>Where rows lie in it.</summary>
    /// <param name="rows">The rows, at least one of which is an item or a heading.</param>
    /// <param name="heights">The heights of items that a host has measured, by the index that they have in the rows, px.</param>
    /// <param name="measures">What goes for all rows.</param>
    internal abstract RowGeometry Lay(RowMap rows, IEnumerable<(int Index, double Height)> heights, in LayoutMeasures measures);

    /// <summary>Why a list in a viewport of this width cannot lie so; null where it can.</summary>
    internal virtual string? WhyNot(double width) => null;

    internal sealed record InRows : ListLayout
    {
        internal override RowGeometry Lay(RowMap rows, IEnumerable<(int Index, double Height)> heights, in LayoutMeasures measures)
        {
            List<(int Row, double Height)>? odd = null;
            foreach (var heading in rows.Headings) (odd ??= []).Add((heading, measures.HeadingHeight));
            var headings = odd?.Count ?? 0;
            foreach (var (index, height) in heights)
                if (rows.RowOf(index) is { } row) (odd ??= []).Add((row.Value, height));
            if (odd?.Count > headings) odd.Sort();
            return new StackedRows(
                rows.Count, measures.Width, measures.RowHeight, odd is null ? null : OddRows.Of(odd, measures.RowHeight));
        }
    }
}

/// <summary>
/// Tiles: as many in a line as fit a least width, in reading order. They share what is left of the line. Left and Right go in reading
/// order, Up and Down in the column, Home and End to the ends of the line, and with Mod to those of the list, after the grid pattern of the
/// WAI-ARIA Authoring Practices. A rectangle that is dragged selects what it touches. Tiles have no trays: the menu has what they have.
/// </summary>
/// <param name="LeastWidth">
/// The least width of a tile, px: 24 or more, and no more than the viewport's. It is as much more as text is larger: then there are fewer
/// in a line.
/// </param>
/// <param name="Height">The height of a tile at the usual size of text, px.</param>
public sealed record Tiles(double LeastWidth, double Height) : ListLayout
{
    /// <summary>The room between tiles, and around them, px: 0 or more.</summary>
    public double Gap { get; init; } = 8;

    internal override RowGeometry Lay(RowMap rows, IEnumerable<(int Index, double Height)> heights, in LayoutMeasures measures) =>
        new TiledRows(rows, measures.Scale == 1 ? this
            : this with { Height = Height * measures.Scale, LeastWidth = LeastWidth * Math.Max(1, measures.Scale) },
            measures.Width, measures.HeadingHeight, measures.RowHeight, measures.IsRightToLeft);

    internal override string? WhyNot(double width)
    {
        if (!(LeastWidth >= 24)) return $"A tile is at least 24 px wide (WCAG 2.5.8), not {LeastWidth}.";
        if (!(Gap >= 0) || !double.IsFinite(Gap)) return $"Between tiles there are 0 px or more, not {Gap}.";
        if (!(Height > 0 && Height <= Highest)) return $"A tile is higher than 0 px, and {Highest} px at most, not {Height}.";
        return LeastWidth + (2 * Gap) > width
            ? $"A tile of {LeastWidth} px with {Gap} px at each side is wider than the viewport of {width} px: make it less wide." : null;
    }
}
