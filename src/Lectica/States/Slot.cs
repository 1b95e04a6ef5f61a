using Lectica.Acts;
using Lectica.Items;

namespace Lectica.States;

/// <summary>Under what a state settles.</summary>
/// <param name="Options">How the list behaves.</param>
/// <param name="Edit">The edit of the source that it follows; null where there was none.</param>
/// <param name="HoldsScroll">Whether rows that come and go above the window may shift what is looked at: what users move they follow with
/// their eyes.</param>
/// <param name="Act">The act that changed it; null where none did.</param>
internal readonly record struct Settling(ListOptions Options, Edit? Edit, bool HoldsScroll, Act? Act = null);

/// <summary>
/// One concern of a list's state, as the commit sees it. It writes to a draft alone: a copy that nobody else has, of what is to be the
/// next state.
/// </summary>
internal abstract class Slot(string name)
{
    /// <summary>The name of its property.</summary>
    public string Name { get; } = name;

    /// <summary>Takes this slot of a draft through an edit.</summary>
    public abstract void Follow(ListState draft, Edit edit);

    /// <summary>
    /// Puts this slot right for the others as they are now. Those before it in the list have settled already.
    /// </summary>
    /// <param name="before">The state before.</param>
    /// <param name="given">The next state as it was given; null where that is a draft already.</param>
    /// <param name="draft">The same, or a draft of it where something had to be put right.</param>
    /// <param name="how">Under what it settles.</param>
    public abstract void Settle(ListState before, ListState? given, ref ListState draft, in Settling how);

    /// <summary>When something is to happen to it by itself, ms; null where nothing is.</summary>
    public abstract double? Due(ListState state);

    /// <summary>Whether it is the same in both.</summary>
    public abstract bool Same(ListState one, ListState other);

    /// <summary>Whether a frame shows it the same in both.</summary>
    public abstract bool LooksSame(ListState one, ListState other);

    /// <summary>Adds the list's properties that are others now.</summary>
    public abstract void Changed(ListState before, ListState now, ISet<string> properties);
}

/// <summary>A slot of one type.</summary>
/// <param name="name">The name of its property.</param>
/// <param name="field">Where a state keeps it.</param>
internal sealed class Slot<T>(string name, Slot<T>.Place field) : Slot(name)
{
    /// <summary>Where a state keeps a slot.</summary>
    public delegate ref T Place(ListState state);

    /// <summary>Gives what a slot settles to, by the state before and the draft of the next.</summary>
    public delegate T Settler(ListState before, ListState now, in Settling how);

    /// <summary>What it is after an edit; null for one that holds nothing by index.</summary>
    public Func<T, Edit, T>? FollowedBy { get; init; }

    /// <summary>What it settles to; null for one that no other has a say in.</summary>
    public Settler? SettledBy { get; init; }

    /// <summary>When it is due; null for one that never is.</summary>
    public Func<T, double?>? DueAt { get; init; }

    /// <summary>Adds the properties that differ; null for one that no property shows.</summary>
    public Action<T, T, ISet<string>>? Tells { get; init; }

    /// <summary>Whether a frame shows two of them the same; null for one of which it shows any difference.</summary>
    public Func<T, T, bool>? Draws { get; init; }

    public override void Follow(ListState draft, Edit edit)
    {
        if (FollowedBy is null) return;
        ref var slot = ref field(draft);
        slot = FollowedBy(slot, edit);
    }

    public override void Settle(ListState before, ListState? given, ref ListState draft, in Settling how)
    {
        if (SettledBy is null) return;
        var settled = SettledBy(before, draft, how);
        if (Same(field(draft), settled)) return;
        if (ReferenceEquals(draft, given)) draft = given.Draft();
        field(draft) = settled;
    }

    public override double? Due(ListState state) => DueAt?.Invoke(field(state));

    public override bool Same(ListState one, ListState other) => Same(field(one), field(other));

    private static bool Same(T one, T other) =>
        typeof(T).IsValueType ? EqualityComparer<T>.Default.Equals(one, other) : ReferenceEquals(one, other);

    public override bool LooksSame(ListState one, ListState other) => Same(one, other) || Draws?.Invoke(field(one), field(other)) == true;

    public override void Changed(ListState before, ListState now, ISet<string> properties)
    {
        if (Tells is not null && !Same(before, now)) Tells(field(before), field(now), properties);
    }
}
