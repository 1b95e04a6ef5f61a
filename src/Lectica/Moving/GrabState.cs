using Lectica.Items;

namespace Lectica.Moving;

/// <summary>Items that are taken up, and the gap they would land in.</summary>
/// <param name="Items">The items.</param>
/// <param name="Pressed">The item that was taken hold of, or -1 once it has left.</param>
/// <param name="Offset">How far below the top of its row a pointer took it, px.</param>
/// <param name="Gap">The gap they would land in.</param>
internal sealed record GrabState(ItemSet Items, int Pressed, double Offset, Gap Gap)
{
    /// <summary>In an outline: the level that it is to land on, as far as the gap has it.</summary>
    public int Wished { get; init; }

    /// <summary>How far to the right of the left edge of its row a pointer took it, px.</summary>
    public double OffsetX { get; init; }

    /// <summary>The item just below the gap that stays, or -1 at the end of the list or section.</summary>
    public int Below { get; private init; } = -1;

    /// <summary>The item just above the gap that stays, or -1 at its beginning.</summary>
    public int Above { get; private init; } = -1;

    /// <summary>The same over another gap. <paramref name="stay"/> are the items of its section that show and are not grabbed.</summary>
    public GrabState At(Gap gap, ItemSet stay) =>
        this with { Gap = gap, Below = stay.NextAt(gap.Index), Above = stay.LastAt(gap.Index - 1) };

    /// <summary>
    /// The same after an edit of the source: grabbed items that vanish leave it, and the gap stays above the item that was below it or, if
    /// that has left, below the one that was above it. Null where nothing is grabbed any more.
    /// </summary>
    public GrabState? After(Edit edit)
    {
        var items = edit.Apply(Items);
        if (items.IsEmpty) return null;
        int below = Below < 0 ? -1 : edit.Apply(Below), above = Above < 0 ? -1 : edit.Apply(Above);
        var gap = below >= 0 ? below : above >= 0 ? above + 1 : edit.Gap(Gap.Index);
        return this with { Items = items, Pressed = edit.Apply(Pressed), Gap = Gap with { Index = gap }, Below = below, Above = above };
    }
}
