using System.Collections.Immutable;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Frames;
using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Moving;
using Lectica.Selecting;
using Lectica.States;
using Lectica.Tracing;

namespace Lectica.Shell;

/// <summary>Carries things out of the list and into it: by the clipboard, and by drags from and to other programs.</summary>
internal sealed class Porter<TItem, TKey>(
    Core core, Turns turns, ItemStore<TItem, TKey> store, Actor actor, Scroller scroller, Mover<TItem, TKey> mover,
    Transfers<TItem, TKey> transfers, SourceWriter<TItem, TKey> writer, SourceSplicer<TItem, TKey> splicer,
    Projection<TItem, TKey> projection, Teller<TItem, TKey> teller, CommandBook<TItem, TKey> book, CommandRunner<TItem, TKey> runner,
    FeedbackKeeper feedback, Events<TItem, TKey> events)
    : IOwnCommands<TItem, TKey> where TKey : notnull
{
    public Func<IReadOnlyList<TItem>, TransferData?>? CopyAs { get; set; }

    public string? CutCommand { get; set; }

    public Func<InsertQuestion, bool>? CanInsert { get; set; }

    /// <summary>Takes branches of an outline out.</summary>
    public BranchSplicer<TItem, TKey> Branches { get; set; } = null!;

    /// <summary>Keeps what can be taken back.</summary>
    public Historian History { get; set; } = null!;

    public bool Copies => CopyAs is not null && core.Copied is not null;

    public bool Cuts => Copies && book.Declared(CutCommand) is not null;

    public bool Pastes => events.InsertRequested is not null && core.PasteWanted is not null;

    /// <summary>What hosts that have their own way to a clipboard need to know beforehand.</summary>
    public ClipboardUse Use => (CopyAs is null ? 0 : ClipboardUse.Copies | (book.Declared(CutCommand) is not null ? ClipboardUse.Cuts : 0)
        | (core.Options.DragsOut ? ClipboardUse.DragsOut : 0)) | (events.InsertRequested is null ? 0 : ClipboardUse.Takes);

    /// <summary>The app gives or takes something else than before.</summary>
    public void Set(Action<Porter<TItem, TKey>> set)
    {
        set(this);
        Told();
    }

    public void Told()
    {
        core.Out.Properties.Add(nameof(InteractiveList<,>.ClipboardUse));
        turns.Flush();
    }

    // ── In the menu ──

    /// <summary>Whether the menu offers any of it.</summary>
    public bool IsOffered => core.Options.ClipboardInMenu && (Copies || Pastes);

    public IEnumerable<Command<TItem, TKey>> OwnCommands
    {
        get
        {
            if (!IsOffered) yield break;
            Command<TItem, TKey> Of(string id, string label, string letter, Func<ItemSet, Response> act) => new(id, label)
            {
                Group = "~clipboard",
                Icon = id,
                Chords = [new KeyChord(letter, Mod: true)],
                Do = target => turns.Run(_ => act(transfers.ItemsWith(target.Keys))),
                EnabledFor = target => id != "cut" || WhyNoCut(target.Set, out _) is null,
            };
            var phrases = core.Options.Phrases;
            if (Copies) yield return Of("copy", phrases.Copy, "C", items => Copy(new(ActKind.Copy), items));
            if (Cuts) yield return Of("cut", phrases.Cut, "X", items => Later(() => Cut(new(ActKind.Cut), items)));
            if (Pastes) yield return Of("paste", phrases.Paste, "V", AskForPasteAfter);
        }
    }

    // When the entry of the menu is over, for which its items are busy.
    private Response Later(Func<Response> act)
    {
        turns.Next(() => act());
        return Response.Handled;
    }

    /// <summary>The same for the items whose menu is open: the cursor goes there, so that what comes does.</summary>
    private Response AskForPasteAfter(ItemSet items)
    {
        if (!items.IsEmpty && !items.Contains(Math.Max(0, core.Selection.Cursor)))
            core.Commit(core.State with { Selection = core.Selection with { Cursor = items.Nth(items.Count - 1), Heading = null } });
        return AskForPaste(new(ActKind.Paste));
    }

    // ── Out ──

    public Response Copy(Act act, ItemSet items)
    {
        if (TryGive(items, out var data) is { } refusal) return core.Refuse(act, refusal);
        core.TraceAct(act);
        Put(data!, items.Count);
        core.Announce(p => p.Copied(items.Count));
        return Response.Handled;
    }

    public Response Cut(Act act, ItemSet items)
    {
        if (WhyNoCut(items, out var command) is { } no) return core.Refuse(act, no);
        if (TryGive(items, out var data) is { } refusal) return core.Refuse(act, refusal);
        core.TraceAct(act);
        Put(data!, items.Count);
        return runner.RunFor(command!, items, new(ActKind.RunCommand, act.Index, act.Rule, command!.Id));
    }

    private Refusal? WhyNoCut(ItemSet items, out Command<TItem, TKey>? command)
    {
        command = book.Declared(CutCommand);
        if (command is not null) return book.WhyNot(command, items, out _);
        return new(RefusalKind.NotAvailable, CutCommand is null
            ? "Nothing can be cut: set CutCommand to the command that takes away what was cut."
            : $"Nothing can be cut: there is no command '{CutCommand}', which CutCommand names.");
    }

    private void Put(TransferData data, int count)
    {
        var said = $"{count} {(count == 1 ? "item" : "items")}, as {string.Join(", ", data.Types)}";
        core.Trace(() => new TracedChange { T = core.Now, Change = "copied", Reason = said });
        core.Out.Raise(core.Copied, new(data, count));
    }

    /// <summary>What the app gives of items, or why there is nothing.</summary>
    private Refusal? TryGive(ItemSet items, out TransferData? data)
    {
        data = null;
        static Refusal No(RefusalKind kind, string reason) => new(kind, reason);
        if (CopyAs is not { } copy)
            return No(RefusalKind.NotAvailable, "Nothing can be copied: set CopyAs to say what is copied of an item.");
        if (core.Copied is null)
            return No(RefusalKind.NotAvailable, "Nothing can be copied: no host listens to Copied, so there is no clipboard.");
        if (items.IsEmpty)
        {
            var kind = store.Count == 0 ? RefusalKind.EmptyList : RefusalKind.NoItem;
            return No(kind, "There is no item to copy: none that shows and is enabled is selected or meant.");
        }
        if (!store.Has(items)) return No(RefusalKind.NotRead, $"Of the {items.Count} items that would be copied not all have been read.");
        var failed = core.App.Try(() => copy(teller.ItemsOf(items)), out data, why => $"CopyAs could not say what to copy: {why}");
        if (failed is not null) return failed;
        return data is null || data.IsEmpty ? No(RefusalKind.NotAllowed, "The items are not copied: CopyAs gives nothing for them.") : null;
    }

    /// <summary>What a drag that begins at a point takes out of the list.</summary>
    public TransferData? DataAt(double x, double y)
    {
        if (CopyAs is not { } copy || core.Geometry.RowAt(x, y + core.Viewport.ScrollTop) is not { } row) return null;
        if (core.Rows.IndexAt(row) is not (>= 0 and var index)) return null;
        var items = actor.WhyNoItem(index) is null ? actor.TargetAt(index) : ItemSet.None(store.Count);
        return !items.IsEmpty && store.Has(items) && core.App.Ask(() => copy(teller.ItemsOf(items))) is { IsEmpty: false } data ? data
            : null;
    }

    // ── In ──

    public Response AskForPaste(Act act)
    {
        if (!Pastes) return core.Refuse(act, new(RefusalKind.NotAvailable, events.InsertRequested is null ? NothingTakes : NoClipboard));
        core.TraceAct(act);
        core.Out.Raise(core.PasteWanted);
        return Response.Handled;
    }

    private const string NothingTakes = "Nothing is taken in: nobody listens to InsertRequested.",
        NoClipboard = "Nothing can be pasted: no host listens to PasteWanted, so there is no clipboard.";

    public Response Paste(TransferData data) => TakeIn(data, GapOfPaste, isDrop: false);

    /// <summary>After what is selected, or after the item at the cursor; under a heading; else at the end.</summary>
    private Gap GapOfPaste
    {
        get
        {
            var rows = core.Rows;
            if (core.Selection.Heading is { } heading && rows.SectionWith(heading) is >= 0 and var under)
                return rows.MembersOf(under).NextAt(0) is >= 0 and var top ? new(top, under) : rows.EndOf(under);
            var items = actor.TargetOfKey();
            if (projection.SortBy is not null || items.IsEmpty) return rows.EndOf(rows.Sections.Length - 1);
            var last = items.Nth(items.Count - 1);
            var section = rows.SectionOf(last);
            return rows.MembersOf(section).NextAt(last + 1) is >= 0 and var below ? new(below, section) : rows.EndOf(section);
        }
    }

    public Response HoverFromOutside(ImmutableArray<string> types, bool hasFiles, double x, double y, double time)
    {
        if (events.InsertRequested is null) return new(false, new(RefusalKind.NotAvailable, NothingTakes));
        if (double.IsFinite(time)) core.Now = Math.Max(core.Now, time);
        var known = core.State.Carrying.Guest;
        var gap = GapAt(x, y, known);
        var refusal = known is not null && known.Gap == gap ? known.Refusal
            : WhyNot(new(types, hasFiles, true, gap.Index, mover.KeyOf(gap)), gap);
        if (known is null || known.Gap != gap || known.Refusal != refusal)
        {
            // A sorted list has no gap to show: the order finds it.
            double? line = refusal is null && projection.SortBy is null ? 0 : null;
            var why = refusal is null ? null : core.Say(refusal);
            var card = new GrabFrame(new(""), 0, y, core.Geometry.RowHeight, line)
            {
                IsMove = refusal is null,
                Refusal = why,
                HasPointer = true,
                IsGuest = true,
                HasCard = false,
                Left = x,
            };
            core.Commit(core.State with { Carrying = core.State.Carrying with { Guest = new(gap, false, refusal, card) } });
        }
        return new(refusal is null, refusal);
    }

    private Gap GapAt(double x, double y, Guest? known)
    {
        if (projection.SortBy is not null) return core.Rows.EndOf(core.Rows.Sections.Length - 1);
        var now = known is null ? -1 : core.Rows.RowBelow(known.Gap);
        var below = core.Geometry.GapAt(x, y + core.Viewport.ScrollTop, now, core.Options.Thresholds.GapSlack);
        return known is not null && below == now ? known.Gap : core.Rows.GapAbove(below);
    }

    public Response LeaveFromOutside()
    {
        if (core.State.Carrying.Guest is not null) core.Commit(core.State with { Carrying = core.State.Carrying with { Guest = null } });
        return Response.Handled;
    }

    public Response DropFromOutside(TransferData data, double x, double y, double time)
    {
        if (double.IsFinite(time)) core.Now = Math.Max(core.Now, time);
        var gap = GapAt(x, y, core.State.Carrying.Guest);
        LeaveFromOutside();
        return TakeIn(data, gap, isDrop: true);
    }

    /// <summary>Why something cannot come into a gap; null where it can.</summary>
    private Refusal? WhyNot(InsertQuestion question, Gap gap)
    {
        if (events.InsertRequested is null) return new(RefusalKind.NotAvailable, NothingTakes);
        if (core.State.Carrying.Grab is not null) return new(RefusalKind.Running, "Items are grabbed: drop them first.");
        if (core.State.Showing.Pinned.NextAt(gap.Index) >= 0)
            return new(RefusalKind.Pinned, "What comes in here would shift a pinned item, which stays where it is.");
        if (CanInsert is not { } can) return null;
        return core.App.Try(() => can(question), out var may, why => $"The app could not say whether it can come in: {why}")
            ?? (may ? null : new(RefusalKind.NotAllowed, "It may not come in here: CanInsert says no."));
    }

    private Response TakeIn(TransferData data, Gap gap, bool isDrop)
    {
        var (act, section) = (new Act(ActKind.Paste), mover.KeyOf(gap));
        if (data.IsEmpty) return core.Refuse(act, new(RefusalKind.NoItem, "There is nothing to take in: neither text nor files."));
        var question = new InsertQuestion([.. data.Types], !data.Files.IsEmpty, isDrop, gap.Index, section);
        if (WhyNot(question, gap) is { } refusal) return core.Refuse(act, refusal);
        core.TraceAct(act);
        core.Trace(() => new TracedChange
        {
            T = core.Now,
            Change = isDrop ? "dropped" : "pasted",
            Gap = gap.Index,
            Part = section is null ? null : "heading:" + section,
            Reason = string.Join(", ", data.Files.IsEmpty ? data.Types : [.. data.Types, $"{data.Files.Length} files"]),
        });
        var places = KeptPlaces.At(gap.Index, store.Count, core.Moment);
        int Now() => Math.Min(places.Gaps[0], store.Count);
        Response Take(IReadOnlyList<TItem> items) => turns.Run(_ => Insert([.. items], Now(), section));
        core.Out.Raise(events.InsertRequested, new(data, isDrop, section, Now, Take, why => turns.Run(_ => RefuseLater(act, why))));
        return Response.Handled;
    }

    private Response RefuseLater(Act act, string why)
    {
        feedback.Notify(why, null);
        return core.Refuse(act, new(RefusalKind.NotAllowed, why));
    }

    /// <summary>Puts items in, selects them, and keeps the step.</summary>
    private Response Insert(TItem[] items, int at, string? section)
    {
        var act = new Act(ActKind.Paste);
        if (items.Length == 0) return core.Refuse(act, new(RefusalKind.NoItem, "There is no item to insert."));
        if (!writer.IsWritable)
            return core.Refuse(
                act, new(RefusalKind.NotAvailable, "The source cannot be written: insert them into it yourself, at the gap."));
        if (transfers.WhyThere(items) is { } there) return core.Refuse(act, there);
        // They are in no section yet.
        if (section is not null && writer.Assign(items, [.. items.Select(_ => section)], [.. items.Select(_ => "\0")]) is { } unassigned)
            return core.Refuse(act, unassigned);
        if (splicer.Splice(at, 0, items) is { } refusal) return core.Refuse(act, refusal);
        TKey[] keys = [.. Enumerable.Range(at, items.Length).Select(store.KeptKeyAt)];
        var step = new InOrOutStep<TItem, TKey>(transfers, runner.Marker, items, keys, null, core.Options.Phrases.Paste);
        History.Keep(step);
        var came = ItemSet.None(store.Count).WithRange(at, items.Length).Intersect(core.Rules.Choosable);
        if (!came.IsEmpty && core.Options.Policy.Selects)
        {
            var chosen = core.Options.Policy.SelectsMany ? came : ItemSet.None(store.Count).With(came.Nth(0));
            actor.Become(Selector.Replace(core.Selection, chosen, core.Rules), act, "call", isTraced: false);
        }
        if (!came.IsEmpty) scroller.BringIntoView(came.Nth(0));
        // Who has dropped it, or pasted it by the menu, may have no key to take it back.
        feedback.Notify(core.App.Ask(p => p.Inserted(items.Length), core.Options.Phrases, ""), step);
        return Response.Handled;
    }

    /// <summary>Takes a command's target out of the source, as far as it is there.</summary>
    public Refusal? TakeOut(CommandTarget<TItem, TKey> target)
    {
        var items = teller.SetOf(target);
        if (projection.IsOutline)
        {
            if (Branches.TakeOut(items, core.Options.Phrases.Remove, out var away) is { } not) return not;
            if (away is not null) History.Keep(away);
            return null;
        }
        if (items.IsEmpty || splicer.WhyNotWritten is not null || !History.Keeps) return splicer.TakeOut(items);
        // What the target reads before they go is read for all that needs it.
        var known = ReferenceEquals(items, target.Set) ? target.Read(store.Has) : null;
        if (InOrOutStep<TItem, TKey>.TakeOut(transfers, runner.Marker, items, core.Options.Phrases.Remove, out var step, known) is
            { } refusal)
            return refusal;
        History.Keep(step);
        return null;
    }

    /// <summary>Puts a command's target back into the source, as far as it is not there, at its indexes.</summary>
    public Refusal? PutBack(CommandTarget<TItem, TKey> target)
    {
        if (projection.IsOutline)
            return new(RefusalKind.NotAvailable,
                "A target does not say what lay below its items: the list itself puts back what it took out of an outline; give the " +
                    "command no Inverse.");
        var away = target.Away is var (list, moment, known) && ReferenceEquals(list, core) && moment == core.Moment.Number ? known
            : ItemSet.Where(target.Count, i => store.IndexOfKept(target.Keys[i]) < 0);
        var (items, at) = (Of(target.Items), Of(target.Indexes));
        if (splicer.PutIn(items, at) is { } refusal) return refusal;
        if (History.Keeps && items.Length > 0)
            History.Keep(new InOrOutStep<TItem, TKey>(
                transfers, runner.Marker, items, transfers.KeysAgain(Of(target.Keys), at), null, core.Options.Phrases.PutBack));
        return null;

        T[] Of<T>(IReadOnlyList<T> all) => away.Count < all.Count ? [.. away.Select(i => all[i])] : all as T[] ?? [.. all];
    }
}
