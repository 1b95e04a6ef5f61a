using System.Collections;

namespace Lectica.Items;

/// <summary>
/// Something of each item of a set, read from the list where somebody looks: what the app is asked about, so that a question about many
/// costs what the app looks at. It is there for as long as the list stands still; after an edit each look is an error.
/// </summary>
/// <param name="set">The items, by index.</param>
/// <param name="read">Reads it of the item at an index.</param>
/// <param name="isNow">Whether the indexes are still those of the set.</param>
internal sealed class ReadInPlace<T>(ItemSet set, Func<int, T> read, Func<bool> isNow) : IReadOnlyList<T>
{
    public int Count => set.Count;

    public T this[int index]
    {
        get
        {
            Check();
            return read(set.Nth(index));
        }
    }

    public IEnumerator<T> GetEnumerator()
    {
        Check();
        foreach (var index in set)
        {
            Check();
            yield return read(index);
        }
    }

    IEnumerator IEnumerable.GetEnumerator() => GetEnumerator();

    private void Check()
    {
        if (!isNow())
            throw new InvalidOperationException(
                "The list has changed since the app was asked about these items. Read them while answering, and copy what is needed " +
                    "later: ToList().");
    }
}
