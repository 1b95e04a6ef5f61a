using System.Collections.Immutable;
using Lectica.Items;

namespace Lectica.States;

/// <summary>A run of a command that is not over.</summary>
/// <param name="Id">The command's id.</param>
/// <param name="IsWhole">Whether it is done to the list as a whole.</param>
/// <param name="Items">The items that it is done to, as far as they are still there.</param>
/// <param name="Label">What the command says.</param>
/// <param name="Token">What the runner knows it by.</param>
internal sealed record CommandRun(string Id, bool IsWhole, ItemSet Items, string Label, object Token)
{
    /// <summary>How much of it is done, from 0 to 1; null where that is not known.</summary>
    public double? Progress { get; init; }

    /// <summary>Whether it was asked to stop, and has not yet.</summary>
    public bool IsCancelled { get; init; }

    /// <summary>Whether it is being done to any of these items, or to all of the list.</summary>
    public bool IsAt(ItemSet items) => IsWhole || !Items.Intersect(items).IsEmpty;

    public static ImmutableList<CommandRun> After(ImmutableList<CommandRun> runs, Edit edit) =>
        [.. runs.Select(r => r with { Items = edit.Apply(r.Items) })];
}
