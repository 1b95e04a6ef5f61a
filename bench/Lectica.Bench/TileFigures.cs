using Lectica.Acts;
using Lectica.Input;
using Lectica.Layout;

namespace Lectica.Bench;

/// <summary>1,000,000 tiles: what is under a point, rectangles over few and over half of them, and frames against those of rows.</summary>
internal sealed class TileFigures : FigureTable
{
    private const int Count = 1_000_000;

    private static InteractiveList<int, int> Open(ListLayout layout) =>
        InteractiveList.Of(Enumerable.Range(0, Count).ToArray(), i => i,
        new() { Layout = layout, Mode = SelectionMode.Multiple, Viewport = new(980, 620), Parts = new() { Check = true } });

    public string Run()
    {
        using var tiles = Open(new Tiles(150, 150));
        using var rows = Open(ListLayout.Rows);
        tiles.ScrollTo(8_000_000);
        var plane = tiles.Plane;
        var at = 0;
        var hit = Time(1_000, () => plane.HitAt(100 + (at++ % 700), 300)) * 1e6;
        Add("tiles: what is under a point", $"{Number(hit)} µs", "under 1.00 µs", hit < 1);

        Rectangle(tiles, "a screen", scroll: 0);
        Rectangle(tiles, "half of each line from the first to the last", scroll: double.MaxValue);

        double place = 0;
        double Next() => place = (place + 7_919) % 8_000_000;
        // As many items on a screen of both.
        Ratio("tiles: a scrolled frame of 30 tiles, against one of 30 rows of the same list", 2.5, 40,
            () => { tiles.ScrollTo(Next()); return tiles.Frame; }, 40,
                () => { rows.Resize(980, 30 * 52); rows.ScrollTo(Next()); return rows.Frame; });
        return Table;
    }

    private void Rectangle(InteractiveList<int, int> list, string what, double scroll)
    {
        var time = 1_000.0;
        list.ScrollTo(0);
        void Take(SampleKind kind, double x, double y) =>
            list.Take(new PointerSample(kind, 1, PointerType.Mouse, x, y, time += 20) { Buttons = 1 });
        Take(SampleKind.Down, 4, 100);
        Take(SampleKind.Move, 300, 300);
        list.ScrollTo(scroll);
        Take(SampleKind.Move, 480, 420);
        // Each sample takes in another line, or lets it go again.
        var turn = 0;
        var sample = Time(5, () => Take(SampleKind.Move, 480 + (turn & 1), (turn++ & 1) == 0 ? 250 : 420)) * 1e6;
        Add($"tiles: a sample of a rectangle over {what}, a line more or less each time", $"{Number(sample)} µs", "under 20.0 µs",
            sample < 20);
        var columns = Time(1, () => Take(SampleKind.Move, (turn++ & 1) == 0 ? 300 : 480, 420)) * 1e6;
        Add($"tiles: the same over {what}, a column more or less each time", $"{Number(columns)} µs", "under 20.0 µs", columns < 20);
        list.Do(ActKind.Cancel);
        Take(SampleKind.Up, 480, 420);
    }
}
