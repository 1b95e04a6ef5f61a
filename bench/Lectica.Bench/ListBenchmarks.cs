using BenchmarkDotNet.Attributes;
using Lectica.Acts;
using Lectica.Input;

namespace Lectica.Bench;

/// <summary>The list itself: opening, snapshots, and a tap.</summary>
[MemoryDiagnoser]
public class ListBenchmarks
{
    private readonly int[] _numbers = [.. Enumerable.Range(0, 1_000_000)];
    private string[] _names = [];
    private List<string> _changed = [];
    private InteractiveList<string, string> _list = InteractiveList.Of(Array.Empty<string>(), s => s);
    private InteractiveList<int, int> _filtered = InteractiveList.Of(Array.Empty<int>(), i => i);
    private double _time;
    private int _turn;

    /// <summary>Makes the lists.</summary>
    [GlobalSetup]
    public void Setup()
    {
        _names = [.. _numbers.Select(i => $"R{i:0000000}")];
        _changed = [.. _names];
        var random = new Random(1);
        for (var i = 0; i < 500; i++)
        {
            _changed.RemoveAt(random.Next(_changed.Count));
            _changed.Insert(random.Next(_changed.Count), $"new {i}");
        }
        _list = InteractiveList.Of(_names, s => s);
        _filtered = InteractiveList.Of(
            [.. Enumerable.Range(0, 10_000_000)], i => i, new() { ChecksKeys = false, Mode = SelectionMode.Multiple });
        _filtered.Filter = i => i % 3 != 0;
        _filtered.SelectionChanged += (_, _) => _turn++;
    }

#pragma warning disable CS1591 // The names say it.
    [Benchmark]
    public object OpenCheckedNumbers() => InteractiveList.Of(_numbers, i => i);

    [Benchmark]
    public object OpenCheckedNames() => InteractiveList.Of(_names, s => s);

    [Benchmark]
    public object OpenUnchecked() => InteractiveList.Of(_numbers, i => i, new() { ChecksKeys = false });

    [Benchmark]
    public void SnapshotWithThousandChanges() => _list.Show((_turn++ & 1) == 0 ? _changed : _names);

    [Benchmark(OperationsPerInvoke = 1000)]
    public void ThousandMoveSamples()
    {
        _filtered.Take(PointerSample.Down(PointerType.Touch, 100, 100, _time += 1000));
        for (var i = 0; i < 1000; i++) _filtered.Take(PointerSample.Move(PointerType.Touch, 101 + (i % 5), 100, _time));
        _filtered.Take(PointerSample.Up(PointerType.Touch, 100, 100, _time + 10));
    }

    [Benchmark]
    public void TapToSelectionChanged()
    {
        _time += 1000;
        _filtered.Take(PointerSample.Down(PointerType.Mouse, 100, _time / 10 % 500, _time));
        _filtered.Take(PointerSample.Up(PointerType.Mouse, 100, _time / 10 % 500, _time + 50));
    }
}
