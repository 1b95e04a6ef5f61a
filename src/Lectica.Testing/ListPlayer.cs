using System.Collections.Immutable;
using Lectica.Input;
using Lectica.Tracing;

namespace Lectica.Testing;

/// <summary>Makes players.</summary>
public static class ListPlayer
{
    /// <summary>A player on a list.</summary>
    public static ListPlayer<TItem, TKey> On<TItem, TKey>(InteractiveList<TItem, TKey> list) where TKey : notnull => new(list);
}

/// <summary>
/// Plays input on a list, on a clock of its own that begins at 0: what takes a second takes none to play, timers go off when they are due,
/// and the same input on the same list gives the same trace to the byte. It keeps the trace, and all it has done as a recording.
/// </summary>
public sealed class ListPlayer<TItem, TKey> where TKey : notnull
{
    internal const double FrameTime = 1000.0 / 60;

    private readonly ImmutableArray<RecordedInput>.Builder _played = ImmutableArray.CreateBuilder<RecordedInput>();
    private readonly List<TraceLine> _trace = [];

    private readonly bool _keeps;

    /// <summary>A player on a list.</summary>
    /// <param name="list">The list.</param>
    /// <param name="keeps">Whether it keeps the trace and a recording. Of very much input they are large, and whoever listens to the list's
    /// <c>Traced</c> does without.</param>
    public ListPlayer(InteractiveList<TItem, TKey> list, bool keeps = true)
    {
        ArgumentNullException.ThrowIfNull(list);
        (List, _keeps) = (list, keeps);
        if (keeps) list.Traced += _trace.Add;
        list.Copied += (_, copied) => Clipboard = copied.Data;
        list.PasteWanted += (_, _) => list.Paste(Clipboard);
        Touch = new(this, PointerType.Touch, 1);
        Mouse = new(this, PointerType.Mouse, 2);
        Pen = new(this, PointerType.Pen, 3);
        Expect = new(_trace);
    }

    /// <summary>The list.</summary>
    public InteractiveList<TItem, TKey> List { get; }

    /// <summary>The clock, ms.</summary>
    public double Now { get; private set; }

    /// <summary>A finger.</summary>
    public PlayerPointer<TItem, TKey> Touch { get; }

    /// <summary>A mouse.</summary>
    public PlayerPointer<TItem, TKey> Mouse { get; }

    /// <summary>A pen.</summary>
    public PlayerPointer<TItem, TKey> Pen { get; }

    /// <summary>One more finger, by its own number from 10 on.</summary>
    public PlayerPointer<TItem, TKey> Finger(int number) => new(this, PointerType.Touch, 10 + number);

    /// <summary>All stages of what has happened since the player was made.</summary>
    public IReadOnlyList<TraceLine> Trace => _trace;

    /// <summary>What the trace must hold, in order.</summary>
    public TraceExpectation Expect { get; }

    /// <summary>Modifier keys that are held down from now on.</summary>
    public Modifiers Modifiers { get; set; }

    /// <summary>What is on the clipboard: the list's keys copy to it, and paste from it.</summary>
    public TransferData Clipboard { get; set; } = TransferData.Empty;

    /// <summary>All input so far, as a recording.</summary>
    public Recording Recording => new("recording", _played.ToImmutable());

    /// <summary>Raised after each tick of a script or input of a recording, with the number played.</summary>
    public event Action<int>? TickPlayed;

    /// <summary>Lets time pass, ms; what is due meanwhile happens when it is due.</summary>
    public void Wait(double duration)
    {
        if (!(duration >= 0) || double.IsInfinity(duration))
            throw new ArgumentOutOfRangeException(nameof(duration), duration, "A wait is 0 ms or more, and ends.");
        AdvanceTo(Now + duration);
    }

    private void AdvanceTo(double time)
    {
        while (List.NextDeadline is { } due && due <= time)
        {
            List.Advance(due);
            // What is due over and over, such as scrolling, is due later each time; anything else would never end.
            if (List.NextDeadline is { } next && next <= due) break;
        }
        Now = Math.Max(Now, time);
    }

    /// <summary>Presses a key, with modifiers: a chord such as <c>Shift+ArrowDown</c>.</summary>
    /// <exception cref="FormatException">It is not a chord.</exception>
    public Response Press(string chord)
    {
        var parsed = KeyChord.Parse(chord);
        var key = parsed.Key switch
        {
            "Space" => " ",
            { Length: 1 } letter when !parsed.Modifiers.HasFlag(Modifiers.Shift) => letter.ToLowerInvariant(),
            var name => name,
        };
        return Take(new KeyPress(key, parsed.Resolve(List.Options.ModKey) | Modifiers, Now));
    }

    /// <summary>Drags something in from another program, and drops it at a distance from the viewport's top edge, px.</summary>
    /// <returns>Whether the app takes it.</returns>
    public Response DropFromOutside(TransferData data, double y)
    {
        ArgumentNullException.ThrowIfNull(data);
        var x = List.Viewport.Width / 2;
        List.HoverFromOutside(data.Types, !data.Files.IsEmpty, x, y, Now);
        Wait(FrameTime);
        return List.DropFromOutside(data, x, y, Now);
    }

    /// <summary>Types characters, one every 80 ms.</summary>
    public void Type(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        var elements = System.Globalization.StringInfo.GetTextElementEnumerator(text);
        while (elements.MoveNext())
        {
            Take(new KeyPress(elements.GetTextElement(), Modifiers, Now));
            Wait(80);
        }
    }

    /// <summary>Hands the list a sample, at its own time or now, whichever is later.</summary>
    public Response Take(PointerSample sample, string? intent = null)
    {
        AdvanceTo(sample.Time);
        if (_keeps) _played.Add(new() { Pointer = sample, Intent = intent });
        return List.Take(sample);
    }

    private Response Take(KeyPress press)
    {
        AdvanceTo(press.Time);
        if (_keeps) _played.Add(new() { Key = press });
        return List.Take(press);
    }

    /// <summary>Scrolls, as a host does.</summary>
    public void ScrollTo(double top)
    {
        if (_keeps) _played.Add(new() { ScrollTop = top, ScrollTime = Now });
        List.ScrollTo(top);
    }

    /// <summary>Plays a recording: each input at its own time.</summary>
    public void Play(Recording recording)
    {
        ArgumentNullException.ThrowIfNull(recording);
        Play(recording.Inputs.AsSpan(), null);
    }

    /// <summary>Plays some inputs of a recording, and on to a time; to the end of what waits where that is null.</summary>
    internal void Play(ReadOnlySpan<RecordedInput> inputs, double? until)
    {
        var played = 0;
        foreach (var input in inputs)
        {
            if (input.Pointer is { } sample) Take(sample, input.Intent);
            else if (input.Key is { } press) Take(press);
            else if (input.ScrollTop is { } top)
            {
                AdvanceTo(input.ScrollTime);
                ScrollTo(top);
            }
            TickPlayed?.Invoke(++played);
        }
        if (until is { } time) AdvanceTo(time);
        // What was still waiting when the recording ended, such as a press that is held.
        else if (List.NextDeadline is { } due && due <= Now + 1000) AdvanceTo(due);
    }

    /// <summary>
    /// Plays some inputs as a trial, and comes back to before them.
    /// </summary>
    /// <returns>The trace of it, and whether the list is as it was: where the app has done something in between it is not. Null where no
    /// trial can begin now.</returns>
    internal (TraceLine[] Trace, bool IsBack)? Try(ReadOnlySpan<RecordedInput> inputs, double? until)
    {
        if (List.Shell.BranchOff() is not { } branch) return null;
        var (now, lines, played) = (Now, _trace.Count, _played.Count);
        Play(inputs, until);
        TraceLine[] trace = [.. _trace.Skip(lines)];
        // What the app does by itself, such as to set a property of an item, nothing here takes back.
        var isBack = !Array.Exists(trace, l => l is TracedChange
        {
            Change: "mark" or "move" or "command" or "command-failed" or "command-cancelled",
        })
            && List.Shell.Return(branch);
        _trace.RemoveRange(lines, _trace.Count - lines);
        while (_played.Count > played) _played.RemoveAt(_played.Count - 1);
        Now = now;
        return (trace, isBack);
    }

    /// <summary>Plays a WebDriver actions script to its end. A move with a duration is reported every 1/60 s.</summary>
    /// <exception cref="InputException">An action names a row that is not there or not in view; what came before it was played.</exception>
    public void Play(ActionScript script)
    {
        ArgumentNullException.ThrowIfNull(script);
        var sources = new Dictionary<string, PlayerPointer<TItem, TKey>>();
        for (var tick = 0; tick < script.Ticks; tick++)
        {
            double duration = 0, start = Now;
            var moves = new List<Glide>();
            foreach (var source in script.Sources)
            {
                if (tick >= source.Actions.Length) continue;
                var action = source.Actions[tick];
                duration = Math.Max(duration, action.Duration);
                Dispatch(script, source, action, moves, sources);
            }
            Play(moves);
            AdvanceTo(start + duration);
            TickPlayed?.Invoke(tick + 1);
        }
    }

    private readonly record struct Glide(
        PlayerPointer<TItem, TKey> Pointer, double FromX, double FromY, double ToX, double ToY, double Duration);

    private void Dispatch(ActionScript script, ActionSource source, SourceAction action, List<Glide> moves,
        Dictionary<string, PlayerPointer<TItem, TKey>> sources)
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
            ScrollTo(List.Viewport.ScrollTop + action.DeltaY);
            return;
        }
        if (!sources.TryGetValue(source.Id, out var pointer))
            sources[source.Id] = pointer =
                new(this, source.PointerType, sources.Count + 1, !sources.Values.Any(p => p.Type == source.PointerType));
        switch (action.Type)
        {
            case "pointerMove":
                var (x, y) = Origin(script, action, pointer);
                (x, y) = (x + action.X, y + action.Y);
                // A pointer that is down is the list's wherever it goes.
                if ((x < 0 || y < 0) && !pointer.IsDown)
                    throw new InputException(script.File, action.Position,
                        $"the move leads to ({x:0.#}, {y:0.#}), outside the viewport: both must be 0 or more while the pointer is up.");
                if (action.Duration > 0) moves.Add(new(pointer, pointer.X, pointer.Y, x, y, action.Duration));
                else pointer.MoveTo(x, y);
                break;
            case "pointerDown":
                pointer.Down(action.Button);
                break;
            case "pointerUp":
                pointer.Up(action.Button);
                break;
            default:
                pointer.Cancel();
                break;
        }
    }

    private (double X, double Y) Origin(ActionScript script, SourceAction action, PlayerPointer<TItem, TKey>? pointer)
    {
        if (action.Origin == "viewport") return default;
        if (action.Origin == "pointer") return pointer is null ? default : (pointer.X, pointer.Y);
        try
        {
            var target = RowTarget.Parse(action.Origin);
            return target.Centre(List, out var problem) ?? throw new InputException(script.File, action.Position, problem!);
        }
        catch (FormatException e)
        {
            throw new InputException(script.File, action.Position, e.Message);
        }
    }

    /// <summary>The moves of one tick that take time, side by side, in steps of a screen's frame.</summary>
    private void Play(List<Glide> moves)
    {
        if (moves.Count == 0) return;
        var start = Now;
        var longest = moves.Max(m => m.Duration);
        var steps = (int)Math.Ceiling(longest / FrameTime);
        for (var step = 1; step <= steps; step++)
        {
            double time = Math.Min(step * FrameTime, longest), before = (step - 1) * FrameTime;
            foreach (var m in moves)
            {
                if (before >= m.Duration) continue;
                var done = Math.Min(1, time / m.Duration);
                AdvanceTo(start + Math.Min(time, m.Duration));
                m.Pointer.MoveTo(m.FromX + ((m.ToX - m.FromX) * done), m.FromY + ((m.ToY - m.FromY) * done));
            }
        }
    }

    private void Key(SourceAction action)
    {
        var key = WebDriverKeys.NameOf(action.Value);
        var modifier = key switch
        {
            "Shift" => Modifiers.Shift,
            "Control" => Modifiers.Ctrl,
            "Alt" => Modifiers.Alt,
            "Meta" => Modifiers.Meta,
            _ => Modifiers.None,
        };
        if (modifier != Modifiers.None) Modifiers = action.Type == "keyDown" ? Modifiers | modifier : Modifiers & ~modifier;
        else if (action.Type == "keyDown") Take(new KeyPress(key, Modifiers, Now));
    }
}
