using System.Collections.Concurrent;
using System.Collections.Immutable;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Input;
using Lectica.Items;
using Lectica.Swiping;

namespace Lectica;

// Commands: declared once, shown in menu, trays and toolbar, run by tap, swipe, key and call, all with one rule for their target.
public sealed partial class InteractiveList<TItem, TKey>
{
    /// <summary>A run of a command that is not over.</summary>
    private sealed class CommandRun
    {
        public required Command<TItem, TKey> Command { get; init; }
        public required CommandTarget<TItem, TKey> Target { get; init; }
        public required Act Act { get; init; }
        public required UndoStep Step { get; init; }
        public CancellationTokenSource Cancel { get; } = new();
    }

    private readonly List<CommandRun> _runs = [];
    private readonly ConcurrentQueue<Action> _arrived = new();
    private ImmutableArray<Command<TItem, TKey>> _commands = [];
    private Trays _trays = Trays.None;
    private Menu? _menu;
    private ItemSet _menuTarget = ItemSet.None(0);

    /// <summary>
    /// What can be done to items, or to the list. Setting it replaces all; those that run go on.
    /// </summary>
    /// <exception cref="ArgumentException">Two have one id or one chord, or two at one edge are swiped through to; the message names them.</exception>
    public ImmutableArray<Command<TItem, TKey>> Commands
    {
        get => _commands;
        set
        {
            CheckContext();
            if (value.IsDefault) value = [];
            var trays = CheckCommands(value);
            Run(_ =>
            {
                (_commands, _trays, _physics) = (value, trays, null);
                _plane = null;
                ChangeFrame();
                _changedProperties.Add(nameof(Commands));
                return Response.Handled;
            });
        }
    }

    private Trays CheckCommands(ImmutableArray<Command<TItem, TKey>> commands)
    {
        if (commands.GroupBy(c => c.Id).FirstOrDefault(g => g.Count() > 1) is { } twice)
            throw new ArgumentException($"Two commands have the id '{twice.Key}': '{string.Join("' and '", twice.Select(c => c.Label))}'. Each needs its own.");
        var chords = commands.SelectMany(c => c.Chords.Select(k => (Command: c, Chord: k, Key: (k.Key, k.Resolve(Options.ModKey)))));
        if (chords.GroupBy(c => c.Key).FirstOrDefault(g => g.Count() > 1) is { } same)
            throw new ArgumentException($"The commands '{string.Join("' and '", same.Select(c => c.Command.Id))}' have the chord {same.First().Chord} both: a chord runs one.");
        ImmutableArray<TrayEntry> At(CommandPlaces edge) => [.. commands.Where(c => c.Shows.HasFlag(edge)).OrderBy(c => c.Order).Select(c => new TrayEntry(c.Id, c.Label, c.SwipesThrough, c.Icon, c.Role))];
        if (commands.FirstOrDefault(c => c.Scope == CommandScope.List && (c.Shows & (CommandPlaces.LeadingTray | CommandPlaces.TrailingTray)) != 0) is { } whole)
            throw new ArgumentException($"The command '{whole.Id}' is done to the whole list, so it has no place in a row's tray.");
        var trays = new Trays { Leading = At(CommandPlaces.LeadingTray), Trailing = At(CommandPlaces.TrailingTray) };
        trays.Validate();
        return trays;
    }

    /// <summary>
    /// What is wrong with the chords of commands: those that the key table or finding by typing takes first, and those that the platform keeps for itself.
    /// </summary>
    public IEnumerable<(Command<TItem, TKey> Command, KeyChord Chord, string Reason)> ChordConflicts()
    {
        var inForce = Options.Keys.InForce(Options.Mode, Options.ModKey, Options.SpaceMark is not null, Options.MayMove).ToList();
        foreach (var command in _commands)
            foreach (var chord in command.Chords)
            {
                var taken = inForce.FirstOrDefault(r => r.Rule.Chord.Key == chord.Key && r.Rule.Chord.Resolve(Options.ModKey) == chord.Resolve(Options.ModKey));
                if (taken.Rule is { } rule) yield return (command, chord, $"{(taken.Always ? "never reached" : "reached only at times")}: {rule.Chord} means {string.Join(" and ", rule.Acts.Select(ActNames.Of))}");
                else if (Options.Keys.FindsByTyping && new System.Globalization.StringInfo(chord.Key).LengthInTextElements == 1 && (chord.Resolve(Options.ModKey) & ~Modifiers.Shift) == Modifiers.None)
                    yield return (command, chord, "never reached: characters find by typing");
                if (ReservedChords.Reason(chord, Options.ModKey) is { } reason) yield return (command, chord, $"kept by the platform: {reason}");
            }
    }

    /// <summary>A command was done: to how many items, and whether it was handled.</summary>
    public event EventHandler<CommandRanEventArgs<TItem, TKey>>? CommandRan;

    /// <summary>A command threw an exception. The list is as it was but for what the app itself had changed by then.</summary>
    public event EventHandler<CommandFailedEventArgs<TItem, TKey>>? CommandFailed;

    /// <summary>A command asks before it runs. Where nobody answers such questions, it is refused.</summary>
    public event EventHandler<ConfirmationEventArgs<TItem, TKey>>? ConfirmationRequested;

    /// <summary>The commands that are running, by id, each with the keys of its target.</summary>
    public IEnumerable<(string Id, IReadOnlyList<TKey> Keys)> RunningCommands => _runs.Select(r => (r.Command.Id, r.Target.Keys));

    /// <summary>Runs a command for the selection, or where nothing is selected for the item at the cursor: as a toolbar does.</summary>
    public Response RunCommand(string id) => Run(_ => RunFor(id, ItemsForCommand(), "call"));

    /// <summary>Runs a command for an item, or for the selection if it is in it: as a menu on its row does.</summary>
    public Response RunCommand(string id, TKey key) => Run(index => index < 0 ? Absent(ActKind.RunCommand, key) : RunFor(id, TargetAt(index), "call"), IndexOf(key));

    /// <summary>Asks running commands to stop; those that heed their token end as failed, with its exception.</summary>
    public void CancelCommands()
    {
        CheckContext();
        foreach (var run in _runs.ToArray()) run.Cancel.Cancel();
    }

    /// <summary>The selection as far as it shows and is enabled; where it is empty the item at the cursor.</summary>
    private ItemSet ItemsForCommand()
    {
        var selected = _selection.Items.Intersect(Rules.Choosable);
        return selected.IsEmpty && _selection.Cursor >= 0 ? ItemSet.None(Count).With(_selection.Cursor).Intersect(Rules.Choosable) : selected;
    }

    private CommandTarget<TItem, TKey> TargetOf(ItemSet items) => new(ItemsOf(items), [.. items.Select(_store.KeyAt)], items.ToArray());

    private static readonly CommandTarget<TItem, TKey> NoTarget = new([], [], []);

    private Response RunFor(string id, ItemSet items, string rule)
    {
        ArgumentNullException.ThrowIfNull(id);
        var act = new Act(ActKind.RunCommand, items.IsEmpty ? -1 : items.Nth(0), rule, id);
        return (_commands.FirstOrDefault(c => c.Id == id) ?? MoveCommands().FirstOrDefault(c => c.Id == id)) is { } command ? RunFor(command, items, act)
            : Refuse(act, new(RefusalKind.NoItem, $"There is no command '{id}'; there are {(_commands.IsEmpty ? "none" : string.Join(", ", _commands.Select(c => c.Id)))}."));
    }

    private Response RunFor(Command<TItem, TKey> command, ItemSet items, Act act)
    {
        if (command.Scope == CommandScope.Items)
        {
            // Whatever asked for it, it is never done to what is hidden or disabled.
            items = items.Intersect(Rules.Choosable);
            if (items.IsEmpty) return Refuse(act, new(Count == 0 ? RefusalKind.EmptyList : RefusalKind.NoItem, $"The command '{command.Id}' has nothing to be done to: no item that shows and is enabled is selected or meant."));
        }
        var target = command.Scope == CommandScope.List ? NoTarget : TargetOf(items);
        if (RunningRefusal(command, target) is { } running) return Refuse(act, running);
        if (AvailableRefusal(command, target) is { } refusal) return Refuse(act, refusal);
        if (command.Question is { } ask)
        {
            if (ConfirmationRequested is null) return Refuse(act, new(RefusalKind.NotAvailable, $"The command '{command.Id}' asks before it runs, and nobody answers: nothing listens to ConfirmationRequested."));
            string question;
            try
            {
                question = ask(target);
            }
#pragma warning disable CA1031 // The app's own exception becomes a refusal that names the command.
            catch (Exception e)
#pragma warning restore CA1031
            {
                return Refuse(act, new(RefusalKind.Failed, $"The question of the command '{command.Id}' threw: {e.Message}"));
            }
            var answered = false;
            Raise(ConfirmationRequested, new(command, target, question, yes =>
            {
                if (answered) return;
                answered = true;
                Run(_ =>
                {
                    if (!yes) return Refuse(act, new(RefusalKind.NotAvailable, $"The command '{command.Id}' was not confirmed."));
                    return RunningRefusal(command, target) is { } busy ? Refuse(act, busy) : Begin(command, target, act);
                });
            }));
            return Response.Handled;
        }
        return Begin(command, target, act);
    }

    private Refusal? RunningRefusal(Command<TItem, TKey> command, CommandTarget<TItem, TKey> target)
    {
        foreach (var run in _runs)
        {
            if (command.Scope == CommandScope.List && run.Command.Id == command.Id) return new(RefusalKind.Running, $"The command '{command.Id}' is running already.");
            if (run.Target.Keys.FirstOrDefault(k => target.Keys.Contains(k)) is { } key && target.Keys.Contains(key))
                return new(RefusalKind.Running, $"The command '{run.Command.Id}' is still running on the item '{key}': '{command.Id}' must wait for it.");
        }
        return null;
    }

    private static Refusal? AvailableRefusal(Command<TItem, TKey> command, CommandTarget<TItem, TKey> target)
    {
        try
        {
            return command.EnabledFor?.Invoke(target) == false
                ? new(RefusalKind.NotAvailable, $"The command '{command.Id}' cannot be done {(target.Keys.Count == 0 ? "now" : target.Keys.Count == 1 ? $"to the item '{target.Keys[0]}'" : $"to these {target.Keys.Count} items")}.")
                : null;
        }
#pragma warning disable CA1031 // The app's own exception becomes a refusal that names the command and the item.
        catch (Exception e)
#pragma warning restore CA1031
        {
            return new(RefusalKind.Failed, $"Whether the command '{command.Id}' can be done{(target.Keys.Count == 0 ? "" : $" to the item '{target.Keys[0]}'")} could not be told: {e.Message}");
        }
    }

    private Response Begin(Command<TItem, TKey> command, CommandTarget<TItem, TKey> target, Act act)
    {
        TraceAct(act, null);
        var run = new CommandRun { Command = command, Target = target, Act = act, Step = StepFor(command, target) };
        _runs.Add(run);
        // As an event: what it asks of the list, or does to the source, is done as by any handler.
        _events.Enqueue(() => Start(run));
        return Response.Handled;
    }

    private void Start(CommandRun run)
    {
        Task<CommandResult> task;
        try
        {
            task = run.Command.Run(run.Target, run.Cancel.Token) ?? throw new InvalidOperationException("It returned no task.");
        }
#pragma warning disable CA1031 // The app's own exception becomes an event; the list stays usable.
        catch (Exception e)
#pragma warning restore CA1031
        {
            task = Task.FromException<CommandResult>(e);
        }
        if (task.IsCompleted)
        {
            // After what it has asked of the list meanwhile, such as to show other items: that is part of what it did.
            _waiting.Enqueue(new()
            {
                Run = _ =>
                {
                    Finish(run, task);
                    return Response.Handled;
                },
            });
            return;
        }
        task.ContinueWith(done =>
        {
            _arrived.Enqueue(() => Finish(run, done));
            // A list that belongs to a bare thread looks for it at its next call.
            _context?.Post(_ =>
            {
                if (!_disposed) Run(_ => Response.Handled);
            }, null);
        }, CancellationToken.None, TaskContinuationOptions.ExecuteSynchronously, TaskScheduler.Default);
    }

    /// <summary>Tells of commands that have ended meanwhile, elsewhere.</summary>
    private void TakeArrived()
    {
        while (_arrived.TryDequeue(out var finish)) finish();
    }

    private void Finish(CommandRun run, Task<CommandResult> task)
    {
        if (task.IsCompletedSuccessfully) Finish(run, task.Result, null);
        else Finish(run, default, task.IsCanceled ? new OperationCanceledException($"The command '{run.Command.Id}' was cancelled.") : task.Exception!.InnerException ?? task.Exception);
    }

    private void Finish(CommandRun run, CommandResult result, Exception? error)
    {
        if (!_runs.Remove(run)) return;
        run.Cancel.Dispose();
        var command = run.Command;
        Trace(() => new()
        {
            Stage = "change",
            T = _now,
            Change = error is null ? "command" : "command-failed",
            Part = "command:" + command.Id,
            Moved = [.. run.Target.Keys.Take(TracedKeys).Select(TextOf)],
            Reason = error?.Message ?? (result.IsHandled ? $"done to {result.Count}" : "not handled"),
        });
        // The row that was swiped through leaves when the source removes it; if it has not, it comes back.
        if (_swipe is { IsLeaving: true } swipe) RestTray(swipe, open: false, error is null ? "its item stays" : "its command failed");
        if (error is not null)
        {
            if (CommandFailed is null && error is not OperationCanceledException) throw new CommandException(command.Id, run.Target.Keys.Count == 0 ? null : TextOf(run.Target.Keys[0]), error);
            Raise(CommandFailed, new(command, run.Target, error));
            return;
        }
        if (result.IsHandled && command.Inverse is not null) Keep(run.Step);
        Raise(CommandRan, new(command, run.Target, result));
        if (result.IsHandled && command.Notice is { } notice) Notify(notice(run.Target), command.Inverse is not null ? run.Step : null);
    }

    private static bool IsAvailable(Command<TItem, TKey> command, CommandTarget<TItem, TKey> target) =>
        command.Scope == CommandScope.List ? AvailableRefusal(command, NoTarget) is null : target.Keys.Count > 0 && AvailableRefusal(command, target) is null;

    /// <summary>The toolbar for the selection, fitted into a width, px: icons take 44 px, labels as much as the app says.</summary>
    /// <param name="width">The room there is.</param>
    /// <param name="labelWidth">The width of a command without an icon; 12 px a letter and 24 more where null.</param>
    /// <param name="hasIcons">Whether the host has pictures for icons; otherwise all commands show their labels.</param>
    public Toolbar ToolbarFor(double width, Func<string, double>? labelWidth = null, bool hasIcons = true)
    {
        CheckContext();
        var selected = _selection.Items.Intersect(Rules.Choosable);
        var target = TargetOf(selected);
        return Toolbar.Fit(
            [.. _commands.Where(c => c.Shows.HasFlag(CommandPlaces.Toolbar)).Select(c => (new ToolbarEntry(c.Id, c.Label, hasIcons ? c.Icon : null, c.Role, IsAvailable(c, target),
                hasIcons && c.Icon is not null ? Toolbar.OverflowWidth : labelWidth?.Invoke(c.Label) ?? (12 * c.Label.Length) + 24), c.Priority))],
            width);
    }

    /// <summary>The menu that is open, or null.</summary>
    public Menu? Menu => _menu;

    private bool HasMenus => MenuRequested is not null || _commands.Any(c => c.IsInMenu) || (Options.MovesInMenu && MayMoveNow && _sortBy is null);

    private Response OpenMenu(Act act, double? x, double? y)
    {
        if (WhyNot(ActKind.Activate, act.Index) is { } refusal) return Refuse(act, refusal);
        if (!HasMenus) return Refuse(act, new(RefusalKind.NoRule, "There is no menu: the list has no commands, and nothing listens to MenuRequested."));
        if (IsTrayOpen) CloseTray(act with { Kind = ActKind.CloseTray });
        TraceAct(act, null);
        if (_rows.RowOf(act.Index) is { } row && (x is null || y is null))
        {
            BringIntoView(act.Index);
            var top = Plane.Geometry.TopOf(row) - _viewport.ScrollTop;
            (x, y) = (Options.IsRightToLeft ? _viewport.Width : 0, top + Plane.Geometry.HeightOf(row));
        }
        _menuIndex = act.Index;
        _menuTarget = TargetAt(act.Index);
        var target = TargetOf(_menuTarget);
        var entries = EntriesInMenu(target);
        _menu = entries.IsEmpty ? null : new()
        {
            Entries = entries,
            // A menu opened by key begins on its first entry.
            At = act.Rule.StartsWith("key ", StringComparison.Ordinal) ? 0 : -1,
            IsRightToLeft = Options.IsRightToLeft,
            Place = Menu.PlaceAt(x ?? 0, y ?? 0, entries.Length, _viewport.Width, _viewport.Height, Options.IsRightToLeft),
        };
        _changedProperties.Add(nameof(IsMenuOpen));
        _changedProperties.Add(nameof(Menu));
        ChangeFrame();
        var key = _store.KeyAt(act.Index);
        Trace(() => new() { Stage = "change", T = _now, Change = "menu", Key = TextOf(key), Index = act.Index, Open = OpenText });
        Raise(MenuRequested, new(_menuTarget, target.Items, key, act.Index, x ?? 0, y ?? 0, act));
        return Response.Handled;
    }

    private ImmutableArray<MenuEntry> EntriesInMenu(CommandTarget<TItem, TKey> target) => Menu.EntriesFor(MenuCommands, target, c => IsAvailable(c, target));

    private Response CloseMenu(Act act)
    {
        if (!IsMenuOpen) return Response.Handled;
        TraceAct(act, null);
        ForgetMenu();
        return Response.Handled;
    }

    private void ForgetMenu()
    {
        (_menuIndex, _menu) = (-1, null);
        _changedProperties.Add(nameof(IsMenuOpen));
        _changedProperties.Add(nameof(Menu));
        ChangeFrame();
        Trace(() => new() { Stage = "change", T = _now, Change = "menu" });
        foreach (var handler in MenuClosed?.GetInvocationList() ?? []) _events.Enqueue(() => ((EventHandler)handler)(this, EventArgs.Empty));
    }

    /// <summary>What a key does to the open menu: nothing else takes keys meanwhile.</summary>
    private Response TakeInMenu(KeyPress press)
    {
        var answer = _menu!.Take(press, _match, _viewport.Width, _viewport.Height);
        return TakeAnswer(answer, $"key {press.Key}");
    }

    private Response TakeAnswer(MenuAnswer answer, string rule)
    {
        if (!answer.IsHandled && answer.Menu is not null) return new(false);
        if (answer.Menu is not null)
        {
            if (answer.Menu == _menu) return Response.Handled;
            _menu = answer.Menu;
            _changedProperties.Add(nameof(Menu));
            ChangeFrame();
            return Response.Handled;
        }
        var items = _menuTarget;
        CloseMenu(new(ActKind.CloseMenu, Rule: rule));
        return answer.Chosen is { } id ? RunFor(id, items, rule) : new(answer.IsHandled);
    }

    /// <summary>Chooses a command of the open menu by its id: for hosts that draw menus of their own. A submenu has its label as id.</summary>
    public Response ChooseEntry(string id) => Run(_ => ChooseEntry(id, "call"));

    private Response ChooseEntry(string? id, string rule)
    {
        var act = new Act(ActKind.ChooseEntry, _menuIndex, rule, id);
        if (_menu is not { } menu) return Refuse(act, new(RefusalKind.NoItem, "No menu is open."));
        for (var i = 0; i < menu.Entries.Length; i++)
        {
            if (menu.Entries[i].Id == id) return TakeAnswer(menu.Choose(i, false, _viewport.Width, _viewport.Height), rule);
            for (var k = 0; k < menu.Entries[i].Entries.Length; k++)
                if (menu.Entries[i].Entries[k].Id == id) return TakeAnswer((menu with { Open = i }).Choose(k, true, _viewport.Width, _viewport.Height), rule);
        }
        return Refuse(act, new(RefusalKind.NoItem, $"The menu has no entry '{id}'."));
    }

    /// <summary>The entry of the open menu under a point, as a part; null beside it.</summary>
    private string? EntryAt(double x, double y) => _menu?.EntryAt(x, y) is { } at ? (at.InSubmenu ? _menu.Entries[_menu.Open].Entries : _menu.Entries)[at.Entry].Id : null;

    private Response InvokeTray(Act act, string? name, bool bySwipe)
    {
        if (WhyNot(ActKind.Activate, act.Index) is { } refusal) return Refuse(act, refusal);
        if (_commands.FirstOrDefault(c => c.Id == name) is not { } command)
            return Refuse(act, new(RefusalKind.NoItem, $"There is no command '{name}'."));
        TraceAct(act with { Text = name }, null);
        if (_swipe is { } swipe)
        {
            if (!bySwipe) RestTray(swipe, open: false, "its command was chosen");
            else
            {
                _swipe = Physics.Leave(swipe, _now);
                _plane = null;
                ChangeFrame();
            }
        }
        var response = RunFor(command, TargetAt(act.Index), new(ActKind.RunCommand, act.Index, act.Rule, name));
        if (!response.IsHandled && _swipe is { IsLeaving: true } left) RestTray(left, open: false, "its command was refused");
        return response;
    }
}

/// <summary>A command threw an exception, and nobody listened to <c>CommandFailed</c>.</summary>
public sealed class CommandException(string id, string? key, Exception error)
    : Exception($"The command '{id}' threw{(key is null ? "" : $" on the item '{key}'")}: {error?.Message} The list is usable; listen to CommandFailed to be told instead.", error);
