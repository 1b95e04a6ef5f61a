using Lectica.Acts;
using Lectica.Finding;
using Lectica.States;

namespace Lectica.Shell;

/// <summary>Finds items by typing, on long lists in slices.</summary>
internal sealed class Finder<TItem, TKey>(
    Core core, Turns turns, Actor actor, Scroller scroller, Framer<TItem, TKey> framer, TextMatch match) where TKey : notnull
{
    // A step looks at a few items, and a slice at so many at most where no clock runs.
    private const int Few = 500, Many = 20_000;

    /// <summary>
    /// Finds in a source that is not in memory, given the characters and the place to begin from; null where all items are.
    /// </summary>
    public Func<string, int, Task<int>?>? Elsewhere { get; set; }

    /// <summary>Why nothing can be found in it.</summary>
    public Func<Refusal?> WhyNotElsewhere { get; set; } = () => null;

    /// <summary>Where the answer comes home.</summary>
    public Homecoming Home { get; set; } = null!;

    public void Stop()
    {
        if (!ReferenceEquals(core.State.Find, FindState.Nothing)) core.Commit(core.State with { Find = FindState.Nothing });
    }

    /// <summary>Goes on with a search that waits for the host.</summary>
    public void GoOnAt(double time)
    {
        if (core.State.Find.Search is { } search && search.Due <= time) GoOn();
    }

    public Response Type(ActCall call)
    {
        var act = call.Act;
        if (WhyNotElsewhere() is { } why) return core.Refuse(act, why);
        if (core.Rows.Shown.IsEmpty) return core.Refuse(act, new(RefusalKind.EmptyList, "There is nothing to find: no item shows."));
        var typing = core.State.Find.Typing.With(act.Text!, core.Now);
        var (prefix, after) = typing.Query;
        core.TraceAct(act with { Text = typing.Text });
        var cursor = scroller.CursorRow is { } at ? at.Value : -1;
        if (prefix.Length > 0 && Elsewhere is { } elsewhere
            && elsewhere(prefix, Math.Max(0, core.Selection.Cursor + (after ? 1 : 0))) is { } answer)
        {
            core.Commit(core.State with { Find = new(typing, null) });
            Home.When(answer, done => TakeFound(typing, prefix, act, done));
            return Response.Handled;
        }
        var search = prefix.Length == 0 ? null
            : new Search(prefix, cursor < 0 ? 0 : (cursor + (after ? 1 : 0)) % core.Rows.Count, core.Rows.Count, act);
        core.Commit(core.State with { Find = new(typing, search) });
        GoOn();
        return Response.Handled;
    }

    private void GoOn()
    {
        while (core.State.Find.Search is { } search)
        {
            // What is thrown in a later slice is thrown when all is told: that turn is not taken back, or it would come again.
            var found = core.App.Ask(Look, search, null);
            var rest = found is { Row: < 0, Left: > 0 } more ? search with { Next = more.Next, Left = more.Left } : null;
            core.Commit(core.State with { Find = core.State.Find with { Search = rest } });
            if (found is null) return;
            if (found is { Row: >= 0 and var row })
            {
                GoTo(core.Rows.IndexAt(new(row)), search.Act);
                return;
            }
            if (rest is null)
            {
                core.Refuse(search.Act, new(RefusalKind.NoItem, $"No item begins with '{search.Prefix}'."));
                return;
            }
            if (turns.Later(
                () =>
                {
                    if (core.State.Find.Search is { } still && still.Act == rest.Act && still.Prefix == rest.Prefix) GoOn();
                },
                due => core.Commit(core.State with { Find = core.State.Find with { Search = rest with { Due = due } } }))) return;
        }
    }

    // One slice: the row, or where to go on and how many are left.
    private (int Row, int Next, int Left)? Look(Search search)
    {
        var rows = core.Rows;
        var (row, next, left) = (-1, search.Next, search.Left);
        turns.Slice(() =>
        {
            (row, next, left) = match.Search(
                r => rows.IndexAt(new(r)) is >= 0 and var i && !core.State.Showing.Disabled.Contains(i) ? framer.ContentAt(i).TypedName
                    : null,
                rows.Count, next, left, Few, search.Prefix);
            return row >= 0 || left == 0 || search.Left - left >= Many;
        });
        return (row, next, left);
    }

    // What has been typed or done meanwhile is newer than the answer.
    private void TakeFound(Typing typing, string prefix, Act act, Task<int> answer)
    {
        if (core.State.Find.Typing != typing) return;
        if (answer.IsCompletedSuccessfully && answer.Result is >= 0 and var index && index < core.State.Count) GoTo(index, act);
        else
            core.Refuse(act, answer.IsCompletedSuccessfully ? new(RefusalKind.NoItem, $"No item begins with '{prefix}'.")
                : new(RefusalKind.Failed,
                $"The source could not look for '{prefix}': {answer.Exception?.InnerException?.Message ?? "it cancelled the search"}"));
    }

    private void GoTo(int index, Act act)
    {
        var typing = core.State.Find;
        actor.Do(new Act(
            core.Options.Keys.MovingSelects && core.Options.Policy.Selects ? ActKind.Select : ActKind.MoveCursor, index, act.Rule));
        core.Commit(core.State with { Find = typing });
        scroller.BringIntoView(index);
    }
}
