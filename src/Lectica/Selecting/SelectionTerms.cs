using System.Collections.Immutable;
using Lectica.Acts;
using Lectica.Items;

namespace Lectica.Selecting;

/// <summary>An end of what a term is about: the item that had a place when the user named it.</summary>
/// <param name="Id">By which the item itself is kept for it.</param>
/// <param name="Index">Its place now; -1 where its item has left.</param>
internal sealed record Bound(long Id, int Index);

/// <summary>Some items, taken in or out: one item where both ends are the same, an interval, or a section.</summary>
internal sealed record Term(bool IsIn, Bound? From, Bound? To, string? Section = null)
{
    public bool IsKey => From is not null && ReferenceEquals(From, To);
}

/// <summary>Terms in order, after all items or none.</summary>
/// <param name="IsAll">Whether all items are meant but for what the terms say; else none.</param>
/// <param name="Terms">Each overrules those before it.</param>
/// <param name="Pruned">How many there were when needless ones were last taken out of all.</param>
internal sealed record TermList(bool IsAll, ImmutableList<Term> Terms, int Pruned = 0)
{
    public static TermList Nothing { get; } = new(false, []);

    public static TermList Everything { get; } = new(true, []);

    /// <summary>The items that are meant, by place. Cost: a range for each term.</summary>
    public ItemSet Resolve(int length, ImmutableArray<SectionRows> sections)
    {
        var set = IsAll ? ItemSet.All(length) : ItemSet.None(length);
        foreach (var term in Terms)
        {
            if (term.Section is { } key)
            {
                foreach (var section in sections)
                    if (section.Key == key) set = term.IsIn ? set.Union(section.Members) : set.Except(section.Members);
                continue;
            }
            int from = term.From!.Index, to = Math.Min(term.To!.Index, length - 1);
            if (from >= 0 && from <= to) set = set.WithRange(from, to - from + 1, term.IsIn);
        }
        return set;
    }

    /// <summary>
    /// The same item by item, for when others show: one that was named, and each of an interval, of a section or of all where every one of
    /// them is known. The rest is left out, as nobody has seen whom it means.
    /// </summary>
    /// <param name="length">The number of items.</param>
    /// <param name="sections">The sections.</param>
    /// <param name="isNamed">Whether the item of an end is known.</param>
    /// <param name="isKnown">Whether each of some items is.</param>
    /// <param name="keepsHidden">Whether those that were named and do not show stay as well.</param>
    /// <param name="next">The number of the next bound.</param>
    public TermList OneByOne(
        int length, ImmutableArray<SectionRows> sections, Func<Bound, bool> isNamed, Func<ItemSet, bool> isKnown, bool keepsHidden,
            ref long next)
    {
        var set = IsAll && isKnown(ItemSet.All(length)) ? ItemSet.All(length) : ItemSet.None(length);
        var named = new Dictionary<int, Bound>();
        foreach (var term in Terms)
        {
            if (term is { IsKey: true, From: { } one })
            {
                if (one.Index < 0 || (term.IsIn && !isNamed(one))) continue;
                set = set.With(one.Index, term.IsIn);
                named[one.Index] = one;
                continue;
            }
            var about = new TermList(false, [term with { IsIn = true }]).Resolve(length, sections);
            if (!term.IsIn) set = set.Except(about);
            else if (isKnown(about)) set = set.Union(about);
        }
        var terms = ImmutableList.CreateBuilder<Term>();
        foreach (var index in set)
        {
            if (!named.TryGetValue(index, out var one)) one = new(next++, index);
            terms.Add(new(true, one, one));
        }
        if (keepsHidden) terms.AddRange(Terms.Where(t => t is { IsKey: true, IsIn: true, From.Index: < 0 }));
        return new(false, terms.ToImmutable(), terms.Count);
    }

    public TermList Inverted => new(!IsAll, Terms.ConvertAll(t => t with { IsIn = !t.IsIn }));

    /// <summary>Adds a term. Those before it that are about its places alone say nothing any more.</summary>
    public TermList With(Term term)
    {
        if (term.Section is not null) return this with { Terms = Terms.RemoveAll(t => t.Section == term.Section).Add(term) };
        if (Terms.Count >= Many)
        {
            // Needless ones change nothing that is meant. Among very many they are not looked for at each act.
            var longer = this with { Terms = Terms.Add(term) };
            return longer.Terms.Count < 2 * Math.Max(Many, Pruned) ? longer : longer.WithoutNeedless();
        }
        int from = term.From!.Index, to = term.To!.Index;
        var rest = this with { Terms = Terms.RemoveAll(t => t.From is not null && t.From.Index >= from && t.To!.Index <= to) };
        return term.IsKey && rest.Means(from) == term.IsIn ? rest : rest with { Terms = rest.Terms.Add(term) };
    }

    private const int Many = 1024;

    // Of an item that was named often the last word counts, and none where it is meant anyway; what sections mean is not known here.
    private TermList WithoutNeedless()
    {
        HashSet<int> named = [];
        var kept = ImmutableList.CreateBuilder<Term>();
        foreach (var term in Terms.Reverse())
            if (!term.IsKey || term.From!.Index < 0 || named.Add(term.From.Index)) kept.Add(term);
        kept.Reverse();
        if (!kept.Exists(t => t.Section is not null))
        {
            var meant = new TermList(IsAll, [.. kept.Where(t => !t.IsKey)]).Resolve(kept.Max(t => t.To!.Index) + 1, []);
            kept.RemoveAll(t => t.IsKey && t.From!.Index >= 0 && meant.Contains(t.From.Index) == t.IsIn);
        }
        return this with { Terms = kept.ToImmutable(), Pruned = kept.Count };
    }

    // Null where that depends on a section.
    private bool? Means(int place)
    {
        for (var i = Terms.Count - 1; i >= 0; i--)
        {
            if (Terms[i].Section is not null) return null;
            if (Terms[i].From!.Index <= place && place <= Terms[i].To!.Index) return Terms[i].IsIn;
        }
        return IsAll;
    }

    /// <summary>The same with other places for the ends of its terms.</summary>
    public TermList Map(Func<int, int> key, Func<int, int> first, Func<int, int> last) =>
        With(b => key(b.Index), b => first(b.Index), b => last(b.Index));

    /// <summary>The same with other places, given the ends.</summary>
    public TermList With(Func<Bound, int> key, Func<Bound, int> first, Func<Bound, int> last)
    {
        var changed = false;
        var terms = Terms.ConvertAll(term =>
        {
            if (term.From is not { } begun) return term;
            int start = term.IsKey ? key(begun) : first(begun), end = term.IsKey ? start : last(term.To!);
            if (start == begun.Index && end == term.To!.Index) return term;
            changed = true;
            var begin = begun with { Index = start };
            return term with { From = begin, To = term.IsKey ? begin : term.To! with { Index = end } };
        });
        return changed ? this with { Terms = terms } : this;
    }
}

/// <summary>
/// What the user has selected of a list that is not all in memory, as it was said: from here a condition is made that a source can work out
/// by itself. Beside it the selection holds the places; the two mean the same items whatever has been read.
/// </summary>
/// <param name="Now">What is selected.</param>
/// <param name="AtStart">What was selected when the anchor was set: what extend adding begins from.</param>
/// <param name="Next">The number of the next bound.</param>
internal sealed record SelectionTerms(TermList Now, TermList AtStart, long Next)
{
    public static SelectionTerms Nothing { get; } = new(TermList.Nothing, TermList.Nothing, 0);

    /// <summary>Follows the selection from one to the next: an act says what it means; of the rest the difference does.</summary>
    public SelectionTerms Follow(Selection before, Selection now, Act? act, ImmutableArray<SectionRows> sections)
    {
        var next = Changed(before, now, act, sections);
        return ReferenceEquals(now.StartingPoint, now.Items) && !ReferenceEquals(next.AtStart, next.Now)
            ? next with { AtStart = next.Now } : next;
    }

    private SelectionTerms Changed(Selection before, Selection now, Act? act, ImmutableArray<SectionRows> sections)
    {
        var made = act?.Kind switch
        {
            ActKind.SelectAll or ActKind.ToggleAll => this with { Now = TermList.Everything },
            // This item and no other, also of those to come: not all but the others.
            ActKind.Select or ActKind.SelectUnlessSelected when act.Value.Index is >= 0 and var one => Only(one),
            // Where no range has begun, it begins here.
            ActKind.Extend or ActKind.ExtendAdding when before.Anchor < 0 && act.Value.Index is >= 0 and var one => Only(one),
            ActKind.Invert => this with { Now = Now.Inverted },
            ActKind.Clear => this with { Now = TermList.Nothing },
            ActKind.ToggleSection when act.Value.Text is { } key =>
                this with { Now = Now.With(new(SectionIsIn(now, key, sections), null, null, key)) },
            ActKind.Extend => Ranged(TermList.Nothing, before, now, true),
            ActKind.ExtendAdding => Ranged(AtStart, before, now, before.Anchor >= 0 && before.StartingPoint.Contains(before.Anchor)),
            _ => null,
        };
        // An act says what it means also where the places are those that were selected already. Toggle-all may have meant none.
        if (made is not null && made.Now.Resolve(now.Items.Universe, sections).Equals(now.Items)) return made;
        return ReferenceEquals(before.Items, now.Items) ? this : Differing(before, now);

        SelectionTerms Only(int one) => WithRange(this with { Now = TermList.Nothing }, one, one, true);
    }

    private static bool SectionIsIn(Selection now, string key, ImmutableArray<SectionRows> sections)
    {
        foreach (var section in sections)
            if (section.Key == key) return section.Members.Except(now.Items).IsEmpty;
        return false;
    }

    // A range is said by the two items that the user named.
    private SelectionTerms? Ranged(TermList from, Selection before, Selection now, bool isIn)
    {
        if (before.Anchor < 0) return null;
        return WithRange(this with { Now = from }, Math.Min(now.Anchor, now.Cursor), Math.Max(now.Anchor, now.Cursor), isIn);
    }

    /// <summary>By what differs; from scratch only where the selection was replaced. Cost: what differs.</summary>
    private SelectionTerms Differing(Selection before, Selection now)
    {
        if (now.Items.IsEmpty) return this with { Now = TermList.Nothing };
        ItemSet added = now.Items.Except(before.Items), removed = before.Items.Except(now.Items);
        var terms = this;
        if (!added.IsEmpty && !removed.IsEmpty)
        {
            var words = Now.Terms.Count + added.Ranges().Count() + removed.Ranges().Count();
            if (now.Items.Ranges().Take(words).Count() < words) return Listed(now.Items);
        }
        foreach (var range in removed.Ranges()) terms = WithRange(terms, range.Start, range.End - 1, false);
        foreach (var range in added.Ranges()) terms = WithRange(terms, range.Start, range.End - 1, true);
        return terms;
    }

    /// <summary>Says a set of places from scratch.</summary>
    public SelectionTerms Restated(ItemSet items)
    {
        var terms = Listed(items);
        return terms with { AtStart = terms.Now };
    }

    // Ranges do not overlap: none of them makes another needless.
    private SelectionTerms Listed(ItemSet items)
    {
        var terms = ImmutableList.CreateBuilder<Term>();
        var next = Next;
        foreach (var range in items.Ranges())
        {
            var from = new Bound(next++, range.Start);
            terms.Add(new(true, from, range.End - range.Start == 1 ? from : new(next++, range.End - 1)));
        }
        return this with { Now = new(false, terms.ToImmutable(), terms.Count), Next = next };
    }

    private static SelectionTerms WithRange(SelectionTerms terms, int first, int last, bool isIn)
    {
        Bound from = new(terms.Next, first), to = first == last ? from : new(terms.Next + 1, last);
        return terms with { Now = terms.Now.With(new(isIn, from, to)), Next = terms.Next + 2 };
    }

    /// <summary>
    /// The same after an edit of the source. An end that has left stands where its place in the order is; a key is nowhere then.
    /// </summary>
    public SelectionTerms After(Edit edit) => Map(list => list.Map(
        edit.Apply, place => edit.Apply(place) is >= 0 and var now ? now : edit.Gap(place),
        place => edit.Apply(place) is >= 0 and var now ? now : edit.Gap(place + 1) - 1));

    /// <summary>The same with other places for its ends.</summary>
    public SelectionTerms At(Func<Bound, int> placeOfKey, Func<Bound, int> placeOfFirst, Func<Bound, int> placeOfLast) =>
        Map(list => list.With(placeOfKey, placeOfFirst, placeOfLast));

    /// <summary>The same item by item, as far as each is known.</summary>
    public SelectionTerms OneByOne(
        int length, ImmutableArray<SectionRows> sections, Func<Bound, bool> isNamed, Func<ItemSet, bool> isKnown, bool keepsHidden)
    {
        var next = Next;
        var terms = Map(list => list.OneByOne(length, sections, isNamed, isKnown, keepsHidden, ref next));
        return terms with { Next = next };
    }

    private SelectionTerms Map(Func<TermList, TermList> map)
    {
        var now = map(Now);
        var start = ReferenceEquals(AtStart, Now) ? now : map(AtStart);
        return ReferenceEquals(now, Now) && ReferenceEquals(start, AtStart) ? this : this with { Now = now, AtStart = start };
    }

    /// <summary>All ends, of what is selected now and of what was at the start.</summary>
    public IEnumerable<Bound> Bounds => AllTerms.SelectMany(t => t.IsKey ? [t.From!] : t.From is { } from ? [from, t.To!] : (Bound[])[]);

    /// <summary>Those that stand for one item each.</summary>
    public IEnumerable<Bound> Keys => AllTerms.Where(t => t.IsKey).Select(t => t.From!).DistinctBy(b => b.Id);

    private IEnumerable<Term> AllTerms => ReferenceEquals(Now, AtStart) ? Now.Terms : Now.Terms.Concat(AtStart.Terms);
}
