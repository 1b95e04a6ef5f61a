using System.Data.Common;
using System.Diagnostics;
using Lectica.Queries;
using Lectica.Tests.House;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Diagnostics;

namespace Lectica.Tests.Databases;

public enum Provider
{
    Sqlite,
    Postgres,
}

/// <summary>A request of the night plan as a database has it.</summary>
public sealed class StoredRequest
{
    public int Id { get; set; }

    public string Name { get; set; } = "";

    public string Night { get; set; } = "";

    public int? Priority { get; set; }

    public string? Place { get; set; }

    public bool Starred { get; set; }

    public override string ToString() => $"{Id} {Name} {Night} {Priority} {Place}";
}

/// <summary>A request as one person sees it.</summary>
public sealed class PersonalRequest
{
    public int Id { get; init; }

    public string Name { get; init; } = "";

    public int Stars { get; init; }

    public bool IsMine { get; init; }
}

/// <summary>A context on one database, which counts and keeps the statements that it sends.</summary>
public sealed class PlanContext(Database database) : DbContext
{
    public DbSet<StoredRequest> Requests => Set<StoredRequest>();

    public DbSet<SharedMark<int>> Marks => Set<SharedMark<int>>();

    /// <summary>The requests as a person sees them, with how many have starred each.</summary>
    public IQueryable<PersonalRequest> SeenBy(string person) => Requests.Select(r => new PersonalRequest
    {
        Id = r.Id,
        Name = r.Name,
        Stars = Marks.Count(m => m.Name == "starred" && m.Item == r.Id),
        IsMine = Marks.Any(m => m.Name == "starred" && m.Item == r.Id && m.Person == person),
    });

    protected override void OnConfiguring(DbContextOptionsBuilder optionsBuilder)
    {
        if (database.Provider == Provider.Sqlite) optionsBuilder.UseSqlite(database.Connection);
        else optionsBuilder.UseNpgsql(database.Connection);
        optionsBuilder.AddInterceptors(database.Statements);
    }

    protected override void OnModelCreating(ModelBuilder modelBuilder)
    {
        var request = modelBuilder.Entity<StoredRequest>();
        request.Property(r => r.Id).ValueGeneratedNever();
        request.HasIndex(r => new { r.Night, r.Priority, r.Name, r.Id });
        request.HasIndex(r => r.Place);
        modelBuilder.HasSharedMarks<int>();
        modelBuilder.HasSnapshots();
        if (database.Provider == Provider.Postgres) request.Property(r => r.Place).UseCollation("C");
    }
}

/// <summary>The statements that were sent.</summary>
public sealed class Statements : DbCommandInterceptor
{
    private readonly List<string> _sent = [];

    public IReadOnlyList<string> Sent
    {
        get
        {
            lock (_sent) return [.. _sent];
        }
    }

    public void Clear()
    {
        lock (_sent) _sent.Clear();
    }

    private T Keep<T>(DbCommand command, T result)
    {
        lock (_sent) _sent.Add(command.CommandText);
        return result;
    }

    public override InterceptionResult<DbDataReader> ReaderExecuting(
        DbCommand command, CommandEventData eventData, InterceptionResult<DbDataReader> result) => Keep(command, result);

    public override ValueTask<InterceptionResult<DbDataReader>> ReaderExecutingAsync(
        DbCommand command, CommandEventData eventData, InterceptionResult<DbDataReader> result,
            CancellationToken cancellationToken = default) =>
        ValueTask.FromResult(Keep(command, result));

    public override ValueTask<InterceptionResult<int>> NonQueryExecutingAsync(
        DbCommand command, CommandEventData eventData, InterceptionResult<int> result, CancellationToken cancellationToken = default) =>
        ValueTask.FromResult(Keep(command, result));
}

/// <summary>A new, empty database: a file of SQLite's, or one on the PostgreSQL server of the tests.</summary>
public sealed class Database : IDisposable
{
    private readonly string? _file;

    private Database(Provider provider, string connection, string? file) => (Provider, Connection, _file) = (provider, connection, file);

    public Provider Provider { get; }

    public string Connection { get; }

    public Statements Statements { get; } = new();

    public static Database Open(Provider provider)
    {
        Database database;
        if (provider == Provider.Sqlite)
        {
            var file = Path.Combine(Path.GetTempPath(), $"lectica-{Guid.NewGuid():N}.db");
            database = new(provider, $"Data Source={file};Default Timeout=5", file);
        }
        else database = new(provider, PostgresServer.NewDatabase(), null);
        using var context = database.Context();
        context.Database.EnsureCreated();
        if (provider == Provider.Sqlite) context.Database.ExecuteSqlRaw("PRAGMA journal_mode=WAL");
        else
            foreach (var table in (string[])["Requests", SharedMarks.Table])
                context.Database.ExecuteSqlRaw(DatabaseChanges.TriggerFor(table));
        return database;
    }

    public PlanContext Context() => new(this);

    public void Add(IEnumerable<StoredRequest> requests)
    {
        using var context = Context();
        context.Requests.AddRange(requests);
        context.SaveChanges();
    }

    public void Dispose()
    {
        if (_file is null) return;
        SqliteConnection.ClearAllPools();
        foreach (var end in (string[])["", "-wal", "-shm"]) File.Delete(_file + end);
    }
}

/// <summary>The PostgreSQL server of the tests: the one that the test script has started, or one that is started here.</summary>
internal static class PostgresServer
{
    private static readonly Lazy<string> Server = new(() =>
    {
        if (Environment.GetEnvironmentVariable("LECTICA_POSTGRES") is { Length: > 0 } given) return given;
        var lines = Run("start").Split('\n', StringSplitOptions.RemoveEmptyEntries);
        AppDomain.CurrentDomain.ProcessExit += (_, _) => Run("stop", lines[0]);
        return lines[1];
    });

    private static int _databases;

    /// <summary>How to connect to a new database on it.</summary>
    public static string NewDatabase()
    {
        var name = $"plan_{Environment.ProcessId}_{Interlocked.Increment(ref _databases)}";
        return Server.Value.Replace("Database=postgres", $"Database={name}", StringComparison.Ordinal) + ";Maximum Pool Size=60";
    }

    private static string Run(params string[] arguments)
    {
        var start = new ProcessStartInfo("bash", [Repository.At("tests", "postgres.sh"), .. arguments]) { RedirectStandardOutput = true };
        using var process = Process.Start(start)!;
        // The server goes on and keeps the pipe: only the lines are waited for.
        var said = arguments[0] == "start" ? $"{process.StandardOutput.ReadLine()}\n{process.StandardOutput.ReadLine()}" : "";
        process.WaitForExit();
        return process.ExitCode == 0 ? said : throw new InvalidOperationException($"tests/postgres.sh {arguments[0]} failed.");
    }
}
