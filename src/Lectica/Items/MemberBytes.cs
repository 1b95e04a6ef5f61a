using System.Numerics;
using System.Runtime.InteropServices;
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

    /// <summary>How many places past the last member a decoded word may write to.</summary>
    public const int Slack = 8;

    /// <summary>
    /// Writes the members of words that begin at item <paramref name="start"/> from place <paramref name="n"/> on; gives the next place.
    /// Where the target has room for a whole word and <see cref="Slack"/> it writes vectors, of which the next overwrites what is too much;
    /// where these are not the processor's own, as in an interpreter, each would cost more than eight members one by one.
    /// </summary>
    public static int Decode(ReadOnlySpan<ulong> words, bool flip, ulong tail, int start, Span<int> target, int n)
    {
        var mask = flip ? ulong.MaxValue : 0;
        ref var table = ref MemoryMarshal.GetArrayDataReference(Table);
        ref var to = ref MemoryMarshal.GetReference(target);
        for (var w = 0; w < words.Length; w++, start += 64)
        {
            var word = words[w] ^ mask;
            if (w == words.Length - 1) word &= tail;
            if (Vector256.IsHardwareAccelerated && target.Length - n >= 64 + Slack)
            {
                for (var at = start; word != 0; word >>= 8, at += 8)
                {
                    var value = (uint)word & 255;
                    (Vector256.LoadUnsafe(ref table, value * 8) + Vector256.Create(at)).StoreUnsafe(ref to, (nuint)n);
                    n += BitOperations.PopCount(value);
                }
            }
            else
                for (; word != 0; word &= word - 1) target[n++] = start + BitOperations.TrailingZeroCount(word);
        }
        return n;
    }
}
