using System.Collections.Immutable;
using Lectica.Items;
using Lectica.Selecting;
using Lectica.Sources;
using Lectica.States;

namespace Lectica.Shell;

/// <summary>
/// What is selected of a source that is not in memory: it is held as it was said, and its places follow what the source tells of where its
/// items are.
/// </summary>
internal sealed class PagedSelection<TItem, TKey>(Core core, ItemStore<TItem, TKey> store) where TKey : notnull
{
    private readonly NamedEnds<TItem, TKey> _ends = new(store);

    // Items that are selected one by one, whose places have still to be asked for.
    private ImmutableArray<Bound> _unplaced = [];

    private static SelectionTerms Terms(ListState state) => state.Reading.Terms!;

    /// <summary>Whether all has been asked that has to be known of it.</summary>
    public bool IsPlaced => _unplaced.IsEmpty;

    public void Clear()
    {
        _ends.Clear();
        _unplaced = [];
    }

    // ── What is asked of the source ──

    /// <summary>The ends of what is selected whose items have not been read; those of the others are kept.</summary>
    public IReadOnlyCollection<Bound> Unread(ListState state) => _ends.AreFor(Terms(state)) ? [] : _ends.KeepFor(Terms(state));

    /// <summary>Items have been read for ends; no item for one that has left since.</summary>
    public void Name(ImmutableArray<Bound> ends, Func<int, (TItem Item, TKey Key)?> itemAt)
    {
        for (var i = 0; i < ends.Length; i++)
        {
            if (itemAt(i) is { } named) _ends.Name(ends[i], named.Item, named.Key);
            else AskNoMore();
        }
        // Who was read for one may have been read elsewhere before.
        Place(Terms(core.State));
    }

    private void Place(SelectionTerms terms)
    {
        var state = core.State;
        terms = InPlace(terms);
        if (!ReferenceEquals(terms, Terms(state))) core.Commit(With(state, terms), cause: "source");
    }

    /// <summary>
    /// The ends that could not be read are asked for again when something else is selected, or when they are needed.
    /// </summary>
    public void AskNoMore() => _ends.SettleFor(Terms(core.State));

    /// <summary>The ends of intervals, whose places are to be asked for.</summary>
    public ImmutableArray<Bound> Ends(ListState state) => [.. Terms(state).Bounds.Where(_ends.Has).ExceptBy(
        Terms(state).Keys.Select(b => b.Id), b => b.Id)];

    /// <summary>What is selected one by one. It may be very many: so many of them at most.</summary>
    public ImmutableArray<Bound> Keys(ListState state, int most) => [.. Terms(state).Keys.Where(_ends.Has).Take(most)];

    public TItem ItemOf(Bound bound) => _ends[bound].Item;

    public TKey KeyOf(Bound bound) => _ends[bound].Key;

    /// <summary>The next of those whose places have still to be asked for.</summary>
    public ImmutableArray<Bound> TakeUnplaced(int most)
    {
        // One that is no longer named is asked for no more.
        ImmutableArray<Bound> known = [.. _unplaced.Where(_ends.Has)];
        _unplaced = [.. known.Skip(most)];
        return [.. known.Take(most)];
    }

    // ── Where it is ──

    /// <summary>The terms with their ends where the source says that they are now.</summary>
    /// <param name="terms">The terms as they came through the change.</param>
    /// <param name="ends">The ends of intervals that were asked for.</param>
    /// <param name="spans">Where they are.</param>
    /// <param name="placeOf">Where keys are; null for one that is not known.</param>
    public SelectionTerms At(SelectionTerms terms, ImmutableArray<Bound> ends, ImmutableArray<BoundSpan> spans, Func<TKey, int?> placeOf)
    {
        var spanOf = ends.Zip(spans).ToDictionary(p => p.First.Id, p => p.Second);
        return terms.At(
            key => _ends.TryGet(key, out var named) && placeOf(named.Key) is { } now ? now : key.Index,
            first => spanOf.TryGetValue(first.Id, out var span) ? span.Before : first.Index,
            last => spanOf.TryGetValue(last.Id, out var span) ? span.UpTo - 1 : last.Index);
    }

    /// <summary>All is where the source says, but for what is selected one by one and was not asked for: that is asked next.</summary>
    public void Placed(ImmutableArray<Bound> asked) =>
        _unplaced = [.. Terms(core.State).Keys.ExceptBy(asked.Select(b => b.Id), b => b.Id)];

    /// <summary>Takes what is selected one by one to where it is.</summary>
    public void Take(ImmutableArray<Bound> keys, ImmutableArray<int?> places)
    {
        var state = core.State;
        var placeOf = new Dictionary<long, int>();
        for (var i = 0; i < keys.Length; i++)
            if (places[i] is { } place && place < state.Count) placeOf[keys[i].Id] = place;
        Place(Terms(state).At(
            key => placeOf.TryGetValue(key.Id, out var place) ? place : key.Index, first => first.Index, last => last.Index));
    }

    /// <summary>
    /// Keys that are selected or not stand where their items have been read. One that would stand where another item has been read, as its
    /// own place was not asked for yet or takes too long to find out, is somewhere that nobody has looked.
    /// </summary>
    public SelectionTerms InPlace(SelectionTerms terms)
    {
        ItemSet? free = null;
        var found = new Dictionary<long, int>();
        return terms.At(Place, first => first.Index, last => last.Index);

        int Place(Bound bound)
        {
            if (!_ends.TryGet(bound, out var named)) return bound.Index;
            if (store.IndexOf(named.Key) is >= 0 and var index) return index;
            if (bound.Index < 0 || !store.Has(bound.Index)) return bound.Index;
            if (!found.TryGetValue(bound.Id, out var place)) found[bound.Id] = place = Nearest(bound.Index);
            return place;
        }

        int Nearest(int index)
        {
            free ??= store.Where(_ => true).Union(ItemSet.Of(store.Count, terms.Keys.Select(k => k.Index).Where(i => i >= 0))).Complement();
            int before = free.LastAt(index), after = free.NextAt(index);
            var place = before >= 0 && (after < 0 || index - before <= after - index) ? before : after;
            if (place >= 0) free = free.With(place, false);
            return place;
        }
    }

    /// <summary>
    /// The source lets other items show: of what is selected that stays of which every item is known. Of the rest nobody can tell any more
    /// who was meant.
    /// </summary>
    public void Enter(object? scope)
    {
        var state = core.State;
        if (Equals(scope, state.Reading.Scope)) return;
        var terms = OneByOne(state);
        // Before the pages are gone.
        _ends.KeepFor(terms);
        var entered = With(state, terms);
        core.Commit(entered with { Reading = entered.Reading with { Scope = scope } }, cause: "source");
    }

    private SelectionTerms OneByOne(ListState state) => Terms(state).OneByOne(
        state.Count, state.Showing.Sections, end => _ends.Has(end) || store.Has(end.Index), store.Has, core.Options.KeepsHiddenSelected);

    /// <summary>A state in which these terms are selected.</summary>
    public static ListState With(ListState state, SelectionTerms terms)
    {
        var selection = state.Selection;
        var items = terms.Now.Resolve(state.Count, state.Showing.Sections);
        if (items.Equals(selection.Items)) items = selection.Items;
        return state with
        {
            Reading = state.Reading with { Terms = terms },
            Selection = selection with
            {
                Items = items,
                StartingPoint = ReferenceEquals(terms.AtStart, terms.Now) ? items
                    : terms.AtStart.Resolve(state.Count, state.Showing.Sections),
            },
        };
    }

    // ── What is meant ──

    /// <summary>What a set of items means now.</summary>
    public TargetMeaning<TItem, TKey> MeaningOf(ItemSet items, IPagedSource<TItem, TKey> source)
    {
        var selection = core.Selection;
        var terms = Terms(core.State);
        if (!ReferenceEquals(items, selection.Items) && !items.Equals(selection.Items)) terms = terms.Restated(items);
        return MeaningOf(terms, source);
    }

    // Its ends may be read on any thread: the key function is called there, and not through what only the list's own thread may use.
    private TargetMeaning<TItem, TKey> MeaningOf(SelectionTerms terms, IPagedSource<TItem, TKey> source) =>
        new(source, terms.Now, _ends.Of(terms), store.Pages!.KeyOf, core.State.Reading.Scope);

    /// <summary>What is selected, by key, as it was said.</summary>
    /// <exception cref="InvalidOperationException">An end of it is still being read.</exception>
    public SnapshotMeaning Remember(IPagedSource<TItem, TKey> source)
    {
        // Where only some of the source shows it cannot be told, when it comes back, of what they were all.
        var terms = core.State.Reading.Scope is null ? Terms(core.State) : OneByOne(core.State);
        var condition = MeaningOf(terms, source).Condition
            ?? throw new InvalidOperationException(
            "What is selected ends on a row that is still being read: save it when IsReading is false.");
        return RememberedTerms.Write(condition, store.TextOf, end => store.TextOf(core.App.Ask(e => store.Pages!.KeysOf(0, [e]), end)[0]));
    }
}
