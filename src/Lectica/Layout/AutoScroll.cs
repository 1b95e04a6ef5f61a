namespace Lectica.Layout;

/// <summary>How fast a list scrolls while something is dragged near an edge of its viewport.</summary>
public static class AutoScroll
{
    /// <summary>
    /// px/s, positive down: nothing farther than <paramref name="edge"/> px from an edge, from there on evenly faster up to
    /// <paramref name="fastest"/> at the edge and beyond it. Where both edges are that near, the nearer one counts.
    /// </summary>
    public static double Speed(double y, Viewport viewport, double edge, double fastest)
    {
        double above = Math.Max(0, y), below = Math.Max(0, viewport.Height - y);
        var near = Math.Min(above, below);
        if (!(near < edge)) return 0;
        var speed = fastest * (1 - (near / edge));
        return above <= below ? -speed : speed;
    }
}
