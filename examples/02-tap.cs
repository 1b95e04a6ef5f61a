#:project ../src/Lectica.Testing/Lectica.Testing.csproj
// A tap tells which item, by its key and with its own type; two items may have one name.
using Lectica;
using Lectica.Testing;

Request[] plan = [new("R1", "Orvane Cluster", 7.5), new("R2", "Tessil Ring", 9.2), new("R3", "Tessil Ring", 11.0)];
var list = InteractiveList.Of(plan, request => request.Id);
list.Filter = request => request.Magnitude > 8;                 // the row's number is not the item's index
list.Tapped += (_, tap) => Console.WriteLine($"{tap.Key}, {tap.Item.Magnitude:0.0}, {tap.Row}, index {tap.Index}");
var player = ListPlayer.On(list);
player.Touch.Tap("R3");
player.Touch.Tap("R2");

record Request(string Id, string Field, double Magnitude);
