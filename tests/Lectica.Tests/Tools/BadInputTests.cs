using System.Diagnostics;
using System.Text;
using Lectica.Cli;
using Lectica.Storage;
using Lectica.Testing;

namespace Lectica.Tests.Tools;

/// <summary>Files and outputs that are not as they should be: a clear error that says where, and nothing lost.</summary>
public sealed class BadInputTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("lectica-tests-").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private static string Data(string name) => Repository.At("examples", "data", name);

    private string At(string name) => Path.Combine(_folder, name);

    private string Write(string name, byte[] bytes)
    {
        File.WriteAllBytes(At(name), bytes);
        return At(name);
    }

    // Latin-1, so that every byte of a file can be written here.
    private string Write(string name, string text) => Write(name, Encoding.Latin1.GetBytes(text));

    private static (int Code, string Error) Run(Stream to, params string[] args)
    {
        using var error = new StringWriter();
        return (Tool.Run(args, to, error), error.ToString());
    }

    private static (int Code, string Error) Run(params string[] args) => Run(new MemoryStream(), args);

    private const string Head = "{\"rows\":[{\"id\":\"a\"}],\"key\":\"id\",";

    [Theory]
    [InlineData(Head + "\"title\":\"\u00ff\"}", ":1:42: the byte 0xFF is not UTF-8")]
    [InlineData(Head + "\"title\":\"\\ud800\"}", ":1:41: the text has half of a surrogate pair")]
    [InlineData(Head + "\"marks\":[null]}", ":1:42: the entry $.marks[0] is null")]
    [InlineData(Head + "\"commands\":[null]}", "the entry $.commands[0] is null")]
    [InlineData(Head + "\"parts\":[null]}", "the entry $.parts[0] is null")]
    [InlineData(Head + "\"selected\":[null]}", "the entry $.selected[0] is null")]
    [InlineData(Head + "\"commands\":[{\"id\":\"a\",\"label\":\"A\",\"chords\":[null]}]}", "the entry $.commands[0].chords[0] is null")]
    [InlineData(Head + "\"viewport\":{\"width\":1e300,\"height\":1e300}}", "the picture would be too large")]
    [InlineData("{\"rows\":\"\",\"key\":\"id\"}", ":1:9: 'rows' is empty")]
    public void A_list_file_that_is_wrong_is_refused_with_its_place(string json, string error)
    {
        var (code, told) = Run("draw", Write("list.json", json), "--out", At("x.png"));
        Assert.Equal(2, code);
        Assert.Contains(error, told);
        Assert.False(File.Exists(At("x.png")));
    }

    [Theory]
    [InlineData("""{"type":"pause","duration":1e12}""", "a duration of 1000000000000 ms cannot be played")]
    [InlineData("""{"type":"pause","duration":1e400}""", "'duration' must be a finite number")]
    [InlineData("""{"type":"pointerMove","x":-1e400,"y":0}""", "'x' must be a finite number")]
    [InlineData("""{"type":"pointerMove","x":0,"y":0,"origin":"row:\udc00"}""", "half of a surrogate pair")]
    public void A_script_that_is_wrong_is_refused_with_its_place(string action, string error)
    {
        var script = Write("script.json", $$"""{"actions":[{"type":"pointer","id":"f","actions":[{{action}}]}]}""");
        var (code, told) = Run("play", script, "--list", Data("gestures.list.json"));
        Assert.Equal(2, code);
        Assert.Contains(error, told);
    }

    [Fact]
    public void A_script_and_a_recording_with_each_others_endings_are_known_by_what_they_hold()
    {
        File.Copy(Data("night.recording.jsonl"), At("recording.json"));
        File.Copy(Data("gestures.actions.json"), At("script.jsonl"));
        Assert.Contains("give the file the ending .jsonl", Run("play", At("recording.json"), "--list", Data("gestures.list.json")).Error);
        Assert.Contains("give the file the ending .json.", Run("play", At("script.jsonl"), "--list", Data("gestures.list.json")).Error);
    }

    [Theory]
    [InlineData("draw", "--out", "", "its path is empty")]
    [InlineData("draw", "--out", "/", "is a folder")]
    [InlineData("play", "--trace", "", "its path is empty")]
    [InlineData("play", "--save", "", "its path is empty")]
    [InlineData("play", "--restore", "", "its path is empty")]
    [InlineData("play", "--expect", "", "its path is empty")]
    public void A_path_that_names_no_file_is_refused(string command, string option, string path, string error)
    {
        var (code, told) = command == "draw" ? Run("draw", Data("night-plan.list.json"), option, path)
            : Run("play", Data("gestures.actions.json"), "--list", Data("gestures.list.json"), option, path);
        Assert.Equal(2, code);
        Assert.Contains(error, told);
    }

    private sealed class Full : MemoryStream
    {
        public override void Write(byte[] buffer, int offset, int count) => throw new IOException("No space left on device");

        public override void Write(ReadOnlySpan<byte> buffer) => throw new IOException("No space left on device");
    }

    [Fact]
    public void An_output_that_takes_nothing_more_is_an_error_and_no_crash()
    {
        foreach (var args in new[] { (string[])["keys", Data("night-plan.list.json")], ["--help"],
            ["play", Data("gestures.actions.json"), "--list", Data("gestures.list.json")] })
        {
            var (code, told) = Run(new Full(), args);
            Assert.Equal((2, true), (code, told.Contains("standard output: cannot be written", StringComparison.Ordinal)));
        }
    }

    [Fact]
    [System.Runtime.Versioning.UnsupportedOSPlatform("windows")]
    public async Task A_link_is_followed_a_pipe_is_written_a_mode_stays_and_what_killed_writers_left_is_cleared()
    {
        var target = Write("target.json", "old");
        File.SetUnixFileMode(target, UnixFileMode.UserRead | UnixFileMode.UserWrite);
        File.CreateSymbolicLink(At("link.json"), target);
        using var gone = Process.Start(new ProcessStartInfo("true"))!;
        await gone.WaitForExitAsync(TestContext.Current.CancellationToken);
        Write($"target.json.{gone.Id}.partial", "torn");
        Write($"target.json.{Environment.ProcessId}-x.partial", "another's, under way");
        WholeFile.Write(At("link.json"), stream => stream.Write("new"u8));
        Assert.Equal(("new", true, UnixFileMode.UserRead | UnixFileMode.UserWrite),
            (File.ReadAllText(target), new FileInfo(At("link.json")).LinkTarget is not null, File.GetUnixFileMode(target)));
        Assert.Equal([$"target.json.{Environment.ProcessId}-x.partial"], Directory.GetFiles(_folder, "*.partial").Select(Path.GetFileName));

        using var made = Process.Start("mkfifo", At("pipe"));
        await made.WaitForExitAsync(TestContext.Current.CancellationToken);
        var read = Task.Run(() => File.ReadAllTextAsync(At("pipe")), TestContext.Current.CancellationToken);
        WholeFile.Write(At("pipe"), stream => stream.Write("through the pipe"u8));
        Assert.Equal("through the pipe", await read);
        WholeFile.Write("/dev/null", stream => stream.Write("nowhere"u8));
        // Had it been replaced, it would hold what was written.
        Assert.Equal(0, new FileInfo("/dev/null").Length);

        // A writer that fails leaves what was there, and nothing else.
        Assert.Throws<IOException>(() => WholeFile.Write(target, stream =>
        {
            stream.Write("half"u8);
            throw new IOException("torn");
        }));
        Assert.Equal("new", File.ReadAllText(target));
    }

    [Fact]
    public void What_would_work_on_the_terminal_is_shown_as_a_sign()
    {
        var list = Write("list.json", """
            {"rows":[{"id":"a\u001b[31m","n":"x\u202ey\u009b31m"}],"key":"id","label":"{n}","title":"t\u001b[31m"}
            """);
        string Sample(string type, int time, int buttons) =>
            $$"""{"type":"{{type}}","timeStamp":{{time}},"clientX":100,"clientY":20,"pointerId":1,""" +
            $$""" "pointerType":"touch","isPrimary":true,"button":0,"buttons":{{buttons}}}""";
        var recording = Write("tap.jsonl", $"{Sample("pointerdown", 0, 1)}\n{Sample("pointerup", 50, 0)}\n");
        using var told = new MemoryStream();
        Assert.Equal(0, Run(told, "why", recording, "--list", list).Code);
        var text = Encoding.UTF8.GetString(told.ToArray());
        Assert.Contains("x<U+202E>y<U+009B>31m (a␛[31m)", text);
        var (_, error) = Run("draw", At("no\u001b[31m.json"), "--out", At("x.png"));
        foreach (var shown in new[] { text, error }) Assert.DoesNotContain(shown, c => c is '\u001b' or '\u009b' or '\u202e');
    }

    [Fact]
    public void Reading_is_linear()
    {
        static string Script(int count) =>
            "{\"actions\":[{\"type\":\"pointer\",\"id\":\"f\",\"actions\":[" +
            string.Join(",\n", Enumerable.Repeat("{\"type\":\"pause\",\"duration\":5}", count)) + "]}]}";
        var script = ActionScript.Parse(Encoding.UTF8.GetBytes(Script(20_000)), "script");
        // Before, this took minutes: each action looked for its place from the beginning.
        Assert.Equal((20_000, 20_000), (script.Ticks, script.Sources[0].Actions[^1].Position.Line));
        Assert.Equal(TextPosition.OfPath(Encoding.UTF8.GetBytes(Script(7)), "$.actions[0].actions[5]"),
            ActionScript.Parse(Encoding.UTF8.GetBytes(Script(7)), "script").Sources[0].Actions[5].Position);
    }

    [Theory]
    [InlineData("night-plan.list.json")]
    [InlineData("gestures.list.json")]
    [InlineData("check-list.list.json")]
    [InlineData("gestures.actions.json")]
    [InlineData("night.recording.jsonl")]
    [InlineData("night-plan.csv")]
    [InlineData("snapshot.json")]
    public void Mutants_of_the_samples_are_read_or_refused_and_nothing_else(string name)
    {
        foreach (var file in Directory.GetFiles(Data(""), "*.csv")) File.Copy(file, At(Path.GetFileName(file)), overwrite: true);
        var bytes = name == "snapshot.json" ? Encoding.UTF8.GetBytes(Snapshot()) : File.ReadAllBytes(Data(name));
        var random = new Random(name.Length);
        var progress =
            new Progress(Spectre.Console.AnsiConsole.Create(new() { Out = new Spectre.Console.AnsiConsoleOutput(TextWriter.Null) }));
        var path = At("mutant-" + name);
        var mutants =
            int.Parse(Environment.GetEnvironmentVariable("LECTICA_MUTANTS") ?? "400", System.Globalization.CultureInfo.InvariantCulture);
        int taken = 0, refused = 0;
        for (var n = 0; n < mutants; n++)
        {
            var mutant = Mutate(bytes, random);
            File.WriteAllBytes(path, mutant);
            try
            {
                if (name.EndsWith(".list.json", StringComparison.Ordinal) || name.EndsWith(".csv", StringComparison.Ordinal))
                    ListFile.Load(path, progress).Open().Dispose();
                else if (name == "snapshot.json") new SnapshotFile(path).Load();
                else if (name.EndsWith(".actions.json", StringComparison.Ordinal)) ActionScript.Load(path);
                else Recording.Load(path);
                taken++;
            }
            catch (InputException e)
            {
                Assert.StartsWith(_folder, e.Message);
                refused++;
            }
            catch (FormatException) when (name == "snapshot.json")
            {
                refused++;
            }
            catch (Exception e)
            {
                File.Copy(path, Path.Combine(Path.GetTempPath(), "lectica-" + name), overwrite: true);
                throw new InvalidOperationException($"mutant {n} of {name}: {e.GetType().Name}: {e.Message}", e);
            }
        }
        Assert.True(taken > mutants / 100 && refused > mutants / 50, $"{taken} taken, {refused} refused");
    }

    private static string Snapshot()
    {
        var list = ListFile.Load(Data("gestures.list.json"), new(
            Spectre.Console.AnsiConsole.Create(new() { Out = new Spectre.Console.AnsiConsoleOutput(TextWriter.Null) }))).Open();
        list.SelectAll();
        return list.Save().ToJson();
    }

    // A byte, a stretch, or a word that means something elsewhere.
    private static byte[] Mutate(byte[] bytes, Random random)
    {
        string[] words = ["null", "-1", "1e300", "1e400", "\"\\ud800\"", "[]", "{}", "true", "\"\"", "\0", "\u00ff", "9999999999999"];
        var list = bytes.ToList();
        for (var n = random.Next(1, 4); n > 0 && list.Count > 4; n--)
        {
            var at = random.Next(list.Count - 2);
            switch (random.Next(4))
            {
                case 0:
                    list[at] = (byte)random.Next(256);
                    break;
                case 1:
                    list.RemoveRange(at, random.Next(1, Math.Min(8, list.Count - at)));
                    break;
                case 2:
                    list.InsertRange(at, list.GetRange(at, random.Next(1, Math.Min(20, list.Count - at))));
                    break;
                default:
                    // In place of a whole value, so that it is still JSON.
                    var begin = list.IndexOf((byte)':', at);
                    var end = begin < 0 ? -1 : list.FindIndex(begin, b => b is (byte)',' or (byte)'}' or (byte)']' or (byte)'\n');
                    if (end > begin + 1) list.RemoveRange(begin + 1, end - begin - 1);
                    if (end > begin + 1) list.InsertRange(begin + 1, Encoding.Latin1.GetBytes(words[random.Next(words.Length)]));
                    break;
            }
        }
        return [.. list];
    }
}
