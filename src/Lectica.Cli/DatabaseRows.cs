using System.Globalization;
using System.Linq.Expressions;
using Lectica.Queries;
using Lectica.Sources;
using Lectica.Testing;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata;
using Microsoft.EntityFrameworkCore.Metadata.Conventions;
using Bag = System.Collections.Generic.Dictionary<string, object>;

namespace Lectica.Cli;

/// <summary>Which rows of a SQLite database a list shows.</summary>
/// <param name="File">The database.</param>
/// <param name="Table">The table or view; null where a query says.</param>
/// <param name="Query">The query; null where a table says.</param>
/// <param name="Key">The field that is the key; <c>id</c> or <c>key</c> where null.</param>
/// <param name="Order">The fields of the order, with <c>-</c> before those that go down.</param>
internal sealed record DatabaseQuestion(string File, string? Table, string? Query, string? Key, IReadOnlyList<string> Order);

/// <summary>
/// The rows of a table or a query in a SQLite database, which is opened read-only: they are read as they come into view. A field is a whole
/// number, a number or a text, as its column says.
/// </summary>
internal sealed class DatabaseRows
{
    private const string Shape = "rows";

    private readonly DatabaseQuestion _question;
    private readonly List<(string Name, Type Type)> _fields = [];
    private readonly (string Name, Type Type) _key;
    private readonly IModel _model;

    private DatabaseRows(DatabaseQuestion question)
    {
        _question = question;
        ReadFields();
        var key = question.Key ?? _fields.Select(f => f.Name).FirstOrDefault(n => n is "id" or "key" or "Id") ?? throw Wrong($"say by --key which field is the key: there are {Names}.");
        _key = FieldOf("--key", key);
        var model = new ModelBuilder(SqliteConventionSetBuilder.Build());
        model.SharedTypeEntity<Bag>(Shape, rows =>
        {
            foreach (var (name, type) in _fields) rows.IndexerProperty(type, name).IsRequired(name == _key.Name);
            rows.HasKey(_key.Name);
            if (question.Table is { } table) rows.ToTable(table);
            else rows.ToSqlQuery(question.Query!);
        });
        _model = model.FinalizeModel();
    }

    private string Names => string.Join(", ", _fields.Select(f => f.Name));

    /// <summary>The names of the fields.</summary>
    public IReadOnlyList<string> Fields => [.. _fields.Select(f => f.Name)];

    /// <summary>Opens a database; what is wrong with it is told.</summary>
    public static DatabaseRows Open(DatabaseQuestion question)
    {
        var path = Files.Locate(question.File);
        if (!File.Exists(path)) throw new InputException(question.File, null, "there is no such file: --rows takes a SQLite database.");
        if (question.Table is null == question.Query is null) throw new InputException(question.File, null, "say which of its rows: give either --table NAME or --query SQL.");
        return new(question with { File = path });
    }

    private InputException Wrong(string problem) => new(_question.File, null, problem);

    private (string Name, Type Type) FieldOf(string option, string name)
    {
        foreach (var field in _fields)
            if (field.Name == name) return field;
        throw Wrong($"{option} names the field '{name}', which the rows do not have: there are {Names}. Did you mean '{Spelling.Nearest(name, Fields)}'?");
    }

    private string Connection => new SqliteConnectionStringBuilder { DataSource = _question.File, Mode = SqliteOpenMode.ReadOnly, Pooling = false }.ToString();

    private void ReadFields()
    {
        try
        {
            using var connection = new SqliteConnection(Connection);
            connection.Open();
#pragma warning disable CA2100 // The user's own query, over the user's own file, which is opened read-only.
            using var ask = new SqliteCommand($"SELECT * FROM {(_question.Table is { } table ? $"\"{table.Replace("\"", "\"\"", StringComparison.Ordinal)}\"" : $"({_question.Query})")} LIMIT 1", connection);
#pragma warning restore CA2100
            using var reader = ask.ExecuteReader();
            // A column that is worked out has the type of its values.
            reader.Read();
            for (var i = 0; i < reader.FieldCount; i++)
            {
                var type = reader.GetDataTypeName(i).ToUpperInvariant();
                _fields.Add((reader.GetName(i), type.Contains("INT", StringComparison.Ordinal) ? typeof(long?) : type.Contains("REAL", StringComparison.Ordinal) || type.Contains("FLOA", StringComparison.Ordinal) || type.Contains("DOUB", StringComparison.Ordinal) ? typeof(double?) : typeof(string)));
            }
        }
        catch (SqliteException e)
        {
            throw Wrong($"it cannot be read: {e.Message.TrimEnd('.')}.");
        }
    }

    private sealed class Context(string connection, IModel model) : DbContext
    {
        public IQueryable<Bag> Rows => Set<Bag>(Shape);

        protected override void OnConfiguring(DbContextOptionsBuilder optionsBuilder) => optionsBuilder.UseModel(model).UseSqlite(connection);
    }

    /// <summary>The rows as a source of a list.</summary>
    public IPagedSource<Row, string> Source() => _key.Type == typeof(long?) ? Source<long>(text => long.Parse(text, CultureInfo.InvariantCulture)) : Source(text => text);

    private Rows<TKey> Source<TKey>(Func<string, TKey> keyOf) where TKey : notnull
    {
        var row = Expression.Parameter(typeof(Bag), "row");
        Expression Value(string name, Type type) => Expression.Convert(Expression.Call(row, "get_Item", null, Expression.Constant(name)), type);
        var source = QuerySource.Of(() => new Context(Connection, _model), c => c.Rows, Expression.Lambda<Func<Bag, TKey>>(Value(_key.Name, typeof(TKey)), row));
        foreach (var text in _question.Order)
        {
            var isDown = text.StartsWith('-');
            var (name, type) = FieldOf("--order", isDown ? text[1..] : text);
            QuerySource<Bag, TKey> By<TField>() => Expression.Lambda<Func<Bag, TField>>(Value(name, typeof(TField)), row) is var field && isDown ? source.OrderByDescending(field) : source.OrderBy(field);
            source = type == typeof(long?) ? By<long?>() : type == typeof(double?) ? By<double?>() : By<string?>();
        }
        return new(source, bag => new(Text(bag[_key.Name]), [.. _fields.Select(f => Text(bag.GetValueOrDefault(f.Name)))]) { Origin = bag }, keyOf);
    }

    private static string Text(object? value) => value is IFormattable number ? number.ToString(null, CultureInfo.InvariantCulture) : value?.ToString() ?? "";

    /// <summary>The rows of a query as the tool has rows.</summary>
    private sealed class Rows<TKey>(QuerySource<Bag, TKey> source, Func<Bag, Row> rowOf, Func<string, TKey> keyOf) : IPagedSource<Row, string> where TKey : notnull
    {
        public event EventHandler? Changed
        {
            add => source.Changed += value;
            remove => source.Changed -= value;
        }

        private static Bag BagOf(Row row) => (Bag)row.Origin!;

        private static Box<Bag>? BagOf(Box<Row>? row) => row is null ? null : new(BagOf(row.Item));

        public async Task<PageAnswer<Row>> AskAsync(PageQuestion<Row, string> question, CancellationToken cancellation)
        {
            var answer = await source.AskAsync(new()
            {
                Stretches = [.. question.Stretches.Select(s => new Stretch<Bag>(s.Start, s.Count, BagOf(s.Around)))],
                Counts = question.Counts,
                Bounds = [.. question.Bounds.Select(BagOf)],
                Keys = [.. question.Keys.Select(keyOf)],
            }, cancellation).ConfigureAwait(false);
            return new()
            {
                Pages = [.. answer.Pages.Select(p => new Page<Row>(p.Start, [.. p.Items.Select(rowOf)]))],
                Count = answer.Count,
                Sections = answer.Sections,
                Bounds = answer.Bounds,
                Places = answer.Places,
            };
        }

        private Condition<Bag, TKey> Of(Condition<Row, string> condition) => new(source, condition.StartsWithAll,
            [.. condition.Terms.Select(t => new ConditionTerm<Bag, TKey>(t.Kind, t.IsIn) { Key = t.Key is { } key ? keyOf(key) : default, From = BagOf(t.From), To = BagOf(t.To), Section = t.Section })]);

        public async Task<IReadOnlyList<Row>> ReadAsync(Condition<Row, string> condition, Box<Row>? after, int count, CancellationToken cancellation) =>
            [.. (await source.ReadAsync(Of(condition), BagOf(after), count, cancellation).ConfigureAwait(false)).Select(rowOf)];

        public Task<int> CountAsync(Condition<Row, string> condition, CancellationToken cancellation) => source.CountAsync(Of(condition), cancellation);
    }
}
