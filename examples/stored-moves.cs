#:project ../src/Lectica.Queries/Lectica.Queries.csproj
#:project ../src/Lectica.Testing/Lectica.Testing.csproj
using Lectica;
using Lectica.Moving;
using Lectica.Queries;
using Lectica.Testing;
using Microsoft.EntityFrameworkCore;

using var plan = new OrderedPlan();
plan.Make("Tessil", "Orvane", "Belyra", "Harunda", "Zinyra", "Kelil");

// The order that people make is a field of order keys: a move writes those of what moves, by one statement.
using var source = QuerySource.Of(() => new OrderedPlan(), p => p.Requests, r => r.Id).InSections(r => r.Night).Movable(r => r.Place);
var list = InteractiveList.Awaiting<Request, int>(r => r.Id, new() { MayMove = true });
list.Content = r => new(r.Field);
list.Show(source);
list.WaitUntilRead();
Print("at first");

// Two of them together, into the other night.
list.Move([1, 3], gap: 5, section: "later");
Print("at once");
list.WaitUntilRead();
Console.WriteLine(
    $"stored: {string.Join(", ", plan.Requests.AsNoTracking().OrderBy(r => r.Night).ThenBy(r => r.Place).Select(r => r.Field))}");
list.Undo();
list.WaitUntilRead();
Print("taken back");
plan.Database.EnsureDeleted();

void Print(string what) => Console.WriteLine($"{what}: {string.Join(", ", list.Frame.Rows.Select(r => r.Content.Label))}");

sealed class Request
{
    public int Id { get; set; }
    public string Field { get; set; } = "";
    public string Night { get; set; } = "";
    public string Place { get; set; } = "";
}

sealed class OrderedPlan : DbContext
{
    private static readonly string File = Path.Combine(Path.GetTempPath(), $"moves-{Environment.ProcessId}.db");

    public DbSet<Request> Requests => Set<Request>();

    protected override void OnConfiguring(DbContextOptionsBuilder options) => options.UseSqlite($"Data Source={File}");

    // On PostgreSQL the field has the collation "C": order keys are compared by code points.
    protected override void OnModelCreating(ModelBuilder model) => model.Entity<Request>().HasIndex(r => new { r.Night, r.Place, r.Id });

    public void Make(params string[] fields)
    {
        Database.EnsureDeleted();
        Database.EnsureCreated();
        var places = OrderKey.Spread(fields.Length);
        Requests.AddRange(
            fields.Select((field, i) => new Request { Id = i + 1, Field = field, Night = i < 3 ? "first" : "later", Place = places[i] }));
        SaveChanges();
    }
}
