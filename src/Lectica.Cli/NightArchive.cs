using System.Globalization;
using Lectica.Queries;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace Lectica.Cli;

/// <summary>A request of the archive.</summary>
internal sealed class ArchivedRequest
{
    public int Id { get; set; }

    public string Field { get; set; } = "";

    public int Night { get; set; }

    public bool IsObserved { get; set; }
}

/// <summary>The nights of an imaginary observatory, in a file of SQLite's: as many requests as are wished, made in seconds.</summary>
internal sealed class NightArchive(string file) : DbContext
{
    private const int Part = 50_000;

    private static readonly string[] Beginnings = ["Orvane", "Tessil", "Belyra", "Zinyra", "Harunda", "Fenimar", "Wenovar", "Rasillo"],
        Kinds = ["Cluster", "Ring", "Pair", "Comet", "Nebula"];

    public DbSet<ArchivedRequest> Requests => Set<ArchivedRequest>();

    protected override void OnConfiguring(DbContextOptionsBuilder optionsBuilder) =>
        optionsBuilder.UseSqlite($"Data Source={file};Pooling=false");

    protected override void OnModelCreating(ModelBuilder modelBuilder) =>
        modelBuilder.Entity<ArchivedRequest>().HasIndex(r => new { r.Night, r.Id });

    /// <summary>The archive as a source of a list: the newest night first.</summary>
    public static QuerySource<ArchivedRequest, int> SourceOf(string file) =>
        QuerySource.Of(() => new NightArchive(file), a => a.Requests, r => r.Id).OrderByDescending(r => r.Night)
        .WithMark("observed", r => r.IsObserved);

    /// <summary>Rewrites the file.</summary>
    public static void Make(string file, int count, Progress progress)
    {
        File.Delete(file);
        using var archive = new NightArchive(file);
        archive.Database.EnsureCreated();
        archive.Database.OpenConnection();
        var connection = (SqliteConnection)archive.Database.GetDbConnection();
        using var quick = new SqliteCommand("PRAGMA journal_mode=WAL; PRAGMA synchronous=OFF", connection);
        quick.ExecuteNonQuery();
        string Choice(string[] words, int step) =>
            $"CASE i * {step} % {words.Length} {string.Concat(words.Select((w, i) => $"WHEN {i} THEN '{w}' "))}END";
#pragma warning disable CA2100 // Our own words alone.
        using var insert = new SqliteCommand(
            "WITH RECURSIVE made(i) AS (VALUES(@first) UNION ALL SELECT i + 1 FROM made WHERE i < @last) "
            + "INSERT INTO Requests (Id, Field, Night, IsObserved) " +
            $"SELECT i, {Choice(Beginnings, 7)} || ' ' || {Choice(Kinds, 3)} || ' ' || (i / 40), i / 200, i % 5 = 0 FROM made", connection);
#pragma warning restore CA2100
        var first = insert.Parameters.Add("@first", SqliteType.Integer);
        var last = insert.Parameters.Add("@last", SqliteType.Integer);
        for (var done = 0; done < count; done += Part)
        {
            (first.Value, last.Value) = (done + 1, Math.Min(done + Part, count));
            insert.ExecuteNonQuery();
            progress.Report("Making the archive", (double)done / count);
        }
        progress.Done();
    }

    /// <summary>What a row says.</summary>
    public static string Says(ArchivedRequest request) =>
        string.Create(CultureInfo.InvariantCulture, $"night {request.Night:N0}{(request.IsObserved ? ", observed" : "")}");
}
