using System.Runtime.CompilerServices;

namespace Lectica.Tests.House;

/// <summary>Where the repository is, for what the tests read of it.</summary>
internal static class Repository
{
    public static string Root { get; } = Find();

    private static string Find([CallerFilePath] string here = "")
    {
        var at = Path.GetDirectoryName(here);
        while (at is not null && !File.Exists(Path.Combine(at, "Lectica.slnx"))) at = Path.GetDirectoryName(at);
        return at ?? throw new InvalidOperationException("The tests run from within the repository.");
    }

    public static string At(params string[] parts) => Path.Combine([Root, .. parts]);
}
