using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Nodes;
using Lectica.Acts;
using Lectica.Testing;

namespace Lectica.Cli;

/// <summary>What the tool tells people, as JSON for programs.</summary>
internal static class Reports
{
    /// <summary>For one value.</summary>
    public static JsonSerializerOptions Indented { get; } = new()
    {
        WriteIndented = true,
        Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    /// <summary>For one value a line.</summary>
    public static JsonSerializerOptions OneLine { get; } = new() { Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    private static JsonArray Many<T>(IEnumerable<T> values, Func<T, JsonNode?> node) => [.. values.Select(node)];

    private static JsonArray Texts(IEnumerable<string> values) => Many(values, v => (JsonNode?)v);

    public static JsonNode Played(string script, Recorder recorder, IReadOnlyList<string> failures) => new JsonObject
    {
        ["script"] = script,
        ["failures"] = Texts(failures),
        ["notice"] = recorder.Notice,
        ["state"] = JsonNode.Parse(recorder.End.ToJson()),
    };

    public static JsonNode Stories(IEnumerable<ContactStory> stories) => Many(stories, s => new JsonObject
    {
        ["what"] = s.What,
        ["time"] = s.Time,
        ["key"] = s.Key,
        ["part"] = s.Part,
        ["verdicts"] = Many(s.Verdicts, v => new JsonObject
        {
            ["gesture"] = v.Gesture,
            ["recognised"] = v.IsRecognised,
            ["time"] = v.Time,
            ["reason"] = v.Reason,
            ["criterion"] = v.Criterion,
            ["remedy"] = v.Remedy?.Words,
        }),
        ["outcomes"] = Many(s.Outcomes, line => JsonNode.Parse(line.ToJson())),
    });

    public static JsonNode Tuning(TuningReport report) => new JsonObject
    {
        ["right"] = report.Now.Right,
        ["total"] = report.Now.Total,
        ["meant"] = new JsonObject(report.Now.Meant.Select(m => KeyValuePair.Create(m, (JsonNode?)new JsonObject(
            report.Now.Got.Where(g => report.Now[m, g] > 0).Select(g => KeyValuePair.Create(g, (JsonNode?)report.Now[m, g])))))),
        ["misses"] = Many(
            report.Misses,
                m => new JsonObject { ["file"] = m.File, ["time"] = m.Time, ["meant"] = m.Meant, ["got"] = m.Got, ["reason"] = m.Reason }),
        ["heldOut"] =
            new JsonObject { ["total"] = report.HeldOutTotal, ["rightNow"] = report.HeldOutNow, ["rightTuned"] = report.HeldOutTuned },
        ["isBetter"] = report.IsBetter,
        ["limits"] = Many(
            report.Limits,
                l => new JsonObject
                {
                    ["name"] = l.Name,
                    ["value"] = l.Value,
                    ["from"] = l.From,
                    ["to"] = l.To,
                    ["examples"] = l.Examples,
                }),
        ["tooFew"] = Texts(report.TooFew),
    };

    public static JsonNode Keys(InteractiveList<Row, string> list)
    {
        var options = list.Options;
        return new JsonObject
        {
            ["table"] = options.Keys.Name,
            ["mod"] = options.ModKey.ToString(),
            ["rules"] = Many(list.KeyRulesInForce, r => new JsonObject
            {
                ["name"] = r.Rule.Name,
                ["chord"] = r.Rule.Chord.ToString(),
                ["acts"] = Texts(r.Rule.Acts.Select(ActNames.Of)),
                ["direction"] = r.Rule.Direction == Direction.None ? null
                    : JsonNamingPolicy.KebabCaseLower.ConvertName(r.Rule.Direction.ToString()),
                ["when"] = r.Always ? null : r.Rule.When?.Name,
            }),
            ["commands"] = Many(list.Commands.SelectMany(c => c.Chords.Select(k => (c.Id, Chord: k))),
                c => new JsonObject { ["chord"] = c.Chord.ToString(), ["command"] = c.Id }),
            ["findsByTyping"] = options.Keys.FindsByTyping,
            ["conflicts"] = Many(KeysTable.Conflicts(list), c => new JsonObject { ["chord"] = c.Chord, ["reason"] = c.Reason }),
        };
    }

    public static JsonNode Gestures(ListOptions options) => Many(options.Gestures.Rules, r => new JsonObject
    {
        ["name"] = r.Name,
        ["gesture"] = JsonNamingPolicy.KebabCaseLower.ConvertName(r.Gesture.ToString()),
        ["pointers"] = Texts(GesturesTable.PointersOf(r)),
        ["on"] = Texts(GesturesTable.AreasOf(r)),
        ["modifiers"] = r.AnyModifiers ? "any" : r.Modifiers == default ? null : r.Modifiers.ToString().TrimEnd('+'),
        ["acts"] = Texts(r.Acts.Select(ActNames.Of)),
        ["when"] = r.When?.Name,
    });
}
