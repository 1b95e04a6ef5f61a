using System.Text.RegularExpressions;
using Lectica.Cli;
using Lectica.Tracing;
using Microsoft.Playwright;

namespace Lectica.Tests.Page;

/// <summary>What stands around a list on a page: toolbar, choice field, recorder; and rows as high as they need.</summary>
[Collection("page")]
public sealed class AroundTests(PageFixture fixture)
{
    private static Task<string> Focused(PageDriver page) =>
        page.Page.EvaluateAsync<string>("() => document.activeElement.dataset.command ?? document.activeElement.className");

    [Fact]
    public async Task A_toolbar_is_one_tab_stop_runs_commands_and_keeps_the_others_in_its_menu()
    {
        await using var page = await fixture.Open(touch: false);
        var tools = page.Page.Locator("#tools");
        await Expect(tools.Locator("[data-command='star']")).ToHaveAttributeAsync("aria-disabled", "true");
        await page.Row("R01").ClickAsync();
        await Expect(tools.Locator("[data-command='star']")).Not.ToHaveAttributeAsync("aria-disabled", new Regex(""));
        await tools.Locator("[data-command='star']").ClickAsync();
        Assert.Contains("R01", (await page.State()).Marks["starred"]);
        // Arrows go round inside; one tab stop.
        const string more = "lectica-tool lectica-overflow";
        (string Key, string At)[] presses = [("ArrowRight", "withdraw"), ("ArrowRight", "defer"), ("ArrowRight", more),
            ("ArrowRight", "star"), ("ArrowLeft", more), ("Home", "star"), ("End", more)];
        foreach (var (key, at) in presses)
        {
            await page.Page.Keyboard.PressAsync(key);
            await Soon.Equal(at, () => Focused(page));
        }
        await Expect(tools.Locator("button[tabindex='0']")).ToHaveCountAsync(1);
        // What does not fit is in a menu, by keys and by pointer.
        await page.Page.Keyboard.PressAsync("Enter");
        await Expect(tools.Locator(".lectica-overflow")).ToHaveAttributeAsync("aria-expanded", "true");
        await page.Clean("overflow menu open");
        await page.Page.Keyboard.PressAsync("Enter");
        await Expect(page.Page.Locator("#told")).ToContainTextAsync("Ask again tomorrow: Rasillo Comet");
        await Soon.Equal(more, () => Focused(page));
        // What is switched on by it has a check mark, and no entry looks as if a key were on it.
        await tools.Locator(".lectica-overflow").ClickAsync();
        await Expect(page.Page.Locator("#tools-menu [aria-checked=true]")).ToHaveTextAsync("Ask again tomorrow");
        await Expect(page.Page.Locator("#tools-menu .is-cursor")).ToHaveCountAsync(0);
        await page.Page.Locator("#tools-menu [role=menuitemcheckbox]").ClickAsync();
        await Expect(page.Page.Locator("#tools-menu")).ToHaveCountAsync(0);
        await tools.Locator(".lectica-overflow").ClickAsync();
        await page.Page.Keyboard.PressAsync("Escape");
        await Expect(page.Page.Locator("#tools-menu")).ToHaveCountAsync(0);
        // Narrow, more of them are there.
        await Expect(tools.Locator("[data-command]")).ToHaveCountAsync(3);
        await tools.Locator("[data-command='defer']").FocusAsync();
        await page.Page.SetViewportSizeAsync(250, 800);
        await tools.Locator("[data-command='defer']").WaitForAsync(new() { State = WaitForSelectorState.Detached });
        // And the keyboard stays in it.
        await Expect(tools.Locator("button:focus")).ToHaveCountAsync(1);
    }

    [Fact]
    public async Task A_choice_field_opens_chooses_and_leaves_its_value()
    {
        await using var page = await fixture.Open();
        var field = page.Page.Locator("#requester");
        var options = page.Page.Locator("#requester-options");
        await page.Clean("closed");
        await field.FocusAsync();
        await page.Page.Keyboard.PressAsync("ArrowDown");
        await Expect(field).ToHaveAttributeAsync("aria-expanded", "true");
        await page.Clean("open");
        await Expect(options.Locator("[aria-selected='true']")).ToHaveTextAsync("Everybody");
        foreach (var key in (string[])["s", "Enter"]) await page.Page.Keyboard.PressAsync(key);
        await Expect(field).ToHaveAttributeAsync("aria-expanded", "false");
        await Expect(field).ToContainTextAsync("Sanna Riis");
        Assert.Equal(["R01", "R07", "R13", "R19"], (await page.State()).Order);
        // Escape leaves the value; the keyboard stays on the field.
        foreach (var key in (string[])["Alt+ArrowDown", "End", "Escape"]) await page.Page.Keyboard.PressAsync(key);
        await Expect(field).ToContainTextAsync("Sanna Riis");
        await Soon.Equal("requester", () => page.Focused());
        // By finger: a tap on the field, and one on an option. The last one is scrolled to.
        await page.TapOn(field);
        await Expect(options).ToBeVisibleAsync();
        await page.Page.Keyboard.PressAsync("End");
        await page.Page.WaitForTimeoutAsync(100);
        await page.TapOn(options.Locator("[data-key='Ila Venn']"));
        await Expect(field).ToContainTextAsync("Ila Venn");
        Assert.Equal(["R05", "R11", "R17", "R23"], (await page.State()).Order);
        // It closes when the keyboard leaves.
        await page.Page.Keyboard.PressAsync("Enter");
        await page.Page.Locator("#plan").FocusAsync();
        await Expect(options).Not.ToBeVisibleAsync();
    }

    [Fact]
    public async Task Rows_are_as_high_as_they_need_and_lie_without_gaps_wherever_the_list_is_scrolled()
    {
        await using var page = await fixture.Open("sample=notes&rows=400", touch: false);
        async Task Fits()
        {
            // Until nothing moves any more: heights become known as rows come into view.
            for (string before = "", now = "-"; before != now;)
            {
                await page.Page.WaitForTimeoutAsync(250);
                (before, now) = (now, await page.Page.EvaluateAsync<string>(
                    "() => [...document.querySelectorAll('#plan .lectica-row')].map(r => r.getBoundingClientRect().top + ' ' + " +
                        "r.dataset.key).sort().join()"));
            }
            var edges = await page.Page.EvaluateAsync<double[][]>("""
                () => [...document.querySelectorAll('#plan .lectica-row')].filter(r => r.dataset.key).map(r => {
                    const { top, bottom } = r.getBoundingClientRect(), body = r.querySelector('.lectica-body');
                    return [top, bottom, body.scrollHeight - body.clientHeight];
                })
                """);
            // Without the cursor's row, which stays in the document far away.
            var sorted = edges.Where(e => e[0] is > -800 and < 1600).OrderBy(e => e[0]).ToList();
            for (var i = 1; i < sorted.Count; i++) Assert.Equal(sorted[i - 1][1], sorted[i][0], 0.6);
            Assert.All(sorted, e => Assert.InRange(e[2], 0, 1));
            Assert.True(sorted.Select(e => Math.Round(e[1] - e[0])).Distinct().Count() > 1, "all rows are as high as each other");
        }
        await Fits();
        await page.Page.Locator("#plan").FocusAsync();
        foreach (var key in (string[])["PageDown", "PageDown", "End", "PageUp", "Home"])
        {
            await page.Page.Keyboard.PressAsync(key);
            await Fits();
            var (cursor, view) = (await page.Page.Locator(".lectica-row.is-cursor").BoundsAsync(),
                await page.Page.Locator("#plan").BoundsAsync());
            Assert.True(cursor.Y >= view.Y - 1 && cursor.Y + cursor.Height <= view.Y + view.Height + 1,
                $"{key}: the cursor's row is at {cursor.Y} to {cursor.Y + cursor.Height}, the view at {view.Y} to {view.Y + view.Height}");
        }
        // A tap far below is on the row that is seen there.
        await page.Scroll(9000);
        await Fits();
        var row = page.Page.Locator(".lectica-row[data-key]").Nth(7);
        var key7 = await row.GetAttributeAsync("data-key");
        await row.ClickAsync();
        Assert.Equal(key7, await page.Selected());
    }

    [Fact]
    public async Task The_recorder_saves_what_lectica_why_reads()
    {
        await using var page = await fixture.Open();
        var folder = Directory.CreateTempSubdirectory("lectica-tests-").FullName;
        try
        {
            var record = page.Page.Locator(".recorder button");
            var listSaved = await page.Page.RunAndWaitForDownloadAsync(() => record.ClickAsync());
            // Down there the list is out of sight.
            await page.Page.EvaluateAsync("() => scrollTo(0, 0)");
            await page.Tap("R02");
            var (x, y) = await page.Middle("R01");
            await page.Swipe(x + 60, y, x + 30, y, moves: 4);
            await page.Page.Locator("#plan").FocusAsync();
            await page.Page.Keyboard.PressAsync("ArrowDown");
            var saved = await page.Page.RunAndWaitForDownloadAsync(() => record.ClickAsync());
            string list = Path.Combine(folder, listSaved.SuggestedFilename), recording = Path.Combine(folder, saved.SuggestedFilename);
            await listSaved.SaveAsAsync(list);
            await saved.SaveAsAsync(recording);
            using var told = new MemoryStream();
            using var error = new StringWriter();
            var code = Tool.Run(["why", recording, "--list", list], told, error);
            Assert.Equal((0, ""), (code, error.ToString()));
            var text = System.Text.Encoding.UTF8.GetString(told.ToArray());
            Assert.Contains("R02", text);
            Assert.Contains("tap", text);
            Assert.Contains("R01", text);
            Assert.Contains("tray", text);
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    [Fact]
    public async Task An_app_draws_rows_headings_notices_and_menu_entries_itself_and_its_own_button_works_by_itself()
    {
        await using var page = await fixture.Open("sample=own");
        await Expect(page.Page.Locator("[data-heading='tonight'] .lectica-body")).ToHaveTextAsync("Tonight has 20");
        var button = page.Row("R01").Locator("button");
        await Expect(button).ToHaveTextAsync("Ask Sanna Riis");
        await page.Trace();
        await page.TapOn(button);
        await Expect(page.Page.Locator("#told")).ToHaveTextAsync("Asked Sanna Riis about Rasillo Comet");
        // What a template draws from elsewhere is redrawn with the page; the row itself was neither tapped nor selected.
        await Expect(button).ToHaveTextAsync("Ask Sanna Riis again");
        Assert.Equal("", await page.Selected());
        Assert.DoesNotContain(await page.Trace(), l => l is TracedChange { Change: "tapped" });
        await page.Row("R01").Locator(".lectica-label").ClickAsync(new() { Button = MouseButton.Right });
        await Expect(page.Page.Locator(".lectica-entry[data-entry='withdraw'] small")).ToHaveTextAsync("Destructive");
        await page.Page.Keyboard.PressAsync("Escape");
        // An empty list says so, in the app's way.
        await page.Page.Locator("#plan").FocusAsync();
        foreach (var key in (string[])["Control+a", "Delete"]) await page.Page.Keyboard.PressAsync(key);
        Assert.Contains("Nothing here.", await page.Page.Locator(".lectica-notice-row i").AllTextContentsAsync());
        await page.Clean("drawn by the app");
    }

    [Fact]
    public async Task A_custom_property_around_the_list_changes_its_looks()
    {
        await using var page = await fixture.Open();
        Task<string> Colour(string what) =>
            page.Page.EvaluateAsync<string>($"() => getComputedStyle(document.querySelector(\"{what}\")).backgroundColor");
        await page.Tap("R01", "check");
        await page.Page.EvaluateAsync(
            "() => { document.body.style.setProperty('--lectica-accent', 'rgb(1, 2, 3)'); " +
                "document.body.style.setProperty('--lectica-selected', 'rgb(250, 240, 1)'); }");
        await Soon.Equal("rgb(1, 2, 3)", () => Colour("[data-key=R01] [data-part=check] .lectica-box"));
        await Soon.Equal("rgb(250, 240, 1)", () => Colour("[data-key=R01]"));
    }

    [Fact]
    public async Task A_command_tells_on_its_row_for_a_moment_what_it_did()
    {
        await using var page = await fixture.Open(touch: false);
        await page.Row("R01").ClickAsync();
        // It is there for a moment only: the page itself watches for it.
        await page.Page.EvaluateAsync("""
            () => new MutationObserver(() => { window.flashed_ ||= !!document.querySelector("[data-key='R01'] .lectica-flash"); })
                .observe(document.getElementById('plan'), { childList: true, subtree: true })
            """);
        await page.Page.Locator("#tools [data-command='star']").ClickAsync();
        await page.Page.WaitForFunctionAsync("() => window.flashed_");
        await page.Row("R01").Locator(".lectica-flash").WaitForAsync(new() { State = WaitForSelectorState.Detached });
    }

    [Fact]
    public async Task A_command_under_way_shows_how_far_it_is_and_is_stopped_by_its_entry()
    {
        await using var page = await fixture.Open("dome=slow", touch: false);
        var p = page.Page;
        var entry = p.Locator("[id][data-entry$='dome']");
        await page.Row("R02").ClickAsync(new() { Button = MouseButton.Right });
        await entry.ClickAsync();
        // Its row says so, and the entry in the menu is what stops it now.
        await Expect(page.Row("R02")).ToHaveAttributeAsync("aria-busy", "true");
        await Expect(page.Row("R02"))
            .ToHaveAttributeAsync("aria-description", new Regex(@"^Send to the dome is under way, \d+ %$"));
        await Expect(page.Row("R02").Locator(".lectica-progress")).ToBeVisibleAsync();
        Assert.True(await page.Row("R02").Locator(".lectica-progress")
            .EvaluateAsync<double>("e => parseFloat(e.style.getPropertyValue('--done'))") is > 0 and < 50);
        await page.Row("R02").ClickAsync(new() { Button = MouseButton.Right });
        await Expect(entry).ToHaveTextAsync("Cancel Send to the dome");
        await entry.ClickAsync();
        await Expect(p.Locator("[aria-busy]")).ToHaveCountAsync(0);
        await Expect(p.Locator(".lectica-brief")).ToHaveCountAsync(0);
    }

    [Fact]
    public async Task A_command_that_failed_is_tried_again_from_its_notice()
    {
        await using var page = await fixture.Open("dome=stuck", touch: false);
        var p = page.Page;
        await page.Row("R02").ClickAsync(new() { Button = MouseButton.Right });
        await p.Locator("[id][data-entry$='dome']").ClickAsync();
        var again = p.Locator(".lectica-brief button");
        await Expect(again).ToHaveTextAsync("Try again");
        await page.Clean("failed");
        await again.ClickAsync();
        await Expect(page.Row("R02")).ToHaveAttributeAsync("aria-busy", "true");
    }

    [Fact]
    public async Task In_another_language_no_word_of_English_is_left_in_the_list()
    {
        await using var page = await fixture.Open("lang=de", touch: false);
        var p = page.Page;
        string[] english = [.. typeof(Phrases).GetProperties().Where(f => f.PropertyType == typeof(string))
            .Select(f => (string)f.GetValue(Phrases.English)!)];
        var met = new HashSet<string>();
        async Task Look()
        {
            var words = await p.EvaluateAsync<string[]>("""
                () => [...document.querySelectorAll('.lectica *, .lectica-toolbar *')].flatMap(e =>
                    [e.getAttribute('aria-label'), e.getAttribute('aria-description'), e.title,
                        ...[...e.childNodes].filter(n => n.nodeType == 3).map(n => n.data)])
                    .filter(w => w && w.trim()).map(w => w.trim())
                """);
            Assert.Empty(words.Intersect(english));
            met.UnionWith(words);
        }
        await page.Row("R02").Locator("[data-part='check']").ClickAsync();
        await Look();
        await page.Row("R02").ClickAsync(new() { Button = MouseButton.Right });
        await Look();
        await p.Keyboard.PressAsync("Escape");
        await page.Row("R02").ClickAsync();
        await p.Keyboard.PressAsync("Alt+ArrowDown");
        await p.Keyboard.PressAsync("Delete");
        await p.Locator(".lectica-brief button").WaitForAsync();
        await Look();
        Assert.Superset(new HashSet<string> { "Alle auswählen", "Auswählen", "Verschieben", "Weitere Befehle", "Rückgängig" }, met);
    }

    [Fact]
    public async Task An_archive_is_read_to_its_end_by_scrolling_and_goes_on_after_it_failed_once()
    {
        await using var page = await fixture.Open("sample=archive");
        var p = page.Page;
        var footer = p.Locator(".lectica-notice-row");
        var failed = 0;
        for (var i = 0; i < 200 && (await page.State()).Source.Count < 2000; i++)
        {
            await page.Scroll(1e6);
            if (await p.Locator(".is-morefailed").CountAsync() > 0)
            {
                failed++;
                await page.Clean("more failed");
                await page.TapOn(footer);
            }
            await p.WaitForTimeoutAsync(100);
        }
        await page.Scroll(1e6);
        await Expect(footer).ToHaveTextAsync("That is all");
        Assert.Equal((2000, 1), ((await page.State()).Source.Count, failed));
        await Expect(p.Locator("#plan")).ToHaveAttributeAsync("aria-rowcount", "2001");
        await page.Clean("all read");
    }

    [Fact]
    public async Task The_keyboard_is_on_the_open_menu_and_comes_back_unless_somebody_has_taken_it_elsewhere()
    {
        await using var page = await fixture.Open(touch: false);
        Task<string?> Name() => page.Page.EvaluateAsync<string?>("() => document.activeElement.ariaLabel ?? document.activeElement.id");
        async Task Press(string key, string focused)
        {
            await page.Page.Keyboard.PressAsync(key);
            await page.Rest();
            await Soon.Equal(focused, () => Name());
        }
        await page.Row("R05").ClickAsync();
        await Press("Shift+F10", "Kelil Cluster");
        // Opened anew for another row.
        await page.Row("R01").ClickAsync(new() { Button = MouseButton.Right });
        await page.Rest();
        await Soon.Equal("Rasillo Comet", () => Name());
        // Pressed beside it, let go elsewhere: nothing has come of it.
        var (x, y) = await page.Middle("R03", "mark:starred");
        await page.Page.Mouse.MoveAsync(x, y);
        await page.Page.Mouse.DownAsync();
        await page.Page.Mouse.MoveAsync(x, 790);
        await page.Page.Mouse.UpAsync();
        await page.Rest();
        await Soon.Equal((1, "Rasillo Comet"), async () => (await page.Page.Locator("#plan-menu").CountAsync(), await Name()));
        // Closed by a press on something else, which has the keyboard then.
        await page.Page.Locator(".lectica-header .lectica-check").ClickAsync();
        await page.Rest();
        await Soon.Equal((0, "Select all"), async () => (await page.Page.Locator("#plan-menu").CountAsync(), await Name()));
        // From there to the rows by Tab, and back: where the keyboard is, a row shows it.
        await Expect(page.Page.Locator(".is-cursor")).ToHaveCountAsync(0);
        await Press("Tab", "Tonight, in order");
        await Expect(page.Page.Locator(".is-cursor")).ToHaveCountAsync(1);
        await Press("Shift+Tab", "Select all");
        await Expect(page.Page.Locator(".is-cursor")).ToHaveCountAsync(0);
        await page.Row("R03").ClickAsync();
        await Press("Shift+F10", "Umbeska Nebula");
        await Press("Escape", "Tonight, in order");
        // Who was on a notice, and has left it, is not called back when it goes.
        await Press("Delete", "Tonight, in order");
        await page.Page.Locator(".lectica-brief .lectica-label").ClickAsync();
        await Soon.Equal("Tonight, in order", () => Name());
        await page.Page.Locator(".lectica-brief button").FocusAsync();
        await page.Page.Locator("[data-command='star']").FocusAsync();
        await page.Page.EvaluateAsync("() => DotNet.invokeMethod('NightPlan.Web', 'Reset')");
        await page.Rest();
        await Soon.Equal((0, "Star"), async () => (await page.Page.Locator(".lectica-brief").CountAsync(), await Name()));
    }

    [Theory]
    [InlineData("press=select")]
    [InlineData("press=select&height=auto")]
    public async Task A_menu_that_a_tap_opens_keeps_the_keyboard_though_a_mouse_is_told_of_after_it(string query)
    {
        await using var page = await fixture.Open(query, phone: true);
        await page.Page.EvaluateAsync(
            "() => addEventListener('mousedown', e => window.pressed = e.target.closest('[data-key]')?.dataset.key)");
        await page.Tap("R08", "menu");
        await page.Rest();
        await Soon.Equal("R08", () => page.Page.EvaluateAsync<string>("() => window.pressed"));
        await Soon.Equal("plan-menu", () => page.Focused());
        await page.Page.Keyboard.PressAsync("Escape");
        await page.Rest();
        await Soon.Equal("plan", () => page.Focused());
    }

    [Fact]
    public async Task Whatever_has_the_keyboard_and_goes_gives_it_to_the_list()
    {
        await using var page = await fixture.Open("press=select");
        var p = page.Page;
        async Task Goes(string css, Func<Task> act)
        {
            var element = p.Locator(css);
            await element.FocusAsync();
            await act();
            await element.WaitForAsync(new() { State = WaitForSelectorState.Detached });
            await page.Rest();
            Assert.Equal($"{css}: plan", $"{css}: {await page.Focused()}");
            // And the list knows it: a row shows it, or what stands there instead of rows.
            await Expect(p.Locator(".is-cursor")).ToHaveCountAsync(1);
        }
        Task Enter() => p.Keyboard.PressAsync("Enter");
        // The way out of selecting, pressed by a key.
        var (x, y) = await page.Middle("R02");
        await page.Swipe(x, y, x, y, moves: 0, hold: 900);
        await Goes(".lectica-leave", Enter);
        // Undo, pressed by a key; and where another notice comes in its place, without anything to undo.
        await p.Keyboard.PressAsync("Delete");
        await Goes(".lectica-brief button", Enter);
        await p.AddStyleTagAsync(new() { Content = ".columns > div { width: 1000px; }" });
        await p.Keyboard.PressAsync("Delete");
        await page.Row("R05").ClickAsync(new() { Position = new() { X = 200, Y = 20 } });
        await Goes(".lectica-brief button",
            async () => await p.EvaluateAsync("() => document.querySelector(\"button[data-command$='dome']\").click()"));
        await Expect(p.Locator(".lectica-brief:not(.is-ghost)")).ToContainTextAsync("1 sent to the dome");
        // The box of all, as nothing is left to select.
        await p.Keyboard.PressAsync("Control+a");
        await Goes(".lectica-header .lectica-check",
            async () => await p.EvaluateAsync("() => document.querySelector(\"[data-command='withdraw']\").click()"));
    }

    [Fact]
    public async Task A_tool_that_stops_what_it_began_keeps_the_focus()
    {
        await using var page = await fixture.Open("dome=slow", touch: false);
        var p = page.Page;
        await p.AddStyleTagAsync(new() { Content = ".columns > div { width: 1000px; }" });
        await page.Row("R02").ClickAsync();
        var tool = p.Locator("button[data-command$='dome']");
        await tool.FocusAsync();
        await p.Keyboard.PressAsync("Enter");
        await Expect(tool).ToHaveAttributeAsync("aria-label", "Cancel Send to the dome");
        await Expect(tool).ToBeFocusedAsync();
        await page.Clean("under way");
        await p.Keyboard.PressAsync("Enter");
        await Expect(tool).ToHaveAttributeAsync("aria-label", "Send to the dome");
        await Expect(tool).ToBeFocusedAsync();
    }
}
