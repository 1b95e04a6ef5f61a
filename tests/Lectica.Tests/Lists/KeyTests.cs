using System.Globalization;
using CsCheck;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Finding;
using Lectica.Frames;
using Lectica.Input;
using Lectica.Layout;

namespace Lectica.Tests.Lists;

/// <summary>Chords, the three tables, the cursor in view, and finding by typing.</summary>
public sealed class KeyTests
{
    private static InteractiveList<string, string> List(ListOptions options, int count = 30) =>
        InteractiveList.Of(Enumerable.Range(0, count).Select(i => $"r{i:00}").ToArray(), s => s, options with { ModKey = ModKey.Ctrl });

    private static string Selected<T>(InteractiveList<T, string> list) => string.Join(" ", list.SelectedKeys);

    private static void Press<T>(InteractiveList<T, string> list, params string[] chords)
    {
        foreach (var text in chords)
        {
            var chord = KeyChord.Parse(text);
            list.Take(new KeyPress(chord.Key == "Space" ? " " : chord.Key, chord.Resolve(ModKey.Ctrl)));
        }
    }

    [Fact]
    public void Chords_are_read_as_they_are_written()
    {
        Gen.Select(Gen.OneOf("A", "Enter", "ArrowUp", "Space", "F10", "+", "?"), Gen.Int[0, 15], Gen.Bool).Sample((key, modifiers, mod) =>
        {
            var chord = new KeyChord(key, (Modifiers)modifiers, mod);
            Assert.Equal(chord, KeyChord.Parse(chord.ToString()));
            Assert.Equal(chord, KeyChord.Parse($"[{chord}]".AsSpan()[1..^1]));
        });
        foreach (var wrong in (string[])["", " ", "Hyper+A", "Ctrl+", "Ctrl+None+A", "+A", "++", "1+A", "A+B", "Ctrl++A"])
        {
            Assert.Contains("such as Mod+Shift+A", Assert.Throws<FormatException>(() => KeyChord.Parse(wrong)).Message);
            Assert.False(KeyChord.TryParse(wrong, out _));
        }
        Assert.Equal(new("+", Modifiers.Ctrl), KeyChord.Parse("Ctrl++"));
        Assert.True(KeyChord.Parse("Mod+A").Matches(new("a", Modifiers.Meta), ModKey.Meta));
        Assert.False(KeyChord.Parse("Mod+A").Matches(new("a", Modifiers.Ctrl | Modifiers.Shift), ModKey.Ctrl));
        Assert.True(KeyChord.Parse("?").Matches(new("?", Modifiers.Shift), ModKey.Ctrl));
    }

    [Theory]
    [InlineData(null, ModKey.Meta, ModKey.Meta)]
    [InlineData(null, ModKey.Ctrl, ModKey.Ctrl)]
    [InlineData(ModKey.Ctrl, ModKey.Meta, ModKey.Ctrl)]
    [InlineData(ModKey.Meta, ModKey.Ctrl, ModKey.Meta)]
    public void Mod_is_the_key_of_who_sits_there_unless_the_app_says_otherwise(ModKey? app, ModKey host, ModKey wanted)
    {
        var options = new ListOptions { Mode = SelectionMode.Multiple };
        using var list = InteractiveList.Of(["a", "b", "c"], s => s, app is { } own ? options with { ModKey = own } : options);
        list.Commands = [new("lose", "Lose") { Chords = [KeyChord.Parse("Mod+L")], Do = _ => { } }];
        var told = 0;
        list.PropertyChanged += (_, e) => told += e.PropertyName == "Commands" ? 1 : 0;
        list.UseModKey(ModKey.Ctrl);
        told = 0;
        list.UseModKey(host);
        list.UseModKey(host);
        Assert.Equal(app is null && host != ModKey.Ctrl ? 1 : 0, told);
        Assert.Equal(wanted, list.Options.ModKey);
        var (mod, other) = wanted == ModKey.Meta ? (Modifiers.Meta, Modifiers.Ctrl) : (Modifiers.Ctrl, Modifiers.Meta);
        Assert.False(list.Take(new KeyPress("a", other)).IsHandled);
        Assert.True(list.Take(new KeyPress("a", mod)).IsHandled);
        Assert.Equal(3, list.SelectedCount);
        list.OpenMenu("a");
        Assert.Equal(wanted == ModKey.Meta ? "⌘L" : "Ctrl+L", list.Frame.Menu!.Entries.First(e => e.Id == "lose").Keys);
        list.CloseMenu();
        // A tap toggles with Mod down; with Control down where that is another key, it is a secondary tap.
        double time = 0;
        void Tap(Modifiers modifiers)
        {
            list.Take(PointerSample.Down(PointerType.Mouse, 200, 26, time += 1000, modifiers));
            list.Take(PointerSample.Up(PointerType.Mouse, 200, 26, time + 50, modifiers));
        }
        Tap(mod);
        Assert.Equal("b c", string.Join(' ', list.SelectedKeys));
        Assert.Null(list.Frame.Menu);
        Tap(Modifiers.Ctrl);
        Assert.Equal(wanted == ModKey.Meta ? "a" : "a b c", string.Join(' ', list.SelectedKeys));
        Assert.Equal(wanted == ModKey.Meta, list.Frame.Menu is not null);
        Assert.Throws<ArgumentOutOfRangeException>(() => list.UseModKey((ModKey)7));
    }

    [Fact]
    public void Moving_selects_extends_shrinks_and_toggles()
    {
        var list = List(new() { Mode = SelectionMode.Multiple });
        Press(list, "ArrowDown", "ArrowDown", "Shift+ArrowDown", "Shift+ArrowDown");
        Assert.Equal("r02 r03 r04", Selected(list));
        Press(list, "Shift+ArrowUp", "Shift+ArrowUp", "Shift+ArrowUp");
        Assert.Equal("r01 r02", Selected(list));
        Press(list, "Ctrl+ArrowDown", "Ctrl+ArrowDown", "Ctrl+ArrowDown", "Ctrl+ArrowDown", "Ctrl+Space");
        Assert.Equal("r01 r02 r05", Selected(list));
        Press(list, "Shift+Space");
        Assert.Equal("r05", Selected(list));
        Press(list, "Mod+A");
        Assert.Equal(30, list.SelectedCount);
        Press(list, "Mod+A");
        Assert.Equal(0, list.SelectedCount);
        Press(list, "Home", "Mod+Shift+End");
        Assert.Equal(30, list.SelectedCount);
        Press(list, "Escape");
        Assert.Equal(0, list.SelectedCount);
        Assert.False(list.Take(new KeyPress("Escape")).IsHandled);
    }

    [Fact]
    public void Who_uses_keys_has_a_ring_and_who_does_not_sees_what_tools_go_on_from()
    {
        var (rings, signs, disabled, skipped) = (0, 0, 0, 0);
        Gen.Select(Gen.Int[0, 7], Gen.Int[0, 2]).Array[1, 12].Sample(acts =>
        {
            string[] names = ["one", "two", "three"];
            var list = InteractiveList.Of(names, s => s, new() { Mode = SelectionMode.Multiple });
            var done = new List<string>();
            list.Commands = [new("note", "Note") { Do = target => done.AddRange(target.Items) }];
            var (isHere, isByPointer, time, off) = (false, false, 0.0, 0);
            foreach (var (act, row) in acts)
            {
                time += 1000;
                switch (act)
                {
                    case 0 or 1:
                        var y = list.Frame.Rows[row].Top + 8;
                        var held = act == 0 ? Modifiers.None : Modifiers.Ctrl;
                        list.Take(PointerSample.Down(PointerType.Mouse, 50, y, time) with { Modifiers = held });
                        list.Take(PointerSample.Up(PointerType.Mouse, 50, y, time + 50) with { Modifiers = held });
                        isByPointer = true;
                        break;
                    case 2:
                        list.Take(new KeyPress("ArrowDown", row == 0 ? Modifiers.None : Modifiers.Ctrl, time));
                        (isHere, isByPointer) = (true, false);
                        break;
                    case 3:
                        list.Take(new KeyPress("Shift", Modifiers.Shift, time));
                        break;
                    case 4:
                        list.Take(new PointerSample(SampleKind.Move, 1, PointerType.Mouse, 50, 70, time));
                        break;
                    case 5:
                        list.Focus();
                        isHere = true;
                        break;
                    case 6:
                        off ^= 1 << row;
                        var these = off;
                        list.EnabledWhen = s => ((these >> Array.IndexOf(names, s)) & 1) == 0;
                        break;
                    default:
                        list.Blur();
                        if (isHere) (isHere, isByPointer) = (false, false);
                        break;
                }
                var frame = list.Frame;
                Assert.Equal(isHere && !isByPointer, frame.ShowsRing);
                done.Clear();
                list.RunCommand("note");
                RowFrame[] shown = [.. frame.Rows.Where(r => r.IsSelected)];
                if (shown.Length == 0) shown = [.. frame.Rows.Where(r => r.IsCurrent || (r.IsCursor && frame.ShowsRing))];
                Assert.Equal(shown.Where(r => !r.IsDisabled).Select(r => r.Content.Label), done);
                Assert.DoesNotContain(frame.Rows, r => r.IsCurrent && (r.IsSelected || frame.ShowsRing));
                // A tool does nothing to a row that is disabled; a key may go on from there.
                Assert.DoesNotContain(frame.Rows, r => r.IsCurrent && r.IsDisabled && !isHere);
                if (!isHere && shown.Length == 0 && frame.Rows.Any(r => r.IsDisabled && r.Content.Label == list.CursorKey))
                    Interlocked.Increment(ref disabled);
                // Where all that is selected is disabled, what lies at the cursor is not taken for it.
                if (shown.Length > 0 && done.Count == 0 && frame.Rows.Any(r => !r.IsDisabled && r.Content.Label == list.CursorKey))
                    Interlocked.Increment(ref skipped);
                if (frame.ShowsRing) Interlocked.Increment(ref rings);
                else if (frame.Rows.Any(r => r.IsCurrent)) Interlocked.Increment(ref signs);
            }
        }, iter: 1000);
        Assert.True(rings > 50 && signs > 50 && disabled > 10 && skipped > 10,
            $"{rings} rings, {signs} quiet signs, {disabled} disabled, {skipped} skipped");
    }

    [Fact]
    public void A_pointer_that_brings_the_keyboard_means_no_row_that_it_has_not_pressed()
    {
        var list = InteractiveList.Of(["one", "two", "three"], s => s, new() { Parts = new() { Marks = ["starred"] } });
        list.Marks = [new("starred")];
        var done = new List<string>();
        list.Commands = [new("withdraw", "Withdraw") { ShowIn = ShowIn.Toolbar, Do = target => done.AddRange(target.Items) }];
        bool IsReady() => list.WhyNotRun("withdraw") is null;
        var mark = list.Frame.Rows[1].Parts.Single();
        list.Take(PointerSample.Down(PointerType.Touch, mark.Left + 5, 60, 0));
        list.Take(PointerSample.Up(PointerType.Touch, mark.Left + 5, 60, 50));
        list.Focus();
        Assert.True(list.Marked("starred").Contains(1));
        Assert.False(IsReady());
        Assert.DoesNotContain(list.Frame.Rows, r => r.IsCursor);
        // The first key goes on from the first row, as it would where the keyboard had come by one.
        list.Take(new KeyPress("End", Modifiers.Ctrl, 1000));
        Assert.True(IsReady());
        list.Take(PointerSample.Down(PointerType.Touch, 200, 60, 2000));
        list.Take(PointerSample.Up(PointerType.Touch, 200, 60, 2050));
        list.Blur();
        list.Focus();
        Assert.True(list.Frame.Rows[1].IsCursor && IsReady());
        list.RunCommand("withdraw");
        Assert.Equal(["two"], done);
    }

    [Fact]
    public void Toggling_moves_without_selecting_and_space_toggles()
    {
        var list = List(new() { Mode = SelectionMode.Multiple, Keys = KeyTable.Toggling });
        Press(list, "ArrowDown", "Space", "ArrowDown", "ArrowDown", "Space");
        Assert.Equal("r01 r03", Selected(list));
        Press(list, "Shift+ArrowDown", "Shift+ArrowDown");
        Assert.Equal("r01 r03 r04 r05", Selected(list));
        Press(list, "End", "Shift+ArrowDown");
        Assert.Equal("r01 r03 r04 r05", Selected(list));
        var always = List(new() { Mode = SelectionMode.Multiple, Keys = KeyTable.Toggling, AlwaysSelecting = true });
        Assert.False(always.Take(new KeyPress("Escape")).IsHandled);
        Assert.True(always.IsSelecting);
    }

    [Fact]
    public void Grid_goes_from_part_to_part_and_right_to_left_swaps()
    {
        foreach (var rightToLeft in (bool[])[false, true])
        {
            var list = List(new()
            {
                Mode = SelectionMode.Multiple,
                Keys = KeyTable.Grid,
                IsRightToLeft = rightToLeft,
                Parts = new() { Check = true, Marks = ["starred"], Handle = true },
            });
            var (forward, back) = rightToLeft ? ("ArrowLeft", "ArrowRight") : ("ArrowRight", "ArrowLeft");
            list.Focus();
            Assert.Equal(PartKind.Check, list.CursorPart!.Value.Kind);
            Press(list, "ArrowDown", "Space");
            Assert.Equal("r01", Selected(list));
            Press(list, forward, forward);
            Assert.Equal(Part.Body, list.CursorPart);
            var opened = 0;
            list.Activated += (_, _) => opened++;
            Press(list, "Enter", "Space");
            Assert.Equal(2, opened);
            Press(list, "End");
            Assert.Equal(PartKind.Handle, list.CursorPart!.Value.Kind);
            Press(list, back, "Home");
            Assert.Equal(PartKind.Check, list.CursorPart!.Value.Kind);
            Press(list, "Shift+Space");
            Assert.Equal("", Selected(list));
        }
    }

    [Fact]
    public void The_cursor_stays_in_the_list_and_in_view_whatever_keys_come() =>
        Gen.Select(Any.List, Gen.OneOf(KeyTable.Moving, KeyTable.Toggling, KeyTable.Grid),
            Gen.OneOf("ArrowUp", "ArrowDown", "Home", "End", "PageUp", "PageDown", "Shift+ArrowDown", "Shift+PageUp", "Ctrl+End", "Space",
                "Ctrl+Space", "Mod+A", "Enter", "Escape", "a", "ArrowLeft", "Tab").Array[1, 30])
            .Sample((any, table, keys) =>
            {
                var list = Any.Open(any.Item1, any.Item2 with { Keys = table }, any.Item3);
                double time = 0;
                foreach (var key in keys)
                {
                    // Each long after the last, so that a space is not part of what is typed.
                    time += 5000;
                    var before = list.Selection;
                    var chord = KeyChord.Parse(key);
                    var response = list.Take(new KeyPress(chord.Key == "Space" ? " " : chord.Key, chord.Resolve(ModKey.Ctrl), time));
                    if (key == "Tab") Assert.False(response.IsHandled);
                    if (!response.IsHandled) Assert.True(response.Refusal is not null && before.Items == list.Selection.Items);
                    if (list.Rows.Shown.IsEmpty) continue;
                    Assert.True(list.Rows.Shown.Contains(list.Selection.Cursor));
                    if (!response.IsHandled || key is "Mod+A" or "Escape" or "a" || list.Viewport.Height < list.Options.RowHeight) continue;
                    var row = list.Frame.Rows.Single(r => r.IsCursor);
                    Assert.InRange(row.Top, -1e-6, list.Viewport.Height - row.Height + 1e-6);
                }
            }, iter: Effort.Of(2000));

    [Fact]
    public void A_page_is_what_fits_less_one_row()
    {
        var list = List(new() { Mode = SelectionMode.Single, Viewport = new(400, 260) });
        Press(list, "PageDown");
        Assert.Equal("r04", Selected(list));
        Press(list, "PageDown", "PageDown", "PageUp");
        Assert.Equal("r08", Selected(list));
    }

    [Fact]
    public void Disabled_rows_are_stopped_on_but_not_selected()
    {
        var list = List(new() { Mode = SelectionMode.Multiple });
        list.EnabledWhen = s => s != "r02";
        Press(list, "ArrowDown", "ArrowDown");
        Assert.Equal(("r01", "r02"), (Selected(list), list.CursorKey));
        Press(list, "Shift+ArrowDown");
        Assert.Equal("r01 r03", Selected(list));
    }

    [Fact]
    public void Typing_finds_ignores_case_and_accents_wraps_and_times_out()
    {
        string[] names = ["Éclair", "anvil", "Apple", "banana", "ångström", "Bee keeper", "eclipse"];
        var list = InteractiveList.Of(names, s => s, new() { Culture = CultureInfo.GetCultureInfo("en"), Viewport = new(400, 60) });
        list.EnabledWhen = s => s != "Apple";
        void Type(string text, double time)
        {
            foreach (var c in text) list.Take(new KeyPress(c.ToString(), Modifiers.None, time));
        }
        Type("e", 0);
        Assert.Equal("eclipse", Selected(list));
        // The same one again goes on, and round the end.
        Type("e", 500);
        Assert.Equal("Éclair", Selected(list));
        // More characters stay where they match.
        Type("b", 3000);
        Assert.Equal("banana", Selected(list));
        Type("ee k", 3500);
        Assert.Equal("Bee keeper", Selected(list));
        Assert.Equal(52 * 6, list.Viewport.ScrollTop + 60);
        // After the pause it starts again; the disabled one is skipped.
        Type("a", 4501);
        Assert.Equal("anvil", Selected(list));
        Type("a", 4600);
        Assert.Equal("ångström", Selected(list));
        Type("x", 9000);
        Assert.Equal("ångström", Selected(list));
        var swedish = new TextMatch(CultureInfo.GetCultureInfo("sv"));
        Assert.False(swedish.Begins("ångström", "a"));
    }

    [Fact]
    public void Typing_on_a_long_list_goes_on_in_slices_and_gives_way_to_what_comes_next()
    {
        var posted = new Queue<Action>();
        var context = new QueueContext(posted);
        var previous = SynchronizationContext.Current;
        SynchronizationContext.SetSynchronizationContext(context);
        try
        {
            var asked = 0;
            var list = InteractiveList.Of(Enumerable.Range(0, 100_000).ToArray(), i => i);
            list.Content = i =>
            {
                asked++;
                return new(i == 90_000 ? "zebra" : "row");
            };
            list.Take(new KeyPress("z"));
            Assert.InRange(asked, 1, 20_000);
            while (posted.TryDequeue(out var next)) next();
            Assert.Equal(90_000, list.SelectedKey);
            list.Take(new KeyPress("q", Modifiers.None, 5000));
            list.Select(5);
            while (posted.TryDequeue(out var next)) next();
            Assert.Equal(5, list.SelectedKey);
        }
        finally
        {
            SynchronizationContext.SetSynchronizationContext(previous);
        }
    }

    private sealed class QueueContext(Queue<Action> posted) : SynchronizationContext
    {
        public override void Post(SendOrPostCallback d, object? state) => posted.Enqueue(() => d(state));
    }

    [Fact]
    public void Shipped_tables_have_no_conflicts_where_Mod_is_Ctrl_and_planted_ones_are_found()
    {
        foreach (var table in KeyTable.All)
            foreach (var mode in Enum.GetValues<SelectionMode>())
                Assert.Empty(table.Conflicts(mode, ModKey.Ctrl)
                    .Where(c => !c.Reason.Contains("never reached", StringComparison.Ordinal) || c.Rule.When is null)
                    .Select(c => $"{table.Name}: {c.Rule.Chord}: {c.Reason}"));
        var planted = KeyTable.Moving.With(new(KeyChord.Parse("Ctrl+A"), [ActKind.Clear]))
            .With(new(KeyChord.Parse("Ctrl+T"), [ActKind.Clear]));
        Assert.Equal(
            ["Ctrl+T", "Mod+A"], planted.Conflicts(SelectionMode.Multiple, ModKey.Ctrl).Select(c => c.Rule.Chord.ToString()).Order());
        Assert.DoesNotContain(planted.Conflicts(SelectionMode.Multiple, ModKey.Meta), c => c.Rule.Chord.ToString() == "Mod+A");
    }

    [Fact]
    public void Rules_of_gestures_are_replaced_by_name()
    {
        var table = GestureTable.Default.Without("double tap activates")
            .Replacing("tap selects", GestureTable.Default.Rules.First(r => r.Name == "tap selects") with { Acts = [ActKind.Toggle] });
        var list = List(new() { Mode = SelectionMode.Multiple, Gestures = table });
        Any.Tap(list, 50, 10, PointerType.Mouse, 0);
        Any.Tap(list, 50, 60, PointerType.Mouse, 1000);
        Assert.Equal("r00 r01", Selected(list));
        Assert.Contains("tap selects", Assert.Throws<ArgumentException>(() => table.Without("no such rule")).Message);
    }

    [Fact]
    public void The_selecting_state_begins_and_ends()
    {
        var list = List(new() { Mode = SelectionMode.Multiple, EndsSelectingWhenEmpty = true });
        list.BeginSelecting();
        Any.Tap(list, 50, 10, PointerType.Touch, 0);
        Any.Tap(list, 50, 60, PointerType.Touch, 1000);
        Assert.Equal("r00 r01", Selected(list));
        Any.Tap(list, 50, 10, PointerType.Touch, 2000);
        Any.Tap(list, 50, 60, PointerType.Touch, 3000);
        Assert.False(list.IsSelecting);
        list.BeginSelecting();
        Press(list, "Escape");
        Assert.False(list.IsSelecting);
    }

    /// <summary>A clock on which each look at an item takes as long as on some device.</summary>
    private sealed class Device(Func<long> microseconds) : TimeProvider
    {
        public override long TimestampFrequency => 1_000_000;

        public override long GetTimestamp() => microseconds();
    }

    [Fact]
    public void What_the_app_throws_in_a_later_slice_is_thrown_once_and_ends_the_search()
    {
        using var list = InteractiveList.Of(Enumerable.Range(0, 50_000).ToArray(), i => i);
        list.Content = i => i == 30_000 ? throw new InvalidOperationException("No words.") : new($"{i}");
        list.IsCalledBack = true;
        list.Take(new KeyPress("#", Time: 10));
        var thrown = new List<string>();
        for (var calls = 0; list.NextDeadline is { } due && calls < 10; calls++)
        {
            try
            {
                list.Advance(due);
            }
            catch (InvalidOperationException e)
            {
                thrown.Add(e.Message);
            }
        }
        Assert.Equal(["No words."], thrown);
        Assert.Null(list.NextDeadline);
        list.Take(new KeyPress("7", Time: 5000));
        Assert.Equal(7, list.SelectedKey);
    }

    [Theory]
    [InlineData(20, 2_000)]
    [InlineData(2, 10_000)]
    [InlineData(0, 20_000)]
    public void A_long_search_goes_on_at_the_hosts_calls_where_it_makes_them(int microsecondsAnItem, int mostInOne)
    {
        var asked = 0;
        var clock = new Device(() => (long)asked * microsecondsAnItem);
        using var list =
            InteractiveList.Of(Enumerable.Range(0, 100_000).Select(i => $"Field {i}").ToArray(), s => s, new() { Time = clock });
        list.Content = s =>
        {
            asked++;
            return new(s);
        };
        list.IsCalledBack = true;
        list.Focus();
        var refused = new List<string>();
        list.Refused += (_, e) => refused.Add(e.Refusal.Reason);
        list.Take(new KeyPress("#", Time: 10));
        var (calls, most) = (0, asked);
        while (list.NextDeadline is { } due)
        {
            var before = asked;
            list.Advance(due);
            most = Math.Max(most, asked - before);
            calls++;
        }
        Assert.Equal(["No item begins with '#'."], refused);
        // No slice lasts much longer than 15 ms; where no clock runs it is bounded by its number.
        Assert.True(calls >= 4 && most <= mostInOne && most * microsecondsAnItem <= 26_000, $"{calls} calls, {most} asked in one");
    }
}
