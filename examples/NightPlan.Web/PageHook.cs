using System.Text;
using Lectica.Tracing;
using Microsoft.JSInterop;

namespace Lectica.Examples.NightPlan;

/// <summary>
/// What the page tells scripts: the trace since it was last asked for, and the state line, as JSON. A trace names the items of each change,
/// so the list is traced once somebody asks, and not before.
/// </summary>
public static class PageHook
{
    private const int Longest = 5_000;
    private static readonly Queue<TraceLine> Lines = new();
    private static bool _traces;
    private static Func<string> _state = () => "{}";
    private static Action _reset = () => { }, _listen = () => { };

    internal static void Attach<TItem, TKey>(InteractiveList<TItem, TKey> list, Action reset) where TKey : notnull
    {
        _reset = reset;
        _listen = () => list.Traced += line =>
        {
            Lines.Enqueue(line);
            if (Lines.Count > Longest) Lines.Dequeue();
        };
        if (_traces) _listen();
        _state = () => list.StateLine().ToJson();
    }

    /// <summary>The trace's lines since the last call, as JSON Lines; the first call begins it, and gives none.</summary>
    [JSInvokable]
    public static string Trace()
    {
        if (!_traces) _listen();
        _traces = true;
        var text = new StringBuilder();
        while (Lines.TryDequeue(out var line)) text.Append(line.ToJson()).Append('\n');
        return text.ToString();
    }

    /// <summary>Shows the plan as it was at first.</summary>
    [JSInvokable]
    public static void Reset()
    {
        _reset();
        Lines.Clear();
    }

    /// <summary>The list as it is now.</summary>
    [JSInvokable]
    public static string State() => _state();
}
