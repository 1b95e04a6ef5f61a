using Lectica.Items;

namespace Lectica.Shell;

/// <summary>
/// Writes keys as text, some at a time. They are those of the moment at which it was made, whatever becomes of the list meanwhile.
/// </summary>
internal sealed class KeyWriting<TItem, TKey>(ItemStore<TItem, TKey> store, TKey[] keys) where TKey : notnull
{
    private readonly string[] _texts = new string[keys.Length];
    private int _written;

    public IReadOnlyList<string> Texts => _texts;

    /// <summary>Writes the next ones; gives whether all are written.</summary>
    public bool Step(int count)
    {
        for (var end = _written + Math.Min(keys.Length - _written, count); _written < end; _written++)
            _texts[_written] = TextOf(store, keys[_written]);
        return _written == keys.Length;
    }

    /// <summary>A key as text; where the app says how texts are read, one that is read back from it.</summary>
    /// <exception cref="InvalidOperationException">It is not.</exception>
    public static string TextOf(ItemStore<TItem, TKey> store, TKey key)
    {
        var text = store.TextOf(key);
        if (store.Texts is { AreExact: false, GivenBack: not null }
            && !(store.Texts.TryRead(text, out var read) && EqualityComparer<TKey>.Default.Equals(key, read)))
            throw new InvalidOperationException(
                $"The key of the item at {store.IndexOf(key)} is written as '{text}', and the list's KeyOfText does not read it back " +
                    "from that.");
        return text;
    }
}
