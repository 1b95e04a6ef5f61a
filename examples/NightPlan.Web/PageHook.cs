using System.Text;
using Lectica.Tracing;
using Microsoft.JSInterop;

namespace Lectica.Examples.NightPlan;

/// <summary>What the page tells scripts: the trace since it was last asked for, and the state line, as JSON.</summary>
public static class PageHook
{
    private static readonly StringBuilder s_trace = new();
    private static Func<string> s_state = () => "{}";

    internal static void Attach<TItem, TKey>(InteractiveList<TItem, TKey> list) where TKey : notnull
    {
        list.Traced += line => s_trace.Append(line.ToJson()).Append('\n');
        s_state = () => list.StateLine().ToJson();
    }

    /// <summary>The trace's lines since the last call, as JSON Lines.</summary>
    [JSInvokable]
    public static string Trace()
    {
        var lines = s_trace.ToString();
        s_trace.Clear();
        return lines;
    }

    /// <summary>The list as it is now.</summary>
    [JSInvokable]
    public static string State() => s_state();
}
