using System.Collections.Immutable;
using Lectica.Items;

namespace Lectica.Layout;

/// <summary>What is under a point.</summary>
/// <param name="Row">The row, or null over empty space.</param>
/// <param name="Index">The index of the row's item, or -1 where there is none.</param>
/// <param name="Part">The part of the row.</param>
internal readonly record struct Hit(RowNumber? Row, int Index, Part Part)
{
    /// <summary>No row.</summary>
    public static Hit EmptySpace => new(null, -1, Part.Body);
}

/// <summary>Answers what is under a point of the viewport.</summary>
internal interface IHitTester
{
    /// <summary>What is at a point, px from the viewport's left and top edge.</summary>
    Hit HitAt(double x, double y);
}

/// <summary>A row that lies beside its place, with what it uncovers.</summary>
/// <param name="Index">The index of its item.</param>
/// <param name="Shift">How far it lies to the right of its place, px; negative to the left.</param>
/// <param name="Uncovered">What lies open beside it, from left to right.</param>
internal sealed record ShiftedRow(int Index, double Shift, ImmutableArray<(Part Part, double Left, double Width)> Uncovered);

/// <summary>A list's rows as they lie now.</summary>
internal sealed record RowPlane(
    RowMap Rows, RowGeometry Geometry, Viewport Viewport, RowParts Parts, bool RightToLeft, ShiftedRow? Shifted = null) : IHitTester
{
    /// <summary>Whether the heading of the section at the top stays there while its rows scroll under it.</summary>
    public bool HasStickyHeadings { get; init; }

    /// <summary>How far each level of an outline is indented, px.</summary>
    public double Indent { get; init; }

    /// <summary>How far a level of an outline is indented, px: all of them take a third of the width at most.</summary>
    public double IndentOf(int level) => Math.Min(level * Indent, Viewport.Width / 3);

    /// <summary>
    /// Where the parts of an item's row begin, px from the leading edge: in an outline after the indent and the expander.
    /// </summary>
    public double InsetOf(int index) => Rows.Levels is { } levels ? IndentOf(levels[index]) + Parts.Width : 0;

    /// <summary>
    /// The heading that stays at the top though it is scrolled away, and where it is, px from the viewport's top edge: 0, or less where the
    /// next one pushes it out. Null where none does.
    /// </summary>
    public (RowNumber Row, double Top)? Sticky
    {
        get
        {
            if (!HasStickyHeadings || Geometry.IsAcross || Rows.Sections.IsEmpty || Rows.Notice is not null
                || Geometry.LineAt(Viewport.ScrollTop) is not { } first) return null;
            var section = Rows.EntryAt(first).Section;
            if (section < 0 || Rows.HeadingOf(section) is not { } heading || Geometry.TopOf(heading) >= Viewport.ScrollTop) return null;
            RowNumber? next = null;
            for (var i = section + 1; i < Rows.Sections.Length && next is null; i++) next = Rows.HeadingOf(i);
            return (heading, next is { } below ? Math.Min(0, Geometry.TopOf(below) - Viewport.ScrollTop - Geometry.HeightOf(heading)) : 0);
        }
    }

    /// <inheritdoc/>
    public Hit HitAt(double x, double y)
    {
        if (!(x >= 0) || x >= Viewport.Width || !(y >= 0) || y >= Viewport.Height) return Hit.EmptySpace;
        RowNumber row;
        if (Sticky is { } sticky && y < sticky.Top + Geometry.HeightOf(sticky.Row)) row = sticky.Row;
        else if (Geometry.RowAt(x, y + Viewport.ScrollTop) is { } under) row = under;
        else return Hit.EmptySpace;
        var entry = Rows.EntryAt(row);
        var index = entry.Index;
        if (entry.Kind == RowKind.Heading)
            return new(row, -1,
                new(Parts.Check && HeadingCheckAt(x, y, row) ? PartKind.HeadingCheck : PartKind.Heading, Rows.Sections[entry.Section].Key));
        if (index < 0) return new(row, index, new(PartKind.Notice));
        if (Shifted is { } shifted && shifted.Index == index)
        {
            foreach (var (part, left, width) in shifted.Uncovered)
                if (x >= left && x < left + width) return new(row, index, part);
            x = Math.Clamp(x - shifted.Shift, 0, Viewport.Width);
        }
        var bounds = Geometry.BoundsOf(row);
        if (Geometry.IsAcross)
        {
            // On the screen the list's y runs along the item, and its x from the top.
            var along = y + Viewport.ScrollTop - bounds.Top;
            return new(row, index,
                x < PartHeight(bounds) ? Parts.At(RightToLeft ? bounds.Height - along : along, bounds.Height, RightToLeft) : Part.Body);
        }
        if (Rows.Outline is { } outline)
        {
            var inset = InsetOf(index);
            var leading = RightToLeft ? bounds.Width - x : x;
            return new(row, index,
                leading < inset && leading >= inset - Parts.Width && outline.IsBranch(index) ? new(PartKind.Expander)
                    : Parts.At(x, bounds.Width, RightToLeft, inset));
        }
        return new(row, index,
            y + Viewport.ScrollTop - bounds.Top < PartHeight(bounds) ? Parts.At(x - bounds.Left, bounds.Width, RightToLeft) : Part.Body);
    }

    // In a strip the box of a heading is at its top.
    private bool HeadingCheckAt(double x, double y, RowNumber row) =>
        Geometry.IsAcross ? x < Parts.Width : Parts.At(x, Viewport.Width, RightToLeft).Kind == PartKind.Check;

    /// <summary>How high parts are in a row that lies so, px: as the row, or in a tile as they are wide.</summary>
    public double PartHeight(RowBounds bounds) =>
        Geometry.IsAcross ? Math.Min(Parts.Width, bounds.Width) : Geometry is StackedRows ? bounds.Height
        : Math.Min(Parts.Width, bounds.Height);
}
