using Deque.AxeCore.Commons;
using Deque.AxeCore.Playwright;
using Microsoft.Playwright;

namespace Lectica.Tests.Page;

/// <summary>axe-core finds nothing, whatever state the page is in; and what a screen reader is told.</summary>
[Collection("page")]
public sealed class AccessibilityTests(PageFixture fixture)
{
    private static async Task Clean(PageDriver page, string state)
    {
        var result = await page.Page.RunAxe(new AxeRunOptions { ResultTypes = [ResultType.Violations] });
        Assert.True(result.Violations.Length == 0, $"{state}: " + string.Join("\n", result.Violations.Select(v => $"{v.Id}: {v.Help}: {string.Join(" | ", v.Nodes.Take(3).Select(n => n.Html))}")));
    }

    [Theory]
    [InlineData("", ColorScheme.Light)]
    [InlineData("", ColorScheme.Dark)]
    [InlineData("sample=sections", ColorScheme.Light)]
    [InlineData("sample=plain", ColorScheme.Dark)]
    [InlineData("rows=0", ColorScheme.Light)]
    [InlineData("dir=rtl", ColorScheme.Light)]
    public async Task At_rest(string query, ColorScheme scheme)
    {
        await using var page = await fixture.Open(query, scheme);
        await Clean(page, "at rest");
    }

    [Theory]
    [InlineData(ColorScheme.Light)]
    [InlineData(ColorScheme.Dark)]
    public async Task Selecting_with_the_menu_the_tray_the_notice_and_a_grab(ColorScheme scheme)
    {
        await using var page = await fixture.Open("sample=sections", scheme);
        await page.Tap("R01", "check");
        await page.Page.Locator("#plan").FocusAsync();
        await Clean(page, "selected and focused");
        await page.Page.Keyboard.PressAsync("Shift+F10");
        await Clean(page, "menu open");
        foreach (var key in (string[])["End", "ArrowRight"]) await page.Page.Keyboard.PressAsync(key);
        await Clean(page, "submenu open");
        foreach (var key in (string[])["Escape", "Escape"]) await page.Page.Keyboard.PressAsync(key);
        var (x, y) = await page.Middle("R02");
        await page.Swipe(x + 60, y, x - 40, y);
        await page.Page.WaitForTimeoutAsync(300);
        await Clean(page, "tray open");
        await page.Page.Keyboard.PressAsync("Escape");
        await page.Page.Keyboard.PressAsync("Alt+Enter");
        await page.Page.Keyboard.PressAsync("ArrowDown");
        Assert.Equal(1, await page.Page.Locator(".lectica-card").CountAsync());
        await Clean(page, "grabbed");
        Assert.Contains("Moved to place", await page.Page.Locator(".lectica-said").TextContentAsync());
        await page.Page.Keyboard.PressAsync("Escape");
        await page.Page.Keyboard.PressAsync("Delete");
        await Clean(page, "notice with undo");
    }

    [Fact]
    public async Task Targets_are_large_enough_and_focus_is_seen()
    {
        await using var page = await fixture.Open();
        foreach (var part in (string[])["check", "mark:starred", "handle"])
        {
            var box = (await page.Row("R01").Locator($"[data-part='{part}']").BoundingBoxAsync())!;
            Assert.True(box.Width >= 24 && box.Height >= 24, part);
        }
        await page.Page.Locator("#plan").FocusAsync();
        await page.Page.Keyboard.PressAsync("ArrowDown");
        Assert.Equal("2px", await page.Page.EvaluateAsync<string>("() => getComputedStyle(document.querySelector('.lectica-row.is-cursor'), '::after').borderTopWidth"));
        // The focused row is never under something else.
        var cursor = (await page.Page.Locator(".lectica-row.is-cursor").BoundingBoxAsync())!;
        var view = (await page.Page.Locator("#plan").BoundingBoxAsync())!;
        Assert.True(cursor.Y >= view.Y && cursor.Y + cursor.Height <= view.Y + view.Height + 1);
    }
}
