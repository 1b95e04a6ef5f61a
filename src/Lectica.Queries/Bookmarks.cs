using System.Collections.Immutable;
using Lectica.Sources;
using Microsoft.EntityFrameworkCore;

namespace Lectica.Queries;

/// <summary>
/// Places in the order of a query that are known by what stands there, one for some thousand items: from the nearest one a page is found by
/// keyset and a short step over what lies between. They are made on the way to the pages that are asked for, and hold until the rows
/// change.
/// </summary>
internal sealed class Bookmarks<TItem> : IDisposable where TItem : class
{
    // Between two of them there are so many items; a step over them costs about a millisecond.
    private const int Step = 2000;

    private readonly SemaphoreSlim _one = new(1);
    private ImmutableArray<Position> _known = [];
    private long _version;

    /// <summary>The number of items; null where it is not known.</summary>
    public int? Count { get; set; }

    /// <summary>Another number whenever the rows have changed.</summary>
    public long Version => Interlocked.Read(ref _version);

    /// <summary>The rows have changed: what was known of places is no longer so.</summary>
    public void Forget()
    {
        Interlocked.Increment(ref _version);
        (_known, Count) = ([], null);
    }

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
        if (_known.Length <= mark) await ExtendAsync(reader, mark, cancellation).ConfigureAwait(false);
        var known = _known;
        if (known.Length <= mark) return new(start, []);
        // A bookmark is the item just before its place.
        return new(start, await reader.NextAsync(known[mark], count, backwards: false, cancellation, start % Step).ConfigureAwait(false));
    }

    /// <summary>Goes on to a bookmark, from the last that is known, in steps of an index. Who else wants one goes on from there.</summary>
    public async Task ExtendAsync(Reader<TItem> reader, int mark, CancellationToken cancellation)
    {
        var version = Interlocked.Read(ref _version);
        while (_known.Length <= mark)
        {
            await _one.WaitAsync(cancellation).ConfigureAwait(false);
            try
            {
                if (version != Interlocked.Read(ref _version)) return;
                var known = _known;
                var next = known.Length == 0
                    ? await reader.Ordering.Sort(reader.Items).Skip(Step - 1).Take(1).ToListAsync(cancellation).ConfigureAwait(false)
                    : await reader.NextAsync(known[^1], 1, backwards: false, cancellation, Step - 1).ConfigureAwait(false);
                if (next is not [var item] || version != Interlocked.Read(ref _version)) return;
                _known = known.Add(reader.Ordering.PositionOf(item));
            }
            finally
            {
                _one.Release();
            }
        }
    }

    /// <summary>How many bookmarks so many items have.</summary>
    public static int NumberFor(int count) => count / Step;

    public void Dispose() => _one.Dispose();
}
