#:project ../src/Lectica/Lectica.csproj
using Lectica;
using Lectica.Frames;

// Each folder of the archive has its children, and reads them when it is first expanded: from a service that is slow, and fails once.
var archive = new Folder("archive", null);
var fails = true;
var list = InteractiveList.Awaiting<Folder, string>(f => f.Path, new());
list.Announced += (_, e) => Console.WriteLine($"  said: {e.Text}");
list.Outline = Outline.ByChildren<Folder, string>(f => f.Children) with
{
    HasUnread = f => f.Children is null,
    ReadBelow = async (folder, cancelled) =>
    {
        await Task.Delay(20, cancelled);
        if (fails) throw new IOException("the archive does not answer");
        folder.Children = [.. Enumerable.Range(1, 2).Select(i => new Folder($"{folder.Path}/{i}", folder))];
    },
};
list.Show([archive]);
Draw("at first");

list.CollapseOrExpandBranch("archive");
Draw("expanded");
Wait();
Draw("it failed");

fails = false;
list.CollapseOrExpandBranch("archive");
Wait();
Draw("expanded again");

// A list on a bare thread is called by its host; on a user interface's context it comes by itself.
void Wait()
{
    do
    {
        Thread.Sleep(5);
        list.Advance(0);
    }
    while (list.BranchOf("archive")!.Reading == RowReading.Pending);
}

void Draw(string what)
{
    Console.WriteLine($"{what}:");
    foreach (var row in list.Frame.Rows)
    {
        var how = row.Branch switch
        {
            null => "",
            { Reading: RowReading.Pending } => " (being read)",
            { Reading: RowReading.Failed } => " (failed)",
            { IsExpanded: true } => " (expanded)",
            _ => " (collapsed)",
        };
        Console.WriteLine($"  {new string(' ', 2 * row.Level)}{row.Content.Label}{how}");
    }
}

sealed class Folder(string path, Folder? parent)
{
    public string Path { get; } = path;

    public Folder? Parent { get; } = parent;

    public IReadOnlyList<Folder>? Children { get; set; }

    public override string ToString() => Path;
}
