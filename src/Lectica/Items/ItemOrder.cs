namespace Lectica.Items;

/// <summary>
/// Which item stands where, both ways: slots (where an item is stored, for as long as it is in the list) in blocks of a few hundred,
/// with a Fenwick tree (P. M. Fenwick, "A new data structure for cumulative frequency tables", 1994) over the blocks' sizes. Looking
/// up either way and editing cost O(log n) and one block. As long as items have only come in at the end, slot and index are the same and
/// nothing is stored; from the first other edit on, the blocks that it does not touch say their first slot alone.
/// </summary>
internal sealed class ItemOrder(int count)
{
    private const int MaxBlock = 1024;

    private sealed class Block
    {
        private int[]? _slots;
        private int _first;

        public int Count, Ordinal;

        /// <summary>A block of slots that follow one another, which are not stored until it is edited inside.</summary>
        public static Block Run(int first, int count, int ordinal) => new() { _first = first, Count = count, Ordinal = ordinal };

        /// <summary>A block of these slots.</summary>
        public static Block Of(ReadOnlySpan<int> slots)
        {
            var next = 1;
            while (next < slots.Length && slots[next] == slots[0] + next) next++;
            if (next == slots.Length) return Run(slots[0], slots.Length, 0);
            var block = new Block { Count = slots.Length };
            slots.CopyTo(block._slots = new int[MaxBlock]);
            return block;
        }

        /// <summary>The slots, with room for more behind them.</summary>
        public int[] Slots
        {
            get
            {
                if (_slots is not null) return _slots;
                _slots = new int[MaxBlock];
                for (var i = 0; i < Count; i++) _slots[i] = _first + i;
                return _slots;
            }
        }

        public int this[int at] => _slots is null ? _first + at : _slots[at];

        /// <summary>Where a slot is in it; negative where it is not.</summary>
        public int Find(int slot) =>
            _slots is not null ? Array.IndexOf(_slots, slot, 0, Count) : (uint)(slot - _first) < (uint)Count ? slot - _first : -1;

        public void CopyTo(int at, Span<int> slots)
        {
            if (_slots is not null) _slots.AsSpan(at, slots.Length).CopyTo(slots);
            else
                for (var i = 0; i < slots.Length; i++) slots[i] = _first + at + i;
        }

        /// <summary>What lies in some of its slots: in one go where they follow one another.</summary>
        public void Read<T>(int at, ReadOnlySpan<T> inSlots, Span<T> into)
        {
            if (_slots is null) inSlots.Slice(_first + at, into.Length).CopyTo(into);
            else
                for (var i = 0; i < into.Length; i++) into[i] = inSlots[_slots[at + i]];
        }

        public void Remove(int at, int count)
        {
            if (_slots is null && at == 0) _first += count;
            else if (_slots is not null || at + count < Count) Array.Copy(Slots, at + count, Slots, at, Count - at - count);
            Count -= count;
        }
    }

    private List<Block>? _blocks;
    private int[] _sums = [];

    // For each slot the block that it is in; null for one that is where it came in, by that one of the first blocks.
    private Block?[] _blockOf = [];
    private Block[] _firstBlocks = [];

    public int Count { get; private set; } = count;

    /// <summary>Whether nothing was edited yet, so that slot and index are the same.</summary>
    public bool IsPlain => _blocks is null;

    public int SlotAt(int index)
    {
        if (_blocks is null) return index;
        var block = BlockAt(ref index);
        return block[index];
    }

    private Block? BlockOf(int slot) =>
        slot >= _blockOf.Length ? null
        : _blockOf[slot] ?? (slot / (MaxBlock / 2) is var first && first < _firstBlocks.Length ? _firstBlocks[first] : null);

    /// <summary>The slots of a set of indexes, in order. Cost: the set, and a logarithm for each run of it.</summary>
    public void Read(ItemSet set, Span<int> slots)
    {
        var n = 0;
        foreach (var range in set.Ranges())
        {
            var part = slots.Slice(n, range.Length);
            n += range.Length;
            if (_blocks is null)
            {
                for (var i = 0; i < part.Length; i++) part[i] = range.Start + i;
                continue;
            }
            var at = range.Start;
            for (var block = BlockAt(ref at); ; (block, at) = (_blocks[block.Ordinal + 1], 0))
            {
                var here = Math.Min(part.Length, block.Count - at);
                block.CopyTo(at, part[..here]);
                part = part[here..];
                if (part.IsEmpty) break;
            }
        }
    }

    /// <summary>What lies in the slots of a set of indexes, in order. Cost: the set, and a logarithm for each block that it is in.</summary>
    public void Read<T>(ItemSet set, ReadOnlySpan<T> inSlots, Span<T> into)
    {
        var (leaves, start) = (set.Leaves(), 0);
        int[] members = [];
        for (; leaves.MoveNext(out var leaf); start += leaf.Length)
        {
            if (leaf.IsRun)
            {
                if (leaf.Flip) ReadRange(new(start, leaf.Length), inSlots, ref into);
                continue;
            }
            if (members.Length < leaf.Length) members = new int[leaf.Length + MemberBytes.Slack];
            var count = MemberBytes.Decode(leaf.Words, leaf.Flip, Bits.TailMask(leaf.Length), start, members, 0);
            ReadEach(members.AsSpan(0, count), inSlots, into);
            into = into[count..];
        }
    }

    private void ReadRange<T>(ItemRange range, ReadOnlySpan<T> inSlots, ref Span<T> into)
    {
        if (_blocks is null)
        {
            inSlots.Slice(range.Start, range.Length).CopyTo(into);
            into = into[range.Length..];
            return;
        }
        var (at, left) = (range.Start, range.Length);
        for (var block = BlockAt(ref at); ; (block, at) = (_blocks[block.Ordinal + 1], 0))
        {
            var here = Math.Min(left, block.Count - at);
            block.Read(at, inSlots, into[..here]);
            into = into[here..];
            left -= here;
            if (left == 0) break;
        }
    }

    private void ReadEach<T>(ReadOnlySpan<int> indexes, ReadOnlySpan<T> inSlots, Span<T> into)
    {
        if (_blocks is null)
        {
            for (var i = 0; i < indexes.Length; i++) into[i] = inSlots[indexes[i]];
            return;
        }
        var (block, first, end) = (_blocks[0], 0, 0);
        for (var i = 0; i < indexes.Length; i++)
        {
            var index = indexes[i];
            if (index >= end)
            {
                var at = index;
                block = BlockAt(ref at);
                (first, end) = (index - at, index - at + block.Count);
            }
            into[i] = inSlots[block[index - first]];
        }
    }

    public int IndexOf(int slot)
    {
        if (_blocks is null) return slot;
        var block = BlockOf(slot)!;
        return Before(block.Ordinal) + block.Find(slot);
    }

    /// <summary>Whether a slot is in it.</summary>
    public bool Contains(int slot) =>
        _blocks is null ? (uint)slot < (uint)Count
        : BlockOf(slot) is { Count: > 0 } block && block.Find(slot) >= 0;

    public void Insert(int index, ReadOnlySpan<int> slots)
    {
        if (StaysPlain(index, slots))
        {
            Count += slots.Length;
            return;
        }
        Build();
        if (slots.Length <= MaxBlock)
            foreach (var slot in slots) Insert(index++, slot);
        else
            InsertMany(index, slots);
    }

    // What comes in at the end of a list that nothing else was done to has the next slots.
    private bool StaysPlain(int index, ReadOnlySpan<int> slots)
    {
        if (_blocks is not null || index != Count) return false;
        foreach (var slot in slots)
            if (slot != index++) return false;
        return true;
    }

    /// <summary>Puts blocks of their own in, between the two halves of the one that is there.</summary>
    private void InsertMany(int index, ReadOnlySpan<int> slots)
    {
        var at = index;
        var before = index == Count ? _blocks![^1] : BlockAt(ref at);
        if (index == Count) at = before.Count;
        var come = new List<Block>();
        Fill(come, slots);
        if (at < before.Count) Fill(come, before.Slots.AsSpan(at, before.Count - at));
        before.Count = at;
        Count += slots.Length;
        _blocks!.InsertRange(before.Ordinal + 1, come);
        if (at == 0) _blocks.RemoveAt(before.Ordinal);
        Number();
    }

    private void Insert(int index, int slot)
    {
        if (slot >= _blockOf.Length) Array.Resize(ref _blockOf, Math.Max(slot + 1, _blockOf.Length * 2));
        var at = index;
        var block = index == Count ? _blocks![^1] : BlockAt(ref at);
        if (index == Count) at = block.Count;
        if (block.Count == MaxBlock)
        {
            block = Split(block, ref at);
        }
        Array.Copy(block.Slots, at, block.Slots, at + 1, block.Count - at);
        block.Slots[at] = slot;
        block.Count++;
        Count++;
        _blockOf[slot] = block;
        AddTo(block.Ordinal, 1);
    }

    public void RemoveRange(int index, int count)
    {
        Build();
        var emptied = false;
        while (count > 0)
        {
            var at = index;
            var block = BlockAt(ref at);
            var gone = Math.Min(count, block.Count - at);
            block.Remove(at, gone);
            Count -= gone;
            count -= gone;
            AddTo(block.Ordinal, -gone);
            emptied |= block.Count == 0;
        }
        if (!emptied || _blocks!.Count == 1) return;
        _blocks.RemoveAll(b => b.Count == 0);
        if (_blocks.Count == 0) _blocks.Add(new());
        Number();
    }

    /// <summary>The order as a whole, replaced.</summary>
    public void Lay(ReadOnlySpan<int> slots)
    {
        Count = slots.Length;
        _firstBlocks = [];
        _blocks = new(slots.Length / (MaxBlock / 2) + 1);
        Fill(_blocks, slots);
        if (_blocks.Count == 0) _blocks.Add(new());
        Number();
    }

    /// <summary>Makes blocks of slots, with room for more in each.</summary>
    private void Fill(List<Block> blocks, ReadOnlySpan<int> slots)
    {
        var top = -1;
        foreach (var slot in slots) top = Math.Max(top, slot);
        if (top >= _blockOf.Length) Array.Resize(ref _blockOf, Math.Max(top + 1, _blockOf.Length * 2));
        for (var at = 0; at < slots.Length; at += MaxBlock / 2)
        {
            var part = slots.Slice(at, Math.Min(MaxBlock / 2, slots.Length - at));
            var block = Block.Of(part);
            foreach (var slot in part) _blockOf[slot] = block;
            blocks.Add(block);
        }
    }

    public int[] ToArray()
    {
        var all = new int[Count];
        if (_blocks is null)
        {
            for (var i = 0; i < all.Length; i++) all[i] = i;
            return all;
        }
        var at = 0;
        foreach (var block in _blocks)
        {
            block.CopyTo(0, all.AsSpan(at, block.Count));
            at += block.Count;
        }
        return all;
    }

    private void Build()
    {
        if (_blocks is not null) return;
        _blocks = new(Count / (MaxBlock / 2) + 1);
        for (var at = 0; at < Count || at == 0; at += MaxBlock / 2)
            _blocks.Add(Block.Run(at, Math.Min(MaxBlock / 2, Count - at), _blocks.Count));
        _firstBlocks = [.. _blocks];
        _blockOf = new Block?[Count];
        Number();
    }

    private Block Split(Block block, ref int at)
    {
        const int half = MaxBlock / 2;
        var next = new Block();
        Array.Copy(block.Slots, half, next.Slots, 0, MaxBlock - half);
        next.Count = MaxBlock - half;
        block.Count = half;
        for (var i = 0; i < next.Count; i++) _blockOf[next.Slots[i]] = next;
        _blocks!.Insert(block.Ordinal + 1, next);
        Number();
        if (at <= half) return block;
        at -= half;
        return next;
    }

    /// <summary>Numbers the blocks and sums their sizes again; needed where blocks come or go, once in hundreds of edits.</summary>
    private void Number()
    {
        _sums = new int[_blocks!.Count + 1];
        for (var i = 0; i < _blocks.Count; i++)
        {
            _blocks[i].Ordinal = i;
            _sums[i + 1] += _blocks[i].Count;
            var parent = i + 1 + ((i + 1) & -(i + 1));
            if (parent < _sums.Length) _sums[parent] += _sums[i + 1];
        }
    }

    private void AddTo(int ordinal, int delta)
    {
        for (var i = ordinal + 1; i < _sums.Length; i += i & -i) _sums[i] += delta;
    }

    private int Before(int ordinal)
    {
        var sum = 0;
        for (var i = ordinal; i > 0; i -= i & -i) sum += _sums[i];
        return sum;
    }

    /// <summary>The block in which an index is; the index becomes the place inside it.</summary>
    private Block BlockAt(ref int index)
    {
        var at = 0;
        for (var step = (int)System.Numerics.BitOperations.RoundUpToPowerOf2((uint)_sums.Length) >> 1; step > 0; step >>= 1)
            if (at + step < _sums.Length && _sums[at + step] <= index)
            {
                at += step;
                index -= _sums[at];
            }
        return _blocks![at];
    }
}
