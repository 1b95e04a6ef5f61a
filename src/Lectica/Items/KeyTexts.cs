using System.Globalization;

namespace Lectica.Items;

/// <summary>
/// Keys as text, as traces, scripts and snapshots write them. Keys of the types that .NET writes so that they can be read again have exact
/// texts; those of others have what the app gives, or their <c>ToString()</c>, which two keys may share.
/// </summary>
internal sealed class KeyTexts<TKey> where TKey : notnull
{
    private static readonly bool WritesExactly = typeof(TKey) == typeof(string) || typeof(TKey) == typeof(Guid)
        || typeof(TKey) == typeof(ItemId) || typeof(TKey) == typeof(bool)
        || typeof(TKey) == typeof(char) || typeof(TKey) == typeof(Int128) || typeof(TKey) == typeof(UInt128) || typeof(TKey).IsEnum
        || typeof(TKey).IsPrimitive || typeof(TKey) == typeof(decimal)
        || typeof(TKey) == typeof(Half) || typeof(TKey) == typeof(TimeSpan) || IsTime;

    // How texts of keys are read that need nothing of the app's; null for all other types. What is no key gives null.
    private static readonly Func<string, object?>? Reads =
        typeof(TKey) == typeof(string) ? text => text
        : typeof(TKey) == typeof(int) ? text => int.TryParse(text, NumberStyles.Integer, CultureInfo.InvariantCulture, out var n) ? n : null
        : typeof(TKey) == typeof(long)
            ? text => long.TryParse(text, NumberStyles.Integer, CultureInfo.InvariantCulture, out var n) ? n : null
        : typeof(TKey) == typeof(Guid) ? text => Guid.TryParse(text, out var id) ? id : null
        : null;

    private static bool IsTime =>
        Type.GetTypeCode(typeof(TKey)) == TypeCode.DateTime || typeof(TKey) == typeof(DateTimeOffset) || typeof(TKey) == typeof(DateOnly)
        || typeof(TKey) == typeof(TimeOnly);

    /// <summary>The app's own texts; null for none.</summary>
    public Func<TKey, string>? Given { get; set; }

    /// <summary>Reads the app's own texts; null for none.</summary>
    public Func<string, TKey>? GivenBack { get; set; }

    /// <summary>Whether no two keys share a text, by their type.</summary>
    public bool AreExact => Given is null && WritesExactly;

    /// <summary>Whether keys can be read from their texts.</summary>
    public bool CanRead => GivenBack is not null || (Given is null && Reads is not null);

    /// <summary>The key of a text; false where it is none.</summary>
    /// <exception cref="InvalidOperationException">Keys of this type are not read by themselves, and the app does not say how.</exception>
    public bool TryRead(string text, out TKey key)
    {
        key = default!;
        if (GivenBack is { } given)
        {
            key = given(text);
            return key is not null;
        }
        var reads = Reads ?? throw new InvalidOperationException(
            $"Keys of type {typeof(TKey).Name} cannot be read from their text: give the list a KeyOfText that does.");
        if (reads(text) is not { } read) return false;
        key = (TKey)read;
        return true;
    }

    public string Of(TKey key)
    {
        if (Given is { } given) return given(key) ?? "";
        if (key is string text) return text;
        if (IsTime && key is IFormattable time) return time.ToString("O", CultureInfo.InvariantCulture);
        return string.Create(CultureInfo.InvariantCulture, $"{key}");
    }
}
