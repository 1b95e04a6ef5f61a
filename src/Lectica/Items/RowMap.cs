using System.Collections.Immutable;

namespace Lectica.Items;

/// <summary>What a row is.</summary>
public enum RowKind
{
    /// <summary>An item.</summary>
    Item,

    /// <summary>The heading of a section.</summary>
    Heading,

    /// <summary>A line that says why no item shows.</summary>
    Notice,
}

/// <summary>What is on a row.</summary>
/// <param name="Kind">What it is.</param>
/// <param name="Index">The index of its item, or -1.</param>
/// <param name="Section">Which section it belongs to, from 0; -1 in a list without sections.</param>
internal readonly record struct RowEntry(RowKind Kind, int Index, int Section);

/// <summary>A section as its rows are made of it.</summary>
/// <param name="Key">By which it is known.</param>
/// <param name="Title">What its heading says.</param>
/// <param name="Members">All of its items.</param>
/// <param name="IsCollapsed">Whether its items have no rows. They count as shown all the same.</param>
/// <param name="Empty">What a notice in it says while none of its items shows; null where it then has no heading either.</param>
internal sealed record SectionRows(string Key, string Title, ItemSet Members, bool IsCollapsed, string? Empty)
{
    /// <summary>What the notice says where the section has items, and the filter hides them all; as for none where null.</summary>
    public string? Filtered { get; init; }

    /// <summary>What the notice in it says while none of its items shows.</summary>
    public string? NoticeText => Members.IsEmpty ? Empty : Filtered ?? Empty;
}

/// <summary>
/// Which row shows which item. With a filter, row r is the r-th item that it lets through; both ways cost log. Sections put a heading
/// before their items, and a sorted view another order; then the sections are looked through as well. When nothing shows there is one row,
/// a notice that says why.
/// </summary>
internal sealed class RowMap
{
    private readonly IItemOrder? _order;
    private readonly ItemSet? _shownPlaces;
    private readonly ItemSet[] _members = [];
    private readonly int[] _firstRow = [], _places = [], _notices = [];

    // In a list without sections: the items that have rows.
    private readonly ItemSet _rowItems;

    /// <summary>Rows for the items that <paramref name="shown"/> holds; <paramref name="notice"/> where it holds none.</summary>
    /// <param name="shown">The items that the filter lets through.</param>
    /// <param name="notice">What the one row says where none shows.</param>
    /// <param name="sections">The sections, each item in just one of them; empty for a list without.</param>
    public RowMap(ItemSet shown, Notice? notice, ImmutableArray<SectionRows> sections = default)
        : this(shown, notice, sections, null, null, false)
    {
    }

    /// <summary>Rows for an outline.</summary>
    internal RowMap(Branching outline, Notice? notice, bool hasFooter)
        : this(outline.Kept, notice, [], null, null, false)
    {
        (_rowItems, Matching, Outline) = (outline.Visible, outline.Shown, outline);
        HasFooter = hasFooter && !Shown.IsEmpty;
        if (Notice is null) Count = _rowItems.Count + (HasFooter ? 1 : 0);
    }

    /// <param name="shown">The items that the filter lets through.</param>
    /// <param name="notice">What the one row says where none shows.</param>
    /// <param name="sections">The sections.</param>
    /// <param name="order">The order within the list, or within each section; sections lie in it one after the other.</param>
    /// <param name="shownPlaces">The places of the order whose items show.</param>
    /// <param name="hasFooter">Whether a last row says what comes after the items.</param>
    internal RowMap(
        ItemSet shown, Notice? notice, ImmutableArray<SectionRows> sections, IItemOrder? order, ItemSet? shownPlaces, bool hasFooter)
    {
        (Shown, Matching, _rowItems) = (shown, shown, shown);
        (_order, _shownPlaces) = (order, shownPlaces);
        // With nothing to show, only sections that say so have rows.
        Sections = sections.IsDefault || (shown.IsEmpty && sections.All(s => s.Empty is null)) ? [] : sections;
        if (Sections.IsEmpty)
        {
            Notice = shown.IsEmpty ? notice : null;
            HasFooter = hasFooter && Notice is null && !shown.IsEmpty;
            Count = Notice is null ? shown.Count + (HasFooter ? 1 : 0) : 1;
            return;
        }
        _members = new ItemSet[Sections.Length];
        _firstRow = new int[Sections.Length + 1];
        _places = new int[Sections.Length + 1];
        _notices = new int[Sections.Length];
        var headings = ImmutableArray.CreateBuilder<int>();
        for (var i = 0; i < Sections.Length; i++)
        {
            var section = Sections[i];
            _members[i] = section.Members.Intersect(shown);
            _places[i + 1] = _places[i] + section.Members.Count;
            var rows = 0;
            if (!_members[i].IsEmpty || section.Empty is not null)
            {
                headings.Add(_firstRow[i]);
                _notices[i] = _members[i].IsEmpty && !section.IsCollapsed ? 1 : 0;
                rows = 1 + (section.IsCollapsed ? 0 : _members[i].Count + _notices[i]);
            }
            _firstRow[i + 1] = _firstRow[i] + rows;
        }
        Headings = headings.DrainToImmutable();
        HasFooter = hasFooter && _firstRow[^1] > 0;
        Count = _firstRow[^1] + (HasFooter ? 1 : 0);
    }

    /// <summary>
    /// The items that show: those that the filter lets through, also in collapsed sections and branches; in an outline also the way to
    /// them.
    /// </summary>
    public ItemSet Shown { get; }

    /// <summary>Those of them that the filter lets through.</summary>
    public ItemSet Matching { get; }

    /// <summary>How deep each item of an outline lies; null in a list without levels.</summary>
    public Levels? Levels => Outline?.Levels;

    /// <summary>An outline's branches; null in a list without levels.</summary>
    internal Branching? Outline { get; }

    /// <summary>Why nothing shows, or null where something does.</summary>
    public Notice? Notice { get; }

    /// <summary>The sections; empty in a list without.</summary>
    public ImmutableArray<SectionRows> Sections { get; }

    /// <summary>The rows that are headings, from the top.</summary>
    public ImmutableArray<int> Headings { get; } = [];

    /// <summary>The number of rows, headings and notices included.</summary>
    public int Count { get; }

    /// <summary>Whether the last row says what comes after the items.</summary>
    public bool HasFooter { get; }

    /// <summary>The row that says what comes after the items; null where none does.</summary>
    public RowNumber? Footer => HasFooter ? new(Count - 1) : null;

    // All but that one.
    private int Before => HasFooter ? Count - 1 : Count;

    /// <summary>Whether rows are in the source's order, with no headings between them.</summary>
    public bool IsPlain => Sections.IsEmpty && _order is null;

    /// <summary>Whether rows are in another order than the source's, within their sections where there are any.</summary>
    internal bool IsSorted => _order is not null;

    /// <summary>What is on a row; a notice without a section for one that there is not.</summary>
    public RowEntry EntryAt(RowNumber row)
    {
        if (row.Value < 0 || row.Value >= Before || Notice is not null) return new(RowKind.Notice, -1, -1);
        if (Sections.IsEmpty)
            return new(RowKind.Item, _order is null ? _rowItems.Nth(row.Value) : _order.ItemAt(_shownPlaces!.Nth(row.Value)), -1);
        var section = SectionAtRow(row.Value);
        var inside = row.Value - _firstRow[section] - 1;
        if (inside < 0) return new(RowKind.Heading, -1, section);
        return _notices[section] > 0 ? new(RowKind.Notice, -1, section) : new(RowKind.Item, Member(section, inside), section);
    }

    private int SectionAtRow(int row)
    {
        // The last section that begins at or before the row and has any rows.
        var at = Array.BinarySearch(_firstRow, row);
        if (at < 0) return ~at - 1;
        while (_firstRow[at + 1] == row) at++;
        return at;
    }

    private int Member(int section, int rank) =>
        _order is null ? _members[section].Nth(rank) : _order.ItemAt(_shownPlaces!.Nth(_shownPlaces.Rank(_places[section]) + rank));

    /// <summary>The index of the item on a row, or -1 where the row is not an item or there is no such row.</summary>
    public int IndexAt(RowNumber row) => EntryAt(row).Index;

    /// <summary>The row on which an item is, or null where it does not show, or what it lies in is collapsed.</summary>
    /// <exception cref="ArgumentOutOfRangeException">There is no such item.</exception>
    public RowNumber? RowOf(int index)
    {
        if (!Shown.Contains(index) || (Levels is not null && !_rowItems.Contains(index))) return null;
        if (Sections.IsEmpty) return new(_order is null ? _rowItems.Rank(index) : _shownPlaces!.Rank(_order.PlaceOf(index)));
        var section = SectionOf(index);
        if (section < 0 || Sections[section].IsCollapsed) return null;
        var rank = _order is null ? _members[section].Rank(index)
            : _shownPlaces!.Rank(_order.PlaceOf(index)) - _shownPlaces.Rank(_places[section]);
        return new(_firstRow[section] + 1 + rank);
    }

    /// <summary>The section that an item is in, from 0; -1 in a list without sections.</summary>
    public int SectionOf(int index)
    {
        for (var i = 0; i < Sections.Length; i++)
            if (Sections[i].Members.Contains(index)) return i;
        return -1;
    }

    /// <summary>The section with a key, or -1.</summary>
    public int SectionWith(string key)
    {
        for (var i = 0; i < Sections.Length; i++)
            if (Sections[i].Key == key) return i;
        return -1;
    }

    /// <summary>The row of a section's heading, or null where it has none, since it is empty.</summary>
    public RowNumber? HeadingOf(int section) =>
        section >= 0 && section < Sections.Length && _firstRow[section + 1] > _firstRow[section] ? new(_firstRow[section]) : null;

    /// <summary>The items of a section that the filter lets through.</summary>
    public ItemSet ShownIn(int section) => _members[section];

    /// <summary>The nearest item that shows: itself, else the next in the order on show, else the one before, else -1.</summary>
    public int NearestShown(int index)
    {
        if (Shown.Contains(index) && (Levels is null || _rowItems.Contains(index))) return index;
        // In an outline the row before is that of the collapsed branch which it lies in.
        if (Levels is not null && Shown.Contains(index)) return _rowItems.LastAt(index);
        if (IsPlain)
        {
            var next = _rowItems.NextAt(index);
            return next >= 0 ? next : _rowItems.LastAt(index);
        }
        if (_order is not null)
        {
            var place = _shownPlaces!.NextAt(_order.PlaceOf(index));
            if (place < 0) place = _shownPlaces.LastAt(_order.PlaceOf(index));
            return place < 0 ? -1 : _order.ItemAt(place);
        }
        var section = Math.Max(0, SectionOf(index));
        if (_members[section].NextAt(index) is >= 0 and var here) return here;
        for (var i = section + 1; i < Sections.Length; i++)
            if (!_members[i].IsEmpty) return _members[i].Nth(0);
        if (_members[section].LastAt(index) is >= 0 and var before) return before;
        for (var i = section - 1; i >= 0; i--)
            if (!_members[i].IsEmpty) return _members[i].Nth(_members[i].Count - 1);
        return -1;
    }

    /// <summary>The items on show from one to another in the order on show, both included, in whichever order they are given.</summary>
    public ItemSet Between(int one, int other)
    {
        if (_order is not null)
        {
            int a = _order.PlaceOf(one), b = _order.PlaceOf(other);
            return ItemSet.Of(Shown.Universe, ItemSet.None(Shown.Universe).WithRange(Math.Min(a, b), Math.Abs(a - b) + 1)
                .Intersect(_shownPlaces!).Select(_order.ItemAt));
        }
        if (Sections.IsEmpty) return Range(one, other).Intersect(_rowItems);
        int first = SectionOf(one), last = SectionOf(other);
        if (first > last || (first == last && one > other)) (one, other, first, last) = (other, one, last, first);
        if (first == last) return Range(one, other).Intersect(_members[first]);
        var items = Range(one, Shown.Universe - 1).Intersect(_members[first]).Union(Range(0, other).Intersect(_members[last]));
        for (var i = first + 1; i < last; i++) items = items.Union(_members[i]);
        return items;
    }

    /// <summary>
    /// The items on these rows. Cost: log where all items show in their order, a pass over the sections that rows are of, or the rows in a
    /// sorted list.
    /// </summary>
    internal ItemSet ItemsOn(ItemSet rows)
    {
        var none = ItemSet.None(Shown.Universe);
        if (Notice is not null || rows.IsEmpty) return none;
        if (_order is not null) return ItemSet.Of(Shown.Universe, rows.Select(r => IndexAt(new(r))).Where(i => i >= 0));
        if (Sections.IsEmpty) return _rowItems.Spread(rows.Slice(0, Before));
        var items = none;
        for (var s = SectionAtRow(rows.Nth(0)); s < Sections.Length && _firstRow[s] <= rows.Nth(rows.Count - 1); s++)
            if (_firstRow[s + 1] > _firstRow[s] + 1 && _notices[s] == 0)
                items = items.Union(_members[s].Spread(rows.Slice(_firstRow[s] + 1, _members[s].Count)));
        return items;
    }

    private ItemSet Range(int one, int other) => ItemSet.None(Shown.Universe).WithRange(Math.Min(one, other), Math.Abs(one - other) + 1);

    /// <summary>The first row from this one on, downward or upward, that is an item; null where there is none.</summary>
    public RowNumber? NextItemRow(RowNumber row, bool down = true)
    {
        // Between two items stand at most the headings and notices of the sections between them.
        for (var r = row.Value; r >= 0 && r < Count; r += down ? 1 : -1)
            if (EntryAt(new(r)).Kind == RowKind.Item) return new(r);
        return null;
    }

    /// <summary>
    /// The gap between two rows: above the one of that number, or below the last. Under a filter it is just before the item shown below, or
    /// after the last one shown; between a section and the next heading it is the section's end.
    /// </summary>
    public Gap GapAbove(int row)
    {
        if (Sections.IsEmpty) return Notice is null && row < _rowItems.Count ? new(_rowItems.Nth(Math.Max(0, row))) : EndOf(-1);
        var section = SectionAtRow(Math.Clamp(row, 1, Before) - 1);
        var inside = Math.Max(0, row - _firstRow[section] - 1);
        return Sections[section].IsCollapsed || inside >= _members[section].Count ? EndOf(section)
            : new(_members[section].Nth(inside), section);
    }

    /// <summary>The row that a gap is above; that of the next heading for a section's end, and one too many for the list's.</summary>
    public int RowBelow(Gap gap)
    {
        if (gap.Section < 0 || gap.Section >= Sections.Length) return Notice is null ? _rowItems.Rank(gap.Index) : 0;
        var first = Math.Min(_firstRow[gap.Section] + 1, Before);
        return Sections[gap.Section].IsCollapsed ? first : first + _members[gap.Section].Rank(gap.Index);
    }

    /// <summary>
    /// The gap at the end of a section, or of the list for -1: after its last item shown. In a section without any it is after the last one
    /// that is hidden there, or else where the section would be if the source were in the order on show.
    /// </summary>
    public Gap EndOf(int section)
    {
        if (section < 0) return new(_rowItems.LastAt(Shown.Universe - 1) + 1);
        if (_members[section].LastAt(Shown.Universe - 1) is >= 0 and var last) return new(last + 1, section);
        for (var i = section; i >= 0; i--)
            if (Sections[i].Members.LastAt(Shown.Universe - 1) is >= 0 and var above) return new(above + 1, section);
        for (var i = section + 1; i < Sections.Length; i++)
            if (Sections[i].Members.NextAt(0) is >= 0 and var below) return new(below, section);
        return new(Shown.Universe, section);
    }

    /// <summary>The items of a section that show, or of the list for -1; of an outline those that have rows.</summary>
    public ItemSet MembersOf(int section) => section < 0 || Sections.IsEmpty ? _rowItems : _members[section];

    /// <summary>Items with all that moves when they do: in an outline what is below them.</summary>
    public ItemSet WithBelow(ItemSet items) => Levels?.WithBelow(items) ?? items;

    /// <summary>
    /// The gap of an outline between two rows, on the level that is nearest to the one that is wished: none that would tear a branch apart.
    /// In other lists it is the gap itself.
    /// </summary>
    /// <param name="gap">The gap.</param>
    /// <param name="level">The level that is wished.</param>
    /// <param name="stay">The items with rows that stay while others are away.</param>
    internal Gap OnLevel(Gap gap, int level, ItemSet stay)
    {
        if (Levels is null) return gap;
        int above = stay.LastAt(gap.Index - 1), below = gap.Index < stay.Universe ? stay.NextAt(gap.Index) : -1;
        int least = below < 0 ? 0 : Levels[below], most = above < 0 ? 0 : Levels[above] + 1;
        level = Math.Clamp(level, Math.Min(least, most), most);
        // Before the row shown below it, or after all of the branch that it follows.
        if (below >= 0 && least == level) return new(below, Level: level);
        if (above < 0) return new(0, Level: 0);
        return new(Levels.EndOf(level > Levels[above] ? above : Levels.AncestorOf(above, level)), Level: level);
    }

    /// <summary>The item below which something lands in a gap of an outline: -1 on the first level.</summary>
    internal int ParentAt(Gap gap, ItemSet moving)
    {
        if (Levels is null || gap.Level <= 0) return -1;
        // The item just above that stays, whether it has a row or not.
        return moving.Complement().LastAt(gap.Index - 1) is >= 0 and var above ? Levels.AncestorOf(above, gap.Level - 1) : -1;
    }

    /// <summary>The items of a section that show, in the order on show.</summary>
    internal IEnumerable<int> InOrder(int section)
    {
        if (section < 0) return [];
        if (_order is null) return _members[section];
        var first = _shownPlaces!.Rank(_places[section]);
        return Enumerable.Range(first, _members[section].Count).Select(rank => _order.ItemAt(_shownPlaces.Nth(rank)));
    }

    /// <summary>The items on show in the order on show, those of collapsed sections too.</summary>
    public IEnumerable<int> InOrder()
    {
        if (_order is not null)
            foreach (var place in _shownPlaces!) yield return _order.ItemAt(place);
        else if (Sections.IsEmpty)
            foreach (var index in Shown) yield return index;
        else
            foreach (var members in _members)
                foreach (var index in members) yield return index;
    }
}
