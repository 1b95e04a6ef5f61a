using System.Globalization;
using Lectica.Input;
using Lectica.Skia;
using Lectica.Testing;
using Lectica.Tracing;
using Spectre.Console;

namespace Lectica.Cli;

/// <summary>Tells why each contact of a recording came to what it did.</summary>
internal sealed class Why(ListFile file, Recording recording)
{
    private static readonly Dictionary<string, string> Words = new()
    {
        ["double-tap"] = "double tap",
        ["secondary-tap"] = "secondary tap",
        ["long-press"] = "long press",
        ["hold-drag"] = "drag after a long press",
        ["open-tray"] = "open tray",
        ["swipe-through"] = "swipe-through",
    };

    private static string Word(string gesture) => Words.GetValueOrDefault(gesture, gesture);

    private static string Article(string word) => (word[0] is 'a' or 'e' or 'i' or 'o' or 'u' ? "an " : "a ") + word;

    private static string Ms(double value) => value.ToString("0.#", CultureInfo.InvariantCulture) + " ms";

    /// <summary>The stories asked for: those going on at a time, and those on a row. Only they are given remedies.</summary>
    public IReadOnlyList<ContactStory> Stories(double? at, string? row)
    {
        bool Wanted(ContactStory story) =>
            (row is null || story.Key == row) && (at is not { } time || (story.Time <= time && End(story) >= time));
        return [.. Explainer.Explain(() => file.Open(), recording, Wanted).Where(Wanted)];
    }

    private static double End(ContactStory story) => story.Path.IsEmpty ? story.Time : story.Path[^1].Time;

    private static string Title(ContactStory story, Narrator narrator)
    {
        if (story.Ordinal < 0) return $"The key {story.What} at {Ms(story.Time)}";
        var who = story.What switch { "touch" => "A finger", "pen" => "A pen", _ => "The mouse" };
        var where = story.Key is null ? "empty space" : story.Part is "body" or null ? narrator.Name(story.Key)
            : $"{story.Part} of {narrator.Name(story.Key)}";
        var last = story.Path[^1];
        var end = last.Kind switch { SampleKind.Up => "is up", SampleKind.Cancel => "is taken back", _ => "is last heard of" };
        return $"{who} goes down on {where} at {Ms(story.Time)} and {end} after {Ms(last.Time - story.Time)}";
    }

    /// <summary>What is told of a story, line by line.</summary>
    private static IEnumerable<PathNote> Notes(ContactStory story, Narrator narrator)
    {
        foreach (var verdict in story.Verdicts)
        {
            yield return new(verdict.IsRecognised ? PathNoteKind.Yes : PathNoteKind.No,
                $"{(verdict.IsRecognised ? Word(verdict.Gesture) : $"no {Word(verdict.Gesture)}")}, clear at " +
                    $"{Ms(verdict.Time - story.Time)}: {Because(verdict)}", verdict.Time);
            if (verdict.Remedy is { } remedy)
                yield return new(PathNoteKind.Remedy, $"for {Article(Word(verdict.Gesture))}: {remedy.Words}");
            else if (!verdict.IsRecognised)
                yield return new(PathNoteKind.Remedy, $"no other way of the pointer would have made it {Article(Word(verdict.Gesture))}");
        }
        foreach (var line in story.Outcomes)
            if (line is not TracedChange { Change: "tray", Criterion: not null })
                if (narrator.Tell(line) is { } told) yield return new(PathNoteKind.Outcome, told);
        if (!story.Outcomes.Any(l => l is TracedAct)) yield return new(PathNoteKind.Outcome, "no rule was asked: nothing was done");
    }

    private static string Because(Verdict verdict)
    {
        var end = $": no {Word(verdict.Gesture)}";
        return verdict.Reason.EndsWith(end, StringComparison.Ordinal) ? verdict.Reason[..^end.Length]
            : verdict.Reason.EndsWith(": no drag after it", StringComparison.Ordinal) ? verdict.Reason[..^18] : verdict.Reason;
    }

    public void Tell(IReadOnlyList<ContactStory> stories, IAnsiConsole console)
    {
        var narrator = new Narrator(file.Open());
        console.Write(
            new Text($"{recording.File}: {recording}, {stories.Count} {(stories.Count == 1 ? "contact or key" : "contacts and keys")} " +
                $"told.\n"));
        foreach (var story in stories)
        {
            console.Write(new Text($"\n{Title(story, narrator)}\n", new Style(decoration: Decoration.Bold)));
            var possible = story.Verdicts.Where(v => v.Gesture is not ("open-tray" or "swipe-through")).Select(v => Word(v.Gesture))
                .Distinct().ToList();
            if (possible.Count > 0) console.Write(new Text($"  It could have been {string.Join(", ", possible.Select(Article))}.\n"));
            foreach (var (kind, text, _) in Notes(story, narrator))
            {
                var sign = kind switch { PathNoteKind.Yes => "+", PathNoteKind.No => "-", PathNoteKind.Remedy => "  >", _ => "=" };
                console.Write(new Padder(new Text($"{sign} {text}"), new(2, 0, 0, 0)));
            }
        }
    }

    /// <summary>The picture of one story, over the rows as they are when it begins.</summary>
    public PathPicture Picture(ContactStory story)
    {
        var list = file.Open();
        var player = ListPlayer.On(list);
        var at = recording.Inputs.IndexOf(recording.Inputs.First(i => i.Pointer == story.Path[0]));
        // Caught at the down: a recording that ends there goes on to what a held finger becomes.
        var frame = list.Frame;
        player.TickPlayed += _ => frame = list.Frame;
        player.Play(recording with { Inputs = [.. recording.Inputs.Take(at + 1)] });
        var narrator = new Narrator(list);
        return new()
        {
            Frame = frame,
            Path = story.Path,
            Thresholds = file.Options.Thresholds,
            MaySwipe = story.Verdicts.Any(v => v.Gesture == "swipe"),
            MayLongPress = story.Verdicts.Any(v => v.Gesture == "long-press"),
            Title = Title(story, narrator),
            Notes = [.. Notes(story, narrator)],
        };
    }
}
