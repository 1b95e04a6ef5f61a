namespace Lectica.Shell;

/// <summary>A snapshot that is being taken: its keys are known from the first moment, and are written some at a time.</summary>
internal sealed class SnapshotWriting<TItem, TKey>(ListSnapshot snapshot) where TKey : notnull
{
    private readonly List<(KeyWriting<TItem, TKey> Keys, Func<ListSnapshot, IReadOnlyList<string>, ListSnapshot> Put)> _lists = [];

    /// <summary>The snapshot, with what is written by now.</summary>
    public ListSnapshot Snapshot => _lists.Aggregate(snapshot, (s, list) => list.Put(s, list.Keys.Texts));

    public void Add(KeyWriting<TItem, TKey> keys, Func<ListSnapshot, IReadOnlyList<string>, ListSnapshot> put) => _lists.Add((keys, put));

    /// <summary>Writes the next keys; gives whether all are written.</summary>
    public bool Step(int count)
    {
        foreach (var (keys, _) in _lists)
            if (!keys.Step(count)) return false;
        return true;
    }
}
