using System.ComponentModel;
using Lectica.Commands;
using Lectica.Frames;
using Lectica.Input;
using Lectica.Layout;

namespace Lectica;

/// <summary>
/// A list as a host sees it, whatever its items are: input goes in, and frames, announcements and haptic hints come out. A host needs
/// nothing but this and the frames. It lies at (0, 0): all places are px from the viewport's left and top edges.
/// </summary>
public interface IHostedList : INotifyPropertyChanged
{
    /// <summary>How it behaves.</summary>
    ListOptions Options { get; }

    /// <summary>What there is to draw. The same object until something changes.</summary>
    Frame Frame { get; }

    /// <summary>There is something new to draw.</summary>
    event EventHandler? FrameChanged;

    /// <summary>Words for a screen reader, in the language of the list's phrases: a host hands them to a live region.</summary>
    event EventHandler<AnnouncedEventArgs>? Announced;

    /// <summary>A moment that a device may let be felt.</summary>
    event EventHandler<HapticEventArgs>? Haptic;

    /// <summary>
    /// Takes what a pointer did. A move that changes nothing allocates nothing. A sample that comes late is taken as of its own time: a
    /// long press that was due before it has fired by then.
    /// </summary>
    /// <returns>Whether the list used it; a press is handled where it is on a row, and a finger's pan never is: the host scrolls.</returns>
    Response Take(PointerSample sample);

    /// <summary>Takes a key that went down. The first one brings the focus.</summary>
    /// <returns>Whether the list used it; if not, the host may.</returns>
    Response Take(KeyPress press);

    /// <summary>
    /// Whether a key that is pressed now would be used, without pressing it: for hosts that must say so before the list can be asked to
    /// take it.
    /// </summary>
    bool WouldTake(KeyPress press);

    /// <summary>The chords that the list uses in some state of its own: its key table's and its commands'.</summary>
    IEnumerable<KeyChord> Chords { get; }

    /// <summary>
    /// Whether a pointer is the list's own now: something is dragged or swiped, or a long press has been recognised that moving on would
    /// drag. A host that scrolls by itself, or has a default for the pointer, leaves both until it is false again.
    /// </summary>
    bool HoldsPointer { get; }

    /// <summary>Tells the list that it has the keyboard now. The cursor goes to the first selected item, else to the first row.</summary>
    void Focus();

    /// <summary>Tells the list that the keyboard has gone elsewhere; the cursor stays where it is, unseen.</summary>
    void Blur();

    /// <summary>Scrolls to a distance from the top of the content, px; past an end means the end.</summary>
    void ScrollTo(double top);

    /// <summary>Gives the viewport another size, px.</summary>
    /// <exception cref="ArgumentOutOfRangeException">A side is not more than 0.</exception>
    void Resize(double width, double height);

    /// <summary>
    /// Takes how high rows of the present frame are drawn, by the text of their keys, px; for hosts whose rows are as high as their content
    /// needs.
    /// </summary>
    /// <exception cref="ArgumentOutOfRangeException">A height is not more than 0, or too high; nothing has changed then.</exception>
    void Measure(IEnumerable<(string KeyText, double Height)> heights);

    /// <summary>
    /// When <see cref="Advance"/> should be called, ms on the samples' clock: a long press that is due, or the next step of scrolling while
    /// dragging near an edge. Null where nothing waits. A list with a context calls itself; a host without one calls, and may call late.
    /// </summary>
    double? NextDeadline { get; }

    /// <summary>Whether the list calls itself back at its deadlines; otherwise its host calls <see cref="Advance"/>.</summary>
    bool CallsItself { get; }

    /// <summary>
    /// Lets time pass without input, to a time in ms on the samples' clock. One that goes back, or is no number, does nothing.
    /// </summary>
    Response Advance(double time);

    /// <summary>What the header's box does: selects all that show and are enabled, or takes them out if they are all in.</summary>
    Response ToggleAll();

    /// <summary>
    /// Chooses a command of the open menu by its id: for hosts that draw menus of their own. A submenu has its label as id.
    /// </summary>
    Response ChooseEntry(string id);

    /// <summary>Closes the open menu, if there is one.</summary>
    Response CloseMenu();

    /// <summary>Takes back what the brief notice tells of, and hides it.</summary>
    Response UndoFromNotice();

    /// <summary>Runs a command for the selection, or where nothing is selected for the item at the cursor: as a toolbar does.</summary>
    Response RunCommand(string id);

    /// <summary>The toolbar for the selection, fitted into a width, px: icons take 44 px, labels as much as the app says.</summary>
    /// <param name="width">The room there is.</param>
    /// <param name="labelWidth">The width of a command without an icon; 12 px a letter and 24 more where null.</param>
    /// <param name="hasIcons">Whether the host has pictures for icons; otherwise all commands show their labels.</param>
    Toolbar ToolbarFor(double width, Func<string, double>? labelWidth = null, bool hasIcons = true);

    /// <summary>What a mark says of itself; its name where it says nothing, or there is none.</summary>
    string LabelOf(string mark);

    /// <summary>Which parts rows have.</summary>
    RowParts Parts { get; }

    /// <summary>Whether rows stand in sections, with headings.</summary>
    bool HasSections { get; }
}
