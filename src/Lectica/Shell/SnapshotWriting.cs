using System.Text.Json;

namespace Lectica.Shell;

/// <summary>A snapshot that is being taken: its keys are known from the first moment, and are written as text later.</summary>
internal sealed class SnapshotWriting<TItem, TKey>(ListSnapshot snapshot) where TKey : notnull
{
    private static readonly JsonEncodedText Marks = JsonEncodedText.Encode("marks");

    private readonly List<Keys> _lists = [];
    private int _at = -1;

    /// <summary>The keys of a property, or of a mark.</summary>
    private sealed record Keys(
        string Name, bool IsMark, KeyWriting<TItem, TKey> Writing, Func<ListSnapshot, IReadOnlyList<string>, ListSnapshot> Put);

    /// <summary>The whole snapshot.</summary>
    public ListSnapshot Snapshot => _lists.Aggregate(snapshot, (s, list) => list.Put(s, list.Writing.Texts));

    /// <summary>Adds the keys of a property.</summary>
    public void Add(string name, KeyWriting<TItem, TKey> keys, Func<ListSnapshot, IReadOnlyList<string>, ListSnapshot> put) =>
        _lists.Add(new(name, false, keys, put));

    /// <summary>Adds the keys of a mark; all marks follow one another.</summary>
    public void AddMark(string name, KeyWriting<TItem, TKey> keys) =>
        _lists.Add(new(name, true, keys, (s, texts) => s with
        {
            Marks = new Dictionary<string, IReadOnlyList<string>>(s.Marks ?? new Dictionary<string, IReadOnlyList<string>>())
            {
                [name] = texts,
            },
        }));

    /// <summary>Writes the next piece of the snapshot's JSON; gives whether it was the last.</summary>
    /// <param name="json">To what.</param>
    /// <param name="count">So many keys a piece.</param>
    public bool Step(Utf8JsonWriter json, int count)
    {
        if (_at < 0) WriteHead(json);
        else if (_at == _lists.Count) json.WriteEndObject();
        else if (!WriteKeys(json, count)) return false;
        return _at++ == _lists.Count;
    }

    // All but the keys.
    private void WriteHead(Utf8JsonWriter json)
    {
        json.WriteStartObject();
        foreach (var property in JsonSerializer.SerializeToElement(snapshot, SnapshotJson.Default.ListSnapshot).EnumerateObject())
            if (!_lists.Exists(l => l.Name == property.Name && !l.IsMark)) property.WriteTo(json);
    }

    private bool WriteKeys(Utf8JsonWriter json, int count)
    {
        var list = _lists[_at];
        if (!list.Writing.HasBegun)
        {
            if (list.IsMark && (_at == 0 || !_lists[_at - 1].IsMark)) json.WriteStartObject(Marks);
            json.WriteStartArray(list.Name);
        }
        list.Writing.Step(json, count);
        if (!list.Writing.HasEnded) return false;
        json.WriteEndArray();
        if (list.IsMark && (_at + 1 == _lists.Count || !_lists[_at + 1].IsMark)) json.WriteEndObject();
        return true;
    }
}
