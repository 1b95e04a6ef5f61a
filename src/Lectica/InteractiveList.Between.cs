using Lectica.Acts;
using Lectica.Frames;
using Lectica.Items;
using Lectica.Moving;

namespace Lectica;

// Items that go to another list of the same group, and items that come from one.
public sealed partial class InteractiveList<TItem, TKey>
{
    /// <summary>Items of another list that are over this one.</summary>
    private sealed record Guest(GapPlace Gap, TransferKind Kind, Refusal? Refusal, GrabFrame Frame);

    private ListGroup<TItem, TKey>? _group;
    private InteractiveList<TItem, TKey>? _host;
    private Guest? _guest;

    /// <summary>Whether what is grabbed here is over another list.</summary>
    private bool _away;

    internal void Join(ListGroup<TItem, TKey> group)
    {
        CheckContext();
        if (_group is not null) throw new ArgumentException("The list is in a group already; it may be in one.");
        _group = group;
    }

    /// <summary>Takes what is grabbed over another list of the group, if the pointer is there.</summary>
    private bool HoverElsewhere(double x, double y) => _group is { } group && HoverElsewhere(group.At(this, x, y));

    private bool HoverElsewhere((InteractiveList<TItem, TKey> List, double X, double Y)? other)
    {
        if (_host is not null && _host != other?.List) LeaveHost();
        if (other is not { } to) return false;
        if (_host is null)
        {
            (_host, _away, _hover, _placesMoved) = (to.List, true, null, true);
            Trace(() => new() { Stage = "change", T = _now, Change = "away", Reason = to.List.Title });
        }
        var grab = _grab!;
        to.List.Welcome(this, grab.Items, grab.Pressed >= 0 ? grab.Pressed : grab.Items.Nth(0), to.Y, grab.Offset, _now);
        return true;
    }

    private void LeaveHost()
    {
        if (_host is not { } host) return;
        host.Farewell();
        (_host, _away) = (null, false);
        ChangeFrame();
    }

    /// <summary>Shows items of another list over a gap of this one.</summary>
    private void Welcome(InteractiveList<TItem, TKey> from, ItemSet items, int pressed, double y, double offset, double time) => RunAsGuest(() =>
    {
        _now = Math.Max(_now, time);
        var at = y + _viewport.ScrollTop;
        var now = _guest is { } known ? _rows.RowBelow(known.Gap) : -1;
        var below = now < 0 ? GrabState.RowBelow(at, Geometry, -1, 0) : GrabState.RowBelow(at, Geometry, now, Options.Thresholds.GapSlack);
        var gap = _guest is { } same && below == now ? same.Gap : _rows.GapAbove(below);
        var (kind, refusal) = _guest is { } asked && asked.Gap == gap ? (asked.Kind, asked.Refusal) : Decide(from, items, gap);
        var item = from._store.ItemAt(pressed);
        _guest = new(gap, kind, refusal, new(_content?.Invoke(item) ?? new(item?.ToString() ?? ""), items.Count, y - offset, Options.RowHeight, refusal is null ? 0 : null, refusal is null, refusal?.Reason, true, true));
        ChangeFrame();
    });

    private void Farewell() => RunAsGuest(() =>
    {
        _guest = null;
        ChangeFrame();
    });

    /// <summary>A step that another list asks for from inside its own: now, also where this one is at work itself.</summary>
    private void RunAsGuest(Action step)
    {
        if (_busy)
        {
            step();
            return;
        }
        Run(_ =>
        {
            step();
            return Response.Handled;
        });
    }

    /// <summary>What becomes of another list's items in a gap, and why they cannot come if they cannot.</summary>
    private (TransferKind Kind, Refusal? Refusal) Decide(InteractiveList<TItem, TKey> from, ItemSet items, GapPlace gap)
    {
        (TransferKind, Refusal?) No(RefusalKind kind, string reason) => (TransferKind.Refuse, new(kind, reason));
        var target = from.TargetOf(items);
        var kind = TransferKind.Take;
        try
        {
            if (_group?.Decide is { } decide) kind = decide(new(from, this, target.Items, target.Keys, gap.Index, SectionKeyOf(gap)));
        }
#pragma warning disable CA1031 // The app's own exception becomes a refusal that says where it came from.
        catch (Exception e)
#pragma warning restore CA1031
        {
            return No(RefusalKind.Failed, $"Whether the items can come into this list could not be told: {e.Message}");
        }
        if (kind == TransferKind.Refuse) return No(RefusalKind.NotAllowed, "The items may not be dropped in this list: the group's Decide says no.");
        if (_sortBy is not null) return No(RefusalKind.Sorted, "The list is sorted: there is no place to drop items in.");
        if (!MovesSource || !from.MovesSource) return No(RefusalKind.NotAvailable, $"Items cannot go from one list to the other: the source of {(MovesSource ? "the one" : "the other")} cannot be written.");
        if (gap.Section >= 0 && _sections?.Assign is null) return No(RefusalKind.NotAllowed, "Items cannot come into a section: its sections have no Assign.");
        if (_pinned.NextAt(gap.Index) >= 0) return No(RefusalKind.Pinned, "A drop here would shift a pinned item, which stays where it is.");
        if (_store.HasOwnKeys && (kind == TransferKind.Take || _group?.Copy is null))
            foreach (var key in target.Keys)
                if (IndexOf(key) >= 0) return No(RefusalKind.NotAllowed, $"The list has an item with the key '{key}' already.");
        return (kind, null);
    }

    private Response DropAway(Act act, GrabState grab)
    {
        TraceAct(act, null);
        var host = _host!;
        var guest = host._guest!;
        LeaveHost();
        if (guest.Refusal is not null)
        {
            PutBack();
            return Refuse(act, guest.Refusal);
        }
        EndGrab();
        Hint(HapticHint.Dropped);
        return TransferTo(host, grab.Items, guest.Gap, guest.Kind, act);
    }

    internal Response SendTo(InteractiveList<TItem, TKey> to, IEnumerable<TKey> keys, string? section)
    {
        TKey[] wanted = [.. keys];
        return Run(_ =>
        {
            var act = new Act(ActKind.Move, Text: section);
            var (items, refusal) = ToGrab(ItemsWith(wanted), -1);
            if (refusal is not null) return Refuse(act, refusal);
            if (section is not null && to._rows.SectionWith(section) < 0) return Refuse(act, to.NoSection(section));
            var gap = to._rows.EndOf(section is null ? to._rows.Sections.Length - 1 : to._rows.SectionWith(section));
            var (kind, why) = to.Decide(this, items, gap);
            if (why is not null) return Refuse(act, why);
            TraceAct(act, null);
            return TransferTo(to, items, gap, kind, act);
        });
    }

    /// <summary>Puts items into another list and, where they are taken, out of this one; if that fails, nothing is done.</summary>
    private Response TransferTo(InteractiveList<TItem, TKey> to, ItemSet items, GapPlace gap, TransferKind kind, Act act)
    {
        var taken = kind == TransferKind.Take;
        TItem[] own = ItemsOf(items), came = taken || _group?.Copy is not { } copy ? own : [.. own.Select(copy)];
        var stay = items.Complement();
        var state = new TransferState
        {
            Own = own,
            Came = came,
            OwnKeys = [.. items.Select(_store.KeyAt)],
            Places = [.. items.Select(i => NeighboursOf(i, stay))],
            Sections = _sections is null ? null : [.. items.Select(i => _rows.Sections[_rows.SectionOf(i)].Key)],
            CameTo = to.NeighboursOf(gap.Index, ItemSet.All(to.Count)),
            CameInto = to.SectionKeyOf(gap),
            Taken = taken,
        };
        if (Send(to, state) is { } refusal) return Refuse(act, refusal);
        Trace(() => new() { Stage = "change", T = _now, Change = taken ? "taken" : "copied", Gap = gap.Index, Moved = [.. state.OwnKeys.Take(TracedKeys).Select(TextOf)], Reason = to.Title });
        UndoStep Step(InteractiveList<TItem, TKey> at, bool here) => new()
        {
            Name = at.Options.Phrases.Move,
            Items = own,
            Keys = here ? state.OwnKeys : state.CameKeys,
            Gaps = [],
            Undo = _ => Fetch(to, state),
            Redo = _ => Send(to, state),
        };
        var (mine, others) = (Step(this, true), Step(to, false));
        (mine.Twin, others.Twin) = ((to, others), (this, mine));
        Keep(mine);
        to.RunAsGuest(() => to.Keep(others));
        return Response.Handled;
    }

    /// <summary>A transfer, so that it can be taken back and done again: what was where, by key.</summary>
    private sealed class TransferState
    {
        public required TItem[] Own { get; init; }
        public required TItem[] Came { get; init; }
        public required TKey[] OwnKeys { get; set; }
        public TKey[] CameKeys { get; set; } = [];
        public required Neighbours[] Places { get; init; }
        public required string[]? Sections { get; init; }
        public required Neighbours CameTo { get; init; }
        public required string? CameInto { get; init; }
        public required bool Taken { get; init; }
    }

    private Refusal? Send(InteractiveList<TItem, TKey> to, TransferState state)
    {
        foreach (var key in state.OwnKeys)
            if (IndexOf(key) < 0) return Gone(key);
        if (to._store.HasOwnKeys)
            foreach (var item in state.Came)
                if (to._store.IndexOfItem(item) is >= 0 and var there) return new(RefusalKind.OutOfDate, $"The list has an item with the key '{to._store.KeptKeyAt(there)}' already.");
        var gap = to.GapBetween(state.CameTo);
        if (gap < 0) gap = to.Count;
        if (state.CameInto is { } section)
            foreach (var item in state.Came)
                if (to.AssignOne(item, section) is { } refused) return refused;
        if (to.Write(gap, 0, state.Came) is { } refusal) return refusal;
        state.CameKeys = [.. Enumerable.Range(gap, state.Came.Length).Select(i => to._store.KeyAt(i))];
        if (!state.Taken) return null;
        foreach (var range in ItemsWith(state.OwnKeys).Ranges().Reverse().ToArray())
            if (Write(range.Start, range.Length, []) is { } stays) return stays;
        return null;
    }

    private Refusal? Fetch(InteractiveList<TItem, TKey> to, TransferState state)
    {
        foreach (var key in state.CameKeys)
            if (to.IndexOf(key) < 0) return Gone(key);
        if (state.Taken && _store.HasOwnKeys)
            foreach (var key in state.OwnKeys)
                if (IndexOf(key) >= 0) return new(RefusalKind.OutOfDate, $"The list has an item with the key '{key}' again already.");
        foreach (var range in to.ItemsWith(state.CameKeys).Ranges().Reverse().ToArray())
            if (to.Write(range.Start, range.Length, []) is { } stays) return stays;
        if (!state.Taken) return null;
        for (var i = 0; i < state.Own.Length; i++)
        {
            if (state.Sections is { } sections && AssignOne(state.Own[i], sections[i]) is { } refused) return refused;
            var gap = GapBetween(state.Places[i]);
            if (gap < 0) gap = Count;
            if (Write(gap, 0, [state.Own[i]]) is { } refusal) return refusal;
            state.OwnKeys[i] = _store.KeyAt(gap);
        }
        return null;
    }

    private static Refusal Gone(TKey key) => new(RefusalKind.OutOfDate, $"It makes no sense any more: the item '{key}' has left its list since.");

    private Refusal? AssignOne(TItem item, string section) => Assign([item], [section], [""]);

    /// <summary>Takes items out of the source and puts others in, by the list itself.</summary>
    private Refusal? Write(int at, int removed, TItem[] inserted)
    {
        if (_source is not IList<TItem> source || !MovesSource) return new(RefusalKind.NotAvailable, "The source cannot be written.");
        if (source.Count != Count) return new(RefusalKind.OutOfDate, $"The source holds {source.Count} items and the list {Count}: it has changed without saying so. Call Refresh.");
        Refusal? refusal = null;
        RunAsGuest(() =>
        {
            try
            {
                for (var i = 0; i < removed; i++) source.RemoveAt(at);
                for (var i = 0; i < inserted.Length; i++) source.Insert(at + i, inserted[i]);
                if (_live is not null) return;
                var departed = NewDeparted();
                Follow(_store.Splice(at, removed, inserted, departed), departed, []);
            }
#pragma warning disable CA1031 // The app's own exception becomes a refusal; what the source is now is read anew.
            catch (Exception e)
#pragma warning restore CA1031
            {
                refusal = new(RefusalKind.Failed, $"The source did not take the items: {e.Message} The list has read it anew.");
                Replace(_source);
            }
        });
        return refusal;
    }
}
