using System.Reflection;
using Lectica.Blazor;
using Lectica.Input;
using Microsoft.AspNetCore.Components;
using Microsoft.AspNetCore.Components.RenderTree;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;
using Microsoft.Extensions.Logging.Abstractions;
using Microsoft.JSInterop;

namespace Lectica.Tests.Page;

/// <summary>A page of one component without a browser: the test calls in the script's place, on one thread, as a browser has.</summary>
internal sealed class ComponentPage(IJSRuntime script)
    : Renderer(
        new ServiceCollection().AddSingleton(script).AddSingleton<ILoggerFactory>(NullLoggerFactory.Instance).BuildServiceProvider(),
        NullLoggerFactory.Instance)
{
    /// <summary>What came to the host.</summary>
    public List<string> Told { get; } = [];

    /// <summary>The components that have been drawn, by the names of their types, each time that they were.</summary>
    public List<string> Drawn { get; } = [];

    /// <summary>How often something was sent to the document.</summary>
    public int Batches { get; private set; }

    /// <summary>The roles of a component's own elements, in their order, as it is drawn now.</summary>
    public List<string> RolesIn(IComponent component)
    {
        var frames = GetCurrentRenderTreeFrames(GetComponentState(component).ComponentId);
        return [.. frames.Array.Take(frames.Count)
            .Where(f => f.FrameType == RenderTreeFrameType.Attribute && f.AttributeName == "role").Select(f => (string)f.AttributeValue)];
    }

    protected override RendererInfo RendererInfo { get; } = new("Test", isInteractive: true);

    public override Dispatcher Dispatcher { get; } = new Here();

    /// <summary>Makes a component that can be shown.</summary>
    public T Make<T>() where T : IComponent => (T)InstantiateComponent(typeof(T));

    /// <summary>Shows a component with a list.</summary>
    public void Show(Type type, object list) => Show(InstantiateComponent(type), new() { ["List"] = list });

    /// <summary>Shows a component.</summary>
    public void Show(IComponent root, Dictionary<string, object?>? given = null)
    {
        var parameters = ParameterView.FromDictionary(given ?? []);
        Assert.True(RenderRootComponentAsync(AssignRootComponentId(root), parameters).IsCompletedSuccessfully);
    }

    protected override void HandleException(Exception exception) => Told.Add(exception.Message);

    protected override Task UpdateDisplayAsync(in RenderBatch renderBatch)
    {
        Batches++;
        for (var i = 0; i < renderBatch.UpdatedComponents.Count; i++)
            Drawn.Add(GetComponentState(renderBatch.UpdatedComponents.Array[i].ComponentId).Component.GetType().Name.Split('`')[0]);
        return Task.CompletedTask;
    }

    /// <summary>A finger's sample, as the script hands it over.</summary>
    public static double[] Sample(SampleKind kind, double time, double x = 120, double y = 70) =>
        [(int)kind, 1, (int)PointerType.Touch, x, y, time, 0, kind == SampleKind.Up ? 0 : 1, 0, 1, 0];

    internal sealed class Script : IJSRuntime, IJSObjectReference
    {
        private object? _calls;

        /// <summary>The keys that it keeps from the browser, by modifiers and name.</summary>
        public string[] Keys { get; private set; } = [];

        /// <summary>Calls the component as the script does.</summary>
        public void Call(string name, params object[] arguments) =>
            _calls!.GetType().GetMethod(name)!.Invoke(_calls, BindingFlags.DoNotWrapExceptions, null, arguments, null);

        public ValueTask<TValue> InvokeAsync<TValue>(string identifier, object?[]? args)
        {
            if (identifier == "attachRemote") _calls = args![1]!.GetType().GetProperty("Value")!.GetValue(args[1]);
            if (identifier == "expectKeys") Keys = (string[])args![0]!;
            return new(typeof(TValue) == typeof(IJSObjectReference) ? (TValue)(object)this : default!);
        }

        public ValueTask<TValue> InvokeAsync<TValue>(string identifier, CancellationToken cancellationToken, object?[]? args) =>
            InvokeAsync<TValue>(identifier, args);

        public ValueTask DisposeAsync() => ValueTask.CompletedTask;
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
}
