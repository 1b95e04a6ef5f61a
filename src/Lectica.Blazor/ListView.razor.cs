using System.Globalization;
using Lectica.Acts;
using Lectica.Frames;
using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;
using Microsoft.AspNetCore.Components;
using Microsoft.JSInterop;

namespace Lectica.Blazor;

/// <summary>
/// A list in a browser. It holds no list logic: it turns the browser's events into samples and keys, and frames into elements. Rows are a listbox where they are plain, and a grid
/// where they hold controls or stand in sections, since a listbox's options may hold none (WAI-ARIA).
/// </summary>
public sealed partial class ListView<TItem, TKey> : ComponentBase, IAsyncDisposable where TKey : notnull
{
    private static int _made;
    private readonly ScrollScale _scale = new();
    private ElementReference _root, _viewport;
    private MenuElement? _menu;
    private IJSObjectReference? _module, _attached;
    private DotNetObjectReference<Bridge>? _bridge;
    private InteractiveList<TItem, TKey>? _bound;
    private CancellationTokenSource? _waiting;
    private double? _due;
    private double _scrolled, _time;
    private long _timeAt;
    private bool _hadMenu, _disposed;
    private string _said = "";

    /// <summary>The list.</summary>
    [Parameter, EditorRequired] public InteractiveList<TItem, TKey> List { get; set; } = null!;

    /// <summary>Its accessible name; the list's title where null.</summary>
    [Parameter] public string? Label { get; set; }

    /// <summary>More CSS classes for its outermost element.</summary>
    [Parameter] public string? Class { get; set; }

    /// <summary>The height of the viewport, in CSS; that of the style sheet where null.</summary>
    [Parameter] public string? Height { get; set; }

    /// <summary>The id of the viewport's element.</summary>
    [Parameter] public string Id { get; set; } = $"lectica-{Interlocked.Increment(ref _made)}";

    /// <summary>Whether title, subtitle and the box that selects all show above the rows.</summary>
    [Parameter] public bool ShowsHeader { get; set; } = true;

    /// <summary>Draws an item's body; its label and detail where null.</summary>
    [Parameter] public RenderFragment<RowContext<TItem>>? Row { get; set; }

    /// <summary>Draws a heading; its title and number where null.</summary>
    [Parameter] public RenderFragment<RowFrame>? Heading { get; set; }

    /// <summary>Draws a notice; its text where null.</summary>
    [Parameter] public RenderFragment<RowFrame>? Notice { get; set; }

    /// <summary>Draws a menu entry; its label and keys where null.</summary>
    [Parameter] public RenderFragment<Commands.MenuEntry>? MenuEntry { get; set; }

    [Inject] private IJSRuntime Js { get; set; } = null!;

    private bool IsGrid => List.Parts is var parts && (parts.Check || parts.Menu || parts.Handle || !parts.Marks.IsDefaultOrEmpty || List.Sections is not null);

    private string Content => string.Create(CultureInfo.InvariantCulture, $"height:{_scale.Height:0.##}px");

    private static string Px(double value) => string.Create(CultureInfo.InvariantCulture, $"{value:0.##}px");

    private string MarkLabelOf(string name) => List.Marks.FirstOrDefault(m => m.Name == name)?.Label ?? name;

    private object KeyOf(RowFrame row) => row.Index >= 0 ? List.KeyAt(row.Index) : (row.Kind, row.Section);

    private string IdOf(RowFrame row) => row.Index >= 0 ? $"{Id}-{row.Index}" : $"{Id}-{row.Kind.ToString().ToLowerInvariant()}-{row.Row.Value}";

    /// <summary>
    /// Rows as they stand, but while something is grabbed as they stood: a browser takes a finger's pointer back when the element under it is moved in the document.
    /// </summary>
    private IEnumerable<RowFrame> InDocumentOrder(Frame frame)
    {
        var rows = frame.Kept.IsEmpty ? frame.Rows : frame.Rows.AddRange(frame.Kept);
        if (!List.IsGrabbing) return frame.Kept.IsEmpty ? rows : rows.OrderBy(r => r.Row.Value);
        return rows.OrderBy(row => (row.Index >= 0 ? List.Rows.RowOf(row.Index) : List.Rows.HeadingOf(List.Rows.SectionWith(row.Section ?? "")))?.Value ?? row.Row.Value);
    }

    private string? ActiveDescendant(Frame frame)
    {
        if (frame.Rows.Concat(frame.Kept).FirstOrDefault(r => r.IsCursor) is not { } row) return null;
        return List.CursorPart is { Kind: not PartKind.Body } part && row.Kind == RowKind.Item ? $"{IdOf(row)}-{part.ToString().Replace(':', '-')}" : IdOf(row);
    }

    /// <inheritdoc/>
    protected override void OnParametersSet()
    {
        if (ReferenceEquals(_bound, List)) return;
        Unbind();
        _bound = List;
        List.FrameChanged += Changed;
        List.Announced += Said;
        _scale.Fit(List.Frame.ContentHeight, List.Viewport.Height);
        // Another list is as large as the one before it.
        if (_size is { } size) List.Resize(size.Width, size.Height);
    }

    private (double Width, double Height)? _size;

    private void Unbind()
    {
        if (_bound is null) return;
        _bound.FrameChanged -= Changed;
        _bound.Announced -= Said;
    }

    private void Changed(object? sender, EventArgs e)
    {
        if (_disposed) return;
        _scale.Fit(List.Frame.ContentHeight, List.Viewport.Height);
        StateHasChanged();
        Schedule();
    }

    // The same words twice are said twice: a live region speaks where its text changes.
    private void Said(object? sender, AnnouncedEventArgs e) => _said = e.Text == _said ? e.Text + "\u200b" : e.Text;

    /// <inheritdoc/>
    protected override async Task OnAfterRenderAsync(bool firstRender)
    {
        if (firstRender)
        {
            _module = await Js.InvokeAsync<IJSObjectReference>("import", "./_content/Lectica.Blazor/lectica-list.js");
            _bridge = DotNetObjectReference.Create(new Bridge(this));
            _attached = await _module.InvokeAsync<IJSObjectReference>("attach", _root, _viewport, _bridge, Js is IJSInProcessRuntime);
        }
        if (_attached is null || _disposed) return;
        var top = _scale.ToElement(List.Viewport.ScrollTop);
        if (Math.Abs(top - _scrolled) > 0.5)
        {
            _scrolled = top;
            await _attached.InvokeVoidAsync("scrollTo", top);
            StateHasChanged();
        }
        if (_hadMenu && List.Frame.Menu is null) await _viewport.FocusAsync(preventScroll: true);
        _hadMenu = List.Frame.Menu is not null;
    }

    /// <summary>A list that cannot call itself back is called at its deadlines, on the clock of the browser's events.</summary>
    private void Schedule()
    {
        if (List.CallsItself || List.NextDeadline == _due) return;
        _waiting?.Cancel();
        _due = List.NextDeadline;
        if (_due is not { } due) return;
        _waiting = new();
        _ = CallBack(due, TimeSpan.FromMilliseconds(Math.Max(1, due - Now)), _waiting.Token);
    }

    private double Now => _time + System.Diagnostics.Stopwatch.GetElapsedTime(_timeAt).TotalMilliseconds;

    private async Task CallBack(double due, TimeSpan wait, CancellationToken token)
    {
        try
        {
            await Task.Delay(wait, token);
        }
        catch (OperationCanceledException)
        {
            return;
        }
        // Input that came meanwhile, and waits behind this, comes first: a release in time is no long press, however busy the page is.
        await Task.Delay(1, CancellationToken.None);
        if (_disposed || token.IsCancellationRequested) return;
        _due = null;
        List.Advance(Math.Max(due, Now));
        Schedule();
    }

    private void Clock(double time) => (_time, _timeAt) = (time, System.Diagnostics.Stopwatch.GetTimestamp());

    /// <inheritdoc/>
    public async ValueTask DisposeAsync()
    {
        _disposed = true;
        Unbind();
        _waiting?.Cancel();
        try
        {
            if (_attached is not null) await _attached.InvokeVoidAsync("detach");
            if (_attached is not null) await _attached.DisposeAsync();
            if (_module is not null) await _module.DisposeAsync();
        }
        catch (JSDisconnectedException)
        {
            // The page has gone, and everything of it.
        }
        _bridge?.Dispose();
    }

    /// <summary>What the script calls. Its answers say what of the browser's own doings must be left out.</summary>
    private sealed class Bridge(ListView<TItem, TKey> view)
    {
        // Of one sample: kind, pointer, type, x, y, time, button, buttons, modifiers, primary, pressure.
        private const int Fields = 11;

        /// <summary>Takes the samples of a frame. Bit 0: the last one was used; bit 1: the pointer is the list's own now.</summary>
        [JSInvokable]
        public int TakeSamples(double[] samples)
        {
            var handled = false;
            for (var i = 0; i + Fields <= samples.Length; i += Fields)
            {
                view.Clock(samples[i + 5]);
                handled = view.List.Take(new PointerSample((SampleKind)(int)samples[i], (int)samples[i + 1], (PointerType)(int)samples[i + 2], samples[i + 3], samples[i + 4], samples[i + 5],
                    (int)samples[i + 6], (int)samples[i + 7], (Modifiers)(int)samples[i + 8], samples[i + 9] != 0, samples[i + 10])).IsHandled;
            }
            view.Schedule();
            return (handled ? 1 : 0) | (view.List.HoldsPointer ? 2 : 0);
        }

        [JSInvokable]
        public bool TakeKey(string key, int modifiers, double time, bool isRepeat)
        {
            view.Clock(time);
            var handled = view.List.Take(new KeyPress(key, (Modifiers)modifiers, time, isRepeat)).IsHandled;
            view.Schedule();
            return handled;
        }

        /// <summary>A click that no pointer made, as assistive technology does: a tap there.</summary>
        [JSInvokable]
        public void TakeClick(double x, double y, double time)
        {
            view.Clock(time);
            view.List.Take(PointerSample.Down(PointerType.Mouse, x, y, time));
            view.List.Take(PointerSample.Up(PointerType.Mouse, x, y, time));
            view.Schedule();
        }

        [JSInvokable]
        public void Scrolled(double top)
        {
            var rows = view._scale.ToRows(top, view._scrolled);
            view._scrolled = top;
            view.List.ScrollTo(rows);
        }

        [JSInvokable]
        public void Resized(double width, double height)
        {
            if (width <= 0 || height <= 0) return;
            view._size = (width, height);
            view.List.Resize(width, height);
        }

        [JSInvokable]
        public void Focused(bool has)
        {
            if (has) view.List.Focus();
            else view.List.Blur();
        }
    }
}
