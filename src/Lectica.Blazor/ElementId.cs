namespace Lectica.Blazor;

/// <summary>Ids for elements whose component was given none: each once in a process.</summary>
internal static class ElementId
{
    private static int _made;

    public static string Next() => $"lectica-{Interlocked.Increment(ref _made)}";
}
