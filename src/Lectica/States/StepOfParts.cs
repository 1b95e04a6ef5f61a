using Lectica.Acts;

namespace Lectica.States;

/// <summary>Several steps that are taken back together, the last first: all that a command has had the list do.</summary>
internal sealed class StepOfParts : UndoStep
{
    private readonly IReadOnlyList<UndoStep> _parts;

    /// <param name="name">What they are called together.</param>
    /// <param name="parts">The steps, in the order in which they were done; one or more.</param>
    public StepOfParts(string name, IReadOnlyList<UndoStep> parts) : base(name)
    {
        _parts = parts;
        Made = parts.Min(p => p.Made);
    }

    public override bool Covers(UndoStep step) => base.Covers(step) || _parts.Any(part => part.Covers(step));

    /// <summary>Parts that make no sense any more are left out, as long as others do; where one must wait, none is done.</summary>
    public override Refusal? Apply(ActKind kind, out UndoStep inverse)
    {
        inverse = this;
        var (done, missed) = (new List<UndoStep>(), (Refusal?)null);
        foreach (var part in _parts.Reverse())
        {
            if (part.Apply(kind, out var back) is not { } refusal) done.Add(back);
            else if (refusal.Kind is RefusalKind.OutOfDate or RefusalKind.NoItem) missed ??= refusal;
            else
            {
                foreach (var undone in Enumerable.Reverse(done)) undone.Apply(kind, out _);
                return refusal;
            }
        }
        if (done.Count == 0) return missed;
        inverse = new StepOfParts(Name, done);
        return null;
    }
}
