#:project ../src/Lectica/Lectica.csproj
using Lectica;
using Lectica.Input;

string[] fields = ["Harbour Comet", "Tessil Ring", "Orvane Cluster"];
var list = InteractiveList.Of(fields);
list.Tapped += (_, tap) => Console.WriteLine($"{tap.Item} is item {tap.Index}");
list.Take(PointerSample.Down(PointerType.Touch, x: 120, y: 70, time: 0));
list.Take(PointerSample.Up(PointerType.Touch, x: 123, y: 71, time: 90));
