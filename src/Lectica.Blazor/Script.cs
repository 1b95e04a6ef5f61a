using System.Runtime.InteropServices.JavaScript;
using System.Runtime.Versioning;
using Lectica.Input;
using Microsoft.AspNetCore.Components;
using Microsoft.JSInterop;

namespace Lectica.Blazor;

/// <summary>What the script tells besides samples and keys.</summary>
internal enum ScriptNote
{
    Scrolled,
    Resized,
    Focused,
    WindowPlaced,
    WindowSized,
    PressedOutside,
    NoticeHeld,
    TextSized,
    ModKeyTold,
    MenuScrolled,
}

/// <summary>What the script calls.</summary>
internal interface IScriptCalls
{
    /// <summary>
    /// Takes the samples of a frame; gives whether the pointer is the list's own now, so that the browser must leave it alone.
    /// </summary>
    /// <param name="samples">The samples.</param>
    /// <param name="seen">What was seen where one of them is a press; unknown where the page shows what the list is.</param>
    bool TakeSamples(ReadOnlyMemory<double> samples, Seen seen = default);

    /// <summary>Takes a key; gives whether it was used. Of the flags the low four are the modifiers, 16 that it repeats.</summary>
    bool TakeKey(string key, int flags, double time);

    /// <summary>Takes a note.</summary>
    void TakeNote(ScriptNote note, double a, double b);

    /// <summary>Takes what the clipboard or a drag brings or wants, as <see cref="TransferLink"/> packs it; gives the answer.</summary>
    string TakeTransfer(TransferNote note, string packed);

    /// <summary>Takes the beginning of what is too long for one call.</summary>
    void BeginTransfer(string packed);

    /// <summary>Takes the heights of rows, px, by their items' keys as text.</summary>
    void TakeHeights(string[] keys, double[] heights);
}

/// <summary>The script, as the component calls it.</summary>
internal interface IScript : IAsyncDisposable
{
    /// <summary>Scrolls the viewport's element.</summary>
    void ScrollTo(double top);

    /// <summary>Puts the card of what is carried and the gap to their places: they change with each frame, and need no rendering.</summary>
    void CarryTo(double top, double gap, double left, double gapLeft);

    /// <summary>Says something to a screen reader.</summary>
    void Say(string text);

    /// <summary>Lets rows glide from where they were: ids of their elements and from how far below, px, in turns.</summary>
    void Glide(string rows);

    /// <summary>Lets something be felt for a moment, ms.</summary>
    void Hint(int time);

    /// <summary>Scrolls the page so far that an element shows.</summary>
    void Reveal(string id);

    /// <summary>Brings a menu up by its id: over everything else, with the keyboard on it.</summary>
    void Raise(string id);

    /// <summary>What the list gives to the clipboard and to drags, and what it takes.</summary>
    void ExpectUse(int use);

    /// <summary>Puts something on the clipboard.</summary>
    void PutClipboard(string packed);

    /// <summary>Asks for what is on the clipboard; it comes as a paste does.</summary>
    void AskClipboard();

    /// <summary>Whether the list is asked as each key comes, so that nobody has to expect any.</summary>
    bool AsksAtOnce { get; }

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
        _view = Attach(id, _samples, count => calls.TakeSamples(_samples.AsMemory(0, count)), calls.TakeKey,
        (note, a, b) => calls.TakeNote((ScriptNote)note, a, b),
            (keys, count) => calls.TakeHeights(keys.Split('\0'), _samples[..count]),
                (note, packed) => calls.TakeTransfer((TransferNote)note, packed));

    public static async Task<IScript> Attach(string id, IScriptCalls calls)
    {
        await JSHost.ImportAsync(Module, "../_content/" + Module);
        return new ScriptHere(id, calls);
    }

    public void ScrollTo(double top) => ScrollTo(_view, top);

    public void CarryTo(double top, double gap, double left, double gapLeft) => CarryTo(_view, top, gap, left, gapLeft);

    public void Say(string text) => Say(_view, text);

    public void Glide(string rows) => Glide(_view, rows);

    public void Hint(int time) => Hint(_view, time);

    public void Reveal(string id) => Reveal(_view, id);

    public void Raise(string id) => Raise(_view, id);

    public void ExpectUse(int use) => ExpectUse(_view, use);

    public void PutClipboard(string packed) => PutClipboard(_view, packed);

    public void AskClipboard() => AskClipboard(_view);

    public bool AsksAtOnce => true;

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
        string id, [JSMarshalAs<JSType.MemoryView>] ArraySegment<double> memory,
            [JSMarshalAs<JSType.Function<JSType.Number, JSType.Boolean>>] Func<int, bool> samples,
        [JSMarshalAs<JSType.Function<JSType.String, JSType.Number, JSType.Number, JSType.Boolean>>] Func<string, int, double, bool> key,
        [JSMarshalAs<JSType.Function<JSType.Number, JSType.Number, JSType.Number>>] Action<int, double, double> note,
        [JSMarshalAs<JSType.Function<JSType.String, JSType.Number>>] Action<string, int> heights,
        [JSMarshalAs<JSType.Function<JSType.Number, JSType.String, JSType.String>>] Func<int, string, string> transfer);

    [JSImport("scrollTo", Module)]
    private static partial void ScrollTo(JSObject view, double top);

    [JSImport("carryTo", Module)]
    private static partial void CarryTo(JSObject view, double top, double gap, double left, double gapLeft);

    [JSImport("say", Module)]
    private static partial void Say(JSObject view, string text);

    [JSImport("glide", Module)]
    private static partial void Glide(JSObject view, string rows);

    [JSImport("hint", Module)]
    private static partial void Hint(JSObject view, int time);

    [JSImport("reveal", Module)]
    private static partial void Reveal(JSObject view, string id);

    [JSImport("raise", Module)]
    private static partial void Raise(JSObject view, string id);

    [JSImport("expectUse", Module)]
    private static partial void ExpectUse(JSObject view, int use);

    [JSImport("putClipboard", Module)]
    private static partial void PutClipboard(JSObject view, string packed);

    [JSImport("askClipboard", Module)]
    private static partial void AskClipboard(JSObject view);

    [JSImport("detach", Module)]
    private static partial void Detach(JSObject view);
}

/// <summary>The script of a page whose list is elsewhere, such as on a server: calls go by messages, in order.</summary>
internal sealed class ScriptElsewhere : IScript
{
    private readonly IJSObjectReference _module, _view;
    private readonly DotNetObjectReference<Bridge> _bridge;
    private double _top;

    private ScriptElsewhere(IJSObjectReference module, IJSObjectReference view, DotNetObjectReference<Bridge> bridge)
    {
        (_module, _view, _bridge) = (module, view, bridge);
        bridge.Value.Crossed = ScrollAgain;
    }

    public static async Task<IScript> Attach(IJSRuntime js, ElementReference viewport, IScriptCalls calls)
    {
        var module = await js.InvokeAsync<IJSObjectReference>("import", "./_content/Lectica.Blazor/lectica-list.js");
        var bridge = DotNetObjectReference.Create(new Bridge(calls));
        return new ScriptElsewhere(module, await module.InvokeAsync<IJSObjectReference>("attachRemote", viewport, bridge), bridge);
    }

    public void ScrollTo(double top)
    {
        _top = top;
        _bridge.Value.Scrolls++;
        ScrollAgain();
    }

    private void ScrollAgain() => Call("scrollTo", _top, _bridge.Value.Scrolls);

    public void CarryTo(double top, double gap, double left, double gapLeft) => Call("carryTo", top, gap, left, gapLeft);

    public void Say(string text) => Call("say", text);

    public void Glide(string rows) => Call("glide", rows);

    public void Hint(int time) => Call("hint", time);

    public void Reveal(string id) => Call("reveal", id);

    public void Raise(string id) => Call("raise", id);

    public bool AsksAtOnce => false;

    public void ExpectKeys(string[] chords) => Call("expectKeys", [chords]);

    public void ExpectUse(int use) => Call("expectUse", use);

    public void PutClipboard(string packed) => Call("putClipboard", packed);

    public void AskClipboard() => Call("askClipboard");

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
        /// <summary>How often the list has scrolled the page.</summary>
        public int Scrolls { get; set; }

        /// <summary>The page was scrolled before it knew where the list has scrolled since.</summary>
        public Action Crossed { get; set; } = () => { };

        [JSInvokable]
        public bool TakeSamples(double[] samples, SeenKind kind, string? name, double x, double y) =>
            calls.TakeSamples(samples, new(kind, name, x, y));

        [JSInvokable]
        public void TakeKey(string key, int flags, double time) => calls.TakeKey(key, flags, time);

        [JSInvokable]
        public void TakeHeights(string[] keys, double[] heights) => calls.TakeHeights(keys, heights);

        [JSInvokable]
        public string TakeTransfer(TransferNote note, string packed) => calls.TakeTransfer(note, packed);

        [JSInvokable]
        public void BeginTransfer(string packed) => calls.BeginTransfer(packed);

        // Where the page was before it knew where the list has scrolled since, it is no more. What was lost with a broken line is said
        // once more; a page that knows it does nothing.
        [JSInvokable]
        public void TakeNote(ScriptNote note, double a, double b)
        {
            if (note == ScriptNote.Scrolled && b != Scrolls) Crossed();
            else calls.TakeNote(note, a, b);
        }
    }
}
