using System.Collections.Immutable;
using Lectica.Acts;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Selecting;
using Lectica.States;
using Lectica.Tracing;

namespace Lectica.Shell;

/// <summary>Tells of what became of a list's items where two states differ: events whose arguments are items.</summary>
internal interface ITeller
{
    /// <summary>The selection differs.</summary>
    void TellSelection(Selection before, Selection now, Act? act, string cause);

    /// <summary>Marks differ.</summary>
    /// <param name="before">As they were.</param>
    /// <param name="now">As they are.</param>
    /// <param name="came">The items that have come in, of which it is not told; null for none.</param>
    /// <param name="cause">The rule that changed them.</param>
    void TellMarks(MarkSets before, MarkSets now, ItemSet? came, string cause);

    /// <summary>Other items are pressed.</summary>
    void TellPressed(IReadOnlyList<(int Index, Part Part)> before, IReadOnlyList<(int Index, Part Part)> now);

    /// <summary>The menu has closed.</summary>
    void TellMenuClosed();

    /// <summary>What comes after the items is something else.</summary>
    void TellMore(Footer before, Footer now);
}

/// <summary>What is done once the rows are others: some part has to look again.</summary>
internal interface IRowsWatcher
{
    /// <summary>The rows are others than they were.</summary>
    void RowsChanged();
}

/// <summary>
/// What the parts of a list share: its present state, the one way to the next, and what is to be told. The state is replaced here alone: it
/// settles slot by slot, and what properties changed, which events are raised and whether there is something to draw come from the
/// difference of the two.
/// </summary>
internal sealed class Core
{
    private ListState _saved;
    private OutboxMark _mark;

    public Core(ListOptions options)
    {
        Options = options;
        Out = new();
        App = new(Out);
        State = _saved = ListState.Empty(options);
    }

    public ListOptions Options { get; private set; }

    /// <summary>What the user's system calls Mod, where the app has not said. Chords and what menus say of them are others then.</summary>
    public void UseModKey(Input.ModKey modKey)
    {
        var known = Options.ModKey;
        Options = Options with { HostModKey = modKey };
        if (Options.ModKey == known) return;
        Out.ChangeFrame();
        Out.Properties.Add("Commands");
    }

    /// <summary>The list as it is.</summary>
    public ListState State { get; private set; }

    /// <summary>The present moment: what is kept by index holds on to it, and is carried from it.</summary>
    public EditLog Moment { get; private set; } = new();

    /// <summary>The time, ms on the samples' clock.</summary>
    public double Now { get; set; }

    public Outbox Out { get; }

    public AppCalls App { get; }

    /// <summary>Tells of items.</summary>
    public ITeller Teller { get; set; } = null!;

    /// <summary>The key of an item as text, or null for none.</summary>
    public Func<int, string?> KeyText { get; set; } = null!;

    /// <summary>Who looks again when rows are others, in this order.</summary>
    public ImmutableArray<IRowsWatcher> Watchers { get; set; } = [];

    /// <summary>Who listens to what a screen reader says.</summary>
    public EventHandler<AnnouncedEventArgs>? Announced { get; set; }

    /// <summary>Who listens to refusals.</summary>
    public EventHandler<RefusedEventArgs>? Refused { get; set; }

    /// <summary>Who has a clipboard to put things on.</summary>
    public EventHandler<CopiedEventArgs>? Copied { get; set; }

    /// <summary>Who has a clipboard to take things from.</summary>
    public EventHandler? PasteWanted { get; set; }

    /// <summary>Who listens to haptic hints.</summary>
    public EventHandler<HapticEventArgs>? Haptic { get; set; }

    /// <summary>What may be selected.</summary>
    public SelectionRules Rules => State.Rules(Options);

    public Selection Selection => State.Selection;

    public RowMap Rows => State.Showing.Rows;

    public RowGeometry Geometry => State.Window.Geometry;

    public Viewport Viewport => State.Window.Viewport;

    /// <summary>Which way the list runs.</summary>
    public Axes Axes => new(Options.Layout is Strip, Options.IsRightToLeft, State.Window.Viewport.Height);

    /// <summary>The host's window, as it is on the screen.</summary>
    public HostWindow Room => State.Window.RoomOn(Options.Layout);

    /// <summary>Whether what lies across a row begins at the right: in a strip that is above, always.</summary>
    public bool SwipesFromRight => Options.IsRightToLeft && Options.Layout is not Strip;

    /// <summary>Whether the host calls the list back at its deadlines.</summary>
    public bool IsCalledBack { get; set; }

    /// <summary>What users move they follow with their eyes: rows are not held in place while it is so.</summary>
    public bool HoldsScroll { get; set; }

    /// <summary>Puts another state in place of the present one.</summary>
    /// <param name="next">The next state.</param>
    /// <param name="act">The act that gives it.</param>
    /// <param name="cause">The rule behind it.</param>
    /// <param name="read">The items that have just been read: that they have marks is not a change.</param>
    public void Commit(ListState next, Act? act = null, string cause = "", ItemSet? read = null)
    {
        if (ReferenceEquals(next, State)) return;
        var before = State;
        Place(before, next, null, act);
        Tell(before, before, null, act, cause, read);
        if (!ReferenceEquals(before.Showing.Rows, State.Showing.Rows)) Look();
    }

    /// <summary>
    /// Takes the state through an edit that the source has made. There is no way back from it: whatever fails later, the list is as the
    /// source is.
    /// </summary>
    /// <param name="edit">The edit.</param>
    /// <param name="complete">Gives another state, with what the app says of the items that came in.</param>
    /// <param name="with">What it needs for that.</param>
    public void Follow<T>(Edit edit, Func<ListState, T, ListState> complete, T with)
    {
        var before = State;
        if (Out.Traced is not null) TraceChange("source", edit.ToString());
        var followed = before.Draft();
        foreach (var slot in ListState.Slots) slot.Follow(followed, edit);
        Moment = Moment.After(edit);
        if (followed.History.Since(Moment.Number) is var history && history != followed.History)
            followed = followed with { History = history };
        var completed = complete(followed, with);
        Place(before, completed, edit, null, isDraft: !ReferenceEquals(completed, followed));
        Tell(before, followed, edit, null, "source", ReferenceEquals(followed.Marks, State.Marks) ? null : edit.InsertedSet());
    }

    /// <summary>Has the parts look again that depend on the rows.</summary>
    public void Look()
    {
        foreach (var watcher in Watchers) watcher.RowsChanged();
    }

    private void Place(ListState before, ListState next, Edit? edit, Act? act, bool isDraft = false)
    {
        var how = new Settling(Options, edit, HoldsScroll, act);
        var draft = next;
        foreach (var slot in ListState.Slots) slot.Settle(before, isDraft ? null : next, ref draft, how);
        State = draft;
        if (edit is not null) Save();
    }

    /// <summary>
    /// Tells of the difference between two states; where an edit came between, <paramref name="basis"/> is the first one by the new
    /// indexes.
    /// </summary>
    private void Tell(ListState before, ListState basis, Edit? edit, Act? act, string cause, ItemSet? came)
    {
        var now = State;
        if (Out.PropertyChanged is not null)
            foreach (var slot in ListState.Slots) slot.Changed(before, now, Out.Properties);
        if (!ListState.LookSame(before, now)) Out.ChangeFrame();
        ItemSet shown = now.Showing.Shown, old = before.Showing.Shown;
        if (Out.Traced is not null && !ReferenceEquals(shown, old) && shown.Universe == old.Universe && !shown.Equals(old))
            TraceChange("rows", $"{shown.Count} of {shown.Universe} items show");
        // Fewer rows may leave no room to be scrolled so far: that is not a scroll.
        if (Out.Traced is not null && before.Window.Viewport.Within(now.Window.Geometry.Height).ScrollTop != now.Window.Viewport.ScrollTop)
            TraceScroll();
        if (!ReferenceEquals(basis.Selection, now.Selection)) Teller.TellSelection(basis.Selection, now.Selection, act, cause);
        if (!ReferenceEquals(basis.Marks, now.Marks)) Teller.TellMarks(basis.Marks, now.Marks, came, cause);
        if (basis.Pressed != now.Pressed) Teller.TellPressed(basis.Pressed, now.Pressed);
        if (before.Menu.IsOpen && !now.Menu.IsOpen) Teller.TellMenuClosed();
        if (!ReferenceEquals(before.Footer, now.Footer)) Teller.TellMore(before.Footer, now.Footer);
    }

    /// <summary>From here on there is a way back to the state as it is.</summary>
    public void Save() => (_saved, _mark) = (State, Out.Mark);

    /// <summary>Goes back to the state that was saved, and raises no event of what came after it.</summary>
    public void Rewind()
    {
        Out.Rewind(_mark);
        if (ReferenceEquals(State, _saved)) return;
        State = _saved;
        Out.ChangeFrame();
    }

    /// <summary>Goes back to a state of an earlier turn, between which and now the source was not edited.</summary>
    public void Return(ListState state, double now)
    {
        (State, Now) = (state, now);
        Save();
        Out.ChangeFrame();
    }

    public void Trace(Func<TraceLine> line) => Out.Trace(line);

    private void TraceChange(string what, string reason) =>
        Trace(() => new TracedChange { T = Now, Change = what, Reason = reason });

    private void TraceScroll() =>
        Trace(() => new TracedChange { T = Now, Change = "scroll", ScrollTop = State.Window.Viewport.ScrollTop });

    /// <summary>Says why an act is not done, or why none takes what came.</summary>
    public Response Refuse(Act? act, Refusal refusal)
    {
        if (act is { } known) TraceAct(known, refusal);
        else Trace(() => new TracedAct { T = Now, Refused = Words.Of(refusal.Kind), Reason = refusal.Reason });
        if (Refused is not null) Out.Raise(Refused, new(act, refusal, Say(refusal)));
        return new(false, refusal);
    }

    /// <summary>A refusal in words for users.</summary>
    public string Say(Refusal refusal) => App.Ask(p => p.Refused(refusal), Options.Phrases, "");

    public void TraceAct(Act act, Refusal? refusal = null) => Trace(() => new TracedAct
    {
        T = Now,
        Act = act.Name,
        Part = act.Text is null ? null : act.Kind switch
        {
            ActKind.InvokeTray => "tray:" + act.Text,
            ActKind.ChooseEntry => "entry:" + act.Text,
            ActKind.RunCommand => "command:" + act.Text,
            ActKind.ToggleMark => "mark:" + act.Text,
            ActKind.SortBy => "column:" + act.Text,
            ActKind.CollapseOrExpand or ActKind.ToggleSection or ActKind.Move => "heading:" + act.Text,
            _ => null,
        },
        Key = KeyText(act.Index),
        Index = act.Index < 0 ? null : act.Index,
        Rule = act.Rule,
        Refused = refusal is null ? null : Words.Of(refusal.Kind),
        Reason = refusal?.Reason,
    });

    /// <summary>Says something to a screen reader; the words are put together only where somebody listens.</summary>
    /// <param name="say">The words.</param>
    /// <param name="isAside">Whether it follows from an act, so that whatever the act itself says is enough.</param>
    public void Announce(Func<Phrases, string> say, bool isAside = false)
    {
        if (Announced is null) return;
        var text = App.Ask(say, Options.Phrases, "");
        if (text.Length == 0) return;
        Out.Announce(() =>
        {
            Trace(() => new TracedChange { T = Now, Change = "announced", Reason = text });
            Out.Raise(Announced, new(text));
        }, isAside);
    }

    /// <summary>Gives a haptic hint.</summary>
    public void Hint(HapticHint hint)
    {
        Trace(() => new TracedChange { T = Now, Change = "haptic", Reason = Words.Of(hint) });
        Out.Raise(Haptic, new(hint));
    }
}
