using System.Globalization;
using System.Text.Json;
using Lectica.Gestures;
using Lectica.Input;
using Lectica.Testing;

namespace Lectica.Cli;

/// <summary>Thresholds as list files and <c>tune</c> write them: names such as <c>touch.tolerance</c>, each with a number.</summary>
internal static class ThresholdsJson
{
    private static readonly Dictionary<string, (Func<Thresholds, double> Get, Func<Thresholds, double, Thresholds> Set)> Known = All();

    private static Dictionary<string, (Func<Thresholds, double>, Func<Thresholds, double, Thresholds>)> All()
    {
        var all = new Dictionary<string, (Func<Thresholds, double>, Func<Thresholds, double, Thresholds>)>();
        foreach (var type in (PointerType[])[PointerType.Touch, PointerType.Pen, PointerType.Mouse])
        {
            var word = type.ToString().ToLowerInvariant();
            all[word + ".tolerance"] = (t => t.For(type).Tolerance, (t, v) => t.With(type, t.For(type) with { Tolerance = v }));
            if (type != PointerType.Mouse)
                all[word + ".longPressTime"] =
                    (t => t.For(type).LongPressTime, (t, v) => t.With(type, t.For(type) with { LongPressTime = v }));
            all[word + ".doubleTapTime"] = (t => t.For(type).DoubleTapTime, (t, v) => t.With(type, t.For(type) with { DoubleTapTime = v }));
            all[word + ".doubleTapDistance"] =
                (t => t.For(type).DoubleTapDistance, (t, v) => t.With(type, t.For(type) with { DoubleTapDistance = v }));
        }
        all["swipeRatio"] = (t => t.SwipeRatio, (t, v) => t with { SwipeRatio = v });
        all["velocityTime"] = (t => t.VelocityTime, (t, v) => t with { VelocityTime = v });
        all["projectionTime"] = (t => t.ProjectionTime, (t, v) => t with { ProjectionTime = v });
        all["trayCommandWidth"] = (t => t.TrayCommandWidth, (t, v) => t with { TrayCommandWidth = v });
        all["resistance"] = (t => t.Resistance, (t, v) => t with { Resistance = v });
        all["armAt"] = (t => t.ArmAt, (t, v) => t with { ArmAt = v });
        all["disarmAt"] = (t => t.DisarmAt, (t, v) => t with { DisarmAt = v });
        all["settleTime"] = (t => t.SettleTime, (t, v) => t with { SettleTime = v });
        all["togetherTime"] = (t => t.TogetherTime, (t, v) => t with { TogetherTime = v });
        all["autoScrollEdge"] = (t => t.AutoScrollEdge, (t, v) => t with { AutoScrollEdge = v });
        all["autoScrollSpeed"] = (t => t.AutoScrollSpeed, (t, v) => t with { AutoScrollSpeed = v });
        all["autoScrollDoubling"] = (t => t.AutoScrollDoubling, (t, v) => t with { AutoScrollDoubling = v });
        all["autoScrollScreens"] = (t => t.AutoScrollScreens, (t, v) => t with { AutoScrollScreens = v });
        all["pullDistance"] = (t => t.PullDistance, (t, v) => t with { PullDistance = v });
        all["gapSlack"] = (t => t.GapSlack, (t, v) => t with { GapSlack = v });
        all["hoverTime"] = (t => t.HoverTime, (t, v) => t with { HoverTime = v });
        return all;
    }

    public static Thresholds Read(Dictionary<string, JsonElement>? values, Func<string, string, InputException> error)
    {
        var thresholds = Thresholds.Default;
        foreach (var (name, value) in values ?? [])
        {
            if (!Known.TryGetValue(name, out var known))
                throw error("thresholds", $"'{name}' is not a threshold: use {string.Join(", ", Known.Keys)}.");
            if (value.ValueKind != JsonValueKind.Number) throw error($"thresholds.{name}", "a threshold is a number.");
            thresholds = known.Set(thresholds, value.GetDouble());
        }
        return thresholds;
    }

    /// <summary>What differs from the defaults, as a list file's <c>thresholds</c>.</summary>
    public static string Write(Thresholds thresholds) =>
        "{ " + string.Join(", ", Known.Where(k => k.Value.Get(thresholds) != k.Value.Get(Thresholds.Default))
        .Select(k => string.Create(CultureInfo.InvariantCulture, $"\"{k.Key}\": {k.Value.Get(thresholds):0.##}"))) + " }";
}
