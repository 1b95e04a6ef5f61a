using System.Diagnostics;
using Spectre.Console;

namespace Lectica.Cli;

/// <summary>
/// A line on the terminal that says how far something is, once it has taken over a second. Nothing is shown where no one looks.
/// </summary>
internal sealed class Progress(IAnsiConsole console)
{
    private readonly Stopwatch _since = Stopwatch.StartNew();
    private long _next = 1000;
    private string? _what;
    private bool _shown;

    public void Report(string what, double share)
    {
        // Each piece of work has its own second.
        if (what != _what || share == 0)
        {
            Done();
            (_what, _next) = (what, 1000);
            _since.Restart();
        }
        if (!console.Profile.Capabilities.Interactive || _since.ElapsedMilliseconds < _next) return;
        _next = _since.ElapsedMilliseconds + 100;
        _shown = true;
        const int width = 30;
        var done = (int)Math.Round(Math.Clamp(share, 0, 1) * width);
        console.Write($"\r{what} {new string('━', done)}{new string('─', width - done)} {share,4:P0} ");
    }

    /// <summary>Takes the line away.</summary>
    public void Done()
    {
        if (_shown) console.Write("\r" + new string(' ', 70) + "\r");
        _shown = false;
    }
}
