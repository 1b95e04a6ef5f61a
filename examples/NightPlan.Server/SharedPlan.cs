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

/// <summary>
/// The night plan that many people share. Its tables are made by migrations, which differ by database: so there is a class for each.
/// </summary>
public abstract class SharedPlan(DbContextOptions options) : DbContext(options)
{
    public DbSet<PlannedRequest> Requests => Set<PlannedRequest>();

    protected override void OnModelCreating(ModelBuilder modelBuilder)
    {
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

    /// <summary>Makes the tables, or brings them up to date, and a plan in them where there is none.</summary>
    public void Prepare()
    {
        Database.Migrate();
        if (Requests.Any()) return;
        var requests = Plan.Make(400).ToList();
        var places = OrderKey.Spread(requests.Count);
        Requests.AddRange(
            requests.Select((r, i) =>
                new PlannedRequest { Id = r.Id.ToString(), Field = r.Field, Requester = r.Requester, Place = places[i] }));
        SaveChanges();
    }
}

/// <summary>The plan in a file of SQLite's.</summary>
public sealed class SqlitePlan(DbContextOptions<SqlitePlan> options) : SharedPlan(options);

/// <summary>The plan on PostgreSQL.</summary>
public sealed class PostgresPlan(DbContextOptions<PostgresPlan> options) : SharedPlan(options)
{
    protected override void OnModelCreating(ModelBuilder modelBuilder)
    {
        base.OnModelCreating(modelBuilder);
        // Order keys are compared by code points.
        modelBuilder.Entity<PlannedRequest>().Property(r => r.Place).UseCollation("C");
    }
}
