using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;

namespace Lectica.Items;

/// <summary>
/// What is done with four words at once where the processor has vectors of 256 bits. Each has a method of its own, which does as much as it
/// can and says how far it came: a runtime without such vectors, as in a browser, must never come by one.
/// </summary>
internal static class WordVectors
{
    // The positions of the set bits of each byte.
    private static readonly int[] Table = Build();

    /// <summary>Whether the processor has them.</summary>
    public static bool AreFast => Vector256.IsHardwareAccelerated;

    private static int[] Build()
    {
        var table = new int[256 * 8];
        for (var value = 0; value < 256; value++)
            for (int bit = 0, n = 0; bit < 8; bit++)
                if ((value >> bit & 1) != 0) table[value * 8 + n++] = bit;
        return table;
    }

    /// <summary>Copies words from bit <paramref name="from"/> on; gives how many.</summary>
    public static int Copy(ReadOnlySpan<ulong> source, int from, ulong mask, Span<ulong> target)
    {
        int s = from >>> 6, shift = from & 63, i = 0;
        ref var first = ref MemoryMarshal.GetReference(source);
        var flips = Vector256.Create(mask);
        // With a shift the load reaches one word further than what is copied.
        var last = Math.Min(target.Length, source.Length - s - (shift == 0 ? 0 : 1)) - 4;
        for (; i <= last; i += 4)
        {
            var word = Vector256.LoadUnsafe(ref first, (nuint)(s + i));
            if (shift != 0)
            {
                var next = Vector256.LoadUnsafe(ref first, (nuint)(s + i + 1));
                word = (word >>> shift) | (next << (64 - shift));
            }
            (word ^ flips).CopyTo(target[i..]);
        }
        return i;
    }

    /// <summary>Combines words of two leaves, each flipped or not; gives how many.</summary>
    public static int Combine<TOperation>(ReadOnlySpan<ulong> a, ulong flipA, ReadOnlySpan<ulong> b, ulong flipB, Span<ulong> target)
        where TOperation : struct, IBitOperation
    {
        var i = 0;
        ref var first = ref MemoryMarshal.GetReference(a);
        ref var second = ref MemoryMarshal.GetReference(b);
        ref var to = ref MemoryMarshal.GetReference(target);
        Vector256<ulong> fa = Vector256.Create(flipA), fb = Vector256.Create(flipB);
        for (; i <= a.Length - 4; i += 4)
            TOperation.Of(Vector256.LoadUnsafe(ref first, (nuint)i) ^ fa, Vector256.LoadUnsafe(ref second, (nuint)i) ^ fb)
                .StoreUnsafe(ref to, (nuint)i);
        return i;
    }

    /// <summary>Copies totals, those from <paramref name="k"/> on raised; gives how many.</summary>
    public static int Raise(long[] sums, int k, long delta, long[] target)
    {
        ref var from = ref MemoryMarshal.GetArrayDataReference(sums);
        ref var to = ref MemoryMarshal.GetArrayDataReference(target);
        var i = 0;
        for (; i <= sums.Length - 4; i += 4)
        {
            // Lanes before k are raised by nothing.
            var by = i >= k ? Vector256.Create(delta)
                : i + 3 < k ? Vector256<long>.Zero
                : Vector256.ConditionalSelect(Vector256.GreaterThanOrEqual(Vector256.Create(0L, 1, 2, 3), Vector256.Create((long)(k - i))),
                Vector256.Create(delta), Vector256<long>.Zero);
            (Vector256.LoadUnsafe(ref from, (nuint)i) + by).StoreUnsafe(ref to, (nuint)i);
        }
        return i;
    }

    /// <summary>
    /// Writes the members of a word that begins at item <paramref name="start"/> from place <paramref name="n"/> on, a byte at a time: a
    /// table gives the up to eight positions of each at once, of which the next overwrites what is too much. Gives the next place.
    /// </summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static int Decode(ulong word, int start, Span<int> target, int n)
    {
        ref var table = ref MemoryMarshal.GetArrayDataReference(Table);
        ref var to = ref MemoryMarshal.GetReference(target);
        for (; word != 0; word >>= 8, start += 8)
        {
            var value = (uint)word & 255;
            (Vector256.LoadUnsafe(ref table, value * 8) + Vector256.Create(start)).StoreUnsafe(ref to, (nuint)n);
            n += BitOperations.PopCount(value);
        }
        return n;
    }
}
