using Deque.AxeCore.Commons;
using Deque.AxeCore.Playwright;
using Microsoft.Playwright;

namespace Lectica.Tests.Page;

/// <summary>The page that the docs begin with, as who has copied it uses it: a list on a server, with rows of its own.</summary>
[Collection("page")]
public sealed class FirstPageTests(PageFixture fixture)
{
    private Task OnFirstPage(Func<IPage, Func<string, Task>, Task> act) => ServerTests.Serving([], async address =>
    {
        await using var context = await fixture.Browser.NewContextAsync(new() { ViewportSize = new() { Width = 480, Height = 800 } });
        var page = await context.NewPageAsync();
        await page.GotoAsync(address + "/first");
        // What is pressed before it answers is not lost.
        await page.Locator("[data-key='1'] .lectica-label").ClickAsync();
        Task Tells(string text) => Expect(page.Locator("#told")).ToHaveTextAsync(text, new() { Timeout = 20_000 });
        await Tells("Selected: Tessil Ring");
        await act(page, Tells);
    });

    [Fact]
    public Task Its_rows_have_a_button_and_a_field_of_their_own() => OnFirstPage(async (page, tells) =>
    {
        var (row, plan) = (page.Locator("[data-key='2']"), page.Locator("#plan"));
        await row.Locator("button").ClickAsync();
        await Expect(row.Locator("button")).ToHaveTextAsync("40 min");
        await tells("Selected: Tessil Ring");
        await row.Locator(".lectica-label").ClickAsync();
        await tells("Selected: Orvane Cluster");
        // Renamed in its row, by the keyboard alone: what is typed is the field's, and then the list has the keyboard again.
        await page.Keyboard.PressAsync("F2");
        await Expect(row.Locator("input")).ToBeFocusedAsync();
        await page.Keyboard.PressAsync("End");
        await page.Keyboard.TypeAsync(" East");
        var axe = await page.RunAxe(new AxeRunOptions { ResultTypes = [ResultType.Violations] });
        Assert.True(axe.Violations.Length == 0, string.Join("; ", axe.Violations.Select(v => $"{v.Id}: {v.Help} at {v.Nodes[0].Html}")));
        await page.Keyboard.PressAsync("Enter");
        await Expect(row.Locator(".lectica-label")).ToHaveTextAsync("Orvane Cluster East");
        await Expect(row).ToHaveAttributeAsync("aria-label", "Orvane Cluster East");
        await Expect(plan).ToBeFocusedAsync();
        await page.Keyboard.PressAsync("ArrowDown");
        await tells("Selected: Belyra Pair");
        await page.Keyboard.PressAsync("F2");
        await Expect(page.Locator("[data-key='3'] input")).ToBeFocusedAsync();
        await page.Keyboard.PressAsync("Escape");
        await Expect(plan).ToBeFocusedAsync();
        await tells("Selected: Belyra Pair");
        // Who goes to another row has done with the name.
        await page.Keyboard.PressAsync("F2");
        await Expect(page.Locator("[data-key='3'] input")).ToBeFocusedAsync();
        await page.Keyboard.PressAsync("End");
        await page.Keyboard.TypeAsync(" West");
        await row.Locator(".lectica-label").ClickAsync();
        await Expect(page.Locator("#plan input")).ToHaveCountAsync(0);
        await Expect(page.Locator("[data-key='3']")).ToHaveAttributeAsync("aria-label", "Belyra Pair West");
        await tells("Selected: Orvane Cluster East");
    });

    [Fact]
    public Task It_finds_withdraws_takes_back_and_is_as_it_was_after_a_reload() => OnFirstPage(async (page, tells) =>
    {
        var rows = page.Locator("#plan .lectica-content .lectica-row:not(.is-ghost)");
        await page.Locator("#find").FillAsync("comet");
        await Expect(rows).ToHaveCountAsync(2);
        await page.Locator("#find").FillAsync("");
        await Expect(rows).ToHaveCountAsync(8);
        await page.Locator("[data-key='4'] .lectica-label").ClickAsync();
        await page.Keyboard.PressAsync("Delete");
        await Expect(rows).ToHaveCountAsync(7);
        await page.Locator(".lectica-brief button").ClickAsync();
        await Expect(rows).ToHaveCountAsync(8);
        await page.Locator("[data-key='5'] .lectica-label").ClickAsync();
        await tells("Selected: Zinyra Comet");
        // It is kept when the list has rested for a second.
        await page.WaitForFunctionAsync("() => Object.values(sessionStorage).some(text => text.includes('\"5\"'))");
        await page.ReloadAsync();
        await Expect(page.Locator("[data-key='5']")).ToHaveAttributeAsync("aria-selected", "true", new() { Timeout = 20_000 });
    });

    [Fact]
    public Task Escape_is_the_lists_where_it_does_something_and_else_that_of_what_is_around() => OnFirstPage(async (page, _) =>
    {
        // Whether the browser, which closes a dialog by it, may still do so.
        await page.EvaluateAsync(
            "() => addEventListener('keydown', e => (window.heard ??= []).push(`${e.key} ${e.defaultPrevented} ${e.target.id}`))");
        var row = page.Locator("[data-key='1']");
        foreach (var (isSelected, heard) in new[] { ("true", ""), ("false", "Escape false plan") })
        {
            await Expect(row).ToHaveAttributeAsync("aria-selected", isSelected);
            // That comes with what is drawn, a message later.
            await page.WaitForTimeoutAsync(300);
            await page.Keyboard.PressAsync("Escape");
            await Soon.Equal(heard, () => page.EvaluateAsync<string>("() => (window.heard ?? []).join(', ')"));
        }
        // Selecting again takes it back.
        await page.Keyboard.PressAsync("Control+a");
        await Expect(row).ToHaveAttributeAsync("aria-selected", "true");
        await page.WaitForTimeoutAsync(300);
        await page.Keyboard.PressAsync("Escape");
        await Expect(row).ToHaveAttributeAsync("aria-selected", "false");
        await Soon.Equal("Escape false plan, Control false plan", () => page.EvaluateAsync<string>("() => window.heard.join(', ')"));
    });
}
