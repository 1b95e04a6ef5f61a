using System.Collections.ObjectModel;
using System.Collections.Specialized;
using CsCheck;
using Lectica.Acts;
using Lectica.Input;
using Lectica.Storage;

namespace Lectica.Tests.Lists;

/// <summary>What apps bind to: properties, rows, commands, batches, stored state, the choice field.</summary>
public sealed class BindingTests
{
    private static InteractiveList<string, string> Letters(SelectionMode mode = SelectionMode.Multiple) => InteractiveList.Of(["a", "b", "c", "d"], s => s, new() { Mode = mode });

    [Fact]
    public void Two_way_bindings_do_not_echo()
    {
        var list = Letters();
        var told = new List<string?>();
        list.PropertyChanged += (_, e) =>
        {
            told.Add(e.PropertyName);
            // A control that writes back whatever it is told.
            if (e.PropertyName == nameof(list.SelectedItem) && told.Count < 50) list.SelectedItem = list.SelectedItem;
            if (e.PropertyName == nameof(list.SelectedKeys) && told.Count < 50) list.SelectedKeys = list.SelectedKeys;
        };
        list.SelectedKey = "b";
        Assert.Equal("b", list.SelectedItem);
        Assert.InRange(told.Count, 1, 15);
        told.Clear();
        list.SelectedItem = "b";
        list.SelectedKeys = ["b"];
        Assert.Empty(told);
        list.SelectedKeys = ["d", "a", "gone"];
        Assert.Equal(["a", "d"], list.SelectedItems);
        list.SelectedItem = null;
        Assert.Equal(0, list.SelectedCount);
    }

    [Fact]
    public void A_batch_tells_once_what_it_came_to()
    {
        var list = Letters();
        var told = new List<string>();
        list.SelectionChanged += (_, e) => told.Add($"+{string.Concat(e.AddedItems)} -{string.Concat(e.RemovedItems)}");
        list.Select("a");
        told.Clear();
        using (list.Batch())
        using (list.Batch())
        {
            list.SelectAll();
            list.Toggle("a");
            list.Toggle("c");
            Assert.Empty(told);
        }
        Assert.Equal(["+bd -a"], told);
        told.Clear();
        using (list.Batch())
        {
            list.Toggle("a");
            list.Toggle("a");
        }
        Assert.Empty(told);
    }

    [Fact]
    public void An_edit_inside_a_batch_is_told_at_once_and_nothing_is_lost()
    {
        var source = new ObservableCollection<string>(["a", "b", "c", "d"]);
        var list = InteractiveList.Of(source, s => s, new() { Mode = SelectionMode.Multiple });
        var told = new HashSet<string>();
        list.SelectionChanged += (_, e) =>
        {
            foreach (var gone in e.RemovedItems) Assert.True(told.Remove(gone));
            foreach (var come in e.AddedItems) Assert.True(told.Add(come));
        };
        using (list.Batch())
        {
            list.Toggle("a");
            list.Toggle("b");
            source.Remove("b");
            list.Toggle("c");
        }
        Assert.Equal(["a", "c"], list.SelectedKeys);
        Assert.Equal(["a", "c"], told.Order());
    }

    [Fact]
    public void A_filter_that_throws_changes_nothing_or_lets_the_edit_through_first()
    {
        var source = new ObservableCollection<string>(["a", "b"]);
        var list = InteractiveList.Of(source, s => s);
        list.Filter = s => s != "a";
        Assert.Throws<InvalidOperationException>(() => list.Filter = _ => throw new InvalidOperationException());
        Assert.Equal([1], list.Rows.Shown);
        list.Filter = s => s == "bad" ? throw new InvalidOperationException() : s != "a";
        Assert.Throws<InvalidOperationException>(() => source.Insert(0, "bad"));
        Assert.Equal([0, 2], list.Rows.Shown);
        list.Filter = null;
        source.Add("c");
        Assert.Equal(source, Enumerable.Range(0, list.Count).Select(i => list[i]));
        Assert.Equal(4, list.Frame.RowCount);
    }

    [Fact]
    public void Observable_rows_follow_any_edit_as_a_control_does()
    {
        var told = new System.Collections.Concurrent.ConcurrentDictionary<NotifyCollectionChangedAction, int>();
        Gen.Select(Gen.Int[0, 7], Gen.Int[0, 100], Gen.Int[0, 100]).Array[1, 30].Sample(steps =>
        {
            var source = new ObservableCollection<int>(Enumerable.Range(0, 6));
            var list = InteractiveList.Of(source, i => i, new() { Mode = SelectionMode.Multiple });
            using var rows = list.ObservableRows();
            var control = rows.ToList();
            rows.CollectionChanged += (_, e) =>
            {
                if (e.Action == NotifyCollectionChangedAction.Reset) control = [.. rows];
                else if (e.Action == NotifyCollectionChangedAction.Add) control.Insert(e.NewStartingIndex, (ListRow<int, int>)e.NewItems![0]!);
                else if (e.Action == NotifyCollectionChangedAction.Move)
                {
                    var moved = control[e.OldStartingIndex];
                    Assert.Same(moved, e.NewItems![0]);
                    control.RemoveAt(e.OldStartingIndex);
                    control.Insert(e.NewStartingIndex, moved);
                }
                else
                {
                    // The row that goes is the one that was there, also if nobody had looked at it.
                    Assert.Same(control[e.OldStartingIndex], e.OldItems![0]);
                    if (e.Action == NotifyCollectionChangedAction.Remove) control.RemoveAt(e.OldStartingIndex);
                    else control[e.OldStartingIndex] = (ListRow<int, int>)e.NewItems![0]!;
                }
                told.AddOrUpdate(e.Action, 1, (_, n) => n + 1);
            };
            var next = 100;
            foreach (var (kind, a, b) in steps)
            {
                if (kind == 0) source.Insert(a % (source.Count + 1), next++);
                else if (kind == 1 && source.Count > 0) source.RemoveAt(a % source.Count);
                else if (kind == 2 && source.Count > 0) source.Move(a % source.Count, b % source.Count);
                else if (kind == 3) list.Filter = i => (i + a) % 3 != 0;
                else if (kind == 4 && rows.Count > 0) rows[a % rows.Count].IsSelected = b % 2 == 0;
                else if (kind == 5) list.Invert();
                else if (kind == 6 && source.Count > 0) source[a % source.Count] = next++;
                else if (kind == 7)
                    // Two at once: what the filter shows, and what comes in.
                    using (list.Batch())
                    {
                        list.Filter = i => (i + b) % 4 != 0;
                        source.Insert(a % (source.Count + 1), next++);
                    }
                Assert.Equal(list.Rows.Shown.Select(i => list[i]), control.Select(r => r.Item));
                Assert.All(control, r => Assert.Equal(list.Selection.Items.Contains(list.IndexOf(r.Key)), r.IsSelected));
                Assert.All(control.Select((r, i) => (r, i)), p => Assert.Equal(p.i, ((System.Collections.IList)rows).IndexOf(p.r)));
            }
        }, iter: 500);
        Assert.Equal(5, told.Count);
        Assert.All(told, t => Assert.True(t.Value > 100, $"{t.Key}: {t.Value}"));
    }

    [Fact]
    public void A_row_that_may_not_be_selected_says_so_to_its_control()
    {
        var list = Letters();
        list.EnabledWhen = s => s != "b";
        using var rows = list.ObservableRows();
        var row = rows[1];
        var told = new List<string?>();
        row.PropertyChanged += (_, e) => told.Add(e.PropertyName);
        row.IsSelected = true;
        Assert.False(row.IsSelected);
        Assert.Equal([nameof(row.IsSelected)], told);
        list.EnabledWhen = null;
        Assert.True(row.IsEnabled);
    }

    [Fact]
    public void Commands_can_be_executed_when_the_list_would_not_refuse()
    {
        var list = Letters();
        var (all, toggle) = (list.Command(ActKind.SelectAll), list.Command(ActKind.Toggle));
        var told = 0;
        all.CanExecuteChanged += (_, _) => told++;
        Assert.True(all.CanExecute(null));
        Assert.True(toggle.CanExecute("b"));
        Assert.False(toggle.CanExecute("z"));
        list.Filter = _ => false;
        Assert.False(all.CanExecute(null));
        Assert.True(told > 0);
        list.Filter = null;
        all.Execute(null);
        toggle.Execute("b");
        Assert.Equal(["a", "c", "d"], list.SelectedKeys);
        Assert.Throws<ArgumentException>(() => list.Command(ActKind.Type));
    }

    [Fact]
    public void Stored_state_comes_back_by_key_in_any_order_of_the_items() =>
        Gen.Select(Any.List, Gen.Int, Gen.Double[0, 1]).Sample((any, seed, scroll) =>
        {
            var options = any.Item2 with { Mode = SelectionMode.Multiple, Limit = int.MaxValue, KeepsHiddenSelected = true };
            var list = Any.Open(any.Item1, options, scroll);
            var random = new Random(seed);
            foreach (var thing in any.Item1)
                if (random.Next(3) == 0) list.Toggle(thing.Id);
            var folder = Directory.CreateTempSubdirectory("lectica-tests-");
            try
            {
                var file = new SnapshotFile(Path.Combine(folder.FullName, "deep", "state.json"));
                Assert.Null(file.Load());
                file.Save(list.Save());
                file.Save(list.Save());
                Assert.Single(Directory.GetFiles(Path.GetDirectoryName(file.Path)!));
                // The same day: all as it was.
                var same = Any.Open(any.Item1, options);
                Assert.Empty(same.Restore(file.Load()!).MissingKeys);
                Assert.Equal(list.SelectedKeys, same.SelectedKeys);
                // A notice alone has no place to come back to.
                if (list.Rows.Shown.Count > 0) Assert.Equal((list.Selection.Cursor, list.Selection.Anchor, list.Viewport.ScrollTop), (same.Selection.Cursor, same.Selection.Anchor, same.Viewport.ScrollTop));
                // Another day: in another order, and some are gone.
                var left = any.Item1.Where(_ => random.Next(4) > 0).ToArray();
                random.Shuffle(left);
                var other = Any.Open(left, options);
                var report = other.Restore(file.Load()!);
                Assert.Equal(list.SelectedKeys.Where(k => !left.Any(t => t.Id == k)), report.MissingKeys);
                Assert.Equal(list.SelectedKeys.Except(report.MissingKeys).Order(), other.SelectedKeys.Order());
            }
            finally
            {
                folder.Delete(recursive: true);
            }
        }, iter: 100);

    [Fact]
    public void Snapshots_that_are_none_are_refused_with_the_place()
    {
        Assert.Contains("version 7", Assert.Throws<FormatException>(() => ListSnapshot.Parse("""{"version":7,"selected":[]}""")).Message);
        Assert.Contains("line 1, column", Assert.Throws<FormatException>(() => ListSnapshot.Parse("""{"version":1,"selected":[}""")).Message);
        Assert.Throws<FormatException>(() => ListSnapshot.Parse("null"));
        Assert.Throws<FormatException>(() => ListSnapshot.Parse("""{"version":1}"""));
        Assert.Throws<FormatException>(() => ListSnapshot.Parse("""{"version":1,"selected":[],"chosen":1}"""));
        // Keys that are numbers are found by their text.
        var numbers = InteractiveList.Of([10, 20, 30], i => i, new() { Mode = SelectionMode.Multiple });
        Assert.Equal(["40"], numbers.Restore(new() { Selected = ["20", "40"], Cursor = "30" }).MissingKeys);
        Assert.Equal([20], numbers.SelectedKeys);
        Assert.Equal(30, numbers.CursorKey);
        var single = InteractiveList.Of(["a", "b"], s => s);
        Assert.Equal(RefusalKind.Mode, single.Restore(new() { Selected = ["a", "b"] }).Refusal!.Kind);
    }

    [Fact]
    public void The_choice_field_opens_moves_without_choosing_and_chooses_or_not()
    {
        var field = new ChoiceField<string, string>(["red", "green", "grey", "blue"], s => s) { Label = "Filter" };
        var chosen = new List<string?>();
        field.Chosen += (_, e) => chosen.Add($"{e.OldValue}>{e.NewValue}");
        Assert.Equal(("Choose …", true), (field.Text, field.Frame.IsPrompt));
        Response Press(string key, Modifiers modifiers = Modifiers.None) => field.Take(new KeyPress(key, modifiers));

        Assert.True(Press("ArrowDown").IsHandled);
        Assert.True(field.IsOpen);
        Press("ArrowDown");
        Press("Escape");
        Assert.False(field.IsOpen || field.HasValue);
        Assert.False(Press("Escape").IsHandled);
        Press("g");
        Assert.Equal("green", field.List.CursorKey);
        Press("Enter");
        Assert.Equal(("green", false), (field.Value, field.IsOpen));
        Press(" ");
        Press("ArrowDown");
        Assert.False(Press("Tab").IsHandled);
        Assert.Equal("grey", field.Value);
        Assert.Equal([">green", "green>grey"], chosen);
        // The program may set what is not in the list.
        field.Value = "infrared";
        Assert.Equal(("infrared", 0), (field.Text, field.List.SelectedCount));
        Assert.Equal(2, chosen.Count);
        // By pointer: the field, an option, elsewhere.
        void Tap(double y)
        {
            field.Take(PointerSample.Down(PointerType.Touch, 50, y, 0));
            field.Take(PointerSample.Up(PointerType.Touch, 50, y, 50));
        }
        Tap(20);
        Assert.True(field.IsOpen);
        Tap(48 + 160);
        Assert.Equal(("blue", false), (field.Value, field.IsOpen));
        Tap(20);
        Tap(5000);
        Assert.False(field.IsOpen);
        Press("End");
        Assert.Equal("blue", field.List.CursorKey);
        field.Blur();
        Assert.False(field.IsOpen);
        field.List.EnabledWhen = s => s != "red";
        Press("Home");
        Press("Enter");
        Assert.Equal("blue", field.Value);
    }
}
