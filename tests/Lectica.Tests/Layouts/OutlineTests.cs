using System.Collections.ObjectModel;
using System.ComponentModel;
using Lectica.Acts;
using Lectica.Frames;
using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Selecting;
using Lectica.Testing;

namespace Lectica.Tests.Layouts;

/// <summary>Outlines beside a plain model that walks through the app's own objects: what shows, what is selected, and where branches go.</summary>
public sealed class OutlineTests
{
    private sealed class Node(int id, int? parent) : INotifyPropertyChanged
    {
        private int? _parent = parent;

        public int Id { get; } = id;

        public int? Parent
        {
            get => _parent;
            set
            {
                _parent = value;
                PropertyChanged?.Invoke(this, new(nameof(Parent)));
            }
        }

        public ObservableCollection<Node> Children { get; } = [];

        public event PropertyChangedEventHandler? PropertyChanged;

        public override string ToString() => $"N{Id}";
    }

    private static readonly ListOptions Options = new()
    {
        Mode = SelectionMode.Multiple,
        ModKey = ModKey.Ctrl,
        Phrases = Phrases.English,
        MayMove = true,
        MovesInMenu = true,
        RowHeight = 40,
        Parts = new() { Check = true, Width = 30 },
        Viewport = new(600, 10_000),
    };

    /// <summary>A list over a random tree, with what the test knows of it.</summary>
    private sealed class World
    {
        private int _next;

        public World(Random random, int most, bool byChildren, ListOptions? options = null)
        {
            (Random, ByChildren) = (random, byChildren);
            var count = random.Next(most + 1);
            var nodes = new List<Node>();
            for (var i = 0; i < count; i++) nodes.Add(new(_next++, i == 0 || random.Next(4) == 0 ? null : random.Next(i)));
            foreach (var node in nodes)
                if (byChildren && node.Parent is { } parent) nodes[parent].Children.Add(node);
            // A source by parents lists its items in any order.
            Source = new(byChildren ? nodes.Where(n => n.Parent is null) : random.Next(2) == 0 ? nodes : nodes.OrderBy(_ => random.Next()));
            List = InteractiveList.Awaiting<Node, int>(n => n.Id, options ?? Options);
            OpenLevels = random.Next(1, 5);
            List.Outline = (byChildren ? Outline.ByChildren<Node, int>(n => n.Children) : Outline.ByParent((Node n) => n.Parent)) with
            {
                OpenLevels = OpenLevels,
                Assign = byChildren ? null : (n, parent) => n.Parent = parent?.Id,
            };
            List.EnabledWhen = n => n.Id % 7 != 5;
            List.Show(Source);
            foreach (var (node, level) in Walk())
                if (level >= OpenLevels - 1 && Below(node).Any()) Folded.Add(node.Id);
        }

        public Random Random { get; }

        public bool ByChildren { get; }

        public int OpenLevels { get; }

        public ObservableCollection<Node> Source { get; }

        public InteractiveList<Node, int> List { get; }

        public HashSet<int> Folded { get; } = [];

        /// <summary>What is collapsed again when the filter goes.</summary>
        public HashSet<int> Unfiltered { get; } = [];

        public IEnumerable<Node> Below(Node? node) => ByChildren ? node?.Children ?? Source : Source.Where(n => n.Parent == node?.Id);

        public IEnumerable<(Node Node, int Level)> Walk(Node? from = null, int level = 0) =>
            Below(from).ToList().SelectMany(n => ((Node, int)[])[(n, level), .. Walk(n, level + 1)]);

        public IEnumerable<Node> Branch(Node node) => [node, .. Walk(node).Select(w => w.Node)];

        public Node? ParentOf(Node node) => Walk().FirstOrDefault(w => Below(w.Node).Contains(node)).Node;

        public Node Any() => Walk().ElementAt(Random.Next(Walk().Count())).Node;

        /// <summary>What has rows, as a plain walk finds it.</summary>
        public List<(Node Node, int Level)> Rows(Node? from = null, int level = 0)
        {
            var rows = new List<(Node, int)>();
            foreach (var node in Below(from).ToList())
            {
                if (List.Filter is { } filter && !Branch(node).Any(filter)) continue;
                rows.Add((node, level));
                if (!Folded.Contains(node.Id)) rows.AddRange(Rows(node, level + 1));
            }
            return rows;
        }

        public void Check(string after)
        {
            var walk = Walk().ToList();
            Assert.True(walk.Count == List.Count, $"{after}: {List.Count} items, not {walk.Count}");
            Assert.Equal(walk.Select(w => w.Node.Id), Enumerable.Range(0, List.Count).Select(i => List[i].Id));
            Assert.Equal(walk.Select(w => w.Level), walk.Select(w => List.LevelOf(w.Node.Id)));
            var rows = Rows();
            var shown = Enumerable.Range(0, rows.Count == 0 ? 0 : List.Rows.Count).Select(r => List[List.Rows.IndexAt(new(r))].Id);
            Assert.True(rows.Select(r => r.Node.Id).SequenceEqual(shown), $"{after}: rows {string.Join(' ', shown)}, not {string.Join(' ', rows.Select(r => r.Node.Id))}");
            var frame = List.Frame;
            foreach (var (row, (node, level)) in frame.Rows.Zip(rows))
            {
                Assert.Equal((node.Id, level), (List[row.Index].Id, row.Level));
                var isWay = List.Filter is { } filter && !filter(node);
                Assert.Equal(isWay || node.Id % 7 == 5, row.IsDisabled);
                if (!Below(node).Any())
                {
                    Assert.Null(row.Branch);
                    continue;
                }
                var can = Branch(node).Where(n => n.Id % 7 != 5 && List.Filter?.Invoke(n) != false).Select(n => List.IndexOf(n.Id)).ToList();
                var selected = can.Count(List.Selection.Items.Contains);
                var state = new BranchState(selected == 0 ? TriState.Off : selected == can.Count ? TriState.On : TriState.Mixed, !Folded.Contains(node.Id));
                Assert.True(state == row.Branch, $"{after}: N{node.Id} is {row.Branch}, not {state}");
                Assert.Equal(row.Branch, List.BranchOf(node.Id));
            }
        }

        public void Add(Node? below)
        {
            var node = new Node(_next++, below?.Id);
            if (ByChildren) (below?.Children ?? Source).Insert(Random.Next((below?.Children ?? Source).Count + 1), node);
            else Source.Insert(Random.Next(3) == 0 ? Random.Next(Source.Count + 1) : Source.Count, node);
        }

        public void Remove(Node node)
        {
            if (ByChildren) (ParentOf(node)?.Children ?? Source).Remove(node);
            // What lies below goes after it, or before it.
            else if (Random.Next(2) == 0) foreach (var one in Branch(node).ToList()) Source.Remove(one);
            else foreach (var one in Branch(node).Reverse().ToList()) Source.Remove(one);
        }
    }

    [Fact]
    public void Rows_branches_and_boxes_are_those_of_a_plain_walk_whatever_happens()
    {
        var random = new Random(17);
        var met = new Dictionary<string, int>();
        for (var round = 0; round < 240; round++)
        {
            var world = new World(random, 40, round % 2 == 0);
            world.Check("opened");
            for (var step = 0; step < 25; step++)
            {
                var list = world.List;
                var act = world.Walk().Any() ? random.Next(13) : 12;
                string what;
                switch (act)
                {
                    case <= 2 when world.Any() is var node:
                        what = "fold";
                        var isBranch = world.Below(node).Any();
                        var shows = world.Rows().Any(r => r.Node == node) || (list.Rows.Shown.Contains(list.IndexOf(node.Id)));
                        Assert.Equal(isBranch && shows, list.CollapseOrExpandBranch(node.Id).IsHandled);
                        if (isBranch && shows && !world.Folded.Remove(node.Id)) world.Folded.Add(node.Id);
                        break;
                    case 3 when world.Any() is var node:
                        what = "toggle branch";
                        var before = list.Selection.Items;
                        var can = ItemSet.Of(list.Count, world.Branch(node).Where(n => n.Id % 7 != 5 && list.Filter?.Invoke(n) != false).Select(n => list.IndexOf(n.Id)));
                        if (list.ToggleBranch(node.Id).IsHandled) Assert.Equal(can.Except(before).IsEmpty ? before.Except(can) : before.Union(can), list.Selection.Items);
                        else Assert.True(can.IsEmpty || list.Filter is not null);
                        break;
                    case 4:
                        what = "filter";
                        var mod = random.Next(2, 5);
                        world.List.Filter = list.Filter is null ? n => n.Id % mod == 0 : null;
                        // What a filter finds shows; afterwards what was collapsed is so again.
                        if (list.Filter is not null) world.Unfiltered.UnionWith(world.Folded);
                        world.Folded.Clear();
                        if (list.Filter is not null) break;
                        world.Folded.UnionWith(world.Unfiltered);
                        world.Unfiltered.Clear();
                        break;
                    case 5:
                        what = "range";
                        var rows = world.Rows().Where(r => r.Node.Id % 7 != 5 && list.Filter?.Invoke(r.Node) != false).ToList();
                        if (rows.Count < 2) continue;
                        var (from, to) = (rows[random.Next(rows.Count)].Node, rows[random.Next(rows.Count)].Node);
                        list.Select(from.Id);
                        list.ExtendTo(to.Id);
                        var all = world.Rows().Select(r => r.Node).ToList();
                        int a = all.IndexOf(from), b = all.IndexOf(to);
                        Assert.Equal(all.Skip(Math.Min(a, b)).Take(Math.Abs(a - b) + 1).Where(n => n.Id % 7 != 5 && list.Filter?.Invoke(n) != false).Select(n => n.Id), list.SelectedItems.Select(n => n.Id));
                        break;
                    case 6:
                        what = "all";
                        list.Do(ActKind.SelectAll);
                        Assert.Equal(world.Walk().Select(w => w.Node).Where(n => n.Id % 7 != 5 && list.Filter?.Invoke(n) != false).Select(n => n.Id), list.SelectedItems.Select(n => n.Id));
                        break;
                    case 7:
                        what = "remove";
                        world.Remove(world.Any());
                        break;
                    case 8 when !world.ByChildren && list.Filter is null && world.Any() is var node && world.Any() is var other && !world.Branch(node).Contains(other):
                        // The app itself puts an item elsewhere.
                        what = "reparent";
                        node.Parent = random.Next(3) == 0 ? null : other.Id;
                        break;
                    case 9:
                        what = "all folded";
                        var folds = random.Next(2) == 0;
                        if (folds) list.CollapseAll();
                        else list.ExpandAll();
                        var set = list.Filter is null ? world.Folded : world.Unfiltered;
                        set.Clear();
                        if (folds) set.UnionWith(world.Walk().Select(w => w.Node.Id));
                        break;
                    case 10:
                        what = "refresh";
                        list.Refresh();
                        break;
                    default:
                        what = "add";
                        world.Add(world.Walk().Any() && random.Next(4) > 0 ? world.Any() : null);
                        break;
                }
                // An item below which nothing lies any more is not collapsed.
                foreach (var folded in (HashSet<int>[])[world.Folded, world.Unfiltered])
                    folded.RemoveWhere(f => !world.Walk().Any(w => w.Node.Id == f && world.Below(w.Node).Any()));
                met[what] = met.GetValueOrDefault(what) + 1;
                world.Check($"round {round}, step {step}: {what}");
            }
        }
        Assert.All((string[])["fold", "toggle branch", "filter", "range", "all", "remove", "reparent", "all folded", "refresh", "add"], w => Assert.True(met.GetValueOrDefault(w) > 30, w));
    }
}
