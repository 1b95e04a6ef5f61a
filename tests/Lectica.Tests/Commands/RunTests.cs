using System.Collections.ObjectModel;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Frames;
using Lectica.Items;

namespace Lectica.Tests.Commands;

/// <summary>Commands under way: how far they are, what shows of it, how they are stopped, and tried again.</summary>
public sealed class RunTests
{
    private sealed record Request(string Id, string Field);

    private readonly ObservableCollection<Request> _plan = [.. Enumerable.Range(1, 6).Select(i => new Request($"R{i:00}", $"Field {i}"))];
    private readonly List<string> _said = [], _told = [];
    private readonly InteractiveList<Request, string> _list;
    private TaskCompletionSource<CommandResult> _end = new();
    private IProgress<double>? _progress;
    private bool _heeds = true;

    public RunTests()
    {
        _list = InteractiveList.Of(_plan, r => r.Id, new() { Mode = Acts.SelectionMode.Multiple, Phrases = Phrases.English });
        _list.Content = r => new(r.Field);
        _list.Commands =
        [
            new("calibrate", "Calibrate")
            {
                Icon = "dome",
                ShowIn = ShowIn.Menu | ShowIn.Toolbar,
                Run = (target, cancel) =>
                {
                    _progress = target.Progress;
                    _end = new();
                    if (_heeds) cancel.Register(() => _end.TrySetCanceled(cancel));
                    return _end.Task;
                },
            },
            new("park", "Park") { ShowIn = ShowIn.None, Scope = CommandScope.List, Run = (_, _) => (_end = new()).Task },
            new("star", "Star") { Do = _ => { } },
        ];
        _list.Announced += (_, e) => _said.Add(e.Text);
        _list.CommandRan += (_, e) => _told.Add($"ran {e.Command.Id}");
        _list.CommandFailed += (_, e) => _told.Add($"failed {e.Command.Id}");
        _list.CommandCancelled += (_, e) => _told.Add($"cancelled {e.Command.Id}");
    }

    // A list on a bare thread looks at its next call.
    private void Hear() => _list.Advance(0);

    private string Busy() =>
        string.Join(", ",
        _list.Frame.Rows.Where(r => r.Busy is not null).Select(
            r => $"{r.KeyText} {r.Busy!.Label} {r.Busy.Progress?.ToString(System.Globalization.CultureInfo.InvariantCulture) ?? "?"}"));

    [Fact]
    public void How_far_a_command_is_shows_on_its_rows_in_menu_and_toolbar_and_is_said_by_quarters()
    {
        _list.Select("R02");
        _list.Toggle("R04");
        _list.RunCommand("calibrate");
        Assert.Equal("R02 Calibrate ?, R04 Calibrate ?", Busy());
        var frames = 0;
        _list.FrameChanged += (_, _) => frames++;
        // From any thread, and together: the latest counts.
        var thread = new Thread(() =>
        {
            for (var i = 0; i <= 30; i++) _progress!.Report(i / 100.0);
        });
        thread.Start();
        thread.Join();
        Hear();
        Assert.Equal(("R02 Calibrate 0.3, R04 Calibrate 0.3", 1), (Busy(), frames));
        _progress!.Report(0.4);
        Hear();
        _list.OpenMenu("R04");
        var entry = _list.Menu!.Entries.Single(e => e.IsBusy);
        Assert.Equal(("cancel:calibrate", "Cancel Calibrate", 0.4, true), (entry.Id, entry.Label, entry.Progress, entry.IsEnabled));
        var tool = _list.ToolbarFor(400).Shown.Single();
        Assert.Equal(("cancel:calibrate", 0.4, true), (tool.Id, tool.Progress, tool.IsBusy));
        _list.CloseMenu();
        // It goes with its items, whatever becomes of the rows.
        _plan.RemoveAt(0);
        _plan.Move(0, 4);
        Assert.Equal("R04 Calibrate 0.4, R02 Calibrate 0.4", Busy());
        // Beyond its end is the end; what is not a number is not known.
        foreach (var (told, shown) in new[] { (7.5, "1"), (double.NaN, "?"), (-3, "0"), (double.PositiveInfinity, "1") })
        {
            _progress.Report(told);
            Hear();
            Assert.Equal($"R04 Calibrate {shown}, R02 Calibrate {shown}", Busy());
        }
        _end.SetResult(new(2));
        Hear();
        _progress.Report(0.2);
        Hear();
        Assert.Equal(("", "ran calibrate"), (Busy(), string.Join(", ", _told)));
        Assert.Equal(["Calibrate: 2 items, under way", "Calibrate: 30 %"], _said);
    }

    [Theory, InlineData("call"), InlineData("key"), InlineData("menu"), InlineData("toolbar"), InlineData("all")]
    public void A_command_that_is_cancelled_has_not_failed(string way)
    {
        _list.Select("R03");
        _list.RunCommand("calibrate");
        Assert.Equal(RefusalKind.NoItem, _list.CancelCommand("calibrate", "R01").Refusal!.Kind);
        Assert.Equal(RefusalKind.NoItem, _list.CancelCommand("star").Refusal!.Kind);
        switch (way)
        {
            case "call":
                Assert.True(_list.CancelCommand("calibrate").IsHandled);
                break;
            case "key":
                Assert.True(_list.CancelCommand("calibrate", "R03").IsHandled);
                break;
            case "menu":
                _list.OpenMenu("R03");
                Assert.True(_list.ChooseEntry("cancel:calibrate").IsHandled);
                break;
            case "toolbar":
                Assert.True(_list.RunCommand("cancel:calibrate").IsHandled);
                break;
            default:
                _list.CancelCommands();
                break;
        }
        Hear();
        Assert.Equal(("", "cancelled calibrate"), (Busy(), string.Join(", ", _told)));
        Assert.Null(_list.Frame.Brief);
        Assert.Equal("Calibrate cancelled", _said[^1]);
    }

    [Fact]
    public void One_that_does_not_stop_at_once_cannot_be_asked_twice_and_one_of_the_whole_list_is_stopped_from_any_row()
    {
        _heeds = false;
        _list.Select("R03");
        _list.RunCommand("calibrate");
        _list.CancelCommand("calibrate");
        Assert.False(_list.ToolbarFor(400).Shown.Single().IsEnabled);
        _end.SetResult(new(1));
        Hear();
        Assert.Equal(["ran calibrate"], _told);
        _list.RunCommand("park");
        Assert.Equal("", Busy());
        _list.OpenMenu("R05");
        Assert.Contains(_list.Menu!.Entries, e => e is { Id: "cancel:park", IsBusy: true });
        _list.CloseMenu();
        Assert.True(_list.CancelCommand("park").IsHandled);
    }

    [Fact]
    public void One_that_failed_is_tried_again_from_its_notice_on_what_is_left_of_its_items()
    {
        _list.Select("R02");
        _list.Toggle("R03");
        _list.RunCommand("calibrate");
        _end.SetException(new InvalidOperationException("clouds"));
        Hear();
        Assert.Equal(new BriefNotice("Calibrate has failed", false, 8000) { OffersRetry = true, Offer = "Try again" }, _list.Frame.Brief);
        _plan.RemoveAt(1);
        Assert.True(_list.RetryFromNotice().IsHandled);
        Assert.Null(_list.Frame.Brief);
        Assert.Equal("R03 Calibrate ?", Busy());
        Assert.Equal(RefusalKind.OutOfDate, _list.RetryFromNotice().Refusal!.Kind);
        _end.SetException(new InvalidOperationException("clouds"));
        Hear();
        // Nothing is left of what it was done to.
        _plan.RemoveAt(1);
        Assert.Equal(RefusalKind.NoItem, _list.RetryFromNotice().Refusal!.Kind);
        Assert.Equal(["failed calibrate", "failed calibrate"], _told);
    }

    [Fact]
    public void The_app_gives_its_own_words_for_what_failed_or_none()
    {
        string? own = "The dome does not turn";
        _list.CommandFailed += (_, e) => e.Notice = own;
        foreach (var expected in new[] { own, null })
        {
            own = expected;
            _list.RunCommand("calibrate", "R01");
            _end.SetException(new InvalidOperationException("clouds"));
            Hear();
            Assert.Equal(expected, _list.Frame.Brief?.Text);
            _list.Advance(20_000);
        }
    }

    private sealed class Plate(string id)
    {
        public string Id { get; } = id;

        public bool IsDone { get; set; }
    }

    [Fact]
    public void A_command_is_one_step_whatever_it_asks_of_the_list()
    {
        List<Plate> plan = [new("A"), new("B"), new("C"), new("D")];
        var list = InteractiveList.Of(plan, p => p.Id, new() { Mode = SelectionMode.Multiple, MayMove = true });
        list.Marks = [new("done") { Get = p => p.IsDone, Set = (p, on) => p.IsDone = on }];
        var finish = new Command<Plate, string>("finish", "Finish")
        {
            Do = target =>
            {
                list.ToggleMarkOf("done", target);
                list.MoveToBottom(target.Keys);
            },
        };
        // What fails has done what it has done: it can be taken back.
        var fails = new Command<Plate, string>("fail", "Fail")
        {
            Do = target =>
            {
                list.ToggleMarkOf("done", target);
                throw new InvalidOperationException("cloudy");
            },
        };
        list.CommandFailed += (_, _) => { };
        string Now() => string.Join(" ", plan.Select(p => p.Id + (p.IsDone ? "*" : "")));
        void Run(Command<Plate, string> command)
        {
            list.Commands = [command];
            list.SelectOnly(ItemSet.Of(4, [0, 2]));
            Assert.True(list.RunCommand("finish").IsHandled);
            Assert.Equal("B D A* C*", Now());
            Assert.Equal("Finish", list.UndoName);
            Assert.True(list.Undo().IsHandled);
            Assert.Equal(("A B C D", null, "Finish"), (Now(), list.UndoName, list.CanRedo ? "Finish" : null));
            Assert.True(list.Redo().IsHandled);
            Assert.Equal("B D A* C*", Now());
            Assert.True(list.Undo().IsHandled);
            Assert.Equal("A B C D", Now());
        }
        // By what the list has done for it; or as the app says, who may ask the list for it as well.
        Run(finish);
        Run(finish with
        {
            Notice = _ => "Finished",
            Run = async (target, _) =>
            {
                list.ToggleMarkOf("done", target);
                list.MoveToBottom(target.Keys);
                await Task.CompletedTask;
                return new(target.Count);
            },
        });
        Run(finish with
        {
            Inverse = target =>
            {
                list.ToggleMarkOf("done", target);
                list.Move([target.Keys[0]], 0);
                list.Move([target.Keys[1]], 2);
            },
        });
        list.Commands = [fails];
        list.SelectOnly(ItemSet.Of(4, [1]));
        list.RunCommand("fail");
        Assert.Equal(("A B* C D", "Fail"), (Now(), list.UndoName));
        Assert.True(list.Undo().IsHandled);
        Assert.Equal("A B C D", Now());
        // The last that was done is taken back first.
        list.Commands = [new("wink", "Wink")
        {
            Do = target =>
            {
                list.SetMark("done", ItemSet.Of(4, [0]), true);
                list.SetMark("done", ItemSet.Of(4, [0, 1]), false);
                list.SetMark("done", ItemSet.Of(4, [1]), true);
            },
        }];
        list.SetMark("done", ItemSet.Of(4, [1]), true);
        list.RunCommand("wink");
        Assert.Equal("A B* C D", Now());
        Assert.True(list.Undo().IsHandled);
        Assert.Equal("A B* C D", Now());
        Assert.True(list.Redo().IsHandled);
        Assert.True(list.Undo().IsHandled);
        Assert.True(list.Undo().IsHandled);
        Assert.Equal("A B C D", Now());
        // One that runs another: each has its own step. An item that has left since is left out, and the rest is taken back.
        list.Commands = [finish, new("both", "Both")
        {
            Do = target =>
            {
                list.ToggleMarkOf("done", target);
                list.RunCommand("finish", "A");
                list.MoveToTop(target.Keys);
            },
        }];
        list.SelectOnly(ItemSet.Of(4, [2, 3]));
        list.RunCommand("both");
        Assert.Equal(("C* D* B A*", "Finish"), (Now(), list.UndoName));
        Assert.True(list.Undo().IsHandled);
        Assert.Equal(("C* D* A B", "Both"), (Now(), list.UndoName));
        plan.RemoveAt(1);
        list.Refresh();
        Assert.True(list.Undo().IsHandled);
        Assert.Equal(("C A B", null), (Now(), list.UndoName));
        Assert.True(list.Redo().IsHandled);
        Assert.Equal("C* A B", Now());
    }

    [Fact]
    public void What_a_notice_offers_to_take_back_may_be_part_of_a_commands_step()
    {
        List<Plate> plan = [new("A"), new("B"), new("C")];
        var list = InteractiveList.Of(plan, p => p.Id, new() { MayMove = true, NoticesMoves = true });
        list.Marks = [new("done") { Get = p => p.IsDone, Set = (p, on) => p.IsDone = on }];
        list.Commands = [new("first", "First")
        {
            Notice = _ => "First now",
            Do = target =>
            {
                list.ToggleMarkOf("done", target);
                list.MoveToTop(target.Keys);
            },
        }];
        string Now() => string.Join(" ", plan.Select(p => p.Id + (p.IsDone ? "*" : "")));
        // By the menu's own entries: what tells of the move knows it as a move.
        var said = new List<string>();
        list.Announced += (_, e) => said.Add(e.Text);
        list.OpenMenu("C");
        list.ChooseEntry("move-to-top");
        Assert.Equal(["Dropped at place 1 of 3"], said);
        Assert.Equal(("C A B", true), (Now(), list.BriefNotice?.OffersUndo));
        Assert.True(list.UndoFromNotice().IsHandled);
        Assert.Equal(("A B C", null), (Now(), list.BriefNotice?.Text));
        Assert.True(list.RunCommand("first", "B").IsHandled);
        Assert.Equal(("B* A C", "First now", true), (Now(), list.BriefNotice!.Text, list.BriefNotice.OffersUndo));
        Assert.True(list.UndoFromNotice().IsHandled);
        Assert.Equal("A B C", Now());
        // Something was done since: it is no longer offered.
        list.RunCommand("first", "B");
        list.ToggleMark("done", "A");
        Assert.False(list.UndoFromNotice().IsHandled);
    }
}
