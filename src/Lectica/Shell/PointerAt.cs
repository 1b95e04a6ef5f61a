namespace Lectica.Shell;

/// <summary>
/// Where the pointer of the stroke is. It comes with the samples and is not part of the state: it changes with every sample, and what it
/// means is worked out from it and the state, so that a move that crosses nothing makes nothing new.
/// </summary>
internal sealed class PointerAt
{
    /// <summary>px from the viewport's left edge.</summary>
    public double X { get; set; }

    /// <summary>px from the viewport's top edge.</summary>
    public double Y { get; set; }
}
