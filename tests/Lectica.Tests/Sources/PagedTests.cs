using Lectica.Acts;
using Lectica.Frames;
using Lectica.Input;
using Lectica.Items;
using Lectica.Sources;
using Lectica.Testing;

namespace Lectica.Tests.Sources;

/// <summary>
/// Lists of what is not in memory, over a service that is slow, fails, answers in any order and is changed by others: beside a list that has
/// everything, and beside what the service holds.
/// </summary>
public sealed class PagedTests
{
    private sealed record Request(int Id, int Order, string Night = "", bool Starred = false)
    {
        public override string ToString() => $"R{Id}";
    }

    private static readonly ListOptions Options = new() { Mode = SelectionMode.Multiple, ModKey = ModKey.Ctrl, Phrases = Phrases.English, PageSize = 8, PagesKept = 4, Parts = new() { Check = true } };

    private static SimulatedSource<Request, int> Service(int count, int nights = 0) => new(
        Enumerable.Range(0, count).Select(i => new Request(i, i * 10, nights == 0 ? "" : $"N{i * nights / count}")), r => r.Id,
        (a, b) => (a.Night, a.Order, a.Id).CompareTo((b.Night, b.Order, b.Id)), nights == 0 ? null : r => r.Night)
    {
        Marked = (r, _, on) => r with { Starred = on },
        Placed = (r, above, below, night) => r with
        {
            Order = above is null ? (below?.Item.Order ?? 0) - 5 : below is null ? above.Item.Order + 5 : (above.Item.Order + below.Item.Order) / 2,
            Night = night ?? r.Night,
        },
    };

    private static InteractiveList<Request, int> List(ListOptions? options = null) => InteractiveList.Awaiting<Request, int>(r => r.Id, options ?? Options);

    /// <summary>What must be true at any time: places and terms mean the same, and nothing that is read is in a wrong place.</summary>
    private static void Check(InteractiveList<Request, int> list)
    {
        var state = list.Shell.Core.State;
        Assert.Equal(list.Count, state.Selection.Items.Universe);
        Assert.Equal(state.Reading.Terms!.Now.Places(list.Count, state.Showing.Sections), state.Selection.Items);
        Assert.True(list.Shell.Store.Pages!.ReadCount <= (Options.PageSize * (Options.PagesKept + 1)) + 8, $"{list.Shell.Store.Pages.ReadCount} items are kept");
        foreach (var row in list.Frame.Rows.Where(r => r.Kind == RowKind.Item))
        {
            Assert.Equal(list.IsRead(row.Index), row.Reading == RowReading.Done);
            Assert.Equal(list.IsRead(row.Index) ? $"{list[row.Index].Id}" : null, row.KeyText);
        }
    }

    /// <summary>What must be true when all is answered: the list has what the service has, and means what its condition means there.</summary>
    private static void CheckSettled(InteractiveList<Request, int> list, SimulatedSource<Request, int> service, bool arePlacesExact = true)
    {
        Check(list);
        Assert.Equal(service.Items.Count, list.Count);
        for (var i = 0; i < list.Count; i++)
            if (list.IsRead(i)) Assert.Equal(service.Items[i], list[i]);
        foreach (var row in list.Frame.Rows.Where(r => r.Kind == RowKind.Item)) Assert.Equal(RowReading.Done, row.Reading);
        var condition = list.Selected.ConditionAsync();
        service.AnswerAll();
        var meant = service.Where(condition.Result).ToHashSet();
        for (var i = 0; i < list.Count; i++)
            if (arePlacesExact || list.IsRead(i)) Assert.True(meant.Contains(service.Items[i]) == list.Selection.Items.Contains(i), $"{service.Items[i]} at {i}: {condition.Result}");
    }

    private static void Settle(InteractiveList<Request, int> list, SimulatedSource<Request, int> service)
    {
        service.Failures.Clear();
        for (var i = 0; i < 50; i++)
        {
            service.AnswerAll();
            list.Advance(0);
            if (list.Do(ActKind.Retry).IsHandled) continue;
            if (list.Frame.Rows.FirstOrDefault(r => r.Reading == RowReading.Failed) is { } failed) list.DoAt(ActKind.Activate, failed.Index);
            else if (service.WaitingCount == 0) return;
        }
        Assert.Fail($"It never settles: {string.Join(" ", service.Asked.TakeLast(20))}");
    }

    /// <summary>Does the same to both lists, by pointer and key; the number says what.</summary>
    private static string Act(Random random, params ListPlayer<Request, int>[] players)
    {
        var what = random.Next(14);
        double y = random.Next(0, (int)players[0].List.Viewport.Height), to = random.Next(0, (int)players[0].List.Viewport.Height), scroll = random.Next(0, 60_000);
        var modifiers = (Modifiers)(random.Next(4) switch { 0 => Modifiers.Ctrl, 1 => Modifiers.Shift, 2 => Modifiers.Ctrl | Modifiers.Shift, _ => Modifiers.None });
        string[] keys = ["Home", "End", "Shift+Home", "Shift+End", "Ctrl+Shift+End", "PageDown", "Shift+PageDown", "PageUp", "ArrowDown", "Shift+ArrowUp", "Ctrl+A", "Ctrl+Space", "Shift+Space", "Escape", "Space"];
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
        for (var seed = 0; seed < 150; seed++)
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
                Assert.Equal((twin.Selection.Cursor, twin.Selection.Anchor, twin.Viewport), (list.Selection.Cursor, list.Selection.Anchor, list.Viewport));
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
        foreach (var what in (string[])["tap", "drag", "invert", "all", "section", "scroll", "Ctrl+A", "Shift+End", "Ctrl+Shift+End", "Shift+Home", "Shift+Space"])
            Assert.True(reached.GetValueOrDefault(what) > 20, $"{what}: {reached.GetValueOrDefault(what)}");
        Assert.True(unread > 300 && failed > 50 && cancelled > 50, $"{unread} unread, {failed} failed, {cancelled} cancelled");
    }

    [Fact]
    public void Whatever_others_change_it_means_what_was_said()
    {
        int came = 0, left = 0, moved = 0, silent = 0, selected = 0;
        for (var seed = 0; seed < 200; seed++)
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
            CheckSettled(list, service, list.Shell.Core.State.Reading.Terms!.Bounds.Count() <= 60);
            if (!list.Selection.Items.IsEmpty) selected++;
        }
        Assert.True(came > 300 && left > 300 && moved > 300 && silent > 100 && selected > 60, $"{came} {left} {moved} {silent} {selected}");
    }
}
