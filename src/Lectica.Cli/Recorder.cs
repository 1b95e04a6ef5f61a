using Lectica.Skia;
using Lectica.Testing;
using Lectica.Tracing;

namespace Lectica.Cli;

/// <summary>Plays a script over a list and keeps what a reader may want: the trace, and a picture's worth after each tick in which something happened.</summary>
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

    public void Play(ActionScript script, Progress progress)
    {
        var player = new ScriptPlayer<Row, string>(_list);
        player.TickPlayed += tick =>
        {
            progress.Report("Playing", (double)tick / script.Ticks);
            if (KeepsFilm && _tick.Exists(l => l.Stage != "input" || l.Type == "keydown"))
                Film.Add(new(_list.Frame, $"{_tick[^1].T ?? player.Now:0} ms · {Narrator.Caption(_tick)}", _x, _y));
            _tick.Clear();
        };
        player.Play(script);
        Lines.Add(_list.StateLine());
    }

    public void WriteTrace(Stream stream)
    {
        using var writer = new StreamWriter(stream, leaveOpen: true) { NewLine = "\n" };
        foreach (var line in Lines) writer.WriteLine(line.ToJson());
    }
}
