using Lectica.Items;

namespace Lectica.Layout;

/// <summary>How the items of a list lie: in rows one below the other, or in tiles.</summary>
public abstract record ListLayout
{
    private protected ListLayout()
    {
    }

    /// <summary>One below the other, each over the full width.</summary>
    public static ListLayout Rows { get; } = new InRows();

    /// <summary>Where rows lie in it.</summary>
    /// <param name="rows">The rows, at least one of which is an item or a heading.</param>
    /// <param name="heights">The heights of items that a host has measured, by the index that they have in the rows, px.</param>
    /// <param name="width">The viewport's width, px.</param>
    /// <param name="options">The list's options.</param>
    /// <param name="scale">How large text is, beside its usual size.</param>
    internal abstract RowGeometry Lay(RowMap rows, IEnumerable<(int Index, double Height)> heights, double width, ListOptions options, double scale);

    /// <summary>Why a list cannot lie so; null where it can.</summary>
    internal virtual string? WhyNot(ListOptions options) => null;

    private sealed record InRows : ListLayout
    {
        internal override RowGeometry Lay(RowMap rows, IEnumerable<(int Index, double Height)> heights, double width, ListOptions options, double scale)
        {
            List<(int Row, double Height)>? odd = null;
            foreach (var heading in rows.Headings) (odd ??= []).Add((heading, options.HeadingHeight * scale));
            var headings = odd?.Count ?? 0;
            foreach (var (index, height) in heights)
                if (rows.RowOf(index) is { } row) (odd ??= []).Add((row.Value, height));
            if (odd?.Count > headings) odd.Sort();
            return new StackedRows(rows.Count, width, options.RowHeight * scale, odd is null ? null : OddRows.Of(odd, options.RowHeight * scale));
        }
    }
}

/// <summary>
/// Tiles: as many in a line as fit a least width, in reading order. They share what is left of the line. Left and Right go in reading
/// order, Up and Down in the column, Home and End to the ends of the line, and with Mod to those of the list, after the grid pattern of the
/// WAI-ARIA Authoring Practices. A rectangle that is dragged selects what it touches. Tiles have no trays: the menu has what they have.
/// </summary>
/// <param name="LeastWidth">The least width of a tile, px: 24 or more, and no more than the viewport's.</param>
/// <param name="Height">The height of a tile at the usual size of text, px.</param>
public sealed record Tiles(double LeastWidth, double Height) : ListLayout
{
    /// <summary>The room between tiles, and around them, px: 0 or more.</summary>
    public double Gap { get; init; } = 8;

    internal override RowGeometry Lay(RowMap rows, IEnumerable<(int Index, double Height)> heights, double width, ListOptions options, double scale) =>
        new TiledRows(rows, scale == 1 ? this : this with { Height = Height * scale }, width, options.HeadingHeight * scale, options.RowHeight * scale, options.IsRightToLeft);

    internal override string? WhyNot(ListOptions options)
    {
        if (!(LeastWidth >= 24)) return $"A tile is at least 24 px wide (WCAG 2.5.8), not {LeastWidth}.";
        if (!(Gap >= 0) || !double.IsFinite(Gap)) return $"Between tiles there are 0 px or more, not {Gap}.";
        if (!ListOptions.IsHeight(Height)) return $"A tile is higher than 0 px, and {ListOptions.HighestRow} px at most, not {Height}.";
        if (LeastWidth + (2 * Gap) > options.Viewport.Width)
            return $"A tile of {LeastWidth} px with {Gap} px at each side is wider than the viewport of {options.Viewport.Width} px: make it less wide.";
        return options.Keys.Rules.Any(r => r.Acts.Contains(Acts.ActKind.MovePart))
            ? $"The key table '{options.Keys.Name}' goes from part to part by keys that go from tile to tile here: give another, such as KeyTable.Moving." : null;
    }
}
