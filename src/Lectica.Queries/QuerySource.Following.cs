using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace Lectica.Queries;

// What others change: told by PostgreSQL, seen in SQLite's data version.
public sealed partial class QuerySource<TItem, TKey>
{
    private Follower? _follower;

    /// <summary>
    /// Follows what others change, until the source is disposed of. PostgreSQL tells by <c>NOTIFY</c> on a channel, for which
    /// <see cref="DatabaseChanges"/> makes the trigger; in SQLite its data version is looked at every so often, which costs no query of the
    /// rows.
    /// </summary>
    /// <param name="channel">The channel that PostgreSQL tells on.</param>
    /// <param name="interval">How often SQLite is looked at; a quarter of a second where null.</param>
    public QuerySource<TItem, TKey> Follow(string channel = DatabaseChanges.Channel, TimeSpan? interval = null)
    {
        _follower?.Dispose();
        _follower = new(_open, SayChanged, channel, interval ?? TimeSpan.FromMilliseconds(250));
        return this;
    }
}

/// <summary>Listens to a database by a connection of its own, and connects again when that breaks.</summary>
internal sealed class Follower : IDisposable
{
    private static readonly TimeSpan Again = TimeSpan.FromSeconds(1);

    private readonly CancellationTokenSource _end = new();

    public Follower(Func<DbContext> open, Action changed, string channel, TimeSpan interval) =>
        _ = Task.Run(() => FollowAsync(open, changed, channel, interval, _end.Token));

    private static async Task FollowAsync(
        Func<DbContext> open, Action changed, string channel, TimeSpan interval, CancellationToken cancellation)
    {
        var isFirst = true;
        while (!cancellation.IsCancellationRequested)
        {
            try
            {
                var context = open();
                await using (context.ConfigureAwait(false))
                {
                    await context.Database.OpenConnectionAsync(cancellation).ConfigureAwait(false);
                    // What was missed while nobody listened is told when somebody does again.
                    if (Providers.IsPostgres(context))
                        await ListenAsync(context, changed, channel, !isFirst, cancellation).ConfigureAwait(false);
                    else await WatchAsync(context, changed, interval, !isFirst, cancellation).ConfigureAwait(false);
                }
            }
            catch (OperationCanceledException) when (cancellation.IsCancellationRequested)
            {
                return;
            }
#pragma warning disable CA1031 // The connection is broken: a list's own reads tell the user so; here it is rebuilt.
            catch (Exception)
#pragma warning restore CA1031
            {
                isFirst = false;
                await Task.Delay(Again, cancellation).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
            }
        }
    }

    private static async Task ListenAsync(DbContext context, Action changed, string channel, bool hasMissed, CancellationToken cancellation)
    {
        var connection = (NpgsqlConnection)context.Database.GetDbConnection();
        connection.Notification += (_, _) => changed();
        var listen = connection.CreateCommand();
        await using (listen.ConfigureAwait(false))
        {
            listen.CommandText = $"LISTEN \"{channel.Replace("\"", "\"\"", StringComparison.Ordinal)}\"";
            await listen.ExecuteNonQueryAsync(cancellation).ConfigureAwait(false);
        }
        if (hasMissed) changed();
        while (true) await connection.WaitAsync(cancellation).ConfigureAwait(false);
    }

    private static async Task WatchAsync(
        DbContext context, Action changed, TimeSpan interval, bool hasMissed, CancellationToken cancellation)
    {
        var ask = context.Database.GetDbConnection().CreateCommand();
        await using (ask.ConfigureAwait(false))
        {
            ask.CommandText = "PRAGMA data_version";
            var last = await ask.ExecuteScalarAsync(cancellation).ConfigureAwait(false);
            if (hasMissed) changed();
            while (true)
            {
                await Task.Delay(interval, cancellation).ConfigureAwait(false);
                var now = await ask.ExecuteScalarAsync(cancellation).ConfigureAwait(false);
                if (Equals(now, last)) continue;
                last = now;
                changed();
            }
        }
    }

    public void Dispose()
    {
        _end.Cancel();
        _end.Dispose();
    }
}

/// <summary>What a PostgreSQL database needs to tell of its changes.</summary>
public static class DatabaseChanges
{
    /// <summary>The channel that changes are told on, where no other is named.</summary>
    public const string Channel = "lectica_changed";

    /// <summary>
    /// The statements that make a table tell of each statement that changes it: for a migration's <c>Sql</c>, or to be run once. They may
    /// be run again.
    /// </summary>
    /// <param name="table">The table's name, as it is.</param>
    /// <param name="channel">The channel.</param>
    public static string TriggerFor(string table, string channel = Channel)
    {
        ArgumentException.ThrowIfNullOrEmpty(table);
        ArgumentException.ThrowIfNullOrEmpty(channel);
        static string Name(string name) => $"\"{name.Replace("\"", "\"\"", StringComparison.Ordinal)}\"";
        var function = Name($"{channel}_tell");
        return $"""
            CREATE OR REPLACE FUNCTION {function}() RETURNS trigger LANGUAGE plpgsql AS $tell$
            BEGIN
                PERFORM pg_notify('{channel.Replace("'", "''", StringComparison.Ordinal)}', TG_TABLE_NAME);
                RETURN NULL;
            END $tell$;
            CREATE OR REPLACE TRIGGER {Name($"{table}_{channel}")} AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON {Name(table)}
                FOR EACH STATEMENT EXECUTE FUNCTION {function}();
            """;
    }
}
