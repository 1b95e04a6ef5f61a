using System.Diagnostics;
using System.Globalization;
using Lectica.Items;

namespace Lectica.Bench;

/// <summary>
/// Figures as a table: each piece of work against what it is compared with, in one process, by turns, the median of the ratios of
/// neighbouring samples. What takes under a microsecond is looped at least 100 times a sample.
/// </summary>
internal abstract class FigureTable
{
    private readonly List<string> _rows = [];

    protected string Table => string.Join("\n", ["| work | measured | to reach | |", "|---|---|---|---|", .. _rows]);

    /// <summary>Where results go, unboxed, so that no work is left out as unused.</summary>
    private static class Sink<T>
    {
        public static T? Last { get; set; }
    }

    protected static double Sample(int loops, Action work)
    {
        var start = Stopwatch.GetTimestamp();
        for (var i = 0; i < loops; i++) work();
        return Stopwatch.GetElapsedTime(start).TotalSeconds / loops;
    }

    protected static double Time<T>(int loops, Func<T> work) => Time(loops, () => { Sink<T>.Last = work(); });

    protected static double Time(int loops, Action work)
    {
        var start = Stopwatch.GetTimestamp();
        for (var i = 0; i < 3 || Stopwatch.GetElapsedTime(start).TotalSeconds < 0.5; i++) Sample(loops, work);
        return Median([.. Enumerable.Range(0, 15).Select(_ => Sample(loops, work))]);
    }

    protected static double Median(double[] values)
    {
        Array.Sort(values);
        return values[values.Length / 2];
    }

    protected static double ByTurns(int loops, Action work, int otherLoops, Action other)
    {
        // Until both are compiled for good: that goes on in the background, and begins when a method has been called often enough.
        var start = Stopwatch.GetTimestamp();
        for (var i = 0; i < 4 || Stopwatch.GetElapsedTime(start).TotalSeconds < 0.7; i++)
        {
            Sample(loops, work);
            Sample(otherLoops, other);
        }
        return Median([.. Enumerable.Range(0, 21).Select(_ => Sample(loops, work) / Sample(otherLoops, other))]);
    }

    protected void Ratio<T>(string what, double reach, int loops, Func<T> work, int otherLoops, Action other) =>
        Ratio(what, reach, loops, () => { Sink<T>.Last = work(); }, otherLoops, other);

    protected void Ratio<T, TOther>(string what, double reach, int loops, Func<T> work, int otherLoops, Func<TOther> other) =>
        Ratio(what, reach, loops, () => { Sink<T>.Last = work(); }, otherLoops, () => { Sink<TOther>.Last = other(); });

    protected void Ratio(string what, double reach, int loops, Action work, int otherLoops, Action other)
    {
        var ratio = ByTurns(loops, work, otherLoops, other);
        Add(what, $"{Number(ratio)} ×", $"at most {Number(reach)} ×", ratio <= reach);
    }

    protected void Faster<T>(string what, double reach, int loops, Func<T> work, int otherLoops, Action other)
    {
        var ratio = 1 / ByTurns(loops, () => { Sink<T>.Last = work(); }, otherLoops, other);
        Add(what, $"{Number(ratio)} × faster", $"{Number(reach)} × faster", ratio >= reach);
    }

    protected void Absolute(string what, string against, double reach, double other, double own, string unit) =>
        Add($"{what}, against {against}", $"{Number(other / own)} {unit}", $"{Number(reach)} {unit}", other / own >= reach);

    protected void Under<T>(string what, double reach, string unit, double scale, int loops, Func<T> work) =>
        Under(what, reach, unit, scale, loops, () => { Sink<T>.Last = work(); });

    protected void Under(string what, double reach, string unit, double scale, int loops, Action work)
    {
        var time = Time(loops, work) * scale;
        Add(what, $"{Number(time)} {unit}", $"under {Number(reach)} {unit}", time < reach);
    }

    protected void Memory(string what, double reach, ItemSet set)
    {
        // Measured: what a copy of the set keeps alive, made leaf by leaf so that it shares nothing.
        var members = set.ToWords();
        var shape = set.Universe;
        GC.KeepAlive(members);
        var before = Settled();
        var copy = Copy(set);
        var bits = (Settled() - before) * 8.0 / shape;
        GC.KeepAlive(set);
        GC.KeepAlive(copy);
        Add(what, $"{bits.ToString("0.000", CultureInfo.InvariantCulture)} bits an item",
            $"at most {reach.ToString("0.00", CultureInfo.InvariantCulture)}", bits <= reach);
    }

    protected static long Settled()
    {
        for (var i = 0; i < 3; i++)
        {
            GC.Collect(2, GCCollectionMode.Forced, blocking: true, compacting: true);
            GC.WaitForPendingFinalizers();
        }
        return GC.GetTotalMemory(false);
    }

    /// <summary>The same tree in memory of its own: toggling twice in a batch makes each leaf and node again.</summary>
    private static ItemSet Copy(ItemSet set)
    {
        var batch = set.ToBatch();
        for (var i = 0; i < set.Universe; i += 64)
        {
            batch.Toggle(i);
            batch.Toggle(i);
        }
        return batch.ToSet();
    }

    protected void Bytes<T>(string what, long reach, Func<T> work) => Bytes(what, reach, () => { Sink<T>.Last = work(); });

    protected void Bytes(string what, long reach, Action work)
    {
        work();
        var before = GC.GetAllocatedBytesForCurrentThread();
        for (var i = 0; i < 100; i++) work();
        var bytes = (GC.GetAllocatedBytesForCurrentThread() - before) / 100;
        Add(what, $"{bytes:N0} bytes", reach == 0 ? "none" : $"at most {reach:N0} bytes", bytes <= reach);
    }

    protected void Add(string what, string measured, string reach, bool reached)
    {
        var row = $"| {what} | {measured} | {reach} | {(reached ? "✓" : "**not reached**")} |";
        Console.Error.WriteLine(row);
        _rows.Add(row);
    }

    protected static string Number(double value) =>
        value >= 1000 ? value.ToString("#,0", CultureInfo.InvariantCulture)
        : value.ToString(value >= 10 ? "0.0" : "0.00", CultureInfo.InvariantCulture);
}
