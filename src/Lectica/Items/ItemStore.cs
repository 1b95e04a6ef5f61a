namespace Lectica.Items;

/// <summary>
/// The list's own copy of which items there are, with their keys: it is what every index means, whatever the app does to its
/// collection meanwhile. Every change is checked as a whole before any of it is made.
/// </summary>
internal sealed class ItemStore<TItem, TKey> where TKey : notnull
{
    private readonly Func<TItem, TKey>? _keyOf;
    private readonly Func<long, TKey>? _mint;
    private readonly bool _check;
    private ItemOrder _order = new(0);
    private ItemSlots<TItem, TKey> _slots = new([]);
    private long _minted;

    // Very many that the list itself has taken out may be put back as they were. They keep their slots and keys meanwhile, so that neither
    // their going nor their coming back costs a look at each key. Of more than a few such stretches the first is let go of.
    private readonly List<ItemOrder.Stretch> _away = [];
    private const int ManyAway = 4096, MostAway = 4;

    /// <param name="keyOf">Gives an item's key; null for items without, whose identities <paramref name="mint"/> makes of a running
    /// number.</param>
    /// <param name="mint">Makes the identity of an item without a key.</param>
    /// <param name="check">Whether keys are checked when items come in; otherwise when a key is first asked for.</param>
    public ItemStore(Func<TItem, TKey>? keyOf, Func<long, TKey>? mint, bool check)
    {
        (_keyOf, _mint, _check) = (keyOf, mint, check && keyOf is not null);
    }

    public int Count => Pages?.Count ?? _order.Count;

    /// <summary>What has been read of a source that is not in memory; null where all items are.</summary>
    public PagedItems<TItem, TKey>? Pages { get; private set; }

    /// <summary>From now on items come in pages: there are none yet.</summary>
    /// <param name="hold">Told of each item that is held from now on, or no longer.</param>
    public PagedItems<TItem, TKey> OpenPages(Action<TItem, bool> hold)
    {
        Open([]);
        return Pages = new(_keyOf ?? throw new InvalidOperationException("A paged list needs keys: make it with a key function."), hold);
    }

    /// <summary>From now on all items are in memory: there are none yet.</summary>
    public void ClosePages() => Pages = null;

    /// <summary>Whether an item can be asked for.</summary>
    public bool Has(int index) => Pages is null || Pages.Has(index);

    /// <summary>Whether all of them can be.</summary>
    public bool Has(ItemSet items)
    {
        if (Pages is null) return true;
        if (items.Count > Pages.ReadCount) return false;
        foreach (var index in items)
            if (!Pages.Has(index)) return false;
        return true;
    }

    /// <summary>Keys as text.</summary>
    public KeyTexts<TKey> Texts { get; } = new();

    /// <summary>A key as text.</summary>
    public string TextOf(TKey key) => Texts.Of(key);

    /// <summary>Whether items have keys of their own, and none that the list gives them.</summary>
    public bool HasOwnKeys => _keyOf is not null;

    public TItem ItemAt(int index)
    {
        if (Pages is { } pages) return pages.ItemAt(index);
        CheckIndex(index);
        return _slots.Items[_order.SlotAt(index)];
    }

    /// <summary>What an item says its key is, whether it is in the list or not.</summary>
    /// <exception cref="MissingKeyException">It has none.</exception>
    public TKey KeyOf(TItem item, int index = -1) => Key(item, index);

    /// <summary>The key of an item, checked against what it came with.</summary>
    public TKey KeyAt(int index)
    {
        var key = KeptKeyAt(index);
        if (_keyOf is null || AsksForKeys) return key;
        var now = _keyOf(ItemAt(index));
        return now is not null && EqualityComparer<TKey>.Default.Equals(key, now) ? key : throw new KeyChangedException(key, now, index);
    }

    /// <summary>The key that an item came with, unchecked.</summary>
    public TKey KeptKeyAt(int index)
    {
        if (Pages is { } pages) return pages.KeyAt(index);
        CheckIndex(index);
        var slot = _order.SlotAt(index);
        return _slots.Keys is null && _keyOf is not null ? Key(_slots.Items[slot], index) : Keys()[slot];
    }

    /// <summary>The index of the item with this key, or -1.</summary>
    public int IndexOf(TKey key) =>
        Pages is { } pages ? pages.IndexOf(key) : ByKey().Find(key) is >= 0 and var slot ? _order.IndexOf(slot) : -1;

    /// <summary>
    /// The same for a key that was kept: where the list itself gave an item its key, that has another one when it comes back.
    /// </summary>
    public int IndexOfKept(TKey key)
    {
        while (_aliases is not null && IndexOf(key) < 0 && _aliases.TryGetValue(key, out var now)) key = now;
        return IndexOf(key);
    }

    /// <summary>Says that an item has come back, and which key it had.</summary>
    public void CameBack(TKey before, int index)
    {
        if (HasOwnKeys) return;
        var now = KeptKeyAt(index);
        if (!EqualityComparer<TKey>.Default.Equals(before, now)) (_aliases ??= [])[before] = now;
    }

    private Dictionary<TKey, TKey>? _aliases;

    /// <summary>The index of an item: by its key, or the first equal one where there are no keys; -1 where there is none.</summary>
    public int IndexOfItem(TItem item)
    {
        if (_keyOf is not null) return _keyOf(item) is { } key ? IndexOf(key) : -1;
        var comparer = EqualityComparer<TItem>.Default;
        for (var i = 0; i < Count; i++)
            if (comparer.Equals(ItemAt(i), item)) return i;
        return -1;
    }

    /// <summary>Every index at which this very object stands. Cost: log where items have keys; else all items.</summary>
    public IEnumerable<int> IndexesOf(TItem item)
    {
        if (_keyOf is not null)
        {
            if (IndexOfItem(item) is >= 0 and var index) yield return index;
            yield break;
        }
        for (var i = 0; i < Count; i++)
            if (SameItems.IsSameObject(ItemAt(i), item)) yield return i;
    }

    /// <summary>Where an item is stored for as long as it is in the list, whatever its index.</summary>
    public int SlotAt(int index) => _order.SlotAt(index);

    /// <summary>Where all items are stored, in order.</summary>
    public int[] SlotsInOrder() => _order.ToArray();

    /// <summary>The index of the item in a slot.</summary>
    public int IndexOfSlot(int slot) => _order.IndexOf(slot);

    /// <summary>The item in a slot.</summary>
    public TItem ItemIn(int slot) => _slots.Items[slot];

    /// <summary>The items for which the app says so; each is asked once, in order. Of pages only those that have been read.</summary>
    public ItemSet Where(Func<TItem, bool> isMember)
    {
        if (Pages is { } pages) return pages.Where(isMember);
        return About(InOrder(), isMember);
    }

    // A word at a time, in variables of its own: an interpreter, as in a browser, does that at nearly twice the speed.
    private static ItemSet About(ReadOnlySpan<TItem> items, Func<TItem, bool> isMember)
    {
        var words = new ulong[Bits.WordsFor(items.Length)];
        for (var w = 0; w < words.Length; w++)
        {
            var (word, bit) = (0UL, 1UL);
            foreach (var item in items.Slice(w << 6, Math.Min(64, items.Length - (w << 6))))
            {
                if (isMember(item)) word |= bit;
                bit <<= 1;
            }
            words[w] = word;
        }
        return ItemSet.FromWords(words, items.Length);
    }

    /// <summary>The same of some items: the others are not asked, and are none of them.</summary>
    public ItemSet Where(ItemSet about, Func<TItem, bool> isMember)
    {
        if (about.IsEmpty) return about;
        // Over what lies between the first and the last of them: what comes in is not to cost what is there already.
        var first = about.Nth(0);
        var span = about.Nth(about.Count - 1) + 1 - first;
        var items = ItemsOf(about);
        if (span == items.Length) return ItemSet.None(Count).With(first, About(items, isMember));
        var (words, n) = (new ulong[Bits.WordsFor(span)], 0);
        foreach (var range in about.Ranges())
            for (var i = range.Start - first; i < range.End - first; i++)
                if (isMember(items[n++])) words[i >>> 6] |= 1UL << (i & 63);
        return ItemSet.None(Count).With(first, ItemSet.FromWords(words, span));
    }

    /// <summary>The items of a set, in order. Cost: the items, and a logarithm for each run of them.</summary>
    /// <exception cref="ItemNotReadException">They come in pages, and not all have been read.</exception>
    public TItem[] ItemsOf(ItemSet set) => Pages is { } pages ? [.. set.Select(pages.ItemAt)] : Read(set, _slots.Items);

    /// <summary>The keys that they came with, unchecked.</summary>
    public TKey[] KeptKeysOf(ItemSet set) =>
        Pages is { } pages ? [.. set.Select(pages.KeyAt)]
        : AsksForKeys ? KeysNowOf(ItemsOf(set), set) : Read(set, Keys());

    /// <summary>Their keys, checked against what they came with.</summary>
    /// <exception cref="KeyChangedException">One has another key now.</exception>
    public TKey[] KeysOf(ItemSet set)
    {
        var keys = KeptKeysOf(set);
        if (_keyOf is null || AsksForKeys) return keys;
        var items = ItemsOf(set);
        for (var i = 0; i < keys.Length; i++)
            if (_keyOf(items[i]) is var now && (now is null || !EqualityComparer<TKey>.Default.Equals(keys[i], now)))
                throw new KeyChangedException(keys[i], now, set.Nth(i));
        return keys;
    }

    private TKey[] KeysNowOf(TItem[] items, ItemSet set)
    {
        var keys = new TKey[items.Length];
        for (var i = 0; i < keys.Length; i++) keys[i] = _keyOf!(items[i]) is { } key ? key : throw new MissingKeyException(set.Nth(i));
        return keys;
    }

    /// <summary>Whether keys are not kept: each item is asked when its key is needed.</summary>
    public bool AsksForKeys => _keyOf is not null && _slots.Keys is null && Pages is null;

    private T[] Read<T>(ItemSet set, T[] inSlots)
    {
        if (set.IsEmpty) return [];
        if (set.Universe != Count) throw ItemSet.OutOfRange(set.Universe - 1, Count);
        var read = new T[set.Count];
        // As spans: a write into an array of objects would look at their type each time.
        _order.Read<T>(set, inSlots, read);
        return read;
    }

    private void CheckIndex(int index)
    {
        if ((uint)index >= (uint)Count) throw ItemSet.OutOfRange(index, Count);
    }

    private TKey Key(TItem item, int index) => _keyOf!(item) is { } key ? key : throw new MissingKeyException(index);

    // The item's own or, where it has none, one for it.
    private TKey NewKey(TItem item, int index) => _keyOf is null ? _mint!(_minted++) : Key(item, index);

    /// <summary>Replaces everything, pairing nothing.</summary>
    public void Open(ReadOnlySpan<TItem> items)
    {
        var copy = items.ToArray();
        Begin(_check ? new(copy, KeysOf(copy, out var byKey), byKey) : new(copy));
    }

    private void Begin(ItemSlots<TItem, TKey> slots)
    {
        _slots = slots;
        _away.Clear();
        _order = new(slots.Items.Length);
    }

    /// <summary>The same for items whose keys are known already.</summary>
    /// <param name="items">The items, each in its slot. They are the store's from now on.</param>
    /// <param name="keys">Their keys.</param>
    /// <param name="byKey">The slot of each key; null where that is not known yet.</param>
    /// <param name="order">The slots in the order of the items; null where it is that in which they are given.</param>
    public void Open(TItem[] items, TKey[] keys, KeySlots<TKey>? byKey, int[]? order)
    {
        if (byKey is null && _check)
        {
            byKey = new(keys, items.Length);
            for (var i = 0; i < keys.Length; i++)
                if (!byKey.TryAdd(i)) throw new DuplicateKeyException(keys[i], byKey.Find(keys[i]), i);
        }
        Begin(new(items, keys, byKey));
        if (order is not null) _order.Lay(order);
    }

    private TKey[] KeysOf(TItem[] items, out KeySlots<TKey> byKey)
    {
        var keys = new TKey[items.Length];
        byKey = new(keys, items.Length);
        for (var i = 0; i < items.Length; i++)
        {
            keys[i] = Key(items[i], i);
            if (!byKey.TryAdd(i)) throw new DuplicateKeyException(keys[i], byKey.Find(keys[i]), i);
        }
        return keys;
    }

    private TKey[] Keys()
    {
        if (_slots.Keys is { } known) return known;
        var keys = new TKey[_slots.Items.Length];
        for (var i = 0; i < Count; i++)
        {
            var slot = _order.SlotAt(i);
            keys[slot] = NewKey(_slots.Items[slot], i);
        }
        return _slots.Keys = keys;
    }

    private KeySlots<TKey> ByKey()
    {
        if (_slots.ByKey is { } known) return known;
        var keys = Keys();
        var byKey = new KeySlots<TKey>(keys, Count);
        for (var i = 0; i < Count; i++)
        {
            var slot = _order.SlotAt(i);
            if (!byKey.TryAdd(slot)) throw new DuplicateKeyException(keys[slot], _order.IndexOf(byKey.Find(keys[slot])), i);
        }
        return _slots.ByKey = byKey;
    }

    /// <summary>
    /// Takes <paramref name="removed"/> items out at <paramref name="at"/> and puts others there. An item that is taken out and put in
    /// again, with the same key, at the same place of the two lists stays the same item; <paramref name="replaced"/> tells where all of
    /// them do. Every key is asked for once, before anything changes.
    /// </summary>
    /// <param name="at">Where.</param>
    /// <param name="removed">How many go.</param>
    /// <param name="inserted">Who comes.</param>
    /// <param name="departed">Is told who goes, where it does not know.</param>
    /// <param name="mayReturn">Whether those that go may be put back: of very many that costs a fraction then. They are held until then,
    /// or until others have gone.</param>
    /// <param name="replaced">Whether only other objects stand for the same items.</param>
    public Edit Splice(
        int at, int removed, ReadOnlySpan<TItem> inserted, Departed<TItem, TKey>? departed, bool mayReturn, out bool replaced)
    {
        replaced = false;
        if (removed == 0 && TryReturn(at, inserted)) return Edit.Splice(Count - inserted.Length, at, 0, inserted.Length);
        var edit = Edit.Splice(Count, at, removed, inserted.Length);
        var mayReplace = removed == inserted.Length && removed > 0 && _keyOf is not null;
        var keys = mayReplace || _slots.Keys is not null || _check ? AskKeys(at, inserted) : null;
        replaced = mayReplace && Replaces(at, inserted, keys!);
        if (replaced)
        {
            for (var i = 0; i < inserted.Length; i++) _slots.Items[_order.SlotAt(at + i)] = inserted[i];
            return Edit.Splice(Count, at, 0, 0);
        }

        if (_slots.Keys is null && !_check) keys = null;
        if (removed > 0 && keys is not null && _keyOf is not null) CheckNew(at, removed, keys);
        if (removed > 0)
        {
            var range = ItemSet.None(Count).WithRange(at, removed);
            if (departed?.Count == 0) Depart(at, range, departed);
            if (mayReturn && removed >= ManyAway && _keyOf is not null && _slots.ByKey is not null)
            {
                if (_away.Count == MostAway) LetGo(1);
                _away.Add(_order.Detach(at, removed));
            }
            else
            {
                var leaving = new int[removed];
                _order.Read(range, leaving);
                _slots.Free(leaving);
                _order.RemoveRange(at, removed);
            }
        }
        if (inserted.Length == 0) return edit;

        _order.Insert(at, PutAll(at, inserted, keys));
        return edit;
    }

    /// <summary>Whether these very items have been taken out together, and are back as they were.</summary>
    private bool TryReturn(int at, ReadOnlySpan<TItem> items)
    {
        for (var i = _away.Count - 1; i >= 0; i--)
        {
            var stretch = _away[i];
            if (!stretch.Holds(_slots.Items, items)) continue;
            _away.RemoveAt(i);
            _order.Attach(at, stretch);
            return true;
        }
        return false;
    }

    /// <summary>Lets go of what was taken out first: others may come in with its keys.</summary>
    private void LetGo(int stretches)
    {
        for (; stretches > 0; stretches--)
        {
            _slots.Free(_away[0].ToArray());
            _away.RemoveAt(0);
        }
    }

    /// <summary>Makes room for so many more items at once.</summary>
    public void Reserve(int more)
    {
        if (Pages is null) _slots.Reserve(more);
    }

    private int[] PutAll(int at, ReadOnlySpan<TItem> items, TKey[]? keys)
    {
        if (keys is not null && _keyOf is not null) ByKey();
        int[] slots;
        while (_slots.TryPut(items, keys, out slots) is { } twins)
        {
            if (_away.Count > 0 && twins.Slot is { } slot && !_order.Contains(slot))
            {
                // It is one of those that were taken out.
                LetGo(_away.Count);
                continue;
            }
            var index = twins.First is { } first ? at + first
                : _order.IndexOf(twins.Slot!.Value) is var there && there < at ? there : there + items.Length;
            throw new DuplicateKeyException(keys![twins.Second], index, at + twins.Second);
        }
        return slots;
    }

    private TKey[] AskKeys(int at, ReadOnlySpan<TItem> inserted)
    {
        if (_check) Keys();
        var keys = new TKey[inserted.Length];
        for (var i = 0; i < keys.Length; i++) keys[i] = NewKey(inserted[i], at + i);
        return keys;
    }

    private bool Replaces(int at, ReadOnlySpan<TItem> inserted, TKey[] keys)
    {
        for (var i = 0; i < inserted.Length; i++)
        {
            var slot = _order.SlotAt(at + i);
            var old = _slots.Keys is { } known ? known[slot] : Key(_slots.Items[slot], at + i);
            if (EqualityComparer<TKey>.Default.Equals(old, keys[i])) continue;
            if (SameItems.IsSameObject(_slots.Items[slot], inserted[i])) throw new KeyChangedException(old, keys[i], at + i);
            return false;
        }
        return true;
    }

    /// <summary>Checks the keys of items that come in for others against each other and those that stay.</summary>
    private void CheckNew(int at, int removed, TKey[] keys)
    {
        var here = keys.Length > 1 ? new Dictionary<TKey, int>(keys.Length) : null;
        for (var i = 0; i < keys.Length; i++)
        {
            if (here is not null && !here.TryAdd(keys[i], at + i)) throw new DuplicateKeyException(keys[i], here[keys[i]], at + i);
            var other = IndexOf(keys[i]);
            if (other >= 0 && (other < at || other >= at + removed))
                throw new DuplicateKeyException(keys[i], other < at ? other : other - removed + keys.Length, at + i);
        }
    }

    /// <summary>Notes who leaves, all of one range.</summary>
    private void Depart(int at, ItemSet range, Departed<TItem, TKey> departed)
    {
        departed.Add(at, range.Count, out var items, out var keys);
        _order.Read<TItem>(range, _slots.Items, items);
        if (_slots.Keys is { } known) _order.Read<TKey>(range, known, keys);
        else
            for (var i = 0; i < keys.Length; i++) keys[i] = NewKey(items[i], at + i);
    }

    /// <summary>Takes items out and puts them in a gap together. Cost: log for each run of them, or one pass where they are many.</summary>
    public Edit Move(ItemSet moved, int gap)
    {
        var edit = Edit.Move(moved, gap);
        Rearrange(edit);
        return edit;
    }

    /// <summary>The same for a move, or any other order of the same items; that costs one pass.</summary>
    public void Rearrange(Edit edit)
    {
        if (edit.Moved is { } moved && MoveParts.Of(moved, edit.GapOfMove) is var parts && parts.Sum(p => p.Items.Count) <= ManyMoved)
        {
            foreach (var (items, gap) in parts)
            {
                var slots = new int[items.Count];
                _order.Read(items, slots);
                var landing = gap - items.Rank(gap);
                foreach (var range in items.Ranges().Reverse()) _order.RemoveRange(range.Start, range.Length);
                _order.Insert(landing, slots);
            }
            return;
        }
        var laid = _order.ToArray();
        edit.Arrange(laid.AsSpan(), 0);
        _order.Lay(laid);
    }

    private const int ManyMoved = 1024;

    /// <summary>
    /// Takes over a new list as a whole. Items are paired by key, those without by equal value in order, so that whatever is held by
    /// index follows them; the rest are new or gone. Cost: a key and a comparison an item, and a look-up for those out of place.
    /// </summary>
    public Edit? Update(ReadOnlySpan<TItem> items, Departed<TItem, TKey>? departed)
    {
        // Where items have only come or only left, at one place, nothing is paired.
        var held = InOrder();
        var (above, below) = SameEnds(held, items);
        if (above + below == Math.Min(Count, items.Length))
        {
            var gone = Count - above - below;
            var come = items.Slice(above, items.Length - above - below);
            return gone + come.Length == 0 ? null : Splice(above, gone, come, departed, mayReturn: false, out _);
        }
        var pairing = _keyOf is null ? Pairing<TItem, TKey>.ByValue(held, items)
            : Pairing<TItem, TKey>.ByKey(Keys(), ByKey(), _order, _slots.Items, items, Key);
        var old = pairing.Old;
        if (pairing.IsSame)
        {
            for (var i = 0; i < old.Length; i++) _slots.Items[_order.SlotAt(i)] = items[i];
            return null;
        }

        // Others may have their keys now.
        LetGo(_away.Count);
        var oldSlots = _order.ToArray();
        var stays = new bool[oldSlots.Length];
        foreach (var i in old)
            if (i >= 0) stays[i] = true;
        for (var i = 0; i < stays.Length; i++)
        {
            if (stays[i]) continue;
            var slot = oldSlots[i];
            departed?.Add(i, _slots.Items[slot], _slots.Keys is { } known ? known[slot] : NewKey(_slots.Items[slot], i));
            _slots.Free([slot]);
        }
        var laid = new int[items.Length];
        for (var i = 0; i < laid.Length; i++)
        {
            if (old[i] >= 0) _slots.Items[laid[i] = oldSlots[old[i]]] = items[i];
            else
                laid[i] = _slots.Put(
                    items[i], _slots.Keys is null ? default! : pairing.Keys is { } keys ? keys[i] : _mint!(_minted++));
        }
        _order.Lay(laid);
        return pairing.ToEdit(oldSlots.Length);
    }

    /// <summary>
    /// How many items at the start and at the end of a new list are the very ones that are there, with the keys that they had.
    /// </summary>
    private (int Above, int Below) SameEnds(ReadOnlySpan<TItem> held, ReadOnlySpan<TItem> items)
    {
        var above = SameItems.From(held, items);
        var below = SameItems.FromEnd(held[above..], items[above..]);
        if (above + below < Math.Min(held.Length, items.Length) || _keyOf is null || AsksForKeys) return (above, below);
        var keys = KeptKeysOf(ItemSet.All(Count));
        for (var i = 0; i < items.Length; i++)
        {
            if (i >= above && i < items.Length - below) continue;
            var index = i < above ? i : i - items.Length + Count;
            var now = Key(items[i], i);
            if (!EqualityComparer<TKey>.Default.Equals(keys[index], now)) throw new KeyChangedException(keys[index], now, index);
        }
        return (above, below);
    }

    private ReadOnlySpan<TItem> InOrder() => _order.IsPlain ? _slots.Items.AsSpan(0, Count) : ItemsOf(ItemSet.All(Count));
}
