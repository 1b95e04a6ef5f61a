using System.Diagnostics.CodeAnalysis;

namespace Lectica.Input;

/// <summary>Which key stands for Mod in chords.</summary>
public enum ModKey
{
    /// <summary>Control: everywhere but on Apple's systems.</summary>
    Ctrl,

    /// <summary>Meta: Command on Apple's systems.</summary>
    Meta,
}

/// <summary>
/// A key with modifiers, written such as <c>Mod+Shift+A</c>, <c>Alt+ArrowUp</c> or <c>Space</c>: modifiers in any order, then a
/// W3C <c>key</c> value. Letters are written large and match either case.
/// </summary>
/// <param name="Key">The key: a W3C <c>key</c> value, with <c>Space</c> for the space character.</param>
/// <param name="Modifiers">The modifiers that must be down; no others may be.</param>
/// <param name="Mod">Whether the platform's Mod key must be down too.</param>
public readonly record struct KeyChord(string Key, Modifiers Modifiers = Modifiers.None, bool Mod = false)
{
    /// <summary>Reads a chord.</summary>
    /// <exception cref="FormatException">The text is no chord; the message says what would be.</exception>
    public static KeyChord Parse(string text) => TryParse(text, out var chord, out var error) ? chord : throw new FormatException(error);

    /// <summary>Reads a chord; the error says what would be one.</summary>
    public static bool TryParse([NotNullWhen(true)] string? text, out KeyChord chord, [NotNullWhen(false)] out string? error)
    {
        chord = default;
        error = $"'{text}' is no key chord: write modifiers (Mod, Ctrl, Shift, Alt, Meta) and one key, such as Mod+Shift+A, Alt+ArrowUp " +
            $"or Space.";
        if (string.IsNullOrWhiteSpace(text)) return false;
        // The key itself may be a plus.
        var parts = text.EndsWith("++", StringComparison.Ordinal) ? [.. text[..^2].Split('+'), "+"] : text == "+" ? ["+"] : text.Split('+');
        var modifiers = Modifiers.None;
        var mod = false;
        foreach (var part in parts[..^1])
        {
            if (part == "Mod") mod = true;
            else if (Enum.TryParse<Modifiers>(part, out var one) && one != Modifiers.None && Enum.IsDefined(one)) modifiers |= one;
            else return false;
        }
        var key = parts[^1];
        if (key.Length == 0 || char.IsWhiteSpace(key[0])) return false;
        chord = new(key.Length == 1 ? key.ToUpperInvariant() : key, modifiers, mod);
        error = null;
        return true;
    }

    /// <summary>Whether a key press is this chord, where <paramref name="modKey"/> is Mod.</summary>
    public bool Matches(in KeyPress press, ModKey modKey)
    {
        var wanted = Resolve(modKey);
        var key = press.Key == " " ? "Space" : press.Key;
        if (!string.Equals(key, Key, key.Length == 1 ? StringComparison.OrdinalIgnoreCase : StringComparison.Ordinal)) return false;
        // A character that needs Shift to be typed matches with it, such as + or ?.
        var ignore = key.Length == 1 && !char.IsLetterOrDigit(key[0]) ? Modifiers.Shift : Modifiers.None;
        return (press.Modifiers | ignore) == (wanted | ignore);
    }

    /// <summary>The modifiers with Mod put in.</summary>
    public Modifiers Resolve(ModKey modKey) =>
        Modifiers | (!Mod ? Modifiers.None : modKey == ModKey.Meta ? Modifiers.Meta : Modifiers.Ctrl);

    /// <summary>The chord as menus show it: <c>Ctrl+Shift+A</c>, and on Apple's systems by the signs that are on their keys.</summary>
    public string ToText(ModKey modKey)
    {
        var modifiers = Resolve(modKey);
        return modKey != ModKey.Meta ? new KeyChord(Key, modifiers).ToString()
            : $"{Sign(Modifiers.Ctrl, "⌃")}{Sign(Modifiers.Alt, "⌥")}{Sign(Modifiers.Shift, "⇧")}{Sign(Modifiers.Meta, "⌘")}{Key}";

        string Sign(Modifiers one, string sign) => modifiers.HasFlag(one) ? sign : "";
    }

    /// <summary>The chord as it is written.</summary>
    public override string ToString()
    {
        var text = Mod ? "Mod+" : "";
        if (Modifiers.HasFlag(Modifiers.Ctrl)) text += "Ctrl+";
        if (Modifiers.HasFlag(Modifiers.Meta)) text += "Meta+";
        if (Modifiers.HasFlag(Modifiers.Alt)) text += "Alt+";
        if (Modifiers.HasFlag(Modifiers.Shift)) text += "Shift+";
        return text + Key;
    }
}
