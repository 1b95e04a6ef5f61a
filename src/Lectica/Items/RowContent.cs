namespace Lectica.Items;

/// <summary>What a row says of its item.</summary>
/// <param name="Label">The main line. A list without a content function takes the item's <c>ToString()</c>.</param>
/// <param name="Detail">A second, quieter line.</param>
/// <param name="Picture">The name of a small picture; the host that draws knows where to find it.</param>
/// <param name="AccessibleName">What a screen reader says; the label and detail where null.</param>
/// <param name="SearchText">What finding by typing compares; the label where null.</param>
public readonly record struct RowContent(
    string Label, string? Detail = null, string? Picture = null, string? AccessibleName = null, string? SearchText = null)
{
    /// <summary>What a screen reader says.</summary>
    public string SpokenName => AccessibleName ?? (Detail is null ? Label : $"{Label}, {Detail}");

    /// <summary>What finding by typing compares.</summary>
    public string TypedName => SearchText ?? Label;
}
