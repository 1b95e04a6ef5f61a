using Lectica.Items;
using Lectica.Selecting;

namespace Lectica.States;

/// <summary>What a list that is not all in memory has read, and could not read; and what is selected of it, as it was said.</summary>
/// <param name="Version">Another number whenever other items are at hand.</param>
/// <param name="Failed">The items that could not be read.</param>
/// <param name="Why">What the last one of them failed for, in words for users; null where none has.</param>
/// <param name="Terms">What is selected; null in a list that has all of its items.</param>
internal sealed record Reading(long Version, ItemSet Failed, string? Why, SelectionTerms? Terms)
{
    /// <summary>Which of its items the source lets show, as it has told; null for all.</summary>
    public object? Scope { get; init; }

    /// <summary>How often something else was selected, or the cursor taken elsewhere, by an act or a call: not by the source.</summary>
    public int Choices { get; init; }

    /// <summary>All items are at hand.</summary>
    public static Reading AllInMemory { get; } = new(0, ItemSet.None(0), null, null);

    /// <summary>Whether items may be at hand or not.</summary>
    public bool IsPaged => Terms is not null;

    public Reading After(Edit edit) => Terms is null ? this : this with { Failed = edit.Apply(Failed), Terms = Terms.After(edit) };

    /// <summary>What is selected is said as the act meant it; what an edit brought about, as the places are now.</summary>
    public static Reading Settle(ListState before, ListState now, in Settling how)
    {
        var reading = now.Reading;
        if (reading.Terms is not { } terms) return reading;
        var sections = now.Showing.Sections;
        if (how.Edit is null)
        {
            // What the source tells comes with terms of its own.
            if (before.Reading.Terms != terms) return reading;
            var next = terms.Follow(before.Selection, now.Selection, how.Act, sections);
            return ReferenceEquals(next, terms) && (how.Act is null || before.Selection.Cursor == now.Selection.Cursor) ? reading
                : reading with { Terms = next, Choices = reading.Choices + 1 };
        }
        return terms.Now.Resolve(now.Count, sections).Equals(now.Selection.Items) ? reading
            : reading with { Terms = terms.Restated(now.Selection.Items) };
    }

    public static bool LooksSame(Reading one, Reading other) =>
        one.Version == other.Version && ReferenceEquals(one.Failed, other.Failed) && one.Why == other.Why;
}
