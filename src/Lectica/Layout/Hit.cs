using Lectica.Items;

namespace Lectica.Layout;

/// <summary>What is under a point.</summary>
/// <param name="Row">The row, or null over empty space.</param>
/// <param name="Index">The index of the row's item, or -1 where there is none.</param>
/// <param name="Part">The part of the row.</param>
public readonly record struct Hit(RowNumber? Row, int Index, Part Part)
{
    /// <summary>No row.</summary>
    public static Hit EmptySpace => new(null, -1, Part.Body);
}

/// <summary>Answers what is under a point of the viewport.</summary>
public interface IHitTester
{
    /// <summary>What is at a point, px from the viewport's left and top edge.</summary>
    Hit HitAt(double x, double y);
}

/// <summary>A list's rows as they lie now.</summary>
public sealed record RowPlane(RowMap Rows, RowGeometry Geometry, Viewport Viewport, RowParts Parts, bool RightToLeft) : IHitTester
{
    /// <inheritdoc/>
    public Hit HitAt(double x, double y)
    {
        if (!(x >= 0) || x >= Viewport.Width || !(y >= 0) || y >= Viewport.Height) return Hit.EmptySpace;
        if (Geometry.RowAt(y + Viewport.ScrollTop) is not { } row) return Hit.EmptySpace;
        var index = Rows.IndexAt(row);
        return new(row, index, index < 0 ? Part.Body : Parts.At(x, Viewport.Width, RightToLeft));
    }
}
