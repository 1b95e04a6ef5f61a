namespace Lectica.Items;

/// <summary>
/// A moment in a list's life, and through it the edits that have come since. Whoever keeps an index or a set for later keeps the moment
/// with it, and carries it through those edits when it is needed: no edit has to look for what is kept. Moments that nobody holds are let
/// go; but one that is held keeps all edits since, so that nobody holds one for more than <see cref="Longest"/> of them.
/// </summary>
internal sealed class EditLog
{
    /// <summary>How many edits a moment that is kept may be back.</summary>
    public const int Longest = 65_536;

    private Edit? _edit;
    private EditLog? _next;

    /// <summary>How many edits have come before it.</summary>
    public long Number { get; private init; }

    /// <summary>The next moment, after an edit. Only the present one has none yet.</summary>
    public EditLog After(Edit edit)
    {
        (_edit, _next) = (edit, new() { Number = Number + 1 });
        return _next;
    }

    /// <summary>Whether nothing was edited since.</summary>
    public bool IsNow => _next is null;

    /// <summary>The present moment.</summary>
    public EditLog Last
    {
        get
        {
            var at = this;
            while (at._next is { } next) at = next;
            return at;
        }
    }

    /// <summary>The edit since, where there has been one alone; else null.</summary>
    public Edit? OnlyEdit => _next is { IsNow: true } ? _edit : null;

    /// <summary>The edits since, in order.</summary>
    public IEnumerable<Edit> Since()
    {
        for (var at = this; at._next is { } next; at = next) yield return at._edit!;
    }

    /// <summary>Where an item of that moment is now, or -1 if it has left.</summary>
    public int Carry(int index)
    {
        for (var at = this; index >= 0 && at._next is { } next; at = next) index = at._edit!.Apply(index);
        return index;
    }

    /// <summary>A set of items of that moment, as one of those that there are now.</summary>
    public ItemSet Carry(ItemSet items)
    {
        for (var at = this; at._next is { } next; at = next) items = at._edit!.Apply(items);
        return items;
    }
}
