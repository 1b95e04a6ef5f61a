using System.Windows.Input;
using Lectica.Acts;

namespace Lectica;

/// <summary>
/// An act, or a command of the app's, as one that buttons and menus can be bound to. It can be executed when the list would do it and
/// anything would change. The parameter is a row, or an item's key: for acts that need an item, and for commands that are to be done to
/// that item. The list does not keep it: one that nothing else holds is let go.
/// </summary>
public sealed class ListCommand<TItem, TKey> : ICommand where TKey : notnull
{
    private readonly InteractiveList<TItem, TKey> _list;
    private readonly ActKind _kind;
    private readonly string? _id;
    private EventHandler? _changed;
    private Link? _link;
    private bool? _could;
    private bool _isOfItems;

    /// <summary>A command for one kind of act.</summary>
    /// <exception cref="ArgumentException">The act is one of a key press or a pointer, which no command has.</exception>
    public ListCommand(InteractiveList<TItem, TKey> list, ActKind kind)
    {
        ArgumentNullException.ThrowIfNull(list);
        if (!ActTraits.Of(kind).Sources.HasFlag(ActSources.Call))
            throw new ArgumentException(
                $"The act '{ActNames.Of(kind)}' needs a key press or a pointer, which no command has.", nameof(kind));
        (_list, _kind) = (list, kind);
    }

    /// <summary>A command of the app's, by its id.</summary>
    public ListCommand(InteractiveList<TItem, TKey> list, string id)
    {
        ArgumentNullException.ThrowIfNull(list);
        ArgumentNullException.ThrowIfNull(id);
        (_list, _id) = (list, id);
    }

    private bool NeedsItem => _id is null && ActTraits.Of(_kind).NeedsItem;

    /// <summary>
    /// Whether it can be executed is another than before: for an act that needs no item. For one that does it is raised whenever the list
    /// has changed, since it does not know which items it is asked about; so it is for one that was once asked about an item.
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
    public bool CanExecute(object? parameter)
    {
        if (_id is null) return _list.WhyNot(_kind, IndexOf(parameter)) is null;
        _isOfItems |= parameter is not null;
        return (parameter is null ? _list.WhyNotRun(_id) : KeyOf(parameter, out var key) ? _list.WhyNotRun(_id, key) : Unknown) is null;
    }

    /// <inheritdoc/>
    public void Execute(object? parameter)
    {
        if (_id is null) _list.DoAt(_kind, IndexOf(parameter));
        else if (parameter is null) _list.RunCommand(_id);
        else if (KeyOf(parameter, out var key)) _list.RunCommand(_id, key);
    }

    private static Refusal Unknown { get; } = new(RefusalKind.NoItem, "The parameter is neither a row nor a key.");

    private static bool KeyOf(object? parameter, [System.Diagnostics.CodeAnalysis.MaybeNullWhen(false)] out TKey key)
    {
        key = parameter switch { TKey given => given, ListRow<TItem, TKey> row => row.Key, _ => default };
        return parameter is TKey or ListRow<TItem, TKey>;
    }

    private int IndexOf(object? parameter) => NeedsItem && KeyOf(parameter, out var key) ? _list.IndexOf(key) : -1;

    private void Look()
    {
        if (!NeedsItem && !_isOfItems)
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
