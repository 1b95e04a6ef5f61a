using Lectica.Items;

namespace Lectica.Moving;

/// <summary>
/// The places in which items can land, for whoever chooses them one after the other: numbered from 0 through the list, or through all of
/// its sections. One is above each item that shows and stays, and one at the end of the list and of each section. Cost: one set a section,
/// made when it is first asked for.
/// </summary>
internal sealed class Landings
{
    private readonly RowMap _rows;
    private readonly ItemSet _items;

    /// <summary>What moves: the items, in an outline with all that is below them.</summary>
    public ItemSet Moving { get; }

    private readonly ItemSet?[] _stay;

    /// <summary>The places for items in rows.</summary>
    public Landings(RowMap rows, ItemSet items)
    {
        (_rows, _items, _stay) = (rows, items, new ItemSet?[Math.Max(1, rows.Sections.Length)]);
        Moving = rows.WithBelow(items);
    }

    /// <summary>Whether these are the places for the same items in the same rows.</summary>
    public bool IsFor(RowMap rows, ItemSet items) => ReferenceEquals(rows, _rows) && ReferenceEquals(items, _items);

    /// <summary>The items of a section, or of the list for -1, that show and stay.</summary>
    public ItemSet Stay(int section) => _stay[Math.Max(0, section)] ??= _rows.MembersOf(section).Except(Moving);

    /// <summary>The number of places.</summary>
    public int Count => Enumerable.Range(0, _stay.Length).Sum(PlacesIn);

    private int PlacesIn(int section) =>
        _rows.Sections.IsEmpty ? Stay(-1).Count + 1 : _rows.HeadingOf(section) is null ? 0 : Stay(section).Count + 1;

    /// <summary>The number of the place that a gap is.</summary>
    public int NumberOf(Gap gap)
    {
        var before = 0;
        for (var i = 0; i < gap.Section; i++) before += PlacesIn(i);
        return before + RankOf(gap);
    }

    /// <summary>The number of the place that a gap is, inside its section.</summary>
    public int RankOf(Gap gap) => Stay(gap.Section).Rank(gap.Index);

    /// <summary>A gap of an outline on the level that is nearest to one; in other lists the gap itself.</summary>
    public Gap OnLevel(Gap gap, int level) => _rows.Levels is null ? gap : _rows.OnLevel(gap, level, Stay(-1));

    /// <summary>The gap of a number; past an end the first or last one.</summary>
    public Gap GapAt(int number)
    {
        number = Math.Clamp(number, 0, Count - 1);
        for (var i = 0; i < _stay.Length; i++)
        {
            var places = PlacesIn(i);
            if (number < places) return GapAt(_rows.Sections.IsEmpty ? -1 : i, number);
            number -= places;
        }
        throw new InvalidOperationException("There are no rows.");
    }

    /// <summary>The gap of a place inside a section, or the list for -1.</summary>
    public Gap GapAt(int section, int rank) =>
        rank < Stay(section).Count ? new(Stay(section).Nth(Math.Max(0, rank)), section) : _rows.EndOf(section);
}
