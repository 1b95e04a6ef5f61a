using System.Runtime.CompilerServices;

namespace Lectica.Items;

/// <summary>
/// A stretch of a rope of bits, and at the same time the edge by which a node holds it: a uniform run (no child), a bitmap
/// leaf of at most <see cref="LeafBits"/> bits (height 0), or a node (height 1 and up). With <see cref="Flip"/> the bits below
/// count turned round, so a complement is one bit of one edge.
/// <para>Kept everywhere: a run may stand at any height; every other child of a node is exactly one lower than the node; a
/// bitmap leaf is neither all 0 nor all 1 and has zeros past its end; <see cref="Count"/> is what counts after the flip.</para>
/// </summary>
internal readonly struct Tree
{
    /// <summary>The bits of a new leaf: 64 words, which with their directory and edge cost 1.12 bits an item.</summary>
    public const int LeafFill = 4096;

    /// <summary>The most bits that a leaf may grow to; only then does it part in two.</summary>
    public const int LeafBits = 2 * LeafFill;

    /// <summary>A leaf under this length is merged or evened out with its neighbour where an edit touches it.</summary>
    public const int SmallLeaf = LeafFill / 4;

    public readonly object? Child;
    public readonly int Length;
    public readonly int Count;
    public readonly byte Height;
    public readonly bool Flip;

    public Tree(object? child, int length, int count, bool flip, int height)
    {
        Child = child;
        Length = length;
        Count = count;
        Flip = flip;
        Height = (byte)height;
    }

    public static Tree Run(int length, bool value) => new(null, length, value ? length : 0, value, 0);

    /// <summary>
    /// A leaf of this array, whose bits are written, or a run where they are all the same. The array becomes the leaf's own.
    /// </summary>
    public static Tree OfLeaf(ulong[] leaf, int length)
    {
        var count = Leaf.Close(leaf);
        return count == 0 ? Run(length, false) : count == length ? Run(length, true) : new(leaf, length, count, false, 0);
    }

    /// <summary>The same for words that stay the caller's.</summary>
    public static Tree OfBits(ReadOnlySpan<ulong> words, int length)
    {
        var leaf = Leaf.New(length);
        words[..Bits.WordsFor(length)].CopyTo(Leaf.BitsOf(leaf));
        return OfLeaf(leaf, length);
    }

    public bool IsRun => Child is null;
    public bool IsNode => Height > 0;
    public Node Node => Unsafe.As<Node>(Child!);
    public ulong[] LeafArray => Unsafe.As<ulong[]>(Child!);
    public ReadOnlySpan<ulong> Words => Leaf.BitsOf(LeafArray);
    public Tree Flipped => new(Child, Length, Length - Count, !Flip, Height);

    public bool SameAs(in Tree other) => ReferenceEquals(Child, other.Child) && Flip == other.Flip && Length == other.Length;

    public bool Contains(int index)
    {
        var flip = Flip;
        var child = Child;
        for (int height = Height; height > 0; height--)
        {
            var node = Unsafe.As<Node>(child!);
            var k = node.Find(index, out var before);
            index -= (int)(before >> 32);
            flip ^= node.FlipOf(k);
            child = node.Children[k];
            if (child is null) return flip;
        }
        return child is null ? flip : ((Unsafe.As<ulong[]>(child)[Leaf.Head + (index >>> 6)] >> index) & 1) != 0 ^ flip;
    }

    /// <summary>How many of the first <paramref name="index"/> bits count.</summary>
    public int Rank(int index)
    {
        if (index == Length) return Count;
        var flip = Flip;
        var child = Child;
        var rank = 0;
        for (int height = Height; child is not null && height > 0; height--)
        {
            var node = Unsafe.As<Node>(child);
            var k = node.Find(index, out var before);
            rank += Node.CountTo(before, flip);
            index -= (int)(before >> 32);
            flip ^= node.FlipOf(k);
            child = node.Children[k];
        }
        if (child is null) return rank + (flip ? index : 0);
        var ones = Leaf.Rank(Unsafe.As<ulong[]>(child), index);
        return rank + (flip ? index - ones : ones);
    }

    /// <summary>Where the bit stands that is number <paramref name="rank"/> (0 = first) of those that count.</summary>
    public int Nth(int rank)
    {
        var flip = Flip;
        var child = Child;
        var start = 0;
        for (int height = Height; child is not null && height > 0; height--)
        {
            var node = Unsafe.As<Node>(child);
            var k = node.FindNth(rank, flip, out var before);
            rank -= Node.CountTo(before, flip);
            start += (int)(before >> 32);
            flip ^= node.FlipOf(k);
            child = node.Children[k];
        }
        return start + (child is null ? rank : Leaf.Nth(Unsafe.As<ulong[]>(child), flip, rank));
    }

    /// <summary>Writes the bits of a leaf or run, from <paramref name="from"/> on, into words; see <see cref="Bits.Copy"/>.</summary>
    public void CopyLeafTo(int from, Span<ulong> target, int to, int length)
    {
        if (IsRun) Bits.Write(target, to, length, Flip);
        else Bits.Copy(Words, from, Flip, target, to, length);
    }

    /// <summary>A part of a leaf or run.</summary>
    public Tree LeafSlice(int from, int length)
    {
        if (length == Length) return this;
        if (IsRun) return Run(length, Flip);
        var leaf = Leaf.New(length);
        CopyLeafTo(from, Leaf.BitsOf(leaf), 0, length);
        return OfLeaf(leaf, length);
    }
}
