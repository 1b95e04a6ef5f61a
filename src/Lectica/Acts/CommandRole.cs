namespace Lectica.Acts;

/// <summary>What kind of thing a command does. It is shown by form and words, never by colour alone.</summary>
public enum CommandRole
{
    /// <summary>Nothing in particular.</summary>
    Neutral,

    /// <summary>Something good: done, approved.</summary>
    Positive,

    /// <summary>Something to be careful with.</summary>
    Warning,

    /// <summary>Something is lost by it.</summary>
    Destructive,
}
