using Lectica.Items;

namespace Lectica.Selecting;

/// <summary>
/// Which items are selected, where a range starts and where the keyboard is. Immutable; changes are made by
/// <see cref="Selector"/>, and follow the source through <see cref="After"/>.
/// </summary>
/// <param name="Items">The selected items.</param>
/// <param name="Anchor">The item at which a range starts, or -1.</param>
/// <param name="Cursor">The item that the keyboard is on, or -1.</param>
/// <param name="StartingPoint">What was selected when the anchor was set: what extend adding begins from.</param>
/// <param name="IsSelecting">Whether taps toggle.</param>
public sealed record Selection(ItemSet Items, int Anchor, int Cursor, ItemSet StartingPoint, bool IsSelecting)
{
    /// <summary>The key of the section on whose heading, or notice, the keyboard is; null while it is on an item.</summary>
    public string? Heading { get; init; }

    /// <summary>Whether it is on the section's notice or, without a section, on the row after the items.</summary>
    public bool OnNotice { get; init; }

    /// <summary>Nothing selected out of so many items.</summary>
    public static Selection Nothing(int length) => new(ItemSet.None(length), -1, -1, ItemSet.None(length), false);

    /// <summary>
    /// The same items after an edit of the source. A removed anchor or cursor goes to the next item that remains, else the one before.
    /// </summary>
    internal Selection After(Edit edit)
    {
        var items = edit.Apply(Items);
        return this with
        {
            Items = items,
            StartingPoint = ReferenceEquals(StartingPoint, Items) ? items : edit.Apply(StartingPoint),
            Anchor = edit.Nearest(Anchor),
            Cursor = edit.Nearest(Cursor),
        };
    }
}
