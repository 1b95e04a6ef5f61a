using System.Collections.Immutable;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Frames;
using Lectica.Gestures;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Moving;
using Lectica.States;
using Lectica.Tracing;

namespace Lectica.Shell;

/// <summary>Another list over which items may be held, as a mover sees it.</summary>
internal interface IAway
{
    /// <summary>Takes what is grabbed over another list, if the pointer is there.</summary>
    bool HoverAway(GrabState grab, double x, double y);

    /// <summary>Leaves the list that it is over, if it is over one.</summary>
    void LeaveAway();

    /// <summary>Drops it there.</summary>
    Response DropAway(Act act, GrabState grab);
}

/// <summary>
/// Takes items up and lets them go, by pointer, keys, menu and call. While they are up nothing is moved: the frame shows the list as it
/// would be. All ends in the <see cref="Lander{TItem, TKey}"/>.
/// </summary>
internal sealed class Mover<TItem, TKey>(
    Core core, PointerAt at, ItemStore<TItem, TKey> store, Scroller scroller, Actor actor, SourceWriter<TItem, TKey> writer,
        Projection<TItem, TKey> projection, Teller<TItem, TKey> teller,
    Framer<TItem, TKey> framer, Events<TItem, TKey> events) : IStroke, IRowsWatcher where TKey : notnull
{
    private Landings? _landings;
    private Staying? _staying;
    private ItemSet? _ready;
    private bool _looks;

    public Func<TItem, bool>? CanGrab { get; set; }

    public Func<DropQuestion<TItem, TKey>, bool>? CanDrop { get; set; }

    /// <summary>Where items land.</summary>
    public Lander<TItem, TKey> Lander { get; set; } = null!;

    /// <summary>Other lists of the same group.</summary>
    public IAway Away { get; set; } = null!;

    /// <summary>Closes what lies over the rows.</summary>
    public Action<Act> ClearTheWay { get; set; } = _ => { };

    /// <summary>What moves branches of an outline.</summary>
    public BranchWriter<TItem, TKey> Branches { get; set; } = null!;

    private Carrying Carrying => core.State.Carrying;

    private RowMap Rows => core.Rows;

    /// <summary>Whether items may be moved: the app does it, or the source can be written.</summary>
    public bool MayMove => core.Options.MayMove && (events.MoveRequested is not null || writer.CanWrite || InSource?.Moves == true);

    /// <summary>Moves in a source that is not in memory.</summary>
    public SourceActs<TItem, TKey>? InSource { get; set; }

    public bool MayChangeSection =>
        InSource?.Moves == true || events.MoveRequested is not null || (writer.CanWrite && projection.Sections?.Assign is not null);

    public Landings LandingsFor(ItemSet items) => _landings is { } known && known.IsFor(Rows, items) ? known : _landings = new(Rows, items);

    public string? KeyOf(Gap gap) => gap.Section < 0 || gap.Section >= Rows.Sections.Length ? null : Rows.Sections[gap.Section].Key;

    /// <summary>The items that a grab takes up, or why it takes none.</summary>
    public (ItemSet Items, Refusal? Refusal) ToGrab(ItemSet target, int pressed)
    {
        (ItemSet, Refusal?) None(RefusalKind kind, string reason) => (target, new(kind, reason));
        if (projection.SortBy is not null)
            return None(RefusalKind.Sorted, "The list is sorted: an item has no other place to be moved to.");
        if (!MayMove)
            return None(RefusalKind.NotAvailable,
                core.Options.MayMove ? "Items cannot be moved: the source cannot be written, and nothing listens to MoveRequested."
                    : "Items may not be moved in this list: set MayMove in its options.");
        target = target.Intersect(core.Rules.Choosable);
        if (target.IsEmpty)
            return None(store.Count == 0 ? RefusalKind.EmptyList : RefusalKind.NoItem,
                "There is no item to move: none that shows and is enabled is selected or meant.");
        if (Rows.Levels is { } levels) target = levels.Tops(target);
        if (!store.Has(target))
            return None(RefusalKind.NotRead, $"Of the {target.Count} items that would be moved not all have been read.");
        var items = target.Except(core.State.Showing.Pinned);
        if (!Rows.WithBelow(items).Intersect(core.State.Showing.Pinned).IsEmpty)
            return None(RefusalKind.Pinned, "Something below the items is pinned: it stays where it is.");
        if (CanGrab is { } can)
        {
            var asked = items;
            if (core.App.Try(() => ItemSet.Of(store.Count, asked.Where(i => can(store.ItemAt(i)))), out var allowed,
                why => $"The app could not say whether the items can be grabbed: {why}") is { } failed) return (target, failed);
            items = allowed!;
        }
        if (pressed >= 0 ? Rows.WithBelow(items).Contains(pressed) : !items.IsEmpty) return (items, null);
        var first = pressed >= 0 ? pressed : target.Nth(0);
        return core.State.Showing.Pinned.Contains(first)
            ? None(RefusalKind.Pinned, $"The item '{core.KeyText(first)}' is pinned: it stays where it is.")
            : None(RefusalKind.NotAllowed, $"The item '{core.KeyText(first)}' may not be grabbed: CanGrab says no.");
    }

    /// <summary>Why items may not be dropped in a gap; null where they may.</summary>
    public Refusal? WhyNoDrop(ItemSet items, Gap gap)
    {
        if (gap.Section >= 0 && !MayChangeSection && items.Intersect(Rows.Sections[gap.Section].Members).Count != items.Count)
            return new(RefusalKind.NotAllowed,
                $"Items cannot change to the section '{KeyOf(gap)}': its sections have no Assign, and nothing listens to MoveRequested.");
        var parent = Rows.Levels is { } levels ? Rows.ParentAt(gap, LandingsFor(items).Moving) : -1;
        if (Rows.Levels is not null && Branches.WhyNotBelow(items, parent) is { } tight) return tight;
        if (Rows.Levels is { } tree ? !Moves.KeepsPinned(items, gap, parent, core.State.Showing.Pinned, tree)
            : !Moves.KeepsPinned(items, gap, core.State.Showing.Pinned, Rows))
            return new(RefusalKind.Pinned, "A drop here would shift a pinned item, which stays where it is.");
        if (InSource is { Moves: true } source && source.WhyNoMove(items, gap) is { } unread) return unread;
        if (CanDrop is not { } can) return null;
        return core.App.Try(
            () => can(new(teller.AskedItems(items), teller.AskedKeys(items), gap.Index, KeyOf(gap))
            {
                Level = gap.Level,
                Parent = parent < 0 ? default : store.ItemAt(parent),
            }), out var may, why => $"The app could not say whether the items can be dropped here: {why}")
            ?? (may ? null : new(RefusalKind.NotAllowed, "The items may not be dropped here: CanDrop says no."));
    }

    // ── By pointer ──

    public bool Scrolls => true;

    public Refusal? WhyNot(Act act)
    {
        (_ready, var refusal) = ToGrab(actor.TargetAt(act.Index), act.Index);
        return refusal;
    }

    public void Begin(Stroke stroke, in Gesture gesture)
    {
        var items = _ready!;
        _ready = null;
        var row = Rows.RowOf(stroke.Act.Index)!.Value;
        var bounds = core.Geometry.BoundsOf(row);
        var level = LevelOf(items, stroke.Act.Index);
        var grab = new GrabState(items, stroke.Act.Index, gesture.StartY + core.Viewport.ScrollTop - bounds.Top,
            LandingsFor(items).OnLevel(StayingFor(items).Home(row), level))
        {
            OffsetX = gesture.StartX - bounds.Left,
            Wished = level,
        };
        TakeUp(core.State with { Stroke = stroke }, grab, byKeys: false);
    }

    public void Move(Stroke stroke)
    {
        if (Carrying.Grab is not { } grab) return;
        core.Out.ChangeFrame();
        if (Away.HoverAway(grab, at.X, at.Y)) return;
        var y = Math.Clamp(at.Y, 0, core.Viewport.Height) + core.Viewport.ScrollTop;
        var under = core.Geometry.RowAt(at.X, y) is { } over ? Rows.EntryAt(over) : new(RowKind.Notice, -1, -1);
        HoverOn(under.Kind == RowKind.Heading ? under.Section : -1, under.Index);
        var gap = StayingFor(grab.Items).GapUnder(at.X - grab.OffsetX, y - grab.Offset, grab.Gap,
            grab.Pressed >= 0 ? Rows.RowOf(grab.Pressed) : null, core.Options.Thresholds.GapSlack);
        var wished = WishedBy(grab);
        gap = LandingsFor(grab.Items).OnLevel(gap, wished);
        if (gap != grab.Gap) HoverOver(gap, wished);
    }

    // The level of what is taken up: that of the topmost item, of which the pressed one is a part.
    private int LevelOf(ItemSet items, int pressed) =>
        Rows.Levels is not { } levels ? 0 : levels[pressed >= 0 && items.LastAt(pressed) is >= 0 and var top ? top : items.Nth(0)];

    /// <summary>The level that a pointer asks for: one further in or out for each indent that it has gone to the side.</summary>
    private int WishedBy(GrabState grab)
    {
        if (Rows.Levels is null) return 0;
        var side = (at.X - grab.OffsetX) * (core.Options.IsRightToLeft ? -1 : 1) / core.Options.Indent;
        var (level, slack) = (LevelOf(grab.Items, grab.Pressed), core.Options.Thresholds.GapSlack / core.Options.Indent);
        return Math.Abs(level + side - grab.Wished) <= 0.5 + slack ? grab.Wished : level + (int)Math.Round(side);
    }

    /// <summary>
    /// Where a pointer must be for what is grabbed to be over a gap, px from the viewport's left and top edge; null where nothing is.
    /// </summary>
    public (double X, double Y)? PositionOver(Gap gap)
    {
        if (Carrying.Grab is not { } grab) return null;
        var (left, top) = StayingFor(grab.Items).PositionOver(gap, grab.Pressed >= 0 ? Rows.RowOf(grab.Pressed) : null);
        return (left + grab.OffsetX, top + grab.Offset - core.Viewport.ScrollTop);
    }

    private Staying StayingFor(ItemSet items)
    {
        var landings = LandingsFor(items);
        return _staying is { } known && known.IsFor(Rows, core.Geometry, landings) ? known
            : _staying = Staying.Of(Rows, core.Geometry, landings, landings.Moving, core.State.Window.Heights,
            rows => Window.GeometryOf(rows, core.State.Window, null, core.Options));
    }

    public Response End(Stroke stroke, in Gesture gesture)
    {
        var grab = Carrying.Grab!;
        var act = stroke.Act with { Kind = ActKind.Drop };
        return Carrying.IsAway ? Away.DropAway(act, grab) : Drop(act);
    }

    public void Cancel(Stroke stroke) => PutBack();

    // ── Up, over a gap, down ──

    private void TakeUp(ListState state, GrabState grab, bool byKeys)
    {
        grab = grab.At(grab.Gap, LandingsFor(grab.Items).Stay(grab.Gap.Section));
        core.Commit(state with
        {
            Carrying = Look(Carrying.Nothing with { Grab = grab, ByKeys = byKeys, LookedAt = core.State.Window.EyeIn(core.Rows) }),
        });
        core.Hint(HapticHint.Grabbed);
    }

    /// <summary>Takes what is grabbed over another gap; whether it is one.</summary>
    private bool HoverOver(Gap gap, int wished = 0)
    {
        if (Carrying.Grab is not { } grab || gap == grab.Gap) return false;
        core.Commit(core.State with
        {
            Carrying = Look(Carrying with { Grab = grab.At(gap, LandingsFor(grab.Items).Stay(gap.Section)) with { Wished = wished } }),
        });
        core.Hint(HapticHint.GapCrossed);
        core.Trace(() => new TracedChange
        {
            T = core.Now,
            Change = "gap",
            Gap = gap.Index,
            Part = KeyOf(gap) is { } section ? "heading:" + section : null,
            Reason = Carrying.NoDrop?.Reason,
        });
        return true;
    }

    /// <summary>What is carried, with what is true of its gap: its section, whether it may be dropped there, and what will open.</summary>
    private Carrying Look(Carrying carrying)
    {
        var grab = carrying.Grab!;
        carrying = carrying with
        {
            Section = KeyOf(grab.Gap),
            NoDrop = Moves.Changes(grab.Items, grab.Gap, Rows) ? WhyNoDrop(grab.Items, grab.Gap) : null,
        };
        return carrying.ByKeys ? WithHover(carrying, grab.Gap.Section) : carrying;
    }

    /// <summary>Lets a collapsed section or branch open when what is grabbed has been over it for a while.</summary>
    private Carrying WithHover(Carrying carrying, int section, int index = -1)
    {
        if (index >= 0 && core.State.Showing.Branching is { } branching && branching.Folded.Contains(index)
            && branching.Levels.IsBranch(index) && !LandingsFor(carrying.Grab!.Items).Moving.Contains(index))
            return carrying.Hover?.Branch == index ? carrying
                : carrying with { Hover = new(null, index, core.Now + core.Options.Thresholds.HoverTime) };
        if (section < 0 || section >= Rows.Sections.Length || !Rows.Sections[section].IsCollapsed)
            return carrying.Hover is null ? carrying : carrying with { Hover = null };
        var key = Rows.Sections[section].Key;
        return carrying.Hover?.Section == key ? carrying
            : carrying with { Hover = new(key, -1, core.Now + core.Options.Thresholds.HoverTime) };
    }

    private void HoverOn(int section, int index)
    {
        var carrying = WithHover(Carrying, section, index);
        if (!ReferenceEquals(carrying, Carrying)) core.Commit(core.State with { Carrying = carrying });
    }

    /// <summary>Opens the section or branch that something has been held over.</summary>
    public void OpenHovered(double time, Action followPointer)
    {
        var (name, branch, _) = Carrying.Hover!.Value;
        core.Now = Math.Max(core.Now, time);
        var showing = core.State.Showing;
        if (showing.Branching is { } branching && branch >= 0)
        {
            core.Commit(core.State with
            {
                Carrying = Carrying with
                {
                    Hover = null,
                    OpenedBranches = (Carrying.OpenedBranches ?? ItemSet.None(store.Count)).With(branch),
                },
                Showing = showing with { Branching = branching.Fold(branch, folded: false) },
            });
            core.Trace(() =>
                new TracedChange { T = core.Now, Change = "expanded", Key = core.KeyText(branch), Index = branch, Rule = "hover" });
            followPointer();
            return;
        }
        if (name is not { } section)
        {
            core.Commit(core.State with { Carrying = Carrying with { Hover = null } });
            return;
        }
        if (!showing.Collapsed.Contains(section))
        {
            core.Commit(core.State with { Carrying = Carrying with { Hover = null } });
            return;
        }
        core.Commit(core.State with
        {
            Carrying = Carrying with { Hover = null, Opened = Carrying.Opened.Add(section) },
            Showing = showing with { Collapsed = showing.Collapsed.Remove(section) },
        });
        core.Trace(() => new TracedChange { T = core.Now, Change = "expanded", Part = "heading:" + section, Rule = "hover" });
        if (core.State.Stroke is not null) followPointer();
        else ShowGap();
    }

    /// <summary>Nothing is grabbed any more. What a hover opened closes again, but not where items were dropped.</summary>
    public void LetGo(string? landedIn = null)
    {
        Away.LeaveAway();
        var closes = Carrying.Opened.Where(s => s != landedIn).ToList();
        var showing = core.State.Showing;
        if (showing.Branching is { } branching && Carrying.OpenedBranches is { } opened)
        {
            var landed = landedIn is not null && Carrying.Grab is { } grab ? Rows.ParentAt(grab.Gap, LandingsFor(grab.Items).Moving) : -1;
            foreach (var index in opened)
                if (landed < index || landed >= branching.Levels.EndOf(index)) branching = branching.Fold(index, folded: true);
            showing = showing with { Branching = branching };
        }
        core.Commit(core.State with
        {
            Carrying = Carrying.Nothing with { Guest = Carrying.Guest },
            Stroke = core.State.Stroke is { Act.Kind: ActKind.Grab } ? null : core.State.Stroke,
            Showing = closes.Count == 0 ? showing : showing with { Collapsed = showing.Collapsed.Union(closes) },
        });
    }

    /// <summary>Everything is again as before the grab, but for what the source did meanwhile: also what is looked at.</summary>
    public void PutBack()
    {
        if (Carrying.Grab is null) return;
        var looked = Carrying.LookedAt;
        LetGo();
        core.Hint(HapticHint.Dropped);
        if (looked is { Index: >= 0 } eye) scroller.Keep(eye.Index, eye.Offset);
        core.Announce(p => p.DroppedBack);
    }

    public Response DropBack(Act act)
    {
        if (Carrying.Grab is null) return core.Refuse(act, NothingGrabbed);
        core.TraceAct(act);
        PutBack();
        return Response.Handled;
    }

    public static Refusal NothingGrabbed { get; } = new(RefusalKind.NoItem, "Nothing is grabbed.");

    /// <summary>Lets what is grabbed land in its gap.</summary>
    public Response Drop(Act act)
    {
        if (Carrying.Grab is not { } grab) return core.Refuse(act, NothingGrabbed);
        core.TraceAct(act);
        var refusal = Carrying.NoDrop;
        if (refusal is not null || !Moves.Changes(grab.Items, grab.Gap, Rows))
        {
            PutBack();
            return refusal is null ? Response.Handled : core.Refuse(act, refusal);
        }
        LetGo(Carrying.Section ?? "");
        core.Hint(HapticHint.Dropped);
        return Lander.Land(grab.Items, grab.Gap, act);
    }

    // ── Without a pointer ──

    /// <summary>Takes items up by key, from the menu, or by call.</summary>
    public Response Carry(ItemSet target, int pressed, Act act)
    {
        if (Carrying.Grab is not null) return core.Refuse(act, new(RefusalKind.Running, "Items are grabbed already: drop them first."));
        var (items, refusal) = ToGrab(target, pressed);
        if (refusal is not null) return core.Refuse(act, refusal);
        actor.StopTyping();
        core.TraceAct(act);
        ClearTheWay(act);
        if (pressed < 0) pressed = items.Nth(0);
        var level = LevelOf(items, pressed);
        TakeUp(core.State,
            new(items, pressed, 0,
                LandingsFor(items).OnLevel(new(Rows.Levels is null ? pressed : items.LastAt(pressed), Rows.SectionOf(pressed)),
                    level))
            { Wished = level }, byKeys: true);
        ShowGap();
        var grab = Carrying.Grab!;
        var (place, of) = PlaceOf(grab.Items, grab.Gap);
        core.Announce(p => p.Grabbed(NameOf(items, pressed, p), place, of));
        return Response.Handled;
    }

    /// <summary>Takes what is carried to a neighbouring gap.</summary>
    public Response Hover(ActCall call)
    {
        var act = call.Act;
        if (Carrying.Grab is not { } grab) return core.Refuse(act, NothingGrabbed);
        core.TraceAct(act);
        if (call.Gesture is { } tap)
        {
            HoverOver(LandingsFor(grab.Items)
                .OnLevel(Rows.GapAbove(core.Geometry.GapAt(tap.X, tap.Y + core.Viewport.ScrollTop, -1, 0)), grab.Wished), grab.Wished);
            return Response.Handled;
        }
        var landings = LandingsFor(grab.Items);
        int now = landings.NumberOf(grab.Gap), page = core.Viewport.PageSize(core.Geometry);
        var (first, last) = (0, landings.Count - 1);
        if (grab.Gap.Section >= 0 && !MayChangeSection)
            (first, last) = (now - landings.RankOf(grab.Gap), now - landings.RankOf(grab.Gap) + landings.Stay(grab.Gap.Section).Count);
        var next = call.Direction switch
        {
            Direction.Previous => now - 1,
            Direction.Next => now + 1,
            Direction.Up => now - core.Geometry.Columns,
            Direction.Down => now + core.Geometry.Columns,
            Direction.LineStart => first,
            Direction.LineEnd => last,
            Direction.PageUp => now - page,
            Direction.PageDown => now + page,
            Direction.First => first,
            Direction.Last => last,
            _ => now,
        };
        if (call.Direction is Direction.Inward or Direction.Outward)
        {
            var leveled = landings.OnLevel(grab.Gap, grab.Gap.Level + (call.Direction == Direction.Inward ? 1 : -1));
            HoverOver(leveled, leveled.Level);
        }
        else HoverOver(landings.OnLevel(landings.GapAt(Math.Clamp(next, first, last)), grab.Wished), grab.Wished);
        ShowGap();
        Telling(Carrying.Grab!.Items, Carrying.Grab.Gap, p => Carrying.NoDrop is null ? p.MovedTo : p.CannotDrop)();
        return Response.Handled;
    }

    /// <summary>Scrolls so that the place in which carried items would land shows.</summary>
    private void ShowGap()
    {
        if (Carrying.Grab is not { } grab) return;
        if (framer.Preview is not { } preview)
        {
            if (Rows.Count > 0) scroller.BringIntoView(new RowNumber(Math.Min(Rows.RowBelow(grab.Gap), Rows.Count - 1)));
            return;
        }
        var pressed = grab.Pressed >= 0 ? grab.Pressed : grab.Items.Nth(0);
        if ((preview.Rows.RowOf(preview.Edit.Apply(pressed)) ?? preview.Rows.HeadingOf(grab.Gap.Section)) is { } row)
            scroller.Show(core.Viewport.Showing(row, preview.Geometry));
    }

    private string NameOf(ItemSet items, int pressed, Phrases phrases) =>
        items.Count > 1 ? phrases.Items(items.Count) : framer.ContentAt(pressed >= 0 ? pressed : items.Nth(0)).Label;

    /// <summary>The place in which items would land, from 1, of how many in the list or section.</summary>
    private (int Place, int Of) PlaceOf(ItemSet items, Gap gap)
    {
        var landings = LandingsFor(items);
        return (landings.RankOf(gap) + 1, landings.Stay(gap.Section).Count + items.Count);
    }

    /// <summary>Says where items are or would be, when it is called: as they lie now.</summary>
    public Action Telling(ItemSet items, Gap gap, Func<Phrases, Func<int, int, string?, string>> phrase)
    {
        if (core.Announced is null) return () => { };
        var (place, of) = PlaceOf(items, gap);
        var title = gap.Section < 0 ? null : Rows.Sections[gap.Section].Title;
        return () => core.Announce(p => phrase(p)(place, of, title));
    }

    /// <summary>What is drawn of what is grabbed; its places are filled in with the rows'.</summary>
    public GrabFrame? Card
    {
        get
        {
            if (Carrying.Guest is { } guest) return guest.Frame;
            if (Carrying.Grab is not { Items.IsEmpty: false } grab) return null;
            var pressed = grab.Pressed >= 0 ? grab.Pressed : grab.Items.Nth(0);
            var away = Carrying.IsAway;
            var isMove = !away && Carrying.NoDrop is null && Moves.Changes(grab.Items, grab.Gap, Rows);
            var hasPointer = core.State.Stroke is not null;
            var (left, width) = core.Geometry.IsTiled ? ((hasPointer ? at.X : 0) - grab.OffsetX, core.Geometry.ItemWidth)
                : (0, core.Viewport.Width);
            return new(framer.ContentAt(pressed), grab.Items.Count, (hasPointer ? at.Y : 0) - grab.Offset,
                core.State.Window.Heights.GetValueOrDefault(pressed, core.Geometry.RowHeight),
                away || Carrying.NoDrop is not null ? null : 0)
            {
                IsMove = isMove,
                Refusal = away || Carrying.NoDrop is not { } why ? null : core.Say(why),
                HasPointer = hasPointer,
                Left = left,
                Width = width,
            };
        }
    }

    /// <summary>Rows are others under what is grabbed: where nothing is left of it, it ends; else it looks again at its gap.</summary>
    public void RowsChanged()
    {
        if (_looks || Carrying.Grab is not { } grab) return;
        _looks = true;
        try
        {
            if (grab.Items.IsEmpty) LetGo();
            else core.Commit(core.State with { Carrying = Look(Carrying) });
        }
        finally
        {
            _looks = false;
        }
    }
}
