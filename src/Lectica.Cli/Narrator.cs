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

    /// <summary>A sentence, or null for a line that says nothing new to a reader.</summary>
    public string? Tell(TraceLine line) => line.Stage switch
    {
        "input" => line.Type switch
        {
            "pointerdown" => $"{Who(line)} goes down at {Number(line.X)}, {Number(line.Y)}",
            "pointerup" => $"{Who(line)} goes up at {Number(line.X)}, {Number(line.Y)}",
            "pointercancel" => $"{Who(line)} is taken back by the host",
            "keydown" => $"key {string.Concat(line.Modifiers?.Select(m => m + "+") ?? [])}{(line.KeyName == " " ? "Space" : line.KeyName)}",
            _ => null,
        },
        "gesture" when line.Gesture == "press" => $"pressed: {Name(line.Key)}",
        "gesture" when line.Gesture == "release" => null,
        "gesture" => line.Recognised == true ? $"{line.Gesture} on {Name(line.Key)}: {line.Reason}" : $"on {Name(line.Key)}: {line.Reason}",
        "act" when line.Refused is not null => $"{line.Act ?? "nothing done"}, {(line.Act is null ? "" : "refused: ")}{line.Reason}",
        "act" => $"{line.Act}{(line.Key is null ? "" : $" {Name(line.Key)}")}, by the rule '{line.Rule}'",
        "change" => line.Change switch
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
            "collapsed" => $"section {line.Part![8..]} collapses",
            "expanded" => $"section {line.Part![8..]} expands",
            "announced" => $"said: {line.Reason}",
            "menu" => line.Open is null ? "the menu closes" : $"a menu for {Name(line.Key)}",
            "move" when line.Gap is null =>
                $"moved: {Many("", line.Moved, line.Moved?.Count).Trim()}{(line.Part is { } part ? $" into {part[8..]}" : "")}",
            "move" => $"the app is told: move {Many("", line.Moved, line.Moved?.Count).Trim()} to gap {line.Gap}",
            "gap" => $"over gap {line.Gap}{(line.Part is { } over ? $" of {over[8..]}" : "")}{(line.Reason is { } why ? $": {why}" : "")}",
            "scroll" => $"scrolled to {Number(line.ScrollTop)} px",
            "selecting" => line.Selecting == true ? "taps toggle from now on" : "taps toggle no longer",
            _ => line.Reason,
        },
        _ => null,
    };

    private static string Who(TraceLine line) => line.PointerType switch { "touch" => "finger", "pen" => "pen", _ => "mouse button" };

    private string Many(string sign, IReadOnlyList<string>? keys, int? count) =>
        count is null or 0 ? "" : $"{sign} {(count > 3 ? $"{count} items" : string.Join(", ", keys!.Select(Name)))} ";

    /// <summary>A caption for what happened in one tick, from its lines: the input, and what came of it.</summary>
    public static string Caption(IReadOnlyList<TraceLine> lines)
    {
        var parts = new List<string>();
        // What it was not is news only where it was nothing.
        var some = lines.Any(l => l is { Stage: "gesture", Recognised: true, Gesture: not ("press" or "release") });
        foreach (var line in lines)
        {
            var part = line.Stage switch
            {
                "input" => line.Type switch
                {
                    "pointerdown" => "press",
                    "keydown" => string.Concat(line.Modifiers?.Select(m => m + "+") ?? []) + (line.KeyName == " " ? "Space" : line.KeyName),
                    "pointercancel" => "cancelled",
                    _ => null,
                },
                "gesture" when line.Gesture is not ("press" or "release") && line.Phase is null or "begin" =>
                    line.Recognised == true ? line.Gesture : some ? null : $"no {line.Gesture}",
                "gesture" when line.Phase == "end" => "let go",
                "gesture" when line.Phase == "cancel" => $"{line.Gesture} cancelled",
                "act" => line.Refused is null ? line.Act : line.Act is null ? "refused" : $"{line.Act} refused",
                "change" when line.Change == "scroll" => "scroll",
                "change" when line.Change == "move" => "moved",
                "change" when line.Change == "tray" => line.Open is null ? "tray closes" : "tray opens",
                _ => null,
            };
            if (part is not null && !parts.Contains(part)) parts.Add(part);
        }
        return parts.Count == 0 ? "released" : string.Join(" › ", parts);
    }
}
