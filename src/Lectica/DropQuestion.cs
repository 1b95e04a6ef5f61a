namespace Lectica;

/// <summary>
/// What an app is asked about before items are dropped. They and their keys are read as the app looks at them; once the list has changed
/// they cannot be looked at any more (<see cref="InvalidOperationException"/>).
/// </summary>
public sealed class DropQuestion<TItem, TKey>(IReadOnlyList<TItem> items, IReadOnlyList<TKey> keys, int gap, string? section)
{
    /// <summary>The items that are grabbed, in their order.</summary>
    public IReadOnlyList<TItem> Items { get; } = items;

    /// <summary>Their keys.</summary>
    public IReadOnlyList<TKey> Keys { get; } = keys;

    /// <summary>They would land just before the item of that index, or at the end.</summary>
    public int Gap { get; } = gap;

    /// <summary>The section that they would come into; null in a list without.</summary>
    public string? Section { get; } = section;

    /// <summary>In an outline the level that they would land on, from 0; -1 in a list without levels.</summary>
    public int Level { get; init; } = -1;

    /// <summary>In an outline the item that they would lie below; the type's default on the first level.</summary>
    public TItem? Parent { get; init; }
}
