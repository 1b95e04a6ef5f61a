namespace Lectica.Items;

/// <summary>Why no item shows.</summary>
public enum NoticeKind
{
    /// <summary>The list has not been given a source yet.</summary>
    NoSource,

    /// <summary>The source has no items.</summary>
    Empty,

    /// <summary>The source has items, but the filter lets none through.</summary>
    NothingMatches,

    /// <summary>Items are on their way.</summary>
    Loading,

    /// <summary>Loading failed; it can be tried again.</summary>
    Failed,

    /// <summary>A section has no items, or none that the filter lets through.</summary>
    EmptySection,

    /// <summary>After the items: there is more.</summary>
    MoreToCome,

    /// <summary>After the items: more is on its way.</summary>
    MoreLoading,

    /// <summary>After the items: more could not be had; it can be tried again.</summary>
    MoreFailed,

    /// <summary>After the items: there is no more.</summary>
    NoMore,
}

/// <summary>A row that says why nothing shows.</summary>
public sealed record Notice(NoticeKind Kind, string Text);
