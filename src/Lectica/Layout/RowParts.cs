using System.Collections.Immutable;

namespace Lectica.Layout;

/// <summary>
/// Which parts the rows have and where. From the leading edge: the selection box, then each mark; from the trailing edge: the handle,
/// then the menu. Each is <see cref="Width"/> px wide and as high as the row; all that is left is body. Right-to-left turns it round.
/// </summary>
public sealed record RowParts
{
    /// <summary>Whether both are the same parts, as wide, with the same marks in the same order.</summary>
    public bool Equals(RowParts? other) =>
        other is not null && (Width, Check, Menu, Handle) == (other.Width, other.Check, other.Menu, other.Handle)
        && Marks.AsSpan().SequenceEqual(other.Marks.AsSpan());

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Width, Check, Menu, Handle, Marks.Length);

    /// <summary>The width of each part, px. The default meets WCAG 2.5.5 (44 by 44).</summary>
    public double Width { get; init; } = 44;

    /// <summary>Whether rows show a selection box.</summary>
    public bool Check { get; init; }

    /// <summary>The names of the marks that rows show, from the leading edge on.</summary>
    public ImmutableArray<string> Marks { get; init; } = [];

    /// <summary>Whether rows show a button for the context menu.</summary>
    public bool Menu { get; init; }

    /// <summary>Whether rows show a handle to drag by.</summary>
    public bool Handle { get; init; }

    /// <summary>Whether rows are body alone.</summary>
    internal bool IsNone => !Check && !Menu && !Handle && Marks.IsEmpty;

    /// <summary>
    /// The parts that have room side by side in an item of this width: the box first, then marks, the handle, and the menu. What gives way
    /// is in the menu all the same.
    /// </summary>
    public RowParts Fitting(double width)
    {
        var room = (int)(width / Width) - (Check ? 1 : 0);
        if (room >= Marks.Length + (Handle ? 1 : 0) + (Menu ? 1 : 0)) return this;
        var marks = Marks.Take(Math.Max(0, room)).ToImmutableArray();
        room -= marks.Length;
        return this with { Marks = marks, Handle = Handle && room > 0, Menu = Menu && room > (Handle ? 1 : 0) };
    }

    /// <summary>The parts that rows show besides the body, with their left edges, in a row of this width.</summary>
    /// <param name="rowWidth">The width, px.</param>
    /// <param name="rightToLeft">Whether the leading edge is the right one.</param>
    /// <param name="inset">Where the first of them begins, px from the leading edge: in an outline by the level.</param>
    internal IEnumerable<(Part Part, double Left)> LayOut(double rowWidth, bool rightToLeft, double inset = 0)
    {
        double leading = inset, trailing = rowWidth;
        double Side(double left) => rightToLeft ? rowWidth - left - Width : left;
        if (Check)
        {
            yield return (new(PartKind.Check), Side(leading));
            leading += Width;
        }
        foreach (var mark in Marks)
        {
            yield return (new(PartKind.Mark, mark), Side(leading));
            leading += Width;
        }
        if (Handle) yield return (new(PartKind.Handle), Side(trailing -= Width));
        if (Menu) yield return (new(PartKind.Menu), Side(trailing - Width));
    }

    /// <summary>The part at a place across a row: every x belongs to one, so the hit area reaches over the full width.</summary>
    public Part At(double x, double rowWidth, bool rightToLeft, double inset = 0)
    {
        var leading = rightToLeft ? rowWidth - x : x;
        if (inset > 0 && leading < inset) return Part.Body;
        var column = (int)Math.Floor((leading - inset) / Width);
        var first = Check ? 1 : 0;
        if (Check && column <= 0) return new(PartKind.Check);
        if (column >= first && column < first + Marks.Length) return new(PartKind.Mark, Marks[column - first]);
        var trailing = rowWidth - leading;
        if (Handle && trailing <= Width) return new(PartKind.Handle);
        if (Menu && trailing <= Width * (Handle ? 2 : 1)) return new(PartKind.Menu);
        return Part.Body;
    }
}
