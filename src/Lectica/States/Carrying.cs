using System.Collections.Immutable;
using Lectica.Acts;
using Lectica.Frames;
using Lectica.Items;
using Lectica.Moving;

namespace Lectica.States;

/// <summary>What is taken up, here or over this list from another one.</summary>
internal sealed record Carrying
{
    /// <summary>Nothing.</summary>
    public static Carrying Nothing { get; } = new();

    /// <summary>The items that are taken up, and their gap.</summary>
    public GrabState? Grab { get; init; }

    /// <summary>Whether they are taken up without a pointer.</summary>
    public bool ByKeys { get; init; }

    /// <summary>Why they may not be dropped where they are; null where they may.</summary>
    public Refusal? NoDrop { get; init; }

    /// <summary>The key of the section that the gap is in.</summary>
    public string? Section { get; init; }

    /// <summary>The sections that opened since something was held over them, by key.</summary>
    public ImmutableArray<string> Opened { get; init; } = [];

    /// <summary>The collapsed section or branch that will open, and when, ms.</summary>
    public HeldOver? Hover { get; init; }

    /// <summary>The branches that opened since something was held over them.</summary>
    public ItemSet? OpenedBranches { get; init; }

    /// <summary>What was looked at before: an item, and how far it was past the top, px.</summary>
    public Eye? LookedAt { get; init; }

    /// <summary>Whether they are over another list.</summary>
    public bool IsAway { get; init; }

    /// <summary>Items of another list that are over this one.</summary>
    public Guest? Guest { get; init; }

    /// <summary>Whether this list's items are carried by keys or taps.</summary>
    public bool IsCarrying => ByKeys && Grab is not null;

    public Carrying After(Edit edit) => ReferenceEquals(this, Nothing) ? this : this with
    {
        Grab = Grab is { } grab ? grab.After(edit) ?? grab with { Items = ItemSet.None(edit.NewLength), Pressed = -1 } : null,
        Hover = Hover is { Branch: >= 0 } over ? over with { Branch = edit.Apply(over.Branch) } : Hover,
        OpenedBranches = OpenedBranches is { } opened ? edit.Apply(opened) : null,
        LookedAt = LookedAt is { } eye ? eye with { Index = edit.Nearest(eye.Index) } : null,
        Guest = Guest?.After(edit),
    };

    /// <summary>
    /// Items that hide leave what is grabbed, and its gap is one of the rows' as they are. Where nothing is left, or the view is sorted, it
    /// ends.
    /// </summary>
    public static Carrying Settle(ListState before, ListState now, in Settling how)
    {
        var carrying = now.Carrying;
        if (ReferenceEquals(carrying, Nothing) || (how.Edit is null && ReferenceEquals(before.Showing.Rows, now.Showing.Rows)))
            return carrying;
        var rows = now.Showing.Rows;
        if (carrying.Guest is { } guest) carrying = carrying with { Guest = guest.Settle(rows) };
        if (carrying.Grab is not { } grab) return carrying;
        var items = grab.Items.Intersect(now.Showing.Shown);
        if (items.IsEmpty || now.Showing.Order is not null)
            return carrying with { Grab = grab with { Items = ItemSet.None(now.Count), Pressed = -1 } };
        var section = rows.Sections.IsEmpty ? -1 : carrying.Section is { } key && rows.SectionWith(key) is >= 0 and var same ? same
            : Math.Max(0, rows.SectionOf(grab.Below >= 0 ? grab.Below : grab.Above >= 0 ? grab.Above : items.Nth(0)));
        var stay = rows.MembersOf(section).Except(rows.WithBelow(items));
        // The neighbour below if it shows there, else after the one above it, else where the gap's index falls.
        var below = grab.Below >= 0 && stay.Contains(grab.Below) ? grab.Below
            : grab.Above >= 0 && stay.Contains(grab.Above) ? stay.NextAt(grab.Above + 1) : stay.NextAt(grab.Gap.Index);
        var gap = below >= 0 ? new(below, section) : rows.EndOf(section);
        if (rows.Levels is not null) gap = rows.OnLevel(gap, grab.Wished, stay);
        var settled = (grab with { Items = items, Pressed = items.Contains(Math.Max(0, grab.Pressed)) ? grab.Pressed : -1 }).At(gap, stay);
        return carrying with { Grab = settled, Section = section < 0 ? null : rows.Sections[section].Key };
    }
}

/// <summary>What something is held over that is collapsed, and will open.</summary>
/// <param name="Section">The section's key; null for a branch.</param>
/// <param name="Branch">The branch's item; -1 for a section.</param>
/// <param name="Due">When it opens, ms.</param>
internal readonly record struct HeldOver(string? Section, int Branch, double Due);

/// <summary>Items of another list that are over this one.</summary>
/// <param name="Gap">The gap that they would land in.</param>
/// <param name="IsTaken">Whether they would leave the list that they are in.</param>
/// <param name="Refusal">Why they cannot come, or null.</param>
/// <param name="Frame">What is drawn of them.</param>
internal sealed record Guest(Gap Gap, bool IsTaken, Refusal? Refusal, GrabFrame Frame)
{
    public Guest After(Edit edit) => this with { Gap = Gap with { Index = edit.Gap(Gap.Index) } };

    /// <summary>The gap as one of the rows as they are.</summary>
    public Guest Settle(RowMap rows)
    {
        var section = rows.Sections.IsEmpty ? -1 : Math.Clamp(Gap.Section, 0, rows.Sections.Length - 1);
        var below = rows.MembersOf(section).NextAt(Gap.Index);
        return this with { Gap = below >= 0 ? new(below, section) : rows.EndOf(section) };
    }
}
