using System.Diagnostics;
using System.Text;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using Lectica.Acts;
using Lectica.Cli;
using Lectica.Tracing;

namespace Lectica.Tests.Tools;

/// <summary>The tool as a user runs it: its commands, its files, its errors.</summary>
public sealed partial class ToolTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("lectica-tests-").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private static string Data(string name) => Repository.At("examples", "data", name);

    private string Write(string name, string text)
    {
        var path = Path.Combine(_folder, name);
        File.WriteAllText(path, text);
        return path;
    }

    private static (int Code, string Out, string Error) Run(params string[] args)
    {
        using var stream = new MemoryStream();
        using var error = new StringWriter();
        var code = Tool.Run(args, stream, error);
        return (code, Encoding.UTF8.GetString(stream.ToArray()), error.ToString());
    }

    [Fact]
    public void The_demo_tells_its_story_and_writes_its_files()
    {
        var (code, told, error) = Run("demo", "--out", _folder);
        Assert.Equal((0, ""), (code, error));
        Assert.Contains("tap on Draadun Nebula (R03)", told);
        Assert.Contains("tolerance 10 px: no tap", told);
        foreach (var name in (string[])["before.png", "during.png", "after.png"])
            Assert.True(new FileInfo(Path.Combine(_folder, name)).Length > 10_000);
        Assert.NotEqual(File.ReadAllBytes(Path.Combine(_folder, "before.png")), File.ReadAllBytes(Path.Combine(_folder, "during.png")));
        Assert.NotEqual(File.ReadAllBytes(Path.Combine(_folder, "during.png")), File.ReadAllBytes(Path.Combine(_folder, "after.png")));
        Assert.Equal(["R06"], State(File.ReadAllText(Path.Combine(_folder, "trace.jsonl"))).Selected);
        Assert.Contains("Just what was meant was done", told);
        Assert.True(new FileInfo(Path.Combine(_folder, "gestures.png")).Length > 10_000);
        Assert.Contains("999,997 selected of 1,000,000, of which 300 were read: a condition of 3 terms, and one statement", told);
        foreach (var name in (string[])["13-not-in-memory.png", "14-tiles.png"])
            Assert.True(new FileInfo(Path.Combine(_folder, name)).Length > 10_000);
    }

    private static TracedState State(string trace) => (TracedState)TraceLine.Parse(trace.TrimEnd('\n').Split('\n')[^1]);

    [Fact]
    public void A_database_is_played_over_read_only_by_table_or_query_and_told_what_is_wrong()
    {
        var file = Path.Combine(_folder, "archive.db");
        NightArchive.Make(
            file, 5_000, new(Spectre.Console.AnsiConsole.Create(new() { Out = new Spectre.Console.AnsiConsoleOutput(TextWriter.Null) })));
        var before = File.ReadAllBytes(file);
        // A click, then Shift+End over rows that were never read, and the mark of the row at the cursor.
        var script = Write("down.actions.json", """
            {"actions":[
             {"type":"pointer","id":"m","parameters":{"pointerType":"mouse"},"actions":[
              {"type":"pointerMove","x":200,"y":70},{"type":"pointerDown","button":0},{"type":"pointerUp","button":0}]},
             {"type":"key","id":"k","actions":[{"type":"pause"},{"type":"pause"},{"type":"pause"},
              {"type":"keyDown","value":"\uE008"},{"type":"keyDown","value":"\uE010"},
              {"type":"keyUp","value":"\uE010"},{"type":"keyUp","value":"\uE008"}]}]}
            """);
        var (code, trace, error) = Run("play", script, "--rows", file, "--table", "Requests", "--key", "Id", "--order", "-Night,Id");
        Assert.Equal((0, ""), (code, error));
        Assert.Equal(trace, Run("play", script, "--rows", file, "--table", "Requests", "--key", "Id", "--order", "-Night,Id").Out);
        foreach (var line in trace.TrimEnd('\n').Split('\n')) Schemas.Valid("trace", line);
        var state = State(trace);
        // Of night 25 there is one request, the last; then night 24 from its first on.
        Assert.Equal(("4800", "199", "5000"), (state.Anchor, state.Cursor, state.Order[0]));
        Assert.Equal(1_000, state.Selected.Count);
        var shown = Run("play", script, "--rows", file, "--query",
            "SELECT Night, count(*) AS Number FROM Requests WHERE Field LIKE 'Tessil%' GROUP BY Night", "--key", "Night", "--order",
                "-Number", "--list",
                    Write("nights.list.json",
                        """{"title":"Nights","mode":"multiple","label":"Night {Night}","detail":"{Number} requests"}"""));
        Assert.Equal((0, ""), (shown.Code, shown.Error));
        // All nights but the one above the click.
        Assert.Equal(24, State(shown.Out).Selected.Count);
        Assert.Equal(before, File.ReadAllBytes(file));
        foreach (var (args, says) in new (string[], string)[]
        {
            (["--rows", file, "--table", "Rquests"], "no such table: Rquests"),
            (["--rows", file, "--table", "Requests", "--order", "Nigt"], "Did you mean 'Night'?"),
            (["--rows", file, "--table", "Requests", "--key", "Ident"], "there are Id, Field, Night, IsObserved"),
            (["--rows", file], "give either --table NAME or --query SQL"),
            (["--rows", Path.Combine(_folder, "none.db"), "--table", "t"], "there is no such file"),
            (["--rows", script, "--table", "t"], "file is not a database"),
            (["--table", "t", "--list", Data("night-plan.list.json")], "name it by --rows"),
            ([], "Option '--list' is required, or '--rows'"),
            (["--rows", file, "--table", "Requests", "--list", Data("night-plan.list.json")], "'rows' does not go with rows of a database"),
            (["--rows", file, "--query", "SELECT Night % 2 AS id, Field FROM Requests"], "the same key"),
        })
            Assert.Contains(says, Run(["play", script, .. args]) is { Code: 2 } wrong ? wrong.Error : "it is taken");
    }

    [Fact]
    public void What_is_played_with_write_is_written_to_the_database_and_nothing_else_is()
    {
        var file = Path.Combine(_folder, "plan.db");
        using var connection = new Microsoft.Data.Sqlite.SqliteConnection($"Data Source={file};Pooling=False");
        connection.Open();
        object? Ask(string sql)
        {
            using var command = connection.CreateCommand();
            command.CommandText = sql;
            return command.ExecuteScalar();
        }
        Ask("CREATE TABLE plan (id TEXT PRIMARY KEY, field TEXT, place TEXT, starred INTEGER NOT NULL DEFAULT 0, nights INTEGER)");
        var places = Lectica.Moving.OrderKey.Spread(300);
        for (var i = 0; i < 300; i++) Ask($"INSERT INTO plan VALUES ('R{i:000}', 'Field {i}', '{places[i]}', 0, {i})");
        string All() => (string)Ask("SELECT group_concat(id || place || starred) FROM plan ORDER BY place")!;
        var before = All();
        var list = Write("plan.list.json", """
            {"mode":"multiple","mayMove":true,"spaceMark":"starred","marks":[{"name":"starred","onWhen":{"starred":1}}],
             "commands":[{"id":"drop","does":"remove","chords":["Delete"],"notice":"{n} dropped"},
              {"id":"star","does":"toggle:starred","chords":["F2"]}]}
            """);
        // The first row moves one down, all but the last two are starred by one act and the last of them is dropped.
        string Key(string turn, string key) => $$"""{"type":"key{{turn}}","value":"\u{{key}}"}""";
        string Act(string key) => key[0] switch
        {
            '+' => Key("Down", key[1..]),
            '-' => Key("Up", key[1..]),
            _ => $"{Key("Down", key)},{Key("Up", key)}",
        };
        string Keys(params string[] keys) => $$"""{"type":"key","id":"k","actions":[{{string.Join(",", keys.Select(Act))}}]}""";
        const string Home = "E011", End = "E010", Down = "E015", Up = "E013", Shift = "E008", Alt = "E00A", F2 = "E032", Delete = "E017";
        var script = Write(
            "write.actions.json",
                $$"""{"actions":[{{Keys(Home, "+" + Alt, Down, "-" + Alt, "+" + Shift, End, Up, Up, "-" + Shift, F2, End, Delete)}}]}""");
        string[] rows = ["--rows", file, "--table", "plan", "--order", "place", "--list", list];
        var (code, _, error) = Run(["play", script, .. rows]);
        Assert.Contains("'remove' changes the rows, and the database is opened read-only: play it with --write", error);
        Assert.Equal((2, before), (code, All()));
        (code, var trace, error) = Run(["play", script, .. rows, "--write"]);
        Assert.Equal((0, ""), (code, error));
        Assert.Equal(299L, Ask("SELECT count(*) FROM plan"));
        Assert.Equal("R001,R000,R002", Ask("SELECT group_concat(id) FROM (SELECT id FROM plan ORDER BY place LIMIT 3)"));
        Assert.Equal(1L, Ask($"SELECT count(*) FROM plan p JOIN (SELECT '{places[0]}' AS f) WHERE p.id = 'R000' AND p.place <> f"));
        Assert.Equal(297L, Ask("SELECT sum(starred) FROM plan"));
        Assert.Equal("R001,R298", Ask("SELECT group_concat(id) FROM (SELECT id FROM plan WHERE starred = 0 ORDER BY id)"));
        Assert.Equal("R298", State(trace).Cursor);
        foreach (var (args, says) in new (string[], string)[]
        {
            (["--rows", file, "--query", "SELECT * FROM plan", "--write"], "rows of a query cannot be written"),
            (["--rows", file, "--table", "plan", "--list", list, "--write"], "give by --order one text field with order keys"),
            (["--list", list, "--write"], "name it by --rows"),
            (["--rows", file, "--table", "plan", "--order", "place", "--write", "--list",
                Write("odd.list.json", """{"marks":[{"name":"starred","onWhen":{"nights":1}}]}""")], "'nights' has other values"),
            (["--rows", file, "--table", "plan", "--order", "place", "--write", "--list",
                Write("odd2.list.json", """{"marks":[{"name":"starred"}]}""")], "say which by"),
            (["--rows", file, "--table", "plan", "--order", "place", "--write", "--list",
                Write("odd3.list.json", """{"commands":[{"id":"x","does":"top"}]}""")],
                    "'top' is nothing that the tool can do with rows of a database"),
        })
            Assert.Contains(says, Run(["play", script, .. args]) is { Code: 2 } wrong ? wrong.Error : "it is taken");
        // The same rows as a picture.
        var png = Path.Combine(_folder, "plan.png");
        Assert.Equal((0, "", ""), Run("draw", "--rows", file, "--table", "plan", "--order", "place", "--out", png));
        Assert.True(new FileInfo(png).Length > 10_000);
        Assert.Contains("LIST is required, or '--rows'", Run("draw", "--out", png).Error);
    }

    [Fact]
    public void The_same_input_gives_the_same_trace_to_the_byte_and_every_line_keeps_to_the_schema()
    {
        foreach (var (script,
            list) in ((string, string)[])[("demo.actions.json", "night-plan.list.json"), ("ranges.actions.json", "ranges.list.json"),
            ("demo.actions.json", "check-list.list.json"), ("gestures.actions.json", "gestures.list.json"),
                ("night.recording.jsonl", "gestures.list.json")])
        {
            var (code, trace, error) = Run("play", Data(script), "--list", Data(list));
            Assert.Equal((0, ""), (code, error));
            Assert.Equal(trace, Run("play", Data(script), "--list", Data(list)).Out);
            foreach (var line in trace.TrimEnd('\n').Split('\n'))
            {
                Schemas.Valid("trace", line);
                Assert.Equal(line, TraceLine.Parse(line).ToJson());
            }
        }
    }

    [Fact]
    public void List_files_and_snapshots_keep_to_their_schemas()
    {
        foreach (var file in Directory.GetFiles(Repository.At("examples", "data"), "*.list.json"))
            Schemas.Valid("list", File.ReadAllText(file));
        foreach (var line in File.ReadLines(Data("night.recording.jsonl"))) Schemas.Valid("recording", line);
        Assert.NotEmpty(Schemas.Errors("recording", """{"type":"pointerdown","timeStamp":1}"""));
        var snapshot = Path.Combine(_folder, "snapshot.json");
        Assert.Equal(
            0, Run("play", Data("demo.actions.json"), "-l", Data("night-plan.list.json"), "--save", snapshot, "-t",
                Path.Combine(_folder, "t")).Code);
        Schemas.Valid("snapshot", File.ReadAllText(snapshot));
        Assert.NotEmpty(Schemas.Errors("list", """{"rows":"a.csv","colour":"red"}"""));
        Assert.NotEmpty(Schemas.Errors("trace", """{"stage":"gesture","t":1}"""));
    }

    [Fact]
    public void Rows_from_csv_json_and_json_lines_are_the_same_rows()
    {
        Write("r.csv", "id,name,note\na,\"One, quoted\",x\nb,Two,\"two\nlines\"\n");
        Write("r.json", """[{"id":"a","name":"One, quoted","note":"x"},{"id":"b","name":"Two","note":"two\nlines"}]""");
        Write("r.jsonl",
            "{\"id\":\"a\",\"name\":\"One, quoted\",\"note\":\"x\"}\n\n{\"id\":\"b\",\"name\":\"Two\",\"note\":\"two\\nlines\"}\n");
        var script = Write("s.json", """
            {"actions":[{"type":"pointer","id":"f","parameters":{"pointerType":"touch"},"actions":[
             {"type":"pointerMove","x":50,"y":60},{"type":"pointerDown","button":0},{"type":"pointerUp","button":0}]}]}
            """);
        var traces = new HashSet<string>();
        foreach (var rows in (string[])["\"r.csv\"", "\"r.json\"", "\"r.jsonl\"", File.ReadAllText(Path.Combine(_folder, "r.json"))])
        {
            var list = Write("l.json", $$"""{"rows":{{rows}},"key":"id","label":"{name}","detail":"{note}"}""");
            var (code, trace, error) = Run("play", script, "--list", list);
            Assert.Equal((0, ""), (code, error));
            traces.Add(trace);
        }
        Assert.Contains("\"selected\":[\"b\"]", Assert.Single(traces));
        // The rows alone: their id is the key.
        Assert.Contains("\"selected\":[\"b\"]", Run("play", script, "-l", Path.Combine(_folder, "r.csv")).Out);
        // Without a key they have identities.
        Assert.Contains("\"selected\":[\"#1\"]", Run("play", script, "-l", Write("l.json", """{"rows":"r.csv","label":"{name}"}""")).Out);
    }

    private const string Good = """{"rows":[{"id":"a","name":"One"},{"id":"b","name":"Two"}],"key":"id","label":"{name}"}""";
    private const string Tap =
        """{"actions":[{"type":"pointer","id":"f","actions":[{"type":"pointerMove","origin":"row:a","x":0,"y":0},""" +
        """{"type":"pointerDown","button":0},{"type":"pointerUp","button":0}]}]}""";

    /// <summary>What is wrong, in which file, and what the one line must say: the place, and what would be right.</summary>
    public static TheoryData<string, string, string, string, string> BadInput => new()
    {
        { "no such list", "", "", "missing.json", "there is no such file" },
        { "malformed list", "{\"rows\": [,]}", Tap, @"list\.json:1:\d+", "not valid JSON" },
        { "malformed script", Good, "{\"actions\":\n [}", @"script\.json:2:3", "not valid JSON" },
        { "unknown list field", "{\n\"rows\":[],\n\"colour\":1}", Tap, @"list\.json:3:\d+", "unknown field 'colour'" },
        { "unknown row field", "{\"rows\":[{\"id\":\"a\",\"name\":\"One\"}],\n\"label\":\"{nmae}\"}", Tap, @"list\.json:2:\d+",
            "have id, name. Did you mean 'name'" },
        { "wrong type", "{\"rows\":[],\n\"limit\":\"five\"}", Tap, @"list\.json:2:\d+", "not of the right type" },
        { "wrong mode", "{\"rows\":[],\n\"mode\":\"many\"}", Tap, @"list\.json:2:\d+", "use none, single, single-required, multiple" },
        { "limit of none", "{\"rows\":[],\"mode\":\"multiple\",\n\"limit\":0}", Tap, @"list\.json:2:\d+", "at least 1" },
        { "row without key", "{\"key\":\"id\",\"rows\":[{\"id\":\"a\"},\n{\"name\":\"x\"}]}", Tap, @"list\.json:2:1",
            "the row has no key" },
        { "duplicate key", "{\"key\":\"id\",\"rows\":[{\"id\":\"a\"},\n{\"id\":\"b\"},\n{\"id\":\"a\"}]}", Tap, @"list\.json:3:1",
            "at line 1 has it too, this is line 3" },
        { "wrong chord", "{\"rows\":[],\n\"chords\":{\"Hyper+A\":[\"clear\"]}}", Tap, @"list\.json:2:\d+", "write modifiers" },
        { "wrong act", "{\"rows\":[],\n\"chords\":{\"Ctrl+D\":[\"dance\"]}}", Tap, @"list\.json:2:\d+", "use move-cursor, select" },
        { "open brace", "{\"rows\":[{\"a\":\"1\"}],\n\"label\":\"{a\"}", Tap, @"list\.json:2:\d+", "not closed" },
        { "rows of another type", "{\"rows\":7}", Tap, @"list\.json:1:\d+", "must be the path" },
        { "rows file of another type", "{\"rows\":\"x.xml\"}", Tap, @"x\.xml", "no such file" },
        { "selected row that is not there", "{\"rows\":[{\"id\":\"a\"}],\"key\":\"id\",\n\"selected\":[\"z\"]}", Tap, @"list\.json:2:\d+",
            "no row 'z'" },
        { "script names a row that is not there", Good, Tap.Replace("row:a", "row:z", StringComparison.Ordinal), @"script\.json:1:\d+",
            "there is no row 'z': the list has 2 items, with keys such as a, b" },
        { "script names a part that is not there", Good, Tap.Replace("row:a", "check:a", StringComparison.Ordinal), @"script\.json:1:\d+",
            "no part 'check'" },
        { "script of another shape", Good, "{\"steps\":[]}", @"script\.json:1:\d+", "unknown field 'steps'" },
        { "unknown action", Good, Tap.Replace("pointerUp", "pointerLift", StringComparison.Ordinal), @"script\.json:1:\d+",
            "has no action 'pointerLift'" },
        { "unknown origin", Good, Tap.Replace("row:a", "door:a", StringComparison.Ordinal), @"script\.json:1:\d+", "is not an origin" },
        { "unknown long press", "{\"rows\":[],\n\"longPress\":\"sing\"}", Tap, @"list\.json:2:\d+",
            "use menu, start-selecting, grab, nothing" },
        { "unknown threshold", "{\"rows\":[],\n\"thresholds\":{\"touch.patience\":3}}", Tap, @"list\.json:2:\d+", "use touch.tolerance" },
        { "threshold out of bounds", "{\"rows\":[],\n\"thresholds\":{\"touch.tolerance\":-3}}", Tap, @"list\.json:2:\d+", "at least 0" },
        { "command without an id", "{\"rows\":[],\n\"commands\":[{\"label\":\"x\"}]}", Tap, @"list\.json:2:\d+", "needs an id" },
        { "two commands of one id", "{\"rows\":[],\n\"commands\":[{\"id\":\"x\"},{\"id\":\"x\"}]}", Tap, @"list\.json:2:\d+",
            "Each needs its own" },
        { "two commands of one chord",
            "{\"rows\":[],\n\"commands\":[{\"id\":\"x\",\"chords\":[\"Delete\"]},{\"id\":\"y\",\"chords\":[\"Delete\"]}]}", Tap,
                @"list\.json:2:\d+", "'x' and 'y' have the chord Delete both" },
        { "command that does what the tool cannot", "{\"rows\":[],\n\"commands\":[{\"id\":\"x\",\"does\":\"toggle:y\"}]}", Tap,
            @"list\.json:2:\d+", "use nothing, remove, top, duplicate, add, or toggle:MARK" },
        { "mark without a name", "{\"rows\":[],\n\"marks\":[{\"look\":\"star\"}]}", Tap, @"list\.json:2:\d+", "needs a name" },
        { "part of a mark that is not there", "{\"rows\":[],\n\"parts\":[\"check\",\"mark:done\"]}", Tap, @"list\.json:2:\d+",
            "no mark 'done': the file has no marks" },
        { "part of another mark", "{\"rows\":[],\"marks\":[{\"name\":\"star\"}],\n\"parts\":[\"mark:done\"]}", Tap, @"list\.json:2:\d+",
            "no mark 'done': there are star" },
        { "Space of a mark that is not there", "{\"rows\":[],\n\"spaceMark\":\"done\"}", Tap, @"list\.json:2:\d+", "no mark 'done'" },
        { "handle where nothing moves", "{\"rows\":[],\n\"parts\":[\"handle\"]}", Tap, @"list\.json:2:\d+", "add \"mayMove\": true" },
        { "negative place", Good, Tap.Replace("\"x\":0", "\"x\":-900", StringComparison.Ordinal), @"script\.json:1:\d+",
            "outside the viewport" },
    };

    [Theory]
    [MemberData(nameof(BadInput))]
    public void Bad_input_is_one_line_that_says_where_and_what_would_be_right(
    string what, string list, string script, string place, string says)
    {
        var listPath = list.Length == 0 ? Path.Combine(_folder, "missing.json") : Write("list.json", list);
        var scriptPath = Write("script.json", script.Length == 0 ? Tap : script);
        var trace = Path.Combine(_folder, "trace.jsonl");
        var (code, output, error) = Run("play", scriptPath, "--list", listPath, "--trace", trace);
        Assert.True(code == 2, what);
        Assert.Equal("", output);
        Assert.Matches(@"^lectica: [^\n]+\n$", error.ReplaceLineEndings("\n"));
        Assert.Matches(place, error);
        Assert.Contains(says, error);
        Assert.DoesNotContain("   at ", error);
        Assert.Equal(list.Length == 0 ? 1 : 2, Directory.GetFiles(_folder).Length);
    }

    [Fact]
    public void Bad_recordings_are_one_line_that_says_where_and_what_would_be_right()
    {
        const string down = """{"type":"pointerdown","timeStamp":1,"pointerType":"touch","clientX":5,"clientY":5""";
        (string Text, string Says)[] all =
        [
            (down + "}\n{", "r.jsonl:2:"), (down + "}\n[]", "r.jsonl:2:1: each line is one event"), ("""{"timeStamp":1}""", "no 'type'"),
            ("""{"type":"pointerdance","timeStamp":1,"pointerType":"touch"}""", "use pointerdown, pointermove"),
                ("""{"type":"pointerdown","timeStamp":1,"clientX":5,"clientY":5}""", "no 'pointerType'"),
            ("""{"type":"pointerdown","timeStamp":1,"pointerType":"nose"}""", "use mouse, pen or touch"),
                ("""{"type":"pointerup","timeStamp":1,"pointerType":"pen","clientX":5}""", "no 'clientY'"),
            (down.Replace("1,", "\"one\",", StringComparison.Ordinal) + "}", "'timeStamp' must be a number"),
                (down + ""","intent":"wave"}""", "use tap, double-tap"),
            ("""{"type":"keydown","timeStamp":1}""", "no 'key'"),
        ];
        foreach (var (text, says) in all)
        {
            var path = Write("r.jsonl", text);
            foreach (var command in (string[][])[["play", path, "-l", Data("gestures.list.json")],
                ["why", path, "-l", Data("gestures.list.json")], ["tune", path, "-l", Data("gestures.list.json")]])
            {
                var (code, output, error) = Run(command);
                Assert.Equal((2, ""), (code, output));
                Assert.Matches(@"^lectica: [^\n]+\n$", error.ReplaceLineEndings("\n"));
                Assert.Contains(says, error);
            }
        }
        Assert.Contains("says by 'intent'", Run("tune", Data("night.recording.jsonl"), "-l", Data("gestures.list.json")).Error);
        Assert.Contains(
            "there is no row 'R99'", Run("why", Data("night.recording.jsonl"), "-l", Data("gestures.list.json"), "--row", "R99").Error);
        Assert.Contains(
            "no contact was told",
                Run("why", Data("night.recording.jsonl"), "-l", Data("gestures.list.json"), "--at", "99999", "--png",
                    Path.Combine(_folder, "x.png")).Error);
    }

    [Fact]
    public void Why_tells_each_contact_and_tune_what_would_do_better()
    {
        var (code, told, error) = Run("why", Data("night.recording.jsonl"), "-l", Data("gestures.list.json"));
        Assert.Equal((0, ""), (code, error));
        Assert.Contains("no long press, clear at 430 ms: released after 430 ms, a long press takes 500 ms", told);
        Assert.Contains("for a long press: release 70 ms later, after 500 ms", told);
        Assert.Contains("The key Shift+ArrowDown at 12000 ms", told);
        Assert.Contains("by the rule 'tap on the tray invokes'", told);
        Assert.DoesNotContain("no other way", told);
        var row = Run("why", Data("night.recording.jsonl"), "-l", Data("gestures.list.json"), "--row", "R02", "--at", "1100").Out;
        Assert.Contains("1 contact or key told", row);
        Assert.Contains("Fenimar Pair (R02)", row);
        // Its picture is over the rows as they are when the finger comes down, not what would become of it if it stayed.
        var why = new Why(ListFile.Load(Data("gestures.list.json"), new(Spectre.Console.AnsiConsole.Console)),
            Testing.Recording.Load(Data("night.recording.jsonl")));
        Assert.All(why.Stories(null, null).Where(s => s.What == "touch"), story =>
        {
            var frame = why.Picture(story).Frame;
            Assert.Null(frame.Menu);
            Assert.Contains(frame.Rows, r => r.IsPressed || !r.Tray.IsEmpty);
        });

        (code, told, error) = Run("tune", Data("intent-1.recording.jsonl"), Data("intent-2.recording.jsonl"),
            Data("intent-3.recording.jsonl"), "-l", Data("gestures.list.json"));
        Assert.Equal((0, ""), (code, error));
        // Hands a little unlike the limits, which tuning finds. A long press opens the list's menu; the contacts after it are judged
        // without one.
        Assert.Contains("On recordings held out while tuning: 96 of 120 right with the limits as they are, 120 with tuned ones", told);
        var thresholds = System.Text.RegularExpressions.Regex.Match(told, @"""thresholds"": (\{.*\})").Groups[1].Value;
        Assert.Contains("touch.longPressTime", thresholds);
        // What it gives goes into a list file as it stands, and does better there.
        var list = Write("tuned.json", File.ReadAllText(Data("gestures.list.json"))
            .Replace("\"mayMove\"", $"\"thresholds\": {thresholds}, \"mayMove\"", StringComparison.Ordinal)
            .Replace("night-plan.csv", Data("night-plan.csv"), StringComparison.Ordinal));
        int Right(string file) =>
            int.Parse(Run("tune", Data("intent-1.recording.jsonl"), "-l", file).Out.Split(' ')[0],
            System.Globalization.CultureInfo.InvariantCulture);
        Assert.True(Right(list) > Right(Data("gestures.list.json")));
        Assert.Contains("Give two or more", Run("tune", Data("intent-1.recording.jsonl"), "-l", list).Out);
    }

    [Fact]
    public void Csv_errors_have_line_numbers()
    {
        var script = Write("s.json", Tap);
        (string Csv, string Says)[] all =
        [
            ("", "rows.csv:1:1: the file is empty"), ("id,id\n", "rows.csv:1:1: two fields are called 'id'"),
                ("id,name\na,x\nb\n", "rows.csv:3:1: the row has 1 values, the header line 2 names"),
            ("id,name\na,\"x\ny\"\n,z\n", "rows.csv:4:1: the row has no key"),
                ("id,name\na,x\nb,y\na,z\n", "rows.csv:4:1: the key 'a' is taken: the row at line 2 has it too, this is line 4"),
            ("id,name\na,\"x\n", "not valid CSV"),
        ];
        foreach (var (csv, says) in all)
        {
            var (code, _, error) = Run("play", script, "--list", Write("rows.csv", csv));
            Assert.Equal(2, code);
            Assert.Contains(says, error);
        }
        Assert.Contains("rows.jsonl:2:", Run("play", script, "--list", Write("rows.jsonl", "{\"id\":\"a\"}\n{\"id\":}\n")).Error);
    }

    [Fact]
    public void Expectations_that_fail_are_told_and_exit_with_1()
    {
        var good = Write("good.json", """{"selected":["R06"],"tapped":["R03","R03","R06"],"cursor":"R06"}""");
        var bad = Write("bad.json", """{"selected":["R01","R02"]}""");
        string[] play =
            ["play", Data("demo.actions.json"), "-l", Data("night-plan.list.json"), "-t", Path.Combine(_folder, "t.jsonl"), "--expect"];
        Assert.Equal((0, "", ""), Run([.. play, good]));
        var (code, _, error) = Run([.. play, bad]);
        Assert.Equal(1, code);
        Assert.Contains("selected: expected R01, R02, found R06", error);
        Assert.Equal(2, Run([.. play, Write("wrong.json", """{"chosen":[]}""")]).Code);
    }

    [Fact]
    public void Expectations_keep_to_their_schema_and_may_state_marks_menu_notice_and_no_cursor()
    {
        var list = Write("small.list.json", """
            {"rows":[{"id":"a"},{"id":"b"}],"key":"id","mayMove":true,"parts":["check"],"marks":[{"name":"seen","onWhen":{"id":"b"}}],
             "commands":[{"id":"gone","label":"Gone","does":"remove","notice":"{count} gone"}]}
            """);
        var opens = Write("opens.actions.json", """
            {"actions":[{"type":"pointer","id":"m","parameters":{"pointerType":"mouse"},"actions":[
             {"type":"pointerMove","origin":"row:b","x":0,"y":0},{"type":"pointerDown","button":2},{"type":"pointerUp","button":2}]}]}
            """);
        var nothing = Write("nothing.actions.json", """{"actions":[]}""");
        var open = """{"cursor":"b","open":"menu:b","marks":{"seen":["b"]},"notice":""}""";
        var none = """{"cursor":"","anchor":"","open":"","selected":[],"marks":{"seen":["b"]}}""";
        foreach (var one in (string[])[open, none]) Schemas.Valid("expectation", one);
        Assert.NotEmpty(Schemas.Errors("expectation", """{"slected":[]}"""));
        Assert.NotEmpty(Schemas.Errors("expectation", """{"open":"window"}"""));
        // One for each script, over a list of its own.
        string[] play = ["play", opens, nothing, "--list", list, "--trace", Path.Combine(_folder, "all.jsonl")];
        Assert.Equal((0, "", ""), Run([.. play, "--expect", Write("open.json", open), "--expect", Write("none.json", none)]));
        Assert.Equal(2, File.ReadLines(Path.Combine(_folder, "all.jsonl")).Count(l => TraceLine.Parse(l) is TracedState));
        var (code, _, error) = Run([.. play, "--expect", Path.Combine(_folder, "open.json")]);
        Assert.Equal(1, code);
        Assert.Contains("nothing.actions.json: not as expected: cursor: expected b, found none", error);
        Assert.Contains("open: expected menu:b, found none", error);
        Assert.DoesNotContain("opens.actions.json", error);
        Assert.Equal(2, Run([.. play, "--save", Path.Combine(_folder, "s.json")]).Code);
        Assert.Equal(
            2, Run("play", opens, nothing, opens, "--list", list, "--expect", Path.Combine(_folder, "open.json"), "--expect",
                Path.Combine(_folder, "none.json")).Code);
        // As JSON: a line a script.
        var (_, told, _) = Run("play", opens, nothing, "--list", list, "--json", "--expect", Path.Combine(_folder, "open.json"));
        var lines = told.TrimEnd('\n').Split('\n').Select(l => JsonNode.Parse(l)!).ToList();
        Assert.Equal(2, lines.Count);
        Assert.Equal("menu:b", (string?)lines[0]["state"]!["open"]);
        Assert.Empty(lines[0]["failures"]!.AsArray());
        Assert.NotEmpty(lines[1]["failures"]!.AsArray());
    }

    [Fact]
    public void Programs_read_what_people_are_told()
    {
        JsonNode Json(params string[] args)
        {
            var (code, told, error) = Run([.. args, "--json"]);
            Assert.Equal((0, ""), (code, error));
            return JsonNode.Parse(told)!;
        }
        var keys = Json("keys", Data("night-plan.list.json"));
        Assert.Contains(keys["rules"]!.AsArray(), r => (string?)r!["chord"] == "Mod+Z" && (string?)r["acts"]![0] == "undo");
        var gestures = Json("keys", Data("night-plan.list.json"), "--gestures").AsArray();
        Assert.Equal(GestureTable.Default.Rules.Select(r => r.Name), gestures.Select(r => (string?)r!["name"]));
        var stories = Json("why", Data("night.recording.jsonl"), "--list", Data("gestures.list.json")).AsArray();
        Assert.True(stories.Count > 5);
        Assert.Contains(stories, s => s!["verdicts"]!.AsArray().Any(v => v!["remedy"] is not null));
        var tuned = Json("tune", Data("intent-1.recording.jsonl"), Data("intent-2.recording.jsonl"), Data("intent-3.recording.jsonl"),
            "--list", Data("gestures.list.json"));
        var limits = tuned["limits"]!.AsArray();
        Assert.NotEmpty(limits);
        foreach (var limit in limits)
        {
            // What a person would set, inside what does as well.
            double value = (double)limit!["value"]!, from = (double)limit["from"]!, to = (double)limit["to"]!;
            Assert.InRange(value, from, to);
            Assert.Equal(0, value % (value >= 100 ? 10 : value >= 10 ? 1 : 0.1), 3);
        }
        Assert.True((int)tuned["heldOut"]!["rightTuned"]! > (int)tuned["heldOut"]!["rightNow"]!);
        // One recording with few examples of anything.
        var one = File.ReadLines(Data("intent-1.recording.jsonl")).TakeWhile((_, i) => i < 40);
        var few = Json("tune", Write("few.recording.jsonl", string.Join('\n', one)), "--list", Data("gestures.list.json"));
        Assert.NotEmpty(few["tooFew"]!.AsArray());
    }

    [Theory]
    [InlineData("""{"rows":[],"tittle":"x"}""", "tittle", "title")]
    [InlineData("""{"rows":[],"commands":[{"id":"a","lable":"x"}]}""", "lable", "label")]
    [InlineData("""{"rows":[],"marks":[{"nmae":"x"}]}""", "nmae", "name")]
    [InlineData("""{"rows":[],"sections":{"bi":"x"}}""", "bi", "by")]
    [InlineData("""{"rows":[],"viewport":{"hight":3}}""", "hight", "height")]
    public void A_misspelt_field_is_told_with_the_one_that_was_meant(string list, string field, string meant)
    {
        var (code, _, error) = Run("keys", Write("l.json", list));
        Assert.Equal(2, code);
        Assert.Contains($"unknown field '{field}'. Did you mean '{meant}'?", error);
    }

    [Fact]
    public void A_pointer_that_is_down_may_go_beyond_the_viewport()
    {
        var list = Write("l.json", """{"rows":[{"id":"a"},{"id":"b"},{"id":"c"}],"key":"id","mayMove":true,"mode":"multiple"}""");
        string Script(string down) => $$"""
            {"actions":[{"type":"pointer","id":"m","parameters":{"pointerType":"mouse"},"actions":[
             {"type":"pointerMove","origin":"row:c","x":0,"y":0}{{down}},
             {"type":"pointerMove","x":100,"y":-40,"duration":100},{"type":"pointerUp","button":0}]}]}
            """;
        var (code, trace, error) = Run("play", Write("down.json", Script(""",{"type":"pointerDown","button":0}""")), "-l", list);
        Assert.Equal((0, ""), (code, error));
        Assert.Equal(["c", "a", "b"], State(trace).Source);
        Assert.Contains("while the pointer is up", Run("play", Write("up.json", Script("")), "-l", list).Error);
    }

    [Fact]
    public void A_snapshot_is_restored_by_key_and_what_is_gone_is_told()
    {
        var rows = Write("rows.csv", "id,name\na,One\nb,Two\nc,Three\n");
        var list = Write("l.json", """{"rows":"rows.csv","key":"id","label":"{name}","mode":"multiple"}""");
        var script = Write("s.json", """
            {"actions":[{"type":"key","id":"k","actions":[
             {"type":"keyDown","value":"\uE009"},{"type":"keyDown","value":"a"},{"type":"keyUp","value":"\uE009"}]}]}
            """);
        var nothing = Write("n.json", """{"actions":[]}""");
        var snapshot = Path.Combine(_folder, "snapshot.json");
        Assert.Equal(0, Run("play", script, "-l", list, "--save", snapshot).Code);
        File.WriteAllText(rows, "id,name\nz,New\nc,Three\na,One\n");
        var (code, trace, error) = Run("play", nothing, "-l", list, "--restore", snapshot);
        Assert.Equal(0, code);
        Assert.Contains("\"selected\":[\"c\",\"a\"]", trace);
        Assert.Contains("not in the list any more: b", error);
        Assert.Equal(2, Run("play", nothing, "-l", list, "--restore", Write("bad.json", "{\"version\":9,\"selected\":[]}")).Code);
        Assert.Equal(2, Run("play", nothing, "-l", list, "--restore", Path.Combine(_folder, "none.json")).Code);
    }

    [Fact]
    public void Keys_prints_the_table_and_the_conflicts_it_finds()
    {
        var list = Write("l.json", """{"rows":[],"mode":"multiple","chords":{"Ctrl+W":["clear"],"Ctrl+A":["select-all"]}}""");
        var (code, table, error) = Run("keys", list);
        Assert.Equal((0, ""), (code, error));
        Assert.Contains("kept by the platform: closes the window or tab", table);
        Assert.Contains("Mod+A: never reached: Ctrl+A already means select-all", table);
        Assert.Contains("No conflicts.", Run("keys", Data("night-plan.list.json")).Out);
        var markdown = Run("keys", list, "--markdown").Out;
        Assert.Contains("| `Shift+ArrowDown` | extend from the anchor: the row below |", markdown);
        Assert.Contains("- `Ctrl+W`: kept by the platform", markdown);
        var typed = Run(
            "keys", Write(
                "c.json", """{"rows":[],"commands":[{"id":"star","chords":["S","Delete"]},{"id":"shut","chords":["Ctrl+W"]}]}""")).Out;
        Assert.Contains("S: the command 'star' is never reached: characters find by typing", typed);
        Assert.Contains("Ctrl+W: the command 'shut' is kept by the platform", typed);
        Assert.Matches(@"Delete\s+the command 'star'", typed);
        Assert.Contains("swipe uncovers the tray", Run("keys", list, "--gestures").Out);
        Assert.Contains(
            "| drag grabs | mouse, pen | body | grab | where items may move |", Run("keys", list, "--gestures", "--markdown").Out);
    }

    [Fact]
    public void Draw_makes_pictures_of_the_size_asked_for()
    {
        var png = Path.Combine(_folder, "deep", "list.png");
        Assert.Equal((0, "", ""), Run("draw", Data("night-plan.list.json"), "--out", png, "--scale", "1"));
        Assert.Equal((400, 580), Size(png));
        Assert.Equal(
            0, Run("draw", Data("night-plan.list.json"), "--script", Data("demo.actions.json"), "--out", png, "--columns", "2", "--frames",
                "3", "--theme", "dark").Code);
        Assert.Equal(2, Run("draw", Data("night-plan.list.json"), "--out", png, "--scale", "90").Code);
        Assert.Equal(2, Run("draw", Data("night-plan.list.json")).Code);
    }

    private static (int, int) Size(string png)
    {
        var bytes = File.ReadAllBytes(png);
        return (System.Buffers.Binary.BinaryPrimitives.ReadInt32BigEndian(bytes.AsSpan(16)),
            System.Buffers.Binary.BinaryPrimitives.ReadInt32BigEndian(bytes.AsSpan(20)));
    }

    [Fact]
    public void The_sample_is_what_is_checked_in_and_any_number_of_rows_has_unique_keys()
    {
        var csv = Path.Combine(_folder, "plan.csv");
        Assert.Equal(0, Run("sample", "--out", csv).Code);
        Assert.Equal(File.ReadAllText(Data("night-plan.csv")), File.ReadAllText(csv));
        Assert.True(File.ReadLines(csv).Count() > 40);
        var plates = Path.Combine(_folder, "plates");
        Assert.Equal(0, Run("sample", "--rows", "24", "--out", csv, "--plates", plates).Code);
        Assert.Equal(File.ReadAllText(Data("plates.csv")), File.ReadAllText(csv));
        Assert.Equal(File.ReadAllBytes(Data("plates/P07.png")), File.ReadAllBytes(Path.Combine(plates, "P07.png")));
        Assert.Equal(24, Directory.GetFiles(plates).Length);
        Assert.Contains("are too many to draw", Run("sample", "--rows", "1001", "--out", csv, "--plates", plates).Error);
        Assert.Contains("leave one of them out", Run("sample", "--out", csv, "--plates", plates, "--pictures", plates).Error);
        Assert.Equal(0, Run("sample", "--rows", "12345", "--seed", "3", "--out", csv).Code);
        Assert.Equal(12345, File.ReadLines(csv).Skip(1).Select(l => l.Split(',')[0]).Distinct().Count());
        Assert.Equal(2, Run("sample", "--rows", "10000001", "--out", csv).Code);
    }

    [Theory]
    [InlineData("demo")]
    [InlineData("play")]
    [InlineData("why")]
    [InlineData("tune")]
    [InlineData("draw")]
    [InlineData("keys")]
    [InlineData("sample")]
    public void The_examples_in_the_help_run_as_they_stand(string command)
    {
        var help = Run(command, "--help").Out;
        var examples = ExampleLine().Matches(help).Select(m => m.Groups[1].Value.Trim().Split(' ')).ToList();
        Assert.NotEmpty(examples);
        foreach (var example in examples)
        {
            // From the root, but not into it.
            var args = example.Select(
                a => a.StartsWith("examples/", StringComparison.Ordinal) ? Repository.At(a) : a.StartsWith("out", StringComparison.Ordinal)
                    ? Path.Combine(_folder, a) : a);
            var (code, _, error) = Run([.. args]);
            Assert.Equal((0, ""), (code, error));
        }
    }

    [GeneratedRegex(@"^\s+lectica ((?:demo|play|why|tune|draw|keys|sample) [^<\[\n]*)$", RegexOptions.Multiline)]
    private static partial Regex ExampleLine();

    [Fact]
    public void Bad_usage_exits_with_2_and_points_to_the_help()
    {
        foreach (var args in (string[][])[[], ["dance"], ["play"], ["play", "x", "--lst", "y"]])
        {
            var (code, _, error) = Run(args);
            Assert.Equal(2, code);
            Assert.Contains("--help", error);
        }
    }

    [Fact]
    public void As_a_process_it_gives_its_exit_code_and_no_stack_trace()
    {
        var start = new ProcessStartInfo("dotnet", [typeof(Tool).Assembly.Location, "play", "nothing.json", "--list", "nothing.csv"])
        {
            RedirectStandardError = true,
            RedirectStandardOutput = true,
        };
        using var process = Process.Start(start)!;
        var error = process.StandardError.ReadToEnd();
        process.WaitForExit();
        Assert.Equal((2, 1), (process.ExitCode, error.TrimEnd().Split('\n').Length));
    }
}
