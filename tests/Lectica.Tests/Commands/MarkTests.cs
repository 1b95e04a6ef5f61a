using System.Collections.Immutable;
using System.Collections.ObjectModel;
using System.ComponentModel;
using CsCheck;
using Lectica.Items;
using Lectica.Marking;

namespace Lectica.Tests.Commands;

/// <summary>Marks that are written to many items at once come to the same as those that are written one by one.</summary>
public sealed class MarkTests
{
    private sealed class Plate(int number) : INotifyPropertyChanged
    {
        private bool _isDone;

        public int Number { get; } = number;

        public bool Refuses { get; set; }

        public bool IsDone
        {
            get => _isDone;
            set
            {
                if (Refuses) throw new InvalidOperationException("the dome is shut");
                if (_isDone == value) return;
                _isDone = value;
                PropertyChanged?.Invoke(this, new(nameof(IsDone)));
            }
        }

        public event PropertyChangedEventHandler? PropertyChanged;
    }

    /// <summary>A list, what it told, and how its mark was written.</summary>
    private sealed class Bench
    {
        public Bench(int count, bool many)
        {
            Plates = [.. Enumerable.Range(0, count).Select(i => new Plate(i))];
            List = InteractiveList.Of(Plates, p => p.Number);
            List.Marks =
            [
                new("done")
                {
                    // What is told of a write of the list's own is not read again: each item is read once, and when it tells by itself.
                    Get = p => { Reads++; return p.IsDone; },
                    Set = (p, on) => p.IsDone = on,
                    SetMany = many ? Write : null,
                },
            ];
            List.Sections = new(p => p.IsDone ? "done" : "open");
            List.MarkChanged += (_, e) =>
                Told.Add($"{e.Cause}: {string.Join(' ', e.AddedItems.Select(p => p.Number))} - " +
                    $"{string.Join(' ', e.RemovedItems.Select(p => p.Number))}");
        }

        public ObservableCollection<Plate> Plates { get; }

        public InteractiveList<Plate, int> List { get; }

        public List<string> Told { get; } = [];

        public List<int> Written { get; } = [];

        public int Reads { get; private set; }

        public void Take((int Kind, int Bits, int At) step)
        {
            var items = ItemSet.Where(Plates.Count, i => (step.Bits >> (i % 12) & 1) != 0);
            var at = step.At % Plates.Count;
            Told.Add(step.Kind switch
            {
                0 or 1 => List.ToggleMarkOf("done", [.. items.Select(i => Plates[i].Number)]).Refusal?.Kind.ToString() ?? "toggled",
                2 => List.SetMark("done", items, step.At % 2 == 0).Refusal?.Kind.ToString() ?? "put",
                3 => List.Undo().Refusal?.Kind.ToString() ?? "undone",
                4 => List.Redo().Refusal?.Kind.ToString() ?? "redone",
                5 => $"refuses {Plates[at].Refuses = !Plates[at].Refuses}",
                _ => "told",
            });
            if (step.Kind == 6 && !Plates[at].Refuses) Plates[at].IsDone = !Plates[at].IsDone;
            if (step.Kind == 7) Plates.Move(at, 0);
            List.Advance(List.NextDeadline ?? 0);
        }

        public string State =>
            $"{string.Join(' ', Plates.Select(p => p.IsDone))}; {string.Join(' ', List.Marked("done"))}; " +
            string.Join(' ', List.Frame.Rows.Select(r => r.KeyText ?? r.Section));

        private void Write(ImmutableArray<Plate> plates, bool on)
        {
            Written.Add(plates.Length);
            foreach (var plate in plates) plate.IsDone = on;
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
        using var list = InteractiveList.Of(new List<Plate> { new(1), new(2) }, p => p.Number);
        var error = Assert.Throws<ArgumentException>(() => list.Marks = [new("done") { SetMany = (_, _) => { } }]);
        Assert.Contains("'done' has a SetMany and no Set: give Set too", error.Message);
        list.Marks =
        [
            new("done")
            {
                Get = p => p.IsDone, Set = (p, on) => p.IsDone = on, SetMany = (_, _) => throw new InvalidOperationException("no wind"),
            },
        ];
        Assert.Contains("could not be put on for 2 items: no wind", list.SetMark("done", ItemSet.All(2), true).Refusal!.Reason);
    }
}
