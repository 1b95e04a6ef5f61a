#:project ../src/Lectica/Lectica.csproj
using Lectica;

List<Request> plan =
[
    new("Tessil Ring") { Night = "tonight" }, new("Orvane Cluster") { Night = "tonight" }, new("Belyra Pair") { Night = "tonight" },
    new("Harunda Comet") { Night = "tomorrow" },
];
var list = InteractiveList.Of(plan, r => r.Name, new() { MayMove = true });
list.Sections = new(r => r.Night) { Order = ["tonight", "tomorrow"], Assign = (r, night) => r.Night = night };
list.PinnedWhen = r => r.Name == "Tessil Ring";
list.CanDrop = drop => drop.Section != "tomorrow" || drop.Items.Count == 1;
list.Moved += (_, moved) => Console.WriteLine($"{moved.Items[0].Name} → {moved.Section}, place {moved.Landed.Nth(0)}");

list.Move(["Orvane Cluster"], gap: 3, section: "tonight");     // after Belyra Pair: no index is ever off by one
list.MoveBefore(["Belyra Pair"], "Harunda Comet");             // into the other section: the field is set
Console.WriteLine(list.MoveBefore(["Orvane Cluster"], "Tessil Ring").Refusal!.Reason);
list.Undo();
Console.WriteLine(string.Join(", ", plan.Select(r => $"{r.Name} {r.Night}")));

record Request(string Name)
{
    public required string Night { get; set; }
}
