using System.Globalization;
using CsvHelper;
using SkiaSharp;

namespace Lectica.Cli;

/// <summary>
/// Makes the other sample data: the plates of an imaginary sky survey, each with its picture. The same seed gives the same plates.
/// </summary>
internal static class Plates
{
    /// <summary>The most plates that are made at once.</summary>
    public const int Most = 1_000;

    private const int Width = 240, Height = 160;

    private static readonly string[] Regions = ["Harbour Belt", "Lantern Reach", "Saltmarsh Gap"];
    private static readonly uint[] Tints = [0xFF1D2740, 0xFF24213C, 0xFF17303A, 0xFF2B2430];

    /// <summary>Writes the plates as CSV.</summary>
    public static void WriteCsv(Stream stream, int rows, int seed)
    {
        var random = new Random(seed);
        using var csv = CsvWriter.Create(stream, new CsvWriterOptions { NewLine = "\n" }, true);
        csv.WriteRecord(["id", "name", "region", "exposure", "state"]);
        for (var i = 1; i <= rows; i++)
            csv.WriteRecord(
                [IdOf(i, rows), $"Plate {1400 + (i * 7)}", Regions[(i - 1) * Regions.Length / rows],
                    (10 * (2 + random.Next(9))).ToString(CultureInfo.InvariantCulture), random.Next(8) == 0 ? "fogged" : "good"]);
    }

    private static string IdOf(int plate, int of) =>
        "P" + plate.ToString(CultureInfo.InvariantCulture).PadLeft(Math.Max(2, of.ToString(CultureInfo.InvariantCulture).Length), '0');

    /// <summary>The plates' pictures, 240 by 160 pixels.</summary>
    public static IEnumerable<(string Name, SKData Png)> Pictures(int rows, int seed)
    {
        for (var i = 1; i <= rows; i++)
        {
            using var surface = SKSurface.Create(new SKImageInfo(Width, Height));
            Draw(surface.Canvas, new Random((seed * 31) + i));
            using var image = surface.Snapshot();
            yield return ($"{IdOf(i, rows)}.png", image.Encode(SKEncodedImageFormat.Png, 100));
        }
    }

    private static void Draw(SKCanvas canvas, Random random)
    {
        canvas.Clear(new SKColor(Tints[random.Next(Tints.Length)]));
        float X() => random.Next(Width);
        float Y() => random.Next(Height);
        // A cloud or two, of one colour, so that the picture stays small.
        for (var n = random.Next(3); n > 0; n--)
        {
            using var cloud = new SKPaint
            {
                Color = new SKColor((byte)(90 + random.Next(110)), (byte)(70 + random.Next(70)), (byte)(90 + random.Next(120)), 0x66),
                IsAntialias = true,
                MaskFilter = SKMaskFilter.CreateBlur(SKBlurStyle.Normal, 14),
            };
            canvas.DrawOval(X(), Y(), 22 + random.Next(50), 14 + random.Next(26), cloud);
        }
        using var light = new SKPaint { Color = new(0xFFF4E9C8), IsAntialias = true };
        using var cool = new SKPaint { Color = new(0xFFB9D3F2), IsAntialias = true };
        for (var n = 40 + random.Next(50); n > 0; n--)
            canvas.DrawCircle(X(), Y(), 0.5f + ((float)Math.Pow(random.NextDouble(), 4) * 2.2f), random.Next(4) == 0 ? cool : light);
        float x = 50 + random.Next(Width - 100), y = 40 + random.Next(Height - 80);
        switch (random.Next(4))
        {
            case 0:
                for (var n = 0; n < 60; n++)
                {
                    double angle = random.NextDouble() * Math.Tau, away = Math.Pow(random.NextDouble(), 1.7) * 38;
                    canvas.DrawCircle(x + (float)(Math.Cos(angle) * away), y + (float)(Math.Sin(angle) * away),
                        0.8f + ((float)random.NextDouble() * 1.3f), light);
                }
                break;
            case 1:
                using (var ring = new SKPaint { Color = new(0xFFD99A5B), IsAntialias = true, Style = SKPaintStyle.Stroke, StrokeWidth = 3 })
                {
                    canvas.DrawCircle(x, y, 11, light);
                    canvas.RotateDegrees(random.Next(-40, 40), x, y);
                    canvas.DrawOval(x, y, 30, 9, ring);
                    canvas.ResetMatrix();
                }
                break;
            case 2:
                canvas.DrawCircle(x, y, 9, light);
                canvas.DrawCircle(x + 22, y + 14, 6, cool);
                break;
            default:
                // A star that was too bright for the plate: its light runs out in a cross.
                using (var cross = new SKPaint { Color = new(0xAAF4E9C8), IsAntialias = true, StrokeWidth = 1.4f })
                {
                    canvas.DrawLine(x - 34, y, x + 34, y, cross);
                    canvas.DrawLine(x, y - 34, x, y + 34, cross);
                    canvas.DrawCircle(x, y, 7, light);
                }
                break;
        }
        // The plate's rim.
        using var rim = new SKPaint { Color = new(0x44FFFFFF), IsAntialias = true, Style = SKPaintStyle.Stroke, StrokeWidth = 2 };
        canvas.DrawRect(5, 5, Width - 10, Height - 10, rim);
    }
}
