using System.Collections.Immutable;
using System.Reflection;
using System.Runtime.CompilerServices;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Finding;
using Lectica.Frames;
using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Moving;
using Lectica.Selecting;
using Lectica.States;
using Lectica.Swiping;
using static Lectica.Tests.Lists.StateTests;

namespace Lectica.Tests.Lists;

/// <summary>The table of a state's slots: each property is in it once, follows edits, settles in a draft and tells what has
/// changed.</summary>
public sealed class SlotTests
{
    private static ListState Over(RowMap rows) => With(rows) with { Window = Window.Over(rows, Options) };

    private static ListState Over(int count) => Over(new RowMap(ItemSet.All(count), null));

    private static ListState After(ListState state, Edit edit)
    {
        var draft = state.Draft();
        foreach (var slot in ListState.Slots) slot.Follow(draft, edit);
        return draft;
    }

    private static string Told(ListState before, ListState now)
    {
        var told = new SortedSet<string>(StringComparer.Ordinal);
        foreach (var slot in ListState.Slots) slot.Changed(before, now, told);
        return string.Join(" ", told);
    }

    [Fact]
    public void Each_property_of_a_state_has_one_slot_that_looks_at_it_alone()
    {
        var properties = typeof(ListState).GetProperties(BindingFlags.Instance | BindingFlags.Public).Where(p => p.CanWrite).ToList();
        Assert.Equal(properties.Select(p => p.Name).Order(), ListState.Slots.Select(s => s.Name).Order());
        var state = Over(3);
        foreach (var property in properties)
        {
            var type = Nullable.GetUnderlyingType(property.PropertyType) ?? property.PropertyType;
            var changed = state.Draft();
            property.SetValue(changed, type == typeof(KeyFocus) ? new KeyFocus(true, 1) : RuntimeHelpers.GetUninitializedObject(type));
            Assert.Equal([property.Name], ListState.Slots.Where(s => !s.Same(state, changed)).Select(s => s.Name));
        }
    }

    [Fact]
    public void What_holds_items_by_index_follows_an_edit_and_nothing_else_is_another()
    {
        // The first of six goes, and two come in before the last.
        var edit = Edit.Sequence([Edit.Splice(6, 0, 1, 0), Edit.Splice(5, 4, 0, 2)]);
        var state = Over(6);
        var busy = state with
        {
            Pressed = [(0, Part.Body), (1, new(PartKind.Check)), (5, new(PartKind.Handle))],
            Tray = new Swipe(2, 0, 12, false, true, default),
            Drag = new(new(Selection.Nothing(6), 2, 3, true), null, null, null),
            Carrying = new()
            {
                Grab = new(Of(6, 0), 0, 0, new(0)),
                Hover = new(null, 3, 9),
                OpenedBranches = Of(6, 0, 3),
                LookedAt = new(5, 2),
            },
            Stroke = new(1, new(ActKind.Sweep, 5), 0, 0, null),
            Menu = new(3, Of(6, 0, 3), null),
            Feedback = new(Flashes.Of([new(0, "x", 1), new(1, "y", 1)]), null, null),
            Runs = [new("r", false, Of(6, 0, 4), "R", new())],
            Reading = state.Reading with { Failed = Of(6, 0, 2), Terms = SelectionTerms.Nothing },
            Selection = state.Selection with { Items = Of(6, 0, 5) },
            Marks = MarkSets.None.With("m", Of(6, 0, 5)),
            Window = state.Window with { Revealed = 5, Heights = new Dictionary<int, double> { [0] = 30, [1] = 40, [5] = 50 } },
        };
        var after = After(busy, edit);
        Assert.Equal([(0, new(PartKind.Check)), (6, new(PartKind.Handle))], after.Pressed);
        Assert.Equal((1, 1, 2), (after.Tray!.Value.Index, after.Drag.Sweep!.First, after.Drag.Sweep.Last));
        // What was taken up has gone, and is pressed no more; the rest of it goes on until it settles.
        Assert.Equal((true, -1, 2, 6), (after.Carrying.Grab!.Items.IsEmpty, after.Carrying.Grab.Pressed, after.Carrying.Hover!.Value.Branch,
            after.Carrying.LookedAt!.Index));
        Assert.Equal([2], after.Carrying.OpenedBranches!);
        Assert.Equal((6, 2, 1), (after.Stroke!.Act.Index, after.Menu.Index, after.Feedback.Flashes.All.Count()));
        Assert.Equal(new(0, "y", 1), after.Feedback.Flashes.All.First());
        Assert.Equal([2], after.Menu.Target);
        Assert.Equal([3], after.Runs[0].Items);
        Assert.Equal([1], after.Reading.Failed);
        Assert.Equal([6], after.Selection.Items);
        Assert.Equal([6], after.Marks.Sets["m"]);
        Assert.Equal((6, "0:40 6:50"), (after.Window.Revealed, string.Join(" ", after.Window.Heights.Select(h => $"{h.Key}:{h.Value}"))));
        // Two have come in before the app is asked about them: they show.
        Assert.Equal((7, true), (after.Count, after.Showing.Shown.IsAll));
        // What follows an edit, and what does so only where it holds something.
        string[] always = ["Showing", "Selection"];
        Assert.Equal(always, ListState.Slots.Where(s => !s.Same(state, After(state, edit))).Select(s => s.Name));
        Assert.Equal((6, -1), (After(state with { Window = state.Window with { Revealed = 5 } }, edit).Window.Revealed,
            state.Window.Revealed));
    }

    [Fact]
    public void A_slot_settles_in_a_draft_and_never_in_the_state_that_was_given()
    {
        var rows = new RowMap(Of(5, 1, 3), null);
        var before = Over(5);
        var given = before with { Showing = With(rows).Showing, Menu = new(2, Of(5, 2), null) };
        var (menu, draft) = (given.Menu, given);
        var slot = ListState.Slots.Single(s => s.Name == "Menu");
        slot.Settle(before, given, ref draft, Unmoved);
        Assert.Equal((true, true, false), (ReferenceEquals(menu, given.Menu), ReferenceEquals(MenuState.Closed, draft.Menu),
            ReferenceEquals(given, draft)));
        var same = draft;
        slot.Settle(before, given, ref draft, Unmoved);
        Assert.Same(same, draft);
        // Where nothing is to be put right there is no other state.
        draft = before;
        slot.Settle(before, before, ref draft, Unmoved);
        Assert.Same(before, draft);
    }

    [Fact]
    public void Of_each_slot_that_is_told_of_the_property_is_told_that_differs()
    {
        var state = Over(3);
        ListState declared = state with { Declared = state.Declared with { HasMenuCommands = true } },
            trays = state with { Declared = state.Declared with { Trays = new() { Leading = [default!] } } },
            both = state with { Declared = trays.Declared with { HasMenuCommands = true } },
            marked = state with { Declared = state.Declared with { Marks = [new("a", "A", Marking.MarkLook.Star, null)] } };
        Assert.Equal(("Commands", "Commands", "Commands", "Marks"), (Told(state, declared), Told(state, trays), Told(state, both),
            Told(state, marked)));
        ListState sorted = state with { Table = state.Table with { Sort = new("a") } },
            columned = state with { Table = state.Table with { Columns = [new("a", "A", null, 1, false, 104)] } };
        Assert.Equal(("Sort", "Columns"), (Told(state, sorted), Told(state, columned)));
        Assert.Equal(("", "CursorPart"),
            (Told(state, state with { Focus = new(true, 0) }), Told(state, state with { Focus = new(true, 1) })));
        ListState dragging = state with { Stroke = new(1, new(ActKind.Sweep, 1), 0, 0, null) },
            further = dragging with { Stroke = dragging.Stroke with { StartX = 3 } };
        Assert.Equal(("IsDragging", "", "IsDragging"), (Told(state, dragging), Told(dragging, further), Told(dragging, state)));
        ListState filling = state with { Filling = new(3) };
        Assert.Equal(("IsFilling", "", "IsFilling"), (Told(state, filling), Told(filling, state with { Filling = new(9) }),
            Told(filling, state)));
        ListState swiped = state with { Tray = new Swipe(1, 0, 12, false, true, default) },
            open = state with { Tray = new Swipe(1, 0, 12, true, false, default) };
        Assert.Equal(("", "IsTrayOpen", "IsTrayOpen"), (Told(state, swiped), Told(swiped, open), Told(open, state)));
        ListState held = state with { Carrying = new() { Grab = new(Of(3, 1), 1, 0, new(1)) } },
            over = held with { Carrying = held.Carrying with { NoDrop = new(default, "no") } };
        Assert.Equal(("IsGrabbing", "", "IsGrabbing"), (Told(state, held), Told(held, over), Told(over, state)));
        Assert.Equal((false, true, false), (held.Carrying.IsCarrying, (held.Carrying with { ByKeys = true }).IsCarrying,
            (held.Carrying with { Grab = null, ByKeys = true }).IsCarrying));
        Assert.Equal((false, true), (state.Reading.IsPaged, (state.Reading with { Terms = SelectionTerms.Nothing }).IsPaged));
    }

    [Fact]
    public void Rows_are_made_anew_only_where_what_they_come_of_is_another()
    {
        var state = Over(5);
        Showing Settled(Func<Showing, Showing> change, ListState? from = null) =>
            Showing.Settle(from ?? state, (from ?? state) with { Showing = change((from ?? state).Showing) }, Unmoved);
        Func<Showing, Showing>[] others = [s => s with { Shown = Of(5, 1) }, s => s with { Sections = [new("A", "A", ItemSet.All(5), false,
            null)] }, s => s with { Collapsed = ["x"] }, s => s with { OrderVersion = 1 }, s => s with { HasSource = false },
            s => s with { Status = new(NoticeKind.Loading, "l") }, s => s with { ShownPlaces = ItemSet.All(5) }],
            sames = [s => s, s => s with { Disabled = Of(5, 1) }, s => s with { Pinned = Of(5, 1) },
                s => s with { Lingering = [new(1, 2)] }];
        foreach (var change in others) Assert.NotSame(state.Showing.Rows, Settled(change).Rows);
        foreach (var change in sames) Assert.Same(state.Showing.Rows, Settled(change).Rows);
        Assert.Equal([1], Settled(sames[1]).Barred);
        // A section without items says so where there is a source that has no more to tell.
        SectionRows a = new("A", "A", Of(5, 0), false, null), b = new("B", "B", Of(5, 1), false, "none");
        Showing Two(Showing s) => s with { Shown = Of(5, 0), Sections = [a, b] };
        Assert.Equal(("none", null, null), (Settled(Two).Rows.Sections[1].Empty, Settled(s => Two(s) with { HasSource = false })
            .Rows.Sections[1].Empty, Settled(s => Two(s) with { Status = new(NoticeKind.Loading, "l") }).Rows.Sections[1].Empty));
        Assert.Equal((false, true), (Settled(Two).Rows.Sections[0].IsCollapsed, Settled(s => Two(s) with { Collapsed = ["A"] })
            .Rows.Sections[0].IsCollapsed));
        // One row that says why nothing shows.
        NoticeKind? Why(Func<Showing, Showing> change, int count) => Settled(change, Over(count)).Rows.Notice?.Kind;
        Assert.Equal((NoticeKind.NothingMatches, NoticeKind.NothingMatches, null), (Why(s => s with { Shown = Of(5) }, 5),
            Why(s => s with { Shown = Of(5), Status = new(NoticeKind.Loading, "l") }, 5), Why(s => s with { Shown = Of(5, 1) }, 5)));
        Assert.Equal((NoticeKind.Empty, NoticeKind.NoSource, NoticeKind.Loading), (Why(s => s with { Collapsed = ["x"] }, 0),
            Why(s => s with { HasSource = false }, 0), Why(s => s with { Status = new(NoticeKind.Loading, "l") }, 0)));
        // Sections and what lingers in them follow an edit.
        var after = (Two(state.Showing) with { Lingering = [new(0, 1), new(1, 2), new(2, 3)] }).After(Edit.Splice(5, 1, 1, 0));
        Assert.Equal(("0|", "0,1 1,3"), (string.Join('|', after.Sections.Select(s => string.Join(' ', s.Members))),
            string.Join(' ', after.Lingering.Select(l => $"{l.Index},{l.Until}"))));
    }

    [Fact]
    public void The_window_stays_inside_its_rows_and_keeps_what_is_looked_at_where_rows_lie_anew()
    {
        var state = Over(20);
        Assert.Same(state.Window, Window.Settle(state, state, Unmoved));
        Window Scrolled(double top, double width = 400) => state.Window with { Viewport = new(width, 100, top) };
        Assert.Equal(300, Window.Settle(state, state with { Window = Scrolled(1000) }, Unmoved).Viewport.ScrollTop);
        var before = state with { Window = Scrolled(110) };
        Assert.Equal(new Eye(5, 10), before.Window.EyeIn(before.Showing.Rows));
        var fewer = With(new(ItemSet.All(20).Except(ItemSet.None(20).WithRange(0, 5, true)), null)).Showing;
        double Top(ListState now, Edit? edit = null, bool holds = false) =>
            Window.Settle(before, now, new(Options, edit, holds)).Viewport.ScrollTop;
        // Where fewer show, and where rows are only wider, it is not scrolled.
        Assert.Equal((110, 110), (Top(before with { Showing = fewer }), Top(before with { Showing = fewer, Window = Scrolled(110, 300) })));
        // Of larger text and other heights the item stays that was at the top; so it does through an edit.
        Assert.Equal(210, Top(before with { Window = before.Window with { TextScale = 2 } }));
        Assert.Equal(140, Top(before with { Window = before.Window with { Heights = new Dictionary<int, double> { [0] = 50 } } }));
        var edit = Edit.Splice(20, 0, 2, 0);
        var edited = before with { Showing = With(new(ItemSet.All(18), null)).Showing };
        Assert.Equal((70, 110), (Top(edited, edit), Top(edited, edit, holds: true)));
        // The first item too.
        Assert.Equal((7, 110), (before.Window.Keeping(0, 7, before.Showing.Rows).ScrollTop,
            before.Window.Keeping(-1, 7, before.Showing.Rows).ScrollTop));
        HostWindow host = new(-10, -20, 500, 900);
        Assert.Equal((host, new HostWindow(0, 0, 400, 100)), ((state.Window with { Host = host }).RoomOn(ListLayout.Rows),
            state.Window.RoomOn(ListLayout.Rows)));
    }

    [Fact]
    public void Where_one_must_be_selected_it_is_the_nearest_to_what_was()
    {
        var one = Unmoved with { Options = Options with { Mode = SelectionMode.SingleRequired } };
        Selection Selected(params int[] items) => Selection.Nothing(6) with { Items = Of(6, items), StartingPoint = Of(6, items) };
        int Picked(Selection was, Selection now, Edit? edit, RowMap rows)
        {
            var before = Over(6) with { Selection = was };
            return Assert.Single(States.Selected.Settle(before, Over(rows) with { Selection = now }, one with { Edit = edit }).Items);
        }
        var edit = Edit.Splice(6, 3, 1, 0);
        var five = new RowMap(ItemSet.All(5), null);
        var gone = Selected(3) with { Cursor = 1 };
        Assert.Equal(3, Picked(gone, gone.After(edit), edit, five));
        // Nothing could be selected before: by the cursor.
        var none = Selected() with { Cursor = 4 };
        Assert.Equal(3, Picked(none, none.After(edit), edit, five));
        Assert.Equal((4, 0), (Picked(none, none, null, new(ItemSet.All(6), null)), Picked(Selected(), Selected(), null, new(ItemSet.All(6),
            null))));
    }

    [Fact]
    public void The_cursor_goes_on_to_the_next_item_below_where_its_row_was_or_else_to_the_last_above()
    {
        static SectionRows Section(string key, bool isCollapsed, params int[] items) => new(key, key, Of(8, items), isCollapsed, null);
        int Next(RowMap was, RowMap now, Selection selection) =>
            States.Selected.Settle(Over(was) with { Selection = selection }, Over(now) with { Selection = selection }, Unmoved).Cursor;
        // Rows: A 0 1 B 2 3; what comes now has a heading in the row of B, with items above it and below.
        var was = new RowMap(ItemSet.All(8), null, [Section("A", false, 0, 1), Section("B", false, 2, 3)]);
        RowMap between = new(ItemSet.All(8), null, [Section("A", false, 0, 1), Section("C", false, 2, 3, 4, 5, 6, 7)]),
            last = new(ItemSet.All(8), null, [Section("A", false, 0, 1), Section("C", true, 2, 3, 4, 5, 6, 7)]),
            bare = new(ItemSet.All(8), null, [Section("D", true, 0, 1, 2, 3, 4, 5, 6, 7)]);
        var onB = Selection.Nothing(8) with { Heading = "B" };
        Assert.Equal((2, 1, -1), (Next(was, between, onB), Next(was, last, onB), Next(was, bare, onB)));
        // The same of the row after the items, which was the fourth.
        var footed = new RowMap(Of(8, 0, 1, 2), null, [], null, null, true);
        var onFooter = Selection.Nothing(8) with { OnNotice = true };
        Assert.Equal((2, 1, -1), (Next(footed, between, onFooter), Next(footed, last, onFooter), Next(footed, bare, onFooter)));
    }

    [Fact]
    public void What_is_selected_of_a_paged_list_is_said_anew_only_where_an_edit_means_other_items()
    {
        var terms = SelectionTerms.Nothing.Restated(Of(6, 1, 2));
        var state = Over(6);
        var selected = state.Selection with { Items = Of(6, 1, 2) };
        var before = state with { Selection = selected, Reading = state.Reading with { Terms = terms } };
        var how = Unmoved with { Edit = Edit.Splice(6, 5, 0, 0) };
        Assert.Same(before.Reading, Reading.Settle(before, before, how));
        var other = before with { Selection = before.Selection with { Items = Of(6, 4) } };
        var settled = Reading.Settle(before, other, how);
        Assert.Equal([4], settled.Terms!.Now.Resolve(6, []));
        Assert.Same(settled.Terms.Now, settled.Terms.AtStart);
        Assert.Same(state.Reading, Reading.Settle(state, state, how));
    }

    [Fact]
    public void Steps_that_are_as_old_as_is_kept_stay()
    {
        Old a = new(5), b = new(9);
        Assert.Equal([b], new History([a, b], []).Since(9 + EditLog.Longest).Done);
        Assert.Equal([b], new History([], [a, b]).Since(9 + EditLog.Longest).Undone);
        // No rows at all, not even a notice: the search is at the first that comes.
        var search = new Search("x", 6, 2, new(ActKind.Type));
        Assert.Equal((0, 1), FindState.Settle(Over(8), Over(new RowMap(Of(8), null)) with { Find = new(Typing.None, search) }, Unmoved)
            .Search is { } now ? (now.Next, now.Left) : default);
    }

    private sealed class Old : UndoStep
    {
        public Old(long made) : base("old") => Made = made;

        public override Refusal? Apply(ActKind kind, out UndoStep inverse)
        {
            inverse = this;
            return null;
        }
    }
}
