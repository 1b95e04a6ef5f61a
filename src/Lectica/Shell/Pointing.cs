using Lectica.Acts;
using Lectica.Gestures;
using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;
using Lectica.States;
using Lectica.Tracing;

namespace Lectica.Shell;

/// <summary>What pointers do: samples become gestures, and gestures acts, by the rules of the list. Time comes with the samples.</summary>
internal sealed class Pointing<TItem, TKey>(
    Core core, ItemStore<TItem, TKey> store, Recogniser recogniser, Actor actor, Strokes strokes, MenuKeeper<TItem, TKey> menus,
        Framer<TItem, TKey> framer, Func<Situation> situation,
    Events<TItem, TKey> events) : IGestureField, IRowsWatcher where TKey : notnull
{
    private readonly List<Gesture> _gestures = [];
    private readonly List<Gesture> _cancelledByEdit = [];

    /// <summary>When something by time that no slot knows is due, and what does it.</summary>
    public Func<double?> NextOfDrag { get; set; } = () => null;

    /// <summary>Does what is due of a drag.</summary>
    public Action<double, double> DoOfDrag { get; set; } = (_, _) => { };

    /// <summary>Lets what has shown or stayed long enough go.</summary>
    public Action<double> Pass { get; set; } = _ => { };

    // ── What recognition asks ──

    /// <summary>The menu lies over the rows.</summary>
    public Hit HitAt(double x, double y) =>
        MenuPartAt(x, y) is { } part ? new(null, -1, part) : framer.Plane.HitAt(x, y);

    private Part? MenuPartAt(double x, double y)
    {
        if (!core.State.Menu.IsOpen) return null;
        (x, y) = core.Axes.Out(x, y);
        return menus.PartAt(x, y);
    }

    /// <summary>Nothing is begun on a notice or a disabled item; the list itself is pulled wherever the finger is.</summary>
    public bool Wants(GestureKind kind, PointerType pointer, Hit hit, Modifiers modifiers) =>
        (kind == GestureKind.Pull ? core.Viewport.ScrollTop <= 0
        : hit.Row is null || (hit.Index >= 0 && !core.State.Showing.Disabled.Contains(hit.Index)))
        && core.Options.Gestures.Find(
        kind, pointer, hit.Row is null ? null : hit.Part, modifiers, situation(), core.Options.ModKey) is not null;

    public bool IsTurned => core.Axes.IsAcross;

    // ── Input ──

    public Response Take(in PointerSample sample)
    {
        AdvanceTo(sample.Time);
        if (core.Out.Traced is not null) Trace(sample);
        if (sample.Kind == SampleKind.Down) actor.Use(byPointer: true);
        if (sample.Kind == SampleKind.Move && sample.PointerType == PointerType.Mouse) menus.Light(sample.X, sample.Y);
        _gestures.Clear();
        recogniser.Take(core.Axes.In(AsMeant(sample)), this, _gestures);
        return Take(_gestures);
    }

    // On Apple's systems the main button is the secondary one while Control is down.
    private PointerSample AsMeant(in PointerSample sample)
    {
        if (core.Options.ModKey != ModKey.Meta || sample.PointerType == PointerType.Touch || !sample.Modifiers.HasFlag(Modifiers.Ctrl))
            return sample;
        return sample with
        {
            Button = sample is { Kind: SampleKind.Down, Button: 0 } ? 2 : sample.Button,
            Modifiers = sample.Modifiers & ~Modifiers.Ctrl,
        };
    }

    /// <summary>Does what is due until then, in the order in which it is.</summary>
    public void AdvanceTo(double time)
    {
        if (!double.IsFinite(time)) return;
        while (NextOfDrag() is { } next && next <= time)
        {
            Recognise(next);
            if (NextOfDrag() == next) DoOfDrag(next, time);
        }
        Recognise(time);
        // Of several samples with one moment, or in no order, the latest counts.
        if (recogniser.ContactCount == 0 || time > core.Now) core.Now = time;
        Pass(time);
    }

    private void Recognise(double time)
    {
        if (!(recogniser.NextDeadline <= time)) return;
        _gestures.Clear();
        recogniser.Advance(time, this, _gestures);
        core.Now = Math.Max(core.Now, _gestures.Count > 0 ? _gestures[0].Time : core.Now);
        Take(_gestures);
    }

    /// <summary>Cancels whatever pointers are doing.</summary>
    public Response Cancel(Act act)
    {
        if (core.State.Stroke is null) return new(false);
        core.TraceAct(act);
        var cancelled = new List<Gesture>();
        recogniser.CancelAll("cancelled", cancelled);
        Take(cancelled);
        // A grab that has not moved yet is held, not dragged: nothing was running.
        if (core.State.Stroke is { } still) strokes.Cancel(still.PointerId);
        return Response.Handled;
    }

    /// <summary>Takes presses through an edit of the source.</summary>
    public void Follow(Edit edit) => recogniser.Follow(edit, _cancelledByEdit);

    /// <summary>The rows are others: what an edit broke off is told now.</summary>
    public void RowsChanged()
    {
        if (_cancelledByEdit.Count == 0) return;
        List<Gesture> cancelled = [.. _cancelledByEdit];
        _cancelledByEdit.Clear();
        Take(cancelled);
    }

    private Response Take(List<Gesture> gestures)
    {
        var response = new Response(false);
        if (gestures.Count == 0) return response;
        var looks = false;
        // An act may bring about gestures of its own, such as those that an edit cancels.
        for (var i = 0; i < gestures.Count; i++)
        {
            var gesture = gestures[i];
            if (gesture.Phase != GesturePhase.Move)
            {
                looks = true;
                core.Out.ChangeFrame();
            }
            var one = Take(gesture);
            if (one.IsHandled || (response.Refusal is null && !response.IsHandled)) response = one;
        }
        if (looks) TellPressed();
        return response;
    }

    private void TellPressed()
    {
        if (core.State.Pressed.IsEmpty && recogniser.ContactCount == 0) return;
        core.Commit(core.State with { Pressed = [.. recogniser.Pressed.Where(p => !core.State.Showing.Barred.Contains(p.Index))] });
    }

    private Response Take(in Gesture gesture)
    {
        if (gesture.Phase == GesturePhase.Move) return strokes.Move(gesture);
        if (core.Out.Traced is not null) Trace(gesture);
        if (gesture.Kind == GestureKind.Press) return new(gesture.Row is not null);
        if (gesture.Phase == GesturePhase.Cancel) return strokes.Cancel(gesture.PointerId);
        // After a long press that grabbed, the release drops.
        if (gesture.Phase == GesturePhase.End
            || (gesture.Kind == GestureKind.Release && core.State.Stroke?.PointerId == gesture.PointerId)) return strokes.End(gesture);
        if (gesture.Kind is GestureKind.Release) return new(gesture.Row is not null);
        if (!gesture.IsRecognised || gesture.Kind == GestureKind.Pan) return new(false);

        // What is disabled can still be expanded and collapsed.
        var barred = gesture.Index < 0 || gesture.Kind == GestureKind.Pull || gesture.Part.Kind == PartKind.Expander ? null
            : core.Rules.WhyBarred(gesture.Index);
        if (gesture.Index >= 0 && barred is null && gesture.Kind is GestureKind.Tap or GestureKind.DoubleTap
            && gesture.Part.Kind != PartKind.Tray) TellTapped(gesture);
        // And beside what is open or carried, it is a place like any other.
        if (core.Options.Gestures.Find(gesture, situation(), core.Options.ModKey, ends: barred is not null) is not { } rule)
        {
            if (barred is not null)
                return core.Refuse(null, barred with { Reason = $"{barred.Reason[..^1]}: the {Words.Of(gesture.Kind)} does nothing." });
            var place = gesture.Row is null ? "empty space" : gesture.Part.ToString();
            return core.Refuse(
                null, new(RefusalKind.NoRule,
                    $"No rule takes a {Words.Of(gesture.Kind)} by {Words.Of(gesture.PointerType)} on {place} here."));
        }
        // A double tap is two taps on the row, not one that closed a menu and one on the row.
        if (gesture.Kind != GestureKind.Tap || rule.Ends) recogniser.ForgetTaps();
        var response = new Response(rule.Acts.IsEmpty);
        var moment = core.Moment;
        foreach (var kind in rule.Acts)
        {
            // What the first act did may have moved the item for the second.
            var act = new Act(kind, moment.Carry(gesture.Index), rule.Name);
            if (ActTraits.Of(kind).On is not null || rule.Text is not null) act = act with { Text = rule.Text ?? gesture.Part.Name };
            var one = act.GoesOn ? strokes.Begin(new(act, gesture)) : actor.Do(new ActCall(act, gesture));
            if (one.IsHandled || !response.IsHandled) response = one;
        }
        if (gesture.Kind == GestureKind.LongPress && response.IsHandled) core.Hint(HapticHint.LongPress);
        return response;
    }

    private void TellTapped(Gesture gesture)
    {
        if (!store.Has(gesture.Index)) return;
        var (item, key) = (store.ItemAt(gesture.Index), core.App.Ask(() => store.KeyAt(gesture.Index)));
        core.Trace(() => new TracedChange
        {
            T = core.Now,
            Change = "tapped",
            Key = store.TextOf(key),
            Index = gesture.Index,
            Row = gesture.Row?.Value,
            Part = gesture.Part.ToString(),
        });
        core.Out.Raise(
            events.Tapped, new(item, key, gesture.Index, gesture.Row!.Value, gesture.Part, gesture.Kind == GestureKind.DoubleTap ? 2 : 1));
    }

    private void Trace(PointerSample sample) => core.Trace(() => new TracedInput
    {
        T = core.Now,
        Type = sample.Kind switch
        {
            SampleKind.Down => "pointerdown",
            SampleKind.Move => "pointermove",
            SampleKind.Up => "pointerup",
            _ => "pointercancel",
        },
        Pointer = sample.PointerId,
        PointerType = Words.Of(sample.PointerType),
        X = sample.Kind == SampleKind.Cancel || !double.IsFinite(sample.X) ? null : sample.X,
        Y = sample.Kind == SampleKind.Cancel || !double.IsFinite(sample.Y) ? null : sample.Y,
        Button = sample.Kind is SampleKind.Down or SampleKind.Up ? sample.Button : null,
        Modifiers = Words.Of(sample.Modifiers),
    });

    private void Trace(Gesture gesture) => core.Trace(() => new TracedGesture
    {
        T = gesture.Time,
        Gesture = Words.Of(gesture.Kind),
        Phase = gesture.Phase switch
        {
            GesturePhase.Begin => "begin",
            GesturePhase.End => "end",
            GesturePhase.Cancel => "cancel",
            _ => null,
        },
        Recognised = gesture.IsRecognised,
        Pointer = gesture.PointerId,
        PointerType = Words.Of(gesture.PointerType),
        Row = gesture.Row?.Value,
        Key = core.KeyText(gesture.Index),
        Part = gesture.Row is null ? null : gesture.Part.ToString(),
        Reason = gesture.Reason,
        Criterion = gesture.Shortfall.Criterion == Criterion.None ? null : Words.Of(gesture.Shortfall.Criterion),
        Measured = gesture.Shortfall.Bound == 0 || !double.IsFinite(gesture.Shortfall.Measured) ? null : gesture.Shortfall.Measured,
        Bound = gesture.Shortfall.Bound == 0 || !double.IsFinite(gesture.Shortfall.Bound) ? null : gesture.Shortfall.Bound,
    });
}
