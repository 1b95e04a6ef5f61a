namespace Lectica.Layout;

/// <summary>How fast a list scrolls while something is dragged near an edge of its viewport.</summary>
internal static class AutoScroll
{
    /// <summary>
    /// px/s, positive down: nothing farther than <see cref="AutoScrollLimits.Edge"/> from an edge of what shows; from there on evenly
    /// faster up to <see cref="AutoScrollLimits.Speed"/> at the edge and beyond it, which doubles as time goes on. Where both edges are
    /// that near, the nearer one counts.
    /// </summary>
    /// <param name="y">Where the pointer is, px from the viewport's top edge.</param>
    /// <param name="viewport">The viewport.</param>
    /// <param name="window">The host's window, which may end before it does.</param>
    /// <param name="lasted">How long it has been scrolling, ms.</param>
    /// <param name="limits">The limits.</param>
    public static double Speed(double y, Viewport viewport, HostWindow window, double lasted, AutoScrollLimits limits)
    {
        double above = Math.Max(0, y - Math.Max(0, window.Top)), below = Math.Max(0, Math.Min(viewport.Height, window.Bottom) - y);
        var near = Math.Min(above, below);
        if (!(near < limits.Edge)) return 0;
        var fastest = Math.Min(limits.Speed * Math.Pow(2, lasted / limits.Doubling), limits.Screens * viewport.Height);
        var speed = fastest * (1 - (near / limits.Edge));
        return above <= below ? -speed : speed;
    }
}

/// <summary>The limits of scrolling near an edge.</summary>
/// <param name="Edge">How near to an edge it begins, px.</param>
/// <param name="Speed">How fast it is at the edge at first, px/s.</param>
/// <param name="Doubling">In how long it gets twice as fast, ms.</param>
/// <param name="Screens">How fast it is at most, in viewports a second.</param>
internal readonly record struct AutoScrollLimits(double Edge, double Speed, double Doubling, double Screens);
