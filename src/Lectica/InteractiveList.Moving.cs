using System.Collections.Immutable;
using System.Collections.ObjectModel;
using System.Collections.Specialized;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Frames;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Moving;

namespace Lectica;

// Taking items up and letting them go, by pointer, key, menu and call: all of it ends in Land, which moves the source or asks the app to.
public sealed partial class InteractiveList<TItem, TKey>
{
    private Func<TItem, bool>? _pinnedWhen;
    private ItemSet _pinned = ItemSet.None(0);
    private Landings? _landings;
    private MovePreview? _movePreview;
    private bool _carries, _movingSource;

    // What the user moves is not what comes and goes by itself: the rows have been seen as they will be, and are not scrolled.
    private bool _holdsScroll;

    // Of what is grabbed: why it may not be dropped, its section by key, what a hover has opened and will open, and what was looked at before.
    private Refusal? _noDrop;
    private string? _gapSection;
    private readonly List<string> _opened = [];
    private (string Section, double Due)? _hover;
    private (int Index, double Offset)? _lookedAt;

    /// <summary>The list as it would be if what is grabbed were dropped.</summary>
    private sealed record MovePreview(GrabState Grab, RowMap Before, RowMap Rows, Edit Edit)
    {
        /// <summary>Where they land, in the rows as they would be.</summary>
        public GapPlace Landing => Grab.Gap with { Index = Edit.Apply(Grab.Items.Nth(0)) };
    }

    /// <summary>Which items stay where they are: they cannot be grabbed, and no drop may shift one. None where null. Setting it asks each item once; so do later edits.</summary>
    public Func<TItem, bool>? PinnedWhen
    {
        get => _pinnedWhen;
        set => Run(_ =>
        {
            var pinned = value is null ? ItemSet.None(Count) : ItemSet.Where(Count, i => value(_store.ItemAt(i)));
            (_pinnedWhen, _pinned) = (value, pinned);
            return Response.Handled;
        });
    }

    /// <summary>Whether an item may be grabbed; asked when it is. Every one may where null.</summary>
    public Func<TItem, bool>? CanGrab { get; set; }

    /// <summary>Whether items may be dropped in a gap; asked for each gap that they come over. They may everywhere where null.</summary>
    public Func<DropQuestion<TItem, TKey>, bool>? CanDrop { get; set; }

    /// <summary>Items were moved: the source is in its new order already, and may be stored.</summary>
    public event EventHandler<MovedEventArgs<TItem, TKey>>? Moved;

    /// <summary>Whether items are taken up, by a pointer or without one.</summary>
    public bool IsGrabbing => _grab is not null;

    /// <summary>The items that are taken up; none where nothing is.</summary>
    public ItemSet Grabbed => _grab?.Items ?? ItemSet.None(Count);

    /// <summary>Whether the source is a list that can be written, so that the list moves items in it by itself.</summary>
    private bool MovesSource => Options.MayMove && !_isSnapshot && _source is IList<TItem> { IsReadOnly: false } and not TItem[];

    private bool MayMoveNow => Options.MayMove && (MoveRequested is not null || MovesSource);

    private bool MayChangeSection => MoveRequested is not null || (MovesSource && _sections?.Assign is not null);

    private Landings LandingsFor(ItemSet items) => _landings is { } known && known.IsFor(_rows, items) ? known : _landings = new(_rows, items);

    /// <summary>The rows as they would be; null where nothing is grabbed, or a drop would change nothing.</summary>
    private MovePreview? PreviewOfMove
    {
        get
        {
            if (_grab is not { } grab || _away || _noDrop is not null || !Moves.Changes(grab.Items, grab.Gap, _rows)) return null;
            if (_movePreview is { } known && ReferenceEquals(known.Grab, grab) && ReferenceEquals(known.Before, _rows)) return known;
            var edit = Edit.Move(grab.Items, grab.Gap.Index);
            var rows = new RowMap(edit.Apply(_rows.Shown), null,
                [.. _rows.Sections.Select((s, i) => s with { Members = edit.Apply(i == grab.Gap.Section ? s.Members.Union(grab.Items) : s.Members.Except(grab.Items)) })]);
            return _movePreview = new(grab, _rows, rows, edit);
        }
    }

    /// <summary>The items that a grab of one takes up, or why it takes none.</summary>
    private (ItemSet Items, Refusal? Refusal) ToGrab(ItemSet target, int pressed)
    {
        (ItemSet, Refusal?) None(RefusalKind kind, string reason) => (target, new(kind, reason));
        if (_sortBy is not null) return None(RefusalKind.Sorted, "The list is sorted: an item has no other place to be moved to.");
        if (!MayMoveNow)
            return None(RefusalKind.NotAvailable, Options.MayMove ? "Items cannot be moved: the source cannot be written, and nothing listens to MoveRequested." : "Items may not be moved in this list: its options do not say MayMove.");
        target = target.Intersect(Rules.Choosable);
        if (target.IsEmpty) return None(Count == 0 ? RefusalKind.EmptyList : RefusalKind.NoItem, "There is no item to move: none that shows and is enabled is selected or meant.");
        var items = target.Except(_pinned);
        try
        {
            if (CanGrab is { } can) items = ItemSet.Of(Count, items.Where(i => can(_store.ItemAt(i))));
        }
#pragma warning disable CA1031 // The app's own exception becomes a refusal that says where it came from.
        catch (Exception e)
#pragma warning restore CA1031
        {
            return None(RefusalKind.Failed, $"Whether the items can be grabbed could not be told: {e.Message}");
        }
        if (pressed >= 0 ? items.Contains(pressed) : !items.IsEmpty) return (items, null);
        var at = pressed >= 0 ? pressed : target.Nth(0);
        return _pinned.Contains(at) ? None(RefusalKind.Pinned, $"The item '{_store.KeptKeyAt(at)}' is pinned: it stays where it is.")
            : None(RefusalKind.NotAllowed, $"The item '{_store.KeptKeyAt(at)}' may not be grabbed: CanGrab says no.");
    }

    /// <summary>Why items may not be dropped in a gap; null where they may.</summary>
    private Refusal? WhyNoDrop(ItemSet items, GapPlace gap)
    {
        if (gap.Section >= 0 && !MayChangeSection && items.Intersect(_rows.Sections[gap.Section].Members).Count != items.Count)
            return new(RefusalKind.NotAllowed, $"Items cannot change to the section '{_rows.Sections[gap.Section].Key}': its sections have no Assign, and nothing listens to MoveRequested.");
        if (!Moves.KeepsPinned(items, gap, _pinned, _rows)) return new(RefusalKind.Pinned, "A drop here would shift a pinned item, which stays where it is.");
        if (CanDrop is not { } can) return null;
        try
        {
            var target = TargetOf(items);
            return can(new(target.Items, target.Keys, gap.Index, SectionKeyOf(gap))) ? null : new(RefusalKind.NotAllowed, "The items may not be dropped here: CanDrop says no.");
        }
#pragma warning disable CA1031 // The app's own exception becomes a refusal that says where it came from.
        catch (Exception e)
#pragma warning restore CA1031
        {
            return new(RefusalKind.Failed, $"Whether the items can be dropped here could not be told: {e.Message}");
        }
    }

    /// <summary>What is drawn of what is grabbed, here or in another list; its places are filled in with the rows'.</summary>
    private GrabFrame? GrabNow
    {
        get
        {
            if (_guest is { } guest) return guest.Frame;
            if (_grab is not { } grab) return null;
            var pressed = grab.Pressed >= 0 ? grab.Pressed : grab.Items.Nth(0);
            var isMove = !_away && _noDrop is null && Moves.Changes(grab.Items, grab.Gap, _rows);
            return new(ContentAt(pressed), grab.Items.Count, (_stroke?.Y ?? 0) - grab.Offset, _heights.GetValueOrDefault(pressed, Options.RowHeight), _away || _noDrop is not null ? null : 0, isMove, _away ? null : _noDrop?.Reason, _stroke is not null, false);
        }
    }

    private string? SectionKeyOf(GapPlace gap) => gap.Section < 0 ? null : _rows.Sections[gap.Section].Key;

    private void BeginGrab(ItemSet items, int pressed, double offset, GapPlace gap)
    {
        _lookedAt = Geometry.RowAt(_viewport.ScrollTop) is { } row && _rows.NextItemRow(row) is { } item ? (_rows.IndexAt(item), _viewport.ScrollTop - Geometry.TopOf(item)) : null;
        _opened.Clear();
        _grab = new GrabState(items, pressed, offset, gap).At(gap, LandingsFor(items).Stay(gap.Section));
        LookAtGap();
        (_placesMoved, _away) = (true, false);
        _changedProperties.Add(nameof(IsGrabbing));
        Hint(HapticHint.Grabbed);
        ChangeFrame();
    }

    /// <summary>Takes what is grabbed over another gap; whether it is one.</summary>
    private bool HoverOver(GapPlace gap)
    {
        if (_grab is not { } grab || gap == grab.Gap) return false;
        _grab = grab.At(gap, LandingsFor(grab.Items).Stay(gap.Section));
        LookAtGap();
        _placesMoved = true;
        Hint(HapticHint.GapCrossed);
        Trace(() => new() { Stage = "change", T = _now, Change = "gap", Gap = gap.Index, Part = HeadingPart(gap), Reason = _noDrop?.Reason });
        // Rows only change places: a new frame takes them from the one before.
        var rows = _frame?.Rows ?? _rowsToKeep;
        ChangeFrame();
        _rowsToKeep = rows;
        return true;
    }

    /// <summary>The rows of the last frame, of which the next one keeps those of items; none where it must ask for all anew.</summary>
    private ImmutableArray<RowFrame> _rowsToKeep = [];

    /// <summary>Inside a gap only what is carried moves: the frame keeps its rows, so that a host need not look at them.</summary>
    private void CarryFrame(double top)
    {
        if (_frame is { Grab: { } card } frame) _frame = frame with { Grab = card with { Top = top } };
        _frameChanged = true;
    }

    private string? HeadingPart(GapPlace gap) => SectionKeyOf(gap) is { } section ? "heading:" + section : null;

    private void LookAtGap()
    {
        var grab = _grab!;
        _gapSection = SectionKeyOf(grab.Gap);
        _noDrop = Moves.Changes(grab.Items, grab.Gap, _rows) ? WhyNoDrop(grab.Items, grab.Gap) : null;
        if (_carries) HoverOn(grab.Gap.Section);
    }

    /// <summary>Lets a collapsed section open when what is grabbed has been over it for a while.</summary>
    private void HoverOn(int section)
    {
        if (section < 0 || !_rows.Sections[section].IsCollapsed) _hover = null;
        else if (_hover?.Section != _rows.Sections[section].Key) _hover = (_rows.Sections[section].Key, _now + Options.Thresholds.HoverTime);
    }

    private void OpenHovered(double time)
    {
        var section = _hover!.Value.Section;
        (_hover, _now) = (null, Math.Max(_now, time));
        if (!_collapsed.Remove(section)) return;
        _opened.Add(section);
        SetRows(_rows.Shown);
        Trace(() => new() { Stage = "change", T = _now, Change = "expanded", Part = "heading:" + section, Rule = "hover" });
        if (_stroke is not null) FollowPointer();
        else ShowGap();
    }

    /// <summary>Nothing is grabbed any more. What a hover opened closes again, but not where items were dropped.</summary>
    private void EndGrab(string? landedIn = null)
    {
        LeaveHost();
        (_grab, _noDrop, _hover, _carries, _placesMoved) = (null, null, null, false, true);
        _changedProperties.Add(nameof(IsGrabbing));
        ChangeFrame();
        var closes = _opened.Where(s => s != landedIn).ToList();
        _opened.Clear();
        if (closes.Count == 0) return;
        _collapsed.UnionWith(closes);
        SetRows(_rows.Shown);
    }

    /// <summary>Everything is again as before the grab, but for what the source did meanwhile: also what is looked at.</summary>
    private void PutBack()
    {
        if (_grab is null) return;
        EndGrab();
        Hint(HapticHint.Dropped);
        if (_lookedAt is { Index: >= 0 } eye) KeepUnderTheEye(eye.Index, eye.Offset);
        Announce(Options.Phrases.DroppedBack);
    }

    private Response DropBack(Act act)
    {
        if (_grab is null) return Refuse(act, NothingGrabbed);
        if (_stroke is not null) return BreakOff(act with { Kind = ActKind.BreakOff });
        TraceAct(act, null);
        PutBack();
        return Response.Handled;
    }

    private static Refusal NothingGrabbed => new(RefusalKind.NoItem, "Nothing is grabbed.");

    private Response Drop(Act act)
    {
        if (_grab is not { } grab) return Refuse(act, NothingGrabbed);
        if (_away) return DropAway(act, grab);
        TraceAct(act, null);
        var refusal = _noDrop;
        var lands = refusal is null && Moves.Changes(grab.Items, grab.Gap, _rows);
        if (!lands)
        {
            PutBack();
            return refusal is null ? Response.Handled : Refuse(act, refusal);
        }
        EndGrab(_gapSection);
        Hint(HapticHint.Dropped);
        return Land(grab.Items, grab.Gap, act);
    }

    /// <summary>Takes items up without a pointer: by key, from the menu, or by call.</summary>
    private Response Carry(ItemSet target, int pressed, Act act)
    {
        if (_grab is not null) return Refuse(act, new(RefusalKind.Running, "Items are grabbed already: drop them first."));
        var (items, refusal) = ToGrab(target, pressed);
        if (refusal is not null) return Refuse(act, refusal);
        StopTyping();
        TraceAct(act, null);
        if (IsTrayOpen) CloseTray(act with { Kind = ActKind.CloseTray });
        if (_menu is not null) CloseMenu(act with { Kind = ActKind.CloseMenu });
        _carries = true;
        if (pressed < 0) pressed = items.Nth(0);
        BeginGrab(items, pressed, 0, new(pressed, _rows.SectionOf(pressed)));
        ShowGap();
        var (place, of) = PlaceOf(_grab!);
        Announce(Options.Phrases.Grabbed(NameOf(items, pressed), place, of));
        return Response.Handled;
    }

    /// <summary>Takes what is carried to another gap, a step from where it is.</summary>
    private Response Hover(Step step, Act act)
    {
        if (_grab is not { } grab) return Refuse(act, NothingGrabbed);
        var landings = LandingsFor(grab.Items);
        int now = landings.NumberOf(grab.Gap), page = _viewport.PageSize(Geometry);
        var (first, last) = (0, landings.Count - 1);
        if (grab.Gap.Section >= 0 && !MayChangeSection)
            (first, last) = (now - landings.RankOf(grab.Gap), now - landings.RankOf(grab.Gap) + landings.Stay(grab.Gap.Section).Count);
        var next = step switch
        {
            Step.Previous => now - 1,
            Step.Next => now + 1,
            Step.PageUp => now - page,
            Step.PageDown => now + page,
            Step.First => first,
            Step.Last => last,
            _ => now,
        };
        TraceAct(act, null);
        HoverOver(landings.GapAt(Math.Clamp(next, first, last)));
        ShowGap();
        TellPlace(_grab!, _noDrop is null ? Options.Phrases.MovedTo : Options.Phrases.CannotDrop);
        return Response.Handled;
    }

    /// <summary>Takes what is carried to where a row was tapped.</summary>
    private Response HoverAt(double y, Act act)
    {
        if (_grab is null) return Refuse(act, NothingGrabbed);
        TraceAct(act, null);
        HoverOver(_rows.GapAbove(GrabState.RowBelow(y + _viewport.ScrollTop, Geometry, -1, 0)));
        return Response.Handled;
    }

    /// <summary>Scrolls so that the place in which carried items would land shows.</summary>
    private void ShowGap()
    {
        if (_grab is not { } grab) return;
        if (PreviewOfMove is not { } preview)
        {
            if (_rows.Count > 0) SetViewport(_viewport.Showing(new(Math.Min(_rows.RowBelow(grab.Gap), _rows.Count - 1)), Geometry));
            return;
        }
        if (preview.Rows.RowOf(preview.Edit.Apply(grab.Pressed >= 0 ? grab.Pressed : grab.Items.Nth(0))) is { } row) SetViewport(_viewport.Showing(row, GeometryOf(preview)));
        else if (preview.Rows.HeadingOf(grab.Gap.Section) is { } heading) SetViewport(_viewport.Showing(heading, GeometryOf(preview)));
    }

    private string NameOf(ItemSet items, int pressed) => items.Count > 1 ? Options.Phrases.Items(items.Count) : ContentAt(pressed >= 0 ? pressed : items.Nth(0)).Label;

    /// <summary>The place in which items would land, from 1, of how many in the list or section.</summary>
    private (int Place, int Of) PlaceOf(GrabState grab)
    {
        var landings = LandingsFor(grab.Items);
        return (landings.RankOf(grab.Gap) + 1, landings.Stay(grab.Gap.Section).Count + grab.Items.Count);
    }

    private void TellPlace(GrabState grab, Func<int, int, string?, string> phrase)
    {
        if (Announced is null) return;
        var (place, of) = PlaceOf(grab);
        Announce(phrase(place, of, grab.Gap.Section < 0 ? null : _rows.Sections[grab.Gap.Section].Title));
    }

    /// <summary>Moves the target by one place; one that is scattered gathers at its first item first.</summary>
    private Response MoveBy(ItemSet target, Step step, Act act)
    {
        if (_grab is not null) return Refuse(act, new(RefusalKind.Running, "Items are grabbed: drop them first."));
        var (items, refusal) = ToGrab(target, -1);
        if (refusal is not null) return Refuse(act, refusal);
        return MoveTo(items, GapBy(items, step), act);
    }

    private Response MoveByKey(Step step, Act act)
    {
        var items = ItemsForKey();
        if (items.IsEmpty) return Refuse(act, new(_rows.Shown.IsEmpty ? RefusalKind.EmptyList : RefusalKind.NoItem, "There is no item at the cursor to move."));
        var response = MoveBy(items, step, act);
        if (_selection.Cursor >= 0) BringIntoView(_selection.Cursor);
        return response;
    }

    private GapPlace GapBy(ItemSet items, Step step)
    {
        GapPlace here = new(items.Nth(0), _rows.SectionOf(items.Nth(0)));
        if (Moves.Changes(items, here, _rows)) return here;
        var landings = LandingsFor(items);
        var gap = landings.GapAt(landings.NumberOf(here) + (step == Step.Previous ? -1 : 1));
        return gap.Section == here.Section || MayChangeSection ? gap : here;
    }

    /// <summary>Moves items to a gap, where that is allowed.</summary>
    private Response MoveTo(ItemSet target, GapPlace gap, Act act)
    {
        var (items, refusal) = ToGrab(target, -1);
        if (refusal is not null) return Refuse(act, refusal);
        if (!Moves.Changes(items, gap, _rows)) return Response.Handled;
        if ((WhyNoDrop(items, gap) ?? (MoveRequested is null ? OutOfStep(items) : null)) is { } why) return Refuse(act, why);
        if (_grab is not null) DropBack(act with { Kind = ActKind.DropBack });
        StopTyping();
        TraceAct(act, null);
        return Land(items, gap, act);
    }

    private ItemSet ItemsWith(IEnumerable<TKey> keys)
    {
        ArgumentNullException.ThrowIfNull(keys);
        return ItemSet.Of(Count, keys.Select(IndexOf).Where(i => i >= 0));
    }

    /// <summary>
    /// Moves items to a gap: they leave, and land together, in their order, just before the item of that index now, or at the end. In a list with sections the gap
    /// is that of one; of the item's below it where <paramref name="section"/> is null. Items that are hidden, disabled or pinned stay where they are; a
    /// move that changes nothing on show is handled and does nothing.
    /// </summary>
    public Response Move(IEnumerable<TKey> keys, int gap, string? section = null)
    {
        TKey[] wanted = [.. keys];
        return Run(_ =>
        {
            var act = new Act(ActKind.Move, Text: section);
            if ((uint)gap > (uint)Count) return Refuse(act, new(RefusalKind.OutsideList, $"There is no gap {gap}: {Count} items have the gaps 0 to {Count}."));
            if (section is not null && _rows.SectionWith(section) < 0) return Refuse(act, NoSection(section));
            var at = section is not null ? _rows.SectionWith(section) : gap < Count ? _rows.SectionOf(gap) : _rows.Sections.Length - 1;
            // Just before the row shown below it, or at the end.
            var below = _rows.MembersOf(at).NextAt(gap);
            return MoveTo(ItemsWith(wanted), below < 0 ? _rows.EndOf(at) : new(below, at), act);
        });
    }

    /// <summary>Moves items just before another one, into its section.</summary>
    public Response MoveBefore(IEnumerable<TKey> keys, TKey before)
    {
        TKey[] wanted = [.. keys];
        return Run(index => index < 0 ? Absent(ActKind.Move, before) : MoveTo(ItemsWith(wanted), new(index, _rows.SectionOf(index)), new(ActKind.Move)), IndexOf(before));
    }

    /// <summary>Moves items to the top of the list or, where there are sections, of the first one's section; as far as what is pinned lets them.</summary>
    public Response MoveToTop(IEnumerable<TKey> keys) => MoveToEnd(keys, top: true);

    /// <summary>Moves items to the bottom of the list or, where there are sections, of the first one's section; as far as what is pinned lets them.</summary>
    public Response MoveToBottom(IEnumerable<TKey> keys) => MoveToEnd(keys, top: false);

    private Response MoveToEnd(IEnumerable<TKey> keys, bool top)
    {
        TKey[] wanted = [.. keys];
        return Run(_ => ItemsWith(wanted) is var items && items.IsEmpty
            ? Refuse(new(ActKind.Move), new(RefusalKind.NoItem, "There is no item to move."))
            : MoveTo(items, EndFor(items, top), new(ActKind.Move)));
    }

    /// <summary>The farthest gap that way in the first item's section, short of what is pinned there.</summary>
    private GapPlace EndFor(ItemSet items, bool top)
    {
        int first = items.Nth(0), last = items.Nth(items.Count - 1), section = _rows.SectionOf(first);
        var members = _rows.MembersOf(section);
        var pinned = _pinned.Intersect(members);
        var gap = top ? members.NextAt(pinned.LastAt(first - 1) + 1) : pinned.NextAt(last + 1);
        return gap >= 0 ? new(gap, section) : _rows.EndOf(section);
    }

    /// <summary>Moves items to the end of a section.</summary>
    public Response MoveToSection(IEnumerable<TKey> keys, string section)
    {
        TKey[] wanted = [.. keys];
        return Run(_ =>
        {
            var act = new Act(ActKind.Move, Text: section);
            return _rows.SectionWith(section) is >= 0 and var at ? MoveTo(ItemsWith(wanted), _rows.EndOf(at), act) : Refuse(act, NoSection(section));
        });
    }

    /// <summary>Moves items up or down by one place on show, as Alt+Up and Alt+Down do; scattered ones first gather at the first of them.</summary>
    public Response MoveBy(IEnumerable<TKey> keys, bool down)
    {
        TKey[] wanted = [.. keys];
        return Run(_ => MoveBy(ItemsWith(wanted), down ? Step.Next : Step.Previous, new(ActKind.Move)));
    }

    /// <summary>Takes up an item, or the selection if it is in it, without a pointer: <see cref="Hover(Step)"/> chooses the gap, <see cref="Drop()"/> lets it land.</summary>
    public Response Grab(TKey key) => Run(index => index < 0 ? Absent(ActKind.Grab, key) : Carry(TargetAt(index), index, new(ActKind.Grab, index)), IndexOf(key));

    /// <summary>Takes what is grabbed without a pointer to another gap, a step from where it is.</summary>
    public Response Hover(Step step) => Run(_ => Hover(step, new(ActKind.Hover)));

    /// <summary>Lets what is grabbed land in its gap.</summary>
    public Response Drop() => Run(_ => _stroke is null ? Drop(new Act(ActKind.Drop)) : Refuse(new(ActKind.Drop), new(RefusalKind.Running, "A pointer holds what is grabbed: letting it go drops it.")));

    /// <summary>Lets what is grabbed go back, as if it had not been taken up.</summary>
    public Response DropBack() => Run(_ => DropBack(new Act(ActKind.DropBack)));

    // ── Landing ──

    /// <summary>Moves items that may be moved, and tells of it.</summary>
    private Response Land(ItemSet items, GapPlace gap, Act act)
    {
        var section = SectionKeyOf(gap);
        var target = TargetOf(items);
        TellPlace(new GrabState(items, -1, 0, gap), Options.Phrases.Dropped);
        var step = StepFor(items, target, gap, section);
        if (Relocate(items, target, gap.Index, section, act) is { } refusal) return Refuse(act, refusal);
        Keep(step);
        return Response.Handled;
    }

    /// <summary>Has the app move items, or moves them.</summary>
    private Refusal? Relocate(ItemSet items, CommandTarget<TItem, TKey> target, int gap, string? section, Act act)
    {
        if (MoveRequested is null) return MoveInSource(Edit.Move(items, gap), items, section is null ? null : [.. target.Items.Select(_ => section)], act);
        TraceMove(items, gap, section);
        _isReordered = true;
        _holdsScroll = true;
        Raise(MoveRequested, new(items, target.Items, target.Keys, gap, section, act));
        _events.Enqueue(() => _holdsScroll = false);
        return null;
    }

    private void TraceMove(ItemSet items, int? gap, string? section) => Trace(() => new()
    {
        Stage = "change",
        T = _now,
        Change = "move",
        Gap = gap,
        Part = section is null ? null : "heading:" + section,
        Moved = [.. items.Take(TracedKeys).Select(i => KeyText(i)!)],
    });

    /// <summary>A move, by the keys of what stood and stands below: so that it can be taken back whatever came and went meanwhile.</summary>
    private UndoStep StepFor(ItemSet items, CommandTarget<TItem, TKey> target, GapPlace gap, string? section)
    {
        var stay = items.Complement();
        Neighbours[] before = [.. items.Select(i => NeighboursOf(i, stay))];
        var after = NeighboursOf(gap.Index, stay);
        string[]? sections = section is null ? null : [.. items.Select(i => _rows.Sections[_rows.SectionOf(i)].Key)];
        return new()
        {
            Name = Options.Phrases.Move,
            Items = target.Items,
            Keys = target.Keys,
            Gaps = [.. target.Places],
            Undo = step => Return(step, before, sections, ActKind.Undo),
            Redo = step => Return(step, [.. before.Select(_ => after)], section is null ? null : [.. before.Select(_ => section)], ActKind.Redo),
        };
    }

    /// <summary>What stays below and above a gap, by key; none at the end and at the beginning. The one above counts where the one below has left.</summary>
    private readonly record struct Neighbours(bool HasBelow, TKey Below, bool HasAbove, TKey Above);

    private Neighbours NeighboursOf(int gap, ItemSet stay)
    {
        int below = stay.NextAt(gap), above = stay.LastAt(gap - 1);
        return new(below >= 0, below < 0 ? default! : _store.KeyAt(below), above >= 0, above < 0 ? default! : _store.KeyAt(above));
    }

    /// <summary>The gap between neighbours, or -1 where both have left.</summary>
    private int GapBetween(Neighbours at)
    {
        if (!at.HasBelow) return Count;
        if (IndexOf(at.Below) is >= 0 and var below) return below;
        return !at.HasAbove ? 0 : IndexOf(at.Above) is >= 0 and var above ? above + 1 : -1;
    }

    /// <summary>Puts each item of a step between its neighbours again.</summary>
    private Refusal? Return(UndoStep step, Neighbours[] places, string[]? sections, ActKind kind)
    {
        if (!MayMoveNow || _sortBy is not null) return new(RefusalKind.OutOfDate, $"'{step.Name}' cannot be {(kind == ActKind.Undo ? "taken back" : "done again")}: nothing can be moved in this list now.");
        foreach (var key in step.Keys)
            if (IndexOf(key) < 0) return new(RefusalKind.OutOfDate, $"'{step.Name}' makes no sense any more: the item '{key}' has left the list since.");
        // Those that go to the same place, into the same section, one after the other, go together. Where both neighbours have left, they stay where they are.
        var groups = new List<MoveGroup>();
        for (var i = 0; i < places.Length; i++)
        {
            if (GapBetween(places[i]) < 0) continue;
            if (groups is [.., var last] && last.Place == places[i] && last.Section == sections?[i]) last.Keys.Add(step.Keys[i]);
            else groups.Add(new([step.Keys[i]], places[i], sections?[i]));
        }
        if (groups.Count == 0) return new(RefusalKind.OutOfDate, $"'{step.Name}' makes no sense any more: the items beside which '{step.Keys[0]}' was have left the list since.");
        var act = new Act(kind);
        if (MoveRequested is not null)
        {
            AskToMove(groups, act);
            return null;
        }
        var section = groups.SelectMany(g => g.Keys.Select(k => (Index: IndexOf(k), g.Section))).OrderBy(k => k.Index).ToList();
        var edit = groups is [var one] && one.Keys.Select(IndexOf).ToArray() is var indexes && indexes.SequenceEqual(indexes.Order())
            ? Edit.Move(ItemSet.Of(Count, indexes), GapBetween(one.Place)) : Edit.Remap(Count, Gathered(groups));
        return MoveInSource(edit, ItemSet.Of(Count, section.Select(s => s.Index)), sections is null ? null : [.. section.Select(s => s.Section!)], act);
    }

    /// <summary>Items that go to one place, into one section.</summary>
    private sealed record MoveGroup(List<TKey> Keys, Neighbours Place, string? Section);

    /// <summary>The order in which each group stands in its place, as old indexes.</summary>
    private int[] Gathered(List<MoveGroup> groups)
    {
        var moved = ItemsWith(groups.SelectMany(g => g.Keys));
        var above = groups.ToLookup(g => moved.Complement().NextAt(GapBetween(g.Place)) is >= 0 and var below ? below : Count, g => g.Keys.Select(IndexOf));
        var order = new int[Count];
        var n = 0;
        for (var i = 0; i <= order.Length; i++)
        {
            foreach (var group in above[i])
                foreach (var index in group) order[n++] = index;
            if (i < order.Length && !moved.Contains(i)) order[n++] = i;
        }
        return order;
    }

    /// <summary>Asks the app to move groups one after the other: each when the one before it has been moved.</summary>
    private void AskToMove(List<MoveGroup> groups, Act act)
    {
        void Next(int at)
        {
            if (at >= groups.Count) return;
            var (keys, place, section) = groups[at];
            var items = ItemsWith(keys);
            var gap = GapBetween(place);
            if (!items.IsEmpty && gap >= 0)
            {
                var target = TargetOf(items);
                _holdsScroll = true;
                if (Edit.Move(items, gap).Changes || section is not null) Raise(MoveRequested, new(items, target.Items, target.Keys, gap, section, act));
            }
            _events.Enqueue(() => _holdsScroll = false);
            _events.Enqueue(() => _waiting.Enqueue(new()
            {
                Run = _ =>
                {
                    Next(at + 1);
                    return Response.Handled;
                },
            }));
        }
        Next(0);
    }

    /// <summary>
    /// Moves items in the source, puts them into sections, and takes everything through the edit. All of it is done, or nothing: a source that
    /// does not take it is put back.
    /// </summary>
    private Refusal? MoveInSource(Edit edit, ItemSet items, string[]? sections, Act act)
    {
        var moved = ItemsOf(items);
        if (OutOfStep(items) is { } wrong) return wrong;
        string[]? before = sections is null ? null : [.. items.Select(i => _rows.Sections[_rows.SectionOf(i)].Key)];
        if (sections is not null && Assign(moved, sections, before!) is { } refused) return refused;
        if (WriteSource(edit, items) is { } refusal)
        {
            if (sections is not null) Assign(moved, before!, before!);
            return refusal;
        }
        var departed = NewDeparted();
        _store.Rearrange(edit);
        _holdsScroll = true;
        try
        {
            Follow(edit, departed, []);
        }
        finally
        {
            _holdsScroll = false;
        }
        var landed = edit.Apply(items);
        if (sections is not null) Reread(landed, lingers: false);
        TraceMove(landed, null, sections?[0]);
        _isReordered = true;
        Raise(Moved, new(ItemsOf(landed), [.. landed.Select(_store.KeyAt)], landed, sections?[0], act));
        return null;
    }

    private Refusal? OutOfStep(ItemSet items)
    {
        var source = (IList<TItem>)_source!;
        var comparer = EqualityComparer<TItem>.Default;
        if (source.Count != Count) return new(RefusalKind.OutOfDate, $"The source holds {source.Count} items and the list {Count}: it has changed without saying so. Call Refresh.");
        foreach (var index in items)
            if (!comparer.Equals(source[index], _store.ItemAt(index)))
                return new(RefusalKind.OutOfDate, $"What the source holds at {index} is not the item '{_store.KeptKeyAt(index)}': it has changed without saying so. Call Refresh.");
        return null;
    }

    private Refusal? Assign(TItem[] items, string[] sections, string[] before)
    {
        if (_sections?.Assign is not { } assign) return null;
        var written = 0;
        _writing = true;
        try
        {
            for (; written < items.Length; written++)
                if (sections[written] != before[written] || ReferenceEquals(sections, before)) assign(items[written], sections[written]);
            return null;
        }
#pragma warning disable CA1031 // The app's own exception becomes a refusal that names the section and the item.
        catch (Exception e)
#pragma warning restore CA1031
        {
            var refusal = new Refusal(RefusalKind.Failed, $"The item '{items[written]}' could not be put into the section '{sections[written]}': {e.Message}");
            if (!ReferenceEquals(sections, before)) Assign([.. items.Take(written)], before, before);
            return refusal;
        }
        finally
        {
            _writing = false;
        }
    }

    /// <summary>Puts the source into another order. A collection that reports its changes is moved item by item, and its reports of that are not needed.</summary>
    private Refusal? WriteSource(Edit edit, ItemSet items)
    {
        var source = (IList<TItem>)_source!;
        var (start, order) = edit.Stretch();
        if (order.Length == 0) return null;
        if (_live is null)
        {
            var now = new TItem[order.Length];
            for (var i = 0; i < now.Length; i++) now[i] = source[start + i];
            var written = 0;
            try
            {
                for (; written < now.Length; written++) source[start + written] = now[order[written] - start];
                return null;
            }
#pragma warning disable CA1031 // The app's own exception becomes a refusal; what was written is put back.
            catch (Exception e)
#pragma warning restore CA1031
            {
                for (var i = 0; i < written; i++) source[start + i] = now[i];
                return new(RefusalKind.Failed, $"The source did not take the move: {e.Message}");
            }
        }
        TItem[] wanted = [.. order.Select(_store.ItemAt)];
        Exception? failed = null;
        _movingSource = true;
        try
        {
            foreach (var (from, to) in edit.Moved is { } moved ? Moves.Steps(moved, edit.GapOfMove) : Moves.Steps(items, order))
            {
                if (source is ObservableCollection<TItem> observable) observable.Move(from, to);
                else
                {
                    var item = source[from];
                    source.RemoveAt(from);
                    source.Insert(to, item);
                }
            }
        }
#pragma warning disable CA1031 // The app's own exception, or that of another one who listens, becomes a refusal.
        catch (Exception e)
#pragma warning restore CA1031
        {
            failed = e;
        }
        finally
        {
            _movingSource = false;
        }
        var comparer = EqualityComparer<TItem>.Default;
        if (failed is null && source.Count == Count && wanted.Select((item, i) => comparer.Equals(item, source[start + i])).All(same => same)) return null;
        _outOfStep = true;
        Replace(_source!);
        _outOfStep = false;
        return new(RefusalKind.Failed, $"The source did not take the move{(failed is null ? "" : $": {failed.Message}")}. The list has read it anew.");
    }

    // ── Through edits of the source ──

    private void FollowPinned(Edit edit, IEnumerable<int> read)
    {
        _pinned = edit.Apply(_pinned);
        if (_pinnedWhen is { } pinned)
            foreach (var i in edit.Inserted().Concat(read)) _pinned = _pinned.With(i, Ask(pinned, _store.ItemAt(i)));
    }

    private void FollowGrab(Edit edit)
    {
        if (_lookedAt is { } eye) _lookedAt = eye with { Index = edit.Nearest(eye.Index) };
        if (_grab is not { } grab) return;
        // Where all of it has left it is put back when the rows are right again.
        _grab = grab.After(edit) ?? grab with { Items = ItemSet.None(edit.NewLength), Pressed = -1 };
    }

    /// <summary>Puts what is grabbed right for the rows as they are now: what the filter hides leaves it, and its gap is one of the rows'.</summary>
    private void SettleGrab()
    {
        if (_grab is not { } grab) return;
        var items = grab.Items.Intersect(_rows.Shown);
        if (items.IsEmpty || _sortBy is not null)
        {
            EndGrab();
            if (_stroke?.Act.Kind == ActKind.Grab) EndStroke();
            return;
        }
        var section = _rows.Sections.IsEmpty ? -1 : _gapSection is { } key && _rows.SectionWith(key) is >= 0 and var same ? same
            : Math.Max(0, _rows.SectionOf(grab.Below >= 0 ? grab.Below : grab.Above >= 0 ? grab.Above : items.Nth(0)));
        var stay = LandingsFor(items).Stay(section);
        // The neighbour below if it shows there, else after the one above it, else where the gap's index falls.
        var below = grab.Below >= 0 && stay.Contains(grab.Below) ? grab.Below
            : grab.Above >= 0 && stay.Contains(grab.Above) ? stay.NextAt(grab.Above + 1) : stay.NextAt(grab.Gap.Index);
        var gap = below >= 0 ? new(below, section) : _rows.EndOf(section);
        _grab = (grab with { Items = items, Pressed = items.Contains(Math.Max(0, grab.Pressed)) ? grab.Pressed : -1 }).At(gap, stay);
        LookAtGap();
        ChangeFrame();
    }

    // ── Moving without dragging (WCAG 2.5.7) ──

    private ImmutableArray<Command<TItem, TKey>> MoveCommands()
    {
        if (!Options.MovesInMenu || !MayMoveNow || _sortBy is not null) return [];
        var phrases = Options.Phrases;
        Command<TItem, TKey> Of(string id, string label, Action<IReadOnlyList<TKey>> act, Func<ItemSet, bool> changes) => new(id, label)
        {
            Submenu = phrases.Move,
            Group = "~move",
            Do = target => act(target.Keys),
            EnabledFor = target => ItemsWith(target.Keys) is var items && ToGrab(items, -1) is { Refusal: null } can && changes(can.Items),
        };
        bool Moves(ItemSet items, GapPlace gap) => Moving.Moves.Changes(items, gap, _rows) && WhyNoDrop(items, gap) is null;
        return
        [
            Of("move-to-top", phrases.ToTop, keys => MoveToTop(keys), items => Moves(items, EndFor(items, true))),
            Of("move-up", phrases.Up, keys => MoveBy(keys, down: false), items => Moves(items, GapBy(items, Step.Previous))),
            Of("move-down", phrases.Down, keys => MoveBy(keys, down: true), items => Moves(items, GapBy(items, Step.Next))),
            Of("move-to-bottom", phrases.ToBottom, keys => MoveToBottom(keys), items => Moves(items, EndFor(items, false))),
            Of("choose-place", phrases.ChoosePlace, keys => Run(_ => Carry(ItemsWith(keys), -1, new(ActKind.Grab))), _ => true),
            .. MayChangeSection ? _rows.Sections.Where((_, i) => _rows.HeadingOf(i) is not null).Select(s => Of("move-to:" + s.Key, phrases.ToSection(s.Title),
                keys => MoveToSection(keys, s.Key), items => items.Intersect(s.Members).Count < items.Count)) : [],
            .. (_group?.Lists ?? []).Select((list, i) => (List: list, At: i)).Where(l => l.List != this).Select(l => Of($"send-to:{l.At}", phrases.ToSection(l.List.Title ?? $"{l.At + 1}"),
                keys => _group!.Send(this, l.List, keys), items => l.List.Decide(this, items, l.List._rows.EndOf(l.List._rows.Sections.Length - 1)).Refusal is null)),
        ];
    }

    /// <summary>All that the menu may show: the app's commands, and what moves items without dragging, where they may move.</summary>
    private IEnumerable<Command<TItem, TKey>> MenuCommands => [.. _commands.Where(c => c.IsInMenu), .. MoveCommands().Where(m => _commands.All(c => c.Id != m.Id))];
}

/// <summary>What an app is asked about before items are dropped.</summary>
/// <param name="Items">The items that are grabbed, in their order.</param>
/// <param name="Keys">Their keys.</param>
/// <param name="Gap">They would land just before the item of that index, or at the end.</param>
/// <param name="Section">The section that they would come into; null in a list without.</param>
public sealed record DropQuestion<TItem, TKey>(IReadOnlyList<TItem> Items, IReadOnlyList<TKey> Keys, int Gap, string? Section);
