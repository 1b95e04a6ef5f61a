namespace Lectica.Swiping;

/// <summary>
/// Where something is as a function of time: it begins at <paramref name="From"/> and comes to rest at <paramref name="To"/>, fast first
/// and then slower (a cubic ease-out). A host asks as often as it draws; nothing needs to be told that it is over.
/// </summary>
/// <param name="From">px.</param>
/// <param name="To">px.</param>
/// <param name="Start">When it begins, ms on the samples' clock.</param>
/// <param name="Duration">How long it takes, ms; 0 where it is at rest from the start, as with reduced motion.</param>
public readonly record struct Motion(double From, double To, double Start, double Duration)
{
    /// <summary>At rest.</summary>
    public static Motion At(double offset) => new(offset, offset, 0, 0);

    /// <summary>When it comes to rest, ms.</summary>
    public double End => Start + Duration;

    /// <summary>Where it is at a time, ms on the samples' clock.</summary>
    public double OffsetAt(double time)
    {
        if (!(time < End)) return To;
        var left = 1 - (Math.Max(0, time - Start) / Duration);
        return To + ((From - To) * left * left * left);
    }
}
