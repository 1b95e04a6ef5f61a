using System.Collections.Immutable;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Finding;
using Lectica.Frames;
using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Marking;
using Lectica.Moving;
using Lectica.Selecting;
using Lectica.States;
using Lectica.Swiping;

namespace Lectica.Tests.Lists;

/// <summary>The parts of a list's state: what each becomes after an edit, as time passes and when the others change, and who is
/// told.</summary>
public sealed class StateTests
{
    internal static readonly ListOptions Options = new()
    {
        Mode = SelectionMode.Multiple,
        MayMove = true,
        Viewport = new(400, 100),
        RowHeight = 20
    };

    internal static ItemSet Of(int length, params int[] items) => ItemSet.Of(length, items);

    private sealed class Step(string name) : UndoStep(name)
    {
        public override Refusal? Apply(ActKind kind, out UndoStep inverse)
        {
            inverse = this;
            return null;
        }
    }

    [Fact]
    public void Steps_come_off_at_one_end_and_back_at_the_other()
    {
        Step a = new("a") { Made = 5 }, b = new("b") { Made = 9 }, c = new("c") { Made = 20 };
        static string Both(History history) => string.Concat(history.Done.Select(s =>
            s.Name)) + "|" + string.Concat(history.Undone.Select(s => s.Name));
        var history = History.Empty.With(a, 2).With(b, 2);
        Assert.Equal(("b", null, "ab|", "bc|"), (history.Name, History.Empty.Name, Both(history), Both(history.With(c, 2))));
        var back = history.Reversed(b, c, ActKind.Undo);
        Assert.Equal(("a|c", "ab|", "ab|"), (Both(back), Both(back.Reversed(c, b, ActKind.Redo)), Both(back.With(b, 2))));
        Assert.Equal(("|c", "a|"), (Both(back.Without(a)), Both(back.Without(c))));
        // What is more edits back than are kept goes, from both ends; the very last that is kept stays.
        long longest = EditLog.Longest;
        Assert.Same(history, history.Since(5 + longest));
        Assert.Equal("b|", Both(history.Since(6 + longest)));
        History both = new([c], [a, b]);
        Assert.Same(both, both.Since(5 + longest));
        Assert.Equal(("c|b", "|"), (Both(both.Since(6 + longest)), Both(new History([a], [b]).Since(10 + longest))));
    }

    [Fact]
    public void What_shows_for_a_moment_is_due_when_the_first_of_it_ends_and_follows_its_items()
    {
        BriefNotice notice = new("gone", true, 100);
        Step step = new("s");
        var shows = new Feedback(Flashes.Of([new(2, "a", 50), new(4, "b", 120)]), notice, step, new("retry", false, Of(6, 2, 4)));
        var late = shows with { Flashes = Flashes.Of([new(1, "x", 120)]), Notice = null };
        Assert.Equal((50, 100, null, 120), (shows.Due, (shows with { Flashes = Flashes.None }).Due, Feedback.Nothing.Due, late.Due));
        Assert.Same(shows, shows.At(49));
        Assert.Equal("b", Assert.Single(shows.At(50).Flashes.All).Text);
        Assert.Same(notice, shows.At(99).Notice);
        // With the notice goes what it offers.
        var later = shows.At(100);
        Assert.Equal((null, null, null, 1), (later.Notice, later.Step, later.Retrial, later.Flashes.All.Count()));
        Assert.Empty(shows.At(200).Flashes.All);
        // While it is held its time stands still.
        var held = shows with { HeldSince = 10, Flashes = Flashes.Of([new(2, "a", 50)]) };
        Assert.Equal((50, null), (held.Due, (held with { Flashes = Flashes.None }).Due));
        Assert.Equal((notice, step, 0), (held.At(300).Notice, held.At(300).Step, held.At(300).Flashes.All.Count()));
        var after = shows.After(Edit.Splice(6, 1, 2, 0));
        Assert.Equal(("b", 2), (Assert.Single(after.Flashes.All).Text, after.Flashes.All.First().Index));
        Assert.Equal([2], after.Retrial!.Items);
        // One on an item takes the place of another there, and may be over before it was.
        var again = shows.Flashes.With(new(2, "c", 200));
        Assert.Equal(("c", null, 50), (again.TextOn(2), again.TextOn(3), again.First));
        Assert.Equal(120, again.At(50).First);
        Assert.Same(again.At(119).All.First().Text, again.TextOn(2));
        var quiet = shows with { Flashes = Flashes.None, Retrial = null };
        Assert.Same(quiet, quiet.After(Edit.Splice(6, 1, 2, 0)));
        Assert.Equal([2], (quiet with { Retrial = shows.Retrial }).After(Edit.Splice(6, 1, 2, 0)).Retrial!.Items);
        Assert.Null((shows with { Retrial = null }).After(Edit.Splice(6, 1, 2, 0)).Retrial);
    }

    [Fact]
    public void Runs_marks_menus_and_searches_follow_their_items()
    {
        CommandRun run = new("r", false, Of(5, 1, 3), "R", new()), whole = new("w", true, Of(5), "W", new());
        Assert.Equal((true, false, true), (run.IsAt(Of(5, 3, 4)), run.IsAt(Of(5, 0, 2)), whole.IsAt(Of(5))));
        ImmutableList<CommandRun> none = [];
        Assert.Same(none, CommandRun.After(none, Edit.Splice(5, 0, 1, 0)));
        Assert.Equal([0, 2], CommandRun.After([run], Edit.Splice(5, 0, 1, 0))[0].Items);
        Assert.Same(MarkSets.None, MarkSets.None.After(Edit.Splice(5, 0, 1, 0)));
        Assert.Equal([2], MarkSets.None.With("m", Of(5, 0, 3)).After(Edit.Splice(5, 0, 1, 0)).Sets["m"]);
        var menu = new MenuState(3, Of(5, 1, 3), null);
        Assert.Equal((true, false), (menu.IsOpen, MenuState.Closed.IsOpen));
        Assert.True((menu with { Index = 0 }).IsOpen);
        Assert.Same(MenuState.Closed, MenuState.Closed.After(Edit.Splice(5, 0, 1, 0)));
        var (at, target, _) = menu.After(Edit.Splice(5, 1, 1, 0));
        Assert.Equal((2, "2"), (at, string.Join(" ", target)));
        Assert.Same(MenuState.Closed, menu.After(Edit.Splice(5, 3, 1, 0)));
        Assert.True((menu with { Index = 1 }).After(Edit.Splice(5, 0, 1, 0)).IsOpen);
        var stroke = new Stroke(1, new(ActKind.Sweep, 3), 0, 0, null);
        Assert.Equal((2, -1), (stroke.After(Edit.Splice(5, 0, 1, 0)).Act.Index, stroke.After(Edit.Splice(5, 3, 1, 0)).Act.Index));
        Assert.Same(stroke, stroke.After(Edit.Splice(5, 4, 1, 0)));
        var nowhere = stroke with { Act = new(ActKind.Marquee) };
        Assert.Same(nowhere, nowhere.After(Edit.Splice(5, 0, 1, 0)));
        var first = stroke with { Act = new(ActKind.Sweep, 0) };
        Assert.Equal(2, first.After(Edit.Splice(5, 0, 0, 2)).Act.Index);
        Declared declared = new([new("a", "A", MarkLook.Star, null), new("b", "B", MarkLook.Flag, "pin")], Swiping.Trays.None, false);
        Assert.Equal(((MarkLook.Flag, "pin"), default), (declared.LookOf("b"), declared.LookOf("c")));
        Assert.Equal((-1, 0, 2),
            (default(KeyFocus).Header, new KeyFocus { Header = 0 }.Header, new KeyFocus(true, 1) { Header = 2 }.Header));
    }

    [Fact]
    public void The_row_after_the_items_says_what_is_to_come_and_asks_as_it_comes_near()
    {
        var phrases = Phrases.English;
        Assert.Equal(("mine", phrases.MoreToCome, phrases.MoreLoading, phrases.MoreFailed, phrases.NoMore),
            (Footer.Say(More.ToCome with { Text = "mine" }, phrases),
            Footer.Say(More.ToCome, phrases), Footer.Say(More.Loading, phrases), Footer.Say(More.Failed(), phrases),
                Footer.Say(More.None, phrases)));
        Assert.Equal((false, true, true), (Footer.Nothing.HasRow, new Footer(More.None, 0).HasRow, new Footer(More.ToCome, 0).HasRow));
        Assert.Equal(new(More.Loading, 3), new Footer(More.ToCome, 2).Ask());
        // 21 rows of 20 px, of which 100 px are in view: asked for within 40 px of the end.
        using var list = InteractiveList.Of(Enumerable.Range(0, 20).ToList(), i => i, Options with { MoreWithin = 40 });
        var asked = 0;
        list.MoreWanted += (_, _) => asked++;
        list.More = More.ToCome;
        Assert.Equal(0, asked);
        foreach (var (top, wanted) in ((double, int)[])[(100, 0), (279, 0), (280, 1), (300, 1), (0, 1)])
        {
            list.ScrollTo(top);
            Assert.Equal((top, wanted), (top, asked));
        }
    }

    internal static ListState With(RowMap rows, Selection? selection = null, Search? search = null)
    {
        var state = ListState.Empty(Options);
        var none = ItemSet.None(rows.Shown.Universe);
        return state with
        {
            Showing = state.Showing with
            {
                Shown = rows.Shown,
                Rows = rows,
                HasSource = true,
                Disabled = none,
                Pinned = none,
                Barred = none,
            },
            Selection = selection ?? Selection.Nothing(rows.Shown.Universe),
            Find = new(Typing.None, search),
        };
    }

    [Fact]
    public void A_search_goes_round_all_rows_again_where_they_have_changed()
    {
        var rows = new RowMap(ItemSet.All(8), null);
        Search search = new("x", 6, 2, new(ActKind.Type));
        var before = With(rows, search: search);
        var how = new Settling(Options, null, false);
        Assert.Same(before.Find, FindState.Settle(before, before, how));
        Assert.Equal(search with { Next = 1, Left = 5 }, FindState.Settle(before, With(new(ItemSet.All(5), null), search: search),
            how).Search);
        Assert.Equal(search with { Next = 6, Left = 9 }, FindState.Settle(before, With(new(ItemSet.All(9), null), search: search),
            how).Search);
        Assert.Null(FindState.Settle(before, With(new(ItemSet.All(5), null)), how).Search);
    }

    [Fact]
    public void A_menu_goes_with_its_row_and_is_for_what_shows_and_is_enabled()
    {
        var all = With(new(ItemSet.All(5), null)) with { Menu = new(3, Of(5, 1, 3), null) };
        var how = new Settling(Options, null, false);
        Assert.Same(all.Menu, MenuState.Settle(all, all, how));
        ListState Now(ItemSet shown, ItemSet barred) => With(new(shown, null)) with
        {
            Menu = all.Menu,
            Showing = With(new(shown, null)).Showing with { Barred = barred },
        };
        Assert.Same(all.Menu, MenuState.Settle(all, Now(ItemSet.All(5), Of(5, 4)), how));
        Assert.Equal([3], MenuState.Settle(all, Now(ItemSet.All(5), Of(5, 1)), how).Target);
        Assert.Equal([3], MenuState.Settle(all, Now(Of(5, 2, 3), Of(5)), how).Target);
        Assert.Same(MenuState.Closed, MenuState.Settle(all, Now(Of(5, 1), Of(5)), how));
        Assert.Same(MenuState.Closed, MenuState.Settle(all, Now(Of(5, 1), Of(5)) with { Menu = MenuState.Closed }, how));
    }

    [Fact]
    public void What_is_due_first_is_when_a_state_is_due()
    {
        var state = ListState.Empty(Options);
        Assert.Null(state.Due);
        ListState filling = state with { Filling = new(30) },
            flashing = filling with { Feedback = new(Flashes.Of([new(0, "x", 20)]), null, null) };
        Assert.Equal((30, 20), (filling.Due, flashing.Due));
        Assert.Equal(10, (flashing with { Carrying = new() { Hover = new(null, 1, 10) } }).Due);
        Assert.Equal(5, (flashing with { Showing = state.Showing with { Lingering = [new(0, 9), new(1, 5)] } }).Due);
        Search search = new("x", 0, 1, new(ActKind.Type));
        var searching = flashing with { Find = new(Typing.None, search with { Due = 7 }) };
        Assert.Equal((null, 7), ((state with { Find = new(Typing.None, search) }).Due, searching.Due));
    }

    [Fact]
    public void Frames_look_the_same_where_only_what_they_do_not_show_differs()
    {
        var state = ListState.Empty(Options);
        Assert.All<ListState>([state, state with { Filling = new(3) }, state with { Find = new(new("x", 1), null) },
            state with { History = new([new Step("a")], []) },
            state with { Stroke = new(1, new(ActKind.Grab), 0, 0, null) }, state with { Window = state.Window with { Revealed = 3 } },
            state with { Reading = state.Reading with { Terms = SelectionTerms.Nothing } }], other =>
                Assert.True(ListState.LookSame(state, other)));
        Assert.All<ListState>([state with { Caption = new("x", null) },
            state with { Selection = state.Selection with { IsSelecting = true } },
            state with { Window = state.Window with { Viewport = new(9, 9) } },
            state with { Window = state.Window with { Heights = new Dictionary<int, double>() } },
            state with { Window = state.Window with { Geometry = new StackedRows(3, 9, 9) } },
            state with { Reading = state.Reading with { Version = 3 } },
            state with { Reading = state.Reading with { Failed = ItemSet.None(1) } },
            state with { Reading = state.Reading with { Why = "x" } }, state with { Menu = new(0, ItemSet.None(0), null) },
            state with { Feedback = Feedback.Nothing with { } }, state with { Focus = new(true, 0) },
            state with { Tray = null, Drag = DragSelection.None with { } },
            state with { Runs = [new("a", true, ItemSet.None(0), "A", new())] }], other => Assert.False(ListState.LookSame(state, other)));
    }

    internal static readonly Settling Unmoved = new(Options, null, false);

    private static readonly RowMap Five = new(ItemSet.All(5), null);

    [Fact]
    public void A_stroke_ends_with_what_it_drags_and_a_tray_with_its_row()
    {
        Sweep sweep = new(Selection.Nothing(5), 2, 3, true);
        Marquee marquee = new(Selection.Nothing(5), MarqueeJoin.Replace, 0, 0, 9, 9);
        Swipe held = new(2, 0, 12, false, true, default);
        (ActKind Kind, Func<ListState, ListState> Dragging)[] all =
        [
            (ActKind.OpenTray, s => s with { Tray = held }),
            (ActKind.Sweep, s => s with { Drag = new(sweep, null, null, null) }),
            (ActKind.Grab, s => s with { Carrying = new() { Grab = new(Of(5, 2), 2, 0, new(0)) } }),
            (ActKind.Marquee, s => s with { Drag = new(null, marquee, null, null) }),
        ];
        foreach (var (kind, dragging) in all)
        {
            var bare = With(Five) with { Stroke = new(1, new(kind, 2), 0, 0, null) };
            Assert.Null(Stroke.Settle(bare, bare, Unmoved));
            // What another stroke drags is not its own.
            foreach (var (other, of) in all) Assert.Same(other == kind ? bare.Stroke : null, Stroke.Settle(bare, of(bare), Unmoved));
        }
        var state = With(Five) with { Stroke = new(1, new(ActKind.OpenTray, 2), 0, 0, null), Tray = held with { IsHeld = false } };
        Assert.Null(Stroke.Settle(state, state, Unmoved));
        Assert.Null(Stroke.Settle(state, state with { Stroke = null, Tray = held }, Unmoved));
        var pull = state with { Stroke = new(1, new(ActKind.Pull), 0, 0, null) };
        Assert.Same(pull.Stroke, Stroke.Settle(pull, pull, Unmoved));
        Assert.Equal(state.Tray, Stroke.SettleTray(state, state, Unmoved));
        Assert.Null(Stroke.SettleTray(state, With(new(Of(5, 1), null)) with { Tray = held }, Unmoved));
        // It goes on with its item.
        var stroke = new Stroke(1, new(ActKind.Grab, 2), 0, 0, null);
        Assert.Same(stroke, stroke.After(Edit.Splice(5, 3, 1, 0)));
        Assert.Equal((3, -1), (stroke.After(Edit.Splice(5, 0, 0, 1)).Act.Index, stroke.After(Edit.Splice(5, 2, 1, 0)).Act.Index));
    }

    [Fact]
    public void What_is_selected_by_dragging_follows_the_rows_as_the_selection_does()
    {
        Selection Holding(params int[] items) => Selection.Nothing(5) with
        {
            Items = Of(5, items),
            StartingPoint = Of(5, items),
            Cursor = items[0],
        };
        DragSelection sweeping = new(new(Holding(1), 2, 3, true), null, null, Holding(1, 2, 3)),
            framing = new(null, new(Holding(0), MarqueeJoin.Add, 0, 0, 9, 9), null, Holding(0, 4));
        var inserted = Edit.Splice(5, 0, 0, 1);
        var after = sweeping.After(inserted);
        Assert.Equal((3, 4), (after.Sweep!.First, after.Sweep.Last));
        Assert.Equal([2, 3, 4], after.Preview!.Items);
        Assert.Equal([2], after.Sweep.Before.Items);
        Assert.Equal([1], framing.After(inserted).Marquee!.Before.Items);
        Assert.Same(DragSelection.None, sweeping.After(Edit.Splice(5, 2, 1, 0)));
        Assert.NotSame(DragSelection.None, framing.After(Edit.Splice(5, 2, 1, 0)));
        Assert.Same(DragSelection.None, DragSelection.None.After(inserted));

        ListState before = With(Five), now = With(new(Of(5, 2, 3, 4), null));
        Assert.Same(sweeping, DragSelection.Settle(before, before with { Drag = sweeping }, Unmoved));
        Assert.Same(DragSelection.None, DragSelection.Settle(before, now, Unmoved));
        var swept = DragSelection.Settle(before, now with { Drag = sweeping }, Unmoved);
        Assert.Equal((true, "", "2,3"), (swept.IsStale, string.Join(',', swept.Sweep!.Before.Items), string.Join(',',
            swept.Preview!.Items)));
        var framed = DragSelection.Settle(before, now with { Drag = framing }, Unmoved);
        Assert.Equal((true, "", "4"), (framed.IsStale, string.Join(',', framed.Marquee!.Before.Items), string.Join(',',
            framed.Preview!.Items)));
        Assert.Equal([0, 4], DragSelection.Settle(before, now with { Drag = framing },
            Unmoved with { Options = Options with { KeepsHiddenSelected = true } }).Preview!.Items);
        // Nothing shows that the sweep could go on from; a rectangle goes on.
        var empty = With(new(Of(5), null));
        Assert.Same(DragSelection.None, DragSelection.Settle(before, empty with { Drag = sweeping }, Unmoved));
        Assert.Empty(DragSelection.Settle(before, empty with { Drag = framing }, Unmoved).Preview!.Items);
    }

    [Fact]
    public void The_gap_of_what_comes_from_outside_is_one_of_the_rows_as_they_are()
    {
        GrabFrame frame = new(new("x"), 1, 0, 20, null);
        Gap Settled(RowMap rows, int index, int section) => new Guest(new(index, section), true, null, frame).Settle(rows).Gap;
        RowMap some = new(Of(6, 1, 3), null), sections = new(ItemSet.All(6), null,
            [new("A", "A", Of(6, 0, 1, 2), false, null), new("B", "B", Of(6, 3, 4, 5), false, null)]);
        Assert.Equal([1, 1, 3, 3, 4], Enumerable.Range(0, 5).Select(i => Settled(some, i, -1).Index));
        Assert.Equal(some.EndOf(-1), Settled(some, 5, -1));
        Assert.Equal(new(2, 0), Settled(sections, 2, 0));
        Assert.Equal(new(3, 1), Settled(sections, 2, 1));
        // Past the last of a section is its end, and a section that is gone is the nearest there is.
        Assert.Equal(sections.EndOf(0), Settled(sections, 4, 0));
        Assert.Equal((new Gap(4, 1), new Gap(0, 0)), (Settled(sections, 4, 7), Settled(sections, 0, -1)));
        Assert.Equal(5, new Guest(new(4), true, null, frame).After(Edit.Splice(6, 0, 0, 1)).Gap.Index);
    }

    [Fact]
    public void A_selection_settles_by_what_the_options_say_and_its_cursor_is_on_one_row()
    {
        var some = Selection.Nothing(5) with { Items = Of(5, 2), StartingPoint = Of(5, 2), Cursor = 2, IsSelecting = true };
        var none = some with { Items = Of(5), StartingPoint = Of(5) };
        bool Selects(Selection was, Selection now, bool always, bool ends) => Selected.Settle(With(Five, was), With(Five, now),
            Unmoved with { Options = Options with { AlwaysSelecting = always, EndsSelectingWhenEmpty = ends } }).IsSelecting;
        Assert.Equal((true, false, true, true, true), (Selects(some, none, false, false), Selects(some, none, false, true),
            Selects(some, some, false, true), Selects(none, none, false, true), Selects(some, none with { IsSelecting = false }, true,
                true)));

        ImmutableArray<SectionRows> two = [new("A", "A", Of(6, 0, 1, 2), false, null), new("B", "B", Of(6, 3, 4, 5), false, null)];
        RowMap both = new(ItemSet.All(6), null, two), one = new(ItemSet.All(6), null, [two[0] with { Members = ItemSet.All(6) }]);
        (string?, bool, int) Cursor(RowMap was, RowMap now, Selection selection)
        {
            var settled = Selected.Settle(With(was), With(now, selection), Unmoved);
            return (settled.Heading, settled.OnNotice, settled.Cursor);
        }
        var onB = Selection.Nothing(6) with { Heading = "B" };
        Assert.Equal(("B", false, -1), Cursor(both, both, onB));
        // On an item it is not on the heading any more; and where the heading goes, the item that comes there has it.
        Assert.Equal((null, false, 0), Cursor(both, both, onB with { Cursor = 0 }));
        Assert.Equal((null, false, 3), Cursor(both, one, onB));
        Assert.Equal((null, false, 0), Cursor(both, new(ItemSet.All(6), null), Selection.Nothing(6) with { Heading = "A" }));
        Assert.Equal((null, false, 1), Cursor(both, new(Of(6, 0, 1), null), onB));
        Assert.Equal((null, false, -1), Cursor(both, new(Of(6), null), onB));
        // The row after the items: what comes in there has the cursor; where it is gone, the last item.
        RowMap Footed(params int[] shown) => new(Of(6, shown), null, [], null, null, true);
        var onFooter = Selection.Nothing(6) with { OnNotice = true };
        Assert.Equal((null, true, -1), Cursor(Footed(0, 1), Footed(0, 1), onFooter));
        Assert.Equal((null, true, -1), Cursor(Footed(0, 1), Footed(0), onFooter));
        Assert.Equal((null, false, 2), Cursor(Footed(0, 1), Footed(0, 1, 2, 3), onFooter));
        Assert.Equal((null, false, 1), Cursor(Footed(0, 1), new(Of(6, 0, 1), null), onFooter));
        Assert.Equal((null, false, 0), Cursor(Footed(0, 1), Footed(0, 1), onFooter with { Cursor = 0 }));
        Assert.Equal((null, false, -1), Cursor(Footed(0, 1), new(Of(6), null), onFooter));
    }

    // So that how many come in a slice depends on no machine.
    private sealed class Still : TimeProvider
    {
        public override long GetTimestamp() => 0;
    }

    private sealed record Plate(string Name)
    {
        public string Night { get; set; } = "tonight";

        public bool IsDone { get; set; }
    }

    [Fact]
    public void Who_is_bound_is_told_of_what_has_changed_and_of_nothing_else()
    {
        List<Plate> plates = [.. Enumerable.Range(0, 6).Select(i => new Plate($"P{i}"))];
        using var list = InteractiveList.Of(plates, p => p.Name, Options with
        {
            Parts = new() { Check = true, Handle = true },
            Time = new Still(),
        });
        var told = new SortedSet<string>(StringComparer.Ordinal);
        // The frame is another with whatever it shows.
        list.PropertyChanged += (_, e) => _ = e.PropertyName == "Frame" || told.Add(e.PropertyName!);
        void Tells(string wanted, Action change)
        {
            told.Clear();
            change();
            Assert.Equal(wanted, string.Join(" ", told));
        }
        Tells("Title", () => list.Title = "Plates");
        Tells("", () => list.Title = "Plates");
        Tells("Subtitle", () => list.Subtitle = "of tonight");
        Tells("Commands Marks", () => list.Marks = [new("done") { Get = p => p.IsDone, Set = (p, on) => p.IsDone = on }]);
        Tells("Commands", () => list.Commands = [new("lose", "Lose") { Do = _ => { }, Inverse = _ => { }, ShowIn = ShowIn.LeadingTray }]);
        Tells("CursorKey HeaderState SelectedCount SelectedItem SelectedItems SelectedKey SelectedKeys Selection", () => list.Select("P1"));
        Tells("HeaderState SelectedCount SelectedItem SelectedItems SelectedKey SelectedKeys Selection", () => list.Toggle("P1"));
        Tells("", () => list.Clear());
        Tells("IsSelecting Selection", () => list.Do(ActKind.BeginSelecting));
        Tells("IsSelecting Selection", () => list.Do(ActKind.EndSelecting));
        Tells("Viewport", () => list.ScrollTo(10));
        Tells("IsMenuOpen Menu", () => list.OpenMenu("P2"));
        Tells("IsMenuOpen Menu", () => list.CloseMenu());
        Tells("IsTrayOpen", () => list.OpenTray("P2", Swiping.Edge.Leading));
        Tells("IsTrayOpen", () => list.CloseTray());
        Tells("IsGrabbing", () => list.Grab("P2"));
        Tells("IsGrabbing", () => list.DropBack());
        Tells("HeaderState More RowCount Shown", () => list.More = More.ToCome);
        Tells("HeaderState RowCount Shown", () => list.Filter = p => p.Name != "P5");
        Tells("Columns", () => list.Columns = [new("name", "Name", p => p.Name)]);
        Tells("HeaderState RowCount Shown", () => list.SortBy = (x, y) => string.CompareOrdinal(y.Name, x.Name));
        Tells("HeaderState RowCount Shown", () => list.SortBy = null);
        Tells("BriefNotice", () => list.Notify("done"));
        Tells("CanUndo RunningCommands UndoName", () => list.RunCommand("lose", "P3"));
        Tells("CanRedo CanUndo UndoName", () => list.Undo());
        Tells("CanRedo CanUndo RunningCommands UndoName", () => list.Redo());
        Tells("Commands UndoName", () => list.ToggleMark("done", "P1"));
        Tells("CursorKey HeaderState SelectedCount SelectedItem SelectedItems SelectedKey SelectedKeys Selection", () =>
            list.Take(new KeyPress("ArrowDown")));
        Tells("Commands Count HeaderState RowCount Selection Shown", () => list.Fill([new("P9")]));
        Tells("Commands Count HeaderState IsFilling RowCount Selection Shown", () => list.Fill(Enumerable.Range(0, 900).Select(i =>
            new Plate($"N{i}"))));
        Tells("", () => plates.RemoveRange(3, 2));
        Tells("Commands Count HeaderState RowCount Selection Shown", () => list.Refresh());
        Tells("Commands Count HeaderState RowCount Shown", () => list.Refresh());
        Tells("Commands Count HeaderState IsFilling RowCount Selection Shown", () => list.Advance(1000));
    }
}
