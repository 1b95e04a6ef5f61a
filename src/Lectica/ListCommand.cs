using System.Windows.Input;
using Lectica.Acts;

namespace Lectica;

/// <summary>
/// An act as a command that buttons and menus can be bound to. It can be executed when the list would do it and anything would change. The
/// parameter is the item's key for acts that need an item, and is not looked at for others. The list does not keep it: one that nothing
/// else holds is let go.
/// </summary>
public sealed class ListCommand<TItem, TKey> : ICommand where TKey : notnull
{
    private readonly InteractiveList<TItem, TKey> _list;
    private readonly ActKind _kind;
    private EventHandler? _changed;
    private Link? _link;
    private bool? _could;

    /// <summary>A command for one kind of act.</summary>
    /// <exception cref="ArgumentException">The act is one of a key press or a pointer, which no command has.</exception>
    public ListCommand(InteractiveList<TItem, TKey> list, ActKind kind)
    {
        ArgumentNullException.ThrowIfNull(list);
        if (!ActTraits.Of(kind).Sources.HasFlag(ActSources.Call)) throw new ArgumentException($"The act '{ActNames.Of(kind)}' needs a key press or a pointer, which no command has.", nameof(kind));
        (_list, _kind) = (list, kind);
    }

    /// <summary>
    /// Whether it can be executed is another than before: for an act that needs no item. For one that does it is raised whenever the list
    /// has changed, since the command does not know which items it is asked about.
    /// </summary>
    public event EventHandler? CanExecuteChanged
    {
        add
        {
            _changed += value;
            if (_link is not null || value is null) return;
            _could = CanExecute(null);
            _link = new(this, _list);
        }
        remove
        {
            _changed -= value;
            if (_changed is not null) return;
            _link?.LetGo();
            _link = null;
        }
    }

    /// <inheritdoc/>
    public bool CanExecute(object? parameter) => _list.WhyNot(_kind, IndexOf(parameter)) is null;

    /// <inheritdoc/>
    public void Execute(object? parameter) => _list.DoAt(_kind, IndexOf(parameter));

    private int IndexOf(object? parameter) => ActTraits.Of(_kind).NeedsItem && parameter is TKey key ? _list.IndexOf(key) : -1;

    private void Look()
    {
        if (!ActTraits.Of(_kind).NeedsItem)
        {
            var can = CanExecute(null);
            if (can == _could) return;
            _could = can;
        }
        _changed?.Invoke(this, EventArgs.Empty);
    }

    /// <summary>Listens to the list for as long as the command is there, without keeping it.</summary>
    private sealed class Link
    {
        private readonly WeakReference<ListCommand<TItem, TKey>> _command;
        private readonly InteractiveList<TItem, TKey> _list;

        public Link(ListCommand<TItem, TKey> command, InteractiveList<TItem, TKey> list)
        {
            (_command, _list) = (new(command), list);
            list.FrameChanged += Changed;
        }

        private void Changed(object? sender, EventArgs e)
        {
            if (_command.TryGetTarget(out var command)) command.Look();
            else LetGo();
        }

        public void LetGo() => _list.FrameChanged -= Changed;
    }
}
