namespace Lectica.Layout;

/// <summary>The rows whose height is not the usual one.</summary>
internal sealed class OddRows
{
    private readonly int[] _rows;
    private readonly double[] _heights;

    /// <summary>By how much all those before each one are higher than usual together, px; one more for all of them.</summary>
    private readonly double[] _extra;

    private OddRows(int[] rows, double[] heights, double[] extra) => (_rows, _heights, _extra) = (rows, heights, extra);

    /// <summary>Rows with heights of their own; null where there are none. Cost: their number.</summary>
    /// <param name="rows">The rows, from the top, each once, with their heights in px, more than 0.</param>
    /// <param name="usual">The usual height, px.</param>
    public static OddRows? Of(IReadOnlyList<(int Row, double Height)> rows, double usual)
    {
        if (rows.Count == 0) return null;
        var odd = new OddRows(new int[rows.Count], new double[rows.Count], new double[rows.Count + 1]);
        for (var i = 0; i < rows.Count; i++)
        {
            (odd._rows[i], odd._heights[i]) = rows[i];
            odd._extra[i + 1] = odd._extra[i] + rows[i].Height - usual;
        }
        return odd;
    }

    /// <summary>By how much the odd rows before a row are higher than usual, px; negative where they are lower.</summary>
    internal double ExtraBefore(int row)
    {
        var at = Array.BinarySearch(_rows, row);
        return _extra[at >= 0 ? at : ~at];
    }

    /// <summary>The height of a row, px; null where it is the usual one.</summary>
    internal double? HeightOf(int row) => Array.BinarySearch(_rows, row) is >= 0 and var at ? _heights[at] : null;

    /// <summary>The last odd row whose top is not below a place, or -1; its top and height in px, and the next odd row after it.</summary>
    internal (int Row, double Top, double Height, int Next) LastAbove(double y, double usual)
    {
        int low = 0, high = _rows.Length;
        while (low < high)
        {
            var middle = (low + high) / 2;
            if ((_rows[middle] * usual) + _extra[middle] <= y) low = middle + 1;
            else high = middle;
        }
        var next = low < _rows.Length ? _rows[low] : int.MaxValue;
        return low == 0 ? (-1, 0, 0, next) : (_rows[low - 1], (_rows[low - 1] * usual) + _extra[low - 1], _heights[low - 1], next);
    }
}
