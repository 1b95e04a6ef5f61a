using System.Collections.Immutable;
using Lectica.Acts;

namespace Lectica.Swiping;

/// <summary>An edge of a row, in reading direction: the leading one is on the left, in a right-to-left list on the right.</summary>
public enum Edge
{
    /// <summary>Where reading begins.</summary>
    Leading,

    /// <summary>Where it ends.</summary>
    Trailing,
}

/// <summary>A command in a tray.</summary>
/// <param name="Name">By which the app knows it; unique in its list.</param>
/// <param name="Label">What it says.</param>
/// <param name="SwipesThrough">Whether a row that is swiped through to the arming line invokes it.</param>
/// <param name="Icon">The name of its icon, or null.</param>
/// <param name="Role">What kind of thing it does.</param>
internal sealed record TrayEntry(
    string Name, string Label, bool SwipesThrough = false, string? Icon = null, CommandRole Role = CommandRole.Neutral);

/// <summary>The commands that swiping a row uncovers, from each edge inward.</summary>
internal sealed record Trays
{
    /// <summary>No trays: rows do not swipe.</summary>
    public static Trays None { get; } = new();

    /// <summary>Those at the leading edge, the outermost first.</summary>
    public ImmutableArray<TrayEntry> Leading { get; init; } = [];

    /// <summary>Those at the trailing edge, the outermost first.</summary>
    public ImmutableArray<TrayEntry> Trailing { get; init; } = [];

    /// <summary>Whether there are any.</summary>
    public bool Any => Leading.Length + Trailing.Length > 0;

    /// <summary>Those at an edge.</summary>
    public ImmutableArray<TrayEntry> At(Edge edge) => edge == Edge.Leading ? Leading : Trailing;

    /// <summary>The command that swiping through at an edge invokes, or null.</summary>
    public TrayEntry? Through(Edge edge) => At(edge).FirstOrDefault(e => e.SwipesThrough);

    /// <summary>Throws where two commands have one name, or two at one edge are swiped through to.</summary>
    /// <exception cref="ArgumentException">So it is; the message says which.</exception>
    public void Validate()
    {
        if (Leading.Concat(Trailing).GroupBy(e => e.Name).FirstOrDefault(g => g.Count() > 1) is { } twice)
            throw new ArgumentException($"Two tray commands have the name '{twice.Key}'; each needs its own.");
        foreach (var edge in (Edge[])[Edge.Leading, Edge.Trailing])
            if (At(edge).Count(e => e.SwipesThrough) > 1)
                throw new ArgumentException(
                    $"At the {edge.ToString().ToLowerInvariant()} edge " +
                        $"{string.Join(" and ", At(edge).Where(e => e.SwipesThrough).Select(e => $"'{e.Name}'"))} are both swiped " +
                            $"through to; only one can be.");
    }
}
