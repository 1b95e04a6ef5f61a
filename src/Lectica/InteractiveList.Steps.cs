using System.ComponentModel;
using System.Runtime.ExceptionServices;
using Lectica.Acts;
using Lectica.Items;
using Lectica.Selecting;
using Lectica.Tracing;

namespace Lectica;

// How a step runs: one at a time, the state first and then the events; what handlers ask for waits its turn.
public sealed partial class InteractiveList<TItem, TKey>
{
    private const int TracedKeys = 1000;

    private readonly Queue<Action> _events = new();
    private readonly List<SelectionChangedEventArgs<TItem, TKey>> _untold = [];
    private readonly Queue<PendingAct> _waiting = new();
    private readonly HashSet<string> _changedProperties = [];
    private bool _busy, _disposed, _frameChanged;
    private int _batch;
    private Selection? _batchStart;
    private double _now;

    /// <summary>An act that a handler asked for. It holds its item by index, which follows the source until the act's turn comes.</summary>
    private sealed class PendingAct
    {
        public required Func<int, Response> Run { get; init; }
        public int Index { get; set; }
    }

    private void CheckContext()
    {
        ObjectDisposedException.ThrowIf(_disposed, this);
        if (_context is null ? Environment.CurrentManagedThreadId == _thread : SynchronizationContext.Current == _context) return;
        throw new WrongThreadException(_context is null
            ? $"The list belongs to thread {_thread} and was called from thread {Environment.CurrentManagedThreadId}. Call it there, or hand in a snapshot by Offer, which takes one from any thread."
            : $"The list belongs to the synchronization context it was made on ({_context.GetType().Name}) and was called from thread {Environment.CurrentManagedThreadId} outside it. Post the call there, or hand in a snapshot by Offer, which takes one from any thread.");
    }

    /// <summary>Runs a step now and tells of it, or, from inside a handler, lets it wait.</summary>
    private Response Run(Func<int, Response> step, int index = -1)
    {
        CheckContext();
        if (_busy)
        {
            _waiting.Enqueue(new() { Run = step, Index = index });
            return Response.Queued;
        }
        _busy = true;
        _offeredEdits = null;
        try
        {
            TakeOffered();
            TakeArrived();
            // An offered snapshot may have moved the item: the caller meant the list as it saw it, so it is mapped like a waiting act.
            return step(_offeredEdits is { } edits ? edits.Aggregate(index, (i, e) => i < 0 ? i : e.Apply(i)) : index);
        }
        finally
        {
            _offeredEdits = null;
            Tell();
        }
    }

    /// <summary>Raises what has gathered, then does what handlers asked for, until nothing is left.</summary>
    private void Tell()
    {
        ExceptionDispatchInfo? first = null;
        while (true)
        {
            try
            {
                if (!TellNext()) break;
            }
#pragma warning disable CA1031 // The app's own exception: the other handlers are told first, then it goes to the caller.
            catch (Exception e)
#pragma warning restore CA1031
            {
                first ??= ExceptionDispatchInfo.Capture(e);
            }
        }
        _untold.Clear();
        _busy = false;
        SetTimer();
        first?.Throw();
    }

    /// <summary>Tells one handler, or does one thing that a handler asked for; false where nothing is left.</summary>
    private bool TellNext()
    {
        if (_events.TryDequeue(out var raise)) raise();
        else if (_batch == 0 && _changedProperties.Count > 0)
        {
            foreach (var name in _changedProperties)
            {
                var args = new PropertyChangedEventArgs(name);
                foreach (var handler in PropertyChanged?.GetInvocationList() ?? [])
                    _events.Enqueue(() => ((PropertyChangedEventHandler)handler)(this, args));
            }
            _changedProperties.Clear();
        }
        else if (_batch == 0 && _frameChanged)
        {
            _frameChanged = false;
            FrameChanged?.Invoke(this, EventArgs.Empty);
        }
        else if (_waiting.TryDequeue(out var next)) next.Run(next.Index);
        else return false;
        return true;
    }

    /// <summary>Has the list called back at its next deadline, where it can be.</summary>
    private void SetTimer()
    {
        if (_context is null || _disposed) return;
        var due = Earliest(Earliest(_recogniser.NextDeadline, NextOfDrag), Earliest(NextFade, NextLinger));
        if (due == _timerDue) return;
        _timerDue = due;
        if (due is not { } at)
        {
            _timer?.Change(Timeout.InfiniteTimeSpan, Timeout.InfiniteTimeSpan);
            return;
        }
        var wait = TimeSpan.FromMilliseconds(Math.Max(0, at - _now));
        _timer ??= Options.Time.CreateTimer(_ => _context.Post(_ =>
        {
            // It may have been set anew, or not be needed any more, since it went off.
            if (_disposed || _timerDue is not { } time) return;
            _timerDue = null;
            Advance(time);
        }, null), null, Timeout.InfiniteTimeSpan, Timeout.InfiniteTimeSpan);
        _timer.Change(wait, Timeout.InfiniteTimeSpan);
    }

    private ITimer? _timer;
    private double? _timerDue;

    private void ChangeFrame() => (_frame, _frameChanged, _rowsToKeep) = (null, true, []);

    private void Redraw()
    {
        ChangeFrame();
        _changedProperties.Add(nameof(Frame));
        if (_busy) return;
        _busy = true;
        Tell();
    }

    private void Raise<T>(EventHandler<T>? handlers, T args)
    {
        if (handlers is null) return;
        // Each handler by itself, so that one that throws does not keep the next from being told.
        foreach (var handler in handlers.GetInvocationList()) _events.Enqueue(() => ((EventHandler<T>)handler)(this, args));
    }

    private Response Refuse(Act? act, Refusal refusal)
    {
        if (act is { } known) TraceAct(known, refusal);
        else Trace(() => new() { Stage = "act", T = _now, Refused = Word(refusal.Kind), Reason = refusal.Reason });
        Raise(Refused, new(act, refusal));
        return new(false, refusal);
    }

    /// <summary>Takes over a new selection and tells of it, once, if it differs.</summary>
    private void Become(Selection next, Act? act, string cause, (ItemSet Removed, TItem[] Items, string[] Keys)? departed = null)
    {
        var old = _selection;
        if (Options.AlwaysSelecting) next = next with { IsSelecting = true };
        else if (Options.EndsSelectingWhenEmpty && next.IsSelecting && next.Items.IsEmpty && !old.Items.IsEmpty) next = next with { IsSelecting = false };
        // The cursor is on an item or on a heading, never on both.
        if (next.Cursor >= 0 && next.Heading is not null) next = next with { Heading = null, OnNotice = false };
        if (ReferenceEquals(next, old)) return;
        _selection = next;
        ChangeFrame();
        _changedProperties.Add(nameof(Selection));
        _changedProperties.Add(nameof(Frame));
        if (old.IsSelecting != next.IsSelecting)
        {
            _changedProperties.Add(nameof(IsSelecting));
            Trace(() => new() { Stage = "change", T = _now, Change = "selecting", Selecting = next.IsSelecting });
        }
        if (old.Cursor != next.Cursor || old.Heading != next.Heading)
        {
            _changedProperties.Add(nameof(CursorKey));
            if (departed is null) Trace(() => new() { Stage = "change", T = _now, Change = "cursor", Key = KeyText(next.Cursor), Part = next.Heading is null ? null : "heading:" + next.Heading, Index = next.Cursor < 0 ? null : next.Cursor });
        }
        if (_batch > 0) return;
        TellSelection(old, next, act, cause, departed);
    }

    private void TellSelection(Selection old, Selection next, Act? act, string cause, (ItemSet Removed, TItem[] Items, string[] Keys)? departed)
    {
        if (ReferenceEquals(old.Items, next.Items)) return;
        // After an edit the old set is already in the new indexes; what has left the list altogether is told by its old ones.
        Announce(next.Items.Except(old.Items), departed?.Removed ?? old.Items.Except(next.Items), next.Items, act, cause, departed);
    }

    private void Announce(ItemSet added, ItemSet removed, ItemSet selected, Act? act, string cause, (ItemSet Removed, TItem[] Items, string[] Keys)? departed)
    {
        if (added.IsEmpty && removed.IsEmpty) return;
        foreach (var name in (string[])[nameof(SelectedCount), nameof(SelectedItem), nameof(SelectedKey), nameof(SelectedItems), nameof(SelectedKeys), nameof(HeaderState)])
            _changedProperties.Add(name);
        Trace(() => new()
        {
            Stage = "change",
            T = _now,
            Change = "selection",
            Added = [.. added.Take(TracedKeys).Select(i => KeyText(i)!)],
            AddedCount = added.Count,
            Removed = departed?.Keys ?? [.. removed.Take(TracedKeys).Select(i => KeyText(i)!)],
            RemovedCount = removed.Count,
            Rule = cause,
        });
        if (Announced is not null && Options.Mode == Acts.SelectionMode.Multiple) Announce(Options.Phrases.Selected(selected.Count));
        var args = new SelectionChangedEventArgs<TItem, TKey>(added, removed, selected, act, cause, departed?.Items, ItemsOf);
        if (SelectionChanged is null) return;
        _untold.Add(args);
        Raise(SelectionChanged, args);
    }

    private TItem[] ItemsOf(ItemSet set)
    {
        var items = new TItem[set.Count];
        var n = 0;
        foreach (var index in set) items[n++] = _store.ItemAt(index);
        return items;
    }

    /// <summary>
    /// Groups changes: selection-changed and property notices are raised once, when the outermost batch ends, with the difference
    /// between before and after. Edits of the source end the grouping of what came before them.
    /// </summary>
    public IDisposable Batch()
    {
        CheckContext();
        if (_batch++ == 0) _batchStart = _selection;
        return new BatchEnd(this);
    }

    private sealed class BatchEnd(InteractiveList<TItem, TKey> list) : IDisposable
    {
        private bool _done;

        public void Dispose()
        {
            if (_done) return;
            _done = true;
            list.EndBatch();
        }
    }

    private void EndBatch()
    {
        CheckContext();
        if (_batch == 1) CloseBatch();
        _batch--;
        if (_busy) return;
        _busy = true;
        Tell();
    }

    private void CloseBatch()
    {
        if (_batchStart is { } start) TellSelection(start, _selection, null, "call", null);
        _batchStart = null;
    }

    private void Trace(Func<TraceLine> line) => Traced?.Invoke(line());

    private void TraceAct(Act act, Refusal? refusal) => Trace(() => new()
    {
        Stage = "act",
        T = _now,
        Act = act.Name,
        Part = act.Text is null ? null : act.Kind switch
        {
            ActKind.InvokeTray => "tray:" + act.Text,
            ActKind.ChooseEntry => "entry:" + act.Text,
            ActKind.RunCommand => "command:" + act.Text,
            ActKind.ToggleMark => "mark:" + act.Text,
            ActKind.CollapseOrExpand or ActKind.ToggleSection or ActKind.Move => "heading:" + act.Text,
            _ => null,
        },
        Key = KeyText(act.Index),
        Index = act.Index < 0 ? null : act.Index,
        Rule = act.Rule,
        Refused = refusal is null ? null : Word(refusal.Kind),
        Reason = refusal?.Reason,
    });

    private static string Word(RefusalKind kind) => kind switch
    {
        RefusalKind.NoRule => "no-rule",
        RefusalKind.EmptyList => "empty-list",
        RefusalKind.NoItem => "no-item",
        RefusalKind.OutsideList => "outside-list",
        RefusalKind.NotAvailable => "not-available",
        RefusalKind.OutOfDate => "out-of-date",
        RefusalKind.NotAllowed => "not-allowed",
        _ => kind.ToString().ToLowerInvariant(),
    };

    /// <summary>A key as text, as traces and snapshots write it; null for no item.</summary>
    private string? KeyText(int index) => (uint)index >= (uint)Count ? null : TextOf(_store.KeptKeyAt(index));

    /// <summary>The key of the item at an index as text, as traces, scripts and snapshots write it.</summary>
    /// <exception cref="ArgumentOutOfRangeException">There is no such item.</exception>
    public string KeyTextAt(int index) => TextOf(_store.KeptKeyAt(index));

    internal static string TextOf(TKey key) => Convert.ToString(key, System.Globalization.CultureInfo.InvariantCulture) ?? "";

    /// <summary>The list as it is now, by key: the last line of a played script's trace. Cost: a key an item.</summary>
    public TraceLine StateLine()
    {
        CheckContext();
        IReadOnlyList<string> Keys(IEnumerable<int> indexes) => [.. indexes.Select(i => KeyText(i)!)];
        return new()
        {
            Stage = "state",
            Selected = Keys(_selection.Items),
            Cursor = _selection.Heading is { } heading ? $"heading:{heading}" : KeyText(_selection.Cursor),
            Anchor = KeyText(_selection.Anchor),
            Marks = _marks.ToDictionary(m => m.Name, m => Keys(_marked[m.Name])),
            Open = OpenText,
            Order = Keys(_rows.InOrder()),
            Source = Keys(Enumerable.Range(0, Count)),
            Selecting = _selection.IsSelecting,
        };
    }
}
