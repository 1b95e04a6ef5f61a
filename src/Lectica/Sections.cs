namespace Lectica;

/// <summary>How items are put into sections: by a function of the item. Each section has a heading with its number of items, and collapses.</summary>
/// <param name="Of">The key of an item's section; not null.</param>
public sealed record Sections<TItem>(Func<TItem, string> Of)
{
    /// <summary>The keys in the order of their sections. Others follow in the order in which they first come up, and keep it.</summary>
    public IReadOnlyList<string> Order { get; init; } = [];

    /// <summary>What a heading says; the key where null.</summary>
    public Func<string, string>? TitleOf { get; init; }

    /// <summary>What a notice says in a section of <see cref="Order"/> while it has no items; such a section has no heading where null.</summary>
    public Func<string, string>? EmptyText { get; init; }

    /// <summary>
    /// Changes an item so that it comes into the section of a key: for items that are dropped in another one. Where null, only an app that listens to <c>MoveRequested</c> can
    /// change them.
    /// </summary>
    public Action<TItem, string>? Assign { get; init; }

    /// <summary>How long an item that a mark moves to another section stays where it is, so that it is seen what was done, ms.</summary>
    public double LingerTime { get; init; }
}
