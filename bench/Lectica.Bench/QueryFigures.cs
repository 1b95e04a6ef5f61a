using System.Diagnostics;
using System.Globalization;
using Lectica.Acts;
using Lectica.Frames;
using Lectica.Input;
using Lectica.Queries;
using Lectica.Sources;
using Microsoft.EntityFrameworkCore;

namespace Lectica.Bench;

/// <summary>
/// Lists over databases, against the bare queries by hand in the same run: so many rows in SQLite, in a file, and in PostgreSQL where
/// LECTICA_POSTGRES says how to connect to one.
/// </summary>
internal sealed class QueryFigures(int rows) : FigureTable
{
    public sealed class Request
    {
        public int Id { get; set; }

        public string Field { get; set; } = "";

        public int Hour { get; set; }

        public bool Starred { get; set; }
    }

    private sealed class Archive(bool isPostgres, string connection) : DbContext
    {
        public DbSet<Request> Requests => Set<Request>();

        protected override void OnConfiguring(DbContextOptionsBuilder options)
        {
            if (isPostgres) options.UseNpgsql(connection, o => o.CommandTimeout(600));
            else options.UseSqlite(connection, o => o.CommandTimeout(600));
        }

        protected override void OnModelCreating(ModelBuilder model)
        {
            model.Entity<Request>().HasIndex(r => new { r.Hour, r.Id });
            model.HasSharedMarks<int>();
        }
    }

    /// <summary>A thread with a context, as a screen has one.</summary>
    private sealed class Loop : SynchronizationContext
    {
        private readonly System.Collections.Concurrent.BlockingCollection<(SendOrPostCallback Do, object? State)> _posted = [];

        public override void Post(SendOrPostCallback d, object? state) => _posted.Add((d, state));

        public void Until(Func<bool> over)
        {
            while (!over())
                if (_posted.TryTake(out var next, 1)) next.Do(next.State);
        }
    }

    public string Run()
    {
        var file = Path.Combine(Path.GetTempPath(), $"lectica-bench-{Environment.ProcessId}.db");
        try
        {
            Measure("SQLite", () => new Archive(false, $"Data Source={file}"), isPostgres: false);
        }
        finally
        {
            foreach (var end in (string[])["", "-wal", "-shm"]) File.Delete(file + end);
        }
        if (Environment.GetEnvironmentVariable("LECTICA_POSTGRES") is { Length: > 0 } server)
            Measure("PostgreSQL", () => new Archive(true, server.Replace("Database=postgres", "Database=lectica_bench",
                StringComparison.Ordinal)), isPostgres: true);
        return Table;
    }

    private void Fill(Archive archive, bool isPostgres)
    {
        archive.Database.EnsureDeleted();
        archive.Database.EnsureCreated();
        var n = rows.ToString(CultureInfo.InvariantCulture);
#pragma warning disable EF1002 // A number of our own.
        if (isPostgres)
            archive.Database.ExecuteSqlRaw($"""
                INSERT INTO "Requests" ("Id", "Field", "Hour", "Starred")
                SELECT i, 'Field ' || i, (i::bigint * 7919 % 100000)::int, false FROM generate_series(1, {n}) i; ANALYZE
                """);
        else
        {
            archive.Database.ExecuteSqlRaw("PRAGMA journal_mode=WAL; PRAGMA synchronous=OFF");
            archive.Database.ExecuteSqlRaw($"""
                WITH RECURSIVE s(i) AS (VALUES(1) UNION ALL SELECT i + 1 FROM s WHERE i < {n})
                INSERT INTO Requests (Id, Field, Hour, Starred) SELECT i, 'Field ' || i, i * 7919 % 100000, 0 FROM s
                """);
            archive.Database.ExecuteSqlRaw("ANALYZE");
        }
#pragma warning restore EF1002
    }

    private void Measure(string name, Func<Archive> open, bool isPostgres)
    {
        var loop = new Loop();
        SynchronizationContext.SetSynchronizationContext(loop);
        using var archive = open();
        archive.Database.SetCommandTimeout(1200);
        Console.Error.WriteLine($"{name}: {rows:N0} rows are made");
        Fill(archive, isPostgres);
        var options = new ListOptions { Mode = Lectica.Acts.SelectionMode.Multiple, Viewport = new(400, 600) };
        List<double> first = [], bare = [], jumps = [];
        void Hand()
        {
            using var own = open();
            _ = own.Requests.AsNoTracking().OrderBy(r => r.Hour).ThenBy(r => r.Id).Take(options.PageSize).ToList();
        }
        Hand();
        InteractiveList<Request, int> List(QuerySource<Request, int> source)
        {
            var list = InteractiveList.Awaiting<Request, int>(r => r.Id, options);
            list.Marks = [new("starred") { Get = r => r.Starred, Set = (r, on) => r.Starred = on }];
            list.Show(source);
            return list;
        }
        QuerySource<Request, int> Source() => QuerySource.Of(open, a => a.Requests, r => r.Id)
            .OrderBy(r => r.Hour).WithMark("starred", r => r.Starred);
        for (var i = 0; i < 9; i++)
        {
            var clock = Stopwatch.GetTimestamp();
            Hand();
            bare.Add(Stopwatch.GetElapsedTime(clock).TotalMilliseconds);
            clock = Stopwatch.GetTimestamp();
            using var source = Source();
            using var list = List(source);
            loop.Until(() => list.Count > 0 && list.IsRead(0));
            first.Add(Stopwatch.GetElapsedTime(clock).TotalMilliseconds);
        }
        Console.Error.WriteLine($"{name}: first rows {Number(Median([.. first]))} ms, bare {Number(Median([.. bare]))} ms");
        Figure($"{name}, {rows:N0} rows: first rows from opening, against the bare ORDER BY … LIMIT",
            Median([.. first.Zip(bare, (a, b) => a / b)]), "×", 3);

        GC.Collect();
        GC.WaitForPendingFinalizers();
        GC.Collect();
        var memory = GC.GetTotalMemory(true);
        using var all = Source();
        using var shown = List(all);
        loop.Until(() => !shown.IsReading);
        // The bookmarks are made while nobody waits for them.
        shown.ScrollTo(double.MaxValue / 4);
        shown.ScrollTo((rows - 5000L) * options.RowHeight);
        loop.Until(() => !shown.IsReading);
        var random = new Random(1);
        for (var i = 0; i < 41; i++)
        {
            var clock = Stopwatch.GetTimestamp();
            shown.ScrollTo(random.NextDouble() * (rows - 20) * options.RowHeight);
            loop.Until(() => shown.Frame.Rows.All(r => r.Reading == RowReading.Done));
            jumps.Add(Stopwatch.GetElapsedTime(clock).TotalMilliseconds);
        }
        Figure($"{name}: a jump to any place, until its rows show", Median([.. jumps]), "ms", 30);
        loop.Until(() => !shown.IsReading);
        GC.Collect();
        Figure($"{name}: memory of the list, wherever it was scrolled", (GC.GetTotalMemory(true) - memory) / 1e6, "MB", 40);

        shown.ScrollTo(0);
        loop.Until(() => !shown.IsReading);
        var time = 1000.0;
        void Tap(double y, Modifiers modifiers)
        {
            shown.Take(new PointerSample(SampleKind.Down, 1, PointerType.Mouse, 200, y, time += 1000)
            {
                Buttons = 1,
                Modifiers = modifiers,
            });
            shown.Take(new PointerSample(SampleKind.Up, 1, PointerType.Mouse, 200, y, time += 50) { Modifiers = modifiers });
        }
        Tap(170, Modifiers.None);
        shown.ScrollTo(rows / 2 * options.RowHeight);
        List<double> ranges = [];
        for (var i = 0; i < 21; i++)
        {
            var clock = Stopwatch.GetTimestamp();
            Tap(20 + (i * 26), Modifiers.Shift);
            ranges.Add(Stopwatch.GetElapsedTime(clock).TotalMilliseconds);
        }
        Figure($"{name}: half of it selected as a range", Median([.. ranges]), "ms", 1);
        loop.Until(() => !shown.IsReading);

        shown.Do(ActKind.SelectAll);
        shown.ScrollTo(0);
        loop.Until(() => !shown.IsReading);
        foreach (var i in (int[])[1, 5, 8]) shown.Toggle(shown.KeyAt(i));
        loop.Until(() => !shown.IsReading);
        List<double> marked = [], byHand = [];
        var key = new[] { shown.KeyAt(1), shown.KeyAt(5), shown.KeyAt(8) };
        var condition = shown.Selected.Condition;
        // On by one of them and off by the other, so that each changes all; and each as often first as second.
        for (var i = 0; i < 4; i++)
        {
            void ByHand(bool on)
            {
                var clock = Stopwatch.GetTimestamp();
                archive.Requests.Where(r => !key.Contains(r.Id) && r.Starred != on).ExecuteUpdate(s => s.SetProperty(r => r.Starred, on));
                byHand.Add(Stopwatch.GetElapsedTime(clock).TotalMilliseconds);
                if (isPostgres) archive.Database.ExecuteSqlRaw("VACUUM \"Requests\"");
            }
            void ByList(bool on)
            {
                var clock = Stopwatch.GetTimestamp();
                all.MarkAsync("starred", condition, on, default).GetAwaiter().GetResult();
                marked.Add(Stopwatch.GetElapsedTime(clock).TotalMilliseconds);
                if (isPostgres) archive.Database.ExecuteSqlRaw("VACUUM \"Requests\"");
            }
            if (i % 2 == 0) ByHand(true);
            ByList(i % 2 != 0);
            if (i % 2 != 0) ByHand(false);
        }
        Figure($"{name}: all but three marked, against the same statement by hand", Median([.. marked]) / Median([.. byHand]), "×", 1.1);
        loop.Until(() => !shown.IsReading);
        var look = Stopwatch.GetTimestamp();
        all.SayChanged();
        loop.Until(() => !shown.IsReading);
        Console.Error.WriteLine($"{name}: followed a change in {Stopwatch.GetElapsedTime(look).TotalMilliseconds:N0} ms; peak memory " +
            $"of the process {Process.GetCurrentProcess().PeakWorkingSet64 / 1e6:N0} MB");
        SynchronizationContext.SetSynchronizationContext(null);
        if (isPostgres) Toggles(open).GetAwaiter().GetResult();
    }

    /// <summary>Many people star requests at once, each by a source of their own; at the end the table has what each did last.</summary>
    private async Task Toggles(Func<Archive> open)
    {
        const int clients = 1_000, each = 5;
        Archive Pooled() => open();
        async Task<int> Client(int client)
        {
            using var source = QuerySource.Of(Pooled, a => a.Requests, r => r.Id).WithSharedMark("starred", $"Client {client}");
            for (var n = 0; n < each; n++)
                await source.MarkAsync("starred", new(source, false, [new(TermKind.Key, true) { Key = 1 + (client * 7 % 100) }]),
                    n % 2 == 0, default).ConfigureAwait(false);
            return 1;
        }
        await Client(0).ConfigureAwait(false);
        var clock = Stopwatch.GetTimestamp();
        await Task.WhenAll(Enumerable.Range(0, clients).Select(c => Task.Run(() => Client(c)))).ConfigureAwait(false);
        var seconds = Stopwatch.GetElapsedTime(clock).TotalSeconds;
        using var archive = open();
        var stored = archive.Set<SharedMark<int>>().Count();
        Add("PostgreSQL: toggles a second by 1,000 clients at once, none lost",
            $"{clients * each / seconds:N0} a second, {stored} of {clients} there", "1,000 a second", stored == clients
                && clients * each / seconds >= 1_000);
    }

    private void Figure(string what, double measured, string unit, double reach) =>
        Add(what, $"{Number(measured)} {unit}", $"under {Number(reach)} {unit}", measured < reach);
}
