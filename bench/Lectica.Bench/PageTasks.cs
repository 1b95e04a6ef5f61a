using System.Globalization;
using System.Text.Json;
using Microsoft.Playwright;

namespace Lectica.Bench;

/// <summary>The longest task of a page's main thread.</summary>
/// <param name="Worked">For how long it had the processor, ms.</param>
/// <param name="Took">How long it took by the clock, with what the machine gave to others meanwhile, ms.</param>
internal readonly record struct LongestTask(double Worked, double Took)
{
    // No act may block a page for so long.
    public const double Limit = 50;

    public bool IsShort => Worked < Limit;

    public override string ToString() => string.Create(CultureInfo.InvariantCulture, $"{Worked:0} ms ({Took:0} ms)");
}

/// <summary>
/// Watches what a page's main thread does, by the browser's trace: a long task of the Long Tasks API has only its time by the clock, which
/// on a machine with other work tells of that as well.
/// </summary>
internal sealed class PageTasks
{
    private static readonly Dictionary<string, string[]> Wanted = new() { ["includedCategories"] = ["toplevel"] };

    private readonly ICDPSession _session;
    private readonly List<JsonElement> _events = [];
    private TaskCompletionSource _ended = new();

    private PageTasks(ICDPSession session)
    {
        _session = session;
        session.Event("Tracing.dataCollected").OnEvent += (_, data) =>
            _events.AddRange(data!.Value.GetProperty("value").EnumerateArray().Select(e => e.Clone()));
        session.Event("Tracing.tracingComplete").OnEvent += (_, _) => _ended.TrySetResult();
    }

    /// <summary>Watches a page from now on.</summary>
    public static async Task<PageTasks> Of(IPage page)
    {
        var tasks = new PageTasks(await page.Context.NewCDPSessionAsync(page));
        await tasks.Begin();
        return tasks;
    }

    private async Task Begin() =>
        await _session.SendAsync("Tracing.start", new() { ["transferMode"] = "ReportEvents", ["traceConfig"] = Wanted });

    /// <summary>The longest task since the last time.</summary>
    public async Task<LongestTask> Longest()
    {
        await _session.SendAsync("Tracing.end");
        await _ended.Task;
        // Of several pages' threads the one that worked most is the page's that is watched.
        var main = _events.Where(e => Name(e) == "thread_name" && e.GetProperty("args").GetProperty("name").GetString() == "CrRendererMain")
            .Select(Thread).ToHashSet();
        var tasks = _events.Where(e => Name(e).EndsWith("RunTask", StringComparison.Ordinal) && main.Contains(Thread(e)))
            .Select(e => (Thread: Thread(e), Worked: Time(e, "tdur"), Took: Time(e, "dur"))).GroupBy(t => t.Thread)
            .MaxBy(g => g.Sum(t => t.Worked)) ?? throw new InvalidOperationException("The browser's trace has no task of a page.");
        var longest = new LongestTask(tasks.Max(t => t.Worked), tasks.Max(t => t.Took));
        _events.Clear();
        _ended = new();
        await Begin();
        return longest;
    }

    private static string Name(JsonElement e) => e.GetProperty("name").GetString()!;

    private static (long Process, long Thread) Thread(JsonElement e) => (e.GetProperty("pid").GetInt64(), e.GetProperty("tid").GetInt64());

    // The trace has microseconds.
    private static double Time(JsonElement e, string name) => e.TryGetProperty(name, out var time) ? time.GetDouble() / 1000 : 0;
}
