using Lectica.Acts;
using Lectica.Commands;
using Lectica.Input;
using Lectica.Items;
using Lectica.Testing;
using Lectica.Tracing;

namespace Lectica.Tests.Lists;

/// <summary>Pulling the list down beyond its top to read it again.</summary>
public sealed class PullTests
{
    private static (InteractiveList<string, ItemId> List, ListPlayer<string, ItemId> Player,
        List<TaskCompletionSource<CommandResult>> Runs) Open(int n = 40)
    {
        var list = InteractiveList.Of(
            [.. Enumerable.Range(0, n).Select(i => $"F{i}")], new() { Viewport = new(300, 400), Mode = SelectionMode.Multiple });
        var runs = new List<TaskCompletionSource<CommandResult>>();
        list.Commands =
        [
            new("again", "Read again")
            {
                Scope = CommandScope.List,
                Chords = [new("R", Modifiers.Alt)],
                Run = (_, _) => { runs.Add(new()); return runs[^1].Task; },
            },
            new("star", "Star") { Do = _ => { } },
        ];
        list.PullCommand = "again";
        return (list, ListPlayer.On(list), runs);
    }

    private static void Pull(ListPlayer<string, ItemId> player, double from, double far, bool up = true)
    {
        player.Touch.MoveTo(150, from);
        player.Touch.Down();
        player.Touch.GlideTo(152, from + far, 200);
        if (up) player.Touch.Up();
    }

    [Theory]
    [InlineData(0)]
    [InlineData(40)]
    public void A_pull_far_enough_runs_the_command_and_shows_how_far_it_is(int items)
    {
        var (list, player, runs) = Open(items);
        Pull(player, 60, 60, up: false);
        Assert.True(list.HoldsPointer);
        Assert.Equal(30, list.Frame.Pull!.Height);
        Assert.False(list.Frame.Pull.IsArmed);
        player.Touch.GlideTo(150, 60 + 130, 50);
        Assert.True(list.Frame.Pull!.IsArmed);
        Assert.Equal("Let go: Read again", list.Frame.Pull.Text);
        player.Touch.Up();
        Assert.Single(runs);
        Assert.True(list.Frame.Pull!.IsUnderWay);
        // Once is enough.
        Assert.False(list.Pulls);
        Pull(player, 60, 200);
        Assert.Single(runs);
        runs[0].SetResult(new(1));
        player.Wait(10);
        Assert.Null(list.Frame.Pull);
        Assert.True(list.Pulls);
        // Its key does the same.
        player.Press("Alt+R");
        Assert.Equal(2, runs.Count);
        Assert.True(list.Frame.Pull!.IsUnderWay);
        Assert.Empty(list.SelectedKeys);
    }

    [Fact]
    public void A_pull_that_goes_back_is_broken_off_or_begins_elsewhere_does_nothing()
    {
        var (list, player, runs) = Open();
        var hints = new List<HapticHint>();
        list.Haptic += (_, e) => hints.Add(e.Hint);
        Pull(player, 60, 150, up: false);
        player.Touch.GlideTo(150, 100, 50);
        player.Touch.Up();
        Assert.Equal([HapticHint.Armed, HapticHint.Disarmed], hints);
        Pull(player, 60, 150, up: false);
        player.Press("Escape");
        Assert.Null(list.Frame.Pull);
        player.Touch.Up();
        // Up, by a mouse, below the top: the host scrolls.
        Pull(player, 200, -150);
        player.Mouse.MoveTo(150, 60);
        player.Mouse.Down();
        player.Mouse.GlideTo(150, 300, 100);
        player.Mouse.Up();
        list.ScrollTo(10);
        Pull(player, 60, 200);
        Assert.Equal(
            3, player.Trace.Count(
                l => l is TracedGesture { Gesture: "pan" } or TracedGesture { PointerType: "mouse", Gesture: "tap", Recognised: false }
                    or TracedAct { Act: "marquee" }));
        // A tap is still a tap.
        list.ScrollTo(0);
        player.Touch.MoveTo(150, 60);
        player.Touch.Down();
        player.Touch.Up();
        Assert.Contains(player.Trace, l => l is TracedChange { Change: "activated" });
        Assert.Empty(runs);
        // No such command, or one for items: nothing is pulled.
        foreach (var id in (string?[])["none", "star", null])
        {
            list.PullCommand = id;
            Assert.False(list.Pulls);
            Pull(player, 60, 200);
            Assert.Null(list.Frame.Pull);
        }
    }
}
