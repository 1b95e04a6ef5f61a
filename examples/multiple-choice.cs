#:project ../src/Lectica/Lectica.csproj
using Lectica;
using Lectica.Acts;
using Lectica.Input;

string[] fields = ["Harbour Comet", "Tessil Ring", "Orvane Cluster", "Belyra Pair"];
var list = InteractiveList.Of(fields, name => name, new()
{
    Mode = SelectionMode.Multiple, AlwaysSelecting = true, Keys = KeyTable.Toggling, Limit = 2, Parts = new() { Check = true },
});
list.EnabledWhen = name => name != "Tessil Ring";
list.Refused += (_, refused) => Console.WriteLine(refused.Refusal.Reason);

foreach (var key in (string[])["ArrowDown", " ", "ArrowDown", " ", "ArrowDown", " "]) list.Take(new KeyPress(key));
list.Toggle("Harbour Comet");
Console.WriteLine(string.Join(", ", list.SelectedItems));
