using CsCheck;
using Lectica.Items;
using Lectica.Shell;

namespace Lectica.Tests.Moving;

/// <summary>
/// Where items are put back: what is worked out at once where only their own move has come is what their neighbours would have said.
/// </summary>
public sealed class ReturnPlacesTests
{
    [Fact]
    public void A_move_alone_is_taken_back_to_where_the_neighbours_are()
    {
        int atOnce = 0, looked = 0, scattered = 0;
        Gen.Select(Gen.Int[1, 40], Gen.Int, Gen.Int[0, 2], Gen.Bool).Sample((count, seed, kind, more) =>
        {
            var random = new Random(seed);
            var store = new ItemStore<int, int>(i => i, null, check: true);
            store.Open([.. Enumerable.Range(0, count)]);
            // In runs as well as by themselves.
            var part = random.Next(1, 10);
            var items = ItemSet.Of(count, Enumerable.Range(0, count).Where(i => random.Next(10) < part || (seed % 2 == 0 && i % 7 < 3)));
            if (items.IsEmpty) return;
            var log = new EditLog();
            var places = ReturnPlaces<int, int>.Before(store, items, log);
            var edit = kind == 0 ? Edit.Move(items, random.Next(count + 1))
                : Edit.Remap(count, kind == 1 ? Mixed(items, random) : Shuffled(count, random));
            store.Rearrange(edit);
            var now = log.After(edit);
            int[] left = [.. Enumerable.Range(0, count).Select(i => edit.Back(i))];
            var isMove = IsRising(left.Where(items.Contains)) && IsRising(left.Where(i => !items.Contains(i)));
            if (more)
            {
                now.After(Edit.Splice(count, 0, 0, 0));
                Assert.Null(places.OfOnlyMove);
                return;
            }
            if (!isMove)
            {
                looked++;
                Assert.Null(places.OfOnlyMove);
                return;
            }
            atOnce++;
            if (items.Ranges().Skip(1).Any() && kind == 1) scattered++;
            var (moved, runs) = places.OfOnlyMove!.Value;
            Assert.Equal(edit.Apply(items), moved);
            var gaps = runs.SelectMany(run => Enumerable.Repeat(run.Gap, run.Count));
            Assert.Equal(places.Gaps([.. Enumerable.Range(0, items.Count)], moved), gaps);
        }, iter: 4000, threads: 1);
        Assert.True(atOnce > 500 && looked > 200 && scattered > 100, $"{atOnce} at once, {looked} not, {scattered} scattered");
    }

    // The items among the others anew, each in their order.
    private static int[] Mixed(ItemSet items, Random random)
    {
        Queue<int> some = new(items), others = new(items.Complement());
        return [.. Enumerable.Range(0, items.Universe)
            .Select(_ => others.Count == 0 || (some.Count > 0 && random.Next(2) == 0) ? some.Dequeue() : others.Dequeue())];
    }

    private static int[] Shuffled(int count, Random random)
    {
        int[] order = [.. Enumerable.Range(0, count)];
        random.Shuffle(order);
        return order;
    }

    private static bool IsRising(IEnumerable<int> numbers) => numbers.Zip(numbers.Skip(1)).All(n => n.First < n.Second);
}
