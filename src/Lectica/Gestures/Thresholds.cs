using Lectica.Input;

namespace Lectica.Gestures;

/// <summary>The limits of recognition for one type of pointer.</summary>
/// <param name="Tolerance">How far a pointer may stray from where it went down and still be tapping, px, inclusive.</param>
/// <param name="DoubleTapTime">How long after a tap's release the second press may come, ms, inclusive.</param>
/// <param name="DoubleTapDistance">How far from the first the second press may be, px, inclusive.</param>
public readonly record struct PointerThresholds(double Tolerance, double DoubleTapTime, double DoubleTapDistance);

/// <summary>All limits of recognition, for each type of pointer.</summary>
public sealed record Thresholds
{
    /// <summary>For fingers: 10 px; 300 ms and 40 px.</summary>
    public PointerThresholds Touch { get; init; } = new(10, 300, 40);

    /// <summary>For pens: 6 px; 300 ms and 20 px.</summary>
    public PointerThresholds Pen { get; init; } = new(6, 300, 20);

    /// <summary>For mice: 4 px; 400 ms and 6 px.</summary>
    public PointerThresholds Mouse { get; init; } = new(4, 400, 6);

    /// <summary>Those for a type.</summary>
    public PointerThresholds For(PointerType type) => type switch
    {
        PointerType.Touch => Touch,
        PointerType.Pen => Pen,
        _ => Mouse,
    };
}
