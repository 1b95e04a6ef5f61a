using System.Globalization;
using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;

namespace Lectica.Gestures;

/// <summary>
/// Makes gestures of pointer samples. A state machine that knows no clock and no list: time comes with the samples or by
/// <see cref="Advance"/>, and what is under a point, and wanted there, from the field. The same samples give the same gestures.
/// <para>A contact goes from pending (it may still be several gestures) to held (its long press fired), to running (it is a swipe or drag)
/// or to spent (nothing more comes of it). At each step what it can be no longer is reported with its reason, so that at its end every
/// gesture that was possible at the press has been told of, as recognised or as rejected. One contact runs at a time.</para>
/// <para>A press belongs to the item under it at the down, not to the place: when the source changes meanwhile, <see cref="Follow"/>
/// carries it along, and a release over another item is not a tap.</para>
/// <para>Whatever comes, nothing throws and no contact gets stuck: times that go back count as the latest time, positions that are no
/// numbers as the last ones, a second down and a move with no button down as an end that was never reported.</para>
/// </summary>
internal sealed class Recogniser(Thresholds thresholds)
{
    private enum Stage
    {
        Pending,
        Held,
        Running,
        Spent,
    }

    /// <summary>A pointer that is down.</summary>
    private sealed class Contact
    {
        public int Id, Button;
        public PointerType Type;
        public Stage Stage;
        public Hit Hit;
        public Modifiers Modifiers;
        public double StartX, StartY, StartTime, X, Y, Time, Farthest, FarthestAt, Deadline;
        public GestureKind Running;
        public bool HasCrossed, IsTurned;

        /// <summary>Whether no rule takes a long press where it went down.</summary>
        public bool NoLongPress;

        /// <summary>Which gestures it may still be: bit k for kind k.</summary>
        public int Open;
        public readonly VelocityTrack Track = new();

        public bool MayBe(GestureKind kind) => (Open & (1 << (int)kind)) != 0;
    }

    private readonly record struct LastTap(PointerType Type, int Index, Part Part, double X, double Y, double Time);

    private static readonly GestureKind[] AskedAtPress = [GestureKind.LongPress, GestureKind.Swipe, GestureKind.Drag, GestureKind.Pull];

    private readonly List<Contact> _contacts = [];
    private readonly Stack<Contact> _spare = new();
    private readonly List<LastTap> _taps = [];
    private double _now = double.NegativeInfinity, _told = double.NegativeInfinity;

    /// <summary>The number of pointers that are down.</summary>
    public int ContactCount => _contacts.Count;

    /// <summary>The items that pointers came down on and have not left yet, whatever has become of it.</summary>
    public IReadOnlyList<int> Touched => _contacts.Count == 0 ? [] : [.. _contacts.Where(c => c.Hit.Index >= 0).Select(c => c.Hit.Index)];

    /// <summary>Whether a pointer is down.</summary>
    public bool HasContact(int pointerId) => Find(pointerId) is not null;

    /// <summary>Whether a pointer is held after a long press that was recognised.</summary>
    public bool IsHolding => _contacts.Exists(c => c.Stage == Stage.Held);

    /// <summary>The items that are pressed now, with the part; empty space is not listed.</summary>
    public IReadOnlyList<(int Index, Part Part)> Pressed => _contacts.Count == 0 ? []
        : [.. _contacts.Where(c => c.Hit.Index >= 0 && !c.HasCrossed && c.Stage is Stage.Pending or Stage.Held)
        .Select(c => (c.Hit.Index, c.Hit.Part))];

    /// <summary>When <see cref="Advance"/> should be called next, ms on the samples' clock; null where nothing waits.</summary>
    public double? NextDeadline
    {
        get
        {
            var next = double.PositiveInfinity;
            foreach (var contact in _contacts) next = Math.Min(next, contact.Deadline);
            return double.IsPositiveInfinity(next) ? null : next;
        }
    }

    /// <summary>
    /// Takes one sample and adds what it completes, recognised or not, to <paramref name="gestures"/>. A move that completes nothing, or
    /// that goes on with a running gesture, allocates nothing.
    /// </summary>
    public void Take(in PointerSample sample, IGestureField field, List<Gesture> gestures)
    {
        var time = Clock(sample.Time);
        Advance(time, field, gestures);
        var contact = Find(sample.PointerId);
        if (sample.Kind == SampleKind.Down)
        {
            Down(contact, sample, time, field, gestures);
            return;
        }
        if (contact is null) return;
        contact.Modifiers = sample.Modifiers;
        contact.Time = time;
        if (sample.Kind == SampleKind.Cancel)
        {
            Break(contact, $"the host took the pointer back at {Ms(time - contact.StartTime)}", gestures);
            return;
        }
        if (sample.Kind == SampleKind.Move && sample.Buttons == 0)
        {
            Break(contact, "its release was never reported", gestures);
            return;
        }
        if (double.IsFinite(sample.X) && double.IsFinite(sample.Y)) (contact.X, contact.Y) = (sample.X, sample.Y);
        contact.Track.Add(time, contact.X);
        Move(contact, field, gestures, sample.Kind == SampleKind.Up);
        if (sample.Kind == SampleKind.Up) Up(contact, field, gestures);
    }

    /// <summary>Lets time pass: long presses whose deadline has come fire, as of their deadline. Calling late does no harm.</summary>
    public void Advance(double time, IGestureField field, List<Gesture> gestures)
    {
        if (double.IsFinite(time)) _now = Math.Max(_now, time);
        foreach (var contact in _contacts)
        {
            if (!(contact.Deadline <= time)) continue;
            var late = contact.Deadline;
            contact.Deadline = double.PositiveInfinity;
            contact.Stage = Stage.Held;
            contact.Open &= ~(1 << (int)GestureKind.LongPress);
            var told = $"held for {Ms(late - contact.StartTime)}";
            RuleOutAll(contact, told, new(Criterion.OtherGesture), gestures, late);
            gestures.Add(
                Report(contact, GestureKind.LongPress, GesturePhase.Done,
                    $"{told}, moved {Px(contact.Farthest)}, tolerance {Px(thresholds.For(contact.Type).Tolerance)}", late));
        }
    }

    /// <summary>Carries presses and half double taps along when the source changes. A swipe whose item leaves is cancelled.</summary>
    public void Follow(Edit edit, List<Gesture> gestures)
    {
        for (var i = _contacts.Count - 1; i >= 0; i--)
        {
            var contact = _contacts[i];
            if (contact.Hit.Index < 0) continue;
            var index = edit.Apply(contact.Hit.Index);
            contact.Hit = contact.Hit with { Index = index };
            // Rows that are dragged may go on without the one under the pointer.
            if (index < 0 && !(contact.Stage == Stage.Running && contact.Running != GestureKind.Swipe))
                Spend(contact, "the pressed item was removed", gestures);
        }
        for (var i = _taps.Count - 1; i >= 0; i--)
        {
            if (_taps[i].Index < 0) continue;
            var index = edit.Apply(_taps[i].Index);
            if (index < 0) _taps.RemoveAt(i);
            else _taps[i] = _taps[i] with { Index = index };
        }
    }

    /// <summary>Cancels whatever pointers are doing, for Escape or a lost window; their releases then mean nothing.</summary>
    public void CancelAll(string reason, List<Gesture> gestures)
    {
        foreach (var contact in _contacts) Spend(contact, reason, gestures);
    }

    /// <summary>Lets no tap until now be the first half of a double tap.</summary>
    public void ForgetTaps() => _taps.Clear();

    /// <summary>What it knows while no pointer is down: for a way back.</summary>
    internal sealed record Memory(double Now, double Told, object Taps);

    internal Memory Remember() => new(_now, _told, _taps.ToArray());

    internal void Return(Memory memory)
    {
        _contacts.Clear();
        (_now, _told) = (memory.Now, memory.Told);
        _taps.Clear();
        _taps.AddRange((LastTap[])memory.Taps);
    }

    private double Clock(double time)
    {
        // A clock may begin again while nothing is down.
        if (_contacts.Count == 0 && double.IsFinite(time))
        {
            if (time < _now) _taps.Clear();
            return _now = _told = time;
        }
        return double.IsFinite(time) ? _now = Math.Max(_now, time) : double.IsFinite(_now) ? _now : _now = 0;
    }

    private Contact? Find(int pointerId)
    {
        foreach (var contact in _contacts)
            if (contact.Id == pointerId) return contact;
        return null;
    }

    private void Down(Contact? stale, in PointerSample sample, double time, IGestureField field, List<Gesture> gestures)
    {
        if (sample.Button is not (0 or 2)) return;
        if (stale is not null) Break(stale, "its end was never reported", gestures);
        var hit = field.HitAt(sample.X, sample.Y);
        if (!_spare.TryPop(out var contact)) contact = new();
        (contact.Id, contact.Type, contact.Button, contact.Hit, contact.Modifiers) =
            (sample.PointerId, sample.PointerType, sample.Button, hit, sample.Modifiers);
        (contact.StartX, contact.StartY, contact.StartTime) = (Finite(sample.X), Finite(sample.Y), time);
        (contact.X, contact.Y, contact.Time, contact.Farthest, contact.FarthestAt) = (contact.StartX, contact.StartY, time, 0, 0);
        (contact.Stage, contact.HasCrossed, contact.NoLongPress, contact.Deadline, contact.Open) =
            (Stage.Pending, false, false, double.PositiveInfinity, 1 << (int)TapKind(contact));
        contact.IsTurned = field.IsTurned;
        contact.Track.Clear();
        contact.Track.Add(time, contact.X);

        Contact? busy = null, other = null;
        foreach (var c in _contacts)
        {
            if (c.Stage is Stage.Running or Stage.Held) busy = c;
            else if (c.Stage == Stage.Pending) other = c;
        }
        _contacts.Add(contact);
        gestures.Add(Report(contact, GestureKind.Press, GesturePhase.Done, $"{Word(contact.Type)} down on {Spot(hit)}"));
        if (busy is not null)
        {
            contact.Stage = Stage.Spent;
            RuleOutAll(contact, $"pointer {busy.Id} is {(busy.Stage == Stage.Held ? "held" : "dragging")} already",
                new(Criterion.OnePointer, 2, 1), gestures);
            return;
        }
        if (other is { Type: PointerType.Touch } && contact.Type == PointerType.Touch && time - other.StartTime <= thresholds.TogetherTime)
        {
            // Pinching to zoom, above all.
            foreach (var c in _contacts)
            {
                if (c is not { Type: PointerType.Touch, Stage: Stage.Pending }) continue;
                c.Stage = Stage.Spent;
                RuleOutAll(c, $"two fingers came down within {Ms(time - other.StartTime)} and are the host's",
                    new(Criterion.OnePointer, _contacts.Count, 1), gestures);
            }
            return;
        }
        foreach (var c in _contacts)
        {
            if (c == contact || c.Type != contact.Type || hit.Row is null || c.Hit.Row != hit.Row || c.Hit.Index != hit.Index
                || c.Hit.Part != hit.Part) continue;
            // One thing is pressed once, however many fingers are on it.
            contact.Stage = Stage.Spent;
            RuleOutAll(contact, $"pointer {c.Id} is down on {Spot(hit)} already", new(Criterion.OnePointer, 2, 1), gestures);
            break;
        }
        if (contact.Button == 0 && contact.Stage == Stage.Pending)
            foreach (var kind in AskedAtPress)
            {
                if (kind == GestureKind.LongPress && !double.IsFinite(thresholds.For(contact.Type).LongPressTime)) continue;
                if (field.Wants(kind, contact.Type, hit, contact.Modifiers)) contact.Open |= 1 << (int)kind;
                else if (kind == GestureKind.LongPress) contact.NoLongPress = true;
            }
        if (contact.MayBe(GestureKind.LongPress)) contact.Deadline = time + thresholds.For(contact.Type).LongPressTime;
        if (other is null) return;
        foreach (var c in _contacts)
            if (c.Stage == Stage.Pending)
                RuleOut(c, GestureKind.LongPress, $"{_contacts.Count} pointers are down at {Ms(time - c.StartTime)}",
                    new(Criterion.OnePointer, _contacts.Count, 1), gestures);
    }

    private static double Finite(double value) => double.IsFinite(value) ? value : 0;

    private void Move(Contact contact, IGestureField field, List<Gesture> gestures, bool isUp)
    {
        double dx = contact.X - contact.StartX, dy = contact.Y - contact.StartY;
        var distance = Math.Sqrt((dx * dx) + (dy * dy));
        if (distance > contact.Farthest) (contact.Farthest, contact.FarthestAt) = (distance, contact.Time - contact.StartTime);
        if (contact.Stage == Stage.Running)
        {
            if (!isUp) gestures.Add(Report(contact, contact.Running, GesturePhase.Move, ""));
            return;
        }
        if (contact.HasCrossed || distance <= thresholds.For(contact.Type).Tolerance || contact.Stage == Stage.Spent) return;
        contact.HasCrossed = true;
        if (contact.Stage == Stage.Held)
        {
            // Asked only now: what the long press did may have made it possible.
            if (field.Wants(GestureKind.HoldDrag, contact.Type, contact.Hit, contact.Modifiers))
                Begin(contact, GestureKind.HoldDrag, gestures);
            return;
        }
        if (contact.MayBe(GestureKind.Swipe))
        {
            if (Math.Abs(dx) > thresholds.SwipeRatio * Math.Abs(dy))
            {
                Begin(contact, GestureKind.Swipe, gestures);
                return;
            }
            RuleOut(contact, GestureKind.Swipe,
                $"went {Px(Math.Abs(dx))} {(contact.IsTurned ? "up or down" : "along the row")} and {Px(Math.Abs(dy))} " +
                    $"{(contact.IsTurned ? "along the strip" : "across it")}, a swipe goes more than " +
                        $"{thresholds.SwipeRatio.ToString(CultureInfo.InvariantCulture)} times as far " +
                            $"{(contact.IsTurned ? "up or down" : "along")}",
                new(Criterion.SwipeRatio, dy == 0 ? double.MaxValue : Math.Abs(dx / dy), thresholds.SwipeRatio), gestures);
        }
        if (contact.MayBe(GestureKind.Drag)) Begin(contact, GestureKind.Drag, gestures);
        else if (contact.MayBe(GestureKind.Pull) && dy > Math.Abs(dx)) Begin(contact, GestureKind.Pull, gestures);
        else if (contact.Type == PointerType.Touch)
        {
            var told = Strayed(contact);
            contact.Stage = Stage.Spent;
            RuleOutAll(contact, told, new(Criterion.Tolerance, contact.Farthest, thresholds.Touch.Tolerance), gestures);
            gestures.Add(Report(contact, GestureKind.Pan, GesturePhase.Begin, $"{told}: the host scrolls"));
        }
        else
        {
            // By mouse or pen, where nothing can be dragged, it is still a tap if it ends in its row.
            contact.HasCrossed = contact.Button != 0;
            RuleOut(contact, GestureKind.LongPress, Strayed(contact),
                new(Criterion.Tolerance, contact.Farthest, thresholds.For(contact.Type).Tolerance), gestures);
        }
    }

    private string Strayed(Contact contact) =>
        $"moved {Px(contact.Farthest)} at {Ms(contact.FarthestAt)}, tolerance {Px(thresholds.For(contact.Type).Tolerance)}";

    private void Begin(Contact contact, GestureKind kind, List<Gesture> gestures)
    {
        var told = Strayed(contact);
        contact.Stage = Stage.Running;
        contact.Running = kind;
        contact.Open &= ~(1 << (int)kind);
        RuleOutAll(contact, told, new(Criterion.Tolerance, contact.Farthest, thresholds.For(contact.Type).Tolerance), gestures);
        var isForward = contact.X > contact.StartX;
        var way = kind != GestureKind.Swipe ? "" : contact.IsTurned ? isForward ? ", down" : ", up" : isForward ? ", to the right"
            : ", to the left";
        gestures.Add(Report(contact, kind, GesturePhase.Begin, told + way));
        // Whatever else is down has nothing more to do.
        foreach (var other in _contacts)
            if (other != contact && other.Stage != Stage.Spent)
            {
                other.Stage = Stage.Spent;
                RuleOutAll(other, $"pointer {contact.Id} began a {Name(kind)}", new(Criterion.OnePointer, 2, 1), gestures);
            }
    }

    private void Up(Contact contact, IGestureField field, List<Gesture> gestures)
    {
        switch (contact.Stage)
        {
            case Stage.Running:
                gestures.Add(
                    Report(contact, contact.Running, GesturePhase.End, $"released after {Ms(contact.Time - contact.StartTime)}") with
                    {
                        VelocityX = contact.Track.Velocity(contact.Time, thresholds.VelocityTime),
                    });
                break;
            case Stage.Pending:
                Tap(contact, field.HitAt(contact.X, contact.Y), gestures);
                return;
            case Stage.Held:
                if (!contact.HasCrossed && field.Wants(GestureKind.HoldDrag, contact.Type, contact.Hit, contact.Modifiers))
                    contact.Open |= 1 << (int)GestureKind.HoldDrag;
                RuleOutAll(contact, $"moved {Px(contact.Farthest)}, tolerance {Px(thresholds.For(contact.Type).Tolerance)}",
                    new(Criterion.Tolerance, contact.Farthest, thresholds.For(contact.Type).Tolerance), gestures);
                gestures.Add(Report(contact, GestureKind.Release, GesturePhase.Done, "released after a long press: no tap"));
                break;
            default:
                gestures.Add(Report(contact, GestureKind.Release, GesturePhase.Done, "released"));
                break;
        }
        Drop(contact);
    }

    private void Tap(Contact contact, Hit hit, List<Gesture> gestures)
    {
        var limits = thresholds.For(contact.Type);
        var held = contact.Time - contact.StartTime;
        RuleOut(contact, GestureKind.LongPress, $"released after {Ms(held)}, a long press takes {Ms(limits.LongPressTime)}",
            new(Criterion.LongPressTime, held, limits.LongPressTime), gestures);
        if (contact.NoLongPress && held >= limits.LongPressTime)
            gestures.Add(
                Report(contact, GestureKind.LongPress, GesturePhase.Rejected,
                    $"held for {Ms(held)}, but no rule takes a long press on {Spot(contact.Hit)} now: no long press") with
                {
                    Shortfall = new(Criterion.NoRule),
                });
        var stayed = $"moved {Px(contact.Farthest)}, tolerance {Px(limits.Tolerance)}";
        RuleOut(contact, GestureKind.Swipe, stayed, new(Criterion.Tolerance, contact.Farthest, limits.Tolerance), gestures);
        RuleOut(contact, GestureKind.Drag, stayed, new(Criterion.Tolerance, contact.Farthest, limits.Tolerance), gestures);
        RuleOut(contact, GestureKind.Pull, stayed, new(Criterion.Tolerance, contact.Farthest, limits.Tolerance), gestures);
        var kind = TapKind(contact);
        // Rows that are no items have no index to tell them apart.
        var otherRow = hit.Index != contact.Hit.Index || (hit.Index < 0 && hit.Row != contact.Hit.Row);
        if (otherRow || hit.Part != contact.Hit.Part || contact.HasCrossed)
        {
            var why = contact.HasCrossed ? Strayed(contact)
                : otherRow ? $"pressed on {Spot(contact.Hit)}, released on {Spot(hit)}"
                : $"pressed on {contact.Hit.Part}, released on {hit.Part} of the same row";
            RuleOut(contact, kind, why,
                contact.HasCrossed ? new(Criterion.Tolerance, contact.Farthest, limits.Tolerance) : new(Criterion.SamePlace), gestures);
            gestures.Add(Report(contact, GestureKind.Release, GesturePhase.Done, "released"));
            Drop(contact);
            return;
        }

        contact.Hit = hit;
        var told = contact.Farthest <= limits.Tolerance ? $"{stayed}; released after {Ms(held)}"
            : $"moved {Px(contact.Farthest)} and ended on its row, where nothing is dragged; released after {Ms(held)}";
        if (kind == GestureKind.Tap)
        {
            var earlier = _taps.FindIndex(t => t.Type == contact.Type);
            var last = earlier < 0 ? (LastTap?)null : _taps[earlier];
            if (earlier >= 0) _taps.RemoveAt(earlier);
            if (last is { } first && hit.Index >= 0)
            {
                double pause = Math.Max(0, contact.StartTime - first.Time),
                    apart = Distance(first.X, first.Y, contact.StartX, contact.StartY);
                var counts = $"pressed again after {Ms(pause)}, {Px(apart)} away; " +
                    $"limits {Ms(limits.DoubleTapTime)} and {Px(limits.DoubleTapDistance)}";
                var same = first.Index == hit.Index && first.Part == hit.Part;
                // What one finger does while another is still down is not half of a double tap.
                var overlaps = contact.StartTime < first.Time;
                if (overlaps) counts = $"pressed {Ms(first.Time - contact.StartTime)} before the first tap was over";
                if (same && !overlaps && pause <= limits.DoubleTapTime && apart <= limits.DoubleTapDistance)
                {
                    gestures.Add(Report(contact, GestureKind.DoubleTap, GesturePhase.Done, $"{told}; {counts}"));
                    Drop(contact);
                    return;
                }
                if (pause <= 2 * limits.DoubleTapTime)
                    gestures.Add(
                        Report(contact, GestureKind.DoubleTap, GesturePhase.Rejected,
                            same || overlaps ? $"{counts}: no double tap"
                                : $"{counts}, and on another place than the first: no double tap") with
                        {
                            Shortfall = overlaps ? new(Criterion.OnePointer, 2, 1) : !same ? new(Criterion.SamePlace)
                            : apart > limits.DoubleTapDistance ? new(Criterion.DoubleTapDistance, apart, limits.DoubleTapDistance)
                            : new(Criterion.DoubleTapTime, pause, limits.DoubleTapTime),
                        });
            }
            _taps.Add(new(contact.Type, hit.Index, hit.Part, contact.StartX, contact.StartY, contact.Time));
        }
        gestures.Add(Report(contact, kind, GesturePhase.Done, told));
        Drop(contact);
    }

    /// <summary>Ends a contact whose pointer is gone without a release.</summary>
    private void Break(Contact contact, string reason, List<Gesture> gestures)
    {
        Spend(contact, reason, gestures);
        gestures.Add(Report(contact, GestureKind.Release, GesturePhase.Done, reason));
        Drop(contact);
    }

    /// <summary>Lets nothing more come of a contact that is still down.</summary>
    private void Spend(Contact contact, string reason, List<Gesture> gestures)
    {
        if (contact.Stage == Stage.Running) gestures.Add(Report(contact, contact.Running, GesturePhase.Cancel, reason));
        contact.Stage = Stage.Spent;
        RuleOutAll(contact, reason, new(Criterion.Interrupted), gestures);
    }

    private void Drop(Contact contact)
    {
        _contacts.Remove(contact);
        _spare.Push(contact);
    }

    private void RuleOutAll(Contact contact, string reason, Shortfall shortfall, List<Gesture> gestures, double? time = null)
    {
        for (var kind = GestureKind.Tap; kind <= GestureKind.Pan; kind++) RuleOut(contact, kind, reason, shortfall, gestures, time);
    }

    private void RuleOut(Contact contact, GestureKind kind, string reason, Shortfall shortfall, List<Gesture> gestures, double? time = null)
    {
        if (!contact.MayBe(kind)) return;
        contact.Open &= ~(1 << (int)kind);
        if (kind == GestureKind.LongPress) contact.Deadline = double.PositiveInfinity;
        gestures.Add(Report(contact, kind, GesturePhase.Rejected, $"{reason}: no {Name(kind)}", time) with { Shortfall = shortfall });
    }

    private static GestureKind TapKind(Contact contact) => contact.Button == 2 ? GestureKind.SecondaryTap : GestureKind.Tap;

    /// <summary>
    /// A verdict on a contact, as of now: what another pointer or an edit brought about has come later than its own last sample.
    /// </summary>
    private Gesture Report(Contact contact, GestureKind kind, GesturePhase phase, string reason, double? time = null)
    {
        _told = Math.Max(_told, time ?? Math.Max(contact.Time, _now));
        return new(kind, phase, contact.Id, contact.Type, contact.Hit.Row, contact.Hit.Index, contact.Hit.Part, contact.Modifiers,
            contact.StartX, contact.StartY, contact.X, contact.Y, _told, 0, reason, default);
    }

    private static double Distance(double x1, double y1, double x2, double y2) =>
        Math.Sqrt(((x2 - x1) * (x2 - x1)) + ((y2 - y1) * (y2 - y1)));

    private static string Px(double value) => value.ToString("0.#", CultureInfo.InvariantCulture) + " px";

    private static string Ms(double value) => value.ToString("0.#", CultureInfo.InvariantCulture) + " ms";

    private static string Word(PointerType type) => type switch { PointerType.Touch => "finger", PointerType.Pen => "pen", _ => "mouse" };

    private static string Name(GestureKind kind) => kind switch
    {
        GestureKind.DoubleTap => "double tap",
        GestureKind.SecondaryTap => "secondary tap",
        GestureKind.LongPress => "long press",
        GestureKind.HoldDrag => "drag after it",
        _ => kind.ToString().ToLowerInvariant(),
    };

    private static string Spot(Hit hit) =>
        hit.Row is { } row ? (hit.Part == Part.Body ? $"{row}" : $"{hit.Part} of {row}") : "empty space";
}
