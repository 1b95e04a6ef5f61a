using System.Windows.Input;
using Lectica.Acts;

namespace Lectica;

/// <summary>
/// An act as a command that buttons and menus can be bound to. It can be executed when the list would not refuse it. The parameter is the
/// item's key for acts that need an item, and is not looked at for others.
/// </summary>
public sealed class ListCommand<TItem, TKey> : ICommand where TKey : notnull
{
    private readonly InteractiveList<TItem, TKey> _list;
    private readonly ActKind _kind;

    /// <summary>A command for one kind of act.</summary>
    /// <exception cref="ArgumentException">The act is one of a key press, which no command has.</exception>
    public ListCommand(InteractiveList<TItem, TKey> list, ActKind kind)
    {
        ArgumentNullException.ThrowIfNull(list);
        if (kind is ActKind.Type or ActKind.MovePart or ActKind.WorkPart or ActKind.InvokeTray or ActKind.ChooseEntry or ActKind.RunCommand or ActKind.ToggleMark || new Act(kind).GoesOn)
            throw new ArgumentException($"The act '{ActNames.Of(kind)}' needs a key press or a pointer, which no command has.", nameof(kind));
        (_list, _kind) = (list, kind);
        list.FrameChanged += (_, _) => CanExecuteChanged?.Invoke(this, EventArgs.Empty);
    }

    /// <inheritdoc/>
    public event EventHandler? CanExecuteChanged;

    /// <inheritdoc/>
    public bool CanExecute(object? parameter) => _list.WhyNot(_kind, IndexOf(parameter)) is null;

    /// <inheritdoc/>
    public void Execute(object? parameter) => _list.DoAt(_kind, IndexOf(parameter));

    private int IndexOf(object? parameter) => new Act(_kind).NeedsItem && parameter is TKey key ? _list.IndexOf(key) : -1;
}
