using System.Linq.Expressions;
using System.Reflection;

namespace Lectica.Queries;

/// <summary>A value as a parameter of a statement, never as part of its text.</summary>
internal static class Parameter
{
    // What a query captures becomes a parameter: a field of an object, as of any closure.
    private sealed class Captured<T>(T value)
    {
        public readonly T Value = value;
    }

    public static Expression For<T>(T value) => Expression.Field(Expression.Constant(new Captured<T>(value)), nameof(Captured<>.Value));

    private static MemberExpression For(Type type, object? value) =>
        Expression.Field(
            Expression.Constant(Activator.CreateInstance(typeof(Captured<>).MakeGenericType(type), value)), nameof(Captured<>.Value));

    /// <summary>
    /// The expression with the values that its variables have now. What is asked by it later, and what is selected under it, mean the
    /// same then, whatever becomes of the variables.
    /// </summary>
    public static Expression<T> AsNow<T>(Expression<T> expression) => Now.Of(expression);

    private sealed class Now : ExpressionVisitor
    {
        public static Expression<T> Of<T>(Expression<T> expression) => new Now().VisitAndConvert(expression, nameof(AsNow));

        protected override Expression VisitMember(MemberExpression node) =>
            // A table is no value: it is read anew.
            TryRead(node, out var value) && value is not IQueryable ? For(node.Type, value)
            : value is IQueryable ? node : base.VisitMember(node);

        private static bool TryRead(Expression? node, out object? value)
        {
            value = (node as ConstantExpression)?.Value;
            if (node is not MemberExpression { Member: var member, Expression: var on }) return node is ConstantExpression;
            object? of = null;
            if (on is null ? IsTranslated(member) : !TryRead(on, out of) || of is null) return false;
            value = member is FieldInfo field ? field.GetValue(of) : ((PropertyInfo)member).GetValue(of);
            return true;
        }

        // Such as the database's own clock, for DateTime.UtcNow.
        private static bool IsTranslated(MemberInfo member) => member is PropertyInfo && member.DeclaringType!.FullName is { } type
            && (type.StartsWith("System.", StringComparison.Ordinal)
                || type.StartsWith("Microsoft.EntityFrameworkCore.", StringComparison.Ordinal));
    }
}
