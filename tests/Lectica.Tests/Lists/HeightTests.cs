using System.Collections.ObjectModel;
using CsCheck;
using Lectica.Acts;
using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;

namespace Lectica.Tests.Lists;

/// <summary>Rows of different heights: where they lie, and that heights stay with their items.</summary>
public sealed class HeightTests
{
    private sealed record Field(string Id, string Night);

    private static readonly Gen<double> Height = Gen.Int[4, 400].Select(h => h / 2.0);

    [Fact]
    public void A_geometry_is_what_adding_up_the_heights_gives() =>
        Gen.Select(Gen.Int[0, 40], Height, Gen.Select(Gen.Int[0, 39], Height).Array[0, 20], Gen.Double[-50, 4000], Gen.Double[1, 600])
        .Sample((count, usual, odd, y, window) =>
        {
            var heights = Enumerable.Repeat(usual, count).ToArray();
            var own = odd.Where(o => o.Item1 < count).DistinctBy(o => o.Item1).OrderBy(o => o.Item1).ToList();
            foreach (var (row, height) in own) heights[row] = height;
            var geometry = new StackedRows(count, 400, usual, OddRows.Of(own, usual));
            var tops = new double[count + 1];
            for (var i = 0; i < count; i++) tops[i + 1] = tops[i] + heights[i];
            Assert.Equal(tops[count], geometry.Height);
            for (var i = 0; i < count; i++) Assert.Equal((tops[i], heights[i]), (geometry.TopOf(new(i)), geometry.HeightOf(new(i))));
            int? at = Enumerable.Range(0, count).Where(i => tops[i] <= y && y < tops[i + 1]).Select(i => (int?)i).FirstOrDefault();
            Assert.Equal(at, geometry.LineAt(y)?.Value);
            foreach (var edge in tops)
                Assert.Equal(Enumerable.Range(0, count).Where(i => tops[i] == edge).Select(i => (int?)i).LastOrDefault(),
                    geometry.LineAt(edge)?.Value);
            for (var i = 0; i < count; i++)
            {
                // The farthest with which the row still fits, or the next.
                int down = Math.Max(
                    Math.Min(i + 1, count - 1), Enumerable.Range(i, count - i).Last(k => k == i || tops[k + 1] - tops[i] <= window)),
                    up = Math.Min(Math.Max(i - 1, 0), Enumerable.Range(0, i + 1).First(k => k == i || tops[i + 1] - tops[k] <= window));
                Assert.Equal(
                    (down, up), (geometry.PageFrom(new(i), window, down: true).Value,
                        geometry.PageFrom(new(i), window, down: false).Value));
            }
        });

    [Fact]
    public void Heights_belong_to_items_through_edits_filters_sections_and_moves() =>
        Gen.Select(Gen.Int[0, 4].Array[3, 20], Gen.Select(Gen.Int[0, 6], Gen.Int[0, 1000], Gen.Int[0, 1000], Height).Array[1, 25], Gen.Bool)
        .Sample((nights, edits, inSections) =>
        {
            var made = 0;
            Field New(int night) => new($"F{made++}", $"n{night}");
            var source = new ObservableCollection<Field>(nights.Select(New));
            var list = InteractiveList.Of(source, f => f.Id, new() { MayMove = true, Mode = SelectionMode.Multiple, Overscan = 100 });
            if (inSections) list.Sections = new(f => f.Night) { Assign = null };
            var known = new Dictionary<string, double>();
            foreach (var (kind, a, b, height) in edits)
            {
                switch (kind)
                {
                    case 0:
                        source.Insert(a % (source.Count + 1), New(b % 5));
                        break;
                    case 1 when source.Count > 0:
                        known.Remove(source[a % source.Count].Id);
                        source.RemoveAt(a % source.Count);
                        break;
                    case 2 when source.Count > 0:
                        source.Move(a % source.Count, b % source.Count);
                        break;
                    case 3:
                        list.Filter = a % 2 == 0 ? null : f => f.Id.GetHashCode(StringComparison.Ordinal) % 3 != 0;
                        break;
                    case 4 when list.Count > 0 && !inSections:
                        list.Move([source[a % source.Count].Id], b % (source.Count + 1));
                        break;
                    default:
                        foreach (var field in source.Where((_, i) => (i + a) % 4 == 0)) known[field.Id] = height + (b % 7);
                        list.Measure(known.Append(new("gone", 30)));
                        list.ScrollTo(b);
                        break;
                }
                var geometry = list.Plane.Geometry;
                double top = 0;
                for (var row = 0; row < list.Rows.Count; row++)
                {
                    var entry = list.Rows.EntryAt(new(row));
                    var own = entry.Index >= 0 ? known.GetValueOrDefault(list[entry.Index].Id, 52) : entry.Kind == RowKind.Heading ? 36
                        : entry is { Kind: RowKind.Notice, Section: < 0 } ? 132 : 52;
                    Assert.Equal((top, own), (geometry.TopOf(new(row)), geometry.HeightOf(new(row))));
                    top += own;
                }
                var rows = list.Frame.Rows;
                for (var i = 1; i < rows.Length; i++) Assert.Equal(rows[i - 1].Top + rows[i - 1].Height, rows[i].Top, 6);
            }
        }, iter: Effort.Of(2000));

    [Fact]
    public void What_is_looked_at_stays_and_what_was_brought_into_view_stays_in_view_as_heights_become_known()
    {
        var list = InteractiveList.Of([.. Enumerable.Range(0, 100).Select(i => $"f{i}")], s => s, new() { Viewport = new(400, 520) });
        list.ScrollTo(40 * 52);
        list.Measure(Enumerable.Range(0, 45).Select(i => KeyValuePair.Create($"f{i}", 80.0)));
        Assert.Equal(40, list.Frame.Rows[0].Index);
        Assert.Equal(0, list.Frame.Rows[0].Top);
        // End goes to the last row; each measuring makes the rows before it higher, and it is still seen whole.
        list.Take(new KeyPress("End"));
        for (var from = 99; from > 80; from -= 5)
        {
            list.Measure(Enumerable.Range(from - 5, 6).Select(i => KeyValuePair.Create($"f{i}", 120.0)));
            var last = list.Frame.Rows[^1];
            Assert.Equal((99, 520.0), (last.Index, last.Top + last.Height));
        }
        // Scrolling away ends that.
        list.ScrollTo(0);
        list.Measure([new("f99", 90)]);
        Assert.Equal(0, list.Viewport.ScrollTop);
        var wrong = Assert.Throws<ArgumentOutOfRangeException>(() => list.Measure([new("f1", 60), new("f2", 0)]));
        Assert.Contains("'f2'", wrong.Message);
        Assert.Equal(80, list.Plane.Geometry.HeightOf(new(1)));
    }

    [Theory]
    [InlineData(0.5)]
    [InlineData(1.5)]
    [InlineData(3)]
    public void Rows_headings_and_notices_grow_with_the_text_and_what_is_looked_at_stays(double scale)
    {
        foreach (var inSections in (bool[])[false, true])
            foreach (var measured in (bool[])[false, true])
            {
                using var list = InteractiveList.Of([.. Enumerable.Range(0, 60).Select(i => new Field($"f{i}", $"n{i / 20}"))], f => f.Id,
                    new() { Viewport = new(400, 300), RowHeight = 40, HeadingHeight = 30, NoticeHeight = 90 });
                if (inSections) list.Sections = new(f => f.Night);
                if (measured) list.Measure([new("f3", 77)]);
                list.ScrollTo(840);
                void Check(double by)
                {
                    // What is looked at: the item at the top of what shows, or the one below the heading there.
                    var eye = list.Frame.Rows.First(r => r.Index >= 0 && r.Top + r.Height > 0);
                    list.ScaleText(by);
                    Assert.Equal(eye.Top, list.Frame.Rows.Single(r => r.Index == eye.Index).Top);
                    double top = 0;
                    for (var row = 0; row < list.Rows.Count; row++)
                    {
                        var entry = list.Rows.EntryAt(new(row));
                        var own = entry.Kind == RowKind.Heading ? 30 * by : measured && entry.Index == 3 ? 77 : 40 * by;
                        Assert.Equal((top, own), (list.Plane.Geometry.TopOf(new(row)), list.Plane.Geometry.HeightOf(new(row))));
                        top += own;
                    }
                }
                Check(1);
                Check(scale);
                Check(1);
                list.Filter = _ => false;
                list.ScaleText(scale);
                Assert.Equal((RowKind.Notice, 90 * scale), (list.Frame.Rows.Single().Kind, list.Frame.Rows.Single().Height));
            }
        using var strip = InteractiveList.Of<string>([], new() { Viewport = new(400, 300), Layout = new Strip(100), NoticeHeight = 90 });
        Assert.Equal((400, 300), (strip.Frame.Rows.Single().Width, strip.Frame.Rows.Single().Height));
        Assert.Throws<ArgumentOutOfRangeException>(() => strip.ScaleText(0.2));
        Assert.Throws<ArgumentOutOfRangeException>(() => strip.ScaleText(8.1));
    }

    [Fact]
    public void A_carried_row_keeps_its_height_in_the_preview()
    {
        var source = new ObservableCollection<string>(["a", "b", "c", "d"]);
        var list = InteractiveList.Of(source, s => s, new() { MayMove = true });
        list.Measure([new("a", 100)]);
        list.Grab("a");
        list.Take(new KeyPress("ArrowDown"));
        Assert.Equal(["b", "a", "c", "d"], list.Frame.Rows.Select(r => r.Content.Label));
        Assert.Equal([0, 52, 152, 204], list.Frame.Rows.Select(r => r.Top));
        Assert.Equal(100, list.Frame.Grab!.Height);
        list.Take(new KeyPress("Enter"));
        Assert.Equal(100, list.Plane.Geometry.HeightOf(new(1)));
    }

    [Fact]
    public void A_row_that_is_higher_than_the_window_shows_its_top()
    {
        using var list = InteractiveList.Of([.. Enumerable.Range(0, 9).Select(i => $"R{i}")], s => s, new() { Viewport = new(400, 200) });
        list.Measure([new("R4", 350)]);
        double Shown(double from, string key)
        {
            list.ScrollTo(from);
            list.Reveal(key);
            return list.Viewport.ScrollTop;
        }
        // From above, from below, and from within it: its top each time; others as little as possible.
        Assert.Equal((208, 208, 208), (Shown(0, "R4"), Shown(600, "R4"), Shown(300, "R4")));
        Assert.Equal((558, 410), (Shown(700, "R5"), Shown(0, "R5")));
    }

    [Fact]
    public void A_heading_that_stays_at_the_top_is_what_is_pressed_there_and_covers_no_row_that_is_brought_into_view()
    {
        int stuck = 0, pushed = 0, none = 0, meeting = 0;
        Gen.Select(Gen.Int[0, 3].Array[1, 40], Gen.Double[0, 3000], Gen.Int[0, 39], Gen.Double[0, 200], Gen.Int[0, 9])
            .Sample((nights, scroll, reveal, y, exact) =>
        {
            using var list = InteractiveList.Of([.. nights.Select((n, i) => new Field($"F{i}", $"n{n}"))], f => f.Id,
                new() { Viewport = new(400, 200), HasStickyHeadings = true });
            list.Sections = new(f => f.Night);
            var (geometry, rows) = (list.Plane.Geometry, list.Rows);
            var headings = Enumerable.Range(0, rows.Count).Where(r => rows.EntryAt(new(r)).Kind == RowKind.Heading).ToList();
            list.ScrollTo(exact < headings.Count ? geometry.TopOf(new(headings[exact])) : scroll);
            var top = list.Viewport.ScrollTop;
            // By its own words: the last heading above the top, where something of its section is at the top; the next one pushes it.
            var above = headings.Where(r => geometry.TopOf(new(r)) < top).Cast<int?>().LastOrDefault();
            if (above is not null && headings.Exists(r => geometry.TopOf(new(r)) == top)) (above, meeting) = (null, meeting + 1);
            var next = headings.Where(r => above is { } a && r > a).Cast<int?>().FirstOrDefault();
            var sticky = list.Frame.Sticky;
            Assert.Equal(above, sticky?.Row.Value);
            if (sticky is null) none++;
            else
            {
                Assert.Equal(next is { } below ? Math.Min(0, geometry.TopOf(new(below)) - top - 36) : 0, sticky.Top, 6);
                _ = sticky.Top < 0 ? pushed++ : stuck++;
                var hit = list.Plane.HitAt(200, y % 200);
                if (y % 200 < sticky.Top + 36) Assert.Equal((sticky.Row, PartKind.Heading), (hit.Row, hit.Part.Kind));
            }
            var key = $"F{reveal % nights.Length}";
            list.Reveal(key);
            var shown = list.Frame.Rows.Single(r => r.KeyText == key);
            Assert.True(shown.Top >= (list.Frame.Sticky is { } now ? now.Top + 36 : 0) - 1e-6 && shown.Top + shown.Height <= 200 + 1e-6,
                $"{shown.Top}");
        }, iter: Effort.Of(2000), threads: 1);
        if (!Effort.IsFull) return;
        Assert.True(stuck > 100 && pushed > 30 && none > 30 && meeting > 30,
            $"{stuck} stayed, {pushed} pushed, {none} none, {meeting} met");
    }
}
