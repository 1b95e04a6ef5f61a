namespace Lectica.Blazor;

/// <summary>
/// Browsers cut elements off at some ten million px, so a very long list scrolls an element that is shorter than its rows. Small scrolls
/// move both alike; a long one, such as by the scroll bar, goes to the same part of both; and both ends are reached together.
/// </summary>
internal sealed class ScrollScale
{
    private const double Longest = 8_000_000;
    private double _content, _viewport, _offset;

    /// <summary>How high the element is, px.</summary>
    public double Height { get; private set; }

    /// <summary>Where the rows' own top is in the element, px: what is at y in the rows is at y - Offset there.</summary>
    public double Offset => _offset;

    /// <summary>Takes over the rows' height and the viewport's.</summary>
    public void Fit(double content, double viewport)
    {
        (_content, _viewport, Height) = (content, viewport, Math.Min(content, Longest));
        if (Height == content) _offset = 0;
    }

    private double Ratio => Height <= _viewport ? 1 : (_content - _viewport) / (Height - _viewport);

    /// <summary>Where the rows are scrolled to when the element is.</summary>
    /// <param name="top">How far the element is scrolled, px.</param>
    /// <param name="before">How far it was, px.</param>
    public double ToRows(double top, double before)
    {
        if (Height == _content) return top;
        var last = Height - _viewport;
        var rows = top <= 0 ? 0 : top >= last ? _content - _viewport
            : Math.Abs(top - before) <= 2 * _viewport ? Math.Clamp(top + _offset, 0, _content - _viewport) : top * Ratio;
        _offset = rows - Math.Clamp(top, 0, last);
        return rows;
    }

    /// <summary>Where the element must be scrolled to so that the rows are.</summary>
    public double ToElement(double rows)
    {
        if (Height == _content) return rows;
        var near = rows - _offset;
        // Near the ends both must have as much room left.
        var top = near < 0 || near > Height - _viewport || rows == 0 || rows == _content - _viewport ? rows / Ratio : near;
        _offset = rows - top;
        return top;
    }
}
