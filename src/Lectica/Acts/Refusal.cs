namespace Lectica.Acts;

/// <summary>Why an act was not done.</summary>
public enum RefusalKind
{
    /// <summary>No rule takes this gesture or key here.</summary>
    NoRule,

    /// <summary>There is nothing in the list, or nothing shows.</summary>
    EmptyList,

    /// <summary>The act needs an item and has none.</summary>
    NoItem,

    /// <summary>There is no such item.</summary>
    OutsideList,

    /// <summary>The item is disabled.</summary>
    Disabled,

    /// <summary>The filter hides the item.</summary>
    Hidden,

    /// <summary>The list's selection mode does not allow it.</summary>
    Mode,

    /// <summary>More would be selected than the limit allows.</summary>
    Limit,

    /// <summary>One item must stay selected.</summary>
    Required,

    /// <summary>A command cannot be done to these items.</summary>
    NotAvailable,

    /// <summary>The same, or another command, is running on some of the items.</summary>
    Running,

    /// <summary>What was to be taken back, or done again, no longer makes sense.</summary>
    OutOfDate,

    /// <summary>The list is sorted: there is no place that an item could be moved to.</summary>
    Sorted,

    /// <summary>The item is pinned, or a pinned one would be shifted.</summary>
    Pinned,

    /// <summary>The app does not allow it.</summary>
    NotAllowed,

    /// <summary>The app's own code threw an exception.</summary>
    Failed,

    /// <summary>The item has not been read yet.</summary>
    NotRead,
}

/// <summary>Why an act was not done, in a word for programs and a sentence for developers; users read <c>Phrases.Refused</c>.</summary>
public sealed record Refusal(RefusalKind Kind, string Reason)
{
    /// <summary>How many may be selected at most, where it is for that.</summary>
    public int? Most { get; init; }
}
