using Lectica.Items;
using Lectica.Layout;
using Lectica.Sources;

namespace Lectica.States;

/// <summary>Where rows are, and through which window they are seen.</summary>
internal sealed record Window
{
    /// <summary>The window, always inside the content.</summary>
    public required Viewport Viewport { get; init; }

    /// <summary>The host's own window; null where it has not told.</summary>
    public HostWindow? Host { get => _host?.Item; init => _host = value is { } window ? new(window) : null; }

    // Boxed: each scrolled frame makes a new one of these, and that seldom another one.
    private readonly Box<HostWindow>? _host;

    /// <summary>The host's own window, or one as large as the viewport, as it is on the screen.</summary>
    public HostWindow RoomOn(ListLayout layout) => Host ?? HostWindow.Of(Axes.Turned(Viewport, layout));

    /// <summary>How large text is compared with its usual size: rows are higher by as much.</summary>
    public double TextScale { get; init; } = 1;

    /// <summary>The heights of the items that have been measured, by index, px. Never changed: another one is made.</summary>
    public required IReadOnlyDictionary<int, double> Heights { get; init; }

    /// <summary>The item that is to stay in view when heights become known; -1 for none.</summary>
    public int Revealed { get; init; } = -1;

    /// <summary>Where the rows are.</summary>
    public required RowGeometry Geometry { get; init; }

    /// <summary>
    /// What is looked at in a sorted view: after an edit nobody can say any more what that had on a row, because its order changes in
    /// place. Null for others, which can be asked.
    /// </summary>
    public Eye? EyeOfSorted { get; init; }

    private static readonly Dictionary<int, double> NoHeights = [];

    /// <summary>The window at first.</summary>
    public static Window Over(RowMap rows, ListOptions options)
    {
        var viewport = Axes.Turned(options.Viewport, options.Layout);
        return new() { Viewport = viewport, Heights = NoHeights, Geometry = GeometryOf(rows, NoHeights, viewport.Width, null, options, 1) };
    }

    /// <summary>The same after an edit.</summary>
    public Window After(Edit edit)
    {
        var revealed = edit.Apply(Revealed);
        if (Heights.Count == 0) return revealed == Revealed ? this : this with { Revealed = revealed };
        var followed = new Dictionary<int, double>(Heights.Count);
        foreach (var (index, height) in Heights)
            if (edit.Apply(index) is >= 0 and var now) followed[now] = height;
        return this with { Revealed = revealed, Heights = followed };
    }

    /// <summary>Whether rows lie, and are seen, the same in both.</summary>
    public static bool LooksSame(Window one, Window other) =>
        ReferenceEquals(one, other)
        || (one.Viewport == other.Viewport && one.Geometry == other.Geometry && ReferenceEquals(one.Heights, other.Heights));

    /// <summary>
    /// Lays rows out again where they are others, and keeps the window inside them: what is looked at stays where it is through an edit.
    /// </summary>
    public static Window Settle(ListState before, ListState now, in Settling how)
    {
        var (window, was, rows) = (now.Window, before.Window, now.Showing.Rows);
        var isLaidAnew = !ReferenceEquals(window.Heights, was.Heights) || window.TextScale != was.TextScale
            || window.Viewport.Width != was.Viewport.Width;
        if (how.Edit is null && !isLaidAnew && ReferenceEquals(rows, before.Showing.Rows))
            return window.Within(window.Viewport).Looking(was, rows);
        window = window with { Geometry = GeometryOf(rows, window, null, how.Options) };
        // Rows that are only wider stay where they are; tiles of which fewer fit in a line do not.
        isLaidAnew &= window.Geometry.Columns != was.Geometry.Columns || !ReferenceEquals(window.Heights, was.Heights)
            || window.TextScale != was.TextScale;
        var stays = how.HoldsScroll || (how.Edit is null && !isLaidAnew);
        var viewport = stays || was.EyeAt(before.Showing.Rows) is not { } eye ? window.Viewport
            : window.Keeping(how.Edit?.Apply(eye.Index) ?? eye.Index, eye.Offset, rows);
        return window.Within(viewport).Looking(null, rows);
    }

    private Window Looking(Window? was, RowMap rows)
    {
        if (!rows.IsSorted) return EyeOfSorted is null ? this : this with { EyeOfSorted = null };
        if (was is not null && was.Viewport == Viewport && was.EyeOfSorted == EyeOfSorted) return this;
        var eye = Viewport.ScrollTop <= 0 ? null : EyeIn(rows);
        return eye == EyeOfSorted ? this : this with { EyeOfSorted = eye };
    }

    // Null at the top of the list, where what comes in above shows.
    private Eye? EyeAt(RowMap rows) => rows.IsSorted ? EyeOfSorted : Viewport.ScrollTop <= 0 ? null : EyeIn(rows);

    /// <summary>The first item in view, also at the top of the list; null where there is none.</summary>
    public Eye? EyeIn(RowMap rows) =>
        Geometry.LineAt(Viewport.ScrollTop) is { } row && rows.NextItemRow(row) is { } item
            ? new(rows.IndexAt(item), Viewport.ScrollTop - Geometry.TopOf(item)) : null;

    /// <summary>The viewport in which an item is as far past the top as it was.</summary>
    public Viewport Keeping(int index, double offset, RowMap rows) =>
        index >= 0 && rows.RowOf(index) is { } row ? (Viewport with { ScrollTop = Geometry.TopOf(row) + offset }).Within(Geometry.Height)
        : Viewport;

    private Window Within(Viewport viewport) =>
        viewport.Within(Geometry.Height) is var inside && inside == Viewport ? this : this with { Viewport = inside };

    /// <summary>Where rows are, or would be after a move.</summary>
    public static RowGeometry GeometryOf(RowMap rows, Window window, Edit? move, ListOptions options) =>
        GeometryOf(rows, window.Heights, window.Viewport.Width, move, options, window.TextScale);

    private static RowGeometry GeometryOf(
        RowMap rows, IReadOnlyDictionary<int, double> heights, double width, Edit? move, ListOptions options, double scale) =>
        rows.Notice is not null ? NoticeOf(rows, width, options, scale)
        : options.Layout.Lay(rows, heights.Select(h => (move?.Apply(h.Key) ?? h.Key, h.Value)),
            new(width, options.RowHeight * scale, options.HeadingHeight * scale, options.IsRightToLeft, scale));

    private static StackedRows NoticeOf(RowMap rows, double width, ListOptions options, double scale)
    {
        var isAcross = options.Layout is Strip;
        var length = isAcross ? Math.Max(options.NoticeHeight, options.Viewport.Width) : options.NoticeHeight;
        return new(rows.Count, width, length * scale) { IsAcross = isAcross };
    }
}

/// <summary>What is looked at: an item, and how far it is scrolled past the top.</summary>
internal sealed record Eye(int Index, double Offset);
