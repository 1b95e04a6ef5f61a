namespace Lectica;

/// <summary>What an app is asked about before items are dropped.</summary>
/// <param name="Items">The items that are grabbed, in their order.</param>
/// <param name="Keys">Their keys.</param>
/// <param name="Gap">They would land just before the item of that index, or at the end.</param>
/// <param name="Section">The section that they would come into; null in a list without.</param>
public sealed record DropQuestion<TItem, TKey>(IReadOnlyList<TItem> Items, IReadOnlyList<TKey> Keys, int Gap, string? Section)
{
    /// <summary>In an outline the level that they would land on, from 0; -1 in a list without levels.</summary>
    public int Level { get; init; } = -1;

    /// <summary>In an outline the item that they would lie below; the type's default on the first level.</summary>
    public TItem? Parent { get; init; }
}
