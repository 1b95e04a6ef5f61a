namespace Lectica.Items;

/// <summary>Reads the members of a rope into a small buffer, a few words at a time.</summary>
internal sealed class MemberReader
{
    private const int WordsARead = 8;

    private readonly Tree _tree;
    private LeafWalker _walker;
    private Tree _leaf;
    private int _start, _next, _at;

    public MemberReader(in Tree tree)
    {
        _tree = tree;
        _walker = new(tree);
        Buffer = new int[Math.Min(WordsARead * 64, tree.Count) + 64 + MemberBytes.Slack];
    }

    public int[] Buffer { get; }

    public void Reset()
    {
        _walker = new(_tree);
        _leaf = default;
        (_start, _next, _at) = (0, 0, 0);
    }

    /// <summary>Fills the buffer with what comes next; gives how many, 0 at the end.</summary>
    public int Read()
    {
        while (true)
        {
            if (_at >= _leaf.Length)
            {
                if (!_walker.MoveNext(out _leaf)) return 0;
                (_start, _at) = (_next, 0);
                _next += _leaf.Length;
                if (_leaf.IsRun && !_leaf.Flip)
                {
                    _at = _leaf.Length;
                    continue;
                }
            }
            var from = _at;
            var length = Math.Min(WordsARead * 64, _leaf.Length - from);
            _at += length;
            if (_leaf.IsRun)
            {
                for (var i = 0; i < length; i++) Buffer[i] = _start + from + i;
                return length;
            }
            var count = MemberBytes.Decode(
                _leaf.Words.Slice(from >>> 6, Bits.WordsFor(length)), _leaf.Flip, Bits.TailMask(length), _start + from, Buffer, 0);
            if (count > 0) return count;
        }
    }
}
