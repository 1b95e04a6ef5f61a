using Microsoft.EntityFrameworkCore;

namespace Lectica.Queries;

/// <summary>The items of one moment, and how to go through them in order.</summary>
internal sealed record Reader<TItem>(IQueryable<TItem> Items, ItemOrdering<TItem> Ordering, bool AreNullsSmall) where TItem : class
{
    /// <summary>
    /// The next items after a place, or before it and then backwards: one query for each field at most, and mostly one or two.
    /// </summary>
    public async Task<List<TItem>> NextAsync(Position from, int count, bool backwards, CancellationToken cancellation, int skip = 0)
    {
        var items = new List<TItem>(count);
        foreach (var stretch in Ordering.Stretches(from, !backwards, AreNullsSmall))
        {
            var some = Items.Where(stretch);
            if (skip > 0)
            {
                // How much of it lies in this stretch is known only when it was gone through.
                var here = await Ordering.Sort(some, backwards).Skip(skip).Take(count).ToListAsync(cancellation).ConfigureAwait(false);
                if (here.Count == 0)
                {
                    skip = Math.Max(0, skip - await some.CountAsync(cancellation).ConfigureAwait(false));
                    continue;
                }
                skip = 0;
                items.AddRange(here);
            }
            else items.AddRange(
                await Ordering.Sort(some, backwards).Take(count - items.Count).ToListAsync(cancellation).ConfigureAwait(false));
            if (items.Count == count) break;
        }
        return items;
    }

    /// <summary>How many come before a place. Cost: as many entries of an index.</summary>
    public async Task<int> CountBeforeAsync(Position place, CancellationToken cancellation)
    {
        var count = 0;
        foreach (var stretch in Ordering.Stretches(place, isAfter: false, AreNullsSmall))
            count += await Items.CountAsync(stretch, cancellation).ConfigureAwait(false);
        return count;
    }
}
