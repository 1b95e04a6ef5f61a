using System.Collections.ObjectModel;
using System.Collections.Specialized;
using System.Diagnostics.CodeAnalysis;
using CsCheck;
using Lectica.Acts;
using Lectica.Items;
using Lectica.Selecting;

namespace Lectica.Tests.Lists;

/// <summary>
/// Selecting in every mode, while source and filter change, against a model that holds nothing but keys and applies the rules as they are
/// written.
/// </summary>
public sealed class SelectionTests
{
    private sealed record Thing(string Key, bool IsShown, bool IsEnabled, int Version = 0);

    /// <summary>The rules in the plainest form: lists and sets of keys.</summary>
    [SuppressMessage("Design", "CA1002", Justification = "A model, not an API.")]
    private sealed class Model(SelectionMode mode, int limit, bool keepsHidden)
    {
        public List<Thing> Items { get; set; } = [];
        public HashSet<string> Selected { get; set; } = [];
        public HashSet<string> Start { get; set; } = [];
        public string? Anchor { get; set; }
        public string? Cursor { get; set; }

        private bool May(Thing t) => t.IsShown && t.IsEnabled;
        private int At(string? key) => key is null ? -1 : Items.FindIndex(t => t.Key == key);

        private void Become(IEnumerable<string> keys, string? anchor, string? cursor)
        {
            Selected = [.. keys];
            Start = [.. Selected];
            (Anchor, Cursor) = (anchor, cursor);
        }

        private bool Fits(int count) => mode switch
        {
            SelectionMode.None => count == 0,
            SelectionMode.Multiple => count <= limit || count <= Selected.Count,
            _ => count <= 1,
        };

        public void Do(ActKind kind, int index)
        {
            var all = Items.Where(May).Select(t => t.Key).ToList();
            var item = index >= 0 && index < Items.Count ? Items[index] : null;
            switch (kind)
            {
                case ActKind.MoveCursor:
                    if (item is { IsShown: true }) Cursor = item.Key;
                    return;
                case ActKind.Clear:
                    if (mode != SelectionMode.SingleRequired && Selected.Count > 0) Become([], Anchor, Cursor);
                    return;
                case ActKind.SelectAll or ActKind.ToggleAll or ActKind.Invert:
                    if (mode != SelectionMode.Multiple || all.Count == 0) return;
                    var next = kind switch
                    {
                        ActKind.Invert => Selected.Except(all).Concat(all.Except(Selected)),
                        ActKind.ToggleAll when all.All(Selected.Contains) => Selected.Except(all),
                        _ => Selected.Union(all),
                    };
                    if (Fits(next.Count()) && !Selected.SetEquals(next)) Become([.. next], Anchor, Cursor);
                    return;
            }
            if (mode == SelectionMode.None || item is not { IsShown: true }) return;
            var anchor = Anchor is null ? null
                : Items.Skip(At(Anchor)).FirstOrDefault(t => t.IsShown) ?? Items.Take(At(Anchor)).LastOrDefault(t => t.IsShown);
            if (kind is ActKind.Extend or ActKind.ExtendAdding && mode == SelectionMode.Multiple && anchor is not null)
            {
                int from = Math.Min(At(anchor.Key), index), to = Math.Max(At(anchor.Key), index);
                var range = Items.Skip(from).Take(to - from + 1).Where(May).Select(t => t.Key).ToList();
                var extended = kind == ActKind.Extend ? range : Start.Contains(Anchor!) ? [.. Start.Union(range)]
                    : Start.Except(range).ToList();
                // What was there to add to may be hidden by now, and then nothing selects it again.
                if (!keepsHidden) extended = [.. extended.Where(k => Items.Exists(t => t.Key == k && t.IsShown))];
                if (!Fits(extended.Count)) return;
                Selected = [.. extended];
                Cursor = item.Key;
                return;
            }
            if (!item.IsEnabled) return;
            if (kind == ActKind.Toggle && mode == SelectionMode.Multiple)
            {
                var toggled = Selected.Contains(item.Key) ? Selected.Except([item.Key]) : Selected.Append(item.Key);
                if (Fits(toggled.Count())) Become([.. toggled], item.Key, item.Key);
            }
            else if (kind == ActKind.Toggle && Selected.Contains(item.Key))
            {
                if (mode == SelectionMode.Single) Become([], item.Key, item.Key);
            }
            else Become([item.Key], item.Key, item.Key);
        }

        /// <summary>The source is another now.</summary>
        public void Edit(List<Thing> items)
        {
            string? Nearest(string? key)
            {
                if (key is null) return null;
                var old = At(key);
                var stay = items.Select(t => t.Key).ToHashSet();
                return Items.Skip(old).Concat(Items.Take(old).Reverse()).FirstOrDefault(t => stay.Contains(t.Key))?.Key;
            }
            var near = Selected.Count == 0 ? Cursor : Items.First(t => Selected.Contains(t.Key)).Key;
            near = Nearest(near);
            (Anchor, Cursor) = (Nearest(Anchor), Nearest(Cursor));
            Items = items;
            Selected.RemoveWhere(k => At(k) < 0);
            Start.RemoveWhere(k => At(k) < 0);
            Settle(near);
        }

        public void Settle(string? near)
        {
            if (!keepsHidden)
            {
                var shown = Items.Where(t => t.IsShown).Select(t => t.Key).ToHashSet();
                if (Selected.RemoveWhere(k => !shown.Contains(k)) > 0) Start = [.. Selected];
            }
            if (mode != SelectionMode.SingleRequired || Selected.Count > 0) return;
            var at = Math.Max(0, At(near));
            if ((Items.Skip(at).FirstOrDefault(May) ?? Items.Take(at).LastOrDefault(May)) is { } pick)
                Become([pick.Key], pick.Key, Cursor ?? pick.Key);
        }
    }

    /// <summary>What was told is read later too, as by a handler that waits for something first: never are others read for it.</summary>
    [Fact]
    public void What_was_told_is_not_read_of_other_items_once_the_list_has_changed()
    {
        var source = new ObservableCollection<string>(["a", "b", "c", "d"]);
        using var list = InteractiveList.Of(source, s => s, new() { Mode = SelectionMode.Multiple });
        list.Select("a");
        var told = new List<SelectionChangedEventArgs<string, string>>();
        list.SelectionChanged += (_, e) => told.Add(e);
        list.SelectOnly(ItemSet.Of(4, [1, 2]));
        list.SelectOnly(ItemSet.Of(4, [0, 2]));
        Assert.Equal(["b", "c"], told[0].AddedItems);
        source.Insert(0, "new");
        // What has been read stays; what has not is an error that says what to do.
        Assert.Equal(["b", "c"], told[0].AddedItems);
        foreach (var read in (Func<object>[])[() => told[0].RemovedItems, () => told[1].AddedItems, () => told[1].RemovedItems])
            Assert.Contains("while handling", Assert.Throws<InvalidOperationException>(read).Message);
    }

    private sealed record Step(string Name, int A, int B, int C);

    private static readonly string[] Names =
    [
        "select", "toggle", "extend", "extend-adding", "select-all", "toggle-all", "clear", "invert", "move-cursor", "insert", "remove",
            "move", "replace", "snapshot", "restate",
    ];

    private static readonly Gen<(SelectionMode Mode, int Limit, bool Keeps, int Count, Step[] Steps)> Cases = Gen.Select(
        Gen.Enum<SelectionMode>(), Gen.Int[1, 12], Gen.Bool, Gen.Int[0, 12],
        Gen.Select(Gen.OneOf(Names), Gen.Int[0, 1000], Gen.Int[0, 1000], Gen.Int[0, 1000], (n, a, b, c) => new Step(n, a, b, c)).Array[1,
            40]);

    [Fact]
    public void Any_acts_and_edits_leave_what_the_rules_say() => Cases.Sample((mode, limit, keeps, count, steps) =>
    {
        limit = limit > 9 ? int.MaxValue : limit;
        var fresh = 0;
        Thing New(int bits) => new($"k{fresh++}", bits % 4 != 0, bits % 5 != 0);
        var model = new Model(mode, limit, keeps);
        var source = new ObservableCollection<Thing>(Enumerable.Range(1, count).Select(i => New(i * 7)));
        var list = InteractiveList.Awaiting<Thing, string>(t => t.Key, new() { Mode = mode, Limit = limit, KeepsHiddenSelected = keeps });
        list.Filter = t => t.IsShown;
        list.EnabledWhen = t => t.IsEnabled;
        list.Show(source);
        model.Items = [.. source];
        model.Settle(null);

        var told = list.SelectedKeys.ToHashSet();
        var events = 0;
        list.SelectionChanged += (_, e) =>
        {
            events++;
            Assert.False(e.Added.IsEmpty && e.Removed.IsEmpty);
            foreach (var gone in e.RemovedItems) Assert.True(told.Remove(gone.Key));
            foreach (var come in e.AddedItems) Assert.True(told.Add(come.Key));
        };
        foreach (var step in steps)
        {
            var before = list.SelectedKeys.ToHashSet();
            events = 0;
            Apply(step, list, source, model, New);
            Assert.Equal(model.Items.Select(t => t.Key), Enumerable.Range(0, list.Count).Select(list.KeyAt));
            Assert.Equal(model.Selected.Order(), list.SelectedKeys.Order());
            Assert.Equal(model.Anchor, list.Selection.Anchor < 0 ? null : list.KeyAt(list.Selection.Anchor));
            Assert.Equal(model.Cursor, list.CursorKey);
            Assert.Equal(model.Items.Where(t => t.IsShown).Select(t => t.Key), list.Rows.Shown.Select(list.KeyAt));
            Assert.Equal(model.Items.Where(t => !t.IsEnabled).Select(t => t.Key), list.Disabled.Select(list.KeyAt));
            // Told once, just what changed, and only if it did.
            Assert.Equal(model.Selected.Order(), told.Order());
            Assert.Equal(before.SetEquals(model.Selected) ? 0 : 1, events);
            var choosable = model.Items.Where(t => t.IsShown && t.IsEnabled).Select(t => t.Key).ToList();
            var chosen = choosable.Count(model.Selected.Contains);
            Assert.Equal(chosen == 0 ? TriState.Off : chosen == choosable.Count ? TriState.On : TriState.Mixed, list.HeaderState);
        }
    }, iter: Effort.Of(3000));

    private static void Apply(
        Step step, InteractiveList<Thing, string> list, ObservableCollection<Thing> source, Model model, Func<int, Thing> fresh)
    {
        var (name, a, b, c) = step;
        int n = source.Count, index = n == 0 ? 0 : a % n;
        var live = true;
        switch (name)
        {
            case "insert":
                source.Insert(a % (n + 1), fresh(b));
                break;
            case "remove" when n > 0:
                source.RemoveAt(index);
                break;
            case "move" when n > 0:
                source.Move(index, b % n);
                break;
            case "replace" when n > 0:
                // The same key in another state, or another key.
                source[index] = b % 2 == 0 ? source[index] with { IsShown = c % 3 != 0, Version = c } : fresh(c);
                break;
            case "snapshot":
                var random = new Random(b);
                var next = source.Where(_ => random.Next(4) > 0).ToList();
                for (var i = 0; i < c % 4; i++) next.Insert(random.Next(next.Count + 1), fresh(random.Next()));
                if (a % 2 == 0) random.Shuffle(System.Runtime.InteropServices.CollectionsMarshal.AsSpan(next));
                model.Edit([.. next]);
                live = false;
                list.Show(next);
                // Now that it is not listened to, the collection becomes the same, to go on with.
                source.Clear();
                foreach (var thing in next) source.Add(thing);
                list.Show(source);
                break;
            case "restate":
                live = false;
                break;
            default:
                live = false;
                if (ActNames.Find(name) is { } kind && (n > 0 || !new Act(kind).NeedsItem)
                    && ActTraits.Of(kind).Sources.HasFlag(ActSources.Call))
                {
                    model.Do(kind, index);
                    if (!new Act(kind).NeedsItem) list.Do(kind);
                    else
                    {
                        var key = list.KeyAt(index);
                        _ = kind switch
                        {
                            ActKind.Select => list.Select(key),
                            ActKind.Toggle => list.Toggle(key),
                            ActKind.Extend => list.ExtendTo(key),
                            ActKind.ExtendAdding => list.ExtendAddingTo(key),
                            _ => list.MoveCursorTo(key),
                        };
                    }
                }
                break;
        }
        if (live) model.Edit([.. source]);
    }

    [Fact]
    public void A_selection_of_a_million_follows_edits_without_being_looked_through()
    {
        var source = new ObservableCollection<int>(Enumerable.Range(0, 1_000_000));
        var list = InteractiveList.Of(source, i => i, new() { Mode = SelectionMode.Multiple });
        list.SelectAll();
        list.Toggle(500_000);
        source.RemoveAt(0);
        source.Insert(700_000, -1);
        source.Move(10, 999_000);
        Assert.Equal(999_998, list.SelectedCount);
        Assert.False(list.Selection.Items.Contains(list.IndexOf(500_000)));
        Assert.False(list.Selection.Items.Contains(list.IndexOf(-1)));
    }

    [Fact]
    public void What_a_program_selects_puts_cursor_and_anchor_on_its_first_item_and_nothing_leaves_them()
    {
        var list = InteractiveList.Of(["a", "b", "c", "d", "e"], s => s, new() { Mode = SelectionMode.Multiple });
        foreach (var (keys, at) in new (string[], string)[] { (["c", "e"], "c"), ([], "c"), (["a"], "a"), ([], "a"), (["b", "d"], "b") })
        {
            list.SelectOnly(ItemSet.Of(5, keys.Select(k => list.IndexOf(k))));
            Assert.Equal((string.Concat(keys), at), (string.Concat(list.SelectedItems), list.CursorKey));
            Assert.Equal(keys.Length == 0 ? "" : at, list.TryGetAnchorKey(out var anchor) ? anchor : "");
        }
        // One must be selected: the neighbour of the one that leaves, the next before the last.
        var source = new ObservableCollection<string>(["a", "b", "c", "d"]);
        var one = InteractiveList.Of(source, s => s, new() { Mode = SelectionMode.SingleRequired });
        foreach (var (goes, stays) in new[] { ("a", "b"), ("d", "c"), ("b", "c") })
        {
            one.Select(goes);
            source.Remove(goes);
            Assert.Equal(stays, one.SelectedKey);
        }
    }

    [Fact]
    public void What_cannot_be_selected_says_so_in_words()
    {
        var list = InteractiveList.Of(["a", "b"], s => s, new() { Mode = SelectionMode.Single });
        string Why(Response response) => response.Refusal?.Reason ?? throw new InvalidOperationException("not refused");
        Assert.Equal("Only a list that selects many items has a selecting state.", Why(list.BeginSelecting()));
        Assert.Equal("There is no item here to do it to.", Why(list.DoAt(ActKind.Select, -1)));
        Assert.Equal("There is no item 2: the list has 2, 0 to 1.", Why(list.DoAt(ActKind.Select, 2)));
        list.Filter = _ => false;
        Assert.Equal("Nothing shows.", Why(list.DoAt(ActKind.Select, -1)));
        Assert.Equal("The filter hides item 1.", Why(list.DoAt(ActKind.Select, 1)));
        var outline = InteractiveList.Of(["a", "ab"], s => s, new() { Mode = SelectionMode.Multiple });
        outline.Outline = Outline.ByParent((string s) => s.Length > 1 ? s[..1] : null);
        outline.Filter = s => s == "ab";
        Assert.Equal("The filter does not let item 0 through. It shows as the way to what lies below it.", Why(outline.Select("a")));
    }

    [Fact]
    public void Refusals_say_why_with_numbers()
    {
        var list = InteractiveList.Of(["a", "b", "c", "d"], s => s, new() { Mode = SelectionMode.Multiple, Limit = 2 });
        list.EnabledWhen = s => s != "d";
        Refusal Why(Response response) => response.Refusal ?? throw new InvalidOperationException("not refused");
        Assert.Equal((RefusalKind.Limit, "At most 2 items may be selected; this would make 3."), Both(Why(list.SelectAll())));
        Assert.Equal((RefusalKind.Disabled, "Item 3 is disabled."), Both(Why(list.Select("d"))));
        Assert.Equal((RefusalKind.OutsideList, "There is no item with the key 'z' in the list of 4."), Both(Why(list.Toggle("z"))));
        Assert.Equal(
            (RefusalKind.OutsideList, "The set is over 5 items; the list has 4."), Both(Why(list.SelectOnly(ItemSet.None(5).With(1)))));
        list.Filter = s => s != "a";
        Assert.Equal((RefusalKind.Hidden, "The filter hides item 0."), Both(Why(list.Select("a"))));
        Assert.Equal(0, list.SelectedCount);
        var one = InteractiveList.Of(["a", "b"], s => s, new() { Mode = SelectionMode.SingleRequired });
        Assert.Equal("a", one.SelectedKey);
        Assert.Equal(RefusalKind.Required, Why(one.Clear()).Kind);
        Assert.Equal(RefusalKind.Required, Why(one.Toggle("a")).Kind);
        Assert.Equal(RefusalKind.Mode, Why(one.SelectAll()).Kind);
        static (RefusalKind, string) Both(Refusal refusal) => (refusal.Kind, refusal.Reason);
    }

    /// <summary>A collection that lies about what it did.</summary>
    private sealed class Liar(IEnumerable<string> items) : Collection<string>([.. items]), INotifyCollectionChanged, IReadOnlyList<string>
    {
        public event NotifyCollectionChangedEventHandler? CollectionChanged;
        public void Say(NotifyCollectionChangedEventArgs e) => CollectionChanged?.Invoke(this, e);
    }

    [Fact]
    public void A_collection_that_reports_wrongly_is_named_and_the_list_is_in_step_afterwards() =>
        Gen.Select(Gen.Int[0, 8], Gen.Int[0, 5], Gen.Int[-2, 10], Gen.Int[-2, 10], Gen.Int[0, 3], Gen.Bool)
        .Sample((count, kind, at, to, done, really) =>
        {
            var liar = new Liar(Enumerable.Range(0, count).Select(i => $"k{i}"));
            var list = InteractiveList.Of(liar, s => s, new() { Mode = SelectionMode.Multiple });
            list.SelectAll();
            var old = liar.ToList();
            // What it does, and what it says, have little to do with each other.
            if (done == 1) liar.Add("new");
            if (done == 2 && count > 0) liar.RemoveAt(0);
            if (done == 3 && count > 1) (liar[0], liar[1]) = (liar[1], liar[0]);
            var item = really && liar.Count > 0 ? liar[Math.Clamp(at, 0, liar.Count - 1)] : "lie";
            NotifyCollectionChangedEventArgs said;
            try
            {
                said = kind switch
                {
                    0 => new(NotifyCollectionChangedAction.Add, item, at),
                    1 => new(NotifyCollectionChangedAction.Remove, item, at),
                    2 => new(NotifyCollectionChangedAction.Replace, item, old.Count > 0 ? old[Math.Clamp(at, 0, old.Count - 1)] : "x", at),
                    3 => new(NotifyCollectionChangedAction.Move, item, to, at),
                    4 => new(NotifyCollectionChangedAction.Add, new[] { item, "k1" }, at),
                    _ => new(NotifyCollectionChangedAction.Reset),
                };
            }
            catch (ArgumentException)
            {
                return;
            }
            var thrown = Record.Exception(() => liar.Say(said));
            Assert.True(thrown is null or SourceOutOfStepException, thrown?.ToString());
            if (thrown is not null) Assert.Matches(@"reported \w+ of \d+ at -?\d+.*\d+", thrown.Message);
            // Whether found out or true by chance: the list holds what the collection holds, or what it held where it was lied to about
            // nothing.
            list.Refresh();
            Assert.Equal(liar, Enumerable.Range(0, list.Count).Select(i => list[i]));
            Assert.Equal(old.Where(liar.Contains), list.SelectedItems.OrderBy(old.IndexOf));
            list.SelectAll();
            Assert.Equal(liar.Count, list.SelectedCount);
        }, iter: Effort.Of(2000));

    [Fact]
    public void Duplicate_and_missing_keys_that_come_in_are_refused_and_the_list_goes_on() =>
        Gen.Select(Gen.Int[1, 8], Gen.Int[0, 20], Gen.Int[0, 20], Gen.Bool).Sample((count, from, at, missing) =>
        {
            var source = new ObservableCollection<(string? Key, int Number)>(Enumerable.Range(0, count).Select(i => ((string?)$"k{i}", i)));
            var list = InteractiveList.Of(source, p => p.Key!, new() { Mode = SelectionMode.Multiple });
            list.SelectAll();
            var thrown = Record.Exception(() => source.Insert(at % (count + 1), (missing ? null : $"k{from % count}", 99)));
            Assert.True(missing ? thrown is MissingKeyException : thrown is DuplicateKeyException, thrown?.ToString());
            Assert.Equal(count, list.Count);
            Assert.Equal(count, list.SelectedCount);
            Assert.Throws(thrown!.GetType(), list.Refresh);
            source.RemoveAt(at % (count + 1));
            Assert.Equal(source, Enumerable.Range(0, list.Count).Select(i => list[i]));
            Assert.Equal(count, list.SelectedCount);
        }, iter: Effort.Of(500));
}
