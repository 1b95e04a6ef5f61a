using System.Collections.Specialized;
using Lectica.Items;

namespace Lectica.Shell;

/// <summary>
/// Puts the items of an outline in reading order, as its parents or children say, and finds where in that order what comes in or leaves is.
/// </summary>
internal sealed class Arranger<TItem, TKey>(Core core, ItemStore<TItem, TKey> store) where TKey : notnull
{
    // What was made of the items' keys, which a list that opens with them need not make again.
    private (TItem[] Items, TKey[] Keys, KeySlots<TKey>? At, int[]? Order)? _made;

    // Items that name a parent which has left: they are back with it.
    private readonly HashSet<TKey> _missing = [];
    private readonly Dictionary<INotifyCollectionChanged, TKey> _followed =
        new(ReferenceEqualityComparer.Instance as IEqualityComparer<INotifyCollectionChanged>);

    /// <summary>How items lie below one another; null in a list without levels.</summary>
    public Outline<TItem, TKey>? Outline { get; set; }

    /// <summary>How deep each item lies.</summary>
    public Levels Levels => core.State.Showing.Branching?.Levels ?? Levels.None;

    /// <summary>The same after the edit that is under way.</summary>
    public Levels Next { get; private set; } = Levels.None;

    /// <summary>Whether a source by parents lists its items in reading order.</summary>
    public bool IsInOrder { get; private set; }

    /// <summary>Told of changes of lists of children.</summary>
    public NotifyCollectionChangedEventHandler? Changed { get; set; }

    /// <summary>The items of the source that lie below one which has left.</summary>
    public int Orphans { get; private set; }

    private OutlineException NoParent(TItem item, TKey parent) =>
        new OutlineException(
        store.KeyOf(item),
            $"The item '{TextOf(item)}' lies below '{store.TextOf(parent)}', and there is no such item. Bring that in first, or let the " +
                $"parent of '{TextOf(item)}' be null.");

    private string TextOf(TItem item) => store.TextOf(store.KeyOf(item));

    /// <summary>All items in reading order; <see cref="Next"/> has their levels. Nothing is changed where it throws.</summary>
    /// <param name="items">The source.</param>
    /// <param name="isFirst">Whether it is shown again; else what lies below an item that has left is left out.</param>
    /// <exception cref="OutlineException">They are no outline.</exception>
    public TItem[] Arrange(IReadOnlyList<TItem> items, bool isFirst)
    {
        if (isFirst) _missing.Clear();
        _made = null;
        return Outline!.ParentOf is { } parentOf ? ByParent(items as TItem[] ?? [.. items], parentOf, isFirst) : ByChildren(items);
    }

    /// <summary>
    /// The levels of items that are in reading order already: each lies below the one before, or below one of those that this lies below.
    /// Null where they are in another order. Cost: a key and a comparison an item.
    /// </summary>
    private (ushort[] Levels, TKey[] Keys)? InOrder(TItem[] items, ParentLookup<TItem, TKey> parentOf)
    {
        var comparer = EqualityComparer<TKey>.Default;
        var (levels, keys) = (new ushort[items.Length], new TKey[items.Length]);
        var path = new TKey[16];
        var deep = 0;
        for (var i = 0; i < items.Length; i++)
        {
            if (!parentOf(items[i], out var key)) deep = 0;
            else
            {
                while (deep > 0 && !comparer.Equals(path[deep - 1], key)) deep--;
                if (deep == 0) return null;
            }
            if (deep > Levels.Deepest) throw TooDeep(items[i]);
            if (deep == path.Length) Array.Resize(ref path, 2 * deep);
            levels[i] = (ushort)deep;
            path[deep++] = keys[i] = store.KeyOf(items[i], i);
        }
        return (levels, keys);
    }

    private TItem[] ByParent(TItem[] items, ParentLookup<TItem, TKey> parentOf, bool isFirst)
    {
        if (InOrder(items, parentOf) is { } known)
        {
            (Next, Orphans, IsInOrder) = (Levels.Owning(known.Levels), 0, true);
            _made = (items, known.Keys, null, null);
            _missing.Clear();
            return items;
        }
        var count = items.Length;
        var keys = new TKey[count];
        var at = new KeySlots<TKey>(keys, count);
        for (var i = 0; i < count; i++)
        {
            keys[i] = store.KeyOf(items[i], i);
            if (!at.TryAdd(i)) throw new DuplicateKeyException(keys[i], at.Find(keys[i]), i);
        }
        // Where the next of an item's siblings is, and the first and last of its children; the first level is below a number of its own.
        int[] next = new int[count], first = new int[count + 1], last = new int[count + 1];
        Array.Fill(next, -1);
        Array.Fill(first, -1);
        (TKey Key, int Parent)? before = null;
        var missing = new HashSet<TKey>();
        for (var i = 0; i < count; i++)
        {
            var parent = count;
            var hasParent = parentOf(items[i], out var key);
            // Siblings often stand together.
            if (hasParent && before is { } one && EqualityComparer<TKey>.Default.Equals(one.Key, key)) parent = one.Parent;
            else if (hasParent && (parent = at.Find(key)) < 0)
            {
                // What lay below an item leaves with it.
                if (!_missing.Contains(key) && (isFirst || store.IndexOf(key) < 0)) throw NoParent(items[i], key);
                missing.Add(key);
                continue;
            }
            before = hasParent ? (key, parent) : null;
            if (first[parent] < 0) first[parent] = i;
            else next[last[parent]] = i;
            last[parent] = i;
        }
        var (flat, levels, order) = (new TItem[count], new ushort[count], new int[count]);
        var path = new Stack<int>();
        var (n, isInOrder) = (0, true);
        for (var i = first[count]; i >= 0 || path.Count > 0;)
        {
            if (i < 0)
            {
                i = next[path.Pop()];
                continue;
            }
            if (path.Count > Levels.Deepest) throw TooDeep(items[i]);
            isInOrder &= i == n;
            order[n] = i;
            (flat[n], levels[n++]) = (items[i], (ushort)path.Count);
            path.Push(i);
            i = first[i];
        }
        if (n < count && InCircle(items, parentOf, at) is { } circle) throw circle;
        (Orphans, IsInOrder) = (count - n, isInOrder && n == count);
        if (n == count) _missing.Clear();
        else
        {
            // What lies below them is not in the list either: it may be left behind in turn.
            var isIn = new bool[count];
            foreach (var i in order.AsSpan(0, n)) isIn[i] = true;
            for (var i = 0; i < count; i++)
                if (!isIn[i]) missing.Add(keys[i]);
            _missing.UnionWith(missing);
        }
        Next = Levels.Of(levels.AsSpan(0, n));
        if (n == count) _made = (items, keys, at, order);
        return n == count ? flat : flat[..n];
    }

    private OutlineException TooDeep(TItem item) =>
        new(store.KeyOf(item), $"The item '{TextOf(item)}' lies more than {Levels.Deepest + 1} levels deep.");

    /// <summary>The items that lie below themselves, by the keys on the way; null where there are none.</summary>
    private OutlineException? InCircle(TItem[] items, ParentLookup<TItem, TKey> parentOf, KeySlots<TKey> at)
    {
        // 0 not seen, 1 on the way, 2 known to end.
        var seen = new byte[items.Length];
        for (var start = 0; start < items.Length; start++)
        {
            var way = new List<int>();
            var i = start;
            while (i >= 0 && seen[i] == 0)
            {
                seen[i] = 1;
                way.Add(i);
                i = parentOf(items[i], out var key) ? at.Find(key) : -1;
            }
            if (i >= 0 && seen[i] == 1)
            {
                string[] keys = [.. way.SkipWhile(k => k != i).Select(k => TextOf(items[k])), TextOf(items[i])];
                return new(store.KeyOf(items[i]),
                    $"The item '{keys[0]}' lies below " +
                        $"itself: {string.Join(" is below ", keys.Length > 8 ? [.. keys[..4], "…", .. keys[^3..]] : keys)}. Give one of " +
                        "them another parent.");
            }
            foreach (var k in way) seen[k] = 2;
        }
        return null;
    }

    private TItem[] ByChildren(IReadOnlyList<TItem> roots)
    {
        var (flat, levels) = (new List<TItem>(roots.Count), new List<ushort>(roots.Count));
        // Which item each lies below, to tell one that is there twice; null on the first level.
        var seen = new Dictionary<TKey, TItem?>(roots.Count);
        Flatten(roots, default, 0, flat, levels, seen);
        Next = Levels.Of([.. levels]);
        return [.. flat];
    }

    private void Flatten(
        IReadOnlyList<TItem> items, TItem? parent, int level, List<TItem> flat, List<ushort> levels, Dictionary<TKey, TItem?> seen)
    {
        // Not by recursion: a chain may be deep.
        var open = new Stack<(IReadOnlyList<TItem> Items, int Next, TItem? Parent)>();
        open.Push((items, 0, parent));
        while (open.TryPop(out var on))
        {
            if (on.Next >= on.Items.Count) continue;
            var item = on.Items[on.Next];
            open.Push(on with { Next = on.Next + 1 });
            var key = store.KeyOf(item, flat.Count);
            if (!seen.TryAdd(key, on.Parent))
            {
                foreach (var above in open)
                    if (above.Parent is { } way && EqualityComparer<TKey>.Default.Equals(store.KeyOf(way), key))
                        throw new OutlineException(
                            key, $"The item '{store.TextOf(key)}' lies below itself: it is among the " +
                                $"children of '{TextOf(on.Parent!)}'. Take it out there.");
                throw new OutlineException(
                    key, $"The item '{store.TextOf(key)}' is there twice: {Below(seen[key])} and {Below(on.Parent)}. An item lies below " +
                        "one item.");
            }
            var deep = level + open.Count - 1;
            if (deep > Levels.Deepest) throw TooDeep(item);
            flat.Add(item);
            levels.Add((ushort)deep);
            if (ChildrenOf(item) is { Count: > 0 } children) open.Push((children, 0, item));
        }
    }

    private string Below(TItem? parent) => parent is null ? "on the first level" : $"below '{TextOf(parent)}'";

    private IReadOnlyList<TItem>? ChildrenOf(TItem item)
    {
        try
        {
            return Outline!.ChildrenOf!(item);
        }
        catch (Exception e)
        {
            throw new OutlineException(store.KeyOf(item), $"The children of the item '{TextOf(item)}' could not be read: {e.Message}", e);
        }
    }

    /// <summary>So deep the items lie after the edit that is under way.</summary>
    public void Rearrange(Levels next) => Next = next;

    /// <summary>Opens the store with the items that have just been arranged.</summary>
    public void Open(TItem[] arranged)
    {
        if (_made is { } made) store.Open([.. made.Items], made.Keys, made.At, made.Order);
        else store.Open(arranged);
        _made = null;
    }

    // ── Lists of children ──

    /// <summary>Follows the lists of children of all items that have some, and of no others.</summary>
    public void FollowAll()
    {
        LetAll();
        if (Outline?.ChildrenOf is null) return;
        for (var i = 0; i < store.Count; i++) Follow(store.ItemAt(i));
    }

    private void Follow(TItem item)
    {
        if (Outline?.ChildrenOf is not { } childrenOf || core.App.Ask(childrenOf, item, null) is not INotifyCollectionChanged live
            || !_followed.TryAdd(live, store.KeyOf(item))) return;
        live.CollectionChanged += Changed;
    }

    private void Let(TItem item)
    {
        if (Outline?.ChildrenOf is not { } childrenOf || core.App.Ask(childrenOf, item, null) is not INotifyCollectionChanged live
            || !_followed.Remove(live)) return;
        live.CollectionChanged -= Changed;
    }

    /// <summary>Lets all lists of children go.</summary>
    public void LetAll()
    {
        foreach (var live in _followed.Keys) live.CollectionChanged -= Changed;
        _followed.Clear();
    }

    // ── Changes ──

    /// <summary>A stretch of the reading order in place of another.</summary>
    public readonly record struct Stretch(int At, int Removed, TItem[] Inserted);

    private static readonly Stretch Nothing = new(0, 0, []);

    /// <summary>
    /// What a report of the source comes to in reading order, with the levels after it in <see cref="Next"/>; null where it must be read as
    /// a whole.
    /// </summary>
    /// <param name="sender">The collection that reports.</param>
    /// <param name="e">The report.</param>
    /// <param name="source">The source.</param>
    public Stretch? Read(object? sender, NotifyCollectionChangedEventArgs e, IReadOnlyList<TItem> source)
    {
        Next = Levels;
        return e switch
        {
            { Action: NotifyCollectionChangedAction.Remove, OldItems: [TItem item] } => Leave(item),
            { Action: NotifyCollectionChangedAction.Add, NewItems: [TItem item] } =>
                Outline!.ParentOf is { } parentOf ? ComeByParent(item, e.NewStartingIndex, source, parentOf)
                : ComeByChildren(
                item, e.NewStartingIndex, sender is INotifyCollectionChanged live && _followed.TryGetValue(live, out var parent)
                    ? store.IndexOf(parent) : -1),
            { Action: NotifyCollectionChangedAction.Replace, NewItems: [TItem item] } => Replace(item),
            _ => null,
        };
    }

    private Stretch? Leave(TItem item)
    {
        if (store.IndexOf(store.KeyOf(item)) is not (>= 0 and var at))
        {
            if (Outline!.ParentOf is null || Orphans == 0) return null;
            Orphans--;
            return Nothing;
        }
        var count = Levels.EndOf(at) - at;
        if (Outline!.ParentOf is null)
            for (var i = at; i < at + count; i++) Let(store.ItemAt(i));
        else if (count > 1)
        {
            // What lies below it stays in the source: it leaves the list, until its parent is back.
            Orphans += count - 1;
            IsInOrder = false;
            for (var i = at; i < at + count; i++) _missing.Add(store.KeptKeyAt(i));
        }
        Next = Levels.Splice(at, count, []);
        return new(at, count, []);
    }

    /// <summary>
    /// What a report that an item has another place comes to in reading order, with the levels after it in <see cref="Next"/>: it goes
    /// there among its siblings, with all that is below it. Null where the source must be read as a whole. Cost: the items before it in the
    /// source, up to the nearest sibling.
    /// </summary>
    /// <param name="sender">The collection that reports.</param>
    /// <param name="e">The report.</param>
    /// <param name="source">The source.</param>
    public Edit? ReadMove(object? sender, NotifyCollectionChangedEventArgs e, IReadOnlyList<TItem> source)
    {
        if (e is not { Action: NotifyCollectionChangedAction.Move, OldItems: [TItem item] } || store.IndexOf(store.KeyOf(item)) is not (>= 0
            and var at)) return null;
        var parent = Levels.ParentOf(at);
        var gap = parent + 1;
        if (Outline!.ParentOf is { } parentOf)
        {
            if (HasMoved(at, item)) return null;
            for (var i = e.NewStartingIndex - 1; i >= 0; i--)
            {
                if (parentOf(source[i], out var key) != parent >= 0
                    || (parent >= 0 && !EqualityComparer<TKey>.Default.Equals(key, store.KeptKeyAt(parent)))) continue;
                gap = Levels.EndOf(store.IndexOf(store.KeyOf(source[i])));
                break;
            }
        }
        else
        {
            var below = sender is INotifyCollectionChanged live && _followed.TryGetValue(live, out var owner) ? store.IndexOf(owner) : -1;
            if (below != parent) return null;
            gap = Levels.Children(parent).Where(i => i != at).Skip(e.NewStartingIndex).FirstOrDefault(
                parent < 0 ? store.Count : Levels.EndOf(parent));
        }
        var tops = ItemSet.Of(store.Count, [at]);
        var edit = Edit.Move(Levels.WithBelow(tops), gap);
        Next = Levels.Move(tops, gap, Levels[at]);
        IsInOrder &= !Levels.IsBranch(at) && edit.Apply(at) == e.NewStartingIndex;
        return edit;
    }

    /// <summary>An item that the list itself has taken out of the source with all that is below it.</summary>
    public Stretch LeaveWhole(int at)
    {
        var count = Levels.EndOf(at) - at;
        if (Outline!.ParentOf is null)
            for (var i = at; i < at + count; i++) Let(store.ItemAt(i));
        Next = Levels.Splice(at, count, []);
        return new(at, count, []);
    }

    /// <summary>An item that the list itself has put back into the source with all that is below it.</summary>
    /// <param name="items">It and what lies below it, in reading order; lists of children say that by themselves.</param>
    /// <param name="levels">How deep each of them lies below it.</param>
    /// <param name="gap">The gap in reading order.</param>
    /// <param name="parent">The item that it lies below; -1 for the first level.</param>
    /// <param name="place">Its place in that item's list of children.</param>
    public Stretch ComeWhole(TItem[] items, ushort[] levels, int gap, int parent, int place)
    {
        if (Outline!.ParentOf is null) return ComeByChildren(items[0], place, parent)!.Value;
        var top = parent < 0 ? 0 : Levels[parent] + 1;
        if (top + levels.Max() > Levels.Deepest) throw TooDeep(items[0]);
        Next = Levels.Splice(gap, 0, [.. levels.Select(level => (ushort)(top + level))]);
        return new(gap, 0, items);
    }

    private Stretch? ComeByParent(TItem item, int place, IReadOnlyList<TItem> source, ParentLookup<TItem, TKey> parentOf)
    {
        // With it may come what lies below it.
        if (Orphans > 0 && _missing.Contains(store.KeyOf(item))) return null;
        var parent = -1;
        var hasParent = parentOf(item, out var key);
        if (hasParent && (parent = store.IndexOf(key)) < 0)
        {
            if (!_missing.Contains(key)) throw NoParent(item, key);
            Orphans++;
            _missing.Add(store.KeyOf(item));
            return Nothing;
        }
        var at = parent < 0 ? 0 : parent + 1;
        if (place >= source.Count - 1) at = parent < 0 ? store.Count : Levels.EndOf(parent);
        else
        {
            // After the nearest one before it in the source that lies below the same.
            for (var i = place - 1; i >= 0; i--)
            {
                if (parentOf(source[i], out var other) != hasParent || (hasParent && !EqualityComparer<TKey>.Default.Equals(other, key)))
                    continue;
                at = Levels.EndOf(store.IndexOf(store.KeyOf(source[i])));
                break;
            }
        }
        var level = parent < 0 ? 0 : Levels[parent] + 1;
        if (level > Levels.Deepest) throw TooDeep(item);
        Next = Levels.Splice(at, 0, [(ushort)level]);
        IsInOrder &= at == place;
        return new(at, 0, [item]);
    }

    private Stretch? ComeByChildren(TItem item, int place, int parent)
    {
        var at = parent < 0 ? 0 : parent + 1;
        for (var i = 0; i < place; i++) at = Levels.EndOf(at);
        var (flat, levels) = (new List<TItem>(), new List<ushort>());
        TItem? above = parent < 0 ? default : store.ItemAt(parent);
        Flatten([item], above, parent < 0 ? 0 : Levels[parent] + 1, flat, levels, []);
        foreach (var come in flat)
            if (store.IndexOf(store.KeyOf(come)) >= 0)
                throw new OutlineException(store.KeyOf(come),
                    $"The item '{TextOf(come)}' is there twice: it has come in {Below(above)}, and is in the list already.");
        Next = Levels.Splice(at, 0, [.. levels]);
        foreach (var come in flat) Follow(come);
        return new(at, 0, [.. flat]);
    }

    // Another object for the same item, in the same place.
    private Stretch? Replace(TItem item)
    {
        if (store.IndexOf(store.KeyOf(item)) is not (>= 0 and var at)) return null;
        var stays = Outline!.ParentOf is null ? !Levels.IsBranch(at) && ChildrenOf(item) is null or { Count: 0 } : !HasMoved(at, item);
        return stays ? new(at, 1, [item]) : null;
    }

    /// <summary>
    /// What lies below an item now, in place of what did, where its list of children has not told of that; null where it is the same.
    /// </summary>
    public Stretch? Reread(int index)
    {
        if (Outline?.ChildrenOf is null) return null;
        var item = store.ItemAt(index);
        var (flat, levels) = (new List<TItem>(), new List<ushort>());
        if (ChildrenOf(item) is { } children)
            Flatten(children, item, Levels[index] + 1, flat, levels, new() { [store.KeptKeyAt(index)] = default });
        int at = index + 1, removed = Levels.EndOf(index) - at;
        Follow(item);
        if (removed == flat.Count
            && flat.Select((f, i) => EqualityComparer<TKey>.Default.Equals(store.KeyOf(f), store.KeptKeyAt(at + i))).All(same => same))
            return null;
        Next = Levels.Splice(at, removed, [.. levels]);
        foreach (var come in flat) Follow(come);
        return new(at, removed, [.. flat]);
    }

    /// <summary>Whether an item says that it lies elsewhere than it does.</summary>
    public bool HasMoved(int index) => Outline?.ParentOf is not null && HasMoved(index, store.ItemAt(index));

    private bool HasMoved(int index, TItem item)
    {
        var (hasParent, key) = core.App.Ask(i => (Outline!.ParentOf!(i, out var key), key), item);
        var parent = Levels.ParentOf(index);
        return hasParent ? parent < 0 || !EqualityComparer<TKey>.Default.Equals(key, store.KeptKeyAt(parent)) : parent >= 0;
    }
}
