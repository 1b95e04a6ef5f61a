using System.Collections.Immutable;
using Lectica.Frames;
using Lectica.Items;

namespace Lectica.States;

/// <summary>A text that shows on an item's row for a moment.</summary>
internal readonly record struct Flash(int Index, string Text, double Until);

/// <summary>What shows for a moment: flashes on rows, and a brief notice.</summary>
/// <param name="Flashes">The flashes.</param>
/// <param name="Notice">The notice, or null.</param>
/// <param name="Step">What the notice offers to take back, or null.</param>
internal sealed record Feedback(ImmutableArray<Flash> Flashes, BriefNotice? Notice, UndoStep? Step)
{
    public static Feedback Nothing { get; } = new([], null, null);

    /// <summary>When the first of it is over, ms.</summary>
    public double? Due
    {
        get
        {
            var next = Notice?.Until ?? double.PositiveInfinity;
            foreach (var flash in Flashes) next = Math.Min(next, flash.Until);
            return double.IsPositiveInfinity(next) ? null : next;
        }
    }

    public Feedback After(Edit edit) => Flashes.IsEmpty ? this
        : this with { Flashes = [.. Flashes.Select(f => f with { Index = edit.Apply(f.Index) }).Where(f => f.Index >= 0)] };

    /// <summary>What is left of it at a time.</summary>
    public Feedback At(double time)
    {
        return Due <= time ? Left(time) : this;
    }

    private Feedback Left(double time)
    {
        ImmutableArray<Flash> flashes = [.. Flashes.Where(f => f.Until > time)];
        return Notice?.Until <= time ? new(flashes, null, null) : this with { Flashes = flashes };
    }
}
