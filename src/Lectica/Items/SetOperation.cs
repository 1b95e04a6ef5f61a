using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;

namespace Lectica.Items;

/// <summary>What a set operation does to two bits. Union and except are intersections of flipped sets.</summary>
internal interface IBitOperation
{
    static abstract ulong Of(ulong a, ulong b);

    static abstract Vector256<ulong> Of(Vector256<ulong> a, Vector256<ulong> b);

    /// <summary>The result for a uniform run of <paramref name="value"/> and the other side.</summary>
    static abstract Tree WithRun(bool value, in Tree other);

    /// <summary>The result for two sides that share their bits, turned round against each other or not.</summary>
    static abstract Tree WithSame(in Tree tree, bool flipped);

    /// <summary>Whether that result is a run of 0s, for which the bits need not be looked at.</summary>
    static abstract bool SameIsNone(bool flipped);
}

internal readonly struct And : IBitOperation
{
    public static ulong Of(ulong a, ulong b) => a & b;
    public static Vector256<ulong> Of(Vector256<ulong> a, Vector256<ulong> b) => a & b;
    public static Tree WithRun(bool value, in Tree other) => value ? other : Tree.Run(other.Length, false);
    public static Tree WithSame(in Tree tree, bool flipped) => flipped ? Tree.Run(tree.Length, false) : tree;
    public static bool SameIsNone(bool flipped) => flipped;
}

internal readonly struct Xor : IBitOperation
{
    public static ulong Of(ulong a, ulong b) => a ^ b;
    public static Vector256<ulong> Of(Vector256<ulong> a, Vector256<ulong> b) => a ^ b;
    public static Tree WithRun(bool value, in Tree other) => value ? other.Flipped : other;
    public static Tree WithSame(in Tree tree, bool flipped) => Tree.Run(tree.Length, flipped);
    public static bool SameIsNone(bool flipped) => !flipped;
}

/// <summary>
/// Combines two ropes of one length. Where their children line up it goes down pair by pair and takes over what either side shares;
/// where they do not, it goes along the leaves of the first and gathers the bits of the second to them.
/// </summary>
internal readonly struct SetOperation<TOperation> where TOperation : struct, IBitOperation
{
    private readonly List<Tree> _work;

    private SetOperation(List<Tree> work) => _work = work;

    public static Tree Combine(in Tree a, in Tree b)
    {
        if (TryWhole(a, b, out var result)) return Rope.Trim(result);
        int height = Math.Max(a.Height, b.Height);
        var operation = new SetOperation<TOperation>(new(16));
        operation.Visit(Rope.Lift(a, height), Rope.Lift(b, height), height);
        for (; operation._work.Count > 1; height++) Rope.Pack(operation._work, 0, height + 1);
        return Rope.Trim(operation._work[0]);
    }

    private static bool TryWhole(in Tree a, in Tree b, out Tree result)
    {
        if (ReferenceEquals(a.Child, b.Child)) result = TOperation.WithSame(a, a.Flip != b.Flip);
        else if (a.IsRun) result = TOperation.WithRun(a.Flip, b);
        else if (b.IsRun) result = TOperation.WithRun(b.Flip, a);
        else
        {
            result = default;
            return false;
        }
        return true;
    }

    /// <summary>Adds the result for two stretches of one length and height (or runs), as trees of that height or runs.</summary>
    private void Visit(in Tree a, in Tree b, int height)
    {
        if (TryWhole(a, b, out var whole))
        {
            _work.Add(whole);
            return;
        }
        if (height == 0)
        {
            _work.Add(LeafOf(a, b.Words, b.Flip));
            return;
        }
        Node x = a.Node, y = b.Node;
        int start = _work.Count, i = 0, j = 0;
        while (i < x.Edges)
        {
            if (ReferenceEquals(x.Children[i], y.Children[j]) && x.LengthOf(i) == y.LengthOf(j))
            {
                // Shared: the common case between versions of one set.
                var flipped = x.FlipOf(i) ^ a.Flip ^ y.FlipOf(j) ^ b.Flip;
                Add(TOperation.SameIsNone(flipped) ? Tree.Run(x.LengthOf(i), false) : TOperation.WithSame(x.Edge(i, a.Flip), flipped),
                    start);
                i++;
                j++;
                continue;
            }
            Tree p = x.Edge(i, a.Flip), q = y.Edge(j, b.Flip);
            if (p.Length == q.Length)
            {
                Visit(p, q, height - 1);
                i++;
                j++;
                continue;
            }
            int fromI = i, fromJ = j;
            int endI = x.StartOf(i) + p.Length, endJ = y.StartOf(j) + q.Length;
            while (endI != endJ)
                if (endI < endJ) endI += x.Edge(++i, false).Length;
                else endJ += y.Edge(++j, false).Length;
            Stretch(new(x, fromI, ++i, a.Flip), new(y, fromJ, ++j, b.Flip), height - 1);
        }
        Rope.Pack(_work, start, height);
    }

    private void Add(in Tree tree, int start)
    {
        if (tree.IsRun && _work.Count > start && _work[^1] is { IsRun: true } last && last.Flip == tree.Flip)
            _work[^1] = Tree.Run(last.Length + tree.Length, tree.Flip);
        else _work.Add(tree);
    }

    /// <summary>A stretch whose children do not line up, leaf by leaf, in the leaves of the first side.</summary>
    private void Stretch(LeafWalker a, LeafWalker b, int height)
    {
        var start = _work.Count;
        Span<ulong> gathered = stackalloc ulong[Tree.LeafBits / 64];
        Tree q = default;
        var offset = 0;
        while (a.MoveNext(out var p))
        {
            if (offset == q.Length)
            {
                b.MoveNext(out q);
                offset = 0;
            }
            if (offset == 0 && p.Length == q.Length && ReferenceEquals(p.Child, q.Child))
            {
                TryWhole(p, q, out var whole);
                _work.Add(whole);
                offset = q.Length;
                continue;
            }
            for (var done = 0; done < p.Length;)
            {
                if (offset == q.Length)
                {
                    b.MoveNext(out q);
                    offset = 0;
                }
                var here = Math.Min(p.Length - done, q.Length - offset);
                if (p.IsRun) _work.Add(TOperation.WithRun(p.Flip, q.LeafSlice(offset, here)));
                else if (q.IsRun && here == p.Length)
                {
                    // One run over the whole leaf: nothing to gather.
                    _work.Add(TOperation.WithRun(q.Flip, p));
                    offset += here;
                    break;
                }
                else q.CopyLeafTo(offset, gathered, done, here);
                offset += here;
                done += here;
                if (!p.IsRun && done == p.Length) _work.Add(LeafOf(p, gathered, false));
            }
        }
        for (var h = 1; h <= height; h++) Rope.Pack(_work, start, h);
    }

    private static Tree LeafOf(in Tree a, ReadOnlySpan<ulong> words, bool flip)
    {
        var result = Leaf.New(a.Length);
        ulong flipA = a.Flip ? ulong.MaxValue : 0, flipB = flip ? ulong.MaxValue : 0;
        ReadOnlySpan<ulong> own = a.Words;
        words = words[..own.Length];
        var target = Leaf.BitsOf(result);
        var i = WordVectors.AreFast ? WordVectors.Combine<TOperation>(own, flipA, words, flipB, target) : 0;
        for (; i < target.Length; i++) target[i] = TOperation.Of(own[i] ^ flipA, words[i] ^ flipB);
        target[^1] &= Bits.TailMask(a.Length);
        return Tree.OfLeaf(result, a.Length);
    }
}
