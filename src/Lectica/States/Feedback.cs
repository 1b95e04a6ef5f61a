using System.Collections.Immutable;
using Lectica.Frames;
using Lectica.Items;

namespace Lectica.States;

/// <summary>A text that shows on an item's row for a moment.</summary>
internal readonly record struct Flash(int Index, string Text, double Until);

/// <summary>The flashes that show, at most one on each item. Cost: log for one more of them, and for what shows on an item.</summary>
internal sealed class Flashes
{
    private readonly ImmutableSortedDictionary<int, Flash> _byItem;

    private Flashes(ImmutableSortedDictionary<int, Flash> byItem, double first) => (_byItem, First) = (byItem, first);

    public static Flashes None { get; } = new(ImmutableSortedDictionary<int, Flash>.Empty, double.PositiveInfinity);

    /// <summary>When the first of them is over, ms; or earlier, where that has been replaced.</summary>
    public double First { get; }

    public bool IsEmpty => _byItem.IsEmpty;

    /// <summary>All, by their items.</summary>
    public IEnumerable<Flash> All => _byItem.Values;

    /// <summary>What shows on an item; null where nothing does.</summary>
    public string? TextOn(int index) => _byItem.TryGetValue(index, out var flash) ? flash.Text : null;

    /// <summary>With one more, in place of the one on its item.</summary>
    public Flashes With(Flash flash) => new(_byItem.SetItem(flash.Index, flash), Math.Min(First, flash.Until));

    /// <summary>Those on the items that an edit leaves.</summary>
    public Flashes After(Edit edit) =>
        IsEmpty ? this : Of(All.Select(f => f with { Index = edit.Apply(f.Index) }).Where(f => f.Index >= 0));

    /// <summary>Those that are not over at a time.</summary>
    public Flashes At(double time) => First > time ? this : Of(All.Where(f => f.Until > time));

    public static Flashes Of(IEnumerable<Flash> flashes)
    {
        var left = flashes.ToImmutableSortedDictionary(f => f.Index, f => f);
        return left.IsEmpty ? None : new(left, left.Values.Min(f => f.Until));
    }
}

/// <summary>What a notice offers to try again: a command that failed, on what is left of its items.</summary>
internal sealed record Retrial(string Id, bool IsWhole, ItemSet Items);

/// <summary>What shows for a moment: flashes on rows, and a brief notice.</summary>
/// <param name="Flashes">The flashes.</param>
/// <param name="Notice">The notice, or null.</param>
/// <param name="Step">What the notice offers to take back, or null.</param>
/// <param name="Retrial">What the notice offers to try again, or null.</param>
/// <param name="HeldSince">Since when the notice's time stands still, ms; null where it runs.</param>
internal sealed record Feedback(
    Flashes Flashes, BriefNotice? Notice, UndoStep? Step, Retrial? Retrial = null, double? HeldSince = null)
{
    public static Feedback Nothing { get; } = new(Flashes.None, null, null);

    /// <summary>When the first of it is over, ms.</summary>
    public double? Due
    {
        get
        {
            var next = Math.Min(Flashes.First, HeldSince is null && Notice is { } notice ? notice.Until : double.PositiveInfinity);
            return double.IsPositiveInfinity(next) ? null : next;
        }
    }

    public Feedback After(Edit edit) => Flashes.IsEmpty && Retrial is null ? this : this with
    {
        Flashes = Flashes.After(edit),
        Retrial = Retrial is null ? null : Retrial with { Items = edit.Apply(Retrial.Items) },
    };

    /// <summary>What is left of it at a time.</summary>
    public Feedback At(double time)
    {
        return Due <= time ? Left(time) : this;
    }

    private Feedback Left(double time)
    {
        var flashes = Flashes.At(time);
        return HeldSince is null && Notice?.Until <= time ? new(flashes, null, null) : this with { Flashes = flashes };
    }
}
