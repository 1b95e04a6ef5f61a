using System.Runtime.InteropServices.JavaScript;
using System.Runtime.Versioning;
using Lectica.Input;
using Microsoft.AspNetCore.Components;
using Microsoft.JSInterop;

namespace Lectica.Blazor;

/// <summary>What the script tells beside samples and keys.</summary>
internal enum ScriptNote
{
    Scrolled,
    Resized,
    Focused,
}

/// <summary>What the script calls.</summary>
internal interface IScriptCalls
{
    /// <summary>
    /// Takes the samples of a frame; gives whether the pointer is the list's own now, so that the browser must leave it alone.
    /// </summary>
    bool TakeSamples(ReadOnlyMemory<double> samples);

    /// <summary>Takes a key; gives whether it was used. Of the flags the low four are the modifiers, 16 that it repeats.</summary>
    bool TakeKey(string key, int flags, double time);

    /// <summary>Takes a note.</summary>
    void TakeNote(ScriptNote note, double a, double b);

    /// <summary>Takes the heights of rows, px, by their items' keys as text.</summary>
    void TakeHeights(string[] keys, double[] heights);
}

/// <summary>The script, as the component calls it.</summary>
internal interface IScript : IAsyncDisposable
{
    /// <summary>Scrolls the viewport's element.</summary>
    void ScrollTo(double top);

    /// <summary>Puts the card of what is carried and the gap to their places: they change with each frame, and need no rendering.</summary>
    void CarryTo(double top, double gap);

    /// <summary>Says something to a screen reader.</summary>
    void Say(string text);

    /// <summary>Which keys the list may take, for where it cannot be asked in time.</summary>
    void ExpectKeys(string[] chords);
}

/// <summary>The script of a page that runs the list itself: calls cost microseconds, and samples go by memory that both have.</summary>
[SupportedOSPlatform("browser")]
internal sealed partial class ScriptHere : IScript
{
    private const string Module = "Lectica.Blazor/lectica-list.js";
    private readonly double[] _samples = new double[1024];
    private readonly JSObject _view;

    private ScriptHere(string id, IScriptCalls calls) =>
        _view = Attach(id, _samples, count => calls.TakeSamples(_samples.AsMemory(0, count)), calls.TakeKey, (note, a, b) => calls.TakeNote((ScriptNote)note, a, b),
            (keys, count) => calls.TakeHeights(keys.Split('\0'), _samples[..count]));

    public static async Task<IScript> Attach(string id, IScriptCalls calls)
    {
        await JSHost.ImportAsync(Module, "../_content/" + Module);
        return new ScriptHere(id, calls);
    }

    public void ScrollTo(double top) => ScrollTo(_view, top);

    public void CarryTo(double top, double gap) => CarryTo(_view, top, gap);

    public void Say(string text) => Say(_view, text);

    // The list is asked as each comes.
    public void ExpectKeys(string[] chords)
    {
    }

    public ValueTask DisposeAsync()
    {
        Detach(_view);
        _view.Dispose();
        return ValueTask.CompletedTask;
    }

    [JSImport("attachHere", Module)]
    private static partial JSObject Attach(
        string id, [JSMarshalAs<JSType.MemoryView>] ArraySegment<double> memory, [JSMarshalAs<JSType.Function<JSType.Number, JSType.Boolean>>] Func<int, bool> samples,
        [JSMarshalAs<JSType.Function<JSType.String, JSType.Number, JSType.Number, JSType.Boolean>>] Func<string, int, double, bool> key,
        [JSMarshalAs<JSType.Function<JSType.Number, JSType.Number, JSType.Number>>] Action<int, double, double> note,
        [JSMarshalAs<JSType.Function<JSType.String, JSType.Number>>] Action<string, int> heights);

    [JSImport("scrollTo", Module)]
    private static partial void ScrollTo(JSObject view, double top);

    [JSImport("carryTo", Module)]
    private static partial void CarryTo(JSObject view, double top, double gap);

    [JSImport("say", Module)]
    private static partial void Say(JSObject view, string text);

    [JSImport("detach", Module)]
    private static partial void Detach(JSObject view);
}

/// <summary>The script of a page whose list is elsewhere, such as on a server: calls go by messages, in order.</summary>
internal sealed class ScriptElsewhere : IScript
{
    private readonly IJSObjectReference _module, _view;
    private readonly DotNetObjectReference<Bridge> _bridge;

    private ScriptElsewhere(IJSObjectReference module, IJSObjectReference view, DotNetObjectReference<Bridge> bridge) => (_module, _view, _bridge) = (module, view, bridge);

    public static async Task<IScript> Attach(IJSRuntime js, ElementReference viewport, IScriptCalls calls)
    {
        var module = await js.InvokeAsync<IJSObjectReference>("import", "./_content/Lectica.Blazor/lectica-list.js");
        var bridge = DotNetObjectReference.Create(new Bridge(calls));
        return new ScriptElsewhere(module, await module.InvokeAsync<IJSObjectReference>("attachRemote", viewport, bridge), bridge);
    }

    public void ScrollTo(double top) => Call("scrollTo", top);

    public void CarryTo(double top, double gap) => Call("carryTo", top, gap);

    public void Say(string text) => Call("say", text);

    public void ExpectKeys(string[] chords) => Call("expectKeys", [chords]);

    private async void Call(string name, params object[] arguments)
    {
        try
        {
            await _view.InvokeVoidAsync(name, arguments);
        }
        catch (Exception e) when (e is JSDisconnectedException or TaskCanceledException or ObjectDisposedException)
        {
            // The page has gone, and everything of it.
        }
    }

    public async ValueTask DisposeAsync()
    {
        try
        {
            await _view.InvokeVoidAsync("detach");
            await _view.DisposeAsync();
            await _module.DisposeAsync();
        }
        catch (JSDisconnectedException)
        {
            // The page has gone, and everything of it.
        }
        _bridge.Dispose();
    }

    private sealed class Bridge(IScriptCalls calls)
    {
        [JSInvokable]
        public bool TakeSamples(double[] samples) => calls.TakeSamples(samples);

        [JSInvokable]
        public void TakeKey(string key, int flags, double time) => calls.TakeKey(key, flags, time);

        [JSInvokable]
        public void TakeHeights(string[] keys, double[] heights) => calls.TakeHeights(keys, heights);

        [JSInvokable]
        public void TakeNote(ScriptNote note, double a, double b) => calls.TakeNote(note, a, b);
    }
}
