using System.Text.Json;
using System.Text.Unicode;

namespace Lectica.Testing;

/// <summary>JSON as text: what a parser takes, and what reads its words would stumble over later.</summary>
public static class JsonText
{
    /// <summary>
    /// Throws where a file is not UTF-8, or a text in it has half of a surrogate pair; what else is wrong with it, its parser says. Cost:
    /// one pass.
    /// </summary>
    /// <param name="file">What errors call it.</param>
    /// <param name="json">One JSON value, or several one after the other.</param>
    /// <exception cref="InputException">So it is; the error says where.</exception>
    public static void Check(string file, ReadOnlySpan<byte> json)
    {
        if (!Utf8.IsValid(json))
        {
            var good = 0;
            while (System.Text.Rune.DecodeFromUtf8(json[good..], out _, out var length) == System.Buffers.OperationStatus.Done)
                good += length;
            throw new InputException(file, TextPosition.Of(json, good), $"the byte 0x{json[good]:X2} is not UTF-8: save the file as UTF-8.");
        }
        var reader = new Utf8JsonReader(
            json, new() { CommentHandling = JsonCommentHandling.Skip, AllowTrailingCommas = true, AllowMultipleValues = true });
        try
        {
            while (reader.Read())
                if (reader is { TokenType: JsonTokenType.String or JsonTokenType.PropertyName, ValueIsEscaped: true })
                    _ = reader.GetString();
        }
        catch (InvalidOperationException)
        {
            throw new InputException(file, TextPosition.Of(json, reader.TokenStartIndex),
                "the text has half of a surrogate pair: \\uD800 to \\uDBFF needs one of \\uDC00 to \\uDFFF after it.");
        }
        catch (JsonException)
        {
            // Its parser says what.
        }
    }

    /// <summary>
    /// Where every entry of every list stands, by its path, such as <c>$.actions[0].actions[3]</c>. Cost: one pass; a text that is no JSON
    /// ends it.
    /// </summary>
    internal static Dictionary<string, TextPosition> PlacesOfEntries(ReadOnlySpan<byte> json)
    {
        var places = new Dictionary<string, TextPosition>();
        var reader = new Utf8JsonReader(json, new() { CommentHandling = JsonCommentHandling.Skip, AllowTrailingCommas = true });
        var steps = new Stack<(string Path, int Index)>();
        var current = "$";
        int line = 1, seen = 0, begin = 0;
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
                var at = (int)reader.TokenStartIndex;
                for (; seen < at; seen++)
                    if (json[seen] == '\n') (line, begin) = (line + 1, seen + 1);
                places[current] = new(line, at - begin + 1);
            }
            if (reader.TokenType == JsonTokenType.StartObject) steps.Push((current, -1));
            else if (reader.TokenType == JsonTokenType.StartArray) steps.Push((current, 0));
        }
        return places;
    }
}
