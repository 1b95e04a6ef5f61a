using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;

namespace Lectica.Gestures;

/// <summary>What a pointer did.</summary>
public enum GestureKind
{
    /// <summary>It went down; the row shows it.</summary>
    Press,

    /// <summary>It went up without having done anything more: the press look ends.</summary>
    Release,

    /// <summary>It went down and up on one row.</summary>
    Tap,

    /// <summary>A second tap, soon and near enough to the first, which did not close a menu or a tray and did not drop.</summary>
    DoubleTap,

    /// <summary>A tap with the secondary button.</summary>
    SecondaryTap,

    /// <summary>It stayed down in its place for the long press time.</summary>
    LongPress,

    /// <summary>It moved along its row, which follows it.</summary>
    Swipe,

    /// <summary>It moved past the tolerance where something can be dragged: rows, a box, a rectangle.</summary>
    Drag,

    /// <summary>It moved past the tolerance after a long press.</summary>
    HoldDrag,

    /// <summary>A finger moved down past the tolerance while the list was scrolled to its top.</summary>
    Pull,

    /// <summary>A finger moved past the tolerance where nothing takes it: the host scrolls.</summary>
    Pan,
}

/// <summary>Where in its course a gesture is.</summary>
internal enum GesturePhase
{
    /// <summary>It was recognised, and is over with that.</summary>
    Done,

    /// <summary>It was recognised and goes on.</summary>
    Begin,

    /// <summary>It goes on.</summary>
    Move,

    /// <summary>The pointer was released.</summary>
    End,

    /// <summary>It was cancelled: all is to be as if it had not begun.</summary>
    Cancel,

    /// <summary>It might have been this gesture, and is not.</summary>
    Rejected,
}

/// <summary>By which limit a gesture was not recognised.</summary>
internal enum Criterion
{
    /// <summary>None: it was recognised.</summary>
    None,

    /// <summary>How far a pointer may stray from its press, px. A swipe or drag must pass it.</summary>
    Tolerance,

    /// <summary>How long a long press takes, ms.</summary>
    LongPressTime,

    /// <summary>How soon a second tap must come, ms.</summary>
    DoubleTapTime,

    /// <summary>How near a second tap must be, px.</summary>
    DoubleTapDistance,

    /// <summary>How many times farther along the row than across it a swipe moves.</summary>
    SwipeRatio,

    /// <summary>The release must be on the row and part of the press.</summary>
    SamePlace,

    /// <summary>No other pointer may be down.</summary>
    OnePointer,

    /// <summary>Something ended the press from outside: the host took the pointer back, the item left, Escape.</summary>
    Interrupted,

    /// <summary>Another gesture was recognised instead.</summary>
    OtherGesture,

    /// <summary>No rule takes the gesture there, as the list is.</summary>
    NoRule,

    /// <summary>Where a swipe must be projected to come to rest for the tray to open, px.</summary>
    TrayHalf,

    /// <summary>Where a row must be for a command to be invoked by swiping through, px.</summary>
    ArmingLine,
}

/// <summary>By how much a gesture missed: what was measured, and what it would have had to keep to, in the limit's unit.</summary>
internal readonly record struct Shortfall(Criterion Criterion, double Measured = 0, double Bound = 0);

/// <summary>One gesture, or one that was not recognised, with the reason in numbers.</summary>
/// <param name="Kind">What it is, or would have been.</param>
/// <param name="Phase">Where in its course it is, or that it was rejected.</param>
/// <param name="PointerId">The contact.</param>
/// <param name="PointerType">What moves the pointer.</param>
/// <param name="Row">The row that was pressed, or null for empty space.</param>
/// <param name="Index">The index of its item, or -1.</param>
/// <param name="Part">The part of the row.</param>
/// <param name="Modifiers">The modifiers now.</param>
/// <param name="StartX">Where the pointer went down, px from the viewport's left edge.</param>
/// <param name="StartY">Where the pointer went down, px from the viewport's top edge.</param>
/// <param name="X">Where it is now, px.</param>
/// <param name="Y">Where it is now, px.</param>
/// <param name="Time">When, ms.</param>
/// <param name="VelocityX">px/s over the last 100 ms, by least squares; at an end alone, else 0.</param>
/// <param name="Reason">Why, such as <c>moved 14.2 px at 180 ms, tolerance 10 px: no tap</c>; empty while it only moves on.</param>
/// <param name="Shortfall">By how much it missed, where it was rejected.</param>
internal readonly record struct Gesture(
    GestureKind Kind, GesturePhase Phase, int PointerId, PointerType PointerType, RowNumber? Row, int Index, Part Part,
    Modifiers Modifiers, double StartX, double StartY, double X, double Y, double Time, double VelocityX, string Reason,
        Shortfall Shortfall)
{
    /// <summary>Whether it was recognised.</summary>
    public bool IsRecognised => Phase != GesturePhase.Rejected;
}
