using Lectica.Acts;
using Lectica.Commands;
using Lectica.Items;
using Lectica.Moving;

namespace Lectica.Shell;

/// <summary>Moving without dragging (WCAG 2.5.7): commands that the menu offers where items may be moved.</summary>
internal sealed class MoveMenu<TItem, TKey>(
    Core core, Turns turns, Mover<TItem, TKey> mover, Lander<TItem, TKey> lander, Projection<TItem, TKey> projection,
        Transfers<TItem, TKey> transfers) : IOwnCommands<TItem, TKey> where TKey : notnull
{
    // Who has moved something by the menu is told, and can take it back there.
    private const string Rule = "menu";

    /// <summary>Whether there are any now.</summary>
    public bool IsOffered => core.Options.MovesInMenu && mover.MayMove && projection.SortBy is null;

    public IEnumerable<Command<TItem, TKey>> OwnCommands
    {
        get
        {
            if (!IsOffered) return [];
            var phrases = core.Options.Phrases;
            Command<TItem, TKey> Of(string id, string label, Func<IReadOnlyList<TKey>, Response> act, Func<ItemSet, bool> changes) =>
                new(id, label)
                {
                    Submenu = phrases.Move,
                    SubmenuIcon = "move",
                    Group = "~move",
                    Do = target => turns.Run(_ => act(target.Keys)),
                    EnabledFor = target => mover.ToGrab(target.Set, -1) is { Refusal: null } can && changes(can.Items),
                };
            bool Moves(ItemSet items, Gap gap) =>
                Lectica.Moving.Moves.Changes(items, gap, core.Rows) && mover.WhyNoDrop(items, gap) is null;
            Response By(IReadOnlyList<TKey> keys, Direction direction) =>
                lander.MoveBy(lander.ItemsWith(keys), direction, new(ActKind.Move, Rule: Rule));
            return
            [
                Of("move-to-top", phrases.ToTop, keys => lander.MoveToEnd(keys, true, Rule),
                    items => Moves(items, lander.GapAtEnd(items, true))),
                Of("move-up", phrases.Up, keys => By(keys, Direction.Previous),
                    items => Moves(items, lander.GapBy(items, Direction.Previous))),
                Of("move-down", phrases.Down, keys => By(keys, Direction.Next), items => Moves(items, lander.GapBy(items, Direction.Next))),
                .. core.Rows.Levels is null ? [] : (Command<TItem, TKey>[])[
                    Of("move-in", phrases.OneLevelIn, keys => By(keys, Direction.Inward),
                        items => Moves(items, lander.GapBy(items, Direction.Inward))),
                    Of("move-out", phrases.OneLevelOut, keys => By(keys, Direction.Outward),
                        items => Moves(items, lander.GapBy(items, Direction.Outward)))],
                Of("move-to-bottom", phrases.ToBottom, keys => lander.MoveToEnd(keys, false, Rule),
                    items => Moves(items, lander.GapAtEnd(items, false))),
                Of("choose-place", phrases.ChoosePlace, keys => mover.Carry(lander.ItemsWith(keys), -1, new(ActKind.Grab)), _ => true),
                .. mover.MayChangeSection
                    ? core.Rows.Sections.Where((_, i) => core.Rows.HeadingOf(i) is not null)
                    .Select(s => Of("move-to:" + s.Key, phrases.ToSection(s.Title),
                    keys => lander.MoveToSection(keys, s.Key, Rule), items => items.Intersect(s.Members).Count < items.Count)) : [],
                .. transfers.Others.Select(
                    (other, i) => Of($"send-to:{other.Number}", phrases.ToSection(other.Title),
                        keys => transfers.Send(other.List, keys, null, Rule), items => transfers.MaySend(other.List, items))),
            ];
        }
    }
}
