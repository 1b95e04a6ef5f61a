using CsCheck;
using Lectica.Items;

namespace Lectica.Tests.Items;

/// <summary>Very many that are taken out together and put back: as they were, whatever was done meanwhile.</summary>
public class ReturnTests
{
    private sealed class Item(int key)
    {
        public int Key { get; } = key;
    }

    private enum Step { TakeOut, PutBack, Bring, BringAway, Drop, Move, MoveMany, Update }

    [Fact]
    public void What_was_taken_out_comes_back_as_it_was_and_others_may_have_its_keys()
    {
        int unasked = 0, alike = 0, asked = 0, taken = 0, refused = 0, many = 0;
        // Two that are away at once are the most telling.
        Step[] acts = [Step.TakeOut, Step.TakeOut, Step.PutBack, .. Enum.GetValues<Step>()];
        Gen.Select(Gen.Int[0, acts.Length - 1].Select(i => acts[i]), Gen.Double.Unit, Gen.Double.Unit).Array[4, 24].Sample(steps =>
        {
            var asks = 0;
            var store = new ItemStore<Item, int>(item => Counted(item.Key), null, check: true);
            int Counted(int key)
            {
                asks++;
                return key;
            }
            var (model, next) = (Enumerable.Range(0, 30_000).Select(i => new Item(i)).ToList(), 30_000);
            store.Open(model.ToArray());
            var away = new List<(int At, Item[] Items)>();
            foreach (var (step, where, size) in steps)
            {
                var at = (int)(where * model.Count);
                switch (step)
                {
                    case Step.TakeOut when model.Count > 0:
                        at = Math.Min(at, model.Count - 1);
                        // Below 4,096 they are let go of at once; and two that are away may be as many.
                        var count = Math.Min(size < 0.3 ? 2500 : 5000, model.Count - at);
                        away.Add((at, [.. model.GetRange(at, count)]));
                        store.Splice(at, count, [], null, mayReturn: true, out _);
                        model.RemoveRange(at, count);
                        break;
                    case Step.PutBack when away.Count > 0:
                        var (was, items) = away[(int)(size * away.Count)];
                        away.RemoveAt((int)(size * away.Count));
                        var here = model.Select(i => i.Key).ToHashSet();
                        var isTaken = items.Any(i => here.Contains(i.Key));
                        var before = asks;
                        var thrown = Record.Exception(
                            () => store.Splice(Math.Min(was, model.Count), 0, items, null, mayReturn: false, out _));
                        if (isTaken)
                        {
                            Assert.IsType<DuplicateKeyException>(thrown);
                            refused++;
                            break;
                        }
                        Assert.Null(thrown);
                        model.InsertRange(Math.Min(was, model.Count), items);
                        if (asks == before && away.Exists(a => a.Items.Length == items.Length)) alike++;
                        if (asks == before) unasked++;
                        else asked++;
                        break;
                    case Step.Bring:
                        var fresh = Enumerable.Range(0, (int)(size * 600) + 1).Select(_ => new Item(next++)).ToArray();
                        store.Splice(at, 0, fresh, null, mayReturn: false, out _);
                        model.InsertRange(at, fresh);
                        break;
                    case Step.BringAway when away.Count > 0:
                        // Another object with the key of one that is away.
                        var key = away[^1].Items[(int)(size * (away[^1].Items.Length - 1))].Key;
                        if (model.Exists(i => i.Key == key)) break;
                        var other = new Item(key);
                        store.Splice(at, 0, [other], null, mayReturn: false, out _);
                        model.Insert(at, other);
                        taken++;
                        break;
                    case Step.Drop when model.Count > 0:
                        at = Math.Min(at, model.Count - 1);
                        store.Splice(at, 1, [], null, mayReturn: true, out _);
                        model.RemoveAt(at);
                        break;
                    case Step.Move or Step.MoveMany when model.Count > 0:
                        at = Math.Min(at, model.Count - 1);
                        var moved = Math.Min(step == Step.Move ? 3 : 2000, model.Count - at);
                        var gap = (int)(size * model.Count);
                        if (gap > at && gap < at + moved) gap = at;
                        store.Move(ItemSet.None(model.Count).WithRange(at, moved), gap);
                        var part = model.GetRange(at, moved);
                        model.RemoveRange(at, moved);
                        model.InsertRange(gap > at ? gap - moved : gap, part);
                        if (moved > 1024) many++;
                        break;
                    case Step.Update:
                        // The app's own: some have gone, and those that are away have come back, at the front.
                        var all = model.Where((_, i) => i % 100 != 7).ToList();
                        var known = all.Select(i => i.Key).ToHashSet();
                        if (away.Count > 0) all.InsertRange(0, away[^1].Items.Where(i => known.Add(i.Key)));
                        store.Update(all.ToArray(), null);
                        model = all;
                        break;
                }
                Assert.Equal(model.Count, store.Count);
                for (var i = 0; i < model.Count; i += 1 + (i % 61))
                {
                    Assert.Same(model[i], store.ItemAt(i));
                    Assert.Equal(model[i].Key, store.KeptKeyAt(i));
                    Assert.Equal(i, store.IndexOf(model[i].Key));
                }
                var present = model.Select(i => i.Key).ToHashSet();
                foreach (var (_, items) in away)
                    for (var i = 0; i < items.Length; i += 97)
                        if (!present.Contains(items[i].Key)) Assert.Equal(-1, store.IndexOf(items[i].Key));
            }
        }, iter: Effort.Of(100));
        Assert.True(
            Math.Min(Math.Min(unasked, alike), asked) > 0 && Math.Min(taken, refused) > 0 && many > 0,
            $"{unasked} {alike} {asked} {taken} {refused} {many}");
    }
}
