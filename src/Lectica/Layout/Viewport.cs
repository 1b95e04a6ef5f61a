using Lectica.Items;

namespace Lectica.Layout;

/// <summary>The window through which the rows are seen. Scrolled out of range it counts as scrolled to the nearest end.</summary>
/// <param name="Width">Its width, px.</param>
/// <param name="Height">Its height, px.</param>
/// <param name="ScrollTop">How much of the content is above it, px.</param>
public readonly record struct Viewport(double Width = 400, double Height = 520, double ScrollTop = 0)
{
    /// <summary>The same, 400 by 520 px: ten rows of the default height.</summary>
    public static Viewport Default => new(400, 520, 0);

    /// <summary>The same window scrolled so that it stays inside content of this height.</summary>
    public Viewport Within(double contentHeight) =>
        this with { ScrollTop = Math.Clamp(double.IsFinite(ScrollTop) ? ScrollTop : 0, 0, Math.Max(0, contentHeight - Height)) };

    /// <summary>
    /// The same window scrolled as little as possible, so that a row shows whole, or its top where it is higher than the window.
    /// </summary>
    /// <param name="row">The row.</param>
    /// <param name="geometry">Where rows lie.</param>
    /// <param name="covered">How much at its top is covered, px, such as by a heading that stays there.</param>
    internal Viewport Showing(RowNumber row, RowGeometry geometry, double covered = 0)
    {
        double top = geometry.TopOf(row) - covered, bottom = geometry.TopOf(row) + geometry.HeightOf(row);
        var scroll = top < ScrollTop || bottom - top > Height ? top : bottom > ScrollTop + Height ? bottom - Height : ScrollTop;
        return (this with { ScrollTop = scroll }).Within(geometry.Height);
    }

    /// <summary>How many rows a page key moves over: as many as fit whole, less one for orientation, at least one.</summary>
    internal int PageSize(RowGeometry geometry) => Math.Max(1, (int)(Height / geometry.RowHeight) - 1) * geometry.Columns;
}
