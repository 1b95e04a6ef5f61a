using System.Collections.ObjectModel;
using System.ComponentModel;
using CsCheck;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Marking;
using Lectica.Testing;
using Lectica.Tracing;

namespace Lectica.Tests.Lists;

/// <summary>What once went wrong where one concern of a list did not hear of another, each as the user or app meets it.</summary>
public sealed class ConsistencyTests
{
    private static readonly ListOptions Many = new()
    {
        Mode = SelectionMode.Multiple,
        MayMove = true,
        ModKey = ModKey.Ctrl,
        Parts = new() { Check = true, Handle = true },
    };

    private sealed class Field(string id, string night = "tonight") : INotifyPropertyChanged
    {
        public string Id { get; } = id;

        public string Night
        {
            get;
            set => Tell(ref field, value, nameof(Night));
        } = night;

        public bool IsDone
        {
            get;
            set => Tell(ref field, value, nameof(IsDone));
        }

        public string Name
        {
            get;
            set => Tell(ref field, value, nameof(Name));
        } = id;

        public Action? WhenDone { get; set; }

        public int Listeners => PropertyChanged?.GetInvocationList().Length ?? 0;

        public event PropertyChangedEventHandler? PropertyChanged;

        private void Tell<T>(ref T field, T value, string name)
        {
            field = value;
            PropertyChanged?.Invoke(this, new(name));
            if (name == nameof(IsDone)) WhenDone?.Invoke();
        }

        public override string ToString() => Id;
    }

    private static ObservableCollection<Field> Plan(int n, Func<int, string>? night = null) =>
        [.. Enumerable.Range(0, n).Select(i => new Field($"R{i}", night?.Invoke(i) ?? "tonight"))];

    private static InteractiveList<Field, string> Open(IReadOnlyList<Field> plan, ListOptions? options = null)
    {
        var list = InteractiveList.Of(plan, f => f.Id, options ?? Many);
        list.Content = f => new(f.Name);
        return list;
    }

    private static IEnumerable<string> Ids(InteractiveList<Field, string> list) => Enumerable.Range(0, list.Count).Select(i => list[i].Id);

    // ── Cursor, grabs, sections ──

    [Fact]
    public void A_heading_that_goes_leaves_the_cursor_on_a_row()
    {
        var list = Open(Plan(6, i => i < 3 ? "tonight" : "later"));
        list.Sections = new(f => f.Night);
        list.Take(new KeyPress("Home"));
        list.Take(new KeyPress("ArrowDown"));
        list.Take(new KeyPress("End"));
        for (var i = 0; i < 3; i++) list.Take(new KeyPress("ArrowUp"));
        Assert.Equal("later", list.Selection.Heading);
        list.Filter = f => f.Night == "tonight";
        Assert.Null(list.Selection.Heading);
        Assert.Single(list.Frame.Rows, r => r.IsCursor);
        Assert.True(list.Take(new KeyPress("ArrowUp")).IsHandled);
    }

    [Fact]
    public void What_is_set_in_the_middle_of_a_grab_ends_it_or_leaves_it_whole()
    {
        var plan = Plan(5, i => i < 3 ? "tonight" : "later");
        var list = Open(plan);
        list.Sections = new(f => f.Night) { Assign = (f, night) => f.Night = night };
        var player = ListPlayer.On(list);
        // Sorted: nothing has a place to be moved to.
        player.Touch.DragToGap("R0", 2, release: false);
        list.SortBy = (a, b) => string.CompareOrdinal(b.Id, a.Id);
        Assert.False(list.IsGrabbing || list.IsDragging);
        player.Touch.Up();
        Assert.Equal(["R0", "R1", "R2", "R3", "R4"], plan.Select(f => f.Id));
        list.SortBy = null;
        // No sections any more: the gap is one of the list's.
        list.Grab("R1");
        list.Sections = null;
        list.Hover(Direction.Last);
        list.Hover(Direction.Previous);
        Assert.True(list.Drop().IsHandled);
        Assert.Equal(["R0", "R2", "R3", "R1", "R4"], plan.Select(f => f.Id));
        // Hidden: it leaves what is grabbed.
        list.Grab("R1");
        list.Filter = f => f.Id != "R1";
        Assert.False(list.IsGrabbing);
        list.Filter = null;
        list.Marks = [new("done") { Get = f => f.IsDone, Set = (f, v) => f.IsDone = v }];
        list.Filter = f => !f.IsDone;
        list.Grab("R2");
        list.SetMark("done", ItemSet.None(5).With(list.IndexOf("R2")), true);
        Assert.False(list.IsGrabbing);
    }

    [Fact]
    public void A_move_is_taken_back_after_the_sections_were_taken_away()
    {
        var plan = Plan(4, i => i < 2 ? "tonight" : "later");
        var list = Open(plan);
        list.Sections = new(f => f.Night) { Assign = (f, night) => f.Night = night };
        Assert.True(list.MoveToSection(["R0"], "later").IsHandled);
        list.Sections = null;
        Assert.True(list.Undo().IsHandled);
        Assert.Equal(["R0", "R1", "R2", "R3"], plan.Select(f => f.Id));
    }

    [Fact]
    public void An_empty_section_says_whether_the_filter_is_why()
    {
        var list = Open(Plan(2));
        list.Sections = new(f => f.Night) { Order = ["tonight", "later"], EmptyText = s => s.IsFiltered ? "hidden" : "all done" };
        string[] Notices() => [.. list.Frame.Rows.Where(r => r.Kind == RowKind.Notice).Select(r => r.Content.Label)];
        Assert.Equal(["all done"], Notices());
        list.Filter = _ => false;
        Assert.Equal(["hidden", "all done"], Notices());
    }

    [Fact]
    public void Sections_that_came_and_went_are_forgotten()
    {
        var plan = Plan(3);
        var list = Open(plan);
        list.Sections = new(f => f.Night);
        for (var i = 0; i < 300; i++)
        {
            plan[0].Night = $"night {i}";
            if (i % 2 == 0) plan[0] = new("R0", $"night {i}.5");
        }
        Assert.InRange(list.Rows.Sections.Length, 2, 40);
    }

    // ── Selecting ──

    [Fact]
    public void Selecting_ends_when_removals_leave_nothing_selected()
    {
        var plan = Plan(3);
        var list = Open(plan, Many with { EndsSelectingWhenEmpty = true });
        list.BeginSelecting();
        list.Select("R1");
        plan.RemoveAt(1);
        Assert.False(list.IsSelecting);
        list.BeginSelecting();
        list.Select("R0");
        list.Filter = f => f.Id != "R0";
        Assert.False(list.IsSelecting);
    }

    [Fact]
    public void Selecting_by_call_takes_nothing_that_is_hidden_or_disabled()
    {
        var list = Open(Plan(6));
        list.Filter = f => f.Id != "R1";
        list.EnabledWhen = f => f.Id != "R2";
        list.SelectedKeys = ["R1", "R2", "R3"];
        Assert.Equal(["R3"], list.SelectedKeys);
        // What was there to add to has been hidden since.
        list.Filter = null;
        list.Select("R0");
        list.SelectAll();
        list.ExtendTo("R0");
        list.Filter = f => f.Id != "R5";
        list.ExtendAddingTo("R1");
        Assert.DoesNotContain("R5", list.SelectedKeys);
        // What is selected already stays, though it has been disabled since.
        list.Select("R3");
        list.EnabledWhen = f => f.Id != "R3";
        list.SelectedKeys = ["R3", "R4"];
        Assert.Equal(["R3", "R4"], list.SelectedKeys);
    }

    [Fact]
    public void A_long_press_adds_to_what_is_selected_and_a_mouse_keeps_its_own_taps()
    {
        var list = Open(Plan(5), Many with { LongPress = LongPressMeaning.StartSelecting });
        var player = ListPlayer.On(list);
        player.Touch.LongPress("R1");
        player.Press("Escape");
        Assert.Equal((false, 1), (list.IsSelecting, list.SelectedCount));
        player.Touch.LongPress("R3");
        Assert.Equal(["R1", "R3"], list.SelectedKeys);
        player.Touch.LongPress("R4");
        Assert.Equal(["R1", "R3", "R4"], list.SelectedKeys);
        player.Wait(1000);
        player.Mouse.Tap("R0");
        Assert.Equal(["R0"], list.SelectedKeys);
        Assert.True(list.IsSelecting);
    }

    [Fact]
    public void Batches_tell_of_what_came_after_an_edit_in_them()
    {
        foreach (var edit in (Action<InteractiveList<Field, string>, ObservableCollection<Field>>[])[
            (l, _) => l.Refresh(), (l, p) => l.Show([.. p]), (_, p) => p.Move(0, 1), (_, p) => p.Add(new("new"))])
        {
            var plan = Plan(4);
            var list = Open(plan);
            var told = new List<string>();
            list.SelectionChanged += (_, e) =>
            {
                told.AddRange(e.AddedItems.Select(f => "+" + f.Id));
                told.AddRange(e.RemovedItems.Select(f => "-" + f.Id));
            };
            using (list.Batch())
            {
                list.Toggle("R0");
                edit(list, plan);
                list.Toggle("R1");
                list.Toggle("R0");
            }
            foreach (var once in told.Where(t => t[0] == '-').ToList())
            {
                told.Remove(once);
                told.Remove("+" + once[1..]);
            }
            Assert.Equal(["+R1"], told);
        }
    }

    // ── Items that tell ──

    [Fact]
    public void Items_that_tell_are_followed_without_any_mark_and_let_go_with_the_list()
    {
        var plan = Plan(3);
        var list = Open(plan);
        list.Filter = f => !f.IsDone;
        var drawn = 0;
        list.FrameChanged += (_, _) => drawn++;
        plan[1].IsDone = true;
        Assert.Equal([0, 2], list.Rows.Shown);
        plan[0].Name = "Tessil Ring";
        Assert.Equal("Tessil Ring", list.Frame.Rows[0].Content.Label);
        Assert.Equal(2, drawn);
        list.Marks = [new("done") { Get = f => f.IsDone, Set = (f, v) => f.IsDone = v }];
        list.Marks = [];
        Assert.All(plan, f => Assert.Equal(1, f.Listeners));
        var gone = plan[2];
        plan.RemoveAt(2);
        plan[0] = new("R0");
        Assert.Equal(0, gone.Listeners);
        list.Dispose();
        Assert.All(plan, f => Assert.Equal(0, f.Listeners));
    }

    [Fact]
    public void An_item_may_leave_when_it_is_marked()
    {
        var plan = Plan(5);
        foreach (var field in plan) field.WhenDone = () => plan.Remove(field);
        var list = Open(plan);
        list.Marks = [new("done") { Get = f => f.IsDone, Set = (f, v) => f.IsDone = v }, new("seen")];
        list.SetMark("seen", ItemSet.All(5), true);
        Assert.True(list.ToggleMark("done", "R1").IsHandled);
        Assert.Equal(["R0", "R2", "R3", "R4"], Ids(list));
        list.SelectedKeys = ["R0", "R3", "R4"];
        Assert.True(list.ToggleMark("done").IsHandled);
        Assert.Equal(["R2"], Ids(list));
        Assert.Equal((1, 1), (list.Marked("done").Universe, list.Marked("seen").Count));
        Assert.Equal(0, list.SelectedCount);
    }

    [Fact]
    public void Of_one_object_twice_both_rows_are_marked()
    {
        var twice = new Field("twice");
        var list = InteractiveList.Of(new ObservableCollection<Field?> { twice, null, twice }, Many);
        list.Marks = [new("done") { Get = f => f?.IsDone == true, Set = (f, v) => f!.IsDone = v }];
        twice.IsDone = true;
        Assert.Equal([0, 2], list.Marked("done"));
        Assert.Equal("", list.Frame.Rows[1].Content.Label);
        list.Select(list.KeyAt(1));
        Assert.Null(list.SelectedItem);
    }

    [Fact]
    public void Other_objects_for_the_same_keys_are_asked_about_anew()
    {
        var list = Open([new("a"), new("b")]);
        list.Filter = f => !f.IsDone;
        list.EnabledWhen = f => f.Night == "tonight";
        list.Show([new("a") { IsDone = true }, new("b", "later"), new("c")]);
        Assert.Equal([1, 2], list.Rows.Shown);
        Assert.Equal([1], list.Disabled);
    }

    // ── Commands and undo ──

    private static Command<Field, string> Drop(ObservableCollection<Field> plan) => new("drop", "Drop")
    {
        ShowIn = ShowIn.Menu | ShowIn.Toolbar,
        Do = target =>
        {
            foreach (var item in target.Items) plan.Remove(item);
        },
        Inverse = target =>
        {
            foreach (var (item, place) in target.Items.Zip(target.Indexes)) plan.Insert(place, item);
        },
    };

    [Fact]
    public void What_a_command_does_to_the_source_is_one_change()
    {
        var plan = Plan(2000);
        var list = Open(plan);
        list.Commands = [Drop(plan)];
        list.SelectAll();
        int changes = 0, frames = 0, removed = 0;
        list.SelectionChanged += (_, e) =>
        {
            changes++;
            removed += e.Removed.Count;
            Assert.Equal(e.Removed.Count, e.RemovedItems.Count);
        };
        list.FrameChanged += (_, _) => frames++;
        list.RunCommand("drop");
        Assert.Equal((0, 1, 1, 2000), (list.Count, changes, frames, removed));
        list.Undo();
        Assert.Equal(Plan(2000).Select(f => f.Id), plan.Select(f => f.Id));
        Assert.Equal(2, frames);
        Assert.False(list.CanUndo);
    }

    [Fact]
    public void Undo_and_redo_in_any_number_give_the_same_order() =>
        Gen.Select(Gen.Int[0, 4], Gen.Int[0, 99], Gen.Int[0, 99]).Array[1, 8].Sample(doings =>
        {
            var plan = Plan(9);
            var list = Open(plan, Many with { UndoDepth = 50 });
            list.Commands = [Drop(plan)];
            list.Marks = [new("seen")];
            list.SetMark("seen", ItemSet.Of(9, 1, 4, 7), true);
            var states = new List<string> { State() };
            string State() => string.Join(" ", plan.Select(f => f.Id + (list.Marked("seen").Contains(list.IndexOf(f.Id)) ? "*" : "")));
            foreach (var (what, a, b) in doings)
            {
                if (plan.Count == 0) break;
                var keys = plan.Where((_, i) => (i + a) % 3 == 0).Select(f => f.Id).ToList();
                if (keys.Count == 0) continue;
                list.SelectedKeys = keys;
                if (what == 0) list.RunCommand("drop");
                else if (what == 1) list.ToggleMark("seen", keys[0]);
                else list.Move(keys, b % (plan.Count + 1));
                if (State() != states[^1]) states.Add(State());
            }
            for (var round = 0; round < Effort.Of(2); round++)
            {
                for (var i = states.Count - 2; i >= 0; i--)
                {
                    Assert.True(list.Undo().IsHandled);
                    Assert.Equal(states[i], State());
                }
                for (var i = 1; i < states.Count; i++)
                {
                    Assert.True(list.Redo().IsHandled);
                    Assert.Equal(states[i], State());
                }
            }
        }, iter: Effort.Of(500));

    [Fact]
    public void A_neighbour_that_the_app_has_moved_does_not_take_a_place_along()
    {
        var plan = Plan(6);
        var list = Open(plan);
        list.Commands = [Drop(plan)];
        list.RunCommand("drop", "R2");
        plan.Move(2, 0);
        list.Undo();
        Assert.Equal(["R3", "R0", "R1", "R2", "R4", "R5"], plan.Select(f => f.Id));
        list.MoveToTop(["R4"]);
        plan.Move(plan.IndexOf(plan.First(f => f.Id == "R5")), 0);
        list.Undo();
        Assert.Equal(["R5", "R3", "R0", "R1", "R2", "R4"], plan.Select(f => f.Id));
    }

    [Fact]
    public void Redo_goes_on_in_a_list_without_keys_and_not_on_what_is_hidden()
    {
        var plan = new ObservableCollection<string> { "one", "two", "three" };
        var list = InteractiveList.Of(plan, Many);
        list.Commands = [new("drop", "Drop") { Do = t => plan.Remove(t.Item), Inverse = t => plan.Insert(t.Indexes[0], t.Item) }];
        for (var i = 0; i < 3; i++)
        {
            list.RunCommand("drop", list.KeyAt(1));
            list.Undo();
            Assert.True(list.Redo().IsHandled);
            Assert.Equal(["one", "three"], plan);
            Assert.True(list.Undo().IsHandled);
            Assert.Equal(["one", "two", "three"], plan);
        }
        list.Filter = s => s != "two";
        Assert.Equal(RefusalKind.Hidden, list.Redo().Refusal!.Kind);
        list.Filter = null;
        Assert.True(list.Redo().IsHandled);
        list.Undo();
        plan.Remove("two");
        Assert.Contains("'two'", list.Redo().Refusal!.Reason);
    }

    [Fact]
    public void An_inverse_that_throws_takes_nothing_back_and_offers_no_redo()
    {
        var list = Open(Plan(3));
        var fails = true;
        list.Commands =
            [new("star", "Star") { Do = _ => { }, Inverse = _ => { if (fails) throw new InvalidOperationException("cloudy"); } }];
        list.RunCommand("star", "R1");
        Assert.Throws<CommandException>(() => list.Undo());
        Assert.Equal((true, false), (list.CanUndo, list.CanRedo));
        fails = false;
        Assert.True(list.Undo().IsHandled);
        Assert.True(list.CanRedo);
    }

    [Fact]
    public void A_command_waits_only_for_those_that_run_on_its_own_items()
    {
        var list = InteractiveList.Of(Enumerable.Range(0, 10).ToList(), i => i, Many);
        var ends = new TaskCompletionSource<CommandResult>();
        list.Commands = [new("slow", "Slow") { Run = (_, _) => ends.Task, ShowIn = ShowIn.Toolbar | ShowIn.Menu },
            new("fast", "Fast") { Do = _ => { } }];
        Assert.True(list.RunCommand("slow", 5).IsHandled);
        Assert.True(list.RunCommand("fast", 0).IsHandled);
        var refusal = list.RunCommand("fast", 5).Refusal!;
        Assert.Equal((RefusalKind.Running, true), (refusal.Kind, refusal.Reason.Contains("on the item '5'", StringComparison.Ordinal)));
        // What shows a command asks the same.
        list.Select(5);
        Assert.Equal(("cancel:slow", "Cancel Slow", true, true),
            list.ToolbarFor(400).Shown.Single() is var stop ? (stop.Id, stop.Label, stop.IsBusy, stop.IsEnabled) : default);
        list.Select(6);
        Assert.Equal(("slow", "Slow", false, true), list.ToolbarFor(400).Shown.Single() is var slow
            ? (slow.Id, slow.Label, slow.IsBusy, slow.IsEnabled) : default);
        ends.SetResult(new(1));
        Assert.True(list.RunCommand("fast", 5).IsHandled);
    }

    [Fact]
    public void A_toolbar_offers_what_it_would_do_at_the_cursor()
    {
        var plan = Plan(3);
        var list = Open(plan);
        list.Commands = [Drop(plan)];
        Assert.False(list.ToolbarFor(400).Shown.Single().IsEnabled);
        list.MoveCursorTo("R1");
        Assert.True(list.ToolbarFor(400).Shown.Single().IsEnabled);
        Assert.True(list.RunCommand("drop").IsHandled);
        Assert.Equal(["R0", "R2"], Ids(list));
    }

    [Fact]
    public void A_history_of_the_apps_is_all_that_keeps_its_steps()
    {
        var plan = Plan(3);
        var list = Open(plan);
        list.Marks = [new("seen")];
        var kept = new List<WeakReference>();
        list.History = (_, undo, _) => kept.Add(new(undo.Target!));
        for (var i = 0; i < 50; i++) list.ToggleMark("seen", "R1");
        GC.Collect();
        GC.WaitForPendingFinalizers();
        GC.Collect();
        Assert.Equal(50, kept.Count);
        Assert.InRange(kept.Count(k => k.IsAlive), 0, 1);
        Assert.False(list.CanUndo);
        // And one that is kept goes both ways, any number of times.
        (Action Undo, Action Redo)? last = null;
        list.History = (_, undo, redo) => last = (undo, redo);
        list.ToggleMark("seen", "R2");
        for (var i = 0; i < 3; i++)
        {
            last!.Value.Undo();
            Assert.Empty(list.Marked("seen"));
            last.Value.Redo();
            Assert.Single(list.Marked("seen"));
        }
    }

    [Fact]
    public void Commands_that_are_handed_out_are_told_what_changed_and_let_go()
    {
        var list = Open(Plan(3));
        var clear = list.Command(ActKind.Clear);
        var told = 0;
        clear.CanExecuteChanged += (_, _) => told++;
        Assert.False(clear.CanExecute(null));
        list.Title = "Tonight";
        Assert.Equal(0, told);
        list.Select("R1");
        Assert.Equal((true, 1), (clear.CanExecute(null), told));
        list.Select("R2");
        Assert.Equal(1, told);
        List<WeakReference> handed = HandOut(list);
        GC.Collect();
        GC.WaitForPendingFinalizers();
        GC.Collect();
        list.Select("R0");
        Assert.InRange(handed.Count(h => h.IsAlive), 0, 1);

        static List<WeakReference> HandOut(InteractiveList<Field, string> list) => [.. Enumerable.Range(0, 20).Select(_ =>
        {
            var command = list.Command(ActKind.SelectAll);
            command.CanExecuteChanged += (_, _) => { };
            return new WeakReference(command);
        })];
    }

    [Fact]
    public void A_queued_call_tells_its_answer_when_its_turn_has_come()
    {
        var list = Open(Plan(3));
        Response? answer = null;
        list.Tapped += (_, _) =>
        {
            var queued = list.Move(["R0"], 99);
            Assert.True(queued.IsQueued);
            queued.Then(a => answer = a);
            Assert.Null(answer);
        };
        Any.Tap(list, 100, 10, PointerType.Mouse);
        Assert.Equal(RefusalKind.OutsideList, answer!.Value.Refusal!.Kind);
        Response? now = null;
        list.Select("R1").Then(a => now = a);
        Assert.True(now!.Value.IsHandled);
    }

    // ── Declared wrongly ──

    [Fact]
    public void What_cannot_work_is_refused_where_it_is_declared_by_name()
    {
        var list = Open(Plan(2));
        Assert.Contains("'idle' does nothing", Assert.Throws<ArgumentException>(() => list.Commands = [new("idle", "Idle")]).Message);
        Assert.Contains("'done' has a Get and no Set", Assert.Throws<ArgumentException>(
            () => list.Marks = [new("done") { Get = f => f.IsDone }]).Message);
        string Refused(GestureRule rule) => Assert.Throws<ArgumentException>(() => GestureTable.Default.With(rule)).Message;
        Assert.Contains(
            "needs a mark",
            Refused(new("star", Lectica.Gestures.GestureKind.DoubleTap, Pointers.All, HitAreas.Body, [ActKind.ToggleMark])));
        Assert.Contains("begun by Drag or HoldDrag", Refused(
            new("sweep", Lectica.Gestures.GestureKind.Tap, Pointers.All, HitAreas.Body, [ActKind.Sweep])));
        Assert.Contains(
            "needs a direction", Assert.Throws<ArgumentException>(() => KeyTable.Moving.With(new(new("K"), [ActKind.Move]))).Message);
        Assert.Contains("needs a command", Assert.Throws<ArgumentException>(
            () => new ListOptions { Keys = new("own", [new(new("K"), [ActKind.RunCommand])]) }.Validate()).Message);
        // A rule may name what its part does not.
        var named = Open(Plan(2), Many with
        {
            Gestures = GestureTable.Default.With(
                new("double tap stars", Lectica.Gestures.GestureKind.DoubleTap, Pointers.Mouse, HitAreas.Body,
                    [ActKind.ToggleMark])
                { Text = "seen" }),
        });
        named.Marks = [new("seen")];
        Any.Tap(named, 100, 10, PointerType.Mouse);
        Any.Tap(named, 100, 10, PointerType.Mouse, 150);
        Assert.Equal([0], named.Marked("seen"));
        Assert.Throws<ArgumentOutOfRangeException>(() => Open(Plan(1), Many with { RowHeight = 1e308 }));
        Assert.Throws<ArgumentOutOfRangeException>(() => list.Measure([new("R0", 1e308)]));
        Assert.Contains(
            "a list holds 2147483647", Assert.Throws<ArgumentOutOfRangeException>(() => Edit.Splice(int.MaxValue, 0, 0, 1)).Message);
    }

    // ── Identity ──

    [Fact]
    public void Keys_that_are_written_alike_are_refused_at_save_and_others_are_exact()
    {
        var objects = InteractiveList.Of(new List<object> { 1, "1", 1L }, o => o, Many);
        Assert.Contains("written alike, as '1'", Assert.Throws<InvalidOperationException>(() => objects.Save()).Message);
        objects.KeyText = o => $"{o.GetType().Name}:{o}";
        objects.Select("1");
        var saved = objects.Save();
        Assert.Equal(["String:1"], saved.Selected);
        objects.Clear();
        objects.Restore(saved);
        Assert.Equal([(object)"1"], objects.SelectedKeys);
        var noon = new DateTime(2026, 3, 1, 12, 0, 0, DateTimeKind.Utc);
        var dates = InteractiveList.Of(new List<DateTime> { noon, noon.AddTicks(1) }, d => d, Many);
        dates.Select(noon.AddTicks(1));
        var tick = dates.Save();
        dates.Clear();
        dates.Restore(tick);
        Assert.Equal([noon.AddTicks(1)], dates.SelectedKeys);
    }

    [Fact]
    public void Keys_that_are_read_back_are_saved_and_restored_without_a_look_at_each()
    {
        var (written, read) = (0, 0);
        InteractiveList<Version, Version> Listed(int first)
        {
            var list = InteractiveList.Of(Enumerable.Range(first, 20_000).Select(i => new Version(1, i)).ToList(), v => v, Many);
            list.KeyText = v =>
            {
                written++;
                return v.ToString();
            };
            list.KeyOfText = text =>
            {
                read++;
                return Version.TryParse(text, out var version) ? version : null!;
            };
            return list;
        }
        var list = Listed(0);
        list.SelectedKeys = [new(1, 7), new(1, 12_000), new(1, 19_999)];
        (written, read) = (0, 0);
        var saved = list.Save();
        Assert.Equal(["1.7", "1.12000", "1.19999"], saved.Selected);
        Assert.InRange(written + read, 3, 20);
        // A thousand have gone at the front, and a thousand come at the end. What is no key is missing, as is one that has gone.
        var next = Listed(1000);
        (written, read) = (0, 0);
        var report = next.Restore(saved with { Selected = [.. saved.Selected, "nothing"] });
        Assert.InRange(written + read, 3, 20);
        Assert.Equal([new(1, 12_000), new(1, 19_999)], next.SelectedKeys);
        Assert.Equal(["1.7", "nothing"], report.MissingKeys);
        list.KeyOfText = text => new(1, 12_000);
        Assert.Contains("'1.7', and the list's KeyOfText does not", Assert.Throws<InvalidOperationException>(() => list.Save()).Message);
    }

    [Fact]
    public void Keys_that_are_not_checked_stay_right_through_replacements_and_are_asked_for_once()
    {
        var asked = new Dictionary<Field, int>();
        var plan = new ObservableCollection<Field>(Plan(6));
        var list = InteractiveList.Of(
            plan, f => { asked[f] = asked.GetValueOrDefault(f) + 1; return f.Id; }, Many with { ChecksKeys = false });
        list.SelectAll();
        plan[2] = new("other");
        plan[3] = new("R3");
        plan.RemoveAt(0);
        Assert.Equal(["R1", "other", "R3", "R4", "R5"], Enumerable.Range(0, 5).Select(list.KeyAt));
        for (var i = 0; i < 5; i++) Assert.Equal(i, list.IndexOf(plan[i].Id));
        Assert.Equal(["R1", "R3", "R4", "R5"], list.SelectedKeys);
        // Asked once as it comes in: an answer that fails the second time would fail in the middle.
        var strict = new ObservableCollection<Field>(Plan(3));
        var fussy = InteractiveList.Of(strict, f => { asked[f] = asked.GetValueOrDefault(f) + 1; return f.Id; }, Many);
        var comes = new Field("comes");
        strict.Add(comes);
        Assert.Equal(1, asked[comes]);
        var snapshot = new Field("snapshot");
        fussy.Show([.. strict, snapshot]);
        Assert.Equal(1, asked[snapshot]);
    }

    [Fact]
    public void An_item_that_is_its_own_key_is_let_go_when_it_leaves()
    {
        var plan = new ObservableCollection<object>();
        var list = InteractiveList.Of(plan, o => o, Many);
        var gone = Come(plan);
        plan.RemoveAt(0);
        plan.Add("other");
        list.Select("other");
        GC.Collect();
        GC.WaitForPendingFinalizers();
        GC.Collect();
        Assert.False(gone.IsAlive);

        static WeakReference Come(ObservableCollection<object> plan)
        {
            var item = new object();
            plan.Add(item);
            return new(item);
        }
    }

    // ── Numbers and time ──

    [Fact]
    public void A_rows_top_edge_belongs_to_it_whatever_its_height()
    {
        var reached = 0;
        foreach (var height in (double[])[52.3, 33.3, 44.1, 0.1])
            foreach (var rows in (int[])[1000, 1_000_000, int.MaxValue])
                for (long i = 0; i < rows; i += Math.Max(1, rows / 20_011))
                {
                    var geometry = new StackedRows(rows, 400, height);
                    Assert.Equal((int)i, geometry.LineAt(geometry.TopOf(new((int)i)))!.Value.Value);
                    reached++;
                }
        Assert.True(reached > 100_000);
    }

    [Fact]
    public void Times_that_are_no_numbers_go_back_or_are_far_away_do_no_harm()
    {
        var context = new Idle();
        var before = SynchronizationContext.Current;
        SynchronizationContext.SetSynchronizationContext(context);
        try
        {
            var far = Many with
            {
                NoticeTime = 1e13,
                Thresholds = Lectica.Gestures.Thresholds.Default with { Touch = new(10, 1e12, 300, 40) },
            };
            var list = Open(Plan(3), far);
            list.Take(new KeyPress("ArrowDown", Modifiers.None, 5000));
            list.Take(new KeyPress("ArrowDown", Modifiers.None, double.NaN));
            list.Take(new KeyPress("ArrowUp", Modifiers.None, 100));
            list.Take(new KeyPress("o", Modifiers.None, double.PositiveInfinity));
            list.Notify("far");
            list.Flash("R1", "farther", 1e300);
            list.Flash("R2", "no number", double.NaN);
            list.Take(PointerSample.Down(PointerType.Touch, 100, 10, 200));
            list.Take(PointerSample.Up(PointerType.Touch, 100, 10, 90));
            Assert.NotNull(list.BriefNotice);
            list.Dispose();
        }
        finally
        {
            SynchronizationContext.SetSynchronizationContext(before);
        }
    }

    /// <summary>A context that never comes to what is posted to it.</summary>
    private sealed class Idle : SynchronizationContext
    {
        public override void Post(SendOrPostCallback d, object? state)
        {
        }
    }

    // ── Two fingers ──

    [Fact]
    public void Two_fingers_that_overlap_make_no_double_tap_and_verdicts_go_forward()
    {
        var list = Open(Plan(4), Many with { Parts = new() { Marks = ["seen"] } });
        list.Marks = [new("seen")];
        var player = ListPlayer.On(list);
        var taps = new List<int>();
        list.Tapped += (_, e) => taps.Add(e.Count);
        var (a, b) = (player.Finger(1), player.Finger(2));
        foreach (var (x1, x2) in ((double, double)[])[(200, 230), (20, 24)])
        {
            a.MoveTo(x1, 20);
            a.Down();
            player.Wait(110);
            b.MoveTo(x2, 20);
            b.Down();
            player.Wait(20);
            b.Up();
            player.Wait(40);
            a.Up();
            player.Wait(1000);
        }
        Assert.DoesNotContain(2, taps);
        Assert.Equal([0], list.Marked("seen"));
        var times = player.Trace.OfType<TracedGesture>().Select(t => t.T!.Value).ToList();
        Assert.Equal(times.Order(), times);
    }

    [Fact]
    public void A_long_press_that_no_rule_takes_says_so()
    {
        var list = Open(Plan(3), Many with { LongPress = LongPressMeaning.Menu });
        list.EnabledWhen = f => f.Id != "R1";
        var player = ListPlayer.On(list);
        player.Touch.GoTo("R1");
        player.Touch.Down();
        player.Wait(700);
        player.Touch.Up();
        Assert.Single(player.Trace, t => t is TracedGesture { Gesture: "long-press", Recognised: false, Criterion: "no-rule" });
    }
}
