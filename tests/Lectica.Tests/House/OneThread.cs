using System.Collections.Concurrent;

namespace Lectica.Tests.House;

/// <summary>A thread with a context, as a screen has one: what is awaited on it goes on there.</summary>
internal sealed class OneThread : SynchronizationContext
{
    private readonly BlockingCollection<(SendOrPostCallback Do, object? State)> _posted = [];

    public override void Post(SendOrPostCallback d, object? state) => _posted.Add((d, state));

    /// <summary>Runs a test to its end.</summary>
    public static void Run(Func<Task> test)
    {
        var before = Current;
        var thread = new OneThread();
        SetSynchronizationContext(thread);
        try
        {
            var task = test();
            while (!task.IsCompleted)
                if (thread._posted.TryTake(out var next, 20)) next.Do(next.State);
            task.GetAwaiter().GetResult();
        }
        finally
        {
            SetSynchronizationContext(before);
        }
    }
}
