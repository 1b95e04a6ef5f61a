using System.Text.Json;

namespace Lectica.Testing;

/// <summary>A file that cannot be used as it is: says which, where, and what would be right.</summary>
public sealed class InputException(string file, TextPosition? position, string problem)
    : Exception($"{file}{(position is { } p ? $":{p}" : "")}: {problem}")
{
    /// <summary>The file.</summary>
    public string File { get; } = file;

    /// <summary>The position in it, where there is one.</summary>
    public TextPosition? Position { get; } = position;

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
