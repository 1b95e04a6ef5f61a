using Lectica.Input;
using Lectica.Layout;

namespace Lectica.Gestures;

/// <summary>The limits of recognition for one type of pointer.</summary>
/// <param name="Tolerance">How far a pointer may stray from where it went down and still be tapping, px, inclusive.</param>
/// <param name="LongPressTime">How long a press takes to be a long press, ms; infinite where there is none.</param>
/// <param name="DoubleTapTime">How long after a tap's release the second press may come, ms, inclusive.</param>
/// <param name="DoubleTapDistance">How far from the first the second press may be, px, inclusive.</param>
public readonly record struct PointerThresholds(double Tolerance, double LongPressTime, double DoubleTapTime, double DoubleTapDistance);

/// <summary>All limits of what pointers do, as one value. Lengths are px, times ms.</summary>
public sealed record Thresholds
{
    /// <summary>The defaults.</summary>
    public static Thresholds Default { get; } = new();

    /// <summary>For fingers: 10 px; 500 ms; 300 ms and 40 px.</summary>
    public PointerThresholds Touch { get; init; } = new(10, 500, 300, 40);

    /// <summary>For pens: 6 px; 500 ms; 300 ms and 20 px.</summary>
    public PointerThresholds Pen { get; init; } = new(6, 500, 300, 20);

    /// <summary>For mice: 4 px; no long press; 400 ms and 6 px.</summary>
    public PointerThresholds Mouse { get; init; } = new(4, double.PositiveInfinity, 400, 6);

    /// <summary>A swipe moves more than so many times farther along the row than across it.</summary>
    public double SwipeRatio { get; init; } = 1.5;

    /// <summary>Over how long before a release the velocity is taken, ms.</summary>
    public double VelocityTime { get; init; } = 100;

    /// <summary>How far ahead a released swipe is projected, in seconds of its velocity.</summary>
    public double ProjectionTime { get; init; } = 0.15;

    /// <summary>The width of one command in a tray, px, where text has its usual size or a smaller one; else wider by as much.</summary>
    public double TrayCommandWidth { get; init; } = 84;

    /// <summary>How much of the pointer's way a row goes where there is nothing more to uncover.</summary>
    public double Resistance { get; init; } = 1.0 / 3;

    /// <summary>The part of a row's width at which swiping through arms.</summary>
    public double ArmAt { get; init; } = 0.5;

    /// <summary>The part of a row's width under which it disarms again.</summary>
    public double DisarmAt { get; init; } = 0.45;

    /// <summary>How long a row takes to settle after a swipe, ms.</summary>
    public double SettleTime { get; init; } = 220;

    /// <summary>Fingers that come down within this time are the host's, to pinch with, ms.</summary>
    public double TogetherTime { get; init; } = 100;

    /// <summary>How near to the viewport's edge dragging scrolls, px.</summary>
    public double AutoScrollEdge { get; init; } = 44;

    /// <summary>How fast it scrolls at the edge at first, px/s.</summary>
    public double AutoScrollSpeed { get; init; } = 300;

    /// <summary>In how long it gets twice as fast, ms.</summary>
    public double AutoScrollDoubling { get; init; } = 1000;

    /// <summary>How fast it scrolls at most, in viewports a second.</summary>
    public double AutoScrollScreens { get; init; } = 40;

    /// <summary>These four together.</summary>
    internal AutoScrollLimits AutoScroll => new(AutoScrollEdge, AutoScrollSpeed, AutoScrollDoubling, AutoScrollScreens);

    /// <summary>How far the edge of what is grabbed must be past the middle of a row for its gap to change, px.</summary>
    public double GapSlack { get; init; } = 4;

    /// <summary>How far a finger must pull the list down beyond its top, px.</summary>
    public double PullDistance { get; init; } = 120;

    /// <summary>How long something grabbed must be over a collapsed section for it to open, ms.</summary>
    public double HoverTime { get; init; } = 600;

    /// <summary>Those for a type.</summary>
    public PointerThresholds For(PointerType type) => type switch
    {
        PointerType.Touch => Touch,
        PointerType.Pen => Pen,
        _ => Mouse,
    };

    /// <summary>The same with those for a type replaced.</summary>
    public Thresholds With(PointerType type, PointerThresholds limits) => type switch
    {
        PointerType.Touch => this with { Touch = limits },
        PointerType.Pen => this with { Pen = limits },
        _ => this with { Mouse = limits },
    };

    /// <summary>Throws where a value is out of bounds.</summary>
    /// <exception cref="ArgumentOutOfRangeException">The parameter's name is the limit's.</exception>
    public void Validate()
    {
        foreach (var type in (PointerType[])[PointerType.Mouse, PointerType.Pen, PointerType.Touch])
        {
            var limits = For(type);
            AtLeast(limits.Tolerance, 0, nameof(PointerThresholds.Tolerance));
            if (!(limits.LongPressTime > 0))
                throw new ArgumentOutOfRangeException(
                    nameof(PointerThresholds.LongPressTime), limits.LongPressTime, "A long press takes more than 0 ms; infinity for none.");
            AtLeast(limits.DoubleTapTime, 0, nameof(PointerThresholds.DoubleTapTime));
            AtLeast(limits.DoubleTapDistance, 0, nameof(PointerThresholds.DoubleTapDistance));
        }
        AtLeast(SwipeRatio, 0, nameof(SwipeRatio));
        AtLeast(VelocityTime, 1, nameof(VelocityTime));
        AtLeast(ProjectionTime, 0, nameof(ProjectionTime));
        AtLeast(TrayCommandWidth, 24, nameof(TrayCommandWidth));
        AtLeast(Resistance, 0, nameof(Resistance));
        AtLeast(DisarmAt, 0.01, nameof(DisarmAt));
        AtLeast(ArmAt, DisarmAt, nameof(ArmAt));
        AtLeast(SettleTime, 0, nameof(SettleTime));
        AtLeast(TogetherTime, 0, nameof(TogetherTime));
        AtLeast(AutoScrollEdge, 0, nameof(AutoScrollEdge));
        AtLeast(AutoScrollSpeed, 0, nameof(AutoScrollSpeed));
        AtLeast(AutoScrollDoubling, 1, nameof(AutoScrollDoubling));
        AtLeast(AutoScrollScreens, 0, nameof(AutoScrollScreens));
        AtLeast(PullDistance, 1, nameof(PullDistance));
        AtLeast(GapSlack, 0, nameof(GapSlack));
        AtLeast(HoverTime, 0, nameof(HoverTime));
    }

    private static void AtLeast(double value, double least, string name)
    {
        if (!(value >= least) || double.IsInfinity(value))
            throw new ArgumentOutOfRangeException(name, value, $"The limit {name} is at least {least} and finite.");
    }
}
