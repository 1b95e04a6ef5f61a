using System.Collections.Immutable;
using System.Linq.Expressions;

namespace Lectica.Queries;

/// <summary>A place in an order: the values of its fields, the key last.</summary>
internal sealed record Position(ImmutableArray<object?> Values);

/// <summary>
/// A total order: fields, and last the key. Which items lie before or after a place is said so that an index can be used.
/// </summary>
internal sealed record ItemOrdering<TItem>(ImmutableArray<IOrderField<TItem>> Fields)
{
    private static readonly ParameterExpression Item = Expression.Parameter(typeof(TItem), "item");

    /// <summary>The items in order, or the other way round.</summary>
    public IQueryable<TItem> Sort(IQueryable<TItem> query, bool backwards = false)
    {
        for (var i = 0; i < Fields.Length; i++) query = Fields[i].Sort(query, i == 0, backwards);
        return query;
    }

    public Position PositionOf(TItem item) => new([.. Fields.Select(f => f.ValueOf(item))]);

    /// <summary>
    /// The items after a place, or before it, as stretches one after the other from that place on: first those that differ in the last
    /// field alone. Each is one range of an index over the fields.
    /// </summary>
    public IEnumerable<Expression<Func<TItem, bool>>> Stretches(Position from, bool isAfter, bool areNullsSmall)
    {
        for (var last = Fields.Length - 1; last >= 0; last--)
        {
            var beyond = Fields[last].Beyond(Item, from.Values[last], isAfter, areNullsSmall);
            if (beyond is ConstantExpression { Value: false }) continue;
            yield return Lambda(And([.. Fields.Take(last).Select((f, i) => f.Equal(Item, from.Values[i])), beyond]));
        }
    }

    /// <summary>That an item is just at a place.</summary>
    public Expression<Func<TItem, bool>> At(Position place) => Lambda(And([.. Fields.Select((f, i) => f.Equal(Item, place.Values[i]))]));

    /// <summary>That an item lies from one place to another, both included.</summary>
    public Expression Between(Expression item, Position from, Position to, bool areNullsSmall) =>
        Expression.AndAlso(NotBeyond(item, from, false, areNullsSmall), NotBeyond(item, to, true, areNullsSmall));

    // At the place, or on the other side of it; the first field is said by itself too, for the index.
    private Expression NotBeyond(Expression item, Position place, bool isAfter, bool areNullsSmall)
    {
        Expression? inside = null;
        for (var i = Fields.Length - 1; i >= 0; i--)
        {
            var before = Fields[i].Beyond(item, place.Values[i], !isAfter, areNullsSmall);
            var equal = Fields[i].Equal(item, place.Values[i]);
            var rest = inside is null ? equal : Expression.AndAlso(equal, inside);
            inside = before is ConstantExpression { Value: false } ? rest : Expression.OrElse(before, rest);
        }
        if (Fields.Length == 1) return inside!;
        var first = Fields[0].Beyond(item, place.Values[0], !isAfter, areNullsSmall);
        var atFirst = Fields[0].Equal(item, place.Values[0]);
        return Expression.AndAlso(first is ConstantExpression { Value: false } ? atFirst : Expression.OrElse(first, atFirst), inside!);
    }

    private static Expression And(IReadOnlyList<Expression> all) => all.Aggregate(Expression.AndAlso);

    private static Expression<Func<TItem, bool>> Lambda(Expression body) => Expression.Lambda<Func<TItem, bool>>(body, Item);
}
