using System.Collections.ObjectModel;
using CsCheck;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Gestures;
using Lectica.Input;
using Lectica.Layout;
using Lectica.Testing;
using Lectica.Tracing;

namespace Lectica.Tests.Gestures;

/// <summary>Sweeps, marquees and grabs: what shows meanwhile, what is told at the end, and that breaking off leaves no trace.</summary>
public sealed class DraggingTests
{
    private static readonly ListOptions Boxes = new()
    {
        Mode = SelectionMode.Multiple,
        AlwaysSelecting = true,
        ModKey = ModKey.Ctrl,
        Parts = new() { Check = true },
    };

    private static InteractiveList<string, string> Open(
        ListOptions options, int rows, Func<string, bool>? shows = null, Func<string, bool>? enabled = null)
    {
        var list = RecognitionTests.Open(options, rows);
        list.Filter = shows;
        list.EnabledWhen = enabled;
        return list;
    }

    private static double Middle(InteractiveList<string, string> list, int row) => (row * 52) + 26 - list.Viewport.ScrollTop;

    [Fact]
    public void A_sweep_makes_the_rows_it_passes_as_the_first_and_gives_them_back_when_it_returns() =>
        Gen.Select(Gen.Int[0, 9], Gen.Int[0, 9].Array[1, 6], Gen.Bool.Array[10], Gen.Bool.Array[10])
        .Sample((first, stops, selected, disabled) =>
        {
            using var list = Open(Boxes, 10, enabled: s => !disabled[s[^1] - '0']);
            if (disabled[first]) return;
            for (var i = 0; i < 10; i++)
                if (selected[i] && !disabled[i]) list.Toggle($"R{i:00}");
            var before = list.SelectedKeys.ToHashSet();
            var told = new List<SelectionChangedEventArgs<string, string>>();
            list.SelectionChanged += (_, e) => told.Add(e);
            var player = ListPlayer.On(list);
            player.Touch.MoveTo(20, Middle(list, first));
            player.Touch.Down();
            player.Touch.GlideTo(20, Middle(list, first) + (first < 5 ? 16 : -16), 50);
            foreach (var stop in stops) player.Touch.GlideTo(20, Middle(list, stop), 100);
            // In the viewport's edge it scrolls, but all ten rows fit.
            HashSet<string> Expected(int last)
            {
                var result = before.ToHashSet();
                for (var i = Math.Min(first, last); i <= Math.Max(first, last); i++)
                {
                    if (disabled[i]) continue;
                    if (before.Contains($"R{first:00}")) result.Remove($"R{i:00}");
                    else result.Add($"R{i:00}");
                }
                return result;
            }
            Assert.Empty(told);
            Assert.True(Expected(stops[^1]).SetEquals(list.Frame.Rows.Where(r => r.IsSelected).Select(r => r.Content.Label)));
            Assert.True(before.SetEquals(list.SelectedKeys));
            player.Touch.Up();
            Assert.True(Expected(stops[^1]).SetEquals(list.SelectedKeys));
            // Once, for all of it; not at all where it came to nothing.
            Assert.Equal(Expected(stops[^1]).SetEquals(before) ? 0 : 1, told.Count);
            if (told.Count == 1) Assert.Equal("drag along the boxes sweeps", told[0].Cause);
        });

    [Fact]
    public void A_marquee_selects_the_rows_it_touches_and_joins_by_its_modifiers() =>
        Gen.Select(Gen.Double[5, 395], Gen.Double[5, 515], Gen.Int[0, 2], Gen.Bool.Array[6]).Sample((x, y, join, selected) =>
        {
            // Six rows of 52 px leave 208 px of empty space below them.
            using var list = Open(Boxes with { AlwaysSelecting = false, Parts = new() }, 6);
            list.SelectedKeys = [.. Enumerable.Range(0, 6).Where(i => selected[i]).Select(i => $"R{i:00}")];
            var before = list.SelectedKeys.ToHashSet();
            var player = ListPlayer.On(list);
            player.Modifiers = join switch { 1 => Modifiers.Ctrl, 2 => Modifiers.Shift, _ => Modifiers.None };
            player.Mouse.MoveTo(200, 450);
            player.Mouse.Down();
            player.Mouse.GlideTo(x, y, 200);
            if (Math.Abs(x - 200) < 5 && Math.Abs(y - 450) < 5) return;
            var frame = list.Frame.Marquee!.Value;
            foreach (var (wanted,
                found) in new[] { (Math.Min(x, 200), frame.Left), (Math.Min(y, 450), frame.Top), (Math.Abs(x - 200), frame.Width),
                (Math.Abs(y - 450), frame.Height) })
                Assert.Equal(wanted, found, 9);
            player.Mouse.Up();
            Assert.Null(list.Frame.Marquee);
            var covered = Enumerable.Range(0, 6).Where(i => Math.Min(y, 450) < (i + 1) * 52).Select(i => $"R{i:00}").ToHashSet();
            var expected = join switch
            {
                1 => before.Except(covered).Union(covered.Except(before)),
                2 => before.Union(covered),
                _ => covered,
            };
            Assert.True(expected.ToHashSet().SetEquals(list.SelectedKeys), $"to {y}, join {join}: {string.Join(",", list.SelectedKeys)}");
        });

    [Fact]
    public void Near_an_edge_it_scrolls_faster_toward_it_and_stops_at_the_end()
    {
        var limits = Thresholds.Default.AutoScroll;
        double Speed(double y, double lasted = 0, HostWindow? window = null) =>
            AutoScroll.Speed(y, new(400, 520), window ?? HostWindow.Of(new(400, 520)), lasted, limits);
        Assert.Equal((0, -300, 150), (Speed(44), Speed(-30), Math.Round(Speed(498), 6)));
        // It doubles each second, up to 40 viewports a second.
        Assert.Equal((-600, -1200, -300 * Math.Pow(2, 2.5), -40 * 520), (Speed(0, 1000), Speed(0, 2000), Speed(0, 2500), Speed(0, 60_000)));
        // A window that ends before the viewport does.
        Assert.Equal(
            (300, 0, 150, -300),
                (Speed(300, 0, new(0, 0, 400, 300)), Speed(256, 0, new(0, 0, 400, 300)), Math.Round(Speed(278, 0, new(0, 0, 400, 300)), 6),
                    Speed(90, 0, new(0, 100, 400, 300))));
        Gen.Double[0, 520].Array[2].Sample(ys =>
        {
            var speeds = ys.Order().Select(y => Speed(y)).ToArray();
            Assert.True(speeds[0] <= speeds[1]);
        });

        using var list = Open(Boxes, 200);
        var player = ListPlayer.On(list);
        player.Touch.GoTo("check:R02");
        player.Touch.Down();
        player.Touch.GlideTo(20, 515, 300);
        player.Wait(1000);
        // 266 px a second at first, at 5 px from the edge, and twice that after a second: 384 px by then; and some before it was there.
        Assert.InRange(list.Viewport.ScrollTop, 330, 460);
        // All that shows above the finger has been passed.
        Assert.All(list.Frame.Rows.Where(r => r.Top < 460), r => Assert.True(r.IsSelected));
        player.Wait(20_000);
        Assert.Equal((200 * 52) - 520, list.Viewport.ScrollTop);
        Assert.Null(list.NextDeadline);
        // Back up, and away from the edge again.
        player.Touch.GlideTo(20, 3, 200);
        player.Wait(300);
        Assert.InRange(list.Viewport.ScrollTop, (200 * 52) - 520 - 150, (200 * 52) - 520 - 80);
        player.Touch.GlideTo(20, 260, 100);
        var rest = list.Viewport.ScrollTop;
        player.Wait(1000);
        Assert.Equal(rest, list.Viewport.ScrollTop);
        player.Touch.Up();
        Assert.Equal(list.Plane.Geometry.LineAt(rest + 260)!.Value.Value - 1, list.SelectedCount);
    }

    [Fact]
    public void Whatever_breaks_off_a_drag_leaves_the_list_as_if_it_had_not_begun()
    {
        var begun = new int[4];
        Gen.Select(Gen.Int[0, 3], Gen.Int[0, 2], Gen.Int[1, 8]).Sample((what, how, row) =>
        {
            using var list = RecognitionTests.Open(RecognitionTests.Everything with
            {
                Parts = new() { Check = true, Handle = true },
                Viewport = new(400, 700),
            });
            list.SelectedKeys = ["R01", "R07"];
            if (what == 1) list.BeginSelecting();
            list.MoveCursorTo("R01");
            var told = 0;
            list.SelectionChanged += (_, _) => told++;
            list.MoveRequested += (_, _) => told++;
            var player = ListPlayer.On(list);
            var state = list.StateLine().ToJson();
            PlayerPointer<string, string> pointer = what is 0 or 1 ? player.Touch : player.Mouse;
            if (what == 3) pointer.MoveTo(200, 690);
            else pointer.GoTo(what switch { 0 => $"handle:R{row:00}", 1 => $"check:R{row:00}", _ => $"R{row:00}" });
            pointer.Down();
            pointer.GlideTo(pointer.X + 3, 260, 200);
            if (!list.IsDragging) return;
            Interlocked.Increment(ref begun[what]);
            if (how == 0) pointer.Cancel();
            else if (how == 1) player.Press("Escape");
            else player.Take(new PointerSample(SampleKind.Move, what is 0 or 1 ? 1 : 2, pointer.Type, 1, 1, player.Now) { Button = -1 });
            pointer.Up();
            Assert.False(list.IsDragging);
            Assert.Equal((0, state), (told, list.StateLine().ToJson()));
        });
        Assert.All(begun, n => Assert.True(n > 5, $"drags of each kind that began: {string.Join(", ", begun)}"));
    }

    [Fact]
    public void A_drop_asks_for_the_move_that_the_gap_shows_and_not_for_one_that_changes_nothing()
    {
        int moves = 0, stays = 0;
        Gen.Select(Gen.Int[0, 9], Gen.Int[0, 10], Gen.Bool.Array[10], Gen.Int[0, 2], Gen.Bool.Array[10])
            .Sample((row, gap, selected, by, hidden) =>
        {
            string[] names = [.. Enumerable.Range(0, 10).Select(i => $"R{i:00}")];
            using var list = Open(RecognitionTests.Everything with { Viewport = new(400, 560) }, 10, s => !hidden[s[^1] - '0']);
            if (hidden[row]) return;
            list.SelectedKeys = [.. names.Where((_, i) => selected[i] && !hidden[i])];
            var asked = new List<MoveRequestedEventArgs<string, string>>();
            list.MoveRequested += (_, e) => asked.Add(e);
            var player = ListPlayer.On(list);
            if (by == 0) player.Touch.DragToGap(names[row], gap);
            else if (by == 1) player.Mouse.DragToGap("row:" + names[row], gap);
            else player.Touch.DragToGap("row:" + names[row], gap);
            // A drag that never passes the tolerance is none.
            if (asked.Count == 0 && !player.Trace.Any(l => l is TracedAct { Act: "grab" })) return;
            string[] target = selected[row] ? [.. names.Where((_, i) => selected[i] && !hidden[i])] : [names[row]];
            // Under a filter the gap is just before the next row on show that is not taken along, or after the last one.
            var at = Array.FindIndex(names, gap, n => !hidden[n[^1] - '0'] && !target.Contains(n));
            if (at < 0) at = Array.FindLastIndex(names, n => !hidden[n[^1] - '0']) + 1;
            string[] moved = [.. names[..at].Except(target), .. target, .. names[at..].Except(target)];
            // What leaves the order on show as it was is not a move.
            IEnumerable<string> Shown(IEnumerable<string> all) => all.Where(n => !hidden[n[^1] - '0']);
            if (Shown(moved).SequenceEqual(Shown(names)))
            {
                Interlocked.Increment(ref stays);
                Assert.Empty(asked);
            }
            else
            {
                Interlocked.Increment(ref moves);
                var move = Assert.Single(asked);
                Assert.Equal((at, string.Join(",", target)), (move.Gap, string.Join(",", move.Items)));
            }
        });
        Assert.True(moves > 20 && stays > 5, $"{moves} drops moved, {stays} changed nothing");
    }

    [Fact]
    public void Rows_that_change_under_the_finger_carry_what_goes_on_along()
    {
        var source = new ObservableCollection<string>(Enumerable.Range(0, 10).Select(i => $"R{i:00}"));
        using var list = InteractiveList.Of(source, s => s, Boxes);
        var player = ListPlayer.On(list);
        player.Touch.GoTo("check:R02");
        player.Touch.Down();
        player.Touch.GlideTo(20, Middle(list, 4), 100);
        Assert.Equal(["R02", "R03", "R04"], list.Frame.Rows.Where(r => r.IsSelected).Select(r => r.Content.Label));
        // Two rows come in between: what the finger is over is another item now.
        source.Insert(3, "new");
        Assert.Equal(["R02", "new", "R03"], list.Frame.Rows.Where(r => r.IsSelected).Select(r => r.Content.Label));
        source.RemoveAt(3);
        player.Touch.Up();
        Assert.Equal(["R02", "R03", "R04"], list.SelectedKeys);
        // The item that it began on leaves: it is cancelled.
        player.Touch.GoTo("check:R06");
        player.Touch.Down();
        player.Touch.GlideTo(20, Middle(list, 8), 100);
        source.Remove("R06");
        Assert.False(list.IsDragging);
        player.Touch.Up();
        Assert.Equal(["R02", "R03", "R04"], list.SelectedKeys);
    }

    [Fact]
    public void A_long_press_can_start_selecting_and_moving_on_sweeps()
    {
        using var list = Open(new() { Mode = SelectionMode.Multiple, LongPress = LongPressMeaning.StartSelecting }, 10);
        var player = ListPlayer.On(list);
        player.Touch.LongPress("R02", release: false);
        Assert.True(list.IsSelecting);
        Assert.Equal(["R02"], list.SelectedKeys);
        player.Touch.GlideTo(200, Middle(list, 5), 200);
        player.Touch.Up();
        player.Expect.Act("begin-selecting").Gesture("hold-drag").Act("sweep", "R02");
        Assert.Equal(["R02", "R03", "R04", "R05"], list.SelectedKeys);
        player.Touch.Tap("R04");
        Assert.Equal(["R02", "R03", "R05"], list.SelectedKeys);
    }

    [Fact]
    public void A_long_press_can_grab_and_the_release_drops()
    {
        using var list = RecognitionTests.Open(RecognitionTests.Everything with { LongPress = LongPressMeaning.Grab });
        var asked = new List<string>();
        list.MoveRequested += (_, e) => asked.Add($"{string.Join(",", e.Keys)} to {e.Gap}");
        var player = ListPlayer.On(list);
        player.Touch.LongPress("R02", release: false);
        Assert.Equal("R02", list.Frame.Grab!.Content.Label);
        player.Touch.Up();
        Assert.Empty(asked);
        Assert.Null(list.Frame.Grab);
        player.Touch.DragToGap("row:R02", 6);
        Assert.Equal(["R02 to 6"], asked);
    }

    /// <summary>What follows a pointer is redrawn at each of its moves, also where nothing else has changed.</summary>
    [Theory]
    [InlineData("marquee")]
    [InlineData("swipe")]
    [InlineData("pull")]
    [InlineData("grab")]
    public void What_follows_a_pointer_follows_it_in_every_frame(string what)
    {
        var list = InteractiveList.Of(new ObservableCollection<string>(["a", "b", "c"]),
            new() { Mode = SelectionMode.Multiple, MayMove = true, Viewport = new(300, 400), Parts = new() { Handle = true } });
        list.Commands = [new("star", "Star") { ShowIn = ShowIn.LeadingTray, Do = _ => { } },
            new("again", "Again") { Scope = CommandScope.List, Do = _ => { } }];
        list.PullCommand = "again";
        var player = ListPlayer.On(list);
        var pointer = what == "marquee" ? player.Mouse : player.Touch;
        double x = what == "grab" ? 280 : 150, y = what == "marquee" ? 390 : 20;
        pointer.MoveTo(x, y);
        pointer.Down();
        object? Drawn() => what switch
        {
            "marquee" => list.Frame.Marquee,
            "swipe" => list.Frame.Rows[0].Shift,
            "pull" => list.Frame.Pull,
            _ => list.Frame.Grab?.Top,
        };
        var seen = new List<object?>();
        for (var i = 1; i <= 6; i++)
        {
            var way = 14 + (i * 2);
            pointer.GlideTo(what == "swipe" ? x + way : x, what switch { "marquee" => y - way, "swipe" => y, _ => y + way }, 20);
            seen.Add(Drawn());
        }
        Assert.DoesNotContain(null, seen);
        Assert.Equal(6, seen.Distinct().Count());
    }
}
