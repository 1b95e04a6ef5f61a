using System.Data;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;

namespace Lectica.Queries;

/// <summary>Where the providers differ.</summary>
internal static class Providers
{
    public static bool IsSqlite(DbContext context) => context.Database.IsSqlite();

    public static bool IsPostgres(DbContext context) => context.Database.IsNpgsql();

    /// <summary>Whether null is smaller than all else in the database's order; in PostgreSQL it is larger.</summary>
    public static bool AreNullsSmall(DbContext context) => !IsPostgres(context);
}

/// <summary>A transaction that sees one moment and locks nobody out.</summary>
internal sealed class Moment : IAsyncDisposable
{
    private readonly DatabaseFacade _database;
    private readonly bool _isSqlite;

    private Moment(DatabaseFacade database, bool isSqlite) => (_database, _isSqlite) = (database, isSqlite);

    public static async Task<Moment> BeginAsync(DbContext context, CancellationToken cancellation)
    {
        var isSqlite = Providers.IsSqlite(context);
        if (isSqlite)
        {
            // Deferred: it takes no lock before it reads, and never the one for writing.
            await context.Database.OpenConnectionAsync(cancellation).ConfigureAwait(false);
            // Not to be cancelled half-way: a connection with an open transaction would go back to the pool.
            await context.Database.ExecuteSqlRawAsync("BEGIN DEFERRED", CancellationToken.None).ConfigureAwait(false);
        }
        else await context.Database.BeginTransactionAsync(IsolationLevel.RepeatableRead, cancellation).ConfigureAwait(false);
        return new(context.Database, isSqlite);
    }

    public async ValueTask DisposeAsync()
    {
        try
        {
            if (_isSqlite) await _database.ExecuteSqlRawAsync("ROLLBACK").ConfigureAwait(false);
            else await _database.RollbackTransactionAsync().ConfigureAwait(false);
        }
        catch (Exception e) when (e is System.Data.Common.DbException or InvalidOperationException)
        {
            // The connection is gone, and the moment with it: what broke it has been told.
        }
    }
}
