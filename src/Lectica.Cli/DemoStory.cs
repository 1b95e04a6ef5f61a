using Lectica.Skia;
using Lectica.Testing;
using Lectica.Tracing;
using Spectre.Console;

namespace Lectica.Cli;

/// <summary>The demo: small apps that answer, played by the bundled scripts, and told.</summary>
internal static class DemoStory
{
    /// <summary>Tells the stories; gives whether all went as the scripts mean it to.</summary>
    public static bool Tell(string data, string folder, IAnsiConsole console, Progress progress)
    {
        var taps = Taps(ListFile.Load(Path.Combine(data, "night-plan.list.json"), progress), Input.Load(Path.Combine(data, "demo.actions.json")), folder, console, progress);
        var ranges = Ranges(ListFile.Load(Path.Combine(data, "ranges.list.json"), progress), Input.Load(Path.Combine(data, "ranges.actions.json")), folder, console, progress);
        var gestures = Gestures(ListFile.Load(Path.Combine(data, "gestures.list.json"), progress), Input.Load(Path.Combine(data, "gestures.actions.json")), folder, console, progress);
        return taps && ranges && gestures;
    }

    /// <summary>Swipes, a long press that moves on, and drags: what each asks the app for.</summary>
    private static bool Gestures(ListFile file, Input script, string folder, IAnsiConsole console, Progress progress)
    {
        var list = file.Open();
        var answers = new List<string>();
        list.CommandRan += (_, ran) => answers.Add($"{ran.Command.Id} {string.Join("+", ran.Target.Keys)}");
        list.MenuRequested += (_, menu) => answers.Add($"menu {menu.Key}");
        list.MoveRequested += (_, move) => answers.Add($"move {string.Join("+", move.Keys)} to gap {move.Gap}");
        using var pictures = new Pictures(file.Folder);
        var recorder = new Recorder(list, film: true);
        recorder.Play(script, progress);
        progress.Done();
        console.Write(new Text("\n3. More than taps: swipes that open a tray and swipe through, a long press that moves on, drags by the handle and by mouse.\n"));
        Table(recorder, console, line => line.Stage == "change" || line is { Stage: "gesture", Recognised: true, Phase: "begin" or null });
        Files.Write(Path.Combine(folder, "gestures.jsonl"), recorder.WriteTrace);
        using var strip = new FilmStrip(Theme.Light, pictures.Of).ToPng(recorder.Film, 6, 0.6f);
        Files.Write(Path.Combine(folder, "gestures.png"), strip.SaveTo);
        console.Write(new Text($"Written: {folder}/gestures.jsonl, {folder}/gestures.png\n"));

        string[] expected = ["defer R03", "star R05", "menu R02", "move R02 to gap 4", "move R06 to gap 3", "move R01+R04 to gap 4"];
        var good = answers.SequenceEqual(expected);
        console.Write(new Text(good
            ? "The app was asked for just what was meant: a tray's command by tap and by swipe, a menu that closed when the finger moved on, and three moves.\n"
            : $"Not as expected: the app was asked for {string.Join("; ", answers)}\n"));
        return good;
    }

    /// <summary>Many items by mouse and keyboard: ranges, finding by typing, all and none.</summary>
    private static bool Ranges(ListFile file, Input script, string folder, IAnsiConsole console, Progress progress)
    {
        var list = file.Open();
        var counts = new List<int>();
        list.SelectionChanged += (_, change) => counts.Add(change.Selected.Count);
        using var pictures = new Pictures(file.Folder);
        var recorder = new Recorder(list, film: true);
        recorder.Play(script, progress);
        progress.Done();
        console.Write(new Text("\n2. Many items: a click, ranges by Shift and arrows, two letters typed, all of them, a page down, none.\n"));
        Table(recorder, console, line => line.Stage == "change" || line.Type == "keydown");
        Files.Write(Path.Combine(folder, "ranges.jsonl"), recorder.WriteTrace);
        using var strip = new FilmStrip(Theme.Light, pictures.Of).ToPng(recorder.Film, 6, 0.6f);
        Files.Write(Path.Combine(folder, "ranges.png"), strip.SaveTo);
        console.Write(new Text($"Written: {folder}/ranges.jsonl, {folder}/ranges.png\n"));

        var enabled = list.Count - list.Disabled.Count;
        int[] expected = [1, 2, 3, 1, enabled, 1, 0];
        var good = counts.SequenceEqual(expected);
        console.Write(new Text(good
            ? $"The selection event came {counts.Count} times, once for each act that changed it: {string.Join(", ", counts)} selected. The disabled were never among them.\n"
            : $"Not as expected: the selection went {string.Join(", ", counts)} instead of {string.Join(", ", expected)}\n"));
        return good;
    }

    private static void Table(Recorder recorder, IAnsiConsole console, Func<TraceLine, bool> shows)
    {
        var table = new Table().Border(TableBorder.Simple).AddColumn(new TableColumn("ms").RightAligned()).AddColumn("stage").AddColumn("what happened");
        foreach (var line in recorder.Lines)
            if (shows(line) && recorder.Narrator.Tell(line) is { } told)
                table.AddRow(new Text($"{line.T:0}"), new Text(line.Stage), new Text(told, line.Stage == "change" ? new Style(decoration: Decoration.Bold) : Style.Plain));
        console.Write(table);
    }

    /// <summary>One item by touch: told which, the app answers.</summary>
    private static bool Taps(ListFile file, Input script, string folder, IAnsiConsole console, Progress progress)
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

        console.Write(new Text($"1. {file.Title}: {list.Count} items, {list.Frame.Rows.Length} rows on show. A finger taps.\n"));
        Table(recorder, console, _ => true);

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
