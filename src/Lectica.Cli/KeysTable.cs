using System.Globalization;
using Lectica.Acts;
using Lectica.Layout;
using Spectre.Console;

namespace Lectica.Cli;

/// <summary>The key table in force for a list, for people: what each chord does, under which condition, and what cannot work.</summary>
internal static class KeysTable
{
    private static readonly Dictionary<ActKind, string> Words = new()
    {
        [ActKind.MoveCursor] = "move the cursor",
        [ActKind.Select] = "select",
        [ActKind.Toggle] = "toggle",
        [ActKind.Extend] = "extend from the anchor",
        [ActKind.ExtendAdding] = "extend from the anchor, adding",
        [ActKind.SelectAll] = "select all",
        [ActKind.ToggleAll] = "select all, or none of them",
        [ActKind.Clear] = "clear the selection",
        [ActKind.Invert] = "invert the selection",
        [ActKind.Activate] = "activate",
        [ActKind.BeginSelecting] = "begin selecting",
        [ActKind.EndSelecting] = "leave selecting",
        [ActKind.MovePart] = "go to a part of the row",
        [ActKind.PressPart] = "press the part",
        [ActKind.Cancel] = "cancel what is being dragged or swiped",
        [ActKind.OpenMenu] = "open the menu",
        [ActKind.CloseMenu] = "close the menu",
        [ActKind.CloseTray] = "close the tray",
        [ActKind.ToggleMark] = "toggle the mark",
        [ActKind.Undo] = "take back",
        [ActKind.Redo] = "do again",
        [ActKind.Grab] = "take up to move",
        [ActKind.Hover] = "carry over another gap",
        [ActKind.Drop] = "drop what is carried",
        [ActKind.DropBack] = "put back what is carried",
        [ActKind.Move] = "move by one place",
        [ActKind.Copy] = "copy",
        [ActKind.Cut] = "cut",
        [ActKind.Paste] = "paste",
        [ActKind.GoInward] = "expand, or go to the first one below",
        [ActKind.GoOutward] = "collapse, or go to the one that it lies below",
        [ActKind.ToggleBranch] = "toggle with all below",
    };

    // Where the cursor goes.
    private static readonly Dictionary<Direction, string> Goals = new()
    {
        [Direction.Here] = "the row at the cursor",
        [Direction.Previous] = "the row above",
        [Direction.Next] = "the row below",
        [Direction.First] = "the first row",
        [Direction.Last] = "the last row",
        [Direction.Up] = "the tile above",
        [Direction.Down] = "the tile below",
        [Direction.LineStart] = "the first of the line",
        [Direction.LineEnd] = "the last of the line",
        [Direction.PageUp] = "a page up",
        [Direction.PageDown] = "a page down",
        [Direction.Inward] = "one level in",
        [Direction.Outward] = "one level out",
        [Direction.PartLeft] = "to the left",
        [Direction.PartRight] = "to the right",
        [Direction.FirstPart] = "the leading one",
        [Direction.LastPart] = "the trailing one",
    };

    // Which way what is moved goes.
    private static readonly Dictionary<Direction, string> Ways = new()
    {
        [Direction.Previous] = "up",
        [Direction.Next] = "down",
        [Direction.First] = "to the first place",
        [Direction.Last] = "to the last place",
        [Direction.Up] = "a line up",
        [Direction.Down] = "a line down",
        [Direction.LineStart] = "to the first place",
        [Direction.LineEnd] = "to the last place",
        [Direction.PageUp] = "a page up",
        [Direction.PageDown] = "a page down",
        [Direction.Inward] = "one level in",
        [Direction.Outward] = "one level out",
    };

    // What in tiles is another way than in rows.
    private static readonly Dictionary<Direction, string> InTiles = new()
    {
        [Direction.Here] = "the tile at the cursor",
        [Direction.Previous] = "the tile before",
        [Direction.Next] = "the tile after",
        [Direction.First] = "the first tile",
        [Direction.Last] = "the last tile",
    };

    private static string WordsOf(KeyRule rule, bool isTiles)
    {
        if (rule.Acts is not [ActKind.Hover or ActKind.Move])
            return isTiles && InTiles.TryGetValue(rule.Direction, out var words) ? words : Goals[rule.Direction];
        return isTiles && rule.Direction is Direction.Previous or Direction.Next ? rule.Direction == Direction.Previous
            ? "one place back" : "one place on"
            : Ways[rule.Direction];
    }

    private static IEnumerable<(string Chord, string Does, string When)> Lines(InteractiveList<Row, string> list)
    {
        var options = list.Options;
        foreach (var (rule, always) in list.KeyRulesInForce)
            yield return (rule.Chord.ToString(),
                string.Join(", then ", rule.Acts.Select(a => Words.GetValueOrDefault(a, ActNames.Of(a)))) +
                    (rule.Direction == Direction.None ? "" : ": " + WordsOf(rule, options.Layout is Tiles or Strip)),
                    always ? "always" : rule.When?.Name ?? "otherwise");
        foreach (var command in list.Commands)
            foreach (var chord in command.Chords) yield return (chord.ToString(), $"the command '{command.Id}'", "always");
        if (options.Keys.FindsByTyping) yield return ("printable characters", "find by typing", "always");
    }

    internal static List<(string Chord, string Reason)> Conflicts(InteractiveList<Row, string> list) =>
    [
        .. list.Options.Keys.Conflicts(list.Options.Mode, list.Options.ModKey).Select(c => (c.Rule.Chord.ToString(), c.Reason)),
        .. list.ChordConflicts().Select(c => (c.Chord.ToString(), $"the command '{c.Command.Id}' is {c.Reason}")),
    ];

    private static string Heading(ListOptions options) =>
        $"Key table '{options.Keys.Name}'; Mod is {options.ModKey}{(options.IsRightToLeft ? "; right-to-left: left and right swap" : "")}.";

    public static void Write(InteractiveList<Row, string> list, IAnsiConsole console)
    {
        var table = new Table().Border(TableBorder.Simple).AddColumn("key").AddColumn("does").AddColumn("when");
        foreach (var (chord, does, when) in Lines(list)) table.AddRow(new Text(chord), new Text(does), new Text(when));
        console.Write(new Text(Heading(list.Options) + "\n"));
        console.Write(table);
        var conflicts = Conflicts(list);
        console.Write(
            new Text(conflicts.Count == 0 ? "No conflicts.\n"
                : $"{conflicts.Count} {(conflicts.Count == 1 ? "conflict" : "conflicts")}:\n"));
        foreach (var (chord, reason) in conflicts) console.Write(new Text($"  {chord}: {reason}\n"));
    }

    public static string Markdown(InteractiveList<Row, string> list)
    {
        var text = new System.Text.StringBuilder();
        text.Append(Heading(list.Options)).Append("\n\n| key | does | when |\n|---|---|---|\n");
        foreach (var (chord, does, when) in Lines(list))
            text.Append(CultureInfo.InvariantCulture, $"| {(chord[0] == 'p' ? chord : $"`{chord}`")} | {does} | {when} |\n");
        var conflicts = Conflicts(list);
        if (conflicts.Count == 0) return text.Append("\nNo conflicts.\n").ToString();
        text.Append("\nConflicts:\n\n");
        foreach (var (chord, reason) in conflicts) text.Append(CultureInfo.InvariantCulture, $"- `{chord}`: {reason}\n");
        return text.ToString();
    }
}
