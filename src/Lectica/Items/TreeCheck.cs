namespace Lectica.Items;

/// <summary>The invariants of <see cref="Tree"/>, checked.</summary>
internal static class TreeCheck
{
    public static void Check(in Tree tree)
    {
        Require(tree.Count >= 0 && tree.Count <= tree.Length, "count within length");
        Require(tree.IsRun || (tree.Count > 0 && tree.Count < tree.Length), "a uniform set is a run");
        Require(tree.Height <= 8, $"height {tree.Height} stays small");
        Walk(tree);
    }

    private static void Walk(in Tree tree)
    {
        if (tree.IsRun)
        {
            Require(tree.Count == (tree.Flip ? tree.Length : 0), "a run counts all or nothing");
        }
        else if (!tree.IsNode)
        {
            var ones = Bits.Count(tree.Words);
            Require(tree.Length is > 0 and <= Tree.LeafBits, "leaf length");
            Require(tree.Words.Length == Bits.WordsFor(tree.Length), "leaf array is exact");
            Require(Leaf.IsClosed(tree.LeafArray), "leaf directory");
            Require((tree.Words[^1] & ~Bits.TailMask(tree.Length)) == 0, "zeros past the end");
            Require(ones > 0 && ones < tree.Length, "a leaf is not uniform");
            Require(tree.Count == (tree.Flip ? tree.Length - ones : ones), "leaf count");
        }
        else
        {
            var node = tree.Node;
            Require(node.Edges is > 0 and <= Node.MaxEdges, "number of edges");
            Require(node.Length == tree.Length && node.Height == tree.Height, "node fits its edge");
            var count = 0;
            for (var k = 0; k < node.Edges; k++)
            {
                var edge = node.Edge(k, tree.Flip);
                Require(edge.Length > 0, "no empty edge");
                Require(edge.IsRun || edge.Height == tree.Height - 1, "children are one lower");
                Walk(edge);
                count += edge.Count;
            }
            Require(count == tree.Count, "node count");
        }
    }

    private static void Require(bool holds, string what)
    {
        if (!holds) throw new InvalidOperationException($"ItemSet invariant broken: {what}.");
    }
}
