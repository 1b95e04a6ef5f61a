#:project ../src/Lectica/Lectica.csproj
#:project ../src/Lectica.Testing/Lectica.Testing.csproj
using Lectica;
using Lectica.Acts;
using Lectica.Layout;
using Lectica.Testing;

Plate[] plates = [.. Enumerable.Range(1, 14).Select(i => new Plate($"P{i:00}", i <= 7 ? "Harbour Belt" : "Lantern Reach"))];
var list = InteractiveList.Of(plates, p => p.Id, new()
{
    Layout = new Tiles(LeastWidth: 100, Height: 90),
    Mode = SelectionMode.Multiple,
    Viewport = new(340, 400),
});
list.Sections = new(p => p.Region);
Draw("three fit in a line, and a section begins a new one");

// Left and right go in reading order, up and down in the column. A line that is shorter ends where it ends.
var player = ListPlayer.On(list);
list.MoveCursorTo("P03");
player.Press("ArrowDown");
player.Press("ArrowDown");
Draw("down, and down again, from P03");
player.Press("Home");
player.Press("ArrowLeft");
Draw("home, and left");

// A rectangle takes what it touches, not what lies between in reading order.
player.Mouse.MoveTo(222, 50);
player.Mouse.Down();
player.Mouse.GlideTo(330, 180, 200);
player.Mouse.Up();
Draw("a rectangle over the last column of two lines");

void Draw(string what)
{
    Console.WriteLine($"{what}:");
    foreach (var line in list.Frame.Rows.GroupBy(r => r.Line))
        Console.WriteLine(string.Join(" ", line.Select(r => r.IsSelected ? $"[{r.Content.Label}]" : $" {r.Content.Label} ")).TrimEnd());
}

sealed record Plate(string Id, string Region)
{
    public override string ToString() => Id;
}
