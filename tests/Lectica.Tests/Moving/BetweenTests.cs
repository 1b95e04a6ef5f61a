using System.Collections.ObjectModel;
using CsCheck;
using Lectica.Acts;
using Lectica.Testing;
using static Lectica.Tests.Moving.MoveTests;

namespace Lectica.Tests.Moving;

/// <summary>Dragging between two lists: take, copy, refuse, and undo in both at once.</summary>
public sealed class BetweenTests
{
    private static (InteractiveList<Request, string> Left, InteractiveList<Request, string> Right,
        ListGroup<Request, string> Group) OpenTwo(bool live, bool sectioned, bool notices = false)
    {
        InteractiveList<Request, string> Make(string title, int from)
        {
            var requests = Enumerable.Range(from, 5).Select(i => new Request($"R{i:00}", i % 2 == 0 ? "north" : "south"));
            var list = InteractiveList.Of(
                live ? new ObservableCollection<Request>(requests) : (IReadOnlyList<Request>)new List<Request>(requests), r => r.Id,
                Movable with { Parts = new() { Handle = true }, Title = title, Viewport = new(400, 600), NoticesMoves = notices });
            if (sectioned) list.Sections = new(r => r.Field) { Order = ["north", "south"], Assign = (r, field) => r.Field = field };
            return list;
        }
        var (left, right) = (Make("tonight", 0), Make("tomorrow", 50));
        var group = new ListGroup<Request, string>();
        group.Add(left, () => new(0, 0));
        group.Add(right, () => new(500, 20));
        return (left, right, group);
    }

    private static string All(InteractiveList<Request, string> list) =>
        string.Join(" ", Enumerable.Range(0, list.Count).Select(i => $"{list[i].Id}:{list[i].Field}"));

    [Fact]
    public void Lists_whose_hosts_tell_of_their_windows_need_no_places()
    {
        using var left = InteractiveList.Of(new ObservableCollection<string>(["a", "b", "c"]), s => s,
            Movable with { Parts = new() { Handle = true } });
        using var right =
            InteractiveList.Of(new ObservableCollection<string>(["x", "y"]), s => s, Movable with { Parts = new() { Handle = true } });
        var group = new ListGroup<string, string>();
        group.Add(left);
        group.Add(right);
        left.ShowIn(new(-20, -40, 1000, 700));
        right.ShowIn(new(-500, -90, 520, 650));
        var player = ListPlayer.On(left);
        player.Touch.GoTo("handle:b");
        player.Touch.Down();
        // 480 px to the right of the left list's edge, and 50 below its top, is the right one's corner.
        player.Touch.GlideTo(480 + 200, 50 + 60, 200);
        player.Touch.Up();
        Assert.Equal(["x", "b", "y"], Enumerable.Range(0, right.Count).Select(i => right[i]));
        Assert.Equal(["a", "c"], Enumerable.Range(0, left.Count).Select(i => left[i]));
    }

    [Fact]
    public void What_is_dragged_over_shows_there_and_lands_there()
    {
        var (left, right, _) = OpenTwo(live: true, sectioned: false);
        using var _1 = left;
        using var _2 = right;
        left.SelectedKeys = ["R01", "R03"];
        var player = ListPlayer.On(left);
        player.Touch.GoTo("handle:R01");
        player.Touch.Down();
        player.Touch.GlideTo(700, 20 + 60, 200);
        // In the other list the gap shows, in this one that they are away; neither has changed.
        Assert.Equal((2, true, true), (right.Frame.Grab!.Count, right.Frame.Grab.IsGuest, right.Frame.Grab.IsMove));
        Assert.Equal(52, right.Frame.Grab.GapY);
        Assert.Null(left.Frame.Grab!.GapY);
        Assert.Equal(2, left.Frame.Rows.Count(r => r.IsGrabbed));
        // Over neither, it is this list's again.
        player.Touch.MoveTo(450, 80);
        Assert.Null(right.Frame.Grab);
        Assert.NotNull(left.Frame.Grab!.GapY);
        player.Touch.MoveTo(700, 80);
        player.Touch.Up();
        Assert.Equal("R00 R02 R04", Shown(left));
        Assert.Equal("R50 R01 R03 R51 R52 R53 R54", Shown(right));
        Assert.Equal((false, (object?)null), (left.IsGrabbing, right.Frame.Grab));
        // One step, in whichever list it is taken back.
        Assert.True(left.CanUndo && right.CanUndo);
        right.Undo();
        Assert.Equal(("R00 R01 R02 R03 R04", "R50 R51 R52 R53 R54"), (Shown(left), Shown(right)));
        Assert.False(left.CanUndo || right.CanUndo);
        left.Redo();
        Assert.Equal(("R00 R02 R04", "R50 R01 R03 R51 R52 R53 R54"), (Shown(left), Shown(right)));
        left.Undo();
        Assert.Equal(("R00 R01 R02 R03 R04", "R50 R51 R52 R53 R54"), (Shown(left), Shown(right)));
    }

    [Fact]
    public void What_goes_to_another_list_is_said_and_offered_to_be_taken_back()
    {
        var (left, right, group) = OpenTwo(live: true, sectioned: false, notices: true);
        using var _1 = left;
        using var _2 = right;
        List<string> said = [];
        left.Announced += (_, e) => said.Add(e.Text);
        // By the menu.
        left.OpenMenu("R02");
        left.ChooseEntry("send-to:1");
        Assert.Equal(("R50 R51 R52 R53 R54 R02", "Moved to tomorrow", true),
            (Shown(right), left.BriefNotice?.Text, left.BriefNotice?.OffersUndo));
        Assert.Equal(["Moved to tomorrow"], said);
        Assert.True(left.UndoFromNotice().IsHandled);
        Assert.Equal(("R00 R01 R02 R03 R04", "R50 R51 R52 R53 R54", null), (Shown(left), Shown(right), left.BriefNotice));
        // By hand; and taken back in the other list, where the notice is not.
        left.SelectedKeys = ["R01", "R03"];
        said.Clear();
        var player = ListPlayer.On(left);
        player.Touch.GoTo("handle:R01");
        player.Touch.Down();
        player.Touch.GlideTo(700, 20 + 60, 200);
        said.Clear();
        player.Touch.Up();
        Assert.Equal("2 items moved to tomorrow", left.BriefNotice?.Text);
        // That nothing is selected any more follows from it.
        Assert.Equal(["2 items moved to tomorrow"], said);
        right.Undo();
        Assert.Equal(("R00 R01 R02 R03 R04", null), (Shown(left), left.BriefNotice));
        // A copy is said to be one; a call is said, and asks for no notice.
        group.Decide = _ => TransferKind.Copy;
        said.Clear();
        Assert.True(group.Send(left, right, ["R04"]).IsHandled);
        Assert.Equal((null, "Copied to tomorrow"), (left.BriefNotice, said.Single()));
    }

    [Fact]
    public void Which_list_it_is_that_cannot_be_written_is_said()
    {
        InteractiveList<string, string> Open(IReadOnlyList<string> items, bool mayMove = true) => InteractiveList.Of(items, s => s,
            Movable with { MayMove = mayMove });
        List<string> Some() => ["a"];
        foreach (var (from, to, asked, reason) in new[]
        {
            (Open(Some()), Open(new List<string>()), false, ""),
            (Open(Some()), Open(new List<string>(), mayMove: false), false, "would come to moves none: set MayMove"),
            (Open(Some()), Open(Array.Empty<string>()), false, "would come to cannot be written"),
            (Open(Some(), mayMove: false), Open(new List<string>()), false, "may not be moved in this list: set MayMove"),
            (Open(Some().ToArray()), Open(new List<string>()), false, "the source cannot be written"),
            (Open(Some().ToArray()), Open(new List<string>()), true, "are in cannot be written"),
        })
        {
            // Where the app moves items itself they may be moved, but not by the list.
            if (asked) from.MoveRequested += (_, _) => { };
            var group = new ListGroup<string, string>();
            group.Add(from);
            group.Add(to);
            Assert.Contains(reason, group.Send(from, to, ["a"]).Refusal?.Reason ?? "");
            Assert.Equal(reason.Length == 0 ? 1 : 0, to.Count);
            from.Dispose();
            to.Dispose();
        }
    }

    [Fact]
    public void Copies_need_keys_of_their_own_and_what_is_refused_goes_back()
    {
        var (left, right, group) = OpenTwo(live: false, sectioned: false);
        using var _1 = left;
        using var _2 = right;
        group.Decide = transfer => transfer.Gap == 0 ? TransferKind.Refuse : TransferKind.Copy;
        Assert.True(group.Send(left, right, ["R01"]).IsHandled);
        Assert.Equal(("R00 R01 R02 R03 R04", "R50 R51 R52 R53 R54 R01"), (Shown(left), Shown(right)));
        // Once more it has the key of one that is there.
        Assert.Contains("key 'R01' already", group.Send(left, right, ["R01"]).Refusal!.Reason);
        group.Copy = r => new(r.Id + "b", r.Field);
        Assert.True(group.Send(left, right, ["R01"]).IsHandled);
        Assert.Equal("R50 R51 R52 R53 R54 R01 R01b", Shown(right));
        left.Undo();
        right.Undo();
        Assert.Equal("R50 R51 R52 R53 R54", Shown(right));
        var player = ListPlayer.On(left);
        player.Touch.GoTo("handle:R01");
        player.Touch.Down();
        player.Touch.GlideTo(700, 30, 200);
        Assert.Contains("Decide says no", right.Frame.Grab!.Refusal);
        Assert.Equal(RefusalKind.NotAllowed, player.Touch.Up().Refusal!.Kind);
        Assert.Equal(("R00 R01 R02 R03 R04", false), (Shown(left), left.IsGrabbing));
        // From the menu, without dragging.
        Assert.True(left.RunCommand("send-to:1", "R02").IsHandled);
        Assert.EndsWith("R54 R02b", Shown(right));
        Assert.Contains("in a group already", Assert.Throws<ArgumentException>(() => group.Add(left, () => new(0, 0))).Message);
        Assert.Throws<ArgumentException>(() => group.Send(left, left, ["R01"]));
    }

    [Theory]
    [InlineData(300, 5)]
    [InlineData(5, 300)]
    public void Whether_a_key_is_there_already_is_looked_up_once_and_in_the_shorter_list(int many, int there)
    {
        var asked = 0;
        ObservableCollection<string> Words(int from, int count) => [.. Enumerable.Range(from, count).Select(i => $"{i}")];
        InteractiveList<string, int> Open(ObservableCollection<string> words) => InteractiveList.Of(words, s =>
            {
                asked++;
                return int.Parse(s, System.Globalization.CultureInfo.InvariantCulture);
            }, Movable with { Parts = new() { Handle = true }, Viewport = new(400, 600) });
        var theirs = Words(1000, there);
        using var left = Open(Words(0, many));
        using var right = Open(theirs);
        var group = new ListGroup<string, int>();
        group.Add(left, () => new(0, 0));
        group.Add(right, () => new(500, 0));
        left.SelectAll();
        var player = ListPlayer.On(left);
        player.Touch.GoTo("handle:0");
        player.Touch.Down();
        player.Touch.GlideTo(700, 20, 200);
        var gap = right.Frame.Grab!.GapY;
        asked = 0;
        player.Touch.GlideTo(700, 240, 200);
        Assert.NotEqual(gap, right.Frame.Grab!.GapY);
        Assert.Equal(0, asked);
        // Another edit, another answer.
        theirs.Insert(0, "4");
        Assert.InRange(asked, 1, 20);
        player.Touch.GlideTo(700, 20, 200);
        Assert.Contains("key '4' already", right.Frame.Grab!.Refusal, StringComparison.Ordinal);
        Assert.InRange(asked, 1, 40);
    }

    [Fact]
    public void Nothing_is_lost_or_doubled_whatever_is_sent_and_taken_back() =>
        Gen.Select(Gen.Select(Gen.Int[0, 6], Gen.Int[0, 9], Gen.Int[0, 31]).Array[30], Gen.Bool, Gen.Bool)
        .Sample((steps, live, sectioned) =>
        {
            var (left, right, group) = OpenTwo(live, sectioned);
            using var _1 = left;
            using var _2 = right;
            var all = string.Join(" ", (All(left) + " " + All(right)).Split(' ').Select(i => i[..3]).Order());
            var states = new Stack<(string, string)>();
            foreach (var (what, at, set) in steps)
            {
                var (from, to) = at % 2 == 0 ? (left, right) : (right, left);
                var keys = Enumerable.Range(0, from.Count).Where(i => (set >> (i % 5) & 1) == 1).Select(from.KeyAt).ToList();
                var before = (All(left), All(right));
                switch (what)
                {
                    case <= 1:
                        if (group.Send(from, to, keys, sectioned ? "south" : null).IsHandled) states.Push(before);
                        break;
                    case 2 when from.Count > 0:
                        var player = ListPlayer.On(from);
                        player.Touch.GoTo($"handle:{from.KeyAt(at % from.Count)}");
                        player.Touch.Down();
                        player.Touch.GlideTo(from == left ? 700 : -300, 50 + (set * 15), 100);
                        if (player.Touch.Up().IsHandled && (All(left), All(right)) != before) states.Push(before);
                        break;
                    case 3:
                        // A step of one list alone is not the other's.
                        if (from.Move(keys, 0, sectioned ? "north" : null).IsHandled && (All(left), All(right)) != before)
                        {
                            from.Undo();
                            Assert.Equal(before, (All(left), All(right)));
                        }
                        break;
                    default:
                        if (states.Count == 0) break;
                        Assert.True((at % 2 == 0 ? left : right).Undo().IsHandled);
                        Assert.Equal(states.Pop(), (All(left), All(right)));
                        break;
                }
                Assert.Equal(
                    all, string.Join(
                        " ", (All(left) + " " + All(right)).Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(i => i[..3]).Order()));
                Assert.False(left.IsGrabbing || right.IsGrabbing || right.Frame.Grab is not null || left.Frame.Grab is not null);
            }
        }, iter: Effort.Of(300));
}
