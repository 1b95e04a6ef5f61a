using Lectica.Acts;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Moving;
using Lectica.States;

namespace Lectica.Shell;

/// <summary>Moves items to gaps: in the source, or by asking the app to; and takes moves back.</summary>
internal sealed class Lander<TItem, TKey>(
    Core core, Turns turns, ItemStore<TItem, TKey> store, Actor actor, Scroller scroller, Mover<TItem, TKey> mover,
        Source<TItem, TKey> source, SourceWriter<TItem, TKey> writer,
    Projection<TItem, TKey> projection, Teller<TItem, TKey> teller, Events<TItem, TKey> events) where TKey : notnull
{
    /// <summary>Keeps a step for undo.</summary>
    public Action<UndoStep> Keep { get; set; } = _ => { };

    /// <summary>Where branches of an outline go.</summary>
    public BranchMover<TItem, TKey> Branches { get; set; } = null!;

    /// <summary>What moves them.</summary>
    public BranchWriter<TItem, TKey> BranchWriter { get; set; } = null!;

    private RowMap Rows => core.Rows;

    public Refusal NoSection(string? section)
    {
        var sections = core.State.Showing.Sections;
        var there = sections.IsEmpty ? "none" : string.Join(", ", sections.Select(s => s.Key));
        return new(RefusalKind.OutsideList, $"There is no section '{section}'; there are {there}.");
    }

    public ItemSet ItemsWith(IEnumerable<TKey> keys) => ItemSet.Of(store.Count, keys.Select(store.IndexOfKept).Where(i => i >= 0));

    /// <summary>Moves items to a gap, where that is allowed.</summary>
    public Response MoveTo(ItemSet target, Gap gap, Act act)
    {
        var (items, refusal) = mover.ToGrab(target, -1);
        if (refusal is not null) return core.Refuse(act, refusal);
        if (!Moves.Changes(items, gap, Rows)) return Response.Handled;
        if (mover.WhyNoDrop(items, gap) is { } why) return core.Refuse(act, why);
        if (core.State.Carrying.Grab is not null) mover.DropBack(act with { Kind = ActKind.DropBack });
        actor.StopTyping();
        core.TraceAct(act);
        return Land(items, gap, act);
    }

    /// <summary>Moves the target by one place; one that is scattered gathers at its first item first.</summary>
    public Response MoveBy(ItemSet target, Direction direction, Act act)
    {
        if (core.State.Carrying.Grab is not null) return core.Refuse(act, new(RefusalKind.Running, "Items are grabbed: drop them first."));
        var (items, refusal) = mover.ToGrab(target, -1);
        return refusal is not null ? core.Refuse(act, refusal) : MoveTo(items, GapBy(items, direction), act);
    }

    public Response MoveByKey(ActCall call)
    {
        var items = actor.TargetOfKey();
        if (items.IsEmpty)
            return core.Refuse(
                call.Act, new(Rows.Shown.IsEmpty ? RefusalKind.EmptyList : RefusalKind.NoItem, "There is no item at the cursor to move."));
        var response = MoveBy(items, call.Direction, call.Act);
        if (core.Selection.Cursor >= 0) scroller.BringIntoView(core.Selection.Cursor);
        return response;
    }

    private int By(Direction direction) =>
        direction switch
        {
            Direction.Previous => -1,
            Direction.Up => -core.Geometry.Columns,
            Direction.Down => core.Geometry.Columns,
            _ => 1,
        };

    /// <summary>The gap one place up or down, or in tiles one line.</summary>
    public Gap GapBy(ItemSet items, Direction direction)
    {
        if (Rows.Levels is not null) return Branches.GapBy(items, direction);
        Gap here = new(items.Nth(0), Rows.SectionOf(items.Nth(0)));
        if (Moves.Changes(items, here, Rows)) return here;
        var landings = mover.LandingsFor(items);
        var gap = landings.GapAt(Math.Clamp(landings.NumberOf(here) + By(direction), 0, landings.Count - 1));
        return gap.Section == here.Section || mover.MayChangeSection ? gap : here;
    }

    /// <summary>The farthest gap that way in the first item's section, short of what is pinned there.</summary>
    public Gap GapAtEnd(ItemSet items, bool top)
    {
        if (Rows.Levels is { } levels) return Branches.GapAtEnd(levels.Tops(items), top);
        int first = items.Nth(0), last = items.Nth(items.Count - 1), section = Rows.SectionOf(first);
        var members = Rows.MembersOf(section);
        var pinned = core.State.Showing.Pinned.Intersect(members);
        var gap = top ? members.NextAt(pinned.LastAt(first - 1) + 1) : pinned.NextAt(last + 1);
        return gap >= 0 ? new(gap, section) : Rows.EndOf(section);
    }

    /// <summary>The gap of an index, in a section or that of the item below it.</summary>
    public Response Move(IEnumerable<TKey> keys, int gap, string? section)
    {
        var act = new Act(ActKind.Move, Text: section);
        if ((uint)gap > (uint)store.Count)
            return core.Refuse(
                act, new(RefusalKind.OutsideList, $"There is no gap {gap}: {store.Count} items have the gaps 0 to {store.Count}."));
        if (Rows.Levels is not null)
            return core.Refuse(
                act, new(RefusalKind.NotAvailable, "In an outline a gap has a level: move items by MoveBelow or MoveToFirstLevel."));
        if (section is not null && Rows.SectionWith(section) < 0) return core.Refuse(act, NoSection(section));
        var at = section is not null ? Rows.SectionWith(section) : gap < store.Count ? Rows.SectionOf(gap) : Rows.Sections.Length - 1;
        // Just before the row shown below it, or at the end.
        var below = Rows.MembersOf(at).NextAt(gap);
        return MoveTo(ItemsWith(keys), below < 0 ? Rows.EndOf(at) : new(below, at), act);
    }

    public Response MoveBefore(IEnumerable<TKey> keys, int before)
    {
        if (Rows.Levels is { } levels && levels.WithBelow(ItemsWith(keys)).Contains(before))
            return core.Refuse(
                new(ActKind.Move),
                    new(RefusalKind.NotAllowed, $"The item '{core.KeyText(before)}' moves along itself: nothing can be moved before it."));
        return MoveTo(ItemsWith(keys), new(before, Rows.SectionOf(before), Rows.Levels?[before] ?? -1), new(ActKind.Move));
    }

    /// <summary>A place among the children of an item, or on the first level for -1.</summary>
    public Response MoveBelow(IEnumerable<TKey> keys, int parent, int place)
    {
        var act = new Act(ActKind.Move);
        if (Rows.Levels is not { } levels)
            return core.Refuse(act, new(RefusalKind.NotAvailable, "The list has no levels: it is not an outline."));
        var items = levels.Tops(ItemsWith(keys));
        if (parent >= 0 && levels.WithBelow(items).Contains(parent))
            return core.Refuse(
                act, new(RefusalKind.NotAllowed,
                    $"The item '{core.KeyText(levels.Tops(items).LastAt(parent))}' cannot come to lie below itself."));
        return items.IsEmpty ? core.Refuse(act, new(RefusalKind.NoItem, "There is no item to move."))
            : MoveTo(items, Branches.GapAt(items, parent, place), act);
    }

    public Response MoveToEnd(IEnumerable<TKey> keys, bool top, string rule = "call")
    {
        var items = ItemsWith(keys);
        return items.IsEmpty ? core.Refuse(new(ActKind.Move), new(RefusalKind.NoItem, "There is no item to move."))
            : MoveTo(items, GapAtEnd(items, top), new(ActKind.Move, Rule: rule));
    }

    public Response MoveToSection(IEnumerable<TKey> keys, string section, string rule = "call")
    {
        var act = new Act(ActKind.Move, Rule: rule, Text: section);
        return Rows.SectionWith(section) is >= 0 and var at ? MoveTo(ItemsWith(keys), Rows.EndOf(at), act)
            : core.Refuse(act, NoSection(section));
    }

    /// <summary>Shows a brief notice which offers to take a step back.</summary>
    public Action<string, UndoStep> Notify { get; set; } = (_, _) => { };

    /// <summary>Moves items that may be moved, and tells of it.</summary>
    public Response Land(ItemSet items, Gap gap, Act act)
    {
        var section = mover.KeyOf(gap);
        var tellDropped = mover.Telling(items, gap, p => p.Dropped);
        if (mover.InSource is { Moves: true } elsewhere)
        {
            tellDropped();
            writer.TellMoved(items, gap.Index, section);
            elsewhere.Move(items, gap, section, step => Offer(act, p => p.Moved(items.Count), step));
            return Response.Handled;
        }
        var name = core.Options.Phrases.Move;
        var plain = Rows.Levels is not null ? null
            : new MoveStep<TItem, TKey>(this, store, items, core.Moment, section is null ? null : SectionsOf(items), name);
        var step = (UndoStep?)plain ?? Branches.StepOf(items, name);
        if (events.MoveRequested is { } handlers)
        {
            tellDropped();
            writer.TellMoved(items, gap.Index, section);
            source.IsReordered = true;
            if (Rows.Levels is { } levels) AskForBranches(levels.WithBelow(items), items, gap, act, handlers);
            else Ask(items, core.App.Ask(() => store.KeysOf(items)), gap.Index, section, act, handlers);
        }
        else if (plain is null)
        {
            if (BranchWriter.Move(items, gap, act, tellDropped) is { } stuck) return core.Refuse(act, stuck);
        }
        else
        {
            string[]? sections = section is null ? null : [.. Enumerable.Repeat(section, items.Count)];
            if (writer.Move(Edit.Move(items, gap.Index), items, plain.Items, sections, act, tellDropped) is { } refusal)
                return core.Refuse(act, refusal);
        }
        Keep(step);
        Offer(act, p => p.Moved(items.Count), step);
        return Response.Handled;
    }

    /// <summary>Says in a notice what was moved: who has done it by hand or menu can take it back there; keys have their own.</summary>
    public void Offer(Act act, Func<Phrases, string> say, UndoStep step)
    {
        if (!act.Rule.StartsWith("key ", StringComparison.Ordinal) && act.Rule != "call" && core.Options.NoticesMoves)
            Notify(core.App.Ask(say, core.Options.Phrases, ""), step);
    }

    private string[]? SectionsOf(ItemSet items) => Rows.Sections.IsEmpty ? null : [.. items.Select(i => writer.SectionOf(i) ?? "")];

    private void AskForBranches(
        ItemSet moving, ItemSet tops, Gap gap, Act act, EventHandler<MoveRequestedEventArgs<TItem, TKey>> handlers)
    {
        var parent = Rows.ParentAt(gap, moving);
        core.HoldsScroll = true;
        core.Out.Raise(
            handlers, new(moving, teller.ItemsOf(moving), core.App.Ask(() => store.KeysOf(moving)), gap.Index, null, act)
            {
                Level = gap.Level,
                Parent = parent < 0 ? default : store.ItemAt(parent),
                Tops = teller.ItemsOf(tops),
            });
        core.Out.Later(() => core.HoldsScroll = false);
    }

    private void Ask(ItemSet items, IReadOnlyList<TKey> keys, int gap, string? section, Act act,
        EventHandler<MoveRequestedEventArgs<TItem, TKey>> handlers)
    {
        core.HoldsScroll = true;
        core.Out.Raise(handlers, new(items, teller.ItemsOf(items), keys, gap, section, act));
        core.Out.Later(() => core.HoldsScroll = false);
    }

    /// <summary>Puts items back into the places that were kept for them.</summary>
    /// <param name="step">What it belongs to.</param>
    /// <param name="kind">Whether something is taken back or done again.</param>
    /// <param name="inverse">The step that takes it back.</param>
    internal Refusal? Return(MoveStep<TItem, TKey> step, ActKind kind, out UndoStep inverse)
    {
        inverse = step;
        if (!mover.MayMove || projection.SortBy is not null)
            return new(RefusalKind.OutOfDate,
                $"'{step.Name}' cannot be {(kind == ActKind.Undo ? "taken back" : "done again")}: nothing can be moved in this list now.");
        // Sections that have been taken away since, or others: then it is only the order that comes back.
        var hasSections = step.Sections is not null && !core.State.Showing.Sections.IsEmpty;
        var act = new Act(kind);
        MoveStep<TItem, TKey> BackFrom(ItemSet items) =>
            new(this, store, items, core.Moment, hasSections ? SectionsOf(items) : null, step.Name);
        var only = step.Places.OfOnlyMove;
        if (only is var (together, runs) && runs.Length == 1 && events.MoveRequested is null)
        {
            var back = BackFrom(together);
            if (writer.Move(Edit.Move(together, runs[0].Gap), together, back.Items, hasSections ? step.Sections : null, act) is { } stuck)
                return stuck;
            inverse = back;
            return null;
        }
        int[] moving, gaps;
        ItemSet items;
        if (only is var (moved, scattered))
            (items, moving, gaps) = (moved, moved.ToArray(), [.. scattered.SelectMany(run => Enumerable.Repeat(run.Gap, run.Count))]);
        else
        {
            moving = [.. step.Keys.Select(store.IndexOfKept)];
            if (Array.FindIndex(moving, i => i < 0) is >= 0 and var gone)
                return new(RefusalKind.OutOfDate,
                    $"'{step.Name}' makes no sense any more: the " +
                        $"item '{CommandStep<TItem, TKey>.NameOf(store, step.Items[gone], step.Keys[gone])}' has left the list since.");
            items = ItemSet.Of(store.Count, moving);
            gaps = step.Places.Gaps([.. Enumerable.Range(0, moving.Length)], items);
        }
        var again = BackFrom(items);
        int[] order = [.. Enumerable.Range(0, moving.Length)];
        if (!IsRising(gaps)) order = [.. order.OrderBy(k => gaps[k]).ThenBy(k => k)];
        if (events.MoveRequested is not null)
        {
            AskToReturn(step, order, gaps, items, hasSections, act);
            inverse = again;
            return null;
        }
        string[]? sections = null;
        if (hasSections)
        {
            var byIndex = new Dictionary<int, string>();
            for (var k = 0; k < moving.Length; k++) byIndex[moving[k]] = step.Sections![k];
            sections = [.. items.Select(i => byIndex[i])];
        }
        if (writer.Move(OrderOf([.. order.Select(k => moving[k])], [.. order.Select(k => gaps[k])], items), items, again.Items, sections,
            act) is { } refusal) return refusal;
        inverse = again;
        return null;
    }

    private static bool IsRising(int[] numbers)
    {
        for (var i = 1; i < numbers.Length; i++)
            if (numbers[i - 1] > numbers[i]) return false;
        return true;
    }

    /// <summary>The edit that puts items, in this order, into gaps between the others.</summary>
    private Edit OrderOf(int[] moving, int[] gaps, ItemSet items)
    {
        // The gaps are in order: where the ends are one, all are.
        if (gaps[0] == gaps[^1] && IsRising(moving)) return Edit.Move(items, gaps[0]);
        var order = new int[store.Count];
        int n = 0, next = 0;
        for (var i = 0; i <= order.Length; i++)
        {
            for (; next < moving.Length && gaps[next] == i; next++) order[n++] = moving[next];
            if (i < order.Length && !items.Contains(i)) order[n++] = i;
        }
        return Edit.Remap(store.Count, order);
    }

    /// <summary>
    /// Asks the app to move groups that go to one place, into one section, one after the other: each when the one before it has been moved.
    /// </summary>
    private void AskToReturn(MoveStep<TItem, TKey> step, int[] order, int[] gaps, ItemSet items, bool hasSections, Act act)
    {
        var groups = new List<(List<TKey> Keys, bool HasAbove, TKey Above, string? Section)>();
        var stay = items.Complement();
        for (var n = 0; n < order.Length; n++)
        {
            var k = order[n];
            var section = hasSections ? step.Sections![k] : null;
            if (n > 0 && gaps[order[n - 1]] == gaps[k] && groups[^1].Section == section)
            {
                groups[^1].Keys.Add(step.Keys[k]);
                continue;
            }
            // Each goes just below what is above it in the end: the last of the group before it, or an item that stays.
            var above = stay.LastAt(gaps[k] - 1);
            var follows = n > 0 && gaps[order[n - 1]] == gaps[k];
            groups.Add(([step.Keys[k]], follows || above >= 0,
                follows ? step.Keys[order[n - 1]] : above >= 0 ? store.KeptKeyAt(above) : default!, section));
        }
        void Next(int at)
        {
            if (at >= groups.Count || events.MoveRequested is not { } handlers) return;
            var (keys, hasAbove, above, section) = groups[at];
            var set = ItemSet.Of(store.Count, keys.Select(store.IndexOfKept).Where(i => i >= 0));
            var gap = !hasAbove ? 0 : store.IndexOfKept(above) is >= 0 and var index ? index + 1 : -1;
            if (!set.IsEmpty && gap >= 0 && (Edit.Move(set, gap).Changes || section is not null))
                Ask(set, store.KeptKeysOf(set), gap, section, act, handlers);
            core.Out.Later(() => turns.Next(() => Next(at + 1)));
        }
        Next(0);
    }
}

/// <summary>A move that can be taken back: the items, and the places where they are before it.</summary>
/// <param name="lander">Who takes it back.</param>
/// <param name="store">The items that there are.</param>
/// <param name="moving">Those that are about to be moved by the next edit.</param>
/// <param name="moment">The moment before it.</param>
/// <param name="sections">For each item the section that it is in; null in a list without.</param>
/// <param name="name">What it is called.</param>
internal sealed class MoveStep<TItem, TKey>(
    Lander<TItem, TKey> lander, ItemStore<TItem, TKey> store, ItemSet moving, EditLog moment, string[]? sections, string name)
    : UndoStep(name) where TKey : notnull
{
    private readonly TKey[]? _kept = store.AsksForKeys ? null : store.KeptKeysOf(moving);

    public TKey[] Keys => _kept ?? (field ??= [.. Items.Select(item => store.KeyOf(item))]);

    public TItem[] Items { get; } = store.ItemsOf(moving);

    public ReturnPlaces<TItem, TKey> Places { get; } = ReturnPlaces<TItem, TKey>.Before(store, moving, moment);

    public string[]? Sections { get; } = sections;

    public override Refusal? Apply(ActKind kind, out UndoStep inverse) => lander.Return(this, kind, out inverse);
}
