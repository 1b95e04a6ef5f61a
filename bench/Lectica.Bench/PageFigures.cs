using System.Globalization;
using System.Text;
using Lectica.Tests.Page;
using Microsoft.Playwright;

namespace Lectica.Bench;

/// <summary>
/// The page's figures, in Chromium, on the page that test.sh has published: how soon it answers, what a tap, a key and a frame of a drag
/// cost, how many elements there are, how much is sent. Times are taken in the page: events from their time stamp to when all handlers are
/// through and the document has changed, as the Event Timing API tells them; frames in what they ask for.
/// </summary>
internal static class PageFigures
{
    // Wraps the frames that scripts ask for, and gathers what events took.
    private const string Watch = """
        window.frames_ = []; window.events_ = [];
        const raf = window.requestAnimationFrame.bind(window);
        window.requestAnimationFrame = work => raf(now => {
            const start = performance.now();
            work(now);
            window.frames_.push(performance.now() - start);
        });
        new PerformanceObserver(list =>
            list.getEntries().forEach(e => window.events_.push({ name: e.name, took: e.processingEnd - e.startTime })))
            .observe({ type: 'event', durationThreshold: 16, buffered: true });
        """;

    public static async Task<string> Run(string? only)
    {
        var rows = new List<string>();
        void Add(string what, string measured, string reach, bool good) =>
            rows.Add($"| {what} | {measured} | {reach} | {(good ? "✓" : "**not reached**")} |");
        using var server = new PageServer();
        using var playwright = await Playwright.CreateAsync();
        await using var browser = await playwright.Chromium.LaunchAsync(
            new() { ExecutablePath = "/usr/bin/chromium", Args = ["--no-sandbox", "--disable-gpu"] });

        string Table() =>
            new StringBuilder("| work | measured | reach | |\n|---|---:|---:|---|\n").AppendJoin('\n', rows).Append('\n').ToString();
        async Task Tasks()
        {
            await LongTasks(browser, server, Add);
            await Sorted(browser, server, Add);
        }
        if (only is "tasks" or "memory" or "start")
        {
            await (only switch
            {
                "tasks" => Tasks(),
                "memory" => Memory(browser, server, Add),
                _ => Start(browser, server, Add),
            });
            return Table();
        }

        await Start(browser, server, Add);
        foreach (var slowed in (int[])[1, 4])
        {
            await using var context =
                await browser.NewContextAsync(new() { HasTouch = true, ViewportSize = new() { Width = 480, Height = 800 } });
            await context.AddInitScriptAsync(Watch);
            var page = await context.NewPageAsync();
            await page.GotoAsync(server.Address + "?rows=100000");
            await page.WaitForFunctionAsync(
                "() => document.getElementById('plan')?.ariaRowCount === '100000'", null, new() { Timeout = 60_000 });
            var session = await context.NewCDPSessionAsync(page);
            if (slowed > 1) await session.SendAsync("Emulation.setCPUThrottlingRate", new() { ["rate"] = slowed });
            var words = slowed == 1 ? "" : ", processor slowed 4 times";
            async Task<List<double>> Events(string name) =>
                [.. await page.EvaluateAsync<double[]>(
                $"() => {{ const all = window.events_.filter(e => e.name === '{name}').map(e => e.took); window.events_ = []; return " +
                    $"all; }}")];

            for (var i = 0; i < 60; i++)
            {
                await page.Locator(".lectica-row").Nth(2 + (i % 6)).ClickAsync(new() { Position = new() { X = 200, Y = 20 } });
                await page.WaitForTimeoutAsync(60);
            }
            // Events under 16 ms are not told: they are counted as that.
            var taps = Padded(await Events("pointerup"), 60);
            if (slowed == 1)
                Add("tap to changed document, 100,000 rows, 95th percentile", Ms(Percentile(taps, 0.95)), "50 ms",
                    Percentile(taps, 0.95) < 50);
            await page.Locator("#plan").FocusAsync();
            for (var i = 0; i < 60; i++)
            {
                await page.Keyboard.PressAsync("ArrowDown");
                await page.WaitForTimeoutAsync(40);
            }
            var keys = Padded(await Events("keydown"), 60);
            if (slowed == 1)
                Add("keydown to changed document, 100,000 rows, 95th percentile", Ms(Percentile(keys, 0.95)), "50 ms",
                    Percentile(keys, 0.95) < 50);

            await page.Keyboard.PressAsync("Home");
            var handle = (await page.Locator("[data-key='R03'] [data-part='handle']").BoundingBoxAsync())!;
            await session.SendAsync("Input.dispatchTouchEvent",
                new() { ["type"] = "touchStart", ["touchPoints"] = new[] { new { x = handle.X + 20, y = handle.Y + 20 } } });
            await page.EvaluateAsync("() => { window.frames_.length = 0; }");
            for (var i = 0; i < 240; i++)
            {
                await session.SendAsync("Input.dispatchTouchEvent",
                    new()
                    {
                        ["type"] = "touchMove",
                        ["touchPoints"] = new[] { new { x = handle.X + 20, y = handle.Y + 20 + (150 * Math.Sin(i / 20.0)) } }
                    });
                await page.WaitForTimeoutAsync(8);
            }
            await session.SendAsync("Input.dispatchTouchEvent", new() { ["type"] = "touchEnd", ["touchPoints"] = Array.Empty<object>() });
            var frames = (await page.EvaluateAsync<double[]>("() => window.frames_")).ToList();
            Add($"a frame of a drag, 100,000 rows, 95th percentile of {frames.Count}{words}", Ms(Percentile(frames, 0.95)),
                slowed == 1 ? "8 ms" : "16 ms", Percentile(frames, 0.95) < (slowed == 1 ? 8 : 16));
            if (slowed > 1) continue;
            var elements = await page.Locator(".lectica-row").CountAsync();
            Add("row elements in the document, 100,000 rows", elements.ToString(CultureInfo.InvariantCulture), "100", elements <= 100);
        }

        await Tasks();

        var framework = Path.Combine(PageServer.Folder, "_framework");
        double Weight(string files) => Directory.GetFiles(framework, files).Sum(f => new FileInfo(f).Length) / 1024.0;
        double own = Weight("Lectica*.wasm.br"), all = Weight("*.br");
        Add($"core and components, compressed (Brotli): {own.ToString("0", CultureInfo.InvariantCulture)} kB of the page's",
            string.Create(CultureInfo.InvariantCulture, $"{100 * own / all:0.0} %"), "10 %", own <= all / 10);
        return Table();
    }

    /// <summary>How soon the page answers, by turns in a browser that has been to it before and in one that has not.</summary>
    private static async Task Start(IBrowser browser, PageServer server, Action<string, string, string, bool> add)
    {
        List<double> warm = [], cold = [];
        await using var known = await browser.NewContextAsync();
        for (var visit = 0; visit < 3; visit++)
        {
            await Answer(known, server);
            // The browser stores what it has compiled a while after.
            await Task.Delay(5000);
        }
        for (var turn = 0; turn < 7; turn++)
        {
            await using var fresh = await browser.NewContextAsync();
            cold.Add(await Answer(fresh, server));
            warm.Add(await Answer(known, server));
        }
        add("first row on show and answering, from navigation, visited before, median of 7", Ms(Median(warm)), "2,500 ms",
            Median(warm) < 2500);
        add("the same on a first visit, by turns with it", Ms(Median(cold)), "–", true);
        await First(browser, server, add);
    }

    private static async Task<double> Answer(IBrowserContext context, PageServer server)
    {
        var page = await context.NewPageAsync();
        await page.GotoAsync(server.Address);
        // It answers when a key does what it should. It is pressed once, as soon as there is a list that could take it: whatever comes
        // before the answer is kept and done then, so that one who asks over and over waits for all of that too.
        var answer = await page.EvaluateAsync<double>("""
            () => new Promise(done => {
                const look = setInterval(() => {
                    const plan = document.getElementById('plan');
                    if (document.getElementById('first-look') || !plan?.querySelector('.lectica-row')) return;
                    if (!plan.dataset.asked) {
                        plan.dataset.asked = 'once';
                        plan.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowDown', bubbles: true, cancelable: true }));
                    }
                    if (!plan.querySelector('.lectica-row.is-cursor')) return;
                    clearInterval(look);
                    done(performance.now());
                }, 5);
            })
            """);
        await page.CloseAsync();
        return answer;
    }

    /// <summary>How soon rows show that the page brings along, and what shifts until the program is there.</summary>
    private static async Task First(IBrowser browser, PageServer server, Action<string, string, string, bool> add)
    {
        List<double> shown = [], shifts = [];
        for (var i = 0; i < 5; i++)
        {
            await using var context = await browser.NewContextAsync(new() { ViewportSize = new() { Width = 480, Height = 800 } });
            var page = await context.NewPageAsync();
            await page.AddInitScriptAsync("""
                window.shift_ = 0;
                new PerformanceObserver(list => list.getEntries().forEach(e => window.shift_ += e.value))
                    .observe({ type: 'layout-shift', buffered: true });
                """);
            await page.GotoAsync(server.Address);
            await page.WaitForFunctionAsync("() => performance.getEntriesByName('first-contentful-paint').length > 0");
            shown.Add(await page.EvaluateAsync<double>("() => performance.getEntriesByName('first-contentful-paint')[0].startTime"));
            await page.WaitForFunctionAsync("() => !document.getElementById('first-look')", null, new() { Timeout = 60_000 });
            await page.WaitForTimeoutAsync(500);
            shifts.Add(await page.EvaluateAsync<double>("() => window.shift_"));
        }
        add("first rows seen, from navigation, median of 5", Ms(Median(shown)), "500 ms", Median(shown) < 500);
        add("layout shift until the program is there, median of 5", Median(shifts).ToString("0.000", CultureInfo.InvariantCulture), "0",
            Median(shifts) < 0.0005);
    }

    /// <summary>The longest task of acts on 300,000 selected of 1,000,000 rows.</summary>
    private static async Task LongTasks(IBrowser browser, PageServer server, Action<string, string, string, bool> add)
    {
        await using var context = await browser.NewContextAsync(new() { ViewportSize = new() { Width = 900, Height = 800 } });
        var page = await context.NewPageAsync();
        await page.GotoAsync(server.Address + "?rows=1000000");
        // What the page brings along is there before; here the program has begun.
        await page.WaitForFunctionAsync("() => !document.getElementById('first-look')", null, new() { Timeout = 120_000 });
        await page.WaitForTimeoutAsync(500);
        var tasks = await PageTasks.Of(page);
        async Task Told(string what) => Add(add, "300,000 selected of 1,000,000: " + what, await tasks.Longest());
        await page.WaitForFunctionAsync(
            "() => document.getElementById('plan').ariaRowCount === '1000000'", null, new() { Timeout = 120_000 });
        await Told("the rest comes in");
        await page.Locator("#plan").FocusAsync();
        await page.Keyboard.PressAsync("Control+Shift+End");
        await page.Keyboard.PressAsync("Home");
        // By the scroll bar to three tenths, and a range to there.
        await page.EvaluateAsync("() => { const plan = document.getElementById('plan'); plan.scrollTop = plan.scrollHeight * 0.3; }");
        await page.WaitForTimeoutAsync(500);
        await page.Locator(".lectica-row[data-key]").Nth(8)
            .ClickAsync(new() { Modifiers = [KeyboardModifier.Shift], Position = new() { X = 200, Y = 20 } });
        await page.WaitForTimeoutAsync(500);
        await Told("a range over them");
        await page.WaitForTimeoutAsync(5000);
        await Told("kept by the browser, as the list rests");
        await page.ReloadAsync();
        await page.WaitForFunctionAsync("() => !document.getElementById('first-look')", null, new() { Timeout = 120_000 });
        await page.WaitForTimeoutAsync(500);
        // What a start takes is told elsewhere.
        await tasks.Longest();
        await page.WaitForFunctionAsync(
            "() => document.getElementById('told').textContent === 'As you left it.'", null, new() { Timeout = 120_000 });
        await page.WaitForTimeoutAsync(500);
        await Told("they come back after a reload");
        (string What, string Key, int Times)[] acts = [("all of them moved by a row", "Alt+ArrowDown", 1),
            ("that taken back", "Control+z", 1), ("all of them starred", "Star", 1), ("all of them withdrawn", "Delete", 1),
            ("they come back", "Control+z", 1), ("one row withdrawn", "Delete", 1), ("it comes back", "Control+z", 1),
            ("Ctrl+arrows", "Control+ArrowDown", 10),
            ("the menu", "Shift+F10", 1), ("the menu goes", "Escape", 1), ("a letter without a match", "#", 1),
            ("Ctrl+A", "Control+a", 4), ("to the end", "End", 1)];
        foreach (var (what, key, times) in acts)
        {
            // A click in the toolbar leaves the focus there, where keys mean something else.
            await page.Locator("#plan").FocusAsync();
            for (var i = 0; i < times; i++)
            {
                if (key == "Star") await page.GetByRole(AriaRole.Button, new() { Name = key, Exact = true }).ClickAsync();
                else await page.Keyboard.PressAsync(key);
                await page.WaitForTimeoutAsync(100);
            }
            await page.WaitForTimeoutAsync(key == "#" ? 15_000 : key is "Alt+ArrowDown" or "Control+z" or "Star" or "Delete" ? 5000 : 700);
            await Told(what);
        }
    }

    /// <summary>The longest task of sorting 100,000 rows by a header: up, down, and by another.</summary>
    private static async Task Sorted(IBrowser browser, PageServer server, Action<string, string, string, bool> add)
    {
        await using var context = await browser.NewContextAsync(new() { ViewportSize = new() { Width = 900, Height = 800 } });
        var page = await context.NewPageAsync();
        await page.GotoAsync(server.Address + "?sample=columns&rows=100000");
        await page.WaitForFunctionAsync(
            "() => document.getElementById('plan')?.ariaRowCount === '100001'", null, new() { Timeout = 120_000 });
        await page.WaitForTimeoutAsync(1000);
        var tasks = await PageTasks.Of(page);
        foreach (var (header, look) in new[] { ("field", "ascending"), ("field", "descending"), ("magnitude", "ascending") })
        {
            await page.Locator($"#plan-column-{header} button").ClickAsync();
            await page.WaitForFunctionAsync($"() => document.getElementById('plan-column-{header}').ariaSort === '{look}'");
            await page.WaitForTimeoutAsync(500);
        }
        Add(add, "100,000 rows: sorted by headers", await tasks.Longest());
    }

    private static void Add(Action<string, string, string, bool> add, string what, LongestTask longest) =>
        add("longest task, " + what, longest.ToString(), "50 ms", longest.IsShort);

    /// <summary>
    /// What the page holds after each of ten minutes of taps, ranges, drags, swipes, menus, removals with undo, scrolling and filtering:
    /// the script's heap after a collection, the memory of the runtime, and the elements.
    /// </summary>
    private static async Task Memory(IBrowser browser, PageServer server, Action<string, string, string, bool> add)
    {
        await using var context =
            await browser.NewContextAsync(new() { HasTouch = true, ViewportSize = new() { Width = 480, Height = 800 } });
        var page = await context.NewPageAsync();
        await page.GotoAsync(server.Address + "?rows=100000");
        await page.WaitForFunctionAsync(
            "() => document.getElementById('plan')?.ariaRowCount === '100000'", null, new() { Timeout = 120_000 });
        var session = await context.NewCDPSessionAsync(page);
        ILocator Row(int at) => page.Locator(".lectica-row[data-key]").Nth(at);
        async Task Touch(string type, params object[] points) =>
            await session.SendAsync("Input.dispatchTouchEvent", new() { ["type"] = type, ["touchPoints"] = points });
        async Task Stroke(ILocator from, double across, double down)
        {
            var box = (await from.BoundingBoxAsync())!;
            var (x, y) = (box.X + (box.Width / 2), box.Y + (box.Height / 2));
            await Touch("touchStart", new { x, y });
            for (var i = 1; i <= 10; i++)
            {
                await Touch("touchMove", new { x = x + (across * i / 10), y = y + (down * i / 10) });
                await page.WaitForTimeoutAsync(16);
            }
            await Touch("touchEnd");
        }
        Func<Task>[] acts =
        [
            () => Row(4).ClickAsync(),
            () => Row(7).ClickAsync(new() { Modifiers = [KeyboardModifier.Shift] }),
            () => page.Keyboard.PressAsync("ArrowDown"),
            () => Stroke(Row(5).Locator("[data-part=handle]"), 0, 110),
            () => Stroke(Row(6), -120, 0),
            () => page.Keyboard.PressAsync("Escape"),
            () => page.Keyboard.PressAsync("Shift+F10"),
            () => page.Keyboard.PressAsync("Escape"),
            () => page.Keyboard.PressAsync("Delete"),
            () => page.Keyboard.PressAsync("Control+z"),
            () => page.Keyboard.PressAsync("PageDown"),
            () => page.Keyboard.PressAsync("Control+a"),
            () => page.Keyboard.PressAsync("o"),
            () => page.Mouse.WheelAsync(0, 700),
            () => page.Keyboard.PressAsync("Home"),
        ];
        var (heaps, runtimes, elements) = (new List<double>(), new List<double>(), new List<double>());
        var done = 0;
        await page.Locator("#plan").FocusAsync();
        for (var minute = 1; minute <= 10; minute++)
        {
            var clock = System.Diagnostics.Stopwatch.StartNew();
            while (clock.Elapsed < TimeSpan.FromMinutes(1))
            {
                await acts[done++ % acts.Length]();
                await page.WaitForTimeoutAsync(40);
            }
            // With nothing open, as at the end of every other minute.
            await page.Keyboard.PressAsync("Escape");
            await page.Keyboard.PressAsync("Escape");
            await page.Keyboard.PressAsync("Home");
            await page.WaitForTimeoutAsync(1000);
            await session.SendAsync("HeapProfiler.collectGarbage");
            heaps.Add(await page.EvaluateAsync<double>("() => performance.memory.usedJSHeapSize / 1e6"));
            runtimes.Add(await page.EvaluateAsync<double>("() => Blazor.runtime.localHeapViewU8().length / 1e6"));
            elements.Add(await page.EvaluateAsync<double>("() => document.querySelectorAll('*').length"));
        }
        void Told(string what, string unit, List<double> values) =>
            add($"{what} after each of ten minutes, {done} acts on 100,000 rows",
                string.Join(" · ", values.Select(v => v.ToString("0.0", CultureInfo.InvariantCulture))) + unit, "flat after the third",
                values.Skip(3).Max() <= values[2] * 1.05);
        Told("script's heap", " MB", heaps);
        Told("runtime's memory", " MB", runtimes);
        Told("elements", "", elements);
    }

    private static string Ms(double value) => string.Create(CultureInfo.InvariantCulture, $"{value:#,0.0} ms");

    private static double Median(List<double> values) => Percentile(values, 0.5);

    private static double Percentile(List<double> values, double part)
    {
        double[] sorted = [.. values.Order()];
        return sorted.Length == 0 ? double.NaN : sorted[Math.Min(sorted.Length - 1, (int)(sorted.Length * part))];
    }

    private static List<double> Padded(List<double> values, int count) =>
        [.. values, .. Enumerable.Repeat(16.0, Math.Max(0, count - values.Count))];
}
