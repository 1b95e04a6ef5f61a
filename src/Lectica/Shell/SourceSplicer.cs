using System.Runtime.InteropServices;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Items;

namespace Lectica.Shell;

/// <summary>Takes items out of the app's source, and puts others in: all of it, or nothing.</summary>
internal sealed class SourceSplicer<TItem, TKey>(
    Core core, Turns turns, ItemStore<TItem, TKey> store, Source<TItem, TKey> source, Projection<TItem, TKey> projection,
        SourceWriter<TItem, TKey> writer, Teller<TItem, TKey> teller) where TKey : notnull
{
    // A plain list is written anew where items go or come at more places than this.
    private const int ManyPlaces = 64;

    /// <summary>Why the list cannot put items into the source; null where it can.</summary>
    public Refusal? WhyNotWritten =>
        !writer.IsWritable ? new(RefusalKind.NotAvailable, "The source cannot be written.")
        : projection.IsOutline
        ? new(RefusalKind.NotAvailable,
        "Items come into an outline through its source, which says what lies below what: change that.")
        : null;

    /// <summary>Makes room for so many more items, here and in the source.</summary>
    public void Reserve(int more)
    {
        if (writer.List is List<TItem> plain) plain.EnsureCapacity(plain.Count + more);
        store.Reserve(more);
    }

    /// <summary>Takes items out of the source and puts others in, by the list itself.</summary>
    /// <param name="at">Where.</param>
    /// <param name="removed">How many go.</param>
    /// <param name="inserted">Who comes.</param>
    /// <param name="leaving">Those that go and their keys, where they have been read already, also from the source.</param>
    public Refusal? Splice(int at, int removed, TItem[] inserted, (TItem[] Items, TKey[] Keys)? leaving = null)
    {
        if (WhyNotWritten is { } not) return not;
        using var held = source.Hold();
        if (source.IsAhead) return SourceWriter<TItem, TKey>.Meanwhile;
        if (writer.CountRefusal is { } wrong) return wrong;
        Refusal? refusal = null;
        turns.Inside(() =>
        {
            var list = writer.List;
            TItem[] before = leaving is { } known ? known.Items
                : list is List<TItem> all ? [.. CollectionsMarshal.AsSpan(all).Slice(at, removed)]
                : [.. Enumerable.Range(at, removed).Select(i => list[i])];
            int gone = 0, come = 0;
            source.IsWriting = true;
            try
            {
                refusal = core.App.Try(() =>
                {
                    // A plain list takes many in one go; a collection that tells of its changes tells of each.
                    if (list is List<TItem> plain)
                    {
                        plain.RemoveRange(at, removed);
                        gone = removed;
                        plain.InsertRange(at, inserted);
                        come = inserted.Length;
                        return;
                    }
                    for (; gone < removed; gone++) list.RemoveAt(at);
                    for (; come < inserted.Length; come++) list.Insert(at + come, inserted[come]);
                }, why => why);
                // What was written before it failed is put back.
                if (refusal is not null) _ = core.App.Try(() =>
                {
                    for (; come > 0; come--) list.RemoveAt(at + come - 1);
                    for (; gone > 0; gone--) list.Insert(at, before[gone - 1]);
                }, why => why);
            }
            finally
            {
                source.IsWriting = false;
            }
            if (refusal is null)
            {
                // A key of the app's that cannot be told, or is taken: the source is put back as it was.
                if (Attempt.Of(() => source.Splice(at, removed, inserted, leaving, mayReturn: true)) is not { } error) return;
                refusal = new(RefusalKind.Failed, error.Message);
                source.IsWriting = true;
                _ = core.App.Try(() =>
                {
                    for (var i = inserted.Length; i > 0; i--) list.RemoveAt(at + i - 1);
                    for (var i = removed; i > 0; i--) list.Insert(at, before[i - 1]);
                }, why => why);
                source.IsWriting = false;
            }
            refusal = new(RefusalKind.Failed, $"The source did not take the items: {refusal.Reason} The list has read it again.");
            source.ReadAgain();
        });
        return refusal;
    }

    /// <summary>Takes items out of the source, all or none. Cost: what goes or, where it lies in very many places, all.</summary>
    /// <param name="items">The items.</param>
    /// <param name="gone">The same, where they have been read already.</param>
    /// <param name="keys">Their keys, where these have been too.</param>
    public Refusal? TakeOut(ItemSet items, TItem[]? gone = null, TKey[]? keys = null)
    {
        if (items.IsEmpty) return null;
        if (WhyNotWritten is { } not) return not;
        using var held = source.Hold();
        gone ??= store.ItemsOf(items);
        if (writer.OutOfStep(items, gone) is { } wrong) return wrong;
        ItemRange[] ranges = [.. items.Ranges()];
        if (PlainOfMany(ranges.Length) is { } plain)
        {
            var (rest, at, from) = (new TItem[plain.Count - gone.Length], 0, 0);
            foreach (var range in ranges.Append(new(plain.Count, 0)))
            {
                plain.CopyTo(from, rest, at, range.Start - from);
                at += range.Start - from;
                from = range.End;
            }
            return Rewrite(plain, rest);
        }
        return Together(() =>
        {
            // From the end, so that those before stay where they are.
            var (left, end) = (ranges.Length, gone.Length);
            for (; left > 0; end -= ranges[left].Length)
            {
                (TItem[], TKey[])? known = ranges.Length == 1 && keys is not null ? (gone, keys) : null;
                if (Splice(ranges[--left].Start, ranges[left].Length, [], known) is not { } refusal) continue;
                for (left++; left < ranges.Length; end += ranges[left++].Length)
                    _ = Splice(ranges[left].Start, 0, gone[end..(end + ranges[left].Length)]);
                return refusal;
            }
            return null;
        });
    }

    /// <summary>
    /// Puts items in, each at the index that it has when those before it are in, at the end at most; all or none. Cost: what comes or,
    /// where it comes to very many places, all.
    /// </summary>
    public Refusal? PutIn(TItem[] items, int[] at)
    {
        var (runs, isInOrder, count) = (new List<(int First, ItemRange To)>(), true, store.Count);
        for (int first = 0, next; first < items.Length; first = next)
        {
            for (next = first + 1; next < items.Length && at[next] == at[next - 1] + 1; next++) continue;
            isInOrder &= at[first] <= count && (runs.Count == 0 || at[first] > runs[^1].To.End);
            runs.Add((first, new(Math.Min(at[first], count), next - first)));
            count += next - first;
        }
        return PutIn(items, runs, isInOrder);
    }

    /// <summary>The same for items that come back in runs, from the top, each into a gap between those that are there.</summary>
    public Refusal? PutIn(TItem[] items, (int Gap, int Count)[] runs)
    {
        var (to, first) = (new List<(int First, ItemRange To)>(runs.Length), 0);
        foreach (var (gap, count) in runs)
        {
            to.Add((first, new(gap + first, count)));
            first += count;
        }
        return PutIn(items, to, isInOrder: true);
    }

    private Refusal? PutIn(TItem[] items, List<(int First, ItemRange To)> runs, bool isInOrder)
    {
        if (items.Length == 0) return null;
        if (WhyNotWritten is { } not) return not;
        using var held = source.Hold();
        if (isInOrder && PlainOfMany(runs.Count) is { } plain)
        {
            if (writer.CountRefusal is { } wrong) return wrong;
            var (all, from) = (new TItem[store.Count + items.Length], 0);
            var filled = 0;
            foreach (var (first, to) in runs.Append((items.Length, new(all.Length, 0))))
            {
                plain.CopyTo(from, all, filled, to.Start - filled);
                from += to.Start - filled;
                items.AsSpan(first, to.Length).CopyTo(all.AsSpan(to.Start));
                filled = to.End;
            }
            return Rewrite(plain, all);
        }
        return Together(() =>
        {
            for (var i = 0; i < runs.Count; i++)
            {
                var (first, to) = runs[i];
                if (Splice(to.Start, 0, to.Length == items.Length ? items : items[first..(first + to.Length)]) is not { } refusal) continue;
                while (--i >= 0) _ = Splice(runs[i].To.Start, runs[i].To.Length, []);
                return refusal;
            }
            return null;
        });
    }

    // Read as a whole, items without keys are told apart by what they say, and those that are equal not at all.
    private List<TItem>? PlainOfMany(int places) =>
        places > ManyPlaces && store.HasOwnKeys && !source.IsLive ? writer.List as List<TItem> : null;

    // What is done at several places is told of once.
    private Refusal? Together(Func<Refusal?> act)
    {
        Refusal? refusal = null;
        turns.Inside(() =>
        {
            teller.BeginGathering();
            try
            {
                refusal = act();
            }
            finally
            {
                teller.EndGathering();
            }
        });
        return refusal;
    }

    /// <summary>Gives a plain list other items, and reads it; a key that is there twice leaves all as it was.</summary>
    private Refusal? Rewrite(List<TItem> list, TItem[] items)
    {
        TItem[] before = [.. list];
        Refusal? refusal = null;
        turns.Inside(() =>
        {
            Fill(items);
            if (Attempt.Of(source.ReadAgain) is not { } error) return;
            refusal = new(RefusalKind.Failed, $"The source did not take the items: {error.Message} The list has read it again.");
            Fill(before);
            source.ReadAgain();
        });
        return refusal;

        void Fill(TItem[] with)
        {
            list.Clear();
            list.AddRange(with);
        }
    }
}
