using System.Collections.Immutable;

namespace Lectica;

/// <summary>
/// What goes over the clipboard, or by a drag, to another program or comes from one: the same thing in one or more media types (RFC 6838),
/// and files.
/// </summary>
public sealed class TransferData
{
    /// <summary>The media type of plain text.</summary>
    public const string PlainText = "text/plain";

    /// <summary>The media type of HTML.</summary>
    public const string Html = "text/html";

    /// <summary>The media type of JSON.</summary>
    public const string Json = "application/json";

    /// <summary>Nothing.</summary>
    public static TransferData Empty { get; } =
        new(ImmutableSortedDictionary<string, string>.Empty.WithComparers(StringComparer.OrdinalIgnoreCase), []);

    private readonly ImmutableSortedDictionary<string, string> _texts;

    private TransferData(ImmutableSortedDictionary<string, string> texts, ImmutableArray<TransferFile> files) =>
        (_texts, Files) = (texts, files);

    /// <summary>Plain text.</summary>
    public static TransferData OfText(string text) => Empty.With(PlainText, text);

    /// <summary>Plain text, a line for each of some.</summary>
    public static TransferData OfLines(IEnumerable<string> lines) => OfText(string.Join('\n', lines));

    /// <summary>The files that come along, in order; the clipboard and drags of a list's own have none.</summary>
    public ImmutableArray<TransferFile> Files { get; }

    /// <summary>The media types that it is there in as text.</summary>
    public IEnumerable<string> Types => _texts.Keys;

    /// <summary>The plain text; null where there is none.</summary>
    public string? Text => this[PlainText];

    /// <summary>The text in a media type; null where there is none.</summary>
    public string? this[string mediaType] => _texts.GetValueOrDefault(mediaType);

    /// <summary>Whether there is nothing in it.</summary>
    public bool IsEmpty => Files.IsEmpty && _texts.Values.All(t => t.Length == 0);

    /// <summary>The same in one more media type.</summary>
    /// <exception cref="ArgumentException">The media type is not of the form <c>type/subtype</c>.</exception>
    public TransferData With(string mediaType, string text)
    {
        ArgumentNullException.ThrowIfNull(mediaType);
        ArgumentNullException.ThrowIfNull(text);
        if (mediaType.Split('/') is not [{ Length: > 0 }, { Length: > 0 }])
            throw new ArgumentException($"'{mediaType}' is not a media type, such as '{PlainText}'.", nameof(mediaType));
        return new(_texts.SetItem(mediaType, text), Files);
    }

    /// <summary>The same with files.</summary>
    public TransferData With(IEnumerable<TransferFile> files) => new(_texts, [.. files]);
}

/// <summary>A file that was dropped or pasted.</summary>
/// <param name="name">Its name, without a path.</param>
/// <param name="mediaType">Its media type as whoever gave it says; empty where it does not.</param>
/// <param name="size">How many bytes it has.</param>
/// <param name="open">Opens it.</param>
public sealed class TransferFile(string name, string mediaType, long size, Func<CancellationToken, ValueTask<Stream>> open)
{
    /// <summary>Its name, without a path.</summary>
    public string Name { get; } = name;

    /// <summary>Its media type as whoever gave it says; empty where it does not.</summary>
    public string MediaType { get; } = mediaType;

    /// <summary>How many bytes it has, as whoever gave it says.</summary>
    public long Size { get; } = size;

    /// <summary>Opens it to be read once, from its beginning.</summary>
    public ValueTask<Stream> OpenAsync(CancellationToken cancellation = default) => open(cancellation);

    /// <summary>Reads it as text in UTF-8.</summary>
    /// <param name="mostBytes">A file that is larger is not read.</param>
    /// <param name="cancellation">Stops it.</param>
    /// <exception cref="IOException">It is larger, or cannot be read.</exception>
    public async Task<string> ReadTextAsync(long mostBytes = 1 << 20, CancellationToken cancellation = default)
    {
        if (Size > mostBytes) throw new IOException($"The file '{Name}' has {Size} bytes; no more than {mostBytes} are read.");
        await using var stream = await OpenAsync(cancellation).ConfigureAwait(false);
        using var reader = new StreamReader(stream);
        return await reader.ReadToEndAsync(cancellation).ConfigureAwait(false);
    }
}

/// <summary>What an app is asked before something comes in by a paste, or by a drag from outside, which tells its types alone.</summary>
public sealed class InsertQuestion(ImmutableArray<string> types, bool hasFiles, bool isDrop, int gap, string? section)
{
    /// <summary>The media types that it is there in.</summary>
    public ImmutableArray<string> Types { get; } = types;

    /// <summary>Whether there are files.</summary>
    public bool HasFiles { get; } = hasFiles;

    /// <summary>Whether it is dragged; else it is pasted.</summary>
    public bool IsDrop { get; } = isDrop;

    /// <summary>It would come just before the item of that index, or at the end.</summary>
    public int Gap { get; } = gap;

    /// <summary>The section that it would come into, by key; null in a list without.</summary>
    public string? Section { get; } = section;

    /// <summary>Whether it is there in a media type.</summary>
    public bool Has(string mediaType) => Types.Contains(mediaType, StringComparer.OrdinalIgnoreCase);
}
