using Lectica.Layout;
using Lectica.Skia;
using Lectica.Testing;
using Lectica.Tracing;
using Spectre.Console;

namespace Lectica.Cli;

/// <summary>The demo: small apps that answer, played by the bundled scripts, and told.</summary>
internal static class DemoStory
{
    /// <summary>Tells the chapters in the order in which an app is built; gives whether all went as they mean it to.</summary>
    public static bool Tell(string data, string folder, IAnsiConsole console, Progress progress)
    {
        ListFile Load(string name) => ListFile.Load(Path.Combine(data, name), progress);
        Input Script(string name) => Input.Load(Path.Combine(data, name));
        var plan = Load("plan.list.json");
        bool[] good =
        [
            Told(1, "Rows on show", "A night plan of an imaginary observatory: sections, marks, what is disabled, how many there are.",
                plan, folder, console, (player, shoot) =>
            {
                shoot("the plan as it opens");
                player.List.ScrollTo(1200);
                shoot("scrolled: only the rows in view are made");
                return player.List.Frame.Rows.Length < 15;
            }),
            Taps(Load("night-plan.list.json"), Script("demo.actions.json"), folder, console, progress),
            Told(3, "Feedback", "A press shows, the row says what is done, a notice says it once more.", plan, folder, console,
                (player, shoot) =>
            {
                player.List.Activated += (_, opened) =>
                {
                    player.List.Flash(opened.Key, "Opening");
                    player.List.Notify($"{player.List.ContentAt(opened.Index).Label} opens in the viewer");
                };
                player.Touch.GoTo("R06");
                player.Touch.Down();
                shoot("the finger is down");
                player.Wait(80);
                player.Touch.Up();
                shoot("a flash on the row, and a notice");
                var said = player.List.Frame.Brief is not null;
                player.Wait(5000);
                shoot("five seconds later");
                return said && player.List.Frame.Brief is null;
            }),
            Ranges(Load("ranges.list.json"), Script("ranges.actions.json"), folder, console, progress),
            Told(5, "Check marks",
                "Each request has its own two marks; a tap on one leaves the selection alone, and is taken back by a key.", plan, folder,
                    console, (player, shoot) =>
            {
                player.Touch.Tap("mark:starred:R07");
                shoot("starred");
                player.Touch.Tap("mark:observed:R06");
                shoot("observed: it lingers a moment");
                player.Press("Ctrl+Z");
                shoot("Ctrl+Z");
                return player.List.Marked("starred").Contains(6) && !player.List.Marked("observed").Contains(5)
                    && player.List.SelectedCount == 0;
            }),
            Told(6, "Stored state", "What was selected, collapsed and looked at comes back after a reload, by key.", plan, folder, console,
                (player, shoot) =>
            {
                player.List.SelectedKeys = ["R03", "R07"];
                player.List.CollapseOrExpand("on");
                player.List.ScrollTo(30);
                shoot("before the reload");
                var snapshot = ListSnapshot.Parse(player.List.Save().ToJson());
                var again = plan.Open();
                var report = again.Restore(snapshot);
                return report.MissingKeys.Count == 0 && again.SelectedKeys.SequenceEqual(["R03", "R07"])
                    && again.CollapsedSections.SequenceEqual(["on"]);
            }),
            Told(7, "Context menu", "The commands, declared once: by the menu part, a long press or a key, for the selection or the row.",
                plan, folder, console, (player, shoot) =>
            {
                player.Touch.Tap("menu:R07");
                shoot("the menu of one request");
                player.Press("End");
                player.Press("ArrowUp");
                player.Press("ArrowUp");
                player.Press("ArrowRight");
                shoot("a submenu");
                player.Press("Enter");
                shoot("done");
                return player.List.BriefNotice?.Text == "1 deferred by an hour";
            }),
            Gestures(Load("gestures.list.json"), Script("gestures.actions.json"), folder, console, progress),
            Told(9, "Reorder",
                "By its handle, by keys, from the menu: into another section, and back with Ctrl+Z. The frame shows the list as it " +
                    "would be.", Load("reorder.list.json"), folder, console, (player, shoot) =>
            {
                var list = player.List;
                var order = list.StateLine().Order!;
                var cancelled = list.SectionState("cancelled").Count;
                list.SelectedKeys = ["R07", "R12"];
                player.Touch.GoTo("handle:R07");
                player.Touch.Down();
                player.Touch.GlideTo(player.Touch.X, player.Touch.Y + 70, 200);
                shoot("two taken up by the handle: where they would land");
                player.Touch.GlideTo(player.Touch.X, 508, 400);
                shoot("over a collapsed section");
                player.Wait(700);
                shoot("600 ms later it has opened");
                player.Touch.Up();
                shoot("dropped: they are cancelled now");
                var dropped = list.SectionState("cancelled").Count;
                player.Press("Ctrl+Z");
                list.MoveCursorTo("R10");
                player.Press("Alt+Enter");
                player.Press("ArrowUp");
                shoot("by keys: Alt+Enter, then arrows");
                player.Press("Home");
                shoot("a pinned request is not shifted");
                var kept = list.Frame.Grab?.Refusal is not null;
                player.Press("Escape");
                list.OpenMenu("R10");
                player.Press("ArrowDown");
                player.Press("ArrowRight");
                shoot("from the menu, without dragging");
                player.Press("Escape");
                player.Press("Escape");
                return dropped == cancelled + 2 && kept && list.StateLine().Order!.SequenceEqual(order);
            }),
            Told(10, "Sections", "Observed requests go to a section of their own; headings have a box, a number, and collapse.", plan,
                folder, console, (player, shoot) =>
            {
                player.List.ToggleMark("observed", "R02");
                player.Wait(900);
                player.List.ToggleSection("on");
                shoot("R02 has moved, all observed are selected");
                player.List.CollapseOrExpand("off");
                shoot("the waiting are collapsed");
                return player.List.SectionState("on") is { State: Selecting.TriState.On } state && state.Count == player.List.SelectedCount;
            }),
            Told(11, "Keyboard", "The cursor stops on headings; Space marks, letters find, Delete withdraws and Ctrl+Z brings back.", plan,
                folder, console, (player, shoot) =>
            {
                player.Press("ArrowDown");
                player.Press("ArrowDown");
                player.Press("Space");
                shoot("Space on Fenimar Pair");
                player.Type("zi");
                shoot("typed: zi");
                var found = player.List.CursorKey;
                player.Press("Delete");
                shoot("Delete");
                var gone = player.List.Count;
                player.Press("Ctrl+Z");
                shoot("Ctrl+Z");
                return found == "R07" && gone == 47 && player.List.Count == 48;
            }),
            Told(12, "Many items and select all",
                "One box for all of them; what fits of the toolbar shows, the rest overflows; a request is added, moved and doubled.", plan,
                    folder, console, (player, shoot) =>
            {
                player.List.RunCommand("add");
                player.List.RunCommand("top", "R09");
                player.List.RunCommand("duplicate", "R09");
                shoot("added; R09 moved to the top and doubled");
                if (player.List.Count != 50 || player.List[0].Key != "R09" || player.List[1].Key != "R09-2") return false;
                player.List.ToggleAll();
                shoot("the header's box: all that show and are enabled");
                player.List.Invert();
                shoot("and none of them");
                var toolbar = player.List.ToolbarFor(160);
                return toolbar.Shown.Length == 2 && toolbar.Overflow.Length == 3;
            }),
            Archive(folder, console, progress),
            Told(14, "Tiles",
                "Plates of a sky survey lie in tiles: keys go both ways, a rectangle takes what it touches, and others flow around what " +
                    "is carried.", Load("plates.list.json"), folder, console, (player, shoot) =>
            {
                shoot("as many in a line as fit, under their headings");
                player.List.Clear();
                player.List.MoveCursorTo("P04");
                foreach (var key in (string[])["ArrowDown", "ArrowLeft", "Shift+ArrowUp"]) player.Press(key);
                shoot("down, left, and a range up");
                player.Press("Escape");
                player.Mouse.MoveTo(172, 60);
                player.Mouse.Down();
                player.Mouse.GlideTo(420, 260, 300);
                shoot("a rectangle over two columns of two lines");
                player.Mouse.Up();
                var picked = player.List.SelectedCount;
                player.Mouse.DragToGap("P02", 7, release: false);
                shoot("carried: the others flow");
                player.Mouse.Up();
                shoot("dropped, and still selected");
                return picked == 4
                    && string.Join(" ", Enumerable.Range(0, 8).Select(player.List.KeyAt)) == "P01 P04 P05 P02 P03 P06 P07 P08";
            }),
            Told(15, "Strip",
                "The same plates side by side: keys go along, a swipe goes up or down, and what is carried finds its gap on the way.",
                    Load("strip.list.json"), folder, console, (player, shoot) =>
            {
                shoot("one line, which scrolls sideways");
                player.List.ScrollTo(150);
                player.Touch.GoTo("P03");
                player.Touch.Down();
                player.Touch.GlideTo(player.Touch.X, player.Touch.Y + 60, 200);
                shoot("a finger goes down: the tray lies above");
                player.Touch.Up();
                player.Press("Escape");
                player.List.Clear();
                player.Mouse.DragToGap("P02", 4, release: false);
                shoot("carried along");
                player.Mouse.Up();
                player.List.MoveCursorTo("P02");
                foreach (var key in (string[])["ArrowRight", "Shift+ArrowRight"]) player.Press(key);
                shoot("dropped; then right, and a range");
                return string.Join(" ", Enumerable.Range(0, 5).Select(player.List.KeyAt)) == "P01 P03 P04 P02 P05"
                    && player.List.SelectedCount == 2;
            }),
            Told(16, "Columns",
                "Rows show several fields under headers that stay. A press on a header sorts, and so do keys: up from the first row, " +
                    "along, Enter.", Load("table.list.json"), folder, console, (player, shoot) =>
            {
                shoot("as it opens: sorted by magnitude");
                player.List.PressHeader("field");
                shoot("a press on another header");
                player.Press("Home");
                foreach (var key in (string[])["ArrowUp", "ArrowRight", "ArrowRight", "ArrowRight", "Enter", "Enter"]) player.Press(key);
                shoot("by keys: up, along, and Enter twice");
                player.List.Resize(380, 440);
                shoot("on a phone the last ones give way");
                return player.List.Sort == new ColumnSort("minutes", true) && player.List.SelectedCount == 1
                    && player.List.Frame.Headers.Length < 5;
            }),
            Told(17, "Outline",
                "Targets lie under campaigns under programmes: branches collapse, a box takes all that is below, and a move takes a " +
                    "branch along.", Load("programmes.list.json"), folder, console, (player, shoot) =>
            {
                shoot("two levels are open");
                player.Touch.Tap("expander:C11");
                player.Touch.Tap("check:C11");
                player.Touch.Tap("check:C13");
                shoot("a campaign expanded, and the boxes of two");
                player.List.Clear();
                player.Mouse.GoTo("handle:C21");
                player.Mouse.Down();
                player.Mouse.GlideTo(player.Mouse.X, 392, 400);
                shoot("carried: a level is chosen by how far to the side");
                player.Mouse.GlideTo(player.Mouse.X + 30, 392, 200);
                shoot("one level further in");
                player.Mouse.Up();
                player.List.Filter = row => row.Values.Any(v => v.StartsWith("Keldan", StringComparison.Ordinal));
                shoot("a filter keeps the way to what it finds");
                return player.List.LevelOf("C21") == 2 && player.List.WithBelow(["C11"]).Contains("C21") && player.List.Shown.Count == 3;
            }),
        ];
        using var bar = new FramePainter(Theme.Light).ToPng(Selected(plan).ToolbarFor(160), 160);
        Files.Write(Path.Combine(folder, "toolbar.png"), bar.SaveTo);
        return good.All(g => g);
    }

    /// <summary>A list of what is not in memory: read where it is looked at, selected where it is not.</summary>
    private static bool Archive(string folder, IAnsiConsole console, Progress progress)
    {
        const int count = 1_000_000;
        var file = Path.Combine(folder, "night-archive.db");
        Directory.CreateDirectory(folder);
        NightArchive.Make(file, count, progress);
        using var source = NightArchive.SourceOf(file);
        using var list = InteractiveList.Awaiting<ArchivedRequest, int>(
            r => r.Id, new()
            {
                Mode = Acts.SelectionMode.Multiple,
                ModKey = Lectica.Input.ModKey.Ctrl,
                Title = "Night archive",
                Parts = new() { Check = true, Marks = ["observed"] },
                Phrases = Phrases.English,
            });
        list.Content = r => new(r.Field, NightArchive.Says(r));
        list.Marks = [new("observed") { Label = "Observed", Look = Marking.MarkLook.Tick, Get = r => r.IsObserved, Set = (_, _) => { } }];
        var player = ListPlayer.On(list);
        var film = new List<FilmFrame>();
        void Shoot(string caption) => film.Add(new(list.Frame, caption));
        list.Show(source);
        list.WaitUntilRead();
        Shoot("opened: one page of 1,000,000 was read");
        player.ScrollTo(600_000 * list.Options.RowHeight);
        Shoot("far down: these rows are still being read");
        list.WaitUntilRead();
        Shoot("a moment later");
        player.ScrollTo(0);
        list.WaitUntilRead();
        player.Press("Ctrl+A");
        foreach (var row in (int[])[1, 2, 4]) player.Mouse.Tap($"check:{list.KeyTextAt(row)}");
        Shoot("all but three");
        var (selected, read, condition) = (list.Selected.Count, Enumerable.Range(0, count).Count(list.IsRead), list.Selected.Condition);
        list.SetMark("observed", list.Selection.Items, true);
        list.WaitUntilRead();
        Shoot("observed, by one statement");
        using var archive = new NightArchive(file);
        var observed = archive.Requests.Count(r => r.IsObserved);
        var good = selected == count - 3 && read < 3_000 && condition.Terms.Length <= 3 && observed is >= count - 3 and <= count
            && film[1].Frame.Rows.All(r => r.Reading == Frames.RowReading.Pending);
        var picture = $"{folder}/13-not-in-memory.png";
        using var strip = new FilmStrip(Theme.Light).ToPng(film, 5, 0.7f);
        Files.Write(picture, strip.SaveTo);
        console.Write(
            new Text("\n13. Not in memory. An archive of 1,000,000 requests in SQLite. What is in view is read; what is selected is a " +
                "condition.\n"));
        foreach (var (frame, i) in film.Select((f, i) => (f, i)))
            console.Write(new Padder(new Text($"{i + 1}: {frame.Caption}"), new(4, 0, 0, 0)));
        console.Write(
            new Text(string.Create(System.Globalization.CultureInfo.InvariantCulture,
                $"{selected:N0} selected of {count:N0}, of which {read:N0} were read: a condition of {condition.Terms.Length} terms, and " +
                    $"one statement, after which {observed:N0} are observed.\n")));
        console.Write(new Text(good ? $"Written: {picture}, {folder}/night-archive.db\n" : $"Not as expected; see {picture}\n"));
        return good;
    }

    private static InteractiveList<Row, string> Selected(ListFile file)
    {
        var list = file.Open();
        list.SelectAll();
        return list;
    }

    /// <summary>A chapter that is played by calls: a picture for each moment worth one.</summary>
    private static bool Told(int number, string title, string words, ListFile file, string folder, IAnsiConsole console,
        Func<ListPlayer<Row, string>, Action<string>, bool> play)
    {
        var player = ListPlayer.On(file.Open());
        var film = new List<FilmFrame>();
        using var pictures = new Pictures(file.Folder);
        var good = play(player, caption => film.Add(new(player.List.Frame, caption)));
        var picture = $"{folder}/{number:00}-{title.ToLowerInvariant().Replace(' ', '-')}.png";
        using var strip = new FilmStrip(Theme.Light, pictures.Of).ToPng(film, 4, 0.8f);
        Files.Write(picture, strip.SaveTo);
        console.Write(new Text($"\n{number}. {title}. {words}\n"));
        foreach (var (frame, i) in film.Select((f, i) => (f, i)))
            console.Write(new Padder(new Text($"{i + 1}: {frame.Caption}"), new(4, 0, 0, 0)));
        console.Write(new Text(good ? $"Written: {picture}\n" : $"Not as expected; see {picture}\n"));
        return good;
    }

    /// <summary>Swipes, a long press that moves on, and drags: what each asks the app for.</summary>
    private static bool Gestures(ListFile file, Input script, string folder, IAnsiConsole console, Progress progress)
    {
        var list = file.Open();
        var answers = new List<string>();
        list.CommandRan += (_, ran) => answers.Add($"{ran.Command.Id} {string.Join("+", ran.Target.Keys)}");
        list.MenuRequested += (_, menu) => answers.Add($"menu {menu.Key}");
        list.Moved += (_, move) => answers.Add($"moved {string.Join("+", move.Keys)} to {move.Landed.Nth(0)}");
        using var pictures = new Pictures(file.Folder);
        var recorder = new Recorder(list, film: true);
        recorder.Play(script, progress);
        progress.Done();
        console.Write(
            new Text("\n8. Swipes and drags: swipes that open a tray and swipe through, a long press that moves on, drags by the handle " +
                "and by mouse.\n"));
        Table(recorder, console, line => line is TracedChange or TracedGesture { Recognised: true, Phase: "begin" or null });
        Files.Write(Path.Combine(folder, "gestures.jsonl"), recorder.WriteTrace);
        using var strip = new FilmStrip(Theme.Light, pictures.Of).ToPng(recorder.Film, 6, 0.6f);
        Files.Write(Path.Combine(folder, "gestures.png"), strip.SaveTo);
        console.Write(new Text($"Written: {folder}/gestures.jsonl, {folder}/gestures.png\n"));

        string[] expected = ["defer R03", "star R05", "menu R02", "moved R02 to 3", "moved R06 to 3", "moved R01+R04 to 4"];
        var good = answers.SequenceEqual(expected);
        console.Write(new Text(good
            ? "Just what was meant was done: a tray's command by tap and by swipe, a menu that closed when the finger moved on, and " +
            "three moves.\n"
            : $"Not as expected: {string.Join("; ", answers)}\n"));
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
        console.Write(
            new Text("\n4. Selection and its events: a click, ranges by Shift and arrows, two letters typed, all of them, a page down, " +
                "none.\n"));
        Table(recorder, console, line => line is TracedChange or TracedInput { Type: "keydown" });
        Files.Write(Path.Combine(folder, "ranges.jsonl"), recorder.WriteTrace);
        using var strip = new FilmStrip(Theme.Light, pictures.Of).ToPng(recorder.Film, 6, 0.6f);
        Files.Write(Path.Combine(folder, "ranges.png"), strip.SaveTo);
        console.Write(new Text($"Written: {folder}/ranges.jsonl, {folder}/ranges.png\n"));

        var enabled = list.Count - list.Disabled.Count;
        int[] expected = [1, 2, 3, 1, enabled, 1, 0];
        var good = counts.SequenceEqual(expected);
        console.Write(new Text(good
            ? $"The selection event came {counts.Count} times, once for each act that changed it: {string.Join(", ", counts)} selected. " +
            $"The disabled were never among them.\n"
            : $"Not as expected: the selection went {string.Join(", ", counts)} instead of {string.Join(", ", expected)}\n"));
        return good;
    }

    private static void Table(Recorder recorder, IAnsiConsole console, Func<TraceLine, bool> shows)
    {
        var table = new Table().Border(TableBorder.Simple).AddColumn(new TableColumn("ms").RightAligned()).AddColumn("stage")
            .AddColumn("what happened");
        foreach (var line in recorder.Lines)
            if (shows(line) && recorder.Narrator.Tell(line) is { } told)
                table.AddRow(new Text($"{line.T:0}"), new Text(Narrator.Stage(line)),
                    new Text(told, line is TracedChange ? new Style(decoration: Decoration.Bold) : Style.Plain));
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
            if (line is TracedGesture { Gesture: "press" }) during ??= list.Frame;
        };
        var recorder = new Recorder(list, film: false);
        recorder.Play(script, progress);
        progress.Done();

        console.Write(
            new Text($"\n2. A tap tells which item. {file.Title}: {list.Count} items, {list.Frame.Rows.Length} rows on show. A finger " +
                $"taps.\n"));
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

        string[] expected =
            ["tapped R03", "selected R03", "opened R03", "tapped R03", "opened R03", "tapped R06", "selected R06", "opened R06"];
        if (answers.SequenceEqual(expected))
        {
            console.Write(
                new Text("The tapped event came three times, the selection event twice: the second tap on the same item changed " +
                    "nothing.\n"));
            return true;
        }
        console.Write(new Text($"Not as expected: the app was told {string.Join("; ", answers)}\n"));
        return false;
    }
}
