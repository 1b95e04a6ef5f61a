using Microsoft.Playwright;

namespace Lectica.Tests.Page;

/// <summary>
/// A page is seen before the program behind it answers, and pressed before, too: on a server and in the browser, nothing of that is lost.
/// </summary>
[Collection("page")]
public sealed class EarlyTests(PageFixture fixture)
{
    // What the page waits for: the scripts that Blazor begins with, the line to the server, or the program itself.
    private const string Scripts = "**/*.lib.module.js*", Line = "**/_blazor/negotiate**", Program = "**/dotnet.native.*.wasm";

    // Nothing that is awaited comes before `before` has run; then `after` does.
    private async Task OnPage(string address, string awaited, Func<IPage, Task> before, Func<IPage, Task> after)
    {
        await using var context =
            await fixture.Browser.NewContextAsync(new() { ViewportSize = new() { Width = 480, Height = 900 }, HasTouch = true });
        var page = await context.NewPageAsync();
        var errors = new List<string>();
        page.PageError += (_, error) => errors.Add(error);
        var (may, waits) = (new TaskCompletionSource(), 0);
        await page.RouteAsync(awaited, async route =>
        {
            Interlocked.Increment(ref waits);
            await may.Task;
            await route.ContinueAsync();
        });
        await page.GotoAsync(address, new() { WaitUntil = WaitUntilState.DOMContentLoaded });
        await page.Locator(".lectica-row").First.WaitForAsync();
        await before(page);
        Assert.False(await Answers(page));
        may.SetResult();
        await page.WaitForFunctionAsync(HasAnswer, null, new() { Timeout = 30_000 });
        await after(page);
        Assert.True(waits > 0, $"The page never asked for {awaited}.");
        Assert.Empty(errors);
    }

    private const string HasAnswer = "() => !!document.querySelector('.lectica-viewport')?.[Symbol.for('lectica.answers')]";

    private static Task<bool> Answers(IPage page) => page.EvaluateAsync<bool>(HasAnswer);

    private Task OnServer(string awaited, Func<IPage, Task> before, Func<IPage, Task> after) =>
        ServerTests.Serving([], root => OnPage(root, awaited, before, after));

    private static ILocator Row(IPage page, string key) => page.Locator($"#plan .lectica-content [data-key='{key}']");

    private static Task Tells(IPage page, string text) => Expect(page.Locator("#told")).ToHaveTextAsync(text);

    [Fact]
    public Task What_is_pressed_before_the_server_answers_is_not_lost() => OnServer(
        Line, async page =>
    {
        // What is drawn by then may be in another order than the list has, and show what it has no more.
        await page.EvaluateAsync("""
            () => {
                const row = key => document.querySelector(`.lectica-content [data-key='${key}']`), [a, b] = [row('R02'), row('R04')];
                [a.style.transform, b.style.transform] = [b.style.transform, a.style.transform];
                row('R06').dataset.key = 'R99';
            }
            """);
        // A mouse that only moves is nothing that must be kept; what comes after it is.
        var box = await Row(page, "R01").BoundsAsync();
        await page.Mouse.MoveAsync(box.X + 10, box.Y + 10);
        await page.Mouse.MoveAsync(box.X + 200, box.Y + 20, new() { Steps = 500 });
        await Row(page, "R02").ClickAsync();
        await page.Locator("#plan").FocusAsync();
        // A key that is held down has been pressed once: it goes on where somebody can see what it does.
        await page.Keyboard.DownAsync("Shift");
        for (var i = 0; i < 5; i++) await page.Keyboard.DownAsync("ArrowDown");
        await page.Keyboard.UpAsync("ArrowDown");
        await page.Keyboard.UpAsync("Shift");
        await Row(page, "R99").ClickAsync(new() { Modifiers = [KeyboardModifier.Control] });
        await Expect(page.Locator("[aria-selected='true']")).ToHaveCountAsync(0);
    }, page => Tells(page, "Selected: R02, R03"));

    [Fact]
    public Task A_press_counts_from_the_moment_in_which_rows_are_seen() =>
        OnServer(Scripts, page => Row(page, "R03").ClickAsync(), page => Tells(page, "Selected: R03"));

    [Fact]
    public Task A_press_that_lasts_until_there_is_an_answer_ends_as_any_other() => OnServer(
        Line, async page =>
    {
        await Row(page, "R01").HoverAsync();
        await page.Mouse.DownAsync();
    }, async page =>
    {
        await page.Mouse.UpAsync();
        await Tells(page, "Selected: R01");
        // One that ends elsewhere, too.
        await Row(page, "R04").ClickAsync();
        await Tells(page, "Selected: R04");
    });

    // A long press counts from where it began, and a drag takes the row that it began on.
    [Fact]
    public Task A_drag_that_began_before_there_is_an_answer_goes_on() => OnServer(
        Line, async page =>
    {
        var handle = await Row(page, "R05").Locator("[data-part=handle]").BoundsAsync();
        await page.Mouse.MoveAsync(handle.X + 20, handle.Y + 20);
        await page.Mouse.DownAsync();
        await page.Mouse.MoveAsync(handle.X + 20, handle.Y + 60, new() { Steps = 4 });
    }, async page =>
    {
        await page.Locator(".lectica-card").WaitForAsync();
        var handle = await Row(page, "R08").BoundsAsync();
        await page.Mouse.MoveAsync(handle.X + 20, handle.Y + 20, new() { Steps = 8 });
        await page.Mouse.UpAsync();
        await Tells(page, "Moved: R05");
        await Expect(Row(page, "R05")).ToHaveAttributeAsync("aria-rowindex", "9");
    });

    [Fact]
    public Task A_press_that_ends_beside_the_list_is_none() => OnServer(
        Line, async page =>
    {
        await Row(page, "R02").HoverAsync();
        await page.Mouse.DownAsync();
        await page.Locator("h1").HoverAsync();
        await page.Mouse.UpAsync();
    }, async page =>
    {
        await Row(page, "R05").ClickAsync();
        await Tells(page, "Selected: R05");
    });

    [Fact]
    public Task A_view_without_an_id_of_its_own_is_known_again_by_its_place() => OnServer(
        Line, async page =>
    {
        // Those that are drawn beforehand and later have numbers that the server counts on.
        await page.EvaluateAsync("() => document.getElementById('plan').id = 'lectica-17'");
        await page.Locator("[data-key='R06']").ClickAsync();
    }, page => Tells(page, "Selected: R06"));

    [Fact]
    public Task Clicks_of_assistive_technology_and_on_the_lists_own_buttons_count_and_those_on_a_rows_own_do_not_select() => OnServer(
        Line, async page =>
    {
        await page.EvaluateAsync("""
            () => {
                const plan = document.getElementById('plan');
                plan.querySelector(`[data-key='R02'] .lectica-body`).click();
                const own = document.createElement('button');
                plan.querySelector(`[data-key='R03'] .lectica-body`).append(own);
                own.textContent = 'Ask';
                own.style.cssText = 'position:absolute;inset:4px';
            }
            """);
        await page.Locator("[data-key='R03'] button").ClickAsync();
    }, page => Tells(page, "Selected: R02"));

    [Fact]
    public Task The_box_of_all_counts_before_there_is_an_answer() => OnServer(
        Line, page => page.Locator(".lectica-header .lectica-check").ClickAsync(),
        page => Expect(page.Locator(".lectica-header .lectica-check")).ToHaveAttributeAsync("aria-checked", "true"));

    [Fact]
    public Task What_was_pressed_on_one_page_is_nothing_to_the_next() => OnServer(
        Line, async page =>
    {
        await page.Locator(".lectica-header .lectica-check").ClickAsync();
        // Without loading the document anew.
        await page.EvaluateAsync("() => window.isSame = true");
        await page.GetByRole(AriaRole.Link, new() { Name = "First" }).ClickAsync();
        await page.Locator("[data-key='8']").WaitForAsync();
    }, async page =>
    {
        Assert.True(await page.EvaluateAsync<bool>("() => window.isSame"));
        await page.Locator("[data-key='2'] [data-part=check]").ClickAsync();
        await Tells(page, "Selected: Orvane Cluster");
    });

    [Fact]
    public Task It_stays_where_it_was_scrolled_to() => OnServer(
        Line, async page =>
    {
        await page.Locator("#plan").EvaluateAsync("e => e.scrollTop = 230");
        await Row(page, "R07").ClickAsync();
    }, async page =>
    {
        await Tells(page, "Selected: R07");
        await Soon.Equal(230, () => page.Locator("#plan").EvaluateAsync<int>("e => e.scrollTop"));
        await Expect(Row(page, "R12")).ToBeVisibleAsync();
    });

    [Theory]
    [InlineData(Scripts)]
    [InlineData(Program)]
    public Task A_page_that_runs_in_the_browser_loses_nothing_either(string awaited) => OnPage(
        fixture.Address, awaited, async page =>
    {
        await Row(page, "R03").ClickAsync();
        await page.Locator("#requester").ClickAsync();
    }, async page =>
    {
        await Expect(Row(page, "R03")).ToHaveAttributeAsync("aria-selected", "true");
        await Expect(page.Locator("#requester")).ToHaveAttributeAsync("aria-expanded", "true");
    });
}
