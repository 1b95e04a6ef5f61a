using Lectica.Frames;
using Lectica.Layout;
using Microsoft.AspNetCore.Components;
using Microsoft.JSInterop;

namespace Lectica.Blazor;

/// <summary>
/// A list in a browser. It holds no list logic: it turns the browser's events into samples and keys, and frames into elements. Rows are a
/// listbox where they are plain, and a grid where they hold controls or stand in sections, since a listbox's options may hold none
/// (WAI-ARIA).
/// </summary>
public sealed partial class ListView<TItem, TKey> : ComponentBase, IAsyncDisposable where TKey : notnull
{
    private ListLink<TItem>? _link;
    private ElementReference _viewport;
    private RowsElement<TItem>? _rows;
    private string? _active;
    private Frame? _drawn;
    private (ListOptions, RowParts, HostWindow?) _allElse;
    private object? _parameters;
    private bool _isOther, _flows;

    /// <summary>The list.</summary>
    [Parameter, EditorRequired] public InteractiveList<TItem, TKey> List { get; set; } = null!;

    /// <summary>Its accessible name; the list's title where null.</summary>
    [Parameter] public string? Label { get; set; }

    /// <summary>More CSS classes for its outermost element.</summary>
    [Parameter] public string? Class { get; set; }

    /// <summary>
    /// The height of the viewport, in CSS; that of the style sheet where null. With <c>auto</c> it is as high as its rows, and scrolls with
    /// what is around it, mostly the page: only rows in the window are drawn, and the header stays in it. Whether it does is settled as it
    /// is first drawn.
    /// </summary>
    [Parameter] public string? Height { get; set; }

    /// <summary>The id of the viewport's element.</summary>
    [Parameter] public string Id { get; set; } = ElementId.Next();

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

    /// <summary>
    /// Whether rows are as high as their content needs; otherwise all are as high as the list's options say. The list's height is then
    /// known only of rows that have been in view, so its scroll bar moves a little as others come.
    /// </summary>
    [Parameter] public bool MeasuresRows { get; set; }

    [Inject] private IJSRuntime Js { get; set; } = null!;

    // A list as hosts see it: all but what templates are given of the items.
    private IHostedList Hosted => List;

    // An option of a listbox may hold no control: what a template holds is the app's.
    private bool IsGrid =>
        Row is not null
        || List.Parts is var parts
        && (parts.Check || parts.Menu || parts.Handle || !parts.Marks.IsDefaultOrEmpty || Hosted.HasSections || List.Outline is not null
        || !List.Columns.IsEmpty || List.Options.Layout is Tiles);

    private RowsLook<TItem> RowsOf(Frame frame) => _link!.Looks.RowsOf(frame, IsGrid, Row, Heading, Notice, MeasuresRows);

    // A window may end before the list does.
    private string BriefPlace => _link!.Drawing.Window is { } window && window.Bottom < List.Frame.Viewport.Height && window.Bottom > 80
        ? $"bottom:{Css.Px(List.Frame.Viewport.Height - window.Bottom + 12)}" : "";

    private static string CardSize(GrabFrame grab, bool floats) =>
        floats ? $"width:{Css.Px(grab.Width)};height:{Css.Px(grab.Height)};--lectica-part:{Css.Px(grab.Row?.PartHeight ?? 0)}"
        : $"height:{Css.Px(grab.Height - 2)}";

    private RenderFragment Rows(Frame frame) => html =>
    {
        html.OpenComponent<RowsElement<TItem>>(0);
        html.AddComponentParameter(1, "Look", RowsOf(frame));
        html.AddComponentReferenceCapture(2, rows => _rows = (RowsElement<TItem>)rows);
        html.CloseComponent();
    };

    /// <inheritdoc/>
    protected override void OnParametersSet()
    {
        ArgumentNullException.ThrowIfNull(List);
        if (_link is null) _flows = Height == "auto" && List.Options.Layout is not Strip;
        _link ??= new(Id, Show, DispatchExceptionAsync);
        _link.Looks.Refresh();
        _link.Bind(List, index => List[index]);
        // What an app's own templates draw from may be other with each drawing of the page; all else comes from the list's frame.
        var parameters = (List, Label, Class, Height, Id, ShowsHeader, MeasuresRows);
        _isOther |= Row is not null || Heading is not null || Notice is not null || MenuEntry is not null
            || !parameters.Equals(_parameters);
        _parameters = parameters;
    }

    /// <inheritdoc/>
    protected override bool ShouldRender()
    {
        var isOther = _isOther;
        _isOther = false;
        return isOther;
    }

    // The headers stand above the viewport, and are its first row all the same.
    private string? Owned(Frame frame) => frame.Headers.IsEmpty ? null : $"{Id}-columns {Id}-content";

    private void Show()
    {
        var frame = List.Frame;
        // Where only rows are others, only they are drawn; what is carried is moved by the script.
        if (_rows is null || _link!.Scale.IsDue || _drawn is null || !IsSameAround(frame, _drawn))
        {
            _isOther = true;
            StateHasChanged();
            return;
        }
        _rows.Show(RowsOf(frame));
        _link.Drawing.AfterRows();
    }

    private bool IsSameAround(Frame frame, Frame drawn) =>
        frame.IsSameAround(drawn) && AllElse == _allElse && SameCard(frame.Grab, drawn.Grab)
        && (frame.Viewport.Width, frame.Viewport.Height) == (drawn.Viewport.Width, drawn.Viewport.Height)
        && _link!.Looks.ActiveDescendant(frame) == _active;

    // What is drawn from besides the frame.
    private (ListOptions, RowParts, HostWindow?) AllElse => (List.Options, List.Parts, _link!.Drawing.Window);

    private static bool SameCard(GrabFrame? now, GrabFrame? drawn) =>
        now is null || drawn is null ? now == drawn
        : now.GapY is null == drawn.GapY is null
        && now with { Top = drawn.Top, Left = drawn.Left, GapY = drawn.GapY, GapX = drawn.GapX, Row = drawn.Row, IsMove = drawn.IsMove }
            == drawn
        && (now.Row is { } row && drawn.Row is { } other ? row.LooksLike(other) : now.Row == drawn.Row);

    /// <inheritdoc/>
    protected override async Task OnAfterRenderAsync(bool firstRender)
    {
        if (firstRender) await _link!.Attach(Js, _viewport);
        if (firstRender && OperatingSystem.IsBrowser()) _ = Rehearsal<TItem, TKey>.Run(List, Lull);
        _link!.AfterRender();
    }

    // Whoever is in the middle of a stroke is not to be disturbed.
    private async Task<bool> Lull()
    {
        do await Task.Delay(100);
        while (!_link!.Drawing.IsOver && List.HoldsPointer);
        return !_link.Drawing.IsOver;
    }

    /// <inheritdoc/>
    public ValueTask DisposeAsync() => _link?.DisposeAsync() ?? ValueTask.CompletedTask;
}
