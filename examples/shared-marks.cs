#:project ../src/Lectica.Queries/Lectica.Queries.csproj
#:project ../src/Lectica.Testing/Lectica.Testing.csproj
using Lectica;
using Lectica.Marking;
using Lectica.Queries;
using Lectica.Testing;
using Microsoft.EntityFrameworkCore;

using var plan = new SharedPlan();
plan.Make("Tessil Ring", "Orvane Cluster", "Belyra Pair");

// The same plan, as two people see it. Each has a source of their own, which follows what others change.
var (annas, anna) = Open("Anna");
var (bens, ben) = Open("Ben");

anna.ToggleMark("starred", 1);
anna.WaitUntilRead();
bens.SayChanged();
ben.WaitUntilRead();
Print("after Anna");

// His star is a row of its own: it overwrites nothing of hers.
ben.ToggleMark("starred", 1);
ben.WaitUntilRead();
annas.SayChanged();
anna.WaitUntilRead();
Print("after Ben");

anna.Undo();
anna.WaitUntilRead();
bens.SayChanged();
ben.WaitUntilRead();
Print("Anna takes hers back");
plan.Database.EnsureDeleted();

(QuerySource<Seen, int>, InteractiveList<Seen, int>) Open(string person)
{
    // How many have starred a request, and whether this person has, comes with its row, in one query.
    var source = QuerySource.Of(() => new SharedPlan(), p => p.SeenBy(person), r => r.Id).WithSharedMark("starred", person);
    var list = InteractiveList.Awaiting<Seen, int>(r => r.Id, new() { Parts = new() { Marks = ["starred"] } });
    list.Content = r => new(r.Field);
    list.Marks = [
        new("starred") { Label = "Starred", Look = MarkLook.Star, Get = r => r.IsMine, Set = (_, _) => { }, Count = r => r.Stars }];
    list.Show(source);
    list.WaitUntilRead();
    return (source, list);
}

void Print(string what)
{
    string Star(InteractiveList<Seen, int> list) =>
        list.Frame.Rows[0].Parts[0] is var star ? list.Options.Phrases.MarkedBy("Starred", star.Count ?? 0, star.IsOn) : "";
    Console.WriteLine($"{what}: Anna sees \"{Star(anna)}\", Ben \"{Star(ben)}\"");
}

sealed class Request
{
    public int Id { get; set; }
    public string Field { get; set; } = "";
}

sealed class Seen
{
    public int Id { get; init; }
    public string Field { get; init; } = "";
    public int Stars { get; init; }
    public bool IsMine { get; init; }
}

sealed class SharedPlan : DbContext
{
    private static readonly string File = Path.Combine(Path.GetTempPath(), $"shared-{Environment.ProcessId}.db");

    public DbSet<Request> Requests => Set<Request>();

    protected override void OnConfiguring(DbContextOptionsBuilder options) => options.UseSqlite($"Data Source={File}");

    // The table of marks: item, person and name, each once.
    protected override void OnModelCreating(ModelBuilder model) => model.HasSharedMarks<int>();

    public IQueryable<Seen> SeenBy(string person)
    {
        var stars = Set<SharedMark<int>>().Where(m => m.Name == "starred");
        return Requests.Select(
            r => new Seen
            {
                Id = r.Id,
                Field = r.Field,
                Stars = stars.Count(m => m.Item == r.Id),
                IsMine = stars.Any(m => m.Item == r.Id && m.Person == person),
            });
    }

    public void Make(params string[] fields)
    {
        Database.EnsureDeleted();
        Database.EnsureCreated();
        Requests.AddRange(fields.Select((field, i) => new Request { Id = i + 1, Field = field }));
        SaveChanges();
    }
}
