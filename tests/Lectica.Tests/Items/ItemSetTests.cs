using CsCheck;
using Lectica.Items;

namespace Lectica.Tests.Items;

/// <summary>ItemSet against a plain array of flags, under random operations that shrink when they fail.</summary>
public sealed class ItemSetTests(ITestOutputHelper output)
{
    /// <summary>100,000 operations in a normal run; <c>LECTICA_OPERATIONS=10000000</c> for a long one.</summary>
    private static readonly long Operations =
        long.TryParse(Environment.GetEnvironmentVariable("LECTICA_OPERATIONS"), out var n) ? n : Effort.Of(100_000);

    private const int OperationsACase = 100;

    private static readonly int[] Lengths =
        [0, 1, 2, 63, 64, 65, 1023, 1024, 1025, 2049, 3000, 4095, 4096, 4097, 5000, 8191, 8192, 8193, 12_289, 20_000, 131_072, 300_000];

    private sealed record Operation(string Name, uint A, uint B, uint C);

    private static readonly string[] Names =
    [
        "toggle", "with", "range", "complement", "union", "intersect", "except", "symmetric", "splice", "splice set", "slice", "move",
        "remap", "keep", "spread", "stripes", "batch", "window", "older version", "queries", "enumerate",
    ];

    private static readonly Gen<(int Length, uint Seed, Operation[] Operations)> Cases = Gen.Select(
        Gen.OneOf(Lengths), Gen.UInt,
        Gen.Select(Gen.OneOf(Names), Gen.UInt, Gen.UInt, Gen.UInt, (name, a, b, c) => new Operation(name, a, b, c)).Array[OperationsACase]);

    [Fact]
    public void Any_operations_give_what_a_plain_array_gives()
    {
        var counts = new System.Collections.Concurrent.ConcurrentDictionary<string, int>();
        Cases.Sample(
            (length, seed, operations) => Run(length, seed, operations, counts),
            iter: Math.Max(1, Operations / OperationsACase),
            print: c => $"length {c.Item1}, seed {c.Item2}: {string.Join("; ", c.Item3.Select(o => $"{o.Name} {o.A} {o.B} {o.C}"))}");
        foreach (var name in Names) output.WriteLine($"{name,-14} {counts.GetValueOrDefault(name),10:N0}");
        Assert.All(Names, name => Assert.True(counts.GetValueOrDefault(name) > 0, $"'{name}' never ran"));
    }

    private static void Run(
        int length, uint seed, Operation[] operations, System.Collections.Concurrent.ConcurrentDictionary<string, int> counts)
    {
        var model = Pattern(length, seed);
        var set = ItemSet.Where(length, i => model[i]);
        Verify(set, model);
        var kept = new List<(ItemSet Set, ulong[] Words)>();
        foreach (var operation in operations)
        {
            if (kept.Count < 8) kept.Add((set, set.ToWords()));
            (set, model) = Apply(operation, set, model, kept);
            Verify(set, model);
            counts.AddOrUpdate(operation.Name, 1, (_, n) => n + 1);
        }
        // Old versions are still what they were.
        foreach (var (old, words) in kept)
        {
            old.CheckInvariants();
            Assert.Equal(words, old.ToWords());
        }
    }

    private static (ItemSet, bool[]) Apply(Operation operation, ItemSet set, bool[] model, List<(ItemSet Set, ulong[] Words)> kept)
    {
        var (_, a, b, c) = operation;
        int n = model.Length, index = At(a, n), gap = At(a, n + 1), span = At(b, n - gap + 1);
        switch (operation.Name)
        {
            case "toggle" when n > 0:
                model = [.. model];
                model[index] ^= true;
                return (set.Toggle(index), model);
            case "with" when n > 0:
                model = [.. model];
                model[index] = (c & 1) != 0;
                return (set.With(index, model[index]), model);
            case "range":
                model = [.. model];
                model.AsSpan(gap, span).Fill((c & 1) != 0);
                return (set.WithRange(gap, span, (c & 1) != 0), model);
            case "complement":
                return (set.Complement(), [.. model.Select(x => !x)]);
            case "union" or "intersect" or "except" or "symmetric":
                var (other, flags) = Other(set, model, a, b, kept);
                return operation.Name switch
                {
                    "union" => (set.Union(other), [.. model.Zip(flags, (x, y) => x | y)]),
                    "intersect" => (set.Intersect(other), [.. model.Zip(flags, (x, y) => x & y)]),
                    "except" => (set.Except(other), [.. model.Zip(flags, (x, y) => x & !y)]),
                    _ => (set.SymmetricExcept(other), [.. model.Zip(flags, (x, y) => x ^ y)]),
                };
            case "splice":
                if ((b & 3) != 0) span = Math.Min(span, (int)(b % 7));
                var inserted = n > 400_000 ? 0 : (c & 7) == 0 ? At(c, 9000) : At(c, 5);
                var member = (c & 16) != 0;
                return (set.Splice(gap, span, inserted, member),
                    [.. model[..gap], .. Enumerable.Repeat(member, inserted), .. model[(gap + span)..]]);
            case "splice set":
                var added = Pattern(n > 400_000 ? 3 : At(c, 6000), c);
                return (set.Splice(gap, span / 16, ItemSet.Where(added.Length, i => added[i])),
                    [.. model[..gap], .. added, .. model[(gap + span / 16)..]]);
            case "slice":
                // A slice of most of it, so that sets do not fade away.
                if ((c & 3) != 0) (gap, span) = (gap / 50, n - gap / 50 - Math.Min(n - gap / 50, span / 50));
                Assert.Equal(model.AsSpan(gap, span).Count(true), set.CountIn(gap, span));
                return (set.Slice(gap, span), model[gap..(gap + span)]);
            case "move":
                var moved = Mask(n, b, c);
                var mask = ItemSet.Where(n, i => moved[i]);
                bool[] Where(bool wanted, int from, int to) =>
                    [.. Enumerable.Range(from, to - from).Where(i => moved[i] == wanted).Select(i => model[i])];
                return (set.Move(mask, gap), [.. Where(false, 0, gap), .. Where(true, 0, n), .. Where(false, gap, n)]);
            case "remap":
                var old = Enumerable.Range(0, n).ToArray();
                if ((b & 1) == 0) new Random((int)c).Shuffle(old);
                for (var i = 0; i < old.Length; i += 1 + At(c, 100)) old[i] = -1;
                return (set.Remap(old), [.. old.Select(i => i >= 0 && model[i])]);
            case "keep":
                // Of the mask and its complement one holds at least half.
                var keep = Mask(n, b, c);
                if (keep.AsSpan().Count(true) < n / 2) keep = [.. keep.Select(x => !x)];
                return (set.Keep(ItemSet.Where(n, i => keep[i])), [.. model.Where((_, i) => keep[i])]);
            case "spread":
                // Ranks of all kinds: loose ones, and an older set cut or grown to as many as there are members.
                var (source, chosen) = (kept[At(a, kept.Count)].Set, Mask(set.Count, b, c));
                var ranks = (c & 1) == 0 ? ItemSet.Where(set.Count, i => chosen[i]) : source.Universe >= set.Count
                    ? source.Slice(0, set.Count) : source.Splice(source.Universe, 0, set.Count - source.Universe);
                var rank0 = 0;
                var of = set.Spread(ranks);
                // Few of them would let sets fade away.
                return ((c & 2) == 0 ? of : set.Except(of), [.. model.Select(m => m && (ranks.Contains(rank0++) == ((c & 2) == 0)))]);
            case "stripes":
                var period = 1 + At(b, (b & 3) == 0 ? 9000 : 40);
                var (first, last) = (At(a, period), period - 1);
                if ((c & 1) == 0) last = first + At(c >> 1, period - first);
                var stripes = ItemSet.Stripes(n, period, first, last);
                return (set.Union(stripes), [.. model.Select((m, i) => m || (i % period >= first && i % period <= last))]);
            case "batch" when n > 0:
                var batch = set.ToBatch();
                model = [.. model];
                var random = new Random((int)c);
                var before = set.ToWords();
                for (var i = 0; i < 1 + b % 200; i++)
                {
                    var at = (b & 256) == 0 ? random.Next(n) : (index + i) % n;
                    if ((c & 1) == 0)
                    {
                        batch.Toggle(at);
                        model[at] ^= true;
                    }
                    else
                    {
                        batch.Set(at, (c & 2) != 0);
                        model[at] = (c & 2) != 0;
                    }
                    if (i == 20) kept.Add((batch.ToSet(), batch.ToSet().ToWords()));
                }
                Assert.Equal(before, set.ToWords());
                return (batch.ToSet(), model);
            case "window":
                foreach (var (older, words) in kept) VerifyWindow(older, words, set);
                return (set, model);
            case "older version":
                // Go back, so that versions branch.
                var (back, packed) = kept[At(a, kept.Count)];
                return (back, [.. Enumerable.Range(0, back.Universe).Select(i => (packed[i >> 6] >> i & 1) != 0)]);
            case "queries":
                for (var i = 0; i < 20; i++)
                {
                    var at = At(a + (uint)i * 2654435769, n + 1);
                    Assert.Equal(model.AsSpan(0, at).Count(true), set.Rank(at));
                    if (at < n) Assert.Equal(model[at], set.Contains(at));
                    var next = at < n ? model.AsSpan(at).IndexOf(true) : -1;
                    Assert.Equal(next < 0 ? -1 : at + next, set.NextAt(at));
                    Assert.Equal(n == 0 ? -1 : model.AsSpan(0, Math.Min(at + 1, n)).LastIndexOf(true), set.LastAt(at));
                    if (set.Count > 0)
                    {
                        var rank = At(b + (uint)i, set.Count);
                        Assert.Equal(rank, set.Rank(set.Nth(rank)));
                        Assert.True(set.Contains(set.Nth(rank)));
                    }
                }
                return (set, model);
            case "enumerate":
                var members = Enumerable.Range(0, n).Where(i => model[i]).ToArray();
                Assert.Equal(members, set.ToArray());
                var listed = new List<int>();
                foreach (var i in set) listed.Add(i);
                Assert.Equal(members, listed);
                Assert.Equal(members, set.Ranges().SelectMany(r => Enumerable.Range(r.Start, r.Length)));
                Assert.All(set.Ranges().Zip(set.Ranges().Skip(1)), pair => Assert.True(pair.First.End < pair.Second.Start));
                Assert.Equal(set, ItemSet.Of(n, members));
                return (set, model);
            default:
                return (set, model);
        }
    }

    private static void VerifyWindow(ItemSet older, ulong[] words, ItemSet newer)
    {
        var window = newer.DifferenceFrom(older);
        var now = newer.ToWords();
        Assert.Equal(older.Universe - window.OldLength, newer.Universe - window.NewLength);
        bool Old(int i) => (words[i >> 6] >> i & 1) != 0;
        bool New(int i) => (now[i >> 6] >> i & 1) != 0;
        for (var i = 0; i < window.Start; i++) Assert.Equal(Old(i), New(i));
        for (int i = window.Start + window.OldLength, j = window.Start + window.NewLength; i < older.Universe; i++, j++)
            Assert.Equal(Old(i), New(j));
        if (older.Universe == newer.Universe && !window.IsEmpty)
        {
            // Equal lengths have no slack: the ends of the window differ.
            Assert.NotEqual(Old(window.Start), New(window.Start));
            Assert.NotEqual(Old(window.Start + window.OldLength - 1), New(window.Start + window.OldLength - 1));
        }
    }

    private static void Verify(ItemSet set, bool[] model)
    {
        set.CheckInvariants();
        Assert.Equal(model.Length, set.Universe);
        Assert.Equal(model.AsSpan().Count(true), set.Count);
        var words = set.ToWords();
        for (var i = 0; i < model.Length; i++)
            if (((words[i >> 6] >> i) & 1) != 0 != model[i]) Assert.Fail($"item {i} of {model.Length} is {!model[i]}");
    }

    /// <summary>Another set of the same length: an old version, a near one, one that was spliced and back, or a fresh one.</summary>
    private static (ItemSet, bool[]) Other(ItemSet set, bool[] model, uint a, uint b, List<(ItemSet Set, ulong[] Words)> kept)
    {
        var n = model.Length;
        var same = kept.Where(k => k.Set.Universe == n).ToList();
        if ((a & 3) == 0 && same.Count > 0)
        {
            var (old, words) = same[At(b, same.Count)];
            return (old, [.. Enumerable.Range(0, n).Select(i => (words[i >> 6] >> i & 1) != 0)]);
        }
        var flags = (a & 3) == 1 ? [.. model] : Pattern(n, b);
        var other = (a & 3) == 1 ? set : ItemSet.Where(n, i => flags[i]);
        if (n > 0)
        {
            var at = At(b, n);
            other = other.Toggle(at);
            flags[at] ^= true;
            if ((b & 32) != 0) other = other.Splice(at, 0, 77).Splice(at, 77, 0);
        }
        return (other, flags);
    }

    private static int At(uint value, int bound) => bound <= 0 ? 0 : (int)(value % (uint)bound);

    private static bool[] Mask(int n, uint b, uint c)
    {
        if ((b & 1) == 0) return Pattern(n, c);
        var mask = new bool[n];
        for (var i = At(c, 50); i < n; i += 1 + At(b, 3000)) mask[i] = true;
        return mask;
    }

    /// <summary>Stretches that are all in, all out, or at random.</summary>
    private static bool[] Pattern(int n, uint seed)
    {
        var random = new Random((int)seed);
        var flags = new bool[n];
        for (var at = 0; at < n;)
        {
            var here = Math.Min(n - at, 1 + random.Next(random.Next(2) == 0 ? 40 : 30_000));
            var kind = random.Next(4);
            for (var i = 0; i < here; i++)
                flags[at + i] = kind switch { 0 => false, 1 => true, 2 => random.Next(2) == 0, _ => random.Next(500) == 0 };
            at += here;
        }
        return flags;
    }

    [Fact]
    public void The_largest_uniform_sets_cost_nothing_and_count_right()
    {
        var all = ItemSet.All(int.MaxValue);
        Assert.Equal(int.MaxValue, all.Count);
        Assert.Equal(int.MaxValue - 1, all.Nth(int.MaxValue - 1));
        Assert.True(all.Complement().IsEmpty);
        var split = all.WithRange(1_000_000_000, 1_000_000, false).Toggle(5);
        split.CheckInvariants();
        Assert.Equal(int.MaxValue - 1_000_001, split.Count);
        Assert.Equal(1_001_000_000, split.Nth(999_999_999));
        Assert.Equal(new SetWindow(5, 1_000_999_995, 1_000_999_995), split.DifferenceFrom(all));
        Assert.Equal(2, all.Except(split).Ranges().Count());
        Assert.Equal(new ItemRange(1_000_000_000, 1_000_000), all.Except(split).Ranges().Last());
        var before = GC.GetAllocatedBytesForCurrentThread();
        ItemSet.All(int.MaxValue);
        Assert.True(GC.GetAllocatedBytesForCurrentThread() - before <= 128);
    }

    [Fact]
    public void Edits_allocate_little_and_results_equal_to_an_input_are_that_input()
    {
        const int n = 10_000_000;
        var random = new Random(7);
        var set = ItemSet.Where(n, _ => random.Next(2) == 0);
        set.Toggle(3);
        var before = GC.GetAllocatedBytesForCurrentThread();
        var toggled = set.Toggle(n / 2);
        Assert.InRange(GC.GetAllocatedBytesForCurrentThread() - before, 1, 4096);
        Assert.Same(set, set.Union(set.With(set.Nth(9), false)));
        Assert.Same(set, set.Intersect(ItemSet.All(n)));
        Assert.Same(set, set.Except(ItemSet.None(n)));
        Assert.Equal([n / 2], toggled.SymmetricExcept(set));
    }

    [Fact]
    public void It_answers_as_any_set_of_the_base_library()
    {
        (string Name, Func<IReadOnlySet<int>, IEnumerable<int>, bool> Ask)[] questions =
        [
            ("subset", (s, o) => s.IsSubsetOf(o)), ("proper subset", (s, o) => s.IsProperSubsetOf(o)),
            ("superset", (s, o) => s.IsSupersetOf(o)), ("proper superset", (s, o) => s.IsProperSupersetOf(o)),
            ("overlaps", (s, o) => s.Overlaps(o)), ("equals", (s, o) => s.SetEquals(o)),
            ("contains", (s, o) => s.Contains(o.DefaultIfEmpty(-1).Min())),
        ];
        var answers = new System.Collections.Concurrent.ConcurrentDictionary<(string, bool, bool), int>();
        Gen.Select(Gen.Bool.Array[0, 6], Gen.Int[-2, 7].Array[0, 8], Gen.Bool).Sample((members, other, isSet) =>
        {
            var n = members.Length;
            int[] mine = [.. Enumerable.Range(0, n).Where(i => members[i])],
                others = isSet ? [.. other.Where(i => i >= 0 && i < n)] : other;
            foreach (var (name, ask) in questions)
            {
                var right = ask(new HashSet<int>(mine), others);
                answers.AddOrUpdate((name, right, isSet), 1, (_, count) => count + 1);
                Assert.Equal(right, ask(ItemSet.Of(n, mine), isSet ? ItemSet.Of(n, others) : others));
            }
        }, iter: Effort.Of(20_000));
        Assert.Equal(questions.Length * 4, answers.Count);
    }

    [Fact]
    public void Wrong_arguments_are_named_with_what_would_be_right()
    {
        var set = ItemSet.Of(10, 1, 2, 7);
        Assert.Equal("3 of 10: 1-2, 7", set.ToString());
        Assert.Contains("0 to 9", Assert.Throws<ArgumentOutOfRangeException>(() => set.Contains(10)).Message);
        Assert.Contains("0 to 9", Assert.Throws<ArgumentOutOfRangeException>(() => set.Toggle(-1)).Message);
        Assert.Contains("0 to 2", Assert.Throws<ArgumentOutOfRangeException>(() => set.Nth(3)).Message);
        Assert.Contains("no items", Assert.Throws<ArgumentOutOfRangeException>(() => ItemSet.None(0).Contains(0)).Message);
        Assert.Contains("over 11 items, this one over 10", Assert.Throws<ArgumentException>(() => set.Union(ItemSet.None(11))).Message);
        Assert.Throws<ArgumentOutOfRangeException>(() => set.WithRange(5, 6));
        Assert.Throws<ArgumentOutOfRangeException>(() => set.Splice(0, 11, 0));
        Assert.Throws<ArgumentOutOfRangeException>(() => ItemSet.All(int.MaxValue).Splice(0, 0, 1));
        Assert.Throws<ArgumentOutOfRangeException>(() => set.Move(ItemSet.None(10), 11));
        Assert.Throws<ArgumentOutOfRangeException>(() => set.Remap([10]));
        Assert.Throws<ArgumentException>(() => set.CopyTo(new int[2]));
        Assert.Throws<ArgumentException>(() => ItemSet.FromWords([0], 65));
    }
}
