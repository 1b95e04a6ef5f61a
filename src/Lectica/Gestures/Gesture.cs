using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;

namespace Lectica.Gestures;

/// <summary>What a pointer did.</summary>
public enum GestureKind
{
    /// <summary>It went down; the row shows it.</summary>
    Press,

    /// <summary>It went up without having done anything: the press look ends.</summary>
    Release,

    /// <summary>It went down and up on one row.</summary>
    Tap,

    /// <summary>A second tap, soon and near enough to the first.</summary>
    DoubleTap,

    /// <summary>A tap with the secondary button.</summary>
    SecondaryTap,
}

/// <summary>One gesture, or one that was not recognised, with the reason in numbers.</summary>
/// <param name="Kind">What it is, or would have been.</param>
/// <param name="IsRecognised">Whether it was.</param>
/// <param name="PointerId">The contact.</param>
/// <param name="PointerType">What moved the pointer.</param>
/// <param name="Row">The row that was pressed, or null for empty space.</param>
/// <param name="Index">The index of its item, or -1.</param>
/// <param name="Part">The part of the row.</param>
/// <param name="Modifiers">The modifiers at its end.</param>
/// <param name="X">Where it ended, px.</param>
/// <param name="Y">Where it ended, px.</param>
/// <param name="Time">When it ended, ms.</param>
/// <param name="Reason">Why, such as <c>moved 14.2 px at 180 ms, tolerance 10: no tap</c>.</param>
public sealed record Gesture(
    GestureKind Kind, bool IsRecognised, int PointerId, PointerType PointerType, RowNumber? Row, int Index, Part Part,
    Modifiers Modifiers, double X, double Y, double Time, string Reason);
