using System.Collections.Immutable;
using System.Globalization;
using Lectica.Input;
using Lectica.Tracing;

namespace Lectica.Testing;

/// <summary>A way to make a gesture happen that did not: what would have to differ, and the recording with just that difference.</summary>
/// <param name="Words">Such as <c>release 118 ms later, after 501 ms</c>.</param>
/// <param name="Recording">The whole recording so changed; played, it gives the gesture.</param>
public sealed record Remedy(string Words, Recording Recording);

/// <summary>One thing that a contact might have been.</summary>
/// <param name="Gesture">Which gesture, in the words of traces.</param>
/// <param name="IsRecognised">Whether it was.</param>
/// <param name="Time">When that was clear, ms.</param>
/// <param name="Reason">Why, in numbers.</param>
/// <param name="Limit">By which limit it was ruled out, in the words of traces; null where it was recognised.</param>
/// <param name="Remedy">The smallest change that would have made it succeed; null where it was recognised, or where none was found.</param>
public sealed record Verdict(string Gesture, bool IsRecognised, double Time, string Reason, string? Limit, Remedy? Remedy);

/// <summary>The story of one contact, or of one key.</summary>
/// <param name="Ordinal">Which pointerdown of the recording it is, from 0; -1 for a key.</param>
/// <param name="What">The pointer, or the key.</param>
/// <param name="Time">When it began, ms.</param>
/// <param name="Key">The key of the pressed item; null for empty space.</param>
/// <param name="Part">The part of its row; null for empty space.</param>
/// <param name="Verdicts">What it could have been, in the order in which it was clear.</param>
/// <param name="Outcomes">The acts that were done or refused, each with its rule, and what changed: lines of the trace.</param>
/// <param name="Path">Its samples.</param>
public sealed record ContactStory(int Ordinal, string What, double Time, string? Key, string? Part, ImmutableArray<Verdict> Verdicts, ImmutableArray<TraceLine> Outcomes, ImmutableArray<PointerSample> Path);

/// <summary>
/// Answers why something did not fire: plays a recording and tells, for each contact, what it could have been, when each possibility was
/// ruled out and by which limit, which rule gave the act and what it changed; and for what was ruled out, the smallest change of the
/// recording that makes it happen, found by playing it again.
/// </summary>
public static class Explainer
{
    /// <summary>Explains a recording.</summary>
    /// <param name="open">Opens the list as it was when the recording began; called many times.</param>
    /// <param name="recording">The recording.</param>
    /// <param name="isWanted">Which stories to find remedies for; all where null. Those of others stay null.</param>
    public static IReadOnlyList<ContactStory> Explain<TItem, TKey>(Func<InteractiveList<TItem, TKey>> open, Recording recording, Func<ContactStory, bool>? isWanted = null)
        where TKey : notnull
    {
        ArgumentNullException.ThrowIfNull(open);
        ArgumentNullException.ThrowIfNull(recording);
        var stories = Stories(Play(open, recording), recording);
        for (var i = 0; i < stories.Count; i++)
        {
            if (isWanted?.Invoke(stories[i]) == false) continue;
            var story = stories[i];
            stories[i] = story with
            {
                Verdicts = [.. story.Verdicts.Select(v => v.IsRecognised ? v : v with { Remedy = new RemedySearch(recording, story, v, r => Stories(Play(open, r), r)).Find() })],
            };
        }
        return stories;
    }

    private static IReadOnlyList<TraceLine> Play<TItem, TKey>(Func<InteractiveList<TItem, TKey>> open, Recording recording) where TKey : notnull
    {
        using var list = open();
        var player = ListPlayer.On(list);
        player.Play(recording);
        return player.Trace;
    }

    private static List<ContactStory> Stories(IReadOnlyList<TraceLine> trace, Recording recording)
    {
        var stories = new List<ContactStory>();
        var verdicts = new List<List<Verdict>>();
        var outcomes = new List<List<TraceLine>>();
        var downs = new Dictionary<int, int>();
        var ordinal = 0;
        // Whose doing a line is: the contact of the gesture before it, or the key.
        var current = -1;
        void Begin(ContactStory story)
        {
            current = stories.Count;
            stories.Add(story);
            verdicts.Add([]);
            outcomes.Add([]);
        }
        foreach (var line in trace)
        {
            switch (line.Stage)
            {
                case "input" when line.Type == "keydown":
                    Begin(new(-1, string.Concat(line.Modifiers?.Select(m => m + "+") ?? []) + (line.KeyName == " " ? "Space" : line.KeyName), line.T ?? 0, null, null, [], [], []));
                    break;
                case "gesture" when line.Gesture == "press":
                    downs[line.Pointer!.Value] = stories.Count;
                    Begin(new(ordinal, line.PointerType!, line.T ?? 0, line.Key, line.Part, [], [], PathOf(recording, ordinal++)));
                    break;
                case "gesture" when downs.TryGetValue(line.Pointer!.Value, out var at):
                    current = at;
                    if (line.Gesture != "release" && line.Phase is null or "begin" or "cancel")
                        verdicts[at].Add(line.Phase == "cancel" ? new(line.Gesture!, false, line.T ?? 0, line.Reason!, "interrupted", null)
                            : new(line.Gesture!, line.Recognised == true, line.T ?? 0, line.Reason!, line.Limit, null));
                    break;
                case "act" or "change" when current >= 0:
                    outcomes[current].Add(line);
                    // A swipe that closed its tray again is ruled out as late as that.
                    if (line is { Change: "tray", Limit: { } limit }) verdicts[current].Add(new(limit == "arming-line" ? "swipe-through" : "open-tray", false, line.T ?? 0, line.Reason!, limit, null));
                    else if (line is { Change: "tray", Open: not null }) verdicts[current].Add(new("open-tray", true, line.T ?? 0, line.Reason!, null, null));
                    break;
            }
        }
        for (var i = 0; i < stories.Count; i++) stories[i] = stories[i] with { Verdicts = [.. verdicts[i]], Outcomes = [.. outcomes[i]] };
        return stories;
    }

    private static ImmutableArray<PointerSample> PathOf(Recording recording, int ordinal) => [.. ContactInputs(recording, ordinal).Select(i => recording.Inputs[i].Pointer!.Value)];

    /// <summary>Where the inputs of a contact stand in a recording, from its pointerdown to its end.</summary>
    internal static List<int> ContactInputs(Recording recording, int ordinal)
    {
        var found = new List<int>();
        var downs = -1;
        for (var i = 0; i < recording.Inputs.Length; i++)
        {
            if (recording.Inputs[i].Pointer is not { } sample) continue;
            var isDown = sample.Kind == SampleKind.Down && sample.Button is 0 or 2;
            if (isDown) downs++;
            if (found.Count == 0)
            {
                if (isDown && downs == ordinal) found.Add(i);
                continue;
            }
            if (sample.PointerId != recording.Inputs[found[0]].Pointer!.Value.PointerId) continue;
            if (isDown) break;
            found.Add(i);
            if (sample.Kind is SampleKind.Up or SampleKind.Cancel) break;
        }
        return found;
    }
}

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
    private readonly List<int> _at;

    public RemedySearch(Recording recording, ContactStory story, Verdict verdict, Func<Recording, IReadOnlyList<ContactStory>> play)
    {
        (_recording, _story, _verdict, _play) = (recording, story, verdict, play);
        _at = story.Ordinal < 0 ? [] : Explainer.ContactInputs(recording, story.Ordinal);
    }

    private PointerSample Down => _recording.Inputs[_at[0]].Pointer!.Value;

    private PointerSample Last => _recording.Inputs[_at[^1]].Pointer!.Value;

    private static double Distance(PointerSample a, PointerSample b) => Math.Sqrt(((a.X - b.X) * (a.X - b.X)) + ((a.Y - b.Y) * (a.Y - b.Y)));

    private IEnumerable<PointerSample> Moves => _at.Select(i => _recording.Inputs[i].Pointer!.Value).Where(s => s.Kind != SampleKind.Cancel);

    private double Farthest(Recording recording) => _at.Select(i => recording.Inputs[i].Pointer!.Value).Where(s => s.Kind != SampleKind.Cancel).Max(s => Distance(s, Down));

    public Remedy? Find()
    {
        if (_at.Count == 0) return null;
        foreach (var (change, words) in Ways())
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
            var recording = change(enough);
            return new(words(recording), recording);
        }
        return null;
    }

    private bool Succeeds(Recording recording)
    {
        var ordinal = OrdinalIn(recording);
        var story = _play(recording).FirstOrDefault(s => s.Ordinal == ordinal);
        if (story is null) return false;
        if (_verdict.Gesture == "swipe-through") return story.Outcomes.Any(l => l.Act == "invoke-tray");
        // What was broken off must come to its end.
        return story.Verdicts.Any(v => v.Gesture == _verdict.Gesture && v.IsRecognised) && !story.Verdicts.Any(v => v.Gesture == _verdict.Gesture && !v.IsRecognised && v.Limit == "interrupted");
    }

    /// <summary>
    /// Changes by an amount from 0 (nothing) to 1 (certainly enough), with words for what one comes to; the likeliest first.
    /// </summary>
    private IEnumerable<(Func<double, Recording> Change, Func<Recording, string> Words)> Ways()
    {
        var wantsMore = _verdict.Gesture is "swipe" or "drag" or "hold-drag" or "pan";
        switch (_verdict.Limit)
        {
            case "tolerance" when wantsMore:
                foreach (var along in _verdict.Gesture == "swipe" ? (bool[])[true] : [false, true])
                    yield return (amount => Pull(amount * 200, along), r => $"move {More(Farthest(r))} rather than {Px(Farthest(_recording))}, {(along ? "along the row" : "up or down")}");
                break;
            case "tolerance" or "swipe-ratio" when _verdict.Gesture != "swipe":
                yield return (Calm, r => $"stray at most {Less(Farthest(r))} rather than {Px(Farthest(_recording))}");
                // A press that strayed and was short as well.
                if (_verdict.Gesture == "long-press") yield return (amount => Later(Calm(1), amount * 2000), r => $"stay in place and release after {Ms(LastOf(r).Time - Down.Time)}");
                // One that strayed and was held too long for a tap.
                else yield return (amount => Sooner(amount, Calm(1)), r => $"stay in place and release after {Shorter(LastOf(r).Time - Down.Time)}");
                break;
            case "swipe-ratio":
                yield return (Flatten, r => $"go straighter: {Px(FarthestAcross(r))} across the row rather than {Px(FarthestAcross(_recording))}");
                yield return (amount => Pull(amount * 200, true, flat: true), r => $"move {Px(Farthest(r))} along the row");
                break;
            case "long-press-time":
                yield return (amount => Later(_recording, amount * 2000), r => $"release {Ms(LastOf(r).Time - Last.Time)} later, after {Ms(LastOf(r).Time - Down.Time)}");
                break;
            case "other-gesture":
                yield return (amount => Sooner(amount), r => _verdict.Gesture == "tap" ? $"release {Ms(Last.Time - LastOf(r).Time)} sooner, after {Shorter(LastOf(r).Time - Down.Time)}" : $"do it faster: in {Ms(LastOf(r).Time - Down.Time)} rather than {Ms(Last.Time - Down.Time)}");
                if (wantsMore) yield return (amount => Pull(amount * 200, _verdict.Gesture == "swipe", sooner: true), r => $"move {Px(Farthest(r))}, within {Ms(LastOf(r).Time - Down.Time)}");
                break;
            case "double-tap-time":
                yield return (amount => Earlier(amount), r => $"press again {Ms(Down.Time - DownOf(r).Time)} sooner");
                break;
            case "double-tap-distance" or "same-place" when _verdict.Gesture == "double-tap":
                yield return (Nearer, r => $"press again {Px(Distance(Down, DownOf(r)))} nearer to the first");
                yield return (amount => Earlier(amount, Nearer(amount)), r => $"press again {Px(Distance(Down, DownOf(r)))} nearer to the first and {Ms(Down.Time - DownOf(r).Time)} sooner");
                break;
            case "same-place":
                yield return (Calm, r => $"release {Px(Distance(Last, LastOf(r)))} nearer to where it was pressed");
                break;
            case "one-pointer":
                yield return (_ => Alone(), _ => "keep the other pointer off the list");
                break;
            case "interrupted":
                yield return (_ => Released(), _ => "let the pointer be released, rather than taken back by the host");
                if (_verdict.Gesture == "long-press") yield return (amount => Later(Released(), amount * 2000), r => $"hold on until {Ms(LastOf(r).Time - Down.Time)}, and let the pointer be released");
                if (wantsMore)
                    foreach (var along in (bool[])[true, false]) yield return (amount => Pull(Released(), amount * 200, along), r => $"move {Px(Farthest(r))} and let the pointer be released");
                break;
            case "tray-half" or "arming-line":
                var sign = Math.Sign(Last.X - Down.X) is var s && s == 0 ? 1 : s;
                yield return (amount => Pull(amount * 400 * sign, true, signed: true), r => $"swipe {Px(Math.Abs(LastOf(r).X - Down.X))} rather than {Px(Math.Abs(Last.X - Down.X))}");
                yield return (amount => Pull(amount * -800 * sign, true, signed: true), r => $"swipe the other way, {Px(Math.Abs(LastOf(r).X - Down.X))}: there is no tray at this edge");
                break;
        }
    }

    private PointerSample DownOf(Recording recording) => recording.Inputs[_at[0]].Pointer!.Value;

    private PointerSample LastOf(Recording recording) => recording.Inputs[_at[^1]].Pointer!.Value;

    private double FarthestAcross(Recording recording) => _at.Select(i => recording.Inputs[i].Pointer!.Value).Where(s => s.Kind != SampleKind.Cancel).Max(s => Math.Abs(s.Y - Down.Y));

    private Recording Change(Recording recording, Func<PointerSample, int, PointerSample> change)
    {
        var inputs = recording.Inputs.ToBuilder();
        for (var k = 0; k < _at.Count; k++) inputs[_at[k]] = inputs[_at[k]] with { Pointer = change(inputs[_at[k]].Pointer!.Value, k) };
        return recording with { Inputs = inputs.ToImmutable() };
    }

    /// <summary>All of its path nearer to where it was pressed.</summary>
    private Recording Calm(double amount) => Change(_recording, (s, _) => s with { X = Down.X + ((s.X - Down.X) * (1 - amount)), Y = Down.Y + ((s.Y - Down.Y) * (1 - amount)) });

    private Recording Flatten(double amount) => Change(_recording, (s, _) => s with { Y = Down.Y + ((s.Y - Down.Y) * (1 - amount)) });

    private Recording Pull(double by, bool along, bool flat = false, bool sooner = false, bool signed = false) => Pull(flat ? Flatten(1) : sooner ? Sooner(1) : _recording, by, along, signed);

    /// <summary>Its path drawn out more and more, in the direction in which it went.</summary>
    private Recording Pull(Recording recording, double by, bool along, bool signed = false)
    {
        var sign = signed ? 1 : along ? (Last.X < Down.X ? -1 : 1) : (Last.Y < Down.Y ? -1 : 1);
        double span = Math.Max(1e-6, LastOf(recording).Time - DownOf(recording).Time), count = Math.Max(1, _at.Count - 1);
        return Change(recording, (s, k) =>
        {
            var part = span > 1e-3 ? (s.Time - DownOf(recording).Time) / span : k / count;
            return along ? s with { X = s.X + (by * sign * part) } : s with { Y = s.Y + (by * sign * part) };
        });
    }

    /// <summary>Its end, and all that comes after it, later.</summary>
    private Recording Later(Recording recording, double by)
    {
        var end = recording.Inputs[_at[^1]];
        return Retime(recording, (input, i) => i == _at[^1] || (i > _at[^1] && input.Time >= end.Time) || input.Time > end.Time ? input.Time + by : input.Time);
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
        var first = _story.Ordinal == 0 ? [] : Explainer.ContactInputs(_recording, _story.Ordinal - 1);
        if (first.Count == 0) return _recording;
        var to = _recording.Inputs[first[0]].Pointer!.Value;
        double dx = (to.X - Down.X) * amount, dy = (to.Y - Down.Y) * amount;
        return Change(_recording, (s, _) => s with { X = s.X + dx, Y = s.Y + dy });
    }

    /// <summary>Without the other pointers.</summary>
    private Recording Alone() => _recording with { Inputs = [.. _recording.Inputs.Where(i => i.Pointer is not { } s || s.PointerId == Down.PointerId)] };

    /// <summary>Which pointerdown of a changed recording is this one: another number where the other pointers are left out.</summary>
    private int OrdinalIn(Recording changed) => changed.Inputs.Length == _recording.Inputs.Length ? _story.Ordinal
        : _recording.Inputs.Take(_at[0]).Count(i => i.Pointer is { Kind: SampleKind.Down, Button: 0 or 2 } s && s.PointerId == Down.PointerId);

    /// <summary>With a release where the host took it back, or where nothing more came.</summary>
    private Recording Released()
    {
        var last = Last;
        if (last.Kind == SampleKind.Up) return _recording;
        var place = Moves.Last();
        return Change(_recording, (s, k) => k == _at.Count - 1 && s.Kind == SampleKind.Cancel ? s with { Kind = SampleKind.Up, X = place.X, Y = place.Y, Button = Down.Button, Buttons = 0 } : s);
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
