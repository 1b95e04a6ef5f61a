using System.Collections.ObjectModel;
using CsCheck;
using Lectica.Acts;
using Lectica.Frames;
using Lectica.Input;
using Lectica.Items;
using Lectica.Testing;
using Lectica.Tracing;
using static Lectica.Tests.Moving.MoveTests;

namespace Lectica.Tests.Moving;

/// <summary>
/// Taking up, hovering, dropping and dropping back: by pointer and by key, with the source, the filter and the sections changing under it.
/// </summary>
public sealed class GrabTests
{
    private static string Rows(Frame frame) => string.Join(" ", frame.Rows.Select(r => (r.IsGrabbed ? "*" : "") + r.Content.Label));

    [Fact]
    public void Keys_take_up_choose_the_gap_drop_and_put_back_and_each_step_is_said()
    {
        var (list, _) = Open(5, 0, null, Kind.List);
        using var _1 = list;
        var said = new List<string>();
        list.Announced += (_, e) => said.Add(e.Text);
        var player = ListPlayer.On(list);
        list.MoveCursorTo("R1");
        player.Press("Alt+Enter");
        Assert.Equal("R1 taken up, place 2 of 5. Arrow keys choose the place, Enter drops, Escape puts back", said[^1]);
        player.Press("ArrowDown");
        Assert.Equal(("Moved to place 3 of 5", "R0 R2 *R1 R3 R4"), (said[^1], Rows(list.Frame)));
        // Nothing has moved yet.
        Assert.Equal("R0 R1 R2 R3 R4", Shown(list));
        player.Press("End");
        Assert.Equal("Moved to place 5 of 5", said[^1]);
        player.Press("PageUp");
        Assert.Equal(("Moved to place 1 of 5", "*R1 R0 R2 R3 R4"), (said[^1], Rows(list.Frame)));
        player.Press("Escape");
        Assert.Equal(("Put back", "R0 R1 R2 R3 R4", false), (said[^1], Rows(list.Frame), list.IsGrabbing));
        player.Press("Alt+Enter");
        player.Press("ArrowDown");
        player.Press("Space");
        Assert.Equal(("Dropped at place 3 of 5", "R0 R2 R1 R3 R4"), (said[^1], Shown(list)));
        player.Expect.Act("grab", "R1").Act("hover").Act("hover").Act("hover").Act("drop-back").Act("grab", "R1").Act("hover").Change("gap")
            .Act("drop").Change("move");
        // The keyboard goes elsewhere: it is put back.
        player.Press("Alt+Enter");
        player.Press("ArrowUp");
        list.Blur();
        Assert.Equal((false, "R0 R2 R1 R3 R4"), (list.IsGrabbing, Rows(list.Frame)));
    }

    [Fact]
    public void The_preview_is_what_a_drop_then_makes()
    {
        int keys = 0, pointers = 0;
        Gen.Select(Gen.Int[0, 11], Gen.Int[0, 620], Gen.Int[0, 4095], Gen.Int[0, 4095], Gen.Int[-1, 4095], Gen.Bool)
            .Sample((row, y, selected, hidden, south, byKey) =>
        {
            var (list, _) = Open(12, hidden, south < 0 ? null : south, Kind.List, Movable with { Parts = new() { Handle = true } });
            using var _1 = list;
            if ((hidden >> row & 1) == 1) return;
            list.SelectedKeys = [.. Enumerable.Range(0, 12).Where(i => (selected >> i & 1) == 1).Select(i => $"R{i}")];
            var player = ListPlayer.On(list);
            var before = list.StateLine().ToJson();
            if (byKey)
            {
                list.Grab($"R{row}");
                for (var i = 0; i < y / 40; i++) list.Hover(y % 2 == 0 ? Direction.Next : Direction.Previous);
            }
            else
            {
                player.Touch.GoTo($"handle:R{row}");
                player.Touch.Down();
                player.Touch.GlideTo(380, y, 150);
            }
            // By pointer a hair's movement is not a drag.
            if (!list.IsGrabbing) return;
            if (byKey) Interlocked.Increment(ref keys);
            else Interlocked.Increment(ref pointers);
            Assert.Equal(before, list.StateLine().ToJson());
            var frame = list.Frame;
            var preview = frame.Rows.Select(r => (r.Kind, r.Content.Label, r.Heading, r.Top)).ToList();
            Assert.Equal(list.Grabbed.Count, frame.Rows.Count(r => r.IsGrabbed));
            if (byKey) list.Drop();
            else player.Touch.Up();
            Assert.Equal(preview, list.Frame.Rows.Select(r => (r.Kind, r.Content.Label, r.Heading, r.Top)));
        }, iter: Effort.Of(1500));
        if (!Effort.IsFull) return;
        Assert.True(keys > 100 && pointers > 100, $"{keys} grabs by key, {pointers} by pointer");
    }

    [Fact]
    public void A_neighbour_gives_way_when_the_card_has_passed_its_middle_and_does_not_flutter()
    {
        var (list, _) = Open(6, 0, null, Kind.List, Movable with { Parts = new() { Handle = true } });
        using var _1 = list;
        var gaps = new List<int?>();
        list.Traced += line =>
        {
            if (line is TracedChange { Change: "gap" } gap) gaps.Add(gap.Gap);
        };
        var player = ListPlayer.On(list);
        player.Touch.GoTo("handle:R1");
        player.Touch.Down();
        // Taken at 78, its middle. Half a row on, and four pixels, R2 gives way; a row later R3; and back only four before that.
        foreach (var y in (double[])[100, 107, 109, 105, 101, 99, 107, 109, 159, 161, 153, 151])
        {
            var before = gaps.Count;
            player.Touch.MoveTo(380, y);
            // It glides from where it was once, and not again at each move of the finger.
            Assert.Equal(gaps.Count > before, list.Frame.Rows.Any(r => r.TopBefore is not null));
        }
        Assert.Equal([3, 2, 3, 4, 3], gaps);
        player.Touch.Up();
    }

    [Fact]
    public void While_something_is_carried_elements_keep_their_order_in_the_document()
    {
        var elsewhere = 0;
        Gen.Select(Gen.Int[0, 7], Gen.Int[0, 255], Gen.Int[0, 3].Array[1, 12], Gen.Bool).Sample((row, selected, hovers, sectioned) =>
        {
            var (list, _) = Open(8, 0, sectioned ? 0b11001100 : null, Kind.Observable);
            using var _list = list;
            list.Resize(400, 700);
            list.SelectedKeys = [.. Enumerable.Range(0, 8).Where(i => (selected >> i & 1) == 1).Select(i => $"R{i}")];
            list.MoveCursorTo($"R{row}");
            var before = list.Frame.Rows.Where(r => r.Index >= 0).OrderBy(r => r.Row.Value).Select(r => r.Index).ToArray();
            list.Grab($"R{row}");
            foreach (var hover in hovers)
            {
                list.Hover(hover switch { 0 => Direction.First, 1 => Direction.Last, 2 => Direction.Previous, _ => Direction.Next });
                var rows = list.Frame.Rows.Concat(list.Frame.Kept).Where(r => r.Index >= 0).ToArray();
                Assert.Equal(before.Where(rows.Select(r => r.Index).Contains), rows.OrderBy(r => r.DocumentOrder).Select(r => r.Index));
                if (!rows.OrderBy(r => r.Top).SequenceEqual(rows.OrderBy(r => r.DocumentOrder))) elsewhere++;
            }
        });
        Assert.True(elsewhere > 100, $"{elsewhere} with rows in other places than their elements");
    }

    [Fact]
    public void Edits_under_a_grab_leave_the_gap_with_its_neighbours_and_cancelling_leaves_only_the_edits() =>
        Gen.Select(Gen.Int[0, 7], Gen.Int[0, 255], Gen.Int[0, 8], Gen.Select(Gen.Int[0, 5], Gen.Int[0, 99], Gen.Int[0, 99]).Array[1, 6],
        Gen.Bool, Gen.Bool).Sample((row, selected, downs, edits, sectioned, drops) =>
        {
            InteractiveList<Request, string> OpenOne(out ObservableCollection<Request> source)
            {
                var (list, s) = Open(8, 0, sectioned ? 0b11001100 : null, Kind.Observable);
                source = (ObservableCollection<Request>)s;
                list.SelectedKeys = [.. Enumerable.Range(0, 8).Where(i => (selected >> i & 1) == 1).Select(i => $"R{i}")];
                list.MoveCursorTo($"R{row}");
                return list;
            }
            using var list = OpenOne(out var source);
            using var twin = OpenOne(out var untouched);
            list.Grab($"R{row}");
            list.Hover(Direction.First);
            for (var i = 0; i < downs; i++) list.Hover(Direction.Next);
            var fresh = 50;
            void Change(ObservableCollection<Request> to, InteractiveList<Request, string> its, int what, int a, int b)
            {
                if (what <= 1) to.Insert(a % (to.Count + 1), new($"N{fresh}", b % 2 == 0 ? "north" : "south"));
                else if (what == 2 && to.Count > 0) to.RemoveAt(a % to.Count);
                else if (what == 3 && to.Count > 0) to.Move(a % to.Count, b % to.Count);
                else if (what == 4) its.Show([.. to.Reverse()]);
                else its.Filter = r => (r.Id[^1] + a) % 4 != 0;
            }
            foreach (var (what, a, b) in edits)
            {
                var grabbed = list.Grabbed.Select(i => list[i].Id).ToList();
                var (above, below) = Neighbours(list);
                Change(source, list, what, a, b);
                Change(untouched, twin, what, a, b);
                if (what == 4)
                {
                    // Shown another source, which the collection is no longer.
                    source = [.. source.Reverse()];
                    untouched = [.. untouched.Reverse()];
                    list.Show(source);
                    twin.Show(untouched);
                }
                fresh++;
                // Those that are left and show stay grabbed; where none is, it is put back.
                string[] left = [.. Enumerable.Range(0, list.Count).Select(i => list[i].Id)
                    .Where((id, i) => grabbed.Contains(id) && list.Rows.Shown.Contains(i))];
                Assert.Equal(left, list.Grabbed.Select(i => list[i].Id));
                Assert.Equal(left.Length > 0, list.IsGrabbing);
                if (!list.IsGrabbing) break;
                bool Stays(string? id) => id is not null && list.IndexOf(id) is >= 0 and var i && list.Rows.Shown.Contains(i);
                if (what is 4 or 3) continue;
                var now = Neighbours(list);
                if (Stays(below)) Assert.Equal(below, now.Below);
                else if (Stays(above) && below is not null) Assert.Equal(above, now.Above);
                _ = list.Frame;
            }
            if (drops && list.IsGrabbing)
            {
                var order = Rows(list.Frame).Replace("*", "", StringComparison.Ordinal);
                Assert.True(list.Drop().IsHandled);
                Assert.Equal(order, Rows(list.Frame));
                Assert.Equal(source, Enumerable.Range(0, list.Count).Select(i => list[i]));
                return;
            }
            if (list.IsGrabbing) list.DropBack();
            Assert.Equal(twin.StateLine().ToJson(), list.StateLine().ToJson());
            Assert.Equal((Rows(twin.Frame), twin.Viewport), (Rows(list.Frame), list.Viewport));
        }, iter: Effort.Of(3000));

    /// <summary>What shows and stays above and below the place where grabbed items would land, inside their section.</summary>
    private static (string? Above, string? Below) Neighbours(InteractiveList<Request, string> list)
    {
        var rows = list.Frame.Rows.ToList();
        int first = rows.FindIndex(r => r.IsGrabbed), last = rows.FindLastIndex(r => r.IsGrabbed);
        string? At(int i) => i >= 0 && i < rows.Count && rows[i].Kind == RowKind.Item ? rows[i].Content.Label : null;
        return rows.GetRange(first, last - first + 1).All(r => r.IsGrabbed) ? (At(first - 1), At(last + 1)) : (null, null);
    }

    [Fact]
    public void Pinned_items_stay_where_they_are_whatever_is_dropped_where() =>
        Gen.Select(Gen.Int[1, 7], Gen.Int[0, 127], Gen.Int[0, 127], Gen.Int[0, 7], Gen.Int[-1, 127])
        .Sample((n, pinned, moved, gap, south) =>
        {
            var (list, source) = Open(n, 0, south < 0 ? null : south, Kind.List);
            using var _ = list;
            list.PinnedWhen = r => (pinned >> r.Id[1] - '0' & 1) == 1;
            string Places() => string.Join(" ", list.Rows.Sections.IsEmpty
                ? source.Select((r, i) => (r, i)).Where(p => list.PinnedWhen(p.r)).Select(p => $"{p.r.Id}@{p.i}")
                : Enumerable.Range(0, list.Rows.Sections.Length)
                .SelectMany(s => list.Rows.ShownIn(s).Select((i, at) => (Item: list[i], At: at, s))).Where(p => list.PinnedWhen(p.Item))
                .Select(p => $"{p.Item.Id}@{p.s}:{p.At}"));
            var before = (Places(), Shown(list));
            var keys = Enumerable.Range(0, n).Where(i => (moved >> i & 1) == 1).Select(i => $"R{i}").ToList();
            var response = list.Move(keys, gap % (n + 1), south < 0 ? null : gap % 2 == 0 ? "north" : "south");
            Assert.Equal(before.Item1, Places());
            if (response.Refusal is not null)
            {
                Assert.Equal(before.Item2, Shown(list));
                return;
            }
            // Refused is only what would shift one: without pins the same moves.
            Assert.All(keys.Where(k => list.PinnedWhen(source.First(r => r.Id == k))), k => Assert.Contains(k, Shown(list)));
        }, iter: Effort.Of(3000));

    [Fact]
    public void The_app_may_veto_what_is_grabbed_and_where_it_is_dropped()
    {
        var (list, source) = Open(6, 0, null, Kind.List, Movable with { Parts = new() { Handle = true } });
        using var _ = list;
        var asked = 0;
        list.CanGrab = r => r.Id != "R2";
        list.CanDrop = drop =>
        {
            asked++;
            return drop.Gap != 5;
        };
        var player = ListPlayer.On(list);
        Assert.Equal(RefusalKind.NotAllowed, list.Grab("R2").Refusal!.Kind);
        list.SelectedKeys = ["R1", "R2"];
        player.Touch.GoTo("handle:R1");
        player.Touch.Down();
        player.Touch.GlideTo(380, 258, 200);
        // One of the two may be taken up; what is not allowed shows, and the rows are as they are.
        var grab = list.Frame.Grab!;
        Assert.Equal((1, true, false), (grab.Count, grab.Refusal is not null, grab.IsMove));
        Assert.Equal("R0 *R1 R2 R3 R4 R5", Rows(list.Frame));
        var questions = asked;
        player.Touch.MoveTo(380, 259);
        Assert.Equal(questions, asked);
        Assert.Equal(RefusalKind.NotAllowed, player.Touch.Up().Refusal?.Kind);
        Assert.Equal("R0 R1 R2 R3 R4 R5", Shown(list));
        list.CanDrop = _ => throw new InvalidOperationException("no idea");
        Assert.Contains("no idea", list.MoveToBottom(["R0"]).Refusal!.Reason);
        list.PinnedWhen = r => r.Id == "R0";
        Assert.Equal(RefusalKind.Pinned, list.Grab("R0").Refusal!.Kind);
        list.CanDrop = null;
        Assert.Equal(RefusalKind.Pinned, list.MoveBefore(["R3"], "R0").Refusal!.Kind);
        // The top is as far up as what is pinned lets it.
        Assert.True(list.MoveToTop(["R3"]).IsHandled);
        Assert.Equal("R0 R3 R1 R2 R4 R5", Shown(list));
        Assert.True(list.MoveToBottom(["R3"]).IsHandled);
        Assert.Equal(source.Select(r => r.Id), ["R0", "R1", "R2", "R4", "R5", "R3"]);
    }

    [Fact]
    public void A_collapsed_section_opens_under_a_hover_and_an_empty_one_takes_a_drop()
    {
        var (list, source) = Open(4, 0, 0b1100, Kind.List, Movable with { Parts = new() { Handle = true } });
        using var _ = list;
        list.Sections = list.Sections! with { Order = ["north", "south", "west"] };
        list.CollapseOrExpand("south");
        var player = ListPlayer.On(list);
        var before = list.StateLine().ToJson();
        // Headings 36 px, rows 52: the collapsed heading of south is at 140.
        player.Touch.GoTo("handle:R0");
        player.Touch.Down();
        player.Touch.GlideTo(380, 165, 100);
        Assert.Equal(4 + 1, list.Frame.Rows.Count(r => r.Kind is RowKind.Heading or RowKind.Notice) +
            list.Frame.Rows.Count(r => r.Kind == RowKind.Item && !r.IsGrabbed));
        // Over what is collapsed it has no row in the list; it looks as it did all the same.
        Assert.DoesNotContain(list.Frame.Rows, r => r.IsGrabbed);
        Assert.Equal(("R0", "handle"), (list.Frame.Grab!.Row!.Content.Label, Assert.Single(list.Frame.Grab.Row.Parts).Part.ToString()));
        Assert.Equal((list.Frame.Grab.Width, list.Frame.Grab.Height), (list.Frame.Grab.Row.Width, list.Frame.Grab.Row.Height));
        player.Wait(560);
        Assert.Contains("south", list.CollapsedSections);
        player.Wait(60);
        Assert.DoesNotContain("south", list.CollapsedSections);
        // Put back, it is closed again.
        player.Touch.Cancel();
        Assert.Equal(before, list.StateLine().ToJson());
        Assert.Contains("south", list.CollapsedSections);
        // Dropped in it, it stays open.
        player.Touch.GoTo("handle:R0");
        player.Touch.Down();
        player.Touch.GlideTo(380, 165, 100);
        player.Wait(650);
        player.Touch.GlideTo(380, 200, 100);
        player.Touch.Up();
        Assert.Equal("R1 | R2 R0 R3 | ", Shown(list));
        Assert.Empty(list.CollapsedSections);
        Assert.Equal("south", source.First(r => r.Id == "R0").Field);
        // The empty section's notice takes a drop as well; so it does by key.
        list.Grab("R1");
        list.Hover(Direction.Last);
        Assert.Equal("west", list.Frame.Rows.Last(r => r.Section is not null).Section);
        list.Drop();
        Assert.Equal(" | R2 R0 R3 | R1", Shown(list));
        list.Undo();
        list.Undo();
        Assert.Equal("R0 R1 | R2 R3 | ", Shown(list));
        Assert.Equal(["north", "north", "south", "south"], source.Select(r => r.Field));
    }

    [Fact]
    public void Scrolling_speeds_up_toward_the_edge_and_stops_just_at_the_ends()
    {
        var (list, _) = Open(30, 0, null, Kind.List, Movable with { Viewport = new(400, 300), Parts = new() { Handle = true } });
        using var _1 = list;
        var player = ListPlayer.On(list);
        player.Touch.GoTo("handle:R1");
        player.Touch.Down();
        player.Touch.GlideTo(380, 262, 100);
        double Passed(double y)
        {
            player.Touch.MoveTo(380, y);
            var from = list.Viewport.ScrollTop;
            player.Wait(200);
            return list.Viewport.ScrollTop - from;
        }
        double slow = Passed(262), fast = Passed(285), fastest = Passed(330);
        Assert.True(0 < slow && slow < fast && fast < fastest, $"{slow} {fast} {fastest}");
        player.Wait(5000);
        Assert.Equal((30 * 52) - 300, list.Viewport.ScrollTop);
        Assert.Null(list.NextDeadline);
        player.Touch.Up();
        Assert.EndsWith("R29 R1", Shown(list));
        Assert.Equal("R1", list.Frame.Rows[^1].Content.Label);
    }

    [Fact]
    public void A_drag_in_what_another_grab_had_opened_is_refused_as_that_closes()
    {
        var (list, _) = Open(4, 0, 0b1100, Kind.List, Movable with { Parts = new() { Handle = true } });
        using var _1 = list;
        list.CollapseOrExpand("south");
        list.Grab("R0");
        list.Hover(Direction.Last);
        var player = ListPlayer.On(list);
        player.Wait(5000);
        Assert.DoesNotContain("south", list.CollapsedSections);
        var refused = new List<RefusalKind>();
        list.Refused += (_, e) => refused.Add(e.Refusal.Kind);
        player.Touch.GoTo("handle:R3");
        player.Touch.Down();
        player.Touch.GlideTo(380, 20, 200);
        player.Touch.Up();
        Assert.Contains(RefusalKind.Hidden, refused);
        Assert.Equal((false, "R0 R1 | R2 R3"), (list.IsGrabbing, Shown(list)));
        Assert.Contains("south", list.CollapsedSections);
    }

    [Fact]
    public void A_hover_inside_a_gap_allocates_nothing()
    {
        Assert.SkipUnless(Effort.IsFull, "Code that is changed by a mutation tester allocates.");
        var (list, _) = Open(200, 0, null, Kind.List, Movable with { Parts = new() { Handle = true } });
        using var _1 = list;
        list.SelectedKeys = [.. Enumerable.Range(0, 100).Select(i => $"R{2 * i}")];
        var time = 0.0;
        list.Take(PointerSample.Down(PointerType.Touch, 380, 230, time));
        long Hover(int samples)
        {
            var before = GC.GetAllocatedBytesForCurrentThread();
            for (var i = 0; i < samples; i++) list.Take(PointerSample.Move(PointerType.Touch, 380, 498 + (i % 5), ++time));
            return GC.GetAllocatedBytesForCurrentThread() - before;
        }
        Hover(100);
        Assert.True(list.IsGrabbing);
        Assert.Equal(0, Hover(1000));
    }
}
