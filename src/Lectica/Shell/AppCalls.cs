using Lectica.Acts;
using Lectica.Items;

namespace Lectica.Shell;

/// <summary>
/// The one place from which the app's own functions are called: keys, content, filters, marks, questions. Each may throw at any call,
/// change the source, or ask something of the list. While one runs the list is in the middle of something: what it asks waits, and what it
/// does to the source is taken afterwards.
/// </summary>
internal sealed class AppCalls(Outbox outbox)
{
    private int _depth;

    /// <summary>Whether one of the app's functions is running.</summary>
    public bool IsAsking => _depth > 0;

    /// <summary>While it is not disposed, the app's functions are called; an exception is the caller's.</summary>
    public Call Calling()
    {
        _depth++;
        return new(this);
    }

    /// <summary>A stretch of code that calls the app's functions.</summary>
    public readonly ref struct Call(AppCalls calls)
    {
        /// <summary>It is over.</summary>
        public void Dispose() => calls._depth--;
    }

    /// <summary>Asks about something; an exception is the caller's.</summary>
    public TResult Ask<TArg, TResult>(Func<TArg, TResult> ask, TArg about)
    {
        _depth++;
        try
        {
            return ask(about);
        }
        finally
        {
            _depth--;
        }
    }

    /// <summary>Asks; an exception is the caller's.</summary>
    public TResult Ask<TResult>(Func<TResult> ask)
    {
        _depth++;
        try
        {
            return ask();
        }
        finally
        {
            _depth--;
        }
    }

    /// <summary>
    /// Asks where there is no way back, since the source has changed already: for an exception there is another answer, and it is thrown
    /// when all is told.
    /// </summary>
    public TResult Ask<TArg, TResult>(Func<TArg, TResult> ask, TArg about, TResult otherwise)
    {
        _depth++;
        var error = Attempt.Of(ask, about, out var answer);
        _depth--;
        if (error is null) return answer!;
        outbox.Fail(error);
        return otherwise;
    }

    /// <summary>
    /// Asks about all items in one go or, where that fails, about each by itself: one that cannot be told of keeps no other from being.
    /// </summary>
    public ItemSet Where<TItem, TKey>(ItemStore<TItem, TKey> store, Func<TItem, bool> says, bool otherwise) where TKey : notnull =>
        Where(store.Where, says, otherwise);

    /// <summary>The same about some items.</summary>
    public ItemSet Where<TItem, TKey>(ItemStore<TItem, TKey> store, ItemSet about, Func<TItem, bool> says, bool otherwise)
        where TKey : notnull => Where(asked => store.Where(about, asked), says, otherwise);

    private ItemSet Where<TItem>(Func<Func<TItem, bool>, ItemSet> ask, Func<TItem, bool> says, bool otherwise)
    {
        _depth++;
        var error = Attempt.Of(ask, says, out var set);
        _depth--;
        if (error is null) return set!;
        outbox.Fail(error);
        return ask(item => Ask(says, item, otherwise));
    }

    /// <summary>Asks; an exception becomes a refusal.</summary>
    /// <param name="ask">The function.</param>
    /// <param name="answer">What it answered; the type's default where it threw.</param>
    /// <param name="because">Says what could not be done or told, given the exception's own words.</param>
    public Refusal? Try<TResult>(Func<TResult> ask, out TResult? answer, Func<string, string> because)
    {
        _depth++;
        var error = Attempt.Of(static a => a(), ask, out answer);
        _depth--;
        return error is null ? null : new(RefusalKind.Failed, because(error.Message));
    }

    /// <summary>Does something of the app's; an exception becomes a refusal.</summary>
    public Refusal? Try(Action act, Func<string, string> because) => Try(() =>
    {
        act();
        return true;
    }, out _, because);
}
