#:project ../src/Lectica/Lectica.csproj
using Lectica;
using Lectica.Input;

List<Request> requests = [new("R1", "Tessil Ring", 9.2), new("R2", "Tessil Ring", 11.0), new("R3", "Orvane Cluster", 7.5)];
var list = InteractiveList.Of(requests, request => request.Id);
list.Content = request => new(request.Field, $"magnitude {request.Magnitude:0.0}");
list.Tapped += (_, tap) => Console.WriteLine($"tapped {tap.Item.Field}, {tap.Item.Magnitude:0.0}");
list.SelectionChanged += (_, change) => Console.WriteLine($"selected {change.AddedItems[0].Id}");
list.Activated += (_, opened) => Console.WriteLine($"open {opened.Key}");
list.Take(PointerSample.Down(PointerType.Touch, x: 120, y: 70, time: 0));
list.Take(PointerSample.Up(PointerType.Touch, x: 120, y: 70, time: 90));
Console.WriteLine($"{list.Frame.Rows.Length} rows to draw; the second says '{list.Frame.Rows[1].Content.Detail}'");

record Request(string Id, string Field, double Magnitude);
