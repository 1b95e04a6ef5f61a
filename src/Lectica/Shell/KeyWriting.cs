using System.Text.Json;
using Lectica.Items;

namespace Lectica.Shell;

/// <summary>
/// Writes keys as text, some at a time. They are those of the moment at which it was made, whatever becomes of the list meanwhile.
/// </summary>
internal sealed class KeyWriting<TItem, TKey>(ItemStore<TItem, TKey> store, TKey[] keys) where TKey : notnull
{
    private int _written;

    public bool HasBegun => _written > 0;

    public bool HasEnded => _written == keys.Length;

    /// <summary>All texts at once.</summary>
    public IReadOnlyList<string> Texts => Array.ConvertAll(keys, key => TextOf(store, key));

    /// <summary>Writes the next ones.</summary>
    public void Step(Utf8JsonWriter json, int count)
    {
        for (var end = _written + Math.Min(keys.Length - _written, count); _written < end; _written++)
            json.WriteStringValue(TextOf(store, keys[_written]));
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
