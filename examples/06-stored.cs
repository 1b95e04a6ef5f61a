#:project ../src/Lectica.Storage/Lectica.Storage.csproj
// Stored state: what the user left comes back after a reload, by key.
using Lectica;
using Lectica.Acts;
using Lectica.Storage;

var file = new SnapshotFile(Path.Combine(Path.GetTempPath(), $"lectica-{Guid.NewGuid():N}", "plan.json"));
InteractiveList<string, string> Open(params string[] keys)
{
    var list = InteractiveList.Of(keys, key => key, new() { Mode = SelectionMode.Multiple });
    list.Marks = [new("starred")];
    list.Sections = new(key => key[0] == 'R' ? "requests" : "standards");
    return list;
}

var tonight = Open("R1", "R2", "R3", "S1");
tonight.SelectedKeys = ["R1", "R3"];
tonight.ToggleMark("starred", "S1");
tonight.CollapseOrExpand("standards");
file.Save(tonight.Save());

var tomorrow = Open("S1", "R3", "R4");
var report = tomorrow.Restore(file.Load()!);
Console.WriteLine($"selected {string.Join(", ", tomorrow.SelectedKeys)}; gone {string.Join(", ", report.MissingKeys)}");
Console.WriteLine(
    $"starred {string.Join(", ", tomorrow.Marked("starred").Select(i => tomorrow[i]))}; collapsed " +
        $"{string.Join(", ", tomorrow.CollapsedSections)}");
Directory.Delete(Path.GetDirectoryName(file.Path)!, recursive: true);
