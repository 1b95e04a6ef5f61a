using System.Linq.Expressions;
using Lectica.Acts;
using Lectica.Frames;
using Lectica.Input;
using Lectica.Items;
using Lectica.Moving;
using Lectica.Queries;
using Lectica.Sources;
using Lectica.Testing;
using Microsoft.EntityFrameworkCore;

namespace Lectica.Tests.Databases;

/// <summary>Lists over real databases: SQLite in a file and a PostgreSQL server, beside the bare queries.</summary>
public sealed class QueryTests
{
    private static readonly string[] Names = ["Ring", "ring", "Veil", "Ünder", "Arc's", "Comet", "", "%", "Lyra"];

    private static List<StoredRequest> Requests(int count, int seed)
    {
        var random = new Random(seed);
        var places = OrderKey.Spread(count);
        return [.. Enumerable.Range(0, count).Select(i => new StoredRequest
        {
            Id = i,
            Name = Names[random.Next(Names.Length)],
            Night = $"N{random.Next(4)}",
            Priority = random.Next(4) == 0 ? null : random.Next(5),
            Place = places[i],
            Starred = random.Next(3) == 0,
        }).OrderBy(_ => random.Next())];
    }

    /// <summary>Orders of several fields, up and down, with nulls and ties; with the bare query that is the same.</summary>
    private static (QuerySource<StoredRequest, int> Source, IQueryable<StoredRequest> Bare) Ordered(
        Database database, PlanContext context, int which)
    {
        var source = QuerySource.Of(database.Context, db => db.Requests, r => r.Id);
        return which switch
        {
            0 => (source.OrderBy(r => r.Night).OrderByDescending(r => r.Priority).OrderBy(r => r.Name),
                context.Requests.OrderBy(r => r.Night).ThenByDescending(r => r.Priority).ThenBy(r => r.Name).ThenBy(r => r.Id)),
            1 => (source.OrderBy(r => r.Priority).OrderByDescending(r => r.Name),
                context.Requests.OrderBy(r => r.Priority).ThenByDescending(r => r.Name).ThenBy(r => r.Id)),
            2 => (source.OrderByDescending(r => r.Starred), context.Requests.OrderByDescending(r => r.Starred).ThenBy(r => r.Id)),
            3 => (source.InSections(r => r.Night, n => $"Night {n}").OrderByDescending(r => r.Name),
                context.Requests.OrderBy(r => r.Night).ThenByDescending(r => r.Name).ThenBy(r => r.Id)),
            _ => (source, context.Requests.OrderBy(r => r.Id)),
        };
    }

    [Theory]
    [InlineData(Provider.Sqlite)]
    [InlineData(Provider.Postgres)]
    public void Pages_bounds_and_places_are_those_of_the_bare_query_in_any_order(Provider provider) => OneThread.Run(async () =>
    {
        using var database = Database.Open(provider);
        // More than a few bookmarks.
        database.Add(Requests(7_000, 1));
        await using var context = database.Context();
        var far = 0;
        for (var which = 0; which < 5; which++)
        {
            var (source, bare) = Ordered(database, context, which);
            var all = await bare.AsNoTracking().ToListAsync();
            var random = new Random(which);
            database.Statements.Clear();
            for (var n = 0; n < 12; n++)
            {
                int start = random.Next(all.Count), count = random.Next(1, 150), around = random.Next(all.Count), lead = random.Next(60);
                if (start > 2000) far++;
                int[] bounds = [.. Enumerable.Range(0, 3).Select(_ => random.Next(all.Count))],
                    keys = [.. Enumerable.Range(0, 3).Select(_ => random.Next(all.Count)), -7];
                var answer = await source.AskAsync(new()
                {
                    Counts = n % 2 == 0,
                    Stretches = [new(start, count), new(-lead, count, new(all[around]))],
                    Bounds = [.. bounds.Select(b => all[b])],
                    Keys = [.. keys.Select(k => k < 0 ? k : all[k].Id)],
                }, default);
                Assert.Equal(all.Skip(start).Take(count).Select(r => r.Id), answer.Pages[0].Items.Select(r => r.Id));
                var from = Math.Max(0, around - lead);
                Assert.Equal((from, string.Join(" ", all.Skip(from).Take(count).Select(r => r.Id))),
                    (answer.Pages[1].Start, string.Join(" ", answer.Pages[1].Items.Select(r => r.Id))));
                Assert.Equal(bounds.Select(b => new BoundSpan(b, b + 1)), answer.Bounds);
                Assert.Equal(keys.Select(k => (int?)Math.Max(-1, k)), answer.Indexes);
                if (n % 2 == 0) Assert.Equal(7_000, answer.Count);
                if (which == 3)
                    Assert.Equal(
                        all.GroupBy(r => r.Night).Select(g => new SourceSection(g.Key, g.Count(), $"Night {g.Key}")), answer.Sections);
            }
            // What is compared is always a parameter.
            Assert.DoesNotContain(
                database.Statements.Sent, s => Names.Any(name => name.Length > 1 && s.Contains($"'{name}", StringComparison.Ordinal)));
        }
        Assert.True(far > 30, $"{far} far");
    });

    private static ListOptions Options { get; } = new()
    {
        Mode = SelectionMode.Multiple,
        ModKey = ModKey.Ctrl,
        Phrases = Phrases.English,
        PageSize = 20,
        PagesKept = 4,
        MayMove = true,
        ReducedMotion = true,
    };

    private static async Task Settle<TItem, TKey>(InteractiveList<TItem, TKey> list) where TKey : notnull
    {
        await Until(() => !list.IsReading, "It never settles.");
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

    private static readonly string[] Keys = ["Home", "End", "Shift+Home", "Shift+End", "Ctrl+Shift+End", "PageDown", "Shift+PageDown",
        "PageUp", "ArrowDown", "Ctrl+ArrowDown", "Shift+ArrowUp", "Ctrl+A", "Ctrl+Space", "Shift+Space", "Space"];

    [Theory]
    [InlineData(Provider.Sqlite)]
    [InlineData(Provider.Postgres)]
    public void What_is_selected_is_one_condition_that_the_database_works_out(Provider provider) => OneThread.Run(async () =>
    {
        using var database = Database.Open(provider);
        database.Add(Requests(400, 2));
        await using var context = database.Context();
        int ranges = 0, selected = 0, largest = 0;
        for (var seed = 0; seed < 30; seed++)
        {
            var random = new Random(seed);
            var (source, bare) = Ordered(database, context, seed % 5);
            using var list = InteractiveList.Awaiting<StoredRequest, int>(r => r.Id, Options);
            list.Show(source);
            await Settle(list);
            for (var step = 0; step < 12; step++)
            {
                if (random.Next(6) == 0) list.Do(ActKind.Invert);
                else if (random.Next(6) == 0 && list.Rows.Sections.Length > 0)
                    list.ToggleSection(list.Rows.Sections[random.Next(list.Rows.Sections.Length)].Key);
                else if (random.Next(4) == 0) list.ScrollTo(random.Next(0, 20_000));
                else if (random.Next(3) == 0 && list.Frame.Rows.FirstOrDefault(r => r.Index >= 0) is { } row)
                    list.DoAt(random.Next(2) == 0 ? ActKind.Toggle : ActKind.ExtendAdding, row.Index);
                else list.Take(
                    new KeyPress(KeyChord.Parse(Keys[random.Next(Keys.Length)]) is var chord && chord.Key == "Space" ? " " : chord.Key,
                        chord.Resolve(ModKey.Ctrl)));
                if (random.Next(2) == 0) await Settle(list);
            }
            var condition = await list.Selected.ConditionAsync();
            if (condition.Terms.Any(t => t.Kind == TermKind.Interval)) ranges++;
            var all = await bare.AsNoTracking().ToListAsync();
            var meant = list.Selection.Items.Select(i => all[i].Id).Order().ToList();
            if (meant.Count > 0) selected++;
            await Settle(list);
            database.Statements.Clear();
            Assert.Equal(meant, (await context.Requests.Where(condition).Select(r => r.Id).ToListAsync()).Order());
            var sql = Assert.Single(database.Statements.Sent);
            largest = Math.Max(largest, sql.Length);
            Assert.Equal(meant.Count, await source.CountAsync(condition, default));
            var read = new List<int>();
            await foreach (var page in list.Selected.ReadAsync(37)) read.AddRange(page.Select(r => r.Id));
            Assert.Equal(list.Selection.Items.Select(i => all[i].Id), read);
            // The same by its own rules, in the database's order.
            var rank = all.Select((r, i) => (r.Id, i)).ToDictionary(r => r.Id, r => r.i);
            Assert.Equal(
                meant, all.Where(r => condition.Means(r, r.Id, (a, b) => rank[a.Id] - rank[b.Id], r => r.Night)).Select(r => r.Id).Order());
        }
        Assert.True(ranges > 10 && selected > 20 && largest < 20_000, $"{ranges} {selected} {largest}");
    });

    [Theory]
    [InlineData(Provider.Sqlite)]
    [InlineData(Provider.Postgres)]
    public void All_but_three_are_starred_by_one_statement_and_taken_back(Provider provider) => OneThread.Run(async () =>
    {
        using var database = Database.Open(provider);
        database.Add(Requests(5_000, 3).Select(r => { r.Starred = r.Id % 10 == 0; return r; }));
        using var source = QuerySource.Of(database.Context, db => db.Requests, r => r.Id).OrderBy(r => r.Name)
            .WithMark("starred", r => r.Starred);
        using var list = InteractiveList.Awaiting<StoredRequest, int>(r => r.Id, Options);
        list.Marks = [new("starred") { Get = r => r.Starred, Set = (r, on) => r.Starred = on }];
        list.Show(source);
        await Settle(list);
        list.Do(ActKind.SelectAll);
        foreach (var i in (int[])[1, 2, 5]) list.DoAt(ActKind.Toggle, i);
        int[] left = [list.KeyAt(1), list.KeyAt(2), list.KeyAt(5)];
        Assert.Equal(4_997, list.Selected.Count);
        database.Statements.Clear();
        Assert.True(list.SetMark("starred", list.Selection.Items, true).IsHandled);
        // It shows at once, read or not.
        Assert.Equal(4_997, list.Marked("starred").Intersect(list.Selection.Items).Count);
        await Until(() => list.CanUndo, "It is never stored.");
        Assert.Single(database.Statements.Sent, s => s.StartsWith("UPDATE", StringComparison.Ordinal));
        await using var context = database.Context();
        Assert.Equal(
            left.Where(k => k % 10 != 0).Order(), (await context.Requests.Where(r => !r.Starred).Select(r => r.Id).ToListAsync()).Order());
        await Settle(list);
        Assert.True(list.Do(ActKind.Undo).IsHandled);
        for (var i = 0; i < 20_000 && await context.Requests.CountAsync(r => r.Starred) != 500; i++) await Task.Delay(1);
        Assert.Equal(0, await context.Requests.CountAsync(r => r.Starred != (r.Id % 10 == 0)));
        await Settle(list);
        // All of it in one statement of the app's own.
        Assert.Equal(4_997, await context.Requests.Where(list.Selected.Condition).ExecuteDeleteAsync());
        source.SayChanged();
        await Settle(list);
        Assert.Equal((3, 0), (list.Count, list.Selected.Count));
        Assert.Equal(left.Order(), Enumerable.Range(0, 3).Select(list.KeyAt).Order());
    });

    [Theory]
    [InlineData(Provider.Sqlite)]
    [InlineData(Provider.Postgres)]
    public void A_move_writes_the_order_keys_of_what_moves_and_is_taken_back(Provider provider) => OneThread.Run(async () =>
    {
        using var database = Database.Open(provider);
        database.Add(Requests(60, 4).Select(r => { r.Night = $"N{r.Id / 20}"; return r; }));
        using var source = QuerySource.Of(database.Context, db => db.Requests, r => r.Id).InSections(r => r.Night).Movable(r => r.Place);
        using var list = InteractiveList.Awaiting<StoredRequest, int>(r => r.Id, Options with { PageSize = 100 });
        list.Show(source);
        await Settle(list);
        await using var context = database.Context();
        async Task<string> Order() =>
            string.Join(" ",
            (await context.Requests.AsNoTracking().OrderBy(r => r.Night).ThenBy(r => r.Place).ThenBy(r => r.Id).ToListAsync()).Select(
                r => r.Id));
        string Shown() => string.Join(" ", Enumerable.Range(0, list.Count).Select(list.KeyAt));
        var first = Shown();
        Assert.Equal(first, await Order());
        database.Statements.Clear();
        // Three scattered ones, into the middle of another night.
        Assert.True(list.Move([1, 5, 30], 45, "N2").IsHandled);
        Assert.Equal("40 41 42 43 44 1 5 30 45", string.Join(" ", Shown().Split(' ').Skip(37).Take(9)));
        Assert.Equal((18, 23), (list.SectionState("N0").Count, list.SectionState("N2").Count));
        await Until(() => list.CanUndo, "It is never stored.");
        await Settle(list);
        Assert.Single(database.Statements.Sent, s => s.StartsWith("UPDATE", StringComparison.Ordinal));
        Assert.Equal(await Order(), Shown());
        Assert.Equal("40 41 42 43 44 1 5 30 45", string.Join(" ", Shown().Split(' ').Skip(37).Take(9)));
        list.Do(ActKind.Undo);
        // Others see what is stored before the list is told that it is.
        await Until(() => !list.IsReading && Shown() == first, "It is never taken back.");
        Assert.Equal(first, await Order());
        list.Do(ActKind.Redo);
        await Until(() => !list.IsReading && Shown() != first, "It is never done again.");
        Assert.Equal(await Order(), Shown());
        Assert.Equal("40 41 42 43 44 1 5 30 45", string.Join(" ", Shown().Split(' ').Skip(37).Take(9)));
    });

    [Theory]
    [InlineData(Provider.Sqlite)]
    [InlineData(Provider.Postgres)]
    public void Under_a_filter_a_move_lands_just_above_the_row_that_shows_below_the_gap(Provider provider) => OneThread.Run(async () =>
    {
        using var database = Database.Open(provider);
        database.Add(Requests(60, 4).Select(r => { (r.Place, r.Night) = (OrderKey.Between(null, null, 60)[r.Id], ""); return r; }));
        using var source = QuerySource.Of(database.Context, db => db.Requests, r => r.Id).Movable(r => r.Place);
        using var list = InteractiveList.Awaiting<StoredRequest, int>(r => r.Id, Options with { PageSize = 100 });
        source.Filter = r => r.Id % 3 != 2;
        list.Show(source);
        await Settle(list);
        List<int> expected = [.. Enumerable.Range(0, 60)];
        await using var context = database.Context();
        var random = new Random(3);
        var ends = 0;
        for (var n = 0; n < 15; n++)
        {
            int[] shown = [.. Enumerable.Range(0, list.Count).Select(list.KeyAt)],
                moved = [.. shown.OrderBy(_ => random.Next()).Take(random.Next(1, 4)).OrderBy(k => Array.IndexOf(shown, k))];
            var gap = n % 4 == 0 ? shown.Length : random.Next(shown.Length + 1);
            int[] below = [.. shown[gap..].Except(moved)], above = [.. shown[..gap].Except(moved)];
            Assert.True(list.Move(moved, gap).IsHandled);
            // What changes nothing on show is not moved.
            if (shown.SequenceEqual([.. above, .. moved, .. below])) continue;
            // As one would by hand: out of all of them, and in again beside a row that shows and stays.
            expected.RemoveAll(moved.Contains);
            if (below.Length == 0) ends++;
            expected.InsertRange(below.Length > 0 ? expected.IndexOf(below[0]) : expected.IndexOf(above[^1]) + 1, moved);
            await Until(() => !list.IsReading
                && context.Requests.OrderBy(r => r.Place).ThenBy(r => r.Id).Select(r => r.Id).AsEnumerable().SequenceEqual(expected),
                $"Move {n} of {string.Join(" ", moved)} to {gap} is not stored so.");
        }
        Assert.InRange(ends, 2, 10);
    });

    [Theory]
    [InlineData(Provider.Sqlite)]
    [InlineData(Provider.Postgres)]
    public void What_others_change_is_followed_and_what_is_typed_is_found(Provider provider) => OneThread.Run(async () =>
    {
        using var database = Database.Open(provider);
        database.Add(Requests(3_000, 5));
        using var source = QuerySource.Of(database.Context, db => db.Requests, r => r.Id).OrderBy(r => r.Name).FoundBy(r => r.Name)
            .Follow(interval: TimeSpan.FromMilliseconds(20));
        using var list = InteractiveList.Awaiting<StoredRequest, int>(r => r.Id, Options);
        list.Content = r => new(r.Name);
        list.Show(source);
        await Settle(list);
        await Task.Delay(200);
        await using var context = database.Context();
        await context.Requests.Where(r => r.Id >= 2_000).ExecuteDeleteAsync();
        await Until(() => list.Count == 2_000, "It is never told.");
        await Settle(list);
        Assert.Equal(2_000, list.Count);
        ListPlayer.On(list).Type("lyr");
        await Until(() => list.Selection.Cursor > 0 && list.IsRead(list.Selection.Cursor), "It is never found.");
        Assert.Equal("Lyra", list[list.Selection.Cursor].Name);
        Assert.NotEqual("Lyra", list[list.Selection.Cursor - 1].Name);
    });

    private static int NameLeast { get; set; }

    [Theory]
    [InlineData(Provider.Sqlite)]
    [InlineData(Provider.Postgres)]
    public void An_act_on_a_filtered_list_reaches_what_the_filter_lets_through_and_nothing_else(Provider provider) =>
        OneThread.Run(async () =>
    {
        using var database = Database.Open(provider);
        database.Add(Requests(3_000, 5).Select(r => { (r.Night, r.Starred) = ($"N{r.Id % 3}", false); return r; }));
        // What is to be stored waits for as long as a test wants it to.
        using var gate = new ManualResetEventSlim(true);
        var opened = 0;
        using var source = QuerySource.Of(() =>
        {
            Interlocked.Increment(ref opened);
            gate.Wait();
            return database.Context();
        }, db => db.Requests, r => r.Id).OrderBy(r => r.Id).WithMark("starred", r => r.Starred);
        using var list = InteractiveList.Awaiting<StoredRequest, int>(r => r.Id, Options);
        list.Marks = [new("starred") { Get = r => r.Starred, Set = (r, on) => r.Starred = on }];
        var night = new[] { "N0", "N1" };
        var form = (Night: night, At: (int?)1, Place: (string?)null);
        NameLeast = 0;
        source.Filter = r => r.Night == form.Night[form.At ?? 0] && form.Night.Contains(r.Night)
            && (form.Place == null || r.Name.Length > form.Place.Length) && r.Name.Length >= NameLeast && DateTime.UtcNow.Year > 2000;
        // A variable in a filter counts as it was, whatever becomes of it.
        (form, NameLeast) = ((["N2"], null, "a place"), 1_000);
        list.Show(source);
        await Settle(list);
        Assert.Equal(1_000, list.Count);
        source.SayChanged();
        await Settle(list);
        Assert.Equal(1_000, list.Count);
        await using var context = database.Context();
        Task<int> Meant() => context.Requests.Where(list.Selected.Condition).CountAsync();

        // All but two, in one statement of the app's own and in the list's.
        list.Do(ActKind.SelectAll);
        list.DoAt(ActKind.Toggle, 3);
        list.DoAt(ActKind.Toggle, 4);
        Assert.Equal((998, 998), (await Meant(), await source.CountAsync(list.Selected.Condition, default)));
        Assert.Equal(0, await context.Requests.Where(list.Selected.Condition).CountAsync(r => r.Night != "N1"));
        // Its expression costs no connection of its own, on which a screen would wait.
        await Settle(list);
        var before = opened;
        _ = list.Selected.Condition.ToExpression();
        Assert.Equal(before, opened);
        // The user does it with the filter in view; that it is another when it comes to be stored changes nothing.
        gate.Reset();
        Assert.True(list.ToggleMark("starred").IsHandled);
        source.Filter = null;
        gate.Set();
        await Until(() => list.CanUndo, "It is never stored.");
        Assert.Equal((998, 0), (await context.Requests.CountAsync(r => r.Starred),
            await context.Requests.CountAsync(r => r.Starred && r.Night != "N1")));

        // What nobody saw when all was selected is not selected now.
        await Settle(list);
        Assert.Equal((3_000, 0, 0), (list.Count, list.Selected.Count, await Meant()));

        // One by one, and a stretch that has been read, stay what they are; one that has not cannot be told apart any more.
        source.Filter = r => r.Night != "N2";
        await Settle(list);
        list.DoAt(ActKind.Select, 2);
        list.DoAt(ActKind.ExtendAdding, 6);
        list.DoAt(ActKind.Toggle, 4);
        list.DoAt(ActKind.Toggle, 11);
        int[] selected = [list.KeyAt(2), list.KeyAt(3), list.KeyAt(5), list.KeyAt(6), list.KeyAt(11)];
        list.DoAt(ActKind.Toggle, 1_200);
        list.DoAt(ActKind.ExtendAdding, 1_900);
        await Settle(list);
        Assert.Equal((706, 706), (list.Selected.Count, await Meant()));
        source.Filter = null;
        await Settle(list);
        Assert.Equal(selected.Order(), (await context.Requests.Where(list.Selected.Condition).Select(r => r.Id).ToListAsync()).Order());
        Assert.Equal(selected.Order(), list.Selection.Items.Select(list.KeyAt).Order());
        // Whom the filter hides is not selected any more, and does not come back with the next one.
        source.Filter = r => r.Night == "N0";
        await Settle(list);
        int[] left = [.. selected.Where(k => k % 3 == 0)];
        Assert.Equal(left.Order(), list.Selection.Items.Select(list.KeyAt).Order());
        source.Filter = null;
        await Settle(list);
        Assert.Equal(left.Order(), list.Selection.Items.Select(list.KeyAt).Order());
        Assert.InRange(left.Length, 1, 4);
    });

    [Fact]
    public void What_is_wrong_is_named_and_the_selection_stays() => OneThread.Run(async () =>
    {
        using var database = Database.Open(Provider.Sqlite);
        database.Add(Requests(100, 6));
        var unknown = QuerySource.Of(database.Context, db => db.Requests, r => r.Id).OrderBy(r => Odd(r.Name));
        var error = await Assert.ThrowsAsync<QueryNotTranslatedException>(
            () => unknown.AskAsync(new() { Stretches = [new(0, 10)] }, default));
        Assert.Contains("Odd(r.Name)", error.Message, StringComparison.Ordinal);
        Assert.Contains("the order", error.Message, StringComparison.Ordinal);

        // A key that is there twice, and one that is null.
        foreach (var (key,
            type) in new (Expression<Func<StoredRequest, string>>, Type)[] { (r => r.Night, typeof(DuplicateKeyException)),
            (r => r.Priority == null ? null! : r.Name + r.Id, typeof(MissingKeyException)) })
        {
            using var wrong = InteractiveList.Awaiting(key.Compile(), Options);
            Exception? failed = null;
            wrong.ReadFailed += (_, e) => failed = e.Error;
            wrong.Show(QuerySource.Of(database.Context, db => db.Requests, key));
            await Settle(wrong);
            Assert.IsType(type, failed);
            Assert.Equal(NoticeKind.Failed, wrong.Frame.Rows[0].Notice);
        }

        // A database that goes away, is locked, or is another: the rows stay, and so does what is selected.
        using var source = QuerySource.Of(database.Context, db => db.Requests, r => r.Id);
        using var list = InteractiveList.Awaiting<StoredRequest, int>(r => r.Id, Options);
        list.Show(source);
        await Settle(list);
        list.Do(ActKind.SelectAll);
        list.DoAt(ActKind.Toggle, 3);
        var errors = new List<string>();
        list.ReadFailed += (_, e) => errors.Add(e.Error.Message);
        await using var context = database.Context();
        await context.Database.ExecuteSqlRawAsync("ALTER TABLE Requests RENAME TO Elsewhere");
        source.SayChanged();
        await Settle(list);
        Assert.Contains("no such table", Assert.Single(errors), StringComparison.Ordinal);
        Assert.Equal((100, 99), (list.Count, list.Selected.Count));
        list.ScrollTo(double.MaxValue);
        Assert.Equal(NoticeKind.MoreFailed, list.Frame.Rows[^1].Notice);
        await Settle(list);
        Assert.Contains(
            list.Frame.Rows,
                r => r.Reading == RowReading.Failed && r.Content.Label.Contains("no such table", StringComparison.Ordinal)
                    && r.Content.Detail == "Try again");
        await context.Database.ExecuteSqlRawAsync("ALTER TABLE Elsewhere RENAME TO Requests");
        Assert.True(list.Do(ActKind.Retry).IsHandled);
        await Settle(list);
        Assert.All(list.Frame.Rows, r => Assert.Equal(RowReading.Done, r.Reading));
        Assert.Equal((100, 99), (list.Count, list.Selected.Count));
        Assert.Equal(MoreKind.NotSaid, list.More.Kind);
    });

    [Fact]
    public void What_a_full_or_locked_database_will_not_take_comes_back_and_is_said() => OneThread.Run(async () =>
    {
        using var database = Database.Open(Provider.Sqlite);
        database.Add(Requests(3000, 8));
        var isFull = false;
        // It is stored when the marks were seen, however fast that is.
        using var seen = new ManualResetEventSlim(true);
        // As it would be on a full disk: it may not grow.
        using var source = QuerySource.Of(() =>
        {
            seen.Wait();
            var context = database.Context();
            context.Database.SetCommandTimeout(1);
            context.Database.OpenConnection();
            context.Database.ExecuteSqlRaw(isFull ? "PRAGMA max_page_count=1" : "PRAGMA max_page_count=1073741823");
            return context;
        }, db => db.SeenBy("ada"), r => r.Id).WithSharedMark("starred", "ada");
        using var list = InteractiveList.Awaiting<PersonalRequest, int>(r => r.Id, Options);
        list.Marks = [new("starred") { Get = r => r.IsMine, Set = (_, _) => { } }];
        list.Show(source);
        await Settle(list);
        list.Do(ActKind.SelectAll);
        list.DoAt(ActKind.Toggle, 3);

        async Task Refuses(string why)
        {
            seen.Reset();
            list.ToggleMark("starred");
            Assert.Equal(2999, list.Marked("starred").Count);
            seen.Set();
            await Until(() => list.Marked("starred").IsEmpty, "The marks do not come back.");
            await Settle(list);
            Assert.Contains(why, list.BriefNotice!.Text, StringComparison.Ordinal);
            Assert.Equal((0, 2999, false), (list.Marked("starred").Count, list.Selected.Count, list.CanUndo));
            await using var context = database.Context();
            Assert.Equal(0, await context.Marks.CountAsync());
        }
        isFull = true;
        await Refuses("full");
        isFull = false;
        await using (var other = database.Context())
        {
            await using var writing = await other.Database.BeginTransactionAsync();
            await other.Database.ExecuteSqlRawAsync("UPDATE Requests SET Name = Name");
            await Refuses("locked");
        }
        list.ToggleMark("starred");
        await Until(() => list.CanUndo, "It is never stored.");
        Assert.Equal((2999, true), (list.Marked("starred").Count, list.CanUndo));
    });

    private static bool Odd(string name) => name.Length % 2 == 1;
}
