using System.Globalization;
using Lectica.Examples.NightPlan;
using Microsoft.Playwright;

namespace Lectica.Tests.Page;

/// <summary>
/// Whatever is done to the page, and however fast, it shows the list as it is: each row its own item with its own state, in its place, and
/// nothing that has gone. Elements are kept, reused and skipped where rows change, so this is tried with acts that nobody would think of.
/// </summary>
[Collection("page")]
public sealed class RandomActsTests(PageFixture fixture, ITestOutputHelper output)
{
    // What is seen of the list: all of what scrolls, or what is in the window and not under its header.
    private const string Seen = """
        plan => {
            const { left, right, top, bottom } = plan.getBoundingClientRect();
            if (!plan.closest('.is-flowing')) return { left, right, top, bottom };
            const heads = [...plan.closest('.lectica').querySelectorAll(':scope > :is(.lectica-header, .lectica-columns)')];
            const from = Math.max(top, 0, ...heads.map(e => e.getBoundingClientRect().bottom));
            return { left, right, top: from, bottom: Math.max(from, Math.min(bottom, innerHeight)) };
        }
        """;

    // What is wrong with the page as it is at rest, in words.
    private const string Faults = $$"""
        ([labels, hasKeyboard, isHere]) => {
            const plan = document.getElementById('plan'), wrong = [];
            const say = (isRight, text) => { if (!isRight) wrong.push(text); };
            const rows = [...plan.querySelectorAll('.lectica-row[data-key]')];
            const box = e => e.getBoundingClientRect();
            const state = isHere ? JSON.parse(DotNet.invokeMethod('NightPlan.Web', 'State')) : null;
            // A server tells nobody: then the page must agree with itself.
            const keys = css => rows.filter(r => r.querySelector(css) ?? r.matches(css)).map(r => r.dataset.key);
            const selected = new Set(state?.selected ?? keys('[aria-selected=true]'));
            const starred = new Set(state ? state.marks.starred : keys('[data-part="mark:starred"] [aria-checked=true]'));
            const place = new Map(state?.order.map((key, i) => [key, i])
                ?? rows.map(r => [r.dataset.key, r.getAttribute('aria-rowindex') - 1]));
            const cursor = state ? state.cursor : keys('.is-cursor')[0], isMenuOpen = !!document.getElementById('plan-menu');
            const open = state ? state.open : isMenuOpen ? 'menu' : rows.some(r => r.matches('.has-tray')) ? 'tray' : undefined;
            const seen = new Set();
            const window_ = ({{Seen}})(plan), isSeen = window_.bottom > window_.top + 1;
            const isStrip = !!plan.closest('.is-strip'), isTiled = !!plan.closest('.is-tiled');
            for (const row of rows) {
                const key = row.dataset.key;
                say(!row.matches('.is-ghost'), `${key} still fades`);
                if (row.matches('.is-ghost')) continue;
                say(!seen.has(key), `${key} is there twice`);
                seen.add(key);
                say(place.has(key), `${key} is shown and not in the list`);
                const label = row.querySelector('.lectica-body .lectica-label')?.textContent;
                say(label === labels[key], `${key} is called ${label}, not ${labels[key]}`);
                say(row.getAttribute('aria-selected') === String(selected.has(key)), `${key}: aria-selected is not ${selected.has(key)}`);
                say(row.matches('.is-selected') === selected.has(key), `${key}: the look of selected is not ${selected.has(key)}`);
                if (document.activeElement === plan)
                    say(row.matches('.is-cursor') === (cursor === key), `${key}: the cursor's look is not ${cursor === key}`);
                const check = row.querySelector('[data-part=check] [role=checkbox]');
                if (check && plan.role !== 'treegrid')
                    say(check.getAttribute('aria-checked') === String(selected.has(key)), `${key}: its box is not ${selected.has(key)}`);
                const star = row.querySelector('[data-part="mark:starred"] [role=checkbox]');
                if (star)
                    say(star.getAttribute('aria-checked') === String(starred.has(key)), `${key}: its star is not ${starred.has(key)}`);
                say(!row.matches(open ? '.is-grabbed' : '.is-grabbed, .is-pressed'), `${key} is left as ${row.className}`);
            }
            // Rows are counted with their headings; tiles and cells by their items.
            const byLine = !isTiled && !isStrip, lines = byLine ? plan.querySelectorAll('.lectica-row[aria-rowindex]') : rows;
            const count = byLine ? Number(plan.getAttribute('aria-rowcount')) : place.size;
            const head = byLine && document.querySelector('.lectica-columns') ? 1 : 0;
            const near = [...lines].map(e => {
                const b = box(e), name = e.dataset.key ?? e.className;
                const i = byLine ? Number(e.getAttribute('aria-rowindex')) - 1 - head : place.get(e.dataset.key);
                if (byLine && e.dataset.key && !document.querySelector('.lectica-heading') && plan.role === 'grid')
                    say(i === place.get(name), `${name} is row ${i}, not ${place.get(name)}`);
                return { name, i, top: b.top, bottom: b.bottom, left: b.left, right: b.right };
            }).filter(r => r.bottom > window_.top - 60 && r.top < window_.bottom + 60 && r.right > window_.left - 60
                && r.left < window_.right + 60).sort((a, b) => a.i - b.i);
            for (let i = 1; i < near.length; i++) {
                const [a, b] = [near[i - 1], near[i]];
                say(b.i === a.i + 1, `between ${a.name} and ${b.name} ${b.i - a.i - 1} rows are missing`);
                const isBeside = Math.abs(b.left - a.right) < 12 || Math.abs(a.left - b.right) < 12;
                const isBelow = isTiled ? b.top > a.bottom - 1 : Math.abs(b.top - a.bottom) < 1.5;
                say(isStrip ? isBeside : isBelow || (isTiled && isBeside), `${b.name} does not lie beside ${a.name}`);
            }
            if (isSeen && count > 0 && plan.role !== 'listbox') {
                const ends = r => isStrip ? (plan.matches('[dir=rtl] *') ? [-r.right, -r.left] : [r.left, r.right]) : [r.top, r.bottom];
                const [first, last] = [near[0], near[near.length - 1]], [least, most] = ends(window_);
                say(first, 'nothing is seen');
                say(!first || ends(first)[0] <= least + 1 || first.i === 0, `before ${first?.name} it is empty`);
                say(!last || ends(last)[1] >= most - 1 || last.i === count - head - 1, `after ${last?.name} it is empty`);
            }
            const all = document.querySelector('.lectica-header .lectica-check');
            // It is about what can be selected: under a filter a branch around what is found cannot.
            if (all && state?.order.length > 0 && !plan.querySelector('.is-disabled')) {
                const chosen = state.order.filter(key => selected.has(key)).length;
                const is = chosen === 0 ? 'false' : chosen === state.order.length ? 'true' : 'mixed';
                say(all.getAttribute('aria-checked') === is, `the header's box is ${all.getAttribute('aria-checked')}, not ${is}`);
            }
            const active = plan.getAttribute('aria-activedescendant');
            if (active) say(document.getElementById(active), `the active one, ${active}, is not there`);
            say(isMenuOpen === !!open?.startsWith('menu'), `a menu is open: ${open}`);
            say(!isMenuOpen || document.activeElement.matches('.lectica-menu'), 'a menu is open without the keyboard');
            say(rows.some(r => r.matches('.has-tray')) || !open?.startsWith('tray'), `no tray, and open is ${open}`);
            say(!document.querySelector('.lectica-card, .lectica-gap, .lectica-marquee'), 'something is still carried');
            say(!hasKeyboard || document.activeElement !== document.body, 'the keyboard is nowhere');
            say(plan.scrollTop <= plan.scrollHeight - plan.clientHeight + 1, 'it is scrolled too far');
            return wrong;
        }
        """;

    private static readonly string[] Keys =
    [
        "ArrowDown", "ArrowUp", "ArrowLeft", "ArrowRight", "Home", "End", "PageDown", "PageUp", "Shift+ArrowDown", "Shift+End",
        "Control+a", "Space", "Shift+Space", "Control+Space", "Delete", "Control+z", "Control+y", "Escape", "Alt+ArrowDown", "Alt+ArrowUp",
        "Shift+F10", "Enter", "t", "o", "Control+ArrowDown", "Control+Home", "ArrowDown", "Shift+PageDown",
    ];

    [Theory]
    [InlineData("plan", 3000, "")]
    [InlineData("columns", 2500, "&dir=rtl")]
    [InlineData("sections", 60, "")]
    [InlineData("outline", 120, "&press=select")]
    [InlineData("tiles", 400, "")]
    [InlineData("strip", 90, "&dir=rtl")]
    [InlineData("notes", 80, "&press=select")]
    [InlineData("archive", 200, "")]
    [InlineData("plan", 3000, "&height=auto")]
    [InlineData("sections", 90, "&height=auto&press=select")]
    [InlineData("notes", 90, "&height=auto")]
    public async Task The_page_shows_the_list_as_it_is(string sample, int rows, string query)
    {
        await using var driver = await fixture.Open($"sample={sample}&rows={rows}{query}", phone: Seed % 2 == 0);
        var flows = query.Contains("height=auto", StringComparison.Ordinal);
        Assert.Equal(flows ? 1 : 0, await driver.Page.Locator(".is-flowing").CountAsync());
        await Try(driver, rows, isHere: true);
    }

    [Fact]
    public Task A_page_of_a_server_agrees_with_itself() => new ServerTests(fixture).OnServer(async (page, _) =>
        await Try(new(page, await page.Context.NewCDPSessionAsync(page)), 24, isHere: false));

    // Others are tried with LECTICA_SEED.
    private static int Seed =>
        int.Parse(Environment.GetEnvironmentVariable("LECTICA_SEED") ?? "7", CultureInfo.InvariantCulture);

    private async Task Try(PageDriver driver, int rows, bool isHere)
    {
        var (page, random) = (driver.Page, new Random(Seed));
        var labels = Plan.Make(Math.Max(rows, 2000)).ToDictionary(r => r.Id.ToString(), r => r.Field);
        await page.Locator("#plan").FocusAsync();
        var done = new List<string>();
        for (var round = 0; round < Effort.Of(25); round++)
        {
            for (var acts = random.Next(1, 6); acts > 0; acts--)
            {
                if (await Act() is { } act) done.Add(act);
                if (random.Next(3) == 0) await page.WaitForTimeoutAsync(random.Next(300));
            }
            var wrong = await Wrong();
            // A server's answer takes its time.
            for (var tries = 0; wrong.Length > 0 && !isHere && tries < 10; tries++) wrong = await Wrong();
            Assert.True(wrong.Length == 0,
                $"seed {Seed}, round {round}, after {string.Join("; ", done.TakeLast(12))}:\n{string.Join("\n", wrong.Take(8))}");
        }
        // Keys, clicks, drags and the rest have each had their turn.
        var kinds = done.Select(act => Keys.Contains(act) ? "key" : act.Split(' ')[0]).CountBy(kind => kind).ToDictionary();
        output.WriteLine(string.Join(", ", kinds.Select(k => $"{k.Key} {k.Value}")));
        if (Effort.IsFull) Assert.True(kinds.Count >= 9, string.Join(" ", kinds.Keys));

        async Task<string[]> Wrong()
        {
            try
            {
                await driver.Rest();
                return await page.EvaluateAsync<string[]>(
                    Faults, new object[] { labels, done.Count > 0 && Keys.Contains(done[^1]), isHere });
            }
            catch (PlaywrightException gone)
            {
                return [gone.Message, page.Url];
            }
        }

        async Task<string?> Act()
        {
            var plan = await page.EvaluateAsync<LocatorBoundingBoxResult>(
                $$"""
                () => {
                    const seen = ({{Seen}})(document.getElementById('plan'));
                    return { x: seen.left, y: seen.top, width: seen.right - seen.left, height: seen.bottom - seen.top };
                }
                """);
            if (plan.Height < 60)
            {
                await page.Locator("#plan").EvaluateAsync("plan => plan.scrollIntoView({ block: 'start' })");
                return null;
            }
            var (x, y) = (plan.X + Within(plan.Width - 20), plan.Y + 5 + Within(plan.Height - 10));
            switch (random.Next(16))
            {
                case <= 4:
                    var key = Keys[random.Next(Keys.Length)];
                    // Whoever has pressed beside everything presses no keys.
                    if (await page.EvaluateAsync<bool>("() => document.activeElement === document.body"))
                        await page.Locator("#plan").FocusAsync();
                    await page.Keyboard.PressAsync(key);
                    return key;
                case <= 6:
                    await page.Mouse.ClickAsync(x, y);
                    return $"click {x:0},{y:0}";
                case 7:
                    await page.Keyboard.DownAsync("Shift");
                    await page.Mouse.ClickAsync(x, y);
                    await page.Keyboard.UpAsync("Shift");
                    return $"Shift-click {x:0},{y:0}";
                case 8:
                    await page.Mouse.MoveAsync(x, y);
                    await page.Mouse.WheelAsync(0, random.Next(-1500, 2000));
                    return "wheel";
                case 9:
                    await page.EvaluateAsync(
                        """
                        to => {
                            const plan = document.getElementById('plan');
                            [plan.scrollTop, plan.scrollLeft] = [plan.scrollHeight * to, plan.scrollWidth * to];
                            if (plan.closest('.is-flowing')) scrollTo(0, document.scrollingElement.scrollHeight * to);
                        }
                        """, random.NextDouble());
                    return "jump";
                case 10:
                    var to = plan.X + Within(plan.Width - 20);
                    await driver.Swipe(x, y, to, y + 3, moves: random.Next(2, 8));
                    return $"swipe {x:0},{y:0} to {to:0}";
                case 11:
                    var down = plan.Y + Within(plan.Height);
                    await page.Mouse.MoveAsync(plan.X + plan.Width - 30, y);
                    await page.Mouse.DownAsync();
                    await page.Mouse.MoveAsync(plan.X + (plan.Width / 2), down, new() { Steps = random.Next(2, 8) });
                    await page.Mouse.UpAsync();
                    return $"drag {y:0} to {down:0}";
                case 12:
                    await page.Mouse.ClickAsync(x, y, new() { Button = MouseButton.Right });
                    return $"secondary {x:0},{y:0}";
                case 13:
                    return await Press(".lectica-tool, .lectica-brief button, .lectica-leave, .lectica-header .lectica-check, " +
                        ".lectica-columns button, #requester");
                case 14:
                    return await Press(".lectica-menu [role^=menuitem], [role=option], .lectica-tray button, .lectica-heading, " +
                        "[data-part=toggle], .lectica-notice-row");
                default:
                    await page.Touchscreen.TapAsync(x, y);
                    return $"tap {x:0},{y:0}";
            }
        }

        float Within(float length) => (float)random.NextDouble() * length;

        // Presses one of some elements, if one is in the window.
        async Task<string?> Press(string css)
        {
            var places = await page.EvaluateAsync<float[][]>(
                """
                css => [...document.querySelectorAll(css)].map(e => e.getBoundingClientRect())
                    .map(b => [b.left + b.width / 2, b.top + b.height / 2])
                    .filter(([x, y]) => x > 0 && x < innerWidth && y > 0 && y < innerHeight)
                """, css);
            if (places.Length == 0) return null;
            var place = places[random.Next(places.Length)];
            await page.Mouse.ClickAsync(place[0], place[1]);
            return $"press {place[0]:0},{place[1]:0}";
        }
    }
}
