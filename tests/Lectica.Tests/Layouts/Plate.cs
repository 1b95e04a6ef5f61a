namespace Lectica.Tests.Layouts;

/// <summary>An item of the lists in these tests; its region is its section, and may change.</summary>
internal sealed class Plate(int id, string region)
{
    public int Id { get; } = id;

    public string Region { get; set; } = region;

    public override string ToString() => $"P{Id}";
}
