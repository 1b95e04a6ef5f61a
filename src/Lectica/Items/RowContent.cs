namespace Lectica.Items;

/// <summary>What a row says of its item. Two that say the same are equal.</summary>
public readonly record struct RowContent
{
    // Most rows say nothing more, and a screen full of them is made at every step of scrolling.
    private readonly Further? _further;

    /// <summary>What a row says of its item.</summary>
    /// <param name="label">The main line.</param>
    /// <param name="detail">A second, quieter line.</param>
    /// <param name="picture">The name of a small picture.</param>
    /// <param name="accessibleName">What a screen reader says.</param>
    /// <param name="searchText">What finding by typing compares.</param>
    public RowContent(string label, string? detail = null, string? picture = null, string? accessibleName = null, string? searchText = null)
    {
        (Label, Detail) = (label, detail);
        _further = Further.Of(picture, accessibleName, searchText);
    }

    /// <summary>The main line. A list without a content function takes the item's <c>ToString()</c>.</summary>
    public string Label { get; init; }

    /// <summary>A second, quieter line.</summary>
    public string? Detail { get; init; }

    /// <summary>The name of a small picture; the host that draws knows where to find it.</summary>
    public string? Picture
    {
        get => _further?.Picture;
        init => _further = Further.Of(value, AccessibleName, SearchText);
    }

    /// <summary>What a screen reader says; the label and detail where null.</summary>
    public string? AccessibleName
    {
        get => _further?.AccessibleName;
        init => _further = Further.Of(Picture, value, SearchText);
    }

    /// <summary>What finding by typing compares; the label where null.</summary>
    public string? SearchText
    {
        get => _further?.SearchText;
        init => _further = Further.Of(Picture, AccessibleName, value);
    }

    /// <summary>What a screen reader says.</summary>
    public string SpokenName => AccessibleName ?? (Detail is null ? Label : $"{Label}, {Detail}");

    /// <summary>What finding by typing compares.</summary>
    public string TypedName => SearchText ?? Label;

    private sealed record Further(string? Picture, string? AccessibleName, string? SearchText)
    {
        public static Further? Of(string? picture, string? accessibleName, string? searchText) =>
            picture is null && accessibleName is null && searchText is null ? null : new(picture, accessibleName, searchText);
    }
}
