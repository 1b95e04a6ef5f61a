using Lectica.Acts;
using Lectica.Commands;
using Lectica.Items;
using Lectica.States;

namespace Lectica.Shell;

/// <summary>A command that was done, with the items that it was done to and the places where they were.</summary>
internal sealed class CommandStep<TItem, TKey> : UndoStep where TKey : notnull
{
    private readonly CommandRunner<TItem, TKey> _runner;
    private readonly Core _core;
    private readonly ItemStore<TItem, TKey> _store;
    private readonly Command<TItem, TKey> _command;
    private readonly IReadOnlyList<TItem> _items;
    private readonly ReturnPlaces<TItem, TKey> _places;
    private readonly Dictionary<string, TKey[]> _marks;
    private readonly TKey[] _keys;

    private readonly ItemSet _set;

    // Which of the items, by their numbers, were still in the list when it was done, and the moment at which that was so.
    private ItemSet _stayed;
    private EditLog _moment;

    private CommandStep(
        CommandRunner<TItem, TKey> runner, Core core, ItemStore<TItem, TKey> store, Command<TItem, TKey> command,
            IReadOnlyList<TItem> items, TKey[] keys, ItemSet set, Dictionary<string, TKey[]> marks) : base(command.Label)
    {
        (_runner, _core, _store, _command, _items, _keys, _set, _marks) = (runner, core, store, command, items, keys, set, marks);
        (_places, _moment) = (ReturnPlaces<TItem, TKey>.Of(store, set, core.Moment), core.Moment);
        _stayed = ItemSet.All(keys.Length);
    }

    public static CommandStep<TItem, TKey> Of(
        CommandRunner<TItem, TKey> runner, Core core, ItemStore<TItem, TKey> store, Command<TItem, TKey> command,
            CommandTarget<TItem, TKey> target, ItemSet items)
    {
        var marks = runner.Marker.KeptOf(items);
        // Some of what was meant may have left while it was asked about.
        var isWhole = items.Count == target.Count;
        return new(runner, core, store, command, isWhole ? target.Items : store.ItemsOf(items),
            isWhole ? target.Keys as TKey[] ?? [.. target.Keys] : store.KeptKeysOf(items), items, marks);
    }

    /// <summary>The command is done: only those that are in the list now are where it would put them.</summary>
    public void Settle()
    {
        // Where nothing has come, who has left is not looked for by key.
        if (_moment.Since().Any(edit => edit.Inserted().Any()))
            _stayed = ItemSet.Where(_keys.Length, i => _store.IndexOfKept(_keys[i]) >= 0);
        else if (_moment.Carry(_set) is { IsEmpty: true }) _stayed = ItemSet.None(_keys.Length);
        else _stayed = ItemSet.Of(_keys.Length, _set.Select((index, i) => _moment.Carry(index) >= 0 ? i : -1).Where(i => i >= 0));
        _moment = _core.Moment;
        _places.Settle(_stayed, _keys);
    }

    public override Refusal? Apply(ActKind kind, out UndoStep inverse)
    {
        inverse = this;
        for (var i = 0; i < _keys.Length && !_moment.IsNow; i++)
        {
            var isHere = _store.IndexOfKept(_keys[i]) >= 0;
            if (!isHere && _stayed.Contains(i))
                return new(RefusalKind.OutOfDate,
                    $"'{Name}' cannot be taken back: the item '{NameOf(_store, _items[i], _keys[i])}' has left the list since.");
            if (isHere && !_stayed.Contains(i))
                return new(RefusalKind.OutOfDate,
                    $"'{Name}' cannot be taken back: the item '{NameOf(_store, _items[i], _keys[i])}' is in the list again already.");
        }
        var gone = _stayed.Complement().ToArray();
        var places = ReturnPlaces<TItem, TKey>.Indexes(_places.Gaps(gone, ItemSet.None(_store.Count)));
        if (!_stayed.IsEmpty)
        {
            var back = places;
            places = new int[_keys.Length];
            for (var i = 0; i < gone.Length; i++) places[gone[i]] = back[i];
            foreach (var i in _stayed) places[i] = _store.IndexOfKept(_keys[i]);
        }
        HashSet<TKey> left = _marks.Count == 0 ? [] : [.. gone.Select(i => _keys[i])];
        inverse = new CommandAgain<TItem, TKey>(_runner, _core, _store, _command, _items, _keys);
        var target = new CommandTarget<TItem, TKey>(_items, _keys, places)
        {
            Away = (_core, _core.Moment.Number, _stayed.Complement()),
        };
        _runner.Invert(_command, target, _marks.ToDictionary(m => m.Key, m => (TKey[])[.. m.Value.Where(left.Contains)]), inverse);
        return null;
    }

    /// <summary>What an item is called: by its key, or where the list gave it that, by what it says of itself.</summary>
    public static string NameOf(ItemStore<TItem, TKey> store, TItem item, TKey key) =>
        store.HasOwnKeys ? store.TextOf(key) : item?.ToString() ?? "";
}

/// <summary>A command that was taken back, and can be done again to the same items.</summary>
internal sealed class CommandAgain<TItem, TKey>(
    CommandRunner<TItem, TKey> runner, Core core, ItemStore<TItem, TKey> store, Command<TItem, TKey> command, IReadOnlyList<TItem> items,
        TKey[] keys)
    : UndoStep(command.Label) where TKey : notnull
{
    public override Refusal? Apply(ActKind kind, out UndoStep inverse)
    {
        inverse = this;
        for (var i = 0; i < keys.Length; i++)
            if (store.IndexOfKept(keys[i]) < 0)
                return new(RefusalKind.OutOfDate,
                    $"'{Name}' cannot be done again: the item '{CommandStep<TItem, TKey>.NameOf(store, items[i], keys[i])}' has left the " +
                        "list since.");
        var set = ItemSet.Of(core.State.Count, keys.Select(store.IndexOfKept));
        var away = set.Except(core.Rules.Choosable);
        if (!away.IsEmpty && command.Scope == CommandScope.Items)
        {
            var shows = core.State.Showing.Shown.Contains(away.Nth(0));
            return new(shows ? RefusalKind.Disabled : RefusalKind.Hidden,
                $"'{Name}' cannot be done again now: the " +
                    $"item '{core.KeyText(away.Nth(0))}' is {(shows ? "disabled" : "hidden by the filter")}.");
        }
        if (runner.WhyNot(command, set, out var target) is { } refusal) return refusal;
        var step = CommandStep<TItem, TKey>.Of(runner, core, store, command, target, set);
        runner.Begin(command, target, set, step, again: true);
        inverse = step;
        return null;
    }
}
