using System.Diagnostics;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace Lectica.Items;

/// <summary>
/// Cutting, joining and editing ropes. An edit that stays inside one leaf copies that leaf and the path to it; every other one is
/// cuts and joins, which cost the height of the tree and even out small leaves and nodes at the seam.
/// </summary>
internal static class Rope
{
    [InlineArray(2 * Node.MaxEdges + 4)]
    private struct EdgeBuffer
    {
        private Tree _first;
    }

    /// <summary>Drops roots that have one child.</summary>
    public static Tree Trim(Tree tree)
    {
        while (tree.IsNode && tree.Node.Edges == 1) tree = tree.Node.Edge(0, tree.Flip);
        return tree.Count == 0 && !tree.IsRun ? Tree.Run(tree.Length, false)
            : tree.Count == tree.Length && !tree.IsRun ? Tree.Run(tree.Length, true)
            : tree;
    }

    /// <summary>The tree as one of the height given, under nodes with one child. A run stays a run.</summary>
    public static Tree Lift(Tree tree, int height)
    {
        if (tree.IsRun) return tree;
        while (tree.Height < height) tree = Node.Over(new ReadOnlySpan<Tree>(in tree), tree.Height + 1);
        return tree;
    }

    /// <summary>
    /// A stretch in which the same places of every period are set. Its leaves are one and the same, and so are nodes above them, however
    /// long it is: twice as much costs one join.
    /// </summary>
    public static Tree Stripes(int length, int period, int from, int to)
    {
        Tree once;
        if (period > Tree.LeafFill)
            once = Join(Join(Tree.Run(from, false), Tree.Run(to - from + 1, true)), Tree.Run(period - to - 1, false));
        else
        {
            var bits = Tree.LeafFill / period * period;
            var leaf = Leaf.New(bits);
            for (var at = 0; at < bits; at += period) Bits.Fill(Leaf.BitsOf(leaf), at + from, to - from + 1, true);
            once = Tree.OfLeaf(leaf, bits);
        }
        var all = Tree.Run(0, false);
        var twice = once;
        for (var times = length / once.Length; times > 0; times >>= 1)
        {
            if ((times & 1) != 0) all = Join(all, twice);
            if (times > 1) twice = Join(twice, twice);
        }
        return Join(all, Cut(once, length % once.Length).Left);
    }

    public static Tree Join(in Tree a, in Tree b)
    {
        if (a.Length == 0) return b;
        if (b.Length == 0) return a;
        int height = Math.Max(a.Height, b.Height);
        Seam(a, b, height, out var first, out var second);
        if (second.Length == 0) return Trim(first);
        return Node.Over([first, second], height + 1);
    }

    /// <summary>Joins two stretches into one or two trees of this height (or runs); the second has length 0 where one is enough.</summary>
    private static void Seam(in Tree a, in Tree b, int height, out Tree first, out Tree second)
    {
        second = default;
        if (a.IsRun && b.IsRun && a.Flip == b.Flip)
        {
            first = Tree.Run(a.Length + b.Length, a.Flip);
            return;
        }
        if (height == 0)
        {
            LeafSeam(a, b, out first, out second);
            return;
        }
        if (a.Height < height && b.Height < height)
        {
            // Both lower, or runs: join them where they are, and lift what comes of it.
            var lower = Join(a, b);
            first = Lift(lower, height);
            return;
        }

        var buffer = default(EdgeBuffer);
        Span<Tree> edges = buffer;
        var n = 0;
        Tree last = a, next = b;
        if (a.Height == height)
        {
            var node = a.Node;
            for (var k = 0; k < node.Edges - 1; k++) Add(edges, ref n, node.Edge(k, a.Flip));
            last = node.Edge(node.Edges - 1, a.Flip);
        }
        if (b.Height == height) next = b.Node.Edge(0, b.Flip);
        Seam(last, next, height - 1, out var left, out var right);
        if (a.Height == height && b.Height == height && left.SameAs(last) && right.SameAs(next)
            && Math.Min(a.Node.Edges, b.Node.Edges) >= Node.MaxEdges / 4 && a.Node.Edges + b.Node.Edges > Node.MaxEdges)
        {
            (first, second) = (a, b);
            return;
        }
        Add(edges, ref n, left);
        if (right.Length > 0) Add(edges, ref n, right);
        if (b.Height == height)
            for (var k = 1; k < b.Node.Edges; k++) Add(edges, ref n, b.Node.Edge(k, b.Flip));

        if (n == 1 && edges[0].IsRun) first = edges[0];
        else if (n <= Node.MaxEdges) first = Node.Over(edges[..n], height);
        else
        {
            first = Node.Over(edges[..(n / 2)], height);
            second = Node.Over(edges[(n / 2)..n], height);
        }
    }

    private static void Add(Span<Tree> edges, ref int n, in Tree edge)
    {
        if (n > 0 && edge.IsRun && edges[n - 1].IsRun && edges[n - 1].Flip == edge.Flip)
            edges[n - 1] = Tree.Run(edges[n - 1].Length + edge.Length, edge.Flip);
        else edges[n++] = edge;
    }

    /// <summary>
    /// Two neighbouring leaves or runs: merged where one is small and both fit, evened out where one is small and they do not.
    /// </summary>
    private static void LeafSeam(in Tree a, in Tree b, out Tree first, out Tree second)
    {
        int total = a.Length + b.Length, small = Math.Min(a.Length, b.Length);
        second = default;
        if (total <= Tree.LeafBits && small < Tree.SmallLeaf)
        {
            var leaf = Leaf.New(total);
            a.CopyLeafTo(0, Leaf.BitsOf(leaf), 0, a.Length);
            b.CopyLeafTo(0, Leaf.BitsOf(leaf), a.Length, b.Length);
            first = Tree.OfLeaf(leaf, total);
        }
        else if (small < Tree.SmallLeaf && !a.IsRun && !b.IsRun)
        {
            Span<ulong> bits = stackalloc ulong[2 * Tree.LeafBits / 64];
            bits.Clear();
            a.CopyLeafTo(0, bits, 0, a.Length);
            b.CopyLeafTo(0, bits, a.Length, b.Length);
            var half = (total / 2 + 63) & ~63;
            first = Tree.OfBits(bits, half);
            second = Tree.OfBits(bits[Bits.WordsFor(half)..], total - half);
        }
        else (first, second) = (a, b);
    }

    public static (Tree Left, Tree Right) Cut(in Tree tree, int at)
    {
        if (at <= 0) return (Tree.Run(0, false), tree);
        if (at >= tree.Length) return (tree, Tree.Run(0, false));
        if (!tree.IsNode) return (tree.LeafSlice(0, at), tree.LeafSlice(at, tree.Length - at));
        var node = tree.Node;
        var k = node.Find(at);
        var before = node.Slice(0, k, tree.Flip);
        var within = at - node.StartOf(k);
        if (within == 0) return (before, node.Slice(k, node.Edges, tree.Flip));
        var (left, right) = Cut(node.Edge(k, tree.Flip), within);
        return (Join(before, left), Join(right, node.Slice(k + 1, node.Edges, tree.Flip)));
    }

    public static Tree Slice(in Tree tree, int start, int length) => Cut(Cut(tree, start).Right, length).Left;

    /// <summary>
    /// Takes <paramref name="removed"/> bits away at <paramref name="start"/> and puts <paramref name="inserted"/> there.
    /// </summary>
    public static Tree Splice(in Tree tree, int start, int removed, in Tree inserted)
    {
        if (inserted.IsRun && TrySpliceInLeaf(tree, start, removed, inserted.Length, inserted.Flip, out var result)) return Trim(result);
        if (tree.IsNode && !inserted.IsNode && tree.Length - removed + inserted.Length > 0)
            return Replace(tree, start, start + removed, inserted);
        var (left, rest) = Cut(tree, start);
        return Join(Join(left, inserted), Cut(rest, removed).Right);
    }

    /// <summary>
    /// Puts a leaf or run in the place of the bits start..end-1: one pass down to both ends of the range, one new node a level and end.
    /// </summary>
    private static Tree Replace(in Tree tree, int start, int end, in Tree inserted)
    {
        var buffer = default(EdgeBuffer);
        Span<Tree> edges = buffer;
        var n = 0;
        Replace(tree, tree.Height, start, end, inserted, edges, ref n);
        return Trim(n == 1 ? edges[0] : Node.Over(edges[..n], tree.Height + 1));
    }

    /// <summary>
    /// Adds what a stretch becomes, as edges of the height given or runs. Up to four more than came in, so that a buffer holds them.
    /// </summary>
    private static void Replace(in Tree tree, int height, int start, int end, in Tree inserted, Span<Tree> target, ref int count)
    {
        if (!tree.IsNode)
        {
            if (start > 0) AddPiece(target, ref count, tree.LeafSlice(0, start), height);
            if (inserted.Length > 0) AddPiece(target, ref count, inserted, height);
            if (end < tree.Length) AddPiece(target, ref count, tree.LeafSlice(end, tree.Length - end), height);
            return;
        }
        var node = tree.Node;
        int first = node.Find(start), last = end > start ? node.Find(end - 1) : first;
        var buffer = default(EdgeBuffer);
        Span<Tree> edges = buffer;
        var n = 0;
        for (var k = 0; k < first; k++) edges[n++] = node.Edge(k, tree.Flip);
        var offset = node.StartOf(first);
        var edge = node.Edge(first, tree.Flip);
        Replace(edge, height - 1, start - offset, Math.Min(end - offset, edge.Length), inserted, edges, ref n);
        if (last > first)
        {
            offset = node.StartOf(last);
            edge = node.Edge(last, tree.Flip);
            if (end - offset < edge.Length) Replace(edge, height - 1, 0, end - offset, default, edges, ref n);
        }
        if (last + 1 < node.Edges) AddPiece(edges, ref n, node.Edge(last + 1, tree.Flip), height - 1);
        for (var k = last + 2; k < node.Edges; k++) edges[n++] = node.Edge(k, tree.Flip);

        if (n == 0) return;
        if (n == 1 && edges[0].IsRun) AddPiece(target, ref count, edges[0], height);
        else if (n <= Node.MaxEdges) AddPiece(target, ref count, Node.Over(edges[..n], height), height);
        else
        {
            AddPiece(target, ref count, Node.Over(edges[..(n / 2)], height), height);
            AddPiece(target, ref count, Node.Over(edges[(n / 2)..n], height), height);
        }
    }

    /// <summary>Adds an edge, merged with the one before where either is small.</summary>
    private static void AddPiece(Span<Tree> edges, ref int n, in Tree piece, int height)
    {
        var edge = piece.IsNode || height == 0 ? piece : Lift(piece, height);
        if (n > 0)
        {
            ref var before = ref edges[n - 1];
            if (edge.IsRun && before.IsRun && edge.Flip == before.Flip)
            {
                before = Tree.Run(before.Length + edge.Length, edge.Flip);
                return;
            }
            if (height == 0)
            {
                // Not into its own place: what is written there first would be read after that.
                LeafSeam(before, edge, out var joined, out var second);
                before = joined;
                if (second.Length > 0) edges[n++] = second;
                return;
            }
            if (edge.IsNode && before.IsNode && edge.Node.Edges + before.Node.Edges <= Node.MaxEdges)
            {
                var buffer = default(EdgeBuffer);
                Span<Tree> both = buffer;
                var m = 0;
                for (var k = 0; k < before.Node.Edges; k++) both[m++] = before.Node.Edge(k, before.Flip);
                for (var k = 0; k < edge.Node.Edges; k++) Add(both, ref m, edge.Node.Edge(k, edge.Flip));
                before = m == 1 && both[0].IsRun ? both[0] : Node.Over(both[..m], height);
                return;
            }
        }
        edges[n++] = edge;
    }

    private static bool TrySpliceInLeaf(in Tree tree, int start, int removed, int inserted, bool value, out Tree result)
    {
        result = default;
        if (!tree.IsNode) return tree.Length > 0 && TrySpliceLeaf(tree, start, removed, inserted, value, true, out result);
        var node = tree.Node;
        var k = node.Find(start);
        var edge = node.Edge(k, false);
        var offset = start - node.StartOf(k);
        if (offset + removed > edge.Length) return false;
        value ^= tree.Flip;
        if (edge.IsNode ? !TrySpliceInLeaf(edge, offset, removed, inserted, value, out var changed)
            : !TrySpliceLeaf(edge, offset, removed, inserted, value, false, out changed)) return false;
        // A run may stand higher than the leaf that it has become.
        result = Over(node.With(k, Lift(changed, node.Height - 1)), tree.Flip);
        return true;
    }

    private static Tree Over(Node node, bool flip) =>
        new(node, node.Length, flip ? node.Length - node.Count : node.Count, flip, node.Height);

    private static bool TrySpliceLeaf(in Tree leaf, int offset, int removed, int inserted, bool value, bool root, out Tree result)
    {
        result = default;
        var length = leaf.Length - removed + inserted;
        if (length == 0) return false;
        if (leaf.IsRun && (inserted == 0 || value == leaf.Flip))
        {
            result = Tree.Run(length, leaf.Flip);
            return true;
        }
        if (length > Tree.LeafBits || (!root && removed > 0 && length < Tree.SmallLeaf)) return false;
        var changed = Leaf.New(length);
        var bits = Leaf.BitsOf(changed);
        leaf.CopyLeafTo(0, bits, 0, offset);
        if (value) Bits.Fill(bits, offset, inserted, true);
        leaf.CopyLeafTo(offset + removed, bits, offset + inserted, leaf.Length - offset - removed);
        result = Tree.OfLeaf(changed, length);
        return true;
    }

    /// <summary>Flips one bit.</summary>
    public static Tree Toggle(in Tree tree, int index)
    {
        if (TryToggleInLeaf(tree, index, out var result)) return Trim(result);
        // The bit is in a long run: cut a leaf's window out of it, in step with the run's start so that more of them line up.
        RunAround(tree, index, out var start, out var length, out var value);
        var from = start + (index - start) / Tree.LeafFill * Tree.LeafFill;
        var size = Math.Min(Tree.LeafFill, start + length - from);
        var leaf = Leaf.New(size);
        Leaf.Toggle(leaf, index - from);
        return Splice(tree, from, size, new Tree(leaf, size, value ? size - 1 : 1, value, 0));
    }

    private static bool TryToggleInLeaf(in Tree tree, int index, out Tree result)
    {
        if (!tree.IsNode) return ToggleLeaf(tree, index, out result);
        var node = tree.Node;
        var k = node.Find(index);
        var edge = node.Edge(k, false);
        if (!TryToggleInLeaf(edge, index - node.StartOf(k), out var changed))
        {
            result = default;
            return false;
        }
        // A run may stand higher than the leaf that it has become.
        result = Over(node.With(k, Lift(changed, node.Height - 1)), tree.Flip);
        return true;
    }

    private static bool ToggleLeaf(in Tree leaf, int index, out Tree result)
    {
        result = default;
        if (leaf.IsRun)
        {
            if (leaf.Length > Tree.LeafFill) return false;
            if (leaf.Length == 1)
            {
                result = Tree.Run(1, !leaf.Flip);
                return true;
            }
        }
        var changed = leaf.IsRun ? Leaf.New(leaf.Length) : leaf.LeafArray.AsSpan().ToArray();
        var count = leaf.Count + (Leaf.Toggle(changed, index) ^ leaf.Flip ? 1 : -1);
        result = count == 0 ? Tree.Run(leaf.Length, false)
            : count == leaf.Length ? Tree.Run(leaf.Length, true)
            : new(changed, leaf.Length, count, leaf.Flip, 0);
        return true;
    }

    /// <summary>The run or leaf that holds a bit.</summary>
    private static void RunAround(in Tree tree, int index, out int start, out int length, out bool value)
    {
        start = 0;
        var at = tree;
        while (at.IsNode)
        {
            var k = at.Node.Find(index - start);
            start += at.Node.StartOf(k);
            at = at.Node.Edge(k, at.Flip);
        }
        (length, value) = (at.Length, at.Flip);
    }

    /// <summary>
    /// Packs the edges from <paramref name="from"/> on, of one height less or runs, into as few trees of <paramref name="height"/> as hold
    /// them, in place. Runs of one value that have come together become one.
    /// </summary>
    public static void Pack(List<Tree> edges, int from, int height)
    {
        var span = CollectionsMarshal.AsSpan(edges)[from..];
        var n = 0;
        foreach (ref readonly var edge in span)
        {
            if (n > 0 && edge.IsRun && span[n - 1].IsRun && span[n - 1].Flip == edge.Flip)
                span[n - 1] = Tree.Run(span[n - 1].Length + edge.Length, edge.Flip);
            else if (n > 0 && height == 1 && edge.Length + span[n - 1].Length <= Tree.SmallLeaf)
            {
                LeafSeam(span[n - 1], edge, out var merged, out var none);
                Debug.Assert(none.Length == 0);
                span[n - 1] = merged;
            }
            else span[n++] = edge;
        }
        if (n == 1 && span[0].IsRun)
        {
            edges.RemoveRange(from + 1, edges.Count - from - 1);
            return;
        }
        var groups = (n + Node.MaxEdges - 1) / Node.MaxEdges;
        for (var g = 0; g < groups; g++)
        {
            var group = span[(int)((long)n * g / groups)..(int)((long)n * (g + 1) / groups)];
            span[g] = group.Length == 1 && group[0].IsRun ? group[0] : Node.Over(group, height);
        }
        edges.RemoveRange(from + groups, edges.Count - from - groups);
    }

    /// <summary>One tree over leaves and runs in order.</summary>
    public static Tree OverLeaves(List<Tree> leaves)
    {
        if (leaves.Count == 0) return Tree.Run(0, false);
        for (var height = 1; leaves.Count > 1; height++) Pack(leaves, 0, height);
        return Trim(leaves[0]);
    }
}
