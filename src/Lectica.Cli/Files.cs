using System.Text.Json;
using Lectica.Testing;

namespace Lectica.Cli;

/// <summary>Reading and writing files with errors that say what is wrong with which.</summary>
internal static class Files
{
    public static byte[] Read(string path, string what) => InputFile.Read(path, $"a file with {what}");

    public static JsonDocument ParseJson(string path, byte[] bytes)
    {
        try
        {
            return JsonDocument.Parse(bytes, new() { CommentHandling = JsonCommentHandling.Skip, AllowTrailingCommas = true });
        }
        catch (JsonException e)
        {
            throw InputException.Malformed(path, e);
        }
    }

    /// <summary>Writes a file whole or not at all: beside its place first, then into it.</summary>
    public static void Write(string path, Action<Stream> write)
    {
        var full = Path.GetFullPath(path);
        var partial = $"{full}.{Environment.ProcessId}.partial";
        try
        {
            Directory.CreateDirectory(Path.GetDirectoryName(full)!);
            using (var stream = File.Create(partial)) write(stream);
            File.Move(partial, full, overwrite: true);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            throw new InputException(path, null, $"cannot be written: {e.Message}");
        }
        finally
        {
            if (File.Exists(partial)) File.Delete(partial);
        }
    }
}
