namespace Lectica.Shell;

/// <summary>What a list knows of how many items there are in a source that is not in memory.</summary>
internal enum SourceLength
{
    /// <summary>Nothing yet.</summary>
    Unknown,

    /// <summary>All: the source has said it, or was read to its end before it could.</summary>
    Counted,

    /// <summary>The source does not say; after what has been read there may be more.</summary>
    Endless,

    /// <summary>Such a source has been read to its end.</summary>
    Ended,
}
