using Lectica.Acts;
using Lectica.Frames;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Moving;
using Lectica.States;
using Lectica.Tracing;

namespace Lectica.Shell;

/// <summary>What a group of lists says: who is in it, which of them is under a point, and what becomes of items there.</summary>
internal interface IExchange<TItem, TKey> where TKey : notnull
{
    /// <summary>The members, in order.</summary>
    IEnumerable<Transfers<TItem, TKey>> Members { get; }

    /// <summary>The other list under a point of one of them, and the point there; null where there is none.</summary>
    (Transfers<TItem, TKey> List, double X, double Y)? At(Transfers<TItem, TKey> from, double x, double y);

    /// <summary>Whether items are taken, copied, or refused.</summary>
    TransferKind Decide(Transfers<TItem, TKey> from, Transfers<TItem, TKey> to, ItemSet items, Gap gap);

    /// <summary>Makes of an item the one that is copied; null for the same.</summary>
    Func<TItem, TItem>? Copy { get; }
}

/// <summary>Items that go to another list of the same group, and items that come from one.</summary>
internal sealed class Transfers<TItem, TKey>(
    Core core, Turns turns, ItemStore<TItem, TKey> store, Mover<TItem, TKey> mover, Lander<TItem, TKey> lander,
        SourceWriter<TItem, TKey> writer, SourceSplicer<TItem, TKey> splicer, Projection<TItem, TKey> projection,
    Teller<TItem, TKey> teller, Historian history, Framer<TItem, TKey> framer) : IAway where TKey : notnull
{
    private Transfers<TItem, TKey>? _host;

    /// <summary>The group; null for a list by itself.</summary>
    public IExchange<TItem, TKey>? Group { get; set; }

    // What a transfer needs of both lists.
    internal Core Core => core;

    internal Turns Turns => turns;

    internal ItemStore<TItem, TKey> Store => store;

    internal SourceWriter<TItem, TKey> Writer => writer;

    internal SourceSplicer<TItem, TKey> Splicer => splicer;

    internal Historian History => history;

    private string? Title => core.State.Caption.Title;

    /// <summary>The other lists of the group that are still there, each with its number in it and what it is called.</summary>
    public IEnumerable<(Transfers<TItem, TKey> List, int Number, string Title)> Others =>
        Group?.Members.Select((list, i) => (List: list, Number: i, Title: list.Title ?? $"{i + 1}"))
        .Where(m => m.List != this && !m.List.Turns.IsDisposed) ?? [];

    public ItemSet ItemsWith(IEnumerable<TKey> keys) => lander.ItemsWith(keys);

    public IReadOnlyList<TItem> AskedItems(ItemSet items) => teller.AskedItems(items);

    public IReadOnlyList<TKey> AskedKeys(ItemSet items) => teller.AskedKeys(items);

    public TKey[] KeysOf(ItemSet items) => core.App.Ask(() => store.KeysOf(items));

    public string? SectionOf(Gap gap) => mover.KeyOf(gap);

    // ── Held over another list ──

    public bool HoverAway(GrabState grab, double x, double y)
    {
        return Group is { } group && HoverAway(group, grab, x, y);
    }

    private bool HoverAway(IExchange<TItem, TKey> group, GrabState grab, double x, double y)
    {
        var other = core.App.Ask(g => g.At(this, x, y), group, null);
        if (other?.List.Turns.IsDisposed == true) other = null;
        if (_host is not null && _host != other?.List) LeaveAway();
        if (other is not { } to) return false;
        if (_host is null)
        {
            _host = to.List;
            core.Commit(core.State with { Carrying = core.State.Carrying with { IsAway = true, Hover = null } });
            core.Trace(() => new TracedChange { T = core.Now, Change = "away", Reason = to.List.Title });
        }
        to.List.Welcome(this, grab, to.X, to.Y, core.Now);
        return true;
    }

    public void LeaveAway()
    {
        if (_host is not { } host) return;
        _host = null;
        host.Farewell();
        core.Commit(core.State with { Carrying = core.State.Carrying with { IsAway = false } });
    }

    /// <summary>Shows items of another list over a gap of this one.</summary>
    private void Welcome(Transfers<TItem, TKey> from, GrabState grab, double x, double y, double time) => turns.Inside(() =>
    {
        core.Now = Math.Max(core.Now, time);
        var at = y + core.Viewport.ScrollTop;
        var known = core.State.Carrying.Guest;
        var now = known is null ? -1 : core.Rows.RowBelow(known.Gap);
        var below = core.Geometry.GapAt(x, at, now, core.Options.Thresholds.GapSlack);
        var gap = known is not null && below == now ? known.Gap : core.Rows.GapAbove(below);
        var (kind, refusal) = known is not null && known.Gap == gap
            ? (known.IsTaken ? TransferKind.Take : TransferKind.Copy, known.Refusal) : Decide(from, grab.Items, gap);
        var pressed = from.Store.ItemAt(grab.Pressed >= 0 ? grab.Pressed : grab.Items.Nth(0));
        var card = new GrabFrame(
            framer.ContentOf(pressed), grab.Items.Count, y - grab.Offset, core.Geometry.RowHeight, refusal is null ? 0 : null)
        {
            IsMove = refusal is null,
            Refusal = refusal?.Reason,
            HasPointer = true,
            IsGuest = true,
            Left = core.Geometry.IsTiled ? x - grab.OffsetX : 0,
            Width = core.Geometry.ItemWidth,
        };
        core.Commit(core.State with { Carrying = core.State.Carrying with { Guest = new(gap, kind == TransferKind.Take, refusal, card) } });
    });

    private void Farewell()
    {
        _double = null;
        if (!turns.IsDisposed) turns.Inside(() => core.Commit(core.State with { Carrying = core.State.Carrying with { Guest = null } }));
    }

    /// <summary>What becomes of another list's items in a gap, and why they cannot come if they cannot.</summary>
    private (TransferKind Kind, Refusal? Refusal) Decide(Transfers<TItem, TKey> from, ItemSet items, Gap gap)
    {
        (TransferKind, Refusal?) No(RefusalKind kind, string reason) => (TransferKind.Refuse, new(kind, reason));
        if (core.Rows.Levels is not null || from.Core.Rows.Levels is not null)
            return No(RefusalKind.NotAvailable,
                "Items of an outline stay in it, and others do not come into it: they would have no place among its levels.");
        var kind = TransferKind.Take;
        if (Group is { } group
            && core.App.Try(() => group.Decide(from, this, items, gap), out kind,
            why => $"The app could not say whether the items can come into this list: {why}") is { } failed)
            return (TransferKind.Refuse, failed);
        if (kind == TransferKind.Refuse)
            return No(RefusalKind.NotAllowed, "The items may not be dropped in this list: the group's Decide says no.");
        if (projection.SortBy is not null) return No(RefusalKind.Sorted, "The list is sorted: there is no place to drop items in.");
        if (!from.Writer.CanWrite)
            return No(RefusalKind.NotAvailable, "The source of the list that the items are in cannot be written.");
        if (!writer.IsWritable)
            return No(RefusalKind.NotAvailable, "The source of the list that the items would come to cannot be written.");
        if (!core.Options.MayMove)
            return No(RefusalKind.NotAvailable, "The list that the items would come to moves none: set MayMove in its ListOptions.");
        if (gap.Section >= 0 && projection.Sections?.Assign is null)
            return No(RefusalKind.NotAllowed, "Items cannot come into a section: its sections have no Assign.");
        if (core.State.Showing.Pinned.NextAt(gap.Index) >= 0)
            return No(RefusalKind.Pinned, "A drop here would shift a pinned item, which stays where it is.");
        return store.HasOwnKeys && (kind == TransferKind.Take || Group?.Copy is null) && DoubleOf(from, items) is >= 0 and var there
            ? No(RefusalKind.NotAllowed, $"The list has an item with the key '{from.Core.KeyText(there)}' already.") : (kind, null);
    }

    /// <summary>
    /// The first of another list's items whose key an item here has, by its index there, or -1. Cost: log for each of the items, or of
    /// those that are here, whichever are fewer; once for all gaps that the same items come over.
    /// </summary>
    private int DoubleOf(Transfers<TItem, TKey> from, ItemSet items)
    {
        (Transfers<TItem, TKey>, long, long) at = (from, from.Core.Moment.Number, core.Moment.Number);
        if (_double is not { } known || known.At != at || !ReferenceEquals(known.Items, items))
            _double = known = (at, items, core.App.Ask(() => from.KeysIn(items, store)));
        return known.Index;
    }

    private ((Transfers<TItem, TKey>, long, long) At, ItemSet Items, int Index)? _double;

    private int KeysIn(ItemSet items, ItemStore<TItem, TKey> other)
    {
        var both = items.Count <= other.Count ? items.Where(i => other.IndexOf(store.KeyAt(i)) >= 0)
            : Enumerable.Range(0, other.Count).Select(i => store.IndexOf(other.KeyAt(i))).Where(i => i >= 0 && items.Contains(i)).Order();
        return both.FirstOrDefault(-1);
    }

    // ── Sent ──

    public Response DropAway(Act act, GrabState grab)
    {
        core.TraceAct(act);
        var host = _host;
        var guest = host is { Turns.IsDisposed: false } ? host.Core.State.Carrying.Guest : null;
        LeaveAway();
        if (guest is null || guest.Refusal is not null)
        {
            mover.PutBack();
            return core.Refuse(act, guest?.Refusal ?? new(RefusalKind.OutOfDate, "The list that the items were over is gone."));
        }
        mover.LetGo();
        core.Hint(HapticHint.Dropped);
        return TransferTo(host!, grab.Items, guest.Gap, guest.IsTaken, act);
    }

    /// <summary>Whether items could be sent to another list.</summary>
    public bool MaySend(Transfers<TItem, TKey> to, ItemSet items) => to.Decide(this, items, to.EndOf(null)).Refusal is null;

    private Gap EndOf(string? section) =>
        core.Rows.EndOf(section is null ? core.Rows.Sections.Length - 1 : core.Rows.SectionWith(section));

    /// <summary>Sends items to the end of another list, or of one of its sections.</summary>
    public Response Send(Transfers<TItem, TKey> to, IReadOnlyList<TKey> keys, string? section, string rule = "call")
    {
        var act = new Act(ActKind.Move, Rule: rule, Text: section);
        if (to.Turns.IsDisposed) return core.Refuse(act, new(RefusalKind.OutOfDate, "The other list is gone."));
        var (items, refusal) = mover.ToGrab(ItemsWith(keys), -1);
        if (refusal is not null) return core.Refuse(act, refusal);
        if (section is not null && to.Core.Rows.SectionWith(section) < 0) return core.Refuse(act, to.NoSection(section));
        var gap = to.EndOf(section);
        var (kind, why) = to.Decide(this, items, gap);
        if (why is not null) return core.Refuse(act, why);
        core.TraceAct(act);
        return TransferTo(to, items, gap, kind == TransferKind.Take, act);
    }

    private Refusal NoSection(string section) => lander.NoSection(section);

    /// <summary>Puts items into another list and, where they are taken, out of this one; if that fails, nothing is done.</summary>
    private Response TransferTo(Transfers<TItem, TKey> to, ItemSet items, Gap gap, bool taken, Act act)
    {
        TItem[] own = teller.ItemsOf(items);
        TItem[]? came = own;
        if (!taken && Group?.Copy is { } copy
            && core.App.Try(() => (TItem[])[.. own.Select(copy)], out came, why => $"The items could not be copied: {why}") is { } failed)
            return core.Refuse(act, failed);
        var transfer = new ItemTransfer<TItem, TKey>(this, to, own, came!, KeysOf(items), taken,
            KeptPlaces.At(gap.Index, to.Store.Count, to.Core.Moment), to.SectionOf(gap));
        if (transfer.Send() is { } refusal) return core.Refuse(act, refusal);
        core.Trace(() => new TracedChange
        {
            T = core.Now,
            Change = taken ? "taken" : "copied",
            Gap = gap.Index,
            Moved = [.. transfer.OwnKeys.Take(Words.Keys).Select(store.TextOf)],
            Reason = to.Title,
        });
        var (mine, others) = TransferStep<TItem, TKey>.Pair(transfer, isBack: false, (history, core.Options.Phrases.Move),
            (to.History, to.Core.Options.Phrases.Move));
        history.Keep(mine);
        to.Turns.Inside(() => to.History.Keep(others));
        string Say(Phrases phrases) => phrases.SentTo(Others.First(o => o.List == to).Title, items.Count, !taken);
        core.Announce(Say);
        lander.Offer(act, Say, mine);
        return Response.Handled;
    }

    /// <summary>Why items that are to be taken out are not there any more; null where they are.</summary>
    internal Refusal? WhyGone(TItem[] items, TKey[] keys)
    {
        for (var i = 0; i < keys.Length; i++)
            if (store.IndexOfKept(keys[i]) < 0)
                return new(RefusalKind.OutOfDate,
                    "This makes no sense any more: " +
                        $"the item '{CommandStep<TItem, TKey>.NameOf(store, items[i], keys[i])}' has left its list since.");
        return null;
    }

    /// <summary>Why items cannot come in since one with the key of one of them is there; null where none is.</summary>
    internal Refusal? WhyThere(TItem[] items)
    {
        if (!store.HasOwnKeys) return null;
        foreach (var item in items)
            if (core.App.Ask(() => store.IndexOfItem(item)) is >= 0 and var there)
                return new(RefusalKind.OutOfDate, $"The list has an item with the key '{store.TextOf(store.KeptKeyAt(there))}' already.");
        return null;
    }

    /// <summary>
    /// The keys of items that were put in again: those without keys of their own have others now. Each was put at its index when those
    /// before it were in; those after it have shifted it since.
    /// </summary>
    internal TKey[] KeysAgain(TKey[] keys, int[] at)
    {
        if (store.HasOwnKeys) return keys;
        var now = new TKey[keys.Length];
        // In order none shifts another: of very many that come back that is so.
        var rises = true;
        for (var k = 1; k < at.Length && rises; k++) rises = at[k - 1] < at[k];
        for (var k = 0; k < at.Length; k++)
        {
            var index = at[k];
            for (var later = k + 1; later < at.Length && !rises; later++)
                if (at[later] <= index) index++;
            index = Math.Min(index, store.Count - 1);
            now[k] = store.KeptKeyAt(index);
            store.CameBack(keys[k], index);
        }
        return now;
    }
}

/// <summary>
/// Items that went from one list to another: what is needed to take them back, and to send them again. Each way is done in both lists, or
/// in neither.
/// </summary>
internal sealed class ItemTransfer<TItem, TKey>(
    Transfers<TItem, TKey> from, Transfers<TItem, TKey> to, TItem[] own, TItem[] came, TKey[] ownKeys, bool taken, KeptPlaces gap,
        string? section) where TKey : notnull
{
    private TKey[] _ownKeys = ownKeys, _cameKeys = [];
    private ReturnPlaces<TItem, TKey>? _places;
    private string[] _sections = [];

    public IReadOnlyList<TKey> OwnKeys => _ownKeys;

    private static int[] Indexes(ReturnPlaces<TItem, TKey> places, Transfers<TItem, TKey> list, int count) =>
        ReturnPlaces<TItem, TKey>.Indexes(places.Gaps([.. Enumerable.Range(0, count)], ItemSet.None(list.Store.Count)));

    public Refusal? Send()
    {
        if (to.Turns.IsDisposed) return new(RefusalKind.OutOfDate, "The other list is gone.");
        if ((from.WhyGone(own, _ownKeys) ?? to.WhyThere(came)) is { } why) return why;
        var items = from.ItemsWith(_ownKeys);
        _sections = [.. items.Select(i => from.Writer.SectionOf(i) ?? "")];
        string[] into = [.. came.Select(_ => section ?? "")], before = [.. came.Select((_, i) => taken ? _sections[i] : "\0")];
        if (section is not null && to.Writer.Assign(came, into, before) is { } unassigned) return unassigned;
        var at = Math.Min(gap.Gaps[0], to.Store.Count);
        var refusal = to.Splicer.Splice(at, 0, came);
        if (refusal is null)
        {
            _cameKeys = [.. Enumerable.Range(at, came.Length).Select(to.Store.KeptKeyAt)];
            if (!taken) return null;
            _places = ReturnPlaces<TItem, TKey>.Of(from.Store, items, from.Core.Moment);
            refusal = from.Splicer.TakeOut(from.ItemsWith(_ownKeys));
            if (refusal is null) return null;
            // They could not leave: what came is taken out again.
            _ = to.Splicer.TakeOut(to.ItemsWith(_cameKeys));
        }
        if (section is not null && taken) _ = to.Writer.Assign(came, before, into);
        return refusal;
    }

    public Refusal? Fetch()
    {
        if (to.Turns.IsDisposed) return new(RefusalKind.OutOfDate, "The other list is gone.");
        if ((to.WhyGone(came, _cameKeys) ?? (taken ? from.WhyThere(own) : null)) is { } why) return why;
        var places = ReturnPlaces<TItem, TKey>.Of(to.Store, to.ItemsWith(_cameKeys), to.Core.Moment);
        if (to.Splicer.TakeOut(to.ItemsWith(_cameKeys)) is { } stays) return stays;
        if (!taken) return null;
        string[] now = [.. own.Select(_ => section ?? "\0")];
        var hasSections = !from.Core.State.Showing.Sections.IsEmpty;
        var refusal = hasSections ? from.Writer.Assign(own, _sections, now) : null;
        if (refusal is null)
        {
            var at = Indexes(_places!, from, own.Length);
            refusal = from.Splicer.PutIn(own, at);
            if (refusal is null)
            {
                _ownKeys = from.KeysAgain(_ownKeys, at);
                return null;
            }
            if (hasSections && section is not null) _ = from.Writer.Assign(own, now, _sections);
        }
        _ = to.Splicer.PutIn(came, Indexes(places, to, came.Length));
        return refusal;
    }
}

/// <summary>A transfer, as a step of one of the two lists. Taken back in either, it is in both.</summary>
internal sealed class TransferStep<TItem, TKey> : UndoStep where TKey : notnull
{
    private readonly ItemTransfer<TItem, TKey> _transfer;
    private readonly bool _isBack;
    private readonly Historian _history;
    private TransferStep<TItem, TKey>? _twin;

    private TransferStep(ItemTransfer<TItem, TKey> transfer, bool isBack, Historian history, string name) : base(name) =>
        (_transfer, _isBack, _history) = (transfer, isBack, history);

    /// <summary>The step in each of the two lists.</summary>
    public static (TransferStep<TItem, TKey> Mine, TransferStep<TItem, TKey> Others) Pair(
        ItemTransfer<TItem, TKey> transfer, bool isBack, (Historian History, string Name) mine, (Historian History, string Name) others)
    {
        TransferStep<TItem, TKey> one = new(transfer, isBack, mine.History, mine.Name),
            other = new(transfer, isBack, others.History, others.Name);
        (one._twin, other._twin) = (other, one);
        return (one, other);
    }

    public override Refusal? Apply(ActKind kind, out UndoStep inverse)
    {
        inverse = this;
        var twin = _twin!;
        var refusal = _isBack ? _transfer.Send() : _transfer.Fetch();
        var (mine, others) = Pair(_transfer, !_isBack, (_history, Name), (twin._history, twin.Name));
        twin._history.Follow(twin, refusal is null ? others : null, kind);
        if (refusal is null) inverse = mine;
        return refusal;
    }
}
