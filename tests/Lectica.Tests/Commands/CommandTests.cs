using System.Collections.ObjectModel;
using System.ComponentModel;
using CsCheck;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Input;
using Lectica.Items;
using Lectica.Marking;
using Lectica.Selecting;
using Lectica.Swiping;
using Lectica.Testing;
using Lectica.Tracing;

namespace Lectica.Tests.Commands;

/// <summary>A command reaches the items that it is meant for, whatever goes on meanwhile, and takes nothing down with it.</summary>
public sealed class CommandTests(ITestOutputHelper output)
{
    internal sealed class Request(string id, string field, int magnitude) : INotifyPropertyChanged
    {
        private bool _isDone;

        public string Id { get; } = id;

        public string Field { get; } = field;

        public int Magnitude { get; } = magnitude;

        public bool Refuses { get; set; }

        public bool IsDone
        {
            get => _isDone;
            set
            {
                if (Refuses) throw new InvalidOperationException("the dome is shut");
                if (_isDone == value) return;
                _isDone = value;
                PropertyChanged?.Invoke(this, new(nameof(IsDone)));
            }
        }

        public event PropertyChangedEventHandler? PropertyChanged;

        public override string ToString() => Field;
    }

    private static ObservableCollection<Request> Plan(int count) =>
        [.. Enumerable.Range(0, count).Select(i => new Request($"R{i:00}", $"Field {i}", i * 7 % 10))];

    private static InteractiveList<Request, string> Open(ObservableCollection<Request> plan, ListOptions? options = null)
    {
        var list = InteractiveList.Of(plan, r => r.Id, options
            ?? new()
            {
                Mode = SelectionMode.Multiple,
                ModKey = ModKey.Ctrl,
                Parts = new() { Check = true, Marks = ["done", "starred"], Menu = true }
            });
        list.Marks = [new("done") { Get = r => r.IsDone, Set = (r, value) => r.IsDone = value, Look = MarkLook.Tick },
            new("starred") { Look = MarkLook.Star }];
        list.Commands =
        [
            new("drop", "Drop")
            {
                ShowIn = ShowIn.TrailingTray | ShowIn.Toolbar, SwipesThrough = true, Role = CommandRole.Destructive,
                    Chords = [new("Delete")], Group = "lose", Notice = t => $"{t.Items.Count} dropped",
                Do = target => { foreach (var request in target.Items) plan.Remove(request); },
                Inverse = target => { for (var i = 0; i < target.Items.Count; i++) plan.Insert(target.Indexes[i], target.Items[i]); },
            },
            new("star", "Star") { ShowIn = ShowIn.LeadingTray, Do = target => list.ToggleMarkOf("starred", target) },
            new("add", "Add")
            {
                Scope = CommandScope.List,
                ShowIn = ShowIn.Toolbar,
                Do = _ => plan.Insert(0, new($"N{plan.Count}", "New", 0)),
            },
        ];
        return list;
    }

    private sealed record Doing(int What, int Item, int Other);

    /// <summary>
    /// Commands, marks and removals at random while filter, sections, order, source and selection change, each checked by key against a
    /// plain model.
    /// </summary>
    [Fact]
    public void Every_effect_reaches_the_items_it_is_meant_for_while_everything_changes()
    {
        var ran = new System.Collections.Concurrent.ConcurrentDictionary<string, int>();
        Gen.Select(Gen.Int[0, 17], Gen.Int[0, 99], Gen.Int[0, 99], (what, item, other) => new Doing(what, item, other)).Array[60].Sample(
            doings =>
        {
            var plan = Plan(14);
            using var list = Open(plan);
            var starred = new HashSet<string>();
            var fresh = 0;
            foreach (var (what, item, other) in doings)
            {
                var key = plan.Count == 0 ? "none" : plan[item % plan.Count].Id;
                string[] shown = [.. list.Rows.InOrder().Select(i => list[i].Id)];
                string[] selected = [.. list.SelectedKeys];
                string[] choosable = [.. shown.Where(k => !list.Disabled.Contains(list.IndexOf(k)))];
                string[] Target(string pressed) =>
                    !choosable.Contains(pressed) ? [] : selected.Contains(pressed)
                    ? [.. plan.Select(r => r.Id).Where(k => selected.Contains(k) && choosable.Contains(k))] : [pressed];
                var order = plan.Select(r => r.Id).ToList();
                var done = plan.Where(r => r.IsDone).Select(r => r.Id).ToHashSet();
                var name = "none";
                switch (what)
                {
                    case 0 or 1:
                        name = "drop";
                        var gone = Target(key);
                        // What is pressed is refused where it is hidden or disabled.
                        var dropped = choosable.Contains(key) ? list.RunCommand("drop", key) : new Response(false);
                        Assert.Equal(gone.Length > 0, dropped.IsHandled);
                        Assert.Equal(order.Except(gone), plan.Select(r => r.Id));
                        starred.ExceptWith(gone);
                        break;
                    case 2:
                        name = "star";
                        var wanted = Target(key);
                        if (choosable.Contains(key)) list.RunCommand("star", key);
                        if (wanted.All(starred.Contains)) starred.ExceptWith(wanted);
                        else starred.UnionWith(wanted);
                        break;
                    case 3:
                        name = "mark one";
                        list.ToggleMark("done", key);
                        if (choosable.Contains(key)) done.SymmetricExceptWith([key]);
                        Assert.True(done.SetEquals(plan.Where(r => r.IsDone).Select(r => r.Id)));
                        break;
                    case 4:
                        name = "mark a section";
                        if (list.Rows.Sections.IsEmpty) break;
                        var section = list.Rows.Sections[other % list.Rows.Sections.Length];
                        string[] inside = [.. choosable.Where(k => section.Members.Contains(list.IndexOf(k)))];
                        list.ToggleMarkOfSection("done", section.Key);
                        if (inside.All(done.Contains)) done.ExceptWith(inside);
                        else done.UnionWith(inside);
                        Assert.True(done.SetEquals(plan.Where(r => r.IsDone).Select(r => r.Id)));
                        break;
                    case 5:
                        name = "undo";
                        list.Undo();
                        starred = [.. list.Marked("starred").Select(i => list[i].Id)];
                        break;
                    case 6:
                        list.Filter = other % 3 == 0 ? null : r => (r.Magnitude + other) % 3 != 0;
                        break;
                    case 7:
                        list.EnabledWhen = other % 3 == 0 ? null : r => (r.Magnitude + other) % 4 != 0;
                        break;
                    case 8:
                        list.Sections = other % 3 == 0 ? null : other % 3 == 1
                            ? new(r => r.IsDone ? "observed" : "waiting")
                            {
                                Order = ["waiting", "observed"],
                                EmptyText = _ => "Nothing here",
                            } : new(r => $"m{r.Magnitude % 3}");
                        break;
                    case 9:
                        list.SortBy = other % 2 == 0 ? null : (a, b) => a.Magnitude.CompareTo(b.Magnitude);
                        break;
                    case 10:
                        plan.Insert(item % (plan.Count + 1), new($"F{fresh++}", "Fresh", other % 10));
                        break;
                    case 11 when plan.Count > 1:
                        plan.Move(item % plan.Count, other % plan.Count);
                        break;
                    case 12 when plan.Count > 0:
                        starred.Remove(key);
                        plan.Remove(plan.First(r => r.Id == key));
                        break;
                    case 13:
                        list.Toggle(key);
                        break;
                    case 14:
                        if (list.Rows.Sections.Length > 0) list.CollapseOrExpand(list.Rows.Sections[other % list.Rows.Sections.Length].Key);
                        break;
                    case 15 when plan.Count > 0:
                        // The app changes an item by itself.
                        plan[item % plan.Count].IsDone ^= true;
                        break;
                    case 16:
                        list.Take(new KeyPress(other % 3 == 0 ? "Delete" : other % 3 == 1 ? "ArrowDown" : "ArrowUp"));
                        starred.IntersectWith(plan.Select(r => r.Id));
                        break;
                    default:
                        if (list.Rows.Sections.Length > 0) list.ToggleSection(list.Rows.Sections[other % list.Rows.Sections.Length].Key);
                        break;
                }
                ran.AddOrUpdate(name, 1, (_, n) => n + 1);
                Consistent(list, plan, starred);
            }
        }, iter: Effort.Of(400));
        output.WriteLine(string.Join(", ", ran.Select(r => $"{r.Key} {r.Value:N0}")));
    }

    /// <summary>Every row is what the model says, in the order that it says, and every set is over the items that there are.</summary>
    private static void Consistent(InteractiveList<Request, string> list, IList<Request> plan, HashSet<string> starred)
    {
        Assert.Equal(plan.Select(r => r.Id), Enumerable.Range(0, list.Count).Select(i => list[i].Id));
        Assert.True(starred.SetEquals(list.Marked("starred").Select(i => list[i].Id)),
            $"starred: {string.Join(",", starred)} and {string.Join(",", list.Marked("starred").Select(i => list[i].Id))}");
        Assert.True(plan.Where(r => r.IsDone).Select(r => r.Id).ToHashSet().SetEquals(list.Marked("done").Select(i => list[i].Id)));
        var shown = plan.Where(r => list.Filter?.Invoke(r) ?? true).ToList();
        if (list.SortBy is { } compare) shown = [.. shown.Order(Comparer<Request>.Create(compare))];
        var expected = new List<string>();
        if (list.Sections is not { } sections) expected.AddRange(shown.Select(r => r.Id));
        else
            foreach (var section in list.Rows.Sections)
            {
                var members = shown.Where(r => sections.Of(r) == section.Key).Select(r => r.Id).ToList();
                if (members.Count == 0 && section.Empty is null) continue;
                expected.Add("#" + section.Key);
                if (section.IsCollapsed) continue;
                expected.AddRange(members);
                if (members.Count == 0) expected.Add("!" + section.Key);
            }
        var rows = Enumerable.Range(0, list.Rows.Count).Select(r => list.Rows.EntryAt(new(r))).Select(e => e.Kind switch
        {
            RowKind.Item => list[e.Index].Id,
            RowKind.Heading => "#" + list.Rows.Sections[e.Section].Key,
            _ => e.Section < 0 ? "" : "!" + list.Rows.Sections[e.Section].Key,
        }).Where(r => r.Length > 0).ToList();
        Assert.True(expected.SequenceEqual(rows),
            $"{string.Join(" ", expected)}\n{string.Join(" ", rows)}\n{list.SortBy is not null} {list.Filter is not null}");
        foreach (var (entry, row) in Enumerable.Range(0, list.Rows.Count).Select(r => (list.Rows.EntryAt(new(r)), r)))
        {
            if (entry.Kind == RowKind.Item) Assert.Equal(row, list.Rows.RowOf(entry.Index)!.Value.Value);
            // The geometry finds each row by its top, its middle and its last pixel.
            var geometry = list.Plane.Geometry;
            foreach (var y in new[] { 0, geometry.HeightOf(new(row)) / 2, geometry.HeightOf(new(row)) - 0.01 })
                Assert.Equal(row, geometry.LineAt(geometry.TopOf(new(row)) + y)!.Value.Value);
        }
        Assert.True(list.Selection.Cursor < list.Count);
        _ = list.Frame;
    }

    [Fact]
    public void A_command_appears_in_menu_tray_toolbar_and_keys_and_does_the_same_from_each()
    {
        foreach (var way in (Action<ListPlayer<Request, string>>[])
        [
            p => p.Touch.Swipe("R03", Edge.Trailing, 240),
                p => { p.Touch.Swipe("R03", Edge.Trailing, 70, 300); p.Touch.Tap("tray:drop:R03"); },
            p => { p.Mouse.SecondaryTap("R03"); p.Press("Home"); p.Press("Enter"); },
                p => { p.Touch.Tap("menu:R03"); p.List.ChooseEntry("drop"); },
            p => { p.List.MoveCursorTo("R03"); p.Press("Delete"); },
                p => { p.List.MoveCursorTo("R03"); p.Press("Shift+F10"); p.Type("dr"); p.Press("Enter"); },
                    p => p.List.RunCommand("drop", "R03"),
        ])
        {
            var plan = Plan(8);
            var player = ListPlayer.On(Open(plan));
            var told = new List<string>();
            player.List.CommandRan += (_, e) => told.Add($"{e.Command.Id} {string.Join("+", e.Target.Keys)} {e.Result.Count}");
            way(player);
            Assert.True(told is ["drop R03 1"],
                string.Join("; ", told) + "\n" + string.Join("\n", player.Trace.Where(l => l is not TracedInput).Select(l => l.ToJson())));
            Assert.DoesNotContain(plan, r => r.Id == "R03");
            Assert.Equal("1 dropped", player.List.BriefNotice!.Text);
            player.List.UndoFromNotice();
            Assert.Equal(Enumerable.Range(0, 8).Select(i => $"R{i:00}"), plan.Select(r => r.Id));
            Assert.Null(player.List.BriefNotice);
            player.List.Redo();
            Assert.DoesNotContain(plan, r => r.Id == "R03");
        }
    }

    [Fact]
    public void The_secondary_button_opens_the_menu_anywhere_on_a_row_and_what_begins_elsewhere_closes_it()
    {
        static ListPlayer<Request, string> Player() => ListPlayer.On(
            Open(Plan(8), new()
            {
                Mode = SelectionMode.Multiple,
                MayMove = true,
                Parts = new() { Check = true, Marks = ["done"], Menu = true, Handle = true },
            }));
        foreach (var part in (string[])["", "check:", "mark:done:", "menu:", "handle:"])
            foreach (var down in (Modifiers[])[Modifiers.None, Modifiers.Shift, Modifiers.Ctrl, Modifiers.Ctrl | Modifiers.Shift])
            {
                var player = Player();
                player.Modifiers = down;
                player.Mouse.SecondaryTap(part + "R03");
                Assert.Equal((true, "R03"), (player.List.IsMenuOpen, string.Join(" ", player.List.SelectedKeys)));
                // The next one is for another row; beside the rows it is for none.
                player.Mouse.SecondaryTap(part + "R00");
                Assert.Equal((true, "R00"), (player.List.IsMenuOpen, string.Join(" ", player.List.SelectedKeys)));
                TapAt(player, 200, 500, 2);
                Assert.False(player.List.IsMenuOpen);
                // A tap elsewhere does nothing else, and one on an entry chooses it.
                player.List.OpenMenu("R06");
                player.Mouse.Tap(part + "R01");
                Assert.Equal((false, "R00"), (player.List.IsMenuOpen, string.Join(" ", player.List.SelectedKeys)));
                player.List.OpenMenu("R06");
                var bounds = player.List.Frame.Menu!.Bounds;
                string? chosen = null;
                player.List.CommandRan += (_, e) => chosen = e.Command.Id;
                TapAt(player, bounds.Left + 20, bounds.Top + 20, 0);
                Assert.Equal((false, "drop"), (player.List.IsMenuOpen, chosen));
            }
        // Nothing can be done to a disabled item, and yet a press on it is one beside the menu.
        foreach (var button in (int[])[0, 2])
        {
            var player = Player();
            player.List.EnabledWhen = r => r.Id != "R01";
            player.List.OpenMenu("R06");
            player.Mouse.Tap("R01", button);
            Assert.Equal((false, ""), (player.List.IsMenuOpen, string.Join(" ", player.List.SelectedKeys)));
            player.Touch.Swipe("R03", Edge.Trailing, 70, 300);
            Assert.NotNull(player.List.StateLine().Open);
            player.Mouse.Tap("R01", button);
            Assert.Equal(button == 0, player.List.StateLine().Open is null);
        }
        static void TapAt(ListPlayer<Request, string> player, double x, double y, int button)
        {
            player.Mouse.GlideTo(x, y, 50);
            player.Wait(500);
            player.Mouse.Down(button);
            player.Mouse.Up(button);
        }
        foreach (var stroke in (Action<ListPlayer<Request, string>>[])
        [
            p => p.Mouse.DragToGap("handle:R01", 0, release: false),
            p => p.Mouse.DragToGap("R01", 0, release: false),
            p => p.Touch.Swipe("R01", Edge.Trailing, 70, release: false),
            p =>
            {
                p.Mouse.GlideTo(200, 500, 50);
                p.Mouse.Down();
                p.Mouse.GlideTo(200, 20, 100);
            },
        ])
        {
            var player = Player();
            player.List.OpenMenu("R06");
            stroke(player);
            Assert.Equal((true, false), (player.List.HoldsPointer, player.List.IsMenuOpen));
        }
    }

    [Fact]
    public void A_tap_that_ended_something_is_no_half_of_a_double_tap()
    {
        foreach (var open in (Action<ListPlayer<Request, string>>[])
        [
            p => p.List.OpenMenu("R06"),
            p => p.Touch.Swipe("R03", Edge.Trailing, 70, 300),
            p => p.List.Grab("R03"),
            p => p.Mouse.Tap("R06", button: 2),
        ])
        {
            var player = ListPlayer.On(Open(Plan(8), new() { Mode = SelectionMode.Multiple, MayMove = true }));
            player.List.EnabledWhen = r => r.Id != "R02";
            var activated = 0;
            player.List.Activated += (_, _) => activated++;
            bool IsGoing() => player.List.IsMenuOpen || player.List.IsTrayOpen || player.List.IsGrabbing;
            open(player);
            Assert.True(IsGoing());
            player.Mouse.DoubleTap("R01");
            // The first ended what was open or carried, the second is a tap like any other.
            Assert.False(IsGoing());
            Assert.Equal((0, "R01"), (activated, string.Join(" ", player.List.SelectedKeys)));
            player.Wait(500);
            player.Mouse.DoubleTap("R01");
            Assert.Equal(1, activated);
            // So it is on what is disabled.
            player.Wait(500);
            open(player);
            player.Mouse.Tap("R02");
            Assert.Equal((false, true), (IsGoing(), player.List.Frame.Rows.Any(r => r.KeyText == "R02")));
        }
    }

    [Fact]
    public void Boxes_and_marks_answer_whatever_modifiers_are_down()
    {
        foreach (var down in (Modifiers[])
            [Modifiers.None, Modifiers.Shift, Modifiers.Ctrl, Modifiers.Alt, Modifiers.Ctrl | Modifiers.Shift])
        {
            var plan = Plan(8);
            var player = ListPlayer.On(Open(plan));
            player.Mouse.Tap("check:R01");
            player.Modifiers = down;
            player.Mouse.Tap("check:R03");
            // With Shift alone a box stands for all from where the range begins.
            Assert.Equal(down == Modifiers.Shift ? "R01 R02 R03" : "R01 R03", string.Join(" ", player.List.SelectedKeys));
            player.Mouse.Tap("mark:done:R05");
            player.Mouse.DoubleTap("mark:done:R06");
            Assert.Equal("R05", string.Join(" ", plan.Where(r => r.IsDone).Select(r => r.Id)));
        }
    }

    [Fact]
    public void Where_a_long_press_does_not_open_the_menu_rows_have_a_button_for_it()
    {
        foreach (var meaning in Enum.GetValues<LongPressMeaning>())
        {
            var player = ListPlayer.On(Open(Plan(4), new() { LongPress = meaning, Mode = SelectionMode.Multiple }));
            Assert.Equal(meaning != LongPressMeaning.Menu, player.List.Frame.Rows[0].Parts.Any(p => p.Part.Kind == Layout.PartKind.Menu));
            if (meaning == LongPressMeaning.Menu) player.Touch.LongPress("R02");
            else player.Touch.Tap("menu:R02");
            Assert.True(player.List.IsMenuOpen);
            // What the menu is for is seen while it is open: one item by its look, a selection by itself.
            string Pressed() => string.Join(" ", player.List.Frame.Rows.Where(r => r.IsPressed).Select(r => r.KeyText));
            Assert.Equal("R02", Pressed());
            player.Press("Escape");
            Assert.Equal("", Pressed());
            player.List.SelectedKeys = ["R01", "R02"];
            player.List.OpenMenu("R02");
            Assert.Equal("", Pressed());
        }
    }

    [Fact]
    public void Marks_that_cannot_work_are_refused_with_what_would()
    {
        using var list = InteractiveList.Of(Plan(3), r => r.Id, new()
        {
            Mode = SelectionMode.Multiple,
            Parts = new() { Marks = ["seen"] },
            SpaceMark = "done",
        });
        string Said(params Mark<Request>[] marks) => Assert.Throws<ArgumentException>(() => list.Marks = [.. marks]).Message;
        Mark<Request> seen = new("seen"), done = new("done");
        Assert.Equal("Two marks have the name 'seen'; each needs its own.", Said(seen, done, new("seen")));
        Assert.Equal("The mark 'done' has a Get and no Set: give both, or none to let the list keep it.",
            Said(seen, done with { Get = _ => true }));
        Assert.Equal("The mark 'done' has a Set and no Get: give both, or none to let the list keep it.",
            Said(seen, done with { Set = (_, _) => { } }));
        Assert.Equal("Rows are to show the mark 'seen', which is not declared; there are done, extra.", Said(done, new("extra")));
        Assert.Equal("Space is to turn the mark 'done', which is not declared; there are seen, extra.", Said(seen, new("extra")));
        // None at all are no mistake: they may come later.
        list.Marks = [];
        list.Marks = [seen, done];
        Assert.Equal(2, list.Marks.Length);
    }

    /// <summary>A target is marked where its items are, however the list has changed; another list's is looked up by its keys.</summary>
    [Fact]
    public void A_command_may_mark_its_target_at_any_time_and_in_any_list()
    {
        var (plan, other) = (Plan(10), Plan(10));
        using InteractiveList<Request, string> list = Open(plan), next = Open(other);
        CommandTarget<Request, string>? target = null;
        TaskCompletionSource<CommandResult>? done = null;
        list.Commands = [new("keep", "Keep")
        {
            Run = (given, _) =>
            {
                target = given;
                return (done = new()).Task;
            },
        }];
        string[] Starred(InteractiveList<Request, string> l) => [.. l.Marked("starred").Select(i => l[i].Id)];
        list.SelectOnly(ItemSet.Of(10, [3, 5, 6]));
        Assert.True(list.RunCommand("keep").IsHandled);
        Assert.True(list.ToggleMarkOf("starred", target!).IsHandled);
        Assert.Equal(["R03", "R05", "R06"], Starred(list));

        // One of them has left, and others have come above them.
        plan.Move(9, 0);
        plan.Remove(plan.Single(r => r.Id == "R05"));
        Assert.True(list.ToggleMarkOf("starred", target!).IsHandled);
        Assert.Empty(Starred(list));
        Assert.Equal(["R03", "R05", "R06"], target!.Keys);

        // Of another list, which has as many edits behind it; and one that the app has made.
        other.Move(9, 0);
        other.RemoveAt(1);
        Assert.True(next.ToggleMarkOf("starred", target!).IsHandled);
        Assert.Equal(["R03", "R05", "R06"], Starred(next));
        Assert.True(next.ToggleMarkOf("starred", new CommandTarget<Request, string>([plan[0]], [plan[0].Id], [0])).IsHandled);
        Assert.Equal(["R09", "R03", "R05", "R06"], Starred(next));

        // Once it has ended, what nobody has looked at is not read of others.
        done!.SetResult(new(3));
        Ended(list);
        list.SelectOnly(ItemSet.Of(9, [2, 4]));
        Assert.True(list.RunCommand("keep").IsHandled);
        done.SetResult(new(2));
        Ended(list);
        plan.RemoveAt(0);
        Assert.Contains("while handling", Assert.Throws<InvalidOperationException>(() => target.Items).Message);
    }

    /// <summary>
    /// Blocks and scattered items are withdrawn from a plain list and moved about in it, while others come: all of it taken back, those
    /// that were there stand as they stood. Keys are kept, or asked for each time. The seed is of a case that went wrong.
    /// </summary>
    [Fact]
    public void Many_that_leave_a_plain_list_at_once_come_back_where_they_were()
    {
        int blocks = 0, scattered = 0, back = 0, again = 0;
        Gen.Select(Gen.Bool, Gen.Int[0, 300], Gen.Select(Gen.Int[0, 5], Gen.Int[0, 999], Gen.Int[0, 999]).Array[1, 12])
            .Sample((checks, count, steps) =>
        {
            List<string> plan = [.. Enumerable.Range(0, count).Select(i => $"R{i}")];
            string[] first = [.. plan];
            using var list = InteractiveList.Of(plan, r => r, new() { MayMove = true, Mode = SelectionMode.Multiple, ChecksKeys = checks });
            var (told, fresh, stays) = (new HashSet<string>(), 0, 0);
            list.SelectionChanged += (_, e) =>
            {
                foreach (var gone in e.RemovedItems) Assert.True(told.Remove(gone));
                foreach (var come in e.AddedItems) Assert.True(told.Add(come));
            };
            list.Commands =
            [
                new("withdraw", "Withdraw")
                {
                    // Not always all that it was given.
                    Do = target =>
                    {
                        var gone = target.Items.Where((_, i) => stays == 0 || i % stays > 0).ToHashSet();
                        plan.RemoveAll(gone.Contains);
                        list.Refresh();
                    },
                    Inverse = target =>
                    {
                        for (var i = 0; i < target.Count; i++)
                            if (!plan.Contains(target.Items[i])) plan.Insert(target.Indexes[i], target.Items[i]);
                        list.Refresh();
                    },
                },
            ];
            void InStep()
            {
                Assert.Equal(plan, Enumerable.Range(0, list.Count).Select(i => list[i]));
                Assert.Equal(list.SelectedKeys.Order(), told.Order());
            }
            foreach (var (what, a, b) in steps)
            {
                int n = plan.Count, from = n == 0 ? 0 : a % n;
                var isBlock = b % 3 > 0;
                list.SelectOnly(ItemSet.Of(n, Enumerable.Range(0, n)
                    .Where(i => isBlock ? i >= from && i <= from + (b % 150) : (i * 7 + a) % 10 < 1 + (b % 5))));
                if (what < 2 && list.SelectedCount > 0)
                {
                    stays = a % 4 > 1 ? a % 4 : 0;
                    if (list.SelectedCount > 64) (blocks, scattered) = (blocks + (isBlock ? 1 : 0), scattered + (isBlock ? 0 : 1));
                    Assert.True(list.RunCommand("withdraw").IsHandled);
                }
                else if (what == 2 && n > 0) list.Move([.. list.SelectedKeys], a % (n + 1));
                else if (what == 3)
                {
                    plan.InsertRange(from, Enumerable.Range(0, b % 100).Select(_ => $"N{fresh++}"));
                    list.Refresh();
                }
                else if (what == 4 && list.Undo().IsHandled && b % 2 == 0 && list.Redo().IsHandled) again++;
                InStep();
            }
            while (list.Undo().IsHandled)
            {
                back++;
                InStep();
            }
            Assert.Equal(first, plan.Where(r => r[0] == 'R'));
        }, seed: "8sKDYuzth1g1", iter: Effort.Of(4000), threads: 1);
        Assert.True(Math.Min(Math.Min(blocks, scattered), Math.Min(back, again)) > 3,
            $"{blocks} blocks and {scattered} scattered, {back} taken back, {again} done again");
    }

    [Fact]
    public void What_leaves_while_a_command_asks_about_it_is_not_brought_back()
    {
        var plan = Plan(6);
        using var list = Open(plan);
        list.Commands =
        [
            new("drop", "Drop")
            {
                Question = t => $"{t.Count} of them?",
                Do = target => { foreach (var request in target.Items) plan.Remove(request); },
                Inverse = target => { for (var i = 0; i < target.Items.Count; i++) plan.Insert(target.Indexes[i], target.Items[i]); },
            },
        ];
        ConfirmationEventArgs<Request, string>? asked = null;
        list.ConfirmationRequested += (_, e) => asked = e;
        list.SelectOnly(ItemSet.Of(6, [1, 3, 4]));
        list.RunCommand("drop");
        plan.RemoveAt(3);
        asked!.Answer(true);
        Assert.Equal(["R00", "R02", "R05"], plan.Select(r => r.Id));
        Assert.True(list.Undo().IsHandled);
        Assert.Equal(["R00", "R01", "R02", "R04", "R05"], plan.Select(r => r.Id));
    }

    [Fact]
    public void The_target_is_the_selection_if_what_is_pressed_is_in_it()
    {
        var plan = Plan(8);
        using var list = Open(plan);
        list.EnabledWhen = r => r.Id != "R05";
        list.SelectedKeys = ["R02", "R04"];
        list.RunCommand("drop", "R06");
        Assert.Equal(7, plan.Count);
        list.RunCommand("drop", "R04");
        Assert.Equal(["R00", "R01", "R03", "R05", "R07"], plan.Select(r => r.Id));
        // All at once come back where they were, whatever has come in meanwhile.
        plan.Insert(0, new("N0", "New", 1));
        list.Undo();
        Assert.Equal(["N0", "R00", "R01", "R02", "R03", "R04", "R05", "R07"], plan.Select(r => r.Id));
        // Never to what is disabled or hidden, nor to nothing.
        Assert.Equal(RefusalKind.NoItem, list.RunCommand("drop", "R05").Refusal!.Kind);
        list.Clear();
        list.Filter = _ => false;
        Assert.Equal(RefusalKind.NoItem, list.RunCommand("drop").Refusal!.Kind);
        Assert.True(list.RunCommand("add").IsHandled);
        plan.Clear();
        Assert.Equal(RefusalKind.EmptyList, list.RunCommand("drop").Refusal!.Kind);
    }

    [Fact]
    public void Flashes_of_many_rows_cost_as_much_each_as_those_of_few()
    {
        long Flashed(int count)
        {
            using var list = Open(Plan(count));
            list.Commands = [new("tell", "Tell") { Do = t => { foreach (var key in t.Keys) list.Flash(key, "told"); } }];
            list.SelectAll();
            var before = GC.GetAllocatedBytesForCurrentThread();
            list.RunCommand("tell");
            Assert.All(list.Frame.Rows, r => Assert.Equal("told", r.Flash));
            list.Advance(601);
            Assert.All(list.Frame.Rows, r => Assert.Null(r.Flash));
            return GC.GetAllocatedBytesForCurrentThread() - before;
        }
        Flashed(50);
        double few = Flashed(500) / 500.0, many = Flashed(5000) / 5000.0;
        output.WriteLine($"{few} bytes each of 500, {many} of 5,000");
        Assert.True(many < 2 * few, $"{few} bytes each of 500, {many} of 5,000");
    }

    [Fact]
    public void A_question_about_many_reads_only_what_the_app_looks_at()
    {
        long Asked(int count)
        {
            var plan = Plan(count);
            using var list = Open(plan);
            IReadOnlyList<Request> items = [];
            var asked = 0;
            bool Look(IReadOnlyList<Request> about, IReadOnlyList<string> keys, IReadOnlyList<int>? indexes = null)
            {
                asked++;
                items = about;
                // Either end, and those in front of the first that decides.
                Assert.Equal((count, count, "R00"), (about.Count, keys.Count, keys[0]));
                Assert.Same(plan[^1], about[^1]);
                Assert.Same(plan[1], about.First(r => r.Magnitude == 7));
                Assert.True(indexes is null || (indexes[^1] == count - 1 && indexes[0] == 0));
                Assert.Throws<ArgumentOutOfRangeException>(() => about[count]);
                return true;
            }
            list.Commands =
            [
                new("switch", "Switch")
                {
                    ShowIn = ShowIn.Menu | ShowIn.Toolbar, Do = _ => { },
                    EnabledFor = t => Look(t.Items, t.Keys, t.Indexes), CheckedFor = t => Look(t.Items, t.Keys, t.Indexes),
                },
            ];
            list.CanDrop = q => Look(q.Items, q.Keys);
            list.SelectAll();
            void Act()
            {
                Assert.True(Assert.Single(list.ToolbarFor(400).Shown).IsChecked);
                Assert.Null(list.WhyNotRun("switch"));
                list.OpenMenu("R00");
                list.CloseMenu();
                list.Grab("R00");
                for (var i = 0; i < 3; i++) list.Hover(Direction.Next);
                list.DropBack();
            }
            Act();
            asked = 0;
            var before = GC.GetAllocatedBytesForCurrentThread();
            Act();
            var allocated = GC.GetAllocatedBytesForCurrentThread() - before;
            Assert.InRange(asked, 5, 100);
            // What was not looked at then is not there for later, when the list may be another: that is said, where a copy would help.
            var copy = items.ToList();
            Assert.Equal(plan, copy);
            plan.RemoveAt(0);
            Assert.Contains("ToList()", Assert.Throws<InvalidOperationException>(() => items[0]).Message, StringComparison.Ordinal);
            Assert.Throws<InvalidOperationException>(() => items.Any());
            return allocated;
        }
        Asked(20);
        long few = Asked(20), many = Asked(20_000);
        output.WriteLine($"{few} bytes for 20, {many} for 20,000");
        Assert.True(many < few + 20_000, $"{few} bytes for 20, {many} for 20,000");
    }

    private static void Ended(InteractiveList<Request, string> list)
    {
        for (var i = 0; i < 5000 && list.RunningCommands.Any(); i++)
        {
            Thread.Sleep(1);
            list.Advance(0);
        }
        Assert.Empty(list.RunningCommands);
    }

    [Fact]
    public void Commands_that_throw_overlap_wait_or_are_cancelled_leave_the_list_usable()
    {
        var plan = Plan(5);
        using var list = Open(plan);
        var never = new TaskCompletionSource<CommandResult>();
        list.Commands =
        [
            new("throws", "Throws") { Do = _ => throw new InvalidOperationException("clouds") },
                new("waits", "Waits") { Run = (_, _) => never.Task },
            new("heeds", "Heeds") { Run = async (_, token) => { await Task.Delay(Timeout.Infinite, token); return default; } },
                new("asks", "Asks") { Question = t => $"Really {t.Item}?", Do = t => plan.Remove(t.Item) },
            new("picky", "Picky") { EnabledFor = t => t.Item.Magnitude > 5, Do = _ => { } },
                new("broken", "Broken") { EnabledFor = _ => throw new InvalidOperationException("fog"), Do = _ => { } },
        ];
        void Hear() => Ended(list);

        // Nobody listens: the exception comes out of the call, naming command and item.
        var error = Assert.Throws<CommandException>(() => list.RunCommand("throws", "R01"));
        Assert.Contains("'throws' threw on the item 'R01': clouds", error.Message);
        var failed = new List<string>();
        list.CommandFailed += (_, e) => failed.Add($"{e.Command.Id} {e.Target.Keys[0]}: {e.Error.Message}");
        list.RunCommand("throws", "R01");
        Assert.Equal(["throws R01: clouds"], failed);

        Assert.True(list.RunCommand("waits", "R02").IsHandled);
        var busy = list.RunCommand("picky", "R02").Refusal!;
        Assert.Equal(
            (RefusalKind.Running, true),
                (busy.Kind, busy.Reason.Contains("'waits' is still running on the item 'R02'", StringComparison.Ordinal)));
        Assert.Equal(["waits"], list.RunningCommands.Select(r => r.Id));
        never.SetResult(new(1));
        // A list on a bare thread hears of it at its next call.
        Hear();

        list.RunCommand("heeds", "R03");
        list.CancelCommands();
        Hear();
        Assert.Equal(["throws R01: clouds"], failed);

        Assert.Contains("nobody answers", list.RunCommand("asks", "R04").Refusal!.Reason);
        ConfirmationEventArgs<Request, string>? asked = null;
        list.ConfirmationRequested += (_, e) => asked = e;
        list.RunCommand("asks", "R04");
        Assert.Equal("Really Field 4?", asked!.Question);
        asked.Answer(false);
        Assert.Equal(5, plan.Count);
        list.RunCommand("asks", "R04");
        asked.Answer(true);
        asked.Answer(true);
        Assert.Equal(4, plan.Count);

        Assert.Equal(RefusalKind.NotAvailable, list.RunCommand("picky", "R00").Refusal!.Kind);
        Assert.True(list.RunCommand("picky", "R01").IsHandled);
        Assert.Contains("'broken' can be done to the item 'R01': fog", list.RunCommand("broken", "R01").Refusal!.Reason);
        Assert.Throws<ArgumentException>(() => list.Commands = [new("a", "A"), new("a", "B")]);
        Assert.Contains("'a' and 'b' have the chord Ctrl+K both",
            Assert.Throws<ArgumentException>(() => list.Commands =
                [new("a", "A") { Chords = [new("K", Modifiers.Ctrl)] }, new("b", "B") { Chords = [new("K", Mod: true)] }]).Message.Replace(
                "Mod+K", "Ctrl+K", StringComparison.Ordinal));
        Assert.Contains("no place in a row's tray", Assert.Throws<ArgumentException>(
            () => list.Commands = [new("a", "A") { Scope = CommandScope.List, ShowIn = ShowIn.LeadingTray }]).Message);
        Assert.Equal(6, list.Commands.Length);
    }

    [Fact]
    public void A_command_may_remove_more_than_it_was_given_and_a_menu_or_tray_that_was_open_goes_with_its_item()
    {
        var plan = Plan(6);
        using var list = Open(plan);
        list.Commands = list.Commands.Add(new("clear", "Clear") { ShowIn = ShowIn.Menu, Do = _ => plan.Clear() });
        list.SelectedKeys = ["R01", "R02"];
        list.OpenMenu("R02");
        Assert.True(list.IsMenuOpen);
        plan.RemoveAt(2);
        Assert.False(list.IsMenuOpen);
        list.OpenTray("R03", Edge.Trailing);
        Assert.True(list.RunCommand("clear", "R01").IsHandled);
        Assert.Equal((0, false, false), (list.Count, list.IsTrayOpen, list.CanUndo));
        Assert.Equal(NoticeKind.Empty, list.Frame.Rows.Single().Notice);
        plan.Add(new("R09", "Again", 1));
        Assert.True(list.RunCommand("star", "R09").IsHandled);
        // A scroll closes the menu; so does a tap outside it, which does nothing else.
        var player = ListPlayer.On(Open(Plan(40)));
        foreach (var close in (Action[])[() => player.List.ScrollTo(30), () => player.Touch.Tap("check:R07"), () => player.Press("Escape")])
        {
            player.List.ScrollTo(0);
            player.List.OpenMenu("R02");
            Assert.True(player.List.IsMenuOpen);
            close();
            Assert.False(player.List.IsMenuOpen);
            Assert.Empty(player.List.SelectedKeys);
        }
    }

    [Fact]
    public void A_menu_and_its_submenu_stay_inside_the_window_and_off_its_edges_however_small_it_is()
    {
        int off = 0, squeezed = 0;
        var window = Gen.Select(Gen.Double[-90, 20], Gen.Double[-90, 20], Gen.Double[150, 900], Gen.Double[100, 700],
            (left, top, width, height) => new Layout.HostWindow(left, top, left + width, top + height));
        Gen.Select(window, Gen.Double[0, 1], Gen.Double[0, 1], Gen.Int[1, 8], Gen.Bool).Sample((room, across, down, count, rightToLeft) =>
        {
            void IsInside(MenuBounds box)
            {
                double x = Math.Min(box.Left - room.Left, room.Right - box.Left - box.Width),
                    y = Math.Min(box.Top - room.Top, room.Bottom - box.Top - box.Height);
                Assert.True(x > -0.001 && y > -0.001, $"{box} in {room}");
                // Where there is room for it, it is off the edges, and as large as its entries.
                if (room.Width >= Menu.LeastWidth + (2 * Menu.EdgeGap)) Assert.True(x > Menu.EdgeGap - 0.001, $"{box} in {room}");
                if (room.Height < box.Height + (2 * Menu.EdgeGap)) squeezed++;
                else if (y < Menu.EdgeGap + 0.001) off++;
            }
            double left = room.Left + (across * room.Width), top = room.Top + (down * room.Height);
            var menu = new Menu
            {
                Entries = [.. Enumerable.Range(0, count).Select(
                    i => new MenuEntry($"e{i}", $"{(char)('a' + i)}bc") { IsEnabled = i % 3 != 2 }),
                        new("sub", "Sub") { Entries = [new("s0", "one"), new("s1", "two")] }],
                Room = room,
                IsRightToLeft = rightToLeft,
            }.PlacedAt(left, top);
            IsInside(menu.Bounds);
            Assert.Equal(Math.Min((count + 1) * Menu.UsualEntryHeight, room.Height), menu.Bounds.Height, 0.001);
            Assert.Equal(Math.Min(Menu.LeastWidth, room.Width), menu.Bounds.Width, 0.001);
            IsInside(menu.Choose(count, inSubmenu: false).Menu!.SubmenuBounds!.Value);
        });
        Assert.True(Math.Min(off, squeezed) > 0, $"{off} {squeezed}");
    }

    [Fact]
    public void A_toolbar_shows_what_fits_by_priority_and_the_rest_overflows() =>
        Gen.Select(Gen.Select(Gen.Int[20, 120], Gen.Int[0, 3]).Array[0, 9], Gen.Double[0, 800]).Sample((commands, width) =>
        {
            var entries =
                commands.Select(
                (c, i) => new ToolbarEntry($"c{i}", $"Command {i}", null, CommandRole.Neutral, true, c.Item1) { Priority = c.Item2 })
                    .ToList();
            var bar = Toolbar.Fit(entries, width);
            Assert.Equal(entries.Count, bar.Shown.Length + bar.Overflow.Length);
            var total = entries.Sum(e => e.Width);
            if (total <= width) Assert.Empty(bar.Overflow);
            else
            {
                Assert.NotEmpty(bar.Overflow);
                Assert.True(bar.Width <= Math.Max(width, Toolbar.OverflowWidth));
                // Nothing that stays has less priority than anything that went.
                var priority = entries.ToDictionary(e => e.Id, e => e.Priority);
                Assert.All(bar.Shown, s => Assert.All(bar.Overflow, o => Assert.True(priority[s.Id] >= priority[o.Id])));
            }
            Assert.Equal(bar.Shown.Select(e => e.Id), bar.Shown.Select(e => e.Id).OrderBy(id => entries.FindIndex(e => e.Id == id)));
            // Keys go round all places and come back; right to left turns them round. The menu has what does not show.
            for (var at = 0; at < bar.ButtonCount; at++)
                foreach (var mirrored in (bool[])[false, true])
                {
                    var next = bar.ButtonAfter(at, "ArrowRight", mirrored)!.Value;
                    Assert.Equal((at + (mirrored ? bar.ButtonCount - 1 : 1)) % bar.ButtonCount, next);
                    Assert.Equal(at, bar.ButtonAfter(next, "ArrowLeft", mirrored));
                    Assert.Equal((0, bar.ButtonCount - 1, null),
                        (bar.ButtonAfter(at, "Home", mirrored), bar.ButtonAfter(at, "End", mirrored), bar.ButtonAfter(at, "Enter",
                            mirrored)));
                }
            if (!bar.HasOverflow) return;
            var menu = bar.OverflowMenu(width, 44, new(0, 0, Math.Max(width, Menu.LeastWidth), 900), rightToLeft: false);
            Assert.Equal(bar.Overflow.Select(e => e.Id), menu.Entries.Select(e => e.Id));
            Assert.True(menu.Bounds.Left >= 0 && (width < Menu.LeastWidth || menu.Bounds.Left + menu.Bounds.Width <= width));
        });

    [Fact]
    public void A_mark_is_each_items_own_by_tap_key_heading_and_app_and_a_setter_that_throws_changes_nothing()
    {
        var plan = Plan(6);
        using var list = Open(plan, new()
        {
            Mode = SelectionMode.Multiple,
            Keys = KeyTable.Toggling,
            SpaceMark = "done",
            ModKey = ModKey.Ctrl,
            Parts = new() { Check = true, Marks = ["done", "starred"] },
        });
        var changes = new List<string>();
        list.MarkChanged += (_, e) => changes.Add(
            $"{e.Name}: {string.Join("+", e.AddedItems.Select(r => r.Id))} -{string.Join("+", e.RemovedItems.Select(r => r.Id))} by " +
                $"{e.Cause}");
        var player = ListPlayer.On(list);
        player.Touch.Tap("mark:done:R02");
        Assert.Equal(["R02"], plan.Where(r => r.IsDone).Select(r => r.Id));
        Assert.Empty(list.SelectedKeys);
        player.Touch.Tap("mark:starred:R03");
        player.List.MoveCursorTo("R04");
        player.Press("Space");
        plan[5].IsDone = true;
        Assert.Equal(
            ["done: R02 - by tap on a mark toggles it", "starred: R03 - by tap on a mark toggles it", "done: R04 - by key Space",
                "done: R05 - by source"], changes);
        var drawn = list.Frame.Rows[2].Parts.Where(p => p.Part.Kind == Layout.PartKind.Mark).Select(p => (p.Part.Name, p.IsOn, p.Look));
        Assert.Equal([("done", true, MarkLook.Tick), ("starred", false, MarkLook.Star)], drawn);

        // A setter that throws: all of it, or nothing.
        plan[4].Refuses = true;
        list.SelectAll();
        var refusal = list.ToggleMark("done").Refusal;
        Assert.Null(refusal);
        Assert.All(plan, r => Assert.True(r.IsDone));
        plan[3].Refuses = true;
        refusal = list.ToggleMark("done").Refusal!;
        Assert.Equal(RefusalKind.Failed, refusal.Kind);
        Assert.Contains("'done' could not be put off for the item 'R03': the dome is shut", refusal.Reason);
        Assert.All(plan, r => Assert.True(r.IsDone));
        (plan[3].Refuses, plan[4].Refuses) = (false, false);
        Assert.Equal(TriState.On, list.MarkState("done", ItemSet.All(6)));
        list.Undo();
        Assert.Equal(["R02", "R04", "R05"], plan.Where(r => r.IsDone).Select(r => r.Id));
        plan.RemoveAt(4);
        // What has left cannot be put back: said, and passed over.
        Assert.Contains("'done' makes no sense any more: the item 'R04'", list.Undo().Refusal?.Reason);
        Assert.True(list.Marked("starred").Contains(3));
        Assert.True(list.Undo().IsHandled);
        Assert.True(list.Marked("starred").IsEmpty);
        Assert.Throws<ArgumentException>(() => list.Marks = [new("a"), new("a")]);
        Assert.Contains("there are done, starred", list.ToggleMark("shiny", "R01").Refusal!.Reason);
    }

    [Fact]
    public void The_app_s_own_changes_are_seen_also_of_other_objects_with_the_same_keys_and_what_a_handler_sets_up_waits_its_turn()
    {
        var plan = Plan(5);
        using var list = Open(plan);
        var old = plan[2];
        plan[2] = new("R02", "Another", 3);
        old.IsDone = true;
        Assert.Empty(list.Marked("done"));
        plan[2].IsDone = true;
        Assert.Equal([2], list.Marked("done"));
        var other = Plan(5);
        list.Show(other);
        Assert.Empty(list.Marked("done"));
        other[4].IsDone = true;
        plan[1].IsDone = true;
        Assert.Equal([4], list.Marked("done"));
        // From a handler, with edits in between: marks and sections are read when their turn comes.
        list.SelectionChanged += (_, _) =>
        {
            list.Marks = [new("done") { Get = r => r.IsDone, Set = (r, value) => r.IsDone = value }, new("starred")];
            list.Sections = new(r => r.IsDone ? "observed" : "waiting");
            other.RemoveAt(0);
        };
        list.Select("R03");
        Assert.Equal(["R04"], list.Marked("done").Select(i => list[i].Id));
        Assert.Equal(new(3, TriState.Mixed), list.SectionState("waiting"));
        // A menu stays where rows come in above what is looked at.
        var many = Plan(60);
        using var long_ = Open(many);
        long_.ScrollTo(700);
        long_.OpenMenu("R15");
        many.Insert(0, new("N0", "New", 1));
        Assert.True(long_.IsMenuOpen);
    }

    [Fact]
    public void Sections_have_headings_that_the_cursor_stops_on_and_an_item_lingers_before_it_moves()
    {
        var plan = Plan(6);
        using var list =
            Open(plan, new() { Mode = SelectionMode.Multiple, ModKey = ModKey.Ctrl, Parts = new() { Check = true, Marks = ["done"] } });
        list.Sections = new(r => r.IsDone ? "observed" : "waiting")
        {
            Order = ["waiting", "observed"],
            TitleOf = k => k.ToUpperInvariant(),
            EmptyText = _ => "Nothing yet",
            LingerTime = 800,
        };
        var player = ListPlayer.On(list);
        string Rows() =>
            string.Join(" ",
            list.Frame.Rows.Select(
                r => r.Kind switch
                {
                    RowKind.Heading => $"[{r.Content.Label} {r.Heading!.Count}]",
                    RowKind.Notice => "-",
                    _ => list[r.Index].Id,
                }));
        Assert.Equal("[WAITING 6] R00 R01 R02 R03 R04 R05 [OBSERVED 0] -", Rows());
        player.Touch.Tap("mark:done:R02");
        Assert.Equal("[WAITING 6] R00 R01 R02 R03 R04 R05 [OBSERVED 0] -", Rows());
        player.Wait(801);
        Assert.Equal("[WAITING 5] R00 R01 R03 R04 R05 [OBSERVED 1] R02", Rows());

        player.Press("Home");
        Assert.Equal("heading:waiting", list.StateLine().Cursor);
        Assert.True(list.Frame.Rows[0].IsCursor);
        player.Press("Space");
        Assert.Equal(["R00", "R01", "R03", "R04", "R05"], list.SelectedKeys);
        Assert.Equal(new(5, TriState.On), list.SectionState("waiting"));
        list.Toggle("R03");
        Assert.Equal(TriState.Mixed, list.Frame.Rows[0].Heading!.State);
        player.Touch.MoveTo(22, 10);
        player.Touch.Down();
        player.Wait(50);
        player.Touch.Up();
        Assert.Equal(new(5, TriState.On), list.SectionState("waiting"));
        player.Press("Home");
        player.Press("Enter");
        Assert.Equal("[WAITING 5] [OBSERVED 1] R02", Rows());
        // A collapsed section's items count as shown.
        list.Clear();
        list.SelectAll();
        Assert.Equal(6, list.SelectedCount);
        player.Press("ArrowDown");
        Assert.Equal("heading:observed", list.StateLine().Cursor);
        player.Press("ArrowDown");
        Assert.Equal("R02", list.StateLine().Cursor);

        // A range over sections goes in the order on show.
        list.CollapseOrExpand("waiting");
        list.Select("R04");
        list.ExtendTo("R02");
        Assert.Equal(["R02", "R04", "R05"], list.SelectedKeys);

        Func<Request, string> throws = r => r.Id == "R03" ? throw new InvalidOperationException("no night") : "x";
        Assert.Contains("'R03' at 3 is unknown: its function threw: no night",
            Assert.Throws<SectionException>(() => list.Sections = new(throws)).Message);
        Assert.Contains("gave null", Assert.Throws<SectionException>(() => list.Sections = new(_ => null!)).Message);
        Assert.Equal("[WAITING 5] R00 R01 R03 R04 R05 [OBSERVED 1] R02", Rows());
    }

    [Fact]
    public void What_is_looked_at_stays_in_place_when_rows_come_and_go_above_and_rows_know_where_they_were()
    {
        var moved = 0;
        Gen.Select(Gen.Int[0, 60], Gen.Int[1, 5], Gen.Bool, Gen.Double[1, 2000], Gen.Bool).Sample((at, count, insert, scroll, looks) =>
        {
            var plan = Plan(60);
            using var list = Open(plan);
            list.ScrollTo(scroll);
            // Whoever looks while it is still being told what has changed takes nothing from who draws.
            if (looks) list.PropertyChanged += (_, _) => _ = list.Frame;
            var before = list.Frame.Rows.Where(r => r.Index >= 0).ToDictionary(r => plan[r.Index].Id, r => r.Top);
            var first = list.Frame.Rows.First(r => r.Index >= 0);
            var (id, top) = (plan[first.Index].Id, first.Top);
            for (var i = 0; i < count; i++)
            {
                if (insert) plan.Insert(Math.Min(at, plan.Count), new($"N{i}", "New", 0));
                else if (at < plan.Count && plan[at].Id != id) plan.RemoveAt(at);
            }
            var frame = list.Frame;
            var atEnd = frame.Viewport.ScrollTop >= frame.ContentHeight - frame.Viewport.Height - 0.01;
            if (!atEnd) Assert.Equal(top, frame.Rows.Single(r => r.Index >= 0 && plan[r.Index].Id == id).Top, 6);
            foreach (var row in frame.Rows.Where(r => r.Index >= 0))
            {
                var isOld = before.TryGetValue(plan[row.Index].Id, out var was);
                if (isOld && was == row.Top) Assert.Null(row.TopBefore);
                else Assert.Equal(isOld ? was : double.NaN, row.TopBefore!.Value, 6);
                if (row.TopBefore is not null) moved++;
            }
            // They have moved once.
            list.Focus();
            list.SelectAll();
            Assert.NotSame(frame, list.Frame);
            Assert.DoesNotContain(list.Frame.Rows, row => row.TopBefore is not null);
        });
        Assert.True(moved > 0, "Nothing moved.");
    }

    [Fact]
    public void A_failed_notice_asks_to_try_again_by_tap_and_Enter()
    {
        var list = InteractiveList.Awaiting<string, string>(s => s);
        list.ShowFailed("No connection to the dome");
        var asked = 0;
        list.RetryRequested += (_, _) => asked++;
        list.Take(PointerSample.Down(PointerType.Touch, 100, 20, 0));
        list.Take(PointerSample.Up(PointerType.Touch, 100, 20, 80));
        Assert.True(list.Take(new KeyPress("Enter", Time: 500)).IsHandled);
        Assert.Equal(2, asked);
        list.Show(["one"]);
        Assert.False(list.Do(ActKind.Retry).IsHandled);
    }

    [Fact]
    public void What_was_done_is_said_in_the_lists_language_with_its_plurals()
    {
        foreach (var (culture,
            expected) in new[] { ("en-GB",
            (string[])["5 more, 6 selected", "starred: 1 item on", "Undone: starred", "Nothing selected any more"]),
                ("de-CH", ["5 mehr, 6 ausgewählt", "starred: 1 Element ein", "Zurückgenommen: starred", "Nichts mehr ausgewählt"]) })
        {
            using var list =
                Open(Plan(6), new() { Mode = SelectionMode.Multiple, Culture = System.Globalization.CultureInfo.GetCultureInfo(culture) });
            var said = new List<string>();
            list.Announced += (_, e) => said.Add(e.Text);
            list.Select("R01");
            list.SelectAll();
            list.ToggleMark("starred", "R02");
            list.Undo();
            list.Clear();
            Assert.Equal(expected, said);
        }
    }

    [Fact]
    public void One_act_is_said_once()
    {
        using var list = Open(Plan(6), new() { Mode = SelectionMode.Multiple, Parts = new() { Marks = ["starred"] } });
        var said = new List<string>();
        list.Announced += (_, e) => said.Add(e.Text);
        list.Commands =
        [
            new("withdraw", "Withdraw") { Do = list.TakeOut, Notice = t => $"{t.Count} withdrawn" },
            new("praise", "Praise")
            {
                Do = t =>
                {
                    list.ToggleMarkOf("starred", t);
                    list.Flash(t.Keys[0], "Bravo");
                },
            },
        ];
        (Action Act, string Said)[] acts =
        [
            (() => list.SelectAll(), "6 items selected"),
            // What follows for the selection is not said besides, before it or after it.
            (() => list.RunCommand("withdraw"), "6 withdrawn"),
            (() => list.Undo(), "Undone: Withdraw"),
            (() => list.RunCommand("praise", "R03"), "Bravo"),
            (() =>
            {
                using var batch = list.Batch();
                list.Clear();
                list.Notify("Fine");
                list.SelectAll();
            }, "Fine"),
        ];
        foreach (var (act, expected) in acts)
        {
            said.Clear();
            act();
            Assert.Equal([expected], said);
        }
    }

    [Fact]
    public void Marks_and_collapsed_sections_are_remembered_by_key()
    {
        using var list = Open(Plan(6));
        list.Sections = new(r => r.Magnitude > 4 ? "bright" : "faint");
        list.ToggleMark("starred", "R02");
        list.ToggleMark("starred", "R05");
        list.CollapseOrExpand("faint");
        var json = list.Save().ToJson();
        Tools.Schemas.Valid("snapshot", json);
        var plan = Plan(6);
        plan.RemoveAt(5);
        plan.Insert(0, new("N0", "New", 1));
        using var again = Open(plan);
        again.Sections = list.Sections;
        again.Restore(ListSnapshot.Parse(json));
        Assert.Equal(["R02"], again.Marked("starred").Select(i => again[i].Id));
        Assert.Equal(["faint"], again.CollapsedSections);
    }

    [Fact]
    public void A_flash_and_a_notice_go_when_their_time_is_over()
    {
        using var list = Open(Plan(4));
        var player = ListPlayer.On(list);
        list.Flash("R02", "saved");
        list.Notify("All saved");
        Assert.Equal("saved", list.Frame.Rows[2].Flash);
        Assert.Equal("All saved", list.Frame.Brief!.Text);
        player.Wait(601);
        Assert.Null(list.Frame.Rows[2].Flash);
        player.Wait(4000);
        Assert.Null(list.Frame.Brief);
        Assert.Null(list.NextDeadline);
    }

    [Fact]
    public void Undo_has_a_depth_takes_moves_back_and_an_app_may_keep_its_own_history()
    {
        var plan = Plan(6);
        using var list = Open(plan, new()
        {
            Mode = SelectionMode.Multiple,
            UndoDepth = 2,
            MayMove = true,
            Parts = new() { Handle = true },
            ModKey = ModKey.Ctrl,
        });
        list.MoveRequested += (_, move) =>
        {
            var gap = move.Gap;
            foreach (var request in move.Items)
            {
                var from = plan.IndexOf(request);
                plan.Move(from, from < gap ? gap - 1 : gap);
                if (from >= gap) gap++;
            }
        };
        var player = ListPlayer.On(list);
        list.SelectedKeys = ["R00", "R02", "R05"];
        player.Touch.DragToGap("R02", 4);
        Assert.Equal(["R01", "R03", "R00", "R02", "R05", "R04"], plan.Select(r => r.Id));
        player.Press("Ctrl+Z");
        Assert.Equal(Enumerable.Range(0, 6).Select(i => $"R{i:00}"), plan.Select(r => r.Id));
        player.Press("Ctrl+Shift+Z");
        Assert.Equal(["R01", "R03", "R00", "R02", "R05", "R04"], plan.Select(r => r.Id));
        foreach (var key in (string[])["R00", "R01", "R02"]) list.ToggleMark("done", key);
        Assert.True(list.Undo().IsHandled && list.Undo().IsHandled);
        Assert.Contains("nothing to take back", list.Undo().Refusal!.Reason);
        Assert.Equal(["R00"], plan.Where(r => r.IsDone).Select(r => r.Id));

        var kept = new List<(string Name, Action Undo, Action Redo)>();
        list.History = (name, undo, redo) => kept.Add((name, undo, redo));
        list.ToggleMark("starred", "R04");
        Assert.False(list.CanUndo);
        kept.Single().Undo();
        Assert.Empty(list.Marked("starred"));
        kept.Single().Redo();
        Assert.Single(list.Marked("starred"));
    }
}
