using System.Globalization;
using CsvHelper;
using SkiaSharp;

namespace Lectica.Cli;

/// <summary>
/// Makes the sample data: the night plan of an imaginary observatory. All names are invented; the same seed gives the same plan.
/// </summary>
internal static class NightPlan
{
    public const int DefaultSeed = 20260;

    private static readonly string[] First = ["Bel", "Cor", "Dra", "Eli", "Fen", "Gal", "Hes", "Ith", "Jor", "Kel", "Lum", "Mor", "Nev",
        "Ost", "Pra", "Quil", "Ras", "Sel", "Tor", "Umb", "Vel", "Wen", "Yar", "Zin"];
    private static readonly string[] Last = ["ambra", "adun", "eska", "enor", "illo", "imar", "onda", "ovar", "umen", "unda", "yra", "ylo"];
    private static readonly (string Kind, string Word)[] Kinds =
        [("nebula", "Nebula"), ("cluster", "Cluster"), ("pair", "Pair"), ("comet", "Comet"), ("ring", "Ring")];
    private static readonly string[] Requesters = ["Ila Venn", "Odo Marsk", "Tamsin Quell", "Bram Oluwe", "Sanna Riis", "Piet Yarrow",
        "Noor Halder", "Edda Fusk", "Caz Lindqvar", "Mirek Toll"];
    private static readonly string[] Statuses = ["waiting", "waiting", "waiting", "scheduled", "scheduled", "cancelled"];

    public static void WriteCsv(Stream stream, int rows, int seed, Progress progress)
    {
        var random = new Random(seed);
        using var csv = CsvWriter.Create(stream, new CsvWriterOptions { NewLine = "\n" }, true);
        csv.WriteRecord(["id", "field", "kind", "requester", "magnitude", "minutes", "priority", "status", "observed"]);
        var digits = Math.Max(2, (rows - 1).ToString(CultureInfo.InvariantCulture).Length);
        var names = new HashSet<string>();
        for (var i = 1; i <= rows; i++)
        {
            var (kind, word) = Kinds[random.Next(Kinds.Length)];
            string Name() => $"{First[random.Next(First.Length)]}{Last[random.Next(Last.Length)]} {word}";
            var name = Name();
            // Names are told apart while there are enough of them; they are not keys.
            while (i <= 500 && !names.Add(name)) name = Name();
            var status = Statuses[random.Next(Statuses.Length)];
            string Number(int value) => value.ToString(CultureInfo.InvariantCulture);
            csv.WriteRecord(
            [
                "R" + Number(i).PadLeft(digits, '0'), name, kind, Requesters[random.Next(Requesters.Length)],
                (4 + (random.Next(120) / 10.0)).ToString("0.0", CultureInfo.InvariantCulture), Number(5 * (1 + random.Next(18))),
                    Number(1 + random.Next(3)),
                status, status != "cancelled" && random.Next(4) == 0 ? "yes" : "no",
            ]);
            if ((i & 8191) == 0) progress.Report("Writing rows", (double)i / rows);
        }
    }

    /// <summary>A small picture for each kind of field, 72 by 72 pixels.</summary>
    public static IEnumerable<(string Name, SKData Png)> Pictures()
    {
        foreach (var (kind, _) in Kinds)
        {
            using var surface = SKSurface.Create(new SKImageInfo(72, 72));
            Draw(surface.Canvas, kind, new Random(kind.Length * 31));
            using var image = surface.Snapshot();
            yield return ($"{kind}.png", image.Encode(SKEncodedImageFormat.Png, 100));
        }
    }

    private static void Draw(SKCanvas canvas, string kind, Random random)
    {
        canvas.Clear(new SKColor(0xFF1D2740));
        using var light = new SKPaint { Color = new(0xFFF4E9C8), IsAntialias = true };
        for (var i = 0; i < 14; i++) canvas.DrawCircle(random.Next(72), random.Next(72), 0.8f, light);
        switch (kind)
        {
            case "nebula":
                foreach (var (x, y, r,
                    colour) in ((float, float, float, uint)[])[
                    (30, 34, 20, 0x99B4576B), (44, 30, 16, 0x998E6BC4), (38, 46, 15, 0x99D99A5B)])
                    using (var cloud = new SKPaint
                    {
                        Color = new(colour),
                        IsAntialias = true,
                        MaskFilter = SKMaskFilter.CreateBlur(SKBlurStyle.Normal, 6),
                    })
                        canvas.DrawCircle(x, y, r, cloud);
                break;
            case "cluster":
                for (var i = 0; i < 42; i++)
                {
                    double angle = random.NextDouble() * Math.Tau, away = Math.Pow(random.NextDouble(), 1.6) * 27;
                    canvas.DrawCircle((float)(36 + (Math.Cos(angle) * away)), (float)(36 + (Math.Sin(angle) * away)),
                        1.2f + ((float)random.NextDouble() * 1.2f), light);
                }
                break;
            case "pair":
                using (var blue = new SKPaint { Color = new(0xFF8FB8E8), IsAntialias = true })
                    canvas.DrawCircle(46, 44, 9, blue);
                canvas.DrawCircle(27, 29, 13, light);
                break;
            case "comet":
                using (var tail = new SKPaint
                {
                    IsAntialias = true,
                    Shader = SKShader.CreateLinearGradient(
                        new(50, 22), new(8, 60), [new(0xCCDDEBF5), new(0x00DDEBF5)], SKShaderTileMode.Clamp),
                })
                using (var path = SKPath.ParseSvgPathData("M46 15 L58 28 L6 66 Z"))
                    canvas.DrawPath(path, tail);
                canvas.DrawCircle(51, 22, 8, light);
                break;
            default:
                using (var ring = new SKPaint { Color = new(0xFFD99A5B), IsAntialias = true, Style = SKPaintStyle.Stroke, StrokeWidth = 4 })
                {
                    canvas.DrawCircle(36, 36, 12, light);
                    canvas.RotateDegrees(-24, 36, 36);
                    canvas.DrawOval(36, 36, 28, 9, ring);
                }
                break;
        }
    }
}
