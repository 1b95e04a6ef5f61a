using System.Globalization;
using Lectica.Acts;
using Lectica.Gestures;
using Lectica.Input;
using Lectica.Layout;

namespace Lectica;

/// <summary>How a list behaves and lies. All have defaults; a list keeps them for its life.</summary>
public sealed record ListOptions
{
    /// <summary>The defaults.</summary>
    public static ListOptions Default { get; } = new();

    /// <summary>How many items may be selected.</summary>
    public SelectionMode Mode { get; init; } = SelectionMode.Single;

    /// <summary>The most items that may be selected at once in mode multiple.</summary>
    public int Limit { get; init; } = int.MaxValue;

    /// <summary>Whether items that a filter hides stay selected. Otherwise they leave the selection as they hide.</summary>
    public bool KeepsHiddenSelected { get; init; }

    /// <summary>Whether taps toggle from the start and always, as in a check list.</summary>
    public bool AlwaysSelecting { get; init; }

    /// <summary>Whether the selecting state ends when nothing is selected any more.</summary>
    public bool EndsSelectingWhenEmpty { get; init; }

    /// <summary>What gestures mean.</summary>
    public GestureTable Gestures { get; init; } = GestureTable.Default;

    /// <summary>What keys mean.</summary>
    public KeyTable Keys { get; init; } = KeyTable.Moving;

    /// <summary>Which key is Mod.</summary>
    public ModKey ModKey { get; init; } = OperatingSystem.IsMacOS() || OperatingSystem.IsIOS() || OperatingSystem.IsMacCatalyst() ? ModKey.Meta : ModKey.Ctrl;

    /// <summary>The limits of recognition and of swiping and dragging.</summary>
    public Thresholds Thresholds { get; init; } = Thresholds.Default;

    /// <summary>What a long press means.</summary>
    public LongPressMeaning LongPress { get; init; }

    /// <summary>The mark that Space toggles in the toggling key table, instead of the selection; null where Space selects.</summary>
    public string? SpaceMark { get; init; }

    /// <summary>How many steps can be taken back.</summary>
    public int UndoDepth { get; init; } = 100;

    /// <summary>How long a brief notice shows, ms; one that offers to take something back shows twice as long.</summary>
    public double NoticeTime { get; init; } = 4000;

    /// <summary>The words that a screen reader is given; those of the list's culture where null.</summary>
    [System.Diagnostics.CodeAnalysis.AllowNull]
    public Phrases Phrases
    {
        get => field ?? Phrases.For(Culture ?? CultureInfo.CurrentUICulture);
        init;
    }

    /// <summary>
    /// Whether items may be moved. A source that is a list and can be written, such as an <c>ObservableCollection</c>, is moved by the list
    /// itself, which then raises <c>Moved</c>; an app that listens to <c>MoveRequested</c> moves its source itself.
    /// </summary>
    public bool MayMove { get; init; }

    /// <summary>Whether the menu offers to move items without dragging, where they may move (WCAG 2.5.7).</summary>
    public bool MovesInMenu { get; init; } = true;

    /// <summary>Whether the user wishes for less motion: rows then settle at once.</summary>
    public bool ReducedMotion { get; init; }

    /// <summary>
    /// Whose timers call the list back at its deadlines, on its own context. A list that belongs to a bare thread cannot be called back:
    /// its host calls <c>Advance</c>, at <c>NextDeadline</c> or later.
    /// </summary>
    public TimeProvider Time { get; init; } = TimeProvider.System;

    /// <summary>Which parts rows have beside their body.</summary>
    public RowParts Parts { get; init; } = new();

    /// <summary>The height of an item's row, px; where a host measures rows, the height of those that it has not measured yet.</summary>
    public double RowHeight { get; init; } = 52;

    /// <summary>The height of a section's heading, px.</summary>
    public double HeadingHeight { get; init; } = 36;

    /// <summary>The window through which the rows are seen at first; a host sets it later by <c>Resize</c> and <c>ScrollTo</c>.</summary>
    public Viewport Viewport { get; init; } = Viewport.Default;

    /// <summary>
    /// How far beyond the viewport's top and bottom frames have rows, px: for hosts that scroll by themselves between two frames.
    /// </summary>
    public double Overscan { get; init; }

    /// <summary>Whether the list runs from right to left.</summary>
    public bool IsRightToLeft { get; init; }

    /// <summary>By whose rules typed characters are compared; the current culture where null.</summary>
    public CultureInfo? Culture { get; init; }

    /// <summary>
    /// Whether keys are checked when items come in, which costs a key and a table entry an item. Otherwise they are when one is first
    /// asked for, and a duplicate is found only then.
    /// </summary>
    public bool ChecksKeys { get; init; } = true;

    /// <summary>The list's title.</summary>
    public string? Title { get; init; }

    /// <summary>The highest that a row or heading may be, px.</summary>
    public const double HighestRow = 1_000_000;

    /// <summary>What the mode allows.</summary>
    public SelectionPolicy Policy => SelectionPolicy.For(Mode);

    /// <summary>Throws where a value is out of bounds, with the option as the parameter.</summary>
    /// <exception cref="ArgumentOutOfRangeException">A value is out of bounds.</exception>
    /// <exception cref="ArgumentException">A rule for a gesture or key cannot work; the message names it.</exception>
    public void Validate()
    {
        _ = Policy;
        if (Limit < 1) throw new ArgumentOutOfRangeException(nameof(Limit), Limit, "A limit is at least 1; for no selection there is mode none.");
        if (!IsHeight(HeadingHeight)) throw new ArgumentOutOfRangeException(nameof(HeadingHeight), HeadingHeight, $"A heading is higher than 0 px, and {HighestRow} px at most.");
        if (!IsHeight(RowHeight)) throw new ArgumentOutOfRangeException(nameof(RowHeight), RowHeight, $"A row is higher than 0 px, and {HighestRow} px at most.");
        if (!(Viewport.Width > 0) || !(Viewport.Height > 0) || !double.IsFinite(Viewport.Width) || !double.IsFinite(Viewport.Height))
            throw new ArgumentOutOfRangeException(nameof(Viewport), Viewport, "A viewport is wider and higher than 0 px.");
        if (!(Overscan >= 0) || !double.IsFinite(Overscan)) throw new ArgumentOutOfRangeException(nameof(Overscan), Overscan, "Rows are drawn 0 px or more beyond the viewport.");
        Thresholds.Validate();
        Gestures.Validate();
        Keys.Validate();
        if (UndoDepth < 0) throw new ArgumentOutOfRangeException(nameof(UndoDepth), UndoDepth, "A history holds 0 steps or more.");
        if (!(NoticeTime > 0) || double.IsNaN(NoticeTime)) throw new ArgumentOutOfRangeException(nameof(NoticeTime), NoticeTime, "A notice shows longer than 0 ms.");
        if (!(Parts.Width >= 24)) throw new ArgumentOutOfRangeException(nameof(Parts), Parts.Width, "A part is at least 24 px wide (WCAG 2.5.8).");
    }

    /// <summary>Whether a row may be so high, px.</summary>
    internal static bool IsHeight(double height) => height > 0 && height <= HighestRow;
}
