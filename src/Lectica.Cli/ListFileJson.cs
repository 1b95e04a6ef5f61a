using System.Text.Json;
using System.Text.Json.Serialization;
using Lectica.Testing;

namespace Lectica.Cli;

/// <summary>A list file as it is written; docs/schemas/list.schema.json describes it.</summary>
internal sealed record ListFileJson
{
    [JsonPropertyName("$schema")]
    public string? Schema { get; init; }
    public string? Title { get; init; }
    public JsonElement? Rows { get; init; }
    public string? Key { get; init; }
    public string? Label { get; init; }
    public string? Detail { get; init; }
    public string? Picture { get; init; }
    public string? Search { get; init; }
    public Dictionary<string, JsonElement>? DisabledWhen { get; init; }
    public Dictionary<string, JsonElement>? ShowWhen { get; init; }
    public Dictionary<string, JsonElement>? PinnedWhen { get; init; }
    public string? Mode { get; init; }
    public int? Limit { get; init; }
    public bool AlwaysSelecting { get; init; }
    public bool EndsSelectingWhenEmpty { get; init; }
    public bool KeepsHiddenSelected { get; init; }
    public string? Keys { get; init; }
    public Dictionary<string, string[]>? Chords { get; init; }
    public string? Mod { get; init; }
    public bool RightToLeft { get; init; }
    public string? Culture { get; init; }
    public string[]? Parts { get; init; }
    public double? RowHeight { get; init; }
    public TilesJson? Tiles { get; init; }
    public StripJson? Strip { get; init; }
    public OutlineJson? Outline { get; init; }
    public ColumnJson[]? Columns { get; init; }
    public ViewportJson? Viewport { get; init; }
    public CommandJson[]? Commands { get; init; }
    public MarkJson[]? Marks { get; init; }
    public SectionsJson? Sections { get; init; }
    public string? SortBy { get; init; }
    public string? SpaceMark { get; init; }
    public string? LongPress { get; init; }
    public bool MayMove { get; init; }
    public bool ReducedMotion { get; init; }
    public Dictionary<string, JsonElement>? Thresholds { get; init; }
    public string[]? Selected { get; init; }
    public string? Loading { get; init; }
    public string? Failed { get; init; }

    /// <summary>Reads a list file.</summary>
    public static ListFileJson Read(string path, byte[] bytes, JsonElement root)
    {
        Files.RefuseNulls(path, bytes, root);
        try
        {
            return JsonSerializer.Deserialize(bytes, CliJson.Default.ListFileJson)
                ?? throw new InputException(path, new(1, 1), "a list file is a JSON object, not null.");
        }
        catch (JsonException e)
        {
            throw CliJson.Wrong(path, bytes, e);
        }
    }
}

/// <summary>A command of a list file: what it says, where it shows, and which of the things that the tool can do it does.</summary>
internal sealed record CommandJson
{
    public string? Id { get; init; }
    public string? Label { get; init; }
    public string? Icon { get; init; }
    public string? Role { get; init; }
    public string? Group { get; init; }
    public string? Submenu { get; init; }
    public string? SubmenuIcon { get; init; }
    public string[]? Chords { get; init; }
    public string[]? Shows { get; init; }
    public bool SwipesThrough { get; init; }
    public int Order { get; init; }
    public int Priority { get; init; }
    public string? Does { get; init; }
    public string? Notice { get; init; }
}

/// <summary>Sections of a list file: by a field's value, or by whether a mark is on.</summary>
internal sealed record SectionsJson(string? By = null, string[]? Order = null, Dictionary<string, string>? Titles = null,
    string? Empty = null, string[]? Collapsed = null, double LingerTime = 0);

internal sealed record MarkJson(
    string? Name = null, string? Label = null, string? Look = null, string? Icon = null,
        Dictionary<string, JsonElement>? OnWhen = null);

/// <summary>How a strip of a list file lies, px.</summary>
internal sealed record StripJson(double ItemWidth = 132, double HeadingWidth = 112);

/// <summary>How tiles of a list file lie, px.</summary>
internal sealed record TilesJson(double LeastWidth = 160, double Height = 176, double Gap = 8);

/// <summary>Levels of a list file: the field that has the key of the row which a row lies below, empty on the first level.</summary>
internal sealed record OutlineJson(string? Parent = null, int Open = 1);

/// <summary>A column of a list file: the field that it shows, and how.</summary>
internal sealed record ColumnJson(
    string? Field = null, string? Label = null, double? Width = null, double Share = 1, double LeastWidth = 104,
    string? Align = null, bool Sorts = true);

internal sealed record ViewportJson(double Width = 400, double Height = 520, double ScrollTop = 0);

[JsonSourceGenerationOptions(PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase,
    UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow, ReadCommentHandling = JsonCommentHandling.Skip,
    AllowTrailingCommas = true)]
[JsonSerializable(typeof(ListFileJson))]
[JsonSerializable(typeof(ExpectedJson))]
internal sealed partial class CliJson : JsonSerializerContext
{
    // The message says of which type it is, at its end.
    private static List<string> FieldsOf(string message) =>
        ((Type[])[typeof(ListFileJson), typeof(ExpectedJson), typeof(CommandJson), typeof(MarkJson), typeof(SectionsJson),
        typeof(ViewportJson), typeof(TilesJson), typeof(StripJson), typeof(OutlineJson), typeof(ColumnJson)])
            .Where(t => message.Contains($"'{t.FullName}'", StringComparison.Ordinal))
            .SelectMany(t => Default.GetTypeInfo(t)!.Properties).Select(p => p.Name).Where(n => n[0] != '$').ToList();

    /// <summary>What is wrong with a file of the tool's, from what the parser says of it.</summary>
    public static InputException Wrong(string path, byte[] bytes, JsonException e)
    {
        if (e.Message.Contains("could not be mapped", StringComparison.Ordinal))
        {
            var name = e.Message.Split('\'')[1];
            var at = e.Path is { } p && p.EndsWith(name, StringComparison.Ordinal) ? p : $"{e.Path ?? "$"}.{name}";
            var known = FieldsOf(e.Message);
            var hint = known.Count == 0 ? "" : $" Did you mean '{Spelling.Nearest(name, known)}'? There are {string.Join(", ", known)}.";
            return new(path, TextPosition.OfPath(bytes, at), $"unknown field '{name}'.{hint}");
        }
        if (e.InnerException is not null || e.Message.Contains("could not be converted", StringComparison.Ordinal))
            return new(path, TextPosition.OfPath(bytes, e.Path ?? "$"),
                $"the value of '{e.Path}' is not of the right type. The schema in docs/schemas says which it must be.");
        return InputException.Malformed(path, e);
    }
}
