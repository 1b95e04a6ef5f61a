using System.Collections.ObjectModel;
using CsCheck;
using Lectica.Acts;
using Lectica.Items;

namespace Lectica.Tests.Lists;

/// <summary>Sorted views: the order is kept, not rebuilt, and is always what sorting again would give.</summary>
public sealed class SortedTests(ITestOutputHelper output)
{
    [Fact]
    public void The_order_is_what_sorting_anew_would_give_whatever_comes_goes_or_changes()
    {
        var reached = new System.Collections.Concurrent.ConcurrentDictionary<string, int>();
        Gen.Select(Gen.Int[0, 8], Gen.Int[0, 99], Gen.Int[0, 99]).Array[40].Sample(steps =>
        {
            var fresh = 0;
            var source = new ObservableCollection<VariableStar>(Enumerable.Range(0, 12).Select(i => new VariableStar(fresh++, i * 5 % 7)));
            var list = InteractiveList.Of(source, p => p.Id, new() { Mode = SelectionMode.Multiple });
            list.SortBy = (a, b) => a.Magnitude.CompareTo(b.Magnitude);
            foreach (var (what, a, b) in steps)
            {
                var at = source.Count == 0 ? 0 : a % source.Count;
                switch (what)
                {
                    case 0:
                        source.Insert(a % (source.Count + 1), new(fresh++, b % 7));
                        break;
                    case 1 when source.Count > 0:
                        source.RemoveAt(at);
                        break;
                    case 2 when source.Count > 1:
                        source.Move(at, b % source.Count);
                        break;
                    case 3 when source.Count > 0:
                        source[at] = new(b % 2 == 0 ? source[at].Id : fresh++, b % 7);
                        break;
                    case 4 when source.Count > 0:
                        // Items that tell of their changes go to their new place by themselves.
                        source[at].Magnitude = b % 7;
                        break;
                    case 5:
                        list.Filter = b % 3 == 0 ? null : p => (p.Magnitude + b) % 3 != 0;
                        break;
                    case 6:
                        list.Sections = b % 3 == 0 ? null : b % 3 == 1 ? new(p => $"m{p.Magnitude % 3}")
                            : new(p => p.Magnitude < 4 ? "bright" : "faint") { Order = ["bright", "faint"] };
                        break;
                    case 7:
                        list.SortBy = b % 4 == 0 ? null : b % 4 == 1 ? (p, q) => q.Magnitude.CompareTo(p.Magnitude)
                            : (p, q) => p.Magnitude.CompareTo(q.Magnitude);
                        break;
                    case 8 when source.Count > 0 && b % 5 == 0:
                        list.Show([.. source.Reverse().Where(p => p != source[at])]);
                        list.Show(source);
                        break;
                    default:
                        continue;
                }
                reached.AddOrUpdate($"{what}", 1, (_, n) => n + 1);
                var shown = source.Where(p => list.Filter?.Invoke(p) ?? true).ToList();
                if (list.SortBy is { } compare) shown = [.. shown.Order(Comparer<VariableStar>.Create(compare))];
                if (list.Sections is { } sections)
                    shown = [.. list.Rows.Sections.SelectMany(s => shown.Where(p => sections.Of(p) == s.Key))];
                Assert.Equal(shown.Select(p => p.Id), list.Rows.InOrder().Select(i => list[i].Id));
                // Both ways: which row an item is on, and which item a row shows.
                foreach (var i in list.Rows.Shown) Assert.Equal(i, list.Rows.IndexAt(list.Rows.RowOf(i)!.Value));
                if (list.Rows.Shown.IsEmpty) continue;
                var (first, last) = (list.IndexOf(shown[0].Id), list.IndexOf(shown[^1].Id));
                Assert.Equal(list.Rows.Shown, list.Rows.Between(first, last));
            }
        }, iter: Effort.Of(2000));
        output.WriteLine(string.Join(", ", reached.OrderBy(r => r.Key).Select(r => $"{r.Key}: {r.Value:N0}")));
        if (!Effort.IsFull) return;
        Assert.True(reached.Count == 9 && reached.Values.All(n => n > 200), "some case was hardly met");
    }

    [Fact]
    public void Many_that_come_or_go_at_once_are_put_in_their_places_and_the_others_are_not_compared_again()
    {
        var reached = new System.Collections.Concurrent.ConcurrentDictionary<string, int>();
        Gen.Select(Gen.Bool, Gen.Bool, Gen.Select(Gen.Int[0, 3], Gen.Int[0, 9999], Gen.Int[65, 250]).Array[6]).Sample(
            (inSections, isFiltered, steps) =>
        {
            const int many = 20_000;
            var (fresh, asked) = (0, 0);
            var source = new ObservableCollection<VariableStar>(
                Enumerable.Range(0, many).Select(i => new VariableStar(fresh++, i * 7919 % 20_011)));
            using var list = InteractiveList.Of(source, p => p.Id, new() { Mode = SelectionMode.Multiple });
            list.IsCalledBack = true;
            list.SortBy = (a, b) =>
            {
                asked++;
                return a.Magnitude.CompareTo(b.Magnitude);
            };
            list.Commands = [new("withdraw", "Withdraw") { Do = list.TakeOut }];
            if (inSections) list.Sections = new(p => p.Magnitude < 4000 ? "bright" : "faint") { Order = ["bright", "faint"] };
            if (isFiltered) list.Filter = p => p.Magnitude % 3 != 0;
            foreach (var (what, a, b) in steps)
            {
                var at = a % source.Count;
                asked = 0;
                switch (what)
                {
                    case 0:
                        list.Fill(Enumerable.Range(0, b).Select(i => new VariableStar(fresh++, ((i * 31) + a) % 20_011)));
                        while (list.IsFilling && list.NextDeadline is { } due) list.Advance(due);
                        break;
                    case 1:
                        list.SelectOnly(ItemSet.Where(source.Count, i => (i >= at && i < at + b) || i % 500 == 7));
                        list.RunCommand("withdraw");
                        break;
                    case 2:
                        if (!list.Undo().IsHandled) continue;
                        break;
                    case 3:
                        using (list.Batch())
                            for (var i = 0; i < b / 4; i++)
                            {
                                source.RemoveAt(at % source.Count);
                                source.Insert(at % source.Count, new(fresh++, ((i * 17) + a) % 20_011));
                            }
                        break;
                }
                Assert.InRange(asked, 0, many / 2);
                reached.AddOrUpdate($"{what}", 1, (_, n) => n + 1);
                var shown = source.Where(p => list.Filter?.Invoke(p) ?? true).OrderBy(p => inSections && p.Magnitude >= 4000)
                    .ThenBy(p => p.Magnitude);
                Assert.Equal(shown.Select(p => p.Id), list.Rows.InOrder().Select(i => list[i].Id));
            }
        }, iter: Effort.Of(60));
        output.WriteLine(string.Join(", ", reached.OrderBy(r => r.Key).Select(r => $"{r.Key}: {r.Value:N0}")));
        if (Effort.IsFull) Assert.True(reached.Count == 4 && reached.Values.All(n => n > 5), "some case was hardly met");
    }

    [Fact]
    public void A_comparison_that_throws_leaves_the_order_whole()
    {
        var source = new ObservableCollection<VariableStar>([new(0, 3), new(1, 1), new(2, 2)]);
        var list = InteractiveList.Of(source, p => p.Id);
        Assert.ThrowsAny<Exception>(() => list.SortBy = (_, _) => throw new InvalidOperationException("cloudy"));
        Assert.Null(list.SortBy);
        Assert.Equal([0, 1, 2], list.Rows.InOrder());
        list.SortBy = (p, q) => p.Magnitude < 0 || q.Magnitude < 0 ? throw new InvalidOperationException("cloudy")
            : p.Magnitude.CompareTo(q.Magnitude);
        Assert.Equal("cloudy", Assert.Throws<InvalidOperationException>(() => source.Insert(1, new(3, -1))).Message);
        Assert.Equal(4, list.Rows.InOrder().Distinct().Count());
        source.RemoveAt(1);
        Assert.Equal([1, 2, 0], list.Rows.InOrder());
        source.Add(new(4, 2));
        Assert.Equal([1, 2, 3, 0], list.Rows.InOrder());
    }

    [Fact]
    public void What_items_without_keys_tell_is_read_at_each_of_their_places_between_any_edits()
    {
        int often = 0, twice = 0;
        Gen.Select(Gen.Int[0, 5], Gen.Int[0, 99], Gen.Int[0, 99]).Array[60].Sample(steps =>
        {
            var fresh = 0;
            var source = new ObservableCollection<VariableStar>(Enumerable.Range(0, 12).Select(i => new VariableStar(fresh++, i % 5)));
            using var list = InteractiveList.Of(source, new() { Mode = SelectionMode.Multiple });
            list.Filter = p => p.Magnitude > 2;
            var inARow = 0;
            foreach (var (what, a, b) in steps)
            {
                inARow = what > 2 ? inARow + 1 : 0;
                if (inARow > 5) often++;
                switch (what)
                {
                    // The same object may stand in several places.
                    case 0: source.Insert(a % (source.Count + 1), b % 3 == 0 ? source[b % source.Count] : new(fresh++, b % 5)); break;
                    case 1 when source.Count > 4: source.RemoveAt(a % source.Count); break;
                    case 2: source.Move(a % source.Count, b % source.Count); break;
                    default:
                        var item = source[a % source.Count];
                        if (source.Count(p => ReferenceEquals(p, item)) > 1) twice++;
                        item.Magnitude = b % 5;
                        break;
                }
                Assert.Equal(source.Select((p, i) => (p, i)).Where(x => x.p.Magnitude > 2).Select(x => x.i), list.Rows.Shown.ToArray());
            }
        }, iter: Effort.Of(300), threads: 1);
        Assert.True(often > 0 && twice > 0, $"{often} in a row, {twice} of one that is there twice");
    }
}
