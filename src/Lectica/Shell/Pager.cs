using System.Collections.Concurrent;
using System.Collections.Immutable;
using Lectica.Acts;
using Lectica.Items;
using Lectica.Selecting;
using Lectica.Sources;
using Lectica.States;
using Lectica.Tracing;

namespace Lectica.Shell;

/// <summary>
/// Reads a source that is not in memory as its rows come into view: what is seen and a little beyond, each stretch once, and lets go of
/// what is far away. When the source has changed it asks where the things are now that the list knows of, and takes everything there by
/// one edit.
/// </summary>
internal sealed class Pager<TItem, TKey>(Core core, Turns turns, ItemStore<TItem, TKey> store, Marker<TItem, TKey> marking,
    Teller<TItem, TKey> teller, Events<TItem, TKey> events)
    where TKey : notnull
{
    // So many questions are open at once; so many keys are asked for their places; so often in a row a source that does not fit what it
    // said is asked where things are.
    private const int MostAsked = 4, MostKeys = 64, MostLooks = 3;

    private readonly ConcurrentQueue<Arrival> _arrived = new();
    private readonly List<Asked> _asked = [];

    // Items in use far from the window, of which only the place is known to be right.
    private readonly HashSet<int> _dated = [];
    private IPagedSource<TItem, TKey>? _source;
    private ImmutableDictionary<long, (TItem Item, TKey Key)> _named = ImmutableDictionary<long, (TItem, TKey)>.Empty;
    private SelectionTerms? _namedFor;
    private Seen? _seen;
    private volatile bool _changed;
    private bool _isCounted, _isEndless, _hasLookFailed;
    private int _looks;

    private enum Purpose
    {
        Open,
        Count,
        Page,
        Bounds,
        Look,
        Restore,
    }

    /// <summary>A question that is open.</summary>
    private sealed record Asked(IPagedSource<TItem, TKey> Source, Purpose Purpose, PageQuestion<TItem, TKey> Question,
        ImmutableArray<Bound> Bounds, ImmutableArray<Bound> Named)
    {
        public CancellationTokenSource Cancel { get; } = new();
    }

    private readonly record struct Arrival(Asked Asked, Task<PageAnswer<TItem>> Task);

    /// <summary>What the list was when it was last looked at: while it is the same there is nothing to do.</summary>
    private sealed record Seen(RowMap Rows, Layout.Viewport Viewport, Reading Reading);

    /// <summary>Whether the list shows a source that is not in memory.</summary>
    public bool IsPaged => _source is not null;

    public IPagedSource<TItem, TKey>? Source => _source;

    /// <summary>Whether a question is open.</summary>
    public bool IsReading =>
        _source is not null
        && (_changed || _asked.Count > 0
        || (_remembered is not null && core.State.Showing.Status?.Kind != NoticeKind.Failed && !_hasLookFailed));

    /// <summary>Told of each edit, for what is held by index outside the state.</summary>
    public Action<Edit, IReadOnlyList<Departed<TItem, TKey>>>? Edited { get; set; }

    // ── Opening and closing ──

    /// <summary>Shows a source, from its beginning.</summary>
    public void Open(IPagedSource<TItem, TKey> source)
    {
        Close();
        store.OpenPages();
        _source = source;
        source.Changed += Heard;
        (_isCounted, _isEndless, _hasLookFailed, _looks, _changed) = (false, false, false, 0, false);
        core.Commit(core.State with
        {
            Reading = new(core.State.Reading.Version + 1, ItemSet.None(0), null, SelectionTerms.Nothing),
            Showing = core.State.Showing with
            {
                HasSource = true,
                Status = new(NoticeKind.Loading, core.Options.Phrases.Loading),
                Sections = [],
            },
            Footer = Footer.Nothing,
        }, cause: "source");
        core.Out.Properties.Add("Count");
    }

    /// <summary>Lets the source go, and all that was read of it.</summary>
    public void Close()
    {
        if (_source is null) return;
        _source.Changed -= Heard;
        foreach (var asked in _asked) asked.Cancel.Cancel();
        _asked.Clear();
        if (store.Count > 0)
            Follow(Edit.Sequence([Edit.Splice(store.Count, 0, store.Count, 0)]),
                s => s with { Showing = s.Showing with { Sections = [] } });
        (_source, _seen, _namedFor, _named, _remembered) = (null, null, null, _named.Clear(), null);
        store.ClosePages();
        core.Commit(core.State with
        {
            Reading = Reading.AllInMemory with { Version = core.State.Reading.Version + 1 },
            Footer = Footer.Nothing,
        }, cause: "source");
    }

    /// <summary>Stops listening and asking.</summary>
    public void Dispose()
    {
        if (_source is not null) _source.Changed -= Heard;
        foreach (var asked in _asked) _ = core.App.Try(asked.Cancel.Cancel, why => why);
    }

    // On any thread.
    private void Heard(object? sender, EventArgs e)
    {
        _changed = true;
        turns.CallHome();
    }

    /// <summary>Asks where things are now, as if the source had said that it has changed.</summary>
    public void Refresh()
    {
        _changed = true;
        _looks = 0;
    }

    // ── Asking ──

    /// <summary>Asks for what is wanted now. Where nothing has changed since the last time it costs nothing.</summary>
    public void Work()
    {
        if (_source is null || turns.IsDisposed) return;
        var state = core.State;
        if (!_changed && _seen is { } seen && ReferenceEquals(seen.Rows, state.Showing.Rows) && seen.Viewport == state.Window.Viewport
            && ReferenceEquals(seen.Reading, state.Reading)) return;
        NameBounds(state);
        if (!_isCounted && store.Count == 0 && !_isEndless) AskFirst(state);
        else if (_changed && _holds == 0) AskWhere(state);
        else
        {
            // The first rows have not waited for their number, which may take a source long to tell.
            if (!_isCounted && !_isEndless && !_hasLookFailed && !IsAsked(Purpose.Count)) Ask(Purpose.Count, new() { Counts = true });
            AskInView(state);
            AskForRestored();
        }
        _seen = new(state.Showing.Rows, state.Window.Viewport, core.State.Reading);
        if (!_arrived.IsEmpty) turns.CallHome();
    }

    private bool IsAsked(Purpose purpose) => _asked.Exists(a => a.Purpose == purpose);

    private void AskFirst(ListState state)
    {
        if (state.Showing.Status?.Kind == NoticeKind.Failed) return;
        // What changed since they were asked for is asked for when they have come.
        if (IsAsked(Purpose.Open)) return;
        _changed = false;
        Ask(Purpose.Open, new() { Stretches = [new(0, core.Options.PageSize)] });
    }

    private void AskInView(ListState state)
    {
        if (IsAsked(Purpose.Look)) return;
        var (first, last) = InView(state);
        var size = core.Options.PageSize;
        var wanted = new List<int>();
        if (first >= 0)
        {
            var ahead = Math.Max(last - first + 1, size / 2);
            foreach (var index in Visible(state, first, last, ahead))
            {
                var page = index / size * size;
                if (!store.Has(index) && !state.Reading.Failed.Contains(index) && !wanted.Contains(page)) wanted.Add(page);
            }
            if (!_isCounted && _isEndless && state.Footer.More.Kind is MoreKind.ToCome or MoreKind.Loading && last + ahead >= store.Count)
                wanted.Add(store.Count);
            Trim(state, first, last);
        }
        foreach (var index in _dated)
            if (!wanted.Contains(index / size * size)) wanted.Add(index / size * size);
        // What has gone out of view meanwhile is not waited for.
        foreach (var asked in _asked.FindAll(a => a.Purpose == Purpose.Page && !wanted.Contains(a.Question.Stretches[0].Start)))
            Drop(asked);
        foreach (var page in wanted)
        {
            if (_asked.Count(a => a.Purpose == Purpose.Page) >= MostAsked) break;
            if (!_asked.Exists(a => a.Purpose == Purpose.Page && a.Question.Stretches[0].Start == page))
                Ask(Purpose.Page, new() { Stretches = [new(page, size)] });
        }
    }

    /// <summary>The first and last item in view; -1 where none is.</summary>
    private static (int First, int Last) InView(ListState state)
    {
        var (rows, window) = (state.Showing.Rows, state.Window);
        if (window.Geometry.LineAt(window.Viewport.ScrollTop) is not { } top || rows.NextItemRow(top) is not { } first) return (-1, -1);
        var bottom = window.Geometry.LineAt(
            Math.Min(window.Geometry.Height - 1, window.Viewport.ScrollTop + window.Viewport.Height)) is { } line
                ? window.Geometry.LineEnd(line) : new(rows.Count - 1);
        var last = rows.NextItemRow(bottom, down: false) ?? first;
        return (rows.IndexAt(first), Math.Max(rows.IndexAt(first), rows.IndexAt(last)));
    }

    /// <summary>The items in view, then those beyond, nearest first; without those of collapsed sections.</summary>
    private static IEnumerable<int> Visible(ListState state, int first, int last, int ahead)
    {
        var rows = state.Showing.Rows;
        bool HasRow(int index) => index >= 0 && index < state.Count && (rows.IsPlain || rows.RowOf(index) is not null);
        for (var i = first; i <= last; i++)
            if (HasRow(i)) yield return i;
        for (var i = 1; i <= ahead; i++)
        {
            if (HasRow(last + i)) yield return last + i;
            if (HasRow(first - i)) yield return first - i;
        }
    }

    /// <summary>Lets go of what is far from the window and not in use.</summary>
    private void Trim(ListState state, int first, int last)
    {
        var most = core.Options.PageSize * core.Options.PagesKept;
        var pages = store.Pages!;
        if (pages.ReadCount <= most + core.Options.PageSize) return;
        int from = first - (most / 2), to = last + (most / 2);
        HashSet<int> used = [state.Selection.Cursor, state.Selection.Anchor, state.Menu.Index, state.Tray?.Index ?? -1,
            state.Window.Revealed, .. state.Pressed.Select(p => p.Index), .. state.Carrying.Grab?.Items.Take(MostKeys) ?? []];
        pages.Keep(i => (i >= from && i <= to) || used.Contains(i));
        core.Commit(core.State with { Reading = core.State.Reading with { Version = core.State.Reading.Version + 1 } });
    }

    /// <summary>
    /// Keeps the items that the terms of the selection name, for as long as they do; those that have not been read are asked for.
    /// </summary>
    private void NameBounds(ListState state)
    {
        var terms = state.Reading.Terms!;
        if (ReferenceEquals(_namedFor, terms) || IsAsked(Purpose.Bounds)) return;
        var named = ImmutableDictionary.CreateBuilder<long, (TItem, TKey)>();
        var unnamed = new Dictionary<long, Bound>();
        foreach (var bound in terms.Bounds)
        {
            if (_named.TryGetValue(bound.Id, out var known)) named[bound.Id] = known;
            else if (bound.Index < 0 || bound.Index >= store.Count) continue;
            else if (store.Has(bound.Index)) named[bound.Id] = (store.ItemAt(bound.Index), store.KeptKeyAt(bound.Index));
            else unnamed[bound.Id] = bound;
        }
        _named = named.ToImmutable();
        if (unnamed.Count == 0) _namedFor = terms;
        if (unnamed.Count == 0 || _changed) return;
        ImmutableArray<Bound> some = [.. unnamed.Values.Take(MostKeys)];
        Ask(Purpose.Bounds, new() { Stretches = [.. some.Select(b => new Stretch<TItem>(b.Index, 1))] }, [], some);
    }

    // While the list's own doings are on their way to the source, what that says of places and marks may be from before them.
    private int _holds;

    /// <summary>Where things are is not looked at until what is being stored is.</summary>
    public void Hold()
    {
        _holds++;
        foreach (var look in _asked.FindAll(a => a.Purpose == Purpose.Look))
        {
            Drop(look);
            _changed = true;
        }
    }

    /// <summary>It is stored, or could not be.</summary>
    public void LetGo()
    {
        _holds--;
        _seen = null;
    }

    /// <summary>
    /// Asks where all is now that the list knows of: what is in view, what the selection names, where cursor and anchor are.
    /// </summary>
    private void AskWhere(ListState state)
    {
        if (IsAsked(Purpose.Look) || _holds > 0) return;
        _changed = false;
        foreach (var asked in _asked.ToArray()) Drop(asked);
        var (first, last) = InView(state);
        var size = core.Options.PageSize;
        var wanted = Math.Max(size, last - first + 1 + size);
        // What is looked at stays where it is: the stretch goes by its first item, where that has been read.
        var eye = first >= 0 ? Enumerable.Range(first, last - first + 1).FirstOrDefault(store.Has, -1) : -1;
        var stretch = eye >= 0 ? new Stretch<TItem>(-Math.Min(size / 2, eye), wanted, new(store.ItemAt(eye)))
            : new(Math.Max(0, first - (size / 2)), wanted);
        Bound[] bounds = [.. state.Reading.Terms!.Bounds.Where(b => _named.ContainsKey(b.Id)).DistinctBy(b => b.Id)];
        var keyTerms = state.Reading.Terms.Now.Terms.Concat(state.Reading.Terms.AtStart.Terms).Where(t => t.IsKey).Select(t => t.From!.Id)
            .ToHashSet();
        ImmutableArray<Bound> ends = [.. bounds.Where(b => !keyTerms.Contains(b.Id))];
        ImmutableArray<Bound> keys = [.. bounds.Where(b => keyTerms.Contains(b.Id)).Take(MostKeys)];
        int[] used = [.. InUse(state).Where(store.Has)];
        Ask(Purpose.Look, new()
        {
            Counts = true,
            Stretches = [stretch],
            Bounds = [.. ends.Select(b => _named[b.Id].Item)],
            Keys = [.. keys.Select(b => _named[b.Id].Key), .. used.Select(store.KeptKeyAt)],
        }, ends, keys);
    }

    private static IEnumerable<int> InUse(ListState state) =>
        new[] { state.Selection.Cursor, state.Selection.Anchor, state.Menu.Index, state.Tray?.Index ?? -1 }.Concat(
        state.Pressed.Select(p => p.Index)).Where(i => i >= 0).Distinct();

    private void Ask(
        Purpose purpose, PageQuestion<TItem, TKey> question, ImmutableArray<Bound> bounds = default, ImmutableArray<Bound> named = default)
    {
        var asked = new Asked(_source!, purpose, question, bounds.IsDefault ? [] : bounds, named.IsDefault ? [] : named);
        _asked.Add(asked);
        // The source's own exception is an answer like any other.
        var task = Attempt.Begin(() => core.App.Ask(a => a.Source.AskAsync(a.Question, a.Cancel.Token), asked));
        if (task.IsCompleted) _arrived.Enqueue(new(asked, task));
        else task.ContinueWith(done =>
        {
            _arrived.Enqueue(new(asked, done));
            turns.CallHome();
        }, CancellationToken.None, TaskContinuationOptions.ExecuteSynchronously, TaskScheduler.Default);
    }

    private void Drop(Asked asked)
    {
        _asked.Remove(asked);
        if (core.App.Try(asked.Cancel.Cancel, why => why) is { } refusal)
            core.Out.Fail(new InvalidOperationException($"A callback of a read's cancellation threw: {refusal.Reason}"));
    }

    // ── Answers ──

    /// <summary>Takes the answers that have come.</summary>
    public void TakeArrived()
    {
        while (_arrived.TryDequeue(out var arrival)) Take(arrival);
    }

    private void Take(Arrival arrival)
    {
        // One that nobody waits for any more says nothing.
        if (!_asked.Remove(arrival.Asked) || !ReferenceEquals(arrival.Asked.Source, _source)) return;
        arrival.Asked.Cancel.Dispose();
        var error = arrival.Task.IsCompletedSuccessfully ? null
            : arrival.Task.Exception?.InnerException ?? new OperationCanceledException("The source cancelled the read.");
        if (error is null)
        {
            // An answer that does not fit the question is a read that failed: the list is as it was.
            error = Attempt.Of(() => Take(arrival.Asked, arrival.Task.Result));
            if (error is not null) core.Rewind();
        }
        if (error is not null) Fail(arrival.Asked, error);
        core.Save();
    }

    private void Take(Asked asked, PageAnswer<TItem> answer)
    {
        if (answer.Pages.Length != asked.Question.Stretches.Length)
            throw new SourceAnswerException(
                $"It was asked for {asked.Question.Stretches.Length} stretches and answered {answer.Pages.Length}.");
        switch (asked.Purpose)
        {
            case Purpose.Look:
                TakePlaces(asked, answer);
                break;
            case Purpose.Restore:
                TakeRestored(asked.Question.Keys, answer.Indexes);
                break;
            case Purpose.Bounds:
                for (var i = 0; i < asked.Named.Length; i++)
                {
                    if (answer.Pages[i].Items is [var item] && KeyOf(answer.Pages[i]) is [var key])
                        _named = _named.SetItem(asked.Named[i].Id, (item, key));
                    // It has left since: nothing is to be read of it.
                    else _namedFor = core.State.Reading.Terms;
                }
                _seen = null;
                break;
            default:
                if (answer.Count is { } count) TakeCount(count, answer.Sections);
                else if (asked.Question.Counts) BeEndless();
                for (var i = 0; i < answer.Pages.Length; i++) TakePage(asked, asked.Question.Stretches[i], answer.Pages[i]);
                break;
        }
        if (_hasLookFailed && asked.Purpose != Purpose.Bounds) Recovered();
    }

    private TKey[] KeyOf(Page<TItem> page) => core.App.Ask(p => store.Pages!.KeysOf(p.Start, p.Items), page);

    // The number of items has come, after the first of them or before.
    private void TakeCount(int count, ImmutableArray<SourceSection> sections)
    {
        ArgumentOutOfRangeException.ThrowIfNegative(count);
        CheckSections(count, sections);
        (_isCounted, _isEndless) = (true, false);
        var old = store.Count;
        if (count < old) store.Pages!.Keep(i => i < count);
        var edit = count >= old ? Edit.Splice(old, old, 0, count - old) : Edit.Splice(old, count, old - count, 0);
        Follow(Edit.Sequence([edit]), s => InSections(s, sections) with { Footer = s.Footer with { More = More.NotSaid } });
        _seen = null;
    }

    private static void CheckSections(int count, ImmutableArray<SourceSection> sections)
    {
        if (sections.IsDefaultOrEmpty) return;
        var sum = sections.Sum(s => (long)s.Count);
        if (sum != count) throw new SourceAnswerException($"Its sections have {sum} items together, and it has {count}.");
        if (sections.Select(s => s.Key).Distinct().Count() != sections.Length)
            throw new SourceAnswerException("It has two sections with one key.");
    }

    private static ListState InSections(ListState state, ImmutableArray<SourceSection> sections)
    {
        var start = 0;
        var rows = ImmutableArray.CreateBuilder<SectionRows>(sections.Length);
        foreach (var section in sections)
        {
            rows.Add(new(
                section.Key, section.Title ?? section.Key, ItemSet.None(state.Count).WithRange(start, section.Count), false, null));
            start += section.Count;
        }
        return state with { Showing = state.Showing with { Sections = rows.DrainToImmutable() } };
    }

    private void BeEndless()
    {
        _isEndless = !_isCounted;
        _seen = null;
        if (_isEndless && store.Count > 0)
            core.Commit(core.State with { Footer = core.State.Footer with { More = More.Loading } }, cause: "source");
    }

    private void TakePage(Asked asked, Stretch<TItem> wanted, Page<TItem> page)
    {
        var (start, items) = (page.Start, page.Items);
        if (start != wanted.Start)
            throw new SourceAnswerException($"It was asked for the stretch from {wanted.Start} on and answered one from {start} on.");
        if (items.Count > wanted.Count)
            throw new SourceAnswerException($"It was asked for {wanted.Count} items from {start} on and answered {items.Count}.");
        var keys = KeyOf(page);
        if (!_isCounted) Grow(start, items.Count, items.Count < wanted.Count);
        var expected = Math.Min(wanted.Count, store.Count - start);
        if (items.Count != expected || store.Pages!.IsElsewhere(start, keys))
        {
            // It is another than it was, whether it says so or not.
            if (_looks++ >= MostLooks)
                throw new SourceAnswerException(items.Count != expected
                    ? $"It says that it has {store.Count} items, and gave {items.Count} of the {expected} from {start} on."
                    : "It gives one item at two places: the order is not total, or a key is there twice.");
            _changed = true;
            return;
        }
        if (asked.Purpose == Purpose.Page) _looks = 0;
        Put(start, items, keys);
    }

    // Items come before anybody knows how many there are.
    private void Grow(int start, int count, bool isLast)
    {
        if (start + count > store.Count)
            Follow(Edit.Sequence([Edit.Splice(store.Count, store.Count, 0, start + count - store.Count)]), s => s);
        if (isLast) _isCounted = true;
        var more = isLast ? _isEndless ? More.None : More.NotSaid : _isEndless ? More.ToCome : More.Loading;
        core.Commit(core.State with
        {
            Footer = core.State.Footer with { More = more },
            Showing = core.State.Showing with { Status = null },
        }, cause: "source");
    }

    /// <summary>Items have been read: their marks come with them, and each is selected as its key says.</summary>
    private void Put(int start, IReadOnlyList<TItem> items, TKey[] keys)
    {
        store.Pages!.Put(start, items, keys);
        _dated.RemoveWhere(i => i >= start && i < start + keys.Length);
        int[] indexes = [.. Enumerable.Range(start, items.Count)];
        var state = core.State;
        var reading = state.Reading with
        {
            Version = state.Reading.Version + 1,
            Failed = items.Count == 0 ? state.Reading.Failed : state.Reading.Failed.WithRange(start, items.Count, false),
        };
        if (reading.Failed.IsEmpty) reading = reading with { Why = null };
        var terms = InPlace(reading.Terms!);
        var selection = state.Selection;
        if (!ReferenceEquals(terms, reading.Terms)) selection = Said(selection, terms, state);
        core.Commit(state with
        {
            Reading = reading with { Terms = terms },
            Selection = selection,
            Marks = marking.Complete(state.Marks, indexes),
        }, cause: "source", read: ItemSet.None(store.Count).WithRange(start, items.Count));
    }

    /// <summary>Keys that are selected or not stand where their items have been read.</summary>
    private SelectionTerms InPlace(SelectionTerms terms) => terms.At(
        bound => _named.TryGetValue(bound.Id, out var named) && store.IndexOf(named.Key) is >= 0 and var index ? index : bound.Index,
            bound => bound.Index, bound => bound.Index);

    private static Selection Said(Selection selection, SelectionTerms terms, ListState state)
    {
        var items = terms.Now.Resolve(state.Count, state.Showing.Sections);
        if (items.Equals(selection.Items)) items = selection.Items;
        return selection with
        {
            Items = items,
            StartingPoint = ReferenceEquals(terms.AtStart, terms.Now) ? items : terms.AtStart.Resolve(state.Count, state.Showing.Sections),
        };
    }

    /// <summary>Takes everything to where it is now.</summary>
    private void TakePlaces(Asked asked, PageAnswer<TItem> answer)
    {
        var page = answer.Pages[0];
        // Where nobody knows how many there are, a short stretch is the last one.
        var end = page.Start + page.Items.Count;
        var count = answer.Count ?? (page.Items.Count < asked.Question.Stretches[0].Count ? end : Math.Max(store.Count, end));
        CheckSections(count, answer.Sections);
        if (page.Start < 0 || page.Start + page.Items.Count > count)
            throw new SourceAnswerException(
                $"It has {count} items, and gave those from {page.Start} to {page.Start + page.Items.Count - 1}.");
        if (page.Items.Count != Math.Min(asked.Question.Stretches[0].Count, count - page.Start))
            throw new SourceAnswerException(
                $"It has {count} items, " +
                    $"and gave {page.Items.Count} of the {Math.Min(asked.Question.Stretches[0].Count, count - page.Start)} from " +
                        $"{page.Start} on.");
        if (answer.Bounds.Length != asked.Bounds.Length || answer.Indexes.Length != asked.Question.Keys.Length)
            throw new SourceAnswerException(
                $"It was asked for {asked.Bounds.Length} bounds and {asked.Question.Keys.Length} keys, and " +
                    $"answered {answer.Bounds.Length} and {answer.Indexes.Length}.");
        var keys = KeyOf(page);
        var placeOf = new Dictionary<TKey, int?>();
        for (var i = 0; i < asked.Question.Keys.Length; i++) placeOf[asked.Question.Keys[i]] = answer.Indexes[i];
        for (var i = 0; i < keys.Length; i++) placeOf[keys[i]] = page.Start + i;

        var known = new Dictionary<int, int>();
        var taken = new HashSet<int>();
        var gone = new List<int>();
        foreach (var index in store.Pages!.Indexes.Order())
            if (placeOf.TryGetValue(store.Pages.KeyAt(index), out var place) && place is { } now)
            {
                if (now < 0) gone.Add(index);
                else if (now < count && taken.Add(now)) known[index] = now;
            }
        var edit = PlaceMapping.Between(store.Count, count, known.Select(k => (k.Key, k.Value)), gone);
        store.Pages.Keep(known.ContainsKey);

        var ends = new Dictionary<long, BoundSpan>();
        for (var i = 0; i < asked.Bounds.Length; i++) ends[asked.Bounds[i].Id] = answer.Bounds[i];
        int First(Bound bound) => ends.TryGetValue(bound.Id, out var place) ? place.Before : bound.Index;
        int Last(Bound bound) => ends.TryGetValue(bound.Id, out var place) ? place.UpTo - 1 : bound.Index;
        int Key(Bound bound) =>
            _named.TryGetValue(bound.Id, out var named) && placeOf.TryGetValue(named.Key, out var place) && place is { } now ? now
            : bound.Index;
        if (answer.Count is not null) (_isCounted, _isEndless) = (true, false);
        Follow(edit, followed =>
        {
            var state = InSections(followed, answer.Sections);
            if (_isCounted && !_isEndless) state = state with { Footer = state.Footer with { More = More.NotSaid } };
            return state with
            {
                Reading = state.Reading with
                {
                    Terms = state.Reading.Terms!.At(Key, First, Last),
                    Failed = ItemSet.None(count),
                    Why = null,
                },
            };
        });
        Put(page.Start, page.Items, keys);
        _dated.UnionWith(store.Pages.Indexes.Where(i => i < page.Start || i >= end));
        _seen = null;
    }

    /// <summary>Takes all that is held by index through an edit. What is selected is what was said, in its places now.</summary>
    private void Follow(Edit edit, Func<ListState, ListState> complete)
    {
        teller.ReadUntold();
        store.Pages!.Follow(edit);
        _dated.Clear();
        core.Out.Properties.Add("Count");
        teller.BeginGathering();
        try
        {
            teller.Edited(edit, []);
            core.Follow(edit, (followed, complete) =>
            {
                var state = complete(followed with
                {
                    Showing = followed.Showing with { Shown = ItemSet.All(edit.NewLength), HasSource = true, Status = null },
                    Reading = followed.Reading with { Version = followed.Reading.Version + 1 },
                });
                return state with { Selection = Said(state.Selection, state.Reading.Terms!, state) };
            }, complete);
            Edited?.Invoke(edit, []);
        }
        finally
        {
            teller.EndGathering();
        }
        core.Look();
    }

    // ── What is remembered ──

    private ListSnapshot? _remembered;

    /// <summary>Puts an item as far past the top as it was.</summary>
    public Action<int, double> Scroll { get; set; } = (_, _) => { };

    /// <summary>What is selected, by key, as it was said.</summary>
    /// <exception cref="InvalidOperationException">An end of it is still being read.</exception>
    public SnapshotMeaning Remember()
    {
        var condition = MeaningOf(core.Selection.Items)!.Condition
            ?? throw new InvalidOperationException(
            "What is selected ends on a row that is still being read: save it when IsReading is false.");
        string Text(Box<TItem> end) => store.TextOf(KeyOf(new(0, [end.Item]))[0]);
        return new(condition.StartsWithAll, [.. condition.Terms.Select(t => t.Kind switch
        {
            TermKind.Key => new SnapshotTerm(t.IsIn, store.TextOf(t.Key!)),
            TermKind.Section => new(t.IsIn, Section: t.Section),
            _ => new(t.IsIn, From: Text(t.From!), To: Text(t.To!)),
        })]);
    }

    /// <summary>
    /// Comes back to what was remembered, as soon as the source has said where it is. What is not there any more is left out.
    /// </summary>
    public void Restore(ListSnapshot snapshot) => (_remembered, _seen) = (snapshot, null);

    private static IEnumerable<string?> KeysIn(ListSnapshot snapshot) =>
        (snapshot.Meant?.Terms ?? [.. snapshot.Selected.Select(k => new SnapshotTerm(true, k))]).SelectMany(
        t => new[] { t.Key, t.From, t.To }).Prepend(snapshot.FirstRow).Prepend(snapshot.Anchor).Prepend(snapshot.Cursor);

    private void AskForRestored()
    {
        if (_remembered is not { } snapshot || !(_isCounted || _isEndless) || IsAsked(Purpose.Restore)) return;
        var keys = ImmutableArray.CreateBuilder<TKey>();
        foreach (var text in KeysIn(snapshot).OfType<string>().Distinct())
            if (core.App.Ask(t => store.Texts.TryRead(t, out var key) ? (Key: key, IsKey: true) : default, text) is { IsKey: true } read)
                keys.Add(read.Key);
        Ask(Purpose.Restore, new() { Keys = keys.DrainToImmutable() });
    }

    private void TakeRestored(ImmutableArray<TKey> keys, ImmutableArray<int?> places)
    {
        var snapshot = _remembered!;
        _remembered = null;
        var placeOf = new Dictionary<string, int>();
        for (var i = 0; i < keys.Length; i++)
            if (places[i] is >= 0 and var place && place < store.Count) placeOf[store.TextOf(keys[i])] = place;
        var state = core.State;
        var next = state.Reading.Terms!.Next;
        var terms = ImmutableList.CreateBuilder<Term>();
        foreach (var term in snapshot.Meant?.Terms ?? [.. snapshot.Selected.Select(k => new SnapshotTerm(true, k))])
        {
            if (term.Section is not null) terms.Add(new(term.In, null, null, term.Section));
            else if (term.Key is { } key && placeOf.TryGetValue(key, out var at) && new Bound(next++, at) is var one)
                terms.Add(new(term.In, one, one));
            else if (term.From is { } first && term.To is { } last && placeOf.TryGetValue(first, out var from)
                && placeOf.TryGetValue(last, out var to)) terms.Add(new(term.In, new(next++, from), new(next++, to)));
        }
        var list = new TermList(snapshot.Meant?.All == true, terms.ToImmutable());
        int Place(string? key) => key is not null && placeOf.TryGetValue(key, out var place) ? place : -1;
        var all = new SelectionTerms(list, list, next);
        core.Commit(state with
        {
            Reading = state.Reading with { Terms = all },
            Selection = Said(state.Selection, all, state) with { Cursor = Place(snapshot.Cursor), Anchor = Place(snapshot.Anchor) },
        }, cause: "restore");
        if (Place(snapshot.FirstRow) is >= 0 and var row) Scroll(row, snapshot.FirstRowOffset);
        _seen = null;
    }

    // ── What went wrong ──

    private void Fail(Asked asked, Exception error)
    {
        core.Trace(() => new TracedChange { T = core.Now, Change = "read-failed", Reason = error.Message });
        if (events.ReadFailed is { } handlers) core.Out.Raise(handlers, new(error));
        var text = core.App.Ask(p => p.ReadFailed(error.Message), core.Options.Phrases, error.Message);
        var state = core.State;
        switch (asked.Purpose)
        {
            case Purpose.Page when _isCounted:
                var stretch = asked.Question.Stretches[0];
                var length = Math.Min(stretch.Count, store.Count - stretch.Start);
                if (length <= 0) break;
                var missing = ItemSet.None(store.Count).WithRange(stretch.Start, length);
                foreach (var index in Enumerable.Range(stretch.Start, length))
                    if (store.Has(index)) missing = missing.With(index, false);
                core.Commit(state with
                {
                    Reading = state.Reading with
                    {
                        Version = state.Reading.Version + 1,
                        Failed = state.Reading.Failed.Union(missing),
                        Why = text,
                    },
                }, cause: "source");
                core.Announce(_ => text);
                break;
            case Purpose.Restore:
                // What is remembered is asked for again with the next look at the source.
                break;
            case Purpose.Bounds:
                // They are asked for again when something else is selected, or when they are needed.
                _namedFor = state.Reading.Terms;
                break;
            case Purpose.Open or Purpose.Count when store.Count == 0:
                foreach (var other in _asked.ToArray()) Drop(other);
                core.Commit(state with { Showing = state.Showing with { Status = new(NoticeKind.Failed, text) } }, cause: "source");
                break;
            default:
                // What shows stays, and so does the selection; at the end it says that more, or what is new, could not be had.
                _hasLookFailed = true;
                core.Commit(state with { Footer = state.Footer with { More = More.Failed(text) } }, cause: "source");
                break;
        }
        _seen = null;
    }

    private void Recovered()
    {
        _hasLookFailed = false;
        if (core.State.Footer.More.Kind is MoreKind.Failed or MoreKind.Loading && !_isEndless)
            core.Commit(core.State with { Footer = core.State.Footer with { More = More.NotSaid } }, cause: "source");
    }

    /// <summary>Asks again for what failed; null where the list shows no source of pages.</summary>
    public Response? RetryOf(Act act) => _source is null ? null : Retry(act);

    /// <summary>Whether the row of an item could not be read.</summary>
    public bool HasFailed(int index) => _source is not null && (uint)index < (uint)store.Count && core.State.Reading.Failed.Contains(index);

    /// <summary>Asks again for what could not be read: the stretch of an item, or, without one, whatever failed.</summary>
    public Response Retry(Act act)
    {
        core.TraceAct(act);
        var state = core.State;
        if (act.Index >= 0)
        {
            var start = act.Index / core.Options.PageSize * core.Options.PageSize;
            var length = Math.Min(core.Options.PageSize, store.Count - start);
            core.Commit(state with
            {
                Reading = state.Reading with
                {
                    Version = state.Reading.Version + 1,
                    Failed = state.Reading.Failed.WithRange(start, length, false),
                },
            }, act, act.Rule);
        }
        else if (store.Count == 0)
            core.Commit(state with { Showing = state.Showing with { Status = new(NoticeKind.Loading, core.Options.Phrases.Loading) } }, act,
                act.Rule);
        else
        {
            core.Commit(state with { Footer = state.Footer with { More = More.Loading } }, act, act.Rule);
            if (_isCounted) _changed = true;
            else if (!_isEndless && !IsAsked(Purpose.Count)) Ask(Purpose.Count, new() { Counts = true });
        }
        _looks = 0;
        _seen = null;
        return Response.Handled;
    }

    /// <summary>Marks are what the items that have been read say; of the others what was known of them.</summary>
    public void ReadMarksAgain()
    {
        if (_source is null) return;
        core.Commit(core.State with { Marks = marking.Complete(core.State.Marks, [.. store.Where(_ => true)]) }, cause: "source");
    }

    /// <summary>Takes a move of the list's own, which the source has still to make.</summary>
    /// <param name="edit">The move.</param>
    /// <param name="items">The items that move.</param>
    /// <param name="section">The section that they come into; null in a source without.</param>
    public void MoveNow(Edit edit, ItemSet items, string? section) => Follow(Edit.Sequence([edit]), state =>
    {
        if (section is null) return state;
        var landed = edit.Apply(items);
        return state with
        {
            Showing = state.Showing with
            {
                Sections = [.. state.Showing.Sections.Select(
                    s => s with { Members = s.Key == section ? s.Members.Union(landed) : s.Members.Except(landed) })],
            },
        };
    });

    // ── What is meant ──

    /// <summary>What a set of items means now; null where all items are in memory.</summary>
    public TargetMeaning<TItem, TKey>? MeaningOf(ItemSet items)
    {
        if (_source is null) return null;
        var selection = core.Selection;
        var terms = core.State.Reading.Terms!;
        var named = _named;
        if (!ReferenceEquals(items, selection.Items) && !items.Equals(selection.Items)) terms = terms.Anew(items);
        // Of what was said last the items may not have been kept yet.
        if (!ReferenceEquals(terms, _namedFor))
            foreach (var bound in terms.Bounds)
                if (!named.ContainsKey(bound.Id) && bound.Index >= 0 && store.Has(bound.Index))
                    named = named.SetItem(bound.Id, (store.ItemAt(bound.Index), store.KeptKeyAt(bound.Index)));
        // Its ends may be read on any thread: the key function is called there, and not through what only the list's own thread may use.
        return new(_source, terms.Now, named, store.Pages!.KeyOf);
    }
}
