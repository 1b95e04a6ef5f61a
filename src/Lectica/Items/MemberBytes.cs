using System.Numerics;

namespace Lectica.Items;

/// <summary>Lists the set bits of words.</summary>
internal static class MemberBytes
{
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
        for (var w = 0; w < words.Length; w++, start += 64)
        {
            var word = words[w] ^ mask;
            if (w == words.Length - 1) word &= tail;
            if (WordVectors.AreFast && target.Length - n >= 64 + Slack) n = WordVectors.Decode(word, start, target, n);
            else
                for (; word != 0; word &= word - 1) target[n++] = start + BitOperations.TrailingZeroCount(word);
        }
        return n;
    }
}
