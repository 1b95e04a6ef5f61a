using Lectica.Acts;
using Lectica.Commands;
using Lectica.Frames;
using Lectica.Input;
using Lectica.Items;
using Lectica.Selecting;
using Lectica.Swiping;

namespace Lectica;

// What programs ask for. Each call is one turn.
public sealed partial class InteractiveList<TItem, TKey>
{
    // ── Selecting ──

    /// <summary>Selects one item alone.</summary>
    public Response Select(TKey key) => DoTo(ActKind.Select, key);

    /// <summary>Lets one item join the selection, if it is not in it.</summary>
    public Response Add(TKey key) => DoTo(ActKind.Add, key);

    /// <summary>Lets one item join or leave the selection.</summary>
    public Response Toggle(TKey key) => DoTo(ActKind.Toggle, key);

    /// <summary>Selects the range from the anchor to an item.</summary>
    public Response ExtendTo(TKey key) => DoTo(ActKind.Extend, key);

    /// <summary>
    /// Puts the range from the anchor to an item to the anchor's state, in addition to what was selected when the anchor was set.
    /// </summary>
    public Response ExtendAddingTo(TKey key) => DoTo(ActKind.ExtendAdding, key);

    /// <summary>
    /// Selects just these items, by index. The same rules hold as for the user: mode, limit, none that must stay, and none that is hidden
    /// or disabled.
    /// </summary>
    public Response SelectOnly(ItemSet items)
    {
        ArgumentNullException.ThrowIfNull(items);
        return Run(p =>
            p.Actor.Become(Selector.Replace(p.Core.Selection, items, p.Core.Rules), new(ActKind.Select), "call", isTraced: false));
    }

    /// <summary>Selects all items that show and are enabled, in addition to hidden ones that are selected.</summary>
    public Response SelectAll() => Do(ActKind.SelectAll);

    /// <inheritdoc/>
    public Response ToggleAll() => Do(ActKind.ToggleAll);

    /// <summary>Turns round every item that shows and is enabled.</summary>
    public Response Invert() => Do(ActKind.Invert);

    /// <summary>Selects nothing.</summary>
    public Response Clear() => Do(ActKind.Clear);

    /// <summary>Lets taps toggle from now on.</summary>
    public Response BeginSelecting() => Do(ActKind.BeginSelecting);

    /// <summary>Lets taps toggle no longer; the selection stays.</summary>
    public Response EndSelecting() => Do(ActKind.EndSelecting);

    /// <summary>Selects all items of a section that show and are enabled, or takes them out if they are all in.</summary>
    public Response ToggleSection(string section) => Run(p => p.Sections.Toggle(new Act(ActKind.ToggleSection, Text: section)));

    /// <summary>Does an act that needs no item.</summary>
    /// <exception cref="ArgumentException">The act needs an item, a key press or a pointer.</exception>
    public Response Do(ActKind kind)
    {
        var traits = ActTraits.Of(kind);
        if (traits.NeedsItem || !traits.Sources.HasFlag(ActSources.Call))
            throw new ArgumentException(
                $"The act '{traits.Name}' needs an item or a key press: use the call that takes one.", nameof(kind));
        return Run(p => p.Actor.Do(new Act(kind)));
    }

    /// <summary>Does an act to the item at an index, or to none.</summary>
    internal Response DoAt(ActKind kind, int index) => Here.Turns.Run(i => _parts.Actor.Do(new Act(kind, i)), index);

    private Response DoTo(ActKind kind, TKey key) => Run(key, kind, (p, index) => p.Actor.Do(new Act(kind, index)));

    /// <summary>Whether an act would be done now and change anything, or the reason why not. Nothing is changed.</summary>
    public Refusal? WhyNot(ActKind kind, int index = -1) => Here.Actor.WhyNot(kind, index);

    // ── Going about ──

    /// <summary>Moves the cursor to an item and brings it into view.</summary>
    public Response MoveCursorTo(TKey key) => Run(key, ActKind.MoveCursor, (p, index) =>
    {
        var response = p.Actor.Do(new Act(ActKind.MoveCursor, index));
        if (response.IsHandled) p.Scroller.BringIntoView(index);
        return response;
    });

    /// <summary>Raises <see cref="Activated"/> for an item.</summary>
    public Response Activate(TKey key) => DoTo(ActKind.Activate, key);

    /// <summary>
    /// Scrolls as little as possible, so that the item with this key shows whole. In an outline what it lies in expands.
    /// </summary>
    public Response Reveal(TKey key)
    {
        var index = Here.Store.IndexOf(key);
        return _parts.Turns.Run(i =>
        {
            var text = _parts.Store.TextOf(key);
            if (i < 0) return _parts.Core.Refuse(null, new(RefusalKind.OutsideList, $"There is no item with the key '{text}'."));
            if (!_parts.Core.Rows.Shown.Contains(i))
                return _parts.Core.Refuse(null, new(RefusalKind.Hidden, $"The filter hides the item with the key '{text}'."));
            _parts.Branches.Reveal(i);
            if (_parts.Core.Rows.RowOf(i) is null)
                return _parts.Core.Refuse(null, new(RefusalKind.Hidden, $"The section of the item with the key '{text}' is collapsed."));
            _parts.Scroller.BringIntoView(i);
            return Response.Handled;
        }, index);
    }

    /// <summary>Does what a press on a column's header does: sorts by it, up, then down, then not.</summary>
    public Response PressHeader(string column) => Run(p => p.Actor.Do(new Act(ActKind.SortBy, Text: column)));

    /// <summary>Collapses a section, or expands it again.</summary>
    public Response CollapseOrExpand(string section) =>
        Run(p => p.Sections.CollapseOrExpand(new Act(ActKind.CollapseOrExpand, Text: section)));

    /// <summary>Collapses the branch of an item of an outline, or expands it again.</summary>
    public Response CollapseOrExpandBranch(TKey key) => DoTo(ActKind.CollapseOrExpand, key);

    /// <summary>Collapses all branches of an outline.</summary>
    public Response CollapseAll() => Run(p => p.Branches.FoldAll(folded: true));

    /// <summary>Expands all branches of an outline, but for those that must first be read. Cost: the items.</summary>
    public Response ExpandAll() => Run(p => p.Branches.FoldAll(folded: false));

    /// <summary>Selects an item and all that is below it, or takes them out if they are all in.</summary>
    public Response ToggleBranch(TKey key) => DoTo(ActKind.ToggleBranch, key);

    /// <summary>
    /// How the branch of an item is; null of an item without one, and in a list without levels. Its state is that of the item and all below
    /// it, collapsed or not. Cost: a logarithm where nothing is disabled and no filter is set.
    /// </summary>
    public BranchState? BranchOf(TKey key) => Here.Store.IndexOf(key) is >= 0 and var index ? _parts.BranchAt(index) : null;

    /// <summary>Items of an outline with all that is below them, in reading order; of other lists the items themselves. By key.</summary>
    public IReadOnlyList<TKey> WithBelow(IEnumerable<TKey> keys)
    {
        ArgumentNullException.ThrowIfNull(keys);
        return [.. Here.Core.Rows.WithBelow(_parts.Lander.ItemsWith(keys)).Select(_parts.Store.KeptKeyAt)];
    }

    /// <summary>How deep an item of an outline lies, from 0; 0 in a list without levels.</summary>
    public int LevelOf(TKey key) =>
        Here.Store.IndexOf(key) is >= 0 and var index ? _parts.Core.Rows.Levels?[index] ?? 0
        : throw new KeyNotFoundException($"There is no item with the key '{_parts.Store.TextOf(key)}'.");

    /// <summary>Opens the tray at an edge of an item's row, as a swipe would.</summary>
    public Response OpenTray(TKey key, Edge edge) => Run(key, ActKind.OpenTray, (p, index) => p.Trays.Open(index, edge));

    /// <summary>Closes the open tray, if there is one.</summary>
    public Response CloseTray() => Do(ActKind.CloseTray);

    /// <summary>Asks for the menu of an item, or of the selection if it is in it, next to its row.</summary>
    public Response OpenMenu(TKey key) => DoTo(ActKind.OpenMenu, key);

    /// <inheritdoc/>
    public Response CloseMenu() => Do(ActKind.CloseMenu);

    /// <inheritdoc/>
    public void ScrollMenu(double top, bool submenu = false)
    {
        if (!double.IsFinite(top)) throw new ArgumentOutOfRangeException(nameof(top), top, "A menu is scrolled by so many px.");
        Set(p => p.Menus.ScrollTo(top, submenu));
    }

    /// <inheritdoc/>
    public Response ChooseEntry(string id) => Run(p => p.Menus.Choose(id, "call"));

    // ── Commands ──

    /// <inheritdoc/>
    public Response RunCommand(string id)
    {
        ArgumentNullException.ThrowIfNull(id);
        return Run(p => p.Runner.RunFor(id, p.Actor.TargetOfCommand(), "call"));
    }

    /// <summary>Why a command would not run now for what <see cref="RunCommand(string)"/> runs it for; null where it would.</summary>
    public Refusal? WhyNotRun(string id) => Reading(p => p.Runner.WhyNotRun(id, p.Actor.TargetOfCommand()));

    /// <summary>The same for <see cref="RunCommand(string, TKey)"/>.</summary>
    public Refusal? WhyNotRun(string id, TKey key) => Reading(p => p.Store.IndexOf(key) is >= 0 and var index
        ? p.Runner.WhyNotRun(id, p.Actor.TargetAt(index))
        : new(RefusalKind.OutsideList, $"There is no item with the key '{p.Store.TextOf(key)}' in the list of {p.Store.Count}."));

    /// <summary>Runs a command for an item, or for the selection if it is in it: as a menu on its row does.</summary>
    public Response RunCommand(string id, TKey key)
    {
        ArgumentNullException.ThrowIfNull(id);
        return Run(key, ActKind.RunCommand, (p, index) => p.Runner.RunFor(id, p.Actor.TargetAt(index), "call"));
    }

    /// <summary>Asks running commands to stop; those that heed their token end as failed, with its exception.</summary>
    public void CancelCommands() => Set(p => p.Runner.Cancel());

    /// <summary>
    /// Asks all runs of a command to stop. Those that do are told of by <see cref="CommandCancelled"/>: they have not failed.
    /// </summary>
    public Response CancelCommand(string id) => Run(p => p.Runner.Cancel(id, null));

    /// <summary>Asks the run of a command to stop that is done to an item, among others perhaps, or to the whole list.</summary>
    public Response CancelCommand(string id, TKey key) =>
        Run(key, ActKind.RunCommand, (p, index) => p.Runner.Cancel(id, ItemSet.None(p.Store.Count).With(index)));

    /// <inheritdoc/>
    public Toolbar ToolbarFor(double width, Func<string, double>? labelWidth = null, bool hasIcons = true) => Reading(p =>
    {
        double WidthOf(string label, string? icon) =>
            hasIcons && icon is not null ? Toolbar.OverflowWidth : labelWidth?.Invoke(label) ?? (12 * label.Length) + 24;
        var target = p.Actor.TargetOfCommand();
        return Toolbar.Fit([.. p.Book.InToolbar.Select(c => p.Book.ToolOf(c, target, WidthOf) with { Priority = c.Priority })], width);
    });

    /// <summary>The key rules that are in force: those which a key can reach in some state of the list.</summary>
    public IEnumerable<KeyRuleInForce> KeyRulesInForce =>
        Options.Keys.InForce(Options.Policy, Options.ModKey, Options.SpaceMark is not null, Options.MayMove, Outline is not null);

    /// <summary>
    /// What is wrong with the chords of commands: those that the key table or finding by typing takes first, and those that the platform
    /// keeps for itself.
    /// </summary>
    public IEnumerable<ChordConflict<TItem, TKey>> ChordConflicts()
    {
        var inForce = KeyRulesInForce.ToList();
        foreach (var command in Commands)
            foreach (var chord in command.Chords)
            {
                var taken = inForce.FirstOrDefault(
                    r => r.Rule.Chord.Key == chord.Key && r.Rule.Chord.Resolve(Options.ModKey) == chord.Resolve(Options.ModKey));
                if (taken.Rule is { } rule)
                    yield return new(
                        command, chord,
                            $"{(taken.Always ? "never reached" : "reached only at times")}: {rule.Chord} means " +
                                $"{string.Join(" and ", rule.Acts.Select(ActNames.Of))}");
                else if (Options.Keys.FindsByTyping && new System.Globalization.StringInfo(chord.Key).LengthInTextElements == 1
                    && (chord.Resolve(Options.ModKey) & ~Modifiers.Shift) == Modifiers.None)
                    yield return new(command, chord, "never reached: characters find by typing");
                if (ReservedChords.Reason(chord, Options.ModKey) is { } reason)
                    yield return new(command, chord, $"kept by the platform: {reason}");
            }
    }

    // ── Marks ──

    /// <summary>Turns a mark of one item round.</summary>
    public Response ToggleMark(string name, TKey key) =>
        Run(key, ActKind.ToggleMark,
        (p, index) => p.Marker.Toggle(new Act(ActKind.ToggleMark, index, Text: name), ItemSet.None(p.Store.Count).With(index)));

    /// <summary>
    /// Turns a mark of the selection round, or where nothing is selected of the item at the cursor: on if it is mixed, else on or off.
    /// </summary>
    public Response ToggleMark(string name) =>
        Run(p => p.Marker.Toggle(new Act(ActKind.ToggleMark, p.Core.Selection.Cursor, Text: name), p.Actor.TargetOfCommand()));

    /// <summary>
    /// The same for a command's target, as far as it is still there, shows and is enabled. Cost: the items whose mark changes; keys are
    /// looked up only where the list has changed since the command started.
    /// </summary>
    public Response ToggleMarkOf(string name, CommandTarget<TItem, TKey> target)
    {
        ArgumentNullException.ThrowIfNull(target);
        return Run(p => p.Marker.Toggle(new Act(ActKind.ToggleMark, Text: name), p.Teller.SetOf(target)));
    }

    /// <summary>The same for the items with these keys, as far as they show and are enabled. Cost: a look-up for each key.</summary>
    public Response ToggleMarkOf(string name, IEnumerable<TKey> keys)
    {
        ArgumentNullException.ThrowIfNull(keys);
        TKey[] wanted = [.. keys];
        return Run(p => p.Marker.Toggle(new Act(ActKind.ToggleMark, Text: name), p.Lander.ItemsWith(wanted)));
    }

    /// <summary>The same for all items that show and are enabled.</summary>
    public Response ToggleMarkOfAll(string name) =>
        Run(p => p.Marker.Toggle(new Act(ActKind.ToggleMark, Text: name), p.Core.Rules.Choosable));

    /// <summary>Turns a mark of a section round: on if it is off or mixed, else off.</summary>
    public Response ToggleMarkOfSection(string name, string section) => Run(p => p.Sections.ToggleMark(name, section));

    /// <summary>Puts a mark of these items on or off.</summary>
    public Response SetMark(string name, ItemSet items, bool value)
    {
        ArgumentNullException.ThrowIfNull(items);
        return Run(p => p.Marker.Set(new Act(ActKind.ToggleMark, items.IsEmpty ? -1 : items.Nth(0), Text: name), items, value));
    }

    // ── Undo, feedback, storage ──

    /// <summary>Takes the last step back. Where it no longer makes sense it is dropped, and refused with the reason.</summary>
    public Response Undo() => Do(ActKind.Undo);

    /// <summary>Does the last step that was taken back again.</summary>
    public Response Redo() => Do(ActKind.Redo);

    /// <inheritdoc/>
    public Response UndoFromNotice() => Run(p => p.Feedback.Undo());

    /// <inheritdoc/>
    public Response RetryFromNotice() => Run(p => p.Feedback.Retry(p.Runner.Retry));

    /// <summary>
    /// Shows a text on an item's row for a moment, and says it. What is done to many at once is better said by <see cref="Notify"/>.
    /// </summary>
    /// <param name="key">The item's key.</param>
    /// <param name="text">What it says.</param>
    /// <param name="duration">For how long, ms; no number, or less than 0, is 0.</param>
    public Response Flash(TKey key, string text, double duration = 600)
    {
        ArgumentNullException.ThrowIfNull(text);
        return Run(key, ActKind.Activate, (p, index) => p.Feedback.Flash(index, text, duration));
    }

    /// <summary>Shows a brief notice, until another comes or its time is over.</summary>
    public void Notify(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        Set(p => p.Feedback.Notify(text, null));
    }

    /// <summary>
    /// Groups changes: selection-changed and property notices are raised once, when the outermost batch ends, with the difference
    /// between before and after. What the source and its items tell meanwhile may be read only when the list is next called, or at the
    /// end: the list as it is seen from outside is always that of now.
    /// </summary>
    public IDisposable Batch()
    {
        Here.Teller.BeginGathering();
        _parts.Source.BeginBulk();
        _parts.Turns.BeginBatch();
        return new BatchEnd(this);
    }

    private sealed class BatchEnd(InteractiveList<TItem, TKey> list) : IDisposable
    {
        private bool _done;

        public void Dispose()
        {
            if (_done || list._parts.Turns.IsDisposed) return;
            list._parts.Turns.EndBatch(() =>
            {
                list._parts.Source.EndBulk();
                list._parts.TakeLate();
                list._parts.Teller.EndGathering();
            });
            _done = true;
        }
    }
}
