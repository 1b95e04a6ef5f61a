using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Globalization;
using System.Linq.Expressions;
using Lectica.Sources;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Query;

namespace Lectica.Queries;

/// <summary>How a query is put into sections, whatever the type of their field.</summary>
internal interface ISection<TItem>
{
    /// <summary>The field, as the first of the order.</summary>
    IOrderField<TItem> Field { get; }

    /// <summary>The sections with their counts: one grouped query.</summary>
    Task<ImmutableArray<SourceSection>> CountAsync(IQueryable<TItem> items, CancellationToken cancellation);

    /// <summary>That an item is in a section.</summary>
    Expression Is(Expression item, string key);

    /// <summary>The value of the field of a section.</summary>
    object? ValueOf(string key);

    /// <summary>Sets the field in an update, for each item by its key.</summary>
    void Set<TKey>(UpdateSettersBuilder<TItem> set, List<(TKey Key, object? Section)> values, Expression<Func<TItem, TKey>> key)
        where TKey : notnull;
}

/// <summary>A section for each value of a field. Its key is the value as text.</summary>
internal sealed class Section<TItem, TField>(Expression<Func<TItem, TField>> field, bool isDescending, Func<TField, string>? title)
    : ISection<TItem> where TField : notnull
{
    private readonly OrderField<TItem, TField> _field = new(field, isDescending);
    private readonly ConcurrentDictionary<string, TField> _values = new();

    public IOrderField<TItem> Field => _field;

    public async Task<ImmutableArray<SourceSection>> CountAsync(IQueryable<TItem> items, CancellationToken cancellation)
    {
        var groups = items.GroupBy(field).Select(g => new { g.Key, Count = g.Count() });
        var counted = await (isDescending ? groups.OrderByDescending(g => g.Key) : groups.OrderBy(g => g.Key)).ToListAsync(cancellation)
            .ConfigureAwait(false);
        var sections = ImmutableArray.CreateBuilder<SourceSection>(counted.Count);
        foreach (var group in counted)
        {
            if (group.Key is null)
                throw new InvalidOperationException(
                    $"{group.Count} items have no value in {field}, by which the sections go: let the query leave them out, or give " +
                        "them one.");
            var key = Convert.ToString(group.Key, CultureInfo.InvariantCulture)!;
            _values[key] = group.Key;
            sections.Add(new(key, group.Count, title?.Invoke(group.Key)));
        }
        return sections.DrainToImmutable();
    }

    public Expression Is(Expression item, string key) => _field.Equal(item, ValueOf(key));

    public object? ValueOf(string key) =>
        _values.TryGetValue(key, out var value) ? value
        : throw new ArgumentException($"The source has had no section '{key}'.", nameof(key));

    public void Set<TKey>(UpdateSettersBuilder<TItem> set, List<(TKey Key, object? Section)> values, Expression<Func<TItem, TKey>> key)
        where TKey : notnull =>
        set.SetProperty(field, ByKey.Of(key, [.. values.Select(v => (v.Key, (TField)v.Section!))]));
}
