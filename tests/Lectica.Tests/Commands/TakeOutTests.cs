using System.Collections.ObjectModel;
using CsCheck;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Items;

namespace Lectica.Tests.Commands;

/// <summary>What a command takes out of the source by the list itself, and puts back.</summary>
public class TakeOutTests
{
    // The same list three times: whose command writes the source by hand, or has the list do it, also taking it back, or leaves that to it.
    private sealed class Trio
    {
        public Trio(bool isPlain, bool hasKeys, bool checks, int count)
        {
            string[] items = [.. Enumerable.Range(0, count).Select(i => $"R{i}")];
            ByHand = Make(byHand: true);
            ByList = Make(byHand: false);
            ByItself = Make(byHand: false, hasInverse: false);
            (IList<string> Plan, IHostedList List, Func<ItemSet, Response> Select, Func<string> Told) Make(
                bool byHand, bool hasInverse = true)
            {
                IList<string> plan = isPlain ? items.ToList() : (IList<string>)new ObservableCollection<string>(items);
                var options = new ListOptions { MayMove = true, Mode = SelectionMode.Multiple, ChecksKeys = checks };
                return hasKeys ? Ready(InteractiveList.Of((IReadOnlyList<string>)plan, r => r, options), plan, byHand, hasInverse)
                    : Ready(InteractiveList.Of((IReadOnlyList<string>)plan, options), plan, byHand, hasInverse);
            }
        }

        public (IList<string> Plan, IHostedList List, Func<ItemSet, Response> Select, Func<string> Told) ByHand { get; }

        public (IList<string> Plan, IHostedList List, Func<ItemSet, Response> Select, Func<string> Told) ByList { get; }

        public (IList<string> Plan, IHostedList List, Func<ItemSet, Response> Select, Func<string> Told) ByItself { get; }

        private static (IList<string> Plan, IHostedList List, Func<ItemSet, Response> Select, Func<string> Told) Ready<TKey>(
            InteractiveList<string, TKey> list, IList<string> plan, bool byHand, bool hasInverse) where TKey : notnull
        {
            var told = new List<string>();
            list.SelectionChanged += (_, e) =>
                told.Add($"+{string.Join(",", e.AddedItems)} -{string.Join(",", e.RemovedItems)} of {string.Join(",", e.Removed)}");
            list.FrameChanged += (_, _) => told.Add("frame");
            list.Commands =
            [
                new("withdraw", "Withdraw")
                {
                    Do = !byHand ? list.TakeOut : target =>
                    {
                        foreach (var item in target.Items) plan.Remove(item);
                        list.Refresh();
                    },
                    Inverse = !hasInverse ? null : !byHand ? list.PutBack : target =>
                    {
                        for (var i = 0; i < target.Count; i++)
                            if (!plan.Contains(target.Items[i])) plan.Insert(target.Indexes[i], target.Items[i]);
                        list.Refresh();
                    },
                },
            ];
            return (plan, list, list.SelectOnly, () =>
            {
                Assert.Equal(plan, Enumerable.Range(0, list.Count).Select(i => list[i]));
                var all = $"{string.Join(" ", plan)} | {string.Join(" ", list.SelectedItems.Order())} | {string.Join(" ", told)}";
                told.Clear();
                return all;
            }
            );
        }
    }

    [Fact]
    public void Takes_out_and_puts_back_what_a_command_would_by_hand_and_tells_of_it_the_same()
    {
        int blocks = 0, scattered = 0, back = 0, again = 0, collections = 0, keyless = 0;
        Gen.Select(Gen.Bool, Gen.Bool, Gen.Bool, Gen.Int[0, 400], Gen.Select(Gen.Int[0, 4], Gen.Int[0, 999], Gen.Int[0, 999]).Array[1, 10])
            .Sample((isPlain, hasKeys, checks, count, steps) =>
        {
            var trio = new Trio(isPlain, hasKeys, checks, count);
            var fresh = 0;
            (collections, keyless) = (collections + (isPlain ? 0 : 1), keyless + (hasKeys ? 0 : 1));
            void All(Func<IHostedList, IList<string>, Func<ItemSet, Response>, bool> act)
            {
                var wanted = act(trio.ByHand.List, trio.ByHand.Plan, trio.ByHand.Select);
                Assert.Equal(wanted, act(trio.ByList.List, trio.ByList.Plan, trio.ByList.Select));
                Assert.Equal(wanted, act(trio.ByItself.List, trio.ByItself.Plan, trio.ByItself.Select));
            }
            foreach (var (what, a, b) in steps)
            {
                var n = trio.ByHand.Plan.Count;
                int from = n == 0 ? 0 : a % n;
                var isBlock = b % 3 > 0;
                if (what < 2)
                {
                    var set = ItemSet.Of(n, Enumerable.Range(0, n)
                        .Where(i => isBlock ? i >= from && i <= from + (b % 150) : ((i * 7) + a) % 10 < 1 + (b % 5)));
                    (blocks, scattered) = (blocks + (isBlock ? 1 : 0), scattered + (set.Ranges().Count() > 64 ? 1 : 0));
                    All((list, _, select) => select(set).IsHandled | list.RunCommand("withdraw").IsHandled);
                }
                else if (what == 2)
                {
                    All((list, plan, _) =>
                    {
                        for (var i = 0; i < b % 20; i++) plan.Insert(Math.Min(from + i, plan.Count), $"N{fresh + i}");
                        if (isPlain) ((dynamic)list).Refresh();
                        return true;
                    });
                    fresh += b % 20;
                }
                else if (what == 3)
                {
                    var was = trio.ByList.Plan.Count;
                    All((list, _, _) => ((dynamic)list).Undo().IsHandled);
                    if (trio.ByList.Plan.Count > was) back++;
                }
                else
                {
                    var was = trio.ByList.Plan.Count;
                    All((list, _, _) => ((dynamic)list).Redo().IsHandled);
                    if (trio.ByList.Plan.Count < was) again++;
                }
                var told = trio.ByHand.Told();
                Assert.Equal(told, trio.ByList.Told());
                Assert.Equal(told, trio.ByItself.Told());
            }
        }, iter: Effort.Of(600), threads: 1);
        Assert.True(blocks > 0 && scattered > 0 && back > 0 && again > 0 && collections > 0 && keyless > 0,
            $"{blocks} {scattered} {back} {again} {collections} {keyless}");
    }

    /// <summary>Items without keys that are all equal are told apart by their places.</summary>
    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public void Of_many_that_are_equal_those_leave_that_were_meant_and_they_come_back_to_their_places(bool hasInverse)
    {
        List<string> plan = [.. Enumerable.Repeat("Plate", 300)];
        var list = InteractiveList.Of(plan, new() { Mode = SelectionMode.Multiple });
        list.Marks = [new("seen")];
        list.Commands = [new("withdraw", "Withdraw") { Do = list.TakeOut, Inverse = hasInverse ? list.PutBack : null }];
        bool[] Seen() => [.. Enumerable.Range(0, list.Count).Select(i => list.Marked("seen").Contains(i))];
        list.SetMark("seen", ItemSet.Where(300, i => i % 3 == 0), true);
        bool[] before = Seen();
        list.SelectOnly(ItemSet.Where(300, i => i % 2 == 1));
        Assert.True(list.RunCommand("withdraw").IsHandled);
        Assert.Equal((150, 150), (plan.Count, list.Count));
        Assert.Equal(before.Where((_, i) => i % 2 == 0), Seen());
        Assert.True(list.Undo().IsHandled);
        Assert.Equal(before, Seen());
        Assert.True(list.Redo().IsHandled);
        Assert.Equal(before.Where((_, i) => i % 2 == 0), Seen());
        Assert.True(list.Undo().IsHandled);
        Assert.Equal(before, Seen());
    }

    private static InteractiveList<string, string> WithWithdraw(IReadOnlyList<string> plan, Func<string, string> keyOf)
    {
        var list = InteractiveList.Of(plan, keyOf, new() { Mode = SelectionMode.Multiple, MayMove = true });
        list.Commands = [new("withdraw", "Withdraw") { Do = list.TakeOut }];
        return list;
    }

    [Fact]
    public void Runs_whose_neighbours_have_changed_places_go_back_beside_them()
    {
        // Read as a whole, and told of move by move.
        foreach (var isLive in (bool[])[false, true])
        {
            string[] rows = [.. "ABCDEFGHIJKLMNOP".Select(letter => $"{letter}")];
            IList<string> plan = isLive ? new ObservableCollection<string>(rows) : rows.ToList();
            var list = WithWithdraw((IReadOnlyList<string>)plan, r => r);
            list.Select("C");
            list.Toggle("L");
            list.RunCommand("withdraw");
            Assert.Equal("A B D E F G H I J K M N O P", string.Join(' ', plan));
            // The app's own: the end comes to the top.
            for (var i = 8; i < 14; i++)
            {
                if (plan is ObservableCollection<string> live) live.Move(i, i - 8);
                else
                {
                    plan.Insert(i - 8, plan[i]);
                    plan.RemoveAt(i + 1);
                }
            }
            if (!isLive) list.Refresh();
            Assert.True(list.Undo().IsHandled);
            Assert.Equal("J K L M N O P A B C D E F G H I", string.Join(' ', plan));
            Assert.Equal(plan, Enumerable.Range(0, list.Count).Select(i => list[i]));
            Assert.True(list.Redo().IsHandled);
            Assert.Equal("J K M N O P A B D E F G H I", string.Join(' ', plan));
        }
    }

    [Fact]
    public void Very_many_that_come_back_are_not_asked_for_their_keys_and_give_way_to_others_that_have_them()
    {
        var asked = 0;
        List<string> plan = [.. Enumerable.Range(0, 20_000).Select(i => $"R{i}")];
        var list = WithWithdraw(plan, r =>
        {
            asked++;
            return r;
        });
        string[] all = [.. plan];
        foreach (var (from, count, isAnother) in ((int, int, bool)[])[(3000, 9000, false), (0, 20_000, false), (15_000, 5000, true)])
        {
            list.Clear();
            list.Select(all[from]);
            list.ExtendTo(all[from + count - 1]);
            Assert.Equal(count, list.SelectedCount);
            list.RunCommand("withdraw");
            Assert.Equal([.. all[..from], .. all[(from + count)..]], plan);
            Assert.Equal((-1, 20_000 - count), (list.IndexOf(all[from + 7]), list.Count));
            asked = 0;
            if (isAnother)
            {
                // The app brings one of them in again itself, and takes it out.
                plan.Insert(0, all[from + 7]);
                list.Refresh();
                Assert.Equal((0, 20_000 - count + 1), (list.IndexOf(all[from + 7]), list.Count));
                plan.RemoveAt(0);
                list.Refresh();
            }
            Assert.True(list.Undo().IsHandled);
            Assert.Equal(all, plan);
            Assert.Equal(all, Enumerable.Range(0, list.Count).Select(i => list[i]));
            for (var i = 0; i < all.Length; i += 61) Assert.Equal(i, list.IndexOf(all[i]));
            if (!isAnother) Assert.InRange(asked, 0, 100);
            else Assert.True(asked > count, $"{asked}");
            Assert.True(list.Redo().IsHandled);
            Assert.Equal(20_000 - count, plan.Count);
            Assert.True(list.Undo().IsHandled);
            Assert.Equal(all, plan);
        }
        // One that is back already cannot come twice: none of them does.
        list.Select(all[15_000]);
        list.ExtendTo(all[^1]);
        list.RunCommand("withdraw");
        plan.Add(all[15_007]);
        list.Refresh();
        Assert.Equal(RefusalKind.OutOfDate, list.Undo().Refusal?.Kind);
        Assert.Equal((15_001, 15_000), (list.Count, list.IndexOf(all[15_007])));
    }

    [Fact]
    public void By_call_it_is_a_step_of_its_own_and_so_is_what_is_put_back()
    {
        List<string> plan = ["A", "B", "C", "D"];
        var list = InteractiveList.Of(plan, r => r, new() { Mode = SelectionMode.Multiple });
        CommandTarget<string, string> kept = null!;
        list.Commands = [new("keep", "Keep") { Do = target => _ = ((kept = target).Items, target.Keys) }];
        list.SelectOnly(ItemSet.Of(4, [1, 2]));
        list.RunCommand("keep");
        list.TakeOut(kept);
        Assert.Equal((2, "Remove"), (list.Count, list.UndoName));
        list.PutBack(kept);
        Assert.Equal((4, "Put back"), (list.Count, list.UndoName));
        foreach (var wanted in (string[])["A D", "A B C D"])
        {
            Assert.True(list.Undo().IsHandled);
            Assert.Equal(wanted, string.Join(" ", plan));
        }
        Assert.True(list.Redo().IsHandled);
        Assert.Equal(["A", "D"], plan);
        // One is there again by itself: it is said, and nothing is done.
        plan.Add("C");
        list.Refresh();
        var refused = list.Undo();
        Assert.Equal(RefusalKind.OutOfDate, refused.Refusal?.Kind);
        Assert.Contains("'C'", refused.Refusal!.Reason);
        Assert.Equal(["A", "D", "C"], plan);
    }

    [Fact]
    public void Where_the_source_cannot_be_written_or_is_not_what_the_list_holds_the_command_fails_and_nothing_is_lost()
    {
        List<string> plan = ["A", "B", "C"];
        var list = InteractiveList.Of(plan, r => r);
        var failed = "";
        void Ready(InteractiveList<string, string> of)
        {
            of.CommandFailed += (_, e) => failed = e.Error.Message;
            of.Commands = [new("withdraw", "Withdraw") { Do = of.TakeOut, Inverse = of.PutBack, Notice = _ => "gone" }];
        }
        Ready(list);
        // Another item stands there, which nobody has told of.
        plan[1] = "X";
        list.RunCommand("withdraw", "B");
        Assert.Contains("What the source holds at 1 is not the item 'B'", failed);
        Assert.Equal(["A", "X", "C"], plan);
        Assert.False(list.Undo().IsHandled);
        Assert.NotEqual("gone", list.BriefNotice?.Text);
        list.Refresh();
        list.RunCommand("withdraw", "X");
        Assert.Equal(["A", "C"], plan);
        Assert.Equal("gone", list.BriefNotice?.Text);
        // It cannot come back where its key is taken.
        plan.Insert(0, "X");
        list.Refresh();
        Assert.False(list.Undo().IsHandled);
        Assert.Equal(["X", "A", "C"], plan);

        string[] array = ["A", "B"];
        var fixedList = InteractiveList.Of(array, r => r);
        Ready(fixedList);
        fixedList.RunCommand("withdraw", "A");
        Assert.Equal("The source cannot be written.", failed);
        Assert.Equal(2, fixedList.Count);

        var outline = InteractiveList.Of(new List<string> { "A", "B" }, r => r);
        outline.Outline = Outline.ByParent<string, string>(r => r == "B" ? "A" : null!);
        Ready(outline);
        failed = null;
        Assert.True(outline.RunCommand("withdraw", "A").IsHandled);
        Assert.Equal((null, 0), (failed, outline.Count));
        // What lay below them a target does not say: the list alone puts them back.
        outline.Undo();
        Assert.Contains("give the command no Inverse", failed);
        Assert.Equal(0, outline.Count);

        // What the list asks is no time to write.
        var asked = InteractiveList.Of(new List<string> { "A", "B" }, r => r);
        asked.Commands = [new("withdraw", "Withdraw") { EnabledFor = target =>
        {
            asked.TakeOut(target);
            return true;
        }, Do = _ => { } }];
        var refused = asked.RunCommand("withdraw", "A").Refusal!;
        Assert.Contains("while the list asks the app something", refused.Reason);
        Assert.Equal(2, asked.Count);
    }

    private sealed class Stubborn(IEnumerable<string> items) : ObservableCollection<string>(items)
    {
        public string Keeps { get; set; } = "";

        public string Spurns { get; set; } = "";

        protected override void RemoveItem(int index)
        {
            if (this[index] == Keeps) throw new InvalidOperationException($"{Keeps} stays.");
            base.RemoveItem(index);
        }

        protected override void InsertItem(int index, string item)
        {
            if (item == Spurns) throw new InvalidOperationException($"{Spurns} is not wanted.");
            base.InsertItem(index, item);
        }
    }

    [Fact]
    public void A_collection_that_keeps_one_or_does_not_take_one_back_has_all_or_none()
    {
        var plan = new Stubborn(["A", "B", "C", "D", "E", "F"]);
        var list = InteractiveList.Of(plan, r => r, new() { Mode = SelectionMode.Multiple });
        var failed = "";
        list.CommandFailed += (_, e) => failed = e.Error.Message;
        list.Commands = [new("withdraw", "Withdraw") { Do = list.TakeOut, Inverse = list.PutBack }];
        foreach (var keeps in (string[])["A", "B", "D", "F"])
        {
            plan.Keeps = keeps;
            list.SelectOnly(ItemSet.Of(6, [0, 1, 3, 5]));
            list.RunCommand("withdraw");
            Assert.Contains($"{keeps} stays.", failed);
            Assert.Equal(["A", "B", "C", "D", "E", "F"], plan);
            Assert.Equal(plan, Enumerable.Range(0, list.Count).Select(i => list[i]));
        }
        plan.Keeps = "";
        list.SelectOnly(ItemSet.Of(6, [0, 1, 3, 5]));
        Assert.True(list.RunCommand("withdraw").IsHandled);
        Assert.Equal(["C", "E"], plan);
        foreach (var spurns in (string[])["A", "B", "D", "F"])
        {
            plan.Spurns = spurns;
            list.Undo();
            Assert.Contains($"{spurns} is not wanted.", failed);
            Assert.Equal(["C", "E"], plan);
            Assert.Equal(plan, Enumerable.Range(0, list.Count).Select(i => list[i]));
        }
        plan.Spurns = "";
        Assert.True(list.Undo().IsHandled);
        Assert.Equal(["A", "B", "C", "D", "E", "F"], plan);
    }

    [Fact]
    public void Outside_a_command_it_is_done_at_once_and_an_item_that_has_left_is_none_of_it()
    {
        ObservableCollection<string> plan = ["A", "B", "C", "D"];
        var list = InteractiveList.Of(plan, r => r, new() { Mode = SelectionMode.Multiple });
        CommandTarget<string, string> kept = null!;
        list.Commands = [new("keep", "Keep") { Do = target => _ = ((kept = target).Items, target.Keys, target.Indexes) }];
        list.SelectOnly(ItemSet.Of(4, [0, 1, 3]));
        list.RunCommand("keep");
        plan.RemoveAt(1);
        list.TakeOut(kept);
        Assert.Equal(["C"], plan);
        Assert.Equal(1, list.Count);
        // The app has put one back by itself: it is not there twice.
        plan.Add("D");
        list.PutBack(kept);
        Assert.Equal(["A", "B", "C", "D"], plan);
        Assert.Equal(plan, Enumerable.Range(0, list.Count).Select(i => list[i]));
        // So too in the middle of an inverse; the other comes to its index, as if all before it had come to theirs.
        list.Commands =
        [
            new("withdraw", "Withdraw")
            {
                Do = list.TakeOut,
                Inverse = target =>
                {
                    plan.Add(target.Items[0]);
                    list.PutBack(target);
                },
            },
        ];
        list.SelectOnly(ItemSet.Of(4, [0, 2]));
        list.RunCommand("withdraw");
        Assert.True(list.Undo().IsHandled);
        Assert.Equal(["B", "D", "C", "A"], plan);
        Assert.Equal(plan, Enumerable.Range(0, list.Count).Select(i => list[i]));
    }

    private sealed class Plate(int number)
    {
        public int Number { get; } = number;

        public bool IsDone { get; set; }
    }

    [Theory]
    [InlineData(3, true)]
    [InlineData(3, false)]
    [InlineData(6000, true)]
    [InlineData(6000, false)]
    public void A_mark_is_taken_back_from_items_that_have_left_since_and_come_back(int count, bool checks)
    {
        foreach (var (isBound, hasInverse) in ((bool, bool)[])[(true, true), (true, false), (false, true), (false, false)])
        {
            var plan = Enumerable.Range(0, 2 * count).Select(i => new Plate(i)).ToList();
            var list = InteractiveList.Of(plan, p => p.Number, new() { Mode = SelectionMode.Multiple, ChecksKeys = checks });
            list.Marks = [isBound ? new("done") { Get = p => p.IsDone, Set = (p, on) => p.IsDone = on } : new("done")];
            list.Commands = [new("withdraw", "Withdraw") { Do = list.TakeOut, Inverse = hasInverse ? list.PutBack : null }];
            list.SelectOnly(ItemSet.None(2 * count).WithRange(count / 2, count));
            Assert.True(list.ToggleMark("done").IsHandled);
            Assert.True(list.RunCommand("withdraw").IsHandled);
            Assert.Equal((count, 0), (list.Count, list.Marked("done").Count));
            Assert.True(list.Undo().IsHandled);
            Assert.Equal((2 * count, count), (list.Count, list.Marked("done").Count));
            Assert.True(list.Undo().IsHandled);
            Assert.Empty(list.Marked("done"));
            Assert.DoesNotContain(plan, p => p.IsDone);
            Assert.True(list.Redo().IsHandled);
            Assert.Equal(ItemSet.None(2 * count).WithRange(count / 2, count), list.Marked("done"));
        }
    }
}
