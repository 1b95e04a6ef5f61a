using System.Linq.Expressions;
using Lectica.Sources;
using Microsoft.EntityFrameworkCore;

namespace Lectica.Queries;

/// <summary>Conditions in queries: <c>db.Requests.Where(list.Selected.Condition).ExecuteDelete()</c>.</summary>
public static class ConditionExpressions
{
    /// <summary>The items that meet a condition, by one statement, whatever their number.</summary>
    /// <exception cref="ArgumentException">The condition is of a list over something else than a
    /// <see cref="QuerySource{TItem, TKey}"/>.</exception>
    public static IQueryable<TItem> Where<TItem, TKey>(this IQueryable<TItem> query, Condition<TItem, TKey> condition) where TItem : class
        where TKey : notnull
    {
        ArgumentNullException.ThrowIfNull(query);
        return query.Where(condition.ToExpression());
    }

    /// <summary>
    /// The condition as an expression that providers translate. What is compared is parameters; its size goes with what the user did, not
    /// with how many items are meant.
    /// </summary>
    /// <exception cref="ArgumentException">The condition is of a list over something else than a
    /// <see cref="QuerySource{TItem, TKey}"/>.</exception>
    public static Expression<Func<TItem, bool>> ToExpression<TItem, TKey>(this Condition<TItem, TKey> condition) where TItem : class
        where TKey : notnull
    {
        ArgumentNullException.ThrowIfNull(condition);
        return condition.Source is QuerySource<TItem, TKey> source ? source.ExpressionOf(condition)
            : throw new ArgumentException(
            $"The condition is of a list over {condition.Source.GetType().Name}, and not over a QuerySource: only such a one has its " +
                "order as expressions.", nameof(condition));
    }
}
