using CsCheck;
using Lectica.Items;

namespace Lectica.Tests.Items;

/// <summary>An order of slots beside a plain list of them.</summary>
public class ItemOrderTests
{
    private enum Step { Insert, InsertMany, Remove, Detach, Attach, Lay }

    [Fact]
    public void Slots_are_where_a_plain_list_has_them_also_those_that_were_taken_out_together()
    {
        int attached = 0, inParts = 0, shorter = 0, dense = 0;
        Gen.Select(
            Gen.Int[0, 3000], Gen.Select(Gen.Enum<Step>(), Gen.Double.Unit, Gen.Double.Unit).Array[1, 20]).Sample((count, steps) =>
        {
            var order = new ItemOrder(count);
            var (model, next) = (Enumerable.Range(0, count).ToList(), count);
            var away = new List<(ItemOrder.Stretch Stretch, int[] Slots)>();
            foreach (var (step, where, size) in steps)
            {
                var at = (int)(where * (model.Count + 1));
                var length = Math.Min(1 + (int)(size * 2000), model.Count - at);
                switch (step)
                {
                    case Step.Insert or Step.InsertMany:
                        int[] slots = [.. Enumerable.Range(next, step == Step.Insert ? 1 : 1 + (int)(size * 2500))];
                        if (size < 0.3) Array.Reverse(slots);
                        next += slots.Length;
                        order.Insert(at, slots);
                        model.InsertRange(at, slots);
                        break;
                    case Step.Remove when length > 0:
                        order.RemoveRange(at, length);
                        model.RemoveRange(at, length);
                        break;
                    case Step.Detach when length > 0:
                        away.Add((order.Detach(at, length), [.. model.GetRange(at, length)]));
                        model.RemoveRange(at, length);
                        Assert.Equal(away[^1].Slots, away[^1].Stretch.ToArray());
                        break;
                    case Step.Attach when away.Count > 0:
                        var (stretch, its) = away[(int)(size * away.Count)];
                        away.RemoveAt((int)(size * away.Count));
                        order.Attach(at, stretch);
                        if (at > 0 && at < model.Count) inParts++;
                        model.InsertRange(at, its);
                        attached++;
                        break;
                    case Step.Lay:
                        // Others than before: some are gone for good.
                        var stay = model.Where((_, i) => size > 0.5 || i % 5 > 0).Reverse().ToArray();
                        if (stay.Length < model.Count) shorter++;
                        order.Lay(stay);
                        model = [.. stay];
                        break;
                }
                Assert.Equal(model, order.ToArray());
                var places = new int[next];
                Array.Fill(places, -1);
                for (var i = 0; i < model.Count; i++) places[model[i]] = i;
                for (var slot = 0; slot < next; slot++)
                {
                    Assert.Equal(places[slot], order.IndexOf(slot));
                    Assert.Equal(places[slot] >= 0, order.Contains(slot));
                }
                for (var i = 0; i < model.Count; i += 37) Assert.Equal(model[i], order.SlotAt(i));
                foreach (var set in SetsOf(model.Count, at))
                {
                    var (wanted, read) = (set.Select(i => model[i]).ToArray(), new int[set.Count]);
                    order.Read(set, read);
                    Assert.Equal(wanted, read);
                    Array.Clear(read);
                    order.Read<int>(set, [.. Enumerable.Range(0, next)], read);
                    Assert.Equal(wanted, read);
                    if (set.Count > set.Universe * 0.8 && set.Count < set.Universe) dense++;
                }
            }
        }, iter: Effort.Of(600));
        Assert.True(Math.Min(attached, inParts) > 0 && shorter > 0 && dense > 0, $"{attached} {inParts} {shorter} {dense}");
    }

    // A stretch, few, most, and all but few: what is read a run, an item or a leaf at a time.
    private static ItemSet[] SetsOf(int count, int at)
    {
        var first = Math.Min(at, count);
        var (stretch, few) = (ItemSet.None(count).WithRange(first, count - first), ItemSet.Where(count, i => (i + at) % 29 == 3));
        return [stretch, few, ItemSet.Where(count, i => (i + at) % 97 != 3), few.Complement()];
    }
}
