using Lectica.Tracing;

namespace Lectica.Testing;

/// <summary>A trace does not hold what it must; the message says what it holds instead.</summary>
public sealed class TraceExpectationException(string message) : Exception(message);

/// <summary>
/// What a trace must hold, asked in order: each question looks on from where the last one found its line. Any test framework reports
/// the exception of one that finds nothing.
/// </summary>
public sealed class TraceExpectation
{
    private readonly IReadOnlyList<TraceLine> _lines;
    private int _from;

    internal TraceExpectation(IReadOnlyList<TraceLine> lines) => _lines = lines;

    /// <summary>Looks from here on only: what has happened so far is past.</summary>
    public TraceExpectation FromHere()
    {
        _from = _lines.Count;
        return this;
    }

    /// <summary>A gesture was recognised, such as <c>long-press</c>, on the item with this key where one is given.</summary>
    public TraceExpectation Gesture(string gesture, string? key = null) =>
        Find($"the gesture {gesture}{On(key)}",
        l => l is TracedGesture { Recognised: true, Phase: null or "begin" } g && g.Gesture == gesture && Is(g, key));

    /// <summary>A gesture was not recognised, by this criterion where one is given, such as <c>tolerance</c>.</summary>
    public TraceExpectation Rejected(string gesture, string? criterion = null) =>
        Find($"no {gesture}{(criterion is null ? "" : $", by the criterion {criterion}")}",
        l => l is TracedGesture { Recognised: false } g && g.Gesture == gesture && (criterion is null || g.Criterion == criterion));

    /// <summary>An act was done, such as <c>toggle</c>.</summary>
    public TraceExpectation Act(string act, string? key = null) =>
        Find($"the act {act}{On(key)}", l => l is TracedAct { Refused: null } a && a.Act == act && Is(a, key));

    /// <summary>An act was refused, for this reason where one is given, such as <c>disabled</c>.</summary>
    public TraceExpectation Refused(string? refused = null) =>
        Find($"a refusal{(refused is null ? "" : $" as {refused}")}",
            l => l is TracedAct { Refused: { } r } && (refused is null || r == refused));

    /// <summary>Something changed, such as <c>selection</c> or <c>activated</c>.</summary>
    public TraceExpectation Change(string change, string? key = null) =>
        Find($"the change {change}{On(key)}", l => l is TracedChange c && c.Change == change && Is(c, key));

    /// <summary>From here on no act was done and nothing changed.</summary>
    public TraceExpectation Nothing()
    {
        for (var i = _from; i < _lines.Count; i++)
            if (_lines[i] is TracedAct { Refused: null } or TracedChange)
                throw new TraceExpectationException($"Expected nothing to be done, but there is\n  {_lines[i].ToJson()}");
        _from = _lines.Count;
        return this;
    }

    private static string On(string? key) => key is null ? "" : $" on {key}";

    private static bool Is(TracedOutcome line, string? key) => key is null || line.Key == key;

    private TraceExpectation Find(string what, Func<TraceLine, bool> holds)
    {
        for (var i = _from; i < _lines.Count; i++)
        {
            if (!holds(_lines[i])) continue;
            _from = i + 1;
            return this;
        }
        var rest = _lines.Skip(_from).Where(l => l is not TracedInput).Select(l => "  " + l.ToJson()).ToList();
        throw new TraceExpectationException(rest.Count == 0
            ? $"Expected {what}, but nothing has happened{(_from == 0 ? "" : " since the last line that was found")}."
            : $"Expected {what}. What has happened{(_from == 0 ? "" : " since the last line that was found")}:\n{string.Join("\n", rest)}");
    }
}
