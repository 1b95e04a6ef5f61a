namespace Lectica.Items;

/// <summary>
/// Where items were, for whoever may put them back: places that follow every edit since. They are kept in one list of the items that are
/// there and of those places, so that each stays between the neighbours that it had for as long as these stay where they are. Edits are
/// followed when a place is asked for.
/// </summary>
internal sealed class KeptPlaces
{
    private EditLog _moment;

    // Over the list of both: the items whose place is kept when they leave, and the places.
    private ItemSet _targets, _places;

    // The items that the next edit puts elsewhere: a place does not go along with its own item. Their places are made when it is followed.
    private ItemSet? _leaving;

    // Whether places belong to items that are known, and to which, by their numbers among those that were given: null where each is the one
    // of its own number. Else they belong to those that leave, in order.
    private bool _isOwned;
    private int[]? _owners;

    private KeptPlaces(EditLog moment, ItemSet targets, ItemSet places, bool isOwned) =>
        (_moment, _targets, _places, _isOwned) = (moment, targets, places, isOwned);

    /// <summary>The places of items that are there now, for when they leave.</summary>
    public static KeptPlaces Of(ItemSet items, EditLog moment) => new(moment, items, ItemSet.None(items.Universe), isOwned: false);

    /// <summary>
    /// The places of items that are there now and stay, but are about to be put elsewhere: the edit that does it is the next.
    /// </summary>
    public static KeptPlaces Before(ItemSet items, EditLog moment) =>
        new(moment, ItemSet.None(items.Universe), ItemSet.None(items.Universe), isOwned: true) { _leaving = items };

    /// <summary>One gap.</summary>
    public static KeptPlaces At(int gap, int length, EditLog moment) =>
        new(moment, ItemSet.None(length + 1), ItemSet.None(length + 1).With(gap), isOwned: true);

    /// <summary>
    /// The items where they were, and the move that put them elsewhere, where that is all that has come since: the places need not be
    /// looked for then. Null where anything else has come.
    /// </summary>
    public (ItemSet Items, Edit Move)? OnlyMove =>
        _leaving is { } items && _moment.OnlyEdit is { } edit && edit.OnlyMoves(items) ? (items, edit) : null;

    /// <summary>For each place, in order, the gap between the items that are there.</summary>
    public int[] Gaps
    {
        get
        {
            CatchUp();
            if (_leaving is { } stillThere) return stillThere.ToArray();
            var gaps = _places.ToArray();
            for (var k = 0; k < gaps.Length; k++) gaps[k] -= k;
            return gaps;
        }
    }

    /// <summary>Whether each place belongs to one of the items that were given; else to those that leave, in order.</summary>
    public bool HasOwners => _isOwned;

    /// <summary>
    /// The gap of one of the items, by its number, where all have left: of those that lay together it is the same, since nothing comes
    /// between places. -1 where it is not known at once. Cost: log.
    /// </summary>
    public int GapOf(int number)
    {
        CatchUp();
        return _isOwned && _owners is null && _leaving is null && number < _places.Count ? _places.Nth(number) - number : -1;
    }

    /// <summary>To which item each place belongs; null where each belongs to the one of the same number, or to none.</summary>
    public int[]? Owners
    {
        get
        {
            CatchUp();
            return _owners;
        }
    }

    /// <summary>
    /// Those that have left are known now: the places are theirs, and none is kept for an item that has stayed and leaves later.
    /// </summary>
    /// <param name="left">Their numbers. Where others have places too, having come back, neither has one any more.</param>
    public void Close(ItemSet left)
    {
        CatchUp();
        (_isOwned, _owners) = (true, left.IsAll ? null : left.ToArray());
        if (_places.Count != left.Count) (_places, _owners) = (ItemSet.None(_places.Universe - _places.Count), []);
        _targets = ItemSet.None(_places.Universe);
    }

    private void CatchUp()
    {
        if (_moment.IsNow) return;
        foreach (var edit in _moment.Since()) Follow(edit);
        _moment = _moment.Last;
    }

    private void Follow(Edit edit)
    {
        if (_leaving is { } items)
        {
            _places = ItemSet.Of(items.Universe + items.Count, items.Select((item, k) => item + k));
            _targets = ItemSet.None(_places.Universe);
        }
        if (edit.AsSplice is { } splice) Splice(splice.At, splice.Removed, splice.Inserted);
        else if (edit.Moved is { } moved)
        {
            var both = Spread(moved);
            var gap = Gap(edit.GapOfMove);
            (_targets, _places) = (_targets.Move(both, gap), _places.Move(both, gap));
        }
        else Remap(edit);
        _leaving = null;
    }

    private void Splice(int at, int removed, int inserted)
    {
        if (removed > 64)
        {
            // Many at once: those that leave without a place are taken out together.
            var leaving = Spread(ItemSet.None(_places.Universe - _places.Count).WithRange(at, removed));
            var kept = leaving.Intersect(_targets);
            var stays = leaving.Except(kept).Complement();
            _places = _places.Union(kept).Keep(stays);
            _targets = _targets.Keep(stays);
        }
        else
            for (; removed > 0; removed--)
            {
                // The rest closes up, so that the next one is at the same index.
                var both = _places.Complement().Nth(at);
                if (_targets.Contains(both)) _places = _places.With(both);
                else (_targets, _places) = (_targets.Splice(both, 1, 0), _places.Splice(both, 1, 0));
            }
        if (inserted == 0) return;
        var gap = Gap(at);
        (_targets, _places) = (_targets.Splice(gap, 0, inserted), _places.Splice(gap, 0, inserted));
    }

    private void Remap(Edit edit)
    {
        // Each place by its gap, and each target that leaves by its index; then all of them at the gaps that these have become.
        var items = _places.Complement();
        var gaps = new List<(int Gap, int Owner)>();
        var n = 0;
        foreach (var both in _places.Union(_targets))
        {
            var index = both - _places.Rank(both);
            if (_places.Contains(both))
            {
                if (_leaving is { } leaving) index = leaving.Complement().NextAt(index) is >= 0 and var stays ? stays : edit.OldLength;
                gaps.Add((edit.Gap(index), _owners is null ? n++ : _owners[n++]));
            }
            else if (edit.Apply(index) < 0) gaps.Add((edit.Gap(index), -1));
        }
        var order = gaps.Select((g, i) => (g.Gap, g.Owner, i)).OrderBy(g => g.Gap).ThenBy(g => g.i).ToList();
        // All places come into the list of both in one go, and each item that stays lies below those in its gap and above.
        IEnumerable<int> Below(ItemSet stay)
        {
            var k = 0;
            foreach (var item in stay)
            {
                while (k < order.Count && order[k].Gap <= item) k++;
                yield return item + k;
            }
        }
        var stay = edit.Apply(_targets.Keep(items));
        _places = ItemSet.Of(stay.Universe + order.Count, order.Select((o, k) => o.Gap + k));
        _targets = ItemSet.Of(_places.Universe, Below(stay));
        if (!_isOwned) _targets = _targets.Union(_places);
        else _owners = [.. order.Select(o => o.Owner)];
    }

    /// <summary>Where a gap between items is in the list of both: above the places that lie in it.</summary>
    private int Gap(int gap) => gap == 0 ? 0 : _places.Complement().Nth(gap - 1) + 1;

    /// <summary>A set of items as one of the list of both.</summary>
    private ItemSet Spread(ItemSet items)
    {
        foreach (var range in _places.Ranges()) items = items.Splice(range.Start, 0, range.Length);
        return items;
    }
}
