using System.Collections.ObjectModel;
using CsCheck;
using Lectica.Acts;
using Lectica.Frames;
using Lectica.Layout;
using Lectica.Testing;

namespace Lectica.Tests.Layouts;

/// <summary>Rows of several fields: where columns lie, what they say, and what their headers do.</summary>
public sealed class ColumnTests
{
    private sealed record Star(int Id, string Name, int Size, double Light);

    private static readonly ListOptions Options = new()
    {
        Mode = SelectionMode.Multiple,
        ModKey = Input.ModKey.Ctrl,
        Phrases = Phrases.English,
        Viewport = new(600, 400),
        Parts = new() { Check = true, Width = 40 },
    };

    private static readonly Star[] Stars =
        [new(0, "Yul", 3, 4.5), new(1, "Bram", 1, 2), new(2, "Osk", 3, 9), new(3, "Anu", 2, 2), new(4, "Ysk", 1, 7)];

    private static readonly Column<Star> Name =
        new("name", "Name", s => s.Name) { Compare = (a, b) => string.CompareOrdinal(a.Name, b.Name) },
        Size = new("size", "Size", s => $"{s.Size}") { Width = 80, AlignsEnd = true, Compare = (a, b) => a.Size.CompareTo(b.Size) },
        Light = new("light", "Light", s => $"{s.Light:0.0}") { Width = 100 };

    private static InteractiveList<Star, int> Open(ListOptions? options = null) => new Func<InteractiveList<Star, int>>(() =>
    {
        var list = InteractiveList.Of(Stars, s => s.Id, options ?? Options);
        list.Columns = [Name, Size, Light];
        return list;
    })();

    private static string Ids(InteractiveList<Star, int> list) => string.Join(' ', list.Frame.Rows.Select(r => list[r.Index].Id));

    [Fact]
    public void Columns_lie_side_by_side_over_the_bodies_and_say_what_their_items_do()
    {
        int narrow = 0, shared = 0, wide = 0, least = 0;
        for (var seed = 0; seed < Effort.Of(400); seed++)
        {
            var random = new Random(seed);
            var options = Options with
            {
                IsRightToLeft = random.Next(2) == 0,
                Viewport = new(random.Next(150, 1200), 400),
                Parts = new() { Check = random.Next(2) == 0, Handle = random.Next(2) == 0, Width = 40 },
                MayMove = true,
            };
            using var list = InteractiveList.Of(Stars, s => s.Id, options);
            list.Columns = [.. Enumerable.Range(0, random.Next(1, 7))
                .Select(i => new Column<Star>($"c{i}", $"C{i}", s => $"{s.Name}{i}")
                {
                    Width = random.Next(2) == 0 ? null : random.Next(24, 300),
                    Share = random.Next(1, 4),
                    LeastWidth = random.Next(3) == 0 ? random.Next(24, 200) : 104,
                })];
            // Larger text needs wider columns, and smaller text no narrower ones.
            var scale = new[] { 1, 0.5, 1.75 }[seed % 3];
            list.ScaleText(scale);
            scale = Math.Max(1, scale);
            var frame = list.Frame;
            var row = frame.Rows[0];
            Assert.Equal(list.Columns.Select((_, i) => $"Yul{i}"), row.Cells);
            Assert.Equal("Yul0", row.Content.Label);
            // As many from the first on as have the width that they need, and the first in any case.
            var fits = Enumerable.Range(1, list.Columns.Length)
                .Last(n => n == 1 || list.Columns.Take(n).Sum(c => scale * (c.Width ?? c.LeastWidth)) <= row.BodyWidth);
            Assert.Equal(list.Columns.Take(fits).Select(c => c.Label), frame.Headers.Select(h => h.Label));
            if (fits < list.Columns.Length) narrow++;
            // They cover the body without a gap, from the leading edge on.
            var inOrder = options.IsRightToLeft ? frame.Headers.Reverse() : frame.Headers;
            var at = row.BodyLeft;
            foreach (var header in inOrder)
            {
                Assert.Equal(at, header.Left, 6);
                at += header.Width;
            }
            Assert.Equal(row.BodyLeft + row.BodyWidth, at, 6);
            var free = frame.Headers.Where(h => list.Columns.Single(c => c.Label == h.Label).Width is null).ToList();
            if (free.Count > 1)
            {
                shared++;
                // What is left is shared; who would get less than its least has that, and more for its share than the others.
                var each = free.Select(h => (h.Width, Of: list.Columns.Single(c => c.Label == h.Label)))
                    .Select(h => (h.Width, LeastWidth: scale * h.Of.LeastWidth, Part: h.Width / h.Of.Share)).ToList();
                var part = each.Min(h => h.Part);
                Assert.All(each, h => Assert.True(h.Width >= h.LeastWidth - 1e-6, $"{h}"));
                Assert.All(each.Where(h => h.Width > h.LeastWidth + 1e-6), h => Assert.Equal(part, h.Part, 6));
                if (each.Exists(h => h.Part > part + 1e-6)) least++;
            }
            foreach (var header in frame.Headers.Except(free).Where(h => free.Count > 0 && frame.Headers.Length > 1))
            {
                wide++;
                Assert.Equal(scale * list.Columns.Single(c => c.Label == header.Label).Width!.Value, header.Width, 6);
            }
        }
        if (!Effort.IsFull) return;
        Assert.True(narrow > 30 && shared > 30 && wide > 30 && least > 30, $"{narrow} {shared} {wide} {least}");
    }

    [Fact]
    public void A_press_on_a_header_sorts_up_then_down_then_not_and_another_order_is_the_apps()
    {
        using var list = Open();
        var told = new List<string>();
        list.Announced += (_, e) => told.Add(e.Text);
        var changed = new List<string>();
        list.PropertyChanged += (_, e) => changed.Add(e.PropertyName!);
        list.Select(2);
        Assert.True(list.PressHeader("size").IsHandled);
        Assert.Equal("1 4 3 0 2", Ids(list));
        Assert.Equal([(null, true), (false, true), (null, false)], list.Frame.Headers.Select(h => (h.IsDescending, h.Sorts)));
        list.PressHeader("size");
        // Those that are equal stay in the source's order.
        Assert.Equal("0 2 3 1 4", Ids(list));
        list.PressHeader("name");
        Assert.Equal(("3 1 2 4 0", new ColumnSort("name")), (Ids(list), list.Sort));
        list.PressHeader("name");
        list.PressHeader("name");
        Assert.Equal(("0 1 2 3 4", null), (Ids(list), list.Sort));
        Assert.Equal(["Sorted by Size, up", "Sorted by Size, down", "Sorted by Name, up", "Sorted by Name, down", "No longer sorted"],
            told.Where(t => t.Contains("ort", StringComparison.Ordinal)));
        Assert.Equal([2], list.SelectedItems.Select(s => s.Id));
        Assert.Contains("Sort", changed);
        Assert.Equal(RefusalKind.NotAvailable, list.PressHeader("light").Refusal?.Kind);
        Assert.Contains("there are name, size, light", list.PressHeader("colour").Refusal!.Reason, StringComparison.Ordinal);
        // The app's own order stays, whatever columns come and go.
        list.Sort = new("size");
        list.SortBy = (a, b) => b.Id.CompareTo(a.Id);
        Assert.Equal(("4 3 2 1 0", null), (Ids(list), list.Sort));
        list.Columns = [Light];
        Assert.Equal("4 3 2 1 0", Ids(list));
        // A column that the app sorts by.
        SortRequestedEventArgs? asked = null;
        list.SortRequested += (_, e) => asked = e;
        Assert.True(list.Frame.Headers[0].Sorts);
        list.PressHeader("light");
        Assert.Equal(new("light"), asked!.Sort);
        list.Sort = asked.Sort;
        list.PressHeader("light");
        Assert.Equal(new("light", true), asked.Sort);
    }

    [Fact]
    public void Keys_go_up_to_the_headers_along_them_and_back()
    {
        foreach (var rightToLeft in (bool[])[false, true])
        {
            using var list = Open(Options with { IsRightToLeft = rightToLeft });
            var player = ListPlayer.On(list);
            int At() => list.Frame.Headers.ToList().FindIndex(h => h.IsCursor);
            player.Press("ArrowDown");
            player.Press("ArrowUp");
            Assert.Equal(-1, At());
            player.Press("ArrowUp");
            Assert.Equal(0, At());
            Assert.DoesNotContain(list.Frame.Rows, r => r.IsCursor);
            player.Press(rightToLeft ? "ArrowLeft" : "ArrowRight");
            player.Press("Enter");
            Assert.Equal((1, "1 4 3 0 2"), (At(), Ids(list)));
            player.Press("Space");
            Assert.Equal("0 2 3 1 4", Ids(list));
            player.Press("End");
            Assert.Equal(2, At());
            player.Press("ArrowUp");
            Assert.Equal(2, At());
            player.Press("ArrowDown");
            Assert.Equal(-1, At());
            Assert.Contains(list.Frame.Rows, r => r.IsCursor);
            // Anything else is the rows'.
            player.Press("Home");
            player.Press("ArrowUp");
            Assert.Equal(1, At());
            player.Press("Ctrl+a");
            Assert.Equal((-1, 5), (At(), list.SelectedCount));
        }
    }

    [Fact]
    public void A_sort_is_stored_and_what_cannot_be_a_column_is_named()
    {
        using var list = Open();
        list.Sort = new("size", true);
        var snapshot = ListSnapshot.Parse(list.Save().ToJson());
        using var other = Open();
        other.Restore(snapshot);
        Assert.Equal(("0 2 3 1 4", new ColumnSort("size", true)), (Ids(other), other.Sort));
        void Refused(string why, Action act)
        {
            Assert.Contains(why, Assert.Throws<ArgumentException>(act).Message, StringComparison.Ordinal);
            Assert.Equal(3, other.Columns.Length);
            Assert.Equal("0 2 3 1 4", Ids(other));
        }
        Refused("Two columns have the name 'size'", () => other.Columns = [Size, Size]);
        Refused("is 24 to 10,000 px wide, not 5", () => other.Columns = [Size with { Width = 5 }]);
        Refused("is 24 to 10,000 px, not 5", () => other.Columns = [Size with { LeastWidth = 5 }]);
        Refused("by a number more than 0, not 0", () => other.Columns = [Name with { Share = 0 }]);
        Refused("needs a name", () => other.Columns = [Name with { Name = "" }]);
        Refused("There is no column 'colour'", () => other.Sort = new("colour"));
        // A column that throws says nothing of its item, and the list stays usable.
        other.Columns = [Name with { Text = s => s.Id == 3 ? throw new InvalidOperationException("no name") : s.Name }, Size];
        Assert.Throws<InvalidOperationException>(() => other.Frame);
        other.Columns = [Name, Size];
        Assert.Equal("0 2 3 1 4", Ids(other));
        // Without the column by which they were sorted, they lie as in the source again.
        other.Columns = [Name];
        Assert.Null(other.Sort);
        Assert.Equal("0 1 2 3 4", Ids(other));
        other.Columns = [Name, Size];
        // A sorted outline would not be one.
        other.Outline = Outline.ByParent((Star s) => s.Id == 0 ? null : (int?)0) with { OpenLevels = 2 };
        Assert.Equal(RefusalKind.NotAvailable, other.PressHeader("size").Refusal?.Kind);
        Assert.All(other.Frame.Headers, h => Assert.False(h.Sorts));
        Assert.Equal(other.Frame.Rows[0].BodyLeft, other.Frame.Headers[0].Left);
    }

    [Fact]
    public void What_is_looked_at_stays_where_it_is_through_any_edit_however_rows_are_sorted()
    {
        var kept = new Dictionary<(bool Live, bool Sections, string Sorted), int>();
        Gen.Select(Gen.Bool, Gen.Bool, Gen.Int[0, 2], Gen.Int).Sample((live, sections, by, seed) =>
        {
            var (random, sorted) = (new Random(seed), new[] { "", "name", "size" }[by]);
            var made = 0;
            Star Make() => new(made++, $"{random.Next(1000):000}", random.Next(9), 1);
            IList<Star> source = [.. Enumerable.Range(0, 150).Select(_ => Make())];
            if (live) source = new ObservableCollection<Star>(source);
            using var list = InteractiveList.Of((IReadOnlyList<Star>)source, s => s.Id, Options);
            list.Columns = [Name, Size];
            if (sections) list.Sections = new(s => $"{s.Id % 4}");
            if (sorted.Length > 0) list.PressHeader(sorted);
            list.Commands = [new("remove", "Remove") { Do = list.TakeOut }];
            for (var step = 0; step < 6; step++)
            {
                list.ScrollTo(random.Next(1000, 3000));
                var eye = list.Frame.Rows.First(r => r.Index >= 0 && r.Top + r.Height > 0);
                var key = list.KeyAt(eye.Index);
                int[] others = [.. Enumerable.Range(0, list.Count).Select(list.KeyAt).Where(k => k != key)];
                int[] some = [.. others.Where(_ => random.Next(8) == 0)];
                switch (random.Next(4))
                {
                    case 0:
                        foreach (var gone in some) source.Remove(source.Single(s => s.Id == gone));
                        if (!live) list.Refresh();
                        break;
                    case 1:
                        for (var i = 0; i < 10; i++) source.Insert(random.Next(source.Count + 1), Make());
                        if (!live) list.Refresh();
                        break;
                    default:
                        list.SelectedKeys = some;
                        Assert.True(list.RunCommand("remove").IsHandled);
                        if (random.Next(2) == 0) list.Undo();
                        break;
                }
                var rows = list.Frame.Rows;
                // At the end there may be less left than is to be seen.
                if (list.Viewport.ScrollTop >= list.Plane.Geometry.Height - list.Viewport.Height) continue;
                Assert.Equal(eye.Top, rows.Single(r => r.Index >= 0 && list.KeyAt(r.Index) == key).Top);
                kept[(live, sections, sorted)] = kept.GetValueOrDefault((live, sections, sorted)) + 1;
            }
        }, iter: Effort.Of(400), threads: 1);
        Assert.Equal(12, kept.Count);
    }
}
