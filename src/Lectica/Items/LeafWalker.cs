namespace Lectica.Items;

/// <summary>Goes through the leaves and runs of a stretch of a rope, forward or backward.</summary>
internal sealed class LeafWalker
{
    private Frame[] _stack = new Frame[6];
    private readonly bool _backward;
    private int _depth;
    private Tree _single;
    private bool _hasSingle;

    private struct Frame
    {
        public Node Node;
        public int Next, Left;
        public bool Flip;
    }

    public LeafWalker(in Tree tree, bool backward = false)
    {
        _backward = backward;
        if (tree.IsNode) Push(tree.Node, 0, tree.Node.Edges, tree.Flip);
        else if (tree.Length > 0) (_single, _hasSingle) = (tree, true);
    }

    /// <summary>Only the children from..to-1 of a node.</summary>
    public LeafWalker(Node node, int from, int to, bool flip, bool backward = false)
    {
        _backward = backward;
        Push(node, from, to, flip);
    }

    private void Push(Node node, int from, int to, bool flip)
    {
        if (_depth == _stack.Length) Array.Resize(ref _stack, 2 * _depth);
        _stack[_depth++] = new() { Node = node, Next = _backward ? to - 1 : from, Left = to - from, Flip = flip };
    }

    public bool MoveNext(out Tree leaf)
    {
        if (_hasSingle)
        {
            _hasSingle = false;
            leaf = _single;
            return true;
        }
        while (_depth > 0)
        {
            ref var top = ref _stack[_depth - 1];
            if (top.Left == 0)
            {
                _depth--;
                continue;
            }
            leaf = top.Node.Edge(top.Next, top.Flip);
            top.Next += _backward ? -1 : 1;
            top.Left--;
            if (!leaf.IsNode) return true;
            Push(leaf.Node, 0, leaf.Node.Edges, leaf.Flip);
        }
        leaf = default;
        return false;
    }
}
