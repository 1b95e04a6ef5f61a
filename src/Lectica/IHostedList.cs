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

    /// <summary>
    /// Words for a screen reader, in the language of the list's phrases: a host hands them to a live region. They come once for an act,
    /// and where several things are said in one turn or batch, the last of them; that the selection changed only where nothing else is.
    /// </summary>
    event EventHandler<AnnouncedEventArgs>? Announced;

    /// <summary>A moment at which a device may vibrate.</summary>
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

    /// <summary>
    /// Tells the list that it has the keyboard now. The cursor goes to the first selected item, else to the first row; where a pointer has
    /// brought the keyboard, it does so with the first key.
    /// </summary>
    void Focus();

    /// <summary>Tells the list that the keyboard has gone elsewhere; the cursor stays where it is, unseen.</summary>
    void Blur();

    /// <summary>Scrolls to a distance from the top of the content, px; past an end means the end.</summary>
    void ScrollTo(double top);

    /// <summary>Gives the viewport another size, px.</summary>
    /// <exception cref="ArgumentOutOfRangeException">A side is not more than 0.</exception>
    void Resize(double width, double height);

    /// <summary>
    /// Takes how large text is compared with its usual size: rows, headings and notices are higher by as much, and trays, menus, tiles and
    /// columns wider where it is larger. What is looked at stays in place.
    /// </summary>
    /// <exception cref="ArgumentOutOfRangeException">It is less than a quarter or more than eight times.</exception>
    void ScaleText(double scale);

    /// <summary>
    /// Takes which key is Mod where the user sits, for an app that runs elsewhere, in a browser or on a server.
    /// <see cref="ListOptions.ModKey"/> counts for more where the app has set it.
    /// </summary>
    /// <exception cref="ArgumentOutOfRangeException">It is none of the two.</exception>
    void UseModKey(ModKey modKey);

    /// <summary>
    /// Lets the brief notice's time stand still while the pointer or the keyboard is on it, so that nobody is hurried (WCAG 2.2.1).
    /// </summary>
    /// <param name="holds">Whether it stands still.</param>
    /// <param name="time">When, ms on the samples' clock.</param>
    void HoldNotice(bool holds, double time);

    /// <summary>Leaves the state in which taps select.</summary>
    Response EndSelecting();

    /// <summary>Takes the window that the list shows in, whenever it or the list's place in it is another.</summary>
    /// <exception cref="ArgumentOutOfRangeException">It is empty.</exception>
    void ShowIn(HostWindow window);

    /// <summary>
    /// Takes how high rows of the present frame are drawn, by the text of their keys, px; for hosts whose rows are as high as their content
    /// needs.
    /// </summary>
    /// <exception cref="ArgumentOutOfRangeException">A height is not more than 0, or too high; nothing has changed then.</exception>
    void Measure(IEnumerable<KeyValuePair<string, double>> heights);

    /// <summary>
    /// When <see cref="Advance"/> should be called, ms on the samples' clock: a long press that is due, or the next step of scrolling while
    /// dragging near an edge. Null where nothing waits. A list with a context calls itself; a host without one calls, and may call late.
    /// </summary>
    double? NextDeadline { get; }

    /// <summary>
    /// Whether the host calls <see cref="Advance"/> at each <see cref="NextDeadline"/>: then a long search goes on in pieces at those, and
    /// not at once, where the list cannot call itself.
    /// </summary>
    bool IsCalledBack { get; set; }

    /// <summary>Whether the list calls itself back at its deadlines; otherwise its host calls <see cref="Advance"/>.</summary>
    bool CallsItself { get; }

    /// <summary>
    /// Lets time pass without input, to a time in ms on the samples' clock. A time that goes back, or is not a number, does nothing.
    /// </summary>
    Response Advance(double time);

    /// <summary>Does what a press on a column's header does: sorts by it, up, then down, then not.</summary>
    Response PressHeader(string column);

    /// <summary>What the header's box does: selects all that show and are enabled, or takes them out if they are all in.</summary>
    Response ToggleAll();

    /// <summary>
    /// Chooses a command of the open menu by its id: for hosts that draw menus of their own. A submenu has its label as id.
    /// </summary>
    Response ChooseEntry(string id);

    /// <summary>
    /// Scrolls the entries of the open menu, for hosts that let users do so where not all of them fit; past an end means the end. Keys
    /// scroll by themselves. Without a menu nothing happens.
    /// </summary>
    /// <param name="top">How far from the top of its entries, px.</param>
    /// <param name="submenu">Whether it is the open submenu that is scrolled.</param>
    /// <exception cref="ArgumentOutOfRangeException">It is no number.</exception>
    void ScrollMenu(double top, bool submenu = false);

    /// <summary>Closes the open menu, if there is one.</summary>
    Response CloseMenu();

    /// <summary>Takes back what the brief notice tells of, and hides it.</summary>
    Response UndoFromNotice();

    /// <summary>Has the command tried again that the brief notice says has failed, and hides the notice.</summary>
    Response RetryFromNotice();

    /// <summary>Runs a command for the selection, or where nothing is selected for the item at the cursor: as a toolbar does.</summary>
    Response RunCommand(string id);

    /// <summary>The toolbar for the selection, fitted into a width, px: icons take 44 px, labels as much as the app says.</summary>
    /// <param name="width">The room there is.</param>
    /// <param name="labelWidth">The width of a command without an icon; 12 px a letter and 24 more where null.</param>
    /// <param name="hasIcons">Whether icons show alone, where commands have any; otherwise all show their labels, which is what
    /// <paramref name="labelWidth"/> then gives the room for.</param>
    Toolbar ToolbarFor(double width, Func<string, double>? labelWidth = null, bool hasIcons = true);

    /// <summary>What a mark says of itself; its name where it says nothing, or there is none.</summary>
    string LabelOf(string mark);

    /// <summary>
    /// Whether a pull beyond the top does something now: then a finger that moves down at the top is the list's, and not the host's.
    /// </summary>
    bool Pulls { get; }

    /// <summary>Something goes to the clipboard: a host that has one puts it there. Where nobody listens nothing is copied.</summary>
    event EventHandler<CopiedEventArgs>? Copied;

    /// <summary>
    /// What is on the clipboard is wanted, by a key or from the menu: a host that has one hands it to <see cref="Paste"/>, now or later.
    /// </summary>
    event EventHandler? PasteWanted;

    /// <summary>What the app gives to the clipboard and to drags, and what it takes.</summary>
    ClipboardUse ClipboardUse { get; }

    /// <summary>
    /// Copies the item at the cursor, or the selection if it is in it: <see cref="Copied"/> brings what goes to the clipboard.
    /// </summary>
    Response Copy();

    /// <summary>The same, and the items go, by the app's command for that.</summary>
    Response Cut();

    /// <summary>
    /// Hands in what is on the clipboard: it comes after the item at the cursor, or after the selection if that is in it; at the end where
    /// there is neither.
    /// </summary>
    /// <returns>Whether the app takes it; if not, the host may use it.</returns>
    Response Paste(TransferData data);

    /// <summary>
    /// What is dragged out by a drag that begins at a point: null where there is no item, or the app gives nothing of it.
    /// </summary>
    TransferData? DataAt(double x, double y);

    /// <summary>
    /// Something is dragged over the list from outside; its gap shows. A host calls it as the pointer moves, and then one of the next two.
    /// </summary>
    /// <param name="types">The media types that it is there in.</param>
    /// <param name="hasFiles">Whether there are files.</param>
    /// <param name="x">Where it is, px from the viewport's left edge.</param>
    /// <param name="y">Where it is, px from the viewport's top edge.</param>
    /// <param name="time">When, ms on the samples' clock.</param>
    /// <returns>Whether it may be dropped there.</returns>
    Response HoverFromOutside(IEnumerable<string> types, bool hasFiles, double x, double y, double time);

    /// <summary>Something is dropped from outside.</summary>
    /// <returns>Whether the app takes it.</returns>
    Response DropFromOutside(TransferData data, double x, double y, double time);

    /// <summary>What was dragged over the list has left it.</summary>
    void LeaveFromOutside();

    /// <summary>Which parts rows have.</summary>
    RowParts Parts { get; }

    /// <summary>Whether rows stand in sections, with headings.</summary>
    bool HasSections { get; }
}

/// <summary>What an app gives to the clipboard and to drags, and what it takes.</summary>
[Flags]
public enum ClipboardUse
{
    /// <summary>Nothing: all of it is the host's own.</summary>
    None = 0,

    /// <summary>Items are copied.</summary>
    Copies = 1,

    /// <summary>Items are cut.</summary>
    Cuts = 2,

    /// <summary>Something is taken in, by a paste or a drop.</summary>
    Takes = 4,

    /// <summary>Items are dragged out by a mouse.</summary>
    DragsOut = 8,
}
