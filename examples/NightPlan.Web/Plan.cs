namespace Lectica.Examples.NightPlan;

/// <summary>
/// What a request is known by: a number in a series, such as R05. As a value it is no object of its own, of which a million would be many.
/// Of a million keys hashed and compared in a browser, what the compiler would write for both takes most of the time.
/// </summary>
internal readonly record struct RequestId(char Series, int Number)
{
    public bool Equals(RequestId other) => Number == other.Number && Series == other.Series;

    public override int GetHashCode() => (Series << 24) ^ Number;

    public override string ToString() => $"{Series}{Number:00}";
}

/// <summary>A request for an observing night of an imaginary observatory.</summary>
internal sealed class Request(RequestId id, string field, string requester, double magnitude)
{
    public RequestId Id { get; } = id;

    public string Field { get; } = field;

    public string Requester { get; } = requester;

    public double Magnitude { get; } = magnitude;

    public string Wish { get; init; } = "";

    public string Night { get; set; } = "tonight";

    /// <summary>The request that it belongs to; null for one by itself.</summary>
    public RequestId? Below { get; set; }

    public bool IsStarred { get; set; }

    /// <summary>Whether it is asked for tomorrow again.</summary>
    public bool AsksAgain { get; set; }
}

/// <summary>Made-up requests, always the same ones.</summary>
internal static class Plan
{
    private static readonly string[] Beginnings = ["Orv", "Tess", "Bely", "Zin", "Har", "Fen", "Wen", "Ras", "Nev", "Umb", "Jor", "Kel"],
        Endings = ["ane", "il", "ra", "umen", "onda", "illo", "ovar", "eska"], Kinds = ["Cluster", "Ring", "Pair", "Comet", "Nebula"],
        Wishes = ["", "Only while the moon is down.", "The field is low: not before two, and not after the wind has turned to the west.",
        "Again, as in the spring."];

    // Each name once, however many requests there are.
    private static readonly string[] Fields =
        [.. Enumerable.Range(0, 120).Select(i => $"{Beginnings[i * 7 % 12]}{Endings[i * 5 % 8]} {Kinds[i * 3 % 5]}")];

    /// <summary>Who has made requests.</summary>
    public static string[] People { get; } = ["Noor Halder", "Sanna Riis", "Odo Marsk", "Edda Fusk", "Piet Yarrow", "Ila Venn"];

    /// <summary>What stands for all of them.</summary>
    public const string Everybody = "Everybody";

    /// <summary>Requests one after the other, as they are asked for.</summary>
    public static IEnumerable<Request> Make(int count, int from = 0) => Enumerable.Range(from, count - from).Select(i =>
        new Request(new('R', i), Fields[i % 120], People[i % 6], 4 + (i * 37 % 90 / 10.0))
        {
            Night = i % 5 == 4 ? "later" : "tonight",
            IsStarred = i % 7 == 2,
            Wish = Wishes[i * 3 % 4],
        });
}
