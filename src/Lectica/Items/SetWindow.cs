namespace Lectica.Items;

/// <summary>
/// Where two versions of a set differ: <paramref name="OldLength"/> items of the older one from <paramref name="Start"/> on stand against
/// <paramref name="NewLength"/> of the newer one; before and after it the two agree.
/// </summary>
internal readonly record struct SetWindow(int Start, int OldLength, int NewLength)
{
    /// <summary>Whether the two versions are the same.</summary>
    public bool IsEmpty => OldLength == 0 && NewLength == 0;

    internal static SetWindow Between(in Tree older, in Tree newer)
    {
        var shorter = Math.Min(older.Length, newer.Length);
        var prefix = Common(older, newer, false);
        var suffix = prefix == shorter ? 0 : Common(older, newer, true);
        if (prefix == shorter && older.Length != newer.Length) suffix = Common(older, newer, true);
        suffix = Math.Min(suffix, shorter - prefix);
        return new(prefix, older.Length - prefix - suffix, newer.Length - prefix - suffix);
    }

    /// <summary>How far two ropes agree from their start, or back from their end.</summary>
    private static int Common(in Tree a, in Tree b, bool backward)
    {
        if (a.SameAs(b)) return a.Length;
        if (!a.IsNode && !b.IsNode) return Common(a, 0, b, 0, Math.Min(a.Length, b.Length), backward);
        if (!a.IsNode || !b.IsNode || a.Height != b.Height) return Common(new LeafWalker(a, backward), new(b, backward), backward);
        Node x = a.Node, y = b.Node;
        var done = 0;
        for (var i = 0; i < x.Edges && i < y.Edges; i++)
        {
            int j = backward ? x.Edges - 1 - i : i, k = backward ? y.Edges - 1 - i : i;
            if (ReferenceEquals(x.Children[j], y.Children[k]) && x.LengthOf(j) == y.LengthOf(k)
                && (x.FlipOf(j) ^ a.Flip) == (y.FlipOf(k) ^ b.Flip))
            {
                done += x.LengthOf(j);
                continue;
            }
            Tree p = x.Edge(j, a.Flip), q = y.Edge(k, b.Flip);
            var here = Common(p, q, backward);
            done += here;
            if (here == p.Length && here == q.Length) continue;
            if (here < p.Length && here < q.Length) return done;
            // One ends inside the other: from here on leaf by leaf.
            done -= here;
            LeafWalker walkX = backward ? new(x, 0, j + 1, a.Flip, true) : new(x, j, x.Edges, a.Flip);
            LeafWalker walkY = backward ? new(y, 0, k + 1, b.Flip, true) : new(y, k, y.Edges, b.Flip);
            return done + Common(walkX, walkY, backward);
        }
        return done;
    }

    private static int Common(LeafWalker a, LeafWalker b, bool backward)
    {
        Tree p = default, q = default;
        int atP = 0, atQ = 0, done = 0;
        while (true)
        {
            if (atP == p.Length)
            {
                if (!a.MoveNext(out p)) return done;
                atP = 0;
            }
            if (atQ == q.Length)
            {
                if (!b.MoveNext(out q)) return done;
                atQ = 0;
            }
            var length = Math.Min(p.Length - atP, q.Length - atQ);
            var same = Common(p, atP, q, atQ, length, backward);
            done += same;
            if (same < length) return done;
            atP += length;
            atQ += length;
        }
    }

    /// <summary>How far two leaves or runs agree, each from a place on: from its start, or back from its end.</summary>
    private static int Common(in Tree p, int atP, in Tree q, int atQ, int length, bool backward)
    {
        if (ReferenceEquals(p.Child, q.Child) && (p.IsRun || atP == atQ) && (!backward || p.Length == q.Length || p.IsRun))
            return p.Flip == q.Flip ? length : 0;
        // A run stands for words of zeros, turned round or not.
        Span<ulong> zeros = stackalloc ulong[p.IsRun || q.IsRun ? Bits.WordsFor(Math.Min(length, Tree.LeafBits)) + 1 : 0];
        zeros.Clear();
        ReadOnlySpan<ulong> wordsP = p.IsRun ? zeros : p.Words, wordsQ = q.IsRun ? zeros : q.Words;
        var flip = p.Flip != q.Flip;
        if (!backward) return Bits.CommonPrefix(wordsP, p.IsRun ? 0 : atP, wordsQ, q.IsRun ? 0 : atQ, flip, length);
        return Bits.CommonSuffix(wordsP, p.IsRun ? length : p.Length - atP, wordsQ, q.IsRun ? length : q.Length - atQ, flip, length);
    }
}
