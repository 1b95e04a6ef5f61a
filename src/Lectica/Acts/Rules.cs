using System.Collections.Immutable;
using Lectica.Gestures;
using Lectica.Input;
using Lectica.Layout;

namespace Lectica.Acts;

/// <summary>What rules may ask of the list.</summary>
/// <param name="Mode">How many items may be selected.</param>
/// <param name="IsSelecting">Whether taps toggle.</param>
/// <param name="HasSelection">Whether anything is selected.</param>
/// <param name="IsTyping">Whether typed characters are gathering.</param>
/// <param name="MayLeaveSelecting">Whether the selecting state can be left: not in a list where taps always toggle.</param>
public readonly record struct Situation(SelectionMode Mode, bool IsSelecting, bool HasSelection, bool IsTyping, bool MayLeaveSelecting = true);

/// <summary>A condition of a rule, with the words in which a table prints it.</summary>
public sealed record Condition(string Name, Func<Situation, bool> Holds)
{
    /// <summary>Taps toggle.</summary>
    public static Condition Selecting { get; } = new("while selecting", s => s.IsSelecting);

    /// <summary>Taps toggle, and that can end.</summary>
    public static Condition MayLeave { get; } = new("while selecting, where that can end", s => s.IsSelecting && s.MayLeaveSelecting);

    /// <summary>The list selects nothing.</summary>
    public static Condition NoSelection { get; } = new("mode none", s => s.Mode == SelectionMode.None);

    /// <summary>The list selects one item.</summary>
    public static Condition One { get; } = new("mode single", s => s.Mode is SelectionMode.Single or SelectionMode.SingleRequired);

    /// <summary>The list selects any number.</summary>
    public static Condition Many { get; } = new("mode multiple", s => s.Mode == SelectionMode.Multiple);

    /// <summary>The list selects one or many items.</summary>
    public static Condition Any { get; } = new("mode single or multiple", s => s.Mode != SelectionMode.None);

    /// <summary>Something is selected.</summary>
    public static Condition Selected { get; } = new("with a selection", s => s.HasSelection);
}

/// <summary>Sets of pointer types, for rules.</summary>
[Flags]
public enum Pointers
{
    /// <summary>A mouse.</summary>
    Mouse = 1,

    /// <summary>A pen.</summary>
    Pen = 2,

    /// <summary>A finger.</summary>
    Touch = 4,

    /// <summary>A mouse or a pen.</summary>
    Precise = Mouse | Pen,

    /// <summary>Any of them.</summary>
    All = Mouse | Pen | Touch,
}

/// <summary>
/// One line of a gesture table: this gesture, by one of these pointers, on this kind of part, with just these modifiers, under this
/// condition, means these acts.
/// </summary>
/// <param name="Name">Its name, by which it can be replaced and which every act carries.</param>
/// <param name="Gesture">The gesture.</param>
/// <param name="Pointers">The types of pointer.</param>
/// <param name="On">The kind of part; null for empty space.</param>
/// <param name="Acts">The acts, in order; none means that the gesture is taken and does nothing.</param>
/// <param name="Modifiers">The modifiers, as a chord without a key: Mod stands for the platform's.</param>
/// <param name="When">The condition, or null for always.</param>
public sealed record GestureRule(
    string Name, GestureKind Gesture, Pointers Pointers, PartKind? On, ImmutableArray<ActKind> Acts,
    KeyChord Modifiers = default, Condition? When = null)
{
    /// <summary>Whether the rule takes a gesture.</summary>
    public bool Takes(Gesture gesture, Situation situation, ModKey modKey) =>
        gesture.IsRecognised && gesture.Kind == Gesture && Pointers.HasFlag((Pointers)(1 << (int)gesture.PointerType))
        && (On is null ? gesture.Row is null : gesture.Row is not null && gesture.Part.Kind == On)
        && gesture.Modifiers == Modifiers.Resolve(modKey)
        && (When is null || When.Holds(situation));
}

/// <summary>
/// What gestures mean: rules tried in order, of which the first that takes the gesture gives the acts. An app prints it,
/// replaces a rule by name, or adds one in front.
/// </summary>
public sealed record GestureTable(ImmutableArray<GestureRule> Rules)
{
    private static readonly KeyChord ModOnly = new("", Mod: true), ShiftOnly = new("", Input.Modifiers.Shift),
        ModShift = new("", Input.Modifiers.Shift, Mod: true);

    /// <summary>The table for mouse, pen and touch.</summary>
    public static GestureTable Default { get; } = new(
    [
        new("tap selects", GestureKind.Tap, Pointers.Precise, PartKind.Body, [ActKind.Select], When: new("mode single or multiple", s => s.Mode != SelectionMode.None && !s.IsSelecting)),
        new("Mod+tap toggles", GestureKind.Tap, Pointers.Precise, PartKind.Body, [ActKind.Toggle], ModOnly, Condition.Any),
        new("Shift+tap extends", GestureKind.Tap, Pointers.Precise, PartKind.Body, [ActKind.Extend], ShiftOnly, Condition.Any),
        new("Mod+Shift+tap extends adding", GestureKind.Tap, Pointers.Precise, PartKind.Body, [ActKind.ExtendAdding], ModShift, Condition.Any),
        new("tap while selecting toggles", GestureKind.Tap, Pointers.All, PartKind.Body, [ActKind.Toggle], When: Condition.Selecting),
        new("tap tells", GestureKind.Tap, Pointers.Precise, PartKind.Body, [ActKind.MoveCursor], When: Condition.NoSelection),
        new("double tap activates", GestureKind.DoubleTap, Pointers.Precise, PartKind.Body, [ActKind.Activate]),
        new("touch tap activates", GestureKind.Tap, Pointers.Touch, PartKind.Body, [ActKind.Activate], When: new("mode none or multiple", s => s.Mode is SelectionMode.None or SelectionMode.Multiple)),
        new("touch tap selects and activates", GestureKind.Tap, Pointers.Touch, PartKind.Body, [ActKind.Select, ActKind.Activate], When: Condition.One),
        new("second touch tap while selecting toggles", GestureKind.DoubleTap, Pointers.Touch, PartKind.Body, [ActKind.Toggle], When: Condition.Selecting),
        new("second touch tap does nothing more", GestureKind.DoubleTap, Pointers.Touch, PartKind.Body, []),
        new("tap on the box toggles", GestureKind.Tap, Pointers.All, PartKind.Check, [ActKind.Toggle]),
        new("second tap on the box toggles", GestureKind.DoubleTap, Pointers.All, PartKind.Check, [ActKind.Toggle]),
        new("Shift+tap on the box extends adding", GestureKind.Tap, Pointers.Precise, PartKind.Check, [ActKind.ExtendAdding], ShiftOnly),
        new("second Mod+tap toggles", GestureKind.DoubleTap, Pointers.Precise, PartKind.Body, [ActKind.Toggle], ModOnly, Condition.Any),
        new("secondary tap selects", GestureKind.SecondaryTap, Pointers.All, PartKind.Body, [ActKind.SelectUnlessSelected], When: Condition.Any),
        new("tap on empty space clears", GestureKind.Tap, Pointers.Precise, null, [ActKind.Clear], When: Condition.Selected),
    ]);

    /// <summary>The rule that takes a gesture, or null.</summary>
    public GestureRule? Find(Gesture gesture, Situation situation, ModKey modKey)
    {
        foreach (var rule in Rules)
            if (rule.Takes(gesture, situation, modKey)) return rule;
        return null;
    }

    /// <summary>The table with one rule replaced.</summary>
    /// <exception cref="ArgumentException">There is no rule of that name.</exception>
    public GestureTable Replacing(string name, GestureRule rule) => new(Rules.SetItem(At(name), rule));

    /// <summary>The table without one rule.</summary>
    /// <exception cref="ArgumentException">There is no rule of that name.</exception>
    public GestureTable Without(string name) => new(Rules.RemoveAt(At(name)));

    /// <summary>The table with a rule that is tried before all others.</summary>
    public GestureTable With(GestureRule rule) => new(Rules.Insert(0, rule));

    private int At(string name)
    {
        var at = Rules.ToList().FindIndex(r => r.Name == name);
        return at >= 0 ? at : throw new ArgumentException($"There is no rule '{name}'. The rules are: {string.Join(", ", Rules.Select(r => r.Name))}.", nameof(name));
    }
}

/// <summary>One line of a key table: this chord, under this condition, means these acts, to the item at this step from the cursor.</summary>
/// <param name="Chord">The key and its modifiers.</param>
/// <param name="Acts">The acts, in order.</param>
/// <param name="Step">Where the cursor goes first.</param>
/// <param name="When">The condition, or null for always.</param>
public sealed record KeyRule(KeyChord Chord, ImmutableArray<ActKind> Acts, Step Step = Step.None, Condition? When = null)
{
    /// <summary>Its name in traces, such as <c>key Shift+ArrowDown</c>.</summary>
    public string Name => $"key {Chord}";
}
