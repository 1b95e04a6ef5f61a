using System.Globalization;
using Deque.AxeCore.Commons;
using Deque.AxeCore.Playwright;
using Lectica.Tracing;
using Microsoft.Playwright;

namespace Lectica.Tests.Page;

/// <summary>One server and one browser for all tests of the page.</summary>
public sealed class PageFixture : IAsyncLifetime
{
    private PageServer? _server;
    private IPlaywright? _playwright;

    internal string Address => _server!.Address;

    internal IBrowser Browser { get; private set; } = null!;

    public async ValueTask InitializeAsync()
    {
        _server = new();
        _playwright = await Playwright.CreateAsync();
        // Without a screen it goes back where a finger scrolls beyond an end, whatever the page's styles say.
        Browser = await _playwright.Chromium.LaunchAsync(new()
        {
            ExecutablePath = "/usr/bin/chromium",
            Args = ["--no-sandbox", "--disable-gpu", "--disable-features=OverscrollHistoryNavigation"],
        });
    }

    public async ValueTask DisposeAsync()
    {
        if (Browser is not null) await Browser.CloseAsync();
        _playwright?.Dispose();
        _server?.Dispose();
    }

    /// <summary>Opens the page in a browser context of its own, and waits for the first row.</summary>
    internal async Task<PageDriver> Open(string query = "", ColorScheme scheme = ColorScheme.Light, bool touch = true,
        ForcedColors forced = ForcedColors.None, ReducedMotion motion = ReducedMotion.NoPreference, bool phone = false,
        string script = "")
    {
        var context = await Browser.NewContextAsync(new()
        {
            ViewportSize = new() { Width = 480, Height = 800 },
            HasTouch = touch,
            IsMobile = phone,
            ColorScheme = scheme,
            ForcedColors = forced,
            ReducedMotion = motion,
        });
        if (script != "") await context.AddInitScriptAsync(script);
        var page = await context.NewPageAsync();
        await page.GotoAsync($"{Address}?{query}");
        var driver = new PageDriver(page, await context.NewCDPSessionAsync(page));
        await driver.HasBegun();
        return driver;
    }
}

[CollectionDefinition("page")]
public sealed class PageCollection : ICollectionFixture<PageFixture>;

/// <summary>The page as people use it: real touches, clicks and keys, and what it tells of itself.</summary>
internal sealed class PageDriver : IAsyncDisposable
{
    private readonly List<string> _errors = [];

    public PageDriver(IPage page, ICDPSession session)
    {
        (Page, Session) = (page, session);
        page.PageError += (_, error) => _errors.Add(error);
    }

    public IPage Page { get; }

    public ICDPSession Session { get; }

    public ILocator Row(string key) => Page.Locator($".lectica-row[data-key='{key}']");

    /// <summary>
    /// The middle of a row or a part of it, once rows are drawn and have come to rest: what took long is drawn a task later, and while they
    /// glide it is another's place.
    /// </summary>
    public async Task<(float X, float Y)> Middle(string key, string? part = null)
    {
        await Page.EvaluateAsync(
            """
            async () => {
                await new Promise(drawn => requestAnimationFrame(() => setTimeout(drawn)));
                const rows = [...document.querySelectorAll(".lectica-row")];
                await Promise.allSettled(rows.flatMap(e => e.getAnimations()).map(a => a.finished));
            }
            """);
        var box = await (part is null ? Row(key) : Row(key).Locator($"[data-part='{part}']")).BoundsAsync();
        return (box.X + (box.Width / 2), box.Y + (box.Height / 2));
    }

    public async Task Touch(string type, float x, float y) =>
        await Session.SendAsync("Input.dispatchTouchEvent", new()
        {
            ["type"] = type,
            ["touchPoints"] = type == "touchEnd" ? Array.Empty<object>() : new[] { new { x, y } },
        });

    /// <summary>
    /// A finger down, along a line in so many moves, and up. Like a finger it does not wait for the page to answer: a page that is slow
    /// for a moment would turn a swipe into a hold.
    /// </summary>
    public async Task Swipe(float x, float y, float toX, float toY, int moves = 12, int hold = 0, bool up = true)
    {
        List<Task> sent = [Touch("touchStart", x, y)];
        if (hold > 0) await Task.Delay(hold);
        for (var i = 1; i <= moves; i++)
        {
            sent.Add(Touch("touchMove", x + ((toX - x) * i / moves), y + ((toY - y) * i / moves)));
            await Task.Delay(16);
        }
        if (up) sent.Add(Touch("touchEnd", toX, toY));
        await Task.WhenAll(sent);
    }

    public async Task Tap(string key, string? part = null)
    {
        var (x, y) = await Middle(key, part);
        await Page.Touchscreen.TapAsync(x, y);
    }

    public async Task TapOn(ILocator element)
    {
        await element.ScrollIntoViewIfNeededAsync();
        var box = await element.BoundsAsync();
        await Page.Touchscreen.TapAsync(box.X + (box.Width / 2), box.Y + (box.Height / 2));
        await Page.WaitForTimeoutAsync(100);
    }

    // A press is answered in a frame or two, and what it brings fades in: the page is looked at when nothing has changed for a while.
    private const string Quiet = """
        async () => {
            let changed = performance.now();
            const watcher = new MutationObserver(() => changed = performance.now());
            watcher.observe(document.body, { subtree: true, childList: true, attributes: true, characterData: true });
            const until = performance.now() + 5000;
            const runs = () =>
                document.getAnimations().some(a => a.playState === 'running' && a.effect.getTiming().iterations !== Infinity);
            while (performance.now() < until && (runs() || performance.now() - changed < 250)) await new Promise(r => setTimeout(r, 25));
            watcher.disconnect();
        }
        """;

    /// <summary>Waits until the page answers.</summary>
    public async Task HasBegun()
    {
        // The first rows come with the page, before the program that answers.
        await Page.Locator("#first-look").WaitForAsync(new() { State = WaitForSelectorState.Detached, Timeout = 60_000 });
        await Page.Locator(".lectica-row").First.WaitForAsync(new() { Timeout = 60_000 });
        // Then the list begins to listen, and tools are measured.
        await Rest();
    }

    public async Task Reload()
    {
        await Page.ReloadAsync();
        await HasBegun();
    }

    /// <summary>Waits until the page has come to rest.</summary>
    public async Task Rest() => await Page.EvaluateAsync(Quiet);

    /// <summary>axe-core finds nothing as the page is now, once what appears has appeared: half faded in it has less contrast.</summary>
    public async Task Clean(string state)
    {
        await Rest();
        var result = await Page.RunAxe(new AxeRunOptions { ResultTypes = [ResultType.Violations] });
        Assert.True(result.Violations.Length == 0,
            $"{state}: " +
                string.Join("\n",
                result.Violations.Select(v => $"{v.Id}: {v.Help}: {string.Join(" | ", v.Nodes.Take(3).Select(n => n.Html))}")));
    }

    public async Task<TracedState> State() =>
        (TracedState)TraceLine.Parse(await Page.EvaluateAsync<string>("() => DotNet.invokeMethod('NightPlan.Web', 'State')"));

    public async Task<List<TraceLine>> Trace() =>
        [.. (await Page.EvaluateAsync<string>("() => DotNet.invokeMethod('NightPlan.Web', 'Trace')")).Split(
        '\n', StringSplitOptions.RemoveEmptyEntries).Select(TraceLine.Parse)];

    /// <summary>The id of the element that has the keyboard.</summary>
    public async Task<string> Focused() => await Page.EvaluateAsync<string>("() => document.activeElement.id");

    public async Task<string> Selected() => string.Join(" ", (await State()).Selected);

    public async Task Scroll(double top)
    {
        await Page.EvaluateAsync(string.Create(CultureInfo.InvariantCulture, $"() => document.getElementById('plan').scrollTop = {top}"));
        await Page.WaitForTimeoutAsync(120);
    }

    public async ValueTask DisposeAsync()
    {
        await Page.Context.CloseAsync();
        // Whatever a test was about, no script has failed meanwhile.
        Assert.Empty(_errors);
    }
}
