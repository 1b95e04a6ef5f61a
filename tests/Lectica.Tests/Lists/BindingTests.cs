using System.Collections.ObjectModel;
using System.Collections.Specialized;
using CsCheck;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Input;
using Lectica.Storage;

namespace Lectica.Tests.Lists;

/// <summary>What apps bind to: properties, rows, commands, batches, stored state, the choice field.</summary>
public sealed class BindingTests
{
    private static InteractiveList<string, string> Letters(SelectionMode mode = SelectionMode.Multiple) =>
        InteractiveList.Of(["a", "b", "c", "d"], s => s, new() { Mode = mode });

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

    [Theory, InlineData(0), InlineData(1), InlineData(2)]
    public void Observable_rows_and_sections_follow_any_edit_as_a_control_does(int order)
    {
        var told = new System.Collections.Concurrent.ConcurrentDictionary<NotifyCollectionChangedAction, int>();
        var several = 0;
        Gen.Select(Gen.Int[0, 10], Gen.Int[0, 100], Gen.Int[0, 100]).Array[1, 30].Sample(steps =>
        {
            var source = new Replacing(Enumerable.Range(0, 6));
            var list = InteractiveList.Of(source, i => i, new() { Mode = SelectionMode.Multiple });
            if (order == 1) list.SortBy = (x, y) => (x * 7 % 10).CompareTo(y * 7 % 10);
            if (order == 2) list.Sections = new(i => $"{i % 3}");
            using var rows = list.ObservableRows();
            using var sections = list.ObservableSections();
            var control = Mirror(rows, told);
            var groups = sections.ToDictionary(s => s, s => Mirror(s.Rows, told));
            var inOrder = sections.ToList();
            sections.CollectionChanged += (_, e) =>
            {
                if (e.Action == NotifyCollectionChangedAction.Add)
                    inOrder.Insert(e.NewStartingIndex, (ListSection<int, int>)e.NewItems![0]!);
                else if (e.Action == NotifyCollectionChangedAction.Remove) inOrder.RemoveAt(e.OldStartingIndex);
                else inOrder = [.. sections];
                foreach (var section in inOrder) groups.TryAdd(section, groups.GetValueOrDefault(section) ?? Mirror(section.Rows, told));
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
                else if (kind == 8 && sections.Count > 0) sections[a % sections.Count].IsCollapsed = b % 2 == 0;
                else if (kind == 10 && source.Count > 2)
                {
                    var at = a % (source.Count - 1);
                    var count = Math.Min(2 + (b % 3), source.Count - at);
                    var isPlain = order == 0 && rows.Count == source.Count;
                    source.Replace(at, [.. Enumerable.Range(0, count).Select(_ => next++)]);
                    // None is lost from view by it, unless the filter hides one that comes in.
                    if (isPlain && rows.Count == source.Count) Interlocked.Increment(ref several);
                }
                else if (kind == 9 && sections.Count > 0 && sections[a % sections.Count] is { IsSelected: not null } whole)
                    whole.IsSelected = !whole.IsSelected;
                Assert.Equal(list.Rows.InOrder().Select(i => list[i]), control.Select(r => r.Item));
                Assert.Equal(inOrder, sections);
                foreach (var section in inOrder)
                {
                    var (count, state) = list.SectionState(section.Key);
                    Assert.Equal((count, state, list.CollapsedSections.Contains(section.Key)),
                        (section.ItemCount, section.State, section.IsCollapsed));
                    Assert.Equal(section.IsCollapsed ? [] : section.Rows.Select(r => r.Item), groups[section].Select(r => r.Item));
                    Assert.All(section, r => Assert.Equal(section.Key, $"{r.Item % 3}"));
                    Assert.Equal(section.IsCollapsed ? 0 : count, section.Rows.Count);
                }
                Assert.All(control, r => Assert.Equal(list.Selection.Items.Contains(list.IndexOf(r.Key)), r.IsSelected));
                Assert.All(control.Select((r, i) => (r, i)), p => Assert.Equal(p.i, ((System.Collections.IList)rows).IndexOf(p.r)));
            }
        }, iter: Effort.Of(500));
        if (!Effort.IsFull) return;
        Assert.Equal(5, told.Count);
        if (order == 0) Assert.True(several > 30, $"{several} times several replaced");
        Assert.All(told, t => Assert.True(t.Value > 30, $"{t.Key}: {t.Value}"));
    }

    /// <summary>A collection that replaces several at once and says so.</summary>
    private sealed class Replacing(IEnumerable<int> items) : ObservableCollection<int>(items)
    {
        public void Replace(int at, int[] others)
        {
            int[] old = [.. Items.Skip(at).Take(others.Length)];
            for (var i = 0; i < others.Length; i++) Items[at + i] = others[i];
            OnCollectionChanged(new(NotifyCollectionChangedAction.Replace, others, old, at));
        }
    }

    [Fact]
    public void Several_rows_that_are_replaced_at_once_are_told_one_by_one()
    {
        foreach (var sorted in (bool[])[false, true])
        {
            var source = new Replacing(Enumerable.Range(0, 9));
            var list = InteractiveList.Of(source, i => i);
            if (sorted) list.SortBy = (x, y) => (x % 100).CompareTo(y % 100);
            using var rows = list.ObservableRows();
            var told = new System.Collections.Concurrent.ConcurrentDictionary<NotifyCollectionChangedAction, int>();
            var control = Mirror(rows, told);
            source.Replace(3, [103, 104, 105, 106]);
            Assert.Equal([0, 1, 2, 103, 104, 105, 106, 7, 8], control.Select(r => r.Item));
            Assert.Equal([(NotifyCollectionChangedAction.Replace, 4)], told.Select(t => (t.Key, t.Value)));
        }
    }

    /// <summary>What an items-control holds that follows a collection's reports alone.</summary>
    private static List<ListRow<int, int>> Mirror(
        RowCollection<int, int> rows, System.Collections.Concurrent.ConcurrentDictionary<NotifyCollectionChangedAction, int> told)
    {
        var control = rows.ToList();
        rows.CollectionChanged += (_, e) =>
        {
            switch (e.Action)
            {
                case NotifyCollectionChangedAction.Reset:
                    control.Clear();
                    control.AddRange(rows);
                    break;
                case NotifyCollectionChangedAction.Add:
                    control.Insert(e.NewStartingIndex, (ListRow<int, int>)e.NewItems![0]!);
                    break;
                case NotifyCollectionChangedAction.Move:
                    var moved = control[e.OldStartingIndex];
                    Assert.Same(moved, e.NewItems![0]);
                    control.RemoveAt(e.OldStartingIndex);
                    control.Insert(e.NewStartingIndex, moved);
                    break;
                default:
                    // The row that goes is the one that was there, also if nobody had looked at it.
                    Assert.Same(control[e.OldStartingIndex], e.OldItems![0]);
                    if (e.Action == NotifyCollectionChangedAction.Remove) control.RemoveAt(e.OldStartingIndex);
                    else control[e.OldStartingIndex] = (ListRow<int, int>)e.NewItems![0]!;
                    break;
            }
            told.AddOrUpdate(e.Action, 1, (_, n) => n + 1);
        };
        return control;
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
    public void Commands_of_the_app_are_had_by_their_ids_and_say_honestly_whether_they_can_be_executed()
    {
        var list = Letters();
        var ran = new List<string>();
        var end = new TaskCompletionSource<CommandResult>();
        list.Commands =
        [
            new("print", "Print")
            {
                EnabledFor = target => target.Keys.All(k => k != "d"),
                Run = (target, _) => { ran.Add(string.Concat(target.Keys)); return end.Task; },
            },
            new("ask", "Ask") { Question = _ => "?", Do = _ => { } },
        ];
        var print = list.Command("print");
        var told = 0;
        print.CanExecuteChanged += (_, _) => told++;
        // Nothing is selected, and the keyboard is nowhere.
        Assert.False(print.CanExecute(null));
        list.Select("a");
        list.Toggle("b");
        Assert.Equal((true, 1), (print.CanExecute(null), told));
        list.Toggle("d");
        Assert.Equal((false, 2), (print.CanExecute(null), told));
        list.Toggle("d");
        print.Execute(null);
        // Under way: not again on these, but on others.
        Assert.Equal((false, 4), (print.CanExecute(null), told));
        using var rows = list.ObservableRows();
        Assert.Equal((false, true, false), (print.CanExecute(rows[0]), print.CanExecute(rows[2]), print.CanExecute("d")));
        Assert.Equal((true, true), (rows[0].IsBusy, !rows[2].IsBusy));
        print.Execute(rows[2]);
        end.SetResult(new(1));
        list.Advance(0);
        Assert.Equal(["ab", "c"], ran);
        Assert.True(print.CanExecute("a"));
        Assert.Equal(
            (false, false, false), (print.CanExecute(7), list.Command("gone").CanExecute(null), list.Command("ask").CanExecute(null)));
        // Nobody listens any more: it is let go.
        var weak = Forgotten(list);
        GC.Collect();
        GC.WaitForPendingFinalizers();
        GC.Collect();
        Assert.False(weak.IsAlive);
    }

    [System.Runtime.CompilerServices.MethodImpl(System.Runtime.CompilerServices.MethodImplOptions.NoInlining)]
    private static WeakReference Forgotten(InteractiveList<string, string> list)
    {
        var command = list.Command("print");
        command.CanExecuteChanged += (_, _) => { };
        return new(command);
    }

    [Fact]
    public void A_row_tells_of_all_that_is_true_of_it()
    {
        var list = Letters();
        list.Marks = [new("done"), new("starred")];
        list.Commands = [new("print", "Print")
        {
            Run = async (target, cancel) => { target.Progress.Report(0.5); await Task.Delay(-1, cancel); return new(1); },
        }];
        using var rows = list.ObservableRows();
        var row = rows[1];
        var told = new List<string?>();
        row.PropertyChanged += (_, e) => told.Add(e.PropertyName);
        string Told()
        {
            var text = string.Join(' ', told);
            told.Clear();
            return text;
        }
        row["starred"] = true;
        Assert.Equal(("Item[]", true, false, 1), (Told(), row["starred"], row["done"], list.Marked("starred").Count));
        row["starred"] = true;
        list.ToggleMarkOfAll("done");
        Assert.Equal(("Item[]", true), (Told(), row["done"]));
        list.Take(PointerSample.Down(PointerType.Mouse, 200, 60, 0));
        Assert.Equal(("IsPressed", true), (Told(), row.IsPressed));
        list.Take(PointerSample.Up(PointerType.Mouse, 200, 60, 10));
        Assert.Equal(("IsSelected IsPressed", true), (Told(), row.IsSelected));
        list.Focus();
        Assert.Equal(("IsCursor", true), (Told(), row.IsCursor));
        list.RunCommand("print", "b");
        Assert.Equal(("IsBusy Progress", true, 0.5), (Told(), row.IsBusy, row.Progress));
        list.EnabledWhen = s => s != "b";
        Assert.Equal(("IsEnabled", false), (Told(), row.IsEnabled));
        // What may not be is put right in the control.
        row["done"] = false;
        Assert.Equal(("Item[]", true), (Told(), row["done"]));
        Assert.Throws<ArgumentException>(() => row["gone"]);
    }

    [Fact]
    public void A_choice_tells_its_changes_is_cleared_whatever_its_keys_are_and_its_options_may_change()
    {
        var hours = new ObservableCollection<int>([0, 1, 2]);
        var field = new ChoiceField<int, int>(hours, h => h);
        var told = new List<string?>();
        field.PropertyChanged += (_, e) => told.Add(e.PropertyName);
        Assert.Equal((false, "Choose …"), (field.HasValue, field.Text));
        // 0 is an hour as others are.
        field.Value = 0;
        Assert.Equal((true, "0", 1), (field.HasValue, field.Text, field.List.SelectedCount));
        Assert.Superset(new HashSet<string?> { "Value", "HasValue", "Text", "Frame" }, told.ToHashSet());
        told.Clear();
        field.Value = 0;
        Assert.Empty(told);
        field.Clear();
        Assert.Equal((false, "Choose …", 0, 0), (field.HasValue, field.Text, field.Value, field.List.SelectedCount));
        field.Value = 2;
        // It leaves the options, and stays the value; it comes back, and is the chosen one there.
        hours.Remove(2);
        Assert.Equal((2, true, 0), (field.Value, field.HasValue, field.List.SelectedCount));
        hours.Insert(0, 2);
        Assert.Equal([2], field.List.SelectedItems);
        told.Clear();
        field.List.Content = h => new($"{h} h");
        Assert.Contains("Text", told);
        told.Clear();
        field.Open();
        field.Take(new KeyPress("End"));
        field.Take(new KeyPress("Enter"));
        Assert.Equal((1, "1 h", false), (field.Value, field.Text, field.IsOpen));
        Assert.Superset(new HashSet<string?> { "IsOpen", "Value", "Text" }, told.ToHashSet());
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
                if (list.Rows.Shown.Count > 0)
                    Assert.Equal((list.Selection.Cursor, list.Selection.Anchor, list.Viewport.ScrollTop),
                        (same.Selection.Cursor, same.Selection.Anchor, same.Viewport.ScrollTop));
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
        }, iter: Effort.Of(100));

    [Fact]
    public void Snapshots_that_are_none_are_refused_with_the_place()
    {
        Assert.Contains("version 7", Assert.Throws<FormatException>(() => ListSnapshot.Parse("""{"version":7,"selected":[]}""")).Message);
        Assert.Contains(
            "line 1, column", Assert.Throws<FormatException>(() => ListSnapshot.Parse("""{"version":1,"selected":[}""")).Message);
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

    [Fact]
    public void A_key_of_nought_is_told_from_no_key()
    {
        using var list = InteractiveList.Of([0, 1, 2], i => i, new() { Mode = SelectionMode.Multiple });
        Assert.False(list.TryGetCursorKey(out _) || list.TryGetAnchorKey(out _) || list.TryGetSelectedKey(out _));
        list.Select(0);
        Assert.Equal((true, 0), (list.TryGetCursorKey(out var cursor), cursor));
        Assert.Equal((true, 0), (list.TryGetAnchorKey(out var anchor), anchor));
        Assert.Equal((true, 0), (list.TryGetSelectedKey(out var selected), selected));
        list.Toggle(2);
        list.Toggle(0);
        Assert.Equal((true, 0), (list.TryGetCursorKey(out cursor), cursor));
        Assert.Equal((true, 2), (list.TryGetSelectedKey(out selected), selected));
    }
}
