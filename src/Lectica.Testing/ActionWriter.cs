using System.Collections.Immutable;
using Lectica.Input;

namespace Lectica.Testing;

/// <summary>Makes a script of a recording: one tick after the other, in each of which one source acts.</summary>
internal sealed class ActionWriter
{
    private static readonly (Modifiers Modifier, string Key)[] ModifierKeys =
        [(Modifiers.Ctrl, "Control"), (Modifiers.Shift, "Shift"), (Modifiers.Alt, "Alt"), (Modifiers.Meta, "Meta")];

    private readonly Dictionary<string, (string Type, PointerType Pointer, ImmutableArray<SourceAction>.Builder Actions)> _sources = [];
    private readonly Dictionary<string, (double X, double Y)> _places = [];
    private int _tick;
    private Modifiers _down;

    public ActionScript Write(Recording recording)
    {
        double? now = null;
        foreach (var input in recording.Inputs)
        {
            if (now is { } before && input.Time > before)
                Act("key", "keys", default, new("pause", default) { Duration = input.Time - before });
            now = input.Time;
            if (input.Key is { } key)
            {
                Hold(key.Modifiers);
                var value = WebDriverKeys.ValueOf(key.Key);
                Act("key", "keys", default, new("keyDown", default) { Value = value });
                Act("key", "keys", default, new("keyUp", default) { Value = value });
            }
            else if (input.Pointer is { } sample) Pointer(sample);
        }
        Hold(Modifiers.None);
        return new("recording",
            [.. _sources.Select(s => new ActionSource(s.Value.Type, s.Key, s.Value.Pointer, s.Value.Actions.ToImmutable()))]);
    }

    private void Pointer(PointerSample sample)
    {
        Hold(sample.Modifiers);
        var id = $"{sample.PointerType.ToString().ToLowerInvariant()}{sample.PointerId}";
        void Do(SourceAction action) => Act("pointer", id, sample.PointerType, action);
        if (sample.Kind != SampleKind.Cancel && _places.GetValueOrDefault(id, (double.NaN, double.NaN)) != (sample.X, sample.Y))
        {
            _places[id] = (sample.X, sample.Y);
            Do(new("pointerMove", default) { X = sample.X, Y = sample.Y });
        }
        if (sample.Kind == SampleKind.Down) Do(new("pointerDown", default) { Button = sample.Button });
        else if (sample.Kind == SampleKind.Up) Do(new("pointerUp", default) { Button = sample.Button });
        else if (sample.Kind == SampleKind.Cancel) Do(new("pointerCancel", default));
    }

    private void Hold(Modifiers modifiers)
    {
        foreach (var (modifier, key) in ModifierKeys)
        {
            if ((_down & modifier) == (modifiers & modifier)) continue;
            Act("key", "keys", default,
                new((modifiers & modifier) != 0 ? "keyDown" : "keyUp", default) { Value = WebDriverKeys.ValueOf(key) });
        }
        _down = modifiers;
    }

    /// <summary>A tick of one source; the others catch up with pauses when they next act.</summary>
    private void Act(string type, string id, PointerType pointer, SourceAction action)
    {
        if (!_sources.TryGetValue(id, out var source))
            _sources[id] = source = (type, pointer, ImmutableArray.CreateBuilder<SourceAction>());
        while (source.Actions.Count < _tick) source.Actions.Add(new("pause", default));
        source.Actions.Add(action);
        _tick++;
    }
}
