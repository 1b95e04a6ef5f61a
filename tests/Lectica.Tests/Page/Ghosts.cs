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
                window.ghosts_ = 0;
                const seen = node => node.nodeType === 1 && node.matches('.lectica-row.is-ghost');
                new MutationObserver(all => all.forEach(c => { window.ghosts_ += [...c.addedNodes].filter(seen).length; }))
                    .observe(document.body, { childList: true, subtree: true });
            }
            """);
        async Task<int> After(Func<Task> act)
        {
            await act();
            await page.WaitForTimeoutAsync(600);
            return await page.EvaluateAsync<int>("() => { const all = window.ghosts_; window.ghosts_ = 0; return all; }");
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
    }
}
