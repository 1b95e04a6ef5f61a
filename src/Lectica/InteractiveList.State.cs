using Lectica.Commands;
using Lectica.Frames;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Selecting;
using Lectica.Tracing;

namespace Lectica;

// What it is now.
public sealed partial class InteractiveList<TItem, TKey>
{
    /// <summary>Which row shows which item.</summary>
    internal RowMap Rows => Here.Core.Rows;

    /// <summary>The number of rows, headings and notices included; none of what is collapsed.</summary>
    public int RowCount => Rows.Count;

    /// <summary>The items that the filter lets through, also in what is collapsed.</summary>
    public ItemSet Shown => Rows.Matching;

    /// <summary>The items that are disabled.</summary>
    public ItemSet Disabled => Here.Core.State.Showing.Disabled;

    /// <summary>What is selected, with anchor and cursor.</summary>
    public Selection Selection => Here.Core.Selection;

    /// <summary>The window through which the rows are seen, always inside the content.</summary>
    public Viewport Viewport => Axes.Turned(Here.Core.Viewport, Options.Layout);

    /// <summary>The rows as they lie.</summary>
    internal RowPlane Plane => Here.Framer.Plane;

    /// <inheritdoc/>
    public Frame Frame => Reading(p => p.Framer.Frame);

    /// <summary>
    /// Which parts rows have: those of the options, and a button for the menu where a long press does not open it, so that whoever has no
    /// keys and no second button comes to it too (WCAG 2.5.1).
    /// </summary>
    public RowParts Parts => Here.Parts;

    /// <summary>The part the keyboard is on, or null in a list whose key table has no part cursor.</summary>
    public Part? CursorPart => Here.Framer.CursorPart;

    /// <summary>The menu that is open, or null.</summary>
    public Menu? Menu => Here.Core.State.Menu.Menu;

    /// <summary>Whether a menu is open.</summary>
    public bool IsMenuOpen => Here.Core.State.Menu.IsOpen;

    /// <summary>Whether a tray is open.</summary>
    public bool IsTrayOpen => Here.Core.State.Tray is { IsOpen: true };

    /// <summary>Whether something is being dragged or swiped.</summary>
    public bool IsDragging => Here.Core.State.Stroke is not null;

    /// <summary>Whether items are taken up, by a pointer or without one.</summary>
    public bool IsGrabbing => Here.Core.State.Carrying.Grab is not null;

    /// <summary>The items that are taken up; none where nothing is.</summary>
    public ItemSet Grabbed => Here.Core.State.Carrying.Grab?.Items ?? ItemSet.None(_parts.Store.Count);

    /// <summary>The brief notice that shows, or null.</summary>
    public BriefNotice? BriefNotice => Here.Core.State.Feedback.Notice;

    /// <summary>Whether taps toggle.</summary>
    public bool IsSelecting => Selection.IsSelecting;

    /// <summary>Whether there is a step to take back.</summary>
    public bool CanUndo => !Here.Core.State.History.Done.IsEmpty;

    /// <summary>Whether there is a step to do again.</summary>
    public bool CanRedo => !Here.Core.State.History.Undone.IsEmpty;

    /// <summary>The name of the step that undo would take back, or null.</summary>
    public string? UndoName => Here.Core.State.History.Name;

    /// <summary>The commands that are running, by id, each with the keys of its target.</summary>
    public IEnumerable<RunningCommand<TKey>> RunningCommands =>
        [.. Here.Runner.Runs.Select(r => new RunningCommand<TKey>(r.Command.Id, r.Target.KeysRead(_parts.Store.Has)))];

    /// <summary>The keys of the collapsed sections.</summary>
    public IEnumerable<string> CollapsedSections =>
        [.. Here.Core.State.Showing.Sections.Select(s => s.Key).Where(_parts.Core.State.Showing.Collapsed.Contains)];

    /// <summary>The number of items of a section that show, and whether all, some or none of those that can be are selected.</summary>
    /// <exception cref="ArgumentException">There is no such section.</exception>
    public SectionCount SectionState(string section)
    {
        var shown = Rows.ShownIn(SectionAt(section));
        return new(shown.Count, Selector.StateOf(Selection.Items, shown.Except(Disabled)));
    }

    /// <summary>The items of a section, whether they show or not.</summary>
    /// <exception cref="ArgumentException">There is no such section.</exception>
    public ItemSet ItemsOfSection(string section) => Rows.Sections[SectionAt(section)].Members;

    private int SectionAt(string section) =>
        Here.Core.Rows.SectionWith(section) is >= 0 and var at ? at
            : throw new ArgumentException(_parts.Lander.NoSection(section).Reason, nameof(section));

    /// <summary>The items that have a mark.</summary>
    /// <exception cref="ArgumentException">There is no such mark.</exception>
    public ItemSet Marked(string name) =>
        Here.Core.State.Marks.Sets.TryGetValue(name, out var set) ? set
        : throw new ArgumentException(_parts.Marker.NoMark(name).Reason, nameof(name));

    /// <summary>The state of a mark over items: off, mixed or on.</summary>
    public TriState MarkState(string name, ItemSet items)
    {
        ArgumentNullException.ThrowIfNull(items);
        return Selector.StateOf(Marked(name), items);
    }

    /// <summary>
    /// The same over a command's target: what <see cref="Command{TItem, TKey}.CheckedFor"/> may say of a command that turns a mark round.
    /// Cost: keys are looked up only where the list has changed since the target was given.
    /// </summary>
    public TriState MarkState(string name, CommandTarget<TItem, TKey> target)
    {
        ArgumentNullException.ThrowIfNull(target);
        return Selector.StateOf(Marked(name), _parts.Teller.SetOf(target));
    }

    /// <summary>
    /// The list as it is now, by key: the last line of a played script's trace. Of a paged list those items that have been read; what is
    /// selected and has not been is told by place, such as <c>#1200</c>, of a thousand at most. Cost: a key an item.
    /// </summary>
    public TracedState StateLine()
    {
        var state = Here.Core.State;
        string? Text(int index) => _parts.Core.KeyText(index);
        var isPaged = _parts.Store.Pages is not null;
        IReadOnlyList<string> read = _parts.Store.Pages is { } pages ? [.. pages.Indexes.Order().Select(i => Text(i)!)] : [];
        IReadOnlyList<string> Keys(IEnumerable<int> indexes) => [.. indexes.Select(i => Text(i)!)];
        return new TracedState
        {
            Selected = isPaged ? _parts.Teller.KeysOf(state.Selection.Items) : Keys(state.Selection.Items),
            Cursor = state.Selection.Heading is { } heading ? $"heading:{heading}" : Text(state.Selection.Cursor),
            Anchor = Text(state.Selection.Anchor),
            Marks = state.Declared.Marks.ToDictionary(
                m => m.Name, m => isPaged ? _parts.Teller.KeysOf(state.Marks.Sets[m.Name]) : Keys(state.Marks.Sets[m.Name])),
            Open = state.Menu.IsOpen ? $"menu:{Text(state.Menu.Index)}" : state.Tray is { IsOpen: true } swipe
                ? $"tray:{swipe.Edge.ToString().ToLowerInvariant()}:{Text(swipe.Index)}" : null,
            Order = isPaged ? read : Keys(state.Showing.Rows.InOrder()),
            Source = isPaged ? read : Keys(Enumerable.Range(0, _parts.Store.Count)),
            Selecting = state.Selection.IsSelecting,
        };
    }
}
