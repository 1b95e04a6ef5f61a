namespace Lectica.Items;

/// <summary>What comes after the items that a list has.</summary>
public enum MoreKind
{
    /// <summary>Nothing is said of it: there is no footer.</summary>
    NotSaid,

    /// <summary>There is more, and the app is asked for it as the end comes near.</summary>
    ToCome,

    /// <summary>More is on its way.</summary>
    Loading,

    /// <summary>More could not be had; it can be tried again.</summary>
    Failed,

    /// <summary>There is no more.</summary>
    None,
}

/// <summary>What comes after the items that a list has, as its last row says.</summary>
/// <param name="Kind">What is with it.</param>
/// <param name="Text">What the row says; the phrases' own words where null.</param>
public sealed record More(MoreKind Kind, string? Text = null)
{
    /// <summary>Nothing is said of it.</summary>
    public static More NotSaid { get; } = new(MoreKind.NotSaid);

    /// <summary>There is more.</summary>
    public static More ToCome { get; } = new(MoreKind.ToCome);

    /// <summary>More is on its way.</summary>
    public static More Loading { get; } = new(MoreKind.Loading);

    /// <summary>There is no more.</summary>
    public static More None { get; } = new(MoreKind.None);

    /// <summary>More could not be had.</summary>
    public static More Failed(string? text = null) => new(MoreKind.Failed, text);
}
