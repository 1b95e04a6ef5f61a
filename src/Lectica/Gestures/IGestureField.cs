using Lectica.Input;
using Lectica.Layout;

namespace Lectica.Gestures;

/// <summary>What recognition asks of a list: what lies under a point, and which gestures mean anything there.</summary>
internal interface IGestureField : IHitTester
{
    /// <summary>
    /// Whether a gesture that begins there has a rule. Asked of long press, swipe, drag and pull: where none has a rule, a pointer that
    /// strays is not a drag, and a long press that nobody waits for is still a tap.
    /// </summary>
    bool Wants(GestureKind kind, PointerType pointer, Hit hit, Modifiers modifiers);

    /// <summary>
    /// Whether it is turned: what is across a row, x here, is up and down on the screen. Only the reasons of verdicts say so.
    /// </summary>
    bool IsTurned => false;
}
