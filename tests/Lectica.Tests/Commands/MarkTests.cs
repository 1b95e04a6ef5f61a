using System.Collections.Immutable;
using System.Collections.ObjectModel;
using CsCheck;
using Lectica.Items;
using Lectica.Marking;
using Request = Lectica.Tests.Commands.CommandTests.Request;

namespace Lectica.Tests.Commands;

/// <summary>Marks that are written to many items at once come to the same as those that are written one by one.</summary>
public sealed class MarkTests
{
    /// <summary>A list, what it told, and how its mark was written.</summary>
    private sealed class Bench
    {
        public Bench(int count, bool many)
        {
            Plan = [.. Enumerable.Range(0, count).Select(i => new Request($"R{i:00}", "Orvane Ring", i))];
            List = InteractiveList.Of(Plan, r => r.Id);
            List.Marks =
            [
                new("done")
                {
                    // What is told of a write of the list's own is not read again: each item is read once, and when it tells by itself.
                    Get = r => { Reads++; return r.IsDone; },
                    Set = (r, on) => r.IsDone = on,
                    SetMany = many ? Write : null,
                },
            ];
            List.Sections = new(r => r.IsDone ? "done" : "open");
            List.MarkChanged += (_, e) =>
                Told.Add($"{e.Cause}: {string.Join(' ', e.AddedItems.Select(r => r.Id))} - " +
                    $"{string.Join(' ', e.RemovedItems.Select(r => r.Id))}");
        }

        public ObservableCollection<Request> Plan { get; }

        public InteractiveList<Request, string> List { get; }

        public List<string> Told { get; } = [];

        public List<int> Written { get; } = [];

        public int Reads { get; private set; }

        public void Take((int Kind, int Bits, int At) step)
        {
            var items = ItemSet.Where(Plan.Count, i => (step.Bits >> (i % 12) & 1) != 0);
            var at = step.At % Plan.Count;
            Told.Add(step.Kind switch
            {
                0 or 1 => List.ToggleMarkOf("done", [.. items.Select(i => Plan[i].Id)]).Refusal?.Kind.ToString() ?? "toggled",
                2 => List.SetMark("done", items, step.At % 2 == 0).Refusal?.Kind.ToString() ?? "put",
                3 => List.Undo().Refusal?.Kind.ToString() ?? "undone",
                4 => List.Redo().Refusal?.Kind.ToString() ?? "redone",
                5 => $"refuses {Plan[at].Refuses = !Plan[at].Refuses}",
                _ => "told",
            });
            if (step.Kind == 6 && !Plan[at].Refuses) Plan[at].IsDone = !Plan[at].IsDone;
            if (step.Kind == 7) Plan.Move(at, 0);
            List.Advance(List.NextDeadline ?? 0);
        }

        public string State =>
            $"{string.Join(' ', Plan.Select(r => r.IsDone))}; {string.Join(' ', List.Marked("done"))}; " +
            string.Join(' ', List.Frame.Rows.Select(r => r.KeyText ?? r.Section));

        private void Write(ImmutableArray<Request> requests, bool on)
        {
            Written.Add(requests.Length);
            foreach (var request in requests) request.IsDone = on;
        }
    }

    [Fact]
    public void Many_written_at_once_come_to_the_same_as_one_by_one()
    {
        int calls = 0, failed = 0, undone = 0;
        Gen.Select(Gen.Int[2, 12], Gen.Select(Gen.Int[0, 7], Gen.Int[0, 4095], Gen.Int[0, 11]).Array[1, 24])
            .Sample((count, steps) =>
            {
                Bench each = new(count, many: false), many = new(count, many: true);
                foreach (var step in steps)
                {
                    each.Take(step);
                    many.Take(step);
                    Assert.Equal(each.Told, many.Told);
                    Assert.Equal(each.State, many.State);
                    Assert.Equal(each.Reads, many.Reads);
                }
                Assert.DoesNotContain(1, many.Written);
                calls += many.Written.Count;
                failed += many.Told.Count(t => t == "Failed");
                undone += many.Told.Count(t => t is "undone" or "redone");
            }, iter: Effort.Of(2000), threads: 1);
        Assert.True(calls > 0 && failed > 0 && undone > 0, $"{calls} calls, {failed} failed, {undone} undone");
    }

    [Fact]
    public void A_mark_is_written_to_many_by_what_can_also_write_it_to_one()
    {
        using var list = InteractiveList.Of(new List<Request> { new("R01", "Orvane Ring", 1), new("R02", "Tessil Pair", 2) }, r => r.Id);
        var error = Assert.Throws<ArgumentException>(() => list.Marks = [new("done") { SetMany = (_, _) => { } }]);
        Assert.Contains("'done' has a SetMany and no Set: give Set too", error.Message);
        list.Marks =
        [
            new("done")
            {
                Get = r => r.IsDone, Set = (r, on) => r.IsDone = on, SetMany = (_, _) => throw new InvalidOperationException("no wind"),
            },
        ];
        Assert.Contains("could not be put on for 2 items: no wind", list.SetMark("done", ItemSet.All(2), true).Refusal!.Reason);
    }
}
