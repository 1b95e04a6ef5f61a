using Lectica.Items;
using Lectica.Layout;

namespace Lectica;

// Rows of different heights: a host draws each as high as its content needs and says how high that is; until it has, a row has the options' height.
public sealed partial class InteractiveList<TItem, TKey>
{
    /// <summary>The heights of the items that have been measured, by index, px.</summary>
    private Dictionary<int, double> _heights = [];

    private RowGeometry? _geometry;
    private (RowMap Rows, RowGeometry Geometry)? _previewGeometry;

    /// <summary>The item that is to stay in view when heights become known; -1 for none.</summary>
    private int _revealed = -1;

    /// <summary>Where the rows are.</summary>
    private RowGeometry Geometry => _geometry ??= GeometryOf(_rows, null);

    /// <summary>Where rows would be after a move.</summary>
    private RowGeometry GeometryOf(MovePreview preview)
    {
        if (_previewGeometry is not { } known || !ReferenceEquals(known.Rows, preview.Rows)) _previewGeometry = known = (preview.Rows, GeometryOf(preview.Rows, preview.Edit));
        return known.Geometry;
    }

    private RowGeometry GeometryOf(RowMap rows, Edit? move)
    {
        var odd = new List<(int Row, double Height)>(rows.Headings.Length + _heights.Count);
        foreach (var heading in rows.Headings) odd.Add((heading, Options.HeadingHeight));
        foreach (var (index, height) in _heights)
            if (rows.RowOf(move?.Apply(index) ?? index) is { } row) odd.Add((row.Value, height));
        if (_heights.Count > 0) odd.Sort();
        return new(rows.Count, Options.RowHeight, OddRows.Of(odd, Options.RowHeight));
    }

    /// <summary>
    /// Takes how high rows are drawn, for hosts whose rows are as high as their content needs. What is looked at stays where it is, and a row that was just brought into
    /// view stays in view. Heights belong to items and follow them; keys that are not in the list are left out. Cost: the number of all that have been measured.
    /// </summary>
    /// <param name="heights">Items by key, with their heights in px.</param>
    /// <exception cref="ArgumentOutOfRangeException">A height is not more than 0; nothing has changed then.</exception>
    public void Measure(IEnumerable<(TKey Key, double Height)> heights)
    {
        ArgumentNullException.ThrowIfNull(heights);
        var all = heights.ToList();
        foreach (var (key, height) in all)
            if (!(height > 0) || !double.IsFinite(height)) throw new ArgumentOutOfRangeException(nameof(heights), height, $"The row of '{key}' cannot be {height} px high: a row is higher than 0 px.");
        Run(_ =>
        {
            var eye = _holdsScroll ? null : UnderTheEye();
            var changed = false;
            foreach (var (key, height) in all)
            {
                if (_store.IndexOf(key) is not (>= 0 and var index) || _heights.GetValueOrDefault(index, Options.RowHeight) == height) continue;
                _heights[index] = height;
                changed = true;
            }
            if (!changed) return Response.Handled;
            ForgetGeometry();
            if (eye is { } kept) KeepUnderTheEye(kept.Index, kept.Offset);
            SetViewport(_viewport, closes: false);
            if (_revealed >= 0) BringIntoView(_revealed);
            return Response.Handled;
        });
    }

    private void ForgetGeometry()
    {
        (_plane, _geometry, _previewGeometry) = (null, null, null);
        ChangeFrame();
        _changedProperties.Add(nameof(Frame));
    }

    private void FollowHeights(Edit edit)
    {
        _revealed = edit.Apply(_revealed);
        if (_heights.Count == 0) return;
        var followed = new Dictionary<int, double>(_heights.Count);
        foreach (var (index, height) in _heights)
            if (edit.Apply(index) is >= 0 and var now) followed[now] = height;
        _heights = followed;
    }
}
