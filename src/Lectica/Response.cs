using Lectica.Acts;

namespace Lectica;

/// <summary>What a list answers to an input or a call.</summary>
/// <param name="IsHandled">Whether the list took it. If not, the host may use it: a key that no rule takes, or an act that was
/// refused.</param>
/// <param name="Refusal">Why it was refused, or null.</param>
/// <param name="IsQueued">Whether it came from inside an event's handler, and so runs after the events of the present act;
/// <see cref="Then"/> tells what comes of it.</param>
public readonly record struct Response(bool IsHandled, Refusal? Refusal = null, bool IsQueued = false)
{
    internal static Response Handled => new(true);

    internal QueuedCall? Call { get; init; }

    /// <summary>Tells the answer: at once, or of a call that is queued when its turn has come, on the list's own context.</summary>
    /// <param name="told">Takes the answer, which is never a queued one.</param>
    public void Then(Action<Response> told)
    {
        ArgumentNullException.ThrowIfNull(told);
        if (Call is { } call) call.Then(told);
        else told(this);
    }
}

/// <summary>A call from inside a handler, which runs later: who made it can be told what came of it.</summary>
internal sealed class QueuedCall
{
    private Response? _answer;
    private Action<Response>? _told;

    public void Then(Action<Response> told)
    {
        if (_answer is { } answer) told(answer);
        else _told += told;
    }

    public void Done(Response answer)
    {
        _answer = answer;
        _told?.Invoke(answer);
    }
}
