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
public readonly record struct KeyChord(string Key, Modifiers Modifiers = Modifiers.None, bool Mod = false) : ISpanParsable<KeyChord>
{
    /// <summary>Reads a chord, which is written the same in every culture.</summary>
    /// <exception cref="FormatException">The text is not a chord; the message says what would be.</exception>
    public static KeyChord Parse(string s)
    {
        ArgumentNullException.ThrowIfNull(s);
        return Parse(s.AsSpan());
    }

    /// <inheritdoc cref="Parse(string)"/>
    public static KeyChord Parse(ReadOnlySpan<char> s) => TryParse(s, out var chord) ? chord : throw new FormatException(
        $"'{s}' is not a key chord: write modifiers (Mod, Ctrl, Shift, Alt, Meta) and one key, such as Mod+Shift+A, Alt+ArrowUp or Space.");

    /// <summary>Reads a chord, which is written the same in every culture; false where the text is none.</summary>
    public static bool TryParse([NotNullWhen(true)] string? s, out KeyChord result) => TryParse(s.AsSpan(), out result);

    /// <inheritdoc cref="TryParse(string, out KeyChord)"/>
    public static bool TryParse(ReadOnlySpan<char> s, out KeyChord result)
    {
        result = default;
        var modifiers = Modifiers.None;
        var mod = false;
        // The key itself may be a plus.
        while (s.IndexOf('+') is > 0 and var end && end < s.Length - 1)
        {
            var part = s[..end];
            s = s[(end + 1)..];
            if (part is "Mod") mod = true;
            else if (char.IsAsciiLetter(part[0]) && Enum.TryParse<Modifiers>(part, out var one) && one != Modifiers.None
                && Enum.IsDefined(one)) modifiers |= one;
            else return false;
        }
        if (s.IsEmpty || char.IsWhiteSpace(s[0]) || (s.Length > 1 && s.Contains('+'))) return false;
        result = new(s.Length == 1 ? char.ToUpperInvariant(s[0]).ToString() : s.ToString(), modifiers, mod);
        return true;
    }

    static KeyChord IParsable<KeyChord>.Parse(string s, IFormatProvider? provider) => Parse(s);

    static bool IParsable<KeyChord>.TryParse([NotNullWhen(true)] string? s, IFormatProvider? provider, out KeyChord result) =>
        TryParse(s, out result);

    static KeyChord ISpanParsable<KeyChord>.Parse(ReadOnlySpan<char> s, IFormatProvider? provider) => Parse(s);

    static bool ISpanParsable<KeyChord>.TryParse(ReadOnlySpan<char> s, IFormatProvider? provider, out KeyChord result) =>
        TryParse(s, out result);

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
