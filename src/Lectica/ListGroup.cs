using Lectica.Acts;
using Lectica.Items;
using Lectica.Shell;

namespace Lectica;

/// <summary>What becomes of items that are dropped in another list.</summary>
public enum TransferKind
{
    /// <summary>They leave the one and come into the other.</summary>
    Take,

    /// <summary>They stay in the one and come into the other as well.</summary>
    Copy,

    /// <summary>They stay where they are.</summary>
    Refuse,
}

/// <summary>
/// Items over another list. They and their keys are read as the app looks at them; once the list that they are in has changed they cannot
/// be looked at any more (<see cref="InvalidOperationException"/>).
/// </summary>
public sealed class Transfer<TItem, TKey>(
    InteractiveList<TItem, TKey> from, InteractiveList<TItem, TKey> to, IReadOnlyList<TItem> items, IReadOnlyList<TKey> keys, int gap,
    string? section) where TKey : notnull
{
    /// <summary>The list that they are in.</summary>
    public InteractiveList<TItem, TKey> From { get; } = from;

    /// <summary>The list that they are over.</summary>
    public InteractiveList<TItem, TKey> To { get; } = to;

    /// <summary>The items, in their order.</summary>
    public IReadOnlyList<TItem> Items { get; } = items;

    /// <summary>Their keys.</summary>
    public IReadOnlyList<TKey> Keys { get; } = keys;

    /// <summary>The gap of the other list: just before the item of that index, or at the end.</summary>
    public int Gap { get; } = gap;

    /// <summary>The section there, by key; null in a list without.</summary>
    public string? Section { get; } = section;
}

/// <summary>Where a list's viewport is, counted alike for all lists of a group.</summary>
/// <param name="Left">Its left edge, px.</param>
/// <param name="Top">Its top edge, px.</param>
public readonly record struct ListOrigin(double Left, double Top);

/// <summary>
/// Lists between which items can be dragged, or sent from the menu. All belong to one context, and each has a source that can be written:
/// items leave and come in by the lists themselves. Undo in either list takes a transfer back in both, in one step.
/// </summary>
public sealed class ListGroup<TItem, TKey> where TKey : notnull
{
    private readonly Exchange _exchange;
    private readonly List<(InteractiveList<TItem, TKey> List, Func<ListOrigin> Origin)> _members = [];

    /// <summary>A group without lists yet.</summary>
    public ListGroup() => _exchange = new(this);

    /// <summary>
    /// What becomes of items that are over another list; asked for each gap that they come over. They are taken where null.
    /// </summary>
    public Func<Transfer<TItem, TKey>, TransferKind>? Decide { get; set; }

    /// <summary>Makes of an item the one that is copied, with a key of its own where keys must differ; the same item where null.</summary>
    public Func<TItem, TItem>? Copy { get; set; }

    /// <summary>Adds a list.</summary>
    /// <param name="list">The list; a list is in one group at most.</param>
    /// <param name="origin">Where its viewport's left and top edges are now, px, counted alike for all lists of the group; asked while
    /// something is dragged.</param>
    /// <exception cref="ArgumentException">The list is in a group already.</exception>
    public void Add(InteractiveList<TItem, TKey> list, Func<ListOrigin> origin)
    {
        ArgumentNullException.ThrowIfNull(list);
        ArgumentNullException.ThrowIfNull(origin);
        if (list.Shell.Transfers.Group is not null)
            throw new ArgumentException("The list is in a group already, and a list is in one at most.");
        list.Shell.Turns.Check();
        list.Shell.Transfers.Group = _exchange;
        _members.Add((list, origin));
    }

    /// <summary>
    /// Adds a list whose host tells in which window it shows, as the Razor components do: where it is follows from that, also where the
    /// page or a panel scrolls.
    /// </summary>
    /// <param name="list">The list; a list is in one group at most.</param>
    /// <exception cref="ArgumentException">The list is in a group already.</exception>
    public void Add(InteractiveList<TItem, TKey> list)
    {
        ArgumentNullException.ThrowIfNull(list);
        Add(list, () => list.Shell.Core.State.Window.Host is { } window ? new(-window.Left, -window.Top) : default);
    }

    /// <summary>The lists, in the order in which they were added.</summary>
    public IEnumerable<InteractiveList<TItem, TKey>> Lists => _members.Select(m => m.List);

    /// <summary>Sends items to the end of another list, or of one of its sections: as a drop there would.</summary>
    /// <exception cref="ArgumentException">One of the lists is not in the group, or they are the same.</exception>
    public Response Send(InteractiveList<TItem, TKey> from, InteractiveList<TItem, TKey> to, IEnumerable<TKey> keys, string? section = null)
    {
        ArgumentNullException.ThrowIfNull(from);
        ArgumentNullException.ThrowIfNull(keys);
        if (ReferenceEquals(from, to) || !Lists.Contains(from) || !Lists.Contains(to))
            throw new ArgumentException("Items are sent between two different lists, both of this group.", nameof(to));
        TKey[] wanted = [.. keys];
        return from.Shell.Turns.Run(_ => from.Shell.Transfers.Send(to.Shell.Transfers, wanted, section));
    }

    /// <summary>The group as its lists see it.</summary>
    private sealed class Exchange(ListGroup<TItem, TKey> group) : IExchange<TItem, TKey>
    {
        public IEnumerable<Transfers<TItem, TKey>> Members => group._members.Select(m => m.List.Shell.Transfers);

        public Func<TItem, TItem>? Copy => group.Copy;

        public (Transfers<TItem, TKey> List, double X, double Y)? At(Transfers<TItem, TKey> from, double x, double y)
        {
            var own = group._members.First(m => m.List.Shell.Transfers == from).Origin();
            foreach (var (list, origin) in group._members)
            {
                if (list.Shell.Transfers == from || list.Shell.Turns.IsDisposed) continue;
                var (left, top) = origin();
                var core = list.Shell.Core;
                // On the screen they lie beside one another, whichever way each of them runs.
                var (onX, onY) = from.Core.Axes.Out(x, y);
                var (inX, inY) = core.Axes.In(own.Left + onX - left, own.Top + onY - top);
                if (inX >= 0 && inY >= 0 && inX < core.Viewport.Width && inY < core.Viewport.Height)
                    return (list.Shell.Transfers, inX, inY);
            }
            return null;
        }

        public TransferKind Decide(Transfers<TItem, TKey> from, Transfers<TItem, TKey> to, ItemSet items, Gap gap)
        {
            if (group.Decide is not { } decide) return TransferKind.Take;
            return decide(new(ListOf(from), ListOf(to), from.AskedItems(items), from.AskedKeys(items), gap.Index, to.SectionOf(gap)));
        }

        private InteractiveList<TItem, TKey> ListOf(Transfers<TItem, TKey> member) =>
            group._members.First(m => m.List.Shell.Transfers == member).List;
    }
}
