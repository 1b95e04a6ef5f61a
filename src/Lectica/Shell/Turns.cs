using Lectica.Items;

namespace Lectica.Shell;

/// <summary>
/// How a list runs: one turn at a time, on its own context or thread, the state first and then what is told. What handlers ask for waits
/// its turn, and its answer comes to whoever asked. A turn that fails leaves the state as it was.
/// </summary>
internal sealed class Turns(Core core)
{
    private static readonly TimeSpan SliceTime = TimeSpan.FromMilliseconds(15);

    private readonly SynchronizationContext? _context = SynchronizationContext.Current;
    private readonly int _thread = Environment.CurrentManagedThreadId;
    private readonly Queue<Waiting> _waiting = new();
    private int _batch, _called;
    private volatile bool _disposed;

    /// <summary>A call that waits. It means its item as its caller saw it.</summary>
    private sealed record Waiting(Func<int, Response> Run, int Index, EditLog Moment, QueuedCall Call);

    /// <summary>Whether a turn is running, or something is being told.</summary>
    public bool IsBusy { get; private set; }

    public bool IsDisposed => _disposed;

    /// <summary>Whether it can be called back by itself.</summary>
    public bool HasContext => _context is not null;

    /// <summary>Whether the caller is where the list belongs.</summary>
    public bool IsHere => _context is null ? Environment.CurrentManagedThreadId == _thread : SynchronizationContext.Current == _context;

    /// <summary>Whether a call waits for its turn.</summary>
    public bool HasWaiting => _waiting.Count > 0 || HasLate();

    /// <summary>Whether the source did anything while the app was asked something.</summary>
    public Func<bool> HasLate { get; set; } = () => false;

    /// <summary>What has come from elsewhere and is taken at the beginning of a turn.</summary>
    public Action Arrivals { get; set; } = () => { };

    /// <summary>What the source did while the app was asked something, which is taken when that is over.</summary>
    public Action LateChanges { get; set; } = () => { };

    /// <summary>What is put right after a turn that failed.</summary>
    public Action Recover { get; set; } = () => { };

    /// <summary>What is done when all is told: timers are set.</summary>
    public Action Rest { get; set; } = () => { };

    /// <summary>Throws where the list cannot be called.</summary>
    public void Check()
    {
        ObjectDisposedException.ThrowIf(_disposed, core.Out.Sender);
        if (IsHere) return;
        throw new WrongThreadException(_context is null
            ? $"The list belongs to thread {_thread} and was called from thread {Environment.CurrentManagedThreadId}. Call it there, or " +
            "hand in a snapshot by Offer, which takes one from any thread."
            : $"The list belongs to the synchronization context it was made on ({_context.GetType().Name}) and was called from " +
            $"thread {Environment.CurrentManagedThreadId} outside it. Post the call there, or hand in a snapshot by Offer, which takes " +
            "one from any thread.");
    }

    /// <summary>Runs a turn now and tells of it, or, from inside a handler or one of the app's functions, lets it wait.</summary>
    /// <param name="turn">The turn, given the index as it is by then.</param>
    /// <param name="index">The item that it is about, or -1.</param>
    public Response Run(Func<int, Response> turn, int index = -1) => Run(static (turn, index) => turn(index), turn, index);

    /// <summary>The same for a turn that is given what it needs, so that one that is done at once makes nothing for itself.</summary>
    public Response Run<T>(Func<T, int, Response> turn, T about, int index = -1)
    {
        Check();
        if (IsBusy || core.App.IsAsking) return Wait(turn, about, index);
        // A snapshot that was offered may move the item: the caller meant the list as it saw it.
        var moment = core.Moment;
        Enter();
        try
        {
            return turn(about, moment.Carry(index));
        }
        catch
        {
            Fail();
            throw;
        }
        finally
        {
            Leave();
        }
    }

    private Response Wait<T>(Func<T, int, Response> turn, T about, int index)
    {
        var call = new QueuedCall();
        _waiting.Enqueue(new(i => turn(about, i), index, core.Moment, call));
        return new(true, IsQueued: true) { Call = call };
    }

    /// <summary>
    /// Does something inside the present turn, or as one by itself: for another list, or a source, that is in the middle of its own.
    /// </summary>
    public void Inside(Action action)
    {
        if (IsBusy)
        {
            action();
            return;
        }
        Run(_ =>
        {
            action();
            return Response.Handled;
        });
    }

    /// <summary>Begins a turn, where none is running.</summary>
    public bool TryEnter()
    {
        Check();
        if (IsBusy || core.App.IsAsking) return false;
        Enter();
        return true;
    }

    private void Enter()
    {
        IsBusy = true;
        core.Save();
        try
        {
            TakeArrivals();
        }
        catch
        {
            Fail();
            Leave();
            throw;
        }
        core.Save();
    }

    /// <summary>A turn failed: all is as before it, or as after the last edit of the source that it made.</summary>
    public void Fail()
    {
        core.Rewind();
        Recover();
    }

    /// <summary>Ends a turn: tells what has gathered, then does what handlers asked for, until nothing is left.</summary>
    public void Leave()
    {
        while (!_disposed)
        {
            if (_context is null && Volatile.Read(ref _called) == 1) TakeLateArrivals();
            LateChanges();
            // What handlers ask for is done before it is told what to draw: of all that belongs together there is one frame.
            if (core.Out.TellEvent() || DoWaiting()) continue;
            // Properties and frames wait for the end of a batch.
            if (_batch > 0 || !core.Out.TellChanges()) break;
        }
        IsBusy = false;
        if (!_disposed) Rest();
        core.Out.ThrowFailed();
    }

    private bool DoWaiting()
    {
        if (_waiting.Count == 0) return false;
        core.Save();
        DoNext();
        return true;
    }

    // Apart, so that where nothing waits nothing is captured: a moving pointer allocates nothing.
    private void DoNext()
    {
        var next = _waiting.Dequeue();
        Unattended(() => next.Call.Done(next.Run(next.Moment.Carry(next.Index))));
    }

    // What nobody waits for any more, such as a snapshot with a duplicate key: its exception comes out of the turn that it waited for.
    private void Unattended(Action act)
    {
        if (Attempt.Of(act) is not { } error) return;
        Fail();
        core.Out.Fail(error);
    }

    /// <summary>
    /// From any thread: something has come from elsewhere. The list takes it on its context as soon as that comes to it; without one at
    /// once on its own thread, and from others at its next call.
    /// </summary>
    public void CallHome()
    {
        if (_disposed) return;
        var isFirst = Interlocked.Exchange(ref _called, 1) == 0;
        if (_context is null)
        {
            if (IsHere && !IsBusy && !core.App.IsAsking) Run(_ => Response.Handled);
            return;
        }
        if (!isFirst) return;
        // Whoever told of a change has no part in a context that takes nothing any more: it is taken at the next call.
        var error = Attempt.Of(() => _context.Post(_ =>
        {
            if (!_disposed) Run(_ => TakeArrivals());
        }, null));
        if (error is not null) Volatile.Write(ref _called, 0);
    }

    // What came in the middle of a turn, to a list that nobody calls back.
    private void TakeLateArrivals() => Unattended(() => TakeArrivals());

    private Response TakeArrivals()
    {
        // Before they are looked at, so that what comes meanwhile calls again.
        Volatile.Write(ref _called, 0);
        Arrivals();
        return Response.Handled;
    }

    /// <summary>Adds a turn that comes when all that has gathered is told.</summary>
    public void Next(Action turn) => _waiting.Enqueue(new(_ =>
    {
        turn();
        return Response.Handled;
    }, -1, core.Moment, new()));

    /// <summary>Posts a turn to the list's context, where it has one.</summary>
    public void Post(Action turn) => _context?.Post(_ =>
    {
        if (!_disposed) Run(_ =>
        {
            turn();
            return Response.Handled;
        });
    }, null);

    /// <summary>
    /// One slice of something long: takes steps until one says that it was the last, or for as long as a screen may wait. A step is short,
    /// but long enough that a look at the clock costs little beside it.
    /// </summary>
    /// <returns>Whether the last one was taken.</returns>
    public bool Slice(Func<bool> step)
    {
        var time = core.Options.Time;
        var began = time.GetTimestamp();
        while (!step())
            if (time.GetElapsedTime(began) >= SliceTime) return false;
        return true;
    }

    /// <summary>
    /// Lets the next slice of something long come later: it is posted where the list has a context to post to, and waits where a host
    /// calls back.
    /// </summary>
    /// <param name="slice">The next slice, where it is posted.</param>
    /// <param name="wait">Told when the host is to have it go on, ms.</param>
    /// <returns>Whether it comes; nobody would have a list go on that has neither, so it goes on at once.</returns>
    public bool Later(Action slice, Action<double> wait)
    {
        if (HasContext) Post(slice);
        else if (core.IsCalledBack) wait(core.Now + 1);
        else return false;
        return true;
    }

    /// <summary>Makes a timer that calls back on the list's context.</summary>
    public ITimer? Timer(TimeProvider time, Action due) => _context is null ? null
        : time.CreateTimer(_ => _context.Post(_ =>
        {
            if (!_disposed) due();
        }, null), null, Timeout.InfiniteTimeSpan, Timeout.InfiniteTimeSpan);

    /// <summary>Whether a batch is open.</summary>
    public bool IsBatching => _batch > 0;

    /// <summary>Lets properties and frames wait until the outermost batch is over.</summary>
    public void BeginBatch() => _batch++;

    public void EndBatch(Action close)
    {
        if (_disposed) return;
        Check();
        if (IsBusy)
        {
            close();
            _batch--;
            return;
        }
        IsBusy = true;
        close();
        _batch--;
        Leave();
    }

    /// <summary>Tells what has gathered outside a turn, such as another title.</summary>
    public void Flush()
    {
        if (IsBusy || core.App.IsAsking) return;
        IsBusy = true;
        Leave();
    }

    public void Dispose()
    {
        _disposed = true;
        _waiting.Clear();
        core.Out.Clear();
    }
}
