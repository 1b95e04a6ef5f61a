namespace Lectica.Items;

/// <summary>
/// How deep each item of an outline lies, from 0 for the first level, in reading order: an item, and then all that is below it. So the
/// branch of an item is a stretch that ends before the next item that is no deeper, and its parent is the last one before it that is less
/// deep. It never changes: another one is made. Blocks of levels know the least in them, so that a question looks at two blocks and at the
/// list of them. Cost: the number of items, divided by 1024.
/// </summary>
internal sealed class Levels
{
    /// <summary>The deepest that an item may lie.</summary>
    public const int Deepest = ushort.MaxValue - 1;

    private const int BlockLength = 1024, Many = 1024;

    private readonly ushort[][] _blocks;
    private readonly ushort[] _least;
    private readonly int[] _starts;

    private Levels(ushort[][] blocks, ushort[] least)
    {
        (_blocks, _least) = (blocks, least);
        _starts = new int[blocks.Length];
        for (var i = 0; i < blocks.Length; i++)
        {
            _starts[i] = Count;
            Count += blocks[i].Length;
        }
    }

    /// <summary>Those of no items.</summary>
    public static Levels None { get; } = new([], []);

    /// <summary>The levels of so many items.</summary>
    public static Levels Of(ReadOnlySpan<ushort> levels)
    {
        var blocks = new ushort[(levels.Length + BlockLength - 1) / BlockLength][];
        var least = new ushort[blocks.Length];
        for (var i = 0; i < blocks.Length; i++)
        {
            blocks[i] = levels[(i * BlockLength)..Math.Min(levels.Length, (i + 1) * BlockLength)].ToArray();
            least[i] = blocks[i].Min();
        }
        return new(blocks, least);
    }

    /// <summary>The number of items.</summary>
    public int Count { get; }

    /// <summary>How deep an item lies.</summary>
    /// <exception cref="ArgumentOutOfRangeException">There is no such item.</exception>
    public int this[int index]
    {
        get
        {
            ArgumentOutOfRangeException.ThrowIfNegative(index);
            ArgumentOutOfRangeException.ThrowIfGreaterThanOrEqual(index, Count);
            var block = BlockOf(index);
            return _blocks[block][index - _starts[block]];
        }
    }

    private int BlockOf(int index) => Array.BinarySearch(_starts, index) is var at && at >= 0 ? at : ~at - 1;

    /// <summary>Whether anything lies below an item.</summary>
    public bool IsBranch(int index) => index + 1 < Count && this[index + 1] > this[index];

    /// <summary>The first item after all that is below an item; the number of items where there is none.</summary>
    public int EndOf(int index)
    {
        var level = this[index];
        var block = BlockOf(index);
        var from = index - _starts[block] + 1;
        for (; block < _blocks.Length; block++, from = 0)
        {
            if (_least[block] > level) continue;
            var found = _blocks[block].AsSpan(from).IndexOfAnyInRange((ushort)0, (ushort)level);
            if (found >= 0) return _starts[block] + from + found;
        }
        return Count;
    }

    /// <summary>The item that an item lies below; -1 on the first level.</summary>
    public int ParentOf(int index) => this[index] is > 0 and var level ? LastUpTo(level - 1, index) : -1;

    /// <summary>The item on a level that an item lies below, or itself where it is on that; -1 where it is not so deep.</summary>
    public int AncestorOf(int index, int level) =>
        this[index] is var own && own == level ? index : own < level || level < 0 ? -1 : LastUpTo(level, index);

    // The last item before one that is no deeper than a level.
    private int LastUpTo(int level, int before)
    {
        var block = BlockOf(before);
        var end = before - _starts[block];
        for (; block >= 0; end = --block >= 0 ? _blocks[block].Length : 0)
        {
            if (_least[block] > level) continue;
            var found = _blocks[block].AsSpan(0, end).LastIndexOfAnyInRange((ushort)0, (ushort)level);
            if (found >= 0) return _starts[block] + found;
        }
        return -1;
    }

    /// <summary>The items that have something below them. Cost: all items, when it is first asked for.</summary>
    internal ItemSet Branches => _branches ??= WhereLevels((levels, i) => i + 1 < levels.Length && levels[i + 1] > levels[i]);

    private ItemSet? _branches;

    private ItemSet WhereLevels(Func<ushort[], int, bool> holds)
    {
        var levels = ToArray();
        return ItemSet.Where(Count, i => holds(levels, i));
    }

    // What was asked last: a menu asks the same for each of its entries.
    private (ItemSet Items, ItemSet Answer)? _below, _tops;

    /// <summary>
    /// The items with all that is below each of them. Cost: the items, and a range for each that is below no other of them.
    /// </summary>
    public ItemSet WithBelow(ItemSet items)
    {
        if (items.IsAll || items.IsEmpty) return items;
        if (_below is { } known && known.Items.Equals(items)) return known.Answer;
        var answer = items.Count > Many ? Passed(items, withBelow: true) : Below(items);
        _below = (items, answer);
        return answer;
    }

    private ItemSet Below(ItemSet items)
    {
        var set = items;
        for (var at = items.NextAt(0); at >= 0;)
        {
            var end = EndOf(at);
            if (end - at > 1) set = set.WithRange(at + 1, end - at - 1);
            at = end < Count ? items.NextAt(end) : -1;
        }
        return set;
    }

    /// <summary>Those of the items that lie below no other of them.</summary>
    public ItemSet Tops(ItemSet items)
    {
        if (_tops is { } known && known.Items.Equals(items)) return known.Answer;
        var answer = items.Count > Many ? Passed(items, withBelow: false) : Topmost(items);
        _tops = (items, answer);
        return answer;
    }

    /// <summary>Whether all of the items lie on one level.</summary>
    internal bool AreOn(int level, ItemSet items)
    {
        if (items.Count <= Many) return items.All(i => this[i] == level);
        var levels = ToArray();
        foreach (var i in items)
            if (levels[i] != level) return false;
        return true;
    }

    // Of very many, one pass over all levels costs less than a question for each.
    private ItemSet Passed(ItemSet items, bool withBelow)
    {
        var levels = ToArray();
        var words = new ulong[Bits.WordsFor(Count)];
        for (var at = items.NextAt(0); at >= 0;)
        {
            var end = at + 1;
            while (end < levels.Length && levels[end] > levels[at]) end++;
            Bits.Fill(words, at, withBelow ? end - at : 1, true);
            at = end < levels.Length ? items.NextAt(end) : -1;
        }
        var set = ItemSet.FromWords(words, Count);
        return set.Count == items.Count ? items : set;
    }

    private ItemSet Topmost(ItemSet items)
    {
        var tops = new List<int>();
        for (var at = items.NextAt(0); at >= 0;)
        {
            tops.Add(at);
            var end = EndOf(at);
            at = end < Count ? items.NextAt(end) : -1;
        }
        return tops.Count == items.Count ? items : ItemSet.Of(Count, tops);
    }

    /// <summary>The children of an item from the first on; of -1 the items of the first level.</summary>
    public IEnumerable<int> Children(int index)
    {
        var end = index < 0 ? Count : EndOf(index);
        for (var at = index + 1; at < end; at = EndOf(at)) yield return at;
    }

    /// <summary>Items leave, and others come in their place.</summary>
    public Levels Splice(int at, int removed, ReadOnlySpan<ushort> inserted)
    {
        var made = new Maker();
        made.Add(this, 0, at, 0);
        made.Add(inserted, 0);
        made.Add(this, at + removed, Count, 0);
        return made.Done();
    }

    /// <summary>
    /// Branches go to a gap, and their topmost items onto a level there. Cost: what moves, in addition to that of any question.
    /// </summary>
    /// <param name="tops">The topmost items of what moves.</param>
    /// <param name="gap">The gap that they land in.</param>
    /// <param name="level">The level that they land on.</param>
    /// <exception cref="InvalidOperationException">Something would lie deeper than can be.</exception>
    public Levels Move(ItemSet tops, int gap, int level)
    {
        List<(int From, int To)> moved = [.. tops.Select(t => (t, EndOf(t)))];
        var made = new Maker();
        var next = 0;
        void Rest(int to)
        {
            foreach (var (from, end) in moved)
            {
                if (end <= next) continue;
                if (from >= to) break;
                made.Add(this, next, Math.Max(next, from), 0);
                next = Math.Max(next, end);
            }
            made.Add(this, next, Math.Max(next, to), 0);
            next = Math.Max(next, to);
        }
        Rest(gap);
        foreach (var (from, to) in moved) made.Add(this, from, to, level - this[from]);
        Rest(Count);
        return made.Done();
    }

    /// <summary>A level that an item would lie on.</summary>
    /// <exception cref="InvalidOperationException">It is deeper than can be.</exception>
    internal static ushort Checked(int level) => level <= Deepest ? (ushort)level
        : throw new InvalidOperationException($"An item would lie {level + 1} levels deep; {Deepest + 1} is the most.");

    /// <summary>The levels as an array, which must not be changed. Cost: the items, when it is first asked for.</summary>
    internal ushort[] ToArray()
    {
        if (_all is { } known) return known;
        var all = new ushort[Count];
        for (var i = 0; i < _blocks.Length; i++) _blocks[i].CopyTo(all, _starts[i]);
        return _all = all;
    }

    private ushort[]? _all;

    /// <summary>The levels of so many items, whose array is given away.</summary>
    internal static Levels Owning(ushort[] levels)
    {
        var made = Of(levels);
        made._all = levels;
        return made;
    }

    /// <summary>Puts levels together; whole blocks are taken over as they are.</summary>
    private sealed class Maker
    {
        private readonly List<ushort[]> _blocks = [];
        private readonly List<ushort> _least = [];
        private readonly List<ushort> _rest = [];

        public void Add(ReadOnlySpan<ushort> levels, int deeper)
        {
            for (var i = 0; i < levels.Length; i += BlockLength)
            {
                var part = levels[i..Math.Min(levels.Length, i + BlockLength)];
                // A small part joins what is before it; a large one is a block of its own.
                if (part.Length + _rest.Count > BlockLength) Close();
                if (deeper == 0) _rest.AddRange(part);
                else
                    foreach (var level in part)
                        _rest.Add(Checked(level + deeper));
            }
        }

        public void Add(Levels from, int start, int end, int deeper)
        {
            while (start < end)
            {
                var block = from.BlockOf(start);
                int first = start - from._starts[block], length = Math.Min(end - start, from._blocks[block].Length - first);
                if (deeper == 0 && length == from._blocks[block].Length && (_rest.Count == 0 || _rest.Count + length > BlockLength))
                {
                    Close();
                    _blocks.Add(from._blocks[block]);
                    _least.Add(from._least[block]);
                }
                else Add(from._blocks[block].AsSpan(first, length), deeper);
                start += length;
            }
        }

        private void Close()
        {
            if (_rest.Count == 0) return;
            _blocks.Add([.. _rest]);
            _least.Add(_rest.Min());
            _rest.Clear();
        }

        public Levels Done()
        {
            Close();
            return new([.. _blocks], [.. _least]);
        }
    }
}
