using System.Collections.Immutable;
using Lectica.Items;

namespace Lectica.States;

/// <summary>A run of a command that is not over.</summary>
/// <param name="Id">The command's id.</param>
/// <param name="IsWhole">Whether it is done to the list as a whole.</param>
/// <param name="Items">The items that it is done to, as far as they are still there.</param>
/// <param name="Token">What the runner knows it by.</param>
internal sealed record CommandRun(string Id, bool IsWhole, ItemSet Items, object Token)
{
    public static ImmutableList<CommandRun> After(ImmutableList<CommandRun> runs, Edit edit) =>
        runs.IsEmpty ? runs : [.. runs.Select(r => r with { Items = edit.Apply(r.Items) })];
}
