namespace Lectica.Layout;

/// <summary>Where on a row a pointer can be.</summary>
public enum PartKind
{
    /// <summary>The row itself: all of it that is no other part, over the full width.</summary>
    Body,

    /// <summary>The selection box.</summary>
    Check,

    /// <summary>A mark, such as a star; the part's name says which.</summary>
    Mark,

    /// <summary>The button that opens the context menu.</summary>
    Menu,

    /// <summary>The handle to drag by.</summary>
    Handle,

    /// <summary>A command of the tray that is open beside the row; the part's name says which.</summary>
    Tray,

    /// <summary>An entry of the menu that is open over the rows; the part's name says which.</summary>
    MenuEntry,

    /// <summary>A notice that says why no item shows.</summary>
    Notice,

    /// <summary>The heading of a section; the part's name says which.</summary>
    Heading,

    /// <summary>The selection box of a section's heading; the part's name says which.</summary>
    HeadingCheck,

    /// <summary>What expands and collapses a branch of an outline.</summary>
    Expander,
}

/// <summary>A part of a row. <paramref name="Name"/> tells marks and tray commands apart; elsewhere it is null.</summary>
public readonly record struct Part(PartKind Kind, string? Name = null)
{
    /// <summary>The row itself.</summary>
    public static Part Body => default;

    /// <summary>The words that traces and scripts use, such as <c>body</c> or <c>mark:starred</c>.</summary>
    public override string ToString() => Kind switch
    {
        PartKind.Check => "check",
        PartKind.Mark => "mark:" + Name,
        PartKind.Menu => "menu",
        PartKind.Handle => "handle",
        PartKind.Tray => "tray:" + Name,
        PartKind.MenuEntry => "entry:" + Name,
        PartKind.Notice => "notice",
        PartKind.Heading => "heading:" + Name,
        PartKind.HeadingCheck => "heading-check:" + Name,
        PartKind.Expander => "expander",
        _ => "body",
    };
}
