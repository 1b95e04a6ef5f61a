using System.Collections.Immutable;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Selecting;
using Lectica.Swiping;

namespace Lectica.States;

/// <summary>
/// All slots, in the order in which they settle and are told of. A property of <see cref="ListState"/> that is not here fails a test.
/// </summary>
internal static class Slots
{
    public static ImmutableArray<Slot> All { get; } =
    [
        new Slot<Caption>("Caption", s => s.Caption, (s, v) => s with { Caption = v }, Stays, Settled(s => s.Caption), Never,
            (a, b, changed) => Add(changed, (a.Title != b.Title, "Title"), (a.Subtitle != b.Subtitle, "Subtitle"))),
        new Slot<Declared>("Declared", s => s.Declared, (s, v) => s with { Declared = v }, Stays, Settled(s => s.Declared), Never,
            (a, b, changed) => Add(changed, (a.Marks != b.Marks, "Marks"), (a.Trays != b.Trays || a.HasMenuCommands != b.HasMenuCommands, "Commands"))),
        new Slot<Table>("Table", s => s.Table, (s, v) => s with { Table = v }, Stays, Settled(s => s.Table), Never,
            (a, b, changed) => Add(changed, (a.Columns != b.Columns, "Columns"), (a.Sort != b.Sort, "Sort"))),
        new Slot<Showing>("Showing", s => s.Showing, (s, v) => s with { Showing = v }, (v, e) => v.After(e), Showing.Settle, v => v.Due,
            (a, b, changed) => Add(changed, (true, "Rows"), (true, "HeaderState"), (a.Shown.Universe != b.Shown.Universe, "Count"))),
        new Slot<Window>("Window", s => s.Window, (s, v) => s with { Window = v }, (v, e) => v.After(e), Window.Settle, Never,
            (a, b, changed) => Add(changed, (a.Viewport != b.Viewport, "Viewport")), Window.LooksSame),
        new Slot<Footer>("Footer", s => s.Footer, (s, v) => s with { Footer = v }, Stays, Footer.Settle, Never, (a, b, changed) => Add(changed, (a.More != b.More, "More"))),
        new Slot<Selection>("Selection", s => s.Selection, (s, v) => s with { Selection = v }, (v, e) => v.After(e), Selected.Settle, Never, Selected.Changed),
        // After the selection, which it says.
        new Slot<Reading>("Reading", s => s.Reading, (s, v) => s with { Reading = v }, (v, e) => v.After(e), Reading.Settle, Never, Nothing, Reading.LooksSame),
        new Slot<MarkSets>("Marks", s => s.Marks, (s, v) => s with { Marks = v }, (v, e) => v.After(e), Settled(s => s.Marks), Never, Nothing),
        new Slot<KeyFocus>("Focus", s => s.Focus, (s, v) => s with { Focus = v }, Stays, Settled(s => s.Focus), Never,
            (a, b, changed) => Add(changed, (a.Part != b.Part, "CursorPart"))),
        new Slot<ImmutableArray<(int Index, Part Part)>>("Pressed", s => s.Pressed, (s, v) => s with { Pressed = v },
            (v, e) => [.. v.Select(p => (Index: e.Apply(p.Index), p.Part)).Where(p => p.Index >= 0)], Settled(s => s.Pressed), Never, Nothing),
        new Slot<Swipe?>("Tray", s => s.Tray, (s, v) => s with { Tray = v }, (v, e) => v?.After(e), Stroke.SettleTray, Never,
            (a, b, changed) => Add(changed, (a?.IsOpen == true != (b?.IsOpen == true), "IsTrayOpen"))),
        new Slot<DragSelection>("Drag", s => s.Drag, (s, v) => s with { Drag = v }, (v, e) => v.After(e), DragSelection.Settle, Never, Nothing),
        new Slot<Carrying>("Carrying", s => s.Carrying, (s, v) => s with { Carrying = v }, (v, e) => v.After(e), Carrying.Settle, v => v.Hover?.Due,
            (a, b, changed) => Add(changed, (a.Grab is null != b.Grab is null, "IsGrabbing"))),
        new Slot<Stroke?>("Stroke", s => s.Stroke, (s, v) => s with { Stroke = v }, (v, e) => v?.After(e), Stroke.Settle, Never,
            (a, b, changed) => Add(changed, (a is null != b is null, "IsDragging")), NotDrawn),
        new Slot<MenuState>("Menu", s => s.Menu, (s, v) => s with { Menu = v }, (v, e) => v.After(e), MenuState.Settle, Never,
            (a, b, changed) => Add(changed, (a.IsOpen != b.IsOpen, "IsMenuOpen"), (a.Menu != b.Menu, "Menu"))),
        new Slot<FindState>("Find", s => s.Find, (s, v) => s with { Find = v }, Stays, FindState.Settle,
            v => v.Search is { Due: < double.PositiveInfinity and var due } ? due : null, Nothing, NotDrawn),
        new Slot<Feedback>("Feedback", s => s.Feedback, (s, v) => s with { Feedback = v }, (v, e) => v.After(e), Settled(s => s.Feedback), v => v.Due,
            (a, b, changed) => Add(changed, (a.Notice != b.Notice, "BriefNotice"))),
        new Slot<ImmutableList<CommandRun>>("Runs", s => s.Runs, (s, v) => s with { Runs = v }, CommandRun.After, Settled(s => s.Runs), Never,
            (a, b, changed) => Add(changed, (true, "RunningCommands"))),
        // Steps keep their moment, and follow what came since when they are needed.
        new Slot<History>("History", s => s.History, (s, v) => s with { History = v }, Stays, Settled(s => s.History), Never,
            (a, b, changed) => Add(changed, (a.Done.IsEmpty != b.Done.IsEmpty, "CanUndo"), (a.Undone.IsEmpty != b.Undone.IsEmpty, "CanRedo"), (a.Name != b.Name, "UndoName")), NotDrawn),
    ];

    /// <summary>Whether a frame shows the same of both.</summary>
    public static bool LookSame(ListState one, ListState other)
    {
        if (ReferenceEquals(one, other)) return true;
        foreach (var slot in All)
            if (!slot.LooksSame(one, other)) return false;
        return true;
    }

    /// <summary>When the first of them is due, ms; null where none is.</summary>
    public static double? Due(ListState state)
    {
        double? first = null;
        foreach (var slot in All)
            if (slot.Due(state) is { } due && !(first <= due)) first = due;
        return first;
    }

    // The words of the table above, for slots that hold nothing by index, stay as they are, and are never due.
    private static T Stays<T>(T value, Edit edit) => value;

    private static Slot<T>.Settler Settled<T>(Func<ListState, T> get) => (ListState _, ListState now, in Settling _) => get(now);

    private static double? Never<T>(T value) => null;

    private static bool NotDrawn<T>(T one, T other) => true;

    private static void Nothing<T>(T before, T now, ISet<string> changed)
    {
    }

    private static void Add(ISet<string> changed, params ReadOnlySpan<(bool Differs, string Property)> properties)
    {
        foreach (var (differs, property) in properties)
            if (differs) changed.Add(property);
    }
}
