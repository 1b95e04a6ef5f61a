using Lectica.Layout;

namespace Lectica.Testing;

/// <summary>
/// A row or a part of one, named by its item's key, such as <c>row:R07</c>, <c>check:R07</c>, <c>mark:starred:R07</c> or
/// <c>tray:withdraw:R07</c>.
/// </summary>
public readonly record struct RowTarget(Part Part, bool IsWholeRow, string Key)
{
    internal static readonly string[] Prefixes = ["row", "check", "mark", "menu", "handle", "tray", "expander"];

    /// <summary>Reads a target.</summary>
    /// <exception cref="FormatException">It names no part, or no key.</exception>
    public static RowTarget Parse(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        var colon = text.IndexOf(':', StringComparison.Ordinal);
        var (prefix, rest) = colon < 0 ? (text, "") : (text[..colon], text[(colon + 1)..]);
        if (prefix is "mark" or "tray" && rest.IndexOf(':', StringComparison.Ordinal) is >= 0 and var second)
            return new(new(prefix == "mark" ? PartKind.Mark : PartKind.Tray, rest[..second]), false, rest[(second + 1)..]);
        if (rest.Length == 0 || prefix is "mark" or "tray" || !Prefixes.Contains(prefix))
            throw new FormatException(
                $"'{text}' names no row or part: write row:KEY, check:KEY, mark:NAME:KEY, menu:KEY, handle:KEY, expander:KEY or " +
                    "tray:NAME:KEY.");
        return prefix switch
        {
            "check" => new(new(PartKind.Check), false, rest),
            "menu" => new(new(PartKind.Menu), false, rest),
            "handle" => new(new(PartKind.Handle), false, rest),
            "expander" => new(new(PartKind.Expander), false, rest),
            _ => new(Part.Body, true, rest),
        };
    }

    /// <summary>Its centre, px from the viewport's left and top edge, or why it has none.</summary>
    internal (double X, double Y)? Centre<TItem, TKey>(InteractiveList<TItem, TKey> list, out string? problem) where TKey : notnull
    {
        ArgumentNullException.ThrowIfNull(list);
        problem = null;
        var index = -1;
        if (list is InteractiveList<TItem, string> named) index = named.IndexOf(Key);
        else
            for (var i = 0; i < list.Count && index < 0; i++)
                if (list.KeyTextAt(i) == Key) index = i;
        if (index < 0)
        {
            var some = Enumerable.Range(0, Math.Min(3, list.Count)).Select(list.KeyTextAt).ToList();
            problem = list.Count == 0 ? $"there is no row '{Key}': the list is empty."
                : $"there is no row '{Key}': the list has {list.Count} items, with keys such as {string.Join(", ", some)}.";
            return null;
        }
        if (list.Rows.RowOf(index) is not { } row)
        {
            problem = $"the row '{Key}' does not " +
                $"show: {(list.Rows.Shown.Contains(index) ? "what it lies in is collapsed" : "the filter hides it")}.";
            return null;
        }
        var plane = list.Plane;
        var bounds = plane.Geometry.BoundsOf(row);
        double top = Math.Max(0, bounds.Top - plane.Viewport.ScrollTop),
            bottom = Math.Min(plane.Viewport.Height, bounds.Bottom - plane.Viewport.ScrollTop);
        if (bottom <= top)
        {
            problem = $"the row '{Key}' is not in view: it lies {bounds.Top:0} px from the top, and the viewport " +
                $"shows {plane.Viewport.ScrollTop:0} to {plane.Viewport.ScrollTop + plane.Viewport.Height:0} px. Scroll to it first, " +
                "with a wheel source.";
            return null;
        }
        if (plane.Geometry.IsAcross)
        {
            var axes = list.Shell.Core.Axes;
            var at = axes.Out(new(bounds.Left, bounds.Top - plane.Viewport.ScrollTop, bounds.Width, bounds.Height));
            double from = Math.Max(0, at.Left), to = Math.Min(axes.Length, at.Right);
            if (IsWholeRow) return ((from + to) / 2, at.Top + (at.Height / 2));
            foreach (var (part, upper, high) in Part.Kind == PartKind.Tray && plane.Shifted is { } swiped && swiped.Index == index
                ? swiped.Uncovered : [])
                if (part == Part) return ((from + to) / 2, upper + (high / 2));
            foreach (var (part, left) in plane.Parts.LayOut(at.Width, plane.RightToLeft))
                if (part == Part) return (at.Left + left + (plane.Parts.Width / 2), at.Top + (plane.PartHeight(bounds) / 2));
            problem = $"the items have no part '{Part}', or it is not in view.";
            return null;
        }
        if (IsWholeRow) return (bounds.Left + (bounds.Width / 2), (top + bottom) / 2);
        if (Part.Kind == PartKind.Tray)
        {
            foreach (var (part, left, width) in plane.Shifted is { } shifted && shifted.Index == index ? shifted.Uncovered : [])
                if (part == Part) return (left + (width / 2), (top + bottom) / 2);
            problem = $"the tray of the row '{Key}' is not open with a command '{Part.Name}'.";
            return null;
        }
        var below = Math.Min(bottom, bounds.Top - plane.Viewport.ScrollTop + plane.PartHeight(bounds));
        var inset = plane.InsetOf(index);
        if (Part.Kind == PartKind.Expander && inset > 0)
            return (plane.RightToLeft ? bounds.Width - inset + (plane.Parts.Width / 2) : inset - (plane.Parts.Width / 2),
                (top + bottom) / 2);
        foreach (var (part, left) in plane.Parts.LayOut(bounds.Width, plane.RightToLeft, inset))
            if (part == Part && below > top) return (bounds.Left + left + (plane.Parts.Width / 2), (top + below) / 2);
        var parts = plane.Parts.LayOut(bounds.Width, plane.RightToLeft).Select(p => p.Part.ToString()).ToList();
        problem = $"the rows have no part '{Part}'; they have {(parts.Count == 0 ? "none but their body" : string.Join(", ", parts))}.";
        return null;
    }
}
