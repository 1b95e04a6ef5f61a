using Lectica.Commands;
using Lectica.Frames;
using Lectica.Items;

namespace Lectica.Blazor;

/// <summary>What somebody saw where they pressed.</summary>
internal enum SeenKind
{
    /// <summary>That is not known.</summary>
    Unknown,

    /// <summary>Neither a row nor a menu.</summary>
    Nothing,

    /// <summary>The row of an item.</summary>
    Item,

    /// <summary>The heading of a section.</summary>
    Heading,

    /// <summary>An open menu.</summary>
    Menu,
}

/// <summary>
/// What somebody saw where they pressed. A page whose list is elsewhere shows what was true a moment ago: since then rows may have scrolled
/// or moved on, and menus have opened or closed. A press is of what was seen, or of nothing.
/// </summary>
/// <param name="Kind">What it was.</param>
/// <param name="Name">The key of the item as text, the section, or the id of the menu's entry.</param>
/// <param name="X">From the row's left edge to the pointer, px.</param>
/// <param name="Y">From the row's top edge to the pointer, px.</param>
internal readonly record struct Seen(SeenKind Kind, string? Name, double X, double Y)
{
    /// <summary>How far what was seen at a point has gone on since, px; null where it is no longer there to be pressed.</summary>
    /// <param name="list">The list, as it is now.</param>
    /// <param name="x">The pointer's distance from the viewport's left edge, px.</param>
    /// <param name="y">The pointer's distance from the viewport's top edge, px.</param>
    public (double X, double Y)? WentOn(IHostedList list, double x, double y)
    {
        if (Kind == SeenKind.Unknown) return (0, 0);
        var frame = list.Frame;
        if (Kind == SeenKind.Menu) return frame.Menu is { } menu && Has(menu) ? (0, 0) : null;
        if (frame.Menu is { } over && (over.Bounds.Contains(x, y) || over.SubmenuBounds?.Contains(x, y) == true)) return null;
        if (Kind == SeenKind.Nothing) return (0, 0);
        var isSticky = frame.Sticky is { } top && IsOf(top);
        RowFrame[] rows = isSticky ? [frame.Sticky!] : [.. frame.Rows.Where(IsOf)];
        // Two keys whose texts the app has left alike are no name of one.
        if (rows.Length != 1) return rows.Length == 0 ? null : (0, 0);
        var row = rows[0];
        var (across, down) = (row.Left + X - x, row.Top + Y - y);
        // What is only rounded, or within the page's own border, is where it was.
        if (Math.Abs(across) < 2 && Math.Abs(down) < 2) return (0, 0);
        var begin = frame.Sticky is { } sticky && !isSticky ? sticky.Top + sticky.Height : 0;
        return y + down >= begin && y + down < frame.Viewport.Height && x + across >= 0 && x + across < frame.Viewport.Width
            ? (across, down) : null;
    }

    private bool IsOf(RowFrame row) =>
        Kind == SeenKind.Item ? row.KeyText == Name : row.Kind == RowKind.Heading && row.Section == Name;

    private bool Has(Menu menu)
    {
        var name = Name;
        return name is null || menu.Entries.Concat(menu.Submenu).Any(entry => entry.Id == name);
    }
}
