using Lectica.Acts;
using Lectica.Layout;
using Spectre.Console;

namespace Lectica.Cli;

/// <summary>
/// The gesture table in force for a list, for people: which gesture where means what, in the order in which the rules are tried.
/// </summary>
internal static class GesturesTable
{
    private static readonly string[] Columns = ["rule", "pointer", "on", "acts", "when"];

    private static IEnumerable<string[]> Lines(ListOptions options)
    {
        foreach (var rule in options.Gestures.Rules)
            yield return
            [
                rule.Name, PointerWords(rule.Pointers), PlaceWords(rule.On), rule.Acts.IsEmpty ? "nothing more" : string.Join(", then ", rule.Acts.Select(ActNames.Of)), rule.When?.Name ?? "always",
            ];
    }

    private static string PointerWords(Pointers pointers) => pointers switch
    {
        Pointers.All => "any",
        _ => string.Join(", ", Enum.GetValues<Pointers>().Where(p => p is Pointers.Mouse or Pointers.Pen or Pointers.Touch && pointers.HasFlag(p)).Select(p => p.ToString().ToLowerInvariant())),
    };

    private static string PlaceWords(Places places)
    {
        if (places == Places.BesideTray) return "anywhere beside the tray";
        if (places == (Places.BesideTray | Places.Tray)) return "anywhere";
        var parts = Enum.GetValues<PartKind>().Where(k => places.HasFlag((Places)(1 << (int)k))).Select(k => k.ToString().ToLowerInvariant());
        return string.Join(", ", places.HasFlag(Places.EmptySpace) ? parts.Append("empty space") : parts);
    }

    public static void Write(ListOptions options, IAnsiConsole console)
    {
        var table = new Table().Border(TableBorder.Simple);
        foreach (var column in Columns) table.AddColumn(column);
        foreach (var line in Lines(options)) table.AddRow(line.Select(cell => new Text(cell)));
        console.Write(new Text($"Gestures, the first rule that takes one gives its acts; Mod is {options.ModKey}.\n"));
        console.Write(table);
    }

    public static string Markdown(ListOptions options) =>
        string.Concat(Lines(options).Select(l => $"| {string.Join(" | ", l)} |\n").Prepend($"| {string.Join(" | ", Columns)} |\n|{string.Concat(Columns.Select(_ => "---|"))}\n"));
}
