using System.Collections.Immutable;
using CsCheck;
using Lectica.Acts;
using Lectica.Items;
using Lectica.Selecting;
using Lectica.Sources;

namespace Lectica.Tests.Lists;

/// <summary>What is selected as it was said: the same items as the places, in as few words, and right after any edit.</summary>
public sealed class MeaningTests
{
    private static readonly ActKind[] Kinds =
    [
        ActKind.Select, ActKind.Toggle, ActKind.Extend, ActKind.ExtendAdding, ActKind.SelectAll, ActKind.ToggleAll, ActKind.Invert,
        ActKind.Clear, ActKind.ToggleSection,
    ];

    private static SelectionRules RulesFor(int count, ImmutableArray<SectionRows> sections) =>
        new(new RowMap(ItemSet.All(count), null, sections), ItemSet.None(count), SelectionPolicy.For(SelectionMode.Multiple), int.MaxValue);

    [Fact]
    public void It_means_what_is_selected_in_as_few_words_and_stays_true()
    {
        int ranges = 0, added = 0, wholes = 0, sectioned = 0, between = 0, gone = 0;
        Gen.Select(
            Gen.Int[3, 24], Gen.Select(Gen.Int[0, 8], Gen.Int[0, 23]).Array[1, 12], Gen.Int[0, 24].Array[0, 4], Gen.Int[0, 23].Array[0, 4])
            .Sample((count, acts, comes, goes) =>
            {
                ImmutableArray<SectionRows> sections =
                [
                    new("A", "A", ItemSet.None(count).WithRange(0, count / 3), false, null),
                    new("B", "B", ItemSet.None(count).WithRange(count / 3, count - (count / 3)), false, null),
                ];
                var rules = RulesFor(count, sections);
                var (selection, terms) = (Selection.Nothing(count), SelectionTerms.Nothing);
                foreach (var (k, at) in acts)
                {
                    var kind = Kinds[k];
                    var section = sections[at % 2];
                    var act = new Act(kind, at % count, "call", kind == ActKind.ToggleSection ? section.Key : null);
                    var before = (Selection: selection, Terms: terms);
                    selection = kind == ActKind.ToggleSection ? Selector.ToggleSome(selection, section.Members, rules).Selection
                        : Selector.Apply(selection, act, rules).Selection;
                    terms = terms.Follow(before.Selection, selection, act, sections);
                    var said = terms.Now;
                    Assert.True(selection.Items.Equals(said.Resolve(count, sections)));
                    Assert.True(selection.StartingPoint.Equals(terms.AtStart.Resolve(count, sections)));
                    if (ReferenceEquals(selection.StartingPoint, selection.Items)) Assert.Same(said, terms.AtStart);
                    switch (kind)
                    {
                        case ActKind.Select:
                            Assert.Equal((false, 1), (said.IsAll, said.Terms.Count));
                            break;
                        case ActKind.Extend when before.Selection.Anchor >= 0 && selection.Anchor != selection.Cursor:
                            ranges++;
                            Assert.False(said.IsAll);
                            Assert.Equal((Math.Min(selection.Anchor, selection.Cursor), Math.Max(selection.Anchor, selection.Cursor)),
                                (Assert.Single(said.Terms).From!.Index, said.Terms[0].To!.Index));
                            break;
                        case ActKind.ExtendAdding when before.Selection.Anchor >= 0 && selection.Anchor != selection.Cursor:
                            added++;
                            Assert.True(said.Terms.Count <= before.Terms.AtStart.Terms.Count + 1);
                            Assert.Equal(before.Selection.StartingPoint.Contains(before.Selection.Anchor), said.Terms[^1].IsIn);
                            break;
                        case ActKind.SelectAll or ActKind.ToggleAll:
                            wholes++;
                            Assert.Equal((!selection.Items.IsEmpty, 0), (said.IsAll, said.Terms.Count));
                            break;
                        case ActKind.Invert:
                            Assert.Equal((!before.Terms.Now.IsAll, before.Terms.Now.Terms.Count), (said.IsAll, said.Terms.Count));
                            break;
                        case ActKind.Clear:
                            Assert.Equal((false, 0), (said.IsAll, said.Terms.Count));
                            break;
                        case ActKind.ToggleSection:
                            sectioned++;
                            Assert.Equal((section.Key, section.Members.Except(selection.Items).IsEmpty),
                                (said.Terms[^1].Section, said.Terms[^1].IsIn));
                            Assert.Single(said.Terms, t => t.Section == section.Key);
                            break;
                        case ActKind.Toggle:
                            // One more than was said.
                            Assert.True(said.Terms.Count <= before.Terms.Now.Terms.Count + 1);
                            break;
                    }
                    // Nothing is said that a later word makes needless, nor a single item that is meant anyway.
                    for (var j = 1; j < said.Terms.Count; j++)
                        if (said.Terms[j] is { Section: null } later)
                            Assert.DoesNotContain(said.Terms.Take(j),
                                t => t.Section is null && t.From!.Index >= later.From!.Index && t.To!.Index <= later.To!.Index);
                    if (kind == ActKind.Toggle && said.Terms.Count > 0 && said.Terms[^1].IsKey && said.Terms.All(t => t.Section is null))
                        Assert.False((said with { Terms = said.Terms.RemoveAt(said.Terms.Count - 1) }).Resolve(count, sections)
                            .Equals(selection.Items));
                    // Keys, first and last ends are found apart, and a key stays one.
                    var apart = terms.At(b => b.Index + 100, b => b.Index + 200, b => b.Index + 300);
                    foreach (var (was, now) in said.Terms.Zip(apart.Now.Terms))
                        if (was.Section is null)
                            Assert.Equal((was.IsKey, was.From!.Index + (was.IsKey ? 100 : 200), was.To!.Index + (was.IsKey ? 100 : 300)),
                                (now.IsKey, now.From!.Index, now.To!.Index));
                    // Each end has a number of its own, by which its item is kept.
                    Assert.True(terms.Bounds.GroupBy(b => b.Id).All(g => g.Select(b => b.Index).Distinct().Count() == 1));
                    Assert.True(terms.Bounds.All(b => b.Id >= 0 && b.Id < terms.Next));
                    Assert.True(said.Terms.All(t => t.Section is not null || t.IsKey || t.From!.Id != t.To!.Id));
                }

                // Others come and go: an item between the ends of an interval is in it, and an end that has left leaves its place.
                var items = Enumerable.Range(0, count).Select(i => (Id: i, Order: (double)i)).ToList();
                var ends = (terms.Now, Order: items.ToDictionary(i => i.Id, i => i.Order));
                foreach (var at in comes.Select(c => c % (items.Count + 1)))
                {
                    Follow(ref selection, ref terms, ref sections, Edit.Splice(items.Count, at, 0, 1));
                    items.Insert(at, (-1, at == 0 ? items[0].Order - 1 : at == items.Count ? items[^1].Order + 1
                        : (items[at - 1].Order + items[at].Order) / 2));
                }
                foreach (var at in goes.Where(_ => items.Count > 1).Select(g => g % items.Count))
                {
                    Follow(ref selection, ref terms, ref sections, Edit.Splice(items.Count, at, 1, 0));
                    items.RemoveAt(at);
                    gone++;
                }
                bool Means(int place, double order, int id)
                {
                    var isIn = ends.Now.IsAll;
                    foreach (var term in ends.Now.Terms)
                        if (term.Section is { } key ? sections.Single(s => s.Key == key).Members.Contains(place)
                            : term.IsKey ? id == term.From!.Index
                            : ends.Order[term.From!.Index] <= order && order <= ends.Order[term.To!.Index]) isIn = term.IsIn;
                    if (id < 0 && isIn) between++;
                    return isIn;
                }
                int[] wanted = [.. items.Select((item, place) => (Place: place, IsIn: Means(place, item.Order, item.Id)))
                    .Where(x => x.IsIn).Select(x => x.Place)], found = [.. terms.Now.Resolve(items.Count, sections)];
                Assert.Equal(wanted, found);
            }, iter: Effort.Of(5000));
        Assert.True(Math.Min(ranges, Math.Min(added, sectioned)) > 0 && Math.Min(wholes, Math.Min(between, gone)) > 0,
            $"{ranges} {added} {wholes} {sectioned} {between} {gone}");

        static void Follow(ref Selection selection, ref SelectionTerms terms, ref ImmutableArray<SectionRows> sections, Edit edit)
        {
            var areOne = ReferenceEquals(terms.Now, terms.AtStart);
            selection = selection.After(edit);
            terms = terms.After(edit);
            Assert.Equal(areOne, ReferenceEquals(terms.Now, terms.AtStart));
            sections = [.. sections.Select(s => s with { Members = edit.Apply(s.Members) })];
        }
    }

    /// <summary>
    /// What comes in later is selected as the acts mean it: between two items that were ticked one by one it is not; within a range it is,
    /// and wherever it comes once all are selected.
    /// </summary>
    [Fact]
    public void What_comes_in_between_is_selected_as_the_acts_meant_it()
    {
        int inRange = 0, betweenTicked = 0, afterAll = 0, exceptions = 0;
        ActKind[] kinds = [.. Kinds.Where(k => k != ActKind.ToggleSection)];
        Gen.Select(Gen.Int[2, 12], Gen.Select(Gen.Int[0, kinds.Length - 1], Gen.Int[0, 11]).Array[1, 14]).Sample((count, acts) =>
        {
            var rules = RulesFor(count, []);
            var (selection, terms) = (Selection.Nothing(count), SelectionTerms.Nothing);
            // Gap g lies before item g; the last one behind all.
            bool[] gaps = new bool[count + 1], atStart = gaps;
            foreach (var (k, at) in acts)
            {
                var act = new Act(kinds[k], at % count);
                var before = selection;
                selection = Selector.Apply(selection, act, rules).Selection;
                terms = terms.Follow(before, selection, act, []);
                // Without an anchor a range is one item.
                bool within(int gap) =>
                    before.Anchor >= 0 && Math.Min(before.Anchor, act.Index) < gap && gap <= Math.Max(before.Anchor, act.Index);
                gaps = act.Kind switch
                {
                    ActKind.Toggle when selection.Items.IsEmpty => new bool[count + 1],
                    ActKind.Toggle => gaps,
                    ActKind.SelectAll or ActKind.ToggleAll => [.. gaps.Select(_ => !selection.Items.IsEmpty)],
                    ActKind.Invert => [.. gaps.Select(g => !g)],
                    ActKind.Extend => [.. gaps.Select((_, g) => within(g))],
                    ActKind.ExtendAdding when before.Anchor >= 0 =>
                        [.. atStart.Select((was, g) => within(g) ? before.StartingPoint.Contains(before.Anchor) : was)],
                    _ => new bool[count + 1],
                };
                if (ReferenceEquals(selection.StartingPoint, selection.Items)) atStart = gaps;
                for (var g = 0; g <= count; g++)
                {
                    var isIn = terms.After(Edit.Splice(count, g, 0, 1)).Now.Resolve(count + 1, []).Contains(g);
                    Assert.True(gaps[g] == isIn, $"{act}: gap {g} of {count} is {(isIn ? "in" : "out")}");
                    if (g == 0 || g == count) continue;
                    if (act.Kind is ActKind.Extend or ActKind.ExtendAdding && gaps[g]) inRange++;
                    if (act.Kind == ActKind.Toggle && !gaps[g] && selection.Items.Contains(g - 1)
                        && selection.Items.Contains(g)) betweenTicked++;
                    if (act.Kind == ActKind.SelectAll) afterAll++;
                    if (act.Kind == ActKind.Toggle && gaps[g] && !selection.Items.Contains(g)) exceptions++;
                }
            }
        }, iter: Effort.Of(5000));
        Assert.True(Math.Min(inRange, betweenTicked) > 0 && Math.Min(afterAll, exceptions) > 0,
            $"{inRange} {betweenTicked} {afterAll} {exceptions}");
    }

    /// <summary>What scattered toggles say grows with what differs, not with how often it was turned on and back.</summary>
    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public void Very_many_toggles_are_said_in_as_many_words_as_they_need_and_some_more(bool fromAll)
    {
        const int count = 3_000, many = 1_500;
        var rules = RulesFor(count, []);
        var (selection, terms) = (Selection.Nothing(count), SelectionTerms.Nothing);
        void Do(Act act)
        {
            var before = selection;
            selection = Selector.Apply(selection, act, rules).Selection;
            terms = terms.Follow(before, selection, act, []);
        }
        if (fromAll) Do(new(ActKind.SelectAll));
        int shrunk = 0, most = 0;
        for (var i = 0; i < 4 * many; i++)
        {
            var said = terms.Now.Terms.Count;
            // There and back, twice.
            Do(new(ActKind.Toggle, i * 2 % count));
            var needed = (i / many % 2 == 0 ? i % many : many - 1 - (i % many)) + (i / many % 2 == 0 ? 1 : 0);
            Assert.Equal(fromAll ? count - needed : needed, selection.Items.Count);
            var words = terms.Now.Terms.Count;
            Assert.True(words >= needed, $"{words} words for {needed} items");
            Assert.Equal(needed > 0 || fromAll ? fromAll : false, terms.Now.IsAll);
            if (words < said - 1 && needed > 0)
            {
                shrunk++;
                Assert.Equal(needed, words);
            }
            most = Math.Max(most, words);
            if (i % 500 == 0 || needed < 3) Assert.Equal(selection.Items, terms.Now.Resolve(count, []));
            if (i % 500 == 0) Assert.Same(terms, terms.At(b => b.Index, b => b.Index, b => b.Index));
        }
        Assert.InRange(shrunk, 2, 20);
        Assert.InRange(most, many, 2_048);
        Assert.Equal(selection.Items.Ranges().Count(), fromAll ? 1 : 0);
    }

    /// <summary>What a program selects is said by its ranges, each end with a number of its own.</summary>
    [Fact]
    public void What_was_not_said_by_acts_is_said_in_ranges()
    {
        var some = ItemSet.None(30).WithRange(0, 3).With(7).WithRange(20, 10);
        var terms = (SelectionTerms.Nothing with { Next = 5 }).Restated(some);
        Assert.Same(terms.Now, terms.AtStart);
        Assert.Equal([(5, 0, 6, 2), (7, 7, 7, 7), (8, 20, 9, 29)],
            terms.Now.Terms.Select(t => (t.From!.Id, t.From.Index, t.To!.Id, t.To.Index)));
        Assert.Equal((10, false, 3), (terms.Next, terms.Now.IsAll, terms.Now.Pruned));
        // Another selection is said anew where that takes fewer words, and else by what differs.
        var now = Selection.Nothing(30) with { Items = some, StartingPoint = some };
        SelectionTerms Become(ItemSet items) => terms.Follow(now, now with { Items = items, StartingPoint = items }, null, []);
        Assert.Equal([(8, 8), (25, 29)], Become(ItemSet.None(30).With(8).WithRange(25, 5)).Now.Terms.Select(t =>
            (t.From!.Index, t.To!.Index)));
        var shifted = Become(ItemSet.None(30).WithRange(0, 3).With(9).WithRange(20, 10));
        Assert.Equal([(true, 0, 2), (true, 9, 9), (true, 20, 29)], shifted.Now.Terms.Select(t =>
            (t.IsIn, t.From!.Index, t.To!.Index)).Order());
        Assert.All(shifted.Now.Terms, t => Assert.InRange(t.From!.Id, 5, shifted.Next - 1));
    }

    /// <summary>Where at least one must be selected, it is the next that can be, else the last before; a filter takes what it
    /// hides.</summary>
    [Theory]
    [InlineData(-1, 0, 0)]
    [InlineData(0, 0, 0)]
    [InlineData(1, -1, 3)]
    [InlineData(4, 2, 3)]
    public void One_is_picked_where_one_must_be_selected(int near, int cursor, int wanted)
    {
        var rules = new SelectionRules(new RowMap(ItemSet.None(6).With(0).With(3), null, []), ItemSet.None(6),
            SelectionPolicy.For(SelectionMode.Single) with { Least = 1 }, int.MaxValue);
        var none = Selection.Nothing(6) with { Cursor = cursor };
        var settled = Selector.Settle(none, rules, false, near);
        Assert.Equal((wanted, cursor < 0 ? wanted : cursor), (Assert.Single(settled.Items), settled.Cursor));
    }

    [Fact]
    public void A_selection_follows_an_edit_with_what_it_began_from_and_keeps_its_cursor()
    {
        static ItemSet Of(params int[] items) => ItemSet.Of(5, items);
        var nothing = Selection.Nothing(5);
        Assert.Equal((-1, -1, false, true, true),
            (nothing.Anchor, nothing.Cursor, nothing.IsSelecting, nothing.Items.IsEmpty, nothing.StartingPoint.IsEmpty));
        var edit = Edit.Splice(5, 0, 0, 1);
        var ranged = (nothing with { Items = Of(1, 2, 3), StartingPoint = Of(1) }).After(edit);
        Assert.Equal([2, 3, 4], ranged.Items);
        Assert.Equal([2], ranged.StartingPoint);
        // One set stays one: what tells the two apart looks at which it is.
        var set = Of(1, 3);
        var same = (nothing with { Items = set, StartingPoint = set }).After(edit);
        Assert.Same(same.Items, same.StartingPoint);
        // One must be selected; the cursor goes there only where it is nowhere.
        SelectionRules rules = new(new RowMap(ItemSet.All(5), null), Of(), SelectionPolicy.For(SelectionMode.SingleRequired), 9);
        foreach (var (cursor, then) in ((int, int)[])[(-1, 3), (0, 0), (4, 4)])
        {
            var settled = Selector.Settle(nothing with { Cursor = cursor }, rules, false, 3);
            Assert.Equal((3, then), (Assert.Single(settled.Items), settled.Cursor));
        }
        // The last of a range is in it: to name it again says nothing new.
        var last = new Bound(2, 5);
        Assert.Single(TermList.Nothing.With(new(true, new(0, 2), new(1, 5))).With(new(true, last, last)).Terms);
    }

    [Fact]
    public void Among_very_many_words_needless_ones_are_left_out_and_the_rest_means_the_same()
    {
        const int length = 4000;
        var random = new Random(7);
        var (list, meant, pruned) = (TermList.Nothing, ItemSet.None(length), 0);
        for (var i = 0; i < 12_000; i++)
        {
            int from = random.Next(length), to = random.Next(40) == 0 ? Math.Min(length - 1, from + random.Next(20)) : from;
            var isIn = random.Next(2) == 0;
            var begin = new Bound(2 * i, from);
            var longer = list.With(new(isIn, begin, from == to ? begin : new((2 * i) + 1, to)));
            if (longer.Terms.Count < list.Terms.Count - 100) pruned++;
            (list, meant) = (longer, meant.WithRange(from, to - from + 1, isIn));
            if (i % 500 == 499) Assert.Equal(meant, list.Resolve(length, []));
        }
        Assert.True(pruned > 2 && list.Terms.Count < 6000, $"{pruned} times, {list.Terms.Count} words at last");
    }

    [Fact]
    public void A_condition_needs_the_order_that_its_intervals_are_of() =>
        Assert.Throws<ArgumentNullException>(() => new Condition<int, int>(null!, true, []).Means(1, 1, null!));

    [Theory]
    [InlineData(10, 90, 1, 3, 1, 3)]
    [InlineData(90, 10, 1, 3, 3, 1)]
    [InlineData(10, 90, 0, 0, 0, 0)]
    [InlineData(40, 40, 1, 3, 1, 3)]
    [InlineData(90, 10, 0, 2, 2, 0)]
    [InlineData(10, 90, -1, -1, 2, 4)]
    public void A_marquee_puts_the_anchor_where_it_began_and_the_cursor_where_it_ends(
        double fromY, double toY, int first, int last, int anchor, int cursor)
    {
        var before = Selection.Nothing(5) with { Anchor = 2, Cursor = 4 };
        var covered = first < 0 ? ItemSet.None(5) : ItemSet.None(5).WithRange(first, last - first + 1);
        var marquee = new Marquee(before, MarqueeJoin.Replace, 5, fromY, 50, toY);
        Assert.Equal((Math.Min(fromY, toY), Math.Max(fromY, toY), 5, 50), (marquee.Top, marquee.Bottom, marquee.Left, marquee.Right));
        var (after, refusal) = marquee.Outcome(covered, first, last, RulesFor(5, []));
        Assert.Null(refusal);
        Assert.Equal((anchor, cursor), (after.Anchor, after.Cursor));
        var single = RulesFor(5, []) with { Policy = SelectionPolicy.For(SelectionMode.Single) };
        Assert.Equal("Only a list that selects many items can select them by dragging.",
            marquee.Outcome(covered, first, last, single).Refusal?.Reason);
    }
}
