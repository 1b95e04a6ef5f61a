#:project ../src/Lectica/Lectica.csproj
#:project ../src/Lectica.Storage/Lectica.Storage.csproj
using Lectica;
using Lectica.Acts;
using Lectica.Storage;

var file = new SnapshotFile(Path.Combine(Path.GetTempPath(), $"lectica-{Guid.NewGuid():N}", "night-plan.json"));
var options = new ListOptions { Mode = SelectionMode.Multiple };

var tonight = InteractiveList.Of(["R1", "R2", "R3", "R4"], key => key, options);
tonight.SelectedKeys = ["R2", "R4"];
file.Save(tonight.Save());

// Another day: one is gone, others came, and the order is another.
var tomorrow = InteractiveList.Of(["R9", "R4", "R3"], key => key, options);
if (file.Load() is { } snapshot)
{
    var report = tomorrow.Restore(snapshot);
    Console.WriteLine($"selected {string.Join(", ", tomorrow.SelectedKeys)}; gone: {string.Join(", ", report.MissingKeys)}");
}
Directory.Delete(Path.GetDirectoryName(file.Path)!, recursive: true);
