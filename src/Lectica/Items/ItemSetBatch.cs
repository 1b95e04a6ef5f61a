namespace Lectica.Items;

/// <summary>
/// Many single changes to a set with no version between them. It writes in place to what it has made itself, and copies the rest
/// when it first touches it, so the set that it began with stays as it was. Not for use from several threads at once.
/// </summary>
internal sealed class ItemSetBatch
{
    private Tree _tree;
    private object _owner = new();

    internal ItemSetBatch(ItemSet set) => _tree = set.Tree;

    /// <summary>The number of items there are.</summary>
    public int Length => _tree.Length;

    /// <summary>The number of members now.</summary>
    public int Count => _tree.Count;

    /// <summary>Whether this item is a member now.</summary>
    /// <exception cref="ArgumentOutOfRangeException">The index is not in 0..Length-1.</exception>
    public bool Contains(int index)
    {
        if ((uint)index >= (uint)_tree.Length) throw ItemSet.OutOfRange(index, _tree.Length);
        return _tree.Contains(index);
    }

    /// <summary>Puts one item in or takes it out.</summary>
    /// <exception cref="ArgumentOutOfRangeException">The index is not in 0..Length-1.</exception>
    public void Set(int index, bool member)
    {
        if (Contains(index) != member) Toggle(index);
    }

    /// <summary>Turns one item round.</summary>
    /// <exception cref="ArgumentOutOfRangeException">The index is not in 0..Length-1.</exception>
    public void Toggle(int index)
    {
        if ((uint)index >= (uint)_tree.Length) throw ItemSet.OutOfRange(index, _tree.Length);
        if (!_tree.IsNode)
        {
            _tree = Rope.Toggle(_tree, index);
            return;
        }
        var root = Owned(_tree.Node);
        var delta = Toggle(root, index);
        if (delta == 0)
        {
            // In a long run: make it a leaf first.
            _tree = Rope.Toggle(With(root), index);
            return;
        }
        _tree = With(root);
    }

    private Tree With(Node root) => new(root, root.Length, _tree.Flip ? root.Length - root.Count : root.Count, _tree.Flip, root.Height);

    /// <summary>
    /// Flips a bit below a node of ours; gives the change of its count, or 0 where the bit is in a run that cannot become a leaf in place.
    /// </summary>
    private int Toggle(Node node, int index)
    {
        var k = node.Find(index);
        var edge = node.Edge(k, false);
        var at = index - node.StartOf(k);
        int delta;
        if (edge.IsNode)
        {
            var child = Owned(edge.Node);
            node.Children[k] = child;
            delta = Toggle(child, at);
            if (edge.Flip) delta = -delta;
        }
        else delta = ToggleLeaf(node, k, edge, at);
        if (delta != 0) node.Raise(k, delta);
        return delta;
    }

    private static int ToggleLeaf(Node node, int k, in Tree leaf, int at)
    {
        // A run may stand higher than a leaf may.
        if (leaf.IsRun && (leaf.Length > Tree.LeafFill || node.Height > 1)) return 0;
        var bit = 1u << k;
        var array = leaf.IsRun ? Leaf.New(leaf.Length)
            : (node.OwnedLeaves & bit) != 0 ? leaf.LeafArray
            : leaf.LeafArray.AsSpan().ToArray();
        var delta = Leaf.Toggle(array, at) ^ leaf.Flip ? 1 : -1;
        var count = leaf.Count + delta;
        if (count == 0 || count == leaf.Length)
        {
            node.Children[k] = null;
            node.Flips = count == 0 ? node.Flips & ~bit : node.Flips | bit;
            node.OwnedLeaves &= ~bit;
        }
        else
        {
            node.Children[k] = array;
            node.OwnedLeaves |= bit;
        }
        return delta;
    }

    private Node Owned(Node node) => ReferenceEquals(node.Owner, _owner) ? node : node.Copy(_owner);

    /// <summary>The set as it is now. The batch may go on afterwards; this set stays as it is.</summary>
    public ItemSet ToSet()
    {
        // What was made so far is shared from now on: a new token, so that it is copied before the next write.
        _owner = new();
        return new(Rope.Trim(_tree));
    }
}
