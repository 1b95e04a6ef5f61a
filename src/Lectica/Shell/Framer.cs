using System.Collections.Immutable;
using Lectica.Acts;
using Lectica.Frames;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Moving;
using Lectica.Selecting;
using Lectica.States;

namespace Lectica.Shell;

/// <summary>The list as it would be if what is grabbed were dropped.</summary>
internal sealed record MovePreview(GrabState Grab, RowMap Before, RowMap Rows, Edit Edit, RowGeometry Geometry)
{
    /// <summary>Where they land, in the rows as they would be.</summary>
    public Gap Landing => Grab.Gap with { Index = Edit.Apply(Grab.Items.Nth(0)) };
}

/// <summary>What of the present a frame shows that is not a state: where things are under a pointer.</summary>
internal interface IFrameSource
{
    /// <summary>The row that is swiped, as it is now.</summary>
    Swiping.Swipe? Swipe { get; }

    /// <summary>How rows swipe.</summary>
    Swiping.SwipePhysics Physics { get; }

    /// <summary>Where the swiped row lies, for hit testing.</summary>
    ShiftedRow? Shifted { get; }

    /// <summary>The rectangle that is dragged.</summary>
    Marquee? Marquee { get; }

    /// <summary>What is drawn of what is grabbed.</summary>
    GrabFrame? Card { get; }

    /// <summary>What a pull uncovers above the rows.</summary>
    PullFrame? Pull { get; }

    /// <summary>The items that pointers are down on, with the part.</summary>
    IReadOnlyList<(int Index, Part Part)> Pressed { get; }

    /// <summary>The items that pointers came down on and have not left.</summary>
    IReadOnlyList<int> Touched { get; }

    /// <summary>Which parts rows have.</summary>
    RowParts Parts { get; }

    /// <summary>How a browser may use touches on a part itself, in CSS's words.</summary>
    string TouchActionOf(PartKind part);
}

/// <summary>Makes frames of the state, and keeps of the frame before what looks the same.</summary>
internal sealed class Framer<TItem, TKey>(Core core, ItemStore<TItem, TKey> store) : IRowsWatcher where TKey : notnull
{
    private readonly SeenRows _seen = new(core);
    private Frame? _frame;
    private ListState? _of;
    private long _number;
    private RowPlane? _plane;
    private MovePreview? _preview;
    private ImmutableArray<Part> _keyParts;
    private RowParts? _keyPartsOf;
    private bool _keyPartsExpand;

    private FrameInput? _input;

    /// <summary>What is not a state.</summary>
    public IFrameSource Source { get; set; } = null!;

    /// <summary>How many have a mark on an item; null where no mark is counted.</summary>
    public Func<string, int, bool, int?>? CountOf { get; set; }

    /// <summary>What a row says of its item; its <c>ToString()</c> where null.</summary>
    public Func<TItem, RowContent>? Content { get; set; }

    /// <summary>What a row says of an item.</summary>
    public RowContent ContentAt(int index) => ContentOf(store.ItemAt(index));

    public RowContent ContentOf(TItem item) =>
        Content is null && !core.State.Table.Columns.IsEmpty ? new(LabelOf(item)) : core.App.Ask(Content ?? AsText, item);

    /// <summary>What columns say of an item.</summary>
    public Func<int, ImmutableArray<string>> CellsAt { get; set; } = null!;

    /// <summary>Whether the list can be sorted by a column.</summary>
    public Func<string, bool> SortsBy { get; set; } = null!;

    /// <summary>What the first column says of one.</summary>
    public Func<TItem, string> LabelOf { get; set; } = null!;

    private static readonly Func<TItem, RowContent> AsText = item => new(item?.ToString() ?? "");

    /// <summary>Nothing of the frame before can be kept: what rows say is another.</summary>
    public void Forget()
    {
        (_frame, _of) = (null, null);
        _seen.Forget();
    }

    /// <inheritdoc/>
    public void RowsChanged() => _seen.RowsChanged();

    /// <summary>The rows as they lie.</summary>
    public RowPlane Plane
    {
        get
        {
            var (rows, geometry, viewport, parts, shifted) = (core.Rows, core.Geometry, core.Viewport, Source.Parts, Source.Shifted);
            if (_plane is { } known && ReferenceEquals(known.Rows, rows) && known.Geometry == geometry && known.Viewport == viewport
                && ReferenceEquals(known.Parts, parts) && known.Shifted is null && shifted is null) return known;
            return _plane = new(rows, geometry, viewport, parts, core.Options.IsRightToLeft, shifted)
            {
                HasStickyHeadings = core.Options.HasStickyHeadings,
                Indent = core.Options.Indent,
            };
        }
    }

    /// <summary>The rows as they would be; null where nothing is grabbed, or a drop would change nothing.</summary>
    public MovePreview? Preview
    {
        get
        {
            var carrying = core.State.Carrying;
            var rows = core.Rows;
            if (carrying.Grab is not { Items.IsEmpty: false } grab || carrying.IsAway || carrying.NoDrop is not null
                || !Moves.Changes(grab.Items, grab.Gap, rows)) return null;
            return _preview is { } known && ReferenceEquals(known.Grab, grab) && ReferenceEquals(known.Before, rows) ? known
                : _preview = PreviewOf(grab, rows);
        }
    }

    private MovePreview PreviewOf(GrabState grab, RowMap rows)
    {
        var edit = Edit.Move(rows.WithBelow(grab.Items), grab.Gap.Index);
        var moved = rows.Outline is { } outline ? new RowMap(outline.Moved(edit, grab.Items, grab.Gap), null, rows.HasFooter)
            : new RowMap(edit.Apply(rows.Shown), null,
            [.. rows.Sections.Select(
                (s, i) => s with
                {
                    Members = edit.Apply(i == grab.Gap.Section ? s.Members.Union(grab.Items) : s.Members.Except(grab.Items)),
                })],
            null, null, rows.HasFooter);
        return new(grab, rows, moved, edit, Window.GeometryOf(moved, core.State.Window, edit, core.Options));
    }

    /// <summary>The parts that the keyboard goes through in a table with a part cursor, from the leading edge on.</summary>
    public ImmutableArray<Part> KeyParts
    {
        get
        {
            var parts = Source.Parts;
            if (ReferenceEquals(parts, _keyPartsOf) && _keyPartsExpand == core.Rows.Levels is not null) return _keyParts;
            _keyPartsExpand = core.Rows.Levels is not null;
            ImmutableArray<Part> check = parts.Check ? [new(PartKind.Check)] : [], menu = parts.Menu ? [new(PartKind.Menu)] : [],
                handle = parts.Handle ? [new(PartKind.Handle)] : [];
            _keyPartsOf = parts;
            ImmutableArray<Part> expander = core.Rows.Levels is null ? [] : [new(PartKind.Expander)];
            return _keyParts =
                [.. expander, .. check, .. parts.Marks.Select(m => new Part(PartKind.Mark, m)), Part.Body, .. menu, .. handle];
        }
    }

    private readonly bool _hasPartCursor = core.Options.Keys.Rules.Any(r => r.Acts.Contains(ActKind.MovePart));

    /// <summary>The part the keyboard is on, or null in a list whose key table has no part cursor.</summary>
    public Part? CursorPart => !_hasPartCursor ? null : KeyParts[Math.Clamp(core.State.Focus.Part, 0, KeyParts.Length - 1)];

    /// <summary>What there is to draw. The same object until something changes.</summary>
    public Frame Frame
    {
        get
        {
            var state = core.State;
            var isSame = _of is { } known && ListState.LookSame(known, state);
            if (_frame is { } frame && isSame && _number == core.Out.FrameNumber) return _seen.See(frame);
            // Inside a gap only what is carried moves: the rows are kept, so that a host need not look at them.
            if (_frame is { Grab: { } drawn } && isSame && Source.Card is { HasPointer: true } card)
                return Keep(_seen.AtRest(_frame) with { Grab = Carried(drawn, card) });
            return Keep(_seen.WithPlaces(FrameBuilder.Build(InputOf(state, Preview))));
        }
    }

    private GrabFrame Carried(GrabFrame drawn, GrabFrame card)
    {
        if (!core.Geometry.IsAcross) return drawn with { Top = card.Top, Left = card.Left };
        var at = core.Axes.Out(new(card.Left, card.Top, card.Width, card.Height));
        return drawn with { Top = at.Top, Left = at.Left };
    }

    private Frame Keep(Frame frame)
    {
        (_frame, _of, _number) = (frame, core.State, core.Out.FrameNumber);
        return _seen.See(frame);
    }

    /// <summary>Rows of the frame before whose items only change places: where nothing differs but the gap of what is grabbed.</summary>
    private ImmutableArray<RowFrame> RowsToKeep(ListState state)
    {
        // In an outline what is carried changes its level.
        if (_frame is null || core.Rows.Levels is not null || core.Geometry.IsAcross || _of is not { } of || of.Carrying.Grab is null
            || state.Carrying.Grab is null || !ReferenceEquals(of.Carrying.Grab.Items, state.Carrying.Grab.Items)) return [];
        foreach (var slot in ListState.Slots)
            if (slot.Name is not nameof(ListState.Carrying) && !slot.LooksSame(of, state)) return [];
        return _frame.Rows;
    }

    private FrameInput InputOf(ListState state, MovePreview? preview)
    {
        var options = core.Options;
        // What it asks is made once, not for each frame.
        _input ??= new()
        {
            ContentOf = ContentAt,
            KeyTextOf = core.KeyText,
            IsRead = store.Has,
            CellsOf = CellsAt,
            SortsBy = SortsBy,
            TouchActionOf = Source.TouchActionOf,
            LookOf = name => core.State.Declared.LookOf(name),
        };
        _input.Begin();
        _input.Plane = preview is null ? Plane
            : new(preview.Rows, preview.Geometry, core.Viewport, Source.Parts, options.IsRightToLeft)
            {
                HasStickyHeadings = options.HasStickyHeadings,
                Indent = options.Indent,
            };
        _input.Move = preview?.Edit;
        _input.Selection = state.Drag.Preview ?? state.Selection;
        _input.Rules = core.Rules;
        _input.CountOf = CountOf;
        _input.PendingText = options.Phrases.RowLoading;
        _input.Failed = state.Reading.Failed;
        _input.FailedText = state.Reading.Why;
        _input.Pressed = PressedNow();
        _input.CursorPart = CursorPart;
        (_input.HasFocus, _input.ShowsRing) = (state.Focus.IsHere, state.Focus is { IsHere: true, IsByPointer: false });
        _input.MayEndSelecting = !options.AlwaysSelecting;
        _input.Table = state.Table.For(state.Window.TextScale);
        _input.HeaderCursor = state.Focus is { IsHere: true, Header: var header } ? header : -1;
        _input.Title = state.Caption.Title;
        _input.Subtitle = state.Caption.Subtitle;
        _input.Swipe = Source.Swipe;
        _input.Physics = Source.Physics;
        _input.Marquee = Source.Marquee;
        _input.Grabbed = state.Carrying.Grab?.Items;
        _input.Grab = Source.Card;
        _input.Pull = Source.Pull;
        _input.Taken = state.Carrying is { Guest: null, Grab: { Items.IsEmpty: false } carried } ? carried.Pressed >= 0 ? carried.Pressed
            : carried.Items.Nth(0) : -1;
        _input.Gap = preview?.Landing ?? state.Carrying.Grab?.Gap ?? state.Carrying.Guest?.Gap ?? default;
        _input.Marked = state.Marks.Sets;
        _input.FlashOn = state.Feedback.Flashes.IsEmpty ? null : state.Feedback.Flashes.TextOn;
        _input.Runs = state.Runs.IsEmpty ? []
            : [.. state.Runs.Where(r => !r.IsWhole).Select(r => (r.Items, new BusyFrame(r.Label, r.Progress)))];
        _input.Menu = state.Menu.Menu;
        _input.Notice = state.Feedback.Notice;
        _input.More = state.Footer.More;
        _input.MoreText = state.Footer.HasRow ? Footer.Say(state.Footer.More, options.Phrases) : "";
        _input.RetryText = options.Phrases.Retry;
        _input.Overscan = options.Overscan;
        _input.RowsToKeep = RowsToKeep(state);
        _input.Touched = options.Overscan > 0 ? Source.Touched : [];
        _input.Before = preview?.Before;
        _input.GeometryBefore = preview is null ? null : core.Geometry;
        _input.CursorRow = preview is null ? Scroller.CursorRowIn(state) : state.Selection.Heading is { } heading
            ? preview.Rows.HeadingOf(preview.Rows.SectionWith(heading))
            : state.Selection.Cursor >= 0 ? preview.Rows.RowOf(preview.Edit.Apply(state.Selection.Cursor)) : null;
        return _input;
    }

    // What is disabled gives no answer to a press.
    private IReadOnlyList<(int Index, Part Part)> PressedNow()
    {
        var (pressed, menu) = (Source.Pressed, core.State.Menu);
        // A menu is for the selection, which is seen, or for one item, which looks pressed as long as it is open.
        if (menu is { IsOpen: true, Menu: not null } && !core.Selection.Items.Contains(menu.Index))
            pressed = [.. pressed, (menu.Index, Part.Body)];
        return pressed.Count == 0 ? pressed : [.. pressed.Where(p => p.Index < 0 || !core.State.Showing.Barred.Contains(p.Index))];
    }
}
