using System.Collections.Immutable;
using Lectica.Layout;
using Lectica.Marking;
using Lectica.Swiping;

namespace Lectica.States;

/// <summary>What stands above the rows.</summary>
internal sealed record Caption(string? Title, string? Subtitle);

/// <summary>Where the keyboard is.</summary>
/// <param name="IsHere">Whether the list has it.</param>
/// <param name="Part">The part that it is on, counted from the leading edge, in a list with a part cursor.</param>
internal readonly record struct KeyFocus(bool IsHere, int Part)
{
    private readonly int _header;

    /// <summary>Whether a pointer was used last.</summary>
    public bool IsByPointer { get; init; }

    /// <summary>The column on whose header it is, from 0; -1 while it is on the rows.</summary>
    public int Header
    {
        get => _header - 1;
        init => _header = value + 1;
    }
}

/// <summary>What of the app's declarations the state and its frames depend on.</summary>
/// <param name="Marks">The marks, as they are drawn.</param>
/// <param name="Trays">The commands at the rows' edges.</param>
/// <param name="HasMenuCommands">Whether any command is in the menu.</param>
internal sealed record Declared(ImmutableArray<MarkSign> Marks, Trays Trays, bool HasMenuCommands)
{
    public static Declared Nothing { get; } = new([], Trays.None, false);

    /// <summary>What a mark looks like: its icon, where it has one, or its look.</summary>
    public (MarkLook Look, string? Icon) LookOf(string mark)
    {
        foreach (var sign in Marks)
            if (sign.Name == mark) return (sign.Look, sign.Icon);
        return default;
    }
}

/// <summary>A mark as it is drawn.</summary>
internal sealed record MarkSign(string Name, string? Label, MarkLook Look, string? Icon);
