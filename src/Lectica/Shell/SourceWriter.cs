using System.Collections.ObjectModel;
using System.Runtime.InteropServices;
using Lectica.Acts;
using Lectica.Items;
using Lectica.Moving;
using Lectica.States;
using Lectica.Tracing;

namespace Lectica.Shell;

/// <summary>
/// Writes to the app's source: puts it in another order, changes the sections of items. All of it is done, or nothing: what was written is
/// put back, and a source that will not have that is read again.
/// </summary>
internal sealed class SourceWriter<TItem, TKey>(
    Core core, ItemStore<TItem, TKey> store, Source<TItem, TKey> source, Projection<TItem, TKey> projection,
        ItemWatcher<TItem, TKey> watcher, Teller<TItem, TKey> teller) where TKey : notnull
{
    /// <summary>Whether the source is a list that can be written, and its items may be moved.</summary>
    public bool CanWrite => core.Options.MayMove && IsWritable;

    /// <summary>Whether the source is a list that can be written.</summary>
    public bool IsWritable => !source.IsSnapshot && source.Items is IList<TItem> { IsReadOnly: false } and not TItem[];

    internal IList<TItem> List => (IList<TItem>)source.Items!;

    /// <summary>Why the source is not as long as the list; null where it is.</summary>
    public Refusal? CountRefusal => List.Count == store.Count ? null
        : new(RefusalKind.OutOfDate,
        $"The source holds {List.Count} items and the list {store.Count}: it has changed without saying so. Call Refresh.");

    // Changes are taken as a turn begins: this is one that came since.
    internal static Refusal Meanwhile =>
        new(RefusalKind.OutOfDate, "The collection was changed on another thread at this very moment; nothing was moved. Try again.");

    /// <summary>Why the source is not what the list holds; null where it is, as far as some items go.</summary>
    public Refusal? OutOfStep(ItemSet at, TItem[] items)
    {
        using var held = source.Hold();
        if (source.IsAhead) return Meanwhile;
        if (CountRefusal is { } wrong) return wrong;
        var expected = items.AsSpan();
        foreach (var range in at.Ranges())
        {
            if (FirstOther(range, expected[..range.Length]) is >= 0 and var index)
                return new(RefusalKind.OutOfDate,
                    $"What the source holds at {index} is not the item '{core.KeyText(index)}': it has changed without saying so. Call " +
                        "Refresh.");
            expected = expected[range.Length..];
        }
        return null;
    }

    /// <summary>The first index of a range at which the source holds another item than is expected; -1 where there is none.</summary>
    private int FirstOther(ItemRange range, ReadOnlySpan<TItem> expected)
    {
        var list = List;
        ReadOnlySpan<TItem> held = list is List<TItem> plain ? CollectionsMarshal.AsSpan(plain).Slice(range.Start, range.Length)
            : (TItem[])[.. Enumerable.Range(range.Start, range.Length).Select(i => list[i])];
        // Other objects may stand for the same items.
        for (var i = 0; (i += SameItems.From(held[i..], expected[i..])) < held.Length; i++)
            if (!EqualityComparer<TItem>.Default.Equals(held[i], expected[i])) return range.Start + i;
        return -1;
    }

    /// <summary>The key of the section that an item is in; null in a list without.</summary>
    public string? SectionOf(int index) => core.Rows.SectionOf(index) is >= 0 and var at ? core.Rows.Sections[at].Key : null;

    /// <summary>Moves items in the source, puts them into sections, and takes everything through the edit.</summary>
    /// <param name="edit">The move.</param>
    /// <param name="from">Where the items that move are.</param>
    /// <param name="items">The items.</param>
    /// <param name="sections">For each of them its section by key; null in a list without.</param>
    /// <param name="act">The act.</param>
    /// <param name="written">Called when the source has taken the move, before anything is told of it.</param>
    public Refusal? Move(Edit edit, ItemSet from, TItem[] items, string[]? sections, Act act, Action? written = null)
    {
        using var held = source.Hold();
        if (OutOfStep(from, items) is { } wrong) return wrong;
        string[]? before = sections is null ? null : [.. from.Select(i => SectionOf(i)!)];
        if (sections is not null && Assign(items, sections, before!) is { } refused) return refused;
        if (WriteOrder(edit) is { } refusal)
        {
            if (sections is not null) Assign(items, before!, sections);
            return refusal;
        }
        written?.Invoke();
        core.HoldsScroll = true;
        try
        {
            source.Rearrange(edit);
        }
        finally
        {
            core.HoldsScroll = false;
        }
        var landed = edit.Apply(from);
        if (sections is not null) projection.Reconsider(landed, lingers: false);
        TellMoved(landed, null, sections?[0]);
        source.IsReordered = true;
        // Of a move they are in the order that they had.
        teller.TellMoved(edit.Moved is null ? store.ItemsOf(landed) : items, landed, sections?[0], act);
        return null;
    }

    public void TellMoved(ItemSet items, int? gap, string? section) => core.Trace(() => new TracedChange
    {
        T = core.Now,
        Change = "move",
        Gap = gap,
        Part = section is null ? null : "heading:" + section,
        Moved = teller.KeysOf(items),
    });

    /// <summary>Puts items into sections, where those can be assigned. If one cannot be put there, the others are put back.</summary>
    public Refusal? Assign(TItem[] items, string[] sections, string[] before)
    {
        if (projection.Sections?.Assign is not { } assign) return null;
        try
        {
            for (var i = 0; i < items.Length; i++)
            {
                if (sections[i] == before[i]) continue;
                var (item, section) = (items[i], sections[i]);
                watcher.Written = item;
                if (core.App.Try(() => assign(item, section),
                    why => $"The item '{item}' could not be put into the section '{section}': {why}") is not { } refusal) continue;
                for (var k = 0; k < i; k++)
                    if (sections[k] != before[k]) PutBack(assign, items[k], before[k]);
                return refusal;
            }
            return null;
        }
        finally
        {
            watcher.Written = null;
        }
    }

    private void PutBack(Action<TItem, string> assign, TItem item, string section)
    {
        watcher.Written = item;
        _ = core.App.Try(() => assign(item, section), why => why);
    }

    /// <summary>
    /// Puts the source into another order. A collection that reports its changes is moved item by item, and its reports of that are not
    /// needed.
    /// </summary>
    private Refusal? WriteOrder(Edit edit)
    {
        var (start, length) = edit.Stretch;
        if (length == 0) return null;
        var list = List;
        if (!source.IsLive && list is List<TItem> plain)
        {
            Arrange(plain, edit);
            return null;
        }
        var wanted = store.ItemsOf(ItemSet.None(store.Count).WithRange(start, length));
        if (!source.IsLive)
            for (var i = 0; i < length; i++) wanted[i] = list[start + i];
        TItem[] was = source.IsLive ? [] : [.. wanted];
        edit.Arrange(wanted.AsSpan(), start);
        if (!source.IsLive)
        {
            var written = 0;
            return core.App.Try(() =>
            {
                for (; written < length; written++) list[start + written] = wanted[written];
            }, why =>
            {
                for (var i = 0; i < written; i++) list[start + i] = was[i];
                return $"The source did not take the move: {why}";
            });
        }
        source.IsWriting = true;
        Refusal? failed;
        try
        {
            failed = core.App.Try(() =>
            {
                foreach (var (from, to) in edit.Singles())
                {
                    if (list is ObservableCollection<TItem> observable) observable.Move(from, to);
                    else
                    {
                        var item = list[from];
                        list.RemoveAt(from);
                        list.Insert(to, item);
                    }
                }
            }, why => $"The source did not take the move: {why}. The list has read it again.");
        }
        finally
        {
            source.IsWriting = false;
        }
        if (failed is null && list.Count == store.Count
            && wanted.Select((item, i) => EqualityComparer<TItem>.Default.Equals(item, list[start + i])).All(same => same)) return null;
        source.ReadAgain();
        return failed ?? new(RefusalKind.Failed, "The source did not take the move. The list has read it again.");
    }

    /// <summary>Puts the items of a plain list into another order.</summary>
    internal static void Arrange(List<TItem> list, Edit edit)
    {
        edit.Arrange(CollectionsMarshal.AsSpan(list), 0);
        // A write by the indexer ends whatever enumerates the list.
        if (list.Count > 0) list[0] = list[0];
    }
}
