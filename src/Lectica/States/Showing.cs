using System.Collections.Immutable;
using Lectica.Items;

namespace Lectica.States;

/// <summary>An item that stays in its section for a while after it should have left.</summary>
internal readonly record struct Lingerer(int Index, double Until);

/// <summary>Which items show, which of them are enabled and pinned, in which sections and order, and the rows that come of it.</summary>
internal sealed record Showing
{
    /// <summary>The items that the filter lets through.</summary>
    public required ItemSet Shown { get; init; }

    /// <summary>Whether there is a filter.</summary>
    public bool IsFiltered { get; init; }

    /// <summary>The items that are disabled.</summary>
    public required ItemSet Disabled { get; init; }

    /// <summary>The items that stay where they are.</summary>
    public required ItemSet Pinned { get; init; }

    /// <summary>The sections with all of their items; empty in a list without.</summary>
    public ImmutableArray<SectionRows> Sections { get; init; } = [];

    /// <summary>The keys of collapsed sections, also of some that are not there now.</summary>
    public ImmutableHashSet<string> Collapsed { get; init; } = [];

    /// <summary>The items that linger.</summary>
    public ImmutableArray<Lingerer> Lingering { get; init; } = [];

    /// <summary>The order in which items show; the source's where null.</summary>
    public IItemOrder? Order { get; init; }

    /// <summary>The places of the order whose items show.</summary>
    public ItemSet? ShownPlaces { get; init; }

    /// <summary>Another number whenever items have changed places in the order.</summary>
    public int OrderVersion { get; init; }

    /// <summary>The levels of an outline, and what is collapsed in it; null in a list without.</summary>
    public Branching? Branching { get; init; }

    /// <summary>
    /// The items that may not be selected: those that are disabled, and in an outline the way to what the filter lets through.
    /// </summary>
    public required ItemSet Barred { get; init; }

    /// <summary>What is told of the source, such as that it is loading.</summary>
    public Notice? Status { get; init; }

    /// <summary>Whether there is a source.</summary>
    public bool HasSource { get; init; }

    /// <summary>The rows.</summary>
    public required RowMap Rows { get; init; }

    /// <summary>No items, and no source yet.</summary>
    public static Showing Nothing(Phrases phrases) => new()
    {
        Shown = ItemSet.None(0),
        Disabled = ItemSet.None(0),
        Pinned = ItemSet.None(0),
        Barred = ItemSet.None(0),
        Rows = new(ItemSet.None(0), new(NoticeKind.NoSource, phrases.NoSource)),
    };

    /// <summary>When the first lingering item leaves, ms.</summary>
    public double? Due => Lingering.IsEmpty ? null : Lingering.Min(l => l.Until);

    /// <summary>The same after an edit, before the app is asked about what came in: that shows, and is enabled, in no section.</summary>
    public Showing After(Edit edit) => this with
    {
        Shown = edit.Apply(Shown, inserted: true),
        Disabled = edit.Apply(Disabled),
        Pinned = edit.Apply(Pinned),
        Branching = Branching?.After(edit),
        Sections = [.. Sections.Select(s => s with { Members = edit.Apply(s.Members) })],
        Lingering = [.. Lingering.Select(l => l with { Index = edit.Apply(l.Index) }).Where(l => l.Index >= 0)],
    };

    /// <summary>Makes the rows, where what they come of is another.</summary>
    public static Showing Settle(ListState before, ListState now, in Settling how)
    {
        Showing old = before.Showing, next = now.Showing;
        if (next.Branching is { } branching && (!ReferenceEquals(branching.Shown, next.Shown) || branching.IsFiltered != next.IsFiltered))
            next = next with { Branching = branching.For(next.Shown, next.IsFiltered) };
        var barred = next.BarredNow(old);
        if (next.HasRowsOf(old) && before.Footer.HasRow == now.Footer.HasRow)
            return ReferenceEquals(barred, next.Barred) ? next : next with { Barred = barred };
        var hasNotices = next.Status is null && next.HasSource;
        if (next.Branching is { } outline)
            return next with { Barred = barred, Rows = new(outline, next.NoticeNow(how.Options.Phrases), now.Footer.HasRow) };
        return next with
        {
            Barred = barred,
            Rows = new(next.Shown, next.NoticeNow(how.Options.Phrases), next.SectionsNow(hasNotices), next.Order, next.ShownPlaces,
                now.Footer.HasRow),
        };
    }

    private ImmutableArray<SectionRows> SectionsNow(bool hasNotices) =>
        [.. Sections.Select(s => s with { IsCollapsed = Collapsed.Contains(s.Key), Empty = hasNotices ? s.Empty : null })];

    private ItemSet BarredNow(Showing old) => Branching is not { Ways: { IsEmpty: false } ways } ? Disabled
        : ReferenceEquals(Disabled, old.Disabled) && ReferenceEquals(ways, old.Branching?.Ways) ? old.Barred : Disabled.Union(ways);

    private bool HasRowsOf(Showing other) =>
        ReferenceEquals(Rows, other.Rows) && ReferenceEquals(Shown, other.Shown) && Sections == other.Sections
        && ReferenceEquals(Collapsed, other.Collapsed)
        && ReferenceEquals(Branching, other.Branching)
        && ReferenceEquals(ShownPlaces, other.ShownPlaces) && OrderVersion == other.OrderVersion && ReferenceEquals(Order, other.Order)
        && Status == other.Status && HasSource == other.HasSource;

    private Notice NoticeNow(Phrases phrases) =>
        Shown.Universe > 0 ? new(NoticeKind.NothingMatches, phrases.NothingMatches)
        : Status ?? (HasSource ? new(NoticeKind.Empty, phrases.Empty) : new(NoticeKind.NoSource, phrases.NoSource));
}
