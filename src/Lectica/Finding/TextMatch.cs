using System.Globalization;

namespace Lectica.Finding;

/// <summary>Compares typed characters with items by the rules of a culture, ignoring case, accents and width.</summary>
public sealed class TextMatch(CultureInfo culture)
{
    private readonly CompareInfo _compare = culture.CompareInfo;

    /// <summary>Whether a text begins with a prefix. A prefix of nothing matches nothing.</summary>
    public bool Begins(string text, string prefix) =>
        prefix.Length > 0
        && _compare.IsPrefix(
        text, prefix,
            CompareOptions.IgnoreCase | CompareOptions.IgnoreNonSpace | CompareOptions.IgnoreWidth | CompareOptions.IgnoreKanaType);

    /// <summary>
    /// Looks through up to <paramref name="slice"/> rows from <paramref name="from"/> on, round the end, for at most
    /// <paramref name="left"/> rows in all; the text of a row that may not be found is null.
    /// </summary>
    /// <returns>The row, or -1; and where to go on, with how many rows are left.</returns>
    internal (int Row, int Next, int Left) Search(Func<int, string?> textOf, int rows, int from, int left, int slice, string prefix)
    {
        ArgumentNullException.ThrowIfNull(textOf);
        var here = Math.Min(left, slice);
        for (var i = 0; i < here; i++)
        {
            var row = (int)(((long)from + i) % rows);
            if (textOf(row) is { } text && Begins(text, prefix)) return (row, row, 0);
        }
        return (-1, rows == 0 ? 0 : (int)(((long)from + here) % rows), left - here);
    }
}
