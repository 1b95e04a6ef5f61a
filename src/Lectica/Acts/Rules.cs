using System.Collections.Immutable;
using Lectica.Gestures;
using Lectica.Input;
using Lectica.Layout;

namespace Lectica.Acts;

/// <summary>What a long press means.</summary>
public enum LongPressMeaning
{
    /// <summary>It asks for the menu; moved on, the menu closes and the item is grabbed, where items may move.</summary>
    Menu,

    /// <summary>Taps toggle from then on, beginning with the item that was pressed; moved on, it sweeps.</summary>
    StartSelecting,

    /// <summary>The item is grabbed.</summary>
    Grab,

    /// <summary>Nothing: however long it is held, a press is a tap.</summary>
    Nothing,
}

/// <summary>
/// One line of a gesture table: this gesture, by one of these pointers, on one of these places, with just these modifiers or with any,
/// under this condition, means these acts.
/// </summary>
/// <param name="Name">Its name, by which it can be replaced and which every act carries.</param>
/// <param name="Gesture">The gesture.</param>
/// <param name="Pointers">The types of pointer.</param>
/// <param name="On">Where it must begin.</param>
/// <param name="Acts">The acts, in order; none means that the gesture is taken and does nothing.</param>
/// <param name="Modifiers">The modifiers, as a chord without a key: Mod stands for the platform's.</param>
public sealed record GestureRule(
    string Name, GestureKind Gesture, Pointers Pointers, HitAreas On, ImmutableArray<ActKind> Acts,
    KeyChord Modifiers = default)
{
    /// <summary>Whether both say the same, by the same condition.</summary>
    public bool Equals(GestureRule? other) =>
        other is not null && (Name, Gesture, Pointers, On, Modifiers, Text) == (other.Name, other.Gesture, other.Pointers, other.On,
        other.Modifiers, other.Text) && (When, AnyModifiers) == (other.When, other.AnyModifiers)
        && Acts.AsSpan().SequenceEqual(other.Acts.AsSpan());

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Name, Gesture, Pointers, On);

    /// <summary>The condition; null for always.</summary>
    public RuleCondition? When { get; init; }

    /// <summary>Whether it takes the gesture whatever modifiers are down, and not just with its own.</summary>
    public bool AnyModifiers { get; init; }

    /// <summary>What its act names where the part under the pointer does not: a mark to toggle, a command to run.</summary>
    public string? Text { get; init; }

    /// <summary>Throws where one of its acts cannot come of its gesture.</summary>
    /// <exception cref="ArgumentException">So it is; the message names the rule and the act.</exception>
    public void Validate()
    {
        foreach (var kind in Acts)
            if (ActTraits.Of(kind).WhyNotBy(Gesture, On, Text) is { } why)
                throw new ArgumentException($"The rule '{Name}' cannot work: {why}.");
    }

    /// <summary>Whether it ends what is open over the rows or carried, wherever that lies: on what is disabled too.</summary>
    internal bool Ends => Acts is [.., var last] && ActTraits.Of(last).Ends;

    /// <summary>Whether the rule takes such a gesture by a pointer, on a part of a row or on empty space.</summary>
    internal bool Takes(GestureKind gesture, PointerType pointer, Part? part, Modifiers modifiers, Situation situation, ModKey modKey) =>
        gesture == Gesture && (Pointers & Sets.Of(pointer)) != 0 && (On & Sets.Of(part?.Kind)) != 0
        && (AnyModifiers || modifiers == Modifiers.Resolve(modKey))
        && (When is null || When.Holds(situation));
}

/// <summary>
/// What gestures mean: rules tried in order, of which the first that takes the gesture gives the acts. An app prints it,
/// replaces a rule by name, or adds one in front.
/// </summary>
public sealed record GestureTable(ImmutableArray<GestureRule> Rules)
{
    /// <summary>Whether both have the same rules in the same order.</summary>
    public bool Equals(GestureTable? other) => other is not null && Rules.AsSpan().SequenceEqual(other.Rules.AsSpan());

    /// <inheritdoc/>
    public override int GetHashCode() => Rules.Length;

    private static readonly KeyChord ModOnly = new("", Mod: true), ShiftOnly = new("", Input.Modifiers.Shift),
        ModShift = new("", Input.Modifiers.Shift, Mod: true);

    private static readonly RuleCondition PressesForMenu =
        new("where a long press opens the menu", s => s.LongPress == LongPressMeaning.Menu && s.HasMenus),
        PressesToSelect =
        new("where a long press starts selecting", s => s.LongPress == LongPressMeaning.StartSelecting && s.Policy.SelectsMany),
        PressesToGrab = new("where a long press grabs", s => s.LongPress == LongPressMeaning.Grab && s.MayMove);

    /// <summary>The table for mouse, pen and touch.</summary>
    public static GestureTable Default { get; } = new(
    [
        new("tap while carrying drops", GestureKind.Tap, Pointers.All, HitAreas.OutsideTray,
            [ActKind.Hover, ActKind.Drop]) { When = RuleCondition.Carrying, AnyModifiers = true },
        new("tap outside the menu closes it", GestureKind.Tap, Pointers.All, HitAreas.OutsideTray | HitAreas.Tray,
            [ActKind.CloseMenu]) { When = RuleCondition.MenuOpen, AnyModifiers = true },
        new("tap on a menu entry chooses it", GestureKind.Tap, Pointers.All, HitAreas.MenuEntry, [ActKind.ChooseEntry])
        {
            AnyModifiers = true,
        },
        new("second tap on a menu entry does nothing more", GestureKind.DoubleTap, Pointers.All, HitAreas.MenuEntry, [])
        {
            AnyModifiers = true,
        },
        new("tap on the tray invokes", GestureKind.Tap, Pointers.All, HitAreas.Tray, [ActKind.InvokeTray]) { AnyModifiers = true },
        new("tap outside the tray closes it", GestureKind.Tap, Pointers.All, HitAreas.OutsideTray,
            [ActKind.CloseTray]) { When = RuleCondition.TrayOpen, AnyModifiers = true },
        new("swipe uncovers the tray", GestureKind.Swipe, Pointers.Touch, HitAreas.Body | HitAreas.Tray,
            [ActKind.OpenTray]) { When = RuleCondition.Trays },
        new("pull beyond the top reads again", GestureKind.Pull, Pointers.Touch, HitAreas.OutsideTray,
            [ActKind.Pull]) { When = new("where a pull reads again", s => s.Pulls) },
        new("long press opens the menu", GestureKind.LongPress, Pointers.Touch | Pointers.Pen, HitAreas.Body,
            [ActKind.OpenMenu]) { When = PressesForMenu },
        new("long press starts selecting", GestureKind.LongPress, Pointers.Touch | Pointers.Pen, HitAreas.Body,
            [ActKind.BeginSelecting, ActKind.Add]) { When = PressesToSelect },
        new("long press grabs", GestureKind.LongPress, Pointers.Touch | Pointers.Pen, HitAreas.Body, [ActKind.Grab])
        {
            When = PressesToGrab,
        },
        new("moving on grabs", GestureKind.HoldDrag, Pointers.Touch | Pointers.Pen, HitAreas.Body,
            [ActKind.Grab]) { When = RuleCondition.Movable },
        new("moving on sweeps", GestureKind.HoldDrag, Pointers.Touch | Pointers.Pen, HitAreas.Body,
            [ActKind.Sweep]) { When = RuleCondition.Selecting },
        new("drag on the handle grabs", GestureKind.Drag, Pointers.All, HitAreas.Handle, [ActKind.Grab]) { When = RuleCondition.Movable },
        new("drag along the boxes sweeps", GestureKind.Drag, Pointers.All, HitAreas.Check,
            [ActKind.Sweep]) { When = RuleCondition.Selecting },
        new("drag grabs", GestureKind.Drag, Pointers.Precise, HitAreas.Body, [ActKind.Grab]) { When = RuleCondition.Movable },
        new("drag from empty space is a marquee", GestureKind.Drag, Pointers.Precise, HitAreas.EmptySpace,
            [ActKind.Marquee]) { When = RuleCondition.Many },
        new("Mod+drag from empty space toggles", GestureKind.Drag, Pointers.Precise, HitAreas.EmptySpace, [ActKind.MarqueeToggling],
            ModOnly) { When = RuleCondition.Many },
        new("Shift+drag from empty space adds", GestureKind.Drag, Pointers.Precise, HitAreas.EmptySpace, [ActKind.MarqueeAdding],
            ShiftOnly) { When = RuleCondition.Many },
        new("tap selects", GestureKind.Tap, Pointers.Precise, HitAreas.Body, [ActKind.Select])
        {
            When = new("mode single or multiple, but not in a check list", s => s.Policy.Selects && !s.AlwaysSelecting),
        },
        new("Mod+tap toggles", GestureKind.Tap, Pointers.Precise, HitAreas.Body, [ActKind.Toggle], ModOnly) { When = RuleCondition.Any },
        new("Shift+tap extends", GestureKind.Tap, Pointers.Precise, HitAreas.Body,
            [ActKind.Extend], ShiftOnly) { When = RuleCondition.Any },
        new("Mod+Shift+tap extends adding", GestureKind.Tap, Pointers.Precise, HitAreas.Body, [ActKind.ExtendAdding],
            ModShift) { When = RuleCondition.Any },
        new("tap in a check list toggles", GestureKind.Tap, Pointers.Precise, HitAreas.Body,
            [ActKind.Toggle]) { When = new("in a check list", s => s.AlwaysSelecting) },
        new("tap while selecting toggles", GestureKind.Tap, Pointers.Touch, HitAreas.Body,
            [ActKind.Toggle]) { When = RuleCondition.Selecting },
        new("tap tells", GestureKind.Tap, Pointers.Precise, HitAreas.Body, [ActKind.MoveCursor]) { When = RuleCondition.NoSelection },
        new("double tap activates", GestureKind.DoubleTap, Pointers.Precise, HitAreas.Body, [ActKind.Activate]),
        new("touch tap activates", GestureKind.Tap, Pointers.Touch, HitAreas.Body,
            [ActKind.Activate]) { When = new("mode none or multiple", s => !s.Policy.SelectsOne) },
        new("touch tap selects and activates", GestureKind.Tap, Pointers.Touch, HitAreas.Body,
            [ActKind.Select, ActKind.Activate]) { When = RuleCondition.One },
        new("second touch tap while selecting toggles", GestureKind.DoubleTap, Pointers.Touch, HitAreas.Body,
            [ActKind.Toggle]) { When = RuleCondition.Selecting },
        new("second touch tap does nothing more", GestureKind.DoubleTap, Pointers.Touch, HitAreas.Body, []),
        new("Shift+tap on the box extends adding", GestureKind.Tap, Pointers.Precise, HitAreas.Check, [ActKind.ExtendAdding], ShiftOnly),
        new("tap on a branch's box toggles the branch", GestureKind.Tap, Pointers.All, HitAreas.Check,
            [ActKind.ToggleBranch]) { When = RuleCondition.ManyInOutline, AnyModifiers = true },
        new("second tap on a branch's box toggles the branch", GestureKind.DoubleTap, Pointers.All, HitAreas.Check,
            [ActKind.ToggleBranch]) { When = RuleCondition.ManyInOutline, AnyModifiers = true },
        new("tap on the box toggles", GestureKind.Tap, Pointers.All, HitAreas.Check, [ActKind.Toggle]) { AnyModifiers = true },
        new("second tap on the box toggles", GestureKind.DoubleTap, Pointers.All, HitAreas.Check, [ActKind.Toggle])
        {
            AnyModifiers = true,
        },
        new("tap on a failed notice tries again", GestureKind.Tap, Pointers.All, HitAreas.Notice,
            [ActKind.Retry]) { When = new("where loading failed", s => s.HasFailed), AnyModifiers = true },
        new("tap on the expander collapses or expands", GestureKind.Tap, Pointers.All, HitAreas.Expander, [ActKind.CollapseOrExpand])
        {
            AnyModifiers = true,
        },
        new("second tap on the expander collapses or expands", GestureKind.DoubleTap, Pointers.All, HitAreas.Expander,
            [ActKind.CollapseOrExpand]) { AnyModifiers = true },
        new("tap on a heading collapses or expands", GestureKind.Tap, Pointers.All, HitAreas.Heading, [ActKind.CollapseOrExpand])
        {
            AnyModifiers = true,
        },
        new("second tap on a heading collapses or expands", GestureKind.DoubleTap, Pointers.All, HitAreas.Heading,
            [ActKind.CollapseOrExpand]) { AnyModifiers = true },
        new("tap on a heading's box toggles the section", GestureKind.Tap, Pointers.All, HitAreas.HeadingCheck,
            [ActKind.ToggleSection]) { When = RuleCondition.Many, AnyModifiers = true },
        new("second tap on a heading's box toggles the section", GestureKind.DoubleTap, Pointers.All, HitAreas.HeadingCheck,
            [ActKind.ToggleSection]) { When = RuleCondition.Many, AnyModifiers = true },
        new("tap on a mark toggles it", GestureKind.Tap, Pointers.All, HitAreas.Mark, [ActKind.ToggleMark]) { AnyModifiers = true },
        new("second tap on a mark toggles it", GestureKind.DoubleTap, Pointers.All, HitAreas.Mark, [ActKind.ToggleMark])
        {
            AnyModifiers = true,
        },
        new("tap on the menu part opens the menu", GestureKind.Tap, Pointers.All, HitAreas.Menu,
            [ActKind.OpenMenu]) { When = RuleCondition.Menus, AnyModifiers = true },
        new("second tap on the menu part does nothing more", GestureKind.DoubleTap, Pointers.All, HitAreas.Menu, [])
        {
            AnyModifiers = true,
        },
        new("second Mod+tap toggles", GestureKind.DoubleTap, Pointers.Precise, HitAreas.Body, [ActKind.Toggle],
            ModOnly) { When = RuleCondition.Any },
        new("secondary tap selects and opens the menu", GestureKind.SecondaryTap, Pointers.All, HitAreas.Row,
            [ActKind.SelectUnlessSelected, ActKind.OpenMenu])
            {
                When = new("mode single or multiple, where menus show", s => s.Policy.Selects && s.HasMenus),
                AnyModifiers = true,
            },
        new("secondary tap selects", GestureKind.SecondaryTap, Pointers.All, HitAreas.Row,
            [ActKind.SelectUnlessSelected]) { When = RuleCondition.Any, AnyModifiers = true },
        new("secondary tap opens the menu", GestureKind.SecondaryTap, Pointers.All, HitAreas.Row,
            [ActKind.OpenMenu]) { When = RuleCondition.Menus, AnyModifiers = true },
        new("secondary tap outside the menu closes it", GestureKind.SecondaryTap, Pointers.All, HitAreas.OutsideTray | HitAreas.Tray,
            [ActKind.CloseMenu]) { When = RuleCondition.MenuOpen, AnyModifiers = true },
        new("tap on empty space clears", GestureKind.Tap, Pointers.Precise, HitAreas.EmptySpace,
            [ActKind.Clear]) { When = RuleCondition.Selected },
    ]);

    /// <summary>The rule that takes a gesture that was recognised, or null; or of those that end something.</summary>
    internal GestureRule? Find(in Gesture gesture, Situation situation, ModKey modKey, bool ends) => !gesture.IsRecognised ? null
        : Find(gesture.Kind, gesture.PointerType, gesture.Row is null && gesture.Part.Kind != PartKind.MenuEntry ? null
        : gesture.Part, gesture.Modifiers, situation, modKey, ends);

    /// <summary>The rule that would take such a gesture, or null.</summary>
    internal GestureRule? Find(
        GestureKind gesture, PointerType pointer, Part? part, Modifiers modifiers, Situation situation, ModKey modKey, bool ends = false)
    {
        foreach (var rule in Rules)
            if ((!ends || rule.Ends) && rule.Takes(gesture, pointer, part, modifiers, situation, modKey)) return rule;
        return null;
    }

    /// <summary>Throws where a rule cannot work.</summary>
    /// <exception cref="ArgumentException">So it is; the message names it.</exception>
    public void Validate()
    {
        foreach (var rule in Rules) rule.Validate();
    }

    /// <summary>The table with one rule replaced.</summary>
    /// <exception cref="ArgumentException">There is no rule of that name, or the new one cannot work.</exception>
    public GestureTable Replacing(string name, GestureRule rule) => new(Rules.SetItem(At(name), Checked(rule)));

    private static GestureRule Checked(GestureRule rule)
    {
        ArgumentNullException.ThrowIfNull(rule);
        rule.Validate();
        return rule;
    }

    /// <summary>The table without one rule.</summary>
    /// <exception cref="ArgumentException">There is no rule of that name.</exception>
    public GestureTable Without(string name) => new(Rules.RemoveAt(At(name)));

    /// <summary>The table with a rule that is tried before all others.</summary>
    /// <exception cref="ArgumentException">The rule cannot work.</exception>
    public GestureTable With(GestureRule rule) => new(Rules.Insert(0, Checked(rule)));

    private int At(string name)
    {
        var at = Rules.ToList().FindIndex(r => r.Name == name);
        return at >= 0 ? at
            : throw new ArgumentException(
            $"There is no rule '{name}'. The rules are: {string.Join(", ", Rules.Select(r => r.Name))}.", nameof(name));
    }
}

/// <summary>
/// One line of a key table: this chord, under this condition, means these acts, to the item in this direction from the cursor.
/// </summary>
/// <param name="Chord">The key and its modifiers.</param>
/// <param name="Acts">The acts, in order.</param>
/// <param name="Direction">Where the cursor goes first.</param>
/// <param name="When">The condition, or null for always.</param>
public sealed record KeyRule(KeyChord Chord, ImmutableArray<ActKind> Acts, Direction Direction = Direction.None, RuleCondition? When = null)
{
    /// <summary>Whether both say the same, by the same condition.</summary>
    public bool Equals(KeyRule? other) =>
        other is not null && (Chord, Direction, Text) == (other.Chord, other.Direction, other.Text) && When == other.When
        && Acts.AsSpan().SequenceEqual(other.Acts.AsSpan());

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Chord, Direction);

    /// <summary>What its act names: a mark to toggle, a command to run.</summary>
    public string? Text { get; init; }

    /// <summary>Its name in traces, such as <c>key Shift+ArrowDown</c>.</summary>
    public string Name => $"key {Chord}";

    /// <summary>Throws where one of its acts cannot come of a key.</summary>
    /// <exception cref="ArgumentException">So it is; the message names the rule and the act.</exception>
    public void Validate()
    {
        foreach (var kind in Acts)
            if (ActTraits.Of(kind).WhyNotBy(Direction, Text) is { } why)
                throw new ArgumentException($"The rule '{Name}' cannot work: {why}.");
    }
}
