using Lectica.Blazor;
using Lectica.Input;
using Microsoft.AspNetCore.Components;
using Microsoft.AspNetCore.Components.Rendering;

namespace Lectica.Tests.Page;

/// <summary>
/// What an app throws when the script or a clock calls it goes where that of an event handler of the page goes: to the nearest error
/// boundary, or to the host. The test calls in the script's place, on one thread, as a browser has.
/// </summary>
public class PageFaultTests
{
    private sealed class Boundary(InteractiveList<string, string> list, List<string> told) : ErrorBoundaryBase
    {
        protected override Task OnErrorAsync(Exception exception)
        {
            told.Add(exception.Message);
            Recover();
            return Task.CompletedTask;
        }

        protected override void BuildRenderTree(RenderTreeBuilder builder)
        {
            builder.OpenComponent<ListView<string, string>>(0);
            builder.AddComponentParameter(1, "List", list);
            builder.CloseComponent();
        }
    }

    /// <summary>A list of three that calls itself back only where it is shown.</summary>
    private static InteractiveList<string, string> Fields()
    {
        var context = SynchronizationContext.Current;
        SynchronizationContext.SetSynchronizationContext(null);
        try
        {
            return InteractiveList.Of(["Harbour Comet", "Tessil Ring", "Orvane Cluster"], (string field) => field);
        }
        finally
        {
            SynchronizationContext.SetSynchronizationContext(context);
        }
    }

    private static EventHandler<T> ThrowOnce<T>(Func<T, string> words)
    {
        var has = false;
        return (_, e) =>
        {
            if (has) return;
            has = true;
            throw new InvalidOperationException(words(e));
        };
    }

    [Fact]
    public void What_a_handler_throws_is_told_and_the_release_after_it_still_counts()
    {
        var (list, script, tapped) = (Fields(), new ComponentPage.Script(), 0);
        list.PressChanged += ThrowOnce<PressedEventArgs<string, string>>(_ => "At the press.");
        list.Tapped += (_, _) => tapped++;
        using var page = new ComponentPage(script);
        page.Show(typeof(ListView<string, string>), list);
        double[] tap = [.. ComponentPage.Sample(SampleKind.Down, 0), .. ComponentPage.Sample(SampleKind.Up, 90)];
        script.Call("TakeSamples", tap, 0, null!, 0.0, 0.0);
        Assert.Equal(["At the press."], page.Told);
        Assert.Equal((1, false), (tapped, list.HoldsPointer));
    }

    [Fact]
    public void A_list_that_gives_way_to_another_lets_every_pointer_go_whatever_its_handlers_throw()
    {
        var (list, script, told) = (Fields(), new ComponentPage.Script(), new List<string>());
        list.PressChanged += (_, e) => told.Add($"{e.Item} {e.IsPressed}");
        using var page = new ComponentPage(script);
        var view = page.Make<ListView<string, string>>();
        page.Show(view, new() { ["List"] = list });
        // Two fingers at once are the page's, a finger and a mouse are not.
        var (finger, mouse) = (ComponentPage.Sample(SampleKind.Down, 0), ComponentPage.Sample(SampleKind.Down, 10, y: 120));
        (mouse[1], mouse[2]) = (2, (int)PointerType.Mouse);
        script.Call("TakeSamples", (double[])[.. finger, .. mouse], 0, null!, 0.0, 0.0);
        Assert.Equal(["Tessil Ring True", "Orvane Cluster True"], told);
        list.PressChanged += ThrowOnce<PressedEventArgs<string, string>>(_ => "At the end of it.");
        var another = ParameterView.FromDictionary(new Dictionary<string, object?> { ["List"] = Fields() });
        var thrown = Assert.Throws<InvalidOperationException>(() => view.SetParametersAsync(another).GetAwaiter().GetResult());
        Assert.Equal("At the end of it.", thrown.Message);
        Assert.Equal(["Orvane Cluster False", "Tessil Ring False"], told[2..].Order());
    }

    [Fact]
    public void What_is_thrown_at_a_deadline_or_in_drawing_goes_to_the_error_boundary() => OneThread.Run(async () =>
    {
        var (list, script, told) = (Fields(), new ComponentPage.Script(), new List<string>());
        var fault = "";
        list.Content = field => field == fault ? throw new InvalidOperationException($"No words for {fault}{fault = ""}.") : new(field);
        list.Commands = [new("open", "Open") { Do = _ => { } }];
        list.MenuRequested += ThrowOnce<MenuRequestedEventArgs<string, string>>(menu => $"Long on {menu.Items[0]}.");
        using var page = new ComponentPage(script);
        page.Show(new Boundary(list, told));
        // Nothing more comes: the list is called when the press has become a long one.
        script.Call("TakeSamples", ComponentPage.Sample(SampleKind.Down, 0), 0, null!, 0.0, 0.0);
        for (var i = 0; i < 200 && told.Count == 0; i++) await Task.Delay(50);
        fault = "Orvane Cluster";
        list.Refresh();
        Assert.Equal(["Long on Tessil Ring.", "No words for Orvane Cluster."], told);
        Assert.Empty(page.Told);
    });
}
