using System.CommandLine;
using Lectica.Storage;
using Lectica.Testing;

namespace Lectica.Cli;

// What scripts do to a list, and the snapshots before and after.
internal sealed partial class Tool
{
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
}
