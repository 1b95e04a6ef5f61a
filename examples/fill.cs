#:project ../src/Lectica/Lectica.csproj
using Lectica;
using Lectica.Acts;

var list = InteractiveList.Of(new List<string>(), plate => plate, new() { Mode = SelectionMode.Multiple });
list.PropertyChanged += (_, e) =>
{
    if (e.PropertyName == nameof(list.IsFilling)) Console.WriteLine(list.IsFilling ? "filling" : $"filled: {list.Count} plates");
};
list.Fill(Enumerable.Range(1, 300_000).Select(i => $"Plate {i}"));      // asked for as they are needed
Console.WriteLine($"'{list.Frame.Rows[0].Content.Label}' shows");
list.Select("Plate 3");                                                 // what is there can be used
while (list.IsFilling) list.Advance(list.NextDeadline!.Value);          // as a host does; with a context it goes on by itself
Console.WriteLine($"'{list[list.Count - 1]}' is the last, {list.SelectedCount} is selected");
