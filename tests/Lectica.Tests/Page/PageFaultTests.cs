using System.Reflection;
using Lectica.Blazor;
using Lectica.Input;
using Microsoft.AspNetCore.Components;
using Microsoft.AspNetCore.Components.Rendering;
using Microsoft.AspNetCore.Components.RenderTree;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging.Abstractions;
using Microsoft.JSInterop;

namespace Lectica.Tests.Page;

/// <summary>
/// What an app throws when the script or a clock calls it goes where that of an event handler of the page goes: to the nearest error
/// boundary, or to the host. The test calls in the script's place, on one thread, as a browser has.
/// </summary>
public class PageFaultTests
{
    private sealed class Script : IJSRuntime, IJSObjectReference
    {
        private object? _calls;

        /// <summary>Calls the component as the script does.</summary>
        public void Call(string name, params object[] arguments) =>
            _calls!.GetType().GetMethod(name)!.Invoke(_calls, BindingFlags.DoNotWrapExceptions, null, arguments, null);

        public ValueTask<TValue> InvokeAsync<TValue>(string identifier, object?[]? args)
        {
            if (identifier == "attachRemote") _calls = args![1]!.GetType().GetProperty("Value")!.GetValue(args[1]);
            return new(typeof(TValue) == typeof(IJSObjectReference) ? (TValue)(object)this : default!);
        }

        public ValueTask<TValue> InvokeAsync<TValue>(string identifier, CancellationToken cancellationToken, object?[]? args) =>
            InvokeAsync<TValue>(identifier, args);

        public ValueTask DisposeAsync() => ValueTask.CompletedTask;
    }

    private sealed class Page(Script script)
        : Renderer(new ServiceCollection().AddSingleton<IJSRuntime>(script).BuildServiceProvider(), NullLoggerFactory.Instance)
    {
        /// <summary>What came to the host.</summary>
        public List<string> Told { get; } = [];

        public override Dispatcher Dispatcher { get; } = new Here();

        /// <summary>Shows a list, within a boundary that notes what comes to it or without one.</summary>
        public void Show(InteractiveList<string, string> list, List<string>? told = null)
        {
            var root = told is null ? InstantiateComponent(typeof(ListView<string, string>)) : new Boundary(list, told);
            var given = told is null ? new Dictionary<string, object?> { ["List"] = list } : [];
            Assert.True(RenderRootComponentAsync(AssignRootComponentId(root), ParameterView.FromDictionary(given)).IsCompletedSuccessfully);
        }

        protected override void HandleException(Exception exception) => Told.Add(exception.Message);

        protected override Task UpdateDisplayAsync(in RenderBatch renderBatch) => Task.CompletedTask;
    }

    private sealed class Here : Dispatcher
    {
        public override bool CheckAccess() => true;

        public override Task InvokeAsync(Action workItem)
        {
            workItem();
            return Task.CompletedTask;
        }

        public override Task InvokeAsync(Func<Task> workItem) => workItem();

        public override Task<TResult> InvokeAsync<TResult>(Func<TResult> workItem) => Task.FromResult(workItem());

        public override Task<TResult> InvokeAsync<TResult>(Func<Task<TResult>> workItem) => workItem();
    }

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

    private static double[] Sample(SampleKind kind, double time) =>
        [(int)kind, 1, (int)PointerType.Touch, 120, 70, time, 0, kind == SampleKind.Up ? 0 : 1, 0, 1, 0];

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
        var (list, script, tapped) = (Fields(), new Script(), 0);
        list.PressChanged += ThrowOnce<PressedEventArgs<string, string>>(_ => "At the press.");
        list.Tapped += (_, _) => tapped++;
        using var page = new Page(script);
        page.Show(list);
        script.Call("TakeSamples", (object)(double[])[.. Sample(SampleKind.Down, 0), .. Sample(SampleKind.Up, 90)]);
        Assert.Equal(["At the press."], page.Told);
        Assert.Equal((1, false), (tapped, list.HoldsPointer));
    }

    [Fact]
    public void What_is_thrown_at_a_deadline_or_in_drawing_goes_to_the_error_boundary() => OneThread.Run(async () =>
    {
        var (list, script, told) = (Fields(), new Script(), new List<string>());
        var fault = "";
        list.Content = field => field == fault ? throw new InvalidOperationException($"No words for {fault}{fault = ""}.") : new(field);
        list.Commands = [new("open", "Open") { Do = _ => { } }];
        list.MenuRequested += ThrowOnce<MenuRequestedEventArgs<string, string>>(menu => $"Long on {menu.Items[0]}.");
        using var page = new Page(script);
        page.Show(list, told);
        // Nothing more comes: the list is called when the press has become a long one.
        script.Call("TakeSamples", (object)Sample(SampleKind.Down, 0));
        for (var i = 0; i < 200 && told.Count == 0; i++) await Task.Delay(50);
        fault = "Orvane Cluster";
        list.Refresh();
        Assert.Equal(["Long on Tessil Ring.", "No words for Orvane Cluster."], told);
        Assert.Empty(page.Told);
    });
}
