using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace Lectica.Items;

/// <summary>
/// An inner node of the rope: up to <see cref="MaxEdges"/> children with running totals, so that looking up a place or a rank is a
/// binary search in one array. Immutable once it is in an <see cref="ItemSet"/>; only the batch that made it may still write to it.
/// </summary>
internal sealed class Node(object?[] children, long[] sums, uint flips, int height)
{
    public const int MaxEdges = 16;

    /// <summary>A node, a word array, or null for a run.</summary>
    public readonly object?[] Children = children;

    /// <summary>For each child the total of all up to and including it: length in the upper 32 bits, count in the lower.</summary>
    public readonly long[] Sums = sums;

    /// <summary>Bit k: child k counts turned round.</summary>
    public uint Flips = flips;

    public readonly int Height = height;

    /// <summary>The batch that may write here, while it lasts. A bare token, so that no old version hangs on it.</summary>
    public object? Owner;

    /// <summary>Bit k: leaf k was made by the owner too.</summary>
    public uint OwnedLeaves;

    public int Edges => Children.Length;
    public int Length => (int)(Sums[^1] >> 32);
    public int Count => (int)Sums[^1];

    public bool FlipOf(int k) => ((Flips >> k) & 1) != 0;

    // Children are mostly of one length, so the place of the right one can be guessed; from there it is a step or two at most. Kept as
    // children per 2^32 items: a multiplication and a shift on the way down, where floating point would take four times as long.
    private readonly uint _perItem = Per(sums.Length, sums[^1] >> 32), _perOne = Per(sums.Length, (int)sums[^1]),
        _perZero = Per(sums.Length, (sums[^1] >> 32) - (int)sums[^1]);

    private static uint Per(int edges, long items) => (uint)(long)Math.Min(edges * (double)(1L << 32) / items, uint.MaxValue);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static int Guess(int items, uint per, int last) => Math.Min((int)(((ulong)(uint)items * per) >> 32), last);

    /// <summary>The child in which bit <paramref name="index"/> (at least 0) stands; the last one for an index past the end.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Find(int index) => Find(index, out _);

    /// <summary>The same, and the total before that child.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Find(int index, out long before)
    {
        var target = ((long)index + 1) << 32;
        var last = Sums.Length - 1;
        // Unchecked: k is kept in 0..last.
        ref var sums = ref MemoryMarshal.GetArrayDataReference(Sums);
        var k = Guess(index, _perItem, last);
        before = k > 0 ? Unsafe.Add(ref sums, k - 1) : 0;
        while (before >= target) before = --k > 0 ? Unsafe.Add(ref sums, k - 1) : 0;
        for (; k < last && Unsafe.Add(ref sums, k) < target; k++) before = Unsafe.Add(ref sums, k);
        return k;
    }

    /// <summary>The child in which the counting bit number <paramref name="rank"/> (at least 0) stands, and the total before it.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int FindNth(int rank, bool flip, out long before)
    {
        var last = Sums.Length - 1;
        ref var sums = ref MemoryMarshal.GetArrayDataReference(Sums);
        // A guess, so that it may be off where a batch has written here since.
        var k = Guess(rank, flip ? _perZero : _perOne, last);
        before = k > 0 ? Unsafe.Add(ref sums, k - 1) : 0;
        while (CountTo(before, flip) > rank) before = --k > 0 ? Unsafe.Add(ref sums, k - 1) : 0;
        for (; k < last && CountTo(Unsafe.Add(ref sums, k), flip) <= rank; k++) before = Unsafe.Add(ref sums, k);
        return k;
    }

    /// <summary>How many bits count in a total.</summary>
    public static int CountTo(long sum, bool flip) => flip ? (int)(sum >> 32) - (int)sum : (int)sum;

    public int LengthOf(int k) => (int)((k == 0 ? Sums[0] : Sums[k] - Sums[k - 1]) >> 32);

    public int StartOf(int k) => k == 0 ? 0 : (int)(Sums[k - 1] >> 32);

    /// <summary>Child k as it counts from outside, where <paramref name="flip"/> is the flip of the edge to this node.</summary>
    public Tree Edge(int k, bool flip)
    {
        var size = k == 0 ? Sums[0] : Sums[k] - Sums[k - 1];
        int length = (int)(size >> 32), count = (int)size;
        var child = Children[k];
        return new(child, length, flip ? length - count : count, FlipOf(k) ^ flip, child is null ? 0 : Height - 1);
    }

    /// <summary>This node with child k replaced by one edge of the same height or a run.</summary>
    public Node With(int k, in Tree edge)
    {
        var children = new object?[Children.Length];
        Array.Copy(Children, children, children.Length);
        children[k] = edge.Child;
        return new(children, Raised(k, Pack(edge.Length, edge.Count) - (k == 0 ? Sums[0] : Sums[k] - Sums[k - 1])),
            edge.Flip ? Flips | 1u << k : Flips & ~(1u << k), Height);
    }

    /// <summary>A copy to write to.</summary>
    public Node Copy(object owner)
    {
        var children = new object?[Children.Length];
        Array.Copy(Children, children, children.Length);
        return new(children, Sums.AsSpan().ToArray(), Flips, Height) { Owner = owner };
    }

    /// <summary>The totals with those from k on raised.</summary>
    private long[] Raised(int k, long delta)
    {
        var sums = new long[Sums.Length];
        var i = WordVectors.AreFast ? WordVectors.Raise(Sums, k, delta, sums) : 0;
        for (; i < sums.Length; i++) sums[i] = Sums[i] + (i >= k ? delta : 0);
        return sums;
    }

    /// <summary>Raises the totals from k on in place.</summary>
    public void Raise(int k, long delta)
    {
        foreach (ref var sum in Sums.AsSpan(k)) sum += delta;
    }

    public static long Pack(int length, int count) => ((long)length << 32) + count;

    /// <summary>A tree of the children from..to-1, as low as can be.</summary>
    public Tree Slice(int from, int to, bool flip)
    {
        if (to == from) return Tree.Run(0, false);
        if (to - from == 1) return Edge(from, flip);
        var sums = Sums[from..to];
        if (from > 0)
            for (var i = 0; i < sums.Length; i++) sums[i] -= Sums[from - 1];
        var flips = Flips >> from;
        if (to - from < 32) flips &= (1u << (to - from)) - 1;
        var node = new Node(Children[from..to], sums, flips, Height);
        return new(node, node.Length, flip ? node.Length - node.Count : node.Count, flip, Height);
    }

    /// <summary>One tree of height <paramref name="height"/> (or a run) over these edges, which are one lower or runs.</summary>
    public static Tree Over(ReadOnlySpan<Tree> edges, int height)
    {
        var children = new object?[edges.Length];
        var sums = new long[edges.Length];
        var flips = 0u;
        var sum = 0L;
        for (var k = 0; k < edges.Length; k++)
        {
            ref readonly var edge = ref edges[k];
            children[k] = edge.Child;
            sums[k] = sum += Pack(edge.Length, edge.Count);
            if (edge.Flip) flips |= 1u << k;
        }
        return new(new Node(children, sums, flips, height), (int)(sum >> 32), (int)sum, false, height);
    }
}
