using System.Collections.Immutable;
using Lectica.Input;

namespace Lectica.Acts;

/// <summary>
/// What keys mean: rules tried in order, of which the first that takes the key gives the acts. Three tables ship, after the listbox
/// and grid patterns of the WAI-ARIA Authoring Practices.
/// </summary>
/// <param name="Name">The table's name.</param>
/// <param name="Rules">The rules.</param>
/// <param name="MovingSelects">Whether the item that the cursor comes to is selected, also when it is found by typing.</param>
/// <param name="FindsByTyping">Whether printable characters that no rule takes find an item.</param>
public sealed record KeyTable(string Name, ImmutableArray<KeyRule> Rules, bool MovingSelects = false, bool FindsByTyping = true)
{
    /// <summary>Whether both have the same name and the same rules in the same order.</summary>
    public bool Equals(KeyTable? other) =>
        other is not null && (Name, MovingSelects, FindsByTyping) == (other.Name, other.MovingSelects, other.FindsByTyping)
        && Rules.AsSpan().SequenceEqual(other.Rules.AsSpan());

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Name, Rules.Length);

    private static readonly RuleCondition MayClear =
        new("with a selection that may be cleared", s => s.HasSelection && s.Policy.MayBeEmpty);

    private static readonly RuleCondition CarryingInOutline =
        new("while carrying in an outline", s => s is { IsCarrying: true, IsOutline: true });

    private static readonly RuleCondition MovableInOutline =
        new("where items may move in an outline", s => s is { MayMove: true, IsOutline: true });

    private static readonly RuleCondition NotTyping = new("unless typing", s => !s.IsTyping);

    private static readonly (string Key, Direction Direction)[] Ways =
    [
        ("ArrowUp", Direction.Previous), ("ArrowDown", Direction.Next), ("Home", Direction.First), ("End", Direction.Last),
        ("PageUp", Direction.PageUp), ("PageDown", Direction.PageDown),
    ];

    // What carries items goes before all else that the keys mean.
    private static ImmutableArray<KeyRule> WhileCarrying =>
    [
        .. Ways.Select(w => new KeyRule(new(w.Key), [ActKind.Hover], w.Direction, RuleCondition.Carrying)),
        new(new("ArrowRight"), [ActKind.Hover], Direction.Inward, CarryingInOutline),
        new(new("ArrowLeft"), [ActKind.Hover], Direction.Outward, CarryingInOutline),
        new(new("Enter"), [ActKind.Drop]) { When = RuleCondition.Carrying },
        new(new("Space"), [ActKind.Drop]) { When = RuleCondition.Carrying },
        new(new("Escape"), [ActKind.DropBack]) { When = RuleCondition.Carrying },
    ];

    /// <summary>Moving the cursor selects: for lists in which the selection is what the app works with.</summary>
    public static KeyTable Moving { get; } = new("moving",
    [
        .. WhileCarrying,
        .. InLevels,
        .. Ways.Select(w => new KeyRule(new(w.Key), [ActKind.MoveCursor], w.Direction, RuleCondition.NoSelection)),
        .. Ways.Select(w => new KeyRule(new(w.Key), [ActKind.Select], w.Direction)),
        .. Ways.Select(w => new KeyRule(new(w.Key, Modifiers.Shift), [ActKind.Extend], w.Direction, RuleCondition.Any)),
        // Not with the page keys: browsers switch tabs by those.
        .. Ways.Take(4).Select(w => new KeyRule(new(w.Key, Modifiers.Ctrl), [ActKind.MoveCursor], w.Direction)),
        new(new("Home", Modifiers.Shift, Mod: true), [ActKind.Extend], Direction.First, RuleCondition.Any),
        new(new("End", Modifiers.Shift, Mod: true), [ActKind.Extend], Direction.Last, RuleCondition.Any),
        new(new("Space"), [ActKind.Select], Direction.Here, NotTyping),
        new(new("Space", Modifiers.Shift), [ActKind.Extend], Direction.Here, RuleCondition.Any),
        new(new("Space", Modifiers.Ctrl), [ActKind.Toggle], Direction.Here, RuleCondition.Any),
        new(new("Space", Modifiers.Ctrl | Modifiers.Shift), [ActKind.ToggleBranch], Direction.Here, RuleCondition.ManyInOutline),
        .. Common,
    ], MovingSelects: true);

    /// <summary>Moving the cursor leaves the selection, Space toggles: for check lists and lists that are mostly touched.</summary>
    public static KeyTable Toggling { get; } = new("toggling",
    [
        .. WhileCarrying,
        .. InLevels,
        .. Ways.Select(w => new KeyRule(new(w.Key), [ActKind.MoveCursor], w.Direction)),
        new(new("ArrowUp", Modifiers.Shift), [ActKind.Toggle], Direction.Previous, RuleCondition.Many),
        new(new("ArrowDown", Modifiers.Shift), [ActKind.Toggle], Direction.Next, RuleCondition.Many),
        new(new("Home", Modifiers.Shift, Mod: true), [ActKind.ExtendAdding], Direction.First, RuleCondition.Many),
        new(new("End", Modifiers.Shift, Mod: true), [ActKind.ExtendAdding], Direction.Last, RuleCondition.Many),
        new(new("Space"), [ActKind.ToggleMark], Direction.Here, new("where Space marks, unless typing", s => s.SpaceMarks && !s.IsTyping)),
        new(new("Space"), [ActKind.ToggleBranch], Direction.Here,
            new("in an outline, mode multiple, unless typing", s => s is { IsOutline: true, IsTyping: false } && s.Policy.SelectsMany)),
        new(new("Space"), [ActKind.Toggle], Direction.Here, NotTyping),
        new(new("Space", Modifiers.Shift), [ActKind.ExtendAdding], Direction.Here, RuleCondition.Many),
        .. Common,
    ]);

    /// <summary>For rows that hold controls: left and right go from part to part.</summary>
    public static KeyTable Grid { get; } = new("grid",
    [
        .. WhileCarrying,
        new(new("ArrowUp"), [ActKind.MoveCursor], Direction.Previous),
        new(new("ArrowDown"), [ActKind.MoveCursor], Direction.Next),
        new(new("PageUp"), [ActKind.MoveCursor], Direction.PageUp),
        new(new("PageDown"), [ActKind.MoveCursor], Direction.PageDown),
        new(new("ArrowLeft"), [ActKind.MovePart], Direction.PartLeft),
        new(new("ArrowRight"), [ActKind.MovePart], Direction.PartRight),
        new(new("Home"), [ActKind.MovePart], Direction.FirstPart),
        new(new("End"), [ActKind.MovePart], Direction.LastPart),
        new(new("Home", Modifiers.Ctrl), [ActKind.MoveCursor], Direction.First),
        new(new("End", Modifiers.Ctrl), [ActKind.MoveCursor], Direction.Last),
        new(new("ArrowUp", Modifiers.Shift), [ActKind.Extend], Direction.Previous, RuleCondition.Any),
        new(new("ArrowDown", Modifiers.Shift), [ActKind.Extend], Direction.Next, RuleCondition.Any),
        new(new("Space", Modifiers.Shift), [ActKind.Toggle], Direction.Here, RuleCondition.Any),
        new(new("Enter"), [ActKind.PressPart]),
        new(new("Space"), [ActKind.PressPart]),
        .. Common.Where(r => r.Chord != new KeyChord("Enter")),
    ], FindsByTyping: false);

    // After the treegrid pattern of the WAI-ARIA Authoring Practices.
    private static ImmutableArray<KeyRule> InLevels =>
    [
        new(new("ArrowRight"), [ActKind.GoInward]) { When = RuleCondition.Outline },
        new(new("ArrowLeft"), [ActKind.GoOutward]) { When = RuleCondition.Outline },
    ];

    private static ImmutableArray<KeyRule> Common =>
    [
        new(new("A", Mod: true), [ActKind.ToggleAll]) { When = RuleCondition.Many },
        new(new("Enter"), [ActKind.Activate], Direction.Here),
        new(new("Escape"), [ActKind.Cancel]) { When = RuleCondition.Dragging },
        new(new("Escape"), [ActKind.CloseMenu]) { When = RuleCondition.MenuOpen },
        new(new("Escape"), [ActKind.CloseTray]) { When = RuleCondition.TrayOpen },
        new(new("Escape"), [ActKind.EndSelecting]) { When = RuleCondition.MayLeave },
        new(new("Escape"), [ActKind.Clear]) { When = MayClear },
        new(new("Z", Mod: true), [ActKind.Undo]) { When = new("with something to take back", s => s.CanUndo) },
        new(new("Z", Modifiers.Shift, Mod: true), [ActKind.Redo]) { When = new("with something to do again", s => s.CanRedo) },
        new(new("Y", Mod: true), [ActKind.Redo]) { When = new("with something to do again", s => s.CanRedo) },
        new(new("ArrowUp", Modifiers.Alt), [ActKind.Move], Direction.Previous, RuleCondition.Movable),
        new(new("ArrowDown", Modifiers.Alt), [ActKind.Move], Direction.Next, RuleCondition.Movable),
        new(new("ArrowRight", Modifiers.Alt | Modifiers.Shift), [ActKind.Move], Direction.Inward, MovableInOutline),
        new(new("ArrowLeft", Modifiers.Alt | Modifiers.Shift), [ActKind.Move], Direction.Outward, MovableInOutline),
        new(new("Enter", Modifiers.Alt), [ActKind.Grab], Direction.Here, RuleCondition.Movable),
        new(new("C", Mod: true), [ActKind.Copy]) { When = new("where items are copied", s => s.Copies) },
        new(new("X", Mod: true), [ActKind.Cut]) { When = new("where items are cut", s => s.Cuts) },
        new(new("V", Mod: true), [ActKind.Paste]) { When = new("where something is taken", s => s.Pastes) },
        new(new("ContextMenu"), [ActKind.OpenMenu], Direction.Here, RuleCondition.Menus),
        new(new("F10", Modifiers.Shift), [ActKind.OpenMenu], Direction.Here, RuleCondition.Menus),
    ];

    /// <summary>The tables that ship, by name.</summary>
    public static ImmutableArray<KeyTable> All => [Moving, Toggling, Grid];

    /// <summary>The rule that takes a key, or null. A right-to-left list swaps left and right.</summary>
    internal KeyRule? Find(KeyPress press, Situation situation, ModKey modKey, bool rightToLeft)
    {
        if (rightToLeft && press.Key is "ArrowLeft" or "ArrowRight")
            press = press with { Key = press.Key == "ArrowLeft" ? "ArrowRight" : "ArrowLeft" };
        foreach (var rule in Rules)
            if (rule.Chord.Matches(press, modKey) && (rule.When is null || rule.When.Holds(situation))) return rule;
        return null;
    }

    /// <summary>Throws where a rule cannot work.</summary>
    /// <exception cref="ArgumentException">So it is; the message names it.</exception>
    public void Validate()
    {
        foreach (var rule in Rules) rule.Validate();
    }

    /// <summary>The table with a rule that is tried before all others.</summary>
    /// <exception cref="ArgumentException">The rule cannot work.</exception>
    public KeyTable With(KeyRule rule)
    {
        ArgumentNullException.ThrowIfNull(rule);
        rule.Validate();
        return this with { Rules = Rules.Insert(0, rule) };
    }

    /// <summary>The table without the rules for a chord.</summary>
    public KeyTable Without(KeyChord chord) => this with { Rules = Rules.RemoveAll(r => r.Chord == chord) };

    /// <summary>
    /// The table for tiles: Up and Down go in the column, Left and Right in reading order as Up and Down do in rows, Home and End to the
    /// ends of the line, and with Mod to those of the list. A table that is for tiles already stays what it is.
    /// </summary>
    public KeyTable InTiles()
    {
        var rules = ImmutableArray.CreateBuilder<KeyRule>();
        foreach (var rule in Rules)
        {
            (Direction Direction, string? Key, Direction Other) tiled = (rule.Chord.Key, rule.Direction) switch
            {
                ("ArrowUp", Direction.Previous) => (Direction.Up, "ArrowLeft", Direction.Previous),
                ("ArrowDown", Direction.Next) => (Direction.Down, "ArrowRight", Direction.Next),
                ("Home", Direction.First) when !rule.Chord.Mod && rule.Chord.Modifiers is Modifiers.None or Modifiers.Shift =>
                    (Direction.LineStart, null, default),
                ("End", Direction.Last) when !rule.Chord.Mod && rule.Chord.Modifiers is Modifiers.None or Modifiers.Shift =>
                    (Direction.LineEnd, null, default),
                _ => (rule.Direction, null, default),
            };
            rules.Add(rule with { Direction = tiled.Direction });
            if (tiled.Key is { } key) rules.Add(rule with { Chord = rule.Chord with { Key = key }, Direction = tiled.Other });
            // The ends of the list are still to be reached by a key.
            var end = rule.Chord;
            if (tiled.Direction is Direction.LineStart or Direction.LineEnd && rule.Direction != tiled.Direction
                && end.Modifiers == Modifiers.None
                && rule.When != RuleCondition.Carrying
                && !Rules.Any(
                r => r.Chord.Key == end.Key && (r.Chord.Mod || r.Chord.Modifiers == Modifiers.Ctrl)
                    && !r.Chord.Modifiers.HasFlag(Modifiers.Shift)))
                rules.Add(rule with { Chord = end with { Mod = true } });
        }
        return this with { Rules = rules.DrainToImmutable() };
    }

    /// <summary>
    /// The table for a strip: Left and Right go as Up and Down do in rows. A table that has Left and Right already keeps what they mean.
    /// </summary>
    public KeyTable InStrip() => this with
    {
        Rules = [.. Rules.Select(rule => (rule.Chord.Key, rule.Direction) switch
        {
            ("ArrowUp", Direction.Previous) => rule with { Chord = rule.Chord with { Key = "ArrowLeft" } },
            ("ArrowDown", Direction.Next) => rule with { Chord = rule.Chord with { Key = "ArrowRight" } },
            _ => rule,
        })],
    };

    /// <summary>
    /// The rules that are in force in a list: those which a key can reach in some state of it.
    /// </summary>
    /// <param name="policy">What its mode allows.</param>
    /// <param name="modKey">The key that Mod is.</param>
    /// <param name="spaceMarks">Whether Space toggles a mark.</param>
    /// <param name="mayMove">Whether its items may be moved.</param>
    /// <param name="isOutline">Whether they lie in levels.</param>
    internal IEnumerable<KeyRuleInForce> InForce(SelectionPolicy policy, ModKey modKey, bool spaceMarks, bool mayMove, bool isOutline)
    {
        var states = States(policy)
            .ConvertAll(s => s with
            {
                SpaceMarks = spaceMarks,
                MayMove = mayMove,
                IsCarrying = s.IsCarrying && mayMove,
                IsOutline = isOutline,
            });
        foreach (var rule in Rules)
        {
            var taken = states.Count(s => First(rule.Chord, s, modKey) == rule);
            if (taken > 0) yield return new(rule, taken == states.Count);
        }
    }

    /// <summary>
    /// What is wrong with the table in a list of this mode, where <paramref name="modKey"/> is Mod: chords with two meanings, of which one
    /// is never reached, and chords that the platform or browser keeps for itself.
    /// </summary>
    public IEnumerable<KeyConflict> Conflicts(SelectionMode mode, ModKey modKey)
    {
        var states = States(SelectionPolicy.For(mode));
        foreach (var rule in Rules)
        {
            var wanted = states.Where(s => rule.When is null || rule.When.Holds(s)).ToList();
            // A rule for another mode is not a conflict; nor is one that some earlier rule leaves something to.
            if (wanted.Count > 0 && wanted.Select(s => First(rule.Chord, s, modKey)).Distinct().ToList() is [{ } other] && other != rule
                && !Follows(rule, other))
                yield return new(rule, $"never reached: {other.Chord} already means {KeyConflict.Words(other)}");
            if (wanted.Count > 0 && ReservedChords.Reason(rule.Chord, modKey) is { } reason)
                yield return new(rule, $"kept by the platform: {reason}");
        }
    }

    /// <summary>Whether a rule with a condition stands before its general form by design, as the shipped tables do for mode none.</summary>
    private static bool Follows(KeyRule rule, KeyRule other) => rule.When is null && other.When is not null;

    private KeyRule? First(KeyChord chord, Situation state, ModKey modKey) => Rules.FirstOrDefault(r =>
        r.Chord.Key == chord.Key && r.Chord.Resolve(modKey) == chord.Resolve(modKey) && (r.When is null || r.When.Holds(state)));

    private static List<Situation> States(SelectionPolicy policy) =>
    [
        .. from selecting in (bool[])[false, true]
           where !selecting || policy.SelectsMany
           from selected in (bool[])[false, true]
           where !selected || policy.Selects
           from typing in (bool[])[false, true]
           from done in (bool[])[false, true]
           from busy in (int[])[0, 1, 2, 3, 4]
           select new Situation
           {
               Policy = policy, IsSelecting = selecting, HasSelection = selected, IsTyping = typing,
               HasMenus = true, MayMove = true, Copies = done, Cuts = done, Pastes = done, CanUndo = done, CanRedo = done,
                   IsCarrying = busy == 4, IsDragging = busy == 1, IsMenuOpen = busy == 2, IsTrayOpen = busy == 3,
           },
    ];
}

/// <summary>A rule of a key table that cannot work as it stands.</summary>
public sealed record KeyConflict(KeyRule Rule, string Reason)
{
    internal static string Words(KeyRule rule) => string.Join(" and ", rule.Acts.Select(ActNames.Of));
}

/// <summary>Chords that browsers and desktops keep for themselves, so that a page or a window never hears of them.</summary>
public static class ReservedChords
{
    private static readonly (KeyChord Chord, ModKey? On, string Reason)[] Known =
    [
        (new("W", Mod: true), null, "closes the window or tab"),
        (new("N", Mod: true), null, "opens a window"),
        (new("T", Mod: true), null, "opens a tab"),
        (new("N", Modifiers.Shift, Mod: true), null, "opens a private window"),
        (new("T", Modifiers.Shift, Mod: true), null, "reopens a tab"),
        (new("W", Modifiers.Shift, Mod: true), null, "closes the window"),
        (new("Tab", Modifiers.Ctrl), null, "goes to the next tab"),
        (new("Tab", Modifiers.Ctrl | Modifiers.Shift), null, "goes to the tab before"),
        (new("PageUp", Modifiers.Ctrl), null, "goes to the tab before"),
        (new("PageDown", Modifiers.Ctrl), null, "goes to the next tab"),
        (new("ArrowUp", Modifiers.Ctrl), ModKey.Meta, "shows all windows"),
        (new("ArrowDown", Modifiers.Ctrl), ModKey.Meta, "shows the application's windows"),
        (new("Space", Modifiers.Ctrl), ModKey.Meta, "switches the input source"),
        (new("Tab"), null, "goes to the next control (WCAG 2.1.2)"),
        (new("Tab", Modifiers.Shift), null, "goes to the control before (WCAG 2.1.2)"),
        (new("Tab", Modifiers.Alt), ModKey.Ctrl, "switches windows"),
        (new("F4", Modifiers.Alt), ModKey.Ctrl, "closes the window"),
        (new("Q", Modifiers.Meta), ModKey.Meta, "quits the application"),
        (new("H", Modifiers.Meta), ModKey.Meta, "hides the application"),
        (new("M", Modifiers.Meta), ModKey.Meta, "minimises the window"),
        (new("Tab", Modifiers.Meta), ModKey.Meta, "switches applications"),
        (new("Space", Modifiers.Meta), ModKey.Meta, "opens the system's search"),
        (new("F5"), null, "reloads the page"),
        (new("F11"), null, "goes full screen"),
        (new("F12"), null, "opens developer tools"),
    ];

    /// <summary>What the platform does with a chord, or null where it leaves it to the app.</summary>
    public static string? Reason(KeyChord chord, ModKey modKey)
    {
        foreach (var (known, on, reason) in Known)
            if (known.Key == chord.Key && known.Resolve(modKey) == chord.Resolve(modKey) && (on is null || on == modKey)) return reason;
        return null;
    }
}

/// <summary>A rule of a key table that is in force in a list.</summary>
/// <param name="Rule">The rule.</param>
/// <param name="Always">Whether it is in every state of the list.</param>
public readonly record struct KeyRuleInForce(KeyRule Rule, bool Always);
