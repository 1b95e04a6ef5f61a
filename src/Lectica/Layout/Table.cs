using System.Collections.Immutable;

namespace Lectica.Layout;

/// <summary>A column as it is drawn.</summary>
internal sealed record ColumnSign(string Name, string Label, double? Width, double Share, bool AlignsEnd);

/// <summary>The columns that rows have, and by which the list is sorted.</summary>
internal sealed record Table(ImmutableArray<ColumnSign> Columns, ColumnSort? Sort)
{
    // What shares the rest says nothing where it is narrower: the last ones give way.
    private const double Least = 104;

    public static Table None { get; } = new([], null);

    /// <summary>Where columns lie across a row's body: as many from the first on as have room.</summary>
    /// <param name="left">Where the body begins, px.</param>
    /// <param name="width">Its width, px.</param>
    /// <param name="rightToLeft">Whether the first is at the right.</param>
    public ImmutableArray<(ColumnSign Column, double Left, double Width)> Lay(double left, double width, bool rightToLeft)
    {
        if (Columns.IsEmpty) return [];
        var count = Columns.Length;
        double Needs(int n) => Columns.Take(n).Sum(c => c.Width ?? Least);
        while (count > 1 && Needs(count) > width) count--;
        var fixedWidth = Columns.Take(count).Sum(c => c.Width ?? 0);
        var shares = Columns.Take(count).Where(c => c.Width is null).Sum(c => c.Share);
        var rest = Math.Max(0, width - fixedWidth);
        var laid = ImmutableArray.CreateBuilder<(ColumnSign, double, double)>(count);
        var at = 0.0;
        for (var i = 0; i < count; i++)
        {
            var column = Columns[i];
            // Where none shares what is left, the last one has it.
            var wide = column.Width is { } own ? own + (shares == 0 && i == count - 1 ? rest : 0) : rest * column.Share / shares;
            if (count == 1) wide = width;
            laid.Add((column, rightToLeft ? left + width - at - wide : left + at, wide));
            at += wide;
        }
        return laid.DrainToImmutable();
    }
}
