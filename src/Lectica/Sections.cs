using System.Runtime.CompilerServices;

namespace Lectica;

/// <summary>
/// How items are put into sections: by a function of the item. Each section has a heading with its number of items, and collapses.
/// </summary>
/// <param name="Of">The key of an item's section; not null.</param>
public sealed record Sections<TItem>(Func<TItem, string> Of)
{
    /// <summary>Whether it is the same one: functions say nothing of what they do.</summary>
    public bool Equals(Sections<TItem>? other) => ReferenceEquals(this, other);

    /// <inheritdoc/>
    public override int GetHashCode() => RuntimeHelpers.GetHashCode(this);

    /// <summary>The keys in the order of their sections. Others follow in the order in which they first come up, and keep it.</summary>
    public IReadOnlyList<string> Order { get; init; } = [];

    /// <summary>What a heading says; the key where null.</summary>
    public Func<string, string>? TitleOf { get; init; }

    /// <summary>
    /// What a notice says in a section of <see cref="Order"/> while none of its items shows; such a section has no heading where null. It
    /// is told whether the section has no items, or the filter hides them all. Asked for both when the sections are set.
    /// </summary>
    public Func<EmptySection, string>? EmptyText { get; init; }

    /// <summary>
    /// Changes an item so that it comes into the section of a key: for items that are dropped in another one. Where null, only an app that
    /// listens to <c>MoveRequested</c> can change them.
    /// </summary>
    public Action<TItem, string>? Assign { get; init; }

    /// <summary>How long an item that a mark moves to another section stays where it is, so that it is seen what was done, ms.</summary>
    public double LingerTime { get; init; }
}

/// <summary>A section of which nothing shows.</summary>
/// <param name="Key">Its key.</param>
/// <param name="IsFiltered">Whether it has items, all of which the filter hides.</param>
public readonly record struct EmptySection(string Key, bool IsFiltered);

/// <summary>A section function threw, or gave null.</summary>
public sealed class SectionException(object key, int index, Exception? error)
    : Exception($"The section of the item '{key}' at {index} is unknown: its " +
    $"function {(error is null ? "gave null" : $"threw: {error.Message}")}. Every item needs a section; give a key for those that " +
    "have none.", error);
