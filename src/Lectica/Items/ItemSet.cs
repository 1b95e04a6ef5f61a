using System.Collections;
using System.Numerics;
using System.Runtime.CompilerServices;

namespace Lectica.Items;

/// <summary>
/// An immutable set of item indexes out of 0..<see cref="Universe"/>-1. Everything a list knows about its items is one of these:
/// what is selected, marked, disabled, let through by a filter.
/// <para>A persistent rope of bits: every change gives a new set that shares all it can with the old one, which stays valid. Uniform
/// sets and stretches take no memory, whatever their length; others about 1.1 bits an item. Costs below are in the number of leaves
/// L (stretches of up to 4,096 items that are neither all in nor all out); "log" is the height of the tree, at most a handful.</para>
/// </summary>
public sealed partial class ItemSet : IEquatable<ItemSet>
{
    private readonly Tree _tree;

    internal ItemSet(in Tree tree) => _tree = tree;

    internal Tree Tree => _tree;

    /// <summary>The number of items there are: members are 0..Universe-1.</summary>
    public int Universe => _tree.Length;

    /// <summary>The number of members.</summary>
    public int Count => _tree.Count;

    /// <summary>Whether no item is a member.</summary>
    public bool IsEmpty => _tree.Count == 0;

    /// <summary>Whether every item is a member; true for a set over no items.</summary>
    public bool IsAll => _tree.Count == _tree.Length;

    /// <summary>No member out of <paramref name="length"/> items (0 to 2^31-1). Constant cost and memory.</summary>
    /// <exception cref="ArgumentOutOfRangeException">The length is negative.</exception>
    public static ItemSet None(int length)
    {
        ArgumentOutOfRangeException.ThrowIfNegative(length);
        return new(Tree.Run(length, false));
    }

    /// <summary>All of <paramref name="length"/> items (0 to 2^31-1). Constant cost and memory.</summary>
    /// <exception cref="ArgumentOutOfRangeException">The length is negative.</exception>
    public static ItemSet All(int length)
    {
        ArgumentOutOfRangeException.ThrowIfNegative(length);
        return new(Tree.Run(length, true));
    }

    /// <summary>
    /// The items in <paramref name="members"/>, in any order, repeats allowed. Cost: the length in bits, plus the members.
    /// </summary>
    /// <exception cref="ArgumentOutOfRangeException">A member is not in 0..length-1.</exception>
    public static ItemSet Of(int length, params IEnumerable<int> members)
    {
        ArgumentNullException.ThrowIfNull(members);
        ArgumentOutOfRangeException.ThrowIfNegative(length);
        if (members.TryGetNonEnumeratedCount(out var count) && count < length >> 12)
        {
            // A few in a long list: no bitmap of the whole length.
            var batch = None(length).ToBatch();
            foreach (var member in members) batch.Set(member, true);
            return batch.ToSet();
        }
        var words = new ulong[Bits.WordsFor(length)];
        if (members is int[] array)
            foreach (var member in array.AsSpan()) Take(member);
        else
            foreach (var member in members) Take(member);
        return FromWords(words, length);

        void Take(int member)
        {
            if ((uint)member >= (uint)length) throw OutOfRange(member, length);
            words[member >>> 6] |= 1UL << (member & 63);
        }
    }

    /// <summary>The items of 0..length-1 for which <paramref name="isMember"/> says so; each is asked once, in order.</summary>
    public static ItemSet Where(int length, Func<int, bool> isMember)
    {
        ArgumentNullException.ThrowIfNull(isMember);
        var words = new ulong[Bits.WordsFor(length)];
        for (var i = 0; i < length; i++)
            if (isMember(i)) words[i >>> 6] |= 1UL << (i & 63);
        return FromWords(words, length);
    }

    /// <summary>A set from a plain bitmap: item i is bit i mod 64 of word i / 64. Cost: the words.</summary>
    /// <exception cref="ArgumentException">There are fewer words than the length needs.</exception>
    public static ItemSet FromWords(ReadOnlySpan<ulong> words, int length)
    {
        ArgumentOutOfRangeException.ThrowIfNegative(length);
        if (words.Length < Bits.WordsFor(length))
            throw new ArgumentException($"{length} items need {Bits.WordsFor(length)} words; there are {words.Length}.", nameof(words));
        var leaves = new List<Tree>((length / Tree.LeafFill) + 1);
        for (var at = 0; at < length; at += Tree.LeafFill)
        {
            var here = Math.Min(Tree.LeafFill, length - at);
            var leaf = Leaf.New(here);
            words.Slice(at >>> 6, Bits.WordsFor(here)).CopyTo(Leaf.BitsOf(leaf));
            leaf[^1] &= Bits.TailMask(here);
            leaves.Add(Tree.OfLeaf(leaf, here));
        }
        return new(Rope.OverLeaves(leaves));
    }

    /// <summary>Whether this item is a member. Cost: log.</summary>
    /// <exception cref="ArgumentOutOfRangeException">The index is not in 0..Universe-1.</exception>
    public bool Contains(int index)
    {
        if ((uint)index >= (uint)_tree.Length) throw OutOfRange(index, _tree.Length);
        return _tree.Contains(index);
    }

    /// <summary>How many members come before <paramref name="index"/> (0 to Universe). Cost: log.</summary>
    /// <exception cref="ArgumentOutOfRangeException">The index is not in 0..Universe.</exception>
    public int Rank(int index)
    {
        CheckGap(index);
        return _tree.Rank(index);
    }

    /// <summary>How many of the <paramref name="length"/> items from <paramref name="start"/> on are members. Cost: log.</summary>
    /// <exception cref="ArgumentOutOfRangeException">The range is not inside 0..Universe.</exception>
    public int CountIn(int start, int length)
    {
        CheckRange(start, length);
        return _tree.Rank(start + length) - _tree.Rank(start);
    }

    /// <summary>Member number <paramref name="rank"/> in order, 0 being the first. Cost: log.</summary>
    /// <exception cref="ArgumentOutOfRangeException">The rank is not in 0..Count-1.</exception>
    public int Nth(int rank)
    {
        if ((uint)rank >= (uint)_tree.Count) throw NotARank(rank);
        return _tree.Nth(rank);
    }

    /// <summary>The first member at or after <paramref name="index"/>, or -1. Cost: log.</summary>
    public int NextAt(int index)
    {
        if (index >= Universe) return -1;
        var rank = _tree.Rank(Math.Max(index, 0));
        return rank < Count ? _tree.Nth(rank) : -1;
    }

    /// <summary>The last member at or before <paramref name="index"/>, or -1. Cost: log.</summary>
    public int LastAt(int index)
    {
        if (index < 0) return -1;
        var rank = _tree.Rank(Math.Min(index, Universe - 1) + 1);
        return rank > 0 ? _tree.Nth(rank - 1) : -1;
    }

    /// <summary>This set with one item put in or taken out. Cost: log; at most 4 kB.</summary>
    /// <exception cref="ArgumentOutOfRangeException">The index is not in 0..Universe-1.</exception>
    public ItemSet With(int index, bool member = true) => Contains(index) == member ? this : new(Rope.Toggle(_tree, index));

    /// <summary>This set with one item turned round. Cost: log; at most 4 kB.</summary>
    /// <exception cref="ArgumentOutOfRangeException">The index is not in 0..Universe-1.</exception>
    public ItemSet Toggle(int index)
    {
        if ((uint)index >= (uint)_tree.Length) throw OutOfRange(index, _tree.Length);
        return new(Rope.Toggle(_tree, index));
    }

    /// <summary>This set with a whole range put in or taken out. Cost: log, whatever the range's length.</summary>
    /// <exception cref="ArgumentOutOfRangeException">The range is not inside 0..Universe.</exception>
    public ItemSet WithRange(int start, int length, bool member = true)
    {
        var count = CountIn(start, length);
        return count == (member ? length : 0) ? this : new(Rope.Splice(_tree, start, length, Tree.Run(length, member)));
    }

    /// <summary>This set with what another says of the items from <paramref name="start"/> on. Cost: log.</summary>
    internal ItemSet With(int start, ItemSet part)
    {
        CheckRange(start, part.Universe);
        return new(Rope.Splice(_tree, start, part.Universe, part._tree));
    }

    /// <summary>What is in both. Cost: the leaves that the two do not share.</summary>
    /// <exception cref="ArgumentException">The other set is over another number of items; so for the next three.</exception>
    public ItemSet Intersect(ItemSet other) => Result(SetOperation<And>.Combine(_tree, Check(other)), other);

    /// <summary>What is in either. Cost: the leaves that the two do not share.</summary>
    public ItemSet Union(ItemSet other) => Result(SetOperation<And>.Combine(_tree.Flipped, Check(other).Flipped).Flipped, other);

    /// <summary>What is in this set but not in the other. Cost: the leaves that the two do not share.</summary>
    public ItemSet Except(ItemSet other) => Result(SetOperation<And>.Combine(_tree, Check(other).Flipped), null);

    /// <summary>What is in just one of the two. Cost: the leaves that the two do not share.</summary>
    public ItemSet SymmetricExcept(ItemSet other) =>
        Check(other).Count == 0 ? this : IsEmpty ? other : new(SetOperation<Xor>.Combine(_tree, other._tree));

    /// <summary>What is not in this set. Constant cost and memory.</summary>
    public ItemSet Complement() => new(_tree.Flipped);

    /// <summary>
    /// The set after the source has had <paramref name="removed"/> items taken out at <paramref name="start"/> and
    /// <paramref name="inserted"/> put in there, which are members or not. Cost: log.
    /// </summary>
    /// <exception cref="ArgumentOutOfRangeException">The removed range is not inside 0..Universe, or the result would pass 2^31-1
    /// items.</exception>
    public ItemSet Splice(int start, int removed, int inserted, bool member = false)
    {
        CheckSplice(start, removed, inserted);
        return removed == 0 && inserted == 0 ? this : new(Rope.Splice(_tree, start, removed, Tree.Run(inserted, member)));
    }

    /// <summary>As the other overload, with the membership of the inserted items given by a set over them.</summary>
    public ItemSet Splice(int start, int removed, ItemSet inserted)
    {
        ArgumentNullException.ThrowIfNull(inserted);
        CheckSplice(start, removed, inserted.Universe);
        return new(Rope.Splice(_tree, start, removed, inserted._tree));
    }

    /// <summary>The set over the <paramref name="length"/> items from <paramref name="start"/> on alone. Cost: log.</summary>
    /// <exception cref="ArgumentOutOfRangeException">The range is not inside 0..Universe.</exception>
    public ItemSet Slice(int start, int length)
    {
        CheckRange(start, length);
        return new(Rope.Slice(_tree, start, length));
    }

    /// <summary>
    /// The set over the items of <paramref name="places"/> alone, in their order: item r of the result is this set's item
    /// <c>places.Nth(r)</c>. Cost: the leaves of both.
    /// </summary>
    /// <exception cref="ArgumentException">The other set is over another number of items.</exception>
    public ItemSet Keep(ItemSet places) => new(LeafWriter.Keep(_tree, Check(places)));

    /// <summary>
    /// The members of this set whose ranks are in another: those for which <c>ranks.Contains(Rank(item))</c>. Cost: the leaves of both.
    /// </summary>
    /// <exception cref="ArgumentException">The other set is not over as many as this set has members.</exception>
    internal ItemSet Spread(ItemSet ranks)
    {
        if (ranks.Universe != Count)
            throw new ArgumentException($"There are {Count} members, and ranks of {ranks.Universe}.", nameof(ranks));
        return IsAll ? ranks : ranks.IsAll ? this : ranks.IsEmpty ? None(Universe) : new(LeafWriter.Spread(_tree, ranks._tree));
    }

    /// <summary>
    /// The set over so many items in which the places <paramref name="from"/> to <paramref name="to"/> of every
    /// <paramref name="period"/> are. Cost: log.
    /// </summary>
    internal static ItemSet Stripes(int length, int period, int from, int to) =>
        length == 0 ? None(0) : new(Rope.Trim(Rope.Stripes(length, period, from, to)));

    /// <summary>One set after the other. Cost: log.</summary>
    internal ItemSet Then(ItemSet other) => other.Universe == 0 ? this : Splice(Universe, 0, other);

    /// <summary>
    /// The set after the items of <paramref name="moved"/> have left and landed together, in their order, where <paramref name="gap"/> is:
    /// just before the item that has that index now, or at the end. Cost: the leaves of both.
    /// </summary>
    /// <exception cref="ArgumentOutOfRangeException">The gap is not in 0..Universe.</exception>
    /// <exception cref="ArgumentException">The moved items are a set over another number of items.</exception>
    public ItemSet Move(ItemSet moved, int gap)
    {
        var mask = Check(moved);
        CheckGap(gap);
        if (_tree.IsRun || moved.IsEmpty) return this;
        var (taken, rest) = LeafWriter.Part(_tree, mask);
        return new(Rope.Splice(rest, gap - mask.Rank(gap), 0, taken));
    }

    /// <summary>
    /// The set after any rearrangement: item i of the result is this set's item <c>oldIndexes[i]</c>, or no member where that is negative
    /// (a new item). Cost: the length of both in bits, plus one look-up an item.
    /// </summary>
    /// <exception cref="ArgumentOutOfRangeException">An old index is not under Length.</exception>
    public ItemSet Remap(ReadOnlySpan<int> oldIndexes)
    {
        if (IsEmpty) return None(oldIndexes.Length);
        var old = ToWords();
        var words = new ulong[Bits.WordsFor(oldIndexes.Length)];
        for (var i = 0; i < oldIndexes.Length; i++)
        {
            var from = oldIndexes[i];
            if (from < 0) continue;
            if (from >= Universe) throw OutOfRange(from, Universe);
            words[i >>> 6] |= ((old[from >>> 6] >> from) & 1) << i;
        }
        return FromWords(words, oldIndexes.Length);
    }

    /// <summary>
    /// Where this version differs from an older one, whose length may be another: outside the window the two agree. The window is
    /// as small as a look from both ends makes it; what the versions share is skipped unread, so versions one edit apart cost log.
    /// </summary>
    internal SetWindow DifferenceFrom(ItemSet older)
    {
        ArgumentNullException.ThrowIfNull(older);
        return SetWindow.Between(older._tree, _tree);
    }

    /// <summary>A batch of single changes that is several times cheaper than making a version for each.</summary>
    internal ItemSetBatch ToBatch() => new(this);

    /// <summary>Writes the members in order. Cost: the words, plus half a nanosecond or so a member.</summary>
    /// <exception cref="ArgumentException">The target is shorter than Count.</exception>
    public void CopyTo(Span<int> target)
    {
        if (target.Length < Count) throw new ArgumentException($"{Count} members do not fit in {target.Length} places.", nameof(target));
        var walker = new LeafWalker(_tree);
        int start = 0, n = 0;
        while (walker.MoveNext(out var leaf))
        {
            if (!leaf.IsRun) n = MemberBytes.Decode(leaf.Words, leaf.Flip, Bits.TailMask(leaf.Length), start, target, n);
            else if (leaf.Flip)
                for (var i = 0; i < leaf.Length; i++) target[n++] = start + i;
            start += leaf.Length;
        }
    }

    /// <summary>Its leaves and runs, in order.</summary>
    internal LeafWalker Leaves() => new(_tree);

    /// <summary>The members in order.</summary>
    public int[] ToArray()
    {
        var result = new int[Count];
        CopyTo(result);
        return result;
    }

    /// <summary>The set as a plain bitmap: item i is bit i mod 64 of word i / 64.</summary>
    public ulong[] ToWords()
    {
        var words = new ulong[Bits.WordsFor(Universe)];
        var walker = new LeafWalker(_tree);
        for (var start = 0; walker.MoveNext(out var leaf); start += leaf.Length) leaf.CopyLeafTo(0, words, start, leaf.Length);
        return words;
    }

    /// <summary>The members as the fewest ranges, in order.</summary>
    public IEnumerable<ItemRange> Ranges()
    {
        // A range may go on over the end of a leaf, so it is held back until something is not a member.
        var walker = new LeafWalker(_tree);
        int start = 0, from = -1;
        for (; walker.MoveNext(out var leaf); start += leaf.Length)
        {
            for (var at = 0; at < leaf.Length;)
            {
                var member = leaf.Contains(at);
                var end = at + (leaf.IsRun ? leaf.Length : SameFrom(leaf, at, member));
                if (member && from < 0) from = start + at;
                else if (!member && from >= 0)
                {
                    yield return new(from, start + at - from);
                    from = -1;
                }
                at = end;
            }
        }
        if (from >= 0) yield return new(from, start - from);
    }

    private static int SameFrom(in Tree leaf, int at, bool member)
    {
        var raw = member ^ leaf.Flip;
        var done = 0;
        while (at + done < leaf.Length)
        {
            var word = Bits.WordAt(leaf.Words, at + done);
            var same = BitOperations.TrailingZeroCount(raw ? ~word : word);
            done += same;
            if (same < 64) break;
        }
        return Math.Min(done, leaf.Length - at);
    }

    /// <summary>The members in order.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Enumerator GetEnumerator() => new(new MemberReader(_tree));

    IEnumerator<int> IEnumerable<int>.GetEnumerator() => GetEnumerator();

    IEnumerator IEnumerable.GetEnumerator() => GetEnumerator();

    /// <summary>Whether both are over as many items and have the same members. Cost: the leaves that the two do not share.</summary>
    public bool Equals(ItemSet? other) => other is not null && Universe == other.Universe && Count == other.Count
        && (_tree.SameAs(other._tree) || SetOperation<Xor>.Combine(_tree, other._tree).Count == 0);

    /// <inheritdoc/>
    public override bool Equals(object? obj) => Equals(obj as ItemSet);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Universe, Count);

    /// <summary>Such as <c>3 of 10: 1-2, 7</c>; long sets are cut short.</summary>
    public override string ToString()
    {
        var ranges = Ranges().Take(9).Select(r => r.Length == 1 ? $"{r.Start}" : $"{r.Start}-{r.End - 1}").ToList();
        return $"{Count} of {Universe}" +
            (ranges.Count == 0 ? "" : ": " + string.Join(", ", ranges.Take(8)) + (ranges.Count > 8 ? " …" : ""));
    }

    // The input itself where the result is the same, so that whoever compares versions sees at once that nothing changed. Results of
    // intersect, union and except hold or are held by their inputs, so an equal count says that they are equal.
    private ItemSet Result(in Tree tree, ItemSet? other) =>
        tree.Count == Count ? this : tree.Count == other?.Count ? other : new(tree);

    private Tree Check(ItemSet other)
    {
        ArgumentNullException.ThrowIfNull(other);
        if (other.Universe != Universe)
            throw new ArgumentException(
                $"The other set is over {other.Universe} items, this one over {Universe}: only sets of one list can be combined.",
                    nameof(other));
        return other._tree;
    }

    private void CheckGap(int index)
    {
        if ((uint)index > (uint)Universe) throw NotAGap(index);
    }

    private void CheckRange(int start, int length)
    {
        if (start < 0 || length < 0 || start > Universe - length)
            throw new ArgumentOutOfRangeException(
                nameof(start), start, $"The range of {length} from {start} on is not inside 0 to {Universe}.");
    }

    private void CheckSplice(int start, int removed, int inserted)
    {
        CheckRange(start, removed);
        if (inserted < 0 || (long)Universe - removed + inserted > int.MaxValue)
            throw new ArgumentOutOfRangeException(nameof(inserted), inserted,
                $"From {Universe} items, {removed} removed and {inserted} inserted do not give 0 to {int.MaxValue}.");
    }

    // Texts are made apart, so that the short paths above stay short.
    private ArgumentOutOfRangeException NotARank(int rank) =>
        new(nameof(rank), rank, Count == 0 ? "The set has no members." : $"The set has {Count} members: a rank is 0 to {Count - 1}.");

    private ArgumentOutOfRangeException NotAGap(int index) =>
        new(nameof(index), index, $"The set is over {Universe} items: this may be 0 to {Universe}.");

    internal static ArgumentOutOfRangeException OutOfRange(int index, int length) =>
        new(nameof(index), index, length == 0 ? "There are no items." : $"There are {length} items: an index is 0 to {length - 1}.");

    /// <summary>Throws where a bound that the type promises does not hold; for tests.</summary>
    internal void CheckInvariants() => TreeCheck.Check(_tree);

    /// <summary>Goes through the members in order, decoding some hundreds at a time.</summary>
    public struct Enumerator : IEnumerator<int>
    {
        private readonly MemberReader _reader;
        private readonly int[] _buffer;
        private int _at, _count;

        [MethodImpl(MethodImplOptions.AggressiveInlining)]
        internal Enumerator(MemberReader reader)
        {
            _reader = reader;
            _buffer = reader.Buffer;
            _at = -1;
            _count = 0;
        }

        /// <inheritdoc/>
        public readonly int Current
        {
            [MethodImpl(MethodImplOptions.AggressiveInlining)]
            get => _buffer[_at];
        }

        readonly object IEnumerator.Current => Current;

        /// <inheritdoc/>
        [MethodImpl(MethodImplOptions.AggressiveInlining)]
        public bool MoveNext()
        {
            // All here, so that the struct's fields can live in registers.
            if (++_at < _count) return true;
            _count = _reader.Read();
            _at = 0;
            return _count > 0;
        }

        /// <inheritdoc/>
        public void Reset()
        {
            _reader.Reset();
            (_at, _count) = (-1, 0);
        }

        /// <inheritdoc/>
        public readonly void Dispose()
        {
        }
    }
}

/// <summary>The items from <paramref name="Start"/> to before <paramref name="Start"/> + <paramref name="Length"/>.</summary>
public readonly record struct ItemRange(int Start, int Length)
{
    /// <summary>Just past the last item.</summary>
    public int End => Start + Length;
}
