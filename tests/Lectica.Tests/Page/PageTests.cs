using Lectica.Examples.NightPlan;
using Lectica.Tracing;
using Microsoft.Playwright;

namespace Lectica.Tests.Page;

/// <summary>The component in a real browser, with real touches, clicks and keys.</summary>
[Collection("page")]
public sealed class PageTests(PageFixture fixture)
{
    [Fact]
    public async Task Clicks_select_toggle_and_extend_and_boxes_and_marks_are_their_own()
    {
        await using var page = await fixture.Open(touch: false);
        await page.Row("R01").ClickAsync();
        Assert.Equal("R01", await page.Selected());
        await page.Row("R04").ClickAsync(new() { Modifiers = [KeyboardModifier.Shift] });
        await page.Row("R02").ClickAsync(new() { Modifiers = [KeyboardModifier.Control] });
        Assert.Equal("R01 R03 R04", await page.Selected());
        await Expect(page.Row("R03")).ToHaveAttributeAsync("aria-selected", "true");
        await page.Row("R05").Locator("[data-part='mark:starred']").ClickAsync();
        Assert.Contains("R05", (await page.State()).Marks["starred"]);
        Assert.Equal("R01 R03 R04", await page.Selected());
        await page.Page.Locator(".lectica-header .lectica-box").ClickAsync();
        Assert.Equal(24, (await page.State()).Selected.Count);
        await Expect(page.Page.Locator(".lectica-header .lectica-check")).ToHaveAttributeAsync("aria-checked", "true");
        await page.Row("R02").DblClickAsync();
        await Expect(page.Page.Locator("#told")).ToContainTextAsync("Opened: Belyra Ring");
    }

    [Fact]
    public async Task Keys_move_the_cursor_whose_element_stays_and_what_is_not_used_is_the_browsers()
    {
        await using var page = await fixture.Open("rows=1000", touch: false);
        await page.Page.Locator("#plan").FocusAsync();
        for (var i = 0; i < 3; i++) await page.Page.Keyboard.PressAsync("ArrowDown");
        Assert.Equal("R03", (await page.State()).Cursor);
        await page.Page.Keyboard.PressAsync("Shift+ArrowDown");
        Assert.Equal("R03 R04", await page.Selected());
        await page.Page.Keyboard.PressAsync("End");
        Assert.Equal("R999", (await page.State()).Cursor);
        await page.Row("R999").WaitForAsync();
        Assert.InRange(
            await page.Page.EvaluateAsync<double>("() => document.getElementById('plan').scrollTop"), (1000 * 52) - 547, 1000 * 52);
        // Scrolled away, the active descendant is still in the document, and nowhere else is focus.
        await page.Scroll(0);
        await page.Row("R00").WaitForAsync();
        Assert.True(await page.Page.EvaluateAsync<bool>(
            "() => document.getElementById(document.getElementById('plan').getAttribute('aria-activedescendant')) !== null && " +
                "document.activeElement.id === 'plan'"));
        await Expect(page.Row("R999")).ToHaveAttributeAsync("aria-rowindex", "1000");
        await page.Page.Keyboard.PressAsync("Control+a");
        Assert.Equal(1000, (await page.State()).Selected.Count);
        await page.Page.Keyboard.PressAsync("Escape");
        Assert.Equal("", await page.Selected());
        // Tab is never the list's: it goes on.
        await page.Page.Keyboard.PressAsync("Shift+Tab");
        Assert.NotEqual("plan", await page.Focused());
    }

    [Fact]
    public async Task Touches_open_swipe_hold_and_scroll()
    {
        await using var page = await fixture.Open();
        await page.Tap("R01");
        await Expect(page.Page.Locator("#told")).ToContainTextAsync("Opened: Rasillo Comet");
        // A swipe opens the tray; a tap on its command runs it.
        var (x, y) = await page.Middle("R02");
        // The row's elements stay: one that is rebuilt does not glide, and a finger that went down on it is lost.
        const string parts = "[...document.querySelectorAll('#plan [data-key=R02] *')].filter(e => !e.closest('.lectica-tray'))";
        var all = await page.Page.EvaluateAsync<int>($"() => {parts}.map(e => e.stays_ = true).length");
        Assert.True(all > 8, $"{all} elements");
        await page.Swipe(x + 60, y, x - 40, y);
        await page.Page.WaitForTimeoutAsync(300);
        Assert.StartsWith("tray:trailing:R02", (await page.State()).Open);
        await Soon.Equal(all, () => page.Page.EvaluateAsync<int>($"() => {parts}.filter(e => e.stays_).length"));
        await page.Tap("R02", "tray:defer");
        await Expect(page.Page.Locator("#told")).ToContainTextAsync("Defer: Belyra Ring");
        Assert.Equal("R02", (await page.State()).Order[^1]);
        // A long press opens the menu; a tap outside closes it and does nothing else.
        await page.Page.WaitForTimeoutAsync(500);
        (x, y) = await page.Middle("R03");
        await page.Swipe(x, y, x, y, moves: 1, hold: 700);
        Assert.Equal("menu:R03", (await page.State()).Open);
        await Expect(page.Page.Locator("#plan-menu")).ToBeVisibleAsync();
        await page.Page.Keyboard.PressAsync("Escape");
        Assert.Null((await page.State()).Open);
        await Soon.Equal("plan", () => page.Focused());
        // A vertical pan is the browser's: it scrolls, and opens nothing.
        await page.Trace();
        (x, y) = await page.Middle("R06");
        await page.Swipe(x, y, x, y - 160, moves: 20);
        await page.Page.WaitForTimeoutAsync(300);
        Assert.InRange(await page.Page.EvaluateAsync<double>("() => document.getElementById('plan').scrollTop"), 60, 400);
        Assert.DoesNotContain(await page.Trace(), l => l is TracedChange { Change: "tapped" or "tray" or "menu" });
    }

    [Fact]
    public async Task A_press_is_on_what_shows_there_also_where_the_page_has_scrolled_in_the_same_moment()
    {
        await using var page = await fixture.Open();
        var pressed = await page.Page.EvaluateAsync<string>(
            """
            () => {
                const plan = document.getElementById('plan'), box = plan.getBoundingClientRect();
                plan.scrollTop = 130;
                const [x, y] = [box.left + 200, box.top + 300], at = document.elementFromPoint(x, y);
                for (const type of ['pointerdown', 'pointerup'])
                    at.dispatchEvent(new PointerEvent(type, { bubbles: true, clientX: x, clientY: y, pointerId: 9, pointerType: 'touch',
                        isPrimary: true, buttons: type === 'pointerdown' ? 1 : 0 }));
                return at.closest('.lectica-row').querySelector('.lectica-label').textContent;
            }
            """);
        await Expect(page.Page.Locator("#told")).ToHaveTextAsync($"Opened: {pressed}");
        Assert.Equal(Plan.Make(24).ElementAt(8).Field, pressed);
    }

    [Fact]
    public async Task On_an_Apple_system_Command_is_Mod_and_a_click_with_Control_opens_the_menu()
    {
        await using var page = await fixture.Open(touch: false,
            script: "Object.defineProperty(navigator, 'platform', { get: () => 'MacIntel' })");
        await page.Row("R01").ClickAsync();
        await page.Row("R03").ClickAsync(new() { Modifiers = [KeyboardModifier.Meta] });
        Assert.Equal("R01 R03", await page.Selected());
        await page.Page.Keyboard.PressAsync("Meta+a");
        Assert.Equal(24, (await page.State()).Selected.Count);
        await page.Row("R04").ClickAsync();
        await page.Row("R06").ClickAsync(new() { Modifiers = [KeyboardModifier.Control] });
        Assert.Equal("menu:R06", (await page.State()).Open);
        Assert.Equal("R06", await page.Selected());
    }

    [Fact]
    public async Task A_finger_across_a_notice_stays_on_the_page()
    {
        await using var page = await fixture.Open(phone: true);
        await page.Row("R03").ClickAsync(new() { Button = MouseButton.Right });
        await page.Page.GetByRole(AriaRole.Menuitem, new() { Name = "Withdraw" }).ClickAsync();
        var notice = await page.Page.Locator(".lectica-brief").BoundsAsync();
        var (address, y) = (page.Page.Url, notice.Y + (notice.Height / 2));
        foreach (var (from, to) in (((float, float)[])[(40, 440), (440, 40)]))
        {
            await page.Swipe(from, y, to, y, moves: 8);
            await page.Page.WaitForTimeoutAsync(500);
        }
        Assert.Equal(address, page.Page.Url);
        Assert.Equal(23, (await page.State()).Order.Count);
    }

    [Fact]
    public async Task A_finger_on_the_handle_drags_and_the_page_does_not_scroll()
    {
        await using var page = await fixture.Open("sample=sections");
        var (x, y) = await page.Middle("R01", "handle");
        await page.Page.EvaluateAsync(
            """
            () => {
                window.tops = [];
                const row = document.querySelector("[data-key='R02']");
                const look = () => { window.tops.push(row.getBoundingClientRect().top); requestAnimationFrame(look); };
                look();
            }
            """);
        await page.Swipe(x, y, x, y + 120, moves: 20, up: false);
        // A neighbour gives way in one go, however the finger moves on meanwhile.
        var tops = await page.Page.EvaluateAsync<double[]>("() => window.tops");
        Assert.Equal(tops.OrderDescending(), tops);
        Assert.Equal(52, tops[0] - tops[^1], 1.0);
        await Expect(page.Page.Locator(".lectica-card")).ToBeVisibleAsync();
        await Expect(page.Page.Locator(".lectica-row.is-grabbed")).ToHaveCountAsync(1);
        await page.Touch("touchEnd", 0, 0);
        Assert.Equal(["R00", "R02", "R03", "R01", "R05"], (await page.State()).Order.Take(5));
        await Soon.Equal(0, () => page.Page.EvaluateAsync<double>("() => document.getElementById('plan').scrollTop"));
        await page.Page.Locator("#plan").FocusAsync();
        await page.Page.Keyboard.PressAsync("Control+z");
        Assert.Equal(["R00", "R01", "R02", "R03", "R05"], (await page.State()).Order.Take(5));
        // Held first, then dragged: the browser would scroll, but the list holds the finger.
        (x, y) = await page.Middle("R02");
        await page.Swipe(x, y, x, y + 110, moves: 20, hold: 700);
        Assert.Equal(["R00", "R01", "R03", "R05", "R02"], (await page.State()).Order.Take(5));
        Assert.Null((await page.State()).Open);
    }

    [Fact]
    public async Task A_mouse_drags_rows_draws_marquees_and_opens_menus()
    {
        await using var page = await fixture.Open("rows=5", touch: false);
        var (x, y) = await page.Middle("R00");
        await page.Page.Mouse.MoveAsync(x, y);
        await page.Page.Mouse.DownAsync();
        await page.Page.Mouse.MoveAsync(x, y + 130, new() { Steps = 10 });
        await page.Page.Mouse.UpAsync();
        Assert.Equal(["R01", "R02", "R00", "R03", "R04"], (await page.State()).Order);
        // From empty space below the rows: a marquee.
        var box = await page.Page.Locator("#plan").BoundsAsync();
        await page.Page.Mouse.MoveAsync(box.X + 200, box.Y + 400);
        await page.Page.Mouse.DownAsync();
        await page.Page.Mouse.MoveAsync(box.X + 100, box.Y + 120, new() { Steps = 10 });
        await Expect(page.Page.Locator(".lectica-marquee")).ToBeVisibleAsync();
        await page.Page.Mouse.UpAsync();
        Assert.Equal("R00 R03 R04", await page.Selected());
        await page.Row("R03").ClickAsync(new() { Button = MouseButton.Right });
        var menu = page.Page.Locator("#plan-menu");
        await Expect(menu).ToBeVisibleAsync();
        await menu.GetByText("Star", new() { Exact = true }).ClickAsync();
        await Expect(page.Page.Locator("#told")).ToContainTextAsync("Star: ");
        // What was dropped comes back from its notice.
        await page.Page.Locator("#plan").FocusAsync();
        await page.Page.Keyboard.PressAsync("Delete");
        Assert.Equal(["R01", "R02"], (await page.State()).Order);
        await page.Page.GetByText("Undo").ClickAsync();
        Assert.Equal(5, (await page.State()).Order.Count);
    }

    // A window of the system's that opens meanwhile, or a menu, may take it.
    [Fact]
    public async Task A_button_whose_release_nobody_told_of_drags_nothing_on()
    {
        await using var page = await fixture.Open("rows=5", touch: false);
        var (x, y) = await page.Middle("R00");
        async Task Mouse(string type, double down, int buttons) => await page.Session.SendAsync("Input.dispatchMouseEvent", new()
        {
            ["type"] = type,
            ["x"] = x,
            ["y"] = y + down,
            ["button"] = type == "mousePressed" ? "left" : "none",
            ["buttons"] = buttons,
            ["clickCount"] = 1,
        });
        await Mouse("mousePressed", 0, 1);
        for (var i = 1; i <= 10; i++) await Mouse("mouseMoved", i * 10, 1);
        var card = page.Page.Locator(".lectica-card");
        await Expect(card).ToBeVisibleAsync();
        await Mouse("mouseMoved", 130, 0);
        await page.Rest();
        await Expect(card).ToHaveCountAsync(0);
        Assert.Equal(["R00", "R01", "R02", "R03", "R04"], (await page.State()).Order);
        // And the next press is one.
        await page.Page.Mouse.UpAsync();
        await page.Row("R03").ClickAsync();
        Assert.Equal("R03", await page.Selected());
    }

    [Fact]
    public async Task A_million_rows_scroll_with_few_elements_to_the_very_end_and_back()
    {
        // What is there can be used while the rest comes in, which may be soon: the page itself clicks a row as soon as there is one.
        await using var page = await fixture.Open("rows=1000000", touch: false, script: """
            const look = setInterval(() => {
                const plan = document.getElementById('plan'), row = plan?.querySelector('[data-key=R03]');
                if (document.getElementById('first-look') || !row) return;
                if (row.ariaSelected === 'true') {
                    window.rowsThen = Number(plan.ariaRowCount);
                    clearInterval(look);
                }
                if (plan.dataset.clicked) return;
                plan.dataset.clicked = 'once';
                const { left, top } = row.getBoundingClientRect();
                for (const [type, buttons] of [['pointerdown', 1], ['pointerup', 0]])
                    row.querySelector('.lectica-body').dispatchEvent(new PointerEvent(type, {
                        bubbles: true, cancelable: true, pointerId: 1, pointerType: 'mouse', isPrimary: true, button: 0, buttons,
                        clientX: left + 200, clientY: top + 20,
                    }));
            }, 2);
            """);
        var rows = page.Page.Locator(".lectica-row");
        Assert.InRange(await rows.CountAsync(), 10, 100);
        await page.Page.WaitForFunctionAsync("() => window.rowsThen > 0", null, new() { Timeout = 60_000 });
        Assert.InRange(await page.Page.EvaluateAsync<int>("() => window.rowsThen"), 2000, 999_999);
        await page.Page.WaitForFunctionAsync(
            "() => document.getElementById('plan').ariaRowCount === '1000000'", null, new() { Timeout = 120_000 });
        await Expect(page.Row("R03")).ToHaveAttributeAsync("aria-selected", "true");
        await page.Page.Locator("#plan").FocusAsync();
        await page.Page.Keyboard.PressAsync("End");
        await page.Row("R999999").WaitForAsync();
        Assert.InRange(await rows.CountAsync(), 10, 100);
        var last = await page.Row("R999999").BoundsAsync();
        var view = await page.Page.Locator("#plan").BoundsAsync();
        Assert.InRange(last.Y + last.Height, view.Y + view.Height - 2, view.Y + view.Height + 2);
        // A turn of the wheel is a turn of the wheel, however long the list.
        await page.Page.Mouse.MoveAsync(view.X + 100, view.Y + 100);
        await page.Page.Mouse.WheelAsync(0, -104);
        await page.Page.WaitForTimeoutAsync(400);
        Assert.InRange((await page.Row("R999999").BoundsAsync()).Y, last.Y + 100, last.Y + 108);
        // To the middle by the scroll bar, and back to the top.
        await page.Page.EvaluateAsync("() => { const plan = document.getElementById('plan'); plan.scrollTop = plan.scrollHeight / 2; }");
        await page.Page.WaitForTimeoutAsync(300);
        var middle = await page.Page.Locator(".lectica-row[data-key]").Nth(8).GetAttributeAsync("data-key");
        Assert.InRange(int.Parse(middle![1..], System.Globalization.CultureInfo.InvariantCulture), 499_000, 501_000);
        await page.Scroll(0);
        await page.Row("R00").WaitForAsync();
        Assert.InRange(await rows.CountAsync(), 10, 100);
    }

    [Fact]
    public async Task A_right_to_left_list_is_mirrored()
    {
        await using var page = await fixture.Open("dir=rtl");
        var (handle, _) = await page.Middle("R01", "handle");
        var (check, _) = await page.Middle("R01", "check");
        Assert.True(handle < check);
        await page.Tap("R01", "check");
        Assert.Equal("R01", await page.Selected());
    }

    [Fact]
    public async Task Typing_finds_only_while_the_list_has_the_keyboard()
    {
        await using var page = await fixture.Open("rows=200", touch: false);
        await page.Page.Keyboard.PressAsync("w");
        Assert.Null((await page.State()).Cursor);
        await page.Page.Locator("#plan").FocusAsync();
        await page.Page.Keyboard.TypeAsync("wenra", new() { Delay = 30 });
        var cursor = (await page.State()).Cursor!;
        Assert.StartsWith("Wenra", await page.Row(cursor).Locator(".lectica-label").TextContentAsync());
        await Expect(page.Row(cursor)).ToBeVisibleAsync();
    }

    [Fact]
    public async Task A_finger_sweeps_down_the_boxes_and_one_held_at_the_edge_scrolls_to_the_very_end()
    {
        await using var page = await fixture.Open("press=select");
        var (x, y) = await page.Middle("R01");
        await page.Swipe(x, y, x, y, moves: 1, hold: 700);
        Assert.True((await page.State()).Selecting);
        (x, y) = await page.Middle("R02", "check");
        await page.Swipe(x, y, x, y + 104, moves: 20);
        Assert.Equal("R01 R02 R03 R04", await page.Selected());
        await Soon.Equal(0, () => page.Page.EvaluateAsync<double>("() => document.getElementById('plan').scrollTop"));
        // Carried to the lower edge and held there: the list scrolls faster toward the edge, and stops exactly at its end.
        (x, y) = await page.Middle("R06", "handle");
        var view = await page.Page.Locator("#plan").BoundsAsync();
        await page.Swipe(x, y, x, view.Y + view.Height - 6, moves: 15, up: false);
        await page.Page.WaitForTimeoutAsync(2500);
        Assert.Equal(
            (24 * 52) - view.Height, await page.Page.EvaluateAsync<double>("() => document.getElementById('plan').scrollTop"), 1.0);
        await Expect(page.Page.Locator(".lectica-row.is-grabbed")).ToHaveAttributeAsync("data-key", "R06");
        await page.Touch("touchEnd", 0, 0);
        Assert.Equal("R06", (await page.State()).Order[^1]);
    }

    [Fact]
    public async Task A_finger_pulls_the_list_beyond_its_top_to_read_it_anew_and_scrolls_it_elsewhere()
    {
        await using var page = await fixture.Open("sample=archive");
        var (x, y) = await page.Middle("R01");
        await page.Swipe(x, y, x, y + 160, up: false);
        var pull = page.Page.Locator(".lectica-pull.is-armed");
        await pull.WaitForAsync();
        await Expect(pull).ToHaveTextAsync("Let go: Read again");
        await page.Touch("touchEnd", x, y + 160);
        await page.Page.Locator(".lectica-pull.is-under-way").WaitForAsync();
        await page.Clean("read again");
        await page.Page.Locator(".lectica-pull").WaitForAsync(new() { State = WaitForSelectorState.Detached });
        // Up, the same finger scrolls; and down again, until the top.
        await page.Swipe(x, y + 200, x, y, 20);
        await page.Page.WaitForFunctionAsync("() => document.getElementById('plan').scrollTop > 60");
        await page.Swipe(x, y, x, y + 80, 20, up: false);
        await Expect(page.Page.Locator(".lectica-pull")).ToHaveCountAsync(0);
        await page.Touch("touchEnd", x, y + 80);
        // By its key.
        await page.Page.Locator("#plan").FocusAsync();
        await page.Page.Keyboard.PressAsync("Alt+r");
        await page.Page.Locator(".lectica-pull.is-under-way").WaitForAsync();
    }
}
