using Lectica.Frames;
using Lectica.Input;
using Microsoft.AspNetCore.Components;
using Microsoft.JSInterop;

namespace Lectica.Blazor;

/// <summary>
/// A choice field in a browser. The keyboard stays on the field; the options are below it while it is open, and rows of the same engine.
/// </summary>
public sealed partial class ChoiceView<TItem, TKey> : ComponentBase, IAsyncDisposable where TKey : notnull
{
    private ListLink<TItem>? _link;
    private ChoiceField<TItem, TKey>? _bound;
    private ElementReference _element;
    private bool _open;

    /// <summary>The field.</summary>
    [Parameter, EditorRequired] public ChoiceField<TItem, TKey> Field { get; set; } = null!;

    /// <summary>More CSS classes for its outermost element.</summary>
    [Parameter] public string? Class { get; set; }

    /// <summary>The id of the field's element.</summary>
    [Parameter] public string Id { get; set; } = ElementId.Next();

    [Inject] private IJSRuntime Js { get; set; } = null!;

    private string OptionsBox(ChoiceFrame field) =>
        $"top:{Css.Px(field.OptionsTop)};height:{Css.Px(Math.Min(Field.List.Viewport.Height, Field.List.Frame.ContentHeight))}";

    /// <inheritdoc/>
    protected override void OnParametersSet()
    {
        ArgumentNullException.ThrowIfNull(Field);
        _link ??= new(Id, StateHasChanged, DispatchExceptionAsync)
        {
            TakeSample = sample => Taken(_bound!.Take(sample)),
            TakePress = press => Taken(_bound!.Take(press)),
            TakesEscape = () => _bound!.IsOpen,
            TakeSize = (width, _) => _bound!.List.Resize(width, _bound.List.Viewport.Height),
            TakeFocus = has =>
            {
                if (has) return;
                _bound!.Blur();
                Taken(default);
            },
        };
        // What the field before this one still has to be told goes to that one.
        _link.Bind(Field.List, index => Field.List[index]);
        _bound = Field;
    }

    /// <summary>Opening and closing is the field's, which its list does not tell of.</summary>
    private Response Taken(Response response)
    {
        if (Field.IsOpen != _open) StateHasChanged();
        return response;
    }

    /// <inheritdoc/>
    protected override async Task OnAfterRenderAsync(bool firstRender)
    {
        if (firstRender) await _link!.Attach(Js, _element);
        _link!.AfterRender();
    }

    /// <inheritdoc/>
    public ValueTask DisposeAsync() => _link?.DisposeAsync() ?? ValueTask.CompletedTask;
}
