using System.Collections.Immutable;
using Lectica.Sources;
using Microsoft.EntityFrameworkCore;

namespace Lectica.Queries;

/// <summary>
/// Places in the order of a query that are known by what stands there, one for some thousand items: from the nearest one a page is found by
/// keyset and a short step over what lies between. They are made on the way to the pages that are asked for; where the rows have changed,
/// others are begun.
/// </summary>
/// <param name="one">Lets one at a time make them.</param>
internal sealed class Bookmarks<TItem>(SemaphoreSlim one) where TItem : class
{
    // Between two of them there are so many items; a step over them costs about a millisecond.
    private const int Step = 2000;

    private ImmutableArray<Position> _known = [];

    /// <summary>The number of items; null where it is not known.</summary>
    public int? Count { get; set; }

    /// <summary>Reads a stretch by its place.</summary>
    public async Task<Page<TItem>> ReadAsync(Reader<TItem> reader, int start, int count, CancellationToken cancellation)
    {
        var ordering = reader.Ordering;
        if (start < Step)
            return new(start, await ordering.Sort(reader.Items).Skip(start).Take(count).ToListAsync(cancellation).ConfigureAwait(false));
        // The end is as near as the beginning.
        if (Count is { } all && all - start is > 0 and <= Step)
        {
            var last = await ordering.Sort(reader.Items, backwards: true).Skip(Math.Max(0, all - start - count))
                .Take(Math.Min(count, all - start)).ToListAsync(cancellation).ConfigureAwait(false);
            last.Reverse();
            return new(start, last);
        }
        var mark = (start / Step) - 1;
        if (_known.Length <= mark) await ExtendAsync(reader, mark, () => true, cancellation).ConfigureAwait(false);
        var known = _known;
        if (known.Length <= mark) return new(start, []);
        // A bookmark is the item just before its place.
        return new(start, await reader.NextAsync(known[mark], count, backwards: false, cancellation, start % Step).ConfigureAwait(false));
    }

    /// <summary>Goes on to a bookmark, from the last that is known, in steps of an index. Who else wants one goes on from there.</summary>
    /// <param name="reader">The items of one moment.</param>
    /// <param name="mark">Which one.</param>
    /// <param name="isWanted">Whether it still is.</param>
    /// <param name="cancellation">Asked to stop.</param>
    public async Task ExtendAsync(Reader<TItem> reader, int mark, Func<bool> isWanted, CancellationToken cancellation)
    {
        while (_known.Length <= mark && isWanted())
        {
            await one.WaitAsync(cancellation).ConfigureAwait(false);
            try
            {
                var known = _known;
                var next = known.Length == 0
                    ? await reader.Ordering.Sort(reader.Items).Skip(Step - 1).Take(1).ToListAsync(cancellation).ConfigureAwait(false)
                    : await reader.NextAsync(known[^1], 1, backwards: false, cancellation, Step - 1).ConfigureAwait(false);
                if (next is not [var item]) return;
                _known = known.Add(reader.Ordering.PositionOf(item));
            }
            finally
            {
                one.Release();
            }
        }
    }

    /// <summary>How many bookmarks so many items have.</summary>
    public static int NumberFor(int count) => count / Step;
}
