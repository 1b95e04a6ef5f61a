using System.Collections.Immutable;
using Lectica.Frames;
using Lectica.Items;

namespace Lectica.States;

/// <summary>A text that shows on an item's row for a moment.</summary>
internal readonly record struct Flash(int Index, string Text, double Until);

/// <summary>What a notice offers to try again: a command that failed, on what is left of its items.</summary>
internal sealed record Retrial(string Id, bool IsWhole, ItemSet Items);

/// <summary>What shows for a moment: flashes on rows, and a brief notice.</summary>
/// <param name="Flashes">The flashes.</param>
/// <param name="Notice">The notice, or null.</param>
/// <param name="Step">What the notice offers to take back, or null.</param>
/// <param name="Retrial">What the notice offers to try again, or null.</param>
/// <param name="HeldSince">Since when the notice's time stands still, ms; null where it runs.</param>
internal sealed record Feedback(
    ImmutableArray<Flash> Flashes, BriefNotice? Notice, UndoStep? Step, Retrial? Retrial = null, double? HeldSince = null)
{
    public static Feedback Nothing { get; } = new([], null, null);

    /// <summary>When the first of it is over, ms.</summary>
    public double? Due
    {
        get
        {
            var next = HeldSince is null && Notice is { } notice ? notice.Until : double.PositiveInfinity;
            foreach (var flash in Flashes) next = Math.Min(next, flash.Until);
            return double.IsPositiveInfinity(next) ? null : next;
        }
    }

    public Feedback After(Edit edit) => Flashes.IsEmpty && Retrial is null ? this : this with
    {
        Flashes = [.. Flashes.Select(f => f with { Index = edit.Apply(f.Index) }).Where(f => f.Index >= 0)],
        Retrial = Retrial is null ? null : Retrial with { Items = edit.Apply(Retrial.Items) },
    };

    /// <summary>What is left of it at a time.</summary>
    public Feedback At(double time)
    {
        return Due <= time ? Left(time) : this;
    }

    private Feedback Left(double time)
    {
        ImmutableArray<Flash> flashes = [.. Flashes.Where(f => f.Until > time)];
        return HeldSince is null && Notice?.Until <= time ? new(flashes, null, null) : this with { Flashes = flashes };
    }
}
