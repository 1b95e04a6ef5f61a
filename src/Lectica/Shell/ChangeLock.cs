namespace Lectica.Shell;

/// <summary>The lock under which an app changes a collection on any thread; none where it changes it on the list's own.</summary>
internal readonly struct ChangeLock
{
    private readonly object? _monitor;
    private readonly Lock? _lock;

    public ChangeLock(object monitor)
    {
        // One that comes as an object is still a lock.
        if (monitor is Lock own) _lock = own;
        else _monitor = monitor;
    }

    public ChangeLock(Lock own) => _lock = own;

    public static ChangeLock None => default;

    /// <summary>Whether there is one.</summary>
    public bool IsNamed => _monitor is not null || _lock is not null;

    /// <summary>Whether the present thread holds it.</summary>
    public bool IsHeld => _lock?.IsHeldByCurrentThread ?? (_monitor is not null && Monitor.IsEntered(_monitor));

    /// <summary>Holds it until the result is disposed of.</summary>
    public Holding Hold()
    {
        if (_lock is not null) _lock.Enter();
        else if (_monitor is not null) Monitor.Enter(_monitor);
        return new(this);
    }

    internal readonly ref struct Holding(ChangeLock held)
    {
        public void Dispose()
        {
            if (held._lock is not null) held._lock.Exit();
            else if (held._monitor is not null) Monitor.Exit(held._monitor);
        }
    }
}
