using System.Collections.Concurrent;
using System.Collections.ObjectModel;
using CsCheck;
using Lectica.Acts;
using Lectica.Items;

namespace Lectica.Tests.Lists;

/// <summary>What is done in a batch comes to the same as without one, however much of it the list reads only when it is asked.</summary>
public sealed class BatchTests(ITestOutputHelper output)
{
    /// <summary>A list of stars that are sorted, filtered and in sections, and what is done to it.</summary>
    private sealed class Sky
    {
        private readonly ObservableCollection<VariableStar> _stars =
            [.. Enumerable.Range(0, 150).Select(i => new VariableStar(i, i * 37 % 101))];

        private int _fresh = 150;

        public Sky(int kind)
        {
            List = InteractiveList.Of(_stars, s => s.Id, new() { Mode = SelectionMode.Multiple, MayMove = true });
            if (kind % 2 == 1) List.SortBy = (a, b) => a.Magnitude.CompareTo(b.Magnitude);
            if (kind / 2 % 2 == 1) List.Filter = s => s.Magnitude % 3 != 0;
            if (kind / 4 % 2 == 1) List.Sections = new(s => s.Magnitude < 50 ? "bright" : "faint") { Order = ["bright", "faint"] };
            List.Marks = [new("bright") { Get = s => s.Magnitude < 20, Set = (_, _) => { } }];
        }

        public InteractiveList<VariableStar, int> List { get; }

        public void Do(int what, int a, int many)
        {
            for (var i = 0; i < many; i++)
            {
                var at = _stars.Count == 0 ? 0 : (a + (i * 7)) % _stars.Count;
                switch (what)
                {
                    case 0: _stars.Insert(at, new(_fresh++, (a + i) % 101)); break;
                    case 1 when _stars.Count > 20: _stars.RemoveAt(at); break;
                    case 2: _stars[at].Magnitude = (a + (i * 3)) % 101; break;
                    case 3: _stars.Move(at, a % _stars.Count); break;
                    case 4: _stars[at] = new(i % 2 == 0 ? _fresh++ : _stars[at].Id, a % 101); break;
                }
            }
            var one = _stars[a % _stars.Count].Id;
            switch (what)
            {
                case 5: List.SelectAll(); break;
                case 6: List.Toggle(one); break;
                case 7: List.Clear(); break;
                case 8: List.SelectOnly(ItemSet.Where(List.Count, i => i % 3 == 0)); break;
                case 9: List.Move([one], a % 7); break;
            }
        }

        // What goes out of sight and comes back in one batch stays selected; without it does not.
        public string Look() => string.Join("; ",
            List.Filter is null ? string.Join(",", List.SelectedKeys.Order()) : "",
            string.Join(",", List.Rows.InOrder().Select(i => List[i].Id)),
            string.Join(",", List.Marked("bright").Select(i => List[i].Id).Order()));
    }

    [Fact]
    public void What_items_tell_in_a_batch_is_read_once_and_told_with_the_rest()
    {
        VariableStar[] stars = [.. Enumerable.Range(0, 100).Select(i => new VariableStar(i, i))];
        using var list = InteractiveList.Of(stars, s => s.Id, new() { Mode = SelectionMode.Multiple });
        var (asked, told) = (0, new List<string>());
        list.Filter = s =>
        {
            asked++;
            return s.Magnitude < 90;
        };
        list.SelectAll();
        list.SelectionChanged += (_, e) => told.Add($"-{e.RemovedItems.Count} +{e.AddedItems.Count}");
        asked = 0;
        using (list.Batch())
        {
            list.Toggle(0);
            for (var magnitude = 80; magnitude < 100; magnitude++)
                foreach (var star in stars[..40]) star.Magnitude = magnitude;
            Assert.Equal(0, asked);
            Assert.Equal(50, list.Rows.Shown.Count);
            Assert.Equal(40, asked);
            (stars[95].Magnitude, stars[40].Magnitude) = (1, 91);
        }
        Assert.Equal(42, asked);
        Assert.Equal(["-41 +0"], told);
        Assert.Equal(Enumerable.Range(41, 49), list.SelectedKeys.Order());
        Assert.Equal(50, list.Rows.Shown.Count);
    }

    [Fact]
    public void A_batch_comes_to_the_same_as_the_same_without_one()
    {
        var reached = new ConcurrentDictionary<string, int>();
        Gen.Select(Gen.Int[0, 7], Gen.Select(Gen.Int[0, 9], Gen.Int[0, 9999], Gen.Int[1, 140]).Array[12]).Sample((kind, steps) =>
        {
            var (batched, plain) = (new Sky(kind), new Sky(kind));
            var told = batched.List.SelectedKeys.ToHashSet();
            batched.List.SelectionChanged += (_, e) =>
            {
                told.ExceptWith(e.RemovedItems.Select(s => s.Id));
                told.UnionWith(e.AddedItems.Select(s => s.Id));
            };
            IDisposable? batch = null;
            var changed = 0;
            foreach (var (what, a, many) in steps)
            {
                batch ??= batched.List.Batch();
                plain.Do(what, a, many);
                batched.Do(what, a, many);
                reached.AddOrUpdate($"{what}" + (what > 4 && changed > 64 ? " after many" : ""), 1, (_, n) => n + 1);
                changed = what < 5 ? changed + many : 0;
                // What is asked in the middle is what there is by then.
                if (a % 4 == 0) Assert.Equal(plain.Look(), batched.Look());
                if (a % 5 != 0) continue;
                batch.Dispose();
                batch = null;
            }
            batch?.Dispose();
            Assert.Equal(plain.Look(), batched.Look());
            Assert.Equal(batched.List.SelectedKeys.Order(), told.Order());
        }, iter: Effort.Of(800));
        output.WriteLine(string.Join(", ", reached.OrderBy(r => r.Key).Select(r => $"{r.Key}: {r.Value:N0}")));
        if (Effort.IsFull) Assert.True(reached.Count == 15 && reached.Values.All(n => n > 20), "some case was hardly met");
    }
}
