using System.Collections.Immutable;
using Lectica.Items;

namespace Lectica.Shell;

/// <summary>
/// A snapshot on its way back: the items of its keys are looked for some at a time. It also knows how the list was when that began, so
/// that what is done to it meanwhile stays.
/// </summary>
internal sealed class SnapshotReturn(ListSnapshot snapshot, double scrollTop)
{
    public ListSnapshot Snapshot => snapshot;

    /// <summary>How far the list was scrolled when it began, px.</summary>
    public double ScrollTop => scrollTop;

    /// <summary>What is selected; null of a list that is not in memory, which looks for it by itself.</summary>
    public Set? Selected { get; init; }

    /// <summary>What is expanded; null in a list without levels, or where the snapshot does not say.</summary>
    public Set? Expanded { get; init; }

    /// <summary>The marks that the list keeps, by name.</summary>
    public ImmutableDictionary<string, Set> Marks { get; init; } = [];

    private IEnumerable<Set> Sets => Marks.Values.Append(Selected).Append(Expanded).OfType<Set>();

    /// <summary>Looks for the next keys; gives whether all were looked for.</summary>
    public bool Step(int count = KeySearch.Few)
    {
        foreach (var set in Sets)
            if (!set.Keys.Step(count)) return false;
        return true;
    }

    /// <summary>Whether the items have become others without an edit, as where another source is shown.</summary>
    public bool IsLost { get; private set; }

    /// <summary>Takes what was found through an edit of the list.</summary>
    public void Follow(Edit edit)
    {
        IsLost |= Selected?.Items.Universe is { } length && length != edit.OldLength;
        if (IsLost) return;
        foreach (var set in Sets) set.Follow(edit);
    }

    /// <summary>Looks again for keys that no item had: edits may have brought theirs.</summary>
    public void LookAgain()
    {
        foreach (var set in Sets) set.Keys.LookAgain();
    }

    /// <summary>A set of items that the snapshot has.</summary>
    /// <param name="keys">The search for them.</param>
    /// <param name="before">The items that were in it when the search began.</param>
    public sealed class Set(KeySearch keys, ItemSet before)
    {
        private ItemSet _before = before;

        public KeySearch Keys => keys;

        /// <summary>The items that are to be in it.</summary>
        public ItemSet Items => keys.Items;

        /// <summary>Whether these are the items that were in it when the search began: nobody has done anything to it since.</summary>
        public bool Was(ItemSet now) => _before.Equals(now);

        public void Follow(Edit edit)
        {
            keys.Follow(edit);
            _before = edit.Apply(_before);
        }
    }
}
