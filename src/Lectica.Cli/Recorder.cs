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
    private double? _x, _y;

    public Recorder(InteractiveList<Row, string> list, bool film)
    {
        (_list, _narrator) = (list, new(list));
        if (film) Film.Add(new(list.Frame, "before"));
        _list.Traced += line =>
        {
            Lines.Add(line);
            _tick.Add(line);
            if (line.X is not null) (_x, _y) = line.Type == "pointerup" && line.PointerType == "touch" ? (null, null) : (line.X, line.Y);
            if (line.Type is "pointercancel" or "keydown") (_x, _y) = (null, null);
        };
        KeepsFilm = film;
    }

    public List<TraceLine> Lines { get; } = [];

    public List<FilmFrame> Film { get; } = [];

    private bool KeepsFilm { get; }

    public Narrator Narrator => _narrator;

    /// <summary>Plays a script or a recording.</summary>
    public void Play(Input input, Progress progress)
    {
        var player = new ListPlayer<Row, string>(_list);
        var ticks = input.Script?.Ticks ?? input.Recording!.Inputs.Length;
        player.TickPlayed += tick =>
        {
            progress.Report("Playing", (double)tick / ticks);
            if (KeepsFilm && _tick.Exists(l => l.Stage != "input" || l.Type == "keydown"))
                Film.Add(new(_list.Frame, $"{_tick[^1].T ?? player.Now:0} ms · {Narrator.Caption(_tick)}", _x, _y));
            _tick.Clear();
        };
        if (input.Script is { } script) player.Play(script);
        else player.Play(input.Recording!);
        Lines.Add(_list.StateLine());
    }

    public void WriteTrace(Stream stream)
    {
        using var writer = new StreamWriter(stream, leaveOpen: true) { NewLine = "\n" };
        foreach (var line in Lines) writer.WriteLine(line.ToJson());
    }
}

/// <summary>What a list is played: a script of WebDriver actions, or a recording.</summary>
internal sealed record Input(ActionScript? Script, Recording? Recording)
{
    public static Input Load(string path) =>
        Path.GetExtension(path).ToLowerInvariant() is ".jsonl" or ".ndjson" ? new(null, Recording.Load(path)) : new(ActionScript.Load(path), null);
}
