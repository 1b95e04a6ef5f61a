using System.Globalization;

namespace Lectica.Blazor;

/// <summary>Numbers as CSS has them. Whole ones, which most are, are written without a format.</summary>
internal static class Css
{
    public static string Number(double value) =>
        value is > -1e9 and < 1e9 && value == (int)value ? ((int)value).ToString(CultureInfo.InvariantCulture) : value.ToString("0.##", CultureInfo.InvariantCulture);

    public static string Px(double value) => Number(value) + "px";
}
