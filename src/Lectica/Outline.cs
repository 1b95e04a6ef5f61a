using System.Runtime.CompilerServices;

namespace Lectica;

/// <summary>Makes outlines.</summary>
public static class Outline
{
    /// <summary>
    /// Each item names the one that it lies below by key; null on the first level. The source lists all items, in any order.
    /// </summary>
    public static Outline<TItem, TKey> ByParent<TItem, TKey>(Func<TItem, TKey?> parentOf) where TKey : class
    {
        ArgumentNullException.ThrowIfNull(parentOf);
        return new() { ParentOf = (TItem item, out TKey key) => (key = parentOf(item)!) is not null };
    }

    /// <summary>The same for keys that are numbers, GUIDs and the like.</summary>
    public static Outline<TItem, TKey> ByParent<TItem, TKey>(Func<TItem, TKey?> parentOf) where TKey : struct
    {
        ArgumentNullException.ThrowIfNull(parentOf);
        return new()
        {
            ParentOf = (TItem item, out TKey key) =>
            {
                var parent = parentOf(item);
                key = parent.GetValueOrDefault();
                return parent.HasValue;
            },
        };
    }

    /// <summary>
    /// Each item has its children, in their order; null or none for a leaf. The source lists the items of the first level. Lists of
    /// children that report their changes are followed live.
    /// </summary>
    public static Outline<TItem, TKey> ByChildren<TItem, TKey>(Func<TItem, IReadOnlyList<TItem>?> childrenOf) where TKey : notnull
    {
        ArgumentNullException.ThrowIfNull(childrenOf);
        return new() { ChildrenOf = childrenOf };
    }
}

/// <summary>Gives the key of the item that an item lies below; false on the first level.</summary>
internal delegate bool ParentLookup<TItem, TKey>(TItem item, out TKey key);

/// <summary>
/// Items in levels: some lie below others, and a branch is an item with all that is below it. Made by <see cref="Outline"/>. Branches
/// collapse and expand; a box at a branch selects all of it; a move takes it along whole. The index of an item is its place in reading
/// order, each item before what is below it, all of it expanded. An outline is in no sections, is not sorted by the list, and lies in rows.
/// </summary>
public sealed record Outline<TItem, TKey> where TKey : notnull
{
    internal Outline()
    {
    }

    internal ParentLookup<TItem, TKey>? ParentOf { get; init; }

    internal Func<TItem, IReadOnlyList<TItem>?>? ChildrenOf { get; init; }

    /// <summary>Whether it is the same one: functions say nothing of what they do.</summary>
    public bool Equals(Outline<TItem, TKey>? other) => ReferenceEquals(this, other);

    /// <inheritdoc/>
    public override int GetHashCode() => RuntimeHelpers.GetHashCode(this);

    /// <summary>How many levels show at first, and of branches that come in later: 1 or more.</summary>
    public int OpenLevels { get; init; } = 1;

    /// <summary>
    /// Changes an item so that it lies below another, or on the first level for null: for items that are moved where they name their
    /// parent. Where null, they move only among those that lie below the same one, unless the app listens to <c>MoveRequested</c>.
    /// </summary>
    public Action<TItem, TItem?>? Assign { get; init; }

    /// <summary>
    /// Whether what lies below an item must still be read. Such an item can be expanded though nothing is below it yet; then it is asked
    /// for. Asked when an item comes in, and again when it changes.
    /// </summary>
    public Func<TItem, bool>? HasUnread { get; init; }

    /// <summary>
    /// Reads what lies below an item: the app puts it into its source, or into the item's children, and the item has nothing unread any
    /// more. Called when such an item is expanded, once at a time. Where it fails the item says so, and expanding it again tries again.
    /// </summary>
    public Func<TItem, CancellationToken, Task>? ReadBelow { get; init; }
}

/// <summary>
/// Items do not make an outline: one lies below an item that is not there, below itself, or below two; or its children could not be read.
/// </summary>
public sealed class OutlineException : Exception
{
    internal OutlineException(object? key, string message, Exception? inner = null) : base(message, inner) => Key = key;

    /// <summary>The key of the item that is out of place; null where there is none to name.</summary>
    public object? Key { get; }
}
