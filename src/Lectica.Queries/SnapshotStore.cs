using Microsoft.EntityFrameworkCore;

namespace Lectica.Queries;

/// <summary>What a list remembers of one person: a row of the table of snapshots.</summary>
public sealed class StoredSnapshot
{
    /// <summary>The list's name.</summary>
    public required string List { get; init; }

    /// <summary>Whose it is.</summary>
    public required string Person { get; init; }

    /// <summary>The snapshot, as its JSON.</summary>
    public required string Json { get; set; }

    /// <summary>One more with each save: whoever saves over another's sees that it is another.</summary>
    public long Version { get; set; }
}

/// <summary>The table of snapshots.</summary>
public static class StoredSnapshots
{
    /// <summary>Maps the table of snapshots: one row for a list and a person. Migrations make it like any other.</summary>
    public static ModelBuilder HasSnapshots(this ModelBuilder model, string table = "lectica_snapshots")
    {
        ArgumentNullException.ThrowIfNull(model);
        model.Entity<StoredSnapshot>(snapshot =>
        {
            snapshot.ToTable(table);
            snapshot.Property(s => s.List).HasColumnName("list").HasMaxLength(200);
            snapshot.Property(s => s.Person).HasColumnName("person").HasMaxLength(200);
            snapshot.Property(s => s.Json).HasColumnName("json");
            snapshot.Property(s => s.Version).HasColumnName("version").IsConcurrencyToken();
            snapshot.HasKey(s => new { s.List, s.Person });
        });
        return model;
    }
}

/// <summary>
/// Snapshots in a database: one row for a list and a person, written whole or not at all. Two devices of one person lose nothing of each
/// other's: what a device has changed since it last read or saved counts, key by key, and of what both have changed the later one.
/// <para>It is for one device and one thread at a time.</para>
/// </summary>
/// <param name="open">Makes a context whose model has <see cref="StoredSnapshots.HasSnapshots"/>.</param>
/// <param name="list">The list's name.</param>
/// <param name="person">Whose state it is.</param>
public sealed class SnapshotStore(Func<DbContext> open, string list, string person)
{
    private static readonly ListSnapshot Nothing = new() { Selected = [] };

    private ListSnapshot _base = Nothing;

    /// <summary>Reads the snapshot; null where there is none yet.</summary>
    /// <exception cref="FormatException">What is stored is not a snapshot.</exception>
    public async Task<ListSnapshot?> LoadAsync(CancellationToken cancellation = default)
    {
        var context = open();
        await using (context.ConfigureAwait(false))
        {
            var row = await RowAsync(context, cancellation).ConfigureAwait(false);
            if (row is null) return null;
            return _base = ListSnapshot.Parse(row.Json);
        }
    }

    /// <summary>Saves the snapshot, with what another device has saved meanwhile.</summary>
    /// <returns>What is stored now: to be restored where it is another than what was saved.</returns>
    public async Task<ListSnapshot> SaveAsync(ListSnapshot snapshot, CancellationToken cancellation = default)
    {
        ArgumentNullException.ThrowIfNull(snapshot);
        while (true)
        {
            var context = open();
            await using (context.ConfigureAwait(false))
            {
                var row = await RowAsync(context, cancellation).ConfigureAwait(false);
                var merged = row is null ? snapshot : Merged(_base, snapshot, ListSnapshot.Parse(row.Json));
                var json = merged.ToJson(isIndented: false);
                if (row is null) context.Add(new StoredSnapshot { List = list, Person = person, Json = json, Version = 1 });
                else (row.Json, row.Version) = (json, row.Version + 1);
                try
                {
                    await context.SaveChangesAsync(cancellation).ConfigureAwait(false);
                    return _base = merged;
                }
                catch (DbUpdateException e) when (e is DbUpdateConcurrencyException || row is null)
                {
                    // Another device was there at this very moment: what it saved is looked at, and ours put in.
                }
            }
        }
    }

    private Task<StoredSnapshot?> RowAsync(DbContext context, CancellationToken cancellation) =>
        context.Set<StoredSnapshot>().SingleOrDefaultAsync(s => s.List == list && s.Person == person, cancellation);

    /// <summary>What one device has changed since a snapshot that both know, put into what the other has stored.</summary>
    internal static ListSnapshot Merged(ListSnapshot known, ListSnapshot mine, ListSnapshot theirs) => mine with
    {
        Selected = Keys(known.Selected, mine.Selected, theirs.Selected),
        Collapsed = Keys(known.Collapsed ?? [], mine.Collapsed ?? [], theirs.Collapsed ?? []) is { Count: > 0 } collapsed ? collapsed
            : null,
        Marks = mine.Marks is null && theirs.Marks is null ? null
            : (mine.Marks?.Keys ?? []).Union(theirs.Marks?.Keys ?? [])
            .ToDictionary(name => name, name => Keys(Of(known, name), Of(mine, name), Of(theirs, name))),
        Order = Same(mine.Order, known.Order) ? theirs.Order : mine.Order,
    };

    private static IReadOnlyList<string> Of(ListSnapshot snapshot, string mark) => snapshot.Marks?.GetValueOrDefault(mark) ?? [];

    private static bool Same(IReadOnlyList<string>? one, IReadOnlyList<string>? other) => (one ?? []).SequenceEqual(other ?? []);

    // Mine in their order, and then what they have that I have neither had nor taken out.
    private static IReadOnlyList<string> Keys(IReadOnlyList<string> known, IReadOnlyList<string> mine, IReadOnlyList<string> theirs)
    {
        HashSet<string> had = [.. known], have = [.. mine], has = [.. theirs];
        return [.. mine.Where(k => has.Contains(k) || !had.Contains(k)), .. theirs.Where(k => !have.Contains(k) && !had.Contains(k))];
    }
}
