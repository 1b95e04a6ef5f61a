namespace Lectica.Tests.House;

/// <summary>
/// Where the repository is, for what the tests read of it: above the tests' own assembly. A build may leave no source path in it.
/// </summary>
internal static class Repository
{
    public static string Root { get; } = Find();

    private static string Find()
    {
        var at = AppContext.BaseDirectory;
        while (at is not null && !File.Exists(Path.Combine(at, "Lectica.slnx"))) at = Path.GetDirectoryName(at);
        return at ?? throw new InvalidOperationException("The tests run from within the repository.");
    }

    public static string At(params string[] parts) => Path.Combine([Root, .. parts]);
}
