using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using System.Runtime.Intrinsics.X86;

namespace Lectica.Items;

/// <summary>
/// The array of a bitmap leaf: first a rank directory (Jacobson, "Space-efficient static trees and graphs", 1989), then the bits. The
/// directory says for each of eight blocks how many bits are set before it, so that counting and finding read one block; it stands in the
/// cache line that holds the array's length, which is read anyway.
/// </summary>
internal static class Leaf
{
    private const int Blocks = 8;

    /// <summary>A block has eight words, as a cache line has; in a leaf too long for that, twice as many.</summary>
    private const int BlockWords = 8;

    /// <summary>The words of the directory: eight counts of 16 bits.</summary>
    public const int Head = 2;

    /// <summary>The bits before each block, where a block has <see cref="BlockWords"/> words.</summary>
    private static Vector128<short> Starts => Vector128<short>.Indices * (BlockWords * 64);

    /// <summary>An array for a leaf of this many bits, all 0; <see cref="Close"/> it once its bits are written.</summary>
    public static ulong[] New(int length) => new ulong[Head + Bits.WordsFor(length)];

    public static Span<ulong> BitsOf(ulong[] leaf) => leaf.AsSpan(Head);

    /// <summary>Writes the directory; gives how many bits are set.</summary>
    public static int Close(ulong[] leaf)
    {
        ReadOnlySpan<ulong> words = BitsOf(leaf);
        ref var directory = ref Directory(leaf);
        int size = IsLong(words.Length) ? 2 * BlockWords : BlockWords, count = 0;
        for (var block = 0; block < Blocks; block++)
        {
            Unsafe.Add(ref directory, block) = (short)count;
            var here = Math.Min(size, words.Length);
            count += Bits.Count(words[..here]);
            words = words[here..];
        }
        return count;
    }

    /// <summary>Whether the directory fits the bits.</summary>
    public static bool IsClosed(ulong[] leaf)
    {
        var copy = leaf.AsSpan().ToArray();
        Close(copy);
        return copy.AsSpan().SequenceEqual(leaf);
    }

    /// <summary>Turns one bit round, in the directory too; gives what it is now.</summary>
    public static bool Toggle(ulong[] leaf, int index)
    {
        ref var word = ref leaf[Head + (index >>> 6)];
        word ^= 1UL << (index & 63);
        var isSet = ((word >> index) & 1) != 0;
        ref var directory = ref Directory(leaf);
        var after = Vector128.GreaterThan(Vector128<short>.Indices, Vector128.Create((short)BlockOf(index, leaf.Length - Head)));
        // A lane that is after holds -1.
        var counts = Vector128.LoadUnsafe(ref directory);
        (isSet ? counts - after : counts + after).StoreUnsafe(ref directory);
        return isSet;
    }

    /// <summary>How many of the first <paramref name="index"/> bits are set; the index is under the leaf's length.</summary>
    public static int Rank(ulong[] leaf, int index)
    {
        // Without a branch that depends on the index, since the processor would mostly guess it wrong; and so below.
        ReadOnlySpan<ulong> words = BitsOf(leaf);
        var isLong = IsLong(words.Length);
        var block = BlockOf(index, words.Length);
        var w = block * BlockWords;
        if (isLong) w *= 2;
        int word = index >>> 6,
            rank = Unsafe.Add(ref Directory(leaf), block) + BitOperations.PopCount(words[word] & ~(ulong.MaxValue << (index & 63)));
        if (isLong && w + BlockWords <= words.Length)
        {
            var isAfter = (w + BlockWords - 1 - word) >> 31;
            rank += Bits.Count(words.Slice(w, BlockWords)) & isAfter;
            w += BlockWords & isAfter;
        }
        if (w + BlockWords > words.Length) return rank + Bits.Count(words[w..word]);
        ref var first = ref Unsafe.Add(ref MemoryMarshal.GetReference(words), w);
        word -= w;
        for (var i = 0; i < BlockWords - 1; i++) rank += BitOperations.PopCount(Unsafe.Add(ref first, i)) & ((i - word) >> 31);
        return rank;
    }

    /// <summary>
    /// Where the bit stands that is number <paramref name="rank"/> (0 = first) of those set, or with <paramref name="flip"/> of those not
    /// set; it exists.
    /// </summary>
    public static int Nth(ulong[] leaf, bool flip, int rank)
    {
        ReadOnlySpan<ulong> words = BitsOf(leaf);
        var mask = flip ? ulong.MaxValue : 0;
        var isLong = IsLong(words.Length);
        var before = Vector128.LoadUnsafe(ref Directory(leaf));
        if (flip) before = (isLong ? Starts << 1 : Starts) - before;
        var block = BitOperations.PopCount(
            Vector128.LessThanOrEqual(before, Vector128.Create((short)rank)).ExtractMostSignificantBits()) - 1;
        var w = block * BlockWords;
        if (isLong) w *= 2;
        int skipped = Unsafe.Add(ref Directory(leaf), block);
        var left = rank - (flip ? (w << 6) - skipped : skipped);
        if (isLong && w + BlockWords <= words.Length)
        {
            var half = Bits.Count(words.Slice(w, BlockWords));
            if (flip) half = (BlockWords << 6) - half;
            var isAfter = ~((left - half) >> 31);
            left -= half & isAfter;
            w += BlockWords & isAfter;
        }
        if (w + BlockWords <= words.Length)
        {
            ref var first = ref Unsafe.Add(ref MemoryMarshal.GetReference(words), w);
            int end = left + 1, count = 0;
            for (var i = 0; i < BlockWords - 1; i++)
            {
                var here = BitOperations.PopCount(Unsafe.Add(ref first, i) ^ mask);
                count += here;
                // All ones where the bit is after this word.
                var isAfter = (count - end) >> 31;
                w -= isAfter;
                left -= here & isAfter;
            }
        }
        else
        {
            // The last block may be shorter.
            for (int here; left >= (here = BitOperations.PopCount(words[w] ^ mask)); w++) left -= here;
        }
        return (w << 6) + NthInWord(words[w] ^ mask, left);
    }

    private static bool IsLong(int words) => words > Blocks * BlockWords;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static int BlockOf(int index, int words) => index >>> (IsLong(words) ? 10 : 9);

    private static ref short Directory(ulong[] leaf) => ref Unsafe.As<ulong, short>(ref MemoryMarshal.GetArrayDataReference(leaf));

    private static int NthInWord(ulong word, int rank)
    {
        if (Bmi2.X64.IsSupported) return BitOperations.TrailingZeroCount(Bmi2.X64.ParallelBitDeposit(1UL << rank, word));
        for (; rank > 0; rank--) word &= word - 1;
        return BitOperations.TrailingZeroCount(word);
    }
}
