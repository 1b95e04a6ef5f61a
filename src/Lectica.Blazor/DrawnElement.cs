using Microsoft.AspNetCore.Components;
using Microsoft.AspNetCore.Components.Rendering;

namespace Lectica.Blazor;

/// <summary>
/// A component that is drawn from one value, and again only when that is another one. It has no parameters to set by reflection and no life
/// cycle, since a list has one for each row and all of them are asked in each frame.
/// </summary>
/// <typeparam name="T">The value, whose <c>Equals</c> says whether it looks the same.</typeparam>
internal abstract class DrawnElement<T> : IComponent where T : class
{
    private readonly RenderFragment _draw;
    private RenderHandle _handle;

    /// <summary>A component that has not been drawn yet.</summary>
    protected DrawnElement() => _draw = BuildRenderTree;

    /// <summary>What it is drawn from.</summary>
    protected T Look { get; private set; } = null!;

    void IComponent.Attach(RenderHandle renderHandle) => _handle = renderHandle;

    Task IComponent.SetParametersAsync(ParameterView parameters)
    {
        foreach (var parameter in parameters)
            if (parameter.Value is T look) Show(look);
        return Task.CompletedTask;
    }

    /// <summary>Whether it looks so already.</summary>
    internal bool Shows(T look) => look.Equals(Look);

    /// <summary>Draws it from a value, if that is another one: without its parent being drawn.</summary>
    internal void Show(T look)
    {
        if (Shows(look)) return;
        var before = Look;
        Look = look;
        if (before is null || !Update(before, look)) _handle.Render(_draw);
    }

    /// <summary>Shows another value without drawing the whole; false where it must be drawn.</summary>
    /// <param name="before">The value that is shown.</param>
    /// <param name="look">The one to show.</param>
    protected virtual bool Update(T before, T look) => false;

    /// <summary>Draws it.</summary>
    /// <param name="builder">Takes the elements.</param>
    protected abstract void BuildRenderTree(RenderTreeBuilder builder);
}
