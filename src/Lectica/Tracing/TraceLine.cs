using System.Text.Json;
using System.Text.Json.Serialization;

namespace Lectica.Tracing;

/// <summary>
/// One line of a trace. A trace tells all stages of what happened, in order: <c>input</c>, <c>gesture</c>, <c>act</c>, <c>change</c>, and
/// at the end of a played script one <c>state</c>. Fields that a stage does not have are null and are not written. The published schema is
/// docs/schemas/trace.schema.json.
/// </summary>
public sealed record TraceLine
{
    /// <summary>input, gesture, act, change or state.</summary>
    public required string Stage { get; init; }

    /// <summary>When, ms.</summary>
    public double? T { get; init; }

    /// <summary>Of an input: the W3C event type, such as <c>pointerdown</c> or <c>keydown</c>.</summary>
    public string? Type { get; init; }

    /// <summary>Of a pointer input or a gesture: the contact.</summary>
    public int? Pointer { get; init; }

    /// <summary>mouse, pen or touch.</summary>
    public string? PointerType { get; init; }

    /// <summary>px from the list's left edge.</summary>
    public double? X { get; init; }

    /// <summary>px from the top of the viewport.</summary>
    public double? Y { get; init; }

    /// <summary>The button that changed.</summary>
    public int? Button { get; init; }

    /// <summary>The modifier keys that were down.</summary>
    public IReadOnlyList<string>? Modifiers { get; init; }

    /// <summary>Of a key input: its W3C <c>key</c> value.</summary>
    public string? KeyName { get; init; }

    /// <summary>Of a gesture: what it is.</summary>
    public string? Gesture { get; init; }

    /// <summary>Of a gesture: whether it was recognised.</summary>
    public bool? Recognised { get; init; }

    /// <summary>Of a gesture that goes on: begin, end or cancel.</summary>
    public string? Phase { get; init; }

    /// <summary>Of a gesture that was not recognised, or a tray that closed: by which limit.</summary>
    public string? Limit { get; init; }

    /// <summary>What was measured, in the limit's unit.</summary>
    public double? Measured { get; init; }

    /// <summary>What it would have had to keep to, or to reach.</summary>
    public double? Bound { get; init; }

    /// <summary>Of an act: what it is.</summary>
    public string? Act { get; init; }

    /// <summary>
    /// Of a change: what changed: tapped, selection, activated, cursor, source, rows, scroll, selecting, tray, menu, move, mark, collapsed,
    /// expanded, command, command-failed, command-cancelled, more, announced, haptic.
    /// </summary>
    public string? Change { get; init; }

    /// <summary>The key of the item.</summary>
    public string? Key { get; init; }

    /// <summary>The index of the item.</summary>
    public int? Index { get; init; }

    /// <summary>The row's number.</summary>
    public int? Row { get; init; }

    /// <summary>The part of the row.</summary>
    public string? Part { get; init; }

    /// <summary>Of an act: the rule that gave it.</summary>
    public string? Rule { get; init; }

    /// <summary>Why, in numbers where there are any.</summary>
    public string? Reason { get; init; }

    /// <summary>Of an act: why it was refused, in a word; absent where it was done.</summary>
    public string? Refused { get; init; }

    /// <summary>Of a selection change: the keys that joined, at most the first 1,000.</summary>
    public IReadOnlyList<string>? Added { get; init; }

    /// <summary>Of a selection change: how many joined.</summary>
    public int? AddedCount { get; init; }

    /// <summary>Of a selection change: the keys that left, at most the first 1,000.</summary>
    public IReadOnlyList<string>? Removed { get; init; }

    /// <summary>Of a selection change: how many left.</summary>
    public int? RemovedCount { get; init; }

    /// <summary>Of a move: the gap, before the move.</summary>
    public int? Gap { get; init; }

    /// <summary>Of a move or a command: the keys of the items, at most the first 1,000.</summary>
    public IReadOnlyList<string>? Moved { get; init; }

    /// <summary>Of a scroll: px above the viewport.</summary>
    public double? ScrollTop { get; init; }

    /// <summary>Of a state: the keys of the selected items, in source order.</summary>
    public IReadOnlyList<string>? Selected { get; init; }

    /// <summary>Of a state: the key of the item the keyboard is on; absent where there is none.</summary>
    public string? Cursor { get; init; }

    /// <summary>Of a state: the key of the item at which a range starts; absent where there is none.</summary>
    public string? Anchor { get; init; }

    /// <summary>Of a state: for each mark the keys of the items that have it.</summary>
    public IReadOnlyDictionary<string, IReadOnlyList<string>>? Marks { get; init; }

    /// <summary>Of a state: the keys of the items on show, in the order of their rows.</summary>
    public IReadOnlyList<string>? Order { get; init; }

    /// <summary>Of a state: the keys of all items, in the order of the source.</summary>
    public IReadOnlyList<string>? Source { get; init; }

    /// <summary>Of a state: what is open, a menu or a tray; absent where nothing is.</summary>
    public string? Open { get; init; }

    /// <summary>Of a state: whether taps toggle.</summary>
    public bool? Selecting { get; init; }

    // Keys and labels as they are, not as escapes: a trace is no part of a web page.
    private static readonly TraceJson Readable = new(new JsonSerializerOptions
    {
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
        Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    });

    /// <summary>The line as JSON, without a line end.</summary>
    public string ToJson() => JsonSerializer.Serialize(this, Readable.TraceLine);

    /// <summary>Reads a line.</summary>
    /// <exception cref="JsonException">It is no such line.</exception>
    public static TraceLine Parse(string json) =>
        JsonSerializer.Deserialize(json, TraceJson.Default.TraceLine)
        ?? throw new JsonException("A trace line is a JSON object, not null.");
}

[JsonSourceGenerationOptions(PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase,
    DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull, UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow)]
[JsonSerializable(typeof(TraceLine))]
internal sealed partial class TraceJson : JsonSerializerContext;
