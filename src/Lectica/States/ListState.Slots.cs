using System.Collections.Immutable;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Selecting;
using Lectica.Swiping;

namespace Lectica.States;

internal sealed partial record ListState
{
    /// <summary>
    /// All slots, in the order in which they settle and are told of. A property of <see cref="ListState"/> that is not here fails a test.
    /// </summary>
    public static ImmutableArray<Slot> Slots { get; } =
    [
        new Slot<Caption>(nameof(Caption), s => ref s._caption)
        {
            Tells = (a, b, changed) => Add(changed, (a.Title != b.Title, "Title"), (a.Subtitle != b.Subtitle, "Subtitle")),
        },
        new Slot<Declared>(nameof(Declared), s => ref s._declared)
        {
            Tells = (a, b, changed) =>
                Add(changed, (a.Marks != b.Marks, "Marks"), (a.Trays != b.Trays || a.HasMenuCommands != b.HasMenuCommands, "Commands")),
        },
        new Slot<Table>(nameof(Table), s => ref s._table)
        {
            DueAt = v => v.Sorting?.Due,
            Draws = Table.LooksSame,
            Tells = (a, b, changed) => Add(changed, (a.Columns != b.Columns, "Columns"), (a.Sort != b.Sort, "Sort")),
        },
        new Slot<Showing>(nameof(Showing), s => ref s._showing)
        {
            FollowedBy = (v, e) => v.After(e),
            SettledBy = Showing.Settle,
            DueAt = v => v.Due,
            Tells = (a, b, changed) =>
                Add(changed, (true, "RowCount"), (true, "Shown"), (true, "HeaderState"), (a.Shown.Universe != b.Shown.Universe, "Count")),
        },
        new Slot<Window>(nameof(Window), s => ref s._window)
        {
            FollowedBy = (v, e) => v.After(e),
            SettledBy = Window.Settle,
            Tells = (a, b, changed) => Add(changed, (a.Viewport != b.Viewport, "Viewport")),
            Draws = Window.LooksSame,
        },
        new Slot<Footer>(nameof(Footer), s => ref s._footer)
        {
            SettledBy = Footer.Settle,
            Tells = (a, b, changed) => Add(changed, (a.More != b.More, "More")),
        },
        new Slot<Selection>(nameof(Selection), s => ref s._selection)
        {
            FollowedBy = (v, e) => v.After(e),
            SettledBy = Selected.Settle,
            Tells = Selected.Changed,
        },
        // After the selection, which it says.
        new Slot<Reading>(nameof(Reading), s => ref s._reading)
        {
            FollowedBy = (v, e) => v.After(e),
            SettledBy = Reading.Settle,
            Draws = Reading.LooksSame,
        },
        new Slot<MarkSets>(nameof(Marks), s => ref s._marks)
        {
            FollowedBy = (v, e) => v.After(e),
            // Whether a command can be done, and is on, may depend on them.
            Tells = (a, b, changed) => Add(changed, (true, "Commands")),
        },
        new Slot<KeyFocus>(nameof(Focus), s => ref s._focus)
        {
            Tells = (a, b, changed) => Add(changed, (a.Part != b.Part, "CursorPart")),
        },
        new Slot<ImmutableArray<(int Index, Part Part)>>("Pressed", s => ref s._pressed)
        {
            FollowedBy = (v, e) => v.IsEmpty ? v : [.. v.Select(p => (Index: e.Apply(p.Index), p.Part)).Where(p => p.Index >= 0)],
        },
        new Slot<Swipe?>(nameof(Tray), s => ref s._tray)
        {
            FollowedBy = (v, e) => v?.After(e),
            SettledBy = Stroke.SettleTray,
            Tells = (a, b, changed) => Add(changed, (a?.IsOpen == true != (b?.IsOpen == true), "IsTrayOpen")),
        },
        new Slot<DragSelection>(nameof(Drag), s => ref s._drag)
        {
            FollowedBy = (v, e) => v.After(e),
            SettledBy = DragSelection.Settle,
        },
        new Slot<Carrying>(nameof(Carrying), s => ref s._carrying)
        {
            FollowedBy = (v, e) => v.After(e),
            SettledBy = Carrying.Settle,
            DueAt = v => v.Hover?.Due,
            Tells = (a, b, changed) => Add(changed, (a.Grab is null != b.Grab is null, "IsGrabbing")),
        },
        new Slot<Stroke?>(nameof(Stroke), s => ref s._stroke)
        {
            FollowedBy = (v, e) => v?.After(e),
            SettledBy = Stroke.Settle,
            Tells = (a, b, changed) => Add(changed, (a is null != b is null, "IsDragging")),
            Draws = NothingOfIt,
        },
        new Slot<MenuState>(nameof(Menu), s => ref s._menu)
        {
            FollowedBy = (v, e) => v.After(e),
            SettledBy = MenuState.Settle,
            Tells = (a, b, changed) => Add(changed, (a.IsOpen != b.IsOpen, "IsMenuOpen"), (a.Menu != b.Menu, "Menu")),
        },
        new Slot<FindState>(nameof(Find), s => ref s._find)
        {
            SettledBy = FindState.Settle,
            DueAt = v => v.Search?.Due,
            Draws = NothingOfIt,
        },
        new Slot<Filling?>(nameof(Filling), s => ref s._filling)
        {
            DueAt = v => v?.Due,
            Tells = (a, b, changed) => Add(changed, (a is null != b is null, "IsFilling")),
            Draws = NothingOfIt,
        },
        new Slot<Feedback>(nameof(Feedback), s => ref s._feedback)
        {
            FollowedBy = (v, e) => v.After(e),
            DueAt = v => v.Due,
            Tells = (a, b, changed) => Add(changed, (a.Notice != b.Notice, "BriefNotice")),
        },
        new Slot<ImmutableList<CommandRun>>(nameof(Runs), s => ref s._runs)
        {
            FollowedBy = CommandRun.After,
            Tells = (a, b, changed) => Add(changed, (true, "RunningCommands")),
        },
        // Steps keep their moment, and follow what came since when they are needed.
        new Slot<History>(nameof(History), s => ref s._history)
        {
            Tells = (a, b, changed) =>
                Add(changed, (a.Done.IsEmpty != b.Done.IsEmpty, "CanUndo"), (a.Undone.IsEmpty != b.Undone.IsEmpty, "CanRedo"),
                (a.Name != b.Name, "UndoName")),
            Draws = NothingOfIt,
        },
    ];

    /// <summary>Whether a frame shows the same of both.</summary>
    public static bool LookSame(ListState one, ListState other)
    {
        if (ReferenceEquals(one, other)) return true;
        foreach (var slot in Slots)
            if (!slot.LooksSame(one, other)) return false;
        return true;
    }

    /// <summary>When the first of its slots is due, ms; null where none is.</summary>
    public double? Due
    {
        get
        {
            var first = double.PositiveInfinity;
            foreach (var slot in Slots) first = Math.Min(first, slot.Due(this) ?? first);
            return double.IsPositiveInfinity(first) ? null : first;
        }
    }

    private static bool NothingOfIt<T>(T one, T other) => true;

    private static void Add(ISet<string> changed, params ReadOnlySpan<(bool Differs, string Property)> properties)
    {
        foreach (var (differs, property) in properties)
            if (differs) changed.Add(property);
    }
}
