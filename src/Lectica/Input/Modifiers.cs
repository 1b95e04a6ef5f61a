namespace Lectica.Input;

/// <summary>Modifier keys that are down, as in W3C UI Events.</summary>
[Flags]
public enum Modifiers
{
    /// <summary>None.</summary>
    None = 0,

    /// <summary>Control.</summary>
    Ctrl = 1,

    /// <summary>Shift.</summary>
    Shift = 2,

    /// <summary>Alt, on some keyboards Option.</summary>
    Alt = 4,

    /// <summary>Meta: Command or the logo key.</summary>
    Meta = 8,
}
