#:project ../src/Lectica/Lectica.csproj
#:project ../src/Lectica.Testing/Lectica.Testing.csproj
using Lectica;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Layout;
using Lectica.Swiping;
using Lectica.Testing;

string[] nights = [.. Enumerable.Range(1, 30).Select(i => $"night {i}")];
var list = InteractiveList.Of(nights, night => night, new()
{
    Layout = new Strip(ItemWidth: 100),
    Mode = SelectionMode.Multiple,
    Viewport = new(450, 160),
});
list.Commands = [new("plan", "Plan") { ShowIn = ShowIn.LeadingTray, Do = _ => { } }];
Draw("at first");

// Left and Right go along it.
var player = ListPlayer.On(list);
player.Press("Home");
for (var i = 0; i < 4; i++) player.Press("Shift+ArrowRight");
Draw("a range of five");

// A finger scrolls it sideways, which is the host's part; a swipe goes up or down, and uncovers a tray above or below.
list.ScrollTo(800);
list.OpenTray("night 10", Edge.Leading);
var swiped = list.Frame.Rows.Single(r => !r.Tray.IsEmpty);
Console.WriteLine($"{swiped.Content.Label} lies {swiped.Shift.To} px lower, over it '{swiped.Tray[0].Label}'");
Draw("scrolled");

void Draw(string what)
{
    Console.WriteLine($"{what}:");
    foreach (var item in list.Frame.Rows)
        Console.WriteLine($"  {item.Left,5} to {item.Left + item.Width,4} px: {item.Content.Label}{(item.IsSelected ? ", selected" : "")}");
}
