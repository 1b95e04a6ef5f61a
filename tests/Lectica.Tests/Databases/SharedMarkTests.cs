using System.Globalization;
using Lectica.Acts;
using Lectica.Items;
using Lectica.Queries;
using Lectica.Sources;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace Lectica.Tests.Databases;

/// <summary>Marks that many people put on the same items at once.</summary>
public sealed class SharedMarkTests
{
    private static readonly ListOptions Options = new()
    {
        Mode = SelectionMode.Multiple,
        Phrases = Phrases.English,
        Parts = new() { Check = true, Marks = ["starred"] },
    };

    private static QuerySource<PersonalRequest, int> Source(Database database, string person) =>
        QuerySource.Of(database.Context, db => db.SeenBy(person), r => r.Id).OrderBy(r => r.Name).WithSharedMark("starred", person);

    private static InteractiveList<PersonalRequest, int> List(QuerySource<PersonalRequest, int> source)
    {
        var list = InteractiveList.Awaiting<PersonalRequest, int>(r => r.Id, Options);
        list.Marks = [new("starred") { Label = "Starred", Get = r => r.IsMine, Set = (_, _) => { }, Count = r => r.Stars }];
        list.Show(source);
        return list;
    }

    private static async Task Until(Func<bool> over, string otherwise)
    {
        // A machine under load is slow; what never comes never does.
        for (var until = Environment.TickCount64 + 60_000; Environment.TickCount64 < until;)
        {
            if (over()) return;
            await Task.Delay(1);
        }
        Assert.Fail(otherwise);
    }

    private static (bool IsOn, int? Count) Star(InteractiveList<PersonalRequest, int> list, int row) =>
        list.Frame.Rows[row].Parts.Single(p => p.Part.Name == "starred") is var part ? (part.IsOn, part.Count) : default;

    [Theory]
    [InlineData(Provider.Sqlite)]
    [InlineData(Provider.Postgres)]
    public void Two_people_see_each_others_marks_and_never_overwrite_them(Provider provider) => OneThread.Run(async () =>
    {
        using var database = Database.Open(provider);
        database.Add(
            Enumerable.Range(0, 300)
                .Select(i => new StoredRequest { Id = i, Name = string.Create(CultureInfo.InvariantCulture, $"R{i:000}") }));
        using var annas = Source(database, "Anna").Follow(interval: TimeSpan.FromMilliseconds(20));
        using var bens = Source(database, "Ben").Follow(interval: TimeSpan.FromMilliseconds(20));
        using InteractiveList<PersonalRequest, int> anna = List(annas), ben = List(bens);
        await Until(() => anna.Count == 300 && ben.Count == 300 && !anna.IsReading && !ben.IsReading, "It never opens.");
        await Task.Delay(200);
        database.Statements.Clear();
        Assert.True(anna.ToggleMark("starred", 2).IsHandled);
        // At once, and by number too.
        Assert.Equal((true, 1), Star(anna, 2));
        await Until(() => Star(ben, 2) == (false, 1), "Ben never sees it.");
        Assert.True(ben.ToggleMark("starred", 2).IsHandled);
        Assert.Equal((true, 2), Star(ben, 2));
        await Until(() => Star(anna, 2) == (true, 2), "Anna never sees Ben's.");
        // Hers goes, and his stays.
        anna.ToggleMark("starred", 2);
        Assert.Equal((false, 1), Star(anna, 2));
        await Until(() => Star(ben, 2) == (true, 1) && anna.CanUndo, "Ben never sees that hers is gone.");
        await Until(() => !anna.IsReading && !ben.IsReading, "It never settles.");
        // All but one, by one statement; what was so already stays out of the undo.
        ben.Do(ActKind.SelectAll);
        ben.Toggle(0);
        database.Statements.Clear();
        ben.SetMark("starred", ben.Selection.Items, true);
        Assert.Equal((true, 1), Star(ben, 3));
        await using var context = database.Context();
        await Until(() => context.Marks.Count(m => m.Person == "Ben") == 299, "It is never stored.");
        await Until(() => Star(anna, 3) == (false, 1) && ben.UndoName == "Starred" && !ben.IsReading, "Anna never sees all of Ben's.");
        ben.Do(ActKind.Undo);
        await Until(() => context.Marks.AsNoTracking().ToList() is [{ Item: 2, Person: "Ben" }], "It is never taken back.");
        await Until(() => Star(anna, 5) == (false, 0) && !anna.IsReading, "Anna never sees it taken back.");
        // What the store will not have comes back, with a notice.
        // As long as the table is going, she has her star: what is to be stored waits for it.
        await using (var going = await context.Database.BeginTransactionAsync())
        {
            await context.Database.ExecuteSqlRawAsync("DROP TABLE lectica_marks");
            Assert.True(anna.ToggleMark("starred", 5).IsHandled);
            Assert.Equal((true, 1), Star(anna, 5));
            await going.CommitAsync();
        }
        await Until(() => anna.BriefNotice is not null, "She is never told.");
        Assert.Equal((false, 0), Star(anna, 5));
        Assert.StartsWith("Could not be stored: ", anna.BriefNotice!.Text, StringComparison.Ordinal);
    });

    [Fact]
    public void A_hundred_writers_whose_connections_are_killed_lose_nothing() => OneThread.Run(async () =>
    {
        const int writers = 100, items = 40, toggles = 30;
        using var database = Database.Open(Provider.Postgres);
        database.Add(
            Enumerable.Range(0, items)
                .Select(i => new StoredRequest { Id = i, Name = string.Create(CultureInfo.InvariantCulture, $"R{i:000}") }));
        using var watched = Source(database, "Anna").Follow();
        using var list = List(watched);
        await Until(() => list.Count == items && !list.IsReading, "It never opens.");
        var killed = 0;
        var failed = 0;
        var last = new bool[writers, items];
        var work = Enumerable.Range(0, writers).Select(w => Task.Run(async () =>
        {
            var random = new Random(w);
            using var source = Source(database, $"Writer {w}");
            // On until enough were killed on the way, however fast the server is.
            for (var n = 0; n < toggles || (n < 100 * toggles && (Volatile.Read(ref killed) <= 10 || Volatile.Read(ref failed) <= 5)); n++)
            {
                var (item, on) = (random.Next(items), random.Next(2) == 0);
                var condition = new Condition<PersonalRequest, int>(source, false, [new(TermKind.Key, true) { Key = item }]);
                // A statement whose connection broke was done or not: to put a mark on twice is to put it on once.
                while (true)
                {
                    try
                    {
                        await source.MarkAsync("starred", condition, on, default);
                        break;
                    }
                    catch (Exception e) when (e is NpgsqlException or InvalidOperationException { InnerException: NpgsqlException }
                    or System.IO.IOException)
                    {
                        Interlocked.Increment(ref failed);
                    }
                }
                last[w, item] = on;
            }
        })).ToArray();
        var all = Task.WhenAll(work);
        await using (var killer = new NpgsqlConnection($"{database.Connection};Pooling=false"))
        {
            await killer.OpenAsync();
            while (!all.IsCompleted)
            {
                await using var kill = new NpgsqlCommand(
                    "SELECT count(pg_terminate_backend(pid)) FROM (SELECT pid FROM pg_stat_activity WHERE datname = current_database() " +
                        "AND pid <> pg_backend_pid() AND state <> 'idle' ORDER BY random() LIMIT 2) AS chosen", killer);
                killed += Convert.ToInt32(await kill.ExecuteScalarAsync(), CultureInfo.InvariantCulture);
                await Task.Delay(30);
            }
        }
        await all;
        await using var context = database.Context();
        var stored = (await context.Marks.AsNoTracking().ToListAsync()).Select(m => (m.Person, m.Item)).Order().ToList();
        List<(string, int)> expected =
            [.. from w in Enumerable.Range(0, writers) from i in Enumerable.Range(0, items) where last[w, i] select ($"Writer {w}", i)];
        Assert.Equal(expected.Order(), stored);
        Assert.True(killed > 10 && failed > 5, $"{killed} killed, {failed} failed");
        // The list that was open all the while agrees.
        int[] counts = [.. Enumerable.Range(0, items).Select(i => expected.Count(e => e.Item2 == i))];
        await Until(() => !list.IsReading && Enumerable.Range(0, items).All(i => list.IsRead(i) && list[i].Stars == counts[list.KeyAt(i)]),
            "The open list never agrees.");
    });
}
