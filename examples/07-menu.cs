#:project ../src/Lectica.Testing/Lectica.Testing.csproj
// Context menu: commands, declared once, asked for by long press, secondary tap or key.
using System.Collections.ObjectModel;
using Lectica;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Testing;

ObservableCollection<string> plan = ["Tessil Ring", "Orvane Cluster", "Belyra Pair", "Harbour Comet"];
var list = InteractiveList.Of(plan, name => name, new() { Mode = SelectionMode.Multiple });
list.Commands =
[
    new("details", "Details") { Do = target => Console.WriteLine($"details of {target.Item}") },
    new("top", "Move to top") { EnabledFor = target => target.Indexes[0] > 0, Do = target => plan.Move(target.Indexes[0], 0) },
    new("withdraw", "Withdraw")
    {
        Group = "lose", Role = CommandRole.Destructive, Question = target => $"Withdraw {target.Items.Count}?",
        Do = list.TakeOut,
    },
];
list.ConfirmationRequested += (_, asked) => { Console.WriteLine(asked.Question); asked.Answer(true); };
var player = ListPlayer.On(list);
player.Touch.LongPress("Belyra Pair");
foreach (var entry in list.Menu!.Entries)
    Console.WriteLine($"{(entry.BeginsGroup ? "- " : "  ")}{entry.Label}{(entry.IsEnabled ? "" : " (not now)")}");
list.ChooseEntry("top");
list.SelectedKeys = ["Tessil Ring", "Orvane Cluster"];
player.Mouse.SecondaryTap("Orvane Cluster");                    // in the selection: for all of it
player.Press("End");
player.Press("Enter");
Console.WriteLine(string.Join(", ", plan));
