using System.Collections.ObjectModel;
using System.Collections.Specialized;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Moving;
using Lectica.Testing;
using Lectica.Tracing;

namespace Lectica.Tests.Lists;

/// <summary>Handlers that throw, call back or dispose, sources that refuse, and what of a list must not get lost on the way.</summary>
public sealed class HandlerTests
{
    private static readonly ListOptions Many = new()
    {
        Mode = SelectionMode.Multiple,
        MayMove = true,
        ModKey = ModKey.Ctrl,
        Parts = new() { Check = true, Handle = true },
    };

    private static InteractiveList<string, string> Open(IReadOnlyList<string> plan, ListOptions? options = null) =>
        InteractiveList.Of(plan, s => s, options ?? Many);

    private static ObservableCollection<string> Plan(int n, string of = "R") => [.. Enumerable.Range(0, n).Select(i => $"{of}{i}")];

    [Fact]
    public void A_handler_that_throws_silences_nobody_after_it()
    {
        using var list = Open(Plan(4));
        int told = 0, lines = 0;
        var throws = true;
        list.FrameChanged += (_, _) =>
        {
            if (throws) throw new InvalidOperationException("the window is gone");
        };
        list.FrameChanged += (_, _) => told++;
        Assert.Contains("the window is gone", Assert.Throws<InvalidOperationException>(() => list.Select("R1")).Message);
        Assert.Equal(1, told);
        throws = false;
        list.Select("R2");
        Assert.Equal((2, "R2"), (told, list.SelectedKey));

        var plan = Plan(4);
        using var traced = Open(plan);
        traced.SelectAll();
        traced.Traced += _ =>
        {
            if (lines++ is 0 or 2) throw new InvalidOperationException("the disk is full");
        };
        Assert.Equal("the disk is full", Assert.Throws<InvalidOperationException>(() => plan.RemoveAt(1)).Message);
        Assert.Equal("the disk is full", Assert.Throws<InvalidOperationException>(() => plan.Insert(0, "R9")).Message);
        Assert.Equal(["R0", "R2", "R3"], traced.SelectedKeys);
        Assert.Equal((plan.Count, 3), (traced.Count, traced.SelectedCount));
        traced.Toggle("R0");
        Assert.Equal(["R2", "R3"], traced.SelectedKeys);
    }

    [Fact]
    public void A_list_may_be_disposed_in_a_handler_or_a_batch_and_lets_its_source_go()
    {
        var plan = new Watched(Plan(4));
        var list = Open(plan);
        Assert.Equal(1, plan.Listeners);
        var handlers = 0;
        list.SelectionChanged += (_, _) => list.Dispose();
        list.SelectionChanged += (_, _) => handlers++;
        list.Select("R1");
        // It tells nobody anything more, and to ask it is an error.
        Assert.Equal((0, 0), (plan.Listeners, handlers));
        Assert.Throws<ObjectDisposedException>(() => list.Count);

        var batched = Open(plan);
        using (batched.Batch())
        {
            batched.Select("R2");
            batched.Dispose();
        }
        Assert.Equal(0, plan.Listeners);
        plan.Clear();
    }

    private sealed class Watched(IEnumerable<string> items) : ObservableCollection<string>(items)
    {
        private NotifyCollectionChangedEventHandler? _handlers;

        public int Listeners => _handlers?.GetInvocationList().Length ?? 0;

        public override event NotifyCollectionChangedEventHandler? CollectionChanged
        {
            add => _handlers += value;
            remove => _handlers -= value;
        }

        protected override void OnCollectionChanged(NotifyCollectionChangedEventArgs e) => _handlers?.Invoke(this, e);
    }

    [Fact]
    public void A_cancellation_that_throws_or_calls_back_is_the_end_of_its_own_command_alone()
    {
        var list = Open(Plan(4));
        var cancelled = new List<string>();
        Command<string, string> Slow(string id, Action when) => new(id, id)
        {
            Run = (_, token) =>
            {
                var end = new TaskCompletionSource<CommandResult>();
                token.Register(() =>
                {
                    cancelled.Add(id);
                    end.TrySetCanceled(CancellationToken.None);
                    when();
                });
                return end.Task;
            },
        };
        list.Commands = [Slow("throws", () => throw new InvalidOperationException("no")), Slow("calls", () => list.Select("R3")),
            Slow("last", () => { })];
        list.RunCommand("throws", "R0");
        list.RunCommand("calls", "R1");
        list.RunCommand("last", "R2");
        Assert.Equal(3, list.RunningCommands.Count());
        Assert.Contains(
            "'throws' threw: A callback of its cancellation threw", Assert.Throws<CommandException>(list.CancelCommands).Message);
        Assert.Equal(["calls", "last", "throws"], cancelled.Order());
        Assert.Equal("R3", list.SelectedKey);
        cancelled.Clear();
        list.RunCommand("calls", "R1");
        list.RunCommand("last", "R2");
        list.Dispose();
        Assert.Equal(["calls", "last"], cancelled.Order());
    }

    private sealed class Refusing(IEnumerable<string> items) : ObservableCollection<string>(items)
    {
        public bool RefusesToRemove { get; set; }

        public bool RefusesTheSecond { get; set; }

        protected override void RemoveItem(int index)
        {
            if (RefusesToRemove) throw new InvalidOperationException("the plan is locked");
            base.RemoveItem(index);
        }

        protected override void InsertItem(int index, string item)
        {
            if (RefusesTheSecond && item == "R2") throw new InvalidOperationException("no such field here");
            base.InsertItem(index, item);
        }
    }

    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public void A_transfer_happens_in_both_lists_or_in_neither(bool sourceRefuses)
    {
        Refusing left = new(Plan(4)), right = new(Plan(3, "S"));
        using var from = Open(left);
        using var to = Open(right);
        var group = new ListGroup<string, string>();
        group.Add(from, () => new(0, 0));
        group.Add(to, () => new(500, 0));
        (left.RefusesToRemove, right.RefusesTheSecond) = (sourceRefuses, !sourceRefuses);
        Response? answer = null;
        var thrown = Record.Exception(() => answer = group.Send(from, to, ["R1", "R2"]));
        Assert.True(thrown is not null || answer?.Refusal is not null);
        (left.RefusesToRemove, right.RefusesTheSecond) = (false, false);
        Assert.Equal(["R0", "R1", "R2", "R3"], left);
        Assert.Equal(["S0", "S1", "S2"], right);
        Assert.Equal((4, 3), (from.Count, to.Count));
        // Both still work.
        Assert.True(group.Send(from, to, ["R1", "R2"]).IsHandled);
        Assert.Equal(["S0", "S1", "S2", "R1", "R2"], right);
        from.Undo();
        Assert.Equal(["R0", "R1", "R2", "R3"], left);
    }

    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public void What_is_carried_over_a_list_that_goes_or_loses_its_rows_comes_home(bool disposes)
    {
        ObservableCollection<string> left = Plan(4), right = Plan(6, "S");
        using var from = Open(left, Many with { Viewport = new(400, 400) });
        using var to = Open(right, Many with { Viewport = new(400, 400) });
        var group = new ListGroup<string, string>();
        group.Add(from, () => new(0, 0));
        group.Add(to, () => new(400, 0));
        var player = ListPlayer.On(from);
        player.Touch.GoTo("handle:R1");
        player.Touch.Down();
        player.Touch.GlideTo(600, 280, 200);
        Assert.NotNull(to.Frame.Grab);
        if (disposes) to.Dispose();
        else
        {
            right.RemoveAt(5);
            right.RemoveAt(4);
            right.Clear();
        }
        player.Touch.GlideTo(620, 300, 100);
        player.Touch.Up();
        Assert.False(from.IsDragging);
        Assert.False(from.IsGrabbing);
        Assert.Equal(4, left.Count + right.Count(r => r[0] == 'R'));
        Assert.Equal(left, Enumerable.Range(0, from.Count).Select(i => from[i]));
    }

    [Fact]
    public void What_may_not_move_within_its_list_does_not_leave_it()
    {
        ObservableCollection<string> left = Plan(3), right = Plan(3, "S");
        using var from = Open(left);
        using var to = Open(right);
        var group = new ListGroup<string, string>();
        group.Add(from, () => new(0, 0));
        group.Add(to, () => new(500, 0));
        from.PinnedWhen = s => s == "R1";
        Assert.Equal(RefusalKind.Pinned, group.Send(from, to, ["R1"]).Refusal?.Kind);
        to.PinnedWhen = s => s == "S0";
        var player = ListPlayer.On(from);
        player.Touch.GoTo("handle:R2");
        player.Touch.Down();
        // Above what is pinned nothing lands; below it, it does.
        player.Touch.GlideTo(600, 10, 200);
        player.Touch.Up();
        Assert.Equal((3, 3), (left.Count, right.Count));
        to.PinnedWhen = null;
        to.SortBy = string.CompareOrdinal;
        Assert.Equal(RefusalKind.Sorted, group.Send(from, to, ["R0"]).Refusal?.Kind);
        Assert.Equal((3, 3), (left.Count, right.Count));
    }

    [Fact]
    public void A_new_step_is_the_end_of_what_could_be_done_again()
    {
        var plan = Plan(4);
        using var list = Open(plan);
        list.MoveToTop(["R2"]);
        list.Undo();
        Assert.True(list.CanRedo);
        list.MoveToBottom(["R0"]);
        Assert.False(list.CanRedo);
        Assert.NotNull(list.Redo().Refusal);
        Assert.Equal(["R1", "R2", "R3", "R0"], plan);
    }

    [Fact]
    public void Putting_back_what_was_dragged_scrolls_back()
    {
        using var list = Open(Plan(60), Many with { Viewport = new(400, 300) });
        list.ScrollTo(200);
        list.Grab("R5");
        for (var i = 0; i < 20; i++) list.Hover(Direction.Next);
        Assert.NotEqual(200, list.Viewport.ScrollTop);
        list.DropBack();
        Assert.Equal(200, list.Viewport.ScrollTop);
    }

    [Fact]
    public void A_menu_ticks_what_its_command_says_is_on()
    {
        using var list = Open(Plan(3));
        CommandTarget<string, string>? asked = null;
        list.Commands =
        [
            new("pin", "Pin")
            {
                ShowIn = ShowIn.Menu | ShowIn.Toolbar,
                EnabledFor = t => (asked = t).Count > 0,
                CheckedFor = t =>
                {
                    // Both are asked about one target, whose items are read once.
                    Assert.Same(asked, t);
                    return t.Items.All(i => i == "R1");
                },
                Do = _ => { },
            },
            new("all", "All") { Scope = CommandScope.List, ShowIn = ShowIn.Toolbar, CheckedFor = t => t.Count == 0, Do = _ => { } },
            new("lose", "Lose") { ShowIn = ShowIn.Toolbar, Do = _ => { } },
        ];
        // In a toolbar too, in sight or in its overflow menu; with nothing to be done to it is off.
        (bool?, bool?, bool?) Pressed(double width)
        {
            var bar = list.ToolbarFor(width);
            var rest = bar.HasOverflow ? bar.OverflowMenu(width, 44, new(0, 0, 400, 400), false).Entries : [];
            bool? Of(string id) => bar.Shown.FirstOrDefault(e => e.Id == id) is { } tool ? tool.IsChecked : rest.First(e =>
                e.Id == id).IsChecked;
            return (Of("pin"), Of("all"), Of("lose"));
        }
        foreach (var width in (double[])[0, 900])
        {
            list.Clear();
            Assert.Equal((false, true, null), Pressed(width));
            list.Select("R1");
            Assert.Equal((true, true, null), Pressed(width));
            list.Select("R2");
            Assert.Equal((false, true, null), Pressed(width));
        }
        bool? Tick(string key)
        {
            list.OpenMenu(key);
            var isChecked = list.Frame.Menu!.Entries.First(e => e.Id == "pin").IsChecked;
            list.CloseMenu();
            return isChecked;
        }
        Assert.Equal((true, false), (Tick("R1"), Tick("R2")));
    }

    [Fact]
    public void The_keyboard_comes_to_what_is_selected()
    {
        using var list = Open(Plan(9));
        list.SelectedKeys = ["R4", "R6"];
        list.Focus();
        Assert.Equal("R4", list.CursorKey);
        // The first of all it would be, where none is selected; that one cannot be.
        using var all = Open(Plan(4));
        all.EnabledWhen = s => s != "R0";
        all.SelectAll();
        all.Focus();
        Assert.Equal("R1", all.CursorKey);
    }

    [Fact]
    public void A_notice_that_offers_undo_shows_twice_as_long()
    {
        using var list = Open(Plan(3), Many with { NoticeTime = 3000 });
        list.Commands = [new("drop", "Drop") { Notice = _ => "dropped", Do = _ => { }, Inverse = _ => { } },
            new("ring", "Ring") { Notice = _ => "rang", Do = _ => { } }];
        list.RunCommand("ring", "R0");
        var plain = list.Frame.Brief!;
        list.RunCommand("drop", "R0");
        var withUndo = list.Frame.Brief!;
        Assert.Equal((3000, 6000, false, true), (plain.Until, withUndo.Until, plain.OffersUndo, withUndo.OffersUndo));
    }

    [Fact]
    public void A_snapshot_has_whether_items_are_being_selected()
    {
        using var list = Open(Plan(3));
        list.BeginSelecting();
        using var other = Open(Plan(3));
        other.Restore(list.Save());
        Assert.True(other.IsSelecting);
    }

    private sealed class Stubborn(IEnumerable<string> items) : System.Collections.ObjectModel.Collection<string>([.. items])
    {
        private int _left = int.MaxValue;

        /// <summary>After so many more writes one is refused, once.</summary>
        public void RefuseAfter(int writes) => _left = writes;

        protected override void SetItem(int index, string item)
        {
            if (_left-- == 0) throw new InvalidOperationException("this place is taken");
            base.SetItem(index, item);
        }
    }

    [Fact]
    public void A_source_that_refuses_in_the_middle_of_a_move_is_as_it_was()
    {
        var refused = 0;
        for (var after = 0; after < 6; after++)
        {
            var plan = new Stubborn(Plan(6));
            using var list = Open(plan);
            plan.RefuseAfter(after);
            var answer = list.MoveToTop(["R4"]);
            if (answer.Refusal is not { } refusal) continue;
            refused++;
            Assert.Contains("this place is taken", refusal.Reason);
            Assert.Equal(Plan(6), plan);
            Assert.Equal(plan, Enumerable.Range(0, list.Count).Select(i => list[i]));
            Assert.False(list.CanUndo);
        }
        Assert.Equal(5, refused);
    }

    [Fact]
    public void An_item_that_says_it_changed_is_asked_again_whether_it_is_pinned()
    {
        var pinned = new HashSet<string>(["R1"]);
        var plan = Plan(4);
        using var list = Open(plan);
        list.PinnedWhen = pinned.Contains;
        Assert.Equal(RefusalKind.Pinned, list.MoveToTop(["R1"]).Refusal?.Kind);
        pinned.Clear();
        list.Refresh("R1");
        Assert.True(list.MoveToTop(["R1"]).IsHandled);
        Assert.Equal(["R1", "R0", "R2", "R3"], plan);
    }

    [Fact]
    public void What_the_app_has_put_back_itself_is_not_put_back_again()
    {
        var plan = Plan(4);
        using var list = Open(plan);
        list.Commands = [new("drop", "Drop") { Do = t => plan.Remove(t.Items[0]), Inverse = t => plan.Insert(t.Indexes[0], t.Items[0]) }];
        list.RunCommand("drop", "R1");
        plan.Add("R1");
        var refusal = list.Undo().Refusal;
        Assert.Equal(RefusalKind.OutOfDate, refusal?.Kind);
        Assert.Contains("'R1' is in the list again already", refusal?.Reason);
        Assert.Equal(["R0", "R2", "R3", "R1"], plan);
        Assert.False(list.CanUndo);
    }

    [Fact]
    public void What_the_app_has_taken_away_since_is_not_undone()
    {
        var plan = Plan(4);
        using var list = Open(plan);
        var inverted = 0;
        list.Commands = [new("ask", "Ask") { Do = _ => { }, Inverse = _ => inverted++ }];
        list.RunCommand("ask", "R1");
        plan.Remove("R1");
        var refusal = list.Undo().Refusal;
        Assert.Equal(RefusalKind.OutOfDate, refusal?.Kind);
        Assert.Contains("'R1' has left the list since", refusal?.Reason);
        Assert.Equal((0, false), (inverted, list.CanUndo));
    }

    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public void What_is_too_many_edits_back_is_offered_no_more(bool undone)
    {
        var plan = Plan(4);
        using var list = Open(plan);
        list.MoveToTop(["R2"]);
        if (undone) list.Undo();
        bool Offered() => undone ? list.CanRedo : list.CanUndo;
        for (var i = 0; i < 65_530; i++) plan[3] = i % 2 == 0 ? "R9" : "R3";
        Assert.True(Offered());
        for (var i = 0; i < 12; i++) plan[3] = i % 2 == 0 ? "R9" : "R3";
        Assert.False(Offered());
    }

    [Fact]
    public void A_command_for_the_whole_list_waits_for_itself_and_for_no_other()
    {
        using var list = Open(Plan(4));
        var ends = new List<TaskCompletionSource<CommandResult>>();
        Command<string, string> Whole(string id, CommandScope scope) => new(id, id)
        {
            Scope = scope,
            Run = (_, _) =>
            {
                ends.Add(new());
                return ends[^1].Task;
            },
        };
        list.Commands = [Whole("sort", CommandScope.List), Whole("print", CommandScope.List), Whole("star", CommandScope.Items)];
        Assert.True(list.RunCommand("sort").IsHandled);
        Assert.Equal("The command 'sort' is running already.", list.RunCommand("sort").Refusal?.Reason);
        Assert.True(list.RunCommand("print").IsHandled);
        Assert.True(list.RunCommand("star", "R1").IsHandled);
        Assert.Equal(["print", "sort", "star"], list.RunningCommands.Select(r => r.Id).Order());
        ends[0].SetResult(default);
        list.Advance(1);
        Assert.True(list.RunCommand("sort").IsHandled);
    }

    [Fact]
    public void A_range_from_a_hidden_anchor_starts_at_its_neighbour_in_the_order_on_show()
    {
        // North: R0 R2 R4, south: R1 R3 R5.
        using var list = Open(Plan(6));
        list.Sections = new(s => (s[1] - '0') % 2 == 0 ? "north" : "south");
        string[] Range(string anchor, string to)
        {
            list.Filter = null;
            list.Select(anchor);
            list.Filter = s => s != anchor;
            list.ExtendTo(to);
            return [.. list.SelectedKeys.Order()];
        }
        Assert.Equal(["R1", "R3", "R4"], Range("R2", "R3"));
        // The last of its section: the next section's first is nearest; and after the last of all, the one before it.
        Assert.Equal(["R1", "R3"], Range("R4", "R3"));
        Assert.Equal(["R1", "R3"], Range("R5", "R1"));
    }

    [Fact]
    public void A_step_that_fails_after_it_has_changed_something_has_changed_nothing()
    {
        var core = new Shell.Core(new());
        var turns = new Shell.Turns(core);
        var before = core.State;
        var lines = 0;
        core.Out.Traced += _ => lines++;
        Response Change(bool fails)
        {
            core.Commit(before with { Caption = new("Tonight", null) });
            core.Trace(() => new TracedChange { T = 0, Change = "none" });
            return fails ? throw new InvalidOperationException("no") : Response.Handled;
        }
        Assert.Throws<InvalidOperationException>(() => turns.Run(_ => Change(fails: true)));
        Assert.Same(before, core.State);
        Assert.Equal(0, lines);
        turns.Run(_ => Change(fails: false));
        Assert.Equal(("Tonight", 1), (core.State.Caption.Title, lines));
    }

    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public void A_list_that_is_asked_amid_a_thousand_changes_answers_for_what_is_there(bool byCommand)
    {
        var plan = Plan(3000);
        using var list = Open(plan);
        list.SelectOnly(ItemSet.None(3000).WithRange(0, 2000).With(2999));
        var asked = 0;
        void Change()
        {
            for (var i = 0; i < 1000; i++)
            {
                plan.RemoveAt(plan.Count / 3);
                if (i % 90 != 89) continue;
                asked++;
                Assert.Equal((plan.Count, plan[^1], plan.Count - 1), (list.Count, list[^1], list.IndexOf(plan[^1])));
                Assert.Equal(plan.Where(r => int.Parse(r[1..], System.Globalization.CultureInfo.InvariantCulture) is < 2000 or 2999),
                    list.SelectedItems);
            }
        }
        var told = new List<int>();
        list.SelectionChanged += (_, e) => told.Add(e.Removed.Count);
        if (byCommand)
        {
            list.Commands = [new("thin", "Thin") { Scope = CommandScope.List, Do = _ => Change() }];
            list.RunCommand("thin");
        }
        else
        {
            using (list.Batch()) Change();
        }
        Assert.Equal(11, asked);
        Assert.Equal(plan, Enumerable.Range(0, list.Count).Select(i => list[i]));
        Assert.Equal([2001 - list.SelectedCount], told);
    }
}
