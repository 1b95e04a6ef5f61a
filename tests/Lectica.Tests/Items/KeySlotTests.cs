using CsCheck;
using Lectica.Items;

namespace Lectica.Tests.Items;

/// <summary>Keys are found as in a dictionary, also while the table grows a little at each of them.</summary>
public sealed class KeySlotTests
{
    [Fact]
    public void It_finds_what_a_dictionary_finds_while_it_grows()
    {
        int growing = 0, goneWhileGrowing = 0, twice = 0, reserved = 0;
        Gen.Select(Gen.Int[0, 400].Array[0, 900], Gen.Int[1, 64], Gen.Int[0, 3]).Sample((numbers, spread, mostGone) =>
        {
            var keys = new int[1];
            var table = new KeySlots<int>(keys, 0);
            var model = new Dictionary<int, int>();
            var chains = 16;
            var free = new Stack<int>();
            var used = 0;
            foreach (var number in numbers)
            {
                var key = number * spread;
                if (number % 97 == 0)
                {
                    table.Reserve(number / 4);
                    reserved++;
                }
                if (number % 4 < mostGone && model.Remove(key, out var gone))
                {
                    if (model.Count > chains) goneWhileGrowing++;
                    table.Remove(gone);
                    free.Push(gone);
                    Assert.Equal(-1, table.Find(key));
                    continue;
                }
                if (!free.TryPop(out var slot)) slot = used++;
                if (slot == keys.Length)
                {
                    Array.Resize(ref keys, 2 * slot);
                    table.Keys = keys;
                }
                keys[slot] = key;
                var isNew = model.TryAdd(key, slot);
                if (!isNew)
                {
                    twice++;
                    free.Push(slot);
                }
                Assert.Equal(isNew, table.TryAdd(slot));
                if (model.Count <= chains) continue;
                // Just grown, and for some keys to come: all of them are looked for.
                growing++;
                foreach (var (known, at) in model) Assert.Equal(at, table.Find(known));
                if (model.Count > chains + 6) chains *= 2;
            }
            for (var key = -1; key <= 400 * spread; key++) Assert.Equal(model.GetValueOrDefault(key, -1), table.Find(key));
        }, iter: Effort.Of(1000));
        Assert.True(Math.Min(growing, goneWhileGrowing) > 0 && Math.Min(reserved, twice) > 0,
            $"{growing} {goneWhileGrowing} {twice} {reserved}");
    }

    /// <summary>A key that tells its number, or nothing: then asking for its hash throws.</summary>
    private sealed record Key(int Number)
    {
        public bool Equals(Key? other) => other?.Number == Number;

        public override int GetHashCode() => Number == 13 ? throw new InvalidOperationException("13 has no hash.") : Number % 5;
    }

    [Fact]
    public void What_comes_in_with_a_key_that_is_taken_or_cannot_be_told_leaves_all_as_it_was()
    {
        int taken = 0, twice = 0, untold = 0, came = 0;
        Gen.Select(Gen.Select(Gen.Int[0, 30], Gen.Int[0, 40].Array[1, 6]).Array[1, 12], Gen.Bool).Sample((splices, roomy) =>
        {
            var store = new ItemStore<string, Key>(text => new(int.Parse(text, System.Globalization.CultureInfo.InvariantCulture)), null,
                check: true);
            var model = new List<int>();
            foreach (var (where, numbers) in splices)
            {
                var at = where % (model.Count + 1);
                if (roomy) store.Reserve(where);
                if (model.Count > 2 && where % 4 == 0)
                {
                    store.Splice(at % model.Count, 1, [], null, mayReturn: false, out _);
                    model.RemoveAt(at % model.Count);
                    at = Math.Min(at, model.Count);
                }
                int AfterwardsAt(int number, int before) =>
                    Array.IndexOf(numbers, number, 0, before) is >= 0 and var here ? at + here
                    : model.IndexOf(number) is var there && there >= at ? there + numbers.Length : there;
                var wrong = Array.FindIndex(numbers, n => n == 13 || AfterwardsAt(n, Array.IndexOf(numbers, n)) >= 0);
                for (var i = 0; i < numbers.Length && (wrong < 0 || i < wrong); i++)
                    if (Array.IndexOf(numbers, numbers[i], 0, i) >= 0) wrong = i;
                var thrown = Record.Exception(() => store.Splice(at, 0, [.. numbers.Select(n => $"{n}")], null, mayReturn: false, out _));
                if (wrong < 0)
                {
                    Assert.Null(thrown);
                    model.InsertRange(at, numbers);
                    came++;
                }
                else if (numbers[wrong] == 13)
                {
                    Assert.IsType<InvalidOperationException>(thrown);
                    untold++;
                }
                else
                {
                    var duplicate = Assert.IsType<DuplicateKeyException>(thrown);
                    Assert.Equal((new Key(numbers[wrong]), AfterwardsAt(numbers[wrong], wrong), at + wrong),
                        ((Key)duplicate.Key, duplicate.FirstIndex, duplicate.SecondIndex));
                    if (model.Contains(numbers[wrong])) taken++;
                    else twice++;
                }
                Assert.Equal(model, Enumerable.Range(0, store.Count).Select(i => store.KeyAt(i).Number));
                for (var number = 0; number <= 40; number++)
                    if (number != 13) Assert.Equal(model.IndexOf(number), store.IndexOf(new(number)));
            }
        }, iter: Effort.Of(3000));
        Assert.True(Math.Min(taken, twice) > 0 && Math.Min(untold, came) > 0, $"{taken} {twice} {untold} {came}");
    }
}
