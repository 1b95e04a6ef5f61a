using CsCheck;
using Lectica.Queries;
using Microsoft.EntityFrameworkCore;

namespace Lectica.Tests.Databases;

/// <summary>Snapshots in a database: whole or not at all, and two devices lose nothing of each other's.</summary>
public sealed class SnapshotStoreTests
{
    private static ListSnapshot Snapshot(params string[] selected) => new() { Selected = selected };

    [Theory]
    [InlineData(Provider.Sqlite)]
    [InlineData(Provider.Postgres)]
    public async Task Two_devices_of_one_person_keep_what_the_other_has_done(Provider provider)
    {
        using var database = Database.Open(provider);
        SnapshotStore phone = new(database.Context, "plan", "Anna"), desk = new(database.Context, "plan", "Anna"),
            other = new(database.Context, "plan", "Ben");
        Assert.Null(await phone.LoadAsync());
        await phone.SaveAsync(Snapshot("1", "2", "3"));
        Assert.Equal(["1", "2", "3"], (await desk.LoadAsync())!.Selected);
        // The phone takes one out and one in, the desk another each, not knowing of it.
        await phone.SaveAsync(Snapshot("1", "3", "7") with { Cursor = "7" });
        var now = await desk.SaveAsync(
            Snapshot("2", "3", "8") with { Cursor = "8", Marks = new Dictionary<string, IReadOnlyList<string>> { ["starred"] = ["3"] } });
        Assert.Equal(["3", "7", "8"], now.Selected.Order());
        Assert.Equal("8", now.Cursor);
        Assert.Equal(now.ToJson(), (await phone.LoadAsync())!.ToJson());
        Assert.Null(await other.LoadAsync());
    }

    [Theory]
    [InlineData(Provider.Sqlite)]
    [InlineData(Provider.Postgres)]
    public async Task Many_at_once_lose_nothing(Provider provider)
    {
        using var database = Database.Open(provider);
        await Task.WhenAll(Enumerable.Range(0, 12).Select(device => Task.Run(async () =>
        {
            var store = new SnapshotStore(database.Context, "plan", "Anna");
            var held = await store.LoadAsync() ?? Snapshot();
            for (var n = 0; n < 5; n++) held = await store.SaveAsync(held with { Selected = [.. held.Selected, $"{device}/{n}"] });
        })));
        await using var context = database.Context();
        var stored = ListSnapshot.Parse((await context.Set<StoredSnapshot>().SingleAsync()).Json);
        Assert.Equal(Enumerable.Range(0, 60).Select(i => $"{i / 5}/{i % 5}").Order(), stored.Selected.Order());
    }

    [Fact]
    public void What_neither_has_touched_stays_and_what_either_has_done_is_done() =>
        Gen.Select(Gen.Int[0, 255], Gen.Int[0, 255], Gen.Int[0, 255]).Sample((known, mine, theirs) =>
        {
            static string[] Keys(int bits) => [.. Enumerable.Range(0, 8).Where(i => (bits >> i & 1) == 1).Select(i => $"{i}")];
            var merged = SnapshotStore.Merged(Snapshot(Keys(known)), Snapshot(Keys(mine)), Snapshot(Keys(theirs))).Selected.Order();
            // Of each key: whoever has changed it since, else what it was.
            var expected = (mine ^ known) & mine | (theirs ^ known) & theirs | known & mine & theirs;
            return merged.SequenceEqual(Keys(expected));
        });
}
