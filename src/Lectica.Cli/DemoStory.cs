using Lectica.Skia;
using Lectica.Testing;
using Lectica.Tracing;
using Spectre.Console;

namespace Lectica.Cli;

/// <summary>The demo: a small app that answers each tap, played by the bundled script, and told.</summary>
internal static class DemoStory
{
    /// <summary>Gives whether all went as the script means it to.</summary>
    public static bool Tell(ListFile file, ActionScript script, string folder, IAnsiConsole console, Progress progress)
    {
        var list = file.Open();
        var answers = new List<string>();
        // The app: told which item it was, it answers.
        list.Tapped += (_, tap) => answers.Add($"tapped {tap.Key}");
        list.SelectionChanged += (_, change) => answers.Add($"selected {string.Join(", ", change.AddedItems.Select(r => r.Key))}");
        list.Activated += (_, opened) =>
        {
            answers.Add($"opened {opened.Key}");
            list.Subtitle = $"Opened: {list.ContentAt(opened.Index).Label}";
        };

        using var pictures = new Pictures(file.Folder);
        var painter = new FramePainter(Theme.Light, pictures.Of);
        var before = list.Frame;
        Frames.Frame? during = null;
        list.Traced += line =>
        {
            if (line is { Stage: "gesture", Gesture: "press" }) during ??= list.Frame;
        };
        var recorder = new Recorder(list, film: false);
        recorder.Play(script, progress);
        progress.Done();

        var table = new Table().Border(TableBorder.Simple).AddColumn(new TableColumn("ms").RightAligned()).AddColumn("stage").AddColumn("what happened");
        foreach (var line in recorder.Lines)
            if (recorder.Narrator.Tell(line) is { } told)
                table.AddRow(new Text($"{line.T:0}"), new Text(line.Stage), new Text(told, line.Stage == "change" ? new Style(decoration: Decoration.Bold) : Style.Plain));
        console.Write(new Text($"{file.Title}: {list.Count} items, {list.Frame.Rows.Length} rows on show. A finger taps.\n"));
        console.Write(table);

        void Picture(string name, Frames.Frame frame)
        {
            using var png = painter.ToPng(frame);
            Files.Write(Path.Combine(folder, name), png.SaveTo);
        }
        Files.Write(Path.Combine(folder, "trace.jsonl"), recorder.WriteTrace);
        Picture("before.png", before);
        if (during is not null) Picture("during.png", during);
        Picture("after.png", list.Frame);
        console.Write(new Text($"Written: {folder}/trace.jsonl, {folder}/before.png, {folder}/during.png, {folder}/after.png\n"));

        string[] expected = ["tapped R03", "selected R03", "opened R03", "tapped R03", "opened R03", "tapped R06", "selected R06", "opened R06"];
        if (answers.SequenceEqual(expected))
        {
            console.Write(new Text("The tapped event came three times, the selection event twice: the second tap on the same item changed nothing.\n"));
            return true;
        }
        console.Write(new Text($"Not as expected: the app was told {string.Join("; ", answers)}\n"));
        return false;
    }
}
