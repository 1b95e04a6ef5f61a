using Microsoft.Playwright;

namespace Lectica.Tests.Page;

/// <summary>axe-core finds nothing, whatever state the page is in; and what a screen reader is told.</summary>
[Collection("page")]
public sealed class AccessibilityTests(PageFixture fixture)
{
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
        await page.Clean("at rest");
    }

    [Theory]
    [InlineData(ColorScheme.Light)]
    [InlineData(ColorScheme.Dark)]
    public async Task Selecting_with_the_menu_the_tray_the_notice_and_a_grab(ColorScheme scheme)
    {
        await using var page = await fixture.Open("sample=sections", scheme);
        await page.Tap("R01", "check");
        await page.Page.Locator("#plan").FocusAsync();
        await page.Clean("selected and focused");
        await page.Page.Keyboard.PressAsync("Shift+F10");
        await page.Clean("menu open");
        foreach (var key in (string[])["End", "ArrowRight"]) await page.Page.Keyboard.PressAsync(key);
        await page.Clean("submenu open");
        foreach (var key in (string[])["Escape", "Escape"]) await page.Page.Keyboard.PressAsync(key);
        var (x, y) = await page.Middle("R02");
        await page.Swipe(x + 60, y, x - 40, y);
        await page.Page.WaitForTimeoutAsync(300);
        await page.Clean("tray open");
        await page.Page.Keyboard.PressAsync("Escape");
        await page.Page.Keyboard.PressAsync("Alt+Enter");
        await page.Page.Keyboard.PressAsync("ArrowDown");
        Assert.Equal(1, await page.Page.Locator(".lectica-card").CountAsync());
        await page.Clean("grabbed");
        Assert.Contains("Moved to place", await page.Page.Locator(".lectica:has(#plan) > .lectica-said").TextContentAsync());
        await page.Page.Keyboard.PressAsync("Escape");
        await page.Page.Keyboard.PressAsync("Delete");
        await page.Clean("notice with undo");
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
