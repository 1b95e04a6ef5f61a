using System.Collections.Concurrent;
using System.Collections.Specialized;
using System.Runtime.ExceptionServices;
using Lectica.Items;
using Lectica.Selecting;

namespace Lectica;

// Where the items come from, and how everything held by index follows them.
public sealed partial class InteractiveList<TItem, TKey>
{
    private readonly ConcurrentQueue<IReadOnlyList<TItem>> _offered = new();
    private List<Edit>? _offeredEdits;
    private IReadOnlyList<TItem>? _source;
    private INotifyCollectionChanged? _live;
    private Notice? _status;
    private bool _outOfStep, _isSnapshot;

    /// <summary>
    /// Shows these items, instead of any before. Items are paired with those before by key (by equal value where there are no keys), so
    /// that selection and cursor stay with them. A collection that reports its changes is followed from now on; of any other the list
    /// keeps what it holds now, until it is shown again.
    /// </summary>
    /// <exception cref="DuplicateKeyException">Two items have one key. Nothing was changed; so for the others.</exception>
    /// <exception cref="MissingKeyException">An item's key is null.</exception>
    /// <exception cref="KeyChangedException">An item's key is not what it came with.</exception>
    public void Show(IReadOnlyList<TItem> items)
    {
        ArgumentNullException.ThrowIfNull(items);
        Run(_ =>
        {
            var changed = !ReferenceEquals(items, _source);
            Replace(items);
            _isSnapshot = false;
            if (changed) _isReordered = false;
            if (changed)
            {
                if (_live is not null) _live.CollectionChanged -= LiveChanged;
                _live = items as INotifyCollectionChanged;
                if (_live is not null) _live.CollectionChanged += LiveChanged;
            }
            _outOfStep = false;
            return Response.Handled;
        });
    }

    /// <summary>
    /// Takes a snapshot, which must not change any more, from any thread. On the list's own context it is shown at once; from elsewhere
    /// it is posted there, or, for a list that belongs to a bare thread, taken at that thread's next call. One that cannot be shown (such as for a
    /// duplicate key) throws where it is taken, and that call does nothing else.
    /// </summary>
    public void Offer(IReadOnlyList<TItem> snapshot)
    {
        ArgumentNullException.ThrowIfNull(snapshot);
        _offered.Enqueue(snapshot);
        void Take() => Run(_ =>
        {
            // From inside a handler it has waited, and nothing has taken it yet.
            TakeOffered();
            return Response.Handled;
        });
        if (_context is not null && SynchronizationContext.Current != _context) _context.Post(_ => Take(), null);
        else if (_context is not null || Environment.CurrentManagedThreadId == _thread) Take();
    }

    private void TakeOffered()
    {
        // Only the newest counts.
        IReadOnlyList<TItem>? newest = null;
        while (_offered.TryDequeue(out var snapshot)) newest = snapshot;
        if (newest is null) return;
        if (_live is not null) _live.CollectionChanged -= LiveChanged;
        _live = null;
        _offeredEdits = [];
        _isSnapshot = true;
        Replace(newest);
    }

    /// <summary>Says that items are on their way; it shows where there are none yet.</summary>
    public void ShowLoading(string text = "Loading …") => SetStatus(new(NoticeKind.Loading, text));

    /// <summary>Says that loading failed; it shows where there are no items.</summary>
    public void ShowFailed(string text) => SetStatus(new(NoticeKind.Failed, text));

    private void SetStatus(Notice status) => Run(_ =>
    {
        _status = status;
        SetRows(_rows.Shown);
        return Response.Handled;
    });

    /// <summary>Reads the items anew, where the app has changed them without saying so: their filter, state and words, and any that came or went.</summary>
    public void Refresh() => Run(_ =>
    {
        if (_source is not null) Replace(_source);
        Reconsider("source");
        return Response.Handled;
    });

    /// <summary>Which items show; all where null. Setting it asks each item once; so do later edits for the items that they bring.</summary>
    public Func<TItem, bool>? Filter
    {
        get => _filter;
        set => Run(_ =>
        {
            var old = _filter;
            _filter = value;
            Reconsider("filter", () => _filter = old);
            return Response.Handled;
        });
    }

    /// <summary>Which items are enabled; all where null. Setting it asks each item once; so do later edits for the items that they bring.</summary>
    public Func<TItem, bool>? EnabledWhen
    {
        get => _enabledWhen;
        set => Run(_ =>
        {
            var old = _enabledWhen;
            _enabledWhen = value;
            Reconsider("source", () => _enabledWhen = old);
            return Response.Handled;
        });
    }

    private Notice? NoticeNow(int count) =>
        count > 0 ? new(NoticeKind.NothingMatches, "Nothing matches the filter")
        : _status ?? (_source is null ? new(NoticeKind.NoSource, "No list to show yet") : new(NoticeKind.Empty, "No items"));

    private void Replace(IReadOnlyList<TItem> items)
    {
        _status = null;
        var array = items as TItem[] ?? [.. items];
        if (_store.Count == 0)
        {
            _store.Open(array);
            _source = items;
            Follow(Edit.Splice(0, 0, 0, array.Length), [], []);
            return;
        }
        var departed = NewDeparted();
        Edit? update;
        // A new list may hold other objects for the same keys.
        ListenToAll(false);
        try
        {
            update = _store.Update(array, departed);
        }
        finally
        {
            ListenToAll(true);
        }
        _source = items;
        if (update is { } edit) Follow(edit, departed, []);
        else Reconsider("source");
        ReadAll();
    }

    /// <summary>Reads marks and sections of all items anew: other objects may stand for the same keys.</summary>
    private void ReadAll()
    {
        foreach (var mark in _marks)
            if (mark.Get is not null) BecomeMarked(mark, ReadMark(mark), "source");
        if (_pinnedWhen is { } pinned) _pinned = ItemSet.Where(Count, i => Ask(pinned, _store.ItemAt(i)));
        if (_sections is not { } sections) return;
        TakeSections(Sort(sections));
        SetRows(_rows.Shown);
        SettleCursor();
    }

    private List<Departed<TItem, TKey>>? NewDeparted()
    {
        foreach (var args in _untold) args.Fetch();
        if (_batch > 0)
        {
            CloseBatch();
            foreach (var args in _untold) args.Fetch();
        }
        return _selection.Items.IsEmpty && !_listens ? null : [];
    }

    private void LiveChanged(object? sender, NotifyCollectionChangedEventArgs e)
    {
        try
        {
            CheckContext();
        }
        catch (WrongThreadException)
        {
            _outOfStep = true;
            throw;
        }
        // What the list does to it itself it knows.
        if (_movingSource) return;
        if (_busy)
        {
            // From inside a handler: what the list is changes now, so that it stays in step; what is told of it waits.
            TakeLive(e);
            return;
        }
        _busy = true;
        try
        {
            TakeLive(e);
        }
        finally
        {
            Tell();
        }
    }

    private void TakeLive(NotifyCollectionChangedEventArgs e)
    {
        var source = _source!;
        if (_outOfStep || e.Action == NotifyCollectionChangedAction.Reset)
        {
            _outOfStep = true;
            Replace(source);
            _outOfStep = false;
            return;
        }
        if (Wrong(e, source) is { } wrong)
        {
            _outOfStep = true;
            Replace(source);
            _outOfStep = false;
            throw new SourceOutOfStepException(wrong);
        }

        if (_listens && e.Action == NotifyCollectionChangedAction.Replace)
            foreach (var old in e.OldItems!) Listen((TItem)old!, false);
        // Whatever throws now, a duplicate key above all, the collection has changed and the list has not.
        _outOfStep = true;
        var departed = NewDeparted();
        if (e.Action == NotifyCollectionChangedAction.Move)
        {
            // In the collection's own words "to" is where the first one is afterwards; a gap counts the moved ones too.
            int from = e.OldStartingIndex, count = e.OldItems!.Count, to = e.NewStartingIndex;
            Follow(_store.Move(ItemSet.None(Count).WithRange(from, count), to <= from ? to : to + count), departed, []);
        }
        else
        {
            var removed = e.Action == NotifyCollectionChangedAction.Add ? 0 : e.OldItems!.Count;
            TItem[] inserted = e.Action == NotifyCollectionChangedAction.Remove ? [] : [.. e.NewItems!.Cast<TItem>()];
            var at = e.Action == NotifyCollectionChangedAction.Remove ? e.OldStartingIndex : e.NewStartingIndex;
            Edit edit;
            try
            {
                edit = _store.Splice(at, removed, inserted, departed);
            }
            catch (DuplicateKeyException)
            {
                // The collection holds a duplicate, which reading it anew will say; or it does not, and only its report does.
                Replace(source);
                _outOfStep = false;
                throw new SourceOutOfStepException($"The collection reported {e.Action} of {inserted.Length} at {at} with a key that is taken, but its {source.Count} items have no key twice. The list has read it anew.");
            }
            var sameItems = edit.OldLength == edit.NewLength && !edit.Inserted().Any();
            Follow(edit, departed, sameItems ? Enumerable.Range(at, inserted.Length) : []);
        }
        _outOfStep = false;
    }

    /// <summary>What does not fit between what a collection reports and what it and the list hold; null where all does.</summary>
    private string? Wrong(NotifyCollectionChangedEventArgs e, IReadOnlyList<TItem> source)
    {
        int removed = e.Action == NotifyCollectionChangedAction.Add ? 0 : e.OldItems?.Count ?? 0,
            inserted = e.Action == NotifyCollectionChangedAction.Remove ? 0 : e.NewItems?.Count ?? 0,
            from = e.OldStartingIndex, to = e.NewStartingIndex;
        var told = $"The collection reported {e.Action} of {Math.Max(removed, inserted)} at {(e.Action == NotifyCollectionChangedAction.Remove ? from : to)}";
        if (source.Count != Count - removed + inserted)
            return $"{told}, which leaves {Count - removed + inserted} items, but it holds {source.Count}. The list has read it anew.";
        if (removed > 0 && (from < 0 || from > Count - removed)) return $"{told}, of old items at {from}, but there were {Count}. The list has read it anew.";
        if (inserted > 0 && (to < 0 || to > source.Count - inserted)) return $"{told}, but it holds {source.Count}. The list has read it anew.";
        if (e.Action == NotifyCollectionChangedAction.Replace && from != to) return $"{told}, of old items at {from}: a replacement stays in place. The list has read it anew.";
        var comparer = EqualityComparer<TItem>.Default;
        for (var i = 0; i < inserted; i++)
            if (e.NewItems![i] is not TItem item || !comparer.Equals(item, source[to + i]))
                return $"{told}, but what it holds at {to + i} is not what it reported. The list has read it anew.";
        for (var i = 0; i < removed; i++)
            if (e.OldItems![i] is not TItem item || !comparer.Equals(item, _store.ItemAt(from + i)))
                return $"{told}, but what was at {from + i} is not what it reported as old. The list has read it anew.";
        // The neighbours and both ends of what it holds must be where the report leaves them: a look at five items, not at all.
        var at = e.Action == NotifyCollectionChangedAction.Remove ? from : to;
        foreach (var i in (int[])[0, at - 1, at, at + inserted, source.Count - 1])
        {
            if (i < 0 || i >= source.Count || (i >= at && i < at + inserted)) continue;
            var rest = i < at ? i : i - inserted;
            var old = rest < from || removed == 0 ? rest : rest + removed;
            if (!comparer.Equals(source[i], _store.ItemAt(old)))
                return $"{told}, but then what it holds at {i} is not what was at {old} before. The list has read it anew.";
        }
        return null;
    }

    /// <summary>Takes everything that is held by index through an edit. The store has made it already.</summary>
    private void Follow(Edit edit, List<Departed<TItem, TKey>>? departed, IEnumerable<int> replaced)
    {
        var old = _selection;
        (ItemSet, TItem[], string[])? gone = null;
        if (departed is { Count: > 0 })
        {
            var leaving = departed.Where(d => old.Items.Contains(d.Index)).ToList();
            gone = (ItemSet.Of(edit.OldLength, leaving.Select(d => d.Index)), [.. leaving.Select(d => d.Item)], [.. leaving.Take(TracedKeys).Select(d => TextOf(d.Key))]);
        }
        Trace(() => new() { Stage = "change", T = _now, Change = "source", Reason = edit.ToString() });

        FollowStroke(edit);
        FollowHistory(edit);
        FollowMarks(edit, replaced);
        FollowPinned(edit, replaced);
        if (_listens)
        {
            foreach (var leaver in departed ?? []) Listen(leaver.Item, false);
            foreach (var i in edit.Inserted().Concat(replaced)) Listen(_store.ItemAt(i), true);
        }
        foreach (var pending in _waiting)
            if (pending.Index >= 0) pending.Index = edit.Apply(pending.Index);
        _offeredEdits?.Add(edit);
        ShiftSearch();

        var shown = edit.Apply(_rows.Shown, _filter is null);
        _disabled = edit.Apply(_disabled);
        ExceptionDispatchInfo? failed = null;
        foreach (var i in _filter is null && _enabledWhen is null ? [] : edit.Inserted().Concat(replaced))
        {
            var item = _store.ItemAt(i);
            shown = shown.With(i, Ask(_filter, item, ref failed));
            _disabled = _disabled.With(i, !Ask(_enabledWhen, item, ref failed));
        }
        FollowSections(edit, replaced, ref failed);
        var eye = _holdsScroll ? null : UnderTheEye();
        FollowPlaces(edit);
        FollowHeights(edit);
        var near = edit.Nearest(old.Items.IsEmpty ? old.Cursor : old.Items.NextAt(0));
        _selection = old.After(edit);
        SetRows(shown);
        if (eye is { } kept) KeepUnderTheEye(edit.Apply(kept.Index), kept.Offset);
        _changedProperties.Add(nameof(Count));
        _changedProperties.Add(nameof(HeaderState));
        RowsEdited?.Invoke(edit);

        _changedProperties.Add(nameof(CursorKey));
        // What an edit does to the selection is told at once, also inside a batch; the batch goes on from there.
        var batch = _batch;
        _batch = 0;
        var settled = Selector.Settle(_selection, Rules, Options.KeepsHiddenSelected, near);
        if (gone is { Item2.Length: 0 }) gone = null;
        if (gone is { } left && ReferenceEquals(settled.Items, _selection.Items))
            // Only what left the list left the selection: the sets agree in their new indexes.
            Announce(ItemSet.None(Count), left.Item1, settled.Items, null, "source", gone);
        else Become(settled, null, gone is not null || settled.Items.Count <= _selection.Items.Count ? "source" : "required", gone);
        _batch = batch;
        if (batch > 0) _batchStart = _selection;
        SettleStroke();
        SettleCursor();
        failed?.Throw();
    }

    /// <summary>Asks the app about an item. One that it cannot answer for shows and is enabled; its exception is thrown when the edit is through.</summary>
    private static bool Ask(Func<TItem, bool>? predicate, TItem item, ref ExceptionDispatchInfo? failed)
    {
        if (predicate is null) return true;
        try
        {
            return predicate(item);
        }
#pragma warning disable CA1031 // The app's own exception: the collection has changed already, so the edit is finished first.
        catch (Exception e)
#pragma warning restore CA1031
        {
            failed ??= ExceptionDispatchInfo.Capture(e);
            return true;
        }
    }

    /// <summary>Raised inside a step with each edit, for what else is held by index.</summary>
    internal event Action<Edit>? RowsEdited;

    /// <summary>Asks filter and state of all items anew. If the app's answer is an exception, nothing has changed but what <paramref name="undo"/> puts back.</summary>
    private void Reconsider(string cause, Action? undo = null)
    {
        ItemSet shown, disabled;
        try
        {
            shown = _filter is null ? ItemSet.All(Count) : ItemSet.Where(Count, i => _filter(_store.ItemAt(i)));
            disabled = _enabledWhen is null ? ItemSet.None(Count) : ItemSet.Where(Count, i => !_enabledWhen(_store.ItemAt(i)));
            _pinned = _pinnedWhen is null ? ItemSet.None(Count) : ItemSet.Where(Count, i => _pinnedWhen(_store.ItemAt(i)));
        }
        catch
        {
            undo?.Invoke();
            throw;
        }
        _disabled = disabled;
        SetRows(shown);
        Become(Selector.Settle(_selection, Rules, Options.KeepsHiddenSelected, Math.Max(0, _selection.Cursor)), null, cause);
        SettleStroke();
    }

    private void SetRows(ItemSet shown)
    {
        var old = _rows;
        _rows = MakeRows(shown);
        ForgetGeometry();
        _viewport = _viewport.Within(Geometry.Height);
        _changedProperties.Add(nameof(Rows));
        if (!shown.Equals(old.Shown) && shown.Length == old.Shown.Length)
            Trace(() => new() { Stage = "change", T = _now, Change = "rows", Reason = $"{shown.Count} of {shown.Length} items show" });
    }
}
