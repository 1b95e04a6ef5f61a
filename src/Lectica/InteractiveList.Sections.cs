using System.Collections.Immutable;
using Lectica.Acts;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Selecting;

namespace Lectica;

// Which items show where: sections with headings, sorting, the cursor on headings.
public sealed partial class InteractiveList<TItem, TKey>
{
    private readonly List<string> _sectionKeys = [];
    private readonly Dictionary<string, ItemSet> _sectionSets = [];
    private readonly HashSet<string> _collapsed = [];
    private readonly List<(int Index, double Until)> _lingering = [];
    private Sections<TItem>? _sections;
    private Comparison<TItem>? _sortBy;

    /// <summary>How items are put into sections; null for a list without. Setting it asks each item once; so do later edits for the items that they bring.</summary>
    /// <exception cref="SectionException">The function threw, or gave null. Nothing was changed.</exception>
    public Sections<TItem>? Sections
    {
        get => _sections;
        set
        {
            Run(_ =>
            {
                var sorted = value is null ? [] : Sort(value);
                _sections = value;
                TakeSections(sorted);
                ListenToItems();
                SetRows(_rows.Shown);
                SettleCursor();
                return Response.Handled;
            });
        }
    }

    /// <summary>
    /// The order in which items show, within each section where there are any; the source's where null. Setting it sorts, at n log n; so does each edit.
    /// Items that compare equal stay in the source's order. In a sorted view nothing can be moved.
    /// </summary>
    public Comparison<TItem>? SortBy
    {
        get => _sortBy;
        set => Run(_ =>
        {
            var old = _sortBy;
            _sortBy = value;
            try
            {
                SetRows(_rows.Shown);
            }
            catch
            {
                _sortBy = old;
                throw;
            }
            return Response.Handled;
        });
    }

    /// <summary>For each section the items in it, before anything of the list is changed.</summary>
    private Dictionary<string, List<int>> Sort(Sections<TItem> sections)
    {
        var sorted = new Dictionary<string, List<int>>();
        // Those that have come up before keep their places.
        foreach (var key in ReferenceEquals(sections, _sections) ? sections.Order.Concat(_sectionKeys) : sections.Order) sorted.TryAdd(key, []);
        for (var i = 0; i < Count; i++)
        {
            var key = SectionKey(sections, i);
            if (!sorted.TryGetValue(key, out var items)) sorted[key] = items = [];
            items.Add(i);
        }
        return sorted;
    }

    private void TakeSections(Dictionary<string, List<int>> sorted)
    {
        _sectionKeys.Clear();
        _sectionSets.Clear();
        _lingering.Clear();
        foreach (var (key, items) in sorted)
        {
            _sectionKeys.Add(key);
            _sectionSets[key] = ItemSet.Of(Count, items);
        }
    }

    private string SectionKey(Sections<TItem> sections, int index)
    {
        try
        {
            return sections.Of(_store.ItemAt(index)) ?? throw new SectionException(_store.KeptKeyAt(index), index, null);
        }
        catch (Exception e) when (e is not SectionException)
        {
            throw new SectionException(_store.KeptKeyAt(index), index, e);
        }
    }

    /// <summary>Takes the sections through an edit. An item for which the function fails comes into a section of its own key, "", and the error is thrown when the edit is through.</summary>
    private void FollowSections(Edit edit, IEnumerable<int> replaced, ref System.Runtime.ExceptionServices.ExceptionDispatchInfo? failed)
    {
        if (_sections is null) return;
        foreach (var key in _sectionKeys) _sectionSets[key] = edit.Apply(_sectionSets[key]);
        for (var i = _lingering.Count - 1; i >= 0; i--)
        {
            _lingering[i] = _lingering[i] with { Index = edit.Apply(_lingering[i].Index) };
            if (_lingering[i].Index < 0) _lingering.RemoveAt(i);
        }
        int[] ask = [.. edit.Inserted().Concat(replaced)];
        if (ask.Length == 0) return;
        var byKey = new Dictionary<string, List<int>>();
        foreach (var index in ask)
        {
            string key;
            try
            {
                key = SectionKey(_sections, index);
            }
            catch (SectionException e)
            {
                failed ??= System.Runtime.ExceptionServices.ExceptionDispatchInfo.Capture(e);
                key = "";
            }
            if (!byKey.TryGetValue(key, out var items)) byKey[key] = items = [];
            items.Add(index);
        }
        var asked = ItemSet.Of(Count, ask);
        foreach (var key in _sectionKeys) _sectionSets[key] = _sectionSets[key].Except(asked);
        foreach (var (key, items) in byKey) AddTo(key, ItemSet.Of(Count, items));
    }

    private void AddTo(string section, ItemSet items)
    {
        if (!_sectionSets.TryGetValue(section, out var set))
        {
            _sectionKeys.Add(section);
            set = ItemSet.None(Count);
        }
        _sectionSets[section] = set.Union(items);
    }

    /// <summary>Asks for the section of an item anew; whether it has gone to another. It may linger first.</summary>
    private bool Resection(int index, bool lingers)
    {
        if (_sections is not { } sections) return false;
        var key = SectionKey(sections, index);
        _lingering.RemoveAll(l => l.Index == index);
        if (_sectionSets.TryGetValue(key, out var set) && set.Contains(index)) return false;
        if (lingers && sections.LingerTime > 0)
        {
            _lingering.Add((index, _now + sections.LingerTime));
            return false;
        }
        foreach (var other in _sectionKeys) _sectionSets[other] = _sectionSets[other].With(index, false);
        AddTo(key, ItemSet.None(Count).With(index));
        return true;
    }

    private double? NextLinger => _lingering.Count == 0 ? null : _lingering.Min(l => l.Until);

    private void EndLingering(double time)
    {
        if (NextLinger <= time) MoveLingering(time);
    }

    private void MoveLingering(double time)
    {
        var moved = false;
        foreach (var (index, _) in _lingering.Where(l => l.Until <= time).ToArray()) moved |= Resection(index, lingers: false);
        if (moved) SetRows(_rows.Shown);
    }

    /// <summary>The rows for the items that show, as sections and sorting have them.</summary>
    private RowMap MakeRows(ItemSet shown)
    {
        ImmutableArray<SectionRows> sections = _sections is null ? [] :
            [.. _sectionKeys.Select(k => new SectionRows(k, _sections.TitleOf?.Invoke(k) ?? k, _sectionSets[k], _collapsed.Contains(k), _sections.Order.Contains(k) && _status is null && _source is not null ? _sections.EmptyText?.Invoke(k) : null))];
        ItemPermutation? order = null;
        if (_sortBy is { } compare)
        {
            var items = new int[shown.Length];
            var section = new int[shown.Length];
            for (var i = 0; i < items.Length; i++) items[i] = i;
            for (var s = 0; s < sections.Length; s++)
                foreach (var i in sections[s].Members) section[i] = s;
            Array.Sort(items, (a, b) => section[a] != section[b] ? section[a].CompareTo(section[b])
                : compare(_store.ItemAt(a), _store.ItemAt(b)) is var c && c != 0 ? c : a.CompareTo(b));
            order = new(items);
        }
        return new(shown, NoticeNow(shown.Length), sections, order);
    }

    /// <summary>The keys of the collapsed sections.</summary>
    public IEnumerable<string> CollapsedSections => _sectionKeys.Where(_collapsed.Contains);

    /// <summary>The number of items of a section that show, and whether all, some or none of those that can be are selected.</summary>
    /// <exception cref="ArgumentException">There is no such section.</exception>
    public (int Count, TriState State) SectionState(string section)
    {
        var at = _rows.SectionWith(section);
        if (at < 0) throw new ArgumentException($"There is no section '{section}'; there are {string.Join(", ", _sectionKeys)}.", nameof(section));
        var shown = _rows.ShownIn(at);
        return (shown.Count, Selector.StateOf(_selection.Items, shown.Except(_disabled)));
    }

    /// <summary>Collapses a section, or expands it again.</summary>
    public Response CollapseOrExpand(string section) => Run(_ => CollapseOrExpand(new Act(ActKind.CollapseOrExpand, Text: section)));

    /// <summary>Selects all items of a section that show and are enabled, or takes them out if they are all in.</summary>
    public Response ToggleSection(string section) => Run(_ => ToggleSection(new Act(ActKind.ToggleSection, Text: section)));

    /// <summary>Turns a mark of a section round: on if it is off or mixed, else off.</summary>
    public Response ToggleMarkOfSection(string name, string section) => Run(_ =>
    {
        var act = new Act(ActKind.ToggleMark, Text: name);
        return _rows.SectionWith(section) is >= 0 and var at ? ToggleMark(act, _rows.ShownIn(at)) : Refuse(act, NoSection(section));
    });

    private Refusal NoSection(string? section) => new(RefusalKind.OutsideList, $"There is no section '{section}'; there are {(_sectionKeys.Count == 0 ? "none" : string.Join(", ", _sectionKeys))}.");

    private Response CollapseOrExpand(Act act)
    {
        if (_rows.SectionWith(act.Text ?? "") is not (>= 0 and var at)) return Refuse(act, NoSection(act.Text));
        TraceAct(act, null);
        var collapses = _collapsed.Add(act.Text!);
        if (!collapses) _collapsed.Remove(act.Text!);
        // The cursor does not vanish with its row: it goes to the heading.
        var hides = collapses && _selection.Cursor >= 0 && _rows.Sections[at].Members.Contains(_selection.Cursor);
        SetRows(_rows.Shown);
        if (hides || _selection is { Heading: { } h, OnNotice: true } && h == act.Text) Become(_selection with { Cursor = -1, Heading = act.Text, OnNotice = false }, act, act.Rule);
        Trace(() => new() { Stage = "change", T = _now, Change = collapses ? "collapsed" : "expanded", Part = "heading:" + act.Text });
        Announce(collapses ? Options.Phrases.SectionCollapsed(_rows.Sections[at].Title) : Options.Phrases.SectionExpanded(_rows.Sections[at].Title, _rows.ShownIn(at).Count));
        return Response.Handled;
    }

    private Response ToggleSection(Act act)
    {
        if (_rows.SectionWith(act.Text ?? "") is not (>= 0 and var at)) return Refuse(act, NoSection(act.Text));
        var (next, refusal) = Selector.ToggleSome(_selection, _rows.ShownIn(at), Rules);
        if (refusal is not null) return Refuse(act, refusal);
        TraceAct(act, null);
        Become(next, act, act.Rule);
        return Response.Handled;
    }

    /// <summary>The app is asked to try again what failed: Enter or a tap on the notice.</summary>
    public event EventHandler? RetryRequested;

    private Response Retry(Act act)
    {
        if (_rows.Notice?.Kind != NoticeKind.Failed) return Refuse(act, new(RefusalKind.NoItem, "Nothing has failed that could be tried again."));
        TraceAct(act, null);
        foreach (var handler in RetryRequested?.GetInvocationList() ?? []) _events.Enqueue(() => ((EventHandler)handler)(this, EventArgs.Empty));
        return Response.Handled;
    }

    /// <summary>The row that the cursor is on; that of its section's heading where the section is collapsed; null where nothing shows.</summary>
    private RowNumber? CursorRow
    {
        get
        {
            if (_selection.Heading is { } key && _rows.SectionWith(key) is >= 0 and var at && _rows.HeadingOf(at) is { } heading)
                return _selection.OnNotice && _rows.EntryAt(new(heading.Value + 1)) is { Kind: RowKind.Notice } ? new(heading.Value + 1) : heading;
            if (_selection.Cursor < 0) return null;
            if (_rows.RowOf(_selection.Cursor) is { } row) return row;
            var section = _rows.Shown.Contains(_selection.Cursor) ? _rows.SectionOf(_selection.Cursor) : -1;
            if (section >= 0) return _rows.HeadingOf(section);
            var near = _rows.NearestShown(_selection.Cursor);
            return near < 0 ? null : _rows.RowOf(near) ?? _rows.HeadingOf(_rows.SectionOf(near));
        }
    }

    /// <summary>Puts the cursor on a heading or a section's notice.</summary>
    private Response MoveCursorTo(RowEntry entry, Act act)
    {
        TraceAct(act with { Kind = ActKind.MoveCursor, Index = -1 }, null);
        Become(_selection with { Cursor = -1, Heading = _rows.Sections[entry.Section].Key, OnNotice = entry.Kind == RowKind.Notice }, act, act.Rule);
        return Response.Handled;
    }

    /// <summary>What an act of a key means on a heading: its box, its collapsing, its marks.</summary>
    private Response DoOnHeading(ActKind kind, string rule)
    {
        var act = new Act(kind, -1, rule, _selection.Heading);
        switch (kind)
        {
            case ActKind.Select or ActKind.Toggle:
                return ToggleSection(act with { Kind = ActKind.ToggleSection });
            case ActKind.Activate or ActKind.WorkPart:
                return CollapseOrExpand(act with { Kind = ActKind.CollapseOrExpand });
            case ActKind.ToggleMark:
                return ToggleMark(act with { Text = Options.SpaceMark }, _rows.ShownIn(_rows.SectionWith(_selection.Heading!)));
            default:
                return Refuse(act, new(RefusalKind.NoItem, $"A heading has no {act.Name}: it needs an item."));
        }
    }

    /// <summary>Where a cursor was on a heading that is gone, it goes to the nearest row.</summary>
    private void SettleCursor()
    {
        if (_selection.Heading is not { } key || (_rows.SectionWith(key) is >= 0 and var at && _rows.HeadingOf(at) is not null)) return;
        var first = _rows.NextItemRow(new(0)) is { } row ? _rows.IndexAt(row) : -1;
        Become(_selection with { Heading = null, OnNotice = false, Cursor = first }, null, "source");
    }
}

/// <summary>A section function threw, or gave null.</summary>
public sealed class SectionException(object key, int index, Exception? error)
    : Exception($"The section of the item '{key}' at {index} could not be told: its function {(error is null ? "gave null" : $"threw: {error.Message}")}. Every item needs a section; give a key for those that have none.", error);
