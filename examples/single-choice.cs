#:project ../src/Lectica/Lectica.csproj
using Lectica;
using Lectica.Acts;

string[] telescopes = ["North dome", "South dome", "Balloon"];
var list = InteractiveList.Of(telescopes, name => name, new() { Mode = SelectionMode.SingleRequired });
list.SelectionChanged += (_, change) => Console.WriteLine($"{change.RemovedItems[0]} -> {change.AddedItems[0]}, by {change.Cause}");
Console.WriteLine($"at first: {list.SelectedItem}");
list.Select("Balloon");
list.Select("Balloon");                        // nothing changes, so nothing is told
Console.WriteLine(list.Clear().Refusal!.Reason);
