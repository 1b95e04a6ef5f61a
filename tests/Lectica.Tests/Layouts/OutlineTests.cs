using System.Collections.ObjectModel;
using System.ComponentModel;
using CsCheck;
using Lectica.Acts;
using Lectica.Frames;
using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Selecting;
using Lectica.Testing;

namespace Lectica.Tests.Layouts;

/// <summary>
/// Outlines beside a plain model that walks through the app's own objects: what shows, what is selected, and where branches go.
/// </summary>
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
            Assert.True(rows.Select(r => r.Node.Id).SequenceEqual(shown),
                $"{after}: rows {string.Join(' ', shown)}, not {string.Join(' ', rows.Select(r => r.Node.Id))}");
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
                var can = Branch(node).Where(n => n.Id % 7 != 5 && List.Filter?.Invoke(n) != false).Select(n => List.IndexOf(n.Id))
                    .ToList();
                var selected = can.Count(List.Selection.Items.Contains);
                var state = new BranchState(
                    selected == 0 ? TriState.Off : selected == can.Count ? TriState.On : TriState.Mixed, !Folded.Contains(node.Id));
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

    // Who lies below whom, in order.
    private static string Tree(World world) =>
        string.Join("; ", world.Walk().Select(w => w.Node).Prepend(null).Select(n => $"{n}: {string.Join(' ', world.Below(n))}"));

    private static List<Node> Targets(World world, Node pressed)
    {
        var selected = world.List.SelectedItems.ToList();
        var targets = selected.Contains(pressed) ? selected : [pressed];
        return [.. targets.Where(t => !targets.Any(o => o != t && world.Branch(o).Contains(t)))];
    }

    // Takes branches out of a plain copy of the tree, and puts them below another one.
    private static string Moved(World world, List<Node> tops, Node? parent, Node? before)
    {
        var nodes = world.Walk().Select(w => w.Node).ToList();
        var none = new Node(-1, null);
        var children = nodes.Prepend(none).ToDictionary(n => n, n => world.Below(n == none ? null : n).ToList());
        foreach (var list in children.Values) list.RemoveAll(tops.Contains);
        var to = children[parent ?? none];
        to.InsertRange(before is null ? to.Count : to.IndexOf(before), tops.OrderBy(nodes.IndexOf));
        List<Node> Order(Node from) => [.. children[from].SelectMany(n => (List<Node>)[n, .. Order(n)])];
        return string.Join("; ", Order(none).Prepend(none).Select(n => $"{(n == none ? null : n)}: {string.Join(' ', children[n])}"));
    }

    [Fact]
    public void A_move_takes_branches_along_by_call_key_and_pointer_and_comes_back()
    {
        var met = new Dictionary<string, int>();
        for (var seed = 0; seed < Effort.Of(900); seed++)
        {
            var random = new Random(seed);
            var world = new World(random, 22, seed % 2 == 0, Options with { IsRightToLeft = seed % 3 == 0 });
            var list = world.List;
            if (world.Walk().Count() < 4) continue;
            var player = ListPlayer.On(list);
            for (var n = random.Next(4); n > 0; n--) list.Toggle(world.Any().Id);
            if (random.Next(2) == 0)
            {
                list.ExpandAll();
                world.Folded.Clear();
            }
            var before = Tree(world);
            var pressed = world.Any();
            var tops = Targets(world, pressed);
            var moving = tops.SelectMany(world.Branch).ToHashSet();
            string expected, what;
            switch (random.Next(4))
            {
                case 0:
                    var parent = random.Next(4) == 0 ? null : world.Any();
                    tops = [.. tops.Where(t => t.Id % 7 != 5)];
                    if (tops.Count == 0) continue;
                    var stay = world.Below(parent).Where(n => !tops.Contains(n)).ToList();
                    var place = random.Next(stay.Count + 2);
                    var below = parent is not null && tops.SelectMany(world.Branch).Contains(parent);
                    expected = below ? before : Moved(world, tops, parent, place < stay.Count ? stay[place] : null);
                    var response = parent is null ? list.MoveToFirstLevel(tops.Select(t => t.Id), place)
                        : list.MoveBelow(tops.Select(t => t.Id), parent.Id, place);
                    what = below ? "below itself" : "call";
                    if (below) Assert.Equal(RefusalKind.NotAllowed, response.Refusal?.Kind);
                    break;
                case 1:
                    if (pressed.Id % 7 == 5 || list.Rows.RowOf(list.IndexOf(pressed.Id)) is null) continue;
                    list.MoveCursorTo(pressed.Id);
                    (string Key, string What)[] steps = [("Alt+ArrowUp", "up"), ("Alt+ArrowDown", "down"),
                        (list.Options.IsRightToLeft ? "Alt+Shift+ArrowLeft" : "Alt+Shift+ArrowRight", "in"),
                            (list.Options.IsRightToLeft ? "Alt+Shift+ArrowRight" : "Alt+Shift+ArrowLeft", "out")];
                    var step = steps[random.Next(4)];
                    tops = [.. tops.Where(t => t.Id % 7 != 5)];
                    if (tops.Count != 1) continue;
                    var siblings = world.Below(world.ParentOf(tops[0])).ToList();
                    var at = siblings.IndexOf(tops[0]);
                    var above = world.ParentOf(tops[0]);
                    (what, expected) = ("key " + step.What, step.What switch
                    {
                        "up" => at == 0 ? before : Moved(world, tops, above, siblings[at - 1]),
                        "down" => at + 1 == siblings.Count ? before
                            : Moved(world, tops, above, at + 2 < siblings.Count ? siblings[at + 2] : null),
                        "in" => at == 0 ? before : Moved(world, tops, siblings[at - 1], null),
                        _ => above is null ? before
                            : Moved(world, tops, world.ParentOf(above),
                            world.Below(world.ParentOf(above)).SkipWhile(n => n != above).Skip(1).FirstOrDefault()),
                    });
                    player.Press(step.Key);
                    break;
                default:
                    if (pressed.Id % 7 == 5 || list.Rows.RowOf(list.IndexOf(pressed.Id)) is not { } row) continue;
                    tops = [.. tops.Where(t => t.Id % 7 != 5)];
                    if (!tops.SelectMany(world.Branch).Contains(pressed)) continue;
                    moving = [.. tops.SelectMany(world.Branch)];
                    var rows = world.Rows();
                    var staying = rows.Where(r => !moving.Contains(r.Node)).ToList();
                    var top = tops.First(t => world.Branch(t).Contains(pressed));
                    var own = world.Walk().First(w => w.Node == top).Level;
                    int gap, level;
                    if (random.Next(2) == 0)
                    {
                        // By a pointer: the card's top edge over a gap, so many indents to the side.
                        if (tops.Count > 1 || top != pressed) continue;
                        (gap, level) = (random.Next(staying.Count + 1), own + random.Next(-3, 4));
                        var y = (row.Value * 40) + 20;
                        player.Mouse.MoveTo(300, y);
                        player.Mouse.Down();
                        player.Mouse.GlideTo(300, y + 12, 40);
                        if (!list.IsGrabbing) continue;
                        player.Mouse.GlideTo(300 + ((level - own) * 24 * (list.Options.IsRightToLeft ? -1 : 1)), (gap * 40) + 20, 60);
                        what = "pointer";
                    }
                    else
                    {
                        list.MoveCursorTo(pressed.Id);
                        if (!player.Press("Alt+Enter").IsHandled || !list.IsGrabbing) continue;
                        gap = rows.TakeWhile(
                            r => r.Node != tops.Last(
                                t => world.Walk().Select(w => w.Node).ToList() is var all && all.IndexOf(t) <= all.IndexOf(pressed)))
                                    .Count(r => !moving.Contains(r.Node));
                        level = Level(rows: staying, gap, own);
                        var wished = own;
                        for (var k = random.Next(1, 8); k > 0; k--)
                        {
                            var key = random.Next(4);
                            player.Press(key switch
                            {
                                0 => "ArrowUp",
                                1 => "ArrowDown",
                                2 => list.Options.IsRightToLeft ? "ArrowLeft"
                                : "ArrowRight",
                                _ => list.Options.IsRightToLeft ? "ArrowRight" : "ArrowLeft"
                            });
                            if (key < 2) gap = Math.Clamp(gap + (key == 0 ? -1 : 1), 0, staying.Count);
                            var changed = key < 2 ? level = Level(staying, gap, wished) : Level(staying, gap, level + (key == 2 ? 1 : -1));
                            if (key >= 2 && changed != level) wished = level = changed;
                        }
                        what = "carried";
                    }
                    level = Level(staying, gap, level);
                    var over = gap == 0 ? null : staying[gap - 1].Node;
                    var on = over;
                    for (var l = gap == 0 ? -1 : staying[gap - 1].Level; l >= level && on is not null; l--) on = world.ParentOf(on);
                    // After what it follows on that level, or first below what it follows.
                    var follows = over;
                    while (follows is not null && world.ParentOf(follows) != on && follows != on) follows = world.ParentOf(follows);
                    var kin = world.Below(on).Where(n => !tops.Contains(n)).ToList();
                    var next = follows is null || (follows == on && !world.Folded.Contains(follows.Id)) ? kin.FirstOrDefault()
                        : follows == on ? null : kin.ElementAtOrDefault(kin.IndexOf(follows) + 1);
                    expected = Moved(world, tops, on, next);
                    if (tops.Any(t => world.ParentOf(t) != on)) what += " across";
                    var refused = what.StartsWith("pointer", StringComparison.Ordinal) ? player.Mouse.Up().Refusal
                        : player.Press("Enter").Refusal;
                    Assert.True(refused is null, $"{seed}: {what} {refused}");
                    break;
            }
            Assert.False(list.IsGrabbing);
            var after = Tree(world);
            Assert.True(expected == after, $"{seed} {what}, {string.Join(' ', tops)}:\n{before}\nbecame\n{after}\nnot\n{expected}");
            world.Check($"{seed} {what}");
            if (after == before) continue;
            met[what] = met.GetValueOrDefault(what) + 1;
            Assert.True(list.CanUndo);
            list.Undo();
            Assert.True(before == Tree(world),
                $"{seed} {what} of {string.Join(' ', tops)} undone:\n{Tree(world)}\nnot\n{before}\nafter\n{after}");
            list.Redo();
            Assert.True(after == Tree(world), $"{seed} {what} done again:\n{Tree(world)}\nnot\n{after}");
        }
        if (!Effort.IsFull) return;
        Assert.All((string[])["call", "key up", "key down", "key in", "key out", "pointer", "carried", "pointer across", "carried across"],
            w => Assert.True(met.GetValueOrDefault(w) >= 8, $"{w}: {met.GetValueOrDefault(w)}"));
    }

    // The level that a gap has nearest to one.
    private static int Level(List<(Node Node, int Level)> rows, int gap, int level)
    {
        int least = gap < rows.Count ? rows[gap].Level : 0, most = gap == 0 ? 0 : rows[gap - 1].Level + 1;
        return Math.Clamp(level, Math.Min(least, most), most);
    }

    private static (InteractiveList<Node, int> List, ObservableCollection<Node> Nodes) Small(
        ListOptions? options = null, params (int Id, int? Parent)[] nodes)
    {
        var source = new ObservableCollection<Node>(nodes.Select(n => new Node(n.Id, n.Parent)));
        var list = InteractiveList.Awaiting<Node, int>(n => n.Id, options ?? Options);
        list.Outline = Outline.ByParent((Node n) => n.Parent) with { Assign = (n, parent) => n.Parent = parent?.Id };
        list.Show(source);
        return (list, source);
    }

    private static readonly (int, int?)[] Two = [(1, null), (2, 1), (3, 2), (4, 1), (6, null), (8, 6)];

    private static string RowsOf(InteractiveList<Node, int> list) =>
        string.Join(' ', list.Frame.Rows.Select(r => r.Index < 0 ? "-" : $"{list[r.Index].Id}"));

    [Fact]
    public void Left_and_right_collapse_expand_and_go_to_parent_and_child()
    {
        foreach (var rightToLeft in (bool[])[false, true])
        {
            var (list, _) = Small(Options with { IsRightToLeft = rightToLeft }, Two);
            var player = ListPlayer.On(list);
            var (inward, outward) = rightToLeft ? ("ArrowLeft", "ArrowRight") : ("ArrowRight", "ArrowLeft");
            list.MoveCursorTo(1);
            player.Press(inward);
            Assert.Equal("1 2 4 6", RowsOf(list));
            player.Press(inward);
            Assert.Equal(2, list.CursorKey);
            player.Press(inward);
            player.Press(inward);
            Assert.Equal((3, "1 2 3 4 6"), (list.CursorKey, RowsOf(list)));
            // A leaf has nothing to expand.
            Assert.Equal(RefusalKind.NoItem, player.Press(inward).Refusal?.Kind);
            player.Press(outward);
            Assert.Equal(2, list.CursorKey);
            player.Press(outward);
            Assert.Equal("1 2 4 6", RowsOf(list));
            player.Press(outward);
            Assert.Equal(1, list.CursorKey);
            list.MoveCursorTo(4);
            list.CollapseOrExpandBranch(1);
            // The cursor goes to the branch that hides it.
            Assert.Equal((1, "1 6"), (list.CursorKey, RowsOf(list)));
            Assert.Equal(RefusalKind.NoItem, player.Press(outward).Refusal?.Kind);
        }
    }

    [Fact]
    public void A_tap_on_the_expander_collapses_and_one_on_the_box_takes_the_branch()
    {
        var (list, _) = Small(null, Two);
        var player = ListPlayer.On(list);
        player.Touch.Tap("expander:1");
        Assert.Equal("1 2 4 6", RowsOf(list));
        Assert.Empty(list.SelectedItems);
        player.Mouse.Tap("check:2");
        Assert.Equal([2, 3], list.SelectedItems.Select(n => n.Id));
        Assert.Equal((TriState.Mixed, TriState.On), (list.BranchOf(1)!.State, list.BranchOf(2)!.State));
        player.Touch.Tap("check:1");
        Assert.Equal([1, 2, 3, 4], list.SelectedItems.Select(n => n.Id));
        player.Mouse.DoubleTap("expander:1");
        Assert.Equal("1 2 4 6", RowsOf(list));
        list.MoveCursorTo(6);
        player.Press("Ctrl+Shift+Space");
        Assert.Equal([1, 2, 3, 4, 6, 8], list.SelectedItems.Select(n => n.Id));
        // Where a leaf has no expander, the place is its body.
        Assert.Equal(PartKind.Body, list.Plane.HitAt(24 + 15, (40 * 2) + 20).Part.Kind);
        Assert.Equal(PartKind.Expander, list.Plane.HitAt(24 + 15, 40 + 20).Part.Kind);
    }

    [Fact]
    public void A_filter_keeps_the_way_to_what_it_finds_and_gives_back_what_was_collapsed()
    {
        var (list, nodes) = Small(null, Two);
        list.Select(2);
        list.Filter = n => n.Id is 3 or 8;
        Assert.Equal("1 2 3 6 8", RowsOf(list));
        Assert.Equal([true, true, false, true, false], list.Frame.Rows.Select(r => r.IsDisabled));
        // What the filter hides is not selected, not even where it has a row.
        Assert.Empty(list.SelectedItems);
        Assert.Equal(RefusalKind.Hidden, list.Select(1).Refusal?.Kind);
        list.Do(ActKind.SelectAll);
        Assert.Equal([3, 8], list.SelectedItems.Select(n => n.Id));
        Assert.Equal(TriState.On, list.BranchOf(1)!.State);
        // Ways may be collapsed, and follow what comes and goes below them.
        Assert.True(ListPlayer.On(list).Touch.Tap("expander:6").IsHandled);
        Assert.Equal("1 2 3 6", RowsOf(list));
        nodes.Remove(nodes.Single(n => n.Id == 3));
        Assert.Equal("6", RowsOf(list));
        nodes.Insert(0, new(3, 2));
        Assert.Equal("1 2 3 6", RowsOf(list));
        list.Filter = null;
        Assert.Equal("1 6", RowsOf(list));
    }

    [Fact]
    public void What_lies_below_is_read_when_it_is_expanded_and_again_where_that_failed()
    {
        var nodes = new ObservableCollection<Node>([new(1, null), new(2, null)]);
        var asked = new List<(int Id, TaskCompletionSource Done)>();
        var read = new HashSet<int> { 2, 3, 4 };
        var told = new List<string>();
        var list = InteractiveList.Awaiting<Node, int>(n => n.Id, Options);
        list.Announced += (_, e) => told.Add(e.Text);
        list.Outline = Outline.ByParent((Node n) => n.Parent) with
        {
            // However many levels are open: what must first be read is not.
            OpenLevels = 3,
            HasUnread = n => !read.Contains(n.Id),
            Assign = (n, parent) => n.Parent = parent?.Id,
            ReadBelow = async (n, _) =>
            {
                var done = new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously);
                asked.Add((n.Id, done));
                await done.Task.ConfigureAwait(false);
            },
        };
        list.Show(nodes);
        Assert.Equal([false, null], list.Frame.Rows.Select(r => r.Branch?.IsExpanded));
        Assert.True(list.CollapseOrExpandBranch(1).IsHandled);
        Assert.Equal(new BranchState(TriState.Off, true, RowReading.Pending), list.BranchOf(1));
        // Asked once, however often it is expanded meanwhile.
        list.CollapseOrExpandBranch(1);
        list.CollapseOrExpandBranch(1);
        Assert.Single(asked);
        asked[0].Done.SetException(new InvalidOperationException("the archive is closed"));
        Until(() => list.BranchOf(1)!.Reading == RowReading.Failed, list);
        Assert.False(list.BranchOf(1)!.IsExpanded);
        Assert.Contains("N1 could not be loaded; expand it to try again", told);
        list.CollapseOrExpandBranch(1);
        Assert.Equal(2, asked.Count);
        nodes.Add(new(3, 1));
        nodes.Add(new(4, 1));
        read.Add(1);
        asked[1].Done.SetResult();
        Until(() => list.BranchOf(1)!.Reading == RowReading.Done, list);
        Assert.Equal("1 3 4 2", RowsOf(list));
        Assert.Contains("N1 expanded, 2 items", told);
        list.CollapseOrExpandBranch(1);
        list.CollapseOrExpandBranch(1);
        Assert.Equal(2, asked.Count);
        // Nothing is dropped into what has not been read.
        nodes.Add(new(9, null));
        Assert.Equal(RefusalKind.NotRead, list.MoveBelow([2], 9).Refusal?.Kind);
    }

    [Fact]
    public void What_is_read_into_lists_that_tell_of_nothing_is_found_too()
    {
        var root = new Plain(1);
        var list = InteractiveList.Awaiting<Plain, int>(n => n.Id, Options);
        list.Outline = Outline.ByChildren<Plain, int>(n => n.Children) with
        {
            HasUnread = n => n.Children is null,
            ReadBelow = (n, _) =>
            {
                n.Children = n.Id > 3 ? [] : [new(n.Id * 2), new((n.Id * 2) + 1)];
                return Task.CompletedTask;
            },
        };
        list.Show([root]);
        foreach (var id in (int[])[1, 3, 2, 7]) list.CollapseOrExpandBranch(id);
        Assert.Equal("1 2 4 5 3 6 7", string.Join(' ', list.Frame.Rows.Select(r => list[r.Index].Id)));
        // Nothing lies below 7, and that is known now.
        Assert.Null(list.BranchOf(7));
        Assert.NotNull(list.BranchOf(6));

        List<Node> nodes = [new(1, null)];
        var read = false;
        var other = InteractiveList.Awaiting<Node, int>(n => n.Id, Options);
        other.Outline = Outline.ByParent((Node n) => n.Parent) with
        {
            HasUnread = n => n.Id == 1 && !read,
            ReadBelow = (_, _) =>
            {
                nodes.Add(new(2, 1));
                read = true;
                return Task.CompletedTask;
            },
        };
        other.Show(nodes);
        other.CollapseOrExpandBranch(1);
        Assert.Equal("1 2", RowsOf(other));
    }

    [Fact]
    public void What_lies_below_an_item_leaves_with_it_and_is_back_with_it()
    {
        // Told by the source, or found by reading it again.
        foreach (var isLive in (bool[])[true, false])
        {
            var (list, live) = Small(null, Two);
            List<Node> plain = [.. live];
            if (!isLive) list.Show(plain);
            void Change(Action<IList<Node>> change)
            {
                change(isLive ? live : plain);
                if (!isLive) list.Refresh();
            }
            list.ExpandAll();
            list.ToggleBranch(1);
            var one = live[0];
            Change(nodes => nodes.Remove(one));
            Assert.Equal(("6 8", 2, 0), (RowsOf(list), list.Count, list.SelectedCount));
            Change(nodes => nodes.Remove(nodes.Single(n => n.Id == 4)));
            // What comes in meanwhile below what has left, and below that, comes with it too.
            Change(nodes => nodes.Insert(0, new(9, 2)));
            Change(nodes => nodes.Insert(0, new(10, 9)));
            Assert.Equal("6 8", RowsOf(list));
            Change(nodes => nodes.Add(one));
            list.ExpandAll();
            Assert.Equal("6 8 1 2 9 10 3", RowsOf(list));
            Assert.True(list.MoveBelow([2], 6).IsHandled);
            Assert.Equal("6 8 2 9 10 3 1", RowsOf(list));
        }
    }

    [Fact]
    public void Items_of_an_outline_stay_in_it()
    {
        var (list, _) = Small(null, Two);
        var other = InteractiveList.Of<Node, int>(new List<Node>([new(50, null)]), n => n.Id, Options);
        var group = new ListGroup<Node, int>();
        group.Add(list);
        group.Add(other);
        Assert.Equal(RefusalKind.NotAvailable, group.Send(list, other, [2]).Refusal?.Kind);
        Assert.Equal(RefusalKind.NotAvailable, group.Send(other, list, [50]).Refusal?.Kind);
    }

    private sealed class Plain(int id)
    {
        public int Id { get; } = id;

        public IReadOnlyList<Plain>? Children { get; set; }
    }

    private static void Until(Func<bool> holds, InteractiveList<Node, int> list)
    {
        for (var i = 0; i < 500 && !holds(); i++)
        {
            Thread.Sleep(5);
            list.Advance(i);
        }
        Assert.True(holds());
    }

    [Fact]
    public void Expanded_branches_come_back_with_a_snapshot()
    {
        var (list, _) = Small(null, Two);
        list.CollapseOrExpandBranch(1);
        list.ToggleBranch(2);
        list.MoveCursorTo(4);
        var snapshot = ListSnapshot.Parse(list.Save().ToJson());
        Assert.Equal(["1"], snapshot.Expanded!);
        var (other, _) = Small(null, Two);
        var report = other.Restore(snapshot);
        Assert.Empty(report.MissingKeys);
        Assert.Equal(("1 2 4 6", 4), (RowsOf(other), other.CursorKey));
        Assert.Equal([2, 3], other.SelectedItems.Select(n => n.Id));
    }

    [Fact]
    public void What_is_no_outline_is_refused_and_the_list_stays_as_it_was()
    {
        void Refused(string why, params (int Id, int? Parent)[] nodes)
        {
            var (list, _) = Small(null, Two);
            var rows = RowsOf(list);
            var error = Assert.Throws<OutlineException>(() => list.Show([.. nodes.Select(n => new Node(n.Id, n.Parent))]));
            Assert.Contains(why, error.Message, StringComparison.Ordinal);
            Assert.Equal((6, rows), (list.Count, RowsOf(list)));
            list.CollapseOrExpandBranch(6);
            Assert.Equal("1 6 8", RowsOf(list));
        }
        Refused("The item '2' lies below '5', and there is no such item.", (1, null), (2, 5));
        Refused("The item '2' lies below itself: 2 is below 4 is below 3 is below 2", (1, null), (2, 4), (3, 2), (4, 3));
        Refused("The item '1' lies below itself: 1 is below 1", (1, 1));
        // A live source that loses its way says so, and what it says next is read as a whole.
        var (live, nodes) = Small(null, Two);
        Assert.Throws<OutlineException>(() => nodes.Add(new(10, 99)));
        Assert.Equal(6, live.Count);
        nodes[^1].Parent = null;
        nodes.Add(new(11, 10));
        Assert.Equal((8, "1 6 10"), (live.Count, RowsOf(live)));

        var twice = new Node(2, null);
        var first = new Node(1, null);
        first.Children.Add(twice);
        var list = InteractiveList.Awaiting<Node, int>(n => n.Id, Options);
        list.Outline = Outline.ByChildren<Node, int>(n => n.Children);
        Assert.Contains("'2' is there twice: below '1' and on the first level",
            Assert.Throws<OutlineException>(() => list.Show([first, twice])).Message, StringComparison.Ordinal);
        twice.Children.Add(first);
        Assert.Contains("'1' lies below itself: it is among the children of '2'",
            Assert.Throws<OutlineException>(() => list.Show([first])).Message, StringComparison.Ordinal);
        list.Outline = Outline.ByChildren<Node, int>(n => n.Id == 1 ? throw new InvalidOperationException("no children today") : null);
        Assert.Contains("The children of the item '1' could not be read: no children today",
            Assert.Throws<OutlineException>(() => list.Show([first])).Message, StringComparison.Ordinal);
        Assert.Equal(0, list.Count);

        Assert.Throws<ArgumentOutOfRangeException>(
            () => list.Outline = Outline.ByChildren<Node, int>(n => n.Children) with { OpenLevels = 0 });
        Assert.Contains("Set Outline to null first", Assert.Throws<InvalidOperationException>(() => list.Sections = new(_ => "a")).Message,
            StringComparison.Ordinal);
        Assert.Contains("SortBy cannot be set", Assert.Throws<InvalidOperationException>(() => list.SortBy = (_, _) => 0).Message,
            StringComparison.Ordinal);
        list.Outline = null;
        list.Sections = new(_ => "a");
        Assert.Contains("it has Sections", Assert.Throws<InvalidOperationException>(
            () => list.Outline = Outline.ByChildren<Node, int>(n => n.Children)).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_move_that_the_source_does_not_take_is_put_back_whole()
    {
        var (list, nodes) = Small(null, Two);
        var before = string.Join(' ', nodes.Select(n => $"{n.Id}<{n.Parent}"));
        list.Outline = list.Outline! with
        {
            Assign = (n, parent) => n.Parent = n.Id == 8 ? throw new InvalidOperationException("8 stays") : parent?.Id,
        };
        Assert.Contains("8 stays", list.MoveBelow([4, 8], 2).Refusal!.Reason, StringComparison.Ordinal);
        Assert.Equal(before, string.Join(' ', nodes.Select(n => $"{n.Id}<{n.Parent}")));
        list.ExpandAll();
        Assert.Equal("1 2 3 4 6 8", RowsOf(list));
        Assert.False(list.CanUndo);
        // Where nothing can be assigned, items move among those that lie below the same.
        list.Outline = list.Outline! with { Assign = null };
        Assert.Equal(RefusalKind.NotAllowed, list.MoveBelow([4], 6).Refusal?.Kind);
        Assert.True(list.MoveBefore([4], 2).IsHandled);
        // What is pinned keeps its place below its own parent.
        list.PinnedWhen = n => n.Id == 2;
        Assert.Equal(RefusalKind.Pinned, list.MoveBy([4], down: true).Refusal?.Kind);
        Assert.Equal(RefusalKind.Pinned, list.MoveToFirstLevel([1]).Refusal?.Kind);
        Assert.True(list.MoveBy([6], down: false).IsHandled || list.MoveBy([6], down: true).IsHandled);
    }

    [Fact]
    public void An_app_that_moves_by_itself_is_told_whole_branches_and_their_parent()
    {
        var (list, nodes) = Small(null, Two);
        MoveRequestedEventArgs<Node, int>? asked = null;
        list.MoveRequested += (_, e) => asked = e;
        list.MoveBelow([2, 3], 6, 0);
        Assert.Equal([2, 3], asked!.Keys);
        Assert.Equal([2], asked.Tops.Select(n => n.Id));
        Assert.Equal((6, 1), (asked.Parent!.Id, asked.Level));
        Assert.Equal(5, asked.Gap);
        Assert.Equal(6, nodes.Count);
    }

    [Fact]
    public void What_is_held_over_a_collapsed_branch_opens_it_and_it_closes_behind()
    {
        foreach (var lands in (bool[])[false, true])
        {
            var (list, nodes) = Small(null, Two);
            var player = ListPlayer.On(list);
            player.Mouse.MoveTo(300, 60);
            player.Mouse.Down();
            player.Mouse.GlideTo(300, 40, 60);
            player.Mouse.GlideTo(300, 14, 60);
            Assert.True(list.IsGrabbing);
            player.Wait(list.Options.Thresholds.HoverTime + 50);
            Assert.Equal("1 2 4", string.Join(' ', list.Frame.Rows.Where(r => !r.IsGrabbed).Select(r => list[r.Index].Id)));
            if (lands) player.Mouse.GlideTo(330, 60, 100);
            else player.Press("Escape");
            if (lands) player.Mouse.Up();
            Assert.Equal(lands ? 1 : null, nodes.Single(n => n.Id == 6).Parent);
            Assert.Equal(lands ? "1 6 2 4" : "1 6", RowsOf(list).Replace("6 8", "6", StringComparison.Ordinal));
        }
    }

    [Fact]
    public void Sweeps_rectangles_typing_and_scrolling_go_over_what_shows()
    {
        int swept = 0, drawn = 0, found = 0, kept = 0;
        for (var seed = 0; seed < Effort.Of(300); seed++)
        {
            var random = new Random(seed);
            var world = new World(random, 30, seed % 2 == 0, Options with
            {
                IsRightToLeft = seed % 3 == 0,
                AlwaysSelecting = true,
                Viewport = new(600, 2_000),
            });
            var list = world.List;
            var rows = world.Rows();
            if (rows.Count < 3) continue;
            var player = ListPlayer.On(list);
            int[] Shown(int from, int to) =>
                [.. rows.Skip(Math.Min(from, to)).Take(Math.Abs(from - to) + 1).Where(r => r.Node.Id % 7 != 5).Select(r => r.Node.Id)];
            int a = random.Next(rows.Count), b = random.Next(rows.Count);
            if (rows[a].Node.Id % 7 != 5 && a != b)
            {
                // Along the boxes: from one row to another, whatever their levels.
                player.Mouse.GoTo($"check:{rows[a].Node.Id}");
                player.Mouse.Down();
                player.Mouse.GlideTo(player.Mouse.X, (b * 40) + 20, 100);
                player.Mouse.Up();
                Assert.Equal(Shown(a, b).Order(), list.SelectedItems.Select(n => n.Id).Order());
                swept++;
            }
            list.Clear();
            // From below the last row up to one.
            player.Mouse.MoveTo(300, (rows.Count * 40) + 60);
            player.Mouse.Down();
            player.Mouse.GlideTo(320, (b * 40) + 20, 100);
            player.Mouse.Up();
            Assert.Equal(Shown(b, rows.Count - 1).Order(), list.SelectedItems.Select(n => n.Id).Order());
            drawn++;
            // What is collapsed is not found by typing, and is shown when it is asked for.
            list.MoveCursorTo(rows[0].Node.Id);
            player.Type($"N{rows[b].Node.Id}");
            player.Wait(2_000);
            if (list.CursorKey is { } cursor && rows.Any(r => r.Node.Id == cursor)) found++;
            Assert.Contains(rows, r => r.Node.Id == list.CursorKey);
            var hidden = world.Walk().Select(w => w.Node).FirstOrDefault(n => rows.All(r => r.Node != n));
            if (hidden is null) continue;
            list.Resize(600, 80);
            Assert.True(list.Reveal(hidden.Id).IsHandled);
            var at = list.Rows.RowOf(list.IndexOf(hidden.Id))!.Value.Value * 40.0;
            Assert.InRange(at, list.Viewport.ScrollTop, list.Viewport.ScrollTop + 40);
            // What is looked at stays where it is when something above it comes in.
            if (list.Viewport.ScrollTop <= 0) continue;
            var first = list.Frame.Rows[0];
            world.Add(null);
            if (list.Frame.Rows.FirstOrDefault(r => r.KeyText == first.KeyText) is not { } same) continue;
            Assert.Equal(first.Top, same.Top);
            kept++;
        }
        if (!Effort.IsFull) return;
        Assert.True(swept > 80 && drawn > 200 && found > 200 && kept > 20, $"{swept} {drawn} {found} {kept}");
    }

    [Fact]
    public void Whatever_of_the_apps_throws_the_list_is_whole_and_finds_back()
    {
        var thrown = new Dictionary<string, int>();
        for (var seed = 0; seed < Effort.Of(400); seed++)
        {
            var random = new Random(seed);
            var left = int.MaxValue;
            T Maybe<T>(string what, T value)
            {
                if (--left != 0) return value;
                thrown[what] = thrown.GetValueOrDefault(what) + 1;
                throw new InvalidOperationException(what);
            }
            List<Node> nodes = [.. Enumerable.Range(0, random.Next(3, 14))
                .Select(i => new Node(i, i == 0 || random.Next(3) == 0 ? null : random.Next(i)))];
            var source = new ObservableCollection<Node>(nodes);
            var list = InteractiveList.Awaiting<Node, int>(n => Maybe("key", n.Id), Options with { Viewport = new(600, 2_000) });
            list.Content = n => new(Maybe("content", $"{n}"));
            list.Filter = n => Maybe("filter", n.Id % 5 != 4);
            list.EnabledWhen = n => Maybe("enabled", n.Id % 7 != 5);
            list.Outline = Outline.ByParent((Node n) => Maybe("parent", n.Parent)) with
            {
                OpenLevels = 2,
                Assign = (n, parent) => n.Parent = Maybe("assign", parent?.Id),
                HasUnread = n => Maybe("unread", n.Id == 2),
                ReadBelow = (_, _) =>
                {
                    left = 1;
                    return Maybe("read", Task.CompletedTask);
                },
            };
            list.Show(source);
            left = random.Next(1, 60);
            for (var step = 0; step < 8; step++)
            {
                try
                {
                    var key = random.Next(nodes.Count);
                    switch (random.Next(8))
                    {
                        case 0: list.CollapseOrExpandBranch(key); break;
                        case 1: list.ToggleBranch(key); break;
                        case 2: list.MoveBelow([key], random.Next(nodes.Count)); break;
                        case 3: list.MoveBy([key], random.Next(2) == 0 ? Direction.Inward : Direction.Next); break;
                        case 4: source.Add(new(nodes.Count + 100 + step, random.Next(2) == 0 ? null : source.FirstOrDefault()?.Id)); break;
                        case 5 when source.Count > 0: source.RemoveAt(random.Next(source.Count)); break;
                        case 6: list.Undo(); break;
                        default: list.Refresh(); break;
                    }
                    _ = list.Frame;
                }
                catch (Exception e) when (e is InvalidOperationException or OutlineException or SourceOutOfStepException)
                {
                }
                Whole(list, $"{seed}, {step}");
            }
            // Once nothing throws any more, it is what the app's objects say.
            left = int.MaxValue;
            list.Refresh();
            var model = new List<int>();
            void Walk(int? below)
            {
                foreach (var node in source.Where(n => n.Parent == below))
                {
                    model.Add(node.Id);
                    Walk(node.Id);
                }
            }
            Walk(null);
            Assert.Equal(model, Enumerable.Range(0, list.Count).Select(i => list[i].Id));
            Whole(list, $"{seed} at the end");
        }
        if (!Effort.IsFull) return;
        Assert.All((string[])["key", "content", "filter", "enabled", "parent", "assign", "unread", "read"],
            w => Assert.True(thrown.GetValueOrDefault(w) > 0, w));
    }

    // Levels, rows and sets are of as many items as there are, and each lies below the one that it must.
    private static void Whole(InteractiveList<Node, int> list, string after)
    {
        var rows = list.Rows;
        Assert.True(rows.Levels!.Count == list.Count && rows.Shown.Universe == list.Count && list.Selection.Items.Universe == list.Count,
            after);
        for (var i = 0; i < list.Count; i++)
            Assert.True(rows.Levels[i] <= (i == 0 ? 0 : rows.Levels[i - 1] + 1), $"{after}: the level of {i}");
        var outline = rows.Outline!;
        for (var i = 0; i < list.Count; i++)
        {
            var isReached = true;
            for (var parent = rows.Levels.ParentOf(i); parent >= 0; parent = rows.Levels.ParentOf(parent))
                isReached &= !outline.Folded.Contains(parent);
            var branch = Enumerable.Range(i, rows.Levels.EndOf(i) - i);
            Assert.True((rows.RowOf(i) is not null) == (isReached && branch.Any(outline.Shown.Contains)),
                $"{after}: whether {i} has a row");
        }
    }

    [Fact]
    public void Rows_branches_and_boxes_are_those_of_a_plain_walk_whatever_happens()
    {
        var random = new Random(17);
        var met = new Dictionary<string, int>();
        for (var round = 0; round < Effort.Of(240); round++)
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
                        var can = ItemSet.Of(list.Count, world.Branch(node).Where(n => n.Id % 7 != 5 && list.Filter?.Invoke(n) != false)
                            .Select(n => list.IndexOf(n.Id)));
                        if (list.ToggleBranch(node.Id).IsHandled)
                            Assert.Equal(can.Except(before).IsEmpty ? before.Except(can) : before.Union(can), list.Selection.Items);
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
                        Assert.Equal(all.Skip(Math.Min(a, b)).Take(Math.Abs(a - b) + 1)
                            .Where(n => n.Id % 7 != 5 && list.Filter?.Invoke(n) != false).Select(n => n.Id),
                            list.SelectedItems.Select(n => n.Id));
                        break;
                    case 6:
                        what = "all";
                        list.Do(ActKind.SelectAll);
                        Assert.Equal(world.Walk().Select(w => w.Node).Where(n => n.Id % 7 != 5 && list.Filter?.Invoke(n) != false)
                            .Select(n => n.Id), list.SelectedItems.Select(n => n.Id));
                        break;
                    case 7:
                        what = "remove";
                        world.Remove(world.Any());
                        break;
                    case 8 when !world.ByChildren && list.Filter is null && world.Any() is var node && world.Any() is var other
                        && !world.Branch(node).Contains(other):
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
        if (!Effort.IsFull) return;
        Assert.All((string[])["fold", "toggle branch", "filter", "range", "all", "remove", "reparent", "all folded", "refresh", "add"],
            w => Assert.True(met.GetValueOrDefault(w) > 30, w));
    }

    [Fact]
    public void Branches_of_a_plain_list_come_back_and_those_from_one_place_together()
    {
        int moves = 0, together = 0, apart = 0;
        Gen.Select(Gen.Int[2, 40], Gen.Int).Sample((count, seed) =>
        {
            var random = new Random(seed);
            var nodes = new List<Node>();
            var way = new Stack<int>();
            for (var id = 1; id <= count; id++)
            {
                while (way.Count > 0 && random.Next(5) < 3) way.Pop();
                nodes.Add(new(id, way.TryPeek(out var parent) ? parent : null));
                way.Push(id);
            }
            using var list = InteractiveList.Of(nodes, n => n.Id, Options);
            list.Outline = Outline.ByParent((Node n) => n.Parent) with { Assign = (n, parent) => n.Parent = parent?.Id, OpenLevels = 9 };
            string All() => string.Join(' ', nodes.Select(n => $"{n.Id}<{n.Parent}"));
            int told = 0, tops = 0;
            list.Moved += (_, moved) => (told, tops) = (told + 1, tops + moved.Items.Count);
            // A stretch, or here and there.
            int from = random.Next(count), to = random.Next(from, count);
            int[] keys = [.. nodes.Where((_, i) => random.Next(2) == 0 ? i >= from && i <= to : random.Next(4) == 0).Select(n => n.Id)];
            var before = All();
            var response = random.Next(4) switch
            {
                0 => list.MoveToBottom(keys),
                1 => list.MoveToTop(keys),
                2 => list.MoveToFirstLevel(keys),
                _ => list.MoveBelow(keys, random.Next(1, count + 1), random.Next(4)),
            };
            if (!response.IsHandled || All() == before) return;
            moves++;
            var after = All();
            for (var round = 0; round < 2; round++)
            {
                (told, tops) = (0, 0);
                Assert.True(list.Undo().IsHandled);
                Assert.Equal(before, All());
                if (told < tops) together++;
                else if (told > 1) apart++;
                Assert.True(list.Redo().IsHandled);
                Assert.Equal(after, All());
            }
        }, iter: 3000, threads: 1);
        Assert.True(moves > 800 && together > 200 && apart > 200, $"{moves} moves, {together} undone together, {apart} apart");
    }

    private readonly record struct Site(int Id, List<Site> Parts);

    [Fact]
    public void Items_may_be_structs_and_a_source_that_cannot_be_written_keeps_its_branches()
    {
        List<Site> below = [new(10, []), new(11, [])], sites = [new(1, below), new(2, []), new(3, [])];
        var list = InteractiveList.Of(sites, s => s.Id, new ListOptions { MayMove = true });
        list.Outline = Outline.ByChildren<Site, int>(s => s.Parts) with { OpenLevels = 9 };
        // After the last, where no sibling follows, and before one that does.
        Assert.True(list.MoveBelow([2], 1).IsHandled);
        Assert.Equal([10, 11, 2], below.Select(s => s.Id));
        Assert.True(list.MoveToFirstLevel([10]).IsHandled);
        Assert.Equal([1, 3, 10], sites.Select(s => s.Id));
        Assert.True(list.MoveBelow([3], 1, 0).IsHandled);
        Assert.Equal([3, 11, 2], below.Select(s => s.Id));
        for (var i = 0; i < 3; i++) Assert.True(list.Undo().IsHandled);
        Assert.Equal([1, 2, 3], sites.Select(s => s.Id));
        Assert.Equal([10, 11], below.Select(s => s.Id));

        Site[] still = [.. sites];
        var fixedList = InteractiveList.Of(still, s => s.Id, list.Options);
        fixedList.Outline = list.Outline;
        var refused = fixedList.MoveToFirstLevel([10]);
        Assert.Contains("the source cannot be written", refused.Refusal?.Reason);
        Assert.Equal([10, 11], below.Select(s => s.Id));
    }
}
