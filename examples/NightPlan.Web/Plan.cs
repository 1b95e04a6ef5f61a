using System.Globalization;

namespace Lectica.Examples.NightPlan;

/// <summary>
/// What a request is known by: a number in a series, such as R05. As a value it is no object of its own, of which a million would be many.
/// Of a million keys hashed and compared in a browser, what the compiler would write for both takes most of the time.
/// </summary>
internal readonly record struct RequestId(char Series, int Number)
{
    public bool Equals(RequestId other) => Number == other.Number && Series == other.Series;

    public override int GetHashCode() => (Series << 24) ^ Number;

    public override string ToString() => Series + (Number < 10 ? "0" : "") + Number.ToString(CultureInfo.InvariantCulture);

    /// <summary>The id that was written so; the default where none was.</summary>
    public static RequestId Parse(string text) =>
        text.Length > 1 && int.TryParse(text.AsSpan(1), NumberStyles.None, CultureInfo.InvariantCulture, out var number)
            ? new(text[0], number) : default;
}

/// <summary>
/// Words that many requests share, by a number. A request that holds no other object is nothing to look through where garbage is collected:
/// of a million that is most of the time for which a page would stand still.
/// </summary>
internal readonly record struct Words
{
    private static readonly Dictionary<string, int> Numbers = new() { [""] = 0 };
    private static string[] _texts = [""];
    private readonly int _number;

    private Words(int number) => _number = number;

    public static Words Of(string text)
    {
        lock (Numbers)
        {
            if (Numbers.TryGetValue(text, out var number)) return new(number);
            number = Numbers.Count;
            if (number == _texts.Length) Array.Resize(ref _texts, 2 * number);
            _texts[number] = text;
            Numbers.Add(text, number);
            return new(number);
        }
    }

    public override string ToString() => _texts[_number];
}

/// <summary>
/// A request for an observing night of an imaginary observatory. There may be a million of them: none takes more room than it needs.
/// </summary>
internal sealed class Request(RequestId id, Words fieldName, Words requester, double magnitude, Words wish = default)
{
    private readonly short _tenths = (short)Math.Round(magnitude * 10);
    private RequestId _below;

    public RequestId Id { get; } = id;

    public string Field => fieldName.ToString();

    public string Requester => requester.ToString();

    public double Magnitude => _tenths / 10.0;

    public string Wish => wish.ToString();

    public bool IsForLater { get; set; }

    /// <summary>The night that it is planned for: tonight, or later.</summary>
    public string Night
    {
        get => IsForLater ? "later" : "tonight";
        set => IsForLater = value == "later";
    }

    /// <summary>The request that it belongs to; null for one by itself.</summary>
    public RequestId? Below
    {
        get => _below == default ? null : _below;
        set => _below = value ?? default;
    }

    public bool IsStarred { get; set; }

    /// <summary>Whether it is asked for tomorrow again.</summary>
    public bool AsksAgain { get; set; }
}

/// <summary>Made-up requests, always the same ones.</summary>
internal static class Plan
{
    private static readonly string[] Beginnings = ["Orv", "Tess", "Bely", "Zin", "Har", "Fen", "Wen", "Ras", "Nev", "Umb", "Jor", "Kel"],
        Endings = ["ane", "il", "ra", "umen", "onda", "illo", "ovar", "eska"], Kinds = ["Cluster", "Ring", "Pair", "Comet", "Nebula"];

    private static readonly Words[] Wishes = [
        default, Words.Of("Only while the moon is down."),
        Words.Of("The field is low: not before two, and not after the wind has turned to the west."), Words.Of("Again, as in the spring.")];

    private static readonly Words[] Fields =
        [.. Enumerable.Range(0, 120).Select(i => Words.Of($"{Beginnings[i * 7 % 12]}{Endings[i * 5 % 8]} {Kinds[i * 3 % 5]}"))];

    /// <summary>Who has made requests.</summary>
    public static string[] People { get; } = ["Noor Halder", "Sanna Riis", "Odo Marsk", "Edda Fusk", "Piet Yarrow", "Ila Venn"];

    private static readonly Words[] Requesters = [.. People.Select(Words.Of)];

    /// <summary>What stands for all of them.</summary>
    public const string Everybody = "Everybody";

    /// <summary>Requests one after the other, as they are asked for.</summary>
    public static IEnumerable<Request> Make(int count, int from = 0) => Enumerable.Range(from, count - from).Select(i =>
        new Request(new('R', i), Fields[i % 120], Requesters[i % 6], 4 + (i * 37 % 90 / 10.0), Wishes[i * 3 % 4])
        {
            IsForLater = i % 5 == 4,
            IsStarred = i % 7 == 2,
        });
}
