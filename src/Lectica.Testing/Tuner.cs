using System.Collections.Immutable;
using Lectica.Gestures;
using Lectica.Input;
using Lectica.Tracing;

namespace Lectica.Testing;

/// <summary>How often what was meant (rows) came out as what (columns).</summary>
public sealed class ConfusionMatrix
{
    private readonly Dictionary<(string Meant, string Got), int> _counts = [];

    internal void Add(string meant, string got) => _counts[(meant, got)] = _counts.GetValueOrDefault((meant, got)) + 1;

    /// <summary>How often one came out as the other.</summary>
    public int this[string meant, string got] => _counts.GetValueOrDefault((meant, got));

    /// <summary>What was meant, in the order of <see cref="Recording.Intents"/>.</summary>
    public IEnumerable<string> Meant => Recording.Intents.Where(i => _counts.Keys.Any(k => k.Meant == i));

    /// <summary>What came out: gestures in the same order, then <c>nothing</c>.</summary>
    public IEnumerable<string> Got => Recording.Intents.Append("nothing").Where(i => _counts.Keys.Any(k => k.Got == i));

    /// <summary>All contacts.</summary>
    public int Total => _counts.Values.Sum();

    /// <summary>Those that came out as meant.</summary>
    public int Right => _counts.Where(c => c.Key.Meant == c.Key.Got).Sum(c => c.Value);
}

/// <summary>A contact that came out as something else than was meant, though only just.</summary>
/// <param name="File">The recording.</param>
/// <param name="Time">When it began, ms.</param>
/// <param name="Meant">What was meant.</param>
/// <param name="Got">What came out.</param>
/// <param name="Reason">Why what was meant was ruled out; null where it was never possible there.</param>
/// <param name="By">By what part of the limit it missed: 0.1 is a tenth.</param>
public sealed record NearMiss(string File, double Time, string Meant, string Got, string? Reason, double By);

/// <summary>What tuning found.</summary>
public sealed class TuningReport(
    ConfusionMatrix now, ImmutableArray<NearMiss> misses, Thresholds tuned, int heldOutNow, int heldOutTuned, int heldOutTotal)
{
    /// <summary>The limits as they are, over all contacts.</summary>
    public ConfusionMatrix Now { get; } = now;

    /// <summary>The contacts that missed, the nearest first.</summary>
    public ImmutableArray<NearMiss> Misses { get; } = misses;

    /// <summary>The limits that do best over all recordings.</summary>
    public Thresholds Tuned { get; } = tuned;

    /// <summary>Of the contacts in recordings held out, how many came out as meant by the limits as they are.</summary>
    public int HeldOutNow { get; } = heldOutNow;

    /// <summary>The same by limits tuned on the other recordings alone.</summary>
    public int HeldOutTuned { get; } = heldOutTuned;

    /// <summary>How many there were; 0 where there are not two recordings with intents.</summary>
    public int HeldOutTotal { get; } = heldOutTotal;

    /// <summary>The limits that are tuned to another value, each rounded to what a person would set.</summary>
    public ImmutableArray<TunedLimit> Limits { get; init; } = [];

    /// <summary>What was meant too seldom to tune for: fewer than <see cref="Tuner.Enough"/> times by a type of pointer.</summary>
    public ImmutableArray<string> TooFew { get; init; } = [];

    /// <summary>Whether tuned limits did better on recordings that they were not tuned on.</summary>
    public bool IsBetter => HeldOutTuned > HeldOutNow;
}

/// <summary>A limit as it was tuned.</summary>
/// <param name="Name">Its name in list files, such as <c>touch.tolerance</c>.</param>
/// <param name="Value">Its value, px or ms, rounded as far as it does as well.</param>
/// <param name="From">The least of those tried that do as well.</param>
/// <param name="To">The greatest of them.</param>
/// <param name="Examples">How many contacts it was tuned on.</param>
public sealed record TunedLimit(string Name, double Value, double From, double To, int Examples);

/// <summary>
/// Finds the limits under which recordings come out as the people meant who made them. It goes over the limits one by one, trying for each
/// the values that part what was meant from what was not, and keeps what does better. What it finds is judged by cross-validation: on
/// recordings that were left out when it was found.
/// </summary>
public sealed class Tuner
{
    private const int MostFolds = 5, MostValues = 24;

    /// <summary>Of fewer examples than this no limit can be told with any certainty.</summary>
    public const int Enough = 10;

    private readonly Func<Recording, Thresholds, IReadOnlyList<ContactResult>> _play;

    private sealed record ContactResult(string File, double Time, string Meant, string Got, string? Reason, string? Criterion, double By);

    private Tuner(Func<Recording, Thresholds, IReadOnlyList<ContactResult>> play) => _play = play;

    /// <summary>Tunes for a list.</summary>
    /// <param name="open">Opens the list that was recorded, with these limits.</param>
    /// <param name="recordings">Recordings whose pointerdowns say what was meant; contacts that do not say are played, and not
    /// counted.</param>
    /// <param name="present">The limits as they are.</param>
    public static TuningReport Tune<TItem, TKey>(Func<Thresholds, InteractiveList<TItem, TKey>> open, IReadOnlyList<Recording> recordings,
        Thresholds? present = null) where TKey : notnull
    {
        ArgumentNullException.ThrowIfNull(open);
        ArgumentNullException.ThrowIfNull(recordings);
        return new Tuner((recording, thresholds) => Results(open, recording, thresholds)).Tune(recordings, present ?? Thresholds.Default);
    }

    private static List<ContactResult> Results<TItem, TKey>(
        Func<Thresholds, InteractiveList<TItem, TKey>> open, Recording recording, Thresholds thresholds) where TKey : notnull
    {
        using var list = open(thresholds);
        var player = ListPlayer.On(list);
        // Each contact is judged by itself: with other limits a menu may open that nobody saw, and would be in the way of the next one.
        player.TickPlayed += played =>
        {
            if (recording.Inputs[played - 1].Pointer is { Kind: SampleKind.Up or SampleKind.Cancel }) list.CloseMenu();
        };
        player.Play(recording);
        var intents = recording.Inputs.Where(i => i.Pointer is { Kind: SampleKind.Down, Button: 0 or 2 }).Select(i => i.Intent).ToList();
        var results = new List<ContactResult>();
        // The contact of each pointer that is down: which press it was, and what has come of it.
        var down = new Dictionary<int, (int Ordinal, double Time, string Got)>();
        var ordinal = 0;
        var ruledOut = new Dictionary<int, (string? Reason, string? Criterion, double By)>();
        void Close(int pointer)
        {
            if (!down.Remove(pointer, out var contact)) return;
            var meant = contact.Ordinal < intents.Count ? intents[contact.Ordinal] : null;
            if (meant is null) return;
            var miss = ruledOut.GetValueOrDefault(contact.Ordinal);
            results.Add(new(recording.File, contact.Time, meant, contact.Got, miss.Reason, miss.Criterion, miss.By));
        }
        foreach (var line in player.Trace.OfType<TracedGesture>())
        {
            var pointer = line.Pointer;
            if (line.Gesture == "press")
            {
                Close(pointer);
                down[pointer] = (ordinal++, line.T ?? 0, "nothing");
                continue;
            }
            if (!down.TryGetValue(pointer, out var contact)) continue;
            if (!line.Recognised)
            {
                var meant = contact.Ordinal < intents.Count ? intents[contact.Ordinal] : null;
                if (line.Gesture == meant)
                    ruledOut[contact.Ordinal] = (line.Reason, line.Criterion,
                        line is { Measured: { } m, Bound: { } b } && b != 0 ? Math.Abs(m - b) / b : double.PositiveInfinity);
            }
            else if (line.Gesture != "release" && line.Phase is null or "begin")
                // Of a long press that moves on, the drag is what was meant.
                down[pointer] = contact with { Got = line.Gesture };
        }
        foreach (var pointer in down.Keys.ToList()) Close(pointer);
        // The first tap of a pair was meant as a double tap, and it is one if its second was.
        for (var i = 0; i + 1 < results.Count; i++)
            if (results[i] is { Meant: "double-tap", Got: "tap" } && results[i + 1] is { Meant: "double-tap", Got: "double-tap" })
                results.RemoveAt(i);
        return results;
    }

    private TuningReport Tune(IReadOnlyList<Recording> recordings, Thresholds present)
    {
        var labelled = recordings.Where(r => r.Inputs.Any(i => i.Intent is not null)).ToList();
        var matrix = new ConfusionMatrix();
        var misses = new List<NearMiss>();
        foreach (var result in labelled.SelectMany(r => _play(r, present)))
        {
            matrix.Add(result.Meant, result.Got);
            if (result.Meant != result.Got) misses.Add(new(result.File, result.Time, result.Meant, result.Got, result.Reason, result.By));
        }
        // Recordings are held out whole: what one person does is alike.
        var folds = Math.Min(MostFolds, labelled.Count);
        int heldNow = 0, heldTuned = 0, total = 0;
        for (var fold = 0; folds >= 2 && fold < folds; fold++)
        {
            var held = labelled.Where((_, i) => i % folds == fold).ToList();
            var tuned = Best(labelled.Except(held).ToList(), present).Best;
            heldNow += held.Sum(r => Right(r, present));
            heldTuned += held.Sum(r => Right(r, tuned));
            total += held.Sum(r => _play(r, present).Count);
        }
        var (best, limits) = Best(labelled, present);
        return new(matrix, [.. misses.OrderBy(m => m.Reason is null).ThenBy(m => m.By).ThenBy(m => m.Time)], best, heldNow, heldTuned,
            total)
        {
            Limits = limits,
            TooFew =
            [
                .. labelled.SelectMany(r => r.Inputs).Where(i => i.Intent is not null)
                    .GroupBy(i => (Type: i.Pointer!.Value.PointerType, i.Intent)).Where(g => g.Count() < Enough)
                    .OrderBy(g => g.Key).Select(g => $"{g.Key.Intent} by {g.Key.Type.ToString().ToLowerInvariant()}: {g.Count()}"),
            ],
        };
    }

    private int Right(Recording recording, Thresholds thresholds) => _play(recording, thresholds).Count(r => r.Meant == r.Got);

    private static readonly (Func<PointerThresholds, double> Get, Func<PointerThresholds, double, PointerThresholds> Set,
        string Criterion)[] PerPointer =
    [
        (l => l.Tolerance, (l, v) => l with { Tolerance = v }, "tolerance"),
        (l => l.LongPressTime, (l, v) => l with { LongPressTime = v }, "longPressTime"),
        (l => l.DoubleTapTime, (l, v) => l with { DoubleTapTime = v }, "doubleTapTime"),
        (l => l.DoubleTapDistance, (l, v) => l with { DoubleTapDistance = v }, "doubleTapDistance"),
    ];

    private (Thresholds Best, ImmutableArray<TunedLimit> Limits) Best(List<Recording> recordings, Thresholds present)
    {
        if (recordings.Count == 0) return (present, []);
        var types = recordings.SelectMany(r => r.Inputs).Where(i => i.Intent is not null).Select(i => i.Pointer!.Value.PointerType)
            .Distinct().Order().ToList();
        var limits = new List<(string Name, PointerType? Type, Func<Thresholds, double> Get, Func<Thresholds, double, Thresholds> Set)>();
        foreach (var type in types)
            foreach (var (get, set, limit) in PerPointer)
                if (limit != "longPressTime" || double.IsFinite(get(present.For(type))))
                    limits.Add(($"{type.ToString().ToLowerInvariant()}.{limit}", type, t => get(t.For(type)),
                        (t, v) => t.With(type, set(t.For(type), v))));
        limits.Add(("swipeRatio", null, t => t.SwipeRatio, (t, v) => t with { SwipeRatio = v }));

        var best = present;
        var score = recordings.Sum(r => Right(r, best));
        var tuned = new Dictionary<string, TunedLimit>();
        for (var round = 0; round < 2; round++)
        {
            var before = score;
            foreach (var (name, type, get, set) in limits)
            {
                var tried = Values(get(present)).Select(v => (Value: v, Score: recordings.Sum(r => Right(r, set(best, v))))).ToList();
                var most = tried.Max(t => t.Score);
                if (most <= score) continue;
                var picked = Pick(
                    [.. tried.Where(t => t.Score == most).Select(t => t.Value)], tried[0].Value, tried[^1].Value, get(present));
                // Those round about it that do as well: between any two of them a value that a person would set does too, or is not taken.
                var at = tried.FindIndex(t => t.Value == picked);
                int first = at, last = at;
                while (first > 0 && tried[first - 1].Score == most) first--;
                while (last + 1 < tried.Count && tried[last + 1].Score == most) last++;
                var value = Rounded(tried[first].Value, picked, tried[last].Value);
                if (recordings.Sum(r => Right(r, set(best, value))) < most) value = picked;
                (best, score) = (set(best, value), most);
                var examples = recordings.SelectMany(r => r.Inputs)
                    .Count(i => i.Intent is not null && (type is null || i.Pointer!.Value.PointerType == type));
                tuned[name] = new(name, value, tried[first].Value, tried[last].Value, examples);
            }
            if (score == before) break;
        }
        return (best, [.. tuned.Values]);
    }

    /// <summary>The roundest number in a range: of those with the largest step, the one nearest to a value.</summary>
    private static double Rounded(double from, double near, double to)
    {
        foreach (var step in (double[])[100, 50, 20, 10, 5, 2, 1, 0.5, 0.2, 0.1])
        {
            var value = Math.Clamp(
                Math.Round(near / step), Math.Ceiling(from / step), Math.Max(Math.Ceiling(from / step), Math.Floor(to / step))) * step;
            if (value > 0 && value >= from && value <= to) return Math.Round(value, 1);
        }
        return near;
    }

    /// <summary>
    /// Of values that do equally well: the middle one has most room on both sides; where nothing bounds them on one, the nearest to the
    /// present value but one.
    /// </summary>
    private static double Pick(List<double> good, double least, double most, double present)
    {
        if (good[0] > least && good[^1] < most) return good[good.Count / 2];
        var near = good.OrderBy(v => Math.Abs(v - present)).ToList();
        return near[Math.Min(1, near.Count - 1)];
    }

    /// <summary>From a third to three times the present value, in even ratios.</summary>
    private static IEnumerable<double> Values(double present)
    {
        for (var k = 0; k <= MostValues; k++) yield return Math.Round(present / 3 * Math.Pow(9, (double)k / MostValues), 2);
    }
}
