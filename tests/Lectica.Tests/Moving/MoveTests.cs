using System.Collections.ObjectModel;
using System.Globalization;
using CsCheck;
using Lectica.Acts;
using Lectica.Items;
using Lectica.Moving;
using Lectica.Testing;

namespace Lectica.Tests.Moving;

/// <summary>A request of the night plan that can change its field.</summary>
internal sealed class Request(string id, string field)
{
    public string Id { get; } = id;

    public string Field { get; set; } = field;

    public override string ToString() => Id;
}

/// <summary>Moves against a plain list: whatever the source, the filter, the sections, and the way in which it is asked for.</summary>
public sealed class MoveTests
{
    internal static readonly ListOptions Movable = new()
    {
        Mode = SelectionMode.Multiple,
        MayMove = true,
        ModKey = Input.ModKey.Ctrl,
        Viewport = new(400, 1000),
    };

    internal enum Kind
    {
        Observable,
        List,
        Requested,
    }

    /// <summary>A list of requests R0, R1 …, of which some are hidden, in the sections north and south or in none.</summary>
    internal static (InteractiveList<Request, string> List, IList<Request> Source) Open(
        int n, int hidden, int? south, Kind kind, ListOptions? options = null)
    {
        var requests = Enumerable.Range(0, n).Select(i => new Request($"R{i}", south is { } s && (s >> i & 1) == 1 ? "south" : "north"));
        IList<Request> source = kind == Kind.List ? new List<Request>(requests) : new ObservableCollection<Request>(requests);
        var list = InteractiveList.Of((IReadOnlyList<Request>)source, r => r.Id, options ?? Movable);
        list.Filter = r => !Hidden(hidden, r.Id);
        if (south is not null)
            list.Sections = new(r => r.Field)
            {
                Order = ["north", "south"],
                EmptyText = _ => "Nothing here",
                Assign = kind == Kind.Requested ? null : (r, field) => r.Field = field,
            };
        if (kind == Kind.Requested)
            list.MoveRequested += (_, move) =>
            {
                foreach (var (from, to) in move.SingleMoves) ((ObservableCollection<Request>)source).Move(from, to);
                if (move.Section is null) return;
                foreach (var item in move.Items) item.Field = move.Section;
                list.Refresh();
            };
        return (list, source);
    }

    private static bool Hidden(int hidden, string id) =>
        int.Parse(id.AsSpan(1), CultureInfo.InvariantCulture) is < 31 and var i && (hidden >> i & 1) == 1;

    /// <summary>What shows, section by section.</summary>
    internal static string Shown(InteractiveList<Request, string> list) => list.Rows.Sections.IsEmpty
        ? string.Join(" ", list.Rows.Shown.Select(i => list[i].Id))
        : string.Join(" | ", Enumerable.Range(0, list.Rows.Sections.Length)
        .Select(s => string.Join(" ", list.Rows.ShownIn(s).Select(i => list[i].Id))));

    /// <summary>
    /// The same for a plain list after a move: the moved ones leave, and land above what is shown from the gap on, or at the end.
    /// </summary>
    private static string Model(
        List<Request> source, int hidden, bool sectioned, IReadOnlyCollection<string> moved, int gap, string? section)
    {
        string Of(string? field)
        {
            var here = source.Where(r => !Hidden(hidden, r.Id) && (field is null || r.Field == field)).ToList();
            if (field != section) return string.Join(" ", here.Where(r => !moved.Contains(r.Id)));
            var above = here.Count(r => source.IndexOf(r) < gap && !moved.Contains(r.Id));
            var stay = here.Where(r => !moved.Contains(r.Id)).Select(r => r.Id).ToList();
            stay.InsertRange(above, source.Where(r => moved.Contains(r.Id)).Select(r => r.Id));
            return string.Join(" ", stay);
        }
        return sectioned ? $"{Of("north")} | {Of("south")}" : Of(null);
    }

    [Fact]
    public void Every_move_of_up_to_six_items_is_that_of_a_plain_list()
    {
        for (var n = 0; n <= (Effort.IsFull ? 6 : 2); n++)
            foreach (var kind in Enum.GetValues<Kind>())
                for (var hidden = 0; hidden < 1 << n; hidden += n < 6 ? 1 : 5)
                    foreach (var south in (int?[])(n <= 3 ? [null, .. Enumerable.Range(0, 1 << n).Select(i => (int?)i)]
                        : [null, 0b111000, 0b010101]))
                        for (var set = 1; set < 1 << n; set++)
                            for (var gap = 0; gap <= n; gap++)
                                Check(n, hidden, south, set, gap, south is null ? null : (gap + set) % 2 == 0 ? "north" : "south", kind);
    }

    private static void Check(int n, int hidden, int? south, int set, int gap, string? section, Kind kind)
    {
        var (list, source) = Open(n, hidden, south, kind);
        using var _ = list;
        var before = source.ToList();
        var fields = before.ToDictionary(r => r.Id, r => r.Field);
        string[] keys = [.. before.Where((_, i) => (set >> i & 1) == 1).Select(r => r.Id)],
            moved = [.. keys.Where(k => !Hidden(hidden, k))];
        string old = Shown(list), wanted = Model(before, hidden, south is not null, moved, gap, section);
        var told = 0;
        list.Moved += (_, e) => told++;
        list.MoveRequested += kind == Kind.Requested ? (_, _) => told++ : null;
        list.Select("R0");
        var selected = list.SelectedKey;

        var response = list.Move(keys, gap, section);
        var words = $"{kind} of {n}, hidden {hidden:b}, south {south:b}, moved {set:b} to gap {gap} {section}: {old} → ";
        Assert.True(moved.Length == 0 ? response.Refusal is not null : response.IsHandled, words + response.Refusal?.Reason);
        Assert.Equal(words + wanted, words + Shown(list));
        Assert.Equal(selected, list.SelectedKey);
        Assert.True(source.SequenceEqual(Enumerable.Range(0, n).Select(i => list[i])));
        if (wanted == old)
        {
            // What leaves the order on show as it was changes nothing and tells of nothing.
            Assert.Equal((0, false), (told, list.CanUndo));
            Assert.Equal(before, source);
            return;
        }
        Assert.Equal(1, told);
        // Those that stay keep their order, hidden ones too; those that moved are together.
        Assert.Equal(before.Where(r => !moved.Contains(r.Id)), source.Where(r => !moved.Contains(r.Id)));
        Assert.Equal(moved, source.SkipWhile(r => !moved.Contains(r.Id)).Take(moved.Length).Select(r => r.Id));
        var after = source.ToList();
        Assert.True(list.Undo().IsHandled);
        Assert.True(before.SequenceEqual(source), words + "undo gives " + string.Join(" ", source));
        Assert.All(source, r => Assert.Equal(fields[r.Id], r.Field));
        Assert.Equal(old, Shown(list));
        Assert.True(list.Redo().IsHandled);
        Assert.Equal(words + wanted, words + Shown(list));
        Assert.Equal(after, source);
    }

    /// <summary>As single moves, all at once in a span, and in the store: each comes to the order that the words of a move say.</summary>
    [Fact]
    public void A_move_is_done_by_what_moves_or_by_what_it_goes_past()
    {
        int passed = 0, parts = 0;
        Gen.Int[0, 60].SelectMany(n => Gen.Select(Gen.Bool.Array[n], Gen.Int[0, n], Gen.Int[0, 9])).Sample((moved, gap, block) =>
        {
            int[] all = [.. Enumerable.Range(0, moved.Length)];
            // Most together, as people select, or at random.
            var items = ItemSet.Of(all.Length, all.Where(i => block < 5 ? moved[i] : i % 20 > block));
            int[] wanted = [.. all.Where(i => i < gap && !items.Contains(i)), .. items, .. all.Where(i => i >= gap && !items.Contains(i))];
            var plain = all.ToList();
            var singles = MoveParts.Singles(items, gap).ToList();
            foreach (var (from, to) in singles)
            {
                Assert.NotEqual(from, to);
                var item = plain[from];
                plain.RemoveAt(from);
                plain.Insert(to, item);
            }
            Assert.Equal(wanted, plain);

            var lightest = MoveParts.Of(items, gap);
            Assert.Equal(singles.Count, lightest.Sum(p => p.Items.Count));
            var displaced = wanted.Index().Count(w => w.Index != w.Item);
            Assert.True(singles.Count <= items.Count && singles.Count <= displaced / 2, $"{singles.Count} to displace {displaced}");
            if (lightest.Any(p => !p.Items.Except(items).IsEmpty)) passed++;
            if (lightest.Length == 2) parts++;

            var edit = Edit.Move(items, gap);
            var (start, length) = edit.Stretch;
            var stretch = all.AsSpan(start, length).ToArray();
            edit.Arrange(stretch.AsSpan(), start);
            Assert.Equal<int>(wanted, (int[])[.. all[..start], .. stretch, .. all[(start + length)..]]);

            var store = new ItemStore<int, int>(i => i, null, check: true);
            store.Open(all);
            store.Move(items, gap);
            Assert.Equal(wanted, store.ItemsOf(ItemSet.All(all.Length)));
            Assert.Equal(wanted.Where((_, i) => items.Contains(i)), store.ItemsOf(items));
            Assert.Equal(items.Select(store.KeptKeyAt), store.KeptKeysOf(items));
        }, iter: Effort.Of(5000), threads: 1);
        Assert.True(Math.Min(passed, parts) > 20, $"{passed} done by what is gone past, {parts} in two parts");
    }

    /// <summary>What a block of many is moved by does not grow with it.</summary>
    [Fact]
    public void A_large_block_that_goes_down_by_a_row_is_one_move_of_the_row_below_it()
    {
        var source = new ObservableCollection<int>(Enumerable.Range(0, 3000));
        using var list = InteractiveList.Of(source, i => i, new() { MayMove = true });
        var told = new List<string>();
        source.CollectionChanged += (_, e) => told.Add($"{e.Action} {e.OldStartingIndex} to {e.NewStartingIndex}");
        MovedEventArgs<int, int>? moved = null;
        list.Moved += (_, e) => moved = e;
        int[] block = [.. Enumerable.Range(100, 2500)];
        Assert.True(list.Move(block, 2601).IsHandled);
        Assert.Equal(["Move 2600 to 100"], told);
        Assert.Equal(block, moved!.Items);
        Assert.Equal(block, moved.Keys);
        Assert.True(list.Undo().IsHandled);
        Assert.Equal("Move 100 to 2600", told[^1]);
        Assert.Equal(Enumerable.Range(0, 3000), source);
    }

    /// <summary>What users and apps do, at random, to a larger list; a plain list is kept beside it.</summary>
    [Fact]
    public void Moves_by_key_pointer_and_call_and_edits_keep_list_and_source_together() =>
        Gen.Select(Gen.Select(Gen.Int[0, 9], Gen.Int[0, 999], Gen.Int[0, 999]).Array[40], Gen.Enum<Kind>(), Gen.Bool, Gen.Bool)
        .Sample((steps, kind, sectioned, filtered) =>
        {
            var (list, source) = Open(60, filtered ? 0b1001 : 0, sectioned ? 0b1100110 : null, kind,
                Movable with { Parts = new() { Handle = true }, Viewport = new(400, 600) });
            using var _ = list;
            var player = ListPlayer.On(list);
            var fresh = 100;
            void Refresh()
            {
                if (kind == Kind.List) list.Refresh();
            }
            foreach (var (what, a, b) in steps)
            {
                if (source.Count == 0) return;
                var key = source[a % source.Count].Id;
                switch (what)
                {
                    case 0:
                        list.Toggle(key);
                        break;
                    case 1:
                        list.MoveCursorTo(key);
                        player.Press(b % 2 == 0 ? "Alt+ArrowDown" : "Alt+ArrowUp");
                        break;
                    case 2:
                        list.MoveCursorTo(key);
                        player.Press("Alt+Enter");
                        for (var i = 0; i < b % 7; i++) player.Press(b % 3 == 0 ? "ArrowUp" : "ArrowDown");
                        player.Press((b % 5) switch { 0 => "Escape", 1 => "Space", _ => "Enter" });
                        break;
                    case 3 when list.IndexOf(key) is var at && list.Rows.RowOf(at) is not null:
                        list.Reveal(key);
                        player.Touch.GoTo($"handle:{key}");
                        player.Touch.Down();
                        player.Touch.GlideTo(380, b % 600, 200);
                        if (b % 4 == 0) player.Touch.Cancel();
                        else player.Touch.Up();
                        break;
                    case 4:
                        list.Move([key], b % (source.Count + 1));
                        break;
                    case 5:
                        source.RemoveAt(a % source.Count);
                        Refresh();
                        break;
                    case 6:
                        source.Insert(b % (source.Count + 1), new($"R{fresh++}", sectioned && b % 2 == 0 ? "south" : "north"));
                        Refresh();
                        break;
                    case 7:
                        list.Undo();
                        break;
                    case 8:
                        list.Redo();
                        break;
                    default:
                        list.MoveToTop([key]);
                        break;
                }
                Assert.False(list.IsGrabbing);
                Assert.Equal(source, Enumerable.Range(0, list.Count).Select(i => list[i]));
                for (var i = 0; i < list.Count; i++) Assert.Equal(i, list.IndexOf(source[i].Id));
                foreach (var section in list.Rows.Sections) Assert.All(section.Members, i => Assert.Equal(section.Key, list[i].Field));
                // A frame is what the list is.
                foreach (var row in list.Frame.Rows)
                    if (row.Kind == RowKind.Item) Assert.Equal(list.Rows.IndexAt(row.Row), row.Index);
            }
        }, iter: Effort.Of(60));

    [Fact]
    public void Alt_arrows_move_by_one_place_and_a_scattered_target_gathers_first()
    {
        var (list, source) = Open(6, 0, null, Kind.Observable);
        using var _ = list;
        var said = new List<string>();
        list.Announced += (_, e) => said.Add(e.Text);
        var player = ListPlayer.On(list);
        list.MoveCursorTo("R1");
        player.Press("Alt+ArrowDown");
        Assert.Equal("R0 R2 R1 R3 R4 R5", Shown(list));
        Assert.Equal("R1", list.CursorKey);
        Assert.Equal("Dropped at place 3 of 6", said[^1]);
        player.Press("Alt+ArrowUp");
        player.Press("Alt+ArrowUp");
        Assert.Equal("R1 R0 R2 R3 R4 R5", Shown(list));
        // At the top it stays, and nothing is told.
        var steps = said.Count;
        player.Press("Alt+ArrowUp");
        Assert.Equal(("R1 R0 R2 R3 R4 R5", steps), (Shown(list), said.Count));
        list.SelectedKeys = ["R0", "R3", "R5"];
        list.MoveCursorTo("R3");
        player.Press("Alt+ArrowDown");
        Assert.Equal("R1 R0 R3 R5 R2 R4", Shown(list));
        player.Press("Alt+ArrowDown");
        Assert.Equal("R1 R2 R0 R3 R5 R4", Shown(list));
        Assert.Equal("Dropped at place 3 of 6", said[^1]);
        player.Press("Ctrl+Z");
        player.Press("Ctrl+Z");
        Assert.Equal("R1 R0 R2 R3 R4 R5", Shown(list));
        Assert.Equal(source.Select(r => r.Id), ["R1", "R0", "R2", "R3", "R4", "R5"]);
    }

    [Fact]
    public void What_cannot_be_moved_is_refused_with_the_reason_and_nothing_changes()
    {
        var (list, source) = Open(6, 0b100, null, Kind.List);
        using var _ = list;
        Assert.Contains("gaps 0 to 6", list.Move(["R0"], 7).Refusal!.Reason);
        Assert.Contains("no item with the key 'R9'", list.MoveBefore(["R0"], "R9").Refusal!.Reason);
        Assert.Contains("none that shows", list.Move(["R2"], 0).Refusal!.Reason);
        Assert.Contains("no section 'east'", list.MoveToSection(["R0"], "east").Refusal!.Reason);
        Assert.Contains("Nothing is grabbed", list.Drop().Refusal!.Reason);
        list.SortBy = (a, b) => string.CompareOrdinal(b.Id, a.Id);
        Assert.Equal(RefusalKind.Sorted, list.MoveToTop(["R4"]).Refusal!.Kind);
        list.SortBy = null;
        // A source that has changed without saying so is not written, and nobody is told that it was.
        var said = new List<string>();
        list.Announced += (_, e) => said.Add(e.Text);
        source.RemoveAt(5);
        Assert.Contains("holds 5 items and the list 6", list.MoveToTop(["R4"]).Refusal!.Reason);
        Assert.Empty(said);
        list.Refresh();
        source[4] = new("R7", "north");
        Assert.Contains("is not the item 'R4'", list.MoveToTop(["R4"]).Refusal!.Reason);
        list.Refresh();
        Assert.Empty(said);
        Assert.True(list.MoveToTop(["R7"]).IsHandled);
        Assert.Single(said);
        Assert.Equal("R7 R0 R1 R3", Shown(list));
        // One that cannot be written, where nobody listens, cannot be moved.
        using var fixedList = InteractiveList.Of(["one", "two"], s => s, Movable);
        Assert.Contains("cannot be written", fixedList.MoveToTop(["two"]).Refusal!.Reason);
        using var still = InteractiveList.Of(new List<string> { "one", "two" }, s => s);
        Assert.Contains("set MayMove", still.MoveToTop(["two"]).Refusal!.Reason);
    }

    /// <summary>A source that throws while it is moved.</summary>
    private sealed class Stubborn(IEnumerable<string> items) : ObservableCollection<string>(items)
    {
        public int Patience { get; set; } = int.MaxValue;

        protected override void MoveItem(int oldIndex, int newIndex)
        {
            if (Patience-- == 0) throw new InvalidOperationException("enough");
            base.MoveItem(oldIndex, newIndex);
        }
    }

    [Fact]
    public void A_source_that_throws_halfway_is_read_anew_and_a_field_that_cannot_be_set_undoes_the_rest()
    {
        var source = new Stubborn(Enumerable.Range(0, 8).Select(i => $"R{i}"));
        using var list = InteractiveList.Of(source, s => s, Movable);
        list.SelectedKeys = ["R1", "R4", "R6"];
        source.Patience = 1;
        var refusal = list.Move(list.SelectedKeys, 0).Refusal!;
        Assert.Equal((RefusalKind.Failed, true), (refusal.Kind, refusal.Reason.Contains("enough", StringComparison.Ordinal)));
        Assert.Equal(source, Enumerable.Range(0, 8).Select(i => list[i]));
        Assert.Equal(["R1", "R4", "R6"], list.SelectedKeys.Order());
        Assert.False(list.CanUndo);

        var (sectioned, requests) = Open(4, 0, 0b0011, Kind.List);
        using var _ = sectioned;
        sectioned.Sections = sectioned.Sections! with
        {
            Assign = (r, field) => r.Field = r.Id == "R1" ? throw new InvalidOperationException("fixed") : field,
        };
        var before = Shown(sectioned);
        Assert.Contains(
            "'R1' could not be put into the section 'north': fixed", sectioned.MoveToSection(["R0", "R1"], "north").Refusal!.Reason);
        Assert.Equal((before, "south"), (Shown(sectioned), requests[0].Field));
    }

    [Fact]
    public void The_order_comes_back_after_a_reload() =>
        Gen.Select(Gen.Int[0, 9].Array[1, 5], Gen.Int[0, 9].Array[0, 3], Gen.Int[0, 10].Array[0, 3], Gen.Enum<Kind>())
        .Sample((tops, gone, come, kind) =>
        {
            var (list, _) = Open(10, 0, null, Kind.List);
            using var _1 = list;
            foreach (var i in tops) list.MoveToTop([$"R{i}"]);
            var order = Enumerable.Range(0, 10).Select(i => list[i].Id).ToList();
            var snapshot = ListSnapshot.Parse(list.Save().ToJson());
            // The next day: some are gone, some are new, all in the first order.
            var requests = Enumerable.Range(0, 10).Where(i => !gone.Contains(i)).Select(i => new Request($"R{i}", "north")).ToList();
            for (var i = 0; i < come.Length; i++) requests.Insert(Math.Min(come[i], requests.Count), new($"N{i}", "north"));
            var first = requests.Select(r => r.Id).ToList();
            IList<Request> source = kind == Kind.Observable ? new ObservableCollection<Request>(requests) : new List<Request>(requests);
            using var again = InteractiveList.Of((IReadOnlyList<Request>)source, r => r.Id, Movable);
            again.MoveRequested += kind == Kind.Requested ? (_, _) => Assert.Fail("asked to restore") : null;
            var report = again.Restore(snapshot);
            if (kind == Kind.Requested && snapshot.Order is not null)
            {
                Assert.Equal(RefusalKind.NotAvailable, report.OrderRefusal!.Kind);
                Assert.Equal(first, source.Select(r => r.Id));
                return;
            }
            Assert.Equal(order.Where(k => first.Contains(k)), source.Where(r => r.Id[0] == 'R').Select(r => r.Id));
            // What is new is just after what it was after.
            foreach (var id in first.Where(k => k[0] == 'N'))
            {
                int at = first.IndexOf(id), now = source.Select(r => r.Id).ToList().IndexOf(id);
                Assert.Equal(at == 0 ? null : first[at - 1], now == 0 ? null : source[now - 1].Id);
            }
            Assert.Equal(source, Enumerable.Range(0, again.Count).Select(i => again[i]));
        }, iter: Effort.Of(500));

    [Fact]
    public void The_menu_moves_without_dragging()
    {
        var (list, _) = Open(5, 0, 0b11000, Kind.List, Movable with { LongPress = LongPressMeaning.Menu });
        using var _1 = list;
        var player = ListPlayer.On(list);
        player.Touch.LongPress("R1");
        Assert.True(list.IsMenuOpen);
        foreach (var key in (string[])["ArrowDown", "ArrowRight"]) player.Press(key);
        var entries = list.Menu!.Entries[0].Entries;
        Assert.Equal(
            ["To the top", "Up", "Down", "To the bottom", "Choose a place …", "To north", "To south"], entries.Select(e => e.Label));
        Assert.Equal([true, true, true, true, true, false, true], entries.Select(e => e.IsEnabled));
        list.ChooseEntry("move-to:south");
        Assert.Equal("R0 R2 | R3 R4 R1", Shown(list));
        // To choose a place by taps alone: no path and no drag (WCAG 2.5.1, 2.5.7).
        list.OpenMenu("R1");
        foreach (var key in (string[])["ArrowDown", "ArrowRight"]) player.Press(key);
        list.ChooseEntry("choose-place");
        Assert.True(list.IsGrabbing);
        player.Touch.MoveTo(200, 45);
        player.Touch.Down();
        player.Touch.Up();
        Assert.False(list.IsGrabbing);
        Assert.Equal("R1 R0 R2 | R3 R4", Shown(list));
        Assert.True(list.RunCommand("move-down", "R1").IsHandled);
        Assert.Equal("R0 R1 R2 | R3 R4", Shown(list));
    }

    [Fact]
    public void Any_order_is_reached_by_single_steps_and_a_reversed_one_of_many_at_once()
    {
        Gen.Int[0, 40].SelectMany(n => Gen.Shuffle(Enumerable.Range(0, n).ToArray())).Sample(order =>
        {
            var list = Enumerable.Range(0, order.Length).ToList();
            var steps = 0;
            foreach (var (from, to) in MoveParts.Singles(order))
            {
                Assert.NotEqual(from, to);
                var item = list[from];
                list.RemoveAt(from);
                list.Insert(to, item);
                steps++;
            }
            Assert.Equal(order, list);
            // As many as can stay: the longest row of them that is in order already.
            var longest = new int[order.Length];
            for (var i = 0; i < order.Length; i++)
                longest[i] = 1 + Enumerable.Range(0, i).Where(k => order[k] < order[i]).Select(k => longest[k]).DefaultIfEmpty(0).Max();
            Assert.Equal(order.Length - longest.DefaultIfEmpty(0).Max(), steps);
        }, iter: Effort.Of(2000));
        // Before, each step looked back at all of those before it.
        Assert.Equal(99_999, MoveParts.Singles([.. Enumerable.Range(0, 100_000).Reverse()]).Count());
    }

    [Fact]
    public void What_is_taken_back_moves_no_more_items_of_a_collection_than_the_move_did()
    {
        var met = 0;
        Gen.Select(Gen.Int[2, 60], Gen.Int[0, 1000], Gen.Int[0, 60]).Sample((n, picks, to) =>
        {
            ObservableCollection<string> source = [.. Enumerable.Range(0, n).Select(i => $"R{i:00}")];
            string[] before = [.. source], moving = [.. before.Where((_, i) => (picks * (i + 7) / 13 % 5) == 0)];
            using var list = InteractiveList.Of(source, s => s, new() { Mode = SelectionMode.Multiple, MayMove = true });
            var steps = 0;
            source.CollectionChanged += (_, _) => steps++;
            if (!list.Move(moving, Math.Min(to, n)).IsHandled) return;
            var there = steps;
            string[] after = [.. source];
            steps = 0;
            list.Undo();
            Assert.Equal(before, source);
            Assert.InRange(steps, 0, there);
            steps = 0;
            list.Redo();
            Assert.Equal(after, source);
            Assert.InRange(steps, 0, there);
            met += there > 2 && there < n / 2 ? 1 : 0;
        }, iter: Effort.Of(500));
        Assert.True(met > 0);
    }
}
