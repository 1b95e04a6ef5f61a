using Lectica.Input;

namespace Lectica.Testing;

/// <summary>
/// Plays a WebDriver actions script on a list, on a clock of its own that begins at 0: what takes a second in the script takes none to
/// play, and the same script on the same list gives the same trace to the byte. A move with a duration is reported every 1/60 s.
/// </summary>
public sealed class ScriptPlayer<TItem, TKey>(InteractiveList<TItem, TKey> list) where TKey : notnull
{
    private const double FrameTime = 1000.0 / 60;

    private sealed class Pointer(int id, PointerType type, bool isPrimary)
    {
        public int Id { get; } = id;
        public PointerType Type { get; } = type;
        public bool IsPrimary { get; } = isPrimary;
        public double X { get; set; }
        public double Y { get; set; }
        public int Buttons { get; set; }
    }

    private readonly Dictionary<string, Pointer> _pointers = [];
    private Modifiers _modifiers;

    /// <summary>The clock, ms.</summary>
    public double Now { get; private set; }

    /// <summary>Raised after each tick, with the number of ticks played.</summary>
    public event Action<int>? TickPlayed;

    /// <summary>Plays a script to its end.</summary>
    /// <exception cref="InputException">An action names a row that is not there or not in view; what came before it was played.</exception>
    public void Play(ActionScript script)
    {
        ArgumentNullException.ThrowIfNull(script);
        for (var tick = 0; tick < script.Ticks; tick++)
        {
            double duration = 0;
            var moves = new List<(Pointer Pointer, double FromX, double FromY, double ToX, double ToY, double Duration)>();
            foreach (var source in script.Sources)
            {
                if (tick >= source.Actions.Length) continue;
                var action = source.Actions[tick];
                duration = Math.Max(duration, action.Duration);
                Dispatch(script, source, action, moves);
            }
            Glide(moves);
            Now += duration;
            TickPlayed?.Invoke(tick + 1);
        }
    }

    private void Dispatch(ActionScript script, ActionSource source, SourceAction action, List<(Pointer, double, double, double, double, double)> moves)
    {
        if (action.Type == "pause") return;
        if (source.Type == "key")
        {
            Key(action);
            return;
        }
        if (source.Type == "wheel")
        {
            Origin(script, action, null);
            list.ScrollTo(list.Viewport.ScrollTop + action.DeltaY);
            return;
        }
        if (!_pointers.TryGetValue(source.Id, out var pointer))
            _pointers[source.Id] = pointer = new(_pointers.Count + 1, source.PointerType, !_pointers.Values.Any(p => p.Type == source.PointerType));
        switch (action.Type)
        {
            case "pointerMove":
                var (x, y) = Origin(script, action, pointer);
                (x, y) = (x + action.X, y + action.Y);
                if (x < 0 || y < 0)
                    throw new InputException(script.File, action.Place, $"the move leads to ({x:0.#}, {y:0.#}), outside the viewport: both must be 0 or more.");
                if (action.Duration > 0) moves.Add((pointer, pointer.X, pointer.Y, x, y, action.Duration));
                else MoveTo(pointer, x, y, Now);
                break;
            case "pointerDown":
                var bit = Bit(action.Button);
                if ((pointer.Buttons & bit) != 0) break;
                var first = pointer.Buttons == 0;
                pointer.Buttons |= bit;
                Send(pointer, first ? SampleKind.Down : SampleKind.Move, action.Button, Now);
                break;
            case "pointerUp":
                if ((pointer.Buttons & Bit(action.Button)) == 0) break;
                pointer.Buttons &= ~Bit(action.Button);
                Send(pointer, pointer.Buttons == 0 ? SampleKind.Up : SampleKind.Move, action.Button, Now);
                break;
            default:
                pointer.Buttons = 0;
                Send(pointer, SampleKind.Cancel, -1, Now);
                break;
        }
    }

    private (double X, double Y) Origin(ActionScript script, SourceAction action, Pointer? pointer)
    {
        if (action.Origin == "viewport") return default;
        if (action.Origin == "pointer") return pointer is null ? default : (pointer.X, pointer.Y);
        try
        {
            var target = RowTarget.Parse(action.Origin);
            return target.Centre(list, out var problem) ?? throw new InputException(script.File, action.Place, problem!);
        }
        catch (FormatException e)
        {
            throw new InputException(script.File, action.Place, e.Message);
        }
    }

    /// <summary>The moves of one tick that take time, side by side, in steps of a screen's frame.</summary>
    private void Glide(List<(Pointer Pointer, double FromX, double FromY, double ToX, double ToY, double Duration)> moves)
    {
        if (moves.Count == 0) return;
        var longest = moves.Max(m => m.Duration);
        var steps = (int)Math.Ceiling(longest / FrameTime);
        for (var step = 1; step <= steps; step++)
        {
            var time = Math.Min(step * FrameTime, longest);
            var before = (step - 1) * FrameTime;
            foreach (var m in moves)
            {
                if (before >= m.Duration) continue;
                var done = Math.Min(1, time / m.Duration);
                MoveTo(m.Pointer, m.FromX + ((m.ToX - m.FromX) * done), m.FromY + ((m.ToY - m.FromY) * done), Now + Math.Min(time, m.Duration));
            }
        }
    }

    private void MoveTo(Pointer pointer, double x, double y, double time)
    {
        if (pointer.X == x && pointer.Y == y) return;
        (pointer.X, pointer.Y) = (x, y);
        // A finger that is not down is nowhere.
        if (pointer.Buttons != 0 || pointer.Type != PointerType.Touch) Send(pointer, SampleKind.Move, -1, time);
    }

    private void Send(Pointer pointer, SampleKind kind, int button, double time) => list.Take(new PointerSample(
        kind, pointer.Id, pointer.Type, pointer.X, pointer.Y, time, button, pointer.Buttons, _modifiers, pointer.IsPrimary, pointer.Buttons == 0 ? 0 : 0.5));

    private static int Bit(int button) => button switch { 0 => 1, 1 => 4, 2 => 2, _ => 1 << button };

    private void Key(SourceAction action)
    {
        var key = WebDriverKeys.NameOf(action.Value);
        var modifier = key switch { "Shift" => Modifiers.Shift, "Control" => Modifiers.Ctrl, "Alt" => Modifiers.Alt, "Meta" => Modifiers.Meta, _ => Modifiers.None };
        if (modifier != Modifiers.None) _modifiers = action.Type == "keyDown" ? _modifiers | modifier : _modifiers & ~modifier;
        else if (action.Type == "keyDown") list.Take(new KeyPress(key, _modifiers, Now));
    }
}
