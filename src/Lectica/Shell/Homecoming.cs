using System.Collections.Concurrent;

namespace Lectica.Shell;

/// <summary>Work that goes on elsewhere and comes home to the list when it is done: what then follows is part of a turn.</summary>
internal sealed class Homecoming(Turns turns)
{
    private readonly ConcurrentQueue<Action> _arrived = new();

    private int _away;

    /// <summary>Whether anything has still to come home.</summary>
    public bool IsAwaited => _away > 0;

    /// <summary>Has something done in a turn when a task is over, however it ended.</summary>
    public void When<T>(Task<T> task, Action<Task<T>> then)
    {
        _away++;
        if (task.IsCompleted)
        {
            turns.Next(() => Come(then, task));
            return;
        }
        task.ContinueWith(done =>
        {
            _arrived.Enqueue(() => Come(then, done));
            turns.CallHome();
        }, CancellationToken.None, TaskContinuationOptions.ExecuteSynchronously, TaskScheduler.Default);
    }

    private void Come<T>(Action<Task<T>> then, Task<T> task)
    {
        _away--;
        then(task);
    }

    /// <summary>Does what has come.</summary>
    public void TakeArrived()
    {
        while (_arrived.TryDequeue(out var then)) then();
    }
}
