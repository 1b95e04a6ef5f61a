using System.Collections.Immutable;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Items;
using Lectica.States;
using Lectica.Swiping;

namespace Lectica.Shell;

/// <summary>Gives commands of the list's own, besides those that the app declares.</summary>
internal interface IOwnCommands<TItem, TKey>
{
    /// <summary>Such as those that move items without dragging.</summary>
    IEnumerable<Command<TItem, TKey>> OwnCommands { get; }
}

/// <summary>The commands that an app declares: whether they can work, which can be done, and where they show.</summary>
internal sealed class CommandBook<TItem, TKey>(Core core, Teller<TItem, TKey> teller) where TKey : notnull
{
    public ImmutableArray<Command<TItem, TKey>> Commands { get; private set; } = [];

    /// <summary>Commands of the list's own.</summary>
    public ImmutableArray<IOwnCommands<TItem, TKey>> Own { get; set; } = [];

    private IEnumerable<Command<TItem, TKey>> OwnCommands => Own.SelectMany(o => o.OwnCommands);

    /// <summary>A target of no items: that of a command of the whole list.</summary>
    public CommandTarget<TItem, TKey> NoTarget { get; } = new([], [], []);

    public void Declare(ImmutableArray<Command<TItem, TKey>> commands)
    {
        var trays = Check(commands, core.Options.ModKey);
        Commands = commands;
        core.Commit(core.State with
        {
            Declared = core.State.Declared with { Trays = trays, HasMenuCommands = commands.Any(c => c.IsInMenu) },
        });
        core.Out.Properties.Add("Commands");
    }

    /// <summary>Throws where commands cannot work, and gives the trays that they make.</summary>
    public static Trays Check(ImmutableArray<Command<TItem, TKey>> commands, Input.ModKey modKey)
    {
        if (commands.GroupBy(c => c.Id).FirstOrDefault(g => g.Count() > 1) is { } twice)
            throw new ArgumentException(
                $"Two commands have the id '{twice.Key}': '{string.Join("' and '", twice.Select(c => c.Label))}'. Each needs its own.");
        var chords = commands.SelectMany(c => c.Chords.Select(k => (Command: c, Chord: k, Key: (k.Key, k.Resolve(modKey)))));
        if (chords.GroupBy(c => c.Key).FirstOrDefault(g => g.Count() > 1) is { } same)
            throw new ArgumentException(
                $"The commands '{string.Join("' and '", same.Select(c => c.Command.Id))}' have the chord {same.First().Chord} both: a " +
                    "chord runs one.");
        ImmutableArray<TrayEntry> At(ShowIn edge) =>
            [.. commands.Where(c => c.ShowIn.HasFlag(edge)).OrderBy(c => c.Order)
            .Select(c => new TrayEntry(c.Id, c.Label, c.SwipesThrough, c.Icon, c.Role))];
        if (commands.FirstOrDefault(
            c => c.Scope == CommandScope.List && (c.ShowIn & (ShowIn.LeadingTray | ShowIn.TrailingTray)) != 0) is { } whole)
            throw new ArgumentException($"The command '{whole.Id}' is done to the whole list, so it has no place in a row's tray.");
        var trays = new Trays { Leading = At(ShowIn.LeadingTray), Trailing = At(ShowIn.TrailingTray) };
        trays.Validate();
        if (commands.FirstOrDefault(c => !c.DoesSomething) is { } idle)
            throw new ArgumentException($"The command '{idle.Id}' does nothing: give it a Do or a Run.");
        return trays;
    }

    /// <summary>A command that the app has declared, by its id; null where it has not.</summary>
    public Command<TItem, TKey>? Declared(string? id)
    {
        foreach (var command in Commands)
            if (command.Id == id) return command;
        return null;
    }

    /// <summary>A command by its id, the app's first; null where there is none.</summary>
    public Command<TItem, TKey>? Find(string? id) => Declared(id) ?? OwnCommands.FirstOrDefault(c => c.Id == id);

    public Refusal NoCommand(string? id) =>
        new(RefusalKind.NoItem,
        $"There is no command '{id}'; there are {(Commands.IsEmpty ? "none" : string.Join(", ", Commands.Select(c => c.Id)))}.");

    /// <summary>All that the menu may show.</summary>
    public IEnumerable<Command<TItem, TKey>> InMenu
    {
        get
        {
            foreach (var command in Commands)
                if (command.IsInMenu) yield return command;
            foreach (var own in OwnCommands)
                if (Commands.All(c => c.Id != own.Id)) yield return own;
        }
    }

    /// <summary>
    /// What a command would be done to, given the items that were meant, and why it cannot be; every way to a command asks this.
    /// </summary>
    /// <param name="command">The command.</param>
    /// <param name="items">The items that were meant.</param>
    /// <param name="target">The target: never what is hidden or disabled.</param>
    public Refusal? WhyNot(Command<TItem, TKey> command, ItemSet items, out CommandTarget<TItem, TKey> target)
    {
        var refusal = Ask(command, items, out var about);
        target = about.Count == 0 ? NoTarget : teller.TargetOf(about.Set);
        return refusal;
    }

    /// <summary>The same where nothing is to be done: the target is for questions.</summary>
    private Refusal? Ask(Command<TItem, TKey> command, ItemSet items, out CommandTarget<TItem, TKey> about)
    {
        about = NoTarget;
        if (command.Scope == CommandScope.Items)
        {
            items = items.Intersect(core.Rules.Choosable);
            if (items.IsEmpty)
                return new(core.State.Count == 0 ? RefusalKind.EmptyList : RefusalKind.NoItem,
                    $"The command '{command.Id}' has nothing to be done to: no item that shows and is enabled is selected or meant.");
            about = teller.AskedAbout(items);
        }
        return WhyBusy(command, items) ?? WhyUnavailable(command, about);
    }

    /// <summary>
    /// Why a command must wait for others that are under way; null where it need not. Cost: a set operation for each of them.
    /// </summary>
    public Refusal? WhyBusy(Command<TItem, TKey> command, ItemSet items)
    {
        foreach (var run in core.State.Runs)
        {
            if (command.Scope == CommandScope.List)
            {
                if (run.Id == command.Id) return new(RefusalKind.Running, $"The command '{command.Id}' is running already.");
                continue;
            }
            if (run.IsWhole) continue;
            var both = run.Items.Intersect(items);
            if (!both.IsEmpty)
                return new(RefusalKind.Running,
                    $"The command '{run.Id}' is still running on the item '{core.KeyText(both.Nth(0))}': '{command.Id}' must wait for it.");
        }
        return null;
    }

    /// <summary>The run of a command that is under way for some of these items, or for the list; null where none is.</summary>
    public CommandRun? RunOf(Command<TItem, TKey> command, ItemSet items)
    {
        foreach (var run in core.State.Runs)
            if (run.Id == command.Id && run.IsAt(items)) return run;
        return null;
    }

    /// <summary>All that a toolbar may show.</summary>
    public IEnumerable<Command<TItem, TKey>> InToolbar => Commands.Where(c => c.ShowIn.HasFlag(ShowIn.Toolbar));

    /// <summary>A command in a toolbar: where it is under way, the way to stop it.</summary>
    public ToolbarEntry ToolOf(Command<TItem, TKey> command, ItemSet items, Func<string, string?, double> widthOf)
    {
        if (RunOf(command, items) is not { } run)
        {
            var available = IsAvailable(command, items, out var isChecked);
            return new(command.Id, command.Label, command.Icon, command.Role, available, widthOf(command.Label, command.Icon))
            {
                IsChecked = isChecked,
            };
        }
        var (label, icon) = (core.Options.Phrases.CancelCommand(command.Label), command.Icon is null ? null : "close");
        return new(CancelId(command.Id), label, icon, default, !run.IsCancelled, widthOf(label, icon))
        {
            Command = command.Id,
            IsBusy = true,
            Progress = run.Progress,
        };
    }

    /// <summary>The id of what stops a command, in menus and toolbars.</summary>
    public static string CancelId(string id) => Cancel + id;

    /// <summary>The command that an id stops; null where it stops none.</summary>
    public string? CancelledBy(string id) =>
        id.StartsWith(Cancel, StringComparison.Ordinal) && Find(id) is null ? id[Cancel.Length..] : null;

    private const string Cancel = "cancel:";

    private Refusal? WhyUnavailable(Command<TItem, TKey> command, CommandTarget<TItem, TKey> target)
    {
        if (command.EnabledFor is not { } enabledFor) return null;
        string To() =>
            target.Count switch { 0 => "", 1 => $" to the item '{core.KeyText(target.Set.Nth(0))}'", var n => $" to these {n} items" };
        return core.App.Try(() => enabledFor(target), out var enabled,
            why => $"The app could not say whether the command '{command.Id}' can be done{To()}: {why}")
            ?? (enabled ? null
            : new(RefusalKind.NotAvailable, $"The command '{command.Id}' cannot be done{(target.Count == 0 ? " now" : To())}."));
    }

    /// <summary>Whether a command can be done to what was meant.</summary>
    /// <param name="command">The command.</param>
    /// <param name="items">The items that were meant.</param>
    /// <param name="isChecked">
    /// Whether what it switches is on; null where it switches nothing. With nothing to be done to it is off.
    /// </param>
    public bool IsAvailable(Command<TItem, TKey> command, ItemSet items, out bool? isChecked)
    {
        // The app's two questions are about the same target.
        var available = Ask(command, items, out var about) is null;
        isChecked = command.CheckedFor is { } checkedFor
            ? (command.Scope == CommandScope.List || about.Count > 0) && core.App.Ask(checkedFor, about, false) : null;
        return available;
    }
}
