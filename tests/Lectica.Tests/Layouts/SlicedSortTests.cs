using System.Collections.Concurrent;
using System.Collections.ObjectModel;
using CsCheck;
using Lectica.Layout;
using Lectica.Testing;
using Lectica.Tests.Lists;

namespace Lectica.Tests.Layouts;

/// <summary>A header that is pressed over very many rows: they are sorted in slices, and the list is usable and right meanwhile.</summary>
public sealed class SlicedSortTests(ITestOutputHelper output)
{
    /// <summary>A clock by which each slice is over as soon as it is looked at.</summary>
    private sealed class Hurried : TimeProvider
    {
        private long _now;

        public override long TimestampFrequency => 1000;

        public override long GetTimestamp() => _now += 100;
    }

    private sealed class Queue : SynchronizationContext
    {
        private readonly ConcurrentQueue<(SendOrPostCallback Do, object? State)> _posted = [];

        public override void Post(SendOrPostCallback d, object? state) => _posted.Enqueue((d, state));

        public bool RunNext()
        {
            if (!_posted.TryDequeue(out var next)) return false;
            next.Do(next.State);
            return true;
        }
    }

    private static Column<VariableStar>[] Columns(Action<VariableStar, VariableStar>? asked = null) =>
    [
        new("id", "Id", p => $"{p.Id}") { Compare = (a, b) => (a.Id % 100).CompareTo(b.Id % 100) },
        new("broken", "Broken", p => "") { Compare = (_, _) => throw new InvalidOperationException("No order.") },
        new("magnitude", "Magnitude", p => $"{p.Magnitude}")
        {
            Compare = (a, b) =>
            {
                asked?.Invoke(a, b);
                return a.Magnitude.CompareTo(b.Magnitude);
            },
        },
    ];

    // A list of very many that is called back by its host, or has a context; and what has it go on.
    private static InteractiveList<VariableStar, int> Open(ObservableCollection<VariableStar> source, Queue? queue, out Func<bool> goOn)
    {
        var before = SynchronizationContext.Current;
        SynchronizationContext.SetSynchronizationContext(queue);
        var list = InteractiveList.Of(source, p => p.Id, new() { Time = new Hurried(), Viewport = new(400, 400) });
        SynchronizationContext.SetSynchronizationContext(before);
        list.IsCalledBack = true;
        goOn = queue is not null ? queue.RunNext : () =>
        {
            if (list.NextDeadline is not { } due) return false;
            list.Advance(due);
            return true;
        };
        return list;
    }

    [Fact]
    public void It_ends_as_sorting_anew_would_whatever_comes_goes_or_changes_meanwhile()
    {
        var reached = new ConcurrentDictionary<string, int>();
        Gen.Select(Gen.Bool, Gen.Select(Gen.Int[0, 16], Gen.Int[0, 9999], Gen.Int[0, 9999]).Array[30]).Sample((hasContext, steps) =>
        {
            var fresh = 0;
            var stars = Enumerable.Range(0, 2100).Select(i => new VariableStar(fresh++, i * 7919 % 500));
            var source = new ObservableCollection<VariableStar>(stars);
            var queue = hasContext ? new Queue() : null;
            var context = SynchronizationContext.Current;
            SynchronizationContext.SetSynchronizationContext(queue);
            using var list = Open(source, queue, out var goOn);
            list.Columns = [.. Columns()];
            ColumnSort? sort = null, next = null;
            void Press(string column)
            {
                var now = next ?? sort;
                list.PressHeader(column);
                next = now?.Column != column ? new(column) : now.IsDescending ? null : new(column, true);
                if (next is null || next == sort || source.Count < 2000) (sort, next) = (next, null);
            }
            void Check()
            {
                Assert.Equal((sort, next?.Column), (list.Sort, list.Frame.Headers.SingleOrDefault(h => h.IsSorting)?.Name));
                var shown = source.Where(p => list.Filter?.Invoke(p) ?? true);
                if (list.SortBy is { } compare) shown = shown.Order(Comparer<VariableStar>.Create(compare));
                if (list.Sections is { } sections) shown = shown.OrderBy(p => sections.Order.ToList().IndexOf(sections.Of(p)));
                Assert.Equal(shown.Select(p => p.Id), list.Rows.InOrder().Select(i => list[i].Id));
            }
            Press("magnitude");
            Assert.Equal("magnitude", next?.Column);
            foreach (var (what, a, b) in steps)
            {
                var (wasUnderWay, at) = (next is not null, a % source.Count);
                switch (what)
                {
                    case 0:
                        source.Insert(a % (source.Count + 1), new(fresh++, b % 500));
                        break;
                    case 1:
                        source.RemoveAt(at);
                        break;
                    case 2:
                        source.Move(at, b % source.Count);
                        break;
                    case 3:
                        source[at].Magnitude = b % 500;
                        break;
                    case 4 when b % 2 == 0:
                        Press("magnitude");
                        break;
                    case 5 when b % 2 == 0:
                        Press("id");
                        break;
                    case 6:
                        list.Filter = b % 2 == 0 ? null : p => p.Magnitude % 3 != 0;
                        break;
                    case 7:
                        list.Sections = b % 2 == 0 ? null
                            : new(p => p.Magnitude < 250 ? "bright" : "faint") { Order = ["bright", "faint"] };
                        break;
                    case 8 when b % 3 == 0:
                        (list.SortBy, sort, next) = ((p, q) => q.Id.CompareTo(p.Id), null, null);
                        break;
                    case 9 when b % 3 == 0:
                        (list.Sort, sort, next) = (new("id", true), new("id", true), null);
                        break;
                    case 10 when b % 3 == 0:
                        (list.Columns, next) = ([.. Columns()], null);
                        break;
                    case 11 when b % 3 == 0:
                        list.Show(source = [.. source.Reverse().Where(p => p != source[at])]);
                        break;
                    default:
                        var goes = true;
                        for (var i = 0; i < b % 40 && goes; i++) goes = goOn();
                        if (next is null || list.Frame.Headers.Any(h => h.IsSorting)) continue;
                        (sort, next) = (next, null);
                        reached.AddOrUpdate("done", 1, (_, n) => n + 1);
                        Check();
                        continue;
                }
                Check();
                if (wasUnderWay) reached.AddOrUpdate($"{what:00}", 1, (_, n) => n + 1);
            }
            while (goOn())
            {
            }
            if (next is not null) (sort, next) = (next, null);
            Check();
            SynchronizationContext.SetSynchronizationContext(context);
        }, iter: Effort.Of(250));
        output.WriteLine(string.Join(", ", reached.OrderBy(r => r.Key).Select(r => $"{r.Key}: {r.Value:N0}")));
        if (!Effort.IsFull) return;
        Assert.True(reached.Count == 13 && reached.Values.All(n => n > 3), "some case was hardly met");
    }

    [Fact]
    public void Each_slice_is_short_it_is_told_once_and_what_throws_in_one_leaves_the_order_as_it_was()
    {
        var source = new ObservableCollection<VariableStar>(Enumerable.Range(0, 3000).Select(i => new VariableStar(i, i * 7919 % 3001)));
        using var list = Open(source, null, out var goOn);
        var (asked, fault, told) = (0, int.MaxValue, new List<string>());
        list.Columns = [.. Columns((a, b) =>
        {
            if (++asked > fault || a.Magnitude < 0 || b.Magnitude < 0) throw new InvalidOperationException("No such magnitude.");
        })];
        list.Announced += (_, e) => told.Add(e.Text);
        list.PressHeader("magnitude");
        var slices = 1;
        for (var before = asked; goOn(); before = asked, slices++)
            Assert.InRange(asked - before, 0, 2000);
        Assert.True(slices > 20, $"{slices} slices");
        Assert.Equal(new ColumnSort("magnitude"), list.Sort);
        Assert.Single(told);
        Assert.All(
            list.Rows.InOrder().Zip(list.Rows.InOrder().Skip(1)),
            p => Assert.True(source[p.First].Magnitude < source[p.Second].Magnitude));

        var was = list.Rows.InOrder().ToArray();
        list.PressHeader("magnitude");
        (asked, fault) = (0, 5000);
        Assert.Equal("No such magnitude.", Assert.Throws<InvalidOperationException>(() =>
        {
            while (goOn())
            {
            }
        }).Message);
        Assert.Equal((new ColumnSort("magnitude"), false), (list.Sort, list.Frame.Headers.Any(h => h.IsSorting)));
        Assert.Equal(was, list.Rows.InOrder());
        Assert.False(goOn());

        // Where another order cannot be had, this one is still under way.
        (asked, fault) = (0, int.MaxValue);
        list.PressHeader("magnitude");
        Assert.Throws<InvalidOperationException>(() => list.Sort = new("broken"));
        Assert.True(list.Frame.Headers.Single(h => h.IsSorting).Name == "magnitude");
        while (goOn())
        {
        }
        Assert.Equal((new ColumnSort("magnitude", true), false), (list.Sort, list.Frame.Headers.Any(h => h.IsSorting)));

        // What throws when all that is left is to put right what has come meanwhile.
        (list.Sort, fault) = (null, int.MaxValue);
        list.PressHeader("magnitude");
        source.Add(new(3000, -1));
        Assert.Equal("No such magnitude.", Assert.Throws<InvalidOperationException>(() =>
        {
            while (goOn())
            {
            }
        }).Message);
        Assert.Equal((null, false), (list.Sort, list.Frame.Headers.Any(h => h.IsSorting)));
        Assert.Equal(Enumerable.Range(0, 3001), list.Rows.InOrder());
    }

    [Fact]
    public void Many_that_are_in_order_already_are_looked_through_in_slices_too()
    {
        using var list = Open([.. Enumerable.Range(0, 40_000).Select(i => new VariableStar(i, i))], null, out var goOn);
        var asked = 0;
        list.Columns = [.. Columns((_, _) => asked++)];
        list.PressHeader("magnitude");
        for (var before = asked; goOn(); before = asked) Assert.InRange(asked - before, 0, 2000);
        Assert.Equal(new ColumnSort("magnitude"), list.Sort);
        Assert.Equal(Enumerable.Range(0, 40_000), list.Rows.InOrder());
        Assert.InRange(asked, 39_999, 39_999);
    }

    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public void Where_the_order_can_be_changed_no_more_meanwhile_it_stays_as_it_is(bool isPaged)
    {
        VariableStar[] stars = [.. Enumerable.Range(0, 3000).Select(i => new VariableStar(i, i * 7919 % 3001))];
        using var list = Open([.. stars], null, out var goOn);
        list.Columns = [.. Columns()];
        list.PressHeader("magnitude");
        Assert.True(goOn());
        if (isPaged) list.Show(new SimulatedSource<VariableStar, int>(stars, s => s.Id, (a, b) => a.Id.CompareTo(b.Id)));
        else list.Outline = Outline.ByParent((VariableStar s) => s.Id % 100 == 0 ? null : (int?)(s.Id / 100 * 100));
        for (var i = 0; i < 1000 && goOn(); i++)
        {
        }
        Assert.Equal((null, false), (list.Sort, list.Frame.Headers.Any(h => h.IsSorting)));
        Assert.Equal(3000, list.Count);
        Assert.Equal(isPaged ? 3000 : 30, list.Rows.Count);
        Assert.Equal(0, list.Frame.Rows[0].Index);
    }

    [Fact]
    public void A_list_that_nobody_calls_back_is_sorted_at_once()
    {
        using var list = Open([.. Enumerable.Range(0, 3000).Select(i => new VariableStar(i, i * 7919 % 3001))], null, out _);
        list.IsCalledBack = false;
        list.Columns = [.. Columns()];
        list.PressHeader("magnitude");
        Assert.Equal(new ColumnSort("magnitude"), list.Sort);
        Assert.Equal(0, list[list.Frame.Rows[0].Index].Magnitude);
    }
}
