using System.Collections.ObjectModel;
using System.ComponentModel;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Marking;

namespace Lectica.Bench;

/// <summary>The figures of lists that change while they show, each against the plainest hand-written code that does the same.</summary>
internal sealed class LiveFigures : FigureTable
{
    private readonly Random _random = new(3);
    private List<Request> _last = [];

    public string Run()
    {
        Sorted();
        BoundMark();
        Removal();
        Return();
        Filter();
        Log();
        Scrolled();
        Memory();
        return Table;
    }

    private sealed class Request(int id) : INotifyPropertyChanged
    {
        public event PropertyChangedEventHandler? PropertyChanged;

        public int Id { get; } = id;

        public bool IsDone { get; set; }

        public int Priority
        {
            get;
            set
            {
                field = value;
                PropertyChanged?.Invoke(this, new(nameof(Priority)));
            }
        }
    }

    private static int ByPriority(Request a, Request b) =>
        a.Priority != b.Priority ? a.Priority.CompareTo(b.Priority) : a.Id.CompareTo(b.Id);

    private Request[] Requests(int count) => [.. Enumerable.Range(0, count).Select(i => new Request(i) { Priority = _random.Next() })];

    private void Sorted()
    {
        double[] change = new double[2], insert = new double[2];
        foreach (var (count, at) in new[] { (100_000, 0), (1_000_000, 1) })
        {
            var requests = Requests(count);
            var source = new ObservableCollection<Request>(requests);
            using var list = InteractiveList.Of(source, r => r.Id);
            list.SortBy = ByPriority;
            var byHand = requests.Order(Comparer<Request>.Create(ByPriority)).ToList();
            var id = count;
            void Change() => requests[_random.Next(count)].Priority = _random.Next();
            void ChangeByHand()
            {
                var request = requests[_random.Next(count)];
                byHand.RemoveAt(byHand.BinarySearch(request, Comparer<Request>.Create(ByPriority)));
                // Told of as well, as the list is: the field's own cost is the same on both sides.
                var moved = new Request(request.Id) { Priority = request.Priority };
                var place = byHand.BinarySearch(moved, Comparer<Request>.Create(ByPriority));
                byHand.Insert(place < 0 ? ~place : place, request);
            }
            void Insert()
            {
                source.Add(new(id++) { Priority = _random.Next() });
                source.RemoveAt(source.Count - 1);
            }
            void InsertByHand()
            {
                var request = new Request(id++) { Priority = _random.Next() };
                byHand.Insert(~byHand.BinarySearch(request, Comparer<Request>.Create(ByPriority)), request);
                byHand.RemoveAt(byHand.BinarySearch(request, Comparer<Request>.Create(ByPriority)));
            }
            // By hand first: what the list's side changes is the same object, and would put the hand-made order out of step.
            if (count == 100_000)
            {
                var hand = Time(200, ChangeByHand);
                change[at] = Time(200, Change);
                Add("sorted view of 100,000: a sort field changes, against remove, search and insert by hand",
                    $"{Number(change[at] / hand)} ×", "at most 5.00 ×", change[at] / hand <= 5);
                byHand = [.. source.Order(Comparer<Request>.Create(ByPriority))];
                Ratio("sorted view of 100,000: one comes in and goes, against search and insert by hand", 5, 100, Insert,
                    100, InsertByHand);
            }
            else change[at] = Time(200, Change);
            insert[at] = Time(100, Insert);
        }
        Add("sorted view: a sort field changes at 1,000,000 against 100,000", $"{Number(change[1] / change[0])} ×", "at most 2.00 ×",
            change[1] / change[0] <= 2);
        Add("sorted view: one comes in and goes at 1,000,000 against 100,000", $"{Number(insert[1] / insert[0])} ×", "at most 2.00 ×",
            insert[1] / insert[0] <= 2);
    }

    private void BoundMark()
    {
        var requests = Requests(100_000);
        Mark<Request>[] marks = [new("done") { Get = r => r.IsDone, Set = (r, v) => r.IsDone = v }];
        PropertyChangedEventHandler handler = (_, _) => { };
        var list = InteractiveList.Of(requests, r => r.Id);
        // What tells is followed as long as anything is read from it: so both begin with none that listens.
        Ratio("a list over 100,000 telling items with a bound mark, and let go, against one handler each added and removed", 3, 1,
            () =>
            {
                using var list = InteractiveList.Of(requests, r => r.Id, new() { ChecksKeys = false });
                list.Marks = [.. marks];
            }, 1,
            () =>
            {
                foreach (var r in requests) r.PropertyChanged += handler;
                foreach (var r in requests) r.PropertyChanged -= handler;
            });
        Ratio("a bound mark set on such a list, against one handler each added", 3, 1, () => { list.Marks = [.. marks]; }, 1, () =>
        {
            foreach (var r in requests) r.PropertyChanged += handler;
            foreach (var r in requests) r.PropertyChanged -= handler;
        });
        list.Dispose();
    }

    private void Removal()
    {
        const int count = 100_000, gone = 10_000;
        var all = Enumerable.Range(0, count).ToArray();
        var target = ItemSet.Of(count, Enumerable.Range(0, gone).Select(i => (int)((long)i * 9973 % count)));
        int events = 0, frames = 0;
        Command<int, int> remove = null!;
        var times = new double[9, 2];
        for (var round = -1; round < 9; round++)
        {
            var source = new ObservableCollection<int>(all);
            using var list = InteractiveList.Of(source, i => i, new() { Mode = SelectionMode.Multiple });
            var places = new List<(int At, int Item)>();
            remove = new("remove", "Remove")
            {
                Do = t =>
                {
                    foreach (var item in t.Items.ToList())
                    {
                        places.Add((source.IndexOf(item), item));
                        source.RemoveAt(places[^1].At);
                    }
                },
                Inverse = _ =>
                {
                    for (var i = places.Count - 1; i >= 0; i--) source.Insert(places[i].At, places[i].Item);
                },
            };
            list.Commands = [remove];
            list.SelectOnly(target);
            (events, frames) = (0, 0);
            list.SelectionChanged += (_, _) => events++;
            list.FrameChanged += (_, _) => frames++;
            var own = Sample(1, () => { list.RunCommand("remove"); list.Undo(); });
            var plain = new ObservableCollection<int>(all);
            var by = Sample(1, () =>
            {
                var at = new List<(int At, int Item)>();
                foreach (var i in target)
                {
                    at.Add((plain.IndexOf(i), i));
                    plain.RemoveAt(at[^1].At);
                }
                for (var i = at.Count - 1; i >= 0; i--) plain.Insert(at[i].At, at[i].Item);
            });
            if (round >= 0) (times[round, 0], times[round, 1]) = (own, by);
        }
        var ratio = Median([.. Enumerable.Range(0, 9).Select(i => times[i, 0] / times[i, 1])]);
        Add($"10,000 of 100,000 removed one by one by a command, and undone ({events} selection events, {frames} frames), against the " +
            "collection alone", $"{Number(ratio)} ×", "at most 1.50 ×", ratio <= 1.5 && events <= 2);
    }

    /// <summary>What is taken back costs as much as what was done.</summary>
    private void Return()
    {
        const int count = 100_000, moved = 1000;
        int[] keys = [.. Enumerable.Range(0, moved).Select(i => (i * (count / moved)) + 5)];
        ObservableCollection<int> source = [.. Enumerable.Range(0, count)], plain = [.. Enumerable.Range(0, count)];
        using var list = InteractiveList.Of(source, i => i, new() { Mode = SelectionMode.Multiple, MayMove = true });
        Ratio("1,000 scattered of 100,000 moved to the front of a collection, and back, against its own 2,000 moves", 2, 1, () =>
        {
            list.MoveToTop(keys);
            list.Undo();
        }, 1, () =>
        {
            for (var i = 0; i < moved; i++) plain.Move(keys[i], i);
            for (var i = moved; i-- > 0;) plain.Move(i, keys[i]);
        });
        var requests = Requests(count).ToList();
        using var sorted = InteractiveList.Of(requests, r => r.Id, new() { Mode = SelectionMode.Multiple });
        sorted.SortBy = ByPriority;
        sorted.Commands = [new("remove", "Remove") { Do = sorted.TakeOut }];
        Ratio("sorted view of 100,000: 1,000 leave at once and come back, against sorting it twice", 1, 1, () =>
        {
            sorted.SelectedKeys = keys;
            sorted.RunCommand("remove");
            sorted.Undo();
        }, 1, () =>
        {
            for (var i = 0; i < 2; i++) _last = [.. requests.Order(Comparer<Request>.Create(ByPriority))];
        });
    }

    private void Filter()
    {
        var items = Requests(1_000_000);
        using var list = InteractiveList.Of(items, r => r.Id, new() { Mode = SelectionMode.Multiple, ChecksKeys = false });
        list.SelectAll();
        var turn = 0;
        Ratio("a new filter over 1,000,000, all selected, against Where().ToList()", 1.2, 1,
            () =>
            {
                var odd = turn++ & 1;
                list.Filter = r => (r.Priority & 1) == odd;
            }, 1, () => _last = [.. items.Where(r => (r.Priority & 1) == (turn & 1))]);
    }

    private void Log()
    {
        const int count = 100_000, lines = 1000;
        var id = count;
        var source = new ObservableCollection<int>(Enumerable.Range(0, count));
        using var list = InteractiveList.Of(source, i => i);
        var plain = new ObservableCollection<int>(Enumerable.Range(0, count));
        void Append(ObservableCollection<int> to)
        {
            for (var i = 0; i < lines; i++)
            {
                to.Add(id++);
                to.RemoveAt(0);
            }
        }
        Ratio("1,000 lines appended and the oldest dropped, at 100,000, against the collection alone", 2, 1, () => Append(source), 1,
            () => Append(plain));
    }

    private void Scrolled()
    {
        using var list = InteractiveList.Of(Enumerable.Range(0, 100_000).ToArray(), i => i, new() { Viewport = new(400, 14 * 52 - 10) });
        list.Content = i => new($"Request {i}");
        var texts = Enumerable.Range(0, 100_000).Select(i => new RowContent($"Request {i}")).ToArray();
        list.Content = i => texts[i];
        var top = 0;
        void Scroll()
        {
            // By whole rows, so that there are always 14.
            list.ScrollTo(top = (top + 52 * 20) % (52 * 96_000));
            _ = list.Frame;
        }
        Under("a scrolled frame of 14 rows, all of them others", 12, "µs", 1e6, 1000, Scroll);
        Bytes("allocated by it", 3072, Scroll);
    }

    private void Memory()
    {
        var items = Requests(1_000_000);
        var before = Settled();
        var list = InteractiveList.Of(items, r => r.Id, new() { Mode = SelectionMode.Multiple });
        _ = list.IndexOf(77);
        var own = Settled() - before;
        before = Settled();
        var places = new Dictionary<int, int>(items.Length);
        for (var i = 0; i < items.Length; i++) places[items[i].Id] = i;
        var selected = new bool[items.Length];
        var by = Settled() - before;
        GC.KeepAlive(list);
        GC.KeepAlive(places);
        GC.KeepAlive(selected);
        GC.KeepAlive(items);
        Add($"memory of a keyed list of 1,000,000 ({own / 1_000_000.0:0.0} MB), against a Dictionary from key to index and a bool[]",
            $"{Number((double)own / by)} ×", "at most 1.30 ×", (double)own / by <= 1.3);
    }
}
