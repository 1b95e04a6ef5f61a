namespace Lectica.Layout;

/// <summary>By which column a list is sorted.</summary>
/// <param name="Column">The column's name.</param>
/// <param name="IsDescending">Whether it goes down.</param>
public sealed record ColumnSort(string Column, bool IsDescending = false);
