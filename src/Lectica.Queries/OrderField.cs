using System.Linq.Expressions;
using Microsoft.EntityFrameworkCore.Query;

namespace Lectica.Queries;

/// <summary>One field of an order, whatever its type.</summary>
internal interface IOrderField<TItem>
{
    /// <summary>The field as it was given.</summary>
    LambdaExpression Field { get; }

    /// <summary>Sorts by it, first or after others; the other way round by <paramref name="backwards"/>.</summary>
    IOrderedQueryable<TItem> Sort(IQueryable<TItem> query, bool isFirst, bool backwards);

    /// <summary>Its value of an item.</summary>
    object? ValueOf(TItem item);

    /// <summary>That an item's value is the same.</summary>
    Expression Equal(Expression item, object? value);

    /// <summary>That an item's value comes after a value, or before it, in this order.</summary>
    /// <param name="item">The item.</param>
    /// <param name="value">The value.</param>
    /// <param name="isAfter">Whether it comes after.</param>
    /// <param name="areNullsSmall">Whether the database takes null for smaller than all else; else for larger.</param>
    Expression Beyond(Expression item, object? value, bool isAfter, bool areNullsSmall);
}

/// <summary>A field of an order.</summary>
internal sealed class OrderField<TItem, TField>(Expression<Func<TItem, TField>> selector, bool isDescending) : IOrderField<TItem>
{
    private readonly Func<TItem, TField> _get = selector.Compile(preferInterpretation: true);

    public LambdaExpression Field => selector;

    public IOrderedQueryable<TItem> Sort(IQueryable<TItem> query, bool isFirst, bool backwards) =>
        (isFirst, isDescending != backwards) switch
        {
            (true, false) => query.OrderBy(selector),
            (true, true) => query.OrderByDescending(selector),
            (false, false) => ((IOrderedQueryable<TItem>)query).ThenBy(selector),
            _ => ((IOrderedQueryable<TItem>)query).ThenByDescending(selector),
        };

    public object? ValueOf(TItem item) => _get(item);

    public Expression Equal(Expression item, object? value) => Expression.Equal(Of(item), Parameter.For((TField)value!));

    public Expression Beyond(Expression item, object? value, bool isAfter, bool areNullsSmall)
    {
        var larger = isAfter != isDescending;
        var field = Of(item);
        var mayBeNull = default(TField) is null;
        var isNull = mayBeNull ? Expression.Equal(field, Expression.Constant(null, typeof(TField))) : null;
        // Null comes after all else, as it is looked at now.
        var nullIsBeyond = larger != areNullsSmall;
        if (value is null) return nullIsBeyond ? Expression.Constant(false) : Expression.Not(isNull!);
        var beyond = Compare(field, Parameter.For((TField)value), larger);
        return nullIsBeyond && isNull is not null ? Expression.OrElse(beyond, isNull) : beyond;
    }

    private static BinaryExpression Compare(Expression left, Expression right, bool larger)
    {
        var type = Nullable.GetUnderlyingType(typeof(TField)) ?? typeof(TField);
        if (type.IsEnum)
        {
            var number = Enum.GetUnderlyingType(type);
            var as2 = typeof(TField) == type ? number : typeof(Nullable<>).MakeGenericType(number);
            (left, right) = (Expression.Convert(left, as2), Expression.Convert(right, as2));
        }
        // What has no operator of its own is compared by name, which providers translate to the same.
        if (type == typeof(string) || type == typeof(Guid) || type == typeof(bool))
        {
            var compared = type == typeof(string)
                ? Expression.Call(typeof(string), nameof(string.Compare), null, left, right)
                : Expression.Call(Plain(left, type), nameof(IComparable.CompareTo), null, Plain(right, type));
            var zero = Expression.Constant(0);
            return larger ? Expression.GreaterThan(compared, zero) : Expression.LessThan(compared, zero);
        }
        return larger ? Expression.GreaterThan(left, right) : Expression.LessThan(left, right);
    }

    private static Expression Plain(Expression value, Type type) => value.Type == type ? value : Expression.Property(value, "Value");

    private Expression Of(Expression item) => ReplacingExpressionVisitor.Replace(selector.Parameters[0], item, selector.Body);
}
