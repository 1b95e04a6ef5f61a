using Microsoft.Playwright;

namespace Lectica.Tests.Page;

internal static class Locators
{
    /// <summary>
    /// The bounds of an element as soon as it is shown. A menu is in the page before it is open, and has none until then.
    /// </summary>
    public static async Task<LocatorBoundingBoxResult> BoundsAsync(this ILocator element)
    {
        await element.WaitForAsync();
        return await element.BoundingBoxAsync()
            ?? throw new InvalidOperationException($"'{element}' was shown and is so no longer: it has no bounds.");
    }
}
