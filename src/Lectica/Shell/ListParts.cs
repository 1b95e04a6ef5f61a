using System.Globalization;
using Lectica.Acts;
using Lectica.Finding;
using Lectica.Frames;
using Lectica.Gestures;
using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Selecting;
using Lectica.Swiping;
using Lectica.Tracing;

namespace Lectica.Shell;

/// <summary>The parts of one list, put together: which of them knows which, what does which act, and what is done when.</summary>
internal sealed class ListParts<TItem, TKey> : IFrameSource where TKey : notnull
{
    private readonly Recogniser _recogniser;
    private readonly PointerAt _at = new();
    private readonly MarqueeStroke _marquee;
    private readonly Asker<TItem, TKey> _asker;
    private readonly MoveMenu<TItem, TKey> _moveMenu;
    private readonly Dictionary<PartKind, string> _touchActions = [];
    private States.ListState? _touchActionsOf;
    private RowParts? _parts;
    private ITimer? _timer;
    private double? _timerDue;

    public ListParts(Func<TItem, TKey>? keyOf, Func<long, TKey>? mint, ListOptions options, object sender)
    {
        options.Validate();
        Core = new(options);
        Core.Out.Sender = sender;
        Store = new(keyOf, mint, options.ChecksKeys);
        Turns = new(Core);
        Events = new();
        Teller = new(Core, Store, Events);
        (Core.Teller, Core.KeyText) =
            (Teller, index => (uint)index >= (uint)Store.Count || !Store.Has(index) ? null : Store.TextOf(Store.KeptKeyAt(index)));
        _recogniser = new(options.Thresholds);
        var match = new TextMatch(options.Culture ?? CultureInfo.CurrentCulture);

        Actor = new(Core);
        Scroller = new(Core);
        Framer = new(Core, Store) { Source = this };
        Arranger = new(Core, Store);
        Projection = new(Core, Store, Arranger);
        Watcher = new(Core, Turns, Store);
        Marker = new(Core, Store, Projection, Watcher);
        Source = new(Core, Turns, Store, Arranger, Projection, Marker, Watcher, Teller);
        Writer = new(Core, Store, Source, Projection, Watcher, Teller);
        Splicer = new(Core, Turns, Store, Source, Projection, Writer, Teller);
        Filler = new(Core, Store, Source, Splicer);
        History = new(Core, Turns);
        Feedback = new(Core, History);
        Book = new(Core, Teller);
        _asker = new(Core, Turns, Teller, Events);
        Runner = new(Core, Turns, Store, Book, Teller, Marker, _asker, Events);
        Trays = new(Core, _at, Scroller, Actor, Book, Runner);
        Menus = new(Core, Store, Framer, Actor, Scroller, Book, Runner, Teller, match, Events);
        Mover = new(Core, _at, Store, Scroller, Actor, Writer, Projection, Teller, Framer, Events);
        Lander = new(Core, Turns, Store, Actor, Scroller, Mover, Source, Writer, Projection, Teller, Events);
        Transfers = new(Core, Turns, Store, Mover, Lander, Writer, Splicer, Projection, Teller, History, Framer);
        Porter = new(
            Core, Turns, Store, Actor, Scroller, Mover, Transfers, Writer, Splicer, Projection, Teller, Book, Runner, Feedback, Events);
        _moveMenu = new(Core, Turns, Mover, Lander, Projection, Transfers);
        Strokes = new(Core, _at, Scroller, Actor);
        _marquee = new(Core, _at);
        Pull = new(Core, _at, Book, Runner);
        Finder = new(Core, Turns, Actor, Scroller, Framer, match);
        Sections = new(Core, Actor, Scroller, Lander, Marker, Events);
        Sorter = new(Core, Turns, Projection, Events);
        Columns = new(Core, Store, Sorter, Actor, Scroller);
        (Framer.CellsAt, Framer.LabelOf, Framer.SortsBy) = (Columns.CellsAt, Columns.LabelOf, Sorter.Sorts);
        Keyboard = new(Core, Actor, Scroller, Menus, Sections, Book, Runner, Framer, Situation);
        Pointing = new(Core, Store, _recogniser, Actor, Strokes, Menus, Framer, Situation, Events);
        Home = new(Turns);
        Branches = new(Core, Store, Arranger, Source, Projection, Actor, Scroller, Framer, Home);
        BranchWriter = new(Core, Store, Arranger, Source, Writer, Watcher, Teller, Events);
        BranchMover = new(Core, Store, Arranger, BranchWriter);
        Porter.Branches = new(
            Core, Turns, Store, Arranger, Source, Writer, BranchWriter, BranchMover, Marker, Transfers, Teller);
        Snapshots = new(Core, Store, Marker, Scroller, Source, Writer, Projection, Events);
        Pager = new(Core, Turns, Store, Marker, Watcher, Teller, Events);
        InSource = new(Core, Home, Store, Pager, Teller, _asker, Feedback, History);
        Wire();
        Table();
    }

    public Core Core { get; }

    public Turns Turns { get; }
    public ItemStore<TItem, TKey> Store { get; }
    public Events<TItem, TKey> Events { get; }
    public Teller<TItem, TKey> Teller { get; }
    public Actor Actor { get; }
    public Scroller Scroller { get; }
    public Framer<TItem, TKey> Framer { get; }
    public Arranger<TItem, TKey> Arranger { get; }
    public Projection<TItem, TKey> Projection { get; }
    public ItemWatcher<TItem, TKey> Watcher { get; }
    public Marker<TItem, TKey> Marker { get; }
    public Source<TItem, TKey> Source { get; }
    public SourceWriter<TItem, TKey> Writer { get; }

    public SourceSplicer<TItem, TKey> Splicer { get; }
    public Filler<TItem, TKey> Filler { get; }
    public Historian History { get; }
    public FeedbackKeeper Feedback { get; }
    public CommandBook<TItem, TKey> Book { get; }
    public CommandRunner<TItem, TKey> Runner { get; }
    public TrayKeeper<TItem, TKey> Trays { get; }
    public MenuKeeper<TItem, TKey> Menus { get; }
    public Mover<TItem, TKey> Mover { get; }
    public Lander<TItem, TKey> Lander { get; }
    public Transfers<TItem, TKey> Transfers { get; }
    public Porter<TItem, TKey> Porter { get; }
    public PullStroke<TItem, TKey> Pull { get; }
    public Strokes Strokes { get; }
    public Finder<TItem, TKey> Finder { get; }
    public SectionKeeper<TItem, TKey> Sections { get; }
    public BranchKeeper<TItem, TKey> Branches { get; }
    public ColumnKeeper<TItem, TKey> Columns { get; }

    public ColumnSorter<TItem, TKey> Sorter { get; }
    public BranchWriter<TItem, TKey> BranchWriter { get; }
    public BranchMover<TItem, TKey> BranchMover { get; }
    public Keyboard<TItem, TKey> Keyboard { get; }
    public Pointing<TItem, TKey> Pointing { get; }
    public Snapshots<TItem, TKey> Snapshots { get; }
    public Pager<TItem, TKey> Pager { get; }
    public Homecoming Home { get; }
    public SourceActs<TItem, TKey> InSource { get; }

    /// <summary>What one part needs of another that is made after it.</summary>
    private void Wire()
    {
        Watcher.Read = Marker.ReadAgain;
        Projection.ReadSource = () => Source.ReadAgain();
        Marker.Keep = Lander.Keep = History.Keep;
        Runner.History = History;
        Runner.Notify = (text, step, retrial) => Feedback.Notify(text, step, retrial: retrial);
        Lander.Notify = (text, step) => Feedback.Notify(text, step, isSaid: true);
        Runner.Source = Source;
        Runner.Watcher = Trays;
        History.Reversed = Feedback.Hide;
        Book.Own = [Porter, _moveMenu];
        Menus.HasOwn = () => _moveMenu.IsOffered || Porter.IsOffered;
        Porter.History = History;
        Menus.CloseTray = act => Trays.Close(act);
        Scroller.Closes = [Trays, Menus];
        Mover.Lander = Lander;
        (Mover.Branches, Lander.Branches) = (BranchWriter, BranchMover);
        Lander.BranchWriter = BranchWriter;
        Mover.Away = Transfers;
        Mover.ClearTheWay = act =>
        {
            Trays.Close(act with { Kind = ActKind.CloseTray });
            Menus.Close(act with { Kind = ActKind.CloseMenu });
        };
        Keyboard.Columns = Columns;
        Keyboard.PutBack = act => Mover.DropBack(act);
        Actor.StopTyping = Finder.Stop;
        Actor.WhyNotOther = (kind, _) => kind switch
        {
            ActKind.Undo or ActKind.Redo => History.WhyNot(kind),
            ActKind.Drop or ActKind.DropBack or ActKind.Hover =>
                Core.State.Carrying.Grab is null ? Mover<TItem, TKey>.NothingGrabbed : null,
            ActKind.CloseTray => Core.State.Tray is { IsOpen: true } ? null : new(RefusalKind.NoItem, "No tray is open."),
            ActKind.CloseMenu => Core.State.Menu.IsOpen ? null : new(RefusalKind.NoItem, "No menu is open."),
            ActKind.Retry => SectionKeeper<TItem, TKey>.WhyNoRetry(Core.State),
            _ => null,
        };
        Strokes.Add(ActKind.OpenTray, Trays);
        Strokes.Add(ActKind.Sweep, new SweepStroke(Core, _at));
        Strokes.Add(ActKind.Grab, Mover);
        Strokes.Add(ActKind.Pull, Pull);
        foreach (var kind in (ActKind[])[ActKind.Marquee, ActKind.MarqueeAdding, ActKind.MarqueeToggling]) Strokes.Add(kind, _marquee);
        Strokes.ClearTheWay = act =>
        {
            if (Core.State.Carrying.IsCarrying) Mover.DropBack(act with { Kind = ActKind.DropBack });
            if (act.Kind != ActKind.OpenTray) Trays.Close(act with { Kind = ActKind.CloseTray });
            Menus.Close(act with { Kind = ActKind.CloseMenu });
        };
        Pointing.NextOfDrag = () => Earliest(Strokes.NextScroll, Core.State.Carrying.Hover?.Due);
        Pointing.DoOfDrag = (due, now) =>
        {
            if (Core.State.Carrying.Hover?.Due == due) Mover.OpenHovered(due, Strokes.FollowPointer);
            else if (Strokes.NextScroll == due) Strokes.Scroll(due, now);
        };
        Pointing.Pass = time =>
        {
            Feedback.Fade(time);
            Projection.EndLingering(time);
            Filler.GoOnAt(time);
        };
        Source.Edited = (edit, departed) =>
        {
            Pointing.Follow(edit);
            Snapshots.Follow(edit);
            RowsEdited?.Invoke(edit, departed);
        };
        Snapshots.SetSort = Sorter.SetSort;
        (Source.Pager, Snapshots.Pager) = (Pager, Pager);
        Pager.Scroll = (index, offset) => Scroller.Keep(index, offset);
        Pager.Edited = Source.Edited;
        Marker.Declared = counted => Framer.CountOf = counted;
        Teller.MeaningOf = Pager.MeaningOf;
        Actor.IsRead = Store.Has;
        Actor.Reread =
            act => act.Index >= 0
                && (act.Kind == ActKind.Activate || act.Rule is not "call" && !act.Rule.StartsWith("key ", StringComparison.Ordinal))
                && Pager.HasFailed(act.Index)
            ? Pager.Retry(act with { Kind = ActKind.Retry }) : null;
        (Marker.InSource, Mover.InSource) = (InSource, InSource);
        Sections.Reread = Pager.RetryOf;
        Finder.Home = Home;
        Finder.Elsewhere = (text, from) => Pager.Source is Sources.IFindingSource<TItem, TKey> source
            ? Core.App.Ask(() => source.FindAsync(text, from, CancellationToken.None)) : null;
        Finder.WhyNotElsewhere = () => Pager.IsPaged && Pager.Source is not Sources.IFindingSource<TItem, TKey>
            ? new(RefusalKind.NotAvailable,
            "Nothing can be found by typing: the list has not read all items, and the source does not look for them (IFindingSource).")
                : null;
        Core.Watchers = [Pointing, Mover, Strokes, Framer];
        Turns.Arrivals = () =>
        {
            Source.TakeOffered();
            Source.TakeReports();
            TakeLate();
            Watcher.TakeArrived();
            Runner.TakeArrived();
            Pager.TakeArrived();
            Home.TakeArrived();
        };
        Turns.HasLate = () => Source.HasLate || Watcher.HasLate;
        Turns.LateChanges = () =>
        {
            Source.TakeReports();
            Source.TakeDue();
            Watcher.TakeLate();
        };
        Turns.Recover = () =>
        {
            // A stroke whose pointer is gone would never end.
            if (Core.State.Stroke is { } stroke && !_recogniser.HasContact(stroke.PointerId)) Strokes.Cancel(stroke.PointerId);
        };
        Turns.Rest = () =>
        {
            Teller.Forget();
            Pager.Work();
            SetTimer();
        };
    }

    /// <summary>What does which act.</summary>
    private void Table()
    {
        Actor.On(ActKind.Activate, call => Activate(call.Act));
        Actor.On(ActKind.Type, Finder.Type);
        Actor.On(ActKind.MovePart, Keyboard.MovePart);
        Actor.On(ActKind.PressPart, Keyboard.PressPart);
        Actor.On(ActKind.CloseTray, call => Trays.Close(call.Act));
        Actor.On(ActKind.InvokeTray, call => Trays.Invoke(call.Act, call.Act.Text, bySwipe: false));
        Actor.On(ActKind.OpenMenu, Menus.Open);
        Actor.On(ActKind.CloseMenu, call => Menus.Close(call.Act));
        Actor.On(ActKind.ChooseEntry, call => Menus.Choose(call.Act.Text, call.Act.Rule));
        Actor.On(ActKind.RunCommand,
            call => Runner.RunFor(
                call.Act.Text ?? "", call.Act.Index >= 0 ? Actor.TargetAt(call.Act.Index) : Actor.TargetOfKey(), call.Act.Rule));
        Actor.On(ActKind.ToggleMark, ToggleMark);
        Actor.On(ActKind.CollapseOrExpand,
            call => call.Act.Index >= 0 ? Branches.CollapseOrExpand(call.Act) : Sections.CollapseOrExpand(call.Act));
        Actor.On(ActKind.SortBy, call => Sorter.Sort(call.Act));
        Actor.On(ActKind.GoInward, Branches.GoInward);
        Actor.On(ActKind.GoOutward, Branches.GoOutward);
        Actor.On(ActKind.ToggleBranch, Branches.ToggleBranch);
        Actor.On(ActKind.ToggleSection, call => Sections.Toggle(call.Act));
        Actor.On(ActKind.Retry, call => Sections.Retry(call.Act));
        Actor.On(ActKind.Undo, call => History.Turn(call.Act));
        Actor.On(ActKind.Redo, call => History.Turn(call.Act));
        Actor.On(ActKind.Cancel, call => Pointing.Cancel(call.Act));
        Actor.On(ActKind.Grab,
            call => Actor.WhyNoItem(call.Act.Index) is { } why ? Core.Refuse(call.Act, why)
                : Mover.Carry(Actor.TargetAt(call.Act.Index), call.Act.Index, call.Act));
        Actor.On(ActKind.Hover, Mover.Hover);
        Actor.On(ActKind.Drop, call => Mover.Drop(call.Act));
        Actor.On(ActKind.DropBack,
            call => Core.State.Stroke is null ? Mover.DropBack(call.Act) : Pointing.Cancel(call.Act with { Kind = ActKind.Cancel }));
        Actor.On(ActKind.Move, Lander.MoveByKey);
        Actor.On(ActKind.Copy, call => Porter.Copy(call.Act, MeantBy(call.Act)));
        Actor.On(ActKind.Cut, call => Porter.Cut(call.Act, MeantBy(call.Act)));
        Actor.On(ActKind.Paste, call => Porter.AskForPaste(call.Act));
        foreach (var kind in (ActKind[])[ActKind.OpenTray, ActKind.Pull, ActKind.Sweep, ActKind.Marquee, ActKind.MarqueeAdding,
            ActKind.MarqueeToggling]) Actor.On(kind, Strokes.Begin);
        Actor.Complete();
    }

    private ItemSet MeantBy(Act act) => act.Index >= 0 ? Actor.TargetAt(act.Index) : Actor.TargetOfKey();

    /// <summary>Told of each edit of the source, with the items that left by it.</summary>
    public event Action<Edit, Departed<TItem, TKey>>? RowsEdited;

    /// <summary>How the branch of an item is; null of one that has none.</summary>
    public BranchState? BranchAt(int index)
    {
        if (Core.Rows.Outline is not { } outline || !outline.IsBranch(index)) return null;
        var (rules, length) = (Core.Rules, outline.Levels.EndOf(index) - index);
        var choosable = rules.Choosable;
        int selected = choosable.IsAll ? Core.Selection.Items.CountIn(index, length)
            : Core.Selection.Items.Intersect(choosable).CountIn(index, length), all = choosable.CountIn(index, length);
        return BranchState.Of(selected, all, outline, index);
    }

    /// <summary>Puts items into levels, where the list can have some.</summary>
    public void SetOutline(Outline<TItem, TKey>? outline)
    {
        if (outline is not null)
        {
            string? why = Pager.IsPaged ? "the list is paged, and an outline has all its levels or reads them by ReadBelow"
                : Projection.Sections is not null ? "it has Sections; the first level of an outline has their part"
                : Projection.SortBy is not null ? "it has SortBy, and the order of an outline is that of the source"
                : Core.Options.Layout is not ListLayout.InRows
                ? $"its options have {Core.Options.Layout.GetType().Name}, and an outline lies in rows"
                : !Store.HasOwnKeys ? "its items have no keys: make it with a key function" : null;
            if (why is not null) throw new InvalidOperationException($"The list cannot be an outline: {why}.");
            ArgumentOutOfRangeException.ThrowIfLessThan(outline.OpenLevels, 1, "OpenLevels");
            if (outline.HasUnread is null != outline.ReadBelow is null)
                throw new InvalidOperationException("HasUnread and ReadBelow belong together: set both, or none.");
        }
        Source.SetOutline(outline);
    }

    /// <summary>What rules may ask of the list.</summary>
    public Situation Situation()
    {
        var state = Core.State;
        var options = Core.Options;
        return new()
        {
            Policy = options.Policy,
            IsSelecting = state.Selection.IsSelecting,
            HasSelection = !state.Selection.Items.IsEmpty,
            IsTyping = state.Find.Typing.IsGathering(Core.Now),
            AlwaysSelecting = options.AlwaysSelecting,
            LongPress = options.LongPress,
            MayMove = Mover.MayMove,
            HasTrays = state.Declared.Trays.Any && Core.Options.Layout is not Tiles,
            HasFailed = SectionKeeper<TItem, TKey>.HasFailed(state),
            HasMenus = Menus.HasMenus,
            Pulls = Pull.IsOffered,
            Copies = Porter.Copies,
            Cuts = Porter.Cuts,
            Pastes = Porter.Pastes,
            CanUndo = !state.History.Done.IsEmpty,
            CanRedo = !state.History.Undone.IsEmpty,
            SpaceMarks = options.SpaceMark is not null,
            IsTrayOpen = state.Tray is { IsOpen: true },
            IsMenuOpen = state.Menu.IsOpen,
            IsDragging = state.Stroke is not null,
            IsCarrying = state.Carrying.IsCarrying,
            IsOutline = state.Showing.Branching is not null,
        };
    }

    private Response Activate(Act act)
    {
        if (Actor.WhyNoItem(act.Index) is { } refusal) return Core.Refuse(act, refusal);
        var key = Core.App.Ask(() => Store.KeyAt(act.Index));
        Core.TraceAct(act);
        Core.Commit(Core.State with { Selection = Core.Selection with { Cursor = act.Index } }, act, act.Rule);
        Core.Trace(() => new TracedChange { T = Core.Now, Change = "activated", Key = Store.TextOf(key), Index = act.Index });
        Core.Out.Raise(Events.Activated, new(Store.ItemAt(act.Index), key, act.Index, act));
        return Response.Handled;
    }

    /// <summary>A mark that was tapped, or that a key means: Space the one that the options name.</summary>
    private Response ToggleMark(ActCall call)
    {
        var act = call.Act with { Text = call.Act.Text ?? Core.Options.SpaceMark ?? "" };
        var items = act.Index < 0 ? ItemSet.None(Store.Count)
            : act.Rule.StartsWith("key ", StringComparison.Ordinal) ? Actor.TargetAt(act.Index) : ItemSet.None(Store.Count).With(act.Index);
        return Marker.Toggle(act, items);
    }

    // ── Time ──

    /// <summary>When something is due by itself, ms; null where nothing is.</summary>
    public double? NextDeadline => Earliest(Earliest(_recogniser.NextDeadline, Strokes.NextScroll), Core.State.Due);

    private static double? Earliest(double? one, double? other) => one is { } a ? Math.Min(a, other ?? a) : other;

    /// <summary>Has the list called back at its next deadline, where it can be.</summary>
    private void SetTimer()
    {
        if (!Turns.HasContext) return;
        var due = NextDeadline;
        if (due == _timerDue) return;
        _timerDue = due;
        if (due is not { } at)
        {
            _timer?.Change(Timeout.InfiniteTimeSpan, Timeout.InfiniteTimeSpan);
            return;
        }
        // A timer waits for less than fifty days; what is due later is waited for in pieces.
        const double longest = 1e9;
        var wait = Math.Max(0, at - Core.Now);
        var isPiece = wait > longest;
        _timer ??= Turns.Timer(Core.Options.Time, Due);
        _timer!.Change(TimeSpan.FromMilliseconds(Math.Min(wait, longest)), Timeout.InfiniteTimeSpan);
        _pieceUntil = isPiece ? Core.Now + longest : null;
    }

    private double? _pieceUntil;

    private void Due()
    {
        // It may have been set again, or not be needed any more, since it went off.
        if (_timerDue is not { } time) return;
        var until = _pieceUntil ?? time;
        _timerDue = null;
        Turns.Run(_ =>
        {
            Pointing.AdvanceTo(until);
            return Response.Handled;
        });
    }

    /// <summary>Whether a pointer is the list's own now.</summary>
    public bool HoldsPointer => Core.State.Stroke is not null || _recogniser.IsHolding;

    /// <summary>A moment to come back to, for who tries out what would come of some input.</summary>
    public sealed record Branch(States.ListState State, double Now, long Edits, Recogniser.Memory Memory);

    /// <summary>The present moment; null where a pointer is down, or something runs.</summary>
    public Branch? BranchOff() =>
        Turns.IsBusy || _recogniser.ContactCount > 0 || !Core.State.Runs.IsEmpty ? null
        : new(Core.State, Core.Now, Core.Moment.Number, _recogniser.Remember());

    /// <summary>Comes back to a moment; false where the source has been edited since, which nothing takes back.</summary>
    public bool Return(Branch to)
    {
        if (Turns.IsBusy || Core.Moment.Number != to.Edits) return false;
        _recogniser.Return(to.Memory);
        Core.Return(to.State, to.Now);
        return true;
    }

    /// <summary>
    /// Whether a batch has brought changes that have not been read: they are when it is over, or when the list is next called.
    /// </summary>
    public bool IsBehind => Source.IsBehind || (Turns.IsBatching && Watcher.HasLate && !Turns.IsBusy);

    /// <summary>Reads them.</summary>
    public void TakeLate()
    {
        Source.TakeLate();
        Watcher.TakeLate();
    }

    public void Dispose()
    {
        Filler.Stop();
        Source.Let();
        Branches.Dispose();
        Pager.Dispose();
        InSource.Dispose();
        Watcher.LetAll();
        _timer?.Dispose();
        Turns.Dispose();
        // Whatever their callbacks do or throw, the list is gone for them.
        foreach (var run in Runner.Runs.ToArray()) _ = Core.App.Try(run.Cancel.Cancel, why => why);
    }

    // ── What a frame shows that is not a state ──

    Swipe? IFrameSource.Swipe => Trays.Now;

    SwipePhysics IFrameSource.Physics => Trays.Physics;

    ShiftedRow? IFrameSource.Shifted => Trays.Shifted;

    Marquee? IFrameSource.Marquee => _marquee.Now;

    GrabFrame? IFrameSource.Card => Mover.Card;

    PullFrame? IFrameSource.Pull => Pull.Now;

    IReadOnlyList<(int Index, Part Part)> IFrameSource.Pressed => _recogniser.Pressed;

    IReadOnlyList<int> IFrameSource.Touched => _recogniser.Touched;

    /// <summary>
    /// Which parts rows have: those of the options, and a button for the menu where a long press does not open it, so that whoever has no
    /// keys and no second button comes to it too (WCAG 2.5.1). In a narrow list words keep their room: what handle and button do, a long
    /// press and the menu do as well; and while items are being selected, the toolbar.
    /// </summary>
    public RowParts Parts
    {
        get
        {
            var own = Core.Options.Parts;
            var needsMenu = Core.Options.LongPress != LongPressMeaning.Menu && (Core.State.Declared.HasMenuCommands || _moveMenu.IsOffered);
            var isNarrow = Axes.Turned(Core.Viewport, Core.Options.Layout).Width < Core.Options.NarrowWidth;
            var isSelecting = Core.State.Selection.IsSelecting && !Core.Options.AlwaysSelecting;
            bool menu = needsMenu ? !(isNarrow && isSelecting) : own.Menu && !isNarrow, handle = own.Handle && !isNarrow;
            var parts = menu == own.Menu && handle == own.Handle ? own : own with { Menu = menu, Handle = handle };
            // In a tile they lie over the picture, side by side.
            if (Core.Options.Layout is not ListLayout.InRows)
                parts = parts.Fitting(Core.Geometry.IsAcross ? Core.Geometry.RowHeight : Core.Geometry.ItemWidth);
            if (ReferenceEquals(parts, own)) return own;
            // The same object while it is the same.
            return _parts is { } known && known with { Marks = parts.Marks } == parts && known.Marks.SequenceEqual(parts.Marks) ? known
                : _parts = parts;
        }
    }

    /// <summary>How a browser may use touches on a part itself, in CSS's words.</summary>
    public string TouchActionOf(PartKind part)
    {
        if (!ReferenceEquals(_touchActionsOf, Core.State))
        {
            _touchActions.Clear();
            _touchActionsOf = Core.State;
        }
        if (_touchActions.TryGetValue(part, out var known)) return known;
        var drags = Core.Options.Gestures.Find(GestureKind.Drag, PointerType.Touch, new Part(part), Modifiers.None, Situation(),
            Core.Options.ModKey) is { Acts.IsEmpty: false };
        return _touchActions[part] = drags ? "none" : Core.Options.Layout is Strip ? "pan-x pinch-zoom" : "pan-y pinch-zoom";
    }
}
