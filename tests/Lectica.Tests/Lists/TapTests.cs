using CsCheck;
using Lectica.Acts;
using Lectica.Frames;
using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Tracing;

namespace Lectica.Tests.Lists;

/// <summary>A tap reaches the item that is drawn under it, and says so; what is not a tap says why.</summary>
public sealed class TapTests
{
    /// <summary>The row and part under a point, found by looking at what is drawn alone.</summary>
    private static (RowFrame? Row, Part Part) Drawn(Frame frame, double x, double y)
    {
        foreach (var row in frame.Rows)
            if (y >= row.Top && y < row.Top + row.Height)
                return (row, row.Parts.FirstOrDefault(p => x >= p.Left && x < p.Left + p.Width)?.Part ?? Part.Body);
        return (null, Part.Body);
    }

    [Fact]
    public void A_tap_anywhere_tells_the_item_and_part_that_is_drawn_there() =>
        Gen.Select(Any.List, Gen.Double[0, 0.9999], Gen.Double[0, 0.9999], Gen.Enum<PointerType>()).Sample((any, x, y, type) =>
        {
            var list = Any.Open(any.Item1, any.Item2, any.Item3);
            var (px, py) = (x * list.Viewport.Width, y * list.Viewport.Height);
            // Right on an edge belongs to one side or the other; the drawing does not say to which.
            if (list.Frame.Rows.Any(r => r.Parts.Any(p => Math.Abs(px - p.Left) < 1e-6 || Math.Abs(px - p.Left - p.Width) < 1e-6))) return;
            var (row, part) = Drawn(list.Frame, px, py);
            var told = new List<(string, int, RowNumber, Part)>();
            var refused = new List<RefusedEventArgs>();
            list.Tapped += (_, e) => told.Add((e.Item.Id, e.Index, e.Row, e.Part));
            list.Refused += (_, e) => refused.Add(e);

            Any.Tap(list, px, py, type);

            if (row is not { Kind: RowKind.Item, IsDisabled: false }) Assert.Empty(told);
            else Assert.Equal([(any.Item1[row.Index].Id, row.Index, row.Row, part)], told);
            if (row is { Kind: RowKind.Notice } or { IsDisabled: true }) Assert.NotEmpty(refused);
            Assert.All(refused, r => Assert.NotEmpty(r.Refusal.Reason));
        });

    [Fact]
    public void Rows_cover_the_viewport_without_gap_and_say_what_their_items_say() => Any.List.Sample(any =>
    {
        var list = Any.Open(any.Things, any.Options, any.Scroll);
        var frame = list.Frame;
        var shown = any.Things.Select((t, i) => (t, i)).Where(p => p.t.IsShown).ToList();
        Assert.Equal(Math.Max(1, shown.Count), frame.RowCount);
        Assert.InRange(frame.Viewport.ScrollTop, 0, Math.Max(0, frame.ContentHeight - frame.Viewport.Height));
        if (shown.Count == 0)
        {
            var notice = Assert.Single(frame.Rows);
            Assert.Equal(any.Things.Length == 0 ? NoticeKind.Empty : NoticeKind.NothingMatches, notice.Notice);
            return;
        }
        Assert.True(frame.Rows[0].Top <= 0);
        foreach (var (one, next) in frame.Rows.Zip(frame.Rows.Skip(1)))
        {
            Assert.Equal(one.Top + one.Height, next.Top, 6);
            Assert.Equal(one.Row.Value + 1, next.Row.Value);
        }
        Assert.True(frame.Rows[^1].Row.Value == frame.RowCount - 1 || frame.Rows[^1].Top + frame.Rows[^1].Height >= frame.Viewport.Height);
        foreach (var row in frame.Rows)
        {
            var (thing, index) = shown[row.Row.Value];
            Assert.Equal((index, thing.Name, !thing.IsEnabled), (row.Index, row.Content.Label, row.IsDisabled));
            Assert.Equal(row.Row, list.Rows.RowOf(index));
            Assert.Equal(index, list.Rows.IndexAt(row.Row));
        }
    });

    [Theory]
    [InlineData(PointerType.Touch, 10)]
    [InlineData(PointerType.Pen, 6)]
    [InlineData(PointerType.Mouse, 4)]
    public void Past_the_tolerance_it_is_no_tap_and_the_reason_has_the_numbers(PointerType type, double tolerance) =>
        Gen.Select(Gen.Double[0, 2 * tolerance], Gen.Double[0, Math.Tau], Gen.Bool).Sample((distance, angle, back) =>
        {
            // The boundary itself is within; a hair around it depends on rounding.
            if (Math.Abs(distance - tolerance) < 1e-9) return;
            // By mouse and pen straying ends a tap only where items may move.
            var list = InteractiveList.Of(["one", "two", "three"], new() { RowHeight = 200, Viewport = new(400, 600), MayMove = true });
            list.MoveRequested += (_, _) => { };
            var told = 0;
            var reasons = new List<string>();
            list.Tapped += (_, _) => told++;
            list.Traced += line =>
            {
                if (line is TracedGesture { Gesture: "tap" } tap) reasons.Add(tap.Reason!);
            };
            double x = 200 + (distance * Math.Cos(angle)), y = 300 + (distance * Math.Sin(angle));
            list.Take(PointerSample.Down(type, 200, 300, 0));
            list.Take(PointerSample.Move(type, x, y, 50));
            Assert.Equal(distance <= tolerance, list.Frame.Rows[1].IsPressed);
            // Coming back does not make a tap of it again.
            list.Take(PointerSample.Up(type, back ? 200 : x, back ? 300 : y, 100));
            Assert.Equal(distance <= tolerance ? 1 : 0, told);
            Assert.Contains($"tolerance {tolerance} px", Assert.Single(reasons));
            Assert.Contains("moved", reasons[0]);
            Assert.DoesNotContain(list.Frame.Rows, r => r.IsPressed);
        });

    [Fact]
    public void Moving_off_the_row_and_letting_go_does_nothing()
    {
        var list = InteractiveList.Of(["one", "two"]);
        var told = 0;
        list.Tapped += (_, _) => told++;
        list.Take(PointerSample.Down(PointerType.Touch, 100, 50, 0));
        list.Take(PointerSample.Up(PointerType.Touch, 100, 55, 80));
        Assert.Equal(0, told);
    }

    [Fact]
    public void Tapped_comes_each_time_and_selection_changed_only_when_it_did()
    {
        var list = InteractiveList.Of(["one", "two", "three"]);
        var log = new List<string>();
        list.Tapped += (_, e) => log.Add($"tapped {e.Item}");
        list.SelectionChanged += (_, e) => log.Add(
            $"selected {string.Join(",", e.AddedItems)} not {string.Join(",", e.RemovedItems)} by {e.Cause}");
        list.Activated += (_, e) => log.Add($"activated {e.Item}");
        Any.Tap(list, 50, 60, PointerType.Touch, 0);
        Any.Tap(list, 50, 60, PointerType.Touch, 1000);
        Any.Tap(list, 50, 10, PointerType.Touch, 2000);
        const string rule = "touch tap selects and activates";
        Assert.Equal(
            ["tapped two", $"selected two not  by {rule}", "activated two", "tapped two", "activated two", "tapped one",
                $"selected one not two by {rule}", "activated one"], log);
    }

    [Fact]
    public void A_double_click_activates_once_after_the_first_has_selected()
    {
        var list = InteractiveList.Of(["one", "two"]);
        var log = new List<string>();
        list.Tapped += (_, e) => log.Add($"tapped {e.Count}");
        list.SelectionChanged += (_, _) => log.Add("selected");
        list.Activated += (_, _) => log.Add("activated");
        Any.Tap(list, 50, 60, PointerType.Mouse, 0);
        Any.Tap(list, 52, 61, PointerType.Mouse, 300);
        Assert.Equal(["tapped 1", "selected", "tapped 2", "activated"], log);
        // Too late, too far, or on another row: two taps.
        log.Clear();
        Any.Tap(list, 50, 60, PointerType.Mouse, 2000);
        Any.Tap(list, 50, 60, PointerType.Mouse, 2000 + 80 + 401);
        Any.Tap(list, 60, 60, PointerType.Mouse, 2000 + 80 + 401 + 200);
        Any.Tap(list, 60, 30, PointerType.Mouse, 2000 + 80 + 401 + 400);
        Assert.Equal(4, log.Count(l => l == "tapped 1"));
        Assert.DoesNotContain("activated", log);
    }

    [Fact]
    public void A_press_belongs_to_its_item_also_when_rows_shift_under_the_finger()
    {
        var source = new System.Collections.ObjectModel.ObservableCollection<string>(["one", "two", "three"]);
        var list = InteractiveList.Of(source, s => s);
        var told = new List<string>();
        list.Tapped += (_, e) => told.Add(e.Item);
        // A row comes in above: another item lies under the finger now.
        list.Take(PointerSample.Down(PointerType.Touch, 50, 60, 0));
        source.Insert(0, "zero");
        Assert.Equal("two", list[list.Frame.Rows.Single(r => r.IsPressed).Index]);
        list.Take(PointerSample.Up(PointerType.Touch, 50, 60, 80));
        Assert.Empty(told);
        // The pressed item leaves.
        list.Take(PointerSample.Down(PointerType.Touch, 50, 60, 1000));
        source.RemoveAt(1);
        list.Take(PointerSample.Up(PointerType.Touch, 50, 60, 1080));
        Assert.Empty(told);
        // One comes in below: nothing has shifted.
        list.Take(PointerSample.Down(PointerType.Touch, 50, 60, 2000));
        source.Add("four");
        list.Take(PointerSample.Up(PointerType.Touch, 50, 60, 2080));
        Assert.Equal(["two"], told);
    }

    [Fact]
    public void Any_samples_at_all_leave_no_press_behind_and_throw_nothing() =>
        Gen.Select(Any.List,
        Gen.Select(Gen.Enum<SampleKind>(), Gen.Int[0, 3], Gen.Enum<PointerType>(), Gen.Double[-50, 950], Gen.Double[-50, 750],
            Gen.Double[0, 100], Gen.Int[-1, 3]).Array[0, 80])
            .Sample((any, samples) =>
            {
                var list = Any.Open(any.Item1, any.Item2, any.Item3);
                double time = 0;
                foreach (var (kind, pointer, type, x, y, pause, button) in samples)
                    list.Take(new PointerSample(kind, pointer, type, x, y, time += pause - 5) { Button = button });
                for (var pointer = 0; pointer <= 3; pointer++)
                    list.Take(new PointerSample(SampleKind.Cancel, pointer, PointerType.Touch, double.NaN, double.NaN, time));
                Assert.DoesNotContain(list.Frame.Rows, r => r.IsPressed);
            });

    [Fact]
    public void An_empty_list_refuses_with_a_reason_and_nothing_breaks()
    {
        var list = InteractiveList.Of(Array.Empty<string>());
        var reasons = new List<Refusal>();
        list.Refused += (_, e) => reasons.Add(e.Refusal);
        Any.Tap(list, 50, 10, PointerType.Touch);
        foreach (var key in (string[])["ArrowDown", "Enter", "a", "Home"]) Assert.False(list.Take(new KeyPress(key)).IsHandled);
        Assert.False(list.SelectAll().IsHandled);
        Assert.All(reasons, r => Assert.NotEqual("", r.Reason));
        Assert.Contains(reasons, r => r.Kind == RefusalKind.EmptyList);
        Assert.Equal(NoticeKind.Empty, list.Frame.Rows.Single().Notice);
    }

    [Fact]
    public void By_mouse_or_pen_where_nothing_is_dragged_a_tap_may_stray_inside_its_row() =>
        Gen.Select(Gen.Double[1, 399], Gen.Double[1, 599], Gen.Bool).Sample((x, y, pen) =>
        {
            var list = InteractiveList.Of(["one", "two", "three"], new() { RowHeight = 200, Viewport = new(400, 600) });
            var told = 0;
            list.Tapped += (_, _) => told++;
            var type = pen ? PointerType.Pen : PointerType.Mouse;
            list.Take(PointerSample.Down(type, 200, 300, 0));
            list.Take(PointerSample.Move(type, (x + 200) / 2, (y + 300) / 2, 50));
            list.Take(PointerSample.Up(type, x, y, 100));
            Assert.Equal(y is >= 200 and < 400 ? 1 : 0, told);
        });

    [Fact]
    public void A_moving_sample_that_crosses_nothing_allocates_nothing()
    {
        Assert.SkipUnless(Effort.IsFull, "Code that is changed by a mutation tester allocates.");
        var list = InteractiveList.Of(["one", "two"]);
        list.Take(PointerSample.Down(PointerType.Touch, 10, 10, 0));
        list.Take(PointerSample.Move(PointerType.Touch, 11, 10, 1));
        var before = GC.GetAllocatedBytesForCurrentThread();
        for (var i = 0; i < 1000; i++) list.Take(PointerSample.Move(PointerType.Touch, 10 + (i % 7), 10, i * 0.4));
        Assert.Equal(0, GC.GetAllocatedBytesForCurrentThread() - before);
    }
}
