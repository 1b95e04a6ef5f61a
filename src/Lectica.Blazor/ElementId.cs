namespace Lectica.Blazor;

/// <summary>Ids for elements whose component was given none: each once in a process.</summary>
internal static class ElementId
{
    private static int _made;

    /// <summary>A part in an id.</summary>
    public static string Of(Lectica.Layout.Part part) => part.ToString().Replace(':', '-');

    /// <summary>A name in an id, which may hold no blanks.</summary>
    public static string Of(string name) => string.Concat(name.Select(c => char.IsAsciiLetterOrDigit(c) ? $"{c}" : $"_{(int)c:x}"));

    public static string Next() => $"lectica-{Interlocked.Increment(ref _made)}";
}
