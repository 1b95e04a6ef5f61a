using System.Collections.ObjectModel;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Input;
using Lectica.Items;
using Lectica.Testing;

namespace Lectica.Tests.Lists;

/// <summary>Copy, cut, paste and what is dropped from outside.</summary>
public sealed class ClipboardTests
{
    private sealed class Field(string id, string group = "tonight")
    {
        public string Id { get; } = id;

        public string Group { get; set; } = group;

        public override string ToString() => Id;
    }

    private static InteractiveList<Field, string> List(ObservableCollection<Field> source, ListOptions? options = null)
    {
        var list = InteractiveList.Of(source, f => f.Id, options ?? new() { Mode = SelectionMode.Multiple });
        list.CopyAs = items => TransferData.OfLines(items.Select(f => f.Id))
            .With(TransferData.Json, $"[{string.Join(",", items.Select(f => $"\"{f.Id}\""))}]");
        list.Commands = [new("withdraw", "Withdraw")
        {
            Do = target => { foreach (var item in target.Items) source.Remove(item); },
            Inverse = target => { foreach (var (at, item) in target.Indexes.Zip(target.Items)) source.Insert(at, item); },
        }];
        list.CutCommand = "withdraw";
        list.InsertRequested += (_, e) => e.Insert(
            [.. (e.Data.Text ?? "").Split('\n').Select(line => new Field(line, e.Section ?? "tonight"))]);
        return list;
    }

    private static ObservableCollection<Field> Fields(int n) => [.. Enumerable.Range(0, n).Select(i => new Field($"F{i}"))];

    private static string Text(IEnumerable<Field> fields) => string.Join(" ", fields.Select(f => f.Id));

    [Fact]
    public void Keys_copy_cut_and_paste_the_target_and_each_is_one_step()
    {
        var source = Fields(6);
        var list = List(source);
        var player = ListPlayer.On(list);
        list.Select("F1");
        player.Press("Shift+ArrowDown");
        Assert.True(player.Press("Mod+C").IsHandled);
        Assert.Equal("F1\nF2", player.Clipboard.Text);
        Assert.Equal("[\"F1\",\"F2\"]", player.Clipboard[TransferData.Json]);
        player.Press("Mod+X");
        Assert.Equal("F0 F3 F4 F5", Text(source));
        // After the item at the cursor, which has gone to the next that remains; what came is selected.
        Assert.True(player.Press("Mod+V").IsHandled);
        Assert.Equal("F0 F3 F1 F2 F4 F5", Text(source));
        Assert.Equal(["F1", "F2"], list.SelectedKeys);
        player.Press("Mod+Z");
        Assert.Equal("F0 F3 F4 F5", Text(source));
        player.Press("Mod+Z");
        Assert.Equal("F0 F1 F2 F3 F4 F5", Text(source));
        player.Press("Mod+Y");
        player.Press("Mod+Y");
        Assert.Equal("F0 F3 F1 F2 F4 F5", Text(source));
    }

    [Fact]
    public void What_the_app_does_not_give_or_take_is_not_handled()
    {
        var list = InteractiveList.Of(["a", "b"]);
        var player = ListPlayer.On(list);
        foreach (var chord in (string[])["Mod+C", "Mod+X", "Mod+V"]) Assert.False(player.Press(chord).IsHandled);
        Assert.Equal(ClipboardUse.None, list.ClipboardUse);
        Assert.False(list.Paste(TransferData.OfText("c")).IsHandled);
        Assert.False(player.DropFromOutside(TransferData.OfText("c"), 10).IsHandled);
        Assert.Null(list.Frame.Grab);
        // Nothing for these items; nothing to take in.
        list.CopyAs = items => items.Contains("b") ? null : TransferData.OfLines(items);
        Assert.Equal(ClipboardUse.Copies, list.ClipboardUse);
        player.Press("Home");
        Assert.True(player.Press("Mod+C").IsHandled);
        player.Press("End");
        Assert.Equal(RefusalKind.NotAllowed, player.Press("Mod+C").Refusal!.Kind);
        Assert.Equal("a", player.Clipboard.Text);
        // The command that cuts is not there.
        list.CutCommand = "withdraw";
        Assert.False(player.Press("Mod+X").IsHandled);
        Assert.Contains("there is no command 'withdraw'", list.Cut().Refusal!.Reason);
        list.InsertRequested += (_, _) => Assert.Fail("Nothing came.");
        Assert.Equal(RefusalKind.NoItem, list.Paste(TransferData.Empty).Refusal!.Kind);
        list.CanInsert = q => q.Has("text/html");
        Assert.Equal(RefusalKind.NotAllowed, list.Paste(TransferData.OfText("c")).Refusal!.Kind);
        // An app's code that throws is a refusal, and nothing has changed.
        list.CanInsert = _ => throw new InvalidOperationException("cloudy");
        Assert.Contains("cloudy", list.Paste(TransferData.OfText("c")).Refusal!.Reason);
        list.CopyAs = _ => throw new InvalidOperationException("cloudy");
        Assert.Equal(RefusalKind.Failed, player.Press("Mod+C").Refusal!.Kind);
        Assert.Equal(2, list.Count);
    }

    [Fact]
    public void A_paste_that_the_app_refuses_is_told_with_its_reason_and_nothing_is_lost()
    {
        var source = Fields(3);
        var list = InteractiveList.Of(source, f => f.Id, new() { Mode = SelectionMode.Multiple });
        var answers = new List<Response>();
        list.InsertRequested += (_, e) => answers.Add(e.Data.Text == "?" ? e.Refuse("That is not a field") : e.Insert([new(e.Data.Text!)]));
        var refused = "";
        list.Refused += (_, e) => refused = e.Refusal.Reason;
        Assert.True(list.Paste(TransferData.OfText("?")).IsHandled);
        Assert.Equal("That is not a field", list.Frame.Brief!.Text);
        Assert.Equal("That is not a field", refused);
        // Its key is there already.
        list.Paste(TransferData.OfText("F2"));
        Assert.Contains("'F2' already", refused);
        Assert.Equal("F0 F1 F2", Text(source));
        Assert.False(list.CanUndo);
        Assert.All(answers, a => Assert.True(a.IsQueued));
    }

    [Fact]
    public async Task A_file_that_takes_time_still_lands_where_it_was_dropped()
    {
        var source = Fields(5);
        var list = InteractiveList.Of(source, f => f.Id);
        InsertRequestedEventArgs<Field>? came = null;
        list.InsertRequested += (_, e) => came = e;
        var file = new TransferFile("plan.txt", "text/plain", 3, _ => ValueTask.FromResult<Stream>(new MemoryStream("new"u8.ToArray())));
        var player = ListPlayer.On(list);
        Assert.True(player.DropFromOutside(TransferData.Empty.With([file]), 3 * 52).IsHandled);
        Assert.Equal(3, came!.Gap);
        source.RemoveAt(0);
        source.Insert(1, new("between"));
        source.Move(0, 3);
        var text = await came.Data.Files[0].ReadTextAsync(cancellation: TestContext.Current.CancellationToken);
        Assert.True(came.Insert([new(text)]).IsHandled);
        Assert.Equal("between F2 new F3 F1 F4", Text(source));
        await Assert.ThrowsAsync<IOException>(() => came.Data.Files[0].ReadTextAsync(2, TestContext.Current.CancellationToken));
    }

    /// <summary>
    /// Whatever shows, and in whichever order: what is dropped lands just above the row that the line was over, and is taken back.
    /// </summary>
    [Fact]
    public void A_drop_from_outside_lands_where_the_line_was()
    {
        var random = new Random(5);
        int drops = 0, sectioned = 0, filtered = 0, refused = 0, sorted = 0, empty = 0;
        for (var round = 0; round < Effort.Of(400); round++)
        {
            var source = new ObservableCollection<Field>(
                Enumerable.Range(0, random.Next(0, 12)).Select(i => new Field($"F{i}", random.Next(2) == 0 ? "tonight" : "later")));
            var list = List(source);
            if (random.Next(2) == 0)
                list.Sections = new(f => f.Group) { Order = ["tonight", "later"], Assign = (f, group) => f.Group = group };
            if (random.Next(3) == 0) list.Filter = f => f.Id.Length > 2 || f.Id[1] % 2 == 0;
            if (random.Next(6) == 0) list.SortBy = (a, b) => string.CompareOrdinal(b.Id, a.Id);
            if (random.Next(4) == 0) list.PinnedWhen = f => f.Id == "F3";
            var player = ListPlayer.On(list);
            var y = random.Next(0, 500);
            var before = Text(source);
            var hover = list.HoverFromOutside(["text/plain"], false, 10, y, player.Now);
            var line = list.Frame.Grab is { GapY: { } gapY, HasCard: false } ? gapY : (double?)null;
            var response = player.DropFromOutside(TransferData.OfText("new"), y);
            Assert.Equal(hover.IsHandled, response.IsHandled);
            Assert.Null(list.Frame.Grab);
            if (!response.IsHandled)
            {
                Assert.Equal(RefusalKind.Pinned, response.Refusal!.Kind);
                Assert.Equal(before, Text(source));
                refused++;
                continue;
            }
            drops++;
            sectioned += list.Sections is null ? 0 : 1;
            filtered += list.Filter is null ? 0 : 1;
            empty += before.Length == 0 ? 1 : 0;
            if (list.SortBy is null && line is { } at && list.Filter is null && before.Length > 0)
            {
                var row = list.Frame.Rows.First(r => r.KeyText == "new");
                Assert.True(Math.Abs(row.Top + list.Viewport.ScrollTop - at) < 1,
                    $"Round {round}: the line was at {at}, the row is at {row.Top}.");
            }
            sorted += list.SortBy is null ? 0 : 1;
            Assert.Equal(["new"], list.SelectedKeys.Count == 0 ? ["new"] : list.SelectedKeys);
            Assert.True(list.Undo().IsHandled);
            Assert.Equal(before, Text(source));
            list.Redo();
            Assert.Equal(1, source.Count(f => f.Id == "new"));
        }
        if (!Effort.IsFull) return;
        Assert.True(drops > 250 && sectioned > 80 && filtered > 50 && refused > 5 && sorted > 20 && empty > 5,
            $"{drops} {sectioned} {filtered} {refused} {sorted} {empty}");
    }

    [Fact]
    public void The_menu_offers_the_clipboard_for_who_has_no_keys()
    {
        var source = Fields(4);
        var list = List(source, new() { Mode = SelectionMode.Multiple });
        // A host without a clipboard: nothing to offer.
        list.OpenMenu("F1");
        Assert.Equal(["withdraw"], list.Menu!.Entries.Select(e => e.Id));
        list.CloseMenu();
        var player = ListPlayer.On(list);
        list.OpenMenu("F1");
        list.ChooseEntry("copy");
        Assert.Equal("F1", player.Clipboard.Text);
        // Keys are told by their names here, and not as Mod.
        list.OpenMenu("F1");
        Assert.Equal("Ctrl+C", list.Menu!.Entries.Single(e => e.Id == "copy").Keys);
        Assert.Equal("⌥⌘C", new KeyChord("C", Modifiers.Alt, Mod: true).ToText(ModKey.Meta));
        list.CloseMenu();
        player.Clipboard = TransferData.OfText("new");
        list.OpenMenu("F2");
        list.ChooseEntry("paste");
        Assert.Equal("F0 F1 F2 new F3", Text(source));
        list.OpenMenu("F3");
        list.ChooseEntry("cut");
        Assert.Equal("F0 F1 F2 new", Text(source));
        Assert.Equal("F3", player.Clipboard.Text);
    }

    [Fact]
    public void A_drag_out_gives_the_target_and_only_what_may_be_had()
    {
        var source = Fields(4);
        var list = List(source, new() { Mode = SelectionMode.Multiple, DragsOut = true });
        list.EnabledWhen = f => f.Id != "F3";
        Assert.True(list.ClipboardUse.HasFlag(ClipboardUse.DragsOut));
        list.SelectOnly(ItemSet.Of(4, [0, 2]));
        Assert.Equal("F0\nF2", list.DataAt(10, 2 * 52 + 5)!.Text);
        Assert.Equal("F1", list.DataAt(10, 52 + 5)!.Text);
        Assert.Null(list.DataAt(10, 3 * 52 + 5));
        Assert.Null(list.DataAt(10, 500));
    }

    [Theory]
    [InlineData("")]
    [InlineData("text")]
    [InlineData("/plain")]
    public void A_media_type_has_two_halves(string type) => Assert.Throws<ArgumentException>(() => TransferData.Empty.With(type, "x"));
}
