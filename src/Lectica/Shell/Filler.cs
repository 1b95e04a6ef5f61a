using Lectica.Acts;
using Lectica.Items;
using Lectica.States;

namespace Lectica.Shell;

/// <summary>Brings many items in at the end of the source, in slices: what is there can be used while the rest comes.</summary>
internal sealed class Filler<TItem, TKey>(
    Core core, ItemStore<TItem, TKey> store, Source<TItem, TKey> source, SourceSplicer<TItem, TKey> splicer) where TKey : notnull
{
    // A slice has as many items as went into about so long the last time, so that a screen is never blocked.
    private const double SliceTime = 10;
    private const int First = 256, Least = 16, Most = 65_536;

    // Room for so many is made at once, where it is known how many come: else it doubles again and again.
    private const int MostReserved = 1 << 20;

    private IEnumerator<TItem>? _rest;
    private object? _into;
    private CancellationToken _cancellation;
    private int _size;

    public Response Fill(IEnumerable<TItem> items, CancellationToken cancellation)
    {
        if (core.State.Filling is not null)
            return core.Refuse(null, new(RefusalKind.Running, "The list is being filled already: wait for its end."));
        if (splicer.WhyNotWritten is { } not) return core.Refuse(null, not);
        if (core.App.Try(() => (items.TryGetNonEnumeratedCount(out var count) ? count : 0, items.GetEnumerator()), out var rest, Failed) is
            { } failed)
            return core.Refuse(null, failed);
        Stop();
        (var known, _rest) = rest;
        (_into, _cancellation, _size) = (source.Items, cancellation, First);
        splicer.Reserve(Math.Min(known, MostReserved));
        return GoOn() is { } refusal ? core.Refuse(null, refusal) : Response.Handled;
    }

    /// <summary>Goes on where the next slice is due.</summary>
    public void GoOnAt(double time)
    {
        if (core.State.Filling?.Due <= time && GoOn() is { } refusal) core.Refuse(null, refusal);
    }

    /// <summary>Whatever has not come does not come any more.</summary>
    public void Stop()
    {
        var rest = _rest;
        (_rest, _into) = (null, null);
        if (rest is not null) _ = core.App.Try(rest.Dispose, why => why);
    }

    /// <summary>Brings a slice in; gives why it was the last, where that is not the end of the items.</summary>
    private Refusal? GoOn()
    {
        var (refusal, isLast) = Slice();
        if (isLast) Stop();
        core.Commit(core.State with { Filling = isLast ? null : new(core.Now + 1) });
        return refusal;
    }

    private (Refusal? Refusal, bool IsLast) Slice()
    {
        if (_cancellation.IsCancellationRequested) return (null, true);
        if (!ReferenceEquals(_into, source.Items))
            return (new(RefusalKind.OutOfDate, "The list shows another source now: it is filled no further."), true);
        var time = core.Options.Time;
        var began = time.GetTimestamp();
        var items = new TItem[_size];
        var come = 0;
        // What came before one that cannot be had comes in all the same.
        var failed = core.App.Try(() =>
        {
            while (come < _size && _rest!.MoveNext()) items[come++] = _rest.Current;
        }, Failed);
        var isLast = failed is not null || come < _size;
        if (isLast) items = items[..come];
        if (come > 0 && splicer.Splice(store.Count, 0, items) is { } refusal) return (refusal, true);
        var took = time.GetElapsedTime(began).TotalMilliseconds;
        _size = (int)Math.Clamp(come * SliceTime / Math.Max(took, 0.01), Least, Math.Min(Most, 4 * _size));
        return (failed, isLast);
    }

    private static string Failed(string why) => $"The app could not give the next item: {why} The list is filled no further.";
}
