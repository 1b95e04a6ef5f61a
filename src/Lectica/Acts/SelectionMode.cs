namespace Lectica.Acts;

/// <summary>How many items may be selected.</summary>
public enum SelectionMode
{
    /// <summary>None: taps and keys activate, and nothing is selected.</summary>
    None,

    /// <summary>One, or none.</summary>
    Single,

    /// <summary>Exactly one, as long as there is any that can be.</summary>
    SingleRequired,

    /// <summary>Any number.</summary>
    Multiple,
}
