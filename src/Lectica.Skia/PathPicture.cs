using System.Globalization;
using Lectica.Frames;
using Lectica.Gestures;
using Lectica.Input;
using SkiaSharp;

namespace Lectica.Skia;

/// <summary>What a pointer did over a list, to draw.</summary>
public sealed class PathPicture
{
    /// <summary>The list when the pointer went down.</summary>
    public required Frame Frame { get; init; }

    /// <summary>Its samples, the first of which is the down.</summary>
    public required IReadOnlyList<PointerSample> Path { get; init; }

    /// <summary>The limits that it was measured by.</summary>
    public Thresholds Thresholds { get; init; } = Thresholds.Default;

    /// <summary>Whether it might have been a swipe: then the cone of swipes is drawn.</summary>
    public bool MaySwipe { get; init; }

    /// <summary>Whether it might have been a long press: then where it was at the deadline is drawn.</summary>
    public bool MayLongPress { get; init; }

    /// <summary>Who did what where.</summary>
    public required string Title { get; init; }

    /// <summary>What came of it, in order.</summary>
    public IReadOnlyList<PathNote> Notes { get; init; } = [];
}

/// <summary>A note beside a path.</summary>
/// <param name="Kind">What it says, which gives it its sign.</param>
/// <param name="Text">Its words.</param>
/// <param name="Time">Of a verdict the time at which it was clear, ms, so that it is marked on the way; null for others.</param>
public readonly record struct PathNote(PathNoteKind Kind, string Text, double? Time = null);

/// <summary>What a note beside a path says.</summary>
public enum PathNoteKind
{
    /// <summary>This it was.</summary>
    Yes,

    /// <summary>This it was not.</summary>
    No,

    /// <summary>This would have made it so.</summary>
    Remedy,

    /// <summary>This came of it.</summary>
    Outcome,
}

/// <summary>
/// Draws the way of a pointer over the rows, with the limits that it was measured by: the circle of the tolerance, the cone in which a
/// swipe must go, and where it was when a long press was due. Beside it stand the verdicts.
/// </summary>
public sealed class PathPainter(Theme theme, Func<string, SKImage?>? pictureOf = null)
{
    private const float Margin = 24, NotesWidth = 420, LineHeight = 19;

    /// <summary>Draws into a PNG.</summary>
    /// <param name="picture">What to draw.</param>
    /// <param name="scale">Image pixels for each px; more than 0.</param>
    public SKData ToPng(PathPicture picture, float scale = 1.5f)
    {
        ArgumentNullException.ThrowIfNull(picture);
        var list = FramePainter.SizeOf(picture.Frame);
        var notes = Lay(picture);
        var height = Math.Max(list.Height, 60 + (notes.Sum(n => n.Lines.Count) * LineHeight) + (notes.Count * 8)) + (2 * Margin);
        return Png.Draw(list.Width + NotesWidth + (3 * Margin), height, scale, canvas =>
        {
            canvas.Clear(theme.Header);
            canvas.Save();
            canvas.Translate(Margin, Margin);
            new FramePainter(theme, pictureOf).Paint(canvas, picture.Frame);
            using (var border = Stroke(theme.Divider, 1)) canvas.DrawRect(0, 0, list.Width, list.Height, border);
            canvas.ClipRect(new(0, 0, list.Width, list.Height));
            canvas.Translate(0, FramePainter.HeaderHeight(picture.Frame));
            Way(canvas, picture);
            canvas.Restore();
            canvas.Translate((2 * Margin) + list.Width, Margin);
            Notes(canvas, picture, notes);
        });
    }

    private void Way(SKCanvas canvas, PathPicture picture)
    {
        var path = picture.Path.Where(s => s.Kind != SampleKind.Cancel).ToList();
        if (path.Count == 0) return;
        var down = path[0];
        var at = new SKPoint((float)down.X, (float)down.Y);
        var limits = picture.Thresholds.For(down.PointerType);
        float tolerance = (float)limits.Tolerance, reach = Math.Max(90, tolerance * 4);
        if (picture.MaySwipe)
        {
            // In the cone it goes more than so many times as far along as across.
            using var cone = new SKPaint { Color = theme.Accent.WithAlpha(0x26), IsAntialias = true };
            using var shape = new SKPathBuilder();
            var across = (float)(reach / picture.Thresholds.SwipeRatio);
            shape.MoveTo(at);
            shape.LineTo(at.X + reach, at.Y - across);
            shape.LineTo(at.X + reach, at.Y + across);
            shape.Close();
            shape.MoveTo(at);
            shape.LineTo(at.X - reach, at.Y - across);
            shape.LineTo(at.X - reach, at.Y + across);
            shape.Close();
            using var both = shape.Detach();
            canvas.DrawPath(both, cone);
        }
        using (var circle = new SKPaint { Color = theme.Pointer, IsAntialias = true }) canvas.DrawCircle(at, tolerance, circle);
        using (var rim = Stroke(theme.Accent, 1.5f)) canvas.DrawCircle(at, tolerance, rim);
        using var line = Stroke(theme.Text, 2);
        using var dot = new SKPaint { Color = theme.Text, IsAntialias = true };
        for (var i = 1; i < path.Count; i++)
        {
            var to = new SKPoint((float)path[i].X, (float)path[i].Y);
            canvas.DrawLine((float)path[i - 1].X, (float)path[i - 1].Y, to.X, to.Y, line);
            canvas.DrawCircle(to, 2.2f, dot);
        }
        canvas.DrawCircle(at, 4, dot);
        var last = path[^1];
        var end = new SKPoint((float)last.X, (float)last.Y);
        if (picture.Path[^1].Kind == SampleKind.Up) canvas.DrawCircle(end, 6, line);
        else
        {
            canvas.DrawLine(end.X - 6, end.Y - 6, end.X + 6, end.Y + 6, line);
            canvas.DrawLine(end.X - 6, end.Y + 6, end.X + 6, end.Y - 6, line);
        }
        Marks(canvas, picture, path);
        if (!picture.MayLongPress || !double.IsFinite(limits.LongPressTime)) return;
        var due = down.Time + limits.LongPressTime;
        if (last.Time < due)
        {
            Label(canvas, end,
                string.Create(
                    CultureInfo.InvariantCulture,
                        $"{(picture.Path[^1].Kind == SampleKind.Up ? "up" : "ends")} {due - last.Time:0} ms before the long press"),
                            below: end.Y >= at.Y);
            return;
        }
        var there = path.Last(s => s.Time <= due);
        var mark = new SKPoint((float)there.X, (float)there.Y);
        using var diamond = Stroke(theme.Accent, 2.5f);
        canvas.DrawRect(SKRect.Create(mark.X - 6, mark.Y - 6, 12, 12), diamond);
        Label(canvas, mark, string.Create(CultureInfo.InvariantCulture, $"{limits.LongPressTime:0} ms: long press due"),
            below: end.Y < at.Y);
    }

    /// <summary>Where on the way each verdict was clear: the numbers of the notes, those of one moment together.</summary>
    private void Marks(SKCanvas canvas, PathPicture picture, List<PointerSample> path)
    {
        using var font = Fonts.Bold(12);
        using var ground = new SKPaint { Color = theme.Accent, IsAntialias = true };
        using var ink = new SKPaint { Color = theme.OnAccent, IsAntialias = true };
        using var leader = Stroke(theme.Accent, 1.2f);
        var verdicts = picture.Notes.Where(n => n.Time is not null).Select((n, i) => (Number: i + 1, Time: n.Time!.Value));
        // In a column to the left of the way, where a hand does not lie, one below the other.
        var column = (float)path.Min(s => s.X) - (float)picture.Thresholds.For(path[0].PointerType).Tolerance - 18;
        var free = float.NegativeInfinity;
        foreach (var (moment,
            at) in verdicts.GroupBy(v => v.Time).Select(m => (m, path.LastOrDefault(s => s.Time <= m.Key, path[0])))
            .OrderBy(m => m.Item2.Y))
        {
            var numbers = moment.Select(v => v.Number).ToList();
            var text = numbers.Count == 1 ? $"{numbers[0]}" : $"{numbers[0]}–{numbers[^1]}";
            var width = font.MeasureText(text) + 12;
            var y = Math.Max((float)at.Y, free);
            free = y + 22;
            var area = SKRect.Create(Math.Max(2, column - width), y - 9, width, 18);
            canvas.DrawLine(area.Right, y, (float)at.X, (float)at.Y, leader);
            canvas.DrawRoundRect(area, 9, 9, ground);
            canvas.DrawText(text, area.MidX, area.MidY + 4.2f, SKTextAlign.Center, font, ink);
        }
    }

    private void Label(SKCanvas canvas, SKPoint at, string text, bool below)
    {
        using var font = Fonts.Bold(13);
        var width = font.MeasureText(text) + 14;
        var left = Math.Clamp(at.X + 12, 2, Math.Max(2, 396 - width));
        var area = SKRect.Create(left, Math.Max(2, at.Y + (below ? 14 : -36)), width, 22);
        using var ground = new SKPaint { Color = theme.Text, IsAntialias = true };
        canvas.DrawRoundRect(area, 5, 5, ground);
        using var ink = new SKPaint { Color = theme.Background, IsAntialias = true };
        canvas.DrawText(text, area.Left + 7, area.MidY + 4.5f, SKTextAlign.Left, font, ink);
    }

    private static List<(PathNoteKind Kind, List<string> Lines)> Lay(PathPicture picture)
    {
        using var font = Fonts.Regular(14);
        var number = 0;
        return [.. picture.Notes.Select(
            n => (n.Kind, FilmStrip.Wrap(font, n.Time is null ? n.Text : $"{++number}. {n.Text}", NotesWidth - 30).ToList()))];
    }

    private void Notes(SKCanvas canvas, PathPicture picture, List<(PathNoteKind Kind, List<string> Lines)> notes)
    {
        using var bold = Fonts.Bold(17);
        using var font = Fonts.Regular(14);
        using var ink = new SKPaint { Color = theme.Text, IsAntialias = true };
        using var quiet = new SKPaint { Color = theme.Quiet, IsAntialias = true };
        var y = 20f;
        foreach (var line in FilmStrip.Wrap(bold, picture.Title, NotesWidth))
        {
            canvas.DrawText(line, 0, y, SKTextAlign.Left, bold, ink);
            y += 23;
        }
        y += 12;
        foreach (var (kind, lines) in notes)
        {
            Sign(canvas, kind, new(8, y - 5));
            foreach (var line in lines)
            {
                canvas.DrawText(line, 28, y, SKTextAlign.Left, font, kind is PathNoteKind.No or PathNoteKind.Outcome ? quiet : ink);
                y += LineHeight;
            }
            y += 8;
        }
    }

    private void Sign(SKCanvas canvas, PathNoteKind kind, SKPoint at)
    {
        using var stroke = Stroke(kind == PathNoteKind.Yes ? theme.Accent : theme.Quiet, 2.2f);
        switch (kind)
        {
            case PathNoteKind.Yes:
                canvas.DrawLine(at.X - 6, at.Y, at.X - 2, at.Y + 5, stroke);
                canvas.DrawLine(at.X - 2, at.Y + 5, at.X + 7, at.Y - 6, stroke);
                break;
            case PathNoteKind.No:
                canvas.DrawLine(at.X - 5, at.Y - 5, at.X + 5, at.Y + 5, stroke);
                canvas.DrawLine(at.X - 5, at.Y + 5, at.X + 5, at.Y - 5, stroke);
                break;
            case PathNoteKind.Remedy:
                canvas.DrawLine(at.X - 6, at.Y, at.X + 6, at.Y, stroke);
                canvas.DrawLine(at.X + 1, at.Y - 5, at.X + 6, at.Y, stroke);
                canvas.DrawLine(at.X + 1, at.Y + 5, at.X + 6, at.Y, stroke);
                break;
            default:
                canvas.DrawCircle(at, 3, stroke);
                break;
        }
    }

    private static SKPaint Stroke(SKColor colour, float width) =>
        new() { Color = colour, IsAntialias = true, Style = SKPaintStyle.Stroke, StrokeWidth = width };
}
