using System.Collections.ObjectModel;
using Lectica.Acts;
using Lectica.Input;
using Lectica.Items;

namespace Lectica.Tests.Lists;

/// <summary>The shell: whose thread it is, and what happens when handlers act, throw, or edit.</summary>
public sealed class ShellTests
{
    private sealed record Field(string Id, string Name);

    [Fact]
    public void A_call_from_another_thread_is_a_clear_error_and_changes_nothing()
    {
        var list = InteractiveList.Of(["one", "two"]);
        Exception? thrown = null;
        var thread = new Thread(() => thrown = Record.Exception(() => list.SelectAll()));
        thread.Start();
        thread.Join();
        var wrong = Assert.IsType<WrongThreadException>(thrown);
        Assert.Contains($"belongs to thread {Environment.CurrentManagedThreadId}", wrong.Message);
        Assert.Contains("Offer", wrong.Message);
        Assert.Equal(0, list.SelectedCount);
    }

    [Fact]
    public void A_collection_that_changes_on_another_thread_is_an_error_there_and_is_read_anew_afterwards()
    {
        var source = new ObservableCollection<string>(["one", "two"]);
        var list = InteractiveList.Of(source, s => s);
        list.Select("two");
        Exception? thrown = null;
        var thread = new Thread(() => thrown = Record.Exception(() => source.Insert(0, "zero")));
        thread.Start();
        thread.Join();
        Assert.IsType<WrongThreadException>(thrown);
        Assert.Equal(2, list.Count);
        source.Add("three");
        Assert.Equal(["zero", "one", "two", "three"], Enumerable.Range(0, list.Count).Select(i => list[i]));
        Assert.Equal(["two"], list.SelectedItems);
    }

    [Fact]
    public void A_snapshot_may_be_offered_from_any_thread_and_the_newest_counts()
    {
        var list = InteractiveList.Of(["one", "two"], s => s);
        list.Select("two");
        var thread = new Thread(() =>
        {
            list.Offer(["never shown"]);
            list.Offer(["zero", "one", "two"]);
        });
        thread.Start();
        thread.Join();
        // Taken with the next call, which means the item that the caller saw.
        list.Toggle("one");
        Assert.Equal(3, list.Count);
        Assert.Equal(["one"], list.SelectedItems);
    }

    [Fact]
    public void A_snapshot_offered_from_inside_a_handler_is_shown_when_its_turn_comes()
    {
        var list = InteractiveList.Of(["one", "two"], s => s);
        list.SelectionChanged += (_, _) => list.Offer(["zero", "one", "two"]);
        list.Select("two");
        Assert.Equal(3, list.Count);
        Assert.Equal(2, list.Selection.Items.Single());
        Assert.True(list.Toggle("two").IsHandled);
        Assert.Equal(0, list.SelectedCount);
        Assert.Throws<DuplicateKeyException>(() => list.Offer(["zero", "zero"]));
        Assert.Equal(3, list.Count);
    }

    [Fact]
    public void On_a_synchronization_context_it_belongs_to_the_context_and_not_to_a_thread()
    {
        var context = new PostingContext();
        var previous = SynchronizationContext.Current;
        SynchronizationContext.SetSynchronizationContext(context);
        try
        {
            var list = InteractiveList.Of(["one", "two"], s => s);
            Exception? inside = null, outside = null;
            var thread = new Thread(() =>
            {
                outside = Record.Exception(() => list.Clear());
                list.Offer(["one", "two", "three"]);
                SynchronizationContext.SetSynchronizationContext(context);
                inside = Record.Exception(() => list.Select("one"));
            });
            thread.Start();
            thread.Join();
            Assert.IsType<WrongThreadException>(outside);
            Assert.Null(inside);
            context.RunAll();
            Assert.Equal(3, list.Count);
        }
        finally
        {
            SynchronizationContext.SetSynchronizationContext(previous);
        }
    }

    private sealed class PostingContext : SynchronizationContext
    {
        private readonly System.Collections.Concurrent.ConcurrentQueue<Action> _posted = new();
        public override void Post(SendOrPostCallback d, object? state) => _posted.Enqueue(() => d(state));
        public void RunAll()
        {
            while (_posted.TryDequeue(out var next)) next();
        }
    }

    [Fact]
    public void What_a_handler_asks_for_runs_after_the_events_of_the_present_act()
    {
        var list = InteractiveList.Of(["one", "two", "three"], s => s);
        var log = new List<string>();
        list.Tapped += (_, e) =>
        {
            log.Add($"tapped {e.Item}");
            var response = list.Select("three");
            Assert.True(response.IsQueued);
            log.Add($"still {string.Join(",", list.SelectedItems)}");
        };
        list.SelectionChanged += (_, e) => log.Add($"selected {string.Join(",", e.AddedItems)}");
        list.Activated += (_, e) => log.Add($"activated {e.Item}");
        Any.Tap(list, 50, 10, PointerType.Touch);
        Assert.Equal(["tapped one", "still one", "selected one", "activated one", "selected three"], log);
    }

    [Fact]
    public void A_handler_may_edit_the_source_and_what_waits_follows_its_item()
    {
        var source = new ObservableCollection<string>(["one", "two", "three"]);
        var list = InteractiveList.Of(source, s => s, new() { Mode = SelectionMode.Multiple });
        var removed = new List<string>();
        list.Tapped += (_, _) =>
        {
            list.Toggle("three");
            source.RemoveAt(0);
        };
        list.SelectionChanged += (_, e) => removed.AddRange(e.RemovedItems);
        Any.Tap(list, 50, 10, PointerType.Mouse);
        Assert.Equal(["three"], list.SelectedItems);
        Assert.Equal(["one"], removed);
    }

    [Fact]
    public void A_handler_that_throws_keeps_no_other_from_being_told()
    {
        var list = InteractiveList.Of(["one", "two"], s => s);
        var told = new List<string>();
        list.Tapped += (_, _) => throw new InvalidOperationException("the app's own");
        list.Tapped += (_, _) => told.Add("second");
        list.SelectionChanged += (_, _) => told.Add("selection");
        list.Take(PointerSample.Down(PointerType.Mouse, 50, 10, 0));
        Assert.Equal("the app's own", Assert.Throws<InvalidOperationException>(
            () => list.Take(PointerSample.Up(PointerType.Mouse, 50, 10, 80))).Message);
        Assert.Equal(["second", "selection"], told);
        Assert.Equal(["one"], list.SelectedItems);
        Assert.True(list.Select("two").IsHandled);
    }

    [Fact]
    public void Wrong_keys_are_named_with_their_indexes_and_nothing_changes()
    {
        var good = new Field("a", "x");
        var duplicate =
            Assert.Throws<DuplicateKeyException>(() => InteractiveList.Of([good, new Field("b", "y"), new Field("a", "z")], f => f.Id));
        Assert.Equal(("a", 0, 2), ((string)duplicate.Key, duplicate.FirstIndex, duplicate.SecondIndex));
        Assert.Equal(1, Assert.Throws<MissingKeyException>(() => InteractiveList.Of([good, new Field(null!, "y")], f => f.Id)).Index);

        var source = new ObservableCollection<Field>([good, new("b", "y")]);
        var list = InteractiveList.Of(source, f => f.Id);
        list.Select("b");
        var late = Assert.Throws<DuplicateKeyException>(() => source.Insert(1, new("b", "again")));
        Assert.Equal((1, 2), (Math.Min(late.FirstIndex, late.SecondIndex), Math.Max(late.FirstIndex, late.SecondIndex)));
        Assert.Equal(2, list.Count);
        Assert.Equal("y", list.SelectedItem!.Name);
        // Put right, it is in step again.
        source.RemoveAt(1);
        source.Add(new("c", "w"));
        Assert.Equal(["a", "b", "c"], Enumerable.Range(0, list.Count).Select(list.KeyAt));
        Assert.Equal("y", list.SelectedItem!.Name);
    }

    private sealed class Renamed(string id)
    {
        public string Id { get; set; } = id;
    }

    [Fact]
    public void A_key_that_changes_in_the_list_is_named()
    {
        var item = new Renamed("old");
        var list = InteractiveList.Of([new Renamed("first"), item], r => r.Id);
        item.Id = "new";
        var thrown = Assert.Throws<KeyChangedException>(() => list.KeyAt(1));
        Assert.Equal(("old", "new", 1), ((string)thrown.OldKey, (string?)thrown.NewKey, thrown.Index));
        Assert.Throws<KeyChangedException>(list.Refresh);
        item.Id = "old";
        list.Refresh();
        Assert.Equal("old", list.KeyAt(1));
    }

    [Fact]
    public void Things_without_keys_keep_their_identity_and_equal_ones_are_paired_in_order()
    {
        var list = InteractiveList.Of(["same", "same", "other"]);
        list.Select(list.KeyAt(1));
        var key = list.KeyAt(1);
        list.Show(["new", "same", "same", "other"]);
        Assert.Equal(key, list.KeyAt(2));
        Assert.Equal(2, list.Selection.Items.Single());
        list.Show(["other", "same", "same"]);
        Assert.Equal(key, list.KeyAt(2));
        Assert.Equal([key], list.SelectedKeys);
    }

    [Fact]
    public void Notices_say_why_nothing_shows()
    {
        var list = InteractiveList.Awaiting<Field, string>(f => f.Id);
        NoticeKind? Notice() => list.Frame.Rows.Single().Notice;
        Assert.Equal(NoticeKind.NoSource, Notice());
        list.ShowLoading();
        Assert.Equal(NoticeKind.Loading, Notice());
        list.ShowFailed("The dome does not answer");
        Assert.Equal((NoticeKind.Failed, "The dome does not answer"), (Notice()!.Value, list.Frame.Rows.Single().Content.Label));
        list.Show([]);
        Assert.Equal(NoticeKind.Empty, Notice());
        list.Show([new("a", "x")]);
        Assert.Null(Notice());
        list.Filter = _ => false;
        Assert.Equal(NoticeKind.NothingMatches, Notice());
    }

    [Fact]
    public void Options_out_of_bounds_are_refused_with_what_would_be_right()
    {
        Assert.Contains(
            "at least 1", Assert.Throws<ArgumentOutOfRangeException>(() => InteractiveList.Of(["a"], new() { Limit = 0 })).Message);
        Assert.Throws<ArgumentOutOfRangeException>(() => InteractiveList.Of(["a"], new() { RowHeight = 0 }));
        Assert.Throws<ArgumentOutOfRangeException>(() => InteractiveList.Of(["a"], new() { Viewport = new(400, double.NaN) }));
        Assert.Throws<ArgumentOutOfRangeException>(() => InteractiveList.Of(["a"]).Resize(0, 5));
        var list = InteractiveList.Of(["a"], s => s);
        list.Dispose();
        Assert.Throws<ObjectDisposedException>(() => list.Clear());
    }
}
