using System.Text.Json.Nodes;
using CsCheck;
using Lectica.Acts;
using Lectica.Input;
using Lectica.Swiping;
using Lectica.Testing;
using Lectica.Tests.Gestures;
using Lectica.Tracing;

namespace Lectica.Tests.Tools;

/// <summary>
/// What an app's own tests stand on: the player, recordings, scripts, expectations; and the explanation of what did not fire.
/// </summary>
public sealed class PlayerTests
{
    /// <summary>A player that has done all kinds of things, some of them for nothing.</summary>
    private static ListPlayer<string, string> Busy()
    {
        var player = ListPlayer.On(RecognitionTests.Open(rows: 30));
        player.Touch.Tap("R02");
        player.Touch.LongPress("R03");
        player.Touch.Tap("R01");
        player.Touch.Swipe("R04", Edge.Trailing, 120);
        player.Touch.Tap("tray:defer:R04");
        player.Mouse.Tap("R05");
        player.Modifiers = Modifiers.Shift;
        player.Mouse.Tap("R07");
        player.Modifiers = Modifiers.None;
        player.Mouse.DoubleTap("R02");
        player.Mouse.SecondaryTap("R06");
        player.Press("Escape");
        player.Pen.DragToGap("R03", 6);
        player.Press("Ctrl+A");
        player.Type("r1");
        player.Wait(1200);
        return player;
    }

    private static IReadOnlyList<string> Doings(IEnumerable<TraceLine> trace) =>
        [.. trace.Where(l => l is TracedAct or TracedChange).Select(l =>
        {
            var line = JsonNode.Parse(l.ToJson())!.AsObject();
            line.Remove("t");
            return line.ToJsonString();
        })];

    [Fact]
    public void What_was_played_plays_again_as_a_recording_and_as_a_script_to_the_same_end()
    {
        var player = Busy();
        var text = player.Recording.ToJsonLines();
        foreach (var line in text.TrimEnd('\n').Split('\n')) Schemas.Valid("recording", line);
        var again = ListPlayer.On(RecognitionTests.Open(rows: 30));
        again.Play(Recording.Parse(text));
        Assert.Equal(Doings(player.Trace), Doings(again.Trace));
        Assert.Equal(player.List.StateLine().ToJson(), again.List.StateLine().ToJson());

        var script = ActionScript.Of(player.Recording).ToJson();
        var scripted = ListPlayer.On(RecognitionTests.Open(rows: 30));
        scripted.Play(ActionScript.Parse(System.Text.Encoding.UTF8.GetBytes(script), "written"));
        Assert.Equal(Doings(player.Trace), Doings(scripted.Trace));
        Assert.Equal(player.List.StateLine().ToJson(), scripted.List.StateLine().ToJson());
        Assert.Equal(script, ActionScript.Parse(System.Text.Encoding.UTF8.GetBytes(script), "written").ToJson());
    }

    [Fact]
    public void Hands_traces_go_through_recordings_unharmed()
    {
        var random = new Random(3);
        for (var i = 0; i < 300; i++)
        {
            var trace = HumanTraces.Make(random, 1000 * i, new(2, 2, 2));
            var recording =
                new Recording(
                "hand", [.. trace.Samples.Select((s, k) => new RecordedInput { Pointer = s, Intent = k == 0 ? trace.Intent : null })]);
            string Played(Recording r)
            {
                var player = ListPlayer.On(RecognitionTests.Open());
                player.Play(r);
                return RecognitionTests.Got(player.Trace);
            }
            var read = Recording.Parse(recording.ToJsonLines());
            Assert.Equal(trace.Intent, read.Inputs[0].Intent);
            // Times and places are kept to a thousandth.
            Assert.All(read.Inputs.Zip(trace.Samples),
                p => Assert.InRange(Math.Abs(p.First.Pointer!.Value.X - p.Second.X) + Math.Abs(p.First.Time - p.Second.Time), 0, 0.0011));
            Assert.Equal(Played(recording), Played(read));
        }
    }

    [Fact]
    public void Expectations_that_do_not_hold_say_what_there_is_instead()
    {
        var player = ListPlayer.On(RecognitionTests.Open());
        Assert.Contains("nothing has happened", Assert.Throws<TraceExpectationException>(() => player.Expect.Act("toggle")).Message);
        player.Mouse.Tap("R02");
        player.Expect.Gesture("tap", "R02").Act("select", "R02").Change("selection");
        Assert.Contains("since the last line", Assert.Throws<TraceExpectationException>(() => player.Expect.Act("select")).Message);
        player.Mouse.Tap("R03");
        var message = Assert.Throws<TraceExpectationException>(() => player.Expect.Act("toggle", "R03")).Message;
        Assert.Contains("Expected the act toggle on R03", message);
        Assert.Contains("\"act\":\"select\"", message);
        Assert.Contains("tapped", Assert.Throws<TraceExpectationException>(() => player.Expect.Nothing()).Message);
        player.Expect.FromHere().Nothing();
        Assert.Contains("there is no row 'R99'", Assert.Throws<InvalidOperationException>(() => player.Touch.Tap("R99")).Message);
        Assert.Contains("is not open", Assert.Throws<InvalidOperationException>(() => player.Touch.Tap("tray:drop:R02")).Message);
        Assert.Throws<ArgumentOutOfRangeException>(() => player.Wait(-1));
        Assert.Throws<ArgumentOutOfRangeException>(() => player.Touch.DragToGap("R02", 99));
        Assert.Throws<FormatException>(() => player.Press("Ctrl+"));
        player.List.EnabledWhen = s => s != "R04";
        player.Mouse.Tap("R04");
        player.Expect.Refused("disabled");
    }

    [Fact]
    public void Each_thing_ruled_out_is_explained_and_its_remedy_makes_it_happen()
    {
        var random = new Random(12);
        int ruledOut = 0, remedied = 0;
        var without = new List<string>();
        for (var i = 0; i < 60; i++)
        {
            var trace = HumanTraces.Make(random, 1000, new(Jitter: 4, Tremor: 4, Drift: 4, Curve: 4, Haste: 0.7 + (i % 7 * 0.15)));
            var recording = new Recording("hand", [.. trace.Samples.Select(s => new RecordedInput { Pointer = s })]);
            var stories = Explainer.Explain(() => RecognitionTests.Open(), recording);
            Assert.Equal(trace.Samples.Count(s => s.Kind == SampleKind.Down), stories.Count);
            foreach (var story in stories)
            {
                Assert.NotEmpty(story.Verdicts);
                foreach (var verdict in story.Verdicts)
                {
                    Assert.NotEmpty(verdict.Reason);
                    if (verdict.IsRecognised) continue;
                    ruledOut++;
                    Assert.NotNull(verdict.Criterion);
                    if (verdict.Remedy is not { } remedy)
                    {
                        without.Add($"{verdict.Gesture} by {verdict.Criterion}: {verdict.Reason}");
                        continue;
                    }
                    remedied++;
                    Assert.NotEmpty(remedy.Words);
                    // Played on a list of its own, and looked at by the trace alone.
                    var player = ListPlayer.On(RecognitionTests.Open());
                    player.Play(remedy.Recording);
                    Assert.Contains(player.Trace, l => verdict.Gesture switch
                    {
                        "open-tray" => l is TracedChange { Change: "tray", Open: not null },
                        "swipe-through" => l is TracedAct { Act: "invoke-tray" },
                        var gesture => l is TracedGesture { Recognised: true } made && made.Gesture == gesture,
                    });
                }
            }
        }
        Assert.True(ruledOut > 100, $"{ruledOut}");
        Assert.True(remedied >= ruledOut * 95 / 100, $"{remedied} of {ruledOut}; without: {string.Join("\n", without.Take(10))}");
    }

    [Fact]
    public void A_remedy_is_the_smallest_there_is()
    {
        var player = ListPlayer.On(RecognitionTests.Open());
        player.Touch.GoTo("R03");
        player.Touch.Down();
        player.Wait(430);
        player.Touch.Up();
        var verdict = Explainer.Explain(() => RecognitionTests.Open(), player.Recording)
            .Single().Verdicts.Single(v => v.Gesture == "long-press");
        Assert.Equal("long-press-time", verdict.Criterion);
        Assert.InRange(verdict.Remedy!.Recording.Inputs[^1].Time, 500, 501);
        Assert.StartsWith("release 70", verdict.Remedy.Words);

        // Two fingers; the host that takes the pointer back; a key.
        var two = ListPlayer.On(RecognitionTests.Open());
        two.Touch.GoTo("R03");
        two.Touch.Down();
        two.Wait(150);
        var other = two.Finger(1);
        other.GoTo("R05");
        other.Down();
        two.Wait(600);
        two.Touch.Up();
        other.Cancel();
        two.Press("ArrowDown");
        var stories = Explainer.Explain(() => RecognitionTests.Open(), two.Recording);
        Assert.Equal(["touch", "touch", "ArrowDown"], stories.Select(s => s.What));
        Assert.Equal("keep the other pointer off the list", stories[0].Verdicts.Single(v => v.Gesture == "long-press").Remedy!.Words);
        Assert.Equal("let the pointer be released, rather than taken back by the host",
            stories[1].Verdicts.Single(v => v.Gesture == "tap").Remedy!.Words);
        Assert.Contains(stories[2].Outcomes, l => l is TracedAct { Act: "select", Rule: "key ArrowDown" });
    }

    [Fact]
    public void Tuning_finds_limits_that_fit_people_it_has_not_seen_and_leaves_them_where_they_fit_already()
    {
        static List<Recording> People(HumanTraces.Hand hand, int seed)
        {
            var random = new Random(seed);
            return [.. Enumerable.Range(0, 3).Select(person =>
            {
                var inputs = new List<RecordedInput>();
                for (var i = 0; i < 60; i++)
                {
                    var start = inputs.Count == 0 ? 1000 : inputs[^1].Time + 1500;
                    var trace = HumanTraces.Make(
                        random, start, hand, type: PointerType.Touch, intent: new[] { "tap", "long-press", "swipe", "pan" }[i % 4]);
                    inputs.AddRange(
                        trace.Samples.Select((s, k) => new RecordedInput { Pointer = s, Intent = k == 0 ? trace.Intent : null }));
                }
                return new Recording($"person {person}", [.. inputs]);
            })];
        }
        InteractiveList<string, string> Open(Lectica.Gestures.Thresholds limits)
        {
            var list = RecognitionTests.Open(RecognitionTests.Everything with { Thresholds = limits, MayMove = false, Parts = new() });
            // A menu that stayed open would lie over what is touched next.
            list.MenuRequested += (_, _) => list.CloseMenu();
            return list;
        }

        // People in a hurry, whose long presses are short, and whose fingers stray.
        var hasty = Tuner.Tune(Open, People(new(Jitter: 2, Tremor: 3, Drift: 3, Haste: 1.6), 5));
        Assert.True(180 == hasty.Now.Total,
            string.Join("; ", hasty.Now.Meant.SelectMany(m => hasty.Now.Got.Select(g => $"{m} {g} {hasty.Now[m, g]}"))));
        Assert.True(hasty.Now.Right < 150, $"{hasty.Now.Right}");
        Assert.True(hasty.HeldOutTuned > hasty.HeldOutNow + 10, $"{hasty.HeldOutNow} to {hasty.HeldOutTuned} of {hasty.HeldOutTotal}");
        Assert.True(hasty.IsBetter);
        Assert.True(hasty.Tuned.Touch.LongPressTime < 500);
        Assert.All(hasty.Misses.Zip(hasty.Misses.Skip(1)), p => Assert.True(p.Second.Reason is null || p.First.By <= p.Second.By));

        var steady = Tuner.Tune(Open, People(new(Jitter: 0.1, Tremor: 0.1, Drift: 0.1, Curve: 0), 6));
        Assert.True(steady.Now.Total == steady.Now.Right, string.Join("; ", steady.Misses));
        Assert.False(steady.IsBetter);
        Assert.Equal(Lectica.Gestures.Thresholds.Default, steady.Tuned);
        Assert.Equal(0, Tuner.Tune(Open, People(HumanTraces.Hand.Steady, 7).Take(1).ToList()).HeldOutTotal);
    }

    /// <summary>A clock whose timers are set off by hand, and a context that runs what is posted when it is pumped.</summary>
    private sealed class ManualTime : TimeProvider
    {
        private readonly List<Timer> _timers = [];

        private sealed class Timer(ManualTime time, TimerCallback callback, object? state) : ITimer
        {
            public TimeSpan? Due { get; private set; }

            public bool Change(TimeSpan dueTime, TimeSpan period)
            {
                Due = dueTime == Timeout.InfiniteTimeSpan ? null : dueTime;
                return true;
            }

            public void Fire()
            {
                Due = null;
                callback(state);
            }

            public void Dispose() => time._timers.Remove(this);

            public ValueTask DisposeAsync()
            {
                Dispose();
                return default;
            }
        }

        public TimeSpan? Next => _timers.Min(t => t.Due);

        public override ITimer CreateTimer(TimerCallback callback, object? state, TimeSpan dueTime, TimeSpan period)
        {
            var timer = new Timer(this, callback, state);
            _timers.Add(timer);
            timer.Change(dueTime, period);
            return timer;
        }

        public void Fire() => _timers.First(t => t.Due is not null).Fire();
    }

    private sealed class Pump : SynchronizationContext
    {
        private readonly Queue<(SendOrPostCallback, object?)> _posted = new();

        public override void Post(SendOrPostCallback d, object? state) => _posted.Enqueue((d, state));

        public void Run()
        {
            while (_posted.TryDequeue(out var next)) next.Item1(next.Item2);
        }
    }

    [Fact]
    public void A_list_with_a_context_sets_its_own_timers()
    {
        var before = SynchronizationContext.Current;
        var pump = new Pump();
        SynchronizationContext.SetSynchronizationContext(pump);
        try
        {
            var time = new ManualTime();
            using var list = RecognitionTests.Open(RecognitionTests.Everything with { Time = time });
            var told = new List<string>();
            list.MenuRequested += (_, e) => told.Add(e.Key);
            list.Take(PointerSample.Down(PointerType.Touch, 100, 60, 1000));
            Assert.Equal(TimeSpan.FromMilliseconds(500), time.Next);
            // The timer goes off on a thread of its own; the list is called on its context.
            var thread = new Thread(time.Fire);
            thread.Start();
            thread.Join();
            Assert.Empty(told);
            pump.Run();
            Assert.Equal(["R01"], told);
            Assert.Null(time.Next);
            // One that is not needed any more is taken back.
            list.Take(PointerSample.Up(PointerType.Touch, 100, 60, 1600));
            list.CloseMenu();
            list.Take(PointerSample.Down(PointerType.Touch, 100, 60, 3000));
            list.Take(PointerSample.Up(PointerType.Touch, 100, 60, 3080));
            Assert.Null(time.Next);
            Assert.Equal(["R01"], told);
        }
        finally
        {
            SynchronizationContext.SetSynchronizationContext(before);
        }
    }
}
