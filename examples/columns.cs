#:project ../src/Lectica/Lectica.csproj
#:project ../src/Lectica.Testing/Lectica.Testing.csproj
using Lectica;
using Lectica.Acts;
using Lectica.Testing;

Request[] requests = [new("R1", "Orvane Cluster", 9.1, 40), new("R2", "Belyra Ring", 11.4, 30), new("R3", "Haronda Pair", 9.8, 75)];
var list = InteractiveList.Of(requests, r => r.Id, new() { Mode = SelectionMode.Multiple, Viewport = new(480, 300) });
list.Columns =
[
    new("field", "Field", r => r.Field) { Compare = (a, b) => string.CompareOrdinal(a.Field, b.Field) },
    new("magnitude", "Magnitude", r => $"{r.Magnitude:0.0}")
    {
        Width = 110,
        AlignsEnd = true,
        Compare = (a, b) => a.Magnitude.CompareTo(b.Magnitude),
    },
    new("minutes", "Minutes", r => $"{r.Minutes}") { Width = 90, AlignsEnd = true },
];
Draw("in the source's order");

// A press on a header sorts by it, the next one the other way round, the third not at all.
list.PressHeader("magnitude");
Draw("by magnitude");
list.PressHeader("magnitude");
Draw("pressed again");

// A column without an order does not sort, unless the app does it.
Console.WriteLine(list.PressHeader("minutes").Refusal!.Reason);

// Keys: up from the first row to the headers, along them, Enter.
var player = ListPlayer.On(list);
foreach (var key in (string[])["Home", "ArrowUp", "Home", "Enter"]) player.Press(key);
Draw("by keys");

// On a narrow list the last columns give way, so that the first keep their room.
list.Resize(280, 300);
Draw("narrow");

void Draw(string what)
{
    var headers = list.Frame.Headers;
    Console.WriteLine($"{what}:");
    Write([.. headers.Select(h => h.Label + h.IsDescending switch { null => "", true => " v", _ => " ^" })]);
    foreach (var row in list.Frame.Rows) Write(row.Cells[..headers.Length]);
    void Write(IReadOnlyList<string> cells)
    {
        var line = headers.Zip(cells, (header, cell) => header.AlignsEnd ? cell.PadLeft(12) : cell.PadRight(16));
        Console.WriteLine(("  " + string.Concat(line)).TrimEnd());
    }
}

sealed record Request(string Id, string Field, double Magnitude, int Minutes);
