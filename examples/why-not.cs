#:project ../src/Lectica.Testing/Lectica.Testing.csproj
using Lectica;
using Lectica.Commands;
using Lectica.Testing;

string[] fields = ["Harbour Comet", "Tessil Ring", "Orvane Cluster", "Belyra Pair"];
InteractiveList<string, string> Open()
{
    var list = InteractiveList.Of(fields, name => name);
    list.Commands = [new("withdraw", "Withdraw") { ShowIn = ShowIn.TrailingTray, Do = _ => { } }];
    return list;
}

// A finger that let go too soon for a long press, and one that strayed too far for a tap.
var player = ListPlayer.On(Open());
player.Touch.GoTo("Tessil Ring");
player.Touch.Down();
player.Wait(430);
player.Touch.Up();
player.Wait(800);
player.Touch.GoTo("Orvane Cluster");
player.Touch.Down();
player.Touch.GlideTo(player.Touch.X + 4, player.Touch.Y + 14, 80);
player.Touch.Up();

foreach (var story in Explainer.Explain(Open, player.Recording))
{
    Console.WriteLine($"{story.Key}:");
    foreach (var verdict in story.Verdicts)
        Console.WriteLine($"  {verdict.Reason}{(verdict.Remedy is { } remedy ? $"\n    instead: {remedy.Words}" : "")}");
}
