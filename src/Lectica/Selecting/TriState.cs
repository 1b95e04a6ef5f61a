namespace Lectica.Selecting;

/// <summary>Whether all, some or none of the items on show and enabled are selected: the state of a header's box.</summary>
public enum TriState
{
    /// <summary>None of them, or there are none.</summary>
    Off,

    /// <summary>Some of them.</summary>
    Mixed,

    /// <summary>All of them.</summary>
    On,
}
