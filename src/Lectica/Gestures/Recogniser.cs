using System.Globalization;
using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;

namespace Lectica.Gestures;

/// <summary>
/// Makes gestures of pointer samples. A state machine that knows no clock and no list: time comes with the samples, and what is under
/// a point from the hit tester. The same samples over the same rows give the same gestures.
/// <para>A press belongs to the item under it at the down, not to the place: when the source changes meanwhile, <see cref="Follow"/>
/// carries it along, and a release over another item is no tap.</para>
/// </summary>
public sealed class Recogniser(Thresholds thresholds)
{
    private readonly List<Press> _presses = [];
    private readonly List<LastTap> _taps = [];

    private record struct Press(int PointerId, PointerType Type, int Button, Hit Hit, double X, double Y, double Time, double Farthest, double FarthestAt, string? Lost);

    private readonly record struct LastTap(PointerType Type, int Index, Part Part, double X, double Y, double Time);

    /// <summary>The items that are pressed now, with the part; empty space is not listed.</summary>
    public IEnumerable<(int Index, Part Part)> Pressed => _presses.Where(p => p.Hit.Index >= 0 && p.Lost is null).Select(p => (p.Hit.Index, p.Hit.Part));

    /// <summary>Takes one sample and adds what it completes, recognised or not, to <paramref name="gestures"/>. A move that completes nothing allocates nothing.</summary>
    public void Take(in PointerSample sample, IHitTester rows, List<Gesture> gestures)
    {
        ArgumentNullException.ThrowIfNull(rows);
        ArgumentNullException.ThrowIfNull(gestures);
        switch (sample.Kind)
        {
            case SampleKind.Down:
                Down(sample, rows, gestures);
                break;
            case SampleKind.Move:
                if (Find(sample.PointerId) is >= 0 and var moving) Move(moving, sample, gestures);
                break;
            case SampleKind.Up:
                if (Find(sample.PointerId) is >= 0 and var ending) Up(ending, sample, rows, gestures);
                break;
            case SampleKind.Cancel:
                if (Find(sample.PointerId) is >= 0 and var gone)
                    End(gone, sample, gestures, $"the host took the pointer back at {Ms(sample.Time - _presses[gone].Time)}: no tap");
                break;
        }
    }

    /// <summary>Carries presses and half double taps along when the source changes.</summary>
    public void Follow(Edit edit)
    {
        ArgumentNullException.ThrowIfNull(edit);
        for (var i = 0; i < _presses.Count; i++)
        {
            var press = _presses[i];
            if (press.Hit.Index < 0) continue;
            var index = edit.Apply(press.Hit.Index);
            _presses[i] = press with { Hit = press.Hit with { Index = index }, Lost = press.Lost ?? (index < 0 ? "the pressed item was removed: no tap" : null) };
        }
        for (var i = _taps.Count - 1; i >= 0; i--)
        {
            if (_taps[i].Index < 0) continue;
            var index = edit.Apply(_taps[i].Index);
            if (index < 0) _taps.RemoveAt(i);
            else _taps[i] = _taps[i] with { Index = index };
        }
    }

    private int Find(int pointerId)
    {
        for (var i = 0; i < _presses.Count; i++)
            if (_presses[i].PointerId == pointerId) return i;
        return -1;
    }

    private void Down(in PointerSample sample, IHitTester rows, List<Gesture> gestures)
    {
        if (sample.Button is not (0 or 2)) return;
        // A down for a contact that is down already: its up was lost.
        if (Find(sample.PointerId) is >= 0 and var stale) End(stale, sample, gestures, "its end was never reported: no tap");
        var hit = rows.HitAt(sample.X, sample.Y);
        var press = new Press(sample.PointerId, sample.PointerType, sample.Button, hit, sample.X, sample.Y, sample.Time, 0, 0, null);
        _presses.Add(press);
        gestures.Add(Report(press, GestureKind.Press, true, sample, $"{Word(sample.PointerType)} down on {Place(hit)}"));
    }

    private void Move(int at, in PointerSample sample, List<Gesture> gestures)
    {
        var press = _presses[at];
        var distance = Distance(press.X, press.Y, sample.X, sample.Y);
        if (distance <= press.Farthest) return;
        press = press with { Farthest = distance, FarthestAt = Math.Max(0, sample.Time - press.Time) };
        var tolerance = thresholds.For(press.Type).Tolerance;
        if (distance > tolerance && press.Lost is null)
        {
            press.Lost = $"moved {Px(distance)} at {Ms(press.FarthestAt)}, tolerance {Px(tolerance)}: no tap";
            gestures.Add(Report(press, TapKind(press), false, sample, press.Lost));
        }
        _presses[at] = press;
    }

    private void Up(int at, in PointerSample sample, IHitTester rows, List<Gesture> gestures)
    {
        // The release counts as a move first: it may be the first sample past the tolerance.
        Move(at, sample, gestures);
        var press = _presses[at];
        if (press.Lost is { } lost)
        {
            End(at, sample, gestures, lost);
            return;
        }
        var hit = rows.HitAt(sample.X, sample.Y);
        // Rows that are no items have no index to tell them apart.
        if (hit.Index != press.Hit.Index || (hit.Index < 0 && hit.Row != press.Hit.Row))
        {
            End(at, sample, gestures, $"pressed on {Place(press.Hit)}, released on {Place(hit)}: no tap");
            return;
        }
        if (hit.Part != press.Hit.Part)
        {
            End(at, sample, gestures, $"pressed on {press.Hit.Part}, released on {hit.Part} of the same row: no tap");
            return;
        }

        _presses.RemoveAt(at);
        press = press with { Hit = hit };
        var limits = thresholds.For(press.Type);
        var told = $"moved {Px(press.Farthest)}, tolerance {Px(limits.Tolerance)}; released after {Ms(sample.Time - press.Time)}";
        var kind = TapKind(press);
        if (kind == GestureKind.Tap)
        {
            var earlier = _taps.FindIndex(t => t.Type == press.Type);
            var last = earlier < 0 ? (LastTap?)null : _taps[earlier];
            if (earlier >= 0) _taps.RemoveAt(earlier);
            if (last is { } first && first.Index == hit.Index && first.Part == hit.Part && hit.Index >= 0)
            {
                double pause = Math.Max(0, press.Time - first.Time), apart = Distance(first.X, first.Y, press.X, press.Y);
                var counts = $"pressed again after {Ms(pause)}, {Px(apart)} away; limits {Ms(limits.DoubleTapTime)} and {Px(limits.DoubleTapDistance)}";
                if (pause <= limits.DoubleTapTime && apart <= limits.DoubleTapDistance)
                {
                    gestures.Add(Report(press, GestureKind.DoubleTap, true, sample, $"{told}; {counts}"));
                    return;
                }
                if (pause <= 2 * limits.DoubleTapTime) gestures.Add(Report(press, GestureKind.DoubleTap, false, sample, $"{counts}: no double tap"));
            }
            _taps.Add(new(press.Type, hit.Index, hit.Part, press.X, press.Y, sample.Time));
        }
        gestures.Add(Report(press, kind, true, sample, told));
    }

    private void End(int at, in PointerSample sample, List<Gesture> gestures, string reason)
    {
        var press = _presses[at];
        _presses.RemoveAt(at);
        if (press.Lost is null) gestures.Add(Report(press, TapKind(press), false, sample, reason));
        gestures.Add(Report(press, GestureKind.Release, true, sample, press.Lost ?? reason));
    }

    private static GestureKind TapKind(in Press press) => press.Button == 2 ? GestureKind.SecondaryTap : GestureKind.Tap;

    private static Gesture Report(in Press press, GestureKind kind, bool recognised, in PointerSample sample, string reason)
    {
        // What a cancel says of the position is not to be read.
        var (x, y) = sample.Kind == SampleKind.Cancel ? (press.X, press.Y) : (sample.X, sample.Y);
        return new(kind, recognised, press.PointerId, press.Type, press.Hit.Row, press.Hit.Index, press.Hit.Part, sample.Modifiers, x, y, sample.Time, reason);
    }

    private static double Distance(double x1, double y1, double x2, double y2) => Math.Sqrt(((x2 - x1) * (x2 - x1)) + ((y2 - y1) * (y2 - y1)));

    private static string Px(double value) => value.ToString("0.#", CultureInfo.InvariantCulture) + " px";

    private static string Ms(double value) => value.ToString("0.#", CultureInfo.InvariantCulture) + " ms";

    private static string Word(PointerType type) => type switch { PointerType.Touch => "finger", PointerType.Pen => "pen", _ => "mouse" };

    private static string Place(Hit hit) => hit.Row is { } row ? (hit.Part == Part.Body ? $"{row}" : $"{hit.Part} of {row}") : "empty space";
}
