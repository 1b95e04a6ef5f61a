using System.Collections.Immutable;
using Lectica.Items;

namespace Lectica.Layout;

/// <summary>A column as it is drawn.</summary>
internal sealed record ColumnSign(string Name, string Label, double? Width, double Share, bool AlignsEnd, double LeastWidth);

/// <summary>That rows are being put in another order, in slices.</summary>
/// <param name="Next">How they will be sorted.</param>
/// <param name="Order">The work.</param>
/// <param name="Due">When the host has it go on, ms; infinity where it goes on by itself.</param>
internal sealed record Sorting(ColumnSort Next, INextOrder Order, double Due = double.PositiveInfinity);

/// <summary>The columns that rows have, by which the list is sorted, and by which it is about to be.</summary>
internal sealed record Table(ImmutableArray<ColumnSign> Columns, ColumnSort? Sort, Sorting? Sorting = null)
{
    public static Table None { get; } = new([], null);

    /// <summary>Whether headers look the same in both.</summary>
    public static bool LooksSame(Table one, Table other) =>
        one.Columns == other.Columns && one.Sort == other.Sort && one.Sorting?.Next == other.Sorting?.Next;

    /// <summary>The same for larger text, whose columns are as much wider; smaller text leaves them as they are.</summary>
    public Table For(double textScale) => textScale <= 1 || Columns.IsEmpty ? this : this with
    {
        Columns = [.. Columns.Select(c => c with { Width = c.Width * textScale, LeastWidth = c.LeastWidth * textScale })],
    };

    /// <summary>
    /// Where columns lie across a row's body: as many from the first on as have room. Those without a width of their own share what the
    /// others leave, and none of them gets less than its least.
    /// </summary>
    /// <param name="left">Where the body begins, px.</param>
    /// <param name="width">Its width, px.</param>
    /// <param name="rightToLeft">Whether the first is at the right.</param>
    public ImmutableArray<(ColumnSign Column, double Left, double Width)> Lay(double left, double width, bool rightToLeft)
    {
        if (Columns.IsEmpty) return [];
        var count = Columns.Length;
        double Needs(int n) => Columns.Take(n).Sum(c => c.Width ?? c.LeastWidth);
        while (count > 1 && Needs(count) > width) count--;
        var rest = Math.Max(0, width - Columns.Take(count).Sum(c => c.Width ?? 0));
        var sharing = Columns.Take(count).Where(c => c.Width is null).ToList();
        // Who would get too little takes its least out of the rest before the others share it.
        bool GetsLess(ColumnSign c) => rest * c.Share / sharing.Sum(s => s.Share) < c.LeastWidth;
        while (sharing.Find(GetsLess) is { } small)
        {
            rest -= small.LeastWidth;
            sharing.Remove(small);
        }
        var shares = sharing.Sum(c => c.Share);
        var laid = ImmutableArray.CreateBuilder<(ColumnSign, double, double)>(count);
        var at = 0.0;
        for (var i = 0; i < count; i++)
        {
            var column = Columns[i];
            // Where none shares what is left, the last one has it.
            var wide = sharing.Contains(column) ? rest * column.Share / shares
                : (column.Width ?? column.LeastWidth) + (shares == 0 && i == count - 1 ? rest : 0);
            if (count == 1) wide = width;
            laid.Add((column, rightToLeft ? left + width - at - wide : left + at, wide));
            at += wide;
        }
        return laid.DrainToImmutable();
    }
}
