namespace Lectica.Items;

/// <summary>
/// The items of an outline linked to one another, so that any number of branches can go elsewhere one after the other: a step each. To make
/// it, and to read what it comes to, costs all items.
/// </summary>
internal sealed class LinkedLevels
{
    // By item: what it lies below, its first and last child, and the siblings on either side; -1 for none. The first level is below a
    // number of its own.
    private readonly int[] _parent, _first, _last, _next, _before;
    private readonly int _root;

    /// <summary>Items as they are.</summary>
    public LinkedLevels(Levels levels)
    {
        _root = levels.Count;
        (_parent, _next, _before) = (new int[_root], new int[_root], new int[_root]);
        (_first, _last) = (new int[_root + 1], new int[_root + 1]);
        Array.Fill(_first, -1);
        Array.Fill(_last, -1);
        var deep = levels.ToArray();
        var path = new List<int> { _root };
        for (var i = 0; i < _root; i++)
        {
            path.RemoveRange(deep[i] + 1, path.Count - deep[i] - 1);
            Link(i, path[^1], -1);
            path.Add(i);
        }
    }

    /// <summary>So many items, none of which lies below another.</summary>
    public static LinkedLevels Flat(int count) => new(Levels.Of(new ushort[count]));

    /// <summary>What an item lies below; -1 on the first level.</summary>
    public int ParentOf(int item) => _parent[item] == _root ? -1 : _parent[item];

    /// <summary>The sibling after an item; -1 for none.</summary>
    public int NextOf(int item) => _next[item];

    /// <summary>Whether an item is another one, or lies below it. Cost: the levels between.</summary>
    public bool IsIn(int item, int branch)
    {
        while (item >= 0 && item != branch) item = ParentOf(item);
        return item >= 0;
    }

    /// <summary>
    /// A branch goes below an item, or onto the first level for -1, before one of its children, or after the last for -1.
    /// </summary>
    public void Move(int top, int parent, int before)
    {
        int from = _parent[top], left = _before[top], right = _next[top];
        (left < 0 ? ref _first[from] : ref _next[left]) = right;
        (right < 0 ? ref _last[from] : ref _before[right]) = left;
        Link(top, parent < 0 ? _root : parent, before);
    }

    private void Link(int item, int parent, int before)
    {
        var left = before < 0 ? _last[parent] : _before[before];
        (_parent[item], _before[item], _next[item]) = (parent, left, before);
        (left < 0 ? ref _first[parent] : ref _next[left]) = item;
        (before < 0 ? ref _last[parent] : ref _before[before]) = item;
    }

    /// <summary>The items in reading order, and how deep each of them lies.</summary>
    /// <exception cref="InvalidOperationException">Something would lie deeper than can be.</exception>
    public (int[] Order, Levels Levels) Read()
    {
        var (order, levels) = (new int[_root], new ushort[_root]);
        int n = 0, deep = 0;
        for (var i = _first[_root]; i >= 0;)
        {
            (order[n], levels[n++]) = (i, Levels.Checked(deep));
            if (_first[i] >= 0)
            {
                (i, deep) = (_first[i], deep + 1);
                continue;
            }
            while (_next[i] < 0 && _parent[i] != _root) (i, deep) = (_parent[i], deep - 1);
            i = _next[i];
        }
        return (order, Levels.Owning(levels));
    }
}
