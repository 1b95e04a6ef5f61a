#:project ../src/Lectica.Testing/Lectica.Testing.csproj
// Sections: by a function of the item; a mark moves an item to another one, after a moment.
using Lectica;
using Lectica.Acts;
using Lectica.Items;
using Lectica.Testing;

string[] plan = ["Tessil Ring", "Orvane Cluster", "Belyra Pair", "Harbour Comet"];
HashSet<string> observed = ["Orvane Cluster"];
var list = InteractiveList.Of(
    plan, name => name, new() { Mode = SelectionMode.Multiple, Parts = new() { Check = true, Marks = ["observed"] } });
list.Marks = [new("observed") { Get = observed.Contains, Set = (name, on) => _ = on ? observed.Add(name) : observed.Remove(name) }];
list.Sections = new(name => observed.Contains(name) ? "Observed" : "Waiting") { Order = ["Waiting", "Observed"], LingerTime = 800 };
void Show(string when) => Console.WriteLine($"{when}: " + string.Join(" · ", list.Frame.Rows.Select(row =>
    row.Kind == RowKind.Heading ? $"{row.Content.Label} {row.Heading!.Count} {row.Heading.State}" : row.Content.Label)));

Show("first");
var player = ListPlayer.On(list);
player.Touch.Tap("mark:observed:Belyra Pair");
Show("it lingers");
player.Wait(801);
Show("then moves");
list.ToggleSection("Observed");
list.CollapseOrExpand("Waiting");
Show("one selected, one collapsed");
