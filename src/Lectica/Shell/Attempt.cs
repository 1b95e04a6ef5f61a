namespace Lectica.Shell;

/// <summary>
/// Where exceptions of the app's are caught: of its functions, its handlers, its collection and its source. Whoever attempts something
/// says what becomes of the exception; none is dropped here.
/// </summary>
internal static class Attempt
{
    /// <summary>Asks about something.</summary>
    /// <param name="ask">The function.</param>
    /// <param name="about">What it is asked about.</param>
    /// <param name="answer">What it answered; the type's default where it threw.</param>
    /// <returns>What it threw; null where it answered.</returns>
    public static Exception? Of<TArg, TResult>(Func<TArg, TResult> ask, TArg about, out TResult? answer)
    {
        try
        {
            answer = ask(about);
            return null;
        }
#pragma warning disable CA1031 // The app may throw anything, and the list is to be whole whatever it is.
        catch (Exception e)
#pragma warning restore CA1031
        {
            answer = default;
            return e;
        }
    }

    /// <summary>Does something.</summary>
    /// <returns>What it threw; null where it was done.</returns>
    public static Exception? Of(Action act) => Of(static a =>
    {
        a();
        return true;
    }, act, out _);

    /// <summary>Begins something that goes on: what it threw is how it ended.</summary>
    public static Task<TResult> Begin<TResult>(Func<Task<TResult>?> begin) =>
        Of(static b => b(), begin, out var task) is { } error ? Task.FromException<TResult>(error)
        : task ?? Task.FromException<TResult>(NoTask());

    /// <summary>Begins something that goes on: what it threw is how it ended.</summary>
    public static Task Begin(Func<Task?> begin) =>
        Of(static b => b(), begin, out var task) is { } error ? Task.FromException(error) : task ?? Task.FromException(NoTask());

    private static InvalidOperationException NoTask() => new("It returned null where it should return a task.");
}
