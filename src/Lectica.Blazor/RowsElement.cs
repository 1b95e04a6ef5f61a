using System.Collections.Immutable;
using Lectica.Frames;
using Microsoft.AspNetCore.Components;
using Microsoft.AspNetCore.Components.Rendering;

namespace Lectica.Blazor;

/// <summary>All rows together: a frame that has the same rows as the one before, such as while something is carried inside a gap, costs none of them.</summary>
public sealed class RowsElement : ComponentBase
{
    private (ImmutableArray<RowFrame> Rows, ImmutableArray<RowFrame> Kept, object? Looks) _drawn;

    /// <summary>The rows in view.</summary>
    [Parameter, EditorRequired] public ImmutableArray<RowFrame> Rows { get; set; }

    /// <summary>Rows farther away that are kept.</summary>
    [Parameter, EditorRequired] public ImmutableArray<RowFrame> Kept { get; set; }

    /// <summary>What else tells how they look.</summary>
    [Parameter, EditorRequired] public object? Looks { get; set; }

    /// <summary>The rows' elements.</summary>
    [Parameter, EditorRequired] public RenderFragment? ChildContent { get; set; }

    /// <inheritdoc/>
    protected override bool ShouldRender()
    {
        if (Rows == _drawn.Rows && Kept == _drawn.Kept && Equals(Looks, _drawn.Looks)) return false;
        _drawn = (Rows, Kept, Looks);
        return true;
    }

    /// <inheritdoc/>
    protected override void BuildRenderTree(RenderTreeBuilder builder)
    {
        ArgumentNullException.ThrowIfNull(builder);
        builder.AddContent(0, ChildContent);
    }
}
