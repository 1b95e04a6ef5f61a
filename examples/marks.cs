#:project ../src/Lectica/Lectica.csproj
using Lectica;
using Lectica.Acts;
using Lectica.Layout;
using Lectica.Marking;

List<Request> plan = [new("Tessil Ring"), new("Orvane Cluster"), new("Belyra Pair"), new("Harunda Comet")];
var list = InteractiveList.Of(plan, r => r.Field, new() { Mode = SelectionMode.Multiple, Parts = new() { Marks = ["starred", "seen"] } });
list.Marks =
[
    // One that lies in the item, and one that the list keeps by key.
    new("starred") { Label = "Starred", Look = MarkLook.Star, Get = r => r.IsStarred, Set = (r, on) => r.IsStarred = on },
    new("seen") { Label = "Seen" },
];
list.Sections = new(r => r.IsStarred ? "starred" : "others") { Order = ["starred", "others"] };
list.MarkChanged += (_, e) => Console.WriteLine($"{e.Name}: on for {Count(e.AddedItems)}, off for {Count(e.RemovedItems)}");

list.ToggleMark("starred", "Orvane Cluster");                   // each item has its own value
list.ToggleMarkOf("seen", ["Tessil Ring", "Orvane Cluster"]);
list.ToggleMarkOf("seen", ["Tessil Ring", "Belyra Pair"]);      // some on, some off: all on first
list.ToggleMarkOfSection("seen", "others");
list.ToggleMarkOfAll("seen");
list.Undo();
Console.WriteLine($"starred: {Count([.. plan.Where(r => r.IsStarred)])}; seen: {list.Marked("seen").Count} of {list.Count}");
foreach (var section in list.ObservableSections())
    Console.WriteLine($"{section.Title}: {section.ItemCount}, seen {list.MarkState("seen", list.ItemsOfSection(section.Key))}");

// What is kept by key is stored with the list, and comes back by key.
var stored = list.Save();
var again = InteractiveList.Of(plan.AsEnumerable().Reverse().ToList(), r => r.Field);
again.Marks = [new("seen")];
again.Restore(stored);
Console.WriteLine($"restored: {string.Join(", ", again.Marked("seen").Select(i => again[i].Field))}");

static string Count(IReadOnlyList<Request> items) => items.Count == 0 ? "none" : string.Join(" and ", items.Select(r => r.Field));

record Request(string Field)
{
    public bool IsStarred { get; set; }
}
