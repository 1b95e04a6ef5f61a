using Lectica.Input;

namespace Lectica.Tests.Gestures;

/// <summary>
/// Traces such as hands make them. What is meant is drawn first, as a clean motion; then come jitter, tremor, a curve, drift, an uneven
/// pace, dropped samples and uneven clocks. It knows nothing of recognition: the limits in <see cref="IsInside"/> are those of the
/// documentation, written down again, and are asked of the finished trace alone.
/// </summary>
internal static class HumanTraces
{
    /// <summary>A trace, what it was meant to be, and whether all of it keeps inside the documented limits of that.</summary>
    public sealed record Trace(string Intent, PointerType Pointer, PointerSample[] Samples, bool IsInside);

    /// <summary>How steady a hand is: factors on the noise.</summary>
    public sealed record Hand(double Jitter = 1, double Tremor = 1, double Drift = 1, double Curve = 1, double Haste = 1)
    {
        public static Hand Steady { get; } = new();
    }

    // The list that hands are let loose on: 400 by 520 px, ten rows of 52 px, a handle in the last 44 px.
    private const double RowHeight = 52, Width = 400, Rows = 10, HandleLeft = 356;

    private static readonly string[] ByTouch = ["tap", "double-tap", "long-press", "hold-drag", "swipe", "drag", "pan"],
        ByMouse = ["tap", "double-tap", "drag"],
        ByPen = ["tap", "double-tap", "long-press", "hold-drag", "drag"];

    public static Trace Make(Random random, double start, Hand? hand = null, string? intent = null, PointerType? type = null)
    {
        hand ??= Hand.Steady;
        var pointer = type ?? (PointerType)random.Next(3);
        var intents = pointer switch { PointerType.Touch => ByTouch, PointerType.Pen => ByPen, _ => ByMouse };
        var meant = intent ?? intents[random.Next(intents.Length)];
        double Between(double from, double to) => from + (random.NextDouble() * (to - from));
        var onHandle = meant == "drag" && pointer != PointerType.Mouse;
        double x = onHandle ? Between(HandleLeft + 8, Width - 8)
            : Between(60, HandleLeft - 60), y = (RowHeight * random.Next((int)Rows)) + Between(16, RowHeight - 16);

        var samples = new List<PointerSample>();
        switch (meant)
        {
            case "tap":
                Contact(samples, random, hand, pointer, start, Still(x, y), Between(30, 420) / hand.Haste);
                break;
            case "double-tap":
                var first = Between(30, 140) / hand.Haste;
                Contact(samples, random, hand, pointer, start, Still(x, y), first);
                var pause = Between(50, pointer == PointerType.Mouse ? 330 : 240) / hand.Haste;
                var off = pointer switch { PointerType.Touch => 14, PointerType.Pen => 7, _ => 2 };
                Contact(samples, random, hand, pointer, samples[^1].Time + pause,
                    Still(x + Between(-off, off), Math.Clamp(y + Between(-off, off), y - (y % RowHeight) + 6, y - (y % RowHeight) + 46)),
                        Between(30, 140) / hand.Haste);
                break;
            case "long-press":
                Contact(samples, random, hand, pointer, start, Still(x, y), Between(540, 1400) / hand.Haste);
                break;
            case "hold-drag":
                var held = Between(560, 900) / hand.Haste;
                double far = Between(40, 200) * (y < 260 ? 1 : -1), moving = Between(150, 700);
                Contact(samples, random, hand, pointer, start, t => (x, t < held ? y : y + (far * Ease((t - held) / moving))),
                    held + moving);
                break;
            case "swipe":
                double along = Between(45, 220) * (x < 180 || (x < 220 && random.Next(2) == 0) ? 1 : -1), slant = Between(-0.42, 0.42);
                var swept = Between(70, 420) / hand.Haste;
                var bow = Between(-0.12, 0.12) * hand.Curve;
                Contact(samples, random, hand, pointer, start, t => Bow(x, y, along, along * slant, Ease(t / swept), bow), swept);
                break;
            case "pan":
                double down = Between(45, 260) * (y < 260 ? 1 : -1), lean = Between(-0.42, 0.42);
                var panned = Between(70, 420) / hand.Haste;
                Contact(samples, random, hand, pointer, start, t => Bow(x, y, down * lean, down, Ease(t / panned), Between(-0.02, 0.02)),
                    panned);
                break;
            default:
                double dx = Between(-30, 30), dy = Between(30, 220) * (y < 260 ? 1 : -1);
                var dragged = Between(150, 1200) / hand.Haste;
                Contact(samples, random, hand, pointer, start, t => Bow(x, y, dx, dy, Ease(t / dragged), 0), dragged);
                break;
        }
        return new(meant, pointer, [.. samples], IsInside(meant, pointer, samples));
    }

    private static Func<double, (double X, double Y)> Still(double x, double y) => _ => (x, y);

    // Slow, fast, slow.
    private static double Ease(double t) => t <= 0 ? 0 : t >= 1 ? 1 : t * t * (3 - (2 * t));

    private static (double X, double Y) Bow(double x, double y, double dx, double dy, double done, double bow)
    {
        var side = Math.Sin(Math.PI * done) * bow;
        return (x + (dx * done) - (dy * side), y + (dy * done) + (dx * side));
    }

    private static void Contact(List<PointerSample> samples, Random random, Hand hand, PointerType pointer, double start,
        Func<double, (double X, double Y)> meant, double duration)
    {
        double Gauss() => Math.Sqrt(-2 * Math.Log(1 - random.NextDouble())) * Math.Cos(2 * Math.PI * random.NextDouble());
        var precise = pointer switch { PointerType.Touch => 1.0, PointerType.Pen => 0.5, _ => 0.25 };
        double jitter = precise * random.NextDouble() * 0.9 * hand.Jitter, tremor = precise * random.NextDouble() * 2.2 * hand.Tremor,
            pitch = 8 + (random.NextDouble() * 4), phase = random.NextDouble() * 6.28,
            driftX = precise * Gauss() * 2.2 * hand.Drift, driftY = precise * Gauss() * 2.2 * hand.Drift;
        var rate = new[] { 60, 120, 240 }[random.Next(3)];
        var dropped = random.NextDouble() * 0.3;
        // Where the hand first comes down is where noise is measured from.
        (double X, double Y) Place(double t)
        {
            var (x, y) = meant(t);
            var shake = tremor * Math.Sin(phase + (2 * Math.PI * pitch * t / 1000));
            var done = duration <= 0 ? 1 : t / duration;
            return (x + (Gauss() * jitter) + shake + (driftX * done), y + (Gauss() * jitter) + (shake * 0.6) + (driftY * done));
        }
        void Add(SampleKind kind, double t)
        {
            var (x, y) = Place(t);
            var time = start + t;
            if (samples.Count > 0 && kind != SampleKind.Down) time = Math.Max(time, samples[^1].Time);
            samples.Add(new(kind, 1, pointer, x, y, time)
            {
                Button = kind == SampleKind.Move ? -1 : 0,
                Buttons = kind == SampleKind.Up ? 0 : 1,
            });
        }
        Add(SampleKind.Down, 0);
        for (var t = 1000.0 / rate; t < duration; t += 1000.0 / rate)
            if (random.NextDouble() >= dropped) Add(SampleKind.Move, Math.Clamp(t + (Gauss() * 0.6), 0, duration));
        Add(SampleKind.Up, duration);
    }

    /// <summary>Whether a trace keeps inside what is documented for what was meant.</summary>
    private static bool IsInside(string meant, PointerType pointer, List<PointerSample> samples)
    {
        // As the documentation has them.
        double tolerance = pointer switch { PointerType.Touch => 10, PointerType.Pen => 6, _ => 4 },
            press = pointer == PointerType.Mouse ? double.PositiveInfinity : 500,
            pause = pointer == PointerType.Mouse ? 400 : 300,
            apart = pointer switch { PointerType.Touch => 40, PointerType.Pen => 20, _ => 6 };
        var second = samples.FindIndex(1, s => s.Kind == SampleKind.Down);
        var one = second < 0 ? samples : samples[..second];
        double Away(PointerSample s, PointerSample from) => Math.Sqrt(Math.Pow(s.X - from.X, 2) + Math.Pow(s.Y - from.Y, 2));
        bool Stays(List<PointerSample> contact) => contact.TrueForAll(s => Away(s, contact[0]) <= tolerance);
        double Lasts(List<PointerSample> contact) => contact[^1].Time - contact[0].Time;
        bool SameRow(PointerSample a, PointerSample b) =>
            Math.Floor(a.Y / RowHeight) == Math.Floor(b.Y / RowHeight) && a.X < HandleLeft == b.X < HandleLeft
            && a.Y is >= 0 and < RowHeight * Rows;
        bool Tapped(List<PointerSample> contact) => Stays(contact) && Lasts(contact) < press && SameRow(contact[0], contact[^1]);
        var left = one.FindIndex(s => Away(s, one[0]) > tolerance);
        switch (meant)
        {
            case "tap":
                return Tapped(one);
            case "double-tap":
                var two = samples[second..];
                return Tapped(one) && Tapped(two) && two[0].Time - one[^1].Time <= pause && Away(two[0], one[0]) <= apart
                    && SameRow(one[0], two[0]);
            case "long-press":
                return Stays(one) && Lasts(one) >= press;
            case "hold-drag":
                return left >= 0 && one[left].Time - one[0].Time >= press;
            case "drag":
                return left >= 0;
            default:
                if (left < 0 || one[left].Time - one[0].Time >= press) return false;
                var runs = Math.Abs(one[left].X - one[0].X) > 1.5 * Math.Abs(one[left].Y - one[0].Y);
                return runs == (meant == "swipe");
        }
    }
}
