using System.Collections.Concurrent;
using System.Collections.ObjectModel;
using System.ComponentModel;
using Lectica.Items;
using Lectica.Marking;

namespace Lectica.Tests.Lists;

/// <summary>Items and collections that change on other threads, for real and under load: nothing is lost, and no setter throws.</summary>
public sealed class ThreadTests
{
    private const int Workers = 4;

    /// <summary>A request whose model is written from anywhere.</summary>
    private sealed class Field(int id) : INotifyPropertyChanged
    {
        private bool _done, _hidden;

        public int Id => id;

        public bool Done
        {
            get => Volatile.Read(ref _done);
            set => Set(ref _done, value, nameof(Done));
        }

        public bool Hidden
        {
            get => Volatile.Read(ref _hidden);
            set => Set(ref _hidden, value, nameof(Hidden));
        }

        public event PropertyChangedEventHandler? PropertyChanged;

        private void Set(ref bool field, bool value, string name)
        {
            Volatile.Write(ref field, value);
            PropertyChanged?.Invoke(this, new(name));
        }
    }

    /// <summary>A context that is run by hand, as a window's loop would.</summary>
    private sealed class Loop : SynchronizationContext
    {
        private readonly BlockingCollection<(SendOrPostCallback Do, object? State)> _posted = [];

        public int Posted { get; private set; }

        public override void Post(SendOrPostCallback d, object? state) => _posted.Add((d, state));

        public void RunUntil(Func<bool> over)
        {
            while (!over() || _posted.Count > 0)
            {
                if (!_posted.TryTake(out var next)) continue;
                Posted++;
                next.Do(next.State);
            }
        }
    }

    /// <summary>Runs a test on a loop of its own or on a bare thread.</summary>
    private static void On(bool context, Action<Loop?> test)
    {
        var before = SynchronizationContext.Current;
        var loop = context ? new Loop() : null;
        SynchronizationContext.SetSynchronizationContext(loop);
        try
        {
            test(loop);
        }
        finally
        {
            SynchronizationContext.SetSynchronizationContext(before);
        }
    }

    // So often, and on until the list's own thread has had its turns too.
    private static Task[] Work(Action<Random> once, int times, Func<bool> isAwaited, ConcurrentQueue<Exception> thrown) =>
    [
        .. Enumerable.Range(1, Workers).Select(seed => Task.Factory.StartNew(() =>
        {
            var random = new Random(seed);
            for (var i = 0; i < times || (isAwaited() && thrown.IsEmpty); i++)
                try
                {
                    once(random);
                    // In waves, so that some changes come alone and others in crowds.
                    if (random.Next(times / 250) == 0) Thread.Sleep(1);
                }
                catch (Exception e)
                {
                    thrown.Enqueue(e);
                }
        }, default, TaskCreationOptions.LongRunning, TaskScheduler.Default)),
    ];

    private static void Wait(Loop? loop, Task[] work, Action meanwhile)
    {
        if (loop is null)
            while (!Array.TrueForAll(work, t => t.IsCompleted)) meanwhile();
        else
            loop.RunUntil(() =>
            {
                meanwhile();
                return Array.TrueForAll(work, t => t.IsCompleted);
            });
    }

    [Theory, InlineData(true), InlineData(false)]
    public void Items_that_tell_of_changes_on_other_threads_are_read_on_the_lists_own_and_none_is_lost(bool context) => On(context, loop =>
    {
        const int times = 20_000;
        Field[] fields = [.. Enumerable.Range(0, 500).Select(i => new Field(i))];
        var here = Environment.CurrentManagedThreadId;
        int read = 0, elsewhere = 0, toggled = 0, made = 0;
        using var list = InteractiveList.Of(fields, f => f.Id);
        list.Filter = f =>
        {
            if (Environment.CurrentManagedThreadId != here) elsewhere++;
            read++;
            return !f.Hidden;
        };
        list.Marks = [new("done") { Get = f => f.Done, Set = (f, on) => f.Done = on }];
        list.SelectAll();
        void Change(Random random)
        {
            Interlocked.Increment(ref made);
            var field = fields[random.Next(fields.Length)];
            if (random.Next(2) == 0) field.Done = random.Next(2) == 0;
            else field.Hidden = random.Next(2) == 0;
        }
        ConcurrentQueue<Exception> thrown = [];
        // While the list's thread is busy with something else, changes wait. What is told often of one item is read once.
        read = 0;
        Task.WaitAll(Work(Change, times, () => false, thrown), TestContext.Current.CancellationToken);
        loop?.RunUntil(() => true);
        list.Advance(0);
        Assert.InRange(read, 1, fields.Length);
        // While it has its turns in between, no change costs more than one reading.
        (read, made) = (0, 0);
        var work = Work(Change, times, () => Volatile.Read(ref toggled) < 50, thrown);
        Wait(loop, work, () => toggled += list.ToggleMark("done", toggled % fields.Length).IsHandled ? 1 : 0);
        Assert.Empty(thrown);
        Assert.Equal(0, elsewhere);
        // Nothing is left on a context; on a bare thread the next call takes it.
        list.Advance(0);
        Assert.Equal(fields.Where(f => f.Done).Select(f => f.Id), list.Marked("done").Select(list.KeyAt));
        Assert.Equal(fields.Where(f => !f.Hidden).Select(f => f.Id), list.Rows.InOrder().Select(list.KeyAt));
        Assert.InRange(read, 1, made + toggled);
    });

    [Theory, InlineData(true, 0), InlineData(false, 0), InlineData(true, 1), InlineData(false, 1)]
    public void A_collection_that_is_changed_on_other_threads_under_its_lock_is_followed(bool context, int kind) => On(context, loop =>
    {
        object monitor = new();
        Lock own = new();
        void Under(Action change)
        {
            if (kind == 0)
                lock (monitor) change();
            else
                lock (own) change();
        }
        var source = new ObservableCollection<Field>(Enumerable.Range(0, 300).Select(i => new Field(i)));
        using var list = InteractiveList.Awaiting((Field f) => f.Id, new() { MayMove = true });
        if (kind == 0) list.Show(source, monitor);
        else list.Show(source, own);
        int next = 300, moved = 0, refused = 0;
        var selected = source.Where(f => f.Id % 3 == 0).ToHashSet();
        foreach (var field in selected) list.Toggle(field.Id);
        ConcurrentQueue<Exception> thrown = [];
        var work = Work(random => Under(() =>
        {
            if (random.Next(2000) == 0) source.Clear();
            else if (source.Count < 100 || random.Next(3) == 0) source.Insert(random.Next(source.Count + 1), new(next++));
            else if (random.Next(2) == 0) source.RemoveAt(random.Next(source.Count));
            else if (random.Next(2) == 0) source.Move(random.Next(source.Count), random.Next(source.Count));
            else source[random.Next(source.Count)] = new(next++);
        }), 3000, () => Volatile.Read(ref moved) < 50, thrown);
        var mine = new Random(9);
        Wait(loop, work, () =>
        {
            if (mine.Next(20) == 0) list.Refresh();
            if (list.Count < 2) return;
            var answer = list.Move([list.KeyAt(mine.Next(list.Count))], mine.Next(list.Count));
            if (answer.IsHandled) moved++;
            else refused++;
        });
        Assert.Empty(thrown);
        list.Advance(0);
        Assert.Equal(source.Select(f => f.Id), Enumerable.Range(0, list.Count).Select(list.KeyAt));
        Assert.All(list.SelectedItems, f => Assert.Contains(f, source));
        Assert.True(refused < moved, $"{moved} moved meanwhile, {refused} refused");
    });

    [Fact]
    public void Few_changes_elsewhere_are_taken_one_by_one_and_very_many_by_one_look()
    {
        object gate = new();
        var source = new ObservableCollection<string>(["a", "b"]);
        var asked = 0;
        using var list = InteractiveList.Awaiting((string s) => s);
        list.Show(source, gate);
        list.Filter = _ => ++asked > 0;
        void Elsewhere(Action change)
        {
            var thread = new Thread(() =>
            {
                lock (gate) change();
            });
            thread.Start();
            thread.Join();
            list.Advance(0);
        }
        asked = 0;
        Elsewhere(() =>
        {
            source.Insert(0, "c");
            source.Move(0, 2);
            source[0] = "d";
        });
        Assert.Equal(["d", "b", "c"], Enumerable.Range(0, list.Count).Select(i => list[i]));
        Assert.Equal(2, asked);
        asked = 0;
        Elsewhere(() =>
        {
            for (var i = 0; i < 200; i++) source.Add($"e{i}");
            for (var i = 0; i < 200; i++) source.RemoveAt(source.Count - 1);
        });
        Assert.Equal(3, list.Count);
        Assert.True(asked <= 3, $"{asked} asked");
    }

    [Fact]
    public void A_collection_with_a_lock_that_is_changed_without_it_is_an_error_there_and_read_anew()
    {
        var source = new ObservableCollection<string>(["a"]);
        using var list = InteractiveList.Awaiting((string s) => s);
        list.Show(source, new object());
        Exception? thrown = null;
        var thread = new Thread(() => thrown = Record.Exception(() => source.Add("b")));
        thread.Start();
        thread.Join();
        Assert.Contains("without the lock", Assert.IsType<WrongThreadException>(thrown).Message);
        list.Clear();
        Assert.Equal(2, list.Count);
        // On the list's own thread nobody else is in the way.
        source.Add("c");
        Assert.Equal(3, list.Count);
    }

    [Theory, InlineData(true), InlineData(false)]
    public void A_handler_that_throws_on_a_change_from_elsewhere_throws_on_the_lists_own_thread_and_nothing_is_lost(bool context) =>
    On(context, loop =>
    {
        Field[] fields = [new(0), new(1)];
        using var list = InteractiveList.Of(fields, f => f.Id);
        list.Marks = [new("done") { Get = f => f.Done, Set = (f, on) => f.Done = on }];
        var told = 0;
        list.MarkChanged += (_, _) => throw new InvalidOperationException("not mine");
        list.MarkChanged += (_, _) => told++;
        Exception? setter = null;
        var thread = new Thread(() => setter = Record.Exception(() =>
        {
            fields[0].Done = true;
            fields[1].Done = true;
        }));
        thread.Start();
        thread.Join();
        Assert.Null(setter);
        var here = Record.Exception(() =>
        {
            if (loop is not null) loop.RunUntil(() => true);
            else list.Advance(0);
        });
        Assert.Equal("not mine", Assert.IsType<InvalidOperationException>(here).Message);
        Assert.Equal(2, list.Marked("done").Count);
        Assert.True(told > 0);
    });

    [Fact]
    public void A_list_that_is_gone_takes_nothing_more_and_no_setter_hears_of_it()
    {
        var field = new Field(0);
        var list = InteractiveList.Of([field], f => f.Id);
        var thread = new Thread(() =>
        {
            for (var i = 0; i < 100_000; i++) field.Done = i % 2 == 0;
        });
        thread.Start();
        list.Dispose();
        thread.Join();
        Assert.Throws<ObjectDisposedException>(() => list.Count);
    }

    [Fact]
    public void A_list_with_a_context_fills_itself_and_leaves_the_loop_to_others_in_between()
    {
        var before = SynchronizationContext.Current;
        var loop = new Loop();
        SynchronizationContext.SetSynchronizationContext(loop);
        try
        {
            using var list = InteractiveList.Of(new List<Field>(), f => f.Id);
            list.Fill(Enumerable.Range(0, 200_000).Select(i => new Field(i)));
            Assert.InRange(list.Count, 1, 199_999);
            list.Select(0);
            loop.RunUntil(() => !list.IsFilling);
            Assert.Equal((200_000, 1), (list.Count, list.SelectedCount));
            Assert.True(loop.Posted >= 3, $"{loop.Posted} times called back");
        }
        finally
        {
            SynchronizationContext.SetSynchronizationContext(before);
        }
    }
}
