using Lectica.Items;

namespace Lectica.Layout;

/// <summary>
/// A strip: items side by side in one line, which scrolls sideways; from right to left in lists that run so. Left and Right go along it,
/// Home and End to its ends; swipes go up and down, and uncover the leading tray above and the trailing one below. A heading stands before
/// its section. Items look as tiles do. A strip has no levels and no columns, and nothing is pulled beyond its beginning.
/// </summary>
/// <param name="ItemWidth">How wide an item is, with the room around it, px: 24 or more.</param>
public sealed record Strip(double ItemWidth) : ListLayout
{
    /// <summary>How wide a section's heading is, px.</summary>
    public double HeadingWidth { get; init; } = 112;

    internal override RowGeometry Lay(RowMap rows, IEnumerable<(int Index, double Height)> heights, in LayoutMeasures measures)
    {
        var (item, heading) = (ItemWidth * measures.Scale, HeadingWidth * measures.Scale);
        var headings = rows.Headings.IsEmpty ? null : OddRows.Of([.. rows.Headings.Select(h => (h, heading))], item);
        return new StackedRows(rows.Count, measures.Width, item, headings) { IsAcross = true };
    }

    internal override string? WhyNot(double width) =>
        !(ItemWidth >= 24 && ItemWidth <= Highest)
        ? $"An item of a strip is 24 px wide or more (WCAG 2.5.8), and {Highest} at most, not {ItemWidth}."
        : !(HeadingWidth >= 24 && HeadingWidth <= Highest)
        ? $"A heading in a strip is 24 px wide or more, and {Highest} at most, not {HeadingWidth}." : null;
}
