using System.Globalization;
using Lectica.Acts;
using Lectica.Gestures;
using Lectica.Input;

namespace Lectica.Shell;

/// <summary>The words of a trace for what has names of its own in code.</summary>
internal static class Words
{
    /// <summary>How many keys a line names at most.</summary>
    public const int Keys = 1000;

    public static string Of(PointerType type) => Kebab(type);

    public static string Of(GestureKind kind) => Kebab(kind);

    public static string Of(Criterion limit) => Kebab(limit);

    public static string Of(RefusalKind kind) => Kebab(kind);

    public static string Of(HapticHint hint) => Kebab(hint);

    /// <summary>An item that has not been read, by its place: such as <c>#1200</c>.</summary>
    public static string Unread(int index) => string.Create(CultureInfo.InvariantCulture, $"#{index}");

    public static List<string>? Of(Modifiers modifiers) =>
        modifiers == Modifiers.None ? null
        : [.. new[] { Modifiers.Ctrl, Modifiers.Shift, Modifiers.Alt, Modifiers.Meta }.Where(m => modifiers.HasFlag(m))
        .Select(m => m.ToString())];

    /// <summary>Such as <c>long-press</c>.</summary>
    private static string Kebab<T>(T value) where T : struct, Enum
    {
        var name = value.ToString();
        var words = new System.Text.StringBuilder(name.Length + 2);
        foreach (var letter in name)
        {
            if (char.IsUpper(letter) && words.Length > 0) words.Append('-');
            words.Append(char.ToLower(letter, CultureInfo.InvariantCulture));
        }
        return words.ToString();
    }
}
