using Lectica.Acts;
using Lectica.Finding;

namespace Lectica.States;

/// <summary>A search by typing that goes on in slices.</summary>
/// <param name="Prefix">What is searched for.</param>
/// <param name="Next">The row to go on at.</param>
/// <param name="Left">How many rows are left.</param>
/// <param name="Act">The act that began it.</param>
/// <param name="Due">When the host has it go on, ms; infinity where it goes on by itself.</param>
internal sealed record Search(string Prefix, int Next, int Left, Act Act, double Due = double.PositiveInfinity);

/// <summary>What is searched for by typing.</summary>
/// <param name="Typing">The characters that gather.</param>
/// <param name="Search">The search that goes on; null where none does.</param>
internal sealed record FindState(Typing Typing, Search? Search)
{
    public static FindState Nothing { get; } = new(Typing.None, null);

    /// <summary>Rows have changed during a search: all of them are looked through again, from where it is.</summary>
    public static FindState Settle(ListState before, ListState now, in Settling how)
    {
        if (now.Find.Search is not { } search || ReferenceEquals(before.Showing.Rows, now.Showing.Rows)) return now.Find;
        var rows = Math.Max(1, now.Showing.Rows.Count);
        return now.Find with { Search = search with { Next = search.Next % rows, Left = rows } };
    }
}
