using System.Collections.ObjectModel;
using System.Collections.Specialized;
using CsCheck;
using Lectica.Acts;
using Lectica.Items;

namespace Lectica.Tests.Lists;

/// <summary>Items that are brought in by slices: as if all had been there from the beginning, whatever is done between.</summary>
public sealed class FillTests
{
    private sealed record Plate(int Number)
    {
        public bool IsDone { get; set; } = Number % 5 == 1;
    }

    private static InteractiveList<Plate, int> Open(IReadOnlyList<Plate> plates) =>
        InteractiveList.Of(plates, p => p.Number, new() { Mode = SelectionMode.Multiple, Phrases = Phrases.English });

    private static IEnumerable<Plate> Plates(int from, int to) => Enumerable.Range(from, to - from).Select(i => new Plate(i));

    private static bool Step<TItem, TKey>(InteractiveList<TItem, TKey> list) where TKey : notnull
    {
        if (!list.IsFilling) return false;
        list.Advance(list.NextDeadline!.Value);
        return true;
    }

    [Fact]
    public void What_is_filled_between_acts_is_as_what_was_there_at_first()
    {
        int between = 0, ended = 0;
        Gen.Select(Gen.Int[0, 300], Gen.Int[0, 9000], Gen.Bool, Gen.Bool, Gen.Bool, Gen.Bool, Gen.Int[0, 8].Array[0, 12]).Sample(
            (first, count, live, filtered, sectioned, sorted, acts) =>
            {
                void Set(InteractiveList<Plate, int> list)
                {
                    list.Marks = [new("done") { Get = p => p.IsDone, Set = (p, on) => p.IsDone = on }];
                    if (filtered) list.Filter = p => p.Number % 7 != 3;
                    if (sectioned) list.Sections = new(p => $"{p.Number % 3}");
                    if (sorted) list.SortBy = (a, b) => b.Number.CompareTo(a.Number);
                }
                var plates = Plates(0, first + count).ToArray();
                IList<Plate> source = live ? new ObservableCollection<Plate>(plates[..first]) : plates[..first].ToList();
                using InteractiveList<Plate, int> list = Open((IReadOnlyList<Plate>)source), all = Open([.. plates]);
                Set(list);
                Set(all);
                var told = new List<string?>();
                list.PropertyChanged += (_, e) => told.Add(e.PropertyName);
                Assert.True(list.Fill(plates.Skip(first)).IsHandled);
                foreach (var act in acts)
                {
                    if (list.IsFilling) between++;
                    if (list.Count > 0)
                    {
                        var key = list.KeyAt(act * 31 % list.Count);
                        if (act < 4)
                        {
                            list.Toggle(key);
                            all.Toggle(key);
                        }
                        else if (act < 6)
                        {
                            list.ToggleMarkOf("done", [key]);
                            // The item is the same one: the other list only has to look again.
                            all.Refresh(key);
                        }
                    }
                    Step(list);
                }
                while (Step(list)) { }
                ended += told.Contains("IsFilling") ? 1 : 0;
                Assert.Equal(plates, source);
                Assert.Equal(all.Shown, list.Shown);
                Assert.Equal(all.SelectedKeys.Order(), list.SelectedKeys.Order());
                Assert.Equal(all.Marked("done"), list.Marked("done"));
                Assert.Equal(all.RowCount, list.RowCount);
                Assert.Equal(all.ObservableRows().Select(r => r.Key), list.ObservableRows().Select(r => r.Key));
                Assert.False(list.CanUndo && acts.All(a => a is >= 6));
            }, iter: Effort.Of(150));
        if (!Effort.IsFull) return;
        Assert.True(between > 100 && ended > 50, $"{between} acts in between, {ended} told of");
    }

    [Fact]
    public void What_ends_it_leaves_what_has_come_and_is_told()
    {
        var plates = Plates(0, 3).ToList();
        using var list = Open(plates);
        var why = new List<string>();
        list.Refused += (_, e) => why.Add(e.Refusal.Reason);

        // The app's own failure: those before it are in.
        IEnumerable<Plate> Torn()
        {
            foreach (var plate in Plates(3, 700)) yield return plate;
            throw new IOException("the tape is torn");
        }
        Assert.True(list.Fill(Torn()).IsHandled);
        Assert.Equal(RefusalKind.Running, list.Fill([]).Refusal?.Kind);
        while (Step(list)) { }
        Assert.Equal(700, list.Count);
        Assert.Contains("the tape is torn", why[^1], StringComparison.Ordinal);

        // A key that is taken: its slice is not in.
        list.Fill([.. Plates(700, 720), new Plate(5)]);
        while (Step(list)) { }
        Assert.Equal((700, 700, false), (list.Count, plates.Count, list.IsFilling));
        Assert.Contains("'5'", why[^1], StringComparison.Ordinal);

        // Another source.
        list.Fill(Plates(700, 5000));
        list.Show(Plates(0, 10).ToList());
        while (Step(list)) { }
        Assert.Equal(10, list.Count);
        Assert.Contains("another source", why[^1], StringComparison.Ordinal);

        // Enough.
        using var enough = new CancellationTokenSource();
        list.Fill(Plates(10, 100_000), enough.Token);
        var had = list.Count;
        enough.Cancel();
        while (Step(list)) { }
        Assert.Equal((had, 3), (list.Count, why.Count(w => !w.StartsWith("The list is being filled", StringComparison.Ordinal))));

        // What cannot be written takes nothing.
        using var fixedList = Open(Plates(0, 3).ToArray());
        Assert.Equal(RefusalKind.NotAvailable, fixedList.Fill(Plates(3, 9)).Refusal?.Kind);
    }

    /// <summary>A collection that tells of many changes at once.</summary>
    private sealed class Crowd(IEnumerable<int> items) : ObservableCollection<int>(items)
    {
        public void Come(int at, int[] items)
        {
            ((List<int>)Items).InsertRange(at, items);
            OnCollectionChanged(new(NotifyCollectionChangedAction.Add, items, at));
        }

        public void Go(int at, int count)
        {
            var gone = Items.Skip(at).Take(count).ToArray();
            ((List<int>)Items).RemoveRange(at, count);
            OnCollectionChanged(new(NotifyCollectionChangedAction.Remove, gone, at));
        }
    }

    [Fact]
    public void Thousands_that_come_and_go_at_once_stand_where_the_source_has_them()
    {
        int come = 0, gone = 0, ends = 0;
        Gen.Select(Gen.Int[0, 2000], Gen.Select(Gen.Int[0, 3], Gen.Double[0, 1], Gen.Int[1, 4000]).Array[1, 9]).Sample((first, steps) =>
        {
            var crowd = new Crowd(Enumerable.Range(0, first));
            using var list = InteractiveList.Of(crowd, i => i, new() { Mode = SelectionMode.Multiple });
            var next = first;
            foreach (var (what, where, many) in steps)
            {
                var at = (int)(where * crowd.Count);
                if (what == 3 && crowd.Count > 0) crowd.Move(Math.Min(at, crowd.Count - 1), many % crowd.Count);
                else if (what == 2)
                {
                    var count = Math.Min(many, crowd.Count - at);
                    if (count == 0) continue;
                    if (count > 1024) gone++;
                    crowd.Go(at, count);
                }
                else
                {
                    if (what == 1) at = crowd.Count;
                    if (many > 1024 && at < crowd.Count) come++;
                    if (many > 1024 && at == crowd.Count) ends++;
                    crowd.Come(at, [.. Enumerable.Range(next, many)]);
                    next += many;
                }
                Assert.Equal(crowd.Count, list.Count);
                for (var i = 0; i < crowd.Count; i += 1 + (crowd.Count / 400))
                {
                    Assert.Equal(crowd[i], list[i]);
                    Assert.Equal(i, list.IndexOf(crowd[i]));
                }
            }
        }, iter: Effort.Of(300));
        if (!Effort.IsFull) return;
        Assert.True(come > 50 && gone > 50 && ends > 50, $"{come} times thousands came amid others, {ends} times at the end, {gone} went");
    }

    [Fact]
    public void What_the_app_throws_at_any_item_loses_none_and_the_rest_still_comes()
    {
        var thrown = 0;
        foreach (var at in (int[])[0, 1, 255, 256, 300, 999])
        {
            var plates = new List<Plate>();
            using var list = Open(plates);
            var asked = 0;
            list.Filter = _ => asked++ == at ? throw new InvalidOperationException("no filter today") : true;
            void Try(Action act)
            {
                try
                {
                    act();
                }
                catch (InvalidOperationException e) when (e.Message == "no filter today")
                {
                    thrown++;
                }
            }
            Try(() => list.Fill(Plates(0, 1000)));
            for (var i = 0; i < 10_000 && list.IsFilling; i++) Try(() => list.Advance(list.NextDeadline!.Value));
            Assert.Equal((1000, 1000, false), (list.Count, plates.Count, list.IsFilling));
            Assert.True(list.Fill(Plates(1000, 1001)).IsHandled);
        }
        Assert.Equal(6, thrown);
    }

    [Fact]
    public void A_list_that_goes_lets_the_rest_go()
    {
        var let = false;
        IEnumerable<Plate> Rest()
        {
            try
            {
                foreach (var plate in Plates(0, 100_000)) yield return plate;
            }
            finally
            {
                let = true;
            }
        }
        using (var list = Open(new List<Plate>()))
        {
            list.Fill(Rest());
            Assert.InRange(list.Count, 1, 99_999);
            Assert.False(let);
        }
        Assert.True(let);
    }
}
