using Lectica.Items;
using Lectica.Layout;

namespace Lectica.Moving;

/// <summary>Items that are taken up, and the gap they would land in.</summary>
/// <param name="Items">The items.</param>
/// <param name="Pressed">The item under the pointer, or -1 once it has left.</param>
/// <param name="Offset">How far below the top of its row the pointer took it, px.</param>
/// <param name="Gap">The gap they would land in: just before the item of that index, or at the end.</param>
/// <param name="PointerY">Where the pointer is, px from the top of the viewport.</param>
public sealed record Grab(ItemSet Items, int Pressed, double Offset, int Gap, double PointerY)
{
    /// <summary>Whether landing there would change the order.</summary>
    public bool IsMove => !Items.IsEmpty && Edit.Move(Items, Gap).Changes;

    /// <summary>The same after an edit of the source: grabbed items that vanish leave it, the gap stays with its neighbour; null where none is left.</summary>
    public Grab? After(Edit edit)
    {
        ArgumentNullException.ThrowIfNull(edit);
        var items = edit.Apply(Items);
        if (items.IsEmpty) return null;
        return this with { Items = items, Pressed = edit.Apply(Pressed), Gap = edit.Gap(Gap) };
    }

    /// <summary>
    /// The gap at a place in the content, px from its top: before the row whose upper half it is in, after the one whose lower half. Under a
    /// filter it is just before the row shown below, or at the end after the last one shown.
    /// </summary>
    public static int GapAt(double y, RowMap rows, RowGeometry geometry)
    {
        ArgumentNullException.ThrowIfNull(rows);
        if (rows.Notice is not null || geometry.RowCount == 0) return rows.Shown.Length;
        if (geometry.RowAt(Math.Max(0, y)) is { } at)
        {
            var below = y - geometry.TopOf(at) >= geometry.HeightOf(at) / 2 ? new RowNumber(at.Value + 1) : at;
            if (rows.NextItemRow(below) is { } next) return rows.IndexAt(next);
        }
        return rows.Shown.LastAt(rows.Shown.Length - 1) + 1;
    }
}
