using System.Collections.ObjectModel;
using CsCheck;
using Lectica.Acts;
using Lectica.Frames;
using Lectica.Input;
using Lectica.Items;
using Lectica.Testing;

namespace Lectica.Tests.Lists;

/// <summary>
/// What comes after the items: asked for as the end comes near, once; its row, its keys, and that nothing else notices it.
/// </summary>
public sealed class MoreTests
{
    private static InteractiveList<int, int> Open(ObservableCollection<int> source, ListOptions? options = null) =>
        InteractiveList.Of(
        source, i => i, (options ?? new()) with { Mode = SelectionMode.Multiple, ModKey = ModKey.Ctrl, Phrases = Phrases.English });

    [Fact]
    public void A_slow_service_is_read_to_its_end_by_scrolling_and_goes_on_after_it_failed_once()
    {
        ObservableCollection<int> source = [.. Enumerable.Range(0, 200)];
        using var list = Open(source);
        var said = new List<string>();
        list.Announced += (_, e) => said.Add(e.Text);
        int asked = 0, failed = 0;
        var waits = false;
        list.MoreWanted += (_, _) =>
        {
            Assert.False(waits, "asked again before the answer");
            Assert.Equal(MoreKind.Loading, list.More.Kind);
            (waits, asked) = (true, asked + 1);
        };
        list.More = More.ToCome;
        Assert.Equal(0, asked);
        var nearest = double.MaxValue;
        while (list.More.Kind != MoreKind.None)
        {
            // As a finger would: in steps, without regard to what is being read.
            var room = list.Plane.Geometry.Height - list.Viewport.Height - list.Viewport.ScrollTop;
            if (!waits && list.More.Kind == MoreKind.ToCome) Assert.True(room > 400, "near, and not asked");
            nearest = Math.Min(nearest, room);
            list.ScrollTo(list.Viewport.ScrollTop + 173);
            if (!waits || list.Viewport.ScrollTop < list.Plane.Geometry.Height - list.Viewport.Height - 1) continue;
            waits = false;
            if (asked == 3 && failed++ == 0)
            {
                list.More = More.Failed();
                Assert.Equal((NoticeKind.MoreFailed, "More could not be loaded", "Try again"),
                    list.Frame.Rows[^1] is var row ? (row.Notice!.Value, row.Content.Label, row.Content.Detail) : default);
                Assert.True(list.Do(ActKind.Retry).IsHandled);
                continue;
            }
            foreach (var i in Enumerable.Range(source.Count, 200)) source.Add(i);
            list.More = source.Count < 2000 ? More.ToCome : More.None;
        }
        Assert.Equal((2000, 10, 1), (list.Count, asked, failed));
        Assert.Equal(0, nearest);
        Assert.Equal(["More could not be loaded", "That is all"], said);
        list.ScrollTo(double.MaxValue);
        Assert.Equal("That is all", list.Frame.Rows[^1].Content.Label);
        Assert.Equal(2001, list.Frame.RowCount);
    }

    [Fact]
    public void Its_row_is_reached_by_keys_and_tried_again_by_Enter_or_a_tap()
    {
        ObservableCollection<int> source = [0, 1, 2];
        using var list = Open(source);
        var asked = 0;
        list.MoreWanted += (_, _) => asked++;
        list.More = More.Failed("No connection");
        list.Take(new KeyPress("End"));
        Assert.Equal((true, "No connection"), list.Frame.Rows[^1] is var row ? (row.IsCursor, row.Content.Label) : default);
        // It is not an item: nothing of it is selected or marked, and a range ends before it.
        Assert.Equal(-1, list.Selection.Cursor);
        Assert.False(list.Take(new KeyPress("Space")).Refusal is null);
        Assert.True(list.Take(new KeyPress("Enter")).IsHandled);
        Assert.Equal((1, MoreKind.Loading), (asked, list.More.Kind));
        Assert.False(list.Take(new KeyPress("Enter")).Refusal is null);
        list.More = More.Failed();
        var y = list.Frame.Rows[^1].Top + 20;
        list.Take(PointerSample.Down(PointerType.Touch, 100, y, 0));
        list.Take(PointerSample.Up(PointerType.Touch, 100, y, 80));
        Assert.Equal(2, asked);
        // What comes in there is where the cursor goes on.
        source.Add(3);
        source.Add(4);
        Assert.Equal(3, list.Selection.Cursor);
        list.Take(new KeyPress("End"));
        list.More = More.NotSaid;
        Assert.Equal((4, 5), (list.Selection.Cursor, list.Frame.RowCount));
        list.More = More.None;
        list.Take(new KeyPress("ArrowUp"));
        list.Take(new KeyPress("End", Modifiers.Ctrl | Modifiers.Shift));
        Assert.Equal([3, 4], list.SelectedKeys);
        // Nothing shows: then the notice is the row.
        list.Filter = _ => false;
        Assert.Equal(NoticeKind.NothingMatches, list.Frame.Rows.Single().Notice);
    }

    [Fact]
    public void Every_row_of_the_items_is_what_it_is_without_it()
    {
        var met = 0;
        Gen.Select(Gen.Int[0, 12], Gen.Int[0, 2], Gen.Bool, Gen.Select(Gen.Int[0, 9], Gen.Int[0, 30], Gen.Int[0, 30]).Array[0, 20])
            .Sample((count, sections, sorted, doings) =>
        {
            InteractiveList<int, int> Make(ObservableCollection<int> source, More more)
            {
                var list = Open(source, new() { MayMove = true, MoreWithin = 0, Viewport = new(300, 4000), HasStickyHeadings = true });
                if (sections > 0) list.Sections = new(i => $"{i % sections}");
                if (sorted) list.SortBy = (a, b) => (a * 7 % 5).CompareTo(b * 7 % 5);
                list.More = more;
                return list;
            }
            ObservableCollection<int> one = [.. Enumerable.Range(0, count)], other = [.. one];
            using InteractiveList<int, int> with = Make(one, More.None), without = Make(other, More.NotSaid);
            var next = 100;
            foreach (var (kind, a, b) in doings)
            {
                foreach (var (list, source) in new[] { (with, one), (without, other) })
                {
                    _ = kind switch
                    {
                        0 => Do(() => source.Insert(a % (source.Count + 1), next)),
                        1 => Do(() => { if (source.Count > 0) source.RemoveAt(a % source.Count); }),
                        2 => Do(() => list.Filter = a % 3 == 0 ? null : i => i % 3 != b % 3),
                        3 when list.Count > 0 => Do(() => list.Move([list.KeyAt(a % list.Count)], b % (list.Count + 1))),
                        4 when list.Count > 0 => Do(() => list.Select(list.KeyAt(a % list.Count))),
                        5 when list.Count > 0 => Do(() => list.ExtendTo(list.KeyAt(a % list.Count))),
                        6 when sections > 0 => Do(() => list.CollapseOrExpand($"{a % sections}")),
                        7 => Do(() => list.SelectAll()),
                        8 when list.Count > 0 => Do(() =>
                        {
                            if (!list.Grab(list.KeyAt(a % list.Count)).IsHandled) return;
                            for (var i = 0; i < b % 6; i++) list.Take(new KeyPress(a % 2 == 0 ? "ArrowDown" : "ArrowUp"));
                            list.Take(new KeyPress("Enter"));
                        }),
                        _ => Do(() => list.Take(new KeyPress(b % 2 == 0 ? "ArrowUp" : "PageUp"))),
                    };
                }
                next++;
                var frame = with.Frame;
                if (frame.Rows.Length > 0 && frame.Rows[^1].Notice == NoticeKind.NoMore)
                {
                    met++;
                    Assert.Equal(without.Frame.ContentHeight + 52, frame.ContentHeight);
                }
                Assert.Equal(without.Frame.Rows, frame.Rows.Where(r => r.Notice != NoticeKind.NoMore),
                    (x, y) => x.LooksLike(y) && x.Row == y.Row && x.Top == y.Top);
                Assert.Equal(other, one);
                Assert.Equal(without.SelectedKeys, with.SelectedKeys);
            }
        }, iter: Effort.Of(1000));
        if (!Effort.IsFull) return;
        Assert.True(met > 1000, $"{met} met");
        static bool Do(Action act)
        {
            act();
            return true;
        }
    }
}
