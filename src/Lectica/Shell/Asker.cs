using Lectica.Acts;
using Lectica.Commands;
using Lectica.Items;

namespace Lectica.Shell;

/// <summary>
/// Asks the user, through the app, before something is done: where a command has a question, or where items would change of which nobody
/// has seen all.
/// </summary>
internal sealed class Asker<TItem, TKey>(Core core, Turns turns, Teller<TItem, TKey> teller, Events<TItem, TKey> events)
    where TKey : notnull
{
    /// <summary>Whether anybody listens, and so may answer.</summary>
    public bool IsHeard => events.ConfirmationRequested is not null;

    /// <summary>Asks, and goes on with what is left of the items once the answer is yes.</summary>
    /// <param name="act">The act, which is refused where the answer is no.</param>
    /// <param name="about">What the app is told of it.</param>
    /// <param name="refused">Why it is refused then.</param>
    /// <param name="go">What is done with the items, where they stand now.</param>
    public Response Ask(Act act, Inquiry<TItem, TKey> about, string refused, Func<ItemSet, Response> go)
    {
        var (target, moment, answered) = (teller.Hold(about.Target), core.Moment, false);
        core.Out.Raise(events.ConfirmationRequested, new(about, yes =>
        {
            if (answered) return;
            answered = true;
            turns.Run(_ =>
            {
                teller.LetGo(target);
                return yes ? go(about.Command is { Scope: CommandScope.List } ? target.Set : moment.Carry(target.Set))
                    : core.Refuse(act, new(RefusalKind.NotAvailable, refused));
            });
        }));
        return Response.Handled;
    }
}
