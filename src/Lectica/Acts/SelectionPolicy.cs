namespace Lectica.Acts;

/// <summary>
/// What a selection mode allows, as two numbers: how many items are selected at least, as long as there are any to choose from, and at
/// most. All that depends on the mode is asked of this; a mode is a line in <see cref="For"/>.
/// </summary>
/// <param name="Mode">The mode.</param>
/// <param name="Least">How many are selected at least, where there are so many that can be.</param>
/// <param name="Most">How many may be selected at once.</param>
public sealed record SelectionPolicy(SelectionMode Mode, int Least, int Most)
{
    private static readonly SelectionPolicy[] All =
    [
        new(SelectionMode.None, 0, 0),
        new(SelectionMode.Single, 0, 1),
        new(SelectionMode.SingleRequired, 1, 1),
        new(SelectionMode.Multiple, 0, int.MaxValue),
    ];

    /// <summary>The policy of a mode.</summary>
    /// <exception cref="ArgumentOutOfRangeException">There is no such mode.</exception>
    public static SelectionPolicy For(SelectionMode mode)
    {
        foreach (var policy in All)
            if (policy.Mode == mode) return policy;
        throw new ArgumentOutOfRangeException(nameof(mode), mode, "There is no such selection mode.");
    }

    /// <summary>Whether items can be selected at all.</summary>
    public bool Selects => Most > 0;

    /// <summary>Whether one item can be selected, and no more: to select another is to let the first go.</summary>
    public bool SelectsOne => Most == 1;

    /// <summary>Whether more than one can be: ranges, select all, dragging over rows, and a state in which taps toggle.</summary>
    public bool SelectsMany => Most > 1;

    /// <summary>Whether nothing may be selected while there is something to choose.</summary>
    public bool MayBeEmpty => Least == 0;

    /// <summary>
    /// Why so many may not be selected; null where they may. What was over the limit before may stay, and what was missing too.
    /// </summary>
    /// <param name="count">How many would be.</param>
    /// <param name="before">How many were.</param>
    /// <param name="limit">The list's own limit, of a mode that selects many.</param>
    public Refusal? Check(int count, int before, int limit)
    {
        if (!Selects) return count > 0 ? NothingSelects : null;
        if (SelectsOne && count > 1) return new(RefusalKind.Mode, $"This list selects one item, not {count}.");
        if (count < Least && before >= Least)
            return new(RefusalKind.Required, $"{(Least == 1 ? "One item" : $"{Least} items")} must stay selected.");
        var most = Math.Min(limit, Most);
        return SelectsMany && count > most && count > before
            ? new(RefusalKind.Limit, $"At most {most} items may be selected; this would make {count}.") { Most = most } : null;
    }

    /// <summary>Why an act that selects many is refused; null where many can be selected.</summary>
    /// <param name="what">What only a list that selects many does, such as <c>can select all of them</c>.</param>
    public Refusal? CheckMany(string what) => SelectsMany ? null : new(RefusalKind.Mode, $"Only a list that selects many items {what}.");

    /// <summary>Why a list refuses to select at all.</summary>
    internal static Refusal NothingSelects { get; } = new(RefusalKind.Mode, "This list selects nothing: its mode is none.");
}
