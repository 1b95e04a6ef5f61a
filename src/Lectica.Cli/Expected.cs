using System.Text.Json;
using System.Text.Json.Serialization;
using Lectica.Testing;
using Lectica.Tracing;

namespace Lectica.Cli;

/// <summary>
/// What a played script is expected to end in; docs/schemas/expectation.schema.json describes it. Fields that are not given are not
/// compared; an empty text means none.
/// </summary>
internal sealed record ExpectedJson
{
    [JsonPropertyName("$schema")]
    public string? Schema { get; init; }
    public string[]? Tapped { get; init; }
    public string[]? Activated { get; init; }
    public string[]? Selected { get; init; }
    public string? Cursor { get; init; }
    public string? Anchor { get; init; }
    public string[]? Order { get; init; }
    public string[]? Source { get; init; }
    public bool? Selecting { get; init; }
    public Dictionary<string, string[]>? Marks { get; init; }
    public string? Open { get; init; }
    public string? Notice { get; init; }

    public static ExpectedJson Load(string path)
    {
        var bytes = Files.Read(path, "the expected end (JSON)");
        using var document = Files.ParseJson(path, bytes);
        Files.RefuseNulls(path, bytes, document.RootElement);
        try
        {
            return JsonSerializer.Deserialize(bytes, CliJson.Default.ExpectedJson)
                ?? throw new InputException(path, new(1, 1), "an expectation is a JSON object, not null.");
        }
        catch (JsonException e)
        {
            throw CliJson.Wrong(path, bytes, e);
        }
    }

    /// <summary>A line for each thing that is not as expected.</summary>
    public IEnumerable<string> Failures(Recorder recorder)
    {
        var state = recorder.End;
        (string Name, IReadOnlyList<string>? Wanted, IReadOnlyList<string> Found)[] all =
        [
            ("tapped", Tapped, recorder.Tapped), ("activated", Activated, recorder.Activated), ("selected", Selected, state.Selected),
            ("order", Order, state.Order), ("source", Source, state.Source),
            One("cursor", Cursor, state.Cursor), One("anchor", Anchor, state.Anchor), One("open", Open, state.Open),
                One("notice", Notice, recorder.Notice),
            ("selecting", Selecting is null ? null : [$"{Selecting}"], [$"{state.Selecting}"]),
            .. Marks?.Select(
                m => ($"mark {m.Key}", (IReadOnlyList<string>?)m.Value, state.Marks.GetValueOrDefault(m.Key) ?? ["no such mark"])) ?? [],
        ];
        foreach (var (name, wanted, found) in all)
            if (wanted is not null && !wanted.SequenceEqual(found))
                yield return $"{name}: expected {Short(wanted)}, found {Short(found)}";
    }

    private static (string, IReadOnlyList<string>?, IReadOnlyList<string>) One(string name, string? wanted, string? found) =>
        (name, wanted is null ? null : wanted.Length == 0 ? [] : [wanted], found is null ? [] : [found]);

    private static string Short(IReadOnlyList<string> keys) =>
        keys.Count == 0 ? "none" : string.Join(", ", keys.Take(10)) + (keys.Count > 10 ? $" and {keys.Count - 10} more" : "");
}
