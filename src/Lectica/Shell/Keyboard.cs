using Lectica.Acts;
using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;
using Lectica.States;
using Lectica.Tracing;

namespace Lectica.Shell;

/// <summary>What keys do: by the table in force, else by the commands' chords; and where the keyboard is.</summary>
internal sealed class Keyboard<TItem, TKey>(
    Core core, Actor actor, Scroller scroller, MenuKeeper<TItem, TKey> menus, SectionKeeper<TItem, TKey> sections,
        CommandBook<TItem, TKey> book, CommandRunner<TItem, TKey> runner,
    Framer<TItem, TKey> framer, Func<Situation> situation) where TKey : notnull
{
    /// <summary>The headers over the rows.</summary>
    public ColumnKeeper<TItem, TKey> Columns { get; set; } = null!;

    /// <summary>Puts back what is carried when the keyboard goes elsewhere.</summary>
    public Action<Act> PutBack { get; set; } = _ => { };

    public Response Take(KeyPress press)
    {
        if (double.IsFinite(press.Time)) core.Now = press.Time;
        core.Trace(() =>
            new TracedInput { T = core.Now, Type = "keydown", KeyName = press.Key, Modifiers = Words.Of(press.Modifiers) });
        // A modifier by itself means nothing yet.
        if (press.Key is "Control" or "Shift" or "Alt" or "Meta" or "AltGraph" or "CapsLock" or "Fn" or "Dead" or "Process")
            return new(false);
        actor.Use(byPointer: false);
        Focus();
        if (core.State.Menu.Menu is not null) return menus.Take(press);
        if (Columns.Take(press) is { } onHeader) return onHeader;
        if (core.Options.Keys.Find(press, situation(), core.Options.ModKey, core.Options.IsRightToLeft) is { } rule)
        {
            var response = new Response(rule.Acts.IsEmpty);
            foreach (var kind in rule.Acts)
            {
                var one = Do(new(kind, -1, rule.Name, rule.Text), rule.Direction);
                if (one.IsHandled || !response.IsHandled) response = one;
            }
            return response;
        }
        if (core.Options.Keys.FindsByTyping && press.IsPrintable && (press.Key != " " || core.State.Find.Typing.IsGathering(core.Now)))
            return actor.Do(new Act(ActKind.Type, -1, "typing", press.Key));
        foreach (var command in book.Commands)
            foreach (var chord in command.Chords)
                if (chord.Matches(press, core.Options.ModKey))
                    return runner.RunFor(
                        command, actor.TargetOfKey(), new(ActKind.RunCommand, core.Selection.Cursor, $"key {chord}", command.Id));
        return core.Refuse(null, new(RefusalKind.NoRule, $"No rule takes the key {press.Key} here."));
    }

    /// <summary>Whether a key that is pressed now would be used.</summary>
    public bool WouldTake(KeyPress press)
    {
        if (core.State.Menu.Menu is not null) return press.Key != "Tab";
        if (core.State.Focus.Header >= 0
            && press.Key is "ArrowLeft" or "ArrowRight" or "ArrowUp" or "ArrowDown" or "Home" or "End" or "Enter" or " " or "Escape")
            return true;
        if (core.Options.Keys.Find(press, situation(), core.Options.ModKey, core.Options.IsRightToLeft) is not null) return true;
        return (core.Options.Keys.FindsByTyping && press.IsPrintable && press.Key != " ")
            || book.Commands.Any(c => c.Chords.Any(k => k.Matches(press, core.Options.ModKey)));
    }

    /// <summary>The list has the keyboard now. Who uses keys has the cursor on the first selected item, else on the first row.</summary>
    public void Focus()
    {
        if (!core.State.Focus.IsHere) core.Commit(core.State with { Focus = core.State.Focus with { IsHere = true } });
        // Who has come by a pointer has not gone to any row: tools would be for one that nobody meant. The first key goes to it.
        if (core.State.Focus.IsByPointer) return;
        var selection = core.Selection;
        if (selection.Cursor >= 0 || selection.Heading is not null || selection.OnNotice) return;
        var first = selection.Items.IsEmpty ? -1 : selection.Items.Intersect(core.Rows.Shown).NextAt(0);
        var row = core.Rows.EntryAt(new(0));
        if (first < 0 && row.Kind == RowKind.Heading)
            core.Commit(core.State with { Selection = selection with { Heading = core.Rows.Sections[row.Section].Key } }, null, "focus");
        else if (first >= 0 || row.Index >= 0)
            core.Commit(core.State with { Selection = selection with { Cursor = first >= 0 ? first : row.Index } }, null, "focus");
    }

    /// <summary>The keyboard has gone elsewhere; the cursor stays where it is, unseen.</summary>
    public void Blur()
    {
        if (!core.State.Focus.IsHere) return;
        core.Commit(core.State with { Focus = core.State.Focus with { IsHere = false, IsByPointer = false } });
        if (core.State.Carrying.IsCarrying) PutBack(new Act(ActKind.DropBack, Rule: "focus"));
    }

    /// <summary>Does an act of a key: the cursor moves first.</summary>
    private Response Do(Act act, Direction direction)
    {
        var kind = act.Kind;
        if (kind is ActKind.MovePart or ActKind.Hover or ActKind.Move or ActKind.PressPart)
            return actor.Do(new ActCall(act with { Index = kind == ActKind.Hover ? -1 : core.Selection.Cursor }, Direction: direction));
        if (direction == Direction.None)
            return actor.Do(kind is ActKind.RunCommand or ActKind.ToggleMark ? act with { Index = core.Selection.Cursor } : act);
        if (core.Rows.Notice?.Kind == NoticeKind.Failed && direction == Direction.Here && kind == ActKind.Activate)
            return sections.Retry(act with { Kind = ActKind.Retry });
        if (scroller.CursorRow is not { } at) return actor.Do(act);
        // Above the first row are the headers.
        if (at.Value == 0 && direction is Direction.Previous or Direction.Up && kind is ActKind.MoveCursor or ActKind.Select
            && Columns.Enter())
            return Response.Handled;
        int row = at.Value, last = core.Rows.Count - 1;
        var target = Math.Clamp(direction switch
        {
            Direction.Previous => row - 1,
            Direction.Next => row + 1,
            Direction.Up => core.Geometry.Beyond(at, down: false).Value,
            Direction.Down => core.Geometry.Beyond(at, down: true).Value,
            Direction.LineStart => core.Geometry.LineStart(at).Value,
            Direction.LineEnd => core.Geometry.LineEnd(at).Value,
            Direction.First => 0,
            Direction.Last => last,
            Direction.PageUp => core.Geometry.PageFrom(at, core.Viewport.Height, down: false).Value,
            Direction.PageDown => core.Geometry.PageFrom(at, core.Viewport.Height, down: true).Value,
            _ => row,
        }, 0, last);
        var entry = core.Rows.EntryAt(new(target));
        var index = entry.Index;
        if (index < 0 && entry.Section >= 0)
        {
            var onHeading = direction == Direction.Here && entry.Kind == RowKind.Heading ? sections.DoOnHeading(act)
                : direction == Direction.Here ? core.Refuse(act, new(RefusalKind.NoItem, "The row at the cursor has no item to do it to."))
                : sections.MoveCursorTo(entry, act with { Kind = ActKind.MoveCursor });
            if (scroller.CursorRow is { } there) scroller.BringIntoView(there);
            return onHeading;
        }
        if (core.Rows.Footer?.Value == target)
        {
            if (direction == Direction.Here)
                return kind == ActKind.Activate ? sections.Retry(act with { Kind = ActKind.Retry })
                    : core.Refuse(act, new(RefusalKind.NoItem, "The row at the cursor has no item to do it to."));
            // A range ends at the last item.
            return kind is ActKind.Extend or ActKind.ExtendAdding && core.Rows.NextItemRow(new(target), down: false) is { } end
                ? actor.Do(act with { Index = core.Rows.IndexAt(end) }) : sections.MoveCursorToFooter(act);
        }
        // At an end a toggling key has nowhere to go, and must not toggle the same row again.
        if (kind == ActKind.Toggle && direction != Direction.Here && target == row) act = act with { Kind = ActKind.MoveCursor };
        var response = actor.Do(act with { Index = index });
        // A key moves the cursor even where the item there cannot be had.
        if (!response.IsHandled && direction != Direction.Here) response = actor.Do(act with { Kind = ActKind.MoveCursor, Index = index });
        if (core.Selection.Cursor >= 0) scroller.BringIntoView(core.Selection.Cursor);
        return response;
    }

    /// <summary>Takes the cursor to another part of its row.</summary>
    public Response MovePart(ActCall call)
    {
        if (call.Act.Index < 0)
            return core.Refuse(call.Act, new(RefusalKind.EmptyList, "Nothing shows: there is no row whose parts to go through."));
        core.TraceAct(call.Act);
        var last = framer.KeyParts.Length - 1;
        var now = core.State.Focus.Part;
        // The parts run from the leading edge; the key table has swapped left and right already where that is on the right.
        var next = call.Direction switch
        {
            Direction.PartLeft => now - 1,
            Direction.PartRight => now + 1,
            Direction.FirstPart => 0,
            _ => last,
        };
        core.Commit(core.State with { Focus = core.State.Focus with { Part = Math.Clamp(next, 0, last) } });
        scroller.BringIntoView(core.Selection.Cursor);
        return Response.Handled;
    }

    /// <summary>Does what a tap on the part at the cursor would.</summary>
    public Response PressPart(ActCall call)
    {
        var (act, cursor) = (call.Act, core.Selection.Cursor);
        if (cursor >= 0) scroller.BringIntoView(cursor);
        return framer.CursorPart?.Kind switch
        {
            PartKind.Check => actor.Do(act with { Kind = ActKind.Toggle, Index = cursor }),
            _ when core.Selection.Heading is not null => sections.DoOnHeading(act),
            null or PartKind.Body => actor.Do(act with { Kind = ActKind.Activate, Index = cursor }),
            PartKind.Mark =>
                actor.Do(act with { Kind = ActKind.ToggleMark, Index = cursor, Rule = "part", Text = framer.CursorPart!.Value.Name }),
            PartKind.Handle => actor.Do(act with { Kind = ActKind.Grab, Index = cursor }),
            PartKind.Menu => actor.Do(act with { Kind = ActKind.OpenMenu, Index = cursor }),
            _ => core.Refuse(act with { Index = cursor }, new(RefusalKind.NoRule,
                $"The part {framer.CursorPart} does nothing by itself: give a key rule that says what it does.")),
        };
    }
}
