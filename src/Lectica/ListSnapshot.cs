using System.Text.Json;
using System.Text.Json.Serialization;
using Lectica.Layout;

namespace Lectica;

/// <summary>
/// What a list remembers over a reload or until another day, by key: what is selected, the marks that it keeps, the order in which items
/// were put, which sections are collapsed and which branches expanded, anchor and cursor, whether taps toggle, and the first row on show.
/// The published schema of its JSON is docs/schemas/snapshot.schema.json.
/// </summary>
public sealed record ListSnapshot
{
    /// <summary>Whether both remember the same.</summary>
    public bool Equals(ListSnapshot? other) =>
        ReferenceEquals(this, other) || (other is not null && ToJson(isIndented: false) == other.ToJson(isIndented: false));

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Version, Selected.Count, Cursor, Anchor, FirstRow);

    /// <summary>The version that this library writes and reads.</summary>
    public const int CurrentVersion = 1;

    /// <summary>The version of the format.</summary>
    [JsonRequired]
    public int Version { get; init; } = CurrentVersion;

    /// <summary>The keys of the selected items, in source order.</summary>
    [JsonRequired]
    public required IReadOnlyList<string> Selected { get; init; }

    /// <summary>
    /// Of a list that is not all in memory what is selected as the user said it, for <see cref="Selected"/>; null of one that is.
    /// </summary>
    public SnapshotMeaning? Meant { get; init; }

    /// <summary>The key of the item at which a range starts, or null.</summary>
    public string? Anchor { get; init; }

    /// <summary>The key of the item that the keyboard is on, or null.</summary>
    public string? Cursor { get; init; }

    /// <summary>Whether taps toggle.</summary>
    public bool Selecting { get; init; }

    /// <summary>
    /// For each mark that the list itself keeps the keys of the items that have it; null in a snapshot of a list without.
    /// </summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public IReadOnlyDictionary<string, IReadOnlyList<string>>? Marks { get; init; }

    /// <summary>The keys of all items in source order, where items have been moved since the source was shown; else null.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public IReadOnlyList<string>? Order { get; init; }

    /// <summary>The keys of the collapsed sections; null where there are none.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public IReadOnlyList<string>? Collapsed { get; init; }

    /// <summary>In an outline the keys of the expanded branches; null in a list without levels.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public IReadOnlyList<string>? Expanded { get; init; }

    /// <summary>The key of the section on whose heading the keyboard is, or null.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? CursorHeading { get; init; }

    /// <summary>By which column the list is sorted; null where by none.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public ColumnSort? Sort { get; init; }

    /// <summary>The key of the first item on show, or null where none shows.</summary>
    public string? FirstRow { get; init; }

    /// <summary>How far the first item on show is scrolled past the top, px.</summary>
    public double FirstRowOffset { get; init; }

    /// <summary>The snapshot as JSON, by lines for who reads it or in one for who stores it.</summary>
    public string ToJson(bool isIndented = true) =>
        JsonSerializer.Serialize(this, (isIndented ? SnapshotJson.Default : SnapshotJson.Dense).ListSnapshot);

    /// <summary>Reads a snapshot.</summary>
    /// <exception cref="FormatException">It is none, or of a version that this library does not know; the message says where and
    /// why.</exception>
    public static ListSnapshot Parse(string json)
    {
        ArgumentNullException.ThrowIfNull(json);
        try
        {
            return Checked(JsonSerializer.Deserialize(json, SnapshotJson.Default.ListSnapshot));
        }
        catch (JsonException e)
        {
            return Refuse(e);
        }
    }

    /// <summary>Reads a snapshot from JSON in UTF-8, in pieces of some 16 kB.</summary>
    /// <exception cref="FormatException">As <see cref="Parse"/>.</exception>
    public static async Task<ListSnapshot> ReadAsync(Stream stream, CancellationToken cancellation = default)
    {
        try
        {
            return Checked(await JsonSerializer.DeserializeAsync(stream, SnapshotJson.Default.ListSnapshot, cancellation)
                .ConfigureAwait(false));
        }
        catch (JsonException e)
        {
            return Refuse(e);
        }
    }

    private static ListSnapshot Checked(ListSnapshot? snapshot)
    {
        if (snapshot is null) throw new FormatException("A snapshot is a JSON object, not null.");
        if (snapshot.Version != CurrentVersion)
            throw new FormatException($"The snapshot is of version {snapshot.Version}; this library reads version {CurrentVersion}.");
        if (snapshot.Selected is null || snapshot.Selected.Contains(null!))
            throw new FormatException("'selected' must be a list of keys.");
        if (snapshot.Meant is { } meant
            && (meant.Terms is null || meant.Terms.Any(t =>
            t is null || (t.Key is null ? 0 : 1) + (t.From is null || t.To is null ? 0 : 1) + (t.Section is null ? 0 : 1) != 1)))
            throw new FormatException("'meant' must have terms, each with a key, with from and to, or with a section.");
        if (snapshot.Marks?.Any(m => m.Value is null || m.Value.Contains(null!)) == true)
            throw new FormatException("'marks' must give a list of keys for each mark.");
        if (snapshot.Order?.Contains(null!) == true) throw new FormatException("'order' must be a list of keys.");
        if (snapshot.Expanded?.Contains(null!) == true) throw new FormatException("'expanded' must be a list of keys.");
        if (!double.IsFinite(snapshot.FirstRowOffset)) throw new FormatException("'firstRowOffset' must be a finite number of px.");
        return snapshot;
    }

    private static ListSnapshot Refuse(JsonException e) =>
        throw new FormatException(
            "Not a snapshot: " +
                $"at line {e.LineNumber + 1}, column {e.BytePositionInLine + 1}: " +
                    $"{e.Message.Split(" Path:")[0].Split(" LineNumber:")[0]}", e);
}

/// <summary>What is selected of a list that is not all in memory: all items or none, and then term by term what is in or out.</summary>
/// <param name="All">Whether an item that no term is about is selected.</param>
/// <param name="Terms">The terms; of two about one item the later counts.</param>
public sealed record SnapshotMeaning([property: JsonRequired] bool All, [property: JsonRequired] IReadOnlyList<SnapshotTerm> Terms)
{
    /// <summary>Whether both have the same terms in the same order.</summary>
    public bool Equals(SnapshotMeaning? other) => other is not null && All == other.All && Terms.SequenceEqual(other.Terms);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(All, Terms.Count);
}

/// <summary>A term: an item, all from one item to another, or a section; by key.</summary>
/// <param name="In">Whether they are taken in; else out.</param>
/// <param name="Key">The key of one item.</param>
/// <param name="From">The key of the first item of an interval.</param>
/// <param name="To">The key of its last one.</param>
/// <param name="Section">The key of a section.</param>
public sealed record SnapshotTerm(
    [property: JsonRequired] bool In, string? Key = null, string? From = null, string? To = null, string? Section = null);

/// <summary>What became of a snapshot that was restored.</summary>
public sealed class RestoreReport(IReadOnlyList<string> missingKeys, Acts.Refusal? refusal, Acts.Refusal? orderRefusal = null)
{
    /// <summary>The keys of selected items that are not in the list any more, in the snapshot's order.</summary>
    public IReadOnlyList<string> MissingKeys { get; } = missingKeys;

    /// <summary>Why the selection was not restored, or null: such as more keys than the list's limit allows.</summary>
    public Acts.Refusal? Refusal { get; } = refusal;

    /// <summary>Why the order was not restored, or null: such as a source that cannot be written.</summary>
    public Acts.Refusal? OrderRefusal { get; } = orderRefusal;
}

// What is long is written and read in pieces, which only the metadata can.
[JsonSourceGenerationOptions(GenerationMode = JsonSourceGenerationMode.Metadata, PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase,
    DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
    UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow, WriteIndented = true, NewLine = "\n")]
[JsonSerializable(typeof(ListSnapshot))]
internal sealed partial class SnapshotJson : JsonSerializerContext
{
    private static SnapshotJson? _dense;

    public static SnapshotJson Dense => _dense ??= new(new(Default.Options) { WriteIndented = false });
}
