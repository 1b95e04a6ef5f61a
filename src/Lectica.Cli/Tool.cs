using System.CommandLine;
using System.Text;
using System.Text.Json.Nodes;
using Lectica.Skia;
using Lectica.Storage;
using Lectica.Testing;
using Spectre.Console;

namespace Lectica.Cli;

/// <summary>The <c>lectica</c> tool. Exit codes: 0 done, 1 a failed expectation, 2 bad usage or input.</summary>
internal sealed class Tool
{
    private const int Done = 0, Failed = 1, Bad = 2;

    private readonly Stream _out;
    private readonly IAnsiConsole _console, _errors;

    private Tool(Stream standardOutput, TextWriter errors)
    {
        _out = standardOutput;
        var text = new StreamWriter(standardOutput, new UTF8Encoding(false), leaveOpen: true) { AutoFlush = true };
        _console = AnsiConsole.Create(new()
        {
            Out = new AnsiConsoleOutput(text),
            Interactive = Console.IsOutputRedirected ? InteractionSupport.No : InteractionSupport.Detect,
            Ansi = Console.IsOutputRedirected ? AnsiSupport.No : AnsiSupport.Detect,
        });
        _errors = AnsiConsole.Create(new()
        {
            Out = new AnsiConsoleOutput(errors),
            Interactive = Console.IsErrorRedirected ? InteractionSupport.No : InteractionSupport.Detect,
            Ansi = Console.IsErrorRedirected ? AnsiSupport.No : AnsiSupport.Detect,
        });
        _console.Pipeline.Attach(new VisibleText());
        _errors.Pipeline.Attach(new VisibleText());
        if (Console.IsOutputRedirected) _console.Profile.Width = 120;
        if (Console.IsErrorRedirected) _errors.Profile.Width = 10_000;
    }

    public static int Run(string[] args, Stream standardOutput, TextWriter? errors = null) =>
        new Tool(standardOutput, errors ?? Console.Error).Run(args);

    private int Run(string[] args)
    {
        var root = new RootCommand(
            "Plays input over lists, says what it means there, and draws them. Exit codes: 0 done, 1 a failed expectation, 2 bad usage " +
                "or input.")
        {
            Demo(), Play(), Why(), Tune(), Draw(), Keys(), Sample(),
        };
        var parsed = root.Parse(args);
        if (parsed.Errors.Count > 0)
        {
            foreach (var error in parsed.Errors) Complain($"lectica: {error.Message}");
            Complain($"Try: lectica {(parsed.CommandResult.Command == root ? "" : parsed.CommandResult.Command.Name + " ")}--help");
            return Bad;
        }
        try
        {
            // Not disposed of: where the output takes nothing more, that would throw once again.
            var text = new StreamWriter(_out, new UTF8Encoding(false), leaveOpen: true);
            var code = parsed.Invoke(new() { EnableDefaultExceptionHandler = false, Output = text });
            text.Flush();
            return code;
        }
        catch (IOException e)
        {
            Complain($"lectica: standard output: cannot be written: {e.Message}");
            return Bad;
        }
        catch (ArgumentOutOfRangeException e) when (e.ParamName == "scale")
        {
            Complain($"lectica: the picture would be too large: {e.Message.Split(" (Parameter")[0]} Give a smaller viewport in the list " +
                "file, or a smaller --scale.");
            return Bad;
        }
        catch (InputException e)
        {
            Complain($"lectica: {e.Message.ReplaceLineEndings(" ")}");
            return Bad;
        }
    }

    private void Complain(string text) => _errors.WriteLine(text);

    private static readonly Option<string> List = new("--list", "-l")
    {
        Description = "The list: a list file (JSON), or its rows alone (CSV, JSON or JSON Lines).",
        Required = true,
        HelpName = "LIST",
    };

    private static Option<ThemeName> ThemeOption() =>
        new("--theme") { Description = "light or dark.", DefaultValueFactory = _ => ThemeName.Light };

    private enum ThemeName
    {
        Light,
        Dark,
    }

    private enum ChoiceState
    {
        Closed,
        Open,
    }

    private static Theme ThemeOf(ThemeName name) => name == ThemeName.Dark ? Theme.Dark : Theme.Light;

    private static void Example(Command command, string example) => command.Description += $"\n\nExample:\n  lectica {example}";

    private Command Demo()
    {
        var folder = new Option<string>("--out", "-o")
        {
            Description = "The folder for the trace and the pictures.",
            DefaultValueFactory = _ => "out",
            HelpName = "FOLDER",
        };
        var command = new Command("demo", "Plays the bundled scripts over the bundled night plan and tells what happens.") { folder };
        Example(command, "demo --out out");
        command.SetAction(parsed =>
        {
            var progress = new Progress(_errors);
            return DemoStory.Tell(Path.Combine(AppContext.BaseDirectory, "data"), parsed.GetValue(folder)!, _console, progress) ? Done
                : Failed;
        });
        return command;
    }

    private Command Play()
    {
        var scripts = new Argument<string[]>("SCRIPTS")
        {
            Description =
                "W3C WebDriver actions scripts (.json), or recordings (.jsonl): the ending tells which. Each starts with the list as " +
                "it was.",
            Arity = ArgumentArity.OneOrMore,
        };
        var trace = new Option<string?>("--trace", "-t")
        {
            Description = "The file for the trace (JSON Lines), of all scripts one after the other; - for standard output, as without it.",
            HelpName = "FILE",
        };
        var expect = new Option<string[]>("--expect", "-e")
        {
            Description =
                "A file that says how it should end (JSON; docs/schemas/expectation.schema.json): one for all scripts, or one for each.",
            HelpName = "FILE",
            DefaultValueFactory = _ => [],
        };
        var restore = new Option<string?>("--restore")
        {
            Description = "A snapshot to begin from (JSON), by key; keys that are gone are told.",
            HelpName = "FILE",
        };
        var save = new Option<string?>("--save")
        {
            Description = "The file for a snapshot of the end (JSON), of one script.",
            HelpName = "FILE",
        };
        var list = new Option<string?>("--list", "-l") { Description = List.Description, HelpName = "LIST" };
        var json = JsonOption("How each script ended, a line each, instead of the trace.");
        var command =
            new Command("play",
            "Plays scripts over a list and writes the trace: all stages of what happened, and the list's state at the end.") { scripts,
                list, trace, expect, restore, save, json };
        var rows = new DatabaseOptions(command, mayWrite: true);
        rows.Require(command, result => result.GetValue(list), "Option '--list'");
        Example(command, "play examples/data/demo.actions.json --list examples/data/night-plan.list.json");
        command.SetAction(parsed =>
        {
            var progress = new Progress(_errors);
            var paths = parsed.GetValue(scripts)!;
            ExpectedJson[] expected = [.. parsed.GetValue(expect)!.Select(ExpectedJson.Load)];
            if (expected.Length > 1 && expected.Length != paths.Length)
                throw new InputException(
                    "--expect", null, $"there are {expected.Length} for {paths.Length} scripts; give one for all, or one for each.");
            if (parsed.GetValue(save) is not null && paths.Length > 1)
                throw new InputException("--save", null, "it takes the end of one script, and there are more.");
            // All of them are read before any is played.
            Input[] inputs = [.. paths.Select(Input.Load)];
            var file = rows.Open(parsed, parsed.GetValue(list), progress);
            var played = new List<(Recorder Recorder, List<string> Failures)>();
            void PlayAll(Stream? traces)
            {
                // A trace may be much larger than what is read: it is written as it comes.
                using var writer = traces is null ? StreamWriter.Null : Recorder.Writer(traces);
                for (var i = 0; i < inputs.Length; i++)
                {
                    var list = file.Open();
                    if (parsed.GetValue(restore) is { } stored) Restore(list, stored);
                    var recorder = new Recorder(list, film: false, line =>
                    {
                        if (traces is not null) writer.WriteLine(line.ToJson());
                    });
                    recorder.Play(inputs[i], progress);
                    progress.Done();
                    if (parsed.GetValue(save) is { } target) Save(list, target);
                    played.Add((recorder, expected.Length == 0 ? [] : [.. expected[expected.Length == 1 ? 0 : i].Failures(recorder)]));
                }
            }
            if (parsed.GetValue(trace) is { } to and not "-") Files.Write(to, PlayAll);
            else PlayAll(parsed.GetValue(json) ? null : _out);
            if (parsed.GetValue(json)) foreach (var (path, (recorder, failures)) in paths.Zip(played))
                WriteJson(Reports.Played(path, recorder, failures), indented: false);
            foreach (var (path, (_, failures)) in paths.Zip(played))
                foreach (var failure in failures) Complain($"lectica: {(paths.Length > 1 ? path + ": " : "")}not as expected: {failure}");
            return played.TrueForAll(p => p.Failures.Count == 0) ? Done : Failed;
        });
        return command;
    }

    private static Option<bool> JsonOption(string what) => new("--json") { Description = "As JSON, for programs. " + what };

    private void WriteJson(JsonNode node, bool indented = true)
    {
        _out.Write(Encoding.UTF8.GetBytes(node.ToJsonString(indented ? Reports.Indented : Reports.OneLine)));
        _out.Write("\n"u8);
    }

    private Command Why()
    {
        var recording = new Argument<string>("RECORDING")
        {
            Description = "A recording (JSON Lines of PointerEvent and KeyboardEvent fields).",
        };
        var at = new Option<double?>("--at") { Description = "Only what went on at this time (ms).", HelpName = "TIME" };
        var row = new Option<string?>("--row") { Description = "Only what was done on the row with this key.", HelpName = "KEY" };
        var png = new Option<string?>("--png")
        {
            Description = "Also draws the way of the first contact told, with the limits that it was measured by.",
            HelpName = "FILE",
        };
        var theme = ThemeOption();
        var json = JsonOption("The stories of the contacts and keys.");
        var command =
            new Command("why",
            "Tells for each contact of a recording what it could have been, what ruled each possibility out, what came of it, and what " +
                "would have made it otherwise.") { recording, List, at, row, png, theme, json };
        Example(command, "why examples/data/night.recording.jsonl --list examples/data/gestures.list.json --row R03 --png out/why.png");
        command.SetAction(parsed =>
        {
            var file = ListFile.Load(parsed.GetValue(List)!, new Progress(_errors));
            var read = Recording.Load(Files.Locate(parsed.GetValue(recording)!));
            if (parsed.GetValue(row) is { } key && file.Open().IndexOf(key) < 0)
                throw new InputException("--row", null, $"there is no row '{key}' in {parsed.GetValue(List)}.");
            var why = new Why(file, read);
            var stories = why.Stories(parsed.GetValue(at), parsed.GetValue(row));
            if (parsed.GetValue(json)) WriteJson(Reports.Stories(stories));
            else why.Tell(stories, _console);
            if (parsed.GetValue(png) is not { } path) return Done;
            var story = stories.FirstOrDefault(s => s.Ordinal >= 0)
                ?? throw new InputException(read.File, null, "no contact was told, so there is none to draw; try another --at or --row.");
            using var pictures = new Pictures(file.Folder);
            using var drawn = new PathPainter(ThemeOf(parsed.GetValue(theme)), pictures.Of).ToPng(why.Picture(story));
            Files.Write(path, drawn.SaveTo);
            return Done;
        });
        return command;
    }

    private Command Tune()
    {
        var recordings = new Argument<string[]>("RECORDINGS")
        {
            Description = "Recordings whose pointerdowns say by 'intent' what was meant.",
            Arity = ArgumentArity.OneOrMore,
        };
        var json = JsonOption("What came out as what, and the limits.");
        var command =
            new Command("tune",
            "Tells how often recordings came out as they were meant, which missed nearest, and which limits would do better, judged on " +
                "recordings that they were not tuned on.") { recordings, List, json };
        Example(command,
            "tune examples/data/intent-1.recording.jsonl examples/data/intent-2.recording.jsonl examples/data/intent-3.recording.jsonl " +
                "--list examples/data/gestures.list.json");
        command.SetAction(parsed =>
        {
            var progress = new Progress(_errors);
            var file = ListFile.Load(parsed.GetValue(List)!, progress);
            var read = parsed.GetValue(recordings)!.Select(r => Recording.Load(Files.Locate(r))).ToList();
            if (!read.Exists(r => r.Inputs.Any(i => i.Intent is not null)))
                throw new InputException(
                    read[0].File, null, "no pointerdown says by 'intent' what was meant, so there is nothing to tune for.");
            var report = Tuner.Tune(limits => file.Open(limits), read, file.Options.Thresholds);
            if (parsed.GetValue(json)) WriteJson(Reports.Tuning(report));
            else TuningTable.Write(report, _console);
            return Done;
        });
        return command;
    }

    private void Restore(InteractiveList<Row, string> list, string path)
    {
        if (string.IsNullOrWhiteSpace(path))
            throw new InputException("--restore", null, "its path is empty; give the path of a snapshot that --save wrote.");
        try
        {
            var snapshot = new SnapshotFile(path).Load()
                ?? throw new InputException(path, null, "there is no such file; give the path of a snapshot that --save wrote.");
            var report = list.Restore(snapshot);
            var missing = report.MissingKeys;
            if (missing.Count > 0)
                Complain($"lectica: {path}: not in the list any " +
                    $"more: {string.Join(", ", missing.Take(10))}{(missing.Count > 10 ? $" and {missing.Count - 10} more" : "")}");
            if (report.OrderRefusal is { } order) Complain($"lectica: {path}: the order was not restored: {order.Reason}");
            if (report.Refusal is { } refusal) Complain($"lectica: {path}: the selection was not restored: {refusal.Reason}");
        }
        catch (FormatException e)
        {
            throw new InputException(path, null, e.Message);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            throw new InputException(path, null, $"cannot be read: {e.Message}");
        }
    }

    private static void Save(InteractiveList<Row, string> list, string path)
    {
        if (string.IsNullOrWhiteSpace(path)) throw new InputException("--save", null, "its path is empty; give the path of a file.");
        try
        {
            new SnapshotFile(path).Save(list.Save());
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            throw new InputException(path, null, $"cannot be written: {e.Message}");
        }
    }

    private Command Keys()
    {
        var list = new Argument<string>("LIST")
        {
            Description = "The list: a list file (JSON), or its rows alone (CSV, JSON or JSON Lines).",
        };
        var markdown = new Option<bool>("--markdown") { Description = "As a Markdown table." };
        var gestures = new Option<bool>("--gestures") { Description = "The gesture table instead: what taps, swipes and drags mean." };
        var json = JsonOption("The same rules.");
        var command =
            new Command("keys",
            "Prints the key table in force for a list, and what in it cannot work: chords with two meanings, and chords that the " +
                "platform keeps for itself.") { list, gestures, markdown, json };
        Example(command, "keys examples/data/night-plan.list.json --markdown");
        command.SetAction(parsed =>
        {
            var opened = ListFile.Load(parsed.GetValue(list)!, new Progress(_errors)).Open();
            if (parsed.GetValue(json)) WriteJson(parsed.GetValue(gestures) ? Reports.Gestures(opened.Options) : Reports.Keys(opened));
            else if (parsed.GetValue(gestures))
            {
                if (parsed.GetValue(markdown)) _out.Write(Encoding.UTF8.GetBytes(VisibleText.Of(GesturesTable.Markdown(opened.Options))));
                else GesturesTable.Write(opened.Options, _console);
            }
            else if (parsed.GetValue(markdown)) _out.Write(Encoding.UTF8.GetBytes(VisibleText.Of(KeysTable.Markdown(opened))));
            else KeysTable.Write(opened, _console);
            return Done;
        });
        return command;
    }

    private Command Draw()
    {
        var list = new Argument<string?>("LIST")
        {
            Description = "The list: a list file (JSON), or its rows alone (CSV, JSON or JSON Lines).",
            Arity = ArgumentArity.ZeroOrOne,
        };
        var script = new Option<string?>("--script", "-s")
        {
            Description = "A W3C WebDriver actions script or a recording: draws a film strip of what it does.",
            HelpName = "SCRIPT",
        };
        var png = new Option<string>("--out", "-o") { Description = "The picture (PNG).", Required = true, HelpName = "FILE" };
        var theme = ThemeOption();
        var scale = new Option<float>("--scale")
        {
            Description = "Image pixels for each px of the list, 0.25 to 8; 2, and 1 for a film strip, where not given.",
            HelpName = "NUMBER",
        };
        var columns = new Option<int>("--columns")
        {
            Description = "How many pictures of a film strip stand side by side, 1 to 20.",
            DefaultValueFactory = _ => 4,
            HelpName = "NUMBER",
        };
        var frames = new Option<int>("--frames")
        {
            Description = "The most pictures of a film strip, 2 to 100.",
            DefaultValueFactory = _ => 16,
            HelpName = "NUMBER",
        };
        var choice = new Option<ChoiceState?>("--choice")
        {
            Description = "Draws the list as a choice field, closed or open, with its first selected row as the value.",
            HelpName = "closed|open",
        };
        Range(scale, 0.25f, 8);
        Range(columns, 1, 20);
        Range(frames, 2, 100);
        var command = new Command("draw", "Draws a list, or what a script does to it, as a picture.") { list, script, choice, png, theme,
            scale, columns, frames };
        var rows = new DatabaseOptions(command, mayWrite: false);
        rows.Require(command, result => result.GetValue(list), "LIST");
        Example(command,
            "draw examples/data/night-plan.list.json --out out/list.png\n  lectica draw examples/data/night-plan.list.json --script " +
                "examples/data/demo.actions.json --out out/strip.png");
        command.SetAction(parsed =>
        {
            var progress = new Progress(_errors);
            var file = rows.Open(parsed, parsed.GetValue(list), progress);
            var colours = ThemeOf(parsed.GetValue(theme));
            using var pictures = new Pictures(file.Folder);
            var size = parsed.GetValue(scale);
            if (parsed.GetValue(choice) is { } state)
            {
                if (file.IsOfDatabase)
                    throw new InputException("draw", null, "--choice draws a field with all of its rows; it does not go with --rows.");
                if (parsed.GetValue(script) is not null)
                    throw new InputException("draw", null, "--choice draws a field as it is; it does not go with --script.");
                using var field =
                    new ChoicePainter(colours, pictures.Of).ToPng(file.Choice(state == ChoiceState.Open).Frame, size == 0 ? 2 : size);
                Files.Write(parsed.GetValue(png)!, field.SaveTo);
                return Done;
            }
            if (parsed.GetValue(script) is not { } path)
            {
                using var one = new FramePainter(colours, pictures.Of).ToPng(file.Open().Frame, size == 0 ? 2 : size);
                Files.Write(parsed.GetValue(png)!, one.SaveTo);
                return Done;
            }
            var recorder = new Recorder(file.Open(), film: true);
            recorder.Play(Input.Load(path), progress);
            progress.Done();
            var film = recorder.Film;
            var most = parsed.GetValue(frames);
            if (film.Count > most)
            {
                Complain($"lectica: the strip has {film.Count} pictures; drawn are the first {most}. More: " +
                    $"--frames {Math.Min(100, film.Count)}");
                film = film[..most];
            }
            using var strip = new FilmStrip(colours, pictures.Of).ToPng(film, parsed.GetValue(columns), size == 0 ? 1 : size);
            Files.Write(parsed.GetValue(png)!, strip.SaveTo);
            return Done;
        });
        return command;
    }

    private Command Sample()
    {
        var rows = new Option<int>("--rows", "-n")
        {
            Description = "How many rows, 0 to 10,000,000.",
            DefaultValueFactory = _ => 48,
            HelpName = "NUMBER",
        };
        var seed = new Option<int>("--seed")
        {
            Description = "The same seed gives the same rows.",
            DefaultValueFactory = _ => NightPlan.DefaultSeed,
            HelpName = "NUMBER",
        };
        var csv = new Option<string>("--out", "-o") { Description = "The file (CSV).", Required = true, HelpName = "FILE" };
        var pictures = new Option<string?>("--pictures")
        {
            Description = "Also draws the fields' small pictures into this folder.",
            HelpName = "FOLDER",
        };
        var plates = new Option<string?>("--plates")
        {
            Description =
                $"Makes plates of an imaginary sky survey instead, {Plates.Most:N0} at most, and draws their pictures into this folder.",
            HelpName = "FOLDER",
        };
        Range(rows, 0, 10_000_000);
        var command =
            new Command("sample", "Makes sample rows: the night plan of an imaginary observatory, or the plates of its sky survey.") { rows,
            seed, csv, pictures, plates };
        Example(command,
            "sample --rows 1000 --out out/night-plan.csv\n  lectica sample --rows 24 --out out/plates.csv --plates out/plates");
        command.SetAction(parsed =>
        {
            var progress = new Progress(_errors);
            if (parsed.GetValue(plates) is { } drawn)
            {
                if (parsed.GetValue(pictures) is not null)
                    throw new InputException(
                        "--pictures", null, "it is about the night plan's fields, and --plates makes plates: leave one of them out.");
                var count = parsed.GetValue(rows);
                if (count > Plates.Most)
                    throw new InputException("--plates", null,
                        string.Create(System.Globalization.CultureInfo.InvariantCulture,
                            $"{count:N0} are too many to draw: give --rows {Plates.Most:N0} at most."));
                Files.Write(parsed.GetValue(csv)!, stream => Plates.WriteCsv(stream, count, parsed.GetValue(seed)));
                foreach (var (name, png) in Plates.Pictures(count, parsed.GetValue(seed)))
                    using (png) Files.Write(Path.Combine(drawn, name), png.SaveTo);
                return Done;
            }
            Files.Write(parsed.GetValue(csv)!,
                stream => NightPlan.WriteCsv(stream, parsed.GetValue(rows), parsed.GetValue(seed), progress));
            progress.Done();
            if (parsed.GetValue(pictures) is not { } folder) return Done;
            foreach (var (name, png) in NightPlan.Pictures())
                using (png) Files.Write(Path.Combine(folder, name), png.SaveTo);
            return Done;
        });
        return command;
    }

    private static void Range<T>(Option<T> option, T least, T most) where T : struct, IComparable<T> => option.Validators.Add(result =>
    {
        if (result.Implicit || result.Errors.Any()) return;
        var value = result.GetValueOrDefault<T>();
        if (value.CompareTo(least) < 0 || value.CompareTo(most) > 0)
            result.AddError(
                string.Create(
                    System.Globalization.CultureInfo.InvariantCulture, $"{option.Name} is {value}; it may be {least} to {most}."));
    });
}
