using System.Collections.ObjectModel;
using CsCheck;
using Lectica.Acts;
using Lectica.Items;
using Lectica.Marking;

namespace Lectica.Tests.Layouts;

/// <summary>Branches that a command has the list take out of its source, and that undo brings back.</summary>
public sealed class OutlineTakeOutTests
{
    private sealed class Work(string name, Work? below, IList<Work> children)
    {
        public string Name { get; } = name;

        public Work? Below { get; } = below;

        public IList<Work> Children { get; set; } = children;

        public override string ToString() => Name;
    }

    /// <summary>How the app keeps the items.</summary>
    private enum Kept
    {
        InOrder, Shuffled, LiveInOrder, LiveShuffled, Children, LiveChildren,
    }

    private sealed class Case
    {
        private readonly InteractiveList<Work, string> _list;

        public Case(InteractiveList<Work, string> list, IList<Work> source, Outline<Work, string> outline, Func<int, int> random)
        {
            (_list, Source) = (list, source);
            list.Marks = [new("starred")];
            list.Outline = outline;
            list.Commands = [new("withdraw", "Withdraw") { Do = list.TakeOut }];
            list.ExpandAll();
            for (var i = 0; i < list.Count; i++)
            {
                if (random(4) == 0) list.CollapseOrExpandBranch(list.KeyAt(i));
                if (random(4) == 0) list.ToggleMark("starred", list.KeyAt(i));
            }
            list.SelectionChanged += (_, _) => SelectionEvents++;
            list.CommandFailed += (_, _) => { };
        }

        public IList<Work> Source { get; }

        public int Count => _list.Count;

        public int SelectionEvents { get; set; }

        public int Marked => _list.Marked("starred").Count;

        public Work At(int index) => _list[index];

        public void Select(ItemSet items) => _list.SelectOnly(items);

        public bool Withdraw() => _list.RunCommand("withdraw").IsHandled;

        public bool Undo() => _list.Undo().IsHandled;

        public bool Redo() => _list.Redo().IsHandled;

        public void Refresh() => _list.Refresh();

        /// <summary>All items in reading order with their levels and marks, and which of them show and are expanded.</summary>
        public string Told()
        {
            var starred = _list.Marked("starred");
            var rows = _list.Frame.Rows.Where(r => r.Index >= 0).ToDictionary(r => r.Index);
            return string.Join("\n", Enumerable.Range(0, _list.Count).Select(i =>
            {
                var sign = !rows.TryGetValue(i, out var row) ? "" : row.Branch is null ? "." : row.Branch.IsExpanded ? "v" : ">";
                var mark = starred.Contains(i) ? "*" : "";
                return $"{_list.LevelOf(_list.KeyAt(i))} {_list[i].Name} {sign}{mark}";
            }));
        }
    }

    private static Case Make(Kept kept, int seed, int count, Func<IEnumerable<Work>, IList<Work>>? lists = null)
    {
        var random = new Random(seed);
        Func<IEnumerable<Work>, IList<Work>> make = lists ?? (kept is Kept.LiveInOrder or Kept.LiveShuffled or Kept.LiveChildren
            ? items => new ObservableCollection<Work>(items) : items => items.ToList());
        // Each lies below one of the last few before it, or on the first level: written in reading order.
        var roots = new List<Work>();
        var all = new List<Work>();
        for (var i = 0; i < count; i++)
        {
            var below = all.Count == 0 || random.Next(3) == 0 ? null : all[random.Next(Math.Max(0, all.Count - 40), all.Count)];
            var work = new Work($"w{i}", below, make([]));
            all.Add(work);
            (below?.Children ?? roots).Add(work);
        }
        var flat = new List<Work>();
        void Walk(IEnumerable<Work> works)
        {
            foreach (var work in works)
            {
                flat.Add(work);
                Walk(work.Children);
            }
        }
        Walk(roots);
        Work[] given = kept is Kept.Shuffled or Kept.LiveShuffled ? [.. flat.OrderBy(_ => random.Next())] : [.. flat];
        var source = make(kept is >= Kept.Children ? roots : given);
        var options = new ListOptions { Mode = SelectionMode.Multiple, Viewport = new(400, 100_000), MayMove = true };
        return new(InteractiveList.Of((IReadOnlyList<Work>)source, w => w.Name, options), source,
                kept is >= Kept.Children ? Outline.ByChildren<Work, string>(w => (IReadOnlyList<Work>)w.Children)
                : Outline.ByParent<Work, string>(w => w.Below?.Name), random.Next);
    }

    private static IEnumerable<Work> AllIn(IEnumerable<Work> works, bool flat) =>
        flat ? works : works.SelectMany(w => AllIn(w.Children, false).Prepend(w));

    [Fact]
    public void A_branch_leaves_whole_and_comes_back_where_it_was_and_as_it_was_whatever_the_app_does_meanwhile()
    {
        var reached = new Dictionary<string, int>();
        var cases = Gen.Select(Gen.Int[0, 5], Gen.Int[0, 9999], Gen.Int[1, 400], Gen.Int[1, 30], Gen.Int[0, 3]);
        cases.Sample((which, seed, count, one, edit) =>
        {
            var kept = (Kept)which;
            void Reach(string what)
            {
                lock (reached) reached[what] = reached.GetValueOrDefault(what) + 1;
            }
            var (it, random, flat) = (Make(kept, seed, count), new Random(seed), kept < Kept.Children);
            var (before, marked) = (it.Told(), it.Marked);
            string[] Order() => [.. AllIn(it.Source, flat).Select(w => w.Name)];
            var source = Order();
            var chosen = ItemSet.Of(count, Enumerable.Range(0, count).Where(_ => random.Next(one) == 0));
            // All below what goes goes too.
            var goes = new HashSet<Work>();
            for (var i = 0; i < count; i++)
                if (chosen.Contains(i) || (it.At(i).Below is { } below && goes.Contains(below))) goes.Add(it.At(i));
            it.Select(chosen);
            it.SelectionEvents = 0;
            Assert.Equal(!chosen.IsEmpty, it.Withdraw());
            if (chosen.IsEmpty) return;
            Assert.Equal(1, it.SelectionEvents);
            Assert.Equal(count - goes.Count, it.Count);
            Assert.Equal(source.Where(n => goes.All(w => w.Name != n)), Order());
            var after = it.Told();
            Assert.DoesNotContain(after.Split('\n'), line => line.Length > 0 && goes.Any(w => w.Name == line.Split(' ')[1]));
            Reach(kept.ToString());
            if (goes.Count > 64) Reach("many");
            if (goes.Count > chosen.Count) Reach("below");

            // What the app takes out or puts in meanwhile stays so.
            string? left = null;
            if (edit == 1 && it.Count > 0)
            {
                var leaf = it.At(it.Count - 1);
                left = leaf.Name;
                Reach("leaf");
                (flat ? it.Source : leaf.Below?.Children ?? it.Source).Remove(leaf);
            }
            else if (edit == 2)
            {
                Reach("new");
                it.Source.Add(new("new", null, []));
            }
            if (edit is 1 or 2) it.Refresh();
            string[] Rest(string told) =>
                [.. told.Split('\n').Where(l => l.Length > 0 && l.Split(' ')[1] is var n && n != "new" && n != left)];

            Assert.Equal(left is null || goes.All(w => w.Below?.Name != left), it.Undo());
            if (left is not null && goes.Any(w => w.Below?.Name == left)) return;
            // Whether the last of its siblings was its only one is told by its parent's sign.
            if (left is null) Assert.Equal(Rest(before), Rest(it.Told()));
            else Assert.Equal(Rest(before).Select(l => l.Split(' ')[1]), Rest(it.Told()).Select(l => l.Split(' ')[1]));
            if (kept is not (Kept.Shuffled or Kept.LiveShuffled))
                Assert.Equal(source.Where(n => n != left), Order().Where(n => n != "new"));
            if (edit is 0 or 3)
            {
                Reach("again");
                Assert.Equal(marked, it.Marked);
                Assert.True(it.Redo());
                Assert.Equal(after, it.Told());
                Assert.True(it.Undo());
                Assert.Equal(before, it.Told());
            }
        }, iter: Effort.Of(3000));
        foreach (var what in Enum.GetNames<Kept>().Concat(["many", "below", "leaf", "new", "again"]))
            Assert.True(reached.GetValueOrDefault(what) > 0, what);
    }

    private sealed class Balky(IEnumerable<Work> items) : ObservableCollection<Work>(items)
    {
        public static int Until { get; set; } = int.MaxValue;

        protected override void RemoveItem(int index)
        {
            if (--Until == 0) throw new InvalidOperationException("This one stays.");
            base.RemoveItem(index);
        }

        protected override void InsertItem(int index, Work item)
        {
            if (--Until == 0) throw new InvalidOperationException("No room.");
            base.InsertItem(index, item);
        }
    }

    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public void A_source_that_throws_at_any_point_is_as_it_was(bool isFlat)
    {
        int thrown = 0, done = 0;
        for (var until = 1; until < 200 && done < 2; until++)
        {
            Balky.Until = int.MaxValue;
            var it = Make(isFlat ? Kept.LiveInOrder : Kept.LiveChildren, 7, 60, items => new Balky(items));
            var before = it.Told();
            it.Select(ItemSet.Of(60, Enumerable.Range(0, 60).Where(i => i % 5 == 0)));
            Balky.Until = until;
            _ = it.Withdraw();
            if (Balky.Until <= 0)
            {
                thrown++;
                Assert.Equal(before, it.Told());
                continue;
            }
            Assert.True(it.Count < 60);
            // And coming back.
            var after = it.Told();
            var needed = until;
            for (var back = 1; back < 200; back++)
            {
                Balky.Until = back;
                var undone = it.Undo();
                if (Balky.Until > 0)
                {
                    Assert.True(undone);
                    break;
                }
                Assert.False(undone);
                thrown++;
                Assert.Equal(after, it.Told());
            }
            Assert.Equal(before, it.Told());
            done = 2;
        }
        Assert.True(thrown > 10 && done == 2, $"{thrown} {done}");
    }

    [Fact]
    public void What_cannot_come_back_since_a_key_is_there_unsaid_leaves_the_source_as_the_app_made_it()
    {
        var it = Make(Kept.Shuffled, 3, 600);
        it.Select(ItemSet.Of(600, Enumerable.Range(0, 600).Where(i => i % 4 == 0)));
        var gone = it.At(300);
        Assert.True(it.Withdraw());
        it.Source.Add(new(gone.Name, null, []));
        string[] before = [.. it.Source.Select(w => w.Name)];
        Assert.False(it.Undo());
        Assert.Equal(before, it.Source.Select(w => w.Name));
        Assert.Equal(before.Length, it.Count);
    }

    [Fact]
    public void What_cannot_be_written_says_so_and_nothing_has_changed()
    {
        var below = new Work("below", null, []);
        var top = new Work("top", null, new[] { below });
        var list = InteractiveList.Of(new List<Work> { top }, w => w.Name);
        list.Outline = Outline.ByChildren<Work, string>(w => (IReadOnlyList<Work>)w.Children);
        string? failed = null;
        list.Commands = [new("withdraw", "Withdraw") { Do = list.TakeOut }];
        list.CommandFailed += (_, e) => failed = e.Error.Message;
        list.RunCommand("withdraw", "below");
        Assert.Equal("The item 'top' has no list of children that can be written.", failed);
        Assert.Equal(2, list.Count);
        // One that has changed without saying so is not written blindly.
        top.Children = [new("other", null, [])];
        list.RunCommand("withdraw", "below");
        Assert.StartsWith("The source is not what the list holds", failed);
        // Where its parent has left, a branch cannot come back.
        var second = new Work("second", null, []);
        var third = new Work("third", second, []);
        second.Children = new List<Work> { third };
        var plan = new List<Work> { second };
        list = InteractiveList.Of((IReadOnlyList<Work>)plan, w => w.Name);
        list.Outline = Outline.ByChildren<Work, string>(w => (IReadOnlyList<Work>)w.Children);
        list.Commands = [new("withdraw", "Withdraw") { Do = list.TakeOut }];
        Assert.True(list.RunCommand("withdraw", "third").IsHandled);
        plan.Clear();
        list.Refresh();
        Assert.Contains("what it lay below, 'second' has left", list.Undo().Refusal!.Reason);
    }
}
