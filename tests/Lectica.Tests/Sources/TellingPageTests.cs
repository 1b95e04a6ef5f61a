using System.ComponentModel;
using CsCheck;
using Lectica.Items;
using Lectica.Marking;
using Lectica.Testing;

namespace Lectica.Tests.Sources;

/// <summary>Items of a source that is not in memory, which tell of their changes: each is listened to while it is held.</summary>
public sealed class TellingPageTests(ITestOutputHelper output)
{
    private sealed class Lamp(int id) : INotifyPropertyChanged
    {
        private PropertyChangedEventHandler? _listeners;

        public int Id => id;

        public bool IsOn
        {
            get;
            set
            {
                field = value;
                _listeners?.Invoke(this, new(nameof(IsOn)));
            }
        }

        public int Listeners => _listeners?.GetInvocationList().Length ?? 0;

        public event PropertyChangedEventHandler? PropertyChanged
        {
            add => _listeners += value;
            remove => _listeners -= value;
        }
    }

    private static SimulatedSource<Lamp, int> Service(IEnumerable<Lamp> lamps) =>
        new(lamps, l => l.Id, (a, b) => a.Id.CompareTo(b.Id));

    [Fact]
    public void Where_the_items_type_does_not_say_that_they_tell_none_keeps_a_listener()
    {
        Lamp[] lamps = [.. Enumerable.Range(0, 20).Select(i => new Lamp(i))];
        using (var list = InteractiveList.Awaiting<object, int>(o => ((Lamp)o).Id, new() { Viewport = new(400, 300) }))
        {
            list.Show(new SimulatedSource<object, int>(lamps, o => ((Lamp)o).Id, (a, b) => ((Lamp)a).Id.CompareTo(((Lamp)b).Id)));
            list.WaitUntilRead();
            Assert.True(list.IsRead(0));
        }
        Assert.All(lamps, l => Assert.Equal(0, l.Listeners));
    }

    [Fact]
    public void Each_has_one_listener_while_it_is_held_and_shows_what_it_tells_whatever_is_read_and_let_go()
    {
        var (shown, far, most) = (0, 0, 0);
        Gen.Select(Gen.Int[0, 6], Gen.Int[0, 9999], Gen.Int[0, 9999]).Array[30].Sample(steps =>
        {
            var fresh = 400;
            List<Lamp> all = [.. Enumerable.Range(0, 400).Select(i => new Lamp(i))];
            var service = Service(all);
            using (var list = InteractiveList.Awaiting<Lamp, int>(
                l => l.Id, new() { Viewport = new(400, 300), PageSize = 8, PagesKept = 4, Parts = new() { Marks = ["on"] } }))
            {
                list.Content = l => new($"{l.Id}", l.IsOn ? "on" : "off");
                list.Marks = [new("on") { Get = l => l.IsOn, Set = (l, on) => l.IsOn = on }];
                list.Show(service);
                list.WaitUntilRead();
                foreach (var (what, a, b) in steps)
                {
                    switch (what)
                    {
                        case 0:
                            list.ScrollTo(a * 2.0);
                            break;
                        case 1:
                            service.Change(now => now.Where(l => l.Id % 17 != a % 17));
                            break;
                        case 2:
                            // Another object has come in the place of one.
                            service.Change(now => now.Select(l => l.Id % 7 == a % 7 ? Of(l.Id) : l));
                            break;
                        case 3:
                            service.Change(now => [.. now, Of(fresh++)]);
                            break;
                        case 4 when b % 5 == 0:
                            list.Show(service = Service(service.Items.Where(l => l.Id % 3 != a % 3)));
                            break;
                        case 5 when b % 5 == 0:
                            // All of them in memory, and in pages again.
                            list.Show([.. service.Items]);
                            Assert.All(service.Items, l => Assert.Equal(1, l.Listeners));
                            list.Show(service);
                            break;
                        default:
                            var lamp = all[a % all.Count];
                            lamp.IsOn = !lamp.IsOn;
                            if (lamp.Listeners == 0) far++;
                            break;
                    }
                    list.WaitUntilRead();
                    Assert.Equal(service.Items.Count, list.Count);
                    HashSet<Lamp> held = [.. Enumerable.Range(0, list.Count).Where(list.IsRead).Select(i => list[i])];
                    if (list.IsPaged) most = Math.Max(most, held.Count);
                    Assert.All(all, l => Assert.Equal(held.Contains(l) ? 1 : 0, l.Listeners));
                    foreach (var row in list.Frame.Rows.Where(r => r.Kind == RowKind.Item))
                    {
                        Assert.Equal(list[row.Index].IsOn ? "on" : "off", row.Content.Detail);
                        Assert.Equal(list[row.Index].IsOn, list.Marked("on").Contains(row.Index));
                        if (list[row.Index].IsOn) shown++;
                    }
                }

                Lamp Of(int id)
                {
                    all.Add(new(id));
                    return all[^1];
                }
            }
            Assert.All(all, l => Assert.Equal(0, l.Listeners));
        }, iter: Effort.Of(300), threads: 1);
        output.WriteLine($"{shown:N0} shown that are on, {far:N0} told that are not held");
        if (Effort.IsFull) Assert.True(shown > 100 && far > 100 && most < 200, $"{shown}, {far}, {most}");
    }
}
