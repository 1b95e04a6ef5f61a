using System.CommandLine;
using System.Text;
using System.Text.Json.Nodes;
using Lectica.Skia;
using Lectica.Testing;
using Spectre.Console;

namespace Lectica.Cli;

/// <summary>The <c>lectica</c> tool. Exit codes: 0 done, 1 a failed expectation, 2 bad usage or input.</summary>
internal sealed partial class Tool
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
