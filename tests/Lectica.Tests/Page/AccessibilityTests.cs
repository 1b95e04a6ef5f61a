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
        // One step back at a time, and the keyboard with it.
        await page.Page.Keyboard.PressAsync("Escape");
        await Soon.Equal("plan-menu", () => page.Focused());
        await Expect(page.Page.Locator(".lectica-menu:not(.is-ghost)")).ToHaveCountAsync(1);
        await page.Page.Keyboard.PressAsync("Escape");
        await Soon.Equal("plan", () => page.Focused());
        await Expect(page.Page.Locator(".lectica-menu:not(.is-ghost)")).ToHaveCountAsync(0);
        var (x, y) = await page.Middle("R02");
        await page.Swipe(x + 60, y, x - 40, y);
        await page.Page.WaitForTimeoutAsync(300);
        await page.Clean("tray open");
        await page.Page.Keyboard.PressAsync("Escape");
        await page.Page.Keyboard.PressAsync("Alt+Enter");
        await page.Page.Keyboard.PressAsync("ArrowDown");
        await Expect(page.Page.Locator(".lectica-card")).ToHaveCountAsync(1);
        await page.Clean("grabbed");
        await Expect(page.Page.Locator(".lectica:has(#plan) > .lectica-said")).ToContainTextAsync("Moved to place");
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
            var box = await page.Row("R01").Locator($"[data-part='{part}']").BoundsAsync();
            Assert.True(box.Width >= 24 && box.Height >= 24, part);
        }
        await page.Page.Locator("#plan").FocusAsync();
        await page.Page.Keyboard.PressAsync("ArrowDown");
        Task<string> Look(string e, string of) => page.Page.EvaluateAsync<string>($"() => getComputedStyle({e}).{of}");
        const string row = "document.querySelector('.lectica-row.is-cursor')";
        await Soon.Equal("2px", () => Look(row + ", '::after'", "borderTopWidth"));
        // The focused row is never under something else.
        var cursor = await page.Page.Locator(".lectica-row.is-cursor").BoundsAsync();
        var view = await page.Page.Locator("#plan").BoundsAsync();
        Assert.True(cursor.Y >= view.Y && cursor.Y + cursor.Height <= view.Y + view.Height + 1);
        // Who does not use keys has no ring, and yet sees which row the tools and keys would go on from.
        await page.Row("R04").ClickAsync();
        await Soon.Equal("none", () => Look(row + ", '::after'", "content"));
        await page.Row("R04").ClickAsync(new() { Modifiers = [KeyboardModifier.Control] });
        await Expect(page.Row("R04")).ToHaveAttributeAsync("aria-selected", "false");
        await Soon.Equal("none", () => Look(row + ", '::after'", "content"));
        Assert.EndsWith("3px 0px 0px 0px inset", await Look(row + ".querySelector('.lectica-slide')", "boxShadow"));
        await page.Page.Keyboard.PressAsync("Control+ArrowUp");
        await Soon.Equal("2px", () => Look(row + ", '::after'", "borderTopWidth"));
        // After a tool has done its work, too: what it would do next is to the row after.
        await page.Page.Locator("[data-command='withdraw']").ClickAsync();
        await Expect(page.Page.Locator(".is-current:not(.is-ghost)")).ToHaveAttributeAsync("data-key", "R04");
        Assert.EndsWith("3px 0px 0px 0px inset",
            await Look("document.querySelector('.is-current:not(.is-ghost) .lectica-slide')", "boxShadow"));
        await page.Page.Locator("[data-command='withdraw']").ClickAsync();
        await Expect(page.Row("R04")).ToHaveCountAsync(0);
    }

    [Theory]
    [InlineData(ForcedColors.Active, ColorScheme.Dark)]
    [InlineData(ForcedColors.Active, ColorScheme.Light)]
    [InlineData(ForcedColors.None, ColorScheme.Light)]
    public async Task Every_control_is_drawn_whatever_colours_the_system_forces(ForcedColors forced, ColorScheme scheme)
    {
        await using var page = await fixture.Open("sample=sections", scheme, forced: forced);
        await page.Tap("R01", "check");
        await page.Clean($"{forced}, {scheme}");
        string[] controls = [".lectica-row[data-key='R01'] [data-part=check]", ".lectica-row[data-key='R02'] [data-part=check]",
            ".lectica-row[data-key='R02'] [data-part='mark:starred']", ".lectica-row[data-key='R02'] [data-part=handle]",
                "#tools .lectica-overflow", ".lectica-heading .lectica-icon", "#requester .lectica-icon"];
        foreach (var control in controls)
        {
            using var picture = SkiaSharp.SKBitmap.Decode(await page.Page.Locator(control).First.ScreenshotAsync());
            // Inside the edges, which may be a border of what is around it.
            var colours = Enumerable.Range(2, picture.Width - 4)
                .SelectMany(x => Enumerable.Range(2, picture.Height - 4).Select(y => picture.GetPixel(x, y))).Distinct().Count();
            Assert.True(colours > 1, $"{control} is not seen with forced colours {forced}, {scheme}");
        }
        // A selected row differs from others by more than its colour: a line at its edge.
        await page.Page.Locator("#plan").FocusAsync();
        Assert.Equal(forced == ForcedColors.Active ? "6px" : "auto",
            await page.Page.EvaluateAsync<string>(
                "() => getComputedStyle(document.querySelector('.lectica-row.is-selected .lectica-slide'), '::before').width"));
    }

    [Fact]
    public async Task Nothing_glides_where_people_ask_for_less_motion()
    {
        await using var page = await fixture.Open(motion: ReducedMotion.Reduce);
        var (x, y) = await page.Middle("R02");
        await page.Swipe(x + 60, y, x - 40, y);
        Assert.Equal("none", await page.Page.EvaluateAsync<string>(
            "() => getComputedStyle(document.querySelector('[data-key=R02] .lectica-slide')).transitionProperty"));
        await using var other = await fixture.Open();
        Assert.Equal("transform", await other.Page.EvaluateAsync<string>(
            "() => getComputedStyle(document.querySelector('[data-key=R02] .lectica-slide')).transitionProperty"));
    }

    [Fact]
    public async Task What_can_be_dragged_or_swiped_can_be_done_with_taps_alone()
    {
        await using var page = await fixture.Open();
        async Task Choose(string key, params string[] entries)
        {
            var (x, y) = await page.Middle(key);
            await page.Swipe(x, y, x, y, moves: 1, hold: 700);
            foreach (var entry in entries) await page.TapOn(page.Page.Locator(".lectica-entry").GetByText(entry, new() { Exact = true }));
        }
        await Choose("R01", "Star");
        Assert.Contains("R01", (await page.State()).Marks["starred"]);
        await Choose("R01", "Move", "To the bottom");
        Assert.Equal("R01", (await page.State()).Order[^1]);
        await page.Scroll(0);
        await Choose("R03", "Withdraw");
        Assert.DoesNotContain("R03", (await page.State()).Order);
        // The notice goes after a while; what it offers stays in the keys (WCAG 2.2.1).
        await page.Page.Locator(".lectica-brief").WaitForAsync(new() { State = WaitForSelectorState.Detached, Timeout = 20_000 });
        await page.Page.Locator("#plan").FocusAsync();
        await page.Page.Keyboard.PressAsync("Control+z");
        Assert.Contains("R03", (await page.State()).Order);
    }

    [Fact]
    public async Task A_screen_reader_is_told_what_the_golden_file_says()
    {
        var told = new System.Text.StringBuilder();
        async Task Tell(PageDriver page, string state)
        {
            await page.Rest();
            told.Append("## ").Append(state).Append("\n\n").Append(await page.Page.Locator("main").AriaSnapshotAsync()).Append("\nsaid: ")
                .Append((await page.Page.Locator(".lectica:has(#plan) > .lectica-said").TextContentAsync())!.Trim('\u200b')).Append("\n\n");
        }
        await using (var page = await fixture.Open("sample=sections&rows=6", touch: false))
        {
            var p = page.Page;
            await Tell(page, "at rest");
            await page.Row("R02").ClickAsync();
            await Tell(page, "selected, by a click");
            await p.Keyboard.PressAsync("Space");
            await p.Keyboard.PressAsync("ArrowDown");
            await Tell(page, "the next one, by a key");
            await p.Keyboard.PressAsync("Shift+F10");
            await p.WaitForTimeoutAsync(300);
            await Tell(page, "menu");
            await p.Keyboard.PressAsync("Escape");
            await p.WaitForTimeoutAsync(300);
            await p.Keyboard.PressAsync("Alt+Enter");
            await p.Keyboard.PressAsync("ArrowUp");
            await Tell(page, "taken up");
            await p.Keyboard.PressAsync("Escape");
            await p.Keyboard.PressAsync("Delete");
            await p.WaitForTimeoutAsync(300);
            await Tell(page, "notice");
            await p.Locator("[data-heading='tonight'] [role=rowheader]").ClickAsync();
            await p.WaitForTimeoutAsync(300);
            await Tell(page, "collapsed");
        }
        await using (var page = await fixture.Open("rows=0", touch: false)) await Tell(page, "empty");
        await using (var page = await fixture.Open("rows=3&press=select"))
        {
            var (x, y) = await page.Middle("R01");
            await page.Swipe(x, y, x, y, moves: 1, hold: 700);
            await Tell(page, "selecting");
        }
        var file = House.Repository.At("tests", "Lectica.Tests", "Page", "told.md");
        if (Environment.GetEnvironmentVariable("LECTICA_FIRST_LOOK") is not null) File.WriteAllText(file, told.ToString());
        else Assert.Equal(File.ReadAllText(file), told.ToString());
    }
}
