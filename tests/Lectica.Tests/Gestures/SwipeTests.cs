using System.Collections.Immutable;
using CsCheck;
using Lectica.Commands;
using Lectica.Gestures;
using Lectica.Input;
using Lectica.Layout;
using Lectica.Swiping;
using Lectica.Testing;
using Lectica.Tracing;

namespace Lectica.Tests.Gestures;

/// <summary>Rows follow the finger, open their trays, arm and settle as the rules say.</summary>
public sealed class SwipeTests
{
    private static readonly ListOptions Options = RecognitionTests.Everything;

    private static readonly ImmutableArray<Command<string, string>> Commands =
        [.. RecognitionTests.Swiped.Select(c => c.Id == "drop" ? c with { SwipesThrough = false } : c)];

    private static InteractiveList<string, string> Open(ListOptions? options = null, int rows = 10) =>
        RecognitionTests.Open(options ?? Options, rows, Commands);

    /// <summary>Where a row lies that a finger has moved, worked out from the rules' words alone.</summary>
    private static double Place(double distance, int commands, bool through, double width)
    {
        double far = Math.Abs(distance), tray = commands * 84;
        return Math.Sign(distance) * Math.Min(width, far <= tray || through ? far : tray + ((far - tray) / 3));
    }

    [Fact]
    public void The_row_follows_the_finger_and_resists_where_there_is_nothing_more() =>
        Gen.Select(Gen.Double[-390, 390], Gen.Bool, Gen.Int[1, 9]).Sample((distance, rightToLeft, row) =>
        {
            if (Math.Abs(distance) < 12) return;
            using var list = Open(Options with { IsRightToLeft = rightToLeft });
            var x = distance > 0 ? 5 : 395;
            // Not on the handle, which is on the trailing side.
            list.Take(PointerSample.Down(PointerType.Touch, rightToLeft ? Math.Max(x, 50) : Math.Min(x, 350), (row * 52) + 20, 0));
            var start = rightToLeft ? Math.Max(x, 50) : Math.Min(x, 350);
            list.Take(PointerSample.Move(PointerType.Touch, start + distance, (row * 52) + 22, 40));
            var drawn = list.Frame.Rows.Single(r => r.Row.Value == row);
            var inward = rightToLeft ? -distance : distance;
            var expected = Place(inward, inward > 0 ? 1 : 2, inward > 0, 400);
            Assert.Equal(rightToLeft ? -expected : expected, drawn.Shift.OffsetAt(40), 6);
            // What is uncovered is shared out, and armed, the one command has it all.
            Assert.Equal(Math.Abs(expected), drawn.Tray.Sum(t => t.Width), 6);
            Assert.Equal(inward >= 200, drawn.Tray[0].IsArmed);
            Assert.Equal(inward > 0 ? ["Star"] : ["Drop", "Defer"], drawn.Tray.Select(t => t.Label));
        });

    [Fact]
    public void A_release_opens_past_half_the_tray_as_projected_and_a_flick_alone_never_invokes() =>
        Gen.Select(Gen.Double[15, 300], Gen.Double[40, 900], Gen.Bool).Sample((distance, speed, leading) =>
        {
            // Slower, and it is a long press before it is past the tolerance.
            var player = ListPlayer.On(Open());
            var invoked = 0;
            player.List.CommandRan += (_, _) => invoked++;
            player.Touch.Swipe("R03", leading ? Edge.Leading : Edge.Trailing, distance, speed);
            var tray = leading ? 84.0 : 168.0;
            var place = Math.Abs(Place(leading ? distance : -distance, leading ? 1 : 2, leading, 400));
            var projected = place + (0.15 * speed);
            // Where the velocity is known only roughly, either may be.
            if (Math.Abs(projected - (tray / 2)) < 0.15 * 0.3 * speed || Math.Abs(projected - 200) < 0.15 * 0.3 * speed
                || Math.Abs(distance - 200) < 1) return;
            Assert.Equal(leading && distance >= 200 ? 1 : 0, invoked);
            Assert.Equal(invoked == 0 && projected > tray / 2, player.List.IsTrayOpen);
        });

    [Fact]
    public void Arming_has_slack_and_swiping_back_fast_disarms()
    {
        var player = ListPlayer.On(Open());
        var hints = new List<HapticHint>();
        player.List.Haptic += (_, e) => hints.Add(e.Hint);
        var invoked = new List<string>();
        player.List.CommandRan += (_, e) => invoked.Add($"{e.Command.Id} {e.Target.Keys[0]}");
        var finger = player.Touch;
        finger.Swipe("R03", Edge.Leading, 205, release: false);
        // Back to 185: under half the width of 400, over 45 % of it.
        finger.GlideTo(finger.X - 20, finger.Y, 300);
        Assert.Equal([HapticHint.Armed], hints);
        finger.GlideTo(finger.X - 10, finger.Y, 300);
        Assert.Equal([HapticHint.Armed, HapticHint.Disarmed], hints);
        finger.GlideTo(finger.X + 60, finger.Y, 300);
        // Armed at 235, and flicked back by the last movement: its projection is under the line.
        finger.GlideTo(finger.X - 40, finger.Y, 50);
        finger.Up();
        Assert.Empty(invoked);
        Assert.Contains(player.Trace, l => l is TracedChange { Change: "tray", Criterion: "arming-line" });
        finger.Swipe("R05", Edge.Leading, 240, 400);
        Assert.Equal(["star R05"], invoked);
        // The source did not remove it: it comes back.
        Assert.Equal(0, player.List.Frame.Rows[5].Shift.To);
    }

    [Fact]
    public void One_tray_is_open_and_a_tap_elsewhere_a_scroll_or_Escape_closes_it_and_does_nothing_else()
    {
        foreach (var close in (Action<ListPlayer<string, string>>[])[
            p => p.Touch.Tap("R01"), p => p.List.ScrollTo(40), p => p.Press("Escape"), p => p.List.CloseTray(), p => p.Mouse.Tap("R07")])
        {
            var player = ListPlayer.On(Open(rows: 40));
            var told = new List<string>();
            player.List.Activated += (_, e) => told.Add(e.Key);
            player.List.SelectionChanged += (_, e) => told.Add(e.Cause);
            player.Touch.Swipe("R03", Edge.Trailing, 120);
            Assert.Equal("tray:trailing:R03", player.List.StateLine().Open);
            player.Touch.Swipe("R05", Edge.Trailing, 120);
            Assert.Equal("tray:trailing:R05", player.List.StateLine().Open);
            close(player);
            Assert.False(player.List.IsTrayOpen);
            Assert.Empty(told);
        }
    }

    [Fact]
    public void Whatever_a_swipe_can_do_a_tap_and_a_call_can_do_too()
    {
        var player = ListPlayer.On(Open());
        var invoked = new List<string>();
        player.List.CommandRan += (_, e) => invoked.Add($"{e.Command.Id} {e.Target.Keys[0]}");
        Assert.True(player.List.OpenTray("R02", Edge.Trailing).IsHandled);
        player.Touch.Tap("tray:defer:R02");
        player.List.RunCommand("star", "R04");
        Assert.Equal(["defer R02", "star R04"], invoked);
        Assert.Contains("There is no command 'sing'; there are star, drop, defer.", player.List.RunCommand("sing", "R04").Refusal!.Reason);
        Assert.NotNull(player.List.OpenTray("none", Edge.Leading).Refusal);
        player.List.EnabledWhen = s => s != "R06";
        Assert.Equal(Acts.RefusalKind.Disabled, player.List.OpenTray("R06", Edge.Leading).Refusal!.Kind);
        player.Expect.FromHere();
        player.Touch.Swipe("R06", Edge.Trailing, 120);
        player.Expect.Nothing();
        Command<string, string> Swiped(string id) => new(id, id) { ShowIn = ShowIn.LeadingTray, SwipesThrough = true };
        Assert.Contains("'a' and 'b' are both swiped through to",
            Assert.Throws<ArgumentException>(() => player.List.Commands = [Swiped("a"), Swiped("b")]).Message);
    }

    [Fact]
    public void A_row_settles_as_a_function_of_time_and_at_once_with_reduced_motion()
    {
        foreach (var reduced in (bool[])[false, true])
        {
            var player = ListPlayer.On(Open(Options with { ReducedMotion = reduced }));
            player.Touch.Swipe("R03", Edge.Trailing, 120, 300);
            var motion = player.List.Frame.Rows[3].Shift;
            Assert.Equal(-168, motion.To);
            Assert.Equal(reduced ? -168 : -120, motion.OffsetAt(player.Now), 6);
            Assert.Equal(-168, motion.OffsetAt(player.Now + 1000));
            var before = motion.OffsetAt(player.Now);
            for (var t = 0; t <= 300; t += 10)
            {
                var place = motion.OffsetAt(player.Now + t);
                Assert.InRange(place, -168, before);
                before = place;
            }
        }
    }

    [Fact]
    public void A_swipe_that_is_broken_off_leaves_the_row_as_it_was()
    {
        foreach (var end in (Action<ListPlayer<string, string>>[])[
            p => p.Touch.Cancel(), p => p.Press("Escape"), p => p.List.Filter = s => s != "R03"])
            foreach (var open in (bool[])[false, true])
            {
                // With no handle, which the open tray would push under the finger.
                var player = ListPlayer.On(Open(Options with { Parts = new() }));
                if (open) player.List.OpenTray("R03", Edge.Trailing);
                player.Touch.Swipe("R03", Edge.Leading, open ? 60 : 230, release: false);
                Assert.True(player.List.IsDragging);
                end(player);
                player.Touch.Up();
                Assert.False(player.List.IsDragging);
                Assert.Equal(open && player.List.Filter is null, player.List.IsTrayOpen);
                Assert.DoesNotContain(player.Trace, l => l is TracedChange { Change: "command" });
            }
    }

    [Fact]
    public void The_slope_of_the_last_100_ms_is_the_velocity() =>
        Gen.Select(Gen.Double[-2000, 2000], Gen.Double[2, 30], Gen.Int[4, 200]).Sample((velocity, gap, count) =>
        {
            using var list = Open();
            var recogniser = new Recogniser(Thresholds.Default);
            var gestures = new List<Gesture>();
            var field = new Swipes();
            recogniser.Take(PointerSample.Down(PointerType.Touch, 0, 0, 0), field, gestures);
            // First any way at all, then evenly.
            recogniser.Take(PointerSample.Move(PointerType.Touch, 500, 0, 10), field, gestures);
            double time = 200, x = 300;
            for (var i = 0; i < count; i++)
            {
                recogniser.Take(PointerSample.Move(PointerType.Touch, x, 0, time), field, gestures);
                time += gap;
                x += velocity * gap / 1000;
            }
            recogniser.Take(PointerSample.Up(PointerType.Touch, x, 0, time), field, gestures);
            Assert.InRange(gestures[^1].VelocityX, velocity - 1e-3, velocity + 1e-3);
        });

    private sealed class Swipes : IGestureField
    {
        public Hit HitAt(double x, double y) => Hit.EmptySpace;

        public bool Wants(GestureKind kind, PointerType pointer, Hit hit, Modifiers modifiers) => kind == GestureKind.Swipe;
    }

    [Fact]
    public void How_densely_a_pointer_tells_its_places_changes_nothing()
    {
        int opened = 0, closed = 0;
        Gen.Select(Gen.Double[0.2, 0.9], Gen.Double[0, 0.3], Gen.Double[80, 150], Gen.Double[0.1, 4]).Sample((fast, slow, time, every) =>
        {
            // Fast, and slower for the last 50 ms, px/ms: only what lies far enough back tells it from one that crept all the way.
            double At(double t) => (fast * Math.Min(t, time - 50)) + (slow * Math.Max(0, t - (time - 50)));
            if (At(time) is < 15 or > 150) return;
            double[] moments = [.. Enumerable.Range(0, 1001).Select(i => time - 100 + (i * 0.1)).Where(t => t >= 0)];
            double meanTime = moments.Average(), meanPlace = moments.Average(At);
            var speed = moments.Sum(t => (t - meanTime) * (At(t) - meanPlace)) / moments.Sum(t => (t - meanTime) * (t - meanTime));
            var projected = At(time) + (150 * speed);
            if (Math.Abs(projected - 84) < 12) return;
            bool Opens(double step)
            {
                using var list = Open();
                list.Take(PointerSample.Down(PointerType.Touch, 300, 180, 0));
                for (var t = step; t < time; t += step) list.Take(PointerSample.Move(PointerType.Touch, 300 - At(t), 180, t));
                list.Take(PointerSample.Up(PointerType.Touch, 300 - At(time), 180, time));
                return list.IsTrayOpen;
            }
            _ = projected > 84 ? Interlocked.Increment(ref opened) : Interlocked.Increment(ref closed);
            Assert.Equal((projected > 84, projected > 84), (Opens(8), Opens(every)));
        }, iter: Effort.Of(2000));
        if (!Effort.IsFull) return;
        Assert.True(opened > 100 && closed > 100, $"opened {opened}, closed {closed}");
    }

    [Fact]
    public void A_tray_leaves_a_third_of_its_row_and_can_be_opened_without_passing_the_arming_line()
    {
        var commands = Enumerable.Range(0, 6)
            .Select(i => new Command<string, string>($"c{i}", $"C{i}") { ShowIn = ShowIn.TrailingTray, Do = _ => { } })
            .ToImmutableArray();
        using var list = RecognitionTests.Open(Options with { Viewport = new(300, 520) }, 5, commands);
        list.OpenTray("R01", Edge.Trailing);
        var row = list.Frame.Rows.Single(r => r.KeyText == "R01");
        Assert.Equal(6, row.Tray.Length);
        Assert.Equal(-200, row.Shift.To);
        Assert.Equal(100, row.Tray.Min(t => t.Left), 6);
        Assert.Equal(200, row.Tray.Sum(t => t.Width), 6);
        list.CloseTray();
        foreach (var by in Enumerable.Range(101, 48))
        {
            list.Take(PointerSample.Down(PointerType.Touch, 200, 80, by * 1000));
            for (var way = 20; way <= by; way++) list.Take(PointerSample.Move(PointerType.Touch, 200 - way, 80, (by * 1000) + way));
            list.Take(PointerSample.Up(PointerType.Touch, 200 - by, 80, (by * 1000) + 900));
            Assert.True(list.IsTrayOpen, $"{by} px");
            list.CloseTray();
        }
    }

    private static ImmutableArray<TrayEntry> Entries(string edge, int count, int through) =>
        [.. Enumerable.Range(0, count).Select(i => new TrayEntry($"{edge}{i}", $"{edge} {i}", i == through))];

    private static string Px(double value) =>
        (Math.Round(value, 1) + 0).ToString("0.#", System.Globalization.CultureInfo.InvariantCulture) + " px";

    /// <summary>From a tray at rest or none, out and back: what the rules say of it, in their own words.</summary>
    [Fact]
    public void A_tray_is_as_wide_as_large_text_needs_and_never_narrower_than_fingers_do()
    {
        var list = InteractiveList.Of(new List<string> { "A", "B" }, r => r, new() { Viewport = new(700, 400) });
        list.Commands = [new("defer", "Defer") { ShowIn = ShowIn.TrailingTray, Do = _ => { } }, new("withdraw", "Withdraw")
        {
            ShowIn = ShowIn.TrailingTray,
            Do = _ => { },
        }];
        foreach (var (scale, wide) in ((double, double)[])[(1, 84), (1.5, 126), (0.5, 84), (8, 700.0 / 3)])
        {
            list.ScaleText(scale);
            list.OpenTray("A", Edge.Trailing);
            Assert.Equal([wide, wide], list.Frame.Rows[0].Tray.Select(t => t.Width), (one, other) => Math.Abs(one - other) < 0.001);
            list.CloseTray();
        }
    }

    [Fact]
    public void Whatever_a_finger_does_follows_from_the_rules_of_swiping()
    {
        var met = new System.Collections.Concurrent.ConcurrentDictionary<string, int>();
        Gen.Select(Gen.Int[0, 3], Gen.Int[0, 3], Gen.Int[-1, 2], Gen.Int[-1, 2], Gen.Int[30, 90], Gen.Bool, Gen.Bool,
            Gen.Select(Gen.Int[-900, 900], Gen.Int[-900, 900], Gen.Int[-3000, 3000])).Sample(
            (leading, trailing, atLeading, atTrailing, tens, mirrored, reduced, way) =>
        {
            double width = tens * 10, line = width / 2;
            var trays = new Trays { Leading = Entries("lead", leading, atLeading), Trailing = Entries("trail", trailing, atTrailing) };
            var physics = new SwipePhysics(trays, Thresholds.Default, width, reduced);
            Assert.Equal(leading + trailing > 0, trays.Any);
            // First to where it arms or not, then on: back under 45 % it is armed no longer.
            var (first, second, velocity) = way;
            var swipe = physics.Follow(physics.Follow(SwipePhysics.Take(3, null), first), second);
            var isLeading = second >= 0;
            var (count, through) = isLeading ? (leading, atLeading >= 0 && atLeading < leading)
                : (trailing, atTrailing >= 0 && atTrailing < trailing);
            double tray = Math.Min(width * 2 / 3, count * 84), far = Math.Abs(second);
            var at = Math.Min(width, far <= tray || through ? far : tray + ((far - tray) / 3));
            Assert.Equal(isLeading ? at : -at, swipe.Offset, 9);
            var one = physics.Follow(SwipePhysics.Take(3, null), first);
            var armed = through && at >= (one.IsArmed ? 0.45 * width : line);
            Assert.Equal((armed, true, false), (swipe.IsArmed, swipe.IsHeld, swipe.IsOpen));

            // The commands share what is uncovered, the outermost at the edge; the armed one has all of it.
            var lies = physics.LayOut(swipe, mirrored);
            var shown = at == 0 ? 0 : armed ? Math.Min(count, 1) : count;
            Assert.Equal(shown, lies.Length);
            for (var k = 0; k < shown; k++)
            {
                Assert.Equal(at / shown, lies[k].Width, 9);
                Assert.Equal(isLeading != mirrored ? k * at / shown : width - ((k + 1) * at / shown), lies[k].Left, 9);
                var name = armed ? isLeading ? $"lead{atLeading}" : $"trail{atTrailing}" : $"{(isLeading ? "lead" : "trail")}{k}";
                Assert.Equal(name, lies[k].Entry.Name);
            }

            var (outcome, reason, shortfall) = physics.Release(swipe, velocity);
            double speed = swipe.Offset < 0 ? -velocity : velocity, projected = at + (0.15 * speed), half = tray / 2;
            var told = $"released at {Px(at)} and {Px(speed)}/s: projected {Px(projected)}";
            var opens = projected > half;
            var (what, why, missed) = armed && projected >= line
                ? (SwipeOutcome.Invoke, $"{told}, the arming line is at {Px(line)}: invokes", default)
                : armed ? (opens ? SwipeOutcome.Open : SwipeOutcome.Close,
                    $"{told}, under the arming line at {Px(line)}: {(opens ? "opens" : "closes")}",
                    new Shortfall(Criterion.ArmingLine, projected, line))
                : count == 0 ? (SwipeOutcome.Close, $"there is no tray at the {(isLeading ? "leading" : "trailing")} edge: goes back",
                    new(Criterion.TrayHalf, projected, double.PositiveInfinity))
                : opens ? (SwipeOutcome.Open, $"{told}, half the tray is {Px(half)}: opens", default)
                : (SwipeOutcome.Close, $"{told}, half the tray is {Px(half)}: closes", new(Criterion.TrayHalf, projected, half));
            Assert.Equal((what, why, missed.Criterion), (outcome, reason, shortfall.Criterion));
            Assert.Equal(missed.Measured, shortfall.Measured, 9);
            Assert.Equal(missed.Bound, shortfall.Bound, 9);
            met.AddOrUpdate($"{what} {missed.Criterion}", 1, (_, n) => n + 1);

            // At rest it is open or not; on its way out it is neither. Both get there in their time.
            foreach (var (rest, to, leaves) in new[]
            {
                (physics.Rest(swipe, true, 100), isLeading ? tray : -tray, false), (physics.Rest(swipe, false, 100), 0, false),
                (physics.Leave(swipe, 100), isLeading ? width : -width, true),
            })
            {
                Assert.Equal(to, rest.Offset, 9);
                Assert.Equal((false, leaves), (rest.IsHeld, rest.IsLeaving));
                Assert.Equal(leaves && armed, rest.IsArmed);
                Assert.Equal(to != 0 && !leaves, rest.IsOpen);
                Assert.Equal((swipe.Offset, rest.Offset, 100, reduced ? 0 : 220),
                    (rest.Settle.From, rest.Settle.To, rest.Settle.Start, rest.Settle.Duration));
                Assert.Equal(to, rest.Settle.OffsetAt(100 + rest.Settle.Duration), 9);
                if (!reduced)
                {
                    Assert.Equal(swipe.Offset, rest.Settle.OffsetAt(100), 9);
                    // Most of the way at first: an eighth is left at half the time.
                    Assert.Equal(to + ((swipe.Offset - to) / 8), rest.Settle.OffsetAt(210), 9);
                }
                var again = SwipePhysics.Take(3, rest);
                Assert.Equal((rest.Offset, true, false), (again.Began, again.IsHeld, again.IsArmed));
                Assert.Equal(0, SwipePhysics.Take(4, rest).Began);
            }
        }, iter: Effort.Of(5000));
        if (!Effort.IsFull) return;
        Assert.True(met.Count == 5 && met.Values.Min() > 20, string.Join(" ", met));
    }

    [Theory]
    [InlineData(150, "Invoke: released at 150 px and 0 px/s: projected 150 px, the arming line is at 150 px: invokes")]
    [InlineData(149, "Open: released at 149 px and 0 px/s: projected 149 px, half the tray is 84 px: opens")]
    [InlineData(84, "Close: released at 84 px and 0 px/s: projected 84 px, half the tray is 84 px: closes")]
    [InlineData(84.04, "Open: released at 84 px and 0 px/s: projected 84 px, half the tray is 84 px: opens")]
    public void At_or_over_its_line_a_row_is_armed_and_over_half_its_tray_it_opens(double far, string expected)
    {
        foreach (var sign in (int[])[-1, 1])
        {
            var physics = new SwipePhysics(
                new() { Leading = Entries("lead", 2, 0), Trailing = Entries("trail", 2, 0) }, Thresholds.Default, 300, false);
            var swipe = physics.Follow(SwipePhysics.Take(0, null), sign * far);
            Assert.Equal(far >= 150, swipe.IsArmed);
            var (outcome, reason, _) = physics.Release(swipe, 0);
            Assert.Equal(expected, $"{outcome}: {reason}");
            // Let go where half the tray is while armed, it is thrown back that far.
            if (far < 150) continue;
            (outcome, reason, _) = physics.Release(swipe, sign * -440);
            Assert.Equal("Close: released at 150 px and -440 px/s: projected 84 px, under the arming line at 150 px: closes",
                $"{outcome}: {reason}");
        }
    }

    [Fact]
    public void Trays_that_cannot_be_told_apart_are_refused_with_their_names()
    {
        static string Said(params TrayEntry[] leading) => Assert.Throws<ArgumentException>(
            () => new Trays { Leading = [.. leading], Trailing = [new("c", "C"), new("d", "D", true)] }.Validate()).Message;
        Assert.Equal("Two tray commands have the name 'a'; each needs its own.", Said(new("a", "A"), new("b", "B"), new("a", "A too")));
        Assert.Equal("Two tray commands have the name 'c'; each needs its own.", Said(new TrayEntry("c", "C")));
        Assert.Equal("At the leading edge 'a' and 'b' are both swiped through to; only one can be.",
            Said(new("a", "A", true), new("b", "B", true)));
        // One at each edge is as it should be.
        new Trays { Leading = Entries("lead", 2, 1), Trailing = Entries("trail", 3, 0) }.Validate();
        Assert.False(Trays.None.Any);
    }
}
