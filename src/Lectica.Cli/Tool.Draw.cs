using System.CommandLine;
using System.Text;
using Lectica.Skia;
using Lectica.Testing;

namespace Lectica.Cli;

// A list as a picture, or what a script does to it as a film strip.
internal sealed partial class Tool
{
    private enum ChoiceState
    {
        Closed,
        Open,
    }

    private Command Draw()
    {
        var list = new Argument<string?>("LIST")
        {
            Description = "The list: a list file (JSON), or its rows alone (CSV, JSON or JSON Lines).",
            Arity = ArgumentArity.ZeroOrOne,
        };
        var script = new Option<string?>("--script", "-s")
        {
            Description = "A W3C WebDriver actions script or a recording: draws a film strip of what it does.",
            HelpName = "SCRIPT",
        };
        var png = new Option<string>("--out", "-o") { Description = "The picture (PNG).", Required = true, HelpName = "FILE" };
        var theme = ThemeOption();
        var scale = new Option<float>("--scale")
        {
            Description = "Image pixels for each px of the list, 0.25 to 8; 2, and 1 for a film strip, where not given.",
            HelpName = "NUMBER",
        };
        var columns = new Option<int>("--columns")
        {
            Description = "How many pictures of a film strip stand side by side, 1 to 20.",
            DefaultValueFactory = _ => 4,
            HelpName = "NUMBER",
        };
        var frames = new Option<int>("--frames")
        {
            Description = "The most pictures of a film strip, 2 to 100.",
            DefaultValueFactory = _ => 16,
            HelpName = "NUMBER",
        };
        var choice = new Option<ChoiceState?>("--choice")
        {
            Description = "Draws the list as a choice field, closed or open, with its first selected row as the value.",
            HelpName = "closed|open",
        };
        Range(scale, 0.25f, 8);
        Range(columns, 1, 20);
        Range(frames, 2, 100);
        var command = new Command("draw", "Draws a list, or what a script does to it, as a picture.") { list, script, choice, png, theme,
            scale, columns, frames };
        var rows = new DatabaseOptions(command, mayWrite: false);
        rows.Require(command, result => result.GetValue(list), "LIST");
        Example(command,
            "draw examples/data/night-plan.list.json --out out/list.png\n  lectica draw examples/data/night-plan.list.json --script " +
                "examples/data/demo.actions.json --out out/strip.png");
        command.SetAction(parsed =>
        {
            var progress = new Progress(_errors);
            var file = rows.Open(parsed, parsed.GetValue(list), progress);
            var colours = ThemeOf(parsed.GetValue(theme));
            using var pictures = new Pictures(file.Folder);
            var size = parsed.GetValue(scale);
            if (parsed.GetValue(choice) is { } state)
            {
                if (file.IsOfDatabase)
                    throw new InputException("draw", null, "--choice draws a field with all of its rows; it does not go with --rows.");
                if (parsed.GetValue(script) is not null)
                    throw new InputException("draw", null, "--choice draws a field as it is; it does not go with --script.");
                using var field =
                    new ChoicePainter(colours, pictures.Of).ToPng(file.Choice(state == ChoiceState.Open).Frame, size == 0 ? 2 : size);
                Files.Write(parsed.GetValue(png)!, field.SaveTo);
                return Done;
            }
            if (parsed.GetValue(script) is not { } path)
            {
                using var one = new FramePainter(colours, pictures.Of).ToPng(file.Open().Frame, size == 0 ? 2 : size);
                Files.Write(parsed.GetValue(png)!, one.SaveTo);
                return Done;
            }
            var recorder = new Recorder(file.Open(), film: true);
            recorder.Play(Input.Load(path), progress);
            progress.Done();
            var film = recorder.Film;
            var most = parsed.GetValue(frames);
            if (film.Count > most)
            {
                Complain($"lectica: the strip has {film.Count} pictures; drawn are the first {most}. More: " +
                    $"--frames {Math.Min(100, film.Count)}");
                film = film[..most];
            }
            using var strip = new FilmStrip(colours, pictures.Of).ToPng(film, parsed.GetValue(columns), size == 0 ? 1 : size);
            Files.Write(parsed.GetValue(png)!, strip.SaveTo);
            return Done;
        });
        return command;
    }
}
