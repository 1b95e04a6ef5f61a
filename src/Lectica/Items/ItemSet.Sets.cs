namespace Lectica.Items;

// What any set of the base library answers. Against another set over as many items it costs the leaves that the two do not share; against
// anything else, what it takes to read that.
public sealed partial class ItemSet : IReadOnlySet<int>
{
    /// <summary>Whether every member is in the other too.</summary>
    public bool IsSubsetOf(IEnumerable<int> other) => Except(Within(other, out _)).IsEmpty;

    /// <summary>Whether every member is in the other too, which has more.</summary>
    public bool IsProperSubsetOf(IEnumerable<int> other)
    {
        var within = Within(other, out var hasMore);
        return Except(within).IsEmpty && (hasMore || within.Count > Count);
    }

    /// <summary>Whether all of the other are members.</summary>
    public bool IsSupersetOf(IEnumerable<int> other) =>
        Within(other, out var hasMore) is var within && !hasMore && within.Except(this).IsEmpty;

    /// <summary>Whether all of the other are members, and are not all of them.</summary>
    public bool IsProperSupersetOf(IEnumerable<int> other) =>
        Within(other, out var hasMore) is var within && !hasMore && within.Count < Count && within.Except(this).IsEmpty;

    /// <summary>Whether the two have a member in common.</summary>
    public bool Overlaps(IEnumerable<int> other) => !Intersect(Within(other, out _)).IsEmpty;

    /// <summary>
    /// Whether the two have the same members. <see cref="Equals(ItemSet)"/> asks besides that both are over as many items.
    /// </summary>
    public bool SetEquals(IEnumerable<int> other) => Within(other, out var hasMore) is var within && !hasMore && Equals(within);

    // A set has no member outside its items: that is an answer here, and not an error.
    bool IReadOnlySet<int>.Contains(int item) => (uint)item < (uint)Universe && Contains(item);

    /// <summary>What of the other could be a member.</summary>
    private ItemSet Within(IEnumerable<int> other, out bool hasMore)
    {
        ArgumentNullException.ThrowIfNull(other);
        hasMore = false;
        if (other is ItemSet set && set.Universe == Universe) return set;
        var within = new List<int>();
        foreach (var index in other)
        {
            if ((uint)index < (uint)Universe) within.Add(index);
            else hasMore = true;
        }
        return Of(Universe, within);
    }
}
