using CsCheck;
using Lectica.Items;

namespace Lectica.Tests.Items;

/// <summary>Keys are found as in a dictionary, also while the table grows a little at each of them.</summary>
public sealed class KeySlotTests
{
    [Fact]
    public void It_finds_what_a_dictionary_finds_while_it_grows()
    {
        int growing = 0, goneWhileGrowing = 0, twice = 0;
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
        Assert.True(Math.Min(growing, Math.Min(goneWhileGrowing, twice)) > 0, $"{growing} {goneWhileGrowing} {twice}");
    }
}
