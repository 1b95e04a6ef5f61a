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
            throw new InputException(file, TextPosition.Of(json, good),
                $"the byte 0x{json[good]:X2} is not UTF-8: save the file as UTF-8.");
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
    internal static Dictionary<string, TextPosition> PositionsOfEntries(ReadOnlySpan<byte> json)
    {
        var positions = new Dictionary<string, TextPosition>();
        int line = 1, seen = 0, begin = 0;
        foreach (var (at, path) in Values(json))
        {
            if (path[^1] != ']') continue;
            for (; seen < at; seen++)
                if (json[seen] == '\n') (line, begin) = (line + 1, seen + 1);
            positions[path] = new(line, at - begin + 1);
        }
        return positions;
    }

    /// <summary>Every value of a JSON text, in order: at which byte it begins, and its path.</summary>
    internal static ValueReader Values(ReadOnlySpan<byte> json) => new(json);

    internal ref struct ValueReader(ReadOnlySpan<byte> json)
    {
        private readonly Stack<(string Path, int Index)> _around = new();
        private Utf8JsonReader _reader =
            new(json, new() { CommentHandling = JsonCommentHandling.Skip, AllowTrailingCommas = true });

        private string _path = "$";

        public readonly (int At, string Path) Current => ((int)_reader.TokenStartIndex, _path);

        public readonly ValueReader GetEnumerator() => this;

        public bool MoveNext()
        {
            while (_reader.Read())
            {
                if (_reader.TokenType is JsonTokenType.EndObject or JsonTokenType.EndArray)
                {
                    _around.Pop();
                    continue;
                }
                if (_reader.TokenType == JsonTokenType.PropertyName)
                {
                    _path = $"{_around.Peek().Path}.{_reader.GetString()}";
                    continue;
                }
                if (_around.TryPeek(out var top) && top.Index >= 0)
                {
                    _around.Pop();
                    _around.Push((top.Path, top.Index + 1));
                    _path = $"{top.Path}[{top.Index}]";
                }
                if (_reader.TokenType == JsonTokenType.StartObject) _around.Push((_path, -1));
                else if (_reader.TokenType == JsonTokenType.StartArray) _around.Push((_path, 0));
                return true;
            }
            return false;
        }
    }
}
