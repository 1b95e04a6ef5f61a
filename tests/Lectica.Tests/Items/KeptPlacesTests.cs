using CsCheck;
using Lectica.Items;

namespace Lectica.Tests.Items;

/// <summary>Places of items that leave, through edits of every kind, against a plain list of the items and their places.</summary>
public sealed class KeptPlacesTests
{
    /// <summary>One entry of the plain list: an item, whose place is kept when it leaves or is not, or a place.</summary>
    private readonly record struct Entry(bool IsPlace, bool IsTarget);

    [Fact]
    public void Places_follow_edits_as_in_a_plain_list_of_both()
    {
        int remaps = 0, placed = 0, below = 0;
        Gen.Select(Gen.Int[0, 30], Gen.Int).Sample((count, seed) =>
        {
            var random = new Random(seed);
            var entries = Enumerable.Range(0, count).Select(_ => new Entry(false, random.Next(3) > 0)).ToList();
            var log = new EditLog();
            var places = KeptPlaces.Of(ItemSet.Of(count, Enumerable.Range(0, count).Where(i => entries[i].IsTarget)), log);
            for (var turn = 0; turn < 4; turn++)
            {
                var length = entries.Count(e => !e.IsPlace);
                Edit edit;
                if (random.Next(2) == 0)
                {
                    int at = random.Next(length + 1), removed = random.Next(Math.Min(6, length - at + 1)), inserted = random.Next(4);
                    edit = Edit.Splice(length, at, removed, inserted);
                    Splice(entries, at, removed, inserted);
                }
                else
                {
                    // Some leave, some come, and what is left is in another order, or in the same.
                    var order = Enumerable.Range(0, length).Where(_ => random.Next(3) > 0).ToList();
                    if (random.Next(2) == 0) order = [.. order.OrderBy(_ => random.Next())];
                    for (var i = random.Next(3); i > 0; i--) order.Insert(random.Next(order.Count + 1), -1);
                    edit = Edit.Remap(length, [.. order]);
                    entries = Remap(entries, length, order);
                    remaps++;
                }
                log = log.After(edit);
                int[] gaps = [.. entries.Index().Where(e => e.Item.IsPlace).Select(e => entries.Take(e.Index).Count(i => !i.IsPlace))];
                // Asked now and then: edits are followed one by one or several at once.
                if (random.Next(3) > 0) Assert.Equal(gaps, places.Gaps);
                placed += gaps.Length;
                below += gaps.Count(g => g < entries.Count(e => !e.IsPlace));
            }
        }, iter: 4000, threads: 1);
        Assert.True(remaps > 2000 && placed > 10_000 && below > 5000, $"{remaps} remaps, {placed} places, {below} before an item");
    }

    private static void Splice(List<Entry> entries, int at, int removed, int inserted)
    {
        int[] leaving = [.. entries.Index().Where(e => !e.Item.IsPlace).Skip(at).Take(removed).Select(e => e.Index)];
        foreach (var i in leaving.Reverse())
            if (entries[i].IsTarget) entries[i] = new(true, false);
            else entries.RemoveAt(i);
        // What comes lies above the places in its gap.
        var above = at == 0 ? 0 : entries.Index().Where(e => !e.Item.IsPlace).ElementAt(at - 1).Index + 1;
        entries.InsertRange(above, Enumerable.Repeat(new Entry(false, false), inserted));
    }

    private static List<Entry> Remap(List<Entry> entries, int length, List<int> order)
    {
        int GapOf(int gap) => Enumerable.Range(gap, length - gap).Select(i => order.IndexOf(i)).FirstOrDefault(i => i >= 0, order.Count);
        var items = entries.Where(e => !e.IsPlace).ToList();
        var gaps = new List<int>();
        var n = 0;
        foreach (var entry in entries)
        {
            if (entry.IsPlace) gaps.Add(GapOf(n));
            else
            {
                if (entry.IsTarget && !order.Contains(n)) gaps.Add(GapOf(n));
                n++;
            }
        }
        var both = new List<Entry>();
        for (var i = 0; i <= order.Count; i++)
        {
            both.AddRange(gaps.Where(g => g == i).Select(_ => new Entry(true, false)));
            if (i < order.Count) both.Add(order[i] < 0 ? new(false, false) : items[order[i]]);
        }
        return both;
    }
}
