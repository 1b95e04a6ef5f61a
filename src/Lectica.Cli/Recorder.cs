using System.Text.Json;
using Lectica.Skia;
using Lectica.Testing;
using Lectica.Tracing;

namespace Lectica.Cli;

/// <summary>
/// Plays a script over a list and keeps what a reader may want: the trace, and a picture's worth after each tick in which something
/// happened.
/// </summary>
internal sealed class Recorder
{
    private readonly InteractiveList<Row, string> _list;
    private readonly Narrator _narrator;
    private readonly List<TraceLine> _tick = [];
    private readonly Action<TraceLine>? _told;
    private readonly List<string> _tapped = [], _activated = [];
    private TracedState? _end;
    private double? _x, _y;

    /// <summary>A recorder.</summary>
    /// <param name="list">The list.</param>
    /// <param name="film">Whether it keeps pictures.</param>
    /// <param name="told">Takes each line of the trace as it comes, which is then not kept: there may be very many.</param>
    public Recorder(InteractiveList<Row, string> list, bool film, Action<TraceLine>? told = null)
    {
        (_list, _narrator, _told) = (list, new(list), told);
        if (film) Film.Add(new(list.Frame, "before"));
        _list.Traced += line =>
        {
            Take(line);
            if (film) _tick.Add(line);
            if (line is not TracedInput input) return;
            if (input.X is not null)
                (_x, _y) = input is { Type: "pointerup", PointerType: "touch" } ? (null, null) : (input.X, input.Y);
            if (input.Type is "pointercancel" or "keydown") (_x, _y) = (null, null);
        };
        KeepsFilm = film;
    }

    public List<TraceLine> Lines { get; } = [];

    private void Take(TraceLine line)
    {
        if (_told is null) Lines.Add(line);
        else _told(line);
        if (line is TracedChange { Change: "tapped" } tapped) _tapped.Add(tapped.Key!);
        else if (line is TracedChange { Change: "activated" } activated) _activated.Add(activated.Key!);
    }

    /// <summary>The keys that the app was told of as tapped, in order.</summary>
    public IReadOnlyList<string> Tapped => _tapped;

    /// <summary>The keys that the app was told of as activated, in order.</summary>
    public IReadOnlyList<string> Activated => _activated;

    /// <summary>The list's state at the end.</summary>
    public TracedState End => _end ?? _list.StateLine();

    public List<FilmFrame> Film { get; } = [];

    private bool KeepsFilm { get; }

    public Narrator Narrator => _narrator;

    /// <summary>What the list says at the end: its brief notice, or else why it shows nothing; null where it does neither.</summary>
    public string? Notice => _list.Frame.Brief?.Text ?? (_list.Frame.Rows is [{ Notice: not null } only] ? only.Content.Label : null);

    /// <summary>Plays a script or a recording.</summary>
    public void Play(Input input, Progress progress)
    {
        var player = new ListPlayer<Row, string>(_list, keeps: false);
        var ticks = input.Script?.Ticks ?? input.Recording!.Inputs.Length;
        player.TickPlayed += tick =>
        {
            progress.Report("Playing", (double)tick / ticks);
            // So that the same script always gives the same trace.
            if (_list.IsPaged) _list.WaitUntilRead();
            if (KeepsFilm && _tick.Exists(l => l is not TracedInput { Type: not "keydown" }))
                Film.Add(new(_list.Frame, $"{_tick[^1].T ?? player.Now:0} ms · {Narrator.Caption(_tick)}", _x, _y));
            _tick.Clear();
        };
        if (input.Script is { } script) player.Play(script);
        else player.Play(input.Recording!);
        Take(_end = _list.StateLine());
    }

    public void WriteTrace(Stream stream)
    {
        using var writer = Writer(stream);
        foreach (var line in Lines) writer.WriteLine(line.ToJson());
    }

    /// <summary>Writes lines of a trace.</summary>
    public static StreamWriter Writer(Stream stream) => new(stream, bufferSize: 1 << 16, leaveOpen: true) { NewLine = "\n" };
}

/// <summary>What a list is played: a script of WebDriver actions, or a recording; the file's ending tells which.</summary>
internal sealed record Input(ActionScript? Script, Recording? Recording)
{
    public static Input Load(string path)
    {
        path = Files.Locate(path);
        var isRecording = Path.GetExtension(path).ToLowerInvariant() is ".jsonl" or ".ndjson";
        try
        {
            return isRecording ? new(null, Recording.Load(path)) : new(ActionScript.Load(path), null);
        }
        catch (InputException) when (HoldsRecording(path) is { } holds && holds != isRecording)
        {
            throw new InputException(path, null, holds
                ? "this is a recording, one event a line: give the file the ending .jsonl."
                : "this is a WebDriver actions script: give the file the ending .json.");
        }
    }

    /// <summary>Whether the first value in a file is an event, and not a script; null where it is neither.</summary>
    private static bool? HoldsRecording(string path)
    {
        try
        {
            var reader = new Utf8JsonReader(InputFile.Read(path, "a script or a recording"), new() { AllowMultipleValues = true });
            using var first = JsonDocument.ParseValue(ref reader);
            return first.RootElement.ValueKind switch
            {
                JsonValueKind.Array => false,
                JsonValueKind.Object when first.RootElement.TryGetProperty("actions", out _) => false,
                JsonValueKind.Object when first.RootElement.TryGetProperty("timeStamp", out _) => true,
                _ => null,
            };
        }
        catch (JsonException)
        {
            return null;
        }
    }
}
