namespace Lectica.States;

/// <summary>Items are being brought in, in slices.</summary>
/// <param name="Due">When the next slice is, ms.</param>
internal sealed record Filling(double Due);
