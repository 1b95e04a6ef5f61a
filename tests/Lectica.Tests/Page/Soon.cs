using System.Diagnostics;
using Xunit.Sdk;

namespace Lectica.Tests.Page;

/// <summary>Looks at a page until it is as it should be, as Playwright's own assertions do, for what those have no words for.</summary>
internal static class Soon
{
    // As long as Playwright's.
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(5);

    public static async Task Equal<T>(T expected, Func<Task<T>> read)
    {
        for (var waited = Stopwatch.StartNew(); ; await Task.Delay(25))
        {
            try
            {
                Assert.Equal(expected, await read());
                return;
            }
            catch (EqualException) when (waited.Elapsed < Patience)
            {
                // A page answers in a frame or two, and later on a busy machine.
            }
        }
    }
}
