#:project ../src/Lectica.Testing/Lectica.Testing.csproj
using System.Collections.ObjectModel;
using Lectica;
using Lectica.Acts;
using Lectica.Items;

var service = new Archive(500);
var plates = new ObservableCollection<string>();
var list = InteractiveList.Awaiting((string plate) => plate, new() { Phrases = Phrases.English, MoreWithin = 400 });
list.ShowLoading();                                             // a row that says so, until there are items
Console.WriteLine(list.Frame.Rows[0].Content.Label);
list.Show(plates);
list.MoreWanted += async (_, _) => await ReadOn();              // the end is 400 px away, or nearer: once, until More is set again
await ReadOn();

var retries = 0;
while (list.More.Kind != MoreKind.None)
{
    list.ScrollTo(list.Viewport.ScrollTop + 300);               // as the user's finger does
    if (list.More.Kind != MoreKind.Failed) continue;
    list.ScrollTo(double.MaxValue);
    Console.WriteLine($"{list.Frame.Rows[^1].Content.Label}: {list.Frame.Rows[^1].Content.Detail}?");
    list.Do(ActKind.Retry);                                     // so do a tap on the row, and Enter there
    retries++;
}
list.ScrollTo(double.MaxValue);
Console.WriteLine($"{list.Count} plates in {service.Reads} reads, {retries} of them again. {list.Frame.Rows[^1].Content.Label}.");

async Task ReadOn()
{
    try
    {
        var page = await service.Read(plates.Count, 200);
        // A page that comes twice brings nothing new.
        foreach (var plate in page) if (list.IndexOf(plate) < 0) plates.Add(plate);
        list.More = page.Length < 200 ? More.None : More.ToCome;
    }
    catch (IOException)
    {
        list.More = More.Failed("The archive does not answer");
    }
}

/// <summary>A service that gives 200 at most, and fails once. It answers at once, so that the example needs no window.</summary>
sealed class Archive(int count)
{
    public int Reads { get; private set; }

    public Task<string[]> Read(int from, int atMost) => ++Reads == 2 ? Task.FromException<string[]>(new IOException())
        : Task.FromResult<string[]>([.. Enumerable.Range(from, Math.Min(atMost, count - from)).Select(i => $"Plate {i + 1}")]);
}
