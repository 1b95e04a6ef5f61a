using System.Numerics;

namespace Lectica.Items;

/// <summary>
/// Which item stands where, both ways: slots (where an item is stored, for as long as it is in the list) in blocks of a few hundred,
/// with a Fenwick tree (P. M. Fenwick, "A new data structure for cumulative frequency tables", 1994) over the blocks' sizes. Looking
/// up either way and editing cost O(log n) and one block. As long as items have only come in at the end, slot and index are the same and
/// nothing is stored; from the first other edit on, the blocks that it does not touch say their first slot alone.
/// </summary>
internal sealed class ItemOrder(int count)
{
    private const int MaxBlock = 1024, HalfBlock = MaxBlock / 2;

    /// <summary>Slots that were taken out together, and can be put in again as they were.</summary>
    public sealed class Stretch
    {
        internal Stretch(List<Block> blocks) => (Blocks, Count) = (blocks, blocks.Sum(b => b.Count));

        internal List<Block> Blocks { get; }

        public int Count { get; }

        /// <summary>The slots, in order.</summary>
        public int[] ToArray() => ItemOrder.ToArray(Blocks, Count);

        /// <summary>Whether these very items lie in its slots, in order.</summary>
        public bool Holds<T>(ReadOnlySpan<T> inSlots, ReadOnlySpan<T> items)
        {
            if (items.Length != Count) return false;
            foreach (var block in Blocks)
            {
                if (!block.Holds(inSlots, items[..block.Count])) return false;
                items = items[block.Count..];
            }
            return true;
        }
    }

    internal sealed class Block
    {
        private int[]? _slots;
        private int _first;

        public int Count;

        // Negative where it is not, or no longer, in the order.
        public int Ordinal = -1;

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

        /// <summary>Whether these very items lie in its slots.</summary>
        public bool Holds<T>(ReadOnlySpan<T> inSlots, ReadOnlySpan<T> items)
        {
            if (_slots is null) return SameItems.From(inSlots.Slice(_first, Count), items) == Count;
            var here = new T[Count];
            Read(0, inSlots, here);
            return SameItems.From(here, items) == Count;
        }

        /// <summary>It is in the order no longer, and holds nothing.</summary>
        public void Leave() => (_slots, Count, Ordinal) = (null, 0, -1);

        public void Remove(int at, int count)
        {
            if (_slots is null && at == 0) _first += count;
            else if (_slots is not null || at + count < Count) Array.Copy(Slots, at + count, Slots, at, Count - at - count);
            Count -= count;
        }
    }

    private List<Block>? _blocks;
    private int[] _sums = [];

    // For each slot the block that it is in, by stretches of half a block, of which there are only those with a slot that has been put
    // somewhere; in the others each slot is where it came in, in that one of the first blocks.
    private Block?[]?[] _blockOf = [];
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

    private Block? BlockOf(int slot)
    {
        var part = slot / HalfBlock;
        return (part < _blockOf.Length ? _blockOf[part]?[slot % HalfBlock] : null)
            ?? (part < _firstBlocks.Length ? _firstBlocks[part] : null);
    }

    private void SetBlockOf(int slot, Block block)
    {
        var part = slot / HalfBlock;
        if (part >= _blockOf.Length) Array.Resize(ref _blockOf, Math.Max(part + 1, _blockOf.Length * 2));
        (_blockOf[part] ??= new Block?[HalfBlock])[slot % HalfBlock] = block;
    }

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

    /// <summary>What lies in the slots of a set of indexes, in order. Cost: the set, and log for each block that it is in.</summary>
    public void Read<T>(ItemSet set, ReadOnlySpan<T> inSlots, Span<T> into)
    {
        var (leaves, start) = (set.Leaves(), 0);
        int[] members = [];
        T[] all = [];
        for (; leaves.MoveNext(out var leaf); start += leaf.Length)
        {
            if (leaf.IsRun)
            {
                if (leaf.Flip) ReadRange(new(start, leaf.Length), inSlots, ref into);
                continue;
            }
            if (leaf.Count > leaf.Length * 3L / 4)
            {
                if (all.Length < leaf.Length) all = new T[leaf.Length];
                var rest = all.AsSpan();
                ReadRange(new(start, leaf.Length), inSlots, ref rest);
                into = into[Pick(leaf, all, into)..];
                continue;
            }
            // Few members of a large leaf need little room.
            var room = Math.Min(leaf.Count + 64, leaf.Length) + MemberBytes.Slack;
            if (members.Length < room) members = new int[Math.Max(room, Math.Min(2 * members.Length, leaf.Length))];
            var count = MemberBytes.Decode(leaf.Words, leaf.Flip, Bits.TailMask(leaf.Length), start, members, 0);
            ReadEach(members.AsSpan(0, count), inSlots, into);
            into = into[count..];
        }
    }

    // Most of what is there: to copy all of it costs little.
    private static int Pick<T>(in Tree leaf, ReadOnlySpan<T> all, Span<T> into)
    {
        var words = leaf.Words;
        var (mask, n) = (leaf.Flip ? ulong.MaxValue : 0, 0);
        for (var w = 0; w < words.Length; w++)
        {
            var word = words[w] ^ mask;
            if (w == words.Length - 1) word &= Bits.TailMask(leaf.Length);
            if (word == ulong.MaxValue)
            {
                all.Slice(w << 6, 64).CopyTo(into[n..]);
                n += 64;
                continue;
            }
            for (var start = w << 6; word != 0; word &= word - 1) into[n++] = all[start + BitOperations.TrailingZeroCount(word)];
        }
        return n;
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

    /// <summary>The index of a slot; -1 where it is not in the order.</summary>
    public int IndexOf(int slot)
    {
        if (_blocks is null) return (uint)slot < (uint)Count ? slot : -1;
        return BlockOf(slot) is { Ordinal: >= 0 } block && block.Find(slot) is >= 0 and var at ? Before(block.Ordinal) + at : -1;
    }

    /// <summary>Whether a slot is in it.</summary>
    public bool Contains(int slot) => IndexOf(slot) >= 0;

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

    private void InsertMany(int index, ReadOnlySpan<int> slots)
    {
        var come = new List<Block>();
        Fill(come, slots);
        InsertBlocks(index, come, slots.Length);
    }

    private void InsertBlocks(int index, List<Block> come, int count)
    {
        var at = CutAt(index);
        _blocks!.InsertRange(at, come);
        Count += count;
        Number();
    }

    /// <summary>Ends a block at an index where none does; gives the ordinal of the one that begins there.</summary>
    private int CutAt(int index)
    {
        if (index == Count) return Count == 0 ? 0 : _blocks!.Count;
        var at = index;
        var block = BlockAt(ref at);
        if (at == 0) return block.Ordinal;
        var ordinal = block.Ordinal + 1;
        var rest = new int[block.Count - at];
        block.CopyTo(at, rest);
        block.Count = at;
        List<Block> halves = [];
        Fill(halves, rest);
        _blocks!.InsertRange(ordinal, halves);
        Number();
        return ordinal;
    }

    /// <summary>
    /// Takes a range out so that it can be put in again. Cost: the blocks, and one for each of the range's ends; not its length.
    /// </summary>
    public Stretch Detach(int index, int count)
    {
        Build();
        // The end first: the beginning is where it was then.
        CutAt(index + count);
        var first = CutAt(index);
        var end = first;
        for (var left = count; left > 0; end++) left -= _blocks![end].Count;
        var gone = _blocks!.GetRange(first, end - first);
        foreach (var block in gone) block.Ordinal = -1;
        _blocks.RemoveRange(first, gone.Count);
        if (_blocks.Count == 0) _blocks.Add(new());
        Count -= count;
        Number();
        return new(gone);
    }

    /// <summary>Puts in again what was taken out. Cost: the blocks, not how long it is.</summary>
    public void Attach(int index, Stretch stretch) => InsertBlocks(index, stretch.Blocks, stretch.Count);

    private void Insert(int index, int slot)
    {
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
        SetBlockOf(slot, block);
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
        // What is detached stays as it was; all others are in other blocks from now on.
        foreach (var block in _blocks ?? []) block.Leave();
        _blocks = new(slots.Length / HalfBlock + 1);
        Fill(_blocks, slots);
        if (_blocks.Count == 0) _blocks.Add(new());
        Number();
    }

    /// <summary>Makes blocks of slots, with room for more in each.</summary>
    private void Fill(List<Block> blocks, ReadOnlySpan<int> slots)
    {
        for (var at = 0; at < slots.Length; at += HalfBlock)
        {
            var part = slots.Slice(at, Math.Min(HalfBlock, slots.Length - at));
            var block = Block.Of(part);
            foreach (var slot in part) SetBlockOf(slot, block);
            blocks.Add(block);
        }
    }

    public int[] ToArray()
    {
        if (_blocks is not null) return ToArray(_blocks, Count);
        var all = new int[Count];
        for (var i = 0; i < all.Length; i++) all[i] = i;
        return all;
    }

    private static int[] ToArray(List<Block> blocks, int count)
    {
        var (all, at) = (new int[count], 0);
        foreach (var block in blocks)
        {
            block.CopyTo(0, all.AsSpan(at, block.Count));
            at += block.Count;
        }
        return all;
    }

    private void Build()
    {
        if (_blocks is not null) return;
        _blocks = new(Count / HalfBlock + 1);
        for (var at = 0; at < Count || at == 0; at += HalfBlock)
            _blocks.Add(Block.Run(at, Math.Min(HalfBlock, Count - at), _blocks.Count));
        _firstBlocks = [.. _blocks];
        Number();
    }

    private Block Split(Block block, ref int at)
    {
        const int half = HalfBlock;
        var next = new Block();
        Array.Copy(block.Slots, half, next.Slots, 0, MaxBlock - half);
        next.Count = MaxBlock - half;
        block.Count = half;
        for (var i = 0; i < next.Count; i++) SetBlockOf(next.Slots[i], next);
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
