using System.Collections.ObjectModel;
using System.Diagnostics;
using Lectica.Acts;
using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;

namespace Lectica.Bench;

/// <summary>The figures of sets, the store and input.</summary>
internal sealed class Figures(int n) : FigureTable
{
    private readonly Random _random = new(1);

    public string Run()
    {
        var flat = Flat.Random(n, 5);
        var flat2 = Flat.Random(n, 6);
        var half = ItemSet.FromWords(flat, n);
        var half2 = ItemSet.FromWords(flat2, n);
        var places = Enumerable.Range(0, 4096).Select(_ => _random.Next(n)).ToArray();
        var at = 0;
        int Next() => places[at++ & 4095];

        Ratio("intersect, leaves in line, against a flat loop", 1.5, 1, () => half.Intersect(half2), 1,
            () => Flat.CountAnd(flat, flat2, out _));
        Ratio("union, leaves in line, against a flat loop", 1.5, 1, () => half.Union(half2), 1, () => Flat.CountOr(flat, flat2, out _));
        Ratio("except, leaves in line, against a flat loop", 1.5, 1, () => half.Except(half2), 1,
            () => Flat.CountExcept(flat, flat2, out _));
        ItemSet spliced = half, spliced2 = half2;
        for (var i = 0; i < 5000; i++)
        {
            var here = _random.Next(n - 20);
            spliced = spliced.Splice(here, 3, 4).Splice(n - 10 - (i % 1000), 1, 0);
            here = _random.Next(n - 20);
            spliced2 = spliced2.Splice(here, 2, 5).Splice(n - 10 - (i % 1000), 3, 0);
        }
        Ratio("intersect after 5,000 splices each, against a flat loop", 2.5, 1, () => spliced.Intersect(spliced2), 1,
            () => Flat.CountAnd(flat, flat2, out _));
        Ratio("union after 5,000 splices each, against a flat loop", 2.5, 1, () => spliced.Union(spliced2), 1,
            () => Flat.CountOr(flat, flat2, out _));
        Ratio("except after 5,000 splices each, against a flat loop", 2.5, 1, () => spliced.Except(spliced2), 1,
            () => Flat.CountExcept(flat, flat2, out _));

        var shifted = (ulong[])flat.Clone();
        Faster("insert a row at the front, against shifting a flat bitmap", 80, 1000, () => half.Splice(0, 0, 1), 1,
            () => Flat.ShiftUp(shifted));
        Faster("remove a row at the front, against shifting a flat bitmap", 80, 1000, () => half.Splice(0, 1, 0), 1,
            () => Flat.ShiftUp(shifted));

        var ranks = places.Select(p => (int)((long)p * half.Count / n)).ToArray();
        Under("contains", 60, "ns", 1e9 / places.Length, 100, () =>
        {
            var found = 0;
            foreach (var i in places) found += half.Contains(i) ? 1 : 0;
            return found;
        });
        Under("rank", 100, "ns", 1e9 / places.Length, 100, () =>
        {
            long sum = 0;
            foreach (var i in places) sum += half.Rank(i);
            return sum;
        });
        Under("nth", 100, "ns", 1e9 / places.Length, 100, () =>
        {
            long sum = 0;
            foreach (var r in ranks) sum += half.Nth(r);
            return sum;
        });

        Ratio("enumerate the selected by foreach, against a trailing-zero loop", 1.3, 1, () => Sum(half), 1, () => Flat.Sum(flat));
        var target = new int[half.Count];
        Ratio("copy the selected to an array, against the same loop", 0.8, 1,
            () => half.CopyTo(target), 1, () => Flat.CopyTo(flat, target));

        var near = half.Toggle(n / 3);
        Faster("union of two versions one toggle apart, against a flat loop", 100, 1000, () => half.Union(near), 1,
            () => Flat.CountOr(flat, flat2, out _));
        Under("difference of two versions one toggle apart", 2, "µs", 1e6, 1000, () => near.DifferenceFrom(half));
        Under("what joined and what left, of two versions one toggle apart, as sets", 5, "µs", 1e6, 1000,
            () => (near.Except(half), half.Except(near)));
        var moved = half.Splice(n / 3, 1, 2);
        Under("difference of two versions one splice apart", 5, "µs", 1e6, 1000, () => moved.DifferenceFrom(half));

        Memory("memory with half selected at random", 1.20, half);
        var worn = half;
        for (var i = 0; i < n / 100; i++)
            worn = worn.Splice(_random.Next(worn.Universe - 8), _random.Next(8), _random.Next(8), _random.Next(2) == 0);
        Memory("memory after n/100 random splices", 1.30, worn);

        var scattered = ItemSet.Of(n, Enumerable.Range(0, 1000).Select(_ => _random.Next(n)));
        Under("1,000 scattered items to one gap", 0.7, "ms", 1e3, 1, () => half.Move(scattered, n / 2));

        var small = ItemSet.FromWords(Flat.Random(n / 10, 7), n / 10);
        Ratio($"a toggle at {n:N0} against {n / 10:N0} items", 2.5, 1000, () => half.Toggle(Next()), 1000, () => small.Toggle(Next() / 10));
        Ratio($"a splice at {n:N0} against {n / 10:N0} items", 2.5, 1000, () => half.Splice(Next(), 0, 1), 1000,
            () => small.Splice(Next() / 10, 0, 1));
        Bytes("allocated by a toggle", 4096, () => half.Toggle(Next()));
        Bytes("allocated by a splice", 4096, () => half.Splice(Next(), 0, 1));

        // Last, since it fills the heap and the caches with what is compared with.
        var filled = Time(1, () => Fill(n));
        Absolute("select all", "filling a HashSet", 1_000_000, filled, Time(1000, () => ItemSet.All(n)), "× faster");
        Absolute("clear", "filling a HashSet", 1_000_000, filled, Time(1000, () => ItemSet.None(n)), "× faster");
        Absolute("complement", "filling a HashSet", 1_000_000, filled, Time(1000, () => half.Complement()), "× faster");
        Ratio("select all of 100 M items against 1,000", 2, 10_000, () => ItemSet.All(100_000_000), 10_000, () => ItemSet.All(1000));
        Absolute("select a range of n/2", "filling a HashSet with it", 20_000, Time(1, () => Fill(n / 2)),
            Time(200, () => half.WithRange(n / 4 + 7, n / 2)), "× faster");

        var set = Fill(n, half);
        Ratio("toggle one, the old version still valid, against HashSet add or remove", 10, 1000, () => half.Toggle(Next()), 1000,
            () => Flip(set, Next()));
        var batch = half.ToBatch();
        Ratio("toggle one in a batch, against HashSet add or remove", 4, 10_000, () => batch.Toggle(Next()), 10_000,
            () => Flip(set, Next()));
        set = null!;

        Lists();
        return Table;
    }

    /// <summary>The shell and the store, at a million items.</summary>
    private void Lists()
    {
        const int million = 1_000_000;
        var numbers = Enumerable.Range(0, million).ToArray();
        var names = numbers.Select(i => $"R{i:0000000}").ToArray();
        Under("open a list over 1,000,000 items, keys (int) checked", 150, "ms", 1e3, 1, () => InteractiveList.Of(numbers, i => i));
        Under("open a list over 1,000,000 items, keys (string) checked", 150, "ms", 1e3, 1, () => InteractiveList.Of(names, s => s));
        Under("open a list over 1,000,000 items, keys unchecked", 5, "ms", 1e3, 1,
            () => InteractiveList.Of(numbers, i => i, new() { ChecksKeys = false }));

        var source = new ObservableCollection<int>(numbers);
        var live = InteractiveList.Of(source, i => i);
        for (var i = 0; i < 50_000; i++)
        {
            // At the back half, where the collection itself is quick.
            source.RemoveAt(source.Count - 1 - _random.Next(20_000));
            source.Insert(source.Count - _random.Next(20_000), million + i);
        }
        Under("key to index after 100,000 random edits at 1,000,000 items", 5, "µs", 1e6, 1000,
            () => live.IndexOf(numbers[_random.Next(million / 2)]));

        var changed = names.ToList();
        for (var i = 0; i < 500; i++)
        {
            changed.RemoveAt(_random.Next(changed.Count));
            changed.Insert(_random.Next(changed.Count), $"new {i}");
        }
        var list = InteractiveList.Of(names, s => s);
        IReadOnlyList<string>[] both = [changed, names];
        var turn = 0;
        Under("a snapshot of 1,000,000 keys (string) with 1,000 changes", 200, "ms", 1e3, 1, () => list.Show(both[turn++ & 1]));

        var filtered =
            InteractiveList.Of(Enumerable.Range(0, n).ToArray(), i => i, new() { ChecksKeys = false, Mode = SelectionMode.Multiple });
        filtered.Filter = i => i % 3 != 0;
        filtered.Sections = new(i => (i % 7) switch { 0 => "dusk", 1 or 2 => "dawn", _ => "night" });
        filtered.SelectionChanged += (_, _) => turn++;
        double time = 0;
        Under($"tap to selection-changed at {n:N0} items, filter and 3 sections on", 20, "µs", 1e6, 100, () =>
        {
            time += 1000;
            var y = 40 + _random.Next(460);
            filtered.Take(PointerSample.Down(PointerType.Mouse, 100, y, time));
            filtered.Take(PointerSample.Up(PointerType.Mouse, 100, y, time + 50));
        });
        Grabs(million);

        filtered.Take(PointerSample.Down(PointerType.Touch, 100, 100, time += 1000));
        Under("a pointer-move sample through the list, no row crossed", 1, "µs", 1e6, 10_000,
            () => filtered.Take(PointerSample.Move(PointerType.Touch, 101 + (turn++ % 5), 100, time)));
        var recogniser = new Gestures.Recogniser(Gestures.Thresholds.Default);
        var gestures = new List<Gestures.Gesture>(8);
        var swipes = new Swipes(filtered.Plane);
        recogniser.Take(PointerSample.Down(PointerType.Touch, 100, 100, 0), swipes, gestures);
        recogniser.Take(PointerSample.Move(PointerType.Touch, 150, 100, 5), swipes, gestures);
        Under("a move sample of a running swipe in recognition", 1, "µs", 1e6, 10_000, () => MoveOn(recogniser, swipes, gestures, turn++));
        Bytes("allocated by a move sample of a running swipe in recognition", 0, () => MoveOn(recogniser, swipes, gestures, turn++));
        Bytes("allocated by a pointer-move sample through the list", 0,
            () => filtered.Take(PointerSample.Move(PointerType.Touch, 101 + (turn++ % 5), 100, time)));
    }

    /// <summary>
    /// A thousand of a million rows are taken up, carried over the rows in view by a thousand samples, and dropped: by the list in its
    /// source, or by request.
    /// </summary>
    private void Grabs(int count)
    {
        foreach (var asks in (bool[])[false, true])
        {
            var source = Enumerable.Range(0, count).ToList();
            using var list = InteractiveList.Of(source, i => i,
                new() { Mode = SelectionMode.Multiple, MayMove = true, Parts = new() { Handle = true }, ChecksKeys = false });
            if (asks) list.MoveRequested += (_, _) => { };
            var scattered = new Random(4);
            list.SelectOnly(ItemSet.Of(count, Enumerable.Range(0, 1000).Select(_ => scattered.Next(count))));
            var clock = 0.0;
            var times = new double[15];
            for (var round = -3; round < times.Length; round++)
            {
                list.Reveal(list.SelectedKeys[(round + 3) * 50]);
                var y = list.Frame.Rows.First(r => r.IsSelected).Top + 20;
                var watch = Stopwatch.StartNew();
                list.Take(PointerSample.Down(PointerType.Touch, 380, y, clock += 1000));
                for (var i = 0; i < 1000; i++) list.Take(PointerSample.Move(PointerType.Touch, 380, 60 + (i * 7 % 400), clock += 8));
                list.Take(PointerSample.Up(PointerType.Touch, 380, 300, clock += 8));
                if (round >= 0) times[round] = watch.Elapsed.TotalMilliseconds;
                // Scattered again for the next time.
                if (!list.Undo().IsHandled) throw new InvalidOperationException("The drop was not a move.");
            }
            var time = Median(times);
            Add($"grab, 1,000 hovers and drop, 1,000 of {count:N0} rows, {(asks ? "the app asked" : "the source moved")}",
                $"{Number(time)} ms", "under 50.0 ms", time < 50);
        }
    }

    private static void MoveOn(Gestures.Recogniser recogniser, Swipes field, List<Gestures.Gesture> gestures, int turn)
    {
        gestures.Clear();
        recogniser.Take(PointerSample.Move(PointerType.Touch, 150 + (turn % 50), 100, 10 + turn), field, gestures);
    }

    private sealed class Swipes(Layout.RowPlane plane) : Gestures.IGestureField
    {
        public Layout.Hit HitAt(double x, double y) => plane.HitAt(x, y);

        public bool Wants(Gestures.GestureKind kind, PointerType pointer, Layout.Hit hit, Modifiers modifiers) =>
            kind == Gestures.GestureKind.Swipe;
    }

    private static HashSet<int> Fill(int count)
    {
        var set = new HashSet<int>();
        for (var i = 0; i < count; i++) set.Add(i);
        return set;
    }

    private static HashSet<int> Fill(int n, ItemSet members)
    {
        var set = new HashSet<int>(n);
        foreach (var i in members) set.Add(i);
        return set;
    }

    private static void Flip(HashSet<int> set, int i)
    {
        if (!set.Remove(i)) set.Add(i);
    }

    private static long Sum(ItemSet set)
    {
        long sum = 0;
        foreach (var i in set) sum += i;
        return sum;
    }
}
