using System.Text.Json;
using Lectica.Testing;
using Lectica.Tracing;

namespace Lectica.Cli;

/// <summary>What a played script is expected to end in; fields that are not given are not compared.</summary>
internal sealed record ExpectedJson
{
    public string[]? Tapped { get; init; }
    public string[]? Activated { get; init; }
    public string[]? Selected { get; init; }
    public string? Cursor { get; init; }
    public string? Anchor { get; init; }
    public string[]? Order { get; init; }
    public string[]? Source { get; init; }
    public bool? Selecting { get; init; }

    public static ExpectedJson Load(string path)
    {
        var bytes = Files.Read(path, "the expected end (JSON)");
        try
        {
            return JsonSerializer.Deserialize(bytes, CliJson.Default.ExpectedJson) ?? throw new InputException(path, new(1, 1), "an expectation is a JSON object, not null.");
        }
        catch (JsonException e)
        {
            throw ListFile.Wrong(path, bytes, e);
        }
    }

    /// <summary>A line for each thing that is not as expected.</summary>
    public IEnumerable<string> Failures(IReadOnlyList<TraceLine> trace)
    {
        var state = trace[^1];
        IReadOnlyList<string> Told(string change) => [.. trace.Where(l => l.Stage == "change" && l.Change == change).Select(l => l.Key!)];
        (string Name, IReadOnlyList<string>? Wanted, IReadOnlyList<string> Found)[] all =
        [
            ("tapped", Tapped, Told("tapped")), ("activated", Activated, Told("activated")), ("selected", Selected, state.Selected!),
            ("order", Order, state.Order!), ("source", Source, state.Source!),
            ("cursor", Cursor is null ? null : [Cursor], [state.Cursor ?? "none"]), ("anchor", Anchor is null ? null : [Anchor], [state.Anchor ?? "none"]),
            ("selecting", Selecting is null ? null : [$"{Selecting}"], [$"{state.Selecting}"]),
        ];
        foreach (var (name, wanted, found) in all)
            if (wanted is not null && !wanted.SequenceEqual(found))
                yield return $"{name}: expected {Short(wanted)}, found {Short(found)}";
    }

    private static string Short(IReadOnlyList<string> keys) =>
        keys.Count == 0 ? "none" : string.Join(", ", keys.Take(10)) + (keys.Count > 10 ? $" and {keys.Count - 10} more" : "");
}
