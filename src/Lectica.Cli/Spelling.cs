namespace Lectica.Cli;

/// <summary>What somebody meant who has misspelt a name.</summary>
internal static class Spelling
{
    /// <summary>The known name that is nearest, by Levenshtein's edit distance; the same but for its case first.</summary>
    public static string Nearest(string name, IReadOnlyList<string> known) =>
        known.FirstOrDefault(k => string.Equals(k, name, StringComparison.OrdinalIgnoreCase)) ?? known.MinBy(k => Distance(k, name))!;

    private static int Distance(string a, string b)
    {
        var row = Enumerable.Range(0, b.Length + 1).ToArray();
        for (var i = 1; i <= a.Length; i++)
        {
            var diagonal = row[0]++;
            for (var j = 1; j <= b.Length; j++)
                (diagonal, row[j]) = (row[j], Math.Min(Math.Min(row[j], row[j - 1]) + 1, diagonal + (a[i - 1] == b[j - 1] ? 0 : 1)));
        }
        return row[^1];
    }
}
