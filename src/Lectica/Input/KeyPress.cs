namespace Lectica.Input;

/// <summary>A key going down, with the fields of a W3C KeyboardEvent.</summary>
/// <param name="Key">The <c>key</c> value: a printable character, or a name such as <c>ArrowDown</c> or <c>Enter</c>.</param>
/// <param name="Modifiers">Which modifier keys are down.</param>
/// <param name="Time">When, in milliseconds on the clock of the pointer samples.</param>
/// <param name="IsRepeat">Whether the key is held down and repeats.</param>
public readonly record struct KeyPress(string Key, Modifiers Modifiers = Modifiers.None, double Time = 0, bool IsRepeat = false)
{
    /// <summary>Whether it types a character: one grapheme, with no modifier but Shift (or AltGr's Ctrl+Alt).</summary>
    public bool IsPrintable =>
        (Modifiers & ~Modifiers.Shift) is Modifiers.None or (Modifiers.Ctrl | Modifiers.Alt)
        && Key.Length > 0 && new System.Globalization.StringInfo(Key).LengthInTextElements == 1 && !char.IsControl(Key[0]);
}
