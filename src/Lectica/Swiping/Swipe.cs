using System.Collections.Immutable;
using System.Globalization;
using Lectica.Gestures;
using Lectica.Items;
using Lectica.Layout;

namespace Lectica.Swiping;

/// <summary>What a released swipe comes to.</summary>
internal enum SwipeOutcome
{
    /// <summary>The row goes back over its tray.</summary>
    Close,

    /// <summary>The tray stays open.</summary>
    Open,

    /// <summary>The command is invoked that the row was swiped through to.</summary>
    Invoke,
}

/// <summary>
/// A row on its way: under a finger, or with its tray open. Offsets are measured in reading direction: how far the leading tray is
/// uncovered, px, or negative how far the trailing one is.
/// </summary>
/// <param name="Index">The row's item.</param>
/// <param name="Began">Where the row was when the finger took it.</param>
/// <param name="Offset">Where the row is.</param>
/// <param name="IsArmed">Whether a release now would invoke the command that is swiped through to.</param>
/// <param name="IsHeld">Whether a finger moves it; otherwise it rests, or settles as <paramref name="Settle"/> says.</param>
/// <param name="Settle">How it comes to rest after a release.</param>
/// <param name="IsLeaving">Whether it was swiped through, and waits for what the command comes to.</param>
internal readonly record struct Swipe(
    int Index, double Began, double Offset, bool IsArmed, bool IsHeld, Motion Settle, bool IsLeaving = false)
{
    /// <summary>Whether a tray is open and at rest, or settling to open.</summary>
    public bool IsOpen => !IsHeld && !IsLeaving && Offset != 0;

    /// <summary>The edge whose tray is uncovered.</summary>
    public Edge Edge => Offset < 0 ? Edge.Trailing : Edge.Leading;

    /// <summary>The same after an edit of the source, or null where the item has left.</summary>
    public Swipe? After(Edit edit) => edit.Apply(Index) is >= 0 and var index ? this with { Index = index } : null;
}

/// <summary>The physics of swiping: pure functions of where the finger is and how fast it went.</summary>
internal sealed class SwipePhysics(Trays trays, Thresholds thresholds, double rowWidth, bool reducedMotion)
{
    // A wider one could not be opened without passing the arming line, and would leave nothing of the row to press.
    private const double MostOfRow = 2.0 / 3;

    /// <summary>
    /// The width of an edge's tray at rest, px: as wide as its commands are, and at most two thirds of the row. Then they are narrower.
    /// </summary>
    public double TrayWidth(Edge edge) => Math.Min(MostOfRow * rowWidth, trays.At(edge).Length * thresholds.TrayCommandWidth);

    /// <summary>A finger takes a row, which may have its tray open.</summary>
    public static Swipe Take(int index, Swipe? open) =>
        open is { } o && o.Index == index ? o with { Began = o.Offset, IsHeld = true, IsArmed = false }
        : new(index, 0, 0, false, true, default);

    /// <summary>The finger is so many px in reading direction from where it went down.</summary>
    public Swipe Follow(Swipe swipe, double distance)
    {
        var wanted = swipe.Began + distance;
        var edge = wanted < 0 ? Edge.Trailing : Edge.Leading;
        double tray = TrayWidth(edge), far = Math.Abs(wanted);
        var through = trays.Through(edge) is not null;
        // Where there is more to do the row follows all the way, else it resists.
        var offset = far <= tray || through ? Math.Min(far, rowWidth) : Math.Min(rowWidth, tray + ((far - tray) * thresholds.Resistance));
        var line = (swipe.IsArmed ? thresholds.DisarmAt : thresholds.ArmAt) * rowWidth;
        return swipe with { Offset = wanted < 0 ? -offset : offset, IsArmed = through && offset >= line };
    }

    /// <summary>
    /// The finger lets go at a velocity, px/s in reading direction: what comes of it, why, and by how much it missed opening.
    /// </summary>
    public (SwipeOutcome Outcome, string Reason, Shortfall Shortfall) Release(Swipe swipe, double velocity)
    {
        var sign = swipe.Offset < 0 ? -1 : 1;
        double tray = TrayWidth(swipe.Edge), offset = Math.Abs(swipe.Offset), speed = velocity * sign;
        var projected = offset + (thresholds.ProjectionTime * speed);
        var half = tray / 2;
        var told = $"released at {Px(offset)} and {Px(speed)}/s: projected {Px(projected)}";
        var line = thresholds.ArmAt * rowWidth;
        if (swipe.IsArmed && projected >= line) return (SwipeOutcome.Invoke, $"{told}, the arming line is at {Px(line)}: invokes", default);
        if (swipe.IsArmed)
            return (projected > half ? SwipeOutcome.Open : SwipeOutcome.Close,
                $"{told}, under the arming line at {Px(line)}: {(projected > half ? "opens" : "closes")}",
                    new(Criterion.ArmingLine, projected, line));
        if (tray == 0)
            return (SwipeOutcome.Close, $"there is no tray at the {swipe.Edge.ToString().ToLowerInvariant()} edge: goes back",
                new(Criterion.TrayHalf, projected, double.PositiveInfinity));
        return projected > half
            ? (SwipeOutcome.Open, $"{told}, half the tray is {Px(half)}: opens", default)
            : (SwipeOutcome.Close, $"{told}, half the tray is {Px(half)}: closes", new(Criterion.TrayHalf, projected, half));
    }

    /// <summary>The row comes to rest, open or not.</summary>
    public Swipe Rest(Swipe swipe, bool open, double time)
    {
        var to = !open ? 0 : swipe.Offset < 0 ? -TrayWidth(Edge.Trailing) : TrayWidth(Edge.Leading);
        return swipe with
        {
            Offset = to,
            IsArmed = false,
            IsHeld = false,
            IsLeaving = false,
            Settle = new(swipe.Offset, to, time, reducedMotion ? 0 : thresholds.SettleTime),
        };
    }

    /// <summary>The row goes all the way, until it is known what its command comes to.</summary>
    public Swipe Leave(Swipe swipe, double time)
    {
        var to = swipe.Offset < 0 ? -rowWidth : rowWidth;
        return swipe with
        {
            Offset = to,
            IsHeld = false,
            IsLeaving = true,
            Settle = new(swipe.Offset, to, time, reducedMotion ? 0 : thresholds.SettleTime),
        };
    }

    /// <summary>
    /// Where the tray's commands lie, px from the row's left edge: shared out evenly over what is uncovered, the outermost at the edge.
    /// Armed, the command that would be invoked has all of it.
    /// </summary>
    public ImmutableArray<(TrayEntry Entry, double Left, double Width)> LayOut(Swipe swipe, bool rightToLeft)
    {
        var uncovered = Math.Abs(swipe.Offset);
        var entries = trays.At(swipe.Edge);
        if (uncovered <= 0 || entries.IsEmpty) return [];
        if (swipe.IsArmed && trays.Through(swipe.Edge) is { } through) entries = [through];
        var width = uncovered / entries.Length;
        var onLeft = (swipe.Edge == Edge.Leading) != rightToLeft;
        return [.. entries.Select((entry, k) => (entry, onLeft ? k * width : rowWidth - ((k + 1) * width), width))];
    }

    // Adding 0 makes a plain 0 of -0.
    private static string Px(double value) => (Math.Round(value, 1) + 0).ToString("0.#", CultureInfo.InvariantCulture) + " px";
}
