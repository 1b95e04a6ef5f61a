namespace Lectica.Items;

/// <summary>Two items of one list have the same key, so that neither could be told from the other.</summary>
public sealed class DuplicateKeyException(object key, int firstIndex, int secondIndex) : Exception(
    $"The items at {firstIndex} and {secondIndex} have the same key '{key}'. Keys must be unique: give a field that is, or none to let " +
        "the list keep identities of its own.")
{
    /// <summary>The key that both have.</summary>
    public object Key { get; } = key;

    /// <summary>The index of the first item with this key.</summary>
    public int FirstIndex { get; } = firstIndex;

    /// <summary>The index of the second.</summary>
    public int SecondIndex { get; } = secondIndex;
}

/// <summary>An item has no key.</summary>
public sealed class MissingKeyException(int index)
    : Exception($"The item at {index} has no key: its key function gave null. Every item needs one.")
{
    /// <summary>The item's index.</summary>
    public int Index { get; } = index;
}

/// <summary>An item's key is not what it was when the item came into the list.</summary>
public sealed class KeyChangedException(object oldKey, object? newKey, int index) : Exception(
    $"The key of the item at {index} changed from '{oldKey}' to '{newKey ?? "null"}' while it was in the list. A key must stay; to give " +
        "an item another, remove it and insert it again.")
{
    /// <summary>The key that the item came with.</summary>
    public object OldKey { get; } = oldKey;

    /// <summary>The key that it gives now.</summary>
    public object? NewKey { get; } = newKey;

    /// <summary>The item's index.</summary>
    public int Index { get; } = index;
}

/// <summary>
/// A live collection reported a change that does not fit what it holds. The list has read it again and is in step with it again.
/// </summary>
public sealed class SourceOutOfStepException(string message) : Exception(message);

/// <summary>
/// An item was asked for that a paged list has not read, or has let go again. Ask the list for it by <c>ReadAsync</c>, or a command's
/// target by its condition.
/// </summary>
public sealed class ItemNotReadException(int index) : InvalidOperationException(
    $"The item at {index} has not been read: a paged list holds those around the window alone. Read a target's items by its ReadAsync, " +
        "or hand its Condition to the source.")
{
    /// <summary>The item's index.</summary>
    public int Index { get; } = index;
}

/// <summary>A source's answer does not fit what it was asked, or what it said before. The list is as it was.</summary>
public sealed class SourceAnswerException(string message) : Exception("The source's answer does not fit the question. " + message);
