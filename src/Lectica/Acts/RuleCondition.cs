namespace Lectica.Acts;

/// <summary>What rules may ask of the list.</summary>
internal readonly record struct Situation
{
    /// <summary>How many items may be selected.</summary>
    public required SelectionPolicy Policy { get; init; }

    /// <summary>Whether taps toggle.</summary>
    public bool IsSelecting { get; init; }

    /// <summary>Whether anything is selected.</summary>
    public bool HasSelection { get; init; }

    /// <summary>Whether typed characters are gathering.</summary>
    public bool IsTyping { get; init; }

    /// <summary>Whether taps always toggle, so that selecting cannot be left.</summary>
    public bool AlwaysSelecting { get; init; }

    /// <summary>What a long press means.</summary>
    public LongPressMeaning LongPress { get; init; }

    /// <summary>Whether items may be moved.</summary>
    public bool MayMove { get; init; }

    /// <summary>Whether rows have trays.</summary>
    public bool HasTrays { get; init; }

    /// <summary>Whether loading failed, and the list says so.</summary>
    public bool HasFailed { get; init; }

    /// <summary>Whether somebody shows menus.</summary>
    public bool HasMenus { get; init; }

    /// <summary>Whether a pull beyond the top does something.</summary>
    public bool Pulls { get; init; }

    /// <summary>Whether the app gives something of its items to the clipboard.</summary>
    public bool Copies { get; init; }

    /// <summary>Whether it has a command, too, that takes them away.</summary>
    public bool Cuts { get; init; }

    /// <summary>Whether the app takes what is pasted.</summary>
    public bool Pastes { get; init; }

    /// <summary>Whether there is something to take back.</summary>
    public bool CanUndo { get; init; }

    /// <summary>Whether there is something to do again.</summary>
    public bool CanRedo { get; init; }

    /// <summary>Whether Space toggles a mark.</summary>
    public bool SpaceMarks { get; init; }

    /// <summary>Whether a tray is open.</summary>
    public bool IsTrayOpen { get; init; }

    /// <summary>Whether a menu is open.</summary>
    public bool IsMenuOpen { get; init; }

    /// <summary>Whether something is being dragged or swiped.</summary>
    public bool IsDragging { get; init; }

    /// <summary>Whether items are taken up without a pointer.</summary>
    public bool IsCarrying { get; init; }

    /// <summary>Whether items lie in levels.</summary>
    public bool IsOutline { get; init; }
}

/// <summary>A condition of a rule: one of those below, each with the words in which a table prints it.</summary>
public sealed class RuleCondition
{
    internal RuleCondition(string name, Func<Situation, bool> holds) => (Name, Holds) = (name, holds);

    /// <summary>The words for it.</summary>
    public string Name { get; }

    internal Func<Situation, bool> Holds { get; }

    /// <inheritdoc/>
    public override string ToString() => Name;

    /// <summary>Taps toggle.</summary>
    public static RuleCondition Selecting { get; } = new("while selecting", s => s.IsSelecting);

    /// <summary>Taps toggle, and that can end.</summary>
    public static RuleCondition MayLeave { get; } = new("while selecting, where that can end", s => s.IsSelecting && !s.AlwaysSelecting);

    /// <summary>The list selects nothing.</summary>
    public static RuleCondition NoSelection { get; } = new("mode none", s => !s.Policy.Selects);

    /// <summary>The list selects one item.</summary>
    public static RuleCondition One { get; } = new("mode single", s => s.Policy.SelectsOne);

    /// <summary>The list selects any number.</summary>
    public static RuleCondition Many { get; } = new("mode multiple", s => s.Policy.SelectsMany);

    /// <summary>The list selects one or many items.</summary>
    public static RuleCondition Any { get; } = new("mode single or multiple", s => s.Policy.Selects);

    /// <summary>Something is selected.</summary>
    public static RuleCondition Selected { get; } = new("with a selection", s => s.HasSelection);

    /// <summary>Rows have trays.</summary>
    public static RuleCondition Trays { get; } = new("with trays", s => s.HasTrays);

    /// <summary>A tray is open.</summary>
    public static RuleCondition TrayOpen { get; } = new("with a tray open", s => s.IsTrayOpen);

    /// <summary>A menu is open.</summary>
    public static RuleCondition MenuOpen { get; } = new("with a menu open", s => s.IsMenuOpen);

    /// <summary>Somebody shows menus.</summary>
    public static RuleCondition Menus { get; } = new("where menus show", s => s.HasMenus);

    /// <summary>Something is being dragged or swiped.</summary>
    public static RuleCondition Dragging { get; } = new("while dragging", s => s.IsDragging);

    /// <summary>Items are taken up without a pointer.</summary>
    public static RuleCondition Carrying { get; } = new("while carrying", s => s.IsCarrying);

    /// <summary>Items lie in levels.</summary>
    public static RuleCondition Outline { get; } = new("in an outline", s => s.IsOutline);

    /// <summary>Items lie in levels, and any number can be selected.</summary>
    public static RuleCondition ManyInOutline { get; } = new("in an outline, mode multiple", s => s.IsOutline && s.Policy.SelectsMany);

    /// <summary>Items may be moved.</summary>
    public static RuleCondition Movable { get; } = new("where items may move", s => s.MayMove);
}
