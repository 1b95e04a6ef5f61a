using System.Text.Json;
using Lectica.Storage;
using Lectica.Testing;

namespace Lectica.Cli;

/// <summary>Reading and writing files with errors that say what is wrong with which.</summary>
internal static class Files
{
    /// <summary>
    /// A file by its path; one of the samples, which lie in <c>examples/data</c>, is found beside the tool where it is not there: so that
    /// the examples in the help run anywhere.
    /// </summary>
    public static string Locate(string path)
    {
        const string samples = "examples/data/";
        if (File.Exists(path) || !path.StartsWith(samples, StringComparison.Ordinal)) return path;
        var beside = Path.Combine(AppContext.BaseDirectory, "data", path[samples.Length..]);
        return File.Exists(beside) ? beside : path;
    }

    public static byte[] Read(string path, string what) => InputFile.Read(path, $"a file with {what}");

    public static JsonDocument ParseJson(string path, byte[] bytes)
    {
        JsonText.Check(path, bytes);
        try
        {
            return JsonDocument.Parse(bytes, new() { CommentHandling = JsonCommentHandling.Skip, AllowTrailingCommas = true });
        }
        catch (JsonException e)
        {
            throw InputException.Malformed(path, e);
        }
    }

    /// <summary>Throws where a list has an entry that is null.</summary>
    public static void RefuseNulls(string path, byte[] bytes, JsonElement value, string at = "$")
    {
        if (value.ValueKind == JsonValueKind.Array)
        {
            var i = 0;
            foreach (var entry in value.EnumerateArray())
            {
                var place = $"{at}[{i++}]";
                if (entry.ValueKind == JsonValueKind.Null)
                    throw new InputException(
                        path, TextPosition.OfPath(bytes, place), $"the entry {place} is null: leave it out, or give it a value.");
                RefuseNulls(path, bytes, entry, place);
            }
        }
        else if (value.ValueKind == JsonValueKind.Object)
        {
            // Rows may have fields without a value.
            foreach (var property in value.EnumerateObject())
                if (at != "$" || property.Name != "rows") RefuseNulls(path, bytes, property.Value, $"{at}.{property.Name}");
        }
    }

    /// <summary>Writes a file whole or not at all, or a device or pipe as it is.</summary>
    public static void Write(string path, Action<Stream> write)
    {
        if (string.IsNullOrWhiteSpace(path))
            throw new InputException("the file to write", null, "its path is empty; give the path of a file.");
        try
        {
            WholeFile.Write(path, write);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            throw new InputException(path, null, $"cannot be written: {e.Message}");
        }
    }
}
