#:project ../src/Lectica.Queries/Lectica.Queries.csproj
#:project ../src/Lectica.Testing/Lectica.Testing.csproj
using Lectica;
using Lectica.Acts;
using Lectica.Queries;
using Lectica.Testing;
using Microsoft.EntityFrameworkCore;

using var archive = new Archive();
archive.Make(20_000);
using var source = QuerySource.Of(() => new Archive(), a => a.Requests, r => r.Id).OrderBy(r => r.Magnitude)
    .WithMark("observed", r => r.IsObserved);
var list = InteractiveList.Awaiting<Request, int>(r => r.Id, new() { Mode = SelectionMode.Multiple });
list.Marks = [new("observed") { Get = r => r.IsObserved, Set = (r, on) => r.IsObserved = on }];
list.Show(source);
list.WaitUntilRead();

// All but three: of 20,000 only those in view were ever read.
int[] left = [list.KeyAt(1), list.KeyAt(2), list.KeyAt(4)];
SelectAllBut(left);
Console.WriteLine($"{list.Selected.Count:N0} selected; {Enumerable.Range(0, list.Count).Count(list.IsRead)} read");

// What is selected is a condition: it grows with what was said, not with what it means. The database works it out.
var condition = list.Selected.Condition;
Console.WriteLine($"all: {condition.StartsWithAll}, {condition.Terms.Length} terms");
Console.WriteLine($"{archive.Requests.Where(condition).Count():N0} in the database");

// A mark of all of them is one statement, and can be taken back.
list.SetMark("observed", list.Selection.Items, true);
list.WaitUntilRead();
Console.WriteLine($"{archive.Requests.Count(r => r.IsObserved):N0} observed");
list.Undo();
list.WaitUntilRead();
Console.WriteLine($"{archive.Requests.Count(r => r.IsObserved):N0} after taking it back");

// Somebody else brings one in: it is meant too, since all were.
archive.Requests.Add(new() { Id = 200_001, Magnitude = 3.5 });
archive.SaveChanges();
source.SayChanged();
list.WaitUntilRead();
Console.WriteLine($"{list.Selected.Count:N0} selected of {list.Count:N0}");

// A filter belongs to what is selected under it: nobody is meant whom it hides, and nobody whom another one lets show.
source.Filter = r => r.Magnitude < 6;
list.WaitUntilRead();
list.SelectAll();
Console.WriteLine($"{list.Selected.Count:N0} of the bright; {archive.Requests.Where(list.Selected.Condition).Count():N0} in the database");
source.Filter = null;
list.WaitUntilRead();
Console.WriteLine($"{list.Selected.Count:N0} without the filter");
SelectAllBut(left);

// A command reads its items page by page, or hands the condition on.
list.Commands =
[
    new("withdraw", "Withdraw")
    {
        Run = async (target, cancellation) =>
            new(await archive.Requests.Where(await target.ConditionAsync(cancellation)).ExecuteDeleteAsync(cancellation)),
    },
];
list.RunCommand("withdraw");
source.SayChanged();
list.WaitUntilRead();
archive.Database.EnsureDeleted();
Console.WriteLine($"left: {string.Join(", ", Enumerable.Range(0, list.Count).Select(list.KeyAt))}");

void SelectAllBut(int[] keys)
{
    list.SelectAll();
    foreach (var key in keys) list.Toggle(key);
}

sealed class Request
{
    public int Id { get; set; }
    public double Magnitude { get; set; }
    public bool IsObserved { get; set; }
}

sealed class Archive : DbContext
{
    private static readonly string File = Path.Combine(Path.GetTempPath(), $"unread-{Environment.ProcessId}.db");

    public DbSet<Request> Requests => Set<Request>();

    protected override void OnConfiguring(DbContextOptionsBuilder options) => options.UseSqlite($"Data Source={File}");

    protected override void OnModelCreating(ModelBuilder model) => model.Entity<Request>().HasIndex(r => new { r.Magnitude, r.Id });

    public void Make(int count)
    {
        Database.EnsureDeleted();
        Database.EnsureCreated();
        Requests.AddRange(Enumerable.Range(1, count).Select(i => new Request { Id = i, Magnitude = 4 + (i * 37 % 900 / 100.0) }));
        SaveChanges();
        ChangeTracker.Clear();
    }
}
