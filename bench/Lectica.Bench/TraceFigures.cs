using System.Globalization;
using System.Text;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Tests.Gestures;
using Lectica.Tracing;

namespace Lectica.Bench;

/// <summary>
/// How traces of hands are recognised: what was meant, and what came out, with those that leave the documented limits apart.
/// </summary>
internal static class TraceFigures
{
    private static readonly string[] Words = ["tap", "double-tap", "long-press", "hold-drag", "swipe", "drag", "pan", "nothing"];

    public static string Run(int count)
    {
        var random = new Random(1);
        Dictionary<(string Meant, string Got), int> inside = [], outside = [];
        for (var i = 0; i < count; i++)
        {
            double Shake() => 1 + (random.NextDouble() * random.NextDouble() * 4);
            var trace = HumanTraces.Make(random, 1000, new(Shake(), Shake(), Shake(), Shake(), 0.8 + (random.NextDouble() * 0.5)));
            var table = trace.IsInside ? inside : outside;
            var key = (trace.Intent, Play(trace));
            table[key] = table.GetValueOrDefault(key) + 1;
        }
        return $"Inside the documented limits: {Share(inside)}\n\n{Table(inside)}\nOutside them: {Share(outside)}\n\n{Table(outside)}";
    }

    private static string Play(HumanTraces.Trace trace)
    {
        using var list = InteractiveList.Of([.. Enumerable.Range(0, 10).Select(i => $"R{i:00}")], s => s, new()
        {
            Mode = SelectionMode.Multiple,
            MayMove = true,
            Parts = new() { Handle = true },
        });
        list.Commands =
        [
            new("star", "Star") { ShowIn = ShowIn.LeadingTray, SwipesThrough = true },
            new("withdraw", "Withdraw") { ShowIn = ShowIn.TrailingTray, SwipesThrough = true },
            new("defer", "Defer") { ShowIn = ShowIn.TrailingTray },
        ];
        list.MoveRequested += (_, _) => { };
        var got = "nothing";
        list.Traced += line =>
        {
            if (line is TracedGesture { Recognised: true, Phase: null or "begin", Gesture: not ("press" or "release") } made)
                got = made.Gesture;
        };
        foreach (var sample in trace.Samples) list.Take(sample);
        return got;
    }

    private static string Share(Dictionary<(string Meant, string Got), int> table)
    {
        int all = table.Values.Sum(), right = table.Where(t => t.Key.Meant == t.Key.Got).Sum(t => t.Value);
        return string.Create(CultureInfo.InvariantCulture, $"{right:N0} of {all:N0} as meant ({100.0 * right / Math.Max(1, all):0.00} %).");
    }

    private static string Table(Dictionary<(string Meant, string Got), int> table)
    {
        var text = new StringBuilder($"| meant | {string.Join(" | ", Words)} |\n|---|{string.Concat(Words.Select(_ => "---:|"))}\n");
        foreach (var meant in Words[..^1])
        {
            var counts = Words.Select(got =>
                table.TryGetValue((meant, got), out var n) ? n.ToString("N0", CultureInfo.InvariantCulture) : "");
            text.Append(CultureInfo.InvariantCulture, $"| {meant} | {string.Join(" | ", counts)} |\n");
        }
        return text.ToString();
    }
}
