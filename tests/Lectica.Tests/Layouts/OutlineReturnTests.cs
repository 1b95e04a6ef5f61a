using System.Collections.ObjectModel;
using CsCheck;
using Lectica.Acts;

namespace Lectica.Tests.Layouts;

/// <summary>Branches from many places that were moved to one, and go back to all of them at once.</summary>
public sealed class OutlineReturnTests
{
    private sealed class Work(int id, IList<Work> children)
    {
        public int Id { get; } = id;

        public int? Below { get; set; }

        public IList<Work> Children { get; } = children;
    }

    /// <summary>How the app keeps the items.</summary>
    private enum Kept
    {
        InOrder, LiveInOrder, Shuffled, LiveShuffled, Children, LiveChildren,
    }

    private static string Told(InteractiveList<Work, int> list) =>
        string.Join(' ', Enumerable.Range(0, list.Count).Select(i => $"{list.LevelOf(list.KeyAt(i))}:{list.KeyAt(i)}"));

    [Fact]
    public void Many_branches_go_back_to_where_they_were_in_one_go_however_the_app_keeps_them()
    {
        var met = new Dictionary<Kept, int>();
        var steps = 0;
        Gen.Select(Gen.Enum<Kept>(), Gen.Int[60, 240], Gen.Int).Sample((kept, count, seed) =>
        {
            var random = new Random(seed);
            var isLive = kept is Kept.LiveInOrder or Kept.LiveShuffled or Kept.LiveChildren;
            IList<Work> Make(IEnumerable<Work> works) => isLive ? new ObservableCollection<Work>(works) : works.ToList();
            List<Work> all = [], flat = [];
            var roots = Make([]);
            for (var id = 0; id < count; id++)
            {
                var below = id == 0 || random.Next(4) == 0 ? null : all[random.Next(Math.Max(0, id - 30), id)];
                all.Add(new(id, Make([])) { Below = below?.Id });
                (below?.Children ?? roots).Add(all[id]);
            }
            void Walk(IEnumerable<Work> works)
            {
                foreach (var work in works)
                {
                    flat.Add(work);
                    Walk(work.Children);
                }
            }
            Walk(roots);
            var byChildren = kept is Kept.Children or Kept.LiveChildren;
            var source = byChildren ? roots
                : Make(kept is Kept.Shuffled or Kept.LiveShuffled ? flat.OrderBy(_ => random.Next()).ToList() : flat);
            using var list = InteractiveList.Of((IReadOnlyList<Work>)source, w => w.Id, new ListOptions
            {
                Mode = SelectionMode.Multiple,
                MayMove = true,
            });
            list.Outline = byChildren ? Outline.ByChildren<Work, int>(w => (IReadOnlyList<Work>)w.Children)
                : Outline.ByParent<Work, int>(w => w.Below) with { Assign = (w, parent) => w.Below = parent?.Id };
            list.ExpandAll();
            string Shown() => Told(list);
            var before = Shown();
            int[] keys = [.. Enumerable.Range(0, count).Where(_ => random.Next(3) == 0)], marked = [.. keys.Where(k => k % 2 == 0)];
            if (!(random.Next(2) == 0 ? list.MoveToFirstLevel(keys, random.Next(5)) : list.MoveBelow(keys, random.Next(count))).IsHandled)
                return;
            var after = Shown();
            if (after == before) return;
            list.SelectedKeys = marked;
            var (told, moved) = (0, 0);
            list.Moved += (_, e) => (told, moved) = (told + 1, moved + e.Items.Count);
            if (kept == Kept.LiveInOrder) ((ObservableCollection<Work>)source).CollectionChanged += (_, _) => steps++;
            foreach (var expected in (string[])[before, after, before])
            {
                (told, moved) = (0, 0);
                Assert.Null((expected == before ? list.Undo() : list.Redo()).Refusal?.Reason);
                Assert.Equal(expected, Shown());
                Assert.Equal(marked.Order(), list.SelectedKeys.Order());
                // The app's items say the same.
                list.Refresh();
                Assert.Equal(expected, Shown());
                // Few places are gone to one by one; many are one move.
                if (moved > 16 && told == 1 && expected == before) met[kept] = met.GetValueOrDefault(kept) + 1;
            }
        }, iter: Effort.Of(600), threads: 1);
        Assert.All(Enum.GetValues<Kept>(), kept => Assert.True(met.GetValueOrDefault(kept) > 0, $"{kept}"));
        Assert.True(steps > 0);
    }

    [Fact]
    public void What_cannot_go_back_to_one_of_many_places_leaves_all_as_they_are()
    {
        // Twelve below as many others; the app's list of one of those takes nothing any more.
        List<Work> works = [.. Enumerable.Range(0, 24).Select(i => new Work(i, []) { Below = i % 2 == 0 ? null : i - 1 })];
        using var list = InteractiveList.Of(works, w => w.Id, new ListOptions { Mode = SelectionMode.Multiple, MayMove = true });
        var refuses = false;
        list.Outline = Outline.ByParent<Work, int>(w => w.Below) with
        {
            Assign = (w, parent) =>
            {
                if (refuses && w.Id == 17) throw new InvalidOperationException("17 stays");
                w.Below = parent?.Id;
            },
        };
        list.ExpandAll();
        string All() => string.Join(' ', works.Select(w => $"{w.Id}<{w.Below}"));
        var before = All();
        Assert.True(list.MoveToFirstLevel(Enumerable.Range(0, 12).Select(i => 2 * i + 1), 0).IsHandled);
        var after = All();
        Assert.NotEqual(before, after);
        refuses = true;
        Assert.Contains("17 stays", list.Undo().Refusal?.Reason);
        Assert.Equal(after, All());
        refuses = false;
        Assert.True(list.Undo().IsHandled);
        Assert.Equal(before, All());
        // What one of them lay below has come to lie below it.
        Assert.True(list.Redo().IsHandled);
        works.Single(w => w.Id == 4).Below = 5;
        list.Refresh();
        Assert.Contains("the item '5' would lie below itself", list.Undo().Refusal?.Reason);
    }

    /// <summary>Children that can be closed.</summary>
    private sealed class Shelf : Collection<Work>
    {
        public bool IsClosed { get; set; }

        protected override void InsertItem(int index, Work item)
        {
            if (IsClosed) throw new InvalidOperationException("the shelf is closed");
            base.InsertItem(index, item);
        }
    }

    [Fact]
    public void Of_lists_of_children_one_that_takes_nothing_leaves_all_as_they_are()
    {
        var shelves = Enumerable.Range(0, 12).Select(_ => new Shelf()).ToArray();
        List<Work> roots = [.. shelves.Select((s, i) => new Work(i, s))];
        foreach (var root in roots)
            for (var k = 1; k <= 3; k++) root.Children.Add(new((100 * k) + root.Id, new Shelf()));
        using var list = InteractiveList.Of(roots, w => w.Id, new ListOptions { Mode = SelectionMode.Multiple, MayMove = true });
        list.Outline = Outline.ByChildren<Work, int>(w => (IReadOnlyList<Work>)w.Children);
        string All() => string.Join(' ', roots.Select(r => $"{r.Id}({string.Join(' ', r.Children.Select(c => c.Id))})"));
        var before = All();
        // The second of each three.
        Assert.True(list.MoveToFirstLevel(roots.Select(r => 200 + r.Id).ToArray(), 3).IsHandled);
        var after = All();
        shelves[7].IsClosed = true;
        Assert.Contains("the shelf is closed", list.Undo().Refusal?.Reason);
        Assert.Equal(after, All());
        shelves[7].IsClosed = false;
        // The one that came after it has gone elsewhere since: it goes to the end.
        var last = shelves[4][1];
        shelves[4].RemoveAt(1);
        shelves[5].Add(last);
        list.Refresh();
        Assert.True(list.Undo().IsHandled);
        var expected = before.Replace("4(104 204 304)", "4(104 204)", StringComparison.Ordinal);
        Assert.Equal(expected.Replace("305)", "305 304)", StringComparison.Ordinal), All());
    }

    [Fact]
    public void Moves_of_a_batch_in_the_apps_own_collection_are_read_once()
    {
        const int count = 400;
        ObservableCollection<Work> works =
            [.. Enumerable.Range(0, count).Select(i => new Work(i, []) { Below = i % 10 == 0 ? null : i / 10 * 10 })];
        var asked = 0;
        using var list = InteractiveList.Of(works, w => w.Id, new ListOptions { Mode = SelectionMode.Multiple });
        list.Outline = Outline.ByParent<Work, int>(w =>
        {
            asked++;
            return w.Below;
        });
        list.ExpandAll();
        list.SelectedKeys = [17, 203];
        var frames = 0;
        list.FrameChanged += (_, _) => frames++;
        asked = 0;
        var random = new Random(5);
        using (list.Batch())
        {
            for (var i = 0; i < 300; i++) works.Move(random.Next(count), random.Next(count));
            works.Remove(works.Single(w => w.Id == 40));
            // What is asked of it meanwhile is of now.
            Assert.Equal(count - 10, list.Count);
            for (var i = 0; i < 300; i++) works.Move(random.Next(count - 1), random.Next(count - 1));
        }
        // Not once for each of 601.
        Assert.InRange(asked, count, 40 * count);
        Assert.Equal(1, frames);
        Assert.Equal([17, 203], list.SelectedKeys.Order());
        int[] expected = [.. works.Where(w => w.Id % 10 == 0)
            .SelectMany(w => works.Where(c => c.Below == w.Id).Select(c => c.Id).Prepend(w.Id))];
        Assert.Equal(expected, Enumerable.Range(0, list.Count).Select(list.KeyAt));
    }

    [Fact]
    public void A_move_in_the_apps_own_collection_goes_to_where_reading_all_of_it_would_put_it()
    {
        int cheap = 0, ordered = 0, children = 0;
        Gen.Select(Gen.Bool, Gen.Bool, Gen.Int).Sample((byChildren, shuffled, seed) =>
        {
            var random = new Random(seed);
            var all = new List<Work>();
            var roots = new ObservableCollection<Work>();
            for (var id = 0; id < 60; id++)
            {
                var below = random.Next(3) == 0 || id == 0 ? null : all[random.Next(id)];
                all.Add(new(id, new ObservableCollection<Work>()) { Below = below?.Id });
                (below?.Children ?? roots).Add(all[id]);
            }
            IEnumerable<Work> Walk(IEnumerable<Work> works) => works.SelectMany(w => Walk(w.Children).Prepend(w));
            ObservableCollection<Work> flat = [.. shuffled ? Walk(roots).OrderBy(_ => random.Next()) : Walk(roots)];
            var asked = 0;
            var source = byChildren ? roots : flat;
            using var list = InteractiveList.Of(source, w => w.Id, new ListOptions { Mode = SelectionMode.Multiple, MayMove = true });
            int? BelowOf(Work work)
            {
                asked++;
                return work.Below;
            }
            list.Outline = byChildren ? Outline.ByChildren<Work, int>(w => (IReadOnlyList<Work>)w.Children)
                : Outline.ByParent<Work, int>(BelowOf) with { Assign = (w, parent) => w.Below = parent?.Id };
            list.ExpandAll();
            string Shown() => Told(list);
            list.SelectedKeys = [7, 21, 40];
            for (var step = 0; step < 8; step++)
            {
                var own = !byChildren || random.Next(3) == 0 ? source
                    : (ObservableCollection<Work>)all[random.Next(all.Count)].Children;
                if (own.Count < 2) continue;
                var before = Shown();
                asked = 0;
                // Often past its neighbour, as by a button that takes it up by one; of some all the time, so that parents stay first.
                var from = random.Next(own.Count);
                bool IsLeaf(int i) => own[i].Children.Count == 0;
                if (seed % 2 == 0)
                {
                    int[] leaves = [.. Enumerable.Range(1, own.Count - 1)
                        .Where(i => IsLeaf(i) && IsLeaf(i - 1) && own[i].Below == own[i - 1].Below)];
                    if (leaves.Length == 0) continue;
                    from = leaves[random.Next(leaves.Length)];
                }
                own.Move(from, seed % 2 == 0 || random.Next(2) == 0 ? Math.Max(0, from - 1) : random.Next(own.Count));
                var now = Shown();
                if (byChildren) children += now != before ? 1 : 0;
                else if (asked < 60) cheap += now != before ? 1 : 0;
                // A write of the list's own must know whether the source is still in reading order.
                if (step % 3 == 2 && list.MoveToBottom([random.Next(60)]).IsHandled)
                {
                    now = Shown();
                    if (source.Select(w => w.Id).SequenceEqual(Enumerable.Range(0, list.Count).Select(list.KeyAt))) ordered++;
                }
                list.Refresh();
                Assert.Equal(now, Shown());
                Assert.Equal([7, 21, 40], list.SelectedKeys.Order());
            }
        }, iter: Effort.Of(400), threads: 1);
        Assert.True(cheap > 0 && ordered > 0 && children > 0, $"{cheap} cheap, {ordered} in order, {children} of children");
    }

    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public void A_branch_may_leave_the_source_item_by_item_from_the_top(bool live)
    {
        Work[] works = [.. Enumerable.Range(0, 6).Select(i => new Work(i, []) { Below = i is 0 or 5 ? null : i - 1 })];
        IList<Work> source = live ? new ObservableCollection<Work>(works) : works.ToList();
        using var list = InteractiveList.Of((IReadOnlyList<Work>)source, w => w.Id, new ListOptions { Mode = SelectionMode.Multiple });
        list.Outline = Outline.ByParent<Work, int>(w => w.Below);
        list.ExpandAll();
        void Change(Action change)
        {
            change();
            if (!live) list.Refresh();
        }
        // Each of them, but for the first, is not in the list any more as it leaves.
        for (var i = 0; i < 4; i++)
        {
            Change(() => source.Remove(works[i]));
            Assert.Equal([5], Enumerable.Range(0, list.Count).Select(list.KeyAt));
        }
        // They come back from the bottom, and show as soon as what they lie below is there.
        for (var i = 3; i > 0; i--)
        {
            Change(() => source.Insert(0, works[i]));
            Assert.Equal([5], Enumerable.Range(0, list.Count).Select(list.KeyAt));
        }
        Change(() => source.Insert(0, works[0]));
        Assert.Equal(Enumerable.Range(0, 6), Enumerable.Range(0, list.Count).Select(list.KeyAt));
        // What never was there is told.
        var wrong = new Work(9, []) { Below = 77 };
        Assert.Contains("lies below '77', and there is no such item",
            Assert.Throws<OutlineException>(() => Change(() => source.Add(wrong))).Message);
    }
}
