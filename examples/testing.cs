#:project ../src/Lectica.Testing/Lectica.Testing.csproj
#:package xunit.v3
using System.Collections.ObjectModel;
using Lectica;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Input;
using Lectica.Swiping;
using Lectica.Testing;
using Lectica.Tracing;
using Xunit;

public class NightPlanTests
{
    // The app under test: a night plan whose requests are withdrawn by swiping, and moved by dragging.
    private readonly ObservableCollection<string> _plan = ["Harbour Comet", "Tessil Ring", "Orvane Cluster", "Belyra Pair"];
    private readonly ListPlayer<string, string> _player;

    public NightPlanTests()
    {
        var list = InteractiveList.Of(_plan, name => name, new()
        {
            Mode = SelectionMode.Multiple, ModKey = ModKey.Ctrl, MayMove = true,
        });
        list.Commands = [new("withdraw", "Withdraw")
        {
            ShowIn = ShowIn.TrailingTray,
            SwipesThrough = true,
            Do = target => _plan.Remove(target.Item),
        }];
        list.MoveRequested += (_, move) => _plan.Move(_plan.IndexOf(move.Items[0]), move.Gap - move.Moved.Rank(move.Gap));
        _player = ListPlayer.On(list);
    }

    [Fact]
    public void A_long_press_opens_the_menu_and_its_release_is_no_tap()
    {
        _player.Touch.LongPress("Tessil Ring");
        _player.Expect.Gesture("long-press", "Tessil Ring").Act("open-menu", "Tessil Ring");
        Assert.DoesNotContain(_player.Trace, line => line is TracedChange { Change: "tapped" });
    }

    [Fact]
    public void A_short_swipe_opens_the_tray_and_a_long_one_withdraws_the_request()
    {
        _player.Touch.Swipe("Tessil Ring", Edge.Trailing, distance: 60, speed: 300);
        Assert.True(_player.List.IsTrayOpen);
        _player.Touch.Swipe("Harbour Comet", Edge.Trailing, distance: 230);
        Assert.Equal(["Tessil Ring", "Orvane Cluster", "Belyra Pair"], _plan);
    }

    [Fact]
    public void Dragging_to_a_gap_moves_the_request()
    {
        _player.Mouse.DragToGap("Harbour Comet", gap: 3);
        Assert.Equal(["Tessil Ring", "Orvane Cluster", "Harbour Comet", "Belyra Pair"], _plan);
    }

    [Fact]
    public void Typing_finds_and_a_modifier_adds()
    {
        _player.Type("or");
        _player.Modifiers = Modifiers.Ctrl;
        _player.Mouse.Tap("Harbour Comet");
        Assert.Equal(["Harbour Comet", "Orvane Cluster"], _player.List.SelectedItems);
    }
}
