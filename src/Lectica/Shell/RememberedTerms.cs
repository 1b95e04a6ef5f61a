using System.Collections.Immutable;
using Lectica.Selecting;
using Lectica.Sources;

namespace Lectica.Shell;

/// <summary>What is selected of a source that is not in memory, as a snapshot has it: by the keys of its ends, and back.</summary>
internal static class RememberedTerms
{
    /// <summary>What is written down.</summary>
    /// <param name="condition">What is selected.</param>
    /// <param name="textOf">The text of a key.</param>
    /// <param name="textAt">The text of the key of an item at an end.</param>
    public static SnapshotMeaning Write<TItem, TKey>(
        Condition<TItem, TKey> condition, Func<TKey, string> textOf, Func<TItem, string> textAt) where TKey : notnull =>
        new(condition.StartsWithAll, [.. condition.Terms.Select(t => t.Kind switch
        {
            TermKind.Key => new SnapshotTerm(t.IsIn, textOf(t.Key!)),
            TermKind.Section => new(t.IsIn, Section: t.Section),
            _ => new(t.IsIn, From: textAt(t.From!.Item), To: textAt(t.To!.Item)),
        })]);

    /// <summary>The keys whose places have to be known to read a snapshot; null where it names none.</summary>
    public static IEnumerable<string?> KeysIn(ListSnapshot snapshot) =>
        TermsIn(snapshot).SelectMany(t => new[] { t.Key, t.From, t.To })
            .Prepend(snapshot.FirstRow).Prepend(snapshot.Anchor).Prepend(snapshot.Cursor);

    /// <summary>What a snapshot says is selected. What is not there any more is left out; nobody is selected who was not.</summary>
    /// <param name="snapshot">The snapshot.</param>
    /// <param name="placeOf">Where the keys in it are now; -1 for one that has left, none for one that could not be found out.</param>
    /// <param name="next">The number of the next bound.</param>
    public static SelectionTerms Read(ListSnapshot snapshot, IReadOnlyDictionary<string, int> placeOf, long next)
    {
        var terms = ImmutableList.CreateBuilder<Term>();
        var isAll = snapshot.Meant?.All == true;
        foreach (var term in TermsIn(snapshot))
        {
            if (term.Section is not null) terms.Add(new(term.In, null, null, term.Section));
            else if (term is { Key: { } key } && placeOf.TryGetValue(key, out var at))
            {
                if (at >= 0 && new Bound(next++, at) is var one) terms.Add(new(term.In, one, one));
            }
            else if (term is { From: { } first, To: { } last } && placeOf.TryGetValue(first, out var from) && from >= 0
                && placeOf.TryGetValue(last, out var to) && to >= 0) terms.Add(new(term.In, new(next++, from), new(next++, to)));
            else if (!term.In)
            {
                // Whom it took out nobody can tell any more: of what was selected before it nothing is sure.
                terms.Clear();
                isAll = false;
            }
        }
        var list = new TermList(isAll, terms.ToImmutable());
        return new(list, list, next);
    }

    private static IEnumerable<SnapshotTerm> TermsIn(ListSnapshot snapshot) =>
        snapshot.Meant?.Terms ?? snapshot.Selected.Select(k => new SnapshotTerm(true, k));
}
