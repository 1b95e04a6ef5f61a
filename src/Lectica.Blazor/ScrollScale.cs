namespace Lectica.Blazor;

/// <summary>
/// The element that scrolls, beside the rows in it. Browsers cut elements off at some ten million px, so that of a very long list is
/// shorter than its rows. Small scrolls move both alike; a long one, such as by the scroll bar, goes to the same part of both; and both
/// ends are reached together.
/// </summary>
internal sealed class ScrollScale
{
    private const double Longest = 8_000_000;
    private double _content, _viewport, _offset, _top;

    /// <summary>How high the element is, px.</summary>
    public double Height { get; private set; }

    /// <summary>Where the rows' own top is in the element, px: what is at y in the rows is at y - Offset there.</summary>
    public double Offset => _offset;

    /// <summary>Whether the browser has yet to scroll it there.</summary>
    public bool IsDue { get; private set; }

    /// <summary>Takes over the rows' height and the viewport's, and follows rows that have scrolled by themselves.</summary>
    /// <param name="content">How high the rows are, px.</param>
    /// <param name="viewport">How high the viewport is, px.</param>
    /// <param name="scrolled">How far the rows are scrolled, px.</param>
    public void Fit(double content, double viewport, double scrolled)
    {
        (_content, _viewport, Height) = (content, viewport, Math.Min(content, Longest));
        if (Height == content) _offset = 0;
        var top = ToElement(scrolled);
        if (Math.Abs(top - _top) > 0.5) (_top, IsDue) = (top, true);
    }

    /// <summary>The browser scrolls it.</summary>
    /// <returns>How far, px; null where it is there.</returns>
    public double? Begin()
    {
        var isDue = IsDue;
        IsDue = false;
        return isDue ? _top : null;
    }

    /// <summary>It has been scrolled.</summary>
    /// <param name="top">How far, px.</param>
    /// <returns>How far the rows are then, px; null where it is the list that had it scrolled.</returns>
    public double? Take(double top)
    {
        // Elements scroll by whole px: what the list has scrolled itself comes back rounded, and is not another place.
        if (Math.Abs(top - _top) < 1) return null;
        var rows = ToRows(top, _top);
        _top = top;
        return rows;
    }

    private double Ratio => Height <= _viewport ? 1 : (_content - _viewport) / (Height - _viewport);

    private double ToRows(double top, double before)
    {
        if (Height == _content) return top;
        var last = Height - _viewport;
        var rows = top <= 0 ? 0 : top >= last ? _content - _viewport
            : Math.Abs(top - before) <= 2 * _viewport ? Math.Clamp(top + _offset, 0, _content - _viewport) : top * Ratio;
        _offset = rows - Math.Clamp(top, 0, last);
        return rows;
    }

    private double ToElement(double rows)
    {
        if (Height == _content) return rows;
        var near = rows - _offset;
        // Near the ends both must have as much room left.
        var top = near < 0 || near > Height - _viewport || rows == 0 || rows == _content - _viewport ? rows / Ratio : near;
        _offset = rows - top;
        return top;
    }
}
