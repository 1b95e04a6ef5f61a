using System.Collections.ObjectModel;
using System.Text;
using CsCheck;
using Lectica.Acts;
using Lectica.Testing;

namespace Lectica.Tests.Lists;

/// <summary>What is remembered and comes back in slices: the list is usable meanwhile, and nothing that is done to it gets lost.</summary>
public sealed class SnapshotTests
{
    /// <summary>A clock by which each slice is over as soon as it is looked at.</summary>
    private sealed class Hurried : TimeProvider
    {
        private long _now;

        public override long TimestampFrequency => 1000;

        public override long GetTimestamp() => _now += 100;
    }

    private sealed class Pausing(Func<Task> pause) : MemoryStream
    {
        public override async ValueTask WriteAsync(ReadOnlyMemory<byte> buffer, CancellationToken cancellationToken = default)
        {
            Write(buffer.Span);
            await pause();
        }
    }

    private static InteractiveList<VariableStar, int> Listed(ObservableCollection<VariableStar> stars) =>
        Marked(InteractiveList.Of(stars, s => s.Id, Slowly));

    private static InteractiveList<VariableStar, int> Marked(InteractiveList<VariableStar, int> list)
    {
        list.Marks = [new("kept")];
        return list;
    }

    private static ListOptions Slowly => new() { Mode = SelectionMode.Multiple, Time = new Hurried() };

    private static ObservableCollection<VariableStar> Stars(int count, int first = 0) =>
        [.. Enumerable.Range(first, count).Select(i => new VariableStar(i, 1 + (i % 7)))];

    [Fact]
    public async Task What_is_remembered_in_slices_is_the_moment_of_the_call_and_comes_back_to_what_became_of_the_list()
    {
        var (pauses, edits, cameIn, wentOut) = (0, 0, 0, 0);
        await Gen.Select(Gen.Int[0, 600], Gen.Int, Gen.Int[0, 3], Gen.Bool).SampleAsync(async (count, seed, often, isMoved) =>
        {
            var random = new Random(seed);
            var stars = Stars(count);
            using var list = Listed(stars);
            list.SelectedKeys = [.. Enumerable.Range(0, count).Where(_ => random.Next(3) > 0)];
            foreach (var star in stars.Where(_ => random.Next(5) == 0).ToList()) list.ToggleMark("kept", star.Id);
            if (isMoved && count > 3) list.Move([1, 2], count);
            list.ScrollTo(random.Next(0, Math.Max(1, (count * 52) - 600)));
            var (fresh, gone) = (10_000, new HashSet<int>());

            // Others come and go and change places; none that went comes back.
            Task Edit(ObservableCollection<VariableStar> source)
            {
                Interlocked.Increment(ref pauses);
                for (var i = random.Next(0, often + 1); i > 0; i--)
                {
                    Interlocked.Increment(ref edits);
                    var at = random.Next(0, source.Count + 1);
                    if (random.Next(3) == 0 || source.Count == 0) source.Insert(at, new(fresh++, 1));
                    else if (random.Next(2) == 0) source.Move(at % source.Count, random.Next(0, source.Count));
                    else
                    {
                        gone.Add(source[at % source.Count].Id);
                        source.RemoveAt(at % source.Count);
                    }
                }
                return Task.CompletedTask;
            }

            var atOnce = list.Save();
            using var written = new Pausing(() => Edit(stars));
            await list.SaveAsync(written);
            written.Position = 0;
            var saved = await ListSnapshot.ReadAsync(written);
            Assert.Equal(atOnce.ToJson(), saved.ToJson());

            // With nothing done to it, a list is as if it had come back at once.
            using var same = Listed(Stars(count));
            using var other = Listed(Stars(count));
            other.Restore(saved);
            await same.RestoreAsync(saved, () => Task.CompletedTask);
            Assert.Equal(other.Save(), same.Save());
            Assert.Equal(other.Viewport, same.Viewport);

            // Another day: some are gone, some come in while it comes back.
            var next = Stars(count);
            var late = next.Where(_ => random.Next(9) == 0).ToList();
            foreach (var star in late) next.Remove(star);
            using var another = Listed(next);
            var raised = 0;
            another.SelectionChanged += (_, e) => raised += e.Added.Count > 0 ? 1 : 0;
            gone.Clear();
            var report = await another.RestoreAsync(saved, () =>
            {
                if (late.Count > 0)
                {
                    Interlocked.Increment(ref cameIn);
                    next.Insert(random.Next(0, next.Count + 1), late[^1]);
                    late.RemoveAt(late.Count - 1);
                }
                return Edit(next);
            });
            Interlocked.Add(ref wentOut, gone.Count(id => saved.Selected.Contains($"{id}")));
            var there = next.Select(s => s.Id).ToHashSet();
            Assert.Null(report.Refusal);
            Assert.Equal(saved.Selected.Select(int.Parse).Where(there.Contains).Order(), another.SelectedKeys.Order());
            Assert.Equal(saved.Marks!["kept"].Select(int.Parse).Where(there.Contains).Order(), MarkedOf(another).Order());
            Assert.Superset(late.Select(s => $"{s.Id}").Intersect(saved.Selected).ToHashSet(), report.MissingKeys.ToHashSet());
            Assert.DoesNotContain(report.MissingKeys, key => there.Contains(int.Parse(key, null)));
            Assert.InRange(raised, 0, 1);
        }, iter: Effort.Of(200));
        Assert.True(pauses > 50 && edits > 50 && cameIn > 20 && wentOut > 5, $"{pauses} pauses, {edits} edits, {cameIn} in, {wentOut} out");
    }

    [Fact]
    public async Task What_is_done_while_a_snapshot_comes_back_stays_and_the_rest_comes_back()
    {
        using var before = Listed(Stars(500));
        before.SelectAll();
        before.ToggleMark("kept", 7);
        before.ScrollTo(1200);
        var saved = before.Save();

        // Selected by the user: that stays, and the report says so; the mark and the place come back.
        using var list = Listed(Stars(500));
        var report = await list.RestoreAsync(saved, Once(() => list.Select(3)));
        Assert.Equal((RefusalKind.OutOfDate, "3"), (report.Refusal?.Kind, string.Join(' ', list.SelectedKeys)));
        Assert.Equal([7], MarkedOf(list));
        Assert.Equal(1200, list.Viewport.ScrollTop);

        // Scrolled and marked: those stay.
        using var other = Listed(Stars(500));
        report = await other.RestoreAsync(saved, Once(() =>
        {
            other.ScrollTo(300);
            other.ToggleMark("kept", 9);
        }));
        Assert.Null(report.Refusal);
        Assert.Equal((500, 300.0), (other.Selected.Count, other.Viewport.ScrollTop));
        Assert.Equal([9], MarkedOf(other));

        // Another source by then: what is in that.
        using var third = Listed(Stars(500));
        report = await third.RestoreAsync(saved, Once(() => third.Show(Stars(40, first: 480))));
        Assert.Equal(Enumerable.Range(480, 20), third.SelectedKeys);
        Assert.Equal(480, report.MissingKeys.Count);

        // One that is read by pages comes back by itself.
        using var paged = Listed(Stars(500));
        var source = new SimulatedSource<VariableStar, int>(Stars(500), s => s.Id, (a, b) => a.Id.CompareTo(b.Id));
        await paged.RestoreAsync(saved with { Cursor = "8" }, Once(() => paged.Show(source)));
        for (var i = 0; i < 20 && paged.IsReading; i++) source.AnswerAll();
        Assert.Equal(500, paged.Count);

        // A pause that throws ends it, with nothing done; from a handler it is refused, and a list that has gone says so.
        using var ended = Listed(Stars(500));
        var none = ended.Save();
        await Assert.ThrowsAsync<OperationCanceledException>(
            () => ended.RestoreAsync(saved, () => throw new OperationCanceledException()));
        using var full = new Pausing(() => throw new IOException("There is no room."));
        await Assert.ThrowsAsync<IOException>(() => before.SaveAsync(full));
        Assert.Equal(none, ended.Save());
        var inside = new List<Task>();
        ended.SelectionChanged += (_, _) => inside.Add(ended.RestoreAsync(saved, () => Task.CompletedTask));
        ended.Select(1);
        await Assert.ThrowsAsync<InvalidOperationException>(() => inside.Single());
        await Assert.ThrowsAsync<ObjectDisposedException>(() => ended.RestoreAsync(saved, Once(ended.Dispose)));
    }

    [Fact]
    public void What_the_snapshot_itself_does_to_the_list_is_nothing_that_was_done_meanwhile()
    {
        static InteractiveList<VariableStar, int> Sectioned()
        {
            var list = Listed(Stars(300));
            list.Sections = new(s => $"{s.Magnitude}");
            return list;
        }
        using var before = Sectioned();
        before.CollapseAll();
        before.CollapseOrExpand("3");
        before.Select(58);
        before.ScrollTo(1000);
        var saved = before.Save();
        // With most sections closed the list is shorter, which scrolls it: that is no user.
        using var list = Sectioned();
        list.Select(9);
        list.ScrollTo(14_000);
        var report = list.Restore(saved);
        Assert.Null(report.Refusal);
        Assert.Equal([58], list.SelectedKeys);
        Assert.Equal(before.Viewport, list.Viewport);
    }

    [Fact]
    public async Task What_is_no_snapshot_is_refused_alike_in_one_piece_and_in_many()
    {
        foreach (var text in (string[])["", "null", "{", """{"version":7,"selected":[]}""", """{"version":1,"selected":["a",7]}""",
            """{"version":1,"selected":[null]}""", """{"version":1,"selected":[],"firstRowOffset":1e999}"""])
        {
            var whole = Assert.Throws<FormatException>(() => ListSnapshot.Parse(text)).Message;
            using var stream = new MemoryStream(Encoding.UTF8.GetBytes(text));
            Assert.Equal(whole, (await Assert.ThrowsAsync<FormatException>(() => ListSnapshot.ReadAsync(stream))).Message);
        }
    }

    private static IEnumerable<int> MarkedOf(InteractiveList<VariableStar, int> list) => list.Marked("kept").Select(list.KeyAt);

    private static Func<Task> Once(Action act)
    {
        var isDone = false;
        return () =>
        {
            if (!isDone) act();
            isDone = true;
            return Task.CompletedTask;
        };
    }
}
