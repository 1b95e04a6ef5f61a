using Microsoft.Playwright;

namespace Lectica.Tests.Page;

/// <summary>What fades where a row was.</summary>
internal static class Ghosts
{
    /// <summary>Acts on the first rows of a list, of which not all are in view, and counts what fades after each act.</summary>
    public static async Task Check(IPage page)
    {
        await page.EvaluateAsync("""
            () => {
                const place = row => [row.querySelector('.lectica-label').textContent, row.getBoundingClientRect().top];
                const rows = () => [...document.querySelectorAll('#plan .lectica-row[data-key]')];
                const seen = node => node.nodeType === 1 && node.matches('.lectica-row.is-ghost');
                window.begin_ = () => { window.ghosts_ = []; window.rows_ = new Map(rows().map(place)); };
                // How far from where it was seen is what fades.
                const off = row => { const [label, top] = place(row); return Math.abs(top - (window.rows_.get(label) ?? 1e6)); };
                new MutationObserver(all => all.forEach(c => window.ghosts_?.push(...[...c.addedNodes].filter(seen).map(off))))
                    .observe(document.body, { childList: true, subtree: true });
            }
            """);
        async Task<int> After(Func<Task> act)
        {
            await page.EvaluateAsync("() => window.begin_()");
            await act();
            await page.WaitForTimeoutAsync(600);
            var off = await page.EvaluateAsync<double[]>("() => window.ghosts_");
            Assert.All(off, px => Assert.InRange(px, 0, 1));
            return off.Length;
        }
        Task<int> Press(string key) => After(() => page.Keyboard.PressAsync(key));
        await page.Locator("[data-key='R02']").ClickAsync();
        Assert.Equal(0, await Press("Shift+ArrowDown"));
        Assert.Equal(2, await Press("Delete"));
        await Press("Control+z");
        Assert.Equal(0, await Press("End"));
        Assert.Equal(0, await Press("Home"));
        // Rows change places, and none goes.
        await page.Locator("[data-key='R02']").ClickAsync();
        Assert.Equal(0, await Press("Alt+ArrowDown"));
        Assert.Equal(0, await Press("End"));
        Assert.Equal(0, await Press("Home"));
        Assert.Equal(0, await After(() => page.Locator("#plan").EvaluateAsync("e => { e.scrollTop = 300; }")));
        Assert.Equal(0, await Press("Home"));
        Assert.Equal(1, await Press("Delete"));
        // The list is shorter then than it was scrolled.
        await Press("End");
        await page.Locator("#plan .lectica-row[data-key]").Nth(4).ClickAsync();
        await Press("Shift+End");
        Assert.InRange(await Press("Delete"), 3, 20);
    }
}
