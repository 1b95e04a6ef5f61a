#:project ../src/Lectica.Testing/Lectica.Testing.csproj
// Swipes: the same commands in trays at both edges; what destroys can be taken back.
using System.Collections.ObjectModel;
using Lectica;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Swiping;
using Lectica.Testing;

ObservableCollection<string> plan = ["Tessil Ring", "Orvane Cluster", "Belyra Pair"];
var list = InteractiveList.Of(plan, name => name);
list.Commands =
[
    new("star", "Star") { ShowIn = ShowIn.LeadingTray, Do = target => Console.WriteLine($"starred {target.Item}") },
    new("withdraw", "Withdraw")
    {
        ShowIn = ShowIn.TrailingTray, SwipesThrough = true, Role = CommandRole.Destructive,
            Notice = target => $"{target.Item} withdrawn",
        Do = list.TakeOut,      // one or a thousand, from the source itself; what the list does it can take back
    },
];
var player = ListPlayer.On(list);
player.Touch.Swipe("Orvane Cluster", Edge.Leading, distance: 60, speed: 400);
player.Touch.Tap("tray:star:Orvane Cluster");
player.Touch.Swipe("Tessil Ring", Edge.Trailing, distance: 30, speed: 60);      // too short and too slow: it closes
Console.WriteLine($"open: {list.IsTrayOpen}");
player.Touch.Swipe("Orvane Cluster", Edge.Trailing, distance: 230);             // through
Console.WriteLine($"{list.BriefNotice!.Text}: {string.Join(", ", plan)}");
list.UndoFromNotice();
Console.WriteLine($"taken back: {string.Join(", ", plan)}");
