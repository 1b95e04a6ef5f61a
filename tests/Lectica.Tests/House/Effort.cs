using System.Globalization;

namespace Lectica.Tests.House;

/// <summary>
/// How much a test tries. <c>LECTICA_EFFORT=5</c> tries a twentieth: the mutation tester runs the tests once for each of thousands of
/// mutants.
/// </summary>
internal static class Effort
{
    private static readonly int Percent =
        int.TryParse(Environment.GetEnvironmentVariable("LECTICA_EFFORT"), CultureInfo.InvariantCulture, out var percent) ? percent : 100;

    public static bool IsFull => Percent >= 100;

    /// <summary>A number of times, or what is to be reached in as many.</summary>
    public static int Of(int times) => Math.Max(1, (int)((long)times * Percent / 100));
}
