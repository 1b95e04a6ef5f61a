using System.Collections.Immutable;
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
/// <param name="Criterion">By which limit it was ruled out, in the words of traces; null where it was recognised.</param>
/// <param name="Remedy">The smallest change that would have made it succeed; null where it was recognised, or where none was found.</param>
public sealed record Verdict(string Gesture, bool IsRecognised, double Time, string Reason, string? Criterion, Remedy? Remedy);

/// <summary>The story of one contact, or of one key.</summary>
public sealed class ContactStory
{
    /// <summary>Which pointerdown of the recording it is, from 0; -1 for a key.</summary>
    public required int Ordinal { get; init; }

    /// <summary>The pointer, or the key.</summary>
    public required string What { get; init; }

    /// <summary>When it began, ms.</summary>
    public required double Time { get; init; }

    /// <summary>The key of the pressed item; null for empty space.</summary>
    public string? Key { get; init; }

    /// <summary>The part of its row; null for empty space.</summary>
    public string? Part { get; init; }

    /// <summary>What it could have been, in the order in which it was clear.</summary>
    public ImmutableArray<Verdict> Verdicts { get; init; } = [];

    /// <summary>The acts that were done or refused, each with its rule, and what changed: lines of the trace.</summary>
    public ImmutableArray<TracedOutcome> Outcomes { get; init; } = [];

    /// <summary>Its samples.</summary>
    public ImmutableArray<PointerSample> Path { get; init; } = [];

    internal ContactStory With(IEnumerable<Verdict> verdicts, IEnumerable<TracedOutcome> outcomes) => new()
    {
        Ordinal = Ordinal,
        What = What,
        Time = Time,
        Key = Key,
        Part = Part,
        Path = Path,
        Verdicts = [.. verdicts],
        Outcomes = [.. outcomes],
    };
}

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
    public static IReadOnlyList<ContactStory> Explain<TItem, TKey>(
        Func<InteractiveList<TItem, TKey>> open, Recording recording, Func<ContactStory, bool>? isWanted = null)
        where TKey : notnull
    {
        ArgumentNullException.ThrowIfNull(open);
        ArgumentNullException.ThrowIfNull(recording);
        var contacts = Contacts(recording);
        var stories = Stories(Play(open, recording), recording, contacts);
        var trials = new Trials<TItem, TKey>(open, recording, contacts);
        for (var i = 0; i < stories.Count; i++)
        {
            if (stories[i].Ordinal < 0 || isWanted?.Invoke(stories[i]) == false) continue;
            var story = stories[i];
            stories[i] = story.With(
                story.Verdicts.Select(v => v.IsRecognised ? v : v with { Remedy = trials.Find(story, v) }), story.Outcomes);
        }
        return stories;
    }

    internal static IReadOnlyList<TraceLine> Play<TItem, TKey>(Func<InteractiveList<TItem, TKey>> open, Recording recording)
        where TKey : notnull
    {
        using var list = open();
        var player = ListPlayer.On(list);
        player.Play(recording);
        return player.Trace;
    }

    internal static List<ContactStory> Stories(
        IReadOnlyList<TraceLine> trace, Recording recording, IReadOnlyList<List<int>> contacts, int ordinal = 0)
    {
        var stories = new List<ContactStory>();
        var verdicts = new List<List<Verdict>>();
        var outcomes = new List<List<TracedOutcome>>();
        var downs = new Dictionary<int, int>();
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
            switch (line)
            {
                case TracedInput { Type: "keydown" } key:
                    Begin(new()
                    {
                        Ordinal = -1,
                        What = string.Concat(key.Modifiers?.Select(m => m + "+") ?? []) + (key.KeyName == " " ? "Space" : key.KeyName),
                        Time = key.T ?? 0,
                    });
                    break;
                case TracedGesture { Gesture: "press" } press:
                    downs[press.Pointer] = stories.Count;
                    Begin(new()
                    {
                        Ordinal = ordinal,
                        What = press.PointerType,
                        Time = press.T ?? 0,
                        Key = press.Key,
                        Part = press.Part,
                        Path = ordinal < contacts.Count ? [.. contacts[ordinal].Select(i => recording.Inputs[i].Pointer!.Value)] : [],
                    });
                    ordinal++;
                    break;
                case TracedGesture gesture when downs.TryGetValue(gesture.Pointer, out var at):
                    current = at;
                    if (gesture.Gesture != "release" && gesture.Phase is null or "begin" or "cancel")
                        verdicts[at].Add(gesture.Phase == "cancel"
                            ? new(gesture.Gesture, false, gesture.T ?? 0, gesture.Reason!, "interrupted", null)
                            : new(gesture.Gesture, gesture.Recognised, gesture.T ?? 0, gesture.Reason!, gesture.Criterion, null));
                    break;
                case TracedAct or TracedChange when current >= 0:
                    outcomes[current].Add((TracedOutcome)line);
                    // A swipe that closed its tray again is ruled out as late as that.
                    if (line is TracedChange { Change: "tray", Criterion: { } limit } closed)
                        verdicts[current].Add(
                            new(limit == "arming-line" ? "swipe-through" : "open-tray", false, closed.T ?? 0, closed.Reason!, limit, null));
                    else if (line is TracedChange { Change: "tray", Open: not null } opened)
                        verdicts[current].Add(new("open-tray", true, opened.T ?? 0, opened.Reason!, null, null));
                    break;
            }
        }
        for (var i = 0; i < stories.Count; i++) stories[i] = stories[i].With(verdicts[i], outcomes[i]);
        return stories;
    }

    /// <summary>Where the inputs of each contact stand in a recording, from its pointerdown to its end.</summary>
    internal static List<List<int>> Contacts(Recording recording)
    {
        var contacts = new List<List<int>>();
        var down = new Dictionary<int, List<int>>();
        for (var i = 0; i < recording.Inputs.Length; i++)
        {
            if (recording.Inputs[i].Pointer is not { } sample) continue;
            if (sample.Kind == SampleKind.Down && sample.Button is 0 or 2) contacts.Add(down[sample.PointerId] = [i]);
            else if (down.TryGetValue(sample.PointerId, out var contact))
            {
                contact.Add(i);
                if (sample.Kind is SampleKind.Up or SampleKind.Cancel) down.Remove(sample.PointerId);
            }
        }
        return contacts;
    }
}
