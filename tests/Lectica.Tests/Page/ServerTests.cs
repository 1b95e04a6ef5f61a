using System.Diagnostics;
using System.Net;
using System.Net.Sockets;
using System.Text.RegularExpressions;
using Deque.AxeCore.Commons;
using Deque.AxeCore.Playwright;
using Microsoft.Playwright;

namespace Lectica.Tests.Page;

/// <summary>
/// The same components with the core on a server, where answers come later: what the browser must be kept from is known beforehand.
/// </summary>
[Collection("page")]
public sealed class ServerTests(PageFixture fixture)
{
    [Fact]
    public Task A_list_on_a_server_is_tapped_keyed_dragged_and_swiped() => OnServer(async (page, tells) =>
    {
        await page.Locator("[data-key='R01']").ClickAsync();
        await tells("Selected: R01");
        await page.Keyboard.PressAsync("Shift+ArrowDown");
        await tells("Selected: R01, R02");
        await page.Locator("[data-key='R04'] [data-part=check]").ClickAsync();
        await tells("Selected: R01, R02, R04");
        // Keys that the list has are not the page's: the page itself does not scroll.
        await page.Keyboard.PressAsync("End");
        await tells("Selected: R23");
        await page.Locator("[data-key='R23']").WaitForAsync();
        await Soon.Equal(0, () => page.EvaluateAsync<double>("() => document.scrollingElement.scrollTop"));
        await page.Keyboard.PressAsync("Home");
        await tells("Selected: R00");
        var handle = await page.Locator("[data-key='R05'] [data-part=handle]").BoundsAsync();
        await page.Mouse.MoveAsync(handle.X + 20, handle.Y + 20);
        await page.Mouse.DownAsync();
        for (var i = 1; i <= 12; i++)
        {
            await page.Mouse.MoveAsync(handle.X + 20, handle.Y + 20 + (i * 10));
            await page.WaitForTimeoutAsync(16);
        }
        await page.Locator(".lectica-card").WaitForAsync();
        await page.Mouse.UpAsync();
        await tells("Moved: R05");
        await Expect(page.Locator("[data-key='R05']")).ToHaveAttributeAsync("aria-rowindex", "8");
        await page.Keyboard.PressAsync("Shift+F10");
        await page.Locator("#plan-menu").WaitForAsync();
        await page.Keyboard.PressAsync("Escape");
        await page.Locator("#plan-menu").WaitForAsync(new() { State = WaitForSelectorState.Detached });
    });

    [Fact]
    public Task Rows_of_a_list_on_a_server_that_go_are_seen_to_go() => OnServer((page, _) => Ghosts.Check(page));

    [Fact]
    public Task Tiles_are_picked_by_keys_and_rectangles_put_in_order_and_told_as_a_grid() => Serving([], async address =>
    {
        await using var context = await fixture.Browser.NewContextAsync(new() { ViewportSize = new() { Width = 1000, Height = 800 } });
        var page = await context.NewPageAsync();
        page.SetDefaultTimeout(20_000);
        await page.GotoAsync(address + "/plates");
        ILocator Tile(int number) => page.Locator($"[data-key='{number}']");
        Task Tells(string text) => Expect(page.Locator("#told")).ToHaveTextAsync(text);
        // It answers once the script is there, which tells how wide it is: until then tiles lie elsewhere.
        await Expect(page.Locator("#plates")).ToHaveAttributeAsync("aria-colcount", "6");
        while (!await page.EvaluateAsync<bool>("() => !!document.querySelector('#plates .lectica-row.is-selected')"))
        {
            await Tile(1).ClickAsync(new() { Position = new() { X = 60, Y = 110 } });
            await page.WaitForTimeoutAsync(200);
        }
        await page.Keyboard.PressAsync("ArrowRight");
        await Expect(Tile(2)).ToHaveAttributeAsync("aria-selected", "true");
        await page.Keyboard.PressAsync("ArrowDown");
        await Expect(Tile(8)).ToHaveAttributeAsync("aria-selected", "true");
        await page.Keyboard.PressAsync("Shift+Home");
        // The sixth is disabled.
        await Tells("Selected: 2");
        await Expect(page.Locator("#plates")).ToHaveAttributeAsync("aria-activedescendant", "plates-6");
        // The ruler and the ribbon are the app's own icons.
        Assert.StartsWith("M7 4h10", await Tile(1).Locator(".lectica-mark[aria-checked='true'] path").GetAttributeAsync("d"));
        Assert.StartsWith("M3.5 15.5", await page.Locator("#tools [data-command='measure'] path").GetAttributeAsync("d"));
        // Lines own their tiles: six columns, and a line for the heading first.
        Assert.Equal(
            ("6", "53", "3"),
                (await page.Locator("#plates").GetAttributeAsync("aria-colcount"),
                    await page.Locator("#plates").GetAttributeAsync("aria-rowcount"), await Tile(8).GetAttributeAsync("aria-colindex")));
        Assert.Equal("6 7 8 9 10 11", await page.Locator("#plates [role=row][aria-rowindex='3']")
            .EvaluateAsync<string>("e => [...e.children].map(c => c.dataset.key).join(' ')"));
        var axe = await page.RunAxe(new AxeRunOptions { ResultTypes = [ResultType.Violations] });
        Assert.True(axe.Violations.Length == 0, string.Join("; ", axe.Violations.Select(v => $"{v.Id}: {v.Help} at {v.Nodes[0].Html}")));

        // A rectangle from the room between two tiles takes what it touches, and not what lies between in reading order.
        var (from, to) = (await Tile(1).BoundsAsync(), await Tile(8).BoundsAsync());
        await page.Mouse.MoveAsync(from.X - 4, from.Y + 30);
        await page.Mouse.DownAsync();
        await page.Mouse.MoveAsync(to.X + 50, to.Y + 50, new() { Steps = 8 });
        await page.Locator(".lectica-marquee").WaitForAsync();
        await page.Mouse.UpAsync();
        await Tells("Selected: 4");
        foreach (var (number, isOn) in new[] { (1, true), (2, true), (3, false), (7, true), (8, true) })
            await Expect(Tile(number)).ToHaveAttributeAsync("aria-selected", isOn ? "true" : "false");
        // A drag: the others flow, and glide from where they were.
        await page.Keyboard.PressAsync("Escape");
        var (taken, over) = (await Tile(0).BoundsAsync(), await Tile(2).BoundsAsync());
        await page.Mouse.MoveAsync(taken.X + 70, taken.Y + 110);
        await page.Mouse.DownAsync();
        await page.Mouse.MoveAsync(over.X + 75, over.Y + 115, new() { Steps = 16 });
        await page.Locator(".lectica-card.is-tile").WaitForAsync();
        await Expect(Tile(1)).ToHaveAttributeAsync("aria-colindex", "1");
        Assert.True(await Tile(0).EvaluateAsync<bool>("e => e.classList.contains('is-grabbed')"));
        await page.Mouse.UpAsync();
        await Expect(Tile(0)).ToHaveAttributeAsync("aria-colindex", "3");
        await page.Locator(".lectica-brief button").ClickAsync();
        await Expect(Tile(0)).ToHaveAttributeAsync("aria-colindex", "1");
        // As wide as a phone: two in a line, and still a menu at a long press, with what trays would have.
        await page.SetViewportSizeAsync(390, 780);
        await Expect(page.Locator("#plates")).ToHaveAttributeAsync("aria-colcount", "2");
        await Soon.Equal(0, () => page.EvaluateAsync<double>("() => document.scrollingElement.scrollWidth - innerWidth"));
    });

    [Fact]
    public Task A_view_that_is_given_another_list_lets_go_of_the_first_and_has_the_keys_of_the_second() => OnServer(async (page, tells) =>
    {
        await page.EvaluateAsync(
            "() => { window.taken = []; window.addEventListener('keydown', e => setTimeout(() => window.taken.push(`${e.key} " +
                "${e.defaultPrevented}`)), true); }");
        async Task Presses(string key, bool isTaken)
        {
            await page.Keyboard.PressAsync(key);
            await page.WaitForFunctionAsync($"() => window.taken.at(-1) === '{key} {(isTaken ? "true" : "false")}'");
        }
        Task Turn() => page.EvaluateAsync("() => document.getElementById('night').click()");

        // A request is grabbed while the view turns to the other night.
        var handle = await page.Locator("[data-key='R05'] [data-part=handle]").BoundsAsync();
        await page.Mouse.MoveAsync(handle.X + 20, handle.Y + 20);
        await page.Mouse.DownAsync();
        await page.Mouse.MoveAsync(handle.X + 20, handle.Y + 120, new() { Steps = 8 });
        await page.Locator(".lectica-card").WaitForAsync();
        await Turn();
        await page.Locator("[data-part=handle]").First.WaitForAsync(new() { State = WaitForSelectorState.Detached });
        await page.Mouse.UpAsync();
        await Expect(page.Locator(".lectica-card")).ToHaveCountAsync(0);
        // The keyboard is still in the view. The second list has no command for this key.
        await Presses("Delete", isTaken: false);
        await Presses("ArrowDown", isTaken: true);
        await page.Locator(".lectica-row.is-cursor").WaitForAsync();
        await page.Locator("[data-key='R02']").ClickAsync();
        await tells("Selected: R02");
        // Back again, nothing has moved and nothing is grabbed; the key is the command's.
        await Turn();
        await page.Locator("[data-part=handle]").First.WaitForAsync();
        await Expect(page.Locator(".lectica-card")).ToHaveCountAsync(0);
        await Expect(page.Locator("[data-key='R05']")).ToHaveAttributeAsync("aria-rowindex", "6");
        await page.Locator("[data-key='R03']").ClickAsync();
        await tells("Selected: R03");
        await Presses("Delete", isTaken: true);
        await page.Locator("[data-key='R03']").WaitForAsync(new() { State = WaitForSelectorState.Detached });
    });

    [Fact]
    public Task The_clipboard_and_drags_of_a_list_on_a_server_are_the_browsers_too() => OnServer(async (page, tells) =>
    {
        await page.Context.GrantPermissionsAsync(["clipboard-read", "clipboard-write"]);
        await page.Locator("[data-key='R01']").ClickAsync();
        await tells("Selected: R01");
        await page.Keyboard.PressAsync("Control+c");
        await page.WaitForFunctionAsync("async () => (await navigator.clipboard.readText()) === 'Rasillo Comet, Sanna Riis'");
        await page.Locator("[data-key='R03']").ClickAsync();
        await page.Keyboard.PressAsync("Control+v");
        await tells("Selected: N00");
        await Expect(page.Locator("[data-key='N00']")).ToHaveAttributeAsync("aria-rowindex", "5");
        // More than one message holds.
        var many = string.Join('\n', Enumerable.Range(0, 2000).Select(i => $"Field {i} of very many, Ila Venn"));
        await page.EvaluateAsync("text => navigator.clipboard.writeText(text)", many);
        await page.Keyboard.PressAsync("Control+v");
        await page.Locator("[data-key='N01']").WaitForAsync();
        await page.Locator(".lectica-subtitle, .lectica-header").First.WaitForAsync();
        await Expect(page.Locator("#plan")).ToHaveAttributeAsync("aria-rowcount", $"{2000 + 1 + 24}");
        await page.Keyboard.PressAsync("Control+z");
        await page.Locator("[data-key='N01']").WaitForAsync(new() { State = WaitForSelectorState.Detached });
    });

    [Fact]
    public Task Rows_are_where_the_user_is_though_both_scroll_at_the_same_time() => OnServer(async (page, _) =>
    {
        await page.Locator("#plan").FocusAsync();
        foreach (var (key, to) in ((string, int)[])[("End", 100), ("Home", 500), ("End", 0), ("Home", 300)])
        {
            // The key is on its way when the page is scrolled, and its answer comes after that.
            await page.EvaluateAsync(
                """
                ([key, to]) => new Promise(done => {
                    const plan = document.getElementById('plan');
                    plan.scrollTop = to;
                    requestAnimationFrame(() => {
                        plan.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
                        requestAnimationFrame(done);
                    });
                })
                """, new object[] { key, to });
            await IsFull(page);
        }
    });

    [Fact]
    public Task A_page_that_did_not_hear_its_list_scroll_is_where_it_is_and_goes_on() => Serving([], async root =>
    {
        await using var context = await fixture.Browser.NewContextAsync(new() { ViewportSize = new() { Width = 480, Height = 900 } });
        var page = await context.NewPageAsync();
        var (losesScroll, hasLost, lines) = (false, false, new List<IWebSocketRoute>());
        await page.RouteWebSocketAsync(new Regex("/_blazor"), line =>
        {
            var server = line.ConnectToServer();
            server.OnMessage(message =>
            {
                hasLost |= losesScroll && message.Binary?.AsSpan().IndexOf("scrollTo"u8) >= 0;
                if (losesScroll && hasLost) return;
                if (message.Binary is { } bytes) line.Send(bytes);
                else line.Send(message.Text!);
            });
            lines.Add(line);
        });
        await page.GotoAsync(root);
        await Answers(page);
        // The list scrolls, and all that it says from then on is lost, until the line breaks and another is there.
        losesScroll = true;
        await page.Keyboard.PressAsync("End");
        for (var i = 0; i < 100 && !hasLost; i++) await page.WaitForTimeoutAsync(50);
        Assert.True(hasLost, "the list has not scrolled");
        await lines[^1].CloseAsync();
        losesScroll = false;
        // Keys are answered again once it is.
        await Expect(page.Locator("#told")).ToHaveTextAsync("Selected: R23");
        for (var i = 0; i < 100 && await page.Locator("#told").TextContentAsync() == "Selected: R23"; i++)
        {
            await page.Keyboard.PressAsync("ArrowUp");
            await page.WaitForTimeoutAsync(200);
        }
        await Expect(page.Locator("#told")).Not.ToHaveTextAsync("Selected: R23");
        foreach (var to in (int[])[100, 400, 0])
        {
            await page.EvaluateAsync("to => { document.getElementById('plan').scrollTop = to; }", to);
            await IsFull(page);
        }
        Assert.Equal(2, lines.Count);
    });

    [Fact]
    public async Task A_page_that_was_scrolled_and_sized_while_the_line_was_broken_has_its_rows_once_there_is_another()
    {
        var (lines, mayConnect) = (new List<IWebSocketRoute>(), new TaskCompletionSource());
        await OnServer(async (page, _) =>
        {
            // No other line until it is let go.
            await page.RouteAsync("**/_blazor/negotiate**", async route =>
            {
                await mayConnect.Task;
                await route.ContinueAsync();
            });
            await lines[^1].CloseAsync();
            await page.SetViewportSizeAsync(480, 1200);
            await page.EvaluateAsync("() => { document.getElementById('plan').scrollTop = 10_000; }");
            await page.Locator("#components-reconnect-modal").WaitForAsync(new() { State = WaitForSelectorState.Attached });
            await page.WaitForTimeoutAsync(500);
            await Expect(page.Locator("[data-key='R23']")).ToHaveCountAsync(0);
            mayConnect.SetResult();
            await page.Locator("[data-key='R23']").WaitForAsync();
            await IsFull(page);
        }, opening: page => page.RouteWebSocketAsync(new Regex("/_blazor"), line =>
        {
            line.ConnectToServer();
            lines.Add(line);
        }));
        Assert.Equal(2, lines.Count);
    }

    // Rows are wherever the page is scrolled.
    private static Task IsFull(IPage page) => page.WaitForFunctionAsync(
        """
        () => {
            const plan = document.getElementById('plan').getBoundingClientRect();
            const at = [...document.querySelectorAll('#plan .lectica-row')].map(row => row.getBoundingClientRect());
            return Math.min(...at.map(b => b.top)) <= plan.top + 1 && Math.max(...at.map(b => b.bottom)) >= plan.bottom - 1;
        }
        """, null, new() { Timeout = 5000 });

    [Theory]
    [InlineData(Databases.Provider.Sqlite)]
    [InlineData(Databases.Provider.Postgres)]
    public async Task Two_people_share_a_plan_and_find_their_state_again_when_the_server_has_been_started_anew(Databases.Provider provider)
    {
        // Two browsers and a server beside other tests: a change may be some seconds on its way.
        Assertions.SetDefaultExpectTimeout(30_000);
        var file = Path.Combine(Path.GetTempPath(), $"lectica-shared-{Guid.NewGuid():N}.db");
        string[] database = provider == Databases.Provider.Sqlite ? ["--file", file]
            : ["--postgres", Databases.PostgresServer.NewDatabase()];
        await using IBrowserContext first = await fixture.Browser.NewContextAsync(), second = await fixture.Browser.NewContextAsync();
        IPage anna = await first.NewPageAsync(), ben = await second.NewPageAsync();
        static ILocator Star(IPage page, string key) => page.Locator($"[data-key='{key}'] .lectica-mark");
        async Task Open(string root)
        {
            await anna.GotoAsync($"{root}/shared?person=Anna");
            await ben.GotoAsync($"{root}/shared?person=Ben");
            foreach (var page in new[] { anna, ben }) await page.Locator("[data-key='R02']").WaitForAsync();
        }
        await Serving(database, async root =>
        {
            await Open(root);
            await Star(anna, "R02").ClickAsync();
            await Expect(Star(anna, "R02")).ToHaveAttributeAsync("aria-label", "Starred by 1, by you");
            await Expect(Star(ben, "R02")).ToHaveAttributeAsync("aria-label", "Starred by 1");
            await Star(ben, "R02").ClickAsync();
            await Expect(Star(anna, "R02")).ToHaveAttributeAsync("aria-label", "Starred by 2, by you");
            await Expect(anna.Locator("[data-key='R02'] .lectica-tally")).ToHaveTextAsync("2");
            // Ben moves a request, and it moves on Anna's screen, while she has it selected.
            await anna.Locator("[data-key='R04']").ClickAsync();
            await anna.Keyboard.PressAsync("Shift+ArrowDown");
            await Expect(anna.Locator("#told")).ToHaveTextAsync("2 selected by Anna.");
            await ben.Locator("[data-key='R04']").ClickAsync();
            await ben.Keyboard.PressAsync("Alt+ArrowUp");
            await ben.Keyboard.PressAsync("Alt+ArrowUp");
            await Expect(ben.Locator("[data-key='R04']")).ToHaveAttributeAsync("aria-rowindex", "3");
            await Expect(anna.Locator("[data-key='R04']")).ToHaveAttributeAsync("aria-rowindex", "3");
            // All but one, of which most were never read.
            await ben.Keyboard.PressAsync("Control+a");
            await ben.Locator("[data-key='R05'] [data-part=check]").ClickAsync();
            await Expect(ben.Locator("#told")).ToHaveTextAsync("399 selected by Ben.");
            await ben.WaitForTimeoutAsync(1500);
        });
        // Another server over the same database, as after a broken line.
        await Serving(database, async root =>
        {
            await Open(root);
            await Expect(ben.Locator("[data-key='R05']")).ToHaveAttributeAsync("aria-selected", "false");
            await Expect(ben.Locator("[data-key='R06']")).ToHaveAttributeAsync("aria-selected", "true");
            await Expect(ben.Locator("#told")).ToHaveTextAsync("399 selected by Ben.");
            await Expect(anna.Locator("[data-key='R05']")).ToHaveAttributeAsync("aria-selected", "true");
            await Expect(anna.Locator("[data-key='R04']")).ToHaveAttributeAsync("aria-rowindex", "3");
            await Expect(Star(anna, "R02")).ToHaveAttributeAsync("aria-label", "Starred by 2, by you");
        });
        if (File.Exists(file)) File.Delete(file);
    }

    internal Task OnServer(Func<IPage, Func<string, Task>, Task> act, Func<IPage, Task>? opening = null) => Serving([], async root =>
    {
        await using var context =
            await fixture.Browser.NewContextAsync(new() { ViewportSize = new() { Width = 480, Height = 900 }, HasTouch = true });
        var page = await context.NewPageAsync();
        if (opening is not null) await opening(page);
        await page.GotoAsync(root);
        await Answers(page);
        await act(page, text => Expect(page.Locator("#told")).ToHaveTextAsync(text));
    });

    // The circuit is there when the keyboard's coming is answered.
    private static async Task Answers(IPage page)
    {
        await page.Locator("#plan").FocusAsync();
        for (var i = 0; i < 100 && await page.Locator(".lectica-row.is-cursor").CountAsync() == 0; i++)
        {
            await page.WaitForTimeoutAsync(100);
            await page.EvaluateAsync("() => { document.getElementById('plan').blur(); document.getElementById('plan').focus(); }");
        }
    }

    internal static async Task Serving(string[] arguments, Func<string, Task> act)
    {
        int port;
        using (var probe = new TcpListener(IPAddress.Loopback, 0))
        {
            probe.Start();
            port = ((IPEndPoint)probe.LocalEndpoint).Port;
        }
        var start = new ProcessStartInfo(
            "dotnet", [Repository.At("examples", "NightPlan.Server", "bin", "Release", "net10.0", "NightPlan.Server.dll"), "--urls",
                $"http://127.0.0.1:{port}", .. arguments])
        {
            WorkingDirectory = Repository.At("examples", "NightPlan.Server"),
            RedirectStandardOutput = true,
        };
        start.Environment["ASPNETCORE_ENVIRONMENT"] = "Development";
        using var server = Process.Start(start)!;
        try
        {
            // Its output says when it listens; it is read to the end, so that it never waits for us.
            var listens = new TaskCompletionSource();
            server.OutputDataReceived += (_, line) =>
            {
                if (line.Data?.Contains("Now listening", StringComparison.Ordinal) == true) listens.TrySetResult();
            };
            server.BeginOutputReadLine();
            await listens.Task.WaitAsync(TimeSpan.FromSeconds(60), TestContext.Current.CancellationToken);
            await act($"http://127.0.0.1:{port}");
        }
        finally
        {
            server.Kill(entireProcessTree: true);
        }
    }
}
