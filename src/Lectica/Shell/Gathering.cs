using Lectica.Items;
using Lectica.Selecting;

namespace Lectica.Shell;

/// <summary>
/// What the selection was when something began that is to be told as one change: a batch, a command that removes a thousand items one by
/// one, a single edit. The items that were there are kept in step with those that are, through any number of edits: through splices in one
/// list of both, in which those that have gone keep their places; another edit begins a new such list.
/// </summary>
internal sealed class Gathering<TItem, TKey>(Selection start)
{
    // So many leave one after the other; more all at once.
    private const int Few = 64;

    // The edit's own list where all have left by one edit: then it is only read.
    private Departed<TItem, TKey>? _left;
    private bool _isShared;

    // Where nothing was selected nothing can leave the selection: then nobody asks where items were.
    private readonly bool _hadNone = start.Items.IsEmpty;
    private bool _isEdited;

    // Over that one list: who was there when it began and has gone, and who has come since. Null until a splice comes.
    private ItemSet? _gone, _came;

    // The lists before, each with the edit that ended it; the latest last.
    private List<(ItemSet? Gone, ItemSet? Came, Edit By)>? _before;

    private ItemSet _followed = start.Items;

    /// <summary>What was selected at first, by the indexes of now.</summary>
    public ItemSet Followed => _hadNone && _isEdited ? ItemSet.None(_length) : _followed;

    // Now.
    private int _length = start.Items.Universe;

    /// <summary>Whether nothing was selected at first.</summary>
    public bool HadNone => _hadNone;

    /// <summary>How many items there were at first.</summary>
    public int FirstLength { get; } = start.Items.Universe;

    /// <summary>Whether the source was edited meanwhile.</summary>
    public bool HasEdits => _isEdited;

    /// <summary>The selected items that have left, by the indexes that they had at first.</summary>
    public Departed<TItem, TKey>? Left => _left;

    /// <summary>Takes it through an edit, with the items that leave by it.</summary>
    public void Follow(Edit edit, Departed<TItem, TKey> departed)
    {
        _isEdited = true;
        _length = edit.NewLength;
        if (_hadNone) return;
        var selected = _followed;
        if (edit.AsSplice is not { } splice)
        {
            for (var i = 0; i < departed.Count; i++)
                if (selected.Contains(departed.IndexAt(i))) Add(departed, i, FirstIndex(departed.IndexAt(i)));
            (_before ??= []).Add((_gone, _came, edit));
            (_gone, _came) = (null, null);
        }
        else
        {
            _gone ??= ItemSet.None(edit.OldLength);
            _came ??= ItemSet.None(edit.OldLength);
            var isFirst = _before is null && _gone.IsEmpty && _came.IsEmpty;
            var chosen = selected.CountIn(splice.At, splice.Removed);
            if (chosen > 0 && chosen == splice.Removed && isFirst && _left is null) (_left, _isShared) = (departed, true);
            else if (chosen > 0)
            {
                for (var i = 0; i < departed.Count; i++)
                    if (departed.IndexAt(i) is var index && (chosen == splice.Removed || selected.Contains(index)))
                        Add(departed, i, isFirst ? index : FirstIndex(index));
            }
            if (splice.Removed > Few)
            {
                // Those that leave, in the list of both; of them those that had come since leave no place.
                var leaving = ItemSet.None(edit.OldLength).WithRange(splice.At, splice.Removed);
                foreach (var range in _gone.Ranges()) leaving = leaving.Splice(range.Start, 0, range.Length);
                var (had, stays) = (leaving.Except(_came), leaving.Intersect(_came).Complement());
                (_gone, _came) = (_gone.Union(had).Keep(stays), _came.Keep(stays));
            }
            else
                for (var i = 0; i < splice.Removed; i++)
                {
                    // The rest closes up, so that the next one is at the same place.
                    var at = Both(splice.At);
                    if (!_came.Contains(at)) _gone = _gone.With(at);
                    else (_gone, _came) = (_gone.Splice(at, 1, 0), _came.Splice(at, 1, 0));
                }
            if (splice.Inserted > 0)
            {
                var at = Both(splice.At);
                (_gone, _came) = (_gone.Splice(at, 0, splice.Inserted), _came.Splice(at, 0, splice.Inserted, true));
            }
        }
        _followed = edit.Apply(_followed);
    }

    private void Add(Departed<TItem, TKey> departed, int number, int firstIndex)
    {
        if (_isShared) (_left, _isShared) = (_left!.Copy(), false);
        (_left ??= new()).Add(firstIndex, departed.Items[number], departed.Keys[number]);
    }

    /// <summary>The place in the list of both of an item that is there now, or of the end.</summary>
    private int Both(int index) => Both(_gone!, index);

    private static int Both(ItemSet gone, int index)
    {
        var here = gone.Complement();
        return index < here.Count ? here.Nth(index) : gone.Universe;
    }

    /// <summary>The index at first of an item that is there now and was there then.</summary>
    public int FirstIndex(int index)
    {
        index = IndexBefore(_gone, _came, index);
        for (var i = _before?.Count ?? 0; i > 0; i--)
        {
            var (gone, came, by) = _before![i - 1];
            index = IndexBefore(gone, came, by.Back(index));
        }
        return index;
    }

    // The index that it had when that list of both began.
    private static int IndexBefore(ItemSet? gone, ItemSet? came, int index)
    {
        if (gone is null) return index;
        var both = Both(gone, index);
        return both - came!.Rank(both);
    }
}
