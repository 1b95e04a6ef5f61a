using Lectica.Acts;
using Lectica.Moving;

namespace Lectica;

// Moves, by call.
public sealed partial class InteractiveList<TItem, TKey>
{
    /// <summary>
    /// Moves items to a gap: they leave, and land together, in their order, just before the item of that index now, or at the end. In a
    /// list with sections the gap is that of one; of the item's below it where <paramref name="section"/> is null. Items that are hidden,
    /// disabled or pinned stay where they are; a move that changes nothing on show is handled and does nothing.
    /// </summary>
    public Response Move(IEnumerable<TKey> keys, int gap, string? section = null) =>
        WithKeys(keys, (p, wanted) => p.Lander.Move(wanted, gap, section));

    /// <summary>Moves items just before another one, into its section or onto its level.</summary>
    public Response MoveBefore(IEnumerable<TKey> keys, TKey before)
    {
        ArgumentNullException.ThrowIfNull(keys);
        TKey[] wanted = [.. keys];
        return Run(before, ActKind.Move, (p, index) => p.Lander.MoveBefore(wanted, index));
    }

    /// <summary>
    /// Moves items to the top of the list or, where there are sections, of the first one's section; as far as what is pinned lets them.
    /// </summary>
    public Response MoveToTop(IEnumerable<TKey> keys) => WithKeys(keys, (p, wanted) => p.Lander.MoveToEnd(wanted, top: true));

    /// <summary>
    /// Moves items to the bottom of the list or, where there are sections, of the first one's section; as far as what is pinned lets them.
    /// </summary>
    public Response MoveToBottom(IEnumerable<TKey> keys) => WithKeys(keys, (p, wanted) => p.Lander.MoveToEnd(wanted, top: false));

    /// <summary>Moves items to the end of a section.</summary>
    public Response MoveToSection(IEnumerable<TKey> keys, string section) =>
        WithKeys(keys, (p, wanted) => p.Lander.MoveToSection(wanted, section));

    /// <summary>
    /// Moves items up or down by one place on show, as Alt+Up and Alt+Down do; scattered ones first gather at the first of them.
    /// </summary>
    public Response MoveBy(IEnumerable<TKey> keys, bool down) => MoveBy(keys, down ? Direction.Next : Direction.Previous);

    /// <summary>
    /// The same in a direction: up and down, and in an outline one level in, below the sibling above, or out, after what they lie below.
    /// </summary>
    public Response MoveBy(IEnumerable<TKey> keys, Direction direction) =>
        WithKeys(keys, (p, wanted) => p.Lander.MoveBy(p.Lander.ItemsWith(wanted), direction, new(ActKind.Move)));

    /// <summary>
    /// Moves items of an outline, each with all that is below it, below another one: to a place among its children, or after them.
    /// </summary>
    /// <param name="keys">The items.</param>
    /// <param name="parent">The item that they come to lie below.</param>
    /// <param name="place">The place, from 0; after the last where it is more than there are.</param>
    public Response MoveBelow(IEnumerable<TKey> keys, TKey parent, int place = int.MaxValue) =>
        Run(parent, ActKind.Move, (p, index) => p.Lander.MoveBelow(keys, index, place));

    /// <summary>Moves items of an outline, each with all that is below it, to a place on the first level, or after all of that.</summary>
    public Response MoveToFirstLevel(IEnumerable<TKey> keys, int place = int.MaxValue) => Run(p => p.Lander.MoveBelow(keys, -1, place));

    /// <summary>
    /// What to write so that the order of these items is stored, by keys that sort as the items stand (<see cref="OrderKey"/>): after a
    /// move, its undo or its redo, hand in the keys that <see cref="Moved"/> told. Only the moved items are written, together or scattered;
    /// a neighbour too where its key is missing, or out of order since it has moved itself and is not stored yet. Keys that are not in the
    /// list are left out.
    /// </summary>
    /// <param name="keys">The items, by key.</param>
    /// <param name="stored">The order key that an item is stored under; null for none.</param>
    /// <exception cref="ArgumentException">A neighbour's key is not an order key.</exception>
    public IReadOnlyList<KeyValuePair<TItem, string>> OrderKeysFor(IEnumerable<TKey> keys, Func<TItem, string?> stored)
    {
        ArgumentNullException.ThrowIfNull(keys);
        ArgumentNullException.ThrowIfNull(stored);
        TKey[] wanted = [.. keys];
        return Reading(
            p => OrderKey.For(p.Lander.ItemsWith(wanted), index => stored(p.Store.ItemAt(index)))
                .Select(w => KeyValuePair.Create(p.Store.ItemAt(w.Key), w.Value)).ToList());
    }

    private Response WithKeys(IEnumerable<TKey> keys, Func<Shell.ListParts<TItem, TKey>, TKey[], Response> turn)
    {
        ArgumentNullException.ThrowIfNull(keys);
        TKey[] wanted = [.. keys];
        return Run(p => turn(p, wanted));
    }

    /// <summary>
    /// Takes up an item, or the selection if it is in it, without a pointer: <see cref="Hover(Direction)"/> chooses the gap,
    /// <see cref="Drop()"/> lets it land.
    /// </summary>
    public Response Grab(TKey key) =>
        Run(key, ActKind.Grab, (p, index) => p.Mover.Carry(p.Actor.TargetAt(index), index, new(ActKind.Grab, index)));

    /// <summary>Takes what is grabbed without a pointer to a neighbouring gap.</summary>
    public Response Hover(Direction direction) => Run(p => p.Mover.Hover(new(new(ActKind.Hover), Direction: direction)));

    /// <summary>Lets what is grabbed land in its gap.</summary>
    public Response Drop() =>
        Run(p => p.Core.State.Stroke is null ? p.Mover.Drop(new Act(ActKind.Drop))
        : p.Core.Refuse(new(ActKind.Drop), new(RefusalKind.Running, "A pointer holds what is grabbed: letting it go drops it.")));

    /// <summary>Lets what is grabbed go back, as if it had not been taken up.</summary>
    public Response DropBack() => Run(p => p.Actor.Do(new Act(ActKind.DropBack)));
}
