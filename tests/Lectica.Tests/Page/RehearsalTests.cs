using System.ComponentModel;
using Lectica.Blazor;
using Lectica.Commands;
using Lectica.Marking;

namespace Lectica.Tests.Page;

/// <summary>What a page rehearses is nothing to the app: it does all there is to do, and none of it to the app's own list.</summary>
public class RehearsalTests
{
    private sealed class Plate(int number) : INotifyPropertyChanged
    {
        private PropertyChangedEventHandler? _listeners;

        public int Number => number;

        public bool IsStarred { get; set; }

        public int Listeners => _listeners?.GetInvocationList().Length ?? 0;

        public event PropertyChangedEventHandler? PropertyChanged
        {
            add => _listeners += value;
            remove => _listeners -= value;
        }
    }

    [Fact]
    public async Task A_rehearsal_does_everything_once_and_leaves_the_list_and_its_items_as_they_were()
    {
        var plates = Enumerable.Range(0, 50).Select(i => new Plate(i)).ToList();
        var list = InteractiveList.Of(plates, p => p.Number, new()
        {
            Mode = Acts.SelectionMode.Multiple,
            MayMove = true,
            Viewport = new(480, 400),
            Parts = new() { Check = true, Marks = ["starred"], Handle = true },
        });
        var (asked, written, run) = (new HashSet<int>(), 0, 0);
        list.Content = p =>
        {
            asked.Add(p.Number);
            return new($"Plate {p.Number}");
        };
        list.Marks = [new("starred") { Get = p => p.IsStarred, Set = (p, on) => written++ }];
        list.Commands = [new("withdraw", "Withdraw") { ShowIn = ShowIn.TrailingTray | ShowIn.Toolbar, Do = _ => run++ }];
        list.Select(7);
        _ = list.Frame;
        var (before, frame, listeners) = (list.StateLine().ToJson(), list.Frame, plates.Select(p => p.Listeners).ToArray());
        var told = new List<string>();
        list.PropertyChanged += (_, e) => told.Add(e.PropertyName!);
        list.FrameChanged += (_, _) => told.Add("frame");
        list.Announced += (_, e) => told.Add(e.Text);
        asked.Clear();

        var pauses = 0;
        Assert.True(await Rehearsal<Plate, int>.Run(list, () => Task.FromResult(++pauses > 0)));
        // By way of what the app says of the items that are in view.
        Assert.Equal([0, 1, 2, 3], asked.Order());
        Assert.Equal((0, 0), (written, run));
        Assert.Empty(told);
        Assert.Equal(before, list.StateLine().ToJson());
        Assert.Same(frame, list.Frame);
        Assert.Equal(listeners, plates.Select(p => p.Listeners));

        // Once is enough for all lists of the same types.
        var all = pauses;
        Assert.False(await Rehearsal<Plate, int>.Run(list, () => Task.FromResult(++pauses > 0)));
        Assert.Equal(all, pauses);
    }

    [Fact]
    public async Task It_ends_where_it_is_told_to_and_what_the_app_throws_is_nobodys_business_here()
    {
        var list = InteractiveList.Of(Enumerable.Range(0, 9).Select(i => $"Plate {i}").ToList(), p => p);
        var pauses = 0;
        Assert.False(await Rehearsal<string, string>.Run(list, () => Task.FromResult(++pauses < 9)));
        Assert.Equal(9, pauses);
        var rehearsing = false;
        var numbers = InteractiveList.Of(Enumerable.Range(0, 9).ToList(), n => n);
        numbers.Content = n => rehearsing ? throw new InvalidOperationException("No words.") : new($"{n}");
        _ = numbers.Frame;
        rehearsing = true;
        Assert.False(await Rehearsal<int, int>.Run(numbers, () => Task.FromResult(true)));
    }
}
