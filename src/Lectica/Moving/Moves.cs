using Lectica.Items;

namespace Lectica.Moving;

/// <summary>What moves come to: whether they change anything, and whether they leave pinned items alone.</summary>
internal static class Moves
{
    /// <summary>
    /// Whether items that show, dropped in a gap, would stand in another order on show, in another section, or on another level. Hidden
    /// items between them do not count. Cost: log, with sections or levels also the items.
    /// </summary>
    public static bool Changes(ItemSet items, Gap gap, RowMap rows)
    {
        if (items.IsEmpty) return false;
        var members = rows.MembersOf(gap.Section);
        if (rows.Levels is { } levels)
        {
            if (gap.Level >= 0 && !levels.AreOn(gap.Level, items)) return true;
            items = levels.WithBelow(items);
            // Of what is collapsed nothing has a row to be compared.
            var seen = items.Intersect(members);
            if (seen.IsEmpty || !items.Except(members).IsEmpty) return Edit.Move(items, gap.Index).Changes;
        }
        if (gap.Section >= 0 && items.Intersect(members).Count != items.Count) return true;
        int first = members.Rank(items.Nth(0)), last = members.Rank(items.Nth(items.Count - 1)), at = members.Rank(gap.Index);
        return last - first + 1 != items.Count || at < first || at > last + 1;
    }

    /// <summary>
    /// Whether each pinned item keeps its place: in the list or, where there are sections, in its own. Cost: log for each section.
    /// </summary>
    public static bool KeepsPinned(ItemSet items, Gap gap, ItemSet pinned, RowMap rows)
    {
        if (items.IsEmpty || pinned.IsEmpty) return true;
        if (!items.Intersect(pinned).IsEmpty) return false;
        if (gap.Section < 0) return Keeps(items, gap.Index, pinned, comeIn: false);
        for (var i = 0; i < rows.Sections.Length; i++)
        {
            ItemSet members = rows.Sections[i].Members, here = items.Intersect(members), stay = pinned.Intersect(members);
            if (stay.IsEmpty) continue;
            if (i == gap.Section ? !Keeps(here, gap.Index, stay, comeIn: here.Count < items.Count)
                : !here.IsEmpty && stay.NextAt(here.Nth(0)) >= 0) return false;
        }
        return true;
    }

    /// <summary>
    /// Whether each pinned item of an outline keeps its place among those that lie below the same, and none of them is moved along. Cost:
    /// the pinned items and those that move.
    /// </summary>
    internal static bool KeepsPinned(ItemSet tops, Gap gap, int parent, ItemSet pinned, Levels levels)
    {
        if (pinned.IsEmpty) return true;
        if (!levels.WithBelow(tops).Intersect(pinned).IsEmpty) return false;
        foreach (var item in pinned)
        {
            var below = levels.ParentOf(item);
            var leave = tops.Count(t => t < item && levels.ParentOf(t) == below);
            if (leave != (below == parent && gap.Index <= item ? tops.Count : 0)) return false;
        }
        return true;
    }

    /// <summary>
    /// A pinned item stays where as many go past it one way as the other: here none, or where nothing comes in all that were above it stay
    /// above.
    /// </summary>
    private static bool Keeps(ItemSet items, int gap, ItemSet pinned, bool comeIn)
    {
        int above = pinned.LastAt(gap - 1), below = pinned.NextAt(gap);
        if (above >= 0 && !items.IsEmpty && items.Nth(0) < above) return false;
        return below < 0 || (!comeIn && items.Nth(items.Count - 1) < below);
    }
}
