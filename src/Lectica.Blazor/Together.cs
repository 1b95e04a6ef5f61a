using Microsoft.AspNetCore.Components;

namespace Lectica.Blazor;

/// <summary>
/// Has several components drawn in one batch. Each that is drawn by itself is a batch of its own, which costs more than the drawing where
/// the runtime interprets; what asks to be drawn while another is being drawn comes into its batch. It shows nothing.
/// </summary>
internal sealed class Together : IComponent
{
    private RenderHandle _handle;

    void IComponent.Attach(RenderHandle renderHandle) => _handle = renderHandle;

    Task IComponent.SetParametersAsync(ParameterView parameters) => Task.CompletedTask;

    /// <summary>Draws in one batch all that is asked for.</summary>
    /// <param name="draws">Asks components to be drawn.</param>
    public void Draw(Action draws) => _handle.Render(_ => draws());
}
