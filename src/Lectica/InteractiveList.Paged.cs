using Lectica.Commands;
using Lectica.Sources;

namespace Lectica;

// Lists of what is not in memory.
public sealed partial class InteractiveList<TItem, TKey>
{
    /// <summary>
    /// Shows a source that is not in memory: what is in view is read, and a little beyond, as it is needed
    /// (<see cref="ListOptions.PageSize"/>, <see cref="ListOptions.PagesKept"/>). Rows whose items are not there yet are pending: they can
    /// be scrolled to, selected and ranged over like any others. What filters, sorts and makes sections is the source, not functions of an
    /// item. Items that tell of their changes are listened to for as long as they are held.
    /// </summary>
    /// <exception cref="InvalidOperationException">The list has no key function, or has a filter, sections or the like by item.</exception>
    public void Show(IPagedSource<TItem, TKey> source)
    {
        ArgumentNullException.ThrowIfNull(source);
        if (_parts.Projection.ByItem is { } name)
            throw new InvalidOperationException(
                $"The list has {name}, which asks each item; a paged list has not read them all. Let the source do it, " +
                    $"and set {name} to null.");
        Set(p => p.Source.Show(source));
    }

    /// <summary>
    /// Reads a key from its text: the key it was written from, or the type's default where the text is of none. A paged list needs it to
    /// restore a snapshot, as it cannot look through its items; with it, one in memory saves and restores without a look at each. Null for
    /// the keys' own way, which strings, whole numbers and GUIDs have.
    /// </summary>
    public Func<string, TKey>? KeyOfText
    {
        get => Here.Store.Texts.GivenBack;
        set => Here.Store.Texts.GivenBack = value;
    }

    /// <summary>Whether the list shows a source that is not in memory.</summary>
    public bool IsPaged => Here.Pager.IsPaged;

    /// <summary>Whether the item at an index is at hand: always where all are in memory.</summary>
    public bool IsRead(int index) => (uint)index < (uint)Here.Store.Count && _parts.Store.Has(index);

    /// <summary>Whether a paged list waits for its source: for rows, their number, or where they are now.</summary>
    public bool IsReading => Here.Pager.IsReading;

    /// <summary>
    /// What is selected, as a command's target: how many, the items where they have been read, and in any case their condition and the
    /// items page by page. It stays what it is when the selection changes.
    /// </summary>
    public CommandTarget<TItem, TKey> Selected => Here.Teller.TargetOf(Selection.Items);

    /// <summary>A paged source could not be read. What it was for says so in its rows, and can be tried again there.</summary>
    public event EventHandler<ReadFailedEventArgs>? ReadFailed
    {
        add => _parts.Events.ReadFailed += value;
        remove => _parts.Events.ReadFailed -= value;
    }
}
