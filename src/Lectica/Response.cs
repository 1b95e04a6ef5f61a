using Lectica.Acts;

namespace Lectica;

/// <summary>What a list answers to an input or a call.</summary>
/// <param name="IsHandled">Whether the list took it. If not, the host may use it: a key that no rule takes, or an act that was refused.</param>
/// <param name="Refusal">Why it was refused, or null.</param>
/// <param name="IsQueued">Whether it came from inside an event's handler, and so runs after the events of the present act.</param>
public readonly record struct Response(bool IsHandled, Refusal? Refusal = null, bool IsQueued = false)
{
    internal static Response Handled => new(true);
    internal static Response Queued => new(true, IsQueued: true);
}
