namespace Lectica.Input;

/// <summary>What moves the pointer, as <c>pointerType</c> in W3C Pointer Events.</summary>
public enum PointerType
{
    /// <summary>A mouse or trackpad.</summary>
    Mouse,

    /// <summary>A pen.</summary>
    Pen,

    /// <summary>A finger.</summary>
    Touch,
}

/// <summary>What a sample reports, as the type of a W3C PointerEvent.</summary>
public enum SampleKind
{
    /// <summary>A contact began or a button went down.</summary>
    Down,

    /// <summary>The pointer moved, or another button changed.</summary>
    Move,

    /// <summary>The contact ended or the last button went up.</summary>
    Up,

    /// <summary>The contact is no more: the host scrolls, the window was lost. Its position means nothing.</summary>
    Cancel,
}

/// <summary>One report of a pointer, with the fields of a W3C PointerEvent.</summary>
/// <param name="Kind">What happened.</param>
/// <param name="PointerId">Which contact; any number, the same from down to up.</param>
/// <param name="PointerType">What moves the pointer.</param>
/// <param name="X">From the list's left edge, in device-independent pixels.</param>
/// <param name="Y">From the top edge of the list's viewport, in device-independent pixels.</param>
/// <param name="Time">When it happened, in milliseconds on any steady clock: the event's <c>timeStamp</c>.</param>
public readonly record struct PointerSample(SampleKind Kind, int PointerId, PointerType PointerType, double X, double Y, double Time)
{
    /// <summary>Which button changed: 0 main, 1 middle, 2 secondary; -1 none.</summary>
    public int Button { get; init; }

    /// <summary>Which buttons are down, as bits: 1 main, 2 secondary, 4 middle.</summary>
    public int Buttons { get; init; }

    /// <summary>Which modifier keys are down.</summary>
    public Modifiers Modifiers { get; init; }

    /// <summary>Whether it is the first contact of its type.</summary>
    public bool IsPrimary { get; init; } = true;

    /// <summary>0 to 1.</summary>
    public double Pressure { get; init; } = 0.5;

    /// <summary>A contact, or the main button of a mouse, going down.</summary>
    public static PointerSample Down(PointerType type, double x, double y, double time, Modifiers modifiers = Modifiers.None) =>
        new(SampleKind.Down, 1, type, x, y, time) { Buttons = 1, Modifiers = modifiers };

    /// <summary>The same moving.</summary>
    public static PointerSample Move(PointerType type, double x, double y, double time, Modifiers modifiers = Modifiers.None) =>
        new(SampleKind.Move, 1, type, x, y, time) { Button = -1, Buttons = 1, Modifiers = modifiers };

    /// <summary>The same going up.</summary>
    public static PointerSample Up(PointerType type, double x, double y, double time, Modifiers modifiers = Modifiers.None) =>
        new(SampleKind.Up, 1, type, x, y, time) { Modifiers = modifiers, Pressure = 0 };
}
