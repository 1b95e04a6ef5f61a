namespace Lectica.Testing;

/// <summary>A position in a text: line and column, both from 1.</summary>
public readonly record struct TextPosition(int Line, int Column)
{
    /// <summary>The position of a byte of UTF-8 text. Columns count bytes.</summary>
    public static TextPosition Of(ReadOnlySpan<byte> text, long at)
    {
        var before = text[..(int)Math.Min(at, text.Length)];
        return new(before.Count((byte)'\n') + 1, before.Length - before.LastIndexOf((byte)'\n'));
    }

    /// <summary>
    /// Where a value stands in a JSON text, by its path, such as <c>$.actions[0].type</c>; the nearest value around it where there is none.
    /// </summary>
    public static TextPosition OfPath(ReadOnlySpan<byte> json, string path)
    {
        long best = 0;
        var bestLength = 0;
        foreach (var (at, where) in JsonText.Values(json))
            if (where.Length > bestLength && path.StartsWith(where, StringComparison.Ordinal)
                && (path.Length == where.Length || path[where.Length] is '.' or '['))
                (best, bestLength) = (at, where.Length);
        return Of(json, best);
    }

    /// <summary>Such as <c>3:14</c>.</summary>
    public override string ToString() => $"{Line}:{Column}";
}
