using System.Text.RegularExpressions;
using Microsoft.Playwright;

namespace Lectica.Tests.Page;

/// <summary>Columns and outlines in a real browser: what is pressed, what the keys do, and what assistive technology is told.</summary>
[Collection("page")]
public sealed class LayoutPageTests(PageFixture fixture)
{
    private static Task<string> Keys(PageDriver page) =>
        page.Page.EvaluateAsync<string>(
        "() => [...document.querySelectorAll('#plan .lectica-row')].sort((a, b) => a.getAttribute('aria-rowindex') - " +
            "b.getAttribute('aria-rowindex')).slice(0, 5).map(e => e.dataset.key).join(' ')");

    [Fact]
    public async Task Columns_sort_by_their_headers_and_are_told_as_a_grid()
    {
        await using var page = await fixture.Open("sample=columns", touch: false);
        var plan = page.Page.Locator("#plan");
        ILocator Header(string name) => page.Page.Locator($"#plan-column-{name}");
        await Expect(Header("magnitude")).ToHaveAttributeAsync("aria-sort", "none");
        await Header("magnitude").GetByRole(AriaRole.Button).ClickAsync();
        await Expect(Header("magnitude")).ToHaveAttributeAsync("aria-sort", "ascending");
        var light = Enumerable.Range(0, 24).OrderBy(i => i * 37 % 90).Select(i => $"R{i:00}").ToList();
        await Soon.Equal(string.Join(' ', light.Take(5)), () => Keys(page));
        // Fields stand under their headers, in the viewport as above it.
        var (header, field) = (await Header("magnitude").BoundsAsync(),
            await page.Row(light[0]).Locator(".lectica-field").Nth(1).BoundsAsync());
        Assert.Equal(header.X, field.X, 1f);
        Assert.Equal(header.Width, field.Width, 1f);
        // By keys: up from the first row, and along.
        await plan.FocusAsync();
        await page.Page.Keyboard.PressAsync("Home");
        await page.Page.Keyboard.PressAsync("ArrowUp");
        await Expect(plan).ToHaveAttributeAsync("aria-activedescendant", "plan-column-magnitude");
        await page.Page.Keyboard.PressAsync("Home");
        await page.Page.Keyboard.PressAsync("Enter");
        await Expect(Header("field")).ToHaveAttributeAsync("aria-sort", "ascending");
        await page.Page.Keyboard.PressAsync("ArrowDown");
        await page.Page.Keyboard.PressAsync("ArrowDown");
        Assert.Equal((await Keys(page)).Split(' ')[1], await page.Selected());
        await Expect(plan).ToHaveAttributeAsync("aria-rowcount", "25");
        await Expect(page.Row(await page.Selected())).ToHaveAttributeAsync("aria-rowindex", "3");
        await Expect(page.Page.Locator("#plan-columns [role=columnheader]")).ToHaveCountAsync(5);
        await Expect(page.Row(await page.Selected()).Locator("[role=gridcell]")).ToHaveCountAsync(5);
        await page.Clean("as it is");
        // While the rows scroll the headers stay.
        await page.Scroll(500);
        await Expect(Header("field")).ToBeVisibleAsync();
        // Nothing that shows is cut, the header by which it is sorted neither: what has no room gives way.
        await Header("magnitude").GetByRole(AriaRole.Button).ClickAsync();
        foreach (var (width, columns) in ((int, int)[])[(480, 2), (390, 1), (1280, 3)])
        {
            await page.Page.SetViewportSizeAsync(width, 800);
            await Expect(page.Page.Locator("#plan-columns .lectica-column")).ToHaveCountAsync(columns);
            Assert.Equal("", await page.Page.EvaluateAsync<string>("""
                () => [...document.querySelectorAll('#plan-columns *, #plan .lectica-row *')]
                    .filter(e => getComputedStyle(e).textOverflow === 'ellipsis' && e.scrollWidth > e.clientWidth)
                    .map(e => e.textContent).join()
                """));
        }
    }

    [Fact]
    public async Task A_header_over_very_many_rows_is_busy_while_it_sorts_and_keys_are_answered_meanwhile()
    {
        await using var page = await fixture.Open("sample=columns&rows=60000", touch: false);
        await Expect(page.Page.Locator("#plan")).ToHaveAttributeAsync("aria-rowcount", "60001", new() { Timeout = 60_000 });
        Assert.Equal("true", await page.Page.EvaluateAsync<string>("""
            async () => {
                const header = document.getElementById('plan-column-magnitude'), plan = document.getElementById('plan');
                const frame = () => new Promise(requestAnimationFrame);
                header.querySelector('button').click();
                while (header.ariaBusy !== 'true') await frame();
                plan.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowDown', bubbles: true, cancelable: true }));
                while (!plan.querySelector('.is-cursor')) await frame();
                return header.ariaBusy;
            }
            """));
        var header = page.Page.Locator("#plan-column-magnitude");
        await Expect(header).ToHaveAttributeAsync("aria-sort", "ascending");
        await Expect(header).Not.ToHaveAttributeAsync("aria-busy", new Regex(""));
        // The row with the cursor is kept, wherever it is now.
        await page.Page.Locator("#plan").FocusAsync();
        await page.Page.Keyboard.PressAsync("Home");
        await Expect(page.Page.Locator("#plan .lectica-row.is-cursor")).ToHaveAttributeAsync("aria-rowindex", "2");
        var lights = await page.Page.EvaluateAsync<string[]>(
            "() => [...document.querySelectorAll('#plan .lectica-row')].map(row => row.querySelectorAll('.lectica-field')[1].textContent)");
        Assert.Equal(["4.0"], lights.Distinct());
        // None of the rows in view stays in it: their elements show the others, and none is made for them.
        await page.Page.EvaluateAsync("() => { window.rows_ = [...document.querySelectorAll('#plan .lectica-row')]; }");
        await header.Locator("button").ClickAsync();
        await Expect(header).ToHaveAttributeAsync("aria-sort", "descending");
        Assert.Equal("true 0 0", await page.Page.EvaluateAsync<string>("""
            () => [window.rows_.length > 9, window.rows_.filter(row => !row.isConnected).length,
                document.querySelectorAll('.is-ghost').length].join(' ')
            """));
    }

    [Fact]
    public async Task An_outline_is_expanded_selected_and_moved_by_touch_mouse_and_keys_and_told_as_a_treegrid()
    {
        await using var page = await fixture.Open("sample=outline");
        var plan = page.Page.Locator("#plan");
        await Expect(plan).ToHaveAttributeAsync("role", "treegrid");
        await Expect(plan).ToHaveAttributeAsync("aria-rowcount", "24");
        Assert.Equal(
            ("1", "true"),
                (await page.Row("R00").GetAttributeAsync("aria-level"), await page.Row("R00").GetAttributeAsync("aria-expanded")));
        Assert.Equal(
            ("3", null), (await page.Row("R03").GetAttributeAsync("aria-level"), await page.Row("R03").GetAttributeAsync("aria-expanded")));
        var (x, y) = await page.Middle("R00", "expander");
        await page.Touch("touchStart", x, y);
        await page.Touch("touchEnd", x, y);
        await Expect(page.Row("R00")).ToHaveAttributeAsync("aria-expanded", "false");
        await Soon.Equal("R00 R04 R05 R06 R07", () => Keys(page));
        await page.Row("R00").Locator("[data-part=check]").ClickAsync();
        Assert.Equal("R00 R01 R02 R03", await page.Selected());
        await Expect(page.Row("R00").Locator(".lectica-box")).ToHaveAttributeAsync("aria-checked", "true");
        await page.Page.Keyboard.PressAsync("ArrowRight");
        await page.Page.Keyboard.PressAsync("ArrowRight");
        await Expect(page.Row("R01")).ToHaveAttributeAsync("aria-selected", "true");
        await Expect(page.Row("R00").Locator(".lectica-box")).ToHaveAttributeAsync("aria-checked", "mixed");
        await page.Clean("as it is");
        // A drag to the side chooses the level.
        var handle = await page.Row("R05").Locator("[data-part=handle]").BoundsAsync();
        await page.Page.Mouse.MoveAsync(handle.X + 20, handle.Y + 20);
        await page.Page.Mouse.DownAsync();
        await page.Page.Mouse.MoveAsync(handle.X + 20, handle.Y - 34, new() { Steps = 8 });
        await page.Page.Mouse.MoveAsync(handle.X + 46, handle.Y - 34, new() { Steps = 4 });
        await Expect(page.Row("R05")).ToHaveAttributeAsync("aria-level", "3");
        await page.Page.Mouse.UpAsync();
        await Expect(page.Row("R05")).ToHaveAttributeAsync("aria-level", "3");
        await page.Page.Locator(".lectica-brief button").ClickAsync();
        await Expect(page.Row("R05")).ToHaveAttributeAsync("aria-level", "2");
    }

    [Fact]
    public async Task A_strip_scrolls_sideways_swipes_up_and_down_and_is_told_as_one_line()
    {
        foreach (var direction in (string[])["ltr", "rtl"])
        {
            await using var page = await fixture.Open($"sample=strip&item=140&dir={direction}");
            var plan = page.Page.Locator("#plan");
            await page.Row("R01").ClickAsync(new() { Position = new() { X = 70, Y = 110 } });
            foreach (var _ in Enumerable.Range(0, 6)) await page.Page.Keyboard.PressAsync(direction == "rtl" ? "ArrowLeft" : "ArrowRight");
            await Expect(page.Row("R07")).ToHaveAttributeAsync("aria-selected", "true");
            // The cursor's item is in view, as far along as the list says.
            var (outer, inner) = (await plan.BoundsAsync(), await page.Row("R07").BoundsAsync());
            Assert.InRange(inner.X, outer.X - 1, outer.X + outer.Width - inner.Width + 1);
            // A finger scrolls by the browser itself, and the list is told.
            await plan.EvaluateAsync($"e => e.scrollLeft = {(direction == "rtl" ? -900 : 900)}");
            await page.Row("R10").WaitForAsync();
            Assert.Equal(
                ("grid", "1", "24", "9"),
                    (await plan.GetAttributeAsync("role"), await plan.GetAttributeAsync("aria-rowcount"),
                        await plan.GetAttributeAsync("aria-colcount"), await page.Row("R08").GetAttributeAsync("aria-colindex")));
            await Expect(page.Page.Locator("#plan [role=row]")).ToHaveCountAsync(1);
            await page.Clean(direction);
            // A swipe down lays the leading tray open above.
            var (x, y) = await page.Middle("R08");
            await page.Trace();
            await page.Swipe(x, y - 30, x, y + 30);
            await page.Rest();
            var told = string.Join('\n', (await page.Trace()).Select(line => line.ToJson()));
            Assert.True(await page.Row("R08").Locator(".lectica-tray").IsVisibleAsync(), $"{direction}: no tray after\n{told}");
            var (item, tray) =
                (await page.Row("R08").BoundsAsync(), await page.Row("R08").Locator(".lectica-tray").BoundsAsync());
            Assert.InRange(tray.Y, item.Y - 1, item.Y + 5);
            Assert.InRange(tray.Height, 40, item.Height - 30);
            // It is as wide as its column of the page, and the page no wider than the window.
            await page.Page.SetViewportSizeAsync(1280, 800);
            await Soon.Equal(1280, () => page.Page.EvaluateAsync<int>("() => document.documentElement.scrollWidth"));
        }
    }
}
