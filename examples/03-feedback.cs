#:project ../src/Lectica.Testing/Lectica.Testing.csproj
// Feedback: the pressed look, a flash on the row, a brief notice, words for a screen reader.
using Lectica;
using Lectica.Testing;

string[] plan = ["Tessil Ring", "Orvane Cluster", "Belyra Pair"];
var list = InteractiveList.Of(plan, name => name);
list.PressChanged += (_, press) => Console.WriteLine($"{press.Key} {(press.IsPressed ? "pressed" : "released")}");
list.Announced += (_, said) => Console.WriteLine($"said: {said.Text}");
list.Activated += (_, opened) =>
{
    list.Flash(opened.Key, "Opening");
    list.Notify($"{opened.Item} opens in the viewer");
};
var player = ListPlayer.On(list);
player.Touch.Tap("Orvane Cluster");
Console.WriteLine($"on the row: {list.Frame.Rows[1].Flash}");
player.Wait(700);
Console.WriteLine($"700 ms later: {list.Frame.Rows[1].Flash ?? "nothing"}");
