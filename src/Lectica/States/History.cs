using System.Collections.Immutable;
using Lectica.Acts;
using Lectica.Items;

namespace Lectica.States;

/// <summary>
/// A step of the user's that can be taken back: what was done, as data, with the moment at which it was. It is applied to the list as it is
/// by then, and gives the step that takes it back again.
/// </summary>
internal abstract class UndoStep(string name)
{
    /// <summary>What it is called.</summary>
    public string Name { get; } = name;

    /// <summary>How many edits of the source had come before it.</summary>
    public long Made { get; set; }

    /// <summary>Whether it is a step, or has it among its parts.</summary>
    public virtual bool Covers(UndoStep step) => ReferenceEquals(this, step);

    /// <summary>Does it, as far as it still makes sense.</summary>
    /// <param name="kind">Whether something is taken back or done again.</param>
    /// <param name="inverse">The step that takes it back.</param>
    /// <returns>Why it was not done; null where it was.</returns>
    public abstract Refusal? Apply(ActKind kind, out UndoStep inverse);
}

/// <summary>What can be taken back, and done again; the last of each first in line.</summary>
internal sealed record History(ImmutableList<UndoStep> Done, ImmutableList<UndoStep> Undone)
{
    public static History Empty { get; } = new([], []);

    /// <summary>The name of the step that would be taken back, or null.</summary>
    public string? Name => Done.IsEmpty ? null : Done[^1].Name;

    /// <summary>With one more step done: what was undone before cannot be done again.</summary>
    public History With(UndoStep step, int depth)
    {
        var done = Done.Add(step);
        return new(done.Count > depth ? done.RemoveAt(0) : done, []);
    }

    /// <summary>With a step taken from one end and its inverse put at the other.</summary>
    public History Reversed(UndoStep step, UndoStep inverse, ActKind kind) =>
        kind == ActKind.Undo ? new(Done.Remove(step), Undone.Add(inverse)) : new(Done.Add(inverse), Undone.Remove(step));

    /// <summary>
    /// Without those that are more edits back than a moment is kept. They are in order, so that one look tells whether there are any.
    /// </summary>
    public History Since(long edits)
    {
        var first = edits - EditLog.Longest;
        return (Done.IsEmpty || Done[0].Made >= first) && (Undone.IsEmpty || Undone[0].Made >= first) ? this
            : new(Done.RemoveAll(s => s.Made < first), Undone.RemoveAll(s => s.Made < first));
    }

    /// <summary>Without a step, wherever it is.</summary>
    public History Without(UndoStep step) => new(Done.Remove(step), Undone.Remove(step));
}
