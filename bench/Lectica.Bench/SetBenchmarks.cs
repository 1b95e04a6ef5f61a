using BenchmarkDotNet.Attributes;
using BenchmarkDotNet.Configs;
using Lectica.Items;

namespace Lectica.Bench;

/// <summary>ItemSet at 10,000,000 items, half of them members at random; each group against what it is compared with.</summary>
[MemoryDiagnoser]
[GroupBenchmarksBy(BenchmarkLogicalGroupRule.ByCategory)]
[CategoriesColumn]
public class SetBenchmarks
{
    private const int Loops = 1000;

    /// <summary>How many items.</summary>
    [Params(10_000_000)]
    public int N { get; set; }

    private ulong[] _flat = [], _flat2 = [];
    private ItemSet _half = ItemSet.None(0), _half2 = ItemSet.None(0), _near = ItemSet.None(0), _moved = ItemSet.None(0),
        _scattered = ItemSet.None(0);
    private ItemSet _spliced = ItemSet.None(0), _spliced2 = ItemSet.None(0);
    private HashSet<int> _hash = [];
    private ItemSetBatch _batch = ItemSet.None(0).ToBatch();
    private int[] _places = [], _target = [];

    /// <summary>Makes the sets.</summary>
    [GlobalSetup]
    public void Setup()
    {
        var random = new Random(1);
        (_flat, _flat2) = (Flat.Random(N, 5), Flat.Random(N, 6));
        (_half, _half2) = (ItemSet.FromWords(_flat, N), ItemSet.FromWords(_flat2, N));
        (_near, _moved) = (_half.Toggle(N / 3), _half.Splice(N / 3, 1, 2));
        _scattered = ItemSet.Of(N, Enumerable.Range(0, 1000).Select(_ => random.Next(N)));
        (_spliced, _spliced2) = (_half, _half2);
        for (var i = 0; i < 5000; i++)
        {
            _spliced = _spliced.Splice(random.Next(N - 20), 3, 4).Splice(N - 10 - (i % 1000), 1, 0);
            _spliced2 = _spliced2.Splice(random.Next(N - 20), 2, 5).Splice(N - 10 - (i % 1000), 3, 0);
        }
        _hash = new(N);
        foreach (var i in _half) _hash.Add(i);
        _batch = _half.ToBatch();
        _places = [.. Enumerable.Range(0, Loops).Select(_ => random.Next(N))];
        _target = new int[_half.Count];
    }

#pragma warning disable CS1591 // The names say it.
    [Benchmark(Baseline = true), BenchmarkCategory("select all")]
    public HashSet<int> FillHashSet()
    {
        var set = new HashSet<int>();
        for (var i = 0; i < N; i++) set.Add(i);
        return set;
    }

    [Benchmark, BenchmarkCategory("select all")]
    public ItemSet All() => ItemSet.All(N);

    [Benchmark, BenchmarkCategory("select all")]
    public ItemSet Complement() => _half.Complement();

    [Benchmark, BenchmarkCategory("select all")]
    public ItemSet Range() => _half.WithRange(N / 4 + 7, N / 2);

    [Benchmark(Baseline = true, OperationsPerInvoke = Loops), BenchmarkCategory("toggle")]
    public void ToggleHashSet()
    {
        foreach (var i in _places)
            if (!_hash.Remove(i)) _hash.Add(i);
    }

    [Benchmark(OperationsPerInvoke = Loops), BenchmarkCategory("toggle")]
    public ItemSet Toggle()
    {
        var set = _half;
        foreach (var i in _places) set = set.Toggle(i);
        return set;
    }

    [Benchmark(OperationsPerInvoke = Loops), BenchmarkCategory("toggle")]
    public void ToggleInBatch()
    {
        foreach (var i in _places) _batch.Toggle(i);
    }

    [Benchmark(Baseline = true), BenchmarkCategory("insert at the front")]
    public void ShiftFlat() => Flat.ShiftUp(_flat2);

    [Benchmark, BenchmarkCategory("insert at the front")]
    public ItemSet InsertFront() => _half.Splice(0, 0, 1);

    [Benchmark, BenchmarkCategory("insert at the front")]
    public ItemSet RemoveFront() => _half.Splice(0, 1, 0);

    [Benchmark(OperationsPerInvoke = Loops), BenchmarkCategory("look-ups")]
    public int Contains()
    {
        var n = 0;
        foreach (var i in _places) n += _half.Contains(i) ? 1 : 0;
        return n;
    }

    [Benchmark(OperationsPerInvoke = Loops), BenchmarkCategory("look-ups")]
    public int Rank()
    {
        var n = 0;
        foreach (var i in _places) n ^= _half.Rank(i);
        return n;
    }

    [Benchmark(OperationsPerInvoke = Loops), BenchmarkCategory("look-ups")]
    public int Nth()
    {
        var n = 0;
        foreach (var i in _places) n ^= _half.Nth(i / 3);
        return n;
    }

    [Benchmark(Baseline = true), BenchmarkCategory("enumerate")]
    public long FlatLoop() => Flat.Sum(_flat);

    [Benchmark, BenchmarkCategory("enumerate")]
    public long Foreach()
    {
        long sum = 0;
        foreach (var i in _half) sum += i;
        return sum;
    }

    [Benchmark, BenchmarkCategory("enumerate")]
    public void CopyTo() => _half.CopyTo(_target);

    [Benchmark(Baseline = true), BenchmarkCategory("combine")]
    public int FlatAnd() => Flat.CountAnd(_flat, _flat2, out _);

    [Benchmark, BenchmarkCategory("combine")]
    public ItemSet Intersect() => _half.Intersect(_half2);

    [Benchmark, BenchmarkCategory("combine")]
    public ItemSet Union() => _half.Union(_half2);

    [Benchmark, BenchmarkCategory("combine")]
    public ItemSet Except() => _half.Except(_half2);

    [Benchmark, BenchmarkCategory("combine")]
    public ItemSet IntersectSpliced() => _spliced.Intersect(_spliced2);

    [Benchmark, BenchmarkCategory("combine")]
    public ItemSet UnionOneToggleApart() => _half.Union(_near);

    [Benchmark, BenchmarkCategory("versions")]
    public int DifferenceOneToggleApart() => _near.DifferenceFrom(_half).NewLength;

    [Benchmark, BenchmarkCategory("versions")]
    public int DifferenceOneSpliceApart() => _moved.DifferenceFrom(_half).NewLength;

    [Benchmark, BenchmarkCategory("move")]
    public ItemSet ThousandScatteredToOneGap() => _half.Move(_scattered, N / 2);
}
