using System.Globalization;
using Lectica.Testing;
using Spectre.Console;

namespace Lectica.Cli;

/// <summary>What tuning found, for people.</summary>
internal static class TuningTable
{
    private const int MissesTold = 8;

    public static void Write(TuningReport report, IAnsiConsole console)
    {
        var now = report.Now;
        console.Write(new Text($"{now.Right} of {now.Total} contacts came out as they were meant.\n"));
        var table = new Table().Border(TableBorder.Simple).AddColumn("meant");
        List<string> got = [.. now.Got];
        foreach (var column in got) table.AddColumn(new TableColumn(column).RightAligned());
        foreach (var meant in now.Meant)
            table.AddRow(
                [new Text(meant),
                    .. got.Select(
                        g => new Text(now[meant, g] == 0 ? "" : now[meant, g].ToString("N0", CultureInfo.InvariantCulture),
                            meant == g ? new Style(decoration: Decoration.Bold) : Style.Plain))]);
        console.Write(table);

        if (!report.Misses.IsEmpty)
            console.Write(
                new Text($"The nearest misses{(report.Misses.Length > MissesTold ? $", {MissesTold} of {report.Misses.Length}" : "")}:\n"));
        foreach (var miss in report.Misses.Take(MissesTold))
            console.Write(
                Indented(string.Create(CultureInfo.InvariantCulture,
                    $"{Path.GetFileName(miss.File)} at {miss.Time:0} ms: {miss.Meant} came out as {miss.Got}: " +
                        $"{miss.Reason ?? "it was not possible there"}")));

        if (report.HeldOutTotal == 0)
        {
            console.Write(new Text("There is one recording only: limits tuned on it cannot be judged by another. Give two or more.\n"));
            return;
        }
        console.Write(
            new Text($"On recordings held out while tuning: {report.HeldOutNow} of {report.HeldOutTotal} right with the limits as " +
                $"they are, {report.HeldOutTuned} with tuned ones.\n"));
        console.Write(new Text(report.IsBetter
            ? $"Tuned on all of them, for the list file: \"thresholds\": {ThresholdsJson.Write(report.Tuned)}\n"
            : "Tuned limits do no better than those there are: leave them.\n"));
        if (report.IsBetter)
            foreach (var limit in report.Limits)
                console.Write(
                    Indented(string.Create(CultureInfo.InvariantCulture,
                        $"{limit.Name}: {limit.Value} does as well as any from {limit.From:0.#} to {limit.To:0.#}; " +
                            $"{limit.Examples:N0} examples")));
        if (!report.TooFew.IsEmpty)
            console.Write(new Text($"Too few to go by, under {Tuner.Enough} examples: {string.Join("; ", report.TooFew)}.\n"));
    }

    // All lines of it, where it is longer than one.
    private static Padder Indented(string text) => new(new Text(text), new(left: 2, top: 0, right: 0, bottom: 0));
}
