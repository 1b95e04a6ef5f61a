using Lectica.Acts;

namespace Lectica.Bench;

/// <summary>An outline of 1,000,000 items in five levels: opening against flat rows, and branches of 100,000 against plain code.</summary>
internal sealed class OutlineFigures : FigureTable
{
    private sealed record Entry(int Id, int? Parent);

    private static readonly ListOptions Options = new()
    {
        Mode = SelectionMode.Multiple,
        Parts = new() { Check = true },
        MayMove = true,
        MovesInMenu = true,
    };

    private static List<Entry> Make()
    {
        int[] widths = [10, 10, 10, 10, 99];
        var entries = new List<Entry>(1_100_000);
        void Below(int? parent, int level)
        {
            for (var i = 0; i < widths[level]; i++)
            {
                var id = entries.Count;
                entries.Add(new(id, parent));
                if (level + 1 < widths.Length) Below(id, level + 1);
            }
        }
        Below(null, 0);
        return entries;
    }

    private static InteractiveList<Entry, int> Open(IReadOnlyList<Entry> entries, bool isOutline)
    {
        var list = InteractiveList.Awaiting<Entry, int>(e => e.Id, Options);
        if (isOutline) list.Outline = Outline.ByParent((Entry e) => e.Parent);
        list.Show(entries);
        return list;
    }

    public string Run()
    {
        Entry[] entries = [.. Make()];
        Ratio($"outline: {entries.Length:N0} items in 5 levels opened, against the same as flat rows", 2, 1, () => Open(entries, true), 1,
            () => Open(entries, false));
        var random = new Random(1);
        Entry[] shuffled = [.. entries.OrderBy(_ => random.Next())];
        Ratio("outline: the same from a source in no order, against plain code that arranges it and opens flat rows", 2, 1,
            () => Open(shuffled, true), 1, () =>
        {
            var below = shuffled.ToLookup(e => e.Parent ?? -1);
            var flat = new List<Entry>(shuffled.Length);
            void Walk(int parent)
            {
                foreach (var entry in below[parent])
                {
                    flat.Add(entry);
                    Walk(entry.Id);
                }
            }
            Walk(-1);
            return Open([.. flat], false);
        });

        using var list = Open(entries.ToList(), true);
        var branch = list.WithBelow([0]).Count;
        var visible = new bool[entries.Length];
        var fold = Time(50, () => list.CollapseOrExpandBranch(0)) * 1e3;
        Add($"outline: a branch of {branch:N0} expanded, whose own are collapsed, or collapsed", $"{Number(fold)} ms", "under 5.00 ms",
            fold < 5);
        list.ExpandAll();
        fold = Time(50, () => list.CollapseOrExpandBranch(0)) * 1e3;
        Add($"outline: a branch of {branch:N0} expanded, with all in it, or collapsed", $"{Number(fold)} ms", "under 5.00 ms", fold < 5);
        if (list.Rows.RowOf(1) is null) list.CollapseOrExpandBranch(0);
        Ratio("outline: the same against plain code that sets a flag for each item below", 1, 50, () => list.CollapseOrExpandBranch(0), 50,
            () =>
        {
            var on = !visible[1];
            for (var i = 1; i < branch; i++) visible[i] = on;
        });
        var toggle = Time(100, () => list.ToggleBranch(0)) * 1e6;
        Add($"outline: a branch of {branch:N0} selected, or taken out", $"{Number(toggle)} µs", "under 50.0 µs", toggle < 50);
        var chosen = new bool[entries.Length];
        Ratio("outline: the same against plain code that turns a flag of each item", 1, 100, () => list.ToggleBranch(0), 50, () =>
        {
            var on = !chosen[0];
            for (var i = 0; i < branch; i++) chosen[i] = on;
        });
        var state = Time(1_000, () => list.BranchOf(0)) * 1e6;
        Add("outline: whether all, some or none of it is selected", $"{Number(state)} µs", "under 50.0 µs", state < 50);
        var all = Time(3, () => { list.CollapseAll(); list.ExpandAll(); }) * 1e3 / 2;
        Add("outline: all branches collapsed, or expanded", $"{Number(all)} ms", "under 50.0 ms", all < 50);
        var turn = 0;
        var found = Time(2, () => list.Filter = (turn++ & 1) == 0 ? e => e.Id % 1000 == 0 : null) * 1e3;
        Add("outline: a filter set, or taken away", $"{Number(found)} ms", "under 50.0 ms", found < 50);
        list.Filter = null;
        list.SelectOnly(Items.ItemSet.Where(list.Count, i => i % 10 < 3));
        var menu = Time(2, () => { list.OpenMenu(2); list.CloseMenu(); }) * 1e3;
        Add("outline: a menu with moves opened over 300,000 selected, and closed", $"{Number(menu)} ms", "under 50.0 ms", menu < 50);
        list.Clear();
        using var flat = Open(entries, false);
        double place = 0;
        double Next() => place = (place + 7_919) % 40_000_000;
        Ratio("outline: a scrolled frame, against one of the same as flat rows", 2,
            100, () => { list.ScrollTo(Next()); return list.Frame; },
            100, () => { flat.ScrollTo(Next()); return flat.Frame; });
        Return();
        return Table;
    }

    private sealed class Node(int id, int? parent)
    {
        public int Id { get; } = id;

        public int? Parent { get; set; } = parent;
    }

    /// <summary>Branches that go back to many places, however the source has its items.</summary>
    private void Return()
    {
        const int count = 100_000;
        var random = new Random(1);
        int[] keys = [.. Enumerable.Range(0, 1000).Select(i => (i * 100) + 5)];
        foreach (var shuffled in (bool[])[false, true])
        {
            var nodes = Enumerable.Range(0, count)
                .Select(i => new Node(i, i % 100 == 0 ? null : i % 10 == 0 ? i / 100 * 100 : i / 10 * 10));
            if (shuffled) nodes = nodes.OrderBy(_ => random.Next());
            using var list = InteractiveList.Of(nodes.ToList(), n => n.Id, new() { Mode = SelectionMode.Multiple, MayMove = true });
            list.Outline = Outline.ByParent((Node n) => n.Parent) with { Assign = (n, parent) => n.Parent = parent?.Id };
            var time = Time(3, () =>
            {
                list.MoveBelow(keys, 100);
                list.Undo();
            }) * 1e3;
            var where = shuffled ? "a source in no order" : "a source in reading order";
            Add($"outline: 1,000 branches from as many places of 100,000 items moved below one, and back, in {where}",
                $"{Number(time)} ms", "under 150 ms", time < 150);
        }
    }
}
