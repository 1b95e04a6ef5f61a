using Lectica.Acts;
using Lectica.Finding;
using Lectica.Gestures;
using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Selecting;

namespace Lectica;

// What comes in from pointers and keys, and what it means.
public sealed partial class InteractiveList<TItem, TKey>
{
    private const int SearchSlice = 20_000;

    private readonly List<Gesture> _gestures = [];
    private Typing _typing = Typing.None;
    private Search? _search;

    /// <summary>A search by typing that goes on in slices.</summary>
    private sealed record Search(string Prefix, int Next, int Left, Act Act);

    /// <summary>What recognition sees of the list.</summary>
    private sealed class Field(InteractiveList<TItem, TKey> list) : IGestureField
    {
        // The menu lies over the rows.
        public Hit HitAt(double x, double y) => list.EntryAt(x, y) is { } entry ? new(null, -1, new(PartKind.MenuEntry, entry)) : list.Plane.HitAt(x, y);

        public bool Wants(GestureKind kind, PointerType pointer, Hit hit, Modifiers modifiers) =>
            // Nothing is begun on a notice or a disabled item.
            (hit.Row is null || (hit.Index >= 0 && !list._disabled.Contains(hit.Index)))
            && list.Options.Gestures.Find(kind, pointer, hit.Row is null ? null : hit.Part, modifiers, list.Situation, list.Options.ModKey) is not null;
    }

    /// <summary>
    /// Takes what a pointer did. A move that changes nothing allocates nothing. A sample that comes late is taken as of its own time: a long press
    /// that was due before it has fired by then.
    /// </summary>
    /// <returns>Whether the list used it; a press is handled where it is on a row, and a finger's pan never is: the host scrolls.</returns>
    public Response Take(PointerSample sample)
    {
        CheckContext();
        if (_busy) return Wait(sample);
        _busy = true;
        _offeredEdits = null;
        try
        {
            TakeOffered();
            return TakeNow(sample);
        }
        finally
        {
            _offeredEdits = null;
            Tell();
        }
    }

    private Response Wait(PointerSample sample) => Run(_ => TakeNow(sample));

    private Response TakeNow(in PointerSample sample)
    {
        AdvanceTo(sample.Time);
        if (Traced is not null) TraceInput(sample);
        // Over an open menu the mouse shows which entry it is on.
        if (_menu is { } menu && sample.Kind == SampleKind.Move && sample.PointerType == PointerType.Mouse && menu.EntryAt(sample.X, sample.Y) is { } over)
        {
            var lit = over.InSubmenu ? menu with { SubmenuAt = over.Entry } : menu with { At = over.Entry };
            if (lit != menu) TakeAnswer(new(lit, null, true), "mouse");
        }
        _gestures.Clear();
        _recogniser.Take(sample, _field, _gestures);
        return TakeGestures(_gestures);
    }

    private void TraceInput(PointerSample sample) => Trace(() => new()
    {
        Stage = "input",
        T = _now,
        Type = sample.Kind switch { SampleKind.Down => "pointerdown", SampleKind.Move => "pointermove", SampleKind.Up => "pointerup", _ => "pointercancel" },
        Pointer = sample.PointerId,
        PointerType = Word(sample.PointerType),
        X = sample.Kind == SampleKind.Cancel || !double.IsFinite(sample.X) ? null : sample.X,
        Y = sample.Kind == SampleKind.Cancel || !double.IsFinite(sample.Y) ? null : sample.Y,
        Button = sample.Kind is SampleKind.Down or SampleKind.Up ? sample.Button : null,
        Modifiers = Words(sample.Modifiers),
    });

    /// <summary>
    /// When <see cref="Advance"/> should be called, ms on the samples' clock: a long press that is due, or the next step of scrolling while
    /// dragging near an edge. Null where nothing waits. A list with a context calls itself; a host without one calls, and may call late.
    /// </summary>
    public double? NextDeadline
    {
        get
        {
            CheckContext();
            var press = _recogniser.NextDeadline;
            return Earliest(Earliest(press, NextOfDrag), Earliest(NextFade, NextLinger));
        }
    }

    /// <summary>Whether the list calls itself back at its deadlines; otherwise its host calls <see cref="Advance"/>.</summary>
    public bool CallsItself => _context is not null;

    private static double? Earliest(double? one, double? other) => one is { } a ? Math.Min(a, other ?? a) : other;

    /// <summary>Lets time pass without input, to a time in ms on the samples' clock. One that goes back, or is no number, does nothing.</summary>
    public Response Advance(double time) => Run(_ =>
    {
        AdvanceTo(time);
        return Response.Handled;
    });

    /// <summary>Does what is due until then, in the order in which it is.</summary>
    private void AdvanceTo(double time)
    {
        if (!double.IsFinite(time)) return;
        while (NextOfDrag is { } next && next <= time)
        {
            Recognise(next);
            if (_hover?.Due == next) OpenHovered(next);
            else if (NextScroll == next) AutoScrollStep(next, time);
        }
        Recognise(time);
        // Of several samples with one moment, or in no order, the latest counts.
        if (_recogniser.ContactCount == 0 || time > _now) _now = time;
        Fade(time);
        EndLingering(time);
    }

    private void Recognise(double time)
    {
        if (!(_recogniser.NextDeadline <= time)) return;
        _gestures.Clear();
        _recogniser.Advance(time, _field, _gestures);
        _now = Math.Max(_now, _gestures.Count > 0 ? _gestures[0].Time : _now);
        TakeGestures(_gestures);
    }

    private Response TakeGestures(List<Gesture> gestures)
    {
        var response = new Response(false);
        if (gestures.Count == 0) return response;
        var looks = false;
        foreach (var gesture in gestures)
        {
            if (gesture.Phase != GesturePhase.Move)
            {
                looks = true;
                ChangeFrame();
            }
            var one = Take(gesture);
            if (one.IsHandled || (response.Refusal is null && !response.IsHandled)) response = one;
        }
        if (looks) TellPressed();
        return response;
    }

    private Response Take(in Gesture gesture)
    {
        if (gesture.Phase == GesturePhase.Move) return MoveStroke(gesture);
        if (Traced is not null) TraceGesture(gesture);
        if (gesture.Kind == GestureKind.Press) return new(gesture.Row is not null);
        if (gesture.Phase == GesturePhase.Cancel) return CancelStroke(gesture.PointerId);
        // After a long press that grabbed, the release drops.
        if (gesture.Phase == GesturePhase.End || (gesture.Kind == GestureKind.Release && _stroke?.PointerId == gesture.PointerId)) return EndStroke(gesture);
        if (gesture.Kind is GestureKind.Release) return new(gesture.Row is not null);
        if (!gesture.IsRecognised || gesture.Kind == GestureKind.Pan) return new(false);

        if (gesture.Index >= 0)
        {
            if (_disabled.Contains(gesture.Index))
                return Refuse(null, new(RefusalKind.Disabled, $"Item {gesture.Index} is disabled: the {Word(gesture.Kind)} does nothing."));
            if (gesture.Kind is GestureKind.Tap or GestureKind.DoubleTap && gesture.Part.Kind != PartKind.Tray) TellTapped(gesture);
        }
        if (Options.Gestures.Find(gesture, Situation, Options.ModKey) is { } rule)
        {
            var response = new Response(rule.Acts.IsEmpty);
            foreach (var kind in rule.Acts)
            {
                var act = new Act(kind, gesture.Index, rule.Name);
                var one = act.GoesOn ? BeginStroke(act, gesture) : kind switch
                {
                    ActKind.InvokeTray => InvokeTray(act, gesture.Part.Name, bySwipe: false),
                    ActKind.ChooseEntry => ChooseEntry(gesture.Part.Name, rule.Name),
                    ActKind.ToggleMark => ToggleMark(act, gesture.Part.Name),
                    ActKind.CollapseOrExpand => CollapseOrExpand(act with { Text = gesture.Part.Name }),
                    ActKind.ToggleSection => ToggleSection(act with { Text = gesture.Part.Name }),
                    ActKind.OpenMenu => OpenMenu(act, gesture.X, gesture.Y),
                    ActKind.Hover => HoverAt(gesture.Y, act),
                    _ => Do(act),
                };
                if (one.IsHandled || !response.IsHandled) response = one;
            }
            if (gesture.Kind == GestureKind.LongPress && response.IsHandled) Hint(HapticHint.LongPress);
            return response;
        }
        var place = gesture.Row is null ? "empty space" : gesture.Part.ToString();
        return Refuse(null, new(RefusalKind.NoRule, $"No rule takes a {Word(gesture.Kind)} by {Word(gesture.PointerType)} on {place} here."));
    }

    private void TellTapped(Gesture gesture)
    {
        var (item, key) = (_store.ItemAt(gesture.Index), _store.KeyAt(gesture.Index));
        Trace(() => new() { Stage = "change", T = _now, Change = "tapped", Key = TextOf(key), Index = gesture.Index, Row = gesture.Row?.Value, Part = gesture.Part.ToString() });
        Raise(Tapped, new(item, key, gesture.Index, gesture.Row!.Value, gesture.Part, gesture.Kind == GestureKind.DoubleTap ? 2 : 1));
    }

    private void TraceGesture(Gesture gesture) => Trace(() => new()
    {
        Stage = "gesture",
        T = gesture.Time,
        Gesture = Word(gesture.Kind),
        Phase = gesture.Phase switch { GesturePhase.Begin => "begin", GesturePhase.End => "end", GesturePhase.Cancel => "cancel", _ => null },
        Recognised = gesture.IsRecognised,
        Pointer = gesture.PointerId,
        PointerType = Word(gesture.PointerType),
        Row = gesture.Row?.Value,
        Key = KeyText(gesture.Index),
        Part = gesture.Row is null ? null : gesture.Part.ToString(),
        Reason = gesture.Reason,
        Limit = gesture.Shortfall.Limit == Limit.None ? null : Word(gesture.Shortfall.Limit),
        Measured = gesture.Shortfall.Bound == 0 || !double.IsFinite(gesture.Shortfall.Measured) ? null : gesture.Shortfall.Measured,
        Bound = gesture.Shortfall.Bound == 0 || !double.IsFinite(gesture.Shortfall.Bound) ? null : gesture.Shortfall.Bound,
    });

    /// <summary>Takes a key that went down. The first one brings the focus.</summary>
    /// <returns>Whether the list used it; if not, the host may.</returns>
    public Response Take(KeyPress press) => Run(_ =>
    {
        _now = press.Time;
        Trace(() => new() { Stage = "input", T = press.Time, Type = "keydown", KeyName = press.Key, Modifiers = Words(press.Modifiers) });
        // A modifier by itself means nothing yet.
        if (press.Key is "Control" or "Shift" or "Alt" or "Meta" or "AltGraph" or "CapsLock" or "Fn" or "Dead" or "Process") return new(false);
        GainFocus();
        if (_menu is not null) return TakeInMenu(press);
        var rule = Options.Keys.Find(press, Situation, Options.ModKey, Options.IsRightToLeft);
        if (rule is not null)
        {
            var response = new Response(rule.Acts.IsEmpty);
            foreach (var kind in rule.Acts)
            {
                var one = DoStep(kind, rule.Step, rule.Name);
                if (one.IsHandled || !response.IsHandled) response = one;
            }
            return response;
        }
        if (Options.Keys.FindsByTyping && press.IsPrintable && (press.Key != " " || _typing.IsGathering(_now)))
            return Do(new Act(ActKind.Type, -1, "typing", press.Key));
        foreach (var command in _commands)
            foreach (var chord in command.Chords)
                if (chord.Matches(press, Options.ModKey))
                    return RunFor(command, ItemsForKey(), new(ActKind.RunCommand, _selection.Cursor, $"key {chord}", command.Id));
        return Refuse(null, new(RefusalKind.NoRule, $"No rule takes the key {press.Key} here."));
    });

    /// <summary>
    /// How a browser or a similar host may use touches on a part itself, in CSS's words: <c>pan-y</c> where it scrolls, <c>none</c> where the list drags at
    /// once. Hosts ask before a gesture begins; what changes during one is told by <see cref="HoldsPointer"/>.
    /// </summary>
    public string TouchActionOf(PartKind part)
    {
        CheckContext();
        var hit = new Part(part);
        return Options.Gestures.Find(GestureKind.Drag, PointerType.Touch, hit, Modifiers.None, Situation, Options.ModKey) is { Acts.IsEmpty: false } ? "none" : "pan-y";
    }

    /// <summary>
    /// Whether a pointer is the list's own now: something is dragged or swiped, or a long press has been recognised that moving on would drag. A host that scrolls
    /// by itself, or has a default for the pointer, leaves both until it is false again.
    /// </summary>
    public bool HoldsPointer => _stroke is not null || _recogniser.IsHolding;

    /// <summary>Whether a key that is pressed now would be used, without pressing it: for hosts that must say so before the list can be asked to take it.</summary>
    public bool WouldTake(KeyPress press)
    {
        CheckContext();
        if (_menu is not null) return press.Key != "Tab";
        if (Options.Keys.Find(press, Situation, Options.ModKey, Options.IsRightToLeft) is not null) return true;
        return (Options.Keys.FindsByTyping && press.IsPrintable && press.Key != " ") || _commands.Any(c => c.Chords.Any(k => k.Matches(press, Options.ModKey)));
    }

    /// <summary>What a key means: the selection if the cursor is in it, else the item at the cursor.</summary>
    private ItemSet ItemsForKey() => _selection.Cursor >= 0 ? TargetAt(_selection.Cursor) : ItemsForCommand();

    /// <summary>Tells the list that it has the keyboard now. The cursor goes to the first selected item, else to the first row.</summary>
    public void Focus() => Run(_ =>
    {
        GainFocus();
        return Response.Handled;
    });

    /// <summary>Tells the list that the keyboard has gone elsewhere; the cursor stays where it is, unseen.</summary>
    public void Blur() => Run(_ =>
    {
        if (!_hasFocus) return Response.Handled;
        _hasFocus = false;
        if (_carries) DropBack(new Act(ActKind.DropBack, Rule: "focus"));
        ChangeFrame();
        return Response.Handled;
    });

    private void GainFocus()
    {
        if (!_hasFocus)
        {
            _hasFocus = true;
            ChangeFrame();
        }
        if (_selection.Cursor >= 0 || _selection.Heading is not null) return;
        var first = _selection.Items.IsEmpty ? -1 : _selection.Items.Intersect(_rows.Shown).NextAt(0);
        var row = _rows.EntryAt(new(0));
        if (first < 0 && row.Kind == RowKind.Heading) Become(_selection with { Heading = _rows.Sections[row.Section].Key }, null, "focus");
        else if (first >= 0 || row.Index >= 0) Become(_selection with { Cursor = first >= 0 ? first : row.Index }, null, "focus");
    }

    private Situation Situation => new()
    {
        Mode = Options.Mode,
        IsSelecting = _selection.IsSelecting,
        HasSelection = !_selection.Items.IsEmpty,
        IsTyping = _typing.IsGathering(_now),
        AlwaysSelecting = Options.AlwaysSelecting,
        LongPress = Options.LongPress,
        MayMove = MayMoveNow,
        HasTrays = _trays.Any,
        HasFailed = _rows.Notice?.Kind == NoticeKind.Failed,
        HasMenus = HasMenus,
        CanUndo = CanUndo,
        CanRedo = CanRedo,
        SpaceMarks = Options.SpaceMark is not null,
        IsTrayOpen = IsTrayOpen,
        IsMenuOpen = IsMenuOpen,
        IsDragging = _stroke is not null,
        IsCarrying = _carries,
    };

    /// <summary>Does an act of a key: the cursor goes its step first.</summary>
    private Response DoStep(ActKind kind, Step step, string rule)
    {
        if (kind == ActKind.MovePart) return MovePart(step, rule);
        if (kind == ActKind.Hover) return Hover(step, new(kind, -1, rule));
        if (kind == ActKind.Move) return MoveByKey(step, new(kind, _selection.Cursor, rule));
        if (kind == ActKind.WorkPart) return WorkPart(rule);
        if (step == Step.None) return Do(new Act(kind, -1, rule));
        if (_rows.Notice?.Kind == NoticeKind.Failed && step == Step.Here && kind == ActKind.Activate) return Retry(new Act(ActKind.Retry, -1, rule));
        if (CursorRow is not { } at) return Do(new Act(kind, -1, rule));
        int row = at.Value, last = _rows.Count - 1;
        var target = Math.Clamp(step switch
        {
            Step.Previous => row - 1,
            Step.Next => row + 1,
            Step.First => 0,
            Step.Last => last,
            Step.PageUp => Geometry.PageFrom(at, _viewport.Height, down: false).Value,
            Step.PageDown => Geometry.PageFrom(at, _viewport.Height, down: true).Value,
            _ => row,
        }, 0, last);
        var entry = _rows.EntryAt(new(target));
        var index = entry.Index;
        if (index < 0 && entry.Section >= 0)
        {
            var onHeading = step == Step.Here && entry.Kind == RowKind.Heading
                ? DoOnHeading(kind, rule) : step == Step.Here ? Refuse(new Act(kind, -1, rule), new(RefusalKind.NoItem, "There is no item here to do it to.")) : MoveCursorTo(entry, new(ActKind.MoveCursor, -1, rule));
            if (CursorRow is { } there) SetViewport(_viewport.Showing(there, Geometry));
            return onHeading;
        }
        // At an end a toggling step has nowhere to go, and must not toggle the same row again.
        if (kind == ActKind.Toggle && step != Step.Here && target == row) kind = ActKind.MoveCursor;
        var response = Do(new Act(kind, index, rule));
        // A step moves the cursor also where the item there cannot be had.
        if (!response.IsHandled && step != Step.Here) response = Do(new Act(ActKind.MoveCursor, index, rule));
        if (_selection.Cursor >= 0) BringIntoView(_selection.Cursor);
        return response;
    }

    private Response MovePart(Step step, string rule)
    {
        var act = new Act(ActKind.MovePart, _selection.Cursor, rule);
        if (act.Index < 0) return Refuse(act, new(RefusalKind.EmptyList, "Nothing shows: there is no row whose parts to go through."));
        TraceAct(act, null);
        var last = KeyParts.Length - 1;
        // KeyParts run from the leading edge; the key table has swapped left and right already where that is on the right.
        var next = step switch { Step.PartLeft => _cursorPart - 1, Step.PartRight => _cursorPart + 1, Step.FirstPart => 0, _ => last };
        _cursorPart = Math.Clamp(next, 0, last);
        _changedProperties.Add(nameof(CursorPart));
        ChangeFrame();
        BringIntoView(_selection.Cursor);
        return Response.Handled;
    }

    private Response WorkPart(string rule)
    {
        if (_selection.Cursor >= 0) BringIntoView(_selection.Cursor);
        return CursorPart?.Kind switch
        {
            PartKind.Check => Do(new Act(ActKind.Toggle, _selection.Cursor, rule)),
            _ when _selection.Heading is not null => DoOnHeading(ActKind.WorkPart, rule),
            null or PartKind.Body => Do(new Act(ActKind.Activate, _selection.Cursor, rule)),
            PartKind.Mark => ToggleMark(new Act(ActKind.ToggleMark, _selection.Cursor, "part"), CursorPart!.Value.Name),
            PartKind.Handle => Do(new Act(ActKind.Grab, _selection.Cursor, rule)),
            PartKind.Menu => OpenMenu(new Act(ActKind.OpenMenu, _selection.Cursor, rule), null, null),
            _ => Refuse(new Act(ActKind.WorkPart, _selection.Cursor, rule), new(RefusalKind.NoRule, $"Nothing is bound to the part {CursorPart}.")),
        };
    }

    /// <summary>Does one act, with its events.</summary>
    private Response Do(Act act)
    {
        if (act.Kind != ActKind.Type) StopTyping();
        switch (act.Kind)
        {
            case ActKind.Activate:
                return Activate(act);
            case ActKind.Type:
                return Type(act);
            case ActKind.CloseTray:
                return CloseTray(act);
            case ActKind.OpenMenu:
                return OpenMenu(act, null, null);
            case ActKind.CloseMenu:
                return CloseMenu(act);
            case ActKind.BreakOff:
                return BreakOff(act);
            case ActKind.ToggleMark:
                return ToggleMark(act, act.Text);
            case ActKind.Retry:
                return Retry(act);
            case ActKind.CollapseOrExpand or ActKind.ToggleSection:
                return Refuse(act, new(RefusalKind.NoItem, $"The act '{act.Name}' needs a section: use the call that takes one."));
            case ActKind.Undo or ActKind.Redo:
                return Undo(act);
            case ActKind.Grab:
                return WhyNot(ActKind.Grab, act.Index) is { } whyNot ? Refuse(act, whyNot) : Carry(TargetAt(act.Index), act.Index, act);
            case ActKind.Drop:
                return Drop(act);
            case ActKind.DropBack:
                return DropBack(act);
            default:
                var (next, refusal) = Selector.Apply(_selection, act, Rules);
                if (refusal is not null) return Refuse(act, refusal);
                TraceAct(act, null);
                Become(next, act, act.Rule);
                return Response.Handled;
        }
    }

    private Response Activate(Act act)
    {
        if (WhyNot(ActKind.Activate, act.Index) is { } refusal) return Refuse(act, refusal);
        TraceAct(act, null);
        var (item, key) = (_store.ItemAt(act.Index), _store.KeyAt(act.Index));
        Become(_selection with { Cursor = act.Index }, act, act.Rule);
        Trace(() => new() { Stage = "change", T = _now, Change = "activated", Key = TextOf(key), Index = act.Index });
        Raise(Activated, new(item, key, act.Index, act));
        return Response.Handled;
    }

    private Response Type(Act act)
    {
        if (_rows.Shown.IsEmpty) return Refuse(act, new(RefusalKind.EmptyList, "There is nothing to find: no item shows."));
        _typing = _typing.With(act.Text!, _now);
        var (prefix, after) = _typing.Query;
        TraceAct(act with { Text = _typing.Text }, null);
        if (prefix.Length == 0) return Response.Handled;
        var cursor = CursorRow is { } at ? at.Value : -1;
        _search = new(prefix, cursor < 0 ? 0 : (cursor + (after ? 1 : 0)) % _rows.Count, _rows.Count, act);
        GoOnSearching();
        return Response.Handled;
    }

    /// <summary>Searches one slice; the rest is posted where the list has a context to post to, and done at once where it has none.</summary>
    private void GoOnSearching()
    {
        while (_search is { } search)
        {
            var (row, next, left) = _match.Search(
                r => _rows.IndexAt(new(r)) is >= 0 and var i && !_disabled.Contains(i) ? ContentAt(i).TypedName : null,
                _rows.Count, search.Next, search.Left, SearchSlice, search.Prefix);
            if (row >= 0)
            {
                _search = null;
                var typing = _typing;
                var index = _rows.IndexAt(new(row));
                Do(new Act(Options.Keys.MovingSelects && Options.Mode != SelectionMode.None ? ActKind.Select : ActKind.MoveCursor, index, search.Act.Rule));
                _typing = typing;
                BringIntoView(index);
                return;
            }
            var rest = left > 0 ? search with { Next = next, Left = left } : null;
            _search = rest;
            if (rest is null)
            {
                Refuse(search.Act, new(RefusalKind.NoItem, $"No item begins with '{search.Prefix}'."));
                return;
            }
            if (_context is null) continue;
            _context.Post(_ =>
            {
                if (_disposed || !ReferenceEquals(_search, rest)) return;
                Run(_ =>
                {
                    if (ReferenceEquals(_search, rest)) GoOnSearching();
                    return Response.Handled;
                });
            }, null);
            return;
        }
    }

    private void StopTyping() => (_typing, _search) = (Typing.None, null);

    /// <summary>An edit during a search: begin again from the cursor, over rows as they are now.</summary>
    private void ShiftSearch()
    {
        if (_search is { } search) _search = search with { Left = Math.Max(1, Count) };
    }

    /// <summary>Scrolls to a distance from the top of the content, px; past an end means the end.</summary>
    public void ScrollTo(double top) => Run(_ =>
    {
        if (top != _viewport.ScrollTop) _revealed = -1;
        SetViewport(_viewport with { ScrollTop = top });
        return Response.Handled;
    });

    /// <summary>Gives the viewport another size, px.</summary>
    /// <exception cref="ArgumentOutOfRangeException">A side is not more than 0.</exception>
    public void Resize(double width, double height)
    {
        if (!(width > 0) || !(height > 0) || !double.IsFinite(width) || !double.IsFinite(height))
            throw new ArgumentOutOfRangeException(nameof(width), $"A viewport of {width} by {height} px shows nothing: both sides must be more than 0.");
        Run(_ =>
        {
            SetViewport(_viewport with { Width = width, Height = height });
            return Response.Handled;
        });
    }

    /// <summary>Scrolls as little as possible, so that the item with this key shows whole.</summary>
    public Response Reveal(TKey key) => Run(index =>
    {
        if (index < 0) return Refuse(null, new(RefusalKind.OutsideList, $"There is no item with the key '{key}'."));
        if (_rows.RowOf(index) is null) return Refuse(null, new(RefusalKind.Hidden, $"The filter hides the item with the key '{key}'."));
        BringIntoView(index);
        return Response.Handled;
    }, IndexOf(key));

    private void BringIntoView(int index)
    {
        _revealed = index;
        if (_rows.RowOf(index) is { } row) SetViewport(_viewport.Showing(row, Geometry));
    }

    /// <summary>Takes over another window. A scroll closes tray and menu, but not one that only keeps the rows where they are.</summary>
    private void SetViewport(Viewport viewport, bool closes = true)
    {
        viewport = viewport.Within(Geometry.Height);
        if (viewport == _viewport) return;
        var scrolled = viewport.ScrollTop != _viewport.ScrollTop;
        _viewport = viewport;
        _plane = null;
        if (scrolled && closes && IsTrayOpen) CloseTray(new(ActKind.CloseTray, Rule: "scroll"));
        if (scrolled && closes && _menu is not null) CloseMenu(new(ActKind.CloseMenu, Rule: "scroll"));
        ChangeFrame();
        _changedProperties.Add(nameof(Viewport));
        if (scrolled) Trace(() => new() { Stage = "change", T = _now, Change = "scroll", ScrollTop = viewport.ScrollTop });
    }

    private static string Word(PointerType type) => type switch { PointerType.Touch => "touch", PointerType.Pen => "pen", _ => "mouse" };

    private static string Word(GestureKind kind) => kind switch
    {
        GestureKind.DoubleTap => "double-tap",
        GestureKind.SecondaryTap => "secondary-tap",
        GestureKind.LongPress => "long-press",
        GestureKind.HoldDrag => "hold-drag",
        _ => kind.ToString().ToLowerInvariant(),
    };

    private static string Word(Limit limit) => limit switch
    {
        Limit.LongPressTime => "long-press-time",
        Limit.DoubleTapTime => "double-tap-time",
        Limit.DoubleTapDistance => "double-tap-distance",
        Limit.SwipeRatio => "swipe-ratio",
        Limit.SamePlace => "same-place",
        Limit.OnePointer => "one-pointer",
        Limit.OtherGesture => "other-gesture",
        Limit.TrayHalf => "tray-half",
        Limit.ArmingLine => "arming-line",
        _ => limit.ToString().ToLowerInvariant(),
    };

    private static List<string>? Words(Modifiers modifiers) =>
        modifiers == Modifiers.None ? null : [.. new[] { Modifiers.Ctrl, Modifiers.Shift, Modifiers.Alt, Modifiers.Meta }.Where(m => modifiers.HasFlag(m)).Select(m => m.ToString())];
}
