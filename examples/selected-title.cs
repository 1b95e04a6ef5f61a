#:project ../src/Lectica/Lectica.csproj
using Lectica;
using Lectica.Acts;

string[] fields = ["Harbour Comet", "Tessil Ring", "Orvane Cluster"];
var list = InteractiveList.Of(fields, name => name, new() { Mode = SelectionMode.Multiple, Title = "Night plan" });
list.SelectionChanged += (_, _) => list.Subtitle = list.SelectedCount switch { 0 => null, 1 => "1 selected", var n => $"{n} selected" };
list.FrameChanged += (_, _) => Console.WriteLine($"{list.Frame.Title}: {list.Frame.Subtitle ?? "-"}");

list.SelectAll();
using (list.Batch())                           // told once, however much happens inside
{
    list.Toggle("Tessil Ring");
    list.Toggle("Harbour Comet");
}
list.Clear();
