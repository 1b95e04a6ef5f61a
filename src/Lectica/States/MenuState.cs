using Lectica.Commands;
using Lectica.Items;

namespace Lectica.States;

/// <summary>The menu that is open, if one is.</summary>
/// <param name="Index">The item that it was asked for; -1 while none is open.</param>
/// <param name="Target">The items that it is for.</param>
/// <param name="Menu">The menu to draw; null where the app shows one of its own.</param>
internal sealed record MenuState(int Index, ItemSet Target, Menu? Menu)
{
    public static MenuState Closed { get; } = new(-1, ItemSet.None(0), null);

    public bool IsOpen => Index >= 0;

    public MenuState After(Edit edit) =>
        !IsOpen ? this : edit.Apply(Index) is >= 0 and var index ? this with { Index = index, Target = edit.Apply(Target) } : Closed;

    /// <summary>A menu is for what shows and is enabled, goes with its row, and stays in its window.</summary>
    public static MenuState Settle(ListState before, ListState now, in Settling how)
    {
        var menu = now.Menu;
        if (menu.Menu is { } placed && !ReferenceEquals(before.Window, now.Window))
            menu = placed.In(now.Window.RoomOn(how.Options.Layout)) is var moved && ReferenceEquals(moved, placed) ? menu
                : menu with { Menu = moved };
        if (!menu.IsOpen || ReferenceEquals(before.Showing, now.Showing)) return menu;
        var target = menu.Target.Intersect(now.Rules(how.Options).Choosable);
        return !now.Showing.Shown.Contains(menu.Index) ? Closed : ReferenceEquals(target, menu.Target) ? menu
            : menu with { Target = target };
    }
}
