using Lectica.Acts;
using Lectica.Items;

namespace Lectica.Selecting;

/// <summary>What a selection may do on one list: its rows, which items are enabled, its mode and limit.</summary>
/// <param name="Rows">Which items show, in which order.</param>
/// <param name="Disabled">The items that may not be selected.</param>
/// <param name="Policy">How many may be selected.</param>
/// <param name="Limit">The most that may be selected at once in a list that selects many.</param>
/// <param name="KeepsHidden">Whether items that the filter hides may be selected, if they were before.</param>
internal readonly record struct SelectionRules(RowMap Rows, ItemSet Disabled, SelectionPolicy Policy, int Limit, bool KeepsHidden = false)
{
    /// <summary>The items that may be selected: those that show and are enabled.</summary>
    public ItemSet Choosable => Rows.Shown.Except(Disabled);

    /// <summary>Why an item that shows may not be selected; null where it may.</summary>
    public Refusal? WhyBarred(int index) => !Disabled.Contains(index) ? null
        : Rows.Matching.Contains(index) ? new(RefusalKind.Disabled, $"Item {index} is disabled.")
        : new(RefusalKind.Hidden, $"The filter does not let item {index} through. It shows as the way to what lies below it.");
}

/// <summary>What became of an act: the selection after it, and why it was refused, where it was.</summary>
internal readonly record struct SelectionOutcome(Selection Selection, Refusal? Refusal);

/// <summary>The rules of selecting: an old selection and an act give a new selection, or a refusal that changes nothing.</summary>
internal static class Selector
{
    /// <summary>Does one act. Cost: set operations, whatever the number of items selected.</summary>
    public static SelectionOutcome Apply(Selection selection, Act act, SelectionRules rules)
    {
        return act.Kind switch
        {
            ActKind.MoveCursor => MoveCursor(selection, act.Index, rules),
            ActKind.BeginSelecting =>
                rules.Policy.CheckMany("has a selecting state") is { } one ? new(selection, one)
                : new(selection with { IsSelecting = true }, null),
            ActKind.EndSelecting => new(selection with { IsSelecting = false }, null),
            ActKind.Clear => Clear(selection, rules),
            ActKind.SelectAll or ActKind.ToggleAll or ActKind.Invert => Whole(selection, act.Kind, rules),
            _ => One(selection, act, rules),
        };
    }

    /// <summary>The state of a header's box. Cost: log, with nothing disabled; else that of two set operations.</summary>
    public static TriState HeaderState(Selection selection, SelectionRules rules) => StateOf(selection.Items, rules.Choosable);

    /// <summary>Whether all, some or none of these items are in a set; off where there are none. Cost: a set operation.</summary>
    public static TriState StateOf(ItemSet set, ItemSet items)
    {
        var inside = items.IsAll ? set.Count : items.Intersect(set).Count;
        return inside == 0 ? TriState.Off : inside == items.Count ? TriState.On : TriState.Mixed;
    }

    /// <summary>
    /// Puts the selection right where the rules or the source have changed: hidden items dropped if so wished, one selected where one must
    /// be.
    /// </summary>
    public static Selection Settle(Selection selection, SelectionRules rules, bool keepHidden, int near = -1)
    {
        if (!keepHidden)
        {
            var shown = selection.Items.Intersect(rules.Rows.Matching);
            if (!ReferenceEquals(shown, selection.Items)) selection = selection with { Items = shown, StartingPoint = shown };
        }
        if (selection.Items.Count < rules.Policy.Least)
        {
            var choosable = rules.Choosable;
            near = Math.Max(near, 0);
            var pick = choosable.NextAt(near) is >= 0 and var next ? next : choosable.LastAt(near);
            if (pick >= 0)
                selection = Become(
                    selection, ItemSet.None(selection.Items.Universe).With(pick), pick, selection.Cursor < 0 ? pick : selection.Cursor);
        }
        return selection;
    }

    /// <summary>
    /// A set that the program gives, held to the same rules as the user: of what is hidden or disabled, only that which is selected already
    /// stays.
    /// </summary>
    public static SelectionOutcome Replace(Selection selection, ItemSet items, SelectionRules rules)
    {
        return items.Universe != selection.Items.Universe
            ? Refuse(selection, RefusalKind.OutsideList,
            $"The set is over {items.Universe} items; the list has {selection.Items.Universe}.")
            : Restore(selection, items.Intersect(rules.Choosable.Union(selection.Items)), rules);
    }

    /// <summary>A set that was selected before: what is hidden or disabled now comes back too.</summary>
    public static SelectionOutcome Restore(Selection selection, ItemSet items, SelectionRules rules)
    {
        if (items.Equals(selection.Items)) return new(selection, null);
        if (CheckCount(items.Count, selection.Items.Count, rules) is { } refusal) return new(selection, refusal);
        var first = items.NextAt(0);
        return new(Become(selection, items, first, first < 0 ? selection.Cursor : first), null);
    }

    /// <summary>A set that a sweep or marquee makes of an older selection, held to the same rules.</summary>
    internal static SelectionOutcome Propose(Selection before, ItemSet items, int anchor, int cursor, SelectionRules rules)
    {
        if (rules.Policy.CheckMany("can select them by dragging") is { } one) return new(before, one);
        return CheckCount(items.Count, before.Items.Count, rules) is { } refusal ? new(before, refusal)
            : new(Become(before, items, anchor, cursor), null);
    }

    private static SelectionOutcome One(Selection selection, Act act, SelectionRules rules)
    {
        var index = act.Index;
        if (CheckItem(index, rules) is { } refusal) return new(selection, refusal);
        if (!rules.Policy.Selects) return new(selection, SelectionPolicy.NothingSelects);
        // A range may end on a disabled item, which it leaves out.
        var extends = act.Kind is ActKind.Extend or ActKind.ExtendAdding && rules.Policy.SelectsMany && Anchor(selection, rules) >= 0;
        if (!extends && rules.WhyBarred(index) is { } barred) return new(selection, barred);
        var none = ItemSet.None(selection.Items.Universe);
        switch (act.Kind)
        {
            case ActKind.SelectUnlessSelected when selection.Items.Contains(index):
                return new(selection with { Cursor = index }, null);
            case ActKind.Add when selection.Items.Contains(index):
                return new(selection with { Anchor = index, Cursor = index, StartingPoint = selection.Items }, null);
            case ActKind.Add or ActKind.Toggle when rules.Policy.SelectsMany:
                var toggled = selection.Items.Toggle(index);
                return CheckCount(toggled.Count, selection.Items.Count, rules) is { } over ? new(selection, over)
                    : new(Become(selection, toggled, index, index), null);
            case ActKind.Toggle when selection.Items.Contains(index):
                return CheckCount(0, 1, rules) is { } required ? new(selection, required)
                    : new(Become(selection, none, index, index), null);
            case ActKind.Extend or ActKind.ExtendAdding when extends:
                return Extend(selection, Anchor(selection, rules), index, act.Kind == ActKind.ExtendAdding, rules);
            default:
                return new(Become(selection, none.With(index), index, index), null);
        }
    }

    private static SelectionOutcome Extend(Selection selection, int anchor, int to, bool adding, SelectionRules rules)
    {
        var range = rules.Rows.Between(anchor, to).Except(rules.Disabled);
        var items = !adding ? range
            : selection.StartingPoint.Contains(selection.Anchor) ? selection.StartingPoint.Union(range)
            : selection.StartingPoint.Except(range);
        // What was there to add to may be hidden by now.
        if (!rules.KeepsHidden) items = items.Intersect(rules.Rows.Matching);
        if (CheckCount(items.Count, selection.Items.Count, rules) is { } refusal) return new(selection, refusal);
        return new(selection with { Items = Same(items, selection), Cursor = to }, null);
    }

    /// <summary>The anchor, or its nearest neighbour on show where the filter hides it.</summary>
    private static int Anchor(Selection selection, SelectionRules rules) =>
        selection.Anchor < 0 ? -1 : rules.Rows.NearestShown(selection.Anchor);

    private static SelectionOutcome Whole(Selection selection, ActKind kind, SelectionRules rules)
    {
        if (rules.Policy.CheckMany("can select all of them") is { } one) return new(selection, one);
        var choosable = rules.Choosable;
        if (choosable.IsEmpty)
            return Refuse(selection, RefusalKind.EmptyList, rules.Rows.Shown.IsEmpty ? "Nothing shows that could be selected."
                : "Everything that shows is disabled.");
        var items = kind switch
        {
            ActKind.Invert => selection.Items.SymmetricExcept(choosable),
            ActKind.ToggleAll when choosable.Except(selection.Items).IsEmpty => selection.Items.Except(choosable),
            _ => selection.Items.Union(choosable),
        };
        if (CheckCount(items.Count, selection.Items.Count, rules) is { } refusal) return new(selection, refusal);
        items = Same(items, selection);
        return new(ReferenceEquals(items, selection.Items) ? selection : selection with { Items = items, StartingPoint = items }, null);
    }

    /// <summary>Selects all of these that may be selected, or takes them out if they are all in: a section, by its heading's box.</summary>
    public static SelectionOutcome ToggleSome(Selection selection, ItemSet items, SelectionRules rules)
    {
        if (rules.Policy.CheckMany("can select a section") is { } one) return new(selection, one);
        var some = rules.Choosable.Intersect(items);
        if (some.IsEmpty) return Refuse(selection, RefusalKind.EmptyList, "Nothing in the section can be selected.");
        var next = some.Except(selection.Items).IsEmpty ? selection.Items.Except(some) : selection.Items.Union(some);
        return CheckCount(next.Count, selection.Items.Count, rules) is { } refusal ? new(selection, refusal)
            : new(selection with { Items = next, StartingPoint = next }, null);
    }

    private static SelectionOutcome Clear(Selection selection, SelectionRules rules)
    {
        if (selection.Items.IsEmpty) return new(selection, null);
        if (CheckCount(0, selection.Items.Count, rules) is { } required) return new(selection, required);
        var none = ItemSet.None(selection.Items.Universe);
        return new(selection with { Items = none, StartingPoint = none }, null);
    }

    private static SelectionOutcome MoveCursor(Selection selection, int index, SelectionRules rules) =>
        CheckItem(index, rules) is { } refusal ? new(selection, refusal) : new(selection with { Cursor = index }, null);

    private static Refusal? CheckItem(int index, SelectionRules rules)
    {
        var shown = rules.Rows.Shown;
        if (shown.Universe == 0) return new(RefusalKind.EmptyList, "The list is empty.");
        if (index == -1)
            return shown.IsEmpty ? new(RefusalKind.EmptyList, "Nothing shows.")
                : new(RefusalKind.NoItem, "There is no item here to do it to.");
        if ((uint)index >= (uint)shown.Universe)
            return new(RefusalKind.OutsideList, $"There is no item {index}: the list has {shown.Universe}, 0 to {shown.Universe - 1}.");
        return shown.Contains(index) ? null : new(RefusalKind.Hidden, $"The filter hides item {index}.");
    }

    private static Refusal? CheckCount(int count, int before, SelectionRules rules) => rules.Policy.Check(count, before, rules.Limit);

    private static Selection Become(Selection selection, ItemSet items, int anchor, int cursor)
    {
        items = Same(items, selection);
        return selection with { Items = items, StartingPoint = items, Anchor = anchor, Cursor = cursor };
    }

    // The old set itself where nothing changed, so that "did it change?" is a look at two references.
    private static ItemSet Same(ItemSet items, Selection selection) => items.Equals(selection.Items) ? selection.Items : items;

    private static SelectionOutcome Refuse(Selection selection, RefusalKind kind, string reason) => new(selection, new(kind, reason));
}
