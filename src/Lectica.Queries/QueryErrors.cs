namespace Lectica.Queries;

/// <summary>The provider cannot translate a part of a query to its language.</summary>
public sealed class QueryNotTranslatedException(string part, string expression, Exception inner) : Exception(
    $"The database's provider cannot translate the {part}, {expression}: {FirstLine(inner.Message)}", inner)
{
    /// <summary>The expression.</summary>
    public string Expression { get; } = expression;

    private static string FirstLine(string message) => message.Split('\n')[0].Trim();
}
