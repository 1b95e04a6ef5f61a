using System.Linq.Expressions;
using Lectica.Moving;
using Lectica.Sources;
using Microsoft.EntityFrameworkCore;

namespace Lectica.Queries;

// What is stored: marks of any number of items by one statement, moves by the order keys of what moves.
public sealed partial class QuerySource<TItem, TKey>
{
    /// <summary>Of so many items at most a change can be taken back, 100,000: their keys are kept for it.</summary>
    public int MostTakenBack => MostKept;

    private const int MostKept = 100_000;

    // So many keys are parameters of one statement.
    private const int KeysAtOnce = 10_000;

    /// <inheritdoc/>
    /// <exception cref="ArgumentException">The source has no such mark.</exception>
    public async Task<SourceChange> MarkAsync(string mark, Condition<TItem, TKey> condition, bool value, CancellationToken cancellation)
    {
        if (_shared.TryGetValue(mark, out var person))
            return await ShareAsync(mark, person, condition, value, cancellation).ConfigureAwait(false);
        if (!_marks.TryGetValue(mark, out var field))
            throw new ArgumentException($"The source stores no mark '{mark}': give it one by WithMark.", nameof(mark));
        // What is so already is not changed, and not changed back.
        var differs = Expression.Lambda<Func<TItem, bool>>(value ? Expression.Not(field.Body) : field.Body, field.Parameters);
        if (OnlyKey(condition) is { Item: var one })
        {
            var changed =
                await Write(context => Meeting(context, condition).Where(differs)
                .ExecuteUpdateAsync(set => set.SetProperty(field, value), cancellation), cancellation, isOne: true).ConfigureAwait(false);
            List<TKey> changedKeys = changed == 0 ? [] : [one];
            return new(changed, c => PutAsync(changedKeys, field, !value, c), c => PutAsync(changedKeys, field, value, c));
        }
        var change = await Write(async context =>
        {
            var some = Meeting(context, condition).Where(differs);
            var keys = await some.Select(_key).Take(MostKept + 1).ToListAsync(cancellation).ConfigureAwait(false);
            var count = await some.ExecuteUpdateAsync(set => set.SetProperty(field, value), cancellation).ConfigureAwait(false);
            return keys.Count > MostKept ? new SourceChange(count)
                : new(count, c => PutAsync(keys, field, !value, c), c => PutAsync(keys, field, value, c));
        }, cancellation).ConfigureAwait(false);
        return change;
    }

    private IQueryable<TItem> Meeting(DbContext context, Condition<TItem, TKey> condition) =>
        Items(context).Where(ExpressionOf(condition, AreNullsSmall(context)));

    /// <summary>The key of a condition that is one key, which one statement is enough for; null for any other.</summary>
    private static Box<TKey>? OnlyKey(Condition<TItem, TKey> condition) =>
        condition is { StartsWithAll: false, Terms: [{ Kind: TermKind.Key, IsIn: true } only] } ? new(only.Key!) : null;

    private async Task<SourceChange> ShareAsync(
        string mark, string person, Condition<TItem, TKey> condition, bool value, CancellationToken cancellation)
    {
        Task<int> Put(List<TKey> keys, bool on, CancellationToken c) => Write(async context =>
        {
            var count = 0;
            foreach (var some in keys.Chunk(KeysAtOnce))
                count += await SharedMarks.PutAsync(context, _query(context).Where(KeyIn([.. some])).Select(_key), person, mark, on, c)
                    .ConfigureAwait(false);
            return count;
        }, c);
        if (OnlyKey(condition) is { Item: var one })
        {
            // As in a field; and it is there once, whoever else is putting it there.
            var changed =
                await Write(context => SharedMarks.PutAsync(context, Meeting(context, condition).Select(_key), person, mark, value,
                cancellation), cancellation, isOne: true).ConfigureAwait(false);
            List<TKey> changedKeys = changed == 0 ? [] : [one];
            return new(changed, c => Put(changedKeys, !value, c), c => Put(changedKeys, value, c));
        }
        return await Write(async context =>
        {
            var some = SharedMarks.Marked(context, Meeting(context, condition), _key, person, mark, !value);
            var keys = await some.Select(_key).Take(MostKept + 1).ToListAsync(cancellation).ConfigureAwait(false);
            var count = await SharedMarks.PutAsync(context, some.Select(_key), person, mark, value, cancellation).ConfigureAwait(false);
            return keys.Count > MostKept ? new SourceChange(count) : new(count, c => Put(keys, !value, c), c => Put(keys, value, c));
        }, cancellation).ConfigureAwait(false);
    }

    private Task<bool> PutAsync(List<TKey> keys, Expression<Func<TItem, bool>> field, bool value, CancellationToken cancellation) =>
        Write(async context =>
    {
        foreach (var some in keys.Chunk(KeysAtOnce))
            await _query(context).Where(KeyIn([.. some])).ExecuteUpdateAsync(set => set.SetProperty(field, value), cancellation)
                .ConfigureAwait(false);
        return true;
    }, cancellation);

    /// <inheritdoc/>
    /// <exception cref="InvalidOperationException">The source was made without <see cref="Movable"/>.</exception>
    public async Task<SourceChange> MoveAsync(
        IReadOnlyList<TItem> items, Box<TItem>? above, Box<TItem>? below, string? section, CancellationToken cancellation)
    {
        ArgumentNullException.ThrowIfNull(items);
        if (_place is not { } place)
            throw new InvalidOperationException(
                "Nothing can be moved: the source was made without Movable, the field that the order keys are in.");
        var placeOf = _placeOf ??= place.Compile(preferInterpretation: true);
        // An item of another section is not a neighbour: the gap is at the section's end then.
        var into = section is null ? null
            : Sections ?? throw new InvalidOperationException(
            $"The items are to come into the section '{section}', and the source has no sections.");
        bool IsInside(Box<TItem>? box) => box is not null && (into is null || Equals(into.Field.ValueOf(box.Item), into.ValueOf(section!)));
        // Between the two that show others may stand whom the filter hides.
        if (Filter is not null && IsInside(below))
            above = await NextAsync(below!, items, backwards: true, cancellation).ConfigureAwait(false);
        else if (Filter is not null && IsInside(above))
            below = await NextAsync(above!, items, backwards: false, cancellation).ConfigureAwait(false);
        var keys = OrderKey.Between(
            IsInside(above) ? placeOf(above!.Item) : null, IsInside(below) ? placeOf(below!.Item) : null, items.Count);
        List<(TKey Key, string? Place, object? Section)> before = [.. items.Select(i => (_keyOf(i), placeOf(i), into?.Field.ValueOf(i)))],
            after = [.. items.Select((i, n) => (_keyOf(i), (string?)keys[n], into?.ValueOf(section!)))];
        await PlaceAsync(after, cancellation).ConfigureAwait(false);
        return new(items.Count, c => PlaceAsync(before, c), c => PlaceAsync(after, c));
    }

    /// <summary>The next one, whether it shows or not, that is none of those that move.</summary>
    private Task<Box<TItem>?> NextAsync(Box<TItem> from, IReadOnlyList<TItem> moving, bool backwards, CancellationToken cancellation)
    {
        var moves = KeyIn([.. moving.Select(_keyOf)]);
        var stays = Expression.Lambda<Func<TItem, bool>>(Expression.Not(moves.Body), moves.Parameters);
        return At(null, async reader =>
        {
            var rest = reader with { Items = reader.Items.Where(stays) };
            var next = await rest.NextAsync(Ordering.PositionOf(from.Item), 1, backwards, cancellation).ConfigureAwait(false);
            return next is [var item] ? new Box<TItem>(item) : null;
        }, cancellation);
    }

    private Func<TItem, string?>? _placeOf;

    // So many items are placed by one statement.
    private const int PlacedAtOnce = 200;

    private Task<bool> PlaceAsync(List<(TKey Key, string? Place, object? Section)> places, CancellationToken cancellation) =>
        Write(async context =>
    {
        foreach (var some in places.Chunk(PlacedAtOnce))
        {
            var moved = _query(context).Where(KeyIn([.. some.Select(p => p.Key)]));
            var byKey = ByKey.Of(_key, [.. some.Select(p => (p.Key, p.Place))]);
            var count = await moved.ExecuteUpdateAsync(set =>
            {
                set.SetProperty(_place!, byKey);
                if (Sections is { } section && some[0].Section is not null)
                    section.Set(set, [.. some.Select(p => (p.Key, p.Section))], _key);
            }, cancellation).ConfigureAwait(false);
            if (count != some.Length)
                throw new InvalidOperationException(
                    $"Of {some.Length} items that were to be placed, {some.Length - count} are not there any more.");
        }
        return true;
    }, cancellation);

    /// <summary>Writes all or nothing, and says that the rows have changed.</summary>
    /// <param name="write">What is written.</param>
    /// <param name="cancellation">Asked to stop.</param>
    /// <param name="isOne">Whether it is one statement, which needs no transaction around it.</param>
    private Task<T> Write<T>(Func<DbContext, Task<T>> write, CancellationToken cancellation, bool isOne = false) =>
        Task.Run(() => WriteHere(write, isOne, cancellation), cancellation);

    private async Task<T> WriteHere<T>(Func<DbContext, Task<T>> write, bool isOne, CancellationToken cancellation)
    {
        T result;
        var context = _open();
        await using (context.ConfigureAwait(false))
        {
            if (isOne)
            {
                await context.Database.OpenConnectionAsync(cancellation).ConfigureAwait(false);
                result = await write(context).ConfigureAwait(false);
                SayChanged();
                return result;
            }
            await using var transaction = (await context.Database.BeginTransactionAsync(cancellation).ConfigureAwait(false)).ConfigureAwait(
                false);
            result = await write(context).ConfigureAwait(false);
            await context.Database.CommitTransactionAsync(cancellation).ConfigureAwait(false);
        }
        SayChanged();
        return result;
    }
}

/// <summary>Values by key, in one statement.</summary>
internal static class ByKey
{
    /// <summary>A value for each key, as one expression of the item; the last one for all other keys.</summary>
    public static Expression<Func<TItem, TValue>> Of<TItem, TKey, TValue>(
        Expression<Func<TItem, TKey>> key, List<(TKey Key, TValue Value)> values)
    {
        var last = values[^1].Value;
        var body = Parameter.For(last);
        foreach (var (one, value) in values.SkipLast(1).Reverse())
            if (!EqualityComparer<TValue>.Default.Equals(value, last))
                body = Expression.Condition(Expression.Equal(key.Body, Parameter.For(one)), Parameter.For(value), body);
        return Expression.Lambda<Func<TItem, TValue>>(body, key.Parameters);
    }
}
