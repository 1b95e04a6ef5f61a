using Lectica.Frames;
using SkiaSharp;

namespace Lectica.Skia;

/// <summary>
/// Draws a <see cref="ChoiceFrame"/>: the field with its label, value and a chevron, and below it the options in a box while it is open.
/// </summary>
public sealed class ChoicePainter(Theme theme, Func<string, SKImage?>? pictureOf = null)
{
    private const float Around = 12, LabelHeight = 22;

    /// <summary>The size of the drawing with room around it, px.</summary>
    public static SKSize SizeOf(ChoiceFrame frame)
    {
        ArgumentNullException.ThrowIfNull(frame);
        return new((float)frame.Width + (2 * Around),
            (float)frame.Height + (2 * Around) + (frame.Label is null ? 0 : LabelHeight) +
                (float)(frame.Options is { } o ? o.Viewport.Height + 6 : 0));
    }

    /// <summary>Draws a frame with its top left corner at the canvas' origin.</summary>
    public void Paint(SKCanvas canvas, ChoiceFrame frame)
    {
        ArgumentNullException.ThrowIfNull(canvas);
        var size = SizeOf(frame);
        using var background = new SKPaint { Color = theme.Background };
        canvas.DrawRect(0, 0, size.Width, size.Height, background);
        canvas.Save();
        canvas.Translate(Around, Around);
        using var quiet = new SKPaint { Color = theme.Quiet, IsAntialias = true };
        using var ink = new SKPaint { Color = theme.Text, IsAntialias = true };
        if (frame.Label is { } label)
        {
            using var small = Fonts.Regular(13);
            canvas.DrawText(label, 2, 13, SKTextAlign.Left, small, quiet);
            canvas.Translate(0, LabelHeight);
        }

        float width = (float)frame.Width, height = (float)frame.Height;
        using var line = new SKPaint
        {
            Color = frame.HasFocus ? theme.Accent : theme.Quiet,
            IsAntialias = true,
            Style = SKPaintStyle.Stroke,
            StrokeWidth = frame.HasFocus ? 2.5f : 1.5f,
        };
        canvas.DrawRoundRect(1, 1, width - 2, height - 2, 7, 7, line);
        using var font = Fonts.Regular(16);
        canvas.DrawText(
            Fonts.Fit(font, frame.Text, width - 60), 14, (height / 2) + 5.5f, SKTextAlign.Left, font, frame.IsPrompt ? quiet : ink);
        // The chevron points to where the options are or would go.
        using var chevron = new SKPaint
        {
            Color = theme.Text,
            IsAntialias = true,
            Style = SKPaintStyle.Stroke,
            StrokeWidth = 2,
            StrokeCap = SKStrokeCap.Round,
        };
        float x = width - 24, y = height / 2, rise = frame.Options is null ? 3 : -3;
        canvas.DrawLine(x - 6, y - rise, x, y + rise, chevron);
        canvas.DrawLine(x, y + rise, x + 6, y - rise, chevron);

        if (frame.Options is { } options)
        {
            canvas.Translate(0, height);
            var box = SKRect.Create(0, 0, (float)options.Viewport.Width, (float)options.Viewport.Height);
            canvas.Save();
            using var shape = new SKRoundRect(box, 7, 7);
            canvas.ClipRoundRect(shape, antialias: true);
            new FramePainter(theme, pictureOf).Paint(canvas, options with { Title = null });
            canvas.Restore();
            using var border = new SKPaint { Color = theme.Quiet, IsAntialias = true, Style = SKPaintStyle.Stroke, StrokeWidth = 1.5f };
            canvas.DrawRoundRect(box, 7, 7, border);
        }
        canvas.Restore();
    }

    /// <summary>Draws a frame into a PNG.</summary>
    /// <param name="frame">The frame.</param>
    /// <param name="scale">Image pixels for each px; more than 0.</param>
    public SKData ToPng(ChoiceFrame frame, float scale = 2)
    {
        var size = SizeOf(frame);
        return Png.Draw(size.Width, size.Height, scale, canvas => Paint(canvas, frame));
    }
}
