using CsCheck;
using Lectica.Acts;
using Lectica.Items;
using Lectica.Moving;

namespace Lectica.Tests.Moving;

/// <summary>Order keys stand as their items do, wherever items are put, and stay short.</summary>
public sealed class OrderKeyTests(ITestOutputHelper output)
{
    private static void AssertInOrder(IReadOnlyList<string> keys)
    {
        for (var i = 1; i < keys.Count; i++)
            Assert.True(string.CompareOrdinal(keys[i - 1], keys[i]) < 0, $"'{keys[i - 1]}' is not below '{keys[i]}' at {i}");
    }

    [Fact]
    public void Between_any_two_neighbours_there_is_a_key() =>
        Gen.Select(Gen.Int[0, 1000].Array[0, 300], Gen.Int[0, 40], Gen.Int[1, 5]).Sample((places, spread, many) =>
        {
            var keys = OrderKey.Spread(spread).ToList();
            foreach (var place in places)
            {
                var at = place % (keys.Count + 1);
                string? above = at > 0 ? keys[at - 1] : null, below = at < keys.Count ? keys[at] : null;
                keys.InsertRange(at, place % 3 == 0 ? OrderKey.Between(above, below, many) : [OrderKey.Between(above, below)]);
            }
            AssertInOrder(keys);
            Assert.All(keys, k => Assert.Matches("^[0-9A-Za-z]*[1-9A-Za-z]$", k));
        }, iter: Effort.Of(300));

    [Theory]
    [InlineData("always last", 12)]
    [InlineData("always first", 12)]
    [InlineData("always after the last one put in", 14)]
    [InlineData("always before the last one put in", 14)]
    [InlineData("at random", 64)]
    [InlineData("on either side of the last one in turn", 201)]
    public void A_hundred_thousand_insertions_at_the_worst_place(string where, int longest)
    {
        const int tooLong = 200;
        var n = Effort.Of(100_000);
        var random = new Random(6);
        // As a chain, so that putting one in costs nothing; a place is the node above it.
        var below = new List<int> { -1 };
        var keys = new List<string?> { null };
        int Insert(int above)
        {
            var next = below[above];
            keys.Add(OrderKey.Between(keys[above], next < 0 ? null : keys[next]));
            below.Add(next);
            below[above] = keys.Count - 1;
            return keys.Count - 1;
        }
        int first = Insert(0), last = Insert(first), one = first, spreads = 0;
        var outer = first;
        for (var i = 2; i < n; i++)
        {
            switch (where)
            {
                case "always last":
                    one = last = Insert(last);
                    break;
                case "always first":
                    one = Insert(0);
                    break;
                case "always after the last one put in":
                    one = Insert(one);
                    break;
                case "always before the last one put in":
                    one = Insert(first);
                    break;
                case "at random":
                    one = Insert(random.Next(keys.Count));
                    break;
                default:
                    // Between the last one and the one before it: above it and below it in turn.
                    var made = i % 2 == 0 ? Insert(one) : Insert(outer);
                    if (i % 2 == 0) outer = one;
                    one = made;
                    break;
            }
            if (keys[one]!.Length <= tooLong) continue;
            // The keys have become long: the call that gives new ones, here for those around only to be quick.
            spreads++;
            var order = new List<int>();
            for (var at = below[0]; at >= 0; at = below[at]) order.Add(at);
            foreach (var (at, key) in order.Zip(OrderKey.Spread(order.Count))) keys[at] = key;
        }
        var all = new List<string>();
        for (var at = below[0]; at >= 0; at = below[at]) all.Add(keys[at]!);
        Assert.Equal(n, all.Count);
        AssertInOrder(all);
        output.WriteLine(
            $"{where}: longest {all.Max(k => k.Length)}, mean {all.Average(k => k.Length):0.0} digits, spread again {spreads} times");
        Assert.True(all.Max(k => k.Length) <= longest, $"the longest key has {all.Max(k => k.Length)} digits");
        // A whole list spread again is short again.
        Assert.True(OrderKey.Spread(n).Max(k => k.Length) <= 3);
    }

    [Theory]
    [InlineData("b", "a", "'b' is not below 'a'")]
    [InlineData("a", "a", "'a' is not below 'a'")]
    [InlineData("a0", null, "ends with 0")]
    [InlineData(null, "ä", "has the character 'ä'")]
    [InlineData("", null, "is not empty")]
    public void Keys_that_are_none_are_refused_with_the_reason(string? lower, string? upper, string reason) =>
        Assert.Contains(reason, Assert.Throws<ArgumentException>(() => OrderKey.Between(lower, upper)).Message);

    [Fact]
    public void Whatever_moves_and_comes_back_the_stored_order_is_the_list_s()
    {
        int undone = 0, redone = 0, scattered = 0, batched = 0, more = 0;
        Gen.Select(Gen.Int[2, 25], Gen.Int[0, int.MaxValue].Array[1, 30]).Sample((n, acts) =>
        {
            var plan = new System.Collections.ObjectModel.ObservableCollection<Stored>(
                OrderKey.Spread(n).Select((key, i) => new Stored($"R{i:00}") { Order = key }));
            var list = InteractiveList.Of(plan, r => r.Key, new() { Mode = SelectionMode.Multiple, MayMove = true });
            List<IReadOnlyList<string>>? later = null;
            void Store(IReadOnlyList<string> keys)
            {
                var written = list.OrderKeysFor(keys, r => r.Order);
                foreach (var (item, key) in written) item.Order = key;
                Assert.Subset(written.Select(w => w.Key.Key).ToHashSet(), keys.ToHashSet());
                if (written.Count > keys.Count) more++;
            }
            list.Moved += (_, moved) =>
            {
                if (moved.Landed.Ranges().Count() > 1) scattered++;
                if (later is not null) later.Add(moved.Keys);
                else Store(moved.Keys);
            };
            void Move(int act) =>
                list.Move([.. plan.Where((_, i) => (act >> (i % 20) & 3) == 0).Select(r => r.Key)], act % (plan.Count + 1));
            foreach (var act in acts)
            {
                switch (act % 7)
                {
                    case 0:
                        if (list.Undo().Refusal is null) undone++;
                        break;
                    case 1:
                        if (list.Redo().Refusal is null) redone++;
                        break;
                    case 2:
                        // Stored once all has been done: what is written first stands beside what is out of date.
                        later = [];
                        Move(act / 7);
                        Move(act / 49);
                        Move(act / 343);
                        var moves = later;
                        later = null;
                        foreach (var keys in moves) Store(keys);
                        batched++;
                        break;
                    case 3:
                        // One that was never stored gets a key with the first that lands beside it.
                        plan.Insert(act % (plan.Count + 1), new($"N{plan.Count}"));
                        break;
                    default:
                        Move(act / 7);
                        break;
                }
                AssertInOrder([.. plan.Select(r => r.Order).Where(key => key.Length > 0)]);
            }
        }, iter: Effort.Of(400));
        if (!Effort.IsFull) return;
        Assert.True(undone > 100 && redone > 20 && scattered > 100 && batched > 100 && more > 10,
            $"{undone} undone, {redone} redone, {scattered} scattered, {batched} stored later, {more} wrote more");
    }

    [Fact]
    public void Between_all_short_keys_there_is_one_that_is_hardly_longer()
    {
        const string digits = "01Vyz";
        string[] all = [.. from a in digits.Select(d => $"{d}").Prepend("") from b in digits.Select(d =>
            $"{d}").Prepend("") from c in digits
                        where c != '0' && !(a.Length > 0 && b.Length == 0) select a + b + c];
        Array.Sort(all, string.CompareOrdinal);
        Assert.Equal(124, all.Length);
        for (var i = -1; i < all.Length; i++)
            for (var j = i + 1; j <= all.Length; j++)
            {
                string? lower = i < 0 ? null : all[i], upper = j == all.Length ? null : all[j];
                var key = OrderKey.Between(lower, upper);
                Assert.True(lower is null || string.CompareOrdinal(lower, key) < 0, $"{lower} {key} {upper}");
                Assert.True(upper is null || string.CompareOrdinal(key, upper) < 0, $"{lower} {key} {upper}");
                Assert.Matches("^[0-9A-Za-z]*[1-9A-Za-z]$", key);
                Assert.True(key.Length <= Math.Max(lower?.Length ?? 1, upper?.Length ?? 1) + 4, $"{lower} {key} {upper}");
            }
    }

    // A digit in the middle; else the first group of 1, 2, 4 … digits after what is common that has room, by one; else the next group.
    [Theory]
    [InlineData(null, null, "V")]
    [InlineData("V", null, "W")]
    [InlineData("z", null, "z01")]
    [InlineData("z01", null, "z02")]
    [InlineData("z0z", null, "z11")]
    [InlineData("zyz", null, "zz1")]
    [InlineData("zz", null, "zz1")]
    [InlineData("zzy", null, "zzz")]
    [InlineData("zzz", null, "zzz0001")]
    [InlineData(null, "V", "U")]
    [InlineData(null, "1", "0zz")]
    [InlineData(null, "01", "00z")]
    [InlineData(null, "0zz", "0zy")]
    [InlineData(null, "0001", "0000zzz")]
    [InlineData("A", "C", "B")]
    [InlineData("A", "F", "C")]
    [InlineData("A", "B", "AV")]
    [InlineData("AV", "B", "AW")]
    [InlineData("Az", "B", "Az01")]
    [InlineData("A", "A1", "A0zz")]
    [InlineData("AB", "AD", "AC")]
    public void A_key_is_as_short_as_groups_of_digits_make_it(string? lower, string? upper, string wanted) =>
        Assert.Equal(wanted, OrderKey.Between(lower, upper));

    [Fact]
    public void A_list_is_spread_with_half_of_the_room_left_beside_each()
    {
        Assert.Equal(["K", "f"], OrderKey.Spread(2));
        Assert.Equal([1, 2, 2, 3], new[] { 30, 31, 1921, 1922 }.Select(n => OrderKey.Spread(n).Max(k => k.Length)));
        foreach (var count in (int[])[0, 1, 5, 40])
        {
            Assert.Equal(count, OrderKey.Between("A", "B", count).Count);
            AssertInOrder(["A", .. OrderKey.Between("A", "B", count), "B"]);
            Assert.Equal(OrderKey.Spread(count), OrderKey.Between(null, null, count));
        }
        Assert.Throws<ArgumentOutOfRangeException>(() => OrderKey.Spread(-1));
        Assert.Throws<ArgumentOutOfRangeException>(() => OrderKey.Between("A", "B", -1));
        Assert.Throws<ArgumentNullException>(() => OrderKey.For(null!, _ => ""));
        Assert.Throws<ArgumentNullException>(() => OrderKey.For(ItemSet.None(1), null!));
    }

    // "." is an item whose key is to be written, "?" one that was never stored.
    [Theory]
    [InlineData("A.C", "1")]
    [InlineData(".BC", "0")]
    [InlineData("AB.", "2")]
    [InlineData("A..D.F", "1 2 4")]
    [InlineData("A.?D", "1 2")]
    [InlineData("A?.D", "1 2")]
    [InlineData("?A.D", "2")]
    [InlineData("A??.", "1 2 3")]
    [InlineData("AZ.MN", "1 2")]
    [InlineData("AM.BN", "1 2")]
    [InlineData("AZ.YB", "1 2 3")]
    [InlineData("MB.AZ", "0 1 2")]
    [InlineData("APQ.BCZ", "1 2 3 4")]
    [InlineData("AC.C", "1 2")]
    [InlineData("Z.A", "0 1")]
    public void What_is_written_is_what_moved_and_what_is_in_its_way(string items, string wanted)
    {
        var places = ItemSet.Where(items.Length, i => items[i] == '.');
        string? Known(int i) => items[i] is '.' or '?' ? null : $"{items[i]}";
        var written = OrderKey.For(places, i => places.Contains(i) ? "never asked" : Known(i));
        Assert.Equal(wanted, string.Join(" ", written.Select(w => w.Key)));
        // Each stands between what is then around it.
        var keys = written.ToDictionary(w => w.Key, w => w.Value);
        for (var i = 0; i + 1 < items.Length; i++)
            if (keys.ContainsKey(i) || keys.ContainsKey(i + 1))
                AssertInOrder([keys.GetValueOrDefault(i, Known(i) ?? ""), keys.GetValueOrDefault(i + 1, Known(i + 1) ?? "")]);
    }

    private sealed record Stored(string Key)
    {
        public string Order { get; set; } = "";
    }
}
