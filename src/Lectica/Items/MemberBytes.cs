using System.Numerics;
using System.Runtime.Intrinsics;

namespace Lectica.Items;

/// <summary>Lists the set bits of words a byte at a time: a table gives the up to eight positions of each byte at once.</summary>
internal static class MemberBytes
{
    private static readonly int[] Table = Build();

    private static int[] Build()
    {
        var table = new int[256 * 8];
        for (var value = 0; value < 256; value++)
            for (int bit = 0, n = 0; bit < 8; bit++)
                if ((value >> bit & 1) != 0) table[value * 8 + n++] = bit;
        return table;
    }

    /// <summary>Writes the members of a leaf that begins at item <paramref name="start"/> from place <paramref name="n"/> on; gives the next place.</summary>
    public static int Decode(ReadOnlySpan<ulong> words, bool flip, int length, int start, Span<int> target, int n)
    {
        var mask = flip ? ulong.MaxValue : 0;
        for (var w = 0; w < words.Length; w++, start += 64)
        {
            var word = words[w] ^ mask;
            if (w == words.Length - 1) word &= Bits.TailMask(length);
            if (target.Length - n >= 64 + 8)
            {
                // Whole vectors are written; what is too much is written over by the next.
                for (var at = start; word != 0; word >>= 8, at += 8)
                {
                    var value = (int)(word & 255);
                    (Vector256.Create(Table, value * 8) + Vector256.Create(at)).CopyTo(target[n..]);
                    n += BitOperations.PopCount((uint)value);
                }
            }
            else
                for (; word != 0; word &= word - 1) target[n++] = start + BitOperations.TrailingZeroCount(word);
        }
        return n;
    }
}
