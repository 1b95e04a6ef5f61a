using System.Collections.Immutable;
using System.Numerics;
using Lectica.Items;
using Lectica.States;

namespace Lectica.Shell;

/// <summary>
/// What the app says of its items: whether they show, are enabled or pinned, in which sections and order; and the rows that come of it. In
/// an edit only the items that came in are asked about. Where the app fails then, an item shows, is enabled, and is in a section of its own
/// key, "".
/// </summary>
internal sealed class Projection<TItem, TKey>(Core core, ItemStore<TItem, TKey> store, Arranger<TItem, TKey> arranger) where TKey : notnull
{
    // So many sections without items keep their places, in addition to as many as there are with some.
    private const int EmptySections = 16;

    private SortedOrder<TItem, TKey>? _order;

    // Another one where items, or what the app says of them, may be others.
    private long _version;

    public Func<TItem, bool>? Filter { get; private set; }

    public Func<TItem, bool>? EnabledWhen { get; private set; }

    public Func<TItem, bool>? PinnedWhen { get; private set; }

    public Sections<TItem>? Sections { get; private set; }

    public Comparison<TItem>? SortBy { get; private set; }

    /// <summary>What of it asks each item; null where nothing does.</summary>
    public string? ByItem =>
        Filter is not null ? "Filter" : EnabledWhen is not null ? "EnabledWhen" : PinnedWhen is not null ? "PinnedWhen"
        : Sections is not null ? "Sections" : SortBy is not null ? "SortBy" : null;

    private void CheckNotPaged(object? given, string name)
    {
        if (given is not null && store.Pages is not null)
            throw new InvalidOperationException(
                $"{name} asks each item, and a paged list has not read them all. Let the source do it: its query filters, sorts and " +
                    "makes sections.");
    }

    /// <summary>Whether items lie in levels.</summary>
    public bool IsOutline => arranger.Outline is not null;

    /// <summary>Why items can be put in no other order than the source's; null where they can.</summary>
    public string? WhyNoOrder =>
        store.Pages is not null ? "The list is paged, and has not read all items: sort the source's query instead." : IsOutline
        ? "An outline has the order of its source." : null;

    private void CheckNoOutline(object? given, string name)
    {
        if (given is not null && IsOutline)
            throw new InvalidOperationException(name == "Sections"
                ? "Sections cannot be set in an outline: its first level has the part of sections. Set Outline to null first."
                : $"{name} cannot be set in an outline: its order is that of the source. Set Outline to null first.");
    }

    private bool Asks =>
        Filter is not null || EnabledWhen is not null || PinnedWhen is not null || Sections is not null || SortBy is not null;

    // ── Set by the app: an exception leaves all as it was ──

    public void SetFilter(Func<TItem, bool>? filter)
    {
        CheckNotPaged(filter, "Filter");
        Set(s => s with { Shown = Where(filter, true), IsFiltered = filter is not null }, () => Filter = filter, "filter");
    }

    public void SetEnabled(Func<TItem, bool>? enabled)
    {
        CheckNotPaged(enabled, "EnabledWhen");
        Set(s => s with { Disabled = Where(enabled, true).Complement() }, () => EnabledWhen = enabled, "source");
    }

    public void SetPinned(Func<TItem, bool>? pinned)
    {
        CheckNotPaged(pinned, "PinnedWhen");
        Set(s => s with { Pinned = Where(pinned, false) }, () => PinnedWhen = pinned, "source");
    }

    public void SetSections(Sections<TItem>? sections)
    {
        CheckNotPaged(sections, "Sections");
        CheckNoOutline(sections, "Sections");
        var before = Sections;
        Set(s => s with
        {
            Sections = sections is null ? [] : Sorted(sections, ReferenceEquals(sections, before) ? s.Sections : []),
            Lingering = [],
        }, () => Sections = sections, "source");
    }

    public void SetOrder(Comparison<TItem>? compare)
    {
        CheckNotPaged(compare, "SortBy");
        CheckNoOutline(compare, "SortBy");
        var order = compare is null ? null : new SortedOrder<TItem, TKey>(store, compare);
        core.App.Ask(() =>
        {
            order?.Sort(SectionsIn(core.State.Showing));
            return true;
        });
        TakeOrder(compare, order);
    }

    /// <summary>Begins to put all items in another order.</summary>
    public NextOrder<TItem, TKey> Begin(Comparison<TItem> compare) => new(compare, store, SectionsIn(core.State.Showing), _version);

    /// <summary>
    /// Takes over an order that is laid out. What has come, left or changed meanwhile is put right in it; where the app cannot compare
    /// that, the order before stays, and the error is thrown when all is told.
    /// </summary>
    public bool SetOrder(NextOrder<TItem, TKey> next)
    {
        var isRight = next.Version == _version || core.App.Ask(_ =>
        {
            next.Order.Sort(SectionsIn(core.State.Showing));
            return true;
        }, 0, false);
        if (isRight) TakeOrder(next.Compare, next.Order);
        return isRight;
    }

    private void TakeOrder(Comparison<TItem>? compare, SortedOrder<TItem, TKey>? order)
    {
        (SortBy, _order) = (compare, order);
        core.Commit(core.State with { Showing = WithPlaces(core.State.Showing with { Order = order }) }, cause: "source");
    }

    private void Set(Func<Showing, Showing> change, Action declare, string cause)
    {
        var showing = core.App.Ask(() => change(core.State.Showing));
        var resorted = showing.Sections != core.State.Showing.Sections;
        if (_order is not null && resorted) core.App.Ask(() =>
        {
            _order.Sort(SectionsIn(showing));
            return true;
        });
        _version++;
        declare();
        core.Commit(core.State with { Showing = WithPlaces(showing) }, cause: cause);
    }

    private ItemSet Where(Func<TItem, bool>? says, bool otherwise) =>
        says is not null ? store.Where(says) : otherwise ? ItemSet.All(store.Count) : ItemSet.None(store.Count);

    /// <summary>Asks about all items again, where the app has changed what it says. An exception leaves all as it was.</summary>
    public Showing AskAll(Showing showing) => core.App.Ask(() =>
    {
        _version++;
        var next = showing with
        {
            Shown = Where(Filter, true),
            Disabled = Where(EnabledWhen, true).Complement(),
            Pinned = Where(PinnedWhen, false),
        };
        if (Sections is { } sections) next = next with { Sections = Sorted(sections, showing.Sections), Lingering = [] };
        _order?.Sort(SectionsIn(next));
        return WithPlaces(next);
    });

    private Showing WithPlaces(Showing showing) =>
        _order is null || showing.Order is null ? showing with { Order = null, ShownPlaces = null }
        : showing with
        {
            ShownPlaces = showing.Shown.IsAll ? ItemSet.All(_order.Count)
                : ItemSet.Where(_order.Count, p => showing.Shown.Contains(_order.ItemAt(p))),
        };

    // ── Sections ──

    /// <summary>The sections for all items. Those that have come up before keep their places.</summary>
    private ImmutableArray<SectionRows> Sorted(Sections<TItem> sections, ImmutableArray<SectionRows> before)
    {
        var members = new Dictionary<string, List<int>>();
        foreach (var key in sections.Order.Concat(before.Select(s => s.Key))) members.TryAdd(key, []);
        for (var i = 0; i < store.Count; i++)
        {
            var key = SectionOf(sections, i);
            if (!members.TryGetValue(key, out var items)) members[key] = items = [];
            items.Add(i);
        }
        return [.. members.Select(m => Section(sections, m.Key, ItemSet.Of(store.Count, m.Value)))];
    }

    private static SectionRows Section(Sections<TItem> sections, string key, ItemSet members)
    {
        var isListed = sections.Order.Contains(key) && sections.EmptyText is not null;
        return new(key, sections.TitleOf?.Invoke(key) ?? key, members, false, isListed ? sections.EmptyText!(new(key, false)) : null)
        {
            Filtered = isListed ? sections.EmptyText!(new(key, true)) : null,
        };
    }

    private string SectionOf(Sections<TItem> sections, int index)
    {
        try
        {
            return sections.Of(store.ItemAt(index)) ?? throw new SectionException(store.KeptKeyAt(index), index, null);
        }
        catch (Exception e) when (e is not SectionException)
        {
            throw new SectionException(store.KeptKeyAt(index), index, e);
        }
    }

    private static Func<int, int>? SectionsIn(Showing showing)
    {
        if (showing.Sections.IsEmpty) return null;
        var sections = showing.Sections;
        var at = new int[showing.Shown.Universe];
        for (var s = 0; s < sections.Length; s++)
            foreach (var i in sections[s].Members) at[i] = s;
        return i => at[i];
    }

    // ── Edits, and items that have changed ──

    /// <summary>The slots of items that are about to leave, which an edit needs to take them out of the order.</summary>
    public int[] Leaving(int at, int count) => _order is null || count == 0 ? [] : [.. Enumerable.Range(at, count).Select(store.SlotAt)];

    /// <summary>Takes what the app says through an edit that the store has made.</summary>
    /// <param name="showing">What shows, by the new indexes.</param>
    /// <param name="edit">The edit.</param>
    /// <param name="leaving">The slots of the items that have left.</param>
    /// <param name="asked">The items to ask about; all where null.</param>
    public Showing Complete(Showing showing, Edit edit, int[] leaving, ItemSet? asked)
    {
        _version++;
        return InLevels(Completed(showing.HasSource ? showing : showing with { HasSource = true }, edit, leaving, asked), edit, asked);
    }

    /// <summary>The levels that items of an outline have after an edit, and what shows for it.</summary>
    private Showing InLevels(Showing showing, Edit edit, ItemSet? asked)
    {
        if (arranger.Outline is { } outline) return InLevels(showing, outline, edit, asked);
        return showing.Branching is null ? showing : showing with { Branching = null };
    }

    private Showing InLevels(Showing showing, Outline<TItem, TKey> outline, Edit edit, ItemSet? asked)
    {
        var known = asked is null ? null : showing.Branching;
        var unread = known?.Unread ?? ItemSet.None(store.Count);
        if (outline.HasUnread is { } has)
            unread = asked is null ? core.App.Where(store, has, false)
                : asked.Aggregate(unread, (set, i) => set.With(i, core.App.Ask(has, store.ItemAt(i), false)));
        return showing with
        {
            Branching = known?.With(arranger.Next, showing.Shown, unread, edit, outline.OpenLevels)
                ?? showing.Branching?.Whole(arranger.Next, showing.Shown, unread, edit, outline.OpenLevels)
                ?? Branching.Of(arranger.Next, showing.Shown, showing.IsFiltered, unread, outline.OpenLevels),
        };
    }

    private Showing Completed(Showing showing, Edit edit, int[] leaving, ItemSet? asked)
    {
        if (!Asks) return showing;
        if (asked is null || asked.Count > 64) return InOrder(CompleteMany(showing, asked), edit, leaving, asked);
        var next = showing;
        foreach (var i in asked)
        {
            var item = store.ItemAt(i);
            if (Filter is { } filter) next = next with { Shown = next.Shown.With(i, core.App.Ask(filter, item, true)) };
            if (EnabledWhen is { } enabled) next = next with { Disabled = next.Disabled.With(i, !core.App.Ask(enabled, item, true)) };
            if (PinnedWhen is { } pinned) next = next with { Pinned = next.Pinned.With(i, core.App.Ask(pinned, item, false)) };
        }
        if (Sections is { } sections && !asked.IsEmpty) next = InSections(next, sections, asked);
        return InOrder(next, edit, leaving, asked);
    }

    private Showing InOrder(Showing showing, Edit edit, int[] leaving, ItemSet? asked) =>
        _order is null ? showing
        : asked is null || IsCheaperAnew(asked.Count) || (edit.AsSplice is null && edit.Moved is null) ? Resorted(showing)
        : Reordered(showing, leaving, edit.Moved is { } moved ? [.. asked, .. edit.Apply(moved)] : [.. asked]);

    // To look through all costs a comparison each; to put one in its place costs those of a binary search.
    private bool IsCheaperAnew(int items) => (long)items * BitOperations.Log2((uint)store.Count + 1) > store.Count;

    private Showing CompleteMany(Showing showing, ItemSet? asked)
    {
        var about = asked ?? ItemSet.All(store.Count);
        ItemSet Answer(ItemSet before, Func<TItem, bool>? says, bool otherwise, bool turned)
        {
            if (says is null) return before;
            var yes = about.IsAll ? core.App.Where(store, says, otherwise) : core.App.Where(store, about, says, otherwise);
            return before.Except(about).Union(turned ? about.Except(yes) : yes);
        }
        var next = showing with
        {
            Shown = Answer(showing.Shown, Filter, true, false),
            Disabled = Answer(showing.Disabled, EnabledWhen, true, true),
            Pinned = Answer(showing.Pinned, PinnedWhen, false, false),
        };
        if (Sections is { } sections) next = InSections(next, sections, about);
        return next;
    }

    /// <summary>Sorts everything from scratch; where the app cannot compare, the source's order stands in.</summary>
    private Showing Resorted(Showing showing)
    {
        var done = core.App.Ask(_ =>
        {
            _order!.Sort(SectionsIn(showing));
            return true;
        }, 0, false);
        if (!done)
        {
            var plain = new SortedOrder<TItem, TKey>(store, (_, _) => 0);
            plain.Sort(SectionsIn(showing));
            _order!.Take(plain);
        }
        return WithPlaces(showing with { Order = _order });
    }

    /// <summary>Puts items into the sections that the app says.</summary>
    private Showing InSections(Showing showing, Sections<TItem> sections, ItemSet about)
    {
        var byKey = new Dictionary<string, List<int>>();
        foreach (var index in about)
        {
            var key = core.App.Ask(i => SectionOf(sections, i), index, "");
            if (!byKey.TryGetValue(key, out var items)) byKey[key] = items = [];
            items.Add(index);
        }
        var known = new HashSet<string>();
        var next = ImmutableArray.CreateBuilder<SectionRows>(showing.Sections.Length + 1);
        // A list that had no items has no sections yet.
        var before = showing.Sections.IsEmpty
            ? [.. sections.Order.Distinct().Select(k => NewSection(sections, k, ItemSet.None(store.Count)))] : showing.Sections;
        foreach (var section in before)
        {
            known.Add(section.Key);
            var members = section.Members.Except(about);
            next.Add(section with
            {
                Members = byKey.TryGetValue(section.Key, out var items) ? members.Union(ItemSet.Of(store.Count, items)) : members,
            });
        }
        foreach (var (key, items) in byKey)
            if (!known.Contains(key)) next.Add(NewSection(sections, key, ItemSet.Of(store.Count, items)));
        return Pruned(showing with
        {
            Sections = next.DrainToImmutable(),
            Lingering = [.. showing.Lingering.Where(l => !about.Contains(l.Index))],
        }, sections);
    }

    private SectionRows NewSection(Sections<TItem> sections, string key, ItemSet members) =>
        core.App.Ask(k => Section(sections, k, members), key, new SectionRows(key, key, members, false, null));

    /// <summary>Sections that came and went are forgotten in the end.</summary>
    private static Showing Pruned(Showing showing, Sections<TItem> sections)
    {
        var empty = showing.Sections.Count(s => s.Members.IsEmpty);
        if (empty <= EmptySections + (showing.Sections.Length - empty) + sections.Order.Count) return showing;
        var gone = showing.Sections.Where(s => s.Members.IsEmpty && !sections.Order.Contains(s.Key)).Select(s => s.Key).ToHashSet();
        return showing with
        {
            Sections = [.. showing.Sections.Where(s => !gone.Contains(s.Key))],
            Collapsed = showing.Collapsed.Except(gone),
        };
    }

    /// <summary>Takes items out of the order and puts others in, each in its section.</summary>
    private Showing Reordered(Showing showing, int[] leaving, int[] coming)
    {
        var order = _order!;
        var places = showing.ShownPlaces ?? ItemSet.None(0);
        foreach (var slot in leaving) places = places.Splice(order.Remove(slot), 1, 0);
        var known = order.Count + coming.Length > store.Count;
        if (known)
            foreach (var index in coming)
                if (order.Contains(store.SlotAt(index))) places = places.Splice(order.Remove(store.SlotAt(index)), 1, 0);
        var counts = new int[Math.Max(1, showing.Sections.Length)];
        for (var s = 0; s < showing.Sections.Length; s++) counts[s] = showing.Sections[s].Members.Count;
        if (showing.Sections.IsEmpty) counts[0] = store.Count;
        int SectionOf(int index)
        {
            for (var s = 0; s < showing.Sections.Length; s++)
                if (showing.Sections[s].Members.Contains(index)) return s;
            return 0;
        }
        foreach (var index in coming) counts[SectionOf(index)]--;
        foreach (var index in coming)
        {
            var section = SectionOf(index);
            var from = 0;
            for (var s = 0; s < section; s++) from += counts[s];
            var (first, end) = (from, from + counts[section]);
            var place = core.App.Ask(i => order.Insert(i, first, end), index, -1);
            if (place < 0) order.InsertAt(index, place = end);
            counts[section]++;
            places = places.Splice(place, 0, 1, showing.Shown.Contains(index));
        }
        return showing with { Order = order, ShownPlaces = places, OrderVersion = showing.OrderVersion + 1 };
    }

    /// <summary>
    /// Asks about items again: what was done to them may have changed what the app says. Where it fails, they stay as they are.
    /// </summary>
    /// <param name="items">The items.</param>
    /// <param name="lingers">Whether one that goes to another section may stay a moment.</param>
    public void Reconsider(ItemSet items, bool lingers)
    {
        var now = core.State.Showing;
        _version++;
        if (IsOutline && Reread(items)) return;
        if (!Asks || items.IsEmpty)
        {
            core.Out.ChangeFrame();
            return;
        }
        int[] asked = [.. items];
        var (shown, disabled, pins) = (now.Shown, now.Disabled, now.Pinned);
        foreach (var i in asked)
        {
            var item = store.ItemAt(i);
            if (Filter is { } filter) shown = shown.With(i, core.App.Ask(filter, item, now.Shown.Contains(i)));
            if (EnabledWhen is { } enabled) disabled = disabled.With(i, !core.App.Ask(enabled, item, !now.Disabled.Contains(i)));
            if (PinnedWhen is { } pinned) pins = pins.With(i, core.App.Ask(pinned, item, now.Pinned.Contains(i)));
        }
        var isSame = ReferenceEquals(shown, now.Shown) && ReferenceEquals(disabled, now.Disabled) && ReferenceEquals(pins, now.Pinned);
        var next = isSame ? now : now with { Shown = shown, Disabled = disabled, Pinned = pins };
        if (Sections is { } sections) next = Resectioned(next, sections, asked, lingers);
        if (next.Branching is { } branching && !ReferenceEquals(next.Shown, branching.Shown))
            next = next with { Branching = branching.Reshown(next.Shown, asked) };
        if (_order is not null) next = IsCheaperAnew(asked.Length) ? Resorted(next) : Reordered(next, [], asked);
        core.Out.ChangeFrame();
        core.Commit(core.State with { Showing = next }, cause: "source");
    }

    /// <summary>Has the source read again: items lie elsewhere in an outline.</summary>
    public Action ReadSource { get; set; } = () => { };

    /// <summary>
    /// What lies elsewhere in an outline, or has been read below, since its item changed; whether all has been read again for it.
    /// </summary>
    private bool Reread(ItemSet items)
    {
        if (core.State.Showing.Branching is not { } branching) return false;
        if (items.Any(i => core.App.Ask(arranger.HasMoved, i, false)))
        {
            ReadSource();
            return true;
        }
        if (arranger.Outline!.HasUnread is not { } has) return false;
        var unread = items.Aggregate(branching.Unread, (set, i) => set.With(i, core.App.Ask(has, store.ItemAt(i), false)));
        if (!ReferenceEquals(unread, branching.Unread))
            core.Commit(core.State with { Showing = core.State.Showing with { Branching = branching with { Unread = unread } } },
                cause: "source");
        return false;
    }

    private Showing Resectioned(Showing showing, Sections<TItem> sections, int[] asked, bool lingers)
    {
        var leave = new List<int>();
        var lingering = showing.Lingering.RemoveAll(l => Array.BinarySearch(asked, l.Index) >= 0).ToBuilder();
        foreach (var index in asked)
        {
            var here = showing.Sections.FirstOrDefault(s => s.Members.Contains(index));
            var key = core.App.Ask(i => SectionOf(sections, i), index, here?.Key ?? "");
            if (key == here?.Key) continue;
            if (lingers && sections.LingerTime > 0) lingering.Add(new(index, core.Now + sections.LingerTime));
            else leave.Add(index);
        }
        if (lingering.Count > 0 || !showing.Lingering.IsEmpty) showing = showing with { Lingering = lingering.ToImmutable() };
        return leave.Count == 0 ? showing : InSections(showing, sections, ItemSet.Of(store.Count, leave));
    }

    /// <summary>Lets items that have lingered long enough go to their sections.</summary>
    public void EndLingering(double time)
    {
        if (core.State.Showing.Due is { } due && due <= time) Leave(time);
    }

    private void Leave(double time) =>
        Reconsider(ItemSet.Of(store.Count, core.State.Showing.Lingering.Where(l => l.Until <= time).Select(l => l.Index)), lingers: false);
}
