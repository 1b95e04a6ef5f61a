using Lectica.Acts;
using Lectica.Items;

namespace Lectica.Selecting;

/// <summary>
/// Dragging over rows to select each one passed. All from the first item to the pointer join the selection, or leave it, in tiles those of
/// the rectangle between the two; going back gives them back what they were.
/// </summary>
/// <param name="Before">The selection when it began.</param>
/// <param name="First">The item it began on.</param>
/// <param name="Last">The item it has come to.</param>
/// <param name="Joins">Whether they join; otherwise they leave.</param>
internal sealed record Sweep(Selection Before, int First, int Last, bool Joins)
{
    /// <summary>The same after an edit of the source, or null where the item that it began on has left.</summary>
    public Sweep? After(Edit edit) =>
        edit.Apply(First) is >= 0 and var first ? new(Before.After(edit), first, edit.Nearest(Last), Joins) : null;

    /// <summary>The selection that it makes, or why there is none. Cost: set operations.</summary>
    /// <param name="passed">The items that it has passed.</param>
    /// <param name="rules">What may be selected.</param>
    public SelectionOutcome Outcome(ItemSet passed, SelectionRules rules)
    {
        passed = passed.Except(rules.Disabled);
        var items = Joins ? Before.Items.Union(passed) : Before.Items.Except(passed);
        return Selector.Propose(Before, items, First, Last, rules);
    }
}

/// <summary>How a marquee joins what was selected before.</summary>
internal enum MarqueeJoin
{
    /// <summary>Only what it covers is selected.</summary>
    Replace,

    /// <summary>What it covers joins.</summary>
    Add,

    /// <summary>What it covers changes sides.</summary>
    Toggle,
}

/// <summary>Dragging a rectangle from empty space: the rows that it touches are selected.</summary>
/// <param name="Before">The selection when it began.</param>
/// <param name="Join">How it joins it.</param>
/// <param name="FromX">Where it began, px from the left edge.</param>
/// <param name="FromY">Where it began, px from the top of the content.</param>
/// <param name="ToX">Where it has come to, px from the left edge.</param>
/// <param name="ToY">Where it has come to, px from the top of the content.</param>
internal sealed record Marquee(Selection Before, MarqueeJoin Join, double FromX, double FromY, double ToX, double ToY)
{
    /// <summary>The top, px from the top of the content.</summary>
    public double Top => Math.Min(FromY, ToY);

    /// <summary>The bottom, px from the top of the content.</summary>
    public double Bottom => Math.Max(FromY, ToY);

    /// <summary>The left, px.</summary>
    public double Left => Math.Min(FromX, ToX);

    /// <summary>The right, px.</summary>
    public double Right => Math.Max(FromX, ToX);

    /// <summary>The selection that it makes. Cost: set operations.</summary>
    /// <param name="covered">The items that it touches.</param>
    /// <param name="from">The first of them in the order on show; -1 for none.</param>
    /// <param name="to">The last of them; -1 for none.</param>
    /// <param name="rules">What may be selected.</param>
    public SelectionOutcome Outcome(ItemSet covered, int from, int to, SelectionRules rules)
    {
        covered = covered.Except(rules.Disabled);
        var items = Join switch
        {
            MarqueeJoin.Add => Before.Items.Union(covered),
            MarqueeJoin.Toggle => Before.Items.SymmetricExcept(covered),
            _ => covered,
        };
        // The row that the pointer came from is nearest to where it began.
        return Selector.Propose(
            Before, items, from < 0 ? Before.Anchor : FromY <= ToY ? from : to, to < 0 ? Before.Cursor : FromY <= ToY ? to : from, rules);
    }
}
