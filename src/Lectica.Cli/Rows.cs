using System.Text.Json;
using CsvHelper;
using Lectica.Testing;

namespace Lectica.Cli;

/// <summary>One row of a rows file: its key and its values in the order of the table's fields.</summary>
internal sealed record Row(string Key, string[] Values)
{
    /// <summary>What it was made of, where it is one of a database; else null.</summary>
    public object? Origin { get; init; }
}

/// <summary>The rows of a file, before anything is known of them but their fields.</summary>
/// <param name="File">What errors call the file.</param>
/// <param name="Fields">The names of the fields.</param>
/// <param name="Rows">The values of each row.</param>
/// <param name="PlaceOf">Where a row stands in the file.</param>
internal sealed record RowTable(string File, IReadOnlyList<string> Fields, List<string[]> Rows, Func<int, TextPosition> PlaceOf)
{
    /// <summary>The number of a field.</summary>
    /// <exception cref="InputException">There is none of that name.</exception>
    public int FieldAt(string name, string file, Func<TextPosition> placeOf)
    {
        for (var i = 0; i < Fields.Count; i++)
            if (Fields[i] == name) return i;
        throw new InputException(file, placeOf(), Fields.Count == 0
            ? $"unknown field '{name}': the rows in {File} have no fields."
            : $"unknown field '{name}': the rows in {File} have {string.Join(", ", Fields)}. Did you " +
            $"mean '{Spelling.Nearest(name, Fields)}'?");
    }

    /// <summary>Reads a rows file: CSV with a header line, a JSON list of objects, or JSON Lines, by its ending.</summary>
    public static RowTable Load(string path, Progress progress)
    {
        var bytes = Files.Read(path, "rows (CSV, JSON or JSON Lines)");
        return Path.GetExtension(path).ToLowerInvariant() switch
        {
            ".csv" => Csv(path, bytes, progress),
            ".json" => Json(path, bytes),
            ".jsonl" or ".ndjson" => JsonLines(path, bytes, progress),
            var other => throw new InputException(path, null, $"rows are read from .csv, .json or .jsonl files, not '{other}'."),
        };
    }

    private static RowTable Csv(string path, byte[] bytes, Progress progress)
    {
        var lines = new List<int>();
        var rows = new List<string[]>();
        var options = new CsvReaderOptions
        {
            Separator = ',',
            TrackLineNumbers = true,
            PoolStrings = true,
            DetectSeparatorHint = false,
            MalformedData = CsvMalformedDataHandling.Throw,
        };
        try
        {
            using var csv = CsvReader.Create(new MemoryStream(bytes), options, false);
            csv.ReadHeader();
            string[] fields = [.. csv.Headers];
            if (fields.Length == 0 || (fields.Length == 1 && fields[0].Length == 0))
                throw new InputException(path, new(1, 1), "the file is empty: CSV needs a header line with the names of its fields.");
            if (fields.GroupBy(f => f).FirstOrDefault(g => g.Count() > 1) is { } twice)
                throw new InputException(path, new(1, 1), $"two fields are called '{twice.Key}'; each needs a name of its own.");
            while (csv.Read())
            {
                if (csv.FieldCount != fields.Length)
                    throw new InputException(path, new((int)csv.LineNumber, 1),
                        $"the row has {csv.FieldCount} values, the header line {fields.Length} names; there must be one for each.");
                var values = new string[fields.Length];
                for (var i = 0; i < values.Length; i++) values[i] = csv.GetString(i);
                rows.Add(values);
                lines.Add((int)csv.LineNumber);
                if ((rows.Count & 4095) == 0) progress.Report("Reading rows", (double)csv.ByteOffset / bytes.Length);
            }
            return new(path, fields, rows, i => new(lines[i], 1));
        }
        catch (CsvFormatException e)
        {
            throw new InputException(path, e.ByteOffset > 0 ? TextPosition.Of(bytes, e.ByteOffset) : new((int)Math.Max(1, e.LineNumber), 1),
                $"not valid CSV (RFC 4180): {e.Message}");
        }
    }

    private static RowTable Json(string path, byte[] bytes)
    {
        using var document = Files.ParseJson(path, bytes);
        return FromArray(path, bytes, "$", document.RootElement);
    }

    /// <summary>Rows that stand in a list file itself, or in a file of their own.</summary>
    public static RowTable FromArray(string path, byte[] bytes, string at, JsonElement array)
    {
        TextPosition PositionOf(int i) => TextPosition.OfPath(bytes, $"{at}[{i}]");
        if (array.ValueKind != JsonValueKind.Array)
            throw new InputException(path, TextPosition.OfPath(bytes, at), "rows are a JSON list of objects.");
        var table = new Builder();
        foreach (var element in array.EnumerateArray())
            if (!table.TryAdd(element))
                throw new InputException(path, PositionOf(table.Rows.Count),
                    "each row is a JSON object of texts, numbers and truth values.");
        return new(path, table.Fields, table.Finish(), PositionOf);
    }

    private static RowTable JsonLines(string path, byte[] bytes, Progress progress)
    {
        var table = new Builder();
        var lines = new List<int>();
        var start = 0;
        for (var line = 1; start < bytes.Length; line++)
        {
            var length = bytes.AsSpan(start).IndexOf((byte)'\n');
            if (length < 0) length = bytes.Length - start;
            var text = bytes.AsMemory(start, length);
            if (!text.Span.Trim(" \t\r"u8).IsEmpty)
            {
                try
                {
                    using var document = JsonDocument.Parse(text);
                    if (!table.TryAdd(document.RootElement))
                        throw new InputException(path, new(line, 1), "each line is a JSON object of texts, numbers and truth values.");
                }
                catch (JsonException e)
                {
                    throw new InputException(
                        path, new(line, (int)(e.BytePositionInLine ?? 0) + 1), InputException.Malformed(path, e).Problem);
                }
                lines.Add(line);
            }
            start += length + 1;
            if ((line & 4095) == 0) progress.Report("Reading rows", (double)start / bytes.Length);
        }
        return new(path, table.Fields, table.Finish(), i => new(lines[i], 1));
    }

    private sealed class Builder
    {
        public List<string> Fields { get; } = [];
        public List<string[]> Rows { get; } = [];
        private readonly Dictionary<string, int> _at = [];

        public bool TryAdd(JsonElement element)
        {
            if (element.ValueKind != JsonValueKind.Object) return false;
            var values = new string[Fields.Count];
            foreach (var property in element.EnumerateObject())
            {
                if (!_at.TryGetValue(property.Name, out var field))
                {
                    _at[property.Name] = field = Fields.Count;
                    Fields.Add(property.Name);
                }
                if (field >= values.Length) Array.Resize(ref values, Fields.Count);
                string? value = property.Value.ValueKind switch
                {
                    JsonValueKind.String => property.Value.GetString(),
                    JsonValueKind.Number => property.Value.GetRawText(),
                    JsonValueKind.True => "true",
                    JsonValueKind.False => "false",
                    JsonValueKind.Null => "",
                    _ => null,
                };
                if (value is null) return false;
                values[field] = value;
            }
            Rows.Add(values);
            return true;
        }

        /// <summary>Fields that a row does not have are empty.</summary>
        public List<string[]> Finish()
        {
            for (var i = 0; i < Rows.Count; i++)
            {
                var values = Rows[i];
                if (values.Length < Fields.Count) Array.Resize(ref values, Fields.Count);
                for (var f = 0; f < values.Length; f++) values[f] ??= "";
                Rows[i] = values;
            }
            return Rows;
        }
    }
}
