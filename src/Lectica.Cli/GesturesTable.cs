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
                rule.Name, PointerWords(rule.Pointers), AreaWords(rule.On),
                    rule.Acts.IsEmpty ? "nothing more" : string.Join(", then ", rule.Acts.Select(ActNames.Of)), rule.When?.Name ?? "always",
            ];
    }

    private static string PointerWords(Pointers pointers) => pointers switch
    {
        Pointers.All => "any",
        _ => string.Join(", ", Each(pointers)),
    };

    private static IEnumerable<string> Each(Pointers pointers) =>
        ((Pointers[])[Pointers.Mouse, Pointers.Pen, Pointers.Touch]).Where(p => pointers.HasFlag(p))
        .Select(p => p.ToString().ToLowerInvariant());

    /// <summary>The pointers that a rule is for, one by one.</summary>
    public static IEnumerable<string> PointersOf(GestureRule rule) => Each(rule.Pointers);

    /// <summary>The areas that a rule is for, one by one.</summary>
    public static IEnumerable<string> AreasOf(GestureRule rule) => Each(rule.On);

    private static IEnumerable<string> Each(HitAreas areas)
    {
        foreach (var area in Enum.GetValues<HitAreas>())
            if (int.IsPow2((int)area) && areas.HasFlag(area))
                yield return area == HitAreas.EmptySpace ? "empty space" : area.ToString().ToLowerInvariant();
    }

    private static string AreaWords(HitAreas areas)
    {
        if (areas == HitAreas.Row) return "anywhere on a row";
        if (areas == HitAreas.OutsideTray) return "anywhere outside the tray";
        if (areas == (HitAreas.OutsideTray | HitAreas.Tray)) return "anywhere";
        return string.Join(", ", Each(areas));
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
        string.Concat(Lines(options).Select(l => $"| {string.Join(" | ", l)} |\n")
        .Prepend($"| {string.Join(" | ", Columns)} |\n|{string.Concat(Columns.Select(_ => "---|"))}\n"));
}
