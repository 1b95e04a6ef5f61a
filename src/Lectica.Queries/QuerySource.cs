using System.Collections.Immutable;
using System.Linq.Expressions;
using Lectica.Sources;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Query;

namespace Lectica.Queries;

/// <summary>Makes sources of queries.</summary>
public static class QuerySource
{
    /// <summary>A source over a query, ordered by its key until it is given another order.</summary>
    /// <param name="open">Makes a context. Each question has its own, and disposes of it.</param>
    /// <param name="query">The query on a context: a table, or what you like of it. Its own order counts for nothing.</param>
    /// <param name="key">The key: unique, and never null.</param>
    public static QuerySource<TItem, TKey> Of<TContext, TItem, TKey>(
        Func<TContext> open, Func<TContext, IQueryable<TItem>> query, Expression<Func<TItem, TKey>> key)
        where TContext : DbContext where TItem : class where TKey : notnull
    {
        ArgumentNullException.ThrowIfNull(open);
        ArgumentNullException.ThrowIfNull(query);
        ArgumentNullException.ThrowIfNull(key);
        return new(open, context => query((TContext)context), Parameter.AsNow(key));
    }
}

/// <summary>
/// The rows of a query as a source for lists, by EF Core: pages by keyset, never by a growing offset; places far away by bookmarks; counts
/// and sections by one grouped query; what is selected as an expression. A source is made with its order and sections, and shown by a list:
/// <c>list.Show(source)</c>. It reads without tracking.
/// <para>Cost: a page is a range or two of an index over the order's fields; a place far from all that is known is counted to from the
/// nearest bookmark, of which there is one for some thousand items.</para>
/// </summary>
public sealed partial class QuerySource<TItem, TKey>
    : IFindingSource<TItem, TKey>, IMarkingSource<TItem, TKey>, IMovingSource<TItem, TKey>, IDisposable where TItem : class
    where TKey : notnull
{
    private readonly Func<DbContext> _open;
    private readonly Func<DbContext, IQueryable<TItem>> _query;
    private readonly Expression<Func<TItem, TKey>> _key;
    private readonly Func<TItem, TKey> _keyOf;
    private readonly OrderField<TItem, TKey> _keyField;
    private readonly CancellationTokenSource _end = new();
    private readonly SemaphoreSlim _marking = new(1);
    private readonly Lock _changing = new();

    // A question is answered by the view that there was when it was put; each change of the rows or of the filter makes another.
    private volatile View _view;

    // The database is the same for as long as there is the source.
    private volatile Tuple<bool>? _areNullsSmall;

    internal QuerySource(Func<DbContext> open, Func<DbContext, IQueryable<TItem>> query, Expression<Func<TItem, TKey>> key)
    {
        (_open, _query, _key, _keyOf) = (open, query, key, key.Compile(preferInterpretation: true));
        _keyField = new(key, false);
        _view = new(null, new(_marking));
        Fields = [];
    }

    private QuerySource(QuerySource<TItem, TKey> other)
    {
        (_open, _query, _key, _keyOf, _keyField) = (other._open, other._query, other._key, other._keyOf, other._keyField);
        (Fields, Sections, _text, _marks, _shared, _place) =
            (other.Fields, other.Sections, other._text, other._marks, other._shared, other._place);
        _view = new(other.Filter, new(_marking));
    }

    private Expression<Func<TItem, string?>>? _text;
    private ImmutableDictionary<string, Expression<Func<TItem, bool>>> _marks =
        ImmutableDictionary<string, Expression<Func<TItem, bool>>>.Empty;
    private ImmutableDictionary<string, string> _shared = ImmutableDictionary<string, string>.Empty;
    private Expression<Func<TItem, string?>>? _place;

    /// <summary>What shows, and what is known of its places.</summary>
    private sealed record View(Expression<Func<TItem, bool>>? Filter, Bookmarks<TItem> Places)
    {
        /// <summary>Whether the rows have changed since they were first read.</summary>
        public bool IsLater { get; init; }
    }

    private ImmutableArray<IOrderField<TItem>> Fields { get; init; }

#pragma warning disable CA1859 // Its own type has a parameter that is known only where it is made.
    private ISection<TItem>? Sections { get; init; }
#pragma warning restore CA1859

    /// <summary>The whole order: sections, fields, and last the key, which makes it total.</summary>
    internal ItemOrdering<TItem> Ordering =>
        field ??= new([.. Sections is null ? [] : (IOrderField<TItem>[])[Sections.Field], .. Fields, _keyField]);

    // ── What it is like ──

    /// <summary>
    /// The same in the order of a field, after those before. Nulls stand where the database puts them: SQLite first, PostgreSQL last.
    /// </summary>
    public QuerySource<TItem, TKey> OrderBy<TField>(Expression<Func<TItem, TField>> field) =>
        new(this) { Fields = Fields.Add(new OrderField<TItem, TField>(Parameter.AsNow(field), false)) };

    /// <summary>The same down.</summary>
    public QuerySource<TItem, TKey> OrderByDescending<TField>(Expression<Func<TItem, TField>> field) =>
        new(this) { Fields = Fields.Add(new OrderField<TItem, TField>(Parameter.AsNow(field), true)) };

    /// <summary>
    /// The same with a section for each value of a field, in the order of that field: their headings have counts from one grouped query,
    /// and what is in a collapsed one is not read.
    /// </summary>
    /// <param name="field">The field.</param>
    /// <param name="title">What a heading says of its value; the value's own text where null.</param>
    /// <param name="isDescending">Whether they go down.</param>
    public QuerySource<TItem, TKey> InSections<TField>(
        Expression<Func<TItem, TField>> field, Func<TField, string>? title = null, bool isDescending = false) where TField : notnull =>
        new(this) { Sections = new Section<TItem, TField>(Parameter.AsNow(field), isDescending, title) };

    /// <summary>The same with the text by which items are found by typing. It should have an index.</summary>
    public QuerySource<TItem, TKey> FoundBy(Expression<Func<TItem, string?>> text) => new(this) { _text = Parameter.AsNow(text) };

    /// <summary>The same with a mark that is a field of the item: it is stored by one statement, for any number of items.</summary>
    public QuerySource<TItem, TKey> WithMark(string name, Expression<Func<TItem, bool>> field) =>
        new(this) { _marks = _marks.SetItem(name, Parameter.AsNow(field)) };

    /// <summary>
    /// The same with a mark that many people put on the same items, in the table of <see cref="SharedMarks"/>. What of it shows in a row
    /// the query says, in its own select: how many have it, and whether the person is among them.
    /// </summary>
    /// <param name="name">The mark's name.</param>
    /// <param name="person">Whose marks are put on and off.</param>
    public QuerySource<TItem, TKey> WithSharedMark(string name, string person)
    {
        ArgumentException.ThrowIfNullOrEmpty(person);
        return new(this) { _shared = _shared.SetItem(name, person) };
    }

    /// <summary>
    /// The same in an order that people make: by a text field with order keys (<c>OrderKey</c>), which a move writes for the moved items
    /// alone. The field is compared by code points: in PostgreSQL it needs the collation "C".
    /// </summary>
    public QuerySource<TItem, TKey> Movable(Expression<Func<TItem, string?>> place)
    {
        place = Parameter.AsNow(place);
        return new(this) { _place = place, Fields = [new OrderField<TItem, string?>(place, false)] };
    }

    /// <summary>
    /// Which items there are; all of the query where null. Another filter is told to the list. What is selected stays as far as each item
    /// is known by itself: those that were selected one by one, and stretches that have been read; where all or an unread stretch was
    /// selected nobody has seen what was meant beside the filter, and it is selected no more. What is to be done reaches what the filter
    /// let through when the user did it.
    /// <para>A variable in it counts with the value that it has when the filter is set: another value is another filter, to be set. What
    /// the database works out by itself, such as <c>DateTime.UtcNow</c>, it works out at each read.</para>
    /// </summary>
    public Expression<Func<TItem, bool>>? Filter
    {
        get => _view.Filter;
        set
        {
            lock (_changing) _view = new(value is null ? null : Parameter.AsNow(value), new(_marking)) { IsLater = true };
            Changed?.Invoke(this, EventArgs.Empty);
        }
    }

    /// <inheritdoc/>
    public event EventHandler? Changed;

    /// <summary>Says that the rows have changed: for an app that has changed them itself and follows no others.</summary>
    public void SayChanged()
    {
        lock (_changing) _view = new(_view.Filter, new(_marking)) { IsLater = true };
        Changed?.Invoke(this, EventArgs.Empty);
    }

    // ── Asking ──

    private IQueryable<TItem> Items(DbContext context, Expression<Func<TItem, bool>>? filter = null)
    {
        var items = _query(context).AsNoTracking();
        return filter is null ? items : items.Where(filter);
    }

    /// <summary>
    /// A context in a transaction that sees one moment, and the items in it. It is asked elsewhere: a provider may answer before it comes
    /// to wait, as SQLite's does, and nothing may hold up a screen.
    /// </summary>
    /// <param name="filter">What shows of the query.</param>
    /// <param name="ask">The question.</param>
    /// <param name="cancellation">Asked to stop.</param>
    private Task<T> At<T>(Expression<Func<TItem, bool>>? filter, Func<Reader<TItem>, Task<T>> ask, CancellationToken cancellation) =>
        Task.Run(() => AtOnce(filter, ask, cancellation), cancellation);

    private async Task<T> AtOnce<T>(
        Expression<Func<TItem, bool>>? filter, Func<Reader<TItem>, Task<T>> ask, CancellationToken cancellation)
    {
        var context = _open()
            ?? throw new InvalidOperationException("The source's function gave no context: it has to make one at each call.");
        await using (context.ConfigureAwait(false))
        {
            try
            {
                await using var moment = (await Moment.BeginAsync(context, cancellation).ConfigureAwait(false)).ConfigureAwait(false);
                return await ask(new(Items(context, filter), Ordering, AreNullsSmall(context))).ConfigureAwait(false);
            }
            catch (Exception e) when (e is InvalidOperationException or NotSupportedException
                && NotTranslated(context, filter, e) is { } named)
            {
                throw named;
            }
        }
    }

    /// <summary>Names the part of the query that cannot be translated; null where all can.</summary>
    private QueryNotTranslatedException? NotTranslated(DbContext context, Expression<Func<TItem, bool>>? filter, Exception error)
    {
        var items = _query(context).AsNoTracking();
        QueryNotTranslatedException? Try(string part, LambdaExpression expression, Func<IQueryable> query)
        {
            try
            {
                _ = query().ToQueryString();
                return null;
            }
            catch (Exception e) when (e is InvalidOperationException or NotSupportedException)
            {
                return new(part, expression.ToString(), error);
            }
        }
        if (filter is not null && Try("filter", filter, () => items.Where(filter)) is { } wrong) return wrong;
        foreach (var field in Ordering.Fields)
            if (Try("order", field.Field, () => field.Sort(items, true, false)) is { } order) return order;
        return _text is { } text ? Try("text that is found by typing", text, () => items.Select(text)) : null;
    }

    /// <inheritdoc/>
    public async Task<PageAnswer<TItem>> AskAsync(PageQuestion<TItem, TKey> question, CancellationToken cancellation)
    {
        ArgumentNullException.ThrowIfNull(question);
        var view = _view;
        var bookmarks = view.Places;
        return await At(view.Filter, async reader =>
        {
            int? count = null;
            ImmutableArray<SourceSection> sections = [];
            // Sections lie between the rows: without them the first rows would stand in wrong places.
            if (question.Counts || Sections is not null)
            {
                if (Sections is null) count = await reader.Items.CountAsync(cancellation).ConfigureAwait(false);
                else
                {
                    sections = await Sections.CountAsync(reader.Items, cancellation).ConfigureAwait(false);
                    count = sections.Sum(s => s.Count);
                }
                if (bookmarks.Count != count) Warm(view, count.Value);
                bookmarks.Count = count;
            }
            var pages = ImmutableArray.CreateBuilder<Page<TItem>>();
            foreach (var stretch in question.Stretches)
                pages.Add(stretch.Around is null
                    ? await bookmarks.ReadAsync(reader, stretch.Start, stretch.Count, cancellation).ConfigureAwait(false)
                    : await AroundAsync(reader, stretch, cancellation).ConfigureAwait(false));
            var bounds = ImmutableArray.CreateBuilder<BoundSpan>();
            foreach (var bound in question.Bounds)
            {
                var place = Ordering.PositionOf(bound);
                var before = await reader.CountBeforeAsync(place, cancellation).ConfigureAwait(false);
                bounds.Add(new(
                    before, before + (await reader.Items.AnyAsync(Ordering.At(place), cancellation).ConfigureAwait(false) ? 1 : 0)));
            }
            return new PageAnswer<TItem>
            {
                Pages = pages.DrainToImmutable(),
                Count = count,
                Sections = sections,
                Bounds = bounds.DrainToImmutable(),
                Indexes = await PlacesAsync(reader, question.Keys, count, cancellation).ConfigureAwait(false),
                Scope = view.Filter,
            };
        }, cancellation).ConfigureAwait(false);
    }

    // Of so many bookmarks all are made beforehand, while nobody waits for one; after a change when it has been quiet for a while.
    private const int ManyBookmarks = 20;
    private static readonly TimeSpan Quiet = TimeSpan.FromSeconds(2);

    private void Warm(View view, int count)
    {
        var number = Bookmarks<TItem>.NumberFor(count);
        if (number < ManyBookmarks) return;
        var cancellation = _end.Token;
        _ = Task.Run(async () =>
        {
            try
            {
                if (view.IsLater) await Task.Delay(Quiet, cancellation).ConfigureAwait(false);
                await At(view.Filter, async reader =>
                {
                    await view.Places.ExtendAsync(reader, number - 1, () => _view == view, cancellation).ConfigureAwait(false);
                    return true;
                }, cancellation).ConfigureAwait(false);
            }
#pragma warning disable CA1031 // Nobody waits for it: what is wrong comes out of the next read that somebody does wait for.
            catch (Exception)
#pragma warning restore CA1031
            {
            }
        }, cancellation);
    }

    private async Task<Page<TItem>> AroundAsync(Reader<TItem> reader, Stretch<TItem> stretch, CancellationToken cancellation)
    {
        var place = Ordering.PositionOf(stretch.Around!.Item);
        var before = await reader.CountBeforeAsync(place, cancellation).ConfigureAwait(false);
        var lead = Math.Min(before, -stretch.Start);
        var above = lead == 0 ? [] : await reader.NextAsync(place, lead, backwards: true, cancellation).ConfigureAwait(false);
        above.Reverse();
        if (above.Count > stretch.Count) above.RemoveRange(stretch.Count, above.Count - stretch.Count);
        var rest = stretch.Count - above.Count;
        var at = rest > 0 ? await reader.Items.Where(Ordering.At(place)).ToListAsync(cancellation).ConfigureAwait(false) : [];
        var below = rest > at.Count ? await reader.NextAsync(place, rest - at.Count, backwards: false, cancellation).ConfigureAwait(false)
            : [];
        return new(before - lead, [.. above, .. at, .. below]);
    }

    // So many rows are counted to find places; a list goes on without those that would take longer.
    private const long MostCounted = 20_000_000;

    private async Task<ImmutableArray<int?>> PlacesAsync(
        Reader<TItem> reader, ImmutableArray<TKey> keys, int? count, CancellationToken cancellation)
    {
        if (keys.IsEmpty) return [];
        var wanted = keys.ToList();
        var found = new Dictionary<TKey, TItem>();
        foreach (var item in await reader.Items.Where(KeyIn(wanted)).ToListAsync(cancellation).ConfigureAwait(false))
            found[_keyOf(item)] = item;
        var places = ImmutableArray.CreateBuilder<int?>(keys.Length);
        var counted = 0L;
        foreach (var key in keys)
        {
            if (!found.TryGetValue(key, out var item)) places.Add(-1);
            else if ((counted += count ?? 0) > MostCounted) places.Add(null);
            else places.Add(await reader.CountBeforeAsync(Ordering.PositionOf(item), cancellation).ConfigureAwait(false));
        }
        return places.DrainToImmutable();
    }

    private Expression<Func<TItem, bool>> KeyIn(List<TKey> keys) =>
        Expression.Lambda<Func<TItem, bool>>(Expression.Call(
        typeof(Enumerable), nameof(Enumerable.Contains), [typeof(TKey)], Parameter.For<IEnumerable<TKey>>(keys), _key.Body),
            _key.Parameters);

    /// <inheritdoc/>
    public Task<IReadOnlyList<TItem>> ReadAsync(
        Condition<TItem, TKey> condition, Box<TItem>? after, int count, CancellationToken cancellation)
    {
        ArgumentNullException.ThrowIfNull(condition);
        return At<IReadOnlyList<TItem>>(null, async reader =>
        {
            var some = reader with { Items = reader.Items.Where(ExpressionOf(condition, reader.AreNullsSmall)) };
            return after is null ? await Ordering.Sort(some.Items).Take(count).ToListAsync(cancellation).ConfigureAwait(false)
                : await some.NextAsync(Ordering.PositionOf(after.Item), count, backwards: false, cancellation).ConfigureAwait(false);
        }, cancellation);
    }

    /// <inheritdoc/>
    public Task<int> CountAsync(Condition<TItem, TKey> condition, CancellationToken cancellation)
    {
        ArgumentNullException.ThrowIfNull(condition);
        return At(null, reader => reader.Items.CountAsync(ExpressionOf(condition, reader.AreNullsSmall), cancellation), cancellation);
    }

    /// <inheritdoc/>
    /// <exception cref="InvalidOperationException">The source was made without <see cref="FoundBy"/>.</exception>
    public Task<int> FindAsync(string beginning, int from, CancellationToken cancellation)
    {
        if (_text is not { } text) throw new InvalidOperationException("Nothing is found by typing: the source was made without FoundBy.");
        var view = _view;
        return At(view.Filter, async reader =>
        {
            var lower = beginning.ToLowerInvariant();
            var begins = Expression.Lambda<Func<TItem, bool>>(
                Expression.AndAlso(Expression.NotEqual(text.Body, Expression.Constant(null, typeof(string))),
                    Expression.Call(Expression.Call(text.Body, nameof(string.ToLower), null), nameof(string.StartsWith), null,
                        Parameter.For(lower))), text.Parameters);
            var some = reader with { Items = reader.Items.Where(begins) };
            TItem? found = null;
            if (from > 0 && (await view.Places.ReadAsync(reader, from - 1, 1, cancellation).ConfigureAwait(false)).Items is [var before])
                found = (await some.NextAsync(Ordering.PositionOf(before), 1, backwards: false, cancellation)
                    .ConfigureAwait(false)).FirstOrDefault();
            found ??= await Ordering.Sort(some.Items).FirstOrDefaultAsync(cancellation).ConfigureAwait(false);
            return found is null ? -1 : await reader.CountBeforeAsync(Ordering.PositionOf(found), cancellation).ConfigureAwait(false);
        }, cancellation);
    }

    // ── Conditions ──

    /// <summary>
    /// The condition as an expression, for the app. It makes a context to see whose database it is only where nothing was read yet: an app
    /// asks on the list's thread, where a connection that is slow to open would hold up the screen.
    /// </summary>
    internal Expression<Func<TItem, bool>> ExpressionOf(Condition<TItem, TKey> condition)
    {
        ArgumentNullException.ThrowIfNull(condition);
        if (_areNullsSmall is { } known) return ExpressionOf(condition, known.Item1);
        using var context = _open();
        return ExpressionOf(condition, AreNullsSmall(context));
    }

    private bool AreNullsSmall(DbContext context) => (_areNullsSmall ??= new(Providers.AreNullsSmall(context))).Item1;

    private Expression<Func<TItem, bool>> ExpressionOf(Condition<TItem, TKey> condition, bool areNullsSmall)
    {
        var item = _key.Parameters[0];
        Expression body = Expression.Constant(condition.StartsWithAll);
        for (var i = 0; i < condition.Terms.Length; i++)
        {
            var term = condition.Terms[i];
            Expression about;
            if (term.Kind == TermKind.Key)
            {
                // Keys that were named one after the other are one list of them.
                var keys = new List<TKey> { term.Key! };
                while (i + 1 < condition.Terms.Length && condition.Terms[i + 1] is { Kind: TermKind.Key } next && next.IsIn == term.IsIn)
                {
                    keys.Add(next.Key!);
                    i++;
                }
                about = KeyIn(keys).Body;
            }
            else if (term.Kind == TermKind.Section)
                about = Sections is { } section ? section.Is(item, term.Section!)
                    : throw new ArgumentException(
                    $"The condition has the section '{term.Section}', and the source no sections.", nameof(condition));
            else about = Ordering.Between(item, Ordering.PositionOf(term.From!.Item), Ordering.PositionOf(term.To!.Item), areNullsSmall);
            body = (body, term.IsIn) switch
            {
                (ConstantExpression { Value: true }, true) or (ConstantExpression { Value: false }, false) => body,
                (ConstantExpression { Value: false }, true) => about,
                (ConstantExpression { Value: true }, false) => Expression.Not(about),
                (_, true) => Expression.OrElse(body, about),
                _ => Expression.AndAlso(body, Expression.Not(about)),
            };
        }
        // Nobody has seen what the filter hid.
        if (condition.Scope is Expression<Func<TItem, bool>> filter)
        {
            var shows = ReplacingExpressionVisitor.Replace(filter.Parameters[0], item, filter.Body);
            body = body is ConstantExpression { Value: true } ? shows : Expression.AndAlso(shows, body);
        }
        return Expression.Lambda<Func<TItem, bool>>(body, item);
    }

    /// <summary>Stops following, and whatever it is reading by itself.</summary>
    public void Dispose()
    {
        _end.Cancel();
        _follower?.Dispose();
        _marking.Dispose();
        _end.Dispose();
    }
}
