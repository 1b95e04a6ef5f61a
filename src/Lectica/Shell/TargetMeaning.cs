using System.Collections.Immutable;
using Lectica.Commands;
using Lectica.Items;
using Lectica.Selecting;
using Lectica.Sources;

namespace Lectica.Shell;

/// <summary>Some items of a paged list as they were said at a moment, with the items that are named in it.</summary>
/// <param name="source">The source.</param>
/// <param name="said">What was said.</param>
/// <param name="named">The items that have been read for its ends.</param>
/// <param name="keyOf">The key of an item.</param>
/// <param name="scope">Which items showed.</param>
internal sealed class TargetMeaning<TItem, TKey>(IPagedSource<TItem, TKey> source, TermList said,
    ImmutableDictionary<long, (TItem Item, TKey Key)> named, Func<TItem, TKey> keyOf, object? scope) : ITargetMeaning<TItem, TKey>
{
    private Condition<TItem, TKey>? _condition;

    public Condition<TItem, TKey>? Condition => _condition ??= Make(named, out _);

    public int UnreadEnd => Make(named, out var missing) is null ? missing!.Index : -1;

    public async Task<Condition<TItem, TKey>> ConditionAsync(CancellationToken cancellation)
    {
        if (Condition is { } known) return known;
        var all = named;
        while (true)
        {
            if (Make(all, out var missing) is { } condition) return _condition = condition;
            var answer = await source.AskAsync(new() { Stretches = [new(missing!.Index, 1)] }, cancellation).ConfigureAwait(false);
            if (!Equals(answer.Scope, scope))
                throw new SourceAnswerException("It lets other items show than when these were selected. Select them again.");
            if (answer.Pages is not [{ Items: [var item] }])
                throw new SourceAnswerException($"It was asked for the item at {missing.Index} and gave none.");
            all = all.SetItem(missing.Id, (item, keyOf(item)));
        }
    }

    private Condition<TItem, TKey>? Make(ImmutableDictionary<long, (TItem Item, TKey Key)> known, out Bound? missing)
    {
        missing = null;
        var terms = ImmutableArray.CreateBuilder<ConditionTerm<TItem, TKey>>(said.Terms.Count);
        foreach (var term in said.Terms)
        {
            if (term.Section is { } section)
            {
                terms.Add(new(TermKind.Section, term.IsIn) { Section = section });
                continue;
            }
            // What had left before it was read is nowhere.
            var isEmpty = term.IsKey ? term.From!.Index < 0 : term.From!.Index > term.To!.Index;
            if (isEmpty && !(known.ContainsKey(term.From.Id) && known.ContainsKey(term.To!.Id))) continue;
            if (!known.TryGetValue(term.From!.Id, out var from)) missing = term.From;
            else if (term.IsKey) terms.Add(new(TermKind.Key, term.IsIn) { Key = from.Key });
            else if (known.TryGetValue(term.To!.Id, out var to))
                terms.Add(new(TermKind.Interval, term.IsIn) { From = new(from.Item), To = new(to.Item) });
            else missing = term.To;
            if (missing is not null) return null;
        }
        return new(source, said.IsAll, terms.DrainToImmutable()) { Scope = scope };
    }
}
