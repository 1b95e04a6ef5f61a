using Lectica.Items;

namespace Lectica.Shell;

/// <summary>Looks for the items of keys that are given as text, some at a time; what it has found follows each edit.</summary>
internal sealed class KeySearch(IReadOnlyList<string> texts, Func<string, int> indexOf, int count)
{
    /// <summary>So many keys are looked for, or written, between two looks at the clock.</summary>
    public const int Few = 64;

    // Of a list that is edited all the time the last pass counts.
    private const int MostPasses = 3;

    private readonly List<string> _missing = [];
    private ItemSet _items = ItemSet.None(count);
    private ulong[]? _found;
    private int _looked, _passes;
    private bool _isEdited;

    /// <summary>The keys that no item has, in order.</summary>
    public IReadOnlyList<string> Missing => _missing;

    /// <summary>The items that were found.</summary>
    public ItemSet Items
    {
        get
        {
            if (_found is { } found) _items = _items.Union(ItemSet.FromWords(found, _items.Universe));
            _found = null;
            return _items;
        }
    }

    /// <summary>Looks for the next ones; gives whether all were looked for.</summary>
    public bool Step(int most)
    {
        for (var end = _looked + Math.Min(texts.Count - _looked, most); _looked < end; _looked++) Look(texts[_looked]);
        if (_looked < texts.Count) return false;
        if (!_isEdited || _passes == MostPasses) return true;
        // What was found may have gone meanwhile, and what was not may have come.
        (_looked, _isEdited) = (0, false);
        _passes++;
        _missing.Clear();
        return false;
    }

    /// <summary>Looks again for those that no item had, where an edit has come since.</summary>
    public void LookAgain()
    {
        if (!_isEdited) return;
        string[] missing = [.. _missing];
        _missing.Clear();
        foreach (var text in missing) Look(text);
    }

    private void Look(string text)
    {
        var index = indexOf(text);
        if (index < 0) _missing.Add(text);
        else (_found ??= new ulong[Bits.WordsFor(_items.Universe)])[index >>> 6] |= 1UL << (index & 63);
    }

    /// <summary>Takes what was found through an edit of the list.</summary>
    public void Follow(Edit edit) => (_items, _isEdited) = (edit.Apply(Items), true);
}
