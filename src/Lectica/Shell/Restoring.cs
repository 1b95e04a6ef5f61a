using System.Collections.Immutable;
using Lectica.Items;

namespace Lectica.Shell;

/// <summary>A snapshot that a source is on its way back to: it has to say first where the items are that the snapshot names.</summary>
internal sealed class Restoring<TItem, TKey>(Core core, ItemStore<TItem, TKey> store) where TKey : notnull
{
    // Where the keys that it names are, as far as they have been found; -1 where they are not there any more.
    private readonly Dictionary<string, int> _foundAt = [];
    private ListSnapshot? _snapshot;

    // What there was of acts and of scrolling when it began: whoever does something meanwhile is not taken away from it.
    private int _choices;
    private double _scrollTop;

    /// <summary>Whether there is one.</summary>
    public bool IsWanted => _snapshot is not null;

    /// <summary>Puts an item as far past the top as it was.</summary>
    public Action<int, double> Scroll { get; set; } = (_, _) => { };

    /// <summary>Begins with a snapshot, or gives up where null.</summary>
    public void Begin(ListSnapshot? snapshot)
    {
        (_snapshot, _choices, _scrollTop) = (snapshot, core.State.Reading.Choices, core.Viewport.ScrollTop);
        Forget();
    }

    /// <summary>The source has changed: all of its keys have to be found again.</summary>
    public void Forget() => _foundAt.Clear();

    /// <summary>The keys whose places are still to be found.</summary>
    public ImmutableArray<TKey> Keys()
    {
        var keys = ImmutableArray.CreateBuilder<TKey>();
        foreach (var text in RememberedTerms.KeysIn(_snapshot!).OfType<string>().Distinct().Where(t => !_foundAt.ContainsKey(t)))
            if (core.App.Ask(t => store.Texts.TryRead(t, out var key) ? (Key: key, IsKey: true) : default, text) is { IsKey: true } read)
                keys.Add(read.Key);
            // What is no key is nowhere.
            else _foundAt[text] = -1;
        return keys.DrainToImmutable();
    }

    /// <summary>
    /// Takes what was found, and all of it as soon as it is complete: what would have taken too long at once is asked for again by itself,
    /// for as long as any of it is found. What is not there any more is left out.
    /// </summary>
    public void Take(ImmutableArray<TKey> keys, ImmutableArray<int?> places)
    {
        for (var i = 0; i < keys.Length; i++)
            if (places[i] is { } place) _foundAt[store.TextOf(keys[i])] = place < store.Count ? place : -1;
        if (places.Any(p => p is null) && places.Any(p => p is not null)) return;
        var (snapshot, state) = (_snapshot!, core.State);
        _snapshot = null;
        if (state.Reading.Choices != _choices) return;
        var restored = PagedSelection<TItem, TKey>.With(state, RememberedTerms.Read(snapshot, _foundAt, state.Reading.Terms!.Next));
        core.Commit(
            restored with { Selection = restored.Selection with { Cursor = Place(snapshot.Cursor), Anchor = Place(snapshot.Anchor) } },
            cause: "restore");
        if (core.Viewport.ScrollTop == _scrollTop && Place(snapshot.FirstRow) is >= 0 and var row) Scroll(row, snapshot.FirstRowOffset);

        int Place(string? key) => key is not null && _foundAt.TryGetValue(key, out var place) ? place : -1;
    }
}
