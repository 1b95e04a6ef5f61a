using System.Text.Json;
using System.Text.Json.Serialization;

namespace Lectica.Tracing;

/// <summary>
/// One line of a trace. A trace tells all stages of what happened, in order: <c>input</c>, <c>gesture</c>, <c>act</c>, <c>change</c>, and
/// at the end of a played script one <c>state</c>. Each stage has a type of its own; the field <c>stage</c> of the written line says which.
/// What a line does not know is null and is not written. The published schema is docs/schemas/trace.schema.json.
/// </summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "stage")]
[JsonDerivedType(typeof(TracedInput), "input")]
[JsonDerivedType(typeof(TracedGesture), "gesture")]
[JsonDerivedType(typeof(TracedAct), "act")]
[JsonDerivedType(typeof(TracedChange), "change")]
[JsonDerivedType(typeof(TracedState), "state")]
public abstract class TraceLine
{
    // A line is read and written by this library alone, so no other kind of line can turn up.
    private protected TraceLine()
    {
    }

    /// <summary>When, ms.</summary>
    [JsonPropertyOrder(-2)]
    public double? T { get; init; }

    // Keys and labels as they are, not as escapes: a trace is not part of a web page.
    private static readonly TraceJson Readable = new(new JsonSerializerOptions(TraceJson.Default.Options)
    {
        Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    });

    /// <summary>The line as JSON, without a line end.</summary>
    public string ToJson() => JsonSerializer.Serialize(this, Readable.TraceLine);

    /// <summary>Reads a line.</summary>
    /// <exception cref="JsonException">It is no such line.</exception>
    public static TraceLine Parse(string json)
    {
        try
        {
            return JsonSerializer.Deserialize(json, TraceJson.Default.TraceLine)
                ?? throw new JsonException("A trace line is a JSON object, not null.");
        }
        catch (NotSupportedException)
        {
            throw new JsonException("A trace line has a 'stage', which is input, gesture, act, change or state.");
        }
    }
}

/// <summary>What came in: a sample of a pointer, or a key.</summary>
public sealed class TracedInput : TraceLine
{
    /// <summary>The W3C event type, such as <c>pointerdown</c> or <c>keydown</c>.</summary>
    public required string Type { get; init; }

    /// <summary>Of a pointer: the contact.</summary>
    public int? Pointer { get; init; }

    /// <summary>Of a pointer: mouse, pen or touch.</summary>
    public string? PointerType { get; init; }

    /// <summary>Of a pointer: px from the list's left edge.</summary>
    public double? X { get; init; }

    /// <summary>Of a pointer: px from the top of the viewport.</summary>
    public double? Y { get; init; }

    /// <summary>The button that changed.</summary>
    public int? Button { get; init; }

    /// <summary>The modifier keys that were down.</summary>
    public IReadOnlyList<string>? Modifiers { get; init; }

    /// <summary>Of a key: its W3C <c>key</c> value.</summary>
    public string? KeyName { get; init; }
}

/// <summary>What came of an input: on which item, and why.</summary>
public abstract class TracedOutcome : TraceLine
{
    private protected TracedOutcome()
    {
    }

    /// <summary>The key of the item.</summary>
    public string? Key { get; init; }

    /// <summary>The index of the item.</summary>
    public int? Index { get; init; }

    /// <summary>The row's number.</summary>
    public int? Row { get; init; }

    /// <summary>The part of the row.</summary>
    public string? Part { get; init; }

    /// <summary>Why, in numbers where there are any.</summary>
    public string? Reason { get; init; }
}

/// <summary>A verdict on what a pointer did: a gesture that was recognised, or one that was not.</summary>
public sealed class TracedGesture : TracedOutcome
{
    /// <summary>Which gesture.</summary>
    [JsonPropertyOrder(-1)]
    public required string Gesture { get; init; }

    /// <summary>Whether it was recognised.</summary>
    [JsonPropertyOrder(-1)]
    public required bool Recognised { get; init; }

    /// <summary>Of a gesture that goes on: begin, end or cancel.</summary>
    [JsonPropertyOrder(-1)]
    public string? Phase { get; init; }

    /// <summary>The contact.</summary>
    [JsonPropertyOrder(-1)]
    public required int Pointer { get; init; }

    /// <summary>mouse, pen or touch.</summary>
    [JsonPropertyOrder(-1)]
    public required string PointerType { get; init; }

    /// <summary>Of a gesture that was not recognised: by which criterion.</summary>
    public string? Criterion { get; init; }

    /// <summary>What was measured, in the criterion's unit.</summary>
    public double? Measured { get; init; }

    /// <summary>What it would have had to keep to, or to reach.</summary>
    public double? Bound { get; init; }
}

/// <summary>What a gesture or a key means under the list's rules.</summary>
public sealed class TracedAct : TracedOutcome
{
    /// <summary>Which act; null where no rule gave one.</summary>
    [JsonPropertyOrder(-1)]
    public string? Act { get; init; }

    /// <summary>The rule that gave it.</summary>
    public string? Rule { get; init; }

    /// <summary>Why it was refused, in a word; null where it was done.</summary>
    public string? Refused { get; init; }
}

/// <summary>What became of the list, or what the app was told.</summary>
public sealed class TracedChange : TracedOutcome
{
    /// <summary>What changed, such as <c>selection</c>. The schema lists all there is.</summary>
    [JsonPropertyOrder(-1)]
    public required string Change { get; init; }

    /// <summary>What caused it.</summary>
    public string? Rule { get; init; }

    /// <summary>Of a tray that closed: by which criterion.</summary>
    public string? Criterion { get; init; }

    /// <summary>Of a tray that closed: what was measured, in the criterion's unit.</summary>
    public double? Measured { get; init; }

    /// <summary>Of a tray that closed: what it would have had to reach.</summary>
    public double? Bound { get; init; }

    /// <summary>Of a selection or a mark: the keys that joined, at most the first 1,000.</summary>
    public IReadOnlyList<string>? Added { get; init; }

    /// <summary>Of a selection or a mark: how many joined.</summary>
    public int? AddedCount { get; init; }

    /// <summary>Of a selection or a mark: the keys that left, at most the first 1,000.</summary>
    public IReadOnlyList<string>? Removed { get; init; }

    /// <summary>Of a selection or a mark: how many left.</summary>
    public int? RemovedCount { get; init; }

    /// <summary>Of a move: the gap, before the move.</summary>
    public int? Gap { get; init; }

    /// <summary>Of a move or a command: the keys of the items, at most the first 1,000.</summary>
    public IReadOnlyList<string>? Moved { get; init; }

    /// <summary>Of a scroll: px above the viewport.</summary>
    public double? ScrollTop { get; init; }

    /// <summary>Of a menu or a tray: which is open; null where it closed.</summary>
    public string? Open { get; init; }

    /// <summary>Of a change of selecting: whether taps toggle.</summary>
    public bool? Selecting { get; init; }
}

/// <summary>The list as it is, by key.</summary>
public sealed class TracedState : TraceLine
{
    /// <summary>The keys of the selected items, in source order.</summary>
    public required IReadOnlyList<string> Selected { get; init; }

    /// <summary>The key of the item the keyboard is on; null where there is none.</summary>
    public string? Cursor { get; init; }

    /// <summary>The key of the item at which a range starts; null where there is none.</summary>
    public string? Anchor { get; init; }

    /// <summary>For each mark the keys of the items that have it.</summary>
    public required IReadOnlyDictionary<string, IReadOnlyList<string>> Marks { get; init; }

    /// <summary>The keys of the items on show, in the order of their rows.</summary>
    public required IReadOnlyList<string> Order { get; init; }

    /// <summary>The keys of all items, in the order of the source.</summary>
    public required IReadOnlyList<string> Source { get; init; }

    /// <summary>What is open, a menu or a tray; null where nothing is.</summary>
    public string? Open { get; init; }

    /// <summary>Whether taps toggle.</summary>
    public required bool Selecting { get; init; }
}

[JsonSourceGenerationOptions(PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase,
    DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull, UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow,
    AllowOutOfOrderMetadataProperties = true)]
[JsonSerializable(typeof(TraceLine))]
internal sealed partial class TraceJson : JsonSerializerContext;
