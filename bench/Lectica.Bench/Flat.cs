using System.Numerics;

namespace Lectica.Bench;

/// <summary>What the sets are measured against: a plain bitmap in an array, with the loops that one would write.</summary>
internal static class Flat
{
    public static ulong[] Random(int n, int seed)
    {
        var random = new Random(seed);
        var words = new ulong[(n + 63) / 64];
        for (var i = 0; i < words.Length; i++) words[i] = (ulong)random.NextInt64(long.MinValue, long.MaxValue);
        if ((n & 63) != 0) words[^1] &= (1UL << (n & 63)) - 1;
        return words;
    }

    /// <summary>Room for one more bit at the front, in place.</summary>
    public static void ShiftUp(ulong[] words)
    {
        var carry = 0UL;
        for (var i = 0; i < words.Length; i++)
        {
            var next = words[i] >> 63;
            words[i] = (words[i] << 1) | carry;
            carry = next;
        }
    }

    public static int CountAnd(ulong[] a, ulong[] b, out ulong[] result)
    {
        result = new ulong[a.Length];
        var count = 0;
        for (var i = 0; i < a.Length; i++) count += BitOperations.PopCount(result[i] = a[i] & b[i]);
        return count;
    }

    public static int CountOr(ulong[] a, ulong[] b, out ulong[] result)
    {
        result = new ulong[a.Length];
        var count = 0;
        for (var i = 0; i < a.Length; i++) count += BitOperations.PopCount(result[i] = a[i] | b[i]);
        return count;
    }

    public static int CountExcept(ulong[] a, ulong[] b, out ulong[] result)
    {
        result = new ulong[a.Length];
        var count = 0;
        for (var i = 0; i < a.Length; i++) count += BitOperations.PopCount(result[i] = a[i] & ~b[i]);
        return count;
    }

    public static long Sum(ulong[] words)
    {
        long sum = 0;
        for (var w = 0; w < words.Length; w++)
            for (var word = words[w]; word != 0; word &= word - 1) sum += (w << 6) + BitOperations.TrailingZeroCount(word);
        return sum;
    }

    public static void CopyTo(ulong[] words, int[] target)
    {
        var n = 0;
        for (var w = 0; w < words.Length; w++)
            for (var word = words[w]; word != 0; word &= word - 1) target[n++] = (w << 6) + BitOperations.TrailingZeroCount(word);
    }
}
