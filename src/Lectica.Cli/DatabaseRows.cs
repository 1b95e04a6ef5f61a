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
/// <param name="MayWrite">Whether marks, moves and removals are written to it; else it is opened read-only.</param>
internal sealed record DatabaseQuestion(string File, string? Table, string? Query, string? Key, IReadOnlyList<string> Order, bool MayWrite);

/// <summary>
/// The rows of a table or a query in a SQLite database: they are read as they come into view. A field is a whole number, a number or a
/// text, as its column says. It is opened read-only, unless it is said that it may be written.
/// </summary>
internal sealed class DatabaseRows
{
    private const string Shape = "rows";

    private readonly DatabaseQuestion _question;
    private readonly List<(string Name, Type Type)> _fields = [];
    private readonly (string Name, Type Type) _key;

    private DatabaseRows(DatabaseQuestion question)
    {
        _question = question;
        ReadFields();
        var key = question.Key ?? _fields.Select(f => f.Name).FirstOrDefault(n => n is "id" or "key" or "Id")
            ?? throw Wrong($"say by --key which field is the key: there are {Names}.");
        _key = FieldOf("--key", key);
    }

    /// <summary>Whether what is done to the rows is written.</summary>
    public bool MayWrite => _question.MayWrite;

    /// <summary>
    /// The field of the order keys, where a list's rows are to be moved: the one text field of the order.
    /// </summary>
    /// <exception cref="InputException">The order is another.</exception>
    public string Place => _question.Order is [var one] && one[0] != '-' && FieldOf("--order", one).Type == typeof(string) ? one
        : throw Wrong(
        "the list may be moved, and with --write a move is written: give by --order one text field with order keys, or leave " +
            "'mayMove' out.");

    /// <summary>A field that a mark is written to.</summary>
    /// <exception cref="InputException">It has other values than 0 and 1.</exception>
    public void CheckMark(string field)
    {
        var (name, type) = FieldOf("a mark", field);
        if (type == typeof(long?)
            && Ask($"SELECT 1 FROM {From} WHERE {Quoted(name)} IS NULL OR {Quoted(name)} NOT IN (0, 1) LIMIT 1") is null) return;
        throw Wrong($"with --write a mark is written to its field as 1 or 0, and '{name}' has other values.");
    }

    private static string Quoted(string name) => $"\"{name.Replace("\"", "\"\"", StringComparison.Ordinal)}\"";

    private string From => _question.Table is { } table ? Quoted(table) : $"({_question.Query})";

    private string Names => string.Join(", ", _fields.Select(f => f.Name));

    /// <summary>The names of the fields.</summary>
    public IReadOnlyList<string> Fields => [.. _fields.Select(f => f.Name)];

    /// <summary>Opens a database; what is wrong with it is told.</summary>
    public static DatabaseRows Open(DatabaseQuestion question)
    {
        var path = Files.Locate(question.File);
        if (!File.Exists(path)) throw new InputException(question.File, null, "there is no such file: --rows takes a SQLite database.");
        if (question.Table is null == question.Query is null)
            throw new InputException(question.File, null, "say which of its rows: give either --table NAME or --query SQL.");
        if (question.MayWrite && question.Table is null)
            throw new InputException("--write", null, "rows of a query cannot be written: give --table NAME.");
        return new(question with { File = path });
    }

    private InputException Wrong(string problem) => new(_question.File, null, problem);

    private (string Name, Type Type) FieldOf(string option, string name)
    {
        foreach (var field in _fields)
            if (field.Name == name) return field;
        throw Wrong($"{option} names the field '{name}', which the rows do not have: there are {Names}. Did you " +
            $"mean '{Spelling.Nearest(name, Fields)}'?");
    }

    private string Connection =>
        new SqliteConnectionStringBuilder
        {
            DataSource = _question.File,
            Mode = MayWrite ? SqliteOpenMode.ReadWrite : SqliteOpenMode.ReadOnly,
            Pooling = false,
        }.ToString();

    private void ReadFields()
    {
        try
        {
            using var connection = new SqliteConnection(Connection);
            connection.Open();
#pragma warning disable CA2100 // The user's own query, over the user's own file, which is opened read-only.
            using var ask = new SqliteCommand($"SELECT * FROM {From} LIMIT 1", connection);
#pragma warning restore CA2100
            using var reader = ask.ExecuteReader();
            // A column that is worked out has the type of its values.
            reader.Read();
            for (var i = 0; i < reader.FieldCount; i++)
            {
                var type = reader.GetDataTypeName(i).ToUpperInvariant();
                _fields.Add((reader.GetName(i),
                    type.Contains("INT", StringComparison.Ordinal) ? typeof(long?)
                        : type.Contains("REAL", StringComparison.Ordinal) || type.Contains("FLOA", StringComparison.Ordinal)
                        || type.Contains("DOUB", StringComparison.Ordinal) ? typeof(double?) : typeof(string)));
            }
        }
        catch (SqliteException e)
        {
            throw Wrong($"it cannot be read: {e.Message.TrimEnd('.')}.");
        }
    }

    private object? Ask(string sql)
    {
        using var connection = new SqliteConnection(Connection);
        connection.Open();
#pragma warning disable CA2100 // Names that were quoted.
        using var ask = new SqliteCommand(sql, connection);
#pragma warning restore CA2100
        return ask.ExecuteScalar();
    }

    private sealed class Context(string connection, IModel model) : DbContext
    {
        public IQueryable<Bag> Rows => Set<Bag>(Shape);

        protected override void OnConfiguring(DbContextOptionsBuilder optionsBuilder) =>
            optionsBuilder.UseModel(model).UseSqlite(connection);
    }

    /// <summary>The rows as a source of a list.</summary>
    /// <param name="marks">Where it may be written: the field of each mark.</param>
    /// <param name="isMoved">Where it may be written: whether rows are moved, by <see cref="Place"/>.</param>
    public Rows Source(IReadOnlyDictionary<string, string> marks, bool isMoved) =>
        _key.Type == typeof(long?) ? Source(text => long.Parse(text, CultureInfo.InvariantCulture), marks, isMoved)
        : Source(text => text, marks, isMoved);

    private Rows Source<TKey>(Func<string, TKey> keyOf, IReadOnlyDictionary<string, string> marks, bool isMoved) where TKey : notnull
    {
        Type TypeOf((string Name, Type Type) field) => marks.Values.Contains(field.Name) ? typeof(bool) : field.Type;
        var builder = new ModelBuilder(SqliteConventionSetBuilder.Build());
        builder.SharedTypeEntity<Bag>(Shape, rows =>
        {
            foreach (var field in _fields)
                rows.IndexerProperty(TypeOf(field), field.Name).IsRequired(field.Name == _key.Name || TypeOf(field) == typeof(bool));
            rows.HasKey(_key.Name);
            if (_question.Table is { } table) rows.ToTable(table);
            else rows.ToSqlQuery(_question.Query!);
        });
        var model = builder.FinalizeModel();
        var row = Expression.Parameter(typeof(Bag), "row");
        Expression<Func<Bag, T>> Field<T>(string name) =>
            Expression.Lambda<Func<Bag, T>>(
            Expression.Convert(Expression.Call(row, "get_Item", null, Expression.Constant(name)), typeof(T)), row);
        var source = QuerySource.Of(() => new Context(Connection, model), c => c.Rows, Field<TKey>(_key.Name));
        foreach (var text in _question.Order)
        {
            var isDown = text.StartsWith('-');
            var field = FieldOf("--order", isDown ? text[1..] : text);
            var type = TypeOf(field);
            QuerySource<Bag, TKey> By<TField>() =>
                isDown ? source.OrderByDescending(Field<TField>(field.Name)) : source.OrderBy(Field<TField>(field.Name));
            source = type == typeof(long?) ? By<long?>() : type == typeof(double?) ? By<double?>() : type == typeof(bool) ? By<bool>()
                : By<string?>();
        }
        foreach (var (mark, field) in marks) source = source.WithMark(mark, Field<bool>(field));
        if (isMoved) source = source.Movable(Field<string?>(Place));
        Row RowOf(Bag bag) => new(Text(bag[_key.Name]), [.. _fields.Select(f => Text(bag.GetValueOrDefault(f.Name)))]) { Origin = bag };
        void Remove(Condition<Bag, TKey> condition)
        {
            using var context = new Context(Connection, model);
            context.Rows.Where(condition).ExecuteDelete();
            source.SayChanged();
        }
        return MayWrite ? new WrittenRows<TKey>(source, RowOf, keyOf, Remove) : new ReadRows<TKey>(source, RowOf, keyOf);
    }

    private static string Text(object? value) =>
        value is bool isOn ? isOn ? "1" : "0" : value is IFormattable number ? number.ToString(null, CultureInfo.InvariantCulture)
        : value?.ToString() ?? "";

    /// <summary>The rows of a query as the tool has rows.</summary>
    internal abstract class Rows : IPagedSource<Row, string>
    {
        public abstract event EventHandler? Changed;

        public abstract Task<PageAnswer<Row>> AskAsync(PageQuestion<Row, string> question, CancellationToken cancellation);

        public abstract Task<IReadOnlyList<Row>> ReadAsync(
            Condition<Row, string> condition, Box<Row>? after, int count, CancellationToken cancellation);

        public abstract Task<int> CountAsync(Condition<Row, string> condition, CancellationToken cancellation);

        /// <summary>Removes rows from the database, by one statement.</summary>
        public abstract void Remove(Condition<Row, string> condition);
    }

    private class ReadRows<TKey>(QuerySource<Bag, TKey> source, Func<Bag, Row> rowOf, Func<string, TKey> keyOf) : Rows where TKey : notnull
    {
        public override event EventHandler? Changed
        {
            add => source.Changed += value;
            remove => source.Changed -= value;
        }

        protected static Bag BagOf(Row row) => (Bag)row.Origin!;

        protected static Box<Bag>? BagOf(Box<Row>? row) => row is null ? null : new(BagOf(row.Item));

        public override async Task<PageAnswer<Row>> AskAsync(PageQuestion<Row, string> question, CancellationToken cancellation)
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
                Indexes = answer.Indexes,
            };
        }

        protected Condition<Bag, TKey> Of(Condition<Row, string> condition) => new(source, condition.StartsWithAll,
            [.. condition.Terms.Select(
                t => new ConditionTerm<Bag, TKey>(t.Kind, t.IsIn)
                {
                    Key = t.Key is { } key ? keyOf(key) : default,
                    From = BagOf(t.From),
                    To = BagOf(t.To),
                    Section = t.Section,
                })]);

        public override async Task<IReadOnlyList<Row>> ReadAsync(
            Condition<Row, string> condition, Box<Row>? after, int count, CancellationToken cancellation) =>
            [.. (await source.ReadAsync(Of(condition), BagOf(after), count, cancellation).ConfigureAwait(false)).Select(rowOf)];

        public override Task<int> CountAsync(Condition<Row, string> condition, CancellationToken cancellation) =>
            source.CountAsync(Of(condition), cancellation);

        public override void Remove(Condition<Row, string> condition) =>
            throw new InvalidOperationException("The database was opened read-only.");
    }

    private sealed class WrittenRows<TKey>(
        QuerySource<Bag, TKey> source, Func<Bag, Row> rowOf, Func<string, TKey> keyOf, Action<Condition<Bag, TKey>> remove)
        : ReadRows<TKey>(source, rowOf, keyOf), IMarkingSource<Row, string>, IMovingSource<Row, string> where TKey : notnull
    {
        private readonly QuerySource<Bag, TKey> _source = source;

        public int MostTakenBack => _source.MostTakenBack;

        public Task<SourceChange> MarkAsync(string mark, Condition<Row, string> condition, bool value, CancellationToken cancellation) =>
            _source.MarkAsync(mark, Of(condition), value, cancellation);

        public Task<SourceChange> MoveAsync(
            IReadOnlyList<Row> items, Box<Row>? above, Box<Row>? below, string? section, CancellationToken cancellation) =>
            _source.MoveAsync([.. items.Select(BagOf)], BagOf(above), BagOf(below), section, cancellation);

        public override void Remove(Condition<Row, string> condition) => remove(Of(condition));
    }
}
