using System.Linq.Expressions;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Metadata;
using Microsoft.EntityFrameworkCore.Storage;

namespace Lectica.Queries;

/// <summary>That a person has put a mark on an item: a row of the table in which many people's marks are.</summary>
public sealed class SharedMark<TKey> where TKey : notnull
{
    /// <summary>The key of the item.</summary>
    public required TKey Item { get; init; }

    /// <summary>Who.</summary>
    public required string Person { get; init; }

    /// <summary>The mark's name.</summary>
    public required string Name { get; init; }
}

/// <summary>
/// Marks that many people put on the same items. They are rows of a table, each once, found by item and by person: so one person's mark
/// never overwrites another's, and to put it on twice is to put it on once. An app maps the table as it likes, or lets this do it.
/// </summary>
public static class SharedMarks
{
    /// <summary>The table's name, where no other is given.</summary>
    public const string Table = "lectica_marks";

    /// <summary>
    /// Maps the table of marks: a key over name, item and person, and an index by person. Migrations make it like any other.
    /// </summary>
    public static ModelBuilder HasSharedMarks<TKey>(this ModelBuilder model, string table = Table) where TKey : notnull
    {
        ArgumentNullException.ThrowIfNull(model);
        model.Entity<SharedMark<TKey>>(mark =>
        {
            mark.ToTable(table);
            mark.Property(m => m.Item).HasColumnName("item").ValueGeneratedNever();
            mark.Property(m => m.Person).HasColumnName("person").HasMaxLength(200);
            mark.Property(m => m.Name).HasColumnName("name").HasMaxLength(100);
            mark.HasKey(m => new { m.Name, m.Item, m.Person });
            mark.HasIndex(m => new { m.Person, m.Name, m.Item });
        });
        return model;
    }

    /// <summary>Puts a person's mark on items that a query gives, or takes it off: one statement, whatever their number.</summary>
    /// <returns>How many were changed.</returns>
    internal static async Task<int> PutAsync<TKey>(DbContext context, IQueryable<TKey> keys, string person, string name, bool value,
        CancellationToken cancellation) where TKey : notnull
    {
        var marks = context.Set<SharedMark<TKey>>();
        if (!value)
            return await marks.Where(m => m.Name == name && m.Person == person && keys.Contains(m.Item)).ExecuteDeleteAsync(cancellation)
                .ConfigureAwait(false);
        var type = context.Model.FindEntityType(typeof(SharedMark<TKey>))
            ?? throw new InvalidOperationException("The context has no table of shared marks: call HasSharedMarks in OnModelCreating.");
        var table = StoreObjectIdentifier.Table(type.GetTableName()!, type.GetSchema());
        var sql = context.GetService<ISqlGenerationHelper>();
        string Column(string property) => sql.DelimitIdentifier(type.FindProperty(property)!.GetColumnName(table)!);
        // EF has no INSERT from a query: the query's own command, with its parameters, is made one.
        var command = keys.Select(k => new { Key = k }).CreateDbCommand();
        await using (command.ConfigureAwait(false))
        {
            void Add(string parameter, string text)
            {
                var added = command.CreateParameter();
                (added.ParameterName, added.Value) = (parameter, text);
                command.Parameters.Add(added);
            }
            Add("@lectica_person", person);
            Add("@lectica_name", name);
#pragma warning disable CA2100 // Names of the model and parameters alone.
            string[] columns =
                [Column(nameof(SharedMark<>.Item)), Column(nameof(SharedMark<>.Person)), Column(nameof(SharedMark<>.Name))];
            command.CommandText = $"""
                INSERT INTO {sql.DelimitIdentifier(table.Name, table.Schema)} ({string.Join(", ", columns)})
                SELECT lectica_marked.*, @lectica_person, @lectica_name FROM ({command.CommandText}) AS lectica_marked WHERE true
                ON CONFLICT DO NOTHING
                """;
#pragma warning restore CA2100
            command.Transaction = context.Database.CurrentTransaction?.GetDbTransaction();
            return await command.ExecuteNonQueryAsync(cancellation).ConfigureAwait(false);
        }
    }

    /// <summary>The items of a query on which a person has a mark, or has not.</summary>
    internal static IQueryable<TItem> Marked<TItem, TKey>(DbContext context, IQueryable<TItem> items, Expression<Func<TItem, TKey>> key,
        string person, string name, bool value) where TKey : notnull
    {
        var mine = context.Set<SharedMark<TKey>>().Where(m => m.Name == name && m.Person == person).Select(m => m.Item);
        var has = Expression.Call(typeof(Queryable), nameof(Queryable.Contains), [typeof(TKey)], mine.Expression, key.Body);
        return items.Where(Expression.Lambda<Func<TItem, bool>>(value ? has : Expression.Not(has), key.Parameters));
    }
}
