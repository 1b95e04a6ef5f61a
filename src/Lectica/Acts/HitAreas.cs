using Lectica.Input;
using Lectica.Layout;

namespace Lectica.Acts;

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

/// <summary>Sets of areas that a pointer can hit, for rules.</summary>
[Flags]
public enum HitAreas
{
    /// <summary>The row itself.</summary>
    Body = 1,

    /// <summary>The selection box.</summary>
    Check = 2,

    /// <summary>A mark.</summary>
    Mark = 4,

    /// <summary>The button that opens the menu.</summary>
    Menu = 8,

    /// <summary>The handle.</summary>
    Handle = 16,

    /// <summary>A command of the open tray.</summary>
    Tray = 32,

    /// <summary>An entry of the open menu.</summary>
    MenuEntry = 64,

    /// <summary>A notice.</summary>
    Notice = 128,

    /// <summary>The heading of a section.</summary>
    Heading = 256,

    /// <summary>The selection box of a heading.</summary>
    HeadingCheck = 512,

    /// <summary>What expands and collapses a branch.</summary>
    Expander = 1024,

    /// <summary>No row.</summary>
    EmptySpace = 2048,

    /// <summary>Anywhere on the row of an item, but not on its tray.</summary>
    Row = Body | Check | Mark | Menu | Handle | Expander,

    /// <summary>Anywhere but on the open tray.</summary>
    OutsideTray = Row | Notice | Heading | HeadingCheck | EmptySpace,
}

/// <summary>The sets that have one pointer type, or one area: by name, so that either enumeration may grow anywhere.</summary>
internal static class Sets
{
    public static Pointers Of(PointerType type) => type switch
    {
        PointerType.Mouse => Pointers.Mouse,
        PointerType.Pen => Pointers.Pen,
        _ => Pointers.Touch,
    };

    /// <param name="part">What is hit of a row; null for empty space.</param>
    public static HitAreas Of(PartKind? part) => part switch
    {
        null => HitAreas.EmptySpace,
        PartKind.Body => HitAreas.Body,
        PartKind.Check => HitAreas.Check,
        PartKind.Mark => HitAreas.Mark,
        PartKind.Menu => HitAreas.Menu,
        PartKind.Handle => HitAreas.Handle,
        PartKind.Tray => HitAreas.Tray,
        PartKind.MenuEntry => HitAreas.MenuEntry,
        PartKind.Notice => HitAreas.Notice,
        PartKind.Heading => HitAreas.Heading,
        PartKind.HeadingCheck => HitAreas.HeadingCheck,
        PartKind.Expander => HitAreas.Expander,
        _ => throw new ArgumentOutOfRangeException(nameof(part), part, "There is no such part of a row."),
    };
}
