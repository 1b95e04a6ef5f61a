#:project ../src/Lectica/Lectica.csproj
// Rows on show: a list, what its rows say, and what there is to draw.
using Lectica;

Request[] plan = [new("R1", "Tessil Ring", 9.2), new("R2", "Tessil Ring", 11.0), new("R3", "Orvane Cluster", 7.5)];
var list = InteractiveList.Of(plan, request => request.Id);
list.Content = request => new(request.Field, $"magnitude {request.Magnitude:0.0}");
foreach (var row in list.Frame.Rows) Console.WriteLine($"{row.Top} px: {row.Content.Label}, {row.Content.Detail}");
Console.WriteLine(InteractiveList.Of(Array.Empty<string>()).Frame.Rows[0].Content.Label);

record Request(string Id, string Field, double Magnitude);
