using System.Text.RegularExpressions;
using Microsoft.Playwright;

namespace Lectica.Tests.Page;

/// <summary>
/// A page whose list is on a server shows what was true a moment ago. Here that moment is as long as a test wants it: whoever presses sees
/// what the list no longer is.
/// </summary>
[Collection("page")]
public sealed class SeenTests(PageFixture fixture)
{
    [Fact]
    public Task A_press_is_of_the_row_that_was_seen_where_the_list_has_scrolled_meanwhile() => Late(async (page, tells, meanwhile) =>
    {
        var last = await page.EvaluateAsync<int>("() => Math.floor(document.getElementById('plan').clientHeight / 52) - 1");
        await Row(page, last).ClickAsync();
        await tells($"Selected: {Key(last)}");
        await meanwhile(async () =>
        {
            for (var i = 0; i < 3; i++) await page.Keyboard.PressAsync("ArrowDown");
            await Row(page, 5).ClickAsync();
        });
        await tells("Selected: R05");
        await page.WaitForFunctionAsync("() => document.getElementById('plan').scrollTop > 52");
        // What is out of view by then is nothing that could be pressed.
        await page.Keyboard.PressAsync("Home");
        await tells("Selected: R00");
        await page.WaitForFunctionAsync("() => document.getElementById('plan').scrollTop === 0");
        await meanwhile(async () =>
        {
            await page.Keyboard.PressAsync("End");
            await Row(page, 1).ClickAsync();
        });
        await tells("Selected: R23");
        await page.Keyboard.PressAsync("ArrowUp");
        await tells("Selected: R22");
    });

    [Fact]
    public Task A_press_is_of_the_row_that_was_seen_where_others_have_gone_meanwhile() => Late(async (page, tells, meanwhile) =>
    {
        await Row(page, 2).ClickAsync();
        await tells("Selected: R02");
        await meanwhile(async () =>
        {
            await page.Keyboard.PressAsync("Delete");
            await Row(page, 6).ClickAsync();
        });
        await tells("Selected: R06");
        await Expect(Row(page, 2)).ToHaveCountAsync(0);
        // One that has gone itself is not the one that lies there now.
        await meanwhile(async () =>
        {
            await page.Keyboard.PressAsync("Delete");
            await Row(page, 6).ClickAsync();
        });
        await Expect(Row(page, 6)).ToHaveCountAsync(0);
        await page.Keyboard.PressAsync("ArrowDown");
        await tells("Selected: R08");
    });

    [Fact]
    public Task A_press_is_of_a_menu_only_where_that_was_seen() => Late(async (page, tells, meanwhile) =>
    {
        var star = page.Locator("#plan-menu [data-entry='star']");
        var isStarred = Row(page, 3).Locator(".lectica-mark");
        Task Stars(bool on) => Expect(isStarred).ToHaveAttributeAsync("aria-checked", on ? "true" : "false");
        // So low that the first entry lies over the next row.
        async Task Open() => await Row(page, 3).ClickAsync(new() { Button = MouseButton.Right, Position = new() { X = 120, Y = 46 } });
        await Stars(false);
        await Open();
        var at = await star.BoundsAsync();
        Assert.True(at.Y + 20 > (await Row(page, 4).BoundsAsync()).Y);
        Task Click() => page.Mouse.ClickAsync(at.X + 30, at.Y + 20);
        // Pressed twice, since it stays where it is: what lies below gets nothing of that.
        await meanwhile(async () =>
        {
            await Click();
            await Click();
        });
        await Stars(true);
        // Had the second been of the row beneath, the key would go on from there.
        await page.Keyboard.PressAsync("ArrowUp");
        await tells("Selected: R02");
        // It has opened meanwhile, over what was seen.
        await meanwhile(async () =>
        {
            await Open();
            await Click();
        });
        await star.WaitForAsync();
        await page.Keyboard.PressAsync("Escape");
        await star.WaitForAsync(new() { State = WaitForSelectorState.Detached });
        await page.Keyboard.PressAsync("ArrowUp");
        await tells("Selected: R02");
        await Stars(true);
    });

    [Fact]
    public async Task A_press_is_of_the_row_that_glides_by_and_so_is_what_comes_of_it()
    {
        // Here motion stands still where it begins, for as long as it is held.
        await using var page = await fixture.Open("rows=1000", touch: false, script: """
            const animate = Element.prototype.animate;
            Element.prototype.animate = function (...how) {
                const motion = animate.apply(this, how);
                if (window.isHeld_ && this.matches('.lectica-row')) motion.pause();
                return motion;
            };
            """);
        var p = page.Page;
        async Task<(float X, float Y)> Seen(int number, string part = ".lectica-label")
        {
            var box = await Row(p, number).Locator(part).BoundsAsync();
            return (box.X + (box.Width / 2), box.Y + (box.Height / 2));
        }
        await Row(p, 2).ClickAsync();
        var before = await Seen(6);
        await p.EvaluateAsync("() => { window.isHeld_ = true; }");
        await p.Keyboard.PressAsync("Delete");
        await Expect(Row(p, 2)).ToHaveCountAsync(0);
        var (x, y) = await Seen(6);
        Assert.Equal(before, (x, y));
        await p.Mouse.ClickAsync(x, y);
        await Expect(Row(p, 6)).ToHaveAttributeAsync("aria-selected", "true");
        (x, y) = await Seen(7, "[data-part='check']");
        await p.Mouse.ClickAsync(x, y);
        await Expect(Row(p, 7).Locator(".lectica-box")).ToHaveAttributeAsync("aria-checked", "true");
        // One that is taken along comes to the pointer: it was a row above it, and goes one down with it.
        (x, y) = await Seen(8, "[data-part='handle']");
        await p.Mouse.MoveAsync(x, y);
        await p.Mouse.DownAsync();
        for (var i = 1; i <= 10; i++) await p.Mouse.MoveAsync(x, y + (i * 5.2f));
        await p.Mouse.UpAsync();
        await p.EvaluateAsync("() => { window.isHeld_ = false; document.getAnimations().forEach(e => e.finish()); }");
        await page.Rest();
        Assert.Equal(["R07", "R09", "R10", "R08"], await p.EvaluateAsync<string[]>(
            """
            () => [...document.querySelectorAll('.lectica-content .lectica-row')].map(e => [e.getBoundingClientRect().top, e.dataset.key])
                .sort((a, b) => a[0] - b[0]).map(e => e[1]).filter(e => ["R07", "R08", "R09", "R10"].includes(e))
            """));
    }

    private static string Key(int number) => $"R{number:00}";

    private static ILocator Row(IPage page, int number) => page.Locator($".lectica-content [data-key='{Key(number)}']");

    /// <summary>Opens the server's page; what is done meanwhile is done before the page hears anything of what came of it.</summary>
    private async Task Late(Func<IPage, Func<string, Task>, Func<Func<Task>, Task>, Task> act)
    {
        var (isHeld, held) = (false, new List<Action>());
        await new ServerTests(fixture).OnServer((page, tells) => act(page, tells, async doing =>
        {
            isHeld = true;
            await doing();
            for (var i = 0; i < 100 && held.Count == 0; i++) await page.WaitForTimeoutAsync(50);
            lock (held)
            {
                Assert.NotEmpty(held);
                isHeld = false;
                foreach (var send in held) send();
                held.Clear();
            }
        }), opening: page => page.RouteWebSocketAsync(new Regex("/_blazor"), line => line.ConnectToServer().OnMessage(message =>
        {
            void Send()
            {
                if (message.Binary is { } bytes) line.Send(bytes);
                else line.Send(message.Text!);
            }
            // In the order in which they come.
            lock (held)
            {
                if (isHeld) held.Add(Send);
                else Send();
            }
        })));
    }
}
