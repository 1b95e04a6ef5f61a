using System.Text;
using System.Text.Json;

namespace Lectica.Testing;

/// <summary>A place in a text: line and column, both from 1.</summary>
public readonly record struct TextPosition(int Line, int Column)
{
    /// <summary>The place of a byte of UTF-8 text. Columns count bytes.</summary>
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
        var reader = new Utf8JsonReader(json, new() { CommentHandling = JsonCommentHandling.Skip, AllowTrailingCommas = true });
        var steps = new Stack<(string Path, int Index)>();
        var current = "$";
        long best = 0;
        var bestLength = 0;
        while (reader.Read())
        {
            if (reader.TokenType is JsonTokenType.EndObject or JsonTokenType.EndArray)
            {
                steps.Pop();
                continue;
            }
            if (reader.TokenType == JsonTokenType.PropertyName)
            {
                current = $"{steps.Peek().Path}.{reader.GetString()}";
                continue;
            }
            if (steps.TryPeek(out var top) && top.Index >= 0)
            {
                steps.Pop();
                steps.Push((top.Path, top.Index + 1));
                current = $"{top.Path}[{top.Index}]";
            }
            if (current.Length > bestLength && path.StartsWith(current, StringComparison.Ordinal)
                && (path.Length == current.Length || path[current.Length] is '.' or '['))
                (best, bestLength) = (reader.TokenStartIndex, current.Length);
            if (reader.TokenType == JsonTokenType.StartObject) steps.Push((current, -1));
            else if (reader.TokenType == JsonTokenType.StartArray) steps.Push((current, 0));
        }
        return Of(json, best);
    }

    /// <summary>Such as <c>3:14</c>.</summary>
    public override string ToString() => $"{Line}:{Column}";
}

/// <summary>A file that cannot be used as it is: says which, where, and what would be right.</summary>
public sealed class InputException(string file, TextPosition? place, string problem)
    : Exception($"{file}{(place is { } p ? $":{p}" : "")}: {problem}")
{
    /// <summary>The file.</summary>
    public string File { get; } = file;

    /// <summary>The place in it, where there is one.</summary>
    public TextPosition? Position { get; } = place;

    /// <summary>What is wrong, and what would be right.</summary>
    public string Problem { get; } = problem;

    /// <summary>For text that is no JSON.</summary>
    public static InputException Malformed(string file, JsonException error)
    {
        ArgumentNullException.ThrowIfNull(error);
        var message = error.Message;
        var cut = message.IndexOf(" LineNumber:", StringComparison.Ordinal);
        if (message.IndexOf(" Path:", StringComparison.Ordinal) is >= 0 and var path && (cut < 0 || path < cut)) cut = path;
        return new(file, new((int)(error.LineNumber ?? 0) + 1, (int)(error.BytePositionInLine ?? 0) + 1),
            "not valid JSON: " + (cut < 0 ? message : message[..cut]));
    }
}
