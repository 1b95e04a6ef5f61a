#:project ../src/Lectica.Testing/Lectica.Testing.csproj
// Reordering: by finger, by keys, from the menu and by call. The list moves the collection, and only what moved is stored.
using System.Collections.ObjectModel;
using Lectica;
using Lectica.Moving;
using Lectica.Testing;

string[] names = ["Tessil Ring", "Orvane Cluster", "Belyra Pair", "Harunda Comet", "Zinyra Comet"];
var keys = OrderKey.Spread(names.Length);
var plan = new ObservableCollection<Request>(names.Select((name, i) => new Request(name) { Order = keys[i] }));
var list = InteractiveList.Of(
    plan, r => r.Name, new() { Mode = Lectica.Acts.SelectionMode.Multiple, MayMove = true, Parts = new() { Handle = true } });
list.PinnedWhen = r => r.Name == "Tessil Ring";
list.Moved += (_, moved) =>
{
    // Whatever moved, and however it came back, only that is written: each item goes between its neighbours.
    var toWrite = list.OrderKeysFor(moved.Keys, r => r.Order);
    foreach (var (item, key) in toWrite) item.Order = key;
    Console.WriteLine($"{string.Join(", ", moved.Items)} moved; stored: {toWrite.Count} of {plan.Count}");
};
list.Announced += (_, said) => Console.WriteLine($"said: {said.Text}");
var player = ListPlayer.On(list);

player.Touch.DragToGap("Zinyra Comet", 1);                                      // by its handle
Console.WriteLine(string.Join(", ", plan));
list.MoveCursorTo("Belyra Pair");
foreach (var key in (string[])["Alt+Enter", "ArrowDown", "Enter"]) player.Press(key);
list.RunCommand("move-to-top", "Harunda Comet");                                // as the menu does; what is pinned stays
list.Undo();
Console.WriteLine(string.Join(", ", plan));
Console.WriteLine($"read back by key: {string.Join(", ", plan.OrderBy(r => r.Order, StringComparer.Ordinal))}");

internal sealed record Request(string Name)
{
    public string Order { get; set; } = "";

    public override string ToString() => Name;
}
