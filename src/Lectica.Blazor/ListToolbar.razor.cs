using System.ComponentModel;
using Lectica.Commands;
using Lectica.Finding;
using Lectica.Input;
using Microsoft.AspNetCore.Components;
using Microsoft.AspNetCore.Components.Web;
using Microsoft.JSInterop;

namespace Lectica.Blazor;

/// <summary>
/// A toolbar with the commands of a list that show in one, done to what is selected. What does not fit goes to an overflow menu, by
/// priority; labels are measured as they are drawn.
/// </summary>
public sealed partial class ListToolbar : ComponentBase, IAsyncDisposable
{
    private const double IconRoom = 28;

    // An element keeps its button while others come and go before it.
    private readonly Dictionary<string, ElementReference> _tools = [];
    private IHostedList? _bound;
    private ElementReference _element, _overflow;
    private Toolbar _bar = null!;
    private Menu? _menu;
    private TextMatch? _match;
    private IJSObjectReference? _module, _attached;
    private DotNetObjectReference<Bridge>? _bridge;
    private readonly Dictionary<string, double> _labelWidths = [];
    private double _windowLeft, _windowTop;
    private double _width = 320, _textScale = 1;
    private int _at, _toFocus = -1;
    private bool _isDue;

    /// <summary>The list whose commands it has.</summary>
    [Parameter, EditorRequired] public IHostedList List { get; set; } = null!;

    /// <summary>Its accessible name; the list's title where null.</summary>
    [Parameter] public string? Label { get; set; }

    /// <summary>The id of its element.</summary>
    [Parameter] public string Id { get; set; } = ElementId.Next();

    /// <summary>The id of the list's element, which it acts on.</summary>
    [Parameter] public string? Controls { get; set; }

    /// <summary>Draws an icon by its name, which then shows alone; where null ours show, beside the labels.</summary>
    [Parameter] public RenderFragment<string>? Icon { get; set; }

    [Inject] private IJSRuntime Js { get; set; } = null!;

    /// <inheritdoc/>
    protected override void OnParametersSet()
    {
        ArgumentNullException.ThrowIfNull(List);
        if (ReferenceEquals(_bound, List)) return;
        Unbind();
        (_bound, _menu) = (List, null);
        _match = new(List.Options.Culture ?? System.Globalization.CultureInfo.CurrentCulture);
        List.PropertyChanged += Changed;
    }

    private void Unbind()
    {
        if (_bound is not null) _bound.PropertyChanged -= Changed;
    }

    // What can be done follows the selection, the items, the commands and what is under way, not each frame.
    private void Changed(object? sender, PropertyChangedEventArgs e)
    {
        if (e.PropertyName is nameof(InteractiveList<,>.Selection) or nameof(InteractiveList<,>.Commands)
            or nameof(InteractiveList<,>.Count) or nameof(InteractiveList<,>.RowCount)
            or nameof(InteractiveList<,>.RunningCommands)) _ = InvokeAsync(DrawSoon);
    }

    // Several of these change at once: it is drawn when all is told, and after the rows.
    private async Task DrawSoon()
    {
        if (_isDue) return;
        _isDue = true;
        await Task.Yield();
        _isDue = false;
        StateHasChanged();
    }

    /// <inheritdoc/>
    protected override bool ShouldRender() => !_isDue;

    /// <inheritdoc/>
    protected override async Task OnAfterRenderAsync(bool firstRender)
    {
        if (firstRender)
        {
            _module = await Js.InvokeAsync<IJSObjectReference>("import", "./_content/Lectica.Blazor/lectica-list.js");
            _bridge = DotNetObjectReference.Create(new Bridge(this));
            _attached = await _module.InvokeAsync<IJSObjectReference>("attachToolbar", _element, _bridge);
        }
        await MeasureLabels();
        if (_toFocus < 0) return;
        var place = _toFocus;
        _toFocus = -1;
        if (place < _bar.Shown.Length) await _tools[_bar.Shown[place].Command].FocusAsync();
        else if (_bar.HasOverflow) await _overflow.FocusAsync();
    }

    // Where the app draws the icons, they stand without words.
    private string LookOf(ToolbarEntry entry) =>
        $"lectica-tool is-{entry.Role.ToString().ToLowerInvariant()}{(entry.IsBusy ? " is-busy" : "")}{(IsBare(entry) ? " is-bare" : "")}";

    private bool IsBare(ToolbarEntry entry) => entry.Icon is not null && Icon is not null;

    // Until a label is measured it is counted at 12 px a letter, which is more than it needs.
    private double WidthOf(string label) =>
        _labelWidths.TryGetValue(label, out var width) ? width + 28 : (12 * label.Length) + IconRoom + 24;

    private async Task MeasureLabels()
    {
        string[] labels = [.. _bar.Shown.Concat(_bar.Overflow).Select(e => e.Label).Where(l => !_labelWidths.ContainsKey(l)).Distinct()];
        if (labels.Length == 0 || _attached is null) return;
        var widths = await _attached.InvokeAsync<double[]>("measure", (object)labels);
        foreach (var (label, width) in labels.Zip(widths)) _labelWidths[label] = width;
        StateHasChanged();
    }

    private void Resized(double width, double textScale)
    {
        _textScale = Math.Clamp(textScale, 0.25, 8);
        // Text may be larger too than it was.
        _labelWidths.Clear();
        if (width > 0 && width != _width) (_width, _menu) = (width, null);
        StateHasChanged();
    }

    private async Task TakeKey(KeyboardEventArgs e)
    {
        if (_menu is { } menu)
        {
            var answer = menu.Take(new(e.Key, Modifiers.None, Environment.TickCount64, e.Repeat), _match!);
            if (answer.Menu is not null) _menu = answer.Menu;
            else Close(answer.Chosen);
            return;
        }
        if (_bar.ButtonAfter(_at, e.Key, List.Options.IsRightToLeft) is { } place) Go(place);
        else if (e.Key == "ArrowDown" && _at == _bar.Shown.Length && _bar.HasOverflow) await OpenOrClose(byKey: true);
    }

    private void Go(int place) => (_at, _toFocus) = (place, place);

    private void Run(int place, ToolbarEntry entry)
    {
        _at = place;
        // What cannot be done says why: the list raises Refused.
        List.RunCommand(entry.Id);
    }

    // A click that no pointer made was made by a key.
    private async Task OpenOrClose(bool byKey)
    {
        _at = _bar.Shown.Length;
        if (_menu is not null)
        {
            _menu = null;
            return;
        }
        if (_attached is null) return;
        var room = await _attached.InvokeAsync<double[]>("room");
        (_windowLeft, _windowTop) = (room[0], room[1]);
        _menu = _bar.OverflowMenu(_width, Toolbar.Height * Math.Max(1, _textScale), new(room[0], room[1], room[2], room[3]),
            List.Options.IsRightToLeft, byKey, _textScale);
    }

    private void Raise(string menu) => Call("raise", menu);

    private void Reveal(string entry) => Call("reveal", entry);

    private async void Call(string name, string id)
    {
        try
        {
            await _attached!.InvokeVoidAsync(name, id);
        }
        catch (Exception e) when (e is JSDisconnectedException or TaskCanceledException or ObjectDisposedException)
        {
            // The page has gone, and everything of it.
        }
    }

    private void CloseMenu() => _menu = null;

    private void Choose(MenuEntry entry)
    {
        if (entry.IsEnabled) Close(entry.Id);
    }

    private void Close(string? chosen)
    {
        _menu = null;
        Go(_bar.Shown.Length);
        if (chosen is not null) List.RunCommand(chosen);
    }

    /// <inheritdoc/>
    public async ValueTask DisposeAsync()
    {
        Unbind();
        try
        {
            if (_attached is not null)
            {
                await _attached.InvokeVoidAsync("detach");
                await _attached.DisposeAsync();
            }
            if (_module is not null) await _module.DisposeAsync();
        }
        catch (JSDisconnectedException)
        {
            // The page has gone, and everything of it.
        }
        _bridge?.Dispose();
    }

    private sealed class Bridge(ListToolbar toolbar)
    {
        [JSInvokable]
        public void TakeSize(double width, double textScale) => toolbar.Resized(width, textScale);

        [JSInvokable]
        public void PressedOutside()
        {
            toolbar._menu = null;
            toolbar.StateHasChanged();
        }
    }
}
