using Microsoft.Playwright;

namespace Lectica.Tests.Page;

/// <summary>A list that is as high as its rows, and is scrolled by what is around it: the page, or a box with a scroll bar.</summary>
[Collection("page")]
public sealed class FlowingTests(PageFixture fixture)
{
    // Where the keyboard's row is, and what of the list is seen: below its header and whatever of the page lies over it.
    private const string CursorAndSeen = """
        () => {
            const box = e => e.getBoundingClientRect();
            const row = box(document.querySelector('.is-cursor')), head = box(document.querySelector('.lectica-header'));
            const around = document.querySelector('main').scrollHeight > document.querySelector('main').clientHeight
                ? box(document.querySelector('main')).bottom : innerHeight;
            return [row.top, row.bottom, head.bottom, Math.min(around, innerHeight)];
        }
        """;

    // A box that scrolls in place of the page; a bar of the page's own over what scrolls.
    private const string Boxed = "main { height: 600px; overflow: auto; }", Barred = "html { scroll-padding-top: 60px; }";

    private async Task<PageDriver> Open(string query, string css = "")
    {
        var driver = await fixture.Open(query, touch: false, script: css == "" ? "" : $$"""
            addEventListener('DOMContentLoaded', () => document.head.append(Object.assign(
                document.createElement('style'), { textContent: '{{css}}' })));
            """);
        await Expect(driver.Page.Locator(".is-flowing")).ToHaveCountAsync(1);
        return driver;
    }

    private static async Task Scroll(PageDriver page, double top)
    {
        await page.Page.EvaluateAsync(
            "top => { scrollTo(0, top); document.querySelector('main').scrollTop = top; }", top);
        await page.Rest();
    }

    [Theory]
    [InlineData("")]
    [InlineData(Boxed)]
    [InlineData(Barred)]
    public async Task What_is_pressed_is_what_is_seen_wherever_it_has_been_scrolled_to(string css)
    {
        var rows = css == "" ? 100_000 : 2_000;
        await using var page = await Open($"rows={rows}&height=auto", css);
        var random = new Random(5);
        var met = 0;
        for (var i = 0; i < 15; i++)
        {
            // The first and the last rows too, with what stands before and after the list.
            await Scroll(page, i < 5 ? i * 60 : i < 10 ? (rows * 52) + 900 - ((i - 5) * 80) : random.Next(rows * 52));
            var (x, y) = (200, 80 + random.Next(480));
            // Which row is there, and where in it; the first and the last pixel of a row are its own.
            if (i % 3 > 0)
                y = await page.Page.EvaluateAsync<int>(
                    """
                    ([x, y, by]) => {
                        const row = document.elementFromPoint(x, y).closest('.lectica-content .lectica-row');
                        const edge = row ? Math.round(row.getBoundingClientRect().top) - by : y;
                        return edge > 130 ? edge : y;
                    }
                    """, new[] { x, y, i % 3 - 1 });
            var seen = await page.Page.EvaluateAsync<string?>(
                """
                ([x, y]) => {
                    const row = document.elementFromPoint(x, y).closest('.lectica-content .lectica-row');
                    return row && `${row.dataset.key} ${y - row.getBoundingClientRect().top}`;
                }
                """, new[] { x, y });
            Assert.True(await page.Page.Locator(".lectica-row").CountAsync() < 60);
            if (seen is null) continue;
            await page.Page.Mouse.ClickAsync(x, y);
            var (key, state) = (seen.Split(' ')[0], await page.State());
            Assert.True(
                state.Selected.SequenceEqual([key]) && state.Cursor == key, $"{seen}: {string.Join(" ", state.Selected)} is selected");
            met++;
        }
        Assert.True(met >= 11, $"{met} rows were pressed");
    }

    [Theory]
    [InlineData("")]
    [InlineData(Boxed)]
    [InlineData(Barred)]
    public async Task The_row_of_the_keyboard_is_in_the_window_and_not_under_the_header(string css)
    {
        await using var page = await Open("rows=2000&height=auto", css);
        await page.Row("R01").ClickAsync();
        foreach (var key in (string[])["PageDown", "ArrowDown", "End", "ArrowUp", "PageUp", "Home", "t", "End", "Home"])
        {
            await page.Page.Keyboard.PressAsync(key);
            await page.Rest();
            var at = await page.Page.EvaluateAsync<double[]>(CursorAndSeen);
            Assert.True(at[0] > at[2] - 1.5 && at[1] < at[3] + 1.5, $"{key}: {string.Join(", ", at)}");
            if (css == Barred) Assert.True(at[2] > 59.5, $"{key}: the header is under the bar");
        }
        // A page of the keyboard's is what is seen.
        Assert.Equal("R00", (await page.State()).Cursor);
        await page.Page.Keyboard.PressAsync("PageDown");
        var number = int.Parse((await page.State()).Cursor![1..], System.Globalization.CultureInfo.InvariantCulture);
        Assert.InRange(number, 6, 15);
    }

    [Theory]
    [InlineData("")]
    [InlineData(Boxed)]
    public async Task A_row_is_dragged_as_far_as_the_page_can_be_scrolled(string css)
    {
        await using var page = await Open("rows=60&height=auto", css);
        var (x, y) = await page.Middle("R01", "handle");
        var bottom = css == Boxed ? (await page.Page.Locator("main").BoundsAsync()).Y + 600 : 800;
        await page.Page.Mouse.MoveAsync(x, y);
        await page.Page.Mouse.DownAsync();
        await page.Page.Mouse.MoveAsync(x, bottom - 8, new() { Steps = 8 });
        // It scrolls by itself, down to the last row, and the card stays under the pointer.
        await page.Page.Locator(".lectica-content [data-key='R59']").WaitForAsync();
        await page.Page.WaitForFunctionAsync(
            "() => document.querySelector(\".lectica-content [data-key='R59']\").getBoundingClientRect().bottom < innerHeight + 1");
        var card = await page.Page.Locator(".lectica-card").BoundsAsync();
        Assert.True(card.Y < bottom && card.Y + card.Height > bottom - 60, $"the card is at {card.Y}");
        await page.Page.Mouse.UpAsync();
        await page.Rest();
        Assert.Equal("R01", (await page.State()).Order[^1]);
        Assert.Equal("R01", (await page.State()).Selected.SingleOrDefault() ?? "R01");
    }

    [Fact]
    public async Task A_page_goes_on_after_the_list_and_comes_back_to_it()
    {
        await using var page = await Open("rows=60&height=auto", "main { padding-block: 2000px; }");
        foreach (var top in new[] { 2600, 4900, 5250, 5270, 5300, 6000, 6700, 2600, 0, 2600 })
        {
            await Scroll(page, top);
            await Soon.Equal(top, () => page.Page.EvaluateAsync<double>("() => scrollY"));
        }
        Assert.True(await page.Page.EvaluateAsync<bool>("() => !!document.elementFromPoint(200, 400).closest('.lectica-row')"));
    }

    [Fact]
    public async Task Headings_and_what_stands_over_the_rows_stay_in_the_window()
    {
        await using var page = await Open("sample=sections&rows=90&height=auto");
        await Scroll(page, 1500);
        var p = page.Page;
        var (head, heading) = (await p.Locator(".lectica-header").BoundsAsync(), await p.Locator(".lectica-sticky").BoundsAsync());
        Assert.Equal((0, true), (head.Y, Math.Abs(heading.Y - head.Height) < 1.5));
        // A menu at the window's edge is in it, and so is the notice of what was done.
        var key = await p.EvaluateAsync<string>(
            "() => document.elementFromPoint(200, 780).closest('.lectica-content .lectica-row').dataset.key");
        await p.Mouse.ClickAsync(200, 780, new() { Button = MouseButton.Right });
        var menu = await p.Locator("#plan-menu").BoundsAsync();
        Assert.True(menu.Y >= 0 && menu.Y + menu.Height <= 800, $"the menu is from {menu.Y}, {menu.Height} high");
        await page.Clean("scrolled with the page");
        await p.Keyboard.PressAsync("Escape");
        await p.Keyboard.PressAsync("Delete");
        await page.Rest();
        var brief = await p.Locator(".lectica-brief").BoundsAsync();
        Assert.True(brief.Y > 600 && brief.Y + brief.Height < 800, $"the notice is at {brief.Y}");
        Assert.DoesNotContain(key, (await page.State()).Order);
        await p.Locator(".lectica-brief button").ClickAsync();
        Assert.Contains(key, (await page.State()).Order);
    }
}
