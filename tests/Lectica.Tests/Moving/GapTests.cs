using CsCheck;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Moving;

namespace Lectica.Tests.Moving;

/// <summary>Gaps, as plain code that looks at every item and row finds them: which there are, where a card is over one, what keeps
/// it.</summary>
public sealed class GapTests
{
    private static ItemSet Of(int count, int bits) => ItemSet.Where(count, i => (bits >> i & 1) == 1);

    // Sections by the number of the item; some are collapsed, some hide all that they have.
    private static RowMap Rows(int count, int hidden, int sections, int collapsed)
    {
        var shown = Of(count, ~hidden);
        if (sections == 0) return new(shown, shown.IsEmpty ? new(NoticeKind.Empty, "Nothing") : null);
        return new(shown, null,
            [.. Enumerable.Range(0, sections).Select(s => new SectionRows($"{s}", $"{s}",
                ItemSet.Where(count, i => i * 7 % 5 % sections == s), (collapsed >> s & 1) == 1, s == 0 ? null : "Empty"))]);
    }

    [Fact]
    public void Places_are_numbered_through_all_sections_that_have_a_heading()
    {
        int sectioned = 0, without = 0;
        Gen.Select(Gen.Int[1, 9], Gen.Int[0, 511], Gen.Int[0, 3], Gen.Int[0, 7], Gen.Int[1, 511]).Sample((count, hidden, sections,
            collapsed, moved) =>
        {
            var rows = Rows(count, hidden, sections, collapsed);
            var items = Of(count, moved).Intersect(rows.Shown);
            if (rows.Count == 0 || (sections == 0 && rows.Shown.IsEmpty)) return;
            var landings = new Landings(rows, items);
            var wanted = new List<Gap>();
            foreach (var section in sections == 0 ? [-1] : Enumerable.Range(0, sections))
            {
                if (section >= 0 && rows.HeadingOf(section) is null)
                {
                    without++;
                    continue;
                }
                wanted.AddRange(rows.MembersOf(section).Where(i => !items.Contains(i)).Select(i => new Gap(i, section)));
                wanted.Add(rows.EndOf(section));
                if (section > 0) sectioned++;
            }
            Assert.Equal(wanted.Count, landings.Count);
            if (wanted.Count == 0) return;
            for (var number = -2; number < wanted.Count + 2; number++)
                Assert.Equal(wanted[Math.Clamp(number, 0, wanted.Count - 1)], landings.GapAt(number));
            // The end of a section that is behind the first of the next has the number of its end all the same.
            for (var number = 0; number < wanted.Count; number++) Assert.Equal(number, landings.NumberOf(wanted[number]));
        }, iter: Effort.Of(5000));
        Assert.True(Math.Min(sectioned, without) > 0, $"{sectioned} {without}");
    }

    [Fact]
    public void Pinned_items_keep_their_places_where_plain_code_leaves_them()
    {
        int kept = 0, moved = 0, inSections = 0;
        Gen.Select(Gen.Int[1, 8], Gen.Int[0, 2], Gen.Int[0, 255], Gen.Int[0, 255], Gen.Int[0, 8], Gen.Int[0, 1])
            .Sample((count, sections, bits, pins, at, into) =>
            {
                var rows = Rows(count, 0, sections, 0);
                ItemSet items = Of(count, bits), pinned = Of(count, pins);
                var gap = new Gap(at % (count + 1), sections == 0 ? -1 : into % sections);
                bool Keeps()
                {
                    if (!items.Intersect(pinned).IsEmpty) return items.IsEmpty;
                    foreach (var section in sections == 0 ? [-1] : Enumerable.Range(0, sections))
                    {
                        var before = Enumerable.Range(0, count).Where(i =>
                            section < 0 || rows.Sections[section].Members.Contains(i)).ToList();
                        var after = before.Where(i => !items.Contains(i)).ToList();
                        if (section == gap.Section) after.InsertRange(after.Count(i => i < gap.Index), items);
                        if (pinned.Any(p => before.IndexOf(p) != after.IndexOf(p))) return false;
                    }
                    return true;
                }
                var wanted = Keeps();
                Assert.Equal(wanted, Moves.KeepsPinned(items, gap, pinned, rows));
                if (items.IsEmpty || pinned.IsEmpty) return;
                if (wanted) kept++;
                else moved++;
                if (wanted && sections == 2) inSections++;
            }, iter: Effort.Of(20_000));
        Assert.True(Math.Min(kept, Math.Min(moved, inSections)) > 0, $"{kept} {moved} {inSections}");
    }

    [Fact]
    public void A_gap_that_is_none_is_refused()
    {
        var items = Of(3, 0b101);
        foreach (var gap in (int[])[-1, 4])
            Assert.Contains("3 items have the gaps 0 to 3.", Assert.Throws<ArgumentOutOfRangeException>(() =>
                MoveParts.Singles(items, gap)).Message);
        Assert.Equal([(0, 2),], MoveParts.Singles(Of(3, 0b001), 3));
    }

    [Fact]
    public void What_is_taken_up_follows_its_neighbours_through_edits()
    {
        int byBelow = 0, byAbove = 0, byPlace = 0, gone = 0;
        Gen.Select(Gen.Int[1, 7], Gen.Int[1, 127], Gen.Int[0, 7], Gen.Int[0, 6], Gen.Select(Gen.Int[0, 8], Gen.Int[0, 3], Gen.Int[0,
            2]).Array[1, 3])
            .Sample((count, bits, at, pressed, edits) =>
            {
                var items = Of(count, bits);
                if (items.IsEmpty) return;
                var list = Enumerable.Range(0, count).ToList();
                var (grabbed, hold, next) = (items.ToHashSet(), items.Nth(pressed % items.Count), count);
                var gap = at % (count + 1);
                var stay = items.Complement();
                var grab = new GrabState(items, hold, 0, new(0)).At(new(gap), stay);
                int above = list.LastOrDefault(i => i < gap && !grabbed.Contains(i), -1), below = list.FirstOrDefault(i =>
                    i >= gap && !grabbed.Contains(i), -1);
                Assert.Equal((below, above), (grab.Below, grab.Above));
                foreach (var (where, remove, insert) in edits)
                {
                    var from = where % (list.Count + 1);
                    var out_ = Math.Min(remove, list.Count - from);
                    var edit = Edit.Splice(list.Count, from, out_, insert);
                    var place = edit.Gap(grab.Gap.Index);
                    list.RemoveRange(from, out_);
                    list.InsertRange(from, Enumerable.Range(next, insert));
                    next += insert;
                    var after = grab.After(edit);
                    if (!list.Any(grabbed.Contains))
                    {
                        gone++;
                        Assert.Null(after);
                        return;
                    }
                    grab = after!;
                    Assert.Equal(list.Where(grabbed.Contains), grab.Items.Select(i => list[i]));
                    Assert.Equal(list.IndexOf(hold), grab.Pressed);
                    // One that has left is not looked for again.
                    if (list.IndexOf(below) < 0) below = -1;
                    if (list.IndexOf(above) < 0) above = -1;
                    var wanted = below >= 0 ? list.IndexOf(below) : above >= 0 ? list.IndexOf(above) + 1 : place;
                    if (below >= 0) byBelow++;
                    else if (above >= 0) byAbove++;
                    else byPlace++;
                    Assert.Equal((wanted, below < 0 ? -1 : list.IndexOf(below), above < 0 ? -1 : list.IndexOf(above)),
                        (grab.Gap.Index, grab.Below, grab.Above));
                }
            }, iter: Effort.Of(10_000));
        Assert.True(Math.Min(byBelow, byAbove) > 0 && Math.Min(byPlace, gone) > 0, $"{byBelow} {byAbove} {byPlace} {gone}");
    }

    [Fact]
    public void A_card_is_over_the_gap_whose_neighbour_it_has_not_passed_half_of()
    {
        int changed = 0, fluttered = 0, odd = 0;
        Gen.Select(Gen.Int[1, 8], Gen.Int[0, 3], Gen.Int[0, 7], Gen.Int[1, 255], Gen.Int[0, 255], Gen.Select(Gen.Int[-60, 600],
            Gen.Int[0, 12]).Array[1, 8])
            .Sample((count, sections, collapsed, bits, tall, steps) =>
            {
                var rows = Rows(count, 0, sections, collapsed);
                var measures = new LayoutMeasures(400, 50, 36, false, 1);
                var heights = Of(count, tall & 0b1011).ToDictionary(i => i, i => 60.0 + (10 * i));
                var geometry = ListLayout.Rows.Lay(rows, heights.Select(h => (h.Key, h.Value)), measures);
                var items = Of(count, bits);
                if (items.IsEmpty || items.Select(i => rows.RowOf(i)).FirstOrDefault(r => r is not null) is not { } pressed) return;
                var landings = new Landings(rows, items);
                var staying = Staying.Of(rows, geometry, landings, items, heights, _ => throw new NotSupportedException());
                // The rows one below the other, those that are grabbed without height.
                bool isGrabbed(int row) => row < rows.Count && rows.EntryAt(new(row)) is { Kind: RowKind.Item } entry
                    && items.Contains(entry.Index);
                double[] tops = new double[rows.Count + 1];
                for (var row = 0; row < rows.Count; row++)
                    tops[row + 1] = tops[row] + (isGrabbed(row) ? 0 : geometry.HeightOf(new(row)));
                int nextStaying(int row)
                {
                    for (var section = row < rows.Count ? rows.EntryAt(new(row)).Section : -1; isGrabbed(row); row++)
                        if (row + 1 == rows.Count || rows.EntryAt(new(row + 1)).Section != section) return row + 1;
                    return row;
                }
                int at(double y)
                {
                    for (var row = 0; row < rows.Count; row++)
                        if (!isGrabbed(row) && y < tops[row] + (geometry.HeightOf(new(row)) / 2)) return row;
                    return rows.Count;
                }
                var gathered = geometry.TopOf(pressed) - tops[pressed.Value];
                if (Enumerable.Range(0, pressed.Value + 1).Any(r => isGrabbed(r) && heights.ContainsKey(rows.IndexAt(new(r))))) odd++;
                var now = staying.Home(pressed);
                Assert.Equal(rows.GapAbove(nextStaying(pressed.Value)), now);
                foreach (var (top, slack) in steps)
                {
                    int low = at(top - gathered - slack), high = at(top - gathered + slack), was = nextStaying(rows.RowBelow(now));
                    var below = low > was ? low : high < was ? high : was;
                    var wanted = below == was ? now : rows.GapAbove(below);
                    if (wanted != now) changed++;
                    else if (at(top - gathered) != was) fluttered++;
                    now = staying.GapUnder(0, top, now, pressed, slack);
                    Assert.Equal(wanted, now);
                    Assert.Equal((0, tops[rows.RowBelow(now)] + gathered), staying.PositionOver(now, pressed));
                    Assert.Equal((0, tops[rows.RowBelow(now)]), staying.PositionOver(now, null));
                }
            }, iter: Effort.Of(10_000));
        Assert.True(Math.Min(changed, Math.Min(fluttered, odd)) > 0, $"{changed} {fluttered} {odd}");
    }

    [Fact]
    public void A_carried_tile_is_over_the_cell_that_its_middle_is_in()
    {
        int changed = 0, kept = 0;
        Gen.Select(Gen.Int[2, 9], Gen.Int[0, 2], Gen.Int[1, 511], Gen.Select(Gen.Int[-50, 330], Gen.Int[-80, 400], Gen.Int[0,
            30]).Array[1, 8])
            .Sample((count, sections, bits, steps) =>
            {
                var rows = Rows(count, 0, sections, 0);
                var measures = new LayoutMeasures(320, 60, 36, false, 1);
                RowGeometry Lay(RowMap map) => new Tiles(90, 60).Lay(map, [], measures);
                var items = Of(count, bits);
                if (items.IsEmpty) return;
                var landings = new Landings(rows, items);
                var staying = Staying.Of(rows, Lay(rows), landings, items, new Dictionary<int, double>(), Lay);
                var left = new RowMap(rows.Shown.Except(items), null, [.. rows.Sections.Select(s => s with { Empty = s.Empty ?? "" })]);
                var cells = (TiledRows)Lay(left);
                var pressed = rows.RowOf(items.Nth(0))!.Value;
                var now = staying.Home(pressed);
                Assert.Equal(new(items.Nth(0), sections == 0 ? -1 : rows.EntryAt(pressed).Section), now);
                foreach (var (x, y, slack) in steps)
                {
                    var was = left.RowBelow(now);
                    int over(int across, int down) => cells.CellAt(
                        x + across + (cells.RowCount == 0 ? 0 : cells.ItemWidth / 2), Math.Max(0, y + down + (cells.RowHeight / 2)));
                    var stays = over(0, 0) == was || over(slack, 0) == was || over(-slack, 0) == was || over(0, slack) == was || over(0,
                        -slack) == was;
                    var wanted = stays ? now : left.GapAbove(over(0, 0));
                    if (!stays) changed++;
                    else if (over(0, 0) != was) kept++;
                    now = staying.GapUnder(x, y, now, pressed, slack);
                    Assert.Equal(wanted, now);
                    var cell = cells.CellOf(left.RowBelow(now));
                    Assert.Equal((cell.Left, cell.Top), staying.PositionOver(now, pressed));
                }
            }, iter: Effort.Of(5000));
        Assert.True(Math.Min(changed, kept) > 0, $"{changed} {kept}");
    }
}
