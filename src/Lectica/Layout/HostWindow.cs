namespace Lectica.Layout;

/// <summary>
/// The window that a host shows a list in: its edges, px from the left and top edge of the list's viewport. It may be larger than that, and
/// then menus have all of it; or end before it does, and then dragging scrolls at its edge.
/// </summary>
public readonly record struct HostWindow(double Left, double Top, double Right, double Bottom)
{
    /// <summary>A window that is as large as the viewport: what is taken where a host tells nothing.</summary>
    public static HostWindow Of(Viewport viewport) => new(0, 0, viewport.Width, viewport.Height);

    /// <summary>Its width, px.</summary>
    public double Width => Right - Left;

    /// <summary>Its height, px.</summary>
    public double Height => Bottom - Top;
}
