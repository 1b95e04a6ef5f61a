using Lectica.Acts;
using Lectica.Frames;
using Lectica.Input;
using Lectica.Items;
using Lectica.Sources;
using Lectica.Testing;

namespace Lectica.Tests.Sources;

/// <summary>
/// Lists of what is not in memory, over a service that is slow, fails, answers in any order and is changed by others: beside a list that
/// has everything, and beside what the service holds.
/// </summary>
public sealed class PagedTests
{
    private sealed record Request(int Id, int Order, string Night = "", bool Starred = false)
    {
        public override string ToString() => $"R{Id}";
    }

    private static readonly ListOptions Options = new()
    {
        Mode = SelectionMode.Multiple,
        ModKey = ModKey.Ctrl,
        Phrases = Phrases.English,
        PageSize = 8,
        PagesKept = 4,
        Parts = new() { Check = true },
    };

    private static SimulatedSource<Request, int> Service(int count, int nights = 0) => new(
        Enumerable.Range(0, count).Select(i => new Request(i, i * 10, nights == 0 ? "" : $"N{i * nights / count}")), r => r.Id,
        (a, b) => (a.Night, a.Order, a.Id).CompareTo((b.Night, b.Order, b.Id)), nights == 0 ? null : r => r.Night)
    {
        Marked = (r, _, on) => r with { Starred = on },
        Placed = (r, above, below, night) => r with
        {
            Order = above is null ? (below?.Item.Order ?? 0) - 5 : below is null ? above.Item.Order + 5
                : (above.Item.Order + below.Item.Order) / 2,
            Night = night ?? r.Night,
        },
    };

    private static InteractiveList<Request, int> List(ListOptions? options = null) =>
        InteractiveList.Awaiting<Request, int>(r => r.Id, options ?? Options);

    /// <summary>What must be true at any time: places and terms mean the same, and nothing that is read is in a wrong place.</summary>
    private static void Check(InteractiveList<Request, int> list)
    {
        var state = list.Shell.Core.State;
        Assert.Equal(list.Count, state.Selection.Items.Universe);
        Assert.Equal(state.Reading.Terms!.Now.Resolve(list.Count, state.Showing.Sections), state.Selection.Items);
        Assert.True(list.Shell.Store.Pages!.ReadCount <= (Options.PageSize * (Options.PagesKept + 1)) + 8,
            $"{list.Shell.Store.Pages.ReadCount} items are kept");
        foreach (var row in list.Frame.Rows.Where(r => r.Kind == RowKind.Item))
        {
            Assert.Equal(list.IsRead(row.Index), row.Reading == RowReading.Done);
            Assert.Equal(list.IsRead(row.Index) ? $"{list[row.Index].Id}" : null, row.KeyText);
        }
        CheckOneByOne(list);
    }

    /// <summary>Of those that were selected one by one, each that has been read shows as selected, and no other.</summary>
    private static void CheckOneByOne(InteractiveList<Request, int> list)
    {
        var terms = list.Shell.Core.State.Reading.Terms!.Now;
        if (terms.IsAll || !terms.Terms.All(t => t.IsKey) || list.Shell.Pager.MeaningOf(list.Selection.Items)?.Condition is not { } told)
            return;
        HashSet<int> keys = [];
        foreach (var term in told.Terms) _ = term.IsIn ? keys.Add(term.Key) : keys.Remove(term.Key);
        for (var i = 0; i < list.Count; i++)
            if (list.IsRead(i)) Assert.True(keys.Contains(list.KeyAt(i)) == list.Selection.Items.Contains(i),
                $"{list[i]} at {i}: {string.Join(" ", told.Terms.Select(t => $"{(t.IsIn ? "+" : "-")}{t.Key}"))} at " +
                    string.Join(" ", terms.Terms.Select(t => t.From!.Index)) + $" of {list.Count}");
    }

    /// <summary>
    /// What must be true when all is answered: the list has what the service has, and means what its condition means there.
    /// </summary>
    private static void CheckSettled(InteractiveList<Request, int> list, SimulatedSource<Request, int> service)
    {
        Check(list);
        List<Request> items = [.. service.Items.Where(r => service.Filter?.Invoke(r) != false)];
        Assert.Equal(items.Count, list.Count);
        for (var i = 0; i < list.Count; i++)
            if (list.IsRead(i)) Assert.Equal(items[i], list[i]);
        foreach (var row in list.Frame.Rows.Where(r => r.Kind == RowKind.Item)) Assert.Equal(RowReading.Done, row.Reading);
        var meant = Meant(list, service);
        for (var i = 0; i < list.Count; i++)
            Assert.True(meant.Contains(items[i]) == list.Selection.Items.Contains(i), $"{items[i]} at {i}");
    }

    /// <summary>Whom the app would be given if it asked now.</summary>
    private static HashSet<Request> Meant(InteractiveList<Request, int> list, SimulatedSource<Request, int> service)
    {
        var condition = list.Selected.ConditionAsync();
        service.AnswerAll();
        return [.. service.Where(condition.Result)];
    }

    private static void Settle(InteractiveList<Request, int> list, SimulatedSource<Request, int> service)
    {
        service.Failures.Clear();
        for (var i = 0; i < 50; i++)
        {
            service.AnswerAll();
            list.Advance(0);
            if (list.Do(ActKind.Retry).IsHandled) continue;
            if (list.Frame.Rows.FirstOrDefault(r => r.Reading == RowReading.Failed) is { } failed)
                list.DoAt(ActKind.Activate, failed.Index);
            else if (service.WaitingCount == 0) return;
        }
        Assert.Fail($"It never settles: {string.Join(" ", service.Asked.TakeLast(20))}");
    }

    /// <summary>Does the same to both lists, by pointer and key; the number says what.</summary>
    private static string Act(Random random, params ListPlayer<Request, int>[] players)
    {
        var what = random.Next(14);
        double y = random.Next(0, (int)players[0].List.Viewport.Height), to = random.Next(0, (int)players[0].List.Viewport.Height),
            scroll = random.Next(0, 60_000);
        var modifiers = (Modifiers)(random.Next(4) switch
        {
            0 => Modifiers.Ctrl,
            1 => Modifiers.Shift,
            2 => Modifiers.Ctrl | Modifiers.Shift,
            _ => Modifiers.None,
        });
        string[] keys = ["Home", "End", "Shift+Home", "Shift+End", "Ctrl+Shift+End", "PageDown", "Shift+PageDown", "PageUp", "ArrowDown",
            "Shift+ArrowUp", "Ctrl+A", "Ctrl+Space", "Shift+Space", "Escape", "Space"];
        var key = keys[random.Next(keys.Length)];
        foreach (var player in players)
        {
            var list = player.List;
            switch (what)
            {
                case < 4:
                    player.Modifiers = modifiers;
                    Tap(player, what == 0 ? 20 : 200, y);
                    player.Modifiers = Modifiers.None;
                    break;
                case < 8:
                    player.Press(key);
                    break;
                case 8:
                    list.Do(ActKind.Invert);
                    break;
                case 9:
                    list.Do(ActKind.SelectAll);
                    break;
                case 10:
                    player.Modifiers = modifiers;
                    Drag(player, 20, y, to);
                    player.Modifiers = Modifiers.None;
                    break;
                case 11 when list.Rows.Sections.Length > 0:
                    list.ToggleSection(list.Rows.Sections[random.Next(1000) * 0 + (int)y % list.Rows.Sections.Length].Key);
                    break;
                default:
                    player.ScrollTo(Math.Min(scroll, Math.Max(0, list.Frame.ContentHeight - list.Viewport.Height)));
                    break;
            }
        }
        return what < 4 ? "tap" : what < 8 ? key : what switch { 8 => "invert", 9 => "all", 10 => "drag", 11 => "section", _ => "scroll" };
    }

    private static void Tap(ListPlayer<Request, int> player, double x, double y)
    {
        player.Wait(500);
        player.Mouse.MoveTo(x, y);
        player.Mouse.Down();
        player.Wait(50);
        player.Mouse.Up();
    }

    private static void Drag(ListPlayer<Request, int> player, double x, double from, double to)
    {
        player.Wait(500);
        player.Mouse.MoveTo(x, from);
        player.Mouse.Down();
        player.Wait(20);
        player.Mouse.MoveTo(x, to);
        player.Wait(20);
        player.Mouse.Up();
    }

    [Fact]
    public void Read_or_not_it_selects_as_a_list_that_has_everything()
    {
        Dictionary<string, int> reached = [];
        int unread = 0, failed = 0, cancelled = 0;
        for (var seed = 0; seed < Effort.Of(150); seed++)
        {
            var random = new Random(seed);
            var service = Service(random.Next(1, 4) * 100, random.Next(2) * random.Next(1, 5));
            service.IsSlow = true;
            using var list = List();
            list.Show(service);
            Settle(list, service);
            using var twin = InteractiveList.Of([.. service.Items], r => r.Id, Options);
            if (list.Rows.Sections.Length > 0) twin.Sections = new(r => r.Night);
            ListPlayer<Request, int>[] players = [new(list, keeps: false), new(twin, keeps: false)];
            for (var step = 0; step < 25; step++)
            {
                var what = Act(random, players);
                reached[what] = reached.GetValueOrDefault(what) + 1;
                Assert.Equal(twin.Selection.Items, list.Selection.Items);
                Assert.Equal((twin.Selection.Cursor, twin.Selection.Anchor, twin.Viewport),
                    (list.Selection.Cursor, list.Selection.Anchor, list.Viewport));
                if (list.Frame.Rows.Any(r => r.Reading == RowReading.Pending)) unread++;
                Check(list);
                while (service.WaitingCount > 0 && random.Next(3) > 0)
                {
                    if (random.Next(8) == 0) service.Failures.Enqueue(new IOException("The line is broken."));
                    service.Answer(random.Next(service.WaitingCount));
                    list.Advance(0);
                    if (list.Frame.Rows.Any(r => r.Reading == RowReading.Failed)) failed++;
                    Check(list);
                }
            }
            cancelled += service.CancelledCount;
            Settle(list, service);
            Assert.Equal(twin.Selection.Items, list.Selection.Items);
            CheckSettled(list, service);
        }
        if (!Effort.IsFull) return;
        foreach (var what in (string[])[
            "tap", "drag", "invert", "all", "section", "scroll", "Ctrl+A", "Shift+End", "Ctrl+Shift+End", "Shift+Home", "Shift+Space"])
            Assert.True(reached.GetValueOrDefault(what) > 20, $"{what}: {reached.GetValueOrDefault(what)}");
        Assert.True(unread > 300 && failed > 50 && cancelled > 50, $"{unread} unread, {failed} failed, {cancelled} cancelled");
    }

    [Theory]
    [InlineData(31, 1, "7 7 7 7 2")]
    [InlineData(30, 2, "7 7 7 7")]
    [InlineData(5, 1, "4")]
    [InlineData(1, 1, "")]
    public async Task What_is_selected_is_read_in_pages_whether_the_list_has_read_it_or_not(int count, int without, string sizes)
    {
        var service = Service(count);
        using var list = List();
        list.Show(service);
        Settle(list, service);
        list.SelectAll();
        foreach (var id in Enumerable.Range(0, without)) list.Toggle(id);
        var pages = new List<IReadOnlyList<Request>>();
        await foreach (var page in list.Selected.ReadAsync(7, TestContext.Current.CancellationToken))
        {
            pages.Add(page);
            // Not one more than there are, however it is asked.
            Assert.True(pages.Count <= count, "It never ends.");
        }
        Assert.Equal(service.Items.Skip(without), pages.SelectMany(p => p));
        Assert.Equal(sizes, string.Join(" ", pages.Select(p => p.Count)));
        await Assert.ThrowsAsync<ArgumentOutOfRangeException>(async () =>
        {
            await foreach (var _ in list.Selected.ReadAsync(0, TestContext.Current.CancellationToken)) pages.Clear();
        });
    }

    [Fact]
    public void Whatever_others_change_it_means_what_was_said()
    {
        int came = 0, left = 0, moved = 0, silent = 0, selected = 0;
        for (var seed = 0; seed < Effort.Of(200); seed++)
        {
            var random = new Random(seed);
            var service = Service(random.Next(1, 4) * 60, random.Next(2) * random.Next(1, 5));
            service.IsSlow = random.Next(4) > 0;
            service.AnswersAsAsked = random.Next(2) == 0;
            using var list = List();
            list.Show(service);
            ListPlayer<Request, int>[] players = [new(list, keeps: false)];
            var next = 10_000;
            for (var step = 0; step < 30; step++)
            {
                if (random.Next(3) > 0) Act(random, players);
                else
                    service.Change(items =>
                    {
                        List<Request> now = [.. items];
                        for (var n = random.Next(1, 4); n > 0 && now.Count > 0; n--)
                        {
                            var at = random.Next(now.Count);
                            switch (random.Next(3))
                            {
                                case 0:
                                    now.Insert(at, now[at] with { Id = next++, Order = now[at].Order + random.Next(-8, 9) });
                                    came++;
                                    break;
                                case 1:
                                    now.RemoveAt(at);
                                    left++;
                                    break;
                                default:
                                    now[at] = now[at] with { Order = random.Next(0, 2000) };
                                    moved++;
                                    break;
                            }
                        }
                        return now;
                    }, says: random.Next(6) > 0 || silent++ < 0);
                Check(list);
                while (service.WaitingCount > 0 && random.Next(3) > 0)
                {
                    if (random.Next(10) == 0) service.Failures.Enqueue(new IOException("The line is broken."));
                    service.Answer(random.Next(service.WaitingCount));
                    list.Advance(0);
                    Check(list);
                }
            }
            service.Change(items => items);
            Settle(list, service);
            CheckSettled(list, service);
            if (!list.Selection.Items.IsEmpty) selected++;
        }
        if (!Effort.IsFull) return;
        Assert.True(came > 300 && left > 300 && moved > 300 && silent > 100 && selected > 60, $"{came} {left} {moved} {silent} {selected}");
    }

    [Fact]
    public void Where_the_service_lets_others_show_nobody_is_selected_whom_the_user_has_not_selected()
    {
        int entered = 0, known = 0, kept = 0, lost = 0, restored = 0;
        for (var seed = 0; seed < Effort.Of(200); seed++)
        {
            var random = new Random(seed);
            var service = Service(random.Next(2) == 0 ? 16 : random.Next(1, 4) * 60, random.Next(2) * random.Next(1, 5));
            service.IsSlow = random.Next(4) > 0;
            service.AnswersAsAsked = random.Next(2) == 0;
            var keepsHidden = seed % 3 == 0;
            using var list = List(Options with { KeepsHiddenSelected = keepsHidden });
            list.Show(service);
            Settle(list, service);
            HashSet<Request> ever = [];
            ListPlayer<Request, int>[] players = [new(list, keeps: false)];
            for (var round = 0; round < 6; round++)
            {
                for (var step = random.Next(6); step > 0; step--) Act(random, players);
                var before = Meant(list, service);
                Settle(list, service);
                Assert.Equal(before, Meant(list, service));
                ever.UnionWith(before);
                var snapshot = list.Save();
                var areAllKnown = Enumerable.Range(0, list.Count).All(list.IsRead);
                service.Filter = random.Next(5) switch
                {
                    0 => null,
                    1 => r => r.Id % 3 > 0,
                    2 => r => r.Id > 20,
                    3 => _ => false,
                    _ => r => r.Id / 4 % 2 == 0,
                };
                if (random.Next(2) == 0) players[0].ScrollTo(random.Next(0, (int)Math.Max(1, list.Frame.ContentHeight)));
                while (service.WaitingCount > 0 && random.Next(3) > 0)
                {
                    service.Answer(random.Next(service.WaitingCount));
                    list.Advance(0);
                    Check(list);
                }
                Settle(list, service);
                CheckSettled(list, service);
                var after = Meant(list, service);
                var shown = before.Where(r => service.Filter?.Invoke(r) != false).ToHashSet();
                Assert.Subset(keepsHidden ? ever : shown, after);
                if (areAllKnown)
                {
                    Assert.Subset(after, shown);
                    known++;
                }
                entered++;
                if (after.Count > 0) kept++;
                if (after.Count < shown.Count) lost++;
                // Nor is anyone who comes back from what was remembered.
                using var other = List();
                other.Show(service);
                other.Restore(snapshot);
                Settle(other, service);
                CheckSettled(other, service);
                var back = Meant(other, service);
                Assert.Subset(keepsHidden ? ever : before, back);
                if (back.Count > 0) restored++;
            }
        }
        Assert.True(known > 0 && kept > 0 && lost > 0 && restored > 0, $"{entered}: {known} {kept} {lost} {restored}");
    }

    [Fact]
    public async Task Who_was_selected_unread_before_the_service_let_others_show_is_not_guessed()
    {
        var service = Service(200);
        service.IsSlow = true;
        using var list = List();
        list.Show(service);
        Settle(list, service);
        list.DoAt(ActKind.Toggle, 100);
        var condition = list.Selected.ConditionAsync(TestContext.Current.CancellationToken);
        service.Filter = r => r.Id % 2 == 0;
        service.AnswerAll();
        var error = await Assert.ThrowsAsync<SourceAnswerException>(() => condition);
        Assert.Contains("Select them again", error.Message, StringComparison.Ordinal);
        Settle(list, service);
        CheckSettled(list, service);
        Assert.True(list.Selection.Items.IsEmpty);
    }

    [Fact]
    public void Very_many_that_were_selected_one_by_one_stay_selected_and_no_others()
    {
        foreach (var nights in (int[])[0, 3])
        {
            var service = Service(600, nights);
            using var list = List();
            list.Show(service);
            for (var i = 0; i < 300; i++) list.DoAt(ActKind.Toggle, 2 * i);
            CheckSettled(list, service);
            Assert.Equal(300, list.Selection.Items.Count);
            service.IsSlow = true;
            // Others take every third away, turn the rest round and put new ones in.
            service.Change(items => items.Where(r => r.Id % 3 != 0).Select(r => r with { Order = -r.Order })
                .Concat(Enumerable.Range(1000, 50).Select(i => new Request(i, -i * 7, nights == 0 ? "" : "N1"))));
            list.Advance(0);
            while (service.WaitingCount > 0)
            {
                service.Answer();
                list.Advance(0);
                Check(list);
            }
            Settle(list, service);
            CheckSettled(list, service);
            Assert.Equal(200, list.Selection.Items.Count);
        }
    }

    [Fact]
    public void What_is_selected_comes_back_from_a_snapshot_read_or_not()
    {
        int selected = 0, sections = 0, ranges = 0;
        for (var seed = 0; seed < Effort.Of(120); seed++)
        {
            var random = new Random(seed);
            var service = Service(random.Next(1, 4) * 80, random.Next(2) * random.Next(1, 5));
            using InteractiveList<Request, int> list = List(), other = List();
            list.Show(service);
            ListPlayer<Request, int> player = new(list, keeps: false);
            for (var step = 0; step < 12; step++) Act(random, player);
            var snapshot = ListSnapshot.Parse(list.Save().ToJson());
            other.Show(service);
            other.Restore(snapshot);
            Settle(other, service);
            Assert.Equal(list.Selection.Items, other.Selection.Items);
            Assert.Equal(
                (list.Selection.Cursor >= 0 && list.IsRead(list.Selection.Cursor) ? list.Selection.Cursor : -1, list.Viewport.ScrollTop),
                    (other.Selection.Cursor, other.Viewport.ScrollTop));
            CheckSettled(other, service);
            if (!list.Selection.Items.IsEmpty) selected++;
            if (snapshot.Meant!.Terms.Any(t => t.Section is not null)) sections++;
            if (snapshot.Meant.Terms.Any(t => t.From is not null)) ranges++;
        }
        if (!Effort.IsFull) return;
        Assert.True(selected > 60 && sections > 2 && ranges > 20, $"{selected} {sections} {ranges}");
    }

    [Fact]
    public void A_service_that_never_says_how_many_there_are_is_read_to_its_end()
    {
        var service = Service(100);
        service.TellsCount = false;
        service.IsSlow = true;
        using var list = List();
        list.Show(service);
        Assert.Equal(NoticeKind.Loading, list.Frame.Rows[0].Notice);
        service.AnswerAll();
        var steps = 0;
        for (; list.More.Kind != MoreKind.None && steps < 200; steps++)
        {
            Assert.Equal(NoticeKind.MoreLoading, list.ScrolledToEnd());
            if (steps == 3)
            {
                service.Failures.Enqueue(new IOException("The line is broken."));
                service.Answer();
                Assert.Equal(NoticeKind.MoreFailed, list.ScrolledToEnd());
                list.Do(ActKind.Retry);
            }
            service.AnswerAll();
        }
        Assert.Equal((100, NoticeKind.NoMore), (list.Count, list.ScrolledToEnd()));
        Assert.InRange(steps, 4, 20);
        // Select all is all, also of what comes later.
        list.Do(ActKind.SelectAll);
        service.Change(items => items.Append(new(500, 5000)));
        service.AnswerAll();
        Assert.Equal((101, 101), (list.Count, list.Selected.Count));
    }

    [Theory]
    [InlineData(30)]
    [InlineData(250)]
    [InlineData(0)]
    public void A_service_that_never_says_how_many_there_are_may_have_become_shorter_than_what_is_looked_at(int left)
    {
        var service = Service(900);
        service.TellsCount = false;
        using var list = List();
        list.Show(service);
        while (list.More.Kind != MoreKind.None) list.ScrolledToEnd();
        list.DoAt(ActKind.Select, 20);
        // Back to where nothing is at hand any more.
        service.IsSlow = true;
        list.ScrollTo(400 * 52);
        list.Advance(0);
        Assert.DoesNotContain(list.Frame.Rows, r => r.Reading == RowReading.Done);
        var asked = service.Asked.Count;
        service.Change(items => items.Take(left));
        Settle(list, service);
        Assert.InRange(service.Asked.Count - asked, 1, 15);
        // It is read on from what is known to be there.
        service.IsSlow = false;
        for (var i = 0; i < 100 && list.More.Kind is not (MoreKind.None or MoreKind.NotSaid); i++) list.ScrolledToEnd();
        Settle(list, service);
        CheckSettled(list, service);
        Assert.Equal((left, left == 0 ? 0 : 1), (list.Count, list.Selected.Count));
        Assert.DoesNotContain(
            list.Frame.Rows, r => r.Reading == RowReading.Failed || r.Notice is NoticeKind.Loading or NoticeKind.MoreLoading);
    }

    [Fact]
    public void A_page_that_fails_is_asked_for_again_by_its_row_and_the_others_stay()
    {
        var service = Service(400);
        using var list = List();
        list.Show(service);
        service.IsSlow = true;
        list.ScrollTo(200 * 52);
        Assert.All(list.Frame.Rows, r => Assert.Equal((RowReading.Pending, "Loading …", null), (r.Reading, r.Content.Label, r.KeyText)));
        list.Do(ActKind.SelectAll);
        var line = list.StateLine();
        Assert.Equal((400, "0", "#399", list.Shell.Store.Pages!.ReadCount),
            (line.Selected.Count, line.Selected[0], list.Shell.Teller.KeysOf(ItemSet.None(400).With(399))[0], line.Order.Count));
        list.Do(ActKind.Clear);
        Assert.Equal(RefusalKind.NotRead, list.DoAt(ActKind.Activate, 201).Refusal!.Kind);
        Assert.Throws<ItemNotReadException>(() => list[201]);
        // What is selected ends on a row that is being read, and that one is named.
        list.DoAt(ActKind.Select, 3);
        list.DoAt(ActKind.Extend, 300);
        Assert.Equal(300, Assert.Throws<ItemNotReadException>(() => list.Selected.Condition).Index);
        list.Do(ActKind.Clear);
        service.Failures.Enqueue(new IOException("The line is broken."));
        service.AnswerAll();
        var failed = list.Frame.Rows.Where(r => r.Reading == RowReading.Failed).ToList();
        Assert.Equal(8, failed.Count);
        Assert.Equal(("Could not be read: The line is broken.", "Try again"), (failed[0].Content.Label, failed[0].Content.Detail));
        Assert.Contains(list.Frame.Rows, r => r.Reading == RowReading.Done);
        // It is not asked for again by itself; a tap on it does, and selects as taps do.
        var asked = service.Asked.Count;
        list.ScrollTo((200 * 52) + 10);
        Assert.Equal(asked, service.Asked.Count);
        Tap(new(list, keeps: false), 200, failed[2].Top + 20);
        service.AnswerAll();
        Assert.All(list.Frame.Rows, r => Assert.Equal(RowReading.Done, r.Reading));
        Assert.Equal([failed[2].Index], list.Selection.Items);
    }

    [Fact]
    public void Marks_and_moves_show_at_once_and_come_back_where_the_service_will_not_have_them()
    {
        var service = Service(60);
        using var list = List(Options with { MayMove = true });
        list.Marks = [new("starred") { Get = r => r.Starred, Set = (_, _) => { } }];
        list.Show(service);
        service.IsSlow = true;
        list.ToggleMark("starred", 2);
        Assert.Equal([2], list.Marked("starred"));
        service.AnswerAll();
        Assert.True(service.Items[2].Starred && list.CanUndo);
        service.Failures.Enqueue(new IOException("Read only."));
        list.ToggleMark("starred", 3);
        Assert.Equal([2, 3], list.Marked("starred"));
        service.AnswerAll();
        list.Advance(0);
        Assert.Equal([2], list.Marked("starred"));
        Assert.Equal("Could not be stored: Read only.", list.BriefNotice!.Text);
        // A move; and one that fails.
        list.Move([4], 1);
        Assert.Equal("0 4 1 2 3", string.Join(" ", Enumerable.Range(0, 5).Select(list.KeyAt)));
        Settle(list, service);
        Assert.Equal("0 4 1 2 3", string.Join(" ", service.Items.Take(5).Select(r => r.Id)));
        list.Undo();
        Settle(list, service);
        Assert.Equal("0 1 2 3 4", string.Join(" ", service.Items.Take(5).Select(r => r.Id)));
        service.Failures.Enqueue(new IOException("Read only."));
        list.Move([4], 1);
        Assert.Equal("0 4 1 2 3", string.Join(" ", Enumerable.Range(0, 5).Select(list.KeyAt)));
        service.Answer();
        Settle(list, service);
        Assert.Equal("0 1 2 3 4", string.Join(" ", Enumerable.Range(0, 5).Select(list.KeyAt)));
        CheckSettled(list, service);
    }

    [Fact]
    public void What_would_change_items_that_nobody_has_seen_is_asked_with_their_number()
    {
        var service = Service(900);
        var deleted = "";
        using var list = List();
        list.Marks = [new("starred") { Label = "Starred", Get = r => r.Starred, Set = (_, _) => { } }];
        list.Commands =
            [new("delete", "Delete") { Do = target => deleted += $"{target.Condition.StartsWithAll} {target.Condition.Terms.Length}" }];
        list.Show(service);
        list.Do(ActKind.SelectAll);
        // Where nobody listens it is done, and told with its number and a way back.
        list.ToggleMark("starred");
        Settle(list, service);
        Assert.Equal(("Starred: 900 items on", true), (list.BriefNotice!.Text, list.BriefNotice.OffersUndo));
        list.Undo();
        Settle(list, service);
        Assert.DoesNotContain(service.Items, r => r.Starred);

        var asked = new List<ConfirmationEventArgs<Request, int>>();
        list.ConfirmationRequested += (_, e) => asked.Add(e);
        // Of what is in view nothing is asked.
        list.ToggleMark("starred", 1);
        Settle(list, service);
        Assert.True(service.Items[1].Starred && asked.Count == 0);
        list.Undo();
        Settle(list, service);
        service.MostTakenBack = 900;
        list.ToggleMark("starred");
        Assert.Equal(("Starred: 900 items on, including some that you have not seen. Go on?", "starred", 900),
            (asked[^1].Question, asked[^1].Mark, asked[^1].Target.Count));
        asked[^1].Answer(false);
        Settle(list, service);
        Assert.DoesNotContain(service.Items, r => r.Starred);
        Assert.Empty(list.Marked("starred"));
        // What came in before the answer is not among what was asked about, nor what was taken out of the selection since.
        service.MostTakenBack = 899;
        list.ToggleMark("starred");
        Assert.EndsWith("This cannot be undone. Go on?", asked[^1].Question, StringComparison.Ordinal);
        list.Do(ActKind.Clear);
        service.Change(items => items.Where(r => r.Id != 7));
        Settle(list, service);
        Assert.Empty(list.Marked("starred"));
        asked[^1].Answer(true);
        Settle(list, service);
        Assert.Equal(899, service.Items.Count(r => r.Starred));
        Assert.Equal(899, list.Marked("starred").Count);
        // A command without a question of its own; and once, whatever is answered after.
        list.Do(ActKind.SelectAll);
        list.RunCommand("delete");
        Assert.Equal(("Delete: 899 items, including some that you have not seen. This cannot be undone. Go on?", (string?)null, "delete"),
            (asked[^1].Question, asked[^1].Mark, asked[^1].Command!.Id));
        Assert.Equal("", deleted);
        asked[^1].Answer(true);
        asked[^1].Answer(true);
        Assert.Equal("True 0", deleted);
        Assert.Equal(3, asked.Count);
    }

    /// <summary>A service whose answers somebody tampers with.</summary>
    private sealed class Liar(SimulatedSource<Request, int> service) : IPagedSource<Request, int>
    {
        public Func<PageAnswer<Request>, PageAnswer<Request>>? Lie { get; set; }

        /// <summary>Whether it does not answer the truth to any question; else to those for a stretch.</summary>
        public bool AlwaysLies { get; init; }

        public event EventHandler? Changed
        {
            add => service.Changed += value;
            remove => service.Changed -= value;
        }

        public async Task<PageAnswer<Request>> AskAsync(PageQuestion<Request, int> question, CancellationToken cancellation)
        {
            var answer = await service.AskAsync(question, cancellation);
            return Lie is { } lie && (AlwaysLies || !question.Stretches.IsEmpty) ? lie(answer) : answer;
        }

        public Task<IReadOnlyList<Request>> ReadAsync(Condition<Request, int> condition, Box<Request>? after, int count,
            CancellationToken cancellation) => service.ReadAsync(condition, after, count, cancellation);

        public Task<int> CountAsync(Condition<Request, int> condition, CancellationToken cancellation) =>
            service.CountAsync(condition, cancellation);
    }

    [Fact]
    public void An_answer_that_does_not_fit_the_question_is_a_read_that_failed_and_nothing_of_it_is_taken()
    {
        static PageAnswer<Request> With(PageAnswer<Request> answer, Func<Page<Request>, Page<Request>> change) => new()
        {
            Pages = [.. answer.Pages.Select(change)],
            Count = answer.Count,
            Sections = answer.Sections,
            Bounds = answer.Bounds,
            Indexes = answer.Indexes,
        };
        foreach (var (lie, says) in new (Func<PageAnswer<Request>, PageAnswer<Request>>, string)[]
        {
            (a => With(a, p => new(p.Start, [.. p.Items.SkipLast(1)])), "gave 7 of the 8"),
            (a => With(a, p => new(p.Start, [.. p.Items, new(9_999, 99_990)])), "items from"),
            (a => With(a, p => new(p.Start + 1, p.Items)), "It was asked for the stretch from"),
            (_ => new() { Pages = [] }, "asked for 1 stretches and answered 0"),
            (a => With(a, p => new(p.Start, [.. p.Items.SkipLast(1), p.Items[0]])), "the same key"),
            (a => With(a, p => new(p.Start, [.. p.Items.Select((r, i) => i == 3 ? null! : r)])), ""),
        })
        {
            var service = Service(200);
            var source = new Liar(service);
            using var list = List();
            var errors = new List<Exception>();
            list.ReadFailed += (_, e) => errors.Add(e.Error);
            list.Show(source);
            list.Do(ActKind.SelectAll);
            list.DoAt(ActKind.Toggle, 3);
            source.Lie = lie;
            list.ScrollTo(100 * 52);
            list.Advance(0);
            Assert.True(errors.Count > 0 && errors[^1].Message.Contains(says, StringComparison.Ordinal),
                $"{says}: {errors.LastOrDefault()?.Message}");
            Assert.Contains(list.Frame.Rows, r => r.Reading == RowReading.Failed);
            Assert.False(list.IsRead(103));
            Assert.Equal((200, 199, true), (list.Count, list.Selected.Count, list.IsRead(2)));
            Check(list);
            source.Lie = null;
            Settle(list, service);
            CheckSettled(list, service);
            Assert.Equal((200, 199), (list.Count, list.Selected.Count));
        }
    }

    [Theory]
    [InlineData(2, 195)]
    [InlineData(1, 195)]
    [InlineData(0, 0)]
    public void What_was_selected_comes_back_though_its_places_take_long_to_find(int atOnce, int selected)
    {
        var service = Service(200);
        using InteractiveList<Request, int> list = List(), other = List();
        list.Show(service);
        list.Do(ActKind.SelectAll);
        foreach (var index in (int[])[3, 60, 110, 150, 199]) list.DoAt(ActKind.Toggle, index);
        // One that has left meanwhile.
        var snapshot = list.Save();
        service.Change(items => items.Where(r => r.Id != 60));
        other.Show(new Liar(service)
        {
            AlwaysLies = true,
            Lie = a => new() { Pages = a.Pages, Count = a.Count, Indexes = [.. a.Indexes.Select((at, i) => i < atOnce ? at : null)] },
        });
        other.Restore(snapshot);
        Settle(other, service);
        Assert.Equal(selected, other.Selection.Items.Count);
        Assert.False(other.IsReading);
    }

    [Fact]
    public void Where_most_are_gone_before_the_rows_in_view_were_read_the_end_shows()
    {
        var service = Service(900);
        service.IsSlow = true;
        using var list = List();
        list.Show(service);
        Settle(list, service);
        list.DoAt(ActKind.Toggle, 50);
        Settle(list, service);
        list.ScrollTo(800 * 52);
        list.Advance(0);
        Assert.DoesNotContain(list.Frame.Rows, r => r.Reading == RowReading.Done);
        service.Change(items => items.Take(100));
        service.AnswerAll();
        list.Advance(0);
        service.AnswerAll();
        list.Advance(0);
        Assert.Equal((100, MoreKind.NotSaid), (list.Count, list.More.Kind));
        Settle(list, service);
        CheckSettled(list, service);
        Assert.Equal((99, 1), (list.Frame.Rows[^1].Index, list.Selection.Items.Count));
    }

    [Theory]
    [InlineData("an act", "7", 7, 0)]
    [InlineData("a call", "8 9", 8, 0)]
    [InlineData("a key", "", 51, 0)]
    [InlineData("a look elsewhere", "150", 150, 30)]
    [InlineData("nothing", "150", 150, 145)]
    [InlineData("a change of the source", "149", 149, 144)]
    public void What_is_done_while_a_snapshot_comes_back_stays(string meanwhile, string selected, int cursor, int top)
    {
        var service = Service(200);
        using InteractiveList<Request, int> list = List(), other = List();
        list.Show(service);
        list.DoAt(ActKind.Select, 150);
        list.ScrollTo(145 * 52);
        Settle(list, service);
        var snapshot = list.Save();
        service.IsSlow = true;
        other.Show(service);
        Settle(other, service);
        other.DoAt(ActKind.MoveCursor, 50);
        Settle(other, service);
        other.Restore(snapshot);
        other.Advance(0);
        Assert.Equal(1, service.WaitingCount);
        if (meanwhile == "an act") Assert.True(other.DoAt(ActKind.Select, 7).IsHandled);
        else if (meanwhile == "a call") other.SelectOnly(ItemSet.Of(200, [8, 9]));
        else if (meanwhile == "a look elsewhere") other.ScrollTo(30 * 52);
        else if (meanwhile == "a key") Assert.True(other.DoAt(ActKind.MoveCursor, 51).IsHandled);
        else if (meanwhile != "nothing") service.Change(items => items.Skip(1));
        Settle(other, service);
        CheckSettled(other, service);
        Assert.Equal((selected, cursor, top * 52.0), (string.Join(" ", other.Selection.Items), other.Selection.Cursor,
            other.Viewport.ScrollTop));
        // What is done later is done to what came back, and is taken back by nothing.
        other.DoAt(ActKind.Toggle, 30);
        Settle(other, service);
        Assert.Contains(30, other.Selection.Items);
    }

    [Fact]
    public void Of_two_snapshots_in_a_row_the_later_comes_back()
    {
        var service = Service(200);
        using InteractiveList<Request, int> list = List(), other = List();
        list.Show(service);
        list.DoAt(ActKind.Select, 150);
        var first = list.Save();
        list.Do(ActKind.SelectAll);
        foreach (var index in (int[])[10, 20, 30]) list.DoAt(ActKind.Toggle, index);
        var second = list.Save();
        service.IsSlow = true;
        other.Show(service);
        Settle(other, service);
        other.Restore(first);
        other.Advance(0);
        Assert.Equal(1, service.WaitingCount);
        other.Restore(second);
        Settle(other, service);
        CheckSettled(other, service);
        Assert.Equal(list.Selection.Items, other.Selection.Items);
    }

    [Fact]
    public void A_service_that_says_at_each_answer_that_it_lets_others_show_is_found_out()
    {
        var service = Service(200);
        var source = new Liar(service);
        using var list = List();
        var errors = new List<Exception>();
        list.ReadFailed += (_, e) => errors.Add(e.Error);
        list.Show(source);
        list.DoAt(ActKind.Toggle, 3);
        source.Lie = a => new() { Pages = a.Pages, Count = a.Count, Bounds = a.Bounds, Indexes = a.Indexes, Scope = new object() };
        list.ScrollTo(100 * 52);
        for (var i = 0; i < 20; i++) list.Advance(0);
        Assert.Contains(errors, e => e.Message.Contains("lets other items show with each answer", StringComparison.Ordinal));
        Check(list);
        source.Lie = null;
        service.Change(items => items);
        Settle(list, service);
        CheckSettled(list, service);
        Assert.Equal((200, 1), (list.Count, list.Selected.Count));
    }

    [Fact]
    public void What_cannot_be_read_again_is_not_asked_for_again_and_again()
    {
        var service = Service(200);
        service.IsSlow = true;
        using var list = List();
        list.Show(service);
        Settle(list, service);
        // The cursor's item is held though it is far from the window: after a change it is read again.
        list.DoAt(ActKind.Select, 3);
        list.ScrollTo(100 * 52);
        Settle(list, service);
        service.Change(items => items);
        list.Advance(0);
        service.Answer();
        list.Advance(0);
        Assert.Contains("0+8", service.Asked.TakeLast(service.WaitingCount));
        var asked = service.Asked.Count;
        while (service.WaitingCount > 0 && service.Asked.Count < asked + 50)
        {
            service.Failures.Enqueue(new IOException("The line is broken."));
            service.Answer();
            list.Advance(0);
        }
        Assert.InRange(service.Asked.Count, asked, asked + 10);
        Assert.True(list.IsRead(3) && !list.IsReading);
        Check(list);
    }

    [Fact]
    public void A_mark_that_is_not_stored_leaves_what_was_read_meanwhile_as_it_is()
    {
        var service = Service(900);
        service.Change(items => items.Select(r => r with { Starred = r.Id is 100 or 2 }));
        using var list = List();
        list.Marks = [new("starred") { Get = r => r.Starred, Set = (_, _) => { } }];
        list.Show(service);
        list.Do(ActKind.SelectAll);
        service.IsSlow = true;
        list.ToggleMark("starred");
        Assert.Equal(900, list.Marked("starred").Count);
        // A page that nobody had seen is read before the store says no.
        list.ScrollTo(98 * 52);
        while (!list.IsRead(100)) service.Answer(service.WaitingCount - 1);
        service.Failures.Enqueue(new IOException("Read only."));
        service.Answer();
        list.Advance(0);
        Assert.Equal("Could not be stored: Read only.", list.BriefNotice!.Text);
        Settle(list, service);
        Assert.Equal([2, 100], list.Marked("starred"));
    }

    // By hand or menu: who has no keys takes it back from the notice, wherever the items lie.
    [Fact]
    public void A_move_that_a_service_has_stored_is_offered_to_be_taken_back()
    {
        var service = Service(60);
        using var list = List(Options with { MayMove = true, MovesInMenu = true, NoticesMoves = true });
        list.Show(service);
        list.OpenMenu(4);
        service.IsSlow = true;
        Assert.True(list.ChooseEntry("move-to-top").IsHandled);
        Assert.Equal((4, null), (list.KeyAt(0), list.BriefNotice));
        Settle(list, service);
        Assert.Equal(("Moved", true), (list.BriefNotice?.Text, list.BriefNotice?.OffersUndo));
        Assert.True(list.UndoFromNotice().IsHandled);
        Settle(list, service);
        Assert.Equal((0, 0, null), (service.Items[0].Id, list.KeyAt(0), list.BriefNotice));
        // One that was not stored has nothing to offer, and a call asks for no notice.
        service.Failures.Enqueue(new IOException("Read only."));
        list.OpenMenu(4);
        list.ChooseEntry("move-to-top");
        service.AnswerAll();
        list.Advance(0);
        Assert.Equal(("Could not be stored: Read only.", false), (list.BriefNotice?.Text, list.BriefNotice?.OffersUndo));
        var before = list.BriefNotice;
        list.Move([4], 1);
        Settle(list, service);
        Assert.Same(before, list.BriefNotice);
        CheckSettled(list, service);
    }

    [Fact]
    public void What_the_service_says_from_before_a_move_or_mark_does_not_take_it_back()
    {
        var service = Service(60);
        service.AnswersAsAsked = true;
        using var list = List(Options with { MayMove = true });
        list.Marks = [new("starred") { Get = r => r.Starred, Set = (_, _) => { } }];
        list.Show(service);
        service.IsSlow = true;
        // A look at the source is under way, from before the move; and another change comes while that is being stored.
        service.Change(items => items);
        list.Move([4], 3);
        service.Change(items => items.Append(new(900, 9000)));
        list.ToggleMark("starred", 4);
        // What is to be stored is stored in the order in which it was done.
        Assert.Equal("move", Assert.Single(service.Asked, a => a is "move" or "mark"));
        while (service.WaitingCount > 0)
        {
            Assert.Equal("0 1 2 4 3", string.Join(" ", Enumerable.Range(0, 5).Select(list.KeyAt)));
            Assert.Equal([3], list.Marked("starred"));
            service.Answer(service.WaitingCount - 1);
            list.Advance(0);
        }
        Assert.Equal("0 1 2 4 3", string.Join(" ", Enumerable.Range(0, 5).Select(list.KeyAt)));
        Assert.Equal(61, list.Count);
        CheckSettled(list, service);
        Assert.Equal([3], list.Marked("starred"));
    }

    [Fact]
    public void Rows_for_an_items_control_wait_for_their_items_and_are_told_when_they_come()
    {
        var service = Service(300);
        service.IsSlow = true;
        using var list = List();
        using var rows = list.ObservableRows();
        list.Show(service);
        service.AnswerAll();
        Assert.Equal((300, false, true), (rows.Count, rows[3].IsPending, rows[200].IsPending));
        var row = rows[200];
        var told = new List<string?>();
        row.PropertyChanged += (_, e) => told.Add(e.PropertyName);
        Assert.Equal(("Loading …", false), (row.Content.Label, row.IsSelected));
        row.IsSelected = true;
        Assert.Equal([200], list.Selection.Items);
        Assert.True(row.IsSelected);
        // It stays the row of its place while others go above, and becomes its item's when that is read.
        service.Change(items => items.Skip(10));
        service.AnswerAll();
        list.ScrollTo(190 * 52);
        service.AnswerAll();
        Assert.Equal((false, 200, "R200", true), (row.IsPending, row.Key, row.Content.Label, row.IsSelected));
        Assert.Same(row, rows[190]);
        Assert.Equal(["IsSelected", "IsPending", "Item", "Key", "Content"], told);
    }

    [Fact]
    public void What_asks_each_item_is_refused_by_name()
    {
        using var list = List();
        list.Filter = r => r.Id > 3;
        Assert.Contains("Filter", Assert.Throws<InvalidOperationException>(() => list.Show(Service(10))).Message, StringComparison.Ordinal);
        list.Filter = null;
        list.Show(Service(10));
        Assert.Contains("SortBy", Assert.Throws<InvalidOperationException>(() => list.SortBy = (a, b) => a.Id - b.Id).Message,
            StringComparison.Ordinal);
        Assert.Throws<InvalidOperationException>(
            () => InteractiveList.Of<string>([]).Show(new SimulatedSource<string, ItemId>([], _ => default, string.CompareOrdinal)));
        // Back to a list in memory: nothing is left of the pages.
        list.Do(ActKind.SelectAll);
        list.Show([new(1, 1), new(2, 2)]);
        Assert.Equal((2, false, 0), (list.Count, list.IsPaged, list.Selection.Items.Count));
        Assert.Throws<InvalidOperationException>(() => list.Selected.Condition);
        list.Filter = r => r.Id > 1;
        Assert.Single(list.Rows.Shown);
    }
}

internal static class PagedLists
{
    /// <summary>What the last row says, scrolled to.</summary>
    public static NoticeKind? ScrolledToEnd<TItem, TKey>(this InteractiveList<TItem, TKey> list) where TKey : notnull
    {
        list.ScrollTo(double.MaxValue);
        return list.Frame.Rows[^1].Notice;
    }
}
