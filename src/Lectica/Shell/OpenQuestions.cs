using System.Collections.Concurrent;
using System.Collections.Immutable;
using Lectica.Selecting;
using Lectica.Sources;

namespace Lectica.Shell;

/// <summary>What a question to a source is for, and so what its answer changes.</summary>
internal enum QuestionKind
{
    /// <summary>The first items.</summary>
    Open,

    /// <summary>How many items there are.</summary>
    Count,

    /// <summary>A stretch in view.</summary>
    Page,

    /// <summary>Items at the ends of what is selected.</summary>
    Ends,

    /// <summary>Where all is now that the list knows of.</summary>
    Places,

    /// <summary>Where items are that are selected one by one, of more than are asked for at once.</summary>
    Keys,

    /// <summary>Where what a snapshot names is.</summary>
    Restored,
}

/// <summary>A question that was put to a source.</summary>
/// <param name="Source">The source.</param>
/// <param name="Kind">What it is for.</param>
/// <param name="Question">What is asked.</param>
/// <param name="Bounds">Which ends of the selection its bounds stand for, in their order.</param>
/// <param name="Named">Which ends of the selection its stretches or keys stand for, in their order.</param>
internal sealed record OpenQuestion<TItem, TKey>(IPagedSource<TItem, TKey> Source, QuestionKind Kind, PageQuestion<TItem, TKey> Question,
    ImmutableArray<Bound> Bounds, ImmutableArray<Bound> Named)
{
    public CancellationTokenSource Cancel { get; } = new();

    /// <summary>Where its first stretch begins.</summary>
    public int Start => Question.Stretches[0].Start;
}

/// <summary>The questions that a source has still to answer, and the answers that the list has still to take.</summary>
internal sealed class OpenQuestions<TItem, TKey>(Core core, Turns turns)
{
    private readonly ConcurrentQueue<(OpenQuestion<TItem, TKey> To, Task<PageAnswer<TItem>> Task)> _arrived = new();
    private readonly List<OpenQuestion<TItem, TKey>> _open = [];

    public int Count => _open.Count;

    /// <summary>Whether an answer waits to be taken.</summary>
    public bool HasArrived => !_arrived.IsEmpty;

    public bool Has(QuestionKind kind) => _open.Exists(q => q.Kind == kind);

    public List<OpenQuestion<TItem, TKey>> Of(QuestionKind kind) => _open.FindAll(q => q.Kind == kind);

    /// <summary>Puts a question to a source. Its answer, or what went wrong, comes to the list's own turn.</summary>
    public void Ask(OpenQuestion<TItem, TKey> question)
    {
        _open.Add(question);
        // The source's own exception is an answer like any other.
        var task = Attempt.Begin(() => core.App.Ask(q => q.Source.AskAsync(q.Question, q.Cancel.Token), question));
        if (task.IsCompleted) _arrived.Enqueue((question, task));
        else task.ContinueWith(done =>
        {
            _arrived.Enqueue((question, done));
            turns.CallHome();
        }, CancellationToken.None, TaskContinuationOptions.ExecuteSynchronously, TaskScheduler.Default);
    }

    /// <summary>Takes the next answer that somebody still waits for.</summary>
    /// <param name="question">What was asked.</param>
    /// <param name="answer">What came of it.</param>
    public bool TryTake(out OpenQuestion<TItem, TKey> question, out Task<PageAnswer<TItem>> answer)
    {
        while (_arrived.TryDequeue(out var arrived))
        {
            (question, answer) = arrived;
            if (!_open.Remove(question)) continue;
            question.Cancel.Dispose();
            return true;
        }
        (question, answer) = (null!, null!);
        return false;
    }

    /// <summary>Nobody waits for an answer any more: the source is told so.</summary>
    public void Drop(OpenQuestion<TItem, TKey> question)
    {
        _open.Remove(question);
        if (core.App.Try(question.Cancel.Cancel, why => why) is { } refusal)
            core.Out.Fail(new InvalidOperationException($"A callback of a read's cancellation threw: {refusal.Reason}"));
    }

    public void DropAll()
    {
        foreach (var question in _open.ToArray()) Drop(question);
    }

    /// <summary>The list is gone: what a source's callbacks throw is nobody's.</summary>
    public void Dispose()
    {
        foreach (var question in _open) _ = core.App.Try(question.Cancel.Cancel, why => why);
    }
}
