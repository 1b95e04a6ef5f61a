using Lectica.Frames;

namespace Lectica.Blazor;

/// <summary>What a row's template draws from.</summary>
/// <param name="Item">The item.</param>
/// <param name="Row">The row as the frame has it.</param>
public sealed record RowContext<TItem>(TItem Item, RowFrame Row);
