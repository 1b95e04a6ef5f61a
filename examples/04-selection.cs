#:project ../src/Lectica.Testing/Lectica.Testing.csproj
// Selection and its events: tapped comes each time, selection-changed once for each act that changed it.
using Lectica;
using Lectica.Acts;
using Lectica.Input;
using Lectica.Testing;

string[] plan = ["Tessil Ring", "Orvane Cluster", "Belyra Pair", "Harbour Comet"];
var list = InteractiveList.Of(plan, name => name, new() { Mode = SelectionMode.Multiple, ModKey = ModKey.Ctrl });
list.SelectionChanged += (_, change) => Console.WriteLine(
    $"+{change.AddedItems.Count} -{change.RemovedItems.Count} = {change.Selected.Count}, by {change.Cause}");
var player = ListPlayer.On(list);
player.Mouse.Tap("Tessil Ring");
player.Mouse.Tap("Tessil Ring");                                // tapped again, but nothing changes
player.Modifiers = Modifiers.Shift;
player.Mouse.Tap("Harbour Comet");
player.Modifiers = Modifiers.Ctrl;
player.Mouse.Tap("Belyra Pair");
Console.WriteLine(string.Join(", ", list.SelectedItems));
