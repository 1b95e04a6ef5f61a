using Lectica.Frames;
using Lectica.Items;
using Microsoft.AspNetCore.Components.Rendering;

namespace Lectica.Blazor;

/// <summary>What all rows are drawn from.</summary>
/// <param name="Frame">The frame that has them.</param>
/// <param name="Offset">Where the rows' own top is in the scrolled element, px.</param>
/// <param name="List">What they have in common.</param>
/// <param name="KeepsOrder">Whether elements keep their order in the document though rows change theirs.</param>
/// <param name="InDocumentOrder">Gives the rows, in the order in which their elements are in the document.</param>
/// <param name="KeyOf">Gives what a row is known by.</param>
/// <param name="LookOf">Gives what a row is drawn from.</param>
internal sealed record RowsLook<TItem>(
    Frame Frame, double Offset, ListLook<TItem> List, bool KeepsOrder, Func<Frame, IEnumerable<RowFrame>> InDocumentOrder,
        Func<RowFrame, object> KeyOf, Func<RowFrame, RowLook<TItem>> LookOf)
{
    /// <summary>Whether all rows are the same: those of a frame in which only what is carried has moved are.</summary>
    public bool Equals(RowsLook<TItem>? other) =>
        other is not null && Frame.Rows == other.Frame.Rows && Frame.Kept == other.Frame.Kept && Offset == other.Offset
        && ReferenceEquals(List, other.List);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Frame.Rows, Offset);
}

/// <summary>
/// All rows together. Where the same ones are shown as before, in whatever places, only those that are others are looked at.
/// </summary>
internal sealed class RowsElement<TItem> : DrawnElement<RowsLook<TItem>>
{
    private readonly Dictionary<object, Shown> _elements = [];
    private Together? _together;
    private int _count;

    /// <summary>An element, what it is known by itself, the row that it shows, and its place among the elements.</summary>
    private sealed record Shown(RowElement<TItem> Element, object Self, RowFrame Row, int Place);

    /// <inheritdoc/>
    protected override bool Update(RowsLook<TItem> before, RowsLook<TItem> look)
    {
        // What all rows have in common is another: all of them are looked at.
        if (!ReferenceEquals(before.List, look.List) || before.Offset != look.Offset) return false;
        if (_count != look.Frame.Rows.Length + look.Frame.Kept.Length || _elements.Count != _count) return false;
        var others = new List<(object Key, Shown Shown, RowFrame Row)>();
        var place = -1;
        foreach (var row in look.KeepsOrder ? look.Frame.Rows.AddRange(look.Frame.Kept) : look.InDocumentOrder(look.Frame))
        {
            var key = look.KeyOf(row);
            if (!_elements.TryGetValue(key, out var shown) || (!look.KeepsOrder && shown.Place < place)) return false;
            // Lines are drawn here, and stand for their tiles.
            if (row.IsTile && (shown.Row.Line != row.Line || shown.Row.DocumentLine != row.DocumentLine)) return false;
            place = shown.Place;
            if (!ReferenceEquals(shown.Row, row)) others.Add((key, shown, row));
        }
        var looks = new List<(RowElement<TItem> Element, RowLook<TItem> Look)>();
        foreach (var (key, shown, row) in others)
        {
            _elements[key] = shown with { Row = row };
            var now = look.LookOf(row);
            if (!shown.Element.Shows(now)) looks.Add((shown.Element, now));
        }
        if (looks.Count == 1) looks[0].Element.Show(looks[0].Look);
        else if (looks.Count > 1) _together!.Draw(() => looks.ForEach(l => l.Element.Show(l.Look)));
        return true;
    }

    /// <inheritdoc/>
    protected override void BuildRenderTree(RenderTreeBuilder builder)
    {
        var before = new Dictionary<object, Shown>(_elements);
        RowFrame[] rows = [.. Look.InDocumentOrder(Look.Frame)];
        object[] keys = [.. rows.Select(Look.KeyOf)];
        var free = Free(before, rows, keys);
        _elements.Clear();
        _count = 0;
        int? line = null;
        for (var i = 0; i < rows.Length; i++)
        {
            var row = rows[i];
            // A tile is in its line's element. While something is carried that is the line where it was: an element whose parent changes is
            // rebuilt, and a finger on it is lost.
            int? own = Look.List.IsGrid && (row.IsTile || Look.Frame.IsStrip) ? row.DocumentLine : null;
            if (own != line && line is not null) builder.CloseElement();
            if (own != line && own is not null)
            {
                builder.OpenElement(3, "div");
                builder.SetKey(own);
                builder.AddAttribute(4, "class", "lectica-line");
                builder.AddAttribute(5, "role", "row");
                builder.AddAttribute(6, "aria-rowindex", row.Line + 1);
            }
            line = own;
            var (key, place) = (keys[i], _count++);
            var shown = before.GetValueOrDefault(key) ?? free[i];
            var self = shown?.Self ?? new object();
            if (shown is not null) _elements[key] = new(shown.Element, self, row, place);
            builder.OpenComponent<RowElement<TItem>>(0);
            builder.SetKey(self);
            builder.AddComponentParameter(1, nameof(Look), Look.LookOf(row));
            // Told once, when the element is made.
            builder.AddComponentReferenceCapture(2, element => _elements[key] = new((RowElement<TItem>)element, self, row, place));
            builder.CloseComponent();
        }
        if (line is not null) builder.CloseElement();
        builder.OpenComponent<Together>(7);
        builder.AddComponentReferenceCapture(8, element => _together = (Together)element);
        builder.CloseComponent();
    }

    /// <summary>
    /// For each row that comes, an element whose row goes, between the same rows that stay: to change one costs half of what a new one
    /// does, which counts where all are others, as where the list is scrolled far. What comes or goes between rows that stay is seen to do
    /// so, and has its own.
    /// </summary>
    private Shown?[] Free(Dictionary<object, Shown> before, RowFrame[] rows, object[] keys)
    {
        var free = new Shown?[rows.Length];
        HashSet<object> stay = [.. Look.Frame.Rows.Select(Look.KeyOf)], kept = [.. Look.Frame.Kept.Select(Look.KeyOf)];
        // An app's template may keep something of the row that it draws, and a row that is measured is told when its size changes.
        if (before.Count == 0 || Look.List.Row is not null || Look.List.LeastHeight is not null || Look.Frame.IsTiled || Look.Frame.IsStrip
            || (rows.Any(row => row.TopBefore is not null) && stay.Any(before.ContainsKey))) return free;
        var old = before.OrderBy(e => e.Value.Place).ToArray();
        var next = 0;
        for (var i = 0; i < rows.Length; i++)
        {
            if (before.TryGetValue(keys[i], out var shown))
            {
                if (stay.Contains(keys[i])) next = Math.Max(next, shown.Place + 1);
                continue;
            }
            // One that is kept out of view is nobody's neighbour.
            while (next < old.Length && (kept.Contains(old[next].Key)
                || (old[next].Value.Row.Kind != RowKind.Item && !stay.Contains(old[next].Key)))) next++;
            if (rows[i].Kind == RowKind.Item && next < old.Length && !stay.Contains(old[next].Key)) free[i] = old[next++].Value;
        }
        return free;
    }
}
