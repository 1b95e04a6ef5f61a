using Microsoft.Playwright;

namespace Lectica.Tests.Page;

/// <summary>The browser's own clipboard and drags: out of the list, into it, and what the list leaves to the browser.</summary>
[Collection("page")]
public sealed class ClipboardPageTests(PageFixture fixture)
{
    private async Task<PageDriver> Open(string query = "sample=clipboard")
    {
        var page = await fixture.Open(query, touch: false);
        // List and text field side by side.
        await page.Page.SetViewportSizeAsync(1280, 800);
        return page;
    }

    private static Task<string> Notes(PageDriver page) => page.Page.Locator("#notes").InputValueAsync();

    [Fact]
    public async Task Requests_go_by_the_clipboard_into_a_text_field_and_lines_come_back_to_where_the_cursor_is()
    {
        await using var page = await Open();
        await page.Row("R02").ClickAsync();
        await page.Page.Keyboard.PressAsync("Shift+ArrowDown");
        await page.Page.Keyboard.PressAsync("Control+c");
        await page.Page.Locator("#notes").FocusAsync();
        await page.Page.Keyboard.PressAsync("Control+v");
        var lines = (await Notes(page)).Split('\n');
        Assert.Equal(2, lines.Length);
        Assert.All(lines, line => Assert.Matches("^[A-Z][a-z]+ [A-Z][a-z]+, [A-Z][a-z]+ [A-Z][a-z]+$", line));
        // The field's own keys are its own.
        await page.Page.Keyboard.PressAsync("Control+a");
        await page.Page.Keyboard.PressAsync("Control+x");
        await Soon.Equal("", () => Notes(page));
        var html = "";
        await page.Page.EvaluateAsync(
            "() => document.addEventListener('paste', e => { window.html = e.clipboardData.getData('text/html'); }, true)");
        await page.Row("R05").ClickAsync();
        await page.Page.Keyboard.PressAsync("Control+v");
        await page.Page.Locator("[data-key='N01']").WaitForAsync();
        Assert.Equal(["R04", "R05", "N00", "N01", "R06"], (await page.State()).Order.Skip(4).Take(5));
        Assert.Equal("N00 N01", await page.Selected());
        // Cut goes to the clipboard as HTML too, and by the list's own command: it can be taken back.
        await page.Page.Keyboard.PressAsync("Control+x");
        await page.Page.Locator("[data-key='N01']").WaitForAsync(new() { State = WaitForSelectorState.Detached });
        await page.Page.Locator("#notes").FocusAsync();
        await page.Page.Keyboard.PressAsync("Control+v");
        html = await page.Page.EvaluateAsync<string>("() => window.html");
        Assert.Contains("<li>", html);
        Assert.Equal(lines, (await Notes(page)).Split('\n'));
        await page.Row("R05").ClickAsync();
        await page.Page.Keyboard.PressAsync("Control+z");
        await page.Page.Locator("[data-key='N01']").WaitForAsync();
    }

    [Fact]
    public async Task A_list_that_gives_and_takes_nothing_leaves_the_clipboard_to_the_browser()
    {
        await using var page = await Open("");
        await page.Page.EvaluateAsync(
            "() => { window.told = []; for (const name of ['copy', 'paste']) document.addEventListener(name, e => setTimeout(() => " +
                "window.told.push(`${name} ${e.defaultPrevented}`)), true); }");
        await page.Row("R02").ClickAsync();
        await page.Page.Keyboard.PressAsync("Control+c");
        await page.Page.Keyboard.PressAsync("Control+v");
        await page.Page.WaitForFunctionAsync("() => window.told.length === 2");
        await Soon.Equal("copy false, paste false", () => page.Page.EvaluateAsync<string>("() => window.told.join(', ')"));
        Assert.Equal(24, (await page.State()).Order.Count);
    }

    [Fact]
    public async Task Text_that_is_selected_on_the_page_is_not_dragged_out_of_the_list()
    {
        await using var page = await Open("");
        await page.Page.EvaluateAsync(
            """
            () => {
                window.told = [];
                document.addEventListener('dragstart',
                    e => setTimeout(() => window.told.push(`${e.target.nodeName} ${e.defaultPrevented}`)));
                getSelection().selectAllChildren(document.body);
            }
            """);
        var label = await page.Row("R02").Locator(".lectica-label").BoundsAsync();
        await page.Page.Mouse.MoveAsync(label.X + 20, label.Y + 8);
        await page.Page.Mouse.DownAsync();
        await page.Page.Mouse.MoveAsync(label.X + 80, label.Y + 60, new() { Steps = 6 });
        await page.Page.WaitForFunctionAsync("() => window.told.length > 0");
        await page.Page.Mouse.UpAsync();
        await Soon.Equal("#text true", () => page.Page.EvaluateAsync<string>("() => window.told.join(', ')"));
    }

    [Fact]
    public async Task Text_and_files_from_outside_land_in_the_gap_that_shows_and_what_is_no_request_is_said()
    {
        await using var page = await Open();
        var path = Path.Combine(Path.GetTempPath(), $"lectica-{Guid.NewGuid():n}.txt");
        await File.WriteAllTextAsync(path, "Brand Ring, Ila Venn\nBrand Pair, Odo Marsk\n", TestContext.Current.CancellationToken);
        try
        {
            await Drag(page, "R03",
                new()
                {
                    ["items"] = new[] { new { mimeType = "text/plain", data = "Kelora Comet, Edda Fusk" } },
                    ["files"] = Array.Empty<string>(),
                    ["dragOperationsMask"] = 1
                }, async () =>
            {
                await page.Page.Locator(".lectica-gap").WaitForAsync();
                await Expect(page.Page.Locator(".lectica-takes")).ToHaveCountAsync(1);
                await Expect(page.Page.Locator(".lectica-card")).ToHaveCountAsync(0);
                await page.Clean("something is dragged over the list");
            });
            await page.Page.Locator("[data-key='N00']").WaitForAsync();
            Assert.Equal(["R02", "N00", "R03"], (await page.State()).Order.Skip(2).Take(3));
            await Expect(page.Page.Locator(".lectica-gap")).ToHaveCountAsync(0);
            await page.Page.Locator(".lectica-brief button").ClickAsync();
            await page.Page.Locator("[data-key='N00']").WaitForAsync(new() { State = WaitForSelectorState.Detached });
            // A file.
            await Drag(page, "R05", new() { ["items"] = Array.Empty<object>(), ["files"] = new[] { path }, ["dragOperationsMask"] = 1 });
            await page.Page.Locator("[data-key='N02']").WaitForAsync();
            Assert.Equal(["R04", "N01", "N02", "R05"], (await page.State()).Order.Skip(4).Take(4));
            await Expect(page.Row("N01")).ToContainTextAsync("Brand Ring");
            // No request.
            await Drag(page, "R05",
                new()
                {
                    ["items"] = new[] { new { mimeType = "text/plain", data = "clouds" } },
                    ["files"] = Array.Empty<string>(),
                    ["dragOperationsMask"] = 1
                });
            await page.Page.Locator(".lectica-brief", new() { HasTextString = "No request in it" }).WaitForAsync();
            // What is not taken is not the list's: a link alone.
            await page.Page.EvaluateAsync("() => document.addEventListener('dragover', e => { window.over = e.defaultPrevented; })");
            await Drag(page, "R05",
                new()
                {
                    ["items"] = new[] { new { mimeType = "application/x-dome", data = "open" } },
                    ["files"] = Array.Empty<string>(),
                    ["dragOperationsMask"] = 1
                }, null, drops: false);
            Assert.False(await page.Page.EvaluateAsync<bool>("() => window.over"));
            await Expect(page.Page.Locator(".lectica-gap")).ToHaveCountAsync(0);
        }
        finally
        {
            File.Delete(path);
        }
    }

    /// <summary>Drags something in from outside, to the upper quarter of a row.</summary>
    private static async Task Drag(
        PageDriver page, string key, Dictionary<string, object> data, Func<Task>? meanwhile = null, bool drops = true)
    {
        var (x, middle) = await page.Middle(key);
        async Task Send(string type, float y) =>
            await page.Session.SendAsync("Input.dispatchDragEvent", new() { ["type"] = type, ["x"] = x, ["y"] = y, ["data"] = data });
        await Send("dragEnter", middle + 120);
        await Send("dragOver", middle + 60);
        await Send("dragOver", middle - 12);
        if (meanwhile is not null) await meanwhile();
        await Send(drops ? "drop" : "dragCancel", middle - 12);
    }

    [Fact]
    public async Task A_mouse_drags_requests_out_into_a_text_field_and_inside_the_list_still_moves_them()
    {
        await using var page = await Open();
        await page.Row("R01").ClickAsync();
        await page.Page.Keyboard.PressAsync("Shift+ArrowDown");
        await page.Row("R02").DragToAsync(page.Page.Locator("#notes"));
        await page.Page.WaitForFunctionAsync("() => document.getElementById('notes').value.split('\\n').length === 2");
        Assert.Equal(24, (await page.State()).Order.Count);
        Assert.Equal(["R00", "R01", "R02", "R03"], (await page.State()).Order.Take(4));
        await Expect(page.Page.Locator(".lectica-card")).ToHaveCountAsync(0);
        // Inside the list the same drag moves.
        await page.Row("R02").DragToAsync(page.Row("R06"));
        await page.Page.WaitForFunctionAsync("() => document.getElementById('told').textContent.startsWith('Moved')");
        var order = (await page.State()).Order.ToList();
        Assert.Equal(order.IndexOf("R01") + 1, order.IndexOf("R02"));
        Assert.True(order.IndexOf("R01") >= 4, string.Join(" ", order));
        await Expect(page.Page.Locator(".lectica-card")).ToHaveCountAsync(0);
        // The list is as it was for what comes next.
        await page.Row("R08").ClickAsync();
        Assert.Equal("R08", await page.Selected());
        // What a press on a row has made draggable is not when its box is pressed next: nothing is taken out.
        await page.Page.EvaluateAsync("() => document.addEventListener('dragstart', () => { window.dragged = true; }, true)");
        var (x, y) = await page.Middle("R08", "check");
        await page.Page.Mouse.MoveAsync(x, y);
        await page.Page.Mouse.DownAsync();
        await page.Page.Mouse.MoveAsync(x, y + 40, new() { Steps = 6 });
        await page.Page.Mouse.UpAsync();
        Assert.Null(await page.Page.EvaluateAsync<bool?>("() => window.dragged ?? null"));
        await page.Clean("after drags");
    }

    [Fact]
    public async Task A_finger_copies_and_pastes_by_the_menu()
    {
        await using var page = await fixture.Open("sample=clipboard");
        await page.Page.Context.GrantPermissionsAsync(["clipboard-read", "clipboard-write"]);
        async Task Choose(string key, string entry)
        {
            var (x, y) = await page.Middle(key);
            await page.Swipe(x, y, x, y, 1, hold: 700);
            await page.Page.Locator("#plan-menu").WaitForAsync();
            await page.TapOn(page.Page.Locator($"#plan-menu [data-entry='{entry}']").First);
        }
        await Choose("R02", "copy");
        await page.Page.WaitForFunctionAsync("async () => (await navigator.clipboard.readText()).includes(', ')");
        await Choose("R04", "paste");
        await page.Page.Locator("[data-key='N00']").WaitForAsync();
        Assert.Equal(["R04", "N00", "R05"], (await page.State()).Order.Skip(4).Take(3));
    }
}
