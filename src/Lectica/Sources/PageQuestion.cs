using System.Collections.Immutable;

namespace Lectica.Sources;

/// <summary>A stretch of a source's order that is to be read.</summary>
/// <param name="Start">Its first place; with <paramref name="Around"/> how many places it begins before that item's, as a negative number
/// or 0.</param>
/// <param name="Count">How many items it has, where there are as many; 1 or more.</param>
/// <param name="Around">An item by whose place in the order it is counted, whether that item is still there or not; null to count from the
/// first place.</param>
public sealed record Stretch<TItem>(int Start, int Count, Box<TItem>? Around = null);

/// <summary>What a list asks a source at once.</summary>
public sealed class PageQuestion<TItem, TKey>
{
    /// <summary>The stretches to read.</summary>
    public ImmutableArray<Stretch<TItem>> Stretches { get; init; } = [];

    /// <summary>Whether the number of items is asked for, and the sections.</summary>
    public bool Counts { get; init; }

    /// <summary>Items of which the places in the order are asked, whether they are still there or not.</summary>
    public ImmutableArray<TItem> Bounds { get; init; } = [];

    /// <summary>Keys of which the places are asked.</summary>
    public ImmutableArray<TKey> Keys { get; init; } = [];
}

/// <summary>Items that were read.</summary>
public sealed class Page<TItem>(int start, IReadOnlyList<TItem> items)
{
    /// <summary>The place of the first one.</summary>
    public int Start { get; } = start;

    /// <summary>The items, in order: as many as were asked for, or all up to the last.</summary>
    public IReadOnlyList<TItem> Items { get; } = items;
}

/// <summary>A section of a source: its items lie together in the order.</summary>
/// <param name="Key">By which it is known; unique.</param>
/// <param name="Count">How many items it has.</param>
/// <param name="Title">What its heading says; the key where null.</param>
public sealed record SourceSection(string Key, int Count, string? Title = null);

/// <summary>Where a place in the order is now.</summary>
/// <param name="Before">How many items come before it.</param>
/// <param name="UpTo">The same, with the item that is at it, if there is one.</param>
public readonly record struct BoundSpan(int Before, int UpTo);

/// <summary>What a source answers, as of one moment.</summary>
public sealed class PageAnswer<TItem>
{
    /// <summary>The stretches that were asked for, in the order of the question.</summary>
    public ImmutableArray<Page<TItem>> Pages { get; init; } = [];

    /// <summary>
    /// How many items there are, where that was asked; null where the source cannot tell: then there are more for as long as a stretch
    /// comes as long as it was asked for.
    /// </summary>
    public int? Count { get; init; }

    /// <summary>The sections in order, where counts were asked for; together they have all items. None for a list without.</summary>
    public ImmutableArray<SourceSection> Sections { get; init; } = [];

    /// <summary>For each of the bounds how many items come before its place in the order, and how many up to it.</summary>
    public ImmutableArray<BoundSpan> Bounds { get; init; } = [];

    /// <summary>For each of the keys its place; -1 where it is not there, and null where that would take too long to find out.</summary>
    public ImmutableArray<int?> Indexes { get; init; } = [];

    /// <summary>
    /// Which of its items the source lets show, where that can be changed, such as by a filter: an answer with another one (by
    /// <c>Equals</c>) is of another choice of items. Null for all of them.
    /// </summary>
    public object? Scope { get; init; }
}
