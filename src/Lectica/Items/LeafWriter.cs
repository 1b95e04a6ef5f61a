namespace Lectica.Items;

/// <summary>Builds a rope from left to right out of runs, whole leaves (which it shares) and loose bits.</summary>
/// <param name="length">About how many bits are to come, so that the list of leaves need not grow.</param>
internal sealed class LeafWriter(int length = 0)
{
    private readonly List<Tree> _leaves = new((length / Tree.LeafFill) + 4);
    private ulong[] _pending = Leaf.New(Tree.LeafFill);
    private int _length;

    public void Add(in Tree leaf)
    {
        if (leaf.Length == 0) return;
        if (leaf.Length >= Tree.SmallLeaf)
        {
            Flush();
            if (leaf.IsRun && _leaves.Count > 0 && _leaves[^1] is { IsRun: true } last && last.Flip == leaf.Flip)
                _leaves[^1] = Tree.Run(last.Length + leaf.Length, leaf.Flip);
            else _leaves.Add(leaf);
        }
        else Add(leaf, 0, leaf.Length);
    }

    public void Add(in Tree leaf, int from, int length)
    {
        if (length == 0) return;
        if (leaf.IsRun && length >= Tree.SmallLeaf) Add(Tree.Run(length, leaf.Flip));
        else if (!leaf.IsRun && length == leaf.Length && length >= Tree.SmallLeaf) Add(leaf);
        else
            while (length > 0)
            {
                var here = Math.Min(length, Tree.LeafFill - _length);
                leaf.CopyLeafTo(from, Leaf.BitsOf(_pending), _length, here);
                _length += here;
                from += here;
                length -= here;
                if (_length == Tree.LeafFill) Flush();
            }
    }

    /// <summary>The lowest <paramref name="length"/> bits of a word; the others must be 0.</summary>
    public void Add(ulong word, int length)
    {
        var shift = _length & 63;
        var bits = Leaf.BitsOf(_pending);
        bits[_length >>> 6] |= word << shift;
        var here = Math.Min(length, Tree.LeafFill - _length);
        if (shift + length > 64 && here > 64 - shift) bits[(_length >>> 6) + 1] |= word >> (64 - shift);
        _length += here;
        if (_length < Tree.LeafFill) return;
        Flush();
        if (here == length) return;
        Leaf.BitsOf(_pending)[0] = word >> here;
        _length = length - here;
    }

    public Tree ToTree()
    {
        Flush();
        return Rope.OverLeaves(_leaves);
    }

    private void Flush()
    {
        if (_length == 0) return;
        if (Bits.WordsFor(_length) == Bits.WordsFor(Tree.LeafFill))
        {
            _leaves.Add(Tree.OfLeaf(_pending, _length));
            _pending = Leaf.New(Tree.LeafFill);
        }
        else
        {
            _leaves.Add(Tree.OfBits(Leaf.BitsOf(_pending), _length));
            _pending.AsSpan().Clear();
        }
        _length = 0;
    }

    /// <summary>The bits of <paramref name="tree"/> at the places that <paramref name="mask"/> has, closed up.</summary>
    public static Tree Keep(in Tree tree, in Tree mask)
    {
        var kept = new LeafWriter(mask.Count);
        Part(tree, mask, kept, null);
        return kept.ToTree();
    }

    /// <summary>The same, and with it the bits at all other places, closed up too.</summary>
    public static (Tree Kept, Tree Others) Part(in Tree tree, in Tree mask)
    {
        LeafWriter kept = new(mask.Count), rest = new(tree.Length - mask.Count);
        Part(tree, mask, kept, rest);
        return (kept.ToTree(), rest.ToTree());
    }

    private static void Part(in Tree tree, in Tree mask, LeafWriter kept, LeafWriter? rest)
    {
        LeafWalker leaves = new(tree), masks = new(mask);
        Tree leaf = default, filter = default;
        int at = 0, from = 0;
        for (var left = tree.Length; left > 0;)
        {
            if (at == leaf.Length)
            {
                leaves.MoveNext(out leaf);
                at = 0;
            }
            if (from == filter.Length)
            {
                masks.MoveNext(out filter);
                from = 0;
            }
            var here = Math.Min(leaf.Length - at, filter.Length - from);
            if (!filter.IsRun) Part(leaf, at, filter, from, here, kept, rest);
            else if (filter.Flip) kept.Add(leaf, at, here);
            else rest?.Add(leaf, at, here);
            at += here;
            from += here;
            left -= here;
        }
    }

    private static void Part(in Tree leaf, int at, in Tree mask, int from, int length, LeafWriter kept, LeafWriter? rest)
    {
        var flip = mask.Flip ? ulong.MaxValue : 0;
        var whole = length >>> 6;
        if ((from & 63) != 0) whole = 0;
        else
        {
            // Word by word in step with the mask: what it takes or leaves as a whole goes in one piece.
            var words = mask.Words.Slice(from >>> 6, whole);
            for (var w = 0; w < whole;)
            {
                var next = words[w..];
                if (next[0] != 0 && next[0] != ulong.MaxValue)
                {
                    PartWord(leaf, at + (w << 6), next[0] ^ flip, 64, kept, rest);
                    w++;
                    continue;
                }
                var same = next.IndexOfAnyExcept(next[0]);
                if (same < 0) same = next.Length;
                if (next[0] != flip) kept.Add(leaf, at + (w << 6), same << 6);
                else rest?.Add(leaf, at + (w << 6), same << 6);
                w += same;
            }
        }
        for (var i = whole << 6; i < length; i += 64)
        {
            var bits = Math.Min(64, length - i);
            PartWord(leaf, at + i, (Bits.WordAt(mask.Words, from + i) ^ flip) & Bits.TailMask(bits), bits, kept, rest);
        }
    }

    /// <summary>The members of <paramref name="tree"/> whose ranks <paramref name="ranks"/> has.</summary>
    public static Tree Spread(in Tree tree, in Tree ranks)
    {
        var spread = new LeafWriter(tree.Length);
        LeafWalker leaves = new(tree), bits = new(ranks);
        Tree some = default;
        var at = 0;
        while (leaves.MoveNext(out var leaf))
        {
            if (leaf.IsRun && !leaf.Flip)
            {
                spread.Add(leaf);
                continue;
            }
            for (var from = 0; from < leaf.Length;)
            {
                if (at == some.Length)
                {
                    bits.MoveNext(out some);
                    at = 0;
                }
                if (leaf.IsRun)
                {
                    var here = Math.Min(leaf.Length - from, some.Length - at);
                    spread.Add(some, at, here);
                    at += here;
                    from += here;
                    continue;
                }
                // A word of members: as many ranks, which may go over from one leaf to the next.
                var length = Math.Min(64, leaf.Length - from);
                var word = (Bits.WordAt(leaf.Words, from) ^ (leaf.Flip ? ulong.MaxValue : 0)) & Bits.TailMask(length);
                var count = System.Numerics.BitOperations.PopCount(word);
                ulong taken = 0;
                for (var done = 0; done < count;)
                {
                    if (at == some.Length)
                    {
                        bits.MoveNext(out some);
                        at = 0;
                    }
                    var here = Math.Min(count - done, some.Length - at);
                    var next = (some.IsRun ? 0 : Bits.WordAt(some.Words, at)) ^ (some.Flip ? ulong.MaxValue : 0);
                    taken |= (next & Bits.TailMask(here)) << done;
                    at += here;
                    done += here;
                }
                spread.Add(Bits.Deposit(taken, word), length);
                from += length;
            }
        }
        return spread.ToTree();
    }

    private static void PartWord(in Tree leaf, int at, ulong keep, int length, LeafWriter kept, LeafWriter? rest)
    {
        var word = (leaf.IsRun ? 0 : Bits.WordAt(leaf.Words, at)) ^ (leaf.Flip ? ulong.MaxValue : 0);
        var count = System.Numerics.BitOperations.PopCount(keep);
        if (count > 0) kept.Add(Bits.Extract(word, keep), count);
        if (rest is not null && count < length) rest.Add(Bits.Extract(word, ~keep & Bits.TailMask(length)), length - count);
    }
}
