#:project ../src/Lectica.Testing/Lectica.Testing.csproj
// Check marks: each item its own, bound to a property or kept by the list.
using Lectica;
using Lectica.Marking;
using Lectica.Testing;

Request[] plan = [new("R1", "Tessil Ring"), new("R2", "Orvane Cluster"), new("R3", "Belyra Pair")];
var list = InteractiveList.Of(plan, request => request.Id, new() { Parts = new() { Marks = ["observed", "starred"] } });
list.Marks =
[
    new("observed") { Get = request => request.IsObserved, Set = (request, on) => request.IsObserved = on, Look = MarkLook.Tick },
    new("starred") { Look = MarkLook.Star },
];
list.MarkChanged += (_, mark) => Console.WriteLine(
    $"{mark.Name}: {string.Join(", ", mark.AddedItems.Concat(mark.RemovedItems).Select(r => r.Id))}");
var player = ListPlayer.On(list);
player.Touch.Tap("mark:observed:R2");
player.Touch.Tap("mark:starred:R3");
list.ToggleMarkOfAll("observed");                               // some are on: now all are
Console.WriteLine(
    $"observed: {string.Join(", ", plan.Where(r => r.IsObserved).Select(r => r.Id))}; starred: {list.Marked("starred").Count}");
list.Undo();
Console.WriteLine($"taken back: {string.Join(", ", plan.Where(r => r.IsObserved).Select(r => r.Id))}");

class Request(string id, string field)
{
    public string Id { get; } = id;
    public string Field { get; } = field;
    public bool IsObserved { get; set; }
}
