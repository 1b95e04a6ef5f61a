namespace Lectica.Items;

/// <summary>A gap between the items on show.</summary>
/// <param name="Index">It is just before the item of that index, or after the last one.</param>
/// <param name="Section">The section that it is in, from 0; -1 in a list without sections.</param>
/// <param name="Level">How deep it is in an outline, from 0; -1 in a list without levels.</param>
internal readonly record struct Gap(int Index, int Section = -1, int Level = -1);
