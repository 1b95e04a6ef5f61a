#:project ../src/Lectica.Testing/Lectica.Testing.csproj
// Keyboard: three tables after the WAI-ARIA patterns, an app's own chords, finding by typing.
using Lectica;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Input;
using Lectica.Testing;

string[] plan = ["Tessil Ring", "Orvane Cluster", "Belyra Pair", "Harbour Comet"];
var list = InteractiveList.Of(plan, name => name, new() { Mode = SelectionMode.Multiple, ModKey = ModKey.Ctrl });
list.Commands = [new("withdraw", "Withdraw")
{
    Chords = [new("Delete")],
    Do = target => Console.WriteLine($"withdraw {string.Join(", ", target.Items)}"),
}];
var player = ListPlayer.On(list);
void Press(string chord) =>
    Console.WriteLine($"{chord}: {(player.Press(chord).IsHandled ? string.Join(", ", list.SelectedItems) : "not handled")}");

Press("ArrowDown");
Press("Shift+ArrowDown");
Press("Delete");
Press("Ctrl+A");
Press("Escape");
Press("Escape");                                                // nothing left for it to do: the host may close its dialog
player.Type("ha");
Console.WriteLine($"typed: {list.CursorKey}");
