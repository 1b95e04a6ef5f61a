using System.Globalization;

namespace Lectica.Blazor;

/// <summary>Numbers as CSS has them. Whole ones, which most are, are written without a format.</summary>
internal static class Css
{
    public static string Number(double value) =>
        value is > -1e9 and < 1e9 && value == (int)value ? ((int)value).ToString(CultureInfo.InvariantCulture)
        : value.ToString("0.##", CultureInfo.InvariantCulture);

    /// <summary>The classes of what shows how far a command is.</summary>
    public static string ProgressLook(double? progress) => progress is null ? "lectica-progress is-unknown" : "lectica-progress";

    /// <summary>How far it is; null where that is not known.</summary>
    public static string? Progress(double? progress) => progress is { } done ? $"--done:{Number(done * 100)}%" : null;

    /// <summary>Where a tile is.</summary>
    public static string Tile(double left, double top, double width, double height) =>
        $"transform:translate({Number(left)}px,{Number(top)}px);width:{Number(width)}px;height:{Number(height)}px";

    /// <summary>Where something lies, and how large it is.</summary>
    public static string Box(double left, double top, double width, double height) =>
        $"left:{Px(left)};top:{Px(top)};width:{Px(width)};height:{Px(height)}";

    public static string Px(double value) => Number(value) + "px";
}
