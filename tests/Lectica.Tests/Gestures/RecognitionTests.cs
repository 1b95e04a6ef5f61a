using System.Collections.Immutable;
using System.Collections.ObjectModel;
using CsCheck;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Input;
using Lectica.Swiping;
using Lectica.Testing;
using Lectica.Tracing;

namespace Lectica.Tests.Gestures;

/// <summary>What pointers do is recognised as it was meant; whatever they do, nothing breaks and nothing gets stuck.</summary>
public sealed class RecognitionTests(ITestOutputHelper output)
{
    internal static readonly ListOptions Everything = new()
    {
        Mode = SelectionMode.Multiple,
        MayMove = true,
        ModKey = ModKey.Ctrl,
        Parts = new() { Handle = true },
    };

    internal static readonly ImmutableArray<Command<string, string>> Swiped =
    [
        new("star", "Star") { ShowIn = ShowIn.LeadingTray, SwipesThrough = true, Do = _ => { } },
        new("drop", "Drop") { ShowIn = ShowIn.TrailingTray, SwipesThrough = true, Do = _ => { } },
        new("defer", "Defer") { ShowIn = ShowIn.TrailingTray, Do = _ => { } },
    ];

    internal static InteractiveList<string, string> Open(
        ListOptions? options = null, int rows = 10, ImmutableArray<Command<string, string>>? commands = null)
    {
        var list = InteractiveList.Of(Enumerable.Range(0, rows).Select(i => $"R{i:00}").ToArray(), s => s, options ?? Everything);
        list.Commands = commands ?? Swiped;
        list.MenuRequested += (_, _) => { };
        list.MoveRequested += (_, _) => { };
        return list;
    }

    /// <summary>What came of a trace's last contact: the last gesture that was recognised, or nothing.</summary>
    internal static string Got(IEnumerable<TraceLine> trace) => trace
        .OfType<TracedGesture>()
        .LastOrDefault(l => l is { Recognised: true, Phase: null or "begin", Gesture: not ("press" or "release") })?.Gesture ?? "nothing";

    [Fact]
    public void What_hands_do_inside_the_documented_limits_is_recognised_as_meant()
    {
        var traces = Effort.Of(20_000);
        var random = new Random(20_260);
        var inside = new Dictionary<string, (int Right, int All)>();
        var outside = new Dictionary<string, (int Right, int All)>();
        var wrong = new List<string>();
        for (var i = 0; i < traces; i++)
        {
            // From steady hands to shaky ones.
            double Shake() => 1 + (random.NextDouble() * random.NextDouble() * 4);
            var trace = HumanTraces.Make(random, 1000, new(Shake(), Shake(), Shake(), Shake(), 0.8 + (random.NextDouble() * 0.5)));
            using var list = Open();
            var lines = new List<TraceLine>();
            list.Traced += lines.Add;
            foreach (var sample in trace.Samples) list.Take(sample);
            var got = Got(lines);
            var counts = trace.IsInside ? inside : outside;
            var (right, all) = counts.GetValueOrDefault(trace.Intent);
            counts[trace.Intent] = (right + (got == trace.Intent ? 1 : 0), all + 1);
            if (trace.IsInside && got != trace.Intent) wrong.Add($"{trace.Pointer} {trace.Intent} came out as {got}");
        }
        foreach (var (name, counts) in new[] { ("inside", inside), ("outside", outside) })
            foreach (var (intent, (right, all)) in counts.OrderBy(c => c.Key)) output.WriteLine($"{name}: {intent} {right} of {all}");
        var total = inside.Values.Sum(c => c.All);
        // Noise that kept everything inside would test nothing, and so would noise that kept nothing.
        Assert.InRange(total, traces * 6 / 10, traces * 97 / 100);
        Assert.All(inside, c => Assert.True(c.Value.All > Effort.Of(500), $"{c.Key}: {c.Value.All}"));
        Assert.True(wrong.Count <= total / 1000, $"{wrong.Count} of {total} wrong: {string.Join("; ", wrong.Take(5))}");
    }

    private sealed record Step(int Kind, SampleKind Sample, int Pointer, PointerType Type, bool IsNear, double X, double Y, double Pause,
        int Button, int Buttons, Modifiers Modifiers, int Other);

    // Mostly what devices send, where the last sample was or near it; now and then anything.
    private static readonly Gen<Step> AnyStep = Gen.Select(
        Gen.Int[0, 39],
            Gen.Frequency((3, Gen.Const(SampleKind.Down)), (8, Gen.Const(SampleKind.Move)), (2, Gen.Const(SampleKind.Up)),
                (1, Gen.Const(SampleKind.Cancel))),
        Gen.Select(Gen.Frequency((6, Gen.Const(0)), (3, Gen.Const(1)), (1, Gen.Const(2))), Gen.Int[0, 11], Gen.Enum<PointerType>(),
            Gen.Frequency((5, Gen.Const(true)), (1, Gen.Const(false)))),
        Gen.Select(Any.Odd(Gen.Double[-60, 460]), Any.Odd(Gen.Double[-60, 580])),
            Any.Odd(Gen.Frequency((5, Gen.Double[-4, 30]), (1, Gen.Double[100, 700]))),
        Gen.Select(Gen.Frequency((8, Gen.Const(0)), (1, Gen.Int[-1, 3])), Gen.Frequency((15, Gen.Const(1)), (1, Gen.Const(0)))),
            Gen.Select(Gen.Frequency((6, Gen.Const(Modifiers.None)), (1, Gen.Enum<Modifiers>())), Gen.Int[0, 1000]),
        (kind, sample, who, place, pause, buttons, other) => new Step(
            kind, sample, who.Item1,
                who.Item2 == 0 ? who.Item3 : new[] { PointerType.Touch, PointerType.Mouse, PointerType.Pen }[who.Item1], who.Item4,
            place.Item1, place.Item2, pause, buttons.Item1, buttons.Item2, other.Item1, other.Item2));

    private static class Any
    {
        public static Gen<double> Odd(Gen<double> gen) =>
            Gen.Frequency(
            (60, gen), (1, Gen.Int[0, 3].Select(i => new[] { double.NaN, double.PositiveInfinity, double.NegativeInfinity, 1e300 }[i])));
    }

    /// <summary>LECTICA_SAMPLES=10000000 makes the long run.</summary>
    [Fact]
    public void Whatever_comes_nothing_throws_and_nothing_gets_stuck()
    {
        var samples = long.TryParse(Environment.GetEnvironmentVariable("LECTICA_SAMPLES"), out var asked) ? asked : Effort.Of(60_000);
        var done = 0L;
        var acts = new System.Collections.Concurrent.ConcurrentDictionary<string, int>();
        Gen.Select(AnyStep.Array[200], Gen.Enum<LongPressMeaning>(), Gen.Enum<SelectionMode>(), Gen.Bool, Gen.Bool)
            .Sample((steps, press, mode, rightToLeft, always) =>
        {
            var source = new ObservableCollection<string>(Enumerable.Range(0, 30).Select(i => $"R{i:00}"));
            using var list = InteractiveList.Of(source, s => s, Everything with
            {
                LongPress = press,
                Mode = mode,
                IsRightToLeft = rightToLeft,
                AlwaysSelecting = always && mode == SelectionMode.Multiple,
                Parts = new() { Check = true, Handle = true, Menu = true },
            });
            list.Commands = Swiped;
            list.MoveRequested += (_, move) =>
            {
                Assert.False(move.Moved.IsEmpty);
                Assert.InRange(move.Gap, 0, list.Count);
            };
            list.Traced += line =>
            {
                if (line is TracedAct act) acts.AddOrUpdate(act.Act ?? "none", 1, (_, n) => n + 1);
            };
            double time = 0;
            var fresh = 100;
            var (x, y) = (100.0, 100.0);
            foreach (var step in steps)
            {
                switch (step.Kind)
                {
                    case 0 when source.Count > 0:
                        source.RemoveAt(step.Other % source.Count);
                        break;
                    case 1:
                        source.Insert(step.Other % (source.Count + 1), $"N{fresh++}");
                        break;
                    case 2 when source.Count > 1:
                        source.Move(step.Other % source.Count, step.Other * 7 % source.Count);
                        break;
                    case 3:
                        list.Filter = step.Other % 3 == 0 ? null : s => (s[^1] + step.Other) % 3 != 0;
                        break;
                    case 4:
                        list.ScrollTo(step.Other);
                        break;
                    case 5:
                        list.Advance(time += double.IsFinite(step.Pause) ? step.Pause * 6 : 0);
                        break;
                    case 6:
                        list.Take(new KeyPress(step.Other % 2 == 0 ? "Escape" : "ArrowDown", step.Modifiers, time));
                        break;
                    case 7 when step.Other % 20 == 0:
                        source.Clear();
                        for (var i = 0; i < 20; i++) source.Add($"N{fresh++}");
                        break;
                    default:
                        if (double.IsFinite(step.Pause) && step.Pause < 1e6) time += step.Pause;
                        (x, y) = step.IsNear && step.Sample != SampleKind.Down && double.IsFinite(x + y + step.X + step.Y)
                            && Math.Abs(x + y) < 1e6 && Math.Abs(step.X + step.Y) < 1e6
                            ? (x + ((step.X - 200) / 5), y + ((step.Y - 260) / 20)) : (step.X, step.Y);
                        list.Take(new PointerSample(
                            step.Sample, step.Pointer, step.Type, x, y, double.IsNaN(step.Pause) ? step.Pause : time)
                        {
                            Button = step.Button,
                            Buttons = step.Sample == SampleKind.Move ? step.Buttons : 1,
                            Modifiers = step.Modifiers,
                        });
                        break;
                }
                Consistent(list, source);
            }
            // Escape ends whatever goes on; then all fingers go, and nothing is left of them.
            for (var pointer = 0; pointer <= 2; pointer++)
                list.Take(new PointerSample(SampleKind.Cancel, pointer, PointerType.Touch, 0, 0, time));
            Assert.False(list.IsDragging);
            Assert.Null(list.NextDeadline);
            // The row that a menu is open for looks pressed as long as it is.
            Assert.DoesNotContain(list.Frame.Rows, r => (r.IsPressed && list.Frame.Menu is null) || r.IsGrabbed);
            Assert.Null(list.Frame.Marquee);
            Interlocked.Add(ref done, steps.Length);
        }, iter: Math.Max(1, samples / 200));
        output.WriteLine(
            $"{done:N0} samples; acts: {string.Join(", ", acts.OrderByDescending(a => a.Value).Select(a => $"{a.Key} {a.Value:N0}"))}");
        string[] needed = ["open-tray", "grab", "sweep", "marquee", "open-menu", "close-tray", "cancel", "toggle", "select"];
        if (done >= 50_000) Assert.All(needed, a => Assert.True(acts.ContainsKey(a), $"the generator never reached {a}"));
    }

    private static void Consistent(InteractiveList<string, string> list, IReadOnlyList<string> source)
    {
        Assert.Equal(source.Count, list.Count);
        Assert.Equal(list.Count, list.Selection.Items.Universe);
        var frame = list.Frame;
        Assert.InRange(frame.Viewport.ScrollTop, 0, Math.Max(0, frame.ContentHeight - frame.Viewport.Height));
        foreach (var row in frame.Rows)
        {
            if (row.Index >= 0) Assert.Equal(source[row.Index], row.Content.Label);
            Assert.InRange(row.Shift.To, -400, 400);
        }
        Assert.True(frame.Rows.Count(r => !r.Tray.IsEmpty) <= 1);
        if (list.NextDeadline is { } due) Assert.True(double.IsFinite(due));
        if (list.Options.Mode is SelectionMode.Single or SelectionMode.SingleRequired) Assert.InRange(list.SelectedCount, 0, 1);
    }

    [Fact]
    public void A_late_timer_gives_what_a_punctual_one_does()
    {
        var random = new Random(7);
        for (var i = 0; i < Effort.Of(400); i++)
        {
            var trace = HumanTraces.Make(random, 1000, new(Jitter: 2, Tremor: 2, Drift: 2));
            IReadOnlyList<string> Play(bool punctual)
            {
                using var list = Open();
                var lines = new List<TraceLine>();
                list.Traced += lines.Add;
                foreach (var sample in trace.Samples)
                {
                    if (punctual && list.NextDeadline is { } due && due <= sample.Time) list.Advance(due);
                    list.Take(sample);
                }
                // Each tells the input of a sample before or after what was due by then.
                return [.. lines.Where(l => l is not TracedInput).Select(l => l.ToJson()), list.StateLine().ToJson()];
            }
            Assert.Equal(Play(punctual: true), Play(punctual: false));
        }
    }

    [Fact]
    public void A_long_press_fires_at_its_deadline_and_its_release_is_no_tap()
    {
        var player = ListPlayer.On(Open());
        player.Touch.LongPress("R02", release: false);
        player.Expect.Gesture("long-press", "R02").Act("open-menu", "R02").Change("menu", "R02").Change("haptic");
        Assert.Equal(500, player.Trace.Single(l => l is TracedGesture { Gesture: "long-press", Recognised: true }).T);
        player.Touch.Up();
        player.Expect.Nothing();
        Assert.Contains(player.Trace, l => l is TracedGesture { Gesture: "tap", Recognised: false });
        // The menu is open: a tap outside it closes it and does nothing else.
        player.Touch.Tap("R08");
        player.Expect.Act("close-menu");
        Assert.DoesNotContain(player.Trace, l => l is TracedChange { Change: "activated" });
        // A mouse has none, and a long press that nobody waits for is a tap.
        player.Mouse.LongPress("R03");
        player.Expect.Act("select", "R03");
        var plain = ListPlayer.On(InteractiveList.Of(["one", "two"], s => s));
        plain.Touch.LongPress("two");
        plain.Expect.Gesture("tap", "two").Change("activated", "two");
    }

    [Theory]
    [InlineData(99, false)]
    [InlineData(101, true)]
    public void Two_fingers_that_come_down_together_are_the_hosts(double apart, bool tap)
    {
        var player = ListPlayer.On(Open());
        var (one, other) = (player.Finger(1), player.Finger(2));
        one.GoTo("R02");
        one.Down();
        other.GoTo("R04");
        player.Wait(apart);
        other.Down();
        player.Wait(20);
        one.Up();
        other.Up();
        Assert.Equal(tap ? 2 : 0, player.Trace.Count(l => l is TracedGesture { Gesture: "tap", Recognised: true }));
        Assert.Equal(tap ? 0 : 2, player.Trace.Count(l => l is TracedGesture
        {
            Gesture: "tap", Recognised: false,
            Criterion: "one-pointer"
        }));
        Assert.Empty(player.List.Frame.Rows.Where(r => r.IsPressed));
    }

    [Fact]
    public void Two_fingers_end_a_long_press_and_a_running_gesture_has_the_list_to_itself()
    {
        var player = ListPlayer.On(Open());
        player.Touch.GoTo("R02");
        player.Touch.Down();
        player.Wait(150);
        var other = player.Finger(1);
        other.GoTo("R04");
        other.Down();
        player.Wait(700);
        player.Expect.Rejected("long-press", "one-pointer").Rejected("long-press", "one-pointer");
        Assert.DoesNotContain(player.Trace, l => l is TracedGesture { Gesture: "long-press", Recognised: true });
        other.Up();
        player.Touch.Up();
        player.Expect.FromHere();
        player.Touch.Swipe("R05", Edge.Trailing, 100, release: false);
        other.GoTo("R01");
        other.Down();
        other.Up();
        player.Expect.Gesture("swipe", "R05").Rejected("tap", "one-pointer");
        player.Touch.Up();
        Assert.True(player.List.IsTrayOpen);
    }

    [Fact]
    public void Lost_ends_and_lost_moves_leave_nothing_behind()
    {
        var list = Open();
        var taps = 0;
        list.Tapped += (_, _) => taps++;
        // Its end was never reported, and the finger comes again.
        list.Take(PointerSample.Down(PointerType.Touch, 100, 60, 0));
        list.Take(PointerSample.Down(PointerType.Touch, 100, 120, 100));
        list.Take(PointerSample.Up(PointerType.Touch, 100, 120, 150));
        Assert.Equal(1, taps);
        // A mouse that moves with no button down has been released elsewhere.
        list.Take(PointerSample.Down(PointerType.Mouse, 100, 60, 1000));
        list.Take(PointerSample.Move(PointerType.Mouse, 100, 160, 1010));
        Assert.True(list.IsDragging);
        list.Take(new PointerSample(SampleKind.Move, 1, PointerType.Mouse, 100, 170, 1020) { Button = -1 });
        Assert.False(list.IsDragging);
        // An up or move without a down is nothing.
        list.Take(PointerSample.Up(PointerType.Touch, 100, 60, 1100));
        list.Take(PointerSample.Move(PointerType.Touch, 100, 60, 1100));
        Assert.Equal(1, taps);
        // A clock that began again, while nothing is down.
        list.Take(PointerSample.Down(PointerType.Touch, 100, 60, 5));
        Assert.Equal(505, list.NextDeadline);
        list.Take(PointerSample.Up(PointerType.Touch, 100, 60, 60));
        Assert.Equal(2, taps);
    }

    [Fact]
    public void What_is_pressed_and_felt_is_told()
    {
        using var list = Open();
        var told = new List<string>();
        list.PressChanged += (_, e) => told.Add($"{(e.IsPressed ? "+" : "-")}{e.Key}");
        list.Haptic += (_, e) => told.Add($"{e.Hint}");
        var player = ListPlayer.On(list);
        player.Touch.Tap("R01");
        player.Touch.LongPress("R02");
        list.CloseMenu();
        player.Touch.Tap("R02");
        Assert.Equal(["+R01", "-R01", "+R02", "LongPress", "-R02", "+R02", "-R02"], told);
        told.Clear();
        player.Touch.Swipe("R03", Edge.Leading, 260, 500, release: false);
        player.Touch.GlideTo(player.Touch.X - 150, player.Touch.Y, 200);
        player.Touch.Up();
        Assert.Equal(["+R03", "-R03", "Armed", "Disarmed"], told);
    }

    [Fact]
    public void Moves_of_running_gestures_allocate_nothing_in_recognition()
    {
        using var list = Open();
        var recogniser = new Lectica.Gestures.Recogniser(Lectica.Gestures.Thresholds.Default);
        var field = new AllOf(list.Plane);
        var gestures = new List<Lectica.Gestures.Gesture>(8);
        recogniser.Take(PointerSample.Down(PointerType.Touch, 200, 60, 0), field, gestures);
        recogniser.Take(PointerSample.Move(PointerType.Touch, 230, 60, 10), field, gestures);
        var before = GC.GetAllocatedBytesForCurrentThread();
        for (var i = 0; i < 1000; i++)
        {
            gestures.Clear();
            recogniser.Take(PointerSample.Move(PointerType.Touch, 230 + (i % 50), 60, 20 + i), field, gestures);
        }
        Assert.Equal(0, GC.GetAllocatedBytesForCurrentThread() - before);
        Assert.Equal((Lectica.Gestures.GestureKind.Swipe, Lectica.Gestures.GesturePhase.Move), (gestures[0].Kind, gestures[0].Phase));
    }

    private sealed class AllOf(Layout.RowPlane plane) : Lectica.Gestures.IGestureField
    {
        public Layout.Hit HitAt(double x, double y) => plane.HitAt(x, y);

        public bool Wants(Lectica.Gestures.GestureKind kind, PointerType pointer, Layout.Hit hit, Modifiers modifiers) => true;
    }
}
