#:project ../src/Lectica.Queries/Lectica.Queries.csproj
#:project ../src/Lectica.Testing/Lectica.Testing.csproj
using Lectica;
using Lectica.Acts;
using Lectica.Input;
using Lectica.Queries;
using Lectica.Testing;
using Microsoft.EntityFrameworkCore;

// An archive of 12,000 requests, in a file.
using var archive = new Archive();
archive.Make(12_000);

// In sections by night, the newest first; within one by field. Each question has a context of its own.
using var source = QuerySource.Of(() => new Archive(), a => a.Requests, r => r.Id)
    .InSections(r => r.Night, night => $"Night {night}", isDescending: true).OrderBy(r => r.Field).FoundBy(r => r.Field);
var list = InteractiveList.Awaiting<Request, int>(r => r.Id, new() { Mode = SelectionMode.Multiple });
list.Content = r => new(r.Field);
list.Show(source);
list.WaitUntilRead();
Print("opened");

// A jump far down reads what is there, and nothing between.
list.ScrollTo(9_000 * 52);
Console.WriteLine($"on the way: {list.Frame.Rows[1].Reading}");
list.WaitUntilRead();
Print("far down");

// Typing asks the database. A collapsed night is not read.
foreach (var letter in "orvane 13") list.Take(new KeyPress($"{letter}"));
list.WaitUntilRead();
Console.WriteLine($"found {list[list.Selection.Cursor].Field}");
list.CollapseOrExpand("2026");
Console.WriteLine($"{list.RowCount:N0} rows, {list.Count:N0} items");

// A filter becomes part of the query.
source.Filter = r => r.Field.StartsWith("Tessil");
list.WaitUntilRead();
Console.WriteLine($"{list.Count:N0} match");
archive.Database.EnsureDeleted();

void Print(string what) => Console.WriteLine($"{what}: {string.Join(" · ", list.Frame.Rows.Take(3).Select(r => r.Content.Label))}");

sealed class Request
{
    public int Id { get; set; }
    public int Night { get; set; }
    public string Field { get; set; } = "";
}

sealed class Archive : DbContext
{
    private static readonly string File = Path.Combine(Path.GetTempPath(), $"archive-{Environment.ProcessId}.db");

    public DbSet<Request> Requests => Set<Request>();

    protected override void OnConfiguring(DbContextOptionsBuilder options) => options.UseSqlite($"Data Source={File}");

    protected override void OnModelCreating(ModelBuilder model) => model.Entity<Request>().HasIndex(r => new { r.Night, r.Field, r.Id });

    public void Make(int count)
    {
        Database.EnsureDeleted();
        Database.EnsureCreated();
        string[] fields = ["Tessil Ring", "Orvane Cluster", "Belyra Pair", "Harunda Comet"];
        Requests.AddRange(
            Enumerable.Range(0, count)
                .Select(i => new Request { Id = i + 1, Night = 2024 + (i % 3), Field = $"{fields[i % 4].Split(' ')[0]} {i / 4}" }));
        SaveChanges();
    }
}
