namespace Lectica.Testing;

/// <summary>
/// Waiting for a source, in programs and tests without a message loop. With one, nothing has to wait: rows come as they come.
/// </summary>
public static class Waiting
{
    /// <summary>
    /// Waits on this thread until a paged list has read what it needs, and everything that it asked of its source is answered and stored.
    /// </summary>
    /// <param name="list">The list.</param>
    /// <param name="most">How long at most; 30 seconds where null.</param>
    /// <exception cref="InvalidOperationException">The list has a message loop of its own, which waiting would hold up.</exception>
    /// <exception cref="TimeoutException">It took longer.</exception>
    public static void WaitUntilRead<TItem, TKey>(this InteractiveList<TItem, TKey> list, TimeSpan? most = null) where TKey : notnull
    {
        ArgumentNullException.ThrowIfNull(list);
        if (list.CallsItself)
            throw new InvalidOperationException(
                "The list has a synchronization context: rows come by it, and whoever waits here would hold it up.");
        var until = Environment.TickCount64 + (most ?? TimeSpan.FromSeconds(30)).TotalMilliseconds;
        while (list.IsReading || list.Shell.Home.IsAwaited)
        {
            if (Environment.TickCount64 > until) throw new TimeoutException("The source has not answered in time.");
            Thread.Sleep(1);
            list.Advance(list.Shell.Core.Now);
        }
    }
}
