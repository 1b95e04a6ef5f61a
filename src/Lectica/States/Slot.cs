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

/// <summary>One concern of a list's state, as the commit sees it.</summary>
internal abstract class Slot(string name)
{
    /// <summary>The name of its property.</summary>
    public string Name { get; } = name;

    /// <summary>The state with this slot taken through an edit.</summary>
    public abstract ListState After(ListState state, Edit edit);

    /// <summary>
    /// The state with this slot put right for the others as they are now. Those before it in the list have settled already.
    /// </summary>
    public abstract ListState Settle(ListState before, ListState now, in Settling how);

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
/// <param name="get">Gets it.</param>
/// <param name="with">The state with another one.</param>
/// <param name="follow">What it is after an edit.</param>
/// <param name="settle">What it settles to, given the state before and the one now.</param>
/// <param name="due">When it is due.</param>
/// <param name="changed">Adds the properties that differ.</param>
/// <param name="looksSame">Whether a frame shows two of them the same; only the same where null.</param>
internal sealed class Slot<T>(
    string name, Func<ListState, T> get, Func<ListState, T, ListState> with, Func<T, Edit, T> follow, Slot<T>.Settler settle, Func<T, double?> due,
    Action<T, T, ISet<string>> changed, Func<T, T, bool>? looksSame = null) : Slot(name)
{
    /// <summary>Puts a slot right.</summary>
    public delegate T Settler(ListState before, ListState now, in Settling how);

    public override ListState After(ListState state, Edit edit) => Put(state, follow(get(state), edit));

    public override ListState Settle(ListState before, ListState now, in Settling how) => Put(now, settle(before, now, how));

    public override double? Due(ListState state) => due(get(state));

    public override bool Same(ListState one, ListState other) => Same(get(one), get(other));

    public override bool LooksSame(ListState one, ListState other) => Same(one, other) || looksSame?.Invoke(get(one), get(other)) == true;

    public override void Changed(ListState before, ListState now, ISet<string> properties)
    {
        if (!Same(before, now)) changed(get(before), get(now), properties);
    }

    private ListState Put(ListState state, T value) => Same(get(state), value) ? state : with(state, value);

    private static bool Same(T one, T other) => typeof(T).IsValueType ? EqualityComparer<T>.Default.Equals(one, other) : ReferenceEquals(one, other);
}
