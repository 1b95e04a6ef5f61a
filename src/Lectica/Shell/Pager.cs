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
    ItemWatcher<TItem, TKey> watcher, Teller<TItem, TKey> teller, Events<TItem, TKey> events)
    where TKey : notnull
{
    // So many questions are open at once; so many keys are asked for their places; so often in a row a source that does not fit what it
    // said is asked where things are.
    private const int MostAsked = 4, MostKeys = 64, MostLooks = 3;

    private readonly OpenQuestions<TItem, TKey> _questions = new(core, turns);
    private readonly PagedSelection<TItem, TKey> _selection = new(core, store);
    private readonly Restoring<TItem, TKey> _restoring = new(core, store);

    // Items in use far from the window, of which only the place is known to be right.
    private readonly HashSet<int> _dated = [];
    private IPagedSource<TItem, TKey>? _source;
    private Seen? _seen;
    private volatile bool _changed;
    private SourceLength _length;
    private bool _hasLookFailed;
    private int _looks;

    // The source lets other items show by now: nothing more is read of it before it was asked where all is.
    private bool _isElsewhere;

    /// <summary>What the list was when it was last looked at: while it is the same there is nothing to do.</summary>
    private sealed record Seen(RowMap Rows, Layout.Viewport Viewport, Reading Reading);

    private bool HasEnd => _length is SourceLength.Counted or SourceLength.Ended;

    /// <summary>Whether the list shows a source that is not in memory.</summary>
    public bool IsPaged => _source is not null;

    public IPagedSource<TItem, TKey>? Source => _source;

    /// <summary>Whether a question is open.</summary>
    public bool IsReading =>
        _source is not null
        && (_changed || _questions.Count > 0 || !_selection.IsPlaced
        || (_restoring.IsWanted && core.State.Showing.Status?.Kind != NoticeKind.Failed && !_hasLookFailed));

    /// <summary>Told of each edit, for what is held by index outside the state.</summary>
    public Action<Edit, Departed<TItem, TKey>>? Edited { get; set; }

    // ── Opening and closing ──

    /// <summary>Shows a source, from its beginning.</summary>
    public void Open(IPagedSource<TItem, TKey> source)
    {
        Close();
        store.OpenPages(watcher.Listen);
        _source = source;
        source.Changed += Heard;
        (_length, _hasLookFailed, _looks, _changed, _isElsewhere) = (SourceLength.Unknown, false, 0, false, false);
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
        _questions.DropAll();
        if (store.Count > 0)
            Follow(Edit.Sequence([Edit.Splice(store.Count, 0, store.Count, 0)]),
                s => s with { Showing = s.Showing with { Sections = [] } });
        (_source, _seen) = (null, null);
        _restoring.Begin(null);
        _selection.Clear();
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
        _questions.Dispose();
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
        NameEnds(state);
        if (_length == SourceLength.Unknown && store.Count == 0) AskFirst(state);
        else if (_changed && _holds == 0) AskWhere(state);
        else if (!_isElsewhere)
        {
            // The first rows have not waited for their number, which may take a source long to tell.
            if (_length == SourceLength.Unknown && !_hasLookFailed && !_questions.Has(QuestionKind.Count))
                Ask(QuestionKind.Count, new() { Counts = true });
            AskInView(state);
            AskForUnplaced();
            AskForRestored();
        }
        _seen = new(state.Showing.Rows, state.Window.Viewport, core.State.Reading);
        if (_questions.HasArrived) turns.CallHome();
    }

    private void AskFirst(ListState state)
    {
        if (state.Showing.Status?.Kind == NoticeKind.Failed) return;
        // What changed since they were asked for is asked for when they have come.
        if (_questions.Has(QuestionKind.Open)) return;
        _changed = false;
        Ask(QuestionKind.Open, new() { Stretches = [new(0, core.Options.PageSize)] });
    }

    private void AskInView(ListState state)
    {
        if (_questions.Has(QuestionKind.Places)) return;
        var (first, last) = ItemsInView.Of(state);
        var size = core.Options.PageSize;
        var wanted = new List<int>();
        if (first >= 0)
        {
            var ahead = Math.Max(last - first + 1, size / 2);
            foreach (var index in ItemsInView.AndAround(state, first, last, ahead))
            {
                var page = index / size * size;
                if (!store.Has(index) && !state.Reading.Failed.Contains(index) && !wanted.Contains(page)) wanted.Add(page);
            }
            if (_length == SourceLength.Endless && state.Footer.More.Kind is MoreKind.ToCome or MoreKind.Loading
                && last + ahead >= store.Count)
                wanted.Add(store.Count);
            Trim(state, first, last);
        }
        foreach (var index in _dated)
            if (!wanted.Contains(index / size * size)) wanted.Add(index / size * size);
        // What has gone out of view meanwhile is not waited for.
        foreach (var page in _questions.Of(QuestionKind.Page))
            if (!wanted.Contains(page.Start)) _questions.Drop(page);
        foreach (var page in wanted)
        {
            var asked = _questions.Of(QuestionKind.Page);
            if (asked.Count >= MostAsked) break;
            if (!asked.Exists(a => a.Start == page))
                Ask(QuestionKind.Page, new() { Stretches = [new(page, size)] });
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

    /// <summary>Keeps the items at the ends of what is selected; those that have not been read are asked for.</summary>
    private void NameEnds(ListState state)
    {
        if (_questions.Has(QuestionKind.Ends)) return;
        var unread = _selection.Unread(state);
        if (unread.Count == 0 || _changed) return;
        ImmutableArray<Bound> some = [.. unread.Take(MostKeys)];
        Ask(QuestionKind.Ends, new() { Stretches = [.. some.Select(b => new Stretch<TItem>(b.Index, 1))] }, [], some);
    }

    // While the list's own doings are on their way to the source, what that says of places and marks may be from before them.
    private int _holds;

    /// <summary>Where things are is not looked at until what is being stored is.</summary>
    public void Hold()
    {
        _holds++;
        foreach (var look in _questions.Of(QuestionKind.Places))
        {
            _questions.Drop(look);
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
        if (_questions.Has(QuestionKind.Places) || _holds > 0) return;
        _changed = false;
        _questions.DropAll();
        _restoring.Forget();
        var (first, last) = ItemsInView.Of(state);
        var size = core.Options.PageSize;
        var wanted = Math.Max(size, last - first + 1 + size);
        // What is looked at stays where it is: the stretch goes by its first item, where that has been read.
        var eye = first >= 0 ? Enumerable.Range(first, last - first + 1).FirstOrDefault(store.Has, -1) : -1;
        var stretch = eye >= 0 ? new Stretch<TItem>(-Math.Min(size / 2, eye), wanted, new(store.ItemAt(eye)))
            : new(Math.Max(0, first - (size / 2)), wanted);
        ImmutableArray<Bound> ends = _selection.Ends(state), keys = _selection.Keys(state, MostKeys);
        int[] used = [.. ItemsInView.InUse(state).Where(store.Has)];
        Ask(QuestionKind.Places, new()
        {
            Counts = true,
            Stretches = [stretch],
            Bounds = [.. ends.Select(_selection.ItemOf)],
            Keys = [.. keys.Select(_selection.KeyOf), .. used.Select(store.KeptKeyAt)],
        }, ends, keys);
    }

    private void AskForUnplaced()
    {
        if (_questions.Has(QuestionKind.Keys)) return;
        var keys = _selection.TakeUnplaced(MostKeys);
        if (!keys.IsEmpty) Ask(QuestionKind.Keys, new() { Keys = [.. keys.Select(_selection.KeyOf)] }, [], keys);
    }

    private void AskForRestored()
    {
        if (_restoring.IsWanted && _length != SourceLength.Unknown && !_questions.Has(QuestionKind.Restored))
            Ask(QuestionKind.Restored, new() { Keys = _restoring.Keys() });
    }

    private void Ask(QuestionKind kind, PageQuestion<TItem, TKey> question, ImmutableArray<Bound> bounds = default,
        ImmutableArray<Bound> named = default) =>
        _questions.Ask(new(_source!, kind, question, bounds.IsDefault ? [] : bounds, named.IsDefault ? [] : named));

    // ── Answers ──

    /// <summary>Takes the answers that have come.</summary>
    public void TakeArrived()
    {
        while (_questions.TryTake(out var question, out var answer)) Take(question, answer);
    }

    private void Take(OpenQuestion<TItem, TKey> asked, Task<PageAnswer<TItem>> task)
    {
        var error = task.IsCompletedSuccessfully ? null
            : task.Exception?.InnerException ?? new OperationCanceledException("The source cancelled the read.");
        if (error is null)
        {
            // An answer that does not fit the question is a read that failed: the list is as it was.
            error = Attempt.Of(() => Take(asked, task.Result));
            if (error is not null) core.Rewind();
        }
        if (error is not null) Fail(asked, error);
        core.Save();
    }

    private void Take(OpenQuestion<TItem, TKey> asked, PageAnswer<TItem> answer)
    {
        AnswerCheck.Stretches(asked.Question, answer);
        if (!Equals(answer.Scope, core.State.Reading.Scope) && asked.Kind != QuestionKind.Places)
        {
            if (asked.Kind != QuestionKind.Open)
            {
                // What it says is of other items than the list has.
                if (!LooksAgain())
                    throw new SourceAnswerException(
                        "It lets other items show with each answer: while it is the same choice, the scopes have to be equal.");
                _isElsewhere = true;
                return;
            }
            core.Commit(core.State with { Reading = core.State.Reading with { Scope = answer.Scope } });
        }
        switch (asked.Kind)
        {
            case QuestionKind.Places:
                TakePlaces(asked, answer);
                break;
            case QuestionKind.Keys:
                AnswerCheck.Named(asked.Question, answer);
                _selection.Take(asked.Named, answer.Indexes);
                _seen = null;
                break;
            case QuestionKind.Restored:
                AnswerCheck.Named(asked.Question, answer);
                _restoring.Take(asked.Question.Keys, answer.Indexes);
                _seen = null;
                break;
            case QuestionKind.Ends:
                _selection.Name(asked.Named, i => answer.Pages[i].Items is [var item] ? (item, KeyOf(answer.Pages[i])[0]) : null);
                _seen = null;
                break;
            default:
                if (answer.Count is { } count) TakeCount(count, answer.Sections);
                else if (asked.Question.Counts) BeEndless();
                for (var i = 0; i < answer.Pages.Length; i++) TakePage(asked, asked.Question.Stretches[i], answer.Pages[i]);
                break;
        }
        if (_hasLookFailed && asked.Kind != QuestionKind.Ends) Recovered();
    }

    private TKey[] KeyOf(Page<TItem> page) => core.App.Ask(p => store.Pages!.KeysOf(p.Start, p.Items), page);

    // The number of items has come, after the first of them or before.
    private void TakeCount(int count, ImmutableArray<SourceSection> sections)
    {
        ArgumentOutOfRangeException.ThrowIfNegative(count);
        AnswerCheck.Sections(count, sections);
        _length = SourceLength.Counted;
        var old = store.Count;
        if (count < old) store.Pages!.Keep(i => i < count);
        var edit = count >= old ? Edit.Splice(old, old, 0, count - old) : Edit.Splice(old, count, old - count, 0);
        Follow(Edit.Sequence([edit]), s => InSections(s, sections) with { Footer = s.Footer with { More = More.NotSaid } });
        _seen = null;
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
        // A short page may have come before: then all has been read.
        _length = HasEnd ? SourceLength.Counted : SourceLength.Endless;
        _seen = null;
        if (!HasEnd && store.Count > 0)
            core.Commit(core.State with { Footer = core.State.Footer with { More = More.Loading } }, cause: "source");
    }

    private void TakePage(OpenQuestion<TItem, TKey> asked, Stretch<TItem> wanted, Page<TItem> page)
    {
        var (start, items) = (page.Start, page.Items);
        AnswerCheck.Page(wanted, page);
        var keys = KeyOf(page);
        if (!HasEnd) Grow(start, items.Count, items.Count < wanted.Count);
        var expected = Math.Min(wanted.Count, store.Count - start);
        if (items.Count != expected || store.Pages!.IsElsewhere(start, keys))
        {
            // It is another than it was, whether it says so or not.
            if (!LooksAgain())
                throw new SourceAnswerException(items.Count != expected
                    ? $"It says that it has {store.Count} items, and gave {items.Count} of the {expected} from {start} on."
                    : "It gives one item at two places: the order is not total, or a key is there twice.");
            return;
        }
        if (asked.Kind == QuestionKind.Page) _looks = 0;
        Put(start, items, keys);
    }

    /// <summary>Has the source asked where all is; false where that did not help so often in a row.</summary>
    private bool LooksAgain()
    {
        if (_looks++ >= MostLooks) return false;
        (_changed, _seen) = (true, null);
        return true;
    }

    // Items come before anybody knows how many there are.
    private void Grow(int start, int count, bool isLast)
    {
        if (start + count > store.Count)
            Follow(Edit.Sequence([Edit.Splice(store.Count, store.Count, 0, start + count - store.Count)]), s => s);
        var saysNothing = _length == SourceLength.Endless;
        if (isLast) _length = saysNothing ? SourceLength.Ended : SourceLength.Counted;
        var more = isLast ? saysNothing ? More.None : More.NotSaid : saysNothing ? More.ToCome : More.Loading;
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
        var (state, read) = (core.State, ItemSet.None(store.Count).WithRange(start, items.Count));
        var reading = state.Reading with
        {
            Version = state.Reading.Version + 1,
            Failed = items.Count == 0 ? state.Reading.Failed : state.Reading.Failed.WithRange(start, items.Count, false),
        };
        if (reading.Failed.IsEmpty) reading = reading with { Why = null };
        state = state with { Reading = reading };
        var terms = _selection.InPlace(reading.Terms!);
        if (!ReferenceEquals(terms, reading.Terms)) state = PagedSelection<TItem, TKey>.With(state, terms);
        core.Commit(state with { Marks = marking.Complete(state.Marks, read) }, cause: "source", read: read);
    }

    /// <summary>Takes everything to where it is now.</summary>
    private void TakePlaces(OpenQuestion<TItem, TKey> asked, PageAnswer<TItem> answer)
    {
        var page = answer.Pages[0];
        // Where nobody knows how many there are, a short stretch is the last one; one with nothing in it may be beyond the end by now, and
        // only so many are known to be there as were found.
        var (end, isBeyond) = (page.Start + page.Items.Count, page.Items.Count == 0 && answer.Count is null);
        var count = answer.Count ?? (isBeyond ? answer.Indexes.Max() + 1 ?? 0
            : page.Items.Count < asked.Question.Stretches[0].Count ? end : Math.Max(store.Count, end));
        AnswerCheck.Sections(count, answer.Sections);
        // It was asked for by a place that is beyond the end by now.
        if (page.Items.Count == 0 && page.Start > count) page = new(count, []);
        AnswerCheck.Places(asked.Question, answer, page, count);
        _selection.Enter(answer.Scope);
        _isElsewhere = false;
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

        if (answer.Count is not null) _length = SourceLength.Counted;
        else if (isBeyond) _length = count > 0 ? SourceLength.Endless : SourceLength.Unknown;
        Follow(edit, followed =>
        {
            var state = InSections(followed, answer.Sections);
            if (_length == SourceLength.Counted) state = state with { Footer = state.Footer with { More = More.NotSaid } };
            else if (isBeyond)
                state = state with
                {
                    // With nothing left to go on from, it is opened again.
                    Footer = state.Footer with { More = count > 0 ? More.ToCome : More.NotSaid },
                    Showing = state.Showing with { Status = count > 0 ? null : new(NoticeKind.Loading, core.Options.Phrases.Loading) },
                };
            return state with
            {
                Reading = state.Reading with
                {
                    Terms = _selection.At(state.Reading.Terms!, asked.Bounds, answer.Bounds, key => placeOf.GetValueOrDefault(key)),
                    Failed = ItemSet.None(count),
                    Why = null,
                },
            };
        });
        Put(page.Start, page.Items, keys);
        _dated.UnionWith(store.Pages.Indexes.Where(i => i < page.Start || i >= end));
        _selection.Placed(asked.Named);
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
            teller.Edited(edit, new());
            core.Follow(edit, (followed, complete) =>
            {
                var state = complete(followed with
                {
                    Showing = followed.Showing with { Shown = ItemSet.All(edit.NewLength), HasSource = true, Status = null },
                    Reading = followed.Reading with { Version = followed.Reading.Version + 1 },
                });
                return PagedSelection<TItem, TKey>.With(state, state.Reading.Terms!);
            }, complete);
            Edited?.Invoke(edit, new());
        }
        finally
        {
            teller.EndGathering();
        }
        core.Look();
    }

    // ── What went wrong ──

    private void Fail(OpenQuestion<TItem, TKey> asked, Exception error)
    {
        core.Trace(() => new TracedChange { T = core.Now, Change = "read-failed", Reason = error.Message });
        if (events.ReadFailed is { } handlers) core.Out.Raise(handlers, new(error));
        var text = core.App.Ask(p => p.ReadFailed(error.Message), core.Options.Phrases, error.Message);
        var state = core.State;
        switch (asked.Kind)
        {
            case QuestionKind.Page when HasEnd:
                var stretch = asked.Question.Stretches[0];
                var length = Math.Min(stretch.Count, store.Count - stretch.Start);
                if (length <= 0) break;
                // What had been read before stays as it was, and is not asked for again and again.
                _dated.RemoveWhere(i => i >= stretch.Start && i < stretch.Start + length);
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
            case QuestionKind.Restored:
                // What is remembered is asked for again with the next look at the source.
                break;
            case QuestionKind.Ends:
                // They are asked for again when something else is selected, or when they are needed.
                _selection.AskNoMore();
                break;
            case QuestionKind.Open or QuestionKind.Count when store.Count == 0:
                _questions.DropAll();
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
        if (core.State.Footer.More.Kind is MoreKind.Failed or MoreKind.Loading
            && _length is SourceLength.Unknown or SourceLength.Counted)
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
            if (HasEnd || _isElsewhere) _changed = true;
            else if (_length == SourceLength.Unknown && !_questions.Has(QuestionKind.Count))
                Ask(QuestionKind.Count, new() { Counts = true });
        }
        _looks = 0;
        _seen = null;
        return Response.Handled;
    }

    /// <summary>Marks are what the items that have been read say; of the others what was known of them.</summary>
    public void ReadMarksAgain()
    {
        if (_source is null) return;
        core.Commit(core.State with { Marks = marking.Complete(core.State.Marks, store.Where(_ => true)) }, cause: "source");
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

    // ── What is selected ──

    /// <summary>What a set of items means now; null where all items are in memory.</summary>
    public TargetMeaning<TItem, TKey>? MeaningOf(ItemSet items) => _source is { } source ? _selection.MeaningOf(items, source) : null;

    /// <summary>What is selected, by key, as it was said.</summary>
    /// <exception cref="InvalidOperationException">An end of it is still being read.</exception>
    public SnapshotMeaning Remember() => _selection.Remember(_source!);

    /// <summary>Comes back to what was remembered, as soon as the source has said where it is.</summary>
    public void Restore(ListSnapshot snapshot)
    {
        // What was asked for another says nothing of this one.
        foreach (var asked in _questions.Of(QuestionKind.Restored)) _questions.Drop(asked);
        _restoring.Begin(snapshot);
        _seen = null;
    }

    /// <summary>Puts an item as far past the top as it was.</summary>
    public Action<int, double> Scroll { set => _restoring.Scroll = value; }
}
