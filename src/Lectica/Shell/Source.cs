using System.Collections;
using System.Collections.Concurrent;
using System.Collections.Specialized;
using Lectica.Items;
using Lectica.Sources;
using Lectica.States;

namespace Lectica.Shell;

/// <summary>
/// Where the items come from: what is shown, live or as a snapshot, and how its changes come in. Each of them is one edit, which everything
/// follows.
/// </summary>
internal sealed class Source<TItem, TKey>(
    Core core, Turns turns, ItemStore<TItem, TKey> store, Arranger<TItem, TKey> arranger, Projection<TItem, TKey> projection,
        Marker<TItem, TKey> marking, ItemWatcher<TItem, TKey> watcher, Teller<TItem, TKey> teller)
    : IBulk where TKey : notnull
{
    // So many changes in a bulk are always taken one by one.
    private const int Few = 64;

    private readonly ConcurrentQueue<IReadOnlyList<TItem>> _offered = new();
    private readonly List<(object? Sender, NotifyCollectionChangedEventArgs Report)> _late = [];
    private readonly Queue<NotifyCollectionChangedEventArgs> _reports = new();
    private INotifyCollectionChanged? _live;
    private ChangeLock _changes;
    private volatile bool _isToBeRead;
    private bool _outOfStep;
    private int _bulk, _inBulk;

    /// <summary>What is shown; null where nothing was yet.</summary>
    public IReadOnlyList<TItem>? Items { get; private set; }

    /// <summary>Whether what is shown is a snapshot, which must not change.</summary>
    public bool IsSnapshot { get; private set; }

    /// <summary>Whether the collection reports its changes.</summary>
    public bool IsLive => _live is not null;

    /// <summary>Whether items were moved since the source was shown.</summary>
    public bool IsReordered { get; set; }

    /// <summary>
    /// Whether the collection has changed so much in a bulk that it is read as a whole at the end, or when the list is next asked.
    /// </summary>
    public bool IsBehind { get; private set; }

    /// <summary>Whether the list itself is changing the source: then it knows already.</summary>
    public bool IsWriting { get; set; }

    /// <summary>Told of each edit, with the items that left by it: for what is held by index outside the state.</summary>
    public Action<Edit, Departed<TItem, TKey>>? Edited { get; set; }

    /// <summary>Shows other items, paired with those before.</summary>
    public void Show(IReadOnlyList<TItem> items, ChangeLock changes)
    {
        // Between the reading and the following nothing may change.
        using var held = changes.Hold();
        var changed = !ReferenceEquals(items, Items);
        Take(items, isFirst: true);
        IsSnapshot = false;
        _outOfStep = false;
        ForgetReports();
        _changes = changes;
        if (!changed) return;
        IsReordered = false;
        Let();
        _changes = changes;
        _live = items as INotifyCollectionChanged;
        if (_live is not null) _live.CollectionChanged += Changed;
        if (arranger.Outline is not null) arranger.FollowAll();
    }

    /// <summary>Shows a source that is not in memory, instead of any items before.</summary>
    public void Show(IPagedSource<TItem, TKey> source)
    {
        if (arranger.Outline is not null)
            throw new InvalidOperationException(
                "An outline has all its levels, or reads them by ReadBelow: a paged source cannot be shown in it. Set Outline to null " +
                    "first.");
        if (store.Pages is null && store.Count > 0) Splice(0, store.Count, []);
        Let();
        Items = null;
        (IsSnapshot, IsReordered, _outOfStep) = (false, false, false);
        Pager.Open(source);
    }

    /// <summary>What reads a source that is not in memory.</summary>
    public Pager<TItem, TKey> Pager { get; set; } = null!;

    /// <summary>Stops following the app's collection.</summary>
    public void Let()
    {
        if (_live is not null) _live.CollectionChanged -= Changed;
        _live = null;
        _late.Clear();
        IsBehind = false;
        ForgetReports();
        _changes = ChangeLock.None;
        arranger.LetAll();
    }

    /// <summary>Puts items into levels, or into none for null. Where they are no outline nothing changes.</summary>
    public void SetOutline(Outline<TItem, TKey>? outline)
    {
        var before = arranger.Outline;
        arranger.Outline = outline;
        arranger.Changed ??= Changed;
        try
        {
            if (Items is not null) Take(Items, isFirst: true);
            else core.Commit(core.State with { Showing = core.State.Showing with { Branching = null } }, cause: "source");
        }
        catch
        {
            arranger.Outline = before;
            throw;
        }
    }

    private void ForgetReports()
    {
        lock (_reports) _reports.Clear();
        _isToBeRead = false;
    }

    /// <summary>Keeps others from changing the collection while the list writes to it.</summary>
    public ChangeLock.Holding Hold() => _changes.Hold();

    /// <summary>Whether the collection has been changed elsewhere, and the list has not taken it yet.</summary>
    public bool IsAhead
    {
        get
        {
            lock (_reports) return _isToBeRead || _reports.Count > 0;
        }
    }

    /// <summary>Takes a snapshot from any thread.</summary>
    public void Offer(IReadOnlyList<TItem> snapshot)
    {
        _offered.Enqueue(snapshot);
        if (!turns.IsHere) turns.Post(TakeOffered);
        else turns.Run(_ =>
        {
            // From inside a handler it has waited, and nothing has taken it yet.
            TakeOffered();
            return Response.Handled;
        });
    }

    /// <summary>Shows what was offered. Only the newest counts.</summary>
    public void TakeOffered()
    {
        IReadOnlyList<TItem>? newest = null;
        while (_offered.TryDequeue(out var snapshot)) newest = snapshot;
        if (newest is null) return;
        Take(newest);
        Let();
        IsSnapshot = true;
    }

    /// <summary>Says something of the source where it has no items.</summary>
    public void SetStatus(Notice status) =>
        core.Commit(core.State with { Showing = core.State.Showing with { Status = status } }, cause: "source");

    /// <summary>Reads the source again, and asks about all of its items.</summary>
    public void Refresh()
    {
        if (Pager.IsPaged) Pager.Refresh();
        else if (Items is not null && _changes.IsNamed) ReadUnderLock();
        else if (Items is not null) Take(Items);
        else core.Commit(core.State with { Showing = projection.AskAll(core.State.Showing) }, cause: "source");
    }

    /// <summary>Takes over a list as a whole. Other objects may stand for the same keys: the app is asked about all of them.</summary>
    private void Take(IReadOnlyList<TItem> items, bool isFirst = false) => Take(items as TItem[] ?? [.. items], items, isFirst);

    private void Take(TItem[] array, IReadOnlyList<TItem> items, bool isShown = false)
    {
        if (arranger.Outline is not null) array = core.App.Ask(() => arranger.Arrange(array, isShown || Items is null));
        Pager.Close();
        var isFirst = store.Count == 0;
        Departed<TItem, TKey> departed = new();
        teller.ReadUntold();
        watcher.LetAll();
        Edit? edit;
        try
        {
            if (isFirst) core.App.Ask(() =>
            {
                if (arranger.Outline is null) store.Open(array);
                else arranger.Open(array);
                return true;
            });
            edit = isFirst ? Edit.Splice(0, 0, 0, array.Length) : core.App.Ask(() => store.Update(array, departed));
        }
        finally
        {
            watcher.FollowAll();
        }
        if (arranger.Outline is not null) arranger.FollowAll();
        Items = items;
        core.Out.Properties.Add("Count");
        if (edit is not null)
        {
            Follow(edit, departed, [], null, forget: true);
            return;
        }
        var showing = core.State.Showing with { Status = null, HasSource = true };
        core.Commit(core.State with
        {
            Showing = projection.Complete(showing, Edit.Splice(store.Count, 0, 0, 0), [], null),
            Marks = marking.Complete(core.State.Marks, null),
        }, cause: "source");
        core.Out.ChangeFrame();
    }

    /// <summary>The collection has changed.</summary>
    private void Changed(object? sender, NotifyCollectionChangedEventArgs e)
    {
        if (_changes.IsNamed && !(turns.IsHere && IsWriting))
        {
            Report(e);
            return;
        }
        if (!turns.IsHere && !turns.IsDisposed)
        {
            _outOfStep = true;
            throw new WrongThreadException(
                $"The collection was changed on thread {Environment.CurrentManagedThreadId}, which is not the list's own. Change it " +
                    "there, or change it under a lock and give that to Show.");
        }
        if (IsWriting || turns.IsDisposed || IsBehind) return;
        // Thousands of changes one by one cost more than one look at all that is there.
        if (_bulk > 0 && store.HasOwnKeys && ++_inBulk > Math.Max(Few, store.Count / 128))
        {
            IsBehind = true;
            return;
        }
        if (core.App.IsAsking)
        {
            // The list is in the middle of something: it looks when that is over.
            _late.Add((sender, e));
            return;
        }
        if (turns.IsBusy)
        {
            // From inside a handler: what the list is changes now, so that it stays in step; what is told of it waits.
            Take(sender, e);
            return;
        }
        turns.TryEnter();
        try
        {
            Take(sender, e);
        }
        finally
        {
            turns.Leave();
        }
    }

    /// <summary>A collection with a lock has changed, on any thread.</summary>
    private void Report(NotifyCollectionChangedEventArgs e)
    {
        if (turns.IsDisposed) return;
        if (!turns.IsHere && !_changes.IsHeld)
        {
            _isToBeRead = true;
            throw new WrongThreadException(
                $"The collection was changed on thread {Environment.CurrentManagedThreadId} without the lock that Show was given. Hold " +
                    "it for every change; the list reads the collection again.");
        }
        lock (_reports)
        {
            // Of very many, one look at all that is there says as much.
            if (_reports.Count >= Few || e.Action == NotifyCollectionChangedAction.Reset || arranger.Outline is not null)
            {
                _isToBeRead = true;
                _reports.Clear();
            }
            if (!_isToBeRead) _reports.Enqueue(e);
        }
        if (!turns.IsHere) turns.CallHome();
        else if (turns.IsBusy && !core.App.IsAsking) TakeReports();
        else if (!core.App.IsAsking) turns.Inside(() => { });
    }

    /// <summary>
    /// Takes the changes that a collection with a lock has reported since, in order, or reads it where they are too many.
    /// </summary>
    public void TakeReports()
    {
        if (!_changes.IsNamed || core.App.IsAsking) return;
        Follow(() =>
        {
            while (true)
            {
                NotifyCollectionChangedEventArgs? next = null;
                if (!_isToBeRead)
                {
                    lock (_reports)
                        if (!_reports.TryDequeue(out next)) return;
                }
                if (next is null || Wrong(next, null) is not null) ReadAgain();
                else Take(null, next, null);
            }
        });
    }

    // The collection's own fault, such as a duplicate key, comes out when all is told.
    private void Follow(Action take)
    {
        if (Attempt.Of(take) is { } error) core.Out.Fail(error);
    }

    private void ReadUnderLock()
    {
        TItem[] now;
        using (_changes.Hold())
        {
            ForgetReports();
            now = [.. Items!];
        }
        Take(now, Items!);
    }

    /// <summary>A command or a batch begins, whose changes of the collection belong together.</summary>
    public void BeginBulk()
    {
        if (_bulk++ == 0) _inBulk = 0;
    }

    /// <summary>It is over.</summary>
    public void EndBulk() => _bulk--;

    /// <summary>Whether anything changed that was not taken at once.</summary>
    public bool HasLate => _late.Count > 0 || IsBehind;

    /// <summary>Takes what was not taken at once: while the app was asked something, or as part of a bulk.</summary>
    public void TakeLate()
    {
        if (HasLate) TakeAllLate();
    }

    /// <summary>The same as a turn ends: what a bulk brings waits until that is over, or until the list is asked for something.</summary>
    public void TakeDue()
    {
        if (_late.Count > 0 || (IsBehind && _bulk == 0)) TakeAllLate();
    }

    // Apart, so that where nothing is late nothing is captured.
    private void TakeAllLate()
    {
        (object? Sender, NotifyCollectionChangedEventArgs Report)[] late = [.. _late];
        _late.Clear();
        var isBehind = IsBehind;
        (IsBehind, _inBulk) = (false, 0);
        Follow(() =>
        {
            // Of several, each report fits what the collection was then, which is gone.
            if (late is [var one] && !isBehind) Take(one.Sender, one.Report);
            else ReadAgain();
        });
    }

    /// <summary>Reads a collection whose reports do not say what it holds.</summary>
    public void ReadAgain()
    {
        _outOfStep = true;
        if (_changes.IsNamed) ReadUnderLock();
        else Take(Items!);
        _outOfStep = false;
    }

    private void Take(object? sender, NotifyCollectionChangedEventArgs e) => Take(sender, e, Items!);

    /// <param name="sender">The collection that reports.</param>
    /// <param name="e">What is reported.</param>
    /// <param name="source">The collection as it is after it; null where it has gone on since.</param>
    private void Take(object? sender, NotifyCollectionChangedEventArgs e, IReadOnlyList<TItem>? source)
    {
        if (_outOfStep || e.Action == NotifyCollectionChangedAction.Reset)
        {
            ReadAgain();
            return;
        }
        if (arranger.Outline is not null)
        {
            // Whatever throws, the outline has changed and the list has not.
            _outOfStep = true;
            ReadBranch(sender, e);
            _outOfStep = false;
            return;
        }
        if (Wrong(e, source) is { } wrong)
        {
            ReadAgain();
            throw new SourceOutOfStepException(wrong);
        }

        // Whatever throws now, a duplicate key above all, the collection has changed and the list has not.
        _outOfStep = true;
        if (e.Action == NotifyCollectionChangedAction.Move)
        {
            // In the collection's own words "to" is where the first one is afterwards; a gap counts the moved ones too.
            int from = e.OldStartingIndex, count = e.OldItems!.Count, to = e.NewStartingIndex;
            Rearrange(Edit.Move(ItemSet.None(store.Count).WithRange(from, count), to <= from ? to : to + count));
        }
        else
        {
            var removed = e.Action == NotifyCollectionChangedAction.Add ? 0 : e.OldItems!.Count;
            TItem[] inserted = e.Action == NotifyCollectionChangedAction.Remove ? [] : ItemsOf(e.NewItems!);
            var at = e.Action == NotifyCollectionChangedAction.Remove ? e.OldStartingIndex : e.NewStartingIndex;
            try
            {
                Splice(at, removed, inserted);
            }
            catch (DuplicateKeyException)
            {
                // The collection holds a duplicate, which reading it again will say; or it does not, and only its report does.
                ReadAgain();
                throw new SourceOutOfStepException(
                    $"The collection reported {e.Action} of {inserted.Length} at {at} with a key that is taken, " +
                        $"but its {store.Count} items have no key twice. The list has read it again.");
            }
        }
        _outOfStep = false;
    }

    private void ReadBranch(object? sender, NotifyCollectionChangedEventArgs e)
    {
        if (core.App.Ask(() => arranger.ReadMove(sender, e, Items!)) is { } move)
        {
            if (move.Changes) Rearrange(move);
        }
        else if (core.App.Ask(() => arranger.Read(sender, e, Items!)) is not { } stretch)
        {
            // What a command or a batch does is read once, when it is over.
            if (_bulk > 0) IsBehind = true;
            else ReadAgain();
        }
        else if (stretch.Removed + stretch.Inserted.Length > 0) Splice(stretch.At, stretch.Removed, stretch.Inserted);
    }

    /// <summary>Takes over a branch that the list itself has written.</summary>
    public void TakeBranch(Func<Arranger<TItem, TKey>.Stretch> read)
    {
        var stretch = core.App.Ask(read);
        Splice(stretch.At, stretch.Removed, stretch.Inserted);
    }

    private static TItem[] ItemsOf(IList reported)
    {
        var items = new TItem[reported.Count];
        reported.CopyTo(items, 0);
        return items;
    }

    /// <summary>Takes items out of the list, which may be put back or not, and puts others in.</summary>
    public void Splice(int at, int removed, TItem[] inserted, (TItem[] Items, TKey[] Keys)? known = null, bool mayReturn = false)
    {
        teller.ReadUntold();
        var departed = known is var (items, keys) ? Departed<TItem, TKey>.Of(at, items, keys) : new();
        int[] leaving = projection.Leaving(at, removed);
        TItem[] before = watcher.Has(at, removed);
        Edit edit;
        bool isSame;
        using (core.App.Calling()) edit = store.Splice(at, removed, inserted, departed, mayReturn, out isSame);
        watcher.Let(before);
        watcher.Follow(at, inserted.Length);
        Follow(edit, departed, isSame ? [] : leaving, ItemSet.None(store.Count).WithRange(at, inserted.Length));
    }

    /// <summary>Takes what the app has brought in below an item, where nothing has told of it.</summary>
    public void ReadBelow(int index)
    {
        if (core.App.Ask(arranger.Reread, index, null) is { } stretch) Splice(stretch.At, stretch.Removed, stretch.Inserted);
        else if (!IsLive && !IsSnapshot && arranger.Outline is { ParentOf: not null }) ReadAgain();
    }

    /// <summary>Puts the list into another order of the same items.</summary>
    public void Rearrange(Edit edit)
    {
        teller.ReadUntold();
        store.Rearrange(edit);
        Follow(edit, new(), [], ItemSet.None(store.Count));
    }

    /// <summary>Takes everything that is held by index through an edit that the store has made.</summary>
    private void Follow(Edit edit, Departed<TItem, TKey> departed, int[] leaving, ItemSet? asked, bool forget = false)
    {
        teller.BeginGathering();
        try
        {
            teller.Edited(edit, departed);
            core.Follow(edit, static (followed, with) => followed with
            {
                Showing = with.Parts.projection.Complete(
                    with.forget ? followed.Showing with { Status = null } : followed.Showing, with.edit, with.leaving, with.asked),
                Marks = with.Parts.marking.Complete(followed.Marks, with.asked),
            }, (Parts: (projection, marking), edit, leaving, asked, forget));
            Edited?.Invoke(edit, departed);
        }
        finally
        {
            teller.EndGathering();
        }
        core.Look();
    }

    /// <summary>What does not fit between what a collection reports and what it and the list hold; null where all does.</summary>
    private string? Wrong(NotifyCollectionChangedEventArgs e, IReadOnlyList<TItem>? source)
    {
        int removed = e.Action == NotifyCollectionChangedAction.Add ? 0 : e.OldItems?.Count ?? 0,
            inserted = e.Action == NotifyCollectionChangedAction.Remove ? 0 : e.NewItems?.Count ?? 0,
            from = e.OldStartingIndex, to = e.NewStartingIndex, count = store.Count;
        string Told() =>
            "The collection " +
            $"reported {e.Action} of {Math.Max(removed, inserted)} at {(e.Action == NotifyCollectionChangedAction.Remove ? from : to)}";
        var held = source?.Count ?? (count - removed + inserted);
        if (held != count - removed + inserted)
            return $"{Told()}, which leaves {count - removed + inserted} items, but it holds {held}. The list has read it again.";
        if (removed > 0 && (from < 0 || from > count - removed))
            return $"{Told()}, of old items at {from}, but there were {count}. The list has read it again.";
        if (inserted > 0 && (to < 0 || to > held - inserted)) return $"{Told()}, but it holds {held}. The list has read it again.";
        if (e.Action == NotifyCollectionChangedAction.Replace && from != to)
            return $"{Told()}, of old items at {from}: a replacement stays in place. The list has read it again.";
        bool Same(object? reported, TItem held) =>
            reported is TItem or null && EqualityComparer<TItem>.Default.Equals((TItem?)reported, held);
        for (var i = 0; i < inserted && source is not null; i++)
            if (!Same(e.NewItems![i], source[to + i]))
                return $"{Told()}, but what it holds at {to + i} is not what it reported. The list has read it again.";
        for (var i = 0; i < removed; i++)
            if (!Same(e.OldItems![i], store.ItemAt(from + i)))
                return $"{Told()}, but what was at {from + i} is not what it reported as old. The list has read it again.";
        if (source is null) return null;
        // The neighbours and both ends of what it holds must be where the report leaves them: a look at five items, not at all.
        var at = e.Action == NotifyCollectionChangedAction.Remove ? from : to;
        foreach (var i in (ReadOnlySpan<int>)[0, at - 1, at, at + inserted, source.Count - 1])
        {
            if (i < 0 || i >= source.Count || (i >= at && i < at + inserted)) continue;
            var rest = i < at ? i : i - inserted;
            var old = rest < from || removed == 0 ? rest : rest + removed;
            if (!EqualityComparer<TItem>.Default.Equals(source[i], store.ItemAt(old)))
                return $"{Told()}, but then what it holds at {i} is not what was at {old} before. The list has read it again.";
        }
        return null;
    }
}
