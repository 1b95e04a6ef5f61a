#:project ../src/Lectica/Lectica.csproj
#:project ../src/Lectica.Testing/Lectica.Testing.csproj
using System.Collections.ObjectModel;
using Lectica;
using Lectica.Acts;
using Lectica.Selecting;
using Lectica.Testing;

// A night's targets under campaigns under programmes, in the order of a table. Each names the one that it lies below.
var work = new ObservableCollection<Work>(
[
    new("survey", null), new("clusters", null), new("rim", "survey"), new("strip", "survey"), new("spectra", "clusters"),
    new("Veldara 12", "rim"), new("Veldara 13", "rim"), new("Lantern Field", "strip"), new("Keldan A", "spectra"),
]);
var list = InteractiveList.Awaiting<Work, string>(w => w.Name, new()
{
    Mode = SelectionMode.Multiple,
    MayMove = true,
    Parts = new() { Check = true },
});
list.Outline = Outline.ByParent((Work w) => w.Below) with { OpenLevels = 2, Assign = (w, parent) => w.Below = parent?.Name };
list.Show(work);
Draw("two levels are open");

// A branch's box stands for all of it, collapsed or not.
list.ToggleBranch("rim");
Draw("the rim's box");

// Right expands, then goes in; left goes out, then collapses.
var player = ListPlayer.On(list);
list.MoveCursorTo("strip");
player.Press("ArrowRight");
player.Press("ArrowRight");
Console.WriteLine($"right, and right again: the cursor is on {list.CursorKey}");

// A move takes the branch along. Nothing can come to lie below itself.
list.MoveBelow(["strip"], "clusters", place: 0);
Draw("the strip moved below the clusters");
Console.WriteLine(list.MoveBelow(["clusters"], "Lantern Field").Refusal!.Reason);
list.Undo();

// A filter keeps the way to what it lets through.
list.Filter = w => w.Name.StartsWith("Keldan", StringComparison.Ordinal);
Draw("filtered");

// A command takes branches out of the source; undo puts them back where they were.
list.Filter = null;
list.Commands = [new("withdraw", "Withdraw") { Do = list.TakeOut }];
list.RunCommand("withdraw", "survey");
Console.WriteLine($"withdrawn: {work.Count} are left, the first is {work[0]}");
list.Undo();
Console.WriteLine($"undone: {work.Count}, the first is {work[0]}");

void Draw(string what)
{
    Console.WriteLine($"{what}:");
    foreach (var row in list.Frame.Rows)
    {
        var box = (row.Branch?.State ?? (row.IsSelected ? TriState.On : TriState.Off)) switch
        {
            TriState.On => "[x]",
            TriState.Mixed => "[-]",
            _ => "[ ]",
        };
        var sign = row.Branch switch { null => " ", { IsExpanded: true } => "v", _ => ">" };
        Console.WriteLine($"{new string(' ', 3 * row.Level)}{sign} {box} {row.Content.Label}{(row.IsDisabled ? " (only the way)" : "")}");
    }
}

sealed class Work(string name, string? below)
{
    public string Name { get; } = name;

    public string? Below { get; set; } = below;

    public override string ToString() => Name;
}
