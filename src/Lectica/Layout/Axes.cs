using Lectica.Input;

namespace Lectica.Layout;

/// <summary>
/// Which way a list runs. All of it but its borders knows rows one below the other: a strip is that, seen from the side. What comes in is
/// turned, and frames are turned back.
/// </summary>
/// <param name="IsAcross">Whether it runs sideways.</param>
/// <param name="FromRight">Whether it then begins at the right.</param>
/// <param name="Length">How long the viewport is along it, px.</param>
internal readonly record struct Axes(bool IsAcross, bool FromRight, double Length)
{
    /// <summary>A place of the screen as the list knows it.</summary>
    public (double X, double Y) In(double x, double y) => !IsAcross ? (x, y) : (y, FromRight ? Length - x : x);

    /// <summary>A place of the list on the screen.</summary>
    public (double X, double Y) Out(double x, double y) => !IsAcross ? (x, y) : (FromRight ? Length - y : y, x);

    /// <summary>A rectangle of the list's viewport on the screen.</summary>
    public RowBounds Out(RowBounds at) =>
        !IsAcross ? at : new(FromRight ? Length - at.Top - at.Height : at.Top, at.Left, at.Height, at.Width);

    /// <summary>A sample as the list knows it.</summary>
    public PointerSample In(in PointerSample sample)
    {
        if (!IsAcross) return sample;
        var (x, y) = In(sample.X, sample.Y);
        return sample with { X = x, Y = y };
    }

    /// <summary>A viewport as the list knows it, or on the screen: the same turn.</summary>
    public static Viewport Turned(Viewport viewport, ListLayout layout) =>
        layout is Strip ? viewport with { Width = viewport.Height, Height = viewport.Width } : viewport;

    /// <summary>A window as the list knows it.</summary>
    public HostWindow In(HostWindow window) => !IsAcross ? window
        : FromRight ? new(window.Top, Length - window.Right, window.Bottom, Length - window.Left)
        : new(window.Top, window.Left, window.Bottom, window.Right);
}
