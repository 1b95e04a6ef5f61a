using Lectica.Moving;
using Lectica.Queries;
using Microsoft.EntityFrameworkCore;

namespace Lectica.Examples.NightPlan;

/// <summary>A request as the database has it.</summary>
public sealed class PlannedRequest
{
    /// <summary>Its key.</summary>
    public required string Id { get; init; }

    public required string Field { get; init; }

    public required string Requester { get; init; }

    /// <summary>Where it stands in the night: an order key.</summary>
    public required string Place { get; set; }
}

/// <summary>A request as one person sees it.</summary>
public sealed class SeenRequest
{
    public required string Id { get; init; }

    public required string Field { get; init; }

    public required string Requester { get; init; }

    public required string Place { get; init; }

    public int Stars { get; init; }

    public bool IsMine { get; init; }
}

/// <summary>The night plan that many people share: in a file of SQLite's, or on PostgreSQL.</summary>
public sealed class SharedPlan(DbContextOptions<SharedPlan> options) : DbContext(options)
{
    public DbSet<PlannedRequest> Requests => Set<PlannedRequest>();

    protected override void OnModelCreating(ModelBuilder modelBuilder)
    {
        var place = modelBuilder.Entity<PlannedRequest>().Property(r => r.Place);
        // Order keys are compared by code points.
        if (Database.IsNpgsql()) place.UseCollation("C");
        modelBuilder.Entity<PlannedRequest>().HasIndex(r => new { r.Place, r.Id });
        modelBuilder.HasSharedMarks<string>();
        modelBuilder.HasSnapshots();
    }

    /// <summary>The plan as a person sees it: with how many have starred each request, and whether they are among them.</summary>
    public IQueryable<SeenRequest> SeenBy(string person)
    {
        var stars = Set<SharedMark<string>>().Where(m => m.Name == "starred");
        return Requests.Select(r => new SeenRequest
        {
            Id = r.Id,
            Field = r.Field,
            Requester = r.Requester,
            Place = r.Place,
            Stars = stars.Count(m => m.Item == r.Id),
            IsMine = stars.Any(m => m.Item == r.Id && m.Person == person),
        });
    }

    /// <summary>Makes the tables, and a plan in them, where there are none.</summary>
    public void Prepare()
    {
        if (!Database.EnsureCreated()) return;
        if (Database.IsSqlite()) Database.ExecuteSqlRaw("PRAGMA journal_mode=WAL");
        else
            foreach (var table in (string[])["Requests", SharedMarks.Table]) Database.ExecuteSqlRaw(DatabaseChanges.TriggerFor(table));
        var requests = Plan.Make(400);
        var places = OrderKey.Spread(requests.Count);
        Requests.AddRange(requests.Select((r, i) => new PlannedRequest { Id = r.Id, Field = r.Field, Requester = r.Requester, Place = places[i] }));
        SaveChanges();
    }
}
