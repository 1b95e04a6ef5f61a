using Lectica.Acts;
using Lectica.Items;
using Lectica.Selecting;
using Lectica.States;
using Lectica.Tracing;

namespace Lectica.Shell;

/// <summary>What is done to sections: collapsed, selected, marked; and the cursor on their headings.</summary>
internal sealed class SectionKeeper<TItem, TKey>(Core core, Actor actor, Scroller scroller, Lander<TItem, TKey> lander,
    Marker<TItem, TKey> marker, Events<TItem, TKey> events) where TKey : notnull
{
    private int At(string? section) => core.Rows.SectionWith(section ?? "");

    public Response CollapseOrExpand(Act act)
    {
        if (At(act.Text) is not (>= 0 and var at)) return core.Refuse(act, lander.NoSection(act.Text));
        core.TraceAct(act);
        var showing = core.State.Showing;
        var (section, selection) = (act.Text!, core.Selection);
        var collapses = !showing.Collapsed.Contains(section);
        // The cursor does not vanish with its row: it goes to the heading.
        var hides = (collapses && selection.Cursor >= 0 && core.Rows.Sections[at].Members.Contains(selection.Cursor))
            || (selection is { Heading: { } heading, OnNotice: true } && heading == section);
        core.Commit(core.State with
        {
            Showing = showing with { Collapsed = collapses ? showing.Collapsed.Add(section) : showing.Collapsed.Remove(section) },
            Selection = hides ? selection with { Cursor = -1, Heading = section, OnNotice = false } : selection,
        }, act, act.Rule);
        core.Trace(() =>
            new TracedChange { T = core.Now, Change = collapses ? "collapsed" : "expanded", Part = "heading:" + section });
        core.Announce(
            p => collapses ? p.SectionCollapsed(core.Rows.Sections[at].Title)
                : p.SectionExpanded(core.Rows.Sections[at].Title, core.Rows.ShownIn(at).Count));
        return Response.Handled;
    }

    public Response Toggle(Act act) => At(act.Text) is >= 0 and var at
        ? actor.Become(Selector.ToggleSome(core.Selection, core.Rows.ShownIn(at), core.Rules), act, act.Rule)
        : core.Refuse(act, lander.NoSection(act.Text));

    public Response ToggleMark(string name, string? section)
    {
        var act = new Act(ActKind.ToggleMark, Text: name);
        return At(section) is >= 0 and var at ? marker.Toggle(act, core.Rows.ShownIn(at)) : core.Refuse(act, lander.NoSection(section));
    }

    /// <summary>Puts the cursor on a heading or a section's notice.</summary>
    public Response MoveCursorTo(RowEntry entry, Act act)
    {
        core.TraceAct(act with { Kind = ActKind.MoveCursor, Index = -1 });
        core.Commit(core.State with
        {
            Selection = core.Selection with
            {
                Cursor = -1,
                Heading = core.Rows.Sections[entry.Section].Key,
                OnNotice = entry.Kind == RowKind.Notice,
            },
        }, act, act.Rule);
        return Response.Handled;
    }

    /// <summary>Puts the cursor on the row after the items.</summary>
    public Response MoveCursorToFooter(Act act)
    {
        core.TraceAct(act with { Kind = ActKind.MoveCursor, Index = -1 });
        core.Commit(core.State with { Selection = core.Selection with { Cursor = -1, Heading = null, OnNotice = true } }, act, act.Rule);
        if (core.Rows.Footer is { } row) scroller.BringIntoView(row);
        return Response.Handled;
    }

    /// <summary>What an act of a key means on a heading: its box, its collapsing, its marks.</summary>
    public Response DoOnHeading(Act act)
    {
        act = act with { Index = -1, Text = core.Selection.Heading };
        switch (act.Kind)
        {
            case ActKind.Select or ActKind.Toggle or ActKind.Add:
                return Toggle(act with { Kind = ActKind.ToggleSection });
            case ActKind.Activate or ActKind.PressPart:
                return CollapseOrExpand(act with { Kind = ActKind.CollapseOrExpand });
            case ActKind.ToggleMark:
                return marker.Toggle(act with { Text = core.Options.SpaceMark ?? "" }, core.Rows.ShownIn(At(core.Selection.Heading)));
            default:
                return core.Refuse(act, new(RefusalKind.NoItem, $"A heading has no {act.Name}: it needs an item."));
        }
    }

    /// <summary>Why there is nothing to try again; null where there is.</summary>
    public static Refusal? WhyNoRetry(ListState state) =>
        HasFailed(state) ? null : new(RefusalKind.NoItem, "Nothing has failed that could be tried again.");

    /// <summary>Whether loading failed, of the list or of more of it.</summary>
    public static bool HasFailed(ListState state) =>
        state.Showing.Rows.Notice is { } notice ? notice.Kind == NoticeKind.Failed
        : state.Showing.Rows.HasFooter && state.Footer.More.Kind == MoreKind.Failed;

    /// <summary>Asks a paged source again; null where the app is asked instead.</summary>
    public Func<Act, Response?> Reread { get; set; } = _ => null;

    /// <summary>Asks for what failed to be tried again: all of it, or what comes after the items.</summary>
    public Response Retry(Act act)
    {
        if (WhyNoRetry(core.State) is { } why) return core.Refuse(act, why);
        if (Reread(act with { Index = -1 }) is { } reread) return reread;
        core.TraceAct(act);
        if (core.Rows.Notice is null)
        {
            core.Commit(core.State with { Footer = core.State.Footer.Ask() }, act, act.Rule);
            return Response.Handled;
        }
        core.Out.Raise(events.RetryRequested);
        return Response.Handled;
    }
}
