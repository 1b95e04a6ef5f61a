using System.Collections.Immutable;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Finding;
using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;
using Lectica.States;
using Lectica.Tracing;

namespace Lectica.Shell;

/// <summary>Context menus: opened for an item or the selection, worked by keys and pointer, closed by whatever is not on them.</summary>
internal sealed class MenuKeeper<TItem, TKey>(
    Core core, ItemStore<TItem, TKey> store, Framer<TItem, TKey> framer, Actor actor, Scroller scroller, CommandBook<TItem, TKey> book,
        CommandRunner<TItem, TKey> runner, Teller<TItem, TKey> teller, TextMatch match,
    Events<TItem, TKey> events) : IScrollCloses where TKey : notnull
{
    // As wide as phones are, px.
    private const double UsualSheetWidth = 480;

    /// <summary>Closes the open tray, if there is one.</summary>
    public Action<Act> CloseTray { get; set; } = _ => { };

    /// <summary>Whether the list's own commands are in the menu now.</summary>
    public Func<bool> HasOwn { get; set; } = () => false;

    /// <summary>Whether somebody shows menus.</summary>
    public bool HasMenus => events.MenuRequested is not null || core.State.Declared.HasMenuCommands || HasOwn() || !core.State.Runs.IsEmpty;

    public Response Open(ActCall call)
    {
        var act = call.Act;
        if (actor.WhyNoItem(act.Index) is { } refusal) return core.Refuse(act, refusal);
        if (!HasMenus)
            return core.Refuse(
                act, new(RefusalKind.NoRule, "There is no menu: the list has no commands, and nothing listens to MenuRequested."));
        var key = core.App.Ask(() => store.KeyAt(act.Index));
        CloseTray(act with { Kind = ActKind.CloseTray });
        core.TraceAct(act);
        double? x = null, y = null;
        if (call.Gesture is { } gesture) (x, y) = core.Axes.Out(gesture.X, gesture.Y);
        if (core.Rows.RowOf(act.Index) is { } row && x is null)
        {
            scroller.BringIntoView(act.Index);
            var bounds = core.Geometry.BoundsOf(row);
            bounds = core.Axes.Out(bounds with { Top = bounds.Top - core.Viewport.ScrollTop });
            (x, y) = (core.Options.IsRightToLeft ? bounds.Right : bounds.Left, bounds.Bottom);
        }
        var target = actor.TargetAt(act.Index);
        core.Commit(core.State with { Menu = new(act.Index, target, MenuFor(call, target, x ?? 0, y ?? 0)) });
        core.Trace(() => new TracedChange
        {
            T = core.Now,
            Change = "menu",
            Key = store.TextOf(key),
            Index = act.Index,
            Open = $"menu:{core.KeyText(act.Index)}",
        });
        if (events.MenuRequested is { } handlers)
            core.Out.Raise(handlers, new(target, teller.ItemsReadOf(target), key, act.Index, x ?? 0, y ?? 0, act));
        return Response.Handled;
    }

    private Menu? MenuFor(ActCall call, ItemSet target, double x, double y)
    {
        var entries = EntriesFor(target);
        if (entries.IsEmpty) return null;
        var menu = new Menu
        {
            Entries = entries,
            Title = target.Count > 1 ? core.Options.Phrases.Selected(target.Count) : framer.ContentAt(call.Act.Index).Label,
            // A menu opened by key begins on its first entry.
            At = call.Act.Rule.StartsWith("key ", StringComparison.Ordinal) ? 0 : -1,
            IsRightToLeft = core.Options.IsRightToLeft,
            TextScale = core.State.Window.TextScale,
            Room = core.Room,
            BackLabel = core.Options.Phrases.Back,
        };
        // Where a thumb must reach it.
        var sheetWidth = core.Options.SheetWidth ?? (core.State.Window.Host is null ? 0 : UsualSheetWidth);
        return call.Gesture is { PointerType: PointerType.Touch } && core.Room.Width <= sheetWidth
            ? menu.AsSheet() : menu.PlacedAt(x, y);
    }

    /// <summary>
    /// The entries for a target: a command that is under way there is the way to stop it, also one that is in the menu at no other time.
    /// </summary>
    private ImmutableArray<MenuEntry> EntriesFor(ItemSet items)
    {
        MenuEntry Entry(Command<TItem, TKey> command) => book.RunOf(command, items) is { } run
            ? new(CommandBook<TItem, TKey>.CancelId(command.Id), core.Options.Phrases.CancelCommand(command.Label))
            {
                Icon = "close",
                IsEnabled = !run.IsCancelled,
                IsBusy = true,
                Progress = run.Progress,
            }
            : new(command.Id, command.Label)
            {
                Icon = command.Icon,
                Role = command.Role,
                IsEnabled = book.IsAvailable(command, items, out var isChecked),
                IsChecked = isChecked,
                Keys = command.Chords.IsEmpty ? null : command.Chords[0].ToText(core.Options.ModKey),
            };
        return Menu.EntriesFor(
            book.InMenu.Concat(runner.Runs.Select(r => r.Command).DistinctBy(c => c.Id)
                .Where(c => !c.IsInMenu && book.RunOf(c, items) is not null)), Entry);
    }

    public Response Close(Act act)
    {
        if (!core.State.Menu.IsOpen) return Response.Handled;
        core.TraceAct(act);
        core.Commit(core.State with { Menu = MenuState.Closed });
        return Response.Handled;
    }

    public void CloseByScroll()
    {
        if (core.State.Menu.Menu is not null) Close(new(ActKind.CloseMenu, Rule: "scroll"));
    }

    /// <summary>What a key does to the open menu: nothing else takes keys meanwhile.</summary>
    public Response Take(KeyPress press) => Take(core.State.Menu.Menu!.Take(press, match), $"key {press.Key}");

    /// <summary>Over an open menu the mouse shows which entry it is on.</summary>
    public void Light(double x, double y)
    {
        if (core.State.Menu.Menu is not { } menu || menu.EntryAt(x, y) is not { Entry: >= 0 } over) return;
        var lit = over.InSubmenu ? menu with { SubmenuAt = over.Entry } : menu with { At = over.Entry };
        if (lit != menu) Take(new MenuAnswer(lit, null, true), "mouse");
    }

    /// <summary>Scrolls the open menu, or its open submenu, to a place; without one nothing happens.</summary>
    public void ScrollTo(double top, bool submenu)
    {
        if (core.State.Menu.Menu is not { } menu || (submenu && menu.Open < 0)) return;
        core.Commit(core.State with { Menu = core.State.Menu with { Menu = menu.ScrolledTo(top, submenu) } });
    }

    private Response Take(MenuAnswer answer, string rule)
    {
        if (!answer.IsHandled && answer.Menu is not null) return new(false);
        if (answer.Menu is not null)
        {
            if (answer.Menu != core.State.Menu.Menu) core.Commit(core.State with { Menu = core.State.Menu with { Menu = answer.Menu } });
            return Response.Handled;
        }
        var items = core.State.Menu.Target;
        Close(new(ActKind.CloseMenu, Rule: rule));
        return answer.Chosen is { } id ? runner.RunFor(id, items, rule) : new(answer.IsHandled);
    }

    /// <summary>Chooses an entry by its id.</summary>
    public Response Choose(string? id, string rule)
    {
        var act = new Act(ActKind.ChooseEntry, core.State.Menu.Index, rule, id);
        if (core.State.Menu.Menu is not { } menu) return core.Refuse(act, new(RefusalKind.NoItem, "No menu is open."));
        // Where no entry is: on the title, or below the last one.
        if (id is null) return Response.Handled;
        // What leads back from a submenu.
        if (id == "" && menu.Open >= 0) return Take(menu.Choose(0, true), rule);
        for (var i = 0; i < menu.Entries.Length; i++)
        {
            if (menu.Entries[i].Id == id) return Take(menu.Choose(i, false), rule);
            for (var k = 0; k < menu.Entries[i].Entries.Length; k++)
                if (menu.Entries[i].Entries[k] is var entry && entry.Id == id)
                    return Take(entry.IsEnabled ? new(null, id, true) : new(menu, null, true), rule);
        }
        return core.Refuse(act, new(RefusalKind.NoItem, $"The menu has no entry '{id}'."));
    }

    /// <summary>What of the open menu is under a point: an entry, or none by name; null outside it.</summary>
    public Part? PartAt(double x, double y) =>
        core.State.Menu.Menu is not { } menu || menu.EntryAt(x, y) is not { } at ? null
        : new(PartKind.MenuEntry, at.Entry < 0 ? null : (at.InSubmenu ? menu.Submenu : menu.Entries)[at.Entry].Id);
}
