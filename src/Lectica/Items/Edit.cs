namespace Lectica.Items;

/// <summary>
/// One edit of a source, as a mapping of positions. It is the only way in which anything held by index follows the source: the
/// selection, the marks, the cursor and a pressed row all go through the same edit.
/// </summary>
internal sealed class Edit
{
    private readonly ItemSet? _moved;
    private readonly int[]? _oldIndexes;
    private readonly Edit[]? _parts;
    private readonly int _at, _removed, _inserted;
    private int[]? _newIndexes, _newGaps;

    private Edit(int oldLength, int newLength) => (OldLength, NewLength) = (oldLength, newLength);

    private Edit(int oldLength, int at, int removed, int inserted)
        : this(oldLength, oldLength - removed + inserted) => (_at, _removed, _inserted) = (at, removed, inserted);

    private Edit(ItemSet moved, int gap)
        : this(moved.Universe, moved.Universe) => (_moved, _at) = (moved, gap);

    private Edit(int oldLength, int[] oldIndexes)
        : this(oldLength, oldIndexes.Length) => _oldIndexes = oldIndexes;

    private Edit(Edit[] parts) : this(parts[0].OldLength, parts[^1].NewLength) => _parts = parts;

    /// <summary>Where and how much, of a splice; null for a move or a remap.</summary>
    internal (int At, int Removed, int Inserted)? AsSplice =>
        _moved is null && _oldIndexes is null && _parts is null ? (_at, _removed, _inserted) : null;

    /// <summary>Whether anything is another item, or in another place, after it.</summary>
    internal bool Changes => _parts is not null ? Array.Exists(_parts, p => p.Changes) : _moved is null
        ? _oldIndexes is not null || _removed + _inserted > 0
        : !_moved.IsEmpty
        && !(_moved.Nth(_moved.Count - 1) - _moved.Nth(0) == _moved.Count - 1 && _at >= _moved.Nth(0)
        && _at <= _moved.Nth(0) + _moved.Count);

    /// <summary>The number of items before the edit.</summary>
    public int OldLength { get; }

    /// <summary>The number of items after the edit.</summary>
    public int NewLength { get; }

    /// <summary>
    /// Items <paramref name="at"/> to <paramref name="at"/> + <paramref name="removed"/> - 1 leave; others come in their place.
    /// </summary>
    /// <exception cref="ArgumentOutOfRangeException">The removed range is not inside the list.</exception>
    public static Edit Splice(int length, int at, int removed, int inserted)
    {
        if (at < 0 || removed < 0 || inserted < 0 || at > length - removed)
            throw new ArgumentOutOfRangeException(
                nameof(at), at, $"Of {length} items, {removed} at {at} cannot be replaced by {inserted}.");
        if ((long)length - removed + inserted > int.MaxValue)
            throw new ArgumentOutOfRangeException(nameof(inserted), inserted,
                $"{length - removed} items and {inserted} more are too many: a list holds {int.MaxValue} at most.");
        return new(length, at, removed, inserted);
    }

    /// <summary>
    /// Items leave and land together, in their order, in a gap: just before the item that has that index now, or at the end.
    /// </summary>
    /// <exception cref="ArgumentOutOfRangeException">The gap is not in 0..length.</exception>
    public static Edit Move(ItemSet moved, int gap)
    {
        if ((uint)gap > (uint)moved.Universe)
            throw new ArgumentOutOfRangeException(nameof(gap), gap, $"{moved.Universe} items have the gaps 0 to {moved.Universe}.");
        return new(moved, gap);
    }

    /// <summary>Anything else: new item i was old item <c>oldIndexes[i]</c>, or is new where that is negative.</summary>
    internal static Edit Remap(int oldLength, int[] oldIndexes) => new(oldLength, oldIndexes);

    /// <summary>Several edits as one, one after the other; each over as many items as the one before leaves.</summary>
    internal static Edit Sequence(IReadOnlyList<Edit> parts) => new([.. parts]);

    /// <summary>A set over the old items as one over the new. Cost: that of the set's splice, move or remap.</summary>
    public ItemSet Apply(ItemSet set, bool inserted = false)
    {
        if (_parts is not null)
        {
            foreach (var part in _parts) set = part.Apply(set, inserted);
            return set;
        }
        if (_moved is not null) return set.Move(_moved, _at);
        if (_oldIndexes is null) return set.Splice(_at, _removed, _inserted, inserted);
        var mapped = set.Remap(_oldIndexes);
        return inserted ? mapped.Union(Came()) : mapped;
    }

    private ItemSet Came() => ItemSet.Where(NewLength, i => _oldIndexes![i] < 0);

    /// <summary>Where an old item is now, or -1 if it has left.</summary>
    public int Apply(int index)
    {
        if ((uint)index >= (uint)OldLength) return -1;
        if (_parts is not null)
        {
            foreach (var part in _parts) index = part.Apply(index);
            return index;
        }
        if (_moved is not null)
        {
            var before = _moved.Rank(index);
            var landing = _at - _moved.Rank(_at);
            if (_moved.Contains(index)) return landing + before;
            var rest = index - before;
            return rest < landing ? rest : rest + _moved.Count;
        }
        if (_oldIndexes is not null) return NewIndexes()[index];
        return index < _at ? index : index < _at + _removed ? -1 : index - _removed + _inserted;
    }

    /// <summary>Which old item stands at an index now, or -1 for one that came in.</summary>
    internal int Back(int index)
    {
        if ((uint)index >= (uint)NewLength) return -1;
        if (_parts is not null)
        {
            for (var i = _parts.Length - 1; i >= 0; i--) index = _parts[i].Back(index);
            return index;
        }
        if (_moved is not null)
        {
            var landing = _at - _moved.Rank(_at);
            if (index >= landing && index < landing + _moved.Count) return _moved.Nth(index - landing);
            return _moved.Complement().Nth(index < landing ? index : index - _moved.Count);
        }
        if (_oldIndexes is not null) return _oldIndexes[index];
        return index < _at ? index : index < _at + _inserted ? -1 : index - _inserted + _removed;
    }

    /// <summary>Of a move: the items that move; null for other edits.</summary>
    internal ItemSet? Moved => _moved;

    /// <summary>Of a move: the gap that they land in.</summary>
    internal int GapOfMove => _at;

    /// <summary>
    /// Whether all that it does is to put these items elsewhere: they stay in their order, and so do all others. Cost: that of comparing
    /// sets or, for a rearrangement, all items.
    /// </summary>
    internal bool OnlyMoves(ItemSet items)
    {
        if (_moved is not null) return _moved.Count == items.Count && _moved.Except(items).IsEmpty;
        if (_oldIndexes is null || NewLength != OldLength) return false;
        int last = -1, lastOther = -1;
        foreach (var old in _oldIndexes)
        {
            ref var before = ref items.Contains(old) ? ref last : ref lastOther;
            if (old <= before) return false;
            before = old;
        }
        return true;
    }

    /// <summary>Of a move or a rearrangement: the stretch in which places change.</summary>
    internal ItemRange Stretch =>
        _oldIndexes is not null ? OutOfPlace(_oldIndexes)
        : _moved is not { IsEmpty: false } moved ? new(0, 0)
        : Math.Min(moved.Nth(0), _at) is var start ? new(start, Math.Max(moved.Nth(moved.Count - 1) + 1, _at) - start) : default;

    private static ItemRange OutOfPlace(int[] order)
    {
        int start = 0, end = order.Length;
        while (start < end && order[start] == start) start++;
        while (end > start && order[end - 1] == end - 1) end--;
        return new(start, end - start);
    }

    /// <summary>Of a move or a rearrangement: the same as moves of one item each.</summary>
    internal IEnumerable<(int From, int To)> Singles() =>
        _oldIndexes is not null ? MoveParts.Singles(_oldIndexes) : MoveParts.Singles(_moved!, _at);

    /// <summary>
    /// Of a move or a rearrangement: puts what stands for the items of a stretch into their new order. Cost: of a move its runs, and a copy
    /// of what it goes past.
    /// </summary>
    /// <param name="stretch">What stands for them, in their old order.</param>
    /// <param name="start">The index of the first: the stretch holds all of <see cref="Stretch"/>.</param>
    internal void Arrange<T>(Span<T> stretch, int start)
    {
        if (_oldIndexes is not null)
        {
            var was = stretch.ToArray();
            for (var i = 0; i < was.Length; i++) stretch[i] = was[_oldIndexes[start + i] - start];
            return;
        }
        if (_moved is null) return;
        foreach (var part in MoveParts.Of(_moved, _at)) Arrange(stretch, start, part.Items, part.Gap);
    }

    private static void Arrange<T>(Span<T> stretch, int start, ItemSet moved, int gap)
    {
        int first = moved.Nth(0) - start, last = moved.Nth(moved.Count - 1) - start, to = gap - start, n = 0;
        var held = new T[moved.Count];
        // Those that stay close up from one end or the other, run by run; what moves then has the room that is left.
        if (to > last)
        {
            var free = first;
            var from = first;
            foreach (var range in moved.Ranges())
            {
                var at = range.Start - start;
                stretch[from..at].CopyTo(stretch[free..]);
                free += at - from;
                stretch.Slice(at, range.Length).CopyTo(held.AsSpan(n));
                n += range.Length;
                from = at + range.Length;
            }
            stretch[from..to].CopyTo(stretch[free..]);
            held.CopyTo(stretch[(to - held.Length)..]);
            return;
        }
        // Upwards: as above from the other end, so that nothing is written over that is still to be read.
        var end = last + 1;
        var until = end;
        foreach (var range in moved.Ranges().Reverse())
        {
            var at = range.Start - start;
            var stay = stretch[(at + range.Length)..until];
            stay.CopyTo(stretch[(end - stay.Length)..]);
            end -= stay.Length;
            n += range.Length;
            stretch.Slice(at, range.Length).CopyTo(held.AsSpan(held.Length - n));
            until = at;
        }
        stretch[to..until].CopyTo(stretch[(end - (until - to))..]);
        held.CopyTo(stretch[to..]);
    }

    /// <summary>Where an old item is now; if it has left, the next one that remains, else the one before, else -1.</summary>
    public int Nearest(int index)
    {
        if ((uint)index >= (uint)OldLength) return -1;
        if (_parts is not null)
        {
            foreach (var part in _parts) index = part.Nearest(index);
            return index;
        }
        if (_moved is not null) return Apply(index);
        if (_oldIndexes is null)
        {
            if (index < _at || index >= _at + _removed) return Apply(index);
            return _at + _removed < OldLength ? _at + _inserted : _at - 1;
        }
        if (NewGaps()[index] is var next && next < NewLength) return next;
        // All from it on have left.
        var map = NewIndexes();
        for (var i = index - 1; i >= 0; i--)
            if (map[i] >= 0) return map[i];
        return -1;
    }

    /// <summary>
    /// Where a gap is now: before the item that it was before, or before the next one that remains; the end where none does.
    /// </summary>
    public int Gap(int gap)
    {
        if (gap >= OldLength) return NewLength;
        if (gap < 0) return 0;
        if (_parts is not null)
        {
            foreach (var part in _parts) gap = part.Gap(gap);
            return gap;
        }
        if (_moved is not null) return Apply(gap);
        if (_oldIndexes is null) return gap < _at ? gap : gap < _at + _removed ? _at + _inserted : gap - _removed + _inserted;
        return NewGaps()[gap];
    }

    /// <summary>The items that the edit brought in, by their indexes after it.</summary>
    public IEnumerable<int> Inserted()
    {
        if (_parts is not null)
        {
            foreach (var index in InsertedSet()) yield return index;
            yield break;
        }
        if (_moved is not null) yield break;
        if (_oldIndexes is null)
        {
            for (var i = 0; i < _inserted; i++) yield return _at + i;
            yield break;
        }
        for (var i = 0; i < _oldIndexes.Length; i++)
            if (_oldIndexes[i] < 0) yield return i;
    }

    /// <summary>The same as a set.</summary>
    internal ItemSet InsertedSet() =>
        _parts is not null ? _parts.Aggregate(ItemSet.None(OldLength), (came, part) => part.Apply(came, inserted: true))
        : AsSplice is { } splice ? ItemSet.None(NewLength).WithRange(splice.At, splice.Inserted) : ItemSet.Of(NewLength, Inserted());

    private int[] NewIndexes()
    {
        if (_newIndexes is { } known) return known;
        var map = new int[OldLength];
        Array.Fill(map, -1);
        for (var i = 0; i < _oldIndexes!.Length; i++)
            if (_oldIndexes[i] >= 0) map[_oldIndexes[i]] = i;
        return _newIndexes = map;
    }

    // For each old item where it is now or, where it has left, the next one that remains: looked for once, however many ask.
    private int[] NewGaps()
    {
        if (_newGaps is { } known) return known;
        int[] gaps = [.. NewIndexes()];
        for (int i = gaps.Length - 1, next = NewLength; i >= 0; i--) gaps[i] = next = gaps[i] >= 0 ? gaps[i] : next;
        return _newGaps = gaps;
    }

    /// <summary>Such as <c>2 removed and 3 inserted at 7 of 20</c>.</summary>
    public override string ToString() =>
        _parts is not null ? string.Join("; ", _parts.AsEnumerable())
        : _moved is not null ? $"{_moved.Count} moved to gap {_at} of {OldLength}"
        : _oldIndexes is not null ? $"{OldLength} items replaced by {NewLength}"
        : $"{_removed} removed and {_inserted} inserted at {_at} of {OldLength}";
}
