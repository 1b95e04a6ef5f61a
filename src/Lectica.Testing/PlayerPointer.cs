using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Swiping;

namespace Lectica.Testing;

/// <summary>
/// A finger, a mouse or a pen of a player. What it touches is named by its item's key alone (the row), or with a part as in
/// <c>check:R07</c>, <c>mark:starred:R07</c>, <c>menu:R07</c>, <c>handle:R07</c> or <c>tray:withdraw:R07</c>; it must be in view. Modifiers
/// are those that the player holds down.
/// </summary>
public sealed class PlayerPointer<TItem, TKey> where TKey : notnull
{
    private readonly ListPlayer<TItem, TKey> _player;
    private readonly int _id;
    private readonly bool _isPrimary;
    private int _buttons;
    private double _lastTap = double.NegativeInfinity;

    internal PlayerPointer(ListPlayer<TItem, TKey> player, PointerType type, int id, bool isPrimary = true) =>
        (_player, Type, _id, _isPrimary) = (player, type, id, isPrimary);

    /// <summary>What it is.</summary>
    public PointerType Type { get; }

    /// <summary>Whether it is down.</summary>
    public bool IsDown => _buttons != 0;

    /// <summary>Where it is, px from the viewport's left edge.</summary>
    public double X { get; private set; }

    /// <summary>Where it is, px from the viewport's top edge.</summary>
    public double Y { get; private set; }

    /// <summary>Taps, for 60 ms. It waits before, so that two taps in a row are two and not a double tap.</summary>
    /// <exception cref="InvalidOperationException">There is no such row or part in view. The other methods throw it too.</exception>
    public Response Tap(string target, int button = 0)
    {
        var limits = _player.List.Options.Thresholds.For(Type);
        if (_player.Now - _lastTap <= limits.DoubleTapTime) _player.Wait(limits.DoubleTapTime + 1 - (_player.Now - _lastTap));
        return TapNow(target, button);
    }

    /// <summary>Taps with the secondary button.</summary>
    public Response SecondaryTap(string target) => Tap(target, button: 2);

    /// <summary>Taps twice within 160 ms.</summary>
    public Response DoubleTap(string target)
    {
        Tap(target);
        _player.Wait(100);
        return TapNow(target, 0);
    }

    private Response TapNow(string target, int button)
    {
        GoTo(target);
        Down(button);
        _player.Wait(60);
        var response = Up(button);
        _lastTap = _player.Now;
        return response;
    }

    /// <summary>
    /// Presses and holds, so long that a long press fires and 50 ms more; <paramref name="release"/> false leaves it down.
    /// </summary>
    public Response LongPress(string target, bool release = true)
    {
        GoTo(target);
        Down();
        var time = _player.List.Options.Thresholds.For(Type).LongPressTime;
        _player.Wait((double.IsFinite(time) ? time : 500) + 50);
        return release ? Up() : Response(true);
    }

    /// <summary>
    /// Swipes a row so that the tray at an edge is uncovered: by <paramref name="distance"/> px at <paramref name="speed"/> px/s. By
    /// <paramref name="release"/> false it stays down at the end.
    /// </summary>
    public Response Swipe(string target, Edge edge, double distance, double speed = 600, bool release = true)
    {
        if (!(distance > 0) || !(speed > 0))
            throw new ArgumentOutOfRangeException(
                nameof(distance), $"A swipe goes more than 0 px at more than 0 px/s, not {distance} at {speed}.");
        GoTo(target);
        var right = (edge == Edge.Leading) != _player.List.Options.IsRightToLeft;
        // Begun where there is room for it.
        X = right ? Math.Min(X, Math.Max(1, _player.List.Viewport.Width - distance - 1))
            : Math.Max(X, Math.Min(_player.List.Viewport.Width - 1, distance + 1));
        Down();
        GlideTo(X + (right ? distance : -distance), Y, 1000 * distance / speed);
        return release ? Up() : Response(true);
    }

    /// <summary>
    /// Drags a row to a gap, which is given by the item before which it is: its index, or the number of items for the end. It takes the row
    /// by its handle where the list has them; a finger holds the row first where it has none.
    /// </summary>
    public Response DragToGap(string target, int gap, double speed = 600, bool release = true)
    {
        var list = _player.List;
        if ((uint)gap > (uint)list.Count)
            throw new ArgumentOutOfRangeException(nameof(gap), gap, $"{list.Count} items have the gaps 0 to {list.Count}.");
        var byHandle = list.Options.Parts.Handle && !target.Contains(':', StringComparison.Ordinal);
        GoTo(byHandle ? "handle:" + target : target);
        var grabbedAt = Y;
        Down();
        if (!byHandle && Type != PointerType.Mouse) _player.Wait(list.Options.Thresholds.For(Type).LongPressTime + 50);
        // It must have been taken up before it is known what comes along.
        var begun = list.Options.Thresholds.For(Type).Tolerance + 1;
        if (list.Plane.Geometry.IsAcross) GlideTo(X + (X < list.Viewport.Width / 2 ? begun : -begun), Y, 50);
        else GlideTo(X, Y + (Y < list.Viewport.Height / 2 ? begun : -begun), 50);
        var (x, y) = list.Shell.Mover.PositionOver(GapOf(gap)) is not { } place ? (X, grabbedAt + begun)
            : list.Plane.Geometry.IsAcross ? (list.Shell.Core.Axes.Out(place.X, place.Y).X, Y)
            : (list.Plane.Geometry.IsTiled ? place.X : X, place.Y);
        if (y < 0 || y > list.Viewport.Height)
            throw new InvalidOperationException(
                $"The gap {gap} is not in view: it lies {y:0} px from the viewport's top, which is {list.Viewport.Height:0} px high. " +
                    "Scroll to it first.");
        GlideTo(x, y, Math.Max(100, 1000 * Math.Abs(y - grabbedAt) / speed));
        return release ? Up() : Response(true);
    }

    private Gap GapOf(int gap)
    {
        var rows = _player.List.Rows;
        return gap < _player.List.Count && rows.Shown.NextAt(gap) is >= 0 and var next && rows.RowOf(next) is { } row
            ? rows.GapAbove(row.Value) : rows.EndOf(rows.Sections.Length - 1);
    }

    /// <summary>Drags to a place, px, over some time, ms, reporting every 1/60 s; with nothing down it only goes there.</summary>
    public void GlideTo(double x, double y, double duration)
    {
        double fromX = X, fromY = Y, start = _player.Now;
        var steps = Math.Max(1, (int)Math.Ceiling(duration / ListPlayer<TItem, TKey>.FrameTime));
        for (var step = 1; step <= steps; step++)
        {
            var done = (double)step / steps;
            _player.Wait(start + (duration * done) - _player.Now is > 0 and var wait ? wait : 0);
            MoveTo(fromX + ((x - fromX) * done), fromY + ((y - fromY) * done));
        }
    }

    /// <summary>Goes to a row or part at once.</summary>
    public void GoTo(string target)
    {
        ArgumentNullException.ThrowIfNull(target);
        var parsed = RowTarget.Prefixes.Any(p => target.StartsWith(p + ":", StringComparison.Ordinal)) ? RowTarget.Parse(target)
            : RowTarget.Parse("row:" + target);
        var (x, y) = parsed.Centre(_player.List, out var problem) ?? throw new InvalidOperationException(problem);
        MoveTo(x, y);
    }

    /// <summary>Goes down where it is.</summary>
    public Response Down(int button = 0)
    {
        if ((_buttons & Bit(button)) != 0) return Response(false);
        var first = _buttons == 0;
        _buttons |= Bit(button);
        return Send(first ? SampleKind.Down : SampleKind.Move, button);
    }

    /// <summary>Moves, in one step.</summary>
    public Response MoveTo(double x, double y)
    {
        if (X == x && Y == y) return Response(false);
        (X, Y) = (x, y);
        // A finger that is not down is nowhere.
        return _buttons != 0 || Type != PointerType.Touch ? Send(SampleKind.Move, -1) : Response(false);
    }

    /// <summary>Goes up where it is.</summary>
    public Response Up(int button = 0)
    {
        if ((_buttons & Bit(button)) == 0) return Response(false);
        _buttons &= ~Bit(button);
        return Send(_buttons == 0 ? SampleKind.Up : SampleKind.Move, button);
    }

    /// <summary>The host takes it back.</summary>
    public Response Cancel()
    {
        _buttons = 0;
        return Send(SampleKind.Cancel, -1);
    }

    private Response Send(SampleKind kind, int button) =>
        _player.Take(new PointerSample(kind, _id, Type, X, Y, _player.Now)
        {
            Button = button,
            Buttons = _buttons,
            Modifiers = _player.Modifiers,
            IsPrimary = _isPrimary,
            Pressure = _buttons == 0 ? 0 : 0.5,
        });

    private static Response Response(bool handled) => new(handled);

    private static int Bit(int button) => button switch { 0 => 1, 1 => 4, 2 => 2, _ => 1 << button };
}
