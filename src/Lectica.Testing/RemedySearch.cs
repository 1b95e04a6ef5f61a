using System.Globalization;
using Lectica.Input;
using Lectica.Tracing;

namespace Lectica.Testing;

/// <summary>
/// Looks for the smallest change of a recording that makes a gesture happen. The limit that ruled it out says what to change; how much of
/// it is needed is found by halving, each time playing the recording so changed.
/// </summary>
internal sealed class RemedySearch
{
    private const int Halvings = 12;

    private static readonly double[] Amounts = [0.02, 0.05, 0.1, 0.15, 0.22, 0.32, 0.45, 0.65, 0.85, 1];

    private readonly Recording _recording;
    private readonly ContactStory _story;
    private readonly Verdict _verdict;
    private readonly Func<Recording, IReadOnlyList<ContactStory>> _play;
    private readonly List<int> _at, _before;
    private readonly bool _isStrip;

    /// <summary>A search.</summary>
    /// <param name="recording">The recording, or as much of it as tells what came before and after.</param>
    /// <param name="at">The inputs of the contact in it.</param>
    /// <param name="before">Those of the contact before it.</param>
    /// <param name="story">The contact.</param>
    /// <param name="verdict">What it was not.</param>
    /// <param name="isStrip">Whether items lie side by side and are swiped up and down.</param>
    /// <param name="play">Plays the recording with a change, and gives at least the contact's own story.</param>
    public RemedySearch(Recording recording, List<int> at, List<int> before, ContactStory story, Verdict verdict, bool isStrip,
        Func<Recording, IReadOnlyList<ContactStory>> play) =>
        (_recording, _at, _before, _story, _verdict, _isStrip, _play) = (recording, at, before, story, verdict, isStrip, play);

    private PointerSample Down => _recording.Inputs[_at[0]].Pointer!.Value;

    private PointerSample Last => _recording.Inputs[_at[^1]].Pointer!.Value;

    private static double Distance(PointerSample a, PointerSample b) =>
        Math.Sqrt(((a.X - b.X) * (a.X - b.X)) + ((a.Y - b.Y) * (a.Y - b.Y)));

    private IEnumerable<PointerSample> Moves =>
        _at.Select(i => _recording.Inputs[i].Pointer!.Value).Where(s => s.Kind != SampleKind.Cancel);

    private double Farthest(Recording recording) =>
        _at.Select(i => recording.Inputs[i].Pointer!.Value).Where(s => s.Kind != SampleKind.Cancel).Max(s => Distance(s, Down));

    public Remedy? Find() => FindWay() is { } found ? RemedyOf(found.Way, found.Amount) : null;

    /// <summary>The remedy of one of the ways.</summary>
    public Remedy RemedyOf(int way, double amount)
    {
        var (change, words) = Ways().ElementAt(way);
        var recording = change(amount);
        return new(words(recording), recording);
    }

    /// <summary>The first of the ways by which it succeeds, and the least amount.</summary>
    public (int Way, double Amount)? FindWay()
    {
        foreach (var (way, (change, _)) in Ways().Index())
        {
            // From little to much, since too much may make something else of it again.
            double enough = 0, tooLittle = 0;
            foreach (var amount in Amounts)
            {
                if (Succeeds(change(amount)))
                {
                    enough = amount;
                    break;
                }
                tooLittle = amount;
            }
            if (enough == 0) continue;
            for (var i = 0; i < Halvings; i++)
            {
                var middle = (enough + tooLittle) / 2;
                if (Succeeds(change(middle))) enough = middle;
                else tooLittle = middle;
            }
            return (way, enough);
        }
        return null;
    }

    private bool Succeeds(Recording recording)
    {
        var ordinal = OrdinalIn(recording);
        var story = _play(recording).FirstOrDefault(s => s.Ordinal == ordinal);
        if (story is null) return false;
        if (_verdict.Gesture == "swipe-through") return story.Outcomes.Any(l => l is TracedAct { Act: "invoke-tray" });
        // What was cancelled must come to its end.
        return story.Verdicts.Any(v => v.Gesture == _verdict.Gesture && v.IsRecognised)
            && !story.Verdicts.Any(v => v.Gesture == _verdict.Gesture && !v.IsRecognised && v.Criterion == "interrupted");
    }

    /// <summary>
    /// Changes by an amount from 0 (nothing) to 1 (certainly enough), with words for what one comes to; the likeliest first.
    /// </summary>
    private IEnumerable<(Func<double, Recording> Change, Func<Recording, string> Words)> Ways()
    {
        var wantsMore = _verdict.Gesture is "swipe" or "drag" or "hold-drag" or "pull" or "pan";
        switch (_verdict.Criterion)
        {
            case "tolerance" when wantsMore:
                foreach (var along in _verdict.Gesture == "swipe" ? (bool[])[true] : [false, true])
                    yield return (amount => Pull(amount * 200, along),
                        r => $"move {More(Farthest(r))} rather than {Px(Farthest(_recording))}, {(along ? WayOfSwipes : WayOfDrags)}");
                break;
            case "tolerance" or "swipe-ratio" when _verdict.Gesture != "swipe":
                yield return (Calm, r => $"stray at most {Less(Farthest(r))} rather than {Px(Farthest(_recording))}");
                // A press that strayed and was short as well.
                if (_verdict.Gesture == "long-press")
                    yield return (amount => Later(Calm(1), amount * 2000),
                        r => $"stay in place and release after {Ms(LastOf(r).Time - Down.Time)}");
                // One that strayed and was held too long for a tap.
                else yield return (amount => Sooner(amount, Calm(1)),
                    r => $"stay in place and release after {Shorter(LastOf(r).Time - Down.Time)}");
                break;
            case "swipe-ratio":
                yield return (Flatten,
                    r => $"go straighter: {Px(FarthestAcross(r))} {(_isStrip ? "along the strip" : "across the row")} rather than " +
                        $"{Px(FarthestAcross(_recording))}");
                yield return (amount => Pull(amount * 200, true, flat: true), r => $"move {Px(Farthest(r))} {WayOfSwipes}");
                break;
            case "long-press-time":
                yield return (amount => Later(_recording, amount * 2000),
                    r => $"release {Ms(LastOf(r).Time - Last.Time)} later, after {Ms(LastOf(r).Time - Down.Time)}");
                break;
            case "other-gesture":
                yield return (amount => Sooner(amount),
                    r => _verdict.Gesture == "tap"
                        ? $"release {Ms(Last.Time - LastOf(r).Time)} sooner, after {Shorter(LastOf(r).Time - Down.Time)}"
                        : $"do it faster: in {Ms(LastOf(r).Time - Down.Time)} rather than {Ms(Last.Time - Down.Time)}");
                if (wantsMore)
                    yield return (amount => Pull(amount * 200, _verdict.Gesture == "swipe", sooner: true),
                        r => $"move {Px(Farthest(r))}, within {Ms(LastOf(r).Time - Down.Time)}");
                break;
            case "double-tap-time":
                yield return (amount => Earlier(amount), r => $"press again {Ms(Down.Time - DownOf(r).Time)} sooner");
                break;
            case "double-tap-distance" or "same-place" when _verdict.Gesture == "double-tap":
                yield return (Nearer, r => $"press again {Px(Distance(Down, DownOf(r)))} nearer to the first");
                yield return (amount => Earlier(amount, Nearer(amount)),
                    r => $"press again {Px(Distance(Down, DownOf(r)))} nearer to the first and {Ms(Down.Time - DownOf(r).Time)} sooner");
                break;
            case "same-place":
                yield return (Calm, r => $"release {Px(Distance(Last, LastOf(r)))} nearer to where it was pressed");
                break;
            case "one-pointer":
                yield return (_ => Alone(), _ => "keep the other pointer off the list");
                break;
            case "interrupted":
                yield return (_ => Released(), _ => "let the pointer be released, rather than taken back by the host");
                if (_verdict.Gesture == "long-press")
                    yield return (amount => Later(Released(), amount * 2000),
                        r => $"hold on until {Ms(LastOf(r).Time - Down.Time)}, and let the pointer be released");
                if (wantsMore)
                    foreach (var along in (bool[])[true, false])
                        yield return (amount => Pull(Released(), amount * 200, along),
                            r => $"move {Px(Farthest(r))} and let the pointer be released");
                break;
            case "tray-half" or "arming-line":
                var sign = Math.Sign(Along(Last) - Along(Down)) is var s && s == 0 ? 1 : s;
                yield return (amount => Pull(amount * 400 * sign, true, signed: true),
                    r => $"swipe {Px(Math.Abs(Along(LastOf(r)) - Along(Down)))} rather than {Px(Math.Abs(Along(Last) - Along(Down)))}");
                yield return (amount => Pull(amount * -800 * sign, true, signed: true),
                    r => $"swipe the other way, {Px(Math.Abs(Along(LastOf(r)) - Along(Down)))}: there is no tray at this edge");
                break;
        }
    }

    private PointerSample DownOf(Recording recording) => recording.Inputs[_at[0]].Pointer!.Value;

    private PointerSample LastOf(Recording recording) => recording.Inputs[_at[^1]].Pointer!.Value;

    // The way that items are swiped, and the other one.
    private double Along(PointerSample sample) => _isStrip ? sample.Y : sample.X;

    private double Across(PointerSample sample) => _isStrip ? sample.X : sample.Y;

    private PointerSample At(PointerSample sample, double along, double across) =>
        _isStrip ? sample with { X = across, Y = along } : sample with { X = along, Y = across };

    private string WayOfSwipes => _isStrip ? "up or down" : "along the row";

    private string WayOfDrags => _isStrip ? "along the strip" : "up or down";

    private double FarthestAcross(Recording recording) =>
        _at.Select(i => recording.Inputs[i].Pointer!.Value).Where(s => s.Kind != SampleKind.Cancel)
        .Max(s => Math.Abs(Across(s) - Across(Down)));

    private Recording Change(Recording recording, Func<PointerSample, int, PointerSample> change)
    {
        var inputs = recording.Inputs.ToBuilder();
        for (var k = 0; k < _at.Count; k++) inputs[_at[k]] = inputs[_at[k]] with { Pointer = change(inputs[_at[k]].Pointer!.Value, k) };
        return recording with { Inputs = inputs.ToImmutable() };
    }

    /// <summary>All of its path nearer to where it was pressed.</summary>
    private Recording Calm(double amount) =>
        Change(_recording, (s, _) => s with { X = Down.X + ((s.X - Down.X) * (1 - amount)), Y = Down.Y + ((s.Y - Down.Y) * (1 - amount)) });

    private Recording Flatten(double amount) =>
        Change(_recording, (s, _) => At(s, Along(s), Across(Down) + ((Across(s) - Across(Down)) * (1 - amount))));

    private Recording Pull(double by, bool along, bool flat = false, bool sooner = false, bool signed = false) =>
        Pull(flat ? Flatten(1) : sooner ? Sooner(1) : _recording, by, along, signed);

    /// <summary>Its path drawn out more and more, in the direction in which it went.</summary>
    private Recording Pull(Recording recording, double by, bool along, bool signed = false)
    {
        var sign = signed ? 1 : (along ? Along(Last) < Along(Down) : Across(Last) < Across(Down)) ? -1 : 1;
        double span = Math.Max(1e-6, LastOf(recording).Time - DownOf(recording).Time), count = Math.Max(1, _at.Count - 1);
        return Change(recording, (s, k) =>
        {
            var part = span > 1e-3 ? (s.Time - DownOf(recording).Time) / span : k / count;
            var more = by * sign * part;
            return along ? At(s, Along(s) + more, Across(s)) : At(s, Along(s), Across(s) + more);
        });
    }

    /// <summary>Its end, and all that comes after it, later.</summary>
    private Recording Later(Recording recording, double by)
    {
        var end = recording.Inputs[_at[^1]];
        return Retime(
            recording, (input, i) => i == _at[^1] || (i > _at[^1] && input.Time >= end.Time) || input.Time > end.Time ? input.Time + by
                : input.Time);
    }

    /// <summary>All of it in less time.</summary>
    private Recording Sooner(double amount, Recording? of = null)
    {
        var from = Down.Time;
        return Change(of ?? _recording, (s, _) => s with { Time = from + ((s.Time - from) * (1 - amount)) });
    }

    /// <summary>All of it, and all that comes after its press, earlier: at most right after what came before.</summary>
    private Recording Earlier(double amount, Recording? of = null)
    {
        var recording = of ?? _recording;
        var before = _at[0] == 0 ? Down.Time : recording.Inputs[_at[0] - 1].Time;
        var by = amount * Math.Max(0, Down.Time - before);
        return Retime(recording, (input, i) => i >= _at[0] ? input.Time - by : input.Time);
    }

    /// <summary>All of it nearer to the press of the contact before it.</summary>
    private Recording Nearer(double amount)
    {
        if (_before.Count == 0) return _recording;
        var to = _recording.Inputs[_before[0]].Pointer!.Value;
        double dx = (to.X - Down.X) * amount, dy = (to.Y - Down.Y) * amount;
        return Change(_recording, (s, _) => s with { X = s.X + dx, Y = s.Y + dy });
    }

    /// <summary>Without the other pointers.</summary>
    private Recording Alone() =>
        _recording with { Inputs = [.. _recording.Inputs.Where(i => i.Pointer is not { } s || s.PointerId == Down.PointerId)] };

    /// <summary>Which pointerdown of a changed recording is this one: another number where the other pointers are left out.</summary>
    private int OrdinalIn(Recording changed) => changed.Inputs.Length == _recording.Inputs.Length ? _story.Ordinal
        : _recording.Inputs.Take(_at[0])
        .Count(i => i.Pointer is { Kind: SampleKind.Down, Button: 0 or 2 } s && s.PointerId == Down.PointerId);

    /// <summary>With a release where the host took it back, or where nothing more came.</summary>
    private Recording Released()
    {
        var last = Last;
        if (last.Kind == SampleKind.Up) return _recording;
        var place = Moves.Last();
        return Change(
            _recording, (s, k) => k == _at.Count - 1 && s.Kind == SampleKind.Cancel
                ? s with { Kind = SampleKind.Up, X = place.X, Y = place.Y, Button = Down.Button, Buttons = 0 } : s);
    }

    private static Recording Retime(Recording recording, Func<RecordedInput, int, double> time) =>
        recording with { Inputs = [.. recording.Inputs.Select((input, i) => input.At(time(input, i)))] };

    private static string Px(double value) => value.ToString("0.#", CultureInfo.InvariantCulture) + " px";

    // Rounded to the side on which it still works.
    private static string More(double value) => Px(Math.Ceiling(value * 10) / 10);

    private static string Less(double value) => Px(Math.Floor(value * 10) / 10);

    private static string Shorter(double value) => Ms(Math.Floor(value * 10) / 10);

    private static string Ms(double value) => value.ToString("0.#", CultureInfo.InvariantCulture) + " ms";
}
