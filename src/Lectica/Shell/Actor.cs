using Lectica.Acts;
using Lectica.Gestures;
using Lectica.Items;
using Lectica.Selecting;
using Lectica.States;

namespace Lectica.Shell;

/// <summary>An act with what came along: where a gesture was, where a key goes.</summary>
/// <param name="Act">The act.</param>
/// <param name="Gesture">The gesture that gave it; null for a key or a call.</param>
/// <param name="Direction">Where a key goes from the cursor.</param>
internal readonly record struct ActCall(Act Act, Gesture? Gesture = null, Direction Direction = Direction.None);

/// <summary>Does acts. Each kind has one handler, in one table; what is true of it anyway stands in <see cref="ActTraits"/>.</summary>
internal sealed class Actor(Core core)
{
    private readonly Dictionary<ActKind, Func<ActCall, Response>> _handlers = [];

    /// <summary>Done before any act but typing: what was typed is over.</summary>
    public Action StopTyping { get; set; } = () => { };

    /// <summary>Why an act that is not one of the selection would be refused; null where it is none of these.</summary>
    public Func<ActKind, int, Refusal?> WhyNotOther { get; set; } = (_, _) => null;

    /// <summary>Whether an item is at hand; always in a list that has all of them in memory.</summary>
    public Func<int, bool> IsRead { get; set; } = _ => true;

    /// <summary>Asks again for a row that could not be read; null where it was not tried, or came.</summary>
    public Func<Act, Response?> Reread { get; set; } = _ => null;

    /// <summary>Says what does an act.</summary>
    public void On(ActKind kind, Func<ActCall, Response> handler) => _handlers.Add(kind, handler);

    /// <summary>Has all acts of the selection done by the rules of selecting, and checks that no act is without a handler.</summary>
    public void Complete()
    {
        foreach (var kind in (ActKind[])[ActKind.MoveCursor, ActKind.Select, ActKind.SelectUnlessSelected, ActKind.Add, ActKind.Toggle,
            ActKind.Extend, ActKind.ExtendAdding,
            ActKind.SelectAll, ActKind.ToggleAll, ActKind.Clear, ActKind.Invert, ActKind.BeginSelecting, ActKind.EndSelecting])
            On(kind, Select);
        foreach (var traits in ActTraits.All)
            if (!_handlers.ContainsKey(traits.Kind)) throw new InvalidOperationException($"The act '{traits.Name}' has no handler.");
    }

    /// <summary>Does one act.</summary>
    public Response Do(in ActCall call)
    {
        if (call.Act.Kind != ActKind.Type) StopTyping();
        if (WhyUnread(call.Act) is { } unread) return Reread(call.Act) ?? core.Refuse(call.Act, unread);
        if (call.Gesture is not null) Reread(call.Act);
        return _handlers[call.Act.Kind](call);
    }

    public Response Do(Act act) => Do(new ActCall(act));

    private Response Select(ActCall call)
    {
        var (next, refusal) = Selector.Apply(core.Selection, call.Act, core.Rules);
        if (refusal is not null) return core.Refuse(call.Act, refusal);
        core.TraceAct(call.Act);
        core.Commit(core.State with { Selection = next }, call.Act, call.Act.Rule);
        return Response.Handled;
    }

    /// <summary>Takes over a selection that something gave, or says why not.</summary>
    public Response Become(SelectionOutcome outcome, Act act, string cause, bool isTraced = true)
    {
        if (outcome.Refusal is { } refusal) return core.Refuse(act, refusal);
        if (isTraced) core.TraceAct(act);
        core.Commit(core.State with { Selection = outcome.Selection }, act, cause);
        return Response.Handled;
    }

    /// <summary>Why an act waits for its item to be read; null where it need not.</summary>
    public Refusal? WhyUnread(in Act act)
    {
        if (act.Index < 0 || act.Index >= core.State.Count || IsRead(act.Index)) return null;
        var traits = ActTraits.Of(act.Kind);
        return traits.NeedsItem && !traits.TakesUnread ? new(RefusalKind.NotRead, $"The item at {act.Index} has not been read yet.") : null;
    }

    /// <summary>Why an item cannot be what something is done to: there is none, it is hidden, or disabled; null where it can.</summary>
    public Refusal? WhyNoItem(int index)
    {
        var refusal = Selector.Apply(core.Selection, new(ActKind.MoveCursor, index), core.Rules).Refusal;
        return refusal ?? core.Rules.WhyBarred(index);
    }

    /// <summary>Why an act would be refused, or would change nothing; null where it would be done. Nothing is changed.</summary>
    public Refusal? WhyNot(ActKind kind, int index)
    {
        if (WhyNotOther(kind, index) is { } refusal) return refusal;
        var act = new Act(kind, index);
        return kind switch
        {
            ActKind.Clear when core.Selection.Items.IsEmpty => new(RefusalKind.NoItem, "Nothing is selected."),
            ActKind.EndSelecting when !core.Selection.IsSelecting => new(RefusalKind.NoItem, "The list is not in the selecting state."),
            ActKind.MoveCursor or ActKind.Select or ActKind.SelectUnlessSelected or ActKind.Add or ActKind.Toggle or ActKind.Extend
                or ActKind.ExtendAdding or ActKind.SelectAll
                or ActKind.ToggleAll or ActKind.Clear or ActKind.Invert or ActKind.BeginSelecting
                or ActKind.EndSelecting => Selector.Apply(core.Selection, act, core.Rules).Refusal,
            _ => WhyUnread(act) ?? (act.NeedsItem ? WhyNoItem(index) : null),
        };
    }

    /// <summary>Tells what is used: a ring shows where the keyboard is only for who uses keys.</summary>
    public void Use(bool byPointer)
    {
        if (core.State.Focus.IsByPointer == byPointer) return;
        core.Commit(core.State with { Focus = core.State.Focus with { IsByPointer = byPointer } });
    }

    /// <summary>
    /// The items that something done at an item is done to: the selection if it is in it, else that item alone; shown and enabled ones
    /// only.
    /// </summary>
    public ItemSet TargetAt(int index) =>
        core.Selection.Items.Contains(index) ? core.Selection.Items.Intersect(core.Rules.Choosable)
        : ItemSet.None(core.State.Count).With(index);

    /// <summary>The selection, or where nothing is selected the item at the cursor; as far as that shows and is enabled.</summary>
    public ItemSet TargetOfCommand()
    {
        var selection = core.Selection;
        var meant = selection.Items.IsEmpty && selection.Cursor >= 0
            ? ItemSet.None(core.State.Count).With(selection.Cursor) : selection.Items;
        return meant.Intersect(core.Rules.Choosable);
    }

    /// <summary>What a key means: the selection if the cursor is in it, else the item at the cursor.</summary>
    public ItemSet TargetOfKey() => core.Selection.Cursor >= 0 ? TargetAt(core.Selection.Cursor) : TargetOfCommand();
}
