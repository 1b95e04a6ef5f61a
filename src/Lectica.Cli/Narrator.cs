using System.Globalization;
using Lectica.Items;
using Lectica.Tracing;

namespace Lectica.Cli;

/// <summary>Tells the lines of a trace in plain words, with the items' labels.</summary>
internal sealed class Narrator(InteractiveList<Row, string> list)
{
    public string Name(string? key)
    {
        if (key is null) return "empty space";
        var index = list.IndexOf(key);
        return index < 0 ? key : $"{list.ContentAt(index).Label} ({key})";
    }

    private static string Number(double? value) => value?.ToString("0.#", CultureInfo.InvariantCulture) ?? "";

    /// <summary>The stage that a line is of, in a word.</summary>
    public static string Stage(TraceLine line) => line switch
    {
        TracedInput => "input",
        TracedGesture => "gesture",
        TracedAct => "act",
        TracedChange => "change",
        _ => "state",
    };

    /// <summary>A sentence, or null for a line that says nothing new to a reader.</summary>
    public string? Tell(TraceLine line) => line switch
    {
        TracedInput input => Tell(input),
        TracedGesture { Gesture: "press" } press => $"pressed: {Name(press.Key)}",
        TracedGesture { Gesture: "release" } => null,
        TracedGesture { Recognised: true } made => $"{made.Gesture} on {Name(made.Key)}: {made.Reason}",
        TracedGesture missed => $"on {Name(missed.Key)}: {missed.Reason}",
        TracedAct { Refused: null } act => $"{act.Act}{(act.Key is null ? "" : $" {Name(act.Key)}")}, by the rule '{act.Rule}'",
        TracedAct refused => $"{refused.Act ?? "nothing done"}, {(refused.Act is null ? "" : "refused: ")}{refused.Reason}",
        TracedChange change => Tell(change),
        _ => null,
    };

    private static string? Tell(TracedInput line) => line.Type switch
    {
        "pointerdown" => $"{Who(line)} goes down at {Number(line.X)}, {Number(line.Y)}",
        "pointerup" => $"{Who(line)} goes up at {Number(line.X)}, {Number(line.Y)}",
        "pointercancel" => $"{Who(line)} is taken back by the host",
        "keydown" => $"key {Chord(line)}",
        _ => null,
    };

    private string? Tell(TracedChange line) => line.Change switch
    {
        "tapped" => $"the app is told: tapped {Name(line.Key)}",
        "activated" => $"the app is told: activated {Name(line.Key)}",
        "selection" =>
            $"the app is told: selection {Many("+", line.Added, line.AddedCount)}{Many("−", line.Removed, line.RemovedCount)}".TrimEnd(),
        "cursor" => line.Part is { } part ? $"cursor on the heading {part[8..]}" : $"cursor on {Name(line.Key)}",
        "haptic" => null,
        "tray" => line.Open is null ? $"the tray closes: {line.Reason}" : $"the tray opens: {line.Reason}",
        "command" => $"the app has done: {line.Part![8..]} {Many("", line.Moved, line.Moved?.Count).Trim()}".TrimEnd(),
        "command-failed" => $"{line.Part![8..]} failed: {line.Reason}",
        "mark" => $"{line.Part![5..]}: {Many("+", line.Added, line.AddedCount)}{Many("−", line.Removed, line.RemovedCount)}".TrimEnd(),
        "collapsed" => $"{Folded(line)} collapses",
        "expanded" => $"{Folded(line)} expands",
        "announced" => $"said: {line.Reason}",
        "menu" => line.Open is null ? "the menu closes" : $"a menu for {Name(line.Key)}",
        "move" when line.Gap is null =>
            $"moved: {Many("", line.Moved, line.Moved?.Count).Trim()}{(line.Part is { } part ? $" into {part[8..]}" : "")}",
        "move" => $"the app is told: move {Many("", line.Moved, line.Moved?.Count).Trim()} to gap {line.Gap}",
        "gap" => $"over gap {line.Gap}{(line.Part is { } over ? $" of {over[8..]}" : "")}{(line.Reason is { } why ? $": {why}" : "")}",
        "scroll" => $"scrolled to {Number(line.ScrollTop)} px",
        "selecting" => line.Selecting == true ? "taps toggle from now on" : "taps toggle no longer",
        _ => line.Reason,
    };

    private string Folded(TracedChange line) => line.Part is { } part ? $"section {part[8..]}" : Name(line.Key);

    private static string Chord(TracedInput line) =>
        string.Concat(line.Modifiers?.Select(m => m + "+") ?? []) + (line.KeyName == " " ? "Space" : line.KeyName);

    private static string Who(TracedInput line) => line.PointerType switch { "touch" => "finger", "pen" => "pen", _ => "mouse button" };

    private string Many(string sign, IReadOnlyList<string>? keys, int? count) =>
        count is null or 0 ? "" : $"{sign} {(count > 3 ? $"{count} items" : string.Join(", ", keys!.Select(Name)))} ";

    /// <summary>A caption for what happened in one tick, from its lines: the input, and what came of it.</summary>
    public static string Caption(IReadOnlyList<TraceLine> lines)
    {
        var parts = new List<string>();
        // What it was not is news only where it was nothing.
        var some = lines.Any(l => l is TracedGesture { Recognised: true, Gesture: not ("press" or "release") });
        foreach (var line in lines)
        {
            var part = line switch
            {
                TracedInput { Type: "pointerdown" } => "press",
                TracedInput { Type: "keydown" } key => Chord(key),
                TracedInput { Type: "pointercancel" } => "cancelled",
                TracedGesture { Gesture: not ("press" or "release"), Phase: null or "begin" } gesture =>
                    gesture.Recognised ? gesture.Gesture : some ? null : $"no {gesture.Gesture}",
                TracedGesture { Phase: "end" } => "let go",
                TracedGesture { Phase: "cancel" } gesture => $"{gesture.Gesture} cancelled",
                TracedAct { Refused: null } act => act.Act,
                TracedAct refused => refused.Act is null ? "refused" : $"{refused.Act} refused",
                TracedChange { Change: "scroll" } => "scroll",
                TracedChange { Change: "move" } => "moved",
                TracedChange { Change: "tray" } tray => tray.Open is null ? "tray closes" : "tray opens",
                _ => null,
            };
            if (part is not null && !parts.Contains(part)) parts.Add(part);
        }
        return parts.Count == 0 ? "released" : string.Join(" › ", parts);
    }
}
