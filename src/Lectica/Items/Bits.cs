using System.Numerics;
using System.Runtime.CompilerServices;

namespace Lectica.Items;

/// <summary>Runs of bits in words: counting, filling and copying at any bit offset. Bit i is bit i mod 64 of word i / 64.</summary>
internal static class Bits
{
    public static int WordsFor(int length) => (length + 63) >>> 6;

    /// <summary>The bits of the last word that belong to a run of this length.</summary>
    public static ulong TailMask(int length) => (length & 63) == 0 ? ulong.MaxValue : (1UL << (length & 63)) - 1;

    public static int Count(ReadOnlySpan<ulong> words)
    {
        // Four sums, so that none waits for another.
        int a = 0, b = 0, c = 0, d = 0, i = 0;
        for (; i + 4 <= words.Length; i += 4)
        {
            a += BitOperations.PopCount(words[i]);
            b += BitOperations.PopCount(words[i + 1]);
            c += BitOperations.PopCount(words[i + 2]);
            d += BitOperations.PopCount(words[i + 3]);
        }
        for (; i < words.Length; i++) a += BitOperations.PopCount(words[i]);
        return a + b + c + d;
    }

    /// <summary>64 bits from bit <paramref name="at"/> on; those past the end of the words are 0.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static ulong WordAt(ReadOnlySpan<ulong> words, int at)
    {
        int w = at >>> 6, shift = at & 63;
        var word = w < words.Length ? words[w] >> shift : 0;
        if (shift != 0 && w + 1 < words.Length) word |= words[w + 1] << (64 - shift);
        return word;
    }

    public static void Fill(Span<ulong> target, int at, int length, bool value)
    {
        while (length > 0)
        {
            int shift = at & 63, here = Math.Min(64 - shift, length);
            var mask = (here == 64 ? ulong.MaxValue : (1UL << here) - 1) << shift;
            if (value) target[at >>> 6] |= mask;
            else target[at >>> 6] &= ~mask;
            at += here;
            length -= here;
        }
    }

    /// <summary>Writes bits of one value; the rest of the last word that is touched becomes 0.</summary>
    public static void Write(Span<ulong> target, int to, int length, bool value)
    {
        if (length <= 0) return;
        int first = to >>> 6, last = (to + length - 1) >>> 6;
        var before = (to & 63) == 0 ? 0 : target[first] & TailMask(to);
        target[first..(last + 1)].Fill(value ? ulong.MaxValue : 0);
        if ((to & 63) != 0) target[first] = before | (target[first] & ~TailMask(to));
        target[last] &= TailMask(to + length) | (value ? 0 : ulong.MaxValue);
    }

    /// <summary>
    /// Copies bits, turned round if <paramref name="flip"/>. Where <paramref name="to"/> is inside a word, that word's bits from there on
    /// must be 0, as a copy or write before this one leaves them; the rest of the last word that is touched becomes 0.
    /// </summary>
    public static void Copy(ReadOnlySpan<ulong> source, int from, bool flip, Span<ulong> target, int to, int length)
    {
        if (length <= 0) return;
        var mask = flip ? ulong.MaxValue : 0;
        var head = -to & 63;
        if (head != 0)
        {
            // Bring the target to a word boundary, so that the rest is whole words.
            var here = Math.Min(head, length);
            target[to >>> 6] |= ((WordAt(source, from) ^ mask) & TailMask(here)) << (to & 63);
            from += here;
            to += here;
            length -= here;
            if (length == 0) return;
        }
        int w = to >>> 6, whole = length >>> 6;
        CopyWords(source, from, mask, target.Slice(w, whole));
        if ((length & 63) != 0) target[w + whole] = (WordAt(source, from + (whole << 6)) ^ mask) & TailMask(length);
    }

    private static void CopyWords(ReadOnlySpan<ulong> source, int from, ulong mask, Span<ulong> target)
    {
        var i = WordVectors.AreFast ? WordVectors.Copy(source, from, mask, target) : 0;
        for (; i < target.Length; i++) target[i] = WordAt(source, from + (i << 6)) ^ mask;
    }

    /// <summary>The bits of <paramref name="word"/> at which <paramref name="mask"/> is set, pushed together at the low end.</summary>
    public static ulong Extract(ulong word, ulong mask)
    {
        if (System.Runtime.Intrinsics.X86.Bmi2.X64.IsSupported)
            return System.Runtime.Intrinsics.X86.Bmi2.X64.ParallelBitExtract(word, mask);
        var result = 0UL;
        for (var bit = 0; mask != 0; bit++, mask &= mask - 1)
            result |= ((word >> BitOperations.TrailingZeroCount(mask)) & 1) << bit;
        return result;
    }

    /// <summary>The low bits of <paramref name="word"/>, spread in order over the places at which <paramref name="mask"/> is set.</summary>
    public static ulong Deposit(ulong word, ulong mask)
    {
        if (System.Runtime.Intrinsics.X86.Bmi2.X64.IsSupported)
            return System.Runtime.Intrinsics.X86.Bmi2.X64.ParallelBitDeposit(word, mask);
        var result = 0UL;
        for (; mask != 0; word >>>= 1, mask &= mask - 1)
            if ((word & 1) != 0) result |= mask & (0 - mask);
        return result;
    }

    /// <summary>How many bits two runs have in common from their start on, at most <paramref name="length"/>.</summary>
    public static int CommonPrefix(ReadOnlySpan<ulong> a, int fromA, ReadOnlySpan<ulong> b, int fromB, bool flip, int length)
    {
        var mask = flip ? ulong.MaxValue : 0;
        // Whole words that are the same, many at once where they line up.
        var i = flip || ((fromA | fromB) & 63) != 0 ? 0
            : Math.Min(a[(fromA >>> 6)..].CommonPrefixLength(b[(fromB >>> 6)..]), length >>> 6) << 6;
        for (; i < length; i += 64)
        {
            var difference = WordAt(a, fromA + i) ^ WordAt(b, fromB + i) ^ mask;
            if (difference != 0 && i + BitOperations.TrailingZeroCount(difference) < length)
                return i + BitOperations.TrailingZeroCount(difference);
        }
        return length;
    }

    /// <summary>
    /// How many bits two runs that end just before <paramref name="endA"/> and <paramref name="endB"/> have in common from their end back.
    /// </summary>
    public static int CommonSuffix(ReadOnlySpan<ulong> a, int endA, ReadOnlySpan<ulong> b, int endB, bool flip, int length)
    {
        var step = (endA & 63) == 0 || (endA & 63) != (endB & 63) ? 64 : endA & 63;
        for (var done = 0; done < length; step = 64)
        {
            var here = Math.Min(step, length - done);
            var difference = (WordAt(a, endA - done - here) ^ WordAt(b, endB - done - here) ^ (flip ? ulong.MaxValue : 0)) & TailMask(here);
            if (difference != 0) return done + here - 1 - (63 - BitOperations.LeadingZeroCount(difference));
            done += here;
        }
        return length;
    }
}
