using System.Collections.ObjectModel;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Frames;
using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Moving;
using Lectica.Swiping;
using Lectica.Testing;

namespace Lectica.Tests.Layouts;

/// <summary>
/// Tiles beside a plain model that puts them down one after the other: where they lie, and whatever pointers and keys do to them.
/// </summary>
public sealed class TileTests
{
    private static readonly ListOptions Options = new()
    {
        Mode = SelectionMode.Multiple,
        ModKey = ModKey.Ctrl,
        Phrases = Phrases.English,
        MayMove = true,
        Layout = new Tiles(90, 70) { Gap = 6 },
        Parts = new() { Check = true, Width = 30 },
    };

    private static (InteractiveList<Plate, int> List, ObservableCollection<Plate> Plates) Open(
        Random random, int most, bool hasSections, ListOptions? options = null)
    {
        var count = random.Next(most + 1);
        var plates = new ObservableCollection<Plate>(
            Enumerable.Range(0, count).Select(i => new Plate(i, $"{(hasSections ? i * 3 / Math.Max(1, count) : 0)}")));
        options ??= Options;
        var list = InteractiveList.Awaiting<Plate, int>(
            p => p.Id, options with { Viewport = new(random.Next(110, 520), random.Next(120, 460)), IsRightToLeft = random.Next(2) == 0 });
        if (hasSections)
            list.Sections = new(p => p.Region)
            {
                Order = ["0", "1", "2"],
                Assign = (p, region) => p.Region = region,
                EmptyText = random.Next(2) == 0 ? _ => "Nothing here" : null,
            };
        if (random.Next(3) == 0) list.Filter = p => p.Id % 3 != 1;
        list.EnabledWhen = p => p.Id % 7 != 5;
        list.Show(plates);
        if (hasSections && random.Next(3) == 0) list.CollapseOrExpand("1");
        if (random.Next(3) == 0) list.More = More.ToCome;
        return (list, plates);
    }

    /// <summary>All rows, put down one after the other.</summary>
    private static List<(RowEntry Entry, RowBounds At, int Line, int Column)> Model(InteractiveList<Plate, int> list)
    {
        var (tiles, options, width) = ((Tiles)list.Options.Layout, list.Options, list.Viewport.Width);
        var columns = 1;
        while ((columns + 1) * (tiles.LeastWidth + tiles.Gap) <= width - tiles.Gap) columns++;
        var wide = (width - tiles.Gap) / columns - tiles.Gap;
        var model = new List<(RowEntry, RowBounds, int, int)>();
        double y = 0;
        int column = 0, line = -1;
        void EndLine()
        {
            if (column > 0) y += tiles.Height + tiles.Gap;
            column = 0;
        }
        for (var row = 0; row < list.Rows.Count; row++)
        {
            var entry = list.Rows.EntryAt(new(row));
            if (entry.Kind != RowKind.Item)
            {
                EndLine();
                var height = list.Rows.Notice is not null ? options.NoticeHeight : entry.Kind == RowKind.Heading ? options.HeadingHeight
                    : options.RowHeight;
                model.Add((entry, new(0, y, width, height), ++line, 0));
                y += height;
                continue;
            }
            if (column == columns) EndLine();
            if (column == 0) line++;
            if (column == 0 && (row == 0 || list.Rows.EntryAt(new(row - 1)).Kind != RowKind.Item)) y += tiles.Gap;
            var left = tiles.Gap + (column * (wide + tiles.Gap));
            model.Add((entry, new(options.IsRightToLeft ? width - left - wide : left, y, wide, tiles.Height), line, column++));
        }
        return model;
    }

    private static bool Touches(RowBounds at, double left, double top, double right, double bottom) =>
        right >= at.Left && left < at.Right && at.Bottom > top && at.Top <= bottom;

    [Fact]
    public void Of_larger_text_there_are_fewer_tiles_in_a_line()
    {
        using var list = InteractiveList.Of(Enumerable.Range(0, 20).Select(i => $"P{i}").ToList(), p => p,
            new() { Layout = new Tiles(140, 96), Viewport = new(600, 400) });
        foreach (var (scale, columns) in ((double, int)[])[(1, 4), (1.5, 2), (2, 2), (8, 1), (0.5, 4)])
        {
            list.ScaleText(scale);
            var first = list.Frame.Rows.Where(r => r.Top == list.Frame.Rows[0].Top).ToList();
            Assert.Equal((columns, 96 * scale), (first.Count, first[0].Height));
        }
    }

    [Fact]
    public void Every_question_is_answered_as_by_tiles_put_down_one_after_the_other()
    {
        int beside = 0, shorter = 0, wide = 0, strided = 0, empty = 0;
        for (var seed = 0; seed < Effort.Of(400); seed++)
        {
            var random = new Random(seed);
            var (list, _) = Open(random, 60, random.Next(2) == 0);
            using var _1 = list;
            var (model, geometry) = (Model(list), list.Plane.Geometry);
            Assert.Equal(model.Count, geometry.RowCount);
            for (var row = 0; row < model.Count; row++)
            {
                var (entry, at, line, column) = model[row];
                var bounds = geometry.BoundsOf(new(row));
                foreach (var (expected,
                    actual) in new[] { (at.Left, bounds.Left), (at.Top, bounds.Top), (at.Width, bounds.Width),
                    (at.Height, bounds.Height) }) Assert.Equal(expected, actual, 6);
                Assert.Equal(model.FindIndex(m => m.Line == line), geometry.LineStart(new(row)).Value);
                Assert.Equal(model.FindLastIndex(m => m.Line == line), geometry.LineEnd(new(row)).Value);
                foreach (var down in new[] { true, false })
                {
                    var there = model.Select((m, i) => (m, i)).Where(m => m.m.Line == line + (down ? 1 : -1)).ToList();
                    var expected = there.Count == 0 ? row : there.Exists(t => t.m.Column == column)
                        ? there.Find(t => t.m.Column == column).i : there[^1].i;
                    if (there.Count > 0 && !there.Exists(t => t.m.Column == column)) shorter++;
                    Assert.Equal(expected, geometry.Beyond(new(row), down).Value);
                    var page = geometry.PageFrom(new(row), list.Viewport.Height, down).Value;
                    Assert.True(there.Count == 0 ? page == row : down ? page > row : page < row);
                }
                if (entry.Kind != RowKind.Item) wide++;
            }
            var kept = new TouchedItems();
            (double X, double Y) begun = default, ended = default;
            for (var n = 0; n < 40; n++)
            {
                double x = random.NextDouble() * list.Viewport.Width, y = random.NextDouble() * (geometry.Height + 40);
                var under = model.FindIndex(m => x >= m.At.Left && x < m.At.Right && y >= m.At.Top && y < m.At.Bottom);
                if (under < 0) beside++;
                Assert.Equal(under < 0 ? null : under, geometry.RowAt(x, y)?.Value);
                if (list.Rows.Notice is not null) continue;
                if (under >= 0 && model[under].Entry.Kind == RowKind.Item)
                    Assert.Equal(under + ((x >= model[under].At.Left + (model[under].At.Width / 2)) != list.Options.IsRightToLeft ? 1 : 0),
                        geometry.GapAt(x, y, -1, 0));
                double toX = random.NextDouble() * list.Viewport.Width, toY = random.NextDouble() * (geometry.Height + 40);
                // As a rectangle is dragged: from where it began to somewhere else, in one direction at times.
                if (n % 4 > 0) (x, y) = begun;
                begun = (x, y);
                if (random.Next(3) == 0) toX = ended.X;
                else if (random.Next(2) == 0) toY = ended.Y;
                ended = (toX, toY);
                double left = Math.Min(x, toX), right = Math.Max(x, toX), top = Math.Min(y, toY), bottom = Math.Max(y, toY);
                var touched = model.Where(m => m.Entry.Kind == RowKind.Item && Touches(m.At, left, top, right, bottom))
                    .Select(m => m.Entry.Index).ToList();
                var some = geometry.Touching(left, top, right, bottom);
                Assert.Equal(touched.Order(), some is { } rows ? kept.Of(geometry, list.Rows, rows).ToArray() : []);
                if (some is { } those) Assert.Equal(touched.Order(), geometry.ItemsOf(those, list.Rows).ToArray());
                if (touched.Count == 0) empty++;
                Assert.Equal(touched.Count == 0 ? (-1, -1) : (touched[0], touched[^1]),
                    some is { } ends ? geometry.EndsOf(ends, list.Rows) : (-1, -1));
                if (touched.Count > 2 && list.Rows.Between(touched[0], touched[^1]).Count > touched.Count) strided++;
            }
        }
        if (!Effort.IsFull) return;
        Assert.True(beside > 500 && shorter > 100 && wide > 300 && strided > 500 && empty > 100,
            $"{beside} {shorter} {wide} {strided} {empty}");
    }

    [Fact]
    public void Rectangles_sweeps_taps_and_arrows_take_what_they_touch()
    {
        var met = new Dictionary<string, int>();
        for (var seed = 0; seed < Effort.Of(250); seed++)
        {
            var random = new Random(seed);
            var (list, _) = Open(random, 80, random.Next(3) == 0);
            using var _1 = list;
            if (list.Rows.Notice is not null) continue;
            var player = ListPlayer.On(list);
            for (var n = 0; n < 12; n++)
            {
                list.ScrollTo(random.Next(0, 900));
                player.Wait(1000);
                var model = Model(list);
                HashSet<int> before = [.. list.Selection.Items], expected = [.. before];
                var scroll = list.Viewport.ScrollTop;
                bool MayBe(int index) => list.Rows.Shown.Contains(index) && index % 7 != 5;
                double x = random.NextDouble() * (list.Viewport.Width - 1), y = random.NextDouble() * (list.Viewport.Height - 1);
                if (random.Next(4) == 0 && list.Frame.Rows.Where(r => r.Index >= 0).ToList() is { Count: > 0 } tiles)
                    (x, y) = tiles[random.Next(tiles.Count)] is var one ? (one.Left + one.Parts[0].Left + 15, one.Top + 15) : default;
                var hit = list.Plane.HitAt(x, y);
                string what;
                switch (random.Next(4))
                {
                    case 0 when hit.Row is null:
                        {
                            // Away from the edges, so that nothing scrolls.
                            double toX = random.NextDouble() * (list.Viewport.Width - 1),
                                toY = 60 + (random.NextDouble() * Math.Max(1, list.Viewport.Height - 120));
                            if (Math.Abs(toX - x) + Math.Abs(toY - y) < 30 || y < 60 || y > list.Viewport.Height - 60) continue;
                            player.Modifiers = random.Next(3) switch { 0 => Modifiers.None, 1 => Modifiers.Ctrl, _ => Modifiers.Shift };
                            player.Mouse.MoveTo(x, y);
                            player.Mouse.Down();
                            player.Mouse.GlideTo(toX, toY, 200);
                            player.Mouse.Up();
                            HashSet<int> touched = [.. model.Where(m => m.Entry.Kind == RowKind.Item && MayBe(m.Entry.Index)
                            && Touches(m.At, Math.Min(x, toX), Math.Min(y, toY) + scroll, Math.Max(x, toX), Math.Max(y, toY) + scroll))
                            .Select(m => m.Entry.Index)];
                            if (player.Modifiers == Modifiers.None) expected = touched;
                            else if (player.Modifiers == Modifiers.Ctrl) expected.SymmetricExceptWith(touched);
                            else expected.UnionWith(touched);
                            player.Modifiers = Modifiers.None;
                            what = "marquee";
                            break;
                        }
                    case 1 when hit is { Part.Kind: PartKind.Check, Index: >= 0 }:
                        {
                            list.BeginSelecting();
                            if (!MayBe(hit.Index)) continue;
                            double toX = random.NextDouble() * (list.Viewport.Width - 1),
                                toY = 60 + (random.NextDouble() * Math.Max(1, list.Viewport.Height - 120));
                            if (y < 60 || y > list.Viewport.Height - 60 || list.Plane.HitAt(toX, toY).Index < 0) continue;
                            player.Mouse.MoveTo(x, y);
                            player.Mouse.Down();
                            player.Mouse.GlideTo(toX, toY, 200);
                            player.Mouse.Up();
                            var (from, to) = (model.Find(m => m.Entry.Index == hit.Index),
                                model.Find(m => m.Entry.Index == list.Plane.HitAt(toX, toY).Index));
                            if (from == to) continue;
                            int Least(int a, int b) => Math.Min(a, b);
                            var passed = model.Where(
                                m => m.Entry.Kind == RowKind.Item && MayBe(m.Entry.Index) && m.Line >= Least(from.Line, to.Line)
                                    && m.Line <= Math.Max(from.Line, to.Line)
                                && m.Column >= Least(from.Column, to.Column) && m.Column <= Math.Max(from.Column, to.Column))
                                .Select(m => m.Entry.Index);
                            if (before.Contains(hit.Index)) expected.ExceptWith(passed);
                            else expected.UnionWith(passed);
                            what = "sweep";
                            break;
                        }
                    case 2 when hit is { Part.Kind: PartKind.Body, Index: >= 0 }:
                        player.Mouse.MoveTo(x, y);
                        player.Mouse.Down();
                        player.Wait(50);
                        player.Mouse.Up();
                        if (MayBe(hit.Index)) expected = [hit.Index];
                        what = "tap";
                        break;
                    default:
                        {
                            if (list.Selection.Cursor < 0 || list.Selection.Heading is not null
                                || list.Rows.RowOf(list.Selection.Cursor) is not { } row) continue;
                            var (at, key) = (model[row.Value],
                                new[] { "ArrowLeft", "ArrowRight", "ArrowUp", "ArrowDown", "Home", "End", "Ctrl+Home",
                                    "Ctrl+End" }[random.Next(8)]);
                            var isOn = key == "ArrowRight" != list.Options.IsRightToLeft;
                            var line = model.Where(m => m.Line == at.Line + (key == "ArrowUp" ? -1 : 1)).ToList();
                            var there = key switch
                            {
                                "ArrowLeft" or "ArrowRight" => model[Math.Clamp(row.Value + (isOn ? 1 : -1), 0, model.Count - 1)],
                                "Home" => model.First(m => m.Line == at.Line),
                                "End" => model.Last(m => m.Line == at.Line),
                                "Ctrl+Home" => model[0],
                                "Ctrl+End" => model[^1],
                                _ => line.Count == 0 ? at : line.Find(m => m.Column == at.Column) is { At.Width: > 0 } same ? same
                                    : line[^1],
                            };
                            player.Press(key);
                            if (there.Entry.Kind != RowKind.Item) continue;
                            Assert.True(there.Entry.Index == list.Selection.Cursor,
                                $"{seed}/{n} {key} from {at.Entry.Index}: to {list.Selection.Cursor}, not {there.Entry.Index}");
                            if (MayBe(there.Entry.Index) && key is not ("Ctrl+Home" or "Ctrl+End")) expected = [there.Entry.Index];
                            what = key;
                            break;
                        }
                }
                met[what] = met.GetValueOrDefault(what) + 1;
                Assert.True(expected.SetEquals(list.Selection.Items),
                    $"{seed}/{n} {what}: {string.Join(" ", list.Selection.Items)} instead of {string.Join(" ", expected.Order())}");
            }
        }
        if (!Effort.IsFull) return;
        Assert.True(met.Count == 11 && met.Values.Min() > 20, string.Join(" ", met));
    }

    [Fact]
    public void A_drag_takes_tiles_to_the_gap_that_it_shows_and_keys_do_the_same()
    {
        int moved = 0, across = 0, many = 0, byKeys = 0;
        for (var seed = 0; seed < Effort.Of(300); seed++)
        {
            var random = new Random(seed);
            var (list, plates) = Open(random, 24, random.Next(2) == 0, Options with { Viewport = new(400, 900) });
            using var _1 = list;
            list.Resize(random.Next(200, 520), 1200);
            list.More = More.NotSaid;
            if (plates.Count < 3 || list.Rows.Shown.IsEmpty) continue;
            var player = ListPlayer.On(list);
            foreach (var plate in plates.Where(_ => random.Next(4) == 0).ToList()) list.Toggle(plate.Id);
            var taken = plates[random.Next(plates.Count)].Id;
            if (list.Rows.RowOf(list.IndexOf(taken)) is null || taken % 7 == 5) continue;
            HashSet<int> block = list.Selection.Items.Contains(list.IndexOf(taken)) ? [.. list.Selection.Items.Select(list.KeyAt)]
                : [taken];
            var gap = random.Next(plates.Count + 1);
            var before = plates.Select(p => p.Id).ToList();
            string Order() => string.Join(" ", list.Rows.InOrder().Select(i => list.KeyAt(i)));
            var shown = Order();
            if (random.Next(3) > 0)
            {
                player.Mouse.DragToGap($"{taken}", gap, release: false);
                if (list.Shell.Core.State.Carrying.Grab is null) continue;
                var preview = string.Join(" ", list.Frame.Rows.Where(r => r.Index >= 0).Select(r => list.KeyAt(r.Index)));
                var isAll = list.Frame.Rows.Count(r => r.Index >= 0) == list.Rows.InOrder().Count()
                    && !list.Rows.Sections.Any(s => s.IsCollapsed);
                player.Mouse.Up();
                if (isAll) Assert.True(preview == Order(), $"{seed}: it showed {preview}, and became {Order()}");
                // Where the item is before which they were to come, unless the filter hides that.
                if (gap < before.Count && list.Rows.Shown.Contains(list.IndexOf(before[gap])) && !block.Contains(before[gap])
                    && list.Rows.RowOf(list.IndexOf(before[gap])) is not null)
                {
                    var order = plates.Select(p => p.Id).Where(id => list.Rows.Shown.Contains(list.IndexOf(id))).ToList();
                    Assert.True(block.Contains(order[Math.Max(0, order.IndexOf(before[gap]) - 1)]),
                        $"{seed}: before {before[gap]} in {string.Join(" ", order)}");
                }
            }
            else
            {
                list.MoveCursorTo(taken);
                player.Press("Alt+Enter");
                if (list.Shell.Core.State.Carrying.Grab is null) continue;
                foreach (var key in new[] { "ArrowRight", "ArrowDown", "ArrowLeft", "ArrowUp", "End", "Home" }.Take(random.Next(1, 7)))
                    player.Press(key);
                player.Press("Enter");
                byKeys++;
            }
            Assert.False(list.IsGrabbing);
            Assert.Equal(before.Order(), plates.Select(p => p.Id).Order());
            Assert.Equal(before.Where(id => !block.Contains(id)), plates.Select(p => p.Id).Where(id => !block.Contains(id)));
            if (Order() == shown) continue;
            moved++;
            if (block.Count > 1) many++;
            if (list.Rows.Sections.Length > 0) across++;
            list.Undo();
            Assert.Equal((string.Join(" ", before), shown), (string.Join(" ", plates.Select(p => p.Id)), Order()));
        }
        if (!Effort.IsFull) return;
        Assert.True(moved > 100 && across > 30 && many > 30 && byKeys > 30, $"{moved} {across} {many} {byKeys}");
    }

    [Fact]
    public void Tiles_have_no_trays_but_the_menu_has_what_they_have_and_a_resize_keeps_what_is_looked_at()
    {
        var ran = "";
        using var list = InteractiveList.Of(Enumerable.Range(0, 500).Select(i => new Plate(i, "")).ToList(), p => p.Id,
            Options with { Viewport = new(400, 300), Overscan = 100 });
        list.Commands = [new("discard", "Discard") { ShowIn = ShowIn.TrailingTray, SwipesThrough = true, Do = t => ran += t.Item }];
        var player = ListPlayer.On(list);
        player.Touch.Swipe("5", Edge.Trailing, 120, release: false);
        Assert.DoesNotContain(list.Frame.Rows, r => !r.Tray.IsEmpty || r.Shift != default);
        player.Touch.Up();
        Assert.Equal("", ran);
        // Tiles are all of one size, whatever a host has measured.
        list.Measure([new(1, 300)]);
        player.Mouse.DragToGap("1", 3, release: false);
        Assert.Equal((70, 70), (list.Frame.Grab!.Height, list.Frame.Rows[1].Height));
        player.Press("Escape");
        player.Mouse.Up();
        player.Touch.LongPress("5");
        Assert.Equal("Discard", list.Frame.Menu!.Entries[0].Label);
        player.Press("ArrowDown");
        player.Press("Enter");
        Assert.Equal("P5", ran);
        // A finger on the box of a tile toggles; beside it, on the tile, it activates.
        var activated = new List<int>();
        list.Activated += (_, e) => activated.Add(e.Index);
        player.Touch.Tap("check:6");
        list.EndSelecting();
        player.Touch.Tap("7");
        Assert.Equal([6], list.Selection.Items);
        Assert.Equal([7], activated);

        var top = list.Viewport.Height;
        list.ScrollTo(76 * 40);
        var first = list.Frame.Rows.First(r => r.Top >= 0).Index;
        Assert.Equal(4, list.Plane.Geometry.Columns);
        list.Resize(210, top);
        Assert.Equal(2, list.Plane.Geometry.Columns);
        Assert.Contains(list.Frame.Rows, r => r.Index == first && r.Top is >= -76 and < 80);
        Assert.All(list.Frame.Rows,
            r => Assert.True(r is { IsTile: true, PartHeight: 30 } && r.Left >= 0 && r.Left + r.Width <= 210 && r.Column is 0 or 1));
        var snapshot = list.Save();
        using var again = InteractiveList.Of(Enumerable.Range(0, 500).Select(i => new Plate(i, "")).ToList(), p => p.Id,
            Options with { Viewport = new(210, 300) });
        again.Restore(snapshot);
        Assert.Equal(list.Viewport.ScrollTop, again.Viewport.ScrollTop);
        // The frame after a move says from where each tile came.
        list.ScrollTo(0);
        _ = list.Frame;
        list.MoveToBottom([0]);
        Assert.All(list.Frame.Rows.Where(r => r.Index is 1 or 3),
            r => Assert.True(r.LeftBefore is { } left && left != r.Left, $"{r.Index}"));
    }

    [Fact]
    public void Alt_and_an_arrow_move_a_tile_by_one_place_or_by_a_line()
    {
        using var list = InteractiveList.Of(new ObservableCollection<Plate>(Enumerable.Range(0, 20).Select(i => new Plate(i, ""))),
            p => p.Id, Options with { Viewport = new(400, 700) });
        var player = ListPlayer.On(list);
        list.MoveCursorTo(1);
        foreach (var (key,
            at) in new[] { ("Alt+ArrowDown", 5), ("Alt+ArrowRight", 6), ("Alt+ArrowUp", 2), ("Alt+ArrowLeft", 1), ("Alt+ArrowUp", 0) })
        {
            player.Press(key);
            Assert.Equal((key, at), (key, list.IndexOf(1)));
        }
        // Carried by keys it is the same.
        player.Press("Alt+Enter");
        foreach (var key in new[] { "ArrowDown", "ArrowDown", "ArrowRight", "ArrowUp", "Enter" }) player.Press(key);
        Assert.Equal(5, list.IndexOf(1));
    }

    [Fact]
    public void A_section_whose_tiles_are_all_carried_is_still_there_to_come_back_to()
    {
        var plates = new ObservableCollection<Plate>(Enumerable.Range(0, 12).Select(i => new Plate(i, $"{i / 4}")));
        using var list = InteractiveList.Of(plates, p => p.Id, Options with { Viewport = new(400, 700) });
        list.Sections = new(p => p.Region) { Assign = (p, region) => p.Region = region };
        var player = ListPlayer.On(list);
        foreach (var id in new[] { 4, 5, 6, 7 }) list.Toggle(id);
        player.Mouse.DragToGap("5", 10, release: false);
        Assert.Equal("2", list.Shell.Core.State.Carrying.Section);
        // Back over where they were: its heading has stayed, and below it is their place.
        var (x, y) = list.Shell.Mover.PositionOver(new(4, 1))!.Value;
        player.Mouse.GlideTo(x, y, 300);
        Assert.Equal("1", list.Shell.Core.State.Carrying.Section);
        player.Mouse.Up();
        Assert.Equal("0000 1111 2222", string.Join(" ", plates.Chunk(4).Select(c => string.Concat(c.Select(p => p.Region)))));
        Assert.False(list.CanUndo);
    }

    [Fact]
    public void A_paged_list_in_tiles_reads_what_is_in_view()
    {
        SimulatedSource<Plate, int> service =
            new(Enumerable.Range(0, 900).Select(i => new Plate(i, "")), p => p.Id, (a, b) => a.Id.CompareTo(b.Id));
        using var list =
            InteractiveList.Awaiting<Plate, int>(p => p.Id, Options with { Viewport = new(400, 300), PageSize = 8, PagesKept = 6 });
        list.Show(service);
        list.WaitUntilRead();
        list.ScrollTo(76 * 100);
        list.WaitUntilRead();
        Assert.All(list.Frame.Rows, r => Assert.Equal(RowReading.Done, r.Reading));
        Assert.True(list.Frame.Rows.Length >= 16);
        var player = ListPlayer.On(list);
        player.Press("Ctrl+End");
        player.Press("Shift+ArrowUp");
        list.WaitUntilRead();
        Assert.Equal((895, 899), (list.Selection.Items.NextAt(0), list.Selection.Cursor + 4));
    }

    [Fact]
    public void What_cannot_be_laid_is_named()
    {
        foreach (var (tiles, keys, says) in new (Tiles, KeyTable, string)[]
        {
            (new(500, 70), KeyTable.Moving, "is wider than the viewport of 400 px"),
            (new(0, 70), KeyTable.Moving, "at least 24 px wide"),
            (new(double.NaN, 70), KeyTable.Moving, "at least 24 px wide"),
            (new(90, 0), KeyTable.Moving, "higher than 0 px"),
            (new(90, 70) { Gap = -1 }, KeyTable.Moving, "0 px or more"),
            (new(90, 70), KeyTable.Grid, "'grid' goes from part to part"),
        })
            Assert.Contains(says, Assert.Throws<ArgumentOutOfRangeException>(
                () => InteractiveList.Of([1], i => i, new() { Layout = tiles, Keys = keys })).Message, StringComparison.Ordinal);
        // A window that is narrower later has one tile in a line.
        using var list = InteractiveList.Of([1, 2], i => i, Options);
        list.Resize(50, 200);
        Assert.Equal((1, 2), (list.Plane.Geometry.Columns, list.Frame.Rows.Length));
        // Arrow keys by the table as it is in tiles, also with a rule of one's own before it.
        var table = Options.Keys;
        Assert.Equal(table.Rules, table.InTiles().Rules);
        Assert.DoesNotContain(KeyTable.Moving.InTiles().Conflicts(SelectionMode.Multiple, ModKey.Ctrl)
            .Concat(KeyTable.Toggling.InTiles().Conflicts(SelectionMode.Multiple, ModKey.Ctrl)),
            c => c.Reason.StartsWith("never", StringComparison.Ordinal));
        Assert.Equal(table, (Options with { Density = Density.Compact }).Keys);
        Assert.Same(KeyTable.Moving, (Options with { Layout = ListLayout.Rows }).Keys);
        // Where only Home went to the first of all, it now needs Mod.
        using var check = InteractiveList.Of(Enumerable.Range(0, 50).ToArray(), i => i, Options with { Keys = KeyTable.Toggling });
        var player = ListPlayer.On(check);
        foreach (var (key, at) in new[] { ("Ctrl+End", 49), ("Home", 48), ("ArrowUp", 44), ("End", 47), ("Ctrl+Home", 0) })
        {
            player.Press(key);
            Assert.Equal((key, at), (key, check.Selection.Cursor));
        }
    }
}
