using Lectica.Frames;
using Lectica.Items;
using Lectica.Layout;
using Microsoft.AspNetCore.Components;

namespace Lectica.Blazor;

/// <summary>What each row of a list is drawn from, and by what ids the page knows it.</summary>
internal sealed class RowLooks<TItem>(string id, ScrollScale scale)
{
    private readonly HashSet<string> _texts = [], _alike = [];
    private IHostedList _list = null!;
    private Func<string, string> _markLabelOf = null!;
    private Func<int, TItem> _itemAt = null!;
    private ListLook<TItem>? _look;
    private int _version;

    /// <summary>Takes the rows of a list.</summary>
    /// <param name="list">The list.</param>
    /// <param name="itemAt">Gives its item at an index, for templates.</param>
    public void Bind(IHostedList list, Func<int, TItem> itemAt)
    {
        _itemAt = itemAt;
        // What it calls its marks may be other.
        if (!ReferenceEquals(_list, list)) (_list, _markLabelOf) = (list, list.LabelOf);
    }

    /// <summary>Has templates redrawn: what they draw may depend on whatever has changed around them.</summary>
    public void Refresh() => _version++;

    /// <summary>What all rows are drawn from.</summary>
    public RowsLook<TItem> RowsOf(
        Frame frame, bool isGrid, RenderFragment<RowContext<TItem>>? row = null, RenderFragment<RowFrame>? heading = null,
            RenderFragment<RowFrame>? notice = null, bool isMeasured = false)
    {
        var look = new ListLook<TItem>(
            isGrid, isGrid ? 0 : frame.RowCount, _list.Parts.Width, _list.Options.Phrases, _markLabelOf, row, heading, notice,
            isMeasured && _list.Options.Layout is not Tiles ? _list.Options.RowHeight : null,
            row is null && heading is null && notice is null ? 0 : _version)
        {
            // Where the keyboard is, and what is sorted, is nothing to the rows.
            IsStrip = frame.IsStrip,
            Columns = frame.Headers.IsEmpty ? [] : [.. frame.Headers.Select(h => h with { IsCursor = false, IsDescending = null })],
        };
        // The same object while it is the same: rows compare it by reference.
        if (!look.Equals(_look)) _look = look;
        FindAlike(frame);
        return new(frame, scale.Offset, _look!, frame.Grab is { IsGuest: false }, InDocumentOrder, row => KeyOf(row), LookOf);
    }

    // Two keys whose texts the app has left alike still are two rows.
    private void FindAlike(Frame frame)
    {
        _texts.Clear();
        _alike.Clear();
        foreach (var row in frame.Rows)
            if (row.KeyText is { } text && !_texts.Add(text)) _alike.Add(text);
        foreach (var row in frame.Kept)
            if (row.KeyText is { } text && !_texts.Add(text)) _alike.Add(text);
    }

    private (RowKind Kind, string? Text, int Index) KeyOf(RowFrame row) =>
        (row.Kind, row.KeyText ?? row.Section, row.KeyText is not { } text || _alike.Contains(text) ? row.Index : -1);

    private RowLook<TItem> LookOf(RowFrame row) =>
        new(row, IdOf(row), _list.Frame.IsStrip ? row.Top : _list.Frame.Viewport.ScrollTop + row.Top - scale.Offset,
        row.Index < 0 || row.Reading != RowReading.Done ? default : _itemAt(row.Index), _look!)
        {
            Left = _list.Frame.IsStrip ? InStrip(row) : row.Left,
        };

    // From the left edge of what is scrolled: where it runs from the right, that is its end.
    private double InStrip(RowFrame row)
    {
        var (viewport, scrolled) = (_list.Frame.Viewport, _list.Frame.Viewport.ScrollTop - scale.Offset);
        return _list.Frame.IsRightToLeft ? row.Left + Math.Max(scale.Height, viewport.Width) - viewport.Width - scrolled
            : row.Left + scrolled;
    }

    /// <summary>What is carried, drawn as its row is.</summary>
    public RowLook<TItem> CardOf(RowFrame row) => new(row, id + "-card", 0, _itemAt(row.Index), _look!);

    /// <summary>The heading that stays at the top, drawn as it is in its place; that one is what assistive technology is told of.</summary>
    public RowLook<TItem> StickyOf(RowFrame row) => new(row, id + "-sticky", 0, default, _look!);

    /// <summary>The id of a row's element.</summary>
    public string IdOf(RowFrame row) =>
        row.Index >= 0 ? $"{id}-{row.Index}" : $"{id}-{row.Kind.ToString().ToLowerInvariant()}-{row.Row.Value}";

    private static IEnumerable<RowFrame> InDocumentOrder(Frame frame) =>
        frame.Kept.IsEmpty && frame.Grab is null ? frame.Rows : frame.Rows.Concat(frame.Kept).OrderBy(row => row.DocumentOrder);

    /// <summary>What the parts of rows are called, which have no headers to be seen.</summary>
    public IEnumerable<string> PartNames =>
    [
        .. _list.Parts.Check ? [_list.Options.Phrases.Select] : (string[])[], .. _list.Parts.Marks.Select(_markLabelOf),
            .. _list.Parts.Menu ? [_list.Options.Phrases.Menu] : (string[])[],
        .. _list.Parts.Handle ? [_list.Options.Phrases.Move] : (string[])[],
    ];

    /// <summary>The id of the element that the keyboard's cursor is on, or null.</summary>
    public string? ActiveDescendant(Frame frame)
    {
        if (frame.Headers.FirstOrDefault(h => h.IsCursor) is { } header) return $"{id}-column-{ElementId.Of(header.Name)}";
        if (frame.Rows.Concat(frame.Kept).FirstOrDefault(r => r.IsCursor) is not { } row) return null;
        return row.Parts.FirstOrDefault(p => p.IsCursor) is { } part ? $"{IdOf(row)}-{ElementId.Of(part.Part)}" : IdOf(row);
    }
}
