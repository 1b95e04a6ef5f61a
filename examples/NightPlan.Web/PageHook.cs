using System.Text;
using Lectica.Tracing;
using Microsoft.JSInterop;

namespace Lectica.Examples.NightPlan;

/// <summary>What the page tells scripts: the trace since it was last asked for, and the state line, as JSON.</summary>
public static class PageHook
{
    private const int Longest = 20_000;
    private static readonly Queue<TraceLine> s_trace = new();
    private static Func<string> s_state = () => "{}";
    private static Action s_reset = () => { };

    internal static void Attach<TItem, TKey>(InteractiveList<TItem, TKey> list, Action reset) where TKey : notnull
    {
        s_reset = reset;
        list.Traced += line =>
        {
            s_trace.Enqueue(line);
            if (s_trace.Count > Longest) s_trace.Dequeue();
        };
        s_state = () => list.StateLine().ToJson();
    }

    /// <summary>The trace's lines since the last call, as JSON Lines.</summary>
    [JSInvokable]
    public static string Trace()
    {
        var lines = new StringBuilder();
        while (s_trace.TryDequeue(out var line)) lines.Append(line.ToJson()).Append('\n');
        return lines.ToString();
    }

    /// <summary>Shows the plan as it was at first.</summary>
    [JSInvokable]
    public static void Reset()
    {
        s_reset();
        s_trace.Clear();
    }

    /// <summary>The list as it is now.</summary>
    [JSInvokable]
    public static string State() => s_state();
}
